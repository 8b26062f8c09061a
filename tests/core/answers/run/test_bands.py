"""Bands of figures: typed in the builder's units, held against the whole travel, told where they are left."""

import math

import numpy as np
import pytest

from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.run.bands import kept_bands
from ironcage.core.answers.run.beam import beam_runs
from ironcage.core.answers.run.corner import run_of
from ironcage.core.answers.run.springs import sprung
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.samples import sample
from ironcage.told import plain
from tests.core.lines import typed


def told(job: Job) -> list[str]:
    return [plain(s.what) for s in find_snags(job) if s.code == "out of band"]


def test_the_place_where_a_figure_leaves_its_band_furthest_is_told(sandpiper: Job) -> None:
    run = run_of(sandpiper, "front")
    camber = np.degrees(run.told.camber[:, run.straight])
    job = typed(sandpiper, "band front camber -1.5 to 1")
    (kept,) = kept_bands(job)
    assert math.degrees(kept.value) == pytest.approx(camber.min())
    assert (kept.at, math.degrees(kept.off)) == (50.0, pytest.approx(-1.5 - camber.min()))
    assert told(job) == ["The front camber is -2.04° at 50.0 mm up, not -1.5° to 1°."]
    part = typed(job, "band front camber at least -1.5 over -50 to 10")
    assert told(part) == []
    words = plain(kept_bands(part)[0].words)
    assert words == "at least -1.5° over -50 mm to 10 mm"
    assert typed(part, f"band front camber {words}") == part  # as it stands, it can be typed again
    assert told(typed(job, "band front camber at most -0.8"))[0].endswith("at 50.0 mm down, not at most -0.8°.")
    assert told(typed(job, "band front camber gone")) == []
    low = typed(sandpiper, "band front roll centre 100 to 150.5")
    (kept,) = kept_bands(low)
    assert plain(kept.words) == "100 to 150.5 mm"
    assert typed(low, f"band front roll centre {plain(kept.words)}") == low
    assert units_of(typed(low, "units inch lb")).say(kept.words) == '3.937" to 5.925"'


def test_bands_are_typed_in_what_each_figure_is_counted_in(sandpiper: Job) -> None:
    job = typed(
        typed(sandpiper, "units inch lb"),
        "band front roll centre 1 to 4",
        "band front motion ratio at least 0.5",
        "band front braking anti 20 to 40 %",
        "band front wheel rate at most 200",
        "band front ride frequency 1.8 to 2.2 Hz",
        "band front to solid at least 1/4 over -1 to 1",
    )
    bands = {b.figure: b for b in job.bands}
    assert (bands["roll centre"].least, bands["roll centre"].most) == pytest.approx((25.4, 101.6))
    assert bands["braking anti"].most == pytest.approx(0.4)
    assert bands["wheel rate"].most == pytest.approx(200 * 4.4482216 / 25.4, rel=1e-6)
    assert (bands["to solid"].least, bands["to solid"].stop) == pytest.approx((6.35, 25.4))
    assert bands["ride frequency"].least == 1.8


def test_springs_and_beams_have_bands_and_what_is_not_told_of_an_end_is_left_out() -> None:
    sandpiper, skerry = sample("sandpiper"), sample("skerry")
    job = typed(sandpiper, "band front ride frequency at most 1", "band front shift 0 to 1", "band rear camber 0 to 1")
    kept = {k.figure.name: k for k in kept_bands(job) if k.band.axle == "front"}
    assert set(kept) == {"ride frequency"}
    of = sprung(job)["front"]
    assert kept["ride frequency"].value == pytest.approx(np.nanmax(of.over.swings[:, of.middle[1]]))
    beam = typed(skerry, "band front turning circle at most 3 m")
    (run,) = beam_runs(beam)
    assert kept_bands(beam)[0].value == pytest.approx(np.nanmax(run.told.circle[0]))
    assert "not at most 3.00 m" in told(beam)[0]
    assert "steered" in told(beam)[0]


@pytest.mark.parametrize(
    ("line", "why"),
    [
        ("band front", "The band is incomplete"),
        ("band front cambr 1 to 2", "called ‘cambr’. The nearest is camber"),
        ("band front camber", "Nothing was typed for the band of camber"),
        ("band front camber 2 to 1", "a least that is more than its most"),
        ("band front camber wide", "‘wide’ is no band"),
        ("band front camber 0 to 1 over 30 to -30", "ends where it starts, or before"),
        ("band rear toe in gone", "The rear toe in has no band"),
        ("band middle camber 0 to 1", "‘middle’ is no axle"),
    ],
)
def test_what_is_no_band_is_refused(sandpiper: Job, line: str, why: str) -> None:
    with pytest.raises(Problem) as refused:
        understand(line, sandpiper)
    assert why in refused.value.sentence
