"""What would clear the clash that is picked, to be done by a press."""

from PyQt6.QtWidgets import QWidget

from ironcage.core.answers.place.mends import Mend, Mended
from ironcage.core.answers.shared.names import name_of
from ironcage.core.job.geometry.names import spoken
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.pages.page import button, column, heading
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import AWAITED, Words

PICK = "Pick a clash: the least moves that clear it with all else still clear are looked for."


class MendList(QWidget):
    """The mends of a clash as a short list and a button that does the one that is picked."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.list = Grid("What clears it", (Column("what clears it", self._says),), lambda m: m.line + m.words, wraps=0)
        self.list.list.activated.connect(lambda _: self._do())
        self.list.setMinimumHeight(90)
        self.told = Words(PICK, name="quiet", wrap=True)
        self.do_it = button("Do it", self._do, "Do what is picked in the list; undo takes it back")
        self.list.chose.connect(lambda _: self._enable())
        box = column(heading("Mends"), self.told, self.list, self.do_it)
        box.setContentsMargins(0, 0, 0, 0)
        self.setLayout(box)
        self.show_mended(session.job, None)

    def _says(self, mend: Mend) -> str:
        job = self.session.job
        return spoken(job, units_of(job).say(mend.words))

    def await_answer(self, *, asked: bool) -> None:
        """Say that mends are being looked for, or how to ask for them."""
        self.told.setText(f"Mends are being looked for{AWAITED}" if asked else PICK)
        self.told.show()

    def show_mended(self, job: Job, mended: Mended | None) -> None:
        """Show what was found for the clash that is picked."""
        mends = mended.mends if mended else ()
        self.list.show_rows(mends)
        self.list.setVisible(bool(mends))
        self.do_it.setVisible(bool(mends))
        if mended and not mends:
            stuck = ", ".join(name_of(job, name) for name in mended.stuck[:4])
            with_what = f" It is stuck with {spoken(job, stuck)}." if stuck else ""
            self.told.setText(f"No single move of a part, a tube or a joint clears this.{with_what}")
        elif not mended:
            self.told.setText(PICK)
        self.told.setVisible(not mends)
        if mends:
            self.list.pick(mends[0])
        self._enable()

    def _enable(self) -> None:
        self.do_it.setEnabled(self.list.picked is not None)

    def _do(self) -> None:
        mend = self.list.picked
        if mend is not None:
            self.session.press(mend.line, mend.chosen)
