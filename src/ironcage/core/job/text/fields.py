"""What can be typed of a part, a person, a chain or a shaft: each field declared once, with how it is read and how it
is shown.

`set FIELD VALUE` and the card of what is chosen are both made from these.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, fields, replace
from typing import Any, get_args

from ironcage.core.calc.car.mannequin import Limbs
from ironcage.core.job.edits.placed import Placed, find_part, with_stature
from ironcage.core.job.text.axes import named_by_axis
from ironcage.core.job.text.pipes import PIPE_EXAMPLE, pipe_text, read_pipe
from ironcage.core.job.values.fittings import KINDS
from ironcage.core.job.values.model import Job, Role
from ironcage.core.job.values.placed import (
    Box,
    Chain,
    Cylinder,
    Outline,
    Part,
    PartKind,
    Person,
    Picture,
    Plane,
    Shaft,
    Shape,
)
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import Units, said, typed
from ironcage.units.shown import angle as angle_text


@dataclass(frozen=True)
class Field:
    """A field of a placed thing. says: what it is called on the card; show: as text that can be typed again; read:
    the thing changed."""

    says: str
    show: Callable[[Job, Any], str]
    read: Callable[[Job, Any, str], Any]


def _get(thing: Any, path: str) -> Any:
    for name in path.split("."):
        thing = getattr(thing, name)
    return thing


def _put(thing: Any, path: str, value: Any) -> Any:
    """The thing with the field at a dotted path changed; frozen dataclasses and values alike."""
    name, _, rest = path.partition(".")
    new = _put(getattr(thing, name), rest, value) if rest else value
    return thing.but(**{name: new}) if hasattr(thing, "but") else replace(thing, **{name: new})


def _field(says: str, path: str, show: Callable[[Units, Any], str], read: Callable[[Units, str], Any]) -> Field:
    return Field(
        says,
        lambda job, t: show(units_of(job), _get(t, path)),
        lambda job, t, text: _put(t, path, read(units_of(job), text)),
    )


def _plain(value: float) -> str:
    return f"{value:.4f}".rstrip("0").rstrip(".")


def _length(says: str, path: str) -> Field:
    return _field(says, path, lambda u, v: u.length(v, unit=False), lambda u, t: u.read_length(t))


def _angle(says: str, path: str) -> Field:
    return _field(says, path, lambda u, v: angle_text(v, 2), lambda u, t: typed.angle(t.removesuffix("°")))


def _mass(says: str, path: str) -> Field:
    return _field(says, path, lambda u, v: u.mass(v), lambda u, t: u.read_mass(t))


def _text(says: str, path: str) -> Field:
    return _field(says, path, lambda u, v: v, lambda u, t: t.strip())


def _whole(says: str, path: str) -> Field:
    return _field(says, path, lambda u, v: str(v), lambda u, t: int(_number(t, says)))


def _yes(says: str, path: str) -> Field:
    def read(_: Units, text: str) -> bool:
        if text.strip().lower() not in ("yes", "no"):
            raise Problem(f"‘{text.strip()}’ is neither yes nor no.", where=says, hint="Write yes or no.")
        return text.strip().lower() == "yes"

    return _field(says, path, lambda u, v: "yes" if v else "no", read)


def _number(text: str, says: str) -> float:
    try:
        value = float(text.replace("%", ""))
    except ValueError:
        raise Problem(f"‘{text.strip()}’ is no number for {says}.", where=says, hint="Write for example 15") from None
    if not math.isfinite(value):
        raise Problem(f"‘{text.strip()}’ is no number for {says}.", where=says)
    return value


def _numbers(says: str, path: str, count: int = 0) -> Field:
    def read(_: Units, text: str) -> tuple[float, ...]:
        values = tuple(_number(p, says) for p in text.replace(",", " ").split())
        if count and len(values) != count:
            raise Problem(
                f"{says} takes {count} numbers, and {len(values)} came.", where=says, hint="Write for example -1 0 0"
            )
        return values

    return _field(says, path, lambda u, v: " ".join(_plain(x) for x in v), read)


NAMEABLE = frozenset(
    {
        *get_args(PartKind),
        *(r for r in get_args(Role) if r),
        *KINDS,
        "tubes",
        "person",
        "tyre",
        "chain",
        "shaft",
        "floor panel",
    }
)


def _named(job: Job, text: str) -> str | None:
    """What a word names: a thing of the job by id or name, or a kind or role of things; None for neither."""
    known = {
        i.lower(): i
        for i in (*job.placed, *job.joint_by_id, *job.tube_by_id, *job.fitting_by_id, *(w.id for w in job.wheels))
    }
    by_name = {t.name.lower(): t.id for t in job.placed.values() if t.name}
    word = text.lower()
    return known.get(word) or (word if word in NAMEABLE else by_name.get(word))


def _names(says: str, path: str) -> Field:
    """Things and kinds of things, with commas between them; ids may stand without."""

    def read(job: Job, thing: Any, text: str) -> Any:
        if text.strip().lower() in ("none", ""):
            return _put(thing, path, ())
        found: list[str] = []
        for part in filter(None, (p.strip() for p in text.split(","))):
            whole = _named(job, part)
            each = [whole] if whole else [_named(job, word) for word in part.split()]
            if None in each:
                known = [*job.placed, *(t.name for t in job.placed.values()), *NAMEABLE]
                raise Problem(
                    f"‘{part}’ is not an id or a kind that {says} can name.",
                    where=part,
                    hint=nearest(part, known) or "Write ids or kinds with commas between: B14, seat, cross member.",
                )
            found += [name for name in each if name]
        return _put(thing, path, tuple(dict.fromkeys(found)))

    return Field(says, lambda job, t: ", ".join(_get(t, path)) or "none", read)


def _part(says: str, path: str) -> Field:
    """A part by its id or name; none."""

    def read(job: Job, thing: Any, text: str) -> Any:
        if text.strip().lower() in ("none", ""):
            return _put(thing, path, "")
        return _put(thing, path, find_part(job, text.strip()).id)

    return Field(says, lambda job, t: _get(t, path) or "none", read)


def _place(says: str, path: str, *, own: bool = False) -> Field:
    """A place from the shown datum (`own`: in the part's axes): three readings, or `x+40 z 310` to move or put by
    axis."""

    def zero(job: Job) -> tuple[float, float, float]:
        return (0.0, 0.0, 0.0) if own else (job.datum.x, job.datum.y, job.datum.z)

    def show(job: Job, thing: Any) -> str:
        at = _get(thing, path)
        if at is None:
            return "none"
        units = units_of(job)
        return ", ".join(units.length(v - o, unit=False) for v, o in zip(at, zero(job), strict=True))

    def read(job: Job, thing: Any, text: str) -> Any:
        before = _get(thing, path)
        if path == "seat.wheel" and text.strip().lower() == "none":
            return _put(thing, path, None)
        return _put(thing, path, named_by_axis(job, text, before or (0.0, 0.0, 0.0), zero(job)))

    return Field(says, show, read)


def _coordinate(axis: str, prefix: str = "") -> Field:
    path = prefix + axis

    def read(job: Job, thing: Any, text: str) -> Any:
        return _put(thing, path, units_of(job).read_length(text) + getattr(job.datum, axis))

    return Field(
        axis if not prefix else f"{prefix[:-1]} {axis}",
        lambda job, t: units_of(job).length(_get(t, path) - getattr(job.datum, axis), unit=False),
        read,
    )


_SHAPE = re.compile(r"^\s*(box|cylinder|outline|pipe)\s+(.+?)\s*$", re.IGNORECASE)


def read_shape(text: str, units: Units) -> Shape:
    """`box 500 x 620 x 480` (along, across, up), `cylinder 250 x 600` (diameter, length along its x), or `outline 0
    0, 400 0, 400 300 by 120` (corners forward and up, thickness across)."""
    match = _SHAPE.match(text)
    if match is None:
        raise Problem(
            f"‘{text.strip()}’ is not a shape.",
            where=text,
            hint=said.example(
                "Write box [500] x [620] x [480], cylinder [250] x [600], outline 0 0, [400] 0, [400] [300] by [120]"
            )
            + f" or {PIPE_EXAMPLE}",
        )
    word, rest = match[1].lower(), match[2]
    if word == "pipe":
        return read_pipe(rest, units)
    if word == "outline":
        corners, by, thick = rest.partition(" by ")
        pairs = [c.split() for c in corners.split(",")]
        if not by or any(len(p) != 2 for p in pairs):
            raise Problem(
                f"‘{text.strip()}’ is not an outline.",
                where=text,
                hint=said.example("Write outline 0 0, [400] 0, [400] [300] by [120]"),
            )
        return Outline(
            corners=tuple((units.read_length(x), units.read_length(z)) for x, z in pairs),
            thickness=units.read_length(thick),
        )
    sizes = [units.read_length(s) for s in re.split(r"\s*[x×]\s*", rest)]
    wanted = 3 if word == "box" else 2
    if len(sizes) != wanted:
        raise Problem(
            f"A {word} has {wanted} sizes, and {len(sizes)} came.",
            where=text,
            hint=said.example("Write box [500] x [620] x [480] or cylinder [250] x [600]"),
        )
    if word == "box":
        return Box(length=sizes[0], width=sizes[1], height=sizes[2])
    return Cylinder(diameter=sizes[0], length=sizes[1])


def shape_text(shape: Shape, units: Units) -> str:
    """A shape as it can be typed."""

    def size(v: float) -> str:
        return units.length(v, unit=False)

    if shape.kind == "box":
        return f"box {size(shape.length)} x {size(shape.width)} x {size(shape.height)}"
    if shape.kind == "cylinder":
        return f"cylinder {size(shape.diameter)} x {size(shape.length)}"
    if shape.kind == "pipe":
        return pipe_text(shape, units)
    if shape.kind == "scan":
        return f"scan of {shape.triangles:,} triangles"
    return f"outline {', '.join(f'{size(x)} {size(z)}' for x, z in shape.corners)} by {size(shape.thickness)}"


def _read_kind(job: Job, thing: Part, text: str) -> Part:
    word = text.strip().lower()
    if word not in get_args(PartKind):
        raise Problem(
            f"‘{word}’ is no kind of part.",
            where=word,
            hint=nearest(word, get_args(PartKind)) or f"There are {', '.join(get_args(PartKind))}.",
        )
    return thing.but(kind=word)


def _read_slide(job: Job, thing: Part, text: str) -> Part:
    units, words = units_of(job), text.strip().lower()
    if words == "none":
        return thing.but(slide=(0.0, 0.0, 0.0))
    way, _, far = words.partition(" ")
    ways = {
        "up": (0, 0, 1),
        "down": (0, 0, -1),
        "forward": (1, 0, 0),
        "rearward": (-1, 0, 0),
        "left": (0, 1, 0),
        "right": (0, -1, 0),
    }
    if way in ways:
        size = units.read_length(far)
        return thing.but(slide=tuple(size * v for v in ways[way]))
    return thing.but(slide=named_by_axis(job, text, thing.slide, (0.0, 0.0, 0.0)))


def _slide_text(job: Job, thing: Part) -> str:
    units = units_of(job)
    words = {"x": ("forward", "rearward"), "y": ("left", "right"), "z": ("up", "down")}
    moves = [(a, v) for a, v in zip("xyz", thing.slide, strict=True) if v]
    if not moves:
        return "none"
    if len(moves) == 1:
        (axis, value), *_ = moves
        return f"{words[axis][value < 0]} {units.length(abs(value), unit=False)}"
    return ", ".join(units.length(v, unit=False) for v in thing.slide)


def _share(says: str, path: str) -> Field:
    return _field(says, path, lambda u, v: f"{v * 100:g} %", lambda u, t: _number(t, says) / 100)


_PART: dict[str, Field] = {
    "name": _text("name", "name"),
    "kind": Field("kind", lambda job, t: t.kind, _read_kind),
    "shape": Field(
        "shape",
        lambda job, t: shape_text(t.shape, units_of(job)),
        lambda job, t, text: t.but(shape=read_shape(text, units_of(job))),
    ),
    **{a: _coordinate(a) for a in "xyz"},
    "yaw": _angle("yaw", "yaw"),
    "pitch": _angle("pitch", "pitch"),
    "roll": _angle("roll", "roll"),
    "mass": _mass("mass", "mass"),
    "contents": _mass("holds besides", "contents"),
    "full": _yes("full", "full"),
    "cg": _place("CG, own axes", "cg", own=True),
    "margin": _length("keep clear", "margin"),
    "slide": Field("slides out", _slide_text, _read_slide),
    "touches": _names("may touch", "touches"),
}


def _read_stature(job: Job, person: Person, text: str) -> Person:
    """Somebody taller or shorter in the same seat: their own limbs in proportion, the helmet as it is."""
    return with_stature(person, units_of(job).read_length(text))


_PERSON: dict[str, Field] = {
    "name": _text("name", "name"),
    "mass": _mass("mass", "mass"),
    "aboard": _yes("aboard", "aboard"),
    "stature": Field("stature", lambda job, t: units_of(job).length(t.limbs.stature, unit=False), _read_stature),
    "hip": _place("hip", "seat.hip"),
    "back": _angle("seat back", "seat.back"),
    "pedals": _place("pedals", "seat.pedals"),
    "feet": _length("feet apart", "seat.feet_apart"),
    "floor": _length("floor, from the ground", "seat.floor"),
    "stroke": _length("pedal stroke", "seat.stroke"),
    "wheel": _place("hand wheel", "seat.wheel"),
    "wheel size": _length("hand wheel size", "seat.wheel_size"),
    "splay": _angle("knees splayed", "seat.splay"),
    "margin": _length("keep clear", "margin"),
    **{f.name.replace("_", " "): _length(f.name.replace("_", " "), f"limbs.{f.name}") for f in fields(Limbs)},
    "uses": _names("uses", "uses"),
}


def _sprocket(which: str) -> dict[str, Field]:
    return {
        f"{which} teeth": _whole(f"{which} teeth", f"{which}.teeth"),
        **{f"{which} {a}": _coordinate(a, f"{which}.") for a in "xyz"},
        f"{which} yaw": _angle(f"{which} shaft yaw", f"{which}.yaw"),
        f"{which} tilt": _angle(f"{which} shaft tilt", f"{which}.tilt"),
    }


_CHAIN: dict[str, Field] = {
    "name": _text("name", "name"),
    "belt": _yes("belt", "belt"),
    "pitch": _length("pitch", "pitch"),
    **_sprocket("driving"),
    **_sprocket("driven"),
    "width": _length("width", "width"),
    "height": _length("height", "height"),
    "up": _length("travel up", "up"),
    "down": _length("travel down", "down"),
    "span": _length("bearings apart", "span"),
    "reach": _length("wheel from left bearing", "reach"),
    "left off": _length("left bore above its block", "left_off"),
    "right off": _length("right bore above its block", "right_off"),
    "most angle": _angle("angle allowed", "most_angle"),
    "most offset": _length("offset allowed", "most_offset"),
    "wear": _share("wear allowed", "wear"),
    "gears": _numbers("engine turns per turn, each gear", "gears"),
    "guarded": _yes("guard fitted", "guarded"),
    "margin": _length("keep clear", "margin"),
    "touches": _names("may touch", "touches"),
}
_SHAFT: dict[str, Field] = {
    "name": _text("name", "name"),
    "from": _place("first joint", "start"),
    "to": _place("second joint", "stop"),
    "from on": _part("part that the first joint goes with", "start_on"),
    "to on": _part("part that the second joint goes with", "stop_on"),
    "drive": _numbers("driving axis", "drive", 3),
    "driven": _numbers("driven axis", "driven", 3),
    "phase": _angle("yokes out of phase", "phase"),
    "diameter": _length("diameter", "diameter"),
    "up": _length("travel up", "up"),
    "down": _length("travel down", "down"),
    "margin": _length("keep clear", "margin"),
    "touches": _names("may touch", "touches"),
}


def _read_plane(job: Job, thing: Picture, text: str) -> Picture:
    word = text.strip().lower()
    if word not in get_args(Plane):
        raise Problem(f"‘{word}’ is no plane.", where="plane", hint="There are side, plan and front.")
    return thing.but(plane=word)


_PICTURE: dict[str, Field] = {
    "name": _text("name", "name"),
    "plane": Field("plane", lambda job, t: t.plane, _read_plane),
    **{a: _coordinate(a) for a in "xyz"},
    "width": _length("width", "width"),
    "height": _length("height", "height"),
    "turn": _angle("turned", "turn"),
    "dim": _share("dimmed", "dim"),
}
FIELDS: Mapping[type, Mapping[str, Field]] = {
    Part: _PART,
    Person: _PERSON,
    Chain: _CHAIN,
    Shaft: _SHAFT,
    Picture: _PICTURE,
}


def change(job: Job, thing: Placed, name: str, text: str) -> Placed:
    """A thing with one field changed by what was typed."""
    known = FIELDS[type(thing)]
    if name not in known:
        raise Problem(
            f"{thing.id} has no ‘{name}’.", where=name, hint=nearest(name, known) or f"There are {', '.join(known)}."
        )
    if not text.strip():
        raise Problem(f"Nothing was typed for {known[name].says}.", where=name)
    return known[name].read(job, thing, text)


def split_field(thing: Placed, rest: str) -> tuple[str, str]:
    """A line's field, which may be two words, and the rest."""
    words = rest.strip().split(maxsplit=2)
    if len(words) > 1 and f"{words[0]} {words[1]}".lower() in FIELDS[type(thing)]:
        return f"{words[0]} {words[1]}".lower(), words[2] if len(words) > 2 else ""
    name, _, text = rest.strip().partition(" ")
    return name.lower(), text
