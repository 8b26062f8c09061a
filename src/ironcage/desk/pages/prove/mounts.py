"""Mounts: what each part brings into the joints at its holes in every case, and what turns it when the car pulls."""

from dataclasses import dataclass

import numpy as np
from PyQt6.QtWidgets import QVBoxLayout

from ironcage.core.answers.prove import mounts
from ironcage.core.answers.prove.mounts import MountLoad, PartLoad
from ironcage.core.job.values.model import Job
from ironcage.desk.asker import Question
from ironcage.desk.pages.page import Card, column
from ironcage.desk.pages.prove.tab import ProveTab, arrow
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import SmallPrint, Words
from ironcage.units import Units, said

NONE_YET = said.example(
    "No part is tied to the frame by two holes or more. Give one its mount holes (hole left foot at [0], [200], [-200] "
    "dia [10]), put joints there (joint at B1 left foot) and join them to the frame."
)


@dataclass(frozen=True)
class MountRow:
    """A mount in a case, as it is listed."""

    of: PartLoad
    mount: MountLoad

    @property
    def size(self) -> float:
        """What it carries, N."""
        return float(np.linalg.norm(self.mount.force))


class MountsTab(ProveTab):
    """One list of all mounts in all cases, the hardest first, and each part in a line above it."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.said, self.how = Words(name="hint", wrap=True), SmallPrint(mounts.LIMITS)
        self.list = Grid(
            "Mounts",
            (
                Column("case", lambda r: r.of.case, room="bump front right"),
                Column("part", lambda r: r.of.name),
                Column("mount", lambda r: r.mount.hole),
                Column("joint", lambda r: r.mount.joint),
                Column("carries", lambda r: self.units.in_force(r.size), True, unit=lambda: self.units.force_name),
                Column(
                    lambda: f"on the frame, {self.units.force_name}  x  y  z",
                    lambda r: "  ".join(self.units.in_force(float(v)) for v in r.mount.force),
                    True,
                ),
            ),
            lambda r: f"{r.of.part} {r.of.case} {r.mount.joint}",
            needs=5,
        )
        self.list.chose.connect(lambda _: self.decorated.emit())
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.addLayout(column(self.said, self.empty))
        box.addWidget(self.list, 1)
        box.addWidget(self.how)

    def question(self) -> Question:
        return _told

    def in_a_word(self) -> str:
        rows = self._rows
        return self.units.force(rows[0].size) if rows else ""

    @property
    def _rows(self) -> tuple[MountRow, ...]:
        told: tuple[PartLoad, ...] = self.result or ()
        rows = [MountRow(part, mount) for part in told for mount in part.mounts]
        return tuple(sorted(rows, key=lambda r: -r.size))

    def show_result(self) -> None:
        rows = self._rows
        self.said.setText("\n".join(_lines(self.result or (), self.units)))
        if self.result is not None and not rows:
            self.said.setText(self.units.say(NONE_YET))
        self.list.setVisible(bool(rows))
        self.list.show_rows(rows)
        if rows and self.list.picked is None:
            self.list.pick(rows[0])

    def decor(self) -> Decor:
        picked: MountRow | None = self.list.picked
        return Decor(paint=lambda brush: self._paint(brush, picked)) if picked else Decor()

    def _paint(self, brush: Brush, row: MountRow) -> None:
        """The forces of all mounts of the picked part in the picked case."""
        most = max(float(np.linalg.norm(m.force)) for m in row.of.mounts) or 1.0
        for m in row.of.mounts:
            at, size = np.array(self.job.joint_by_id[m.joint].place), float(np.linalg.norm(m.force))
            arrow(brush, at, m.force, brush.look.blue, 18 + 40 * size / most)
            brush.tag(tuple(at), f"{m.hole} {self.units.force(size)}", brush.look.blue, offset=(10, 14))

    def cards(self) -> list[Card]:
        rows = self._rows
        if not rows:
            return []
        lines = (f"{rows[0].of.name}, {rows[0].mount.hole}", f"in {rows[0].of.case}")
        return [Card("Mount that carries most", self.units.force(rows[0].size), lines)]


def _told(job: Job) -> tuple[PartLoad, ...]:
    return mounts.mount_loads(job)


def _lines(told: tuple[PartLoad, ...], units: Units) -> list[str]:
    """Each part in a line: its hardest mount, and what chains or shafts turn it with at most."""
    made = []
    for part in dict.fromkeys(p.part for p in told):
        loads = [p for p in told if p.part == part]
        hard = max(loads, key=lambda p: float(np.linalg.norm(p.worst.force)))
        line = (
            f"{hard.name}: {units.force(float(np.linalg.norm(hard.worst.force)))} at most, at {hard.worst.hole} in "
            f"{hard.case}."
        )
        turned = max(loads, key=lambda p: float(np.linalg.norm(p.drive)))
        if (torque := float(np.linalg.norm(turned.drive)) / 1000) > 1e-6:
            line += f" In {turned.case} it is turned with {units.torque(torque)}."
        made.append(line)
    return made
