"""Prove on paper: every figure with how it was come by, all cases with their sums, every tube's margins, what was
measured, and every assumption."""

from __future__ import annotations

import math
from collections.abc import Iterable

from ironcage.core.answers.prove import (
    balance,
    braces,
    cases,
    measured,
    stiffness,
    strength,
    vibration,
)
from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.exchange.story import Story
from ironcage.core.job.text.proving import level_text
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.proving import LEVELS
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import Units

BRACES, ENERGIES = 8, 12
CAUTION = (
    "This is an estimate of stiffness and stress by linear theory, for choosing tubes. It is no judgement of a roll "
    "structure and no licence to drive: for that ask your sanctioning body, "
    "your local authority and a licensed engineer."
)


def to_report(job: Job) -> bytes:
    """The report as PDF, A4. Raises Problem where the frame can't be twisted; what else can't be worked out says why in
    its place."""
    told = stiffness.answer(job)
    story = Story(units_of(job))
    story.title(f"{job.brief.name}: stiffness and strength")
    story.words(CAUTION)
    _stiffness(story, job, told)
    for heading, write in (
        ("How stiff is enough", _balance),
        ("Load cases", _cases),
        ("Strength, tube by tube", _strength),
        ("What moves", _moves),
        ("Buckling of the whole", _buckling),
        ("Vibration", _vibration),
        ("What to do next", _next),
        ("Twist test of the real frame", _test),
    ):
        story.heading(heading)
        try:
            write(story, job)
        except Problem as problem:
            story.words(problem.sentence)
    story.heading("Assumptions and limits")
    for line in (
        *_modelled(job),
        *stiffness.ASSUMPTIONS,
        *cases.ASSUMED,
        *strength.ASSUMED,
        *vibration.ASSUMED,
        balance.ASSUMED,
    ):
        story.words(line)
    return story.pdf(f"{job.brief.name} · {len(job.tubes)} tubes", "an estimate, not an approval of anything")


def _share(value: float) -> str:
    return f"{value:.0%}" if math.isfinite(value) else "–"


def _stiffness(story: Story, job: Job, told: stiffness.ProveAnswer) -> None:
    units = units_of(job)
    story.heading("Stiffness")
    rows = [
        ("twist", units.torsional_stiffness(told.torsion)),
        (
            "twist by mass of the bare frame",
            f"{units.torsional_stiffness_per_mass(told.per_kg)} {units.torsional_stiffness_name} per {units.mass_unit}",
        ),
    ]
    rows += [
        (name, units.linear_stiffness(value))
        for name, value in (("bending", told.bending), ("sideways", told.lateral))
        if value is not None
    ]
    rows += [("mass of the frame", units.mass(told.mass))]
    story.table(("figure", "value"), rows)
    story.table(
        ("between", "and", f"twist under {units.torque(stiffness.TORQUE / 1000)}", "share of strain energy"),
        [
            (
                f"{r.front.left}/{r.front.right}",
                f"{r.rear.left}/{r.rear.right}",
                units.turn_of_length(r.slope),
                f"{r.energy:.1%}",
            )
            for r in told.regions
        ],
    )
    ranked = sorted(zip(job.tubes, told.energy, strict=True), key=lambda pair: -pair[1])[:ENERGIES]
    story.table(
        ("tubes that work most in twist", "section", "share of strain energy"),
        [(t.id, t.section, f"{e:.1%}") for t, e in ranked],
    )


def _balance(story: Story, job: Job) -> None:
    made = balance.roll_balance(job)
    story.words(
        f"{made.share:.0%} of a small change of the front's share of roll stiffness reaches the tyres through this "
        f"frame. " + " ".join(f"{part:.0%} takes {units_of(job).torsional_stiffness(k)}." for part, k in made.needs)
    )


def _cases(story: Story, job: Job) -> None:
    levels, units = job.proving.levels, units_of(job)
    story.words(
        "Levels: "
        + ", ".join(f"{k} {level_text(k, getattr(levels, k.replace(' ', '_')), units)}" for k in LEVELS)
        + "."
    )
    rows = []
    for c in cases.load_cases(job):
        if c.problem:
            rows.append((c.name, "–", "–", "–", c.problem))
        else:
            rows.append(
                (
                    c.name,
                    _three(c.applied, units),
                    "joints hold" if c.held else _three(c.inertia, units),
                    "–" if c.held else f"{c.residual[0]:.1e} N",
                    " ".join(c.held),
                )
            )
    story.table(
        (
            "case",
            f"pushes, {units.force_name} x y z",
            f"masses answer, {units.force_name} x y z",
            "left over",
            "held at, or why it is not worked out",
        ),
        rows,
    )


def _three(force: Iterable[float], units: Units) -> str:
    return " ".join(units.in_force(v) for v in force)


def _strength(story: Story, job: Job) -> None:
    made = strength.tube_strength(job)
    rows = [
        (
            t.tube,
            job.tube(t.tube).section,
            f"{t.use:.0%}",
            t.check,
            t.cause,
            t.case,
            t.at,
            f"{t.stress:.0f}",
            *(_share(m) for m in t.margins),
        )
        for t in sorted(made.tubes, key=lambda t: -t.use)
    ]
    story.table(("tube", "section", "used", "by", "cause", "case", "at", "MPa", "left: yield", "weld", "column"), rows)


def _moves(story: Story, job: Job) -> None:
    rows = [
        (
            m.what,
            m.case,
            units_of(job).fine(m.mm, unit=False),
            "–" if m.angle is None else f"{math.degrees(m.angle):.2f}",
            "too far" if m.too_far else "",
        )
        for m in strength.moves(job, strength.tube_strength(job))
    ]
    story.table(("what", "worst in", units_of(job).length_name, "°", ""), rows)


def _buckling(story: Story, job: Job) -> None:
    story.table(
        ("case", "buckles at times its loads", "most at"),
        [(c.case, f"{c.factor:.1f}" if math.isfinite(c.factor) else "never", c.tube) for c in vibration.collapses(job)],
    )


def _vibration(story: Story, job: Job) -> None:
    made = vibration.frame_vibration(job)
    for words, found in (("bare", made.bare), ("with its masses", made.loaded)):
        story.words(f"{words}: " + ", ".join(f"{m.hz:.1f} Hz {m.kind}" for m in found))


def _next(story: Story, job: Job) -> None:
    units = units_of(job)
    clear = [b for b in braces.rank_braces(job) if not b.blocked][:BRACES]
    story.table(
        ("brace", "section", f"twist stiffness, {units.torsional_stiffness_name}", "mass"),
        [
            (
                "–".join(b.joints),
                b.section,
                f"{units.in_torsional_stiffness(b.change.torsion):+.1f}",
                units.change_of_mass(b.change.kg),
            )
            for b in clear
        ],
    )


def _test(story: Story, job: Job) -> None:
    made = measured.measured_frame(job)
    units = units_of(job)
    story.words(
        f"Measured {units.torsional_stiffness(made.measured.stiffness)} ± "
        f"{units.torsional_stiffness(made.measured.spread)}; the model says {units.torsional_stiffness(made.model)}. "
        + (f"It agrees with a joint factor of {made.factor:.3f}." if made.factor else made.why)
    )


def _modelled(job: Job) -> Iterable[str]:
    frame = beam_frame(job)
    yield f"{len(frame.ends)} tubes, {len(frame.stressed)} panels and parts that carry load. {stiffness.modelled(job)}"
    for m in {t.material: job.material(t.material) for t in job.tubes}.values():
        yield (
            f"{m.name}: E {m.e:,.0f} MPa, G {m.g:,.0f} MPa, yield {m.yield_strength:g} MPa, "
            f"{m.as_welded_yield:g} MPa beside a weld. {m.source}"
        )
