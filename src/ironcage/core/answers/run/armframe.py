"""An arm of a wishbone as a small frame of its own, laid flat on the jig table with its mirror image: to be cut,
jigged, welded and measured as any frame is."""

from __future__ import annotations

import math
from collections import Counter
from typing import Literal

import numpy as np

from ironcage.core.answers.run.corner import corner_of
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.sections import Round
from ironcage.core.job import edits
from ironcage.core.job.shelf.library import library
from ironcage.core.job.values.fittings import Tab
from ironcage.core.job.values.model import Brief, Job, Material, Section
from ironcage.core.job.values.running import Axle
from ironcage.problem import Problem

Arm = Literal["lower", "upper"]
ASIDE_MM, HEIGHT_MM = 150.0, 120.0  # of the hinge from the middle of the table, and of the arm over it
WALL_MM = 2.0  # of legs whose size the shelf does not have
SLEEVE_MM, SLEEVE_WALL_MM, SLEEVE_MORE_MM = 50.0, 3.0, 6.0  # how long a bush's sleeve is; its outside over the leg's
CUP_MM, CUP_WALL_MM, CUP_MORE_MM = 34.0, 4.0, 14.0  # the same of a ball joint's cup
TAB_MM, TAB_THICK_MM, TAB_HOLE_MM = 40.0, 5.0, 12.2  # of a coil-over's mount: wide, thick, its hole
TAB_OVER_MM = 15.0  # of it beyond the hole
FIRST_MATERIAL = "Drawn mild steel tube"


def arm_job(job: Job, axle: Axle, arm: Arm) -> Job:
    """The job of one arm, left and right: two legs from bush sleeves along the hinge to a ball joint's cup, whose axis
    is the line of both ball joints at ride height; tabs where the coil-over stands on it; sleeves and cup on stands.
    The legs are as thick as the links of the car; sleeves, cup and tabs are proposals that are changed in it. Raises
    Problem for an end without wishbones, and for an arm too narrow for its sleeves."""
    hung = edits.find_wishbones(job, axle)
    corner = corner_of(job, hung)
    inner, out = (corner.lower, corner.lower_out) if arm == "lower" else (corner.upper, corner.upper_out)
    flat = _Flat(inner, out)
    stud = corner.upper_out - corner.lower_out
    if np.linalg.norm(inner[0] - inner[1]) < 2 * SLEEVE_MM:
        raise Problem(
            f"The {axle} {arm} arm is too narrow for two sleeves.", where=axle, hint="Move its inner joints apart."
        )
    made = Job(
        brief=Brief(name=f"{job.brief.name}, {axle} {arm} arm", builder=job.brief.builder, units=job.brief.units)
    )
    material = frame_material(job)
    leg, sleeve, cup = _sections(job, hung.link)
    along, up = flat.way(inner[0] - inner[1]), flat.way(stud)
    ends = []
    for called, middle, way, length, section in (
        ("front sleeve", inner[0], along, SLEEVE_MM, sleeve),
        ("rear sleeve", inner[1], along, SLEEVE_MM, sleeve),
        ("cup", out, up, CUP_MM, cup),
    ):
        made, joint = _sleeve(made, flat.at(middle), way * length / 2, section, material)
        made = edits.change_tubes(made, [made.tubes_at[joint][0].id], called=called)  # the half that names the piece
        ends.append(joint)
    for called, inside in (("front leg", ends[0]), ("rear leg", ends[1])):
        made = edits.add_tube(made, inside, ends[2], leg, material, "suspension")
        made = edits.change_tubes(made, [f"T{made.last_tube}L"], called=called)
    if hung.spring_on == arm:
        made = _with_tab(made, flat.at(corner.carried), ends, hung.link)
    outer = [t.a if t.b in ends else t.b for t in made.tubes if set(t.ends) & set(ends[:2]) and ends[2] not in t.ends]
    return edits.toggle_stands(made, [*outer, ends[2]])


class _Flat:
    """An arm's own axes: along its hinge, out to its ball joint, and up; the hinge parallel to the table's length."""

    def __init__(self, inner: Floats, out: Floats) -> None:
        self.middle = inner.mean(axis=0)
        along = inner[0] - inner[1]
        along = along / np.linalg.norm(along)
        outwards = out - self.middle
        outwards = outwards - (outwards @ along) * along
        outwards = outwards / np.linalg.norm(outwards)
        self.axes = np.array([along, outwards, np.cross(along, outwards)])

    def way(self, way: Floats) -> Floats:
        """A direction of the car on the table, of length 1."""
        made = self.axes @ way
        return np.asarray(made / np.linalg.norm(made))

    def at(self, place: Floats) -> Floats:
        """A place of the car on the table, mm."""
        return np.asarray(self.axes @ (place - self.middle) + np.array([0.0, ASIDE_MM, HEIGHT_MM]))


def _sections(job: Job, link: float) -> tuple[Section, Section, Section]:
    """The legs', sleeves' and cup's tube: legs from the shelf where it has a round of their size."""
    return (
        leg_section(job, link),
        _round(link + SLEEVE_MORE_MM, SLEEVE_WALL_MM),
        _round(link + CUP_MORE_MM, CUP_WALL_MM),
    )


def leg_section(job: Job, link: float) -> Section:
    """The tube of links so thick, mm: the shelf's thinnest round of that outside, else one with a wall of 2 mm."""
    rounds = [s for s in job.shelf.sections if isinstance(s.shape, Round) and math.isclose(s.shape.od_mm, link)]
    return min(rounds, key=lambda s: s.shape.wall_mm, default=None) or _round(link, WALL_MM)


def _round(od: float, wall: float) -> Section:
    return Section(name=f"{od:g} x {wall:g} round", shape=Round(od, wall))


def frame_material(car: Job) -> Material:
    """The material that most tubes of the car are of."""
    used = Counter(t.material for t in car.tubes)
    name = used.most_common(1)[0][0] if used else FIRST_MATERIAL
    known = (*car.shelf.materials, *library().materials)
    return next(m for m in known if m.name == name)


def _sleeve(job: Job, middle: Floats, half: Floats, section: Section, material: Material | str) -> tuple[Job, str]:
    """A short tube through a joint in its middle, in two that are one piece; the joint of the left side."""
    first = job.last_joint + 1
    for place in (middle - half, middle, middle + half):
        job = edits.add_joint(job, _place(place))
    one, here, other = (f"J{first + n}L" for n in range(3))
    job = edits.add_tube(job, one, here, section, material, "suspension")
    return edits.add_tube(job, here, other, section, material, "suspension"), here


def _with_tab(job: Job, foot: Floats, ends: list[str], link: float) -> Job:
    """A pair of tabs on the leg that is nearest to a coil-over's foot, its hole there; without it where that does not
    fit."""
    legs = [t for t in job.tubes if t.id.endswith("L") and ends[2] in t.ends and set(t.ends) & set(ends[:2])]

    def off(ends: tuple[str, str]) -> float:
        a, b = (np.array(job.joint_by_id[name].place) for name in ends)
        way = (b - a) / np.linalg.norm(b - a)
        return float(np.linalg.norm(foot - a - ((foot - a) @ way) * way))

    leg = min(legs, key=lambda t: off(t.ends))
    held = f"J{job.last_joint + 1}L"
    with_joint = edits.add_joint(job, _place(foot))
    tab = Tab(
        id="new",
        tube=leg.id,
        at=0.0,
        width=TAB_MM,
        height=round(off(leg.ends) + TAB_OVER_MM, 1),
        thickness=TAB_THICK_MM,
        hole=TAB_HOLE_MM,
        tabs=2,
        gap=max(link - 2 * TAB_THICK_MM, TAB_THICK_MM),
        carries=held,
    )
    try:
        return edits.add_fitting(with_joint, tab)
    except Problem:
        return job


def _place(at: Floats) -> tuple[float, float, float]:
    x, y, z = (round(float(v), 3) for v in at)
    return x, y, z
