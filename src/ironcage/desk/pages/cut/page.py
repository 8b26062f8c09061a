"""Cut: every piece with its lengths and both ends, and the template of the one that is chosen."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import partial

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QVBoxLayout, QWidget

from ironcage.core.answers.cut import pieces as cut
from ironcage.core.answers.cut.bars import BarsAnswer, find_bars
from ironcage.core.answers.cut.ends import EndCut
from ironcage.core.answers.cut.here import HereAnswer, cut_here
from ironcage.core.answers.cut.laser import laser_notes
from ironcage.core.answers.cut.progress import PieceProgress, progress
from ironcage.core.answers.cut.sheets import SheetPlates, find_sheets
from ironcage.core.answers.cut.surfaces import cut_rims
from ironcage.core.answers.cut.turned import TurnedAnswer, find_turned
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.exchange.piecewords import bend_words, end_words, progress_words, sawn, spots_told, tool_words
from ironcage.core.exchange.templates import SAFETY, placing, template
from ironcage.core.job import text as lines
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.text import Done
from ironcage.core.job.values.model import Job
from ironcage.desk.asker import Question
from ironcage.desk.look import Look
from ironcage.desk.pages.cut.bars import BarsTab
from ironcage.desk.pages.cut.cards import cards
from ironcage.desk.pages.cut.here import HereTab
from ironcage.desk.pages.cut.plates import PlatesTab
from ironcage.desk.pages.cut.turned import TurnedTab
from ironcage.desk.pages.latertabs import Tabs
from ironcage.desk.pages.page import Card, Page, add_plates, button, choice, column, row
from ironcage.desk.session import Session
from ironcage.desk.table.decor import CutFrame, Decor
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column, length_column, name_column
from ironcage.desk.widgets.sheetview import SheetView
from ironcage.desk.words import ScrolledWords, SmallPrint, Words
from ironcage.problem import Problem
from ironcage.units.shown import angle_minutes


@dataclass(frozen=True)
class CutShown:
    """What the page shows: the pieces, how far each is, and bars, sheets, turned parts or the work where their list is
    open."""

    pieces: cut.CutAnswer
    progress: Mapping[str, PieceProgress]
    bars: BarsAnswer | None = None
    sheets: tuple[SheetPlates, ...] | None = None
    here: HereAnswer | None = None
    turned: TurnedAnswer | None = None


class CutPage(Page):
    """The cut list and the templates; the bars that the pieces are cut from."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.far: Mapping[str, PieceProgress] = {}
        self.result: cut.CutAnswer | None = None
        self.answered: Job | None = None  # the job that the result is of
        self.shown_cut: CutFrame | None = None
        self.piece: cut.Piece | None = None
        self._menus()
        listed = QWidget()
        sides = QHBoxLayout(listed)
        sides.setContentsMargins(0, 4, 0, 0)
        sides.setSpacing(10)
        sides.addLayout(self._listing(), 7)
        sides.addLayout(self._one_end(), 4)
        self.bars, self.sheets = BarsTab(session), PlatesTab(session)
        self.turned, self.here = TurnedTab(session), HereTab(session)
        self.here.works.connect(self.works)
        self.tabs = Tabs()
        self.tabs.setAccessibleName("Lists of Cut")
        self.tabs.addTab(listed, "Pieces")
        for tab, words in (
            (self.bars, "Bars"),
            (self.sheets, "Plates"),
            (self.turned, "Turned"),
            (self.here, "Here or out"),
        ):
            tab.typing.connect(self.typing)
            tab.export.connect(self.export)
            self.tabs.addTab(tab, words)
        self.tabs.currentChanged.connect(lambda _: self.wants.emit())
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 6, 8, 6)
        box.addWidget(self.empty)
        box.addWidget(self.tabs, 1)

    def _listing(self) -> QVBoxLayout:
        """The list of pieces, and what can be done with all of them."""
        self.pieces = Grid("Pieces to cut", self._columns(), lambda p: p.id, self.session.do, needs=4)
        self.pieces.chose.connect(self._pick)
        self.bill = SmallPrint("", "Bars in all")
        self.plates = QPushButton("Plates…")
        self.plates.setToolTip("The plate of each bolt pattern that is kept in Place, and of each fitting")
        self.plating = QMenu(self.plates)
        self.plating.aboutToShow.connect(self._fill_plates)
        self.plates.setObjectName("menu")
        self.plates.setMenu(self.plating)
        files = [
            self.mark,
            button("Cut list…", lambda: self.export.emit("cut-csv", ""), "Every piece as CSV"),
            button(
                "All templates…", lambda: self.export.emit("templates-pdf", "A4"), "Wrap templates at 1:1 on A4, as PDF"
            ),
            button("Print them…", lambda: self.prints.emit("templates-pdf", "A4"), "All wrap templates, seen before"),
            self.plates,
        ]
        left = column(self.pieces, self.bill, row(*files))
        left.setStretch(0, 1)
        return left

    def _one_end(self) -> QVBoxLayout:
        """The piece in hand: which end of it is shown, its template and what to know of it."""
        self.preview = SheetView()
        self.ends, choices = choice(self, ("First end", "Second end"), self._preview)
        self.alone = QPushButton("Alone")
        self.alone.setCheckable(True)
        self.alone.setToolTip("Show nothing but this piece on the table, as it is after cutting")
        self.alone.toggled.connect(lambda _: self._preview())
        self.detail = ScrolledWords("What the shown end is")
        self.safety = Words(SAFETY, name="quiet", wrap=True)
        right = column(row(*choices, self.alone, self.one), self.preview, self.detail, self.safety)
        right.setStretch(1, 1)
        return right

    def _menus(self) -> None:
        """The paper of the piece that is shown, and the states that pieces can be marked as."""
        self.one = QPushButton("Paper")
        self.one.setToolTip("The wrap template of the end that is shown, at 1:1, and the bend card of the piece")
        self.ones = QMenu(self.one)
        self.wraps = [
            self.ones.addAction(words, lambda does=act: self._with_end(does))
            for words, act in (
                ("Print…", lambda end: self.prints.emit("template-pdf", end)),
                ("As PDF…", lambda end: self.export.emit("template-pdf", end)),
                ("As SVG…", lambda end: self.export.emit("template-svg", end)),
            )
        ]
        self.ones.addAction("Print both ends…", self._print_both)
        self.ones.addAction("Print its card…", self._print_card)
        self.ones.addAction("Print the cards of all…", lambda: self.prints.emit("cards-pdf", ""))
        self.whole = self.ones.addAction("Both ends on one paper, as PDF…", lambda: self._bent("wrap-pdf"))
        self.bending = [
            self.ones.addAction(words, lambda how=file: self._bent(how))
            for words, file in (
                ("Bend card with outline at 1:1…", "bend-pdf"),
                ("Outline of the bends, DXF…", "bend-dxf"),
                ("Sheet to bend it outside…", "outside-pdf"),
            )
        ]
        self.ones.addAction("Solid for a tube laser, STEP…", lambda: self._bent("pieces-step"))
        self.folding = self.ones.addAction("Notches at 1:1…", lambda: self._bent("fold-pdf"))
        self.ones.addAction("Labels of all pieces…", lambda: self.export.emit("labels-pdf", "A4"))
        self.one.setObjectName("menu")
        self.one.setMenu(self.ones)
        self.mark = QPushButton("Mark")
        self.mark.setToolTip(
            "Say that the chosen pieces are cut, checked or rejected (piece), or who cuts them (laser)"
        )
        self.marks = QMenu(self.mark)
        for words, state in (("Cut", "cut"), ("Open again", "open")):
            self.marks.addAction(words, lambda how=state: self._mark(how))
        self.marks.addAction("For the tube laser", lambda: self.session.press("laser"))
        self.marks.addAction("To be cut by hand", lambda: self.session.press("laser no"))
        for words, state in (("Checked, as measured…", "checked "), ("Rejected…", "rejected: ")):
            self.marks.addAction(words, lambda how=state: self._start_line(how))
        self.mark.setObjectName("menu")
        self.mark.setMenu(self.marks)

    def _columns(self) -> tuple[Column, ...]:
        """What is told of a piece."""
        length = partial(length_column, lambda: self.units)
        return (
            Column("piece", lambda p: p.id),
            length("bar", lambda p: p.bar, tip="Cut this off square: enough for a hole saw and for the paper"),
            length(
                "saddle tip",
                lambda p: p.saddle_tip,
                tip="Over the longest points as a hole saw leaves them: the outer wall, feather edges included",
            ),
            length(
                "template tip",
                lambda p: p.template_tip,
                tip="Over the longest points of a cut along the paper, square through the wall",
            ),
            name_column(lambda p: name_of(self.session.job, p.id)),
            Column(
                "state",
                self._state,
                change=_state,
                room="rejected",
                tip="Type cut, checked 804.2 with what it measures over its longest points, rejected: why, or open",
            ),
            Column("by", lambda p: "laser" if p.laser else "hand", change=_by, tip="Who cuts it: type laser or hand"),
            Column("section", lambda p: p.section.name),
            length("shoulder", lambda p: p.shoulder, tip="Between the deepest points of both cuts"),
            Column("first end", lambda p: end_words(p, p.first, self.units)),
            Column("second end", lambda p: end_words(p, p.second, self.units)),
            Column(
                "clocking",
                lambda p: "" if p.clock is None else f"{math.degrees(p.clock):.1f}°",
                True,
                tip="How far the second end's mark is turned, clockwise looking from the first end to the second",
            ),
            Column(
                "bends",
                lambda p: ", ".join(bend_words(p, self.units)),
                tip="Where each starts along the straight bar from its first end, how far it turns, and the clock "
                "of its plane",
            ),
            Column(
                "drilled and fitted",
                lambda p: spots_told(self.session.job, p, self.units),
                tip="Holes and fittings, from the square end of the bar at its first end",
            ),
            Column(
                "turn",
                lambda p: str(self.session.job.tube(p.id).sequence),
                True,
                _turn,
                tip="When it goes in: where tubes meet, each is cut to those of an earlier turn, then to larger ones",
            ),
            Column("mass", lambda p: self.units.mass(p.mass, unit=False), True, unit=self.mass_name),
            Column("role", lambda p: p.role),
        )

    def _state(self, piece: cut.Piece) -> str:
        """How far a piece is, and how far off its length."""
        far = self.far.get(piece.id)
        if far is None or far.state == "open":
            return ""
        return (
            far.state
            if far.off is None
            else f"{far.state} {'−' if far.off < 0 else '+'}{self.units.fine(abs(far.off), unit=False)}"
        )

    def _mark(self, state: str) -> None:
        """Mark the picked pieces, each by its own name: a piece may have several tubes that are chosen with it."""
        chosen = set(self.session.chosen)
        picked = [p.id for p in (self.result.pieces if self.result else ()) if chosen & set(p.tubes)]
        self.session.press(f"piece {' '.join(picked)} {state}")

    def _start_line(self, state: str) -> None:
        """Start the line for what has to be typed of the piece that is shown."""
        if self.piece:
            self.typing.emit(f"piece {self.piece.id} {state}")

    def _fill_plates(self) -> None:
        self.plating.clear()
        add_plates(self.plating, self.session.job, self.export.emit)

    def question(self) -> Question:
        here = self.tabs.currentWidget()
        asked = (
            (self.bars, _with_bars),
            (self.sheets, _with_sheets),
            (self.turned, _with_turned),
            (self.here, _with_work),
        )
        return next((question for tab, question in asked if tab is here), _pieces)

    def show_job(self, job: Job) -> None:
        self.bars.show_job(job)

    def show_look(self, look: Look) -> None:
        super().show_look(look)
        self.bars.show_look(look)
        self.sheets.show_look(look)
        self.turned.show_look(look)
        self.here.show_look(look)

    def show_answer(self, job: Job, shown: CutShown | None, problem: Problem | None) -> None:
        self.result = result = shown.pieces if shown else None
        self.answered = job
        self.far = shown.progress if shown else {}
        if shown is None or shown.bars is not None:
            self.bars.show_result(shown.bars if shown else None)
        if shown is None or shown.sheets is not None:
            self.sheets.show_result((shown.sheets or ()) if shown else ())
        if shown is None or shown.here is not None:
            self.here.show_result(shown.here if shown else None)
        if shown is None or shown.turned is not None:
            self.turned.show_result(shown.turned if shown else None)
        self.plates.setVisible(bool(job.patterns or job.fittings))
        empty = Problem("There are no tubes to cut yet.", hint="Frame is where they come from: press 4.")
        self.tell_empty(problem or (None if job.tubes else empty))
        pieces = result.pieces if result else ()
        bad = {n for n, far in self.far.items() if far.state == "rejected" or far.wrong}
        self.pieces.show_rows(pieces, frozenset(p.id for p in pieces if p.problems) | bad)
        rounding = f" · {self.units.rounding}" if self.units.rounding else ""
        totals = [
            f"{name}: {self.units.metres(length)}" for name, length in (result.by_section if result else {}).items()
        ]
        self.bill.say(
            f"{self._count(pieces)}, bars without kerf or waste · {' · '.join(totals)}{rounding}" if totals else ""
        )
        self.show_chosen(self.session.chosen)

    def _count(self, pieces: tuple[cut.Piece, ...]) -> str:
        """How many pieces there are, and how many of them are cut."""
        states = [far.state for far in self.far.values() if far.state != "open"]
        told = [f"{states.count(state)} {state}" for state in dict.fromkeys(states)]
        return f"{len(pieces)} pieces" + (f" ({', '.join(told)})" if told else "")

    def show_chosen(self, chosen: tuple[str, ...]) -> None:
        pieces = self.result.pieces if self.result else ()
        wanted = set(chosen)
        hit = [p for p in pieces if wanted & set(p.tubes)]
        self.pieces.show_chosen([p.id for p in hit])
        before = self.piece
        self.piece = hit[-1] if hit else (pieces[0] if pieces else None)
        if self.piece and (before is None or before.id != self.piece.id):
            needs_none = self.piece.first.kind == "square" and self.piece.second.kind != "square"
            self.ends.button(int(needs_none)).setChecked(True)  # open on an end that has a template
        self._preview()

    def _pick(self, keys: tuple[str, ...]) -> None:
        if self.result:
            self.session.choose(tuple(t for key in keys for t in self.result.piece(key).tubes))

    def _end(self) -> EndCut | None:
        if self.piece is None:
            return None
        return self.piece.second if self.ends.checkedId() else self.piece.first

    def _preview(self) -> None:
        self._show_cuts()
        end = self._end()
        bends = self.piece.bends if self.piece else ()
        self.whole.setVisible(not bends)
        for action in self.bending:
            action.setVisible(bool(bends and bends[0].radius))
        self.folding.setVisible(bool(bends and not bends[0].radius))
        self.one.setEnabled(self.piece is not None)
        for action in self.wraps:
            action.setEnabled(False)
        if end is None or self.piece is None:
            self.preview.show_sheet(None, "A template shows here when a piece is chosen.")
            self.detail.setText("")
            return
        notes = [*self.piece.notes_of(end), *laser_notes(self.session.job, self.piece)]
        notes += [end.problem] if end.problem else []
        turned = f" Saw turned {angle_minutes(end.saw_angle)}." if end.kind != "square" and not self.piece.laser else ""
        self.detail.setText(
            f"{self.piece.id} at {end_words(self.piece, end, self.units)}.{turned} {tool_words(self.piece, end)}"
            + ("" if end.kind == "square" else f" {placing(self.session.job, self.piece, end)}")
            + (f" {told}" if (told := sawn(self.piece, end, self.units)) else "")
            + (f" Note: {self.units.say('; '.join(notes))}." if notes else "")
            + (f" {told}" if (told := progress_words(self.far.get(self.piece.id), self.units)) else "")
        )
        try:
            self.preview.show_sheet(template(self.session.job, self.piece, end))
            for action in self.wraps:
                action.setEnabled(True)
        except Problem as problem:
            self.preview.show_sheet(None, str(problem.read_in(self.units)))

    def _show_cuts(self) -> None:
        """Draw the cut ends of the chosen piece on the table, the end in hand thicker."""
        piece, job = self.piece, self.session.job
        self.alone.setEnabled(piece is not None)
        known = piece is not None and all(name in job.tube_by_id for name in piece.tubes)
        known = known and piece is not None and bool({*piece.tubes} & {*self.session.chosen})
        if piece is None or not known or piece.problems:
            self.put_decor(Decor(cut=self._cut_frame()))
            return
        rims, shown = cut_rims(job, piece), self._cut_frame()
        places = np.vstack([rim for end in rims for rim in end]) if shown and shown.alone else None
        self.put_decor(Decor(cut=shown, paint=lambda brush: self._paint(brush, piece, rims), places=places))

    def _cut_frame(self) -> CutFrame | None:
        """The pieces that the table shows, the same object while they stay the same: all, or the one that is shown
        alone."""
        result, job, before = self.result, self.answered, self.shown_cut
        if result is None or job is None or not result.pieces:
            return None
        alone = self.alone.isChecked() and self.piece is not None
        pieces = (self.piece,) if alone and self.piece else result.pieces
        same = before is not None and before.job is job and before.alone == alone
        if not same or before is None or len(before.pieces) != len(pieces) or before.pieces[0] is not pieces[0]:
            self.shown_cut = CutFrame(job, pieces, alone)
        return self.shown_cut

    def _paint(self, brush: Brush, piece: cut.Piece, rims: tuple[tuple[Floats, Floats], ...]) -> None:
        for end, (outer, inner) in zip((piece.first, piece.second), rims, strict=True):
            brush.pen(brush.look.blue, 2.5 if end is self._end() else 1.2)
            for rim in (outer, inner):
                brush.lines(np.stack([rim[:-1], rim[1:]], axis=1))
            if end is self._end():
                brush.tag(tuple(outer[0]), f"{piece.id} at {end.joint}", brush.look.blue, offset=(12, -12))

    def _with_end(self, does: Callable[[str], object]) -> None:
        """Do something with the end whose template is shown."""
        end = self._end()
        if end and self.piece:
            does(f"{self.piece.id}:{end.joint}")

    def _print_both(self) -> None:
        """Print the templates of both ends of the piece that is shown on one page."""
        if self.piece:
            self.prints.emit("template-pdf", f"{self.piece.id}:both")

    def _print_card(self) -> None:
        """Print the card of the piece that is shown."""
        if self.piece:
            self.prints.emit("cards-pdf", self.piece.id)

    def _bent(self, file: str) -> None:
        """Write a paper of the piece that is shown."""
        if self.piece:
            self.export.emit(file, self.piece.id)

    def cards(self) -> list[Card]:
        return cards(self.session.job, self.result.pieces, self.far, self.units) if self.result else []

    def first_card(self) -> int:
        return self.result.pieces.index(self.piece) if self.result and self.piece in self.result.pieces else 0


def _pieces(job: Job) -> CutShown:
    return CutShown(cut.answer(job), progress(job))


def _with_bars(job: Job) -> CutShown:
    return CutShown(cut.answer(job), progress(job), find_bars(job))


def _with_turned(job: Job) -> CutShown:
    return CutShown(cut.answer(job), progress(job), turned=find_turned(job))


def _with_sheets(job: Job) -> CutShown:
    return CutShown(cut.answer(job), progress(job), sheets=find_sheets(job))


def _with_work(job: Job) -> CutShown:
    return CutShown(cut.answer(job), progress(job), here=cut_here(job))


def _turn(job: Job, piece: cut.Piece, text: str) -> Done:
    """The turn of all tubes of a piece, as it is typed."""
    return lines.understand(f"sequence {text}", job, piece.tubes)


def _state(job: Job, piece: cut.Piece, text: str) -> Done:
    """The state of a piece, as it is typed."""
    return lines.understand(f"piece {piece.id} {text.strip() or 'open'}", job, piece.tubes)


def _by(job: Job, piece: cut.Piece, text: str) -> Done:
    """Who cuts a piece, as it is typed."""
    if (by := text.strip().lower()) not in ("hand", "laser"):
        raise Problem(f"A piece is cut by hand or by laser, not by ‘{text.strip()}’.", where=piece.id)
    return lines.understand("laser" if by == "laser" else "laser no", job, piece.tubes)
