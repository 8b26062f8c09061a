"""The pages of the docs folder as the help shows them: one a step, and the parts of them that speak of something."""

import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path

DOCS = Path(__file__).parents[3] / "docs"
OTHERS = (
    ("Getting started", "getting-started"),
    ("A frame in a quarter of an hour", "tutorial-frame"),
    ("A frame from a sheet", "tutorial-sheet"),
    ("A whole job", "tutorial-whole-job"),
    ("Methods and limits", "methods"),
    ("Words used here", "glossary"),
)


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


def passages(guide: Guide, words: list[str]) -> list[str]:
    """Paragraphs and points of a page in which all of some words stand, as plain text."""
    return [text for text in _blocks(guide.path) if all(word in text.lower() for word in words)]


@cache
def _blocks(path: Path) -> tuple[str, ...]:
    """The paragraphs and points of a file, without its tables, pictures and marks."""
    found = []
    for block in re.split(r"\n\s*\n|\n(?=\s*(?:[-*]|\d+\.) )", path.read_text("utf-8")):
        lines = [line.strip() for line in block.splitlines() if line.strip()]
        if lines and not lines[0].startswith(("#", "|", "!", "```")):
            found.append(_plain(" ".join(lines)))
    return tuple(found)


def _plain(text: str) -> str:
    """Markdown without its marks."""
    text = re.sub(r"!?\[([^\]]*)\]\([^)]*\)", r"\1", text)
    return re.sub(r"^(?:[-*]|\d+\.) |[*`]", "", text)
