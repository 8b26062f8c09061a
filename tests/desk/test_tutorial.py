"""The tutorial in docs, typed line by line at the real window by keys alone: what it says one reads is what one
reads."""

import re
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel

from ironcage.core.answers.frame import bays
from ironcage.core.job.values.model import Job
from tests.desk.conftest import Driver

TUTORIAL = (Path(__file__).parents[2] / "docs" / "tutorial-frame.md").read_text("utf-8")


def test_the_tutorial_is_laid_by_keys_alone_and_reads_what_it_says(drive: Driver) -> None:
    window = drive.start(Job()).window
    drive.key(Qt.Key.Key_4)
    lines = [
        line for block in re.findall(r"```type\n(.*?)```", TUTORIAL, re.DOTALL) for line in block.strip().splitlines()
    ]
    assert len(lines) > 50
    for line in lines:
        before = window.session.job
        drive.type(line)
        assert window.entry.said.objectName() != "refused", f"{line}: {drive.said}"
        assert window.session.job is not before, line
    drive.settle()
    kg, stiffness, ways = re.search(
        r"weighs ([\d.]+) kg and its twist stiffness is ([\d,]+) N·m/deg.*?shows the (\d+) way", TUTORIAL, re.DOTALL
    ).groups()  # type: ignore[union-attr]
    assert drive.tally("frame mass").startswith(kg)
    assert drive.tally("torsion").startswith(stiffness)
    made = bays.find_bays(window.session.job)
    assert len(made.folding) == int(ways)
    floor_sides_nose = {"J1L", "J2L", "J3L", "J4L", "J8L", "J9L", "J10L", "J7L"}
    assert not [b.name for b in made.open if set(b.corners) <= floor_sides_nose]
    window.page.open("Bays")
    page = window.page.tab("Bays")
    drive.settle()
    assert "fold 1 way that a brace stops; 2 joints more are held by bending alone" in page.said.text()
    page.next_fold()
    assert "Fold 1 of 3: a brace in J7L–J7R–J11R–J11L stops it" in page.said.text()
    page.stop.click()
    hoop = next(b for b in made.bays if b.name == "J7L J7R J11R J11L")
    page.list.list.selectRow(made.bays.index(hoop))
    page.lay.click()
    drive.settle()
    assert bays.find_bays(window.session.job).named("J7L J7R J11R J11L") is None
    assert not bays.find_bays(window.session.job).folding
    assert {w.movers for w in bays.find_bays(window.session.job).folds} == {("J10L",), ("J10R",)}
    assert not [w for w in window.findChildren(QLabel) if w.objectName() == "refused" and w.isVisible()]
    for _ in range(len(lines) + 1):
        drive.key(Qt.Key.Key_Z, window, Qt.KeyboardModifier.ControlModifier)
    assert window.session.job == Job()
