"""Load cases balance and are carried by statics; strength follows from them; both on the demos and on frames that
hands can work out."""

import math
from dataclasses import replace

import numpy as np
import pytest

from ironcage.core.answers.findings import checks
from ironcage.core.answers.prove import cases, measured, mounts, stiffness, strength, vibration
from ironcage.core.answers.prove.car import Loaded
from ironcage.core.answers.shared.beam_model import beam_frame, fine_frame, stress_points
from ironcage.core.answers.shared.mass import stance, weigh
from ironcage.core.calc.frames.beams import solve
from ironcage.core.calc.frames.load_distribution import G
from ironcage.core.calc.frames.rigs import CORNERS, rigid_motions
from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job, Joint
from ironcage.core.job.values.placed import Hole, Part
from ironcage.core.job.values.ties import ToHole
from ironcage.problem import Problem
from ironcage.samples import sample
from tests.core.lines import typed

DEMOS = ("sandpiper", "fell-litter", "skerry")


@pytest.fixture(scope="module", params=DEMOS)
def demo(request: pytest.FixtureRequest) -> Job:
    return sample(request.param)


def _sum(job: Job, loads: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    places = np.array([j.place for j in job.joints])
    return loads[:, :3].sum(axis=0), (loads[:, 3:] + np.cross(places, loads[:, :3])).sum(axis=0)


def _case(job: Job, name: str) -> Loaded:
    return next(c for c in cases.load_cases(job) if c.name == name)


def _wheels(job: Job, case: Loaded) -> dict[str, np.ndarray]:
    """What each wheel gives to the frame, N: by its pickups, by all of its links together, or by those of the live axle
    that it shares, which bear half of it each, and more on the side that they lift more."""
    found: dict[str, np.ndarray] = {}
    shared = ("lower left link", "first pivot")  # of links that both wheels push through
    on_axle = {p.what.split()[0] for p in case.pushes if p.what.partition(" ")[2] in shared}
    for p in case.pushes:
        for corner in CORNERS:
            axle = corner.split()[0]
            if p.what.startswith(corner) and axle not in on_axle:
                found[corner] = found.get(corner, np.zeros(3)) + p.force
            elif p.what.startswith(axle) and axle in on_axle:
                wheel = next(w for w in job.wheels if w.corner == corner)
                ground = wheel.z - wheel.diameter / 2
                leaning = p.at[1] * p.force[2] - (p.at[2] - ground) * p.force[1]
                share = p.force / 2 + np.array([0, 0, leaning / (2 * wheel.y)])
                found[corner] = found.get(corner, np.zeros(3)) + share
    return {corner: found[corner] for corner in CORNERS}


def test_every_case_of_a_demo_balances_on_its_own(demo: Job) -> None:
    told = [c for c in cases.load_cases(demo) if not c.problem]
    assert len(told) >= 12
    for c in told:
        if not c.held:
            force, moment = _sum(demo, c.loads)
            assert np.linalg.norm(force) < 1e-6 * np.abs(c.loads).sum(), c.name
            assert np.linalg.norm(moment) < 1e-6 * np.abs(c.loads).sum() * 1000, c.name
            assert c.applied == pytest.approx(-c.inertia, abs=1e-6)
            assert max(c.residual) < 1e-5


def test_at_rest_the_wheels_carry_the_car_and_stand_as_place_says(demo: Job) -> None:
    told, stood = _case(demo, "static"), stance(demo)
    assert stood is not None
    assert told.applied == pytest.approx([0, 0, weigh(demo).car.mass * G], rel=1e-6, abs=1e-9)
    front = sum(p.force[2] for p in told.pushes if p.what.startswith("front"))
    assert front / told.applied[2] == pytest.approx(weigh(demo).front_share, abs=0.01)
    assert [f[2] / G for f in _wheels(demo, told).values()] == pytest.approx(stood.stance.corners, abs=1e-6)


def test_levels_scale_what_they_say(demo: Job) -> None:
    level = demo.proving.levels
    weight = weigh(demo).car.mass * G
    assert _case(demo, "landing").applied[2] == pytest.approx(level.landing * weight)
    assert _case(demo, "braking").applied[0] == pytest.approx(-level.brake * weight)
    assert _case(demo, "acceleration").applied[0] == pytest.approx(level.drive * weight)
    assert abs(_case(demo, "cornering left").applied[1]) == pytest.approx(level.corner * weight)
    rest, bumped = (_wheels(demo, _case(demo, name)) for name in ("static", "bump front left"))
    assert bumped["front left"][2] == pytest.approx(level.bump * rest["front left"][2])
    assert bumped["rear right"][2] == pytest.approx(rest["rear right"][2])
    harder = _wheels(demo, _case(typed(demo, "level bump 5"), "bump front left"))
    assert harder["front left"][2] == pytest.approx(5 * rest["front left"][2])


def test_a_chain_pulls_as_hard_as_the_wheels_torque_asks(demo: Job) -> None:
    pushes = {p.what: p for p in _case(demo, "acceleration").pushes}
    pulls = [p for p in pushes.values() if "on the engine" in p.what]
    if demo.chains:
        chain, rear = demo.chains[0], next(w for w in demo.wheels if w.corner == "rear left")
        radius = chain.pitch / (2 * math.sin(math.pi / chain.driven.teeth))
        thrust = demo.proving.levels.drive * weigh(demo).car.mass * G
        assert np.linalg.norm(pulls[0].force) == pytest.approx(thrust * rear.diameter / 2 / radius)
        assert pulls[0].force[0] < 0  # towards the axle behind it
    elif demo.shafts:
        assert np.linalg.norm(pulls[0].moment) > 0


def test_a_jack_and_two_wheels_carry_the_car() -> None:
    job = sample("sandpiper")
    told = _case(job, "jack")
    weight = weigh(job).car.mass * G
    assert told.applied[2] == pytest.approx(weight)
    jack = next(p for p in told.pushes if p.what == "jack")
    assert 0 < jack.force[2] < weight
    assert jack.joints == ("J13",)
    carried = [f[2] for f in _wheels(job, told).values()]
    assert sorted(v > 1 for v in carried) == [False, False, True, True]
    with pytest.raises(Problem, match="There is no joint"):
        understand("case jack at J99", job)


@pytest.mark.parametrize(
    ("line", "name", "says"),
    [
        ("case jack at J1L", "jack", ""),
        ("case strap at J1L J1R J30L J30R", "strap", ""),
        ("level corner 3", "cornering left", "tip over at 3 g in a corner"),
        ("level brake 9", "braking", "tip over at 9 g of braking"),
    ],
)
def test_cases_that_can_and_can_not_be_told(line: str, name: str, says: str) -> None:
    told = _case(typed(sample("sandpiper"), line), name)
    assert says in told.problem
    assert bool(told.problem) == bool(says)


def test_straps_press_the_car_on_its_wheels() -> None:
    job = typed(sample("sandpiper"), "case strap at J1L J1R J30L J30R", "level strap 3000")
    told = _case(job, "strap")
    wheels = sum(f[2] for f in _wheels(job, told).values())
    assert wheels == pytest.approx(weigh(job).car.mass * G + 4 * 3000 / math.sqrt(2), rel=1e-6)
    assert told.applied[0] == pytest.approx(0, abs=1.0)


def test_a_car_without_masses_wheels_or_pickups_says_what_is_missing() -> None:
    frame = typed(Job(), "joint 0 300 300", "joint -1000 300 300", "joint -500 0 700")
    frame = typed(frame, "tube J1L J2L", "tube J1L J1R", "tube J2L J2R", "tube J1L J3", "tube J2L J3")
    assert "no wheel at the front left" in _case(frame, "static").problem
    on_wheels = typed(frame, "wheels front 0 650 290 dia 580 width 165", "wheels rear -1000 650 290 dia 580 width 165")
    assert "no pickup at the front left" in _case(on_wheels, "static").problem
    held = edits.add_pickup(edits.add_pickup(on_wheels, "J1L", "front"), "J2L", "rear")
    assert "masses are missing" in _case(held, "static").problem
    assert strength.tube_strength(held).tubes == ()
    heavy = typed(held, "mass 90 Engine at -400 0 400")
    assert _case(heavy, "static").problem == ""
    assert len(strength.tube_strength(heavy).tubes) == len(heavy.tubes)


def test_a_case_from_the_builders_book_that_joints_hold(demo: Job) -> None:
    names = [j.id for j in demo.joints if j.id in demo.tubes_at]
    top = max(names, key=lambda n: demo.joint_by_id[n].z)
    low = sorted(names, key=lambda n: demo.joint_by_id[n].z)[:5]
    job = typed(demo, f"case By the book: {top} z-8 kN x 2 kN held {' '.join(low)}")
    told = strength.tube_strength(job)
    n = [c.name for c in told.cases].index("By the book")
    reactions = told.reactions[:, :3, n].sum(axis=0)
    assert reactions == pytest.approx([-2000, 0, 8000], abs=1e-3)
    index = {j.id: k for k, j in enumerate(job.joints)}
    assert np.abs(told.reactions[[k for j, k in index.items() if j not in low]][:, :3, n]).max() < 1e-3
    assert told.uses[:, :, n].max() > 0


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("case Odd: J21L z-5 kN held J17L", "the frame can still turn"),
        ("case Odd: J21L z-5 kN held J17L J17R", "the frame can still turn"),
    ],
)
def test_supports_that_hold_too_little_are_named(line: str, says: str) -> None:
    told = strength.tube_strength(typed(sample("sandpiper"), line))
    assert next(c.problem for c in told.refused if c.name == "Odd").startswith("Odd: held at")
    assert says in next(c.problem for c in told.refused)


def test_a_case_whose_joint_has_gone_says_so_and_the_others_stay() -> None:
    job = sample("sandpiper")
    without = edits.delete(job, ["J21L"])
    told = strength.tube_strength(without)
    assert "names J21L, which is no longer there" in next(
        c.problem for c in told.refused if c.name == "Rolled on its hoop"
    )
    assert "static" in [c.name for c in told.cases]
    snags = [s.what for s in checks.find_snags(without) if s.code == "case unknown"]
    assert any("Rolled on its hoop" in s for s in snags)


def test_a_combination_adds_its_cases_up(demo: Job) -> None:
    job = typed(demo, "combine Both: 0.5 braking + 2 bump front")
    made, one, two = (_case(job, n) for n in ("Both", "braking", "bump front"))
    assert made.loads == pytest.approx(0.5 * one.loads + 2 * two.loads)
    assert made.applied == pytest.approx(0.5 * one.applied + 2 * two.applied)
    told = strength.tube_strength(job)
    u = {c.name: told.u[:, :, n] for n, c in enumerate(told.cases)}
    assert u["Both"] == pytest.approx(0.5 * u["braking"] + 2 * u["bump front"], abs=1e-9)


def test_adding_what_is_held_to_what_is_not_is_refused_in_its_place() -> None:
    job = typed(sample("sandpiper"), "combine Muddle: 1 braking + 1 Rolled on its hoop")
    assert "held at different joints" in _case(job, "Muddle").problem


def test_stress_in_a_demo_is_what_an_independent_sum_of_its_end_forces_gives(demo: Job) -> None:
    """Straight plain tubes, worked out again from element displacements rather than from equilibrium."""
    told, frame = strength.tube_strength(demo), beam_frame(demo)
    n = int(np.argmax(told.uses.max(axis=(0, 1))))
    case = told.cases[n]
    if case.held:
        return
    forces = frame.end_forces(told.u[:, :, n])
    for row, tube in enumerate(demo.tubes):
        if row in frame.condensed or demo.section(tube.section).shape.kind != "round":
            continue
        r, i = demo.section(tube.section).shape.size[0] / 2, frame.i_y[row]
        ends = []
        for k in (0, 6):
            f = forces[row, k : k + 6]
            normal = abs(f[0]) / frame.area[row] + math.hypot(f[4], f[5]) * r / i
            shear = abs(f[3]) * r / frame.j[row] + math.hypot(f[1], f[2]) / frame.shear_area_y[row]
            ends.append(math.sqrt(normal**2 + 3 * shear**2))
        fy = demo.material(tube.material).yield_strength
        assert told.uses[0, row, n] == pytest.approx(max(ends) / fy, rel=1e-6)


def test_forces_along_a_bend_are_those_of_the_same_tube_cut_into_its_chords() -> None:
    job = typed(Job(), "die 38 clr 150 grip 50", "hoop main 38 x 2 height 900 width 1000 at -500 200")
    fine, tube = fine_frame(job, 1), beam_frame(job)
    load = np.zeros((2, 6, 1))
    load[1, :3, 0] = (50.0, 80, -30)
    held = np.zeros((2, 6), dtype=bool)
    held[0] = True
    u = solve(tube, held, load).u
    figures = strength.StrengthFigures.of(job, tube, stress_points(job), held.any(axis=1)[:, None])
    uses, parts = figures.uses(tube, u)
    wide = np.zeros((len(fine.frame.nodes), 6, 1))
    wide[1] = load[1]
    fixed = np.zeros((len(fine.frame.nodes), 6), dtype=bool)
    fixed[0] = True
    chords = fine.frame.end_forces(solve(fine.frame, fixed, wide).u[:, :, 0])
    worst = np.hypot(chords[:, [4, 10]], chords[:, [5, 11]]).max() * 19 / fine.frame.i_y[0]
    assert parts["bending"].max() == pytest.approx(worst, rel=1e-6)
    assert uses.shape == (3, 1, 1)


def test_the_worst_of_a_tube_is_the_worst_of_all_its_cases(demo: Job) -> None:
    told = strength.tube_strength(demo)
    for row, t in enumerate(told.tubes):
        assert t.use == pytest.approx(told.uses[:, row].max())
        n = [c.name for c in told.cases].index(t.case)
        assert told.uses[strength.MEMBER_CHECKS.index(t.check), row, n] == pytest.approx(t.use)
        assert 1 / (1 + min(t.margins)) == pytest.approx(t.use)
        assert t.at in (*demo.tube_by_id[t.tube].ends, t.tube)
    assert told.worst is not None
    assert told.worst.use < 1  # no demo ships with a tube that gives way


def test_a_softer_weld_strength_is_felt_at_the_weld() -> None:
    job = sample("sandpiper")
    steel = job.material(job.tubes[0].material)
    weak = edits.put_material(job, steel.but(as_welded_yield=steel.as_welded_yield / 4))
    told = strength.tube_strength(weak)
    assert told.worst is not None
    assert told.worst.check == "at the weld"
    assert told.worst.use > 1
    snag = next(s for s in checks.find_snags(weak) if s.code == "too weak")
    assert snag.severity == "wrong"
    assert told.worst.tube in snag.where


def test_what_moves_is_told_at_hoops_pickups_and_chains() -> None:
    job = sample("sandpiper")
    moves = {m.what: m for m in strength.moves(job, strength.tube_strength(job))}
    assert {"top of the main hoop", "top of the front hoop", "line of Final drive"} <= set(moves)
    assert sum("pickup" in w for w in moves) == len(job.pickups)
    assert 0 < moves["top of the main hoop"].mm < 20
    tight = job.but(chains=tuple(c.but(most_angle=1e-6, most_offset=0.01) for c in job.chains))
    opened = next(s for s in checks.find_snags(tight) if s.code == "opens under load")
    assert "line of Final drive" in opened.what


def _tied(joint: Joint, part: Part, hole: str) -> ToHole:
    """A tie that leaves a joint where it is: its hole is in the part's middle, so far away."""
    dx, dy, dz = (a - b for a, b in zip(joint.place, part.place, strict=True))
    return ToHole(thing=part.id, hole=hole, offset=(dx, dy, dz))


def _mounted(job: Job, part: Part) -> Job:
    """The job with a part tied to four joints where they are."""
    mounts = {"J2L": "m1", "J2R": "m2", "J4L": "m3", "J4R": "m4"}
    holes = tuple(Hole(name=name, x=0, y=0, z=0, diameter=10) for name in mounts.values())
    return job.but(
        parts=tuple(p.but(holes=holes) if p.id == part.id else p for p in job.parts),
        joints=tuple(j.but(tie=_tied(j, part, mounts[j.id])) if j.id in mounts else j for j in job.joints),
    )


def test_mounts_share_a_gearbox_s_weight_and_what_its_shaft_turns_it_with() -> None:
    job = sample("fell-litter")
    box = next(p for p in job.parts if p.kind == "gearbox")
    told = {p.case: p for p in mounts.mount_loads(_mounted(job, box))}
    middle = np.mean([job.joint_by_id[m.joint].place for m in told["static"].mounts], axis=0)
    weighs = next(h for h in mounts.Car(job).heavy if h.id == box.id)
    assert told["static"].force == pytest.approx([0, 0, -weighs.mass * G])
    for p in told.values():
        arms = np.array([job.joint_by_id[m.joint].place for m in p.mounts]) - middle
        forces = np.array([m.force for m in p.mounts])
        assert forces.sum(axis=0) == pytest.approx(p.force, abs=1e-6)
        assert np.cross(arms, forces).sum(axis=0) == pytest.approx(p.moment, abs=1e-3)
        assert all(np.abs(m.moment).max() < 1e-6 for m in p.mounts)  # four that are not in a line need none
    pulls = told["acceleration"]
    total = job.proving.levels.drive * weigh(job).car.mass * G
    radius = next(w.diameter / 2 for w in job.wheels if w.corner == "rear left")
    turned = pulls.drive  # the shaft that starts at it turns it the other way round
    assert np.linalg.norm(turned) == pytest.approx(total * radius / job.proving.levels.final_drive, rel=0.02)
    assert mounts.mount_loads(job) == ()


def test_a_part_that_carries_load_stiffens_and_needs_its_mounts() -> None:
    job = sample("fell-litter")
    engine = next(p for p in job.parts if p.kind == "engine")
    with pytest.raises(Problem, match="no joint is tied to its holes"):
        stiffness.answer(typed(job, f"stress {engine.id} rigid"))
    tied = _mounted(job, engine)
    soft, stiff = (stiffness.answer(typed(tied, f"stress {engine.id} {how}")).torsion for how in ("500", "rigid"))
    assert stiffness.answer(tied).torsion < soft < stiff
    assert stiffness.answer(
        typed(tied, f"stress {engine.id} rigid", f"stress {engine.id} gone")
    ).torsion == pytest.approx(stiffness.answer(job).torsion)


def test_a_chain_opens_only_by_what_moves_its_sprockets_against_each_other() -> None:
    job = sample("sandpiper")
    told = strength.tube_strength(job)
    nodes = np.array([j.place for j in job.joints])
    rigid = rigid_motions(nodes) @ np.array([3.0, -2, 1, 0.01, -0.02, 0.015])
    whole = np.repeat(rigid.reshape(len(nodes), 6, 1), len(told.cases), axis=2)
    line = next(m for m in strength.moves(job, replace(told, u=whole)) if m.what == "line of Final drive")
    assert line.mm == pytest.approx(0, abs=1e-9)
    assert line.angle == pytest.approx(0, abs=1e-12)
    bent = whole.copy()
    bent[nodes[:, 0] < -2200, 1] += 1.5  # the axle's end of the frame goes aside
    line = next(m for m in strength.moves(job, replace(told, u=bent)) if m.what == "line of Final drive")
    assert line.mm > 0.1


def test_a_chain_takes_hold_of_the_engines_mounts_and_the_axles_bearings() -> None:
    job = sample("skerry")
    engine, bearings = ({job.joints[n].id for n in rows} for rows in cases.chain_joints(job, job.chains[0]))
    assert engine == {"J6", "J12R", "J5R", "J7R"}  # nearest to the engine, which hangs right of the middle
    assert {"J5L", "J7L", "J5R", "J7R"} < bearings  # 150 mm left and right of the middle
    pushes = {p.what: set(p.joints) for p in _case(job, "acceleration").pushes}
    assert pushes["Final drive on the engine"] == engine
    assert pushes["Final drive on the driven shaft"] == bearings
    line = next(m for m in strength.moves(job, strength.tube_strength(job)) if m.what == "line of Final drive")
    assert 0 < line.mm < 1
    bare = job.but(parts=tuple(p for p in job.parts if p.kind != "engine"))
    assert {job.joints[n].id for n in cases.chain_joints(bare, job.chains[0])[0]} == {"J5L", "J12L", "J6", "J7L"}


def flat_ladder() -> Job:
    """Rails and rungs in one plane, so that a vertical load pushes no tube along its own line."""
    job = typed(Job(), "joint 0 300 200", "joint -600 300 200", "joint -1200 300 200")
    for a, b in (("J1L", "J2L"), ("J2L", "J3L"), ("J1L", "J1R"), ("J2L", "J2R"), ("J3L", "J3R")):
        job = typed(job, f"tube {a} {b} 38 x 2")
    return edits.add_pickup(edits.add_pickup(job, "J1L", "front"), "J3L", "rear")


def test_a_flat_frame_under_a_vertical_load_has_strength_and_does_not_buckle() -> None:
    job = typed(flat_ladder(), "case Middle: J2L z-1 kN, J2R z-1 kN held J1L J1R J3L")
    assert [c.name for c in strength.tube_strength(job).cases] == ["Middle"]
    assert math.isinf(vibration.collapses(job)[0].factor)


def test_a_post_that_hangs_free_at_one_end_is_a_column_of_twice_its_length() -> None:
    """Euler of a cantilever, π²EI/(2L)², of which the buckling of the whole is the independent road."""
    job = typed(flat_ladder(), "joint 0 300 1700 alone", "tube J1L J2R 38 x 2")
    top = job.joints[-1].id
    job = typed(job, f"tube J1L {top} 25 x 1.5", f"case AppliedLoad: {top} z-1 kN held J1L J2L J1R")
    told = strength.tube_strength(job)
    post = next(t for t in told.tubes if top in job.tube(t.tube).ends)
    i, area = math.pi / 64 * (25**4 - 22**4), math.pi / 4 * (25**2 - 22**2)
    m = job.material(job.tube(post.tube).material)
    euler = math.pi**2 * m.e * i / 3000**2
    assert euler / area < m.yield_strength / 2
    row = list(job.tube_by_id).index(post.tube)
    assert told.uses[2, row, 0] == pytest.approx(1000 / euler, rel=0.02)
    assert 1 / vibration.collapses(job)[0].factor == pytest.approx(told.uses[2, row, 0], rel=0.1)


def test_a_rigid_fixture_reads_stiffer_than_pickups_that_may_move_against_each_other(demo: Job) -> None:
    told = stiffness.answer(demo)
    assert told.clamped is not None
    several = any(len(names) > 1 for corner, names in told.corners.items() if corner.startswith("rear"))
    assert told.clamped > told.torsion * (1.01 if several else 1 - 1e-9)
    assert any("mean of the rear left pickups" in a for a in told.assumptions)


def test_a_twist_read_at_both_ends_is_less_sure_by_root_two() -> None:
    ends = {}
    for words in ("", " rear 0.01"):
        job = typed(
            sample("sandpiper"),
            "reading lever 1000",
            *(f"reading {kg} kg front {kg * 0.011:.4f}{words}" for kg in (10, 20, 30, 40)),
        )
        ends[words] = measured.measured_frame(job).measured
    relative = [m.spread / m.stiffness for m in ends.values()]
    assert relative[1] / relative[0] == pytest.approx(math.sqrt(2), rel=1e-3)
