"""What hung wheels and their links pass on their way, as bodies with a piece for each moment."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from dataclasses import replace

import numpy as np

from ironcage.core.answers.run.beam import BeamRun, BeamStill, beam_runs, leaning_grid, rods, wheels
from ironcage.core.answers.run.carrier import CarrierRun, CarrierStill, carrier_lines, carrier_runs, set_words
from ironcage.core.answers.run.corner import MIRROR, AxleRun, Still, link_lines, runs
from ironcage.core.answers.run.fork import ForkRun, ForkStill, fork_lines, fork_runs, turned_words
from ironcage.core.answers.run.liveaxle import LinkedRun, LinkedStill, axle_lines, axle_runs
from ironcage.core.answers.run.moments import beam_words, leaning_words, racked_words
from ironcage.core.answers.run.shafts import swept_shafts
from ironcage.core.answers.run.swing import SwingRun, SwingStill, arm_lines, arm_runs, chain_of
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.linkage.wishbone import Ints, Poses
from ironcage.core.calc.solids.convex import Floats, Solid, cylinder, rod
from ironcage.core.calc.solids.outsides import hull_of
from ironcage.core.job import edits
from ironcage.core.job.geometry.bodies import TYRE_MARGIN_MM, Body, tyre_body
from ironcage.core.job.values.model import Job, Wheel
from ironcage.core.job.values.running import HUNG
from ironcage.problem import Problem

# moments that are looked at, as shares of the whole travel and of the rack's way from side to side
TRAVELS = np.linspace(0.0, 1.0, 9)
STEERS = np.array([0.0, 0.2, 0.5, 0.8, 1.0])
ROLLS = np.array([0.0, 0.5, 1.0])
LEANT = np.linspace(0.0, 1.0, 5)  # of a beam that leans
STEERED = np.linspace(0.0, 1.0, 9)
ALONG_AXLE = np.array([0.0, 1.0, 0.0])
COIL_OVER_MM = 60.0  # diameter of a coil-over with its spring


@remembered(*HUNG, "joints", "wheels", "tubes", "chains", "shafts")
def swept_bodies(job: Job) -> tuple[Body, ...]:
    """The tyres and links of every hung axle, both sides, live axles, and the shafts that drive them. Nothing of an
    axle whose links are incomplete."""
    made: list[Body] = []
    with suppress(Problem):
        made += [body for run in runs(job) for body in _swept(job, run)]
    with suppress(Problem):
        made += [body for run in axle_runs(job) for body in _swept_axle(job, run)]
    with suppress(Problem):
        made += [body for run in beam_runs(job) for body in _swept_beam(job, run)]
    with suppress(Problem):
        made += [body for run in arm_runs(job) for body in _swept_arms(job, run)]
    with suppress(Problem):
        made += [body for run in carrier_runs(job) for body in _swept_carrier(job, run)]
    with suppress(Problem):
        made += [body for run in fork_runs(job) for body in _swept_fork(job, run)]
    with suppress(Problem):
        made += swept_shafts(job)
    return tuple(made)


@remembered(*HUNG, "joints", "wheels", "tubes", "chains", "shafts")
def keep_out(job: Job) -> tuple[Body, ...]:
    """Where no tube may go: the convex room round all places that each tyre and link of a hung end takes."""
    return tuple(replace(body, solids=(hull_of(body.solids),), labels=("",)) for body in swept_bodies(job))


def _swept_beam(job: Job, run: BeamRun) -> Iterator[Body]:
    """The tyres and rods of a beam at moments of its travel, its steering to both sides and, where it moves, its lean;
    and what it moves on."""
    level, hold = run.found, run.hung.hold
    rows, columns = _at(TRAVELS, len(level.travel)), _at(STEERED, len(level.rack))
    looked = [(level, [(i, k) for i in rows for k in columns if level.closed[i, k]], 0.0)]
    if run.held and run.held.hung.roll:
        travel, ways = level.travel[_at(LEANT, len(level.travel))], level.rack[_at(ROLLS, len(level.rack))]
        for roll in (-run.held.hung.roll, run.held.hung.roll):
            found = leaning_grid(run, run.held, travel, np.full_like(travel, roll), ways)
            looked.append((found, [(int(i), int(k)) for i, k in np.argwhere(found.closed)], roll))
    words = tuple(
        beam_words(run, float(found.travel[i]), float(found.rack[k]), roll)
        for found, moments, roll in looked
        for i, k in moments
    )
    if not words:
        return
    for n, side in enumerate(("left", "right")):
        wheel = next((w for w in job.wheels if w.corner == f"{run.hung.axle} {side}"), None)
        if wheel:
            tyres = tuple(
                _disc(wheel, wheels(found)[n][1].centre[m], wheels(found)[n][1].axis[m])
                for found, moments, _ in looked
                for m in moments
            )
            yield Body(wheel.id, wheel.tyre_name, "tyre", tyres, words, TYRE_MARGIN_MM, "tyre")
    hangs = _at_joints(job, (*hold.joints,)) if hold else set()
    touches = frozenset({"link", "tyre", *hangs})
    ends = [(rods(run, found), moments) for found, moments, _ in looked]
    for n, (name, _, _) in enumerate(ends[0][0]):
        bars = tuple(rod(run.hung.link / 2, of[n][1][m], of[n][2][m]) for of, moments in ends for m in moments)
        called = f"{run.hung.axle} {name}"
        yield Body(called, called, "link", bars, words, run.hung.margin, "link", touches)
    if run.held:
        yield from _swept_links(job, run.held)


def _swept_arms(job: Job, run: SwingRun) -> Iterator[Body]:
    """The tyres, arms, axle and coil-overs of an end on arms at moments of their travel."""
    rows = [int(n) for n in _at(TRAVELS, len(run.found.travel)) if run.found.closed[n, 0]]
    words = tuple(leaning_words(float(run.found.travel[n])) for n in rows)
    if not rows:
        return
    for side, mirror in (("left", np.ones(3)), ("right", MIRROR)):
        wheel = next((w for w in job.wheels if w.corner == f"{run.hung.axle} {side}"), None)
        if wheel and not wheel.second_half:
            centre, axis = run.found.poses.at(run.arm.wheel), run.found.poses.turned(run.arm.axis)
            tyres = tuple(_disc(wheel, centre[n] * mirror, axis[n] * mirror) for n in rows)
            yield Body(wheel.id, wheel.tyre_name, "tyre", tyres, words, TYRE_MARGIN_MM, "tyre")
    hung = run.hung
    touches = frozenset({"link", "tyre", "axle"} | _at_joints(job, hung.joints))
    if chain := chain_of(job, hung.axle):
        touches |= {chain.id}  # it runs round the axle
    for name, one, other in arm_lines(job, run, run.found):
        radius = (COIL_OVER_MM if "coil-over" in name else hung.link) / 2
        bars = tuple(rod(radius, one[n], other[n]) for n in rows)
        called = f"{hung.axle} {name}"
        yield Body(called, called, "link", bars, words, hung.margin, "link", touches)


def arm_tyres_at(job: Job, still: SwingStill) -> tuple[Body, ...]:
    """Both tyres of an end on arms where they stand, and the other end's as they stand."""
    run, found = still.run, still.found
    made = _others(job, run.hung.axle)
    if found.closed[0, 0]:
        centre, axis = found.poses.at(run.arm.wheel)[0], found.poses.turned(run.arm.axis)[0]
        for wheel in (w for w in job.wheels if w.corner.startswith(run.hung.axle) and not w.second_half):
            mirror = MIRROR if wheel.corner.endswith("right") else np.ones(3)
            tyre = _disc(wheel, centre * mirror, axis * mirror)
            made.append(Body(wheel.id, wheel.tyre_name, "tyre", (tyre,), ("",), TYRE_MARGIN_MM, "tyre"))
    return tuple(made)


def _swept_fork(job: Job, run: ForkRun) -> Iterator[Body]:
    """The tyre and the legs of a fork at moments of its travel, from lock to lock."""
    found, hung, wheel = run.found, run.hung, edits.left_wheel(job, run.hung.axle)
    moments = [(int(i), int(k)) for i in _at(TRAVELS, len(found.travel)) for k in _at(STEERED, len(found.rack))]
    words = tuple(f"{leaning_words(float(found.travel[i]))}, {turned_words(float(found.rack[k]))}" for i, k in moments)
    centre, axis = found.at(run.fork.wheel), found.poses.axis
    tyres = tuple(_disc(wheel, centre[i, k], axis[k]) for i, k in moments)
    yield Body(wheel.id, wheel.tyre_name, "tyre", tyres, words, TYRE_MARGIN_MM, "tyre")
    touches = frozenset({"link", "tyre"} | _at_joints(job, hung.joints))
    for name, inner, outer in fork_lines(run, found):
        bars = tuple(rod(hung.link / 2, inner[m], outer[m]) for m in moments)
        called = f"{hung.axle} {name}"
        yield Body(called, called, "link", bars, words, hung.margin, "link", touches)


def _swept_carrier(job: Job, run: CarrierRun) -> Iterator[Body]:
    """The tyres, axle, arms and adjusters of a carrier over its adjustment."""
    found, hung = run.found, run.hung
    rows = [int(n) for n in _at(TRAVELS, len(found.travel))]
    words = tuple(set_words(float(found.travel[n])) for n in rows)
    for wheel in (w for w in job.wheels if w.corner.startswith(hung.axle) and not w.second_half):
        middle = found.at(np.array([wheel.x, wheel.y, wheel.z]))[:, 0]
        tyres = tuple(_disc(wheel, middle[n], ALONG_AXLE) for n in rows)
        yield Body(wheel.id, wheel.tyre_name, "tyre", tyres, words, TYRE_MARGIN_MM, "tyre")
    touches = frozenset({"link", "tyre", "axle"} | _at_joints(job, hung.joints))
    if chain := chain_of(job, hung.axle):
        touches |= {chain.id}  # it runs round the axle
    for name, one, other in carrier_lines(job, run, found):
        bars = tuple(rod(hung.link / 2, one[n], other[n]) for n in rows)
        called = f"{hung.axle} {name}"
        yield Body(called, called, "link", bars, words, hung.margin, "link", touches)


def carrier_tyres_at(job: Job, still: CarrierStill) -> tuple[Body, ...]:
    """The tyres of a carrier where it is set, and the other end's as they stand."""
    made = _others(job, still.run.hung.axle)
    for wheel in (w for w in job.wheels if w.corner.startswith(still.run.hung.axle) and not w.second_half):
        middle = still.found.at(np.array([wheel.x, wheel.y, wheel.z]))[0, 0]
        tyre = _disc(wheel, middle, ALONG_AXLE)
        made.append(Body(wheel.id, wheel.tyre_name, "tyre", (tyre,), ("",), TYRE_MARGIN_MM, "tyre"))
    return tuple(made)


def fork_tyres_at(job: Job, still: ForkStill) -> tuple[Body, ...]:
    """The tyre of a fork where it stands, and the other end's as they stand."""
    wheel, found = edits.left_wheel(job, still.run.hung.axle), still.found
    tyre = _disc(wheel, found.at(still.run.fork.wheel)[0, 0], found.poses.axis[0])
    own = Body(wheel.id, wheel.tyre_name, "tyre", (tyre,), ("",), TYRE_MARGIN_MM, "tyre")
    return (*_others(job, still.run.hung.axle), own)


def _others(job: Job, axle: str) -> list[Body]:
    """The tyres of the other end, as they stand."""
    return [tyre_body(w) for w in job.wheels if not w.corner.startswith(axle) and not w.second_half]


def beam_tyres_at(job: Job, still: BeamStill) -> tuple[Body, ...]:
    """Both tyres of a beam where it is steered, and the other end's as they stand."""
    made = _others(job, still.run.hung.axle)
    if still.found.closed[0, 0]:
        for side, at in wheels(still.found):
            wheel = next((w for w in job.wheels if w.corner == f"{still.run.hung.axle} {side}"), None)
            if wheel:
                tyre = _disc(wheel, at.centre[0, 0], at.axis[0, 0])
                made.append(Body(wheel.id, wheel.tyre_name, "tyre", (tyre,), ("",), TYRE_MARGIN_MM, "tyre"))
    return tuple(made)


def _disc(wheel: Wheel, centre: Floats, axis: Floats) -> Solid:
    half = axis * wheel.width / 2
    return cylinder(wheel.diameter / 2, centre - half, centre + half)


def _swept_axle(job: Job, run: LinkedRun) -> Iterator[Body]:
    """The tyres of a live axle at moments of its travel and roll, and what moves with them."""
    moments, words = _leaning(run)
    left, right = run.found.at(run.axle.left), run.found.at(run.axle.right)
    for wheel in job.wheels if moments else ():
        if wheel.corner.startswith(run.hung.axle):
            middle = left if wheel.corner.endswith("left") else right
            tyres = []
            for i, k in moments:
                half = (left[i, k] - right[i, k]) / np.linalg.norm(left[i, k] - right[i, k]) * wheel.width / 2
                tyres.append(cylinder(wheel.diameter / 2, middle[i, k] - half, middle[i, k] + half))
            yield Body(wheel.id, wheel.tyre_name, "tyre", tuple(tyres), words, TYRE_MARGIN_MM, "tyre")
    yield from _swept_links(job, run)


def _leaning(run: LinkedRun) -> tuple[list[tuple[int, int]], tuple[str, ...]]:
    """The moments of an axle's travel and roll that are looked at, and their words."""
    rows, columns = _at(TRAVELS, len(run.found.travel)), _at(ROLLS, len(run.found.rack))
    moments = [(int(i), int(k)) for i in rows for k in columns if run.found.closed[i, k]]
    return moments, tuple(leaning_words(float(run.found.travel[i]), float(run.found.rack[k])) for i, k in moments)


def _swept_links(job: Job, run: LinkedRun) -> Iterator[Body]:
    """An axle and what holds it at moments of its travel and roll."""
    hung, axle = run.hung, run.axle
    moments, words = _leaning(run)
    if not moments:
        return
    touches = frozenset({"link", "tyre", "axle", "differential"} | _at_joints(job, (*hung.joints, hung.spring)))
    left, right = run.found.at(axle.left), run.found.at(axle.right)
    housing = tuple(rod(hung.housing / 2, left[m], right[m]) for m in moments)
    yield Body(f"{hung.axle} axle", f"{hung.axle} axle", "link", housing, words, hung.margin, "link", touches)
    if hung.torque and hung.torque_out:
        front, middle = run.found.at(np.array(hung.torque_out)), run.found.at(axle.middle)
        arm = tuple(rod(hung.link / 2, middle[m], front[m]) for m in moments)
        yield Body(
            f"{hung.axle} torque arm", f"{hung.axle} torque arm", "link", arm, words, hung.margin, "link", touches
        )
    for name, inner, outer in axle_lines(job, run, run.found):
        size = COIL_OVER_MM if "coil-over" in name else hung.leaf.wide or hung.link if "leaf" in name else hung.link
        rods = tuple(rod(size / 2, inner[m] if inner.ndim > 1 else inner, outer[m]) for m in moments)
        called = f"{hung.axle} {name}"
        yield Body(called, called, "link", rods, words, hung.margin, "link", touches)


def _at_joints(job: Job, names: tuple[str | None, ...]) -> set[str]:
    """The tubes at some joints and their twins, and the fittings on them."""
    known = [n for n in names if n and n in job.joint_by_id]
    both = {*known, *(job.joint_by_id[n].twin or n for n in known)}
    tubes = {t.id for n in both for t in job.tubes_at.get(n, ())}
    on = {f.id for f in job.fittings if tubes & {getattr(f, "tube", ""), *getattr(f, "tubes", ())}}
    return tubes | on


def axle_tyres_at(job: Job, still: LinkedStill) -> tuple[Body, ...]:
    """Both tyres of a live axle where it stands, and the other end's as they stand."""
    made = _others(job, still.run.hung.axle)
    if not still.found.closed[0, 0]:
        return tuple(made)
    left, right = (still.found.at(p)[0, 0] for p in (still.run.axle.left, still.run.axle.right))
    way = (left - right) / np.linalg.norm(left - right)
    for wheel in job.wheels:
        if wheel.corner.startswith(still.run.hung.axle):
            middle = left if wheel.corner.endswith("left") else right
            tyre = cylinder(wheel.diameter / 2, middle - way * wheel.width / 2, middle + way * wheel.width / 2)
            made.append(Body(wheel.id, wheel.tyre_name, "tyre", (tyre,), ("",), TYRE_MARGIN_MM, "tyre"))
    return tuple(made)


def tyre_at(job: Job, still: Still) -> tuple[Body, ...]:
    """Both tyres of an axle where its left corner stands, the right one in a mirror, and the other axle's as they
    stand; nothing of an axle whose links do not reach there."""
    made = _others(job, still.run.hung.axle)
    if still.found.closed[0, 0]:
        left = edits.left_wheel(job, still.run.hung.axle)
        for wheel in job.wheels:
            if wheel.corner.startswith(still.run.hung.axle):
                tyre = _tyre(still.found, left, 0, 0, MIRROR if wheel.corner.endswith("right") else np.ones(3))
                made.append(Body(wheel.id, wheel.tyre_name, "tyre", (tyre,), ("",), TYRE_MARGIN_MM, "tyre"))
    return tuple(made)


def _swept(job: Job, run: AxleRun) -> Iterator[Body]:
    hung = run.hung
    moving = run.found.some(_at(TRAVELS, len(run.found.travel)), _at(STEERS, len(run.found.rack)))
    moments = [tuple(m) for m in np.argwhere(moving.closed).tolist()]
    called = "drop arm" if hung.pivot else "rack"
    words = [racked_words(float(moving.travel[i]), float(moving.rack[k]), called) for i, k in moments]
    left = edits.left_wheel(job, hung.axle)
    for side, mirror in (("left", np.ones(3)), ("right", MIRROR)):
        wheel = next((w for w in job.wheels if w.corner == f"{hung.axle} {side}"), None)
        if wheel is None:
            continue
        touches = frozenset({"link", "tyre"} | _at_hinges(job, run, side))
        tyres = tuple(_tyre(moving, left, i, k, mirror) for i, k in moments)
        yield Body(wheel.id, wheel.tyre_name, "tyre", tyres, tuple(words), TYRE_MARGIN_MM, "tyre")
        for line in link_lines(moving) if moments else ():
            radius = (COIL_OVER_MM if line.name == "coil-over" else hung.link) / 2
            inner, outer = line.inner * mirror, line.outer * mirror
            rods = tuple(rod(radius, inner[m], outer[m]) for m in moments)
            name = f"{hung.axle} {side} {line.name}"
            yield Body(name, name, "link", rods, tuple(words), hung.margin, "link", touches)


def _at(shares: Floats, count: int) -> Ints:
    """The rows of a grid of so many that stand nearest to these shares of it."""
    return np.unique(np.rint(shares * (count - 1)).astype(np.intp))


def _tyre(moving: Poses, wheel: Wheel, row: int, column: int, mirror: Floats) -> Solid:
    corner = moving.corner
    middle = moving.at(corner.wheel)[row, column]
    half = moving.turn[row, column] @ corner.axis * wheel.width / 2
    return cylinder(wheel.diameter / 2, (middle - half) * mirror, (middle + half) * mirror)


def _at_hinges(job: Job, run: AxleRun, side: str) -> set[str]:
    """The tubes at the joints where links are hung: what they may touch."""
    names = [*run.hung.lower, *run.hung.upper, run.hung.spring, *([run.hung.push.pivot] if run.hung.push else [])]
    if side == "right":
        names = [job.joint_by_id[n].twin or "" for n in names]
    return {t.id for n in names for t in job.tubes_at.get(n, ())}
