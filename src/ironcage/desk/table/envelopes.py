"""Bodies as triangles: what parts, people, tyres and drives take up, flat-shaded, each made once; a scan as its
coarse copy."""

from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.solids.convex import Solid
from ironcage.core.calc.solids.outsides import outside
from ironcage.core.job.geometry.bodies import Body
from ironcage.core.job.store.scans import to_look_at
from ironcage.desk.table.mesh import Mesh

if TYPE_CHECKING:
    from scipy.spatial import ConvexHull


@lru_cache(2000)
def _hull(solid: Solid) -> "ConvexHull | None":
    """The hull of a solid; None where it is as flat as a line, with nothing to see."""
    from scipy.spatial import ConvexHull, QhullError

    try:
        return ConvexHull(outside(solid))
    except QhullError:
        return None


def faces_of(solid: Solid) -> Floats:
    """The planes (f, 4) of a solid's faces: outward normal n and offset d, with n · place + d = 0 on the face; none
    for one without room."""
    hull = _hull(solid)
    return np.zeros((0, 4)) if hull is None else hull.equations


def _triangles(solid: Solid) -> tuple[Floats, Floats]:
    """Corners (t, 3, 3) and the outward normal (t, 3) of each triangle."""
    hull = _hull(solid)
    if hull is None:
        return np.zeros((0, 3, 3)), np.zeros((0, 3))
    points = hull.points
    corners, normals = points[hull.simplices], hull.equations[:, :3]
    turned = np.einsum("tc,tc->t", np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), normals) < 0
    corners[turned] = corners[turned][:, [0, 2, 1]]
    return corners, normals


class Envelopes:
    """Meshes of bodies, kept while the bodies are the same objects."""

    def __init__(self) -> None:
        self._kept: dict[int, tuple[Body, Floats, Floats]] = {}

    def mesh(self, bodies: tuple[Body, ...]) -> Mesh:
        """All bodies as one mesh; its owner is the row of the body."""
        self._kept = {id(b): self._kept.get(id(b)) or self._made(b) for b in bodies}
        made = [self._kept[id(b)] for b in bodies]
        if not made:
            none = np.zeros((0, 3), np.float32)
            return Mesh(none, none, np.zeros((0, 3), np.int64), np.zeros(0, np.int64))
        points = np.concatenate([corners.reshape(-1, 3) for _, corners, _ in made]).astype(np.float32)
        normals = np.concatenate([np.repeat(n, 3, axis=0) for _, _, n in made]).astype(np.float32)
        owner: NDArray[np.int64] = np.repeat(np.arange(len(made)), [3 * len(n) for _, _, n in made])
        return Mesh(points, normals, np.arange(len(points)).reshape(-1, 3), owner)

    @staticmethod
    def _made(body: Body) -> tuple[Body, Floats, Floats]:
        mesh = to_look_at(body.scan) if body.scan else None
        if mesh is not None:
            corners = mesh.points[mesh.faces] @ body.turn.T + body.at
            normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
            return body, corners, normals / np.maximum(np.linalg.norm(normals, axis=1), 1e-9)[:, None]
        parts = [_triangles(s) for s in body.solids]
        return body, np.concatenate([c for c, _ in parts]), np.concatenate([n for _, n in parts])
