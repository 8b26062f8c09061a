"""A sheet of lines and words shown small, as it will print."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ironcage.core.exchange.drawing import WIDTHS_MM, Path, Sheet, SheetCircle

PAPER, PRINT = "#ffffff", "#000000"  # it shows what comes out of a printer, in any look


class SheetView(QWidget):
    """Shows a sheet, or words where there is none."""

    def __init__(self) -> None:
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(180, 120)
        self.sheet: Sheet | None = None
        self.words = ""

    def show_sheet(self, sheet: Sheet | None, words: str = "") -> None:
        """Show a sheet, or why there is none."""
        self.sheet, self.words = sheet, words
        self.setAccessibleName(f"Preview: {sheet.title}" if sheet else words)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.sheet is None:
            painter.drawText(
                self.rect().adjusted(10, 10, -10, -10),
                Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                self.words,
            )
            painter.end()
            return
        sheet = self.sheet
        scale = min((self.width() - 4) / sheet.width, (self.height() - 4) / sheet.height)
        painter.translate((self.width() - sheet.width * scale) / 2, (self.height() + sheet.height * scale) / 2)
        painter.scale(scale, -scale)
        painter.fillRect(QRectF(0, 0, sheet.width, sheet.height), QColor(PAPER))
        painter.setClipRect(QRectF(0, 0, sheet.width, sheet.height))
        for item in sheet.items:
            if isinstance(item, Path):
                style = Qt.PenStyle.DashLine if item.dashed else Qt.PenStyle.SolidLine
                painter.setPen(_pen(WIDTHS_MM[item.weight], scale, style))
                painter.drawPolyline(QPolygonF([QPointF(x, y) for x, y in item.points]))
            elif isinstance(item, SheetCircle):
                painter.setPen(_pen(WIDTHS_MM[item.weight], scale, Qt.PenStyle.SolidLine))
                painter.drawEllipse(QPointF(item.x, item.y), item.radius, item.radius)
            else:
                painter.save()
                painter.translate(item.x, item.y)
                painter.scale(1, -1)
                if not item.upright:
                    painter.rotate(-90)
                font = QFont(self.font())
                font.setPixelSize(100)  # whole pixels only, so draw large and shrink
                painter.setFont(font)
                size = item.size * 1.38 / 100
                painter.scale(size, size)
                wide = painter.fontMetrics().horizontalAdvance(item.text)
                painter.setPen(QColor(PRINT))
                painter.drawText(
                    QPointF({"left": 0.0, "middle": -wide / 2, "right": -float(wide)}[item.align], 0), item.text
                )
                painter.restore()
        painter.end()


def _pen(width_mm: float, scale: float, style: Qt.PenStyle) -> QPen:
    pen = QPen(QColor(PRINT), max(width_mm * scale, 0.9), style)
    pen.setCosmetic(True)
    return pen
