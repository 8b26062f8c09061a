"""The build book: what was built, to which aims, from which pieces, how it measures, and every day of the work."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from ironcage.core.answers import tally
from ironcage.core.answers.brief import aims as brief
from ironcage.core.answers.cut import pieces
from ironcage.core.answers.log.days import LogAnswer, LogDay, log_answer
from ironcage.core.answers.shared.figures import shown
from ironcage.core.answers.true import measured, reading_shown
from ironcage.core.exchange.story import Story
from ironcage.core.job.geometry import measure
from ironcage.core.job.store.scans import picture_path
from ironcage.core.job.text.measure import read
from ironcage.core.job.text.plans import aimed
from ironcage.core.job.values.logbook import LogEntry
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.core.job.values.truing import joints_of
from ironcage.problem import Problem

CAUTION = (
    "This book holds what the builder has typed and measured. It is no certificate: for a roll structure, the road or "
    "a race ask your sanctioning body, your local authority and a licensed engineer."
)

MET = {True: "met", False: "not met", None: ""}


def to_build_book(job: Job, today: date | None = None) -> bytes:
    """The build book as PDF, A4, as it stands on a day. What can't be worked out says why in its place."""
    story = Story(units_of(job))
    story.title(f"{job.brief.name}: build book")
    story.words(" · ".join(filter(None, (job.brief.vehicle, job.brief.builder))) or "No builder is named yet.")
    story.words(CAUTION)
    log = log_answer(job, today)
    for heading, write in (
        ("What was aimed at", _aims),
        ("What it is", _figures),
        ("Tapes", _tapes),
        ("Pieces", _pieces),
        ("Where the joints stand", _measured),
    ):
        story.heading(heading)
        try:
            write(story, job)
        except Problem as problem:
            story.words(problem.sentence)
    _ahead(story, log)
    _days(story, log)
    return story.pdf(job.brief.name, "a record, not an approval of anything")


def _aims(story: Story, job: Job) -> None:
    units, deadline = story.units, job.brief.deadline
    rows = []
    for aim in brief.aims(job):
        show = aimed(aim.kind).show
        give = f" ± {show(units, aim.tolerance)}" if aim.tolerance else ""
        limit = "at most " if aim.kind in brief.AT_MOST else "at least " if aim.kind in brief.AT_LEAST else ""
        now = "not known" if aim.now is None else show(units, aim.now)
        rows.append((aim.kind, f"{limit}{show(units, aim.value)}{give}", now, MET[aim.met]))
    if deadline:
        rows.append(("deadline", deadline.isoformat(), "", ""))
    if not rows:
        story.words("No aim was set.")
        return
    story.table(("aim", "wanted", "is", ""), rows)


def _figures(story: Story, job: Job) -> None:
    story.table(("figure", "value"), [(f.label, shown(f, story.units)) for f in tally.answer(job)])


def _tapes(story: Story, job: Job) -> None:
    """Tapes that stay on the table, as they read on the drawing."""
    told = [read(job, tape.things) for tape in job.tapes if measure.known(job, tape.things)]
    for words in told or ["No tape is kept on the table."]:
        story.words(words)


def _pieces(story: Story, job: Job) -> None:
    units = story.units
    rows = [
        (p.id, p.section.name, p.material, p.role, units.length(p.bar), f"{p.first.joint}–{p.second.joint}")
        for p in pieces.answer(job).pieces
    ]
    story.table(("piece", "section", "material", "role", "bar", "between"), rows)


def _measured(story: Story, job: Job) -> None:
    told, units = measured.answer(job), story.units
    story.table(
        ("joint", "off", "give or take", "stands"),
        [(j.joint, units.fine(j.off), units.fine(j.give_or_take), j.words) for j in told.joints],
    )
    story.heading("Readings")
    story.table(
        ("no.", "kind", "of", "read", "off", "on"),
        [
            (
                r.reading.id,
                r.reading.kind,
                "–".join(joints_of(r.reading)),
                reading_shown(r.reading, units),
                measured.error_shown(r, units),
                _day(r.reading.when),
            )
            for r in told.readings
        ],
    )


def _ahead(story: Story, log: LogAnswer) -> None:
    ahead = log.ahead
    if ahead.tasks:
        story.heading("To do")
        story.table(
            ("no.", "what", "hours", "waits for", "begins"),
            [(t.task.id, t.task.text, f"{t.task.hours:g}", ", ".join(t.waits), _day(t.begins)) for t in ahead.tasks],
        )
    if ahead.orders:
        story.heading("On order")
        story.table(
            ("no.", "what", "due", "cost", "holds up"),
            [
                (o.order.id, o.order.text, _day(o.order.due), f"{o.order.cost:,.0f}", ", ".join(o.holds))
                for o in ahead.orders
            ],
        )


def _day(day: date | None) -> str:
    return day.isoformat() if day else "–"


def _days(story: Story, log: LogAnswer) -> None:
    """Every day, the first one first."""
    story.heading("Day by day")
    if not log.days:
        story.words("Nothing is logged yet.")
        return
    story.words(f"{log.hours:g} h and {log.cost:,.0f} logged.")
    for day in reversed(log.days):
        story.heading(f"{day.day.isoformat()} · {day.hours:g} h · {day.cost:,.0f}")
        for words in _told(day):
            story.words(words)
        for entry in day.entries:
            for path in filter(None, map(picture_path, entry.photos)):
                story.photo(path)


def _told(day: LogDay) -> Iterable[str]:
    yield from map(_entry, day.entries)
    yield from (f"Came: {o.text} ({o.id})" for o in day.came)
    yield from (f"Ordered: {o.text} ({o.id}), due {o.due.isoformat()}, {o.cost:,.0f}" for o in day.ordered)
    yield from (f"{state.capitalize()}: {'; '.join(ends)}." for state, ends in day.welded)
    if day.readings:
        yield f"{len(day.readings)} readings taken: {day.readings[0].id} to {day.readings[-1].id}."


def _entry(entry: LogEntry) -> str:
    told = (
        " ".join(entry.of),
        f"{entry.hours:g} h" if entry.hours else "",
        f"{entry.cost:,.0f}" if entry.cost else "",
    )
    behind = ", ".join(filter(None, told))
    return f"{entry.id}  {entry.text}" + (f" ({behind})" if behind else "")
