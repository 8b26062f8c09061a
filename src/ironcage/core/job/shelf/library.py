"""Sections and materials that people really buy, and reading a section from what a builder types."""

import re
from collections.abc import Sequence
from functools import cache
from pathlib import Path

from ironcage.core.calc.sections import TYPED, Round
from ironcage.core.job.values.model import Job, Section, Shelf
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import Units, said, typed

FIRST_SECTION = "38 x 2 round"  # of the first tube of a job


@cache
def library() -> Shelf:
    """The stock library shipped with the program (`library.json`)."""
    return Shelf.model_validate_json(Path(__file__).with_name("library.json").read_bytes())


USUAL = (TYPED["round|tube|pipe"], TYPED[r"square|rect\w*"])  # where no kind is said
_KIND = re.compile(rf"\b({'|'.join(TYPED)})\b", re.IGNORECASE)


def read_section(text: str, units: Units) -> Section:
    """A section by its library name, or typed: `38.1 x 2`, `1-1/2" x 12 ga`, `3/4 sch 40`, `40x20x2`, `25x25x3 angle`.

    Without a word for its kind, two sizes are a round tube and three a rectangular one. Raises Problem with the
    nearest library name.
    """
    known = {s.name.lower(): s for s in library().sections}
    plain = " ".join(text.lower().split())
    if plain in known:
        return known[plain]
    name = " ".join(text.split())
    if (sizes := typed.pipe(_KIND.sub("", text))) is not None:
        return Section(name=name, shape=Round(*sizes), series="pipe")
    asked = next((kind for words, kind in TYPED.items() if re.search(rf"\b({words})\b", plain)), None)
    parts = [p for p in re.split(r"(?<=[\s\d\"a])[x×](?=[\s\d.])", _KIND.sub("", text).replace("*", "x")) if p.strip()]
    usual = next((kind for kind in USUAL if kind[1] == len(parts)), None)
    shape, count = asked or usual or USUAL[0]
    if len(parts) != count:
        raise Problem(
            f"‘{text}’ is not a section.",
            where=text,
            hint=nearest(plain, known)
            or said.example("Write for example [38.1] x [2], [40] x [20] x [2] or 3/4 sch 40."),
        )
    reader = Units("inch") if not units.inches and _speaks_inches(parts) else units
    return Section(name=name, shape=shape.of([reader.read_length(p) for p in parts]))


def _speaks_inches(parts: Sequence[str]) -> bool:
    """Whether sizes without a unit are inches whatever the job counts in: a wall under 1 beside a fraction or an inch
    mark, `1 1/2 x .095`, for nobody draws tube of a tenth of a millimetre."""
    bare = [p for p in parts if re.fullmatch(r"\s*0?\.\d+\s*", p)]
    return bool(bare) and any(re.search(r"\d/\d|[\"″”]", p) for p in parts)


def section_called(job: Job, text: str) -> Section:
    """A section by its name on the shelf or in the library, or by its sizes."""
    plain = " ".join(text.lower().split())
    held = next((s for s in job.shelf.sections if s.name.lower() == plain), None)
    return held or read_section(text, units_of(job))
