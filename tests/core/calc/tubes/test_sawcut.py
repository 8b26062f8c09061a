"""How a saw is set for a flat cut: against turning a blade in space, and against faces and corners met by hand."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from ironcage.core.answers.cut.ends import EndCut
from ironcage.core.answers.cut.pieces import answer
from ironcage.core.calc.sections import Rect, Round
from ironcage.core.calc.tubes.sawcut import saw_cut
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.told import plain
from tests.core.lines import typed

STEEL = "Drawn mild steel tube"


@given(st.floats(0.02, 1.2), st.floats(0, 0.7))
def test_a_blade_that_is_turned_and_tilted_so_has_the_normal_of_the_cut(turn: float, tilt: float) -> None:
    """A blade across the tube, tilted about the line in which it meets the table, then turned about the upright."""
    normal = Rotation.from_euler("Z", turn).apply(Rotation.from_euler("Y", -tilt).apply([1.0, 0, 0]))
    found = saw_cut(Rect(40, 20, 2), np.eye(3), normal)
    if math.sin(tilt) <= math.cos(tilt) * math.sin(turn):
        assert (found.turn, found.tilt, found.rests) == (pytest.approx(turn), pytest.approx(tilt, abs=1e-9), 40)
    else:  # on its other side the blade is tilted less
        assert found.rests == 20
        assert found.tilt < tilt
    assert found.square == pytest.approx(math.acos(math.cos(turn) * math.cos(tilt)))
    plain_round = saw_cut(Round(30, 2), np.eye(3), normal)
    assert (plain_round.turn, plain_round.tilt) == (found.square, 0)


def _onto_box(to: tuple[float, float, float], section: str, roll: str = "0") -> EndCut:
    """The end of a tube that comes to the middle of a rail along x, 60 wide and 40 high, from a place."""
    job = typed(Job(), "joint 0 0 300 alone", "joint -1000 0 300 alone", "joint -500 0 300 alone")
    job = edits.add_joint(job, to, mirrored=False)
    for a, b, name in (("J1", "J3", "40 x 60 x 3"), ("J3", "J2", "40 x 60 x 3"), ("J3", "J4", section)):
        job = typed(job, f"tube {a} {b} {name}")
    return answer(typed(job, f"roll {roll}", chosen=("T3",))).piece("T3").first


def test_the_saw_for_a_flat_side_is_turned_by_the_lean_to_that_side_and_not_to_the_axis() -> None:
    """A brace goes up 400, along 150 and aside 100: to the top face it leans by the angle to plumb, whichever way."""
    up = np.array([150.0, 100.0, 400.0])
    lean = math.acos(400 / np.linalg.norm(up))
    end = _onto_box((-500 + 150, 100, 700), "25 x 2 round")
    assert end.kind == "flat"
    assert end.saw_angle == pytest.approx(lean)
    box = _onto_box((-500 + 150, 100, 700), "25 x 25 x 2", roll="20")
    assert box.setting is not None
    assert box.setting.tilt > math.radians(5)
    assert math.cos(box.setting.turn) * math.cos(box.setting.tilt) == pytest.approx(math.cos(lean))
    assert "and tilted" in plain(box.words)
    straight = _onto_box((-500 + 150, 0, 700), "25 x 25 x 2")
    assert straight.setting is not None
    assert math.degrees(straight.setting.tilt) == pytest.approx(0, abs=1e-6)
    assert plain(straight.words).startswith(f"saw {math.degrees(math.atan2(150, 400)):.1f}° onto T1")


def test_an_end_that_goes_round_a_corner_has_no_setting_and_says_so() -> None:
    end = _onto_box((-500, 400, 650), "50 x 50 x 2")
    assert end.setting is None
    assert end.how == "along the paper: it goes round a corner"
    assert _onto_box((-500 + 150, 0, 700), "25 x 25 x 2").how == "mitre saw"
    assert _onto_box((-500 + 500, 0, 600), "25 x 25 x 2").how == "mitre saw"
    assert _onto_box((-500 + 900, 0, 600), "25 x 25 x 2").how == "along the paper: 72° is more than a mitre saw turns"
    assert any("goes round a corner of T1" in note for note in end.by_hand)
