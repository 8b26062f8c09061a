"""What a weld does to a tube's end, by integrals; where joints go, by hand and by a small solver of its own."""

import math
from itertools import pairwise

import numpy as np
import pytest
from scipy.integrate import quad

from ironcage.core.calc.frames.beams import Frame
from ironcage.core.calc.welding.forecast import EndWeld, WeldedFrame, balanced, forecast
from ironcage.core.calc.welding.shrink import WHOLE, Shrinkage, of_rectangle, of_round
from ironcage.problem import Problem

E, G = 205_000.0, 79_000.0
ARCS = ((0.4, 1.9), (3.0, 3.5))


def test_all_round_shortens_and_tilts_nothing() -> None:
    assert of_round(18.0, WHOLE, 0.4) == Shrinkage(
        pytest.approx(0.4), pytest.approx(0, abs=1e-15), pytest.approx(0, abs=1e-15)
    )
    told = of_rectangle(40, 20, WHOLE, 0.4)
    assert (told.short, told.tilt_y, told.tilt_z) == pytest.approx((0.4, 0, 0), abs=1e-15)


def test_arcs_of_a_round_tube_are_the_integrals() -> None:
    told = of_round(18.0, ARCS, 0.4)
    b = sum(quad(lambda t: 0.4 * math.cos(t), *arc)[0] for arc in ARCS) / math.pi
    c = sum(quad(lambda t: 0.4 * math.sin(t), *arc)[0] for arc in ARCS) / math.pi
    a = 0.4 * sum(stop - start for start, stop in ARCS) / (2 * math.pi)
    assert (told.short, told.tilt_y, told.tilt_z) == pytest.approx((a, b / 18, c / 18), rel=1e-12)


@pytest.mark.parametrize("arcs", [ARCS, ((0.0, math.pi),), ((5.9, 7.2),), ((-0.6, 0.6), (2.5, 3.8))])
def test_arcs_of_a_rectangle_are_the_best_plane_over_its_outline(arcs) -> None:
    """Least squares over a hundred thousand places round the outline."""
    depth, width, s0 = 60.0, 30.0, 0.5
    n = 100_000
    along = (np.arange(n) + 0.5) / n * 2 * (depth + width)
    sides = np.cumsum([width, depth, width, depth])
    y = np.select(
        [along < sides[0], along < sides[1], along < sides[2]],
        [30, 30 - (along - sides[0]), -30],
        along - sides[2] - 30,
    )
    z = np.select(
        [along < sides[0], along < sides[1], along < sides[2]], [along - 15, 15, 15 - (along - sides[1])], -15
    )
    angle = np.arctan2(z, y)
    welded = np.any([((angle - start) % (2 * math.pi)) < stop - start for start, stop in arcs], axis=0)
    plane, *_ = np.linalg.lstsq(np.stack([np.ones(n), y, z], axis=1), s0 * welded, rcond=None)
    told = of_rectangle(depth, width, arcs, s0)
    assert (told.short, told.tilt_y, told.tilt_z) == pytest.approx(tuple(plane), abs=2e-5)


def frame(nodes, ends, area=240.0, i=40_000.0) -> Frame:
    m = len(ends)
    row = np.ones(m)
    return Frame(
        nodes=np.array(nodes, float),
        ends=np.array(ends),
        e=E * row,
        g=G * row,
        area=area * row,
        i_y=i * row,
        i_z=1.3 * i * row,
        j=2 * i * row,
        shear_area_y=0 * row,
        shear_area_z=0 * row,
        roll=0.2 * row,
        pinned=np.zeros((m, 2), bool),
    )


SKEW = Shrinkage(0.35, 0.002, -0.0015)


def test_a_lone_tube_takes_its_stress_free_shape() -> None:
    """Held at its first joint: its far end comes nearer by the shortening and swings by the tilt."""
    f = frame([(0, 0, 0), (800, 0, 0)], [(0, 1)])
    state = WeldedFrame(f, np.zeros((1, 2), bool), 0.3, ())
    state.weld(EndWeld(0, 0, SKEW))
    moved = state.moves.reshape(-1, 6)
    x, y, z = f.axes[0]
    turn = -(SKEW.tilt_z * y - SKEW.tilt_y * z)  # the face had turned inwards by so much; the tube turns back
    assert moved[1, 3:] == pytest.approx(turn, abs=1e-9)
    assert moved[1, :3] == pytest.approx(-SKEW.short * x + np.cross(turn, [800, 0, 0]), abs=1e-9)
    assert moved[0] == pytest.approx(np.zeros(6), abs=1e-9)
    assert np.abs(state.let_go()[:, :3] - state.let_go()[:, :3].mean(axis=0)).max() < 0.36


def test_a_chain_adds_up_joint_by_joint() -> None:
    f = frame([(0, 0, 0), (500, 0, 0), (500, 400, 0), (500, 400, 300)], [(0, 1), (1, 2), (2, 3)])
    told = forecast(
        f,
        np.zeros((3, 2), bool),
        [EndWeld(1, 0, Shrinkage(0.3, 0, 0)), EndWeld(2, 1, Shrinkage(0.2, 0, 0)), EndWeld(0, 1, Shrinkage(0.5, 0, 0))],
        0.3,
        (),
    )
    assert told.moves[0, :, :3] == pytest.approx(np.array([[0, 0, 0], [0, 0, 0], [0, -0.3, 0], [0, -0.3, 0]]), abs=1e-9)
    assert told.moves[1, 3, :3] == pytest.approx([0, -0.3, -0.2], abs=1e-9)
    assert told.moves[2, 3, :3] == pytest.approx([-0.5, -0.3, -0.2], abs=1e-9)


class SlowSolver:
    """Every tube's ends are nodes of their own, tied to the joints by stiff springs and, where they are tacked, by soft
    ones against bending; every weld is a new factorisation."""

    TIE = 1e13

    def __init__(self, f: Frame, held, tack) -> None:
        self.f, self.tack = f, tack
        self.n = 6 * (len(f.nodes) + 2 * len(f.ends))
        self.held = [6 * h + k for h in held for k in range(3)]
        self.open = np.setdiff1d(np.arange(self.n), self.held)
        self.u, self.r = np.zeros(self.n), np.zeros(self.n)
        self.rigid = np.zeros((len(f.ends), 2), bool)

    def rows(self, beam, end):
        return 6 * (len(self.f.nodes) + 2 * beam + end) + np.arange(6)

    def own(self, beam):
        """Euler's beam in element axes, by integrating its curvatures with the unit-load matrix."""
        f, length = self.f, self.f.lengths[beam]
        flex = np.zeros((6, 6))  # of end 2 with end 1 held
        flex[0, 0] = length / (E * f.area[beam])
        flex[3, 3] = length / (G * f.j[beam])
        for v, t, inertia, sign in ((1, 5, f.i_z[beam], 1), (2, 4, f.i_y[beam], -1)):
            flex[v, v] = length**3 / (3 * E * inertia)
            flex[t, t] = length / (E * inertia)
            flex[v, t] = flex[t, v] = sign * length**2 / (2 * E * inertia)
        k22 = np.linalg.inv(flex)
        carry = np.eye(6)  # moves of end 2 by rigid motions of end 1
        carry[1, 5], carry[2, 4] = length, -length
        to = np.hstack([-carry, np.eye(6)])
        return to.T @ k22 @ to

    def whole(self):
        f, k = self.f, np.zeros((self.n, self.n))
        for beam, (a, b) in enumerate(f.ends):
            turn = np.kron(np.eye(4), f.axes[beam])
            rows = np.concatenate([self.rows(beam, 0), self.rows(beam, 1)])
            k[np.ix_(rows, rows)] += turn.T @ self.own(beam) @ turn
            for end, node in enumerate((a, b)):
                tie = np.full(6, self.TIE)
                tie[:3] = 1e11
                if not self.rigid[beam, end]:
                    for axis, inertia in ((4, f.i_y[beam]), (5, f.i_z[beam])):
                        tie[axis] = 3 * E * inertia / f.lengths[beam] * self.tack / (1 - self.tack)
                axes = np.kron(np.eye(2), f.axes[beam])
                spring = axes.T @ np.diag(tie) @ axes
                both = np.concatenate([6 * node + np.arange(6), self.rows(beam, end)])
                k[np.ix_(both, both)] += np.block([[spring, -spring], [-spring, spring]])
        return k

    def weld(self, beam, end, s: Shrinkage):
        f, k = self.f, self.whole()
        inwards = (1, -1)[end]
        shape = np.zeros(12)
        shape[6 * end : 6 * end + 6] = inwards * np.array([s.short, 0, 0, 0, s.tilt_z, -s.tilt_y])
        turn = np.kron(np.eye(4), f.axes[beam])
        rows = np.concatenate([self.rows(beam, 0), self.rows(beam, 1)])
        load = np.zeros(self.n)
        load[rows] = turn.T @ self.own(beam) @ shape
        step = np.zeros(self.n)
        step[self.open] = np.linalg.solve(k[np.ix_(self.open, self.open)], load[self.open])
        self.u += step
        self.r += np.where(np.isin(np.arange(self.n), self.held), k @ step - load, 0)
        self.rigid[beam, end] = True

    def joints(self):
        return self.u[: 6 * len(self.f.nodes)].reshape(-1, 6)


NODES = [(0, 0, 0), (900, 0, 0), (900, 500, 0), (0, 500, 0), (0, 0, 400), (900, 0, 450), (900, 500, 400), (0, 500, 420)]
ENDS = [
    (0, 1),
    (1, 2),
    (2, 3),
    (3, 0),
    (4, 5),
    (5, 6),
    (6, 7),
    (7, 4),
    (0, 4),
    (1, 5),
    (2, 6),
    (3, 7),
    (0, 2),
    (4, 1),
    (3, 6),
]
HELD = (0, 1, 2, 3)


def test_a_braced_frame_agrees_with_a_solver_that_starts_anew_each_time() -> None:
    f = frame(NODES, ENDS)
    rng = np.random.default_rng(5)
    order = rng.permutation([(b, e) for b in range(len(ENDS)) for e in (0, 1)])[:12]
    welds = [EndWeld(int(b), int(e), Shrinkage(*(rng.normal([0.3, 0, 0], [0.1, 1e-3, 1e-3])))) for b, e in order]
    told = forecast(f, np.zeros((len(ENDS), 2), bool), welds, 0.3, HELD)
    slow = SlowSolver(f, HELD, 0.3)
    for n, w in enumerate(welds):
        slow.weld(w.beam, w.end, w.shrinkage)
        assert told.moves[n] == pytest.approx(slow.joints(), abs=1e-6), n
    # the stands let go: what they held with is taken away from the frame as it now is
    k = slow.whole()
    six = np.arange(6)
    rows = np.setdiff1d(np.arange(slow.n), six)
    let = np.zeros(slow.n)
    let[rows] = np.linalg.solve(k[np.ix_(rows, rows)], -slow.r[rows])
    free = (slow.u + let)[: 6 * len(NODES)].reshape(-1, 6)[:, :3]
    mine = told.free[:, :3]
    way = f.nodes[:, None] - f.nodes[None]
    way /= np.maximum(np.linalg.norm(way, axis=2, keepdims=True), 1.0)
    for moved in (mine, free):  # what changes between joints is the same; where it lies is not
        moved -= moved[0]
    longer = [((p[:, None] - p[None]) * way).sum(axis=2) for p in (mine, free)]
    assert longer[0] == pytest.approx(longer[1], abs=1e-6)
    assert np.abs(longer[0]).max() > 0.1


def test_a_balanced_order_moves_what_is_watched_less_than_one_end_after_another() -> None:
    f = frame(NODES, ENDS)
    none = np.zeros((len(ENDS), 2), bool)
    along = [EndWeld(b, e, Shrinkage(0.3, 0, 0)) for b in range(len(ENDS)) for e in (0, 1)]
    watched = (4, 5, 6, 7)
    better = balanced(f, none, along, 0.3, HELD, watched)
    assert sorted((w.beam, w.end) for w in better) == sorted((w.beam, w.end) for w in along)
    worst = [
        np.linalg.norm(forecast(f, none, o, 0.3, HELD).moves[:, watched, :3], axis=2).max() for o in (along, better)
    ]
    assert worst[1] <= worst[0]
    joints = [f.ends[w.beam, w.end] for w in better]
    assert all(a != b for a, b in pairwise(joints[:21]))  # no joint twice running


def test_a_frame_in_pieces_is_refused() -> None:
    f = frame([(0, 0, 0), (500, 0, 0), (0, 400, 0), (500, 400, 0)], [(0, 1), (2, 3)])
    with pytest.raises(Problem, match="piece"):
        WeldedFrame(f, np.zeros((2, 2), bool), 0.3, ())
