"""Cut: every piece to be cut, its lengths, and what is done to both of its ends (`pieces`); which are cut
already (`progress`); the `bars` that they are cut from; their walls as `solids`."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.cut.checks import CHECKS
    from ironcage.core.answers.cut.pieces import Piece, answer
    from ironcage.core.answers.cut.progress import cut_share
    from ironcage.core.answers.cut.solids import piece_shell, tube_of_chord
else:
    __getattr__ = exports(
        __name__,
        checks="CHECKS",
        pieces="Piece answer",
        progress="cut_share",
        solids="piece_shell tube_of_chord",
    )

__all__ = ["CHECKS", "Piece", "answer", "cut_share", "piece_shell", "tube_of_chord"]
