"""`calc frame`: a space frame under loads, with all that Prove's model knows: displacements, reactions, end forces,
stress, modes and buckling."""

import math
from dataclasses import replace
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ironcage.cli.calc.question import Asked, Number, Place, plain
from ironcage.cli.calc.stock import UNKNOWN_MPA, MaterialLike, SectionLike
from ironcage.core.answers.prove import MEMBER_CHECKS, StrengthFigures
from ironcage.core.answers.shared.beam_model import Spread, beam_frame, fine_frame, slender_frame, stress_points
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.frames.beams import Floats, Frame, Ints, released, solve
from ironcage.core.calc.frames.block import Block
from ironcage.core.calc.frames.buckling import buckling
from ironcage.core.calc.frames.vibration import modes
from ironcage.core.calc.sections import Figured, Stated
from ironcage.core.calc.tubes.centreline import demand_bendable
from ironcage.core.job.geometry.routes import hung, route_of
from ironcage.core.job.values.fittings import Doubler, Fitting, Panel
from ironcage.core.job.values.model import Job, Joint, Section, Shelf, Tube
from ironcage.core.job.values.proving import Proving
from ironcage.problem import Problem, nearest

AXES = ("x", "y", "z", "rx", "ry", "rz")
Six = tuple[Number, Number, Number, Number, Number, Number]
STEEL = "Drawn mild steel tube"
PARTS_RINGING, PARTS_BUCKLING = 4, 8


class SleeveQuestion(Asked):
    """Tube round a tube: where along it the sleeve starts, how long it is, its wall."""

    at_mm: Number
    length_mm: Annotated[float, Field(gt=0, le=1e4)]
    wall_mm: Annotated[float, Field(gt=0, le=50)]


class AskedTube(Asked):
    """A tube between two named joints; released: axes (of the tube's own x y z rx ry rz) that its first and its
    second end let go of;
    corners: where its straight runs meet, bent at a radius or folded; taper: the section at its second end; beside:
    where its ends land beside their joints."""

    ends: tuple[str, str]
    section: SectionLike = Field(default="38 x 2 round", validate_default=True)
    material: MaterialLike = Field(default=STEEL, validate_default=True)
    roll_deg: Number = 0.0
    pinned: tuple[bool, bool] = (False, False)
    released: tuple[list[str], list[str]] = ([], [])
    corners: Annotated[tuple[Place, ...], Field(max_length=40)] = ()
    radius_mm: Annotated[float, Field(ge=0, le=1e5)] = 0.0
    taper: SectionLike | None = None
    beside_mm: tuple[Place, Place] = ((0.0, 0.0, 0.0), (0.0, 0.0, 0.0))
    sleeves: Annotated[tuple[SleeveQuestion, ...], Field(max_length=20)] = ()


class AskedPanel(Asked):
    """Sheet held at three joints or more."""

    joints: Annotated[list[str], Field(min_length=3, max_length=12)]
    thickness_mm: Annotated[float, Field(gt=0, le=100)]
    material: MaterialLike = Field(default=STEEL, validate_default=True)
    fixing: Literal["welded", "bonded", "riveted", "bolted"] = "welded"


class AskedBlock(Asked):
    """A rigid body on mounts at joints, each so stiff."""

    joints: Annotated[list[str], Field(min_length=2, max_length=20)]
    mount_n_per_mm: Annotated[float, Field(gt=0, le=1e9)] = 1e6


class FrameQuestion(Asked):
    """Joints by name, tubes, panels, blocks, what is held (axes among x y z rx ry rz) and loads (N and N·mm); joint:
    the joint factor; masses in kg for `modes`, which are of the frame as it is held."""

    joints: dict[str, Place]
    tubes: Annotated[list[AskedTube], Field(min_length=1, max_length=20_000)]
    held: Annotated[dict[str, list[str]], Field(default_factory=dict)]
    loads: Annotated[dict[str, Six], Field(default_factory=dict)]
    panels: Annotated[tuple[AskedPanel, ...], Field(max_length=1000)] = ()
    blocks: Annotated[tuple[AskedBlock, ...], Field(max_length=100)] = ()
    shear: bool = True
    joint: Annotated[float, Field(ge=0.01, le=1)] = 1.0
    ovalise: bool = False
    modes: Annotated[int, Field(ge=0, le=30)] = 0
    masses: Annotated[dict[str, Annotated[float, Field(ge=0, le=1e6)]], Field(default_factory=dict)]
    buckling: bool = False


class _Model:
    """A question as a job with ids of its own, and the way back to the names that were asked with."""

    def __init__(self, question: FrameQuestion) -> None:
        self.question = question
        self.names = list(question.joints)
        self.index = {name: n for n, name in enumerate(self.names)}
        self.job = self._job()
        for n, t in enumerate(self.job.tubes):
            demand_bendable(route_of(self.job, t), f"tube {n}")

    def row(self, name: str, owner: str) -> int:
        """The row of a joint; refuses one that was not given."""
        if name not in self.index:
            raise Problem(
                f"{owner} names joint ‘{name}’, which is not among the joints.",
                where=name,
                hint=nearest(name, self.names),
            )
        return self.index[name]

    def _job(self) -> Job:
        q = self.question
        sections: dict[Figured, Section] = {}

        def section(shape: Figured) -> str:
            if shape not in sections:
                made: dict[str, Any] = {"name": f"section {len(sections) + 1}", "shape": shape}
                sections[shape] = Section.model_construct(
                    **made
                )  # not checked: a job's file has no section by its figures
            return sections[shape].name

        asked = dict.fromkeys((*(t.material for t in q.tubes), *(p.material for p in q.panels)))
        materials = {m: m.but(name=f"material {n + 1}") for n, m in enumerate(asked)}
        tubes, fitted = [], list[Fitting]()
        for n, t in enumerate(q.tubes):
            a, b = (self.row(e, f"tube {n}") for e in t.ends)
            ends = [np.array(q.joints[e]) + np.array(off) for e, off in zip(t.ends, t.beside_mm, strict=True)]
            corners = hung(ends[0], ends[1], np.array(t.corners)) if t.corners else ()
            tubes.append(
                Tube(
                    id=f"T{n + 1}",
                    a=f"J{a + 1}",
                    b=f"J{b + 1}",
                    section=section(t.section),
                    material=materials[t.material].name,
                    roll=math.remainder(math.radians(t.roll_deg), 2 * math.pi),
                    pinned_a=t.pinned[0],
                    pinned_b=t.pinned[1],
                    corners=corners,
                    radius=t.radius_mm,
                    taper=section(t.taper) if t.taper else "",
                    offset_a=t.beside_mm[0],
                    offset_b=t.beside_mm[1],
                )
            )
            if t.sleeves and isinstance(t.section, Stated):
                raise Problem(
                    f"tube {n} can't have sleeves: its section is given by its figures, not its size.", where="sleeves"
                )
            fitted += [
                Doubler(
                    id=f"F{len(fitted) + k + 1}",
                    tube=f"T{n + 1}",
                    at=s.at_mm + s.length_mm / 2,
                    length=s.length_mm,
                    wall=s.wall_mm,
                )
                for k, s in enumerate(t.sleeves)
            ]
        for n, p in enumerate(q.panels):
            fitted.append(
                Panel(
                    id=f"F{len(fitted) + 1}",
                    joints=tuple(f"J{self.row(j, f'panel {n}') + 1}" for j in p.joints),
                    thickness=p.thickness_mm,
                    material=materials[p.material].name,
                    fixing=p.fixing,
                )
            )
        return Job(
            joints=tuple(Joint(id=f"J{n + 1}", x=x, y=y, z=z) for n, (x, y, z) in enumerate(q.joints.values())),
            tubes=tuple(tubes),
            fittings=tuple(fitted),
            shelf=Shelf(sections=tuple(sections.values()), materials=tuple(materials.values())),
            proving=Proving(joint=q.joint, ovalise=q.ovalise),
        )

    def frame(self) -> Frame:
        """The frame with one element a tube, finished."""
        made = beam_frame(self.job) if self.question.shear else slender_frame(self.job)
        names = tuple(f"tube {n} ({t.ends[0]}–{t.ends[1]})" for n, t in enumerate(self.question.tubes))
        rows = [(n, n) for n in range(len(self.question.tubes))]
        return replace(self._finished(made, rows), beam_names=names)

    def fine(self, parts: int) -> Spread:
        """The frame with so many elements a tube, finished."""
        fine = fine_frame(self.job, parts)
        made = fine.frame
        if not self.question.shear:
            made = replace(made, shear_area_y=made.shear_area_y * 0, shear_area_z=made.shear_area_z * 0)
        rows = []
        for n, t in enumerate(self.job.tubes):
            own = np.flatnonzero(
                fine.owner == n
            )  # its beams in a row, then a stub for each end that lands beside its joint
            rows.append((int(own[0]), int(own[len(own) - 1 - any(t.offset_a) - any(t.offset_b)])))
        return fine._replace(frame=self._finished(made, rows))

    def _finished(self, frame: Frame, rows: list[tuple[int, int]]) -> Frame:
        """A frame of the job with the blocks, what its tubes let go of at their ends, and the asked names. rows: the
        first and the last beam of each tube."""
        blocks = tuple(
            Block(tuple(self.row(j, f"block {n}") for j in b.joints), b.mount_n_per_mm)
            for n, b in enumerate(self.question.blocks)
        )
        freed: dict[int, list[int]] = {}
        for n, (t, ends) in enumerate(zip(self.question.tubes, rows, strict=True)):
            for end, (axes, beam) in enumerate(zip(t.released, ends, strict=True)):
                for axis in axes:
                    freed.setdefault(beam, []).append(6 * end + _axis(axis, f"tube {n} lets go of"))
        rigid = replace(frame, fixity=1.0).local_stiffness if freed else np.zeros((0, 12, 12))
        return replace(
            frame,
            condensed={
                **frame.condensed,
                **{beam: released(rigid[beam], np.unique(axes)) for beam, axes in freed.items()},
            },
            stressed=(*frame.stressed, *blocks),
            node_names=(
                *self.names,
                *(f"a point along a tube ({n})" for n in range(len(self.names), len(frame.nodes))),
            ),
        )

    def held(self, count: int) -> np.ndarray[Any, np.dtype[np.bool_]]:
        """What is held (count, 6)."""
        held = np.zeros((count, 6), dtype=bool)
        for name, axes in self.question.held.items():
            for axis in axes:
                held[self.row(name, "held"), _axis(axis, f"{name} is held in")] = True
        return held


def _axis(name: str, owner: str) -> int:
    """The number of an axis among six; refuses a word that is none."""
    if name not in AXES:
        raise Problem(f"{owner} ‘{name}’, which is no axis.", where=name, hint=f"There are {', '.join(AXES)}.")
    return AXES.index(name)


def answer(question: FrameQuestion) -> dict[str, Any]:
    """Solve it; displacements in mm and degrees, forces in N and N·mm."""
    model = _Model(question)
    told: dict[str, Any] = {}
    if question.loads or not question.modes:
        told = _static(question, model, model.frame())
    if question.modes:
        told["modes"] = _modes(question, model)
    told["limits"] = "Linear, small displacements; an estimate. No judgement of a roll structure."
    return told


def _static(question: FrameQuestion, model: _Model, frame: Frame) -> dict[str, Any]:
    held = model.held(len(frame.nodes))
    loads = np.zeros((len(frame.nodes), 6, 1))
    for name, load in question.loads.items():
        loads[model.row(name, "loads"), :, 0] = load
    solved = solve(frame, held, loads)
    u, reactions = solved.u[:, :, 0], solved.reactions[:, :, 0]
    forces = frame.end_forces(u)
    figures = StrengthFigures.of(model.job, frame, stress_points(model.job), np.atleast_1d(held.any(axis=1))[:, None])
    uses, stress = figures.uses(frame, solved.u)
    worst = np.maximum.reduceat(stress["mises"], figures.starts, axis=0)[:, 0]
    told: dict[str, Any] = {
        "displacements_mm_deg": {n: plain([*u[i, :3], *np.degrees(u[i, 3:])], 9) for n, i in model.index.items()},
        "reactions": {n: plain(reactions[i]) for n, i in model.index.items() if held[i].any()},
        "tubes": [
            {
                "ends": list(t.ends),
                "axial": float(round(forces[n, 6], 6)),
                "end_forces": plain(forces[n]),
                "energy": float(round(e, 6)),
                "von_mises_mpa": float(round(worst[n], 4)) if _stressed(t) else None,
                "used": {check: float(round(uses[k, n, 0], 5)) for k, check in enumerate(MEMBER_CHECKS)}
                if _stressed(t) and t.material.yield_strength < UNKNOWN_MPA
                else None,
            }
            for n, (t, e) in enumerate(zip(question.tubes, frame.strain_energy(u), strict=True))
        ],
        "mass_kg": round(float(weigh(model.job).frame.mass), 6),
        "residual": solved.residual,
    }
    if question.buckling:
        told["buckling_factor"] = _buckling(model, figures.at.beam, stress["force"])
    return told


def _stressed(tube: AskedTube) -> bool:
    """Whether a tube's stress can be told: all but one whose section is given by its figures without its fibres."""
    return not isinstance(tube.section, Stated) or tube.section.stressed


def _buckling(model: _Model, owner: Ints, force: Floats) -> float | None:
    """The factor on the loads at which the frame buckles, None where it never does."""
    fine = model.fine(PARTS_BUCKLING)
    axial = np.bincount(owner, force[:, 0]) / np.bincount(owner)
    found = buckling(fine.frame, model.held(len(fine.frame.nodes)), axial[fine.owner])
    return round(found.factor, 6) if np.isfinite(found.factor) else None


def _modes(question: FrameQuestion, model: _Model) -> list[dict[str, Any]]:
    fine = model.fine(PARTS_RINGING)
    masses = np.zeros(len(fine.frame.nodes))
    for name, kg in question.masses.items():
        masses[model.row(name, "masses")] += kg
    return [
        {"hz": round(m.hz, 5), "kind": m.kind}
        for m in modes(fine.frame, fine.per_mm, masses, question.modes, model.held(len(fine.frame.nodes)))
    ]
