"""Jobs and files from the window: new, open, save, recover, and what is written for others. Asks before work is
lost."""

import re
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QMessageBox, QWidget

from ironcage.core.job.store.disk import write_atomically
from ironcage.core.job.store.file import ChangedOnDisk
from ironcage.core.job.store.journal import Recovered, drop, left_behind
from ironcage.core.job.values.model import Job
from ironcage.desk.session import Session
from ironcage.desk.settings import Settings
from ironcage.desk.workstrip import Say, WorkStrip
from ironcage.problem import Problem
from ironcage.samples import sample

if TYPE_CHECKING:
    from ironcage.core.exchange.incoming import Incoming, Read

_JOBS = "Iron Cage jobs (*.cage)"


class Files(QObject):
    """Signals: opened (another job is in hand), found (work left behind by a program that stopped, newest first)."""

    opened = pyqtSignal()
    found = pyqtSignal(list)

    def __init__(self, parent: QWidget, session: Session, settings: Settings, strip: WorkStrip, recovery: Path) -> None:
        super().__init__(parent)
        self._parent, self.session, self.settings, self.strip, self._recovery = (
            parent,
            session,
            settings,
            strip,
            recovery,
        )

    def may_leave(self) -> bool:
        """Ask what to do with unsaved work, if there is any; whether the job in hand may go."""
        if not self.session.dirty:
            return True
        words = f"‘{self.session.job.brief.name}’ has changes that are not saved."
        chosen = self._chosen("Not saved", words, "Save", "Throw them away")
        if chosen == "Save":
            self.save_file()
            return not self.session.dirty
        return chosen == "Throw them away"

    def _chosen(self, title: str, words: str, keeps: str, replaces: str) -> str:
        """Ask between two ways on, by their buttons' words; "" where the builder would rather stay."""
        box = QMessageBox(self._parent)
        box.setWindowTitle(title)
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setText(words)
        keep = box.addButton(keeps, QMessageBox.ButtonRole.AcceptRole)
        replace = box.addButton(replaces, QMessageBox.ButtonRole.DestructiveRole)
        box.addButton("Stay here", QMessageBox.ButtonRole.RejectRole)
        box.exec()
        clicked = box.clickedButton()
        return keeps if clicked is keep else replaces if clicked is replace else ""

    def new_job(self) -> None:
        """Start an empty job."""
        if self.may_leave():
            self.session.start(Job(), None)
            self.opened.emit()

    def open_demo(self, name: str) -> None:
        """Start a demo job."""
        if self.may_leave():
            self.session.start(sample(name), None)
            self.opened.emit()

    def open_file(self) -> None:
        """Ask for a file and open it."""
        if self.may_leave():
            name, _ = QFileDialog.getOpenFileName(
                self._parent, "Open a job", str(self._folder), f"{_JOBS};;All files (*)"
            )
            if name:
                self.open_path(Path(name))

    def open_recent(self, path: Path) -> None:
        """Open a file that was open before."""
        if self.may_leave():
            self.open_path(path)

    def open_path(self, path: Path) -> bool:
        """Open a file; a refusal is told and the job in hand stays."""
        try:
            self.session.open(path)
        except Problem as problem:
            self.session.told.emit(str(problem.read_in(self.session.units)), True)
            return False
        self.settings.opened(path.absolute())
        self.opened.emit()
        return True

    def save_file(self) -> None:
        """Save; ask where the first time."""
        if self.session.path is None:
            self.save_as()
        else:
            self._save(self.session.path)

    def save_as(self) -> None:
        """Ask where and save."""
        start = self.session.path or self._folder / f"{self._name}.cage"
        name, _ = QFileDialog.getSaveFileName(self._parent, "Save the job", str(start), _JOBS)
        if name and (path := self._ended(Path(name), ".cage")):
            self._save(path)

    def _save(self, path: Path) -> None:
        try:
            self.session.save(path)
        except ChangedOnDisk as changed:
            self._save_over(path, changed)
            return
        except Problem as problem:
            self.session.told.emit(str(problem.read_in(self.session.units)), True)
            return
        self.settings.opened(path.absolute())

    def _save_over(self, path: Path, changed: ChangedOnDisk) -> None:
        """Ask what to do where another has written the file since it was opened; both versions stay."""
        apart, over = "Save mine under another name…", "Save mine here, keep the other beside it"
        chosen = self._chosen("Changed by another", f"{changed.what} Nothing has been saved yet.", apart, over)
        if chosen == apart:
            self.save_as()
        elif chosen == over:
            try:
                self.session.save(path, over=True)
            except Problem as problem:
                self.session.told.emit(str(problem.read_in(self.session.units)), True)

    def _ended(self, path: Path, ending: str) -> Path | None:
        """A name with its ending; None where the builder does not want to write over what is there under it, which
        the dialog has not asked."""
        if path.name.lower().endswith(ending):
            return path
        path = path.with_name(path.name + ending)
        if path.exists():
            words = f"{path.name} is there already. Write over it?"
            buttons = QMessageBox.StandardButton
            if QMessageBox.question(self._parent, "There already", words, buttons.Yes | buttons.No) != buttons.Yes:
                self.session.told.emit(f"{path.name} was left as it is.", False)
                return None
        return path

    def export(self, name: str, word: str) -> None:
        """Ask where a file of a kind goes and write it."""
        from ironcage.core.exchange.kinds import kind

        wanted = kind(name)
        which = f" {word.replace(':', ' ')}" if ":" in word or wanted.ending == ".cage" else ""
        suggested = self._folder / f"{self._name} {_fit_for_a_file(wanted.says + which)}{wanted.ending}"
        target, _ = QFileDialog.getSaveFileName(
            self._parent, f"Save: {wanted.says}", str(suggested), f"*{wanted.ending}"
        )
        if target and (path := self._ended(Path(target), wanted.ending)):
            if self.session.path and path.resolve() == self.session.path.resolve():
                self.session.told.emit(f"{path.name} is this job itself: choose another name for it.", True)
                return
            job = self.session.job

            def write(say: Say) -> str:
                data = wanted.make(job, word)
                say(0.9)
                write_atomically(path, data)
                return f"Wrote {path}."

            self.strip.start("Making", path.name, write, lambda said: self.session.told.emit(said, False))

    def print_out(self, name: str, word: str) -> None:
        """Make a paper of a kind and show it as it will be printed."""
        from ironcage.core.exchange.kinds import kind

        wanted, job = kind(name), self.session.job
        title = wanted.says[0].upper() + wanted.says[1:]

        def show(data: bytes) -> None:
            from ironcage.desk.printing import preview

            preview(self._parent, title, data)

        self.strip.start("Making", wanted.says, lambda _say: wanted.make(job, word), show)

    def bring_in(self, name: str) -> None:
        """Ask for a file of a kind that comes in, read it, ask what it counts in where it does not say, and bring it
        into the job."""
        from ironcage.core.exchange.incoming import incoming

        kind = incoming(name)
        endings = " ".join(f"*{e} *{e.upper()}" for e in kind.endings)
        chosen, _ = QFileDialog.getOpenFileName(self._parent, f"Bring in: {kind.says}", str(self._folder), endings)
        if chosen:
            self._read(kind, Path(chosen))

    def take_dropped(self, path: Path, step: str) -> None:
        """Open or bring in a file that was dropped on the window with a step open: a job is opened, a picture goes to
        the log from Log and is laid on a plane from elsewhere, anything else is brought in as what its ending says."""
        from ironcage.core.exchange.incoming import INCOMING

        ending = path.suffix.lower()
        if ending == ".cage":
            self.open_recent(path)
            return
        fitting = [k for k in INCOMING if ending in k.endings and (k.name != "photo" or step == "log")]
        if not fitting:
            known = ", ".join(dict.fromkeys([".cage", *(e for k in INCOMING for e in k.endings)]))
            self.session.told.emit(f"{path.name} can't be brought in. What can ends in {known}.", True)
            return
        self._read(next((k for k in fitting if k.name == "photo"), fitting[0]), path)

    def _read(self, kind: "Incoming", path: Path) -> None:
        self.strip.start("Reading", path.name, lambda say: kind.read(path, say), lambda read: self._bring(kind, read))

    def _bring(self, kind: "Incoming", read: "Read") -> None:
        from ironcage.core.exchange.incoming import UNITS

        unit = read.unit
        if not unit:
            words = f"What does {read.name} count in? Its size suggests {read.guess}."
            unit, sure = QInputDialog.getItem(self._parent, "Units", words, UNITS, UNITS.index(read.guess), False)
            if not sure:
                self.session.told.emit(f"{read.name} was not brought in.", False)
                return
        told: list[str] = []

        def edit(job: Job) -> Job:
            made, said = kind.bring(job, read, unit)
            told.append(said)
            return made

        if self.session.edit(f"Bring in {read.name}", edit):
            job = self.session.job
            if kind.name in ("scan", "picture"):
                self.session.choose(((job.parts if kind.name == "scan" else job.pictures)[-1].id,))
            self.session.told.emit(told[0], False)

    def look_for_lost(self) -> None:
        """Say what work was left behind."""
        self.found.emit(list(left_behind(self._recovery)))

    def recover(self, lost: Recovered) -> None:
        """Take left-behind work in hand, still unsaved."""
        if not self.may_leave():
            return
        self.session.start(lost.job, lost.file, lost.digest or "", unsaved=True)
        self.opened.emit()
        if not self.session.recovery_on:
            words = (
                f"{lost.job.brief.name} is back, but can't be kept for recovery again: save it now. "
                "What was left behind stays where it is."
            )
            self.session.told.emit(words, True)
            return
        self.drop(lost)
        back = (
            "with every finished edit"
            if lost.whole
            else f"with its first {lost.edits} edits; what came after could not be read, and is kept in "
            f"{lost.journal.parent}"
        )
        self.session.told.emit(f"{lost.job.brief.name} is back, {back}. Save it to keep it.", False)

    def drop(self, lost: Recovered) -> None:
        """Throw left-behind work away."""
        try:
            drop(lost)
        except Problem as problem:
            self.session.told.emit(str(problem.read_in(self.session.units)), True)
        self.look_for_lost()

    @property
    def _folder(self) -> Path:
        return self.session.path.parent if self.session.path else Path.home()

    @property
    def _name(self) -> str:
        """The job's name as a file's, without the letters that some file systems refuse."""
        return _fit_for_a_file(self.session.job.brief.name)


def _fit_for_a_file(words: str) -> str:
    """Words as part of a file's name anywhere: `1:1` as 1-1, nothing that Windows, a memory stick or a terminal takes
    for something else."""
    return re.sub(r'[\\/:*?"<>|\x00-\x1f]', "-", words).strip(" .") or "job"
