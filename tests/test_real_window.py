"""One smoke run in a real window under a virtual screen: open, type, save a picture, close."""

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

SCRIPT = """
import sys
from pathlib import Path
from PyQt6.QtTest import QTest
from PyQt6.QtCore import Qt
from ironcage.desk.app import application
from ironcage.home import home
from ironcage.desk.shots import settle
app = application()
from ironcage.desk.window import Window
from ironcage.samples import sample
window = Window(home())
window.session.start(sample("sandpiper"), None)
window.show()
assert QTest.qWaitForWindowExposed(window)
settle(window)
assert app.platformName() == "xcb", app.platformName()
window.session.choose(("J12L",))
QTest.keyClicks(window.table, "z")
QTest.keyClicks(window.entry.line, "+25")
QTest.keyClick(window.entry.line, Qt.Key.Key_Return)
settle(window)
print(window.entry.said.text())
print(window.tally.dials["torsion"].number.text())
window.grab().save(sys.argv[1])
window.resize(1100, 760)
QTest.qWait(200)
window.session._saved_job = window.session.job
size = window.size()
window.close()
again = Window(home())
assert again.size() == size, (again.size(), size)
again.close()
"""


@pytest.mark.skipif(not shutil.which("xvfb-run"), reason="no virtual screen is installed")
def test_the_program_runs_in_a_real_window_and_remembers_its_size(tmp_path: Path) -> None:
    env = {k: v for k, v in os.environ.items() if k != "QT_QPA_PLATFORM"} | {"QT_QPA_PLATFORM": "xcb"}
    picture = tmp_path / "w.png"
    done = subprocess.run(["xvfb-run", "-a", "-s", "-screen 0 1280x800x24", sys.executable, "-c", SCRIPT, str(picture)],
                          env=env, check=False, capture_output=True, text=True, timeout=240)  # fmt: skip
    assert done.returncode == 0, done.stderr
    lines = done.stdout.split("\n")
    assert lines[0] == "Move J12L z+25."
    assert lines[1].replace(",", "").isdigit()
    assert picture.stat().st_size > 20_000
