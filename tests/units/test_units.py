"""What a builder types and reads."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.units import METRIC, UnitProblem, Units, angle, force, length, mass
from ironcage.units.shown import angle_minutes
from ironcage.units.typed import pipe

INCH = 25.4


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("1372", 1372),
        ('54"', 54 * INCH),
        ("4' 6 3/8\"", 54.375 * INCH),
        ('54 3/8"', 54.375 * INCH),
        ('1-5/8"', 1.625 * INCH),
        ("137.2 cm", 1372),
        ("12 ga", 0.109 * INCH),
        ("16 ga sheet", 0.0598 * INCH),
        ("1/16", INCH / 16),
        ('54 3/8 - 2*1.5"', 51.375 * INCH),
        ('1372 - 1"', 1372 - INCH),
        ("(100 + 20)/3", 40),
        ("2 ft", 609.6),
        ("-3/4 in", -0.75 * INCH),
        ("4'-6\"", 42 * INCH),
        ("1.5e2", 150),
        ("4′ 6″", 54 * INCH),
        ("10 thou", 0.254),
        ("2 1/2", 2.5 * INCH),
        ("100/4", 25),
    ],
)
def test_lengths_as_typed_in_a_metric_shop(text: str, mm: float) -> None:
    assert length(text) == pytest.approx(mm, rel=1e-12)


def test_a_bare_number_counts_in_the_builders_own_unit() -> None:
    inches = Units("inch", 16, "lb")
    assert inches.read_length("54 3/8") == pytest.approx(54.375 * INCH)
    assert inches.read_length("54 - 10 mm") == pytest.approx(54 * INCH - 10)
    assert inches.read_mass("10") == pytest.approx(4.5359237)
    assert METRIC.read_mass("2 lb 4 oz") == pytest.approx(2.25 * 0.45359237)


@pytest.mark.parametrize(
    ("text", "at", "says"),
    [
        ("12 mn", 3, "mn"),
        ("12 $", 3, "$"),
        ("", 0, "No length"),
        ("3 +", 3, "number is missing"),
        ("(3", 2, "bracket"),
        ("1/0", 0, "divides"),
        ('2"*3"', 2, "multiplies"),
        ("3 4", 2, "one too many"),
        ("99 ga", 3, "no 99 gauge"),
        ("1e300", 0, "not a usable"),
        ("5 mm 3", 5, "no unit"),
        ("1' 20\"", 3, "sign"),
    ],
)
def test_a_refusal_says_what_was_not_understood_and_where(text: str, at: int, says: str) -> None:
    with pytest.raises(UnitProblem, match=r"^[^\n]+$") as caught:
        length(text)
    assert says in str(caught.value)
    assert caught.value.at == at


@given(st.floats(-5000, 5000), st.sampled_from([METRIC, Units("inch", 0), Units("inch", 16), Units("inch", 64)]))
def test_what_is_shown_can_be_typed_back_within_its_rounding(mm: float, units: Units) -> None:
    shown = units.length(mm).partition(" ±")[0]
    half = 0.05 if units.length_unit == "mm" else INCH / 2000 if not units.fraction else INCH / (2 * units.fraction)
    assert units.read_length(shown) == pytest.approx(mm, abs=half * 1.001)


def test_an_inch_fraction_says_how_far_it_may_be_off() -> None:
    units = Units("inch", 16)
    assert units.length(54.375 * INCH) == '54 3/8"'
    assert units.length(101) == '4" ±1/32'
    assert units.length(101, unit=False) == '4"'
    assert units.rounding == 'to 1/16" ±1/32'
    assert units.length(-0.0001) == '0"'
    assert METRIC.length(-0.01) == "0.0 mm"


def test_pipe_by_schedule_is_its_true_outside_diameter() -> None:
    assert pipe("3/4 sch 40") == pytest.approx((26.67, 2.8702))  # ASME B36.10M
    assert pipe("1-1/2 sch 80") == pytest.approx((48.26, 5.08))
    assert pipe("38 x 2") is None
    with pytest.raises(UnitProblem, match="no schedule 55"):
        pipe("1 sch 55")


def test_angles_and_forces() -> None:
    assert math.degrees(angle("16°30'")) == pytest.approx(16.5)
    assert math.degrees(angle("16.5")) == pytest.approx(16.5)
    assert angle_minutes(math.radians(16.5)) == "16°30'"
    assert force("200 lbf") == pytest.approx(889.644323)
    assert force("1.2 kN") == pytest.approx(1200)
    assert mass("2 t") == 2000


def test_stiffness_in_both_worlds() -> None:
    one = 1000.0 * 180 / math.pi  # 1 N·m/deg in N·mm/rad
    assert METRIC.torsional_stiffness(4000 * one) == "4,000 N·m/deg"
    assert Units("inch").torsional_stiffness(1355.8179483314 * one) == "1,000 lbf·ft/deg"
    assert Units("inch").linear_stiffness(1000) == "5,710 lbf/in"


def test_speeds_and_torques_are_told_in_the_builders_units() -> None:
    """By definition: 1 mph is 1609.344 m an hour, 1 lbf·ft is 1.3558 N·m."""
    inch = Units("inch", 16, "lb")
    assert METRIC.speed(10.0) == "36.0 km/h"
    assert inch.speed(1609.344 / 3600 * 60) == "60.0 mph"
    assert METRIC.torque(1355.8) == "1,356 N·m"
    assert inch.torque(1.3558179483314 * 250) == "250 lbf·ft"


def test_a_gap_below_a_sixteenth_is_told_with_what_it_may_be_off() -> None:
    inch = Units("inch", 16, "lb")
    assert inch.length(-15.6) == '-5/8" ±1/32'
    assert METRIC.length(-15.62) == "-15.6 mm"
