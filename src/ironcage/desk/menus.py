"""The window's menu, made from the declared actions and what there is to open and to write, and that of the table."""

from collections.abc import Callable, Mapping
from typing import get_args

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu, QWidget

from ironcage.core.job.values.base import Role
from ironcage.desk.actions import ACTIONS
from ironcage.desk.files import Files
from ironcage.desk.session import Session
from ironcage.samples import SAMPLES


class JobMenu(QMenu):
    """Jobs and files first, then what can be done and how it is looked at."""

    def __init__(self, parent: QWidget, files: Files, actions: Mapping[str, QAction]) -> None:
        super().__init__(parent)
        self.files = files
        for declared in (a for a in ACTIONS if a.group == "job"):
            self.addAction(actions[declared.id])
        self.recent, self.writing, demos = (
            QMenu("Open recent", self),
            QMenu("Write a file", self),
            QMenu("Demo jobs", self),
        )
        self.recent.aboutToShow.connect(self.fill_recent)
        self.writing.aboutToShow.connect(self.fill_writing)
        bringing = QMenu("Bring in", self)
        for name, words in (
            ("scan", "A scan mesh (STL, OBJ, PLY)…"),
            ("picture", "A photo or drawing (PNG, JPEG)…"),
            ("points", "Hard points (CSV, DXF)…"),
            ("corner", "A corner measured by its card (CSV)…"),
            ("shelf", "Shared parts and shelf (JSON)…"),
        ):
            bringing.addAction(words, lambda n=name: files.bring_in(n))
        for name in SAMPLES:
            demos.addAction(name.replace("-", " ").title(), lambda n=name: files.open_demo(n))
        self.printing = PrintMenu(self, files)
        for menu in (self.recent, bringing, self.writing, self.printing, demos):
            self.addMenu(menu)
        self.addSeparator()
        for group in ("edit", "view"):
            into = QMenu(group.capitalize(), self)
            for declared in (a for a in ACTIONS if a.group == group):
                into.addAction(actions[declared.id])
            self.addMenu(into)
        self.addAction(actions["show_help"])
        self.addSeparator()
        self.addAction(actions["close"])

    def fill_recent(self) -> None:
        """The files that were open, the latest first."""
        self.recent.clear()
        for path in self.files.settings.recent:
            self.recent.addAction(str(path), lambda p=path: self.files.open_recent(p))
        if self.recent.isEmpty():
            self.recent.addAction("No file has been opened yet").setEnabled(False)

    def fill_writing(self) -> None:
        """Every kind of file but those of one thing, such as a tube's end or a fitting; these are written from where
        that is."""
        from ironcage.core.exchange.kinds import KINDS, NAMED

        self.writing.clear()
        for kind in (k for k in KINDS if k.takes not in NAMED):
            words = f"{kind.says[0].upper()}{kind.says[1:]} ({kind.ending[1:].upper()})…"
            self.writing.addAction(words, lambda name=kind.name: self.files.export(name, ""))


class PrintMenu(QMenu):
    """Every paper that can be printed as it is; a single template is printed from Cut, a plate from Place."""

    def __init__(self, parent: QWidget, files: Files) -> None:
        super().__init__("Print", parent)
        self.files = files
        self.aboutToShow.connect(self.fill)

    def fill(self) -> None:
        """The papers there are."""
        from ironcage.core.exchange.kinds import KINDS

        self.clear()
        for kind in (k for k in KINDS if k.ending == ".pdf" and k.takes in ("", "paper", "TUBES")):
            words = f"{kind.says[0].upper()}{kind.says[1:]}…"
            self.addAction(words, lambda name=kind.name: self.files.print_out(name, ""))


class TableMenu(QMenu):
    """What can be done with what is chosen on the table, by a click of the right button."""

    def __init__(
        self, parent: QWidget, session: Session, actions: Mapping[str, QAction], begin: Callable[[str], None]
    ) -> None:
        super().__init__(parent)
        self._session, self._begin = session, begin
        job, chosen = session.job, session.chosen
        joints = [c for c in chosen if c in job.joint_by_id]
        tubes = [c for c in chosen if c in job.tube_by_id]
        if len(joints) > 1:
            self._press("Join with a tube", "tube")
        if joints:
            self._press("Stand on or off", "stand")
            self._press("Pickup of the front axle", "pickup front")
            self._press("Pickup of the rear axle", "pickup rear")
        if tubes:
            self._press("Split in the middle", "split")
            self._type("Section…", "section ")
            roles = self.addMenu("Role")
            for role in filter(None, get_args(Role)):
                roles.addAction(role, lambda role=role: session.press(f"role {role}"))
        if joints or any(c in job.placed for c in chosen):
            self._type("Move…", "z+")
        if chosen:
            for name in ("delete_chosen", "fit_chosen"):
                self.addAction(actions[name])
        else:
            self._type("Joint…", "joint ")
        self.addSeparator()
        for name in ("fit", "choose_all", "undo", "redo"):
            self.addAction(actions[name])

    def _press(self, words: str, line: str) -> None:
        self.addAction(f"{words}\t{line}", lambda: self._session.press(line))

    def _type(self, words: str, line: str) -> None:
        self.addAction(words, lambda: self._begin(line))
