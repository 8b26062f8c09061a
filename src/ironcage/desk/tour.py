"""Every list of every step of every demo, looked at in several ways: for pictures of all, and for a test that reads
them."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from ironcage.core.job import edits
from ironcage.core.job.values.model import Job, UnitChoice
from ironcage.desk.pages import STEPS
from ironcage.samples import SAMPLES, sample


@dataclass(frozen=True)
class Way:
    """A way to look at the window. size: width and height in pixels; scale: of the type, 1 as designed."""

    name: str
    size: tuple[int, int] = (1280, 800)
    scale: float = 1.0
    dark: bool = False
    inch: bool = False


WAYS = (
    Way("1280x800"),
    Way("1024x700", size=(1024, 700)),
    Way("2560x1440", size=(2560, 1440)),
    Way("large-type", scale=1.3),
    Way("dark", dark=True),
    Way("inch", inch=True),
)


ALL_STEPS = tuple(step.id for step in STEPS)


@dataclass(frozen=True)
class Stop:
    """Where the tour is: a demo, a step, what the tab of its open list says (nothing where it has none), and the way
    it is looked at."""

    demo: str
    step: str
    tab: str
    way: Way

    @property
    def name(self) -> str:
        """In the letters of a file's name."""
        words = (self.demo, self.step, self.tab.lower().replace(" ", "-"), self.way.name)
        return "-".join(filter(None, words))


def tour(
    window: Any,
    settle: Callable[[Any], None],
    demos: Sequence[str] = tuple(SAMPLES),
    steps: Sequence[str] = ALL_STEPS,
    ways: Sequence[Way] = WAYS,
) -> Iterator[Stop]:
    """Show a window's lists one after another; `settle` lets it come to rest before each stop is given out. All lists
    of a step are shown in one type before the next type: to style the window anew takes longest."""
    from PyQt6.QtWidgets import QTabWidget

    for demo in demos:
        for inch in sorted({way.inch for way in ways}):
            window.session.start(_in_units(sample(demo), inch=inch), None)
            for step in steps:
                window.go(step)
                settle(window)
                tabs = window.page.findChild(QTabWidget)
                words = _lists(tabs)
                for scale, dark in dict.fromkeys((way.scale, way.dark) for way in ways if way.inch is inch):
                    window.look_so(scale, dark=dark)
                    alike = [w for w in ways if (w.inch, w.scale, w.dark) == (inch, scale, dark)]
                    for n in range(max(len(words), 1)):
                        if tabs:
                            tabs.setCurrentIndex(n)
                        settle(window)  # until then the window is as wide as another list or type needs
                        for way in alike:
                            window.resize(*way.size)
                            settle(window)
                            yield Stop(demo, step, words[n] if words else "", way)


def _lists(tabs: Any) -> tuple[str, ...]:
    """The words of the lists under tabs, without what they answer."""
    if tabs is None:
        return ()
    own: tuple[str, ...] | None = getattr(tabs, "order", None)
    return own or tuple(tabs.tabText(n).split(" ")[0] for n in range(tabs.count()))


def _in_units(job: Job, *, inch: bool) -> Job:
    """A job as it reads in a shop that works in millimetres, or in inches."""
    return edits.set_brief(job, units=UnitChoice(length="inch", mass="lb") if inch else UnitChoice())
