"""Here or out: what cutting the pieces takes in this shop, and what another one asks for it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit

from ironcage.core.answers.cut.here import HOW, WORDS, HereAnswer, WorkTime, cut_here
from ironcage.core.exchange.quoting import Quote, ask, order
from ironcage.core.job import text as lines
from ironcage.core.job.text import Done
from ironcage.core.job.values.model import Job
from ironcage.desk.asker import Question
from ironcage.desk.pages.latertabs import ListTab
from ironcage.desk.pages.page import button, column, heading, row
from ironcage.desk.session import Session
from ironcage.desk.settings import Settings
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import SmallPrint, Words
from ironcage.home import home
from ironcage.standin.quotes import QuoteService


class HereTab(ListTab):
    """The table of work on the left, the shop that is asked on the right."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.here: HereAnswer | None = None
        self.quote: Quote | None = None
        self.asked_for: Job | None = None
        self.service: QuoteService | None = None
        self.works_list = Grid("Work on the pieces", self._columns(), lambda w: w.work, session.do)
        self.works_list.say_when_empty("There is nothing to cut.")
        self.sum = Words(name="hint", wrap=True)
        self.address = QLineEdit(self._settings().shop)
        self.address.setAccessibleName("Address of the shop that is asked")
        self.address.setPlaceholderText("http://127.0.0.1:8471/")
        self.address.setMinimumWidth(260)
        self.address.setToolTip("Where a shop answers orders; it is remembered")
        self.address.editingFinished.connect(self._keep_address)
        self.answer = Words(wrap=True)
        self.switch = button(
            "Start the stand-in",
            self._switch,
            "A made-up shop on this machine that answers with a price and days (iron-cage stand-in quotes)",
        )
        left = column(
            heading("Cut here"),
            self.works_list,
            self.sum,
            row(
                button(
                    "What an hour costs…",
                    lambda: self.typing.emit("piece rate 45"),
                    "In your money (piece rate)",
                )
            ),
            SmallPrint(HOW),
        )
        left.setStretch(1, 1)
        right = column(
            heading("Send out"),
            row(QLabel("Ask at"), self.address),
            row(
                button(
                    "Ask",
                    self._ask,
                    "Send the order of pieces still to be cut: those for the laser, else all",
                ),
                self.switch,
                button("Order as a file…", lambda: self.export.emit("order-json", ""), "The order itself, as JSON"),
            ),
            self.answer,
        )
        right.addStretch(1)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(10)
        box.addLayout(left, 6)
        box.addLayout(right, 5)

    @staticmethod
    def _settings() -> Settings:
        return Settings(home())

    def _columns(self) -> tuple[Column, ...]:
        return (
            Column("work", lambda w: WORDS[w.work]),
            Column("times", lambda w: str(w.count), True),
            Column(
                "minutes each",
                lambda w: f"{w.minutes:g}",
                True,
                _minutes,
                tip="Type how long it takes in your shop (piece minutes); 0 takes it back to the usual",
            ),
            Column("hours", lambda w: f"{w.hours:.1f}", True),
            Column("whose", lambda w: "yours" if w.own else "usual"),
        )

    def question(self) -> Question:
        return cut_here

    def show_result(self, here: HereAnswer | None) -> None:
        """The work here, or nothing where there is none."""
        self.here = here
        self.works_list.show_rows(here.works if here else ())
        money = "" if here is None or here.money is None else f", {here.money:,.2f} of your money"
        out = f" {here.lasered} more for the tube laser." if here and here.lasered else ""
        told = f"{here.pieces} pieces to cut, {here.hours:.1f} hours{money}.{out}" if here else ""
        self.sum.setText(told if here and (here.pieces or here.lasered) else "")
        if self.asked_for is not self.session.job:
            self.quote = None
        self._say()

    def _say(self) -> None:
        """What the shop asked, beside what it takes here."""
        if self.quote is None:
            self.answer.setText("Nobody has been asked for this job as it is now.")
            return
        here = self.here
        beside = f" Here it takes {here.ordered_hours:.1f} hours." if here else ""
        if here and here.ordered_money is not None:
            less = here.ordered_money - self.quote.price
            beside += f" Sending it out is {abs(less):,.2f} {'cheaper' if less > 0 else 'dearer'}."
        elif here and here.ordered_hours:
            beside += f" They are even where an hour costs {self.quote.price / here.ordered_hours:,.2f}."
        model = f" How it came to that: {self.quote.model}" if self.quote.model else ""
        self.answer.setText(f"{self.quote.price:,.2f} and {self.quote.days} days.{beside}{model}")

    def _keep_address(self) -> None:
        self._settings().shop = self.address.text().strip()

    def _ask(self) -> None:
        """Ask in another thread, from the job as it is now."""
        job, address = self.session.job, self.address.text()

        def act(say: Callable[[float], None]) -> Quote:
            return ask(address, order(job))

        def done(quote: Quote) -> None:
            self.quote, self.asked_for = quote, job
            self._say()

        self.works.emit("Asking at", address or "no address", act, done)

    def _switch(self) -> None:
        """Start the stand-in, or stop it."""
        if self.service is None:
            self.service = QuoteService()
            self.service.start()
            self.address.setText(self.service.address)
            self.destroyed.connect(self.service.stop)
        else:
            self.service.stop()
            self.service = None
        self.switch.setText("Stop the stand-in" if self.service else "Start the stand-in")


def _minutes(job: Job, work: WorkTime, text: str) -> Done:
    """The minutes of a work, as they are typed."""
    return lines.understand(f"piece minutes {work.work} {text}", job, ())
