"""Text for a terminal: neutral data as lines and tables, and names in a job, which may hold anything."""

import re
from typing import Any

from ironcage.units import Units

Said = dict[str, Any]
CARDS = ("people", "chains", "shafts")  # lists whose rows are too rich for a table

_CONTROL = re.compile(r"[\x00-\x08\x0b-\x1f\x7f-\x9f]")


def plain_text(text: str) -> str:
    """A text with its control characters written out; lines and tabs stay."""
    return _CONTROL.sub(lambda found: f"\\x{ord(found[0]):02x}", text)


def in_units(said: Any, units: Units) -> Any:
    """The same data with the quantities inside its sentences written in somebody's units."""
    if isinstance(said, dict):
        return {key: in_units(value, units) for key, value in said.items()}
    if isinstance(said, list | tuple):
        return [in_units(value, units) for value in said]
    return units.say(said) if isinstance(said, str) else said


def rounded(value: float | None, places: int = 2) -> float | None:
    """A number to so many places, or none where it is not known."""
    return None if value is None else round(value, places)


def as_text(said: Said) -> str:
    """The same data as lines and tables for a terminal."""
    lines: list[str] = []
    for key, value in said.items():
        head = key.replace("_", " ")
        if key in CARDS and isinstance(value, list):
            for card in value:
                lines += ["", f"{head}: {card['name']}", *(f"  {line}".rstrip() for line in as_text(card).splitlines())]
        elif isinstance(value, list) and value and isinstance(value[0], dict):
            lines += ["", head, *_table(value)]
        elif isinstance(value, list) and value and isinstance(value[0], str):
            lines += ["", head, *(f"  {v}" for v in value)]
        elif isinstance(value, dict):
            lines += ["", head, *(f"  {k}: {v}" for k, v in value.items())]
        else:
            lines.append(f"{head}: {_cell(value)}")
    return plain_text("\n".join(lines)) + "\n"


def _table(rows: list[Said]) -> list[str]:
    cells = [[k.replace("_", " ") for k in rows[0]], *([_cell(v) for v in row.values()] for row in rows)]
    widths = [max(len(row[n]) for row in cells) for n in range(len(cells[0]))]
    return ["  " + "  ".join(c.ljust(w) for c, w in zip(row, widths, strict=True)).rstrip() for row in cells]


def _cell(value: Any) -> str:
    if isinstance(value, dict) and "cut" in value:
        return " · ".join([f"{value['joint']}: {value['cut']}", *value["notes"]])
    if isinstance(value, dict):
        return ", ".join(f"{k} {_cell(v)}" for k, v in value.items())
    if isinstance(value, list):
        return " ".join(_cell(v) for v in value)
    return "" if value is None else " ".join(str(value).split("\n"))
