"""The mock-up pack: sticks to cut, and a sketch from the side and from above to put them together by."""

import math

import numpy as np

from ironcage.core.answers.place import mockup
from ironcage.core.exchange.drawing import Sheet
from ironcage.core.exchange.lists import table, unit_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of

WIDTH_MM, HEIGHT_MM, MARGIN_MM = 287.0, 200.0, 8.0
ROWS = 44


def mockup_csv(job: Job) -> bytes:
    """The sticks: one row each."""
    unit, size, places = unit_of(job)
    rows = [
        [
            s.piece,
            " ".join(s.tubes),
            round(s.length / size, places),
            *s.ends,
            *(round(math.degrees(a), 1) for a in s.angles),
        ]
        for s in mockup.timber_mockup(job).sticks
    ]
    return table(
        [
            "stick",
            "tubes",
            f"butt to butt {unit}",
            "from",
            "to",
            "first end off square deg",
            "second end off square deg",
        ],
        rows,
        units_of(job),
    )


def mockup_sheet(job: Job) -> Sheet:
    """One sheet: the list, and two views of the sticks with their numbers."""
    made, units = mockup.timber_mockup(job), units_of(job)
    sheet = Sheet(f"{job.brief.name}, mock-up", WIDTH_MM, HEIGHT_MM, units)
    sheet.words(
        MARGIN_MM,
        HEIGHT_MM - 9,
        f"{job.brief.name}: mock-up of {units.size(mockup.STICK_MM)} square timber or card strip, "
        f"{units.metres(made.total)} in all",
        4.5,
    )
    said = [
        f"{n + 1}  {s.piece}   {units.length(s.length)}   {s.ends[0]}–{s.ends[1]}   "
        f"{math.degrees(s.angles[0]):.0f}°/{math.degrees(s.angles[1]):.0f}°"
        for n, s in enumerate(made.sticks)
    ]
    for column in range(-(-min(len(said), 2 * ROWS) // ROWS)):
        sheet.lines_of(MARGIN_MM + 62 * column, HEIGHT_MM - 17, said[column * ROWS : (column + 1) * ROWS], 2.5)
    for n, (across, up, words) in enumerate(((0, 2, "from the side"), (0, 1, "from above"))):
        _view(sheet, made, across, up, words, 140.0, 14.0 + 92 * (1 - n))
    sheet.scale_bar(MARGIN_MM + 150, 6)
    return sheet


def _view(sheet: Sheet, made: mockup.Mockup, across: int, up: int, words: str, x0: float, y0: float) -> None:
    """Sticks seen along an axis in a field of 138 by 80 mm, with their numbers."""
    lines = np.array([s.places for s in made.sticks])[:, :, [across, up]]
    low, high = lines.reshape(-1, 2).min(axis=0), lines.reshape(-1, 2).max(axis=0)
    scale = min(138 / max(high[0] - low[0], 1.0), 76 / max(high[1] - low[1], 1.0))
    for n, (a, b) in enumerate((lines - low) * scale + [x0, y0]):
        sheet.line(float(a[0]), float(a[1]), float(b[0]), float(b[1]), "mark")
        middle = (a + b) / 2
        sheet.words(float(middle[0]) + 0.6, float(middle[1]) + 0.6, str(n + 1), 2.2)
    sheet.words(x0, y0 + 80, f"{words}, 1:{1 / scale:.0f}", 3)
