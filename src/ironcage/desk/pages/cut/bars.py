"""Bars: what to buy for the pieces, and each bar with its pieces in the order in which they are cut."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QWidget

from ironcage.core.answers.cut.bars import HOW, BarsAnswer, SectionBars, find_bars, piece_named, rests
from ironcage.core.calc.nest.bars import Bar
from ironcage.core.job import edits
from ironcage.core.job.store.rack import Rest, read_rack, without, write_rack
from ironcage.core.job.text import Done
from ironcage.core.job.values.model import Job
from ironcage.desk.asker import Question
from ironcage.desk.look import Look
from ironcage.desk.pages.cut.barview import BarView
from ironcage.desk.pages.latertabs import ListTab
from ironcage.desk.pages.page import button, column, heading, row
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column, length_column
from ironcage.desk.words import SmallPrint, Words
from ironcage.problem import Problem

TAKE_AWAY = "Take the picked offcut off the rack (offcut K1 gone)"


@dataclass(frozen=True)
class BarRow:
    """A bar of a section: its number there, and the pieces that are cut from it, by id."""

    of: SectionBars
    number: int
    bar: Bar

    @property
    def pieces(self) -> tuple[str, ...]:
        """The pieces, or their lengths, in the order in which they are cut."""
        return tuple(self.of.pieces[n] for n in self.bar.parts)


class BarsTab(ListTab):
    """What to buy on the left, every bar in the middle, the bars drawn to scale on the right."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.result: BarsAnswer | None = None
        self.buy = Grid("What to buy", self._buy_columns(), lambda s: f"{s.section} {s.material}", needs=3)
        self.bars = Grid(
            "Bars to cut", self._bar_columns(), lambda r: f"{r.of.section} {r.of.material} {r.number}", needs=3
        )
        self.offcuts = Grid("Offcuts on the rack", self._offcut_columns(), lambda o: o.id)
        self.view = BarView()
        self.bars.chose.connect(self._pick)
        self.buy.chose.connect(lambda keys: self._show_bars(keys[-1] if keys else ""))
        self.sum = Words(name="hint", wrap=True)
        self.shop = QPushButton("Shop")
        self.shop.setToolTip("The shop's rack of offcuts, kept between jobs")
        self.shops = QMenu(self.shop)
        self.shops.addAction("Use the shop's rack", self._from_shop)
        self.shops.addAction("All is cut: put the rests on the shop's rack", self._to_shop)
        self.shop.setObjectName("menu")
        self.shop.setMenu(self.shops)
        start = self.typing.emit
        from ironcage.core.job.text.buying import BARS_EXAMPLE, OFFCUT_EXAMPLE, SAW_EXAMPLE

        left = column(
            heading("What to buy"),
            self.buy,
            self.sum,
            row(
                button("On sale…", lambda: start(BARS_EXAMPLE), "In which lengths bars can be bought (bars)"),
                button("Saw…", lambda: start(SAW_EXAMPLE), "Kerf, what the grip takes, the shortest rest kept (saw)"),
                button(
                    "Offcut…", lambda: start(OFFCUT_EXAMPLE), "Put an offcut on the rack, to be used first (offcut)"
                ),
                button("List", lambda: self.export.emit("bars-csv", ""), "Every bar as CSV"),
            ),
        )
        left.setStretch(1, 1)
        self.rack = QWidget()  # shown while there are offcuts
        rack = column(
            row(heading("Offcuts on the rack"), button("Take away", self._take_away, TAKE_AWAY)), self.offcuts
        )
        self.rack.setLayout(rack)
        middle = column(row(heading("Bars to cut"), self.shop), self.bars, self.rack, SmallPrint(HOW))
        middle.setStretch(1, 3)
        middle.setStretch(2, 2)
        right = column(self.view)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(10)
        for part, share in ((left, 10), (middle, 10), (right, 7)):
            box.addLayout(part, share)

    def _buy_columns(self) -> tuple[Column, ...]:
        return (
            Column("section", lambda s: s.section),
            Column("buy", self._bought, room="12 × 6000.0", whole=True),
            Column("used", self._used, True, tip="What becomes pieces, of what is bought and taken off the rack"),
            Column(
                "least", self._least, True, tip="The least that any way of cutting has to buy", unit=self.length_name
            ),
            Column("mass", lambda s: self.units.mass(s.kg, unit=False) if s.layout else "", True, unit=self.mass_name),
            Column(
                "money",
                lambda s: "" if s.money is None else f"{s.money:.2f}",
                True,
                tip="At the shelf's price a metre; ‘price’ sets one",
            ),
            Column("pieces", lambda s: str(len(s.pieces)), True),
            Column("material", lambda s: s.material),
            Column("why not", lambda s: self.units.say(s.problem)),
        )

    def _bought(self, of: SectionBars) -> str:
        if of.layout is None:
            return "✗"
        counts: dict[float, int] = {}
        for bar in of.layout.bars:
            if bar.bought:
                counts[bar.length] = counts.get(bar.length, 0) + 1
        told = [f"{count} × {self.units.length(length, unit=False)}" for length, count in sorted(counts.items())]
        return ", ".join(told) or "nothing"

    def _used(self, of: SectionBars) -> str:
        if of.layout is None:
            return ""
        whole = sum(bar.length for bar in of.layout.bars)
        return f"{sum(of.lengths) / whole:.0%}" if whole else ""

    def _least(self, of: SectionBars) -> str:
        return self.units.length(of.layout.bound, unit=False) if of.layout else ""

    def _bar_columns(self) -> tuple[Column, ...]:
        def units() -> Any:
            return self.units

        return (
            Column("section", lambda r: r.of.section, letters=7),
            length_column(units, "bar", lambda r: r.bar.length),
            Column("pieces, in order", lambda r: ", ".join(r.pieces), letters=8),
            length_column(units, "rest", lambda r: r.bar.rest, tip="What is left of it; kept when it is long enough"),
            Column("from", lambda r: "buy" if r.bar.bought else "rack"),
            Column("no.", lambda r: str(r.number), True),
        )

    def _offcut_columns(self) -> tuple[Column, ...]:
        return (
            Column("offcut", lambda o: o.id),
            length_column(lambda: self.units, "length", lambda o: o.length),
            Column("section", lambda o: o.section),
        )

    def question(self) -> Question:
        return find_bars

    def show_job(self, job: Job) -> None:
        self.offcuts.show_rows(job.buying.offcuts)
        self.rack.setVisible(bool(job.buying.offcuts))

    def show_result(self, result: BarsAnswer | None) -> None:
        """The bars, or nothing where there are none."""
        self.result = result
        sections = result.sections if result else ()
        self.buy.show_rows(sections, frozenset(f"{s.section} {s.material}" for s in sections if s.problem))
        rows = [BarRow(s, n, bar) for s in sections if s.layout for n, bar in enumerate(s.layout.bars, 1)]
        self.bars.show_rows(rows)
        self.sum.setText(self._words(sections))
        picked = self.buy.picked
        self._show_bars(f"{picked.section} {picked.material}" if picked else "")

    def _words(self, sections: tuple[SectionBars, ...]) -> str:
        laid = [s for s in sections if s.layout]
        done = self.result.done if self.result else 0
        left_out = f" {done} cut already and left out." if done else ""
        if not laid:
            return left_out.strip()
        count = sum(bar.bought for s in laid for bar in s.layout.bars)
        proven = sum(s.layout.proven for s in laid)
        money = "" if self.result is None or self.result.money is None else f", {self.result.money:.2f} of your money"
        what = (
            "none could be fewer" if proven == len(laid) else f"proven the least for {proven} of {len(laid)} sections"
        )
        return f"{count} bars to buy, {self.units.mass(sum(s.kg for s in laid))}{money}; {what}.{left_out}"

    def _show_bars(self, key: str) -> None:
        """Draw the bars of a section, or of all where none is picked."""
        sections = self.result.sections if self.result else ()
        picked = [s for s in sections if f"{s.section} {s.material}" == key]
        self.view.show_bars(picked or sections, self.units, self.session.job.buying)

    def _pick(self, keys: tuple[str, ...]) -> None:
        rows = {self.bars.key(r): r for r in self.bars.model.rows}
        picked = [rows[key] for key in keys if key in rows]
        if picked:
            self._show_bars(f"{picked[-1].of.section} {picked[-1].of.material}")
            self.session.choose(tuple(piece_named(name) for r in picked for name in r.pieces))

    def _from_shop(self) -> None:
        """Put the shop's offcuts on the job's rack; the shop's stays as it is until the rests come back."""
        self._with_rack(self._take)

    def _to_shop(self) -> None:
        """Put what is left of all bars on the shop's rack, in place of what was used of it."""
        self._with_rack(self._keep)

    def _with_rack(self, does: Callable[[tuple[Rest, ...]], None]) -> None:
        try:
            does(read_rack())
        except Problem as problem:
            self.session.told.emit(str(problem.read_in(self.units)), True)

    def _take(self, rack: tuple[Rest, ...]) -> None:
        job = self.session.job
        made = edits.take_offcuts(job, [(r.section, r.length) for r in rack])
        taken = len(made.buying.offcuts) - len(job.buying.offcuts)
        if not taken:
            raise Problem(
                f"The shop's rack has {len(rack)} offcuts, and none that this frame lacks.",
                hint="‘All is cut’ puts rests on it.",
            )
        self.session.do(lambda _: Done(f"Use {taken} offcuts of the shop's rack", made, self.session.chosen))

    def _keep(self, rack: tuple[Rest, ...]) -> None:
        left, used = rests(self.session.job)
        kept = write_rack([*without(rack, [Rest(*r) for r in used]), *(Rest(*r) for r in left)])
        if self.session.job.buying.offcuts:
            chosen, name = self.session.chosen, "Put the rests on the shop's rack"
            self.session.do(lambda job: Done(name, edits.set_buying(job, offcuts=()), chosen))
        told = f"{len(left)} rests are on the shop's rack now, which has {len(kept)} offcuts."
        self.session.told.emit(f"{told} Undo does not take them off.", False)

    def _take_away(self) -> None:
        picked = self.offcuts.picked
        if picked is not None:
            self.session.press(f"offcut {picked.id} gone")
        else:
            self.session.told.emit("Pick an offcut of the list first.", True)

    def show_look(self, look: Look) -> None:
        super().show_look(look)
        self.view.show_look(look)
