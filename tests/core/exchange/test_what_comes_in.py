"""What comes from elsewhere and what goes out to it: bounded before it is built, refused in a sentence, never
obeyed."""

import csv
import io
import os
import subprocess
import sys
from pathlib import Path

import ezdxf
import pytest

from ironcage.cli.main import main
from ironcage.core.answers.cut import pieces
from ironcage.core.answers.place import placing
from ironcage.core.exchange import lists, wireframe
from ironcage.core.exchange.incoming import incoming
from ironcage.core.exchange.kinds import kind
from ironcage.core.exchange.meshes import read_mesh
from ironcage.core.exchange.points import read_points
from ironcage.core.job import edits
from ironcage.core.job.edits.points import add_points
from ironcage.core.job.store import file
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import MOST_LETTERS, Problem
from ironcage.samples import sample
from ironcage.units import METRIC


def brought(name: str, path: Path, job: Job | None = None, unit: str = "mm") -> Job:
    taken = incoming(name)
    return taken.bring(job or Job(), taken.read(path, lambda share: None), unit)[0]


def refusal(act, *args) -> str:
    with pytest.raises(Problem) as caught:
        act(*args)
    assert "\n" not in str(caught.value)
    return str(caught.value)


def test_blocks_within_blocks_end_and_can_be_stopped(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Twelve blocks that each hold ten of the next stand for 10^12 lines in a few kB; they are counted, here to
    fewer than is usual."""
    monkeypatch.setattr(wireframe, "MOST_ENTITIES", 3_000)
    drawing = ezdxf.new()
    for n in range(12):
        block = drawing.blocks.new(f"B{n}")
        block.add_line((0, 0), (100, 0))
        if n:
            for k in range(10):
                block.add_blockref(f"B{n - 1}", (k, 0))
    drawing.modelspace().add_blockref("B11", (0, 0))
    path = tmp_path / "nested.dxf"
    drawing.saveas(path)
    assert "nested.dxf" in refusal(brought, "frame", path)

    class Stopped(Exception):
        pass

    def stop(share: float) -> None:
        if share > 0.5:
            raise Stopped

    with pytest.raises((Stopped, Problem)):
        incoming("frame").read(path, stop)


@pytest.mark.parametrize(
    ("name", "data"),
    [
        ("face.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf " + b"1 2 3 " * 800_000),
        ("index.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 99999999999999999999\n"),
        ("head.ply", b"ply\nformat ascii 1.0\nelement vertex -1\nproperty float x\nend_header\n"),
        (
            "huge.ply",
            b"ply\nformat binary_little_endian 1.0\nelement vertex 99999999999\nproperty float x\nproperty float y\n"
            b"property float z\nend_header\n",
        ),
        ("odd.ply", b"ply\nformat ascii 1.0\nelement\nproperty\nend_header\n"),
        ("cut.stl", b"\x00" * 83),
    ],
)
def test_spoilt_meshes_are_refused_in_a_sentence(name: str, data: bytes, tmp_path: Path) -> None:
    path = tmp_path / name
    path.write_bytes(data)
    assert name in refusal(read_mesh, path)


def test_points_beyond_a_kilometre_and_lines_that_end_in_anything(tmp_path: Path) -> None:
    far = tmp_path / "far.csv"
    far.write_text("A,0,250,2000000\nB,1,2,3\n", encoding="utf-8")
    assert "reaches 2,000 m from the datum; a job reaches 1,000 m" in refusal(brought, "points", far)
    returns = tmp_path / "returns.csv"
    returns.write_bytes(b"name,x mm,y mm,z mm\rA,0,250,300\rB,10,20,30\r")
    assert [name for name, _ in read_points(returns).named] == ["A", "B"]


def test_a_row_with_a_letter_for_a_digit_is_no_head(tmp_path: Path) -> None:
    path = tmp_path / "points.csv"
    path.write_text("A,0,25O,300\nB,1,2,3\n", encoding="utf-8")
    assert refusal(read_points, path) == "Line 1 of points.csv has no x, y and z: ‘25O’ is no number."


def test_points_keep_the_names_of_joints(tmp_path: Path) -> None:
    path = tmp_path / "points.csv"
    path.write_text("name,x mm,y mm,z mm\nJ40L,0,250,300\nJ40R,0,-250,300\nJ7,100,0,300\n", encoding="utf-8")
    assert {j.id for j in brought("points", path).joints} == {"J40L", "J40R", "J7"}


def test_own_stock_goes_through_a_drawing_as_it_is(box: Job, tmp_path: Path) -> None:
    own = understand("stock Hoop = 45 x 2.5", box).job
    own = understand("section Hoop", own, ("T1L",)).job
    path = tmp_path / "frame.dxf"
    path.write_bytes(kind("frame-dxf").make(own, ""))
    back = brought("frame", path)
    assert {t.section for t in back.tubes} == {t.section for t in own.tubes}
    assert back.section("Hoop").shape == own.section("Hoop").shape


def test_names_are_never_formulas_orders_or_breaks(box: Job, tmp_path: Path, capsys) -> None:
    named = box.but(brief=box.brief.but(name="=1+2\x1b[2J"))
    rows = list(
        csv.reader(io.StringIO(lists.table(["a", "b"], [["=HYPERLINK(1)", "+1"], ["@x", -3.5]], METRIC).decode()))
    )
    assert rows[1:] == [["'=HYPERLINK(1)", "'+1"], ["'@x", "-3.5"]]
    path = tmp_path / "named.cage"
    file.save(named, path)
    assert main(["answer", "brief", str(path)]) == 0
    assert "\x1b" not in capsys.readouterr().out


def test_a_refusal_tells_back_no_more_than_anybody_reads(box: Job) -> None:
    long = "joint " + "x" * 11_000
    said = refusal(understand, long, box)
    assert len(said) <= 2 * MOST_LETTERS + 10


def test_a_reader_that_closes_early_is_no_fault_of_the_program(tmp_path: Path) -> None:
    path = tmp_path / "skerry.cage"
    file.save(sample("skerry"), path)
    source = Path(__file__).parents[3] / "src"
    made = subprocess.run(
        f"'{sys.executable}' -m ironcage answer cut '{path}' | head -c 10",
        shell=True,
        check=False,
        capture_output=True,
        text=True,
        env=os.environ | {"PYTHONPATH": str(source)},
        timeout=120,
    )
    assert "Traceback" not in made.stderr


def test_answers_that_are_kept_can_not_be_written_to(box: Job) -> None:
    with pytest.raises(ValueError, match="read-only"):
        placing.answer(box).weighed.lengths[0] = 1.0
    profile = pieces.answer(box).pieces[0].first.profile
    with pytest.raises(ValueError, match="read-only"):
        profile.cut[0] = 1.0


def test_compare_tells_stiffness_in_the_builders_unit(box: Job, tmp_path: Path, capsys) -> None:
    braced = edits.add_tube(box, "J1L", "J4L", "30 x 1.5 round", "Drawn mild steel tube")
    one, other = tmp_path / "one.cage", tmp_path / "other.cage"
    file.save(box, one)
    file.save(braced, other)
    assert main(["compare", str(one), str(other)]) == 0
    said = capsys.readouterr().out
    assert "N·m/deg" in said
    assert "N·mm/rad" not in said


def test_a_recovery_folder_that_can_not_be_written_stops_nothing(box: Job, tmp_path: Path) -> None:
    from ironcage.core.job.store.journal import Journal, left_behind

    wall = tmp_path / "wall"
    wall.write_text("a file where the folder should be", encoding="utf-8")
    journal = Journal(wall / "recovery", box, None)
    journal.record(edits.move(box, ["J1L"], dz=10))
    assert "Recovery is off" in journal.fault
    journal.close(discard=True)
    assert list(left_behind(wall / "recovery")) == []


def test_points_that_have_a_name_are_called_so(box: Job, tmp_path: Path) -> None:
    path = tmp_path / "points.csv"
    path.write_text("name,x mm,y mm,z mm\nshock top,-600,150,700\nrack left,-200,250,300\n", encoding="utf-8")
    made, came = add_points(box, read_points(path), "mm")
    assert [j.called for j in made.joints[-2:]] == ["shock top", "rack"]
    assert [name for name, _ in came.named] == ["shock top", "rack left"]
