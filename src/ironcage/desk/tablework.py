"""What the mouse does on the table, done to the job: things picked, moved, put and drawn, and handles of a step."""

from collections.abc import Callable

from pydantic import ValidationError
from PyQt6.QtCore import QObject, pyqtSignal

from ironcage.core.job import edits
from ironcage.core.job import text as lines
from ironcage.core.job.edits import Spot
from ironcage.core.job.text import measure
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.entry import Entry
from ironcage.desk.pages.page import Page
from ironcage.desk.session import Session
from ironcage.desk.table.view import TableView
from ironcage.problem import Problem


class TableWork(QObject):
    """Takes what the table says was done to it. page: the step that is open. Signal: tried(job) while something is
    dragged, as the job would be, or as it is where that was called off."""

    tried = pyqtSignal(object)

    def __init__(self, table: TableView, session: Session, entry: Entry, page: Callable[[], Page]) -> None:
        super().__init__()
        self.table, self.session, self.entry, self.page = table, session, entry, page
        table.picked.connect(self._picked)
        table.dragged.connect(self._dragged)
        table.dragging.connect(self._dragging)
        table.cut.connect(lambda tube, share: session.press(f"split {share * 100:g}%", (tube,)))
        table.placed.connect(self._placed)
        table.drew.connect(self._drew)
        table.drew_back.connect(session.undo)
        table.grasped.connect(lambda key: self.page().pick_handle(key))
        table.handled.connect(self._handled)
        table.handling.connect(self._handling)
        table.spotted.connect(self._spotted)
        table.scanned.connect(self._scanned)

    def _picked(self, names: tuple[str, ...], add: bool) -> None:
        before = self.session.chosen
        if add and len(names) == 1 and names[0] in before:
            self.session.choose(tuple(c for c in before if c != names[0]))
        else:
            self.session.choose((*before, *names) if add else names)
        if told := measure.read(self.session.job, self.session.chosen):
            self.session.told.emit(f"{told}.", False)  # what a tape held there says

    def _dragged(self, names: tuple[str, ...], dx: float, dy: float, dz: float) -> None:
        units = units_of(self.session.job)
        moved = " ".join(
            f"{a}{'+' if d > 0 else '−'}{units.length(abs(d), unit=False)}"
            for a, d in zip("xyz", (dx, dy, dz), strict=True)
            if d
        )
        kind = "joints" if all(n in self.session.job.joint_by_id for n in names) else "things"
        what = names[0] if len(names) == 1 else f"{len(names)} {kind}"
        self.session.edit(f"Move {what} {moved}", lambda job: edits.move_things(job, names, dx, dy, dz))

    def _dragging(self, names: tuple[str, ...], dx: float, dy: float, dz: float) -> None:
        """Figures follow a drag before it is done."""
        self._try(lambda job: edits.move_things(job, names, dx, dy, dz) if names else job)

    def _try(self, change: Callable[[Job], Job]) -> None:
        """Show figures of the job as it would be; a place that can't be keeps the last ones."""
        try:
            made = change(self.session.job)
        except (Problem, ValidationError):
            return
        self.tried.emit(made)

    def _placed(self, x: float, y: float, z: float) -> None:
        before = self.session.job
        if self.session.edit("Add a joint", lambda job: edits.add_joint(job, (x, y, z))):
            self.session.choose(tuple(j.id for j in self.session.job.joints[len(before.joints) :][:1]))

    def _drew(self, start: Spot, stop: Spot) -> None:
        """Lay a tube that was drawn, and go on drawing from where it ends."""
        ends: list[edits.Drawn] = []

        def lay(job: Job) -> Job:
            ends.append(edits.draw(job, start, stop))
            return ends[-1].job

        if self.session.edit("Draw a tube", lay) and self.table.drawing:
            self.table.drawing.arrived(ends[-1].start, ends[-1].stop)
            self.session.choose((ends[-1].stop,))

    def _handled(self, key: str, spot: Spot) -> None:
        """A handle of the step was put somewhere."""
        if (line := self.page().handle_line(key, spot)) and not self.session.press(line):
            self.tried.emit(self.session.job)

    def _handling(self, key: str, spot: Spot | None) -> None:
        """Figures follow a handle before it is let go."""
        line = self.page().handle_line(key, spot) if spot else ""
        self._try(lambda job: lines.understand(line, job).job if line else job)

    def _spotted(self, x: float, y: float, z: float) -> None:
        """A click while a picture is scaled: its readings go into the line, in the plane that is looked at."""
        job, text = self.session.job, self.entry.line.text()
        from ironcage.core.job.text.placed import READINGS

        axes = READINGS.get(self.table.camera.view, "xz")
        units, place = units_of(job), dict(zip("xyz", (x, y, z), strict=True))
        said = ", ".join(units.length(place[a] - getattr(job.datum, a), unit=False) for a in axes)
        self.entry.begin(f"{text}{said}; " if ";" not in text else f"{text}{said} apart ")

    def _scanned(self, part: str, x: float, y: float, z: float) -> None:
        """A double click on a scan: start the line that the step has for it."""
        self.session.choose((part,))
        units, d = units_of(self.session.job), self.session.job.datum
        said = ", ".join(units.length(v, unit=False) for v in (x - d.x, y - d.y, z - d.z))
        self.entry.begin(self.page().scan_line(edits.find_part(self.session.job, part), said))
