"""Snags of Run: corners that are incomplete, links that do not reach."""

import math
from collections.abc import Iterator

import numpy as np

from ironcage.core.answers.run.bands import EndRun, Kept, end_runs, kept_bands
from ironcage.core.answers.run.beam import BeamRun, beam_runs
from ironcage.core.answers.run.carrier import carrier_runs, set_words
from ironcage.core.answers.run.corner import AxleRun, corner_of, runs
from ironcage.core.answers.run.fork import fork_runs, turned_words
from ironcage.core.answers.run.links import LEAST_THREADS, Tilt, links_made
from ironcage.core.answers.run.liveaxle import LinkedRun, axle_runs
from ironcage.core.answers.run.locks import held_by
from ironcage.core.answers.run.roomchecks import grounding, own_wheels, racks, sides
from ironcage.core.answers.run.shafts import MOST, shaft_runs
from ironcage.core.answers.run.springchecks import coil_overs, leaf_springs
from ironcage.core.answers.run.swing import SwingRun, arm_runs, chain_of
from ironcage.core.answers.shared.snag import Snag
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import (
    AxleCarrier,
    KingpinBeam,
    LinkedAxle,
    RodEnds,
    SteeringFork,
    SwingingArms,
    Wishbones,
)
from ironcage.problem import Problem
from ironcage.units import said

BIND_MM = 3.0  # of a link's length, more than which bushes wear
CHAIN_MM = 3.0  # of the distance between sprockets over the travel, beyond which a chain is looked at
BUMP_STEER = math.radians(0.5)  # of a beam's wheels over its travel, beyond which it is looked at
ASIDE_MM = 8.0  # of a live axle over its travel, beyond which its tyres are looked at


def hung(job: Job) -> Iterator[Snag]:
    """What keeps a corner from moving, or moving all the way."""
    if not job.wishbones:
        return
    try:
        found = runs(job)
        for run in found:
            corner_of(job, run.hung, right=True)
    except Problem as problem:
        yield Snag("unknown", "corner incomplete", "run", problem.what, (), problem.hint)
        return
    for run in found:
        if not run.closes:
            yield _locks(run)
        elif (short := np.isnan(run.told.spring)).any():
            rows = np.flatnonzero(short.any(axis=1))
            yield _rod_short(run, float(run.found.travel[rows[np.abs(run.found.travel[rows]).argmin()]]))


def _rod_short(run: AxleRun | SwingRun, travel: float) -> Snag:
    """A push rod that does not reach its rocker at a travel."""
    where = f"{said.length(abs(travel))} {'up' if travel >= 0 else 'down'}"
    return Snag(
        "wrong",
        "push rod short",
        "run",
        f"The {run.hung.axle} push rod turns its rocker no further than to {where}.",
        _joints(run),
        "Make the rocker’s arm longer, or stand it square to the rod at ride height.",
    )


def _locks(run: AxleRun | LinkedRun | SwingRun) -> Snag:
    up, down = run.limits
    if up is not None or down is not None:
        ways = [(up, "up"), (down, "down")]
        where = " and ".join(f"{said.length(abs(v))} {word}" for v, word in ways if v is not None)
        held = "" if isinstance(run, SwingRun) else held_by(run)
        by = f", held by {held}" if held else ""
        what = f"The {run.hung.axle} links lock at {where}, before the travel that is typed in{by}."
    else:
        other = "roll" if isinstance(run, LinkedRun) else "rack"
        what = f"The {run.hung.axle} links do not reach at full {other} and full travel together."
    return Snag(
        "wrong",
        "links lock",
        "run",
        what,
        _joints(run),
        "Move an outer point, or type less travel.",
    )


def _joints(run: EndRun) -> tuple[str, ...]:
    """The joints of the left side that links are hung at; none of a beam that stays where it is."""
    hung = run.hung.on if isinstance(run, BeamRun) else run.hung
    if hung is None:
        return ()
    if isinstance(hung, LinkedAxle):
        return hung.joints
    if isinstance(hung, SwingingArms):
        return hung.first, hung.second
    if isinstance(hung, SteeringFork | AxleCarrier):
        return hung.joints
    return *hung.lower, *hung.upper


def live_axles(job: Job) -> Iterator[Snag]:
    """What keeps a live axle from moving, and links that bind on its way."""
    try:
        found = axle_runs(job)
    except Problem as problem:
        yield Snag("unknown", "axle incomplete", "run", problem.what, (), problem.hint)
        return
    for run in found:
        bind, joints = run.told.curves.bind, _joints(run)
        if not run.closes:
            yield _locks(run)
        elif bind.max() > BIND_MM:
            yield Snag(
                "look",
                "links bind",
                "run",
                f"The {run.hung.axle} axle's links bind by {said.fine(float(bind.max()))} {_worst_at(run)}.",
                joints,
                "Make the links more alike in length and slope, or see that bushes take it up.",
            )
        aside = float(np.nanmax(np.abs(run.told.curves.aside[:, run.straight])))
        if aside > ASIDE_MM and run.hung.rod:
            yield Snag(
                "look",
                "axle shifts",
                "run",
                f"The {run.hung.axle} axle goes {said.length(aside)} aside over its travel, as its track rod swings.",
                joints,
                "Make the track rod longer, and level at ride height.",
            )


def _worst_at(run: LinkedRun) -> str:
    """Where the links bind most, in words."""
    row, column = np.unravel_index(int(run.told.curves.bind.argmax()), run.told.curves.bind.shape)
    travel, roll = float(run.found.travel[row]), math.degrees(abs(float(run.found.rack[column])))
    way = f"at {said.length(abs(travel))} {'up' if travel >= 0 else 'down'}"
    return f"{way} and {roll:.1f}° of roll"


def beams(job: Job) -> Iterator[Snag]:
    """Tie rods that do not reach, and wheels that steer further outside than inside a turn."""
    try:
        found = beam_runs(job)
    except Problem as problem:
        yield Snag("unknown", "beam incomplete", "run", problem.what, (), problem.hint)
        return
    for run in found:
        good, told, row = run.found.closed[run.rest], run.told, run.rest
        if run.held and not run.held.found.closed[:, run.held.straight].all():
            yield _locks(run.held)
        elif not good.all():
            most = float(np.abs(run.found.rack[good]).max(initial=0.0))
            reached = f"{math.degrees(most):.1f}° of the drop arm" if run.hung.pivot else f"{said.length(most)} of rack"
            yield Snag(
                "wrong",
                "tie rod short",
                "run",
                f"The {run.hung.axle} tie rods do not reach beyond {reached}.",
                (),
                "Move the steering arms' ends, or steer less far: turn, or rack.",
            )
        elif not run.closes:
            yield _short_over_travel(run)
        elif run.held:
            yield from _bump_steers(run)
        share = float(told.ackermann[row, -1])
        if share < 0:
            inner, outer = sorted((abs(float(told.left[row, -1])), abs(float(told.right[row, -1]))))
            yield Snag(
                "look",
                "wheels scrub",
                "run",
                f"At full lock the {run.hung.axle} wheel outside the turn steers {math.degrees(outer):.1f}°, the one "
                f"inside it {math.degrees(inner):.1f}°: they scrub.",
                (),
                "Bring the steering arms' ends nearer to each other behind the axle, or further apart in front of it.",
            )


def _short_over_travel(run: BeamRun) -> Snag:
    """Rods that do not reach somewhere beyond ride height."""
    travel = float(run.found.travel[np.argwhere(~run.found.closed)[0][0]])
    where = f"{said.length(abs(travel))} {'up' if travel >= 0 else 'down'}"
    return Snag(
        "wrong",
        "tie rod short",
        "run",
        f"At {where} the {run.hung.axle} tie rods do not reach to full lock.",
        _joints(run),
        "Move the steering arms' ends, steer less far, or type less travel.",
    )


def _bump_steers(run: BeamRun) -> Iterator[Snag]:
    """Wheels that steer as the beam rises and falls, the steering held."""
    steer = np.abs(run.told.left[:, run.straight] - run.told.left[run.rest, run.straight])
    most = int(np.nanargmax(steer))
    if steer[most] > BUMP_STEER:
        travel = float(run.found.travel[most])
        where = f"at {said.length(abs(travel))} {'up' if travel >= 0 else 'down'}"
        yield Snag(
            "look",
            "bump steer",
            "run",
            f"With the steering held the {run.hung.axle} left wheel steers {math.degrees(steer[most]):.1f}° {where}.",
            _joints(run),
            "Lay the rod from the frame so that its outer end swings as the beam lets it: level with the springs’ eyes "
            "and about as long as their front arms, or across the car beside a track rod as long as it.",
        )


def shafts(job: Job) -> Iterator[Snag]:
    """Shafts whose joints are bent further over the travel than most turn well."""
    try:
        found = shaft_runs(job)
    except Problem:  # said where the links are looked at
        return
    for told in found:
        bent, at = max((told.first, told.first_at), (told.second, told.second_at))
        if bent > MOST:
            where = f"{said.length(abs(at))} {'up' if at >= 0 else 'down'}"
            what = f"A joint of {told.shaft.name} is bent {math.degrees(bent):.0f}° at {where}."
            cure = "Bring both of its ends nearer to one line, or type less travel; most joints end at 25 to 45°."
            yield Snag("look", "shaft bends", "run", what, (told.shaft.id,), cure)


def arms(job: Job) -> Iterator[Snag]:
    """Arms that are incomplete or too short for their travel, and a chain that they tighten or slacken."""
    try:
        found = arm_runs(job)
    except Problem as problem:
        yield Snag("unknown", "arm incomplete", "run", problem.what, (), problem.hint)
        return
    for run in found:
        if not run.closes:
            yield _locks(run)
        elif run.hung.push and (short := np.isnan(run.told.spring[:, 0])).any():
            yield _rod_short(run, float(run.found.travel[short][np.abs(run.found.travel[short]).argmin()]))
        centres = run.told.centres[:, 0]
        chain = chain_of(job, run.hung.axle)
        if chain is None or not np.isfinite(centres).any():
            continue
        at_rest = float(centres[int(np.abs(run.found.travel).argmin())])
        most = int(np.nanargmax(np.abs(centres - at_rest)))
        change, travel = float(centres[most]) - at_rest, float(run.found.travel[most])
        if abs(change) > CHAIN_MM:
            way = f"{said.length(abs(travel))} {'up' if travel >= 0 else 'down'}"
            does = "further apart" if change > 0 else "nearer to each other"
            yield Snag(
                "look",
                "chain slack" if change < 0 else "chain tight",
                "run",
                f"At {way} the sprockets of {chain.name} are {said.length(abs(change))} {does} than at ride height.",
                _joints(run),
                "Put the arms' axis nearer to the driving sprocket, or type less travel.",
            )


def carriers(job: Job) -> Iterator[Snag]:
    """Carriers that are incomplete, that tighten no whole chain, and that end before a chain is worn."""
    try:
        found = carrier_runs(job)
    except Problem as problem:
        yield Snag("unknown", "carrier incomplete", "run", problem.what, (), problem.hint)
        return
    for run in found:
        chain = chain_of(job, run.hung.axle)
        if chain is None:
            continue
        if not run.tight:
            what = f"Setting the {run.hung.axle} carrier back does not tighten {chain.name}."
            cure = "Slide it away from the driving sprocket, or put its pivot over or under the line between both."
            yield Snag("wrong", "chain not tight", "run", what, _joints(run), cure)
        elif not any(t.new_fits for t in run.tight):
            where = " and ".join(f"{t.links} links {set_words(t.new)}" for t in run.tight if not math.isnan(t.new))
            what = f"No chain of whole links is tight within what the {run.hung.axle} carrier is set: {where} would be."
            cure = "Let it be set further (back, forth), or move the axle or the engine."
            yield Snag("wrong", "chain not tight", "run", what, _joints(run), cure)
        elif not any(t.new_fits and t.worn_fits for t in run.tight):
            best = min((t for t in run.tight if t.new_fits), key=lambda t: t.new)
            what = (
                f"The {run.hung.axle} carrier ends before {chain.name} is worn: {best.links} links are tight "
                f"{set_words(best.new)}, worn to the limit {set_words(best.worn)}."
            )
            cure = "Let it be set further back, or put the axle where the new chain is tight with less."
            yield Snag("look", "carrier short", "run", what, _joints(run), cure)


def forks(job: Job) -> Iterator[Snag]:
    """A steering head that is incomplete, and a wheel whose contact is not behind its axis."""
    try:
        found = fork_runs(job)
    except Problem as problem:
        yield Snag("unknown", "fork incomplete", "run", problem.what, (), problem.hint)
        return
    for run in found:
        trail, travel = run.told.trail[:, run.straight], run.found.travel
        if trail.min() <= 0:
            at = float(travel[int(trail.argmin())])
            where = f"at {said.length(abs(at))} {'up' if at >= 0 else 'down'}"
            yield Snag(
                "wrong",
                "no trail",
                "run",
                f"The front wheel trails its steering axis by {said.length(float(trail.min()))} {where}: it does not "
                "come back to straight ahead by itself.",
                _joints(run),
                "Rake the head more, or take clamps with less offset: move the axle back to the axis.",
            )


def out_of_band(job: Job) -> Iterator[Snag]:
    """Figures that leave the bands that the builder set."""
    try:
        kept = kept_bands(job)
    except Problem:  # said where the links are looked at
        return
    for of in kept:
        if of.off > 0:
            joints, band, figure = _joints(end_runs(job)[of.band.axle]), of.band, of.figure
            what = f"The {band.axle} {figure.name} is {figure.words(of.value)} {_place(job, of)}, not {of.words}."
            cure = "Move points of this end (Run, Effects tells which do most), or set another band."
            yield Snag("look", "out of band", "run", what, joints, cure)


def rod_ends(job: Job) -> Iterator[Snag]:
    """Ends of links that tilt further than they can, too little thread, and links that are too short for their ends."""
    hung: tuple[Wishbones | LinkedAxle | KingpinBeam, ...] = (*job.wishbones, *job.live_axles, *job.beams)
    if all(end.eyes == RodEnds() for end in hung):
        return
    try:
        ends = links_made(job)
    except Problem:  # said where the links are looked at
        return
    for end in ends.values():
        eyes = end.eyes
        if eyes.thread and 0 < eyes.engaged < LEAST_THREADS * eyes.thread:
            what = f"Only {said.length(eyes.engaged)} of the {end.axle} rod ends’ thread is engaged."
            cure = f"Engage at least {said.length(LEAST_THREADS * eyes.thread)}: 1.5 diameters, by rule of thumb."
            yield Snag("look", "little thread", "run", what, (), cure)
        for link in end.links:
            if link.tube is not None and link.tube <= 0:
                what = f"No tube is left of the {end.axle} {link.name} between its rod ends."
                yield Snag("wrong", "link short", "run", what, (), "Take shorter rod ends, or a single turnbuckle.")
            for tilt in (t for t in link.tilts if t.past):
                yield _tilts(end.axle, link.name, tilt)


def _tilts(axle: str, link: str, tilt: Tilt) -> Snag:
    where = f"at {said.length(abs(tilt.travel))} {'up' if tilt.travel >= 0 else 'down'}"
    what = (
        f"The {axle} {link}’s {tilt.end} tilts {math.degrees(tilt.most):.1f}° {where}, and can tilt "
        f"{math.degrees(tilt.limit or 0.0):.1f}°."
    )
    cure = "Turn its bolt or its cup to the middle of what it tilts, or take one that tilts further."
    if tilt.spacer is not None and math.isfinite(tilt.spacer):
        cure = f"Put a spacer of {said.fine(tilt.spacer)} on either side of its ball, or turn its bolt."
    return Snag("wrong", "rod end tilts", "run", what, (), cure)


def _place(job: Job, of: Kept) -> str:
    """Where a figure leaves its band furthest, in words."""
    beam = next((b for b in job.beams if b.axle == of.band.axle), None)
    if any(c.axle == of.band.axle for c in job.carriers):
        return set_words(of.at)
    if job.forks and job.forks[0].axle == of.band.axle and not (of.figure.rises or of.figure.sprung):
        return turned_words(of.at)
    if beam is None or of.figure.rises:
        return f"at {said.length(abs(of.at))} {'up' if of.at >= 0 else 'down'}"
    way = "left" if of.at >= 0 else "right"
    return f"steered {math.degrees(abs(of.at)):.1f}° {way}" if beam.pivot else f"with {said.length(abs(of.at))} of rack"


CHECKS = (
    hung,
    live_axles,
    beams,
    arms,
    carriers,
    forks,
    coil_overs,
    out_of_band,
    rod_ends,
    leaf_springs,
    shafts,
    grounding,
    sides,
    racks,
    own_wheels,
)
