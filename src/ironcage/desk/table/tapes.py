"""The tapes along the table's edges, and the readings that joints throw on them."""

import math
from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt

from ironcage.core.job.values.model import Job, Joint
from ironcage.core.job.values.shown import units_of
from ironcage.desk.look import text_font
from ironcage.desk.table.camera import Camera
from ironcage.desk.table.overlay import Brush, Place

MOST_TICKS = 600
ABOVE_MM = 300.0
_MM_STEPS = (10, 20, 50, 100, 200, 500, 1000, 2000)
_INCH_STEPS = tuple(25.4 * n for n in (0.5, 1, 2, 6, 12, 24, 48))


class Tape:
    """One tape as a camera sees it: along `axis` over `span` (mm), `at` giving the place of each value on the
    table's edge."""

    def __init__(
        self, camera: Camera, job: Job, axis: int, span: tuple[float, float], at: Callable[[float], Place]
    ) -> None:
        self.axis, self.span, self.at = axis, span, at
        self.units = units_of(job)
        self.zero = (job.datum.x, job.datum.y)[axis]
        ends = camera.project(np.array([at(span[0]), at(span[1])]))[:, :2]
        way = ends[1] - ends[0]
        self.length_px = float(np.hypot(*way))
        self.readable = bool(np.isfinite(ends).all()) and self.length_px >= 40  # shorter: seen end-on
        outward = ends.mean(axis=0) - camera.project(np.array([job_centre(job)]))[0, :2]
        normal = np.array([-way[1], way[0]]) / max(self.length_px, 1.0)
        self.outward = normal if normal @ outward >= 0 else -normal

    def draw(self, brush: Brush) -> None:
        """The edge, a tick a fifth of a step, and a figure each step, counted from the datum."""
        units, span = self.units, self.span
        brush.painter.setFont(text_font(8))
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
        last = QRectF()
        for n, spot in zip(ticks, spots, strict=True):
            long = n % 5 == 0
            tip = spot + self.outward * (9 if long else 4)
            brush.pen(brush.look.ink, 1.4 if n == 0 else 1.0)
            brush.painter.drawLine(QPointF(*spot), QPointF(*tip))
            if long:
                text = units.length(n * tick, unit=False).removesuffix(".0")
                box = brush.painter.fontMetrics().boundingRect(text)
                foot = spot + self.outward * 18
                left, base = foot[0] - box.width() / 2, foot[1] + box.height() / 3
                room = brush.camera
                here = QRectF(left - 3, base - box.height(), box.width() + 6, box.height())
                inside = 0 <= left <= room.width - box.width() and box.height() <= base <= room.height - 2
                if inside and not here.intersects(last):  # far along the edge steps are seen shorter than here
                    brush.painter.drawText(QPointF(left, base), text)
                    last = here

    def lead(self, brush: Brush, joint: Joint) -> None:
        """The line from a joint to its place on the tape."""
        brush.pen(brush.look.blue, 1, Qt.PenStyle.DashLine)
        brush.line(joint.place, self.at(joint.place[self.axis]))

    def read(self, brush: Brush, joint: Joint) -> None:
        """A joint's reading on the tape where that is on the screen, clear of other labels."""
        value, room = joint.place[self.axis], brush.camera
        foot = room.project(np.array([self.at(value)]))[0, :2]
        if not (0 <= foot[0] <= room.width and 0 <= foot[1] <= room.height):
            return
        brush.painter.setFont(text_font(8))
        x, y = foot + self.outward * 38
        text = f"{'xy'[self.axis]} {self.units.length(value - self.zero, unit=False)}"
        brush.label(x - 24, y + 8, text, brush.look.blue, filled=True)


def along(camera: Camera, job: Job) -> tuple[Tape, ...]:
    """The tape along the table's nearer long edge (x) and that along its nearer short edge (y), where they are not
    seen end-on."""
    table = job.table
    x0, x1 = table.corner_x, table.corner_x + table.length
    y0, y1 = table.corner_y, table.corner_y + table.width
    towards = camera.basis[2]
    near_y = y1 if towards[1] > 0.05 else y0
    near_x = x1 if towards[0] > -0.05 else x0
    both = (
        Tape(camera, job, 0, (x0, x1), lambda v: (v, near_y, table.top_z)),
        Tape(camera, job, 1, (y0, y1), lambda v: (near_x, v, table.top_z)),
    )
    return tuple(t for t in both if t.readable)


def job_centre(job: Job) -> tuple[float, float, float]:
    """The middle of the work: above the middle of the jig table's top, so that the tape's figures turn away from it."""
    t = job.table
    return t.corner_x + t.length / 2, t.corner_y + t.width / 2, t.top_z + ABOVE_MM
