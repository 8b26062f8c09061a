"""Swinging arms in a job: a carrier driven by a chain, arms of their own on both sides, what is found, what Prove
takes, and refusals."""

import numpy as np
import pytest

from ironcage.core.answers.findings.checks import find_snags
from ironcage.core.answers.place.clashes import find_clashes
from ironcage.core.answers.prove.cases import load_cases
from ironcage.core.answers.run import link_reactions, swept_bodies
from ironcage.core.answers.run.springs import sprung
from ironcage.core.answers.run.swing import arm_lines, arm_runs, arms_at
from ironcage.core.job import edits
from ironcage.core.job.store import file
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem, plain
from ironcage.samples import sample
from tests.core.lines import typed

CARRIER = (
    "arm rear axis J25L J25R",
    "arm rear spring J30L",
    "arm rear spring out -2200, 320, 330",
    "arm rear up 40",
    "arm rear down 20",
)
ON_THE_SPROCKET = ("joint on T51L 46%", "arm rear axis J32L J32R")
APART = ("arm rear axis J25L J26L", "arm rear spring J27L", "arm rear spring out -2200, 450, 300")


@pytest.fixture
def car() -> Job:
    return sample("sandpiper").but(arms=())


def found(job: Job) -> dict[str, str]:
    return {s.code: plain(s.what) for s in find_snags(job) if s.step == "run" and "dampers" not in plain(s.what)}


def test_a_carrier_slackens_its_chain_until_it_swings_about_the_sprocket(car: Job) -> None:
    job = typed(car, *CARRIER)
    assert "the sprockets of Final drive are 15.8 mm nearer to each other" in found(job)["chain slack"]
    run = arm_runs(job)[0]
    driving, driven = job.chains[0].driving, job.chains[0].driven
    pivot = np.array([-1870.0, 220.0])
    out = np.array([driven.x, driven.z]) - pivot
    for n, travel in enumerate(run.found.travel):
        wheel = (
            np.array([-2300.0, next(w.z for w in job.wheels if w.corner == "rear left")]) - pivot
        )  # by plane geometry: both turn by the angle that lifts the wheel so
        angle = np.arcsin((wheel[1] + travel) / np.hypot(*wheel)) - np.arcsin(wheel[1] / np.hypot(*wheel))
        c, s = np.cos(-angle), np.sin(-angle)
        place = pivot + [c * out[0] - s * out[1], s * out[0] + c * out[1]]
        assert run.told.centres[n, 0] == pytest.approx(np.hypot(*(place - [driving.x, driving.z])), abs=1e-6)
    assert np.isnan(run.told.roll_centre).all()
    assert sprung(typed(job, "arm rear rate 40"))["rear"].roll is None
    assert "chain slack" not in found(typed(job, *ON_THE_SPROCKET))
    assert np.ptp(arm_runs(typed(job, *ON_THE_SPROCKET))[0].told.centres) < 2


def test_the_demos_carrier_slackens_its_chain_and_a_pivot_on_the_sprocket_cures_it() -> None:
    demo = sample("sandpiper")
    assert "At 40.0 mm up the sprockets of Final drive are 15.8 mm nearer" in found(demo)["chain slack"]
    assert "chain slack" not in found(typed(demo, *ON_THE_SPROCKET))


def test_the_carriers_axle_arms_and_tyres_clash_on_their_way(car: Job) -> None:
    clear = typed(car, *CARRIER)
    before = {frozenset((n.first, n.second)) for n in find_clashes(car).near if n.gap < n.margin}
    assert {frozenset((n.first, n.second)) for n in find_clashes(clear).near if n.gap < n.margin} == before
    deep = find_clashes(typed(clear, "arm rear down 50")).near
    hit = next(n for n in deep if {n.first, n.second} == {"rear axle", "T17L"})
    assert plain(hit.part) == "at 50.0 mm down"


def test_arms_of_their_own_move_each_wheel_and_mirror_it(car: Job) -> None:
    job = typed(car, *APART)
    still = arms_at(job, "rear", 30.0)
    wheel = still.found.poses.at(still.run.arm.wheel)[0]
    assert wheel[2] == pytest.approx(still.run.arm.wheel[2] + 30)
    assert abs(float(still.told.camber[0, 0])) > 1e-3
    assert np.isfinite(still.told.roll_centre).all()
    assert sprung(typed(job, "arm rear rate 40"))["rear"].roll > 0
    moved = arms_at(typed(job, "z+20", chosen=("J25L",)), "rear", 0.0)
    assert moved.run.arm.hinge[0][2] == still.run.arm.hinge[0][2] + 20
    assert arms_at(job, "rear", 900.0).travel == 60.0


@pytest.mark.parametrize("lines", [CARRIER, APART])
@pytest.mark.parametrize("corner", ["rear left", "rear right"])
def test_pivots_and_coil_overs_bear_what_pushes_on_the_wheel(car: Job, lines: tuple[str, ...], corner: str) -> None:
    job = typed(car, *lines)
    at, force = np.array([-2300.0, 650 if corner.endswith("left") else -650, 0]), np.array([900.0, -700, 3000])
    links = link_reactions(job, corner, at, force)
    assert links is not None
    np.testing.assert_allclose(sum(f for _, _, _, f in links), force, atol=1e-6)
    np.testing.assert_allclose(sum(np.cross(p, f) for _, _, p, f in links), np.cross(at, force), atol=1e-2)
    for name, joints, place, _ in links:
        assert place == pytest.approx(np.array(job.joint(joints[0]).place)), name


def test_prove_pushes_through_the_arms(car: Job) -> None:
    told = {c.name: c for c in load_cases(typed(car, *CARRIER))}["landing"]
    what = {p.what for p in told.pushes}
    assert {"rear first pivot", "rear second pivot", "rear left coil-over", "rear right coil-over"} <= what
    assert told.residual[0] < 1e-6
    apart = {c.name: c for c in load_cases(typed(car, *APART))}["landing"]
    assert {"rear left first pivot", "rear right coil-over"} <= {p.what for p in apart.pushes}
    loose = {c.name: c for c in load_cases(typed(car, "arm rear axis J25L J25R"))}["landing"]
    assert "rear left wheel" in {p.what for p in loose.pushes}  # nothing holds it up, so its pickups share it


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("arm middle axis J25L J26L", "‘middle’ is no axle"),
        ("arm rear axis J25L J25L", "The axis would have no length"),
        ("arm rear axis J25L J26R", "J26R is on the right"),
        ("arm rear up 20", "The rear wheels are on no arms yet"),
        ("arm front axis J4L J8L", "The front wheels hang on wishbones"),
    ],
)
def test_what_can_not_be_is_refused(car: Job, line: str, says: str) -> None:
    with pytest.raises(Problem) as refused:
        understand(line, car)
    assert says in plain(str(refused.value))


def test_an_axis_over_the_wheel_or_a_joint_that_has_gone_says_so(car: Job) -> None:
    over = typed(car, "joint -2300 300 290", "joint -2300 200 290")
    with pytest.raises(Problem, match="no arm on it lifts that"):
        understand("arm rear axis J32L J33L", over)
    job = edits.delete(typed(car, *CARRIER[:1], "joint -1700 300 400", "arm rear axis J25L J32L"), ["J32L"])
    assert "J32L, which has gone" in found(job)["arm incomplete"]


def test_short_arms_say_how_far_they_get_and_all_is_kept_in_the_file(car: Job) -> None:
    short = typed(car, "joint -2250 300 290", "arm rear axis J32L J32R", "arm rear up 80")
    wheel = next(w for w in short.wheels if w.corner == "rear left")
    arm, rise = np.hypot(wheel.x + 2250, wheel.z - 290), wheel.z - 290
    told = f"The rear links lock at {arm - rise:.1f} mm up and {arm + rise:.1f} mm down"
    assert told in found(short)["links lock"]
    assert file.from_text(file.to_text(short)).arms == short.arms
    assert typed(short, "arm rear gone").arms == ()


ROCKER = "arm rear rocker J30L"


@pytest.mark.parametrize("lines", [(*APART, ROCKER), (*CARRIER, "arm rear rocker J27L")])
def test_a_rocker_between_an_arm_and_its_coil_over_passes_the_motion_and_the_force_on(
    car: Job, lines: tuple[str, ...]
) -> None:
    job = typed(car, *lines, "arm rear rate 40")
    run = arm_runs(job)[0]
    hung, told = run.hung, run.told
    assert told.motion_ratio[20, 0] == pytest.approx(-np.gradient(told.spring[:, 0], run.found.travel)[20], rel=2e-3)
    rod = np.linalg.norm(np.array(hung.push.rod_out) - hung.push.rod_in)
    ends = {name: (one, other) for name, one, other in arm_lines(job, run, run.found)}
    one, other = ends["left push rod"]
    assert np.linalg.norm(one - other, axis=1) == pytest.approx(rod)
    coil = np.linalg.norm(np.subtract(*ends["left coil-over"]), axis=1)
    assert coil == pytest.approx(told.spring[:, 0])
    assert "rear left push rod" in {b.id for b in swept_bodies(job)}
    at, force = np.array([-2300.0, 650, 0]), np.array([300.0, -200, 3000])
    links = {name: (place, f) for name, _, place, f in link_reactions(job, "rear left", at, force)}
    assert sum(f for _, f in links.values()) == pytest.approx(force)
    turning = sum(np.cross(p, f) for p, f in links.values()) @ run.arm.way
    assert turning == pytest.approx(np.cross(at, force) @ run.arm.way, abs=1e-3)
    rest = int(np.abs(run.found.travel).argmin())
    lifted = run.found.poses.moves(np.repeat(at[None], len(run.found.travel), axis=0))[rest] @ force
    springs = [np.linalg.norm(f) for name, (_, f) in links.items() if name.endswith("coil-over") and "," not in name]
    assert sum(springs) * told.motion_ratio[rest, 0] == pytest.approx(lifted, rel=1e-6)  # virtual work
    assert sprung(job)["rear"].rest.ratio == pytest.approx(told.motion_ratio[rest, 0])
    bare = typed(job, "arm rear rocker none")
    assert (bare.arms[0].push, bare.arms[0].spring_out) == (None, hung.push.rod_out)


def test_a_rocker_needs_a_coil_over_and_a_joint_of_its_own(car: Job) -> None:
    for lines, says in (
        ((APART[0],), "The rear arms have no coil-over"),
        ((*APART, "arm rear rocker J27L"), "needs a joint of its own"),
        ((*APART, "arm rear rod in 0, 0, 0"), "has no rocker"),
    ):
        *before, line = (*lines, ROCKER) if len(lines) == 1 else lines
        with pytest.raises(Problem, match=says):
            understand(line, typed(car, *before))
    short = typed(car, *APART, ROCKER, "arm rear up 200")
    x, y, z = short.arms[0].push.rod_in
    far = typed(short, f"arm rear rod out {x - 20:.0f}, {y:.0f}, {z - 8:.0f}")
    assert "turns its rocker no further than to" in found(far)["push rod short"]
