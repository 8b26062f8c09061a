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
from collections.abc import Iterator
from dataclasses import dataclass
from operator import attrgetter
from pathlib import Path
from typing import Any, TextIO

from ironcage.core.job.file import from_text, to_text
from ironcage.core.job.model import Job, Value
from ironcage.problem import Problem

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
    """A journal being written. `record` hands each line to the system at once, so it survives the program
    being killed; a thread asks the disk to keep it (fsync), so that it survives a power cut without the window
    waiting. A disk that is full or gone is reported once by `fault`, never raised: the edit itself stands."""

    def __init__(self, folder: Path, job: Job, path: Path | None) -> None:
        self.fault = ""
        self._job = job
        self._stream: TextIO | None = None
        self._wake = threading.Event()
        self._ending = False
        self.path = folder / f"{os.getpid()}-{time.time_ns()}.journal"
        try:
            folder.mkdir(parents=True, exist_ok=True)
            self._stream = self.path.open("w", encoding="utf-8")
            self._write({"file": str(path) if path else "", "pid": os.getpid(), "job": to_text(job)})
        except OSError as error:
            self._fail(error)
        self._syncer = threading.Thread(target=self._sync, name="journal", daemon=True)
        self._syncer.start()

    def record(self, job: Job) -> None:
        """Keep the step from the last recorded job to this one."""
        try:
            self._write(changes(self._job, job))
        except OSError as error:
            self._fail(error)
        self._job = job

    def close(self, *, discard: bool) -> None:
        """Stop; `discard` when everything in it is saved or was given up on purpose."""
        self._ending = True
        self._wake.set()
        self._syncer.join()
        if self._stream:
            with contextlib.suppress(OSError):
                self._stream.close()
        if discard:
            with contextlib.suppress(OSError):
                self.path.unlink(missing_ok=True)

    def _write(self, line: dict[str, Any]) -> None:
        if self._stream:
            self._stream.write(json.dumps(line, ensure_ascii=False) + "\n")
            self._stream.flush()
            self._wake.set()

    def _fail(self, error: OSError) -> None:
        self.fault = f"Recovery is off: {self.path.parent} cannot be written ({error.strerror or error})."
        self._stream = None

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
            line[name] = new.model_dump(mode="json") if isinstance(new, Value) else new
            continue
        key = attrgetter(_LISTS[name])
        held = {key(v): v for v in old}
        names, before_names = [key(v) for v in new], [key(v) for v in old]
        line[name] = {
            "order": names if names != before_names else None,
            "put": [v.model_dump(mode="json") for v in new if held.get(key(v)) is not v],
        }
    return line


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
    """A job found in a journal: where its file is (None if never saved), how many edits were not saved."""

    job: Job
    file: Path | None
    edits: int
    journal: Path
    when: float


def left_behind(folder: Path) -> Iterator[Recovered]:
    """The unsaved work of programs that are no longer running, newest first.

    A journal without edits holds nothing that the file does not, and is removed; one that can't be read is
    left where it is.
    """
    journals = (
        sorted(folder.glob("*.journal"), key=lambda p: p.stat().st_mtime, reverse=True) if folder.is_dir() else []
    )
    for path in journals:
        pid = int(path.name.split("-")[0])
        if pid == os.getpid() or _runs(pid):
            continue
        try:
            recovered = replayed(path)
        except (Problem, OSError):
            continue
        if recovered.edits:
            yield recovered
        else:
            with contextlib.suppress(OSError):
                path.unlink()


def replayed(path: Path) -> Recovered:
    """Read a journal back. Raises Problem when not even its first line is whole."""
    lines = path.read_text("utf-8", "replace").split("\n")
    try:
        first = json.loads(lines[0])
        job_text, file = first["job"], first["file"]
    except (ValueError, KeyError, TypeError):
        raise Problem(f"{path.name} holds no job.", where=path.name) from None
    document = json.loads(job_text)
    edits = 0
    for text in lines[1:]:
        try:
            document = {**document, "job": applied(document["job"], json.loads(text))}
        except (ValueError, KeyError, TypeError):
            break
        edits += 1
    job = from_text(json.dumps(document), path.name)
    return Recovered(job, Path(file) if file else None, edits, path, path.stat().st_mtime)


def _runs(pid: int) -> bool:
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True
