"""Balance: how stiff is stiff enough; the share of a change in balance that reaches the tyres, as a curve with this
frame on it."""

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit

from ironcage.core.answers.prove import balance
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.look import Look, text_font
from ironcage.desk.pages.page import Card, column, heading, row
from ironcage.desk.pages.prove.tab import ProveTab
from ironcage.desk.session import Session
from ironcage.desk.widgets.plot import Axis, Chart, Curve, Plot, Spot
from ironcage.desk.words import SmallPrint, Words
from ironcage.units import Units


class BalanceTab(ProveTab):
    """Two roll stiffnesses, a curve and the words under it."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.front, self.rear = QLineEdit(), QLineEdit()
        for end, field in (("front", self.front), ("rear", self.rear)):
            field.setAccessibleName(f"Roll stiffness {end}")
            field.setMaximumWidth(90)
            field.returnPressed.connect(lambda e=end, f=field: session.press(f"rollstiff {e} {f.text()}"))
        self.heading = heading("Roll stiffness")
        self.share = Words("–")
        self.share.setFont(text_font(13, bold=True))
        self.said, self.how = Words(name="hint", wrap=True), SmallPrint(balance.ASSUMED)
        self.curve = Plot("Share of a change in balance that reaches the tyres")
        left = column(
            self.heading,
            row(QLabel("front"), self.front, QLabel("rear"), self.rear),
            heading("Of a change in balance reaches the tyres"),
            self.share,
            self.said,
            self.empty,
            self.how,
        )
        left.setStretchFactor(self.how, 1)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(14)
        box.addLayout(left, 5)
        box.addWidget(self.curve, 7)

    def question(self) -> Question:
        return balance.roll_balance

    def show_job(self, job: Job) -> None:
        units = units_of(job)
        self.heading.setText(f"Roll stiffness, {units.torsional_stiffness_name}")
        for field, value in ((self.front, job.proving.roll_front), (self.rear, job.proving.roll_rear)):
            if not field.hasFocus() or not field.isModified():
                field.setText(f"{units.in_torsional_stiffness(value):.0f}" if value else "")

    def in_a_word(self) -> str:
        return f"{self.result.share:.0%}"

    def show_result(self) -> None:
        told: balance.BalanceAnswer | None = self.result
        self.curve.show_chart(_chart(told, units_of(self.job)))
        if told is None:
            self.share.setText("–")
            self.said.setText("")
            return
        units = units_of(self.job)
        for field, roll in zip((self.front, self.rear), told.rolls, strict=True):
            field.setPlaceholderText(f"{units.in_torsional_stiffness(roll):.0f} by its springs")
        self.share.setText(f"{told.share:.0%}")
        needs = ", ".join(f"{part:.0%} takes {units.torsional_stiffness(k)}" for part, k in told.needs)
        self.said.setText(
            f"At {units.torsional_stiffness(told.torsion)}. Of what leans the car over the front takes "
            f"{told.front:.1%}; a rigid frame would give it {told.rigid:.1%}. {needs}."
        )

    def show_look(self, look: Look) -> None:
        super().show_look(look)
        self.curve.show_look(look)

    def cards(self) -> list[Card]:
        return [Card("Balance that arrives", f"{self.result.share:.0%}", (self.said.text(),))] if self.result else []


def _chart(told: balance.BalanceAnswer | None, units: Units) -> Chart | None:
    """The share that arrives against the frame's twist stiffness, this frame a dot on it."""
    if told is None:
        return None
    stiff = np.array([0.0, *(units.in_torsional_stiffness(float(k)) for k in told.curve[:, 0])])
    name = units.torsional_stiffness_name
    return Chart(
        Axis(
            f"twist stiffness of the frame, {name}",
            lambda k: f"{k:,.0f}",
            lambda k: f"{k:,.0f} {name}",
            (0.0, float(stiff[-1])),
        ),
        Axis("share that arrives", lambda part: f"{part:.0%}", lambda part: f"{part:.0%}", (0.0, 1.05)),
        (Curve("arrives", stiff, np.array([0.0, *told.curve[:, 1]])),),
        spots=(
            Spot(
                f"this frame, {told.share:.0%}",
                units.in_torsional_stiffness(told.torsion),
                told.share,
                above=False,
                dot=True,
            ),
        ),
    )
