"""Loads spread by statics and carried on wheels, stress and columns, roll balance, the twist test: closed forms,
hand sums, laws."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ironcage.core.calc.car import rollbalance
from ironcage.core.calc.frames import strength
from ironcage.core.calc.frames.beams import solve
from ironcage.core.calc.frames.load_distribution import G, Weights, distribution_matrix, wheel_loads
from ironcage.core.calc.frames.twisttest import measure
from ironcage.core.calc.sections import Angle, Rect, Round
from ironcage.problem import Problem
from tests.core.calc.frames.test_beams import E, frame_of, held_at, load_at

CONTACTS = np.array([[0.0, 600, 0], [0, -600, 0], [-2000, 600, 0], [-2000, -600, 0]])


@given(seed=st.integers(0, 1000), count=st.integers(1, 6))
@settings(max_examples=60, deadline=None)
def test_a_load_spread_over_joints_is_the_same_load(seed: int, count: int) -> None:
    rng = np.random.default_rng(seed)
    places, at = rng.uniform(-500, 500, (count, 3)), rng.uniform(-500, 500, 3)
    if seed % 3 == 0:
        places[:, 1:] = 0.0  # in a line
    force, moment = rng.normal(size=3) * 1000, rng.normal(size=3) * 1e5
    made = (distribution_matrix(places, at) @ np.concatenate([force, moment])).reshape(-1, 6)
    assert made[:, :3].sum(axis=0) == pytest.approx(force, abs=1e-6)
    turned = (made[:, 3:] + np.cross(places, made[:, :3])).sum(axis=0)
    assert turned == pytest.approx(moment + np.cross(at, force), abs=1e-3)


def test_bolts_in_a_plate_share_as_the_textbook_has_it() -> None:
    """Four bolts on a 200 mm square, 1 kN hung 300 mm beside their middle: direct 250 N each, and M·r/Σr² square to
    r."""
    places = np.array([[x, 0.0, z] for x in (-100, 100) for z in (-100, 100)], dtype=float)
    made = (distribution_matrix(places, np.array([300.0, 0, 0])) @ np.array([0, 0, -1000.0, 0, 0, 0])).reshape(-1, 6)
    share = 300_000 / (4 * 2 * 100**2) * 100
    assert made[:, 2] == pytest.approx([-250 + share, -250 + share, -250 - share, -250 - share])
    assert np.abs(made[:, 0]) == pytest.approx(share)
    assert np.abs(made[:, 3:]).max() == pytest.approx(0, abs=1e-6)


def test_masses_answer_a_push_by_newton_and_a_turn_by_their_inertia() -> None:
    weights = Weights(np.array([10.0, 30.0, 20.0]), np.array([[0.0, 0, 0], [500, 100, 0], [-200, 0, 400]]))
    force, moment = np.array([600.0, -120, 60]), np.array([1e4, -2e4, 5e3])
    answer = weights.inertia_forces(force, moment)
    assert answer.sum(axis=0) == pytest.approx(-force)
    assert np.cross(weights.places - weights.cg, answer).sum(axis=0) == pytest.approx(-moment, rel=1e-6)
    assert weights.inertia_forces(force, np.zeros(3)) == pytest.approx(-np.outer(weights.masses, force) / 60)


def test_wheels_at_rest_in_braking_and_in_a_corner_by_hand() -> None:
    weights = Weights(np.array([500.0]), np.array([[-900.0, 0, 400]]))
    weight = 500 * G
    front = weight * 1100 / 2000
    rest = wheel_loads(CONTACTS, weights, 0, 0, 0.5)
    assert rest == pytest.approx([front / 2, front / 2, (weight - front) / 2, (weight - front) / 2])
    braking = wheel_loads(CONTACTS, weights, -0.8, 0, 0.5)
    assert braking[:2].sum() - front == pytest.approx(0.8 * weight * 400 / 2000)
    corner = wheel_loads(CONTACTS, weights, 0, 0.6, 0.7)
    moved = 0.6 * weight * 400 / 1200
    assert corner[1] - rest[1] == pytest.approx(0.7 * moved)
    assert corner[3] - rest[3] == pytest.approx(0.3 * moved)
    assert corner.sum() == pytest.approx(weight)


def test_a_wheel_lifts_before_the_car_tips_and_tipping_is_refused() -> None:
    weights = Weights(np.array([500.0]), np.array([[-900.0, 0, 600]]))
    lifted = wheel_loads(CONTACTS, weights, 0, 0.9, 0.95)
    assert lifted.min() == 0
    assert lifted.sum() == pytest.approx(500 * G)
    assert lifted[1] + lifted[3] == pytest.approx(500 * G * (0.5 + 0.9 * 600 / 1200))
    with pytest.raises(Problem, match=r"tip over at 1\.2 g in a corner"):
        wheel_loads(CONTACTS, weights, 0, 1.2, 0.5)
    with pytest.raises(Problem, match=r"tip over at 3 g of braking"):
        wheel_loads(CONTACTS, Weights(np.array([500.0]), np.array([[-300.0, 0, 700]])), -3, 0, 0.5)
    with pytest.raises(Problem, match="do not stand apart"):
        wheel_loads(np.zeros((4, 3)), weights, 0, 0, 0.5)


def _spots(frame, shape) -> strength.StressPoints:
    p, f = shape.properties(0.296), shape.fibres()
    full = [
        np.full(2, v) for v in (p.area, p.i_y, p.i_z, p.shear_area_y, p.shear_area_z, f.y, f.z, f.twist, float(f.round))
    ]
    return strength.StressPoints(np.zeros(2, dtype=np.int64), frame.nodes[[0, 1]], frame.axes[[0, 0]], *full)


@pytest.mark.parametrize("shape", [Round(38, 2), Rect(40, 60, 3), Angle(40, 40, 4)])
def test_a_cantilevers_stress_is_what_its_root_feels(shape) -> None:
    frame = frame_of([[0, 0, 0], [700, 0, 0]], [[0, 1]], shape, roll=shape.properties(0.296).tilt)
    u = solve(frame, held_at(frame, 0), load_at(frame, 1, 5000, 0, -200, 40_000)).u
    at = _spots(frame, shape)
    made = strength.resultants(frame, strength.end_forces(frame, u), at)
    turn = frame.axes[0]
    assert made[:, 0, 0] == pytest.approx([5000, 5000])
    assert made[:, 3, 0] == pytest.approx([40_000, 40_000])
    assert turn[1:].T @ made[0, 4:, 0] == pytest.approx([0, 200 * 700, 0], abs=1e-3)
    assert np.abs(made[1, 4:, 0]).max() == pytest.approx(0, abs=1e-3)
    told = strength.stresses(made, at)
    assert told.axial[0, 0] == pytest.approx(5000 / at.area[0])
    if isinstance(shape, Round):
        assert told.bending[0, 0] == pytest.approx(140_000 * 19 / at.i_y[0])
        assert told.torsion[0, 0] == pytest.approx(40_000 * 19 / (2 * at.i_y[0]))
    elif isinstance(shape, Rect):
        assert told.bending[0, 0] == pytest.approx(140_000 * 30 / at.i_y[0])
        assert told.torsion[0, 0] == pytest.approx(40_000 / (2 * 37 * 57 * 3))
    else:
        assert told.torsion[0, 0] == pytest.approx(40_000 * 4 / (76 * 4**3 / 3))
    normal, shear = told.axial[0, 0] + told.bending[0, 0], told.torsion[0, 0] + told.shear[0, 0]
    assert told.mises[0, 0] == pytest.approx(math.sqrt(normal**2 + 3 * shear**2))


def test_round_bending_adds_as_arrows_and_a_boxs_corners_add_up() -> None:
    for shape, both in ((Round(40, 2), math.hypot(1, 1)), (Rect(40, 40, 2), 2.0)):
        frame = frame_of([[0, 0, 0], [500, 0, 0]], [[0, 1]], shape)
        at = _spots(frame, shape)
        one, two = (
            strength.stresses(
                strength.resultants(
                    frame,
                    strength.end_forces(frame, solve(frame, held_at(frame, 0), load_at(frame, 1, 0, y, -100)).u),
                    at,
                ),
                at,
            ).bending[0, 0]
            for y in (0, 100)
        )
        assert two / one == pytest.approx(both)


def test_an_angles_farthest_fibres_are_those_of_its_turned_corners() -> None:
    f = Angle(50, 50, 5).fibres()
    heel = 50 / math.sqrt(2)
    assert f.y + f.z > heel
    assert sorted((f.y, f.z))[1] == pytest.approx(50 * math.sqrt(2) / 2, rel=0.02)  # the toes, across


def test_columns_follow_euler_where_slender_and_johnson_where_stocky() -> None:
    e, fy = np.array([210_000.0]), np.array([300.0])
    radius = np.array([12.0])
    slender = strength.column_stress(np.array([2400.0]), radius, e, fy)[0]
    assert slender == pytest.approx(math.pi**2 * 210_000 / 200**2)
    stocky = strength.column_stress(np.array([240.0]), radius, e, fy)[0]
    assert stocky == pytest.approx(300 * (1 - 300 * 20**2 / (4 * math.pi**2 * 210_000)))
    meet = 12 * math.pi * math.sqrt(2 * 210_000 / 300)
    below, above = (strength.column_stress(np.array([meet * s]), radius, e, fy)[0] for s in (0.9999, 1.0001))
    assert below == pytest.approx(150, rel=1e-3)
    assert above == pytest.approx(150, rel=1e-3)


def test_a_pushed_tube_is_used_more_for_its_bending_and_a_pulled_one_not_at_all() -> None:
    args = (np.array([100.0]), np.array([400.0]), np.array([300.0]))
    assert strength.column_use(np.array([-50.0]), np.array([80.0]), *args)[0] == 0
    assert strength.column_use(np.array([50.0]), np.array([0.0]), *args)[0] == pytest.approx(0.5)
    assert strength.column_use(np.array([50.0]), np.array([80.0]), *args)[0] == pytest.approx(
        0.5 + 80 / (300 * (1 - 50 / 400))
    )
    assert strength.column_use(np.array([500.0]), np.array([10.0]), *args)[0] > 5


def test_a_rigid_frame_passes_all_of_a_change_on_and_a_limp_one_nothing() -> None:
    front, rear = 3e7, 2e7
    stiff = np.array([1e4, 5e7, 1e13])
    passed = rollbalance.passed_on(stiff, front, rear, 0.45)
    assert passed[0] < 0.01
    assert passed[2] == pytest.approx(1, abs=1e-4)
    assert rollbalance.front_share(stiff, front, rear, 0.45)[[0, 2]] == pytest.approx([0.45, 0.6], abs=1e-3)
    # the share is the slope of the front's part against the front's share of stiffness, the whole kept
    step = 1e-5
    moved = [rollbalance.front_share(stiff, (0.6 + s) * 5e7, (0.4 - s) * 5e7, 0.45) for s in (step, -step)]
    assert passed == pytest.approx((moved[0] - moved[1]) / (2 * step), rel=1e-4)


def test_the_series_springs_balance_as_they_stand() -> None:
    front, rear, frame, carried, moment = 3e7, 2e7, 4e7, 0.45, 1e6
    k = np.array([[front + frame, -frame], [-frame, rear + frame]])
    lean = np.linalg.solve(k, np.array([carried, 1 - carried]) * moment)
    assert rollbalance.front_share(np.array(frame), front, rear, carried) == pytest.approx(front * lean[0] / moment)
    needed = rollbalance.stiffness_for(0.9, front, rear, carried)
    assert rollbalance.passed_on(np.array(needed), front, rear, carried) == pytest.approx(0.9, abs=1e-9)


def test_a_twist_test_is_a_straight_line_with_its_slack_and_spread() -> None:
    torque = np.array([1e5, 3e5, 5e5, 7e5])
    exact = measure(torque, 0.0003 + torque / 2e8, 1e-5)
    assert (exact.stiffness, exact.slack) == pytest.approx((2e8, 0.0003))
    assert exact.scatter == pytest.approx(0, abs=1e-12)
    assert exact.spread == pytest.approx(2e8**2 * 1.96e-5 / math.sqrt(((torque - 4e5) ** 2).sum()))
    off = np.array([1, -1, -1, 1]) * 2e-5
    rough = measure(torque, torque / 2e8 + off, 1e-6)
    assert rough.stiffness == pytest.approx(2e8)
    assert rough.scatter == pytest.approx(2e-5 * math.sqrt(2))
    assert rough.spread == pytest.approx(
        2e8**2 * 4.302652730 * rough.scatter / math.sqrt(((torque - 4e5) ** 2).sum()), rel=1e-6
    )


@pytest.mark.parametrize(
    ("torque", "angle", "says"),
    [
        ([1e5], [1e-3], "two weights at least"),
        ([1e5, 1e5], [1e-3, 2e-3], "two weights at least"),
        ([1e5, 3e5], [3e-3, 1e-3], "turns against its load"),
    ],
)
def test_readings_that_tell_nothing_are_refused(torque: list[float], angle: list[float], says: str) -> None:
    with pytest.raises(Problem, match=says):
        measure(np.array(torque), np.array(angle), 1e-4)


def test_the_root_stress_of_a_bar_is_its_modulus_times_strain() -> None:
    frame = frame_of([[0, 0, 0], [0, 0, 800]], [[0, 1]])
    u = solve(frame, held_at(frame, 0), load_at(frame, 1, 0, 0, -4000)).u
    at = _spots(frame, Round(38, 2))
    told = strength.stresses(strength.resultants(frame, strength.end_forces(frame, u), at), at)
    assert told.axial[:, 0] == pytest.approx(E * u[1, 2, 0] / 800)
    assert told.mises[:, 0] == pytest.approx(-told.axial[:, 0])


def test_halves_of_a_single_wheel_carry_alike_and_the_others_bear_the_lean() -> None:
    contacts = np.array([[0.0, 0, 0], [0, 0, 0], [-1500, 500, 0], [-1500, -500, 0]])
    weights = Weights(np.array([300.0]), np.array([[-900.0, 30.0, 450.0]]))
    rest = wheel_loads(contacts, weights, 0, 0, 0.5)
    assert rest[:2] == pytest.approx(300 * G * 0.4 / 2)
    assert rest[2] - rest[3] == pytest.approx(300 * G * 30 / 500)
    for share in (0.0, 0.8):  # whatever the front's share of the roll is said to be
        corner = wheel_loads(contacts, weights, 0, 0.3, share)
        assert corner[:2] == pytest.approx(rest[:2])
        assert (corner[3] - corner[2]) - (rest[3] - rest[2]) == pytest.approx(300 * G * 0.3 * 450 / 500)
    with pytest.raises(Problem, match="tip over"):
        wheel_loads(contacts, weights, 0, 1.0, 0.5)
