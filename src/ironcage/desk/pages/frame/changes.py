"""What has changed since the last edit, the mark, or another variant: figures, tubes, joints and parts side by side;
and what is not symmetric."""

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from ironcage.core.answers import cut, tally
from ironcage.core.answers.frame import materials, symmetry
from ironcage.core.answers.frame.symmetry import Odd
from ironcage.core.answers.shared.figures import difference, shown
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.pages.frame.tab import FrameShown, FrameTab
from ironcage.desk.pages.page import column, heading
from ironcage.desk.pick import Pick
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import Words

LAST_EDIT, MARK = "the last edit", "the mark"


class ChangesTab(FrameTab):
    """Two lists for what has changed, one for what is not symmetric."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.since = Pick()
        self.since.setAccessibleName("Compare with")
        self.since.activated.connect(lambda _: self._compare())
        self.figures = Grid("Figures that changed", self._figure_columns(), lambda pair: pair[0].key)
        self.tubes = Grid("Tubes and parts that changed", self._change_columns(), lambda change: change[0])
        self.odd = Grid("Not symmetric", self._odd_columns(), lambda o: " ".join(o.where))
        for grid in (self.tubes, self.odd):
            grid.chose.connect(lambda keys: self.session.choose(tuple(n for key in keys for n in key.split())))
        self.none = Words(name="hint", wrap=True)
        self.none.setText("No figure has changed since then.")
        left, middle, right = QVBoxLayout(), QVBoxLayout(), QVBoxLayout()
        for part, title, grid in (
            (left, "Since", self.figures),
            (middle, "Tubes, joints and parts", self.tubes),
            (right, "Not symmetric", self.odd),
        ):
            part.addLayout(
                column(heading(title), self.since, self.none) if grid is self.figures else column(heading(title))
            )
            part.addWidget(grid, 1)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        for part, share in ((left, 4), (middle, 5), (right, 3)):
            box.addLayout(part, share)

    def _figure_columns(self) -> tuple[Column, ...]:
        def units() -> object:
            return units_of(self.session.job)

        return (
            Column("figure", lambda pair: pair[0].label),
            Column("before", lambda pair: shown(pair[0], units()), True),  # type: ignore[arg-type]
            Column("now", lambda pair: shown(pair[1], units()), True),  # type: ignore[arg-type]
            Column("change", lambda pair: difference(pair[1], pair[0], units()), True),  # type: ignore[arg-type]
        )

    @staticmethod
    def _change_columns() -> tuple[Column, ...]:
        return (
            Column("what", lambda change: change[0]),
            Column("is", lambda change: change[1]),
            Column(
                "by",
                lambda change: change[2],
                True,
                tip="How much longer a tube is, or how far a joint or part went along x, y and z",
            ),
        )

    def _odd_columns(self) -> tuple[Column, ...]:
        return (
            Column("where", lambda o: ", ".join(o.where)),
            Column("what", lambda o: o.what),
            Column("by", self._off, True),
        )

    def _off(self, odd: Odd) -> str:
        return units_of(self.session.job).length(odd.by, unit=False) if odd.by else ""

    def other(self) -> Job:
        """The job that is compared with."""
        name = self.since.currentText()
        variant = next((v for v in self.session.job.variants if v.name == name), None)
        return variant.job if variant else self.session.mark if name == MARK else self.session.before

    def question(self) -> Question:
        other = self.other()
        return lambda job: _with_unlike_sides(job, other)

    def _compare(self) -> None:
        """Compare with what was picked."""
        self.show_changes()
        self.wants.emit()

    def show_result(self, job: Job, shown: FrameShown) -> None:
        if shown.odd is not None:
            self.show_changes(shown.trimmed)
            self.odd.show_rows(shown.odd)

    def show_changes(self, trimmed: tuple[int, int] | None = None) -> None:
        """Compare with what is chosen. trimmed: ends that are cut to more than one tube, before and now, once that is
        worked out."""
        job = self.session.job
        names = [LAST_EDIT, MARK, *(v.name for v in job.variants)]
        if [self.since.itemText(n) for n in range(self.since.count())] != names:
            before = self.since.currentText()
            self.since.clear()
            self.since.addItems(names)
            self.since.setCurrentIndex(max(names.index(before) if before in names else 0, 0))
        made = tally.compare_jobs(self.other(), job)
        units = units_of(job)
        pairs = [
            p for p in made.figures if difference(p[1], p[0], units) or (p[0].value is None) != (p[1].value is None)
        ]
        self.figures.show_rows(pairs)
        self.none.setVisible(not pairs)
        tubes = sorted(made.tubes, key=lambda t: (t.before > 0 and t.after > 0, -abs(t.after - t.before)))
        rows = [(t.tube, t.what, self._signed(t.after - t.before) if t.before and t.after else "") for t in tubes]
        for change in (*made.joints, *made.things):
            by = " ".join(self._signed(v) or "0" for v in change.by) if change.by else ""
            rows.append((change.name, change.what, by))
        if made.circle[0] != made.circle[1] and None not in made.circle:
            one, other = (units.length(c or 0.0) for c in made.circle)
            rows.insert(
                0,
                (
                    "turning circle",
                    f"{one} before, {other} now",
                    self._signed((made.circle[1] or 0) - (made.circle[0] or 0)),
                ),
            )
        if trimmed and trimmed[0] != trimmed[1]:
            was, now = trimmed
            rows.insert(
                0,
                ("cut ends", f"{was} met more than one tube, {now} do now", f"{now - was:+d}".replace("-", "−")),
            )
        rows.sort(
            key=lambda row: row[1] == "moved" and row[0] in job.tube_by_id
        )  # tubes that only went along come last
        self.tubes.show_rows(rows)

    def _signed(self, value: float) -> str:
        text = units_of(self.session.job).length(abs(value), unit=False)
        return f"{'+' if value > 0 else '−'}{text}" if abs(value) > tally.SAME_MM else ""


def _with_unlike_sides(job: Job, other: Job) -> FrameShown:
    return FrameShown(
        materials.answer(job),
        odd=symmetry.find_unlike_sides(job),
        trimmed=(cut.answer(other).trimmed, cut.answer(job).trimmed),
    )
