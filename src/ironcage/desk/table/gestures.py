"""What the mouse does on the table: each gesture is an object with start, move, end and cancel."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPen

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.edits import place_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.table.camera import PLANES
from ironcage.desk.table.overlay import Brush

if TYPE_CHECKING:
    from ironcage.desk.table.view import TableView

START_PX = 4.0


def snapped(job: Job, place: Floats) -> Floats:
    """A place (3,) rounded to the builder's step, counted from the datum that is shown."""
    step, zero = units_of(job).snap_mm, np.array([job.datum.x, job.datum.y, job.datum.z])
    return np.round((place - zero) / step) * step + zero


def movable(job: Job, name: str) -> bool:
    """Whether the mouse can move a thing of that id: a joint, a part, a person, a chain's driven wheel, a shaft."""
    return name in job.joint_by_id or name in job.placed


def place_in(job: Job, name: str) -> tuple[float, float, float]:
    """Where a movable thing is, mm."""
    return job.joint_by_id[name].place if name in job.joint_by_id else place_of(job.placed[name])


class Gesture:
    """Something the mouse is doing; made when a button goes down."""

    def __init__(self, view: TableView, at: QPointF) -> None:
        self.view, self.start, self.at = view, at, at

    @property
    def begun(self) -> bool:
        """Whether the mouse has moved far enough to be more than a click."""
        return (self.at - self.start).manhattanLength() >= START_PX

    def move(self, at: QPointF) -> None:
        """The mouse is here now."""
        self.at = at
        self.view.update()

    def end(self, at: QPointF) -> None:
        """The button went up."""

    def cancel(self) -> None:
        """Escape: as if it had not begun."""

    def paint(self, brush: Brush) -> None:
        """Show what would happen."""


class PickOrBox(Gesture):
    """A click picks what is nearest; a drag picks everything in a box. `add` keeps what was chosen."""

    def __init__(self, view: TableView, at: QPointF, *, add: bool) -> None:
        super().__init__(view, at)
        self.add = add

    def end(self, at: QPointF) -> None:
        self.at = at
        if self.begun:
            self.view.picked.emit(self.view.shown.inside(QRectF(self.start, at).normalized()), self.add)
        elif self.view.spotting:
            place = np.array((self.view.job.datum.x, 0.0, self.view.job.table.top_z))
            x, y, z = (
                float(v) for v in self.view.camera.on_plane(at.x(), at.y(), place, PLANES[self.view.camera.view])
            )
            self.view.spotted.emit(x, y, z)
        else:
            name = self.view.shown.under(at)
            self.view.picked.emit((name,) if name else (), self.add)

    def paint(self, brush: Brush) -> None:
        if self.begun:
            brush.painter.setPen(QPen(QColor(brush.look.blue), 1.5, Qt.PenStyle.DashLine))
            brush.painter.setBrush(Qt.BrushStyle.NoBrush)
            brush.painter.drawRect(QRectF(self.start, self.at).normalized())


class DragThings(Gesture):
    """Chosen joints and placed things dragged in the plane of the view (the level plane in the free view), snapping
    the one held to round readings."""

    def __init__(self, view: TableView, at: QPointF, held: str, names: tuple[str, ...]) -> None:
        super().__init__(view, at)
        side = place_in(view.job, held)[1]
        self.held = held
        joints = [view.job.joint_by_id[n] for n in names if n in view.job.joint_by_id]
        # both of a pair would pull against each other: the side that is held leads
        led = {j.id for j in joints if j.twin in names and j.twin != j.id and j.y * side < 0}
        self.names = tuple(n for n in names if n not in led)
        self._told = (0.0, 0.0, 0.0)

    @property
    def delta(self) -> np.ndarray:
        """The move so far (3,), mm, snapped."""
        job, camera = self.view.job, self.view.camera
        place = np.array(place_in(job, self.held))
        spot = camera.project(place[None])[0, :2] + [self.at.x() - self.start.x(), self.at.y() - self.start.y()]
        move = camera.on_plane(float(spot[0]), float(spot[1]), place, PLANES[camera.view]) - place
        joint = job.joint_by_id.get(self.held)
        if joint is not None and joint.twin == joint.id:
            move[1] = 0.0
        return np.where(np.abs(move) > 1e-6, snapped(job, place + move) - place, 0.0)

    def move(self, at: QPointF) -> None:
        super().move(at)
        dx, dy, dz = (float(v) for v in self.delta)
        if self.begun and (dx, dy, dz) != self._told:
            self._told = dx, dy, dz
            self.view.dragging.emit(self.names, dx, dy, dz)

    def cancel(self) -> None:
        self.view.dragging.emit((), 0.0, 0.0, 0.0)

    def end(self, at: QPointF) -> None:
        self.at = at
        if self.begun:
            dx, dy, dz = (float(v) for v in self.delta)
            if dx or dy or dz:
                self.view.dragged.emit(self.names, dx, dy, dz)
            else:
                self.cancel()
        else:
            self.view.picked.emit((self.held,), False)

    def paint(self, brush: Brush) -> None:
        if not self.begun:
            return
        job, delta = self.view.job, self.delta
        brush.pen(brush.look.blue, 2, Qt.PenStyle.DashLine)
        for name in self.names:
            there = tuple(np.array(place_in(job, name)) + delta)
            for tube in job.tubes_at.get(name, ()):
                other = tube.b if tube.a == name else tube.a
                end = np.array(job.joint_by_id[other].place) + (delta if other in self.names else 0)
                brush.line(there, tuple(end))
        units, place = units_of(job), np.array(place_in(job, self.held)) + delta
        x, y, z = (float(v) for v in place - [job.datum.x, job.datum.y, job.datum.z])
        brush.tag(tuple(place), f"{self.held}   {units.point((x, y, z))}", brush.look.blue, filled=True)


class LookAround(Gesture):
    """The view turned about the car (free view) or pushed along (others, or with `push`)."""

    def __init__(self, view: TableView, at: QPointF, *, push: bool) -> None:
        super().__init__(view, at)
        self.before = view.camera
        self.push = push or view.camera.view != "free"

    def move(self, at: QPointF) -> None:
        self.at = at
        right, down = at.x() - self.start.x(), at.y() - self.start.y()
        self.view.look_through(
            self.before.panned(right, down) if self.push else self.before.orbited(right, down), moving=True
        )

    def cancel(self) -> None:
        self.view.look_through(self.before)
