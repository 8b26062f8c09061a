"""Bench cards of pieces: what `piecewords` says of each."""

from collections.abc import Mapping, Sequence

from ironcage.core.answers.cut.bending import bend_cards, words
from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.answers.cut.progress import PieceProgress
from ironcage.core.exchange.piecewords import piece_lines, piece_title
from ironcage.core.job.values.model import Job
from ironcage.desk.pages.page import Card
from ironcage.units import Units


def cards(job: Job, pieces: Sequence[Piece], far: Mapping[str, PieceProgress], units: Units) -> list[Card]:
    """A bench card for each piece."""
    bent = {c.piece: tuple(map(units.say, words(c))) for c in bend_cards(job)}
    return [
        Card(piece_title(job, p), units.length(p.bar), piece_lines(job, p, bent.get(p.id, ()), far.get(p.id), units))
        for p in pieces
    ]
