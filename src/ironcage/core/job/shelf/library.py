"""Sections and materials that people really buy, and reading a section from what a builder types."""

import re
from functools import cache
from pathlib import Path

from ironcage.core.calc.sections import Angle, Rect, Round
from ironcage.core.job.values.model import Job, Section, Shelf
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import Units, typed

FIRST_SECTION = "38 x 2 round"  # of the first tube of a job


@cache
def library() -> Shelf:
    """The stock library shipped with the program (`library.json`)."""
    return Shelf.model_validate_json(Path(__file__).with_name("library.json").read_bytes())


_KIND = re.compile(r"\b(round|tube|pipe|square|rect\w*|angle)\b", re.IGNORECASE)


def read_section(text: str, units: Units) -> Section:
    """A section by its library name, or typed: `38.1 x 2`, `1-1/2" x 12 ga`, `3/4 sch 40`, `40x20x2`, `25x25x3 angle`.

    Two sizes are a round tube, three a rectangular one unless it says angle. Raises Problem with the
    nearest library name.
    """
    known = {s.name.lower(): s for s in library().sections}
    plain = " ".join(text.lower().split())
    if plain in known:
        return known[plain]
    name = " ".join(text.split())
    if (sizes := typed.pipe(_KIND.sub("", text))) is not None:
        return Section(name=name, shape=Round(*sizes), series="pipe")
    is_angle = "angle" in plain
    parts = [p for p in re.split(r"(?<=[\s\d\"a])[x×](?=[\s\d.])", _KIND.sub("", text).replace("*", "x")) if p.strip()]
    if len(parts) not in (2, 3) or (is_angle and len(parts) != 3):
        raise Problem(
            f"‘{text}’ is not a section.",
            where=text,
            hint=nearest(plain, known) or "Write for example 38.1 x 2, 40 x 20 x 2 or 3/4 sch 40.",
        )
    sizes_mm = [units.read_length(p) for p in parts]
    if len(sizes_mm) == 2:
        return Section(name=name, shape=Round(sizes_mm[0], sizes_mm[1]))
    first, second, wall = sizes_mm
    if is_angle:
        return Section(name=name, shape=Angle(second, first, wall))
    half = min(first, second) / 2
    corner = 0.0 if wall >= half else min(1.5 * wall, half)  # a solid bar has sharp corners, a tube is drawn round them
    return Section(name=name, shape=Rect(second, first, wall, corner))


def section_called(job: Job, text: str) -> Section:
    """A section by its name on the shelf or in the library, or by its sizes."""
    plain = " ".join(text.lower().split())
    held = next((s for s in job.shelf.sections if s.name.lower() == plain), None)
    return held or read_section(text, units_of(job))
