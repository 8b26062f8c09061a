"""Frames against closed forms, equilibrium, reciprocity, rotation, and the dense against the sparse road."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.calc.frames import factor
from ironcage.core.calc.frames.beams import Frame, solve
from ironcage.core.calc.frames.deflected import moved
from ironcage.core.calc.frames.factor import MechanismError
from ironcage.core.calc.frames.rigs import Rig, twist_test
from ironcage.core.calc.sections import Rect, Round
from ironcage.problem import Problem

E, G = 210_000.0, 81_000.0


def frame_of(nodes, ends, section=Round(38, 2), *, shear=True, roll=0.0, pinned=None) -> Frame:  # noqa: B008
    p = section.properties(E / (2 * G) - 1)
    n = len(ends)
    full = lambda value: np.full(n, float(value))  # noqa: E731
    return Frame(
        nodes=np.array(nodes, dtype=float),
        ends=np.array(ends),
        e=full(E),
        g=full(G),
        area=full(p.area),
        i_y=full(p.i_y),
        i_z=full(p.i_z),
        j=full(p.j),
        shear_area_y=full(p.shear_area_y if shear else 0),
        shear_area_z=full(p.shear_area_z if shear else 0),
        roll=full(roll),
        pinned=np.array(pinned if pinned is not None else np.zeros((n, 2), dtype=bool)),
        node_names=tuple(f"N{i}" for i in range(len(nodes))),
    )


def held_at(frame: Frame, *nodes: int) -> np.ndarray:
    held = np.zeros((len(frame.nodes), 6), dtype=bool)
    held[list(nodes)] = True
    return held


def load_at(frame: Frame, node: int, *six: float) -> np.ndarray:
    loads = np.zeros((len(frame.nodes), 6, 1))
    loads[node, : len(six), 0] = six
    return loads


def test_cantilever_pull_bend_twist_in_closed_form() -> None:
    length, p = 800.0, Rect(40, 60, 3).properties(E / (2 * G) - 1)
    frame = frame_of([[0, 0, 0], [length, 0, 0]], [[0, 1]], Rect(40, 60, 3))
    u = solve(frame, held_at(frame, 0), load_at(frame, 1, 1000, 200, -300, 5e4)).u[1, :, 0]
    assert u[0] == pytest.approx(1000 * length / (E * p.area), rel=1e-9)
    assert u[1] == pytest.approx(200 * length**3 / (3 * E * p.i_z) + 200 * length / (G * p.shear_area_y), rel=1e-9)
    assert u[2] == pytest.approx(-300 * length**3 / (3 * E * p.i_y) - 300 * length / (G * p.shear_area_z), rel=1e-9)
    assert u[3] == pytest.approx(5e4 * length / (G * p.j), rel=1e-9)
    assert u[4] == pytest.approx(300 * length**2 / (2 * E * p.i_y), rel=1e-9)


def test_portal_sways_as_the_slope_deflection_equations_say() -> None:
    """Fixed-base portal, columns h and beam b of one section, no shear, very stiff axially: δ = P h³/(12EI) ·
    (3k+2)/(6k+1)·..."""
    h, b = 1000.0, 1500.0
    p = Round(38, 2).properties(0.3)
    frame = frame_of([[0, 0, 0], [0, 0, h], [b, 0, h], [b, 0, 0]], [[0, 1], [1, 2], [2, 3]], shear=False)
    frame = Frame(**{**{f: getattr(frame, f) for f in frame.__dataclass_fields__}, "area": np.full(3, 1e9)})
    held = held_at(frame, 0, 3)
    held[:, [1, 3, 5]] = True  # in its own plane
    u = solve(frame, held, load_at(frame, 1, 100.0)).u
    k = h / b  # (I_beam / b) / (I_column / h)
    assert u[1, 0, 0] == pytest.approx(100 * h**3 / (12 * E * p.i_y) * (3 * k + 2) / (6 * k + 1), rel=1e-6)


def test_pinned_bars_carry_only_pull_and_push() -> None:
    """Two pinned bars under a weight: force by hand from the triangle of forces."""
    frame = frame_of([[0, 0, 0], [1000, 0, 0], [0, 0, 750]], [[0, 1], [2, 1]], pinned=[[True, True]] * 2)
    held = held_at(frame, 0, 2)
    held[1, 1] = True
    solved = solve(frame, held, load_at(frame, 1, 0, 0, -300.0))
    forces = frame.end_forces(solved.u[:, :, 0])
    assert forces[1, 6] == pytest.approx(300 / 0.6)  # the tie rises 3 on 4: sine 0.6
    assert forces[0, 6] == pytest.approx(-300 / 0.6 * 0.8)
    assert np.abs(forces[:, [1, 2, 4, 5]]).max() < 1e-9


@given(st.integers(0, 10_000))
def test_any_frame_is_in_balance_reciprocal_and_the_same_when_turned(seed: int) -> None:
    rng = np.random.default_rng(seed)
    nodes = rng.uniform(0, 1000, (7, 3))
    ends = [[i, i + 1] for i in range(6)] + [[0, 3], [1, 4], [2, 6], [0, 5]]
    frame = frame_of(nodes, ends, Round(30, 2))
    held, loads = held_at(frame, 0), np.zeros((7, 6, 2))
    loads[1:] = rng.normal(0, 100, (6, 6, 2))
    solved = solve(frame, held, loads)
    total = loads[:, :3] + solved.reactions[:, :3]
    assert np.abs(total.sum(axis=0)).max() < 1e-5
    arms = (
        np.cross(nodes[:, None, :], total.transpose(0, 2, 1)).sum(axis=0)
        + (loads[:, 3:] + solved.reactions[:, 3:]).sum(axis=0).T
    )
    assert np.abs(arms).max() < 1e-2
    work = np.einsum("nic,nid->cd", loads, solved.u)
    assert work[0, 1] == pytest.approx(work[1, 0], rel=1e-8)  # Betti
    assert frame.strain_energy(solved.u[:, :, 0]).sum() == pytest.approx(work[0, 0] / 2, rel=1e-8)  # Clapeyron
    turn, _ = np.linalg.qr(rng.normal(size=(3, 3)))
    turn *= np.sign(np.linalg.det(turn))
    both = np.kron(np.eye(2), turn)
    again = solve(frame_of(nodes @ turn.T, ends, Round(30, 2)), held, np.einsum("ij,njc->nic", both, loads))
    assert np.allclose(again.u, np.einsum("ij,njc->nic", both, solved.u), rtol=1e-7, atol=1e-9)


def test_band_and_sparse_agree(monkeypatch: pytest.MonkeyPatch) -> None:
    rng = np.random.default_rng(3)
    nodes = rng.uniform(0, 2000, (30, 3))
    ends = [[i, i + 1] for i in range(29)] + [[i, (i + 7) % 30] for i in range(30)]
    frame = frame_of(nodes, ends)
    loads = load_at(frame, 17, 10, 20, 30)
    banded = solve(frame, held_at(frame, 0), loads).u
    monkeypatch.setattr(factor, "BAND_LIMIT", 0)
    assert np.allclose(solve(frame, held_at(frame, 0), loads).u, banded, rtol=1e-9, atol=1e-12)


@pytest.mark.parametrize("limit", [6_000_000, 0])
def test_a_mechanism_is_named_and_shown_not_solved(limit: int, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(factor, "BAND_LIMIT", limit)
    nodes = [[0, 0, 0], [0, 0, 500], [800, 0, 500], [800, 0, 0]]
    frame = frame_of(nodes, [[0, 1], [1, 2], [2, 3]], pinned=[[True, True]] * 3)
    with pytest.raises(MechanismError, match=r"N[12] can move") as caught:
        solve(frame, held_at(frame, 0, 3), load_at(frame, 1, 1.0))
    motion = caught.value.motion
    stretch = [(motion[b, :3] - motion[a, :3]) @ (frame.nodes[b] - frame.nodes[a]) for a, b in frame.ends]
    assert np.abs(stretch).max() < 1e-3  # no bar of it changes length
    assert np.linalg.norm(motion[:, :3], axis=1).max() == pytest.approx(1)


def test_two_pieces_and_a_tube_without_length_are_refused_by_name() -> None:
    apart = frame_of([[0, 0, 0], [1, 0, 0], [5, 5, 5], [6, 5, 5]], [[0, 1], [2, 3]])
    with pytest.raises(Problem, match="2 pieces: N2, N3 are not joined"):
        solve(apart, held_at(apart, 0), load_at(apart, 1, 1.0))
    with pytest.raises(Problem, match="tube 1 has no length"):
        frame_of([[0, 0, 0], [100, 0, 0], [100, 0, 0]], [[0, 1], [1, 2]])


def test_twist_rig_on_one_torsion_tube_is_gj_over_l() -> None:
    """A tube along x with stiff cross arms at both ends: K = GJ/L, the front hold feels nothing."""
    arm, length = 200.0, 1500.0
    nodes = [[0, arm, 0], [0, 0, 0], [0, -arm, 0], [-length, arm, 0], [-length, 0, 0], [-length, -arm, 0]]
    frame = frame_of(nodes, [[1, 4], [0, 1], [1, 2], [3, 4], [4, 5]])
    stiff = np.array([1.0, 1e5, 1e5, 1e5, 1e5])
    frame = Frame(
        **{
            **{f: getattr(frame, f) for f in frame.__dataclass_fields__},
            "i_y": frame.i_y * stiff,
            "i_z": frame.i_z * stiff,
            "j": frame.j * stiff,
            "shear_area_y": frame.shear_area_y * stiff,
            "shear_area_z": frame.shear_area_z * stiff,
        }
    )
    rig = Rig(frame, {"front left": (0,), "front right": (2,), "rear left": (3,), "rear right": (5,)})
    result = twist_test(rig, 5.0 * 2 * arm)
    assert result.stiffness == pytest.approx(G * Round(38, 2).properties(0.3).j / length, rel=1e-4)
    assert result.front_reaction == pytest.approx(0, abs=1e-6)
    assert result.track == pytest.approx(2 * arm)
    with pytest.raises(Problem, match="are not left"):
        twist_test(Rig(frame, {**rig.corners, "front left": (2,), "front right": (0,)}), 1.0)


def test_deflected_line_of_a_cantilever_is_its_cubic() -> None:
    frame = frame_of([[0, 0, 0], [600, 0, 0]], [[0, 1]], shear=False)
    u = solve(frame, held_at(frame, 0), load_at(frame, 1, 0, 0, -50.0)).u[:, :, 0]
    share = np.linspace(0, 1, 5)
    x = 600 * share
    line = moved(frame, u, 3.0, np.zeros(5, dtype=int), share)
    i = Round(38, 2).properties(0.3).i_y
    assert line[:, 2] == pytest.approx(-3 * 50 * x**2 * (3 * 600 - x) / (6 * E * i), abs=1e-9)
    assert line[-1, 0] == pytest.approx(0, abs=1e-9)
