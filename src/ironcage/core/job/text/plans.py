"""Commands about what is aimed at: target, tyre, deadline, rule, tick, profile, variant."""

import re
from typing import Any, cast, get_args

from pydantic.fields import FieldInfo

from ironcage.core.calc.car.tyre import read_tyre
from ironcage.core.job import edits
from ironcage.core.job.edits.plans import find_rule, find_variant
from ironcage.core.job.shelf.houserules import house_rules
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.text.days import read_day
from ironcage.core.job.text.forms import kind_at_start, read_fields, read_value
from ironcage.core.job.values.model import Job, RuleProfile, TargetKind
from ironcage.core.job.values.rules import EXAMPLES, KINDS, READINGS, AnyRule, Note, Room
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import Units, said
from ironcage.units.quantity import LENGTH, MASS, MONEY, POWER, TORQUE, TORSIONAL_STIFFNESS, Quantity

AIMS: dict[str, Quantity] = {
    "mass": MASS,
    "power": POWER,
    "torque": TORQUE,
    "budget": MONEY,
    "twist stiffness": TORSIONAL_STIFFNESS,
}


AGAINST_EXAMPLE = said.example("against Kestrel: wheelbase [2540], front track [1420], mass [690 in kg]")


def aimed(kind: str) -> Quantity:
    """What a target is a measure of: a length unless AIMS says otherwise."""
    return AIMS.get(kind, LENGTH)


def target(job: Job, chosen: Chosen, rest: str) -> Done:
    """`target wheelbase 2300 +- 10`; `target mass gone` takes it away."""
    words = rest.strip()
    kinds = sorted(get_args(TargetKind), key=len, reverse=True)
    kind = next((k for k in kinds if words.lower().startswith(k)), None)
    if kind is None:
        word = words.split()[0] if words else ""
        raise Problem(
            f"‘{word}’ is not a figure to aim at.",
            where=word,
            hint=nearest(word, kinds) or f"There are {', '.join(get_args(TargetKind))}.",
        )
    body = words[len(kind) :].strip()
    if body == "gone":
        return Done(f"Remove the target for {kind}", edits.remove_target(job, kind), chosen)
    units = units_of(job)
    value, _, off = re.sub(r"\+\s?/?\s?-|±", "±", body).partition("±")
    read = aimed(kind).read
    made = edits.put_target(job, cast(TargetKind, kind), read(units, value), read(units, off) if off else 0.0)
    return Done(f"Aim at {kind} {body}", made, chosen)


COMPARED: tuple[TargetKind, ...] = (
    "wheelbase",
    "front track",
    "rear track",
    "length",
    "width",
    "height",
    "mass",
)


def against(job: Job, chosen: Chosen, rest: str) -> Done:
    """Compare with another vehicle, `against Kestrel: wheelbase 2540, mass 690`; `mass none` drops a figure, `against
    Kestrel gone` the vehicle."""
    if rest.strip().lower().endswith(" gone"):
        name = rest.strip()[:-5].strip()
        return Done(f"Stop comparing with {name}", edits.remove_vehicle(job, name), chosen)
    name, colon, body = rest.partition(":")
    parts = [p.strip() for p in body.split(",") if p.strip()]
    if not name.strip() or not colon or not parts:
        raise Problem("The comparison is incomplete.", where=rest, hint=f"Write for example: {AGAINST_EXAMPLE}")
    units = units_of(job)
    figures: dict[TargetKind, float | None] = {}
    for part in parts:
        kind = next((k for k in sorted(COMPARED, key=len, reverse=True) if part.lower().startswith(k)), None)
        if kind is None:
            raise Problem(
                f"‘{part}’ is not a figure to compare by.",
                where=part,
                hint=nearest(part, COMPARED) or f"There are {', '.join(COMPARED)}.",
            )
        value = part[len(kind) :].strip()
        figures[kind] = None if value.lower() in ("none", "") else aimed(kind).read(units, value)
    return Done(f"Compare with {name.strip()}", edits.put_vehicle(job, name.strip(), figures), chosen)


def tyre(job: Job, chosen: Chosen, rest: str) -> Done:
    """`tyre front 205/50R15`, `tyre rear 22x7-10`, or `tyre front 570 by 165`."""
    end, _, code = rest.strip().partition(" ")
    if end.lower() not in ("front", "rear"):
        raise Problem(f"‘{end}’ is not an axle.", where=end, hint="Write for example: tyre front 205/50R15")
    units = units_of(job)
    return Done(
        f"Put {code.strip()} on the {end.lower()}",
        edits.set_tyre(job, end.lower(), code.strip(), read_tyre(code, units.read_length)),
        chosen,
    )


def deadline(job: Job, chosen: Chosen, rest: str) -> Done:
    """The day by which it must run: `deadline 2027-04-10`, or `deadline none`."""
    if rest.strip().lower() == "none":
        return Done("Remove the deadline", edits.set_brief(job, deadline=None), chosen)
    day = read_day(rest)
    return Done(f"Set the deadline to {day.isoformat()}", edits.set_brief(job, deadline=day), chosen)


def read_rule(text: str, units: Units, name: str) -> AnyRule:
    """`KIND field value, field value: clause` as a rule of that kind. Raises Problem for a rule with no numbers or
    no clause."""
    head, colon, clause = text.partition(":")
    kind, body = kind_at_start(head, KINDS, "rule")
    if not colon or not clause.strip():
        raise Problem(
            "The rule has no clause.", where=kind, hint=f"Write the words of your book after a colon: {EXAMPLES[kind]}"
        )
    form = KINDS[kind]
    limit = next((quantity for reading, quantity in READINGS.items() if reading in head.lower()), None)

    def read(field: FieldInfo, name: str, text: str) -> Any:
        of_reading = limit if form is Room and name in ("least", "most") else None
        return of_reading.read(units, text) if of_reading else read_value(field, name, text, units)

    values, missing = read_fields(form, body, ("id", "clause", "kind"), f"A {kind} rule", read)
    said = any(isinstance(v, float | int) for v in values.values()) or form is Note or bool(values.get("material"))
    if missing or not said:
        lacks = ", ".join(missing) or "its numbers"
        raise Problem(f"The rule lacks {lacks}.", where=kind, hint=f"Write for example: {EXAMPLES[kind]}")
    return form(id=name, clause=clause.strip(), **values)


def rule_text(rule: AnyRule, units: Units) -> str:
    """What a rule asks, as it can be typed after its kind."""
    fields = []
    for name, field in type(rule).model_fields.items():
        value = getattr(rule, name)
        if name in ("id", "clause", "kind") or value == field.default or isinstance(rule, Note):
            continue
        quantity = None if isinstance(value, str) else rule.quantity(name)
        fields.append(f"{name.replace('_', ' ')} {quantity.typing(units, value) if quantity else value}")
    return ", ".join(fields)


def rule(job: Job, chosen: Chosen, rest: str) -> Done:
    """Add a rule from your own book: `rule KIND field value, field value: clause`; `rule R3 gone` takes one away;
    `rule R3 KIND …` changes it."""
    words = rest.strip().split(maxsplit=1)
    units = units_of(job)
    if words and re.fullmatch(r"[Rr]\d+", words[0]):
        old = find_rule(job, words[0])
        body = words[1] if len(words) > 1 else ""
        if body.strip() == "gone":
            return Done(f"Take rule {old.id} away", edits.remove_rule(job, old.id), chosen)
        return Done(f"Change rule {old.id}", edits.put_rule(job, read_rule(body, units, old.id)), chosen)
    used = [int(r.id[1:]) for r in job.rules.rules if r.id[1:].isdigit()]
    new = read_rule(rest, units, f"R{max(used, default=0) + 1}")
    return Done(f"Add rule {new.id}", edits.add_rule(job, new), chosen)


def tick(job: Job, chosen: Chosen, rest: str) -> Done:
    """Tick a rule that is judged by hand, with a note: `tick R9 isolator left of the wheel`; again to take the tick
    off."""
    name, _, note = rest.strip().partition(" ")
    old = find_rule(job, name)
    if not isinstance(old, Note):
        raise Problem(f"{old.id} is judged by measuring, not by a tick.", where=old.id)
    new = old.but(ticked=not old.ticked, note=note.strip() or old.note)
    return Done(f"{'Tick' if new.ticked else 'Untick'} {old.id}", edits.put_rule(job, new), chosen)


def profile(job: Job, chosen: Chosen, rest: str) -> Done:
    """Name the rule profile, start an `empty` one, or take the made-up `example`."""
    words = rest.strip()
    if words.lower() == "empty":
        return Done("Start an empty rule profile", job.but(rules=RuleProfile()), chosen)
    if words.lower() == "example":
        return Done("Take the example rules", job.but(rules=house_rules()), chosen)
    if not words:
        raise Problem("The profile needs a name.", hint="Write profile NAME, profile empty or profile example.")
    if re.match(r"[\d./\"]+\s*x\s*[\d.]", words):
        raise Problem(
            f"‘{words}’ are sizes, and profile names your rules.",
            where=words,
            hint=f"Choose tubes and type: section {words}",
        )
    return Done(f"Call the rules {words}", job.but(rules=job.rules.but(name=words, example=False)), chosen)


def variant(job: Job, chosen: Chosen, rest: str) -> Done:
    """`variant keep NAME: note` keeps the present state; `variant open NAME` goes on from it; `variant gone NAME`
    lets it go."""
    what, _, body = rest.strip().partition(" ")
    name, _, note = body.partition(":")
    if what == "keep":
        return Done(f"Keep variant {name.strip()}", edits.keep_variant(job, name, note), chosen)
    if what == "open":
        return Done(f"Go on from {find_variant(job, name).name}", edits.open_variant(job, name), ())
    if what == "gone":
        return Done(f"Remove {find_variant(job, name).name}", edits.remove_variant(job, name), chosen)
    raise Problem(
        f"‘{what}’ is not understood of a variant.",
        where=what,
        hint="Write variant keep NAME, variant open NAME or variant gone NAME.",
    )


COMMANDS = (
    Command(
        "target",
        said.example("target wheelbase [2300] +- [10]"),
        "aims at a figure, with what it may be off; ‘gone’ removes it",
        target,
    ),
    Command(
        "against",
        AGAINST_EXAMPLE,
        "compares with another vehicle by what is known of it; ‘gone’ removes it",
        against,
    ),
    Command(
        "tyre",
        "tyre front 205/50R15",
        said.example("puts a tyre on both wheels of an axle: 205/50R15, 22x7-10 or [570] by [165]"),
        tyre,
    ),
    Command("deadline", "deadline 2027-04-10", "sets the day by which it must run; none takes it away", deadline),
    Command(
        "rule",
        EXAMPLES["tube size"],
        "adds a rule from your own book; R3 before the kind changes that one, ‘R3 gone’ takes it away",
        rule,
    ),
    Command(
        "tick",
        "tick R9 isolator left of the wheel",
        "ticks a rule that is judged by hand, with a note; again takes it off",
        tick,
    ),
    Command(
        "profile",
        "profile example",
        "names the rule profile; ‘empty’ starts one, ‘example’ takes the made-up one",
        profile,
    ),
    Command(
        "variant",
        said.example("variant keep Low roof: [60] lower"),
        "keeps the present state beside the job; open and gone do the rest",
        variant,
    ),
)
