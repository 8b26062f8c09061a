"""Pieces of a job to a STEP file."""

from __future__ import annotations

from ironcage.core.answers.cut.laser import unfit
from ironcage.core.answers.cut.pieces import answer
from ironcage.core.exchange.step.file import HEAD, File, letters, product
from ironcage.core.exchange.step.solid import Solid
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem


def to_step(job: Job, tubes: str) -> bytes:
    """The pieces of some tubes, by their ids with spaces between; without any, those for the laser or, where there are
    none, all that can be written. Refuses a piece that is folded, tapered or an angle, and a job with none to write."""
    made = answer(job)
    named = tubes.replace(",", " ").split()
    wanted = [made.piece(job.tube(name).id) for name in named]
    for piece in wanted:
        if why := unfit(piece):
            raise Problem(
                f"{piece.id} {why}, and only round or rectangular tube without folds is written.", where=piece.id
            )
    fit = [p for p in made.pieces if not unfit(p)]
    pieces = wanted or [p for p in fit if p.laser] or fit
    if not pieces:
        raise Problem(
            "There is no round or rectangular piece without folds to write.",
            where="step",
            hint="Frame is where tubes come from.",
        )
    file = File()
    solids = [Solid(file, job, piece).made for piece in pieces]
    product(file, job.brief.name, solids)
    lines = "".join(f"#{n}={text};\n" for n, text in enumerate(file.lines, 1))
    return (HEAD.format(name=letters(job.brief.name)) + lines + "ENDSEC;\nEND-ISO-10303-21;\n").encode("ascii")
