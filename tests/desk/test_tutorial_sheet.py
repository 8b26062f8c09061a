"""The single-seater of docs/tutorial-sheet.md through the real window: at most sixty acts, and what it says is read."""

import re
from pathlib import Path

from PyQt6.QtCore import Qt

from ironcage.core.answers.place.clashes import find_clashes
from ironcage.core.job.values.model import Job
from tests.desk.conftest import Driver

TUTORIAL = (Path(__file__).parents[2] / "docs" / "tutorial-sheet.md").read_text("utf-8")
MOST_ACTS = 60


def test_a_frame_of_sixty_tubes_is_laid_from_nothing_in_sixty_acts(drive: Driver) -> None:
    window = drive.start(Job()).window
    blocks = re.findall(r"```type\n(.*?)```", TUTORIAL, re.DOTALL)
    lines = [line for block in blocks for line in block.strip().splitlines()]
    acts = 0
    drive.key(Qt.Key.Key_4)
    for line in lines:
        drive.type(line)
        assert window.entry.said.objectName() != "refused", f"{line}: {drive.said}"
        acts += 1
        if line == "sheet lay":
            assert "24 joints and 56 tubes" in TUTORIAL
            assert drive.said == "Lay the sheet: 24 joints, 56 tubes."
    drive.settle()
    assert drive.tally("clashes").startswith("1")
    drive.key(Qt.Key.Key_2)
    drive.settle()
    page = window.page
    bar = page.tabs.tabBar()
    drive.qtbot.mouseClick(bar, Qt.MouseButton.LeftButton, pos=bar.tabRect(0).center())
    page.clashes.list.selectRow(0)
    drive.settle()
    model = page.mends.list.model
    assert f"`{model.data(model.index(0, 0))}`" in TUTORIAL
    assert "Ann's trunk is 7.6 from" in TUTORIAL
    drive.press("Do it")
    drive.settle()
    drive.key(Qt.Key.Key_5)
    drive.settle()
    acts += 6  # the keys 4, 2 and 5, the tab, the pick and the press
    assert acts <= MOST_ACTS
    job = window.session.job
    tubes, kg, stiffness = re.search(
        r"(\d+) tubes weigh ([\d.]+) kg; the twist stiffness is ([\d,]+) N·m/deg", TUTORIAL
    ).groups()  # type: ignore[union-attr]
    assert len(job.tubes) == int(tubes) >= 59
    assert drive.tally("frame mass").startswith(kg)
    assert drive.tally("torsion").startswith(stiffness)
    assert drive.tally("wheelbase").startswith("1600")
    assert find_clashes(job).count == 0
    drive.type("sheet -560: 300, 140; 300, 520")
    assert "refused" not in window.entry.said.objectName()
    drive.settle()
    assert drive.tally("torsion") != stiffness
