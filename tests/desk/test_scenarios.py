"""Work in plain words, carried out by keys and clicks in the real window.

Each scenario is a list of lines: `choose`, `type`, `key`, `click`, `drag` do something; `read`, `tally`, `chosen`,
`said`, `refused`, `count` look at what a person would see.
"""

import re
from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QKeySequence
from PyQt6.QtWidgets import QPushButton

from ironcage.core.job.values.model import Job
from ironcage.desk.widgets.grid import Grid
from ironcage.told import plain
from tests.desk.conftest import Driver
from tests.desk.frame_scenarios import FRAME_SCENARIOS
from tests.desk.place_scenarios import PLACE_SCENARIOS

SCENARIOS = {
    "a longer nose is lighter in the nose and heavier in all": """
        choose J1L
        tally wheelbase = 2300.0
        type x+80
        said Move J1L x+80.
        settle
        tally frame mass has +0.
        key Ctrl+Z
        settle
        tally frame mass lacks +
        key Ctrl+Shift+Z
        settle
        tally frame mass has +0.
    """,
    "a rail that is split can be braced to the new joint": """
        choose T13L
        type split 40%
        said Split T13L.
        chosen J32L
        count tubes 138
        type tube J32L J15R 25 x 1.5
        said Add T75, 25 x 1.5 mm.
        choose T75
        type role diagonal
        read Tubes has diagonal
        key Ctrl+Z
        key Ctrl+Z
        key Ctrl+Z
        count tubes 136
        count joints 52
    """,
    "a hoop brace gets a thicker section and the twist stiffness answers": """
        choose T9L
        type section 45 x 2.5 round
        settle
        tally torsion has +
        tally frame mass has +
        key 5
        settle
        read page has N·m/deg
        read page has Softest between
        key 4
        choose T9R
        read Tubes has 45 x 2.5 round
    """,
    "readings come from the firewall once it is the datum": """
        choose J17L
        type datum firewall
        settle
        read page has from firewall
        read Joints has 0.0
        type r 12
        settle
        read Joints has -12.0
        key Ctrl+Z
        type datum front axle line
        settle
        read page has from front axle line
    """,
    "a builder in inches reads and types inches": """
        type units inch 1/16 lb
        settle
        tally wheelbase = 90 9/16" ±1/32
        tally frame mass has lb
        read page has to 1/16" ±1/32
        choose J12L
        type z 36
        settle
        read Joints has 36"
        type z+1/2
        settle
        read Joints has 36 1/2"
        key 6
        settle
        read page has ft
        key 7
        settle
        read page has "
    """,
    "what is typed wrong is kept and explained, and the job is untouched": """
        choose J12L
        type z+25 furlongs
        refused ‘furlongs’
        key Escape in line
        type jiont 0 1 2
        refused The nearest is joint
        key Escape in line
        type tube J1L J1L
        refused cannot start and end at J1L
        key Escape in line
        type section 38 x 30
        refused none is chosen
        key Escape in line
        choose T9L
        type section 38 x 30
        refused over half its size
        key Escape in line
        type joint 0 170 430 alone
        said Add J32.
        settle
        snag J32 is on no tube
        key Ctrl+Z
        type joint 330 170 430
        refused would land on J2L
        key Escape in line
        count tubes 136
        count joints 52
    """,
    "a loose joint is a snag that leads to it and goes when it goes": """
        type joint -700 200 1200
        settle
        snag J32L and J32R are on no tube
        count wrong 6
        click next
        chosen J32L J32R
        type delete
        settle
        count wrong 5
        count joints 52
    """,
    "the frame comes apart and is told so where the person looks": """
        choose T9L
        type pin both
        settle
        count wrong 5
        key Ctrl+A
        type pin both
        settle
        key 5
        settle
        read page has Every tube end is pinned
        tally torsion = –
        key Ctrl+Z
        settle
        tally torsion has N·m/deg
    """,
    "stands are chosen, the table is set, the plan follows": """
        key 7
        settle
        count stands 12
        choose J10L
        type stand
        settle
        count stands 14
        read page has With its top at
        click set so
        settle
        read page has as high as the least saddle allows
        type table least 40
        refused The table has no ‘least’
        key Escape in line
        type table saddle 300
        settle
        snag lower than the least height of 300 mm
        key Ctrl+Z
        type table length 600
        settle
        snag off the table
    """,
    "which tube runs through a joint is the builder's choice": """
        key 6
        settle
        choose T43L
        settle
        read page has onto
        choose J2L T43L
        type through
        said Run T43L through J2L.
        settle
        choose T43L
        read page has T43L
        key Ctrl+Z
        settle
        count tubes 136
    """,
    "parting lets one side go alone, pairing asks for the mirror": """
        choose J18L
        type part
        type y+10
        settle
        read Joints has parted
        choose J18L J18R
        type pair
        refused do not stand opposite each other
        key Escape in line
        choose J18L
        type y-10
        choose J18L J18R
        type pair
        said Pair J18L with J18R.
    """,
    "pages of a bench card turn from any step": """
        key 7
        settle
        key F11
        card has Stand at
        card has Anchor stands
        key Space on card
        card has 2 of 12
        key Escape on card
        key 5
        settle
        key F11
        card has Twist stiffness
        key Space on card
        card has Bending stiffness
        key Escape on card
    """,
    "views turn by one key each and the tape follows": """
        key F5
        view side
        key F6
        view plan
        key F7
        view front
        key F8
        view free
        key F9
        key F4
        key +
        key Right
    """,
}


SCENARIOS |= PLACE_SCENARIOS | FRAME_SCENARIOS


class Player:
    """Carries out one line of a scenario."""

    def __init__(self, drive: Driver) -> None:
        self.drive, self.window = drive, drive.window
        self.verbs: dict[str, Callable[[str], None]] = {
            name[3:]: getattr(self, name) for name in dir(self) if name.startswith("do_")
        }

    def play(self, line: str) -> None:
        verb, _, rest = line.partition(" ")
        self.verbs[verb](rest)

    def do_choose(self, names: str) -> None:
        self.window.session.choose(tuple(names.split()))
        assert self.window.session.chosen == tuple(names.split())

    def do_type(self, line: str) -> None:
        self.drive.type(line)

    def do_settle(self, _: str) -> None:
        self.drive.settle()

    def do_key(self, words: str) -> None:
        keys, _, place = words.partition(" in ") if " in " in words else words.partition(" on ")
        target = {"line": self.window.entry.line, "card": self.window.card}.get(place, self.window.table)
        stroke = QKeySequence(keys)[0]
        self.drive.qtbot.keyClick(target, stroke.key(), stroke.keyboardModifiers())

    def do_click(self, what: str) -> None:
        buttons = {"next": self.window.next.button, "set so": getattr(self.window.page, "set_top", None)}
        self.drive.qtbot.mouseClick(buttons[what], Qt.MouseButton.LeftButton, pos=QPoint(4, 4))

    def do_said(self, text: str) -> None:
        assert self.drive.said == text
        assert self.window.entry.said.objectName() == "hint"

    def do_refused(self, text: str) -> None:
        assert text in self.drive.said, self.drive.said
        assert self.window.entry.said.objectName() == "refused"
        assert self.window.entry.line.text(), "what was typed is kept"

    def do_chosen(self, names: str) -> None:
        assert self.window.session.chosen == tuple(names.split())

    def do_tally(self, words: str) -> None:
        key, how, text = re.match(r"(.+?) (=|has|lacks) (.+)", words).groups()
        shown = self.drive.tally(key)
        assert {"=": shown.startswith(text), "has": text in shown, "lacks": text not in shown}[how], shown

    def do_read(self, words: str) -> None:
        where, text = re.match(r"(.+?) has (.+)", words).groups()
        if where == "page":
            assert text in self.drive.read(), self.drive.read()
            return
        grid = {"Tubes": "tubes", "Joints": "joints"}[where]
        model = getattr(self.window.pages["frame"], grid).model
        keys = {model.key(r) for r in model.rows} & set(self.window.session.chosen)
        cells = [
            model.data(model.index(n, c))
            for n, r in enumerate(model.rows)
            if model.key(r) in keys
            for c in range(model.columnCount())
        ]
        assert text in cells, cells

    def do_snag(self, text: str) -> None:
        said = [plain(s.what) for s in self.window.found_snags]
        assert any(text in what for what in said), said

    def do_count(self, words: str) -> None:
        what, number = words.split()
        job = self.window.session.job
        counts = {
            "tubes": len(job.tubes),
            "joints": len(job.joints),
            "stands": len(job.table.stands),
            "wrong": sum(s.severity == "wrong" for s in self.window.found_snags),
        }
        assert counts[what] == int(number)

    def do_card(self, words: str) -> None:
        card = self.window.card
        shown = "\n".join(label.text() for label in (card.title, card.number, card.lines, card.foot))
        assert words.removeprefix("has ") in shown, shown

    def do_view(self, name: str) -> None:
        assert self.window.table.camera.view == name

    def do_tab(self, words: str) -> None:
        tabs = self.window.page.tabs
        tabs.setCurrentIndex(next(n for n in range(tabs.count()) if tabs.tabText(n).startswith(words)))

    def do_press(self, words: str) -> None:
        next(b for b in self.window.page.findChildren(QPushButton) if b.text() == words and b.isVisible()).click()

    def do_pick(self, words: str) -> None:
        """The row of a list, by the list's name, whose first cell is so: `pick Bays J1L–J2L`."""
        grids = {g.list.accessibleName(): g for g in self.window.page.findChildren(Grid)}
        name = next(n for n in grids if words.startswith(n + " "))
        grid = grids[name]
        cells = [grid.model.columns[0].text(r) for r in grid.model.rows]
        wanted = words.removeprefix(name + " ")
        grid.list.selectRow(next(n for n, c in enumerate(cells) if c.startswith(wanted)))

    def do_since(self, words: str) -> None:
        combo = self.window.page.tab("Changes").since
        combo.setCurrentText(words)
        combo.activated.emit(combo.currentIndex())

    def do_station(self, words: str) -> None:
        line = self.window.page.tab("Stations").at
        line.setText(words)
        self.drive.key(Qt.Key.Key_Return, line)

    def do_row(self, words: str) -> None:
        """A row of a list of the open page, by the list's name: `row Clashes has TEXT`."""
        name, how, text = re.match(r"(.+?) (has|lacks) (.+)", words).groups()
        grid = next(g for g in self.window.page.findChildren(Grid) if g.list.accessibleName() == name)
        shown = [" | ".join(c.text(r) for c in grid.model.columns) for r in grid.model.rows]
        assert any(text in row for row in shown) == (how == "has"), shown


@pytest.mark.parametrize("title", SCENARIOS)
def test_scenario(title: str, drive: Driver, sandpiper: Job) -> None:
    drive.start(sandpiper)
    player = Player(drive)
    for line in (part.strip() for part in SCENARIOS[title].strip().splitlines()):
        try:
            player.play(line)
        except AssertionError as error:
            raise AssertionError(f"{title}: {line}: {error}") from None
