"""Help made from what is declared: the steps, every typed line, every key."""

from html import escape

from PyQt6.QtWidgets import QDialog, QLineEdit, QTextBrowser, QVBoxLayout, QWidget

from ironcage.core.job.text import COMMANDS
from ironcage.core.job.text.guesses import meaning
from ironcage.desk.actions import ACTIONS
from ironcage.desk.pages import STEPS
from ironcage.units import METRIC, Units, said

WIDTH_PX, SHARE, BELOW_PX = (
    560,
    0.4,
    90,
)  # how wide it is at most, and how much of the window's top and bottom it leaves free
_MOUSE = (
    ("double click", "on a tube splits it there; on an empty place adds a joint, as far back as the chosen one"),
    (". and ,", "choose the next joint from nose to tail, or the one before"),
    ("click", "pick a joint or tube; with Shift, add to what is chosen"),
    ("drag a chosen joint", "moves it, snapping to round readings; Esc stops"),
    ("drag from an empty place", "picks everything in the box"),
    ("right click", "offers what can be done with what is chosen, or with what is there"),
    ("right-drag", "turns the free view, pushes the others; wheel zooms"),
    (
        "arrows, Page Up and Down",
        "move chosen joints by a round step, ten with Shift; with nothing chosen, push the view",
    ),
    ("digits", "open a step; on a picked cell that can be typed into, they go into it"),
    ("letters", said.example('start a line for what is chosen: z+[25], x 1-3/8", tube')),
)


Pairs = list[tuple[str, str]]


def help_text(units: Units, wanted: str = "") -> str:
    """The help as HTML, examples in the builder's units: the whole of it, or the rows in which all of some words
    stand, after what leads to the right line from words of other people's."""
    words = wanted.lower().split()

    def section(heading: str, pairs: Pairs, before: str = "") -> str:
        kept = [(a, b) for a, b in pairs if all(w in f"{a} {b}".lower() for w in words)]
        if not kept:
            return ""
        rows = "".join(f"<tr><td><code>{escape(a)}</code>&nbsp;&nbsp;</td><td>{escape(b)}</td></tr>" for a, b in kept)
        return f"<h3>{heading}</h3>{'' if words else before}<table>{rows}</table>"

    left_and_right = (
        "<p>Left and right are one: each acts on both sides until a joint is parted. ‘from NAME’ at the end of a "
        "reading takes it from that datum.</p>"
    )
    leads = units.say(meaning(wanted)) if words else ""
    found = (
        section("Steps (number keys)", [(f"{p.number}", f"{p.name}: {p.question}") for p in STEPS])
        + section("Lines to type", _lines(units), left_and_right)
        + section("Lengths", _lengths(units))
        + section("Mouse and keys on the table", [(key, units.say(told)) for key, told in _MOUSE])
        + section("Keys", [(" or ".join(filter(None, (a.key, a.also))), a.words) for a in ACTIONS if a.key])
    )
    return (
        (f"<p><b>{escape(leads)}</b></p>" if leads else "")
        + (found or ("" if leads else f"<p>Nothing here speaks of ‘{escape(wanted)}’. Try another word for it.</p>"))
        + "<p>Results are estimates with stated assumptions. For roll structures, lifting and welding ask your "
        "sanctioning body, local codes and a licensed engineer or welder.</p>"
    )


def _lines(units: Units) -> Pairs:
    chosen = ("J12L T5L", "chooses joints and tubes by name")
    return [chosen, *((units.say(c.example), units.say(c.says)) for c in COMMANDS)]


def _lengths(units: Units) -> Pairs:
    return [
        (units.sample(1372), "in your own unit"),
        ('54 3/8"', "inches and a fraction"),
        ("4' 6 3/8\"", "feet and inches"),
        ("12 ga", "tube wall by gauge"),
        ('54 3/8 - 2*1.5"', "sums, units mixed"),
        ("3/4 sch 40", "pipe, as a section"),
        ("16°30'", "angles"),
    ]


class HelpPage(QDialog):
    """A window beside the work, not in front of it: a word to look for, and what is found of it."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Help")
        self.units = METRIC
        self.search = QLineEdit()
        self.search.setPlaceholderText("Look for a word: weld, driver, distance")
        self.search.setAccessibleName("Look for a word in the help")
        self.search.textChanged.connect(lambda _: self._show())
        self.text = QTextBrowser()
        box = QVBoxLayout(self)
        box.addWidget(self.search)
        box.addWidget(self.text)
        beside = parent.geometry()  # along the right edge, so that the table's left half and the line stay in sight
        width = min(WIDTH_PX, round(beside.width() * SHARE))
        self.setGeometry(beside.right() - width, beside.top() + BELOW_PX, width, beside.height() - 2 * BELOW_PX)

    def show_in(self, units: Units) -> None:
        """Write the examples in the builder's units, and keep the place where it was read."""
        self.units = units
        place = self.text.verticalScrollBar().value()
        self._show()
        self.text.verticalScrollBar().setValue(place)
        self.search.setFocus()
        self.search.selectAll()

    def _show(self) -> None:
        self.text.setHtml(help_text(self.units, self.search.text()))
