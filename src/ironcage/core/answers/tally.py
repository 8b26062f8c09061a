"""Tally: the few figures that never leave the eye, each with where it comes from."""

from ironcage.core.answers import prove
from ironcage.core.answers.figures import Figure, Origin
from ironcage.core.answers.mass import weigh
from ironcage.core.job.model import Job
from ironcage.problem import Problem


def answer(job: Job) -> tuple[Figure, ...]:
    """The figures of a job, in the order they are shown."""
    weighed = weigh(job)
    torsion, torsion_missing = None, ""
    try:
        torsion = prove.answer(job).torsion
    except Problem as problem:
        torsion_missing = f"{problem.what} {problem.hint}".strip()
    heavy = weighed.car.mass > 0
    wheels = "" if weighed.wheelbase is not None else "Wheels are needed at the front and at the rear."
    backwards = weighed.wheelbase is not None and weighed.wheelbase <= 0
    wrong_way = "The front wheels do not stand ahead of the rear ones." if backwards else ""
    loads = ", ".join(m.name for m in job.masses) or "none"
    return (
        Figure("wheelbase", "wheelbase", weighed.wheelbase, "frame", Origin(
            "mean x of the front wheels less mean x of the rear wheels", f"{len(job.wheels)} wheels",
            "wheels at design ride height", "definition"), wheels),
        Figure("frame mass", "frame", weighed.frame.mass if job.tubes else None, "frame", Origin(
            "Σ area × density × centre-to-centre length", f"{len(job.tubes)} tubes",
            "overlaps at joints counted twice, welds not at all", "sum of parts"), "There are no tubes."),
        Figure("tube length", "tube length", float(weighed.lengths.sum()) if job.tubes else None, "frame", Origin(
            "Σ distance from joint to joint", f"{len(job.tubes)} tubes",
            "centre to centre; for what to buy see Cut", "definition"), "There are no tubes."),
        Figure("car mass", "car", weighed.car.mass if heavy else None, "frame", Origin(
            "frame and everything placed", f"frame and {len(job.masses)} masses: {loads}", "only what has been placed",
            "sum of parts"), "Nothing has been placed."),
        Figure("cg height", "CG height", float(weighed.car.cg[2]) if heavy else None, "frame", Origin(
            "Σ mass × z / Σ mass", f"frame and {len(job.masses)} masses", "from the ground at design ride height",
            "moments"), "Nothing has been placed."),
        Figure("front share", "front axle", weighed.front_share, "frame", Origin(
            "(CG x − rear axle x) / wheelbase", "car CG and wheels", "standing level", "moments about the rear axle"),
            wheels or wrong_way or "Nothing has been placed."),
        Figure("torsion", "twist stiffness", torsion, "prove", Origin(
            "K = F · b / atan((z left − z right) / b)", f"{len(job.tubes)} tubes, {len(job.pickups)} pickups",
            " ".join(prove.ASSUMPTIONS[:2]), "12-freedom shear-flexible beams, Przemieniecki 1968, Cowper 1966"), torsion_missing),
    )  # fmt: skip
