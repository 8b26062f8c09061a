"""Where a tab stands on its tube: where its hole is in space, and which way its bolt points."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.tubes.receivers import Prism, facing
from ironcage.core.job.geometry.routes import axes_at, route_of
from ironcage.core.job.values.fittings import Tab
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

STEEP_COS = 0.8  # of a tube's rise: on a steeper one the clock starts at the outer side instead of the top
IN_LINE = 0.02  # as a sine: a bolt that points along its own tab has no plate across it


@dataclass(frozen=True)
class TabStand:
    """A tab where it is welded. at: along its tube to the tab's middle, mm; hole (3,): the hole's middle, mm; bolt
    (3,): the unit direction of its bolt; off (3,): the unit direction in the plate from the tube to the hole; reach:
    from the tube's face to the hole along that, mm; tube: the tube there."""

    at: float
    hole: Floats
    bolt: Floats
    off: Floats
    reach: float
    tube: Prism


def tab_stand(job: Job, tab: Tab) -> TabStand:
    """Where a tab stands. Refuses a hole inside its tube, and a bolt that points along the tab itself."""
    tube = job.tube_by_id[tab.tube]
    route, shape = route_of(job, tube), job.section(tube.section).shape
    carried = np.array(job.joint_by_id[tab.carries].place) if tab.carries else None
    at = tab.at if carried is None else route.nearest(carried)
    middle, way = route.at(at)
    prism = Prism(middle, axes_at(job, tube, at), shape.contour)
    if carried is None:
        off = clocked(way, float(middle[1]), tab.clock)
        reach = tab.reach or tab.height - tab.width / 2 - tab.furthest
        hole = middle + off * (shape.reach(float(off @ prism.axes[1]), float(off @ prism.axes[2])) + reach)
        return TabStand(at, hole, _bolt(tab, way, off), off, reach, prism)
    out = carried - middle
    if np.linalg.norm(out) < 1e-6:
        raise _inside(tab)
    bolt = _bolt(tab, way, out / np.linalg.norm(out))
    if tab.axis:
        along = np.array(job.joint_by_id[tab.axis].place) - carried
        if np.linalg.norm(along) < 1e-6:
            raise Problem(
                f"{tab.axis} and {tab.carries} are at one place, so the bolt has no direction.",
                where=tab.axis,
                hint="Name another joint on the axis.",
            )
        bolt = along / np.linalg.norm(along)
    off = out - (out @ bolt) * bolt
    size = float(np.linalg.norm(off))
    if size < IN_LINE * np.linalg.norm(out):
        raise Problem(
            f"The bolt would point from {tab.tube} to the hole, and no tab reaches along its own bolt.",
            where=tab.axis or tab.carries,
            hint="Name a joint on the pivot's axis.",
        )
    off = off / size
    left, _ = facing(prism, off)(carried[None])
    if (reach := -float(left[0])) <= tab.hole / 2:
        raise _inside(tab)
    return TabStand(at, carried, bolt, off, reach, prism)


def _inside(tab: Tab) -> Problem:
    return Problem(
        f"{tab.carries} is inside {tab.tube}, or less than half a hole off its face: there is no tab to drill.",
        where=tab.carries,
        hint="Put the tab on another tube, or move the joint off it.",
    )


def _bolt(tab: Tab, way: Floats, off: Floats) -> Floats:
    if tab.bolt == "along":
        return way
    across = np.cross(way, off)
    return np.asarray(across / np.linalg.norm(across))


def clocked(way: Floats, y: float, clock: float) -> Floats:
    """The direction (3,) square to a tube that runs along `way` (3,), at an angle `clock` (rad) from its top, or from
    the outer side (by the sign of its y) of a steep one; clockwise looking along it."""
    top = np.array([0.0, 0.0, 1.0]) if abs(way[2]) < STEEP_COS else np.array([0.0, math.copysign(1.0, y or 1.0), 0.0])
    up = top - (top @ way) * way
    up = up / np.linalg.norm(up)
    return np.asarray(math.cos(clock) * up + math.sin(clock) * np.cross(way, up))
