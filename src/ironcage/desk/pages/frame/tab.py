"""What every list of Frame's page that is made when it is wanted is: it shows an answer as well as the job, and may
paint the table."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np

from ironcage.core.job.geometry.routes import Pieces
from ironcage.core.job.values.model import Job
from ironcage.desk.pages.latertabs import ListTab
from ironcage.desk.table.overlay import Brush

if TYPE_CHECKING:
    from ironcage.core.answers.frame.bays import BaysAnswer
    from ironcage.core.answers.frame.materials import FrameAnswer
    from ironcage.core.answers.frame.pivots import Pivot
    from ironcage.core.answers.frame.symmetry import Odd
    from ironcage.core.answers.place import Spacing
    from ironcage.core.job.geometry.bodies import Body


@dataclass(frozen=True)
class FrameShown:
    """What the page shows: the frame's answer, and bays, what is not symmetric, the share of twist stiffness that
    holes take (by fitting), holes on one pivot, the spacing of rails, or how many ends are cut to more than one tube in
    the job that is compared with and in this one, where a list that is open asked for them; keep_out: the room that
    wheels and links take on their way, where that is shown."""

    frame: "FrameAnswer"
    bays: "BaysAnswer | None" = None
    odd: "tuple[Odd, ...] | None" = None
    hole_costs: Mapping[str, float] = field(default_factory=dict)
    pivots: "tuple[Pivot, ...]" = ()
    spacing: "tuple[Spacing, ...]" = ()
    trimmed: tuple[int, int] | None = None
    keep_out: "tuple[Body, ...]" = ()


class FrameTab(ListTab):
    """A list of Frame's page."""

    def show_result(self, job: Job, shown: FrameShown) -> None:
        """The answer for a job."""

    def shape(self) -> Pieces | None:
        """Centrelines to show the frame with, or None for its own."""
        return None

    def places(self) -> np.ndarray | None:
        """Places (n, 3) in mm that belong in the picture while this list is open, or None."""
        return None

    def paint(self, brush: Brush, job: Job, shown: FrameShown) -> None:
        """Paint over the table while this list is open."""
