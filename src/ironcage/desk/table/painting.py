"""The table as it is painted: the solid picture, or lines in its place, and what lies over it on sheets that are
kept while they stay as they are."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPoint, QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPolygonF

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.geometry.routes import pieces
from ironcage.core.job.values.model import Job, Joint
from ironcage.core.job.values.shown import units_of
from ironcage.desk.look import Look, text_font
from ironcage.desk.table import overlay, tapes
from ironcage.desk.table.camera import Camera
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.layers import Layer
from ironcage.desk.table.overlay import Brush
from ironcage.desk.table.picture import Subject
from ironcage.units import Units, said


@dataclass(frozen=True, eq=False)
class Seen:
    """What is to be seen. spots (n, 3): where joints are, as the camera projects them; hidden (n,): those behind parts
    and people; still: nothing changes just now; size and ratio: of the widget in its pixels, and pixels of the screen
    for each."""

    job: Job
    camera: Camera
    look: Look
    chosen: tuple[str, ...]
    hovered: str
    all_tags: bool
    spots: Floats
    hidden: NDArray[np.bool_]
    decor: Decor
    still: bool
    size: QSize
    ratio: float


class Painting:
    """Paints one moment after another; keeps what they have in common."""

    def __init__(self) -> None:
        self._solid, self._edges, self._marks, self._over, self._tags = Layer(), Layer(), Layer(), Layer(), Layer()
        self._tapes: tuple[tapes.Tape, ...] = ()
        self._labels: tuple[QRectF, ...] = ()  # of the step
        self.labels: tuple[QRectF, ...] = ()  # all that are seen, where they stand
        self._decor_key: tuple[object, ...] = ()
        self._decor_smooth = False

    def drop_marks(self) -> None:
        """What is marked on the picture has changed: readings, dots, tags."""
        self._marks.drop()
        self._tags.drop()

    @property
    def marked(self) -> bool:
        """Whether the marks have been painted since they were dropped."""
        return self._marks.there

    def paint(self, painter: QPainter, seen: Seen, picture: tuple[Subject, QImage] | None) -> None:
        """Paint a moment over the solid picture of its subject, or over lines until there is one."""
        if picture is not None:
            of, image = picture
            painter.drawImage(0, 0, self._solid.sheet(of, seen.size, seen.ratio, lambda p: _stretch(p, seen, image)))
        else:
            _sketch(painter, seen)
        brief = seen.job.brief
        view = (seen.camera, seen.look, seen.size.width(), seen.size.height(), seen.ratio)
        key = (*view, seen.job.table, brief.shown_from, brief.datums, brief.units)
        edges = self._edges.sheet(key, seen.size, seen.ratio, lambda p: self._lay_tapes(p, seen))
        marked = (*key, seen.hidden.tobytes(), seen.decor.alone)
        marks = self._marks.sheet(marked, seen.size, seen.ratio, lambda p: self._mark(p, seen), over=edges)
        if seen.still or (seen.decor, *view) != self._decor_key:
            self._decor_key, self._decor_smooth = (seen.decor, *view), seen.still
        smooth = self._decor_smooth
        over = self._over.sheet(
            (*self._decor_key, smooth), seen.size, seen.ratio, lambda p: self._decorate(p, seen), smooth=smooth
        )
        tags = self._tags.sheet((*key, *self._decor_key), seen.size, seen.ratio, lambda p: self._tag(p, seen))
        for sheet in (marks, over, tags):
            painter.drawImage(0, 0, sheet)

    def _lay_tapes(self, painter: QPainter, seen: Seen) -> None:
        self._tapes = tapes.along(seen.camera, seen.job)
        for tape in self._tapes:
            tape.draw(Brush(painter, seen.camera, seen.look))

    def _decorate(self, painter: QPainter, seen: Seen) -> None:
        """What the step draws, over the frame as it is without load."""
        brush = Brush(painter, seen.camera, seen.look)
        if seen.decor.shape is not None:
            brush.pen(seen.look.quiet, 0.6)
            brush.lines(np.stack(pieces(seen.job)[:2], axis=1))
        if seen.decor.paint:
            painter.setFont(text_font(9))
            seen.decor.paint(brush)
            brush.count_folded()
        self._labels = tuple(brush.taken)

    def _tag(self, painter: QPainter, seen: Seen) -> None:
        """Names and places, over everything else so that they can be read, and clear of the step's labels."""
        brush = Brush(painter, seen.camera, seen.look, list(self._labels))
        for tape in self._tapes:
            for joint in _read(seen):
                tape.read(brush, joint)
        overlay.tags(brush, seen.job, seen.chosen, seen.hovered, all_tags=seen.all_tags)
        overlay.kept_tapes(brush, seen.job)
        brush.count_folded()
        self.labels = tuple(brush.taken)

    def _mark(self, painter: QPainter, seen: Seen) -> None:
        """What is painted on the picture and follows the job: lines to the tapes and dots."""
        brush, job = Brush(painter, seen.camera, seen.look), seen.job
        for tape in self._tapes:
            for joint in _read(seen):
                tape.lead(brush, joint)
        hidden = seen.hidden | seen.decor.alone  # joints of tubes that are not shown would float about it
        overlay.dots(brush, job, np.where(hidden[:, None], np.nan, seen.spots), seen.chosen)
        if not job.joints and seen.decor.places is None:
            _teach(brush, seen.size, units_of(seen.job))


def _read(seen: Seen) -> list[Joint]:
    """The chosen joints whose readings the tapes tell."""
    joints = seen.job.joint_by_id
    return [joints[c] for c in seen.chosen if c in joints][: overlay.MOST_READINGS]


def _stretch(painter: QPainter, seen: Seen, image: QImage) -> None:
    """The solid picture in the size it is seen in: stretching it takes longer than laying it."""
    painter.drawImage(QRectF(0, 0, seen.camera.width, seen.camera.height), image)


def _sketch(painter: QPainter, seen: Seen) -> None:
    """The frame in lines, at once, while its picture is being drawn."""
    brush, t = Brush(painter, seen.camera, seen.look), seen.job.table
    painter.fillRect(QRect(QPoint(), seen.size), QColor(seen.look.paper))
    x0, x1, y0, y1 = t.corner_x, t.corner_x + t.length, t.corner_y, t.corner_y + t.width
    corners = seen.camera.project(np.array([[x, y, t.top_z] for x, y in ((x0, y0), (x1, y0), (x1, y1), (x0, y1))]))
    if np.isfinite(corners).all() and seen.camera.basis[2][2] > 0:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(seen.look.chalk))
        painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y, _ in corners]))
    brush.pen(seen.look.tube, 3)
    if seen.job.tubes:
        brush.lines(np.stack((seen.decor.shape or pieces(seen.job))[:2], axis=1))


def _teach(brush: Brush, size: QSize, units: Units) -> None:
    brush.painter.setFont(text_font(13))
    brush.pen(brush.look.ink)
    brush.painter.drawText(
        QRect(QPoint(), size).adjusted(20, 12, -20, -20),
        Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap,
        units.say(said.example("The table is empty. Type a joint below, for example  joint [0] [250] [300]\n"))
        + "x counts forward from the front axle, y to the left, z up from the ground; the right side follows by "
        "itself.",
    )
