"""Where the tubes of a job run: the centreline of each, straight, bent or folded, as its joints and corners tell."""

from __future__ import annotations

from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from ironcage.core.calc.frames.beams import Floats, Ints, element_axes
from ironcage.core.calc.tubes.centreline import Route
from ironcage.core.job.values.model import Job, Tube

Place = tuple[float, float, float]
TAPER_PARTS = 6  # straight pieces that a tapered tube is drawn in
SAME_MM = 0.5  # two crossings nearer than this are one
KEEP = 20_000  # routes of a job of five thousand tubes, and of its last few states


def shares(count: int) -> Floats:
    """How much each of so many corners belongs to the second end: 0, 1, or 1/2 for one in the middle."""
    return np.sign(2 * np.arange(count) - count + 1) / 2 + 0.5


def hung(a: Floats, b: Floats, corners: Floats) -> tuple[Place, ...]:
    """Corners (n, 3) between two ends (3,), told from the ends they belong to, mm."""
    part = shares(len(corners))[:, None]
    return tuple((float(x), float(y), float(z)) for x, y, z in corners - (1 - part) * a - part * b)


@lru_cache(KEEP)
def route_between(a: Place, b: Place, corners: tuple[Place, ...], radius: float) -> Route:
    """The centreline between two places, mm, by corners told from the ends they belong to."""
    first, second = np.array(a), np.array(b)
    if not corners:
        return Route(np.array([first, second]))
    part = shares(len(corners))[:, None]
    between = np.array(corners) + (1 - part) * first + part * second
    return Route(np.vstack([first, between, second]), radius)


def landings(job: Job, tube: Tube) -> tuple[Place, Place]:
    """Where a tube's centreline starts and stops, mm: at its joints, or beside them."""
    a, b = job.joint_by_id[tube.a], job.joint_by_id[tube.b]
    (p, q, r), (s, t, u) = tube.offset_a, tube.offset_b
    return (a.x + p, a.y + q, a.z + r), (b.x + s, b.y + t, b.z + u)


def route_of(job: Job, tube: Tube) -> Route:
    """A tube's centreline."""
    return route_between(*landings(job, tube), tube.corners, tube.radius)


def is_plain(tube: Tube) -> bool:
    """Whether a tube is straight from joint to joint and of one section."""
    return not (tube.taper or tube.shaped)


class Pieces(NamedTuple):
    """The chords of every tube's centreline: start, stop (k, 3), mm; share (k, 2): how far along their tube both
    are, 0 to 1; roll (k,), rad, about each; owner (k,): the row of its tube in the job."""

    start: Floats
    stop: Floats
    share: Floats
    roll: Floats
    owner: Ints


def pieces(job: Job, parts: int = 1) -> Pieces:
    """The chords of every tube, in the job's order; a straight one in so many parts."""
    row = {j.id: n for n, j in enumerate(job.joints)}
    nodes = np.array([(j.x, j.y, j.z) for j in job.joints]).reshape(-1, 3)
    shaped = [n for n, t in enumerate(job.tubes) if t.shaped]
    counts = np.full(len(job.tubes), parts)
    lines = {n: route_of(job, job.tubes[n]) for n in shaped}
    counts[[n for n, t in enumerate(job.tubes) if t.taper]] = max(parts, TAPER_PARTS)
    for n, route in lines.items():
        counts[n] = len(route.line) - 1
    owner = np.repeat(np.arange(len(job.tubes)), counts)
    ends = nodes[np.array([(row[t.a], row[t.b]) for t in job.tubes], dtype=np.int64).reshape(-1, 2)]
    nth = np.arange(len(owner)) - np.repeat(np.cumsum(counts) - counts, counts)
    share = np.stack([nth, nth + 1], axis=1) / counts[owner][:, None]
    way = ends[:, 1] - ends[:, 0]
    start, stop = (ends[owner, 0] + share[:, [k]] * way[owner] for k in (0, 1))
    roll = np.array([t.roll for t in job.tubes]).reshape(-1)[owner]
    for n, route in lines.items():
        rows = owner == n
        start[rows], stop[rows], roll[rows] = route.line[:-1], route.line[1:], rolls_of(route, job.tubes[n].roll)
        along = route.distances / route.length
        share[rows] = np.stack([along[:-1], along[1:]], axis=1)
    return Pieces(start, stop, share, roll, owner)


def seam(route: Route, roll: float) -> Floats:
    """Where a tube's y axis points at the start of its centreline (3,): as its first run's would, if it were
    straight."""
    first = route.line[:2]
    return np.asarray(element_axes(first[:1], first[1:], np.array([roll]))[0, 1])


def rolls_of(route: Route, roll: float) -> Floats:
    """The roll of each chord (k,), rad, of a tube whose section is carried round its bends with no twist."""
    across, _ = route.carried(seam(route, roll))
    axes = element_axes(route.line[:-1], route.line[1:], np.zeros(len(across)))
    return np.arctan2(np.einsum("ij,ij->i", across, axes[:, 2]), np.einsum("ij,ij->i", across, axes[:, 1]))


def bend_facings(route: Route, roll: float) -> tuple[tuple[float, float], ...]:
    """For each bend, the direction it bends towards in the section's own y and z, of length 1."""
    across, _ = route.carried(seam(route, roll))
    found = []
    for bend in route.bends:
        y = across[max(int(np.searchsorted(route.distances, bend.start - SAME_MM)) - 1, 0)]
        towards = np.cross(bend.axis, bend.into)
        found.append((float(towards @ y), float(towards @ np.cross(bend.into, y))))
    return tuple(found)


def end_axes(job: Job) -> dict[tuple[str, str], Floats]:
    """The axes (3, 3) of each tube at each of its joints, by (tube, joint): rows x from first to second end, y and
    z."""
    ends = np.array([(job.joint_by_id[t.a].place, job.joint_by_id[t.b].place) for t in job.tubes]).reshape(-1, 2, 3)
    plain = element_axes(ends[:, 0], ends[:, 1], np.array([t.roll for t in job.tubes]).reshape(-1))
    made: dict[tuple[str, str], Floats] = {}
    for t, axes in zip(job.tubes, plain, strict=True):
        made[t.id, t.a] = made[t.id, t.b] = axes
        if t.shaped:
            route = route_of(job, t)
            across, _ = route.carried(seam(route, t.roll))
            for joint, n, along in ((t.a, 0, 0.0), (t.b, -1, route.length)):
                way = route.at(along)[1]
                y = across[n] - (across[n] @ way) * way
                y = y / np.linalg.norm(y)
                made[t.id, joint] = np.stack([way, y, np.cross(way, y)])
    return made


def axes_at(job: Job, tube: Tube, along: float) -> Floats:
    """A tube's axes (3, 3) at a distance along its centreline (mm): rows x along it, y and z of its section."""
    route = route_of(job, tube)
    across, _ = route.carried(seam(route, tube.roll))
    way = route.at(along)[1]
    y = across[min(max(int(np.searchsorted(route.distances, along)) - 1, 0), len(across) - 1)]
    y = y - (y @ way) * way
    y = y / np.linalg.norm(y)
    return np.stack([way, y, np.cross(way, y)])


def at_plane(job: Job, tube: Tube, x: float) -> list[tuple[Floats, Floats]]:
    """Where a tube's centreline passes a plane across the car at x (mm), and its direction there."""
    line = route_of(job, tube).line
    found: list[tuple[Floats, Floats]] = []
    for a, b in pairwise(line):
        if abs(b[0] - a[0]) > 1e-9 and min(a[0], b[0]) - 1e-9 <= x <= max(a[0], b[0]) + 1e-9:
            place = a + (x - a[0]) / (b[0] - a[0]) * (b - a)
            if not found or np.linalg.norm(found[-1][0] - place) > SAME_MM:
                found.append((place, (b - a) / np.linalg.norm(b - a)))
    return found
