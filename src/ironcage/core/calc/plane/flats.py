"""Flat plates: outlines with round holes, their area, edge and middle."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from numpy.typing import NDArray

if TYPE_CHECKING:
    from shapely import Polygon

Floats = NDArray[np.float64]
SAME_MM = 0.02  # corners nearer than this lie on each other


@dataclass(frozen=True, eq=False)
class Flat:
    """A plate in its own plane. outline (n, 2), anticlockwise, mm; holes: x, y and diameter of each, mm; openings:
    other holes by their outlines (k, 2); bends: middle lines of bends, from end to end (2, 2)."""

    outline: Floats
    holes: tuple[tuple[float, float, float], ...] = ()
    openings: tuple[Floats, ...] = ()
    bends: tuple[Floats, ...] = ()

    @cached_property
    def _polygon(self) -> Polygon:
        from shapely import Polygon

        return Polygon(self.outline, self.openings)

    @property
    def gross(self) -> float:
        """Area without its round holes, mm²."""
        return float(self._polygon.area)

    @property
    def area(self) -> float:
        """Area without the holes, mm²."""
        return self.gross - sum(np.pi * d**2 / 4 for _, _, d in self.holes)

    @property
    def edge(self) -> float:
        """Length of the outline, mm."""
        return float(self._polygon.exterior.length)

    @property
    def middle(self) -> Floats:
        """Centroid of the outline (2,), mm."""
        return np.array([self._polygon.centroid.x, self._polygon.centroid.y])

    @cached_property
    def handed(self) -> bool:
        """Whether its mirror image is another plate: one that no turning in its plane makes of it."""
        places = np.vstack([self.outline, *(np.array([[x, y]]) for x, y, _ in self.holes)])
        marks = np.array([0.0] * len(self.outline) + [d for *_, d in self.holes])
        middle = places - places[: len(self.outline)].mean(axis=0)
        seen = middle[:, 0] + 1j * middle[:, 1]
        first = np.flatnonzero((np.abs(seen) > SAME_MM) & (marks == 0))
        if not first.size:
            return False
        lead = first[np.abs(seen[first]).argmax()]  # a mirror image lays it on a corner as far out, either way round
        alike = first[np.abs(np.abs(seen[first]) - abs(seen[lead])) < SAME_MM]
        return not any(_lies_on(seen.conj() * (seen[other] / seen[lead].conj()), seen, marks) for other in alike)

    def with_holes(self, count: int, diameter: float) -> Flat | None:
        """The plate with so many equal holes of a diameter (mm) laid out in it, each at least half a diameter from the
        edge and from the next; None where they do not fit.

        Places are taken one after another where there is most room, from a grid over the plate.
        """
        low, high = self.outline.min(axis=0), self.outline.max(axis=0)
        step = max(float((high - low).max()) / 60, 0.5)
        grid = np.stack(
            np.meshgrid(*(np.arange(a + step / 2, b, step) for a, b in zip(low, high, strict=True))), axis=-1
        ).reshape(-1, 2)
        room = np.where(self.holds(grid), self.to_edge(grid), -1.0)
        for x, y, d in self.holes:
            room = np.minimum(room, np.hypot(*(grid - [x, y]).T) - d / 2)
        made = list(self.holes)
        middle = self.middle
        for _ in range(count):
            fits = np.flatnonzero(room >= diameter)
            if not fits.size:
                return None
            best = fits[np.lexsort((np.hypot(*(grid[fits] - middle).T), -np.round(room[fits] / step)))[0]]
            x, y = (float(v) for v in grid[best])
            made.append((x, y, diameter))
            room = np.minimum(room, np.hypot(*(grid - [x, y]).T) - diameter / 2)
        return replace(self, holes=tuple(made))

    def holds(self, points: Floats) -> NDArray[np.bool_]:
        """Which points (k, 2) lie inside the outline."""
        from shapely import contains_xy

        return np.asarray(contains_xy(self._polygon, points))

    def to_edge(self, points: Floats) -> Floats:
        """How far points (k, 2) are from the outline and the openings (k,), mm."""
        from shapely import distance
        from shapely import points as places

        return np.asarray(distance(self._polygon.boundary, places(points)))


def _lies_on(turned: NDArray[np.complex128], seen: NDArray[np.complex128], marks: Floats) -> bool:
    """Whether places (n,) lie on others of the same marks (n,), in any order."""
    apart = np.abs(turned[:, None] - seen) + 1e6 * (marks[:, None] != marks)
    return bool((apart.min(axis=1) < SAME_MM).all())


def less(flat: Flat, shapes: Sequence[Floats]) -> Flat:
    """A plate without holes less some outlines (k, 2): what lies inside becomes openings, what reaches past the rim
    notches. Of a plate that falls apart the largest piece."""
    from shapely import Polygon, union_all

    left = Polygon(flat.outline).difference(union_all([Polygon(shape) for shape in shapes]))
    main = max(getattr(left, "geoms", [left]), key=lambda part: part.area)
    outline = np.array(main.exterior.coords)[:-1]
    x, y = outline.T
    if x @ np.roll(y, -1) - y @ np.roll(x, -1) < 0:
        outline = outline[::-1]
    return Flat(outline, (), tuple(np.array(ring.coords)[:-1] for ring in main.interiors), flat.bends)


class Laid(NamedTuple):
    """Places laid into the plane that fits them best. flat (n, 2), anticlockwise; off: the furthest that one is off the
    plane, mm; middle (3,); axes (3, 3): right, up and normal as rows."""

    flat: Floats
    off: float
    middle: Floats
    axes: Floats


def laid_flat(places: Floats) -> Laid:
    """Places in space (n, 3), at least three, in the plane that fits them best."""
    middle = places.mean(axis=0)
    right, up, _ = np.linalg.svd(places - middle)[2]
    flat = (places - middle) @ np.stack([right, up]).T
    x, y = flat.T
    if x @ np.roll(y, -1) - y @ np.roll(x, -1) < 0:
        flat, up = flat * [1, -1], -up
    axes = np.stack([right, up, np.cross(right, up)])
    return Laid(flat, float(np.abs((places - middle) @ axes[2]).max()), middle, axes)


def flattened(places: Floats) -> tuple[Floats, float]:
    """Places in space (n, 3) laid into the plane that fits them best, as an outline (n, 2) anticlockwise, and the
    furthest that one lies off it, mm."""
    laid = laid_flat(places)
    return laid.flat, laid.off
