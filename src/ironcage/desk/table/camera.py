"""Where the table is looked at from: places in mm to places on the screen and back.

Kept as its own small value so that picking, the tape and the painted labels need no 3D library, and the
picture behind them is drawn from the same numbers.
"""

import math
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np

from ironcage.core.calc.frames.beams import Floats

View = Literal["side", "plan", "front", "free"]
VIEW_ANGLE = math.radians(28)
# the two axes that something is moved along when it is dragged in a view; the level plane in the free one
PLANES: dict[View, tuple[int, int]] = {"side": (0, 2), "plan": (0, 1), "front": (1, 2), "free": (0, 1)}

# name: (towards the viewer, up)
_FACING: dict[View, tuple[tuple[float, float, float], tuple[float, float, float]]] = {
    "side": ((0, 1, 0), (0, 0, 1)),  # from the left: the nose points to the left
    "plan": ((0, 0, 1), (0, -1, 0)),  # from above, nose to the left as in the side view
    "front": ((1, 0, 0), (0, 0, 1)),
    "free": ((0, 0, 1), (0, 1, 0)),  # turned by azimuth and elevation instead
}


@dataclass(frozen=True)
class Camera:
    """A view of `centre` (mm) at mm_per_px on a screen of width × height pixels.

    azimuth and elevation (rad) say where the viewer of the free view stands, from the nose turning left.
    """

    view: View = "free"
    centre: tuple[float, float, float] = (0.0, 0.0, 0.0)
    mm_per_px: float = 3.0
    width: int = 900
    height: int = 400
    azimuth: float = math.radians(68)
    elevation: float = math.radians(14)

    @cached_property
    def basis(self) -> Floats:
        """Rows: right, up, towards the viewer (3, 3)."""
        if self.view == "free":
            c, s = math.cos(self.elevation), math.sin(self.elevation)
            towards = np.array([c * math.cos(self.azimuth), c * math.sin(self.azimuth), s])
            up = np.array([0.0, 0.0, 1.0])
        else:
            towards, up = (np.array(v, dtype=float) for v in _FACING[self.view])
        right = np.cross(up, towards)
        right /= np.linalg.norm(right)
        return np.array([right, np.cross(towards, right), towards])

    @cached_property
    def distance(self) -> float:
        """From the viewer to the centre in the free view, mm, so that mm_per_px holds at the centre."""
        return self.mm_per_px * self.height / 2 / math.tan(VIEW_ANGLE / 2)

    def project(self, places: Floats) -> Floats:
        """Screen places (n, 3) of places (n, 3): pixels right, pixels down, and depth towards the viewer (mm).

        What lies behind the viewer gets nan.
        """
        made = (np.atleast_2d(places) - self.centre) @ self.basis.T
        if self.view == "free":
            ahead = self.distance - made[:, 2]
            ahead[ahead <= self.distance * 0.02] = np.nan
            scale = self.distance / self.mm_per_px / ahead
        else:
            scale = np.full(len(made), 1 / self.mm_per_px)
        made[:, 0] = self.width / 2 + made[:, 0] * scale
        made[:, 1] = self.height / 2 - made[:, 1] * scale
        return made

    def on_plane(self, right_px: float, down_px: float, place: Floats, axes: tuple[int, int]) -> Floats:
        """The place (3,) that shows at a pixel, got by moving `place` along two axes only; `place` itself where the
        plane is seen edge-on. By Newton's method, since perspective is not linear."""
        at, units = np.array(place, dtype=float), np.eye(3)[list(axes)]
        for _ in range(8):
            here = self.project(at[None])[0, :2]
            slopes = np.array([self.project((at + u)[None])[0, :2] - here for u in units]).T
            if not np.isfinite(slopes).all() or abs(np.linalg.det(slopes)) < 1e-9:
                return np.array(place, dtype=float)
            at[list(axes)] += np.linalg.solve(slopes, np.array([right_px, down_px]) - here)
        return at

    def drag(self, right_px: float, down_px: float) -> Floats:
        """The move (3,) in mm, across the view, of something at the centre's depth dragged by pixels."""
        return self.basis[0] * right_px * self.mm_per_px - self.basis[1] * down_px * self.mm_per_px

    def panned(self, right_px: float, down_px: float) -> "Camera":
        """The view with its content moved by pixels."""
        x, y, z = (float(v) for v in np.array(self.centre) - self.drag(right_px, down_px))
        return replace(self, centre=(x, y, z))

    def zoomed(self, factor: float, at: tuple[float, float]) -> "Camera":
        """The view magnified by a factor about a place on the screen."""
        size = min(max(self.mm_per_px / factor, 0.02), 60.0)
        ratio = size / self.mm_per_px
        off = self.drag(at[0] - self.width / 2, at[1] - self.height / 2) * (1 - ratio)
        x, y, z = (float(v) for v in np.array(self.centre) + off)
        return replace(self, mm_per_px=size, centre=(x, y, z))

    def orbited(self, right_px: float, down_px: float) -> "Camera":
        """The free view turned about its centre, half a degree a pixel."""
        elevation = self.elevation + math.radians(down_px * 0.5)
        return replace(
            self, azimuth=self.azimuth - math.radians(right_px * 0.5), elevation=min(max(elevation, -1.5), 1.5)
        )

    def fitted(self, places: Floats, margin: float = 0.89) -> "Camera":
        """The view centred on places (n, 3), which take the share `margin` of its width or its height; the same view
        for none."""
        if not len(places):
            return self
        low, high = places.min(axis=0), places.max(axis=0)
        x, y, z = (float(v) for v in (low + high) / 2)
        camera = replace(self, centre=(x, y, z))
        for _ in range(6):  # perspective changes with distance, so settle it
            at = camera.project(places)[:, :2]
            if not np.isfinite(at).all():
                camera = replace(camera, mm_per_px=min(camera.mm_per_px * 2, 60.0))
                continue
            least, most = at.min(axis=0), at.max(axis=0)
            right, down = (least + most) / 2 - [self.width / 2, self.height / 2]
            camera = camera.panned(-float(right), -float(down))
            share = float(max((most - least) / [self.width * margin, self.height * margin]))
            camera = replace(camera, mm_per_px=min(max(camera.mm_per_px * (share or 1.0), 0.05), 60.0))
        return camera
