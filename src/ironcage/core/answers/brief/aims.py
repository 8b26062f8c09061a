"""Brief: what is aimed at against what the job is now, every rule judged, and the variants beside it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ironcage.core.answers import prove, tally
from ironcage.core.answers.brief import rules
from ironcage.core.answers.log import log_answer
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.extent import extent
from ironcage.core.answers.shared.figures import Figure
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

AT_MOST = ("length", "width", "height", "mass", "budget")
AT_LEAST = ("ground clearance", "twist stiffness")


@dataclass(frozen=True)
class Aim:
    """A target and what the job makes of it. now: None when it is not known or not measured; off: how far now is
    from the target, beyond its tolerance; met: None when it is not known."""

    kind: str
    value: float
    tolerance: float
    now: float | None
    off: float | None
    met: bool | None


@dataclass(frozen=True)
class VariantBeside:
    """A variant, and its figures beside those of the present job."""

    name: str
    note: str
    figures: tuple[Figure, ...]


@dataclass(frozen=True)
class Compared:
    """This vehicle, or one that it is compared with. values: by kind of figure, in internal units; slim: wheelbase by
    front track; own: whether it is this one."""

    name: str
    values: Mapping[str, float]
    slim: float | None
    own: bool = False


@dataclass(frozen=True)
class BriefAnswer:
    """Aims, verdicts, variants beside the present figures, and other vehicles beside this one."""

    aims: tuple[Aim, ...]
    verdicts: tuple[rules.Verdict, ...]
    beside: tuple[VariantBeside, ...]
    now: tuple[Figure, ...]
    vehicles: tuple[Compared, ...]


def compared(job: Job) -> tuple[Compared, ...]:
    """This vehicle as it is now, then those that it is compared with; none where it is compared with nothing."""
    if not job.brief.against:
        return ()
    mine = {kind: value for kind, value in measured(job).items() if value is not None}
    rows = [(job.brief.name, mine, True)]
    rows += [(v.name, {f.kind: f.value for f in v.figures}, False) for v in job.brief.against]
    return tuple(Compared(name, values, _slim(values), own) for name, values, own in rows)


def _slim(values: Mapping[str, float]) -> float | None:
    base, track = values.get("wheelbase"), values.get("front track")
    return base / track if base and track else None


def measured(job: Job) -> dict[str, float | None]:
    """What the job makes of everything that can be aimed at, in internal units."""
    w, e = weigh(job), extent(job)
    size = e.size or (None, None, None)
    return {
        "wheelbase": w.wheelbase,
        "front track": w.tracks[0],
        "rear track": w.tracks[1],
        "length": size[0],
        "width": size[1],
        "height": size[2],
        "ride height": min((j.z for j in job.joints), default=None),
        "ground clearance": e.clearance,
        "mass": w.car.mass or None,
        "twist stiffness": _twist(job),
        "budget": log_answer(job).cost or None,
    }


def _twist(job: Job) -> float | None:
    """Twist stiffness, N·mm/rad, where it is aimed at and can be told."""
    if not any(t.kind == "twist stiffness" for t in job.brief.targets):
        return None
    try:
        return prove.twist(job).stiffness
    except Problem:
        return None


def aims(job: Job) -> tuple[Aim, ...]:
    """Every target: those AT_MOST are met by less, those AT_LEAST by more."""
    now = measured(job)
    made = []
    for t in job.brief.targets:
        value = now.get(t.kind)
        if value is None:
            made.append(Aim(t.kind, t.value, t.tolerance, None, None, None))
            continue
        over = 0.0 if t.kind in AT_LEAST else max(value - t.value - t.tolerance, 0.0)
        under = 0.0 if t.kind in AT_MOST else max(t.value - t.tolerance - value, 0.0)
        made.append(Aim(t.kind, t.value, t.tolerance, value, over - under, over + under <= rules.CLOSE_MM))
    return tuple(made)


@remembered(
    "brief",
    "rules",
    "joints",
    "tubes",
    "shelf",
    "wheels",
    "masses",
    "parts",
    "people",
    "chains",
    "shafts",
    "variants",
    "pickups",
    "fittings",
    "proving",
    "logbook",
    "truing",
    "welding",
)
def answer(job: Job) -> BriefAnswer:
    """The whole brief."""
    beside = tuple(VariantBeside(v.name, v.note, tally.answer(v.job)) for v in job.variants)
    return BriefAnswer(aims(job), rules.judge_rules(job), beside, tally.answer(job) if beside else (), compared(job))
