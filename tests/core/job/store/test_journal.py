"""Killed at any moment, nothing older than the last finished edit is missing."""

import os
import random
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from ironcage.core.job import edits
from ironcage.core.job.store import file
from ironcage.core.job.store.journal import Journal, left_behind, replayed
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from tests.core.job.edits import walk

WORKER = """
import os, random, sys
from pathlib import Path
from ironcage.core.job.store.journal import Journal
from ironcage.samples import sample
from tests.core.job.edits import walk

def work(folder, seed):
    job, rng = sample("sandpiper"), random.Random(seed)
    journal = Journal(Path(folder), job, None)
    print(os.getpid(), flush=True)
    done = 0
    while True:
        made = walk.step(job, rng)
        if made is None or made.job is job:
            continue
        job = made.job
        journal.record(job)
        done += 1
        os.write(1, f"{done}\\n".encode())  # in one go: a kill may come at any moment

for line in sys.stdin:  # each is a process of its own, which need not load everything anew
    folder, seed = line.split()
    child = os.fork()
    if not child:
        work(folder, int(seed))
    os.waitpid(child, 0)
    print("killed", flush=True)
"""


def test_killed_twenty_times_at_random_nothing_finished_is_missing(tmp_path: Path, sandpiper: Job) -> None:
    rng = random.Random(7)
    root = Path(__file__).parents[4]
    with subprocess.Popen(
        [sys.executable, "-c", WORKER], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, cwd=root
    ) as workers:
        assert workers.stdin
        assert workers.stdout
        for seed in range(20):
            folder = tmp_path / str(seed)
            workers.stdin.write(f"{folder} {seed}\n")
            workers.stdin.flush()
            worker, seen = int(workers.stdout.readline()), 0
            for _ in range(rng.randrange(1, 60)):
                seen = int(workers.stdout.readline())
            os.kill(worker, signal.SIGKILL)
            while (line := workers.stdout.readline()) != "killed\n":
                seen = int(line)
            found = list(left_behind(folder))
            assert len(found) == 1
            assert found[0].edits >= seen, f"killed after {seen} edits"
            job, steps = sandpiper, random.Random(seed)
            done = 0
            while done < found[0].edits:
                made = walk.step(job, steps)
                if made and made.job is not job:
                    job, done = made.job, done + 1
            assert found[0].job == job


def test_a_line_cut_off_by_a_power_cut_is_ignored(tmp_path: Path, box: Job) -> None:
    journal = Journal(tmp_path, box, Path("/shop/box.cage"))
    moved = edits.move(box, ["J1L"], dz=10)
    journal.record(moved)
    journal.record(edits.move(moved, ["J1L"], dz=10))
    journal.close(discard=False)
    text = journal.path.read_text("utf-8")
    journal.path.write_text(text[:-20], "utf-8")
    back = replayed(journal.path)
    assert back.job == moved
    assert back.edits == 1
    assert back.file == Path("/shop/box.cage")


def test_a_disk_that_is_gone_is_told_once_and_the_edit_stands(tmp_path: Path, box: Job) -> None:
    (tmp_path / "taken").write_text("a file where the folder should be")
    journal = Journal(tmp_path / "taken", box, None)
    assert "Recovery is off" in journal.fault
    journal.record(edits.move(box, ["J1L"], dz=10))
    journal.close(discard=True)


def test_saved_work_is_not_offered_again(tmp_path: Path, box: Job) -> None:
    journal = Journal(tmp_path, box, None)
    journal.close(discard=True)
    assert not list(left_behind(tmp_path))
    (tmp_path / "0-1.journal").write_text("{}")
    with pytest.raises(Problem, match="holds no job"):
        replayed(tmp_path / "0-1.journal")
    assert not list(left_behind(tmp_path))
    assert file.from_text(file.to_text(box)) == box
