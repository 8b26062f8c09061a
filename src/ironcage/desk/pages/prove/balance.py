"""Balance: how stiff is stiff enough; the share of a change in balance that reaches the tyres, as a curve with this
frame on it."""

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QWidget

from ironcage.core.answers.prove import balance
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.look import LIGHT, Look, text_font
from ironcage.desk.pages.page import Card, column, heading, row
from ironcage.desk.pages.prove.tab import ProveTab
from ironcage.desk.session import Session
from ironcage.desk.widgets.twistplot import Scale
from ironcage.desk.words import Words
from ironcage.units.tables import N_M_PER_DEGREE

LEFT_PX, RIGHT_PX, TOP_PX, FOOT_PX = 46, 18, 14, 36


class BalanceTab(ProveTab):
    """Two roll stiffnesses, a curve and the words under it."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.front, self.rear = QLineEdit(), QLineEdit()
        for end, field in (("front", self.front), ("rear", self.rear)):
            field.setAccessibleName(f"Roll stiffness {end}, N·m/deg")
            field.setMaximumWidth(90)
            field.returnPressed.connect(lambda e=end, f=field: session.press(f"rollstiff {e} {f.text()}"))
        self.share = Words("–")
        self.share.setFont(text_font(13, bold=True))
        self.said, self.how = Words(name="hint", wrap=True), Words(balance.ASSUMED, name="quiet", wrap=True)
        self.curve = Curve()
        left = column(
            heading("Roll stiffness, N·m/deg"),
            row(QLabel("front"), self.front, QLabel("rear"), self.rear),
            heading("Of a change in balance reaches the tyres"),
            self.share,
            self.said,
            self.empty,
            self.how,
        )
        left.addStretch(1)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(14)
        box.addLayout(left, 5)
        box.addWidget(self.curve, 7)

    def question(self) -> Question:
        return balance.roll_balance

    def show_job(self, job: Job) -> None:
        for field, value in ((self.front, job.proving.roll_front), (self.rear, job.proving.roll_rear)):
            if not field.hasFocus() or not field.isModified():
                field.setText(f"{value * N_M_PER_DEGREE:.0f}" if value else "")

    def show_result(self) -> None:
        told: balance.BalanceAnswer | None = self.result
        self.curve.show_curve(told)
        if told is None:
            self.share.setText("–")
            self.said.setText("")
            return
        units = units_of(self.job)
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


class Curve(QWidget):
    """The share that arrives against the frame's twist stiffness, this frame a dot on it."""

    def __init__(self) -> None:
        super().__init__()
        self.look: Look = LIGHT
        self.told: balance.BalanceAnswer | None = None
        self.setMinimumHeight(90)
        self.setAccessibleName("Share of a change in balance that reaches the tyres")

    def show_curve(self, told: balance.BalanceAnswer | None) -> None:
        """Show another result."""
        self.told = told
        self.update()

    def show_look(self, look: Look) -> None:
        """Use other colours."""
        self.look = look
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self.look.chalk))
        if self.told is not None:
            self._paint(painter, self.told)
        painter.end()

    def _paint(self, p: QPainter, told: balance.BalanceAnswer) -> None:
        look, metrics = self.look, p.fontMetrics()
        xs, ys = told.curve[:, 0] * N_M_PER_DEGREE, told.curve[:, 1]
        across = Scale(0.0, float(xs[-1]), LEFT_PX, self.width() - RIGHT_PX)
        up = Scale(0.0, 1.05, self.height() - FOOT_PX, TOP_PX)
        for value in across.ticks(80):
            p.setPen(QPen(QColor(look.line), 1))
            p.drawLine(QPointF(across.px(value), TOP_PX), QPointF(across.px(value), self.height() - FOOT_PX))
            p.setPen(QColor(look.ink))
            text = f"{value:,.0f}"
            p.drawText(
                QPointF(
                    across.px(value) - metrics.horizontalAdvance(text) / 2,
                    self.height() - FOOT_PX + metrics.ascent() + 3,
                ),
                text,
            )
        for value in (0.0, 0.2, 0.4, 0.6, 0.8, 1.0):
            p.setPen(QPen(QColor(look.line), 1))
            p.drawLine(QPointF(LEFT_PX, up.px(value)), QPointF(self.width() - RIGHT_PX, up.px(value)))
            p.setPen(QColor(look.ink))
            text = f"{value:.0%}"
            p.drawText(
                QPointF(LEFT_PX - 5 - metrics.horizontalAdvance(text), up.px(value) + metrics.ascent() / 3), text
            )
        p.drawText(QPointF(LEFT_PX, self.height() - 4), "twist stiffness of the frame, N·m/deg")
        p.setPen(QPen(QColor(look.blue), 2))
        p.drawPolyline(
            QPolygonF(
                [
                    QPointF(LEFT_PX, up.px(0.0)),
                    *(QPointF(across.px(float(x)), up.px(float(y))) for x, y in zip(xs, ys, strict=True)),
                ]
            )
        )
        spot = QPointF(across.px(told.torsion * N_M_PER_DEGREE), up.px(told.share))
        p.setBrush(QColor(look.oxide))
        p.setPen(QPen(QColor(look.oxide), 2))
        p.drawEllipse(spot, 5, 5)
        p.drawText(spot + QPointF(10, 16), f"this frame, {told.share:.0%}")
