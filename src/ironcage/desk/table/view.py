"""The table as a widget: picture, tape and tags, picking and gestures. It shows a job and says what was done to it."""

from dataclasses import replace

import numpy as np
from PyQt6.QtCore import QPoint, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.geometry.bodies import Body
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Answered, Asker
from ironcage.desk.look import LIGHT, Look, text_font
from ironcage.desk.table.camera import PLANES, Camera, View
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.drawing import Drawing
from ironcage.desk.table.gestures import DragThings, Gesture, LookAround, PickOrBox, movable, snapped
from ironcage.desk.table.handles import DragHandle, Handle, Pointing, handle_at, paint_handles
from ironcage.desk.table.overlay import Brush
from ironcage.desk.table.painting import Painting, Seen
from ironcage.desk.table.picking import Shown
from ironcage.desk.table.picture import Pencil, Subject

ARROWS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
SETTLE_MS, HOLD_MS, FIRST_HOLD_MS = 160, 30, 1500
CLOSEST_MM_PER_PX = 0.8  # to what is chosen: a single joint is seen with what is round it
SLOW_S = 0.012  # a renderer slower than this, as in software, draws coarsely while things change


class TableView(QWidget):
    """Signals: picked(ids, add to what is chosen), dragged(joints, dx, dy, dz in mm), dragging
    (the same while it lasts, no joints when it was called off), typed(text of a key), cut(tube,
    share of its length), placed(x, y, z of a new joint), spotted(x, y, z of a
    click while `spotting`, which picks nothing), scanned(part, x, y, z of a double click on its
    mesh), asked(what is under a click of the right button, where on
    the screen), drew(where a drawn tube begins, where it ends, both a Spot), drew_back(the last one is to be taken
    back), grasped(key of a handle that was clicked), handled(key of a handle, the Spot it was put on), handling(the
    same while it lasts, no key when it was called off), appeared(once, when it is first on the screen), broke(an
    exception while drawing)."""

    picked = pyqtSignal(tuple, bool)
    dragged = pyqtSignal(tuple, float, float, float)
    dragging = pyqtSignal(tuple, float, float, float)
    typed = pyqtSignal(str)
    cut = pyqtSignal(str, float)
    asked = pyqtSignal(str, QPoint)
    drew = pyqtSignal(object, object)
    drew_back = pyqtSignal()
    grasped = pyqtSignal(str)
    handled = pyqtSignal(str, object)
    handling = pyqtSignal(str, object)
    appeared = pyqtSignal()
    placed = pyqtSignal(float, float, float)
    spotted = pyqtSignal(float, float, float)
    scanned = pyqtSignal(str, float, float, float)
    broke = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(120)
        self.setAccessibleName("The table")
        self.job = Job()
        self.chosen: tuple[str, ...] = ()
        self._chosen_before: tuple[str, ...] = ()
        self.look: Look = LIGHT
        self.camera = Camera()
        self.decor = Decor()
        self.all_tags = False
        self.spotting = False
        self.hovered = ""
        self.gesture: Gesture | None = None
        self.tool: Drawing | Pointing | None = None  # what clicks are for, where they do not pick
        self.handle: Handle | None = None  # the one under the mouse
        self._artist, self._pencil = Asker(), Pencil()
        self._artist.answered.connect(self._drawn)
        self._artist.broke.connect(self.broke)
        self._wanted: Subject | None = None
        self._picture: tuple[Subject, QImage] | None = None  # the last solid one, and what it is of
        self._still = False
        self._cost_s = 0.0  # what a plain picture took to draw last
        self._painting = Painting()
        self._shown = Shown(self.job, self.camera, ())
        self._moving = self._appeared = False
        self._fitted = True  # until the view is moved by hand, the frame is kept whole in it, whatever size it is given
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLE_MS)
        self._settle.timeout.connect(self._settled)
        self._hold = QTimer(self)
        self._hold.setSingleShot(True)
        self._hold.timeout.connect(self.update)
        self._hold.start(FIRST_HOLD_MS)  # the program's first figures come before its first solid picture
        self._late = QTimer(self)
        self._late.setSingleShot(True)
        self._late.setInterval(HOLD_MS)
        self._late.timeout.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(900, 420)

    # what is shown

    def show_job(self, job: Job) -> None:
        """Show another state of the job, keeping the view."""
        if self.gesture and job is not self.job:  # what the mouse holds may be gone
            self.gesture.cancel()
            self.gesture = None
        self.job = job
        self.decor = self.decor.of_tubes(len(job.tubes))
        self._keep_whole()
        self._stale(wait=True)

    def show_chosen(self, chosen: tuple[str, ...]) -> None:
        """Show other joints and tubes as chosen."""
        self.chosen = chosen
        self._stale()

    def show_look(self, look: Look) -> None:
        """Use other colours."""
        self.look = look
        self._stale()

    def show_decor(self, decor: Decor) -> None:
        """Show what a step draws."""
        before, self.decor = self.decor, decor.of_tubes(len(self.job.tubes))
        if isinstance(self.tool, Pointing) and not self.tool.goes_on(decor.handles):
            self.take_tool(None)
        if self._fitted and _things(self.decor) != _things(before):
            self.fit()
        elif self.decor.places is not None:
            self._keep_whole()
        if self.decor.solid_as(before):
            self.update()  # only what is painted over the picture has changed
        else:
            self._redraw()

    def release(self) -> None:
        """The figures of a changed job are there: its picture may be drawn. All is painted when that comes, or
        without it where it is late."""
        if self._hold.isActive():
            self._hold.stop()
            self._ask_picture()
            self._late.start()

    def look_through(self, camera: Camera, *, moving: bool = False) -> None:
        """Look from elsewhere; coarser while moving."""
        self.camera = camera
        self._moving = moving
        self._stale()

    def turn_to(self, view: View) -> None:
        """One of the four views, fitted. The free view keeps the angle it was turned to; asked for again, it is the
        one it started with."""
        if view == "free" == self.camera.view:
            self.camera = replace(self.camera, azimuth=Camera.azimuth, elevation=Camera.elevation)
        self.camera = replace(self.camera, view=view)
        self.fit()

    def places_to_fit(self) -> Floats:
        """What belongs in the picture (n, 3): joints, the feet of stands, and the corners of what the step shows beside
        them; the table where there is nothing."""
        t = self.job.table
        feet = [(s.x + t.corner_x, s.y + t.corner_y, t.top_z) for s in self.decor.stands]
        joints = [j.place for j in self.job.joints]
        drawn = [] if self.decor.places is None else [self.decor.places]
        if self.decor.alone and drawn:
            return np.vstack(drawn)
        places = [np.array([*joints, *feet]).reshape(-1, 3), *map(_corners, self.decor.bodies), *drawn]
        if not any(map(len, places)):
            across, along = (t.corner_x, t.corner_x + t.length), (t.corner_y, t.corner_y + t.width)
            places = [np.array([(x, y, t.top_z) for x in across for y in along])]
        return np.vstack(places)

    def fit(self) -> None:
        """The frame with what the step shows beside it, as large as it goes."""
        self._fitted = True
        self.look_through(self.camera.fitted(self.places_to_fit()))

    def _keep_whole(self) -> None:
        """Look from further off where what is laid leaves the picture, until the view is moved by hand."""
        if not self._fitted or self.gesture or self.tool or not (self.job.joints or self.decor.places is not None):
            return
        places = self.places_to_fit()
        spots = self.camera.project(places)[:, :2]
        if (spots < 0).any() or (spots > [self.camera.width, self.camera.height]).any() or np.isnan(spots).any():
            whole = self.camera.fitted(places)
            self.camera = replace(whole, mm_per_px=max(whole.mm_per_px, self.camera.mm_per_px))

    def fit_chosen(self) -> None:
        """What is chosen, as large as is of use; the whole frame where nothing is."""
        job, chosen = self.job, set(self.chosen)
        ends = {j for t in job.tubes if t.id in chosen for j in t.ends}
        joints = [j.place for j in job.joints if j.id in chosen or j.id in ends]
        places = [np.array(joints).reshape(-1, 3), *(_corners(b) for b in self.decor.bodies if b.id in chosen)]
        if not any(map(len, places)):
            self.fit()
            return
        self._fitted = False
        near = self.camera.fitted(np.vstack(places))
        self.look_through(replace(near, mm_per_px=max(near.mm_per_px, CLOSEST_MM_PER_PX)))

    def draw(self, *, on: bool) -> None:
        """Begin to draw tubes from place to place, or end it."""
        self.take_tool(Drawing(self) if on else None)

    def point(self, handle: Handle) -> None:
        """Let the next click say where a handle is."""
        self.take_tool(Pointing(self, handle))
        self.setFocus()

    def take_tool(self, tool: Drawing | Pointing | None) -> None:
        """Take something in hand that clicks are for, or put it down."""
        self.tool = tool
        self.setCursor(Qt.CursorShape.CrossCursor if tool else Qt.CursorShape.ArrowCursor)
        self.update()

    @property
    def drawing(self) -> Drawing | None:
        """The tubes that are being drawn; None where none are."""
        return self.tool if isinstance(self.tool, Drawing) else None

    def show_tags(self, *, on: bool) -> None:
        """Tags on all joints, or only on those chosen and under the mouse."""
        self.all_tags = on
        self._painting.drop_marks()
        self.update()

    # the picture

    def _subject(self) -> Subject:
        coarse = not self._still and (self._moving or self._cost_s > SLOW_S)
        scale = self.devicePixelRatioF() * (0.5 if coarse else 1.0)
        d = self.decor
        return Subject(
            self.job,
            self.camera,
            self.look,
            self.chosen,
            d.colours,
            d.shape,
            d.stands,
            d.bodies,
            d.hot,
            scale,
            fine=self._still,
            coarse=coarse,
            cut=d.cut,
        )

    def _stale(self, *, wait: bool = False) -> None:
        """What is marked on the picture has changed, and the picture with it; both may `wait` a little for the
        figures of a changed job."""
        self._painting.drop_marks()
        if wait and not self._hold.isActive():
            self._hold.start(HOLD_MS)
        self._redraw()

    def _redraw(self) -> None:
        """The picture has changed: paint soon, ask for another then, and for a fine one once it rests."""
        self._wanted = None
        self._still = False
        self._settle.start()
        if not (self._hold.isActive() and self._hold.interval() == HOLD_MS):
            self.update()

    def _settled(self) -> None:
        self._moving, self._still = False, True
        self._wanted = None
        self.update()

    def _ask_picture(self) -> None:
        if self._wanted is None and self.isVisible() and not self._hold.isActive():
            self._wanted = self._subject()
            self._artist.ask("picture", self._pencil.draw, self._wanted)

    def _drawn(self, answered: Answered) -> None:
        if answered.result is None:
            return
        self._late.stop()
        image, cost_s = answered.result
        self._picture = answered.job, image
        if not answered.job.fine and answered.job.scale >= 1:
            self._cost_s = cost_s
        self.update()

    @property
    def painted(self) -> bool:
        """Whether the present job is on the screen, be it in lines."""
        return self._painting.marked

    @property
    def labels(self) -> tuple[QRectF, ...]:
        """Where the labels of the step and of what is chosen stand, pixels."""
        return self._painting.labels

    @property
    def drawn(self) -> bool:
        """Whether the solid picture on the screen is of what is to be seen, with smoothed edges."""
        return self.pictured is not None and self.pictured is self._wanted and self._wanted.fine

    @property
    def pictured(self) -> Subject | None:
        """What the solid picture on the screen is of."""
        return self._picture[0] if self._picture else None

    def paintEvent(self, event: QPaintEvent | None) -> None:
        self._ask_picture()
        painter = QPainter(self)
        seen = Seen(
            self.job,
            self.camera,
            self.look,
            self.chosen,
            self.hovered,
            self.all_tags,
            self.shown.spots,
            self.shown.hidden if self._still else np.zeros(len(self.job.joints), dtype=bool),
            self.decor,
            self._still,
            self.size(),
            self.devicePixelRatioF(),
        )
        of = self.pictured
        fits = of is not None and of.camera == self.camera and of.look is self.look
        self._painting.paint(painter, seen, self._picture if fits else None)
        doing = self.gesture or self.tool
        if doing or self.decor.handles:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setFont(text_font(10, bold=True))
            brush = Brush(painter, self.camera, self.look)
            paint_handles(brush, self.decor.handles, None if doing else self.handle)
            if doing:
                doing.paint(brush)
        painter.end()
        if not self._appeared:
            self._appeared = True
            self.appeared.emit()

    @property
    def shown(self) -> Shown:
        """Joints and tubes where they are on the screen now."""
        now = (self.job, self.camera, self.decor.bodies)
        if (self._shown.job, self._shown.camera, self._shown.bodies) != now:
            self._shown = Shown(*now)
        return self._shown

    # events

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.camera = replace(self.camera, width=max(self.width(), 8), height=max(self.height(), 8))
        if self._fitted:
            self.fit()
        self._stale()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        if self.tool and event.button() == Qt.MouseButton.LeftButton:
            self.tool.click(event.position())
            return
        self._chosen_before = self.chosen
        add = bool(event.modifiers() & (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier))
        at = event.position()
        if event.button() == Qt.MouseButton.LeftButton:
            name = self.shown.under(at)
            if handle := handle_at(self, at):
                self.gesture = DragHandle(self, at, handle)
            elif name in self.chosen and movable(self.job, name) and not add:
                self.gesture = DragThings(self, at, name, tuple(c for c in self.chosen if movable(self.job, c)))
            else:
                self.gesture = PickOrBox(self, at, add=add)
        else:
            self.gesture = LookAround(self, at, push=add or event.button() == Qt.MouseButton.MiddleButton)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self.gesture:
            self.gesture.move(event.position())
            return
        if self.tool:
            self.tool.hover(event.position())
            return
        handle = handle_at(self, event.position())
        name = "" if handle else self.shown.under(event.position())
        if (name, handle) != (self.hovered, self.handle):
            self.handle = handle
            self._hover(name)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        gesture, self.gesture = self.gesture, None
        if gesture and event is not None:
            gesture.end(event.position())
            self.update()
            if isinstance(gesture, LookAround) and gesture.begun:
                self._fitted = False
            elif isinstance(gesture, LookAround) and event.button() == Qt.MouseButton.RightButton:
                self.asked.emit(self.shown.under(event.position()), event.globalPosition().toPoint())

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """On a tube: split it there. On an empty place: a joint there, as far back as the one that was chosen."""
        if event is None or event.button() != Qt.MouseButton.LeftButton or self.tool:
            return
        at, name = event.position(), self.shown.under(event.position())
        if name in self.job.placed and (spot := self.shown.on_scan(name, at)) is not None:
            self.scanned.emit(name, *(float(v) for v in spot))
        elif name in self.job.tube_by_id:
            share = min(max(self.shown.share_of(name, at), 0.01), 0.99)
            self.cut.emit(name, round(share, 2))
        elif not name:
            held = next((self.job.joint_by_id[c].place for c in self._chosen_before if c in self.job.joint_by_id), None)
            place = np.array(held or (self.job.datum.x, 0.0, self.job.table.top_z))
            axes = PLANES[self.camera.view]
            spot = self.camera.on_plane(at.x(), at.y(), place, axes)
            place[list(axes)] = snapped(self.job, spot)[list(axes)]
            self.placed.emit(*(float(v) for v in place))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            at = event.position()
            self._fitted = False
            self.look_through(self.camera.zoomed(1.0015 ** event.angleDelta().y(), (at.x(), at.y())), moving=True)

    def leaveEvent(self, event: object) -> None:
        self.handle = None
        self._hover("")

    def _hover(self, name: str) -> None:
        self.hovered = name
        grips = self.handle or (name in self.chosen and movable(self.job, name))
        shape = Qt.CursorShape.SizeAllCursor if grips else Qt.CursorShape.PointingHandCursor
        self.setCursor(shape if name or self.handle else Qt.CursorShape.ArrowCursor)
        self._painting.drop_marks()
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if self.tool and not self.gesture and self.tool.key(event):
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
        elif event.text() in (".", ","):
            self._step_along(1 if event.text() == "." else -1)
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

    def _step_along(self, step: int) -> None:
        """Choose the next joint from nose to tail, or the one before."""
        along = sorted(self.job.joints, key=lambda j: (-j.x, j.z, -j.y))
        if along:
            ids = [j.id for j in along]
            here = next((ids.index(c) for c in self.chosen if c in self.job.joint_by_id), -1 if step > 0 else 0)
            self.picked.emit((ids[(here + step) % len(ids)],), False)

    def _nudge(self, event: QKeyEvent) -> bool:
        """Arrows move chosen joints, parts and people by a round step along the axis nearest to the arrow on the
        screen (×10 with Shift); Page Up and Down along z. With nothing chosen, arrows push the view."""
        way = self.way_of(event)
        if way is None:
            return False
        names = tuple(c for c in self.chosen if movable(self.job, c))
        if not names:
            right, up = ARROWS.get(Qt.Key(event.key()), (0, 0))
            self._fitted = False
            self.look_through(self.camera.panned(-40 * right, 40 * up))
            return True
        step = units_of(self.job).snap_mm * (10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1)
        self.dragged.emit(names, *(v * step for v in way))
        return True

    def way_of(self, event: QKeyEvent) -> tuple[float, float, float] | None:
        """The axis along which an arrow points on the screen, as a unit vector with its sign; z for Page Up and Down;
        None for other keys."""
        pages = {Qt.Key.Key_PageUp: 1.0, Qt.Key.Key_PageDown: -1.0}
        if (key := Qt.Key(event.key())) in pages:
            return 0.0, 0.0, pages[key]
        if key not in ARROWS:
            return None
        right, up = ARROWS[key]
        way = right * self.camera.basis[0] + up * self.camera.basis[1]
        if self.camera.view == "free":
            way = way * [1, 1, 0]  # the level plane; z has its own keys
        axis = int(np.abs(way).argmax())
        x, y, z = (float(np.sign(way[axis])) * (n == axis) for n in range(3))
        return x, y, z

    def close_drawing(self) -> None:
        """Stop drawing and give the graphics memory back."""
        self._settle.stop()
        self._hold.stop()
        self._late.stop()
        self._artist.close(self._pencil.drop)


def _things(decor: Decor) -> set[str]:
    """What stands on the table beside the frame, wherever it stands."""
    alone = {f"piece {p.id}" for p in decor.cut.pieces} if decor.cut and decor.cut.alone else set()
    return {b.id for b in decor.bodies} | {f"stand {s.joint}" for s in decor.stands} | alone


def _corners(body: Body) -> Floats:
    """The corners (8, 3) of the box round a body."""
    (x0, y0, z0), (x1, y1, z1) = body.bounds
    return np.array([(x, y, z) for x in (x0, x1) for y in (y0, y1) for z in (z0, z1)])
