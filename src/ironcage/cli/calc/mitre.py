"""`calc mitre`: two tubes that meet at a corner, cut to the plane between them, in whatever plane they lie."""

import math
from typing import Any

import numpy as np

from ironcage.cli.calc.notch import AskedLine
from ironcage.cli.calc.question import Asked, section_of
from ironcage.core.calc.tubes.cope import demand_crossing
from ironcage.core.calc.tubes.ends import end_profile
from ironcage.core.calc.tubes.receivers import Plane
from ironcage.core.calc.tubes.sawcut import saw_cut
from ironcage.problem import Problem


class MitreQuestion(Asked):
    """A tube whose `end` is cut, and the other one that meets it there with its own `end`."""

    tube: AskedLine
    other: AskedLine


def answer(question: MitreQuestion) -> dict[str, Any]:
    """How the saw is set and how long the tube is to its long and its short point; mm and degrees."""
    tube, other = question.tube, question.other
    axes, beside, joint = tube.axes, other.axes, np.array(tube.end)
    off = math.dist(tube.end, other.end)
    if off > 0.01:
        raise Problem(
            f"The two ends are {off:.2f} mm apart.",
            where="other",
            hint="Give both tubes the same end, where they meet.",
        )
    demand_crossing(axes[0], beside[0])
    normal = axes[0] - beside[0]
    normal = normal / np.linalg.norm(normal)
    section, length = section_of(tube.section), math.dist(tube.start, tube.end)
    setting = saw_cut(section, axes, normal)
    profile = end_profile(section, axes, joint, -1.0, Plane(joint, normal))
    return {
        "between_deg": round(math.degrees(math.acos(float(np.clip(axes[0] @ beside[0], -1, 1)))), 4),
        "saw_from_square_deg": round(math.degrees(setting.square), 4),
        "saw_turned_deg": round(math.degrees(setting.turn), 4),
        "saw_tilted_deg": round(math.degrees(setting.tilt), 4),
        "lies_on_side_mm": setting.rests or None,
        "long_point_mm": round(length - profile.saddle_tip, 4),
        "short_point_mm": round(length - profile.shoulder, 4),
        "index_deg": round(math.degrees(profile.mark), 3),
    }
