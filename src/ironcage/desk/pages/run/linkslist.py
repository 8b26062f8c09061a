"""The links of an end: how long they are made, how far they can be set, how far their ends tilt."""

import math
from collections.abc import Callable, Sequence
from functools import partial
from typing import get_args

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QMenu, QPushButton, QVBoxLayout, QWidget

from ironcage.core.answers.prove import LINKS_ASSUMED, LinkLoad
from ironcage.core.answers.run.armframe import Arm
from ironcage.core.answers.run.links import EndLinks, LinkMade, Tilt
from ironcage.desk.pages.page import button, row
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import Words


class LinksList(QWidget):
    """A row for each link of the left side. Signals: export(kind, word) asks for a file, prints(kind, word) for it on
    paper. type_eyes: starts the line for what is known of the rod ends."""

    export = pyqtSignal(str, str)
    prints = pyqtSignal(str, str)

    def __init__(self, session: Session, type_eyes: Callable[[], None]) -> None:
        super().__init__()
        self.session = session
        self.axle = ""
        self.loads: dict[str, LinkLoad] = {}
        self.list = Grid("Links of the left side", self._columns(), lambda link: link.name, wraps=0, needs=3)
        self.list.say_when_empty("This end hangs on no links.")
        self.said = Words(name="hint", wrap=True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.list, 1)
        box.addWidget(self.said)
        box.addLayout(
            row(
                button("Rod ends…", type_eyes, "What is known of the rod ends: thread, shank, head … (eye)"),
                button(
                    "Set-up…",
                    lambda: self.prints.emit("setup-pdf", ""),
                    "Both ends at ride height, with room for what was measured",
                ),
                self._files(),
            )
        )

    def _files(self) -> QPushButton:
        """The button with what is written of the links."""
        made = QPushButton("Files")
        made.setToolTip("The links as a list; each arm of a wishbone as a frame of its own")
        menu = QMenu(made)
        menu.addAction("List of the links, CSV…", lambda: self.export.emit("links-csv", ""))
        self.arms = [
            menu.addAction(f"The {arm} arm as its own job…", partial(self._write_arm, arm)) for arm in get_args(Arm)
        ]
        made.setObjectName("menu")
        made.setMenu(menu)
        return made

    def _write_arm(self, arm: str) -> None:
        """Write an arm, left and right, to be cut and jigged."""
        self.export.emit("arm-cage", f"{self.axle} {arm}")

    def _columns(self) -> tuple[Column, ...]:
        return (
            Column("link", lambda link: link.name),
            Column("used", self._used, True, tip=f"How much of its tube Prove’s worst case takes. {LINKS_ASSUMED}"),
            Column("length", lambda link: self._length(link.length), True, tip="Between the middles of both ends"),
            Column("tilts", self._tilts, True, tip="How far its inner and its outer end tilt at most"),
            Column("tube", lambda link: self._length(link.tube), True, tip="To cut, between both inserts"),
            Column(
                "can be set",
                lambda link: f"{self._length(link.shortest)} to {self._length(link.longest)}" if link.tube else "–",
                True,
                tip="Between the jam nuts and 1.5 diameters of thread engaged",
            ),
        )

    def _length(self, value: float | None) -> str:
        return "–" if value is None else self.session.units.length(value, unit=False)

    def _used(self, link: LinkMade) -> str:
        of = self.loads.get(link.name)
        return "–" if of is None else f"{of.used:.0%}"

    def _tilts(self, link: LinkMade) -> str:
        return " / ".join(f"{math.degrees(t.most):.1f}°" for t in link.tilts)

    def show_links(self, end: EndLinks | None, loads: Sequence[LinkLoad]) -> None:
        """The links of an end; nothing where none are worked out."""
        links = end.links if end else ()
        self.axle = end.axle if end else ""
        for action in self.arms:
            action.setEnabled(any(link.name.endswith("leg") for link in links))
        self.loads = {of.link: of for of in loads}
        weak = {of.link for of in loads if of.used > 1}
        self.list.show_rows(links, frozenset(link.name for link in links if link.past or link.name in weak))
        self.said.setText(self._words(links))

    def _words(self, links: Sequence[LinkMade]) -> str:
        """The end that tilts furthest past what it can, and how many more do; or what to type."""
        past = sorted(
            ((link, t) for link in links for t in link.tilts if t.past), key=lambda p: (p[1].limit or 0.0) - p[1].most
        )
        weak = max(self.loads.values(), key=lambda of: of.used, default=None)
        if weak and weak.used > 1:
            return self._weak(weak)
        if past:
            return self._past(*past[0]) + (f" {len(past) - 1} more." if len(past) > 1 else "")
        known = any(t.limit is not None for link in links for t in link.tilts)
        worst = f"{self._weak(weak)} " if weak else ""
        unknown = "" if known or not links else "Type what your rod ends are, and tubes and limits are told."
        return f"{worst}{unknown}".strip()

    def _weak(self, of: LinkLoad) -> str:
        """What a link's worst case does to it."""
        pushed = of.push > of.pull
        force, case = (of.push, of.push_case) if pushed else (of.pull, of.pull_case)
        does = "pushed" if pushed else "pulled"
        return f"{of.link}: {does} with {self.session.units.force(force)} ({case}), {of.used:.0%} of its {of.section}."

    def _past(self, link: LinkMade, tilt: Tilt) -> str:
        units, limit = self.session.units, math.degrees(tilt.limit or 0.0)
        if tilt.spacer is None or math.isnan(tilt.spacer):
            cure = ""
        else:
            cure = f": a spacer of {units.fine(tilt.spacer)} on either side lets it"
        return f"{link.name}, {tilt.end}: tilts {math.degrees(tilt.most):.1f}°, can {limit:.1f}°{cure}."
