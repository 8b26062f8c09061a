"""Section properties against integration over a fine grid and against closed forms."""

import math

import numpy as np
import pytest

from ironcage.core.calc.sections import Angle, AnySection, Rect, Round
from ironcage.core.job.shelf.library import library
from ironcage.problem import Problem


def integrated(section: AnySection) -> tuple[float, float, float, float]:
    """Area and second moments (y, z, product) by counting cells of a fine grid."""
    width, height = section.size
    n = 1600
    cell_y, cell_z = width / n, height / n
    y, z = np.meshgrid((np.arange(n) + 0.5) * cell_y - width / 2, (np.arange(n) + 0.5) * cell_z - height / 2)
    if isinstance(section, Round):
        r = np.hypot(y, z)
        inside = (r <= section.od_mm / 2) & (r >= section.od_mm / 2 - section.wall_mm)
    elif isinstance(section, Rect):

        def filled(half_y: float, half_z: float, corner: float) -> np.ndarray:
            beyond_y, beyond_z = np.abs(y) - (half_y - corner), np.abs(z) - (half_z - corner)
            in_corner = (beyond_y > 0) & (beyond_z > 0)
            return np.where(
                in_corner, np.hypot(beyond_y, beyond_z) <= corner, (np.abs(y) <= half_y) & (np.abs(z) <= half_z)
            )

        t = section.wall_mm
        inside = filled(width / 2, height / 2, section.corner_mm) & ~filled(
            width / 2 - t, height / 2 - t, max(section.corner_mm - t, 0)
        )
    else:
        inside = (y + width / 2 <= section.wall_mm) | (z + height / 2 <= section.wall_mm)
    y, z, cell = y[inside], z[inside], cell_y * cell_z
    y, z = y - y.mean(), z - z.mean()
    return len(y) * cell, float((z**2).sum()) * cell, float((y**2).sum()) * cell, float((y * z).sum()) * cell


@pytest.mark.parametrize(
    "section", [Round(38, 2), Round(12, 6), Rect(40, 60, 3), Rect(40, 20, 2, 3), Rect(30, 30, 2, 1)]
)
def test_area_and_second_moments_are_those_of_the_shape(section: AnySection) -> None:
    p = section.properties(0.3)
    area, i_y, i_z, _ = integrated(section)
    assert (p.area, p.i_y, p.i_z) == pytest.approx((area, i_y, i_z), rel=3e-3)


@pytest.mark.parametrize("section", [Angle(25, 25, 3), Angle(30, 50, 4)])
def test_an_angle_bends_about_its_principal_axes(section: Angle) -> None:
    p = section.properties(0.3)
    area, i_y, i_z, i_yz = integrated(section)
    principal, axes = np.linalg.eigh([[i_y, -i_yz], [-i_yz, i_z]])
    assert p.area == pytest.approx(area, rel=3e-3)
    assert sorted((p.i_y, p.i_z)) == pytest.approx(list(principal), rel=3e-3)
    about_major = np.array([math.cos(p.tilt), math.sin(p.tilt)])
    assert abs(about_major @ axes[:, 1]) == pytest.approx(1, abs=3e-3)


def test_torsion_and_shear_against_closed_forms() -> None:
    assert Round(38, 2).properties(0.3).j == pytest.approx(math.pi / 2 * (19**4 - 17**4))
    # Bredt-Batho: 4 A² t / s on the mid-line of a sharp 40 x 60 x 3 box
    assert Rect(40, 60, 3).properties(0.3).j == pytest.approx(4 * (37 * 57) ** 2 * 3 / (2 * (37 + 57)))
    # Cowper 1966: thin square box 20(1+ν)/(48+39ν); thin round tube 2(1+ν)/(4+3ν); solid bar 6(1+ν)/(7+6ν)
    box, tube, bar = Rect(40, 40, 0.5).properties(0.3), Round(50, 0.05).properties(0.3), Round(20, 10).properties(0.3)
    assert box.shear_area_z / box.area == pytest.approx(20 * 1.3 / (48 + 39 * 0.3))
    assert tube.shear_area_y / tube.area == pytest.approx(2 * 1.3 / (4 + 3 * 0.3), rel=1e-4)
    assert bar.shear_area_y / bar.area == pytest.approx(6 * 1.3 / (7 + 6 * 0.3))


@pytest.mark.parametrize(
    ("make", "says"),
    [
        (lambda: Round(38, 20), "over half its size"),
        (lambda: Round(-1, 1), "cannot have outside diameter"),
        (lambda: Rect(40, 20, float("nan")), "cannot have wall"),
        (lambda: Rect(40, 20, 2, 30), "corner radius"),
    ],
)
def test_a_section_that_cannot_be_is_refused(make, says: str) -> None:
    with pytest.raises(Problem, match=says):
        make()


def test_the_library_holds_what_people_buy() -> None:
    shelf = library()
    assert len(shelf.sections) >= 80
    assert len(shelf.materials) >= 8
    assert {s.shape.kind for s in shelf.sections} == {"round", "rect", "angle"}
    assert {s.series for s in shelf.sections} >= {"metric", "inch", "pipe"}
    for m in shelf.materials:
        assert m.source, m.name
        assert m.as_welded_yield <= m.yield_strength
        assert 0.2 < m.poisson < 0.4, m.name
    pipes = {s.name: s.shape for s in shelf.sections if s.series == "pipe"}
    assert any(
        shape.od_mm == pytest.approx(33.4, abs=0.05) and shape.wall_mm == pytest.approx(3.38, abs=0.02)
        for shape in pipes.values()
    )  # 1 in sch 40


@pytest.mark.parametrize(
    ("width", "height", "torsion", "twist"), [(20, 20, 0.1406, 0.208), (20, 40, 0.229, 0.246), (10, 100, 0.313, 0.313)]
)
def test_a_solid_bar_twists_as_the_tables_say(width: float, height: float, torsion: float, twist: float) -> None:
    """Timoshenko's table of k₁ and k₂: J = k₁·b·t³, τ = T/(k₂·b·t²); area and bending those of a plain rectangle."""
    bar = Rect(width, height, width / 2)
    p = bar.properties(0.3)
    assert (p.area, p.i_y) == (pytest.approx(width * height), pytest.approx(width * height**3 / 12))
    assert p.j == pytest.approx(torsion * height * width**3, rel=3e-3)
    assert bar.fibres().twist == pytest.approx(twist * height * width**2, rel=3e-3)
