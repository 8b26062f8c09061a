"""A sheet of offsets taken off a frame that stands: which tubes run in rows along the car, and where."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np

from ironcage.core.job.geometry.offsets import CENTRE_MM
from ironcage.core.job.values.model import Job, Tube
from ironcage.core.job.values.offsets import MOST_LINES, MOST_STATIONS, Cell, Offsets, SheetLine, Station
from ironcage.problem import Problem

RAIL_LEAN = 0.8  # share of its length that a tube of a line runs along the car
SHORTEST_LINE = 0.2  # of the frame's length
STATION_MM = 40.0  # joints of several lines nearer along the car than this stand at one station
_NAMES = {
    1: ("rail",),
    2: ("lower rail", "upper rail"),
    3: ("lower rail", "middle rail", "upper rail"),
    4: ("lower rail", "middle rail", "shoulder rail", "roof rail"),
}


class _Row(NamedTuple):
    """Tubes one behind the other from the front, and the joints that they join."""

    joints: tuple[str, ...]
    tubes: tuple[Tube, ...]


def sheet_of_frame(job: Job) -> Job:
    """Put a sheet in place of the job's own that is taken off its frame: lines are tubes in a row along the car, on the
    left or on the centreline, and their joints are laid cells. Raises Problem where no tubes run along the car."""
    rows = _rows(job)[:MOST_LINES]
    if not rows:
        raise Problem(
            "No tubes run along the car yet.",
            where="sheet",
            hint="Lay rails first, or start from a sheet: sheet single seat",
        )
    names = _NAMES.get(len(rows)) or tuple(f"rail {n + 1}" for n in range(len(rows)))
    crossed = [any(_is_crossed(job, name) for name in row.joints) for row in rows]
    stations = []
    for x, here in _stations(job, {name for row in rows for name in row.joints}):
        cells = (_cell(job, here & set(row.joints), lined) for row, lined in zip(rows, crossed, strict=True))
        stations.append(Station(x=x, cells=tuple(cells)))
    lines = tuple(
        SheetLine(name=name, section=_usual(row.tubes), crossed=lined)
        for name, row, lined in zip(names, rows, crossed, strict=True)
    )
    webs = [t for t in job.tubes if t.role in ("diagonal", "side")]
    sheet = Offsets(
        lines=lines, stations=tuple(stations[:MOST_STATIONS]), lean="none", web=_usual(webs) if webs else ""
    )
    return job.but(offsets=sheet)


def _usual(tubes: Sequence[Tube]) -> str:
    """The section that most of them have."""
    return Counter(t.section for t in tubes).most_common(1)[0][0]


def _is_crossed(job: Job, joint: str) -> bool:
    twin = job.joint_by_id[joint].twin
    return bool(twin and twin != joint and job.tube_between((joint, twin), bent=False))


def _cell(job: Job, joints: set[str], lined: bool) -> Cell | None:
    if not joints:
        return None
    joint = job.joint_by_id[min(joints, key=lambda name: (-job.joint_by_id[name].x, name))]
    is_open = lined and joint.twin != joint.id and not _is_crossed(job, joint.id)
    return Cell(half=abs(joint.y), z=joint.z, open=is_open, joint=joint.id)


def _stations(job: Job, joints: set[str]) -> Iterator[tuple[float, set[str]]]:
    """Joints that stand together along the car, from the front: the x of their middle one, and which."""
    group: list[str] = []
    for name in (*sorted(joints, key=lambda n: (-job.joint_by_id[n].x, n)), None):
        if group and (name is None or job.joint_by_id[group[0]].x - job.joint_by_id[name].x > STATION_MM):
            yield float(np.median([job.joint_by_id[n].x for n in group])), set(group)
            group = []
        if name is not None:
            group.append(name)


def _rows(job: Job) -> list[_Row]:
    """Rows long enough to be lines, the lowest first."""
    along = [t for t in job.tubes if _runs_along(job, t)]
    if not along:
        return []
    xs = [job.joint_by_id[end].x for t in along for end in t.ends]
    least = SHORTEST_LINE * (max(xs) - min(xs))
    rows = [row for row in _followed(job, along) if _length(job, row) >= least]
    return sorted(rows, key=lambda row: (np.mean([job.joint_by_id[n].z for n in row.joints]), row.joints))


def _runs_along(job: Job, tube: Tube) -> bool:
    a, b = (np.array(job.joint_by_id[end].place) for end in tube.ends)
    way = b - a
    return min(a[1], b[1]) >= -CENTRE_MM and abs(way[0]) > RAIL_LEAN * float(np.linalg.norm(way))


def _length(job: Job, row: _Row) -> float:
    return job.joint_by_id[row.joints[0]].x - job.joint_by_id[row.joints[-1]].x


def _followed(job: Job, tubes: Sequence[Tube]) -> Iterator[_Row]:
    """Tubes put in rows: at each joint those that run on straightest follow each other."""
    front = {t.id: max(t.ends, key=lambda end: job.joint_by_id[end].x) for t in tubes}
    rear = {t.id: min(t.ends, key=lambda end: job.joint_by_id[end].x) for t in tubes}
    ways = {t.id: np.subtract(job.joint_by_id[rear[t.id]].place, job.joint_by_id[front[t.id]].place) for t in tubes}
    ways = {name: way / np.linalg.norm(way) for name, way in ways.items()}
    pairs = [(t.id, u.id) for t in tubes for u in tubes if rear[t.id] == front[u.id]]
    after: dict[str, str] = {}
    for ahead, behind in sorted(pairs, key=lambda p: (-float(ways[p[0]] @ ways[p[1]]), p)):
        if ahead not in after and behind not in after.values():
            after[ahead] = behind
    by_id = {t.id: t for t in tubes}
    for first in sorted(set(by_id) - set(after.values())):
        row = [first]
        while row[-1] in after:
            row.append(after[row[-1]])
        yield _Row((front[first], *(rear[name] for name in row)), tuple(by_id[name] for name in row))
