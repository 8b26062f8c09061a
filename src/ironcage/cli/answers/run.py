"""What Run says, as neutral data. mm, degrees."""

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

import numpy as np

from ironcage.core.answers.run import beam, carrier, fork, liveaxle, swing
from ironcage.core.answers.run.bands import Kept, kept_bands
from ironcage.core.answers.run.beam import BeamRun, beam_runs
from ironcage.core.answers.run.carrier import CarrierRun, carrier_runs
from ironcage.core.answers.run.clearance import clearances
from ironcage.core.answers.run.corner import ASSUMED, AxleRun, runs
from ironcage.core.answers.run.fork import ForkRun, fork_runs
from ironcage.core.answers.run.holes import HoleTold, holes
from ironcage.core.answers.run.leans import ASSUMED as leans_assumed
from ironcage.core.answers.run.leans import LeanAnswer, leans
from ironcage.core.answers.run.leaves import LeafTold, leaves
from ironcage.core.answers.run.links import LinkMade, links_made
from ironcage.core.answers.run.liveaxle import LinkedRun, axle_runs
from ironcage.core.answers.run.shafts import ShaftRun, shaft_runs
from ironcage.core.answers.run.springs import ASSUMED as springs_assumed
from ironcage.core.answers.run.springs import Sprung, sprung
from ironcage.core.answers.run.swing import SwingRun, arm_runs
from ironcage.core.answers.run.tuning import tune
from ironcage.core.answers.run.tyreroom import tyre_rooms
from ironcage.core.job.text.running import read_end
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import HUNG, CoilOver
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units.tables import N_M_PER_DEGREE

Said = dict[str, Any]
EACH = 5  # of the travels that are worked out, one in so many is told


def say_run(job: Job) -> Said:
    """Every end on wishbones, its left corner over its travel, straight ahead and at full rack; every live axle over
    its travel, level and leaning both ways."""
    try:
        found = runs(job) if job.wishbones or not any(getattr(job, kind) for kind in HUNG) else ()
        beams, arms, forks, set_axles = beam_runs(job), arm_runs(job), fork_runs(job), carrier_runs(job)
        live = axle_runs(job)
        springs = sprung(job)
    except Problem as problem:
        return {"not_told": problem.sentence}
    assumed: tuple[str, ...] = (*(ASSUMED if found else ()), *(liveaxle.ASSUMED if live else ()))
    assumed = (*assumed, *(beam.ASSUMED if beams else ()), *(swing.ASSUMED if arms else ()))
    assumed = (*assumed, *(fork.ASSUMED if forks else ()), *(carrier.ASSUMED if set_axles else ()))
    told = [_coil_over(end, of) for end, of in springs.items() if of.coil != CoilOver()]
    assumed = (*assumed, springs_assumed) if told else assumed
    assumed = (*assumed, leans_assumed)
    return {
        "axles": [
            *map(_axle, found),
            *map(_live_axle, live),
            *map(_beam, beams),
            *map(_arms, arms),
            *map(_fork, forks),
        ],
        "carriers": [*map(_carrier, set_axles)],
        "coil_overs": told,
        "leaf_springs": [_leaf(told) for told in leaves(job)],
        "leans": _leans(leans(job)),
        "clearance": [
            {"with": of.which, "height_mm": round(of.height, 3), "lowest": of.lowest} for of in clearances(job)
        ],
        "tyre_room": [
            dict((f"{name}_mm", round(v, 3)) if isinstance(v, float) else (name, v) for name, v in asdict(of).items())
            for of in tyre_rooms(job)
        ],
        "holes": [_hole(end, hole) for end, each in holes(job).items() for hole in each],
        "shafts": [_shaft(told) for told in shaft_runs(job)],
        "links": [_link(end.axle, link) for end in links_made(job).values() for link in end.links],
        "bands": [{"end": k.band.axle, **_band(k)} for k in kept_bands(job)],
        "assumptions": list(assumed),
    }


def _leans(told: LeanAnswer) -> Said:
    """Both ends as the car leans, its left wheels up, and the car in a turn."""
    return {
        "deg_per_g": None if told.car is None else round(float(np.degrees(told.car.per_g)), 4),
        "outwards_N_per_g": None if told.car is None else [round(force, 1) for force in told.car.transfer],
        "positions": [
            {
                "end": end,
                "lean_deg": round(float(np.degrees(of.lean[n])), 4),
                "camber_deg": [_known(float(np.degrees(v)), 4) for v in of.camber[n]],
                "toe_in_deg": [_known(float(np.degrees(v)), 4) for v in of.toe_in[n]],
                "roll_centre_mm": _known(of.height[n], 3),
                "aside_mm": _known(of.aside[n], 3),
            }
            for end, of in told.ends.items()
            for n in range(len(of.lean))
        ],
    }


def _hole(end: str, told: HoleTold) -> Said:
    """Another hole for an end's coil-overs."""
    return {
        "end": end,
        "for": "top" if told.top else "foot",
        "place_mm": list(told.place),
        "lower_mm": None if told.lower is None else round(told.lower, 3),
        "motion_ratio": None if told.ratio is None else round(told.ratio, 5),
        "wheel_rate_N_per_mm": None if told.rate is None else round(told.rate, 4),
        "swings_hz": None if told.swings is None else round(told.swings, 4),
    }


def _coil_over(end: str, of: Sprung) -> Said:
    """At ride height, and at which travel its reserves are used up."""
    return {
        "end": end,
        "carries_kg": None if of.rest.mass is None else round(of.rest.mass, 3),
        "motion_ratio": round(of.rest.ratio, 5),
        "length_mm": round(of.rest.length, 3),
        "force_N": None if of.rest.force is None else round(of.rest.force, 1),
        "air_MPa": None if (air := of.rest.pressure(of.coil)) is None else round(air, 4),
        "squeeze_mm": _known(of.over.squeeze[of.middle], 3),
        "wheel_rate_N_per_mm": _known(of.over.rate[of.middle], 4),
        "swings_hz": _known(of.over.swings[of.middle], 4),
        "roll_stiffness_Nm_per_deg": None if of.roll is None else round(of.roll * N_M_PER_DEGREE, 2),
        "roll_bar_Nm_per_deg": round(of.bar * N_M_PER_DEGREE, 2),
        "used_up_at_mm": {name: round(at, 3) for name, at in of.ends.items()},
        "bump_stop_for_share_mm": {f"{share:g}": round(high, 3) for share, high in of.stops.items()},
        "rate_for_hz_N_per_mm": {f"{swings:g}": round(rate, 3) for swings, rate in of.rates().items()},
    }


def _beam(run: BeamRun) -> Said:
    told, turns, rest = run.told, run.hung.pivot is not None, run.rest
    straight = run.straight
    rows = range(0, len(run.found.travel), EACH) if run.held else (rest,)
    return {
        "beam": run.hung.axle,
        "closes": run.closes,
        "moves_on": list(run.hung.on.joints) if run.hung.on else [],
        "caster_deg": round(float(np.degrees(told.caster[rest, straight])), 4),
        "kingpin_deg": round(float(np.degrees(told.kingpin[rest, straight])), 4),
        "scrub_mm": round(float(told.scrub[rest, straight]), 3),
        "trail_mm": round(float(told.trail[rest, straight]), 3),
        "roll_centre_mm": _known(told.roll_centre[rest, straight], 3),
        "roll_steer": _known(told.roll_steer[rest, straight], 5),
        "positions": [
            {
                "travel_mm": round(float(run.found.travel[row]), 3),
                ("drop_arm_deg" if turns else "rack_mm"): round(float(np.degrees(way) if turns else way), 3),
                "left_deg": round(float(np.degrees(told.left[row, n])), 4),
                "right_deg": round(float(np.degrees(told.right[row, n])), 4),
                "camber_deg": round(float(np.degrees(told.camber[row, n])), 4),
                "caster_deg": round(float(np.degrees(told.caster[row, n])), 4),
                "rise_mm": round(float(told.rise[row, n]), 3),
                "ackermann": _known(told.ackermann[row, n], 4),
                "circle_mm": _known(told.circle[row, n], 1),
            }
            for row in rows
            for n, way in enumerate(run.found.rack)
            if run.found.closed[row, n] and n % EACH == 0
        ],
    }


def _arms(run: SwingRun) -> Said:
    told = run.told
    return {
        "arms": run.hung.axle,
        "joints": [name for name in (run.hung.first, run.hung.second, run.hung.spring) if name],
        "locks_up_mm": run.limits[0],
        "locks_down_mm": run.limits[1],
        "closes": run.closes,
        "positions": [
            {
                "travel_mm": round(float(run.found.travel[n]), 3),
                "camber_deg": round(float(np.degrees(told.camber[n, 0])), 4),
                "toe_in_deg": round(float(np.degrees(told.toe_in[n, 0])), 4),
                "out_mm": round(float(told.out[n, 0]), 3),
                "ahead_mm": round(float(told.ahead[n, 0]), 3),
                "roll_centre_mm": _known(told.roll_centre[n, 0], 3),
                "anti_lift": _known(told.anti[n, 0], 4),
                "sprockets_apart_mm": _known(told.centres[n, 0], 3),
                "spring_mm": _known(told.spring[n, 0], 3),
                "motion_ratio": _known(told.motion_ratio[n, 0], 5),
            }
            for n in range(0, len(run.found.travel), EACH)
            if run.found.closed[n, 0]
        ],
    }


def _fork(run: ForkRun) -> Said:
    told, columns = run.told, sorted({0, run.straight, len(run.found.rack) - 1})
    return {
        "fork": run.hung.axle,
        "joints": list(run.hung.joints),
        "offset_mm": round(run.fork.offset, 3),
        "positions": [
            {
                "travel_mm": round(float(run.found.travel[row]), 3),
                "turned_deg": round(float(np.degrees(run.found.rack[column])), 3),
                "head_deg": round(float(np.degrees(told.head[row, column])), 4),
                "trail_mm": round(float(told.trail[row, column]), 3),
                "ahead_mm": round(float(told.ahead[row, column]), 3),
                "steer_deg": round(float(np.degrees(told.steer[row, column])), 4),
                "leans_deg": round(float(np.degrees(told.leans[row, column])), 4),
                "lifts_mm": round(float(told.lifts[row, column]), 3),
                "circle_mm": _known(told.circle[row, column], 1),
                "anti_dive": _known(told.anti[row, column], 4),
                "leg_mm": round(float(told.spring[row, column]), 3),
                "motion_ratio": round(float(told.motion_ratio[row, column]), 5),
            }
            for column in columns
            for row in range(0, len(run.found.travel), EACH)
        ],
    }


def _carrier(run: CarrierRun) -> Said:
    told = run.told
    return {
        "end": run.hung.axle,
        "joints": list(run.hung.joints),
        "chains": [
            {
                "links": t.links,
                "tight_at_mm": _known(t.new, 3),
                "worn_at_mm": _known(t.worn, 3),
                "within": t.new_fits,
                "worn_within": t.worn_fits,
            }
            for t in run.tight
        ],
        "positions": [
            {
                "set_back_mm": round(float(run.found.travel[n]), 3),
                "sprockets_apart_mm": _known(told.centres[n, 0], 3),
                "chain_needs_pitches": _known(told.pitches[n, 0], 4),
                "rises_mm": round(float(told.rises[n, 0]), 3),
                "ahead_mm": round(float(told.ahead[n, 0]), 3),
                "adjuster_mm": _known(told.stay[n, 0], 3),
            }
            for n in range(0, len(run.found.travel), EACH)
        ],
    }


def _live_axle(run: LinkedRun) -> Said:
    hung, told = run.hung, run.told
    columns = sorted({0, run.straight, len(run.found.rack) - 1})
    return {
        "live_axle": hung.axle,
        "locks_up_mm": run.limits[0],
        "locks_down_mm": run.limits[1],
        "closes": run.closes,
        "joints": [*hung.joints, *([hung.spring] if hung.spring else [])],
        "positions": [
            {
                "travel_mm": round(float(run.found.travel[row]), 3),
                "roll_deg": round(float(np.degrees(run.found.rack[column])), 4),
                "shift_mm": round(float(told.curves.aside[row, column]), 3),
                "ahead_mm": round(float(told.curves.ahead[row, column]), 3),
                "steer_deg": round(float(np.degrees(told.curves.steer[row, column])), 4),
                "pinion_deg": round(float(np.degrees(told.curves.pinion[row, column])), 4),
                "roll_centre_mm": round(float(told.curves.roll_centre[row, column]), 3),
                "roll_steer": round(float(told.curves.roll_steer[row, column]), 5),
                "anti_squat": _known(told.squat[row, column], 4),
                "bind_mm": round(float(told.curves.bind[row, column]), 3),
                "spring_mm": _known(told.spring[row, column], 3),
            }
            for column in columns
            for row in range(0, len(run.found.travel), EACH)
            if run.found.closed[row, column]
        ],
    }


def _known(value: float, places: int) -> float | None:
    return None if np.isnan(value) else round(float(value), places)


def _axle(run: AxleRun) -> Said:
    hung = run.hung
    columns = [run.straight] if len(run.found.rack) == 1 else [0, run.straight, len(run.found.rack) - 1]
    return {
        "axle": hung.axle,
        "joints": [*hung.lower, *hung.upper, hung.spring],
        "locks_up_mm": run.limits[0],
        "locks_down_mm": run.limits[1],
        "closes": run.closes,
        "positions": [
            position
            for column in columns
            for row in range(0, len(run.found.travel), EACH)
            if (position := _position(run, row, column))
        ],
    }


def _position(run: AxleRun, row: int, column: int) -> Said:
    told = run.told
    if not run.found.closed[row, column]:
        return {}
    here = (row, column)
    return {
        "travel_mm": round(float(run.found.travel[row]), 3),
        "rack_mm": round(float(run.found.rack[column]), 3),
        **{
            f"{name}_deg": round(float(np.degrees(values[here])), 4)
            for name, values in (
                ("camber", told.camber),
                ("toe_in", told.toe_in),
                ("caster", told.caster),
                ("kingpin", told.kingpin),
            )
        },
        **{
            f"{name}_mm": round(float(values[here]), 3)
            for name, values in (
                ("scrub", told.scrub),
                ("trail", told.trail),
                ("out", told.out),
                ("ahead", told.ahead),
                ("roll_centre", told.roll_centre),
                ("spring", told.spring),
            )
        },
        "motion_ratio": round(float(told.motion_ratio[here]), 5),
    }


def _leaf(told: LeafTold) -> Said:
    return {
        "end": told.axle,
        "carries_kg": None if told.carries is None else round(told.carries, 3),
        "wheel_rate_N_per_mm": round(told.rate, 4),
        "swings_hz": None if told.swings is None else round(told.swings, 4),
        "roll_stiffness_Nm_per_deg": round(told.roll * N_M_PER_DEGREE, 2),
        "stress_MPa": None if told.stress is None else round(told.stress, 1),
        "stress_up_MPa": None if told.up is None else round(told.up, 1),
        "shackle_deg": None if told.leans is None else [_known(float(np.degrees(v)), 2) for v in told.leans],
        "back_mm": round(told.back, 3),
        "roll_steer": round(told.steer, 5),
        "wind_up_Nm_per_deg": None if told.wind_up is None else round(told.wind_up * N_M_PER_DEGREE, 2),
    }


def _shaft(told: ShaftRun) -> Said:
    return {
        "shaft": told.shaft.name,
        "end": told.axle,
        "shorter_mm": round(told.shorter, 3),
        "longer_mm": round(told.longer, 3),
        "first_joint_deg": round(float(np.degrees(told.first)), 3),
        "at_travel_mm": round(told.first_at, 3),
        "second_joint_deg": round(float(np.degrees(told.second)), 3),
        "second_at_travel_mm": round(told.second_at, 3),
    }


def _link(end: str, link: LinkMade) -> Said:
    return {
        "end": end,
        "link": link.name,
        "length_mm": round(link.length, 3),
        "tube_mm": None if link.tube is None else round(link.tube, 3),
        "shortest_mm": None if link.shortest is None else round(link.shortest, 3),
        "longest_mm": None if link.longest is None else round(link.longest, 3),
        "tilts": [
            {
                "end": t.end,
                "deg": round(float(np.degrees(t.most)), 3),
                "at_travel_mm": round(t.travel, 3),
                "can_deg": None if t.limit is None else round(float(np.degrees(t.limit)), 3),
                "spacer_mm": None if t.spacer is None else _known(t.spacer, 3),
            }
            for t in link.tilts
        ],
    }


def tuned(job: Job, end: str, box: str, points: Sequence[str], call: str) -> tuple[Job, Said]:
    """The job with points of an end moved, each by at most a typed box, so that its bands are met; and which were
    moved, and how the bands are kept before and after, in rad, mm or as a share. call: how it is called, for a
    refusal."""
    axle, _ = read_end(end, call)
    found = tune(job, axle, points, units_of(job).read_length(box), lambda share: None)
    return found.job, {
        "moves": [{"point": m.point, "joint": m.joint, "by_mm": list(m.by)} for m in found.moves],
        "before": [_band(k) for k in found.before],
        "after": [_band(k) for k in found.after],
    }


def _band(of: Kept) -> Said:
    return {
        "figure": of.figure.name,
        "least": of.band.least,
        "most": of.band.most,
        "counted_in": of.figure.dimension,
        "furthest": _known(of.value, 6),
        "at": _known(of.at, 3),
        "outside_by": _known(of.off, 6),
    }
