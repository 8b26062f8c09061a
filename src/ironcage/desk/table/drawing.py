"""Tubes drawn on the table: from place to place by clicks, or by arrows and typed lengths."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.edits.drawing import Spot
from ironcage.core.job.values.shown import units_of
from ironcage.desk.table.overlay import Brush
from ironcage.desk.table.snapping import Snap, snap
from ironcage.problem import Problem

if TYPE_CHECKING:
    from ironcage.desk.table.view import TableView

HELP = (
    "Drawing tubes: click from place to place; or an arrow, a length and Enter.  Backspace takes one back, "
    "Esc ends the line, then the drawing."
)
DIGITS = frozenset("0123456789./\"'- ")
LEAST_MM = 1.0


class Drawing:
    """A line of tubes that is being drawn. `last` is the joint that it has come to, '' before the first; `typed` the
    length that is being typed."""

    def __init__(self, view: TableView) -> None:
        self.view = view
        self.last = next((c for c in view.chosen if c in view.job.joint_by_id), "")
        self.start: Spot | None = None  # the first place, until a second one is there
        self.typed, self.said = "", ""
        self._before = ""  # the joint that the last tube comes from
        self._way: Floats | None = None  # along an axis, by an arrow
        self._snap: Snap | None = None

    @property
    def origin(self) -> Floats | None:
        """Where the next tube begins (3,), mm; None before there is a place."""
        if self.last in self.view.job.joint_by_id:
            return np.array(self.view.job.joint_by_id[self.last].place)
        return None if self.start is None else np.array(self.start.place)

    @property
    def aim(self) -> Snap | None:
        """Where a click or Enter would go."""
        origin = self.origin
        if not self.typed or origin is None:
            return self._snap
        way = self._heading()
        try:
            length = units_of(self.view.job).read_length(self.typed)
        except Problem:
            return None
        if way is None:
            return None
        x, y, z = (float(v) for v in origin + length * way)
        return Snap(Spot((x, y, z)), "")

    def _heading(self) -> Floats | None:
        """The way (3,) that the next tube goes, of unit length; None where nothing says."""
        if self._way is not None:
            return self._way
        if self._snap is None or self.origin is None:
            return None
        way = np.array(self._snap.spot.place) - self.origin
        size = float(np.linalg.norm(way))
        return way / size if size > LEAST_MM else None

    def hover(self, at: QPointF) -> None:
        """The mouse is here."""
        job = self.view.job
        depth = self.origin
        if depth is None:
            depth = np.array((job.datum.x, 0.0, job.table.top_z))
        before = np.array(job.joint_by_id[self._before].place) if self._before in job.joint_by_id else None
        led = None if before is None or self.origin is None else self.origin - before
        self._way = None
        self._snap = snap(self.view.shown, at, depth, self.origin, led)
        self.view.update()

    def click(self, at: QPointF) -> None:
        """Go on to where the mouse is."""
        self.hover(at)
        self._go_on()

    def _go_on(self) -> None:
        aim = self.aim
        if aim is None:
            self.said = "Point somewhere, or press an arrow for the direction of the length."
        elif self.origin is None:
            self.start, self.said = aim.spot, ""
            self.last = aim.spot.joint
        else:
            first = Spot(self.view.job.joint_by_id[self.last].place, joint=self.last) if self.last else self.start
            self.view.drew.emit(first, aim.spot)
        self.typed = ""
        self.view.update()

    def arrived(self, start: str, stop: str) -> None:
        """A tube has been laid between two joints; the next goes on from the second."""
        self._before, self.last, self.start, self._way = start, stop, None, None
        self.said = ""

    def key(self, event: QKeyEvent) -> bool:
        """Take a key; whether it was one for drawing."""
        key, text = Qt.Key(event.key()), event.text()
        plain = not event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        if key == Qt.Key.Key_Escape:
            self._end()
        elif key == Qt.Key.Key_Backspace and self.typed:
            self.typed = self.typed[:-1]
        elif key == Qt.Key.Key_Backspace:
            self.view.drew_back.emit()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._go_on()
        elif way := self.view.way_of(event):
            self._way = np.array(way)
        elif text and text in DIGITS and plain:
            self.typed += text
        else:
            return False
        self.view.update()
        return True

    def _end(self) -> None:
        if self.typed:
            self.typed = ""
        elif self.origin is not None:
            self.last, self.start, self._before, self._way = "", None, "", None
        else:
            self.view.draw(on=False)

    def paint(self, brush: Brush) -> None:
        """Show the line as it would be, its length and what it snaps to."""
        job, aim, origin = self.view.job, self.aim, self.origin
        units, datum = units_of(job), job.datum
        brush.label(8.0, brush.painter.fontMetrics().height() + 8.0, self.said or HELP, brush.look.blue)
        if origin is not None and aim is None and self.typed:
            brush.tag(origin, f"{self.typed}: press an arrow for its direction", brush.look.blue, filled=True)
        if aim is None:
            return
        x, y, z = aim.spot.place
        words = [units.point((x - datum.x, y - datum.y, z - datum.z))]
        if origin is not None:
            brush.pen(brush.look.blue, 3)
            brush.line(origin, aim.spot.place)
            length = float(np.linalg.norm(np.array(aim.spot.place) - origin))
            words.insert(0, f"{self.typed} →" if self.typed else units.length(length))
        words += [aim.words] * bool(aim.words)
        brush.tag(aim.spot.place, "   ".join(words), brush.look.blue, filled=True)
