"""Pipes of mitred segments: a quarter bend against the formula of the shop, and turned bends against the solid."""

import math

import numpy as np
import pytest

from ironcage.core.answers.shared.segments import all_segments
from ironcage.core.calc.tubes.mitred import LINES, chorded, length_round, segments
from ironcage.core.exchange.drawing import Path
from ironcage.core.exchange.segments import segment_sheets
from ironcage.core.exchange.templates import MARGIN_MM
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from tests.core.lines import typed

QUARTER = np.array([[0.0, 0, 0], [200, 0, 0], [200, 200, 0]])


@pytest.mark.parametrize("joints", [1, 2, 3, 5])
def test_a_quarter_bend_is_what_the_shop_s_formula_says(joints: int) -> None:
    made = segments(QUARTER, 90.0, joints, 60.0)
    half = math.pi / 4 / joints
    between = 2 * 90 * math.tan(half)
    assert len(made) == joints + 1
    for s in made[1:-1]:
        assert (s.centre, s.first, s.second) == (pytest.approx(between), pytest.approx(half), pytest.approx(half))
        assert s.longest == pytest.approx(2 * (90 + 30) * math.tan(half))
        assert s.shortest == pytest.approx(2 * (90 - 30) * math.tan(half))
        assert s.turn == pytest.approx(0, abs=1e-9)
    assert (made[0].first, made[-1].second) == (0, 0)
    assert made[0].centre == pytest.approx(200 - 90 + 90 * math.tan(half))
    line = chorded(QUARTER, 90.0, joints)
    middle = np.array([110.0, 90, 0])
    starts, ways = line[:-1], np.diff(line, axis=0)
    ways /= np.linalg.norm(ways, axis=1)[:, None]
    off = [np.linalg.norm(np.cross(middle - a, w)) for a, w in zip(starts, ways, strict=True)]
    assert off == pytest.approx([90.0] * len(off))  # every segment touches the bend's centreline


def test_segments_of_bends_in_two_planes_meet_wall_to_wall() -> None:
    points = np.array([[0.0, 0, 0], [300, 0, 0], [300, 300, 0], [300, 300, 300]])
    line = chorded(points, 100.0, 2)
    made = segments(points, 100.0, 2, 50.0)
    for n in range(1, len(made) - 1):  # each wall line from plane to plane, by its own two planes
        a, b = line[n], line[n + 1]
        before, axis, after = ((q - p) / np.linalg.norm(q - p) for p, q in ((line[n - 1], a), (a, b), (b, line[n + 2])))
        planes = (axis + before), (axis + after)
        y = -(before - (before @ axis) * axis)
        y /= np.linalg.norm(y)  # the inside of the first turn
        z = np.cross(axis, y)
        turn = np.arange(LINES) * 2 * math.pi / LINES
        wall = 25 * (np.cos(turn)[:, None] * y + np.sin(turn)[:, None] * z)
        start = -(wall @ planes[0]) / (axis @ planes[0])
        stop = np.linalg.norm(b - a) - (wall @ planes[1]) / (axis @ planes[1])
        s = made[n]
        np.testing.assert_allclose(length_round(s.centre, s.first, s.second, s.turn, 50.0), stop - start, atol=1e-9)


def test_papers_of_a_pipe_are_as_long_as_its_segments_and_equal_ones_are_counted() -> None:
    job = typed(Job(), "place exhaust Duct pipe 60 clr 90 mitres 3 through 0 0 900; -300 0 900; -300 0 500")
    made = all_segments(job)[0]
    assert [count for _, count in made.kinds] == [1, 2, 1]
    assert made.order == (0, 1, 1, 2)
    sheets = segment_sheets(job, "duct")
    assert len(sheets) == 3
    cuts = [np.array(i.points) for i in sheets[1].items if isinstance(i, Path) and len(i.points) == LINES + 1]
    length = cuts[1][:, 1] - cuts[0][:, 1]
    segment = made.kinds[1][0]
    assert (length.max(), length.min()) == (pytest.approx(segment.longest), pytest.approx(segment.shortest))
    assert cuts[0][-1, 0] - MARGIN_MM == pytest.approx(math.pi * 60.1)
    with pytest.raises(Problem, match="is not made of segments"):
        segment_sheets(typed(job, "place exhaust Bent pipe 60 clr 90 through 0 0 900; -300 0 900; -300 0 500"), "bent")
    tight = understand("place exhaust Tight pipe 60 clr 30 mitres 3 through 0 0 900; -300 0 900; -300 0 500", job).job
    assert "nothing left on its inside" in all_segments(tight)[1].problem
