"""The shelf: sections and materials; and a tube's section beside its nearest equals, with the dies."""

from typing import Any

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from ironcage.core.answers.frame import sections
from ironcage.core.job import edits
from ironcage.core.job.shelf.library import read_section
from ironcage.core.job.text import Done, understand
from ironcage.core.job.values.model import Die, Job, Material, Section
from ironcage.core.job.values.shown import units_of
from ironcage.desk.pages.frame.tab import FrameTab
from ironcage.desk.pages.page import button, choice, heading, row
from ironcage.desk.session import Session
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.problem import Problem
from ironcage.units import Units, said

HOW = said.example("Bending dies: type  die [38] clr [114] grip [60]")
MEASURES = {  # what is looked for in place of a section
    "As stiff": sections.STIFF,
    "As strong": sections.STRONG,
    "Both": (*sections.STIFF, *sections.STRONG),
}
PICK = "Pick a tube: here stand the sections that could be in its place"


def _section_size(job: Job, section: Section, text: str) -> Done:
    shape = read_section(text, units_of(job)).shape
    return Done(f"Change {section.name}", edits.put_section(job, section.but(shape=shape)), ())


def _price(job: Job, section: Section, text: str) -> Done:
    return understand(f"price {section.name} {text}", job)


def _figure(field: str) -> Any:
    def change(job: Job, material: Material, text: str) -> Done:
        try:
            value: Any = text if field == "source" else float(text.replace(",", ""))
        except ValueError:
            raise Problem(f"‘{text}’ is not a number.", where=field, hint="Write for example 350") from None
        return Done(f"Change {material.name}", edits.put_material(job, material.but(**{field: value})), ())

    return change


def _grip(job: Job, die: Die, text: str) -> Done:
    return Done("Change a die's grip", edits.put_die(job, die.but(grip=units_of(job).read_length(text))), ())


def size_text(section: Section, units: Units) -> str:
    """A section's sizes as they can be typed."""
    sizes_mm, word = section.shape.typed
    return " x ".join(units.sizes(mm) for mm in sizes_mm) + word


class ShelfTab(FrameTab):
    """Sections beside materials."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.sections = Grid("Sections on the shelf", self._section_columns(), lambda s: s.name, session.do)
        self.materials = Grid("Materials on the shelf", self._material_columns(), lambda m: m.name, session.do)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.sections, 4)
        box.addWidget(self.materials, 5)

    def _section_columns(self) -> tuple[Column, ...]:
        return (
            Column("section", lambda s: s.name),
            Column(lambda: f"size, {self.session.units.length_name}", self._size, change=_section_size),
            Column(
                lambda: self.session.units.mass_of_length_name,
                lambda s: self.session.units.mass_of_length(s.shape.properties(0.3).area * 7.85e-6),
                True,
                tip="As steel",
            ),
            Column("price a m", lambda s: f"{s.price:.2f}" if s.price else "", True, _price, tip="In your money"),
            Column("used by", lambda s: str(sum(t.section == s.name for t in self.session.job.tubes)), True),
        )

    def _size(self, section: Section) -> str:
        return size_text(section, self.session.units)

    @staticmethod
    def _material_columns() -> tuple[Column, ...]:
        def of(field: str) -> Any:
            return lambda m: f"{getattr(m, field):g}"

        return (
            Column("material", lambda m: m.name),
            Column("E, MPa", of("e"), True, _figure("e")),
            Column("G, MPa", of("g"), True, _figure("g")),
            Column("kg/m³", of("density"), True, _figure("density")),
            Column("yield, MPa", of("yield_strength"), True, _figure("yield_strength")),
            Column(
                "as welded", of("as_welded_yield"), True, _figure("as_welded_yield"), tip="Yield beside a weld, MPa"
            ),
            Column("source", lambda m: m.source, change=_figure("source")),
        )

    def show_job(self, job: Job) -> None:
        shelf = job.shelf
        self.sections.show_rows(shelf.sections)
        self.materials.show_rows(shelf.materials)


class SwapTab(FrameTab):
    """The chosen tube's section beside its nearest equals, and the dies that bend it."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.equals = Grid("Section compared", self._equal_columns(), lambda pair: pair[1].name)
        self.dies = Grid(
            "Bending dies", self._die_columns(), lambda d: f"{d.od:g} to {d.radius:g}", session.do, needs=2
        )
        self.head = heading(PICK)
        dies = self.how = heading("Bending dies")
        for words in (self.head, dies):
            words.setWordWrap(True)
        self.by, ways = choice(self, tuple(MEASURES), self.show_chosen)
        self.take = button("Take it", self._take, "Give the chosen tubes the section that is picked in the list")
        left, right = QVBoxLayout(), QVBoxLayout()
        top = row(self.head, *ways, self.take, stretch=False)
        top.setStretch(0, 1)
        left.addLayout(top)
        left.addWidget(self.equals, 1)
        right.addWidget(dies)
        right.addWidget(self.dies, 1)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(left, 7)
        box.addLayout(right, 3)

    def _take(self) -> None:
        rows = self.equals.list.selectionModel().selectedRows()
        if rows:
            self.session.press(f"section {self.equals.model.rows[rows[0].row()][1].name}")
        else:
            self.session.told.emit("Pick a section in the list first.", True)

    def _die_columns(self) -> tuple[Column, ...]:
        def length(field: str) -> Any:
            return lambda die: units_of(self.session.job).length(getattr(die, field), unit=False)

        return (
            Column("tube", length("od"), True, unit=self.length_name),
            Column("radius", length("radius"), True, tip="Of the centreline", unit=self.length_name),
            Column(
                "grip",
                length("grip"),
                True,
                _grip,
                tip="The straight that the bender needs between two bends",
                unit=self.length_name,
            ),
        )

    def _equal_columns(self) -> tuple[Column, ...]:
        """Rows are pairs: the section compared with, and the one told; percent of the first."""

        def share(field: str) -> Any:
            return lambda pair: f"{getattr(pair[1], field) / getattr(pair[0], field) * 100:.0f} %"

        return (
            Column("section", lambda pair: pair[1].name),
            Column("stiff in bending", share("bending"), True, tip="EI, about its softer axis"),
            Column("in torsion", share("torsion"), True, tip="GJ"),
            Column("strong in bending", share("moment"), True, tip="The moment at which it begins to yield"),
            Column("at a weld", share("welded"), True, tip="The same beside a weld"),
            Column("strong in torsion", share("torque"), True, tip="The torque at which it begins to yield"),
            Column(
                lambda: self.session.units.mass_of_length_name,
                lambda pair: self.session.units.mass_of_length(pair[1].kg / 1000),
                True,
            ),
            Column("price a m", lambda pair: f"{pair[1].price:.2f}" if pair[1].price else "", True),
            Column(
                lambda: f"area, {self.session.units.length_name}²",
                lambda pair: self.session.units.area(pair[1].area),
                True,
            ),
        )

    def show_job(self, job: Job) -> None:
        self.show_chosen()

    def show_chosen(self) -> None:
        """Show the dies, and the chosen tube's section beside what it was at the mark and its nearest equals."""
        job, mark = self.session.job, self.session.mark
        self.how.setText(self.session.units.say(HOW))
        self.dies.show_rows(job.shelf.dies)
        tube = next((job.tube_by_id[c] for c in self.session.chosen if c in job.tube_by_id), None)
        self.take.setEnabled(tube is not None)
        if tube is None:
            self.head.setText(PICK)
            self.equals.show_rows(())
            return
        material = job.material(tube.material)
        now = sections.figures(job.section(tube.section), material)
        rows, said = [now], ""
        was = mark.tube_by_id.get(tube.id)
        if was is not None and was.section != tube.section:
            rows.append(sections.figures(mark.section(was.section), material))
            said = f", {was.section} at the mark"
        asked = list(MEASURES)[self.by.checkedId()]
        found = sections.equals(job, job.section(tube.section), material, MEASURES[asked])
        rows += [f for f in found if f.name not in {r.name for r in rows}]
        self.head.setText(f"{tube.id}: {tube.section}{said}, and what is at least {asked.lower()}, lightest first")
        self.equals.show_rows([(now, r) for r in rows])
