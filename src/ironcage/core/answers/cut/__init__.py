"""Cut: every piece to be cut, its lengths, and what is done to both of its ends (`pieces`)."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.cut.checks import CHECKS
    from ironcage.core.answers.cut.pieces import Piece, answer
else:
    __getattr__ = exports(
        __name__,
        checks="CHECKS",
        pieces="Piece answer",
    )

__all__ = ["CHECKS", "Piece", "answer"]
