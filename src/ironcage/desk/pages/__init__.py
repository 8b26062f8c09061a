"""The tray: one page a step. A page asks one question of the core, shows the answer, and decorates the table.

A new step is a module with a `Page` and a line in STEPS; the window, the route card, the keys and the help
follow. A page's module is imported when its step is first opened, which keeps the start short.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ironcage.desk.pages.page import Page


def _brief() -> "type[Page]":
    from ironcage.desk.pages.brief import BriefPage

    return BriefPage


def _place() -> "type[Page]":
    from ironcage.desk.pages.place import PlacePage

    return PlacePage


def _run() -> "type[Page]":
    from ironcage.desk.pages.run import RunPage

    return RunPage


def _frame() -> "type[Page]":
    from ironcage.desk.pages.frame import FramePage

    return FramePage


def _prove() -> "type[Page]":
    from ironcage.desk.pages.prove import ProvePage

    return ProvePage


def _cut() -> "type[Page]":
    from ironcage.desk.pages.cut import CutPage

    return CutPage


def _jig() -> "type[Page]":
    from ironcage.desk.pages.jig import JigPage

    return JigPage


def _weld() -> "type[Page]":
    from ironcage.desk.pages.weld import WeldPage

    return WeldPage


def _true() -> "type[Page]":
    from ironcage.desk.pages.true import TruePage

    return TruePage


def _log() -> "type[Page]":
    from ironcage.desk.pages.log import LogPage

    return LogPage


@dataclass(frozen=True)
class Step:
    """A step of the work: its id, its name, its key on the route card (0 for the tenth), the question it answers, its
    page, and the share of the height between table and tray that the tray takes."""

    id: str
    name: str
    number: int
    question: str
    page: "Callable[[], type[Page]]"
    tray: float


STEPS: tuple[Step, ...] = (
    Step("brief", "Brief", 1, "What are we building, and to which rules?", _brief, 0.6),
    Step("place", "Place", 2, "Where does everything heavy or fixed go?", _place, 0.46),
    Step("run", "Run", 3, "How do the wheels move, and what do they run into?", _run, 0.5),
    Step("frame", "Frame", 4, "Which tubes join the points?", _frame, 0.42),
    Step("prove", "Prove", 5, "Is it stiff enough, and where is it not?", _prove, 0.43),
    Step("cut", "Cut", 6, "What do I buy and how do I cut it?", _cut, 0.62),
    Step("jig", "Jig", 7, "How do I hold it?", _jig, 0.42),
    Step("weld", "Weld", 8, "In which order, and where does it go as it is welded?", _weld, 0.56),
    Step("true", "True", 9, "Is it straight, square, level, and right at the pickups?", _true, 0.46),
    Step("log", "Log", 0, "What did we do, decide, spend, and what is next?", _log, 0.62),
)

FIRST_STEP = "frame"  # what the window opens with: where most of the time is spent


def step_called(name: str) -> Step:
    """The step of that id; refuses an unknown one."""
    from ironcage.problem import Problem, nearest

    for step in STEPS:
        if step.id == name:
            return step
    known = [s.id for s in STEPS]
    raise Problem(
        f"There is no step ‘{name}’.", where=name, hint=nearest(name, known) or f"There are {', '.join(known)}."
    )
