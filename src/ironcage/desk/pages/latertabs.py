"""Lists under tabs, most of them made when they are first opened, which keeps the start short."""

from collections.abc import Mapping
from importlib import import_module
from typing import Any

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QTabWidget, QVBoxLayout, QWidget

from ironcage.core.job.values.model import Job
from ironcage.desk.asker import Question
from ironcage.desk.look import LIGHT, Look
from ironcage.desk.pages.inunits import InUnits
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid


class ListTab(InUnits, QWidget):
    """A list that is made when it is wanted. Signals: decorated (the table is to show something else), typing(text)
    starts a line for the builder to finish, export(kind, word) asks for a file, works(doing, name, act, done) asks
    for slow work that can be stopped; wants: its question has changed."""

    decorated = pyqtSignal()
    wants = pyqtSignal()
    typing = pyqtSignal(str)
    export = pyqtSignal(str, str)
    works = pyqtSignal(str, str, object, object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.look: Look = LIGHT

    def question(self) -> Question | None:
        """What the list asks of the core while it is open, as `Page.question`; None where the page's own has it all."""
        return None

    def show_job(self, job: Any) -> None:
        """The job has changed, or the list was opened."""

    def show_chosen(self) -> None:
        """What is chosen has changed."""

    def in_a_word(self) -> str:
        """Its answer, short enough for its tab; nothing where there is none."""
        return ""

    def show_look(self, look: Look) -> None:
        """Use other colours."""
        self.look = look
        for grid in self.findChildren(Grid):
            grid.restyle(look)

    def leave(self) -> None:
        """Another list is opened."""


class Tabs(QTabWidget):
    """Lists under tabs, as small as the open one may be: those out of sight still have the sizes of type as it was."""

    def minimumSizeHint(self) -> QSize:
        here, bar = self.currentWidget().minimumSizeHint(), self.tabBar().minimumSizeHint()
        return QSize(here.width(), here.height() + bar.height())


class LaterTabs(Tabs):
    """Tabs in an order; `own` are there from the start, the module and class of each of `later` is loaded when it is
    wanted. Those that are seldom used, `rare`, are opened by a button, one at a time beside the others; `aside` stands
    in the corner. Signal: made(list)."""

    made = pyqtSignal(object)

    def __init__(
        self,
        session: Session,
        order: tuple[str, ...],
        own: Mapping[str, QWidget],
        later: Mapping[str, tuple[str, str]],
        *,
        rare: tuple[str, ...],
        aside: QWidget,
    ) -> None:
        super().__init__()
        self.rare = rare
        self.setAccessibleName("Lists of the step")
        self._answers: dict[str, str] = {}
        self._marks: Mapping[str, str] = {}
        self._answered_for: Job | None = None
        self.session, self.order, self._later = session, order, later
        self.lists: dict[str, ListTab] = {}
        self.look: Look = LIGHT
        for words in order:
            self.addTab(own.get(words) or _holder(), words)
        self.more = QPushButton("Other lists")
        self.more.setObjectName("menu")
        self.more.setToolTip(f"Lists that are seldom used: {', '.join(rare)}")
        menu = QMenu(self.more)
        for words in rare:
            self.setTabVisible(order.index(words), False)
            menu.addAction(words, lambda w=words: self.open(w))
        self.more.setMenu(menu)
        corner = QWidget()
        box = QHBoxLayout(corner)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(aside)
        box.addWidget(self.more)
        self.setCornerWidget(corner, Qt.Corner.TopRightCorner)

    def open(self, words: str) -> None:
        """Open a list by its words."""
        self.setCurrentIndex(self.order.index(words))

    def setCurrentIndex(self, index: int) -> None:
        """Open a list by its place, with its tab in sight and those of other seldom used ones out of it."""
        opened = self.order[index]
        self.setTabVisible(index, True)
        super().setCurrentIndex(index)
        if opened in self.rare:
            for words in self.rare:
                self.setTabVisible(self.order.index(words), words == opened)

    def show_marks(self, marks: Mapping[str, str]) -> None:
        """Put marks for what was found wrong beside the words of lists, where they have no answer of their own."""
        self._marks = marks
        self._label()

    def answer(self, words: str, said: str) -> None:
        """Put a list's answer beside its words."""
        self._answers[words] = said
        self._label()

    def show_job(self, job: Job) -> None:
        """The job that is shown: answers to another are forgotten; that of the open list stays until its new one."""
        if job is not self._answered_for:
            self._answered_for = job
            self._answers = {self.words: self._answers.get(self.words, "")}
            self._label()

    def _label(self) -> None:
        for n, words in enumerate(self.order):
            said = self._answers.get(words) or self._marks.get(words, "")
            if self.tabText(n) != (text := f"{words} {said}".strip()):
                self.setTabText(n, text)

    def tab(self, words: str) -> Any:
        """One of the lists that are made when they are wanted, by its words."""
        if words not in self.lists:
            module, name = self._later[words]
            made: ListTab = getattr(import_module(f"ironcage.desk.pages.{module}"), name)(self.session)
            made.show_look(self.look)
            self.widget(self.order.index(words)).layout().addWidget(made)
            made.show()
            self.lists[words] = made
            self.made.emit(made)
        return self.lists[words]

    @property
    def words(self) -> str:
        """The words of the open list."""
        return self.order[self.currentIndex()]

    @property
    def here(self) -> Any:
        """The list that is open, of those made when they are wanted; None for the others."""
        return self.tab(self.words) if self.words in self._later else None

    def leave_others(self) -> None:
        """Tell the lists that are not open that they are left."""
        for words, made in tuple(self.lists.items()):  # leaving one may make the one that is opened
            if words != self.words:
                made.leave()

    def show_look(self, look: Look) -> None:
        """Use other colours."""
        self.look = look
        for made in self.lists.values():
            made.show_look(look)


def _holder() -> QWidget:
    """Room for a list that is made later."""
    made = QWidget()
    box = QVBoxLayout(made)
    box.setContentsMargins(0, 0, 0, 0)
    return made
