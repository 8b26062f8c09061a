"""Cut: every piece to be cut, its lengths, and what is done to both of its ends (`pieces`); which are cut
already (`progress`); the `bars` that they are cut from; their walls as `surfaces`."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.cut.checks import CHECKS
    from ironcage.core.answers.cut.pieces import Piece, answer
    from ironcage.core.answers.cut.progress import cut_share
    from ironcage.core.answers.cut.solids import tube_of_chord
    from ironcage.core.answers.cut.surfaces import piece_shell
else:
    __getattr__ = exports(
        __name__,
        checks="CHECKS",
        pieces="Piece answer",
        progress="cut_share",
        solids="tube_of_chord",
        surfaces="piece_shell",
    )

__all__ = ["CHECKS", "Piece", "answer", "cut_share", "piece_shell", "tube_of_chord"]
