"""Everything that can be done to a job: pure functions from a job to a job.

Each refuses bad input with a Problem and leaves the job it was given alone. `joints` and `tubes` keep left
and right in step; `parts` covers pickups, wheels, masses, the brief, the shelf and the jig table; `placed` what has a shape: parts, people,
chains, shafts; `plans` aims, rules, tyres and variants.
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
from ironcage.core.job.edits.placed import (
    add_chain,
    add_hole,
    add_part,
    add_person,
    add_shaft,
    align,
    drop,
    find_part,
    find_placed,
    move_things,
    place_of,
    put_by_points,
    put_placed,
    put_things,
    remove_placed,
    seat_for,
)
from ironcage.core.job.edits.plans import (
    add_rule,
    keep_variant,
    open_variant,
    put_rule,
    put_target,
    remove_rule,
    remove_target,
    remove_variant,
    set_tyre,
)
from ironcage.core.job.edits.tubes import add_tube, change_tubes, split

__all__ = [
    "add_chain", "add_datum", "add_hole", "add_joint", "add_mass", "add_part", "add_person", "add_pickup", "add_rule", "add_shaft",
    "add_tube", "add_wheel", "align", "change_part", "change_tubes", "delete", "drop", "find_part", "find_placed", "keep_variant", "merge",
    "move", "move_things", "open_variant", "pair", "part", "place_of", "put", "put_by_points", "put_material", "put_placed", "put_rule",
    "put_section", "put_target", "put_things", "remove_datum", "remove_parts", "remove_placed", "remove_rule", "remove_target",
    "remove_variant", "seat_for", "set_brief", "set_table", "set_through", "set_tyre", "split", "toggle_stands",
]  # fmt: skip
