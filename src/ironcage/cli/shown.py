"""Text for a terminal: neutral data as lines and tables, and names in a job, which may hold anything."""

import re
from typing import Any

from ironcage.units import Units

Said = dict[str, Any]
TABLE_WIDTH = 160  # characters; rows that hold rows and do not fit are written one under the other
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
    return plain_text("\n".join(_lines(said))) + "\n"


def _lines(said: Said) -> list[str]:
    lines: list[str] = []
    for key, value in said.items():
        head = key.replace("_", " ")
        if isinstance(value, list) and value and isinstance(value[0], dict):
            table = _table(value)
            fits = max(map(len, table)) <= TABLE_WIDTH or not any(_has_inner_rows(row) for row in value)
            lines += ["", head, *table] if fits else _cards(head, value)
        elif isinstance(value, list) and value and isinstance(value[0], str):
            lines += ["", head, *(f"  {v}" for v in value)]
        elif _is_branch(value):
            known = _known(value)
            lines += ["", head, *_indented(_lines(known))] if known else [f"{head}: none"]
        else:
            lines.append(f"{head}: {'none' if _is_empty(value) else _cell(value)}".rstrip())
    return lines


def _known(said: Said) -> Said:
    return {key: value for key, value in said.items() if value is not None and not _is_empty(value)}


def _is_empty(value: Any) -> bool:
    return isinstance(value, list | str) and not value


def _has_inner_rows(row: Said) -> bool:
    return any(
        _is_branch(value) or (isinstance(value, list) and value and isinstance(value[0], dict))
        for value in row.values()
    )


def _is_branch(value: Any) -> bool:
    """Whether a value holds more, and is not the cut of a tube's end, which fits a line."""
    return isinstance(value, dict) and "cut" not in value


def _cards(head: str, rows: list[Said]) -> list[str]:
    """Each row's known values as lines of its own, under its name, or else under the first thing it tells."""
    lines: list[str] = []
    for row in rows:
        known = _known(row)
        called = _cell(known.get("name", next(iter(known.values()), None)))
        lines += ["", f"{head}: {called}", *_indented(_lines(known))]
    return lines


def _indented(lines: list[str]) -> list[str]:
    return [f"  {line}".rstrip() for line in lines]


def _table(rows: list[Said]) -> list[str]:
    columns = list(dict.fromkeys(key for row in rows for key in row))  # rows may tell different things
    cells = [[k.replace("_", " ") for k in columns], *([_cell(row.get(k)) for k in columns] for row in rows)]
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
