"""What is turned: fits by the published tables, batches of equal parts, and inserts between two bores."""

import pytest

from ironcage.core.answers.cut.here import cut_here
from ironcage.core.answers.cut.turned import find_turned
from ironcage.core.calc.tubes.fits import bore_limits, shaft_limits
from ironcage.core.exchange.kinds import kind
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from ironcage.told import plain
from tests.core.lines import typed


@pytest.mark.parametrize(
    ("size", "fit", "least", "most"),  # ISO 286-2, micrometres from the nominal size
    [
        (25, "press", 22, 35),
        (25, "slide", -20, -7),
        (12, "free", -34, -16),
        (30, "push", -13, 0),
        (30.1, "push", -16, 0),
    ],
)
def test_fits_are_those_of_the_standard(size: float, fit: str, least: int, most: int) -> None:
    made = shaft_limits(size, fit)
    assert ((made.least - size) * 1000, (made.most - size) * 1000) == (pytest.approx(least), pytest.approx(most))
    assert bore_limits(12).most == pytest.approx(12.018)


def test_equal_crush_tubes_are_one_batch_and_bushes_have_their_limits(box: Job) -> None:
    rail, up = (box.tube_by_ends[frozenset(ends)].id for ends in (("J1L", "J3L"), ("J1L", "J2L")))
    job = typed(
        box,
        "turned bush Arm bush od 25 press bore 12 reamed length 45 count 4",
        "turned spacer od 20 bore 10.5 length 8 count 2 of Drawn mild steel tube",
        f"add crush tube tube {rail}, at 200, od 16, bore 10.5, count 2, pitch 100",
        f"add crush tube tube {up}, at 100, od 16, bore 10.5",
        "cars 2",
    )
    bush, spacer, crush = find_turned(job).rows
    assert bush.od_limits
    assert bush.od_limits.most == pytest.approx(25.035)
    assert (spacer.name, spacer.material) == ("Spacer", "Drawn mild steel tube")
    assert (crush.count, crush.length, len(crush.of)) == (6, 30, 4)  # three a side
    assert crush.stock == pytest.approx(6 * 2 * 34)
    assert find_turned(job).hours == pytest.approx((4 + 2 + 6) * 2 * 12 / 60)
    assert b"25.035" in kind("turned-csv").make(job, "")
    assert kind("turned-pdf").make(job, "").startswith(b"%PDF")
    assert find_turned(typed(job, "turned arm bush gone")).rows[0].name == "Spacer"


def test_an_insert_between_two_bores_is_stepped_and_must_go_into_both() -> None:
    job = typed(
        Job(),
        "joint 0 300 200",
        "joint -400 300 200",
        "joint -800 300 200",
        "tube J1L J2L 34 x 2",
        "tube J2L J3L 34 x 3",
    )
    line = "add insert tube T1L, at 400, od 29.9, wall 3, depth 50, gap 2, od2 27.9"
    made = find_turned(understand(line, job).job).rows[0]
    assert (made.what, made.step, made.length) == ("stepped inserts", (27.9, 51), 102)
    with pytest.raises(Problem, match="does not go into T2L"):
        understand(line.replace("od2 27.9", "od2 29.9"), job)
    with pytest.raises(Problem, match="has one bore"):
        understand(line.replace("at 400", "at 200"), job)


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("turned bush od 25 press bore 12", "is incomplete"),
        ("turned bush od 25 loose length 45", "is not a unit of length"),
        ("turned bush od 12 bore 25 length 45", "leaves nothing of"),
        ("turned adapter od 30 step 28 over 90 length 80", "does not fit on"),
        ("turned Arm gone", "nothing to turn called"),
    ],
)
def test_what_can_not_be_turned_is_refused(box: Job, line: str, says: str) -> None:
    with pytest.raises(Problem, match=says):
        understand(line, box)


def test_rod_ends_bring_their_inserts_to_the_lathe() -> None:
    litter = sample("fell-litter")
    assert not [r for r in find_turned(litter).rows if r.what == "inserts"]
    eyes = "axle rear eye thread 12 shank 54 start 22 nut 6 lip 4 engaged 24"
    job = typed(litter, eyes)
    (row,) = [r for r in find_turned(job).rows if r.what == "inserts"]
    assert (row.count, row.length, row.step) == (2 * 5, 28, (28, 4))  # four links and a track rod
    assert row.od == 28 - 2 * 2
    assert plain(row.name) == "rear rod-end inserts, thread 12 mm"
    beam = typed(sample("skerry"), "beam front eye thread 8 shank 36 start 14 engaged 16")
    rods = next(r for r in find_turned(beam).rows if r.what == "inserts")
    assert rods.count == 4
    assert next(w.count for w in cut_here(job).works if w.work == "turn") >= 10
