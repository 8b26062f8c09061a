"""What is marked on a piece before it is fitted: where other tubes land along it, where it is drilled and slotted and
where fittings go, from its first end."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ironcage.core.answers.cut.ends import EndCut
from ironcage.core.answers.cut.pieces import Piece
from ironcage.core.answers.shared.fitted.pieces import SLOT_PLAY_MM
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.geometry.flanges import slots
from ironcage.core.job.geometry.routes import end_axes, route_of
from ironcage.core.job.geometry.tabs import clocked, tab_stand
from ironcage.core.job.values.fittings import (
    AnyFitting,
    CrushTube,
    Doubler,
    FishPlate,
    FlattenedEnd,
    Insert,
    SlipJoint,
    Tab,
    TubeHoles,
)
from ironcage.core.job.values.model import Job, Tube
from ironcage.problem import Problem
from ironcage.units import said

OF_PIECE = "/"  # between a piece and the number of one of its lengths


@dataclass(frozen=True)
class Mark:
    """Where the axis of a tube meets that of a piece. at: along the piece from the square end of its bar at its first
    end, mm; clock: which way the tube goes off, from the first end's mark or, where it has none, from the first tube
    that is marked, clockwise looking from the first end to the second, rad; None on a bent piece."""

    joint: str
    tube: str
    at: float
    clock: float | None


@dataclass(frozen=True)
class Spot:
    """Where a piece is drilled, or where a fitting goes on it. what: in words; at: along the piece from the square end
    of its bar at its first end, of each of a row, mm; clock: which way it faces, from `zero`, clockwise looking from
    the first end to the second, rad; None on a bent piece and of what goes all round or right through."""

    fitting: str
    what: str
    at: tuple[float, ...]
    clock: float | None
    zero: str


@dataclass(frozen=True)
class Mouth:
    """A slot in an end. middle: where it is round the outline, half: half of its width, mm; foot: where it ends, from
    the joint along the tube, mm."""

    middle: float
    half: float
    foot: float


def marks(job: Job, piece: Piece) -> tuple[Mark, ...]:
    """Every tube that lands on a piece between its ends, in order from the first."""
    axes = end_axes(job)
    found: list[tuple[str, str, float, float]] = []
    for before, after in pairwise(laid(job, piece)):
        for other in job.tubes_at[after.start]:
            if other.id not in piece.tubes:
                turned = _round(piece, _away(other, after.start, axes))
                found.append((after.start, other.id, before.at + before.length, turned))
    if not found:
        return ()
    zero = found[0][3] if piece.first.kind == "square" else piece.first.profile.mark
    bent = bool(piece.bends)
    return tuple(
        Mark(at_joint, name, at, None if bent else (turned - zero) % (2 * math.pi))
        for at_joint, name, at, turned in found
    )


def spots(job: Job, piece: Piece) -> tuple[Spot, ...]:
    """Every hole and every fitting along a piece, in order from its first end; tabs whose hole has come to be inside
    their tube are left out, and the frame's checks tell of them."""
    lies = {one.tube.id: one for one in laid(job, piece)}
    found = []
    for fitting in job.fittings:
        if (one := lies.get(getattr(fitting, "tube", ""))) and (placed := _placed(job, fitting)):
            what, along, faces = placed
            turned = None if faces is None or piece.bends else _round(piece, faces)
            found.append((fitting.id, what, tuple(sorted(one.along(at) for at in along)), turned))
    found.sort(key=lambda f: f[2])
    zero, of = _zero(job, piece, [(name, turned) for name, _, _, turned in found if turned is not None])
    return tuple(
        Spot(name, what, at, None if turned is None else (turned - zero) % (2 * math.pi), of)
        for name, what, at, turned in found
    )


def end_tube(piece: Piece, end: EndCut) -> str:
    """The tube of a piece that an end is of."""
    return piece.tubes[-1] if end is piece.second else piece.tubes[0]


def mouths(job: Job, piece: Piece, end: EndCut) -> tuple[Mouth, ...]:
    """The slots of an end: none, or two."""
    slot = slots(job).get((end_tube(piece, end), end.joint))
    if slot is None:
        return ()
    axes = piece.last_axes if end is piece.second else piece.axes
    tube = job.tube_by_id[slot.tube]
    along = route_of(job, tube).at(0.0 if tube.a == end.joint else route_of(job, tube).length)[1]
    towards = clocked(along, job.joint_by_id[end.joint].y, slot.clock)
    angle = math.atan2(float(towards @ axes[2]), float(towards @ axes[1]))
    half, foot, contour = (slot.thickness + SLOT_PLAY_MM) / 2, end.profile.bar + slot.depth, end.shape.contour
    return tuple(Mouth(contour.towards(angle + turn), half, foot) for turn in (0.0, math.pi))


def inserts(job: Job, piece: Piece) -> list[tuple[float, float]]:
    """Where a piece is cut in two for inserts, along it from the square end of its bar at its first end, and how far
    each cut stands open for the weld, mm; in order."""
    own = [f for f in job.fittings if isinstance(f, Insert) and f.tube in piece.tubes]
    of = {one.tube.id: one for one in laid(job, piece)} if own else {}
    found = sorted((of[f.tube].along(f.at), f.gap) for f in own)
    return [(at, gap) for at, gap in found if gap < 2 * at and at + gap / 2 < piece.bar]


@dataclass(frozen=True)
class Length:
    """What is cut off a bar: a piece, or one of the lengths that inserts join to it. name: of the piece or, of several
    lengths, with the number of each; start, length: along the piece from the square end of its bar, mm."""

    name: str
    start: float
    length: float


def lengths(job: Job, piece: Piece) -> tuple[Length, ...]:
    """The lengths that a piece is made of, from its first end."""
    cuts = inserts(job, piece)
    if not cuts:
        return (Length(piece.id, 0.0, piece.bar),)
    starts = [0.0, *(at + gap / 2 for at, gap in cuts)]
    stops = [*(at - gap / 2 for at, gap in cuts), piece.bar]
    return tuple(
        Length(f"{piece.id}{OF_PIECE}{n}", start, stop - start)
        for n, (start, stop) in enumerate(zip(starts, stops, strict=True), 1)
    )


@dataclass(frozen=True)
class Laid:
    """One of a piece's tubes as it lies in it. start: the joint that comes first; at: where that is along the piece,
    mm; length: of its route, mm."""

    tube: Tube
    start: str
    at: float
    length: float

    def along(self, at: float) -> float:
        """How far along the piece a distance from the tube's own first joint is, mm."""
        return self.at + (at if self.tube.a == self.start else self.length - at)


def laid(job: Job, piece: Piece) -> list[Laid]:
    """The tubes of a piece as they lie in it."""
    made: list[Laid] = []
    joint, along = piece.first.joint, -piece.first.profile.bar
    for name in piece.tubes:
        tube = job.tube_by_id[name]
        made.append(Laid(tube, joint, along, route_of(job, tube).length))
        joint, along = tube.b if tube.a == joint else tube.a, along + made[-1].length
    return made


def _placed(job: Job, f: AnyFitting) -> tuple[str, tuple[float, ...], Floats | None] | None:
    """What is done to a tube for a fitting, how far along the tube, mm, and which way it faces there (3,), None all
    round; None of what is not on a tube between its ends."""
    if isinstance(f, TubeHoles | CrushTube):
        middle, way = route_of(job, job.tube_by_id[f.tube]).at(f.at)
        return _drilled(f), row(f), clocked(way, float(middle[1]), f.clock)
    if isinstance(f, FlattenedEnd):
        route, tube = route_of(job, job.tube_by_id[f.tube]), job.tube_by_id[f.tube]
        at = 0.0 if tube.a == f.joint else route.length
        faces = clocked(route.at(at)[1], job.joint_by_id[f.joint].y, f.clock)
        return f"{said.size(f.hole)} hole of the flat end", (at,), faces
    if isinstance(f, Tab):
        try:
            stand = tab_stand(job, f)
        except Problem:
            return None
        return "a tab's middle" if f.tabs == 1 else f"the middle of {f.tabs} tabs", (stand.at,), stand.off
    if isinstance(f, Insert):
        what = f"cut in two, an insert {said.size(f.depth)} into each"
        what += f", {said.size(f.gap)} open for the weld" if f.gap else ""
        what += f", {said.size(f.hole)} hole to look through" if f.hole else ""
        plugs = f"{f.rosettes} {said.size(f.rosette)} holes a side for plug welds"
        return what + (f", {plugs}" if f.rosettes else ""), (f.at,), None
    if isinstance(f, SlipJoint):
        return f"a slip joint, its tube {said.size(f.engaged)} in", (f.at,), None
    if isinstance(f, Doubler | FishPlate):
        return f"the middle of a {f.kind} {said.size(f.length)} long", (f.at,), None
    return None


def _drilled(f: TubeHoles | CrushTube) -> str:
    """Holes in words."""
    holes = "holes" if f.count > 1 else "hole"
    if isinstance(f, TubeHoles):
        return f"{said.size(f.diameter)} {holes} {'through' if f.walls == 2 else 'in one wall'}"
    tubes = "crush tubes" if f.count > 1 else "a crush tube"
    return f"{f.shape} {holes} of {said.size(f.od)} right through for {tubes}"


def row(f: TubeHoles | CrushTube) -> tuple[float, ...]:
    """How far along its tube each of a row is, mm."""
    return tuple(f.at + n * f.pitch for n in range(f.count))


def _zero(job: Job, piece: Piece, faced: list[tuple[str, float]]) -> tuple[float, str]:
    """Where the clock of a piece starts, rad from its y towards its z, and what is there: the mark of its first end;
    or, where that is square, the first tube that lands on it; or the first of what faces a way, which is given."""
    if piece.first.kind != "square":
        return piece.first.profile.mark, "its mark"
    if landed := marks(job, piece):
        away = _away(job.tube_by_id[landed[0].tube], landed[0].joint, end_axes(job))
        return _round(piece, away), landed[0].tube
    return (faced[0][1], faced[0][0]) if faced else (0.0, "")


def _away(tube: Tube, joint: str, axes: dict[tuple[str, str], Floats]) -> Floats:
    return axes[tube.id, joint][0] * (1.0 if tube.a == joint else -1.0)


def _round(piece: Piece, away: Floats) -> float:
    """Which way a tube goes off a piece, from the piece's y towards its z, rad."""
    return float(np.arctan2(piece.axes[2] @ away, piece.axes[1] @ away))
