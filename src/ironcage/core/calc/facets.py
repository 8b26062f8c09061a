"""The facets of a frame: every flat opening that its members close round, and every warped one of four sides.

Members that lie in one plane are a plane drawing, and its faces are the facets: walked by always taking the next member round at each joint (the
half-edge walk of planar maps, de Berg and others, Computational Geometry, ch. 2). So no member runs through a facet, and one side may
be several members in line. Four members that close a ring off one plane, with no fifth across it, are a warped facet.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
FLAT_SIN = 0.02  # members whose directions leave a plane by less than this (1.1°) lie in it
FLAT_MM = 4.0  # and no joint of them is further off it than this
MOST_FOLD_COS = np.cos(
    np.radians(35)
)  # a ring of four folded more than this across a diagonal is two facets' rim, not one
LITTLE_FOLD_COS = np.cos(np.radians(10))
MOST_SIDES = 16


@dataclass(frozen=True)
class Facet:
    """A facet. ring: node numbers in order round it; warp: the furthest that one lies off the best plane, mm; normal (3,) of that plane."""

    ring: tuple[int, ...]
    warp: float
    normal: tuple[float, float, float]


def facets(nodes: Floats, ends: Ints) -> tuple[Facet, ...]:
    """Every facet of members between nodes (n, 3), mm, `ends` (m, 2); largest number of sides MOST_SIDES. Each is found once."""
    if not len(ends):
        return ()
    found: dict[frozenset[int], Facet] = {}
    planes = _planes(nodes, ends)
    right, up = _bases(np.array([normal for normal, _ in planes]).reshape(-1, 3))
    for (_, members), across, along in zip(planes, right, up, strict=True):
        rows = ends[list(members)]
        used = np.unique(rows)
        local = nodes[used] @ np.array([across, along]).T
        numbered = np.searchsorted(used, rows)
        for ring in _faces(local.tobytes(), len(used), tuple(map(tuple, numbered.tolist()))):
            whole = tuple(used[list(ring)].tolist())
            found.setdefault(frozenset(whole), _facet(whole, nodes[list(whole)].tobytes()))
    shared = Counter(
        frozenset(pair) for f in found.values() for pair in zip(f.ring, (*f.ring[1:], f.ring[0]), strict=True)
    )
    for ring, bent in _warped(nodes, ends):
        pairs = [frozenset(pair) for pair in zip(ring, (*ring[1:], ring[0]), strict=True)]
        if bent and all(shared[pair] > 1 for pair in pairs):
            continue  # every side of it has a flat facet to either hand: it lies across the inside of the frame
        found.setdefault(frozenset(ring), _facet(ring, nodes[list(ring)].tobytes()))
    return tuple(sorted(found.values(), key=lambda f: f.ring))


@lru_cache(8000)
def _facet(ring: tuple[int, ...], at: bytes) -> Facet:
    """A ring told from its lowest node, the lower of its neighbours next; `at`: the places (n, 3) of its nodes. Normal after Newell."""
    places = np.frombuffer(at).reshape(-1, 3)
    following = np.roll(places, -1, axis=0)
    newell = np.array([
        (places[:, a] * following[:, b] - places[:, b] * following[:, a]).sum() for a, b in ((1, 2), (2, 0), (0, 1))
    ])  # fmt: skip
    normal = newell / max(float(np.linalg.norm(newell)), 1e-12)
    x, y, z = normal.tolist()
    turn = ring.index(min(ring))
    turned = ring[turn:] + ring[:turn]
    if turned[1] > turned[-1]:
        turned = (turned[0], *turned[:0:-1])
        x, y, z = -x, -y, -z
    return Facet(turned, float(np.abs((places - places.mean(axis=0)) @ normal).max()), (x, y, z))


def _bases(normals: Floats) -> tuple[Floats, Floats]:
    """Two directions (p, 3) in each plane of normals (p, 3)."""
    away = np.eye(3)[np.abs(normals).argmin(axis=1)]
    right = np.cross(away, normals)
    right /= np.linalg.norm(right, axis=1, keepdims=True)
    return right, np.cross(normals, right)


def _planes(nodes: Floats, ends: Ints) -> list[tuple[Floats, tuple[int, ...]]]:
    """Every plane that two members meeting at an angle span, with all members in it; none twice."""
    ways = nodes[ends[:, 1]] - nodes[ends[:, 0]]
    ways = ways / np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-9)
    order = np.argsort(ends.ravel(), kind="stable")
    at, member = ends.ravel()[order], order // 2
    starts = np.flatnonzero(np.concatenate([[True], np.diff(at) != 0]))
    pairs = []
    for first, last in zip(starts, [*starts[1:], len(at)], strict=True):
        count = last - first
        i, j = np.triu_indices(count, 1)
        pairs.append(np.stack([member[first + i], member[first + j], np.full(len(i), at[first])], axis=1))
    one, two, joint = np.concatenate(pairs).T
    normal = np.cross(ways[one], ways[two])
    size = np.linalg.norm(normal, axis=1)
    spans = size > 0.12  # under 7° two members hardly span a plane
    one, two, joint, normal = one[spans], two[spans], joint[spans], normal[spans] / size[spans, None]
    largest = np.abs(normal).argmax(axis=1)
    normal *= np.sign(normal[np.arange(len(normal)), largest])[:, None]
    height = np.einsum("ij,ij->i", normal, nodes[joint])
    reach = nodes @ normal.T
    close = np.abs(reach - height) < FLAT_MM
    inside = (np.abs(ways @ normal.T) < FLAT_SIN) & close[ends[:, 0]] & close[ends[:, 1]]  # (m, p)
    claimed = np.zeros(len(one), dtype=bool)
    made = []
    counts = inside.sum(axis=0)
    for k in np.argsort(-counts, kind="stable").tolist():
        if counts[k] < 3:
            break
        if not claimed[k]:
            column = inside[:, k]
            claimed |= column[one] & column[two]
            made.append((normal[k], tuple(np.flatnonzero(column).tolist())))
    return made


@lru_cache(4000)
def _faces(places: bytes, count: int, edges: tuple[tuple[int, int], ...]) -> tuple[tuple[int, ...], ...]:
    """The bounded faces of a plane drawing, as rings of node numbers; `places` are (count, 2) coordinates. Loose ends are left out."""
    flat = np.frombuffer(places).reshape(count, 2)
    neighbours: dict[int, list[int]] = {}
    for a, b in edges:
        neighbours.setdefault(a, []).append(b)
        neighbours.setdefault(b, []).append(a)
    _prune(neighbours)
    after: dict[tuple[int, int], int] = {}
    for node, others in neighbours.items():
        ways = flat[others] - flat[node]
        order = np.argsort(np.arctan2(ways[:, 1], ways[:, 0]))
        ring = [others[k] for k in order]
        for k, other in enumerate(ring):
            after[other, node] = ring[k - 1]  # coming from `other`, the next one clockwise keeps the face to the left
    made, walked = [], set()
    for start in after:
        if start in walked:
            continue
        face, edge = [], start
        while edge not in walked:
            walked.add(edge)
            face.append(edge[0])
            edge = (edge[1], after[edge])
        ring_of = _simple(face)
        if ring_of and _area(flat[ring_of]) > 1.0:
            made.append(tuple(ring_of))
    return tuple(made)


def _prune(neighbours: dict[int, list[int]]) -> None:
    """Take away members with a loose end, again and again."""
    loose = [n for n, others in neighbours.items() if len(others) == 1]
    while loose:
        node = loose.pop()
        for other in neighbours.pop(node, []):
            neighbours[other].remove(node)
            if len(neighbours[other]) == 1:
                loose.append(other)
            elif not neighbours[other]:
                neighbours.pop(other)


def _simple(face: list[int]) -> list[int]:
    """A face's ring; nothing when it passes a node twice or has too many sides."""
    return face if 3 <= len(face) <= MOST_SIDES and len(set(face)) == len(face) else []


def _area(ring: Floats) -> float:
    x, y = ring.T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


def _warped(nodes: Floats, ends: Ints) -> list[tuple[tuple[int, int, int, int], bool]]:
    """Rings of four members off one plane, with no member across, folded by no more than MOST_FOLD along either diagonal, and whether by more than a
    little."""
    neighbours: dict[int, set[int]] = {}
    for a, b in ends.tolist():
        neighbours.setdefault(a, set()).add(b)
        neighbours.setdefault(b, set()).add(a)
    through: dict[tuple[int, int], list[int]] = {}
    for middle, others in neighbours.items():
        listed = sorted(others)
        for i, a in enumerate(listed):
            for c in listed[i + 1 :]:
                if c not in neighbours[a]:
                    through.setdefault((a, c), []).append(middle)
    rings = [
        (a, b, c, d)
        for (a, c), middles in through.items()
        for i, b in enumerate(middles)
        for d in middles[i + 1 :]
        if a < b and d not in neighbours[b]
    ]
    if not rings:
        return []
    p = nodes[np.array(rings)]
    turns = np.cross(np.roll(p, -1, axis=1) - p, np.roll(p, -2, axis=1) - np.roll(p, -1, axis=1))
    sizes = np.linalg.norm(turns, axis=2)
    unit = turns / np.maximum(sizes, 1e-9)[..., None]
    opposite = np.minimum(np.einsum("ij,ij->i", unit[:, 0], unit[:, 2]), np.einsum("ij,ij->i", unit[:, 1], unit[:, 3]))
    beside = np.einsum("ij,ij->i", unit[:, 0], unit[:, 1])
    off = np.abs(np.einsum("ij,ij->i", unit[:, 0], p[:, 3] - p[:, 0]))
    corner = sizes.min(axis=1) > 0.1 * sizes.max(axis=1)  # three in line at a corner is another facet's side
    keep = (opposite > MOST_FOLD_COS) & (beside > 0) & (off > FLAT_MM) & corner
    return [(ring, bool(o < LITTLE_FOLD_COS)) for ring, k, o in zip(rings, keep, opposite, strict=True) if k]


def sides(ring: Sequence[int], nodes: Floats) -> list[int]:
    """The corners of a facet: its nodes without those that stand in line between two others (within 3°)."""
    places = nodes[list(ring)]
    to, back = np.roll(places, -1, axis=0) - places, places - np.roll(places, 1, axis=0)
    cosines = np.einsum("ij,ij->i", to, back) / np.maximum(
        np.linalg.norm(to, axis=1) * np.linalg.norm(back, axis=1), 1e-12
    )
    return [n for n, c in zip(ring, cosines, strict=True) if c < np.cos(np.radians(3))]
