"""Facets counted by Euler's rule and by hand; folds counted by Maxwell's rule and stopped by the bays they name."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from ironcage.core.calc.plane.facets import facets
from ironcage.core.calc.plane.mechanisms import _rigid, find_mechanisms

CUBE = np.array(list(itertools.product((0.0, 600.0), (0.0, 400.0), (0.0, 300.0))))
EDGES = np.array([(a, b) for a, b in itertools.combinations(range(8), 2) if (CUBE[a] != CUBE[b]).sum() == 1])


def _boxes(count: int) -> tuple[np.ndarray, np.ndarray]:
    """Boxes in a row that share their ends."""
    nodes = np.array([(x * 500.0, y, z) for x in range(count + 1) for y in (0.0, 400.0) for z in (0.0, 300.0)])
    ends = [
        (a, b)
        for a, b in itertools.combinations(range(len(nodes)), 2)
        if (nodes[a] != nodes[b]).sum() == 1 and np.abs(nodes[a] - nodes[b]).max() <= 500
    ]
    return nodes, np.array(ends)


@pytest.mark.parametrize("count", [1, 3, 6])
def test_boxes_in_a_row_have_four_sides_each_and_every_bulkhead(count: int) -> None:
    nodes, ends = _boxes(count)
    found = facets(nodes, ends)
    assert len(found) == 4 * count + count + 1
    assert all(len(f.ring) == 4 and f.warp < 1e-9 for f in found)


@given(st.integers(0, 1000))
def test_facets_do_not_depend_on_how_the_frame_stands(seed: int) -> None:
    nodes, ends = _boxes(2)
    braced = np.vstack([ends, [(0, 5), (4, 11)]])
    turned = nodes @ Rotation.random(random_state=seed).as_matrix().T + seed
    assert {f.ring for f in facets(turned, braced)} == {f.ring for f in facets(nodes, braced)}


def test_a_diagonal_makes_two_triangles_and_a_joint_in_a_side_keeps_the_bay_whole() -> None:
    braced = np.vstack([EDGES, [(0, 6)]])
    rings = [set(f.ring) for f in facets(CUBE, braced)]
    assert len(rings) == 7
    assert sum(len(r) == 3 for r in rings) == 2
    nodes = np.vstack([CUBE, (CUBE[0] + CUBE[1]) / 2])
    split = np.vstack([EDGES[1:], [(0, 8), (8, 1)]])  # the first edge joins 0 and 1
    assert tuple(EDGES[0]) == (0, 1)
    fives = [f for f in facets(nodes, split) if len(f.ring) == 5]
    assert len(fives) == 2
    assert all(len(f.corners) == 4 for f in fives)


def test_a_warped_bay_is_told_with_how_far_it_is_off_flat() -> None:
    nodes = CUBE.copy()
    nodes[7] += [0, 0, 60.0]
    found = {f.ring: f.warp for f in facets(nodes, EDGES)}
    assert len(found) == 6
    top = next(w for ring, w in found.items() if set(ring) == {1, 3, 5, 7})
    assert top == pytest.approx(
        60 / 4 / np.sqrt(1 + (30 / 600) ** 2 + (30 / 400) ** 2), rel=1e-6
    )  # a quarter, square to the mean plane


def test_a_member_with_a_loose_end_and_an_outer_rim_are_no_bay() -> None:
    nodes = np.vstack([CUBE, CUBE[0] - [100, 0, 0]])
    assert len(facets(nodes, np.vstack([EDGES, [(0, 8)]]))) == 6
    assert facets(np.zeros((0, 3)), np.zeros((0, 2), int)) == ()


def test_a_cube_of_hinges_folds_six_ways_and_six_braces_stop_it() -> None:
    found = facets(CUBE, EDGES)
    diagonals = np.array([(f.ring[0], f.ring[2]) for f in found])
    ways = find_mechanisms(CUBE, EDGES, diagonals)
    assert len(ways) == 3 * 8 - 6 - 12  # Maxwell 1864
    assert sorted(w.bay for w in ways) == [0, 1, 2, 3, 4, 5]
    for way in ways:
        one = EDGES[:, 0], EDGES[:, 1]
        stretch = np.einsum("ij,ij->i", way.motion[one[1]] - way.motion[one[0]], CUBE[one[1]] - CUBE[one[0]])
        assert np.abs(stretch).max() < 1e-6
        assert np.linalg.norm(way.motion, axis=1).max() == pytest.approx(1)
    assert find_mechanisms(CUBE, np.vstack([EDGES, diagonals]), np.zeros((0, 2), int)) == ()


@given(st.sets(st.integers(0, 15), max_size=6))
def test_bracing_the_bays_that_folds_name_leaves_no_fold_that_a_bay_shows(braced: set[int]) -> None:
    nodes, ends = _boxes(3)
    found = facets(nodes, ends)
    across = np.array([(f.ring[0], f.ring[2]) for f in found])
    bars = np.vstack([ends, across[sorted(b for b in braced if b < len(across))]]) if braced else ends
    ways = find_mechanisms(nodes, bars, across)
    named = [w.bay for w in ways if w.bay >= 0]
    assert len(set(named)) == len(named)
    assert not set(named) & braced
    if named:
        fewer = find_mechanisms(nodes, np.vstack([bars, across[named[:1]]]), across)
        assert len(fewer) == len(ways) - 1
    assert all(w.bay < 0 for w in find_mechanisms(nodes, np.vstack([bars, across[named]]) if named else bars, across))


def test_bays_as_good_as_each_other_do_not_change_places_by_a_hair() -> None:
    """One bar through a cube leaves five folds for six equal sides: rounding must not choose which of them goes
    without."""
    cube = np.sign(CUBE) * 500.0
    across = np.array([(f.ring[0], f.ring[2]) for f in facets(cube, EDGES)])
    bars = np.vstack([EDGES, [(0, 7)]])
    hairs = np.random.default_rng(3).normal(0, 1e-8, (12, *cube.shape))
    told = {tuple(sorted(w.bay for w in find_mechanisms(cube + hair, bars, across))) for hair in hairs}
    assert len(told) == 1
    assert len(told.pop()) == 5


def test_a_joint_held_in_line_by_two_tubes_swings_and_no_bay_can_stop_it() -> None:
    nodes = np.array([[0, 0, 0], [500.0, 0, 0], [0, 400, 0], [0, 0, 300], [250, 0, 0]])
    bars = np.array([(0, 4), (4, 1), (0, 2), (0, 3), (1, 2), (1, 3), (2, 3)])
    ways = find_mechanisms(nodes, bars, np.zeros((0, 2), int))
    assert len(ways) == 15 - 6 - 7  # the middle joint leaves its line two ways
    assert all(w.bay == -1 for w in ways)


def test_the_motions_of_a_rigid_body_are_all_taken_for_no_fold() -> None:
    places = np.random.default_rng(4).normal(size=(7, 3)) * 900 + [0, 0, 300]
    basis = _rigid(places)
    assert basis.shape == (21, 6)
    for way in np.eye(3):
        for motion in (np.tile(way, (7, 1)), np.cross(way, places)):  # pushed along an axis, turned about it
            flat = motion.ravel()
            assert np.allclose(basis @ (basis.T @ flat), flat)
