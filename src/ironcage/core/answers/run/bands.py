"""Which figures of wheels that move stay within their bands, and where the others leave them."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.run.beam import BeamRun, beam_runs
from ironcage.core.answers.run.carrier import CarrierRun, carrier_runs
from ironcage.core.answers.run.corner import AxleRun, runs
from ironcage.core.answers.run.figures import Figure, figures_of
from ironcage.core.answers.run.fork import ForkRun, fork_runs
from ironcage.core.answers.run.liveaxle import LinkedRun, axle_runs
from ironcage.core.answers.run.springs import sprung
from ironcage.core.answers.run.swing import SwingRun, arm_runs
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.job.values.bands import Band
from ironcage.core.job.values.model import Job
from ironcage.units import said

EndRun = AxleRun | LinkedRun | BeamRun | SwingRun | ForkRun | CarrierRun


@dataclass(frozen=True)
class Kept:
    """A band and where its figure is furthest outside of it. at: the travel there, mm, or a beam's steering, mm or rad;
    value: of the figure; off: how far outside, 0 within; all nan where the figure is not known."""

    band: Band
    figure: Figure
    at: float
    value: float
    off: float

    @property
    def words(self) -> str:
        """The band in words."""
        return band_words(self.band, self.figure)


def band_words(band: Band, figure: Figure) -> str:
    """The bounds of a band as short as they were typed, and the stretch of travel that they hold on."""
    least, most = (None if v is None else _bound(figure, v) for v in (band.least, band.most))
    if band.least is not None and most:
        words = f"{said.sizes(band.least) if _is_length(figure) else least} to {most}"
    else:
        words = f"at least {least}" if least else f"at most {most}"
    return f"{words} over {said.size(band.start)} to {said.size(band.stop)}" if band.partial else words


def _is_length(figure: Figure) -> bool:
    return figure.dimension in ("length", "room")


def _bound(figure: Figure, value: float) -> str:
    if _is_length(figure):
        return said.size(value)
    return f"{round(math.degrees(value), 3):g}°" if figure.dimension == "angle" else figure.words(value)


def off_band(band: Band, values: Floats) -> Floats:
    """How far values are outside of a band, negative below it, 0 within."""
    low = -np.inf if band.least is None else band.least
    high = np.inf if band.most is None else band.most
    return np.where(values < low, values - low, np.where(values > high, values - high, 0.0))


def end_runs(job: Job) -> dict[str, EndRun]:
    """What the wheels of each end do, by the end. Raises Problem as `runs` and those of the other kinds do."""
    found: tuple[EndRun, ...] = (
        *(runs(job) if job.wishbones else ()),
        *axle_runs(job),
        *beam_runs(job),
        *arm_runs(job),
        *fork_runs(job),
        *carrier_runs(job),
    )
    return {run.hung.axle: run for run in found}


def kept_bands(job: Job) -> tuple[Kept, ...]:
    """Every band of an end that hangs on something its figure is told of. Raises Problem as `end_runs` does."""
    if not job.bands:
        return ()
    ends, springs = end_runs(job), sprung(job)
    made = []
    for band in job.bands:
        run = ends.get(band.axle)
        figure = next((f for f in figures_of(run.hung) if f.name == band.figure), None) if run else None
        if run is None or figure is None:
            continue
        of = springs.get(band.axle)
        told = (of.over if of else None) if figure.sprung else run.told
        made.append(_kept(band, figure, run, None if told is None else figure.value(told)))
    return tuple(made)


def _kept(band: Band, figure: Figure, run: EndRun, values: Floats | None) -> Kept:
    nothing = Kept(band, figure, np.nan, np.nan, np.nan)
    if values is None:
        return nothing
    if isinstance(run, BeamRun) and figure.sprung and run.held:
        run = run.held
    if isinstance(run, BeamRun | ForkRun) and not figure.rises and not figure.sprung:
        at, over = run.found.rack, values[run.rest]
        on = run.found.closed[run.rest] & np.isfinite(over)
    else:
        at, over = run.found.travel, values[:, run.straight]
        on = run.found.closed[:, run.straight] & np.isfinite(over) & (at >= band.start) & (at <= band.stop)
    if not on.any():
        return nothing
    off = np.where(on, np.abs(off_band(band, over)), -1.0)
    worst = int(off.argmax())
    return Kept(band, figure, float(at[worst]), float(over[worst]), float(off[worst]))
