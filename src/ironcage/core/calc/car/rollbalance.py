"""How stiff is stiff enough: what a car's frame leaves of a change in balance that is set at its springs.

Two axles with roll stiffnesses Kf = λ·S and Kr = (1 − λ)·S joined by the frame's torsional stiffness Kc, leaned over by
the parts of the car that each end carries, m at the front (the series-spring model of Deakin and others 2000). The
front's share of what leans the car over is χ = m − Kc·(m − λ)/(λ·(1 − λ)·S + Kc), which a rigid frame makes λ.
"""

from __future__ import annotations

import numpy as np

from ironcage.core.calc.frames.beams import Floats


def front_share(frame: Floats, front: float, rear: float, carried: float) -> Floats:
    """χ for frame stiffnesses (k,) and roll stiffnesses, all N·mm/rad; carried: the front's share of the sprung
    weight."""
    whole = front + rear
    share = front / whole
    return carried - frame * (carried - share) / (share * (1 - share) * whole + frame)


def passed_on(frame: Floats, front: float, rear: float, carried: float) -> Floats:
    """The part (k,) of a small change of λ, Kf + Kr kept, that reaches the tyres: dχ/dλ.

    frame (k,), front and rear: stiffnesses, N·mm/rad; carried: the share of what leans the car over that the front end
    carries.
    """
    whole = front + rear
    share = front / whole
    below = share * (1 - share) * whole + frame
    return np.asarray(frame * (below + (carried - share) * (1 - 2 * share) * whole) / below**2)


def stiffness_for(part: float, front: float, rear: float, carried: float) -> float:
    """The frame stiffness that passes on a part of a change (0 to 1), N·mm/rad; at most ten thousand times the roll
    stiffness of both axles."""
    from scipy.optimize import brentq

    def short(frame: float) -> float:
        return float(passed_on(np.array(frame), front, rear, carried)) - part

    most = 1e4 * (front + rear)
    return float(brentq(short, 0.0, most)) if short(most) > 0 else most
