"""From nothing to a usable window, beside a bare script with the same libraries and an empty window."""

import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator

from ironcage.bench.measure import BenchLine

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
# usable: the window is shown with the frame drawn on the table (in lines until its solid picture is ready) and takes
# keys. Every figure of the tally, twist stiffness last, and the solid picture are timed beside it.
OURS = """
import os, sys
os.environ["OPENBLAS_NUM_THREADS"] = "1"
os.environ["PYDANTIC_DISABLE_PLUGINS"] = "__all__"
import ironcage.desk.app as app_module
app, window = app_module.opened(demo="sandpiper")
from PyQt6.QtCore import QTimer
def look():
    known = "torsion" in window.tally.dials and window.tally.dials["torsion"].number.text() != "–"
    if {"usable": window.table.painted, "figures": known, "solid": window.table.drawn}[sys.argv[1]]:
        peak = next(line for line in open("/proc/self/status") if line.startswith("VmHWM"))
        os.write(1, peak.split()[1].encode())
        os._exit(0)
timer = QTimer(); timer.timeout.connect(look); timer.start(2)
app.exec()
"""


def _once(script: str, *words: str) -> tuple[float, int]:
    """Seconds of a whole process, and the peak memory (kB) that it reports of itself."""
    with tempfile.TemporaryDirectory() as home:
        env = {**os.environ, "IRONCAGE_HOME": home, "QT_QPA_PLATFORM": os.environ.get("QT_QPA_PLATFORM", "offscreen")}
        env.pop("PYTHONDONTWRITEBYTECODE", None)  # a second start finds its modules compiled, as on a builder's machine
        start = time.perf_counter()
        done = subprocess.run([sys.executable, "-c", script, *words], env=env, check=True, capture_output=True)
        return time.perf_counter() - start, int(done.stdout or 0)


def run() -> Iterator[BenchLine]:
    """Start of the demo against the bare script in turn, and the demo's peak memory."""
    _once(BARE)
    peak = _once(OURS, "solid")[1] / 1024
    runs = [(_once(BARE)[0], *(_once(OURS, state)[0] for state in ("usable", "figures", "solid"))) for _ in range(RUNS)]
    ratio = statistics.median(run[1] / run[0] for run in runs)
    bare, ours, figures, solid = (statistics.median(side) for side in zip(*runs, strict=True))
    yield BenchLine(
        "demo to a usable window",
        f"{ratio:.2f} × a bare window ({ours:.2f} s, {bare:.2f} s; every figure after {figures:.2f} s, solid picture "
        f"after {solid:.2f} s)",
        "1.8 ×",
        ratio <= 1.8,
    )
    yield BenchLine("peak memory of the demo", f"{peak:.0f} MB", "500 MB", peak < 500)
