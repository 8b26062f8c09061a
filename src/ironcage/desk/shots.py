"""Pictures of the window without a person: one for `demo --shot`, and the set in docs/screenshots."""

import os
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

WAIT_MS = 30_000


def rest(ms: int) -> None:
    """Let the window work for so long."""
    from PyQt6.QtCore import QEventLoop, QTimer

    loop = QEventLoop()
    QTimer.singleShot(ms, loop.quit)
    loop.exec()


def settle(window: Any) -> None:
    """Let the window work until every answer is there."""
    from PyQt6.QtCore import QDeadlineTimer

    patience = QDeadlineTimer(WAIT_MS)
    rest(50)
    while not patience.hasExpired() and not (window.at_rest and window.table.drawn):
        rest(20)
    rest(250)  # answers arrive by signal, the view settles


def picture(
    out: Path,
    job: Job | None,
    *,
    step: str = "",
    size: tuple[int, int] = (1280, 800),
    dark: bool = False,
    before: Callable[[Any], None] | None = None,
) -> None:
    """Open a window with its own empty settings, show a job at a step, and save what it looks like."""
    from PyQt6 import sip

    from ironcage.desk.app import application
    from ironcage.desk.window import Window

    app = application()  # kept: a window needs it alive
    with tempfile.TemporaryDirectory() as home:
        window = Window(Path(home))
        try:
            window.show()
            settle(window)
            window.resize(*size)
            if dark:
                window.toggle_dark()
            if job is not None:
                window.session.start(job, None)
            if step:
                window.go(step)
            settle(window)
            window.table.setFocus()
            window.table.fit()
            settle(window)
            if before:
                before(window)
                settle(window)
            app.processEvents()
            _write(window.card or window, out)
        finally:
            window.shut(discard=True)
            sip.delete(window)  # before the application goes, which could crash with a window left


def make_all(folder: Path) -> int:
    """Take every list of every step in every demo, looked at in every way, as demo-step-list-way.png."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6 import sip
    from PyQt6.QtCore import Qt

    from ironcage.desk.app import application
    from ironcage.desk.tour import tour
    from ironcage.desk.window import Window

    app = application()  # kept: a window needs it alive
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as home:
        window = Window(Path(home))
        try:
            window.setWindowState(Qt.WindowState.WindowNoState)  # the screen that is not there is small
            window.show()
            for count, stop in enumerate(tour(window, settle), start=1):
                _write(window, folder / f"{stop.name}.png")
                print(f"{count}  {stop.name}.png", flush=True)
            app.processEvents()
        finally:
            window.shut(discard=True)
            sip.delete(window)
    return 0


def _write(widget: Any, out: Path) -> None:
    if not widget.grab().save(str(out)):
        raise Problem(
            f"{out} could not be written.",
            where=str(out),
            hint="Choose a folder that exists, and a name ending in .png.",
        )


def make(folder: Path) -> int:
    """Make the pictures of docs/screenshots again."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from ironcage.desk.app import application
    from ironcage.samples import sample

    app = application()  # kept from picture to picture, with its fonts
    folder.mkdir(parents=True, exist_ok=True)
    job = sample("sandpiper")

    def choose(*names: str, view: str = "") -> Callable[[Any], None]:
        def act(window: Any) -> None:
            if view:
                window.table.turn_to(view)
            window.session.choose(names)

        return act

    def card(window: Any) -> None:
        window.show_card()
        window.card.showNormal()
        window.card.resize(1280, 800)

    def typed(window: Any) -> None:
        window.session.choose(("J12L",))
        window.entry.begin("z+25")

    def tab(name: str, *names: str) -> Callable[[Any], None]:
        def act(window: Any) -> None:
            window.session.choose(names)
            window.page.open(name)

        return act

    def bump(window: Any) -> None:
        window.page.travel.setValue(70)

    def rules(window: Any) -> None:
        window.page.tabs.setCurrentIndex(1)

    pictures: tuple[tuple[str, Job | None, dict[str, Any]], ...] = (
        ("brief", job, {"step": "brief", "before": rules}),
        ("place", job, {"step": "place"}),
        ("place-side", job, {"step": "place", "before": choose("D32", view="side")}),
        ("fell-litter", sample("fell-litter"), {"step": "place", "before": choose("B28")}),
        ("run", job, {"step": "run", "before": bump}),
        ("frame", job, {"step": "frame", "before": typed}),
        ("bays", job, {"step": "frame", "before": tab("Bays")}),
        ("fittings", sample("fell-litter"), {"step": "frame", "before": tab("Fittings", "F2L")}),
        ("prove", job, {"step": "prove"}),
        ("prove-dark", job, {"step": "prove", "dark": True}),
        ("cases", job, {"step": "prove", "before": tab("Cases")}),
        ("strength", sample("fell-litter"), {"step": "prove", "before": tab("Strength")}),
        ("cut", job, {"step": "cut", "before": choose("T35L")}),
        ("jig", job, {"step": "jig", "before": choose("J29L", "J8R", view="plan")}),
        ("weld", sample("skerry"), {"step": "weld"}),
        ("true", sample("skerry"), {"step": "true", "before": choose("J7L")}),
        ("log", job, {"step": "log"}),
        ("bench-card", job, {"step": "cut", "before": card}),
        ("empty", None, {}),
    )
    for name, shown, how in pictures:
        picture(folder / f"{name}.png", shown, **how)
        app.processEvents()
        print(f"{folder / name}.png")
    return 0
