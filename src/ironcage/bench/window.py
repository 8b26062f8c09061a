"""The window: a joint moved by key until the tally is right, how long the window was blocked, a large job."""

import json
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QEvent, QEventLoop, QObject, Qt, QTimer
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication

from ironcage.bench.frames import truss
from ironcage.bench.measure import BenchLine, seconds
from ironcage.core.answers.tally import readout
from ironcage.core.job.store import file
from ironcage.core.job.values.model import Job
from ironcage.desk.app import opened
from ironcage.desk.shots import rest, settle
from ironcage.desk.window import Window

MOVES = 60
BETWEEN_MS = 30
# Sleeps a millisecond at a time until told to stop, and says how late it was woken at worst.
CONTROL = """
import select, sys, time
worst = 0.0
while not select.select([sys.stdin], [], [], 0)[0]:
    start = time.perf_counter()
    time.sleep(0.001)
    worst = max(worst, time.perf_counter() - start - 0.001)
print(worst)
"""
_PAINTS = (QEvent.Type.Paint, QEvent.Type.UpdateRequest, QEvent.Type.UpdateLater)


class _Watch(QApplication):
    """An application that keeps how long each event took on the GUI thread, painting apart."""

    working: list[float]
    painting: list[float]
    depth = 0

    def wait(self) -> None:
        """Sleep until something happens and let it: a loop that never slept would take the interpreter from the
        threads that answer."""
        self.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)

    def notify(self, receiver: QObject | None, event: QEvent | None) -> bool:
        kind = event.type() if event else QEvent.Type.None_
        start, self.depth = time.perf_counter(), self.depth + 1
        try:
            return super().notify(receiver, event)
        finally:
            self.depth -= 1
            if self.depth == 0:
                (self.painting if kind in _PAINTS else self.working).append(time.perf_counter() - start)


def _percentile(values: list[float], share: float) -> float:
    return sorted(values)[min(int(len(values) * share), len(values) - 1)]


def _move(window: Window, app: _Watch) -> float:
    """Seconds from the key until the tally shows this job's figures."""
    shown: list[float] = []

    def see(answered: Any) -> None:
        if answered.kind == "tally" and answered.job is window.session.job:
            shown.append(time.perf_counter())

    window.asker.answered.connect(see)
    start = time.perf_counter()
    for kind in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
        app.sendEvent(window.table, QKeyEvent(kind, Qt.Key.Key_PageUp, Qt.KeyboardModifier.NoModifier))
    while not shown and time.perf_counter() - start < 5:
        app.wait()
    window.asker.answered.disconnect(see)
    return shown[0] - start if shown else float("inf")


def run() -> Iterator[BenchLine]:
    """A key's way to the tally with every page's own answer going on beside it, and the 5,000-tube job."""
    app = _Watch(["iron-cage"])
    app.working, app.painting = [], []
    waking = QTimer()  # so that a wait for what never comes ends
    waking.start(100)
    with tempfile.TemporaryDirectory() as home:
        os.environ["IRONCAGE_HOME"] = home
        window = opened(demo="sandpiper")[1]
        job = window.session.job
        settle(window)
        control = subprocess.Popen(
            [sys.executable, "-c", CONTROL], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
        )
        for step in ("frame", "prove"):
            window.go(step)
            settle(window)
            window.session.choose(("J12L",))
            _move(window, app)
            app.working.clear()
            app.painting.clear()
            times = []
            for _ in range(MOVES):
                times.append(_move(window, app))
                rest(BETWEEN_MS)
            p95 = _percentile(times, 0.95)
            worst, paint = max(app.working), statistics.median(p for p in app.painting if p > 1e-3)
            bare = statistics.median(seconds(lambda: readout.answer(_fresh(job))) for _ in range(9))
            yield BenchLine(
                f"{step}: key to tally, {len(job.tubes)} tubes, 95th percentile of {MOVES}",
                f"{p95 * 1e3:.0f} ms, {p95 / bare:.1f} × the bare answer",
                "50 ms",
                p95 <= 0.050,
            )
            yield BenchLine(
                f"{step}: window blocked by computing, longest",
                f"{worst * 1e3:.0f} ms (a repaint takes {paint * 1e3:.0f} ms)",
                "30 ms",
                worst <= 0.030,
            )
        paused, _ = control.communicate("")
        yield BenchLine(
            "the machine itself paused a sleeping program",
            f"{float(paused) * 1e3:.0f} ms at most",
            "a control: nothing",
            True,
        )
        yield _pocket(window, app)
        yield from _large(window, app, Path(home))
        window.session._saved_job = window.session.job
        window.close()


def _pocket(window: Window, app: _Watch) -> BenchLine:
    """From its key's action until Pocket is on the screen for the first time."""
    start = time.perf_counter()
    window.show_pocket()
    app.painting.clear()
    while not app.painting and time.perf_counter() - start < 5:
        app.processEvents()
    took = time.perf_counter() - start
    if window._pocket:
        window._pocket.close()
    return BenchLine(
        "Pocket on the screen after its key, the first time", f"{took * 1e3:.0f} ms", "100 ms", took <= 0.1
    )


def _fresh(job: Job) -> Job:
    """An equal job that no answer has been kept for."""
    return job.but(joints=(*job.joints,))


def _large(window: Window, app: _Watch, home: Path) -> Iterator[BenchLine]:
    path = home / "large.cage"
    job = truss(5000)
    file.save(job, path)
    plain = seconds(lambda: json.loads(path.read_text("utf-8")))

    def open_it() -> None:
        window.files.open_path(path)
        app.processEvents()

    window.go("frame")
    window.session._saved_job = window.session.job
    took = seconds(open_it)
    yield BenchLine(
        f"a job of {len(job.tubes)} tubes opens and is drawn",
        f"{took:.2f} s, {took / plain:.0f} × reading its JSON",
        "3 s",
        took <= 3,
    )
    settle(window)
    window.session.choose((job.joints[len(job.joints) // 2].id,))
    app.working.clear()
    times = [_move(window, app) for _ in range(8)]
    yield BenchLine(
        "the same: key to tally",
        f"{statistics.median(times):.2f} s, window blocked {max(app.working) * 1e3:.0f} ms at most",
        "stays usable: under 2 s, blocked under 300 ms",
        statistics.median(times) <= 2 and max(app.working) <= 0.3,
    )
