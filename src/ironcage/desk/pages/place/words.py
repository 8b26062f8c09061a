"""What Place says in rows of two: people, drives, stance, holes and lines."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.place import drives as driven
from ironcage.core.answers.place import people as seated
from ironcage.core.answers.place import placing
from ironcage.core.answers.place.sectionlines import LineAnswer
from ironcage.core.answers.shared.extent import extent
from ironcage.core.answers.shared.ground import ground_of
from ironcage.core.answers.shared.mass import ASSUMED
from ironcage.core.answers.shared.names import name_of
from ironcage.core.answers.shared.patterns import AdapterAnswer, PatternAnswer
from ironcage.core.answers.shared.pulling import ASSUMED as PULL_ASSUMED
from ironcage.core.answers.shared.pulling import pulled
from ironcage.core.answers.shared.segments import PipeSegments, pipe_segments
from ironcage.core.calc.plane.pattern import SLIP_MM
from ironcage.core.job.geometry.bodies import pipe_route
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Chain, Part, Pipe
from ironcage.units import Units, said
from ironcage.units.quantity import LENGTH

MOST_GAPS = 3  # from a section line, that are told in its row
ALWAYS = ("person", "engine", "motor")  # are told at every section line: a roof or a bonnet is laid over them
SIDES = {"x": ("ahead of", "behind"), "y": ("left of", "right of"), "z": ("over", "under")}
LEVEL_DEG = 0.005  # a frame that is less off level stands level


@dataclass(frozen=True)
class ToldRow:
    """A row of two: what it is, what it says, and what is chosen by picking it."""

    what: str
    says: str
    where: tuple[str, ...] = ()
    wrong: bool = False


def people(job: Job, result: placing.PlaceAnswer, units: Units) -> list[ToldRow]:
    """Who reaches, how they sit, and how much room there is."""
    rows: list[ToldRow] = []
    for p in result.people:
        first = f"{p.name}{'' if p.aboard else ', not aboard'}"
        reach = ", ".join(f"{limb} {units.length(by)} short" for limb, by in p.short.items()) or "hands and feet reach"
        rows.append(ToldRow(first, reach, (p.id,), bool(p.short)))
        for r in p.readings:
            value = "–" if r.value is None else r.quantity.show(units, r.value)
            against = f" to {name_of(job, r.against)}" if r.against else ""
            says = " · ".join(filter(None, (f"{value}{against}", r.why)))
            where = (p.id, r.against) if r.against else (p.id,)
            rows.append(
                ToldRow(
                    f"{p.name}: {r.name}",
                    says,
                    where,
                    p.aboard and r.value is not None and r.quantity is LENGTH and r.value < 0,
                )
            )
        angles = ", ".join(
            f"{k} {v:.0f}° ({p.beyond[k]:+.0f}°)"
            for k, v in p.angles.items()
            if k in p.beyond and not k.startswith("right")
        )
        rows.append(ToldRow(f"{p.name}: comfort", angles or "every joint within the comfortable range", (p.id,)))
        if p.heel_lift > 1:
            rows.append(ToldRow(f"{p.name}: heels", f"{units.length(p.heel_lift)} off the floor", (p.id,)))
    rows += [ToldRow(f"note {n + 1}", text) for n, text in enumerate(seated.ASSUMPTIONS)] if result.people else []
    return rows


def drives(job: Job, result: placing.PlaceAnswer, units: Units) -> list[ToldRow]:
    """Chains and shafts: length, line, what mends it, gears."""
    rows: list[ToldRow] = []
    for answer, chain in zip(result.chains, job.chains, strict=True):
        rows += _chain(answer, chain, units)
    for shaft in result.shafts:
        rows += _shaft(shaft, units)
    if not rows:
        return [ToldRow("nothing yet", "No chain, belt or shaft is laid. ‘Put in…’ starts one.")]
    return [*rows, ToldRow("limits", driven.LIMITS)]


def _chain(c: driven.ChainAnswer, chain: Chain, units: Units) -> Iterator[ToldRow]:
    if c.fit is None or c.line is None or c.mend is None:
        yield ToldRow(c.name, units.say(c.problem), (c.id,), True)
        return
    yield ToldRow(
        c.name, f"{c.fit.links} links (tight at {c.fit.needed:.2f}), centres {units.fine(c.centres)}", (c.id,)
    )
    take_up = (
        f"centres grow {units.fine(c.fit.take_up)} until tight, {units.fine(c.fit.worn)} more by wear; "
        f"or a slack run pushed {units.length(c.fit.sag)}"
    )
    yield ToldRow(f"{c.name}: take-up", take_up, (c.id,))
    yield ToldRow(f"{c.name}: travel", f"needs {c.bump:+.2f} pitches at bump, {c.droop:+.2f} at droop", (c.id,))
    line = (
        f"driven shaft's left end {abs(math.degrees(c.line.plan)):.2f}° {'ahead' if c.line.plan >= 0 else 'behind'}, "
        f"{abs(math.degrees(c.line.elevation)):.2f}° {'up' if c.line.elevation >= 0 else 'down'}; "
        f"driven wheel {units.fine(abs(c.line.offset))} to the {'left' if c.line.offset >= 0 else 'right'}"
        f"{'' if c.in_line else ' – out of line'} "
        f"(allowed {math.degrees(chain.most_angle):.2f}°, {units.fine(chain.most_offset)})"
    )
    yield ToldRow(f"{c.name}: line", line, (c.id,), not c.in_line)
    if not c.in_line:
        mend = (
            f"right block {units.fine(abs(c.mend.forward))} {'forward' if c.mend.forward > 0 else 'back'}, "
            f"{units.fine(abs(c.mend.up))} {'up' if c.mend.up > 0 else 'down'}; "
            f"wheel {units.fine(abs(c.mend.along))} {'left' if c.mend.along > 0 else 'right'}"
        )
        yield ToldRow(f"{c.name}: mend", mend, (c.id,))
    if c.blocks:
        best = f"best with {c.blocks[0].words}: leaves {math.degrees(c.blocks[0].leaves):+.2f}° in elevation"
        yield ToldRow(f"{c.name}: blocks", best, (c.id,))
    for n, g in enumerate(c.gears):
        speed = "" if g.speed_per_1000 is None else f", {units.speed(g.speed_per_1000)} at 1000 rpm"
        torque = "" if g.torque is None else f", {units.torque(g.torque)} at the wheels"
        yield ToldRow(f"{c.name}: gear {n + 1}", f"{g.engine_turns:.2f} engine turns a turn{speed}{torque}", (c.id,))
    guard = "fitted" if chain.guarded else f"none. {driven.GUARD}"
    yield ToldRow(f"{c.name}: guard", guard, (c.id,), not chain.guarded)


def _shaft(s: driven.ShaftAnswer, units: Units) -> Iterator[ToldRow]:
    if s.angles is None:
        yield ToldRow(s.name, units.say(s.problem), (s.id,), True)
        return
    a = s.angles
    joints = f"joints {math.degrees(a.first):.1f}° and {math.degrees(a.second):.1f}°"
    yield ToldRow(s.name, f"{joints}, {units.length(a.length)} between them", (s.id,))
    planes = (
        f"plan {math.degrees(a.plan[0]):+.1f}° and {math.degrees(a.plan[1]):+.1f}°, "
        f"side {math.degrees(a.side[0]):+.1f}° and {math.degrees(a.side[1]):+.1f}°"
    )
    yield ToldRow(f"{s.name}: plan and side", planes, (s.id,))
    cancels = a.left_over < math.radians(0.5)
    evenness = "joints cancel" if cancels else f"shakes like one joint at {math.degrees(a.left_over):.1f}°"
    yield ToldRow(f"{s.name}: evenness", evenness, (s.id,), a.left_over > math.radians(3))
    plunge = f"{units.fine(s.plunge[0])} to {units.fine(s.plunge[1])} over its travel"
    yield ToldRow(f"{s.name}: plunge", plunge, (s.id,))


def stance(job: Job, result: placing.PlaceAnswer, units: Units) -> list[ToldRow]:
    """Loads on the wheels, when they lift, and what moves the split."""
    w, s = result.weighed, result.stance
    if s is None:
        return [ToldRow("not yet", "Wheels at both ends and something heavy are needed.")]
    x, y, z = (float(v) for v in w.car.cg)
    datum = job.datum
    if s.stance is None:
        return [
            ToldRow("falls over", s.problem, (), True),
            ToldRow(
                "car",
                f"{units.mass(w.car.mass)}, CG {units.point((x - datum.x, y - datum.y, z - datum.z))} from "
                f"{datum.name}",
            ),
        ]
    corners = s.stance.corners
    aim = next((t for t in job.brief.targets if t.kind == "mass"), None)
    aimed = (
        ""
        if aim is None
        else f"; target {units.mass(aim.value)}, {units.mass(abs(w.car.mass - aim.value))} "
        f"{'over' if w.car.mass > aim.value else 'to spare'}"
    )
    rows = [
        ToldRow(
            "car",
            f"{units.mass(w.car.mass)}, CG {units.point((x - datum.x, y - datum.y, z - datum.z))} from "
            f"{datum.name}{aimed}",
        ),
        ToldRow(
            "front axle",
            f"{(w.front_share or 0) * 100:.1f} %, left {units.mass(corners[0])}, right {units.mass(corners[1])}",
        ),
        ToldRow(
            "rear axle",
            f"{100 - (w.front_share or 0) * 100:.1f} %, left {units.mass(corners[2])}, right {units.mass(corners[3])}",
        ),
        *_rake_rows(job, units),
        ToldRow("front wheels lift", f"at {s.stance.front_lifts:.2f} g forward"),
        *_pull_rows(job),
        ToldRow("rear wheels lift", f"at {s.stance.rear_lifts:.2f} g braking"),
        ToldRow(
            "tips over",
            f"on a slope of {math.degrees(s.stance.tips_left):.0f}° to the left, "
            f"{math.degrees(s.stance.tips_right):.0f}° to the right",
        ),
    ]
    step = 25.4 if units.length_unit == "inch" else 30.0
    for lever in s.levers[:8]:
        rows.append(
            ToldRow(
                f"{lever.load.name} back {units.length(step)}",
                f"front axle {-lever.share_per_mm * step * 100:+.2f} %; up: CG up "
                f"{units.fine(lever.height_per_mm * step)}",
                (lever.load.id,),
            )
        )
    return [*rows, *(ToldRow(f"note {n + 1}", text) for n, text in enumerate(ASSUMED))]


def _rake_rows(job: Job, units: Units) -> list[ToldRow]:
    """How the frame stands on its tyres, and what is lowest so."""
    ground = ground_of(job)
    if ground is None:
        return []
    rake, low = math.degrees(ground.rake), extent(job)
    how = "level" if abs(rake) < LEVEL_DEG else f"nose {'down' if rake > 0 else 'up'} {abs(rake):.2f}°"
    lowest = "" if low.clearance is None else f"; lowest {name_of(job, low.lowest)}, {units.length(low.clearance)} up"
    return [ToldRow("rake", f"the frame stands {how} on its tyres{lowest}", (low.lowest,) if low.lowest else ())]


def _pull_rows(job: Job) -> list[ToldRow]:
    """How hard the car pulls away, where that is told."""
    made = pulled(job)
    if made is None:
        return []
    held = "" if math.isinf(made.tyres) else f", its tyres hold {made.tyres:.2f} g"
    ends = {
        "front wheels": f"it lifts its front wheels at {made.lifts:.2f} g",
        "engine": "all of it reaches the ground",
        "tyres": "its tyres slip before",
    }
    words = f"engine and gears ({made.ratio:.1f} to 1) push {made.engine:.2f} g{held}: {ends[made.limit]}"
    return [ToldRow("pulls away", words, (), made.limit == "front wheels"), ToldRow("pulling", PULL_ASSUMED)]


def _pipe_row(part: Part, pipe: Pipe, units: Units) -> ToldRow:
    """How a pipe is made: its length along the centreline, and in their order what is straight and what is bent."""
    route = pipe_route(pipe)
    if pipe.mitres:
        return _segment_row(part, pipe_segments(part, pipe), units)
    steps = [f"{units.length(float(route.straights[0]))} straight"]
    for bend, straight in zip(route.bends, route.straights[1:], strict=True):
        turned = f", turned {math.degrees(bend.clock):.0f}°" if bend.clock else ""
        steps += [f"bend {math.degrees(bend.angle):.1f}°{turned}", units.length(float(straight))]
    return ToldRow(
        part.name,
        f"pipe {units.length(pipe.diameter)}, {units.length(route.length)} long: {', '.join(steps)}",
        (part.id,),
    )


def _on_circle(pattern: PatternAnswer, units: Units) -> str:
    circle = pattern.circle
    return f" on a circle of {units.fine(circle.diameter)}, {units.fine(circle.off)} off it at most" if circle else ""


def _adapter(adapter: AdapterAnswer, units: Units) -> str:
    """A plate with two patterns in a line: its size, what is between its holes, and what is wrong with it."""
    wide, high = map(float, np.ptp(adapter.flat.outline, axis=0))
    told = (
        f"{units.length(adapter.thickness)} {adapter.material}, {units.length(wide)} by "
        f"{units.length(high)}, {len(adapter.holes)} holes"
    )
    if adapter.problem:
        return f"{told}. {units.say(adapter.problem)}"
    return f"{told}, at least {units.fine(adapter.web)} between {adapter.nearest[0]} and {adapter.nearest[1]}"


def _segment_row(part: Part, made: PipeSegments, units: Units) -> ToldRow:
    """How a pipe is cut from straight tube: each different segment, and the order in which they come."""
    if made.problem:
        return ToldRow(part.name, units.say(made.problem), (part.id,), True)
    kinds = [
        f"{chr(ord('a') + n)}: {count} off, {units.fine(s.longest)} longest, {units.fine(s.shortest)} shortest, saw "
        f"{math.degrees(s.first):.1f}° and {math.degrees(s.second):.1f}°"
        for n, (s, count) in enumerate(made.kinds)
    ]
    order = " ".join(chr(ord("a") + k) for k in made.order)
    return ToldRow(
        part.name,
        f"{len(made.order)} segments of {units.length(made.diameter)}, {order}; {'; '.join(kinds)}",
        (part.id,),
    )


def shop(job: Job, result: placing.PlaceAnswer, units: Units) -> list[ToldRow]:
    """Bolt patterns with their fit, how pipes are made, section lines with what follows them."""
    rows: list[ToldRow] = []
    for p in result.patterns:
        one, other, _ = p.fitted.readings[p.fitted.worst]
        off = float(p.fitted.residuals[p.fitted.worst])
        told = f"worst reading {one}-{other} {units.fine(off)} off" if p.fitted.spare else "no reading checks another"
        rows.append(
            ToldRow(
                p.name,
                f"{len(p.fitted.holes)} holes of {units.length(p.diameter)}{_on_circle(p, units)}, {told}",
                (),
                abs(off) > SLIP_MM,
            )
        )
        rows += [ToldRow(f"{p.name}: doubt", doubt, (), True) for doubt in p.fitted.doubts]
        rows += [
            ToldRow(f"{p.name}: hole {h}", f"x {units.fine(float(x))}  y {units.fine(float(y))}")
            for h, (x, y) in zip(p.fitted.holes, p.fitted.places, strict=True)
        ]
    rows += [ToldRow(f"adapter {a.name}", _adapter(a, units), (), bool(a.problem)) for a in result.adapters]
    rows += [_pipe_row(p, p.shape, units) for p in job.parts if p.shape.kind == "pipe"]
    rows += [_line_row(job, told, units) for told in result.lines]
    return rows or [
        ToldRow(
            "nothing yet",
            units.say(said.example("Type a pattern taped between hole centres, or a section line: line roof z [1340]")),
        )
    ]


def _line_row(job: Job, told: LineAnswer, units: Units) -> ToldRow:
    """Where a section line is, how far from the nearest things, and what follows it."""
    line = told.line
    at = units.length(line.at - getattr(job.datum, line.axis))
    after, before = SIDES[line.axis]
    gaps = []
    for n, gap in enumerate(told.gaps):
        if n >= MOST_GAPS and gap.use not in ALWAYS:
            continue
        name = f"{gap.name} ({gap.piece})" if gap.piece not in ("", gap.name) else gap.name
        side, far = (after if gap.above else before), units.length(abs(gap.gap))
        gaps.append(f"{far} {side} {name}" if gap.gap >= 0 else f"{name} reaches {far} {side} it")
    more = len(told.gaps) - len(gaps)
    gaps += [f"{more} more are further off"] * (more > 0)
    follow = (
        f"{', '.join(line.joints[:6])} {'follows' if len(line.joints) == 1 else 'follow'}"
        if line.joints
        else "no joint is laid to it"
    )
    return ToldRow(f"line {line.name}", f"{line.axis} {at}: {'; '.join((*gaps, follow))}", line.joints)
