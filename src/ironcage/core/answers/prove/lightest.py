"""The lightest tubes from the shelf that keep a twist stiffness, every margin and the rules' least sizes: a search with
a bound.

Compliance is c(x) = max over u of 2·f·u − uᵀ·K(x)·u, so the twist u of any trial frame gives a condition that is linear
in which section each tube has and that every frame stiff enough must meet. With sections allowed in shares, a linear
programme (HiGHS) over such conditions, a new one from each answer, tells a weight that nothing lighter can reach. From
the larger share of each tube the search then goes to real sections, up until all is stiff and strong enough and down as
far as it stays so. The bound knows the stiffness and the least sizes, not the strength, so the gap is at most what is
told.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from ironcage.core.answers.prove import strength
from ironcage.core.answers.prove.stiffness import TORQUE, Rigged, rigged
from ironcage.core.answers.prove.worth import MOST_TUBES, pairs
from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.frames import rigs
from ironcage.core.calc.frames.beams import Floats, Frame
from ironcage.core.calc.frames.whatif import Changes, WhatIf
from ironcage.core.job.values.model import Job, Section
from ironcage.core.job.values.rules import TubeSize
from ironcage.problem import Problem
from ironcage.units import said

ROUNDS, BOUND_ROUNDS, TRIED = 400, 25, 6
NEAR = 1e-4  # a stiffness short of the target by less meets it
Progress = Callable[[float, str], None]


@dataclass(frozen=True)
class Swap:
    """A pair of tubes and the section they would have; kg: by how much they change."""

    tubes: tuple[str, ...]
    old: str
    new: str
    kg: float


@dataclass(frozen=True)
class Lightest:
    """The best found. swaps: what changes; kg: of the tubes then, before: now; bound: nothing that is stiff enough
    weighs less, kg; torsion: then, N·mm/rad; target; used: how much of what it stands the most used tube uses, None
    where no case could be told; finished: whether it came to its end; untouched: tubes it left alone, and why."""

    swaps: tuple[Swap, ...]
    kg: float
    before: float
    bound: float
    torsion: float
    target: float
    used: float | None
    finished: bool
    untouched: tuple[str, ...]

    @property
    def gap(self) -> float:
        """How far the best found may be from the lightest possible, as a share of its weight."""
        return max(1 - self.bound / self.kg, 0.0) if self.kg else 0.0


class _Choices:
    """The sections that each pair of tubes may have, what they weigh, and what each does to a twist."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self.groups = pairs(job)
        known = job.shelf.sections
        self.mass = weigh(job).car.mass
        self.options: list[list[int]] = []
        kept = []
        for g in self.groups:
            t = job.tubes[g[0]]
            own = next(n for n, s in enumerate(known) if s.name == t.section)
            if t.taper or t.cut_from or t.donor:
                self.options.append([own])
                kept += [job.tubes[n].id for n in g]
                continue
            fit = [n for n, s in enumerate(known) if s.shape.kind == known[own].shape.kind and self._allowed(s, t.role)]
            self.options.append(fit or [own])
        self.untouched = tuple(kept)
        self.frames = {n: self._all_of(s) for n, s in enumerate(known) if any(n in o for o in self.options)}
        self.kg = [[float(self._kg(n, g)) for n in o] for g, o in zip(self.groups, self.options, strict=True)]

    def _allowed(self, section: Section, role: str) -> bool:
        """Whether the builder's own rules let a role have a section."""
        for rule in self.job.rules.rules:
            if (
                isinstance(rule, TubeSize)
                and rule.role == role
                and rule.over < self.mass <= rule.up_to
                and (min(section.shape.size) < rule.od or section.shape.wall_mm < rule.wall)
            ):
                return False
        return True

    def _all_of(self, section: Section) -> Frame:
        """The frame as if every tube had a section."""
        return beam_frame(
            self.job.but(
                tubes=tuple(t if t.taper or t.cut_from else t.but(section=section.name) for t in self.job.tubes)
            )
        )

    def _kg(self, option: int, group: tuple[int, ...]) -> float:
        m = weigh(self.job)
        own = self.frames[option]
        return float(
            sum(
                m.lengths[n] * own.area[n] * self.job.material(self.job.tubes[n].material).density * 1e-9 for n in group
            )
        )

    def with_choice(self, choice: list[int]) -> Job:
        """The job with each pair's chosen section."""
        names = {
            n: self.job.shelf.sections[self.options[k][c]].name for k, c in enumerate(choice) for n in self.groups[k]
        }
        return self.job.but(
            tubes=tuple(t.but(section=names[n]) if t.section != names[n] else t for n, t in enumerate(self.job.tubes))
        )

    def mixed(self, shares: list[Floats]) -> Frame:
        """The frame with shares of sections in each tube."""
        base = beam_frame(self.job)
        condensed = {}
        for g, o, s in zip(self.groups, self.options, shares, strict=True):
            for n in g:
                condensed[n] = sum(w * self.frames[k].local_stiffness[n] for w, k in zip(s, o, strict=True) if w > 0)
        return replace(base, condensed=condensed, fixity=1.0)

    def energies(self, u: Floats) -> tuple[list[Floats], float]:
        """uᵀ·K·u of each pair at each of its sections under a twist (6n,), and of all that is no tube, N·mm."""
        moved = u.reshape(-1, 6)
        by = {n: 2 * f.strain_energy(moved) for n, f in self.frames.items()}
        rest = 0.0
        base = beam_frame(self.job)
        if base.stressed:
            stiffness, dofs = base.elements
            d = u[dofs[len(base.ends) :]]
            rest = float(np.einsum("mi,mij,mj->", d, stiffness[len(base.ends) :], d))
        return [
            np.array([by[n][list(g)].sum() for n in o]) for g, o in zip(self.groups, self.options, strict=True)
        ], rest


@dataclass
class _Cut:
    """A condition: the energies of the chosen sections add up to at least `least`."""

    energies: list[Floats]
    least: float


def search(
    job: Job, target: float, progress: Progress = lambda share, words: None, stopped: Callable[[], bool] = lambda: False
) -> Lightest:
    """Search for the lightest sections on the shelf with a twist stiffness of at least `target` (N·mm/rad). Raises
    Problem where none reach it, saying the best that can be."""
    if len(job.tubes) > MOST_TUBES:
        raise Problem(
            f"{len(job.tubes)} tubes are more than this is worked out for.",
            where="lightest",
            hint=f"It goes up to {MOST_TUBES:,} tubes.",
        )
    progress(0.0, "reading the shelf")
    held, choices = rigged(job), _Choices(job)
    if all(len(o) == 1 for o in choices.options):
        raise Problem(
            "The shelf has only one section for every tube, so there is nothing to choose.",
            where="shelf",
            hint="Put more sections on the shelf.",
        )
    most = _compliance(target, held.rig)
    best_reachable = _stiffest(job, choices)
    if best_reachable < target * (1 - NEAR):
        raise Problem(
            f"Nothing on the shelf makes this frame {said.torsional_stiffness(target)} stiff in twist.",
            where="target",
            hint=f"The best that can be reached is {said.torsional_stiffness(best_reachable)}; add a brace or put "
            f"stronger sections on the shelf.",
        )
    cuts: list[_Cut] = [_cut(choices, beam_frame(job), held, most)[0]]
    shares = _solve(choices, cuts)
    bound = _weight(choices, shares)
    for n in range(BOUND_ROUNDS):
        progress(0.05 + 0.25 * n / BOUND_ROUNDS, f"nothing lighter than {said.fine_mass(bound)}")
        cut, compliance = _cut(choices, choices.mixed(shares), held, most)
        if compliance <= most * (1 + NEAR) or stopped():
            break
        cuts.append(cut)
        shares = _solve(choices, cuts)
        bound = max(bound, _weight(choices, shares))
    climb = _Climb(choices, most, [int(x.argmax()) for x in shares])
    finished = climb.run(
        lambda share: progress(
            0.3 + 0.7 * share, f"at {said.fine_mass(climb.kg)}, nothing lighter than {said.fine_mass(bound)}"
        ),
        stopped,
    )
    if not climb.stiff or climb.weak:
        why = (
            "The search was stopped before it found anything."
            if stopped()
            else "No choice of sections kept every margin."
        )
        raise Problem(
            why,
            where="lightest",
            hint="" if stopped() else "Lower the levels, add tubes, or put stronger sections on the shelf.",
        )
    progress(1.0, "done")
    torsion = _stiffness(climb.compliance, held.rig)
    return Lightest(
        _swaps(choices, climb.chosen),
        climb.kg,
        float(weigh(job).tube_masses.sum()),
        bound,
        torsion,
        target,
        climb.used,
        finished,
        choices.untouched,
    )


class _Climb:
    """From a choice of sections to one that is stiff and strong enough, then down again as far as it stays so: one
    pair of tubes at a time, each step the best by weight, its stiffness exact by a low-rank change."""

    def __init__(self, choices: _Choices, most: float, chosen: list[int]) -> None:
        self.choices, self.most = choices, most
        self.chosen = chosen
        self.refused: set[tuple[int, int]] = set()
        self._look()

    def _look(self) -> None:
        """Work out the frame as it is chosen now."""
        self.job = self.choices.with_choice(self.chosen)
        rig = rigged(self.job).rig
        balanced, u = rig.balanced(rigs.twist_loads(rig, 1.0)[:, None])
        self.compliance = float(balanced[:, 0] @ u[:, 0])
        self.whatif, self.frame = WhatIf(rig.free.factor, u), rig.frame
        self.used, self.weak = _too_weak(self.job, self.choices)
        self.kg = sum(k[c] for k, c in zip(self.choices.kg, self.chosen, strict=True))

    @property
    def stiff(self) -> bool:
        """Whether it is stiff enough."""
        return self.compliance <= self.most * (1 + NEAR)

    def run(self, progress: Callable[[float], None], stopped: Callable[[], bool]) -> bool:
        """Go until nothing lighter is found, or it is stopped; whether it came to its end."""
        for n in range(ROUNDS):
            if stopped():
                return False
            progress(n / ROUNDS)
            if self.weak:
                if not self._strengthen():
                    return True
            elif not self.stiff:
                if not self._stiffen():
                    return True
            elif not self._lighten():
                return True
        return False

    def _steps(self, way: int) -> list[tuple[int, int, float]]:
        """Every other section of every pair that weighs more (1) or less (−1): pair, option, kg."""
        made = []
        for k, kg in enumerate(self.choices.kg):
            now = kg[self.chosen[k]]
            made += [(k, c, v - now) for c, v in enumerate(kg) if (v - now) * way > 1e-9 and (k, c) not in self.refused]
        return made

    def _softer(self, steps: list[tuple[int, int, float]]) -> Floats:
        """By how much the compliance grows with each step."""
        choices = self.choices
        own = self.frame.global_stiffness
        changes = Changes.of(
            [
                [
                    (self.frame.dofs[n], choices.frames[choices.options[k][c]].global_stiffness[n] - own[n])
                    for n in choices.groups[k]
                ]
                for k, c, _ in steps
            ]
        )
        return self.whatif.softer(changes)[:, 0]

    def _stiffen(self) -> bool:
        """The step that gives the most stiffness a kg."""
        steps = self._steps(1)
        if not steps:
            return False
        gain = -self._softer(steps) / np.array([kg for _, _, kg in steps])
        k, c, _ = steps[int(gain.argmax())]
        self.chosen[k] = c
        self._look()
        return True

    def _strengthen(self) -> bool:
        """Each pair that is used too much goes to its next stronger section, and is not let back."""
        moved = False
        for k in self.weak:
            row, now = self.choices.groups[k][0], self.chosen[k]
            strong = [
                min(self.choices.frames[n].i_y[row], self.choices.frames[n].i_z[row]) for n in self.choices.options[k]
            ]
            stronger = [c for c in range(len(strong)) if strong[c] > strong[now]]
            self.refused |= {(k, c) for c in range(len(strong)) if strong[c] <= strong[now]}
            if stronger:
                self.chosen[k] = min(stronger, key=lambda c: strong[c])
                moved = True
        self._look()
        return moved

    def _lighten(self) -> bool:
        """The step that saves most and keeps everything; False when there is none."""
        steps = self._steps(-1)
        if not steps:
            return False
        softer = self._softer(steps)
        room = self.most * (1 + NEAR) - self.compliance
        saved = np.array([-kg for _, _, kg in steps]) / np.maximum(
            softer / self.most, 1e-9
        )  # a step that makes it no softer comes first
        fits = [int(n) for n in np.argsort(-saved, kind="stable") if softer[n] <= room]
        for n in fits[:TRIED]:
            k, c, _ = steps[n]
            before = self.chosen[k]
            self.chosen[k] = c
            self._look()
            if self.stiff and not self.weak:
                return True
            self.refused.add((k, c))
            self.chosen[k] = before
        self._look()
        return bool(fits[TRIED:])


def _compliance(torsion: float, rig: rigs.Rig) -> float:
    """The compliance of the unit twist test (mm/N) that a stiffness means."""
    track = float(rig.place("front left")[1] - rig.place("front right")[1])
    return float(np.tan(TORQUE / torsion) * track * track / TORQUE)


def _stiffness(compliance: float, rig: rigs.Rig) -> float:
    track = float(rig.place("front left")[1] - rig.place("front right")[1])
    return float(TORQUE / np.arctan(TORQUE * compliance / track / track))


def _cut(choices: _Choices, frame: Frame, held: Rigged, most: float) -> tuple[_Cut, float]:
    """The condition that a frame's own twist makes, and its compliance, mm/N."""
    rig = rigs.Rig(frame, held.rig.corners)
    balanced, u = rig.balanced(rigs.twist_loads(rig, 1.0)[:, None])
    compliance = float(balanced[:, 0] @ u[:, 0])
    energies, rest = choices.energies(u[:, 0])
    # with u scaled by a, 2·a·c − a²·E ≤ most; a = most/c makes the condition touch where the stiffness is just right
    a = most / compliance
    return _Cut([a * a * e for e in energies], 2 * a * compliance - most - a * a * rest), compliance


def _stiffest(job: Job, choices: _Choices) -> float:
    """The twist stiffness with every tube at its largest, N·mm/rad."""
    largest = [
        int(np.argmax([min(choices.frames[n].i_y[g[0]], choices.frames[n].i_z[g[0]]) for n in o]))
        for g, o in zip(choices.groups, choices.options, strict=True)
    ]
    rig = rigged(choices.with_choice(largest)).rig
    balanced, u = rig.balanced(rigs.twist_loads(rig, 1.0)[:, None])
    return _stiffness(float(balanced[:, 0] @ u[:, 0]), rig)


def _solve(choices: _Choices, cuts: list[_Cut]) -> list[Floats]:
    """The lightest shares of each pair's sections that meet every condition."""
    from scipy.optimize import linprog
    from scipy.sparse import coo_array

    sizes = [len(o) for o in choices.options]
    total = sum(sizes)
    ends = np.cumsum(sizes)
    owner = np.repeat(np.arange(len(sizes)), sizes)
    one = coo_array((np.ones(total), (owner, np.arange(total))), shape=(len(sizes), total))
    rows = np.array([np.concatenate(c.energies) for c in cuts])
    least = np.array([c.least for c in cuts])
    scale = 1 / np.maximum(np.abs(rows).max(axis=1), 1e-30)
    done = linprog(
        np.concatenate(choices.kg),
        A_ub=-rows * scale[:, None],
        b_ub=-least * scale,
        A_eq=one,
        b_eq=np.ones(len(sizes)),
        bounds=(0, 1),
        method="highs",
    )
    if done.x is None:
        raise Problem(
            "No choice of sections keeps the stiffness.",
            where="lightest",
            hint="Lower the target, or put stronger sections on the shelf.",
        )
    return np.split(done.x, ends[:-1])


def _weight(choices: _Choices, shares: list[Floats]) -> float:
    return float(sum(np.dot(s, k) for s, k in zip(shares, choices.kg, strict=True)))


def _too_weak(job: Job, choices: _Choices) -> tuple[float | None, list[int]]:
    """How much the most used tube uses, and the pairs that use more than all they carry."""
    try:
        told = strength.tube_strength(job)
    except Problem:
        return None, []
    if not told.tubes:
        return None, []
    uses = np.array([t.use for t in told.tubes])
    return float(uses.max()), [
        k for k, g in enumerate(choices.groups) if uses[list(g)].max() > 1 and len(choices.options[k]) > 1
    ]


def _swaps(choices: _Choices, chosen: list[int]) -> tuple[Swap, ...]:
    job, masses = choices.job, weigh(choices.job).tube_masses
    made = []
    for k, (g, c) in enumerate(zip(choices.groups, chosen, strict=True)):
        old, new = job.tubes[g[0]].section, job.shelf.sections[choices.options[k][c]].name
        if old != new:
            before = float(masses[list(g)].sum())
            made.append(Swap(tuple(job.tubes[n].id for n in g), old, new, choices.kg[k][c] - before))
    return tuple(sorted(made, key=lambda s: s.kg))
