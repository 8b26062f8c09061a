"""What every list of Frame's page that is opened when it is wanted is: it shows the job, an answer, and what is chosen, and may paint the table."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from ironcage.core.answers.frame import FrameAnswer
from ironcage.core.job.model import Job
from ironcage.core.job.routes import Pieces
from ironcage.desk.session import Session
from ironcage.desk.table.overlay import Brush

if TYPE_CHECKING:
    from ironcage.core.answers.bays import BaysAnswer
    from ironcage.core.answers.symmetry import Odd


@dataclass(frozen=True)
class FrameShown:
    """What the page shows: the frame's answer, and bays or what is not symmetric where a list that is open asked for them."""

    frame: FrameAnswer
    bays: "BaysAnswer | None" = None
    odd: "tuple[Odd, ...] | None" = None


class FrameTab(QWidget):
    """Signals: decorated (the table is to show something else), typing(text) starts a line for the builder to finish, export(kind, word) asks for a file."""

    decorated = pyqtSignal()
    typing = pyqtSignal(str)
    export = pyqtSignal(str, str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session

    @staticmethod
    def asks() -> Callable[[Job], FrameShown] | None:
        """The question while this list is open, where it wants more than the page's own."""
        return None

    def show_job(self, job: Job) -> None:
        """The job is another, or the list was opened."""

    def show_result(self, job: Job, shown: FrameShown) -> None:
        """The answer for a job."""

    def show_chosen(self) -> None:
        """What is chosen is other."""

    def leave(self) -> None:
        """Another list is opened."""

    def shape(self) -> Pieces | None:
        """Centrelines to show the frame with, or None for its own."""
        return None

    def paint(self, brush: Brush, job: Job, shown: FrameShown) -> None:
        """Paint over the table while this list is open."""
