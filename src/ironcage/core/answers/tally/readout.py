"""Tally: the few figures that never leave the eye, each with where it comes from."""

from datetime import date

from ironcage.core.answers import place, prove
from ironcage.core.answers.shared.figures import Figure, Origin
from ironcage.core.answers.shared.mass import loads, weigh
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem


def answer(job: Job) -> tuple[Figure, ...]:
    """Every figure of a job, in the order they are shown."""
    return (*quick(job), slow(job))


def slow(job: Job) -> Figure:
    """The clashes, which take longer than a key may wait for."""
    return Figure(
        "clashes",
        "clashes",
        float(place.find_clashes(job).count) if job.placed else None,
        "place",
        Origin(
            "pairs nearer than their margin, and parts that can't come out",
            f"{len(job.placed)} things placed, {len(job.wheels)} tyres, {len(job.tubes)} tubes",
            "round tubes with round ends; people as rods",
            "exact distance of convex solids, Gilbert 1988",
        ),
        "Nothing has been placed.",
    )


def quick(job: Job) -> tuple[Figure, ...]:
    """The figures that follow every key."""
    weighed = weigh(job)
    torsion, torsion_missing = None, ""
    try:
        torsion = prove.twist(job).stiffness
    except Problem as problem:
        torsion_missing = f"{problem.what} {problem.hint}".strip()
    heavy = weighed.car.mass > 0
    wheels = "" if weighed.wheelbase is not None else "Wheels are needed at the front and at the rear."
    backwards = weighed.wheelbase is not None and weighed.wheelbase <= 0
    wrong_way = "The front wheels do not stand ahead of the rear ones." if backwards else ""
    heavy_things = loads(job)
    named = ", ".join(h.name for h in heavy_things) or "none"
    return (
        Figure(
            "wheelbase",
            "wheelbase",
            weighed.wheelbase,
            "frame",
            Origin(
                "mean x of the front wheels less mean x of the rear wheels",
                f"{len(job.wheels)} wheels",
                "wheels at design ride height",
                "definition",
            ),
            wheels,
        ),
        Figure(
            "frame mass",
            "frame",
            weighed.frame.mass if job.tubes else None,
            "frame",
            Origin(
                "Σ area × density × length along the centrelines, and the fittings",
                f"{len(job.tubes)} tubes, {len(job.fittings)} fittings",
                "overlaps at joints counted twice, welds not at all",
                "sum of parts",
            ),
            "There are no tubes.",
        ),
        Figure(
            "car mass",
            "car",
            weighed.car.mass if heavy else None,
            "place",
            Origin(
                "frame and everything placed",
                f"frame and {len(heavy_things)} loads: {named}",
                "only what has been placed",
                "sum of parts",
            ),
            "Nothing has been placed.",
        ),
        Figure(
            "cg height",
            "CG height",
            float(weighed.car.cg[2]) if heavy else None,
            "place",
            Origin(
                "Σ mass × z / Σ mass",
                f"frame and {len(heavy_things)} loads",
                "from the ground at design ride height",
                "moments",
            ),
            "Nothing has been placed.",
        ),
        Figure(
            "front share",
            "front axle",
            weighed.front_share,
            "place",
            Origin(
                "(CG x − rear axle x) / wheelbase", "car CG and wheels", "standing level", "moments about the rear axle"
            ),
            wheels or wrong_way or "Nothing has been placed.",
        ),
        Figure(
            "torsion",
            "twist stiffness",
            torsion,
            "prove",
            Origin(
                "K = F · b / atan((z left − z right) / b)",
                f"{len(job.tubes)} tubes, {len(job.pickups)} pickups",
                " ".join(prove.ASSUMPTIONS[:2]),
                "12-freedom shear-flexible beams, Przemieniecki 1968, Cowper 1966",
            ),
            torsion_missing,
        ),
        Figure(
            "days left",
            "days left",
            days_left(job),
            "brief",
            Origin(
                "deadline less today", f"{job.brief.deadline or 'no deadline'}", "days of the calendar", "definition"
            ),
            "No deadline is set.",
        ),
    )


def days_left(job: Job, today: date | None = None) -> float | None:
    """Days to the deadline; negative when it is past."""
    day = job.brief.deadline
    return None if day is None else float((day - (today or date.today())).days)
