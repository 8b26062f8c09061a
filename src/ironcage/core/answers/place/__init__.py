"""Place: where everything is and how the car stands (`placing`), who fits (`people`), `clashes`, chains and shafts
(`drives`), bolt `patterns`, the timber `mockup`, the `spacing` of rails."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.place.checks import CHECKS, WEIGHED
    from ironcage.core.answers.place.clashes import find_clashes, measured
    from ironcage.core.answers.place.people import people_seated, ways_out
    from ironcage.core.answers.place.spacing import Need, Spacing, rail_spacing
else:
    __getattr__ = exports(
        __name__,
        checks="CHECKS WEIGHED",
        clashes="find_clashes measured",
        people="people_seated ways_out",
        spacing="Need Spacing rail_spacing",
    )

__all__ = [
    "CHECKS",
    "WEIGHED",
    "Need",
    "Spacing",
    "find_clashes",
    "measured",
    "people_seated",
    "rail_spacing",
    "ways_out",
]
