"""Plates at 1:1: with the holes of a bolt pattern, of a fitting, and all of them laid out on the sheets to buy."""

from collections import Counter

import numpy as np

from ironcage.core.answers.cut.sheets import Plate, SheetPlates, find_sheets, flat_of, plate_part
from ironcage.core.answers.shared import fittings, patterns
from ironcage.core.answers.shared.fitted.shop import Fitted
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.exchange.drawing import Sheet, SheetCircle
from ironcage.core.job.edits import find_fitting, find_pattern
from ironcage.core.job.values.cutting import FlatPart
from ironcage.core.job.values.fittings import AnyFitting
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import said

SHEETS_APART = 60.0  # on the drawing


def plate(job: Job, name: str) -> Sheet:
    """The plate of a pattern, of an adapter that has the holes of two, a flat part or a part of the kind plate: holes,
    outline, what was taped and how it fits."""
    adapter = next((a for a in job.adapters if name.strip().lower() in (a.id.lower(), a.name.lower())), None)
    if adapter:
        return _adapter_plate(job, adapter.id)
    part = next((t for t in job.cutting.flats if name.strip().lower() == t.name.lower()), None)
    if part:
        return _flat_plate(job, part)
    placed = next((p for p in job.parts if name.strip().lower() in (p.id.lower(), p.name.lower())), None)
    if placed and placed.kind == "plate" and placed.shape.kind == "outline":
        flat = plate_part(placed, placed.shape)
        words = [f"{placed.name}: {said.size(placed.shape.thickness)}", *(f"hole {h.name}" for h in placed.holes)]
        return _holed(job, placed.name, flat.outline, list(flat.holes), [h.name for h in placed.holes], words)
    wanted = find_pattern(job, name)
    made = next(p for p in patterns.flat_patterns(job) if p.id == wanted.id)
    readings = zip(made.fitted.readings, made.fitted.residuals, strict=True)
    words = [
        f"{made.name}: {len(made.fitted.holes)} holes of {said.size(made.diameter)}",
        *(f"{a}-{b}: fits to {'+' if off >= 0 else '−'}{said.fine(abs(off))}" for (a, b, _), off in readings),
        *made.fitted.doubts,
    ]
    holes = [(float(x), float(y), made.diameter) for x, y in made.fitted.places]
    return _holed(job, made.name, patterns.plate_outline(holes), holes, list(map(str, made.fitted.holes)), words)


def _flat_plate(job: Job, part: FlatPart) -> Sheet:
    flat = flat_of(part)
    called = [f"nut {h.nut}" if h.nut else "" for h in part.holes]
    nuts = Counter(h.nut for h in part.holes if h.nut)
    each = part.count * (2 if part.handed else 1)
    words = [
        f"{part.name}: {said.size(part.thickness)} {part.material}".rstrip(),
        f"{part.count} as drawn, {part.count} mirrored" if part.handed else f"{part.count} off",
        *(f"weld nuts {nut}: {count * each}" for nut, count in nuts.items()),
    ]
    if flat.handed and not part.handed:
        words.append("Its mirror image is another part: check which hand is wanted.")
    return _holed(job, part.name, flat.outline, list(flat.holes), called, words)


def _adapter_plate(job: Job, name: str) -> Sheet:
    made = next(a for a in patterns.adapters(job) if a.id == name)
    words = [
        f"{made.name}: {said.size(made.thickness)} {made.material}".rstrip(),
        f"{said.fine(made.web)} of metal between {made.nearest[0]} and {made.nearest[1]}",
    ]
    return _holed(job, made.name, made.flat.outline, list(made.flat.holes), list(made.holes), words)


def _holed(
    job: Job,
    name: str,
    outline: Floats,
    holes: list[tuple[float, float, float]],
    called: list[str],
    words: list[str],
) -> Sheet:
    """A plate with its holes and their names, and words below it."""
    deep = 30 + 6 * (len(words) + 1)
    size = np.ptp(outline, axis=0) + 40
    sheet = Sheet(f"{name}, plate", max(float(size[0]), 160.0), float(size[1]) + deep, units_of(job))
    shift = np.array([20.0, deep + 20.0]) - outline.min(axis=0)
    sheet.path(np.vstack([outline, outline[:1]]) + shift, "cut")
    for hole, (x, y, diameter) in zip(called, holes, strict=True):
        at = shift + [x, y]
        sheet.items.append(SheetCircle(float(at[0]), float(at[1]), diameter / 2, "cut"))
        sheet.cross(float(at[0]), float(at[1]), diameter / 2 + 3)
        sheet.words(float(at[0]) + diameter / 2 + 2, float(at[1]) + 2, hole, 4)
    sheet.lines_of(10, deep - 14, [f"{job.brief.name}, {words[0]}", *words[1:]], 4)
    sheet.scale_bar(10, 8)
    return sheet


def fitting_plate(job: Job, name: str) -> Sheet:
    """A fitting's plate, 1:1, with its holes, and beside it those of the fitting that are cut otherwise. Refuses a
    fitting that is no plate."""
    wanted = find_fitting(job, name)
    made = next(f for f in fittings.fitting_facts(job) if f.id == wanted.id)
    if made.flat is None:
        raise Problem(
            f"{made.id} is a {made.kind}: {made.words}, and no plate.",
            where=made.id,
            hint="Its line in the cut list says what to cut.",
        )
    flats = (made.flat, *made.unlike)
    sizes = [np.ptp(flat.outline, axis=0) + 40 for flat in flats]
    deep = 54.0
    width, height = sum(float(s[0]) for s in sizes), max(float(s[1]) for s in sizes)
    sheet = Sheet(f"{made.id}, {made.kind}", max(width, 160.0), height + deep, units_of(job))
    right = 0.0
    for flat, size in zip(flats, sizes, strict=True):
        shift = np.array([right, deep]) - flat.outline.min(axis=0) + 20
        sheet.path(np.vstack([flat.outline, flat.outline[:1]]) + shift, "cut")
        for opening in flat.openings:
            sheet.path(np.vstack([opening, opening[:1]]) + shift, "cut")
        for bend in flat.bends:
            sheet.path(bend + shift, "bend", dashed=True)
        for x, y, diameter in flat.holes:
            sheet.items.append(SheetCircle(float(x + shift[0]), float(y + shift[1]), diameter / 2, "cut"))
            sheet.cross(float(x + shift[0]), float(y + shift[1]), diameter / 2 + 3)
        right += float(size[0])
    sheet.lines_of(
        10,
        deep - 14,
        [
            f"{job.brief.name}, {made.id} {made.kind}: {made.words}",
            f"{made.count} off, {said.size(made.thickness)} {made.material}",
            *_hand(wanted, made),
        ],
        4,
    )
    sheet.scale_bar(10, 8)
    return sheet


def _hand(wanted: AnyFitting, made: Fitted) -> list[str]:
    """Which hand a plate is of, where its mirror image is another plate."""
    if made.flat is None or not made.flat.handed or not wanted.twin:
        return []
    return [f"{made.id} as drawn; {wanted.twin} is its mirror image: not the same plate turned over by mistake."]


def nested(job: Job, of: SheetPlates) -> Sheet:
    """The sheets of one material and thickness side by side, each with its plates where they are cut from it."""
    width, height = job.buying.sheet
    count = len(of.layout.sheets) if of.layout else 0
    title = f"{job.brief.name}, sheet {said.sizes(of.thickness)}, {of.material}"
    drawing = Sheet(title, max(count, 1) * (width + SHEETS_APART) + 20, height + 90, units_of(job))
    drawing.words(10, height + 60, f"{title}: {count} of {said.sizes(width)} x {said.sizes(height)}", 24)
    for n, placed in enumerate(of.layout.sheets if of.layout else ()):
        corner = np.array([10 + n * (width + SHEETS_APART), 10.0])
        drawing.box(float(corner[0]), float(corner[1]), width, height)
        for p in placed:
            _lay(drawing, of.plates[p.plate], corner + [p.x, p.y], turned=p.turned)
    return drawing


def plates_drawing(job: Job) -> Sheet:
    """All sheets of all materials and thicknesses, a row for each. Refuses a job that has no plates."""
    groups = [of for of in find_sheets(job) if of.layout]
    if not groups:
        raise Problem(
            "There are no plates to lay out.", where="plates", hint="Frame's Fittings are where plates come from."
        )
    rows = [nested(job, of) for of in groups]
    drawing = Sheet(f"{job.brief.name}, plates", max(r.width for r in rows), sum(r.height for r in rows), units_of(job))
    y = 0.0
    for row in reversed(rows):
        drawing.items += [item.moved(0.0, y) for item in row.items]
        y += row.height
    return drawing


def _lay(drawing: Sheet, plate: Plate, at: np.ndarray, *, turned: bool) -> None:
    """One plate where it is cut, with its name."""
    turn = np.array([[0.0, -1.0], [1.0, 0.0]]) if turned else np.eye(2)
    shift = at + ([plate.size[1], 0.0] if turned else [0.0, 0.0])
    outline = plate.outline @ turn.T + shift
    drawing.path(np.vstack([outline, outline[:1]]), "cut")
    for opening in plate.openings:
        rim = opening @ turn.T + shift
        drawing.path(np.vstack([rim, rim[:1]]), "cut")
    for bend in plate.bends:
        drawing.path(bend @ turn.T + shift, "bend", dashed=True)
    for x, y, diameter in plate.holes:
        hx, hy = turn @ [x, y] + shift
        drawing.items.append(SheetCircle(float(hx), float(hy), diameter / 2, "cut"))
    middle = outline.mean(axis=0)
    drawing.words(float(middle[0]), float(middle[1]), plate.name, min(12.0, min(plate.size) / 4), "middle")
