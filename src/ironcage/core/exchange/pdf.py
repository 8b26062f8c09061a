"""Sheets as PDF at 1:1: small ones laid on pages together, a large one cut into tiles that are joined by marks."""

import io
import math
import re
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ironcage.core.exchange.drawing import BY_CAPITALS, FONT, WIDTHS_MM, Path, Sheet, SheetCircle
from ironcage.problem import Problem
from ironcage.units import METRIC, said

Floats = NDArray[np.float64]
POINT = 72 / 25.4  # points per mm
PAPERS_MM = {"A4": (210.0, 297.0), "A3": (297.0, 420.0), "Letter": (215.9, 279.4)}
BORDER_MM = 8.0  # what an office printer leaves blank
GAP_MM = 6.0


LONGEST_MM = 5000.0  # a page can be no longer in a PDF file
_ROLL = re.compile(r"roll\s+(?P<width>.+)", re.IGNORECASE)


def roll_width(name: str) -> float | None:
    """How wide a roll is, mm, by `roll 610`, `roll 24"` or the like; None for a sheet of paper."""
    match = _ROLL.fullmatch(name.strip())
    return METRIC.read_length(match["width"]) if match else None


def _paper(name: str) -> tuple[float, float]:
    for known, size in PAPERS_MM.items():
        if known.lower() == name.lower():
            return size
    raise Problem(
        f"There is no paper ‘{name}’.", where=name, hint=f"There is {', '.join(PAPERS_MM)}, and a roll: roll 610."
    )


def _canvas(stream: io.BytesIO, width: float, height: float, title: str) -> Any:
    from reportlab.pdfgen.canvas import Canvas

    canvas = Canvas(stream, pagesize=(width * POINT, height * POINT), invariant=1)
    canvas.setTitle(title)
    return canvas


def _draw(canvas: Any, sheet: Sheet, x: float, y: float) -> None:
    """Put a sheet with its lower left corner at x, y (mm) of the page."""
    canvas.saveState()
    canvas.translate(x * POINT, y * POINT)
    canvas.scale(POINT, POINT)
    for item in sheet.items:
        if isinstance(item, Path):
            canvas.setLineWidth(WIDTHS_MM[item.weight])
            canvas.setDash((4, 2) if item.dashed else ())
            path = canvas.beginPath()
            path.moveTo(*item.points[0])
            for point in item.points[1:]:
                path.lineTo(*point)
            canvas.drawPath(path)
        elif isinstance(item, SheetCircle):
            canvas.setLineWidth(WIDTHS_MM[item.weight])
            canvas.setDash(())
            canvas.circle(item.x, item.y, item.radius)
        else:
            canvas.saveState()
            canvas.translate(item.x, item.y)
            if not item.upright:
                canvas.rotate(90)
            canvas.setFont(FONT, item.size * BY_CAPITALS)
            {"left": canvas.drawString, "middle": canvas.drawCentredString, "right": canvas.drawRightString}[
                item.align
            ](0, 0, item.text)
            canvas.restoreState()
    canvas.restoreState()


def to_pdf(sheets: list[Sheet], title: str, paper: str = "A4") -> bytes:
    """Sheets one below the other, as many as fit a page; one too large for the paper is tiled."""
    if not sheets:
        raise Problem("There is nothing to print.", where=title)
    if roll := roll_width(paper):
        return _on_roll(sheets, title, roll)
    width, height = _paper(paper)
    stream = io.BytesIO()
    canvas = _canvas(stream, width, height, title)
    room_x, room_y = width - 2 * BORDER_MM, height - 2 * BORDER_MM
    y = height - BORDER_MM
    for sheet in sheets:
        if sheet.width > room_y or sheet.height > room_y or (sheet.width > room_x and sheet.height > room_x):
            if y < height - BORDER_MM:
                canvas.showPage()
            _tile(canvas, sheet, width, height)
            y = height - BORDER_MM
            continue
        turned = sheet.width > room_x
        tall = sheet.width if turned else sheet.height
        if y - tall < BORDER_MM:
            canvas.showPage()
            y = height - BORDER_MM
        if turned:
            canvas.saveState()
            canvas.translate((BORDER_MM + sheet.height) * POINT, (y - tall) * POINT)
            canvas.rotate(90)
            _draw(canvas, sheet, 0, 0)
            canvas.restoreState()
        else:
            _draw(canvas, sheet, BORDER_MM, y - tall)
        y -= tall + GAP_MM
    if y < height - BORDER_MM:
        canvas.showPage()
    canvas.save()
    return stream.getvalue()


def _on_roll(sheets: list[Sheet], title: str, width: float) -> bytes:
    """Each sheet on a page of its own, as wide as the roll and as long as it needs: along the roll where it fits across
    it so. Refuses one that is wider than the roll either way, and one that is longer than a page can be."""
    stream = io.BytesIO()
    canvas = _canvas(stream, width, width, title)
    for sheet in sheets:
        along = sorted((sheet.height, sheet.width))
        if along[0] > width - 2 * BORDER_MM:
            raise Problem(
                f"{sheet.title} is {said.length(along[0])} across, and a roll of {said.size(width)} prints "
                f"{said.length(width - 2 * BORDER_MM)}.",
                where=sheet.title,
                hint="Take a wider roll.",
            )
        if along[1] + 2 * BORDER_MM > LONGEST_MM:
            raise Problem(
                f"{sheet.title} is {said.length(along[1])} long, and a page is at most {said.length(LONGEST_MM)}.",
                where=sheet.title,
            )
        turned = sheet.height <= width - 2 * BORDER_MM and sheet.width > sheet.height
        long = sheet.width if turned else sheet.height
        canvas.setPageSize((width * POINT, (long + 2 * BORDER_MM) * POINT))
        if turned:
            canvas.saveState()
            canvas.translate((BORDER_MM + sheet.height) * POINT, BORDER_MM * POINT)
            canvas.rotate(90)
            _draw(canvas, sheet, 0, 0)
            canvas.restoreState()
        else:
            _draw(canvas, sheet, BORDER_MM, BORDER_MM)
        canvas.showPage()
    canvas.save()
    return stream.getvalue()


def paper_room(paper: str) -> float:
    """The longest sheet that goes on one page of a paper, mm."""
    return LONGEST_MM - 2 * BORDER_MM if roll_width(paper) else max(_paper(paper)) - 2 * BORDER_MM


def tiles(sheet: Sheet, paper: str) -> tuple[int, int]:
    """How many pages across and up a sheet takes."""
    width, height = _paper(paper)
    return math.ceil(sheet.width / (width - 2 * BORDER_MM)), math.ceil(sheet.height / (height - 2 * BORDER_MM))


def _tile(canvas: Any, sheet: Sheet, width: float, height: float) -> None:
    """Cut a sheet into pages, those left out that are blank or hold only the table's edge. Each page's printed field
    is framed by trim lines; neighbours meet edge to edge there."""
    step_x, step_y = width - 2 * BORDER_MM, height - 2 * BORDER_MM
    across, up = math.ceil(sheet.width / step_x), math.ceil(sheet.height / step_y)
    for row in range(up):
        for column in range(across):
            if not _marked(sheet, column * step_x, row * step_y, step_x, step_y):
                continue
            canvas.saveState()
            clip = canvas.beginPath()
            clip.rect(BORDER_MM * POINT, BORDER_MM * POINT, step_x * POINT, step_y * POINT)
            canvas.clipPath(clip, stroke=0, fill=0)
            _draw(canvas, sheet, BORDER_MM - column * step_x, BORDER_MM - row * step_y)
            canvas.restoreState()
            canvas.setLineWidth(0.3)
            canvas.setDash((2, 2))
            canvas.rect(BORDER_MM * POINT, BORDER_MM * POINT, step_x * POINT, step_y * POINT)
            canvas.setDash(())
            canvas.setFont("Helvetica", 7)
            name = (
                f"{sheet.title} · row {row + 1} of {up}, column {column + 1} of {across}, empty pages left out · "
                f"print at 100 %, trim on the dashed line, this field is "
                f"{sheet.units.sizes(step_x)} × {sheet.units.size(step_y)}"
            )
            canvas.drawString(BORDER_MM * POINT, (BORDER_MM - 4) * POINT, name)
            canvas.showPage()


def _marked(sheet: Sheet, x: float, y: float, width: float, height: float) -> bool:
    """Whether anything of a sheet but the table's edge is drawn in a field of it, given by its lower left corner."""
    low, high = np.array([x, y]), np.array([x + width, y + height])
    for item in sheet.items:
        if isinstance(item, Path):
            points = np.asarray(item.points, dtype=float)
            if item.weight != "table" and _crosses(points[:-1], points[1:], low, high):
                return True
        elif isinstance(item, SheetCircle):
            middle = np.array([item.x, item.y])
            nearest = np.linalg.norm(np.clip(middle, low, high) - middle)
            farthest = np.linalg.norm(np.maximum(abs(low - middle), abs(high - middle)))
            if nearest <= item.radius <= farthest:
                return True
        else:
            size = np.array([len(item.text) * item.size, item.size])  # no letter is wider than it is high
            size = size if item.upright else size[::-1]
            if np.all(np.array([item.x, item.y]) - size <= high) and np.all(np.array([item.x, item.y]) + size >= low):
                return True
    return False


def _crosses(start: Floats, stop: Floats, low: Floats, high: Floats) -> bool:
    """Whether any straight line from start to stop (n, 2) has a part in a box (Liang and Barsky 1984)."""
    way = stop - start
    with np.errstate(divide="ignore", invalid="ignore"):
        one, two = (low - start) / way, (high - start) / way
    level = way == 0
    outside = level & ((start < low) | (start > high))
    enters = np.where(level, -np.inf, np.minimum(one, two)).max(axis=1)
    leaves = np.where(level, np.inf, np.maximum(one, two)).min(axis=1)
    return bool((~outside.any(axis=1) & (np.maximum(enters, 0.0) <= np.minimum(leaves, 1.0))).any())
