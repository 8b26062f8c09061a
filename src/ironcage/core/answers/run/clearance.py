"""How far the lowest thing stays over the ground as the hung ends go down to the end of their travel."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ironcage.core.answers.run.springs import SprungEnd
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.ground import Ground, ground_of
from ironcage.core.job.geometry.bodies import bodies
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import HUNG

MOVING = ("tyre", "chain", "shaft")  # what wholly or partly goes with the wheels


@dataclass(frozen=True)
class Clearance:
    """The least height over the ground, mm, and what is so low: level, and with an end or both at full travel up.
    which: those ends."""

    which: str
    height: float
    lowest: str


@remembered(*HUNG, "parts", "wheels", "chains", "shafts", "joints", "tubes", "shelf")
def clearances(job: Job) -> tuple[Clearance, ...]:
    """At ride height, and with the front, the rear and both down to full travel up, where they are hung; nothing
    without wheels at both ends. People, links, tyres and what drives them are left out."""
    ground = ground_of(job)
    things = [b for b in bodies(job.but(people=())) if b.kind not in MOVING]
    if ground is None or not things:
        return ()
    made = []
    for which, at in _stands(job, ground):
        heights = {b.id: float(at.above(b)[0][2]) for b in things}
        lowest = min(heights, key=lambda name: heights[name])
        made.append(Clearance(which, heights[lowest], lowest))
    return tuple(made)


def _stands(job: Job, ground: Ground) -> Iterator[tuple[str, Ground]]:
    """The ground, as it lies under the frame with each end where it is."""
    hung: tuple[SprungEnd, ...] = (*job.wishbones, *job.live_axles, *job.arms, *job.forks)
    ends: dict[str, float] = {end.axle: end.up for end in hung}
    ends |= {beam.axle: beam.leaf.up for beam in job.beams if beam.on}
    yield "at ride height", ground
    for which in (("front",), ("rear",), ("front", "rear")):
        if all(end in ends for end in which):
            moved = {
                end: (place[0], place[1] + (ends[end] if end in which else 0.0))
                for end, place in (("front", ground.front), ("rear", ground.rear))
            }
            yield f"{' and '.join(which)} at full travel up", Ground(moved["front"], moved["rear"])
