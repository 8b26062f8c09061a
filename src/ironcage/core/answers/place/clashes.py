"""Clashes: what is nearer to something than its margin allows, and what stands in the way of a part coming out.

Every pair of part, person, tyre, link, chain, shaft, tube, panel and plate is looked at, two of the frame's own apart:
those belong to Frame. The boxes round things rule most pairs out; for the rest the distance is exact. What was worked
out for two bodies is kept while both are the same objects, so after one thing moved only its own pairs are new.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from threading import Lock
from typing import Literal

import numpy as np

from ironcage.core.answers import run
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.plates import frame_bodies
from ironcage.core.calc.solids.convex import Floats, Solid
from ironcage.core.calc.solids.gaps import gaps
from ironcage.core.calc.solids.meshgaps import MeshGap, least_gaps
from ironcage.core.calc.solids.triangles import Triangles
from ironcage.core.job.geometry.bodies import Body, part_body, placed_bodies
from ironcage.core.job.geometry.flanges import comes_off
from ironcage.core.job.store.scans import triangles
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Part
from ironcage.core.job.values.running import HUNG

CLOSE_MM = 0.05  # no tape tells it apart
REACH_MM = 60.0  # beyond margin and this, a pair is not listed
State = Literal["overlap", "near", "clear"]

# what a person holds, sits or stands on by purpose: the limbs that may touch a part or sheet of that kind
HELD: Mapping[str, tuple[str, ...]] = {
    "seat": (
        "helmet",
        "trunk",
        *(f"{s} {limb}" for s in ("left", "right") for limb in ("thigh", "upper arm", "forearm")),
    ),
    "pedals": ("left foot", "right foot"),
    "hand wheel": ("left forearm", "right forearm"),
    "floor panel": ("left foot", "right foot"),
}


@dataclass(frozen=True)
class Near:
    """Two bodies by id and their distance: gap (negative: overlap), margin wanted, place between them (3,), mm;
    part: which limb, run or other piece of either it is."""

    first: str
    second: str
    gap: float
    margin: float
    place: tuple[float, float, float]
    part: str

    @property
    def state(self) -> State:
        """Overlap, nearer than the margin, or clear."""
        return "overlap" if self.gap < -CLOSE_MM else "near" if self.gap < self.margin - CLOSE_MM else "clear"


@dataclass(frozen=True)
class Blocked:
    """A part that can't slide out: what is in its way, and how deep it would run into it at worst, mm."""

    part: str
    by: tuple[str, ...]
    depth: float


@dataclass(frozen=True)
class ClashAnswer:
    """Pairs within reach, worst first, and parts that can't come out."""

    near: tuple[Near, ...]
    blocked: tuple[Blocked, ...]

    @property
    def clashes(self) -> tuple[Near, ...]:
        """Pairs nearer than their margin."""
        return tuple(n for n in self.near if n.state != "clear")

    @property
    def count(self) -> int:
        """Pairs nearer than their margin, and parts that can't come out."""
        return len(self.clashes) + len(self.blocked)


def may_touch(one: Body, other: Body) -> bool:
    """Whether the builder, or purpose, lets two bodies touch."""
    if one.kind == other.kind and one.kind in ("tube", "tyre"):
        return True
    return any(
        {b.id, b.use} & a.touches
        or (b.kind == "tube" and "tubes" in a.touches)
        or (b.kind == "sheet" and "tubes" in a.touches & b.touches)
        for a, b in ((one, other), (other, one))
    )


def _pieces(body: Body, other: Body) -> Sequence[int]:
    """The pieces of a body that count against another."""
    if body.kind != "person" or other.kind not in ("part", "sheet"):
        return range(len(body.solids))
    return [n for n, label in enumerate(body.labels) if label not in HELD.get(other.use, ())]


class Pairs:
    """Distances of pairs of bodies, kept from one job to the next while both bodies are the same objects."""

    def __init__(self) -> None:
        self._kept: dict[tuple[int, int], tuple[Body, Body, Near | None]] = {}
        self._lock = Lock()

    def near(self, ones: Sequence[Body], others: Sequence[Body], *, margins: bool = True) -> list[Near]:
        """Pairs of `ones` with `others` within reach; a pair in both orders is taken once. Without margins only by
        reach."""
        if not ones or not others:
            return []
        wanted = _candidates(ones, others, margins)
        with self._lock:
            before = self._kept
        now: dict[tuple[int, int], tuple[Body, Body, Near | None]] = {}
        fresh: list[tuple[Body, Body]] = []
        for a, b in wanted:
            key = (id(a), id(b))
            if key in before:
                now[key] = before[key]
            elif may_touch(a, b):
                now[key] = (a, b, None)
            else:
                fresh.append((a, b))
        for (a, b), found in zip(fresh, measured(fresh), strict=True):
            now[id(a), id(b)] = (a, b, found)
        with self._lock:
            self._kept = now
        return [found for _, _, found in now.values() if found]


def _candidates(ones: Sequence[Body], others: Sequence[Body], margins: bool) -> list[tuple[Body, Body]]:
    one = np.array([b.bounds for b in ones])
    other = np.array([b.bounds for b in others])
    apart = np.maximum(other[None, :, 0] - one[:, None, 1], one[:, None, 0] - other[None, :, 1])
    square = (np.maximum(apart, 0.0) ** 2).sum(axis=2)
    reach = REACH_MM + (np.maximum.outer([b.margin for b in ones], [b.margin for b in others]) if margins else 0.0)
    row = {id(b): n for n, b in enumerate(ones)}
    hits = np.argwhere(square < np.square(reach)).tolist()
    # a body that is in both lists meets each of the first list's once
    return [(ones[i], others[j]) for i, j in hits if row.get(id(others[j]), len(ones)) > i]


def measured(pairs: Sequence[tuple[Body, Body]]) -> list[Near | None]:
    """The exact distance of each pair; None beyond reach. One call of `gaps` for all pieces of all pairs."""
    first: list[Solid] = []
    second: list[Solid] = []
    owner: list[int] = []
    names: list[str] = []
    found: list[Near | None] = [None] * len(pairs)
    scanned = _from_scans(pairs)
    for n, (a, b) in enumerate(pairs):
        if n in scanned:
            found[n] = scanned[n]
            continue
        for i, j in _close_pieces(a, b, _reach(a, b)):
            first.append(a.solids[i])
            second.append(b.solids[j])
            owner.append(n)
            names.append(" and ".join(filter(None, (a.labels[i], b.labels[j]))))
    made = gaps(first, second)
    rows = np.array(owner, dtype=np.intp)
    for n in np.argsort(-made.distance).tolist():  # the nearest piece comes last and stays
        a, b = pairs[rows[n]]
        margin, gap = max(a.margin, b.margin), float(made.distance[n])
        if gap < margin + REACH_MM:
            x, y, z = (float(v) for v in (made.on_first[n] + made.on_second[n]) / 2)
            found[rows[n]] = Near(a.id, b.id, gap, margin, (x, y, z), names[n])
    return found


def _from_scans(pairs: Sequence[tuple[Body, Body]]) -> dict[int, Near | None]:
    """The distances of those pairs (by row) that have a scan, to the scan's own triangles; in a pair of two scans the
    second counts as the box round it."""
    by_scan: dict[str, dict[int, list[Solid]]] = {}
    for n, (a, b) in enumerate(pairs):
        scan, other = (a, b) if a.scan else (b, a)
        if scan.scan and triangles(scan.scan) is not None:
            back = scan.turn.T
            pieces = [other.solids[i].moved(back, -back @ scan.at) for i in _pieces(other, scan)]
            by_scan.setdefault(scan.scan, {})[n] = pieces
    found: dict[int, Near | None] = {}
    for name, pieces_of in by_scan.items():
        mesh = triangles(name)
        assert mesh is not None
        reaches = [_reach(*pairs[n]) for n in pieces_of]
        for (n, pieces), gap in zip(
            pieces_of.items(), least_gaps(mesh.tree, list(pieces_of.values()), reaches), strict=True
        ):
            found[n] = _near_scan(*pairs[n], mesh, pieces, gap)
    return found


def _near_scan(a: Body, b: Body, mesh: Triangles, pieces: Sequence[Solid], gap: MeshGap | None) -> Near | None:
    """A pair with a scan, by the nearest of its triangles; what lies within a closed scan overlaps it."""
    if gap is None or gap.distance > 0:
        for n, solid in enumerate(pieces):
            if _within(solid, mesh):
                size = float(np.linalg.norm(np.ptp(solid.bounds, axis=0)))
                deep = MeshGap(-(size / 2 + (gap.distance if gap else 0.0)), solid.points.mean(axis=0), n)
                gap = deep if gap is None or deep.distance < gap.distance else gap
    if gap is None:
        return None
    scan, other = (a, b) if a.scan else (b, a)
    x, y, z = (float(v) for v in scan.turn @ gap.place + scan.at)
    label = other.labels[_pieces(other, scan)[gap.solid]]
    return Near(a.id, b.id, gap.distance, max(a.margin, b.margin), (x, y, z), label)


def _reach(a: Body, b: Body) -> float:
    """Beyond which a pair is not listed, mm."""
    return REACH_MM + max(a.margin, b.margin)


def _within(solid: Solid, mesh: Triangles) -> bool:
    """Whether a solid that touches no triangle lies inside a closed mesh."""
    low, high = solid.bounds
    whole = (low >= mesh.bounds[0]).all() and (high <= mesh.bounds[1]).all()
    return bool(whole) and not mesh.open_edges and mesh.tree.holds(solid.points[0])


def _close_pieces(a: Body, b: Body, reach: float) -> list[tuple[int, int]]:
    mine, theirs = _pieces(a, b), _pieces(b, a)
    if len(a.solids) == 1 and len(b.solids) == 1:
        return [(i, j) for i in mine for j in theirs]
    one, other = a.solid_bounds, b.solid_bounds
    apart = np.maximum(other[None, :, 0] - one[:, None, 1], one[:, None, 0] - other[None, :, 1])
    near = (np.maximum(apart, 0.0) ** 2).sum(axis=2) < reach**2
    return [(i, j) for i in mine for j in theirs if near[i, j]]


@lru_cache(1024)
def slide_body(part: Part) -> Body:
    """Everything that a part passes on its way out."""
    here, way = part_body(part), np.array(part.slide)
    solids = tuple(s.swept(way) for s in here.solids)
    return Body(part.id, part.name, "part", solids, here.labels, 0.0, part.kind, here.touches)


def standing_bodies(job: Job) -> list[Body]:
    """Everything placed and everything hung, which counts wherever it goes and not only where it stands."""
    swept = run.swept_bodies(job)
    moving = {b.id for b in swept}
    return [*(b for b in placed_bodies(job) if b.id not in moving), *swept]


_PAIRS, _WAYS = Pairs(), Pairs()


@remembered("parts", "people", "wheels", "chains", "shafts", "joints", "tubes", "shelf", "fittings", *HUNG)
def find_clashes(job: Job) -> ClashAnswer:
    """Every pair that is near, and every part that can't come out."""
    placed, tubes = standing_bodies(job), frame_bodies(job)
    near = _PAIRS.near(placed, [*placed, *tubes])
    near.sort(key=lambda n: n.gap - n.margin)
    return ClashAnswer(tuple(near), tuple(_blocked(job, placed, tubes)))


def _blocked(job: Job, placed: Sequence[Body], tubes: Sequence[Body]) -> Iterable[Blocked]:
    """Parts whose way out runs into something that they do not run into where they stand; people get out first, and
    tubes that are bolted on at both ends are taken off."""
    off = comes_off(job)
    ways = [slide_body(p) for p in job.parts if any(p.slide)]
    stays = [*(b for b in placed if b.kind in ("part", "tyre")), *(b for b in tubes if b.id not in off)]
    found: dict[str, list[Near]] = {}
    for n in _WAYS.near(ways, stays, margins=False):
        if n.gap < -CLOSE_MM and n.first != n.second:
            found.setdefault(n.first, []).append(n)
    for part, hits in found.items():
        hits.sort(key=lambda n: n.gap)
        yield Blocked(part, tuple(n.second for n in hits), -hits[0].gap)


def nearest(solids: Sequence[Solid], others: Sequence[Body]) -> tuple[float, str, Floats]:
    """The least distance from any of some solids to any of some bodies, of which one, and where; mm."""
    pairs = [(s, piece, b.id) for s in solids for b in others for piece in b.solids]
    if not pairs:
        return float("inf"), "", np.zeros(3)
    made = gaps([p[0] for p in pairs], [p[1] for p in pairs])
    n = int(made.distance.argmin())
    return float(made.distance[n]), pairs[n][2], made.on_second[n]
