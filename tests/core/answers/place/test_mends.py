"""What clears a clash: sums that can be worked out by hand, and nothing else pushed into a clash by it."""

import pytest

from ironcage.core.answers.place.clashes import find_clashes
from ironcage.core.answers.place.mends import Mended, find_mends, mend_pair
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.samples import sample
from ironcage.units import METRIC
from tests.core.lines import typed


def words(mended: Mended) -> list[str]:
    return [METRIC.say(m.words) for m in mended.mends]


@pytest.fixture
def shelf() -> Job:
    """A box 200 mm high on z 300, its top at 400; a tube of 40 mm over its whole length, its underside at 385: they
    overlap by 15 and 10 are wanted, so 25 are to be made good."""
    return typed(
        Job(),
        "joint 500 0 405",
        "joint -500 0 405",
        "tube J1 J2 40 x 2",
        "place battery Cell box 200 x 200 x 200 at 0 0 300 mass 10",
        "set margin 10",
        chosen=("B1",),
    )


def test_the_least_moves_are_those_of_hand_reckoning(shelf: Job) -> None:
    (found,) = find_mends(shelf)
    assert found.near.gap == pytest.approx(-15)
    # the box down or the tube up by 25; one end of the tube by 25 / 0.4, for the box's far edge is at 400 of 1000 from
    # the end that stays, a little more because the tube then leans: 10 + 20 / cos, over the edge
    assert words(found) == ["Move Cell 25 mm down", "Move T1 25 mm up", "Move J1 63 mm up"]
    for mend in found.mends:
        done = understand(mend.line, shelf, mend.chosen).job
        (near,) = find_clashes(done).near
        assert near.gap >= 10 - 1e-6
        less = understand(mend.line.replace("25", "24").replace("63", "62"), shelf, mend.chosen).job
        assert find_clashes(less).near[0].gap < 10


def test_what_a_move_would_run_into_is_kept_clear_of_or_named(shelf: Job) -> None:
    # a plate 12 mm below the box and one 12 mm above the tube: down and up are taken, along y 120 is still free
    low = typed(shelf, "place battery Floor box 400 x 600 x 20 at 0 0 178 mass 1", "set margin 10", chosen=("B2",))
    both = typed(low, "place battery Lid box 900 x 600 x 20 at 0 0 447 mass 1", "set margin 10", chosen=("B3",))
    found = mend_pair(both, "T1", "B1")
    assert found is not None
    assert words(found) == ["Move Cell 130 mm left"]
    wide = typed(
        both,
        "place battery Left box 400 x 20 x 150 at 0 130 290 mass 1",
        "place battery Right box 400 x 20 x 150 at 0 -130 290 mass 1",
    )
    stuck = mend_pair(wide, "B1", "T1")
    assert stuck is not None
    assert stuck.mends == ()
    assert {"B2", "B3"} <= set(stuck.stuck)


def test_too_near_can_be_left_with_a_smaller_margin_and_inches_go_by_sixteenths(shelf: Job) -> None:
    near = typed(shelf, "z-21", chosen=("B1",))  # 6 of the 10 that are wanted
    (found,) = find_mends(near)
    assert words(found)[0] == "Move Cell 4 mm down"
    assert words(found)[-1] == "Let Cell make do with 6 mm"
    kept = understand(found.mends[-1].line, near, found.mends[-1].chosen).job
    assert find_clashes(kept).clashes == ()
    inch = typed(near, "units inch 1/16 lb")
    (told,) = find_mends(inch)
    by = told.mends[0].by / 25.4 * 16
    assert by == pytest.approx(3)  # 4 mm are 2.5 sixteenths
    done = understand(told.mends[0].line, inch, told.mends[0].chosen).job
    assert find_clashes(done).clashes == ()


def test_mends_of_the_demo_clear_their_clash_and_make_no_other() -> None:
    job = sample("sandpiper")
    before = {(n.first, n.second) for n in find_clashes(job).clashes}
    for mended in find_mends(job):
        assert mended.mends
        for mend in mended.mends:
            after = {(n.first, n.second) for n in find_clashes(understand(mend.line, job, mend.chosen).job).clashes}
            assert (mended.near.first, mended.near.second) not in after
            assert after <= before
