"""How far the cutting is: which pieces are cut, whether what was measured can be used, and where else it would fit.

A piece is measured over its longest points. A hole saw leaves other points than a cut along the paper, so the nearer of
the two lengths counts; a tube laser cuts as the paper tells.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from ironcage.core.answers.cut.pieces import Piece, answer
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.snag import Snag, named
from ironcage.core.job import edits
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.cutting import Cutting, PieceMade, PieceState
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units import said

DONE: tuple[PieceState, ...] = ("cut", "checked")
MOST_TOLD = 3  # other pieces that one would still make
TURNED = math.radians(0.5)  # a tube that meets a cut end at an angle further off no longer fits it
CHANGED_MM = 0.5  # a tube that is longer or shorter by more than when its piece was cut is another one


@dataclass(frozen=True)
class PieceProgress:
    """How far a piece is. off: how much longer than it should be it measures, mm, None where it was not measured;
    words: whether it can be used so, or what to do; elsewhere: pieces still to be cut that it would make; changed: how
    much longer its tube is than when it was cut, mm, 0 where that is too little to matter; turned: what else is not as
    it was then at its ends, in words."""

    piece: str
    state: PieceState = "open"
    when: date | None = None
    length: float = 0.0
    off: float | None = None
    why: str = ""
    words: str = ""
    elsewhere: tuple[str, ...] = ()
    changed: float = 0.0
    usable: bool = True
    turned: str = ""

    @property
    def done(self) -> bool:
        """Whether it need not be cut any more."""
        return self.state in DONE

    @property
    def wrong(self) -> bool:
        """Whether it is cut but can't go where it belongs as that is now."""
        return self.done and (bool(self.changed or self.turned) or not self.usable)


@remembered("joints", "tubes", "shelf", "fittings", "cutting")
def progress(job: Job) -> Mapping[str, PieceProgress]:
    """Every piece's progress, by the piece."""
    pieces = answer(job).pieces
    owner = {tube: p.id for p in pieces for tube in p.tubes}
    made: dict[str, PieceMade | None] = dict.fromkeys(owner.values())
    for record in job.cutting.pieces:
        if record.tube in owner:
            made[owner[record.tube]] = record if record.state != "open" else None
    waiting = [p for p in pieces if (of := made[p.id]) is None or of.state == "rejected"]
    return {p.id: _of(job, p, of, waiting) if (of := made[p.id]) else PieceProgress(p.id) for p in pieces}


def cut_share(job: Job) -> float | None:
    """The share of pieces that are cut; None before the first one is, and where pieces can't be worked out."""
    if not job.cutting.pieces:
        return None
    try:
        pieces = progress(job).values()
    except Problem:  # a tube without length: Frame says so
        return None
    return sum(p.done for p in pieces) / len(pieces) if pieces else None


def _of(job: Job, piece: Piece, made: PieceMade, waiting: Sequence[Piece]) -> PieceProgress:
    off = None
    if made.length:
        tips = (piece.template_tip,) if piece.laser else (piece.template_tip, piece.saddle_tip)
        off = min((made.length - tip for tip in tips), key=abs)
    grown = route_of(job, job.tube(made.tube)).length - made.span
    usable, words = _verdict(off, job.cutting)
    elsewhere: tuple[str, ...] = ()
    if made.state == "rejected" or not usable:
        elsewhere = tuple(_elsewhere(piece, made.length, waiting))
    if made.state == "rejected" and not made.length:
        words = "measure it to see what else it would make"
    return PieceProgress(
        piece.id,
        made.state,
        made.when,
        made.length,
        off,
        made.why,
        words,
        elsewhere,
        grown if abs(grown) > CHANGED_MM else 0.0,
        usable,
        _turned(job, made),
    )


def _turned(job: Job, made: PieceMade) -> str:
    """What at a piece's ends is not as it was when it was cut: its section, the tubes it meets, their angles."""
    tube = job.tube(made.tube)
    if made.section and made.section != tube.section:
        return f"its tube was {made.section} and is {tube.section} now"
    if not made.meets:
        return ""
    then, now = dict(made.meets), dict(edits.met_by(job, tube))
    if others := sorted(set(then) ^ set(now)):
        gone = [name for name in others if name in then]
        return f"it no longer meets {named(gone)}" if gone else f"it meets {named(others)} now"
    off = {name: abs(now[name] - angle) for name, angle in then.items()}
    worst = max(off, key=lambda name: off[name], default="")
    if not worst or off[worst] < TURNED:
        return ""
    return f"{worst} meets it at {math.degrees(now[worst]):.1f}°, and it was {math.degrees(then[worst]):.1f}°"


def _verdict(off: float | None, allowed: Cutting) -> tuple[bool, str]:
    """Whether a piece that is so much longer (mm) than it should be can be used, and what to do."""
    if off is None:
        return True, ""
    if abs(off) <= allowed.within:
        return True, f"fits, {said.fine(abs(off))} {'long' if off >= 0 else 'short'}"
    if off > 0:
        return True, f"{said.fine(off)} too long: take that off an end again"
    if -off <= allowed.within + allowed.gap:
        return True, f"{said.fine(-off)} short: can be used, with {said.fine(-off / 2)} more gap at each end"
    return False, f"{said.fine(-off)} too short for its place"


def _elsewhere(piece: Piece, length: float, waiting: Sequence[Piece]) -> Iterator[str]:
    """Pieces to be cut that what is straight between both cuts of this one would make, the longest first."""
    if not length or piece.bends:
        return
    left = length - sum(end.profile.shoulder - end.profile.template_tip for end in (piece.first, piece.second))
    fits = [
        p
        for p in waiting
        if p.id != piece.id
        and not p.bends
        and (p.stock.name, p.material) == (piece.stock.name, piece.material)
        and p.bar <= left
    ]
    yield from (p.id for p in sorted(fits, key=lambda p: -p.bar)[:MOST_TOLD])


def made_wrong(job: Job) -> Iterator[Snag]:
    """Pieces that were cut before their tube was changed, and such as are too short."""
    if not job.cutting.pieces:
        return
    try:
        found = progress(job)
    except Problem:
        return
    for p in found.values():
        if p.done and p.changed:
            yield Snag(
                "wrong",
                "cut before it changed",
                "cut",
                f"{p.piece} is cut, and its tube is {said.length(abs(p.changed))} "
                f"{'longer' if p.changed > 0 else 'shorter'} now than it was then.",
                (p.piece,),
                f"Undo what moved its joints, or cut it again. Type: piece {p.piece} open",
            )
        elif p.done and p.turned:
            yield Snag(
                "wrong",
                "cut before it changed",
                "cut",
                f"{p.piece} is cut, and since then {p.turned}.",
                (p.piece,),
                f"Undo that, or cut its ends again. Type: piece {p.piece} open",
            )
        elif p.done and not p.usable:
            also = f" It would make {', '.join(p.elsewhere)}." if p.elsewhere else ""
            yield Snag(
                "wrong",
                "too short",
                "cut",
                f"{p.piece} is {p.words}.{also}",
                (p.piece,),
                f"Put it back on the list of what to cut. Type: piece {p.piece} rejected: too short",
            )
