"""What is turned on paper: each batch from the side at 1:1, its bore dashed, with its sizes and limits."""

from __future__ import annotations

from ironcage.core.answers.cut.turned import HOW, TurnedRow, find_turned
from ironcage.core.calc.tubes.fits import SHAFTS, USES, Limits
from ironcage.core.exchange.drawing import Sheet
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said

WIDE_MM, HIGH_MM = 180.0, 260.0
BESIDE_MM, APART_MM, LINES_MM = 12.0, 14.0, 24.0
FOOT_MM = 18.0  # for the scale bar and the small print


def turned_sheets(job: Job) -> list[Sheet]:
    """Page after page. Refuses a job with nothing to turn."""
    rows = find_turned(job).rows
    if not rows:
        raise Problem(
            "There is nothing to turn yet.",
            where="turned",
            hint=said.example("Type: turned bush Arm bush od [25] press …"),
        )
    pages: list[Sheet] = []
    y = 0.0
    for row in rows:
        deep = _high(row) + APART_MM
        if not pages or y - deep < FOOT_MM:
            pages.append(Sheet(f"Turned parts, page {len(pages) + 1}", WIDE_MM, HIGH_MM, units_of(job)))
            pages[-1].words(0, HIGH_MM - 6, f"{job.brief.name}, turned parts, page {len(pages)}", 4.5)
            pages[-1].scale_bar(0, 4)
            y = HIGH_MM - 16
        _draw(pages[-1], row, y)
        y -= deep
    for page in pages:
        page.words(0, 12, HOW, 2.0)
    return pages


def _high(row: TurnedRow) -> float:
    """How much of a page a batch takes, mm."""
    return max(row.od, row.step[0] if row.step else 0.0, LINES_MM)


def _draw(sheet: Sheet, row: TurnedRow, top: float) -> None:
    """One batch, its words beside it."""
    middle = top - _high(row) / 2
    first = row.length - (row.step[1] if row.step else 0.0)
    sheet.box(0, middle - row.od / 2, first, row.od, "cut")
    if row.step:
        sheet.box(first, middle - row.step[0] / 2, row.step[1], row.step[0], "cut")
    sheet.line(-4, middle, row.length + 4, middle, "mark", dashed=True)
    if row.bore:
        for side in (-1, 1):
            y = middle + side * row.bore / 2
            sheet.line(0, y, row.length, y, "fine", dashed=True)
    step = f", {said.fine(row.step[0])} over {said.length(row.step[1])}" if row.step else ""
    words = [
        f"{row.name}: {row.count * row.cars} off" + (f" ({', '.join(row.of)})" if row.of else ""),
        f"outside {_size(row.od, row.od_limits)}{step}",
        f"bore {_size(row.bore, row.bore_limits)}" if row.bore else "no bore",
        f"length {said.length(row.length)}, {row.material or 'material open'}, bar {said.length(row.stock)}",
    ]
    sheet.lines_of(row.length + BESIDE_MM, middle + LINES_MM / 2 - 4, words, 3.2)


def _size(size: float, limits: Limits | None) -> str:
    """A size, with its limits and what they are for."""
    if limits is None:
        return said.fine(size)
    use = next((f", {words}" for fit, words in USES.items() if limits.name == SHAFTS[fit][0]), "")
    return f"{said.fine(size)} {limits.name}: {said.limit(limits.least)} to {said.limit(limits.most)}{use}"
