"""Laws that edits keep whatever the frame: inverses, what is preserved, and what the file keeps."""

import random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ironcage.core.answers.cut import pieces
from ironcage.core.answers.frame import symmetry
from ironcage.core.answers.prove import stiffness
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.job import edits
from ironcage.core.job.edits.following import settled
from ironcage.core.job.edits.joints import SAME_PLACE_MM, demand_room
from ironcage.core.job.geometry.routes import landings, route_of
from ironcage.core.job.store import file
from ironcage.core.job.store.history import MOST_STEPS, History
from ironcage.core.job.store.journal import applied, changes
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import _INDEXES, Job
from ironcage.core.job.values.references import check_references
from ironcage.problem import Problem
from ironcage.samples import sample
from tests.core.job.edits import walk

SANDPIPER = sample("sandpiper")
JOINTS = [j.id for j in SANDPIPER.joints]
TUBES = [t.id for t in SANDPIPER.tubes]
MM = st.integers(-60, 60).map(float)


@given(st.sampled_from(JOINTS), MM, MM)
def test_a_move_and_the_move_back_is_nothing(name: str, dx: float, dz: float) -> None:
    try:
        there = edits.move(SANDPIPER, [name], dx=dx, dz=dz)
    except Problem:
        return  # it would have landed on another joint
    back = edits.move(there, [name], dx=-dx, dz=-dz)
    for now, before in zip(back.joints, SANDPIPER.joints, strict=True):
        assert now.place == pytest.approx(before.place)
    assert back.tubes is SANDPIPER.tubes


@given(st.sampled_from(TUBES), st.floats(0.05, 0.95))
def test_a_split_keeps_length_mass_and_make(name: str, share: float) -> None:
    try:
        parts = edits.split(SANDPIPER, name, share)
    except Problem:
        return  # the new joint would have landed on one that is there
    before, after = weigh(SANDPIPER), weigh(parts)
    assert after.frame.mass == pytest.approx(before.frame.mass)
    assert float(after.lengths.sum()) == pytest.approx(float(before.lengths.sum()))
    tube = SANDPIPER.tube(name)
    fresh = [t for t in parts.tubes if t.id not in SANDPIPER.tube_by_id]
    assert fresh
    assert {(t.section, t.material, t.role) for t in fresh} == {(tube.section, tube.material, tube.role)}
    assert all(j.twin for j in parts.joints)


@given(
    st.lists(st.tuples(*3 * [st.integers(-3, 3)]), min_size=1, max_size=4),
    st.sampled_from([0.24, 0.25, 0.49, 0.5, 0.51]),
)
def test_joints_land_on_each_other_where_every_two_are_compared_and_nowhere_else(
    steps: list[tuple[int, int, int]], pace: float
) -> None:
    """Joints are looked up by the cube they stand in; whether two are one is what comparing all of them says, at the
    edges of cubes too."""
    base = SANDPIPER.joints[0].place
    places = {
        f"new{n}": (base[0] + dx * pace, base[1] + dy * pace, base[2] + dz * pace)
        for n, (dx, dy, dz) in enumerate(steps)
    }
    standing = {j.id: j.place for j in SANDPIPER.joints} | places
    hits = [
        name
        for name, place in places.items()
        for other, there in standing.items()
        if other != name and all(abs(p - q) < SAME_PLACE_MM for p, q in zip(place, there, strict=True))
    ]
    if hits:
        with pytest.raises(Problem, match=f"{hits[0]} would land on"):
            demand_room(SANDPIPER, places)
    else:
        demand_room(SANDPIPER, places)


@given(st.integers(0, 10_000))
def test_a_job_that_takes_over_how_things_are_found_finds_what_a_new_one_does(seed: int) -> None:
    rng = random.Random(seed)
    job = SANDPIPER
    for _ in range(12):
        for name in _INDEXES:
            getattr(job, name)  # kept from now on
        done = walk.step(job, rng)
        job = done.job if done else job
        fresh = Job.model_construct(**{name: getattr(job, name) for name in Job.model_fields})
        check_references(job)
        for name in _INDEXES:
            assert getattr(job, name) == getattr(fresh, name), name


@given(st.sampled_from(JOINTS))
def test_parting_and_pairing_is_nothing(name: str) -> None:
    twin = SANDPIPER.joint(name).twin
    if twin == name:
        return
    assert edits.pair(edits.unpair(SANDPIPER, [name]), name, twin) == SANDPIPER


@given(st.lists(st.sampled_from(JOINTS + TUBES), min_size=1, max_size=6, unique=True))
def test_deleting_leaves_nothing_that_names_what_is_gone(names: list[str]) -> None:
    left = edits.delete(SANDPIPER, names)
    assert Job.model_validate(left.model_dump()) == left
    for name in names:
        assert name not in left.joint_by_id
        assert name not in left.tube_by_id
        twin = SANDPIPER.joint_by_id[name].twin if name in SANDPIPER.joint_by_id else None
        assert twin is None or twin not in left.joint_by_id


@given(st.integers(0, 10_000))
def test_what_changes_between_two_jobs_makes_the_one_into_the_other(seed: int) -> None:
    """The journal's difference, applied to the neutral form of the first, is the second."""
    rng = random.Random(seed)
    before = SANDPIPER
    for _ in range(3):
        made = walk.step(before, rng)
        after = made.job if made else before
        body = applied(before.model_dump(mode="json"), changes(before, after))
        assert Job.model_validate(body) == after
        before = after


@given(st.integers(0, 10_000))
def test_any_job_comes_back_from_its_file_equal(seed: int) -> None:
    rng, job = random.Random(seed), Job()
    for _ in range(12):
        made = walk.step(job, rng)
        job = made.job if made else job
    assert file.from_text(file.to_text(job)) == job
    assert file.to_text(file.from_text(file.to_text(job))) == file.to_text(job)


def test_history_forgets_what_was_undone_before_a_new_step_and_the_oldest_beyond_its_length() -> None:
    history = History.start(Job())
    jobs = [Job(brief=Job().brief.but(name=f"Job {n}")) for n in range(4)]
    for n, job in enumerate(jobs):
        history = history.done(f"step {n}", job)
    history = history.undone().undone()
    assert (history.undo_name, history.redo_name, history.job.brief.name) == ("step 1", "step 2", "Job 1")
    history = history.done("another way", jobs[0])
    assert history.redo_name == ""
    assert history.redone() == history
    for n in range(MOST_STEPS + 10):
        history = history.done(f"more {n}", jobs[n % 4])
    assert len(history.steps) == MOST_STEPS
    for _ in range(MOST_STEPS + 5):
        history = history.undone()
    assert history.at == 0


SHAPED = (
    ("die 38 clr 114",),
    ("bend -900 700 420; -1200 700 420 fold",),
    ("kick up 60 angle 30 at 200 by fold",),
    ("jog out 40 angle 45 at 120 to 400 by fold",),
    ("land J17L z+14",),
    ("taper 30 x 2",),
    ("roll 20",),
    ("pin first",),
    ("donor",),
    ("laser",),
    ("section 45 x 2.5 round",),
    ("role side",),
    ("material chromium",),
    ("add doubler at 200, length 90, wall 2",),
    ("add insert at 200, od 33.8, wall 2, depth 40",),
    ("add tab at 200, width 40, height 40, thickness 4, hole 10",),
    ("add fish plate at 200, length 120, depth 40, thickness 3",),
    ("add crush tube at 200, od 16, bore 10",),
    ("add slip joint at 200, od 33.8, wall 2, engaged 50",),
    ("split 40%",),
    ("copy z+60",),
    ("turn 3 about y at J17L",),
)


@pytest.mark.parametrize("lines", SHAPED, ids=lambda lines: " ".join(lines[0].split()[:3]))
def test_every_shape_and_fitting_is_mirrored_undone_and_the_same_from_the_other_side(lines: tuple[str, ...]) -> None:
    """T14 is the rail ahead of the main hoop's foot J17: what is done to the left is done to the right, and doing it
    to the right does it to the left."""
    made = {}
    for side in "LR":
        job = SANDPIPER
        for line in lines:
            job = understand(
                line.replace("J17L", f"J17{side}").replace("700 420", f"{'' if side == 'L' else '-'}700 420"),
                job,
                (f"T14{side}",),
            ).job
        made[side] = job
        assert symmetry.find_unlike_sides(job) == ()
        history = History.start(SANDPIPER).done(lines[-1], job)
        assert history.undone().job is SANDPIPER
        assert history.undone().redone().job is job
        assert file.from_text(file.to_text(job), "a job") == job
        assert Job.model_validate(applied(SANDPIPER.model_dump(mode="json"), changes(SANDPIPER, job))) == job
    left, right = (weigh(made[side]) for side in "LR")
    assert left.frame.mass == pytest.approx(right.frame.mass)
    np.testing.assert_allclose(left.frame.cg, right.frame.cg, atol=1e-9)
    assert left.frame.cg[1] == pytest.approx(weigh(SANDPIPER).frame.cg[1], abs=1e-9)
    if not lines[0].startswith("copy"):  # whose copy hangs in the air
        assert stiffness.answer(made["L"]).torsion == pytest.approx(stiffness.answer(made["R"]).torsion, rel=1e-9)


@given(st.integers(0, 10_000))
def test_tied_joints_stand_where_their_ties_say_and_bent_tubes_follow_whatever_is_done(seed: int) -> None:
    rng = random.Random(seed)
    job = SHAPED_JOB
    for _ in range(4):
        made = walk.step(job, rng)
        job = made.job if made else job
        assert settled(job) is job
        for t in job.tubes:
            route = route_of(job, t)
            ends = landings(job, t)
            np.testing.assert_allclose(route.points[[0, -1]], ends, atol=1e-9)
        assert Job.model_validate(job.model_dump(mode="json")) == job
    assert pieces.answer(job).pieces if all(route_of(job, t).length > 1e-3 for t in job.tubes) else True


def _shaped_job() -> Job:
    """The demo with bends, ties and fittings in it, for a builder who does things at random."""
    job, chosen = SANDPIPER, ()
    for line in (
        "die 45 clr 135",
        "hoop main 45 x 2.5 height 900 width 900 at -900 230",
        "joint beside J1L z-60",
        "joint -1300 600 700",
        "tie 40% between J17L J21L",
        "add panel joints J9L J9R J12R J12L, thickness 1",
        "add holes host F1, count 2, diameter 40",
    ):
        done = understand(line, job, chosen)
        job, chosen = done.job, done.chosen
    return job


SHAPED_JOB = _shaped_job()
