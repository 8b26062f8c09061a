"""Tally: the few figures that never leave the eye, each with where it comes from."""

from datetime import date

from ironcage.core.answers import place, prove, weld
from ironcage.core.answers.shared.figures import Figure, Origin
from ironcage.core.answers.shared.mass import MassAnswer, loads, weigh
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
    return (
        _wheelbase(job, weighed),
        *_masses(job, weighed),
        _front_share(weighed),
        _twist_stiffness(job),
        _welded(job),
        _days_left(job),
    )


def _no_wheels(weighed: MassAnswer) -> str:
    return "" if weighed.wheelbase is not None else "Wheels are needed at the front and at the rear."


def _wheelbase(job: Job, weighed: MassAnswer) -> Figure:
    origin = Origin(
        "mean x of the front wheels less mean x of the rear wheels",
        f"{len(job.wheels)} wheels",
        "wheels at design ride height",
        "definition",
    )
    return Figure("wheelbase", "wheelbase", weighed.wheelbase, "frame", origin, _no_wheels(weighed))


def _masses(job: Job, weighed: MassAnswer) -> tuple[Figure, Figure, Figure]:
    """The frame's mass, the car's, and how high the car's centre of gravity is."""
    placed = loads(job)
    heavy = weighed.car.mass > 0
    of_frame = Origin(
        "Σ area × density × length along the centrelines, and the fittings",
        f"{len(job.tubes)} tubes, {len(job.fittings)} fittings",
        "overlaps at joints counted twice, welds not at all",
        "sum of parts",
    )
    of_car = Origin(
        "frame and everything placed",
        f"frame and {len(placed)} loads: {', '.join(h.name for h in placed) or 'none'}",
        "only what has been placed",
        "sum of parts",
    )
    of_height = Origin(
        "Σ mass × z / Σ mass", f"frame and {len(placed)} loads", "from the ground at design ride height", "moments"
    )
    frame, car = weighed.frame.mass if job.tubes else None, weighed.car.mass if heavy else None
    height = float(weighed.car.cg[2]) if heavy else None
    return (
        Figure("frame mass", "frame", frame, "frame", of_frame, "There are no tubes."),
        Figure("car mass", "car", car, "place", of_car, "Nothing has been placed."),
        Figure("cg height", "CG height", height, "place", of_height, "Nothing has been placed."),
    )


def _front_share(weighed: MassAnswer) -> Figure:
    origin = Origin(
        "(CG x − rear axle x) / wheelbase", "car CG and wheels", "standing level", "moments about the rear axle"
    )
    backwards = weighed.wheelbase is not None and weighed.wheelbase <= 0
    wrong_way = "The front wheels do not stand ahead of the rear ones." if backwards else ""
    missing = _no_wheels(weighed) or wrong_way or "Nothing has been placed."
    return Figure("front share", "front axle", weighed.front_share, "place", origin, missing)


def _twist_stiffness(job: Job) -> Figure:
    origin = Origin(
        "K = F · b / atan((z left − z right) / b)",
        f"{len(job.tubes)} tubes, {len(job.pickups)} pickups",
        " ".join(prove.ASSUMPTIONS[:2]),
        "12-freedom shear-flexible beams, Przemieniecki 1968, Cowper 1966",
    )
    try:
        told, missing = prove.twist(job).stiffness, ""
    except Problem as problem:
        told, missing = None, problem.sentence
    return Figure("torsion", "twist stiffness", told, "prove", origin, missing)


def _welded(job: Job) -> Figure:
    origin = Origin(
        "ends that are welded or checked / all ends",
        f"{len(job.welding.ends)} ends tacked, welded or checked, of {len(job.tubes)} tubes",
        "the tubes of a donor do not count",
        "what was typed in Weld",
    )
    return Figure("welded", "welded", weld.welded_share(job), "weld", origin, "No end is tacked yet.")


def _days_left(job: Job) -> Figure:
    origin = Origin(
        "deadline less today", f"{job.brief.deadline or 'no deadline'}", "days of the calendar", "definition"
    )
    return Figure("days left", "days left", days_left(job), "brief", origin, "No deadline is set.")


def days_left(job: Job, today: date | None = None) -> float | None:
    """Days to the deadline; negative when it is past."""
    day = job.brief.deadline
    return None if day is None else float((day - (today or date.today())).days)
