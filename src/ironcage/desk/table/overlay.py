"""What is painted over the 3D picture: joint dots and tags, section lines and pictures; and the brush it is painted
with."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from itertools import product

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QImage, QPainter, QPen

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.edits import place_of
from ironcage.core.job.geometry import measure
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.store.scans import picture_path
from ironcage.core.job.text.measure import short
from ironcage.core.job.values.model import Job, Tube
from ironcage.core.job.values.shown import units_of
from ironcage.desk.look import Look, text_font
from ironcage.desk.table import strokes
from ironcage.desk.table.camera import Camera

Place = Sequence[float] | Floats

MOST_READINGS = 4
# where a label may step aside to, in its own widths and heights, the nearest first
ASIDE = sorted(product((0, -1, 1), range(-4, 5)), key=lambda way: 3 * abs(way[0]) + abs(way[1]))
MOST_TAGS = 300
SECTION_HIGH_MM = 1500.0
MOST_IMAGE_PX = 2400


@dataclass(frozen=True)
class Brush:
    """A painter with the view and colours it paints in; what a step uses to draw on the table. taken: where labels
    stand; folded: words of those that found no room."""

    painter: QPainter
    camera: Camera
    look: Look
    taken: list[QRectF] = field(default_factory=list, compare=False)
    folded: list[str] = field(default_factory=list, compare=False)

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
        """Words on a small label with its lower left corner at pixels x, y, kept on the screen and clear of the labels
        before it: a little aside, with a line to its place, where that is taken."""
        p = self.painter
        size = p.fontMetrics().boundingRect(text)
        width, height = size.width() + 8, p.fontMetrics().height() + 2
        box = self._room(x, y, width, height)
        if box is None:
            self.folded.append(text)
            return
        self.taken.append(box)
        p.setPen(QPen(QColor(colour), 1))
        if abs(box.left() - x) > width or abs(box.bottom() - y) > 2 * height:
            p.drawLine(QPointF(x, y), QPointF(min(max(x, box.left()), box.right()), box.center().y()))
        p.setBrush(QBrush(QColor(colour if filled else self.look.chalk)))
        p.drawRoundedRect(box, 3, 3)
        p.setPen(QColor(self.look.chalk if filled else colour))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _room(self, x: float, y: float, width: float, height: float) -> QRectF | None:
        """A box for a label as near as may be to where it is wanted; None where all is taken."""
        for right, down in ASIDE:
            left = min(max(x + right * (width + 3), 2.0), self.camera.width - width - 2.0)
            foot = min(max(y + down * (height + 3), height + 2.0), self.camera.height - 2.0)
            box = QRectF(left, foot - height, width, height)
            if not any(box.intersects(other) for other in self.taken):
                return box
        return None

    def count_folded(self) -> None:
        """Say how many labels found no room, in the corner."""
        if self.folded:
            words = f"and {len(self.folded)} more: look from nearer"
            self.folded.clear()
            self.label(4.0, self.camera.height - 4.0, words, self.look.quiet)


def dots(brush: Brush, job: Job, at: np.ndarray, chosen: tuple[str, ...]) -> None:
    """Dots on joints, which stand at (n, 3) on the screen; rings on those chosen."""
    painter, look = brush.painter, brush.look
    if len(at) <= 2500:
        painter.setPen(QPen(QColor(look.ink), 5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.drawPoints(strokes.points(at[np.isfinite(at).all(axis=1), :2]))
    rows = {j.id: n for n, j in enumerate(job.joints)}
    painter.setPen(QPen(QColor(look.blue), 2.5))
    painter.setBrush(QColor(look.chalk))
    for spot in (at[rows[name]] for name in chosen if name in rows):
        if np.isfinite(spot).all():
            painter.drawEllipse(QPointF(spot[0], spot[1]), 6, 6)


def tags(brush: Brush, job: Job, chosen: tuple[str, ...], hovered: str, *, all_tags: bool) -> None:
    """Tags on what is chosen, under the mouse, or on all joints."""
    painter, look = brush.painter, brush.look
    picked = set(chosen)
    painter.setFont(text_font(9))
    if all_tags:
        for j in job.joints[:MOST_TAGS]:
            if j.id not in picked:
                brush.tag(j.place, j.id, look.ink)
    painter.setFont(text_font(10, bold=True))
    named = [c for c in chosen if c in job.joint_by_id]
    units, datum = units_of(job), job.datum
    for name in named[:MOST_TAGS]:
        place = job.joint_by_id[name].place
        text = name
        if len(named) <= MOST_READINGS:
            text += (
                f"  {name_of(job, name)}   {units.point((place[0] - datum.x, place[1] - datum.y, place[2] - datum.z))}"
            )
        brush.tag(place, text, look.blue)
    for t in [job.tube_by_id[c] for c in chosen if c in job.tube_by_id][:MOST_READINGS]:
        brush.tag(_middle(job, t), f"{t.id}   {name_of(job, t.id)}", look.blue)
    for thing in (job.placed[c] for c in chosen if c in job.placed):
        place = place_of(thing)
        spot = (place[0] - datum.x, place[1] - datum.y, place[2] - datum.z)
        brush.tag(place, f"{thing.name or thing.id}   {units.point(spot)}", look.blue)
    if hovered and hovered not in picked:
        if hovered in job.placed:
            thing = job.placed[hovered]
            brush.tag(place_of(thing), f"{thing.id}   {thing.name}", look.ink)
        elif hovered in job.joint_by_id:
            brush.tag(job.joint_by_id[hovered].place, f"{hovered}   {name_of(job, hovered)}", look.ink)
        elif hovered in job.tube_by_id:
            t = job.tube_by_id[hovered]
            brush.tag(_middle(job, t), f"{t.id}   {name_of(job, t.id)}   {t.section}", look.ink)


def kept_tapes(brush: Brush, job: Job) -> None:
    """Tapes that stay on the table, with what they say."""
    for tape in job.tapes:
        if not measure.known(job, tape.things):
            continue
        corner = tape.things[1:2] * (len(tape.things) - 1)
        ways = [measure.between(job, a, b) for a, b in zip((*tape.things[:1], *tape.things[2:]), corner, strict=True)]
        brush.pen(brush.look.blue, 2.0)
        for way in ways:
            brush.line(way.start, way.stop)
        at = ways[0].stop if len(ways) > 1 else (ways[0].start + ways[0].stop) / 2
        brush.tag(at, short(job, tape.things), brush.look.ink)


def _middle(job: Job, tube: Tube) -> Floats:
    """Half way along a tube, mm."""
    route = route_of(job, tube)
    return route.at(route.length / 2)[0]


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
