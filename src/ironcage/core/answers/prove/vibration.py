"""Vibration and buckling: the frame's first modes, bare and with the car's masses on it, and how far each case is
from buckling the whole."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.prove import strength
from ironcage.core.answers.prove.cases import CASE_PARTS, carriers
from ironcage.core.answers.shared.beam_model import Spread, fine_frame
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.frames.beams import Floats, demand_one_piece
from ironcage.core.calc.frames.buckling import Buckling, buckling
from ironcage.core.calc.frames.vibration import Mode, modes
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

MODES, PARTS_RINGING, PARTS_BUCKLING = 6, 2, 4
MOST_TUBES = 1500
ASSUMED = (
    "Nothing holds the frame; tubes weigh what they weigh, fittings and panels nothing; masses ride on the joints "
    "that carry them, as points, their own size left out.",
    "Buckling is linear: of a perfect frame, elastic, under loads that keep their direction. Dents, crooked tubes and "
    "yielding bring it on earlier; see each tube's column margin too.",
)


@dataclass(frozen=True, eq=False)
class VibrationAnswer:
    """The first modes of the bare frame, and with the masses on; the first twist and bending of each by `first`."""

    bare: tuple[Mode, ...]
    loaded: tuple[Mode, ...]

    @staticmethod
    def first(found: tuple[Mode, ...], kind: str) -> Mode | None:
        """The lowest mode of a kind."""
        return next((m for m in found if m.kind == kind), None)


def _fine(job: Job, parts: int) -> Spread:
    if len(job.tubes) > MOST_TUBES:
        raise Problem(
            f"{len(job.tubes)} tubes are more than this is worked out for.",
            where="vibration",
            hint=f"It goes up to {MOST_TUBES:,} tubes.",
        )
    made = fine_frame(job, parts)
    demand_one_piece(made.frame)
    return made


@remembered("joints", "tubes", "shelf", "fittings", "masses", "parts", "people", "proving")
def frame_vibration(job: Job) -> VibrationAnswer:
    """The modes. Raises Problem where the frame can't be worked out."""
    fine = _fine(job, PARTS_RINGING)
    none = np.zeros(len(fine.frame.nodes))
    lumps = none.copy()
    for kg, shares in carriers(job):
        for row, share in shares:
            lumps[row] += kg * share
    return VibrationAnswer(modes(fine.frame, fine.per_mm, none, MODES), modes(fine.frame, fine.per_mm, lumps, MODES))


@dataclass(frozen=True, eq=False)
class Collapse:
    """A case: its name, the factor on its loads at which the frame buckles, infinite where it does not, and the tube
    that moves most then."""

    case: str
    factor: float
    tube: str
    shape: Floats


@remembered(*CASE_PARTS)
def collapses(job: Job) -> tuple[Collapse, ...]:
    """Every case that can be told, the nearest to buckling first."""
    told = strength.tube_strength(job)
    fine = _fine(job, PARTS_BUCKLING)
    index = {j.id: n for n, j in enumerate(job.joints)}
    anchor = int(np.bincount(fine.frame.ends.ravel(), minlength=len(fine.frame.nodes))[: len(job.joints)].argmax())
    made = []
    for n, case in enumerate(told.cases):
        held = np.zeros((len(fine.frame.nodes), 6), dtype=bool)
        if case.held:
            held[[index[j] for j in case.held], :3] = True
        else:
            held[anchor] = True
        held[np.setdiff1d(np.arange(len(held)), fine.frame.ends.ravel())] = True
        found: Buckling = buckling(fine.frame, held, told.axial[fine.owner, n])
        moved = np.linalg.norm(found.shape[:, :3], axis=1)
        busiest = fine.owner[(moved[fine.frame.ends[:, 0]] + moved[fine.frame.ends[:, 1]]).argmax()]
        made.append(Collapse(case.name, found.factor, job.tubes[busiest].id, found.shape))
    return tuple(sorted(made, key=lambda c: c.factor))
