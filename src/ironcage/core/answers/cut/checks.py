"""Snags of Cut: pieces that can't be cut as they are, and notes that matter at the saw."""

from collections.abc import Iterator

from ironcage.core.answers.cut import pieces
from ironcage.core.answers.cut.laser import left_out
from ironcage.core.answers.cut.progress import made_wrong
from ironcage.core.answers.shared.snag import Snag
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem


def cuts(job: Job) -> Iterator[Snag]:
    """Pieces that can't be cut as they are, and notes that matter at the saw."""
    if not job.tubes:
        return
    try:
        pieces_cut = pieces.answer(job).pieces
    except Problem:
        return  # a tube without length: listed by no_length
    for piece in pieces_cut:
        for problem in piece.problems:
            yield Snag("wrong", "can't be cut", "cut", f"{problem[0].upper()}{problem[1:]}", piece.tubes)
        for note in left_out(job, piece):
            yield Snag(
                "look",
                "for the laser",
                "cut",
                f"{note[0].upper()}{note[1:]}.",
                piece.tubes,
                "Cut that by hand after the laser, or the whole piece: choose it and type laser no.",
            )
        for end in (piece.first, piece.second):
            for note in (n for n in end.notes if n.startswith("wider")):
                yield Snag(
                    "look",
                    "hard to cut",
                    "cut",
                    f"{piece.id} at {end.joint} is {note}.",
                    (*piece.tubes, end.joint),
                    "Take a tube no wider than what it lands on, or close the rest with a plate.",
                )


CHECKS = (cuts, made_wrong)
