"""The jig plan: the table seen from above at 1:1, with stands, the frame's shadow, datums and check
distances, and tapes that were kept.

x of the sheet is the car's x (forward to the right), y its y (left is up), both from the table's rear right corner.
"""

from functools import partial

import numpy as np

from ironcage.core.answers.jig.stands import JigAnswer
from ironcage.core.exchange.drawing import Sheet, SheetCircle
from ironcage.core.job.geometry import measure
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.text.measure import short
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem

STAND_MM = 60.0  # side of the square drawn for a stand's foot


def plan(job: Job, made: JigAnswer) -> Sheet:
    """The plan of the whole table. Raises Problem when nothing stands on it."""
    if not made.stands:
        raise Problem("No joint stands on the table yet.", where="jig table", hint="Choose joints and type: stand")
    table = job.table
    units = units_of(job)
    length = partial(units.length, unit=False)
    sheet = Sheet(f"{job.brief.name}, jig plan", table.length, table.width, units)
    sheet.box(0, 0, table.length, table.width, "table")
    for tube in job.tubes:
        sheet.path(route_of(job, tube).line[:, :2] - [table.corner_x, table.corner_y], "fine")
    centre = -table.corner_y
    sheet.line(0, centre, table.length, centre, "mark", dashed=True)
    sheet.words(8, centre + 3, "centreline", 6)
    for datum in job.brief.datums:
        x = datum.x - table.corner_x
        if 0 <= x <= table.length:
            sheet.line(x, 0, x, table.width, "mark", dashed=True)
            sheet.words(x + 3, 8, datum.name, 6)
    for stand in made.stands:
        half = STAND_MM / 2
        sheet.box(stand.x - half, stand.y - half, STAND_MM, STAND_MM, "cut")
        sheet.cross(stand.x, stand.y, half + 15)
        sheet.items.append(SheetCircle(stand.x, stand.y, 3.0, "cut"))
        sheet.lines_of(
            stand.x + half + 6,
            stand.y + 12,
            [stand.joint, f"saddle {length(stand.saddle)}", f"x {length(stand.x)}  y {length(stand.y)}"],
            7,
        )
    _tapes(sheet, job)
    sheet.words(
        10,
        table.width - 14,
        f"{job.brief.name}, jig plan 1:1, {units.length_name} from this table's rear right corner (lower left)",
        8,
    )
    sheet.scale_bar(10, table.width - 34, 500.0)
    return sheet


def _tapes(sheet: Sheet, job: Job) -> None:
    """Tapes that stay on the table between two things, with what they say; an angle is read on the screen only."""
    corner = np.array([job.table.corner_x, job.table.corner_y])
    for tape in job.tapes:
        if len(tape.things) == 2 and measure.known(job, tape.things):
            held = measure.between(job, *tape.things)
            (x0, y0), (x1, y1) = held.start[:2] - corner, held.stop[:2] - corner
            sheet.line(x0, y0, x1, y1, "mark", dashed=True)
            sheet.words((x0 + x1) / 2 + 4, (y0 + y1) / 2 + 4, short(job, tape.things), 6)
