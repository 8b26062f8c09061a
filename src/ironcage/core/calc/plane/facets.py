"""The facets of a frame: every flat opening that its members close round, and every warped one of four sides.

Members that lie in one plane are a plane drawing, and its faces are the facets: walked by always taking the next member
round at each joint (the half-edge walk of planar maps, de Berg and others, Computational Geometry, ch. 2). So no member
runs through a facet, and one side may be several members in line. Four members that close a ring off one plane, with no
fifth across it, are a warped facet.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from math import atan2, sqrt
from operator import attrgetter, itemgetter

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
FLAT_SIN = 0.02  # members whose directions leave a plane by less than this (1.1°) lie in it
FLAT_MM = 4.0  # and no joint of them is further off it than this
MOST_FOLD_COS = np.cos(
    np.radians(35)
)  # a ring of four folded more than this across a diagonal is two facets' rim, not one
IN_LINE_COS = float(np.cos(np.radians(3)))
LITTLE_FOLD_COS = np.cos(np.radians(10))
MOST_SIDES = 16


@dataclass(frozen=True, eq=False)
class Facet:
    """A facet. ring: node numbers in order round it; corners: those of them where it turns, by more than 3°; warp: the
    furthest that one lies off the mean plane, mm;
    area: on that plane, mm². One that nothing moved is the same object as before."""

    ring: tuple[int, ...]
    corners: tuple[int, ...]
    warp: float
    area: float

    def of(self, names: Sequence[str]) -> tuple[str, ...]:
        """The names of the nodes round it."""
        return self._round(names)

    @cached_property
    def _round(self) -> Callable[[Sequence[str]], tuple[str, ...]]:
        return itemgetter(*self.ring)


def facets(nodes: Floats, ends: Ints) -> tuple[Facet, ...]:
    """Every facet of members between nodes (n, 3), mm, `ends` (m, 2); largest number of sides MOST_SIDES. Each is
    found once."""
    if not len(ends):
        return ()
    found: dict[frozenset[int], Facet] = {}
    key = ends.tobytes()
    for normal, members in _planes(nodes, ends):
        used, edges = _drawing(key, members)
        if len(edges) >= len(used):  # fewer close round nothing
            for name, facet in _in_plane(used.tobytes(), edges, nodes[used].tobytes(), normal.tobytes()):
                found.setdefault(name, facet)
    warped = _warped(nodes, ends)
    shared = Counter(side for f in found.values() for side in _sides(f.ring)) if any(bent for _, bent in warped) else {}
    for four, bent in warped:
        if bent and all(shared.get(side, 0) > 1 for side in _sides(four)):
            continue  # every side of it has a flat facet to either hand: it lies across the inside of the frame
        found.setdefault(frozenset(four), _facet(four, nodes[list(four)].tobytes()))
    return tuple(sorted(found.values(), key=attrgetter("ring")))


@lru_cache(8000)
def _sides(ring: tuple[int, ...]) -> tuple[tuple[int, int], ...]:
    """The sides of a ring, each from its lower node to its higher one."""
    return tuple((a, b) if a < b else (b, a) for a, b in zip(ring, (*ring[1:], ring[0]), strict=True))


@lru_cache(4000)
def _in_plane(
    used: bytes, edges: tuple[tuple[int, int], ...], at: bytes, normal: bytes
) -> tuple[tuple[frozenset[int], Facet], ...]:
    """The facets of members in one plane, each with the set of its nodes; `used`: the nodes, `edges`: the members by
    their places among those, `at`: where they are (n, 3)."""
    names, places = np.frombuffer(used, dtype=np.int64), np.frombuffer(at).reshape(-1, 3)
    made = []
    for face in _faces((places @ _basis(normal)).tobytes(), edges):
        ring = tuple(names[face].tolist())
        made.append((frozenset(ring), _facet(ring, places[face].tobytes())))
    return tuple(made)


@lru_cache(8000)
def _facet(ring: tuple[int, ...], at: bytes) -> Facet:
    """A ring told from its lowest node, the lower of its neighbours next; `at`: the places (n, 3) of its nodes. Mean
    plane and area after Newell."""
    rows = np.frombuffer(at).reshape(-1, 3).tolist()
    count = len(rows)
    newell, sides = [0.0, 0.0, 0.0], []
    for (x, y, z), (x2, y2, z2) in zip(rows, (*rows[1:], rows[0]), strict=True):
        newell[0] += y * z2 - z * y2
        newell[1] += z * x2 - x * z2
        newell[2] += x * y2 - y * x2
        sides.append((x2 - x, y2 - y, z2 - z))
    a, b, c = newell
    twice = sqrt(a * a + b * b + c * c)
    turning = {
        ring[k]
        for k, ((x, y, z), (x2, y2, z2)) in enumerate(zip((sides[-1], *sides[:-1]), sides, strict=True))
        if x * x2 + y * y2 + z * z2 < IN_LINE_COS * sqrt((x * x + y * y + z * z) * (x2 * x2 + y2 * y2 + z2 * z2))
    }
    start = ring.index(min(ring))
    turned = ring[start:] + ring[:start]
    if turned[1] > turned[-1]:
        turned = (turned[0], *turned[:0:-1])
    heights = [a * x + b * y + c * z for x, y, z in rows]
    mean = sum(heights) / count
    warp = max(abs(h - mean) for h in heights) / max(twice, 1e-12)
    return Facet(turned, tuple(n for n in turned if n in turning), warp, twice / 2)


@lru_cache(4000)
def _basis(normal: bytes) -> Floats:
    """Two directions, as columns (3, 2), in the plane of a normal (3,)."""
    a, b, c = np.frombuffer(normal).tolist()
    x, y, z = ((0.0, -c, b), (c, 0.0, -a), (-b, a, 0.0))[
        min(range(3), key=(abs(a), abs(b), abs(c)).__getitem__)
    ]  # an axis of the car × the normal
    long = sqrt(x * x + y * y + z * z)
    x, y, z = x / long, y / long, z / long
    return np.array([[x, b * z - c * y], [y, c * x - a * z], [z, a * y - b * x]])


def _planes(nodes: Floats, ends: Ints) -> list[tuple[Floats, tuple[int, ...]]]:
    """Every plane that two members meeting at an angle span, with all members in it; none twice."""
    ways = nodes[ends[:, 1]] - nodes[ends[:, 0]]
    ways = ways / np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-9)
    one, two, joint = _meetings(ends.tobytes())
    (ax, ay, az), (bx, by, bz) = ways[one].T, ways[two].T
    normal = np.stack([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx], axis=1)
    size = np.linalg.norm(normal, axis=1)
    spans = np.flatnonzero(size > 0.12)  # under 7° two members hardly span a plane
    one, two, joint, normal = one[spans], two[spans], joint[spans], normal[spans] / size[spans, None]
    largest = np.abs(normal).argmax(axis=1)
    normal *= np.sign(normal[np.arange(len(normal)), largest])[:, None]
    height = np.einsum("ij,ij->i", normal, nodes[joint])

    def spanned(rows: Ints) -> tuple[Floats, NDArray[np.bool_]]:
        """Of the planes of those pairs, the fewest that hold them all, by normal (p, 3); and which members lie in
        each (m, p)."""
        close = np.abs(nodes @ normal[rows].T - height[rows]) < FLAT_MM  # (n, p)
        inside = (np.abs(ways @ normal[rows].T) < FLAT_SIN) & close[ends[:, 0]] & close[ends[:, 1]]
        counts = inside.sum(axis=0)
        order = np.argsort(-counts, kind="stable")[: int((counts > 2).sum())]
        kept = _uncovered(order, inside[one[rows]] & inside[two[rows]])
        return normal[rows[kept]], inside[:, kept]

    # pairs of nearly one plane are tried once; the few that this leaves over are tried each for itself
    rounded = np.round(np.column_stack([normal / FLAT_SIN, height / FLAT_MM])).astype(np.int64) @ np.array(
        [1, 1009, 1018081, 1027243729]
    )
    first, inside = spanned(np.unique(rounded, return_index=True)[1])
    as_numbers = inside.astype(np.float32)
    together = as_numbers @ as_numbers.T  # in how many planes two members lie
    second, also = spanned(np.flatnonzero(together[one, two] == 0))
    found = np.hstack([inside, also]).T
    return [
        (n, tuple(own.nonzero()[0].tolist())) for n, own in zip(np.concatenate([first, second]), found, strict=True)
    ]


def _uncovered(order: Ints, covers: NDArray[np.bool_]) -> list[int]:
    """Of planes in some order those whose own pair of members none before them holds; covers (p, p): whether each
    plane's pair lies in each plane."""
    sets = [int.from_bytes(row.tobytes(), "little") for row in np.packbits(covers.T, axis=1, bitorder="little")]
    made, covered = [], 0
    for k in order.tolist():
        if not covered >> k & 1:
            covered |= sets[k]
            made.append(k)
    return made


@lru_cache(16)
def _meetings(ends: bytes) -> tuple[Ints, Ints, Ints]:
    """Every two members that meet, and the node where they do."""
    pairs = np.frombuffer(ends, dtype=np.int64).reshape(-1, 2)
    order = np.argsort(pairs.ravel(), kind="stable")
    at, member = pairs.ravel()[order], order // 2
    starts = np.flatnonzero(np.concatenate([[True], np.diff(at) != 0]))
    found = []
    for first, last in zip(starts, [*starts[1:], len(at)], strict=True):
        i, j = np.triu_indices(last - first, 1)
        found.append(np.stack([member[first + i], member[first + j], np.full(len(i), at[first])]))
    one, two, joint = np.concatenate(found, axis=1)
    return one, two, joint


@lru_cache(4000)
def _drawing(ends: bytes, members: tuple[int, ...]) -> tuple[Ints, tuple[tuple[int, int], ...]]:
    """The nodes of some members, and those members by their place among them."""
    rows = np.frombuffer(ends, dtype=np.int64).reshape(-1, 2)[list(members)]
    used = np.unique(rows)
    return used, tuple(map(tuple, np.searchsorted(used, rows).tolist()))


@lru_cache(4000)
def _faces(places: bytes, edges: tuple[tuple[int, int], ...]) -> tuple[list[int], ...]:
    """The bounded faces of a plane drawing of nodes at places (n, 2), as rings of them. Loose ends are left out."""
    flat = np.frombuffer(places).reshape(-1, 2).tolist()
    neighbours: dict[int, list[int]] = {}
    for a, b in edges:
        neighbours.setdefault(a, []).append(b)
        neighbours.setdefault(b, []).append(a)
    _prune(neighbours)
    after: dict[tuple[int, int], int] = {}
    for node, others in neighbours.items():
        x, y = flat[node]
        ring = sorted(others, key=lambda k: atan2(flat[k][1] - y, flat[k][0] - x))
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
        if ring_of and _area([flat[n] for n in ring_of]) > 1.0:
            made.append(ring_of)
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


def _area(ring: list[list[float]]) -> float:
    """Of a ring of places in the plane, mm², positive anticlockwise (shoelace)."""
    return sum(a[0] * b[1] - a[1] * b[0] for a, b in zip(ring, (*ring[1:], ring[0]), strict=True)) / 2


def _warped(nodes: Floats, ends: Ints) -> list[tuple[tuple[int, int, int, int], bool]]:
    """Rings of four members off one plane, with no member across, folded by no more than MOST_FOLD along either
    diagonal, and whether by more than a little."""
    rings = _rings_of_four(ends.tobytes())
    if not len(rings):
        return []
    p = nodes[rings]
    turns = np.cross(np.roll(p, -1, axis=1) - p, np.roll(p, -2, axis=1) - np.roll(p, -1, axis=1))
    sizes = np.linalg.norm(turns, axis=2)
    unit = turns / np.maximum(sizes, 1e-9)[..., None]
    opposite = np.minimum(np.einsum("ij,ij->i", unit[:, 0], unit[:, 2]), np.einsum("ij,ij->i", unit[:, 1], unit[:, 3]))
    beside = np.einsum("ij,ij->i", unit[:, 0], unit[:, 1])
    off = np.abs(np.einsum("ij,ij->i", unit[:, 0], p[:, 3] - p[:, 0]))
    corner = sizes.min(axis=1) > 0.1 * sizes.max(axis=1)  # three in line at a corner is another facet's side
    keep = (opposite > MOST_FOLD_COS) & (beside > 0) & (off > FLAT_MM) & corner
    bent = opposite[keep] < LITTLE_FOLD_COS
    return [((a, b, c, d), fold) for (a, b, c, d), fold in zip(rings[keep].tolist(), bent.tolist(), strict=True)]


@lru_cache(16)
def _rings_of_four(ends: bytes) -> Ints:
    """Rings (k, 4) of four members with none across."""
    neighbours: dict[int, set[int]] = {}
    for a, b in np.frombuffer(ends, dtype=np.int64).reshape(-1, 2).tolist():
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
    return np.array(rings, dtype=np.int64).reshape(-1, 4)
