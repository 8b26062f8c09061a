"""Points of a step that are no joints of the frame, taken hold of on the table: dragged, or put where a click is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QPen

from ironcage.core.job.edits.drawing import Spot
from ironcage.core.job.values.shown import units_of
from ironcage.desk.table.camera import PLANES
from ironcage.desk.table.gestures import Gesture, snapped
from ironcage.desk.table.overlay import Brush
from ironcage.desk.table.snapping import Snap, snap

if TYPE_CHECKING:
    from ironcage.desk.table.view import TableView

REACH_PX, SIZE_PX, STRAIGHT_PX = 9.0, 9.0, 4.0


@dataclass(frozen=True)
class Handle:
    """A point that the mouse can take. key: by which its step knows it; name: what it is called; place: mm; picked:
    whether it is the one that its step has picked."""

    key: str
    name: str
    place: tuple[float, float, float]
    picked: bool = False


def handle_at(view: TableView, at: QPointF) -> Handle | None:
    """The handle under the mouse, the nearest of several; None where none is."""
    handles = view.decor.handles
    if not handles:
        return None
    spots = view.camera.project(np.array([h.place for h in handles]))[:, :2]
    away = np.hypot(*(spots - [at.x(), at.y()]).T)
    near = int(np.argmin(np.where(np.isfinite(away), away, np.inf)))
    return handles[near] if away[near] <= REACH_PX else None


def paint_handles(brush: Brush, handles: tuple[Handle, ...], under: Handle | None) -> None:
    """A small square on each handle, full on the one that is picked; the one under the mouse says what it is."""
    painter, look = brush.painter, brush.look
    for handle in handles:
        x, y, _ = (float(v) for v in brush.camera.project(np.array([handle.place]))[0])
        if np.isfinite([x, y]).all():
            painter.setPen(QPen(QColor(look.blue), 2))
            painter.setBrush(QColor(look.blue if handle.picked else look.chalk))
            painter.drawRect(QRectF(x - SIZE_PX / 2, y - SIZE_PX / 2, SIZE_PX, SIZE_PX))
    if under is not None:
        brush.tag(under.place, under.name, look.blue)


def _paint_aim(brush: Brush, view: TableView, handle: Handle, aim: Snap) -> None:
    """Show the way of a handle to where it would go, and that place in words."""
    job = view.job
    x, y, z = (v - o for v, o in zip(aim.spot.place, (job.datum.x, job.datum.y, job.datum.z), strict=True))
    brush.pen(brush.look.blue, 2, Qt.PenStyle.DashLine)
    brush.line(handle.place, aim.spot.place)
    words = [handle.name, units_of(job).point((x, y, z)), *([aim.words] if aim.words else [])]
    brush.tag(aim.spot.place, "   ".join(words), brush.look.blue, filled=True)


class DragHandle(Gesture):
    """A handle dragged in the plane of the view to a round place, or onto a joint; a click picks it."""

    def __init__(self, view: TableView, at: QPointF, handle: Handle) -> None:
        super().__init__(view, at)
        self.handle = handle
        self._told: tuple[float, float, float] | None = None

    @property
    def aim(self) -> Snap:
        """Where it would go. Tubes are not snapped to: those behind it would take it out of its plane."""
        view, place = self.view, np.array(self.handle.place)
        if view.shown.under(self.at) in view.job.joint_by_id:
            return snap(view.shown, self.at, place)
        x, y = view.camera.project(place[None])[0, :2] + [self.at.x() - self.start.x(), self.at.y() - self.start.y()]
        free = view.camera.on_plane(float(x), float(y), place, PLANES[view.camera.view])
        far = np.abs(free - place) > STRAIGHT_PX * view.camera.mm_per_px  # else it keeps straight to where it was
        place[far] = snapped(view.job, free)[far]
        return Snap(Spot((float(place[0]), float(place[1]), float(place[2]))))

    def move(self, at: QPointF) -> None:
        super().move(at)
        spot = self.aim.spot
        if self.begun and spot.place != self._told:
            self._told = spot.place
            self.view.handling.emit(self.handle.key, spot)

    def end(self, at: QPointF) -> None:
        self.at = at
        if self.begun:
            self.view.handled.emit(self.handle.key, self.aim.spot)
        else:
            self.view.grasped.emit(self.handle.key)

    def cancel(self) -> None:
        self.view.handling.emit("", None)

    def paint(self, brush: Brush) -> None:
        if self.begun:
            _paint_aim(brush, self.view, self.handle, self.aim)


class Pointing:
    """The next click puts a handle there, Enter on the chosen joint; Esc leaves it where it is."""

    def __init__(self, view: TableView, handle: Handle) -> None:
        self.view, self.handle = view, handle
        self._aim: Snap | None = None

    def goes_on(self, handles: tuple[Handle, ...]) -> bool:
        """Go on with the handle as it is shown now; False where it no longer is."""
        found = next((h for h in handles if h.key == self.handle.key), None)
        self.handle = found or self.handle
        return found is not None

    def hover(self, at: QPointF) -> None:
        """The mouse is here."""
        place = np.array(self.handle.place)
        self._aim = snap(self.view.shown, at, place, place)
        self.view.update()

    def click(self, at: QPointF) -> None:
        """Put it where the mouse is."""
        self.hover(at)
        if self._aim:
            self._put(self._aim.spot)

    @property
    def _chosen(self) -> str:
        """The joint that is chosen; nothing where none is."""
        return next((c for c in self.view.chosen if c in self.view.job.joint_by_id), "")

    def _put(self, spot: Spot) -> None:
        self.view.take_tool(None)
        self.view.handled.emit(self.handle.key, spot)

    def key(self, event: QKeyEvent) -> bool:
        """Take a key; whether it was one for pointing."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._chosen:
            self._put(Spot(self.view.job.joint_by_id[self._chosen].place, joint=self._chosen))
        elif event.key() == Qt.Key.Key_Escape:
            self.view.take_tool(None)
        else:
            return False
        return True

    def paint(self, brush: Brush) -> None:
        """Say what a click does, and show where it would go."""
        enter = f"  Enter takes {self._chosen}." if self._chosen else ""
        words = f"Click where this is: {self.handle.name}. Joints and tubes are snapped to.{enter}  Esc leaves it."
        brush.label(8.0, brush.painter.fontMetrics().height() + 8.0, words, brush.look.blue)
        if self._aim:
            _paint_aim(brush, self.view, self.handle, self._aim)
