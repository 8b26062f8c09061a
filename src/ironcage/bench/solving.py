"""One static torsion solve, assembly included, beside PyNiteFEA's on the same frame; and growth with size."""

import math
import warnings
from collections.abc import Iterator
from functools import partial
from typing import Any

import numpy as np

from ironcage.bench.frames import truss
from ironcage.bench.measure import Line, in_turn, median
from ironcage.core.answers.model import beam_frame
from ironcage.core.calc.beams import Floats, Frame, solve
from ironcage.core.job.model import Job

FORCE = 1000.0


def _fresh(job: Job, *, shear: bool) -> Frame:
    """The frame as new arrays, nothing kept from an earlier solve; shear off to match Euler beams."""
    frame = beam_frame(job.but(joints=(*job.joints,)))
    none = np.zeros(len(frame.ends))
    if shear:
        return frame
    return Frame(
        **{**{f: getattr(frame, f) for f in frame.__dataclass_fields__}, "shear_area_y": none, "shear_area_z": none}
    )


def _rig(job: Job) -> tuple[np.ndarray, Floats]:
    index = {j.id: n for n, j in enumerate(job.joints)}
    at = {p.corner: index[p.joint] for p in job.pickups}
    held = np.zeros((len(job.joints), 6), dtype=bool)
    last = min(j.x for j in job.joints)
    held[[n for n, j in enumerate(job.joints) if j.x == last], :3] = True
    loads = np.zeros((len(job.joints), 6, 1))
    loads[at["front left"], 2], loads[at["front right"], 2] = FORCE, -FORCE
    return held, loads


def ours(job: Job, *, shear: bool = True) -> Floats:
    """Displacements (n, 3) from joints and tubes, everything included."""
    held, loads = _rig(job)
    return solve(_fresh(job, shear=shear), held, loads).u[:, :3, 0]


def theirs(job: Job) -> Floats:
    """The same by PyNiteFEA's linear analysis."""
    from Pynite import FEModel3D

    frame = beam_frame(job)
    model = FEModel3D()
    for j in job.joints:
        model.add_node(j.id, j.x, j.y, j.z)
    material, section = job.shelf.materials[0], frame
    model.add_material("m", material.e, material.g, material.poisson, material.density * 1e-12)
    model.add_section("s", float(section.area[0]), float(section.i_y[0]), float(section.i_z[0]), float(section.j[0]))
    for t in job.tubes:
        model.add_member(t.id, t.a, t.b, "m", "s")
    held, loads = _rig(job)
    for n, row in enumerate(held):
        if row.any():
            model.def_support(job.joints[n].id, *(bool(v) for v in row))
    for n, row in enumerate(loads[:, :, 0]):
        if row[2]:
            model.add_node_load(job.joints[n].id, "FZ", float(row[2]))
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        model.analyze_linear(log=False)
    nodes: Any = model.nodes
    return np.array(
        [[nodes[j.id].DX["Combo 1"], nodes[j.id].DY["Combo 1"], nodes[j.id].DZ["Combo 1"]] for j in job.joints]
    )


def run() -> Iterator[Line]:
    """Speed and agreement at about 150 tubes, growth from 300 to 5,000."""
    job = truss(150)
    a, b = ours(job, shear=False), theirs(job)
    off = float(np.abs(a - b).max() / np.abs(b).max())
    yield Line(f"displacements against PyNiteFEA, {len(job.tubes)} tubes", f"{off:.1e} apart", "1e-6", off <= 1e-6)
    mine, peer, ratio = in_turn(lambda: ours(job), lambda: theirs(job))
    yield Line("static torsion solve, assembly included", f"{ratio:.0f} × as fast ({mine * 1e3:.1f} ms, {peer * 1e3:.0f} ms)",
               "15 ×", ratio >= 15)  # fmt: skip
    small, large = truss(300), truss(5000)
    times = [median(partial(ours, job), 5) for job in (small, large)]
    power = math.log(times[1] / times[0]) / math.log(len(large.tubes) / len(small.tubes))
    yield Line(f"growth from {len(small.tubes)} to {len(large.tubes)} tubes",
               f"N^{power:.2f} ({times[0] * 1e3:.1f} ms, {times[1] * 1e3:.0f} ms)", "N^1.5", power <= 1.5)  # fmt: skip
