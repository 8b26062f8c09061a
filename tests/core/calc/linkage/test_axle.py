"""A live axle on links, against closed forms and a solver that knows nothing of it."""

import numpy as np
import pytest
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation

from ironcage.core.calc.linkage.axle import LiveAxle, axle_curves, axle_forces, axle_poses

X, HALF, Z, RADIUS = -2200.0, 600.0, 310.0, 310.0
LEFT, RIGHT = np.array([X, HALF, Z]), np.array([X, -HALF, Z])
MIRROR = np.array([1.0, -1.0, 1.0])


def pairs(*places: tuple[float, float, float]) -> np.ndarray:
    """Places and their mirror images."""
    return np.array([p for place in places for p in (np.array(place), np.array(place) * MIRROR)])


def parallel(rod: float = 700.0) -> LiveAxle:
    """Four level links of 500 and a level track rod from the frame's right to the axle's left."""
    inner = pairs((X + 500, 400, 230), (X + 500, 400, 400))
    outer = pairs((X, 400, 230), (X, 400, 400))
    return LiveAxle(np.vstack([inner, [[X, 350 - rod, 300]]]), np.vstack([outer, [[X, 350, 300]]]), LEFT, RIGHT, RADIUS)


def triangulated() -> LiveAxle:
    """Lower links level and straight ahead, upper ones meeting in plan at the axle's middle, sloping down forward."""
    inner = pairs((X + 550, 420, 230), (X + 450, 380, 380))
    outer = pairs((X, 420, 230), (X, 60, 420))
    return LiveAxle(inner, outer, LEFT, RIGHT, RADIUS)


def converging() -> LiveAxle:
    """Links that meet ahead of the axle in the side view, and a level track rod."""
    inner = pairs((X + 500, 400, 250), (X + 400, 400, 380))
    outer = pairs((X, 400, 220), (X, 400, 420))
    return LiveAxle(np.vstack([inner, [[X, -350, 300]]]), np.vstack([outer, [[X, 350, 300]]]), LEFT, RIGHT, RADIUS)


def test_a_track_rod_that_is_level_shifts_the_axle_by_its_arc() -> None:
    rise = np.array([-80.0, -40.0, 0.0, 40.0, 80.0])
    found = axle_poses(parallel(), rise, rise)
    told = axle_curves(found)
    aside = np.zeros(5)
    for _ in range(20):  # the links' own arc draws the axle forward, and each arc is followed sideways of the other
        back = 500 - np.sqrt(500**2 - rise**2 - aside**2)
        aside = 700 - np.sqrt(700**2 - rise**2 - back**2)
    assert told.ahead == pytest.approx(back, abs=1e-6)
    assert told.aside == pytest.approx(-aside, abs=1e-6)
    assert told.pinion == pytest.approx(0, abs=1e-9)  # parallel and equal: it does not turn
    assert told.bind == pytest.approx(0, abs=1e-6)


def test_a_track_rod_makes_its_own_height_the_roll_centre_and_parallel_links_roll_freely() -> None:
    roll = np.array([0.0, 60.0])
    told = axle_curves(axle_poses(parallel(), roll, -roll))
    assert told.roll_centre[0] == pytest.approx(300 - (Z - RADIUS), abs=1e-6)
    assert told.bind == pytest.approx(0, abs=1e-6)


def test_links_that_meet_ahead_bind_as_the_axle_rolls() -> None:
    """Its left end wants to pitch one way, its right end the other; rising evenly it moves freely."""
    roll = np.array([0.0, 60.0])
    assert axle_curves(axle_poses(converging(), roll, roll)).bind == pytest.approx(0, abs=1e-6)
    assert 0.1 < axle_curves(axle_poses(converging(), roll, -roll)).bind[1] < 5


def test_the_roll_axis_of_triangulated_links_goes_through_where_the_upper_ones_meet() -> None:
    """The upper links' lines meet over the middle of the car at a height p; the lower ones are level and parallel, so
    that the axle rolls about a level line through p."""
    share = 60 / (380 - 60)
    p = 420 - share * (380 - 420)
    told = axle_curves(axle_poses(triangulated(), np.zeros(1), np.zeros(1)))
    assert told.roll_centre[0] == pytest.approx(p, abs=1e-6)
    assert told.roll_steer[0] == pytest.approx(0, abs=1e-9)


def test_the_contacts_turn_about_the_instant_centre_of_the_side_view() -> None:
    """Links that meet at a place ahead: the contact moves square to the line to it."""
    low, high = (250 - 220) / 500, (380 - 420) / 400
    ahead = (420 - 220) / (low - high)
    centre = np.array([ahead, 220 + low * ahead])
    told = axle_curves(axle_poses(converging(), np.zeros(1), np.zeros(1)))
    assert told.anti[0] == pytest.approx((centre[1] - (Z - RADIUS)) / centre[0], rel=1e-9)


@pytest.mark.parametrize("axle", [parallel(), triangulated()])
def test_positions_are_those_of_a_general_solver(axle: LiveAxle) -> None:
    rng = np.random.default_rng(5)
    left, right = rng.uniform(-70, 70, (2, 6))
    found = axle_poses(axle, left, right)

    def misses(v: np.ndarray, n: int) -> np.ndarray:
        turn, place = Rotation.from_rotvec(v[3:] / 500).as_matrix(), axle.middle + v[:3]
        at = (axle.outer - axle.middle) @ turn.T + place
        heights = [
            1e5 * ((turn @ (w - axle.middle) + place)[2] - w[2] - t)
            for w, t in ((axle.left, left[n]), (axle.right, right[n]))
        ]
        return np.array([*(np.linalg.norm(at - axle.inner, axis=1) - axle.lengths), *heights])

    for n in range(len(left)):
        best = least_squares(misses, np.zeros(6), args=(n,), xtol=1e-15, ftol=1e-15, gtol=1e-15)
        turn, place = Rotation.from_rotvec(best.x[3:] / 500).as_matrix(), axle.middle + best.x[:3]
        for point in (axle.left, axle.outer[0], axle.outer[-1]):
            assert found.at(point)[n] == pytest.approx(turn @ (point - axle.middle) + place, abs=1e-3)


def test_rates_are_the_slopes_of_the_positions() -> None:
    axle, step = triangulated(), 1e-3
    at = axle_poses(axle, np.array([20.0, 20 + step, 20 - step]), np.array([-10.0, -10 + step, -10 - step]))
    slope = (at.at(axle.outer[0])[1] - at.at(axle.outer[0])[2]) / (2 * step)
    assert at.moves(at.heave, axle.outer[0])[0] == pytest.approx(slope, abs=1e-6)


def test_an_axle_without_a_track_rod_on_parallel_links_is_free() -> None:
    whole = parallel()
    loose = LiveAxle(whole.inner[:4], whole.outer[:4], LEFT, RIGHT, RADIUS)
    assert loose.free()
    assert not whole.free()
    with pytest.raises(ValueError, match="free to move"):
        axle_poses(loose, np.zeros(1), np.zeros(1))


SPRINGS = np.array([[[X, y, 700], [X, y, 350]] for y in (450.0, -450.0)])
STILL = np.zeros(3)


def test_level_links_bear_drive_as_a_lever_does_and_springs_the_weight() -> None:
    """By hand: 1000 N forward on the ground of each wheel; links at 230 and 400 of height: the lower pair pushes the
    frame by 2000·400/170, the upper pair pulls it by 2000·230/170."""
    axle = parallel()
    push = np.array([1000.0, 0, 800])
    pulls = sum(axle_forces(axle, SPRINGS, wheel - [0, 0, RADIUS], push, STILL) for wheel in (LEFT, RIGHT))
    assert pulls[:2] == pytest.approx([-2000 * 400 / 170 / 2] * 2)
    assert pulls[2:4] == pytest.approx([2000 * 230 / 170 / 2] * 2)
    assert pulls[4:] == pytest.approx([0, -800, -800], abs=1e-6)


@pytest.mark.parametrize("make", [parallel, triangulated, converging])
def test_links_and_springs_balance_what_pushes(make) -> None:
    axle, rng = make(), np.random.default_rng(8)
    inner, outer = np.vstack([axle.inner, SPRINGS[:, 0]]), np.vstack([axle.outer, SPRINGS[:, 1]])
    ways = (inner - outer) / np.linalg.norm(inner - outer, axis=1)[:, None]
    for _ in range(20):
        at, force, moment = rng.uniform(-700, 700, 3), rng.normal(0, 2000, 3), rng.normal(0, 3e5, 3)
        pulls = axle_forces(axle, SPRINGS, at, force, moment)[:, None] * ways
        np.testing.assert_allclose(pulls.sum(axis=0), -force, atol=1e-6)
        np.testing.assert_allclose(np.cross(outer, pulls).sum(axis=0), -moment - np.cross(at, force), atol=1e-2)


def test_an_axle_that_nothing_holds_up_bears_nothing() -> None:
    with pytest.raises(ValueError, match="leave the axle free"):
        axle_forces(parallel(), np.empty((0, 2, 3)), LEFT, np.array([0, 0, 1000.0]), STILL)
