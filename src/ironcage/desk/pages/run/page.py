"""Run: the points of a corner, its wheel moved over travel and steer, and what it does on the way as curves."""

import math
from collections.abc import Callable
from functools import partial
from typing import Any, get_args

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QSlider, QVBoxLayout

from ironcage.core.answers.run import leaves as leaf_springs
from ironcage.core.answers.run import springs as coil_overs
from ironcage.core.answers.run.bands import band_words
from ironcage.core.answers.run.beam import BeamStill
from ironcage.core.answers.run.carrier import CarrierStill
from ironcage.core.answers.run.corner import ASSUMED
from ironcage.core.answers.run.figures import SPRINGS, Figure
from ironcage.core.answers.run.liveaxle import LinkedStill
from ironcage.core.answers.run.tuning import Tuned, tune
from ironcage.core.job.edits.drawing import Spot
from ironcage.core.job.text import Done, understand
from ironcage.core.job.text.beams import BEAM_EXAMPLE
from ironcage.core.job.text.running import EYE_EXAMPLE
from ironcage.core.job.values.bands import Band
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, CoilOver, KingpinBeam
from ironcage.desk.asker import Question
from ironcage.desk.look import Look
from ironcage.desk.pages.page import Card, Page, button, choice, column, heading, row
from ironcage.desk.pages.run.asked import Shown, shown_at, shown_with_effects, shown_with_leans, shown_with_links
from ironcage.desk.pages.run.charted import chart, over, value_now
from ironcage.desk.pages.run.effectslist import EffectsList, tuned_words
from ironcage.desk.pages.run.hanging import HangButton, filled
from ironcage.desk.pages.run.kinds import coil_of, hung_of, kind_of, on_leaves
from ironcage.desk.pages.run.leanlist import LeanList
from ironcage.desk.pages.run.linkslist import LinksList
from ironcage.desk.pages.run.points import PointRow, point_rows
from ironcage.desk.pages.run.quantities import (
    alike_words,
    hole_words,
    leaf_way_words,
    leaf_words,
    pressure_words,
    shaft_words,
    shown,
    tight_words,
)
from ironcage.desk.pick import Pick
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.handles import Handle
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.plot import Plot
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import ScrolledWords, SmallPrint, Words
from ironcage.problem import Problem

VIEWS = ("Points", "Effects", "Links", "Lean")
STEPS = 100  # of each slider, to either side
AXLES: tuple[Axle, ...] = get_args(Axle)


class RunPage(Page):
    """Points on the left, a curve in the middle with the sliders under it, the figures of the moment on the right."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.result: Shown | None = None
        self.end_chosen = False
        self.axle, axles = choice(self, ("Front", "Rear"), self._other_axle)
        self.points = self._listed_points()
        self.effects = EffectsList(session, lambda: self._figures[self.what.currentIndex()])
        self.effects.meets.connect(self._meet_bands)
        self.links = LinksList(session, self._type_eyes)
        self.leans = LeanList(session)
        self.links.export.connect(self.export)
        self.links.prints.connect(self.prints)
        self.view, views = choice(self, VIEWS, self._show_view)
        self.pointing = button(
            "Point at it…",
            self._point,
            "The next click on the table puts the picked point there; its square can be dragged, too",
        )
        for listed in (self.effects, self.links, self.leans):
            listed.hide()
        self.reads = Grid("At this travel and steer", self._read_columns(), lambda r: r.name, wraps=0)
        self.reads.chose.connect(self._pick_read)
        self.what = Pick()
        self.what.setAccessibleName("What the curve shows")
        self.what.setSizeAdjustPolicy(Pick.SizeAdjustPolicy.AdjustToContents)
        self._figures: tuple[Figure, ...] = ()
        self.what.activated.connect(lambda _: self._draw())
        self.plot = Plot("What the wheel does over its travel")
        self.travel, self.rack = self._slider("Travel of the wheel"), self._slider("Rack to the left")
        self.at = Words(name="hint", wrap=True)
        self.told = ScrolledWords("What links, springs and shafts do")
        self.hanging = HangButton()
        self.hanging.hangs.connect(self._hang)
        self.hanging.measures.connect(lambda: self.prints.emit("capture-pdf", self._axle))
        self.away = button("Take out", self._take_out, "Take what the wheels hang on out (corner or axle, … gone)")
        self.banding = button("Band…", self._type_band, "Within which bounds this figure is to stay (band)")
        self.of, self.assumed = heading("Left wheel, now"), SmallPrint(" ".join(ASSUMED))
        self._lay_out(row(*axles, self.hanging, self.away), row(*views))

    def _listed_points(self) -> Grid:
        """The list of the end's points and sizes, which can be typed into."""
        made = Grid(
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
            lambda r: r.key,
            self.session.do,
            wraps=0,
        )
        made.chose.connect(self._choose)
        made.say_when_empty(
            "No wheel of this axle is hung. Choose five joints of the left side and press Hang, On wishbones; or two "
            "and one for a track rod, and press Hang, On a live axle with four links. Hang has ladder bars, leaf "
            "springs, a fork, axles that are set for their chain, a beam and arms, too."
        )
        return made

    def _lay_out(self, ends: QHBoxLayout, views: QHBoxLayout) -> None:
        """Lists on the left, the curve with its sliders in the middle, figures on the right."""
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 6, 8, 6)
        lists = QHBoxLayout()
        lists.setSpacing(10)
        left = column(ends, views, self.points, row(self.pointing), self.effects, self.links, self.leans)
        for n in (2, 4, 5, 6):
            left.setStretch(n, 1)
        middle = column(row(QLabel("Curve"), self.what, self.banding), self.plot, *self._sliders(), self.told)
        middle.setStretch(1, 1)
        right = column(self.of, self.at, self.reads, self.assumed)
        right.setStretch(2, 4)
        right.setStretch(3, 1)
        for part, share in ((left, 9), (middle, 8), (right, 10)):  # figures are named in whole words at 1024 x 700
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
            Column("figure", self._named, tip="With its band, where it has one; pick one to see its curve"),
            Column("now", self._now, True),
            Column("change", self._change_of, True, tip="From ride height, straight ahead"),
        )

    def _show_view(self) -> None:
        """Show the points of the end, what moving each of them does, or its links."""
        for n, part in enumerate((self.points, self.effects, self.links, self.leans)):
            part.setVisible(n == self.view.checkedId())
        self.pointing.setVisible(self.points.isVisibleTo(self))
        self._draw()
        self.wants.emit()

    def _type_eyes(self) -> None:
        """Start the line for what is known of this end's rod ends."""
        self.typing.emit(f"{self._word} {self._axle} {EYE_EXAMPLE}")

    def _meet_bands(self, points: tuple[str, ...], box: str) -> None:
        """Move points in another thread so that the bands of this end are met, and take that as one edit."""
        job, axle = self.session.job, self._axle
        try:
            reach = self.units.read_length(box)
        except Problem as problem:
            self.session.told.emit(str(problem.read_in(self.units)), True)
            return

        def act(say: Callable[[float], None]) -> Tuned:
            return tune(job, axle, points, reach, say)

        def done(found: Tuned) -> None:
            if self.session.job is not job:
                self.session.told.emit("The job has changed meanwhile, so nothing was moved: press it again.", True)
                return
            chosen = self.session.chosen
            self.session.do(lambda _: Done(f"Move points to meet the {axle} bands", found.job, chosen))
            self.session.told.emit(tuned_words(found, self.units), False)

        self.works.emit("Moving", f"points to meet the {axle} bands", act, done)

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

    def _hang(self, example: str) -> None:
        """Hang the wheels where that asks for no joints, else start a line with the chosen joints in it."""
        self.end_chosen = True
        picked = [c for c in self.session.chosen if c in self.session.job.joint_by_id]
        start = self.session.press if example == BEAM_EXAMPLE else self.typing.emit
        start(filled(example, self._axle, picked))

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

    @property
    def _handles(self) -> tuple[Handle, ...]:
        """Points that the mouse can take, where they are shown as they are typed: at ride height, straight ahead."""
        if self.view.checkedId() or self.travel.value() or self.rack.value():
            return ()
        picked = self.points.picked
        return tuple(
            Handle(r.words, r.name, r.place, picked is not None and r.words == picked.words)
            for r in self.points.model.rows
            if r.place
        )

    def pick_handle(self, key: str) -> None:
        wanted = next((r for r in self.points.model.rows if r.words == key), None)
        if wanted:
            self.points.pick(wanted)

    def handle_line(self, key: str, spot: Spot) -> str:
        zero = self.session.job.datum
        away = zip(spot.place, (zero.x, zero.y, zero.z), strict=True)
        place = ", ".join(f"{v - o:.3f} mm" for v, o in away)
        return f"{self._word} {self._axle} {key} {spot.joint or place}"

    def _point(self) -> None:
        """Let a click on the table say where the picked point is."""
        self._centre()
        picked = self.points.picked
        handle = next((h for h in self._handles if h.picked), None)
        if handle:
            self.asks_place.emit(handle)
        elif picked and picked.joint:
            self.session.told.emit(f"{picked.joint} is a joint of the frame: drag it on the table, or type z+5.", True)
        else:
            self.session.told.emit("Pick a point in the list, then press Point at it and click where it is.", True)

    def _choose(self, keys: tuple[str, ...]) -> None:
        self._draw()
        joints = [r.joint for r in self.points.model.rows if r.key in keys and r.joint]
        if joints:
            self.session.choose(tuple(joints))

    def _pick_read(self, keys: tuple[str, ...]) -> None:
        if keys:
            self.what.setCurrentText(keys[0])
            self._draw()

    def question(self) -> Question:
        asked = (shown_at, shown_with_effects, shown_with_links, shown_with_leans)[self.view.checkedId()]
        return partial(asked, self._axle, self.travel.value() / STEPS, self.rack.value() / STEPS, self.session.mark)

    def show_job(self, job: Job) -> None:
        self._open_where_hung(job)
        hung = hung_of(job, self._axle)
        kind, coil = kind_of(hung), coil_of(hung)
        self.points.show_rows(point_rows(job, hung, self.units) if hung else ())
        self.pointing.setEnabled(any(r.place for r in self.points.model.rows))
        self.rack.setEnabled(bool(hung and kind.most(hung)))
        for part in (*self.up_down, self.travel):
            part.setVisible(not isinstance(hung, KingpinBeam) or hung.on is not None)
        self.centre.setText("Straight ahead" if isinstance(hung, KingpinBeam) and not hung.on else kind.rest)
        for label, words in zip(self.up_down, kind.ends, strict=True):
            label.setText(words)
        for label, words in zip(self.ways, kind.sides, strict=True):
            label.setText(words)
        self.rack.setVisible(any(kind.sides))
        self.rack.setAccessibleName(kind.second)
        self.of.setText(kind.heading)
        assumed = (*kind.assumed, *((coil_overs.ASSUMED,) if coil else ()))
        if on_leaves(hung):
            assumed = (*assumed, leaf_springs.ASSUMED)
        self.assumed.say(assumed[0], more=" ".join(assumed[1:]))
        moves = not isinstance(hung, KingpinBeam) or hung.on is not None
        reads = (*(f for f in kind.figures if moves or not f.rises), *(SPRINGS if coil else ()))
        if reads != self._figures:
            self._figures = reads
            self.what.clear()
            self.what.addItems([r.name for r in reads])

    def show_answer(self, job: Job, result: Shown | None, problem: Problem | None) -> None:
        self.result = result
        self.tell_empty(problem)
        fits = result is not None and result.kind.figures[0] is (self._figures or (None,))[0]
        self.result = result = result if fits else None
        left = frozenset(k.band.figure for k in result.kept if k.off > 0) if result else frozenset()
        self.reads.show_rows(self._figures if result else (), left)
        self.at.setText(self._moment() if result else "")
        self.told.setText(self._told(result) if result else "")
        self._draw()

    def _told(self, result: Shown) -> str:
        """What is told under the curve: links that lock, springs, shafts."""
        at = [hole_words(hole, self.session.job, self.units) for hole in result.holes]
        told = (
            self._closes(result),
            alike_words(result.alike),
            self._rates(result),
            *at,
            shaft_words(result.shafts, self.units),
        )
        if isinstance(result.still, CarrierStill):
            if np.isnan(result.still.told.centres).all():
                return "No chain drives this axle yet: lay one in Place, its driven sprocket on the axle (chain)."
            return " ".join(self.units.say(tight_words(t)) for t in result.still.run.tight)
        return " ".join(filter(None, told))

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
        held = f", held by {result.held}" if result.held else ""
        return f"✗ The links lock at {' and '.join(told)}{held}." if told else "✗ The links do not reach to the end."

    def _rates(self, result: Shown) -> str:
        """What the springs hold a leaning car with, and what rate swings how fast."""
        if result.leaf:
            stays = isinstance(result.still, BeamStill) and result.still.run.held is None  # else figures tell its way
            way = leaf_way_words(result.leaf, self.units) if stays else ""
            return " ".join(filter(None, (leaf_words(result.leaf, self.units), way)))
        if result.sprung is None or result.sprung.coil == CoilOver():
            return ""
        units, said = self.units, []
        if result.sprung.roll:
            bar = f", {units.torsional_stiffness(result.sprung.bar)} more by the bar" if result.sprung.bar else ""
            said.append(f"Roll stiffness {units.torsional_stiffness(result.sprung.roll)}{bar}.")
        if pressure := result.sprung.rest.pressure(result.sprung.coil):
            said.append(f"Air at {pressure_words(pressure, units)}.")
        if rates := result.sprung.rates():
            told = ", ".join(f"{units.spring_rate(rate)} for {swings:g} Hz" for swings, rate in rates.items())
            said.append(f"Springs of {told}.")
        if result.sprung.stops and not result.sprung.coil.stop:
            told = ", ".join(f"{units.length(high)} from {share:.0%}" for share, high in result.sprung.stops.items())
            said.append(f"Bump stops of {told} of the travel up.")
        return " ".join(said)

    def _value(self, figure: Figure) -> float | None:
        """A figure of the moment; None where the links do not reach, or it is not known."""
        return value_now(self.result, figure) if self.result else None

    def _band(self, figure: Figure) -> Band | None:
        """The band of a figure of this end."""
        return next((b for b in self.session.job.bands if (b.axle, b.figure) == (self._axle, figure.name)), None)

    def _type_band(self) -> None:
        """Start the line for the band of the figure whose curve is shown, with the bounds that it has."""
        figure = self._figures[self.what.currentIndex()]
        self.typing.emit(f"band {self._axle} {figure.name} {self._band_words(figure) or '-1 to 1'}")

    def _band_words(self, figure: Figure) -> str:
        band = self._band(figure)
        return self.units.say(band_words(band, figure)) if band else ""

    def _named(self, figure: Figure) -> str:
        """What a figure is called, and the band that it is to keep."""
        return ": ".join(filter(None, (figure.name, self._band_words(figure))))

    def _now(self, figure: Figure) -> str:
        value = self._value(figure)
        return "–" if value is None else shown(figure, self.units, value)

    def _change_of(self, figure: Figure) -> str:
        if self.result is None:
            return ""
        run, of = self.result.still.run, self.result.sprung
        rest = of.middle if of and figure.sprung else (int(np.abs(run.found.travel).argmin()), run.straight)
        told = over(figure, run, of)
        start = math.nan if told is None else float(told[rest])
        value = self._value(figure)
        if value is None or not math.isfinite(start) or not math.isfinite(value):
            return ""
        change = value - start
        text = shown(figure, self.units, abs(change))
        fell = change < 0 and any(digit in text for digit in "123456789")  # no figure falls by nothing
        return f"{'−' if fell else '+'}{text}"

    def _draw(self) -> None:
        """Show the curve of what is picked, what a millimetre does to it, and the wheels on the table with its
        figure."""
        self.links.show_links(self.result.links if self.result else None, self.result.loads if self.result else ())
        self.leans.show_leans(
            self.result.leans if self.result else None,
            self._axle,
            self.result.clear if self.result else (),
            self.result.room if self.result else None,
        )
        self.effects.list.show_rows(self.result.effects if self.result else ())
        self.effects.show_units(self.units)
        of, job = self.result, self.session.job
        figure = self._figures[self.what.currentIndex()] if of else None
        self.plot.show_chart(chart(of, figure, self.units, self._band(figure)) if of and figure else None)
        self.put_decor(
            Decor(bodies=of.kind.tyres(job, of.still), paint=self._paint, handles=self._handles) if of else Decor()
        )

    def _paint(self, brush: Brush) -> None:
        if self.result is None or not self.result.still.found.closed[0, 0]:
            return
        still, look = self.result.still, brush.look
        kind = self.result.kind
        for line in kind.drawn(self.session.job, still):
            width = 4 if line.what != "body" else 8 if isinstance(still, LinkedStill) else 3
            brush.pen({"link": look.blue, "spring": look.oxide, "body": look.ink}[line.what], width)
            brush.line(_three(line.start), _three(line.stop))
        figure = self._figures[self.what.currentIndex()]
        brush.tag(_three(kind.middle(still)), f"{figure.name} {self._now(figure)}", brush.look.blue, offset=(10, -18))

    def show_look(self, look: Look) -> None:
        super().show_look(look)
        self.plot.show_look(look)

    def cards(self) -> list[Card]:
        """Each figure of the moment on a card."""
        if self.result is None:
            return []
        return [Card(figure.name, self._now(figure), (self._moment(), figure.tip)) for figure in self._figures]


def _three(v: Any) -> tuple[float, float, float]:
    x, y, z = (float(c) for c in v)
    return x, y, z
