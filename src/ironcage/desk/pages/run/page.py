"""Run: the points of a corner, its wheel moved over travel and steer, and what it does on the way as curves."""

import math
from dataclasses import dataclass
from functools import partial
from typing import Any, get_args

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QSlider, QVBoxLayout

from ironcage.core.answers.run.corner import ASSUMED, MIRROR, Still, link_lines, stand_at
from ironcage.core.answers.run.sweep import tyre_at
from ironcage.core.job.text import Done, understand
from ironcage.core.job.text.running import CORNER_EXAMPLE
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, Wishbones
from ironcage.desk.asker import Question
from ironcage.desk.look import Look
from ironcage.desk.pages.page import Card, Page, button, choice, column, heading, row
from ironcage.desk.pages.run.quantities import READS, Read
from ironcage.desk.pick import Pick
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.plot import Axis, Chart, Curve, Plot, Spot
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import SmallPrint, Words
from ironcage.problem import Problem
from ironcage.units import Units

STEPS = 100  # of each slider, to either side
AXLES: tuple[Axle, ...] = get_args(Axle)


@dataclass(frozen=True)
class PointRow:
    """A point or a setting of a corner: its words in `corner AXLE WORDS VALUE`, what it is called, and its value as it
    is typed; joint: the joint that it is, where it is one."""

    words: str
    name: str
    shown: str
    joint: str = ""


@dataclass(frozen=True, eq=False)
class Shown:
    """A corner where the sliders stand, and the same one at the mark, None where it is not hung or not worked out."""

    still: Still
    mark: Still | None


def shown_at(axle: Axle, travel: float, rack: float, mark: Job, job: Job) -> Shown:
    """What the page asks: shares of the travel and of the rack, -1 to 1. Raises Problem as `stand_at` does."""
    hung = next((w for w in job.wishbones if w.axle == axle), None)
    up = 0.0 if hung is None else travel * (hung.up if travel > 0 else hung.down)
    side = 0.0 if hung is None else rack * hung.rack
    try:
        before = stand_at(mark, axle, up, side) if mark is not job else None
    except Problem:
        before = None
    return Shown(stand_at(job, axle, up, side), before)


def _rows(job: Job, hung: Wishbones, units: Units) -> tuple[PointRow, ...]:
    zero = job.datum

    def place(at: tuple[float, float, float]) -> str:
        parts = zip(at, (zero.x, zero.y, zero.z), strict=True)
        return ", ".join(units.length(v - o, unit=False) for v, o in parts)

    def joint(name: str) -> str:
        return place(job.joint_by_id[name].place) if name in job.joint_by_id else "has gone"

    points = [
        PointRow("", f"{arm} arm, {end}", joint(name), name)
        for arm, names in (("lower", hung.lower), ("upper", hung.upper))
        for end, name in zip(("front", "rear"), names, strict=True)
    ]
    points.append(PointRow("", "coil-over, top", joint(hung.spring), hung.spring))
    points += [
        PointRow(words, name, place(at))
        for words, name, at in (
            ("lower out", "lower ball joint", hung.lower_out),
            ("upper out", "upper ball joint", hung.upper_out),
            ("tie out", "tie rod, outer", hung.tie_out),
            ("tie in", "tie rod, inner", hung.tie_in),
            ("spring out", "coil-over, foot", hung.spring_out),
        )
    ]
    points.append(PointRow("spring on", "its foot stands on", hung.spring_on))
    points += [
        PointRow(name, words, f"{math.degrees(value):.2f}°")
        for name, words, value in (("camber", "camber set", hung.camber), ("toe", "toe in set", hung.toe))
    ]
    points += [
        PointRow(name, words, units.length(value))
        for name, words, value in (
            ("up", "travel up", hung.up),
            ("down", "travel down", hung.down),
            ("rack", "rack, each way", hung.rack),
            ("link", "links' diameter", hung.link),
            ("margin", "links keep clear", hung.margin),
        )
    ]
    return tuple(points)


class RunPage(Page):
    """Points on the left, a curve in the middle with the sliders under it, the figures of the moment on the right."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.result: Shown | None = None
        self.axle, axles = choice(self, ("Front", "Rear"), self._other_axle)
        self.points = Grid(
            "Points of the corner",
            (
                Column("point", lambda r: f"{r.name} {r.joint}".strip()),
                Column(
                    lambda: f"x, y, z or value, {self.units.length_name}",
                    lambda r: r.shown,
                    change=self._change,
                    tip="Joints of the frame are moved in Frame",
                ),
            ),
            lambda r: r.words or r.name,
            session.do,
        )
        self.points.chose.connect(self._choose)
        self.points.say_when_empty("No wheel of this axle is hung. Choose five joints of the left side and press Hang…")
        self.reads = Grid("At this travel and steer", self._read_columns(), lambda r: r.name, wraps=0)
        self.reads.chose.connect(self._pick_read)
        self.what = Pick()
        self.what.setAccessibleName("What the curve shows")
        self.what.addItems([r.name for r in READS])
        self.what.activated.connect(lambda _: self._draw())
        self.plot = Plot("What the wheel does over its travel")
        self.travel, self.rack = self._slider("Travel of the wheel"), self._slider("Rack to the left")
        self.at = Words(name="hint", wrap=True)
        self.told = Words(name="hint", wrap=True)
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 6, 8, 6)
        lists = QHBoxLayout()
        lists.setSpacing(10)
        left = column(
            row(
                *axles,
                button("Hang…", self._hang, "Hang both wheels of the axle at the chosen joints (corner)"),
                button("Take out", lambda: session.press(f"corner {self._axle} gone"), "corner front gone"),
            ),
            self.points,
        )
        left.setStretch(1, 1)
        middle = column(row(QLabel("Curve"), self.what), self.plot, *self._sliders(), self.told)
        middle.setStretch(1, 1)
        right = column(heading("Left wheel, now"), self.at, self.reads, SmallPrint(" ".join(ASSUMED)))
        right.setStretch(2, 4)
        right.setStretch(3, 1)
        for part, share in ((left, 9), (middle, 9), (right, 9)):
            lists.addLayout(part, share)
        box.addWidget(self.empty)
        box.addLayout(lists, 1)

    def _slider(self, name: str) -> QSlider:
        made = QSlider(Qt.Orientation.Horizontal)
        made.setRange(-STEPS, STEPS)
        made.setAccessibleName(name)
        made.setMinimumWidth(80)
        made.valueChanged.connect(lambda _: self.wants.emit())
        return made

    def _sliders(self) -> tuple[QHBoxLayout, QHBoxLayout]:
        """One row for the travel, one for the rack."""
        centre = button("Ride height", self._centre, "Both sliders back to the middle")
        return (
            row(QLabel("down"), self.travel, QLabel("up"), centre, stretch=False),
            row(QLabel("rack right"), self.rack, QLabel("left"), stretch=False),
        )

    def _centre(self) -> None:
        self.travel.setValue(0)
        self.rack.setValue(0)

    def _read_columns(self) -> tuple[Column, ...]:
        return (
            Column("figure", lambda r: r.name, tip="Pick one to see its curve"),
            Column("now", self._now, True),
            Column("change", self._change_of, True, tip="From ride height, straight ahead"),
        )

    @property
    def _axle(self) -> Axle:
        return AXLES[self.axle.checkedId()]

    def _other_axle(self) -> None:
        self.show_job(self.session.job)
        self.wants.emit()

    def _hang(self) -> None:
        """A line to finish, with the chosen joints in it where there are five."""
        picked = [c for c in self.session.chosen if c in self.session.job.joint_by_id]
        line = CORNER_EXAMPLE.replace("front", self._axle, 1)
        if len(picked) == 5:
            a, b, c, d, e = picked
            line = f"corner {self._axle} lower {a} {b} upper {c} {d} spring {e}"
        self.typing.emit(line)

    def _change(self, job: Job, row_: PointRow, text: str) -> Done:
        if not row_.words:
            raise Problem(f"{row_.joint} is a joint of the frame.", where=row_.joint, hint="Choose it and type z+5.")
        return understand(f"corner {self._axle} {row_.words} {text}", job)

    def _choose(self, keys: tuple[str, ...]) -> None:
        joints = [r.joint for r in self.points.model.rows if (r.words or r.name) in keys and r.joint]
        if joints:
            self.session.choose(tuple(joints))

    def _pick_read(self, keys: tuple[str, ...]) -> None:
        if keys:
            self.what.setCurrentText(keys[0])
            self._draw()

    def question(self) -> Question:
        return partial(shown_at, self._axle, self.travel.value() / STEPS, self.rack.value() / STEPS, self.session.mark)

    def show_job(self, job: Job) -> None:
        hung = next((w for w in job.wishbones if w.axle == self._axle), None)
        self.points.show_rows(_rows(job, hung, self.units) if hung else ())
        self.rack.setEnabled(bool(hung and hung.rack))

    def show_answer(self, job: Job, result: Shown | None, problem: Problem | None) -> None:
        self.result = result
        self.tell_empty(problem)
        self.reads.show_rows(READS if result else ())
        self.at.setText(self._moment() if result else "")
        self.told.setText(self._closes(result) if result else "")
        self._draw()
        self.put_decor(Decor(bodies=tyre_at(job, result.still), paint=self._paint) if result else Decor())

    def _moment(self) -> str:
        if self.result is None:
            return ""
        still, units = self.result.still, self.units
        if not still.found.closed[0, 0]:
            return f"{units.length(still.travel)} of travel: the links do not reach."
        steer = math.degrees(float(still.told.steer[0, 0]))
        words = f"{units.length(abs(still.travel))} {'up' if still.travel >= 0 else 'down'}"
        if not still.run.hung.rack:
            return words
        side = "left" if still.rack >= 0 else "right"
        return f"{words}, rack {units.length(abs(still.rack))} {side}, steer {abs(steer):.1f}° {_side(steer)}"

    def _closes(self, result: Shown) -> str:
        run, units = result.still.run, self.units
        if run.closes:
            return ""
        up, down = run.limits
        told = [f"{units.length(abs(v))} {w}" for v, w in ((up, "up"), (down, "down")) if v is not None]
        return f"✗ The links lock at {' and '.join(told)}." if told else "✗ The links do not reach at full rack."

    def _value(self, read: Read, still: Still | None) -> float | None:
        if still is None or not still.found.closed[0, 0]:
            return None
        return float(read.value(still.told)[0, 0])

    def _now(self, read: Read) -> str:
        value = self._value(read, self.result.still if self.result else None)
        return "–" if value is None else read.shown(self.units, value)

    def _change_of(self, read: Read) -> str:
        if self.result is None:
            return ""
        run = self.result.still.run
        at_rest = len(run.found.travel) // 2 if run.hung.up == run.hung.down else int(np.abs(run.found.travel).argmin())
        value, start = self._value(read, self.result.still), float(read.value(run.told)[at_rest, run.straight])
        if value is None or not math.isfinite(start):
            return ""
        change = value - start
        return f"{'+' if change >= 0 else '−'}{read.shown(self.units, abs(change))}"

    def _draw(self) -> None:
        self.plot.show_chart(self._chart())

    def _chart(self) -> Chart | None:
        """The curve over the travel at this rack's nearest steer, straight ahead thin where it is steered, the mark's
        dashed behind, and the moment as a dot."""
        if self.result is None:
            return None
        still, read, units = self.result.still, READS[self.what.currentIndex()], self.units
        curves = list(self._curves(read, self.result.mark, "at the mark", ghost=True)) if self.result.mark else []
        curves += self._curves(read, still, read.name)
        if not any(c.xs.size for c in curves):
            return None
        value = self._value(read, still)
        spots = (
            ()
            if value is None
            else (Spot(read.shown(units, value), units.in_length(still.travel), read.drawn(units, value), dot=True),)
        )
        return Chart(
            Axis(
                f"travel up, {units.length_name}",
                lambda t: f"{t:g}",
                lambda t: (
                    f"{t:.1f} {units.length_name}" if units.length_name == "mm" else f"{t:.2f} {units.length_name}"
                ),
            ),
            Axis(read.axis(units), lambda v: f"{v:g}", lambda v: f"{v:.3f}"),
            tuple(curves),
            spots=spots,
        )

    def _curves(self, read: Read, still: Still, name: str, *, ghost: bool = False) -> list[Curve]:
        run, units = still.run, self.units
        nearest = int(np.abs(run.found.rack - still.rack).argmin())
        good = run.found.closed[:, nearest]
        xs = np.array([units.in_length(float(t)) for t in run.found.travel[good]])
        ys = np.array([read.drawn(units, float(v)) for v in read.value(run.told)[good, nearest]])
        return [Curve(name, xs, ys, ghost=ghost)] if xs.size else []

    def _paint(self, brush: Brush) -> None:
        if self.result is None or not self.result.still.found.closed[0, 0]:
            return
        still = self.result.still
        for mirror in (np.ones(3), MIRROR):
            for line in link_lines(still.found):
                brush.pen(brush.look.oxide if line.name == "coil-over" else brush.look.blue, 4)
                brush.line(_three(line.inner[0, 0] * mirror), _three(line.outer[0, 0] * mirror))
            low, high, wheel = (
                still.found.at(p)[0, 0] * mirror
                for p in (still.run.corner.lower_out, still.run.corner.upper_out, still.run.corner.wheel)
            )
            brush.pen(brush.look.ink, 3)
            brush.line(_three(low), _three(high))
            brush.line(_three((low + high) / 2), _three(wheel))
        read = READS[self.what.currentIndex()]
        wheel = still.found.at(still.run.corner.wheel)[0, 0]
        brush.tag(_three(wheel), f"{read.name} {self._now(read)}", brush.look.blue, offset=(10, -18))

    def show_look(self, look: Look) -> None:
        super().show_look(look)
        self.plot.show_look(look)

    def cards(self) -> list[Card]:
        """Each figure of the moment on a card."""
        if self.result is None:
            return []
        return [Card(read.name, self._now(read), (self._moment(), read.tip)) for read in READS]


def _side(steer: float) -> str:
    return "left" if steer >= -0.05 else "right"


def _three(v: Any) -> tuple[float, float, float]:
    x, y, z = (float(c) for c in v)
    return x, y, z
