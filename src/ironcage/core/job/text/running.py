"""Commands about how wheels are hung: corner."""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, cast, get_args

from ironcage.core.job import edits
from ironcage.core.job.text.command import Chosen, Command, Done, read_place
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import Axle, SpringOn
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import angle, said, typed

CORNER_EXAMPLE = "corner front lower J1L J3L upper J2L J4L spring J2L"
SET_EXAMPLE = said.example("corner front lower out [5], [590], [180]")


def read_point(job: Job, text: str) -> Any:
    """A place as it is typed, or where a joint is."""
    joint = job.joint_by_id.get(text.strip().upper())
    return joint.place if joint else read_place(job, text)


def read_point_or_none(job: Job, text: str) -> Any:
    """A place as it is typed, where a joint is, or none."""
    return None if text.strip().lower() == "none" else read_point(job, text)


def read_length(job: Job, text: str) -> float:
    """A length, mm."""
    return units_of(job).read_length(text)


def read_angle(job: Job, text: str) -> float:
    """An angle in degrees, rad."""
    return angle(text.removesuffix("°"))


def _carrier(job: Job, text: str) -> str:
    word = text.strip().lower()
    if word not in get_args(SpringOn):
        raise Problem(
            f"A coil-over does not stand on ‘{word}’.",
            where=word,
            hint=nearest(word, get_args(SpringOn)) or "Write lower, upper or upright.",
        )
    return word


Read = Callable[[Job, str], Any]
FIELDS: Mapping[str, tuple[str, Read]] = {
    "lower out": ("lower_out", read_point),
    "upper out": ("upper_out", read_point),
    "tie in": ("tie_in", read_point),
    "tie out": ("tie_out", read_point),
    "spring out": ("spring_out", read_point),
    "spring on": ("spring_on", _carrier),
    "camber": ("camber", read_angle),
    "toe": ("toe", read_angle),
    "up": ("up", read_length),
    "down": ("down", read_length),
    "rack": ("rack", read_length),
    "pivot": ("pivot", read_point_or_none),
    "column": ("column", read_point_or_none),
    "link": ("link", read_length),
    "margin": ("margin", read_length),
}
ROCKER_FIELDS: Mapping[str, tuple[str, Read]] = {
    "rod out": ("rod_out", read_point),
    "rod in": ("rod_in", read_point),
    "rocker axis": ("axis", read_point),
}
COIL_FIELDS: Mapping[str, tuple[str, Read]] = {
    "rate": ("rate", lambda job, text: units_of(job).read_linear_stiffness(text)),
    "free": ("free", read_length),
    "solid": ("solid", read_length),
    "open": ("open", read_length),
    "closed": ("closed", read_length),
    "stop": ("stop", read_length),
    "unsprung": ("unsprung", lambda job, text: units_of(job).read_mass(text)),
}
EYE_EXAMPLE = said.example("eye thread [12] shank [54] start [22] nut [6] lip [4] engaged [24]")
BAR_EXAMPLE = said.example("bar od [22] bore [16] length [760] arm [180] ratio 0.6")


AIR_EXAMPLE = said.example("air across [70] column [180]")
LEAF_EXAMPLE = said.example(
    "leaf front [480] rear [520] wide [50] thick [6] full 1 stepped 3 arch [70] shackle [80] base [700]"
)


def _count(job: Job, text: str) -> int:
    number = typed.number(text)
    if number != int(number):
        raise Problem(f"‘{text}’ is no number of leaves.", where=text, hint="Write a whole number.")
    return int(number)


def _lies(job: Job, text: str) -> str:
    word = text.strip().lower()
    if word not in ("along", "across"):
        raise Problem(f"A leaf spring does not lie ‘{word}’.", where=word, hint="Write along, or across.")
    return word


@dataclass(frozen=True)
class Group:
    """Several figures of one thing that are typed in one line after its word: how each is read, what the thing is
    called, an example, and how it is changed."""

    fields: Mapping[str, Read]
    called: str
    example: str
    change: Callable[..., Job]


GROUPS: Mapping[str, Group] = {
    "eye": Group(
        {
            **dict.fromkeys(
                ("thread", "shank", "start", "nut", "lip", "engaged", "head", "housing", "ball"), read_length
            ),
            "tilt": read_angle,
        },
        "rod ends",
        EYE_EXAMPLE,
        edits.set_rod_ends,
    ),
    "bar": Group(
        {
            **dict.fromkeys(("od", "bore", "length", "arm"), read_length),
            "ratio": lambda _, text: typed.number(text),
        },
        "anti-roll bar",
        BAR_EXAMPLE,
        edits.set_roll_bar,
    ),
    "air": Group({"across": read_length, "column": read_length}, "air springs", AIR_EXAMPLE, edits.set_air),
    "leaf": Group(
        {
            **dict.fromkeys(("front", "rear", "wide", "thick", "arch", "shackle", "base", "up", "down"), read_length),
            **dict.fromkeys(("full", "stepped"), _count),
            "lean": read_angle,
            "unsprung": lambda job, text: units_of(job).read_mass(text),
            "limit": lambda _, text: typed.number(text),
            "lies": _lies,
        },
        "leaf springs",
        LEAF_EXAMPLE,
        edits.set_leaf,
    ),
}
_HOLE = re.compile(r"^(?P<top>top )?hole (?P<place>.+)$", re.IGNORECASE)
ROCKER = re.compile(r"^rocker (?!axis\b)(\S+)$", re.IGNORECASE)
_JOINTS = re.compile(r"^lower (\S+) (\S+) upper (\S+) (\S+) spring (\S+)$", re.IGNORECASE)


def typed_group(job: Job, axle: Axle, body: str, chosen: Chosen) -> Done | None:
    """What is said of the rod ends, the anti-roll bar or the leaf springs of an end, `eye thread 12 shank 54`; None
    where a line says something else. Raises Problem for a word that is none of their figures, and for one without a
    value."""
    words = body.replace(",", " ").split()
    group = GROUPS.get(words[0].lower().removesuffix("s")) if words else None
    if group is None:
        return None
    names = [n for n, word in enumerate(words) if word.lower() in group.fields]
    hint = f"Write for example: {group.example}"
    if names[:1] != [1]:
        odd = words[1] if len(words) > 1 else words[0]
        raise Problem(
            f"The {group.called} of an end: no figure is called ‘{odd}’."
            if len(words) > 1
            else f"What is known of the {group.called} is incomplete.",
            where=odd,
            hint=nearest(odd, group.fields) or f"{hint}. There is {', '.join(group.fields)}.",
        )
    changes: dict[str, Any] = {}
    for at, stop in zip(names, [*names[1:], len(words)], strict=True):
        name, value = words[at].lower(), " ".join(words[at + 1 : stop])
        if not value:
            raise Problem(f"Nothing was typed for {name}.", where=name, hint=hint)
        changes[name] = group.fields[name](job, value)
    return Done(f"Set {', '.join(changes)} of the {axle} {group.called}", group.change(job, axle, **changes), chosen)


def typed_hole(job: Job, axle: Axle, body: str, chosen: Chosen) -> Done | None:
    """Another place for the feet of an end's coil-overs, `hole 4, 470, 188`, or `hole none`, and for their tops, `top
    hole -150, 230, 505`; None where a line says something else."""
    match = _HOLE.match(body)
    if match is None:
        return None
    end, change = ("tops", edits.set_top_hole) if match["top"] else ("feet", edits.set_hole)
    if match["place"].strip().lower() == "none":
        return Done(f"Forget the holes of the {axle} coil-overs’ {end}", change(job, axle, None), chosen)
    made = change(job, axle, read_point(job, match["place"]))
    return Done(f"Add a hole for the {axle} coil-overs’ {end}", made, chosen)


def corner(job: Job, chosen: Chosen, rest: str) -> Done:
    """Hangs both wheels of an axle on double wishbones at joints of the left side, front then rear: `corner front
    lower J5L J9L upper J6L J10L spring J6L`; then sets its points, `corner front lower out 5, 590, 180` (also upper
    out, tie in, tie out, spring out), `spring on lower`, upper or upright, camber, toe, up, down, rack, link,
    margin; pivot and column: the foot of a drop arm that carries tie in, and a place up its axis, `pivot none` for
    a rack; and what is known of the coil-over, `corner front rate 28`, free and solid (the spring's lengths), open
    and closed (between the damper's eyes), stop (the bump stop's height), unsprung (a wheel's mass); an air spring
    in its place, `corner front air across 70 column 180`; other holes for its foot, `corner front hole 4, 470,
    188`, `hole none`, and its top, `top hole`; and of the rod ends, `corner front eye thread 12 shank 54 start 22
    nut 6 lip 4 engaged 24 head 32 housing 12 ball 16 tilt 20`; of an anti-roll bar, `corner front bar od 22 bore 16
    length 760 arm 180 ratio 0.6`; puts a push rod and its rocker between arm and coil-over, `corner front rocker
    J10L`, whose points are `rod out`, `rod in` and `rocker axis`, a second place on it; `rocker none`; `corner
    front gone`."""
    axle, body = read_end(rest, CORNER_EXAMPLE)
    if body.lower() == "gone":
        return Done(f"Take the {axle} wishbones out", edits.unhang(job, axle), chosen)
    if rocker := ROCKER.match(body):
        pivot = None if rocker[1].lower() == "none" else rocker[1]
        return Done(f"Set the rocker of the {axle} corner", edits.hang_rocker(job, axle, pivot), chosen)
    hung = _JOINTS.match(body)
    if hung:
        made = edits.hang(job, axle, (hung[1], hung[2]), (hung[3], hung[4]), hung[5])
        return Done(f"Hang the {axle} wheels on wishbones", made, chosen)
    if group := typed_group(job, axle, body, chosen) or typed_hole(job, axle, body, chosen):
        return group
    name, value = typed_field(job, {**FIELDS, **COIL_FIELDS, **ROCKER_FIELDS}, body, f"{axle} corner", SET_EXAMPLE)
    if name in COIL_FIELDS:
        return Done(f"Set {name} of the {axle} coil-overs", edits.set_coil_over(job, axle, **{name: value}), chosen)
    if name in ROCKER_FIELDS:
        made = edits.set_push_rod(job, axle, **{ROCKER_FIELDS[name][0]: value})
        return Done(f"Set {name} of the {axle} corner", made, chosen)
    return Done(f"Set {name} of the {axle} corner", edits.set_wishbones(job, axle, **{FIELDS[name][0]: value}), chosen)


def read_end(rest: str, example: str) -> tuple[Axle, str]:
    """The end that a line about how wheels are hung names first, and what it says of it, with single spaces. Raises
    Problem where it names none."""
    word, _, body = rest.strip().partition(" ")
    if word.lower() not in get_args(Axle):
        what = f"‘{word}’ is no axle." if word else "Say which axle: front or rear."
        raise Problem(what, where=word or "axle", hint=f"Write for example: {example}")
    return cast(Axle, word.lower()), " ".join(body.replace(",", ", ").split())


def typed_field(job: Job, fields: Mapping[str, tuple[str, Read]], body: str, of: str, example: str) -> tuple[str, Any]:
    """The field that a line names, and its value. Raises Problem for a word that is none of its fields, and for one
    with nothing after it."""
    low = body.lower()
    name = next((f for f in fields if low == f or low.startswith(f"{f} ")), None)
    if name is None:
        first = " ".join(low.split()[:2])
        raise Problem(
            f"The {of} has no ‘{first}’." if first else f"The {of} is incomplete.",
            where=first or of,
            hint=f"Write for example: {example}. It has {', '.join(fields)}.",
        )
    text = body[len(name) :].strip()
    if not text:
        raise Problem(f"Nothing was typed for {name}.", where=name, hint=f"Write for example: {example}")
    return name, fields[name][1](job, text)


COMMANDS = (
    Command(
        "corner", CORNER_EXAMPLE, f"hangs an axle's wheels on wishbones; then {SET_EXAMPLE}, camber, rack …", corner
    ),
)
