"""Frame: joints and tubes as lists that are typed into, the car's wheels and weights, the shelf."""

import math
from typing import Any, get_args

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QCompleter, QHBoxLayout, QSizePolicy, QTabWidget, QVBoxLayout, QWidget

from ironcage.core.answers import frame
from ironcage.core.job import edits
from ironcage.core.job.commands import Done, units_of
from ironcage.core.job.library import library, read_section
from ironcage.core.job.model import Job, Joint, Material, PointMass, Role, Section, Tube, Wheel
from ironcage.desk.grid import Column, Grid
from ironcage.desk.pages.page import Page, button, row, typed
from ironcage.desk.session import Session
from ironcage.desk.words import Words
from ironcage.problem import Problem
from ironcage.units.shown import angle


def _part(field: str) -> Any:
    """A cell of a wheel or mass: a place, a size, a mass or a name."""

    def change(job: Job, thing: Wheel | PointMass, text: str) -> Done:
        units = units_of(job)
        value: Any = text if field == "name" else units.read_mass(text) if field == "mass" else units.read_length(text)
        if field in "xyz":
            value += getattr(job.datum, field)
        return Done(f"Change {field} of {thing.id}", edits.change_part(job, thing.id, **{field: value}), ())

    return change


def _section_size(job: Job, section: Section, text: str) -> Done:
    shape = read_section(text, units_of(job)).shape
    return Done(f"Change {section.name}", edits.put_section(job, section.but(shape=shape)), ())


def _figure(field: str) -> Any:
    def change(job: Job, material: Material, text: str) -> Done:
        try:
            value: Any = text if field == "source" else float(text.replace(",", ""))
        except ValueError:
            raise Problem(f"‘{text}’ is not a number.", where=field, hint="Write for example 350") from None
        return Done(f"Change {material.name}", edits.put_material(job, material.but(**{field: value})), ())

    return change


def size_text(section: Section) -> str:
    """A section's sizes as they can be typed, mm."""
    s = section.shape
    if s.kind == "round":
        return f"{s.od_mm:g} x {s.wall_mm:g}"
    if s.kind == "rect":
        return f"{s.height_mm:g} x {s.width_mm:g} x {s.wall_mm:g}"
    return f"{s.leg_z_mm:g} x {s.leg_y_mm:g} x {s.wall_mm:g} angle"


class FramePage(Page):
    """Lists of what the frame is made of, and what can be done to what is chosen."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.joints = Grid("Joints", self._joint_columns(), lambda j: j.id, session.do)
        self.tubes = Grid("Tubes", self._tube_columns(), lambda t: t.id, session.do)
        self.parts = Grid("Wheels and weights", self._part_columns(), lambda p: p.id, session.do)
        self.sections = Grid("Sections on the shelf", self._section_columns(), lambda s: s.name, session.do)
        self.materials = Grid("Materials on the shelf", self._material_columns(), lambda m: m.name, session.do)
        self.tabs = QTabWidget()
        shelf = QWidget()
        shelf_box = QHBoxLayout(shelf)
        shelf_box.setContentsMargins(0, 0, 0, 0)
        shelf_box.addWidget(self.sections, 4)
        shelf_box.addWidget(self.materials, 5)
        for page, words in (
            (self.joints, "Joints"),
            (self.tubes, "Tubes"),
            (self.parts, "Wheels and weights"),
            (shelf, "Shelf"),
        ):
            self.tabs.addTab(page, words)
        self.sum = Words(name="quiet")
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 4, 8, 4)
        box.addLayout(self._tools())
        box.addWidget(self.tabs, 1)
        self.tabs.setCornerWidget(self.sum, Qt.Corner.TopRightCorner)
        for grid in (self.joints, self.tubes):
            grid.chose.connect(lambda keys, g=grid: self._pick(g, keys))
        self.tabs.currentChanged.connect(lambda _: self._fill())

    def _tools(self) -> QHBoxLayout:
        press = self.session.press
        self.section = QComboBox()
        self.section.setEditable(True)
        self.section.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        self.section.setAccessibleName("Section of the chosen tubes")
        self.section.lineEdit().setPlaceholderText("section of the chosen")
        self.section.addItems([s.name for s in library().sections])
        self.section.completer().setFilterMode(Qt.MatchFlag.MatchContains)
        self.section.completer().setCompletionMode(QCompleter.CompletionMode.PopupCompletion)
        self.material, self.role = QComboBox(), QComboBox()
        self.material.addItems([m.name for m in library().materials])
        self.role.addItems(["no role", *(r for r in get_args(Role) if r)])
        self.material.setAccessibleName("Material of the chosen tubes")
        self.role.setAccessibleName("Role of the chosen tubes")
        for combo in (self.section, self.material, self.role):
            combo.setCurrentIndex(-1)
        self.material.setPlaceholderText("material")
        self.role.setPlaceholderText("role")
        for combo, width in ((self.section, 110), (self.material, 90), (self.role, 80)):
            combo.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            combo.setMinimumWidth(width)
            combo.setMaximumWidth(2 * width)
        self.section.lineEdit().returnPressed.connect(lambda: press(f"section {self.section.currentText()}"))
        self.section.activated.connect(lambda _: press(f"section {self.section.currentText()}"))
        self.material.activated.connect(lambda _: press(f"material {self.material.currentText()}"))
        self.role.activated.connect(lambda n: press(f"role {self.role.currentText() if n else ''}"))
        buttons = [
            button("Tube", lambda: press("tube"), "Join the chosen joints (tube)"),
            button("Split", lambda: press("split"), "Split the chosen tubes in the middle (split)"),
            button("Merge", lambda: press("merge"), "Make two chosen joints one; the first stays (merge)"),
            button("Part", lambda: press("part"), "Part the chosen joints from their mirrors (part)"),
            button("Pair", lambda: press("pair"), "Pair two joints that stand opposite (pair)"),
            button("Through", lambda: press("through"), "Let the chosen tube run through the chosen joint (through)"),
            button("Pickup", lambda: press("pickup"), "Make the chosen joints pickups (pickup)"),
            button("Delete", lambda: press("delete"), "Delete what is chosen on both sides (delete)"),
        ]
        box = row(*buttons, stretch=False)
        for combo in (self.section, self.material, self.role):
            box.addWidget(combo, 1)
        return box

    # columns

    def _read(self, axis: str) -> Any:
        return lambda thing: self.units.length(getattr(thing, axis) - getattr(self.session.job.datum, axis), unit=False)

    def _joint_columns(self) -> tuple[Column, ...]:
        return (
            Column("joint", lambda j: j.id),
            *(Column(axis, self._read(axis), True, typed(axis)) for axis in "xyz"),
            Column("mirror", lambda j: "centreline" if j.twin == j.id else j.twin or "parted"),
            Column("tubes", lambda j: str(len(self.session.job.tubes_at.get(j.id, ()))), True),
            Column(
                "runs through",
                lambda j: j.through or "",
                tip="The tube that the builder chose to run through; others are cut to it",
            ),
            Column("notes", self._joint_notes),
        )

    def _joint_notes(self, joint: Joint) -> str:
        job = self.session.job
        notes = [f"{p.corner} pickup" for p in job.pickups if p.joint == joint.id]
        return ", ".join(notes + (["on a stand"] if joint.id in job.table.stands else []))

    def _tube_columns(self) -> tuple[Column, ...]:
        return (
            Column("tube", lambda t: t.id), Column("from", lambda t: t.a), Column("to", lambda t: t.b),
            Column("section", lambda t: t.section, change=typed("section")),
            Column("material", lambda t: t.material, change=typed("material")),
            Column("role", lambda t: t.role, change=typed("role")),
            Column("length", lambda t: self.units.length(self._length(t), unit=False), True, tip="Joint to joint"),
            Column("mass", lambda t: self.units.mass(self._mass(t)), True),
            Column("roll", lambda t: angle(t.roll), True, typed("roll")),
            Column("pinned", self._pins, change=typed("pin"), tip="Ends that are ball joints: first, second, both or none"),
        )  # fmt: skip

    @staticmethod
    def _pins(tube: Tube) -> str:
        return {(False, False): "none", (True, False): "first", (False, True): "second", (True, True): "both"}[
            tube.pinned_a, tube.pinned_b
        ]

    def _part_columns(self) -> tuple[Column, ...]:
        def text(field: str) -> Any:
            return lambda p: self.units.length(getattr(p, field), unit=False) if hasattr(p, field) else ""

        return (
            Column("id", lambda p: p.id), Column("what", lambda p: p.name if isinstance(p, PointMass) else f"{p.corner} wheel", change=_only(PointMass, "name")),
            Column("mass", lambda p: self.units.mass(p.mass) if isinstance(p, PointMass) else "", True, _only(PointMass, "mass")),
            *(Column(axis, self._read(axis), True, _part(axis)) for axis in "xyz"),
            Column("tyre diameter", text("diameter"), True, _only(Wheel, "diameter")),
            Column("tyre width", text("width"), True, _only(Wheel, "width")),
        )  # fmt: skip

    def _section_columns(self) -> tuple[Column, ...]:
        return (
            Column("section", lambda s: s.name), Column("size, mm", size_text, change=_section_size),
            Column("kg/m", lambda s: f"{s.shape.properties(0.3).area * 7.85e-3:.2f}", True, tip="As steel"),
            Column("used by", lambda s: str(sum(t.section == s.name for t in self.session.job.tubes)), True),
        )  # fmt: skip

    def _material_columns(self) -> tuple[Column, ...]:
        def of(field: str) -> Any:
            return lambda m: f"{getattr(m, field):g}"

        return (
            Column("material", lambda m: m.name), Column("E, MPa", of("e"), True, _figure("e")), Column("G, MPa", of("g"), True, _figure("g")),
            Column("kg/m³", of("density"), True, _figure("density")), Column("yield, MPa", of("yield_strength"), True, _figure("yield_strength")),
            Column("as welded", of("as_welded_yield"), True, _figure("as_welded_yield"), tip="Yield beside a weld, MPa"),
            Column("source", lambda m: m.source, change=_figure("source")),
        )  # fmt: skip

    # showing

    @staticmethod
    def asks(job: Job) -> frame.FrameAnswer:
        return frame.answer(job)

    def show_job(self, job: Job) -> None:
        self._fill()

    def _fill(self) -> None:
        """Show the present job in the list that is open; the others wait until they are."""
        job = self.session.job
        if self.tabs.currentWidget() is self.joints:
            self.joints.show_rows(job.joints)
        elif self.tabs.currentWidget() is self.tubes:
            self.tubes.show_rows(job.tubes)
        elif self.tabs.currentWidget() is self.parts:
            self.parts.show_rows((*job.wheels, *job.masses))
        else:
            self.sections.show_rows(job.shelf.sections)
            self.materials.show_rows(job.shelf.materials)
        self._show_picked()

    def _show_picked(self) -> None:
        for grid in (self.joints, self.tubes):
            if self.tabs.currentWidget() is grid:
                grid.show_chosen(self.session.chosen)

    def _length(self, tube: Tube) -> float:
        """Joint to joint, mm; 0 for a tube that has just gone."""
        ends = [self.session.job.joint_by_id.get(end) for end in tube.ends]
        return math.dist(ends[0].place, ends[1].place) if ends[0] and ends[1] else 0.0

    def _mass(self, tube: Tube) -> float:
        m = self.session.job.material(tube.material)
        shape = self.session.job.section(tube.section).shape
        return self._length(tube) * shape.properties(m.poisson).area * m.density * 1e-9

    def show_answer(self, job: Job, result: frame.FrameAnswer | None, problem: Problem | None) -> None:
        self.result = result
        if result:
            rounding = f", {self.units.rounding}" if self.units.rounding else ""
            self.sum.setText(f"{result.joints} joints, {result.tubes} tubes · from {job.brief.shown_from}{rounding}  ")
            self.sum.setToolTip(" × ".join(self.units.length(v) for v in result.box) + " overall")

    def show_chosen(self, chosen: tuple[str, ...]) -> None:
        job = self.session.job
        tubes = [job.tube_by_id[c] for c in chosen if c in job.tube_by_id]
        joints = any(c in job.joint_by_id for c in chosen)
        if tubes and not joints:
            self.tabs.setCurrentWidget(self.tubes)
        elif joints and not tubes:
            self.tabs.setCurrentWidget(self.joints)
        self._show_picked()
        for combo, values in ((self.section, {t.section for t in tubes}), (self.material, {t.material for t in tubes}),
                              (self.role, {t.role or "no role" for t in tubes})):  # fmt: skip
            one = next(iter(values)) if len(values) == 1 else ""
            if combo is self.section:
                combo.setEditText(one)
                combo.lineEdit().setCursorPosition(0)
            else:
                combo.setCurrentIndex(combo.findText(one) if one else -1)

    def _pick(self, grid: Grid, keys: tuple[str, ...]) -> None:
        job = self.session.job
        others = [c for c in self.session.chosen if (c in job.joint_by_id) != (grid is self.joints)]
        self.session.choose((*(others if len(keys) > 1 else ()), *keys))


def _only(kind: type, field: str) -> Any:
    """A cell that only wheels, or only weights, have."""

    def change(job: Job, thing: Wheel | PointMass, text: str) -> Done:
        if not isinstance(thing, kind):
            raise Problem(f"{thing.id} has no {field}.", where=thing.id)
        return _part(field)(job, thing, text)

    return change
