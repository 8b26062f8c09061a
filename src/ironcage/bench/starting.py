"""From nothing to a usable window, beside a bare script with the same libraries and an empty window."""

import os
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator

from ironcage.bench.measure import Line

RUNS = 7
BARE = """
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QMainWindow
import vtkmodules.util.numpy_support
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkPolyData
from vtkmodules.vtkRenderingCore import vtkRenderer
from vtkmodules.vtkRenderingOpenGL2 import vtkEGLRenderWindow
app = QApplication([])
window = QMainWindow()
window.resize(1280, 800)
window.show()
QTimer.singleShot(0, app.quit)
app.exec()
"""
# usable: shown, the table painted, the tally's figures there
OURS = """
import ironcage.desk.app as app_module
from PyQt6.QtCore import QTimer
app = app_module.application()
from ironcage.desk.window import Window
from ironcage.samples import sample
window = Window(app_module.folder())
window.session.start(sample("sandpiper"), None)
window.show()
def look():
    if window.table.drawn and "torsion" in window.tally.dials and window.tally.dials["torsion"].number.text() != "–":
        app.quit()
timer = QTimer(); timer.timeout.connect(look); timer.start(2)
app.exec()
import os; os._exit(0)
"""


def _once(script: str) -> float:
    with tempfile.TemporaryDirectory() as home:
        env = {**os.environ, "IRONCAGE_HOME": home, "QT_QPA_PLATFORM": os.environ.get("QT_QPA_PLATFORM", "offscreen")}
        start = time.perf_counter()
        subprocess.run([sys.executable, "-c", script], env=env, check=True, capture_output=True)
        return time.perf_counter() - start


def run() -> Iterator[Line]:
    """Start of the demo against the bare script in turn, and the demo's peak memory."""
    _once(BARE)
    _once(OURS)
    pairs = [(_once(BARE), _once(OURS)) for _ in range(RUNS)]
    ratio = statistics.median(b / a for a, b in pairs)
    bare, ours = (statistics.median(side) for side in zip(*pairs, strict=True))
    yield Line(
        "demo to a usable window", f"{ratio:.2f} × a bare window ({ours:.2f} s, {bare:.2f} s)", "2 ×", ratio <= 2
    )
    peak = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
    yield Line("peak memory of the demo", f"{peak:.0f} MB", "500 MB", peak < 500)
