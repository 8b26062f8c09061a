"""`calc frame`: displacements, reactions, tube end forces and energy of a space frame under loads."""

from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ironcage.cli.calc.question import Asked, Number, Place, material_of, plain, section_of
from ironcage.core.calc.beams import Frame, solve
from ironcage.problem import Problem, nearest

AXES = ("x", "y", "z", "rx", "ry", "rz")
Six = tuple[Number, Number, Number, Number, Number, Number]


class AskedTube(Asked):
    """A tube between two named joints."""

    ends: tuple[str, str]
    section: str = "38 x 2 round"
    material: str = "Drawn mild steel tube"
    roll_deg: Number = 0.0
    pinned: tuple[bool, bool] = (False, False)


class Question(Asked):
    """Joints by name, tubes, what is held (axes among x y z rx ry rz) and loads (N and N·mm)."""

    joints: dict[str, Place]
    tubes: Annotated[list[AskedTube], Field(min_length=1, max_length=20_000)]
    held: dict[str, list[str]]
    loads: dict[str, Six]
    shear: bool = True


def answer(question: Question) -> dict[str, Any]:
    """Solve it; displacements in mm and degrees, forces in N and N·mm."""
    names = list(question.joints)
    index = {name: n for n, name in enumerate(names)}

    def place_of(name: str, owner: str) -> int:
        if name not in index:
            raise Problem(
                f"{owner} names joint ‘{name}’, which is not among the joints.", where=name, hint=nearest(name, names)
            )
        return index[name]

    rows = []
    for n, t in enumerate(question.tubes):
        m = material_of(t.material)
        p = section_of(t.section).properties(m.poisson)
        ends = [place_of(e, f"tube {n}") for e in t.ends]
        rows.append(
            (
                *ends,
                m.e,
                m.g,
                p.area,
                p.i_y,
                p.i_z,
                p.j,
                p.shear_area_y,
                p.shear_area_z,
                p.tilt + np.radians(t.roll_deg),
                m.density,
            )
        )
    table = np.array(rows, dtype=float)
    shear = 1.0 if question.shear else 0.0
    frame = Frame(
        nodes=np.array([question.joints[n] for n in names]), ends=table[:, :2].astype(np.int64),
        e=table[:, 2], g=table[:, 3], area=table[:, 4], i_y=table[:, 5], i_z=table[:, 6], j=table[:, 7],
        shear_area_y=table[:, 8] * shear, shear_area_z=table[:, 9] * shear, roll=table[:, 10],
        pinned=np.array([t.pinned for t in question.tubes]), node_names=tuple(names),
        beam_names=tuple(f"tube {n} ({t.ends[0]}–{t.ends[1]})" for n, t in enumerate(question.tubes)),
    )  # fmt: skip
    held = np.zeros((len(names), 6), dtype=bool)
    for name, axes in question.held.items():
        for axis in axes:
            if axis not in AXES:
                raise Problem(
                    f"{name} is held in ‘{axis}’, which is no axis.", where=name, hint=f"There are {', '.join(AXES)}."
                )
            held[place_of(name, "held"), AXES.index(axis)] = True
    loads = np.zeros((len(names), 6, 1))
    for name, load in question.loads.items():
        loads[place_of(name, "loads"), :, 0] = load
    solved = solve(frame, held, loads)
    u, reactions = solved.u[:, :, 0], solved.reactions[:, :, 0]
    forces = frame.end_forces(u)
    return {
        "displacements_mm_deg": {n: plain([*u[i, :3], *np.degrees(u[i, 3:])], 9) for n, i in index.items()},
        "reactions": {n: plain(reactions[i]) for n, i in index.items() if held[i].any()},
        "tubes": [
            {"ends": list(t.ends), "axial": float(round(forces[n, 6], 6)), "end_forces": plain(forces[n]), "energy": float(round(e, 6))}
            for n, (t, e) in enumerate(zip(question.tubes, frame.strain_energy(u), strict=True))
        ],
        "mass_kg": float(round((table[:, 4] * frame.lengths * table[:, 11]).sum() * 1e-9, 6)),
        "residual": solved.residual,
        "limits": "Linear, small displacements, no buckling or strength; an estimate.",
    }  # fmt: skip
