"""A tube end among several others: where each line of its wall leaves all that it meets, against a march along the
line that asks of each place whether it is inside any of them."""

import math
from itertools import compress

import numpy as np
import pytest

from ironcage.core.calc.sections import Round
from ironcage.core.calc.tubes import cope
from ironcage.core.calc.tubes.ends import TubeEnd, cut_ends
from ironcage.core.calc.tubes.receivers import Plane, Prism, Stub

REACH, STEP = 400.0, 0.25


def frame(direction: np.ndarray) -> np.ndarray:
    """Axes (3, 3) with x along a direction."""
    x = direction / np.linalg.norm(direction)
    y = np.cross([0.3, -0.2, 0.9], x)
    y /= np.linalg.norm(y)
    return np.stack([x, y, np.cross(x, y)])


def within(places: np.ndarray, start: np.ndarray, way: np.ndarray, radius: float, *, begins: bool) -> np.ndarray:
    """Whether places (n, 3) are inside a round tube, one that begins at its start or goes on to both sides."""
    along = (places - start) @ way
    across = np.linalg.norm(places - start - along[:, None] * way, axis=1)
    return (across < radius) & ((along > 0) | (not begins))


def last_inside(origin: np.ndarray, into: np.ndarray, tubes: list) -> float | None:
    """The furthest place along a line that is inside any tube, mm."""
    steps = np.arange(REACH, -REACH, -STEP)

    def inside(t: np.ndarray) -> np.ndarray:
        places = origin + t[:, None] * into
        return np.any([within(places, *tube, begins=n > 0) for n, tube in enumerate(tubes)], axis=0)

    hits = np.flatnonzero(inside(steps))
    if not hits.size:
        return None
    low, high = steps[hits[0]], steps[hits[0]] + STEP
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if inside(np.array([middle]))[0] else (low, middle)
    return float(low)


@pytest.mark.parametrize("seed", range(40))
def test_every_line_of_the_wall_ends_where_it_leaves_the_last_of_several_tubes(seed: int) -> None:
    rng = np.random.default_rng(seed)
    joint = rng.uniform(-500, 500, 3)
    ways = rng.normal(size=(4, 3))
    ways /= np.linalg.norm(ways, axis=1)[:, None]
    if np.abs(np.triu(ways @ ways.T, 1)).max() > math.cos(math.radians(18)):
        ways = np.linalg.qr(ways[:3].T)[0].T[[0, 1, 2, 2]] * np.array([[1], [1], [1], [-1]])
    radii = rng.uniform(9, 26, 4)
    tubes = [(joint + rng.uniform(-4, 4, 3), ways[n], radii[n]) for n in (1, 2, 3)]
    prisms = [Prism(at, frame(way), Round(2 * r, 2.0).contour) for at, way, r in tubes]
    others = tuple(Stub(p, at, way) for p, (at, way, _) in zip(prisms[1:], tubes[1:], strict=True))
    section, axes = Round(2 * radii[0], 1.8), frame(ways[0])
    made = cut_ends([TubeEnd(section, axes, joint, 1.0, prisms[0], others)], 24)[0]
    profile, met = made.profile, [tubes[0], *compress(tubes[1:], made.trims)]
    _, points, _ = section.contour.lines(24)
    landed = 0
    for point, distance in zip(points, profile.outer, strict=True):
        true, of_all = (last_inside(joint + point @ axes[1:], ways[0], some) for some in (met, tubes))
        if true is not None:
            landed += 1
            assert distance == pytest.approx(true, abs=0.01)
            assert of_all is not None
            assert of_all - true < 0.05 + 0.01  # what is not cut to would take off less than a file
    assert landed
    assert profile.shoulder >= profile.outer.max() - 0.01


def test_a_tube_and_its_mirror_image_are_cut_to_the_plane_between_them() -> None:
    """Two braces from one side of a cross tube at y = 0, 20° to each other: past the cross tube each stops at y = 0."""
    lean = math.radians(10)
    way = np.array([math.cos(lean), math.sin(lean), 0.0])
    section, axes = Round(30.0, 2.0), frame(way)
    main = Prism(np.zeros(3), frame(np.array([0.0, 1.0, 0.0])), Round(40.0, 2.0).contour)
    between = Plane(np.zeros(3), np.array([0.0, 1.0, 0.0]))
    made = cut_ends([TubeEnd(section, axes, np.zeros(3), 1.0, main, (between,))])[0]
    profile = made.profile
    assert made.trims == (True,)
    _, points, _ = section.contour.lines(cope.LINES)
    ends = points @ axes[1:] + profile.outer[:, None] * way
    assert ends[:, 1].min() == pytest.approx(0.0, abs=1e-6)
    assert profile.shoulder == pytest.approx(15 / math.tan(lean), abs=1e-3)  # where its inner side meets the plane
    past = ends[:, 1] > 1e-6
    assert np.hypot(ends[past, 0], ends[past, 2]) == pytest.approx(20.0, abs=1e-6)  # the rest on the cross tube
