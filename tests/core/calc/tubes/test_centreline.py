"""Routes of bent tubes against closed forms and against themselves cut in two."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.calc.tubes.centreline import Route, demand_bendable, nearest_pass
from ironcage.core.calc.tubes.segments import boxes_near, distances
from ironcage.problem import Problem

HOOP = np.array([[0, 500.0, 0], [0, 500, 900], [0, -500, 900], [0, -500, 0]])


def test_a_hoop_of_two_right_angles_is_as_long_as_its_quarter_circles_say() -> None:
    hoop = Route(HOOP, 150.0)
    assert hoop.length == pytest.approx(2 * 750 + 700 + math.pi * 150, abs=1e-9)
    assert [math.degrees(b.angle) for b in hoop.bends] == pytest.approx([90, 90])
    assert hoop.bends[0].start == pytest.approx(750)
    assert hoop.bends[1].clock == pytest.approx(0)
    middle, way = hoop.at(hoop.length / 2)
    np.testing.assert_allclose(middle, [0, 0, 900], atol=1e-9)
    np.testing.assert_allclose(way, [0, -1, 0], atol=1e-9)
    top = hoop.at(750 + 75 * math.pi / 2)[0]  # half way round the first bend
    np.testing.assert_allclose(
        top, [0, 350 + 150 * math.cos(math.pi / 4), 750 + 150 * math.sin(math.pi / 4)], atol=1e-9
    )
    radii = np.linalg.norm(hoop.line - [0, 350, 750], axis=1)
    bent = hoop.line[(hoop.line[:, 1] > 350) & (hoop.line[:, 2] > 750)]
    assert len(bent) > 5
    assert np.abs(radii[(hoop.line[:, 1] > 350) & (hoop.line[:, 2] > 750)] - 150).max() < 1e-9
    chords = (bent[:-1] + bent[1:]) / 2
    assert np.linalg.norm(chords - [0, 350, 750], axis=1).min() > 150 * 0.995


def test_the_plane_of_a_second_bend_is_clocked_as_a_right_hand_looking_along_the_tube_turns() -> None:
    route = Route(np.array([[0, 0, 0], [500.0, 0, 0], [500, 500, 0], [500, 500, 500]]), 50.0)
    # it first turns left about z; going on along y, its next turn is about x: from z to x about y is +90 degrees
    assert math.degrees(route.bends[1].clock) == pytest.approx(90)


@given(st.floats(1, 2600), st.floats(60, 140))
def test_a_bent_tube_cut_anywhere_is_the_same_tube_in_two(along: float, radius: float) -> None:
    points = np.array([[0, 0, 0], [700.0, 0, 0], [900, 600, 100], [1200, 700, 800.0], [1200, 1300, 900]])
    route = Route(points, radius)
    first, second = route.split(along)
    assert first.length + second.length == pytest.approx(route.length, abs=1e-6)
    assert first.length == pytest.approx(along, abs=1e-6)
    for part, shift in ((first, 0.0), (second, along)):
        for share in (0.0, 0.3, 0.8, 1.0):
            place, way = part.at(share * part.length)
            there, along_there = route.at(shift + share * part.length)
            np.testing.assert_allclose(place, there, atol=1e-5)
            np.testing.assert_allclose(way, along_there, atol=1e-6)


def test_corners_too_close_for_the_die_are_refused_with_the_radius_that_fits() -> None:
    route = Route(np.array([[0, 0, 0], [300.0, 0, 0], [300, 120, 0], [600, 120, 0]]), 100.0)
    with pytest.raises(
        Problem, match=r"T1: corner 1 and corner 2 are 120.0 mm apart, and bends of 100 mm radius need 200.0 mm"
    ) as no:
        demand_bendable(route, "T1")
    assert "A radius of 60 mm" in str(no.value)
    demand_bendable(Route(route.points, 60.0), "T1")
    with pytest.raises(Problem, match="30 mm of it straight for the bender"):
        demand_bendable(Route(route.points, 50.0), "T1", grip=30.0)
    with pytest.raises(Problem, match="turns back on itself"):
        demand_bendable(Route(np.array([[0, 0, 0], [300.0, 0, 0], [0, 0, 0.0]]), 10), "T1")


def test_a_hoop_whose_legs_cross_comes_within_nothing_of_itself() -> None:
    assert nearest_pass(Route(HOOP, 150)) == pytest.approx(1000)
    assert nearest_pass(Route(HOOP[[0, 2, 1, 3]], 10)) == pytest.approx(0, abs=1e-9)
    assert nearest_pass(Route(HOOP[:2])) == math.inf
    kinked = Route(np.array([[0, 0, 0], [300.0, 0, 0], [310, 0, 10], [600, 0, 10]]))
    assert nearest_pass(kinked) == math.inf  # a small kink is no crossing


def test_a_direction_carried_round_bends_stays_across_and_comes_back_as_it_was() -> None:
    flat = Route(np.array([[0, 0, 0], [500.0, 0, 0], [500, 500, 0], [0, 500, 0]]), 80.0)
    ups, ways = flat.carried(np.array([0, 0, 1.0]))
    np.testing.assert_allclose(ups, np.tile([0, 0, 1.0], (len(ups), 1)), atol=1e-12)  # bends in plan leave it upright
    sides, ways = Route(HOOP, 150).carried(np.array([0, 1.0, 0]))
    assert np.abs(np.einsum("ij,ij->i", sides, ways)).max() < 1e-12
    np.testing.assert_allclose(sides[-1], [0, -1, 0], atol=1e-9)  # up one leg outside, down the other still outside


@given(st.integers(0, 10_000))
def test_the_nearest_places_of_two_pieces_are_nearer_than_any_that_are_tried(seed: int) -> None:
    a, b, c, d = np.random.default_rng(seed).uniform(-100, 100, (4, 1, 3))
    gap, s, t = distances(a, b, c, d)
    shares = np.linspace(0, 1, 60)
    tried = np.linalg.norm((a + shares[:, None] * (b - a))[:, None] - (c + shares[:, None] * (d - c))[None], axis=2)
    assert gap[0] <= tried.min() + 1e-9
    assert gap[0] > tried.min() - 6
    assert np.linalg.norm(a + s[0] * (b - a) - c - t[0] * (d - c)) == pytest.approx(gap[0], abs=1e-9)


def test_boxes_near_finds_the_pairs_that_a_double_loop_finds() -> None:
    rng = np.random.default_rng(3)
    low = rng.uniform(0, 100, (60, 3))
    high = low + rng.uniform(1, 20, (60, 3))
    slow = {
        (i, j)
        for i in range(60)
        for j in range(i + 1, 60)
        if (low[i] <= high[j] + 2).all() and (low[j] <= high[i] + 2).all()
    }
    assert {tuple(p) for p in boxes_near(low, high, 2.0).tolist()} == slow


def test_corners_in_one_place_are_refused_and_corners_in_line_are_no_bends() -> None:
    with pytest.raises(Problem, match="corner 1 and corner 2 are in one place"):
        demand_bendable(Route(np.array([[0, 0, 0], [400.0, 0, 0], [400, 0, 0], [400, 300, 0]]), 76.2), "the tube")
    bent = Route(np.array([[0, 0, 0], [400.0, 0, 0], [400, 300, 0]]), 76.2)
    in_line = Route(np.array([[0, 0, 0], [150.0, 0, 0], [400, 0, 0], [400, 300, 0]]), 76.2)
    assert bent.length == pytest.approx(in_line.length) == pytest.approx(700 - 2 * 76.2 + math.pi / 2 * 76.2)
    for route in (bent, in_line):
        assert route.straights == pytest.approx([400 - 76.2, 300 - 76.2])


@pytest.mark.parametrize("degrees", [0.01, 0.049, 0.051, 0.3])
def test_a_slight_corner_is_in_the_length_and_the_marks_or_in_neither(degrees: float) -> None:
    turn = math.radians(degrees)
    route = Route(np.array([[0, 0, 0], [500.0, 0, 0], [500 + 500 * math.cos(turn), 500 * math.sin(turn), 0]]), 200.0)
    bent = sum(b.stop - b.start for b in route.bends)
    assert route.length == pytest.approx(float(route.straights.sum()) + bent, abs=1e-9)
    assert len(route.straights) == len(route.bends) + 1
