"""Tube-end cuts against the classical formula and against a search along each line for the surface."""

import math

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from ironcage.core.calc.frames.beams import element_axes
from ironcage.core.calc.sections import Angle, AnySection, Rect, Round
from ironcage.core.calc.sections.contour import CircleContour
from ironcage.core.calc.tubes import cope
from ironcage.core.calc.tubes.ends import end_profile
from ironcage.core.calc.tubes.receivers import Plane, Prism, facing
from ironcage.problem import Problem


def axes_along(way, roll: float = 0.0) -> np.ndarray:
    return element_axes(np.zeros((1, 3)), np.array([way], dtype=float), np.array([roll]))[0]


@given(st.floats(15, 165), st.floats(-12, 12), st.floats(12, 38), st.floats(38, 60))
def test_round_on_round_at_any_angle_and_offset_is_the_classical_curve(
    degrees: float, offset: float, od: float, onto: float
) -> None:
    """x(φ) = (√(R² − (across − e)²) − up) / sin θ, the developed saddle of workshop books."""
    theta = math.radians(degrees)
    tube = axes_along([math.cos(theta), 0, math.sin(theta)])
    receiver = Prism(np.array([0.0, offset, 0.0]), axes_along([1, 0, 0]), CircleContour(onto / 2))
    profile = end_profile(Round(od, 1.5), tube, np.zeros(3), 1.0, receiver)
    r, big = od / 2, onto / 2
    if r + abs(offset) > big - 0.1:
        return  # overhangs the receiver: another test
    phi = np.arange(360) / 360 * 2 * np.pi
    across, up = (r * np.cos(phi) * tube[1][i] + r * np.sin(phi) * tube[2][i] for i in (1, 2))
    assert profile.outer == pytest.approx((np.sqrt(big**2 - (across - offset) ** 2) - up) / math.sin(theta), abs=1e-9)


@pytest.mark.parametrize("way", [[0.2, 0.3, 1], [1, 0.4, 0.5], [-0.6, 1, 0.3]])
@pytest.mark.parametrize("receiver", [Round(45, 2.5), Rect(40, 60, 3), Rect(40, 60, 3, 6), Angle(50, 40, 5)])
def test_profile_is_where_a_search_finds_the_surface(way: list[float], receiver: AnySection) -> None:
    """Step in along each line from far out and halve until the surface: nothing shared with the closed form."""
    tube, onto = axes_along(way), axes_along([1, 0.1, 0], roll=0.3)
    profile = end_profile(Rect(20, 30, 2), tube, np.zeros(3), 1.0, Prism(np.zeros(3), onto, receiver.contour), lines=40)

    def is_inside(place: np.ndarray) -> bool:
        y, z = onto[1] @ place, onto[2] @ place
        if isinstance(receiver, Round):
            return math.hypot(y, z) < receiver.od_mm / 2
        if isinstance(receiver, Angle):
            y, z = y + receiver.centroid[0], z + receiver.centroid[1]
            return (0 < y < receiver.leg_y_mm and 0 < z < receiver.wall_mm) or (
                0 < z < receiver.leg_z_mm and 0 < y < receiver.wall_mm
            )
        r = receiver.corner_mm
        y, z = abs(y) - receiver.width_mm / 2 + r, abs(z) - receiver.height_mm / 2 + r
        return max(y, z) < r and (min(y, z) < 0 or math.hypot(y, z) < r)

    for (y, z), found in zip(Rect(20, 30, 2).contour.lines(40)[1], profile.outer, strict=True):
        line = lambda t: y * tube[1] + z * tube[2] + t * tube[0]  # noqa: B023, E731
        steps = np.arange(400, -400, -0.25)
        first = next((t for t in steps if is_inside(line(t))), None)
        if first is None:
            continue
        low, high = first, first + 0.25
        for _ in range(40):
            middle = (low + high) / 2
            low, high = (middle, high) if is_inside(line(middle)) else (low, middle)
        assert found == pytest.approx(low, abs=0.01)


def test_square_saddle_by_hand() -> None:
    """30 on 38 at a right angle: 19 mm on the crown, √(19² − 15²) = 11.66 at the sides, the inner wall governs
    there."""
    receiver = Prism(np.zeros(3), axes_along([1, 0, 0]), CircleContour(19.0))
    profile = end_profile(Round(30, 1.5), axes_along([0, 0, 1]), np.zeros(3), 1.0, receiver)
    assert profile.outer.max() == pytest.approx(19.0)
    assert profile.saddle_tip == pytest.approx(math.sqrt(19**2 - 15**2), abs=1e-3)
    side = profile.outer.argmin()
    assert profile.cut[side] == pytest.approx(math.sqrt(19**2 - 13.5**2))
    assert profile.shoulder == pytest.approx(19.0)
    assert profile.misses == 0
    assert profile.girth_mm == pytest.approx(30 * math.pi)


def test_a_mitre_halves_the_angle_and_both_halves_meet() -> None:
    into, away = np.array([1.0, 0, 0]), np.array([math.cos(2.0), math.sin(2.0), 0])
    normal = into - away
    plane = Plane(np.zeros(3), normal / np.linalg.norm(normal))
    one = end_profile(Rect(40, 20, 2), axes_along(into), np.zeros(3), 1.0, plane)
    other = end_profile(Rect(40, 20, 2), axes_along(away), np.zeros(3), 1.0, plane)
    assert one.shoulder == pytest.approx(other.shoulder)
    assert one.shoulder == pytest.approx(20 / math.tan(1.0))  # half the width over the tangent of half the angle


def test_a_tube_wider_than_its_seat_and_a_flat_crossing_are_told() -> None:
    receiver = Prism(np.zeros(3), axes_along([1, 0, 0]), CircleContour(15.0))
    wide = end_profile(Round(38, 2), axes_along([0, 0, 1]), np.zeros(3), 1.0, receiver)
    assert 0.2 < wide.misses < 0.8
    with pytest.raises(Problem, match="too flat"):
        cope.demand_crossing(np.array([1.0, 0, 0]), np.array([math.cos(0.05), math.sin(0.05), 0]))


def test_hole_saws_are_the_nearest_common_size() -> None:
    assert cope.nearest_saw(38.1) == 38
    assert cope.nearest_saw(45) in (44.0, 46.0)
    assert cope.nearest_saw(130) is None


@pytest.mark.parametrize("roll", [0.0, 2.5, 7.3])
@pytest.mark.parametrize("lines", [8, 72, 360])
def test_tips_do_not_depend_on_the_lines(roll: float, lines: int) -> None:
    """38 on 38 at a right angle: the outer wall feathers out at the joint, 0; along the paper the inner wall
    governs, √(19² − 17²)."""
    receiver = Prism(np.zeros(3), axes_along([1, 0, 0]), CircleContour(19.0))
    made = end_profile(Round(38, 2), axes_along([0, 0, 1], math.radians(roll)), np.zeros(3), 1.0, receiver, lines)
    assert made.saddle_tip == pytest.approx(0, abs=1e-3)
    assert made.template_tip == pytest.approx(math.sqrt(19**2 - 17**2), abs=1e-3)
    assert made.shoulder == pytest.approx(19, abs=1e-3)
    assert made.bar == made.saddle_tip


@given(
    st.sampled_from([Round(38, 2), Rect(30, 30, 2, 3), Angle(40, 40, 4)]),
    st.sampled_from([Round(25, 2), Rect(30, 30, 2, 3), Rect(40, 20, 2), Angle(30, 30, 3)]),
    st.floats(-0.7, 0.7),
    st.floats(-0.7, 0.7),
    st.floats(0, 1.5),
    st.floats(-20, 20),
)
@example(Angle(40, 40, 4), Rect(40, 20, 2), 0.0, 0.4644227756039563, 0.517578125, 4.787109375)  # deepest at a kink
def test_tips_are_the_extremes_of_many_lines_and_no_saddle_tip_comes_from_one_that_misses(
    section: AnySection, onto: AnySection, a: float, b: float, roll: float, aside: float
) -> None:
    """Against ten times as many lines: none goes further than what is told, and a line that touches goes as far."""
    tube = axes_along([a, b, 1], roll)
    receiver = Prism(np.array([0, aside, 0]), axes_along([1, 0, 0], 0.4), onto.contour)
    made = end_profile(section, tube, np.zeros(3), 1.0, receiver)
    dense = end_profile(section, tube, np.zeros(3), 1.0, receiver, lines=3600)
    assert made.template_tip <= dense.cut.min() + 1e-3
    assert made.shoulder >= dense.cut.max() - 1e-3

    leave, contour = facing(receiver, tube[0]), section.contour
    around = np.append(contour.lines(3600)[0], contour.girth)
    outer, touches = leave(contour.at(around)[0] @ tube[1:])
    ends = np.flatnonzero(touches[1:] != touches[:-1])
    on, off = np.where(touches[ends], (around[ends], around[ends + 1]), (around[ends + 1], around[ends]))
    for _ in range(60):  # halve until the last line that touches, for the cut may end steeply there
        middle = (on + off) / 2
        on, off = np.where(leave(contour.at(middle)[0] @ tube[1:])[1], (middle, off), (on, middle))
    furthest = min([*outer[touches], *leave(contour.at(on)[0] @ tube[1:])[0]], default=made.template_tip)
    assert furthest - 0.05 <= made.saddle_tip <= furthest + 1e-3


def test_a_line_that_misses_a_flat_side_is_told_by_the_edge_it_passes_last() -> None:
    """30 wide on 20 wide: lines beside the receiver end level with the face that the others land on, not behind it."""
    made = end_profile(
        Rect(30, 20, 2), axes_along([0, 0, 1]), np.zeros(3), 1.0,
        Prism(np.zeros(3), axes_along([1, 0, 0]), Rect(20, 20, 2).contour),
    )  # fmt: skip
    assert made.misses > 0.2
    assert (made.saddle_tip, made.template_tip, made.shoulder) == (pytest.approx(10),) * 3


def test_a_wrap_is_as_long_as_the_tube_is_round() -> None:
    """30 x 30 x 2 with corners of 3: four flats of 24 and four quarter circles; an angle both faces of both legs."""
    assert Rect(30, 30, 2, 3).contour.girth == pytest.approx(4 * 24 + 2 * math.pi * 3)
    assert Angle(40, 30, 4).contour.girth == pytest.approx(2 * (40 + 30))
    contour = Rect(60, 30, 2, 4).contour
    for quarter, place in enumerate([(30, 0), (0, 15), (-30, 0), (0, -15)]):
        points, normals = contour.at(np.array([contour.towards(quarter * math.pi / 2)]))
        assert points[0] == pytest.approx(place, abs=1e-4)
        assert normals[0] == pytest.approx(np.array(place) / np.linalg.norm(place), abs=1e-6)


@given(st.floats(0, 2 * math.pi), st.floats(0.5, 14))
def test_a_rounded_outline_is_as_wide_as_it_reaches_to_either_side(way: float, corner: float) -> None:
    """From any side a box with rounded corners is as wide as its support says, its corners' bulge with it."""
    box, along = Rect(40, 30, 2, corner), np.array([math.cos(way), math.sin(way)])
    side = box.contour.facing(along)
    assert side.high == pytest.approx(box.reach(-along[1], along[0]), abs=1e-9)
    assert side.low == pytest.approx(-box.reach(along[1], -along[0]), abs=1e-9)
