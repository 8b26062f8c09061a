"""What every tray page is."""

from abc import abstractmethod
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QRectF, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QLabel, QMenu, QPushButton, QTabWidget, QVBoxLayout, QWidget

from ironcage.core.job import text as lines
from ironcage.core.job.edits.drawing import Spot
from ironcage.core.job.text import Done
from ironcage.core.job.values.fittings import PLATES
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Part
from ironcage.desk.asker import Question
from ironcage.desk.look import LIGHT, Look
from ironcage.desk.pages.inunits import InUnits
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.words import Words
from ironcage.problem import Problem

MOST_PLATES = 30  # lines of a menu; the rest are in Frame's list


@dataclass(frozen=True)
class Card:
    """One bench card: what it is about, the one number, the few lines under it, and a picture where one says more."""

    title: str
    number: str
    lines: tuple[str, ...]
    picture: "Callable[[QPainter, QRectF, Look], None] | None" = None


class Page(InUnits, QWidget):
    """A step's bench. Signals: decorated (the table's decor has changed), export(kind, word) asks for a file,
    typing(text) starts a line for the builder to finish, bring(kind) asks for a file to bring in; wants: its question
    has changed; works(doing, name, act, done) asks for slow work that can be stopped; acts(id) asks for an action of
    the window, prints(kind, word) for a paper to be printed, asks_place(handle) for a click that says where it is.

    What it is called and where it stands in the work is declared in STEPS.
    """

    decorated = pyqtSignal()
    export = pyqtSignal(str, str)
    typing = pyqtSignal(str)
    bring = pyqtSignal(str)
    wants = pyqtSignal()
    works = pyqtSignal(str, str, object, object)
    acts = pyqtSignal(str)
    prints = pyqtSignal(str, str)
    asks_place = pyqtSignal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.look: Look = LIGHT
        self.decor = Decor()
        self.result: Any = None
        self.empty = Words(name="hint", wrap=True)
        self.empty.hide()

    @abstractmethod
    def question(self) -> Question:
        """What is to be asked of the core now. Made on the GUI thread and asked on another, so it holds the page's
        choices as values, and no widget."""

    def show_job(self, job: Job) -> None:
        """The job has changed; the answer to it comes later."""

    def show_answer(self, job: Job, result: Any, problem: Problem | None) -> None:
        """The answer for a job, or why there is none."""

    def show_chosen(self, chosen: tuple[str, ...]) -> None:
        """What is chosen has changed."""

    def show_look(self, look: Look) -> None:
        """Use other colours."""
        self.look = look

    def scan_line(self, part: Part, place: str) -> str:
        """The line that a double click on a scan starts: a hole of it, fitted there."""
        from ironcage.core.job.text.placed import FIT_WITHIN_MM

        return f"fit hole {len(part.holes) + 1} at {place} within {self.units.length(FIT_WITHIN_MM, unit=False)}"

    def pick_handle(self, key: str) -> None:
        """A handle on the table was clicked."""

    def handle_line(self, key: str, spot: Spot) -> str:
        """The line that puts a handle of this page on a spot; nothing where the page has no such handle."""
        return ""

    def cards(self) -> list[Card]:
        """What the bench card pages through."""
        return []

    def first_card(self) -> int:
        """The card to open with."""
        return 0

    def show_marks(self, marks: Mapping[str, str]) -> None:
        """Marks for what was found wrong, by the words of the list that tells more of it."""

    def open_list(self, words: str) -> None:
        """Bring forward the list under a tab that starts with some words, where there is one."""
        tabs = self.findChild(QTabWidget)
        at = (
            next((n for n in range(tabs.count()) if words and tabs.tabText(n).startswith(words)), None)
            if tabs
            else None
        )
        if at is not None:
            tabs.setCurrentIndex(at)

    def put_decor(self, decor: Decor) -> None:
        """Give the table other decor."""
        self.decor = decor
        self.decorated.emit()

    def tell_empty(self, problem: Problem | None) -> None:
        """Say why there is nothing to show, or nothing."""
        self.empty.setText(str(problem) if problem else "")
        self.empty.setVisible(problem is not None)


def typed(word: str) -> Callable[[Job, Any, str], Done]:
    """A cell that is typed like the line `word CELL` with its row chosen."""
    return lambda job, thing, said: lines.understand(f"{word} {said}", job, (thing.id,))


def button(words: str, does: Callable[[], object], tip: str = "") -> QPushButton:
    """A button that does something."""
    made = QPushButton(words)
    made.setToolTip(tip)
    made.clicked.connect(lambda _=False: does())
    return made


def choice(
    owner: QWidget, words: tuple[str, ...], does: Callable[[], object]
) -> tuple[QButtonGroup, list[QPushButton]]:
    """Buttons of which one is down, the first to begin with; the group tells which by its place."""
    group, buttons = QButtonGroup(owner), []
    for n, text in enumerate(words):
        made = QPushButton(text)
        made.setCheckable(True)
        made.setChecked(n == 0)
        group.addButton(made, n)
        buttons.append(made)
    group.idClicked.connect(lambda _: does())
    return group, buttons


def row(*widgets: QWidget, stretch: bool = True) -> QHBoxLayout:
    """Widgets side by side."""
    box = QHBoxLayout()
    box.setContentsMargins(0, 0, 0, 0)
    for widget in widgets:
        box.addWidget(widget)
    if stretch:
        box.addStretch(1)
    return box


def column(*parts: QWidget | QHBoxLayout) -> QVBoxLayout:
    """Widgets one below the other."""
    box = QVBoxLayout()
    box.setContentsMargins(0, 0, 0, 0)
    box.setSpacing(4)
    for part in parts:
        if isinstance(part, QWidget):
            box.addWidget(part)
        else:
            box.addLayout(part)
    return box


def add_plates(menu: QMenu, job: Job, export: Callable[[str, str], None]) -> None:
    """Lines at the end of a menu for the plate of each bolt pattern and adapter, as DXF and as PDF, and for those of
    fittings on one side."""
    holed = [(p.id, p.name) for p in job.patterns] + [(a.id, a.name) for a in job.adapters]
    holed += [(part.name, part.name) for part in job.cutting.flats]
    holed += [(p.id, p.name) for p in job.parts if p.kind == "plate" and p.shape.kind == "outline"]
    for n, name in holed:
        for words, kind in (("DXF", "plate-dxf"), ("PDF", "plate-pdf")):
            menu.addAction(f"Plate for {name} ({words})…", lambda k=kind, n=n: export(k, n))
    plates = [f for f in job.fittings if isinstance(f, PLATES) and not f.id.endswith("R")]
    if plates:
        menu.addSeparator()
        menu.addAction("List of sheet and fittings…", lambda: export("fittings-csv", ""))
    for f in plates[:MOST_PLATES]:
        for words, kind in (("DXF", "fitting-dxf"), ("PDF", "fitting-pdf")):
            menu.addAction(f"{f.kind.capitalize()} {f.id} ({words})…", lambda k=kind, n=f.id: export(k, n))


def heading(text: str) -> QLabel:
    """A bold line above a list."""
    made = QLabel(text)
    made.setObjectName("head")
    return made
