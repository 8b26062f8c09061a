"""Prove on paper, for viewers and for another solver: what is written is what the program says, and the other solver
agrees where it is installed."""

import csv
import io
import math
import re
import shutil
import subprocess
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
import pytest
from pypdf import PdfReader

from ironcage.core.answers.prove import stiffness, strength
from ironcage.core.calc.frames import rigs
from ironcage.core.exchange.kinds import kind
from ironcage.core.exchange.report import CAUTION
from ironcage.core.job.geometry.routes import pieces
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from ironcage.told import plain
from tests.core.lines import typed

PER_DEGREE = math.pi / 180e3


@pytest.fixture(scope="module")
def skerry() -> Job:
    return typed(sample("skerry"), "welds 0.9")


def _text(data: bytes) -> str:
    return " ".join(" ".join(page.extract_text().split()) for page in PdfReader(io.BytesIO(data)).pages)


def test_the_report_tells_every_figure_case_tube_and_assumption(skerry: Job) -> None:
    text = _text(kind("report-pdf").make(skerry, ""))
    told, strong = stiffness.answer(skerry), strength.tube_strength(skerry)
    assert f"{told.torsion * PER_DEGREE:,.0f} N·m/deg" in text
    for case in strong.cases:
        assert case.name in text
    for tube in strong.tubes:
        assert tube.tube in text
    assert "Welds give (joint factor 0.9)" in text
    assert CAUTION.split(":")[0] in text
    for line in (*stiffness.ASSUMPTIONS, *strength.ASSUMED):
        assert " ".join(plain(line).split())[:60] in text
    assert "The roll stiffness of both axles is not known" in text  # what can't be worked out says why, in its place
    assert "two weights at least" in text


def test_the_report_of_a_full_job_tells_balance_and_the_twist_test() -> None:
    job = typed(sample("sandpiper"), "reading 20 kg front 0.05 rear 0.004", "reading 60 kg front 0.156 rear 0.014")
    text = _text(kind("report-pdf").make(job, ""))
    assert "of a small change of the front's share" in text
    assert "Measured" in text
    assert "Rolled on its hoop" in text
    for word in ("safe", "legal", "approved"):
        assert not re.search(rf"\b{word}\b", text, re.IGNORECASE)


def test_a_frame_that_can_not_be_twisted_is_refused_by_every_file(skerry: Job) -> None:
    bare = skerry.but(pickups=())
    for name in ("report-pdf", "shape-vtu", "solver-inp", "strength-csv"):
        with pytest.raises(Problem, match="no pickup at the front left"):
            kind(name).make(bare, "")


def test_strength_as_a_table_is_worst_first_and_whole(skerry: Job) -> None:
    rows = list(csv.DictReader(io.StringIO(kind("strength-csv").make(skerry, "").decode())))
    told = {t.tube: t for t in strength.tube_strength(skerry).tubes}
    assert [float(r["used"]) for r in rows] == sorted((float(r["used"]) for r in rows), reverse=True)
    assert {r["tube"] for r in rows} == set(told)
    for r in rows:
        assert float(r["used"]) == pytest.approx(told[r["tube"]].use, abs=1e-4)
        assert r["case"] == told[r["tube"]].case


def test_a_viewer_reads_the_shape_back_where_it_is(tmp_path: Path, skerry: Job) -> None:
    path = tmp_path / "s.vtu"
    path.write_bytes(kind("shape-vtu").make(skerry, ""))
    reader = pytest.importorskip("vtkmodules.vtkIOXML").vtkXMLUnstructuredGridReader()
    reader.SetFileName(str(path))
    reader.Update()
    grid = reader.GetOutput()
    lines = pieces(skerry, 8)
    assert grid.GetNumberOfCells() == len(lines.owner)
    assert grid.GetPoint(0) == pytest.approx(lines.start[0], abs=1e-3)
    assert grid.GetPoint(1) == pytest.approx(lines.stop[0], abs=1e-3)
    told = strength.tube_strength(skerry)
    names = [grid.GetPointData().GetArrayName(n) for n in range(grid.GetPointData().GetNumberOfArrays())]
    assert "moved by 1000 N m of twist" in names
    assert {f"moved in {c.name}" for c in told.cases} <= set(names)
    used = grid.GetCellData().GetArray("used in static")
    n = [c.name for c in told.cases].index("static")
    assert used.GetValue(0) == pytest.approx(told.uses[:, lines.owner[0], n].max(), rel=1e-5)
    twisted = stiffness.answer(skerry)
    at = grid.GetPointData().GetArray("moved by 1000 N m of twist")
    joint = next(k for k, j in enumerate(skerry.joints) if j.id == skerry.tubes[0].a)
    assert at.GetTuple3(0) == pytest.approx(twisted.twisted[joint, :3], rel=1e-4, abs=1e-6)


def test_a_name_with_angle_brackets_does_not_break_the_grid(skerry: Job) -> None:
    odd = typed(skerry, 'case <Kerb> & "hop": J1L z 900')
    root = ElementTree.fromstring(kind("shape-vtu").make(odd, ""))
    names = [a.get("Name") for a in root.iter("DataArray")]
    assert 'moved in <Kerb> & "hop"' in names


def _displacements(text: str) -> list[np.ndarray]:
    """The tables of displacements in the other solver's list, a step each."""
    blocks = re.split(r"displacements.*\n", text)[1:]
    return [
        np.array([[float(v) for v in line.split()[1:4]] for line in block.splitlines() if line.strip()])
        for block in blocks
    ]


@pytest.mark.skipif(
    shutil.which("ccx") is None, reason="the other solver (Debian package calculix-ccx) is not installed"
)
def test_the_other_solver_twists_a_round_tubed_frame_alike(tmp_path: Path) -> None:
    """Its beams are solids that converge slowly: 3 % of the largest movement, rigid motion left out."""
    job = typed(
        Job(),
        "joint 0 300 250",
        "joint -700 320 250",
        "joint -1400 300 250",
        "joint 0 250 600",
        "joint -700 280 800",
        "joint -1400 250 600",
    )
    for a, b in ((1, 2), (2, 3), (4, 5), (5, 6), (1, 4), (2, 5), (3, 6), (1, 5), (3, 5)):
        job = typed(job, f"tube J{a}L J{b}L 30 x 2")
    for n in range(1, 7):
        job = typed(job, f"tube J{n}L J{n}R 30 x 2")
    job = typed(job, "pickup front", chosen=("J1L",))
    job = typed(job, "pickup rear", chosen=("J3L",))
    job = typed(job, "pin second", chosen=("T1L",))
    (tmp_path / "m.inp").write_bytes(kind("solver-inp").make(job, ""))
    done = subprocess.run(["ccx", "m"], cwd=tmp_path, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout[-800:]
    theirs = _displacements((tmp_path / "m.dat").read_text())[0]
    held = stiffness.rigged(job)
    track = float(held.rig.place("front left")[1] - held.rig.place("front right")[1])
    _, u = held.rig.balanced(rigs.twist_loads(held.rig, stiffness.TORQUE / track)[:, None])
    ours = u.reshape(-1, 6)[:, :3]
    rigid = rigs.rigid_motions(held.rig.frame.nodes).reshape(-1, 6, 6)[:, :3].reshape(-1, 6)

    def shape(moved: np.ndarray) -> np.ndarray:
        return moved.ravel() - rigid @ np.linalg.lstsq(rigid, moved.ravel(), rcond=None)[0]

    a, b = shape(ours), shape(theirs)
    assert np.abs(a - b).max() <= 0.03 * np.abs(a).max()


def test_the_solver_text_names_joints_loads_every_case_and_what_it_leaves_out(skerry: Job) -> None:
    text = kind("solver-inp").make(skerry, "").decode()
    assert "** node 1 is J1L" in text
    assert "left out: the joint factor 0.9" in text
    assert "panels and parts that carry load" in text
    assert "SECTION=BOX" in text
    told = [c.name for c in strength.tube_strength(skerry).cases if not c.held]
    assert text.count("*STEP") == 1 + len(told)
    for name in told:
        assert f"** {name}" in text
    angled = typed(skerry, "section 30 x 30 x 3 angle", chosen=("T1L",))
    assert "angles are bars" in kind("solver-inp").make(angled, "").decode()
