"""What each step says, as neutral data for scripts and as text for a terminal. mm, kg, N·m/deg, degrees."""

import math
from collections.abc import Callable
from typing import Any

from ironcage.cli.built import said_bends, say_frame
from ironcage.cli.planned import say_brief, say_place
from ironcage.cli.proved import say_prove
from ironcage.cli.shown import plain_text
from ironcage.core.answers import cut, jig
from ironcage.core.job.values.model import Job

Said = dict[str, Any]


def _end(e: cut.EndCut) -> Said:
    return {
        "joint": e.joint, "cut": e.words, "kind": e.kind, "onto": e.onto, "angle_deg": round(math.degrees(e.angle), 2),
        "saw_from_square_deg": round(math.degrees(e.saw_angle), 2), "hole_saw_mm": e.hole_saw,
        "paper_from_square_end_mm": round(e.profile.template_tip - e.profile.bar, 2), "shoulder_from_square_end_mm": round(e.profile.shoulder - e.profile.bar, 2),
        "notes": [*e.notes, *([e.problem] if e.problem else [])],
    }  # fmt: skip


def _cut(job: Job) -> Said:
    a = cut.answer(job)
    return {
        "length_by_section_mm": {name: round(length, 1) for name, length in a.by_section.items()},
        "pieces": [
            {"piece": p.id, "tubes": list(p.tubes), "section": p.section.name, "material": p.material, "role": p.role,
             "bar_mm": round(p.bar, 2), "saddle_tip_mm": round(p.saddle_tip, 2), "template_tip_mm": round(p.template_tip, 2), "shoulder_mm": round(p.shoulder, 2), "centre_mm": round(p.centre, 2),
             "mass_kg": round(p.mass, 3), "clocking_deg": None if p.clock is None else round(math.degrees(p.clock), 2), "first": _end(p.first), "second": _end(p.second), "buy": p.stock.name, "bends": said_bends(p), "notes": list(p.notes)}
            for p in a.pieces
        ],
    }  # fmt: skip


def _jig(job: Job) -> Said:
    a = jig.answer(job)
    return {
        "table_top_z_mm": job.table.top_z, "best_top_z_mm": None if a.best_top_z is None else round(a.best_top_z, 2),
        "stands": [{"joint": s.joint, "x_mm": round(s.x, 2), "y_mm": round(s.y, 2), "saddle_mm": round(s.saddle, 2), "tube": s.tube,
                    "slope_deg": round(math.degrees(s.slope), 2), "on_table": s.on_table} for s in a.stands],
        "diagonals": [{"from": d.first, "to": d.second, "space_mm": round(d.space, 2), "plan_mm": round(d.plan, 2),
                       "must_equal": "–".join(d.equals) if d.equals else ""} for d in a.diagonals],
    }  # fmt: skip


ANSWERS: dict[str, Callable[[Job], Said]] = {
    "brief": say_brief,
    "place": say_place,
    "frame": say_frame,
    "prove": say_prove,
    "cut": _cut,
    "jig": _jig,
}


CARDS = ("people", "chains", "shafts")  # lists whose rows are too rich for a table


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
