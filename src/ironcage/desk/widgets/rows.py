"""Rows of a list as they are sorted by what a column says, and as text for other programs."""

import csv
import io
import re
from collections.abc import Iterable, Sequence

_NUMBER = re.compile(r"^[✓✗?!○\s]*([-+−]?)(?:(\d+)/(\d+)|(\d[\d,]*(?:\.\d+)?|\.\d+)(?:[\s-](\d+)/(\d+))?)")

_PLAIN = re.compile(r"-?[\d.]+")


def worth(text: str) -> tuple[int, float, str]:
    """Where a cell stands when its column is sorted: numbers by size, inch fractions among them, then words, then what
    says nothing."""
    if not text.strip():
        return 2, 0.0, ""
    if m := _NUMBER.match(text):
        sign, over, under, whole, above, below = m.groups()
        size = float(whole.replace(",", "")) if whole else 0.0
        size += int(above) / int(below) if above and int(below) else 0.0
        size += int(over) / int(under) if over and int(under) else 0.0
        return 0, -size if sign in ("-", "−") else size, text.lower()
    letters = re.match(r"^(\D+?)(\d+)(.*)$", text.lower())
    return (
        (1, float(letters[2]), letters[1] + letters[3]) if letters and len(letters[2]) < 12 else (1, 0.0, text.lower())
    )


def as_csv(head: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    """A list as CSV, with nothing in it that a spreadsheet would run as a formula."""
    from ironcage.core.exchange.lists import no_formula

    made = io.StringIO()
    writer = csv.writer(made, lineterminator="\n")
    writer.writerow(head)
    writer.writerows([cell if _PLAIN.fullmatch(cell) else no_formula(cell) for cell in row] for row in rows)
    return made.getvalue()


def cells_of(text: str) -> list[list[str]]:
    """Copied cells, a row a line: as a spreadsheet has them, with tabs between, or else as CSV. Empty lines are passed
    over."""
    lines = text.splitlines()
    rows = csv.reader(lines, delimiter="\t" if any("\t" in line for line in lines) else ",")
    return [row for row in rows if any(cell.strip() for cell in row)]
