"""Scan meshes of every kind in, and every kind of bad one refused in a sentence."""

from functools import partial
from pathlib import Path

import numpy as np
import pytest

from ironcage.core.exchange.meshes import guessed_unit, read_mesh
from ironcage.problem import Problem
from tests.core.meshes import ball_corners, write_obj, write_ply, write_stl, write_text_stl

BALL = ball_corners(120.0, 24, (10, 20, 300))
KINDS = {
    "a.stl": write_stl,
    "b.stl": write_text_stl,
    "c.obj": write_obj,
    "d.ply": partial(write_ply, form="ascii"),
    "e.ply": partial(write_ply, form="binary_little_endian"),
    "f.ply": partial(write_ply, form="binary_big_endian"),
}


@pytest.mark.parametrize("name", KINDS)
def test_a_mesh_comes_in_as_it_was_written(name: str, tmp_path: Path) -> None:
    told: list[float] = []
    read = read_mesh(KINDS[name](tmp_path / name, BALL), told.append)
    assert len(read.mesh.faces) == len(BALL)
    assert read.mesh.bounds == pytest.approx(
        np.array([BALL.reshape(-1, 3).min(axis=0), BALL.reshape(-1, 3).max(axis=0)]), abs=1e-3
    )
    assert read.guess == "mm"
    assert told == sorted(told)
    assert told[-1] == 1.0
    if name.endswith("stl"):  # corners welded, so the mesh is known to be closed
        assert read.notes == ()


def test_a_mesh_in_metres_or_inches_is_guessed_and_made_mm(tmp_path: Path) -> None:
    read = read_mesh(write_stl(tmp_path / "m.stl", BALL / 1000))
    assert read.guess == "m"
    assert np.ptp(read.in_mm("m").bounds[:, 0]) == pytest.approx(240, abs=0.1)
    assert [guessed_unit(v) for v in (0.4, 18, 700)] == ["m", "inch", "mm"]
    with pytest.raises(Problem, match="no unit"):
        read.in_mm("furlong")


def test_inside_out_is_turned_and_open_is_told(tmp_path: Path) -> None:
    read = read_mesh(write_stl(tmp_path / "i.stl", BALL[:, ::-1]))
    assert read.mesh.volume > 0
    assert "inside out" in read.notes[0]
    assert "is open" in read_mesh(write_stl(tmp_path / "o.stl", BALL[:-9])).notes[0]


def test_reading_can_be_stopped(tmp_path: Path) -> None:
    def stop(share: float) -> None:
        raise InterruptedError

    with pytest.raises(InterruptedError):
        read_mesh(write_stl(tmp_path / "s.stl", BALL), stop)


@pytest.mark.parametrize(
    ("name", "spoil", "says"),
    [
        ("a.stl", lambda d: d[:-200], "is cut off: it promises"),
        ("a.stl", lambda d: d[:84].replace(d[80:84], bytes(4)), "holds no triangle"),
        ("a.stl", lambda d: d[:80] + (3_000_000).to_bytes(4, "little") + bytes(50 * 3_000_000), "3,000,000 triangles"),
        ("a.stl", lambda d: b"hello", "not an STL"),
        ("a.stl", lambda d: d.replace(d[96:100], b"\x00\x00\x80\x7f"), "no place"),
        ("b.stl", lambda d: d[:-300], "cut off"),
        ("b.stl", lambda d: d.replace(b"vertex", b"vertex x", 1), "no number"),
        ("b.stl", lambda d: b"solid\nendsolid\n", "no triangle"),
        ("c.obj", lambda d: d[: d.index(b"f ")], "no triangle"),
        ("c.obj", lambda d: d.replace(b"f 1", b"f 999999", 1), "names a point that it does not hold"),
        ("c.obj", lambda d: b"# nothing\n", "no point"),
        ("d.ply", lambda d: d[:-400], "cut off"),
        ("e.ply", lambda d: d[:-400], "cut off"),
        ("e.ply", lambda d: b"plx" + d[3:], "not a PLY"),
        ("g.fbx", lambda d: d, "There are STL, OBJ and PLY"),
    ],
)
def test_a_bad_mesh_is_refused_in_one_sentence(name: str, spoil, says: str, tmp_path: Path) -> None:
    path = KINDS.get(name, write_stl)(tmp_path / name, BALL)
    path.write_bytes(spoil(path.read_bytes()))
    with pytest.raises(Problem, match=says) as caught:
        read_mesh(path)
    assert "\n" not in str(caught.value)
