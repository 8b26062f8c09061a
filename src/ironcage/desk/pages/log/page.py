"""Log: what was done and when, what is to do and what it waits for, what is on order, and whether there is time."""

from datetime import date
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QVBoxLayout

from ironcage.core.answers.log.ahead import ASSUMED, OrderAhead, TaskAhead
from ironcage.core.answers.log.days import LogAnswer, log_answer
from ironcage.core.job.text import Done, understand
from ironcage.core.job.values.logbook import LogEntry
from ironcage.core.job.values.model import Job
from ironcage.desk.asker import Question
from ironcage.desk.pages.log.daypage import DayPage, amounts, newest_first
from ironcage.desk.pages.page import Card, Page, button, column, heading, row
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import Words
from ironcage.problem import Problem


class LogPage(Page):
    """The day on the left, what is ahead on the right, and above them whether the time left is enough."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.result: LogAnswer | None = None
        self.entries = Grid("Done", self._entry_columns(), lambda e: e.id, session.do, wraps=4)
        self.tasks = Grid("To do", self._task_columns(), lambda t: t.task.id, session.do, wraps=4)
        self.orders = Grid("On order", self._order_columns(), lambda o: o.order.id, session.do, wraps=4)
        self.entries.say_when_empty("Nothing is logged yet. Type did and what was done, or press ‘Did…’.")
        self.tasks.say_when_empty("Nothing is on the list. Type todo and what is to be done, or press ‘To do…’.")
        self.orders.say_when_empty("Nothing is on order. Type order, what, and when it is due, or press ‘Order…’.")
        self.entries.chose.connect(self._pick_entry)
        self.tasks.chose.connect(lambda keys: self._choose(self.tasks, keys, lambda t: t.task.of))
        self.orders.chose.connect(lambda keys: self._choose(self.orders, keys, lambda o: o.order.of))
        self.told = Words(name="hint", wrap=True)
        self.told.setToolTip(" ".join(ASSUMED))
        self.day = DayPage()
        self.shown: date | None = None
        self._last_entry: int | None = None
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 6, 8, 6)
        box.addLayout(self._above())
        lists = QHBoxLayout()
        lists.setSpacing(10)
        for part, share in ((self._done_side(), 12), (self._ahead_side(), 13)):
            lists.addLayout(part, share)
        box.addLayout(lists, 1)

    def _above(self) -> QHBoxLayout:
        """Whether there is time, and what leaves as a file."""
        paper = QPushButton("Book")
        menu = QMenu(paper)
        menu.addAction("Build book (PDF)…", lambda: self.export.emit("book-pdf", ""))
        menu.addAction("Log as a table (CSV)…", lambda: self.export.emit("log-csv", ""))
        paper.setObjectName("menu")
        paper.setMenu(menu)
        above = QHBoxLayout()
        above.addWidget(self.told, 1)
        above.addWidget(
            button(
                "Hours a week…", lambda: self.typing.emit("log week "), "The hours there are for the build (log week)"
            )
        )
        above.addWidget(paper)
        return above

    def _done_side(self) -> QVBoxLayout:
        """What was done, and the day that is looked at."""
        tools = row(
            button("Did…", lambda: self.typing.emit("did "), "Log what was done or decided (did)"),
            button("Photo…", lambda: self.bring.emit("photo"), "Log a photo, on the day it was taken"),
            button("Take out", lambda: self._take_out(self.entries), "Take the picked entry out (log E1 gone)"),
            button("Day before", lambda: self._turn(1), "The day before on which something happened"),
            button("Day after", lambda: self._turn(-1), "The day after on which something happened"),
        )
        left = column(heading("Done"), tools, self.entries, self.day)
        left.setStretch(2, 1)
        left.setStretch(3, 1)
        return left

    def _ahead_side(self) -> QVBoxLayout:
        """What is to do and what is on order."""
        start = self.typing.emit
        tasks = row(
            button("To do…", lambda: start("todo "), "Put something on the list (todo)"),
            button("Finish", self._finish, "The picked task is done, which also logs it (done D1)"),
            button("Take out", lambda: self._take_out(self.tasks), "Take the picked task out (log D1 gone)"),
        )
        orders = row(
            button("Order…", lambda: start("order "), "Note something ordered (order)"),
            button("Has come", self._come, "The picked order has come (arrived O1)"),
            button("Take out", lambda: self._take_out(self.orders), "Take the picked order out (log O1 gone)"),
        )
        right = column(heading("To do"), tasks, self.tasks, heading("On order"), orders, self.orders)
        right.setStretch(2, 3)
        right.setStretch(5, 2)
        return right

    def _entry_columns(self) -> tuple[Column, ...]:
        """What is told of an entry."""
        return (
            Column("no.", lambda e: e.id),
            Column("day", lambda e: e.when.isoformat(), change=_log("on")),
            Column("h", lambda e: f"{e.hours:g}" if e.hours else "", True, _log("hours"), "Hours that it took", "12.5"),
            Column("cost", lambda e: f"{e.cost:,.0f}" if e.cost else "", True, _log("cost"), room="1,200"),
            Column("what", self._what_was_done, change=_log("text")),
        )

    def _what_was_done(self, entry: LogEntry) -> str:
        mark = " (photo)" if entry.photos else ""
        return f"{self.units.say(entry.text)}{mark}"

    def _task_columns(self) -> tuple[Column, ...]:
        """What is told of a task."""
        return (
            Column("no.", lambda t: t.task.id),
            Column(
                "h", lambda t: f"{t.task.hours:g}" if t.task.hours else "", True, _log("hours"), "Hours to go", "12.5"
            ),
            Column("waits for", lambda t: ", ".join(t.waits) or "can begin", change=_log("after"), room="can begin"),
            Column("begins", lambda t: t.begins.isoformat() if t.begins else "", tip=" ".join(ASSUMED)),
            Column("what", lambda t: self.units.say(t.task.text), change=_log("text")),
        )

    def _order_columns(self) -> tuple[Column, ...]:
        """What is told of an order."""
        return (
            Column("no.", lambda o: o.order.id),
            Column("due", _due, change=_log("due")),
            Column("cost", lambda o: f"{o.order.cost:,.0f}" if o.order.cost else "", True, _log("cost"), room="1,200"),
            Column(
                "holds up",
                _holds,
                tip="The tasks that wait for it, and by how many days all would be done sooner if it came today",
            ),
            Column("what", lambda o: self.units.say(o.order.text), change=_log("text")),
        )

    def question(self) -> Question:
        return partial(log_answer, today=date.today())

    def show_answer(self, job: Job, result: LogAnswer | None, problem: Problem | None) -> None:
        self.result = result
        if result is None:
            return
        self.entries.show_rows(newest_first(result.days))
        self.tasks.show_rows(result.ahead.tasks)
        self.orders.show_rows(result.ahead.orders, frozenset(o.order.id for o in result.ahead.orders if o.overdue))
        self.told.setText(_time_left(job, result))
        written = job.logbook.last_entry
        if self._last_entry is not None and written > self._last_entry:
            self.shown = job.logbook.entries[-1].when  # what was just logged is what the builder looks for
        self._last_entry = written
        self._show_day()

    def _show_day(self) -> None:
        """The day that was picked; the newest where none was or it has gone."""
        if self.result is None:
            return
        known = [d.day for d in self.result.days]
        if self.shown not in known:
            self.shown = known[0] if known else None
        self.day.show_day(self.result.day(self.shown or date.today()), self.units)

    def _turn(self, step: int) -> None:
        """To the next day on which something happened: 1 for the one before, -1 for the one after."""
        days = [d.day for d in self.result.days] if self.result else []
        if self.shown in days:
            at = days.index(self.shown) + step
            if 0 <= at < len(days):
                self.shown = days[at]
                self._show_day()
                return
        self.session.told.emit("The log has no day further on." if step < 0 else "The log has no day before.", False)

    def _pick_entry(self, keys: tuple[str, ...]) -> None:
        picked = [e for e in self.entries.model.rows if e.id in keys]
        if picked:
            self.shown = picked[0].when
            self._show_day()
            self.session.choose(tuple(n for e in picked for n in e.of))

    def _choose(self, grid: Grid, keys: tuple[str, ...], of: Any) -> None:
        """Choose what the picked rows are about."""
        self.session.choose(tuple(n for r in grid.model.rows if grid.key(r) in keys for n in of(r)))

    def _picked(self, grid: Grid, what: str) -> str:
        """The id of the picked row; says so where there is none."""
        if grid.picked is None:
            self.session.told.emit(f"Pick {what} in the list first.", True)
            return ""
        return grid.key(grid.picked)

    def _take_out(self, grid: Grid) -> None:
        if name := self._picked(grid, "a line"):
            self.session.press(f"log {name} gone")

    def _finish(self) -> None:
        if name := self._picked(self.tasks, "a task"):
            self.session.press(f"done {name}")

    def _come(self) -> None:
        if name := self._picked(self.orders, "an order"):
            self.session.press(f"arrived {name}")

    def cards(self) -> list[Card]:
        """What can be begun now, task by task, and what is on order."""
        if self.result is None:
            return []
        ahead = self.result.ahead
        free = [t for t in ahead.tasks if not t.waits]
        made = [
            Card(self.units.say(t.task.text), f"{t.task.hours:g} h", (t.task.id, " ".join(t.task.of))) for t in free
        ]
        made += [
            Card(self.units.say(o.order.text), f"due {o.order.due.isoformat()}", (o.order.id, f"holds up {_holds(o)}"))
            for o in ahead.orders
        ]
        return made


def _log(word: str) -> Any:
    """A cell that is typed like `log ID WORD CELL`."""

    def change(job: Job, thing: LogEntry | TaskAhead | OrderAhead, text: str) -> Done:
        name = (
            thing.id
            if isinstance(thing, LogEntry)
            else (thing.task if isinstance(thing, TaskAhead) else thing.order).id
        )
        return understand(f"log {name} {word} {text}", job)

    return change


def _due(o: OrderAhead) -> str:
    late = f" ✗ {o.overdue} d late" if o.overdue else ""
    return f"{o.order.due.isoformat()}{late}"


def _holds(o: OrderAhead) -> str:
    if not o.holds:
        return "nothing"
    return ", ".join(o.holds) + (f", {o.costs_days} d" if o.costs_days else "")


def _time_left(job: Job, told: LogAnswer) -> str:
    """Whether the hours left are enough, in one or two sentences."""
    ahead = told.ahead
    spent = f"{amounts(told.hours, told.cost) or 'Nothing'} logged" + (
        f" of a budget of {told.budget:,.0f}." if told.budget is not None else "."
    )
    if not ahead.tasks:
        return spent
    words = f"{ahead.hours:g} h to do"
    if not job.logbook.hours_a_week:
        return f"{words}; say how many hours a week there are. {spent}"
    if ahead.hours_there is not None:
        words += f", {ahead.hours_there:.0f} h in the {max(ahead.days_left or 0, 0)} days left"
    if ahead.ready is not None:
        words += f"; done {ahead.ready.isoformat()}"
        spare = ahead.spare_days
        if spare is not None:
            words += f", {spare} days to spare" if spare >= 0 else f", {-spare} days too late"
        if ahead.idle >= 1:
            words += f"; {ahead.idle:.0f} days go by waiting for parts"
    return f"{words}. {spent}"
