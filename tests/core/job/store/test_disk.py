"""Work is never lost: every write failed once, killed while saving, changed by another, odd names and odd disks."""

import errno
import json
import os
import random
import signal
import stat
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pytest

from ironcage.cli.main import main
from ironcage.core.calc.solids.triangles import Triangles
from ironcage.core.job import edits
from ironcage.core.job.store import disk, file, scans
from ironcage.core.job.store.journal import Journal, drop, left_behind
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Part, Scan
from ironcage.problem import Problem
from tests.core.lines import typed

ROOT = Path(__file__).parents[4]
CALLS = ("write", "fsync", "replace", "unlink", "open", "link", "mkdir", "fchmod")

SAVER = """
import sys
from pathlib import Path
from ironcage.core.job.store import file
from ironcage.samples import sample
path, job = Path(sys.argv[1]), sample("skerry")
n = 0
while True:
    n += 1
    file.save(job.but(brief=job.brief.but(name=f"Skerry {n}")), path)
    print(n, flush=True)
"""


def with_scan(job: Job) -> Job:
    mesh = Triangles(np.eye(3, dtype=np.float32) * 100, np.array([[0, 1, 2]], dtype=np.int32))
    shape = Scan(digest=scans.keep(mesh), triangles=1, low=(0, 0, 0), high=(100, 100, 100))
    return job.but(parts=(*job.parts, Part(id="B1", name="Part", kind="other", shape=shape, x=0, y=0, z=0)))


class Failing:
    """Lets the nth call of what writes fail with an error of the disk."""

    def __init__(self, monkeypatch: pytest.MonkeyPatch, at: int) -> None:
        self.left, self.hit = at, False
        for name in CALLS:
            monkeypatch.setattr(os, name, self.wrapped(getattr(os, name)))

    def wrapped(self, call):
        def asked(*args, **more):
            self.left -= 1
            if self.left == 0:
                self.hit = True
                raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
            return call(*args, **more)

        return asked


def test_every_write_failed_once_leaves_the_old_or_the_new_file_and_nothing_lying_about(
    box: Job, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    job = with_scan(box)
    moved = edits.move(job, ["J1L"], dz=10)
    hits = 0
    for at in range(1, 60):
        folder = tmp_path / f"try {at}"
        folder.mkdir()
        path = folder / "car.cage"
        digest = file.save(job, path)
        with monkeypatch.context() as patch:
            failing = Failing(patch, at)
            try:
                file.save(moved, path, expected=digest)
                saved = True
            except Problem:
                saved = False
        hits += failing.hit
        assert file.read(path) == (moved if saved else job), at
        names = {p.name for p in folder.iterdir()}
        assert names <= {"car.cage", "car.cage~", "car.cage.scans"}, at
        file.save(moved, path)  # and the next save works, whatever failed before
        assert file.read(folder / "car.cage~") in (job, moved)
    assert hits > 8


def test_killed_while_saving_the_file_is_whole_and_the_next_save_tidies_up(tmp_path: Path) -> None:
    rng, path = random.Random(3), tmp_path / "car.cage"
    for _ in range(5):
        worker = subprocess.Popen([sys.executable, "-c", SAVER, str(path)], stdout=subprocess.PIPE, text=True, cwd=ROOT)
        assert worker.stdout
        worker.stdout.readline()
        time.sleep(rng.random() * 0.08)
        worker.send_signal(signal.SIGKILL)
        worker.wait()
        worker.stdout.close()
        assert file.read(path).brief.name.startswith("Skerry ")
    file.save(file.read(path), path)
    assert {p.name for p in tmp_path.iterdir() if p.is_file()} == {"car.cage", "car.cage~"}


def test_what_a_kill_between_both_names_of_a_file_leaves_goes_with_the_next_save(box: Job, tmp_path: Path) -> None:
    path = tmp_path / "car.cage"
    file.save(box, path)
    os.link(path, tmp_path / ".car.cage~.667.new")  # the file had its second name, and not yet as what it is kept as
    file.save(box.but(brief=box.brief.but(name="Tern")), path)
    assert {p.name for p in tmp_path.iterdir() if p.is_file()} == {"car.cage", "car.cage~"}


def test_a_file_that_another_wrote_is_not_saved_over_unasked(box: Job, tmp_path: Path) -> None:
    path = tmp_path / "car.cage"
    file.save(box, path)
    mine = file.opened(path)
    theirs = edits.move(box, ["J1L"], dz=5)
    file.save(theirs, path)
    with pytest.raises(file.ChangedOnDisk, match=r"car.cage has been changed by another window or program"):
        file.save(edits.move(mine.job, ["J1L"], dz=10), path, expected=mine.digest)
    kept = file.keep_other(path)
    assert kept.name == "car (other version).cage"
    assert file.keep_other(path).name == "car (other version 2).cage"
    assert file.read(kept) == file.read(path) == theirs


def test_modes_links_and_disks_without_second_names(box: Job, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "car.cage"
    file.save(box, path)
    path.chmod(0o600)
    link = tmp_path / "link.cage"
    link.symlink_to(path)
    file.save(edits.move(box, ["J1L"], dz=10), link)
    assert link.is_symlink()
    assert stat.S_IMODE(path.stat().st_mode) == 0o600

    def none(*args, **more) -> None:
        raise OSError(errno.EPERM, "no second names here")

    monkeypatch.setattr(os, "link", none)
    older = file.read(path)
    file.save(box, path)
    assert file.read(tmp_path / "car.cage~") == older


@pytest.mark.parametrize(
    ("target", "says"),
    [("", "no name for a file|is a folder"), ("/", "no name for a file|is a folder"), (".", "is a folder|no name")],
)
def test_an_export_to_what_is_no_file_is_refused(target: str, says: str, box: Job, tmp_path: Path, capsys) -> None:
    import re

    job = tmp_path / "car.cage"
    file.save(box, job)
    assert main(["export", "joints-csv", str(job), target]) == 2
    assert re.search(says, capsys.readouterr().err)


def test_an_export_does_not_write_over_a_job_and_a_device_stays_one(box: Job, tmp_path: Path, capsys) -> None:
    job = tmp_path / "car.cage"
    file.save(box, job)
    for target in (job, tmp_path / "other.CAGE"):
        assert main(["export", "joints-csv", str(job), str(target)]) == 2
        assert "is a job, and joints-csv would be written over it" in capsys.readouterr().err
    assert file.read(job) == box
    assert main(["export", "joints-csv", str(job), "/dev/null"]) == 0
    assert stat.S_ISCHR(Path("/dev/null").stat().st_mode)
    assert main(["export", "joints-csv", str(job), "/dev/full"]) == 2
    assert "No space left" in capsys.readouterr().err


def test_names_that_are_no_utf8_are_saved_recovered_and_told(box: Job, tmp_path: Path, capsys) -> None:
    path = Path(os.fsdecode(os.fsencode(tmp_path) + b"/caf\xe9.cage"))
    file.save(box, path)
    assert file.read(path) == box
    journal = Journal(tmp_path / "recovery", box, path)
    journal.record(edits.move(box, ["J1L"], dz=10))
    journal.close(discard=False)
    (lost,) = left_behind(tmp_path / "recovery")
    assert lost.file == path
    assert main(["check", str(path) + "x"]) == 2
    assert "caf" in capsys.readouterr().err


def test_more_than_a_job_holds_is_refused_when_typed_and_left_out_with_a_word_when_read(
    box: Job, tmp_path: Path
) -> None:
    job = box
    for n in range(100):
        job = typed(job, f"line L{n} z {n}")
    document = json.loads(file.to_text(job))
    row = document["job"]["lines"][0]
    document["job"]["lines"] = [{**row, "name": f"L{n}"} for n in range(303)]
    path = tmp_path / "many.cage"
    path.write_text(json.dumps(document))
    found = file.opened(path)
    assert (len(found.job.lines), found.said) == (300, ("3 of 303 lines were left out: a job holds 300.",))
    with pytest.raises(Problem, match="A job holds 300 lines at most"):
        typed(found.job, "line one more z 5")


def journal_of(folder: Path, job: Job, steps: int) -> Path:
    journal = Journal(folder, job, None)
    for n in range(steps):
        journal.record(edits.move(job, ["J1L"], dz=10 * (n + 1)))
    journal.close(discard=False)
    return journal.path


def test_spoilt_journals_stop_nothing_and_are_put_aside(box: Job, tmp_path: Path) -> None:
    good = journal_of(tmp_path, box, 3)
    (tmp_path / "notes.journal").write_text("[1, 2]\n")
    (tmp_path / "5-5.journal").write_text('{"job": 7, "file": ""}\n')
    (tmp_path / "6-6.journal").write_bytes(b'{"job": "{')
    flipped = journal_of(tmp_path, box, 3)
    data = bytearray(flipped.read_bytes())
    data[-20] ^= 0xFF
    flipped.write_bytes(data)
    found = {lost.journal: lost for lost in left_behind(tmp_path)}
    assert found[good].edits == 3
    assert found[good].whole
    assert (found[flipped].edits, found[flipped].whole) == (2, False)
    for lost in found.values():
        drop(lost)
    assert {p.name for p in tmp_path.iterdir() if p.name != "home"} == {
        "notes.spoilt",
        "5-5.spoilt",
        flipped.with_suffix(".spoilt").name,
    }


def test_a_journal_is_offered_whatever_number_is_in_its_name_and_not_while_it_is_written(
    box: Job, tmp_path: Path
) -> None:
    """After a restart another program may have the number; the system's lock tells, not the number."""
    path = journal_of(tmp_path, box, 1)
    path = path.rename(tmp_path / "1-77.journal")  # a number that always runs
    running = Journal(tmp_path, box, None)
    running.record(edits.move(box, ["J1L"], dz=10))
    assert [lost.journal for lost in left_behind(tmp_path)] == [path]
    running.close(discard=True)


def test_a_journal_that_fails_starts_again_when_the_disk_is_back(
    box: Job, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    journal = Journal(tmp_path / "r", box, None)
    one, two, three = (edits.move(box, ["J1L"], dz=d) for d in (10, 20, 30))
    journal.record(one)
    with monkeypatch.context() as patch:
        patch.setattr(journal, "_write", lambda line: (_ for _ in ()).throw(OSError(28, "No space left on device")))
        journal.record(two)
        assert "No space left on device" in journal.fault
    journal.record(three)
    assert not journal.fault
    journal.close(discard=False)
    assert next(lost.job for lost in left_behind(tmp_path / "r")) == three


def test_a_scan_beside_a_job_is_what_it_says_or_is_told(
    box: Job, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    job, path = with_scan(box), tmp_path / "car.cage"
    file.save(job, path)
    digest = job.parts[-1].shape.digest  # type: ignore[union-attr]
    beside = tmp_path / "car.cage.scans" / f"{digest}.npz"
    whole = beside.read_bytes()

    def elsewhere(name: str) -> file.Opened:
        monkeypatch.setenv("IRONCAGE_HOME", str(tmp_path / name))
        return file.opened(path)

    assert elsewhere("one").said == ()
    assert scans.triangles(digest) is not None
    beside.write_bytes(whole[:-40])
    assert "does not hold what this job was saved with" in elsewhere("two").said[0]
    assert scans.triangles(digest) is None
    other = Triangles(np.eye(3, dtype=np.float32) * 70, np.array([[0, 1, 2]], dtype=np.int32))
    np.savez(beside, points=other.points, faces=other.faces)
    assert "does not hold what this job was saved with" in elsewhere("three").said[0]
    beside.unlink()
    assert "is missing" in elsewhere("four").said[0]
    beside.write_bytes(whole)
    assert elsewhere("four").said == ()  # one that was missing and has come is taken up
    assert scans.triangles(digest) is not None
    real = tmp_path / "real"
    beside.parent.rename(real)
    (tmp_path / "car.cage.scans").symlink_to(real)
    assert "is a link and was not followed" in elsewhere("five").said[0]


def test_a_scan_that_can_not_be_laid_beside_stops_the_save_before_anything_is_written(box: Job, tmp_path: Path) -> None:
    path = tmp_path / "car.cage"
    file.save(box, path)
    (tmp_path / "car.cage.scans").write_text("in the way")
    with pytest.raises(Problem, match=r"car.cage.scans could not be made"):
        file.save(with_scan(box), path)
    assert file.read(path) == box


@pytest.mark.parametrize("device", ["/dev/zero", "/dev/null", "."])
def test_what_is_no_plain_file_is_no_job(device: str) -> None:
    with pytest.raises(Problem, match="so not a job"):
        file.read(Path(device))


@pytest.mark.parametrize(
    "text",
    [
        '{"format": "ironcage job", "version": 5, "job": {"joints": [' + "{}," * 300_000 + "{}]}}",
        '{"format": "ironcage job", "version": 5, "job": {"joints": [' + "{}," * 3_000_000 + "{}]}}",
        '{"format": "ironcage job", "version": 5, "job": {' + ",".join(f'"k{n}": 1' for n in range(100_000)) + "}}",
    ],
)
def test_a_job_of_nothing_but_rows_is_refused_in_bounded_memory(text: str, tmp_path: Path) -> None:
    import tracemalloc

    tracemalloc.start()
    with pytest.raises(Problem) as refused:
        file.from_text(text, "odd.cage")
    _, most = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert most < 40 * len(text) + 100e6
    assert len(str(refused.value)) < 300


def test_disk_names_are_tidied_and_nothing_else(tmp_path: Path) -> None:
    kept = tmp_path / ".car.cage.notes"
    kept.write_text("mine")
    (tmp_path / ".car.cage.123.new").write_text("half")
    disk.write_atomically(tmp_path / "car.cage", b"whole")
    assert {p.name for p in tmp_path.iterdir() if p.name != "home"} == {".car.cage.notes", "car.cage"}
