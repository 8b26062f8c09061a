"""Read what a builder types: lengths, angles, masses and forces, with units mixed and sums in place.

A small recursive-descent reader. A value is a float in internal units with a flag that says whether a
unit was seen: `2*1.5"` multiplies a bare number by a length, `54 - 1"` takes the bare 54 in the
builder's own unit. A proper fraction over 2, 4 ... 64 with no unit is inches, whatever the builder's
unit is, because nobody writes sixteenths of a millimetre.
"""

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass

from ironcage.problem import Problem, nearest
from ironcage.units.tables import HORSEPOWER_KW, INCH, LB, LBF, LBF_FT, PIPE_MM, SHEET_GAUGE_MM, TUBE_GAUGE_MM

_LENGTH_UNITS = {
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    '"': INCH,
    "in": INCH,
    "inch": INCH,
    "inches": INCH,
    "'": 12 * INCH,
    "ft": 12 * INCH,
    "foot": 12 * INCH,
    "feet": 12 * INCH,
    "thou": INCH / 1000,
}
_DEGREE = math.pi / 180
_ANGLE_UNITS = {
    "°": _DEGREE,
    "deg": _DEGREE,
    "'": _DEGREE / 60,
    "min": _DEGREE / 60,
    '"': _DEGREE / 3600,
    "sec": _DEGREE / 3600,
    "rad": 1.0,
}
_MASS_UNITS = {"kg": 1.0, "g": 0.001, "t": 1000.0, "lb": LB, "lbs": LB, "oz": LB / 16}
_FORCE_UNITS = {"n": 1.0, "kn": 1000.0, "lbf": LBF, "kgf": 9.80665}

_LIMIT = 1e9
_TOKEN = re.compile(
    r"""\s*(?:
      (?P<mixed>\d+(?:\s+|-)\d+/\d+(?![\d.]))  # 54 3/8 or 1-5/8
    | (?P<fraction>\d+/\d+(?![\d.]))           # 3/8, or a division; decided when read
    | (?P<number>(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)
    | (?P<unit>[A-Za-z]+|["'°])
    | (?P<sign>[-+*/()])
    )""",
    re.VERBOSE,
)
_LOOKALIKES = str.maketrans(
    {"″": '"', "”": '"', "“": '"', "′": "'", "’": "'", "‘": "'", "−": "-", "×": "*", "º": "°", "\u00a0": " "}
)


class UnitProblem(Problem):
    """What was typed is not understood; `at` is the place of the culprit, counted from 0."""

    def __init__(self, text: str, at: int, what: str, hint: str = "") -> None:
        self.text, self.at = text, at
        super().__init__(what, where=text, hint=hint)


@dataclass(frozen=True)
class _Value:
    amount: float
    has_unit: bool


@dataclass(frozen=True)
class _Token:
    kind: str
    text: str
    at: int


class _Reader:
    """One expression over one kind of quantity."""

    def __init__(self, text: str, what: str, units: Mapping[str, float], bare_unit: float, example: str) -> None:
        self.text, self.what, self.units, self.bare, self.example = text, what, units, bare_unit, example
        self.tokens = self._split(text.translate(_LOOKALIKES))
        self.place = 0

    def refuse(self, at: int, what: str, hint: str = "") -> UnitProblem:
        return UnitProblem(self.text, at, what, hint or f"Write for example {self.example}.")

    def _split(self, text: str) -> list[_Token]:
        tokens: list[_Token] = []
        at = 0
        while text[at:].strip():
            match = _TOKEN.match(text, at)
            if match is None or match.lastgroup is None:
                place = at + len(text[at:]) - len(text[at:].lstrip())
                raise self.refuse(
                    place, f"‘{self.text[place]}’ at place {place + 1} of ‘{self.text}’ is not understood."
                )
            tokens.append(_Token(match.lastgroup, match.group(match.lastgroup), match.start(match.lastgroup)))
            at = match.end()
        if not tokens:
            raise self.refuse(0, f"No {self.what} was typed.")
        return tokens

    def peek(self) -> _Token | None:
        return self.tokens[self.place] if self.place < len(self.tokens) else None

    def take_sign(self, signs: str) -> str:
        token = self.peek()
        if token and token.kind == "sign" and token.text in signs:
            self.place += 1
            return token.text
        return ""

    def read(self) -> float:
        value = self.with_unit(self.sum())
        token = self.peek()
        if token is not None:
            raise self.refuse(token.at, f"‘{token.text}’ at place {token.at + 1} of ‘{self.text}’ is one too many.")
        if not math.isfinite(value) or abs(value) > _LIMIT:
            raise self.refuse(0, f"‘{self.text}’ is not a usable {self.what}.")
        return value

    def with_unit(self, value: _Value) -> float:
        return value.amount if value.has_unit else value.amount * self.bare

    def sum(self) -> _Value:
        value = self.product()
        while sign := self.take_sign("+-"):
            other = self.product()
            if value.has_unit != other.has_unit:
                value, other = (_Value(self.with_unit(v), True) for v in (value, other))
            value = _Value(value.amount + (other.amount if sign == "+" else -other.amount), value.has_unit)
        return value

    def product(self) -> _Value:
        value = self.factor()
        while sign := self.take_sign("*/"):
            at = self.tokens[self.place - 1].at
            other = self.factor()
            if sign == "*":
                if value.has_unit and other.has_unit:
                    raise self.refuse(at, f"‘{self.text}’ multiplies a {self.what} by a {self.what}.")
                value = _Value(value.amount * other.amount, value.has_unit or other.has_unit)
                continue
            if other.amount == 0:
                raise self.refuse(at, f"‘{self.text}’ divides by nothing.")
            if other.has_unit and not value.has_unit:
                raise self.refuse(at, f"‘{self.text}’ divides a number by a {self.what}.")
            value = _Value(value.amount / other.amount, value.has_unit and not other.has_unit)
        return value

    def factor(self) -> _Value:
        if sign := self.take_sign("+-"):
            value = self.factor()
            return _Value(-value.amount if sign == "-" else value.amount, value.has_unit)
        if self.take_sign("("):
            value = self.sum()
            if not self.take_sign(")"):
                raise self.refuse(len(self.text), f"A closing bracket is missing in ‘{self.text}’.")
            return self.unit_after(value)
        return self.compound()

    def compound(self) -> _Value:
        """Numbers side by side, each with its unit, largest first: 4' 6 3/8\", 16°30'."""
        value = self.unit_after(self.number())
        last = value.amount
        while value.has_unit and (token := self.peek()) and token.kind in ("number", "fraction", "mixed"):
            before, at = self.place, token.at
            part = self.unit_after(self.number())
            if not part.has_unit:
                part = _Value(part.amount * self.next_smaller(before), True)
            if abs(part.amount) > abs(last) > 0:
                raise self.refuse(at, f"‘{token.text}’ at place {at + 1} of ‘{self.text}’ needs a sign before it.")
            value, last = _Value(value.amount + part.amount, True), part.amount
        return value

    def next_smaller(self, place: int) -> float:
        """The unit of a bare number that follows a unit: inches after feet, minutes after degrees."""
        unit = self.tokens[place - 1].text.lower()
        follows = {"'": '"', "ft": '"', "foot": '"', "feet": '"', "°": "'", "deg": "'"}.get(unit, "")
        if follows not in self.units:
            token = self.tokens[place]
            raise self.refuse(token.at, f"‘{token.text}’ at place {token.at + 1} of ‘{self.text}’ has no unit.")
        return self.units[follows]

    def number(self) -> _Value:
        token = self.peek()
        if token is None or token.kind not in ("number", "fraction", "mixed"):
            at = token.at if token else len(self.text)
            shown = f"‘{token.text}’" if token else "the end"
            raise self.refuse(at, f"A number is missing before {shown} at place {at + 1} of ‘{self.text}’.")
        self.place += 1
        if token.kind == "number":
            return _Value(float(token.text), False)
        whole, _, fraction = re.sub(r"\s+|-", " ", token.text).rpartition(" ")
        top, bottom = (int(part) for part in fraction.split("/"))
        if bottom == 0:
            raise self.refuse(token.at, f"‘{token.text}’ divides by nothing.")
        return _Value(int(whole or 0) + top / bottom, False)

    def is_inch_fraction(self, token: _Token) -> bool:
        if token.kind == "number" or "in" not in self.units:
            return False
        top, bottom = (int(part) for part in re.split(r"[\s-]", token.text)[-1].split("/"))
        return top < bottom and bottom in (2, 4, 8, 16, 32, 64)

    def unit_after(self, value: _Value) -> _Value:
        before = self.tokens[self.place - 1]
        token = self.peek()
        if token is None or token.kind != "unit":
            if not value.has_unit and before.kind != "sign" and self.is_inch_fraction(before):
                return _Value(value.amount * INCH, True)
            return value
        name = token.text if token.text in self.units else token.text.lower()
        if name in ("ga", "gauge") and self.what == "length":
            return self.gauge(value, token)
        if name not in self.units:
            known = ", ".join(u for u in self.units if u.isalpha())
            raise self.refuse(
                token.at,
                f"‘{token.text}’ at place {token.at + 1} of ‘{self.text}’ is not a unit of {self.what}.",
                nearest(name, self.units) or f"Known are {known}.",
            )
        if value.has_unit:
            raise self.refuse(token.at, f"‘{token.text}’ at place {token.at + 1} of ‘{self.text}’ is a second unit.")
        self.place += 1
        return _Value(value.amount * self.units[name], True)

    def gauge(self, value: _Value, token: _Token) -> _Value:
        self.place += 1
        table = TUBE_GAUGE_MM
        following = self.peek()
        if following and following.kind == "unit" and following.text.lower() == "sheet":
            self.place += 1
            table = SHEET_GAUGE_MM
        wall = table.get(int(value.amount)) if value.amount == int(value.amount) else None
        if wall is None:
            raise self.refuse(
                token.at,
                f"There is no {value.amount:g} gauge in the table.",
                f"It runs from {min(table)} to {max(table)}.",
            )
        return _Value(wall, True)


def length(text: str, bare_unit_mm: float = 1.0) -> float:
    """A typed length in mm: `1372`, `54"`, `4' 6 3/8"`, `1-5/8`, `137.2 cm`, `12 ga`, `54 3/8 - 2*1.5"`.

    `bare_unit_mm` is what a number with no unit counts in. A gauge is a tube wall (BWG); `12 ga sheet`
    is sheet steel. Raises UnitProblem with the place of what was not understood.
    """
    return _Reader(text, "length", _LENGTH_UNITS, bare_unit_mm, '1372, 54 3/8" or 4\' 6"').read()


def angle(text: str) -> float:
    """A typed angle in radians; a bare number is degrees: `16.5`, `16°30'`, `0.28 rad`."""
    return _Reader(text, "angle", _ANGLE_UNITS, _DEGREE, "16.5 or 16°30'").read()


def mass(text: str, bare_unit_kg: float = 1.0) -> float:
    """A typed mass in kg: `74`, `163 lb`, `2 lb 4 oz`."""
    return _Reader(text, "mass", _MASS_UNITS, bare_unit_kg, "74 kg or 163 lb").read()


def force(text: str, bare_unit_n: float = 1.0) -> float:
    """A typed force in N: `900`, `1.2 kN`, `200 lbf`; `bare_unit_n` is what a number with no unit counts in."""
    return _Reader(text, "force", _FORCE_UNITS, bare_unit_n, "900 N or 200 lbf").read()


def number(text: str) -> float:
    """A typed number without a unit: `4`, `3/4`, `2 * 1.5`."""
    return _Reader(text.replace(",", ""), "number", {}, 1.0, "15").read()


def hours(text: str) -> float:
    """A typed span of work in hours: `2.5`, `2.5 h`, `90 min`."""
    names = {**dict.fromkeys(("h", "hr", "hrs", "hour", "hours"), 1.0), **dict.fromkeys(("min", "minutes"), 1 / 60)}
    return _with_name(text, "time", names, 1.0, "2.5 h")


def torque(text: str, bare_unit_n_m: float = 1.0, example: str = "140 N·m") -> float:
    """A typed torque in N·m: `140`, `100 lbf·ft`."""
    return _with_name(text, "torque", {"n·m": 1.0, "lbf·ft": LBF_FT / 1000}, bare_unit_n_m, example)


def power(text: str, bare_unit_kw: float = 1.0, example: str = "80 kW") -> float:
    """A typed power in kW: `80`, `110 hp`."""
    return _with_name(text, "power", {"kw": 1.0, "hp": HORSEPOWER_KW}, bare_unit_kw, example)


def torsional_stiffness(text: str, bare_unit: float, example: str) -> float:
    """A typed torsional stiffness in N·mm/rad: `2500`, `2500 N·m/deg`, `1800 lbf·ft/deg`; `bare_unit` (N·mm/rad) is
    what a number with no unit counts in."""
    names = {"n·m/deg": 1000 / _DEGREE, "lbf·ft/deg": LBF_FT / _DEGREE}
    return _with_name(text, "stiffness", names, bare_unit, example)


def linear_stiffness(text: str, bare_unit_n_per_mm: float = 1.0, example: str = "800 N/mm") -> float:
    """A typed stiffness in N/mm: `800`, `4500 lbf/in`."""
    return _with_name(text, "stiffness", {"n/mm": 1.0, "lbf/in": LBF / INCH}, bare_unit_n_per_mm, example)


_NAMED = re.compile(r"^(?P<number>.*?[\d.)])\s*(?P<name>[^\W\d_].*)?$")


def _with_name(text: str, what: str, names: Mapping[str, float], bare: float, example: str) -> float:
    """A number with the name of a unit that is put together, as N·m/deg, or without one. The dot may be a full stop,
    a star, a space or nothing; a degree may be its sign."""
    match = _NAMED.match(text.strip().translate(_LOOKALIKES))
    if match is None or not any(letter.isdigit() for letter in match["number"]):
        raise UnitProblem(text, 0, f"‘{text.strip()}’ is no {what}.", f"Write for example {example}.")
    number, name = match["number"], match["name"] or ""
    plain = _squeezed(name)
    known = {_squeezed(n): unit for n, unit in names.items()}
    if plain and plain not in known:
        raise UnitProblem(
            text, len(number), f"‘{name.strip()}’ is not a unit of {what}.", f"Write for example {example}."
        )
    return _Reader(number.replace(",", ""), what, {}, 1.0, example).read() * known.get(plain, bare)


def _squeezed(name: str) -> str:
    return re.sub(r"[\s·.*]", "", name.lower()).replace("°", "deg").replace("ftlbf", "lbfft").replace("ftlb", "lbfft")


_PIPE = re.compile(r"^\s*(?P<size>[\d/\s.-]+?)\s*(?:\"|in)?\s*sch(?:edule)?\.?\s*(?P<schedule>\w+)\s*$", re.IGNORECASE)


def pipe(text: str) -> tuple[float, float] | None:
    """Outside diameter and wall (mm) of `3/4 sch 40`; None where the text is not about pipe.

    Raises UnitProblem for a size or schedule that the table does not have.
    """
    match = _PIPE.match(text)
    if match is None:
        return None
    size = " ".join(match["size"].replace("-", " ").split())
    if size not in PIPE_MM:
        raise UnitProblem(text, 0, f"‘{size}’ is not a nominal pipe size.", nearest(size, PIPE_MM))
    od, walls = PIPE_MM[size]
    if match["schedule"] not in walls:
        raise UnitProblem(
            text,
            match.start("schedule"),
            f"{size} pipe has no schedule {match['schedule']}.",
            f"There are {', '.join(walls)}.",
        )
    return od, walls[match["schedule"]]
