"""Where scan meshes and pictures lie: in the program's own folder, by their content, and beside a saved job so that it can be shared.

A mesh is written once under a name made from what it holds; reading it again gives the same triangles, so what is read is kept.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
import shutil
import zipfile
from collections.abc import Callable
from functools import lru_cache
from pathlib import Path
from typing import BinaryIO

import numpy as np

from ironcage.core.calc.triangles import Triangles, coarse
from ironcage.core.job.model import Job
from ironcage.home import home
from ironcage.problem import Problem

MOST_BYTES = 600 * 2**20  # unpacked, of a mesh: what comes beside a job may be anything


def _folder() -> Path:
    return home() / "scans"


def _beside(job_file: Path) -> Path:
    return job_file.with_name(job_file.name + ".scans")


def _put(target: Path, write: Callable[[BinaryIO], object]) -> None:
    """Write a file whole or not at all."""
    part = target.with_name(f"{target.name}.{os.getpid()}.part")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        with part.open("wb") as stream:
            write(stream)
        part.replace(target)
    except OSError as error:
        raise Problem(
            f"{target.name} could not be kept in {target.parent}: {error.strerror or error}.", where=target.name
        ) from None


def keep(mesh: Triangles) -> str:
    """Write a mesh; the name it is kept under. Raises Problem when the disk refuses."""
    digest = hashlib.sha256(mesh.points.tobytes() + mesh.faces.tobytes()).hexdigest()[:32]
    target = _folder() / f"{digest}.npz"
    if not target.exists():
        _put(target, lambda stream: np.savez(stream, points=mesh.points, faces=mesh.faces))
    return digest


def keep_picture(data: bytes, ending: str) -> str:
    """Write a picture; the name it is kept under. Raises Problem when the disk refuses."""
    name = f"{hashlib.sha256(data).hexdigest()[:32]}{ending}"
    _put(_folder() / name, lambda stream: stream.write(data))
    return name


def picture_path(name: str) -> Path | None:
    """Where a kept picture lies; None when it is not here any more."""
    path = _folder() / name
    return path if path.exists() else None


@lru_cache(4)
def _read(digest: str, folder: str) -> Triangles | None:
    path = Path(folder) / f"{digest}.npz"
    try:
        with zipfile.ZipFile(path) as packed:
            if sum(i.file_size for i in packed.infolist()) > MOST_BYTES:
                return None
        with np.load(path, allow_pickle=False) as held:
            points, faces = held["points"], held["faces"]
    except (OSError, ValueError, KeyError, zipfile.BadZipFile):
        return None
    if points.ndim != 2 or faces.ndim != 2 or points.shape[1] != 3 or faces.shape[1] != 3 or not len(faces):
        return None
    if faces.min() < 0 or faces.max() >= len(points) or not np.isfinite(points).all():
        return None
    return Triangles(points.astype(np.float32), faces.astype(np.int32))


def triangles(digest: str) -> Triangles | None:
    """A kept mesh, in its own axes, mm; None when it is not here any more."""
    return _read(digest, str(_folder()))


@lru_cache(8)
def to_look_at(digest: str) -> Triangles | None:
    """A coarse copy of a kept mesh."""
    mesh = triangles(digest)
    return None if mesh is None else coarse(mesh)


def files_of(job: Job) -> set[str]:
    """The names of the files of all meshes and pictures that a job and its variants use."""
    jobs = (job, *(v.job for v in job.variants))
    meshes = {f"{p.shape.digest}.npz" for j in jobs for p in j.parts if p.shape.kind == "scan"}
    return meshes | {p.digest for j in jobs for p in j.pictures}


def lay_beside(job: Job, job_file: Path) -> None:
    """Copy a job's meshes and pictures beside its file, so that all can be given away together."""
    for name in files_of(job):
        _copy(_folder() / name, _beside(job_file) / name)


def take_up(job: Job, job_file: Path) -> None:
    """Take meshes and pictures that lie beside a job's file into the program's own folder."""
    for name in files_of(job):
        if _copy(_beside(job_file) / name, _folder() / name):
            _read.cache_clear()
            to_look_at.cache_clear()


def _copy(source: Path, target: Path) -> bool:
    """Copy a file that is not there yet; whether it was."""
    if not source.exists() or target.exists():
        return False
    with contextlib.suppress(OSError):
        target.parent.mkdir(parents=True, exist_ok=True)
        shutil.copyfile(source, target)
    return True
