"""What lies where on the screen: joints and tubes of a job as a camera sees them, and which the mouse is on."""

from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPolygonF

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.solids.convex import Solid
from ironcage.core.calc.solids.outsides import outside
from ironcage.core.job.geometry.bodies import Body
from ironcage.core.job.geometry.routes import Pieces, pieces
from ironcage.core.job.store.scans import triangles
from ironcage.core.job.values.model import Job
from ironcage.desk.table.camera import Camera
from ironcage.desk.table.envelopes import faces_of

NEAR_JOINT_PX, NEAR_TUBE_PX = 11.0, 7.0
RAY_MM = 500.0
MOST_LOOKED_AT = 400  # joints that are looked for behind bodies
MOUNT_MM = 40.0  # a joint this deep in or behind a body's face is one it is mounted on, and can be picked


class Shown:
    """A job seen by a camera; worked out once for as many questions as the mouse asks."""

    def __init__(self, job: Job, camera: Camera, bodies: tuple[Body, ...]) -> None:
        self.job, self.camera, self.bodies = job, camera, bodies

    @cached_property
    def spots(self) -> Floats:
        """Where joints are (n, 3): pixels right, pixels down, depth towards the viewer."""
        places = np.array([j.place for j in self.job.joints]).reshape(-1, 3)
        return self.camera.project(places) if len(places) else np.zeros((0, 3))

    @cached_property
    def _lines(self) -> Pieces:
        return pieces(self.job)

    @cached_property
    def _on_screen(self) -> tuple[Floats, Floats]:
        """Both ends (k, 3) of every piece of centreline on the screen: pixels right, down, depth."""
        return self.camera.project(self._lines.start), self.camera.project(self._lines.stop)

    @cached_property
    def _reach(self) -> Floats:
        """How near to its line (k,), px, the mouse is on a piece."""
        sizes = {s.name: max(s.shape.size) / 2 for s in self.job.shelf.sections}
        radii = np.array([sizes[t.section] for t in self.job.tubes])[self._lines.owner]
        return np.maximum(NEAR_TUBE_PX, 0.6 * radii / self.camera.mm_per_px)

    def under(self, at: QPointF) -> str:
        """The joint, else the tube, else the body at a place on the screen; the nearer to the viewer of two; '' for
        none.

        A joint or tube that a body hides is not picked through it.
        """
        here = np.array([at.x(), at.y()])
        body, front = self._body_under(at)
        away = np.hypot(*(self.spots[:, :2] - here).T)
        close = np.flatnonzero((away <= NEAR_JOINT_PX) & (self.spots[:, 2] > front - MOUNT_MM))
        if close.size:
            return self.job.joints[min(close, key=lambda n: (round(away[n] / 4), -self.spots[n, 2]))].id
        if not self.job.tubes:
            return body
        share, gap = self._beside(here)
        a, b = (ends[:, 2] for ends in self._on_screen)
        depth = a + share * (b - a)
        close = np.flatnonzero((gap <= self._reach) & (depth > front - MOUNT_MM))
        if not close.size:
            return body
        return self.job.tubes[self._lines.owner[max(close, key=lambda n: depth[n])]].id

    @cached_property
    def hidden(self) -> NDArray[np.bool_]:
        """Which joints (n,) stand behind a part, a person, a drive or a tyre; none where there are too many joints."""
        found = np.zeros(len(self.spots), dtype=bool)
        if self._outlines and len(self.spots) <= MOST_LOOKED_AT:
            for n, (x, y, depth) in enumerate(self.spots):
                found[n] = bool(np.isfinite(x)) and self._body_under(QPointF(x, y), placed=False)[1] > depth + MOUNT_MM
        return found

    def _body_under(self, at: QPointF, *, placed: bool = True) -> tuple[str, float]:
        """The nearest part, person, chain or shaft, or with `placed` off any body, at a place on the screen and how far
        towards the viewer it is there (mm, as the camera's depth); '' and the far end of everything for none."""
        hits = [("", -np.inf)]
        for body, outlines in self._outlines:
            if placed and body.id not in self.job.placed:
                continue
            over = [
                s for s, o in zip(body.solids, outlines, strict=True) if o.containsPoint(at, Qt.FillRule.WindingFill)
            ]
            if over and body.scan and triangles(body.scan) is not None:
                spot = self.on_scan(body.id, at)
                depths = [] if spot is None else [self._depth(spot)]
            else:
                depths = [self._front(solid, at) for solid in over]
            hits += [(body.id, depth) for depth in depths]
        return max(hits, key=lambda hit: hit[1])

    def _depth(self, place: Floats) -> float:
        return float(self.camera.project(place[None])[0, 2])

    def _front(self, solid: Solid, at: QPointF) -> float:
        """How far towards the viewer a convex solid is where the line of sight through a pixel enters it: the last
        of the faces turned to the viewer that it passes."""
        start, way = self._sight(at)
        faces = faces_of(solid)
        if not len(faces):
            return self._depth(solid.points[0])
        towards = faces[:, :3] @ way
        met = towards < -1e-9
        along = -(faces[met, :3] @ start + faces[met, 3]) / towards[met]
        return self._depth(start + along.max() * way)

    def on_scan(self, name: str, at: QPointF) -> Floats | None:
        """The place (3,) on a scan's own surface that shows at a place on the screen; None for other bodies or
        beside it."""
        body = next((b for b in self.bodies if b.id == name and b.scan), None)
        mesh = triangles(body.scan) if body else None
        if body is None or mesh is None:
            return None
        start, way = self._sight(at)
        back = body.turn.T
        hit = mesh.tree.hit(back @ (start - body.at), back @ way)
        return None if hit is None else body.turn @ hit + body.at

    def _sight(self, at: QPointF) -> tuple[Floats, Floats]:
        """A place (3,) on the line of sight through a pixel, and its way (3,) from the viewer."""
        towards, level = self.camera.basis[2], np.array(self.camera.centre)
        near, far = (self._through(at, level + towards * depth) for depth in (RAY_MM, -RAY_MM))
        return near, far - near

    def _through(self, at: QPointF, level: Floats) -> Floats:
        """The place at a pixel in the plane across the line of sight through `level`."""
        right, up, _ = self.camera.basis
        spot = level.copy()
        for _ in range(4):
            x, y, _ = self.camera.project(spot[None])[0]
            side, _, _ = self.camera.project((spot + right)[None])[0]
            size = side - x
            spot = spot + right * ((at.x() - x) / size) + up * ((y - at.y()) / size)
        return spot

    @cached_property
    def _outlines(self) -> list[tuple[Body, list[QPolygonF]]]:
        """Each body and its pieces' outlines on the screen; none of what is partly behind the viewer."""
        found = []
        for body in self.bodies:
            spots = [self.camera.project(outside(solid)) for solid in body.solids]
            if all(np.isfinite(s).all() for s in spots):
                found.append((body, [_hull(s[:, :2]) for s in spots]))
        return found

    def share_of(self, tube: str, at: QPointF) -> float:
        """The share (0 to 1) of a tube's length that is nearest to a place on the screen."""
        share, gap = self._beside(np.array([at.x(), at.y()]))
        rows = np.flatnonzero(self._lines.owner == self.job.tubes.index(self.job.tube_by_id[tube]))
        best = rows[int(gap[rows].argmin())]
        first, last = self._lines.share[best]
        return float(first + share[best] * (last - first))

    def inside(self, box: QRectF) -> tuple[str, ...]:
        """The joints in a box on the screen, and the tubes with both joints in it."""
        held = {j.id for j, (x, y, _) in zip(self.job.joints, self.spots, strict=True) if box.contains(QPointF(x, y))}
        joints = tuple(j.id for j in self.job.joints if j.id in held)
        return joints + tuple(t.id for t in self.job.tubes if t.a in held and t.b in held)

    def _beside(self, here: Floats) -> tuple[Floats, Floats]:
        """For each piece the share of its length nearest to a place, and how far off that is, px."""
        a, b = (ends[:, :2] for ends in self._on_screen)
        way = b - a
        length = np.maximum(np.einsum("ij,ij->i", way, way), 1e-9)
        share = np.clip(np.einsum("ij,ij->i", here - a, way) / length, 0, 1)
        return share, np.hypot(*(a + share[:, None] * way - here).T)


def _hull(points: Floats) -> QPolygonF:
    """The convex outline of points (n, 2) on the screen (monotone chain, Andrew 1979)."""
    ordered = sorted(map(tuple, points.tolist()))

    def half(run: list[tuple[float, ...]]) -> list[tuple[float, ...]]:
        kept: list[tuple[float, ...]] = []
        for p in run:
            while len(kept) > 1:
                (ax, ay), (bx, by) = kept[-2], kept[-1]
                if (bx - ax) * (p[1] - ay) - (by - ay) * (p[0] - ax) > 0:
                    break
                kept.pop()
            kept.append(p)
        return kept[:-1]

    return QPolygonF([QPointF(x, y) for x, y in half(ordered) + half(ordered[::-1])])
