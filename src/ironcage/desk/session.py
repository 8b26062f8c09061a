"""The job in hand: its history, its file, what is chosen, the mark, and the recovery journal.

The only thing in the window that changes the job. Widgets listen to its signals.
"""

import sys
from collections.abc import Callable
from datetime import date
from functools import partial
from pathlib import Path

from pydantic import ValidationError
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ironcage.core.job import text as lines
from ironcage.core.job.edits import keep_done
from ironcage.core.job.geometry.names import spoken
from ironcage.core.job.store.file import keep_other, opened, save
from ironcage.core.job.store.history import History
from ironcage.core.job.store.journal import Journal
from ironcage.core.job.text import Done, refused
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.units import Units


class Session(QObject):
    """Signals: started (another job is in hand), changed (the job has changed), chose (what is chosen has changed),
    told (a line for the builder: text, whether it is a refusal), saved (the file or its saved state has changed)."""

    started = pyqtSignal()
    changed = pyqtSignal()
    chose = pyqtSignal()
    told = pyqtSignal(str, bool)
    saved = pyqtSignal()

    def __init__(self, recovery: Path) -> None:
        super().__init__()
        self._recovery = recovery
        self.history = History.start(Job())
        self.path: Path | None = None
        self.chosen: tuple[str, ...] = ()
        self.mark = self.job
        self.mark_name = "as started"
        self._understood: tuple[tuple[str, tuple[str, ...]], Job, Done | Problem] | None = None
        self._saved_job = self.job
        self._digest = ""  # of the file as it was read or saved here; nothing where there is none yet
        self._journal = Journal(recovery, self.job, None)
        self._fault = ""  # of the journal, as last told

    @property
    def job(self) -> Job:
        """The present job."""
        return self.history.job

    @property
    def dirty(self) -> bool:
        """Whether there is something that the file does not have."""
        return self.job is not self._saved_job

    @property
    def title(self) -> str:
        """The job's name and whether it is saved."""
        return f"{self.job.brief.name}{' (not saved)' if self.dirty else ''}"

    def start(self, job: Job, path: Path | None, digest: str = "", *, unsaved: bool = False) -> None:
        """Take another job in hand; what was in hand must have been saved or given up before. digest: of its file as
        it was read."""
        self._journal.close(discard=True)
        self.history = History.start(job)
        self.path, self.mark, self.mark_name = path, job, "as opened" if path else "as started"
        self._saved_job = Job() if unsaved else job
        self._digest = digest
        self._journal = Journal(self._recovery, job, path, digest)
        if unsaved:  # keep it recoverable until it is saved
            self._journal.record(job)
        self.choose(())
        self.changed.emit()
        self.saved.emit()
        self.started.emit()

    def open(self, path: Path) -> None:
        """Open a file. Raises Problem and keeps the job in hand when it can't be."""
        found = opened(path)
        self.start(found.job, path.absolute(), found.digest)
        if found.said:
            self.told.emit(" ".join(found.said), True)

    @property
    def recovery_on(self) -> bool:
        """Whether every edit reaches the disk."""
        return not self._journal.fault

    def save(self, path: Path | None = None, *, over: bool = False) -> None:
        """Write the job to its file or to another, with what was done since in its log.

        over: whatever another window or program has written to its file since goes aside. Raises ChangedOnDisk where it
        has and may not, and Problem when it can't be written.
        """
        target = path or self.path
        if target is None:
            raise Problem("This job has no file yet.", hint="Choose where to save it.")
        job = self._logged()
        own = self.path is not None and target.absolute() == self.path
        kept = keep_other(target) if over and own and target.exists() else None
        self._digest = save(job, target, expected=self._digest if own and not over else None)
        if job is not self.job:
            self.history = self.history.amended(job)
            self.changed.emit()
        self.path = target.absolute()
        self._saved_job = self.job
        self._journal.close(discard=True)
        self._journal = Journal(self._recovery, self.job, self.path, self._digest)
        self.saved.emit()
        self.told.emit(f"Saved {target.name}." + (f" The other version is kept as {kept.name}." if kept else ""), False)

    def _logged(self) -> Job:
        """The job with the day's edits in its log, and a line in Prove's where stiffness or mass have changed; as it is
        where that can't be worked out, for saving must not wait for a fault there."""
        from ironcage.core.answers.prove import logged_if_changed

        done, today = self.history.since(self._saved_job), date.today()
        try:
            return keep_done(logged_if_changed(self.job, done, today), done, today)
        except Exception as fault:
            QTimer.singleShot(0, partial(sys.excepthook, type(fault), fault, fault.__traceback__))
            return self.job

    def close(self, *, discard: bool) -> None:
        """Stop; the journal stays on the disk unless discarded."""
        self._journal.close(discard=discard)

    def choose(self, names: tuple[str, ...]) -> None:
        """Choose joints, tubes, placed things and fittings by id; unknown ones are passed over."""
        job = self.job
        groups = (job.joint_by_id, job.tube_by_id, job.placed, job.fitting_by_id)
        known = tuple(dict.fromkeys(n for n in names if any(n in group for group in groups)))
        if known != self.chosen:
            self.chosen = known
            self.chose.emit()

    def understood(self, line: str) -> Done:
        """What a typed line would do now. Raises Problem when it is refused.

        What was understood while it was typed is kept for the Enter that follows, on the same job with the same
        chosen: a line is worked out once.
        """
        asked = (line.strip(), self.chosen)
        if self._understood is None or self._understood[0] != asked or self._understood[1] is not self.job:
            try:
                told: Done | Problem = lines.understand(line, self.job, self.chosen)
            except Problem as problem:
                told = problem
            self._understood = (asked, self.job, told)
        told = self._understood[2]
        if isinstance(told, Problem):
            raise told
        return told

    def type(self, line: str) -> None:
        """Carry out a typed line. Raises Problem when it is refused."""
        self.do(lambda job: self.understood(line))

    def do(self, make: Callable[[Job], Done], doing: str = "This") -> None:
        """Carry out an edit. Raises Problem when it is refused; nothing has changed then."""
        try:
            done = make(self.job)
        except ValidationError as error:
            raise self.named(refused(error, doing)) from None
        except Problem as problem:
            raise self.named(problem) from None
        self._take(done)

    def named(self, problem: Problem) -> Problem:
        """A refusal as it is read: in the job's units, with the names of joints and tubes in words."""
        made = problem.read_in(self.units)
        made.what = spoken(self.job, made.what)
        return made

    @property
    def units(self) -> Units:
        """The units that the job in hand is typed and read in."""
        return units_of(self.job)

    def edit(self, name: str, change: Callable[[Job], Job]) -> bool:
        """Carry out an edit from the mouse or a key; a refusal is told, and False given."""
        return self._try(lambda job: Done(name, change(job), self.chosen), name)

    def press(self, line: str, chosen: tuple[str, ...] | None = None) -> bool:
        """Carry out a line for a button, on what is chosen or on something else; a refusal is told, and False given."""
        typed = self.units.say(line)
        return self._try(lambda job: lines.understand(typed, job, self.chosen if chosen is None else chosen), typed)

    def _try(self, make: Callable[[Job], Done], doing: str) -> bool:
        try:
            self.do(make, doing)
        except Problem as problem:
            self.told.emit(str(problem), True)
            return False
        return True

    def _take(self, done: Done) -> None:
        told_fault = False
        if done.job is not self.job:
            self.history = self.history.done(done.name, done.job)
            told_fault = self._record()
        self.choose(done.chosen)
        if not told_fault:
            self.told.emit(f"{done.name}.", False)

    def undo(self) -> None:
        """Take the last step back."""
        self._step_to(self.history.undone(), f"Undone: {self.history.undo_name}.")

    def redo(self) -> None:
        """Do the step again that was taken back."""
        self._step_to(self.history.redone(), f"Done again: {self.history.redo_name}.")

    def _step_to(self, history: History, words: str) -> None:
        """Go along the history, if there is anywhere to go."""
        if history.at != self.history.at:
            self.history = history
            if not self._record():
                self.told.emit(words, False)

    @property
    def before(self) -> Job:
        """The job before its last edit; itself when there is none."""
        return self.history.undone().job

    def measure_from(self, job: Job, name: str) -> None:
        """Measure differences from another state from here on."""
        self.mark, self.mark_name = job, name
        self.told.emit(f"The tally shows differences from {name}.", False)
        self.changed.emit()

    def set_mark(self) -> None:
        """Measure differences from here on."""
        self.mark = self.job
        self.mark_name = f"after {self.history.undo_name}" if self.history.undo_name else "as opened"
        self.told.emit("Mark set: the tally shows differences from here.", False)
        self.changed.emit()

    def _record(self) -> bool:
        """Write the step to the journal and tell everybody; whether something was told of the journal: that it fails,
        or that it works again."""
        self._journal.record(self.job)
        before, self._fault = self._fault, self._journal.fault
        self.choose(self.chosen)
        self.changed.emit()
        self.saved.emit()
        if bool(before) == bool(self._fault):
            return False
        self.told.emit(self._fault or "Recovery works again: every edit reaches the disk.", bool(self._fault))
        return True
