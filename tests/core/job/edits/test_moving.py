"""Stretch, turn, copy, slide and mirror, ties and crossings."""

import math
import re
from typing import get_args

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.answers import cut
from ironcage.core.answers.findings import checks
from ironcage.core.answers.frame import symmetry
from ironcage.core.answers.run.liveaxle import axle_runs
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.answers.tally import compare
from ironcage.core.job import edits
from ironcage.core.job.edits.following import settled
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.text import understand
from ironcage.core.job.values.base import XYZ, Value
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import (
    PLACES,
    AxleCarrier,
    KingpinBeam,
    LinkedAxle,
    SteeringFork,
    SwingingArms,
    Wishbones,
)
from ironcage.problem import Problem
from ironcage.samples import sample
from tests.core.lines import typed

SANDPIPER, SKERRY = sample("sandpiper"), sample("skerry")


def test_a_wheelbase_cut_by_six_inches_names_every_tube_that_shortens() -> None:
    job = typed(SKERRY, "lock 28")
    shorter = understand('stretch behind -650 by -2" without B16 D21', job).job
    told = compare.compare_jobs(job, shorter)
    assert weigh(shorter).wheelbase == pytest.approx(1050 - 50.8)
    assert told.circle == (
        pytest.approx(2 * 1050 / math.sin(math.radians(28))),
        pytest.approx(2 * 999.2 / math.sin(math.radians(28))),
    )
    assert {t.tube for t in told.longer} == {
        t.id for t in job.tubes if len({job.joint(e).x < -650 for e in t.ends}) == 2
    }
    rail = next(t for t in told.longer if job.tube(t.tube).role == "rail")
    assert rail.after - rail.before == pytest.approx(-50.8)
    moved = {p.name: p.by for p in told.things if p.by}
    assert {p.name for p in job.parts if p.id in moved} == {"Engine, 200 cm³"}
    assert all(by == pytest.approx((50.8, 0, 0)) for by in moved.values())


@given(st.floats(-1100, 200), st.floats(1, 200), st.booleans())
def test_a_stretch_taken_back_is_nothing(at: float, by: float, beyond: bool) -> None:
    try:
        there = edits.stretch(SKERRY, "x", at, by, beyond=beyond)
        back = edits.stretch(there, "x", at + (NUDGE if beyond else -NUDGE), -by, beyond=beyond)
    except Problem as problem:
        assert "plane" in problem.what or "between" in problem.what or "land on" in problem.what  # noqa: PT017
        return
    for now, before in zip(back.joints, SKERRY.joints, strict=True):
        assert now.place == pytest.approx(before.place)
    assert symmetry.find_unlike_sides(there) == symmetry.find_unlike_sides(SKERRY)


NUDGE = 0.1


def test_a_plane_through_the_engine_is_refused_with_the_nearest_that_is_clear() -> None:
    with pytest.raises(Problem) as no:
        understand("stretch behind -950 by -100", SKERRY)
    assert "The plane at x -950.0 passes through Engine, 200 cm³" in str(no.value)
    at = float(str(no.value).split(" is at x ")[1].split(";")[0])
    understand(f"stretch behind {at} by 100", SKERRY)
    gone = understand("stretch behind -950 by 100 with B17", SKERRY).job
    assert gone.placed["B17"].x == SKERRY.placed["B17"].x - 100  # type: ignore[union-attr]
    with pytest.raises(Problem, match="There is no part, person, chain, shaft or picture ‘B99’"):
        understand("stretch behind -950 by 100 with B99", SKERRY)
    with pytest.raises(Problem, match=r"Only 70\.0 mm lie between the joints on both sides of that plane"):
        understand("stretch ahead of 195 by -150 with B18", SKERRY)
    for line in ("stretch here by 3", "stretch behind -900"):
        with pytest.raises(Problem, match="The stretch is incomplete"):
            understand(line, SKERRY)


def test_a_car_is_widened_on_both_sides_and_raised_with_its_bends(box: Job) -> None:
    wide = understand("stretch outside 100 by 25", box).job
    assert {abs(j.y) for j in wide.joints} == {325.0}
    job = typed(Job(), "die 38 clr 114", "hoop main 38 x 2 height 1050 width 1100 at -1400 200")
    tall = understand("stretch above 700 by 80", job).job
    assert route_of(tall, tall.tubes[0]).line[:, 2].max() == pytest.approx(1330)
    assert tall.joint("J1L").z == 200


def test_a_head_tube_is_steepened_with_its_joints_about_one_of_them() -> None:
    job = typed(
        Job(),
        "joint 0 0 300",
        "joint 40 0 420",
        "joint -300 200 300",
        "tube J1 J2 38 x 2",
        "tube J1 J3L",
        "tube J2 J3L",
    )
    made = understand("turn -5 about y at J1", job, ("T1",)).job
    before, after = (math.atan2(j.joint("J2").x, j.joint("J2").z - 300) for j in (job, made))
    assert math.degrees(after - before) == pytest.approx(-5)
    assert made.joint("J1").place == job.joint("J1").place
    assert weigh(made).lengths[0] == pytest.approx(weigh(job).lengths[0])
    again = understand("turn 5 about J3R J3L at J1", made, ("T1",))
    assert again.job.joint("J2").place != made.joint("J2").place
    for line, says in (
        ("turn 5 about w", "is no axis"),
        ("turn 5", "is incomplete"),
        ("turn 5 about J1 J1", "give no line"),
    ):
        with pytest.raises(Problem, match=says):
            understand(line, job, ("T1",))


@given(st.sampled_from([t.id for t in SANDPIPER.tubes]), st.floats(-40, 40), st.sampled_from("xyz"))
def test_turning_keeps_lengths_within_the_group_and_the_mirror(name: str, angle: float, axis: str) -> None:
    try:
        made = understand(f"turn {angle:.3f} about {axis} at J1L", SANDPIPER, (name,)).job
    except Problem:
        return  # it would leave the centreline, or land on another joint
    row = SANDPIPER.tubes.index(SANDPIPER.tube(name))
    if not {SANDPIPER.joint(e).twin for e in SANDPIPER.tube(name).ends} & set(SANDPIPER.tube(name).ends):
        assert weigh(made).lengths[row] == pytest.approx(weigh(SANDPIPER).lengths[row])
    assert len(symmetry.find_unlike_sides(made)) == len(symmetry.find_unlike_sides(SANDPIPER))


def test_a_row_of_copies_uses_joints_that_are_there(box: Job) -> None:
    job = understand("copy 3 times x-400", box, (box.tubes_at["J1L"][0].id,)).job
    assert len(job.tubes) == len(box.tubes) + 4  # and the third row is there
    assert job.joint_by_id["J3L"].place == (-1200, 300, 200)  # the third lands on what is there
    assert len(job.joints) == len(box.joints) + 8
    assert symmetry.find_unlike_sides(job) == symmetry.find_unlike_sides(box)
    for line, says in (("copy x 0", "would be no copy"), ("copy 500 times x-1", "can't be made at once")):
        with pytest.raises(Problem, match=says):
            understand(line, box, (box.tubes[0].id,))


def test_a_pickup_slides_along_its_arm(box: Job) -> None:
    job = typed(box, "joint -100 300 250", "pickup front")
    slid = understand("slide 40", job, ("J5L",)).job
    way = np.subtract(job.joint("J1L").place, job.joint("J5L").place)
    np.testing.assert_allclose(
        np.subtract(slid.joint("J5L").place, job.joint("J5L").place), 40 * way / np.linalg.norm(way)
    )
    with pytest.raises(Problem, match="J2L has no axis of its own"):
        understand("slide 40", job, ("J2L",))


def test_one_side_is_mirrored_and_refused_where_another_tube_lies(box: Job) -> None:
    parted = typed(box, "part", chosen=("J1L", "J2L"))
    one = parted.tube_by_ends[frozenset(("J1R", "J2R"))]
    gone = edits.delete(parted, [one.id])
    assert {o.what for o in symmetry.find_unlike_sides(gone)} == {"parted, and nearly opposite"}
    left = gone.tube_by_ends[frozenset(("J1L", "J2L"))]
    back = understand("mirror", gone, (left.id,)).job
    assert back.twin_tube(left) is not None
    other = edits.change_tubes(parted, [one.id], section="38 x 2 round")
    with pytest.raises(Problem, match=f"{left.id}'s mirror would land on {one.id}, which is of another section"):
        understand("mirror", other, (left.id,))
    with pytest.raises(Problem, match="has its mirror already"):
        understand("mirror", box, (box.tubes[0].id,))


def test_what_is_not_symmetric_is_listed_with_how_far(box: Job) -> None:
    off = edits.move(edits.unpair(box, ["J1L"]), ["J1L"], dz=12.5)
    told = symmetry.find_unlike_sides(off)
    assert [(o.where, o.by) for o in told if o.by] == [(("J1L", "J1R"), pytest.approx(12.5))]
    one = edits.change_tubes(edits.unpair(box, ["J1L"]), [box.tubes[0].id], section="38 x 2 round")
    paired = edits.pair(one, "J1L", "J1R")
    assert [o.what for o in symmetry.find_unlike_sides(paired)] == ["of another section"]


def test_a_joint_tied_to_a_hole_goes_with_the_engine_and_its_mirror_too() -> None:
    job = typed(Job(), "place engine Triple box 500 x 600 x 480 at -1800 0 430", "hole foot at 200, 250, -200 dia 10")
    job = understand("joint at Triple foot", job).job
    assert job.joint("J1L").place == pytest.approx((-1600, 250, 230))
    moved = typed(job, "z+30", chosen=("B1",))
    assert moved.joint("J1R").place == pytest.approx((-1600, -250, 260))
    turned = typed(moved, "set yaw 90", chosen=("B1",))
    assert turned.joint("J1L").place[:2] == pytest.approx((-1800 - 250, 200))
    with pytest.raises(Problem, match="J1R follows hole foot of B1"):
        understand("x+5", turned, ("J1R",))
    free = understand("untie", turned, ("J1L",)).job
    assert typed(free, "z+40", chosen=("B1",)).joint("J1L").place == turned.joint("J1L").place
    gone = edits.remove_placed(turned, ["B1"])
    assert gone.joint("J1L").tie is None
    for line, says in (
        ("joint at Triple head", "has no hole ‘head’. It has foot"),
        ("joint at Pump foot", "There is no part ‘Pump’"),
    ):
        with pytest.raises(Problem, match=re.escape(says)):
            understand(line, job)


def test_a_joint_between_two_others_stays_at_its_share_and_circles_are_refused(box: Job) -> None:
    job = typed(box, "joint -400 300 350", "tie 25% between J1L J4L")
    assert job.joint("J5R").place == pytest.approx((-300, -300, 275))
    moved = edits.move(job, ["J4L"], dz=100)
    assert moved.joint("J5L").place == pytest.approx((-300, 300, 300))
    beside = typed(moved, "joint beside J5L z-40 y-10")
    assert edits.move(beside, ["J1L"], dz=-100).joint("J6L").place == pytest.approx((-300, 290, 300 - 75 - 40))
    with pytest.raises(Problem, match="nothing holds them"):
        understand("tie to J6L", beside, ("J5L",))
    assert settled(beside) is beside


def test_tubes_that_cross_get_one_joint_and_those_that_pass_say_by_how_much(box: Job) -> None:
    job = typed(box, "tube J1L J4L 25 x 1.5", "tube J2L J3L")
    one, other = (t.id for t in job.tubes[-3::2]) if len(job.tubes) > 10 else ("", "")
    one, other = (job.tube_by_ends[frozenset(p)].id for p in (("J1L", "J4L"), ("J2L", "J3L")))
    crossed = understand(f"cross {one} {other}", job)
    joint = crossed.job.joint(crossed.chosen[0])
    assert joint.place == pytest.approx((-600, 300, 350))
    assert len(crossed.job.tubes_at[joint.id]) == 4
    assert len(crossed.job.tubes_at[joint.twin or ""]) == 4
    low, high = (box.tube_by_ends[frozenset(p)].id for p in (("J1L", "J3L"), ("J2L", "J2R")))
    with pytest.raises(Problem, match=f"{low} and {high} pass 300"):
        understand(f"cross {low} {high}", box)


def test_joints_by_projection_and_on_a_tube(box: Job) -> None:
    job = understand("joint from J2L to z 100", box).job
    assert job.joint("J5R").place == (0, -300, 100)
    tube = box.tube_by_ends[frozenset(("J1L", "J3L"))].id
    on = understand(f"joint on {tube} 300 from J3L", box)
    assert on.job.joint(on.chosen[0]).place == pytest.approx((-900, 300, 200))
    beside = typed(box, "joint -500 300 200.3")
    met = understand("meet J5L", beside, (tube,)).job
    assert len(met.tubes_at["J5R"]) == 2
    with pytest.raises(Problem, match="J4L stands 300"):
        understand("meet J4L", box, (tube,))


def test_a_person_and_their_seat_chosen_together_move_once(sandpiper: Job) -> None:
    person = sandpiper.people[0]
    seat = next(u for u in person.uses if sandpiper.placed[u].kind == "seat")  # type: ignore[union-attr]
    pedals = next(u for u in person.uses if sandpiper.placed[u].kind == "pedals")  # type: ignore[union-attr]
    for chosen in ((person.id, seat), (seat, person.id), (seat, pedals, person.id)):
        moved = understand("x+25 y-40", sandpiper, chosen).job
        for name in (person.id, seat):
            off = np.subtract(edits.place_of(moved.placed[name]), edits.place_of(sandpiper.placed[name]))
            assert off == pytest.approx((25, -40, 0)), chosen
    put = understand("y 120", sandpiper, (person.id, seat)).job
    assert [edits.place_of(put.placed[n])[1] for n in (person.id, seat)] == pytest.approx([120, 120])


def test_a_chain_moves_as_a_whole(sandpiper: Job) -> None:
    chain = sandpiper.chains[0]
    moved = understand("y 205", sandpiper, (chain.id,)).job.chains[0]
    by = 205 - chain.driven.y
    assert (moved.driven.y, moved.driving.y) == (205, pytest.approx(chain.driving.y + by))


def test_a_stretch_leaves_what_was_said_to_stay() -> None:
    chain = SKERRY.chains[0]
    for word, by in (("without", 0.0), ("with", -50.0)):
        made = understand(f"stretch behind -650 by 50 {word} {chain.id} B16 D21 B17", SKERRY).job
        assert np.subtract(made.chains[0].driven.x, chain.driven.x) == pytest.approx(by)
        assert np.subtract(made.chains[0].driving.x, chain.driving.x) == pytest.approx(by)


def wishbones() -> Job:
    """A corner with a lower and an upper arm, 160 apart in height and 250 along the car."""
    job = typed(Job(), "joint 100 250 150", "joint -150 250 160", "joint 60 280 310", "joint -140 290 300")
    for name in ("J1L", "J2L", "J3L", "J4L"):
        job = edits.add_pickup(job, name, "front")
    return job


@pytest.mark.parametrize(("name", "partner"), [("J1L", "J2L"), ("J3L", "J4L"), ("J4L", "J3L")])
def test_a_pickup_slides_along_its_own_arms_axis(name: str, partner: str) -> None:
    job = wishbones()
    done = understand("slide 20", job, (name,))
    way = np.subtract(job.joint(partner).place, job.joint(name).place)
    assert np.subtract(done.job.joint(name).place, job.joint(name).place) == pytest.approx(
        20 * way / np.linalg.norm(way)
    )
    assert done.name == f"Slide {name} by 20.0 mm along the line from {name} to {partner}"


def test_a_pickup_without_a_clear_axis_asks_for_its_line() -> None:
    job = edits.add_pickup(typed(wishbones(), "joint -150 250 140"), "J5L", "front")
    with pytest.raises(
        Problem, match=r"J5L and J2L could both be on J1L's axis|J2L and J5L could both be on J1L's axis"
    ):
        understand("slide 20", job, ("J1L",))
    above = edits.add_pickup(
        edits.add_pickup(typed(Job(), "joint 0 250 150", "joint 20 250 300"), "J1L", "front"), "J2L", "front"
    )
    with pytest.raises(Problem, match="J1L has no axis of its own"):
        understand("slide 20", above, ("J1L",))


def engine_on_two_feet(y: float) -> Job:
    job = typed(Job(), f"place engine Triple box 400 x 300 x 300 at -1500 {y:g} 400 mass 60")
    part = job.parts[0].id
    job = typed(
        job,
        "hole left at 0, 150, -150 dia 10",
        "hole right at 0, -150, -150 dia 10",
        "hole nose at 200, 0, -150 dia 10",
        chosen=(part,),
    )
    return typed(job, "joint -1500 160 260", "joint -1290 0 250")


def test_both_of_a_pair_may_hang_on_the_feet_of_one_engine() -> None:
    job = typed(engine_on_two_feet(0), "tie to Triple left", chosen=("J1L",))
    both = typed(job, "tie to Triple right", chosen=("J1R",))
    assert all(both.joint(n).tie for n in ("J1L", "J1R"))
    off = typed(engine_on_two_feet(30), "tie to Triple left", chosen=("J1L",))
    with pytest.raises(
        Problem, match=r"J1L, the mirror of J1R, follows hole left of B1, which is 60.0 mm from where it would stand"
    ):
        understand("tie to Triple right", off, ("J1R",))


def test_a_joint_on_the_centreline_is_not_left_behind_without_a_word() -> None:
    job = typed(engine_on_two_feet(0), "tie to Triple nose", chosen=("J2",))
    part = job.parts[0].id
    assert understand("x+30", job, (part,)).job.joint("J2").x == pytest.approx(job.joint("J2").x + 30)
    with pytest.raises(
        Problem,
        match=r"J2 is on the centreline and follows hole nose of B1, which would take it 25.0 mm off it. Part it",
    ):
        understand("y+25", job, (part,))
    parted = typed(job, "part", chosen=("J2",))
    assert understand("y+25", parted, (part,)).job.joint("J2").y == pytest.approx(25)


def test_a_moved_joint_on_a_hoop_says_that_the_hoop_no_longer_runs_on() -> None:
    job = typed(Job(), "die 38 clr 114", "hoop main 38 x 2 height 900 width 1000 at -1400 200", "joint on T1 20%")
    assert not [s for s in checks.find_snags(job) if s.code == "kinked"]
    name = job.joints[-1].id
    moved = typed(job, "x+30", chosen=(name,))
    told = [s.what for s in checks.find_snags(moved) if s.code == "kinked"]
    assert told
    assert f"at {name}, so they are cut apart and mitred, not bent as one." in " ".join(told)


def test_a_corner_that_lies_in_line_is_no_bend() -> None:
    job = typed(Job(), "joint 0 300 300", "joint -800 300 300", "tube J1L J2L 38 x 2")
    with pytest.raises(Problem, match="T1L does not turn at corner 1: it is in line"):
        understand("bend -400 300 300 fold", job, ("T1L",))


def test_every_tube_of_a_chain_stays_chosen() -> None:
    done = understand(
        "tube J1L J2L J3L 38 x 2", typed(Job(), "joint 0 300 300", "joint -800 300 300", "joint -1600 300 300")
    )
    assert done.chosen == ("T1L", "T2L")
    assert {t.role for t in understand("role rail", done.job, done.chosen).job.tubes} == {"rail"}


def test_a_donor_rail_that_is_stretched_keeps_its_length_and_a_new_piece_is_put_between() -> None:
    """A donor rail of 1200 grows by 300 at x −500: 500 of the donor, 300 new, 700 of the donor, on both sides."""
    job = typed(Job(), "joint 0 250 300", "joint -1200 250 300", "tube J1L J2L 38 x 2")
    job = understand("donor", job, ("T1L",)).job
    assert cut.answer(job).pieces == ()
    made = typed(job, "stretch behind -500 by 300")
    left = sorted((t for t in made.tubes if t.id.endswith("L")), key=lambda t: -made.joint_by_id[t.a].x)
    lengths = [round(math.dist(*(made.joint_by_id[e].place for e in t.ends)), 6) for t in left]
    assert (lengths, [t.donor for t in left]) == ([500.0, 300.0, 700.0], [True, False, True])
    assert len(made.tubes) == 6
    assert sorted(round(p.bar) for p in cut.answer(made).pieces) == [300, 300]
    assert made.joint_by_id["J2L"].x == -1500
    shorter = typed(job, "stretch behind -500 by -300")  # what is cut out of a donor needs no new piece
    assert [t.donor for t in shorter.tubes] == [True, True]
    again = typed(Job(), "joint 0 250 300", "joint -1200 250 300", "tube J1L J2L 38 x 2", "stretch behind -500 by 300")
    assert len(again.tubes) == 2  # a tube that is bought is bought longer


def test_a_stretch_takes_along_what_wheels_hang_on() -> None:
    """The rear axle goes 100 back with its wheels, links and coil-overs, and moves as before."""
    job = sample("fell-litter")
    longer = typed(job, "stretch behind -1020 by 100")
    assert edits.left_wheel(longer, "rear").x == pytest.approx(edits.left_wheel(job, "rear").x - 100)
    before, after = job.live_axles[0], longer.live_axles[0]
    for name in ("lower_out", "upper_out", "rod_out", "spring_out"):
        assert getattr(after, name) == pytest.approx(np.array(getattr(before, name)) - [100, 0, 0])
    one, other = axle_runs(job)[0].told.curves, axle_runs(longer)[0].told.curves
    assert other.aside == pytest.approx(one.aside, abs=1e-6)
    assert other.pinion == pytest.approx(one.pinion, abs=1e-9)
    ahead = typed(SANDPIPER, "stretch behind -1580 by 100")
    assert ahead.wishbones == SANDPIPER.wishbones  # in front of the plane
    assert ahead.arms[0].spring_out[0] == SANDPIPER.arms[0].spring_out[0] - 100


def test_every_place_of_what_wheels_hang_on_is_known_to_be_one() -> None:
    def places(kind: type) -> set[str]:
        found = set()
        for name, field in kind.model_fields.items():
            for part in (field.annotation, *get_args(field.annotation)):
                if part == XYZ or get_args(part)[:1] == (XYZ,):
                    found.add(name)
                elif isinstance(part, type) and issubclass(part, Value):
                    found |= places(part)
        return found

    kinds = (Wishbones, LinkedAxle, KingpinBeam, SwingingArms, SteeringFork, AxleCarrier)
    assert set.union(*map(places, kinds)) - {"slide"} == PLACES


def test_a_merge_hangs_wheels_at_the_joint_that_stays() -> None:
    job = typed(SANDPIPER, "joint -160 232 492", "merge J9L J32L", chosen=())
    assert job.wishbones == SANDPIPER.wishbones
    other = typed(job, "joint -140 228 488", "merge J33L J9L", chosen=())
    assert other.wishbones[0].upper == ("J5L", "J33L")
    assert other.wishbones[0].spring == "J33L"
    assert "corner incomplete" not in {s.code for s in checks.find_snags(other)}
    both = typed(SANDPIPER, "merge J4L J8L", chosen=())  # both legs of an arm at one joint
    assert both.wishbones[0].lower == ("J4L", "J4L")
    assert "corner incomplete" in {s.code for s in checks.find_snags(both)}
