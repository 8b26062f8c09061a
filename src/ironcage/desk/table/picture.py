"""What the 3D picture is drawn from: one frozen value, and the pencil that draws it on its own thread.

The widget asks for a picture of a `Subject` and goes on; VTK is imported, used and let go on the drawing
thread alone, so that neither its start nor a slow software renderer holds up a key.
"""

import time
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtGui import QImage

from ironcage.core.calc.sections import between
from ironcage.core.job.geometry.routes import Pieces, pieces
from ironcage.core.job.values.model import Job
from ironcage.desk.look import Look, rgb
from ironcage.desk.table.camera import Camera
from ironcage.desk.table.cutmesh import CutMeshes
from ironcage.desk.table.decor import CutFrame
from ironcage.desk.table.envelopes import Envelopes
from ironcage.desk.table.mesh import DrawnOutline, Mesh, outline_of, prisms
from ironcage.desk.table.nearness import near

if TYPE_CHECKING:
    from ironcage.core.answers.jig import Stand
    from ironcage.core.job.geometry.bodies import Body
    from ironcage.desk.table.scene import Scene

STAND_MM = 40.0
QUIET = 0.5  # how much of what is far from the chosen is the paper's own colour
_NONE = np.zeros((0, 3))


@dataclass(frozen=True, eq=False)
class Subject:
    """A job as it is to be drawn. colours: (m, 3) for the tubes or None; shape: deflected centrelines or None.
    bodies: what else is to be seen, those in `hot` as wrong. scale: pixels for each of the camera's; fine: with
    smoothed edges; coarse: with fewer sides to a tube; cut: pieces in place of tubes, or None."""

    job: Job
    camera: Camera
    look: Look
    chosen: tuple[str, ...]
    colours: np.ndarray | None
    shape: Pieces | None
    stands: "tuple[Stand, ...]"
    bodies: "tuple[Body, ...]"
    hot: frozenset[str]
    scale: float
    fine: bool
    coarse: bool = False
    cut: CutFrame | None = None


class Pencil:
    """Draws subjects; keeps what two of them in a row have in common."""

    def __init__(self) -> None:
        self._scene: Scene | None = None
        self._before: Subject | None = None
        self._envelopes = Envelopes()
        self._cut = CutMeshes()
        self._shells = self._envelopes.mesh(())
        self._mesh = prisms(_NONE, _NONE, np.zeros(0), (), np.zeros(0, dtype=np.int64), np.zeros(0, dtype=np.int64))

    def draw(self, subject: Subject) -> tuple[QImage, float]:
        """The picture of a subject, and the seconds that the renderer took."""
        from ironcage.desk.table.scene import Scene

        if self._scene is None:
            self._scene = Scene()
        scene, before = self._scene, self._before
        job, look = subject.job, subject.look
        if before is None or before.look is not look or before.job.table is not job.table:
            scene.background(rgb(look.paper))
            scene.top.shape(_top(job))
            scene.top.colour(_all(look.chalk, 4))
        if (
            before is None
            or before.look is not look
            or before.stands is not subject.stands
            or before.job.table is not job.table
        ):
            mesh = _posts(job, subject.stands)
            scene.stands.shape(mesh)
            scene.stands.colour(_all(look.blue, len(mesh.points)))
        same_shape = (
            before is not None
            and _same_frame(before.job, job)
            and before.shape is subject.shape
            and before.cut is subject.cut
            and before.coarse == subject.coarse
        )
        if not same_shape:
            cut = subject.cut if subject.cut and _same_frame(subject.cut.job, job) else None
            self._mesh = (
                self._cut.mesh(cut, coarse=subject.coarse) if cut else _tubes(job, subject.shape, coarse=subject.coarse)
            )
            scene.tubes.shape(self._mesh)
        if not (
            same_shape
            and before
            and before.bodies is subject.bodies
            and before.colours is subject.colours
            and before.chosen == subject.chosen
            and before.look is look
        ):
            scene.tubes.colour(_colours(subject)[self._mesh.owner])
        self._draw_bodies(scene, before, subject)
        self._before = subject
        start = time.perf_counter()
        image = scene.image(subject.camera, subject.scale, fine=subject.fine)
        return image, time.perf_counter() - start

    def _draw_bodies(self, scene: "Scene", before: Subject | None, subject: Subject) -> None:
        same = before is not None and before.bodies == subject.bodies
        if not same:
            self._shells = self._envelopes.mesh(subject.bodies)
            scene.bodies.shape(self._shells)
        if not (
            same and before and (before.chosen, before.hot, before.look) == (subject.chosen, subject.hot, subject.look)
        ):
            scene.bodies.colour(_body_colours(subject)[self._shells.owner])

    def drop(self) -> None:
        """Give the graphics memory back."""
        if self._scene:
            self._scene.close()
            self._scene = None


def _same_frame(one: Job, other: Job) -> bool:
    return one.joints is other.joints and one.tubes is other.tubes and one.shelf is other.shelf


def _all(colour: str, count: int) -> np.ndarray:
    return np.tile(np.array(rgb(colour), dtype=np.uint8), (count, 1))


def _top(job: Job) -> Mesh:
    t = job.table
    x0, x1, y0, y1, z = t.corner_x, t.corner_x + t.length, t.corner_y, t.corner_y + t.width, t.top_z
    points = np.array([[x0, y0, z], [x1, y0, z], [x1, y1, z], [x0, y1, z]], dtype=np.float32)
    normals = np.tile(np.array([0, 0, 1], dtype=np.float32), (4, 1))
    return Mesh(points, normals, np.array([[0, 1, 2], [0, 2, 3]]), np.zeros(4, dtype=np.int64))


def _posts(job: Job, stands: "tuple[Stand, ...]") -> Mesh:
    t = job.table
    feet = np.array([[s.x + t.corner_x, s.y + t.corner_y, t.top_z] for s in stands]).reshape(-1, 3)
    tops = feet + np.array([[0, 0, s.saddle] for s in stands]).reshape(-1, 3)
    half = STAND_MM / 2
    square = DrawnOutline(np.array([[half, -half], [half, half], [-half, half], [-half, -half]]), smooth=False)
    return prisms(feet, tops, np.zeros(len(feet)), (square,), np.zeros(len(feet), dtype=np.int64), np.arange(len(feet)))


def _tubes(job: Job, shape: Pieces | None, *, coarse: bool) -> Mesh:
    """Triangles of all tubes, along the deflected lines where a step shows them."""
    lines = shape if shape is not None else pieces(job)
    outlines = [outline_of(s.shape, coarse=coarse) for s in job.shelf.sections]
    place = {s.name: n for n, s in enumerate(job.shelf.sections)}
    sizes = np.array([place[t.section] for t in job.tubes], dtype=np.int64)[lines.owner]
    tapers = np.array([bool(t.taper) for t in job.tubes], dtype=bool)[lines.owner]
    shapes = {s.name: s.shape for s in job.shelf.sections}
    for k in np.flatnonzero(tapers).tolist():
        t = job.tubes[lines.owner[k]]
        sizes[k] = len(outlines)
        outlines.append(
            outline_of(between(shapes[t.section], shapes[t.taper], float(lines.share[k].mean())), coarse=coarse)
        )
    return prisms(lines.start, lines.stop, lines.roll, outlines, sizes, lines.owner)


def _colours(subject: Subject) -> np.ndarray:
    count = len(subject.job.tubes)
    colours = _all(subject.look.tube, count)
    if subject.cut and subject.cut.alone:
        return colours  # nothing is there to tell it from
    clear, _ = near(subject.job, subject.bodies, subject.chosen)
    colours[~clear] = _quiet(colours[~clear], subject.look)
    if subject.colours is not None and len(subject.colours) == count:
        colours = subject.colours.copy()
    chosen = set(subject.chosen)
    if chosen:
        colours[[n for n, t in enumerate(subject.job.tubes) if t.id in chosen]] = rgb(subject.look.blue)
    return colours


def _body_colours(subject: Subject) -> np.ndarray:
    look = subject.look
    plain = {"person": look.leather, "tyre": look.rubber, "chain": look.rubber, "shaft": look.tube}
    colours = [
        look.blue if b.id in subject.chosen else look.oxide if b.id in subject.hot else plain.get(b.kind, look.kraft)
        for b in subject.bodies
    ]
    made = np.array([rgb(c) for c in colours], dtype=np.uint8).reshape(-1, 3)
    _, clear = near(subject.job, subject.bodies, subject.chosen)
    quiet = ~clear & np.array([b.id not in subject.hot for b in subject.bodies], dtype=bool)
    made[quiet] = _quiet(made[quiet], look)
    return made


def _quiet(colours: NDArray[np.uint8], look: Look) -> NDArray[np.uint8]:
    """Colours (n, 3) of what is far from the chosen: most of the way to the paper."""
    mixed = (1 - QUIET) * colours + QUIET * np.array(rgb(look.paper))
    return np.asarray(np.rint(mixed), dtype=np.uint8)
