"""Weld: how far each end is, which weld comes next and where joints go in two orders, and how pieces go in."""

from collections import Counter
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from ironcage.core.answers.weld import assembly, movement
from ironcage.core.answers.weld.assembly import AssemblyAnswer
from ironcage.core.answers.weld.movement import WeldAnswer, WeldOrder, WeldStep
from ironcage.core.answers.weld.states import STATES
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.text import Done, understand
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.welding import WallShrink
from ironcage.desk.asker import Question
from ironcage.desk.look import Look
from ironcage.desk.pages.page import Card, Page, button, choice, column, heading, row
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.plot import Axis, Chart, Curve, Plot
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import SmallPrint, Words
from ironcage.problem import Problem

CAUTION = (
    "Roll structures, lifting points and suspension mounts are welded by who your sanctioning body and local code "
    "allow. Vent closed tubes, mind fumes and zinc, keep fuel and batteries away."
)
MARKED = 0.09  # of a tube's length is drawn over at an end that is no longer open


@dataclass(frozen=True)
class WeldSetting:
    """How it is welded: the words of `weld WORDS VALUE`, what they are called, and the value as it is typed."""

    words: str
    name: str
    shown: str


def _settings(job: Job, page: "WeldPage") -> tuple[WeldSetting, ...]:
    w = job.welding
    return (
        WeldSetting("process", "process", w.process),
        *(_shrink(s, page) for s in w.shrinks if s.process.lower() == w.process.lower()),
        WeldSetting("spread", "give or take", f"{w.spread:.0%}"),
        WeldSetting("tack", "bending that a tack carries", f"{w.tack:.0%}"),
    )


def _shrink(s: WallShrink, page: "WeldPage") -> WeldSetting:
    wall = page.units.fine(s.wall, unit=False)
    return WeldSetting(
        f"shrink {s.process} wall {wall}", f"wall {page.units.fine(s.wall)} shortens by", page.units.fine(s.shrink)
    )


class WeldPage(Page):
    """Ends on the left, the welds that are left in the middle, how pieces go in on the right."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.result: WeldAnswer | None = None
        self.put_in: tuple[Job, AssemblyAnswer] | None = None
        self.ends = Grid("Ends", self._end_columns(), lambda e: f"{e.tube} {e.joint}", needs=2)
        self.steps = Grid("Welds that are left", self._step_columns(), lambda s: f"{s.tube} {s.joint}", needs=2)
        self.pieces = Grid("Pieces to put in", self._piece_columns(), lambda p: p.piece)
        self.pieces.say_when_empty("Press ‘Work out’ for an order in which every piece can be slid in.")
        self.settings = Grid(
            "How it is welded",
            (
                Column("how", lambda s: s.name),
                Column("value", lambda s: s.shown, True, _set),
            ),
            lambda s: s.words,
            session.do,
            wraps=0,
        )
        for grid in (self.ends, self.steps):
            grid.chose.connect(lambda keys: session.choose(tuple(n for key in keys for n in key.split())))
        self.pieces.chose.connect(self._choose_piece)
        self.counts, self.told, self.stuck = (Words(name="hint", wrap=True) for _ in range(3))
        self.plot = Plot("How far off the watched joints are, weld by weld")
        self.which, orders = choice(self, ("Best order", "Other order"), self._show_order)
        self.orders = orders
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 6, 8, 6)
        lists = QHBoxLayout()
        lists.setSpacing(10)
        for part, share in ((self._left(), 8), (self._middle(orders), 11), (self._right(), 9)):
            lists.addLayout(part, share)
        box.addWidget(self.empty)
        box.addLayout(lists, 1)

    def _left(self) -> QVBoxLayout:
        press = self.session.press
        made = column(
            heading("Ends"),
            row(
                button("Tacked", lambda: press("tacked chosen"), "The chosen ends are tacked (tacked)"),
                button("Welded", lambda: press("welded chosen"), "The chosen ends are welded (welded)"),
                button("Checked", lambda: press("checked chosen"), "The chosen welds are looked at and good (checked)"),
                button("Open", lambda: press("open chosen"), "The chosen ends are open again (open)"),
            ),
            self.counts,
            self.ends,
        )
        made.setStretch(3, 1)
        return made

    def _middle(self, orders: list[QPushButton]) -> QVBoxLayout:
        made = column(
            row(heading("Welds that are left"), *orders),
            self.told,
            self.plot,
            self.steps,
        )
        made.setStretch(2, 3)
        made.setStretch(3, 4)
        return made

    def _right(self) -> QVBoxLayout:
        made = column(
            row(
                heading("Putting in"),
                button("Work out", self._work_out, "An order in which every piece can be slid in; takes some seconds"),
            ),
            self.stuck,
            self.pieces,
            heading("How it is welded"),
            self.settings,
            SmallPrint(f"{CAUTION} {' '.join(movement.ASSUMED)} {' '.join(assembly.ASSUMED)}"),
        )
        made.setStretch(2, 5)
        made.setStretch(4, 4)
        made.setStretch(5, 2)
        return made

    def _end_columns(self) -> tuple[Column, ...]:
        return (
            Column("end", lambda e: f"{e.tube} at {e.joint}", room="T12L at J12L"),
            Column("state", lambda e: e.state, room="checked"),
            Column("since", lambda e: e.when.isoformat() if e.when else ""),
        )

    def _step_columns(self) -> tuple[Column, ...]:
        return (
            Column("weld", lambda s: f"{s.tube} at {s.joint}", room="T12L at J12L"),
            Column(
                "then off most", lambda s: f"{s.worst_joint} {self.units.fine(s.worst)}", tip="Of the joints watched"
            ),
            Column("its joint is off", lambda s: self.units.fine(s.off, unit=False), True, unit=self.length_name),
        )

    @staticmethod
    def _piece_columns() -> tuple[Column, ...]:
        return (
            Column("piece", lambda p: p.piece),
            Column("slides in", lambda p: p.way or "✗ by no straight slide", room="from above and the rear"),
            Column("after", lambda p: ", ".join(p.after)),
        )

    def question(self) -> Question:
        return movement.weld_answer

    def show_job(self, job: Job) -> None:
        self.settings.show_rows(_settings(job, self))
        if self.put_in is not None and any(
            getattr(self.put_in[0], part) is not getattr(job, part) for part in ("joints", "tubes", "shelf")
        ):
            self.put_in = None
            self.pieces.show_rows(())
            self.stuck.setText("The frame has changed since: work it out again.")

    def show_answer(self, job: Job, result: WeldAnswer | None, problem: Problem | None) -> None:
        self.result = result
        self.tell_empty(problem)
        ends = result.ends if result else ()
        self.ends.show_rows(ends)
        counted = Counter(e.state for e in ends)
        self.counts.setText(", ".join(f"{counted[s]} {s}" for s in STATES) if ends else "")
        for n, made in enumerate(self.orders):
            made.setVisible(bool(result and len(result.orders) > n))
            if result and len(result.orders) > n:
                made.setText(result.orders[n].name.capitalize())
        self._show_order()

    def _order(self) -> WeldOrder | None:
        if self.result is None or not self.result.orders:
            return None
        return self.result.orders[min(self.which.checkedId(), len(self.result.orders) - 1)]

    def _show_order(self) -> None:
        order = self._order()
        self.steps.show_rows(order.steps if order else ())
        self.told.setText(self._words(order))
        self.plot.show_chart(self._chart())
        self.put_decor(Decor(paint=self._paint))

    def _words(self, order: WeldOrder | None) -> str:
        """What the order does, and what comes next."""
        if self.result is None:
            return ""
        if order is None:
            return "Every end is welded."
        units, spread = self.units, self.session.job.welding.spread
        first, (joint, left) = order.steps[0], order.left[0]
        watched = "pickups" if self.session.job.pickups else "joints"
        return (
            f"Next: {first.tube} at {first.joint}. On the stands {watched} go up to {units.fine(order.worst)}; let go, "
            f"{joint} is left {units.fine(left)} off, give or take {spread:.0%}."
        )

    def _chart(self) -> Chart | None:
        """How far the watched joint that is off most is after each weld, the other order dashed behind."""
        order = self._order()
        if order is None or self.result is None:
            return None
        units = self.units

        def curve(o: WeldOrder, *, ghost: bool) -> Curve:
            count = np.arange(1, len(o.steps) + 1, dtype=float)
            return Curve(o.name, count, np.array([units.in_length(s.worst) for s in o.steps]), ghost=ghost)

        others = [curve(o, ghost=True) for o in self.result.orders if o is not order]
        return Chart(
            Axis("welds laid", lambda n: f"{n:.0f}", lambda n: f"weld {n:.0f}"),
            Axis(f"off most, {units.length_name}", lambda v: f"{v:g}", lambda v: f"{v:.2f} {units.length_name}"),
            (*others, curve(order, ghost=False)),
        )

    def _work_out(self) -> None:
        job = self.session.job

        def done(made: AssemblyAnswer) -> None:
            self.put_in = (job, made)
            self.pieces.show_rows(made.steps, frozenset(made.stuck))
            self.stuck.setText(_agreed(made))

        self.works.emit("Working out", "the order of putting in", lambda say: assembly.put_in_order(job, say), done)

    def _choose_piece(self, keys: tuple[str, ...]) -> None:
        picked = [p for p in self.pieces.model.rows if p.piece in keys]
        self.session.choose(tuple(t for p in picked for t in p.tubes))

    def _paint(self, brush: Brush) -> None:
        """Ends that are no longer open: tacked dashed, welded thick, checked thick in blue; the next weld's tag."""
        job = self.session.job
        for e in self.result.ends if self.result else ():
            if e.state == "open" or e.tube not in job.tube_by_id:
                continue
            route = route_of(job, job.tube_by_id[e.tube])
            first = e.joint == job.tube_by_id[e.tube].a
            start, stop = (0.0, MARKED * route.length) if first else ((1 - MARKED) * route.length, route.length)
            if e.state == "tacked":
                brush.pen(brush.look.ink, 3, Qt.PenStyle.DotLine)
            else:
                brush.pen(brush.look.blue if e.state == "checked" else brush.look.ink, 6)
            brush.line(_three(route.at(start)[0]), _three(route.at(stop)[0]))
        order = self._order()
        if order and order.steps[0].joint in job.joint_by_id:
            step = order.steps[0]
            at = job.joint_by_id[step.joint].place
            brush.tag(at, f"next: {step.tube} at {step.joint}", brush.look.oxide, offset=(12, -16))

    def show_look(self, look: Look) -> None:
        super().show_look(look)
        self.plot.show_look(look)

    def cards(self) -> list[Card]:
        """The welds that are left, one a card."""
        order = self._order()
        if order is None:
            return []
        return [self._card(n, s, len(order.steps)) for n, s in enumerate(order.steps)]

    def _card(self, n: int, step: WeldStep, count: int) -> Card:
        job = self.session.job
        tube = job.tube_by_id.get(step.tube)
        about = f"{tube.section}, {tube.material}" if tube else ""
        return Card(
            f"Weld {n + 1} of {count}",
            f"{step.tube} at {step.joint}",
            (
                f"{name_of(job, step.tube)}, at {name_of(job, step.joint)}",
                about,
                f"{tube.role}, {job.welding.process}" if tube and tube.role else job.welding.process,
                f"{step.worst_joint} is then off {self.units.fine(step.worst)}",
                CAUTION,
            ),
        )


def _set(job: Job, setting: WeldSetting, text: str) -> Done:
    return understand(f"weld {setting.words} {text}", job)


def _agreed(made: AssemblyAnswer) -> str:
    if made.ring:
        return f"✗ {', '.join(made.ring)} are cut against each other in a ring: none can come first."
    if made.stuck:
        return (
            f"✗ No straight slide brings in {', '.join(made.stuck)}: spring in, or leave what is in the way for later."
        )
    return f"{len(made.steps)} pieces, each by one straight slide past what is there."


def _three(v: np.ndarray) -> tuple[float, float, float]:
    x, y, z = (float(c) for c in v)
    return x, y, z
