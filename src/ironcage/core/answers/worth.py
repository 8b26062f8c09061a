"""What to change next: what every tube is worth, every brace that could be added, and each tube a size up or down, all exact from one factorisation."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations
from typing import Any, NamedTuple

import numpy as np

from ironcage.core.answers import strength
from ironcage.core.answers.bays import each_in_way
from ironcage.core.answers.cache import remembered
from ironcage.core.answers.cases import CASE_PARTS
from ironcage.core.answers.mass import weigh
from ironcage.core.answers.model import beam_frame, spots
from ironcage.core.answers.people import ways_out
from ironcage.core.answers.prove import TORQUE, bending_joints, rigged
from ironcage.core.calc import rigs
from ironcage.core.calc.beams import Floats, Frame, Ints
from ironcage.core.calc.route import Route
from ironcage.core.calc.sections import AnySection
from ironcage.core.calc.whatif import Changes, WhatIf
from ironcage.core.job.bodies import Body, placed_bodies, tube_bodies, tube_body
from ironcage.core.job.edits.tubes import crosses
from ironcage.core.job.library import library
from ironcage.core.job.model import Job, Section, Tube
from ironcage.problem import Problem

MOST_TUBES = 1500
GONE = 1 - 1e-9  # of a tube is taken away, so that a joint it alone held stays told
COLLAPSED = 1e-3  # less stiffness than this share left: the tube holds the frame up
CLEAR, LOOKED_AT, TOGETHER = (
    12,
    96,
    24,
)  # clear braces that are enough, candidates looked at for what is in their way, at a time
PASSES_MM = 20.0  # a brace this near to a joint between its own would run through it
SHORT_MM = 100.0


@dataclass(frozen=True)
class Change:
    """A change of a tube and its mirror image. torsion, bending: by how much both stiffnesses change, N·mm/rad and N/mm (bending None without a bending test); kg; money: at the
    shelf's prices, None where one is not known; falls: the frame would have nothing left to hold it."""

    what: str
    tubes: tuple[str, ...]
    torsion: float
    bending: float | None
    kg: float
    money: float | None = None
    falls: bool = False

    @property
    def per_kg(self) -> float:
        """Twist stiffness changed a kg, N·mm/rad/kg."""
        return self.torsion / self.kg if self.kg else 0.0


@dataclass(frozen=True)
class Worth:
    """A tube and its mirror image: what the frame would lose without them, and a size up and down, None where none is known."""

    tubes: tuple[str, ...]
    gone: Change
    up: Change | None
    down: Change | None


@dataclass(frozen=True)
class Brace:
    """A tube that could be added between two joints; pairs: it and, where one would be laid, its mirror image; section: of it; blocked: what is in its way."""

    pairs: tuple[tuple[str, str], ...]
    section: str
    material: str
    change: Change
    blocked: tuple[str, ...]
    length: float

    @property
    def joints(self) -> tuple[str, str]:
        """The joints that are named to add it."""
        return self.pairs[0]

    @property
    def line(self) -> str:
        """The line that adds it."""
        return f"tube {self.joints[0]} {self.joints[1]} {self.section}"


class _Tests:
    """The twist and bending tests of a frame, ready to be asked what they would say after changes."""

    def __init__(self, job: Job) -> None:
        if len(job.tubes) > MOST_TUBES:
            raise Problem(
                f"{len(job.tubes)} tubes are more than this is worked out for.",
                where="worth",
                hint=f"It goes up to {MOST_TUBES:,} tubes.",
            )
        held = rigged(job)
        self.job, self.rig, self.frame = job, held.rig, held.rig.frame
        middle = bending_joints(job, self.rig)
        hung = tuple(held.index[j] for j in middle)
        loads = [rigs.twist_loads(self.rig, 1.0)] + ([rigs.bending_loads(self.rig, hung, 1.0)] if hung else [])
        balanced, u = self.rig.balanced(np.column_stack(loads))
        self.whatif = WhatIf(self.rig.free.factor, u)
        self.compliance = np.einsum("ic,ic->c", balanced, u)
        self.track = float(self.rig.place("front left")[1] - self.rig.place("front right")[1])
        self.index = held.index

    def stiffness(self, compliance: Floats) -> Floats:
        """Twist stiffness, N·mm/rad, and bending stiffness, N/mm, of compliances (g, tests), mm/N, as Prove defines them."""
        made = 1 / np.maximum(compliance, 1e-300)
        made[:, 0] = TORQUE / np.arctan(TORQUE / self.track * compliance[:, 0] / self.track)
        return made

    def changed(self, changes: Changes) -> tuple[Floats, Floats]:
        """By how much both stiffnesses change with each change (g, tests), and which leave nothing that holds (g,)."""
        now = self.stiffness(self.compliance[None])
        after = self.stiffness(self.compliance + self.whatif.softer(changes))
        return after - now, after[:, 0] < COLLAPSED * now[0, 0]


def pairs(job: Job) -> list[tuple[int, ...]]:
    """The rows of every tube with its mirror image, once each."""
    row = {t.id: n for n, t in enumerate(job.tubes)}
    made: list[tuple[int, ...]] = []
    seen: set[int] = set()
    for n, t in enumerate(job.tubes):
        if n not in seen:
            twin = job.twin_tube(t)
            group = (n, row[twin.id]) if twin and twin.id != t.id and twin.section == t.section else (n,)
            seen |= set(group)
            made.append(group)
    return made


def _groups(frame: Frame, groups: Sequence[tuple[int, ...]], stiffness: Floats) -> Changes:
    return Changes.of([[(frame.dofs[n], stiffness[n]) for n in g] for g in groups])


@remembered(*CASE_PARTS)
def answer(job: Job) -> tuple[Worth, ...]:
    """Every tube's worth, the least worth first by stiffness a kg. Raises Problem where the frame can't be twisted."""
    tests, groups = _Tests(job), pairs(job)
    own = tests.frame.global_stiffness
    lost, falls = tests.changed(_groups(tests.frame, groups, -GONE * own))
    masses = weigh(job).tube_masses
    sized = [_sizes(job, tests, groups, masses, way) for way in (1, -1)]
    made = []
    for k, g in enumerate(groups):
        tubes = tuple(job.tubes[n].id for n in g)
        kg = float(masses[list(g)].sum())
        gone = _change(
            "without",
            tubes,
            lost[k],
            -kg,
            _price(job, job.section(job.tubes[g[0]].section), -sum(tests.frame.lengths[list(g)])),
            falls=bool(falls[k]),
        )
        made.append(Worth(tubes, gone, sized[0][k], sized[1][k]))
    return tuple(sorted(made, key=lambda w: (w.gone.falls, w.gone.torsion / w.gone.kg)))


def _change(
    what: str, tubes: tuple[str, ...], by: Floats, kg: float, money: float | None, *, falls: bool = False
) -> Change:
    return Change(what, tubes, float(by[0]), float(by[1]) if len(by) > 1 else None, kg, money, falls)


def _price(job: Job, section: Section, mm: float) -> float | None:
    return section.price * mm / 1000 if section.price else None


def stock(job: Job) -> tuple[Section, ...]:
    """The sections that can be chosen from: the shelf's, then the library's."""
    known = {s.name: s for s in (*library().sections, *job.shelf.sections)}
    return tuple(known.values())


def next_size(job: Job, tube: Tube, way: int) -> Section | None:
    """The section a size up (1) or down (−1) from a tube's: the nearest by weight of the same kind and standard that bends and twists more stiffly, or less."""
    own = job.section(tube.section)
    found = [(f.area * way, s) for s, f in ((s, _size(s.shape)) for s in stock(job)) if _beyond(own, s, way)]
    return min(found, key=lambda f: f[0])[1] if found else None


class _Size(NamedTuple):
    """What makes a section the larger one: area mm², least I and J mm⁴."""

    area: float
    bending: float
    twist: float


@lru_cache(4000)
def _size(shape: AnySection) -> _Size:
    p = shape.properties(0.3)
    return _Size(p.area, min(p.i_y, p.i_z), p.j)


def _beyond(own: Section, other: Section, way: int) -> bool:
    """Whether another section of the same kind and standard is larger (1), or smaller (−1), in weight, bending and twist alike."""
    alike = (
        own.shape.kind == other.shape.kind
        and own.series in {"own", other.series}
        and _squareness(own) == _squareness(other)
    )
    return alike and all((b - a) * way > 1e-6 for a, b in zip(_size(own.shape), _size(other.shape), strict=True))


def _squareness(section: Section) -> bool:
    width, height = section.shape.size
    return width == height


def _sizes(job: Job, tests: _Tests, groups: list[tuple[int, ...]], masses: Floats, way: int) -> list[Change | None]:
    """Each pair of tubes a size up or down."""
    sizes = {t.section: next_size(job, t, way) for t in {t.section: t for t in job.tubes}.values()}
    first = [job.tubes[g[0]] for g in groups]
    chosen = [None if t.cut_from or t.taper else sizes[t.section] for t in first]
    known = {s.name: s for s in (*job.shelf.sections, *(s for s in chosen if s))}
    to = {n: s.name for g, s in zip(groups, chosen, strict=True) if s for n in g}
    other = job.but(
        shelf=job.shelf.but(sections=tuple(known.values())),
        tubes=tuple(t.but(section=to[n]) if n in to else t for n, t in enumerate(job.tubes)),
    )
    frame = beam_frame(other)
    by, _ = tests.changed(_groups(tests.frame, groups, frame.global_stiffness - tests.frame.global_stiffness))
    made: list[Change | None] = []
    for k, (g, s) in enumerate(zip(groups, chosen, strict=True)):
        if s is None:
            made.append(None)
            continue
        ratio = float(frame.area[g[0]] / tests.frame.area[g[0]])
        length = float(tests.frame.lengths[list(g)].sum())
        old, new = _price(job, job.section(job.tubes[g[0]].section), length), _price(job, s, length)
        money = new - old if new is not None and old is not None else None
        made.append(
            _change(s.name, tuple(job.tubes[n].id for n in g), by[k], float(masses[list(g)].sum()) * (ratio - 1), money)
        )
    return made


@remembered(*CASE_PARTS)
def strength_without(job: Job) -> dict[tuple[str, ...], float]:
    """How much of what it stands the most used tube of the frame uses, over all cases, with each tube and its mirror image gone; infinite where the frame would fall apart."""
    told, tests = strength.answer(job), _Tests(job)
    free = [c for c in told.cases if not c.held]
    if not free:
        return {}
    u = tests.rig.free.displacements(np.stack([c.loads.reshape(-1) for c in free], axis=1))
    whatif = WhatIf(tests.rig.free.factor, u)
    figures = strength.Figures.of(job, tests.frame, spots(job))
    groups = pairs(job)
    changes = _groups(tests.frame, groups, -GONE * tests.frame.global_stiffness)
    _, falls = tests.changed(changes)
    made = {}
    for k, g in enumerate(groups):
        moved = None if falls[k] else whatif.displaced(changes, k)
        if moved is None:
            most = math.inf
        else:
            uses, _ = figures.uses(tests.frame, moved.reshape(len(tests.frame.nodes), 6, -1))
            uses[:, list(g)] = 0.0
            most = float(uses.max())
        made[tuple(job.tubes[n].id for n in g)] = most
    return made


def brace_section(job: Job) -> Tube:
    """A tube whose section and material a brace is tried in: the lightest diagonal, or the lightest tube where there is none."""
    diagonals = [t for t in job.tubes if t.role == "diagonal"] or list(job.tubes)
    return min(
        diagonals, key=lambda t: job.section(t.section).shape.properties(0.3).area * job.material(t.material).density
    )


@remembered(*CASE_PARTS)
def braces(job: Job) -> tuple[Brace, ...]:
    """Every new tube between two joints that could be there, with its mirror image, the stiffest a kg first: the clear ones, and ahead of them what is blocked but would be better."""
    tests = _Tests(job)
    like = brace_section(job)
    candidates = _candidates(job)
    if not candidates:
        return ()
    rows = np.array([[tests.index[a], tests.index[b]] for group in candidates for a, b in group])
    stiff, lengths = _strut_stiffness(job, tests.frame, rows, like)
    dofs = (rows[:, :, None] * 6 + np.arange(6)).reshape(-1, 12)
    groups, first = [], 0
    for group in candidates:
        groups.append(range(first, first + len(group)))
        first += len(group)
    changes = Changes.of([[(dofs[n], stiff[n]) for n in g] for g in groups])
    by, _ = tests.changed(changes)
    m = job.material(like.material)
    section = job.section(like.section)
    per_mm = section.shape.properties(m.poisson).area * m.density * 1e-9
    whole = np.array([lengths[list(g)].sum() for g in groups])
    order = np.argsort(-by[:, 0] / whole, kind="stable")
    others = [*placed_bodies(job), *tube_bodies(job), *ways_out(job)]
    made: list[Brace] = []
    for start in range(0, LOOKED_AT, TOGETHER):
        some = [int(k) for k in order[start : min(start + TOGETHER, LOOKED_AT)] if by[k, 0] > 0]
        for k, blocked in zip(some, _blocked(job, [candidates[k] for k in some], section, others), strict=True):
            kg = float(whole[k]) * per_mm
            change = _change("add", (), by[k], kg, _price(job, section, float(whole[k])))
            made.append(
                Brace(candidates[k], section.name, like.material, change, blocked, float(lengths[groups[k][0]]))
            )
        if sum(not b.blocked for b in made) >= CLEAR:
            break
    return tuple(made)


def _blocked(
    job: Job, groups: list[tuple[tuple[str, str], ...]], section: Section, others: list[Body]
) -> list[tuple[str, ...]]:
    """What is in the way of each pair of braces; what they are welded to is not."""
    tried, owner = [], []
    for n, group in enumerate(groups):
        for pair in group:
            a, b = (np.array(job.joint_by_id[j].place) for j in pair)
            ended = {t.id for j in pair for t in job.tubes_at.get(j, ())}
            tried.append(
                (
                    tube_body("brace", Route(np.array([a, b])), section.shape, 0.0, ""),
                    [o for o in others if o.id not in ended],
                )
            )
            owner.append(n)
    found: list[tuple[str, ...]] = [()] * len(groups)
    for n, names in zip(owner, each_in_way(tried), strict=True):
        found[n] = tuple(dict.fromkeys((*found[n], *names)))
    return found


def _candidates(job: Job) -> list[tuple[tuple[str, str], ...]]:
    """Pairs of joints that no tube joins and between which no other joint stands, each with its mirror image as `add_tube` lays it."""
    used = [j for j in job.joints if j.id in job.tubes_at]
    places = np.array([j.place for j in used]).reshape(-1, 3)
    made, seen = [], set()
    for i, k in combinations(range(len(used)), 2):
        a, b = used[i], used[k]
        ends = frozenset((a.id, b.id))
        if ends in seen or ends in job.tube_by_ends:
            continue
        group: tuple[tuple[str, str], ...] = ((a.id, b.id),)
        if a.twin and b.twin:
            other = frozenset((a.twin, b.twin))
            if other != ends and other not in job.tube_by_ends and not crosses(job, (a.id, b.id)):
                group = (*group, (a.twin, b.twin))
                seen.add(other)
        seen.add(ends)
        way = places[k] - places[i]
        length = float(np.linalg.norm(way))
        if length < SHORT_MM:
            continue
        share = (places - places[i]) @ way / length**2
        beside = np.linalg.norm(places - places[i] - share[:, None] * way, axis=1)
        if ((share > 0.02) & (share < 0.98) & (beside < PASSES_MM)).any():
            continue
        made.append(group)
    return made


def _strut_stiffness(job: Job, frame: Frame, rows: Ints, like: Tube) -> tuple[Floats, Floats]:
    """Stiffness (k, 12, 12) in global axes and length (k,) of tubes like another between pairs of joints (k, 2)."""
    m = job.material(like.material)
    p = job.section(like.section).shape.properties(m.poisson)
    figures = {
        "e": m.e,
        "g": m.g,
        "area": p.area,
        "i_y": p.i_y,
        "i_z": p.i_z,
        "j": p.j,
        "shear_area_y": p.shear_area_y,
        "shear_area_z": p.shear_area_z,
        "roll": p.tilt,
    }
    full: dict[str, Any] = {name: np.full(len(rows), value) for name, value in figures.items()}
    struts = Frame(
        nodes=frame.nodes, ends=rows, pinned=np.zeros((len(rows), 2), dtype=bool), fixity=job.proving.joint, **full
    )
    return struts.global_stiffness, struts.lengths
