"""Lists under tabs, most of them made when they are first opened, which keeps the start short."""

from collections.abc import Mapping
from importlib import import_module
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QTabWidget, QVBoxLayout, QWidget

from ironcage.desk.asker import Question
from ironcage.desk.look import LIGHT, Look
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid


class ListTab(QWidget):
    """A list that is made when it is wanted. Signals: decorated (the table is to show something else), typing(text)
    starts a line for the builder to finish, export(kind, word) asks for a file, works(doing, name, act, done) asks
    for slow work that can be stopped; wants: its question is another."""

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
        """The job is another, or the list was opened."""

    def show_chosen(self) -> None:
        """What is chosen is other."""

    def show_look(self, look: Look) -> None:
        """Use other colours."""
        self.look = look
        for grid in self.findChildren(Grid):
            grid.restyle(look)

    def leave(self) -> None:
        """Another list is opened."""


class LaterTabs(QTabWidget):
    """Tabs in an order; `own` are there from the start, the module and class of each of `later` is loaded when it is
    wanted. Signal: made(list)."""

    made = pyqtSignal(object)

    def __init__(
        self, session: Session, order: tuple[str, ...], own: Mapping[str, QWidget], later: Mapping[str, tuple[str, str]]
    ) -> None:
        super().__init__()
        self.session, self.order, self._later = session, order, later
        self.lists: dict[str, ListTab] = {}
        self.look: Look = LIGHT
        for words in order:
            self.addTab(own.get(words) or _holder(), words)

    def open(self, words: str) -> None:
        """Open a list by what its tab says."""
        self.setCurrentIndex(self.order.index(words))

    def tab(self, words: str) -> Any:
        """One of the lists that are made when they are wanted, by what its tab says."""
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
        """What the open tab says."""
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
