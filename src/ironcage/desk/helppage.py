"""Help made from what is declared: the steps, every typed line, every key."""

from html import escape

from PyQt6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

from ironcage.core.job.text import COMMANDS
from ironcage.desk.actions import ACTIONS
from ironcage.desk.pages import STEPS
from ironcage.units import Units, said

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
    ("right-drag", "turns the free view, pushes the others; wheel zooms"),
    (
        "arrows, Page Up and Down",
        "move chosen joints by a round step, ten with Shift; with nothing chosen, push the view",
    ),
    ("digits", "open a step; on a picked cell that can be typed into, they go into it"),
    ("letters", said.example('start a line for what is chosen: z+[25], x 1-3/8", tube')),
)


def help_text(units: Units) -> str:
    """The whole help as HTML, examples in the builder's units."""

    def rows(pairs: list[tuple[str, str]]) -> str:
        return "".join(f"<tr><td><code>{escape(a)}</code>&nbsp;&nbsp;</td><td>{escape(b)}</td></tr>" for a, b in pairs)

    steps = [(f"{p.number}", f"{p.name}: {p.question}") for p in STEPS]
    keys = [(a.key, a.words) for a in ACTIONS if a.key]
    lines = [
        ("J12L T5L", "chooses joints and tubes by name"),
        *((units.say(c.example), units.say(c.says)) for c in COMMANDS),
    ]
    lengths = [
        (units.sample(1372), "in your own unit"),
        ('54 3/8"', "inches and a fraction"),
        ("4' 6 3/8\"", "feet and inches"),
        ("12 ga", "tube wall by gauge"),
        ('54 3/8 - 2*1.5"', "sums, units mixed"),
        ("3/4 sch 40", "pipe, as a section"),
        ("16°30'", "angles"),
    ]
    return (
        f"<h3>Steps (number keys)</h3><table>{rows(steps)}</table>"
        f"<h3>Lines to type</h3><p>Left and right are one: each acts on both sides until a joint is parted. ‘from "
        f"NAME’ at the end of a "
        f"reading takes it from that datum.</p><table>{rows(lines)}</table>"
        f"<h3>Lengths</h3><table>{rows(lengths)}</table>"
        f"<h3>Mouse and keys on the table</h3><table>{rows([(key, units.say(words)) for key, words in _MOUSE])}</table>"
        f"<h3>Keys</h3><table>{rows(keys)}</table>"
        "<p>Results are estimates with stated assumptions. For roll structures, lifting and welding ask your "
        "sanctioning body, "
        "local codes and a licensed engineer or welder.</p>"
    )


class HelpPage(QDialog):
    """A window beside the work, not in front of it."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Help")
        self.text = QTextBrowser()
        QVBoxLayout(self).addWidget(self.text)
        beside = parent.geometry()  # along the right edge, so that the table's left half and the line stay in sight
        width = min(WIDTH_PX, round(beside.width() * SHARE))
        self.setGeometry(beside.right() - width, beside.top() + BELOW_PX, width, beside.height() - 2 * BELOW_PX)

    def show_in(self, units: Units) -> None:
        """Write the examples in the builder's units, and keep the place where it was read."""
        place = self.text.verticalScrollBar().value()
        self.text.setHtml(help_text(units))
        self.text.verticalScrollBar().setValue(place)
