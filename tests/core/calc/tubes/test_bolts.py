"""Splayed holes and crush tubes, by hand."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.calc.tubes.bolts import BOLTS, crush_tube, splay_hole
from ironcage.problem import Problem


@given(st.floats(4, 40), st.floats(1, 6), st.floats(0, 1.2))
def test_a_leaning_shaft_just_touches_the_edges_of_its_hole(shaft: float, wall: float, lean: float) -> None:
    """By hand in the plane of the lean: the shaft's two edges, at both faces of the wall."""
    hole = splay_hole(shaft, wall, 60.0, lean)
    edges = [s * shaft / 2 / math.cos(lean) + z * math.tan(lean) for s in (-1, 1) for z in (-wall / 2, wall / 2)]
    assert hole.along == pytest.approx(max(edges) - min(edges))
    assert hole.across == shaft
    assert hole.shift == pytest.approx((60 - wall) * math.tan(lean))


def test_a_crush_tube_carries_the_clamp_of_its_bolt() -> None:
    made = crush_tube("M10", 50.0, 350.0)
    assert made.clamp == pytest.approx(
        0.75 * 580 * 58.0, rel=0.01
    )  # ISO 898-1: M10 has 58.0 mm², class 8.8 up to M16 580 MPa
    ring = math.pi / 4 * (made.least_od**2 - made.bore**2)
    assert made.clamp / ring == pytest.approx(350 / 1.5)
    assert (made.length, made.bore, made.head) == (
        50.0,
        11.0,
        pytest.approx(16 * 2 / math.sqrt(3)),
    )  # corners at most: 18.48
    for wrong in (
        lambda: crush_tube("M9", 50, 350),
        lambda: crush_tube("M10", 50, 350, "4.5"),
        lambda: crush_tube('1/2"', 50, 350, "8.8"),
        lambda: splay_hole(10, 2, 40, 1.5),
        lambda: splay_hole(10, 30, 40, 0.1),
    ):
        with pytest.raises(Problem):
            wrong()


@pytest.mark.parametrize(
    ("name", "area", "proof", "bore"),
    [("M16", 156.7, 580, 17.5), ("M20", 244.8, 600, 22), ('1/2"', 91.5, 586, 14.29), ('3/8"', 50.0, 586, 10.32)],
)  # tables of ISO 898-1 and SAE J429: 0.1419 and 0.0775 square inches
def test_stress_areas_and_proof_are_those_of_the_tables(name: str, area: float, proof: float, bore: float) -> None:
    bolt = BOLTS[name]
    assert bolt.stress_area == pytest.approx(area, rel=1e-3)
    assert next(iter(bolt.proof.values())) == proof
    assert bolt.clearance == pytest.approx(bore, abs=0.005)
