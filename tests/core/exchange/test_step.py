"""Solids for a tube laser: every edge between two faces, as many holes as a tube has, true sizes, and refusals."""

import re
from collections import Counter

import pytest

from ironcage.core.answers.cut.pieces import answer
from ironcage.core.answers.cut.solids import piece_shell
from ironcage.core.exchange.step import to_step
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import SAMPLES, sample

LINE = re.compile(r"^#(\d+)=([A-Z_0-9]*)\((.*)\);$", re.MULTILINE)


def entities(file: bytes) -> dict[str, tuple[str, str]]:
    return {number: (kind, rest) for number, kind, rest in LINE.findall(file.decode("ascii"))}


@pytest.mark.parametrize("name", SAMPLES)
def test_every_edge_is_between_two_faces_and_every_solid_has_one_hole(name: str) -> None:
    made = entities(to_step(sample(name), ""))
    kinds = Counter(kind for kind, _ in made.values())
    used = Counter()
    for kind, rest in made.values():
        assert all(number in made for number in re.findall(r"#(\d+)", rest))
        if kind == "ORIENTED_EDGE":
            edge, way = re.findall(r"#(\d+),\.([TF])\.", rest)[0]
            used[edge, way] += 1
    edges = {number for number, (kind, _) in made.items() if kind == "EDGE_CURVE"}
    assert used == {(edge, way): 1 for edge in edges for way in "TF"}  # once each way: closed, and facing one way
    around = kinds["VERTEX_POINT"] - kinds["EDGE_CURVE"] + kinds["ADVANCED_FACE"]
    assert around == 0  # vertices less edges and faces: 2 less 2 for each hole, of as many solids as holes
    assert kinds["MANIFOLD_SOLID_BREP"] == kinds["CLOSED_SHELL"] > 30


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


def test_what_is_no_straight_tube_is_refused_or_left_out() -> None:
    folded = sample("fell-litter")
    bent = next(p.id for p in answer(folded).pieces if p.bends)
    with pytest.raises(Problem, match=f"{bent} is bent or folded, and only straight"):
        to_step(folded, bent)
    assert f"MANIFOLD_SOLID_BREP('{bent}'" not in to_step(folded, "").decode()
    with pytest.raises(Problem, match="There is no tube ‘T999’"):
        to_step(folded, "T999")
    with pytest.raises(Problem, match="no straight round or rectangular piece"):
        to_step(Job(), "")
    named = understand("name Säge's “Frame”", folded).job
    assert b"PRODUCT('S?ge''s" in to_step(named, "")
