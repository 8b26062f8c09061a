"""Where a frame's joints go as its ends are welded one after another.

Each weld's stress-free shortening and tilt (see `shrink`) acts on the frame as it is at that moment: ends that are
welded already are rigid, tacked ones give in bending, what stands hold is held. The end being welded keeps, while it
shrinks, the stiffness it had, and is rigid from the next weld on. Moves add up, and at the end the stands let go. The
inverse of the stiffness is kept and brought up to date after each weld (Woodbury), so that a weld costs a product of
vectors and no new factorisation.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.frames.beams import Floats, Frame, demand_one_piece
from ironcage.core.calc.frames.rigs import rigid_motions
from ironcage.core.calc.welding.shrink import Shrinkage
from ironcage.problem import Problem

Bools = NDArray[np.bool_]
LOCKED = 1e-9  # a smaller share of the largest of a matrix's eigenvalues counts as none


@dataclass(frozen=True, eq=False)
class EndWeld:
    """A weld: the beam, its end (0 or 1), and what it does there. axes (3, 3): the section's x (from the first end to
    the second), y and z there as rows, where they are not the beam's own, as of a bent tube."""

    beam: int
    end: int
    shrinkage: Shrinkage
    axes: Floats | None = None


@dataclass(frozen=True, eq=False)
class Forecast:
    """moves (w, n, 6): of every joint after each weld, on the stands; free (n, 6): after the last, let go and laid
    back on where the joints were as it fits best; mm and rad."""

    order: tuple[EndWeld, ...]
    moves: Floats
    free: Floats


class WeldedFrame:
    """A frame on its stands while it is welded. `moves`: of all joints so far, (n, 6)."""

    def __init__(self, frame: Frame, welded: Bools, tack: float, held: Sequence[int]) -> None:
        """welded (m, 2): ends that are rigid already, the others tacked with a share of bending (0 to 1); held: nodes
        that stands hold in place, in no direction turned. Where they are fewer than three, or stand in a line, the
        frame is held at six freedoms that bend nothing. Raises Problem where the frame is in pieces or can move."""
        demand_one_piece(frame)
        self.frame, self.welded, self.tack = frame, welded.copy(), tack
        self.count = 6 * len(frame.nodes)
        self._variants = {
            (one, other): _variant(frame, tack, one, other) for one in (False, True) for other in (False, True)
        }
        self._steady = [(k, d) for k, d in zip(*frame.elements, strict=True)][len(frame.ends) :]
        used = np.zeros(self.count, dtype=bool)
        used[frame.dofs.reshape(-1)] = True
        fixed = np.zeros(self.count, dtype=bool)
        fixed[_held(frame, held)] = True
        self.fixed = np.flatnonzero(fixed)
        self.open = np.flatnonzero(used & ~fixed)
        self._place = np.full(self.count, -1)
        self._place[self.open] = np.arange(len(self.open))
        self._hold = np.full(self.count, -1)
        self._hold[self.fixed] = np.arange(len(self.fixed))
        self.stiffness = self._assembled()
        self.inverse = _inverse(self.stiffness[np.ix_(self.open, self.open)])
        self.moves = np.zeros(self.count)
        self.reaction = np.zeros(self.count)

    def _assembled(self) -> Floats:
        whole = np.zeros((self.count, self.count))
        for beam, dofs in enumerate(self.frame.dofs):
            whole[np.ix_(dofs, dofs)] += self._of(beam)
        for k, dofs in self._steady:  # a piece of sheet may name a freedom twice
            np.add.at(whole, np.ix_(dofs, dofs), k)
        return whole

    def _of(self, beam: int) -> Floats:
        one, other = self.welded[beam]
        made: Floats = self._variants[bool(one), bool(other)][beam]
        return made

    def load(self, weld: EndWeld) -> tuple[Floats, NDArray[np.int64]]:
        """What a weld's shrinking pulls with (12,) N and N·mm, and the freedoms (12,) that it pulls at."""
        axes = self.frame.axes[weld.beam] if weld.axes is None else weld.axes
        shape = (_own_shape(weld).reshape(4, 3) @ axes).reshape(12)
        return self._of(weld.beam) @ shape, self.frame.dofs[weld.beam]

    def off_after(self, loads: Floats, dofs: NDArray[np.int64], rows: NDArray[np.int64]) -> Floats:
        """How far freedoms would be off, all together, mm², after each of some welds (w,): what they pull with (w, 12)
        and at which freedoms (w, 12)."""
        at, wanted = self._place[dofs], self._place[rows]
        open_ = wanted >= 0
        reach = self.inverse[wanted[open_]][:, np.maximum(at, 0)]
        moved = np.repeat(self.moves[rows][None], len(loads), axis=0)
        moved[:, open_] += np.einsum("rwq,wq->wr", reach, np.where(at >= 0, loads, 0.0))
        return np.einsum("wr,wr->w", moved, moved)

    def weld(self, weld: EndWeld) -> None:
        """Carry a weld out: joints move, and its end is rigid from here on."""
        force, dofs = self.load(weld)
        at, held = self._place[dofs], self._hold[dofs]
        moved = np.zeros(self.count)
        moved[self.open] = self.inverse[:, at[at >= 0]] @ force[at >= 0]
        self.moves += moved
        reaction = self.stiffness[self.fixed] @ moved
        reaction[held[held >= 0]] -= force[held >= 0]
        self.reaction[self.fixed] += reaction
        before = self._of(weld.beam)
        self.welded[weld.beam, weld.end] = True
        self._change(dofs, self._of(weld.beam) - before)

    def _change(self, dofs: NDArray[np.int64], change: Floats) -> None:
        """The inverse after an element's stiffness has changed, by Woodbury's formula."""
        self.stiffness[np.ix_(dofs, dofs)] += change
        at = self._place[dofs]
        inside = at >= 0
        values, vectors = np.linalg.eigh(change[np.ix_(inside, inside)])
        strong = np.abs(values) > LOCKED * max(float(np.abs(values).max(initial=0.0)), 1e-300)
        if not strong.any():
            return
        vectors, values = vectors[:, strong], values[strong]
        reach = self.inverse[:, at[inside]] @ vectors
        small = np.diag(1 / values) + vectors.T @ reach[at[inside]]
        self.inverse -= reach @ np.linalg.solve(small, reach.T)

    def let_go(self) -> Floats:
        """The moves (n, 6) once the stands no longer hold, laid back on where the joints were as it fits best."""
        nodes, moved = self.frame.nodes, self.moves.copy()
        if np.abs(self.reaction).max(initial=0.0) > 0:
            fixed = np.zeros(self.count, dtype=bool)
            fixed[_six(self.frame)] = True
            used = np.zeros(self.count, dtype=bool)
            used[self.frame.dofs.reshape(-1)] = True
            rows = np.flatnonzero(used & ~fixed)
            moved[rows] += np.linalg.solve(self.stiffness[np.ix_(rows, rows)], -self.reaction[rows])
        on = np.unique(self.frame.ends)
        rigid = rigid_motions(nodes)
        places = (on[:, None] * 6 + np.arange(3)).reshape(-1)
        best, *_ = np.linalg.lstsq(rigid[places], moved[places], rcond=None)
        made: Floats = (moved - rigid @ best).reshape(-1, 6)
        return made


def forecast(
    frame: Frame,
    welded: Bools,
    welds: Sequence[EndWeld],
    tack: float,
    held: Sequence[int],
    say: Callable[[float], None] = lambda share: None,
) -> Forecast:
    """How joints move as welds follow each other. See `WeldedFrame` for what is held and what is refused; say is told
    the share that is done, and may raise to stop."""
    state = WeldedFrame(frame, welded, tack, held)
    moves = np.empty((len(welds), len(frame.nodes), 6))
    for n, weld in enumerate(welds):
        state.weld(weld)
        moves[n] = state.moves.reshape(-1, 6)
        say((n + 1) / len(welds))
    return Forecast(tuple(welds), moves, state.let_go())


def balanced(
    frame: Frame,
    welded: Bools,
    welds: Sequence[EndWeld],
    tack: float,
    held: Sequence[int],
    watched: Sequence[int],
    rest: int = 2,
    before: Sequence[int] = (),
    say: Callable[[float], None] = lambda share: None,
) -> tuple[EndWeld, ...]:
    """The welds in an order that moves watched nodes least: each time the one after which they are off least, all
    together, passing over nodes that one of the last `rest` welds was at while another can be taken; before: nodes of
    the welds that came before these, the last one last."""
    state = WeldedFrame(frame, welded, tack, held)
    made, last, left = list[EndWeld](), list(before)[-rest:] if rest else [], np.arange(len(welds))
    nodes = np.array([frame.ends[w.beam, w.end] for w in welds])
    rows = (np.asarray(watched, dtype=np.int64)[:, None] * 6 + np.arange(3)).reshape(-1)
    loads = np.array([state.load(w)[0] for w in welds])
    beams = np.array([w.beam for w in welds])
    while left.size:
        cool = left[~np.isin(nodes[left], last)]
        cool = cool if cool.size else left
        off = state.off_after(loads[cool], frame.dofs[beams[cool]], rows)
        taken = int(cool[off.argmin()])
        last = [*last, int(nodes[taken])][-rest:] if rest else []
        state.weld(welds[taken])
        made.append(welds[taken])
        left = left[left != taken]
        for n in left[beams[left] == beams[taken]]:  # its other end pulls on what is rigid now
            loads[n] = state.load(welds[n])[0]
        say(len(made) / len(welds))
    return tuple(made)


def _own_shape(weld: EndWeld) -> Floats:
    """The end's stress-free move (12,) in element axes: its face goes inwards by the shortening, and leans."""
    s = weld.shrinkage
    inwards = 1.0 if weld.end == 0 else -1.0
    made = np.zeros(12)
    start = 6 * weld.end
    made[start], made[start + 4], made[start + 5] = inwards * s.short, inwards * s.tilt_z, -inwards * s.tilt_y
    return made


def _variant(frame: Frame, tack: float, one: bool, other: bool) -> Floats:
    fixity = np.array([1.0 if one else tack, 1.0 if other else tack])
    made = replace(frame, fixity=np.broadcast_to(fixity, frame.ends.shape).copy())
    return made.global_stiffness


def _held(frame: Frame, nodes: Sequence[int]) -> NDArray[np.int64]:
    """The freedoms that stands hold: their nodes' three moves; six that bend nothing where they are too few."""
    at = frame.nodes[list(nodes)] if nodes else np.zeros((0, 3))
    if len(at) < 3 or np.linalg.matrix_rank(at - at.mean(axis=0), tol=1.0) < 2:
        return _six(frame)
    return (np.asarray(nodes, dtype=np.int64)[:, None] * 6 + np.arange(3)).reshape(-1)


def _six(frame: Frame) -> NDArray[np.int64]:
    """All six freedoms of one node: they hold the frame and bend nothing, for what shrinks pulls in itself alone."""
    return 6 * int(frame.ends[0, 0]) + np.arange(6)


def _inverse(stiffness: Floats) -> Floats:
    scale = np.sqrt(np.maximum(np.diag(stiffness), 1e-300))
    scaled = stiffness / scale[:, None] / scale
    least = float(np.linalg.eigvalsh(scaled)[0]) if len(scaled) else 1.0
    if least < 1e-12:
        raise Problem(
            "The frame can move without bending anything, so where its joints go can't be worked out.",
            where="frame",
            hint="See Frame, Bays: brace it, or unpin an end.",
        )
    made: Floats = np.linalg.inv(scaled) / scale[:, None] / scale
    return made
