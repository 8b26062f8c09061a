"""Everything that can be done to a job: pure functions from a job to a job.

Each refuses bad input with a Problem and leaves the job it was given alone. `joints` and `tubes` keep left
and right in step; `parts` covers pickups, wheels, masses, the brief, the shelf and the jig table.
"""

from ironcage.core.job.edits.joints import add_joint, delete, merge, move, pair, part, put, set_through
from ironcage.core.job.edits.parts import (
    add_datum,
    add_mass,
    add_pickup,
    add_wheel,
    change_part,
    put_material,
    put_section,
    remove_datum,
    remove_parts,
    set_brief,
    set_table,
    toggle_stands,
)  # fmt: skip
from ironcage.core.job.edits.tubes import add_tube, change_tubes, split

__all__ = [
    "add_datum", "add_joint", "add_mass", "add_pickup", "add_tube", "add_wheel", "change_part", "change_tubes", "delete",
    "merge", "move", "pair", "part", "put", "put_material", "put_section", "remove_datum", "remove_parts", "set_brief",
    "set_table", "set_through", "split", "toggle_stands",
]  # fmt: skip
