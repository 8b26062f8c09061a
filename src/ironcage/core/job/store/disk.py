"""Files written whole or not at all, told apart by what they hold, and locked while they are in use.

A file is written beside its target under a name that starts with a dot and ends in `.new`, locked by the system
meanwhile, and then takes the target's place. What a killed program leaves behind is therefore not locked, and goes when
the same file is written next.
"""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
import shutil
import stat
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import IO, BinaryIO

from ironcage.problem import Problem

NEW = ".new"
USUAL_MODE = 0o666  # less what the user's mask takes away


def digest_of(data: bytes) -> str:
    """What tells contents apart: SHA-256 as text."""
    return hashlib.sha256(data).hexdigest()


def lock(stream: IO[bytes] | IO[str]) -> bool:
    """Lock an open file for this program until it is closed or the program ends, however it ends; whether that was
    possible."""
    try:
        fcntl.flock(stream.fileno(), fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return False
    return True


def in_use(path: Path) -> bool:
    """Whether a program holds a file's lock. A file that can't be opened counts as in use."""
    try:
        with path.open("rb") as stream:
            return not lock(stream)
    except OSError:
        return True


def tidy(folder: Path, pattern: str) -> None:
    """Remove half-written files that no program is writing any more."""
    with contextlib.suppress(OSError):
        for path in folder.glob(pattern):
            if path.is_file() and not path.is_symlink() and not in_use(path):
                path.unlink(missing_ok=True)


def settled_path(path: Path) -> Path:
    """Where a file is really written: what a link points to. Refuses a folder, and a name that is none."""
    if not path.name:
        raise Problem(f"‘{path}’ is no name for a file.", where=str(path), hint="Write for example car.cage.")
    real = Path(os.path.realpath(path))
    if real.is_dir():
        raise Problem(f"{path} is a folder.", where=path.name, hint="Name a file in it.")
    if not real.parent.is_dir():
        raise Problem(
            f"{real.name} could not be saved: there is no folder {real.parent}.",
            where=str(real.parent),
            hint="Make it first, or save somewhere else.",
        )
    return real


def write_atomically(path: Path, data: bytes, *, older: Path | None = None) -> None:
    """Write a file so that at every moment either the old or the new one is whole; its mode stays, a link's target is
    written.

    older: where the file that is replaced is kept. A device or a pipe is written to as it is. Raises Problem when the
    folder cannot be written or the disk is full; the old file is then untouched.
    """
    write_by(path, lambda stream: stream.write(data), older=older)


def write_by(path: Path, write: Callable[[BinaryIO], object], *, older: Path | None = None) -> None:
    """`write_atomically` by something that writes to a stream."""
    real = settled_path(path)
    try:
        if real.exists() and not real.is_file():
            with real.open("wb") as stream:
                write(stream)
            return
        for left in (real, older) if older is not None else (real,):
            tidy(left.parent, f".{_plain(left.name)}.*{NEW}")
        with _beside(real) as (stream, beside):
            write(stream)
            stream.flush()
            os.fsync(stream.fileno())
            if older is not None and real.exists():
                _keep(real, older)
            beside.replace(real)
        _keep_folder(real.parent)
    except OSError as error:
        raise Problem(
            f"{path.name} could not be saved in {path.parent}: {error.strerror or error}.",
            where=path.name,
            hint="What you have is still here; save it somewhere else.",
        ) from None


@contextlib.contextmanager
def _beside(real: Path) -> Iterator[tuple[BinaryIO, Path]]:
    """A locked file beside another, with its mode, which is gone again unless it took that one's place."""
    beside = real.with_name(f".{real.name[:200]}.{os.getpid()}{NEW}")
    try:
        mode = stat.S_IMODE(real.stat().st_mode) if real.exists() else None
        with beside.open("wb") as stream:
            lock(stream)
            if mode is not None:
                with contextlib.suppress(OSError):  # a disk without modes
                    os.fchmod(stream.fileno(), mode)
            yield stream, beside
    finally:
        with contextlib.suppress(OSError):
            beside.unlink(missing_ok=True)


def _keep(real: Path, older: Path) -> None:
    """Keep a file under another name as well: by a second name where the disk can, else as a copy."""
    step = older.with_name(f".{older.name[:200]}.{os.getpid()}{NEW}")
    try:
        step.unlink(missing_ok=True)
        try:
            os.link(real, step)
        except OSError:
            shutil.copy2(real, step)
        step.replace(older)
    finally:
        step.unlink(missing_ok=True)


def _keep_folder(folder: Path) -> None:
    """Have the disk keep a folder's names."""
    with contextlib.suppress(OSError):
        held = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(held)
        finally:
            os.close(held)


def _plain(name: str) -> str:
    """A name as a pattern that fits nothing else."""
    return "".join(f"[{c}]" if c in "*?[" else c for c in name[:200])
