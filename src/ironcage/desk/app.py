"""Start the window: screen, fonts, what happens when something breaks, and pictures without a person."""

import contextlib
import gc
import os
import sys
import traceback
from pathlib import Path
from types import TracebackType
from typing import Any

from ironcage.home import home
from ironcage.problem import Problem


def _screen(*, shot: bool) -> None:
    """Choose Qt's platform where there is no display, and say so."""
    if os.environ.get("QT_QPA_PLATFORM"):
        return
    if shot:
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
    elif not os.environ.get("DISPLAY") and not os.environ.get("WAYLAND_DISPLAY"):
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
        sys.stderr.write(
            "iron-cage: there is no display, so the window opens off screen; --shot FILE.png takes a picture of it\n"
        )


def application() -> Any:
    """The Qt application, with its fonts."""
    from PyQt6.QtCore import qInstallMessageHandler
    from PyQt6.QtWidgets import QApplication, QStyleFactory

    from ironcage.desk.look import load_fonts

    qInstallMessageHandler(_qt_says)
    app = QApplication.instance() or QApplication(["iron-cage"])
    assert isinstance(app, QApplication)
    app.setApplicationName("Iron Cage")
    app.setStyle(QStyleFactory.create("Fusion"))
    load_fonts()
    return app


def _qt_says(kind: Any, context: Any, text: str | None) -> None:
    """Pass on what Qt has to say, but for notes of the off-screen platform that concern nobody."""
    if text and "This plugin does not support" not in text:
        sys.stderr.write(f"{text}\n")


def opened(*, file: Path | None = None, demo: str = "", step: str = "") -> tuple[Any, Any]:
    """The application and its window, shown, with a file or a demo in hand; a file that is refused is told in it.

    The start makes hundreds of thousands of objects that stay; looking through them for garbage again and again
    would take a tenth of it, so the collector rests until the window is there.
    """
    gc.disable()
    try:
        app = application()
        from ironcage.desk.window import Window
        from ironcage.samples import sample

        window = Window(home())
        if demo:
            window.session.start(sample(demo), None)
        elif file:
            window.files.open_path(file)
        if step:
            window.go(step)
        window.show()
        window.table.setFocus()
        return app, window
    finally:
        gc.freeze()
        gc.enable()


def run(*, file: Path | None = None, demo: str = "", step: str = "") -> int:
    """Open the window and stay until it is closed; the exit code."""
    from PyQt6 import sip

    _screen(shot=False)
    app, window = opened(file=file, demo=demo, step=step)
    _catch(window)
    code = int(app.exec())
    sip.delete(window)  # before the application goes, which could crash with a window left
    return code


def run_pocket() -> int:
    """Open the quick sums alone and stay until they are closed; the exit code."""
    from ironcage.desk.look import LIGHT, style
    from ironcage.desk.pocketwindow import PocketWindow
    from ironcage.units import METRIC

    _screen(shot=False)
    app = application()
    window = PocketWindow()
    window.setStyleSheet(style(LIGHT))
    window.show_in(METRIC, LIGHT)
    return int(app.exec())


def shot(out: Path, *, demo: str, step: str = "", size: str = "", dark: bool = False) -> int:
    """Take a picture of the window with a demo and leave; the exit code."""
    _screen(shot=True)
    app = application()
    from ironcage.desk.shots import picture
    from ironcage.samples import sample

    picture(out, sample(demo), step=step, size=_size(size), dark=dark)
    app.processEvents()
    return 0


def _size(text: str) -> tuple[int, int]:
    if not text:
        return 1280, 800
    try:
        width, height = (int(part) for part in text.lower().split("x"))
    except ValueError:
        raise Problem(f"‘{text}’ is not a size.", where="--size", hint="Write for example 1280x800.") from None
    if not (640 <= width <= 8000 and 480 <= height <= 8000):
        raise Problem(
            f"A window of {width} × {height} is out of range.", where="--size", hint="From 640x480 to 8000x8000."
        )
    return width, height


def _catch(window: Any) -> None:
    """A bug must not lose work: the journal has every edit already; say where it is and go on."""

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        report = "".join(traceback.format_exception(kind, error, trace))
        sys.stderr.write(report)
        with contextlib.suppress(OSError):
            (home() / "last-fault.txt").write_text(report, "utf-8")
        window.session.told.emit(
            f"Something broke in the program ({kind.__name__}). Your work is kept; save it, and send "
            f"{home() / 'last-fault.txt'}.",
            True,
        )

    sys.excepthook = hook
