"""Every brace that could be added, exact from one factorisation, the one that gives most for its mass or for its money,
in twist or against a load case, first."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import combinations, pairwise
from typing import Any

import numpy as np

from ironcage.core.answers.frame import each_in_way
from ironcage.core.answers.place import ways_out
from ironcage.core.answers.prove.cases import CASE_PARTS, load_cases
from ironcage.core.answers.prove.worth import Change, Tests, change_by, price
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.frames.beams import Floats, Frame, Ints
from ironcage.core.calc.frames.whatif import Changes, WhatIf
from ironcage.core.calc.tubes.centreline import Route
from ironcage.core.job.edits.tubes import crosses
from ironcage.core.job.geometry.bodies import Body, placed_bodies, tube_bodies, tube_body
from ironcage.core.job.values.model import Job, Section, Tube
from ironcage.problem import Problem, nearest

CLEAR, LOOKED_AT, TOGETHER = (
    12,
    96,
    24,
)  # clear braces that are enough, candidates looked at for what is in their way, at a time
PASSES_MM = 20.0  # a brace this near to a joint between its own would run through it
SHORT_MM = 100.0
Group = tuple[tuple[str, str], ...]  # the joints of a brace and, where one would be laid, of its mirror image


@dataclass(frozen=True)
class Brace:
    """A tube that could be added between two joints; pairs: it and, where one would be laid, its mirror image;
    section: of it; blocked: what is in its way; eases: by what share the frame gives less under the load case that
    was asked for (the work of its loads), None where none was."""

    pairs: tuple[tuple[str, str], ...]
    section: str
    material: str
    change: Change
    blocked: tuple[str, ...]
    length: float
    eases: float | None = None

    @property
    def joints(self) -> tuple[str, str]:
        """The joints that are named to add it."""
        return self.pairs[0]

    @property
    def line(self) -> str:
        """The line that adds it."""
        return f"tube {self.joints[0]} {self.joints[1]} {self.section}"


def brace_section(job: Job) -> Tube:
    """A tube whose section and material a brace is tried in: the lightest diagonal, or the lightest tube where there
    is none."""
    diagonals = [t for t in job.tubes if t.role == "diagonal"] or list(job.tubes)
    return min(
        diagonals, key=lambda t: job.section(t.section).shape.properties(0.3).area * job.material(t.material).density
    )


@remembered(*CASE_PARTS)
def rank_braces(job: Job) -> tuple[Brace, ...]:
    """Every new tube between two joints that could be there, with its mirror image, in `brace_section`, the stiffest
    a kg first: the clear ones, and ahead of them what is blocked but would be better. Raises Problem where the frame
    can't be twisted."""
    tests = Tests(job)
    return _ranked(job, tests, (brace_section(job),), lambda t: t.by[:, 0] / t.kg)


@remembered(*CASE_PARTS)
def for_money(job: Job) -> tuple[Brace, ...]:
    """The same, each in that section of the frame that gives most for its money, the stiffest for its money first.
    Raises Problem where no section of the frame has a price."""
    tests = Tests(job)
    alike = {(t.section, t.material): t for t in job.tubes if not t.taper and job.section(t.section).price}
    if not alike:
        raise Problem(
            "No section of the frame has a price, so that braces can't be ranked by money.",
            where="price",
            hint=f"Type for example: price {min(t.section for t in job.tubes)} 6.40",
        )
    return _ranked(job, tests, tuple(alike.values()), lambda t: t.by[:, 0] / t.money)


def against_case(job: Job, name: str) -> tuple[Brace, ...]:
    """The same, those first by which the frame gives least under a load case for a kg of theirs: by how much the work
    of the case's loads falls, exact; the brace's own weight is not in the loads. Raises Problem for a case that there
    is not, that can't be worked out, or that holds joints."""
    case = next((c for c in load_cases(job) if c.name.lower() == name.lower()), None)
    if case is None:
        known = [c.name for c in load_cases(job)]
        raise Problem(f"There is no load case ‘{name}’.", where=name, hint=nearest(name, known) or "")
    if case.problem or case.held:
        why = case.problem or f"{case.name} holds the frame at {', '.join(case.held)}."
        raise Problem(f"Braces can't be ranked by {case.name}: {why}", where=case.name, hint="Choose another case.")
    tests, loads = Tests(job), case.loads.reshape(-1)
    u = tests.rig.free.displacements(loads[:, None])
    pushed = _Pushed(WhatIf(tests.rig.free.factor, u), float(loads @ u[:, 0]))
    return _ranked(job, tests, (brace_section(job),), lambda t: t.eases / t.kg, pushed)


def cases_to_rank_by(job: Job) -> tuple[str, ...]:
    """The load cases that braces can be ranked by."""
    return tuple(c.name for c in load_cases(job) if not c.problem and not c.held and c.pushes)


@dataclass(frozen=True, eq=False)
class _Pushed:
    """The frame under a load case: its displacements, ready for changes, and the work of its loads, N·mm."""

    whatif: WhatIf
    work: float


@dataclass(frozen=True, eq=False)
class _Tried:
    """All candidates in one section. by (g, tests): what they change; kg, money (g,): of each with its mirror image;
    money infinite where no price is known; eases (g,): by what share the work of a case falls, zeros without one."""

    like: Tube
    section: Section
    by: Floats
    kg: Floats
    money: Floats
    eases: Floats


def _ranked(
    job: Job,
    tests: Tests,
    likes: tuple[Tube, ...],
    gives: Callable[[_Tried], Floats],
    pushed: _Pushed | None = None,
) -> tuple[Brace, ...]:
    """The braces that give most, each in the best of the sections of some tubes, until enough of them are clear."""
    candidates = _candidates(job)
    if not candidates:
        return ()
    rows = np.array([[tests.index[a], tests.index[b]] for group in candidates for a, b in group])
    firsts = np.cumsum([0, *map(len, candidates)])
    tried = [_try(job, tests, rows, firsts, like, pushed) for like in likes]
    given = np.stack([gives(t) for t in tried])
    best, most = given.argmax(axis=0), given.max(axis=0)
    order = [int(k) for k in np.argsort(-most, kind="stable") if most[k] > 0]
    others = [*placed_bodies(job), *tube_bodies(job), *ways_out(job)]
    made: list[Brace] = []
    for start in range(0, LOOKED_AT, TOGETHER):
        some = order[start : min(start + TOGETHER, LOOKED_AT)]
        looked = [(candidates[k], tried[best[k]].section) for k in some]
        for k, blocked in zip(some, _blocked(job, looked, others), strict=True):
            t = tried[best[k]]
            (one, other), along = rows[firsts[k]], tests.frame.nodes
            money = float(t.money[k]) if np.isfinite(t.money[k]) else None
            change = change_by("add", (), t.by[k], float(t.kg[k]), money)
            length = float(np.linalg.norm(along[other] - along[one]))
            eases = float(t.eases[k]) if pushed else None
            made.append(Brace(candidates[k], t.section.name, t.like.material, change, blocked, length, eases))
        if sum(not b.blocked for b in made) >= CLEAR:
            break
    return tuple(made)


def _try(job: Job, tests: Tests, rows: Ints, firsts: Ints, like: Tube, pushed: _Pushed | None) -> _Tried:
    """Every candidate in the section of a tube; rows (k, 2): joints of each tube, of which those from firsts[g] on
    are candidate g's."""
    stiff, lengths = _strut_stiffness(job, tests.frame, rows, like)
    dofs = (rows[:, :, None] * 6 + np.arange(6)).reshape(-1, 12)
    changes = Changes.of([[(dofs[n], stiff[n]) for n in range(a, b)] for a, b in pairwise(firsts.tolist())])
    by, _ = tests.changed(changes)
    m, section = job.material(like.material), job.section(like.section)
    whole = np.add.reduceat(lengths, firsts[:-1])
    costs = price(section, 1.0)
    kg = whole * section.shape.properties(m.poisson).area * m.density * 1e-9
    eases = -pushed.whatif.softer(changes)[:, 0] / pushed.work if pushed and pushed.work > 0 else np.zeros(len(whole))
    return _Tried(like, section, by, kg, whole * costs if costs else np.full(len(whole), np.inf), eases)


def _blocked(job: Job, looked: Sequence[tuple[Group, Section]], others: list[Body]) -> list[tuple[str, ...]]:
    """What is in the way of each pair of braces; what they are welded to is not."""
    tried, owner = [], []
    for n, (group, section) in enumerate(looked):
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
    found: list[tuple[str, ...]] = [()] * len(looked)
    for n, names in zip(owner, each_in_way(tried), strict=True):
        found[n] = tuple(dict.fromkeys((*found[n], *names)))
    return found


def _candidates(job: Job) -> list[Group]:
    """Pairs of joints that no tube joins and between which no other joint stands, each with its mirror image as
    `add_tube` lays it."""
    used = [j for j in job.joints if j.id in job.tubes_at]
    places = np.array([j.place for j in used]).reshape(-1, 3)
    made, seen = [], set()
    for i, k in combinations(range(len(used)), 2):
        a, b = used[i], used[k]
        ends = frozenset((a.id, b.id))
        if ends in seen or ends in job.tube_by_ends:
            continue
        group: Group = ((a.id, b.id),)
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
