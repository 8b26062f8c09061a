"""What a builder types about proving: understood, undone, kept in the file, and refused in one sentence."""

import math

import pytest

from ironcage.core.job import edits
from ironcage.core.job.store.file import from_text, to_text
from ironcage.core.job.store.history import History
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.proving import STANDARD, Proving, TwistTest
from ironcage.problem import Problem
from tests.core.lines import typed

LINES = (
    "level bump 4",
    "level final drive 3.7",
    "case tow at J1L J1R",
    "case jack at J13",
    "case Kerb: J4L z 6 kN y -900, J5L z 2500 N",
    "case Rolled: J21L z-12kN held J17L J17R J10L",
    "combine Hard: 1.2 braking + 0.8 Kerb",
    "welds 0.85",
    "ovalise on",
    "stress B22 1500",
    "rollstiff front 310 rear 240",
    "reading lever 1200",
    "reading off 0.01",
    "reading 20 kg front 0.2 rear 0.01",
    "reading 45 lb dials 2.1 -2.0 0.1 -0.1 apart 900",
    "target twist stiffness 3000 +- 100",
)


@pytest.mark.parametrize("line", LINES)
def test_every_line_is_undone_and_kept_in_the_file(sandpiper: Job, line: str) -> None:
    job = typed(sandpiper, "case Kerb: J4L z 6 kN")
    done = understand(line, job)
    assert done.job != job
    assert done.name
    history = History.start(job).done(done.name, done.job)
    assert history.undone().job is job
    assert from_text(to_text(done.job), "a job") == done.job


def test_lines_come_to_what_they_say(sandpiper: Job) -> None:
    job = typed(sandpiper, *LINES)
    p = job.proving
    assert (p.levels.bump, p.levels.final_drive, p.joint, p.ovalise) == (4, 3.7, 0.85, True)
    assert p.at("tow") == ("J1L", "J1R")
    assert p.roll_front == pytest.approx(310 * 1000 * 180 / math.pi)
    kerb = next(c for c in p.cases if c.name == "Kerb")
    assert [(q.joint, q.x, q.y, q.z) for q in kerb.loads] == [("J4L", 0, -900, 6000), ("J5L", 0, 0, 2500)]
    assert next(c for c in p.cases if c.name == "Rolled").held == ("J17L", "J17R", "J10L")
    assert [(t.case, t.factor) for t in p.combinations[-1].parts] == [("braking", 1.2), ("Kerb", 0.8)]
    assert job.parts[0].mount == 1500
    assert p.test.lever == 1200
    assert p.test.reading_error == pytest.approx(math.radians(0.01))
    first, second = p.test.readings
    assert (first.mass, first.front, first.rear) == pytest.approx((20, math.radians(0.2), math.radians(0.01)))
    assert second.mass == pytest.approx(45 * 0.45359237)
    assert second.front == pytest.approx(math.atan(4.1 / 900))
    assert second.rear == pytest.approx(math.atan(0.2 / 900))


def test_what_was_typed_is_taken_back(sandpiper: Job) -> None:
    job = typed(sandpiper, *LINES)
    gone = typed(
        job,
        "case tow gone",
        "case Kerb gone",
        "stress B22 gone",
        "reading 1 gone",
        "level usual",
        "ovalise off",
        "welds 1",
        "target twist stiffness gone",
    )
    p = gone.proving
    assert p.at("tow") == ()
    assert not any(c.name == "Kerb" for c in p.cases)
    assert [t.case for t in next(c for c in p.combinations if c.name == "Hard").parts] == [
        "braking"
    ]  # what named it goes on without it
    assert gone.parts[0].mount == 0
    assert len(p.test.readings) == 1
    assert p.levels == Proving().levels
    assert typed(gone, "case Hard gone").proving.combinations == sandpiper.proving.combinations
    assert typed(gone, "reading none").proving.test == TwistTest()


def test_a_case_of_the_same_name_takes_its_place(sandpiper: Job) -> None:
    job = typed(sandpiper, "case Kerb: J4L z 6 kN", "case kerb: J5L x 100")
    assert [c.name for c in job.proving.cases if c.name.lower() == "kerb"] == ["kerb"]


def test_chosen_joints_take_the_place_of_names(sandpiper: Job) -> None:
    assert typed(sandpiper, "case strap at chosen", chosen=("J1L", "J1R")).proving.at("strap") == ("J1L", "J1R")


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("level brakes 3", "no number for brake"),
        ("level speed 3", "‘speed’ is no level"),
        ("level brake hard", "no number for brake"),
        ("level brake 90", "less than or equal to 50"),
        ("case", "is no case"),
        ("case wash at J1L", "is no case"),
        ("case tow at J99", "There is no joint ‘J99’"),
        ("case static: J1L z 5", "one of the standard cases"),
        ("case Odd: J1L up 5", "‘J1L up 5’ is no load"),
        ("case Odd: J99 z 5", "There is no joint"),
        ("case Odd:", "loads nothing"),
        ("case : J1L z 5", "has no name"),
        ("case Nothing gone", "no case of yours called ‘Nothing’"),
        ("combine Both", "is incomplete"),
        ("combine Both: 1 brakin", "nearest is braking"),
        ("combine static: 1 braking", "called static already"),
        ("welds 0", "is no joint factor"),
        ("welds 1.2", "is no joint factor"),
        ("welds stiff", "no number for welds"),
        ("ovalise maybe", "neither on nor off"),
        ("stress B99 rigid", "There is no part"),
        ("stress B22 firm", "‘firm’ is no stiffness"),
        ("rollstiff 300", "is no roll stiffness"),
        ("rollstiff left 300", "is no roll stiffness"),
        ("reading", "is no reading"),
        ("reading 20 kg 0.3", "is no reading"),
        ("reading 20 kg dials 1 2 apart 0", "do not stand apart"),
        ("reading 9 gone", "There is no reading 9"),
        ("reading lever 0", "greater than 0"),
        ("target twist stiffness soft", "‘soft’ is no stiffness"),
    ],
)
def test_what_can_not_be_is_refused_with_the_nearest_right_thing(sandpiper: Job, line: str, says: str) -> None:
    before = sandpiper.model_dump()
    with pytest.raises(Problem) as caught:
        understand(line, sandpiper, ())
    assert says in str(caught.value), str(caught.value)
    assert sandpiper.model_dump() == before


def test_a_variant_keeps_its_own_levels_and_cases(sandpiper: Job) -> None:
    kept = typed(sandpiper, "variant keep Soft: before the test", "level brake 2", "welds 0.7")
    back = edits.open_variant(kept, "Soft")
    assert back.proving.levels.brake == sandpiper.proving.levels.brake
    assert back.proving.joint == 1


def test_the_standard_cases_have_names_that_can_be_combined(sandpiper: Job) -> None:
    job = sandpiper
    for name in STANDARD:
        job = typed(job, f"combine Twice {name}: 2 {name}")
    assert len(job.proving.combinations) == len(STANDARD) + len(sandpiper.proving.combinations)
