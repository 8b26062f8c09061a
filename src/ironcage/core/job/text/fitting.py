"""Commands on sheet and fittings: add, and the change of one by its name."""

import re
from typing import Any

from pydantic.fields import FieldInfo

from ironcage.core.job import edits
from ironcage.core.job.shelf.library import library
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.text.forms import kind_at_start, read_fields, read_value
from ironcage.core.job.values.fittings import EXAMPLES, KINDS, AnyFitting, FishPlate, hosts_of
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import Units, said
from ironcage.units.quantity import LENGTH, quantity_of

HIDDEN = ("id", "twin", "kind")


def add(job: Job, chosen: Chosen, rest: str) -> Done:
    """Put a fitting on the frame: `add KIND field value, field value`; `add F3 gone` takes one away; `add F3
    thickness 2` changes it. What is not named is taken from what is chosen."""
    words = rest.strip().split(maxsplit=1)
    if words and re.fullmatch(r"[Ff]\d+[LRlr]?", words[0]):
        return _change(job, chosen, words[0].upper(), words[1] if len(words) > 1 else "")
    kind, body = kind_at_start(rest, KINDS, "fitting")
    form = KINDS[kind]
    values, missing = _read(job, form, body)
    for name in sorted(missing, key=lambda n: n == "joint"):  # two tubes tell their joint
        taken = _from_chosen(job, chosen, name, kind, values)
        if taken is not None:
            values[name] = taken
            missing.remove(name)
    if kind == "fish plate" and {"tube", "at"} <= set(missing) and any(c in job.joint_by_id for c in chosen):
        return _at_joints(job, chosen, values, [m for m in missing if m not in ("tube", "at")])
    if "at" in missing and "carries" in values and "tube" in values:
        values["at"] = 0.0  # it follows from the joint
        missing.remove("at")
    if missing:
        raise Problem(
            f"The {kind} lacks {', '.join(missing)}.", where=kind, hint=f"Write for example: {EXAMPLES[kind]}"
        )
    made = edits.add_fitting(job, form(id="new", **values))
    new = made.fittings[len(job.fittings)].id
    return Done(f"Add {kind} {new}", made, (new,))


def _at_joints(job: Job, chosen: Chosen, values: dict[str, Any], missing: list[str]) -> Done:
    """A fish plate over each chosen joint of a rail, and so over its mirror."""
    if missing:
        raise Problem(
            f"The fish plate lacks {', '.join(missing)}.",
            where="fish plate",
            hint=f"Write for example: {EXAMPLES['fish plate']}",
        )
    made, done = job, set()
    for joint in (c for c in chosen if c in job.joint_by_id and c not in done):
        done |= {joint, job.joint_by_id[joint].twin}
        tube, at = edits.rail_end(job, joint)
        made = edits.add_fitting(made, FishPlate(id="new", tube=tube, at=at, **values))
    new = [f.id for f in made.fittings[len(job.fittings) :]]
    return Done(f"Add {len(new)} fish plate{'s' * (len(new) > 1)}", made, tuple(new))


def _change(job: Job, chosen: Chosen, name: str, body: str) -> Done:
    old = edits.find_fitting(job, name)
    if body.strip().lower() == "gone":
        return Done(
            f"Take {old.kind} {old.id} away",
            edits.remove_fittings(job, [old.id]),
            tuple(c for c in chosen if c != old.id),
        )
    values, _ = _read(job, type(old), body)
    if not values:
        raise Problem(f"Nothing was typed for {old.id}.", where=old.id, hint="Write a field and its value, or gone.")
    return Done(f"Change {old.kind} {old.id}", edits.change_fitting(job, old.id, **values), chosen)


def _read(job: Job, form: type[AnyFitting], body: str) -> tuple[dict[str, Any], list[str]]:
    units = units_of(job)
    values, missing = read_fields(
        form, body, HIDDEN, _a(form.model_fields["kind"].default), lambda f, n, t: _value(job, f, n, t, units)
    )
    return values, missing


def _a(kind: str) -> str:
    if kind.endswith("holes"):
        return kind.capitalize()
    return f"An {kind}" if kind[0] in "aeiou" else f"A {kind}"


def _value(job: Job, field: FieldInfo, name: str, text: str, units: Units) -> Any:
    if name in ("joint", "carries", "axis"):
        return "" if name != "joint" and text.lower() in ("", "nothing", "none") else job.joint(text).id
    if name == "tube":
        return job.tube(text).id
    if name == "host":
        if text.upper() in job.tube_by_id:
            raise Problem(
                f"{text.upper()} is a tube, and these holes go in plate.",
                where=text,
                hint=said.example(
                    f"In a tube: add tube holes tube {text.upper()}, at [120], diameter [12], count 4, pitch [60]"
                ),
            )
        return edits.find_fitting(job, text).id
    if name == "material":
        known = [m.name for m in (*job.shelf.materials, *library().materials)]
        found = next((k for k in known if k.lower().startswith(text.lower())), None)
        if found is None:
            raise Problem(f"There is no material ‘{text}’.", where=text, hint=nearest(text, known))
        return found
    made = read_value(field, name, text, units)
    if name == "joints":
        return tuple(job.joint(n).id for n in made)
    if name == "tubes":
        if len(made) != 2:
            raise Problem("A corner has two tubes.", where="tubes", hint="Name both: tubes T3L T9L")
        return tuple(job.tube(n).id for n in made)
    return made


def _from_chosen(job: Job, chosen: Chosen, name: str, kind: str, values: dict[str, Any]) -> Any:
    """A joint, tube or corner that was chosen before the line was typed."""
    joints = [c for c in chosen if c in job.joint_by_id]
    tubes = [c for c in chosen if c in job.tube_by_id]
    if not tubes:  # those that a chosen fitting sits on, as after the last one was added
        tubes = [t for c in chosen if c in job.fitting_by_id for t in hosts_of(job.fitting_by_id[c])[1]]
    if name == "joints" and len(joints) >= 3:
        return tuple(joints)
    if name == "tube" and len(tubes) == 1:
        return tubes[0]
    if name == "tubes" and len(tubes) == 2:
        return tuple(tubes)
    if name == "joint" and "tubes" in values:
        return _shared(job, values["tubes"])
    if name == "joint" and (len(joints) == 1 or len(tubes) == 2):
        return joints[0] if len(joints) == 1 else _shared(job, (tubes[0], tubes[1]))
    if name == "host" and len(chosen) == 1 and chosen[0] in job.fitting_by_id:
        return chosen[0]
    return None


def _shared(job: Job, tubes: tuple[str, str]) -> str:
    """The joint where two tubes meet."""
    for joint in job.tube(tubes[0]).ends:
        if joint in job.tube(tubes[1]).ends:
            return joint
    raise Problem(
        f"{tubes[0]} and {tubes[1]} do not meet.",
        where=tubes[0],
        hint="A corner plate needs two tubes that meet at a joint.",
    )


def fitting_text(fitting: AnyFitting, units: Units) -> str:
    """What a fitting is, as it can be typed after its kind."""
    said = []
    for name, field in type(fitting).model_fields.items():
        value = getattr(fitting, name)
        if name in HIDDEN or value == field.default or (name == "at" and getattr(fitting, "carries", "")):
            continue
        shown = (
            " ".join(value)
            if isinstance(value, tuple)
            else value
            if isinstance(value, str | int)
            else (quantity_of(field) or LENGTH).typing(units, value)
        )
        said.append(f"{name.replace('_', ' ')} {shown}")
    return ", ".join(said)


COMMANDS = (
    Command(
        "add",
        said.example("add gusset leg [60], thickness [2]"),
        "puts a fitting on what is named or chosen: "
        + ", ".join(KINDS)
        + "; F3 before a field changes that one, ‘gone’ takes it away",
        add,
    ),
)
