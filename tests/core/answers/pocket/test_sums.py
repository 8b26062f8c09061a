"""Every quick sum by hand."""

import math

import numpy as np
import pytest

from ironcage.core.answers.pocket import SUMS, find_sum, read, work_out
from ironcage.core.answers.pocket.sum import both
from ironcage.problem import Problem
from ironcage.units import METRIC, Units

INCH = Units("inch", 16, "lb")
DEG = math.pi / 180


def told(name: str, units: Units = METRIC, **typed: str) -> dict[str, float]:
    made = find_sum(name.replace("_", " "))
    values = read(made, {k.replace("_", " "): v for k, v in typed.items()}, units)
    return {t.name: t.value for t in work_out(made, values)}


@pytest.mark.parametrize(
    ("name", "typed", "what", "value"),
    [
        ("diagonal", {"length": "3000", "width": "4000"}, "diagonal", 5000),
        ("slope", {"rise": "1", "run": "1"}, "angle", 45 * DEG),
        ("taper", {"large": "60", "small": "40", "length": "10"}, "each side", 45 * DEG),
        ("wedge", {"angle": "90", "depth": "42", "wall": "2"}, "wedge at the open face", 80),
        ("wedge", {"angle": "90", "depth": "42", "wall": "2"}, "half each side of the line", 40),
        ("kick", {"offset": "100", "angle": "30"}, "along the sloping part", 200),
        ("kick", {"offset": "100", "angle": "45"}, "forward it takes", 100),
        ("mitre", {"angle": "120", "depth": "40"}, "saw off square", 30 * DEG),
        ("mitre", {"angle": "90", "depth": "40"}, "long point before short point", 40),
        ("bend", {"radius": "100", "angle": "90"}, "tube in the bend", 50 * math.pi),
        ("bend", {"radius": "100", "angle": "90"}, "shorter than round the corner", 200 - 50 * math.pi),
        ("chord", {"chord": "200", "height": "100"}, "radius", 100),
        ("chord", {"chord": "200", "height": "100"}, "arc", 100 * math.pi),
        ("divisions", {"length": "1000", "pieces": "4", "bar": "25"}, "apart", 250),
        ("divisions", {"length": "1000", "pieces": "4", "bar": "25"}, "gap between bars", 225),
        ("tube weight", {"od": "20", "wall": "10", "length": "1000", "density": "1000"}, "weight", 0.1 * math.pi),
        ("sheet weight", {"length": "1000", "width": "1000", "thickness": "1", "density": "7850"}, "weight", 7.85),
        (
            "overlap",
            {"width": "50", "thickness": "4", "leg": "4", "overlap": "50"},
            "the weld carries of what the bar does in pull",
            3 / math.sqrt(6),
        ),
        ("bolt grip", {"grip": "50", "washers": "4", "nut": "8", "pitch": "1.5"}, "least length under the head", 65),
        ("chain", {"pitch": "10", "driving teeth": "20", "driven teeth": "20", "centres": "200"}, "links", 60),
        ("speed", {"engine": "6000", "gear": "1", "final": "10", "tyre": "1000"}, "speed", 10 * math.pi),
        (
            "corner weights",
            {"front left": "100", "front right": "100", "rear left": "120", "rear right": "80"},
            "front",
            0.5,
        ),
        (
            "corner weights",
            {"front left": "100", "front right": "100", "rear left": "120", "rear right": "80"},
            "cross, front right and rear left",
            0.55,
        ),
    ],
)
def test_each_sum_by_hand(name: str, typed: dict[str, str], what: str, value: float) -> None:
    made = find_sum(name)
    found = {t.name: t.value for t in work_out(made, read(made, typed, METRIC))}
    assert found[what] == pytest.approx(value, rel=1e-9)


def test_weight_moved_as_told_makes_the_corners_even() -> None:
    """Each of one diagonal heavier by that much, the others lighter: front and rear then lean alike."""
    corners = {"front left": 118.0, "front right": 121.0, "rear left": 150.0, "rear right": 146.0}
    more = told("corner_weights")["more on each of front right and rear left"]
    for name in corners:
        corners[name] += more if name in ("front right", "rear left") else -more
    shares = [corners[f"{end} left"] / (corners[f"{end} left"] + corners[f"{end} right"]) for end in ("front", "rear")]
    assert shares[0] == pytest.approx(shares[1])


def test_a_cope_is_the_formula_that_stands_beside_it() -> None:
    found = told("cope", tube="30", wall="2", onto="50", angle="60", off_centre="5")
    turn = np.linspace(0, 2 * math.pi, 20001)
    big, e, theta = 25, 5, 60 * DEG
    x = np.max(
        [
            (np.sqrt(big**2 - (r * np.cos(turn) - e) ** 2) + r * np.sin(turn) * math.cos(theta)) / math.sin(theta)
            for r in (15, 13)
        ],
        axis=0,
    )
    assert found["longest point before the middle of the other tube"] == pytest.approx(x.min(), abs=1e-3)
    assert found["shortest point before it"] == pytest.approx(x.max(), abs=1e-3)


def test_bare_figures_count_in_the_builders_unit_and_both_units_are_told() -> None:
    assert told("diagonal", INCH, length="30", width="40")["diagonal"] == pytest.approx(50 * 25.4)
    made = find_sum("diagonal")
    first = work_out(made, read(made, {"length": "30", "width": "40"}, INCH))[0]
    assert both(first) == ("1270.00 mm", '50.000" · 50"')


def test_a_length_is_told_as_gauge_pipe_and_fraction() -> None:
    made = find_sum("length")
    said = {t.name: t.words for t in work_out(made, read(made, {"length": "0.120 in"}, METRIC))}
    assert said["nearest gauges"].startswith("11 ga tube 3.048 mm")
    said = {t.name: t.words for t in work_out(made, read(made, {"length": "33.4"}, METRIC))}
    assert said["nearest pipe"] == "1 pipe is 33.40 mm outside"
    assert said["nearest sixteenth"] == '1 5/16", +0.06 mm off'


@pytest.mark.parametrize(
    ("name", "typed", "says"),
    [
        ("bend", {"angle": "200"}, "Angle 200.0° can't be. 0.1° to 180.0° can."),
        ("chord", {"chord": "100", "height": "200"}, "goes round more than three quarters"),
        ("chain", {"driving teeth": "3"}, "Driving teeth 3 can't be"),
        ("chain", {"centres": "20"}, "The sprockets overlap"),
        ("cope", {"wall": "30"}, "over half its size"),
        ("slope", {"run": "x"}, "A number is missing before ‘x’"),
    ],
)
def test_figures_that_can_not_be_are_refused_in_words(name: str, typed: dict[str, str], says: str) -> None:
    made = find_sum(name)
    with pytest.raises(Problem) as caught:
        work_out(made, read(made, typed, METRIC))
    assert says in str(caught.value)


def test_there_are_fifteen_sums_or_more_each_whole() -> None:
    assert len(SUMS) >= 15
    assert len({s.name for s in SUMS}) == len(SUMS)
    for made in SUMS:
        assert work_out(made, read(made, {}, METRIC)), made.name
        named = {word for _, _, word in made.sketch.words}
        assert named & {a.name for a in made.asks}, f"{made.name}: the sketch names none of its figures"
        assert all(0 <= x <= 100 and 0 <= y <= 60 for line in made.sketch.lines for x, y in line), made.name
    with pytest.raises(Problem, match="The nearest is diagonal"):
        find_sum("diagnal")
