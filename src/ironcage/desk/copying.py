"""What is chosen on the table as text for other programs: a row a thing, in the builder's units."""

from collections.abc import Sequence

from ironcage.core.job.edits import place_of
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.widgets.rows import as_csv


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
