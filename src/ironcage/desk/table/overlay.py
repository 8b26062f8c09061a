"""What is painted over the 3D picture: the tape along the table's edge, joint dots, tags and readings."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QImage, QPainter, QPen

from ironcage.core.calc.beams import Floats
from ironcage.core.job.commands import units_of
from ironcage.core.job.edits import place_of
from ironcage.core.job.model import Job, Joint
from ironcage.core.job.routes import route_of
from ironcage.core.job.scans import picture_path
from ironcage.desk.look import Look, text_font
from ironcage.desk.table import strokes
from ironcage.desk.table.camera import Camera

Place = Sequence[float] | Floats

MOST_READINGS = 4
MOST_TAGS = 300
MOST_TICKS = 600
ABOVE_MM = 300.0
SECTION_HIGH_MM = 1500.0
MOST_IMAGE_PX = 2400
_MM_STEPS = (10, 20, 50, 100, 200, 500, 1000, 2000)
_INCH_STEPS = tuple(25.4 * n for n in (0.5, 1, 2, 6, 12, 24, 48))


@dataclass(frozen=True)
class Brush:
    """A painter with the view and colours it paints in; what a step uses to draw on the table."""

    painter: QPainter
    camera: Camera
    look: Look

    def pen(self, colour: str, width: float = 1.0, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> None:
        """Draw lines so from now on."""
        self.painter.setPen(QPen(QColor(colour), width, style))

    def line(self, one: Place, other: Place) -> None:
        """A straight line between two places in mm."""
        ends = self.camera.project(np.array([one, other]))
        if np.isfinite(ends).all():
            self.painter.drawLine(QPointF(*ends[0, :2]), QPointF(*ends[1, :2]))

    def lines(self, places: np.ndarray) -> None:
        """Straight lines between pairs of places (n, 2, 3), in one go."""
        at = self.camera.project(places.reshape(-1, 3))[:, :2].reshape(-1, 4)
        self.painter.drawLines(strokes.lines(at[np.isfinite(at).all(axis=1)]))

    def tag(
        self,
        place: Place,
        text: str,
        colour: str,
        *,
        filled: bool = False,
        offset: tuple[float, float] = (9, -9),
    ) -> None:
        """Words on a small label beside a place in mm."""
        at = self.camera.project(np.array([place]))[0]
        if not np.isfinite(at).all():
            return
        self.label(at[0] + offset[0], at[1] + offset[1], text, colour, filled=filled)

    def label(self, x: float, y: float, text: str, colour: str, *, filled: bool = False) -> None:
        """Words on a small label with its lower left corner at pixels x, y, kept on the screen."""
        p = self.painter
        size = p.fontMetrics().boundingRect(text)
        width, height = size.width() + 8, p.fontMetrics().height() + 2
        x = min(max(x, 2.0), self.camera.width - width - 2.0)
        y = min(max(y, height + 2.0), self.camera.height - 2.0)
        box = QRectF(x, y - height, width, height)
        p.setPen(QPen(QColor(colour), 1))
        p.setBrush(QBrush(QColor(colour if filled else self.look.chalk)))
        p.drawRoundedRect(box, 3, 3)
        p.setPen(QColor(self.look.chalk if filled else colour))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def tapes(brush: Brush, job: Job) -> None:
    """The tape along the table's nearer long edge (x) and its nearer short edge (y)."""
    for tape in _both(brush, job):
        tape.draw()


def readings(brush: Brush, job: Job, chosen: tuple[str, ...]) -> None:
    """The readings that chosen joints throw on the tapes."""
    joints = [job.joint_by_id[c] for c in chosen if c in job.joint_by_id][:MOST_READINGS]
    for tape in _both(brush, job) if joints else ():
        for joint in joints:
            tape.reading(joint)


def _both(brush: Brush, job: Job) -> list["_Tape"]:
    """The tapes that are not seen end-on."""
    table = job.table
    x0, x1 = table.corner_x, table.corner_x + table.length
    y0, y1 = table.corner_y, table.corner_y + table.width
    towards = brush.camera.basis[2]
    near_y = y1 if towards[1] > 0.05 else y0
    near_x = x1 if towards[0] > -0.05 else x0
    brush.painter.setFont(text_font(8))
    tapes = [
        _Tape(brush, job, 0, (x0, x1), lambda v: (v, near_y, table.top_z)),
        _Tape(brush, job, 1, (y0, y1), lambda v: (near_x, v, table.top_z)),
    ]
    return [t for t in tapes if t.readable]


class _Tape:
    """One tape: along `axis` over `span` (mm), `at` giving the place of each value on the table's edge."""

    def __init__(
        self, brush: Brush, job: Job, axis: int, span: tuple[float, float], at: Callable[[float], Place]
    ) -> None:
        self.brush, self.axis, self.span, self.at = brush, axis, span, at
        self.units = units_of(job)
        self.zero = (job.datum.x, job.datum.y)[axis]
        ends = brush.camera.project(np.array([at(span[0]), at(span[1])]))[:, :2]
        way = ends[1] - ends[0]
        self.length_px = float(np.hypot(*way))
        self.readable = bool(np.isfinite(ends).all()) and self.length_px >= 40  # shorter: seen end-on
        outward = ends.mean(axis=0) - brush.camera.project(np.array([job_centre(job)]))[0, :2]
        normal = np.array([-way[1], way[0]]) / max(self.length_px, 1.0)
        self.outward = normal if normal @ outward >= 0 else -normal

    def draw(self) -> None:
        """The edge, a tick a fifth of a step, and a figure each step, counted from the datum."""
        brush, units, span = self.brush, self.units, self.span
        brush.pen(brush.look.ink, 2)
        brush.line(self.at(span[0]), self.at(span[1]))
        per_mm = self.length_px / (span[1] - span[0])
        steps = _MM_STEPS if units.length_unit == "mm" else _INCH_STEPS
        step = next((s for s in steps if s * per_mm >= 52), steps[-1])
        tick = step / 5
        ticks = np.arange(math.ceil((span[0] - self.zero) / tick), math.floor((span[1] - self.zero) / tick) + 1)
        if len(ticks) > MOST_TICKS:
            return
        spots = brush.camera.project(np.array([self.at(self.zero + n * tick) for n in ticks]).reshape(-1, 3))[:, :2]
        for n, spot in zip(ticks, spots, strict=True):
            long = n % 5 == 0
            tip = spot + self.outward * (9 if long else 4)
            brush.pen(brush.look.ink, 1.4 if n == 0 else 1.0)
            brush.painter.drawLine(QPointF(*spot), QPointF(*tip))
            if long:
                text = units.length(n * tick, unit=False).removesuffix(".0")
                box = brush.painter.fontMetrics().boundingRect(text)
                foot = spot + self.outward * 18
                brush.painter.drawText(QPointF(foot[0] - box.width() / 2, foot[1] + box.height() / 3), text)

    def reading(self, joint: Joint) -> None:
        """A joint's reading thrown on the tape."""
        value = joint.place[self.axis]
        self.brush.pen(self.brush.look.blue, 1, Qt.PenStyle.DashLine)
        self.brush.line(joint.place, self.at(value))
        foot = self.brush.camera.project(np.array([self.at(value)]))[0, :2] + self.outward * 38
        text = f"{'xy'[self.axis]} {self.units.length(value - self.zero, unit=False)}"
        self.brush.label(foot[0] - 24, foot[1] + 8, text, self.brush.look.blue, filled=True)


def job_centre(job: Job) -> tuple[float, float, float]:
    """The middle of the work: above the middle of the jig table's top, so that the tape's figures turn away from it."""
    t = job.table
    return t.corner_x + t.length / 2, t.corner_y + t.width / 2, t.top_z + ABOVE_MM


def joints(brush: Brush, job: Job, at: np.ndarray, chosen: tuple[str, ...], hovered: str, *, all_tags: bool) -> None:
    """Dots on joints, and tags on those chosen, under the mouse, or all."""
    painter, look = brush.painter, brush.look
    if len(at) <= 2500:
        painter.setPen(QPen(QColor(look.ink), 5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.drawPoints(strokes.points(at[np.isfinite(at).all(axis=1), :2]))
    picked = set(chosen)
    index = {j.id: n for n, j in enumerate(job.joints)}
    painter.setFont(text_font(9))
    if all_tags:
        for j in job.joints[:MOST_TAGS]:
            if j.id not in picked:
                brush.tag(j.place, j.id, look.ink)
    painter.setFont(text_font(10, bold=True))
    named = [c for c in chosen if c in index]
    for name in named:
        spot = at[index[name]]
        if np.isfinite(spot).all():
            painter.setPen(QPen(QColor(look.blue), 2.5))
            painter.setBrush(QColor(look.chalk))
            painter.drawEllipse(QPointF(spot[0], spot[1]), 6, 6)
    units, datum = units_of(job), job.datum
    for name in named[:MOST_TAGS]:
        place = job.joint_by_id[name].place
        text = name
        if len(named) <= MOST_READINGS:
            text += f"   {units.point((place[0] - datum.x, place[1] - datum.y, place[2] - datum.z))}"
        brush.tag(place, text, look.blue)
    for thing in (job.placed[c] for c in chosen if c in job.placed):
        place = place_of(thing)
        spot = (place[0] - datum.x, place[1] - datum.y, place[2] - datum.z)
        brush.tag(place, f"{thing.name or thing.id}   {units.point(spot)}", look.blue)
    if hovered and hovered not in picked:
        if hovered in job.placed:
            thing = job.placed[hovered]
            brush.tag(place_of(thing), f"{thing.id}   {thing.name}", look.ink)
        elif hovered in index:
            brush.tag(job.joint_by_id[hovered].place, hovered, look.ink)
        elif hovered in job.tube_by_id:
            t = job.tube_by_id[hovered]
            route = route_of(job, t)
            x, y, z = (float(v) for v in route.at(route.length / 2)[0])
            brush.tag((x, y, z), f"{t.id}   {t.section}", look.ink)


def section_lines(brush: Brush, job: Job) -> None:
    """The lines that joints are laid to, in the car's middle plane and from end to end of the table."""
    t = job.table
    x0, x1 = t.corner_x, t.corner_x + t.length
    for line in job.lines:
        ends = {
            "z": ((x0, 0.0, line.at), (x1, 0.0, line.at)),
            "x": ((line.at, 0.0, 0.0), (line.at, 0.0, SECTION_HIGH_MM)),
            "y": ((x0, line.at, 0.0), (x1, line.at, 0.0)),
        }
        one, other = ends[line.axis]
        brush.pen(brush.look.blue, 1.2, Qt.PenStyle.DashDotLine)
        brush.line(one, other)
        units = units_of(job)
        brush.tag(
            one,
            f"{line.name} {line.axis} {units.length(line.at - getattr(job.datum, line.axis), unit=False)}",
            brush.look.blue,
        )


@lru_cache(8)
def _image(path: str) -> QImage:
    """A picture as it can be drawn, no larger than a screen needs."""
    image = QImage(path)
    return (
        image
        if image.width() <= MOST_IMAGE_PX
        else image.scaledToWidth(MOST_IMAGE_PX, Qt.TransformationMode.SmoothTransformation)
    )


def pictures(brush: Brush, job: Job, chosen: tuple[str, ...]) -> None:
    """Photos and drawings in the view whose plane they lie on, faded."""
    p = brush.painter
    for picture in (i for i in job.pictures if i.plane == brush.camera.view):
        path = picture_path(picture.digest)
        x, y, _ = brush.camera.project(np.array([picture.place]))[0]
        wide, high = picture.width / brush.camera.mm_per_px, picture.height / brush.camera.mm_per_px
        p.save()
        p.translate(x, y)
        p.rotate(-math.degrees(picture.turn))
        field = QRectF(-wide / 2, -high / 2, wide, high)
        if path is not None:
            p.setOpacity(1.0 - picture.dim)
            p.drawImage(field, _image(str(path)))
            p.setOpacity(1.0)
        if path is None or picture.id in chosen:
            p.setPen(QPen(QColor(brush.look.blue if path else brush.look.oxide), 1.5, Qt.PenStyle.DashLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(field)
        p.restore()
