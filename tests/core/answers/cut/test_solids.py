"""The surfaces of cut pieces: closed, as heavy as their tube, and lying on what they are cut to."""

import math
from collections import Counter
from collections.abc import Callable

import numpy as np
import pytest
from scipy.integrate import quad

from ironcage.core.answers.cut.pieces import answer
from ironcage.core.answers.cut.solids import tube_of_chord
from ironcage.core.answers.cut.surfaces import piece_shell
from ironcage.core.calc.tubes.flats import flat_width, pressed, pressed_width
from ironcage.core.calc.tubes.shells import Shell
from ironcage.core.job.values.model import Job
from ironcage.samples import SAMPLES, sample
from tests.core.lines import typed


def is_closed(shell: Shell) -> bool:
    """Whether every edge has a triangle on both sides, that run it in opposite directions."""
    _, place = np.unique(np.round(shell.points, 6), axis=0, return_inverse=True)
    corners = place.ravel()[shell.triangles]
    edges = np.concatenate([corners[:, [0, 1]], corners[:, [1, 2]], corners[:, [2, 0]]])
    count = Counter(map(tuple, edges[edges[:, 0] != edges[:, 1]].tolist()))
    return all(count[b, a] == n for (a, b), n in count.items())


@pytest.mark.parametrize("name", SAMPLES)
def test_every_piece_of_a_demo_is_closed_and_as_heavy_as_its_tube(name: str) -> None:
    job = sample(name)
    for piece in answer(job).pieces:
        shell = piece_shell(job, piece, 180)
        assert is_closed(shell), piece.id
        assert np.allclose(np.linalg.norm(shell.normals, axis=1), 1)
        heavy = shell.volume * job.material(piece.material).density * 1e-9
        assert heavy == pytest.approx(piece.mass, rel=0.04), piece.id  # cut square through the wall, folds left whole
        assert len(tube_of_chord(job, piece)) == shell.chord.max() + 1


def test_a_piece_that_is_cut_square_is_a_plain_tube() -> None:
    job = typed(Job(), "joint 0 0 300 alone", "joint -700 0 300 alone", chosen=())
    job = typed(job, "tube J1 J2 38 x 2")
    shell = piece_shell(job, answer(job).pieces[0], 360)
    assert shell.volume == pytest.approx(math.pi * (19**2 - 17**2) * 700, rel=2e-4)
    assert shell.points[:, 0].min() == pytest.approx(-700)
    assert shell.points[:, 0].max() == pytest.approx(0)


def test_a_cope_lies_on_the_tube_that_it_lands_on() -> None:
    """A brace at 50° onto a rail along the car: the rim of its outer wall is as far from the rail's axis as that is
    thick, or further where the cut, square through the wall, clears the rail by its inner edge."""
    job = typed(
        Job(), "joint 0 0 300 alone", "joint -900 0 300 alone", "joint -450 0 300 alone", "joint -50 0 780 alone"
    )
    job = typed(job, "tube J1 J3 45 x 2.5", "tube J3 J2 45 x 2.5", "tube J3 J4 30 x 1.5", chosen=())
    piece = next(p for p in answer(job).pieces if p.section.name.startswith("30"))
    shell = piece_shell(job, piece, 360)
    off = np.hypot(shell.points[:, 1], shell.points[:, 2] - 300)
    assert off.min() == pytest.approx(22.5, abs=0.01)
    assert is_closed(shell)


def test_an_angle_is_closed_at_both_ends() -> None:
    job = typed(Job(), "joint 0 0 300 alone", "joint -500 0 300 alone")
    job = typed(job, "tube J1 J2 30 x 30 x 3 angle")
    shell = piece_shell(job, answer(job).pieces[0])
    assert is_closed(shell)
    assert shell.volume == pytest.approx((30 * 3 + 27 * 3) * 500, rel=1e-9)


def worked(size: str, *lines: str) -> Shell:
    """A tube 700 mm long along the car with fittings, its surface closed and facing out."""
    job = typed(Job(), "joint 0 0 300 alone", "joint -700 0 300 alone", chosen=())
    job = typed(job, f"tube J1 J2 {size}")
    for line in lines:
        job = typed(job, line, chosen=("T1",))
    shell = piece_shell(job, answer(job).pieces[0], 720)
    assert is_closed(shell)
    assert np.allclose(np.linalg.norm(shell.normals, axis=1), 1)
    return shell


def through_round(half: Callable[[float], float], reach: float) -> float:
    """What a hole takes out of one wall of a tube of 38 x 2 whose length along it at a distance aside is 2 x half."""
    return float(quad(lambda a: 2 * half(a) * (math.sqrt(19**2 - a**2) - math.sqrt(17**2 - a**2)), -reach, reach)[0])


def test_holes_are_in_the_wall() -> None:
    whole, boxed = worked("38 x 2").volume, worked("40 x 30 x 2").volume
    row = worked("38 x 2", "add tube holes at 200, diameter 10, count 3, pitch 50, clock 17")
    one = through_round(lambda a: math.sqrt(25 - a * a), 5)
    assert whole - row.volume == pytest.approx(6 * one, rel=0.02)  # its edge is drawn as twice twelve straight lines
    crushed = worked("38 x 2", "add crush tube at 600, od 16, bore 10.5, shape square, clock 90")
    assert whole - crushed.volume == pytest.approx(2 * through_round(lambda _: 8, 8), rel=0.01)
    both = worked(
        "40 x 30 x 2",
        "add crush tube at 600, od 16, bore 10.5, shape square",
        "add tube holes at 200, diameter 10, clock 90, walls 1",
    )
    assert boxed - both.volume == pytest.approx(2 * 16**2 * 2 + math.pi * 5**2 * 2, rel=0.01)


def test_a_hole_in_a_bend_and_one_at_an_end_are_drawn() -> None:
    job = typed(Job(), "joint 0 0 300 alone", "joint -700 0 300 alone", chosen=())
    job = typed(job, "tube J1 J2 38 x 2", "die 38 clr 114 grip 60")
    job = typed(job, "bend -350 0 500", chosen=("T1",))
    plain_one = piece_shell(job, answer(job).pieces[0], 180)
    holed = typed(job, "add tube holes at 330, diameter 12, count 2, pitch 60, clock 30", chosen=("T1",))
    shell = piece_shell(holed, answer(holed).pieces[0], 180)
    assert is_closed(shell)
    circle = through_round(lambda a: math.sqrt(36 - a * a), 6)
    assert plain_one.volume - shell.volume == pytest.approx(4 * circle, rel=0.05)
    cut_off = worked("38 x 2", "add tube holes at 2, diameter 10, walls 1")
    assert 0 < worked("38 x 2").volume - cut_off.volume < through_round(lambda a: math.sqrt(25 - a * a), 5)


def test_slots_go_through_the_wall_on_both_sides() -> None:
    shell = worked("38 x 2", "add slot joint J1, tube T1, depth 40, thickness 4, clock 30")
    lost = worked("38 x 2").volume - shell.volume
    angle = 2 * math.asin(2.25 / 17)  # its sides run to the middle, and the plate passes inside
    assert lost == pytest.approx(2 * 40 * angle * (19**2 - 17**2) / 2, rel=0.01)
    inside = shell.points[(shell.points[:, 0] > -39.9) & (shell.points[:, 0] < -1e-6)]
    assert len(inside) == 0  # nothing but its walls, which run from the end to its foot


def test_a_flat_end_is_two_walls_thick_and_has_its_hole() -> None:
    shell = worked(
        "38 x 2",
        "add flattened end joint J1, tube T1, length 60, hole 10, past 20",
        "add flattened end joint J2, tube T1, length 60, hole 10, past 20, clock 90",
    )
    metal = math.pi * 36 * 2 * 740 - 4 * math.pi * 5**2 * 2
    assert shell.volume == pytest.approx(metal, rel=0.005)
    for joint, tall, wide in ((0.0, 2, 1), (-700.0, 1, 2)):  # the second is turned by a quarter
        away = (shell.points[:, 0] - joint) * (1 if joint == 0 else -1)
        flat = shell.points[away > -39.9]
        assert np.ptp(flat[:, tall]) == pytest.approx(4)
        assert np.ptp(flat[:, wide]) == pytest.approx(flat_width(38, 2), abs=0.01)
        assert away.max() == pytest.approx(20)
        middle = flat[np.abs(flat[:, wide] - flat[:, wide].mean()) < 5.01]
        edge = middle[(middle[:, 0] - joint) ** 2 < 15**2]
        off = np.hypot(edge[:, 0] - joint, edge[:, wide] - flat[:, wide].mean())
        assert off == pytest.approx(5, abs=0.02)


def test_half_way_to_flat_the_wall_is_as_long_as_before() -> None:
    turns = np.linspace(0, 2 * math.pi, 4001)
    outer, inner, _ = pressed(38, 2, 20, turns)
    middle = (outer + inner) / 2
    assert np.linalg.norm(np.diff(middle, axis=0), axis=1).sum() == pytest.approx(math.pi * 36, rel=1e-6)
    assert (np.ptp(outer[:, 1]), np.ptp(outer[:, 0])) == pytest.approx((20, pressed_width(38, 20)), abs=1e-4)


def test_an_insert_parts_the_wall() -> None:
    shell = worked("38 x 2", "add insert at 300, od 33.5, wall 2, depth 40, gap 3")
    assert shell.volume == pytest.approx(math.pi * 36 * 2 * 697, rel=1e-3)
    assert {-298.5, -301.5} <= set(np.round(shell.points[:, 0], 6).tolist())
