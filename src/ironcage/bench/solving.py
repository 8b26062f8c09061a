"""One static torsion solve, assembly included, beside PyNiteFEA's and OpenSeesPy's on the same frame; and growth
with size."""

import math
import warnings
from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import partial
from typing import Any

import numpy as np

from ironcage.bench.frames import truss
from ironcage.bench.measure import BenchLine, in_turn, median
from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.calc.frames.beams import Floats, Frame, pieces_between, solve
from ironcage.core.calc.frames.layout import laid_out
from ironcage.core.job.values.model import Job

FORCE = 1000.0


def _euler(job: Job) -> Frame:
    """The frame's joints and tubes as arrays, its beams without shear as the other programs' are."""
    frame = beam_frame(job)
    none = np.zeros(len(frame.ends))
    return replace(frame, shear_area_y=none, shear_area_z=none)


def _rig(job: Job) -> tuple[np.ndarray, Floats]:
    """The last bay held in x, y and z, the front pickups pushed up and down."""
    index = {j.id: n for n, j in enumerate(job.joints)}
    at = {p.corner: index[p.joint] for p in job.pickups}
    held = np.zeros((len(job.joints), 6), dtype=bool)
    held[-4:, :3] = True
    loads = np.zeros((len(job.joints), 6, 1))
    loads[at["front left"], 2], loads[at["front right"], 2] = FORCE, -FORCE
    return held, loads


def ours(job: Job, *, shear: bool = True) -> Floats:
    """Displacements (n, 3) from joints and tubes, everything worked out anew, also what is kept while the same
    joints are joined."""
    laid_out.cache_clear()
    pieces_between.cache_clear()
    held, loads = _rig(job)
    return solve(replace(beam_frame(job) if shear else _euler(job)), held, loads).u[:, :3, 0]


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


def opensees(job: Job) -> Floats:
    """The same by OpenSeesPy: elastic beams, its banded direct solver."""
    import openseespy.opensees as ops

    frame = beam_frame(job)
    ops.wipe()
    ops.model("basic", "-ndm", 3, "-ndf", 6)
    for n, (x, y, z) in enumerate(frame.nodes.tolist(), 1):
        ops.node(n, x, y, z)
    held, loads = _rig(job)
    for n, row in enumerate(held, 1):
        if row.any():
            ops.fix(n, *(int(v) for v in row))
    figures = np.column_stack([frame.area, frame.e, frame.g, frame.j, frame.i_y, frame.i_z]).tolist()
    for n, ((a, b), (area, e, g, j, i_y, i_z), up) in enumerate(
        zip(frame.ends.tolist(), figures, frame.axes[:, 2].tolist(), strict=True), 1
    ):
        ops.geomTransf("Linear", n, *up)
        ops.element("elasticBeamColumn", n, a + 1, b + 1, area, e, g, j, i_y, i_z, n)
    ops.timeSeries("Linear", 1)
    ops.pattern("Plain", 1, 1)
    for n, row in enumerate(loads[:, :, 0].tolist(), 1):
        if any(row):
            ops.load(n, *row)
    ops.system("BandSPD")
    ops.numberer("RCM")
    ops.constraints("Plain")
    ops.integrator("LoadControl", 1.0)
    ops.algorithm("Linear")
    ops.analysis("Static")
    ops.analyze(1)
    return np.array([ops.nodeDisp(n)[:3] for n in range(1, len(frame.nodes) + 1)])


PEERS: dict[str, Callable[[Job], Floats]] = {"pynite": theirs, "opensees": opensees}


def run() -> Iterator[BenchLine]:
    """Speed and agreement at about 150 tubes, growth from 300 to 5,000."""
    yield from _beside_pynite(truss(150))
    yield from _beside_opensees()
    small, large = truss(300), truss(5000)
    times = [median(partial(ours, job), 5) for job in (small, large)]
    power = math.log(times[1] / times[0]) / math.log(len(large.tubes) / len(small.tubes))
    yield BenchLine(
        f"growth from {len(small.tubes)} to {len(large.tubes)} tubes",
        f"N^{power:.2f} ({times[0] * 1e3:.1f} ms, {times[1] * 1e3:.0f} ms)",
        "N^1.5",
        power <= 1.5,
    )


def _beside_pynite(job: Job) -> Iterator[BenchLine]:
    """Agreement and speed; not run where the package, of requirements/bench.txt, is not installed."""
    try:
        import Pynite  # noqa: F401
    except ImportError:
        yield BenchLine("beside PyNiteFEA", "it is not installed here", "40 × as fast, 1e-6 apart", True)
        return
    a, b = ours(job, shear=False), theirs(job)
    off = float(np.abs(a - b).max() / np.abs(b).max())
    yield BenchLine(f"displacements against PyNiteFEA, {len(job.tubes)} tubes", f"{off:.1e} apart", "1e-6", off <= 1e-6)
    mine, peer, ratio = in_turn(lambda: ours(job), lambda: theirs(job))
    yield BenchLine(
        "static torsion solve, assembly included",
        f"{ratio:.0f} × as fast as PyNiteFEA ({mine * 1e3:.1f} ms, {peer * 1e3:.0f} ms)",
        "40 ×",
        ratio >= 40,
    )


def _beside_opensees() -> Iterator[BenchLine]:
    """From joints and tubes to displacements, each model built anew; not run where the package does not load."""
    try:
        import openseespy.opensees  # noqa: F401
    except (ImportError, RuntimeError):
        yield BenchLine("beside OpenSeesPy", "its package does not load here", "not slower", True)
        return
    for least in (50, 150, 300, 1200):
        job = truss(least)
        a, b = ours(job, shear=False), opensees(job)
        off = float(np.abs(a - b).max() / np.abs(b).max())
        mine, peer, ratio = in_turn(lambda job=job: ours(job), lambda job=job: opensees(job))  # type: ignore[misc]
        yield BenchLine(
            f"beside OpenSeesPy, {len(job.tubes)} tubes",
            f"{ratio:.2f} × as fast ({mine * 1e3:.1f} ms, {peer * 1e3:.1f} ms), {off:.1e} apart",
            "1 ×, 1e-6 apart",
            ratio >= 1 and off <= 1e-6,
        )
