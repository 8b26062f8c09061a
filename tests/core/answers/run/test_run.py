"""Hung wheels in a job: what they do, what they run into, what their links give to the frame."""

import math

import numpy as np
import pytest

from ironcage.core.answers.findings.checks import find_snags
from ironcage.core.answers.place.clashes import find_clashes
from ironcage.core.answers.prove.cases import load_cases
from ironcage.core.answers.run import link_reactions, roll_stiffnesses, swept_bodies
from ironcage.core.answers.run.corner import runs, stand_at
from ironcage.core.answers.run.effects import effects_at
from ironcage.core.answers.run.leans import leans
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.job import edits
from ironcage.core.job.store.file import from_text, to_text
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from ironcage.told import plain
from tests.core.lines import typed

HUNG = "corner front lower J4L J8L upper J5L J9L spring J9L"


@pytest.fixture
def hung(sandpiper: Job) -> Job:
    return sandpiper.but(arms=())


def test_camber_and_toe_at_ride_height_are_those_that_were_set(hung: Job) -> None:
    job = typed(hung, "corner front camber -1.25", "corner front toe 0.2")
    told = stand_at(job, "front", 0, 0).told
    assert math.degrees(told.camber[0, 0]) == pytest.approx(-1.25, abs=1e-9)
    assert math.degrees(told.toe_in[0, 0]) == pytest.approx(0.2, abs=1e-9)
    assert stand_at(job, "front", 999, 999).travel == 50  # kept within the travel


def test_outer_points_are_proposed_and_stay_when_joints_are_named_again(hung: Job) -> None:
    job = typed(hung, "corner front gone", HUNG)
    (made,) = job.wishbones
    wheel = next(w for w in job.wheels if w.corner == "front left")
    assert made.lower_out[2] < wheel.z < made.upper_out[2]
    assert max(made.lower_out[1], made.upper_out[1]) <= wheel.y - wheel.width / 2 + 0.1
    assert runs(job)[0].closes
    again = typed(job, "corner front lower out 0, 570, 180", "corner front lower J8L J4L upper J5L J9L spring J5L")
    assert (again.wishbones[0].lower_out, again.wishbones[0].spring) == ((0, 570, 180), "J5L")
    assert from_text(to_text(again), "a job") == again


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("corner middle lower J4L J8L upper J5L J9L spring J9L", "‘middle’ is no axle"),
        ("corner front lower J4L J4L upper J5L J9L spring J9L", "Both legs of the lower arm are hung at J4L"),
        ("corner front lower J4R J8L upper J5L J9L spring J9L", "J4R is on the right"),
        ("corner front lower J4L J99L upper J5L J9L spring J9L", "J99L"),
        ("corner rear lower out 1, 2, 3", "The rear axle has no wishbones yet"),
        ("corner front castor 4", "The front corner has no ‘castor 4’"),
        ("corner front camber 60", "it must be at most"),
        ("corner front spring on wheel", "A coil-over does not stand on ‘wheel’"),
        ("corner front lower out", "Nothing was typed for lower out"),
    ],
)
def test_what_makes_no_corner_is_refused(hung: Job, line: str, says: str) -> None:
    with pytest.raises(Problem) as caught:
        understand(line, hung)
    assert says in plain(str(caught.value))


def test_a_joint_or_wheel_that_has_gone_is_said(hung: Job) -> None:
    job = typed(hung, "corner front gone", "joint 200 192 430", "corner front lower J4L J8L upper J32L J9L spring J9L")
    job = typed(job, "delete", chosen=("J32L",))
    found = {s.code: s for s in find_snags(job)}
    assert "An arm is hung at J32L, which has gone" in found["corner incomplete"].what
    with pytest.raises(Problem, match="No wheel is hung yet"):
        runs(typed(hung, "corner front gone"))


def test_links_that_lock_are_a_snag_with_the_travel(hung: Job) -> None:
    job = typed(hung, "corner front up 400", "corner front tie in -97, 420, 290")
    found = next(s for s in find_snags(job) if s.code == "links lock")
    limit = runs(job)[0].limits[0]
    assert limit is not None
    assert f"lock at {limit:.1f} mm up" in plain(found.what)
    assert plain(found.what).endswith("held by the tie rod.")
    run = runs(typed(job, f"corner front up {limit - 0.02:.3f}"))[0]
    low, high, tie = (
        run.found.at(at)[-1, run.straight] for at in (run.corner.lower_out, run.corner.upper_out, run.corner.tie_out)
    )
    pin = (high - low) / np.linalg.norm(high - low)
    pull = tie - run.corner.tie_in
    lever = pin @ np.cross(tie - low, pull) / np.linalg.norm(pull)
    rest = pin @ np.cross(run.corner.tie_out - run.corner.lower_out, run.corner.tie_out - run.corner.tie_in)
    assert abs(lever) < 0.2 * abs(rest) / np.linalg.norm(
        run.corner.tie_out - run.corner.tie_in
    )  # nearly through the kingpin


def test_a_steered_wheel_that_meets_a_part_says_when(hung: Job) -> None:
    job = typed(
        hung,
        "place battery Box box 80 x 60 x 100 at 345, 540, 250",
        "place battery Other box 80 x 60 x 100 at 345, -540, 250",
    )
    near = {_names(job, n)[k]: n for n in find_clashes(job).near for k in (0, 1) if "tyre" in " ".join(_names(job, n))}
    assert near["Box"].state != "clear"
    assert "rack" in near["Box"].part
    assert plain(near["Box"].part).endswith("to the left")  # the arm is behind, so the front edge comes in
    assert near["Other"].gap == pytest.approx(near["Box"].gap, abs=1e-3)  # both sides are alike
    straight = typed(job, "corner front rack 0")
    kept = [n for n in find_clashes(straight).clashes if "Box" in _names(straight, n)]
    assert not kept


def _names(job: Job, near) -> list[str]:
    from ironcage.core.answers.shared.names import name_of

    return [name_of(job, near.first), name_of(job, near.second)]


@pytest.mark.parametrize("corner", ["front left", "front right"])
def test_links_give_the_frame_what_pushes_on_the_wheel(hung: Job, corner: str) -> None:
    side = 1 if corner.endswith("left") else -1
    at, force = np.array([0.0, side * 660, 0]), np.array([-500.0, 900, 3000])
    links = link_reactions(hung, corner, at, force)
    assert links is not None
    np.testing.assert_allclose(sum(f for _, _, _, f in links), force, atol=1e-6)
    np.testing.assert_allclose(sum(np.cross(p, f) for _, _, p, f in links), np.cross(at, force), atol=1e-3)
    ends = {name: joints for name, joints, _, _ in links}
    assert ends["lower front"] == ("J4L" if side > 0 else "J4R",)
    assert link_reactions(hung, "rear left", at, force) is None


def test_proves_cases_push_through_the_links(hung: Job) -> None:
    case = next(c for c in load_cases(hung) if c.name == "braking")
    what = [p.what for p in case.pushes]
    assert "front left spring" in what
    assert "rear left wheel" in what  # shared by its pickups: nothing is hung there
    assert case.residual[0] < 1e-6
    bare = next(c for c in load_cases(typed(hung, "corner front gone")) if c.name == "braking")
    np.testing.assert_allclose(
        sum(p.force for p in case.pushes), sum(p.force for p in bare.pushes), atol=1e-6
    )  # the same wheels push as hard
    assert not np.allclose(case.loads, bare.loads, atol=1)


def test_the_right_side_of_a_parted_frame_has_its_own_joints(hung: Job) -> None:
    job = edits.move(edits.unpair(hung, ["J4L"]), ["J4R"], dz=20)
    with pytest.raises(Problem, match="J4L has no twin"):
        link_reactions(job, "front right", np.array([0.0, -660, 0]), np.array([0, 0, 1000.0]))
    assert "J4L has no twin" in next(s.what for s in find_snags(job) if s.code == "corner incomplete")


def test_a_hung_pickup_slides_along_its_own_arm_and_the_wheel_moves_as_before(sandpiper: Job) -> None:
    (hung,) = sandpiper.wishbones
    front, rear = hung.upper
    for name, partner in ((front, rear), (rear, front), (sandpiper.joint(front).twin, sandpiper.joint(rear).twin)):
        done = understand("slide 20", sandpiper, (name,))
        assert done.name == f"Slide {name} by 20.0 mm along the line from {name} to {partner}"
        before, after = runs(sandpiper)[0].told, runs(done.job)[0].told
        for told in ("camber", "toe_in", "caster", "roll_centre", "out"):
            assert getattr(after, told) == pytest.approx(getattr(before, told), abs=1e-9)


def test_what_a_millimetre_of_each_point_does_is_what_moving_it_does(hung: Job) -> None:
    still = stand_at(hung, "front", 40.0, 10.0)
    effects = {e.point: e for e in effects_at(hung, still)}
    assert len(effects) == 10
    moves = {"tie rod, inner": "tie_in", "upper ball joint": "upper_out", "coil-over, foot": "spring_out"}
    for point, field in moves.items():
        for k in range(3):
            told = []
            for way in (2.0, -2.0):
                place = list(getattr(hung.wishbones[0], field))
                place[k] += way
                moved = stand_at(edits.set_wishbones(hung, "front", **{field: tuple(place)}), "front", 40.0, 10.0).told
                told.append([float(v[0, 0]) for v in (moved.camber, moved.toe_in, moved.roll_centre, moved.spring)])
            per_mm = effects[point].per_mm
            own = [per_mm.camber[k], per_mm.toe_in[k], per_mm.roll_centre[k], per_mm.spring[k]]
            assert own == pytest.approx((np.array(told[0]) - told[1]) / 4, abs=2e-4), (point, k)


def test_the_lean_of_a_car_on_two_hung_ends_is_told() -> None:
    litter = sample("fell-litter")
    (end,) = leans(litter).ends.values()
    assert end.camber == pytest.approx(0)  # a live axle stays on the ground
    assert leans(litter).car is None  # its front hangs on nothing
    held = typed(
        litter,
        "beam front",
        "beam front on leaf eyes J5L J7L",
        "beam front on seat 0, 330, 310",
    )
    assert "beam incomplete" in {s.code for s in find_snags(held)}  # those eyes are at the rear
    joints = ("joint 500 330 380", "joint -500 330 400")
    both = typed(litter, *joints, chosen=())
    both = typed(both, "beam front", "beam front on leaf eyes J25L J26L", "beam front on seat 0, 330, 330")
    told = leans(both)
    assert set(told.ends) == {"front", "rear"}
    assert told.car is not None
    weighed, (front, rear) = weigh(both), roll_stiffnesses(both)
    centres = [float(told.ends[name].height[4]) for name in ("front", "rear")]
    share = weighed.front_share
    over = float(weighed.car.cg[2]) - (share * centres[0] + (1 - share) * centres[1])
    weight = weighed.car.mass * 9.80665
    assert told.car.per_g == pytest.approx(weight * over / (front + rear - weight * over))


def test_a_drop_arm_swings_the_tie_rods_inner_end_about_its_axis(sandpiper: Job) -> None:
    hung = sandpiper.wishbones[0]
    x, y, z = hung.tie_in
    job = typed(sandpiper, f"corner front pivot {x + 120:g}, {y + 10:g}, {z:g}")
    upright = job.wishbones[0].column
    assert upright == (x + 120, y + 10, z + 100)
    run = runs(job)[0]
    ends = run.corner.tie_ends(run.found.rack)
    turned = run.found.rack / -120  # behind its pivot, so it goes left as the arm turns to the right
    arm = np.array([-120.0, -10.0])
    c, s = np.cos(-turned), np.sin(-turned)
    assert run.corner.drop.sideways(run.corner.tie_in) == pytest.approx(-120)
    swung = np.column_stack([c * arm[0] + s * arm[1], -s * arm[0] + c * arm[1]])
    assert ends[:, :2] == pytest.approx(swung + [x + 120, y + 10])
    lengths = np.linalg.norm(run.found.at(run.corner.tie_out) - ends, axis=-1)
    assert lengths == pytest.approx(run.corner.lengths[4], abs=1e-6)
    rack = runs(sandpiper)[0]
    middle = int(np.abs(run.found.travel).argmin())
    assert run.told.steer[middle, run.straight + 1] == pytest.approx(
        rack.told.steer[middle, run.straight + 1], rel=0.02
    )  # they move alike at first
    told = " ".join(b.labels[-1] for b in swept_bodies(job) if b.id == "front left tie rod")
    assert "drop arm" in told
    assert runs(typed(job, "corner front pivot none"))[0].corner.drop is None


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("corner front column {x} {y} {z}", "axis has no direction"),
        ("corner front pivot {x} {aside} {z}", "does not move its tie rod sideways"),
    ],
)
def test_a_drop_arm_that_does_nothing_is_refused_or_told(sandpiper: Job, line: str, says: str) -> None:
    x, y, z = sandpiper.wishbones[0].tie_in
    job = typed(sandpiper, f"corner front pivot {x + 120:g}, {y:g}, {z:g}")
    if "column" in line:
        with pytest.raises(Problem, match=says):
            understand(line.format(x=x + 120, y=y, z=z), job)
    else:
        made = typed(job, line.format(x=x, aside=y + 90, z=z))
        assert says in {s.code: plain(s.what) for s in find_snags(made)}["corner incomplete"]


def test_a_point_takes_the_place_of_a_joint(sandpiper: Job) -> None:
    place = sandpiper.joint_by_id["J4L"].place
    assert typed(sandpiper, "corner front lower out j4l").wishbones[0].lower_out == place
    assert typed(sandpiper, "corner front pivot J4L").wishbones[0].pivot == place
    with pytest.raises(Problem, match="is not a place"):
        understand("corner front lower out J400L", sandpiper)


def test_sides_that_differ_and_racks_that_do_not_fit_are_found(sandpiper: Job) -> None:
    def found(job: Job) -> dict[str, str]:
        return {s.code: plain(s.what) for s in find_snags(job) if s.code in ("sides differ", "rack too wide")}

    assert found(sandpiper) == {}
    off = sandpiper.but(
        joints=tuple(j.but(x=j.x + 2) if j.id == "J4R" else j for j in sandpiper.joints),
    )
    assert found(off)["sides differ"].startswith(
        "J4R, where the front right wheel hangs, is 2.00 mm off the mirror image of J4L"
    )
    x, _, z = sandpiper.wishbones[0].tie_in
    wide = typed(sandpiper, f"corner front tie in {x:g}, 560, {z:g}")
    assert "outside of its tie rod’s outer end" in found(wide)["rack too wide"]
    near = typed(sandpiper, f"corner front tie in {x:g}, 20, {z:g}")
    assert "40.0 mm apart" in found(near)["rack too wide"]


def test_arms_that_can_not_swing_are_named(sandpiper: Job) -> None:
    def told(line: str) -> str:
        return {s.code: plain(s.what) for s in find_snags(typed(sandpiper, line))}["corner incomplete"]

    hung = sandpiper.wishbones[0]
    one, other = (np.array(sandpiper.joint_by_id[name].place) for name in hung.lower)
    middle = ", ".join(f"{v:g}" for v in (one + other) / 2)
    assert "front lower arm’s ball joint is in line with both of its pivots" in told(f"corner front lower out {middle}")
    low = ", ".join(f"{v:g}" for v in hung.lower_out)
    assert "Both front ball joints are at one place" in told(f"corner front upper out {low}")
    rack = ", ".join(f"{v:g}" for v in hung.tie_in)
    assert "Both front tie rod’s ends are at one place" in told(f"corner front tie out {rack}")
