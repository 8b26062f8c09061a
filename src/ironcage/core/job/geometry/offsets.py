"""What a sheet of offsets draws: where its cells are, the members between them, and how builders read its figures."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.values.base import Role
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.offsets import Cell, Offsets

Place = tuple[float, float, float]
CENTRE_MM = 0.01  # a cell nearer than this to the centreline is on it
TOUCH = 0.9  # of half their sizes together: lines nearer than this run into each other
_OUTWARD = {"inside": -0.5, "centre": 0.0, "outside": 0.5}
_UPWARD = {"underside": -0.5, "centre": 0.0, "top": 0.5}


@dataclass(frozen=True)
class Node:
    """A cell's place on one side: numbers of its station and its line, and 1 for the left or the centreline, -1 for
    the right."""

    station: int
    line: int
    side: int = 1


@dataclass(frozen=True)
class Member:
    """A tube of the sheet between two nodes; one whose mirror image is another tube is told for the left alone. lean:
    it is a diagonal of a side or between both sides."""

    one: Node
    other: Node
    section: str
    role: Role
    lean: bool = False

    @property
    def nodes(self) -> frozenset[Node]:
        """Both ends, whichever comes first."""
        return frozenset((self.one, self.other))

    @property
    def turned(self) -> Member:
        """The other diagonal of a side's bay."""
        one, other = self.one, self.other
        return replace(self, one=replace(one, station=other.station), other=replace(other, station=one.station))


def cell_at(sheet: Offsets, station: int, line: int) -> Cell | None:
    """A cell by its numbers; None for an empty one, or none."""
    return sheet.stations[station].cells[line] if 0 <= station < len(sheet.stations) else None


def place_of(job: Job, station: int, line: int) -> Place:
    """Where a filled cell is on the left, x, y, z in mm: at its joint once it is laid."""
    cell = cell_at(job.offsets, station, line)
    assert cell is not None
    if cell.joint is None:
        return job.offsets.stations[station].x, cell.half, cell.z
    joint = job.joint_by_id[cell.joint]
    return joint.x, abs(joint.y), joint.z


def is_central(job: Job, station: int, line: int) -> bool:
    """Whether a filled cell is on the centreline."""
    return place_of(job, station, line)[1] <= CENTRE_MM


def told(job: Job, line: int, half: float, z: float) -> tuple[float, float]:
    """A cell's width and height as the sheet reads them, mm, from a half width and a height of its centreline."""
    sheet, (wide, high) = job.offsets, sizes(job, line)
    outward = half + _OUTWARD[sheet.face] * wide if half > CENTRE_MM else 0.0
    return outward * (2 if sheet.over_both else 1), z + _UPWARD[sheet.level] * high


def untold(job: Job, line: int, width: float, height: float) -> tuple[float, float]:
    """The half width and the height of a centreline from a width and a height as the sheet reads them, mm. A width of
    0 is the centreline itself."""
    sheet, (wide, high) = job.offsets, sizes(job, line)
    half = width / (2 if sheet.over_both else 1)
    return half - _OUTWARD[sheet.face] * wide if abs(half) > CENTRE_MM else 0.0, height - _UPWARD[sheet.level] * high


def sizes(job: Job, line: int) -> tuple[float, float]:
    """Width across the car and height of the section of a line, lying level, mm."""
    shape = job.section(job.offsets.lines[line].section).shape
    return shape.level_mm, shape.size[1]


def web_section(sheet: Offsets) -> str:
    """The section of uprights and diagonals: the first line's where none was chosen."""
    return sheet.web or sheet.lines[0].section


def members(job: Job) -> Iterator[Member]:
    """Every tube that the sheet asks for, whether it is laid or not."""
    sheet = job.offsets
    for n, line in enumerate(sheet.lines):
        filled = [s for s in range(len(sheet.stations)) if cell_at(sheet, s, n)]
        for s in filled:
            cell = cell_at(sheet, s, n)
            if line.crossed and not (cell and cell.open) and not is_central(job, s, n):
                yield Member(Node(s, n), Node(s, n, -1), line.section, "cross member")
        for bay, (s, after) in enumerate(pairwise(filled)):
            yield Member(Node(s, n), Node(after, n), line.section, line.role)
            if line.braced and not (is_central(job, s, n) or is_central(job, after, n)):
                side = 1 if bay % 2 == 0 else -1
                yield Member(Node(s, n, side), Node(after, n, -side), web_section(sheet), "diagonal", True)
    yield from _sides(job)


def _sides(job: Job) -> Iterator[Member]:
    """Uprights between lines that follow each other at a station, and diagonals in the bays between them."""
    sheet = job.offsets
    if not sheet.lines:
        return
    web, before = web_section(sheet), dict[tuple[int, int], int]()
    for s in range(len(sheet.stations)):
        filled = [n for n in range(len(sheet.lines)) if cell_at(sheet, s, n)]
        pairs = [p for p in pairwise(filled) if _apart(job, (s, p[0]), (s, p[1]))]
        for low, high in pairs:
            yield Member(Node(s, low), Node(s, high), web, "side")
        for pair in pairs:
            ahead = before.get(pair)
            if ahead is not None and not any(
                cell_at(sheet, k, n) for k in range(ahead + 1, s) for n in range(pair[0], pair[1] + 1)
            ):
                yield from _diagonals(job, ahead, s, pair)
            before[pair] = s


def _diagonals(job: Job, ahead: int, behind: int, pair: tuple[int, int]) -> Iterator[Member]:
    sheet, (low, high) = job.offsets, pair
    fore, aft = (Node(behind, low), Node(ahead, high)), (Node(ahead, low), Node(behind, high))
    ways = {
        "none": (),
        "up to the front": (fore,),
        "up to the rear": (aft,),
        "zigzag": (fore if ahead % 2 == 0 else aft,),
        "both": (fore, aft),
    }[sheet.lean]
    for one, other in ways:
        yield Member(one, other, web_section(sheet), "diagonal", True)


def _apart(job: Job, one: tuple[int, int], other: tuple[int, int]) -> bool:
    """Whether two cells are two places."""
    return float(np.linalg.norm(np.subtract(place_of(job, *one), place_of(job, *other)))) > 0.5


def position(job: Job, node: Node) -> Place:
    """Where a node is, x, y, z in mm."""
    x, half, z = place_of(job, node.station, node.line)
    return x, half * node.side, z


def drawn(job: Job) -> np.ndarray:
    """Members of which an end is not laid yet, both sides, as pairs of places (n, 2, 3) in mm."""
    made = []
    for m in members(job):
        cells = [cell_at(job.offsets, node.station, node.line) for node in (m.one, m.other)]
        if all(cell is not None and cell.joint for cell in cells):
            continue
        one, other = position(job, m.one), position(job, m.other)
        made.append((one, other))
        if m.one.side == m.other.side:
            made.append(((one[0], -one[1], one[2]), (other[0], -other[1], other[2])))
    return np.array(made).reshape(-1, 2, 3)


def crossing(job: Job) -> tuple[int, int, int, int] | None:
    """The first two lines that run into each other between two stations, lines and stations by number; None where
    none do. Lines may meet at a station: there they are one joint."""
    sheet = job.offsets
    count = len(sheet.lines)
    places = np.full((len(sheet.stations), count, 2), np.nan)  # half width and height, nan where a line does not pass
    for s, n, _ in sheet.cells():
        places[s, n] = place_of(job, s, n)[1:]
    high = np.array([sizes(job, n)[1] for n in range(count)])
    for low in range(count):
        for other in range(low + 1, count):
            both = np.flatnonzero(np.isfinite(places[:, (low, other), 0]).all(axis=1))
            apart = places[both, other] - places[both, low]
            found = _dips(apart[:-1], apart[1:], TOUCH * float(high[low] + high[other]) / 2)
            if found.any():
                bay = int(found.argmax())
                return low, other, int(both[bay]), int(both[bay + 1])
    return None


def _dips(start: Floats, stop: Floats, least: float) -> np.ndarray:
    """Whether a distance that goes straight from one offset to another (n, 2) gets below `least` between them, and is
    not so small already where it starts or stops."""
    way = stop - start
    share = -(start * way).sum(axis=1) / np.maximum((way * way).sum(axis=1), 1e-12)
    between = np.linalg.norm(start + share[:, None] * way, axis=1)
    ends = np.minimum(np.linalg.norm(start, axis=1), np.linalg.norm(stop, axis=1))
    found: np.ndarray = (share > 0) & (share < 1) & (between < least) & (least < ends)
    return found
