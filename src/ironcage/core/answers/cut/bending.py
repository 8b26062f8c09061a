"""Bend cards: for each bent piece which end to start from, where each bend is marked, how far the machine turns, how
far the tube is turned between bends, and how long it is cut.

A rotary draw bender holds the tube before the bend and draws it round the die, so that all that is bent already swings
with the die. The end to start from is one from which it clears the bender's frame, walls and floor, where their room is
typed of the die; of two such ends the one from which least of it reaches below the plane of bending, then the one from
which it swings less far.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from ironcage.core.answers.cut.pieces import Piece, answer
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.tubes.centreline import Route, from_card
from ironcage.core.job.values.model import Die, Job
from ironcage.units import said

SAME_SIZE_MM = 0.05
BELOW_MM = 1.0  # a tube that reaches no further below the plane of bending lies on the machine
HOW = (
    "Marks are on the straight tube, from its end, to where each bend begins at the die. The machine's angle is the "
    "bend and what springs back (‘die … springback 4%’); a tube stretches in bending, which is not in the marks: bend "
    "the first one in scrap. Each end is cut longer where it is shorter than the die's grip."
)


@dataclass(frozen=True)
class BendStep:
    """One bend in the order in which they are made. mark: from the end started at to where it begins, mm; angle: how
    far it turns in the end; machine: how far to turn the machine; rotate: how far to turn the tube since the bend
    before, clockwise looking from the end started at; rad; straight: to the next bend, or to the end, mm."""

    mark: float
    angle: float
    machine: float
    rotate: float
    straight: float


@dataclass(frozen=True)
class BendCard:
    """How a piece is bent. start: the joint at the end to start from; length: to cut the tube to, mm, with `head` more
    at that end and `tail` at the other; die: None where the shelf has none; swing: how far what is bent already
    reaches from the die, and below: how far below the plane of bending, at worst, mm; line: the centreline of the bar,
    from `start`; problems: what the machine can't do, with `blocked`: what is in the way of the tube; other: what is in
    its way from the other end."""

    piece: str
    start: str
    length: float
    head: float
    tail: float
    radius: float
    die: Die | None
    steps: tuple[BendStep, ...]
    swing: float
    below: float
    line: Route
    problems: tuple[str, ...] = ()
    blocked: tuple[str, ...] = ()
    other: tuple[str, ...] = ()


@remembered("joints", "tubes", "shelf", "fittings", "cutting")
def bend_cards(job: Job) -> tuple[BendCard, ...]:
    """The card of every piece with bends, in the order of the cut list; of folded ones there is none."""
    return tuple(_card(job, piece) for piece in answer(job).pieces if piece.bends and piece.bends[0].radius)


def _card(job: Job, piece: Piece) -> BendCard:
    size = max(piece.section.shape.size)
    radius = piece.bends[0].radius
    die = next(
        (d for d in job.shelf.dies if abs(d.od - size) < SAME_SIZE_MM and abs(d.radius - radius) < SAME_SIZE_MM), None
    )
    forth = bar_line(piece)
    ways = (_way(piece, piece.first.joint, forth, die), _way(piece, piece.second.joint, _turned(forth), die))
    best, other = sorted(
        ways, key=lambda card: (bool(card.blocked), card.below > BELOW_MM, round(card.below), round(card.swing))
    )
    return replace(best, problems=(*best.problems, *best.blocked), other=other.blocked)


def bar_line(piece: Piece) -> Route:
    """The centreline of a bent piece's bar, from its first end, as `from_card` lays it."""
    arcs = [b.radius * b.angle for b in piece.bends]
    starts = [b.start for b in piece.bends]
    stops = [0.0, *(start + arc for start, arc in zip(starts, arcs, strict=True))]
    straights = [start - stop for start, stop in zip([*starts, piece.bar], stops, strict=True)]
    return from_card(straights, [(b.angle, b.clock) for b in piece.bends], piece.bends[0].radius)


def _turned(route: Route) -> Route:
    """The same tube from its other end, laid as `from_card` does."""
    back = Route(route.points[::-1], route.radius)
    return from_card(list(back.straights), [(b.angle, b.clock) for b in back.bends], route.radius)


def _way(piece: Piece, start: str, line: Route, die: Die | None) -> BendCard:
    """The card of a piece that is bent from one end."""
    bends, straights = line.bends, [float(s) for s in line.straights]
    grip, back = (die.grip, die.springback) if die else (0.0, 0.0)
    head, tail = max(0.0, grip - straights[0]), max(0.0, grip - straights[-1])
    steps = tuple(
        BendStep(head + b.start, b.angle, b.angle / (1 - back), b.clock, straight)
        for b, straight in zip(bends, straights[1:], strict=True)
    )
    swing, below = _reach(line, head)
    return BendCard(
        piece.id,
        start,
        piece.bar + head + tail,
        head,
        tail,
        line.radius,
        die,
        steps,
        swing,
        below,
        line,
        tuple(_problems(piece, line, die)),
        tuple(_blocked(swing, below, die)),
    )


def _reach(line: Route, head: float) -> tuple[float, float]:
    """How far what is bent already reaches from the die's middle, and how far below the plane of bending, at worst."""
    swing = below = 0.0
    lead = line.points[0] - head * line.bends[0].into  # the straight that is held, before the first bend
    for n, bend in enumerate(line.bends):
        begins, into = line.at(bend.start)
        middle = begins + line.radius * np.cross(bend.axis, into)
        done = line.line[line.distances <= bend.start] if n else line.points[:1]
        from_die = np.vstack([lead, done, begins]) - middle
        up = from_die @ bend.axis
        swing = max(swing, float(np.linalg.norm(from_die - up[:, None] * bend.axis, axis=1).max()))
        below = max(below, float(-up.min()))
    return swing, below


def _problems(piece: Piece, line: Route, die: Die | None) -> Iterator[str]:
    if die is None:
        yield f"no die of {said.size(line.radius)} radius for {piece.section.name} is on the shelf"
        return
    between = [float(s) for s in line.straights[1:-1]]
    for n, straight in enumerate(between, 1):
        if straight < die.grip - SAME_SIZE_MM:
            yield f"{said.length(straight)} between bends {n} and {n + 1}, and the die needs {said.size(die.grip)}"


def _blocked(swing: float, below: float, die: Die | None) -> Iterator[str]:
    """What is in the way of a tube while it is bent."""
    there = "the plane of bending, and there is room for"
    if die and die.room is not None and swing > die.room:
        yield f"what is bent swings {said.whole(swing)} from the die, and there is room for {said.whole(die.room)}"
    if die and die.under is not None and below > max(die.under, BELOW_MM):
        yield f"it reaches {said.whole(below)} below {there} {said.whole(die.under)}"


def words(card: BendCard) -> Iterator[str]:
    """A card as it is read at the bender, line by line."""
    yield (
        f"Cut to {said.length(card.length)}"
        + (f", {said.length(card.head)} more at {card.start} to hold it by" if card.head else "")
        + (f", {said.length(card.tail)} more at the other end" if card.tail else "")
        + f". Start from {card.start}."
    )
    for n, step in enumerate(card.steps, 1):
        turn = math.degrees(step.rotate) % 360
        rotate = f"turn the tube {turn:.1f}° clockwise, " if n > 1 and min(turn, 360 - turn) > 0.05 else ""
        spring = (
            f" (machine to {math.degrees(step.machine):.1f}°)" if step.machine - step.angle > math.radians(0.05) else ""
        )
        yield f"{n}: {rotate}mark {said.length(step.mark)}, bend {math.degrees(step.angle):.1f}°{spring}"
    under = f", {said.whole(card.below)} of it below the plane of bending" if card.below > BELOW_MM else ""
    yield f"What is bent swings {said.whole(card.swing)} from the die{under}."
    if card.other and not card.blocked:
        yield f"From the other end {' and '.join(card.other)}."
    yield from (f"{p[0].upper()}{p[1:]}." for p in card.problems)
