"""Prove: twist and bending (`stiffness`), load `cases`, `strength`, vibration and buckling, what each tube is worth,
braces, the lightest tubes, and what was `measured`.

Start with `stiffness`, which holds the one factorisation that the others share.
"""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.prove.checks import CHECKS, PROVABLE
    from ironcage.core.answers.prove.holes import twist_costs
    from ironcage.core.answers.prove.linkloads import LINKS_ASSUMED, LinkLoad, link_loads
    from ironcage.core.answers.prove.measured import logged_if_changed
    from ironcage.core.answers.prove.stiffness import ASSUMPTIONS, Station, answer, twist
    from ironcage.core.answers.prove.strength import MEMBER_CHECKS, StrengthFigures
else:
    __getattr__ = exports(
        __name__,
        checks="CHECKS PROVABLE",
        holes="twist_costs",
        linkloads="LINKS_ASSUMED LinkLoad link_loads",
        measured="logged_if_changed",
        stiffness="ASSUMPTIONS Station answer twist",
        strength="MEMBER_CHECKS StrengthFigures",
    )

__all__ = [
    "ASSUMPTIONS",
    "CHECKS",
    "LINKS_ASSUMED",
    "MEMBER_CHECKS",
    "PROVABLE",
    "LinkLoad",
    "Station",
    "StrengthFigures",
    "answer",
    "link_loads",
    "logged_if_changed",
    "twist",
    "twist_costs",
]
