"""A rocker by sought angles, the spring that it presses, and the push that goes through it by virtual work."""

import numpy as np
import pytest
from scipy.optimize import newton
from scipy.spatial.transform import Rotation

from ironcage.core.calc.linkage.forces import link_forces
from ironcage.core.calc.linkage.rocker import Rocker
from ironcage.core.calc.linkage.wishbone import carried_end, curves, poses, spring_end
from tests.core.calc.linkage.test_wishbone import corner


def rocking(on: str = "lower", **changes):
    axis = np.array([1.0, 0.15, -0.1])
    rocker = Rocker(
        pivot=np.array([10.0, 260.0, 470.0]),
        axis=axis / np.linalg.norm(axis),
        push_in=np.array([12.0, 300.0, 510.0]),
        push_out=np.array([0.0, 500.0, 210.0]),
    )
    ends = {"spring_in": np.array([8.0, 60.0, 420.0]), "spring_out": np.array([11.0, 262.0, 412.0])}
    return corner(rocker=rocker, spring_on=on, **ends, **changes)


@pytest.mark.parametrize("on", ["lower", "upper", "upright"])
def test_the_rod_keeps_its_length_and_the_spring_stands_where_the_rocker_takes_it(on: str) -> None:
    c = rocking(on)
    rocker = c.rocker
    found = poses(c, np.array([-45.0, -10, 0, 30, 50]), np.array([-20.0, 0, 20]))
    out, end = carried_end(found)[0], spring_end(found)[0]
    for place, told in zip(out.reshape(-1, 3), end.reshape(-1, 3), strict=True):

        def miss(angle: float, there: np.ndarray = place) -> float:
            turned = Rotation.from_rotvec(angle * rocker.axis).apply(rocker.push_in - rocker.pivot) + rocker.pivot
            return float(np.linalg.norm(turned - there)) - rocker.length

        angle = newton(miss, 0.0, tol=1e-12)
        turned = Rotation.from_rotvec(angle * rocker.axis).apply(c.spring_out - rocker.pivot) + rocker.pivot
        assert told == pytest.approx(turned, abs=1e-6)
    assert end[2, 1] == pytest.approx(c.spring_out)  # as it is drawn at ride height
    assert rocker.turn(rocker.push_out) == pytest.approx(0, abs=1e-12)


@pytest.mark.parametrize("on", ["lower", "upper", "upright"])
def test_its_motion_ratio_is_the_springs_own_change_and_its_force_virtual_work(on: str) -> None:
    c = rocking(on)
    travel = np.array([-30.0, 0.0, 25.0])
    told = curves(poses(c, travel, np.zeros(1)))
    near = [curves(poses(c, travel + step, np.zeros(1))).spring for step in (-0.01, 0.01)]
    assert told.motion_ratio == pytest.approx((near[0] - near[1]) / 0.02, rel=1e-5)
    found = poses(c, np.zeros(1), np.zeros(1))
    force, contact = np.array([-400.0, 900.0, 3000.0]), c.wheel - np.array([0, 0, c.radius])
    forces = link_forces(found, contact, force, np.zeros(3))
    path = found.moves(contact)[0, 0]
    assert forces.spring * told.motion_ratio[1, 0] == pytest.approx(float(force @ path), rel=1e-9)
    assert sum(forces.on_frame.values()) == pytest.approx(force)
    around = sum(
        np.cross(at, forces.on_frame[name])
        for name, at in (
            ("lower front", c.lower[0]),
            ("lower rear", c.lower[1]),
            ("upper front", c.upper[0]),
            ("upper rear", c.upper[1]),
            ("tie", c.tie_in),
            ("spring", c.spring_in),
            ("rocker, push rod", c.rocker.push_in),
            ("rocker, coil-over", c.spring_out),
        )
    )
    assert around == pytest.approx(np.cross(contact, force), abs=1e-5)  # with what bends the rocker's bolt


def test_a_rod_that_does_not_reach_leaves_the_spring_unknown() -> None:
    c = rocking()
    short = np.array([c.rocker.push_out, c.rocker.pivot + np.array([0, 900.0, 0])])
    assert np.isnan(c.rocker.turn(short)).tolist() == [False, True]
