"""Frame: joints, tubes, fittings and bays as lists that are typed into, what has changed, the car's wheels and
weights, the shelf."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from functools import partial
from typing import Any, get_args

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QCompleter,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
)

from ironcage.core.job import edits
from ironcage.core.job import text as lines
from ironcage.core.job.edits.following import tie_words
from ironcage.core.job.geometry.bodies import placed_bodies
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.shelf.library import library
from ironcage.core.job.text import Done
from ironcage.core.job.values.model import (
    Job,
    Joint,
    PointMass,
    Role,
    Tube,
    Wheel,
)
from ironcage.core.job.values.placed import Part
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.look import Look
from ironcage.desk.pages.frame.tab import FrameShown, FrameTab
from ironcage.desk.pages.latertabs import LaterTabs
from ironcage.desk.pages.page import Page, button, row, typed
from ironcage.desk.pick import Pick
from ironcage.desk.session import Session
from ironcage.desk.table import sheets
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column, name_column
from ironcage.desk.words import Words
from ironcage.problem import Problem
from ironcage.units import said
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


NO_JOINT = said.example(
    "No joint yet. Type a place, for example  joint [0] [250] [300], or open Sheet: it lays a whole frame at once."
)


LATER = {  # lists that are made when they are first opened, which keeps the start short: their words, module and class
    "Sheet": ("frame.sheet", "SheetTab"),
    "Fittings": ("frame.fittings", "FittingsTab"),
    "Bays": ("frame.bays", "BaysTab"),
    "Changes": ("frame.changes", "ChangesTab"),
    "Stations": ("frame.stations", "StationsTab"),
    "Spacing": ("frame.spacing", "SpacingTab"),
    "Shelf": ("frame.shelf", "ShelfTab"),
    "Swap": ("frame.shelf", "SwapTab"),
}
ORDER = ("Sheet", "Joints", "Tubes", "Bays", "Fittings", "Wheels", "Stations", "Spacing", "Changes", "Shelf", "Swap")
RARE = ("Wheels", "Stations", "Spacing", "Changes", "Shelf", "Swap")


class FramePage(Page):
    """Lists of what the frame is made of, and what can be done to what is chosen."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._answered = session.job
        self.keep_clear = False
        self.joints = Grid("Joints", self._joint_columns(), lambda j: j.id, session.do, needs=5)
        self.tubes = Grid("Tubes", self._tube_columns(), lambda t: t.id, session.do, needs=5)
        self.parts = Grid("Wheels and weights", self._part_columns(), lambda p: p.id, session.do)
        own = {"Joints": self.joints, "Tubes": self.tubes, "Wheels": self.parts}
        self.sum = Words(name="quiet")
        self.tabs = LaterTabs(session, ORDER, own, LATER, rare=RARE, aside=self.sum)
        self.open, self.tab = self.tabs.open, self.tabs.tab
        self.open("Joints")
        self.tabs.made.connect(self._made)
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 4, 8, 4)
        box.addLayout(self._tools())
        box.addWidget(self.tabs, 1)
        for grid in (self.joints, self.tubes):
            grid.chose.connect(lambda keys, g=grid: self._pick(g, keys))
        self.tabs.currentChanged.connect(lambda _: self._opened())

    def _made(self, made: FrameTab) -> None:
        made.typing.connect(self.typing)
        made.export.connect(self.export)
        made.decorated.connect(self._decorate)

    @property
    def here(self) -> FrameTab | None:
        """The list that is open, of those made when they are wanted."""
        found: FrameTab | None = self.tabs.here
        return found

    def show_look(self, look: Look) -> None:
        super().show_look(look)
        self.tabs.show_look(look)

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
        self.material, self.role = Pick(), Pick()
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
            button(
                "Draw", lambda: self.acts.emit("draw_tubes"), "Draw tubes from place to place on the table (Ctrl+D)"
            ),
            button("Tube", lambda: press("tube"), "Join the chosen joints (tube)"),
            button("Split", lambda: press("split"), "Split the chosen tubes in the middle (split)"),
            button("Merge", lambda: press("merge"), "Make two chosen joints one; the first stays (merge)"),
            button("Pickup", lambda: press("pickup"), "Make the chosen joints pickups (pickup)"),
            button("Delete", lambda: press("delete"), "Delete what is chosen on both sides (delete)"),
        ]
        self.envelopes = button(
            "Parts", self._decorate, "Show parts, people and tyres; a double click on a scan starts a joint there"
        )
        self.envelopes.setCheckable(True)
        box = row(*buttons, self._more(), self.envelopes, stretch=False)
        for combo in (self.section, self.material, self.role):
            box.addWidget(combo, 1)
        return box

    def _more(self) -> QPushButton:
        """Lines that need nothing more, and starts of those that do."""
        made = QPushButton("More")
        made.setToolTip("Everything else that can be done to joints and tubes")
        menu = QMenu(made)
        menu.aboutToShow.connect(lambda: self._fill_more(menu))
        made.setObjectName("menu")
        made.setMenu(menu)
        return made

    def _fill_more(self, menu: QMenu) -> None:
        menu.clear()
        keep = menu.addAction("Keep clear: the room that wheels and links take on their way", self._show_room)
        keep.setCheckable(True)
        keep.setChecked(self.keep_clear)
        menu.addSeparator()
        by_word = {c.word: c for c in lines.COMMANDS}
        for word in ("part", "pair", "through", "cross", "mirror", "untie"):
            says = self.units.say(by_word[word].says)
            menu.addAction(f"{word.capitalize()}: {says}", lambda w=word: self.session.press(w))
        menu.addSeparator()
        for word in (
            "hoop",
            "bend",
            "kick",
            "jog",
            "land",
            "taper",
            "lower",
            "die",
            "stretch",
            "turn",
            "copy",
            "slide",
            "tie",
            "donor",
            "laser",
        ):
            menu.addAction(
                f"{word.capitalize()}…  {self.units.say(by_word[word].says)}",
                lambda w=word: self.typing.emit(by_word[w].example),
            )

    def _show_room(self) -> None:
        """Show where no tube may go, or no longer."""
        self.keep_clear = not self.keep_clear
        self.wants.emit()

    # columns

    def _read(self, axis: str) -> Any:
        return lambda thing: self.units.length(getattr(thing, axis) - getattr(self.session.job.datum, axis), unit=False)

    def _joint_columns(self) -> tuple[Column, ...]:
        return (
            Column("joint", lambda j: j.id),
            name_column(self._called, typed("call")),
            *(Column(axis, self._read(axis), True, typed(axis), unit=self.length_name) for axis in "xyz"),
            Column("mirror", lambda j: "centreline" if j.twin == j.id else j.twin or "parted"),
            Column("tubes", lambda j: str(len(self.session.job.tubes_at.get(j.id, ()))), True),
            Column(
                "runs through",
                lambda j: j.through or "",
                tip="The tube that the builder chose to run through; others are cut to it",
            ),
            Column("notes", self._joint_notes),
        )

    def _called(self, thing: Joint | Tube) -> str:
        return name_of(self.session.job, thing.id)

    def _joint_notes(self, joint: Joint) -> str:
        job = self.session.job
        notes = [f"{p.corner} pickup" for p in job.pickups if p.joint == joint.id]
        notes += [f"follows {tie_words(joint.tie)}"] if joint.tie else []
        return ", ".join(notes + (["on a stand"] if joint.id in job.table.stands else []))

    def _tube_columns(self) -> tuple[Column, ...]:
        return (
            Column("tube", lambda t: t.id),
            name_column(self._called, typed("call")),
            Column("from", lambda t: t.a),
            Column("to", lambda t: t.b),
            Column("section", lambda t: t.section, change=typed("section")),
            Column("material", lambda t: t.material, change=typed("material")),
            Column("role", lambda t: t.role, change=typed("role")),
            Column(
                "length",
                lambda t: self.units.length(self._length(t), unit=False),
                True,
                tip="Along its centreline, joint to joint",
                unit=self.length_name,
            ),
            Column("mass", lambda t: self.units.mass(self._mass(t), unit=False), True, unit=self.mass_name),
            Column("roll", lambda t: angle(t.roll), True, typed("roll")),
            Column("shape", self._shape, tip="Bends, folds, taper, ends that land beside their joints"),
            Column(
                "pinned", self._pins, change=typed("pin"), tip="Ends that are ball joints: first, second, both or none"
            ),
        )

    def _shape(self, tube: Tube) -> str:
        count = len(tube.corners)
        words = []
        if count:
            words.append(
                f"{count} {'bend' if tube.radius else 'fold'}{'s' if count > 1 else ''}"
                + (f", radius {self.units.length(tube.radius, unit=False)}" if tube.radius else "")
            )
        words += [f"tapers to {tube.taper}"] if tube.taper else []
        words += ["lands beside"] if any(tube.offset_a) or any(tube.offset_b) else []
        words += ["cut down"] if tube.cut_from else []
        words += ["donor"] if tube.donor else []
        words += ["by laser"] if tube.laser else []
        return "; ".join(words)

    @staticmethod
    def _pins(tube: Tube) -> str:
        return {(False, False): "none", (True, False): "first", (False, True): "second", (True, True): "both"}[
            tube.pinned_a, tube.pinned_b
        ]

    def _part_columns(self) -> tuple[Column, ...]:
        def text(field: str) -> Any:
            return lambda p: self.units.length(getattr(p, field), unit=False) if hasattr(p, field) else ""

        return (
            Column("id", lambda p: p.id),
            Column(
                "what",
                lambda p: p.name if isinstance(p, PointMass) else p.tyre_name.replace("tyre", "wheel"),
                change=_only(PointMass, "name"),
            ),
            Column(
                "mass",
                lambda p: self.units.mass(p.mass, unit=False) if isinstance(p, PointMass) else "",
                True,
                _only(PointMass, "mass"),
                unit=self.mass_name,
            ),
            *(Column(axis, self._read(axis), True, _part(axis), unit=self.length_name) for axis in "xyz"),
            Column("tyre diameter", text("diameter"), True, _only(Wheel, "diameter"), unit=self.length_name),
            Column("tyre width", text("width"), True, _only(Wheel, "width"), unit=self.length_name),
            Column(
                "rim inside",
                self._known("rim"),
                True,
                _only(Wheel, "rim"),
                "Where links have room",
                unit=self.length_name,
            ),
            Column(
                "brake disc", self._known("disc"), True, _only(Wheel, "disc"), "Its diameter", unit=self.length_name
            ),
            Column(
                "disc inwards",
                self._known("disc_in"),
                True,
                _only(Wheel, "disc_in"),
                "How far inwards of the wheel’s middle its inner face stands",
                unit=self.length_name,
            ),
        )

    def _known(self, field: str) -> Callable[[Wheel | PointMass], str]:
        """A size of a wheel, where it is known."""

        def text(part: Wheel | PointMass) -> str:
            size = getattr(part, field, 0.0)
            return self.units.length(size, unit=False) if size else ""

        return text

    # showing

    def question(self) -> Question:
        """With what the open list wants besides: a key does not wait for that otherwise."""
        asked = (self.here.question() if self.here else None) or _what_it_is_made_of
        return partial(_with_room, asked) if self.keep_clear else asked

    def show_job(self, job: Job) -> None:
        self.tabs.show_job(job)
        self._fill()

    def show_marks(self, marks: Mapping[str, str]) -> None:
        self.tabs.show_marks(marks)

    def _opened(self) -> None:
        self.tabs.leave_others()
        self._fill()
        self._show_result()
        self._decorate()
        if self.here and self.here.question():
            self.wants.emit()

    def _fill(self) -> None:
        """Show the present job in the list that is open; the others wait until they are."""
        job, open_list = self.session.job, self.tabs.currentWidget()
        if open_list is self.joints:
            self.joints.say_when_empty(self.units.say(NO_JOINT))
            self.joints.show_rows(job.joints)
        elif open_list is self.tubes:
            self.tubes.show_rows(job.tubes)
        elif open_list is self.parts:
            self.parts.show_rows((*(w for w in job.wheels if not w.second_half), *job.masses))
        elif self.here:
            self.here.show_job(job)
        self._show_picked()

    def _show_result(self) -> None:
        """Show the answer in the list that is open."""
        if self.result is not None and self.here:
            self.here.show_result(self._answered, self.result)

    def _show_picked(self) -> None:
        if self.here:
            self.here.show_chosen()
        for grid in (self.joints, self.tubes):
            if self.tabs.currentWidget() is grid:
                grid.show_chosen(self.session.chosen)

    def _decorate(self) -> None:
        """Sheet and fittings on the table, and what the open list paints there."""
        result, job, here = self.result, self._answered, self.here
        if result is None:
            return

        def paint(brush: Brush) -> None:
            sheets.fittings(brush, result.frame.fittings, self.session.chosen)
            if here:
                here.paint(brush, job, result)

        bodies = tuple(placed_bodies(self.session.job)) if self.envelopes.isChecked() else ()
        if self.keep_clear:
            there = {b.id for b in result.keep_out}
            bodies = (*(b for b in bodies if b.id not in there), *result.keep_out)
        shape, places = (here.shape(), here.places()) if here else (None, None)
        self.put_decor(Decor(shape=shape, bodies=bodies, paint=paint, places=places))

    def scan_line(self, part: Part, place: str) -> str:
        return f"joint {place}"

    def _length(self, tube: Tube) -> float:
        """Along its centreline, mm; 0 for a tube that has just gone."""
        job = self.session.job
        return route_of(job, tube).length if all(e in job.joint_by_id for e in tube.ends) else 0.0

    def _mass(self, tube: Tube) -> float:
        m = self.session.job.material(tube.material)
        shape = self.session.job.section(tube.section).shape
        return self._length(tube) * shape.properties(m.poisson).area * m.density * 1e-9

    def show_answer(self, job: Job, result: FrameShown | None, problem: Problem | None) -> None:
        self.result, self._answered = result, job
        self._show_result()
        self._decorate()
        self._tell_sum()
        self._answer_tabs()

    def _answer_tabs(self) -> None:
        """How many there are, and what the open list answers, beside the words of lists."""
        if self.result is None:
            return
        frame = self.result.frame
        for words, count in (("Joints", frame.joints), ("Tubes", frame.tubes), ("Fittings", len(frame.fittings))):
            self.tabs.answer(words, str(count) if count else "")
        if self.here and (said := self.here.in_a_word()):
            self.tabs.answer(self.tabs.words, said)

    def _tell_sum(self) -> None:
        """The datum that places are read from."""
        if self.result is None:
            return
        rounding = f", {self.units.rounding}" if self.units.rounding else ""
        self.sum.setText(f"from {self._answered.brief.shown_from}{rounding}  ")
        self.sum.setToolTip(" × ".join(self.units.length(v) for v in self.result.frame.box) + " overall")

    def show_chosen(self, chosen: tuple[str, ...]) -> None:
        job = self.session.job
        tubes = [job.tube_by_id[c] for c in chosen if c in job.tube_by_id]
        joints = any(c in job.joint_by_id for c in chosen)
        if self.here:
            pass  # a list that is read while things are picked stays open
        elif tubes and not joints:
            self.tabs.setCurrentWidget(self.tubes)
        elif joints and not tubes:
            self.tabs.setCurrentWidget(self.joints)
        self._decorate()
        self._show_picked()
        for combo, values in (
            (self.section, {t.section for t in tubes}),
            (self.material, {t.material for t in tubes}),
            (self.role, {t.role or "no role" for t in tubes}),
        ):
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


def _what_it_is_made_of(job: Job) -> FrameShown:
    from ironcage.core.answers.frame import materials

    return FrameShown(materials.answer(job))


def _with_room(asked: Question, job: Job) -> FrameShown:
    """What the open list asks for, with the room that wheels and links take on their way."""
    from ironcage.core.answers import run

    shown: FrameShown = asked(job)
    return replace(shown, keep_out=run.keep_out(job))
