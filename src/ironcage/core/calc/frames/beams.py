"""Space frames of straight shear-flexible beams: stiffness, factorisation, displacements, energy.

Twelve degrees of freedom an element, small displacements, linear material. The element is
Przemieniecki, Theory of Matrix Structural Analysis, eq. 5.116, with Φ = 12EI/(G·A_s·L²). Element
axes: x from first to second joint; z as near to global z as can be (global x for a vertical element),
then turned by `roll` about x.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.frames.factor import Factor
from ironcage.problem import Problem

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


class Stressed(Protocol):
    """Something that stiffens several joints at once."""

    @property
    def corners(self) -> tuple[int, ...]:
        """The joints, by number."""
        ...

    def elements(self, nodes: Floats) -> list[tuple[Floats, Ints]]:
        """Stiffnesses (12, 12) in global axes and their freedoms (12,), which together are its own."""
        ...


VERTICAL = 1e-6  # an element whose plan length is a smaller share of its length counts as vertical


@dataclass(frozen=True)
class Frame:
    """Joints and beams as arrays; mm, MPa, mm², mm⁴, rad.

    nodes (n, 3); ends (m, 2) node numbers; e, g, area, i_y, i_z, j, shear_area_y, shear_area_z, roll (m,);
    pinned (m, 2) True where an end is a ball joint. A shear area of 0 switches shear flexibility off.
    condensed: stiffnesses (12, 12) in element axes of the members that are no straight beam, by their number (see
    `condensed`).
    stressed: sheet and parts that stiffen joints (see `membrane` and `block`). fixity: how rigid each end's weld is
    against bending (m, 2), 1 for rigid, or one figure for all (see `with_end_fixity`). `node_names` and `beam_names`
    serve refusals.
    """

    nodes: Floats
    ends: Ints
    e: Floats
    g: Floats
    area: Floats
    i_y: Floats
    i_z: Floats
    j: Floats
    shear_area_y: Floats
    shear_area_z: Floats
    roll: Floats
    pinned: NDArray[np.bool_]
    node_names: tuple[str, ...] = field(default=())
    beam_names: tuple[str, ...] = field(default=())
    condensed: Mapping[int, Floats] = field(default_factory=dict)
    stressed: tuple[Stressed, ...] = ()
    fixity: Floats | float = 1.0

    def __post_init__(self) -> None:
        if len(self.ends) == 0:
            raise Problem("There are no tubes to work out.")
        short = np.flatnonzero(self.lengths < 1e-3)
        if short.size:
            raise Problem(f"{self.beam_name(short[0])} has no length.", where=self.beam_name(short[0]))

    def node_name(self, node: int) -> str:
        """What a refusal calls a node."""
        return self.node_names[node] if self.node_names else f"node {node}"

    def beam_name(self, beam: int) -> str:
        """What a refusal calls a beam."""
        return self.beam_names[beam] if self.beam_names else f"tube {beam}"

    @cached_property
    def lengths(self) -> Floats:
        """Centre-to-centre lengths (m,), mm."""
        run = self.nodes[self.ends[:, 1]] - self.nodes[self.ends[:, 0]]
        return np.sqrt((run * run).sum(axis=1))

    @cached_property
    def axes(self) -> Floats:
        """Rotations (m, 3, 3), rows the element's x, y, z in global axes."""
        return element_axes(self.nodes[self.ends[:, 0]], self.nodes[self.ends[:, 1]], self.roll)

    @cached_property
    def local_stiffness(self) -> Floats:
        """Element stiffnesses (m, 12, 12) in element axes, N and mm, pinned ends condensed."""
        made = _local_stiffness(self)
        if self.pinned.any():
            made = release_pins(made, self.pinned)
        for beam, stiffness in self.condensed.items():
            made[beam] = stiffness
        if np.any(np.less(self.fixity, 1)):
            fixity = np.broadcast_to(np.asarray(self.fixity, dtype=float), self.ends.shape)
            made = with_end_fixity(
                made, fixity, 3 * self.e[:, None] * np.stack([self.i_y, self.i_z], axis=1) / self.lengths[:, None]
            )
        return made

    @cached_property
    def global_stiffness(self) -> Floats:
        """Element stiffnesses (m, 12, 12) in global axes."""
        return to_global(self.local_stiffness, self.axes)

    @cached_property
    def dofs(self) -> Ints:
        """Global degrees of freedom of each element (m, 12)."""
        return (self.ends[:, :, None] * 6 + np.arange(6)).reshape(-1, 12)

    @cached_property
    def elements(self) -> tuple[Floats, Ints]:
        """Stiffnesses (m + p, 12, 12) in global axes and freedoms (m + p, 12) of every beam, then of what is
        stressed between joints."""
        if not self.stressed:
            return self.global_stiffness, self.dofs
        parts = [triangle for body in self.stressed for triangle in body.elements(self.nodes)]
        return (
            np.concatenate([self.global_stiffness, np.array([k for k, _ in parts])]),
            np.concatenate([self.dofs, np.array([d for _, d in parts])]),
        )

    def element_displacements(self, u: Floats) -> Floats:
        """Displacements of each element's ends (m, 12) in element axes, from nodal ones (n, 6)."""
        parts = u.reshape(-1)[self.dofs].reshape(-1, 4, 3)
        return np.matmul(parts, self.axes.transpose(0, 2, 1)).reshape(-1, 12)

    def end_forces(self, u: Floats) -> Floats:
        """What the joints do to each element (m, 12) in element axes, N and N·mm."""
        return np.einsum("mij,mj->mi", self.local_stiffness, self.element_displacements(u))

    def strain_energy(self, u: Floats) -> Floats:
        """Strain energy of each element (m,), N·mm."""
        d = self.element_displacements(u)
        return 0.5 * np.einsum("mi,mij,mj->m", d, self.local_stiffness, d)


def element_axes(first: Floats, second: Floats, roll: Floats) -> Floats:
    """Element axes (m, 3, 3) as rows x, y, z, for elements from `first` to `second` (m, 3), mm."""
    made = np.empty((len(roll), 3, 3))
    x, y, z = made.transpose(1, 2, 0)  # each (3, m), written in place
    np.subtract(second.T, first.T, out=x)
    x /= np.sqrt((x * x).sum(axis=0))
    # y is up × x: of z where the element is not vertical, of x where it is; then z = x × y
    y[0], y[1], y[2] = -x[1], x[0], 0.0
    flat = np.hypot(x[0], x[1])
    vertical = flat < VERTICAL
    if vertical.any():
        y[:, vertical] = [np.zeros(vertical.sum()), -x[2, vertical], x[1, vertical]]
        flat[vertical] = np.hypot(x[1, vertical], x[2, vertical])
    y /= flat
    z[0], z[1], z[2] = x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0]
    if roll.any():
        c, s = np.cos(roll), np.sin(roll)
        y[:], z[:] = c * y + s * z, c * z - s * y
    return made


def to_global(local: Floats, axes: Floats) -> Floats:
    """Symmetric element matrices (m, 12, 12) turned from element axes (m, 3, 3) to global ones."""
    half = np.matmul(local.reshape(-1, 48, 3), axes).reshape(-1, 12, 12)
    return np.matmul(half.transpose(0, 2, 1).reshape(-1, 48, 3), axes).reshape(-1, 12, 12)


def _templates() -> Floats:
    """Where each of a beam's ten coefficients stands in its stiffness (10, 144): axial, twist, and for bending along
    y and along z the shear a, the coupling b and the turns of the near and the far end."""
    made = np.zeros((10, 12, 12))

    def put(which: int, i: int, j: int, value: float) -> None:
        made[which, i, j] = made[which, j, i] = value

    for which, at in ((0, 0), (1, 3)):
        put(which, at, at, 1)
        put(which, at + 6, at + 6, 1)
        put(which, at, at + 6, -1)
    # bending in the x-y plane (about z), then in the x-z plane (about y), which differ in sign only
    for which, v, r, sign in ((2, 1, 5, 1.0), (6, 2, 4, -1.0)):
        put(which, v, v, 1)
        put(which, v + 6, v + 6, 1)
        put(which, v, v + 6, -1)
        for row, way in ((v, sign), (v + 6, -sign)):
            put(which + 1, row, r, way)
            put(which + 1, row, r + 6, way)
        put(which + 2, r, r, 1)
        put(which + 2, r + 6, r + 6, 1)
        put(which + 3, r, r + 6, 1)
    return made.reshape(10, 144)


_TEMPLATES = _templates()


def _local_stiffness(frame: Frame) -> Floats:
    length = frame.lengths
    parts = np.empty((10, len(length)))
    parts[0] = frame.e * frame.area / length
    parts[1] = frame.g * frame.j / length
    for k, i, shear_area in ((2, frame.i_z, frame.shear_area_y), (6, frame.i_y, frame.shear_area_z)):
        rigid = frame.g * np.where(shear_area > 0, shear_area, np.inf)
        bending = frame.e * i / length
        phi = 12 * bending / (rigid * length)
        base = bending / (1 + phi)
        parts[k + 1] = 6 * base / length
        parts[k] = 2 * parts[k + 1] / length
        parts[k + 2] = (4 + phi) * base
        parts[k + 3] = (2 - phi) * base
    return np.asarray(parts.T @ _TEMPLATES).reshape(-1, 12, 12)


def release_pins(k: Floats, pinned: NDArray[np.bool_]) -> Floats:
    """Condense ball joints out of element stiffnesses (m, 12, 12): k − k_r · k_rr⁻¹ · k_rᵀ.

    A ball at one end frees its three rotations; at both ends the element could spin about itself, so the
    spin is freed at the second end only.
    """
    if not pinned.any():
        return k
    k = k.copy()
    for which, freed in (((True, False), [3, 4, 5]), ((False, True), [9, 10, 11]), ((True, True), [4, 5, 9, 10, 11])):
        rows = np.flatnonzero((pinned == which).all(axis=1))
        if rows.size:
            part = k[rows]
            coupling = part[:, :, freed]
            part = part - coupling @ np.linalg.solve(part[:, freed][:, :, freed], coupling.transpose(0, 2, 1))
            part[:, freed, :] = 0
            part[:, :, freed] = 0
            k[rows] = part
    return k


def released(k: Floats, freed: Ints) -> Floats:
    """Condense any of its twelve freedoms out of an element's stiffness (12, 12): those let go of at its ends, told
    in element axes.

    What is let go of at both ends alike may move in itself without force, which the pseudo-inverse leaves at rest.
    """
    coupling = k[:, freed]
    made = k - coupling @ np.linalg.pinv(k[np.ix_(freed, freed)], rcond=1e-12, hermitian=True) @ coupling.T
    made[freed, :] = made[:, freed] = 0.0
    return np.asarray((made + made.T) / 2)


def with_end_fixity(k: Floats, fixity: Floats, hinge: Floats) -> Floats:
    """Put a spring against bending between each end of elements and its joint, and condense the end out: k (m, 12, 12),
    fixity r (m, 2) of both ends.

    hinge (m, 2): 3EI/L about y and about z, N·mm/rad. The spring is 3EI/L · r / (1 − r), so that r = 1 is a rigid weld
    and 0 a hinge (Monforton & Wu 1963). Pinned ends stay pinned.
    """
    made = k.copy()
    for which, turned in (((True, False), [4, 5]), ((False, True), [10, 11]), ((True, True), [4, 5, 10, 11])):
        rows = np.flatnonzero(((fixity < 1) == which).all(axis=1))
        if not rows.size:
            continue
        ends = [n // 6 for n in turned]
        share = np.clip(fixity[rows][:, ends], 0.0, 1.0)
        spring = hinge[rows][:, [n % 6 - 4 for n in turned]] * share / (1 - share)
        part = k[rows]
        inner = part[:, turned][:, :, turned] + spring[:, :, None] * np.eye(len(turned))
        # an end that is pinned has nothing to turn: a unit there keeps the small matrix regular, and its spring carries
        # nothing
        idle = np.einsum("mii->mi", inner) <= 0
        inner[idle, :] = 0.0
        inner += idle[:, :, None] * np.eye(len(turned))
        # with φ at the joint and θ at the end: θ = A⁻¹(Sφ − K_θo·u_o)
        out = part[:, :, turned] * 1.0
        out[:, turned, :] = 0.0
        solved = np.linalg.solve(
            inner, np.concatenate([-out.transpose(0, 2, 1), spring[:, :, None] * np.eye(len(turned))], axis=2)
        )
        to_end = solved[:, :, :12].copy()
        to_end[:, :, turned] += solved[:, :, 12:]
        whole = np.broadcast_to(np.eye(12), part.shape).copy()
        whole[:, turned, :] = to_end
        slip = np.broadcast_to(np.eye(12)[turned], to_end.shape) - to_end
        full = whole.transpose(0, 2, 1) @ part @ whole + slip.transpose(0, 2, 1) @ (spring[:, :, None] * slip)
        made[rows] = (full + full.transpose(0, 2, 1)) / 2
    return made


def pieces(frame: Frame) -> list[Ints]:
    """The separate pieces of a frame, as arrays of node numbers, largest first; loose nodes are left out.

    Union-find with path halving (Tarjan 1975); a graph package would take longer to load than this to run.
    """
    ties = tuple((body.corners[0], node) for body in frame.stressed for node in body.corners[1:])
    return list(pieces_between(frame.ends.tobytes(), ties))


@lru_cache(4)  # joints that move, and tubes of another size, leave them as they are
def pieces_between(between: bytes, ties: tuple[tuple[int, int], ...]) -> tuple[Ints, ...]:
    """The same of members between nodes (m, 2) and ties of two."""
    ends = np.frombuffer(between, dtype=np.int64).reshape(-1, 2).tolist()
    parent = list(range(1 + max(node for pair in (*ends, *ties) for node in pair)))
    for a, b in [*ends, *ties]:
        while parent[a] != a:
            parent[a] = a = parent[parent[a]]
        while parent[b] != b:
            parent[b] = b = parent[parent[b]]
        parent[a] = b
    groups: dict[int, list[int]] = {}
    for node in sorted({node for pair in ends for node in pair}):
        top = node
        while parent[top] != top:
            parent[top] = top = parent[parent[top]]
        groups.setdefault(top, []).append(node)
    made = tuple(np.array(g) for g in sorted(groups.values(), key=len, reverse=True))
    for shared in made:
        shared.setflags(write=False)
    return made


def demand_one_piece(frame: Frame) -> None:
    """Refuse a frame that is in two or more pieces, naming a joint of the smaller one."""
    parts = pieces(frame)
    if len(parts) > 1:
        loose = parts[1]
        named = ", ".join(frame.node_name(i) for i in loose[:3]) + (" ..." if len(loose) > 3 else "")
        raise Problem(
            f"The frame is in {len(parts)} pieces: {named} {'is' if len(loose) == 1 else 'are'} not joined to the "
            f"rest.",
            where=frame.node_name(loose[0]),
            hint="Join them with a tube.",
        )


@dataclass(frozen=True)
class Solution:
    """Displacements (n, 6, cases) mm and rad, reactions (n, 6, cases) N and N·mm, and the proof.

    `residual` is max |K·u − f| over the free degrees of freedom by the largest load, both scaled to unit diagonals.
    """

    u: Floats
    reactions: Floats
    residual: float


def solve(frame: Frame, held: NDArray[np.bool_], loads: Floats) -> Solution:
    """Static displacements of a frame under loads (n, 6, cases), held (n, 6) where True.

    Pieces that are not joined are worked out together where each is held. Raises Problem for a mechanism (naming the
    joint that moves most), for a piece that nothing holds, and for a solution that does not satisfy its own equations.
    """
    if any(not held[piece].any() for piece in pieces(frame)):
        demand_one_piece(frame)
    factor = Factor(frame, held)
    f = loads.reshape(len(frame.nodes) * 6, -1)
    idle = ~held.ravel()
    idle[factor.free] = False
    if (lost := np.flatnonzero(idle & (f != 0).any(axis=1))).size:
        name, axis = frame.node_name(lost[0] // 6), lost[0] % 6
        raise Problem(
            f"The frame is a mechanism: nothing at {name} takes a {'moment about' if axis > 2 else 'force along'} "
            f"{'xyz'[axis % 3]}.",
            where=name,
            hint="Load something that is rigidly joined there.",
        )
    u = factor.solve(f)
    force, residual = factor.left_over(u, f)
    force[factor.free] = 0.0
    shape = (len(frame.nodes), 6, -1)
    return Solution(u.reshape(shape), force.reshape(shape), residual)
