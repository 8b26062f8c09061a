"""Sheet and fittings: what is welded, riveted or bolted to tubes. One value a kind.

Each kind's docstring is what a builder reads of it, its fields are what is typed:
`add gusset joint J4L, tubes T3L T9L, leg 60, thickness 2`. `at` is the distance along the tube's centreline from its
first joint to the fitting's middle. What each weighs, how it is cut and what it stiffens is in
`answers/shared/fittings`. Lengths mm.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal, get_args

from pydantic import Field

from ironcage.core.job.values.base import Id, Size, Value
from ironcage.units import said
from ironcage.units.quantity import ANGLE

Along = Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)]
Count = Annotated[int, Field(ge=0, le=500)]
Some = Annotated[int, Field(ge=1, le=500)]
Two = Annotated[tuple[Id, Id], Field()]
Joint = Annotated[str, Field(max_length=40)]
Clock = Annotated[float, Field(ge=-2 * math.pi, le=2 * math.pi, allow_inf_nan=False), ANGLE]


class _Fitting(Value):
    id: Id
    twin: Id | None = None


class Panel(_Fitting):
    """sheet between joints, given in order round it; pitch: between rivets, bolts or stitches; fold: how high its
    edges are folded square between the tubes; radius: inside a fold, as thick as the sheet where it is not typed"""

    kind: Literal["panel"] = "panel"
    joints: Annotated[tuple[Id, ...], Field(min_length=3, max_length=12)]
    thickness: Size
    material: Annotated[str, Field(max_length=80)] = ""
    fixing: Literal["welded", "bonded", "riveted", "bolted"] = "welded"
    pitch: Along = 0.0
    fold: Along = 0.0
    radius: Along = 0.0


class Gusset(_Fitting):
    """a plate in the corner between two tubes; leg: along both tubes from the joint; plates: one, or one a side"""

    kind: Literal["gusset"] = "gusset"
    joint: Id
    tubes: Two
    leg: Size
    thickness: Size
    plates: Some = 1


class Haunch(_Fitting):
    """a boxed corner: two plates and a closing strip, which stiffens where no diagonal can go"""

    kind: Literal["haunch"] = "haunch"
    joint: Id
    tubes: Two
    leg: Size
    thickness: Size


class FishPlate(_Fitting):
    """a plate laid along a tube over a joint in it or a kick, which it follows; depth: across the tube; sides: one or
    both faces"""

    kind: Literal["fish plate"] = "fish plate"
    tube: Id
    at: Along
    length: Size
    depth: Size
    thickness: Size
    ends: Literal["tapered", "square"] = "tapered"
    sides: Annotated[int, Field(ge=1, le=2)] = 2


class Doubler(_Fitting):
    """a sleeve over a round tube, or plates round a square one, its inside the tube's outside"""

    kind: Literal["doubler"] = "doubler"
    tube: Id
    at: Along
    length: Size
    wall: Size


class Insert(_Fitting):
    """a piece inside that joins two lengths; depth: into each; gap: between them for the weld; hole: to look through,
    0 none; rosettes: plug welds in each length; od2: its outside in the second length, where that has another bore"""

    kind: Literal["insert"] = "insert"
    tube: Id
    at: Along
    od: Size
    wall: Size
    depth: Size
    gap: Along = 0.0
    hole: Along = 0.0
    rosettes: Count = 0
    rosette: Along = 10.0
    od2: Along = 0.0


class CrushTube(_Fitting):
    """a short tube through a tube, so that a bolt can't squash it; od: over its outside, of a square one over its
    flats; bore: the bolt's hole; count, pitch: how many in a row along the tube, and how far apart; clock: degrees
    round the tube from its top (of an upright one from its outer side) to the bolt"""

    kind: Literal["crush tube"] = "crush tube"
    tube: Id
    at: Along
    od: Size
    bore: Size
    shape: Literal["round", "square"] = "round"
    count: Some = 1
    pitch: Along = 0.0
    clock: Clock = 0.0


class Tab(_Fitting):
    """a bracket on a tube: height off its face, hole at `reach` from it; tabs: drilled in one stack, `gap` between
    them; bolt: across the tube or along it; clock: degrees round the tube from its top (of an upright one from its
    outer side), clockwise seen from its first joint; carries: the joint that the hole is at, from which at, clock and
    reach then follow; axis: the joint that the bolt then points at; brace: a triangle so large on either outer face
    down to the tube, 0 none; laminate: the thickness of a second plate of the same outline on each, 0 none; more: how
    many other holes it has beyond the first, away from the tube, for other ride heights, pitch: from one to the
    next"""

    kind: Literal["tab"] = "tab"
    tube: Id
    at: Along
    width: Size
    height: Size
    thickness: Size
    hole: Size
    reach: Along = 0.0
    tabs: Some = 1
    gap: Along = 0.0
    bolt: Literal["across", "along"] = "across"
    clock: Clock = 0.0
    carries: Joint = ""
    axis: Joint = ""
    brace: Along = 0.0
    laminate: Along = 0.0
    more: Annotated[int, Field(ge=0, le=8)] = 0
    pitch: Along = 0.0

    @property
    def furthest(self) -> float:
        """How far its last hole is beyond the first, mm."""
        return self.more * self.pitch


class SlipJoint(_Fitting):
    """a smaller tube that slides in a larger one and is pinned; engaged: how far it is in; stop: it can't slide
    further; least, most: how far in it is at the ends of its travel, 0 where it has none"""

    kind: Literal["slip joint"] = "slip joint"
    tube: Id
    at: Along
    od: Size
    wall: Size
    engaged: Size
    stop: Literal["yes", "no"] = "yes"
    least: Along = 0.0
    most: Along = 0.0


class Cap(_Fitting):
    """a plate that closes the end of a tube at a joint, as large as the tube; hole: in its middle, 0 none"""

    kind: Literal["cap"] = "cap"
    joint: Id
    tube: Id
    thickness: Size
    hole: Along = 0.0


class Flange(_Fitting):
    """a tube's end that is bolted on and comes off: a plate on the tube and its like on what it meets; width, height:
    of both; bolts: through them, near the corners"""

    kind: Literal["flange"] = "flange"
    joint: Id
    tube: Id
    width: Size
    height: Size
    thickness: Size
    bolts: Annotated[int, Field(ge=2, le=24)] = 4
    hole: Size


class FlattenedEnd(_Fitting):
    """a round tube's end that is pressed flat and bolted through; length: that is flat, from the tip; hole: at the
    joint; past: from the hole's middle to the tip; clock: degrees round the tube from its top (of an upright one from
    its outer side) to the bolt"""

    kind: Literal["flattened end"] = "flattened end"
    joint: Id
    tube: Id
    length: Size
    hole: Size
    past: Size
    clock: Clock = 0.0


class FootPlate(_Fitting):
    """a plate that a tube's end stands on, as a hoop's foot does; lies: level, or square to the tube; bolts: through
    it, near its corners, 0 where it is welded down"""

    kind: Literal["foot plate"] = "foot plate"
    joint: Id
    tube: Id
    width: Size
    height: Size
    thickness: Size
    lies: Literal["level", "square"] = "level"
    bolts: Annotated[int, Field(ge=0, le=24)] = 0
    hole: Along = 0.0


class Slot(_Fitting):
    """a tube's end that is slotted to go over a plate; depth: from the end; thickness: of the plate; clock: degrees
    round the tube from its top (of an upright one from its outer side) to the slot, the other opposite"""

    kind: Literal["slot"] = "slot"
    joint: Id
    tube: Id
    depth: Size
    thickness: Size
    clock: Clock = 0.0


class TubeHoles(_Fitting):
    """holes drilled in a tube; at: the first, then `pitch` apart; clock: degrees round the tube from its top (of an
    upright one from its outer side); walls: 1, or 2 where they go through"""

    kind: Literal["tube holes"] = "tube holes"
    tube: Id
    at: Along
    diameter: Size
    count: Some = 1
    pitch: Along = 0.0
    clock: Clock = 0.0
    walls: Annotated[int, Field(ge=1, le=2)] = 2


class Holes(_Fitting):
    """lightening holes in a panel, gusset, fish plate or tab"""

    kind: Literal["holes"] = "holes"
    host: Id
    count: Some
    diameter: Size


AnyFitting = (
    Panel
    | Gusset
    | Haunch
    | FishPlate
    | Doubler
    | Insert
    | CrushTube
    | Tab
    | SlipJoint
    | Cap
    | Flange
    | FlattenedEnd
    | FootPlate
    | Slot
    | TubeHoles
    | Holes
)
Fitting = Annotated[AnyFitting, Field(discriminator="kind")]
AtEnd = Cap | Flange | FlattenedEnd | FootPlate | Slot  # what is at a tube's end
PLATES = (Panel, Gusset, Haunch, FishPlate, Tab, Cap, FootPlate)  # what is cut from plate, and may have holes
KINDS: dict[str, type[AnyFitting]] = {str(k.model_fields["kind"].default): k for k in get_args(AnyFitting)}
EXAMPLES: dict[str, str] = {
    "panel": said.example("add panel joints J1L J2L J2R J1R, thickness [1.5], fixing riveted, pitch [40]"),
    "gusset": said.example("add gusset joint J4L, tubes T3L T9L, leg [60], thickness [2]"),
    "haunch": said.example("add haunch joint J4L, tubes T3L T9L, leg [90], thickness [2]"),
    "fish plate": said.example("add fish plate tube T3L, at [420], length [220], depth [40], thickness [3]"),
    "doubler": "add doubler tube T3L, at 420, length 120, wall 2",
    "insert": said.example("add insert tube T3L, at [420], od [34], wall [2.5], depth [60], hole [6], rosettes 2"),
    "crush tube": said.example("add crush tube tube T3L, at [420], od [16], bore [10.5]"),
    "tab": said.example(
        "add tab tube T3L, at [420], width [40], height [45], thickness [4], hole [10.5], reach [25], tabs 2, gap [30]"
    ),
    "slip joint": said.example("add slip joint tube T3L, at [420], od [34], wall [2.5], engaged [60]"),
    "cap": said.example("add cap joint J4L, tube T3L, thickness [2]"),
    "flange": said.example("add flange joint J4L, tube T3L, width [60], height [60], thickness [5], hole [8.5]"),
    "flattened end": said.example("add flattened end joint J4L, tube T3L, length [45], hole [10.5], past [16]"),
    "foot plate": said.example("add foot plate joint J4L, tube T3L, width [100], height [100], thickness [4]"),
    "slot": said.example("add slot joint J4L, tube T3L, depth [40], thickness [4]"),
    "tube holes": said.example("add tube holes tube T3L, at [120], diameter [12], count 4, pitch [60]"),
    "holes": said.example("add holes host F1, count 3, diameter [30]"),
}


def hosts_of(fitting: AnyFitting) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The joints and the tubes that a fitting sits on."""
    if isinstance(fitting, Panel):
        return fitting.joints, ()
    if isinstance(fitting, Gusset | Haunch):
        return (fitting.joint,), fitting.tubes
    if isinstance(fitting, Holes):
        return (), ()
    if isinstance(fitting, AtEnd):
        return (fitting.joint,), (fitting.tube,)
    if isinstance(fitting, Tab):
        return tuple(name for name in (fitting.carries, fitting.axis) if name), (fitting.tube,)
    return (), (fitting.tube,)
