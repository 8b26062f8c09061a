"""`calc notch`: the cut of one tube end onto another tube, at any angle and offset."""

import math
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ironcage.cli.calc.question import Asked, Number, Place, plain, section_of
from ironcage.core.calc.frames.beams import element_axes
from ironcage.core.calc.tubes import cope
from ironcage.core.calc.tubes.ends import TubeEnd, cut_ends
from ironcage.core.calc.tubes.receivers import Prism, Stub
from ironcage.problem import Problem


class AskedLine(Asked):
    """A tube along a line, its section turned by roll_deg."""

    section: str
    start: Place
    end: Place
    roll_deg: Number = 0.0

    @property
    def axes(self) -> Any:
        """x along the tube, y and z of its section, as rows (3, 3)."""
        if math.dist(self.start, self.end) < 1e-3:
            raise Problem("The tube has no length.", where="start", hint="Give two different places.")
        return element_axes(np.array([self.start]), np.array([self.end]), np.radians([self.roll_deg]))[0]


class NotchQuestion(Asked):
    """A tube whose `end` is cut, and the tube it lands on, by any two points on its axis. also: tubes that are in its
    way there, each from where it starts to any point on its axis."""

    tube: AskedLine
    onto: AskedLine
    also: Annotated[tuple[AskedLine, ...], Field(max_length=20)] = ()
    lines: Annotated[int, Field(ge=8, le=3600)] = 72


def answer(question: NotchQuestion) -> dict[str, Any]:
    """The profile round the tube; distances from `end` along the tube, positive into its body."""
    tube, onto = question.tube, question.onto
    axes, other = tube.axes, onto.axes
    section, receiver_section = section_of(tube.section), section_of(onto.section)
    angle = cope.demand_crossing(axes[0], other[0])
    joint, point = np.array(tube.end), np.array(onto.start)
    across = np.cross(axes[0], other[0])
    offset = abs(float((joint - point) @ across / np.linalg.norm(across)))
    receiver = Prism(point, other, receiver_section.contour)
    others = [
        Stub(Prism(np.array(t.start), t.axes, section_of(t.section).contour), np.array(t.start), t.axes[0])
        for t in question.also
    ]
    for other_line in question.also:
        cope.demand_crossing(axes[0], other_line.axes[0])
    made = cut_ends([TubeEnd(section, axes, joint, -1.0, receiver, tuple(others))], question.lines)[0]
    profile = made.profile
    if profile.misses >= 1:
        raise Problem(
            "The tube passes beside what it should land on.",
            where="onto",
            hint=f"The two lines are {offset:.1f} mm apart.",
        )
    saw = cope.nearest_saw(receiver_section.size[0]) if receiver_section.is_round else None
    return {
        "angle_deg": round(math.degrees(angle), 4),
        "offset_mm": round(offset, 4),
        "saw_from_square_deg": round(90 - math.degrees(angle), 4),
        "hole_saw_mm": saw,
        "saddle_tip_mm": round(profile.saddle_tip, 4),
        "template_tip_mm": round(profile.template_tip, 4),
        "shoulder_mm": round(profile.shoulder, 4),
        "girth_mm": round(profile.girth_mm, 4),
        "paper_from_square_end_mm": round(profile.template_tip - profile.bar, 4),
        "shoulder_from_square_end_mm": round(profile.shoulder - profile.bar, 4),
        "misses": round(profile.misses, 4),
        "also_cut_to": [n for n, trimmed in enumerate(made.trims) if trimmed],
        "index_deg": round(math.degrees(profile.mark), 3),
        "round_mm": plain(profile.round_mm, 4),
        "outer_mm": plain(profile.outer, 4),
        "inner_mm": plain(profile.inner, 4),
        "cut_mm": plain(profile.cut, 4),
        "notes": list(cope.cautions(angle, profile.misses, "what it lands on")),
    }
