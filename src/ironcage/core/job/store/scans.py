"""Where scan meshes and pictures lie: in the program's own folder, by their content, and beside a saved job so that it
can be shared.

A mesh is written once under a name made from what it holds; reading it again gives the same triangles, so what is read
is kept.
"""

from __future__ import annotations

import shutil
import zipfile
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.solids.triangles import Triangles, coarse
from ironcage.core.job.store.disk import digest_of, write_atomically, write_by
from ironcage.core.job.values.model import Job
from ironcage.home import home
from ironcage.problem import Problem

DIGITS = 32  # of a digest, which a file is named by
MOST_BYTES = 600 * 2**20  # unpacked, of a mesh: what comes beside a job may be anything


def _folder() -> Path:
    return home() / "scans"


def _beside(job_file: Path) -> Path:
    return job_file.with_name(job_file.name + ".scans")


def _name_of(points: NDArray[Any], faces: NDArray[Any]) -> str:
    """What a mesh is kept under: a digest of its points and faces."""
    return digest_of(np.ascontiguousarray(points).tobytes() + np.ascontiguousarray(faces).tobytes())[:DIGITS]


def keep(mesh: Triangles) -> str:
    """Write a mesh; the name it is kept under. Raises Problem when the disk refuses."""
    digest = _name_of(mesh.points, mesh.faces)
    target = _folder() / f"{digest}.npz"
    if not _is_whole(target):
        _make(target.parent)
        write_by(target, lambda stream: np.savez(stream, points=mesh.points, faces=mesh.faces))
        _forget()
    return digest


def keep_picture(data: bytes, ending: str) -> str:
    """Write a picture; the name it is kept under. Raises Problem when the disk refuses."""
    name = f"{digest_of(data)[:DIGITS]}{ending}"
    _make(_folder())
    write_atomically(_folder() / name, data)
    return name


def _make(folder: Path) -> None:
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise Problem(f"{folder} could not be made: {error.strerror or error}.", where=str(folder)) from None


def _forget() -> None:
    """A file has come that was not there: what was told of it before is no longer true."""
    _read.cache_clear()
    _coarse.cache_clear()
    _whole.cache_clear()


def _is_whole(path: Path) -> bool:
    """Whether a mesh's or picture's file is there and holds what it is named by."""
    try:
        held = path.stat()
    except OSError:
        return False
    return _whole(str(path), held.st_size, held.st_mtime_ns)


@lru_cache(64)
def _whole(name: str, size: int, changed: int) -> bool:
    """The same, kept while the file is the same by its size and the time it was changed."""
    path = Path(name)
    if path.suffix == ".npz":
        return _unpacked(path) is not None
    try:
        return size <= MOST_BYTES and digest_of(path.read_bytes())[:DIGITS] == path.stem
    except OSError:
        return False


def picture_path(name: str) -> Path | None:
    """Where a kept picture lies; None when it is not here any more, or holds something else."""
    path = _folder() / name
    return path if _is_whole(path) else None


def _unpacked(path: Path) -> Triangles | None:
    """The mesh in a file; None where it holds none that can be used, or another than it is named by."""
    try:
        with zipfile.ZipFile(path) as packed:
            if sum(i.file_size for i in packed.infolist()) > MOST_BYTES:
                return None
        with np.load(path, allow_pickle=False) as held:
            points, faces = held["points"], held["faces"]
    except Exception:
        return None
    if points.ndim != 2 or faces.ndim != 2 or points.shape[1] != 3 or faces.shape[1] != 3 or not len(faces):
        return None
    if points.dtype.kind != "f" or faces.dtype.kind not in "iu" or _name_of(points, faces) != path.stem:
        return None
    if faces.min() < 0 or faces.max() >= len(points) or not np.isfinite(points).all():
        return None
    return Triangles(points.astype(np.float32), faces.astype(np.int32))


@lru_cache(4)
def _read(digest: str, folder: str) -> Triangles:
    made = _unpacked(Path(folder) / f"{digest}.npz")
    if made is None:
        raise LookupError(digest)  # which is not kept: it may come
    return made


def triangles(digest: str) -> Triangles | None:
    """A kept mesh, in its own axes, mm; None when it is not here any more, or the file of its name holds another."""
    try:
        return _read(digest, str(_folder()))
    except LookupError:
        return None


@lru_cache(8)
def _coarse(digest: str, folder: str) -> Triangles:
    return coarse(_read(digest, folder))


def to_look_at(digest: str) -> Triangles | None:
    """A coarse copy of a kept mesh; None as for `triangles`."""
    try:
        return _coarse(digest, str(_folder()))
    except LookupError:
        return None


def files_of(job: Job) -> set[str]:
    """The names of the files of all meshes, pictures and photos that a job and its variants use."""
    jobs = (job, *(v.job for v in job.variants))
    meshes = {f"{p.shape.digest}.npz" for j in jobs for p in j.parts if p.shape.kind == "scan"}
    photos = {name for j in jobs for e in j.logbook.entries for name in e.photos}
    return meshes | photos | {p.digest for j in jobs for p in j.pictures}


def lay_beside(job: Job, job_file: Path) -> None:
    """Copy a job's meshes and pictures beside its file, so that all can be given away together. Raises Problem when
    one can't be; those missing here stay missing."""
    folder = _beside(job_file)
    for name in sorted(files_of(job)):
        if _is_whole(_folder() / name) and not _is_whole(folder / name):
            _make(folder)
            _copy(_folder() / name, folder / name)


def take_up(job: Job, job_file: Path) -> tuple[str, ...]:
    """Take meshes and pictures that lie beside a job's file into the program's own folder; what could not be, in
    sentences.

    A folder or file that is only a link is not followed: what it points to is not the job's.
    """
    folder, said = _beside(job_file), []
    wanted = [name for name in sorted(files_of(job)) if not _is_whole(_folder() / name)]
    if not wanted:
        return ()
    if folder.is_symlink():
        return (f"{folder.name} is a link and was not followed; the job's scans and pictures are missing.",)
    for name in wanted:
        source = folder / name
        if source.is_symlink() or not source.is_file():
            said.append(f"{name}, a scan or picture of this job, is missing: it is neither here nor beside the job.")
        elif not _is_whole(source):
            said.append(f"{folder.name}/{name} does not hold what this job was saved with, and was not taken up.")
        else:
            try:
                _make(_folder())
                _copy(source, _folder() / name)
            except Problem as problem:
                said.append(problem.sentence)
    return tuple(said)


def _copy(source: Path, target: Path) -> None:
    """Copy a file whole or not at all."""
    try:
        with source.open("rb") as stream:
            write_by(target, lambda out: shutil.copyfileobj(stream, out))
    except OSError as error:
        raise Problem(f"{source.name} could not be read: {error.strerror or error}.", where=source.name) from None
    _forget()
