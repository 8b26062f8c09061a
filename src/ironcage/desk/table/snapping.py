"""Where something drawn by mouse comes to lie: on what is there, in line with it, or at a round place, and in words."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.edits.drawing import Spot
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.table.camera import PLANES
from ironcage.desk.table.picking import Shown

SNAP_PX = 9.0
MIDDLE_SHARE = 0.03  # of a tube, about its middle
AXES = "xyz"
STRAIGHT = {0: "straight along the car", 1: "straight across", 2: "plumb"}


@dataclass(frozen=True)
class Snap:
    """A spot, and what it has been snapped to in words; nothing where it is a round place only."""

    spot: Spot
    words: str = ""


def snap(shown: Shown, at: QPointF, depth: Floats, last: Floats | None = None, way: Floats | None = None) -> Snap:
    """The spot that the mouse means at pixels `at`: a joint, a place in a tube, or one in the plane of the view through
    `depth` (3,), mm, in line with section lines, the mirror line, the `last` place (3,) or square to the `way` (3,)
    that led there, each axis by itself; what is in line with nothing comes to lie at a round reading."""
    job = shown.job
    name = shown.under(at)
    if name in job.joint_by_id:
        return Snap(Spot(job.joint_by_id[name].place, joint=name), f"on {name}, {name_of(job, name)}")
    if name in job.tube_by_id:
        return _on_tube(job, name, shown.share_of(name, at))
    axes = PLANES[shown.camera.view]
    free = shown.camera.on_plane(at.x(), at.y(), depth, axes)
    reach = SNAP_PX * _mm_per_px(shown, free, axes[0])
    if last is not None and way is not None and (square := _square(free, last, way, axes, reach)) is not None:
        return Snap(Spot(_place(square)), "square to the tube before")
    place, words = np.array(depth, dtype=float), []
    for axis in axes:
        place[axis], word = _in_line(job, axis, float(free[axis]), last, axes, reach)
        words += [word] * bool(word)
    return Snap(Spot(_place(place)), ", ".join(words))


def _on_tube(job: Job, name: str, share: float) -> Snap:
    middle = abs(share - 0.5) < MIDDLE_SHARE
    share = 0.5 if middle else min(max(round(share, 2), 0.01), 0.99)
    route = route_of(job, job.tube_by_id[name])
    place = _place(route.at(route.length * share)[0])
    where = "in the middle of" if middle else f"at {share:.0%} of"
    return Snap(Spot(place, tube=name, share=share), f"{where} {name}, {name_of(job, name)}")


def _mm_per_px(shown: Shown, place: Floats, axis: int) -> float:
    """How many mm along an axis a pixel is, at a place."""
    step = np.zeros(3)
    step[axis] = 100.0
    ends = shown.camera.project(np.array([place, place + step]))[:, :2]
    return 100.0 / max(float(np.hypot(*(ends[1] - ends[0]))), 1e-6)


def _in_line(
    job: Job, axis: int, value: float, last: Floats | None, axes: tuple[int, int], reach: float
) -> tuple[float, str]:
    """A coordinate in line with what is near along its axis, and with what; else a round reading."""
    other = next(a for a in axes if a != axis)
    ways = [(line.at, f"on the line {line.name}") for line in job.lines if AXES.index(line.axis) == axis]
    ways += [(0.0, "on the centreline")] * (axis == 1)
    ways += [] if last is None else [(float(last[axis]), STRAIGHT[other])]
    near = min(ways, key=lambda w: abs(w[0] - value), default=None)
    if near is not None and abs(near[0] - value) <= reach:
        return near
    step, zero = units_of(job).snap_mm, getattr(job.datum, AXES[axis])
    return round((value - zero) / step) * step + zero, ""


def _square(free: Floats, last: Floats, way: Floats, axes: tuple[int, int], reach: float) -> Floats | None:
    """A place near to `free` on the line through `last` square to `way` in the plane of two axes; None where that line
    is not near, or where `way` goes along an axis, whose square is the other axis."""
    flat = np.zeros(3)
    flat[list(axes)] = way[list(axes)]
    size = float(np.linalg.norm(flat))
    if size < 1e-9 or float(np.abs(flat).max()) > 0.999 * size:
        return None
    flat /= size
    off = float((free - last) @ flat)
    square = free - off * flat
    return square if abs(off) <= reach and float(np.linalg.norm(square - last)) > 3 * reach else None


def _place(place: Floats) -> tuple[float, float, float]:
    x, y, z = (float(v) for v in place)
    return x, y, z
