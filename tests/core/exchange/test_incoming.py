"""What comes in from files: scans as parts, points as joints, shelves; there and back, and wrong."""

import math
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import ezdxf
import numpy as np
import pytest

from ironcage.core.answers.findings import checks
from ironcage.core.answers.place import clashes
from ironcage.core.exchange.incoming import incoming
from ironcage.core.exchange.kinds import kind
from ironcage.core.exchange.points import hard_points
from ironcage.core.job import edits
from ironcage.core.job.store import file, scans
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from tests.core.meshes import ball_corners, write_stl


def brought(job: Job, name: str, path: Path, unit: str = "mm") -> tuple[Job, str]:
    taken = incoming(name)
    return taken.bring(job, taken.read(path, lambda share: None), unit)


def test_a_scan_clashes_with_its_own_triangles_not_with_the_box_round_it(box: Job, tmp_path: Path) -> None:
    """A ball of 120 beside the cross tube T8 (x −1200, z 500, radius 15): by hand, distance of middles less both
    radii."""
    job, said = brought(box, "scan", write_stl(tmp_path / "Pump.stl", ball_corners(0.120, 96)), "m")
    assert "9,024 triangles" in said
    part = job.parts[0]
    assert part.name == "Pump"
    job = edits.put_things(job, [part.id], x=-1090.0, y=0.0, z=600.0)
    near = {n.second: n for n in clashes.find_clashes(job).near}
    by_hand = math.hypot(110, 100) - 120 - 15
    assert near["T8"].gap == pytest.approx(by_hand, abs=0.15)  # the ball has flat sides
    turned = edits.put_placed(job, job.parts[0].but(yaw=0.7, roll=1.1))
    assert {n.second: n for n in clashes.find_clashes(turned).near}["T8"].gap == pytest.approx(by_hand, abs=0.15)
    inside = understand("place battery Cell box 30 x 30 x 30 at -1090 0 600", job).job
    cell = inside.parts[-1].id
    assert any(n.state == "overlap" and cell in (n.first, n.second) for n in clashes.find_clashes(inside).near)


def test_a_scan_goes_with_the_file_and_is_missed_when_it_does_not(
    box: Job, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    job, _ = brought(box, "scan", write_stl(tmp_path / "Pump.stl", ball_corners(90, 16)))
    path = tmp_path / "job.cage"
    file.save(job, path)
    assert [p.suffix for p in (tmp_path / "job.cage.scans").iterdir()] == [".npz"]
    monkeypatch.setenv("IRONCAGE_HOME", str(tmp_path / "another shop"))
    assert not any(s.code == "scan missing" for s in checks.find_snags(file.read(path)))
    (tmp_path / "job.cage.scans").rename(tmp_path / "elsewhere")
    monkeypatch.setenv("IRONCAGE_HOME", str(tmp_path / "third shop"))
    lost = file.read(path)
    snag = next(s for s in checks.find_snags(lost.but(joints=(*lost.joints,))) if s.code == "scan missing")
    assert "The mesh of Pump is not here" in snag.what
    (tmp_path / "third shop" / "scans").mkdir(parents=True)
    (tmp_path / "third shop" / "scans" / f"{lost.parts[0].shape.digest}.npz").write_bytes(b"spoilt")
    assert scans.triangles(lost.parts[0].shape.digest) is None


@pytest.mark.parametrize(("name", "ending"), [("joints-csv", ".csv"), ("points-dxf", ".dxf")])
def test_hard_points_go_out_and_come_back_the_same(name: str, ending: str, sandpiper: Job, tmp_path: Path) -> None:
    path = tmp_path / f"points{ending}"
    path.write_bytes(kind(name).make(sandpiper, ""))
    empty = Job(brief=sandpiper.brief)
    job, said = brought(empty, "points", path)
    assert {tuple(round(v, 2) for v in j.place) for j in job.joints} == {
        tuple(round(v, 2) for v in j.place) for j in sandpiper.joints
    }
    assert sum(j.twin is not None for j in job.joints) == len(job.joints)
    assert said.startswith("52 joints came")
    with pytest.raises(Problem, match="has a joint already"):
        brought(job, "points", path)


def test_points_count_in_their_unit_from_the_datum_and_mount_holes_are_points(tmp_path: Path) -> None:
    path = tmp_path / "donor.csv"
    path.write_text("point;x in;y in;z in\nlower front;10;12,5;8\nlower front right;10;-12,5;8\nalone;1;3;8\n")
    job = understand("datum donor at -1000 0 100", Job()).job
    job = understand("datum donor", job).job
    read = incoming("points").read(path, lambda share: None)
    assert read.unit == "in"
    job, _ = incoming("points").bring(job, read, read.unit)
    assert job.joint("J1L").place == pytest.approx((-746, 317.5, 303.2))
    assert [j.twin for j in job.joints] == ["J1R", "J1L", None]
    job = understand("place motor M box 100 x 100 x 100 at 0 0 0", job).job
    job = understand("hole foot at 40, 0, -50 dia 8", understand("set yaw 90", job, ("B1",)).job, ("B1",)).job
    assert dict(hard_points(job))["M: foot"] == pytest.approx((-1000, 40, 50))


def test_a_shelf_is_shared_and_comes_in_with_new_ids(sandpiper: Job, tmp_path: Path) -> None:
    path = tmp_path / "shelf.json"
    path.write_bytes(kind("shelf-json").make(sandpiper, ""))
    job, said = brought(Job(), "shelf", path, "mm")
    assert [p.name for p in job.parts] == [p.name for p in sandpiper.parts]
    assert [p.but(id="B0") for p in job.parts] == [p.but(id="B0") for p in sandpiper.parts]
    assert job.parts[0].id == "B1"
    assert "10 parts" in said


@pytest.mark.parametrize(
    ("name", "file_name", "text", "says"),
    [
        ("points", "a.csv", "", "holds no point"),
        ("points", "a.csv", "name,x,y,z\n", "holds no point"),
        ("points", "a.csv", "a,1,2,3\nb,1,two,3\n", "Line 2 of a.csv has no x, y and z"),
        ("points", "a.dxf", "hello", "not a DXF|no point"),
        ("shelf", "a.json", "{}", "not a shelf file"),
        ("shelf", "a.json", "[[[", "not a shelf file"),
        ("shelf", "a.json", '{"format": "ironcage shelf", "version": 9}', "newer"),
        ("shelf", "a.json", '{"format": "ironcage shelf", "version": 1, "parts": [{"id": 4}]}', "that is not valid"),
    ],
)
def test_what_is_wrong_with_a_file_is_told_in_one_sentence(
    name: str, file_name: str, text: str, says: str, tmp_path: Path
) -> None:
    path = tmp_path / file_name
    path.write_text(text)
    with pytest.raises(Problem, match=says) as caught:
        brought(Job(), name, path)
    assert "\n" not in str(caught.value)


def test_a_coarse_copy_is_there_to_look_at(tmp_path: Path) -> None:
    job, _ = brought(Job(), "scan", write_stl(tmp_path / "Pump.stl", ball_corners(90, 400)))
    look = scans.to_look_at(job.parts[0].shape.digest)
    assert len(look.faces) < job.parts[0].shape.triangles / 2
    assert np.ptp(look.bounds, axis=0) == pytest.approx([180, 180, 180], abs=5)


def test_a_hole_fitted_in_a_scan_becomes_a_mount_hole_and_a_hard_point(tmp_path: Path) -> None:
    job, _ = brought(Job(), "scan", write_stl(tmp_path / "Sump.stl", pierced(9.0)))
    job = edits.put_placed(job, job.parts[0].but(x=-500.0, y=40.0, z=300.0, yaw=math.pi / 2))
    done = understand("fit drain at -500, 40, 300 within 13", job, ("B1",))
    assert "a circle of 18.00 mm" in done.name
    assert dict(hard_points(done.job))["Sump: drain"] == pytest.approx((-500, 40, 300), abs=0.02)
    for line, words in (("fit at 0, 0, 0", "0 facets"), ("fit drain", "Say where to look")):
        with pytest.raises(Problem, match=words):
            understand(line, job, ("B1",))
    with pytest.raises(Problem, match="no scan"):
        understand("fit at 0, 0, 0", understand("place tank 14 at 0 0 300", Job()).job, ("B1",))


def pierced(radius: float) -> np.ndarray:
    """A flat skin with a round hole in its middle."""
    turn = np.linspace(0, 2 * np.pi, 61)
    turn[-1] = 0.0
    grid = np.array(
        [np.column_stack([r * np.cos(turn), r * np.sin(turn), 0 * turn]) for r in np.linspace(radius, 3 * radius, 9)]
    )
    a, b, c, d = grid[:-1, :-1], grid[1:, :-1], grid[1:, 1:], grid[:-1, 1:]
    return np.concatenate([np.stack([a, b, c], 2).reshape(-1, 3, 3), np.stack([a, c, d], 2).reshape(-1, 3, 3)])


def test_lines_of_a_drawing_give_their_ends_once_and_its_unit_is_heeded(tmp_path: Path) -> None:
    drawing = ezdxf.new("R2010", units=1)
    space = drawing.modelspace()
    for a, b in (((0, 10, 0), (10, 10, 0)), ((10, 10, 0), (10, 0, 5)), ((0, -10, 0), (10, -10, 0))):
        space.add_line(a, b)
    drawing.saveas(tmp_path / "donor.dxf")
    read = incoming("points").read(tmp_path / "donor.dxf", lambda share: None)
    assert read.unit == "inch"
    job, said = incoming("points").bring(Job(), read, read.unit)
    assert {j.place for j in job.joints} == {(0, 254, 0), (254, 254, 0), (254, 0, 127), (0, -254, 0), (254, -254, 0)}
    assert said == "5 joints came."
    assert sum(j.twin == j.id for j in job.joints) == 1


def test_two_at_once_ask_for_clashes_and_get_the_same(sandpiper: Job) -> None:
    """The pairs that are kept are shared by threads; an answer must not depend on who asks beside."""
    jobs = [edits.move_things(sandpiper, [sandpiper.parts[0].id], dx=3.0 * n, dz=-2.0 * n) for n in range(6)]
    alone = [clashes.find_clashes(j.but(parts=(*j.parts,))).near for j in jobs]
    with ThreadPoolExecutor(4) as pool:
        together = list(pool.map(lambda j: clashes.find_clashes(j.but(parts=(*j.parts,))).near, jobs * 4))
    for n, near in enumerate(together):
        wanted = {(a.first, a.second): a.gap for a in alone[n % 6]}
        assert {(a.first, a.second): pytest.approx(a.gap, abs=1e-6) for a in near} == wanted
