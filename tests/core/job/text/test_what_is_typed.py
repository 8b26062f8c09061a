"""What a typed line is taken for: units, people of every size, drops and rules that can't be judged."""

import pytest

from ironcage.core.answers.brief import rules
from ironcage.core.calc.car.mannequin import STATURES, Limbs
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.told import plain
from tests.core.lines import typed


@pytest.mark.parametrize(
    ("line", "field", "value"),
    [
        ("level strap 5 kN", "strap", 5000),
        ("level strap 1100 lbf", "strap", 4893.04),
        ("level harness 7000", "harness", 7000),
        ("level brake 1.3 g", "brake", 1.3),
        ("level bump 4", "bump", 4),
    ],
)
def test_a_level_keeps_its_unit(line: str, field: str, value: float) -> None:
    assert getattr(typed(Job(), line).proving.levels, field) == pytest.approx(value, rel=1e-6)


@pytest.mark.parametrize("line", ["level brake 1.3 kN", "level strap 5 kg", "level bump 3 4"])
def test_a_level_in_a_unit_that_is_none_of_its_own_is_refused(line: str) -> None:
    with pytest.raises(Problem):
        understand(line, Job())


@pytest.mark.parametrize(
    ("stature", "mm"),
    [
        ("6' 6\"", 1981.2),
        ("6'6\"", 1981.2),
        ("5 ft 10 1/2 in", 1790.7),
        ("178 cm", 1780),
        ("1304", 1304),
        ("1100", 1100),
        ("1.1 m", 1100),
        ('70 1/2"', 1790.7),
    ],
)
def test_people_of_every_size_are_seated_as_tall_as_was_typed(stature: str, mm: float) -> None:
    job = typed(Job(), f"person Driver 2 {stature} at -1330 280 320 mass 40")
    assert job.people[0].name == "Driver 2"
    assert job.people[0].limbs.thigh == pytest.approx(Limbs.of_stature(mm).thigh)


def test_every_stature_within_the_limits_makes_a_person() -> None:
    for mm in range(int(STATURES[0]), int(STATURES[1]) + 1, 5):
        Limbs.of_stature(mm)
    with pytest.raises(Problem, match=r"beyond the tables. 900 to 2200 mm"):
        Limbs.of_stature(899)


def test_a_drop_only_lets_down() -> None:
    job = typed(Job(), "place engine Triple box 400 x 300 x 300 at -1500 0 210 mass 60")
    part = job.parts[0].id
    with pytest.raises(
        Problem, match=r"Triple is 60.0 mm off the ground already, lower than 100. .* to lift it: z\+40"
    ):
        understand("drop 100", job, (part,))
    assert understand("drop 40", job, (part,)).job.parts[0].z == pytest.approx(190, abs=0.05)


def test_a_rule_for_cars_of_a_mass_is_not_passed_by_an_empty_job() -> None:
    line = "rule tube size role main hoop, od 45, wall 2.5, over 700: Heavy cars"
    empty = rules.judge_rules(typed(Job(), line))[0]
    assert (empty.state, empty.why) == (
        "not known",
        "The rule is for cars of a mass, and nothing heavy has been placed yet.",
    )
    light = rules.judge_rules(typed(Job(), line, "place engine Triple box 400 x 300 x 300 at -1500 0 210 mass 60"))[0]
    assert (light.state, plain(light.why)) == ("pass", "It is for cars of over 700 kg, and this one has 60 kg.")
