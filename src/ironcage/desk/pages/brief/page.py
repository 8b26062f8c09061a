"""Brief: what is built and aimed at, the builder's own rules judged, and other ideas kept beside."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, get_args

from PyQt6.QtWidgets import QHBoxLayout, QTabWidget, QVBoxLayout, QWidget

from ironcage.core.answers.brief import aims as brief
from ironcage.core.answers.brief.rules import CAUTION, Verdict
from ironcage.core.answers.shared.figures import Figure, difference, shown
from ironcage.core.answers.shared.names import name_of
from ironcage.core.job import edits
from ironcage.core.job.geometry.bodies import placed_bodies
from ironcage.core.job.text import Done, understand
from ironcage.core.job.text.plans import aimed, rule_text
from ironcage.core.job.values.model import Datum, Job, TargetKind
from ironcage.core.job.values.rules import EXAMPLES, KINDS
from ironcage.core.job.values.shown import units_of
from ironcage.desk.asker import Question
from ironcage.desk.pages.brief.vehicles import VehicleList
from ironcage.desk.pages.page import Page, button, column, heading, row
from ironcage.desk.pick import Pick
from ironcage.desk.session import Session
from ironcage.desk.table.decor import Decor
from ironcage.desk.widgets.grid import Grid
from ironcage.desk.widgets.rowmodel import Column
from ironcage.desk.words import Words
from ironcage.problem import Problem
from ironcage.units import Units, said

MARKS = {"pass": "✓ pass", "fail": "✗ fail", "not known": "? not known"}


@dataclass(frozen=True)
class AimRow:
    """A row of the page's first list: what it is called, what is wanted, how far off it may be, what it is now, and by
    how much it is off.
    command: what a typed cell is put after."""

    key: str
    words: str
    wanted: str
    off_by: str = ""
    now: str = ""
    off: str = ""
    command: str = ""
    missed: bool = False


_PLAIN = (("name", "job"), ("builder", "builder"), ("vehicle", "vehicle"))


def lines(job: Job, aims: dict[str, brief.Aim], units: Units) -> list[AimRow]:
    """Everything that can be told in one line each, set or not."""
    b = job.brief
    made = [AimRow(field, words, getattr(b, field), command=field) for field, words in _PLAIN]
    made.append(AimRow("deadline", "deadline", b.deadline.isoformat() if b.deadline else "", command="deadline"))
    for end in ("front", "rear"):
        wheel = next((w for w in job.wheels if w.corner.startswith(end)), None)
        wanted = (
            ""
            if wheel is None
            else wheel.tyre or f"{units.length(wheel.diameter, unit=False)} by {units.length(wheel.width, unit=False)}"
        )
        now = (
            ""
            if wheel is None
            else f"{units.length(wheel.diameter, unit=False)} × {units.length(wheel.width, unit=False)}"
        )
        made.append(AimRow(f"{end} tyre", f"{end} tyre", wanted, "", now, command=f"tyre {end}"))
    targets = {t.kind: t for t in b.targets}
    for kind in get_args(TargetKind):
        t, aim = targets.get(kind), aims.get(kind)
        limit = " at most" if kind in brief.AT_MOST else " at least" if kind in brief.AT_LEAST else ""
        if t is None:
            made.append(AimRow(kind, kind + limit, "", command=f"target {kind}"))
            continue
        now = "" if aim is None or aim.now is None else aimed(kind).show(units, aim.now)
        past = "" if aim is None or aim.off is None else "met"
        if aim is not None and aim.off is not None and not aim.met:
            past = f"{'+' if aim.off > 0 else '−'}{aimed(kind).show(units, abs(aim.off))}"
        made.append(
            AimRow(
                kind,
                kind + limit,
                aimed(kind).show(units, t.value),
                aimed(kind).show(units, t.tolerance) if t.tolerance else "",
                now,
                past,
                f"target {kind}",
                bool(aim and aim.met is False),
            )
        )
    return made


def _want(job: Job, line: AimRow, text: str) -> Done:
    if not text.strip() and line.command.startswith("target"):
        return understand(f"{line.command} gone", job)
    off = f" +- {line.off_by}" if line.off_by and line.command.startswith("target") else ""
    return understand(f"{line.command} {text}{off}", job)


def _may_be_off(job: Job, line: AimRow, text: str) -> Done:
    if not line.command.startswith("target") or not line.wanted:
        raise Problem(
            f"There is no target for {line.words} to be off from.", where=line.words, hint="Type what is wanted first."
        )
    return understand(f"{line.command} {line.wanted} +- {text or 0}", job)


def _datum_cell(axis: str) -> Any:
    def change(job: Job, datum: Datum, text: str) -> Done:
        place = {a: getattr(datum, a) for a in "xyz"} | {axis: units_of(job).read_length(text)}
        return Done(
            f"Move datum {datum.name}", edits.add_datum(job, datum.name, (place["x"], place["y"], place["z"])), ()
        )

    return change


def by_text(v: Verdict, units: Units, value: float | None) -> str:
    """A verdict's measure as the builder reads it."""
    return "" if value is None or v.quantity is None else v.quantity.show(units, value)


class BriefPage(Page):
    """Four benches: aims, rules, variants, other vehicles."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.result: brief.BriefAnswer | None = None
        self.tabs = QTabWidget()
        self.tabs.setAccessibleName("Lists of Brief")
        self.tabs.addTab(self._aims(), "Aims and datums")
        self.tabs.addTab(self._rules(), "Rules")
        self.tabs.addTab(self._variants(), "Variants")
        self.vehicles = VehicleList(session, self.typing.emit)
        self.tabs.addTab(self.vehicles, "Vehicles")
        box = QVBoxLayout(self)
        box.setContentsMargins(8, 4, 8, 4)
        box.addWidget(self.tabs)

    def _aims(self) -> QWidget:
        self.aims = Grid(
            "Aims",
            (
                Column("what", lambda r: r.words),
                Column("wanted", lambda r: r.wanted, change=_want, tip="Type it here; empty it to remove the target"),
                Column("now", lambda r: r.now, True),
                Column("off", lambda r: r.off, True, tip="How far it is off beyond what it may be"),
                Column("give or take", lambda r: r.off_by, True, _may_be_off),
            ),
            lambda r: r.key,
            self.session.do,
        )
        self.datums = Grid(
            "Datums",
            (
                Column("datum", lambda d: d.name),
                *(Column(a, self._coordinate(a), True, _datum_cell(a), unit=self.length_name) for a in "xyz"),
                Column("read from", lambda d: "readings" if d.name == self.session.job.brief.shown_from else ""),
            ),
            lambda d: d.name,
            self.session.do,
        )
        press = self.session.press
        self.datums.list.setMinimumHeight(90)
        right = column(
            heading("Datums, from the ground under the front axle line"),
            self.datums,
            row(
                button(
                    "Add a datum…",
                    lambda: self.typing.emit(said.example("datum firewall at [-1620] 0 [220]")),
                    "Starts a line to finish (datum NAME at x y z)",
                ),
                button(
                    "Read from it",
                    lambda: self._with_datum(lambda n: press(f"datum {n}")),
                    "Show readings from the picked datum (datum NAME)",
                ),
                button(
                    "Remove",
                    lambda: self._with_datum(lambda n: press(f"datum {n} gone")),
                    "Remove the picked datum (datum NAME gone)",
                ),
            ),
        )
        right.setStretch(1, 1)
        whole = QWidget()
        box = QHBoxLayout(whole)
        box.setContentsMargins(0, 4, 0, 0)
        box.setSpacing(10)
        box.addWidget(self.aims, 8)
        box.addLayout(right, 5)
        return whole

    def _rules(self) -> QWidget:
        self.kind = Pick()
        self.kind.addItems(list(KINDS))
        self.kind.setCurrentIndex(-1)
        self.kind.setPlaceholderText("add a rule of a kind…")
        self.kind.setAccessibleName("Add a rule")
        for n, kind in enumerate(KINDS.values()):
            self.kind.setItemData(n, " ".join((kind.__doc__ or "").split()), 3)
        self.kind.activated.connect(lambda _: self._begin_rule())
        self.profile = Words(name="head")
        caution = Words(CAUTION, name="quiet", wrap=True)
        self.rules = Grid(
            "Rules",
            (
                Column("rule", lambda r: r[0].id),
                Column("verdict", lambda r: MARKS[r[1].state] if r[1] else "…"),
                Column("measured", lambda r: by_text(r[1], self.units, r[1].measured) if r[1] else "", True),
                Column(
                    "to spare",
                    lambda r: by_text(r[1], self.units, r[1].by) if r[1] else "",
                    True,
                    tip="What is to spare, or missing with a minus",
                ),
                Column("clause, in the words of your book", lambda r: r[0].clause, change=self._reword),
                Column("asks", lambda r: rule_text(r[0], self.units), change=self._ask_otherwise),
                Column("kind", lambda r: r[0].kind),
                Column("where", self._where),
            ),
            lambda r: r[0].id,
            self.session.do,
        )
        self.rules.chose.connect(self._show_rule)
        press = self.session.press
        tools = row(
            self.kind,
            button(
                "Tick",
                lambda: self._with_rule(lambda n: press(f"tick {n}")),
                "Tick the picked rule that is judged by hand (tick R9)",
            ),
            button(
                "Delete rule",
                lambda: self._with_rule(lambda n: press(f"rule {n} gone")),
                "Take the picked rule away (rule R9 gone)",
            ),
            button(
                "Example rules",
                lambda: press("profile example"),
                "Take the made-up profile that shows how (profile example)",
            ),
            button("Empty", lambda: press("profile empty"), "Start an empty profile (profile empty)"),
            stretch=False,
        )
        tools.addWidget(caution, 1)
        whole = QWidget()
        inner = column(tools, self.profile, self.empty, self.rules)
        inner.setStretch(3, 1)
        inner.setContentsMargins(0, 4, 0, 0)
        whole.setLayout(inner)
        return whole

    def _variants(self) -> QWidget:
        self.variants = Grid(
            "Variants",
            (
                Column("variant", lambda r: r[0]),
                Column("note", lambda r: r[1]),
                *(
                    Column(words, self._beside(key), True)
                    for key, words in (
                        ("wheelbase", "wheelbase"),
                        ("frame mass", "frame"),
                        ("car mass", "car"),
                        ("cg height", "CG height"),
                        ("front share", "front axle"),
                        ("torsion", "twist stiffness"),
                        ("clashes", "clashes"),
                    )
                ),
            ),
            lambda r: r[0],
        )
        press = self.session.press
        tools = row(
            button(
                "Keep this state…",
                lambda: self.typing.emit(said.example("variant keep Low roof: [60] lower")),
                "Starts a line to finish (variant keep NAME: note)",
            ),
            button(
                "Go on from it",
                lambda: self._with_variant(lambda n: press(f"variant open {n}")),
                "Take the picked variant in hand; undo brings this state back",
            ),
            button(
                "Measure from it",
                lambda: self._with_variant(self._measure),
                "The tally shows differences from the picked variant",
            ),
            button("Remove it", lambda: self._with_variant(lambda n: press(f"variant gone {n}"))),
        )
        whole = QWidget()
        self.none_kept = Words(
            "No other state is kept yet. Keep this one under a name, change the job, and compare.", name="hint"
        )
        inner = column(tools, self.none_kept, self.variants)
        inner.setStretch(2, 1)
        inner.setContentsMargins(0, 4, 0, 0)
        whole.setLayout(inner)
        return whole

    # doing

    def _picked(self, grid: Grid, what: str) -> str | None:
        index = grid.list.currentIndex()
        if index.isValid() and index.row() < len(grid.model.rows):
            return grid.key(grid.model.rows[index.row()])
        self.session.told.emit(f"Pick a {what} in the list first.", True)
        return None

    def _with_datum(self, act: Any) -> None:
        if name := self._picked(self.datums, "datum"):
            act(name)

    def _with_rule(self, act: Any) -> None:
        if name := self._picked(self.rules, "rule"):
            act(name)

    def _with_variant(self, act: Any) -> None:
        if name := self._picked(self.variants, "variant"):
            act(name)

    def _begin_rule(self) -> None:
        self.typing.emit(EXAMPLES[self.kind.currentText()])
        self.kind.setCurrentIndex(-1)

    def _measure(self, name: str) -> None:
        variant = next((v for v in self.session.job.variants if v.name == name), None)
        if variant:
            self.session.measure_from(variant.job, name)

    def _reword(self, job: Job, r: Any, text: str) -> Done:
        if not text.strip():
            raise Problem("A rule needs its clause.", where=r[0].id, hint="Write the words of your book.")
        return Done(f"Reword {r[0].id}", edits.put_rule(job, r[0].but(clause=text.strip())), ())

    def _ask_otherwise(self, job: Job, r: Any, text: str) -> Done:
        return understand(f"rule {r[0].id} {r[0].kind} {text}: {r[0].clause}", job)

    def _show_rule(self, keys: tuple[str, ...]) -> None:
        """Choose on the table what the picked rules were measured at."""
        verdicts = {v.rule: v for v in (self.result.verdicts if self.result else ())}
        where = [name for k in keys if k in verdicts for name in verdicts[k].where]
        if where:
            self.session.choose(tuple(where))

    def _where(self, r: Any) -> str:
        if r[1] is None:
            return ""
        names = ", ".join(name_of(self.session.job, n) for n in r[1].where[:6])
        return " · ".join(filter(None, (names, self.units.say(r[1].why))))

    # showing

    def question(self) -> Question:
        return brief.answer

    def show_job(self, job: Job) -> None:
        self.datums.show_rows(job.brief.datums)
        self._fill(job)

    def show_answer(self, job: Job, result: brief.BriefAnswer | None, problem: Problem | None) -> None:
        self.result = result
        self._fill(job)
        self.put_decor(Decor(bodies=tuple(placed_bodies(job))))

    def _fill(self, job: Job) -> None:
        aims = {a.kind: a for a in (self.result.aims if self.result else ())}
        rows = lines(job, aims, self.units)
        self.aims.show_rows(rows, frozenset(r.key for r in rows if r.missed))
        verdicts = {v.rule: v for v in (self.result.verdicts if self.result else ())}
        self.rules.show_rows(
            [(r, verdicts.get(r.id)) for r in job.rules.rules],
            frozenset(n for n, v in verdicts.items() if v.state == "fail"),
        )
        example = " – made up, to show how; type in your own" if job.rules.example else ""
        counts = [f"{sum(v.state == s for v in verdicts.values())} {s}" for s in MARKS] if verdicts else []
        self.profile.setText(f"{job.rules.name}{example}{':  ' if counts else ''}{', '.join(counts)}")
        none = Problem("There are no rules yet.", hint="Add one of a kind from your own book, or look at the example.")
        self.tell_empty(none if not job.rules.rules else None)
        beside = self.result.beside if self.result else ()
        self.none_kept.setVisible(not beside)
        self.vehicles.show_vehicles(self.result.vehicles if self.result else ())
        self.variants.show_rows([(b.name, b.note, {f.key: f for f in b.figures}) for b in beside])

    def _coordinate(self, axis: str) -> Callable[[Datum], str]:
        return lambda d: self.units.length(getattr(d, axis), unit=False)

    def _beside(self, key: str) -> Callable[[Any], str]:
        """A variant's figure, and how it differs from the present job."""

        def read(r: Any) -> str:
            figure: Figure = r[2][key]
            text = shown(figure, self.units)
            now = {f.key: f for f in (self.result.now if self.result else ())}.get(key)
            changed = difference(figure, now, self.units) if now else ""
            return f"{text}  ({changed})" if changed else text

        return read
