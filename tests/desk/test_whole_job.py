"""The tutorial of one whole job, done at the real window as it is written: lines typed, keys pressed, joints and
buttons clicked, files saved; and all that it says one reads is on the screen at that moment."""

import csv
import re
from pathlib import Path

import pytest
from pypdf import PdfReader
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence
from PyQt6.QtWidgets import QFileDialog, QLabel, QMenu, QPushButton, QTextEdit

from ironcage.core.job.store import file
from ironcage.core.job.values.model import Job
from ironcage.desk.widgets.grid import Grid
from ironcage.told import plain
from tests.desk.conftest import Driver

TUTORIAL = (Path(__file__).parents[2] / "docs" / "tutorial-whole-job.md").read_text("utf-8")
# what is done, and what is read, in the order of the text
STEP = re.compile(
    r"```type\n(?P<lines>.*?)```"
    r"|[Pp]ress \*\*(?P<key>[\w+]+)\*\*"
    r"|[Pp]ress ‘(?P<button>[^’]+)’"
    r"|From\s‘(?P<menu>[^’]+)’ take ‘(?P<entry>[^’]+)’"
    r"|Click (?P<joints>J\w+(?:, J\w+)*)"
    r"|‘(?P<read>[^’]+)’",
    re.DOTALL,
)


class Builder:
    """Does at the window what the tutorial says."""

    def __init__(self, drive: Driver) -> None:
        self.drive, self.window = drive, drive.window

    def lines(self, block: str) -> None:
        for line in block.strip().splitlines():
            self.drive.type(line)
            assert self.window.entry.said.objectName() != "refused", f"{line}: {self.drive.said}"
        self.drive.settle()

    def key(self, name: str) -> None:
        pressed = QKeySequence(name)[0]
        self.drive.key(pressed.key(), self.window.table, pressed.keyboardModifiers())
        self.drive.settle()

    def button(self, words: str) -> None:
        self.drive.press(words)
        self._done()

    def menu(self, words: str, entry: str) -> None:
        opener = next(b for b in self.window.page.findChildren(QPushButton) if b.text() == words)
        next(a for a in opener.findChild(QMenu).actions() if a.text() == entry).trigger()
        self._done()

    def joints(self, names: str) -> None:
        self.window.table.fit()
        modifier = Qt.KeyboardModifier.NoModifier
        for name in names.split(", "):
            self.drive.click(name, modifier)
            modifier = Qt.KeyboardModifier.ShiftModifier
        assert self.window.session.chosen == tuple(names.split(", "))

    def read(self, words: str) -> None:
        assert " ".join(words.split()) in self._screen(), words

    def _done(self) -> None:
        self.drive.qtbot.waitUntil(lambda: not self.window.strip.isVisible(), timeout=60_000)
        self.drive.settle()

    def _screen(self) -> str:
        """All that can be read: labels, figures of the tally, what comes next, rows of lists, the day."""
        said = [w.text() for kind in (QLabel, QPushButton) for w in self.window.findChildren(kind) if w.isVisible()]
        said += [self.drive.tally(key) for key in self.window.tally.dials]
        for grid in self.window.page.findChildren(Grid):
            said += [c.text(r) for r in grid.model.rows for c in grid.model.columns]
        said += [w.toPlainText() for w in self.window.page.findChildren(QTextEdit)]
        return plain("\n".join(said))


def test_one_whole_job_from_an_empty_table_to_its_book(
    drive: Driver, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def save(parent: object, title: str, suggested: str, endings: str) -> tuple[str, str]:
        return str(tmp_path / Path(suggested).name), ""

    monkeypatch.setattr(QFileDialog, "getSaveFileName", staticmethod(save))
    builder = Builder(drive.start(Job()))
    window = drive.window
    done = 0
    for step in STEP.finditer(TUTORIAL.partition("## 1 ")[2]):
        match step.lastgroup:
            case "lines" | "key" | "button" | "joints" | "read" as what:
                getattr(builder, what)(step[what])
            case "entry":
                builder.menu(step["menu"], step["entry"])
        done += 1
    assert done > 50
    job = window.session.job
    assert not any(s.severity == "wrong" for s in window.found_snags)
    assert drive.tally("welded") == "100.0 %"
    assert {e.state for e in job.welding.ends} == {"checked"}
    assert file.read(tmp_path / "Skerry.cage") == job
    assert job.logbook.entries[-1].kept
    book = "\n".join(page.extract_text() for page in PdfReader(tmp_path / "Skerry build book.pdf").pages)
    __import__("shutil").copy(tmp_path / "Skerry build book.pdf", "/tmp/w/book.pdf")
    for words in (
        "Skerry",
        "Saltmarsh Fabrication",
        "429 N·m/deg",
        "Base cut, mitred and tacked",
        "Checked: T1L, T6, T12L, T24L at J1L",
        "1516.0 mm",
        "1050.0 mm ± 5.0 mm",
    ):
        assert words in book
    with (tmp_path / "Skerry cut list.csv").open(encoding="utf-8") as lines:
        assert len(list(csv.reader(lines))) == 1 + 36
    for name in ("all wrap templates at 1-1", "jig plan tiled at 1-1"):
        assert (tmp_path / f"Skerry {name}.pdf").stat().st_size > 10_000
