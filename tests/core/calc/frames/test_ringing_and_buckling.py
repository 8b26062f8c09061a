"""Modes, buckling and what-ifs against closed forms and full solves."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ironcage.core.calc.frames.buckling import buckling, geometric_stiffness
from ironcage.core.calc.frames.eigen import largest
from ironcage.core.calc.frames.factor import Factor
from ironcage.core.calc.frames.layout import layout
from ironcage.core.calc.frames.rigs import rigid_motions
from ironcage.core.calc.frames.vibration import consistent_mass, modes
from ironcage.core.calc.frames.whatif import Changes, WhatIf
from ironcage.core.calc.sections import Rect, Round
from tests.core.calc.frames.test_beams import E, G, frame_of

DENSITY = 7850e-9
LENGTH = 1200.0


def _strut(count: int, way: np.ndarray, section=Round(30, 2)):  # noqa: B008
    nodes = [list(way / np.linalg.norm(way) * LENGTH * n / count) for n in range(count + 1)]
    return frame_of(nodes, [[n, n + 1] for n in range(count)], section, shear=False)


@pytest.mark.parametrize("way", [(1, 0, 0), (0, 0, 1), (1, 2, -0.5)])
@pytest.mark.parametrize(("held", "factor"), [("free end", 0.25), ("both fixed", 4.0)])
def test_struts_buckle_at_eulers_load(way: tuple[float, ...], held: str, factor: float) -> None:
    frame = _strut(16, np.array(way))
    fixed = np.zeros((17, 6), dtype=bool)
    fixed[0] = True
    if held == "both fixed":
        fixed[-1] = True
    found = buckling(frame, fixed, -np.ones(16))
    euler = math.pi**2 * E * float(frame.i_y[0]) / LENGTH**2
    assert found.factor == pytest.approx(factor * euler, rel=1e-4)
    along = np.array(way) / np.linalg.norm(way)
    assert np.abs(found.shape[:, :3] @ along).max() < 1e-6  # it goes aside, not along


def test_a_pinned_strut_buckles_within_one_in_ten_thousand_and_the_error_falls_as_it_should() -> None:
    off = []
    for count in (2, 4, 8):
        frame = _strut(count, np.array([1.0, 0, 0]), Rect(30, 50, 2))
        held = np.zeros((count + 1, 6), dtype=bool)
        held[0, :4] = True
        held[-1, 1:3] = True
        euler = math.pi**2 * E * float(min(frame.i_y[0], frame.i_z[0])) / LENGTH**2
        off.append(buckling(frame, held, -np.ones(count)).factor / euler - 1)
    assert 0 < off[2] < 1e-4
    assert off[0] / off[1] == pytest.approx(16, rel=0.1)
    assert off[1] / off[2] == pytest.approx(16, rel=0.1)


def test_a_pulled_strut_never_buckles_and_its_geometric_stiffness_knows_rigid_motion() -> None:
    frame = _strut(4, np.array([1.0, 1, 0]))
    held = np.zeros((5, 6), dtype=bool)
    held[0] = True
    assert buckling(frame, held, np.ones(4)).factor == np.inf
    k = geometric_stiffness(frame, np.ones(4))
    for n in range(4):
        pair = frame.nodes[frame.ends[n]]
        assert np.abs(k[n] @ rigid_motions(pair)[:, :3]).max() < 1e-12  # shifting it does nothing; turning it does


@pytest.mark.parametrize("way", [(1, 0, 0), (0.3, -0.4, 1)])
def test_a_free_beam_rings_as_it_should(way: tuple[float, ...]) -> None:
    """Bending: (4.73004, 7.85320)² √(EI/μ) / 2πL²; along: c/2L; twist: √(GJ/ρI_p)/2L."""
    section = Round(30, 2)
    frame = _strut(16, np.array(way), section)
    p = section.properties(E / (2 * G) - 1)
    per_mm = np.full(16, DENSITY * p.area)
    found = modes(frame, per_mm, np.zeros(17), 14)
    hz = np.array([m.hz for m in found])
    base = math.sqrt(E * p.i_y / (DENSITY * p.area * 1e-3)) / (2 * math.pi * LENGTH**2)
    for root in (4.730040745, 7.853204624):
        assert (np.abs(hz / (root**2 * base) - 1) < 1e-4).sum() == 2  # in both planes
    twist = math.sqrt(G / (DENSITY * 1e-3)) / (2 * LENGTH)
    assert np.abs(hz / twist - 1).min() < 4e-3
    assert (np.diff(hz) > -1e-6).all()


def test_masses_lower_the_pitch_and_two_on_a_light_rod_ring_as_on_a_spring() -> None:
    frame = _strut(1, np.array([1.0, 0, 0]))
    spring = E * float(frame.area[0]) / LENGTH
    found = modes(frame, np.full(1, 1e-9), np.array([2.0, 3.0]), 6)
    alone = math.sqrt(spring * 1000 * (1 / 2.0 + 1 / 3.0)) / (2 * math.pi)
    assert min(abs(m.hz / alone - 1) for m in found) < 1e-5
    bare = modes(_strut(8, np.array([1.0, 0, 0])), np.full(8, 1e-3), np.zeros(9), 1)[0].hz
    heavy = np.zeros(9)
    heavy[[0, 8]] = 20.0
    assert modes(_strut(8, np.array([1.0, 0, 0])), np.full(8, 1e-3), heavy, 1)[0].hz < bare


def test_a_beam_bends_up_and_down_or_sideways_and_a_long_box_twists() -> None:
    kinds = {m.kind for m in modes(_strut(8, np.array([1.0, 0, 0]), Rect(30, 60, 2)), np.full(8, 1e-3), np.zeros(9), 2)}
    assert kinds == {"bending", "sideways"}
    nodes, ends = [], []
    for n in range(6):
        nodes += [[400 * n, y, z] for y in (-300, 300) for z in (0, 300)]
    for n in range(6):
        a = 4 * n
        ends += [[a, a + 1], [a + 2, a + 3], [a, a + 2], [a + 1, a + 3]]
        if n < 5:
            ends += [[a + k, a + 4 + k] for k in range(4)]
    box = frame_of(nodes, ends)  # nothing braces its sides, so that it twists first of all
    assert modes(box, np.full(len(ends), 1.8e-3), np.zeros(len(nodes)), 1)[0].kind == "twist"


def test_consistent_mass_weighs_what_the_beam_weighs_however_it_lies() -> None:
    frame = frame_of([[0, 0, 0], [300, -200, 500]], [[0, 1]], Rect(20, 40, 2))
    m = consistent_mass(frame, np.full(1, 2e-3))[0]
    kg = 2e-3 * float(frame.lengths[0])
    for axis in range(3):
        shift = rigid_motions(frame.nodes)[:, axis]
        assert shift @ m @ shift == pytest.approx(kg * 1e-3)
    assert np.linalg.eigvalsh(m).min() > 0


def test_the_few_eigenvalues_of_a_large_pair_are_those_of_all() -> None:
    frame = _strut(30, np.array([1.0, 0.2, 0]))
    held = np.zeros((31, 6), dtype=bool)
    held[0] = True
    laid = layout(31, frame.global_stiffness, frame.dofs, held)
    other = -geometric_stiffness(frame, -np.linspace(1, 2, 30))
    values, vectors = largest(laid, frame.global_stiffness, other, 3)
    k, g = laid.dense(frame.global_stiffness), laid.dense(other)
    whole = np.sort(np.real(np.linalg.eigvals(np.linalg.solve(k, g))))[::-1][:3]
    assert values == pytest.approx(whole, rel=1e-6)
    assert np.abs(g @ vectors - k @ vectors * values).max() < 1e-6 * np.abs(g @ vectors).max()


def test_a_layout_puts_the_same_matrix_together_banded_and_full() -> None:
    rng = np.random.default_rng(5)
    nodes = rng.uniform(0, 900, (20, 3))
    ends = [[i, i + 1] for i in range(19)] + [[i, (i * 7 + 3) % 20] for i in range(20) if i != (i * 7 + 3) % 20]
    frame = frame_of(nodes, ends)
    held = rng.random((20, 6)) < 0.1
    laid = layout(20, frame.global_stiffness, frame.dofs, held)
    direct = np.zeros((120, 120))
    for k, d in zip(frame.global_stiffness, frame.dofs, strict=True):
        direct[np.ix_(d, d)] += k
    full = laid.dense(frame.global_stiffness)
    assert np.allclose(full, direct[np.ix_(laid.free, laid.free)], rtol=1e-9, atol=1e-6)
    band = laid.banded(frame.global_stiffness)
    assert all(np.allclose(band[d, : laid.size - d], np.diagonal(full, -d)) for d in range(laid.band + 1))
    assert set(laid.free) == set(np.flatnonzero(~held.ravel()))


def _lattice(seed: int):
    rng = np.random.default_rng(seed)
    nodes = rng.uniform(-800, 800, (14, 3))
    ends = (
        [[i, i + 1] for i in range(13)]
        + [[i, (i + 5) % 14] for i in range(14)]
        + [[i, (i + 3) % 14] for i in range(14)]
    )
    return frame_of(nodes, ends, Rect(25, 40, 2)), rng


@given(seed=st.integers(0, 200), kept=st.floats(0.0, 3.0))
@settings(max_examples=15, deadline=None)
def test_what_ifs_equal_a_full_solve_again(seed: int, kept: float) -> None:
    """A pair of members weakened, taken away or made stronger; a self-balanced pair of loads."""
    frame, rng = _lattice(seed)
    held = np.zeros((14, 6), dtype=bool)
    held[0] = True
    loads = np.zeros((84, 2))
    pair = rng.choice(14, 2, replace=False)
    way = frame.nodes[pair[1]] - frame.nodes[pair[0]]
    loads[6 * pair[0] : 6 * pair[0] + 3, 0], loads[6 * pair[1] : 6 * pair[1] + 3, 0] = way, -way
    loads[6 * 3 + 3, 1], loads[6 * 9 + 3, 1] = 1e4, -1e4
    factor = Factor(frame, held)
    whatif = WhatIf(factor, factor.solve(loads))
    changed = rng.choice(len(frame.ends), 2, replace=False)
    stiffness = frame.global_stiffness
    changes = Changes.of(
        [[(frame.dofs[n], (kept - 1) * stiffness[n]) for n in changed], [(frame.dofs[0], 0 * stiffness[0])]]
    )
    other = replace(frame, **{name: _scaled(getattr(frame, name), changed, kept) for name in ("e", "g")})
    again = Factor(other, held)
    wanted = again.solve(loads)
    got = whatif.displaced(changes, 0)
    assert got is not None
    assert np.abs(got - wanted).max() <= 1e-8 * np.abs(wanted).max()
    softer = whatif.softer(changes)
    assert softer[0] == pytest.approx(
        np.einsum("ic,ic->c", loads, wanted - whatif.u), rel=1e-7, abs=1e-9 * np.abs(wanted).max()
    )
    assert softer[1] == pytest.approx(0, abs=1e-12)


def _scaled(values: np.ndarray, rows: np.ndarray, by: float) -> np.ndarray:
    made = values.copy()
    made[rows] *= max(by, 1e-12)
    return made


def test_what_holds_the_frame_up_is_told_and_not_solved() -> None:
    frame = frame_of([[0, 0, 0], [500, 0, 0], [900, 0, 0]], [[0, 1], [1, 2]])
    held = np.zeros((3, 6), dtype=bool)
    held[0] = True
    loads = np.zeros((18, 1))
    loads[14, 0] = 10
    factor = Factor(frame, held)
    whatif = WhatIf(factor, factor.solve(loads))
    gone = Changes.of([[(frame.dofs[0], -frame.global_stiffness[0])]])
    assert whatif.softer(gone)[0, 0] == np.inf
    assert whatif.displaced(gone, 0) is None
