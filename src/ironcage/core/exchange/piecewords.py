"""What is said of a piece in words: on the screen, on its bench card and on paper."""

import math
from collections.abc import Sequence
from itertools import groupby

from ironcage.core.answers.cut.ends import EndCut
from ironcage.core.answers.cut.laser import laser_notes
from ironcage.core.answers.cut.markout import lengths, marks, spots
from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.answers.cut.progress import PieceProgress
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.values.model import Job
from ironcage.units import Units

LEAST_OFFSET_MM = 0.05
MOST_MARKS = 12  # on a card
VENT = (
    "Both ends close it: drill a small vent before the last weld, through the wall of what it lands on under its end "
    "or in its own underside, or hot air blows through the weld."
)


def piece_title(job: Job, piece: Piece) -> str:
    """A piece's number, what it is called and what it is cut from."""
    return f"{piece.id}, {name_of(job, piece.id)}   {piece.section.name}"


def piece_lines(
    job: Job, piece: Piece, bend_lines: Sequence[str], far: PieceProgress | None, units: Units
) -> tuple[str, ...]:
    """All that is said of a piece on its card, line by line; bend_lines: of its bend card, where it has one."""
    return (
        lengths_told(job, piece, units),
        f"bar, cut square · saddle tip {units.length(piece.saddle_tip)} · template tip "
        f"{units.length(piece.template_tip)} · shoulder {units.length(piece.shoulder)}",
        *(
            " ".join(filter(None, (f"{end_words(piece, e, units)}.", tool_words(piece, e), sawn(piece, e, units))))
            for e in (piece.first, piece.second)
        ),
        "" if piece.clock is None else f"second mark {math.degrees(piece.clock):.1f}° clockwise",
        *(bend_lines or tuple(f"bend at {b}" for b in bend_words(piece, units))),
        mark_words(job, piece, units),
        spot_words(job, piece, units),
        " · ".join(filter(None, (_order(piece), units.mass(piece.mass)))),
        VENT if piece.sealed else "",
        progress_words(far, units),
        *map(
            units.say,
            (
                *piece.notes,
                *laser_notes(job, piece),
                *(note for e in (piece.first, piece.second) for note in piece.notes_of(e)),
                *piece.problems,
            ),
        ),
    )


def lengths_told(job: Job, piece: Piece, units: Units) -> str:
    """The lengths that inserts join to a piece; nothing of a piece that is cut as one."""
    made = lengths(job, piece)
    told = ", ".join(f"{of.name} {units.length(of.length)}" for of in made)
    return f"Cut {len(made)} lengths, from {piece.first.joint}: {told}." if len(made) > 1 else ""


def end_words(piece: Piece, end: EndCut, units: Units) -> str:
    """What is cut at a joint."""
    return f"{end.joint}: {units.say(piece.words(end))}"


def tool_words(piece: Piece, end: EndCut) -> str:
    """With which tool an end is cut; nothing of an end that is sawn off square."""
    how = piece.how(end)
    return f"{how[0].upper()}{how[1:]}." if how and (piece.laser or end.kind != "square") else ""


def sawn(piece: Piece, end: EndCut, units: Units) -> str:
    """Where the hole saw goes in; nothing where none does."""
    if end.hole_saw is None or piece.laser:
        return ""
    aside = f", {units.length(end.offset)} off the tube's middle" if end.offset > LEAST_OFFSET_MM else ""
    side = "past" if end.centre < 0 else "in from"
    return f"Saw's middle {units.length(abs(end.centre))} {side} the bar's end{aside}."


def bend_words(piece: Piece, units: Units) -> list[str]:
    """A piece's bends in shop words; a fold by the middle and the width of its notch."""
    made = []
    for b in piece.bends:
        clock = f" clocked {math.degrees(b.clock):.1f}°" if abs(b.clock) > 1e-3 else ""
        how = (
            f"radius {units.length(b.radius, unit=False)}" if b.radius else f"notch {units.length(b.mouth, unit=False)}"
        )
        made.append(f"{units.length(b.start, unit=False)}: {math.degrees(b.angle):.1f}° {how}{clock}")
    return made


def mark_words(job: Job, piece: Piece, units: Units) -> str:
    """Where other tubes land along a piece."""
    found = marks(job, piece)
    if not found:
        return ""
    told = []
    for at, here in groupby(found[:MOST_MARKS], lambda m: m.at):
        names = [m.tube + ("" if m.clock is None else f" {math.degrees(m.clock):.0f}°") for m in here]
        told.append(f"at {units.length(at)} {', '.join(names)}")
    more = f", and {len(found) - MOST_MARKS} more" if len(found) > MOST_MARKS else ""
    zero = "its mark" if piece.first.kind != "square" else "the first of them"
    clock = "" if found[0].clock is None else f", clockwise from {zero}"
    return f"From the square end of the bar at {piece.first.joint}{clock}: {'; '.join(told)}{more}."


def spot_words(job: Job, piece: Piece, units: Units) -> str:
    """Where a piece is drilled and where fittings go on it, and from where that is measured."""
    told = spots_told(job, piece, units)
    return f"Drilled and fitted, from the square end at {piece.first.joint}: {told}." if told else ""


def spots_told(job: Job, piece: Piece, units: Units) -> str:
    """Where a piece is drilled and where fittings go on it, from the square end of its bar at its first end."""
    told = []
    found = spots(job, piece)
    for spot in found[:MOST_MARKS]:
        at = [units.length(a, unit=False) for a in spot.at[:MOST_MARKS]]
        at += ["…"] if len(spot.at) > MOST_MARKS else []
        turned = 0 if spot.clock is None else round(math.degrees(spot.clock)) % 360
        faces = f", {turned}° clockwise from {spot.zero}" if turned else f", in line with {spot.zero}"
        faces = "" if spot.clock is None or spot.zero == spot.fitting else faces
        told.append(f"{spot.fitting} at {' '.join(at)}: {units.say(spot.what)}{faces}")
    more = f"; and {len(found) - MOST_MARKS} more" if len(found) > MOST_MARKS else ""
    return "; ".join(told) + more


def progress_words(far: PieceProgress | None, units: Units) -> str:
    """What was measured of a piece, and whether it can be used."""
    if far is None or far.state == "open":
        return ""
    measured = f", {units.length(far.length)} long" if far.length else ""
    told = [f"{far.piece} is {far.state}{measured}" + (f" ({far.why})" if far.why else "")]
    told += [units.say(far.words)] if far.words else []
    told += [f"it would make {', '.join(far.elsewhere)}"] if far.elsewhere else []
    if far.changed:
        told.append(f"its tube has changed by {units.length(abs(far.changed))} since")
    if far.turned:
        told.append(f"since then {far.turned}")
    return "; ".join(told) + "."


def _order(piece: Piece) -> str:
    """What a piece goes in after: what its ends are cut to."""
    landed = [e for e in (piece.first, piece.second) if e.kind in ("cope", "flat")]
    after = dict.fromkeys(t for e in landed for t in (e.onto, *e.trims))
    return f"goes in after {', '.join(after)}" if after else ""
