"""A live axle in a job: its points, what it passes, what is found, and refusals."""

import numpy as np
import pytest
from scipy.optimize import least_squares, minimize_scalar
from scipy.spatial.transform import Rotation

from ironcage.core.answers.findings.checks import find_snags
from ironcage.core.answers.place.clashes import find_clashes
from ironcage.core.answers.prove.cases import load_cases
from ironcage.core.answers.run import axle_reactions
from ironcage.core.answers.run.grid import travels
from ironcage.core.answers.run.liveaxle import axle_at, axle_runs
from ironcage.core.answers.run.sweep import swept_bodies
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem, plain
from ironcage.samples import sample
from tests.core.lines import typed


@pytest.fixture
def litter() -> Job:
    return sample("fell-litter")


def snags(job: Job) -> dict[str, str]:
    return {s.code: plain(s.what) for s in find_snags(job)}


def test_the_demo_has_a_track_rod_that_swings_and_a_level_one_cures_it(litter: Job) -> None:
    assert "axle goes 34.3 mm aside over its travel" in snags(litter)["axle shifts"]
    near = {frozenset((n.first, n.second)) for n in find_clashes(litter).near if n.gap < n.margin}
    assert near == {frozenset(("W4", "T25R"))}
    cured = typed(litter, "joint -2160 330 330", "axle rear lower J5L upper J6L rod J25R")
    assert "axle shifts" not in snags(cured)
    assert not [n for n in find_clashes(cured).near if n.gap < n.margin]
    (run,) = axle_runs(cured)
    rod = 630.0  # level from -330 to 300: what it swings aside at the travel's ends, and no more
    aside = rod - np.sqrt(rod**2 - np.array([70.0, 60.0]) ** 2)
    assert np.abs(run.told.curves.aside[[0, -1], run.straight]) == pytest.approx(aside, abs=0.15)


def test_links_follow_joints_and_their_lengths_are_kept(litter: Job) -> None:
    still = axle_at(litter, "rear", 40.0, 0.0)
    axle = still.run.axle
    for inner, outer, length in zip(axle.inner, axle.outer, axle.lengths, strict=True):
        assert np.linalg.norm(still.found.at(outer)[0, 0] - inner) == pytest.approx(length, abs=0.3)  # but for bind
    moved = axle_at(typed(litter, "z-30", chosen=("J5L",)), "rear", 0.0, 0.0)
    assert moved.run.axle.inner[0][2] == axle.inner[0][2] - 30
    assert axle_at(litter, "rear", 900.0, 3.0).travel == 60.0  # no further than what is typed in


def test_the_wheels_rise_by_travel_and_roll(litter: Job) -> None:
    still = axle_at(litter, "rear", 30.0, np.radians(2))
    lean = 550 * np.sin(np.radians(2))
    left, right = (still.found.at(p)[0, 0, 2] for p in (still.run.axle.left, still.run.axle.right))
    assert left == pytest.approx(317.5 + 30 + lean, abs=1e-6)
    assert right == pytest.approx(317.5 + 30 - lean, abs=1e-6)


def test_what_it_sweeps_has_both_tyres_the_housing_and_every_link(litter: Job) -> None:
    swept = {b.id: b for b in swept_bodies(litter)}
    assert {"W3", "W4", "rear axle", "rear track rod", "rear upper left link", "rear left coil-over"} <= set(swept)
    assert "at 70.0 mm down" in plain(" ".join(swept["W4"].labels))


@pytest.mark.parametrize(
    ("line", "words"),
    [
        ("axle rear lower J5L upper J5L", "Both links are hung at J5L"),
        ("axle rear lower J5R upper J6L", "J5R is on the right"),
        ("axle middle lower J5L upper J6L", "‘middle’ is no axle"),
        ("axle front lower out 0 0 0", "The front wheels are on no live axle yet"),
        ("axle rear castor 4", "The rear axle has no ‘castor 4’"),
        ("axle rear up", "Nothing was typed for up"),
        ("axle rear", "The rear axle is incomplete"),
        (
            "corner rear lower J5L J6L upper J7L J8L spring J7L",
            "The rear wheels are on a live axle. Take that out first",
        ),
    ],
)
def test_bad_lines_are_refused_in_one_sentence(litter: Job, line: str, words: str) -> None:
    with pytest.raises(Problem, match=words):
        understand(line, litter)


def test_an_axle_without_a_rod_or_with_a_joint_gone_is_told_and_loses_nothing(litter: Job) -> None:
    free = typed(litter, "axle rear lower J5L upper J6L")
    assert "leave it free to move sideways" in snags(free)["axle incomplete"]
    assert free.live_axles[0].rod_out is None
    gone = typed(litter, "delete J6L")
    assert "A link is hung at J6L, which has gone" in snags(gone)["axle incomplete"]
    assert not any(b.id == "rear axle" for b in swept_bodies(gone))
    assert typed(gone, "axle rear gone").live_axles == ()


def test_travel_that_links_can_not_reach_is_told_with_the_place(litter: Job) -> None:
    far = typed(litter, "axle rear up 400", "axle rear down 400", "axle rear roll 20")
    assert snags(far)["links lock"] == (
        "The rear links lock at 172.4 mm down, before the travel that is typed in, held by the lower links, the upper "
        "links and the track rod."
    )
    (run,) = axle_runs(far)
    assert run.limits[0] is None
    low = axle_at(far, "rear", run.limits[1] - 1, 0.0)
    assert not low.found.closed[0, 0]
    axle = run.axle

    def height(pitch: float) -> float:
        """Of the axle's middle at a pitch, where a lower link, an upper one and the rod keep their lengths."""
        turn = Rotation.from_rotvec([0, pitch, 0]).as_matrix()
        arms = (axle.outer - axle.middle) @ turn.T

        def misses(place: np.ndarray) -> np.ndarray:
            return (np.linalg.norm(arms + place - axle.inner, axis=1) - axle.lengths)[[0, 2, 4]]

        found = least_squares(misses, axle.middle + [60.0, -70, -150], xtol=1e-14, ftol=1e-14, gtol=1e-14)
        assert found.cost < 1e-12
        return float(found.x[2]) - axle.middle[2]

    pitch = Rotation.from_matrix(axle_at(far, "rear", run.limits[1], 0.0).found.poses.turn[0]).as_rotvec()[1]
    lowest = minimize_scalar(height, bounds=(pitch - 0.1, pitch + 0.1), method="bounded", options={"xatol": 1e-9})
    assert run.limits[1] == pytest.approx(lowest.fun, abs=0.1)
    assert all(np.isfinite(b.bounds).all() for b in swept_bodies(far))


@pytest.mark.parametrize(("down", "up"), [(60, 60), (70, 60), (10, 90), (0, 40), (50, 0), (1, 399)])
def test_ride_height_is_among_the_travels(down: float, up: float) -> None:
    found = travels(down, up)
    assert (found[0], found[-1], len(found)) == (-down, up, 41)
    assert 0.0 in found
    assert (np.diff(found) > 0).all()


def test_a_wheel_without_travel_is_looked_at_where_it_stands() -> None:
    assert travels(0, 0).tolist() == [0.0]


def test_prove_pushes_through_the_links_of_an_axle(litter: Job) -> None:
    told = {c.name: c for c in load_cases(litter)}
    drive = {p.what: p for p in told["acceleration"].pushes}
    assert "rear left wheel" not in drive
    assert "Prop shaft on the differential" not in drive  # it turns the axle, which its links hold
    assert {"rear lower left link", "rear upper right link", "rear track rod", "rear left coil-over"} <= drive.keys()
    assert drive["rear lower left link"].force[0] > 0 > drive["rear upper left link"].force[0]  # thrust and reaction
    links = [p for what, p in drive.items() if what.startswith("rear")]
    pickups = {c.name: c for c in load_cases(typed(litter, "axle rear gone"))}["acceleration"]
    ahead = sum(p.force[0] for p in pickups.pushes if p.what.startswith("rear"))
    assert sum(p.force[0] for p in links) == pytest.approx(ahead)
    assert told["acceleration"].applied == pytest.approx(pickups.applied, abs=1e-6)
    without = {c.name: c for c in load_cases(typed(litter, "axle rear spring none"))}["acceleration"]
    assert "rear left wheel" in [p.what for p in without.pushes]


def test_an_axle_hung_at_a_joint_on_no_tube_says_so(litter: Job) -> None:
    job = typed(litter, "joint -1700 300 250", "axle rear lower J25L upper J6L rod J7R")
    with pytest.raises(Problem, match="J25L, where a link is hung, is on no tube"):
        axle_reactions(job, "rear", np.zeros(3), np.array([0, 0, 1.0]), np.zeros(3))
