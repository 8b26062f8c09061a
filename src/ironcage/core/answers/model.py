"""A job as arrays: joints, tube ends, section figures, ready for `calc`."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from ironcage.core.answers import fittings
from ironcage.core.answers.cache import remembered
from ironcage.core.calc.beams import Floats, Frame
from ironcage.core.calc.formed import Member, stiffness
from ironcage.core.calc.membrane import Membrane
from ironcage.core.calc.sections import AnySection, between
from ironcage.core.job import fittings as kinds
from ironcage.core.job.model import Job, Tube
from ironcage.core.job.routes import Place, is_plain, landings, route_between, seam

TAPER_STEPS = 8  # straight beams that a tapered tube is cut into: its stiffness is then within 0.5 % of many


@remembered("joints", "tubes", "shelf", "fittings")
def beam_frame(job: Job) -> Frame:
    """The job's frame as shear-flexible beams, in the order of `job.joints` and `job.tubes`, with its panels as membranes.

    Tubes are rigidly joined, on their centrelines unless they land beside. Raises Problem when there is no tube or one has no length.
    """
    index = {j.id: n for n, j in enumerate(job.joints)}
    materials = {m.name: m for m in job.shelf.materials}
    shapes = {s.name: s.shape for s in job.shelf.sections}
    figures = {}
    for section, material in {(t.section, t.material) for t in job.tubes}:
        m = materials[material]
        p = shapes[section].properties(m.poisson)
        figures[section, material] = (
            m.e, m.g, p.area, p.i_y, p.i_z, p.j, p.shear_area_y, p.shear_area_z, p.tilt,
        )  # fmt: skip
    rows = np.array([figures[t.section, t.material] for t in job.tubes]).reshape(-1, 9)
    return Frame(
        nodes=np.array([j.place for j in job.joints]).reshape(-1, 3),
        ends=np.array([(index[t.a], index[t.b]) for t in job.tubes], dtype=np.int64).reshape(-1, 2),
        e=rows[:, 0], g=rows[:, 1], area=rows[:, 2], i_y=rows[:, 3], i_z=rows[:, 4], j=rows[:, 5],
        shear_area_y=rows[:, 6], shear_area_z=rows[:, 7],
        roll=rows[:, 8] + np.array([t.roll for t in job.tubes]),
        pinned=np.array([(t.pinned_a, t.pinned_b) for t in job.tubes], dtype=bool).reshape(-1, 2),
        node_names=tuple(j.id for j in job.joints),
        beam_names=tuple(t.id for t in job.tubes),
        formed=_formed(job),
        plates=_plates(job, index),
    )  # fmt: skip


def _plates(job: Job, index: dict[str, int]) -> tuple[Membrane, ...]:
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


def _formed(job: Job) -> dict[int, Floats]:
    """The tubes that are no straight beam of one section, by their place in the job."""
    stiff: dict[str, list[tuple[float, float, tuple[float, ...]]]] = {}
    for fitted in fittings.answer(job):
        for s in fitted.stiffens:
            stiff.setdefault(s.tube, []).append((s.start, s.stop, tuple(float(v) for v in s.adds)))
    made = {}
    shapes = {s.name: s.shape for s in job.shelf.sections}
    for n, t in enumerate(job.tubes):
        if is_plain(t) and t.id not in stiff:
            continue
        m = job.material(t.material)
        places = job.joint_by_id[t.a].place, job.joint_by_id[t.b].place
        made[n] = _element(
            t,
            places,
            landings(job, t),
            shapes[t.section],
            shapes.get(t.taper),
            (m.e, m.g, m.poisson),
            tuple(stiff.get(t.id, ())),
        )
    return made


@lru_cache(4000)
def _element(
    tube: Tube, places: tuple[Place, Place], ends: tuple[Place, Place], shape: AnySection, last: AnySection | None, moduli: tuple[float, float, float], stiff: Stiff
) -> Floats:  # fmt: skip
    """Stiffness (12, 12) of one such tube, kept for those that did not change."""
    e, g, poisson = moduli
    route = route_between(*ends, tube.corners, tube.radius)
    marks = {0.0, route.length, *(v for start, stop, _ in stiff for v in (start, stop)), *route.distances.tolist()}
    if last is not None:
        marks |= set(np.linspace(0, route.length, TAPER_STEPS + 1).tolist())
    at = np.array(sorted(v for v in marks if 0 <= v <= route.length))
    at = at[np.concatenate([[True], np.diff(at) > 1e-3])]
    at[-1] = route.length
    line = np.stack([np.interp(at, route.distances, route.line[:, k]) for k in range(3)], axis=1)
    middles = (at[:-1] + at[1:]) / 2
    tilt = shape.properties(poisson).tilt
    across, _ = route.carried(seam(route, tube.roll + tilt))
    chord = np.clip(np.searchsorted(route.distances, middles, side="right") - 1, 0, len(across) - 1)
    rows = []
    for middle in middles:
        p = (between(shape, last, float(middle / route.length)) if last is not None else shape).properties(poisson)
        row = np.array([p.area, p.i_y, p.i_z, p.j, p.shear_area_y, p.shear_area_z])
        for start, stop, adds in stiff:
            if start <= middle <= stop:
                row = row + np.array(adds)
        rows.append(row)
    member = Member(
        line,
        np.array(rows),
        across[chord],
        e,
        g,
        np.array(places[0]),
        np.array(places[1]),
        (tube.pinned_a, tube.pinned_b),
    )
    return stiffness(member, tube.roll + tilt)
