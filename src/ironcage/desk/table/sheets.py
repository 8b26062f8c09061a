"""Flat things painted over the table: panels, plates and bays, filled so that what is behind still shows."""

from collections.abc import Iterable, Mapping, Sequence
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QBrush, QColor, QPen

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.values.model import Job
from ironcage.desk.table import strokes
from ironcage.desk.table.overlay import Brush

if TYPE_CHECKING:
    from ironcage.core.answers.frame import Bay
    from ironcage.core.answers.shared.fitted.shop import Fitted

FILL, CHOSEN_FILL = 60, 120  # of 255
SHRINK = 0.06  # a bay is drawn so much smaller than its rim, so that neighbours can be told apart


def outline(
    brush: Brush,
    places: Floats,
    colour: str,
    *,
    fill: int = 0,
    style: Qt.BrushStyle = Qt.BrushStyle.SolidPattern,
    width: float = 1.5,
) -> None:
    """A polygon through places (n, 3), mm; a line where there are two."""
    outlines(brush, [brush.camera.project(places)], colour, fill=fill, style=style, width=width)


def outlines(
    brush: Brush,
    rings: Sequence[Floats],
    colour: str,
    *,
    fill: int = 0,
    style: Qt.BrushStyle = Qt.BrushStyle.SolidPattern,
    width: float = 1.5,
) -> None:
    """Polygons alike through pixels (n, 3) as the camera projects them; one that reaches behind it is left out."""
    p = brush.painter
    rings = [at for at in rings if np.isfinite(at).all()]
    if not rings:
        return
    stops = np.cumsum([len(at) for at in rings]).tolist()
    starts = [0, *stops[:-1]]
    at = np.concatenate(rings)[:, :2]
    if fill:
        shade = QColor(colour)
        shade.setAlpha(fill)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QBrush(shade, style))
        corners = strokes.points(at)
        for first, stop in zip(starts, stops, strict=True):
            p.drawPolygon(corners[first:stop])
        p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(QColor(colour), width))
    following = np.arange(1, len(at) + 1)
    following[np.subtract(stops, 1)] = starts
    # all sides in one go: a polygon with an edge takes twice as long
    p.drawLines(strokes.lines(np.hstack([at, at[following]])))


def fittings(brush: Brush, made: "Iterable[Fitted]", chosen: Sequence[str]) -> None:
    """Sheet and fittings where they sit; the chosen ones named."""
    look = brush.look
    for f in made:
        if not f.shown:
            continue
        picked = f.id in chosen
        colour = look.blue if picked else look.oxide if f.problem else look.quiet
        outline(
            brush,
            np.array(f.shown),
            colour,
            fill=CHOSEN_FILL if picked else FILL,
            width=4 if len(f.shown) == 2 else 1.5,
        )
        if picked:
            x, y, z = (float(v) for v in f.place)
            brush.tag((x, y, z), f"{f.id}   {f.kind}", look.blue)


def bays(brush: Brush, places: Floats, rows: Mapping[str, int], made: "Iterable[Bay]", chosen: str) -> None:
    """Open bays hatched, panelled ones filled, the chosen one named with its state; places (n, 3): where joints are
    shown, mm, by their `rows`."""
    look = brush.look
    shown = [b for b in made if b.state != "triangulated" or b.name == chosen]
    if not shown:
        return
    counts = np.array([len(b.joints) for b in shown])
    starts = np.cumsum(counts) - counts
    around = places[[rows[j] for b in shown for j in b.joints]]
    middles = np.add.reduceat(around, starts) / counts[:, None]
    pixels = brush.camera.project(around + SHRINK * (np.repeat(middles, counts, axis=0) - around))
    pieces = [pixels[first : first + count] for first, count in zip(starts.tolist(), counts.tolist(), strict=True)]
    rings = list(zip(shown, pieces, middles, strict=True))
    hatched = [ring for b, ring, _ in rings if b.state == "open" and b.name != chosen]
    filled = [ring for b, ring, _ in rings if b.state != "open" and b.name != chosen]
    outlines(brush, hatched, look.oxide, fill=FILL, style=Qt.BrushStyle.BDiagPattern)
    outlines(brush, filled, look.quiet, fill=FILL)
    for bay, ring, middle in rings:
        if bay.name == chosen:
            outlines(brush, [ring], look.blue, fill=CHOSEN_FILL, width=3)
            brush.tag(middle, f"{bay.state}   {'–'.join(bay.corners)}", look.blue, filled=True)


def station(brush: Brush, job: Job, x: float) -> None:
    """A plane across the car, as a frame over the joints there are."""
    if not job.joints:
        return
    places = np.array([j.place for j in job.joints])
    y = float(np.abs(places[:, 1]).max()) * 1.1
    low, high = float(min(places[:, 2].min(), 0.0)), float(places[:, 2].max()) * 1.05
    outline(brush, np.array([[x, -y, low], [x, y, low], [x, y, high], [x, -y, high]]), brush.look.blue, fill=FILL // 2)
