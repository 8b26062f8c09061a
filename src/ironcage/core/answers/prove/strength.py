"""Strength: every tube in every load case, where it is worst, by what, and how much is left; and how far things move
that matter."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ironcage.core.answers.prove import cases
from ironcage.core.answers.prove.car import Loaded
from ironcage.core.answers.prove.stiffness import loose, rigged
from ironcage.core.answers.shared import fittings
from ironcage.core.answers.shared.beam_model import stress_points
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.frame_arrays import lines
from ironcage.core.calc.frames.beams import Floats, Frame, Ints
from ironcage.core.calc.frames.factor import Factor
from ironcage.core.calc.frames.rigs import rigid_motions
from ironcage.core.calc.frames.strength import (
    StressPoints,
    column_stress,
    column_use,
    end_forces,
    resultants,
    stresses,
)
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Chain
from ironcage.problem import Problem

Cause = Literal["pulled", "pushed", "bending", "torsion", "shear", "column"]
Check = Literal["yield", "at the weld", "column"]
MEMBER_CHECKS: tuple[Check, ...] = ("yield", "at the weld", "column")
ASSUMED = (
    "Von Mises' stress against the yield strength anywhere and against the as-welded strength at both ends; loads at "
    "joints only, tubes between them unloaded.",
    "Columns are pinned at both joints, and twice as long where one end hangs free: Euler where slender, Johnson "
    "where stocky, bending grown by the push. "
    "That is cautious for a tube that others hold at both ends; several tubes that stand free in a row, or sway "
    "together, are told by the buckling of the whole. Sleeves and gussets don't lower the stress told here.",
    "Linear, small movements; no fatigue, no crash, no local dents or crippling, no stress raisers at copes and "
    "holes. Margins are of an estimate, not of a licence to drive.",
)


@dataclass(frozen=True)
class TubeStrength:
    """A tube's worst. use: how much of what it stands is used, over 1 too much; check: against what; cause: what
    does it most; case; at: the joint, or the tube between its joints; stress: von Mises there, MPa (mean stress for
    a column); margins: what is left on each of MEMBER_CHECKS over all cases, 1/use − 1."""

    tube: str
    use: float
    check: Check
    cause: Cause
    case: str
    at: str
    stress: float
    margins: tuple[float, float, float]

    @property
    def margin(self) -> float:
        """What is left: 1/use − 1."""
        return 1 / self.use - 1 if self.use > 0 else np.inf


@dataclass(frozen=True, eq=False)
class StrengthAnswer:
    """cases: those worked out; refused: the others with why not; uses (3, m, c): of MEMBER_CHECKS, tubes and cases;
    tubes: in job order; u (n, 6, c): displacements, rigid motion taken out at the pickups; axial (m, c): the mean
    force in each tube, N, tension positive; reactions (n, 6, c): of joints that hold."""

    cases: tuple[Loaded, ...]
    refused: tuple[Loaded, ...]
    uses: Floats
    tubes: tuple[TubeStrength, ...]
    u: Floats
    axial: Floats
    reactions: Floats

    @property
    def worst(self) -> TubeStrength | None:
        """The tube that is used most."""
        return max(self.tubes, key=lambda t: t.use, default=None)

    def worst_in(self, case: int) -> tuple[int, float]:
        """The row of the tube that is used most in a case, and how much."""
        use = self.uses[:, :, case].max(axis=0)
        return int(use.argmax()), float(use.max())


@remembered(*cases.CASE_PARTS)
def tube_strength(job: Job) -> StrengthAnswer:
    """Every tube in every case that can be told. Raises Problem where the frame itself can't be worked out."""
    held = loose(job)
    frame = held.whole.frame
    told, refused, columns, reactions = [], [], [], []
    asked = cases.load_cases(job)
    free = [c for c in asked if not c.problem and not c.held]
    u = (
        held.whole.displacements(np.stack([c.loads.reshape(-1) for c in free], axis=1))
        if free
        else np.zeros((frame.nodes.size * 2, 0))
    )
    for n, c in enumerate(free):
        told.append(c)
        columns.append(u[:, n])
        reactions.append(np.zeros(len(u)))
    for c in asked:
        if c.problem:
            refused.append(c)
        elif c.held:
            try:
                moved, force = _held(frame, c, held.index)
            except Problem as problem:
                refused.append(
                    Loaded(c.name, c.loads, c.held, c.pushes, c.inertia, c.answers, c.residual, problem.sentence)
                )
                continue
            told.append(c)
            columns.append(moved)
            reactions.append(force)
    if not told:
        rigged(job)  # says what is missing, where the frame is without wheels or pickups
        nothing = np.zeros((len(frame.nodes), 6, 0))
        return StrengthAnswer(
            (), tuple(refused), np.zeros((3, len(job.tubes), 0)), (), nothing, np.zeros((len(job.tubes), 0)), nothing
        )
    shape = (len(frame.nodes), 6, len(told))
    u, force = np.stack(columns, axis=1).reshape(shape), np.stack(reactions, axis=1).reshape(shape)
    return _judged(job, frame, stress_points(job), told, refused, u, force)


def _held(frame: Frame, case: Loaded, index: dict[str, int]) -> tuple[Floats, Floats]:
    """Displacements (6n,) of a case that joints hold, and what they hold with (6n,)."""
    rows = [index[j] for j in case.held]
    held = np.zeros((len(frame.nodes), 6), dtype=bool)
    held[rows, :3] = True
    grip = rigid_motions(frame.nodes[rows]).reshape(len(rows), 6, 6)[:, :3].reshape(-1, 6)
    size = np.array([1, 1, 1, *[max(float(np.ptp(frame.nodes, axis=0).max()), 1.0)] * 3])
    if np.linalg.matrix_rank(grip / size, tol=1e-6) < 6:
        raise Problem(
            f"{case.name}: held at {' '.join(case.held)} the frame can still turn.",
            where=case.name,
            hint="Hold it at three joints that are not in one line.",
        )
    held[np.setdiff1d(np.arange(len(held)), frame.ends.ravel())] = True
    factor = Factor(frame, held)
    loads = case.loads.reshape(-1, 1)
    u = factor.solve(loads)
    left, _ = factor.left_over(u, loads)
    left[factor.free] = 0.0
    return u[:, 0], left[:, 0]


def _judged(
    job: Job,
    frame: Frame,
    at: StressPoints,
    told: list[Loaded],
    refused: list[Loaded],
    u: Floats,
    reactions: Floats,
) -> StrengthAnswer:
    index = {j.id: n for n, j in enumerate(job.joints)}
    held = np.zeros((len(frame.nodes), len(told)), dtype=bool)
    for n, case in enumerate(told):
        held[[index[j] for j in case.held], n] = True
    figures = StrengthFigures.of(job, frame, at, held)
    uses, parts = figures.uses(frame, u)
    tubes = tuple(_worst(job, figures, uses, parts, told, n) for n in range(len(job.tubes)))
    axial = np.add.reduceat(parts["force"], figures.starts, axis=0) / figures.counts[:, None]
    return StrengthAnswer(tuple(told), tuple(refused), uses, tubes, _at_pickups(job, frame, u), axial, reactions)


@dataclass(frozen=True, eq=False)
class StrengthFigures:
    """What the tubes of a job stand. at: spots in the order of the tubes; starts, counts (m,): which are each
    tube's; strength, welded, e (m,), MPa, the first two less what holes take; length (m, cases or 1): of the
    column, twice the tube where one end hangs free; radius (m,): of gyration, mm."""

    at: StressPoints
    starts: Ints
    counts: Ints
    strength: Floats
    welded: Floats
    e: Floats
    length: Floats
    radius: Floats

    @staticmethod
    def of(job: Job, frame: Frame, at: StressPoints, held: NDArray[np.bool_]) -> StrengthFigures:
        """From a job, its frame and its spots; held (n, cases): joints that are held."""
        counts = np.bincount(at.beam, minlength=len(job.tubes))
        starts = np.cumsum(counts) - counts
        materials = [job.material(t.material) for t in job.tubes]
        least = np.minimum(frame.i_y, frame.i_z)
        drilled = fittings.strength_left(job)
        left = np.array([drilled.get(t.id, 1.0) for t in job.tubes])
        return StrengthFigures(
            at,
            starts,
            counts,
            np.array([m.yield_strength for m in materials]) * left,
            np.array([m.as_welded_yield for m in materials]) * left,
            frame.e,
            frame.lengths[:, None] * np.where(_hanging(frame, held), 2.0, 1.0),
            np.sqrt(least / frame.area),
        )

    def uses(self, frame: Frame, u: Floats) -> tuple[Floats, dict[str, Floats]]:
        """How much of MEMBER_CHECKS is used (3, m, cases) under displacements (n, 6, cases), and the stresses they
        come from (k, cases)."""
        made = stresses(resultants(frame, end_forces(frame, u), self.at), self.at)
        mises = made.mises
        anywhere = np.maximum.reduceat(mises, self.starts, axis=0)
        ends = np.maximum(mises[self.starts], mises[self.starts + self.counts - 1])
        bending = np.maximum.reduceat(made.bending, self.starts, axis=0)
        push = np.maximum.reduceat(-made.axial, self.starts, axis=0)
        radius, e = self.radius[:, None], self.e[:, None]
        critical = column_stress(self.length, radius, e, self.strength[:, None])
        euler = np.pi**2 * e / (self.length / radius) ** 2
        column = column_use(push, bending, critical, euler, self.strength[:, None])
        uses = np.stack([anywhere / self.strength[:, None], ends / self.welded[:, None], column])
        return uses, {
            "axial": made.axial,
            "bending": made.bending,
            "torsion": made.torsion,
            "shear": made.shear,
            "force": made.force,
            "mises": mises,
            "push": push,
        }


def _hanging(frame: Frame, held: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Which tubes have an end (m, cases) that nothing else is joined to and nothing holds."""
    joined = np.bincount(frame.ends.ravel(), minlength=len(frame.nodes)) > 1
    joined[[n for body in frame.stressed for n in body.corners]] = True
    free = ~(joined[:, None] | held)
    return np.asarray(free[frame.ends[:, 0]] | free[frame.ends[:, 1]])


def _worst(
    job: Job, figures: StrengthFigures, uses: Floats, parts: dict[str, Floats], told: list[Loaded], n: int
) -> TubeStrength:
    tube = job.tubes[n]
    check, case = np.unravel_index(int(uses[:, n].argmax()), uses[:, n].shape)
    use = float(uses[check, n, case])
    most = uses[:, n].max(axis=1)
    one, two, three = (float(1 / v - 1) if v > 0 else np.inf for v in most)
    margins = (one, two, three)
    first, count = int(figures.starts[n]), int(figures.counts[n])
    rows = np.arange(first, first + count)
    name = told[int(case)].name
    if check == 2:
        return TubeStrength(tube.id, use, "column", "column", name, tube.id, float(parts["push"][n, case]), margins)
    looked = rows if check == 0 else rows[[0, -1]]
    row = int(looked[parts["mises"][looked, case].argmax()])
    axial = float(parts["axial"][row, case])
    told_by: dict[Cause, float] = {
        "pulled" if axial >= 0 else "pushed": abs(axial),
        "bending": float(parts["bending"][row, case]),
        "torsion": 3**0.5 * float(parts["torsion"][row, case]),
        "shear": 3**0.5 * float(parts["shear"][row, case]),
    }
    at = tube.a if row == first else tube.b if row == first + count - 1 else tube.id
    return TubeStrength(
        tube.id,
        use,
        MEMBER_CHECKS[int(check)],
        max(told_by, key=lambda k: told_by[k]),
        name,
        at,
        float(parts["mises"][row, case]),
        margins,
    )


def _at_pickups(job: Job, frame: Frame, u: Floats) -> Floats:
    """Displacements (n, 6, cases) with the rigid motion that best fits the pickups taken out."""
    rows = [n for n, j in enumerate(job.joints) if j.id in {p.joint for p in job.pickups}]
    rigid = rigid_motions(frame.nodes).reshape(len(frame.nodes), 6, 6)
    fit = np.linalg.lstsq(rigid[rows][:, :3].reshape(-1, 6), u[rows, :3].reshape(-1, u.shape[2]), rcond=None)[0]
    return u - np.einsum("nij,jc->nic", rigid, fit)


@dataclass(frozen=True)
class Move:
    """How far something that matters moves at worst: what, in which case, mm, and by which angle, rad, where that is
    what matters; too_far: beyond the builder's own limit."""

    what: str
    case: str
    mm: float
    angle: float | None = None
    too_far: bool = False
    where: tuple[str, ...] = ()


def moves(job: Job, told: StrengthAnswer) -> tuple[Move, ...]:
    """Hoops at their tops, the pickups, and the line of each chain, at worst over all cases; rigid motion is taken
    out at the pickups."""
    if not told.cases:
        return ()
    index = {j.id: n for n, j in enumerate(job.joints)}
    watched: list[tuple[str, list[str]]] = []
    for role in ("main hoop", "front hoop"):
        ends = {e for t in job.tubes if t.role == role for e in t.ends}
        if ends:
            top = max(job.joint_by_id[n].z for n in ends)
            watched.append((f"top of the {role}", sorted(n for n in ends if job.joint_by_id[n].z > top - 1.0)))
    watched += [(f"{p.corner} pickup {p.joint}", [p.joint]) for p in job.pickups]
    made = []
    for what, names in watched:
        travel = np.linalg.norm(told.u[[index[n] for n in names], :3], axis=1)
        row, case = np.unravel_index(int(travel.argmax()), travel.shape)
        made.append(Move(what, told.cases[int(case)].name, float(travel[row, case]), where=tuple(names)))
    return (*made, *filter(None, (_chain_line(job, told, chain) for chain in job.chains)))


def _chain_line(job: Job, told: StrengthAnswer, chain: Chain) -> Move | None:
    """How far a chain's sprockets leave each other's line at worst, on top of how they stand unloaded: seen from the
    driving one, so that what turns both alike is no fault. None where the same joints carry both, for then nothing
    tells their movements apart."""
    nodes = lines(job).nodes
    ats = [np.array([s.x, s.y, s.z]) for s in (chain.driving, chain.driven)]
    carried = cases.chain_joints(job, chain)
    if set(carried[0]) == set(carried[1]):
        return None
    fits = []
    for at, rows in zip(ats, map(list, carried), strict=True):
        rigid = rigid_motions(nodes[rows] - at).reshape(len(rows), 6, 6)[:, :3].reshape(-1, 6)
        fits.append(np.linalg.lstsq(rigid, told.u[rows, :3].reshape(-1, told.u.shape[2]), rcond=None)[0])
    driving, driven = fits
    # a shaft along y leaves its line by turns about z and about x
    turned = np.hypot(driving[3] - driven[3], driving[5] - driven[5])
    alike = np.cross(driving[3:].T, ats[1] - ats[0]).T  # where the driving one's turn takes the other
    sideways = np.abs(driven[1] - driving[1] - alike[1])
    case = int((turned / chain.most_angle + sideways / chain.most_offset).argmax())
    too_far = bool(turned[case] > chain.most_angle or sideways[case] > chain.most_offset)
    return Move(
        f"line of {chain.name}", told.cases[case].name, float(sideways[case]), float(turned[case]), too_far, (chain.id,)
    )
