"""Laws that Place may not break: where the car stands, which side is which, which order, which unit."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.answers.brief import rules
from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.place import clashes, drives, people
from ironcage.core.answers.shared.extent import extent
from ironcage.core.answers.shared.mass import loads, stance, weigh
from ironcage.core.job import edits
from ironcage.core.job.edits.placed import place_of
from ironcage.core.job.geometry.bodies import bodies, part_body, placed_bodies, tube_bodies
from ironcage.core.job.store import file
from ironcage.core.job.store.journal import applied, changes
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.samples import SAMPLES, sample
from tests.core.lines import typed

SANDPIPER = sample("sandpiper").but(wheels=())


def pairs(job: Job) -> dict[frozenset[str], float]:
    return {frozenset((n.first, n.second)): n.gap for n in clashes.find_clashes(job).near}


def shifted(job: Job, by: np.ndarray) -> Job:
    """The whole car somewhere else."""
    dx, dy, dz = (float(v) for v in by)
    joints = tuple(j.but(x=j.x + dx, y=j.y + dy, z=j.z + dz, twin=None) for j in job.joints)
    wheels = tuple(w.but(x=w.x + dx, y=w.y + dy, z=w.z + dz) for w in job.wheels)

    def at(p: tuple[float, float, float]) -> tuple[float, float, float]:
        return p[0] + dx, p[1] + dy, p[2] + dz

    people_there = tuple(
        p.but(
            seat=replace(
                p.seat,
                hip=at(p.seat.hip),
                pedals=at(p.seat.pedals),
                floor=p.seat.floor + dz,
                wheel=at(p.seat.wheel) if p.seat.wheel else None,
            )
        )
        for p in job.people
    )
    parts = tuple(p.but(x=p.x + dx, y=p.y + dy, z=p.z + dz) for p in job.parts)
    chains = tuple(
        c.but(
            driving=c.driving.but(x=c.driving.x + dx, y=c.driving.y + dy, z=c.driving.z + dz),
            driven=c.driven.but(x=c.driven.x + dx, y=c.driven.y + dy, z=c.driven.z + dz),
        )
        for c in job.chains
    )
    shafts = tuple(s.but(start=at(s.start), stop=at(s.stop)) for s in job.shafts)
    return job.but(joints=joints, wheels=wheels, people=people_there, parts=parts, chains=chains, shafts=shafts)


@pytest.mark.parametrize("name", SAMPLES)
def test_distances_do_not_know_where_the_car_stands(name: str) -> None:
    job = sample(name).but(
        wishbones=(), live_axles=(), beams=(), arms=()
    )  # whose right side is the mirror of the left about y = 0
    here, there = pairs(job), pairs(shifted(job, np.array([431.0, -77.0, 52.0])))
    assert here.keys() == there.keys()
    for pair, gap in here.items():
        assert there[pair] == pytest.approx(gap, abs=0.03), pair


def mirrored(job: Job) -> Job:
    """Every part, person and drive on the other side of a frame that is the same on both."""
    parts = tuple(
        p.but(y=-p.y, yaw=-p.yaw, roll=-p.roll, slide=(p.slide[0], -p.slide[1], p.slide[2])) for p in job.parts
    )
    there = tuple(
        p.but(
            seat=replace(
                p.seat,
                hip=_flip(p.seat.hip),
                pedals=_flip(p.seat.pedals),
                wheel=_flip(p.seat.wheel) if p.seat.wheel else None,
            )
        )
        for p in job.people
    )
    chains = tuple(
        c.but(
            driving=c.driving.but(y=-c.driving.y, yaw=-c.driving.yaw, tilt=-c.driving.tilt),
            driven=c.driven.but(y=-c.driven.y, yaw=-c.driven.yaw, tilt=-c.driven.tilt),
        )
        for c in job.chains
    )
    return job.but(parts=parts, people=there, chains=chains)


def _flip(p: tuple[float, float, float]) -> tuple[float, float, float]:
    return p[0], -p[1], p[2]


def _other(name: str) -> str:
    return name[:-1] + {"L": "R", "R": "L"}[name[-1]] if name[0] == "T" and name[-1] in "LR" else name


def test_the_car_in_a_mirror_clashes_in_a_mirror(sandpiper: Job) -> None:
    """Wheels and tubes are the same on both sides; a tube's name changes its last letter."""
    both = sandpiper.but(wheels=())
    here, there = pairs(both), pairs(mirrored(both))
    for pair, gap in here.items():
        assert there[frozenset(_other(n) for n in pair)] == pytest.approx(gap, abs=0.03), pair
    assert len(here) == len(there)


def test_readings_and_loads_are_mirrored_too(sandpiper: Job) -> None:
    one, other = people.people_seated(sandpiper), people.people_seated(mirrored(sandpiper))
    for a, b in zip(one, other, strict=True):
        for r in a.readings:
            then = b.reading(r.name).value
            assert then == (None if r.value is None else pytest.approx(r.value, abs=0.03)), r.name
    left, right = stance(sandpiper.but(masses=())), stance(mirrored(sandpiper.but(masses=())))
    a, b, c, d = left.stance.corners
    assert right.stance.corners == pytest.approx((b, a, d, c))
    assert left.stance.tips_left == pytest.approx(right.stance.tips_right)


def test_a_wider_margin_finds_more_and_moves_nothing(sandpiper: Job) -> None:
    before = clashes.find_clashes(sandpiper)
    wide = sandpiper
    for p in sandpiper.parts:
        wide = edits.put_placed(wide, p.but(margin=p.margin + 25))
    after = clashes.find_clashes(wide)
    assert len(after.clashes) > len(before.clashes)
    gaps = {frozenset((n.first, n.second)): n.gap for n in after.near}
    for n in before.near:
        assert gaps[frozenset((n.first, n.second))] == pytest.approx(n.gap, abs=1e-9)


def test_what_may_touch_is_left_out_by_id_kind_or_role(sandpiper: Job) -> None:
    chain = sandpiper.chains[0]
    for words in ("engine, T68L", "engine, diagonal", "engine, tubes"):
        job = understand(f"set touches {words}", sandpiper, (chain.id,)).job
        assert not any("T68L" in p and chain.id in p for p in pairs(job)), words


@given(st.floats(-3, 3), st.floats(-1.4, 1.4), st.floats(-3, 3))
def test_a_turned_part_keeps_its_size_and_its_weight_where_its_cg_is(yaw: float, pitch: float, roll: float) -> None:
    job = edits.add_part(
        Job(),
        "Box",
        "other",
        sample("sandpiper").parts[0].shape,
        (100, 50, 400),
        10.0,
        cg=(30.0, 0.0, -20.0),
        yaw=yaw,
        pitch=pitch,
        roll=roll,
    )
    points = part_body(job.parts[0]).solids[0].points
    assert np.linalg.norm(points[0] - points[-1]) == pytest.approx(math.dist((0, 0, 0), (380, 420, 460)))
    assert points.mean(axis=0) == pytest.approx((100, 50, 400))
    assert np.linalg.norm(loads(job)[0].place - (100, 50, 400)) == pytest.approx(math.hypot(30, 20))


def test_equal_things_are_the_same_body_so_that_only_what_moved_is_measured_again(sandpiper: Job) -> None:
    moved = edits.move_things(sandpiper, [edits.find_part(sandpiper, "Battery").id], dz=5)
    before, after = bodies(sandpiper), bodies(moved)
    assert sum(a is not b for a, b in zip(before, after, strict=True)) == 1
    raised = edits.move(sandpiper, ["J12L"], dz=5)
    changed = [a.id for a, b in zip(tube_bodies(sandpiper), tube_bodies(raised), strict=True) if a is not b]
    assert set(changed) == {t.id for j in ("J12L", "J12R") for t in sandpiper.tubes_at[j]}


def test_every_placed_thing_can_be_moved_and_moved_back(sandpiper: Job) -> None:
    job = understand("shaft Half from -2300 100 295 to -2300 500 300", sandpiper).job
    job = edits.add_picture(job, "Donor", f"{'0' * 32}.png", 3000.0, 1000.0)
    for name in job.placed:
        there = edits.move_things(job, [name], dx=30, dy=-20, dz=10)
        assert place_of(there.placed[name]) == pytest.approx(np.add(place_of(job.placed[name]), (30, -20, 10)))
        back = edits.move_things(there, [name], dx=-30, dy=20, dz=-10)
        for other, thing in back.placed.items():
            assert place_of(thing) == pytest.approx(place_of(job.placed[other])), (name, other)


def test_removing_a_thing_leaves_nothing_that_names_it(sandpiper: Job) -> None:
    for name in sandpiper.placed:
        left = edits.remove_placed(sandpiper, [name])
        assert name not in left.placed
        assert all(name not in p.uses for p in left.people)
        assert file.from_text(file.to_text(left)) == left


def test_the_journal_brings_every_kind_of_thing_forward(sandpiper: Job) -> None:
    job = sandpiper
    for line in (
        "variant keep One",
        "pattern Hub 1-2 80, 2-3 80, 1-3 80 dia 8",
        "line roof z 1340",
        "shaft Half from 0 0 300 to -400 0 300",
        "rule note: Look at it",
        "target budget 9000",
        "place tank 9 at 0 0 300",
        "variant gone One",
        "pattern Hub gone",
    ):
        made = understand(line, job).job
        body = applied(job.model_dump(mode="json"), changes(job, made))
        assert Job.model_validate(body) == made, line
        job = made


def test_shares_of_levers_add_up_to_moving_everything(sandpiper: Job) -> None:
    """All loads and the frame moved by 1 mm move the CG by 1 mm: levers of loads are their share of the car."""
    made, car = stance(sandpiper), weigh(sandpiper).car.mass
    assert sum(v.height_per_mm for v in made.levers) == pytest.approx(1 - weigh(sandpiper).frame.mass / car)
    assert [v.share_per_mm for v in made.levers] == sorted((v.share_per_mm for v in made.levers), reverse=True)


def test_extent_is_the_box_round_everything_but_people(sandpiper: Job) -> None:
    found = extent(sandpiper)
    every = [b.bounds for b in (*placed_bodies(sandpiper.but(people=())), *tube_bodies(sandpiper))]
    assert found.size[0] == pytest.approx(max(b[1][0] for b in every) - min(b[0][0] for b in every))
    assert extent(sandpiper.but(people=())) == found


def test_a_rule_is_judged_alike_in_inches(sandpiper: Job) -> None:
    inch = understand("units inch decimal lb", sandpiper).job
    metric = {v.rule: (v.state, v.measured) for v in rules.judge_rules(sandpiper)}
    assert {v.rule: (v.state, v.measured) for v in rules.judge_rules(inch)} == metric
    typed = understand('rule room reading helmet to tubes, least 1.5748": x', understand("profile empty", inch).job).job
    assert typed.rules.rules[0].least == pytest.approx(40, abs=1e-3)
    angled = understand("rule room reading harness angle, least 0, most 20: x", inch).job
    assert angled.rules.rules[-1].most == math.radians(20)


@given(st.floats(-0.02, 0.02), st.floats(-0.02, 0.02), st.floats(-4, 4))
def test_a_chain_that_is_mended_as_told_is_in_line(yaw: float, tilt: float, aside: float) -> None:
    """Shaft turned by the block's move about the left bearing, wheel moved along it: worked out with places, not
    with angles."""
    job = understand("chain Final teeth 15 40 pitch 15.875 from 0 100 300 to -430 100 300", Job()).job
    chain = job.chains[0]
    chain = chain.but(driven=chain.driven.but(yaw=yaw, tilt=tilt, y=100 + aside), span=300.0, reach=120.0)
    made = drives.find_drives(job.but(chains=(chain,)))[0][0]
    axis = np.array([math.sin(yaw) * math.cos(tilt), math.cos(yaw) * math.cos(tilt), math.sin(tilt)])
    left = np.array([-430.0, 100 + aside, 300]) + 120 * axis
    right = left - 300 * axis + [made.mend.forward, 0, made.mend.up]
    straight = (left - right) / np.linalg.norm(left - right)
    assert straight == pytest.approx([0, 1, 0], abs=2e-4)
    assert made.mend.along == pytest.approx(-aside, abs=1e-9)


@given(
    st.floats(-2000, 200),
    st.floats(-500, 500),
    st.floats(-1.5, 1.5),
    st.floats(-1.5, 1.5),
    st.sampled_from(("box 180 x 120 x 90", "cylinder 110 x 260")),
)
def test_what_is_dropped_ends_just_clear_and_can_fall_no_further(
    x: float, y: float, yaw: float, roll: float, shape: str
) -> None:
    """Independent road: below where it rests the next millimetre is inside a margin, above it none is."""
    bare = SANDPIPER.but(parts=(), people=(), chains=())
    job = understand(f"place load Crate {shape} at {x:.1f} {y:.1f} 1900", bare).job
    name = job.parts[0].id
    job = edits.put_placed(job, job.parts[0].but(yaw=yaw, roll=roll))
    down, on = edits.drop(job, name, 100.0)
    part = down.parts[0]

    def tightest(z: float) -> float:
        there = clashes.find_clashes(down.but(parts=(part.but(z=z),)))
        low = float(part_body(part.but(z=z)).bounds[0][2]) - 100.0
        return min([low, *(n.gap - n.margin for n in there.near if name in (n.first, n.second) and n.second[0] != "W")])

    assert tightest(part.z + 0.1) > -0.05
    if on == "ground":
        assert float(part_body(part).bounds[0][2]) == pytest.approx(100, abs=0.05)
    elif not on.startswith("W"):
        assert tightest(part.z - 1.5) < 0.05
    assert part.z <= 1900


def test_a_bare_frame_that_hangs_over_its_wheels_falls_over_and_names_nothing_heavy() -> None:
    job = typed(Job(), "joint 0 300 300", "joint 900 300 300", chosen=())
    job = typed(job, "wheels front 100 650 290 dia 580 width 165", "wheels rear -2300 650 290 dia 580 width 165")
    job = typed(job, "tube 40 x 2", chosen=("J1L", "J2L"))
    snag = next(s for s in find_snags(job) if s.code == "falls over")
    assert (snag.severity, snag.where) == ("wrong", ())
