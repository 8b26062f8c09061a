"""The command on the sheet of offsets: `sheet`, and how a cell of it is read and written."""

import re
from typing import get_args

from ironcage.core.job import edits
from ironcage.core.job.edits.offsets import EXAMPLE
from ironcage.core.job.geometry.offsets import cell_at, place_of, told, untold
from ironcage.core.job.shelf.library import FIRST_SECTION, section_called
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.offsets import Face, Lean, Level
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import said

OPEN = "open"
_MARKS = re.compile(rf"\b{OPEN}\b", re.IGNORECASE)
_NAMED = re.compile(r"^(?P<name>[^\d.]+?)(?:\s+(?P<rest>[\d.].*))?$")
_CELL_HINT = said.example("Write a width and a height: [260], [150]. ‘open’ after them leaves the cross member out.")


def cell_words(job: Job, s: int, n: int) -> str:
    """A cell as it is typed: width, height, and ‘open’; nothing for an empty one."""
    cell = cell_at(job.offsets, s, n)
    if cell is None:
        return ""
    units, (_, half, z) = units_of(job), place_of(job, s, n)
    width, height = told(job, n, half, z)
    figures = f"{units.length(width, unit=False)}, {units.length(height - job.datum.z, unit=False)}"
    return f"{figures} {OPEN}" if cell.open else figures


def put_words(job: Job, s: int, n: int, text: str) -> Job:
    """A job with a cell as it was typed: a width and a height, from the shown datum; a width alone keeps the height, or
    takes that of the next station that the line passes; nothing, or `none`, empties it."""
    body = _MARKS.sub("", text).strip(" ,")
    if body.lower() in ("", "none"):
        return edits.clear_cell(job, s, n)
    units = units_of(job)
    parts = [p for p in (body.split(",") if "," in body else body.split()) if p.strip()]
    if len(parts) > 2:
        raise Problem(
            f"‘{body}’ is {len(parts)} figures, and a cell takes two.",
            where=job.offsets.lines[n].name,
            hint=f"{_CELL_HINT} A comma parts them where one has a space.",
        )
    width = units.read_length(parts[0])
    if len(parts) == 2:
        half, z = untold(job, n, width, units.read_length(parts[1]) + job.datum.z)
    else:
        half, z = untold(job, n, width, 0.0)[0], _height_near(job, s, n, text)
    return edits.put_cell(job, s, n, half, z, is_open=bool(_MARKS.search(text)))


def _height_near(job: Job, s: int, n: int, text: str) -> float:
    """The height of a cell, or of the nearest one that its line has, the one ahead first."""
    sheet = job.offsets
    known = sorted((abs(k - s), k) for k in range(len(sheet.stations)) if cell_at(sheet, k, n))
    if not known:
        raise Problem(f"‘{text.strip()}’ gives no height.", where=sheet.lines[n].name, hint=_CELL_HINT)
    return place_of(job, known[0][1], n)[2]


def sheet(job: Job, chosen: Chosen, rest: str) -> Done:
    """Fill in the sheet of offsets, and lay the frame that it draws."""
    word, _, more = rest.strip().partition(" ")
    act = _ACTS.get(word.lower())
    if act:
        return act(job, chosen, more.strip())
    if not word:
        raise Problem("Say what to do with the sheet.", where="sheet", hint=_everything())
    row = re.match(r"^(?:at\s+)?(?P<x>[^:]+):(?P<cells>.*)$", rest.strip(), re.IGNORECASE)
    if row:
        return _row(job, chosen, row["x"], row["cells"])
    plain = rest.strip().lower()
    if plain not in edits.STARTS:
        near = nearest(plain, (*edits.STARTS, *_ACTS))
        if re.match(r"^(?:at\s+)?[-+−.\d]", plain):
            raise Problem(f"‘{rest.strip()}’ has no colon after the station.", where=word, hint=f"Write: {ROW_EXAMPLE}")
        raise Problem(f"‘{rest.strip()}’ is not understood of a sheet.", where=word, hint=near or _everything())
    made = edits.start_sheet(job, rest)
    return Done(f"Start a sheet for {plain if plain[-1] == 's' else f'a {plain}'}", made, chosen)


def _everything() -> str:
    return f"Write sheet and one of {', '.join((*edits.STARTS, *_ACTS))}, or a station: {ROW_EXAMPLE}"


def _lay(job: Job, chosen: Chosen, rest: str) -> Done:
    made = edits.lay(job)
    new = tuple(t.id for t in made.tubes if t.id not in job.tube_by_id)
    joints = sum(j.id not in job.joint_by_id for j in made.joints)
    return Done(f"Lay the sheet: {joints} joints, {len(new)} tubes", made, ())


def _from(job: Job, chosen: Chosen, rest: str) -> Done:
    if rest.lower() not in ("frame", "the frame", "this frame"):
        told = f"A sheet is not taken from ‘{rest}’." if rest else "Say what to take the sheet from."
        raise Problem(told, where=rest, hint="Write: sheet from frame")
    made = edits.sheet_of_frame(job)
    return Done(f"Take a sheet of {len(made.offsets.lines)} lines off the frame", made, chosen)


def _gone(job: Job, chosen: Chosen, rest: str) -> Done:
    return Done("Remove the sheet", edits.put_sheet(job, type(job.offsets)()), chosen)


_LINE = re.compile(
    r"^(?P<name>.+?)\s+(?:(?P<gone>gone)|called\s+(?P<called>.+)|(?P<field>crossed|braced)\s+(?P<yes>yes|no))$",
    re.IGNORECASE,
)


_UNSAID = re.compile(r"\s(crossed|braced)(?:\s+(\S+))?$", re.IGNORECASE)


def _line(job: Job, chosen: Chosen, rest: str) -> Done:
    change = _LINE.match(rest)
    if change:
        n = edits.find_sheet_line(job, change["name"])
        name = job.offsets.lines[n].name
        if change["gone"]:
            return Done(f"Take {name} off the sheet", edits.remove_sheet_line(job, n), chosen)
        if change["called"]:
            return Done(
                f"Call {name} {change['called']}", edits.change_sheet_line(job, n, name=change["called"]), chosen
            )
        field, yes = change["field"].lower(), change["yes"].lower() == "yes"
        return Done(
            f"{'Have' if yes else 'Leave'} {name} {'' if yes else 'un'}{field}",
            edits.change_sheet_line(job, n, **{field: yes}),
            chosen,
        )
    if odd := _UNSAID.search(rest):
        raise Problem(
            f"‘{odd[2] or odd[1]}’ is neither yes nor no.", where=rest, hint=f"Write: sheet line sill {odd[1]} no"
        )
    typed = _NAMED.match(rest)
    if typed is None:
        raise Problem("A line needs a name.", where=rest, hint=f"Write for example: {EXAMPLE}")
    name = typed["name"].strip()
    known = [k for k, line in enumerate(job.offsets.lines) if line.name.lower() == name.lower()]
    last = job.offsets.lines[-1].section if job.offsets.lines else job.tubes[-1].section if job.tubes else FIRST_SECTION
    section = section_called(job, typed["rest"] or last)
    if known:
        return Done(f"Make {name} {section.name}", edits.change_sheet_line(job, known[0], section=section), chosen)
    return Done(f"Add line {name}, {section.name}", edits.add_sheet_line(job, name, section), chosen)


def _station(job: Job, chosen: Chosen, rest: str) -> Done:
    units = units_of(job)
    text, goes, to = re.sub(r"\s+", " ", rest).partition(" to ")
    if text.lower().endswith(" gone"):
        s = edits.find_station(job, units.read_length(text[:-5]) + job.datum.x)
        return Done(f"Take station {text[:-5].strip()} off the sheet", edits.remove_station(job, s), chosen)
    x = units.read_length(text) + job.datum.x
    if goes:
        s = edits.find_station(job, x)
        moved = edits.move_station(job, s, units.read_length(to) + job.datum.x)
        return Done(f"Move station {text} to {to}", moved, chosen)
    return Done(f"Add a station at {text}", edits.add_station(job, x), chosen)


def _row(job: Job, chosen: Chosen, x_text: str, cells: str) -> Done:
    """Fill a station from its first line on, `-` for a cell to leave as it is; the station is added if need be."""
    x = units_of(job).read_length(x_text) + job.datum.x
    made = job
    try:
        s = edits.find_station(made, x)
    except Problem:
        made = edits.add_station(made, x)
        s = edits.find_station(made, x)
    texts = cells.split(";")
    names = [line.name for line in job.offsets.lines]
    if len(texts) > len(names):
        raise Problem(
            f"{len(texts)} cells were typed, and the sheet has {len(names)} lines.",
            where=cells,
            hint=f"Add a line first: {EXAMPLE}" if not names else f"Its lines are {', '.join(names)}.",
        )
    for n, text in enumerate(texts):
        if text.strip() not in ("-", "–"):
            made = put_words(made, s, n, text)
    return Done(f"Fill station {x_text.strip()}", made, chosen)


def _widths(job: Job, chosen: Chosen, rest: str) -> Done:
    words = rest.lower()
    face = next((f for f in get_args(Face) if f in words), None)
    both = True if "both" in words else False if "half" in words else None
    if face is None and both is None:
        raise Problem(
            f"‘{rest}’ gives no width." if rest else "Say how widths are measured.",
            where=rest,
            hint="Write half or over both, and inside, centre or outside: sheet widths over both outside",
        )
    made = edits.set_sheet(job, face=face, over_both=both)
    kind = "over both sides" if made.offsets.over_both else "from the centreline"
    where = {"inside": "the inside", "centre": "the centre", "outside": "the outside"}[made.offsets.face]
    return Done(f"Read widths {kind}, to {where} of the tubes", made, chosen)


def _heights(job: Job, chosen: Chosen, rest: str) -> Done:
    level = next((v for v in get_args(Level) if rest.lower() and v.startswith(rest.lower())), None)
    if level is None:
        told = f"‘{rest}’ is no place to take a height." if rest else "Say where heights are measured."
        raise Problem(told, where=rest, hint="Write underside, centre or top.")
    return Done(f"Read heights to the {level} of the tubes", edits.set_sheet(job, level=level), chosen)


def _diagonals(job: Job, chosen: Chosen, rest: str) -> Done:
    ways = get_args(Lean)
    lean = next((w for w in ways if w == rest.lower()), None)
    if lean is None:
        told = f"‘{rest}’ is no way for a diagonal." if rest else "Say which way diagonals run."
        raise Problem(told, where=rest, hint=f"There are {', '.join(ways)}.")
    return Done(
        f"Run diagonals {lean}" if lean != "none" else "Lay no diagonals", edits.set_sheet(job, lean=lean), chosen
    )


def _web(job: Job, chosen: Chosen, rest: str) -> Done:
    section = section_called(job, rest)
    return Done(f"Make uprights and diagonals {section.name}", edits.set_sheet(job, web=section), chosen)


_ACTS = {
    "lay": _lay,
    "from": _from,
    "gone": _gone,
    "line": _line,
    "station": _station,
    "widths": _widths,
    "heights": _heights,
    "diagonals": _diagonals,
    "web": _web,
}
ROW_EXAMPLE = said.example("sheet [0]: [200], [150]; [200], [450]")
COMMANDS = (
    Command(
        "sheet",
        "sheet single seat",
        f"starts a sheet of offsets; ‘{ROW_EXAMPLE}’ fills in a station of it, ‘sheet lay’ lays its frame",
        sheet,
    ),
)
