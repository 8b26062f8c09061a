"""What every tube is worth, and each a size up or down, all exact from one factorisation."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from ironcage.core.answers.prove import strength
from ironcage.core.answers.prove.cases import CASE_PARTS
from ironcage.core.answers.prove.stiffness import TORQUE, bending_joints, rigged
from ironcage.core.answers.shared.beam_model import beam_frame, stress_points
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.frames import rigs
from ironcage.core.calc.frames.beams import Floats, Frame
from ironcage.core.calc.frames.whatif import Changes, WhatIf
from ironcage.core.calc.sections import AnySection
from ironcage.core.job.shelf.library import library
from ironcage.core.job.values.model import Job, Section, Tube
from ironcage.problem import Problem

MOST_TUBES = 1500
GONE = 1 - 1e-9  # of a tube is taken away, so that a joint it alone held stays told
COLLAPSED = 1e-3  # less stiffness than this share left: the tube holds the frame up


@dataclass(frozen=True)
class Change:
    """A change of a tube and its mirror image. torsion, bending: by how much both stiffnesses change, N·mm/rad and
    N/mm (bending None without a bending test); kg; money: at the shelf's prices, None where one is not known; falls:
    the frame would have nothing left to hold it."""

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

    @property
    def per_money(self) -> float | None:
        """Twist stiffness changed for each of the builder's money, N·mm/rad; None where the price is not known."""
        return self.torsion / self.money if self.money else None


@dataclass(frozen=True)
class Worth:
    """A tube and its mirror image: what the frame would lose without them, and a size up and down, None where none
    is known."""

    tubes: tuple[str, ...]
    gone: Change
    up: Change | None
    down: Change | None


class Tests:
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
        """Twist stiffness, N·mm/rad, and bending stiffness, N/mm, of compliances (g, tests), mm/N, as Prove defines
        them."""
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
def tube_worth(job: Job) -> tuple[Worth, ...]:
    """Every tube's worth, the least worth first by stiffness a kg. Raises Problem where the frame can't be twisted."""
    tests, groups = Tests(job), pairs(job)
    own = tests.frame.global_stiffness
    lost, falls = tests.changed(_groups(tests.frame, groups, -GONE * own))
    masses = weigh(job).tube_masses
    sized = [_sizes(job, tests, groups, masses, way) for way in (1, -1)]
    made = []
    for k, g in enumerate(groups):
        tubes = tuple(job.tubes[n].id for n in g)
        kg = float(masses[list(g)].sum())
        gone = change_by(
            "without",
            tubes,
            lost[k],
            -kg,
            price(job.section(job.tubes[g[0]].section), -sum(tests.frame.lengths[list(g)])),
            falls=bool(falls[k]),
        )
        made.append(Worth(tubes, gone, sized[0][k], sized[1][k]))
    return tuple(sorted(made, key=lambda w: (w.gone.falls, w.gone.torsion / w.gone.kg)))


def change_by(
    what: str, tubes: tuple[str, ...], by: Floats, kg: float, money: float | None, *, falls: bool = False
) -> Change:
    """A change whose effect on the tests (tests,) is known."""
    return Change(what, tubes, float(by[0]), float(by[1]) if len(by) > 1 else None, kg, money, falls)


def price(section: Section, mm: float) -> float | None:
    """What a length of a section costs, None where its price is not known."""
    return section.price * mm / 1000 if section.price else None


def stock(job: Job) -> tuple[Section, ...]:
    """The sections that can be chosen from: the shelf's, then the library's."""
    known = {s.name: s for s in (*library().sections, *job.shelf.sections)}
    return tuple(known.values())


def next_size(job: Job, tube: Tube, way: int) -> Section | None:
    """The section a size up (1) or down (−1) from a tube's: the nearest by weight of the same kind and standard that
    bends and twists more stiffly, or less."""
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
    """Whether another section of the same kind and standard is larger (1), or smaller (−1), in weight, bending and
    twist alike."""
    alike = (
        own.shape.kind == other.shape.kind
        and own.series in {"own", other.series}
        and _squareness(own) == _squareness(other)
    )
    return alike and all((b - a) * way > 1e-6 for a, b in zip(_size(own.shape), _size(other.shape), strict=True))


def _squareness(section: Section) -> bool:
    width, height = section.shape.size
    return width == height


def _sizes(job: Job, tests: Tests, groups: list[tuple[int, ...]], masses: Floats, way: int) -> list[Change | None]:
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
        old, new = price(job.section(job.tubes[g[0]].section), length), price(s, length)
        money = new - old if new is not None and old is not None else None
        made.append(
            change_by(
                s.name, tuple(job.tubes[n].id for n in g), by[k], float(masses[list(g)].sum()) * (ratio - 1), money
            )
        )
    return made


@remembered(*CASE_PARTS)
def strength_without(job: Job) -> dict[tuple[str, ...], float]:
    """How much of what it stands the most used tube of the frame uses, over all cases, with each tube and its mirror
    image gone; infinite where the frame would fall apart."""
    told, tests = strength.tube_strength(job), Tests(job)
    free = [c for c in told.cases if not c.held]
    if not free:
        return {}
    u = tests.rig.free.displacements(np.stack([c.loads.reshape(-1) for c in free], axis=1))
    whatif = WhatIf(tests.rig.free.factor, u)
    figures = strength.StrengthFigures.of(
        job, tests.frame, stress_points(job), np.zeros((len(tests.frame.nodes), 1), dtype=bool)
    )
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
