"""Pocket: the quick sums of the shop in a window of their own, a key away from anywhere, with or without a job."""

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QKeySequence, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import (
    QApplication,
    QDialog,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ironcage.core.answers.pocket import SUMS, Sketch, Sum, Told, read, work_out
from ironcage.core.answers.pocket.sum import both
from ironcage.desk.look import LIGHT, Look
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import Words
from ironcage.problem import Problem
from ironcage.units import METRIC, Units

WIDE, HIGH = 100.0, 60.0  # of a sketch
SIZE_PX = (820, 560)


class SketchView(QWidget):
    """What a sum measures where."""

    def __init__(self) -> None:
        super().__init__()
        self.look: Look = LIGHT
        self.sketch: Sketch | None = None
        self.setMinimumSize(260, 150)

    def show_sketch(self, sketch: Sketch, name: str) -> None:
        """Show another one."""
        self.sketch = sketch
        self.setAccessibleName(f"Sketch of {name}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self.look.chalk))
        if self.sketch is not None:
            self._paint(painter, self.sketch)
        painter.end()

    def _paint(self, p: QPainter, sketch: Sketch) -> None:
        scale = min((self.width() - 20) / WIDE, (self.height() - 20) / HIGH)
        left, foot = (self.width() - scale * WIDE) / 2, (self.height() + scale * HIGH) / 2

        def at(point: tuple[float, float]) -> QPointF:
            return QPointF(left + scale * point[0], foot - scale * point[1])

        p.setPen(QPen(QColor(self.look.ink), 2))
        for line in sketch.lines:
            p.drawPolyline(QPolygonF([at(point) for point in line]))
        p.setPen(QPen(QColor(self.look.blue), 1, Qt.PenStyle.DashLine))
        for line in sketch.dashed:
            p.drawPolyline(QPolygonF([at(point) for point in line]))
        p.setPen(QColor(self.look.blue))
        metrics = p.fontMetrics()
        for x, y, words in sketch.words:
            spot = at((x, y))
            wide = metrics.horizontalAdvance(words)
            box = QRectF(
                min(spot.x(), self.width() - wide - 4), spot.y() - metrics.height(), wide + 4, metrics.height()
            )
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, words)


class PocketWindow(QDialog):
    """The sums in a list, one open: its sketch, its fields, what it tells in both units, its formula."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Pocket")
        self.resize(*SIZE_PX)
        self.units: Units = METRIC
        self.typed: dict[str, dict[str, str]] = {}  # by sum, what was typed into its fields
        self.told: tuple[Told, ...] = ()
        self.list = QListWidget()
        self.list.setAccessibleName("Sums")
        self.list.addItems([s.name for s in SUMS])
        self.list.currentRowChanged.connect(lambda _: self._open())
        self.says, self.formula = Words(wrap=True), Words(name="quiet", wrap=True)
        self.sketch = SketchView()
        self.fields: dict[str, QLineEdit] = {}
        self.form = QFormLayout()
        self.results = Grid(
            "Results",
            (
                Column("result", lambda t: t.name),
                Column("metric", lambda t: both(t)[0], True),
                Column("inch", lambda t: both(t)[1], True),
            ),
            lambda t: t.name,
        )
        self.refusal = Words(name="refused", wrap=True)
        copy = QPushButton("Copy")
        copy.setToolTip("Put the sum with all its figures on the clipboard (Ctrl+C)")
        copy.clicked.connect(self.copy)
        copy.setAutoDefault(False)
        upper = QHBoxLayout()
        upper.addWidget(self.sketch, 5)
        upper.addLayout(self.form, 4)
        right = QVBoxLayout()
        right.addWidget(self.says)
        right.addLayout(upper, 3)
        right.addWidget(self.refusal)
        right.addWidget(self.results, 3)
        foot = QHBoxLayout()
        foot.addWidget(self.formula, 1)
        foot.addWidget(copy)
        right.addLayout(foot)
        box = QHBoxLayout(self)
        box.addWidget(self.list, 2)
        box.addLayout(right, 7)
        self.list.setCurrentRow(0)

    @property
    def sum(self) -> Sum:
        """The sum that is open."""
        return SUMS[max(self.list.currentRow(), 0)]

    def show_in(self, units: Units, look: Look) -> None:
        """Come forward, counting in a job's units, in the window's colours."""
        self.units = units
        self.sketch.look = look
        self._open()
        self.show()
        self.raise_()
        self.activateWindow()
        self.list.setFocus()

    def _open(self) -> None:
        """Lay out the sum that is open, with what was typed into it before."""
        while self.form.rowCount():
            self.form.removeRow(0)
        made, self.fields = self.sum, {}
        kept = self.typed.setdefault(made.name, {})
        for ask in made.asks:
            field = QLineEdit(kept.get(ask.name, ask.quantity.typing(self.units, ask.usual)))
            field.setAccessibleName(ask.name)
            field.textEdited.connect(lambda text, name=ask.name: self._type(name, text))
            self.form.addRow(QLabel(ask.name), field)
            self.fields[ask.name] = field
        self.says.setText(made.says)
        self.formula.setText(made.formula)
        self.sketch.show_sketch(made.sketch, made.name)
        self._work()
        self.results.restyle(self.sketch.look)  # columns as wide as this sum's words

    def _type(self, name: str, text: str) -> None:
        self.typed[self.sum.name][name] = text
        self._work()

    def _work(self) -> None:
        typed = {name: field.text() for name, field in self.fields.items()}
        try:
            self.told = work_out(self.sum, read(self.sum, typed, self.units))
        except Problem as problem:
            self.told = ()
            self.refusal.setText(str(problem.read_in(self.units)))
        else:
            self.refusal.setText("")
        self.results.show_rows(self.told)

    @property
    def text(self) -> str:
        """The sum with all its figures, to be pasted elsewhere."""
        lines = [f"{self.sum.name}: {self.sum.says}"]
        lines += [f"  {name} {field.text()}" for name, field in self.fields.items()]
        lines += [f"  = {t.name} {' = '.join(dict.fromkeys(both(t)))}" for t in self.told]
        return "\n".join([*lines, f"  {self.sum.formula}"])

    def copy(self) -> None:
        """Put the sum with all its figures on the clipboard."""
        QApplication.clipboard().setText(self.text)

    def event(self, event: QEvent | None) -> bool:
        asked = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride
        if isinstance(event, QKeyEvent) and asked and event.matches(QKeySequence.StandardKey.Copy):
            event.accept()  # the sum is copied, not what is chosen on the table
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() == Qt.Key.Key_C and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.copy()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.list.hasFocus():
            next(iter(self.fields.values())).setFocus()
        else:
            super().keyPressEvent(event)
