"""The one menu of the window, made from the declared actions and what there is to open and to write."""

from collections.abc import Mapping

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu, QWidget

from ironcage.desk.actions import ACTIONS
from ironcage.desk.files import Files
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
            ("shelf", "Shared parts and shelf (JSON)…"),
        ):
            bringing.addAction(words, lambda n=name: files.bring_in(n))
        for name in SAMPLES:
            demos.addAction(name.replace("-", " ").title(), lambda n=name: files.open_demo(n))
        for menu in (self.recent, bringing, self.writing, demos):
            self.addMenu(menu)
        self.addSeparator()
        for group in ("edit", "view"):
            into = QMenu(group.capitalize(), self)
            for declared in (a for a in ACTIONS if a.group == group):
                into.addAction(actions[declared.id])
            self.addMenu(into)
        self.addAction(actions["show_help"])
        self.addSeparator()
        self.addAction("Leave", parent.close)

    def fill_recent(self) -> None:
        """The files that were open, the latest first."""
        self.recent.clear()
        for path in self.files.settings.recent:
            self.recent.addAction(str(path), lambda p=path: self.files.open_recent(p))
        if self.recent.isEmpty():
            self.recent.addAction("No file has been opened yet").setEnabled(False)

    def fill_writing(self) -> None:
        """Every kind of file but those that need a tube's end or a pattern named; these are written from Cut and
        Place."""
        from ironcage.core.exchange.kinds import KINDS, PATTERN

        self.writing.clear()
        for kind in (k for k in KINDS if k.takes not in ("TUBE:JOINT", PATTERN)):
            words = f"{kind.says[0].upper()}{kind.says[1:]} ({kind.ending[1:].upper()})…"
            self.writing.addAction(words, lambda name=kind.name: self.files.export(name, ""))
