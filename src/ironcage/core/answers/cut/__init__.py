"""Cut: every piece to be cut, its lengths, and what is done to both of its ends (`pieces`)."""

from ironcage.core.answers.cut.checks import CHECKS
from ironcage.core.answers.cut.pieces import Piece, answer

__all__ = ["CHECKS", "Piece", "answer"]
