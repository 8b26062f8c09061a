"""The frame as plain text that a general finite-element solver reads (CalculiX input): quadratic beams, the twist test,
and every load case as a step.

N, mm, MPa. Each tube is PARTS beams or more; ends that land beside their joints are carried there by stiff stubs;
pinned ends are nodes of their own tied in x, y and z. What this text leaves out is told in its head. Its displacements
are those of a frame held at one joint under loads that balance: they differ from the program's by a rigid motion, by
some 2 % in a frame of round tube, for that solver makes solids of its beams, which converge as they are cut finer, and
by more in rectangular tube.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ironcage.core.answers.prove import cases
from ironcage.core.answers.prove.stiffness import TORQUE, rigged
from ironcage.core.answers.shared.beam_model import Spread, fine_frame
from ironcage.core.calc.frames import rigs
from ironcage.core.calc.frames.beams import Floats, Frame, Ints
from ironcage.core.calc.sections import AnySection, Rect, Round
from ironcage.core.job.values.model import Job

PARTS = 8
DIGITS = ".9g"


def to_solver_input(job: Job) -> bytes:
    """The whole model. Raises Problem where the frame can't be twisted."""
    fine, held = fine_frame(job, PARTS), rigged(job)
    frame = fine.frame
    ends, nodes, ties = _pinned_apart(frame)
    middles = len(nodes) + np.arange(len(ends))
    lines = [
        f"** {job.brief.name}: {len(job.tubes)} tubes as {len(ends)} beams; N, mm, MPa; made by Iron Cage",
        *_left_out(job, frame),
    ]
    lines += [
        "*NODE, NSET=ALL",
        *(f"{n + 1}, {_row(p)}" for n, p in enumerate([*nodes, *((nodes[a] + nodes[b]) / 2 for a, b in ends)])),
    ]
    lines += [f"** node {n + 1} is {j.id}" for n, j in enumerate(job.joints)]
    lines += ["*NSET, NSET=JOINTS", *(f"{n + 1}," for n in range(len(job.joints)))]
    for number, rows in enumerate(_alike(fine)):
        first = int(rows[0])
        lines += [
            f"*ELEMENT, TYPE=B32R, ELSET=S{number + 1}",
            *(f"{b + 1}, {ends[b, 0] + 1}, {middles[b] + 1}, {ends[b, 1] + 1}" for b in rows),
        ]
        lines += [
            f"*MATERIAL, NAME=M{number + 1}",
            "*ELASTIC",
            _row(np.array([frame.e[first], frame.e[first] / (2 * frame.g[first]) - 1])),
        ]
        shape = job.section(job.tubes[int(fine.owner[first])].section).shape
        lines += [
            f"*BEAM SECTION, ELSET=S{number + 1}, MATERIAL=M{number + 1}, SECTION={_section(shape, frame, first)}",
            _row(frame.axes[first, 1]),
        ]
    lines += [
        line
        for a, b in ties
        for axis in (1, 2, 3)
        for line in ("*EQUATION", "2", f"{a + 1}, {axis}, 1, {b + 1}, {axis}, -1")
    ]
    anchor = int(np.bincount(frame.ends.ravel(), minlength=len(nodes))[: len(job.joints)].argmax())
    lines += ["*BOUNDARY", f"{anchor + 1}, 1, 6"]
    force = TORQUE / float(held.rig.place("front left")[1] - held.rig.place("front right")[1])
    balanced, _ = held.rig.balanced(rigs.twist_loads(held.rig, force)[:, None])
    lines += _step("twist", balanced.reshape(-1, 6))
    for case in cases.load_cases(job):
        if not case.problem and not case.held:
            lines += _step(case.name, case.loads)
    return ("\n".join(lines) + "\n").encode("ascii", "replace")


def _left_out(job: Job, frame: Frame) -> Iterator[str]:
    if frame.stressed:
        yield f"** left out: {len(frame.stressed)} panels and parts that carry load"
    if job.proving.joint < 1:
        yield f"** left out: the joint factor {job.proving.joint:g}; welds are rigid here"
    if job.fittings:
        yield "** left out: gussets, sleeves and other fittings"
    if any(t.taper for t in job.tubes):
        yield "** left out: tapers; a tapered tube has its first section all along"
    used = {type(job.section(t.section).shape) for t in job.tubes}
    if Rect in used:
        yield "** rectangular tubes have sharp corners here and are too stiff by up to a sixth"
    for other in sorted(kind.__name__.lower() for kind in used - {Round, Rect}):
        yield f"** {other}s are bars that bend as they do; their area and torsion differ"


def _row(values: Floats) -> str:
    return ", ".join(format(float(v), DIGITS) for v in values)


def _alike(fine: Spread) -> list[Ints]:
    """Beams of one section and material that lie alike, as sets of rows: a section's direction must be square to its
    beams."""
    frame = fine.frame
    keys = np.column_stack(
        [frame.e, frame.g, frame.area, frame.i_y, frame.i_z, frame.j, frame.axes[:, 0], frame.axes[:, 1]]
    ).round(9)
    _, owner = np.unique(keys, axis=0, return_inverse=True)
    return [np.flatnonzero(owner.ravel() == n) for n in range(int(owner.max()) + 1)]


def _section(shape: AnySection, frame: Frame, beam: int) -> str:
    """The kind of section and its sizes, the 1-direction along the section's y."""
    if isinstance(shape, Round):
        return f"PIPE\n{shape.od_mm / 2:{DIGITS}}, {shape.wall_mm:{DIGITS}}"
    if isinstance(shape, Rect):
        return f"BOX\n{shape.width_mm:{DIGITS}}, {shape.height_mm:{DIGITS}}, " + ", ".join(
            [f"{shape.wall_mm:{DIGITS}}"] * 4
        )
    ratio = float(np.sqrt(frame.i_z[beam] / frame.i_y[beam]))
    height = (12 * float(frame.i_y[beam]) / ratio) ** 0.25
    return f"RECT\n{ratio * height:{DIGITS}}, {height:{DIGITS}}"


def _pinned_apart(frame: Frame) -> tuple[Ints, Floats, list[tuple[int, int]]]:
    """Ends, nodes, and pairs of nodes that move together: every pinned end has a node of its own."""
    ends, nodes = frame.ends.copy(), list(frame.nodes)
    ties = []
    for beam, end in np.argwhere(frame.pinned):
        nodes.append(frame.nodes[ends[beam, end]])
        ties.append((len(nodes) - 1, int(ends[beam, end])))
        ends[beam, end] = len(nodes) - 1
    return ends, np.array(nodes), ties


def _step(name: str, loads: Floats) -> list[str]:
    rows = [f"{n + 1}, {axis + 1}, {loads[n, axis]:{DIGITS}}" for n, axis in np.argwhere(np.abs(loads) > 1e-9)]
    return [f"** {name}", "*STEP", "*STATIC", "*CLOAD, OP=NEW", *rows, "*NODE PRINT, NSET=JOINTS", "U", "*END STEP"]
