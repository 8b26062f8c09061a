"""How far a solid can come to another, against what can be worked out by hand and against a march."""

import math

import numpy as np
import pytest

from ironcage.core.calc.solids.approach import approach
from ironcage.core.calc.solids.convex import Solid, box, cylinder, rod
from ironcage.core.calc.solids.gaps import gaps

ALONG = np.array([0.0, 1.0, 0.0])
HERE = np.zeros(3)


def _at(solid: Solid, *by: float) -> Solid:
    return solid.moved(np.eye(3), np.array(by))


def test_balls_boxes_and_crossed_rods_meet_where_geometry_says() -> None:
    ball = rod(20.0, HERE, HERE + [1e-9, 0, 0])
    level, upright = (cylinder(15.0, -np.array(a) * 200.0, np.array(a) * 200.0) for a in ((1, 0, 0), (0, 0, 1)))
    still = [_at(ball, 30, 100, 0), _at(box((40, 60, 80)), 0, 200, 0), _at(upright, 0, -50, 0), _at(ball, 41, 0, 0)]
    found = approach([ball, ball, level, ball], still, ALONG, np.array([10.0, 5.0, 2.0, 0.0]))
    assert found[:3] == pytest.approx([100 - math.sqrt(50**2 - 30**2), 200 - 30 - 20 - 5, -50 - 30 - 2], abs=0.01)
    assert found[3] == math.inf  # it passes a millimetre beside


def test_random_solids_are_as_near_as_asked_and_were_never_nearer_before() -> None:
    rng = np.random.default_rng(7)
    for _ in range(40):
        turn = np.linalg.qr(rng.normal(size=(3, 3)))[0]
        turn[:, 0] *= np.sign(np.linalg.det(turn))
        moving, still = box(tuple(rng.uniform(20, 200, 3))).moved(turn, HERE), box(tuple(rng.uniform(20, 200, 3)))
        still = _at(still, *rng.uniform(-150, 150, 3))
        margin = float(rng.uniform(0, 30))
        far = float(approach([moving], [still], ALONG, np.array([margin]))[0])
        trail = np.linspace(-600, min(far, 600), 200)
        seen = gaps([_at(moving, 0, float(t), 0) for t in trail], [still] * len(trail)).distance
        assert (seen >= margin - 0.01).all()
        if math.isfinite(far):
            assert seen[-1] == pytest.approx(margin, abs=0.01)
        else:
            assert seen.min() > margin - 0.01
