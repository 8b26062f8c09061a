"""One paper for both ends: wrapped back round the tube, its cuts lie on what the ends land on."""

import io
import math

import numpy as np
import pytest
from pypdf import PdfReader

from ironcage.core.answers.cut import pieces
from ironcage.core.answers.cut.surfaces import cut_rims
from ironcage.core.exchange.drawing import Path
from ironcage.core.exchange.kinds import kind
from ironcage.core.exchange.templates import MARGIN_MM
from ironcage.core.exchange.wraps import FLAP_MM, wrap
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from tests.core.lines import typed

ROLL_MM = 4984.0


def _struts() -> Job:
    """A strut that lands on a rail at one end and on a cross tube at the other, turned against each other."""
    return typed(
        Job(),
        "joint 0 300 200",
        "joint -400 300 200",
        "joint -800 300 200",
        "joint -400 100 700",
        "joint -100 100 760",
        "joint -700 100 640",
        "tube J1L J2L J3L 45 x 2.5",
        "tube J5L J4L J6L 45 x 2.5",
        "tube J2L J4L 30 x 2",
    )


def _off_axis(points: np.ndarray, at: np.ndarray, way: np.ndarray) -> np.ndarray:
    """How far points (n, 3) are from a line."""
    apart = points - at
    return np.linalg.norm(apart - (apart @ way)[:, None] * way, axis=1)


def test_wrapped_back_both_cuts_lie_on_what_they_land_on() -> None:
    job = _struts()
    piece = next(p for p in pieces.answer(job).pieces if p.section.name.startswith("30"))
    sheet = wrap(job, piece, ROLL_MM)
    cuts = [i for i in sheet.items if isinstance(i, Path) and i.weight == "cut" and len(i.points) > 100]
    assert len(cuts) == 2
    girth = math.pi * 30 + math.pi * 0.1  # half the paper further out
    route = route_of(job, job.tube_by_id[piece.tubes[0]])
    way = piece.axes[0]
    start = np.array(job.joint_by_id[piece.first.joint].place) + piece.first.profile.bar * way
    for path, end in zip(cuts, (piece.first, piece.second), strict=True):
        points = np.array(path.points)
        turn = (girth - (points[:, 1] - MARGIN_MM - FLAP_MM / 2)) / girth * 2 * math.pi
        along = points[:, 0] - MARGIN_MM
        there = (
            start
            + along[:, None] * way
            + 15 * (np.cos(turn)[:, None] * piece.axes[1] + np.sin(turn)[:, None] * piece.axes[2])
        )
        onto = route_of(job, job.tube_by_id[end.onto])
        off = _off_axis(there, onto.at(0)[0], onto.at(0)[1])
        assert off.min() == pytest.approx(22.5, abs=0.02)  # where the outer wall lands
        assert (off > 22.48).all()  # nowhere inside the other tube
    assert route.length > sheet.width - 2 * MARGIN_MM


def test_the_rims_drawn_on_the_table_lie_on_what_the_ends_land_on() -> None:
    job = _struts()
    piece = next(p for p in pieces.answer(job).pieces if p.section.name.startswith("30"))
    for (outer, inner), end in zip(cut_rims(job, piece), (piece.first, piece.second), strict=True):
        onto = route_of(job, job.tube_by_id[end.onto])
        off = [_off_axis(rim, onto.at(0)[0], onto.at(0)[1]) for rim in (outer, inner)]
        assert min(each.min() for each in off) == pytest.approx(22.5, abs=0.01)
        assert all((each > 22.49).all() for each in off)  # cut square through the wall: one of the two touches
        np.testing.assert_allclose(outer[0], outer[-1])


def test_a_short_paper_leaves_out_the_middle_and_says_how_much(sandpiper: Job) -> None:
    made = pieces.answer(sandpiper)
    long = next(p for p in made.pieces if p.bar > 500 and not p.bends and p.first.kind == p.second.kind == "cope")
    whole, short = wrap(sandpiper, long, ROLL_MM), wrap(sandpiper, long, 281.0)
    assert whole.width == pytest.approx(long.bar + 2 * MARGIN_MM)
    assert short.width <= 281.0
    words = [i.text for i in short.items if hasattr(i, "text")]
    left_out = next(float(w.split(":")[1].split()[0]) for w in words if w.startswith("split:"))
    assert short.width - 2 * MARGIN_MM == pytest.approx(long.bar - left_out + 2 * MARGIN_MM)
    page = PdfReader(io.BytesIO(kind("wrap-pdf").make(sandpiper, f"{long.id}:roll 610"))).pages[0]
    assert float(page.mediabox.width) / 72 * 25.4 == pytest.approx(610, abs=0.02)
    assert float(page.mediabox.height) / 72 * 25.4 == pytest.approx(long.bar + 2 * MARGIN_MM + 16, abs=0.02)
    for word, says in ((f"{long.id}:roll 60", "Take a wider roll"), (f"{long.id}:A7", "no paper")):
        with pytest.raises(Problem, match=says):
            kind("wrap-pdf").make(sandpiper, word)
    with pytest.raises(Problem, match="square at both ends"):
        kind("wrap-pdf").make(_struts(), "T1L")
