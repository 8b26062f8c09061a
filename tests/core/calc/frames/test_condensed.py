"""Members of many beams against closed forms, and sheets against plane elasticity."""

import math
from dataclasses import replace

import numpy as np
import pytest

from ironcage.core.calc.frames.beams import Frame, solve
from ironcage.core.calc.frames.condensed import CondensedMember, stiffness
from ironcage.core.calc.frames.membrane import Membrane
from ironcage.core.calc.tubes.centreline import Route
from ironcage.problem import Problem

E, G, AREA, SECOND, J = 210e3, 80e3, 200.0, 40e3, 80e3


def _member(
    line: np.ndarray, first: np.ndarray | None = None, second: np.ndarray | None = None, **more: object
) -> CondensedMember:
    count = len(line) - 1
    figures = np.tile([AREA, SECOND, SECOND, J, 0.0, 0.0], (count, 1))
    across = np.tile([0.0, 1.0, 0.0], (count, 1))
    return CondensedMember(
        line, figures, across, E, G, line[0] if first is None else first, line[-1] if second is None else second, **more
    )  # type: ignore[arg-type]


def _tip(k: np.ndarray, load: np.ndarray) -> np.ndarray:
    """Movement of the second end with the first held."""
    return np.asarray(np.linalg.solve(k[6:, 6:], load))


def test_a_straight_beam_in_ten_pieces_is_the_beam() -> None:
    line = np.linspace([0, 0, 0], [1000.0, 0, 0], 11)
    whole = Frame(
        line[[0, -1]],
        np.array([[0, 1]]),
        *(np.array([v]) for v in (E, G, AREA, SECOND, SECOND, J, 0.0, 0.0, 0.3)),
        pinned=np.zeros((1, 2), bool),
    )  # type: ignore[arg-type]
    np.testing.assert_allclose(stiffness(_member(line), 0.3), whole.local_stiffness[0], rtol=1e-8, atol=1e-3)


def test_a_quarter_circle_bends_and_twists_as_a_curved_cantilever_does() -> None:
    # Roark's: out of plane δ = F R³ (π/4 EI + (3π/4 − 2)/GJ); in plane, load along the tangent at the root turned: δ =
    # π F R³ / 4 EI
    radius = 500.0
    route = Route(np.array([[0, 0, 0], [radius, 0, 0], [radius, radius, 0]]), radius)
    fine = np.array([route.at(s)[0] for s in np.linspace(0, route.length, 181)])
    member = _member(fine)
    figures = np.tile([1e9, SECOND, SECOND, J, 0.0, 0.0], (180, 1))
    across = np.tile([0.0, 0.0, 1.0], (180, 1))
    k = stiffness(CondensedMember(fine, figures, across, E, G, member.first, member.second))
    axes = np.array([[1, 1, 0], [-1, 1, 0], [0, 0, math.sqrt(2)]]) / math.sqrt(2)
    out = _tip(k, np.array([0, 0, 100.0, 0, 0, 0]))
    assert out[2] == pytest.approx(
        100 * radius**3 * (math.pi / 4 / (E * SECOND) + (3 * math.pi / 4 - 2) / (G * J)), rel=2e-4
    )
    inward = axes @ np.array([100.0, 0, 0])
    moved = axes.T @ _tip(k, np.concatenate([inward, np.zeros(3)]))[:3]
    assert moved[0] == pytest.approx(math.pi * 100 * radius**3 / (4 * E * SECOND), rel=5e-4)
    # the chords that a job uses stray little from the true curve
    rough = _member(route.line)
    many = np.tile([1e9, SECOND, SECOND, J, 0.0, 0.0], (len(route.line) - 1, 1))
    coarse = _tip(
        stiffness(
            CondensedMember(route.line, many, np.tile([0, 0, 1.0], (len(many), 1)), E, G, rough.first, rough.second)
        ),
        np.array([0, 0, 100.0, 0, 0, 0]),
    )
    assert coarse[2] == pytest.approx(out[2], rel=0.02)


def test_an_eccentric_tie_bends_by_force_times_its_offset() -> None:
    # a strut landing 20 mm beside both joints: pulled apart at the joints, it also bends under F·e
    line = np.array([[0, 0, 20.0], [1000, 0, 20]])
    k = stiffness(_member(line, np.array([0, 0, 0.0]), np.array([1000.0, 0, 0])))
    tip = _tip(k, np.array([1000.0, 0, 0, 0, 0, 0]))
    assert tip[0] == pytest.approx(1000 * 1000 / (E * AREA) + 1000 * 20**2 * 1000 / (E * SECOND), rel=1e-9)
    rigid = np.concatenate(
        [
            np.cross([1e-3, 2e-3, -1e-3], p) if n % 2 == 0 else [1e-3, 2e-3, -1e-3]
            for p in ([0, 0, 0], [1000, 0, 0])
            for n in (0, 1)
        ]
    )
    assert np.abs(k @ rigid).max() < 1e-3  # a rigid turn strains nothing


def test_a_ball_end_that_lands_beside_its_joint_passes_no_moment_of_its_own() -> None:
    line = np.array([[0, 0, 20.0], [1000, 0, 0]])
    k = stiffness(_member(line, np.array([0, 0, 0.0]), pinned=(True, True)))
    way = np.array([1000, 0, -20.0]) / math.hypot(1000, 20)
    values, vectors = np.linalg.eigh(k)
    assert (np.abs(values) > 1e-3 * values.max()).sum() == 1  # all it carries is a force along itself
    assert values[-1] > 0
    assert abs(vectors[6:9, -1] @ way) / np.linalg.norm(vectors[6:9, -1]) == pytest.approx(1, abs=1e-6)


@pytest.mark.parametrize("corners", [4, 6])
def test_a_sheet_in_pure_shear_is_as_stiff_as_g_times_its_area_by_height(corners: int) -> None:
    width, height, t, poisson = 400.0, 250.0, 1.5, 0.3
    square = [[0, 0, 0], [width, 0, 0], [width, height, 0], [0, height, 0]]
    nodes = np.array(
        square if corners == 4 else [square[0], [200, 0, 0], square[1], square[2], [200, 250, 0], square[3]],
        dtype=float,
    )
    sheet = Membrane(tuple(range(corners)), t, E, poisson)
    k = np.zeros((6 * corners, 6 * corners))
    for part, freedoms in sheet.elements(nodes):
        np.add.at(k, np.ix_(freedoms, freedoms), part)
    u = np.zeros(6 * corners)
    u[0::6] = nodes[:, 1] * 1e-3  # a shear of 1e-3
    assert u @ k @ u == pytest.approx(E / (2 * (1 + poisson)) * 1e-6 * t * width * height, rel=1e-9)
    stretch = np.zeros(6 * corners)
    stretch[0::6], stretch[1::6] = nodes[:, 0] * 1e-3, -poisson * nodes[:, 1] * 1e-3
    assert stretch @ k @ stretch == pytest.approx(E * 1e-6 * t * width * height, rel=1e-9)
    spin = np.zeros(6 * corners)
    spin[0::6], spin[1::6] = -nodes[:, 1], nodes[:, 0]
    assert np.abs(k @ spin).max() < 1e-6
    np.testing.assert_allclose(k, k.T, atol=1e-9)


def test_a_panel_holds_a_bay_that_would_fold_as_hinges() -> None:
    nodes = np.array([[0, 0, 0], [400.0, 0, 0], [400, 0, 250], [0, 0, 250]])
    ends = np.array([[0, 1], [1, 2], [2, 3], [3, 0]])
    many = [np.full(4, v) for v in (E, G, AREA, SECOND, SECOND, J, 0.0, 0.0, 0.0)]
    held = np.zeros((4, 6), bool)
    held[0, :3] = held[1, [1, 2]] = held[2:, 1] = True
    held[:, 3:] = True  # nothing but the sheet then holds it square
    load = np.zeros((4, 6, 1))
    load[2, 0] = load[3, 0] = 500.0
    frame = Frame(nodes, ends, *many, pinned=np.ones((4, 2), bool))  # type: ignore[arg-type]
    with pytest.raises(Problem, match="mechanism"):
        solve(frame, held, load)
    closed = solve(replace(frame, stressed=(Membrane((0, 1, 2, 3), 1.0, E, 0.3),)), held, load)
    shear, rest = E / 2.6 * 400 / 250, closed.residual
    assert 1000 / shear < closed.u[2:, 0, 0].mean() < 1.25 * 1000 / shear  # it also bends a little in its plane
    assert rest < 1e-9
