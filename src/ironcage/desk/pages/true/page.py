"""True: readings of the built frame, where its joints stand by them, and what is suspect."""

import math
from dataclasses import dataclass

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from ironcage.core.answers.true import measured
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.text import Done, understand
from ironcage.core.job.text.truing import HEIGHT_EXAMPLE, SLOPE_EXAMPLE, TAPE_EXAMPLE
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.truing import AnyMeasured, joints_of
from ironcage.desk.asker import Question
from ironcage.desk.pages.page import Card, Page, button, column, heading, row
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column, name_column
from ironcage.desk.words import SmallPrint, Words
from ironcage.problem import Problem

WORDS = {"tape": "tape", "height": "height over the table", "level": "level"}
CAUTION = (
    "Chain or strap a frame before it is pulled, and stand out of the line of the pull. Never bend a roll structure "
    "back: ask your sanctioning body."
)
ARROW_SHARE = 0.08  # the largest move is drawn as this share of the frame's length
MOST_TAGS = 12


@dataclass(frozen=True)
class MeasureSetting:
    """How the frame is measured: the words of `true WORDS VALUE`, and the value as it is typed."""

    words: str
    shown: str


def _settings(job: Job, page: "TruePage") -> tuple[MeasureSetting, ...]:
    t, units = job.truing, page.units
    return (
        MeasureSetting("within", units.fine(t.within)),
        MeasureSetting("tape error", units.fine(t.tape_error)),
        MeasureSetting("tape fine", units.fine(t.tape_fine)),
        MeasureSetting("height fine", units.fine(t.height_fine)),
        MeasureSetting("level fine", f"{math.degrees(t.level_fine):.3f}°"),
    )


SETTINGS = {
    "within": "joint may be off",
    "tape error": "tape reads too much",
    "tape fine": "tape read to",
    "height fine": "heights read to",
    "level fine": "level read to",
}


class TruePage(Page):
    """Readings, joints, and how it is measured."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.result: measured.TrueAnswer | None = None
        self.readings = Grid("Readings", self._reading_columns(), lambda r: r.reading.id, session.do)
        self.joints = Grid("Where the joints stand", self._joint_columns(), lambda j: j.joint, needs=2)
        self.settings = Grid(
            "How it is measured",
            (
                Column(
                    "measured",
                    lambda s: SETTINGS[s.words],
                    tip="A tape reads too much by a worn hook or a burned end. Two readings in three come closer than "
                    "what they are ‘read to’.",
                ),
                Column(
                    "value", lambda s: s.shown, True, lambda job, s, text: understand(f"true {s.words} {text}", job)
                ),
            ),
            lambda s: s.words,
            session.do,
            wraps=0,
        )
        self.readings.chose.connect(self._pick)
        self.joints.chose.connect(session.choose)
        self.told = Words(name="hint", wrap=True)
        self.datum = Words(name="quiet", wrap=True)
        start = self.typing.emit
        tools = row(
            button("Tape…", lambda: start(self._line("tape", 2, TAPE_EXAMPLE)), "A distance between two joints (tape)"),
            button(
                "Height…",
                lambda: start(self._line("height", 1, HEIGHT_EXAMPLE)),
                "A joint's height over the table (height)",
            ),
            button(
                "Level…", lambda: start(self._line("slope", 2, SLOPE_EXAMPLE)), "The slope between two joints (slope)"
            ),
            button("Take out", self._take_out, "Take the picked readings out (true M3 gone)"),
        )
        left = column(heading("Readings"), tools, self.empty, self.readings)
        left.setStretch(3, 1)
        middle = column(heading("Where the joints stand, the furthest off first"), self.told, self.joints)
        middle.setStretch(2, 1)
        right = column(
            heading("How it is measured"),
            self.settings,
            self.datum,
            row(
                button(
                    "Chosen as datum",
                    lambda: session.press("true datum chosen"),
                    "Lay the readings on the three chosen joints",
                ),
                button("Best fit", lambda: session.press("true best fit"), "Lay the readings on the whole drawing"),
            ),
            SmallPrint(f"{CAUTION} {' '.join(measured.ASSUMED)}"),
        )
        right.setStretch(1, 2)
        right.setStretch(4, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 6, 8, 6)
        lists = QHBoxLayout()
        lists.setSpacing(10)
        for part, share in ((left, 11), (middle, 12), (right, 7)):
            lists.addLayout(part, share)
        box.addLayout(lists, 1)

    def _reading_columns(self) -> tuple[Column, ...]:
        """What is told of a reading."""
        return (
            Column("no.", lambda r: r.reading.id),
            Column("of", lambda r: _of(r.reading), room="J12L–J21R"),
            Column(
                "read",
                lambda r: measured.reading_shown(r.reading, self.units),
                True,
                _correct,
                tip="Type it again to correct it",
            ),
            Column(
                "off",
                lambda r: measured.error_shown(r, self.units),
                True,
                tip="By how much it disagrees with the others: its error, if it alone is wrong",
            ),
            Column("state", self._state),
        )

    def _joint_columns(self) -> tuple[Column, ...]:
        """What is told of a joint."""
        return (
            Column("joint", lambda j: j.joint),
            Column(
                "off",
                lambda j: f"{self.units.fine(j.off)} ± {self.units.fine(j.give_or_take, unit=False)}",
                True,
                tip="Give or take two standard deviations, in the direction that is known least well",
            ),
            name_column(lambda j: name_of(self.session.job, j.joint)),
            Column("stands", lambda j: self.units.say(j.words), tip="From where it is drawn"),
        )

    def _state(self, r: measured.ReadingJudged) -> str:
        if self.result is None:
            return ""
        if r.gone:
            return f"✗ {r.gone} has gone"
        if r.suspect:
            return "✗ suspect: read again"
        return "" if r.checked else "nothing checks it"

    def question(self) -> Question:
        return measured.answer

    def show_job(self, job: Job) -> None:
        self.settings.show_rows(_settings(job, self))
        names = job.truing.datum
        self.datum.setText(f"Laid on {', '.join(names)}." if names else "Laid on the drawing as it fits best.")

    def show_answer(self, job: Job, result: measured.TrueAnswer | None, problem: Problem | None) -> None:
        self.result = result
        self.tell_empty(problem)
        readings = result.readings if result else measured.unjudged(job)
        self.readings.show_rows(readings, frozenset(r.reading.id for r in readings if r.suspect or r.gone))
        joints = result.joints if result else ()
        self.joints.show_rows(joints, frozenset(j.joint for j in joints if j.too_far))
        self.told.setText(self._told(result) if result else "")
        self.put_decor(Decor(paint=lambda brush: self._paint(brush, job)))

    def _told(self, result: measured.TrueAnswer) -> str:
        if result.suspect:
            r = result.suspect
            return (
                f"{r.reading.id} ({WORDS[r.reading.kind]}, {' to '.join(joints_of(r.reading))}) is most likely wrong, "
                f"by {measured.error_shown(r, self.units)}. Read it again before anything is bent."
            )
        off = sum(j.too_far for j in result.joints)
        within = self.units.fine(self.session.job.truing.within)
        spare = (
            f"{result.spare} readings to spare" if result.spare > 0 else "No reading to spare: an error would not show"
        )
        stand = "joint stands" if off == 1 else "joints stand"
        return f"{off or 'No'} {stand} further off than {within}. {spare}.{_apart(result)}"

    def _line(self, word: str, count: int, example: str) -> str:
        """A line to finish, with the chosen joints already in it; an example where none fit."""
        chosen = [c for c in self.session.chosen if c in self.session.job.joint_by_id]
        return f"{word} {' '.join(chosen)} " if len(chosen) == count else example

    def _pick(self, keys: tuple[str, ...]) -> None:
        rows = {r.reading.id: r for r in self.readings.model.rows}
        self.session.choose(tuple(n for key in keys if key in rows for n in joints_of(rows[key].reading)))

    def _take_out(self) -> None:
        picked = self.readings.picked
        if picked is None:
            self.session.told.emit("Pick a reading in the list first.", True)
            return
        self.session.press(f"true {picked.reading.id} gone")

    def _paint(self, brush: Brush, job: Job) -> None:
        """From where each joint is drawn an arrow to where it stands, the largest so long that it is seen."""
        joints = [j for j in (self.result.joints if self.result else ()) if j.joint in job.joint_by_id]
        moves = {j.joint: np.where(j.told, j.moved, 0.0) for j in joints}
        largest = max((float(np.linalg.norm(m)) for m in moves.values()), default=0.0)
        if largest < measured.LEAST_SAID_MM:
            return
        reach = float(np.ptp([j.place for j in job.joints], axis=0).max())
        scale = ARROW_SHARE * reach / largest
        for n, j in enumerate(joints):
            at, move = np.array(job.joint_by_id[j.joint].place), moves[j.joint]
            colour = brush.look.oxide if j.too_far else brush.look.blue
            brush.pen(colour, 3)
            brush.line(tuple(at), tuple(at + scale * move))
            if n < MOST_TAGS and (j.too_far or n == 0):
                brush.tag(tuple(at + scale * move), f"{j.joint}  {self.units.fine(j.off)}", colour, offset=(8, 14))
        chosen = [c for c in self.session.chosen if c in job.joint_by_id]
        if len(chosen) == 2:
            a, b = (job.joint_by_id[c].place for c in chosen)
            brush.pen(brush.look.blue, 1)
            brush.line(a, b)

    def show_chosen(self, chosen: tuple[str, ...]) -> None:
        self.joints.show_chosen(chosen)
        self.decorated.emit()

    def cards(self) -> list[Card]:
        told = self.result
        if told is None:
            return []
        made = [
            Card(
                f"{j.joint}, {name_of(self.session.job, j.joint)}, is off by",
                self.units.fine(j.off),
                (self.units.say(j.words), CAUTION),
            )
            for j in told.joints
            if j.too_far
        ]
        return [Card("True", f"{sum(j.too_far for j in told.joints)} out of place", (self._told(told),)), *made]


def _apart(result: measured.TrueAnswer) -> str:
    """Joints whose readings are of nothing but each other."""
    groups = [", ".join(joints) for joints in result.apart if len(joints) > 1]
    return f" No tape ties {'; '.join(groups)} to the rest." if groups else ""


def _correct(job: Job, r: measured.ReadingJudged, text: str) -> Done:
    return understand(f"true {r.reading.id} {text}", job)


def _of(reading: AnyMeasured) -> str:
    """The joints of a reading, and what it is by where it is no tape."""
    word = "" if reading.kind == "tape" else f" {reading.kind}"
    return f"{'–'.join(joints_of(reading))}{word}"
