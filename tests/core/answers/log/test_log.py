"""What was logged, what is ahead, and what is found in it."""

from datetime import date, timedelta

import pytest

from ironcage.core.answers.findings.checks import find_snags
from ironcage.core.answers.log.ahead import look_ahead
from ironcage.core.answers.log.days import log_answer
from ironcage.core.job import edits
from ironcage.core.job.store.file import from_text, to_text
from ironcage.core.job.store.history import History
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from tests.core.lines import typed

TODAY = date(2027, 1, 4)


def on(days: int) -> str:
    return (TODAY + timedelta(days=days)).isoformat()


@pytest.fixture
def shop(box: Job) -> Job:
    """An hour a day: base, hoop after it, engine after the hoop and a mount that comes in 10 days."""
    return typed(
        box,
        f"deadline {on(30)}",
        "log week 7 h",
        f"order Engine mount; ordered {on(-9)}; due {on(10)}; cost 60",
        "todo Base; 3 h",
        "todo Hoop; of J1L; 4 h; after D1",
        "todo Engine; 5 h; after D2 O1",
    )


def test_tasks_follow_what_they_wait_for_and_the_parts_on_order(shop: Job) -> None:
    ahead = look_ahead(shop, TODAY)
    assert [(t.task.id, t.waits) for t in ahead.tasks] == [("D1", ()), ("D2", ("D1",)), ("D3", ("D2", "O1"))]
    # an hour a day: base for 3 days, hoop for 4, three days of waiting for the mount, engine for 5
    assert [(t.begins, t.ends) for t in ahead.tasks] == [
        (date.fromisoformat(on(a)), date.fromisoformat(on(b))) for a, b in ((0, 3), (3, 7), (10, 15))
    ]
    assert (ahead.hours, ahead.days_left, ahead.idle) == (12, 30, 3)
    assert ahead.hours_there == pytest.approx(30)
    assert ahead.spare_days == 15
    (mount,) = ahead.orders
    assert (mount.holds, mount.overdue, mount.costs_days) == (("D3",), 0, 3)


def test_another_task_fills_the_wait(shop: Job) -> None:
    ahead = look_ahead(typed(shop, "todo Paint the stands; 2 h"), TODAY)
    assert ahead.idle == 1
    assert next(t for t in ahead.tasks if t.task.id == "D4").begins == TODAY + timedelta(days=7)


def test_an_order_that_is_overdue_is_looked_for_tomorrow_and_said(shop: Job) -> None:
    later = TODAY + timedelta(days=14)
    ahead = look_ahead(shop, later)
    assert ahead.orders[0].overdue == 4
    assert ahead.ready == later + timedelta(days=12)  # the mount comes while the base is still worked on
    assert ahead.spare_days == 4
    come = typed(shop, f"arrived O1 on {on(12)}")
    assert look_ahead(come, later).orders == ()
    assert look_ahead(come, later).tasks[2].waits == ("D2",)


def test_what_is_finished_is_logged_with_the_hours_it_took(shop: Job) -> None:
    job = typed(shop, f"done D1 on {on(2)}; 4.5 h", f"done D2 on {on(2)}")
    day = log_answer(job, TODAY).day(date.fromisoformat(on(2)))
    assert [(e.text, e.hours, e.of) for e in day.entries] == [("Base", 4.5, ()), ("Hoop", 4, ("J1L",))]
    assert day.hours == 8.5
    assert [t.waits for t in look_ahead(job, TODAY).tasks] == [("O1",)]
    with pytest.raises(Problem, match=f"D1 was done on {on(2)}"):
        understand("done D1", job)
    again = typed(job, "log D1 not done")
    assert look_ahead(again, TODAY).tasks[0].task.id == "D1"


def test_a_day_holds_its_entries_orders_and_readings(shop: Job) -> None:
    job = typed(
        shop,
        f"did Rails tacked; of J1L T1L; 90 min; cost 12.5; on {on(-1)}",
        f"arrived O1 on {on(-1)}",
        f"tape J1L J2R 1000 on {on(-1)}",
    )
    told = log_answer(job, TODAY)
    day = told.days[0]
    assert (day.day.isoformat(), day.hours, day.cost) == (on(-1), 1.5, 12.5)
    assert [(e.of, e.text) for e in day.entries] == [(("J1L", "T1L"), "Rails tacked")]
    assert [o.id for o in day.came] == ["O1"]
    assert [r.id for r in day.readings] == ["M1"]
    assert told.cost == 72.5
    assert from_text(to_text(job), "a job") == job


def test_what_is_chosen_is_what_a_line_is_about_and_gone_things_stay_named(box: Job) -> None:
    job = understand("did Cut to length", box, ("T1L",)).job
    assert job.logbook.entries[0].of == ("T1L",)
    shorter = typed(job, "delete", chosen=("T1L",))
    assert shorter.logbook.entries[0].of == ("T1L",)
    assert from_text(to_text(shorter), "a job").logbook == shorter.logbook


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("did", "No words were typed"),
        ("did Rails; of J99L", "There is nothing called ‘J99L’. The nearest is"),
        ("did Rails; hours two", "‘two’ is no time"),
        ("did Rails; costs 4", "‘costs 4’ is not understood. The nearest is cost."),
        ("did Rails; on Monday", "‘Monday’ is not a day. Write year, month and day"),
        ("order Chain", "When is Chain due?"),
        ("order Chain; ordered 2027-02-01; due 2027-01-01", "before it was ordered"),
        ("todo Paint; after D9", "Nothing can wait for ‘D9’"),
        ("log D1 after D3", "D1 would wait for itself"),
        ("log O1 hours 3", "O1 has no ‘hours’"),
        ("log E7 gone", "The log has no ‘E7’"),
        ("arrived D1", "D1 is a task"),
        ("done O1", "O1 is an order"),
        ("log week 200 h", "must be at most 168 h"),
    ],
)
def test_what_makes_no_sense_is_refused(shop: Job, line: str, says: str) -> None:
    with pytest.raises(Problem) as caught:
        understand(line, shop)
    assert says in str(caught.value)


def test_what_stands_in_the_log_is_changed_and_taken_out(shop: Job) -> None:
    job = typed(shop, "log D2 hours 10", "log D2 text Main hoop", "log O1 due 2027-03-01", "log D1 gone")
    assert next((t.id, t.text, t.hours, t.after) for t in job.logbook.tasks) == ("D2", "Main hoop", 10, ())
    assert job.logbook.orders[0].due == date(2027, 3, 1)
    assert typed(job, "todo Paint").logbook.tasks[-1].id == "D4"  # a number is not given twice


def test_what_is_late_or_dear_is_a_snag(box: Job) -> None:
    codes = {s.code for s in find_snags(box)}
    assert not codes & {"overdue", "too late", "over budget"}
    job = typed(
        box,
        "target budget 100",
        "order Tank; ordered 2026-01-01; due 2026-02-01; cost 140",
        "deadline in 2 weeks",
        "log week 5 h",
        "todo All of it; 60 h",
    )
    found = {s.code: s.what for s in find_snags(job)}
    assert found["over budget"] == "140 is spent and on order, and the budget is 100."
    assert found["overdue"].startswith("Tank is overdue, Tank by ")
    assert "With 5 h a week, the work is finished on" in found["too late"]


def test_what_other_steps_did_writes_itself_once_a_day(box: Job) -> None:
    history = History.start(box)
    for line in ("role rail", "did Something by hand", "tape J1L J1R 500", "name Sanderling", "tacked T1L"):
        history = history.done(line, typed(history.job, line, chosen=("T1L",)))
    job = edits.keep_done(history.job, history.since(box), TODAY)
    assert [(e.text, e.kept) for e in job.logbook.entries] == [
        ("Something by hand", False),
        ("role rail; name Sanderling", True),
    ]
    more = edits.keep_done(job, ("stand",), TODAY)
    assert [e.text for e in more.logbook.entries][1:] == ["role rail; name Sanderling; stand"]
    assert edits.keep_done(job, ("stand",), TODAY + timedelta(days=1)).logbook.entries[-1].text == "stand"
    assert edits.keep_done(job, (), TODAY) is job
    gathered = edits.keep_done(edits.keep_done(job, ("Add T5", "Add T6", "Set name"), TODAY), ("Set builder",), TODAY)
    assert gathered.logbook.entries[-1].text == "role rail; name Sanderling; Add T5, T6; Set name, builder"
    busy = edits.keep_done(job, [f"Move J{n}L up by hand" for n in range(200)], TODAY).logbook.entries[-1].text
    assert busy.startswith("… J")
    assert busy.endswith("J198L up by hand, J199L up by hand")


def test_many_tasks_in_a_row_are_foreseen(box: Job) -> None:
    job = typed(box, "log week 7 h", "todo First; 1 h")
    for n in range(1, 300):
        job = typed(job, f"todo Next; 1 h; after D{n}")
    ahead = look_ahead(job, TODAY)
    assert ahead.ready == TODAY + timedelta(days=300)
    assert look_ahead(typed(job, "log week 0"), TODAY).ready is None
