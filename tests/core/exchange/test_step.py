"""Solids for a tube laser: every edge between two faces, as many holes as a tube has, true sizes, and refusals."""

import re
from collections import Counter

import numpy as np
import pytest

from ironcage.core.answers.cut.pieces import answer
from ironcage.core.answers.cut.surfaces import piece_shell
from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.shared.fitted.pieces import SLOT_PLAY_MM
from ironcage.core.exchange.step import to_step
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import SAMPLES, sample
from ironcage.told import plain
from tests.core.lines import typed

LINE = re.compile(r"^#(\d+)=([A-Z_0-9]*)\((.*)\);$", re.MULTILINE)


def entities(file: bytes) -> dict[str, tuple[str, str]]:
    return {number: (kind, rest) for number, kind, rest in LINE.findall(file.decode("ascii"))}


def demand_closed(made: dict[str, tuple[str, str]], bores: int = 0) -> None:
    """Every edge is between two faces; vertices less edges and faces are 2 less 2 for each way through a solid: its
    own bore, and each hole through one wall."""
    kinds = Counter(kind for kind, _ in made.values())
    used = Counter()
    for kind, rest in made.values():
        assert all(number in made for number in re.findall(r"#(\d+)", rest))
        if kind == "ORIENTED_EDGE":
            edge, way = re.findall(r"#(\d+),\.([TF])\.", rest)[0]
            used[edge, way] += 1
    edges = {number for number, (kind, _) in made.items() if kind == "EDGE_CURVE"}
    assert used == {(edge, way): 1 for edge in edges for way in "TF"}  # once each way: closed, and facing one way
    around = kinds["VERTEX_POINT"] - kinds["EDGE_CURVE"] + kinds["ADVANCED_FACE"] - kinds["FACE_BOUND"]
    assert (around, kinds["FACE_BOUND"]) == (-2 * bores, 2 * bores)


@pytest.mark.parametrize("name", SAMPLES)
def test_every_edge_is_between_two_faces_and_every_solid_is_a_tube(name: str) -> None:
    made = entities(to_step(sample(name), ""))
    demand_closed(made)
    kinds = Counter(kind for kind, _ in made.values())
    assert kinds["MANIFOLD_SOLID_BREP"] == kinds["CLOSED_SHELL"] > 30


def places_of(made: dict[str, tuple[str, str]], rest: str) -> np.ndarray:
    """The places that a line of the file names."""
    told = (made[number] for number in re.findall(r"#(\d+)", rest))
    return np.array([re.findall(r"-?\d+\.\d*", rest) for kind, rest in told if kind == "CARTESIAN_POINT"], dtype=float)


RAIL = ("joint 0 300 300", "joint -800 300 300", "tube J1L J2L {}")


@pytest.mark.parametrize(("section", "faces"), [("40 x 2", "cylinder"), ("40 x 30 x 2", "plane")])
def test_holes_are_true_cylinders_through_both_walls_where_they_are_drilled(section: str, faces: str) -> None:
    rail = typed(Job(), *(line.format(section) for line in RAIL))
    job = typed(rail, "add tube holes at 120, diameter 12, count 3, pitch 60", chosen=("T1L",))
    job = typed(job, "add tube holes at 500, diameter 16, clock 90, walls 1", chosen=("T1L",))
    made = entities(to_step(job, "T1L"))
    demand_closed(made, bores=7)
    loops = [rest for kind, rest in made.values() if kind == "B_SPLINE_CURVE_WITH_KNOTS"]
    drilled = [p for rest in loops if len(p := places_of(made, rest)) > 8 and np.ptp(p[:, 0]) > 1]
    assert len(drilled) == 7 * 4  # halves, in both walls
    for places in drilled:
        x, y, z = (places - [0, 300, 300]).T
        if x.mean() > -400:  # from above, at 120, 180, 240
            middle = 60 * round(x.mean() / 60)
            assert middle in (-120, -180, -240)
            assert np.hypot(x - middle, y) == pytest.approx(6, abs=1e-6)
            assert all(np.hypot(y, z) > 17.99) if faces == "cylinder" else set(np.abs(z).round(6)) in ({20.0}, {18.0})
        else:  # from the outer side, at 500, in one wall
            assert np.hypot(x + 500, z) == pytest.approx(8, abs=1e-6)
            assert len({bool(side) for side in y > 0}) == 1


def test_slots_are_cut_into_both_sides_of_an_end_as_wide_and_deep_as_they_are_asked_for() -> None:
    rail = typed(Job(), *(line.format("40 x 2") for line in RAIL))
    job = typed(rail, "add slot joint J2L, depth 30, thickness 4", chosen=("T1L",))
    made = entities(to_step(job, "T1L"))
    demand_closed(made)
    corners = np.array([places_of(made, rest)[0] for kind, rest in made.values() if kind == "VERTEX_POINT"])
    assert corners[:, 0].min() == pytest.approx(-800)
    curves = np.vstack([places_of(made, rest) for kind, rest in made.values() if kind.startswith("B_SPLINE_CURVE")])
    foot = curves[np.abs(curves[:, 0] + 770) < 1e-6] - [0, 300, 300]
    assert {bool(side) for side in foot[:, 2] > 0} == {True, False}
    inner = foot[np.hypot(foot[:, 1], foot[:, 2]) < 19]
    assert 2 * np.abs(inner[:, 1]).max() == pytest.approx(4 + SLOT_PLAY_MM, abs=1e-6)  # the plate passes inside


def test_a_bent_tube_is_written_straight_as_long_as_its_bar() -> None:
    rail = typed(Job(), *(line.format("38 x 2") for line in RAIL))
    job = typed(rail, "die 38 clr 114 grip 60", "bend -300 420 300 clr 114", chosen=("T1L",))
    job = typed(job, "add tube holes at 100, diameter 10", chosen=("T1L",))
    made = entities(to_step(job, "T1L"))
    demand_closed(made, bores=2)
    piece = answer(job).piece("T1L")
    assert piece.bends
    corners = np.array([places_of(made, rest)[0] for kind, rest in made.values() if kind == "VERTEX_POINT"])
    along = (corners - [0, 300, 300]) @ piece.axes[0]
    assert along.max() - along.min() == pytest.approx(piece.bar)


def laser_snags(job: Job) -> str:
    return " ".join(plain(s.what) for s in find_snags(job) if s.code == "for the laser")


def test_what_a_solid_can_not_hold_is_left_out_and_told() -> None:
    rail = typed(Job(), *(line.format("40 x 2") for line in RAIL))
    for line in (
        "add tube holes at 200, diameter 10",
        "add tube holes at 205, diameter 10, clock 10",
        "add tube holes at 2, diameter 10",
        "add crush tube at 600, od 16, bore 10.5, clock 30",
        "add crush tube at 700, od 16, bore 10.5, shape square",
        "add insert at 400, od 35.5, wall 2, depth 40",
        "laser",
    ):
        rail = typed(rail, line, chosen=("T1L",))
    demand_closed(entities(to_step(rail, "")), bores=2 * 4)  # on both sides of the car
    told = laser_snags(rail)
    for why in (
        "205.0 mm along T1L: it runs into another hole",
        "reaches into a cut end",
        "700.0 mm along T1L: it is square",
        "the solid is whole",
    ):
        assert why in told
    thick = typed(Job(), *(line.format("40 x 6") for line in RAIL))
    thick = typed(thick, "laser", "add tube holes at 200, diameter 31", chosen=("T1L",))
    assert "it is too wide for its side of the tube" in laser_snags(thick)
    box = typed(Job(), *(line.format("40 x 30 x 2") for line in RAIL))
    box = typed(box, "laser", "add tube holes at 200, diameter 10, clock 30", chosen=("T1L",))
    assert "30° off square to the side" in laser_snags(box)


def test_without_names_the_pieces_for_the_laser_are_written(sandpiper: Job) -> None:
    job = typed(sandpiper, "laser", chosen=("T35L",))
    written = re.findall(r"MANIFOLD_SOLID_BREP\('(\w+)'", to_step(job, "").decode())
    assert written == [p.id for p in answer(job).pieces if p.laser]
    assert "T35L" in written
    assert sorted(t for name in written for t in answer(job).piece(name).tubes) == ["T35L", "T35R"]


def test_a_piece_has_its_own_sizes_and_place(sandpiper: Job) -> None:
    made = entities(to_step(sandpiper, "T35L"))
    radii = {float(rest.rsplit(",", 1)[1]) for kind, rest in made.values() if kind == "CYLINDRICAL_SURFACE"}
    assert radii == {15.0, 13.5}  # 30 x 1.5
    curves = [rest for kind, rest in made.values() if kind == "B_SPLINE_CURVE_WITH_KNOTS"]
    ends = [made[number][1] for rest in curves for number in re.findall(r"#(\d+)", rest)]
    places = [tuple(map(float, re.findall(r"-?\d+\.\d*", rest))) for rest in ends]
    shell = piece_shell(sandpiper, answer(sandpiper).piece("T35L"), 360).points
    for axis in range(3):
        of = [place[axis] for place in places]
        assert min(of) == pytest.approx(shell[:, axis].min(), abs=0.01)
        assert max(of) == pytest.approx(shell[:, axis].max(), abs=0.01)


def test_what_is_folded_is_refused_or_left_out() -> None:
    folded = sample("fell-litter")
    bent = next(p.id for p in answer(folded).pieces if p.bends)
    with pytest.raises(Problem, match=f"{bent} is folded, and only round"):
        to_step(folded, bent)
    assert f"MANIFOLD_SOLID_BREP('{bent}'" not in to_step(folded, "").decode()
    with pytest.raises(Problem, match="There is no tube ‘T999’"):
        to_step(folded, "T999")
    with pytest.raises(Problem, match="no round or rectangular piece"):
        to_step(Job(), "")
    named = understand("name Säge's “Frame”", folded).job
    assert b"PRODUCT('S?ge''s" in to_step(named, "")
