"""How near the links of an end come to the rim, the tyre and the brake of their own wheel, on their whole way."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial

import numpy as np

from ironcage.core.answers.run.beam import BeamRun, beam_runs, rods
from ironcage.core.answers.run.corner import AxleRun, link_lines, runs
from ironcage.core.answers.run.grid import some_of
from ironcage.core.answers.run.lever import WEIGHED
from ironcage.core.answers.run.liveaxle import LinkedRun, axle_lines, axle_runs
from ironcage.core.answers.run.moments import beam_words, leaning_words, racked_words
from ironcage.core.answers.run.sweep import COIL_OVER_MM
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job, Wheel
from ironcage.core.job.values.running import Axle

ALONG = np.linspace(0, 1, 41)  # places of a link that are looked at
TRAVELS, SIDES = 9, 5  # that are looked at: of the travels, and of the racks, turns or leans of a run
Line = tuple[str, Floats, Floats, float]  # a link's name, both ends (n, m, 3), and its radius, mm


@dataclass(frozen=True, eq=False)
class LinksInWheel:
    """The left wheel of an end at moments of its way, and what reaches into it. centre, axis: of the wheel (n, m, 3);
    lines: its links; margin: to be kept clear by them, mm; at: a moment in words, by its row and column."""

    axle: Axle
    centre: Floats
    axis: Floats
    lines: tuple[Line, ...]
    margin: float
    at: Callable[[int, int], str]


@dataclass(frozen=True)
class InWheel:
    """The link of an end that comes nearest to its own wheel. what: of the wheel it comes near to; gap: between both,
    mm, negative where they overlap; margin: that is to be kept; at: the moment in words."""

    axle: str
    link: str
    what: str
    gap: float
    margin: float
    at: str


@remembered("wishbones", "beams", "live_axles", "joints", "wheels", *WEIGHED)
def in_wheels(job: Job) -> tuple[InWheel, ...]:
    """The nearest link of each end to the ring of its rim and its tyre, and to its brake disc, of what is known of
    them. A wheel is a ring as wide as its tyre, from the inside of its rim out; the disc is as thick as it stands from
    the wheel's middle inwards; hubs and spokes are not in it. Raises Problem as `runs`, `beam_runs` and `axle_runs`
    do."""
    made = []
    for of in _ends(job):
        wheel = edits.left_wheel(job, of.axle)
        if wheel.rim:
            made.append(_nearest(of, "the rim or the tyre", partial(_to_ring, wheel)))
        if wheel.disc:
            made.append(_nearest(of, "the brake disc", partial(_to_disc, wheel)))
    return tuple(found for found in made if found)


def _ends(job: Job) -> Iterator[LinksInWheel]:
    """Each end whose wheel has links of its own; arms carry their wheel, and what is drawn of them ends in it."""
    if job.wishbones:
        yield from map(_of_corner, runs(job))
    yield from (_of_beam(run) for run in beam_runs(job))
    yield from (_of_axle(job, run) for run in axle_runs(job))


def _of_corner(run: AxleRun) -> LinksInWheel:
    found = run.found.some(
        np.array(some_of(len(run.found.travel), TRAVELS)), np.array(some_of(len(run.found.rack), SIDES))
    )
    called = "drop arm" if run.hung.pivot else "rack"
    return LinksInWheel(
        run.hung.axle,
        found.at(run.corner.wheel),
        found.turn @ run.corner.axis,
        tuple((line.name, line.inner, line.outer, _radius(line.name, run.hung.link)) for line in link_lines(found)),
        run.hung.margin,
        lambda i, k: racked_words(float(found.travel[i]), float(found.rack[k]), called),
    )


def _of_beam(run: BeamRun) -> LinksInWheel:
    found = run.found
    rows, columns = some_of(len(found.travel), TRAVELS), some_of(len(found.rack), SIDES)
    at = np.ix_(rows, columns)
    left = [(name, inner[at], outer[at]) for name, inner, outer in rods(run, found) if not name.startswith("right")]
    return LinksInWheel(
        run.hung.axle,
        found.left.centre[at],
        found.left.axis[at],
        tuple((name, inner, outer, run.hung.link / 2) for name, inner, outer in left),
        run.hung.margin,
        lambda i, k: beam_words(run, float(found.travel[rows[i]]), float(found.rack[columns[k]])),
    )


def _of_axle(job: Job, run: LinkedRun) -> LinksInWheel:
    found = run.found
    rows, columns = some_of(len(found.travel), TRAVELS), some_of(len(found.rack), SIDES)
    at = np.ix_(rows, columns)
    left, right = found.at(run.axle.left)[at], found.at(run.axle.right)[at]
    lines = []
    for name, inner, outer in axle_lines(job, run, found):
        if not name.startswith("right"):
            start = np.broadcast_to(inner, outer.shape)[at]
            size = run.hung.leaf.wide / 2 if "leaf" in name and run.hung.leaf.wide else _radius(name, run.hung.link)
            lines.append((name, start, outer[at], size))
    return LinksInWheel(
        run.hung.axle,
        left,
        (left - right) / np.linalg.norm(left - right, axis=-1, keepdims=True),
        tuple(lines),
        run.hung.margin,
        lambda i, k: leaning_words(float(found.travel[rows[i]]), float(found.rack[columns[k]])),
    )


def _radius(name: str, link: float) -> float:
    return (COIL_OVER_MM if "coil-over" in name else link) / 2


def _nearest(of: LinksInWheel, what: str, gap_to: Callable[[Floats, Floats], Floats]) -> InWheel | None:
    """The link that comes nearest to a part of its wheel; None where nothing reaches."""
    best: InWheel | None = None
    for name, inner, outer, radius in of.lines:
        places = inner[:, :, None] + ALONG[:, None] * (outer - inner)[:, :, None]
        gaps = gap_to(places - of.centre[:, :, None], of.axis[:, :, None]) - radius
        if np.isnan(gaps).all():
            continue
        i, k, _ = np.unravel_index(int(np.nanargmin(gaps)), gaps.shape)
        gap = float(np.nanmin(gaps))
        if best is None or gap < best.gap:
            best = InWheel(of.axle, name.removeprefix("left "), what, gap, of.margin, of.at(int(i), int(k)))
    return best


def _to_ring(wheel: Wheel, off: Floats, axis: Floats) -> Floats:
    """How far places are from the ring of a rim and its tyre, mm, negative within it: off (…, 3): from its middle; axis
    (…, 3): of the wheel."""
    along, radius = _round(off, axis)
    return _outside(np.abs(along) - wheel.width / 2, np.maximum(wheel.rim / 2 - radius, radius - wheel.diameter / 2))


def _to_disc(wheel: Wheel, off: Floats, axis: Floats) -> Floats:
    """How far places are from a brake disc and what turns with it, out to the wheel's middle, mm, negative within
    it."""
    along, radius = _round(off, axis)
    inner, outer = sorted((-wheel.disc_in, 0.0))
    return _outside(np.maximum(inner - along, along - outer), radius - wheel.disc / 2)


def _round(off: Floats, axis: Floats) -> tuple[Floats, Floats]:
    """How far places are along an axis, outwards, and from it, mm."""
    along = (off * axis).sum(axis=-1)
    return along, np.linalg.norm(off - along[..., None] * axis, axis=-1)


def _outside(beside: Floats, around: Floats) -> Floats:
    """How far a place is outside of a ring, by how far it is beside and around it, mm; negative within both."""
    return np.asarray(
        np.hypot(np.maximum(beside, 0), np.maximum(around, 0)) + np.minimum(np.maximum(beside, around), 0)
    )
