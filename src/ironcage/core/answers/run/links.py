"""The links of each end as they are made and set up: their lengths at ride height, the tube between their rod ends, how
far they can be set, and how far their ends tilt over the travel."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from ironcage.core.answers.run.armframe import leg_section
from ironcage.core.answers.run.bands import EndRun, end_runs
from ironcage.core.answers.run.beam import BeamGrid, BeamRun
from ironcage.core.answers.run.beam import rods as beam_rods
from ironcage.core.answers.run.carrier import CarrierRun
from ironcage.core.answers.run.corner import AxleRun
from ironcage.core.answers.run.fork import ForkRun
from ironcage.core.answers.run.liveaxle import LinkedRun
from ironcage.core.answers.run.swing import SwingRun
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.linkage.rodends import Eye, bolt_across, tilts
from ironcage.core.calc.linkage.steering import swung
from ironcage.core.calc.linkage.wishbone import arm_carried
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import RodEnds
from ironcage.problem import Problem

UP, ACROSS, ALONG = np.array([0.0, 0.0, 1.0]), np.array([0.0, 1.0, 0.0]), np.array([1.0, 0.0, 0.0])
LEAST_THREADS = 1.5  # diameters of thread that are engaged at least, by rule of thumb
ASSUMED = (
    "Bolts are taken to lie square to their link at ride height: a tie rod’s along the kingpin and upright at the "
    "rack, those of a live axle’s links and ladder bars across the car, a track rod’s along it; ball joints stand in "
    "line with the kingpin.",
    "An eye tilts until the edge of its head touches a face as large as it is; bolts of an arm’s inner ends lie in its "
    "hinge and do not tilt. At least 1.5 diameters of thread stay engaged: a rule of thumb, your rod ends’ maker knows "
    "better.",
)


@dataclass(frozen=True)
class Tilt:
    """How far an end of a link tilts. most: rad, at a travel (mm) and a way of the rack or the roll; limit: how far it
    can, spacer: what has to go beside its ball on either side, mm, None where that is not known."""

    end: str
    most: float
    travel: float
    side: float
    limit: float | None
    spacer: float | None = None

    @property
    def past(self) -> bool:
        """Whether it tilts further than it can."""
        return self.limit is not None and self.most > self.limit


@dataclass(frozen=True)
class LinkMade:
    """A link of the left side. length: between its ends' middles at ride height; tube: between its rod ends' inserts;
    shortest, longest: what it can be set to, None where that is not known; mm; both: whether the right side has one,
    too."""

    name: str
    length: float
    tube: float | None
    shortest: float | None
    longest: float | None
    tilts: tuple[Tilt, ...]
    both: bool = True

    @property
    def past(self) -> bool:
        """Whether an end tilts further than it can, or no tube is left."""
        return any(t.past for t in self.tilts) or (self.tube is not None and self.tube <= 0)


@dataclass(frozen=True)
class EndLinks:
    """The links of an end; coil_over: between its eyes at ride height, mm, None without one."""

    axle: str
    eyes: RodEnds
    links: tuple[LinkMade, ...]
    coil_over: float | None


def links_made(job: Job) -> dict[str, EndLinks]:
    """The links of each end, by its name. Raises Problem as `end_runs` does."""
    return {name: _end(run) for name, run in end_runs(job).items()}


@dataclass(frozen=True)
class RodEndInserts:
    """The threaded inserts of an end's links. wheel: the left one, by its id; count: two a link; od: the tubes' bore,
    shoulder: their outside, lip: how long that is outside of them, thread, length: in all; mm."""

    axle: str
    wheel: str
    count: int
    od: float
    shoulder: float
    lip: float
    thread: float
    length: float


def rod_end_inserts(job: Job) -> tuple[RodEndInserts, ...]:
    """What is turned for the links of each end whose rod ends are known; nothing where an end is incomplete. Tubes are
    as thick as the shelf's of their outside, else 2 mm."""
    try:
        ends, runs = links_made(job), end_runs(job)
    except Problem:  # said where the links are looked at
        return ()
    made = []
    for name, end in ends.items():
        eyes, hung = end.eyes, runs[name].hung
        count = 2 * sum(2 if link.both else 1 for link in end.links if link.tube is not None)
        if eyes.thread and eyes.engaged and count:
            leg = leg_section(job, hung.link).shape
            bore = max(leg.size) - 2 * leg.wall_mm
            length = eyes.engaged + eyes.lip
            made.append(
                RodEndInserts(
                    name, edits.left_wheel(job, hung.axle).id, count, bore, max(leg.size), eyes.lip, eyes.thread, length
                )
            )
    return tuple(made)


def _end(run: EndRun) -> EndLinks:
    eyes = RodEnds() if isinstance(run, SwingRun | ForkRun | CarrierRun) else run.hung.eyes
    return EndLinks(run.hung.axle, eyes, tuple(_links(run, eyes)), _coil_over(run))


def _links(run: EndRun, eyes: RodEnds) -> Iterator[LinkMade]:
    if isinstance(run, AxleRun):
        yield from _of_corner(run, eyes)
    elif isinstance(run, LinkedRun):
        yield from _of_axle(run, eyes)
    elif isinstance(run, BeamRun):
        yield from _of_beam(run, eyes)


def _coil_over(run: EndRun) -> float | None:
    if isinstance(run, CarrierRun):
        return None
    if isinstance(run, BeamRun):
        return _coil_over(run.held) if run.held else None
    length = float(run.told.spring[int(np.abs(run.found.travel).argmin()), run.straight])
    return length if math.isfinite(length) else None


def _of_corner(run: AxleRun, eyes: RodEnds) -> Iterator[LinkMade]:
    corner, found = run.corner, run.found
    stud = corner.upper_out - corner.lower_out
    stud = stud / np.linalg.norm(stud)
    limit = eyes.tilt or None
    ways = found.at(corner.tie_out) - corner.tie_ends(found.rack)
    rest = corner.tie_out - corner.tie_in
    bolts = bolt_across(rest, UP), bolt_across(rest, stud)
    over = tilts(ways, (np.broadcast_to(bolts[0], ways.shape), found.turn @ bolts[1]), (rest, bolts))
    yield _rod("tie rod", rest, over, found.travel, found.rack, eyes)
    for arm, inner, out in (("lower", corner.lower, corner.lower_out), ("upper", corner.upper, corner.upper_out)):
        carried = arm_carried(found, arm == "lower", stud)
        tilt = np.arccos(np.clip(np.sum((found.turn @ stud) * carried, axis=-1), -1, 1))
        joint = _most("ball joint", tilt, found.travel, found.rack, limit)
        for n, end in enumerate(("front", "rear")):
            length = float(np.linalg.norm(out - inner[n]))
            yield LinkMade(f"{arm} arm, {end} leg", length, None, None, None, (joint,) if n == 0 else ())


def _of_axle(run: LinkedRun, eyes: RodEnds) -> Iterator[LinkMade]:
    found = run.found
    turn = found.poses.turn.reshape(*found.closed.shape, 3, 3)
    for link in run.links:
        if not link.made or link.side == "right":
            continue
        rest, name = link.outer - link.inner, link.name.replace("left ", "")
        if run.hung.ladder and link.name != "track rod":
            across = np.broadcast_to(ACROSS, (*found.closed.shape, 3))
            tilt = np.arccos(np.clip(np.sum((turn @ ACROSS) * across, axis=-1), -1, 1))
            eye = _eye(eyes)
            pivot = _most("pivot", tilt, found.travel, found.rack, eye.limit if eye else None, eye)
            told = (pivot,) if "lower" in name else ()  # both legs have one
            yield LinkMade(name, float(np.linalg.norm(rest)), None, None, None, told)
            continue
        bolt = bolt_across(rest, ALONG if link.name == "track rod" else ACROSS)
        ways = found.at(link.outer) - link.inner
        over = tilts(ways, (np.broadcast_to(bolt, ways.shape), turn @ bolt), (rest, (bolt, bolt)))
        yield replace(_rod(name, rest, over, found.travel, found.rack, eyes), both=bool(link.side))


def _of_beam(run: BeamRun, eyes: RodEnds) -> Iterator[LinkMade]:
    """The rods that steer, and the links that a beam moves on; bolts lie along the column or upright at the frame,
    along the kingpins at the wheels."""
    hung, found = run.hung, run.found
    row, count = run.rest, len(found.travel)
    column = UP if hung.pivot is None or hung.column is None else np.array(hung.column) - np.array(hung.pivot)
    column = column / np.linalg.norm(column) * (1 if column[2] >= 0 else -1)
    nowhere, turns = np.zeros(3), found.rack if hung.pivot else np.zeros(len(found.rack))
    for name, inner, outer in beam_rods(run, found):
        if name.startswith("right"):
            continue
        rest = (outer - inner)[row, run.straight]
        side, pin = (found.right, run.stub.mirrored.pin) if name == "tie rod" else (found.left, run.stub.pin)
        bolts = bolt_across(rest, run.stub.pin if name == "tie rod" else column), bolt_across(rest, pin)
        if name == "tie rod":
            first = _carried(found, swung(bolts[0], nowhere, run.stub.pin, found.left.turn.ravel()))
        else:
            first = np.broadcast_to(swung(bolts[0], nowhere, column, turns), (count, *turns.shape, 3))
        second = _carried(found, swung(bolts[1], nowhere, pin, side.turn.ravel()))
        over = tilts(outer - inner, (first, second), (rest, bolts))
        made = _rod(name.replace("left ", ""), rest, over, found.travel, found.rack, eyes)
        yield replace(made, both=hung.drag is None)
    if run.held:
        yield from _of_axle(run.held, eyes)


def _carried(found: BeamGrid, ways: Floats) -> Floats:
    """Directions of a beam (n·m, 3) as they lie where it stands (n, m, 3)."""
    each = ways.reshape(*found.closed.shape, 3)
    return np.asarray((found.turned[:, None] @ each[..., None])[..., 0])


def _rod(name: str, rest: Floats, over: Floats, travel: Floats, side: Floats, eyes: RodEnds) -> LinkMade:
    """A link with a rod end at either end; over: how far both tilt (n, m, 2)."""
    length = float(np.linalg.norm(rest))
    eye = _eye(eyes)
    told = tuple(
        _most(end, over[..., n], travel, side, eye.limit if eye else None, eye)
        for n, end in enumerate(("inner end", "outer end"))
    )
    tube = length - 2 * (eyes.shank - eyes.engaged + eyes.lip) if eyes.shank and eyes.engaged else None
    shortest = longest = None
    if tube is not None:
        if eyes.start:
            shortest = tube + 2 * (eyes.start + eyes.nut + eyes.lip)
        if eyes.thread:
            longest = tube + 2 * (eyes.shank + eyes.lip - LEAST_THREADS * eyes.thread)
    return LinkMade(name, length, tube, shortest, longest, told)


def _eye(eyes: RodEnds) -> Eye | None:
    """The eye of a rod end; None where its sizes are not known."""
    return Eye(eyes.head, eyes.housing, eyes.ball) if eyes.head and eyes.housing and eyes.ball else None


def _most(end: str, over: Floats, travel: Floats, side: Floats, limit: float | None, eye: Eye | None = None) -> Tilt:
    """The most that an end tilts (n, m), and where."""
    known = np.where(np.isfinite(over), over, -1.0)
    row, column = np.unravel_index(int(known.argmax()), known.shape)
    most = max(float(known[row, column]), 0.0)
    spacer = eye.spacer(most) if eye and limit is not None and most > limit else None
    return Tilt(end, most, float(travel[row]), float(side[column]), limit, spacer)
