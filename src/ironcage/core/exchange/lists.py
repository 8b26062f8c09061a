"""Tables as CSV, lengths in the builder's own unit with the unit in the head."""

import csv
import io
import math
from collections.abc import Iterable, Sequence

from ironcage.core.answers.cut.bars import BarsAnswer
from ironcage.core.answers.cut.markout import lengths
from ironcage.core.answers.cut.pieces import CutAnswer
from ironcage.core.answers.cut.progress import progress
from ironcage.core.answers.cut.turned import find_turned
from ironcage.core.answers.jig.stands import JigAnswer
from ironcage.core.answers.log.days import log_answer
from ironcage.core.answers.prove import strength
from ironcage.core.answers.shared import fittings
from ironcage.core.calc.tubes.fits import Limits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.units import Units
from ironcage.units.tables import INCH

FORMULA = ("=", "+", "-", "@", "\t", "\r")  # what begins a formula in a spreadsheet


def table(head: Sequence[str], rows: Iterable[Sequence[object]], units: Units) -> bytes:
    """A head and rows as the bytes of a CSV file; quantities inside words in the job's units."""
    stream = io.StringIO(newline="")
    writer = csv.writer(stream)
    writer.writerow(head)
    writer.writerows([no_formula(units.say(v) if isinstance(v, str) else v) for v in row] for row in rows)
    return stream.getvalue().encode("utf-8")


def no_formula(value: object) -> object:
    """What a spreadsheet must not take for a formula is marked as text."""
    return f"'{value}" if isinstance(value, str) and value.startswith(FORMULA) else value


def unit_of(job: Job) -> tuple[str, float, int]:
    """The job's length unit: its short name, mm in it, and the places it is written with."""
    return ("in", INCH, 4) if job.brief.units.length == "inch" else ("mm", 1.0, 2)


def bars_csv(job: Job, made: BarsAnswer) -> bytes:
    """Every bar to cut: one row a bar, its pieces in the order in which they are cut."""
    unit, size, places = unit_of(job)
    head = ["section", "material", "no.", f"bar {unit}", "from", f"pieces: id, bar {unit}", f"rest {unit}"]
    rows = [
        [
            of.section,
            of.material,
            n,
            round(bar.length / size, places),
            "buy" if bar.bought else "rack",
            "; ".join(f"{of.pieces[k]} {of.lengths[k] / size:.{places}f}" for k in bar.parts),
            round(bar.rest / size, places),
        ]
        for of in made.sections
        if of.layout
        for n, bar in enumerate(of.layout.bars, 1)
    ]
    rows += [[of.section, of.material, "", "", "", of.problem, ""] for of in made.sections if of.problem]
    return table(head, rows, units_of(job))


def cut_csv(job: Job, made: CutAnswer) -> bytes:
    """The cut list: one row a piece, both ends."""
    unit, size, places = unit_of(job)
    head = [
        "piece",
        "tubes",
        "section",
        "material",
        "role",
        f"bar {unit}",
        f"saddle tip {unit}",
        f"template tip {unit}",
        f"shoulder {unit}",
        f"centre to centre {unit}",
        job.brief.units.mass,
        "clocking deg",
        "buy",
        f"bends: start {unit}, deg, clock deg, radius {unit}",
        f"lengths {unit}",
        "notes",
        "state",
        f"measured {unit}",
        "why",
    ]
    far = progress(job)
    for end in ("first", "second"):
        head += [
            f"{end} joint",
            f"{end} cut",
            f"{end} tool",
            f"{end} onto",
            f"{end} angle deg",
            f"{end} saw from square deg",
            f"{end} saw turned deg",
            f"{end} saw tilted deg",
            f"{end} hole saw {unit}",
            f"{end} saw middle from square end {unit}",
            f"{end} saw beside the tube {unit}",
            f"{end} then to",
            f"{end} paper from square end {unit}",
            f"{end} shoulder from square end {unit}",
            f"{end} notes",
        ]
    rows = []
    for p in made.pieces:
        row: list[object] = [p.id, " ".join(p.tubes), p.section.name, p.material, p.role]
        row += [round(v / size, places) for v in (p.bar, p.saddle_tip, p.template_tip, p.shoulder, p.centre)] + [
            round(p.mass / units_of(job).bare_kg, 3),
            "" if p.clock is None else round(math.degrees(p.clock), 1),
            p.stock.name,
            "; ".join(
                f"{b.start / size:.{places}f} {math.degrees(b.angle):.1f} {math.degrees(b.clock):.1f} "
                + (f"{b.radius / size:.{places}f}" if b.radius else f"notch {b.mouth / size:.{places}f}")
                for b in p.bends
            ),
            "; ".join(f"{of.length / size:.{places}f}" for of in lengths(job, p)),
            "; ".join(p.notes),
            far[p.id].state,
            round(far[p.id].length / size, places) if far[p.id].length else "",
            far[p.id].why,
        ]
        for e in (p.first, p.second):
            row += [
                e.joint,
                e.kind,
                p.how(e),
                e.onto,
                round(math.degrees(e.angle), 2),
                round(math.degrees(e.saw_angle), 2),
                *(round(math.degrees(a), 2) for a in ((e.setting.turn, e.setting.tilt) if e.setting else ())),
                *(() if e.setting else ("", "")),
                *(round(v / size, places) if e.hole_saw else "" for v in (e.hole_saw or 0.0, e.centre, e.offset)),
                " ".join(e.trims),
                *(round((v - e.profile.bar) / size, places) for v in (e.profile.template_tip, e.profile.shoulder)),
                "; ".join((*p.notes_of(e), *([e.problem] if e.problem else []))),
            ]
        rows.append(row)
    return table(head, rows, units_of(job))


def stand_csv(job: Job, made: JigAnswer) -> bytes:
    """The stands: one row each, from the table's rear right corner."""
    unit, size, places = unit_of(job)
    head = ["joint", f"x {unit}", f"y {unit}", f"saddle {unit}", "tube", "slope deg"]
    rows = [
        [s.joint, *(round(v / size, places) for v in (s.x, s.y, s.saddle)), s.tube, round(math.degrees(s.slope), 2)]
        for s in made.stands
    ]
    return table(head, rows, units_of(job))


def joint_csv(job: Job) -> bytes:
    """The joints, read from the datum that is shown."""
    unit, size, places = unit_of(job)
    datum = job.datum
    rows = [
        [j.id, *(round(v / size, places) for v in (j.x - datum.x, j.y - datum.y, j.z - datum.z)), j.twin or ""]
        for j in job.joints
    ]
    return table(["joint", *(f"{axis} {unit} from {datum.name}" for axis in "xyz"), "mirror"], rows, units_of(job))


def fitting_csv(job: Job) -> bytes:
    """Sheet and fittings: one row each, with what to cut, its weight and its weld."""
    unit, size, places = unit_of(job)
    units = units_of(job)
    rows = [
        [
            f.id,
            f.kind,
            " ".join(f.on),
            f.words,
            f.material,
            round(f.kg / units.bare_kg, 3),
            round(f.weld / size, places),
            round(f.saved / units.bare_kg, 3),
            f.problem,
        ]
        for f in fittings.fitting_facts(job)
    ]
    mass = units.mass_unit
    head = ["fitting", "kind", "on", "cut or buy", "material", mass, f"weld {unit}", f"{mass} saved", "problem"]
    return table(head, rows, units)


def strength_csv(job: Job) -> bytes:
    """Every tube at its worst: one row each, the most used first."""
    rows = [
        [
            t.tube,
            job.tube(t.tube).section,
            job.tube(t.tube).role,
            round(t.use, 4),
            t.check,
            t.cause,
            t.case,
            t.at,
            round(t.stress, 2),
            *(round(m, 3) for m in t.margins),
        ]
        for t in sorted(strength.tube_strength(job).tubes, key=lambda t: -t.use)
    ]
    return table(
        [
            "tube",
            "section",
            "role",
            "used",
            "by",
            "cause",
            "case",
            "at",
            "MPa",
            *(f"left, {c}" for c in strength.MEMBER_CHECKS),
        ],
        rows,
        units_of(job),
    )


def log_csv(job: Job) -> bytes:
    """The log: one row an entry, an order that was made or came, or a task that is to do, by day."""
    head = ["day", "kind", "no.", "what", "of", "hours", "cost", "due", "waits for", "photos"]
    told = log_answer(job)
    rows: list[list[object]] = []
    for day in reversed(told.days):
        when = day.day.isoformat()
        rows += [
            [when, "done", e.id, e.text, " ".join(e.of), e.hours, e.cost, "", "", " ".join(e.photos)]
            for e in day.entries
        ]
        for kind, orders in (("ordered", day.ordered), ("came", day.came)):
            rows += [
                [when, kind, o.id, o.text, " ".join(o.of), "", o.cost if kind == "ordered" else "", o.due, "", ""]
                for o in orders
            ]
    rows += [
        ["", "to do", t.task.id, t.task.text, " ".join(t.task.of), t.task.hours, "", "", " ".join(t.waits), ""]
        for t in told.ahead.tasks
    ]
    return table(head, rows, units_of(job))


def turned_csv(job: Job) -> bytes:
    """What is turned: one row a batch, with its limits."""
    unit, size, places = unit_of(job)

    def limits(made: Limits | None) -> list[object]:
        return (
            ["", "", ""]
            if made is None
            else [made.name, *(round(v / size, places + 2) for v in (made.least, made.most))]
        )

    rows: list[list[object]] = [
        [
            r.name,
            r.what,
            r.count * r.cars,
            round(r.od / size, places + 1),
            *limits(r.od_limits),
            round(r.bore / size, places + 1),
            *limits(r.bore_limits),
            round(r.length / size, places),
            *([round(v / size, places + 1) for v in r.step] if r.step else ["", ""]),
            r.material,
            round(r.stock / size, places),
            " ".join(r.of),
        ]
        for r in find_turned(job).rows
    ]
    head = ["name", "what", "pieces", f"od {unit}", "fit", "least", "most", f"bore {unit}", "fit", "least", "most"]
    head += [f"length {unit}", f"step od {unit}", f"over {unit}", "material", f"bar {unit}", "of"]
    return table(head, rows, units_of(job))
