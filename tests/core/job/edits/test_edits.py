"""Edits keep left and right one, refuse what can't be, and undo to the same job."""

import random
import sys
from threading import Event, Thread

import pytest

from ironcage.core.job import edits
from ironcage.core.job.store.history import History
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.references import check_references
from ironcage.problem import Problem
from tests.core.job.edits import walk


@pytest.mark.parametrize("seed", range(4))
def test_random_edits_each_undone_and_redone_give_equal_jobs(seed: int, sandpiper: Job) -> None:
    """Four builders, 125 finished edits each: 500 in all, from an empty table and from the demo."""
    rng = random.Random(seed)
    history = History.start(sandpiper if seed % 2 else Job())
    done = 0
    while done < 125:
        before = history.job
        made = walk.step(before, rng)
        if made is None or made.job is before:
            continue
        history = history.done(made.name, made.job)
        after = history.job
        assert Job.model_validate(after.model_dump()) == after  # what an edit makes is as sound as what a file holds
        history = history.undone()
        assert history.job == before
        assert history.redo_name == made.name
        history = history.redone()
        assert history.job == after
        done += 1
    for _ in range(done):
        history = history.undone()
    assert history.job == (sandpiper if seed % 2 else Job())
    assert not history.undo_name


@pytest.mark.parametrize("seed", range(3))
def test_the_frame_stays_mirrored_whatever_is_done_without_parting(seed: int) -> None:
    rng = random.Random(100 + seed)
    job = Job()
    for _ in range(250):
        made = walk.step(job, rng)
        if made and not made.name.startswith(("Part", "Pair")) and all(j.twin for j in made.job.joints):
            job = made.job
    assert len(job.joints) > 4
    for j in job.joints:
        other = job.joint_by_id[j.twin or ""]
        assert (j.x, -j.y, j.z) == pytest.approx(other.place, abs=1e-9)
        assert other.twin == j.id


def test_one_edit_serves_both_sides(box: Job) -> None:
    moved = edits.move(box, ["J2L"], dx=10, dy=5, dz=-20)
    assert moved.joint("J2L").place == (10, 305, 480)
    assert moved.joint("J2R").place == (10, -305, 480)
    assert edits.move(box, ["J2R"], dy=-5).joint("J2L").y == 305
    both = edits.change_tubes(box, ["T3L"], section="25 x 2 round", roll=0.5)
    assert {both.tube(t).section for t in ("T3L", "T3R")} == {"25 x 2 round"}
    assert (both.tube("T3L").roll, both.tube("T3R").roll) == (0.5, -0.5)
    gone = edits.delete(box, ["J2L"])
    assert "J2R" not in gone.joint_by_id
    assert len(gone.tubes) == len(box.tubes) - 5  # two uprights, two rails and the cross tube
    split = edits.split(box, "T3L", 0.25)
    assert split.joint("J5L").place == pytest.approx((-300, 300, 200))
    assert split.joint("J5R").place == pytest.approx((-300, -300, 200))
    assert len(split.tubes) == len(box.tubes) + 2


def test_a_parted_joint_goes_alone_and_can_be_paired_again(box: Job) -> None:
    parted = edits.unpair(box, ["J2R"])
    alone = edits.move(parted, ["J2L"], dz=30)
    assert alone.joint("J2R").z == 500
    with pytest.raises(Problem, match="do not stand opposite"):
        edits.pair(alone, "J2L", "J2R")
    assert edits.pair(parted, "J2L", "J2R") == box


def test_merging_moves_tubes_and_drops_the_one_between(box: Job) -> None:
    merged = edits.merge(box, "J1L", "J2L")
    assert "J2L" not in merged.joint_by_id
    assert "J2R" not in merged.joint_by_id
    assert merged.tube("T4L").ends == ("J1L", "J4L")
    assert len({frozenset(t.ends) for t in merged.tubes}) == len(merged.tubes)
    check_references(merged)


@pytest.mark.parametrize(
    ("act", "says"),
    [
        (
            lambda job: edits.add_tube(job, "J1L", "J1L", "30 x 1.5 round", "Drawn mild steel tube"),
            "cannot start and end at J1L",
        ),
        (lambda job: edits.add_tube(job, "J1L", "J2L", "30 x 1.5 round", "Drawn mild steel tube"), "T1L already joins"),
        (
            lambda job: edits.add_tube(job, "J1L", "J3R", "30 x 1.6 round", "Drawn mild steel tube"),
            "no section ‘30 x 1.6 round’. The nearest is 30 x 1.5 round",
        ),
        (lambda job: edits.add_tube(job, "J1L", "J9L", "30 x 1.5 round", "Drawn mild steel tube"), "no joint ‘J9L’"),
        (lambda job: edits.add_joint(job, (0.2, 300, 200)), "would land on J1L"),
        (lambda job: edits.put(job, ["J1L"], y=0.1), "J1R would land on J1L|J1L would land on J1R"),
        (lambda job: edits.split(job, "T1L", 1.0), "outside its length"),
        (lambda job: edits.delete(job, []), "Nothing is chosen"),
        (lambda job: edits.add_pickup(job, "J1L"), "is a pickup already"),
        (lambda job: edits.merge(job, "J1L", "J1L"), "with itself"),
        (lambda job: edits.set_through(job, "J1L", "T2L"), "does not meet"),
    ],
)
def test_what_cannot_be_is_refused_by_name_and_changes_nothing(act, says: str, box: Job) -> None:
    before = box.model_dump()
    with pytest.raises(Problem, match=says):
        act(box)
    assert box.model_dump() == before


def test_a_value_is_changed_while_another_thread_works_out_what_it_keeps(sandpiper: Job) -> None:
    tube, done = sandpiper.tubes[0], Event()

    def keep() -> None:
        while not done.is_set():
            assert not tube.shaped
            vars(tube).pop("shaped")

    interval = sys.getswitchinterval()
    sys.setswitchinterval(1e-5)
    keeping = Thread(target=keep)
    keeping.start()
    try:
        assert all(tube.but(roll=n * 1e-5).roll == n * 1e-5 for n in range(8000))
    finally:
        done.set()
        keeping.join()
        sys.setswitchinterval(interval)


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        (lambda job: {"joints": job.joints[1:]}, "which this job does not have"),
        (lambda job: {"joints": (*job.joints, job.joints[0])}, "Two joints are called J1L"),
        (lambda job: {"joints": (job.joints[0].but(twin="J2R"), *job.joints[1:])}, "but not the other way round"),
        (lambda job: {"tubes": (*job.tubes[:-1], job.tubes[-1].but(section="38 x 9"))}, "section ‘38 x 9’"),
        (lambda job: {"tubes": (job.tubes[0].but(b=job.tubes[0].a), *job.tubes[1:])}, "starts and ends at"),
        (lambda job: {"tubes": (*job.tubes, job.tubes[3])}, "Two tubes are called"),
        (
            lambda job: {
                "shelf": job.shelf.but(sections=tuple(s for s in job.shelf.sections if s.name != job.tubes[0].section))
            },
            "names section",
        ),
        (
            lambda job: {
                "shelf": job.shelf.but(
                    materials=tuple(m for m in job.shelf.materials if m.name != job.tubes[0].material)
                )
            },
            "names material",
        ),
        (lambda job: {"pickups": (job.pickups[0].but(joint="J9L"), *job.pickups[1:])}, "names joint ‘J9L’"),
        (lambda job: {"brief": job.brief.but(shown_from="post")}, "names datum ‘post’"),
    ],
)
def test_a_changed_job_is_refused_as_the_whole_of_it_would_be(changes, says: str, box: Job) -> None:
    """Only what is other is looked into: it must not let through what a look at everything refuses."""
    kept = {name: getattr(box, name) for name in Job.model_fields}
    with pytest.raises(Problem, match=says) as part:
        box.but(**changes(box))
    with pytest.raises(Problem) as whole:
        check_references(Job.model_construct(**kept | changes(box)))
    assert str(part.value) == str(whole.value)
