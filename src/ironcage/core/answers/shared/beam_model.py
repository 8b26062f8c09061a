"""A job as arrays: joints, tube ends, section figures, ready for `calc`."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ironcage.core.answers.shared import fittings
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.frame_arrays import lines
from ironcage.core.calc.frames.beams import Floats, Frame, Ints, element_axes
from ironcage.core.calc.frames.block import Block
from ironcage.core.calc.frames.condensed import CondensedMember, stiffness
from ironcage.core.calc.frames.membrane import Membrane
from ironcage.core.calc.frames.strength import StressPoints
from ironcage.core.calc.sections import AnySection, between
from ironcage.core.calc.tubes.ovalise import flexibility
from ironcage.core.job.geometry.routes import Place, is_plain, landings, route_between, seam
from ironcage.core.job.values import fittings as kinds
from ironcage.core.job.values.model import Job, Tube
from ironcage.core.job.values.ties import ToHole
from ironcage.problem import Problem

TAPER_STEPS = 8  # straight beams that a tapered tube is cut into: its stiffness is then within 0.5 % of many


@remembered("joints", "tubes", "shelf", "fittings", "parts", "proving")
def beam_frame(job: Job) -> Frame:
    """The job's frame as shear-flexible beams, in the order of `job.joints` and `job.tubes`, with its panels as
    membranes.

    Tubes are rigidly joined, on their centrelines unless they land beside. Raises Problem when there is no tube or one
    has no length.
    """
    return _frame(job, True)


def fresh_frame(job: Job) -> Frame:
    """The same, worked out anew and kept nowhere: for trying many values of one thing."""
    return _frame(job, True)


def slender_frame(job: Job) -> Frame:
    """The same without shear flexibility in any tube, for comparison."""
    made = _frame(job, False)
    return replace(made, shear_area_y=made.shear_area_y * 0, shear_area_z=made.shear_area_z * 0)


def _frame(job: Job, shear: bool) -> Frame:
    nodes, ends = lines(job)
    index = {j.id: n for n, j in enumerate(job.joints)}
    rows, pinned, names, _ = _tubes(job)
    return Frame(
        nodes=nodes,
        ends=ends,
        e=rows[:, 0],
        g=rows[:, 1],
        area=rows[:, 2],
        i_y=rows[:, 3],
        i_z=rows[:, 4],
        j=rows[:, 5],
        shear_area_y=rows[:, 6],
        shear_area_z=rows[:, 7],
        roll=rows[:, 8],
        pinned=pinned,
        node_names=tuple(index),
        beam_names=names,
        condensed=_condensed(job, shear),
        stressed=(*_panels(job, index), *_blocks(job, index)),
        fixity=job.proving.joint,
    )


class _Tubes(NamedTuple):
    """What of tubes stays as it is when joints move. figures (m, 9): E, G, area, I about y and z, J, both shear
    areas, roll; pinned (m, 2); their names; the rows of those that are no straight beam of one section."""

    figures: Floats
    pinned: NDArray[np.bool_]
    names: tuple[str, ...]
    condensed: tuple[int, ...]


@remembered("tubes", "shelf")
def _tubes(job: Job) -> _Tubes:
    materials = {m.name: m for m in job.shelf.materials}
    shapes = {s.name: s.shape for s in job.shelf.sections}
    known = {}
    for section, material in {(t.section, t.material) for t in job.tubes}:
        m = materials[material]
        p = shapes[section].properties(m.poisson)
        known[section, material] = (
            m.e,
            m.g,
            p.area,
            p.i_y,
            p.i_z,
            p.j,
            p.shear_area_y,
            p.shear_area_z,
            p.tilt,
        )
    figures = np.array([known[t.section, t.material] for t in job.tubes]).reshape(-1, 9)
    figures[:, 8] += [t.roll for t in job.tubes]
    pinned = np.array([(t.pinned_a, t.pinned_b) for t in job.tubes], dtype=bool).reshape(-1, 2)
    for shared in (figures, pinned):
        shared.setflags(write=False)
    condensed = tuple(n for n, t in enumerate(job.tubes) if not is_plain(t))
    return _Tubes(figures, pinned, tuple(t.id for t in job.tubes), condensed)


def _panels(job: Job, index: dict[str, int]) -> tuple[Membrane, ...]:
    panels = [f for f in job.fittings if isinstance(f, kinds.Panel)]
    if not panels:
        return ()
    shares = fittings.open_shares(job)
    made = []
    for f in panels:
        m = job.material(f.material)
        counts = f.thickness * fittings.EFFICIENCY[f.fixing] * (1 - shares.get(f.id, 0.0))
        made.append(Membrane(tuple(index[j] for j in f.joints), counts, m.e, m.poisson))
    return tuple(made)


Stiff = tuple[tuple[float, float, tuple[float, ...]], ...]


def _condensed(job: Job, shear: bool) -> dict[int, Floats]:
    """The tubes that are no straight beam of one section, by their place in the job."""
    stiff = _stiffeners(job)
    made = {}
    shapes = {s.name: s.shape for s in job.shelf.sections}
    rows = _tubes(job).condensed
    for n in sorted({*rows, *(n for n, t in enumerate(job.tubes) if t.id in stiff)}) if stiff else rows:
        t = job.tubes[n]
        m = job.material(t.material)
        places = job.joint_by_id[t.a].place, job.joint_by_id[t.b].place
        made[n] = _element(
            t,
            places,
            landings(job, t),
            shapes[t.section],
            shapes.get(t.taper),
            (m.e, m.g, m.poisson),
            stiff.get(t.id, ()),
            job.proving.ovalise,
            shear,
        )
    return made


@lru_cache(4000)
def _element(
    tube: Tube,
    places: tuple[Place, Place],
    ends: tuple[Place, Place],
    shape: AnySection,
    last: AnySection | None,
    moduli: tuple[float, float, float],
    stiff: Stiff,
    oval: bool,
    shear: bool,
) -> Floats:
    """Stiffness (12, 12) of one such tube, kept for those that did not change."""
    e, g, poisson = moduli
    laid = _laid(tube, ends, shape, last, poisson, stiff, oval, TAPER_STEPS, 1)
    member = CondensedMember(
        laid.line,
        laid.figures if shear else laid.figures * [1, 1, 1, 1, 0, 0],
        laid.across,
        e,
        g,
        np.array(places[0]),
        np.array(places[1]),
        (tube.pinned_a, tube.pinned_b),
    )
    return stiffness(member, tube.roll + shape.properties(poisson).tilt)


class _Laid(NamedTuple):
    """A tube as straight beams in a row: line (k + 1, 3) mm; figures (k, 6) as `CondensedMember` has them; across
    (k, 3): where the section's y axis points; share (k + 1,) along it."""

    line: Floats
    figures: Floats
    across: Floats
    share: Floats


def _laid(
    tube: Tube,
    ends: tuple[Place, Place],
    shape: AnySection,
    last: AnySection | None,
    poisson: float,
    stiff: Stiff,
    oval: bool,
    taper_steps: int,
    parts: int,
) -> _Laid:
    """A tube's chords, cut where its section changes, and each straight one into `parts`."""
    route = route_between(*ends, tube.corners, tube.radius)
    marks = {0.0, route.length, *(v for start, stop, _ in stiff for v in (start, stop)), *route.distances.tolist()}
    if last is not None:
        marks |= set(np.linspace(0, route.length, taper_steps + 1).tolist())
    if parts > 1:
        marks |= set(np.linspace(0, route.length, parts + 1).tolist())
    at = np.array(sorted(v for v in marks if 0 <= v <= route.length))
    at = at[np.concatenate([[True], np.diff(at) > 1e-3])]
    at[-1] = route.length
    line = np.stack([np.interp(at, route.distances, route.line[:, k]) for k in range(3)], axis=1)
    middles = (at[:-1] + at[1:]) / 2
    across, _ = route.carried(seam(route, tube.roll + shape.properties(poisson).tilt))
    chord = np.clip(np.searchsorted(route.distances, middles, side="right") - 1, 0, len(across) - 1)
    softer = flexibility(tube.radius, shape) if oval and tube.radius and shape.is_round else 1.0
    rows = []
    for middle in middles:
        p = (between(shape, last, float(middle / route.length)) if last is not None else shape).properties(poisson)
        row = np.array([p.area, p.i_y, p.i_z, p.j, p.shear_area_y, p.shear_area_z])
        if softer > 1 and any(b.start <= middle <= b.stop for b in route.bends):
            row[1:3] /= softer
        for start, stop, adds in stiff:
            if start <= middle <= stop:
                row = row + np.array(adds)
        rows.append(row)
    return _Laid(line, np.array(rows), across[chord], at / route.length)


def _stiffeners(job: Job) -> dict[str, Stiff]:
    """What fittings add to each tube."""
    found: dict[str, list[tuple[float, float, tuple[float, ...]]]] = {}
    for fitted in fittings.fitting_facts(job):
        for s in fitted.stiffens:
            found.setdefault(s.tube, []).append((s.start, s.stop, tuple(float(v) for v in s.adds)))
    return {tube: tuple(rows) for tube, rows in found.items()}


def _blocks(job: Job, index: dict[str, int]) -> tuple[Block, ...]:
    """The parts that carry load, at the joints tied to their holes."""
    made = []
    for part in job.parts:
        if part.mount:
            tied = tuple(
                index[j.id]
                for j in job.joints
                if isinstance(j.tie, ToHole) and j.tie.thing == part.id and j.id in job.tubes_at
            )
            if len(tied) < 2:
                raise Problem(
                    f"{part.name} is to carry load, but {'only one joint is' if tied else 'no joint is'} tied to its "
                    f"holes.",
                    where=part.id,
                    hint=f"Tie joints to its holes, or type: stress {part.id} gone",
                )
            made.append(Block(tied, part.mount))
    return tuple(made)


class Spread(NamedTuple):
    """A frame whose tubes are each several beams. frame: its first nodes are the job's joints; owner (k,): the row
    of each beam's tube; per_mm (k,): kg a mm."""

    frame: Frame
    owner: Ints
    per_mm: Floats


def fine_frame(job: Job, parts: int) -> Spread:
    """The frame with every tube cut into so many beams at least, for what happens along tubes: vibration and
    buckling. Ends that land beside their joints are carried there by stub beams a thousand times as stiff."""
    if not job.tubes:
        raise Problem("There are no tubes to work out.")
    index = {j.id: n for n, j in enumerate(job.joints)}
    shapes = {s.name: s.shape for s in job.shelf.sections}
    stiff = _stiffeners(job)
    nodes = [np.array(j.place) for j in job.joints]
    ends, rows, rolls, pinned, fixity, owner, density = [], [], [], [], [], [], []
    for n, t in enumerate(job.tubes):
        m = job.material(t.material)
        laid = _laid(
            t,
            landings(job, t),
            shapes[t.section],
            shapes.get(t.taper),
            m.poisson,
            stiff.get(t.id, ()),
            job.proving.ovalise,
            TAPER_STEPS,
            parts,
        )
        first, last = index[t.a], index[t.b]
        inner = list(range(len(nodes), len(nodes) + len(laid.line) - 2))
        nodes += list(laid.line[1:-1])
        row = [first, *inner, last]
        figures = np.column_stack([np.full(len(laid.figures), m.e), np.full(len(laid.figures), m.g), laid.figures])
        for end, spot, offset in ((0, laid.line[0], t.offset_a), (-1, laid.line[-1], t.offset_b)):
            if any(offset):
                row[end] = len(nodes)
                nodes.append(spot)
        chain = np.array(row)
        ends.append(np.stack([chain[:-1], chain[1:]], axis=1))
        rows.append(figures)
        usual = element_axes(laid.line[:-1], laid.line[1:], np.zeros(len(laid.across)))
        rolls.append(np.arctan2(*(np.einsum("ij,ij->i", laid.across, usual[:, k]) for k in (2, 1))))
        pins, fixed = np.zeros((len(figures), 2), dtype=bool), np.ones((len(figures), 2))
        pins[0, 0], pins[-1, 1] = t.pinned_a, t.pinned_b
        fixed[0, 0] = fixed[-1, 1] = job.proving.joint
        pinned.append(pins)
        own = shapes[t.section].properties(m.poisson)
        fixity.append(
            _as_short(
                fixed, np.diff(laid.share) * np.sqrt(own.i_y * own.i_z / (laid.figures[:, 1] * laid.figures[:, 2]))
            )
        )
        owner.append(np.full(len(figures), n))
        density.append(laid.figures[:, 0] * m.density * 1e-9)
        for joint, node, offset in ((first, row[0], t.offset_a), (last, row[-1], t.offset_b)):
            if any(offset):
                ends.append(np.array([[joint, node]]))
                rows.append(figures[:1] * np.array([1000.0, 1000.0, 1, 1, 1, 1, 1, 1]))
                rolls.append(np.zeros(1))
                pinned.append(np.zeros((1, 2), dtype=bool))
                fixity.append(np.ones((1, 2)))
                owner.append(np.array([n]))
                density.append(np.zeros(1))
    table = np.concatenate(rows)
    frame = Frame(
        nodes=np.array(nodes),
        ends=np.concatenate(ends),
        e=table[:, 0],
        g=table[:, 1],
        area=table[:, 2],
        i_y=table[:, 3],
        i_z=table[:, 4],
        j=table[:, 5],
        shear_area_y=table[:, 6],
        shear_area_z=table[:, 7],
        roll=np.concatenate(rolls),
        pinned=np.concatenate(pinned),
        fixity=np.concatenate(fixity),
        stressed=(*_panels(job, index), *_blocks(job, index)),
    )
    return Spread(frame, np.concatenate(owner), np.concatenate(density))


def _as_short(fixity: Floats, part: Floats) -> Floats:
    """The fixity (k, 2) of short beams that gives each end the spring of the whole tube's: r/(1 − r) goes as the
    beam's length, and against its own bending; part (k,): both, of the whole tube's."""
    loose = fixity < 1
    ratio = np.where(loose, fixity / np.maximum(1 - fixity, 1e-12) * part[:, None], 0.0)
    return np.where(loose, ratio / (1 + ratio), 1.0)


def stress_points(job: Job) -> StressPoints:
    """Where stress is looked at: both ends of every straight run of every tube, in order; a taper as many runs."""
    frame, shapes = beam_frame(job), {s.name: s.shape for s in job.shelf.sections}
    stiff: Stiff = ()
    beam, at, axes, figures = [], [], [], []
    known: dict[tuple[str, str], tuple[float, ...]] = {}
    for n, t in enumerate(job.tubes):
        m = job.material(t.material)
        if (t.section, t.material) not in known:
            known[t.section, t.material] = _figures(shapes[t.section], m.poisson)
        if is_plain(t):
            places = frame.nodes[frame.ends[n]]
            beam += [n, n]
            at += [places[0], places[1]]
            axes += [frame.axes[n]] * 2
            figures += [known[t.section, t.material]] * 2
            continue
        last = shapes.get(t.taper)
        laid = _laid(t, landings(job, t), shapes[t.section], last, m.poisson, stiff, False, TAPER_STEPS, 1)
        ways = np.diff(laid.line, axis=0)
        ways /= np.linalg.norm(ways, axis=1, keepdims=True)
        for k, way in enumerate(ways):
            y = laid.across[k] - (laid.across[k] @ way) * way
            y /= np.linalg.norm(y)
            for end in (k, k + 1):
                beam.append(n)
                at.append(laid.line[end])
                axes.append(np.stack([way, y, np.cross(way, y)]))
                figures.append(
                    known[t.section, t.material]
                    if last is None
                    else _figures(between(shapes[t.section], last, float(laid.share[end])), m.poisson)
                )
    columns = np.array(figures).T
    return StressPoints(np.array(beam, dtype=np.int64), np.array(at), np.array(axes), *columns)


def _figures(shape: AnySection, poisson: float) -> tuple[float, ...]:
    p, f = shape.properties(poisson), shape.fibres()
    return p.area, p.i_y, p.i_z, p.shear_area_y or p.area, p.shear_area_z or p.area, f.y, f.z, f.twist, float(f.round)
