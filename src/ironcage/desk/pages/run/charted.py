"""What an end does over its travel as a chart."""

import math
from typing import Any

import numpy as np

from ironcage.core.answers.run.bands import band_words
from ironcage.core.answers.run.beam import BeamStill
from ironcage.core.answers.run.figures import Figure
from ironcage.core.answers.run.fork import ForkStill
from ironcage.core.answers.run.springs import Sprung
from ironcage.core.job.values.bands import Band
from ironcage.desk.pages.run.asked import Shown
from ironcage.desk.pages.run.kinds import Runs, Stills, kind_of
from ironcage.desk.pages.run.quantities import axis_name, drawn, shown
from ironcage.desk.widgets.plot import Axis, Chart, Curve, Spot, Strip
from ironcage.units import Units


def value_now(of: Shown, figure: Figure) -> float | None:
    """A figure of the moment; None where the links do not reach, or it is not known."""
    if not of.still.found.closed[0, 0]:
        return None
    told: Any = of.springs if figure.sprung else of.still.told
    value = math.nan if told is None else float(figure.value(told)[0, 0])
    return None if math.isnan(value) and figure.sprung else value


def over(figure: Figure, run: Runs, of: Sprung | None) -> Any:
    """A figure over the whole travel (n, m); None where nothing is known of it."""
    if figure.sprung:
        return figure.value(of.over) if of else None
    return figure.value(run.told)


def chart(of: Shown, figure: Figure, units: Units, band: Band | None) -> Chart | None:
    """The curve of a figure over the travel at the rack's nearest steer, the mark's dashed behind, its band as a strip,
    and the moment as a dot; nothing where it is not known anywhere."""
    still, curves = of.still, list[Curve]()
    if of.mark:
        curves += _curves(units, figure, of.mark, of.mark_sprung, "at the mark", ghost=True)
    curves += _curves(units, figure, still, of.sprung, figure.name)
    if not any(c.xs.size for c in curves):
        return None
    value = value_now(of, figure)
    spots: tuple[Spot, ...] = ()
    if value is not None and math.isfinite(value):
        at = _along(still, figure, still.rack if _steered(still, figure) else still.travel, units)
        spots = (Spot(shown(figure, units, value), at, drawn(figure, units, value), dot=True),)
    return Chart(
        _along_axis(still, figure, units),
        Axis(axis_name(figure, units), lambda v: f"{v:g}", lambda v: f"{v:.3f}"),
        tuple(curves),
        strips=(_strip(band, figure, still, units),) if band else (),
        spots=spots,
    )


def _strip(band: Band, figure: Figure, still: Stills, units: Units) -> Strip:
    low, high = (None if v is None else drawn(figure, units, v) for v in (band.least, band.most))
    start, stop = (_along(still, figure, v, units) for v in (band.start, band.stop))
    return Strip(units.say(band_words(band, figure)), low, high, start, stop)


def _curves(
    units: Units, figure: Figure, still: Stills, of: Sprung | None, name: str, *, ghost: bool = False
) -> list[Curve]:
    run, told = still.run, over(figure, still.run, of)
    if told is None:
        return []
    if isinstance(still, BeamStill) and figure.sprung and still.run.held:
        held = still.run.held
        at, closed, values = held.found.travel, held.found.closed[:, held.straight], told[:, held.straight]
    elif _steered(still, figure):
        row = int(np.abs(run.found.travel - still.travel).argmin())
        at, closed, values = run.found.rack, run.found.closed[row], told[row]
    else:
        nearest = int(np.abs(run.found.rack - still.rack).argmin())
        at, closed, values = run.found.travel, run.found.closed[:, nearest], told[:, nearest]
    good = closed & np.isfinite(values)
    xs = np.array([_along(still, figure, float(t), units) for t in at[good]])
    ys = np.array([drawn(figure, units, float(v)) for v in values[good]])
    return [Curve(name, xs, ys, ghost=ghost)] if xs.size else []


def _steered(still: Stills, figure: Figure) -> bool:
    """Whether a figure is drawn over how far a beam or a fork is steered, and not over its travel."""
    return isinstance(still, BeamStill | ForkStill) and not figure.rises and not figure.sprung


def _along(still: Stills, figure: Figure, value: float, units: Units) -> float:
    """A value of what a curve is drawn over, as the chart counts it."""
    return math.degrees(value) if _turned(still, figure) else units.in_length(value)


def _turned(still: Stills, figure: Figure) -> str:
    """What is turned by an angle that a figure is drawn over; nothing where it is drawn over a length."""
    if not _steered(still, figure):
        return ""
    return "fork" if isinstance(still, ForkStill) else "drop arm" if still.run.hung.pivot else ""


def _along_axis(still: Stills, figure: Figure, units: Units) -> Axis:
    """What a curve is drawn over."""
    steered = _steered(still, figure)
    if what := _turned(still, figure):
        return Axis(f"{what} to the left, °", lambda t: f"{t:g}", lambda t: f"{t:.1f}°")
    name = units.length_name
    called = "rack to the left" if steered else kind_of(still.run.hung).along
    return Axis(
        f"{called}, {name}", lambda t: f"{t:g}", lambda t: f"{t:.1f} {name}" if name == "mm" else f"{t:.2f} {name}"
    )
