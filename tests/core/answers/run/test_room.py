"""The room that wheels take on their way, and how low the frame comes."""

import math

import numpy as np
import pytest

from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.run import keep_out, swept_bodies
from ironcage.core.answers.run.clearance import clearances
from ironcage.core.answers.run.corner import link_lines, runs
from ironcage.core.answers.run.inwheel import in_wheels
from ironcage.core.answers.run.tyreroom import tyre_rooms
from ironcage.core.calc.solids.outsides import outside
from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from ironcage.told import plain
from tests.core.lines import typed


def test_the_room_holds_every_place_that_a_wheel_or_a_link_takes(sandpiper: Job) -> None:
    rooms = {b.id: b for b in keep_out(sandpiper)}
    swept = swept_bodies(sandpiper)
    assert set(rooms) == {b.id for b in swept}
    tyre = next(b for b in swept if b.kind == "tyre")
    (room,) = rooms[tyre.id].solids
    every = np.concatenate([outside(solid) for solid in tyre.solids])
    assert len(tyre.solids) > 9
    rng = np.random.default_rng(3)
    for way in rng.normal(size=(40, 3)):
        assert (every @ way).max() == pytest.approx((room.points @ way).max())


def test_the_frame_comes_as_low_as_its_wheels_rise() -> None:
    job = typed(Job(), "joint -2000 300 200", "joint 100 300 400", "joint -1500 300 400", chosen=())
    job = typed(job, "wheels front 0 650 300 dia 600 width 165", "wheels rear -2000 650 300 dia 600 width 165")
    job = typed(job, "tube 40 x 2", chosen=("J1L", "J1R"))
    assert [c.which for c in clearances(job)] == ["at ride height"]
    job = typed(job, "axle rear ladder J3L", "axle rear up 60")
    rest, rear = clearances(job)
    assert (rest.height, rest.lowest) == (pytest.approx(180), "T1")
    assert rear.which == "rear at full travel up"
    assert rear.height == pytest.approx(140 * math.cos(math.atan2(60, 2000)) - 20)  # off the line under the tyres
    assert "grounds" not in {s.code for s in find_snags(job)}
    deep = typed(job, "axle rear up 220")
    snags = {s.code: plain(s.what) for s in find_snags(deep)}
    assert snags["grounds"] == "With rear at full travel up T1 is 39.9 mm under the ground."
    assert clearances(Job()) == ()


def gap_to_box(along: float, radius: float, sides: tuple[float, float], radii: tuple[float, float]) -> float:
    """From a place beside a ring, by how far along its axis and from it, to the nearest of the ring's cross-section."""
    near = np.clip(along, *sides), np.clip(radius, *radii)
    if near == (along, radius):
        return -min(along - sides[0], sides[1] - along, radius - radii[0], radii[1] - radius)
    return math.hypot(along - near[0], radius - near[1])


def test_links_that_run_into_their_own_wheel_are_found_when_its_rim_is_known(sandpiper: Job) -> None:
    assert in_wheels(sandpiper) == ()  # no rim is known
    job = typed(sandpiper, "wheels front rim 330")
    (of,) = in_wheels(job)
    run, wheel = runs(job)[0], job.wheels[0]
    found = run.found
    least = math.inf
    for i in range(0, len(found.travel), 5):
        for k in {round(v) for v in np.linspace(0, len(found.rack) - 1, 5)}:
            centre, axis = found.at(run.corner.wheel)[i, k], found.turn[i, k] @ run.corner.axis
            for line in link_lines(found):
                one, other = line.inner[i, k], line.outer[i, k]
                radius = 30.0 if line.name == "coil-over" else run.hung.link / 2
                for share in np.linspace(0, 1, 401):
                    place = one + share * (other - one) - centre
                    along = float(place @ axis)
                    away = float(np.linalg.norm(place - along * axis))
                    half = wheel.width / 2
                    off = gap_to_box(along, away, (-half, half), (165.0, wheel.diameter / 2)) - radius
                    least = min(least, off)
    assert of.gap == pytest.approx(least, abs=1.0)
    assert of.gap >= 0
    tight = typed(sandpiper, "wheels front rim 240")
    (nearer,) = in_wheels(tight)
    assert nearer.gap < of.gap
    said = {s.code: plain(s.what) for s in find_snags(tight)}
    assert said["in its wheel"].startswith(f"The front {nearer.link} ")
    assert "the rim or the tyre of its own wheel at " in said["in its wheel"]
    for line, why in (("wheels front rim 900", "no smaller than its tyre"), ("wheels rear rim 0", "")):
        if why:
            with pytest.raises(Problem, match=why):
                understand(line, sandpiper)
        else:
            assert typed(sandpiper, line).wheels[2].rim == 0


def test_links_are_held_against_brake_discs_that_steer_with_their_wheel(sandpiper: Job) -> None:
    clear = typed(sandpiper, "wheels front disc 160 in -20")
    (of,) = in_wheels(clear)
    assert of.what == "the brake disc"
    assert of.gap > 5
    near = typed(sandpiper, "wheels front disc 280 in 75")
    (nearer,) = in_wheels(near)
    assert nearer.gap < 0
    what = next(plain(s.what) for s in find_snags(near) if s.code == "in its wheel")
    assert what.startswith(f"The front {nearer.link} is ")
    assert "the brake disc of its own wheel" in what
    run, wheel = runs(near)[0], near.wheels[0]
    line = next(line for line in link_lines(run.found) if line.name == nearer.link)
    rest = int(np.abs(run.found.travel).argmin()), run.straight
    along = (line.outer[rest] - run.found.at(run.corner.wheel)[rest]) @ run.corner.axis
    away = np.linalg.norm(line.outer[rest] - run.found.at(run.corner.wheel)[rest] - along * run.corner.axis)
    own = gap_to_box(float(along), float(away), (-75.0, 0.0), (0.0, 140.0)) - run.hung.link / 2
    assert nearer.gap <= own + 1e-6  # at ride height it is no nearer than on its whole way
    assert wheel.disc == near.wheels[1].disc == 280
    for line_, why in (
        ("wheels front disc 900", "A brake disc of 900.0 mm has no room in"),
        ("wheels front disc big", "big"),
    ):
        with pytest.raises(Problem, match=why):
            plain(understand(line_, sandpiper).name)
    assert typed(near, "wheels front disc none").wheels[0].disc == 0


@pytest.mark.parametrize(("name", "end", "links"), [("skerry", "front", {"tie rod"}), ("fell-litter", "rear", set())])
def test_beams_and_live_axles_are_held_against_their_wheels_too(name: str, end: str, links: set[str]) -> None:
    job = sample(name)
    wheel = edits.left_wheel(job, end)
    roomy, tight = (typed(job, f"wheels {end} rim {share * wheel.diameter}") for share in (0.95, 0.3))
    (far,), (near,) = in_wheels(roomy), in_wheels(tight)
    assert near.gap <= far.gap
    assert far.axle == end
    if links:
        assert near.link in links
        assert "steered" in near.at or "drop arm" in near.at or near.at == "straight ahead"
    wide = edits.change_part(tight, wheel.id, width=1200.0)
    (reaches,) = in_wheels(wide)
    assert reaches.gap < 0
    assert any(s.code == "in its wheel" for s in find_snags(wide))


def test_the_room_that_a_tyre_takes_holds_it_everywhere(sandpiper: Job) -> None:
    front, rear = tyre_rooms(sandpiper)
    run, wheel = runs(sandpiper)[0], sandpiper.wheels[0]
    centre, axis = run.found.at(run.corner.wheel), run.found.turn @ run.corner.axis
    reach = np.sqrt(1 - axis[..., 0] ** 2) * wheel.diameter / 2 + np.abs(axis[..., 0]) * wheel.width / 2
    ahead = (centre[..., 0] + reach).max() - wheel.x  # of a disc that is turned so
    assert front.ahead == pytest.approx(ahead, abs=3.0)  # of 9 travels by 5 racks
    assert front.ahead <= ahead + 1e-6
    assert front.top == pytest.approx(wheel.diameter + run.hung.up, abs=10)
    assert (front.axle, rear.axle) == ("front", "rear")
    assert tyre_rooms(sandpiper.but(wishbones=(), arms=())) == ()


def test_another_tyre_leaves_a_hung_wheel_where_its_upright_has_it(sandpiper: Job) -> None:
    larger = typed(sandpiper, "tyre front 205/70R15")
    before, after = sandpiper.wheels[0], larger.wheels[0]
    assert after.diameter > before.diameter
    assert after.z == before.z  # the car stands higher; its ball joints are where they were on the upright
    kept, told = (runs(job)[0].told for job in (sandpiper, larger))
    assert told.camber == pytest.approx(kept.camber)
    assert told.scrub[20, 5] != pytest.approx(kept.scrub[20, 5], abs=1.0)
    bare = typed(sandpiper.but(wishbones=()), "tyre front 205/70R15")
    assert bare.wheels[0].z == pytest.approx(after.diameter / 2)  # one that hangs on nothing stays on the ground


def test_a_rake_takes_the_outer_ends_of_the_rear_links_along() -> None:
    job = sample("fell-litter")
    raked = typed(job, "rake 1")
    up = raked.wheels[2].z - job.wheels[2].z
    assert up == pytest.approx(-2080 * math.tan(math.radians(1)), rel=0.2)  # the frame's rear comes up
    before, after = job.live_axles[0], raked.live_axles[0]
    for name in ("lower_out", "upper_out", "rod_out", "spring_out"):
        assert getattr(after, name) == pytest.approx(np.array(getattr(before, name)) + [0, 0, up])
    front = typed(sample("sandpiper"), "rake 1")
    assert front.wishbones == sample("sandpiper").wishbones
    rocker = typed(sample("sandpiper"), "arm rear rocker J30L")
    lifted = typed(rocker, "rake 1").arms[0]
    assert lifted.spring_out == rocker.arms[0].spring_out  # on the rocker, which stays
    assert lifted.push.rod_out[2] < rocker.arms[0].push.rod_out[2]
