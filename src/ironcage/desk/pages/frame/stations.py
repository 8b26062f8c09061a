"""A station across the frame: widths inside and outside where rails splay, and what a cut there leaves of a donor."""

import math

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QVBoxLayout

from ironcage.core.answers.frame import stations
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.pages.frame.tab import FrameShown, FrameTab
from ironcage.desk.pages.page import button, choice, heading, row
from ironcage.desk.session import Session
from ironcage.desk.table import sheets
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import Words
from ironcage.problem import Problem
from ironcage.units.shown import angle


class StationsTab(FrameTab):
    """A plane across the car by its x, and what it passes through."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.station_x = 0.0
        self.at = QLineEdit()
        self.at.setAccessibleName("Station, x")
        self.at.setMaximumWidth(120)
        self.at.setToolTip("Where the plane across the car stands, x from the shown datum")
        self.at.returnPressed.connect(self._typed)
        self.keep, keeps = choice(self, ("Keep ahead", "Keep behind"), self.show_station)
        self.cut = button(
            "Cut it", self._cut, "Cut the donor's tubes at this plane and take away the other side (sever)"
        )
        self.widths = Grid("Widths at the station", self._width_columns(), lambda w: w.left)
        self.stubs = Grid("What the cut leaves", self._stub_columns(), lambda s: s.tube)
        for grid in (self.widths, self.stubs):
            grid.chose.connect(session.choose)
        self.refusal = Words(name="refused", wrap=True)
        self.refusal.hide()
        self.hint = Words(name="quiet", wrap=True)
        left, right = QVBoxLayout(), QVBoxLayout()
        left.addLayout(row(QLabel("Station x"), self.at, self.hint))
        left.addWidget(self.refusal)
        left.addWidget(self.widths, 1)
        right.addLayout(row(heading("A donor cut here"), *keeps, self.cut))
        right.addWidget(self.stubs, 1)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(left, 1)
        box.addLayout(right, 1)

    def _width_columns(self) -> tuple[Column, ...]:
        return (
            Column("rails", lambda w: f"{w.left} {w.right}"),
            Column("z", lambda w: self._length(w.z - self.session.job.datum.z), True, unit=self.length_name),
            Column(
                "inside",
                lambda w: self._length(w.inside),
                True,
                tip="Between the faces of the two rails",
                unit=self.length_name,
            ),
            Column("outside", lambda w: self._length(w.outside), True, tip="Over both rails", unit=self.length_name),
            Column(
                "across",
                lambda w: self._length(w.member),
                True,
                tip="Length of a cross member there from axis to axis, before its ends are cut",
                unit=self.length_name,
            ),
            Column(
                "splay",
                lambda w: angle(w.splay),
                True,
                tip="Of each rail to the centreline, seen from above; positive where the frame widens forward",
            ),
        )

    def _stub_columns(self) -> tuple[Column, ...]:
        return (
            Column("donor tube", lambda s: s.tube),
            Column("to", lambda s: s.joint),
            Column(
                "left",
                lambda s: self._length(s.left),
                True,
                tip="Straight length from the cut to the joint or bend that stays",
                unit=self.length_name,
            ),
            Column(
                "cut",
                lambda s: f"{math.degrees(s.angle):.0f}°",
                True,
                tip="Between the cut and the tube's axis; 90° is square",
            ),
            Column(
                "weld", lambda s: self._length(s.weld), True, tip="Length of weld round the cut", unit=self.length_name
            ),
            Column("warning", lambda s: self.session.units.say(s.warning)),
        )

    def _length(self, value: float) -> str:
        return units_of(self.session.job).length(value, unit=False)

    def _typed(self) -> None:
        try:
            self.station_x = units_of(self.session.job).read_length(self.at.text()) + self.session.job.datum.x
        except Problem as problem:
            self.refusal.setText(str(problem.read_in(self.session.units)))
            self.refusal.show()
            return
        self.refusal.hide()
        self.show_station()
        self.decorated.emit()

    @property
    def ahead(self) -> bool:
        """Whether what is ahead of the cut is kept."""
        return self.keep.checkedId() == 0

    def paint(self, brush: Brush, job: Job, shown: FrameShown) -> None:
        sheets.station(brush, job, self.station_x)

    def show_job(self, job: Job) -> None:
        self.show_station()

    def show_station(self) -> None:
        """Show the station of the present job."""
        job = self.session.job
        if not self.at.hasFocus():
            self.at.setText(self._length(self.station_x - job.datum.x))
        widths, stubs = stations.widths(job, self.station_x), stations.stubs(job, self.station_x, ahead=self.ahead)
        self.widths.show_rows(widths)
        self.stubs.show_rows(stubs, frozenset(s.tube for s in stubs if s.warning))
        self.cut.setEnabled(bool(stubs))
        self.hint.setText("" if widths else "No pair of rails passes there: type another x.")

    def _cut(self) -> None:
        at = self._length(self.station_x - self.session.job.datum.x)
        self.session.press(f"sever at {at} keep {'ahead' if self.ahead else 'behind'}", ())
