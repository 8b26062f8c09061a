"""The links that only pull and push along themselves: which forces of Prove's cases are theirs, and their tubes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.armframe import leg_section
from ironcage.core.answers.run.axlelinks import axle_links
from ironcage.core.answers.run.corner import MIRROR, corner_of
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.values.model import Job, Section
from ironcage.core.job.values.running import KingpinBeam, LinkedAxle, Wishbones

SIDES = (("left", np.ones(3)), ("right", MIRROR))


@dataclass(frozen=True, eq=False)
class AxialLink:
    """A link of an end, of one side or of both. ways: by the name of what a case's force in it is called, the unit
    vector (3,) from the frame along it; length: between its ends, mm; section: of its tube."""

    axle: str
    name: str
    ways: dict[str, Floats]
    length: float
    section: Section


def axial_links(job: Job) -> tuple[AxialLink, ...]:
    """Tie rods and push rods of wishbones, the links of live axles and of beams that move, and the rods that steer
    those but for a tie rod from arm to arm. Legs of wishbones are bent by what they carry, too. Raises Problem where a
    joint has gone."""
    made = [link for hung in job.wishbones for link in _of_corner(job, hung)]
    holds = (*job.live_axles, *(beam.hold for beam in job.beams if beam.hold))
    made += [link for hung in holds for link in _of_axle(job, hung)]
    return (*made, *(_of_beam(job, beam) for beam in job.beams if beam.hold))


def _of_corner(job: Job, hung: Wishbones) -> Iterator[AxialLink]:
    points, section = corner_of(job, hung), leg_section(job, hung.link)
    ends = [("tie rod", "tie", points.tie_in, points.tie_out)]
    if points.rocker:
        ends.append(("push rod", "rocker, push rod", points.rocker.push_in, points.rocker.push_out))
    for name, called, inner, outer in ends:
        along = outer - inner
        length = float(np.linalg.norm(along))
        ways = {f"{hung.axle} {side} {called}": along / length * mirror for side, mirror in SIDES}
        yield AxialLink(hung.axle, name, ways, length, section)


def _of_beam(job: Job, beam: KingpinBeam) -> AxialLink:
    """The rod from the rack or the drop arm: one to either wheel, or a drag link."""
    name, end = ("drag link", beam.drag) if beam.drag else ("tie rod", beam.arm)
    along = np.array(end) - np.array(beam.rod)
    length = float(np.linalg.norm(along))
    way = along / length
    if beam.drag:
        ways = {f"{beam.axle} drag link": way}
    else:
        ways = {f"{beam.axle} {side} tie rod": way * mirror for side, mirror in SIDES}
    return AxialLink(beam.axle, name, ways, length, leg_section(job, beam.link))


def _of_axle(job: Job, hung: LinkedAxle) -> Iterator[AxialLink]:
    section = leg_section(job, hung.link)
    found: dict[str, list[tuple[str, Floats]]] = {}
    for link in axle_links(job, hung):
        if link.made:
            name = link.name.replace("left ", "").replace("right ", "")
            found.setdefault(name, []).append((f"{hung.axle} {link.name}", link.outer - link.inner))
    for name, each in found.items():
        ways = {called: along / np.linalg.norm(along) for called, along in each}
        yield AxialLink(hung.axle, name, ways, max(float(np.linalg.norm(along)) for _, along in each), section)
