"""Welds that give, bends that go oval, engines that carry load: against closed forms and each other."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ironcage.core.calc.frames.beams import demand_one_piece, pieces, solve, with_end_fixity
from ironcage.core.calc.frames.block import Block
from ironcage.core.calc.frames.rigs import rigid_motions
from ironcage.core.calc.sections import Rect, Round
from ironcage.core.calc.tubes.ovalise import flexibility
from ironcage.problem import Problem
from tests.core.calc.frames.test_beams import E, frame_of, held_at, load_at

LENGTH = 900.0


@pytest.mark.parametrize("fixity", [0.9, 0.5, 0.1])
def test_a_cantilever_on_a_giving_weld_sags_by_its_spring_too(fixity: float) -> None:
    frame = replace(frame_of([[0, 0, 0], [LENGTH, 0, 0]], [[0, 1]], shear=False), fixity=np.array([[fixity, 1.0]]))
    i = float(frame.i_y[0])
    u = solve(frame, held_at(frame, 0), load_at(frame, 1, 0, 0, -100)).u[1, :, 0]
    spring = 3 * E * i / LENGTH * fixity / (1 - fixity)
    bends = 100 * LENGTH**3 / (3 * E * i)
    assert u[2] == pytest.approx(-(bends + 100 * LENGTH**2 / spring), rel=1e-9)
    assert u[4] == pytest.approx(100 * LENGTH**2 / (2 * E * i) + 100 * LENGTH / spring, rel=1e-9)


def test_a_factor_of_one_is_the_rigid_weld_and_near_nothing_is_a_hinge() -> None:
    nodes = [[0, 0, 0], [0, 0, 700], [900, 100, 700], [900, 0, 0]]
    ends = [[0, 1], [1, 2], [2, 3]]
    rigid = frame_of(nodes, ends, Rect(30, 50, 2))
    load = load_at(rigid, 1, 100, 50, -20)
    held = held_at(rigid, 0, 3)
    base = solve(rigid, held, load).u
    assert np.allclose(solve(replace(rigid, fixity=1.0), held, load).u, base, rtol=1e-12)
    assert np.allclose(solve(replace(rigid, fixity=1 - 1e-12), held, load).u, base, rtol=1e-6)
    # a beam whose both ends are nearly hinges carries a pull as before and hardly any bending
    bar = frame_of([[0, 0, 0], [LENGTH, 0, 0]], [[0, 1]])
    hinged = replace(bar, fixity=1e-9)
    assert hinged.local_stiffness[0][0, 0] == pytest.approx(bar.local_stiffness[0][0, 0])
    assert abs(hinged.local_stiffness[0][5, 5]) < 1e-6 * bar.local_stiffness[0][5, 5]


@given(first=st.floats(0.05, 1), second=st.floats(0.05, 1), roll=st.floats(-3, 3))
@settings(max_examples=40)
def test_softened_beams_stay_symmetric_free_to_move_and_no_stiffer(first: float, second: float, roll: float) -> None:
    frame = frame_of([[0, 0, 0], [300, 500, 200]], [[0, 1]], Rect(30, 50, 2), roll=roll)
    soft = replace(frame, fixity=np.array([[first, second]]))
    k = soft.global_stiffness[0]
    size = np.abs(k).max()
    assert np.abs(k - k.T).max() <= 1e-9 * size
    assert np.abs(k @ rigid_motions(frame.nodes)).max() <= 1e-6 * size
    assert np.linalg.eigvalsh(frame.global_stiffness[0] - k).min() >= -1e-6 * size


def test_a_pinned_end_stays_pinned_whatever_its_weld() -> None:
    pinned = frame_of([[0, 0, 0], [LENGTH, 0, 0]], [[0, 1]], pinned=[[False, True]])
    k = replace(pinned, fixity=0.6).local_stiffness[0]
    assert np.abs(k[9:, :]).max() == 0
    assert 0 < k[5, 5] < pinned.local_stiffness[0][5, 5]


def test_soften_leaves_what_is_rigid_untouched() -> None:
    k = frame_of([[0, 0, 0], [LENGTH, 0, 0]], [[0, 1]]).local_stiffness
    assert with_end_fixity(k, np.ones((1, 2)), np.ones((1, 2))) == pytest.approx(k)


def test_a_bend_goes_oval_as_von_karman_has_it() -> None:
    """His own figures: with h = tR/r² of 0.3 the bend is 5.28 times as flexible, of 1 it is 1.69 times, and a thick
    one hardly more."""
    for h, wanted in ((0.3, (12 * 0.09 + 10) / (12 * 0.09 + 1)), (1.0, 22 / 13)):
        tube = Round(40, 2)
        middle = 19.0
        assert flexibility(h * middle**2 / 2, tube) == pytest.approx(wanted)
    assert flexibility(2000.0, Round(40, 2)) == pytest.approx(1.0, abs=0.01)
    assert flexibility(100.0, Round(40, 1)) > flexibility(100.0, Round(40, 3)) > 1


def _whole(block: Block, nodes: np.ndarray) -> np.ndarray:
    made = np.zeros((6 * len(nodes), 6 * len(nodes)))
    for k, dofs in block.elements(nodes):
        for i, row in enumerate(dofs):
            for j, column in enumerate(dofs):
                made[row, column] += k[i, j]
    return made


@pytest.mark.parametrize("count", [3, 4, 5])
def test_a_block_resists_what_strains_its_mounts_and_nothing_else(count: int) -> None:
    nodes = np.random.default_rng(count).uniform(-300, 300, (count, 3))
    k = _whole(Block(tuple(range(count)), 2000.0), nodes)
    assert np.abs(k @ rigid_motions(nodes)).max() < 1e-5
    values = np.linalg.eigvalsh(k)
    assert (np.abs(values) < 1e-6).sum() == 6 * count - (3 * count - 6)
    assert values.max() == pytest.approx(2000.0)  # pulling one mount alone strains at most its own spring


def test_two_mounts_carry_a_push_between_them_as_two_springs_in_a_row() -> None:
    nodes = np.array([[0.0, 0, 0], [400, 0, 0]])
    k = _whole(Block((0, 1), 1000.0), nodes)
    apart = np.zeros(12)
    apart[0], apart[6] = -0.5, 0.5
    assert (k @ apart)[6] == pytest.approx(500.0)


def test_an_engine_bolted_in_stiffens_a_bay_and_joins_pieces() -> None:
    nodes = [[0, 0, 0], [600, 0, 0], [600, 0, 400], [0, 0, 400], [0, 500, 0], [600, 500, 0]]
    frame = frame_of(nodes, [[0, 1], [1, 2], [2, 3], [3, 0], [0, 4], [1, 5], [4, 5]])
    held, load = held_at(frame, 0, 1), load_at(frame, 3, 200)
    plain = abs(solve(frame, held, load).u[3, 0, 0])
    with_engine = [
        abs(solve(replace(frame, stressed=(Block((0, 1, 2, 3), mount),)), held, load).u[3, 0, 0])
        for mount in (100.0, 1e6)
    ]
    assert plain > with_engine[0] > with_engine[1]
    apart = frame_of([[0, 0, 0], [500, 0, 0], [0, 300, 0], [500, 300, 0]], [[0, 1], [2, 3]])
    assert len(pieces(apart)) == 2
    with pytest.raises(Problem, match="in 2 pieces"):
        demand_one_piece(apart)
    demand_one_piece(replace(apart, stressed=(Block((0, 1, 2, 3), 1e5),)))
