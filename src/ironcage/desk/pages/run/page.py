"""Run: the points of a corner, its wheel moved over travel and steer, and what it does on the way as curves."""

import math
from dataclasses import dataclass, replace
from functools import partial
from typing import Any, get_args

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMenu, QPushButton, QSlider, QVBoxLayout

from ironcage.core.answers.run import springs as coil_overs
from ironcage.core.answers.run.beam import BeamStill
from ironcage.core.answers.run.corner import ASSUMED, Still
from ironcage.core.answers.run.effects import PointEffect, effects_at
from ironcage.core.answers.run.liveaxle import LinkedStill
from ironcage.core.answers.run.springs import SpringCurves, Sprung, springs_at, sprung
from ironcage.core.calc.linkage.steering import Turn
from ironcage.core.job.text import Done, understand
from ironcage.core.job.text.arms import ARM_EXAMPLE
from ironcage.core.job.text.axles import AXLE_EXAMPLE
from ironcage.core.job.text.beams import BEAM_EXAMPLE
from ironcage.core.job.text.running import CORNER_EXAMPLE
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, CoilOver, KingpinBeam
from ironcage.desk.asker import Question
from ironcage.desk.look import Look
from ironcage.desk.pages.page import Card, Page, button, choice, column, heading, row
from ironcage.desk.pages.run.kinds import CORNER, Kind, Runs, Stills, coil_of, hung_of, kind_of
from ironcage.desk.pages.run.points import PointRow, point_rows
from ironcage.desk.pages.run.quantities import SPRING_READS, Read, rate_words
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


@dataclass(frozen=True, eq=False)
class Shown:
    """An end where the sliders stand, and the same one at the mark, None where it is not hung alike or not worked out.
    turn: what both wheels make of it, where they are steered; springs, sprung: what its coil-over does there and over
    the travel, None where it has none or none is known; mark_sprung: over the travel at the mark."""

    kind: Kind
    still: Stills
    mark: Stills | None
    turn: Turn | None = None
    springs: SpringCurves | None = None
    sprung: Sprung | None = None
    mark_sprung: Sprung | None = None
    effects: tuple[PointEffect, ...] = ()


def shown_at(axle: Axle, travel: float, second: float, mark: Job, job: Job) -> Shown:
    """What the page asks: shares of the travel and of the second slider's way, -1 to 1. Raises Problem as `stand_at`,
    `axle_at` and `beam_at` do."""
    hung = hung_of(job, axle)
    kind = kind_of(hung)
    up = 0.0 if hung is None or isinstance(hung, KingpinBeam) else travel * (hung.up if travel > 0 else hung.down)
    side = 0.0 if hung is None else second * kind.most(hung)
    try:
        before = kind.stand(mark, axle, up, side) if mark is not job and kind_of(hung_of(mark, axle)) is kind else None
    except Problem:
        before = None
    still = kind.stand(job, axle, up, side)
    if isinstance(still, BeamStill):
        return Shown(kind, still, before)
    return Shown(
        kind,
        still,
        before,
        kind.turn(job, still),
        springs_at(job, still),
        sprung(job).get(axle),
        sprung(mark).get(axle) if before else None,
    )


def shown_with_effects(axle: Axle, travel: float, second: float, mark: Job, job: Job) -> Shown:
    """As `shown_at`, with what a millimetre of each point does there, on wishbones. Raises Problem as that does."""
    shown = shown_at(axle, travel, second, mark, job)
    return replace(shown, effects=effects_at(job, shown.still)) if isinstance(shown.still, Still) else shown


class RunPage(Page):
    """Points on the left, a curve in the middle with the sliders under it, the figures of the moment on the right."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.result: Shown | None = None
        self.end_chosen = False
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
            wraps=0,
        )
        self.points.chose.connect(self._choose)
        self.points.say_when_empty(
            "No wheel of this axle is hung. Choose five joints of the left side and press Hang, On wishbones; or two "
            "and one for a track rod, and press Hang, On a live axle; or press Hang for a beam or arms."
        )
        self.effects = Grid("What each point does", self._effect_columns(), lambda e: e.point, wraps=0, needs=4)
        self.effects.chose.connect(self._choose_effect)
        self.effects.say_when_empty("What moving each point does is told of wishbones.")
        self.effects.hide()
        self.reads = Grid("At this travel and steer", self._read_columns(), lambda r: r.name, wraps=0)
        self.reads.chose.connect(self._pick_read)
        self.what = Pick()
        self.what.setAccessibleName("What the curve shows")
        self.what.setSizeAdjustPolicy(Pick.SizeAdjustPolicy.AdjustToContents)
        self._reads: tuple[Read, ...] = ()
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
                self._hanging(),
                button("Take out", self._take_out, "Take what the wheels hang on out (corner or axle, … gone)"),
            ),
            self.points,
            self.effects,
        )
        left.setStretch(1, 1)
        left.setStretch(2, 1)
        self.by_mm = QPushButton("Effects")
        self.by_mm.setToolTip("What moving each point by a little does to this figure, here")
        self.by_mm.setCheckable(True)
        self.by_mm.toggled.connect(self._show_effects)
        middle = column(row(QLabel("Curve"), self.what, self.by_mm), self.plot, *self._sliders(), self.told)
        middle.setStretch(1, 1)
        self.of, self.assumed = heading("Left wheel, now"), SmallPrint(" ".join(ASSUMED))
        right = column(self.of, self.at, self.reads, self.assumed)
        right.setStretch(2, 4)
        right.setStretch(3, 1)
        for part, share in ((left, 9), (middle, 9), (right, 9)):
            lists.addLayout(part, share)
        box.addWidget(self.empty)
        box.addLayout(lists, 1)

    def _hanging(self) -> QPushButton:
        """The button with what both wheels can be hung on."""
        self.hanging = QPushButton("Hang")
        self.hanging.setToolTip("Hang both wheels of this end at the chosen joints (corner, axle)")
        menu = QMenu(self.hanging)
        menu.addAction("On wishbones…", self._hang)
        menu.addAction("On a live axle…", self._hang_axle)
        menu.addAction("On a beam with kingpins", self._hang_beam)
        menu.addAction("On swinging arms…", self._hang_arms)
        self.hanging.setObjectName("menu")
        self.hanging.setMenu(menu)
        return self.hanging

    def _slider(self, name: str) -> QSlider:
        made = QSlider(Qt.Orientation.Horizontal)
        made.setRange(-STEPS, STEPS)
        made.setAccessibleName(name)
        made.setMinimumWidth(80)
        made.valueChanged.connect(lambda _: self.wants.emit())
        return made

    def _sliders(self) -> tuple[QHBoxLayout, QHBoxLayout]:
        """One row for the travel, one for the rack."""
        self.ways = QLabel("rack right"), QLabel("left")
        self.up_down = QLabel("down"), QLabel("up")
        self.centre = button("Ride height", self._centre, "Both sliders back to the middle")
        return (
            row(self.up_down[0], self.travel, self.up_down[1], self.centre, stretch=False),
            row(self.ways[0], self.rack, self.ways[1], stretch=False),
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

    def _effect_columns(self) -> tuple[Column, ...]:
        """What a millimetre of each point along each axis does to the figure whose curve is shown."""
        ways = (("x", "forward"), ("y", "to the left"), ("z", "up"))
        return (
            Column("point", lambda e: f"{e.point} {e.joint}".strip()),
            *(
                Column(axis, partial(self._effect, n), True, tip=partial(self._effect_tip, way))
                for n, (axis, way) in enumerate(ways)
            ),
        )

    def _effect(self, axis: int, effect: PointEffect) -> str:
        """What a millimetre of a point does to the figure whose curve is shown."""
        read = self._reads[self.what.currentIndex()]
        return "" if read.sprung else read.by_mm(self.units, float(read.value(effect.per_mm)[axis]))

    def _effect_tip(self, way: str) -> str:
        return f"What {self.units.length(1.0)} {way} does to the figure whose curve is shown, as it counts there"

    def _show_effects(self, on: bool) -> None:
        """Show what a millimetre does in place of the points, or the points again."""
        self.points.setVisible(not on)
        self.effects.setVisible(on)
        self.wants.emit()

    def _choose_effect(self, keys: tuple[str, ...]) -> None:
        joints = tuple(e.joint for e in self.effects.model.rows if e.point in keys and e.joint)
        if joints:
            self.session.choose(joints)

    @property
    def _axle(self) -> Axle:
        return AXLES[self.axle.checkedId()]

    def _open_where_hung(self, job: Job) -> None:
        """Show the end that is hung where only one is, until a person has worked with an end."""
        if self.end_chosen or hung_of(job, self._axle):
            return
        for n, axle in enumerate(AXLES):
            if hung_of(job, axle) and (end := self.axle.button(n)):
                end.setChecked(True)

    def _other_axle(self) -> None:
        self.end_chosen = True
        self.show_job(self.session.job)
        self.wants.emit()

    def _hang(self) -> None:
        """A line to finish, with the chosen joints in it where there are five."""
        self.end_chosen = True
        picked = [c for c in self.session.chosen if c in self.session.job.joint_by_id]
        line = CORNER_EXAMPLE.replace("front", self._axle, 1)
        if len(picked) == 5:
            a, b, c, d, e = picked
            line = f"corner {self._axle} lower {a} {b} upper {c} {d} spring {e}"
        self.typing.emit(line)

    def _hang_axle(self) -> None:
        """A line to finish, with the chosen joints in it where there are two or three."""
        self.end_chosen = True
        picked = [c for c in self.session.chosen if c in self.session.job.joint_by_id]
        line = AXLE_EXAMPLE.replace("rear", self._axle, 1)
        if len(picked) in (2, 3):
            line = f"axle {self._axle} lower {picked[0]} upper {picked[1]}"
            line += f" rod {picked[2]}" if len(picked) == 3 else ""
        self.typing.emit(line)

    def _hang_beam(self) -> None:
        self.end_chosen = True
        self.session.press(BEAM_EXAMPLE.replace("front", self._axle, 1))

    def _hang_arms(self) -> None:
        """A line to finish, with the chosen joints in it where there are two."""
        self.end_chosen = True
        picked = [c for c in self.session.chosen if c in self.session.job.joint_by_id]
        line = ARM_EXAMPLE.replace("rear", self._axle, 1)
        self.typing.emit(f"arm {self._axle} axis {picked[0]} {picked[1]}" if len(picked) == 2 else line)

    def _take_out(self) -> None:
        self.end_chosen = True
        self.session.press(f"{self._word} {self._axle} gone")

    @property
    def _word(self) -> str:
        """The word that lines about what the wheels hang on begin with."""
        return kind_of(hung_of(self.session.job, self._axle)).word

    def _change(self, job: Job, row_: PointRow, text: str) -> Done:
        if not row_.words:
            raise Problem(f"{row_.joint} is a joint of the frame.", where=row_.joint, hint="Choose it and type z+5.")
        return understand(f"{self._word} {self._axle} {row_.words} {text}", job)

    def _choose(self, keys: tuple[str, ...]) -> None:
        joints = [r.joint for r in self.points.model.rows if (r.words or r.name) in keys and r.joint]
        if joints:
            self.session.choose(tuple(joints))

    def _pick_read(self, keys: tuple[str, ...]) -> None:
        if keys:
            self.what.setCurrentText(keys[0])
            self._draw()

    def question(self) -> Question:
        asked = shown_with_effects if self.by_mm.isChecked() else shown_at
        return partial(asked, self._axle, self.travel.value() / STEPS, self.rack.value() / STEPS, self.session.mark)

    def show_job(self, job: Job) -> None:
        self._open_where_hung(job)
        hung = hung_of(job, self._axle)
        kind, coil = kind_of(hung), coil_of(hung)
        self.points.show_rows(point_rows(job, hung, self.units) if hung else ())
        self.rack.setEnabled(bool(hung and kind.most(hung)))
        for part in (*self.up_down, self.travel):
            part.setVisible(not isinstance(hung, KingpinBeam))
        self.centre.setText("Straight ahead" if isinstance(hung, KingpinBeam) else "Ride height")
        self.by_mm.setEnabled(kind is CORNER)
        for label, words in zip(self.ways, kind.sides, strict=True):
            label.setText(words)
        self.rack.setVisible(any(kind.sides))
        self.rack.setAccessibleName(kind.second)
        self.of.setText(kind.heading)
        assumed = (*kind.assumed, *((coil_overs.ASSUMED,) if coil else ()))
        self.assumed.say(assumed[0], more=" ".join(assumed[1:]))
        reads = (*kind.reads, *(SPRING_READS if coil else ()))
        if reads != self._reads:
            self._reads = reads
            self.what.clear()
            self.what.addItems([r.name for r in reads])

    def show_answer(self, job: Job, result: Shown | None, problem: Problem | None) -> None:
        self.result = result
        self.tell_empty(problem)
        fits = result is not None and result.kind.reads[0] is (self._reads or (None,))[0]
        self.result = result = result if fits else None
        self.reads.show_rows(self._reads if result else ())
        self.at.setText(self._moment() if result else "")
        self.told.setText(" ".join(filter(None, (self._closes(result), self._rates(result)))) if result else "")
        self._draw()

    def _moment(self) -> str:
        if self.result is None:
            return ""
        still, units = self.result.still, self.units
        if not still.found.closed[0, 0]:
            return f"{units.length(still.travel)} of travel: the links do not reach."
        return self.result.kind.moment(still, self.result.turn, units)

    def _closes(self, result: Shown) -> str:
        run, units = result.still.run, self.units
        if run.closes:
            return ""
        up, down = run.limits
        told = [f"{units.length(abs(v))} {w}" for v, w in ((up, "up"), (down, "down")) if v is not None]
        return f"✗ The links lock at {' and '.join(told)}." if told else "✗ The links do not reach to the end."

    def _rates(self, result: Shown) -> str:
        """What the springs hold a leaning car with, and what rate swings how fast."""
        if result.sprung is None or result.sprung.coil == CoilOver():
            return ""
        units, said = self.units, []
        if result.sprung.roll:
            said.append(f"Roll stiffness {units.torsional_stiffness(result.sprung.roll)}.")
        if rates := result.sprung.rates():
            told = ", ".join(f"{rate_words(units, rate)} for {swings:g} Hz" for swings, rate in rates.items())
            said.append(f"Springs of {told}.")
        return " ".join(said)

    def _value(self, read: Read) -> float | None:
        """A figure of the moment; None where the links do not reach, or it is not known."""
        if self.result is None or not self.result.still.found.closed[0, 0]:
            return None
        of: Any = self.result.springs if read.sprung else self.result.still.told
        value = math.nan if of is None else float(read.value(of)[0, 0])
        return None if math.isnan(value) and read.sprung else value

    def _now(self, read: Read) -> str:
        value = self._value(read)
        return "–" if value is None else read.shown(self.units, value)

    def _change_of(self, read: Read) -> str:
        if self.result is None:
            return ""
        run = self.result.still.run
        at_rest = int(np.abs(run.found.travel).argmin())
        over = _over(read, run, self.result.sprung)
        start = math.nan if over is None else float(over[at_rest, run.straight])
        value = self._value(read)
        if value is None or not math.isfinite(start) or not math.isfinite(value):
            return ""
        change = value - start
        text = read.shown(self.units, abs(change))
        fell = change < 0 and any(digit in text for digit in "123456789")  # no figure falls by nothing
        return f"{'−' if fell else '+'}{text}"

    def _draw(self) -> None:
        """Show the curve of what is picked, what a millimetre does to it, and the wheels on the table with its
        figure."""
        self.effects.show_rows(self.result.effects if self.result else ())
        self.plot.show_chart(self._chart())
        shown, job = self.result, self.session.job
        self.put_decor(Decor(bodies=shown.kind.tyres(job, shown.still), paint=self._paint) if shown else Decor())

    def _chart(self) -> Chart | None:
        """The curve over the travel at this rack's nearest steer, straight ahead thin where it is steered, the mark's
        dashed behind, and the moment as a dot."""
        if self.result is None:
            return None
        still, read, units = self.result.still, self._reads[self.what.currentIndex()], self.units
        mark, curves = self.result.mark, list[Curve]()
        if mark:
            curves += self._curves(read, mark, self.result.mark_sprung, "at the mark", ghost=True)
        curves += self._curves(read, still, self.result.sprung, read.name)
        if not any(c.xs.size for c in curves):
            return None
        value = self._value(read)
        spots = (
            ()
            if value is None
            else (
                Spot(read.shown(units, value), _along(still, _way(still), units), read.drawn(units, value), dot=True),
            )
        )
        return Chart(
            _along_axis(still, units),
            Axis(read.axis(units), lambda v: f"{v:g}", lambda v: f"{v:.3f}"),
            tuple(curves),
            spots=spots,
        )

    def _curves(self, read: Read, still: Stills, of: Sprung | None, name: str, *, ghost: bool = False) -> list[Curve]:
        run, units, over = still.run, self.units, _over(read, still.run, of)
        if over is None:
            return []
        if isinstance(still, BeamStill):
            at, closed, values = run.found.rack, run.found.closed[0], over[0]
        else:
            nearest = int(np.abs(run.found.rack - still.rack).argmin())
            at, closed, values = run.found.travel, run.found.closed[:, nearest], over[:, nearest]
        good = closed & np.isfinite(values)
        xs = np.array([_along(still, float(t), units) for t in at[good]])
        ys = np.array([read.drawn(units, float(v)) for v in values[good]])
        return [Curve(name, xs, ys, ghost=ghost)] if xs.size else []

    def _paint(self, brush: Brush) -> None:
        if self.result is None or not self.result.still.found.closed[0, 0]:
            return
        still, look = self.result.still, brush.look
        kind = self.result.kind
        for line in kind.drawn(self.session.job, still):
            width = 4 if line.what != "body" else 8 if isinstance(still, LinkedStill) else 3
            brush.pen({"link": look.blue, "spring": look.oxide, "body": look.ink}[line.what], width)
            brush.line(_three(line.start), _three(line.stop))
        read = self._reads[self.what.currentIndex()]
        brush.tag(_three(kind.middle(still)), f"{read.name} {self._now(read)}", brush.look.blue, offset=(10, -18))

    def show_look(self, look: Look) -> None:
        super().show_look(look)
        self.plot.show_look(look)

    def cards(self) -> list[Card]:
        """Each figure of the moment on a card."""
        if self.result is None:
            return []
        return [Card(read.name, self._now(read), (self._moment(), read.tip)) for read in self._reads]


def _over(read: Read, run: Runs, of: Sprung | None) -> Any:
    """A figure over the whole travel (n, m); None where nothing is known of it."""
    if read.sprung:
        return read.value(of.over) if of else None
    return read.value(run.told)


def _way(still: Stills) -> float:
    """Where an end stands on what its curves are drawn over: its travel, or how far a beam is steered."""
    return still.rack if isinstance(still, BeamStill) else still.travel


def _along(still: Stills, value: float, units: Units) -> float:
    """A value of what curves are drawn over, as the chart counts it."""
    turns = isinstance(still, BeamStill) and still.run.hung.pivot
    return math.degrees(value) if turns else units.in_length(value)


def _along_axis(still: Stills, units: Units) -> Axis:
    """What curves are drawn over."""
    if isinstance(still, BeamStill) and still.run.hung.pivot:
        return Axis("drop arm to the left, °", lambda t: f"{t:g}", lambda t: f"{t:.1f}°")
    name = units.length_name
    called = "rack to the left" if isinstance(still, BeamStill) else "travel up"
    return Axis(
        f"{called}, {name}", lambda t: f"{t:g}", lambda t: f"{t:.1f} {name}" if name == "mm" else f"{t:.2f} {name}"
    )


def _three(v: Any) -> tuple[float, float, float]:
    x, y, z = (float(c) for c in v)
    return x, y, z
