"""Place: what is put where, who fits, what clashes, how the car stands and is driven."""

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import partial
from itertools import count
from typing import get_args

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPen
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QTabWidget, QVBoxLayout, QWidget

from ironcage.core.answers.place import placing
from ironcage.core.answers.place.clashes import Near
from ironcage.core.answers.shared.names import name_of
from ironcage.core.job.edits import place_of
from ironcage.core.job.edits.placed import Placed
from ironcage.core.job.geometry.bodies import Body, person_body, placed_bodies
from ironcage.core.job.text import Done, understand
from ironcage.core.job.text.fields import FIELDS
from ironcage.core.job.text.placed import THREE_EXAMPLE
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Part, PartKind, Person
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.pages.page import Card, Page, add_plates, button, column, row, typed
from ironcage.desk.pages.place import words as placewords
from ironcage.desk.pages.place.fits import FitList
from ironcage.desk.pages.place.limbcards import limb_cards
from ironcage.desk.pages.place.mends import MendList
from ironcage.desk.session import Session
from ironcage.desk.table import overlay, sheets
from ironcage.desk.table.decor import Decor
from ironcage.desk.table.overlay import Brush
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.problem import Problem
from ironcage.units import said

MOST_MARKS = 24
SEAT_MM = 350.0  # two hips nearer than this are in one seat
CLASHES, CARD = 0, 1  # places of tabs
STATES = {"overlap": "✗ overlap", "near": "! too near", "clear": "✓ clear", "stuck": "✗ trapped by"}


@dataclass(frozen=True)
class Stuck:
    """What is in the way of a part coming out, as a row among the clashes."""

    first: str
    second: str
    gap: float
    margin: float = 0.0
    part: str = ""
    state: str = "stuck"


@dataclass(frozen=True)
class Cell:
    """A field of what is chosen."""

    owner: Placed
    name: str
    says: str
    shown: str


def _change_cell(job: Job, cell: Cell, text: str) -> Done:
    return understand(f"set {cell.name} {text}", job, (cell.owner.id,))


class PlacePage(Page):
    """The list of what is placed; beside it the card of what is chosen, clashes, people, drives and stance."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.result: placing.PlaceAnswer | None = None
        self._bodies: tuple[Body, ...] = ()
        self._card_of = ""
        self.things = Grid(
            "What is placed",
            self._thing_columns(),
            lambda t: t.id,
            session.do,
            needs=5,
        )
        self.card = Grid(
            "The card of what is chosen",
            (
                Column("field", lambda c: c.says),
                Column("value", lambda c: c.shown, change=_change_cell),
            ),
            lambda c: c.name,
            session.do,
        )
        self.card.say_when_empty(
            "Choose a part, a person, a chain or a shaft, in the list or on the table: all that is known of it stands "
            "here, to be changed."
        )
        self.clashes = Grid(
            "Clashes",
            self._clash_columns(),
            lambda n: f"{n.first} {n.second} {n.state}",
            needs=4,
        )
        told = (Column("what", lambda r: r.what), Column("says", lambda r: r.says))
        self.people = Grid("People", told, lambda r: r.what, wraps=1)
        self.drives = Grid("Chains and shafts", told, lambda r: r.what, wraps=1)
        self.stance = Grid("How it stands", told, lambda r: r.what, wraps=1)
        self.shop = Grid("Holes and lines", told, lambda r: r.what, wraps=1)
        self.things.chose.connect(session.choose)
        self.clashes.chose.connect(self._pick_clash)
        self.mends = MendList(session)
        self.fits = FitList(session)
        self.fits.asked.connect(self.wants)
        self._picked: tuple[str, str] | None = None
        for grid in (self.people, self.drives, self.stance, self.shop):
            grid.chose.connect(lambda keys, g=grid: self._choose_told(g, keys))
        self.tabs = QTabWidget()
        self.tabs.setAccessibleName("Lists of Place")
        clashing = QWidget()
        clashing.setLayout(column(self.clashes, self.mends))
        seated = QWidget()
        seated.setLayout(column(self.people, self.fits))
        for tab, words in (
            (clashing, "Clashes"),
            (self.card, "Card"),
            (seated, "People"),
            (self.drives, "Drives"),
            (self.stance, "Stance"),
            (self.shop, "Holes"),
        ):
            self.tabs.addTab(tab, words)
        left = column(self._tools(), self.empty, self.things)
        left.setStretch(2, 1)
        lists = QHBoxLayout()
        lists.setSpacing(10)
        lists.addLayout(left, 12)
        lists.addWidget(self.tabs, 10)
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 6, 8, 4)
        box.addLayout(lists)

    def _thing_columns(self) -> tuple[Column, ...]:
        """What is told of a thing that is placed."""
        return (
            Column("id", lambda t: t.id),
            Column("what", lambda t: t.name, change=typed("set name")),
            Column(
                "nearest",
                self._nearest,
                tip="The nearest thing, by what is left over or missing of the margin",
                room="✗ 115.6 into T68L",
            ),
            *(Column(a, self._axis(a), True, typed(a), unit=self.length_name) for a in "xyz"),
            Column(
                "mass",
                lambda t: self.units.mass(t.mass, unit=False) if isinstance(t, Part | Person) else "",
                True,
                typed("set mass"),
                unit=self.mass_name,
            ),
        )

    def _clash_columns(self) -> tuple[Column, ...]:
        """What is told of two things that are near."""
        return (
            Column("state", lambda n: STATES[n.state], room="✗ trapped by", whole=True),
            Column(
                "gap",
                lambda n: self.units.length(n.gap, unit=False),
                True,
                tip="Negative: how deep they overlap",
                unit=self.length_name,
            ),
            Column("one", lambda n: self._name(n.first)),
            Column("other", lambda n: self._name(n.second)),
            Column("which piece", lambda n: self.units.say(n.part)),
            Column("wanted", lambda n: self.units.length(n.margin, unit=False), True, unit=self.length_name),
        )

    def _tools(self) -> QHBoxLayout:
        press = self.session.press
        put = QPushButton("Put in…")
        menu = QMenu(put)
        for words, line in _STARTS:
            menu.addAction(words, lambda text=line: self.typing.emit(text.format(seat=_free_seat(self.session.job))))
        parts = QMenu("Another kind of part", menu)
        for kind in get_args(PartKind):
            parts.addAction(
                kind,
                lambda k=kind: self.typing.emit(
                    said.example(
                        f"place {k} {k.capitalize()} box [300] x [200] x [200] at [-1000] 0 [400] mass [10 in kg]"
                    )
                ),
            )
        menu.addMenu(parts)
        menu.addAction("A photo or drawing (PNG, JPEG)…", lambda: self.bring.emit("picture"))
        menu.addAction("A scan mesh (STL, OBJ, PLY)…", lambda: self.bring.emit("scan"))
        put.setObjectName("menu")
        put.setMenu(menu)
        put.setToolTip("Starts a line to finish: place, person, chain or shaft")
        lay = QPushButton("Lay…")
        laying = QMenu(lay)
        for words, line in (("On the ground", "align ground"), ("On the centreline", "align centreline")):
            laying.addAction(words, lambda text=line: press(text))
        for words, line in (
            ("Level with…", "align level "),
            ("Abreast of…", "align abreast "),
            ("In line with…", "align in line "),
        ):
            laying.addAction(words, lambda text=line: self.typing.emit(text))
        laying.addAction("Scale a picture: click two points…", lambda: self.typing.emit("scale "))
        laying.addAction(
            "By three points…",
            lambda: self.typing.emit(THREE_EXAMPLE),
        )
        lay.setObjectName("menu")
        lay.setMenu(laying)
        write = QPushButton("Write…")
        self.writing = QMenu(write)
        self.writing.aboutToShow.connect(self._fill_writing)
        write.setObjectName("menu")
        write.setMenu(self.writing)
        return row(
            put,
            lay,
            write,
            button(
                "Drop",
                lambda: press("drop"),
                "Let the chosen part down until it touches (drop, or drop so far off the ground)",
            ),
            button(
                "Tie", lambda: press("use"), "Tie the chosen person to the chosen seat, pedals and hand wheel (use)"
            ),
            button("Remove", lambda: press("delete"), "Remove what is chosen (delete)"),
        )

    # cells

    def _name(self, name: str) -> str:
        return name_of(self.session.job, name)

    def _axis(self, axis: str) -> Callable[[Placed], str]:
        def read(thing: Placed) -> str:
            return self.units.length(
                place_of(thing)["xyz".index(axis)] - getattr(self.session.job.datum, axis), unit=False
            )

        return read

    def _nearest(self, thing: Placed) -> str:
        if self.result is None:
            return ""
        mine = [n for n in self.result.clashes.near if thing.id in (n.first, n.second)]
        if not mine:
            return "nothing near"
        n = mine[0]
        other = self._name(n.second if n.first == thing.id else n.first)
        if n.state == "overlap":
            return f"✗ {self.units.length(-n.gap, unit=False)} into {other}"
        return f"{'! ' if n.state == 'near' else ''}{self.units.length(n.gap, unit=False)} to {other}"

    def _choose_told(self, grid: Grid, keys: tuple[str, ...]) -> None:
        where = [w for r in grid.model.rows if r.what in keys for w in r.where]
        if where:
            self.session.choose(tuple(where))

    # showing

    def question(self) -> Question:
        return partial(placing.answer, picked=self._picked, statures=self.fits.statures)

    def _pick_clash(self, keys: tuple[str, ...]) -> None:
        """Choose both things of the clashes that are picked, and ask what would clear the first of them."""
        pairs = [(first, second) for first, second, *_ in (key.split() for key in keys)]
        self._picked = pairs[0] if pairs else None
        self.session.choose(tuple(name for pair in pairs for name in pair))
        self.mends.await_answer(asked=self._picked is not None)
        self.wants.emit()

    def show_job(self, job: Job) -> None:
        self._bodies = self._to_draw(job)
        self.fits.show_job()
        self.things.show_rows(tuple(job.placed.values()))
        self._fill_card()
        none = Problem("Nothing is placed yet.", hint="‘Put in…’ starts a line: an engine, a person, a chain.")
        self.tell_empty(None if job.placed else none)
        self._decorate()

    def show_answer(self, job: Job, result: placing.PlaceAnswer | None, problem: Problem | None) -> None:
        self.result = result
        near = result.clashes.near if result else ()
        stuck = [Stuck(b.part, name, -b.depth) for b in (result.clashes.blocked if result else ()) for name in b.by]
        rows: list[Near | Stuck] = [
            *(n for n in near if n.state != "clear"),
            *stuck,
            *(n for n in near if n.state == "clear"),
        ]
        self.clashes.show_rows(rows, frozenset(self.clashes.key(n) for n in rows if n.state != "clear"))
        self.things.show_rows(tuple(job.placed.values()), self._hot())
        self.mends.show_mended(job, result.mended if result else None)
        self.fits.show_compared(result.compared if result else ())
        self.people.setVisible(not (result and result.compared))  # in whose room they are
        count = result.clashes.count if result else 0
        self.tabs.setTabText(CLASHES, f"Clashes {count}" if count else "Clashes")
        if result:
            self._show_told(self.people, placewords.people(job, result, self.units))
            self._show_told(self.drives, placewords.drives(job, result, self.units))
            self._show_told(self.stance, placewords.stance(job, result, self.units))
            self._show_told(self.shop, placewords.shop(job, result, self.units))
        self._decorate()

    @staticmethod
    def _show_told(grid: Grid, rows: Iterable[placewords.ToldRow]) -> None:
        made = list(rows)
        grid.show_rows(made, frozenset(r.what for r in made if r.wrong))

    def _hot(self) -> frozenset[str]:
        """Everything that clashes or can't come out."""
        blocked = self.result.clashes.blocked if self.result else ()
        return frozenset(i for n in self._clashing() for i in (n.first, n.second)) | {b.part for b in blocked}

    def _fill_card(self) -> None:
        job = self.session.job
        thing = next((job.placed[c] for c in self.session.chosen if c in job.placed), None)
        cells = (
            []
            if thing is None
            else [Cell(thing, n, f.says, f.show(job, thing)) for n, f in FIELDS[type(thing)].items()]
        )
        self.card.show_rows(cells)
        if bool(cells) != bool(
            self._card_of
        ):  # the card comes forward when something is chosen, the clashes when nothing is
            self.tabs.setCurrentIndex(CARD if cells and not self._picked else CLASHES)
        self._card_of = thing.id if thing else ""
        self.tabs.setTabText(CARD, "Card" if thing is None else f"Card {thing.id}")

    def _to_draw(self, job: Job) -> tuple[Body, ...]:
        """Everything placed, and whoever is chosen though not aboard, so that the tallest and the shortest can be
        seen in one seat."""
        left = [p for p in job.people if not p.aboard and p.id in self.session.chosen]
        return (*placed_bodies(job), *map(person_body, left))

    def show_chosen(self, chosen: tuple[str, ...]) -> None:
        if self._picked and set(chosen) != set(self._picked):
            self._picked = None  # something else was chosen elsewhere
        self._bodies = self._to_draw(self.session.job)
        self.things.show_chosen(chosen)
        self._fill_card()
        self._decorate()

    def _decorate(self) -> None:
        self.put_decor(Decor(bodies=self._bodies, hot=self._hot(), paint=self._paint))

    def _clashing(self) -> tuple[Near, ...]:
        return self.result.clashes.clashes if self.result else ()

    def _paint(self, brush: Brush) -> None:
        """A ring and the gap where things clash, sight and strap lines of whoever is chosen."""
        overlay.pictures(brush, self.session.job, self.session.chosen)
        sheets.fittings(brush, self.result.sheet if self.result else (), self.session.chosen)
        chosen = set(self.session.chosen)
        told: list[tuple[float, float]] = []
        for n in self._clashing()[:MOST_MARKS]:
            x, y, _ = brush.camera.project(np.array([n.place]))[0]
            if not math.isfinite(x):
                continue
            colour = brush.look.oxide
            brush.painter.setPen(
                QPen(QColor(colour), 2.5, Qt.PenStyle.SolidLine if n.state == "overlap" else Qt.PenStyle.DashLine)
            )
            brush.painter.setBrush(Qt.BrushStyle.NoBrush)
            brush.painter.drawEllipse(QPointF(x, y), 11, 11)
            if len(self._clashing()) <= 8 or chosen & {n.first, n.second}:
                at = (x + 12, y + 4)
                while any(abs(at[0] - p) < 90 and abs(at[1] - q) < 20 for p, q in told):
                    at = (at[0], at[1] + 20)
                told.append(at)
                brush.label(*at, self.units.length(n.gap), colour, filled=True)
        overlay.section_lines(brush, self.session.job)
        for p in self.result.people if self.result else ():
            if p.id in chosen:
                eyes = p.pose.points["eyes"]
                sight = p.reading("ground seen ahead")
                if sight and sight.place:
                    brush.pen(brush.look.blue, 1.5, Qt.PenStyle.DashLine)
                    brush.line(eyes, sight.place)
                strap = p.reading("harness angle")
                if strap and strap.place:
                    brush.pen(brush.look.blue, 2)
                    brush.line(p.pose.points["shoulder top"], strap.place)

    def cards(self) -> list[Card]:
        """The limbs of the person who is chosen, to be measured; else one card for each thing that is placed."""
        units, datum, job = self.units, self.session.job.datum, self.session.job
        person = next((job.placed[c] for c in self.session.chosen if isinstance(job.placed.get(c), Person)), None)
        if isinstance(person, Person):
            return limb_cards(person, units)
        made = []
        for thing in job.placed.values():
            x, y, z = (v - getattr(datum, a) for v, a in zip(place_of(thing), "xyz", strict=True))
            lines = [
                f"y {units.length(y)} to the left, z {units.length(z)} up, from {datum.name}",
                self._nearest(thing),
            ]
            made.append(Card(f"{thing.id}  {thing.name}", f"x {units.length(x)}", tuple(filter(None, lines))))
        return made

    def first_card(self) -> int:
        job = self.session.job
        ids = list(job.placed)
        return next(
            (ids.index(c) for c in self.session.chosen if c in ids and not isinstance(job.placed[c], Person)), 0
        )

    def _fill_writing(self) -> None:
        """What can be written: the mock-up, and a plate for each pattern."""
        self.writing.clear()
        for words, kind in (
            ("Mock-up pack (PDF)…", "mockup-pdf"),
            ("Mock-up sticks (CSV)…", "mockup-csv"),
            ("Hard points (DXF)…", "points-dxf"),
            ("Parts and shelf to share (JSON)…", "shelf-json"),
        ):
            self.writing.addAction(words, lambda k=kind: self.export.emit(k, ""))
        add_plates(self.writing, self.session.job, self.export.emit)


def _free_seat(job: Job) -> str:
    """Where a hip may go with nobody's there already: right and left, then a row further back, from the datum that is
    shown."""
    units, datum = units_of(job), job.datum
    rows = ((x, y, 350.0) for x in count(-1200.0, -800.0) for y in (240.0, -240.0))
    taken = [p.seat.hip for p in job.people]
    free = next(p for p in rows if all(math.dist(p, hip) > SEAT_MM for hip in taken))
    return ", ".join(units.length(v - d, unit=False) for v, d in zip(free, (datum.x, datum.y, datum.z), strict=True))


_STARTS = (
    ("An engine", said.example("place engine 1.2 at [-1870] 0 [430]")),
    ("A seat", said.example("place seat [7 in kg] at [-1300] [240] [400]")),
    ("A tank, by litres", said.example("place tank 14 at [-1500] 0 [330]")),
    ("A battery, by ampere hours", said.example("place battery 60 at 0 0 [300]")),
    ("A radiator, by kW", said.example("place radiator 60 at [250] 0 [340]")),
    ("A person, by stature", said.example("person Bryn [1780] at {seat} mass [82 in kg]")),
    ("A person, by table", "person Tall men 95 at {seat}"),
    (
        "A chain or belt",
        said.example("chain Final teeth 15 40 pitch [15.875] from [-1990] [235] [370] to [-2300] [235] [295]"),
    ),
    ("A shaft", said.example("shaft Prop from [-700] 0 [420] to [-1700] 0 [330]")),
)
