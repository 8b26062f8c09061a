"""The sheet of offsets: stations along the car down, lines of the frame across, and what it draws laid in one press."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import get_args

import numpy as np
from PyQt6.QtWidgets import QMenu, QPushButton, QVBoxLayout

from ironcage.core.answers.frame import offsets
from ironcage.core.job import edits
from ironcage.core.job.edits.offsets import EXAMPLE
from ironcage.core.job.geometry.offsets import web_section
from ironcage.core.job.text import Done, understand
from ironcage.core.job.text.sheet import cell_words, put_words
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.offsets import Face, Lean, Level, Offsets
from ironcage.core.job.values.shown import units_of
from ironcage.desk.pages.frame.tab import FrameShown, FrameTab
from ironcage.desk.pages.page import button, row
from ironcage.desk.session import Session
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import Words
from ironcage.problem import Problem

NONE_YET = (
    "A sheet of offsets lays a whole frame: a row is a station along the car, a column a line of the frame, a cell its "
    "width and height there. Start with ‘New sheet’, or add a line of your own under ‘Change’."
)
WEB_EXAMPLE = "sheet web 25 x 2"
YES_NO = {True: "yes", False: "no"}
_SETTINGS = {"section": "section", "crossed": "cross members", "braced": "diagonals across"}


@dataclass(frozen=True)
class _Row:
    """A row of the list: a setting of the lines, a station by its number, or the one to type a new station into."""

    setting: str = ""
    station: int = -1


NEW = _Row()


class SheetTab(FrameTab):
    """The sheet as a list that is typed into, how it is read, and the button that lays it."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._looked_over: tuple[Job, offsets.SheetAnswer] | None = None
        self.summary = Words(name="quiet", wrap=True)
        self.faults = Words(name="refused", wrap=True)
        self.lay = button("Lay it", lambda: session.press("sheet lay"), "Lay what the sheet draws (sheet lay)")
        self.box = QVBoxLayout(self)
        self.box.setContentsMargins(0, 0, 0, 0)
        change = self._menu(
            "Change",
            "Add a line; to which face widths and heights are read; which way diagonals run",
            self._fill_change,
        )
        off = self._menu(
            "Take off", "Take a station or a line off the sheet; what is laid stays in the frame", self._fill_off
        )
        tools = row(self._new(), change, off, self.lay, stretch=False)
        tools.addWidget(self.summary, 1)
        self.box.addLayout(tools)
        self.grid = self._grid(())
        self.box.addWidget(self.grid, 1)
        self.box.addWidget(self.faults)

    # what can be pressed

    def _new(self) -> QPushButton:
        made = QPushButton("New sheet")
        made.setToolTip("Start from a sheet, made round the people who sit in the job, or from the frame that is there")
        menu = QMenu(made)
        for kind in edits.STARTS:
            menu.addAction(kind.capitalize(), lambda k=kind: self.session.press(f"sheet {k}"))
        menu.addSeparator()
        menu.addAction("Take it off the frame", lambda: self.session.press("sheet from frame"))
        made.setObjectName("menu")
        made.setMenu(menu)
        return made

    @staticmethod
    def _menu(words: str, tip: str, fill: Callable[[QMenu], None]) -> QPushButton:
        """A button with a menu that is filled each time it is opened."""
        made = QPushButton(words)
        made.setToolTip(tip)
        menu = QMenu(made)
        menu.aboutToShow.connect(lambda: fill(menu))
        made.setObjectName("menu")
        made.setMenu(menu)
        return made

    def _fill_change(self, menu: QMenu) -> None:
        """What can be changed, with what it is now ticked."""
        menu.clear()
        sheet = self.session.job.offsets
        menu.addAction("Add a line…", lambda: self.typing.emit(EXAMPLE))
        menu.addAction("Section of uprights and diagonals…", lambda: self.typing.emit(WEB_EXAMPLE))
        choices = (
            ("Widths", "widths", ("half", "over both"), "over both" if sheet.over_both else "half"),
            ("Widths to the", "widths", get_args(Face), sheet.face),
            ("Heights to the", "heights", get_args(Level), sheet.level),
            ("Diagonals", "diagonals", get_args(Lean), sheet.lean),
        )
        for title, word, values, now in choices:
            below = menu.addMenu(title)
            for value in values:
                line = f"sheet {word} {value}"
                action = below.addAction(value, lambda line=line: self.session.press(line))
                action.setCheckable(True)
                action.setChecked(value == now)

    def _fill_off(self, menu: QMenu) -> None:
        """What can be taken off now."""
        menu.clear()
        sheet, picked = self.session.job.offsets, self.grid.picked
        if picked is not None and picked.station >= 0:
            x = self._x(picked)
            menu.addAction(f"Station {x}", lambda: self.session.press(f"sheet station {x} gone"))
        for line in sheet.lines:
            menu.addAction(f"Line {line.name}", lambda name=line.name: self.session.press(f"sheet line {name} gone"))
        menu.addSeparator()
        menu.addAction("The whole sheet", lambda: self.session.press("sheet gone"))

    # the list

    def _grid(self, names: tuple[str, ...]) -> Grid:
        tip = "Width and height, read as it says above; ‘open’ after them leaves its cross member out"
        columns = (
            Column(
                "station x", self._first, True, self._take_first, room="diagonals across", tip="From the shown datum"
            ),
            *(Column(name, self._text(n), False, self._taker(n), tip=tip) for n, name in enumerate(names)),
        )
        made = Grid("Sheet of offsets", columns, self._name, self.session.do)
        made.say_when_empty(NONE_YET)
        made.chose.connect(self._chose)
        made.restyle(self.look)
        self._names = names
        return made

    def _name(self, shown: _Row) -> str:
        if shown.station >= 0:
            return f"station {self._x(shown)}"
        return _SETTINGS.get(shown.setting, "a new station")

    def _x(self, shown: _Row) -> str:
        job = self.session.job
        if shown.station >= len(job.offsets.stations):
            return ""
        return units_of(job).length(job.offsets.stations[shown.station].x - job.datum.x, unit=False)

    def _first(self, shown: _Row) -> str:
        return self._x(shown) if shown.station >= 0 else _SETTINGS.get(shown.setting, "new station")

    def _take_first(self, job: Job, shown: _Row, text: str) -> Done:
        if shown.setting:
            raise Problem(f"‘{_SETTINGS[shown.setting]}’ is no station.", hint="Type into the columns beside it.")
        return understand(f"sheet station {f'{self._x(shown)} to {text}' if shown.station >= 0 else text}", job)

    def _text(self, n: int) -> Callable[[_Row], str]:
        def text(shown: _Row) -> str:
            job = self.session.job
            if n >= len(job.offsets.lines) or shown.station >= len(job.offsets.stations):
                return ""
            if shown.station >= 0:
                return cell_words(job, shown.station, n)
            value = getattr(job.offsets.lines[n], shown.setting) if shown.setting else ""
            return YES_NO[value] if isinstance(value, bool) else str(value)

        return text

    def _taker(self, n: int) -> Callable[[Job, _Row, str], Done]:
        def take(job: Job, shown: _Row, text: str) -> Done:
            name = job.offsets.lines[n].name
            if shown.station >= 0:
                made = put_words(job, shown.station, n, text)
                return Done(f"Put {name} at station {self._x(shown)} to {text.strip() or 'nothing'}", made, ())
            if not shown.setting:
                raise Problem("The new station has no x yet.", where=name, hint="Type its x in the first column.")
            if shown.setting == "section":
                return understand(f"sheet line {name} {text}", job)
            return understand(f"sheet line {name} {shown.setting} {_yes(text)}", job)

        return take

    def _chose(self, keys: tuple[str, ...]) -> None:
        """Choose what is laid at the stations that are picked."""
        sheet = self.session.job.offsets
        picked = [k for k in range(len(sheet.stations)) if self._name(_Row(station=k)) in keys]
        joints = [cell.joint for s, _, cell in sheet.cells() if s in picked and cell.joint]
        self.session.choose(tuple(dict.fromkeys(joints)))

    # showing

    def _answer(self, job: Job) -> offsets.SheetAnswer:
        if self._looked_over is None or self._looked_over[0] is not job:
            self._looked_over = job, offsets.answer(job)
        return self._looked_over[1]

    def show_job(self, job: Job) -> None:
        sheet, found = job.offsets, self._answer(job)
        names = tuple(line.name for line in sheet.lines)
        if names != self._names:
            old, self.grid = self.grid, self._grid(names)
            self.box.replaceWidget(old, self.grid)
            old.deleteLater()
        settings = [_Row(setting=name) for name in _SETTINGS]
        stations = [_Row(station=k) for k in range(len(sheet.stations))]
        self.grid.show_rows((*stations, NEW, *settings) if names else ())
        self.lay.setEnabled(found.tubes > 0)
        self.lay.setText(f"Lay {found.tubes} tubes" if found.tubes else "Lay it")
        self.summary.setText(_read_as(sheet, found) if names else "")
        self.faults.setText(self.session.units.say(" ".join(found.faults)))
        self.faults.setVisible(bool(found.faults))
        self.decorated.emit()

    def places(self) -> np.ndarray | None:
        drawn = self._answer(self.session.job).drawn
        return drawn.reshape(-1, 3) if len(drawn) else None

    def paint(self, brush: Brush, job: Job, shown: FrameShown) -> None:
        """What the sheet draws and is not laid yet."""
        places = self._answer(self.session.job).drawn
        if len(places):
            brush.pen(brush.look.blue, 2.0)
            brush.lines(places)


def _read_as(sheet: Offsets, found: offsets.SheetAnswer) -> str:
    """How the figures are read, which way diagonals run, and what is left to lay."""
    widths = "widths over both sides" if sheet.over_both else "half widths"
    lean = (
        "no diagonals" if sheet.lean == "none" else f"diagonals {'both ways' if sheet.lean == 'both' else sheet.lean}"
    )
    left = f"{found.joints} cells not laid yet" if found.joints else "all laid"
    return (
        f"{widths} to the {sheet.face}, heights to the {sheet.level}; {lean}, uprights and diagonals "
        f"{web_section(sheet)}; {left}"
    )


def _yes(text: str) -> str:
    plain = text.strip().lower()
    for word in YES_NO.values():
        if plain and word.startswith(plain):
            return word
    raise Problem(f"‘{text.strip()}’ is neither yes nor no.", where=text, hint="Write yes or no.")
