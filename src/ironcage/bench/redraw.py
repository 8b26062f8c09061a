"""A mirrored edit of a 300-tube frame by a key until the window shows all of it: figures, bays, folds and the picture.

In a process of its own, with the application as a builder has it: one that times every event would wait for the
interpreter at each.
"""

import json
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from typing import Any

from ironcage.bench.measure import BenchLine

MOVES, TUBES, BETWEEN_MS = 60, 300, 30


def run() -> Iterator[BenchLine]:
    """The edit, sixty times."""
    done = subprocess.run([sys.executable, "-m", "ironcage.bench.redraw"], check=True, capture_output=True, text=True)
    times, tubes = json.loads(done.stdout)
    p95 = sorted(times)[int(len(times) * 0.95)]
    yield BenchLine(
        f"frame: key to tally, bays, folds and picture, {tubes} tubes, 95th percentile of {MOVES}",
        f"{p95 * 1e3:.0f} ms (median {statistics.median(times) * 1e3:.0f} ms)",
        "60 ms",
        p95 <= 0.060,
    )


def _timed() -> tuple[list[float], int]:
    """Seconds of each edit, and how many tubes the frame has."""
    from PyQt6.QtCore import QEvent, QEventLoop, Qt, QTimer
    from PyQt6.QtGui import QKeyEvent

    from ironcage.bench.frames import unbraced
    from ironcage.desk.app import opened
    from ironcage.desk.shots import rest, settle

    app, window = opened()
    waking = QTimer()  # so that a wait for what never comes ends
    waking.start(100)
    window.session.start(unbraced(TUBES), None)
    window.go("frame")
    window.page.open("Bays")
    settle(window)
    window.session.choose((window.session.job.joints[20].id,))
    told: list[Any] = []
    window.slow.answered.connect(lambda a: told.append(a.job) if a.kind == "frame" else None)
    times = []
    for _ in range(MOVES):
        told.clear()
        start = time.perf_counter()
        for kind in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
            app.sendEvent(window.table, QKeyEvent(kind, Qt.Key.Key_PageUp, Qt.KeyboardModifier.NoModifier))
        job = window.session.job
        while time.perf_counter() - start < 5:
            app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
            drawn = window.table.pictured
            if job in told and drawn is not None and drawn.job is job:
                app.processEvents()  # what that has still to paint
                break
        times.append(time.perf_counter() - start)
        rest(BETWEEN_MS)
    tubes = len(window.session.job.tubes)
    window.shut(discard=True)
    return times, tubes


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as home:
        os.environ["IRONCAGE_HOME"] = home
        os.environ["OPENBLAS_NUM_THREADS"] = "1"
        timed = json.dumps(_timed())
    sys.stdout.write(timed)
    sys.stdout.flush()
    os._exit(0)  # at once: what is left of the window needs no taking down
