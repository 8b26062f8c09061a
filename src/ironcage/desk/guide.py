"""The pages of the docs folder as the help shows them: one a step, and the parts of them that speak of something."""

import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from ironcage.core.job.text.examples import in_units
from ironcage.units import Units

DOCS = Path(__file__).parents[3] / "docs"
OTHERS = (
    ("Getting started", "getting-started"),
    ("A frame in a quarter of an hour", "tutorial-frame"),
    ("A frame from a sheet", "tutorial-sheet"),
    ("A whole job", "tutorial-whole-job"),
    ("Methods and limits", "methods"),
    ("Words used here", "glossary"),
)

IN_MILLIMETRES = "*This frame is laid in millimetres: start a new job and type* `units mm kg` *first.*"
FINE_MM = 2.0  # lengths below are told in thousandths of an inch
_CODE = re.compile(r"(```.*?```|`[^`\n]*`)", re.DOTALL)
_MEASURE = re.compile(r"(?<![\w.,])(\d[\d,]*(?:\.\d+)?) (mm|kg|kN)\b")
_SAID = {
    "mm": lambda units, mm: units.fine(mm) if mm < FINE_MM else units.length(mm).split(" ±")[0],
    "kg": Units.mass,
    "kN": lambda units, kn: units.round_force(kn * 1000),
}


@dataclass(frozen=True)
class Guide:
    """A page of the docs: what it is called in the list, and its file."""

    name: str
    path: Path


def step_guide(name: str) -> Guide:
    """The page of a step, by the step's name."""
    return Guide(name, DOCS / "steps" / f"{name.lower()}.md")


def other_guides() -> list[Guide]:
    """The pages that belong to no step."""
    return [Guide(name, DOCS / f"{file}.md") for name, file in OTHERS]


def page_text(path: Path, units: Units) -> str:
    """A page as Markdown, in a builder's units: examples in round figures, lengths, masses and forces as they are. A
    tutorial keeps its millimetres, which its frame is laid in, and says so."""
    text = path.read_text("utf-8")
    if not units.inches:
        return text
    if path.stem.startswith("tutorial"):
        title, _, rest = text.partition("\n")
        return f"{title}\n\n{IN_MILLIMETRES}\n{rest}"
    parts = _CODE.split(text)  # prose and code by turns
    return "".join(
        _measures(units, part) if n % 2 == 0 else part if part.startswith("```") else f"`{in_units(units, part[1:-1])}`"
        for n, part in enumerate(parts)
    )


def _measures(units: Units, prose: str) -> str:
    return _MEASURE.sub(lambda found: _SAID[found[2]](units, float(found[1].replace(",", ""))), prose)


def passages(guide: Guide, words: list[str], units: Units) -> list[str]:
    """Paragraphs and points of a page in which all of some words stand, as plain text, in a builder's units."""
    return [text for text in _blocks(guide.path, units) if all(word in text.lower() for word in words)]


@cache
def _blocks(path: Path, units: Units) -> tuple[str, ...]:
    """The paragraphs and points of a file, without its tables, pictures and marks."""
    found = []
    for block in re.split(r"\n\s*\n|\n(?=\s*(?:[-*]|\d+\.) )", page_text(path, units)):
        lines = [line.strip() for line in block.splitlines() if line.strip()]
        if lines and not lines[0].startswith(("#", "|", "!", "```")):
            found.append(_plain(" ".join(lines)))
    return tuple(found)


def _plain(text: str) -> str:
    """Markdown without its marks."""
    text = re.sub(r"!?\[([^\]]*)\]\([^)]*\)", r"\1", text)
    return re.sub(r"^(?:[-*]|\d+\.) |[*`]", "", text)
