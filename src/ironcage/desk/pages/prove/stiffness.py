"""Stiffness: the twist, bending and sideways tests of the frame, where it twists, which tubes work; the set-up drawn
on the table."""

import math
import re
from collections.abc import Callable
from functools import partial
from typing import Any

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QSlider, QStackedWidget, QVBoxLayout

from ironcage.core.answers.prove import baywork, stiffness
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.look import Look, ramp, text_font
from ironcage.desk.pages.page import Card, choice, column, heading, row
from ironcage.desk.pages.prove.tab import ProveTab, arrow, deflected, foot
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.plot import Axis, Band, Chart, Curve, Plot, Spot
from ironcage.desk.widgets.rowmodel import Column, name_column
from ironcage.desk.words import SmallPrint, Words
from ironcage.problem import Problem
from ironcage.units import Units

LIMITS = "An estimate. For roll structures ask your sanctioning body and a licensed engineer."
UP = np.array([0.0, 0.0, 1.0])
BAYS = 1  # which of the buttons over the list


class StiffnessTab(ProveTab):
    """The tests of the frame."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.figures = {
            key: Words("–") for key in ("twist", "clamped", "bending", "sideways", "per kg", "frame", "soft")
        }
        for key in ("twist", "bending"):
            self.figures[key].setFont(text_font(13, bold=True))
        for key in ("soft", "clamped"):
            self.figures[key].setWordWrap(True)
        self.test, choices = choice(self, ("Twist", "Bending", "Unloaded"), self.decorated.emit)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, 100)
        self.slider.setValue(45)
        self.slider.setMinimumWidth(70)
        self.slider.setAccessibleName("How large the deflection is drawn")
        self.slider.valueChanged.connect(lambda _: self.decorated.emit())
        self.scale = QLabel()
        self.scale.setMinimumWidth(60)
        self.of_mark: stiffness.ProveAnswer | None = None
        self.plot = Plot("Twist along the frame")
        self.tubes = Grid(
            "Tubes by share of strain energy",
            self._tube_columns(),
            lambda r: r[0].id,
            needs=2,
        )
        self.tubes.chose.connect(session.choose)
        self.limits = SmallPrint(LIMITS, "An estimate")
        self.assumed = " ".join(stiffness.ASSUMPTIONS)
        left = column(
            heading("Twist stiffness"),
            self.figures["twist"],
            self.figures["clamped"],
            self.figures["per kg"],
            heading("Bending"),
            self.figures["bending"],
            self.figures["sideways"],
            heading("Frame"),
            self.figures["frame"],
            self.empty,
        )
        left.setSpacing(2)
        left.addStretch(1)
        middle = column(
            row(QLabel("Show"), *choices, QLabel("drawn"), self.scale, stretch=False),
            self.figures["soft"],
            self.plot,
            self.limits,
        )
        middle.itemAt(0).layout().insertWidget(5, self.slider, 1)
        middle.setStretch(2, 1)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(14)
        box.addLayout(left, 3)
        box.addLayout(middle, 6)
        right = QVBoxLayout()
        self.shares = Grid(
            "Work by bay or region",
            (
                Column("energy", lambda r: f"{r[1]:.1%}", True, tip="Share of the strain energy of the twist test"),
                Column("where", lambda r: r[0], room="J12L J12R J21R J21L"),
                Column("is", lambda r: r[2]),
            ),
            lambda r: r[0],
        )
        self.shares.chose.connect(
            lambda keys: session.choose(tuple(n for key in keys for n in re.findall(r"J\d+[LR]?", key)))
        )
        self.by, buttons = choice(self, ("Tubes", "Bays", "Regions"), self._split)
        self.stack = QStackedWidget()
        for grid in (self.tubes, self.shares):
            self.stack.addWidget(grid)
        right.addLayout(row(*buttons))
        right.addWidget(self.stack, 1)
        box.addLayout(right, 4)

    def _tube_columns(self) -> tuple[Column, ...]:
        """What is told of a tube."""
        return (
            Column("tube", lambda r: r[0].id),
            Column(
                "energy",
                lambda r: f"{r[1]:.1%}",
                True,
                tip="Share of the strain energy of the twist test: where it is high, a larger section or a brace "
                "helps most",
            ),
            name_column(lambda r: name_of(self.job, r[0].id)),
            Column("section", lambda r: r[0].section),
            Column("role", lambda r: r[0].role),
        )

    def question(self) -> Question:
        return partial(
            _beside_mark, baywork.by_bay if self.by.checkedId() == BAYS else stiffness.answer, self.session.mark
        )

    def take(self, job: Job, result: Any, problem: Problem | None) -> None:
        told, self.of_mark = result or (None, None)
        super().take(job, told, problem)

    def _split(self) -> None:
        """Another way to tell where the work is done."""
        self.stack.setCurrentIndex(min(self.by.checkedId(), 1))
        self._show_shares()
        if self.by.checkedId() == BAYS:
            self.wants.emit()

    def _show_shares(self) -> None:
        told: stiffness.ProveAnswer | None = self.result
        rows: list[tuple[str, float, str]] = []
        if told and self.by.checkedId() == BAYS:
            rows = [(" ".join(b.corners), b.energy, b.state) for b in told.bays]
        elif told:
            rows = [
                (
                    f"{r.front.left}/{r.front.right} to {r.rear.left}/{r.rear.right}",
                    r.energy,
                    self.units.turn_of_length(r.slope),
                )
                for r in told.regions
            ]
        self.shares.show_rows(rows)

    def show_result(self) -> None:
        job, units = self.job, units_of(self.job)
        result: stiffness.ProveAnswer | None = self.result
        if result is None:
            for label in self.figures.values():
                label.setText("–")
            self.tubes.show_rows(())
            self.shares.show_rows(())
            self.plot.show_chart(None)
            return
        self.figures["twist"].setText(units.torsional_stiffness(result.torsion))
        self.figures["clamped"].setText(
            "" if result.clamped is None else f"held rigid {units.torsional_stiffness(result.clamped).split()[0]}"
        )
        self.figures["clamped"].setToolTip(
            "Every rear pickup held by itself; above, the mean of each corner's is held and they may move against "
            "each other"
        )
        self.figures["twist"].setToolTip("The mean of each rear corner's pickups is held")
        self.figures["bending"].setText("–" if result.bending is None else units.linear_stiffness(result.bending))
        self.figures["bending"].setToolTip(
            f"{units.round_force(stiffness.BENDING_FORCE)} at {' and '.join(result.bending_at)}"
            if result.bending_at
            else "No joint between the axles can be loaded."
        )
        self.figures["per kg"].setText(
            f"{units.torsional_stiffness_per_mass(result.per_kg)} {units.torsional_stiffness_name} "
            f"per {units.mass_unit}"
        )
        self.figures["sideways"].setText(
            "" if result.lateral is None else f"sideways {units.linear_stiffness(result.lateral)}"
        )
        self.figures["sideways"].setToolTip(
            f"Sideways, {units.round_force(stiffness.BENDING_FORCE)} at the same joints against all pickups"
        )
        datum = job.datum
        x, y, z = (
            units.length(v, unit=False)
            for v in (result.cg[0] - datum.x, result.cg[1] - datum.y, result.cg[2] - datum.z)
        )
        self.figures["frame"].setText(f"{units.mass(result.mass)}, CG x {x}\ny {y}  z {z}")
        self.figures["frame"].setToolTip(f"Centre of gravity of the bare frame, from {datum.name}")
        self.figures["soft"].setText(self._softest(result))
        self.limits.say(f"{stiffness.modelled(job)} {LIMITS}", units.say(self.assumed))
        ranked = sorted(zip(job.tubes, result.energy, strict=True), key=lambda pair: -pair[1])
        self.tubes.show_rows(ranked)
        self._show_shares()
        self.plot.show_chart(_chart(result, self.of_mark, self.session.mark_name, units))

    def _softest(self, result: stiffness.ProveAnswer) -> str:
        if not result.soft:
            return ""
        a, b = result.soft
        rate = self.units.turn_of_length(abs(a.twist - b.twist) / abs(a.x - b.x))
        region = next((r for r in result.regions if (r.front, r.rear) == (a, b)), None)
        holds = f", with {region.energy:.0%} of the work" if region else ""
        return (
            f"Twist along the frame under {self.units.torque(stiffness.TORQUE / 1000)}. "
            f"Softest between {a.left}/{a.right} and {b.left}/{b.right}: "
            f"{rate}{holds}."
        )

    def in_a_word(self) -> str:
        return self.units.torsional_stiffness(self.result.torsion)

    def show_chosen(self) -> None:
        self.tubes.show_chosen(self.session.chosen)

    def show_look(self, look: Look) -> None:
        super().show_look(look)
        self.plot.show_look(look)

    def decor(self) -> Decor:
        result = self.result
        test = self.test.checkedId()
        u = (result.twisted, result.bent, result.twisted * 0)[test]
        shape, scale = deflected(self.job, u, self.slider.value() / 100)
        self.scale.setText(f"× {scale:,.0f}" if test < 2 else "–")
        colours = ramp(self.look, np.sqrt(result.energy / result.energy.max())) if test == 0 else None
        return Decor(colours=colours, shape=shape, paint=lambda brush: self._paint(brush, result, test, u, scale))

    def _paint(self, brush: Brush, result: stiffness.ProveAnswer, test: int, u: np.ndarray, scale: float) -> None:
        """Holds and loads at their corners; the ends of the deflection in numbers."""
        job, look = self.job, brush.look
        index = {j.id: n for n, j in enumerate(job.joints)}

        def at(name: str) -> np.ndarray:
            return np.array(job.joint_by_id[name].place) + (u[index[name], :3] * scale if scale else 0)

        for corner, words in (("rear left", "x y z"), ("rear right", "x z")):
            for name in result.corners[corner]:
                foot(brush, at(name))
            several = len(result.corners[corner]) > 1
            brush.tag(
                tuple(at(result.corners[corner][0])),
                f"{'mean ' if several else ''}held {words}",
                look.ink,
                offset=(14, 26),
            )
        units = units_of(job)
        if test == 0:
            worst = int(result.energy.argmax())
            tube = job.tubes[worst]
            brush.tag(
                tuple((at(tube.a) + at(tube.b)) / 2),
                f"{tube.id} holds the most: {result.energy[worst]:.1%}",
                look.oxide,
            )
            force = stiffness.TORQUE / result.track
            for corner, way in (("front left", 1), ("front right", -1)):
                names = result.corners[corner]
                for name in names:
                    arrow(brush, at(name), way * UP, look.blue)
                rise = float(np.mean([u[index[n], 2] for n in names]))
                place = max((at(n) for n in names), key=lambda p: p[2] * way)
                brush.tag(
                    tuple(place),
                    f"{units.force(force)} {'up' if way > 0 else 'down'}, moves {units.fine(abs(rise))}",
                    look.blue,
                    offset=(12, -40 if way > 0 else 52),
                )
        elif test == 1 and result.bending is not None:
            for name in result.bending_at:
                arrow(brush, at(name), -UP, look.blue)
            sag = stiffness.BENDING_FORCE / result.bending
            brush.tag(
                tuple(at(result.bending_at[0])),
                f"{units.round_force(stiffness.BENDING_FORCE)} down, sags {units.fine(sag)}",
                look.blue,
                offset=(12, 52),
            )

    def cards(self) -> list[Card]:
        if not self.result:
            return []
        r, units = self.result, units_of(self.job)
        made = [
            Card(
                "Twist stiffness",
                units.torsional_stiffness(r.torsion),
                (self._softest(r), f"frame {units.mass(r.mass)}"),
            )
        ]
        if r.bending is not None:
            made.append(
                Card(
                    "Bending stiffness",
                    units.linear_stiffness(r.bending),
                    (f"{units.round_force(stiffness.BENDING_FORCE)} at {' and '.join(r.bending_at)}",),
                )
            )
        return made


def _beside_mark(
    told: Callable[[Job], stiffness.ProveAnswer], mark: Job, job: Job
) -> tuple[stiffness.ProveAnswer, stiffness.ProveAnswer | None]:
    """The answer for the job and for the mark; None for a mark that can't be worked out, or that twists the same."""
    try:
        marked = stiffness.answer(mark)
    except Problem:
        marked = None
    now = told(job)
    return now, None if marked is None or marked.stations == now.stations else marked


def _chart(result: stiffness.ProveAnswer, of_mark: stiffness.ProveAnswer | None, mark_name: str, units: Units) -> Chart:
    """Twist in degrees under the test's torque at each station; nose to the left, as in the side view."""

    def curve(name: str, told: stiffness.ProveAnswer, *, ghost: bool = False) -> Curve:
        along = sorted(told.stations, key=lambda s: s.x)
        xs = np.array([s.x / units.bare_mm for s in along])
        return Curve(name, xs, np.array([math.degrees(s.twist) for s in along]), dotted=not ghost, ghost=ghost)

    now = curve("twist", result)
    high, low = (int(end) for end in (now.ys.argmax(), now.ys.argmin()))
    return Chart(
        Axis(
            f"x, {units.length_name}",
            lambda x: f"{x:g}",
            lambda x: f"x {units.length(x * units.bare_mm)}",
            turned=True,
        ),
        Axis("twist, °", lambda y: f"{y:g}°", lambda y: f"{y:.3f}°"),
        (now, *([curve(f"mark {mark_name}", of_mark, ghost=True)] if of_mark else [])),
        (Band("softest", *(s.x / units.bare_mm for s in result.soft)),) if result.soft else (),
        tuple(
            Spot(f"{now.ys[n]:.3f}°", float(now.xs[n]), float(now.ys[n]), above=above)
            for n, above in ((high, True), (low, False))
        ),
    )
