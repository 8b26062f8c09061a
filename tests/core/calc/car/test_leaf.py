"""A leaf spring against beams worked out in steps, and a parabola measured in steps."""

import math

import numpy as np
import pytest
from scipy.integrate import quad
from scipy.optimize import brentq, least_squares

from ironcage.core.calc.car.leaf import SPRING_STEEL_E, Leaf

FULL = Leaf(450, 550, 50, 6, 0, 1)  # one leaf: a beam of one section
STEPPED = Leaf(500, 500, 60, 7, 5, 0)  # all stepped: arms of one strength


def test_a_single_leaf_is_a_beam_on_two_supports() -> None:
    a, b, second = 450.0, 550.0, 50 * 6**3 / 12
    by_beam = 3 * SPRING_STEEL_E * second * (a + b) / (a * b) ** 2
    assert FULL.rate == pytest.approx(by_beam)
    moment = FULL.bending(1000.0)
    assert moment == pytest.approx(1000 * a * b / (a + b))
    assert FULL.stress(moment) == pytest.approx(moment * 3 / second)  # M·c/I


def test_stepped_leaves_bend_to_one_curvature() -> None:
    second = 5 * 60 * 7**3 / 12  # at the seat; towards the eyes in proportion to the moment
    load = 2000.0
    arm = lambda x: load / 2 * x * x / (SPRING_STEEL_E * second * x / 500)  # noqa: E731  # virtual work, M·m/EI
    bends = quad(arm, 0, 500)[0]
    assert STEPPED.rate == pytest.approx(load / bends)
    moment = STEPPED.bending(load)
    assert STEPPED.stress(moment) == pytest.approx(moment * 3.5 / second)


@pytest.mark.parametrize(("front", "rear"), [(500.0, 500.0), (420.0, 610.0)])
def test_a_seat_is_wound_up_as_a_beam_on_two_supports_is_turned(front: float, rear: float) -> None:
    """By finite elements of a uniform beam: its two arms, pinned at the eyes, a moment at the joint between them."""
    spring = Leaf(front, rear, 60, 8, 0, 1)
    ei = SPRING_STEEL_E * 60 * 8**3 / 12
    k = np.zeros((6, 6))
    for n, length in enumerate((front, rear)):
        part = np.array(
            [
                [12, 6 * length, -12, 6 * length],
                [6 * length, 4 * length**2, -6 * length, 2 * length**2],
                [-12, -6 * length, 12, -6 * length],
                [6 * length, 2 * length**2, -6 * length, 4 * length**2],
            ]
        )
        k[2 * n : 2 * n + 4, 2 * n : 2 * n + 4] += ei / length**3 * part
    free = [1, 2, 3, 5]  # both ends held up, free to turn
    turned = np.linalg.solve(k[np.ix_(free, free)], [0, 0, 1e6, 0])[2]
    assert spring.wind_up == pytest.approx(1e6 / turned)


def test_one_across_the_car_is_two_arms_from_its_middle() -> None:
    across = Leaf(560, 560, 60, 7, 0, 1)
    assert across.end_rate == pytest.approx(3 * SPRING_STEEL_E * 60 * 7**3 / 12 / 560**3)


def chord(length: float, arch: float) -> float:
    """Between the ends of a parabola so long and so deep, by its true length."""

    def long(c: float) -> float:
        return quad(lambda x: math.hypot(1, 8 * arch * x / c**2), -c / 2, c / 2)[0] - length

    return brentq(long, length * 0.8, length)


def test_the_eyes_come_apart_as_the_arch_flattens_and_the_shackle_takes_it() -> None:
    leaf = Leaf(480, 520, 50, 6, 3, 1, arch=80, shackle=70, lean=math.radians(10))
    travel = np.array([-60.0, 0.0, 60.0, 110.0])
    by_length = [chord(1000, abs(80 - z)) - chord(1000, 80) for z in travel]
    assert leaf.longer(travel) == pytest.approx(by_length, abs=0.6)  # what a parabola's first term leaves
    leans = leaf.shackle_lean(travel)
    assert leans[1] == pytest.approx(leaf.lean)
    ends = 70 * np.sin(leans)
    assert ends - ends[1] == pytest.approx(leaf.longer(travel))
    assert np.isnan(Leaf(480, 520, 50, 6, 3, 1, arch=200, shackle=20).shackle_lean(np.array([150.0]))).all()


def test_an_axle_steers_as_far_as_its_seats_go_apart() -> None:
    leaf = Leaf(480, 520, 50, 6, 3, 1, arch=80, shackle=70)
    base, lean = 760.0, 0.01
    rise = base / 2 * lean
    apart = float(leaf.back(np.array([rise]))[0] - leaf.back(np.array([-rise]))[0])
    assert leaf.roll_steer == pytest.approx(apart / base / lean, rel=1e-3)
    assert Leaf(480, 520, 50, 6, 3, 1).roll_steer == 0  # flat


def bent(a: float, b: float, arch: float) -> tuple[float, float, float]:
    """A thin strip of one curvature, its seat so far under its eyes: how far ahead of the seat the front eye is and how
    far behind it the rear one, and the slope at the seat; by arcs of a circle, nothing taken for small."""

    def eyes(curved: float, slope: float) -> tuple[float, float, float, float]:
        ends = []
        for length, tilt in ((a, slope), (b, -slope)):
            x = quad(lambda s, tilt=tilt: math.cos(tilt + curved * s), 0, length)[0]
            z = quad(lambda s, tilt=tilt: math.sin(tilt + curved * s), 0, length)[0]
            ends += [x, z]
        return tuple(ends)

    def off(told: np.ndarray) -> list[float]:
        _, front, _, rear = eyes(*told)
        return [front - arch, rear - arch]

    curved, slope = least_squares(off, [2 * arch / (a * b), 0.0], x_scale=[1e-4, 1e-2], xtol=1e-14, ftol=1e-14).x
    ahead, _, behind, _ = eyes(curved, slope)
    return ahead, behind, slope


@pytest.mark.parametrize(("a", "b"), [(500.0, 500.0), (450.0, 620.0), (640.0, 430.0)])
def test_uneven_arms_move_their_seat_as_a_strip_of_one_curvature(a: float, b: float) -> None:
    leaf, travel = Leaf(a, b, 50, 6, 3, 1, arch=60), np.array([-40.0, 40.0])
    rest = bent(a, b, 60)
    for rise, back, longer in zip(travel, leaf.back(travel), leaf.longer(travel), strict=True):
        moved = bent(a, b, 60 - rise)
        assert back == pytest.approx(moved[0] - rest[0], rel=0.03)  # what arcs do beyond the second order
        assert longer == pytest.approx(moved[0] + moved[1] - rest[0] - rest[1], rel=0.03)
        assert -rise * leaf.nose == pytest.approx(moved[2] - rest[2], abs=1e-3)
