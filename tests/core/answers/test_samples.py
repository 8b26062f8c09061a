"""The demos: each a believable car that ships with at least one honest weakness, and Frame's kinds of work among
them."""

import math

import pytest

from ironcage.core.answers.cut import pieces
from ironcage.core.answers.findings import checks
from ironcage.core.answers.frame import bays, symmetry
from ironcage.core.answers.jig import stands
from ironcage.core.answers.prove import stiffness as prove
from ironcage.core.answers.shared import fittings
from ironcage.core.answers.tally import readout
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.store.file import to_text
from ironcage.core.job.values.fittings import FishPlate, Gusset, Panel
from ironcage.samples import SAMPLES, built, file_of, sample

BELIEVABLE = {  # frame kg, car kg, twist stiffness N·m/deg, wheelbase mm
    "sandpiper": ((60, 100), (450, 600), (3000, 6000), 2300),
    "fell-litter": ((120, 180), (650, 800), (2000, 4500), 2080),
    "skerry": ((20, 32), (120, 160), (250, 900), 1050),
}


@pytest.mark.parametrize("name", SAMPLES)
def test_the_file_of_a_demo_is_what_its_tables_make(name: str) -> None:
    """If not: `python -m ironcage.samples` writes the files again."""
    text = to_text(built(name))
    assert file_of(name).read_text("utf-8") == text
    assert to_text(sample(name)) == text


@pytest.mark.parametrize("name", SAMPLES)
def test_a_demo_weighs_stands_and_twists_as_such_a_car_does(name: str) -> None:
    job = sample(name)
    frame, car, stiffness, wheelbase = BELIEVABLE[name]
    figures = {f.key: f.value or 0.0 for f in readout.answer(job)}
    assert frame[0] < figures["frame mass"] < frame[1]
    assert car[0] < figures["car mass"] < car[1]
    assert stiffness[0] < prove.answer(job).torsion * math.pi / 180 / 1000 < stiffness[1]
    assert figures["wheelbase"] == wheelbase
    assert 0.35 < figures["front share"] < 0.6
    assert symmetry.find_unlike_sides(job) == ()
    assert all(s.on_table and s.saddle >= job.table.least_saddle - 0.05 for s in stands.answer(job).stands)
    assert not [p for piece in pieces.answer(job).pieces for p in piece.problems]
    assert all(not f.problem for f in fittings.fitting_facts(job))


def test_fell_litter_has_folded_and_mitred_kicks_fish_plates_and_panels() -> None:
    job = sample("fell-litter")
    kicked = [t for t in job.tubes if t.corners]
    assert [t.role for t in kicked] == ["rail", "rail"]
    assert all(t.radius == 0 and len(route_of(job, t).bends) == 2 for t in kicked)
    piece = pieces.answer(job).piece(kicked[0].id)
    assert [round(math.degrees(b.angle)) for b in piece.bends] == [30, 30]
    assert all(b.mouth > 20 for b in piece.bends)
    kinds = [type(f) for f in job.fittings]
    assert (kinds.count(FishPlate), kinds.count(Panel), kinds.count(Gusset)) == (4, 4, 4)
    assert {"Aluminium 6061-T6"} <= {f.material for f in fittings.fitting_facts(job)}
    mitres = [
        e for p in pieces.answer(job).pieces if p.role == "rail" for e in (p.first, p.second) if e.kind == "mitre"
    ]
    assert len(mitres) >= 8
    panelled = {b.panel for b in bays.find_bays(job).bays if b.state == "panelled"}
    assert panelled == {f.id for f in job.fittings if isinstance(f, Panel)}


def test_skerry_is_all_square_tube_and_folds_where_it_is_open() -> None:
    job = sample("skerry")
    assert {job.section(t.section).shape.size for t in job.tubes} == {(30, 30), (25, 25)}
    assert {s.severity for s in checks.find_snags(job)} <= {"look"}
    made = bays.find_bays(job)
    assert made.folding
    assert sum(b.state == "panelled" for b in made.bays) == 2
    softest = prove.answer(job).soft
    assert softest is not None


@pytest.mark.parametrize("name", ["sandpiper", "fell-litter"])
def test_a_demo_keeps_its_honest_fails(name: str) -> None:
    wrong = {s.code for s in checks.find_snags(sample(name)) if s.severity == "wrong"}
    assert "rule failed" in wrong
