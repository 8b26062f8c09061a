"""What hung wheels and their links pass on their way, as bodies with a piece for each moment."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ironcage.core.answers.run.corner import MIRROR, AxleRun, Still, link_lines, runs
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.linkage.wishbone import Ints, Poses
from ironcage.core.calc.solids.convex import Floats, Solid, cylinder, rod
from ironcage.core.job import edits
from ironcage.core.job.geometry.bodies import TYRE_MARGIN_MM, Body, tyre_body
from ironcage.core.job.values.model import Job, Wheel
from ironcage.problem import Problem
from ironcage.units import said

# moments that are looked at, as shares of the whole travel and of the rack's way from side to side
TRAVELS = np.linspace(0.0, 1.0, 9)
STEERS = np.array([0.0, 0.2, 0.5, 0.8, 1.0])
COIL_OVER_MM = 60.0  # diameter of a coil-over with its spring


@remembered("wishbones", "joints", "wheels", "tubes")
def swept_bodies(job: Job) -> tuple[Body, ...]:
    """The tyres and links of every hung axle, both sides. Nothing of an axle whose links are incomplete."""
    try:
        found = runs(job)
    except Problem:
        return ()
    return tuple(body for run in found for body in _swept(job, run))


def tyre_at(job: Job, still: Still) -> tuple[Body, ...]:
    """Both tyres of an axle where its left corner stands, the right one in a mirror, and the other axle's as they
    stand; nothing of an axle whose links do not reach there."""
    made = [tyre_body(w) for w in job.wheels if not w.corner.startswith(still.run.hung.axle)]
    if still.found.closed[0, 0]:
        left = edits.left_wheel(job, still.run.hung.axle)
        for wheel in job.wheels:
            if wheel.corner.startswith(still.run.hung.axle):
                tyre = _tyre(still.found, left, 0, 0, MIRROR if wheel.corner.endswith("right") else np.ones(3))
                made.append(Body(wheel.id, f"{wheel.corner} tyre", "tyre", (tyre,), ("",), TYRE_MARGIN_MM, "tyre"))
    return tuple(made)


def _swept(job: Job, run: AxleRun) -> Iterator[Body]:
    hung = run.hung
    moving = run.found.some(_at(TRAVELS, len(run.found.travel)), _at(STEERS, len(run.found.rack)))
    moments = [tuple(m) for m in np.argwhere(moving.closed).tolist()]
    words = [_moment(float(moving.travel[i]), float(moving.rack[k])) for i, k in moments]
    left = edits.left_wheel(job, hung.axle)
    for side, mirror in (("left", np.ones(3)), ("right", MIRROR)):
        wheel = next((w for w in job.wheels if w.corner == f"{hung.axle} {side}"), None)
        if wheel is None:
            continue
        touches = frozenset({"link", "tyre"} | _at_hinges(job, run, side))
        tyres = tuple(_tyre(moving, left, i, k, mirror) for i, k in moments)
        yield Body(wheel.id, f"{wheel.corner} tyre", "tyre", tyres, tuple(words), TYRE_MARGIN_MM, "tyre")
        for line in link_lines(moving) if moments else ():
            radius = (COIL_OVER_MM if line.name == "coil-over" else hung.link) / 2
            inner, outer = line.inner * mirror, line.outer * mirror
            rods = tuple(rod(radius, inner[m], outer[m]) for m in moments)
            name = f"{hung.axle} {side} {line.name}"
            yield Body(name, name, "link", rods, tuple(words), hung.margin, "link", touches)


def _at(shares: Floats, count: int) -> Ints:
    """The rows of a grid of so many that stand nearest to these shares of it."""
    return np.unique(np.rint(shares * (count - 1)).astype(np.intp))


def _moment(travel: float, rack: float) -> str:
    parts = []
    if abs(travel) > 1e-9:
        parts.append(f"{said.length(abs(travel))} {'up' if travel > 0 else 'down'}")
    if abs(rack) > 1e-9:
        parts.append(f"rack {said.length(abs(rack))} to the {'left' if rack > 0 else 'right'}")
    return f"at {', '.join(parts)}" if parts else "at ride height"


def _tyre(moving: Poses, wheel: Wheel, row: int, column: int, mirror: Floats) -> Solid:
    corner = moving.corner
    middle = moving.at(corner.wheel)[row, column]
    half = moving.turn[row, column] @ corner.axis * wheel.width / 2
    return cylinder(wheel.diameter / 2, (middle - half) * mirror, (middle + half) * mirror)


def _at_hinges(job: Job, run: AxleRun, side: str) -> set[str]:
    """The tubes at the joints where links are hung: what they may touch."""
    names = [*run.hung.lower, *run.hung.upper, run.hung.spring]
    if side == "right":
        names = [job.joint_by_id[n].twin or "" for n in names]
    return {t.id for n in names for t in job.tubes_at.get(n, ())}
