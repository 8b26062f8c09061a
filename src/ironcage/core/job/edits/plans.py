"""What is aimed at: targets, tyres, rules, lines and bolt patterns, and other states of the job kept beside it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any, Literal

from ironcage.core.calc.car.tyre import Tyre
from ironcage.core.calc.plane.pattern import fit_pattern
from ironcage.core.job.edits.joints import put
from ironcage.core.job.edits.parts import set_brief
from ironcage.core.job.values.model import Job, OtherVehicle, Target, TargetKind, Variant
from ironcage.core.job.values.placed import Adapter, Pattern, SectionLine, Taped
from ironcage.core.job.values.rules import AnyRule
from ironcage.core.job.values.running import HUNG
from ironcage.problem import Problem, nearest
from ironcage.units import said

MOST_VARIANTS = 12


def put_target(job: Job, kind: TargetKind, value: float, tolerance: float = 0.0) -> Job:
    """Aim at a figure, or change the aim. value, tolerance: of the target's quantity, in internal units (mm, kg, kW,
    N·m, N·mm/rad, money)."""
    new = Target(kind=kind, value=value, tolerance=tolerance)
    kept = tuple(new if t.kind == kind else t for t in job.brief.targets)
    return set_brief(job, targets=kept if new in kept else (*kept, new))


def remove_target(job: Job, kind: str) -> Job:
    """Aim at it no longer."""
    kept = tuple(t for t in job.brief.targets if t.kind != kind)
    if len(kept) == len(job.brief.targets):
        raise Problem(f"There is no target for {kind}.", where=kind)
    return set_brief(job, targets=kept)


def set_tyre(job: Job, end: str, code: str, tyre: Tyre) -> Job:
    """Give both wheels of an axle a tyre; they stay on the ground where they stood on it. Wheels that are hung stay
    where their uprights have them, and a larger tyre lifts the car there."""
    if not any(w.corner.startswith(end) for w in job.wheels):
        raise Problem(
            f"There are no {end} wheels to put a tyre on.",
            where=end,
            hint=said.example(f"Type: wheels {end} [0] [650] [290] dia [580] width [165]"),
        )

    hung = any(of.axle == end for kind in HUNG for of in getattr(job, kind))
    wheels = []
    for w in job.wheels:
        if w.corner.startswith(end):
            z = tyre.diameter / 2 if abs(w.z - w.diameter / 2) < 1.0 and not hung else w.z
            w = w.but(diameter=tyre.diameter, width=tyre.width, tyre=code, z=z)
        wheels.append(w)
    return job.but(wheels=tuple(wheels))


def add_rule(job: Job, rule: AnyRule) -> Job:
    """Add a rule to the profile."""
    return job.but(rules=job.rules.but(rules=(*job.rules.rules, rule)))


def put_rule(job: Job, rule: AnyRule) -> Job:
    """Put a changed rule in the place of the one of its id."""
    find_rule(job, rule.id)
    return job.but(rules=job.rules.but(rules=tuple(rule if r.id == rule.id else r for r in job.rules.rules)))


def find_rule(job: Job, name: str) -> AnyRule:
    """The rule of that id; refuses an unknown one."""
    for rule in job.rules.rules:
        if rule.id == name.upper():
            return rule
    raise Problem(f"There is no rule ‘{name}’.", where=name, hint=nearest(name, [r.id for r in job.rules.rules]))


def remove_rule(job: Job, name: str) -> Job:
    """Take a rule out of the profile."""
    gone = find_rule(job, name)
    return job.but(rules=job.rules.but(rules=tuple(r for r in job.rules.rules if r is not gone)))


def keep_variant(job: Job, name: str, note: str = "") -> Job:
    """Keep the present state beside the job under a name, or in the place of the one of that name."""
    if not name.strip():
        raise Problem("A variant needs a name.", hint="Write for example: variant keep Low roof")
    new = Variant(name=name.strip(), note=note.strip(), job=job.but(variants=()))
    kept = [v for v in job.variants if v.name.lower() != new.name.lower()]
    if len(kept) >= MOST_VARIANTS:
        raise Problem(
            f"{MOST_VARIANTS} variants are kept already.", where=name, hint="Remove one first: variant gone NAME"
        )
    return job.but(variants=(*kept, new))


def find_variant(job: Job, name: str) -> Variant:
    """The variant of that name; refuses an unknown one."""
    for v in job.variants:
        if v.name.lower() == name.strip().lower():
            return v
    raise Problem(
        f"There is no variant ‘{name.strip()}’.", where=name, hint=nearest(name, [v.name for v in job.variants])
    )


def open_variant(job: Job, name: str) -> Job:
    """Go on from a kept state; the variants stay. What is not kept under a name can be had back by undo."""
    return find_variant(job, name).job.but(variants=job.variants)


def remove_variant(job: Job, name: str) -> Job:
    """Let a kept state go."""
    gone = find_variant(job, name)
    return job.but(variants=tuple(v for v in job.variants if v is not gone))


def put_vehicle(job: Job, name: str, figures: Mapping[TargetKind, float | None]) -> Job:
    """Compare with another vehicle: what is known of it (internal units), added to what was known before; None drops
    a figure."""
    old = next((v for v in job.brief.against if v.name.lower() == name.lower()), OtherVehicle(name=name))
    known = {f.kind: f.value for f in old.figures} | dict(figures)
    new = old.but(figures=tuple(Target(kind=k, value=v) for k, v in known.items() if v is not None))
    kept = tuple(new if v is old else v for v in job.brief.against)
    return set_brief(job, against=kept if old in job.brief.against else (*kept, new))


def remove_vehicle(job: Job, name: str) -> Job:
    """Compare with a vehicle no longer."""
    kept = tuple(v for v in job.brief.against if v.name.lower() != name.strip().lower())
    if len(kept) == len(job.brief.against):
        raise Problem(
            f"There is no vehicle ‘{name.strip()}’ to compare with.",
            where=name,
            hint=nearest(name, [v.name for v in job.brief.against]),
        )
    return set_brief(job, against=kept)


def add_pattern(job: Job, name: str, taped: Iterable[Taped], diameter: float) -> Job:
    """Keep a bolt pattern with holes of a diameter (mm); refuses readings that do not hold each other."""
    number = job.last_part + 1
    new = Pattern(id=f"H{number}", name=name, taped=tuple(taped), diameter=diameter)
    fit_pattern(new.readings)
    return job.but(patterns=(*job.patterns, new), last_part=number)


def find_pattern(job: Job, name: str) -> Pattern:
    """The pattern of that id or name; refuses an unknown one."""
    for p in job.patterns:
        if name.strip().lower() in (p.id.lower(), p.name.lower()):
            return p
    raise Problem(
        f"There is no bolt pattern ‘{name.strip()}’.",
        where=name,
        hint=nearest(name, [n for p in job.patterns for n in (p.id, p.name)]),
    )


def remove_pattern(job: Job, name: str) -> Job:
    """Let a bolt pattern go, and the adapters that have its holes."""
    gone = find_pattern(job, name)
    return job.but(
        patterns=tuple(p for p in job.patterns if p is not gone),
        adapters=tuple(a for a in job.adapters if gone.id not in (a.one, a.other)),
    )


def add_adapter(job: Job, name: str, one: str, other: str, thickness: float, **more: Any) -> Job:
    """Keep a plate (thickness mm) with the holes of two patterns; more: its other fields."""
    number = job.last_part + 1
    first, second = find_pattern(job, one), find_pattern(job, other)
    new = Adapter(id=f"H{number}", name=name, one=first.id, other=second.id, thickness=thickness, **more)
    if new.material:
        job.material(new.material)
    return job.but(adapters=(*job.adapters, new), last_part=number)


def find_adapter(job: Job, name: str) -> Adapter:
    """The adapter of that id or name; refuses an unknown one."""
    for a in job.adapters:
        if name.strip().lower() in (a.id.lower(), a.name.lower()):
            return a
    raise Problem(
        f"There is no adapter ‘{name.strip()}’.",
        where=name,
        hint=nearest(name, [n for a in job.adapters for n in (a.id, a.name)]),
    )


def remove_adapter(job: Job, name: str) -> Job:
    """Let an adapter go."""
    gone = find_adapter(job, name)
    return job.but(adapters=tuple(a for a in job.adapters if a is not gone))


def find_line(job: Job, name: str) -> SectionLine:
    """The section line of that name; refuses an unknown one."""
    for line in job.lines:
        if line.name.lower() == name.strip().lower():
            return line
    raise Problem(
        f"There is no line ‘{name.strip()}’.", where=name, hint=nearest(name, [line.name for line in job.lines])
    )


def put_line(job: Job, name: str, axis: Literal["x", "y", "z"], at: float) -> Job:
    """Draw a section line at a coordinate (mm), or move the one of that name; the joints that are laid to it follow."""
    if not name.strip():
        raise Problem("A line needs a name.", hint=said.example("Write for example: line roof z [1340]"))
    old = next((line for line in job.lines if line.name.lower() == name.strip().lower()), None)
    if old is None:
        return job.but(lines=(*job.lines, SectionLine(name=name.strip(), axis=axis, at=at)))
    if old.axis != axis:
        raise Problem(
            f"{old.name} is a line along {old.axis}.", where=name, hint="Remove it first, or take another name."
        )
    moved = put(job, old.joints, **{axis: at}) if old.joints else job
    return moved.but(lines=tuple(line.but(at=at) if line is old else line for line in moved.lines))


def lay_to_line(job: Job, name: str, joints: Iterable[str]) -> Job:
    """Lay joints to a section line, where they then follow it."""
    line = find_line(job, name)
    named = [job.joint(j).id for j in joints]
    made = put(job, named, **{line.axis: line.at})
    kept = tuple(dict.fromkeys((*line.joints, *named)))
    return made.but(lines=tuple(v.but(joints=kept) if v is line else v for v in made.lines))


def remove_line(job: Job, name: str) -> Job:
    """Let a section line go; its joints stay where they are."""
    gone = find_line(job, name)
    return job.but(lines=tuple(line for line in job.lines if line is not gone))
