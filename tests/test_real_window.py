"""The program in a real window under a virtual screen: opened, typed into and closed; started by a person, with a
window manager and nothing set up."""

import os
import shutil
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtGui import QImage
from scipy.ndimage import binary_erosion

from ironcage.desk.look import LIGHT, rgb

needs_screen = pytest.mark.skipif(not shutil.which("xvfb-run"), reason="no virtual screen is installed")
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
window.showNormal()
window.resize(1100, 760)
QTest.qWait(200)
window.session._saved_job = window.session.job
size = window.size()
window.close()
again = Window(home())
assert again.size() == size, (again.size(), size)
again.close()
"""
# What a person does and sees: a window manager runs, the program is started, the screen is looked at until nothing
# moves on it.
STARTED = """
import subprocess, sys, time
from PyQt6.QtGui import QGuiApplication
manager = subprocess.Popen(["openbox"], stderr=subprocess.DEVNULL)
program = subprocess.Popen([sys.executable, "-m", "ironcage", "demo", sys.argv[2]])
looker = QGuiApplication([])
seen, still, until = None, 0, time.monotonic() + 120
while still < 4 and time.monotonic() < until and program.poll() is None:
    time.sleep(0.5)
    looker.processEvents()
    now = looker.primaryScreen().grabWindow(0).toImage()
    colours = {now.pixel(x, y) for x in range(0, now.width(), 16) for y in range(0, now.height(), 8)}
    still = still + 1 if now == seen and len(colours) > 20 else 0
    seen = now
seen.save(sys.argv[1])
program.terminate()
manager.terminate()
"""


def in_a_screen(script: str, *words: str, size: str, env: dict[str, str] | None = None) -> str:
    """Run Python on a virtual screen of a size; what it printed."""
    plain = {k: v for k, v in os.environ.items() if k != "QT_QPA_PLATFORM"}
    done = subprocess.run(
        ["xvfb-run", "-a", "-s", f"-screen 0 {size}x24", sys.executable, "-c", script, *words],
        env=plain | {"QT_QPA_PLATFORM": "xcb"} | (env or {}),
        check=False,
        capture_output=True,
        text=True,
        timeout=240,
    )
    assert done.returncode == 0, done.stderr
    return done.stdout


@needs_screen
def test_the_program_runs_in_a_real_window_and_remembers_its_size(tmp_path: Path) -> None:
    picture = tmp_path / "w.png"
    lines = in_a_screen(SCRIPT, str(picture), size="1280x800").split("\n")
    assert lines[0] == "Move J12L z+25."
    assert lines[1].replace(",", "").isdigit()
    assert picture.stat().st_size > 20_000


@needs_screen
@pytest.mark.skipif(not shutil.which("openbox"), reason="no window manager is installed")
@pytest.mark.parametrize(
    ("size", "demo"), [("1280x800", "sandpiper"), ("1024x700", "fell-litter"), ("1600x1000", "skerry")]
)
def test_the_first_picture_shows_the_whole_frame(tmp_path: Path, size: str, demo: str) -> None:
    picture = tmp_path / "first.png"
    in_a_screen(STARTED, str(picture), demo, size=size)
    image = QImage(str(picture)).convertToFormat(QImage.Format.Format_RGB888)
    width, height = (int(n) for n in size.split("x"))
    assert (image.width(), image.height()) == (width, height)
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    pixels = (
        np.frombuffer(bits, np.uint8).reshape(height, image.bytesPerLine())[:, : 3 * width].reshape(height, width, 3)
    )

    split = max(
        range(height), key=lambda y: int((pixels[y] == rgb(LIGHT.line)).all(axis=1).sum())
    )  # between table and lists
    along = np.flatnonzero((pixels[split] == rgb(LIGHT.line)).all(axis=1))
    left, right = int(along[0]), int(along[-1])
    assert right - left > 0.6 * min(width, 1280)
    steel = (pixels[:, right - 4] == rgb(LIGHT.steel)).all(axis=1)
    top = int(np.flatnonzero(steel[:split])[-1]) + 1
    assert steel[split:].any(), "the line with what comes next is below the screen"
    shade = pixels[top:split, left : right + 1].astype(int)
    tubes = (shade.max(axis=2) < 175) & (shade.min(axis=2) > 70) & (np.ptp(shade, axis=2) < 26)
    tubes = binary_erosion(tubes, iterations=1)  # the tape along the table is thin, and may run out of the picture
    down, across = np.flatnonzero(tubes.any(axis=1)), np.flatnonzero(tubes.any(axis=0))
    assert tubes.sum() > 2000
    assert across[0] > 3
    assert across[-1] < right - left - 3
    assert down[0] > 3
    assert down[-1] < split - top - 3
    assert np.ptp(across) > 0.8 * (right - left) or np.ptp(down) > 0.8 * (split - top)
