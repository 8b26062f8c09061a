"""The bays of the frame: which are open, what closes each, and how the frame folds if joints were hinges, shown
moving."""

import math

import numpy as np
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from ironcage.core.answers.frame import bays, materials
from ironcage.core.answers.shared.frame_arrays import lines
from ironcage.core.answers.shared.names import name_of
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.geometry.routes import Pieces, pieces
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.pages.frame.tab import FrameShown, FrameTab
from ironcage.desk.pages.page import button, row
from ironcage.desk.session import Session
from ironcage.desk.table import sheets
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import Words
from ironcage.units import said

SWING_SHARE = 0.06  # of the frame's size, that the joint which moves most swings when a fold is shown
STEP_MS, SWING_STEPS = 60, 28
PAUSE_MS = 200
STILL = -1


class BaysTab(FrameTab):
    """The list of bays, what closes the one that is picked, and the folds."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.job = session.job
        self.made = bays.BaysAnswer((), ())
        self.chosen = ""
        self.fold = STILL
        self._phase = 0
        self.list = Grid("Bays", self._columns(), lambda b: b.name, session.do)
        self.ways = Grid("What closes the bay", self._closing_columns(), lambda c: c.line)
        self.said = Words(name="quiet", wrap=True)
        self.lay = button("Close it so", self._lay, "Lay the brace, or the panel, that is picked in the list")
        self.show_fold = button(
            "Next fold", self.next_fold, "Show the next way the frame would fold if joints were hinges"
        )
        self.stop = button("Stand still", self.stand_still, "Stop the fold that is shown")
        self.timer = QTimer(self)
        self.timer.setInterval(STEP_MS)
        self.timer.timeout.connect(self._swing)
        self.later = QTimer(self)
        self.later.setSingleShot(True)
        self.later.setInterval(PAUSE_MS)
        self.later.timeout.connect(self._show_ways)
        right = QVBoxLayout()
        right.setContentsMargins(0, 0, 0, 0)
        right.addWidget(self.ways, 1)
        right.addLayout(row(self.lay, self.show_fold, self.stop))
        right.addWidget(self.said)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.list, 5)
        box.addLayout(right, 5)
        self.list.chose.connect(self._pick)

    def _columns(self) -> tuple[Column, ...]:
        return (
            Column("bay", lambda b: "–".join(b.corners)),
            Column("state", lambda b: b.state),
            Column("sides", lambda b: str(len(b.corners)), True),
            Column(
                "area",
                lambda b: self.session.units.sheet_area(b.area),
                True,
                unit=lambda: self.session.units.sheet_area_name,
            ),
            Column(
                "off flat",
                lambda b: self._length(b.warp),
                True,
                tip="The furthest that a joint is off the bay's mean plane",
                unit=self.length_name,
            ),
            Column(
                "folds",
                lambda b: ", ".join(str(n + 1) for n in b.folds),
                tip="The ways the frame would fold in which this bay shears",
            ),
        )

    def _closing_columns(self) -> tuple[Column, ...]:
        return (
            Column("what closes it", lambda c: f"{c.kind} {'–'.join(c.joints)}" if c.kind == "diagonal" else c.kind),
            Column("length", lambda c: self._length(c.length) if c.length else "", True, unit=self.length_name),
            Column(
                "mass",
                lambda c: self.session.units.fine_mass(c.kg, unit=False) if c.kg else "",
                True,
                unit=self.mass_name,
            ),
            Column("in its way", lambda c: ", ".join(name_of(self.job, n) for n in c.blocked) or "nothing"),
        )

    def _length(self, value: float) -> str:
        return units_of(self.session.job).length(value, unit=False)

    def question(self) -> Question:
        return _with_bays

    def in_a_word(self) -> str:
        return f"{len(self.made.open)} open" if self.made and self.made.bays else ""

    def show_result(self, job: Job, shown: FrameShown) -> None:
        if shown.bays is None:
            self.said.setText("Looking for the bays.")
            return
        self.job, self.made = job, shown.bays
        self.list.show_rows(self.made.bays, frozenset(b.name for b in self.made.open))
        if self.made.named(self.chosen) is None:
            self.chosen = self.made.bays[0].name if self.made.bays else ""
        self.list.show_chosen((self.chosen,))
        if self.fold >= len(self.made.folds):
            self.stand_still()
        self._say()
        self.later.start()  # what closes the bay is tried once edits pause

    def _pick(self, keys: tuple[str, ...]) -> None:
        if keys:
            self.chosen = keys[-1]
            self._show_ways()
            self.decorated.emit()

    def _show_ways(self) -> None:
        """Try what would close the bay that is picked."""
        self.later.stop()
        bay = self._closable()
        self.ways.show_rows(bays.closings(self.job, bay) if bay else ())
        self.ways.list.selectRow(0)
        self._say()

    def _closable(self) -> bays.Bay | None:
        """The bay that is picked, if it is open and of the present job."""
        bay = self.made.named(self.chosen)
        return bay if bay and bay.state in ("open", "haunched") and self.job is self.session.job else None

    def _say(self) -> None:
        self.lay.setEnabled(self._closable() is not None)
        self.show_fold.setEnabled(bool(self.made.folds))
        self.stop.setEnabled(self.fold != STILL)
        self.said.setText(self._words(self.made.named(self.chosen)))

    def _words(self, bay: bays.Bay | None) -> str:
        if self.made.untold:
            return self.made.untold
        if not self.made.bays:
            return "No tubes close round anything yet: lay them until they do."
        if self.fold != STILL:
            return self._fold_words()
        folding, held = len(self.made.folding), len(self.made.folds) - len(self.made.folding)
        whole = (
            f"If joints were hinges the frame would fold {folding} way{'' if folding == 1 else 's'} that a brace stops"
            if folding
            else "If joints were hinges no bay would fold"
        )
        rest = (
            f"; {held} joint{'' if held == 1 else 's'} more {'is' if held == 1 else 'are'} held by bending alone."
            if held
            else "."
        )
        mine = (
            " This bay takes part in none of them: its neighbours hold it."
            if bay and bay.state == "open" and not bay.folds
            else ""
        )
        return whole + rest + mine

    def _fold_words(self) -> str:
        way = self.made.folds[self.fold]
        head = f"Fold {self.fold + 1} of {len(self.made.folds)}: "
        if way.bay < 0:
            return (
                f"{head}{', '.join(way.movers[:4])} held by bending alone; "
                "a brace in a bay does not stop it, a tube to it does."
            )
        others = [b for b in way.bays if b != way.bay]
        also = f"; with it shear {len(others)} more" if others else ""
        return f"{head}a brace in {'–'.join(self.made.bays[way.bay].corners)} stops it{also}."

    def _lay(self) -> None:
        if self.later.isActive():
            self._show_ways()
        rows = self.ways.list.selectionModel().selectedRows()
        if not rows:
            return
        way = self.ways.model.rows[rows[0].row()]
        if way.kind == "haunches":
            self.session.told.emit(
                said.example(
                    "Choose two tubes that meet in a corner of it and type: add haunch leg [90], thickness [2]"
                ),
                False,
            )
        else:
            self.session.press(way.line, ())

    def next_fold(self) -> None:
        """Show the next fold, moving."""
        if not self.made.folds:
            return
        self.fold = (self.fold + 1) % len(self.made.folds)
        way = self.made.folds[self.fold]
        if way.bay >= 0:
            self.chosen = self.made.bays[way.bay].name
            self.list.show_chosen((self.chosen,))
        self._phase = 0
        self.timer.start()
        self._show_ways()
        self._swing()

    def leave(self) -> None:
        self.later.stop()
        self.stand_still()

    def paint(self, brush: Brush, job: Job, shown: FrameShown) -> None:
        if shown.bays and job.joints is self.session.job.joints:
            rows = {j.id: n for n, j in enumerate(job.joints)}
            sheets.bays(brush, lines(job).nodes + self._moved(), rows, shown.bays.bays, self.chosen)

    def stand_still(self) -> None:
        """Show no fold."""
        self.fold = STILL
        self.timer.stop()
        self._show_ways()
        self.decorated.emit()

    def _swing(self) -> None:
        self._phase = (self._phase + 1) % SWING_STEPS
        self.decorated.emit()

    def _moved(self) -> Floats:
        """How far the fold that is shown moves each joint (n, 3) at this moment, mm; zero when it stands still or
        the job has changed."""
        job = self.session.job
        nodes = lines(job).nodes
        if self.fold == STILL or self.job.joints is not job.joints or self.job.tubes is not job.tubes:
            return np.zeros_like(nodes)
        swing = SWING_SHARE * float(np.ptp(nodes, axis=0).max()) * math.sin(2 * math.pi * self._phase / SWING_STEPS)
        return swing * self.made.folds[self.fold].motion

    def shape(self) -> Pieces | None:
        job, moved = self.session.job, self._moved()
        if self.fold == STILL or not moved.any():
            return None
        ends, chords = lines(job).ends, pieces(job)
        start, stop = (
            at
            + moved[ends[chords.owner, 0]] * (1 - chords.share[:, [n]])
            + moved[ends[chords.owner, 1]] * chords.share[:, [n]]
            for n, at in enumerate((chords.start, chords.stop))
        )
        return chords._replace(start=start, stop=stop)


def _with_bays(job: Job) -> FrameShown:
    return FrameShown(materials.answer(job), bays=bays.find_bays(job))
