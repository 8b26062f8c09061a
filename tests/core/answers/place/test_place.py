"""Clashes, people, drives, stance and rules on real jobs, against hand-worked figures and independent roads."""

import math

import numpy as np
import pytest

from ironcage.core.answers.brief import aims as brief
from ironcage.core.answers.brief import rules
from ironcage.core.answers.findings import checks
from ironcage.core.answers.place import clashes, drives, people, placing
from ironcage.core.answers.shared.extent import extent
from ironcage.core.answers.shared.ground import ground_of
from ironcage.core.answers.shared.mass import stance, weigh
from ironcage.core.calc.solids.gaps import gaps
from ironcage.core.job import edits
from ironcage.core.job.geometry.bodies import bodies
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units.quantity import ANGLE
from tests.core.lines import typed


def near(job: Job) -> dict[frozenset[str], float]:
    return {frozenset((n.first, n.second)): n.gap for n in clashes.find_clashes(job).near}


def test_a_part_beside_a_tube_is_as_far_off_as_the_tape_says(box: Job) -> None:
    """Tube T8 crosses at x −1200, z 500, radius 15; the box's face is 40 ahead of its middle line."""
    job = typed(box, "place battery Cells box 200 x 100 x 100 at -1060 0 500", "set margin 30")
    found = {n.second: n for n in clashes.find_clashes(job).near}
    assert found["T8"].gap == pytest.approx(40 - 15)
    assert found["T8"].state == "near"
    assert found["T8"].place[0] == pytest.approx(-1172.5)
    assert near(typed(job, "x-50", chosen=(job.parts[0].id,)))[frozenset((job.parts[0].id, "T8"))] == pytest.approx(
        -25, abs=0.02
    )
    allowed = typed(job, "set touches T8", chosen=(job.parts[0].id,))
    assert frozenset((job.parts[0].id, "T8")) not in near(allowed)


def test_what_is_kept_from_before_is_what_is_worked_out_afresh(sandpiper: Job) -> None:
    """Things moved one after the other give the same distances as a plain loop over every pair."""
    job = sandpiper.but(arms=())  # whose ways are looked at in tests/core/answers/run
    for name, line in (("Battery", "z+30"), ("Silencer", "x+45"), ("Tank, 14 litres", "y-20")):
        job = typed(job, line, chosen=(edits.find_part(job, name).id,))
        clashes.find_clashes(job)
    kept = near(job)
    things = bodies(job)
    every: dict[frozenset[str], float] = {}
    for i, a in enumerate(things):
        for b in things[i + 1 :]:
            reach = clashes.REACH_MM + max(a.margin, b.margin)
            if clashes.may_touch(a, b):
                continue
            rows = [
                (s, o)
                for k, s in zip(a.labels, a.solids, strict=True)
                for m, o in zip(b.labels, b.solids, strict=True)
                if not (a.kind == "person" and b.kind == "part" and k in clashes.HELD.get(b.use, ()))
                and not (b.kind == "person" and a.kind == "part" and m in clashes.HELD.get(a.use, ()))
            ]
            gap = float(gaps([r[0] for r in rows], [r[1] for r in rows]).distance.min())
            if gap < reach:
                every[frozenset((a.id, b.id))] = gap
    assert kept.keys() == every.keys()
    for pair, gap in every.items():
        assert kept[pair] == pytest.approx(gap, abs=1e-3), pair


def test_the_demo_has_a_chain_that_fouls_a_diagonal_and_a_battery_that_cannot_come_out(sandpiper: Job) -> None:
    said = [s.what for s in checks.find_snags(sandpiper) if s.step == "place"]
    assert any("Final drive runs" in s and "T68L" in s and "at droop" in s for s in said)
    assert any(s.startswith("Battery can't slide out: T62L and T62R") for s in said)
    smaller = typed(sandpiper, "set driven teeth 28", chosen=(sandpiper.chains[0].id,))
    assert not any("T68L" in n.second and n.state == "overlap" for n in clashes.find_clashes(smaller).near)
    open_top = edits.delete(sandpiper, ["T62L"])
    assert not clashes.find_clashes(open_top).blocked


def test_knees_that_foul_the_wheel_are_clear_when_the_pedals_go_forward(sandpiper: Job) -> None:
    def knees(job: Job) -> float:
        return people.people_seated(job)[0].reading("knee to wheel").value

    bryn = sandpiper.people[0].id
    long_legs = typed(sandpiper, "set thigh 480", "set lower leg 470", chosen=(bryn,))
    assert knees(long_legs) < 0
    assert any(bryn in (n.first, n.second) and "thigh" in n.part for n in clashes.find_clashes(long_legs).clashes)
    forward = typed(long_legs, "set pedals x+90", chosen=(bryn,))
    assert knees(forward) > 25
    assert any(v.rule == "R9" and v.state == "fail" for v in rules.judge_rules(long_legs))
    assert any(v.rule == "R9" and v.state == "pass" for v in rules.judge_rules(forward))
    wheel = next(p.id for p in sandpiper.parts if p.name == "Steering wheel")
    raised = typed(
        long_legs, "z+40", chosen=(wheel,)
    )  # as in Getting started, where no more must clash at the end than at its start
    assert (
        len(clashes.find_clashes(raised).clashes)
        == len(clashes.find_clashes(sandpiper).clashes)
        < len(clashes.find_clashes(long_legs).clashes)
    )


def test_the_helmet_is_measured_from_the_line_over_both_hoops(sandpiper: Job) -> None:
    """By hand: tops of both hoops, upper surface, a line in side view, the helmet's middle less its radius."""
    bryn = people.people_seated(sandpiper)[0]
    main, front = np.array([-1620, 1340 + 22.5]), np.array([-660, 900 + 22.5])
    helmet = bryn.pose.points["helmet"][[0, 2]]
    way = (front - main) / np.linalg.norm(front - main)
    below = way[0] * (main[1] - helmet[1]) - way[1] * (main[0] - helmet[0])
    assert bryn.reading("helmet to hoop line").value == pytest.approx(below - 135, abs=1e-6)
    strap = bryn.pose.points["shoulder top"]
    assert bryn.reading("harness angle").value == pytest.approx(math.atan2(strap[2] - 870, strap[0] + 1620), abs=1e-8)


def test_snags_are_told_in_the_builders_own_units(sandpiper: Job) -> None:
    inch = typed(sandpiper, "units inch 1/16 lb")
    said = next(s.what for s in checks.find_snags(inch) if s.code == "clash")
    assert said.startswith('Final drive runs 5/8" ±1/32 into T68L')


def test_a_lap_belt_is_measured_from_the_hip_to_its_bar(sandpiper: Job) -> None:
    """By hand: a bar across at x -1290, z 255 behind and below the hip at x -1195, z 358."""
    job = typed(sandpiper, "joint -1290 245 255")
    assert people.people_seated(job)[0].reading("lap belt angle").why == "No tube has the role of lap bar."
    (left, right) = (j.id for j in job.joints[-2:])
    job = typed(job, f"tube {left} {right} 25 x 2")
    job = typed(job, "role lap bar", chosen=(job.tubes[-1].id,))
    found = people.people_seated(job)[0].reading("lap belt angle")
    bar = math.hypot(1290 - 1195, 358 - 255)  # measured to the tube's own surface on that line
    assert found.value == pytest.approx(math.atan2(358 - 255, 1290 - 1195), abs=2e-4)
    assert math.dist(found.place, people.people_seated(job)[0].pose.points["hip"]) == pytest.approx(
        bar - 12.5, abs=0.01
    )
    job = typed(job, "rule room reading lap belt angle, least 50, most 80: Lap belts 50 to 80 degrees")
    assert verdicts(job)["R16"].state == "fail"
    assert verdicts(job)["R16"].quantity is ANGLE


def test_an_elbow_knocks_against_a_part_as_against_a_tube(sandpiper: Job) -> None:
    job = typed(sandpiper, "place other Panel box 400 x 4 x 300 at -1100 505 600")
    before, after = (people.people_seated(j)[0].reading("elbow room") for j in (sandpiper, job))
    assert after.against == job.parts[-1].id
    assert after.value < before.value


def test_somebody_left_behind_is_neither_weighed_nor_in_the_way(sandpiper: Job) -> None:
    ottilie = sandpiper.people[1]
    alone = typed(sandpiper, "set aboard no", chosen=(ottilie.id,))
    assert weigh(sandpiper).car.mass - weigh(alone).car.mass == pytest.approx(ottilie.mass)
    assert not any(ottilie.id in pair for pair in near(alone))
    assert [p.aboard for p in people.people_seated(alone)] == [True, False]


def test_a_tank_is_weighed_full_or_empty(sandpiper: Job) -> None:
    tank = edits.find_part(sandpiper, "Tank, 14 litres")
    empty = typed(sandpiper, "set full no", chosen=(tank.id,))
    assert weigh(sandpiper).car.mass - weigh(empty).car.mass == pytest.approx(10.5)


def test_the_ground_comes_into_sight_where_the_line_over_the_nose_meets_it(sandpiper: Job) -> None:
    bryn = people.people_seated(sandpiper)[0]
    eyes, down = bryn.pose.points["eyes"], bryn.reading("eyes over nose").value
    assert bryn.reading("ground seen ahead").value == pytest.approx(eyes[2] / math.tan(down))
    dash = typed(sandpiper, f"place dash Board box 40 x 400 x 20 at -700 245 {eyes[2] + 5:.0f}")
    assert people.people_seated(dash)[0].reading("ground seen ahead").value is None


def test_a_reach_that_cannot_be_is_told_by_limb_and_length(sandpiper: Job) -> None:
    bryn = sandpiper.people[0]
    far = typed(sandpiper, "set pedals x+300", chosen=(bryn.id,))
    short = people.people_seated(far)[0].short
    assert set(short) == {"left leg", "right leg"}
    said = [s.what for s in checks.find_snags(far) if s.code == "can't reach"]
    assert said[0] == f"Bryn's left leg is {short['left leg']:.1f} mm too short for where it has to reach."


def test_thirty_millimetres_back_moves_the_split_by_what_the_lever_says(sandpiper: Job) -> None:
    made = stance(sandpiper)
    lever = next(v for v in made.levers if v.load.name.startswith("Engine"))
    moved = edits.move_things(sandpiper, [lever.load.id], dx=-30)
    assert weigh(moved).front_share - weigh(sandpiper).front_share == pytest.approx(-30 * lever.share_per_mm, rel=1e-9)
    assert sum(made.stance.corners) == pytest.approx(weigh(sandpiper).car.mass)


def test_the_chain_tells_its_links_its_line_and_its_gears(sandpiper: Job) -> None:
    (chain,), _ = drives.find_drives(sandpiper)
    assert chain.fit.links == 70
    assert not chain.in_line
    assert chain.mend.forward == pytest.approx(320 * math.tan(math.radians(0.4)))
    straight = typed(sandpiper, "set driven yaw 0", chosen=(chain.id,))
    assert drives.find_drives(straight)[0][0].in_line
    gear = chain.gears[0]
    rolling = math.pi * sandpiper.wheels[2].diameter / 1000
    assert gear.speed_per_1000 == pytest.approx(1000 / 60 / (14.2 * 40 / 15) * rolling)
    assert gear.torque == pytest.approx(98 * 14.2 * 40 / 15)
    apart = typed(sandpiper, "set driven x -1990", "set driven z 380", chosen=(chain.id,))
    assert "overlap" in drives.find_drives(apart)[0][0].problem


def test_the_whole_car_is_as_long_wide_and_high_as_its_furthest_parts(sandpiper: Job) -> None:
    found = extent(sandpiper)
    assert found.size[1] == pytest.approx(1300 + 215)
    assert found.size[2] == pytest.approx(1340 + 22.5)
    lifted = typed(sandpiper, "place load Slung box 100 x 100 x 40 at -1000 0 100")
    assert extent(lifted).clearance == pytest.approx(80)
    assert extent(lifted).lowest == lifted.parts[-1].id


def verdicts(job: Job) -> dict[str, rules.Verdict]:
    return {v.rule: v for v in rules.judge_rules(job)}


def test_the_house_rules_fail_where_the_demo_is_wrong_and_pass_when_it_is_mended(sandpiper: Job) -> None:
    found = verdicts(sandpiper)
    assert {name for name, v in found.items() if v.state == "fail"} == {"R10"}
    assert {name for name, v in found.items() if v.state == "not known"} == {"R14", "R15"}
    bar = [e for t in sandpiper.tubes if t.role == "harness bar" for e in t.ends]
    lower = edits.move(sandpiper, bar, dz=-110)
    assert verdicts(lower)["R10"].state == "pass"
    assert verdicts(typed(sandpiper, "tick R15 by the left knee"))["R15"].state == "pass"


@pytest.mark.parametrize(
    ("line", "state", "measured", "by"),
    [
        ("rule tube size role rail, od 40, wall 2: x", "fail", 38, -2),
        ("rule tube size role rail, od 38, wall 2.5: x", "fail", 2, -0.5),
        ("rule tube size role rail, od 60, wall 5, over 900: x", "pass", None, None),
        ("rule member role hoop brace, count 3: x", "fail", 2, -1),
        ("rule member role main hoop, count 1: x", "pass", 5, 4),
        (
            "rule brace angle role hoop brace, least 50, most 60: x",
            "fail",
            math.atan2(math.hypot(860, 100), 765),
            None,
        ),
        ("rule attachment role hoop brace, to main hoop, most 10: x", "pass", 0, 10),
        ("rule ground clearance least 170: x", "fail", None, None),
        ("rule wheels size front track, most 1300: x", "fail", 1320, -20),
        ("rule envelope size height, most 1362.5: x", "pass", 1362.5, 0),
        ("rule bend role main hoop, radius 135: x", "pass", None, None),
        ("rule member role harness bar, count 1: x", "pass", 1, 0),
    ],
)
def test_each_kind_of_rule_measures_what_it_asks(sandpiper: Job, line, state, measured, by) -> None:
    job = typed(sandpiper, "profile empty", line)
    found = rules.judge_rules(job)[0]
    assert found.state == state
    if measured is not None:
        assert found.measured == pytest.approx(measured)
    if by is not None:
        assert found.by == pytest.approx(by, abs=1e-6)
    if state == "fail":
        snag = next(s for s in checks.find_snags(job) if s.code == "rule failed")
        assert "R1" in snag.what
        assert "legal" not in snag.what


def test_aims_are_met_within_their_tolerance_and_limits_by_less(sandpiper: Job) -> None:
    aims = {a.kind: a for a in brief.answer(sandpiper).aims}
    assert aims["wheelbase"].met
    assert aims["length"].met
    assert not aims["mass"].met
    assert aims["mass"].off == pytest.approx(weigh(sandpiper).car.mass - 530)
    assert aims["power"].met is None
    longer = typed(sandpiper, "target wheelbase 2320 +- 10")
    assert {a.kind: a for a in brief.answer(longer).aims}["wheelbase"].off == pytest.approx(-10)


def test_variants_stand_beside_the_job_with_their_own_figures(sandpiper: Job) -> None:
    job = typed(sandpiper, "variant keep As drawn")
    job = typed(job, "x+100", chosen=("J1L", "J2L", "J3"))
    (beside,) = brief.answer(job).beside
    then = {f.key: f.value for f in beside.figures}
    assert then["frame mass"] == pytest.approx(weigh(sandpiper).frame.mass)
    assert weigh(job).frame.mass > then["frame mass"]


def test_an_empty_job_has_an_empty_place_and_brief() -> None:
    made = placing.answer(Job())
    assert (made.stance, made.clashes.near, made.people) == (None, (), ())
    assert brief.answer(Job()).verdicts == ()


def test_rake_follows_from_the_heights_of_the_axles_and_clearance_is_measured_on_it(box: Job) -> None:
    wheels = ("wheels front 0 600 250 dia 500 width 150", "wheels rear -1200 600 250 dia 500 width 150")
    job = typed(box, *wheels, "place battery Low box 100 x 100 x 40 at -600 0 100")
    assert extent(job).clearance == pytest.approx(80)
    done = understand("rake 2", job)
    lower = math.tan(math.radians(2)) * 1200
    assert done.name == f"Rake 2°: rear wheels {lower:.1f} mm down in the frame"
    assert done.job.wheels[2].z == pytest.approx(250 - lower)
    ground = ground_of(done.job)
    assert ground
    assert math.degrees(ground.rake) == pytest.approx(2)
    # of the box's lower edges the front one is nearer to the ground: 550 behind the front tyres, 80 over their ground
    up = 80 * math.cos(math.radians(2)) + 550 * math.sin(math.radians(2))
    assert extent(done.job).clearance == pytest.approx(up)
    assert extent(done.job).lowest == job.parts[-1].id
    back = typed(done.job, "rake 0")
    assert [w.z for w in back.wheels] == pytest.approx([250] * 4)
    with pytest.raises(Problem, match="no rear wheels"):
        understand("rake 1", typed(box, wheels[0]))
