"""Snags: everything that is wrong or unknown in a job, worst first, each with what it is about and a mend.

The same list is on the screen and in `iron-cage check`. A finding never changes the job.
"""

import math
from collections import Counter
from collections.abc import Callable, Iterator

from ironcage.core.answers import clashes, cut, drives, jig, people, prove, rules
from ironcage.core.answers.cache import remembered
from ironcage.core.answers.framechecks import FRAME_CHECKS
from ironcage.core.answers.mass import loads, stance, weigh
from ironcage.core.answers.model import beam_frame
from ironcage.core.answers.names import name_of
from ironcage.core.answers.provechecks import strong_enough
from ironcage.core.answers.snag import RANK, Snag, be, has, named
from ironcage.core.calc.frames.beams import pieces
from ironcage.core.job.edits.joints import SAME_PLACE_MM, flipped
from ironcage.core.job.edits.tubes import crosses
from ironcage.core.job.store.scans import triangles
from ironcage.core.job.text import units_of
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

NEAR_SADDLE_MM = 0.05


@remembered(
    "joints", "tubes", "shelf", "fittings", "pickups", "wheels", "masses", "table", "parts", "people", "chains", "shafts", "rules", "brief", "proving"
)  # fmt: skip
def find_snags(job: Job) -> tuple[Snag, ...]:
    """Every snag of a job, worst first."""
    if not started(job):
        return ()
    found = [snag for check in CHECKS for snag in check(job)]
    return tuple(sorted(found, key=lambda s: RANK[s.severity]))


def started(job: Job) -> bool:
    """Whether there is anything in a job yet."""
    return bool(job.joints or job.placed or job.rules.rules)


def loose_joints(job: Job) -> Iterator[Snag]:
    """Joints that no tube ends at."""
    loose = tuple(j.id for j in job.joints if j.id not in job.tubes_at)
    if loose:
        yield Snag("wrong", "loose joint", "frame", f"{named(loose)} {be(loose)} on no tube.", loose,
                   "Join it with a tube or delete it.")  # fmt: skip


def doubled(job: Job) -> Iterator[Snag]:
    """Tubes that join the same two joints, and joints at one place."""
    counts = Counter(
        (frozenset(t.ends), bool(t.corners)) for t in job.tubes
    )  # a straight one may stand under a bent one
    for key in (k for k, n in counts.items() if n > 1):
        twice = tuple(t.id for t in job.tubes if (frozenset(t.ends), bool(t.corners)) == key)
        yield Snag("wrong", "doubled tube", "frame", f"{named(twice)} join the same two joints.", twice, "Delete one.")
    cells: dict[tuple[int, ...], list[str]] = {}
    for j in job.joints:
        cells.setdefault(tuple(round(v / SAME_PLACE_MM / 2) for v in j.place), []).append(j.id)
    for names in cells.values():
        if len(names) > 1:
            yield Snag(
                "wrong", "doubled joint", "frame", f"{named(names)} stand at one place.", tuple(names), "Merge them."
            )


def no_length(job: Job) -> Iterator[Snag]:
    """Tubes whose joints coincide."""
    short = tuple(
        t.id for t in job.tubes if math.dist(job.joint_by_id[t.a].place, job.joint_by_id[t.b].place) < SAME_PLACE_MM
    )
    if short:
        yield Snag(
            "wrong", "no length", "frame", f"{named(short)} {has(short)} no length.", short, "Move one of its joints."
        )


def apart(job: Job) -> Iterator[Snag]:
    """Parts of the frame that nothing joins to the rest."""
    if not job.tubes:
        return
    try:
        frame = beam_frame(job)
    except Problem:
        return  # a tube without length: listed by no_length
    for part in pieces(frame)[1:]:
        names = tuple(frame.node_names[i] for i in part)
        yield Snag("wrong", "in pieces", "frame", f"{named(names)} {be(names)} joined to each other but not to the rest of "
                   "the frame.", names, "Join them to it with a tube.")  # fmt: skip


def mirror(job: Job) -> Iterator[Snag]:
    """Pairs that do not stand opposite each other, and tubes with no partner on the other side."""
    for j in job.joints:
        other = job.joint_by_id.get(j.twin or "")
        if other and j.y >= 0 and math.dist(flipped(j.place), other.place) > SAME_PLACE_MM:
            off = math.dist(flipped(j.place), other.place)
            yield Snag("wrong", "not mirrored", "frame", f"{j.id} and {other.id} are a pair but {off:.1f} mm from being "
                       "mirror images.", (j.id, other.id), "Put one of them again.")  # fmt: skip
    single = tuple(t.id for t in job.tubes if _one_sided(job, t.ends))
    if single:
        yield Snag("look", "one side only", "frame", f"{named(single)} {has(single)} no partner on the other side.", single,
                   "Leave it if it is meant, as a single diagonal often is.")  # fmt: skip


def _one_sided(job: Job, ends: tuple[str, str]) -> bool:
    """Whether a tube between paired joints lacks its mirror. One that crosses the centreline would be crossed by it, and has none."""
    if crosses(job, ends):
        return False
    twins = tuple(job.joint_by_id[end].twin for end in ends)
    if not all(twins) or set(twins) == set(ends):
        return False
    return frozenset(t for t in twins if t) not in job.tube_by_ends


def stiffness(job: Job) -> Iterator[Snag]:
    """Why the frame can't be worked out, if it can't."""
    if not job.tubes:
        return
    missing = [
        c for c in ("front left", "front right", "rear left", "rear right") if all(p.corner != c for p in job.pickups)
    ]
    if missing:
        yield Snag("unknown", "no pickup", "prove", f"There is no pickup at the {', '.join(missing)}, so twist is not known.", (),
                   "Choose a joint there and type: pickup.")  # fmt: skip
        return
    try:
        prove.answer(job)
    except Problem as problem:
        known = problem.where in job.joint_by_id or problem.where in job.tube_by_id
        yield Snag("wrong", "can't be proved", "prove", problem.what, (problem.where,) if known else (), problem.hint)


def car(job: Job) -> Iterator[Snag]:
    """What is missing to weigh the car."""
    for end in ("front", "rear"):
        if not any(w.corner.startswith(end) for w in job.wheels):
            yield Snag("unknown", "no wheels", "frame", f"There are no {end} wheels, so wheelbase and axle split are not known.",
                       (), f"Type: wheels {end} 0 650 290 dia 580 width 165")  # fmt: skip
    weighed = weigh(job)
    if weighed.wheelbase is not None and weighed.wheelbase <= 0:
        yield Snag("wrong", "axles the wrong way", "frame", "The front wheels do not stand ahead of the rear ones.", (),
                   "x counts forward: give the front wheels the larger one.")  # fmt: skip
    if not job.masses and not job.parts and not job.people:
        yield Snag("unknown", "no masses", "place", "Nothing heavy is placed, so only the frame is weighed.", (),
                   "Type: place engine 1.2 at -1870 0 430")  # fmt: skip


def standing(job: Job) -> Iterator[Snag]:
    """A car that does not stay on its wheels."""
    made, wheelbase = stance(job), weigh(job).wheelbase
    if made is not None and made.stance is None and wheelbase and wheelbase > 0:
        heaviest = max(loads(job), key=lambda h: h.mass).id
        yield Snag("wrong", "falls over", "place", made.problem, (heaviest,), "Move what weighs most, or the wheels.")


def cuts(job: Job) -> Iterator[Snag]:
    """Pieces that can't be cut as they are, and notes that matter at the saw."""
    if not job.tubes:
        return
    try:
        pieces_cut = cut.answer(job).pieces
    except Problem:
        return  # a tube without length: listed by no_length
    for piece in pieces_cut:
        for problem in piece.problems:
            yield Snag("wrong", "can't be cut", "cut", f"{problem[0].upper()}{problem[1:]}", piece.tubes)
        for end in (piece.first, piece.second):
            for note in (n for n in end.notes if n.startswith("wider")):
                yield Snag(
                    "look",
                    "hard to cut",
                    "cut",
                    f"{piece.id} at {end.joint} is {note}.",
                    (*piece.tubes, end.joint),
                    "Take a tube no wider than what it lands on, or close the rest with a plate.",
                )


def clash(job: Job) -> Iterator[Snag]:
    """What is nearer to something than its margin, and parts that can't come out."""
    made, units = clashes.find_clashes(job), units_of(job)
    for n in made.clashes:
        one, other = name_of(job, n.first), name_of(job, n.second)
        part = f" ({n.part})" if n.part else ""
        if n.state == "overlap":
            yield Snag("wrong", "clash", "place", f"{one} runs {units.length(-n.gap)} into {other}{part}.", (n.first, n.second),
                       "Move one of them.")  # fmt: skip
        else:
            yield Snag("look", "too near", "place", f"{one} is {units.length(n.gap)} from {other}{part} and wants {units.length(n.margin)}.",
                       (n.first, n.second), "Move one of them, or set a smaller margin.")  # fmt: skip
    lost = tuple(p.id for p in job.parts if p.shape.kind == "scan" and triangles(p.shape.digest) is None)
    if lost:
        yield Snag("unknown", "scan missing", "place", f"The mesh of {named([name_of(job, n) for n in lost])} is not here; the box round it stands in.", lost,
                   "Bring it in again, or put the folder NAME.cage.scans beside the job.")  # fmt: skip
    for b in made.blocked:
        yield Snag("wrong", "can't come out", "place", f"{name_of(job, b.part)} can't slide out: {named(b.by)} {be(b.by)} in the way by up to {units.length(b.depth)}.",
                   (b.part, *b.by), "Turn its way out (set slide), or make what is in the way removable.")  # fmt: skip


def seated(job: Job) -> Iterator[Snag]:
    """People who can't reach."""
    units = units_of(job)
    for p in (p for p in people.people_seated(job) if p.aboard):
        for limb, by in p.short.items():
            yield Snag("wrong", "can't reach", "place", f"{p.name}'s {limb} is {units.length(by)} too short for where it has to reach.", (p.id,),
                       "Bring pedals, wheel or hip nearer.")  # fmt: skip


def driven(job: Job) -> Iterator[Snag]:
    """Chains out of line or without a guard, shafts that shake."""
    units = units_of(job)
    chains, shafts = drives.find_drives(job)
    for c, told in zip(chains, job.chains, strict=True):
        if c.problem:
            yield Snag("wrong", "chain can't run", "place", c.problem, (c.id,))
        elif not c.in_line and c.line:
            yield Snag("wrong", "out of line", "place", f"{c.name} is out of line: {math.degrees(c.line.plan):.2f}° in plan, {math.degrees(c.line.elevation):.2f}° in "
                       f"elevation, {units.length(c.line.offset)} sideways.", (c.id,), "Place tells which block to move and by how much.")  # fmt: skip
        if not c.problem and not told.guarded:
            yield Snag("look", "no guard", "place", f"{c.name} has no guard.", (c.id,), drives.GUARD)
    for s in shafts:
        if s.problem:
            yield Snag("wrong", "shaft can't turn", "place", s.problem, (s.id,))
        elif s.angles and s.angles.left_over > MOST_SHAKE:
            yield Snag("look", "shaft shakes", "place", f"{s.name}'s joints do not cancel: what is left shakes like one joint at "
                       f"{math.degrees(s.angles.left_over):.1f}°.", (s.id,), "Make both joint angles alike in one plane.")  # fmt: skip


def ruled(job: Job) -> Iterator[Snag]:
    """Rules that fail, and those that nobody has judged."""
    units = units_of(job)
    for v in rules.judge_rules(job):
        if v.state == "fail":
            by = {
                "mm": f" by {units.length(-(v.by or 0))}",
                "deg": f" by {-(v.by or 0):.1f}°",
                "count": f" by {-(v.by or 0):.0f}",
            }.get(v.quantity, "")
            yield Snag(
                "wrong",
                "rule failed",
                "brief",
                f"{v.rule} is missed{by}: {v.clause}",
                v.where,
                "Brief shows what was measured.",
            )
    open_rules = [v.rule for v in rules.judge_rules(job) if v.state == "can't tell"]
    if open_rules:
        yield Snag(
            "unknown",
            "rule not judged",
            "brief",
            f"{named(open_rules)} can't be told from the job.",
            (),
            "Judge them yourself, and tick the notes.",
        )


MOST_SHAKE = math.radians(3)  # the usual limit for a shaft that turns at engine speed


def stands(job: Job) -> Iterator[Snag]:
    """Stands that are missing, off the table, too low or with nothing to carry."""
    made = jig.answer(job)
    if job.tubes and len(made.stands) < 3:
        yield Snag("unknown", "no stands", "jig", f"{len(made.stands) or 'No'} {'joint stands' if len(made.stands) == 1 else 'joints stand'} "
                   "on the table; three or more hold a frame.", (), "Choose joints and type: stand")  # fmt: skip
    off = tuple(s.joint for s in made.stands if not s.on_table)
    if off:
        yield Snag("wrong", "off the table", "jig", f"{named(off)} {'stands' if len(off) == 1 else 'stand'} off the table.", off,
                   "Move or enlarge the table.")  # fmt: skip
    low = tuple(s.joint for s in made.stands if s.saddle < job.table.least_saddle - NEAR_SADDLE_MM)
    if low and made.best_top_z is not None:
        yield Snag("wrong", "saddle too low", "jig", f"The saddle at {named(low)} is lower than the least height of "
                   f"{job.table.least_saddle:g} mm.", low, f"Put the table's top at {made.best_top_z:.1f} mm.")  # fmt: skip
    bare = tuple(s.joint for s in made.stands if not s.tube)
    if bare:
        yield Snag("look", "nothing to carry", "jig", f"No tube at {named(bare)} is level enough for a saddle.", bare,
                   "Choose another joint or clamp it.")  # fmt: skip


Check = Callable[[Job], Iterator[Snag]]
CHECKS: tuple[Check, ...] = (
    loose_joints,
    doubled,
    no_length,
    apart,
    mirror,
    stiffness,
    car,
    standing,
    cuts,
    stands,
    clash,
    seated,
    driven,
    ruled,
    *FRAME_CHECKS,
    strong_enough,
)
