"""Help: the page of each step, and every line and key, made from what is declared."""

from html import escape
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QImage, QKeyEvent, QKeySequence, QTextDocument
from PyQt6.QtWidgets import QComboBox, QDialog, QHBoxLayout, QLineEdit, QPushButton, QTextBrowser, QVBoxLayout, QWidget

from ironcage.core.job.text import COMMANDS
from ironcage.core.job.text.guesses import meaning
from ironcage.desk.actions import ACTIONS
from ironcage.desk.guide import Guide, other_guides, page_text, passages, step_guide
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
    ("drag a square of Run", "moves the point of a link: in the plane of the view, to round readings or onto a joint"),
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
EVERY_LINE = "Every line and key"
MOST_PASSAGES = 3  # of one page


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
        + (_passages(words, units) if words else "")
        + section("Keys", [(" or ".join(filter(None, (a.key, a.also))), a.words) for a in ACTIONS if a.key])
    )
    return (
        (f"<p><b>{escape(leads)}</b></p>" if leads else "")
        + (found or ("" if leads else f"<p>Nothing here speaks of ‘{escape(wanted)}’. Try another word for it.</p>"))
        + "<p>Results are estimates with stated assumptions. For roll structures, lifting and welding ask your "
        "sanctioning body, local codes and a licensed engineer or welder.</p>"
    )


def _passages(words: list[str], units: Units) -> str:
    """What the pages of the steps say of some words, each with a link to its page."""
    rows = ""
    for guide in (*(step_guide(step.name) for step in STEPS), *other_guides()):
        for text in passages(guide, words, units)[:MOST_PASSAGES]:
            link = f'<a href="{QUrl.fromLocalFile(str(guide.path)).toString()}">{escape(guide.name)}</a>'
            rows += f"<tr><td>{link}&nbsp;&nbsp;</td><td>{escape(text)}</td></tr>"
    return f"<h3>In the pages</h3><table>{rows}</table>" if rows else ""


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


class Reader(QTextBrowser):
    """Shows the help and the pages of the docs, in the builder's units; pictures are no wider than there is room."""

    units = METRIC

    def loadResource(self, kind: int, name: QUrl) -> Any:
        if kind == QTextDocument.ResourceType.MarkdownResource and name.isLocalFile():
            return page_text(Path(name.toLocalFile()), self.units)
        found = super().loadResource(kind, name)
        if kind == QTextDocument.ResourceType.ImageResource and name.isLocalFile():
            image, room = QImage(name.toLocalFile()), self.viewport().width() - 24
            return image.scaledToWidth(room) if image.width() > room else image
        return found


class HelpPage(QDialog):
    """A window beside the work, not in front of it: the page of a step or another, or what is found of a word."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Help")
        self.units = METRIC
        self.search = QLineEdit()
        self.search.setPlaceholderText("Look for a word: weld, driver, distance")
        self.search.setAccessibleName("Look for a word in the help")
        self.search.textChanged.connect(lambda _: self._show())
        self.about = QComboBox()
        self.about.setAccessibleName("What the help is about")
        self._guides: list[Guide | None] = [None]
        self.about.addItem(EVERY_LINE)
        for step in STEPS:
            self._offer(f"{step.number} {step.name}", step_guide(step.name))
        for guide in other_guides():
            self._offer(guide.name, guide)
        self.about.currentIndexChanged.connect(lambda _: self._go())
        self.back = QPushButton("Back")
        self.back.setToolTip("The page before (Alt+Left)")
        self.back.setAutoDefault(False)
        self.back.setEnabled(False)
        self.text = Reader()
        self.text.setOpenExternalLinks(False)
        self.back.clicked.connect(self._go_back)
        self.text.sourceChanged.connect(self._followed)
        top = QHBoxLayout()
        top.addWidget(self.about, 1)
        top.addWidget(self.back)
        box = QVBoxLayout(self)
        box.addLayout(top)
        box.addWidget(self.search)
        box.addWidget(self.text)
        beside = parent.geometry()  # along the right edge, so that the table's left half and the line stay in sight
        width = min(WIDTH_PX, round(beside.width() * SHARE))
        self.setGeometry(beside.right() - width, beside.top() + BELOW_PX, width, beside.height() - 2 * BELOW_PX)

    def _offer(self, name: str, guide: Guide) -> None:
        if guide.path.exists():
            self.about.addItem(name)
            self._guides.append(guide)

    def show_in(self, units: Units, step: str) -> None:
        """Open at the page of a step, by its name, with examples in the builder's units."""
        changed, self.units, self.text.units = units != self.units, units, units
        self.search.clear()
        at = next((n for n, guide in enumerate(self._guides) if guide and guide.name == step), 0)
        self.about.setCurrentIndex(at)
        self._show()
        if changed:
            self.text.reload()
        self.search.setFocus()

    def _go(self) -> None:
        """Show what was picked of the list, from its beginning."""
        if self.search.text():
            self.search.clear()  # which shows it
        else:
            self._show()

    def _show(self) -> None:
        guide = self._guides[self.about.currentIndex()]
        if guide is not None and not self.search.text().strip():
            self.text.setSource(QUrl.fromLocalFile(str(guide.path)), QTextDocument.ResourceType.MarkdownResource)
        else:
            self.text.setHtml(help_text(self.units, self.search.text()))

    def _followed(self, url: QUrl) -> None:
        """A link was followed: the list says which page is open, and what was found is one step back."""
        self.back.setEnabled(bool(self.search.text()) or self.text.isBackwardAvailable())
        at = next((n for n, guide in enumerate(self._guides) if guide and str(guide.path) == url.toLocalFile()), None)
        if at is not None and at != self.about.currentIndex():
            self.about.blockSignals(True)
            self.about.setCurrentIndex(at)
            self.about.blockSignals(False)

    def _go_back(self) -> None:
        """To what was found of a word, or the page before."""
        if self.search.text():
            self._show()
            self.back.setEnabled(False)
        else:
            self.text.backward()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event and event.matches(QKeySequence.StandardKey.Back):
            self._go_back()
        else:
            super().keyPressEvent(event)
