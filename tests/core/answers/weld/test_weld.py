"""States of ends, the forecast on a job, and the order of putting in, replayed."""

from datetime import date

import numpy as np
import pytest

from ironcage.core.answers import cut
from ironcage.core.answers.log.days import log_answer
from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.answers.weld import welded_share
from ironcage.core.answers.weld.assembly import _cut_backs, _rods, put_in_order
from ironcage.core.answers.weld.movement import weld_answer
from ironcage.core.answers.weld.states import tube_ends
from ironcage.core.calc.welding.forecast import EndWeld, forecast
from ironcage.core.calc.welding.shrink import Shrinkage
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from ironcage.told import plain
from tests.core.lines import typed


def states(job: Job) -> dict[str, str]:
    return {f"{e.tube} {e.joint}": e.state for e in tube_ends(job)}


@pytest.fixture
def braced(box: Job) -> Job:
    """The box with a diagonal in five of its sides."""
    job = box
    for a, b in (("J1L", "J4L"), ("J1L", "J3R"), ("J2L", "J4R"), ("J1L", "J2R"), ("J3L", "J4R")):
        job = typed(job, "tube 30 x 1.5", chosen=(a, b))
    return job


def test_an_end_a_tube_or_all_at_a_joint_are_said_to_be_welded(box: Job) -> None:
    job = typed(box, "tacked J1L", "welded T1L J1L", "checked T1L J1L on 2026-11-20")
    told = states(job)
    assert told["T1L J1L"] == "checked"
    assert told["T1L J2L"] == "open"
    assert {k for k, v in told.items() if v == "tacked"} == {
        f"{t.id} J1L" for t in box.tubes_at["J1L"] if t.id != "T1L"
    }
    assert next(e.when for e in tube_ends(job) if e.state == "checked") == date(2026, 11, 20)
    both = understand("welded", box, ("T1L",)).job
    assert [k for k, v in states(both).items() if v == "welded"] == ["T1L J1L", "T1L J2L"]
    assert states(typed(both, "open T1L"))["T1L J2L"] == "open"


def test_the_share_that_is_welded_leaves_donor_tubes_out(box: Job) -> None:
    assert welded_share(box) is None
    job = typed(box, "welded T1L")
    assert welded_share(job) == pytest.approx(2 / (2 * len(box.tubes)))
    donor = typed(job, "donor", chosen=("T1L", "T1R"))
    assert all("T1" not in k for k in states(donor))


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("welded", "This needs a tube's end, and none is chosen"),
        ("welded T99L", "There is no tube ‘T99L’"),
        ("welded T1L J4R", "none is chosen"),
        ("weld process laser", "How much laser shrinks is not known"),
        ("weld shrink MIG wall 2", "can't be set for welding"),
        ("weld shrink MIG wall 2 50", "it must be at most"),
        ("weld tack 300%", "it must be at most 100.0 %"),
        ("weld", "Say what to set for welding"),
    ],
)
def test_what_is_no_weld_is_refused(box: Job, line: str, says: str) -> None:
    with pytest.raises(Problem) as caught:
        understand(line, box)
    assert says in plain(str(caught.value))


def test_shrinkage_is_taken_between_the_walls_that_are_typed(box: Job) -> None:
    w = typed(box, "weld shrink stick wall 2 0.4", "weld shrink stick wall 4 0.8", "weld process stick").welding
    assert [w.shrink_of(x) for x in (1, 2, 3, 4, 6)] == pytest.approx([0.4, 0.4, 0.6, 0.8, 0.8])
    assert typed(box, "weld process tig").welding.shrink_of(1.5) == 0.2
    again = typed(box, "weld shrink MIG wall 1.5 0.33").welding
    assert again.shrink_of(1.5) == 0.33
    assert len(again.shrinks) == len(box.welding.shrinks)


def test_the_forecast_of_a_job_is_that_of_its_frame(braced: Job) -> None:
    """The order that is told, laid once more by the calculator."""
    job = typed(braced, "welded T1L")
    told = weld_answer(job)
    assert {o.name for o in told.orders} == {"balanced", "nose to tail"}
    assert told.orders[0].worst <= told.orders[1].worst
    order = next(o for o in told.orders if o.name == "nose to tail")
    assert len(order.steps) == 2 * len(job.tubes) - 2
    xs = [job.joint_by_id[s.joint].x for s in order.steps]
    assert xs == sorted(xs, reverse=True)
    frame, beams = beam_frame(job), {t.id: n for n, t in enumerate(job.tubes)}
    rigid = np.zeros((len(job.tubes), 2), bool)
    rigid[beams["T1L"]] = True
    welds = [EndWeld(beams[s.tube], job.tube(s.tube).ends.index(s.joint), Shrinkage(0.3, 0, 0)) for s in order.steps]
    made = forecast(frame, rigid, welds, 0.3, ())
    index = {j.id: n for n, j in enumerate(job.joints)}
    rows = [index[w] for w in told.watched]
    off = np.linalg.norm(made.moves[:, rows, :3], axis=2).max(axis=1)
    assert [s.worst for s in order.steps] == pytest.approx(off, abs=1e-9)
    assert max(left for _, left in order.left) == pytest.approx(
        np.linalg.norm(made.free[rows, :3], axis=1).max(), abs=1e-9
    )


def test_the_joint_that_was_welded_last_rests(braced: Job) -> None:
    first = weld_answer(braced).next
    assert first is not None
    job = typed(braced, f"welded {first.tube} {first.joint}")
    second = weld_answer(job).next
    assert second is not None
    assert second.joint != first.joint


def test_all_welded_and_frames_that_can_t_be_told() -> None:
    skerry = sample("skerry")
    done = typed(skerry, f"welded {' '.join(t.id for t in skerry.tubes)}")
    told = weld_answer(done)
    assert told.next is None
    assert welded_share(done) == 1
    with pytest.raises(Problem, match="nothing to weld"):
        weld_answer(typed(Job(), "joint 0 250 300"))
    loose = typed(skerry, "joint 3000 250 300", "joint 3000 250 800")
    ends = [j.id for j in loose.joints if j.x == 3000 and j.y > 0]
    loose = typed(loose, f"tube {' '.join(ends)} 30 x 1.5")
    with pytest.raises(Problem, match="piece"):
        weld_answer(loose)


def apart(ends: np.ndarray, others: list) -> np.ndarray:
    """Least distances of a centreline (2, 3) from those of rods, by samples of both: a little too large."""
    t = np.linspace(0, 1, 25)[:, None]
    mine = ends[0] + t * (ends[-1] - ends[0])
    starts, stops = (np.array([o.points[k] for o in others])[:, None] for k in (0, -1))
    return np.linalg.norm(mine[None, :, None] - (starts + t * (stops - starts))[:, None], axis=3).min(axis=(1, 2))


def test_every_piece_slides_in_past_what_is_there_after_what_it_is_cut_against() -> None:
    """Replayed by distances between the centrelines of rods, slid step by step from far away."""
    job = sample("skerry")
    made = put_in_order(job)
    backs = _cut_backs(job)
    pieces = {p.id: p for p in cut.answer(job).pieces}
    assert [s.piece for s in made.steps if not s.way] == []
    assert sorted(s.piece for s in made.steps) == sorted(pieces)
    there: list[str] = []
    owner = {t: p.id for p in pieces.values() for t in p.tubes}
    for step in made.steps:
        for end in (pieces[step.piece].first, pieces[step.piece].second):
            if end.kind in ("cope", "flat") and owner.get(end.onto) not in (None, step.piece):
                assert owner[end.onto] in there, (step.piece, end.onto)
        there.append(step.piece)
    rods = {name: _rods(job, p, backs) for name, p in pieces.items()}
    for n, step in enumerate(made.steps):
        assert step.slide is not None
        others = [r for s in made.steps[:n] for r in rods[s.piece]]
        for mine in rods[step.piece] if others else ():
            rest = apart(mine.points, others) - mine.ball - [o.ball for o in others]
            for back in np.linspace(2500, 0, 50):
                gap = apart(mine.points - back * np.array(step.slide), others) - mine.ball - [o.ball for o in others]
                assert gap[rest > -0.6].min(initial=0.0) > -1.5, (step.piece, back)


def test_welds_of_a_day_stand_on_its_page(box: Job) -> None:
    job = typed(box, "welded T1L J1L on 2026-11-20")
    assert [(e.tube, e.joint) for e in log_answer(job).day(date(2026, 11, 20)).welds] == [("T1L", "J1L")]
