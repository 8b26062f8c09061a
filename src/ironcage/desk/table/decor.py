"""What a step puts on the table."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from ironcage.core.job.geometry.routes import Pieces
from ironcage.core.job.values.model import Job
from ironcage.desk.table.overlay import Brush

if TYPE_CHECKING:
    from ironcage.core.answers.cut import Piece
    from ironcage.core.answers.jig import Stand
    from ironcage.core.job.geometry.bodies import Body
    from ironcage.desk.table.handles import Handle


@dataclass(frozen=True, eq=False)
class CutFrame:
    """Tubes as they are after cutting. job: that the pieces are of; alone: nothing but these pieces is shown."""

    job: Job
    pieces: "tuple[Piece, ...]"
    alone: bool = False


@dataclass(frozen=True, eq=False)
class Decor:
    """What a step puts on the table. colours: (m, 3) for the tubes or None; shape: deflected centrelines (m, k, 3)
    mm or None; stands: posts under joints; bodies: parts, people and tyres, those in `hot` as wrong; paint: anything
    else; places: (n, 3) mm that belong in the picture for it, or None; cut: the pieces that the tubes are shown as, or
    None; handles: points of the step that the mouse can take."""

    colours: np.ndarray | None = None
    shape: Pieces | None = None
    stands: "tuple[Stand, ...]" = ()
    bodies: "tuple[Body, ...]" = ()
    hot: frozenset[str] = frozenset()
    paint: Callable[[Brush], None] | None = None
    places: np.ndarray | None = None
    cut: CutFrame | None = None
    handles: "tuple[Handle, ...]" = ()

    @property
    def alone(self) -> bool:
        """Whether a piece is shown by itself."""
        return self.cut is not None and self.cut.alone

    def solid_as(self, other: "Decor") -> bool:
        """Whether the solid picture is the same with another one."""
        same = self.colours is other.colours and self.shape is other.shape and self.cut is other.cut
        return same and (self.stands, self.bodies, self.hot) == (other.stands, other.bodies, other.hot)

    def of_tubes(self, count: int) -> "Decor":
        """Without a shape and colours that are of another set of tubes."""
        shape, colours = self.shape, self.colours
        other = shape is not None and len(shape.owner) and int(shape.owner[-1]) != count - 1
        return (
            replace(self, shape=None, colours=None)
            if other or (colours is not None and len(colours) != count)
            else self
        )
