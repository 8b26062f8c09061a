"""Frame: what it is made of (`materials`), its `bays`, unlike sides (`symmetry`), `stations` across it, and `sections`
compared."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.frame.bays import Bay, each_in_way, find_bays
    from ironcage.core.answers.frame.checks import CHECKS
    from ironcage.core.answers.frame.joined import JOINED
    from ironcage.core.answers.frame.pivots import find_pivots
else:
    __getattr__ = exports(
        __name__,
        bays="Bay each_in_way find_bays",
        checks="CHECKS",
        joined="JOINED",
        pivots="find_pivots",
    )

__all__ = ["CHECKS", "JOINED", "Bay", "each_in_way", "find_bays", "find_pivots"]
