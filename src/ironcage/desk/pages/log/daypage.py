"""One day of the log as a page to read: what was done with its photos, what came, what was ordered and measured."""

from collections.abc import Iterable, Sequence
from html import escape

from PyQt6.QtCore import QUrl
from PyQt6.QtWidgets import QTextBrowser, QWidget

from ironcage.core.answers.log.days import LogDay
from ironcage.core.answers.true import reading_shown
from ironcage.core.job.store.scans import picture_path
from ironcage.core.job.values.logbook import LogEntry
from ironcage.core.job.values.truing import joints_of
from ironcage.units import Units

PHOTO_WIDE_PX = 220
MOST_TOLD = 6  # readings, joints that were welded: one by one


def amounts(hours: float, cost: float) -> str:
    """`2.5 h, 40`, as much of it as there is."""
    return ", ".join(filter(None, (f"{hours:g} h" if hours else "", f"cost {cost:,.0f}" if cost else "")))


def day_html(day: LogDay, units: Units) -> str:
    """A day as HTML; photos by the path of their file."""
    told = amounts(day.hours, day.cost)
    parts = [f"<p><b>{day.day:%A}, {day.day.isoformat()}</b>{escape(f' · {told}' if told else '')}</p>"]
    parts += [_entry(e, units) for e in day.entries]
    parts += [f"<p>Came: {escape(o.text)} ({o.id})</p>" for o in day.came]
    parts += [f"<p>Ordered: {escape(o.text)} ({o.id}), due {o.due.isoformat()}</p>" for o in day.ordered]
    if day.readings:
        parts.append(f"<p>Measured: {escape(_readings(day, units))}</p>")
    parts += [f"<p>{state.capitalize()}: {escape(_some(ends))}</p>" for state, ends in day.welded]
    if len(parts) == 1:
        parts.append("<p>Nothing is logged on this day.</p>")
    return "".join(parts)


def _entry(entry: LogEntry, units: Units) -> str:
    told = amounts(entry.hours, entry.cost)
    behind = " · ".join(filter(None, (" ".join(entry.of), told, "kept by the program" if entry.kept else "")))
    words = f"<p>{escape(units.say(entry.text))}" + (f"<br><small>{escape(behind)}</small>" if behind else "") + "</p>"
    paths = [picture_path(name) for name in entry.photos]
    shown = "".join(
        f'<img src="{QUrl.fromLocalFile(str(path)).toString()}" width="{PHOTO_WIDE_PX}"> ' for path in paths if path
    )
    lost = sum(path is None for path in paths)
    return (
        words
        + (f"<p>{shown}</p>" if shown else "")
        + (f"<p>{lost} photo{'s' if lost > 1 else ''} not found on this computer.</p>" if lost else "")
    )


def _readings(day: LogDay, units: Units) -> str:
    return _some([f"{'–'.join(joints_of(r))} {reading_shown(r, units)}" for r in day.readings], ", ")


def _some(told: Sequence[str], between: str = "; ") -> str:
    """As many as there is room for, and how many more there are."""
    more = len(told) - MOST_TOLD
    return between.join(told[:MOST_TOLD]) + (f" and {more} more" if more > 0 else "")


class DayPage(QTextBrowser):
    """Shows a day."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setOpenLinks(False)
        self.setAccessibleName("The day")

    def show_day(self, day: LogDay, units: Units) -> None:
        """Show a day."""
        self.setHtml(day_html(day, units))


def newest_first(days: Iterable[LogDay]) -> tuple[LogEntry, ...]:
    """The entries of days, the newest day first and on each the last written first."""
    return tuple(e for d in days for e in reversed(d.entries))
