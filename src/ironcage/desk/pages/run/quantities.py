"""How figures of wheels that move are drawn: by what each is counted in."""

from collections.abc import Callable, Mapping, Sequence
from math import degrees, isnan, radians

from ironcage.core.answers.run.alike import Alike
from ironcage.core.answers.run.carrier import Tight, set_words
from ironcage.core.answers.run.figures import Figure
from ironcage.core.answers.run.holes import HoleTold
from ironcage.core.answers.run.leaves import LeafTold
from ironcage.core.answers.run.shafts import ShaftRun
from ironcage.core.job.values.bands import Dimension
from ironcage.core.job.values.model import Job
from ironcage.units import Units
from ironcage.units.tables import MPA_PER_PSI

_PER_CENT = (lambda _: "%", lambda _, v: 100 * v)
_LENGTH = (lambda u: u.length_name, lambda u, v: u.in_length(v))
ALIKE_RAD, ALIKE_MM = radians(0.001), 0.001
_COUNTED: Mapping[Dimension, tuple[Callable[[Units], str], Callable[[Units, float], float]]] = {
    "angle": (lambda _: "°", lambda _, v: degrees(v)),
    "length": _LENGTH,
    "room": _LENGTH,
    "circle": _LENGTH,
    "share": _PER_CENT,
    "fine share": _PER_CENT,
    "ratio": (lambda _: "", lambda _, v: v),
    "force": (lambda u: u.force_name, lambda u, v: float(u.in_force(v).replace(",", ""))),
    "rate": (lambda u: u.linear_stiffness_name, lambda u, v: u.in_linear_stiffness(v)),
    "frequency": (lambda _: "Hz", lambda _, v: v),
    "pitches": (lambda _: "", lambda _, v: v),
}


def shown(figure: Figure, units: Units, value: float) -> str:
    """A value as the builder reads it; a dash where it is not known."""
    return units.say(figure.words(value))


def axis_name(figure: Figure, units: Units) -> str:
    """The chart's name of a figure, with its unit."""
    unit = _COUNTED[figure.dimension][0](units)
    return f"{figure.name}, {unit}" if unit else figure.name


def drawn(figure: Figure, units: Units, value: float) -> float:
    """A value as the chart counts it."""
    return _COUNTED[figure.dimension][1](units, value)


def by_mm(figure: Figure, units: Units, change: float) -> str:
    """How the builder reads a change for a millimetre, finer than the figure itself; a dash where it is not known."""
    if isnan(change):
        return "–"
    as_drawn = drawn(figure, units, change)
    text = f"{abs(as_drawn):.3f}"
    sign = "−" if as_drawn < 0 and float(text) else "+" if float(text) else ""
    return f"{sign}{text}"


def leaf_words(told: LeafTold, units: Units) -> str:
    """What leaf springs do, in words."""
    swings = "" if told.swings is None else f", {told.swings:.2f} Hz"
    words = [f"Leaf springs: {units.spring_rate(told.rate)} a wheel{swings}."]
    words.append(f"Roll stiffness {units.torsional_stiffness(told.roll)}.")
    if told.stress is not None and told.up is not None:
        words.append(f"{told.stress:.0f} MPa at rest, {told.up:.0f} at full travel up.")
    if told.leans:
        down, rest, up = ("tips over" if isnan(v) else f"{degrees(v):.0f}°" for v in told.leans)
        words.append(f"Shackles lean {rest}; {down} down, {up} up.")
    if told.wind_up is not None:
        words.append(f"Wound up with {units.torsional_stiffness(told.wind_up)} by drive and brakes.")
    return " ".join(words)


def leaf_way_words(told: LeafTold, units: Units) -> str:
    """How an axle on them moves, in words; nothing of one across the car."""
    if not told.back:
        return ""
    return f"The axle goes {units.length(told.back)} back, and steers {100 * told.steer:.1f} % of its lean."


def pressure_words(mpa: float, units: Units) -> str:
    """A pressure of air as a gauge shows it."""
    return f"{10 * mpa:.1f} bar" if units.length_name == "mm" else f"{mpa / MPA_PER_PSI:.0f} psi"


def hole_words(told: HoleTold, job: Job, units: Units) -> str:
    """What another hole does, in words."""
    zero = job.datum
    at = ", ".join(units.length(v - o, unit=False) for v, o in zip(told.place, (zero.x, zero.y, zero.z), strict=True))
    called = "Top hole" if told.top else "Hole"
    if told.lower is None:
        return f"{called} at {at}: not known."
    way = "lower" if told.lower >= 0 else "higher"
    swings = f", {told.swings:.2f} Hz" if told.swings else ""
    return f"{called} at {at}: {units.length(abs(told.lower))} {way}{swings}."


def shaft_words(told: Sequence[ShaftRun], units: Units) -> str:
    """What shafts do over the travel, in words."""
    return " ".join(
        f"{of.shaft.name}: {units.fine(of.shorter)} shorter to {units.fine(of.longer)} longer, its joints bent by up "
        f"to {degrees(of.first):.1f}° and {degrees(of.second):.1f}°."
        for of in told
    )


def tight_words(told: Tight) -> str:
    """Where a chain of some links lies tight, new and worn."""
    links = f"{told.links} links{'' if told.links % 2 == 0 else ' (with a half link)'}"
    if isnan(told.new):
        return f"✗ {links}: tight nowhere near."
    worn = "worn far beyond" if isnan(told.worn) else f"worn to the limit {set_words(told.worn)}"
    mark = "" if told.new_fits and told.worn_fits else "✗ " if not told.new_fits else "? "
    return f"{mark}{links}: tight {set_words(told.new)}, {worn}."


def alike_words(told: Alike | None) -> str:
    """That moved pickups move their wheel as at the mark; nothing where they do not."""
    if told is None or told.angle > ALIKE_RAD or told.length > ALIKE_MM:
        return ""
    return "✓ The pickups were moved, and the wheel moves as at the mark, to 0.001 mm and 0.001°."
