"""What a load at a wheel does at the joints that its links are hung at."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ironcage.core.answers.run.axlelinks import MIRROR, SIDES, axle_leaves, axle_links
from ironcage.core.answers.run.corner import corner_of
from ironcage.core.answers.run.fork import fork_of
from ironcage.core.answers.run.liveaxle import axle_of
from ironcage.core.answers.run.steerforces import rod_force
from ironcage.core.answers.run.swing import arm_of, is_carrier, rocker_of
from ironcage.core.calc.linkage.axle import axle_forces
from ironcage.core.calc.linkage.forces import hinged, link_forces
from ironcage.core.calc.linkage.fork import head_forces
from ironcage.core.calc.linkage.rocker import Rocker
from ironcage.core.calc.linkage.wishbone import poses
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import AxleCarrier, KingpinBeam, LinkedAxle, SwingingArms, Wishbones
from ironcage.problem import Problem

Floats = NDArray[np.float64]
RACK_JOINTS = 2  # that the rack's own force is given to: those nearest to it


def link_reactions(
    job: Job, corner: str, at: Floats, force: Floats
) -> tuple[tuple[str, tuple[str, ...], Floats, Floats], ...] | None:
    """At ride height, each link's name, the joints it reaches the frame at, where it acts (3,) mm, and its force there
    (3,) N, for a force (3,) N at a place (3,) mm on the upright, or on the live axle; None where that corner hangs on
    no links, or on a live axle without coil-overs. Joints of the tie rod are those nearest to the rack. Raises Problem
    where the links do not bear it."""
    axle, _, side = corner.partition(" ")
    if beam := next((b for b in job.beams if b.axle == axle and b.hold), None):
        return _beam_reactions(job, beam, side, at, force)
    if held_axle(job, axle):
        return axle_reactions(job, axle, at, force, np.zeros(3))
    if fork := next((f for f in job.forks if f.axle == axle), None):
        pushes = head_forces(fork_of(job, fork), at, force)
        given = zip(("upper bearing", "lower bearing"), fork.joints, pushes, strict=True)
        return tuple(
            (name, (_on_tube(job, joint),), np.array(job.joint(joint).place), push) for name, joint, push in given
        )
    if carrier := next((c for c in job.carriers if c.axle == axle), None):
        return _carrier_reactions(job, carrier, side, at, force)
    if swinging := next((a for a in job.arms if a.axle == axle), None):
        return _arm_reactions(job, swinging, side, at, force)
    hung = next((w for w in job.wishbones if w.axle == axle), None)
    if hung is None:
        return None
    right = side == "right"
    turn = MIRROR if right else np.ones(3)
    points = corner_of(job, hung, right=right)
    found = poses(points, np.zeros(1), np.zeros(1))
    try:
        told = link_forces(found, at * turn, force * turn, np.zeros(3))
    except ValueError as fault:
        raise Problem(
            f"The links of the {corner} wheel bear no load: {fault}.", where=corner, hint="See Run."
        ) from None
    places = {
        "lower front": points.lower[0],
        "lower rear": points.lower[1],
        "upper front": points.upper[0],
        "upper rear": points.upper[1],
        "tie": points.tie_in,
        "spring": points.spring_in,
        **(
            {"rocker, push rod": points.rocker.push_in, "rocker, coil-over": points.spring_out} if points.rocker else {}
        ),
    }
    made = []
    for name, pushed in told.on_frame.items():
        place = places[name]
        made.append((name, _joints(job, hung, name, place, right=right), place * turn, pushed * turn))
    return tuple(made)


def _beam_reactions(
    job: Job, beam: KingpinBeam, side: str, at: Floats, force: Floats
) -> tuple[tuple[str, tuple[str, ...], Floats, Floats], ...] | None:
    """As `link_reactions` for a wheel of a beam that moves: its rod takes what turns it about its kingpin, to the
    joints nearest to the rack or to the drop arm's foot; what the beam moves on takes the rest."""
    rod = rod_force(job, beam, side, at, force)
    rest = axle_reactions(job, beam.axle, at, force + rod.on_beam, np.cross(rod.end - at, rod.on_beam))
    if rest is None:
        return None
    mirror = MIRROR if rod.place[1] < 0 else np.ones(3)
    held = rod.place if beam.pivot is None else np.array(beam.pivot) * mirror
    return (*rest, (rod.name, _nearest(job, held), rod.place, rod.push))


def axle_reactions(
    job: Job, end: str, at: Floats, force: Floats, moment: Floats
) -> tuple[tuple[str, tuple[str, ...], Floats, Floats], ...] | None:
    """As `link_reactions`, for a force (3,) N at a place (3,) mm and a moment (3,) N·mm on the live axle or the
    beam of an end; None where there is none with coil-overs or leaf springs."""
    hung = held_axle(job, end)
    if hung is None or not (hung.eye or hung.leaf.across or (hung.spring and hung.spring_out)):
        return None
    held = [
        _Held(link.name, (link.joint,), link.inner, link.inner, link.outer)
        for link in axle_links(job, hung)
        if link.made
    ]
    held += [*_by_leaves(job, hung), *_across(job, hung), *_by_coil_overs(job, hung)]
    axle = replace(
        axle_of(job, hung),
        inner=np.array([bar.inner for bar in held]),
        outer=np.array([bar.outer for bar in held]),
        made=np.ones(len(held), bool),
    )
    try:
        pulls = axle_forces(axle, np.empty((0, 2, 3)), at, force, moment)
    except ValueError as fault:
        raise Problem(f"The {end} axle bears no load: {fault}.", where=end, hint="See Run.") from None
    ways = (axle.outer - axle.inner) / np.linalg.norm(axle.outer - axle.inner, axis=1, keepdims=True)
    whole: dict[str, tuple[_Held, Floats]] = {}  # what an eye holds in several ways is told as one force
    for bar, pull, way in zip(held, pulls, ways, strict=True):
        whole[bar.name] = bar, whole.get(bar.name, (bar, np.zeros(3)))[1] + float(pull) * way
    return tuple(
        (name, tuple(_on_tube(job, j) for j in bar.joints), bar.place, push) for name, (bar, push) in whole.items()
    )


def held_axle(job: Job, end: str) -> LinkedAxle | None:
    """The live axle of an end, or what its beam moves on; None where it has neither."""
    held = (*job.live_axles, *(beam.hold for beam in job.beams if beam.hold))
    return next((axle for axle in held if axle.axle == end), None)


@dataclass(frozen=True, eq=False)
class _Held:
    """What holds an axle along one line. joints, place (3,): of the frame, where it acts; inner, outer (3,): places of
    that line, outer that on the axle; all mm."""

    name: str
    joints: tuple[str, ...]
    place: Floats
    inner: Floats
    outer: Floats


def _by_coil_overs(job: Job, hung: LinkedAxle) -> Iterator[_Held]:
    if hung.spring and hung.spring_out:
        for side, mirror in SIDES:
            top, joint = _on_tube(job, hung.spring), job.joint(hung.spring)
            at = np.array(joint.place) * mirror
            name = top if side == "left" else joint.twin or ""
            yield _Held(f"{side} coil-over", (name,), at, at, np.array(hung.spring_out) * mirror)


def _by_leaves(job: Job, hung: LinkedAxle) -> Iterator[_Held]:
    """What the eyes of leaf springs hold of the axle that is clamped to them: the fixed ones every way, those on
    shackles up, and sideways where no track rod does."""
    leaves = axle_leaves(job, hung)
    if leaves is None:
        return
    for side, mirror in SIDES:
        for name, joint, eye, axes in (
            ("front eye", leaves.eye, leaves.front, "xyz"),
            ("shackle", leaves.shackle, leaves.rear, "yz"),
        ):
            on = joint if side == "left" else job.joint(joint).twin or ""
            for axis in axes if not hung.rod else axes.replace("y", ""):
                way = np.eye(3)["xyz".index(axis)]
                yield _Held(f"{side} {name}", (on,), eye * mirror, eye * mirror - way, eye * mirror)


def _across(job: Job, hung: LinkedAxle) -> Iterator[_Held]:
    """What a spring across the car, clamped to the frame in its middle, holds up at both of its ends; it is given to
    the joints nearest to that middle."""
    if hung.leaf.across and not hung.eye:
        wheel = edits.left_wheel(job, hung.axle)
        clamp = np.array([wheel.x, 0.0, wheel.z])
        for side, mirror in SIDES:
            end = np.array([wheel.x, hung.leaf.front, wheel.z]) * mirror
            yield _Held(f"{side} end of the leaf spring", _nearest(job, clamp), end, end - np.eye(3)[2], end)


def on_one(job: Job, end: str) -> bool:
    """Whether both wheels of an end are held by the same links: on a carrier, or as halves of a wheel in a fork."""
    on_arms = any(a.axle == end and is_carrier(job, a) for a in job.arms)
    return on_arms or any(f.axle == end for f in job.forks) or any(c.axle == end for c in job.carriers)


def _arm_reactions(
    job: Job, hung: SwingingArms, side: str, at: Floats, force: Floats
) -> tuple[tuple[str, tuple[str, ...], Floats, Floats], ...] | None:
    """As `link_reactions` for a wheel on a swinging arm; both coil-overs of a carrier bear half of what turns it. None
    without coil-overs, for then nothing holds the wheel up."""
    if not hung.spring or not hung.spring_out:
        return None
    whole, right = is_carrier(job, hung), side == "right"
    arm = arm_of(job, hung)
    mirrors = [np.ones(3), MIRROR] if whole else [MIRROR if right else np.ones(3)]
    turn = np.ones(3) if whole else mirrors[0]
    hinge = arm.hinge * turn
    along = (hinge[1] - hinge[0]) / np.linalg.norm(hinge[1] - hinge[0])
    top, foot = np.array(job.joint(hung.spring).place), np.array(hung.spring_out)
    rocker = rocker_of(job, hung)
    end, start = (foot, top) if rocker is None else (rocker.push_out, rocker.push_in)
    pushes = [(end - start) * m / np.linalg.norm(end - start) for m in mirrors]
    levers = [float(along @ np.cross(end * m - hinge[0], push)) for m, push in zip(mirrors, pushes, strict=True)]
    if abs(sum(levers)) < 1.0:
        raise Problem(
            f"The coil-over of the {hung.axle} arms points at their axis, so it bears no load.",
            where=hung.spring,
            hint="Move one of its ends.",
        )
    size = -float(along @ np.cross(at - hinge[0], force)) / sum(levers)
    loads = [(at, force), *((end * m, size * push) for m, push in zip(mirrors, pushes, strict=True))]
    names = [hung.first, hung.second]
    if right and not whole:
        names = [job.joint(n).twin or "" for n in names]
    tops = [_on_tube(job, hung.spring if m is not MIRROR else (job.joint(hung.spring).twin or "")) for m in mirrors]
    ends = zip(("first pivot", "second pivot"), names, hinge, hinged(hinge, loads), strict=True)
    made = [(name, (_on_tube(job, joint),), place, given) for name, joint, place, given in ends]
    for joint, m, push in zip(tops, mirrors, pushes, strict=True):
        name = f"{'right' if m is MIRROR else 'left'} coil-over" if whole else "coil-over"
        if rocker is None or hung.push is None:
            made.append((name, (joint,), top * m, -size * push))
            continue
        on = _on_tube(job, hung.push.pivot if m is not MIRROR else (job.joint(hung.push.pivot).twin or ""))
        made += [
            (name.replace("coil-over", what), (joint if what == "coil-over" else on,), place * m, given * m)
            for what, place, given in _by_rocker(rocker, foot, top, size)
        ]
    return tuple(made)


def _carrier_reactions(
    job: Job, hung: AxleCarrier, side: str, at: Floats, force: Floats
) -> tuple[tuple[str, tuple[str, ...], Floats, Floats], ...] | None:
    """As `link_reactions` for an axle that is set about a pivot and held by adjusters, which bear as the coil-overs of
    a carrier on arms do. None of one that slides: its bearings' joints are the pickups; and without adjusters."""
    if not (hung.pivot and hung.stay and hung.stay_out):
        return None
    twin = job.joint(hung.pivot).twin or ""
    arms = SwingingArms(axle=hung.axle, first=hung.pivot, second=twin, spring=hung.stay, spring_out=hung.stay_out)
    told = _arm_reactions(job, arms, side, at, force)
    return told and tuple((name.replace("coil-over", "adjuster"), *rest) for name, *rest in told)  # type: ignore[misc]


def _by_rocker(rocker: Rocker, foot: Floats, top: Floats, size: float) -> Iterator[tuple[str, Floats, Floats]]:
    """What the frame gets, where (3,), mm, and how much (3,), N, where a push rod presses its outer end away with a
    size, N: at the coil-over's top, and through the rocker's joint where rod and coil-over are on it."""
    rod = (rocker.push_in - rocker.push_out) / rocker.length * size
    way = (foot - top) / np.linalg.norm(foot - top)
    given = -rocker.lever(rocker.push_in, rod) / rocker.lever(foot, way) * way  # by the coil-over, on the rocker
    yield "coil-over", top, -given
    yield "rocker, push rod", rocker.push_in, rod
    yield "rocker, coil-over", foot, given


def _on_tube(job: Job, name: str) -> str:
    """A joint that a link is hung at. Raises Problem where it is on no tube."""
    if name not in job.tubes_at:
        raise Problem(f"{name}, where a link is hung, is on no tube.", where=name, hint="Join it to the frame.")
    return name


def _joints(job: Job, hung: Wishbones, end: str, place: Floats, *, right: bool) -> tuple[str, ...]:
    named = {
        "lower front": hung.lower[0],
        "lower rear": hung.lower[1],
        "upper front": hung.upper[0],
        "upper rear": hung.upper[1],
        "spring": hung.spring,
        **(dict.fromkeys(("rocker, push rod", "rocker, coil-over"), hung.push.pivot) if hung.push else {}),
    }
    if end in named:
        return (_on_tube(job, (job.joint_by_id[named[end]].twin or "") if right else named[end]),)
    return _nearest(job, place * (MIRROR if right else 1.0))


def _nearest(job: Job, there: Floats) -> tuple[str, ...]:
    """The joints on tubes that are nearest to a place (3,)."""
    used = [j for j in job.joints if j.id in job.tubes_at]
    used.sort(key=lambda j: float(np.linalg.norm(np.array(j.place) - there)))
    return tuple(j.id for j in used[:RACK_JOINTS])
