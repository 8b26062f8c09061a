"""What every list of Prove's page is: it asks its own question, shows the answer, and says what the table shows
meanwhile."""

from abc import abstractmethod
from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPolygonF

from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.calc.frames.deflected import moved
from ironcage.core.calc.frames.factor import MechanismError
from ironcage.core.job.geometry.routes import Pieces, pieces
from ironcage.core.job.values.model import Job
from ironcage.desk.asker import Question
from ironcage.desk.pages.latertabs import ListTab
from ironcage.desk.pages.page import Card
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.overlay import Brush
from ironcage.desk.words import Words
from ironcage.problem import Problem

FULL_SWING = 0.10  # the largest deflection is drawn as at most this share of the frame's length
DRAWN_PARTS = 4  # straight pieces that a deflected straight tube is drawn in
ARROW_PX = 46.0


class ProveTab(ListTab):
    """A list of Prove's page."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.empty = Words(name="hint", wrap=True)
        self.empty.hide()
        self.result: Any = None
        self.motion: np.ndarray | None = None  # of a mechanism, where the frame is one
        self.job: Job = session.job

    @abstractmethod
    def question(self) -> Question:
        """What is put to the core off the GUI thread, as the list's choices stand now: it must not look at the list
        itself."""

    def take(self, job: Job, result: Any, problem: Problem | None) -> None:
        """The answer for a job, or why there is none."""
        self.job, self.result = job, result
        self.motion = problem.motion if isinstance(problem, MechanismError) else None
        self.empty.setText(str(problem) if problem else "")
        self.empty.setVisible(problem is not None)
        self.show_result()
        self.show_chosen()
        self.decorated.emit()

    @abstractmethod
    def show_result(self) -> None:
        """Show `result`, or nothing where there is none."""

    def decor(self) -> Decor:
        """What the table shows while this list is open."""
        return Decor()

    def decor_of_motion(self) -> Decor:
        """The motion that nothing stops, where the frame is a mechanism."""
        if self.motion is None:
            return Decor()
        return Decor(shape=deflected(self.job, self.motion, 1.0)[0])

    def cards(self) -> list[Card]:
        """What the bench card pages through."""
        return []


def deflected(job: Job, u: np.ndarray, share: float) -> tuple[Pieces | None, float]:
    """Centrelines moved by displacements (n, 6), the largest travel drawn as `share` of FULL_SWING of the frame's
    length, and how many times as large they are drawn."""
    nodes = np.array([j.place for j in job.joints])
    largest = float(np.linalg.norm(u[:, :3], axis=1).max())
    scale = share * FULL_SWING * float(np.ptp(nodes, axis=0).max()) / largest if largest else 0.0
    if not scale:
        return None, 0.0
    frame, lines = beam_frame(job), pieces(job, DRAWN_PARTS)
    start, stop = (at + moved(frame, u, scale, lines.owner, lines.share[:, n]) for n, at in enumerate(lines[:2]))
    return lines._replace(start=start, stop=stop), scale


def arrow(brush: Brush, place: np.ndarray, way: np.ndarray, colour: str, px: float = ARROW_PX) -> None:
    """A load of a length on the screen, drawn along a direction in the car; its tail is at the joint for a pull away
    from it, as forces are drawn."""
    spot = brush.camera.project(np.stack([place, place + way / (np.linalg.norm(way) or 1.0) * 10.0]))
    if not np.isfinite(spot).all():
        return
    across = (spot[1] - spot[0])[:2]
    size = float(np.linalg.norm(across))
    if size < 0.2:  # it points at the eye
        brush.pen(colour, 2)
        brush.painter.setBrush(QColor(colour))
        brush.painter.drawEllipse(QPointF(*spot[0][:2]), 4, 4)
        return
    along = across / size
    tail, tip = spot[0][:2], spot[0][:2] + along * px
    side = np.array([-along[1], along[0]])
    brush.pen(colour, 3)
    brush.painter.drawLine(QPointF(*tail), QPointF(*(tip - 6 * along)))
    brush.painter.setBrush(QColor(colour))
    brush.painter.drawPolygon(
        QPolygonF([QPointF(*tip), QPointF(*(tip - 10 * along + 5 * side)), QPointF(*(tip - 10 * along - 5 * side))])
    )


def foot(brush: Brush, place: np.ndarray) -> None:
    """A held joint: a hatched foot below it."""
    spot = brush.camera.project(place[None])[0]
    if not np.isfinite(spot).all():
        return
    x, y = float(spot[0]), float(spot[1])
    brush.pen(brush.look.ink, 2)
    brush.painter.setBrush(QColor(brush.look.steel))
    brush.painter.drawPolygon(QPolygonF([QPointF(x, y), QPointF(x - 9, y + 14), QPointF(x + 9, y + 14)]))
    for n in range(4):
        brush.painter.drawLine(QPointF(x - 9 + 6 * n, y + 14), QPointF(x - 13 + 6 * n, y + 19))
