"""Where the built frame stands by its readings, and what is found in them."""

import math
from datetime import date

import pytest

from ironcage.core.answers.findings.checks import find_snags
from ironcage.core.answers.true.measured import answer
from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.truing import joints_of, value_of
from ironcage.problem import Problem
from ironcage.samples import sample
from ironcage.told import plain
from tests.core.lines import typed

DIAGONALS = tuple(
    (a, b)
    for n, a in enumerate(("J1L", "J1R", "J2L", "J2R", "J3L", "J3R", "J4L", "J4R"))
    for b in ("J1L", "J1R", "J2L", "J2R", "J3L", "J3R", "J4L", "J4R")[n + 1 :]
)


def read_off(job: Job, built: Job, extra: dict[tuple[str, str], float] | None = None) -> Job:
    """Every distance and height of a built frame, read into the job of the drawn one."""
    extra = extra or {}
    at = {j.id: j.place for j in built.joints}
    lines = [f"tape {a} {b} {math.dist(at[a], at[b]) + extra.get((a, b), 0.0)!r}" for a, b in DIAGONALS]
    lines += [
        f"height {j} {at[j][2] - job.table.top_z!r}" for j in ("J1L", "J1R", "J2L", "J2R", "J3L", "J3R", "J4L", "J4R")
    ]
    return typed(job, *lines)


def test_a_corner_that_was_pulled_up_is_found_where_it_is(box: Job) -> None:
    parted = edits.unpair(box, ["J4L"])
    built = edits.move(parted, ["J4L"], dz=6.0, dx=-2.0)
    job = read_off(parted, built)
    job = typed(job, "true datum J1L J3L J1R")
    told = answer(job)
    first = told.joints[0]
    assert (first.joint, first.too_far) == ("J4L", True)
    assert first.moved == pytest.approx((-2, 0, 6), abs=1e-6)
    assert plain(first.words) == "6.0 mm high, 2.0 mm back"
    assert [j.joint for j in told.joints if j.too_far] == ["J4L"]
    assert told.suspect is None
    snag = next(s for s in find_snags(job) if s.code == "out of place")
    assert plain(snag.what).startswith("J4L stands 6.0 mm high, 2.0 mm back, give or take")


def test_a_bad_reading_is_told_from_a_bad_frame(box: Job) -> None:
    job = read_off(box, box, {("J1L", "J4R"): 8.0})
    told = answer(job)
    assert told.suspect.reading.a == "J1L"
    assert told.suspect.reading.b == "J4R"
    assert told.suspect.error == pytest.approx(8, abs=0.05)
    codes = {s.code for s in find_snags(job)}
    assert "suspect reading" in codes
    assert "out of place" not in codes  # nothing is to be bent before it is read again
    mended = typed(job, f"true {told.suspect.reading.id} {math.dist(box.joint('J1L').place, box.joint('J4R').place)}")
    assert answer(mended).suspect is None


def test_a_tape_that_reads_too_much_is_told_so_by_its_error(box: Job) -> None:
    long = dict.fromkeys(DIAGONALS, 2.0)
    job = read_off(box, box, long)
    assert answer(typed(job, "true tape error 2")).joints[0].off == pytest.approx(0, abs=1e-6)
    assert answer(job).joints[0].off > 0.5


def test_readings_are_kept_when_their_joint_goes_and_say_so(box: Job) -> None:
    job = typed(box, "tape J1L J1R 600", "tape J1L J2L 350", "height J4R 300")
    gone = edits.delete(job, ["J4R"])
    told = answer(gone)
    assert [r.gone for r in told.readings] == ["", "", "J4R"]
    assert any(s.code == "reading of nothing" for s in find_snags(gone))


def test_a_pair_that_nothing_ties_to_the_rest_takes_nothing_from_it(box: Job) -> None:
    parted = edits.unpair(box, ["J3L"])
    job = read_off(parted, edits.move(parted, ["J3L"], dx=3.0))
    of_four = [r.id for r in job.truing.readings if any(j.startswith("J4") for j in joints_of(r))]
    job = typed(job, *(f"true {r} gone" for r in of_four))
    more = typed(job, "tape J4L J4R 502")
    told = {j.joint: j for j in answer(more).joints}
    assert answer(more).apart == (("J4L", "J4R"),)
    assert answer(job).apart == ()
    assert told["J4L"].told == (False, True, False)
    for joint in answer(job).joints:
        assert told[joint.joint].moved == pytest.approx(joint.moved, abs=1e-6)


def test_what_is_measured_is_in_the_frame_of_the_table(box: Job) -> None:
    high = typed(box, "table top 40", f"height J1L {box.joint('J1L').z - 40 + 3}")
    (joint,) = answer(high).joints
    assert joint.told == (False, False, True)
    assert joint.moved[2] == pytest.approx(3)
    assert plain(joint.words) == "3.0 mm high, x, y not known"


@pytest.mark.parametrize(
    ("line", "chosen", "says"),
    [
        ("tape J1L 500", (), "There is no joint ‘500’"),
        ("tape J1L J1L 500", (), "has no distance from itself"),
        ("tape 500", ("J1L",), "This needs 2 joints"),
        ("height J1L", (), "The reading is missing"),
        ("height J99 5", (), "This needs a joint"),
        ("true datum J1L J2L", (), "A datum is three joints, and 2 are named"),
        ("true datum J1L J2L J3", (), "There is no joint ‘J3’"),
        ("true M3 gone", (), "There is no reading ‘M3’. There is none yet."),
        ("true within 0", (), "must be more than 0.0 mm"),
    ],
)
def test_what_is_typed_wrong_is_refused_in_words(line: str, chosen: tuple[str, ...], says: str, box: Job) -> None:
    with pytest.raises(Problem) as caught:
        understand(line, box, chosen)
    assert says in str(caught.value)


def test_readings_that_do_not_come_together_name_the_one_that_is_far_off(box: Job) -> None:
    job = read_off(box, box)
    job = typed(job, "true M4 6000")
    with pytest.raises(Problem) as told:
        answer(job)
    of = job.truing.readings[3]
    far = 6000 - math.dist(box.joint(of.a).place, box.joint(of.b).place)
    assert told.value.where == "M4"
    assert plain(told.value.hint).startswith(f"M4 is furthest from the drawing, by {far:.1f} mm: read it again")


def test_a_reading_typed_again_is_of_the_day_on_which_it_was_read(box: Job) -> None:
    job = typed(box, "tape J1L J1R 600 on 2026-05-02", "height J4R 300 on 2026-05-02")
    again = typed(job, "true M1 601", "true M2 299 on 2026-05-04").truing.readings
    assert [(value_of(r), r.when) for r in again] == [(601, date.today()), (299, date(2026, 5, 4))]


def test_a_tape_without_a_reading_tells_the_distance_as_drawn(box: Job) -> None:
    asked = understand("tape J1L J2L", box)
    assert asked.job is box
    assert asked.name == "J1L to J2L: 300.0 mm as drawn (x 0.0 mm, y 0.0 mm, z 300.0 mm); it rises 90.00°"


def test_nothing_measured_says_what_to_type(box: Job) -> None:
    with pytest.raises(Problem, match="Nothing was measured yet"):
        answer(box)


def test_the_demo_is_within_its_limits_by_readings_that_check_each_other() -> None:
    told = answer(sample("skerry"))
    assert told.suspect is None
    assert not any(j.too_far for j in told.joints)
    assert told.spare >= 5
    assert 0.5 < told.factor < 1.5
    assert told.joints[0].joint == "J7L"
