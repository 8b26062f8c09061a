"""How far apart each pair of rails must stand, and may: what is between them, what is outside, what fixes them."""

from collections.abc import Callable

from PyQt6.QtWidgets import QVBoxLayout

from ironcage.core.answers.frame import materials
from ironcage.core.answers.place import Need, Spacing, rail_spacing
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.values.model import Job
from ironcage.desk.asker import Question
from ironcage.desk.pages.frame.tab import FrameShown, FrameTab
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column, length_column
from ironcage.desk.words import Words

CLOSE_MM = 0.05


class SpacingTab(FrameTab):
    """Pairs of rails, and all that the picked one must leave room for."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.list = Grid("Spacing of rails", self._columns(), lambda s: f"{s.left} {s.right}")
        self.list.chose.connect(self._chose)
        self.list.say_when_empty("Nothing stands between or beside a mirrored pair of rails yet: place parts first.")
        self._shown: tuple[Spacing, ...] = ()
        self.all = Words(name="quiet", wrap=True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.list, 1)
        box.addWidget(self.all)

    def _columns(self) -> tuple[Column, ...]:
        return (
            Column("rails", lambda s: f"{s.left} {s.right}"),
            Column("name", lambda s: name_of(self.session.job, s.left).removesuffix(", left")),
            length_column(
                lambda: self.session.units,
                "inside",
                lambda s: s.inside,
                tip="Between the rails' faces where they are nearest",
            ),
            self._limit("at least", lambda s: s.least, "What is between them asks for this much, its margin kept"),
            Column("for", lambda s: s.least.name if s.least else ""),
            self._limit("at most", lambda s: s.most, "What is outside of them allows this much, its margin kept"),
            Column("beside", lambda s: s.most.name if s.most else ""),
            Column("fixed by", lambda s: ", ".join(s.fixed)),
        )

    def _limit(self, head: str, of: Callable[[Spacing], Need | None], tip: str) -> Column:
        def told(spacing: Spacing) -> str:
            need = of(spacing)
            return self.session.units.length(need.width, unit=False) if need else ""

        return Column(head, told, True, tip=tip, unit=lambda: self.session.units.length_name)

    def _chose(self, keys: tuple[str, ...]) -> None:
        self.session.choose(tuple(name for key in keys for name in key.split()))

    def question(self) -> Question:
        return _with_spacing

    def show_result(self, job: Job, shown: FrameShown) -> None:
        self.list.show_rows(shown.spacing, frozenset(f"{s.left} {s.right}" for s in shown.spacing if _wrong(s)))
        self._shown = shown.spacing
        self.show_chosen()

    def show_chosen(self) -> None:
        chosen = set(self.session.chosen)
        picked = [s for s in self._shown if {s.left, s.right} & chosen]
        self.list.show_chosen([f"{s.left} {s.right}" for s in picked])
        self.all.setText("  ".join(self._told(s) for s in picked[:2]))

    def _told(self, spacing: Spacing) -> str:
        """All that one pair must leave room for."""
        units = self.session.units
        words = [
            f"{'at least' if n.side == 'between' else 'at most'} {units.length(n.width)} for {n.name}"
            + (f" (margin {units.length(n.margin)})" if n.margin else "")
            for n in spacing.needs
        ]
        return f"{spacing.left} {spacing.right}: " + "; ".join((*words, *spacing.fixed)) + "."


def _wrong(spacing: Spacing) -> bool:
    """Whether a pair is nearer than it must be, or further apart than it may."""
    least, most = spacing.least, spacing.most
    return bool(
        (least and least.width > spacing.inside + CLOSE_MM) or (most and most.width < spacing.inside - CLOSE_MM)
    )


def _with_spacing(job: Job) -> FrameShown:
    return FrameShown(materials.answer(job), spacing=rail_spacing(job))
