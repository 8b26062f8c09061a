"""The recovery journal: after each edit, what changed is on the disk before the next key is read.

A journal is a file of JSON lines in the recovery folder. The first holds the whole job and where its file
is; each later line holds only the parts that differ from the job before, so that an edit of a 5,000-tube
job writes a few hundred bytes. A line cut off by a power cut is ignored; everything before it counts.
"""

import contextlib
import json
import os
import threading
import time
from collections import deque
from collections.abc import Iterator
from dataclasses import dataclass
from operator import attrgetter
from pathlib import Path
from typing import Any, TextIO

from ironcage.core.job.store.disk import in_use, lock
from ironcage.core.job.store.file import from_text, to_text
from ironcage.core.job.values.model import Job, Value
from ironcage.problem import Problem

MOST_BACK = 64  # steps gone back over where the last can't be read
MOST_BYTES = 512 * 2**20  # of a journal: a large job and thousands of edits

# lists of the job that are written item by item, and what tells their items apart
_LISTS = {
    **dict.fromkeys(
        (
            "joints",
            "tubes",
            "pickups",
            "wheels",
            "masses",
            "parts",
            "people",
            "chains",
            "shafts",
            "pictures",
            "patterns",
            "fittings",
        ),
        "id",
    ),
    **dict.fromkeys(("variants", "lines"), "name"),
}


class Journal:
    """A journal being written. `record` hands each line to the system at once, so it survives the program being
    killed; a thread asks the disk to keep it (fsync), so that it survives a power cut without the window waiting. A
    disk that is full or gone is told by `fault`, never raised: the edit itself stands, and the next one tries again
    with a journal of its own. The system's lock on the file tells other windows that it is in use."""

    def __init__(self, folder: Path, job: Job, path: Path | None, digest: str | None = None) -> None:
        self.fault = ""
        self._folder, self._file, self._digest = folder, path, digest
        self._job = job
        self._stream: TextIO | None = None
        self._wake = threading.Event()
        self._ending = False
        self._begin()
        self._syncer = threading.Thread(target=self._sync, name="journal", daemon=True)
        self._syncer.start()

    def _begin(self) -> None:
        """Start a file with the whole job in it."""
        self.path = self._folder / f"{os.getpid()}-{time.time_ns()}.journal"
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            self._stream = self.path.open("w", encoding="utf-8", errors="surrogateescape")
            lock(self._stream)
            self._write(
                {"file": str(self._file) if self._file else "", "digest": self._digest, "job": to_text(self._job)}
            )
        except OSError as error:
            self._fail(error)
        else:
            self.fault = ""

    def record(self, job: Job) -> None:
        """Keep the step from the last recorded job to this one."""
        before, self._job = self._job, job
        if self._stream is None:
            self._begin()  # with all of the job as it is now; the line that follows marks it as unsaved
            before = job
        try:
            self._write(changes(before, job))
        except OSError as error:
            self._fail(error)

    def close(self, *, discard: bool) -> None:
        """Stop; `discard` when everything in it is saved or was given up on purpose."""
        self._ending = True
        self._wake.set()
        self._syncer.join()
        if discard:
            self._remove()
        if self._stream:
            with contextlib.suppress(OSError):
                self._stream.close()

    def _remove(self) -> None:
        with contextlib.suppress(OSError):
            self.path.unlink(missing_ok=True)

    def _write(self, line: dict[str, Any]) -> None:
        if self._stream:
            self._stream.write(json.dumps(line, ensure_ascii=False) + "\n")
            self._stream.flush()
            self._wake.set()

    def _fail(self, error: OSError) -> None:
        """Give the file up. What it holds whole stays for recovery; one without its first line goes."""
        self.fault = f"Recovery is off: {self._folder} cannot be written ({error.strerror or error})."
        stream, self._stream = self._stream, None
        if stream:
            with contextlib.suppress(OSError):
                stream.close()
        with contextlib.suppress(OSError):
            if b"\n" not in self.path.read_bytes():
                self._remove()

    def _sync(self) -> None:
        while not self._ending:
            self._wake.wait()
            self._wake.clear()
            stream = self._stream
            if stream and not stream.closed:
                with contextlib.suppress(OSError, ValueError):
                    os.fsync(stream.fileno())


def changes(before: Job, after: Job) -> dict[str, Any]:
    """What differs between two jobs, as neutral JSON; parts that are the same object are not looked into."""
    line: dict[str, Any] = {}
    for name in Job.model_fields:
        old, new = getattr(before, name), getattr(after, name)
        if old is new:
            continue
        if name not in _LISTS:
            line[name] = _neutral(new)
            continue
        key = attrgetter(_LISTS[name])
        held = {key(v): v for v in old}
        names, before_names = [key(v) for v in new], [key(v) for v in old]
        line[name] = {
            "order": names if names != before_names else None,
            "put": [v.model_dump(mode="json") for v in new if held.get(key(v)) is not v],
        }
    return line


def _neutral(part: Any) -> Any:
    """A part of a job as neutral JSON, a short list of values whole."""
    if isinstance(part, tuple):
        return [_neutral(v) for v in part]
    return part.model_dump(mode="json") if isinstance(part, Value) else part


def applied(body: dict[str, Any], line: dict[str, Any]) -> dict[str, Any]:
    """The neutral JSON of a job with a journal line applied to it."""
    body = dict(body)
    for name, change in line.items():
        if name not in _LISTS:
            body[name] = change
            continue
        key = _LISTS[name]
        held = {v[key]: v for v in body[name]} | {v[key]: v for v in change["put"]}
        order = change["order"] if change["order"] is not None else [v[key] for v in body[name]]
        body[name] = [held[i] for i in order]
    return body


@dataclass(frozen=True)
class Recovered:
    """A job found in a journal: where its file is (None if never saved) and the digest it then had, how many edits
    were not saved, and whether all of the journal could be read."""

    job: Job
    file: Path | None
    digest: str | None
    edits: int
    journal: Path
    when: float
    whole: bool


def left_behind(folder: Path) -> Iterator[Recovered]:
    """The unsaved work of programs that are no longer running, newest first.

    A journal without edits holds nothing that the file does not, and is removed, as is one without its first line; one
    that can't be read is put aside as `.spoilt` for whoever can make something of it.
    """
    for path in _journals(folder):
        if in_use(path):
            continue
        try:
            recovered = replayed(path)
        except (Problem, OSError):
            with contextlib.suppress(OSError):
                _put_aside(path)
            continue
        if recovered.edits:
            yield recovered
        else:
            with contextlib.suppress(OSError):
                path.unlink()


def _journals(folder: Path) -> list[Path]:
    """The journals in a folder, the newest first; none in one that can't be looked into."""
    found = []
    try:
        for path in folder.glob("*.journal"):
            with contextlib.suppress(OSError):
                found.append((path.stat().st_mtime, path))
    except OSError:
        return []
    return [path for _, path in sorted(found, reverse=True)]


def _put_aside(path: Path) -> None:
    """Take a journal that can't be read out of the way; one that never got its first line goes."""
    if b"\n" in path.read_bytes()[:MOST_BYTES]:
        path.replace(path.with_suffix(".spoilt"))
    else:
        path.unlink()


def drop(lost: Recovered) -> None:
    """Let left-behind work go: its journal is removed, or put aside where a part of it could not be read. Raises
    Problem when the folder can't be written."""
    try:
        if lost.whole:
            lost.journal.unlink(missing_ok=True)
        else:
            lost.journal.replace(lost.journal.with_suffix(".spoilt"))
    except FileNotFoundError:
        return
    except OSError as error:
        raise Problem(
            f"{lost.journal.name} can't be removed from {lost.journal.parent}: {error.strerror or error}.",
            where=lost.journal.name,
        ) from None


def replayed(path: Path) -> Recovered:
    """Read a journal back, as far as it can be read. Raises Problem when not even its first line can."""
    held = path.stat()
    if held.st_size > MOST_BYTES:
        raise Problem(f"{path.name} is over {MOST_BYTES // 2**20} MB, too large for a journal.", where=path.name)
    lines = path.read_text("utf-8", "surrogateescape").split("\n")
    try:
        first = json.loads(lines[0])
        job_text, file, digest = first["job"], first["file"], first.get("digest")
        document = json.loads(job_text)
        body = document["job"]
        usable = isinstance(body, dict) and isinstance(file, str) and isinstance(digest, str | None)
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
        usable = False
    if not usable:
        raise Problem(f"{path.name} holds no job.", where=path.name)
    bodies, steps = deque([body], maxlen=MOST_BACK), 0
    for text in lines[1:]:
        try:
            bodies.append(applied(bodies[-1], json.loads(text)))
        except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
            break
        steps += 1
    whole = steps >= len([text for text in lines[1:] if text])
    while True:
        try:
            job = from_text(json.dumps({**document, "job": bodies[-1]}), path.name)
        except Problem:  # a step that was spoilt and could still be read: the one before it then
            bodies.pop()
            if not bodies:
                raise
            steps, whole = steps - 1, False
            continue
        return Recovered(job, Path(file) if file else None, digest, steps, path, held.st_mtime, whole)
