"""A survey against closed forms, against a general solver, and with planted blunders."""

import math

import numpy as np
import pytest
from scipy.optimize import least_squares

from ironcage.core.calc.adjust.survey import Observed, adjusted
from ironcage.problem import Problem

RNG = np.random.default_rng(5)
BOX = np.array([[x, y, z] for x in (0.0, 1200.0) for y in (-300.0, 300.0) for z in (150.0, 500.0)])
PAIRS = [(i, j) for i in range(8) for j in range(i + 1, 8)]
DATUM = [(0, 0), (0, 1), (0, 2), (4, 1), (4, 2), (2, 2)]  # three, two and one coordinates of three points


def read(places, kind: str, a: int, b: int) -> float:
    if kind == "height":
        return float(places[a, 2])
    way = places[b] - places[a]
    return float(np.linalg.norm(way)) if kind == "distance" else math.atan2(way[2], math.hypot(way[0], way[1]))


def survey(true, noise: float = 0.0) -> list[Observed]:
    made = [Observed("distance", i, j, read(true, "distance", i, j), 0.5) for i, j in PAIRS]
    made += [Observed("height", i, i, read(true, "height", i, i), 0.5) for i in range(8)]
    made += [
        Observed("level", 0, 2, read(true, "level", 0, 2), 0.0005),
        Observed("level", 0, 4, read(true, "level", 0, 4), 0.0005),
    ]
    return [Observed(r.kind, r.a, r.b, r.value + noise * r.sigma * RNG.standard_normal(), r.sigma) for r in made]


def test_exact_readings_find_every_point_where_it_is() -> None:
    true = BOX + RNG.normal(0, 3, BOX.shape)
    true[0], true[4, 1:], true[2, 2] = BOX[0], BOX[4, 1:], BOX[2, 2]
    found = adjusted(BOX, survey(true), DATUM)
    assert found.places == pytest.approx(true, abs=1e-7)
    assert found.told.all()
    assert found.judged.suspect is None
    assert found.spare == len(PAIRS) + 8 + 2 - (24 - 6)


def test_a_triangle_by_hand() -> None:
    """Base held, apex by two distances: x = (d1² − d2² + c²) / 2c, and its covariance by the law of errors."""
    drawn = np.array([[0.0, 0, 0], [1000.0, 0, 0], [480.0, 0, 720.0]])
    held = [(0, 0), (0, 1), (0, 2), (1, 0), (1, 1), (1, 2), (2, 1)]
    d1, d2, c = 900.0, 850.0, 1000.0
    found = adjusted(drawn, [Observed("distance", 0, 2, d1, 0.4), Observed("distance", 1, 2, d2, 0.7)], held)
    x = (d1**2 - d2**2 + c**2) / (2 * c)
    z = math.sqrt(d1**2 - x**2)
    assert found.places[2] == pytest.approx([x, 0, z], abs=1e-9)
    by_d = np.array([[d1 / c, -d2 / c], [0, 0]])  # how x and z go with the distances
    by_d[1] = [(d1 - x * d1 / c) / z, x * d2 / c / z]
    cov = by_d @ np.diag([0.4**2, 0.7**2]) @ by_d.T
    assert found.covariance[2][np.ix_([0, 2], [0, 2])] == pytest.approx(cov, abs=1e-12)
    assert found.factor is None
    assert found.judged.redundancy == pytest.approx([0, 0], abs=1e-12)
    assert not found.judged.normalised.any()


def test_adjustment_and_judgement_agree_with_another_road() -> None:
    """The places by a general least-squares solver, the judgement by taking each reading out and solving again."""
    readings = survey(BOX + RNG.normal(0, 2, BOX.shape), noise=1.0)
    found = adjusted(BOX, readings, DATUM)
    free = np.ones(24, dtype=bool)
    free[[3 * p + a for p, a in DATUM]] = False

    def left(x, used):
        places = BOX.ravel().copy()
        places[free] = x
        return [(read(places.reshape(-1, 3), r.kind, r.a, r.b) - r.value) / r.sigma for r in used]

    peer = least_squares(
        left, BOX.ravel()[free], args=(readings,), xtol=1e-15, ftol=1e-15, gtol=1e-15, x_scale="jac", jac="3-point"
    )
    assert found.places.ravel()[free] == pytest.approx(peer.x, abs=1e-6)
    assert found.factor == pytest.approx(math.sqrt(2 * peer.cost / found.spare), rel=1e-6)
    for n in (0, 11, 27, 30, 37):
        others = readings[:n] + readings[n + 1 :]
        without = least_squares(
            left, peer.x, args=(others,), xtol=1e-15, ftol=1e-15, gtol=1e-15, x_scale="jac", jac="3-point"
        )
        places = BOX.ravel().copy()
        places[free] = without.x
        r = readings[n]
        # what a reading says beyond what the others make of it is its error, to the first order
        assert found.judged.errors[n] == pytest.approx(
            r.value - read(places.reshape(-1, 3), r.kind, r.a, r.b), abs=2e-3 * r.sigma
        )
        gain = 2 * (peer.cost - without.cost)  # of the sum of squares, which is the square of the normalised residual
        assert found.judged.normalised[n] ** 2 == pytest.approx(gain, rel=2e-3, abs=1e-4)


@pytest.mark.parametrize(("n", "wrong"), [(3, 10.0), (20, -4.0), (30, 6.0), (36, 0.01)])
def test_a_planted_blunder_is_found_with_its_size(n: int, wrong: float) -> None:
    readings = survey(BOX, noise=0.3)
    r = readings[n]
    readings[n] = Observed(r.kind, r.a, r.b, r.value + wrong, r.sigma)
    judged = adjusted(BOX, readings, DATUM).judged
    assert judged.suspect == n
    assert judged.errors[n] == pytest.approx(wrong, rel=0.35)


def test_without_a_datum_the_points_are_laid_on_the_drawing_as_they_fit_it_best() -> None:
    """A frame that is as drawn but stands elsewhere, turned a little: distances alone, so nothing has moved."""
    found = adjusted(BOX, [r for r in survey(BOX) if r.kind == "distance"])
    assert found.places == pytest.approx(BOX, abs=1e-8)
    assert found.told.all()
    bent = BOX.copy()
    bent[7] += [0, 0, 6.0]
    found = adjusted(BOX, [r for r in survey(bent) if r.kind == "distance"])
    moved = found.places - BOX
    assert moved.sum(axis=0) == pytest.approx([0, 0, 0], abs=1e-6)  # of all ways to lay it, the one with least moves
    assert np.cross(BOX - BOX.mean(axis=0), moved).sum(axis=0) == pytest.approx([0, 0, 0], abs=1.0)
    assert np.linalg.norm(moved, axis=1).argmax() == 7


def test_groups_that_nothing_ties_together_are_each_laid_on_the_drawing_by_themselves() -> None:
    """As if each had been measured alone; of a pair taped across only what lies along the tape is told."""
    bent = BOX + RNG.normal(0, 1, BOX.shape)
    alone = adjusted(BOX, tapes := [r for r in survey(bent) if r.kind == "distance"])
    pair = np.array([[-500.0, -250, 150], [-500, 250, 150]])
    both = adjusted(
        np.vstack([BOX, BOX + [0, 2000, 0], pair]),
        [*tapes, *(Observed(r.kind, r.a + 8, r.b + 8, r.value, r.sigma) for r in tapes)]
        + [Observed("distance", 16, 17, 502.0, 0.5)],
    )
    assert both.told[:16].all()
    assert both.places[:8] == pytest.approx(alone.places, abs=1e-8)
    assert both.places[8:16] == pytest.approx(alone.places + [0, 2000, 0], abs=1e-8)
    assert both.told[16:].tolist() == [[False, True, False]] * 2
    assert both.places[16:, 1] == pytest.approx([-251, 251])
    assert [len(set(both.group[part].tolist())) for part in (slice(8), slice(8, 16), slice(16, 18), slice(18))] == [
        1,
        1,
        1,
        3,
    ]


def test_what_no_reading_tells_is_said_and_stays_as_drawn() -> None:
    """Heights alone tell z and nothing else; a point in no reading is told by none."""
    found = adjusted(BOX, [Observed("height", i, i, 160.0 if i < 4 else 505.0, 0.5) for i in range(7)], DATUM)
    assert found.told[:, 2].tolist() == [True] * 7 + [False]
    assert not found.told[5, :2].any()
    assert found.places[:, :2] == pytest.approx(BOX[:, :2])


def test_more_sure_by_root_two_when_read_twice() -> None:
    readings = survey(BOX)
    once, twice = (adjusted(BOX, readings * n, DATUM).covariance for n in (1, 2))
    assert once == pytest.approx(2 * twice)


def test_points_in_one_place_are_refused() -> None:
    with pytest.raises(Problem, match="in one place"):
        adjusted(np.zeros((2, 3)), [Observed("distance", 0, 1, 5.0, 0.5)])
