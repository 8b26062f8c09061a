"""Holes found in patches of a scan, with noise and with what is not the hole, against what they were made as."""

import numpy as np
import pytest

from ironcage.core.calc.solids.convex import rotation
from ironcage.core.calc.solids.roundfits import fit_round
from ironcage.core.calc.solids.triangles import Triangles, welded
from ironcage.problem import Problem
from tests.core.meshes import ball_corners

TURN, AT = rotation(0.4, -0.3, 0.2), np.array([-800.0, 120, 340])


def drilled(radius: float, deep: float, noise: float = 0.0) -> Triangles:
    """The wall of a hole and the face round its mouth, out to twice its radius; turned and moved."""
    n = 60
    turn = np.linspace(0, 2 * np.pi, n + 1)
    turn[-1] = 0.0
    rings = [(radius, z) for z in np.linspace(-deep, 0, 7)] + [(radius * s, 0.0) for s in np.linspace(1.15, 2.0, 6)]
    grid = np.array([np.column_stack([r * np.cos(turn), r * np.sin(turn), np.full(n + 1, z)]) for r, z in rings])
    grid[:, :-1] += np.random.default_rng(3).normal(0, noise, grid[:, :-1].shape) if noise else 0.0
    grid[:, -1] = grid[:, 0]
    a, b, c, d = grid[:-1, :-1], grid[1:, :-1], grid[1:, 1:], grid[:-1, 1:]
    tris = np.concatenate([np.stack([a, b, c], 2).reshape(-1, 3, 3), np.stack([a, c, d], 2).reshape(-1, 3, 3)])
    return welded((tris @ TURN.T + AT).astype(np.float32))


@pytest.mark.parametrize(("noise", "close"), [(0.0, 0.02), (0.05, 0.06)])
def test_a_drilled_hole_is_found_with_its_axis_and_its_residual(noise: float, close: float) -> None:
    mesh = drilled(9.0, 25.0, noise)
    found = fit_round(mesh, AT + TURN @ [0, 0, -10.0], 15.0)
    assert found.kind == "cylinder"
    assert found.radius == pytest.approx(9.0, abs=close + 0.02)
    assert abs(found.axis @ TURN[:, 2]) == pytest.approx(1, abs=2e-3)
    off = found.centre - AT
    assert np.linalg.norm(off - (off @ TURN[:, 2]) * TURN[:, 2]) < close
    assert found.residual == pytest.approx(noise, abs=0.02)


def test_a_hole_in_a_thin_skin_is_a_circle_through_its_free_edge() -> None:
    mesh = drilled(9.0, 25.0)
    local = (mesh.points.astype(float) - AT) @ TURN
    skin = Triangles(mesh.points, mesh.faces[(local[mesh.faces][:, :, 2] > -0.01).all(axis=1)])
    found = fit_round(skin, AT, 13.0)
    assert found.kind == "circle"
    assert found.radius == pytest.approx(9.0, abs=0.01)
    assert found.centre == pytest.approx(AT, abs=0.01)
    assert found.residual < 0.01


def test_where_nothing_is_or_nothing_round_it_is_told() -> None:
    with pytest.raises(Problem, match="0 facets"):
        fit_round(drilled(9.0, 25.0), AT + 500, 10.0)

    with pytest.raises(Problem, match="Nothing round"):
        fit_round(_sheet(), np.zeros(3), 30.0)


def _sheet() -> Triangles:
    """A flat sheet far larger than the patch."""
    x = np.linspace(-100, 100, 41)
    gx, gy = np.meshgrid(x, x, indexing="ij")
    grid = np.stack([gx, gy, np.zeros_like(gx)], axis=2)
    a, b, c, d = grid[:-1, :-1], grid[1:, :-1], grid[1:, 1:], grid[:-1, 1:]
    return welded(
        np.concatenate([np.stack([a, b, c], 2).reshape(-1, 3, 3), np.stack([a, c, d], 2).reshape(-1, 3, 3)]).astype(
            np.float32
        )
    )


def test_a_line_of_sight_meets_the_surface_it_sees() -> None:
    tree = welded(ball_corners(100.0, 96)).tree
    hit = tree.hit(np.array([500.0, 10, 20]), np.array([-1.0, 0, 0]))
    assert hit == pytest.approx([np.sqrt(100**2 - 500), 10, 20], abs=0.3)
    assert tree.hit(np.array([500.0, 150, 0]), np.array([-1.0, 0, 0])) is None
