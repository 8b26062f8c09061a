"""The table as a widget: picture, tape and tags, picking and gestures. It shows a job and says what was done to it."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ironcage.core.answers.jig import Stand
from ironcage.core.calc.beams import Floats
from ironcage.core.job.commands import units_of
from ironcage.core.job.model import Job
from ironcage.desk.look import LIGHT, Look, rgb, text_font
from ironcage.desk.table import overlay
from ironcage.desk.table.camera import Camera, View
from ironcage.desk.table.gestures import DragJoints, Gesture, PickOrBox
from ironcage.desk.table.gestures import Look as LookGesture
from ironcage.desk.table.mesh import Mesh, outline_of, prisms
from ironcage.desk.table.overlay import Brush
from ironcage.desk.table.scene import Scene

NEAR_JOINT_PX, NEAR_TUBE_PX = 11.0, 7.0
STAND_MM = 40.0
_EMPTY = np.zeros((0, 3))


@dataclass(frozen=True)
class Decor:
    """What a step puts on the table. colours: (m, 3) for the tubes or None; shape: deflected centrelines
    (m, k, 3) mm or None; stands: posts under joints; paint: anything else."""

    colours: np.ndarray | None = None
    shape: Floats | None = None
    stands: tuple[Stand, ...] = ()
    paint: Callable[[Brush], None] | None = None


class TableView(QWidget):
    """Signals: picked(ids, add to what is chosen), dragged(joints, dx, dy, dz in mm), typed(text of a key)."""

    picked = pyqtSignal(tuple, bool)
    dragged = pyqtSignal(tuple, float, float, float)
    typed = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(120)
        self.setAccessibleName("The table")
        self.job = Job()
        self.chosen: tuple[str, ...] = ()
        self.look: Look = LIGHT
        self.camera = Camera()
        self.decor = Decor()
        self.all_tags = False
        self.hovered = ""
        self.gesture: Gesture | None = None
        self._scene: Scene | None = None
        self._mesh: Mesh | None = None
        self._image: QImage | None = None
        self._at: Floats | None = None
        self._moving = False
        self._fitted = False
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(160)
        self._settle.timeout.connect(self._settled)

    def sizeHint(self) -> QSize:
        return QSize(900, 420)

    # what is shown

    def show_job(self, job: Job) -> None:
        """Show another state of the job, keeping the view."""
        same_table = job.table is self.job.table
        self.job = job
        self._at = self._mesh = None
        if self.decor.shape is not None and len(self.decor.shape) != len(job.tubes):
            self.decor = replace(self.decor, shape=None, colours=None)
        if not same_table:
            self._draw_top()
        self._stale()

    def show_chosen(self, chosen: tuple[str, ...]) -> None:
        """Show other joints and tubes as chosen."""
        self.chosen = chosen
        self._colour()
        self._stale()

    def show_look(self, look: Look) -> None:
        """Use other colours."""
        self.look = look
        self._draw_top()
        self._draw_stands()
        self._colour()
        self._stale()

    def show_decor(self, decor: Decor) -> None:
        """Show what a step draws."""
        if decor.shape is not self.decor.shape:
            self._mesh = None
        stands = decor.stands is not self.decor.stands
        self.decor = decor
        if stands:
            self._draw_stands()
        self._colour()
        self._stale()

    def look_through(self, camera: Camera, *, moving: bool = False) -> None:
        """Look from elsewhere; coarser while moving."""
        self.camera = camera
        self._at = None
        self._moving = moving
        if moving:
            self._settle.start()
        self._stale()

    def turn_to(self, view: View) -> None:
        """One of the four views, fitted."""
        self.camera = replace(self.camera, view=view)
        self.fit()

    def fit(self) -> None:
        """The whole frame, or the table where there is none."""
        places = np.array([j.place for j in self.job.joints]).reshape(-1, 3)
        t = self.job.table
        if not len(places):
            places = np.array(
                [[t.corner_x, t.corner_y, t.top_z], [t.corner_x + t.length, t.corner_y + t.width, t.top_z]]
            )
        # the tape along the table's edge belongs in the picture
        x0, x1 = max(places[:, 0].min() - 150, t.corner_x), min(places[:, 0].max() + 150, t.corner_x + t.length)
        edge = np.array([[x, y, t.top_z] for x in (x0, x1) for y in (t.corner_y, t.corner_y + t.width)])
        self._fitted = True
        self.look_through(self.camera.fitted(np.vstack([places, edge])))

    def _settled(self) -> None:
        self._moving = False
        self._stale()

    def _stale(self) -> None:
        self._image = None
        self.update()

    # drawing

    @property
    def drawn(self) -> bool:
        """Whether the picture on the screen is of the present job."""
        return self._image is not None and self._mesh is not None

    @property
    def scene(self) -> Scene:
        """The 3D scene, made when first drawn."""
        if self._scene is None:
            self._scene = Scene()
            self._draw_top()
            self._draw_stands()
        return self._scene

    def _draw_top(self) -> None:
        if self._scene is None:
            return
        self._scene.background(rgb(self.look.paper))
        t = self.job.table
        x0, x1, y0, y1, z = t.corner_x, t.corner_x + t.length, t.corner_y, t.corner_y + t.width, t.top_z
        points = np.array([[x0, y0, z], [x1, y0, z], [x1, y1, z], [x0, y1, z]], dtype=np.float32)
        normals = np.tile(np.array([0, 0, 1], dtype=np.float32), (4, 1))
        self._scene.top.shape(Mesh(points, normals, np.array([[0, 1, 2], [0, 2, 3]]), np.zeros(4, dtype=np.int64)))
        self._scene.top.colour(np.tile(np.array(rgb(self.look.chalk), dtype=np.uint8), (4, 1)))

    def _draw_stands(self) -> None:
        if self._scene is None:
            return
        t = self.job.table
        feet = np.array([[s.x + t.corner_x, s.y + t.corner_y, t.top_z] for s in self.decor.stands]).reshape(-1, 3)
        tops = feet + np.array([[0, 0, s.saddle] for s in self.decor.stands]).reshape(-1, 3)
        half = STAND_MM / 2
        square = np.array([[half, -half], [half, half], [-half, half], [-half, -half]])
        mesh = prisms(feet, tops, np.zeros(len(feet)), [square] * len(feet), np.arange(len(feet)))
        self._scene.stands.shape(mesh)
        self._scene.stands.colour(np.tile(np.array(rgb(self.look.blue), dtype=np.uint8), (len(mesh.points), 1)))

    def _build(self) -> Mesh:
        """Triangles of all tubes, along the deflected lines where a step shows them."""
        job = self.job
        if not job.tubes:
            return prisms(_EMPTY, _EMPTY, np.zeros(0), [], np.zeros(0, dtype=np.int64))
        outlines = {s.name: outline_of(s.shape) for s in job.shelf.sections}
        lines = self.decor.shape if self.decor.shape is not None else self._centrelines()
        parts = lines.shape[1] - 1
        owner = np.repeat(np.arange(len(job.tubes)), parts)
        return prisms(lines[:, :-1].reshape(-1, 3), lines[:, 1:].reshape(-1, 3), np.repeat([t.roll for t in job.tubes], parts),
                      [outlines[t.section] for t in job.tubes for _ in range(parts)], owner)  # fmt: skip

    def _centrelines(self) -> Floats:
        places = {j.id: j.place for j in self.job.joints}
        return np.array([(places[t.a], places[t.b]) for t in self.job.tubes]).reshape(-1, 2, 3)

    def _colour(self) -> None:
        if self._scene is None or self._mesh is None:
            return
        count = len(self.job.tubes)
        colours = np.tile(np.array(rgb(self.look.tube), dtype=np.uint8), (count, 1))
        if self.decor.colours is not None and len(self.decor.colours) == count:
            colours = self.decor.colours.copy()
        chosen = set(self.chosen)
        if chosen:
            rows = [n for n, t in enumerate(self.job.tubes) if t.id in chosen]
            colours[rows] = rgb(self.look.blue)
        self._scene.tubes.colour(colours[self._mesh.owner])

    def _picture(self) -> QImage:
        scene = self.scene
        if self._mesh is None:
            self._mesh = self._build()
            scene.tubes.shape(self._mesh)
            self._colour()
        if self._image is None:
            self._image = scene.image(self.camera, self.devicePixelRatioF() * (0.5 if self._moving else 1.0))
        return self._image

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.drawImage(QRectF(0, 0, self.camera.width, self.camera.height), self._picture())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        brush = Brush(painter, self.camera, self.look)
        overlay.tapes(brush, self.job, self.chosen)
        if self.decor.shape is not None:
            brush.pen(self.look.quiet, 1, Qt.PenStyle.DotLine)
            brush.polylines(self._centrelines())
        overlay.joints(brush, self.job, self._projected(), self.chosen, self.hovered, all_tags=self.all_tags)
        if self.decor.paint:
            painter.setFont(text_font(9))
            self.decor.paint(brush)
        if self.gesture:
            painter.setFont(text_font(10, bold=True))
            self.gesture.paint(brush)
        if not self.job.joints:
            self._teach(painter)
        painter.end()

    def _teach(self, painter: QPainter) -> None:
        painter.setFont(text_font(13))
        Brush(painter, self.camera, self.look).pen(self.look.ink)
        painter.drawText(
            self.rect().adjusted(20, 12, -20, -20), Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop,
            "The table is empty. Type a joint below, for example  joint 0 250 300\n"
            "x counts forward from the front axle, y to the left, z up from the ground; the right side follows by itself.",
        )  # fmt: skip

    # picking

    def _projected(self) -> Floats:
        if self._at is None:
            places = np.array([j.place for j in self.job.joints]).reshape(-1, 3)
            self._at = self.camera.project(places) if len(places) else np.zeros((0, 3))
        return self._at

    def under(self, at: QPointF) -> str:
        """The joint, else the tube, under a place on the screen; the nearer to the viewer of two; '' for none."""
        spots = self._projected()
        if not len(spots):
            return ""
        here = np.array([at.x(), at.y()])
        away = np.hypot(*(spots[:, :2] - here).T)
        close = np.flatnonzero(away <= NEAR_JOINT_PX)
        if close.size:
            best = min(close, key=lambda n: (round(away[n] / 4), -spots[n, 2]))
            return self.job.joints[best].id
        if not self.job.tubes:
            return ""
        index = {j.id: n for n, j in enumerate(self.job.joints)}
        ends = np.array([(index[t.a], index[t.b]) for t in self.job.tubes])
        a, b = spots[ends[:, 0]], spots[ends[:, 1]]
        way = b[:, :2] - a[:, :2]
        along = np.clip(
            np.einsum("ij,ij->i", here - a[:, :2], way) / np.maximum(np.einsum("ij,ij->i", way, way), 1e-9), 0, 1
        )
        gap = np.hypot(*(a[:, :2] + along[:, None] * way - here).T)
        reach = np.maximum(NEAR_TUBE_PX, 0.6 * self._radii() / self.camera.mm_per_px)
        close = np.flatnonzero(gap <= reach)
        if not close.size:
            return ""
        depth = a[:, 2] + along * (b[:, 2] - a[:, 2])
        return self.job.tubes[max(close, key=lambda n: depth[n])].id

    def _radii(self) -> Floats:
        sizes = {s.name: max(s.shape.size) / 2 for s in self.job.shelf.sections}
        return np.array([sizes[t.section] for t in self.job.tubes])

    def inside(self, box: QRectF) -> tuple[str, ...]:
        """The joints in a box on the screen, and the tubes with both joints in it."""
        spots = self._projected()
        held = {j.id for j, (x, y, _) in zip(self.job.joints, spots, strict=True) if box.contains(QPointF(x, y))}
        joints = tuple(j.id for j in self.job.joints if j.id in held)
        return joints + tuple(t.id for t in self.job.tubes if t.a in held and t.b in held)

    # events

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.camera = replace(self.camera, width=max(self.width(), 8), height=max(self.height(), 8))
        self._at = None
        if self._fitted:
            self.fit()
        self._stale()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        add = bool(event.modifiers() & (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier))
        at = event.position()
        if event.button() == Qt.MouseButton.LeftButton:
            name = self.under(at)
            if name in self.chosen and name in self.job.joint_by_id and not add:
                joints = tuple(c for c in self.chosen if c in self.job.joint_by_id)
                self.gesture = DragJoints(self, at, name, joints)
            else:
                self.gesture = PickOrBox(self, at, add=add)
        else:
            self.gesture = LookGesture(self, at, push=add or event.button() == Qt.MouseButton.MiddleButton)
            self._fitted = False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self.gesture:
            self.gesture.move(event.position())
            return
        name = self.under(event.position())
        if name != self.hovered:
            self.hovered = name
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        gesture, self.gesture = self.gesture, None
        if gesture and event is not None:
            gesture.end(event.position())
            self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            at = event.position()
            self._fitted = False
            self.look_through(self.camera.zoomed(1.0015 ** event.angleDelta().y(), (at.x(), at.y())), moving=True)

    def leaveEvent(self, event: object) -> None:
        self.hovered = ""
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() == Qt.Key.Key_Escape:
            if self.gesture:
                self.gesture.cancel()
                self.gesture = None
                self.update()
            else:
                self.picked.emit((), False)
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            self._fitted = False
            factor = 1.2 if event.key() == Qt.Key.Key_Plus else 1 / 1.2
            self.look_through(self.camera.zoomed(factor, (self.camera.width / 2, self.camera.height / 2)))
        elif not self._nudge(event):
            text = event.text()
            if (
                text
                and text.isprintable()
                and text.isalpha()
                and not event.modifiers() & Qt.KeyboardModifier.ControlModifier
            ):
                self.typed.emit(text)
            elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self.typed.emit("")
            else:
                super().keyPressEvent(event)

    def _nudge(self, event: QKeyEvent) -> bool:
        """Arrows move chosen joints by a round step along the axis nearest to the arrow on the screen (×10 with
        Shift); Page Up and Down along z. With nothing chosen, arrows push the view."""
        arrows = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        pages = {Qt.Key.Key_PageUp: 1.0, Qt.Key.Key_PageDown: -1.0}
        if event.key() not in arrows and event.key() not in pages:
            return False
        names = tuple(c for c in self.chosen if c in self.job.joint_by_id)
        if not names:
            right, up = arrows.get(Qt.Key(event.key()), (0, 0))
            self.look_through(self.camera.panned(-40 * right, 40 * up))
            return True
        step = units_of(self.job).snap_mm * (10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1)
        move = np.zeros(3)
        if event.key() in pages:
            move[2] = pages[Qt.Key(event.key())] * step
        else:
            right, up = arrows[Qt.Key(event.key())]
            way = right * self.camera.basis[0] + up * self.camera.basis[1]
            if self.camera.view == "free":
                way = way * [1, 1, 0]  # the level plane; z has its own keys
            axis = int(np.abs(way).argmax())
            move[axis] = np.sign(way[axis]) * step
        self.dragged.emit(names, *(float(v) for v in move))
        return True

    def close_scene(self) -> None:
        """Give the graphics memory back."""
        if self._scene:
            self._scene.close()
            self._scene = None
