"""Run: how the wheels move on their links (`corner`, `liveaxle`, `beam`, `swing`, `fork`) or are set for a chain
(`carrier`), what is told of them (`figures`) and kept within bounds (`bands`), what moving a point does (`effects`,
`tuning`), what they sweep on the way (`sweep`), what their springs, links and shafts do (`springs`, `leaves`, `links`,
`shafts`), what their links give to the frame (`reactions`), how a corner is taken from a donor (`captured`) and an arm
made (`armframe`), and what is found in it (`checks`)."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.run.armframe import frame_material
    from ironcage.core.answers.run.axial import AxialLink, axial_links
    from ironcage.core.answers.run.checks import CHECKS
    from ironcage.core.answers.run.links import RodEndInserts, rod_end_inserts
    from ironcage.core.answers.run.reactions import axle_reactions, held_axle, link_reactions, on_one
    from ironcage.core.answers.run.springs import roll_stiffnesses
    from ironcage.core.answers.run.sweep import keep_out, swept_bodies
else:
    __getattr__ = exports(
        __name__,
        armframe="frame_material",
        axial="AxialLink axial_links",
        checks="CHECKS",
        links="RodEndInserts rod_end_inserts",
        reactions="axle_reactions held_axle link_reactions on_one",
        springs="roll_stiffnesses",
        sweep="keep_out swept_bodies",
    )

__all__ = [
    "CHECKS",
    "AxialLink",
    "RodEndInserts",
    "axial_links",
    "axle_reactions",
    "frame_material",
    "held_axle",
    "keep_out",
    "link_reactions",
    "on_one",
    "rod_end_inserts",
    "roll_stiffnesses",
    "swept_bodies",
]
