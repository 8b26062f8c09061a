"""How stiff is stiff enough: the share of a change in balance that reaches the tyres through this frame, beside what
other frames would pass on."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.prove import stiffness as prove
from ironcage.core.answers.run import roll_stiffnesses
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.car.rollbalance import front_share, passed_on, stiffness_for
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units import said

PARTS = (0.8, 0.9, 0.95)
POINTS, BEYOND = 60, 2.5
ASSUMED = (
    "Two axles with the roll stiffness typed in, the frame between them as one torsion spring (series springs, Deakin "
    "and others 2000); the front carries its share of the car's "
    "weight. A small change of the front's share of roll stiffness, the whole kept. Tyres and unsprung masses left out."
)


@dataclass(frozen=True, eq=False)
class BalanceAnswer:
    """share: of a change that reaches the tyres, at this frame's `torsion` (N·mm/rad); front: what the front takes
    of what leans the car over, rigid: what it would with a rigid frame; curve (k, 2): frame stiffness and share;
    needs: frame stiffness for each of PARTS; rolls: roll stiffness of both axles, as typed or as their springs give
    it, N·mm/rad."""

    share: float
    torsion: float
    front: float
    rigid: float
    curve: Floats
    needs: tuple[tuple[float, float], ...]
    rolls: tuple[float, float]


def roll_balance(job: Job) -> BalanceAnswer:
    """The curve and this frame on it. Raises Problem until both roll stiffnesses, wheels and masses are known."""
    (front, rear), weighed = roll_stiffnesses(job), weigh(job)
    if not front or not rear:
        raise Problem(
            "The roll stiffness of both axles is not known.",
            where="rollstiff",
            hint=said.example(
                "Type for example: rollstiff front [300 N·m/deg] rear [220 N·m/deg]; or hang both axles in Run and "
                "type their springs' rates"
            ),
        )
    if weighed.front_share is None:
        raise Problem(
            "The front's share of the weight is not known.", where="wheels", hint="Put in wheels and what weighs."
        )
    torsion = prove.twist(job).stiffness
    asked = (front, rear, weighed.front_share)
    needs = tuple((part, stiffness_for(part, *asked)) for part in PARTS)
    most = BEYOND * max(torsion, needs[-1][1])
    stiffness = most * np.linspace(0.0, 1.0, POINTS + 1)[1:] ** 2  # closer together where the curve is steep
    return BalanceAnswer(
        float(passed_on(np.array(torsion), *asked)),
        torsion,
        float(front_share(np.array(torsion), *asked)),
        front / (front + rear),
        np.column_stack([stiffness, passed_on(stiffness, *asked)]),
        needs,
        (front, rear),
    )
