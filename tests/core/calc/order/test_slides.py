"""Orders of putting in, replayed by a checker that slides each piece step by step."""

import numpy as np
import pytest

from ironcage.core.calc.order.slides import order_in
from ironcage.core.calc.solids.convex import rod


def bar(a, b, radius=10.0):
    return [rod(radius, np.array(a, float), np.array(b, float))]


def apart(p, q, r, s) -> np.ndarray:
    """Least distances of one segment from others (k, 3), by samples of both, so a little too large."""
    t = np.linspace(0, 1, 30)[:, None]
    one = p + t * (q - p)
    other = r[:, None] + t * (s - r)[:, None]
    return np.linalg.norm(one[None, :, None] - other[:, None], axis=3).min(axis=(1, 2))


def replayed(pieces, after, made) -> None:
    """Every piece that is said to slide in does so from far away, past what is there, after what it is cut against."""
    there: list[int] = []
    assert sorted(made.order) == list(range(len(pieces)))
    for n in made.order:
        assert after[n] <= set(there) | set(made.circle), n
        way = made.ways[n]
        others = [other for m in there for other in pieces[m]]
        if way is not None and others:
            starts, stops = (np.array([o.points[k] for o in others]) for k in (0, 1))
            balls = np.array([o.ball for o in others])
            for back in np.linspace(2000, 0, 80):
                for mine in pieces[n]:
                    gap = apart(*(mine.points - way * back), starts, stops) - mine.ball - balls
                    assert gap.min() > -1.5, (n, back)
        there.append(n)


def none(count: int) -> list[frozenset[int]]:
    return [frozenset() for _ in range(count)]


def test_a_bar_between_two_goes_in_sideways_after_them() -> None:
    pieces = [bar((0, 0, 0), (1000, 0, 0)), bar((0, 400, 0), (1000, 400, 0)), bar((500, 25, 0), (500, 375, 0))]
    after = [frozenset(), frozenset(), frozenset({0, 1})]
    made = order_in(pieces, after, [0, 0, 0])
    assert made.order[-1] == 2
    assert not made.stuck
    assert abs(made.ways[2][1]) < 0.1  # not through either of them
    replayed(pieces, after, made)


def test_a_bar_in_a_cage_goes_in_before_the_lid() -> None:
    """Bars on five sides and a lid of close bars over the sixth: what lies inside comes before one of them."""
    pieces = [bar((0, y, z), (300, y, z), 12) for z in (0, 120) for y in range(0, 201, 40)]
    pieces += [bar((x, 0, z), (x, 200, z), 12) for x in (-30, 330) for z in range(0, 121, 40)]
    pieces += [bar((0, y, z), (300, y, z), 12) for y in (-30, 230) for z in (40, 80)]
    inside = len(pieces)
    pieces.append(bar((110, 60, 60), (190, 140, 60), 12))
    rank = [p[0].points[:, 2].mean() for p in pieces]
    rank[inside] = 1000.0  # it would come last if it could
    made = order_in(pieces, none(len(pieces)), rank)
    assert made.order[-1] != inside
    assert not made.stuck
    replayed(pieces, none(len(pieces)), made)


def test_lower_pieces_come_first_where_they_may() -> None:
    pieces = [bar((0, 0, z), (500, 0, z)) for z in (300, 0, 150)]
    assert order_in(pieces, none(3), [300, 0, 150]).order == (1, 2, 0)


def test_pieces_that_are_cut_against_each_other_in_a_ring_are_named() -> None:
    pieces = [bar((0, 0, 0), (500, 0, 0)), bar((0, 100, 0), (500, 100, 0)), bar((0, 200, 0), (500, 200, 0))]
    after = [frozenset({1}), frozenset({0}), frozenset()]
    made = order_in(pieces, after, [0, 0, 0])
    assert set(made.circle) == {0, 1}
    assert len(made.order) == 3


def test_a_ring_through_a_ring_is_stuck() -> None:
    """Two closed chains linked: the last piece of either can't be slid in straight."""

    def ring(middle, u, v):
        corners = [
            np.array(middle) + 100 * (a * np.array(u) + b * np.array(v))
            for a, b in ((1, 1), (1, -1), (-1, -1), (-1, 1))
        ]
        return [rod(10.0, p, q) for p, q in zip(corners, corners[1:] + corners[:1], strict=True)]

    pieces = [ring((0, 0, 0), (1, 0, 0), (0, 1, 0)), ring((100, 0, 0), (1, 0, 0), (0, 0, 1))]
    made = order_in(pieces, none(2), [0, 1])
    assert len(made.stuck) == 1
    assert made.ways[made.order[0]] is not None


def test_it_can_be_stopped() -> None:
    def stop(share: float) -> None:
        raise InterruptedError

    with pytest.raises(InterruptedError):
        order_in([bar((0, 0, 0), (500, 0, 0))], none(1), [0], stop)
