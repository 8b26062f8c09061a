"""What Cut says, as neutral data. mm, kg, degrees."""

import math
from typing import Any

from ironcage import told
from ironcage.core.answers.cut.bars import SectionBars, find_bars
from ironcage.core.answers.cut.bending import BendCard, bend_cards
from ironcage.core.answers.cut.ends import EndCut
from ironcage.core.answers.cut.here import cut_here
from ironcage.core.answers.cut.markout import Mark, Spot, lengths, marks, spots
from ironcage.core.answers.cut.pieces import Piece, answer
from ironcage.core.answers.cut.progress import PieceProgress, progress
from ironcage.core.answers.cut.turned import TurnedRow, find_turned
from ironcage.core.answers.shared.segments import PipeSegments, all_segments
from ironcage.core.job.values.model import Job

Said = dict[str, Any]


def _end(piece: Piece, e: EndCut) -> Said:
    return {
        "joint": e.joint,
        "cut": piece.words(e),
        "kind": e.kind,
        "how": piece.how(e),
        "onto": e.onto,
        "angle_deg": round(math.degrees(e.angle), 2),
        "saw_from_square_deg": round(math.degrees(e.saw_angle), 2),
        "saw_turned_deg": round(math.degrees(e.setting.turn), 2) if e.setting else None,
        "saw_tilted_deg": round(math.degrees(e.setting.tilt), 2) if e.setting else None,
        "hole_saw_mm": e.hole_saw,
        "then_to": list(e.trims),
        "saw_middle_from_square_end_mm": round(e.centre, 2) if e.hole_saw else None,
        "saw_beside_mm": round(e.offset, 2) if e.hole_saw else None,
        "paper_from_square_end_mm": round(e.profile.template_tip - e.profile.bar, 2),
        "shoulder_from_square_end_mm": round(e.profile.shoulder - e.profile.bar, 2),
        "notes": [*piece.notes_of(e), *([e.problem] if e.problem else [])],
    }


def _bends(piece: Piece) -> list[Said]:
    """A piece's bends and folds, as they are marked along the straight tube."""
    return [
        {
            "start_mm": round(b.start, 2),
            "deg": round(math.degrees(b.angle), 3),
            "clock_deg": round(math.degrees(b.clock), 3),
            "radius_mm": b.radius,
            "notch_mm": round(b.mouth, 2),
        }
        for b in piece.bends
    ]


def _bars(of: SectionBars) -> Said:
    """What is bought of a section, and each bar with its pieces in the order in which they are cut."""
    made = of.layout
    return {
        "section": of.section,
        "material": of.material,
        "bought_mm": round(made.bought, 1) if made else None,
        "least_mm": round(made.bound, 1) if made else None,
        "mass_kg": round(of.kg, 3),
        "money": None if of.money is None else round(of.money, 2),
        "problem": of.problem,
        "bars": [
            {
                "length_mm": bar.length,
                "from": "buy" if bar.bought else "rack",
                "pieces": [of.pieces[n] for n in bar.parts],
                "rest_mm": round(bar.rest, 2),
            }
            for bar in (made.bars if made else ())
        ],
    }


def _bend_card(card: BendCard) -> Said:
    """How a piece is bent, in order from the end to start from."""
    return {
        "piece": card.piece,
        "start_from": card.start,
        "cut_to_mm": round(card.length, 2),
        "more_at_the_start_mm": round(card.head, 2),
        "more_at_the_other_end_mm": round(card.tail, 2),
        "radius_mm": card.radius,
        "swing_mm": round(card.swing, 1),
        "below_mm": round(card.below, 1),
        "bends": [
            {
                "mark_mm": round(s.mark, 2),
                "deg": round(math.degrees(s.angle), 3),
                "machine_deg": round(math.degrees(s.machine), 3),
                "turn_tube_deg": round(math.degrees(s.rotate) % 360, 3),
                "straight_after_mm": round(s.straight, 2),
            }
            for s in card.steps
        ],
        "problems": list(card.problems),
    }


def _mark(mark: Mark) -> Said:
    """Where a tube lands along a piece."""
    return {
        "joint": mark.joint,
        "tube": mark.tube,
        "from_first_end_mm": round(mark.at, 2),
        "clock_deg": None if mark.clock is None else round(math.degrees(mark.clock), 2),
    }


def _spot(spot: Spot) -> Said:
    """Where a piece is drilled, or where a fitting goes on it."""
    return {
        "fitting": spot.fitting,
        "what": spot.what,
        "from_first_end_mm": [round(at, 2) for at in spot.at],
        "clock_deg": None if spot.clock is None else round(math.degrees(spot.clock), 2),
        "clock_from": spot.zero,
    }


def _progress(far: PieceProgress) -> Said:
    """How far a piece is, and whether what was measured can be used."""
    return {
        "state": far.state,
        "measured_mm": round(far.length, 2) or None,
        "off_mm": None if far.off is None else round(far.off, 3),
        "why": far.why,
        "says": far.words,
        "would_make": list(far.elsewhere),
        "changed_since_mm": round(far.changed, 2),
        "turned_since": far.turned,
    }


def _segments(made: PipeSegments) -> Said:
    """A pipe of mitred segments."""
    return {
        "pipe": made.name,
        "order": list(made.order),
        "segments": [
            {
                "count": count,
                "centre_mm": round(s.centre, 3),
                "longest_mm": round(s.longest, 3),
                "shortest_mm": round(s.shortest, 3),
                "saw_deg": [round(math.degrees(s.first), 3), round(math.degrees(s.second), 3)],
                "turned_deg": round(math.degrees(s.turn), 3),
            }
            for s, count in made.kinds
        ],
        "problem": told.plain(made.problem),
    }


def _turned(r: TurnedRow) -> Said:
    """A batch to turn."""
    return {
        "name": r.name,
        "what": r.what,
        "pieces": r.count * r.cars,
        "od_mm": r.od,
        "od_limits_mm": [r.od_limits.least, r.od_limits.most] if r.od_limits else None,
        "bore_mm": r.bore,
        "bore_limits_mm": [r.bore_limits.least, r.bore_limits.most] if r.bore_limits else None,
        "length_mm": r.length,
        "step_mm": list(r.step) if r.step else None,
        "material": r.material,
        "of": list(r.of),
        "stock_mm": round(r.stock, 1),
        "problem": told.plain(r.problem),
    }


def say_work(job: Job) -> Said:
    """What cutting the pieces that are left takes here."""
    here = cut_here(job)
    return {
        "pieces": here.pieces,
        "for_the_laser": here.lasered,
        "ordered_here_hours": round(here.ordered_hours, 2),
        "here": {
            "hours": round(here.hours, 2),
            "money": None if here.money is None else round(here.money, 2),
            "work": [{"work": w.work, "times": w.count, "minutes_each": w.minutes} for w in here.works],
        },
    }


def say_cut(job: Job) -> Said:
    """Every piece with its lengths, both ends, bends and notes."""
    a, far = answer(job), progress(job)
    return {
        "bars": [_bars(of) for of in find_bars(job).sections],
        "bend_cards": [_bend_card(card) for card in bend_cards(job)],
        "length_by_section_mm": {name: round(length, 1) for name, length in a.by_section.items()},
        "pipe_segments": [_segments(made) for made in all_segments(job)],
        "turned": [_turned(r) for r in find_turned(job).rows],
        "pieces": [
            {
                "piece": p.id,
                "tubes": list(p.tubes),
                "section": p.section.name,
                "material": p.material,
                "role": p.role,
                "bar_mm": round(p.bar, 2),
                "lengths_mm": [round(of.length, 2) for of in lengths(job, p)],
                "saddle_tip_mm": round(p.saddle_tip, 2),
                "template_tip_mm": round(p.template_tip, 2),
                "shoulder_mm": round(p.shoulder, 2),
                "centre_mm": round(p.centre, 2),
                "mass_kg": round(p.mass, 3),
                "clocking_deg": None if p.clock is None else round(math.degrees(p.clock), 2),
                "first": _end(p, p.first),
                "second": _end(p, p.second),
                "buy": p.stock.name,
                "laser": p.laser,
                "needs_vent": p.sealed,
                "bends": _bends(p),
                "marks": [_mark(m) for m in marks(job, p)],
                "fitted": [_spot(s) for s in spots(job, p)],
                "notes": list(p.notes),
                "progress": _progress(far[p.id]),
            }
            for p in a.pieces
        ],
    }
