"""What is copied and pasted: what is chosen, as figures for other programs and as things for a job; lines of text."""

from collections.abc import Callable, Sequence

from pydantic import ValidationError
from PyQt6.QtCore import QMimeData

from ironcage.core.job import edits
from ironcage.core.job.edits import place_of
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.text import Done
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.widgets.rows import as_csv
from ironcage.problem import Problem

THINGS = "application/x-ironcage-things"


def copied(job: Job, chosen: Sequence[str]) -> QMimeData | None:
    """What is chosen for the clipboard: its figures as text, and joints, tubes and parts as things to be pasted; None
    where nothing is chosen that has figures."""
    text = figures_of(job, chosen)
    if not text:
        return None
    made = QMimeData()
    made.setText(text)
    if clipping := edits.clip(job, chosen):
        made.setData(THINGS, clipping.model_dump_json().encode())
    return made


def pasted(mime: QMimeData | None, chosen: tuple[str, ...]) -> Callable[[Job], Done]:
    """The edit that pastes what is on the clipboard: things at the places they were copied from, or lines of text, each
    as if it were typed. Raises Problem where there is neither."""
    if mime is not None and mime.hasFormat(THINGS):
        try:
            clipping = edits.Clipping.model_validate_json(mime.data(THINGS).data())
        except ValidationError:
            raise Problem("What is on the clipboard is not whole.", hint="Copy it once more.") from None
        return lambda job: _with_things(job, clipping)
    text = mime.text() if mime is not None and mime.hasText() else ""
    if not text.strip():
        raise Problem(
            "There are no lines and no things of a job on the clipboard.", hint="Choose tubes or parts, then Ctrl+C."
        )
    from ironcage.core.job.text.pasted import understand_all

    return lambda job: understand_all(text, job, chosen)


def _with_things(job: Job, clipping: edits.Clipping) -> Done:
    made, new = edits.paste(job, clipping)
    counts = ((len(clipping.tubes), "tube"), (len(clipping.parts), "part"), (len(clipping.joints), "joint"))
    count, what = next((count, what) for count, what in counts if count)
    return Done(f"Paste {count} {what}{'s' * (count != 1)}", made, new)


def figures_of(job: Job, chosen: Sequence[str]) -> str:
    """Joints and placed things with their places from the shown datum, tubes with their ends, section and length, as
    CSV; nothing where nothing is chosen."""
    units, datum = units_of(job), job.datum

    def place(x: float, y: float, z: float) -> list[str]:
        read = (x - datum.x, y - datum.y, z - datum.z)
        return [units.length(v, unit=False) for v in read]

    rows = []
    for name in chosen:
        if name in job.joint_by_id:
            rows.append([name, name_of(job, name), *place(*job.joint_by_id[name].place)])
        elif name in job.placed:
            thing = job.placed[name]
            rows.append([name, thing.name, *place(*place_of(thing))])
        elif name in job.tube_by_id:
            tube = job.tube_by_id[name]
            length = units.length(route_of(job, tube).length, unit=False)
            rows.append([name, name_of(job, name), tube.a, tube.b, tube.section, length])
    unit = units.length_name
    tubes = bool(rows) and all(row[0] in job.tube_by_id for row in rows)
    head = ["tube", "name", "from", "to", "section", f"length, {unit}"] if tubes else ["what", "name"]
    return as_csv(head if tubes else [*head, *(f"{a}, {unit}" for a in "xyz")], rows) if rows else ""
