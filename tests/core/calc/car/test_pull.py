"""What engine, gears and tyres push a car with."""

import math

import pytest

from ironcage.core.answers.findings import checks
from ironcage.core.answers.prove.car import drive_level
from ironcage.core.answers.prove.cases import load_cases
from ironcage.core.answers.shared.mass import stance, weigh
from ironcage.core.answers.shared.pulling import pulled
from ironcage.core.calc.car.pull import pull
from ironcage.core.calc.frames.load_distribution import G
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample

FRONT, REAR, HIGH = 1300.0, 1000.0, 460.0  # from the centre of gravity, mm
LENGTH = FRONT + REAR


def test_engine_and_gears_push_by_the_lever_of_the_wheel() -> None:
    """62 N·m over 13.68 on wheels of 294.1 mm: 2,883.9 N; by hand."""
    made = pull(62.0, 13.68, 294.1, 535.3, (FRONT, REAR, HIGH), 0.0)
    assert made.force == pytest.approx(62 * 13.68 / 0.2941)
    assert made.engine == pytest.approx(made.force / (535.3 * G))
    assert math.isinf(made.tyres)


@pytest.mark.parametrize("driven", ["rear", "front", "all"])
def test_what_the_tyres_hold_is_where_their_force_is_grip_times_their_load(driven) -> None:
    grip = 0.9
    g = pull(1e4, 10, 300, 500, (FRONT, REAR, HIGH), grip, driven).tyres
    rear_load = FRONT / LENGTH + g * HIGH / LENGTH  # share of the weight, by moments about the front axle
    load = {"rear": rear_load, "front": 1 - rear_load, "all": 1.0}[driven]
    assert g == pytest.approx(grip * load)


def test_the_front_wheels_lift_where_nothing_is_left_on_them_and_so_says_the_stance() -> None:
    made = pull(1e4, 10, 300, 500, (FRONT, REAR, HIGH), 3.0)
    assert REAR / LENGTH - made.lifts * HIGH / LENGTH == pytest.approx(0.0)
    assert made.limit == "front wheels"
    assert made.g == made.lifts
    job = understand("pull torque 62 gears 2.7 x 1.9 x chain grip 1.1", sample("sandpiper")).job
    told, stood = pulled(job), stance(job)
    assert told.lifts == pytest.approx(stood.stance.front_lifts)
    assert told.ratio == pytest.approx(2.7 * 1.9 * job.chains[0].driven.teeth / job.chains[0].driving.teeth)
    assert told.limit == "engine"


def test_the_case_of_pulling_away_is_as_hard_as_the_car_can_and_the_snag_says_when_it_lifts() -> None:
    job = sample("sandpiper")
    assert drive_level(job) == job.proving.levels.drive
    assert "lifts its front" not in {s.code for s in checks.find_snags(job)}
    strong = understand("pull torque 400 gears 2.7 x 1.9 x 2.667 grip 4", job).job
    assert "lifts its front" in {s.code for s in checks.find_snags(strong)}

    def along(of: Job) -> float:
        case = next(c for c in load_cases(of) if c.name == "acceleration")
        return abs(float(case.inertia[0])) / (weigh(of).car.mass * G)

    slips = understand("pull torque 400 gears 2.7 x 1.9 x 2.667 grip 0.8", job).job
    assert along(slips) == pytest.approx(pulled(slips).tyres, rel=1e-3)
    assert along(understand("pull gone", slips).job) == pytest.approx(job.proving.levels.drive, rel=1e-3)


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("pull", "‘pull’ does not say what the car pulls with"),
        ("pull gears 3", "does not say what"),
        ("pull torque cheese", "‘cheese’ is no torque"),
        ("pull torque 62 gears 2 x pear", "‘pear’ is no number for gears"),
        ("pull torque 62 gears chain", "There is no chain"),
    ],
)
def test_what_is_not_said_of_the_pull_is_asked_for(line: str, says: str) -> None:
    with pytest.raises(Problem, match=says):
        understand(line, Job())
