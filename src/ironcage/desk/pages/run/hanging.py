"""The button with all that both wheels of an end can be hung on."""

import re
from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QMenu, QPushButton

from ironcage.core.job.text.arms import ARM_EXAMPLE
from ironcage.core.job.text.axles import AXLE_EXAMPLE, LADDER_EXAMPLE, LEAF_EYES_EXAMPLE, TORQUE_EXAMPLE
from ironcage.core.job.text.beams import BEAM_EXAMPLE
from ironcage.core.job.text.carriers import CARRIER_EXAMPLE, PIVOT_EXAMPLE
from ironcage.core.job.text.forks import FORK_EXAMPLE
from ironcage.core.job.text.running import CORNER_EXAMPLE

WAYS = (
    ("On wishbones…", CORNER_EXAMPLE),
    ("On a live axle with four links…", AXLE_EXAMPLE),
    ("On ladder bars…", LADDER_EXAMPLE),
    ("On lower links and a torque arm…", TORQUE_EXAMPLE),
    ("On leaf springs…", LEAF_EYES_EXAMPLE),
    ("On a beam with kingpins", BEAM_EXAMPLE),
    ("On swinging arms…", ARM_EXAMPLE),
    ("A single wheel in a fork…", FORK_EXAMPLE),
    ("An axle that slides for its chain…", CARRIER_EXAMPLE),
    ("An axle that swings for its chain…", PIVOT_EXAMPLE),
)
_JOINT = re.compile(r"^J\d+[LR]?$")


class HangButton(QPushButton):
    """hangs: with the example line of the way that was picked; measures: a card to measure a donor by is wanted."""

    hangs = pyqtSignal(str)
    measures = pyqtSignal()

    def __init__(self) -> None:
        super().__init__("Hang")
        self.setToolTip("Hang both wheels of this end at the chosen joints (corner, axle)")
        self.setObjectName("menu")
        menu = QMenu(self)
        for words, example in WAYS:
            menu.addAction(words, lambda line=example: self.hangs.emit(line))
        menu.addSeparator()
        menu.addAction("Card to measure a donor by…", self.measures.emit)
        self.setMenu(menu)


def filled(example: str, axle: str, picked: Sequence[str]) -> str:
    """An example line for an end, with chosen joints in place of its own where there are as many, or all but the track
    rod's."""
    word, _, *rest = example.split()
    slots = [n for n, part in enumerate(rest) if _JOINT.match(part)]
    if "rod" in rest and len(picked) == len(slots) - 1:
        rest, slots = rest[: rest.index("rod")], slots[:-1]
    if len(picked) == len(slots):
        for n, joint in zip(slots, picked, strict=True):
            rest[n] = joint
    return " ".join([word, axle, *rest])
