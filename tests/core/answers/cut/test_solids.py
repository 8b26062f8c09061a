"""The surfaces of cut pieces: closed, as heavy as their tube, and lying on what they are cut to."""

import math
from collections import Counter

import numpy as np
import pytest

from ironcage.core.answers.cut.pieces import answer
from ironcage.core.answers.cut.solids import piece_shell, tube_of_chord
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
