"""A sheet of lines and words at 1:1, in mm, x to the right and y up from the lower left corner."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ironcage.units import METRIC, Units, said
from ironcage.units.tables import INCH

Weight = Literal["cut", "fine", "mark", "bend", "table"]
WIDTHS_MM: dict[Weight, float] = {"cut": 0.35, "fine": 0.13, "mark": 0.2, "bend": 0.18, "table": 0.5}


@dataclass(frozen=True)
class Path:
    """Joined straight lines through points (n, 2)."""

    points: NDArray[np.float64]
    weight: Weight = "fine"
    dashed: bool = False

    def moved(self, x: float, y: float) -> Path:
        """The same elsewhere."""
        return replace(self, points=self.points + [x, y])


@dataclass(frozen=True)
class SheetCircle:
    """A circle by centre and radius."""

    x: float
    y: float
    radius: float
    weight: Weight = "fine"

    def moved(self, x: float, y: float) -> SheetCircle:
        """The same elsewhere."""
        return replace(self, x=self.x + x, y=self.y + y)


@dataclass(frozen=True)
class SheetWords:
    """One line of text; x, y is its baseline at `align`, size its height in mm, upright or turned 90°."""

    x: float
    y: float
    text: str
    size: float = 3.0
    align: Literal["left", "middle", "right"] = "left"
    upright: bool = True

    def moved(self, x: float, y: float) -> SheetWords:
        """The same elsewhere."""
        return replace(self, x=self.x + x, y=self.y + y)


FONT, BY_CAPITALS = "Helvetica", 1.38  # what words are printed in: its size by that of its capitals


@dataclass
class Sheet:
    """A sheet being drawn: its title, size in mm, the units that its words are read in, and what is on it."""

    title: str
    width: float
    height: float
    units: Units = METRIC
    items: list[Path | SheetCircle | SheetWords] = field(default_factory=list)

    def line(
        self, x1: float, y1: float, x2: float, y2: float, weight: Weight = "fine", *, dashed: bool = False
    ) -> None:
        """Add a straight line."""
        self.items.append(Path(np.array([[x1, y1], [x2, y2]]), weight, dashed))

    def path(self, points: NDArray[np.float64], weight: Weight = "fine", *, dashed: bool = False) -> None:
        """Add joined lines through points (n, 2)."""
        self.items.append(Path(np.asarray(points, dtype=float), weight, dashed))

    def box(self, x: float, y: float, width: float, height: float, weight: Weight = "fine") -> None:
        """Add a rectangle by its lower left corner."""
        self.path(np.array([[x, y], [x + width, y], [x + width, y + height], [x, y + height], [x, y]]), weight)

    def cross(self, x: float, y: float, arm: float, weight: Weight = "mark") -> None:
        """Add an upright cross."""
        self.line(x - arm, y, x + arm, y, weight)
        self.line(x, y - arm, x, y + arm, weight)

    def words(
        self,
        x: float,
        y: float,
        text: str,
        size: float = 3.0,
        align: Literal["left", "middle", "right"] = "left",
        *,
        upright: bool = True,
    ) -> None:
        """Add a line of text."""
        self.items.append(SheetWords(x, y, self.units.say(text), size, align, upright))

    def lines_of(self, x: float, y: float, texts: Iterable[str], size: float = 3.0) -> float:
        """Add lines of text downwards from y; the y below the last."""
        for text in texts:
            self.words(x, y, text, size)
            y -= 1.5 * size
        return y

    def scale_bar(self, x: float, y: float, about_mm: float = 100.0) -> None:
        """Add a bar of known length, about as long as asked, to hold a rule against: the printer's scale is right if
        it measures so."""
        step_mm = INCH if self.units.inches else 10.0
        steps = round(about_mm / step_mm)
        self.line(x, y, x + steps * step_mm, y, "mark")
        for n in range(steps + 1):
            self.line(x + n * step_mm, y, x + n * step_mm, y + (3.0 if n % 5 == 0 else 1.5), "mark")
        self.words(x, y - 4, f"this bar measures {said.size(steps * step_mm)} when printed at 100 %", 2.6)
