"""The command line: what it says, its exit codes, and one line for whatever is wrong."""

import json
import math
import re
import subprocess
import sys
from pathlib import Path

import pytest

from ironcage.cli.answers import ANSWERS
from ironcage.cli.main import main
from ironcage.core.answers.prove import stiffness
from ironcage.core.job import edits
from ironcage.core.job.store import file
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.samples import sample
from tests.core.meshes import ball_corners, write_stl


@pytest.fixture
def job_file(sandpiper: Job, tmp_path: Path) -> Path:
    path = tmp_path / "s.cage"
    file.save(sandpiper, path)
    return path


def said(capsys: pytest.CaptureFixture[str], *words: object) -> tuple[int, str, str]:
    code = main([str(w) for w in words])
    out = capsys.readouterr()
    return code, out.out, out.err


def test_answers_as_json_are_the_core_s(job_file: Path, sandpiper: Job, capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = said(capsys, "answer", "prove", job_file, "--json")
    data = json.loads(out)
    assert code == 0
    assert data["torsional_stiffness_n_m_per_deg"] == pytest.approx(
        stiffness.answer(sandpiper).torsion * math.pi / 180e3, abs=0.01
    )
    assert data["strain_energy_share"][0]["share"] >= data["strain_energy_share"][1]["share"]
    assert any("licensed engineer" in a for a in data["assumptions"])
    for step, words in (
        ("frame", "mass kg: 78.288"),
        ("cut", "saddle tip mm"),
        ("jig", "must equal"),
    ):
        code, out, _ = said(capsys, "answer", step, job_file)
        assert code == 0
        assert words in out
    file.save(sample("skerry"), job_file)  # a smaller frame is proven sooner
    assert "assumptions" in said(capsys, "answer", "prove", job_file)[1]


@pytest.mark.parametrize("name", ["sandpiper", "fell-litter", "skerry"])
def test_every_answer_of_every_demo_is_written_so_that_it_can_be_read(
    name: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "a.cage"
    file.save(sample(name), path)
    for step in ANSWERS:
        code, out, err = said(capsys, "answer", step, path)
        assert (code, err) == (0, ""), step
        tables = [line for line in out.splitlines() if "  " in line.strip()]
        assert max((len(line) for line in tables), default=0) < 330, step  # the widest has rows of plain figures alone
        assert not any(odd in out for odd in ("None", "{", "array(")), step
    if name == "fell-litter":
        run = said(capsys, "answer", "run", path)[1]
        assert re.search(r"^shafts\n  shaft +end +shorter mm.*\n  Propshaft +rear +5\.", run, re.MULTILINE)
        assert re.search(r"^axles: rear\n(.*\n)+? +travel mm +roll deg +shift mm", run, re.MULTILINE)


def test_frame_says_its_bays_folds_fittings_and_what_is_not_symmetric(
    sandpiper: Job, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "a.cage"
    job = understand("add panel joints J9L J9R J12R J12L, thickness 1, fixing riveted, pitch 40", sandpiper).job
    file.save(edits.move(edits.unpair(job, ["J16"]), ["J16"], dy=3), path)
    code, out, _ = said(capsys, "answer", "frame", path, "--json")
    told = json.loads(out)
    assert code == 0
    assert told["bays"]["panelled"] == 1
    assert told["fittings"][0]["cut_or_buy"].startswith("sheet 1,")
    assert len(told["folds_if_joints_were_hinges"]) == 19
    assert any(b["in_the_way_of_diagonals"] for b in told["open_bays"])
    assert (
        told["not_symmetric"] == [{"where": ["J16"], "what": "no joint opposite", "by_mm": 0.0}]
        or told["not_symmetric"][0]["by_mm"] == 6.0
    )
    code, out, _ = said(capsys, "answer", "frame", path)
    assert code == 0
    assert "open bays" in out


def test_two_files_and_a_variant_are_compared(
    sandpiper: Job, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    one, other = tmp_path / "one.cage", tmp_path / "other.cage"
    kept = understand("variant keep First: as drawn", sandpiper).job
    file.save(kept, one)
    file.save(understand("tube J9L J12R 25 x 1.5", edits.move(kept, ["J12L"], dz=25)).job, other)
    code, out, _ = said(capsys, "compare", one, other, "--json")
    told = json.loads(out)
    assert code == 0
    assert {t["tube"] for t in told["tubes"] if t["what"].startswith("added")} == {"T74"}
    assert {j["joint"]: j["by_mm"] for j in told["joints"]} == {"J12L": [0, 0, 25], "J12R": [0, 0, 25]}
    assert "frame mass" in {f["figure"] for f in told["figures"]}
    code, out, _ = said(capsys, "compare", other, "First", "--json")
    assert {t["what"] for t in json.loads(out)["tubes"]} >= {"gone"}
    code, _, err = said(capsys, "compare", one, "Firts")
    assert code == 2
    assert "There is no variant ‘Firts’. The nearest is First" in err
    assert said(capsys, "compare", one)[0] == 2


def test_the_lines_of_a_drawing_are_brought_into_a_job(
    sandpiper: Job, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    job, drawing, empty = (tmp_path / n for n in ("a.cage", "a.dxf", "b.cage"))
    file.save(sandpiper, job)
    file.save(Job(), empty)
    assert said(capsys, "export", "frame-dxf", job, drawing)[0] == 0
    code, out, _ = said(capsys, "import", "frame", drawing, empty)
    assert (code, out) == (0, "136 tubes and 52 joints came.\n")
    assert len(file.read(empty).tubes) == 136
    code, _, err = said(capsys, "import", "frame", drawing, empty)
    assert code == 2
    assert "Every line has a tube already" in err


def test_check_fails_only_when_something_is_wrong(
    bare: Job, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    clean, loose = tmp_path / "clean.cage", tmp_path / "loose.cage"
    file.save(bare, clean)
    code, out, _ = said(capsys, "check", clean)
    assert code == 0
    assert out.endswith("6 snags, 0 of them wrong\n")
    file.save(edits.add_joint(bare, (500, 100, 900)), loose)
    code, out, _ = said(capsys, "check", loose, "--json")
    assert code == 1
    assert json.loads(out)[0]["where"] == ["J32L", "J32R"]


def test_every_export_from_the_command_line(job_file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert said(capsys, "export", "plan-dxf", job_file, tmp_path / "plan.dxf")[0] == 0
    assert (tmp_path / "plan.dxf").read_text().startswith("  0\nSECTION")
    assert said(capsys, "export", "template-svg", job_file, tmp_path / "t.svg", "T35L:J19L")[0] == 0
    assert b"<svg" in (tmp_path / "t.svg").read_bytes()
    code, _, err = said(capsys, "export", "template-svg", job_file, tmp_path / "t.svg")
    assert (code, err.count("\n")) == (2, 1)
    assert "T35L:J19L" in err


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["answr"], "no command ‘answr’. The nearest is answer."),
        (["answer", "prove"], "Call it so: iron-cage answer"),
        (["answer", "wed", "x.cage"], "There are brief, place, run, frame"),
        (["check", "none.cage"], "There is no file none.cage"),
        (["calc", "notsh"], "The nearest is notch"),
        (["export", "pdf", "a", "b"], "no file kind ‘pdf’"),
        (["check", "x", "--jsn"], "no option ‘--jsn’ here. The nearest is json"),
        (["sample", "sandpipper", "x"], "The nearest is sandpiper"),
        (["demo", "--shot"], "A value is missing after --shot"),
        (["calc", "mass", "/nowhere.json"], "cannot be read"),
    ],
)
def test_what_cannot_be_done_is_one_line_on_stderr_and_exit_2(
    words: list[str], says: str, capsys: pytest.CaptureFixture[str]
) -> None:
    code, out, err = said(capsys, *words)
    assert code == 2
    assert out == ""
    assert says in err
    assert err.count("\n") == 1


def calculated(
    capsys: pytest.CaptureFixture[str], tmp_path: Path, name: str, question: object
) -> tuple[int, dict, str]:
    asked = tmp_path / "q.json"
    asked.write_text(question if isinstance(question, str) else json.dumps(question), "utf-8")
    code, out, err = said(capsys, "calc", name, asked)
    return code, json.loads(out) if out else {}, err


CANTILEVER = {
    "joints": {"a": [0, 0, 0], "b": [1000, 0, 0]},
    "tubes": [{"ends": ["a", "b"], "section": "38 x 2"}],
    "held": {"a": ["x", "y", "z", "rx", "ry", "rz"]},
    "loads": {"b": [0, 0, -100, 0, 0, 0]},
    "shear": False,
}


def test_calc_frame_on_a_cantilever(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    _, result, _ = calculated(capsys, tmp_path, "frame", CANTILEVER)
    i = math.pi / 4 * (19**4 - 17**4)
    assert result["displacements_mm_deg"]["b"][2] == pytest.approx(-100 * 1e9 / (3 * 210_000 * i), rel=1e-7)
    assert result["reactions"]["a"][2] == pytest.approx(100)
    assert result["reactions"]["a"][4] == pytest.approx(-100_000)
    assert result["mass_kg"] == pytest.approx(math.pi * (19**2 - 17**2) * 1000 * 7.85e-6, rel=1e-6)


def test_calc_notch_with_an_offset_and_calc_mass(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    question = {
        "tube": {"section": "20 x 1.5", "start": [0, 5, 400], "end": [0, 5, 0]},
        "onto": {"section": "38 x 2", "start": [-1, 0, 0], "end": [1, 0, 0]},
    }
    _, result, _ = calculated(capsys, tmp_path, "notch", question)
    assert (result["angle_deg"], result["offset_mm"], result["hole_saw_mm"]) == (90, 5, 38)
    assert result["shoulder_mm"] == pytest.approx(19, abs=0.01)
    assert result["saddle_tip_mm"] == pytest.approx(math.sqrt(19**2 - 15**2), abs=0.01)
    beside = {"section": "30 x 2", "start": [0, 0, 0], "end": [0, 100, 100]}  # its upper side passes over the 20 tube
    _, crowded, _ = calculated(capsys, tmp_path, "notch", {**question, "also": [beside]})
    assert crowded["also_cut_to"] == [0]
    assert crowded["shoulder_mm"] == pytest.approx(15 * math.sqrt(2) + 15, abs=0.01)  # z = y + R√2 at y = 15
    _, result, _ = calculated(
        capsys,
        tmp_path,
        "mass",
        {
            "parts": [{"mass": 300, "at": [-1000, 0, 300]}, {"mass": 100, "at": [-200, 40, 700]}],
            "front_x": 0,
            "rear_x": -2000,
        },
    )
    assert result["cg_mm"] == pytest.approx([-800, 10, 400])
    assert result["front_share"] == pytest.approx(0.6)


SEAT = {"hip": [-1330, 280, 320], "back_deg": 25, "pedals": [-470, 280, 340], "floor": 240, "wheel": [-950, 280, 650]}
FINAL = {
    "pitch_mm": 15.875,
    "driving": {"teeth": 15, "at": [0, 60, 330]},
    "driven": {"teeth": 40, "at": [-430, 62, 300]},
}


def test_calc_chain_driver_and_stance(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    _, result, _ = calculated(capsys, tmp_path, "chain", FINAL | {"travel": [[0, 0, 60]]})
    assert result["links"] % 2 == 0
    assert result["offset_mm"] == pytest.approx(2)
    assert result["pitches_needed_over_travel"][0] > result["pitches_needed"] - 1
    _, result, _ = calculated(
        capsys, tmp_path, "driver", {"stature_mm": 1780, "limbs_mm": {"thigh": 450}, "seat": SEAT}
    )
    assert result["limbs_mm"]["thigh"] == 450
    assert math.dist(result["points_mm"]["left hip"], result["points_mm"]["left knee"]) == pytest.approx(450, abs=0.01)
    assert result["short_mm"] == {}
    parts = {
        "parts": [{"mass": 400, "at": [-800, 0, 400]}],
        "front_x": 0,
        "rear_x": -2000,
        "front_track": 1400,
        "rear_track": 1400,
    }
    _, result, _ = calculated(capsys, tmp_path, "mass", parts)
    assert result["corners_kg"] == pytest.approx([120, 120, 80, 80])
    assert math.tan(math.radians(result["tips_left_deg"])) == pytest.approx(700 / 400, rel=1e-5)
    code, _, said = calculated(capsys, tmp_path, "mass", {**parts, "rear_x": -1e-308})
    assert (code, "do not stand ahead of the rear ones" in said) == (2, True)


def test_a_scan_is_brought_in_once_its_unit_is_said(
    job_file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    scan = write_stl(tmp_path / "Pump.stl", ball_corners(0.09, 16))
    code, _, err = said(capsys, "import", "scan", scan, job_file)
    assert code == 2
    assert "Its size suggests --unit m" in err
    code, out, _ = said(capsys, "import", "scan", scan, job_file, "--unit", "m")
    assert code == 0
    assert "Pump" in out
    assert file.read(job_file).parts[-1].name == "Pump"
    assert "no unit" in said(capsys, "import", "scan", scan, job_file, "--unit", "ell")[2]
    assert "The nearest is scan" in said(capsys, "import", "scam", scan, job_file)[2]


def test_place_and_brief_from_the_command_line_find_what_the_window_finds(
    job_file: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    made = json.loads(said(capsys, "answer", "place", job_file, "--json")[1])
    assert made["clashes"][0] | {"gap_mm": 0, "at_mm": 0} == {
        "one": "Final drive",
        "other": "T68L",
        "state": "overlap",
        "gap_mm": 0,
        "wanted_mm": 12.0,
        "at_mm": 0,
        "piece": "driven wheel at droop",
    }
    assert made["cannot_come_out"][0]["by"] == "T62L T62R"
    assert [p["name"] for p in made["people"]] == ["Bryn", "Ottilie"]
    told = said(capsys, "answer", "place", job_file)[1]
    assert "knee to wheel" in told
    made = json.loads(said(capsys, "answer", "brief", job_file, "--json")[1])
    assert [r["rule"] for r in made["rules"] if r["verdict"] == "fail"] == ["R10"]
    assert next(t for t in made["targets"] if t["target"] == "mass")["met"] == "no"


@pytest.mark.parametrize(
    ("name", "question", "says"),
    [
        ("frame", "{", "is not JSON"),
        ("frame", "[" * 100_000, "nested too deeply|not JSON"),
        ("frame", CANTILEVER | {"hold": 1}, "The nearest is held"),
        ("frame", CANTILEVER | {"loads": {"c": [0] * 6}}, "‘c’, which is not among the joints"),
        ("frame", CANTILEVER | {"held": {"a": ["up"]}}, "‘up’, which is no axis"),
        ("frame", CANTILEVER | {"held": {}}, "mechanism"),
        ("frame", CANTILEVER | {"joints": {"a": [0, 0, 0], "b": [0, 0, 0]}}, "has no length"),
        ("frame", json.dumps(CANTILEVER).replace("1000", "NaN"), "joints.b"),
        ("mass", {"parts": [{"mass": -1, "at": [0, 0, 0]}]}, "parts.0.mass"),
        (
            "notch",
            {
                "tube": {"section": "20 x 1.5", "start": [0, 50, 9], "end": [0, 50, 0]},
                "onto": {"section": "38 x 2", "start": [0, 0, 0], "end": [1, 0, 0]},
            },
            "passes beside what it should land on",
        ),
        ("chain", FINAL | {"driven": {"teeth": 40, "at": [-90, 60, 300]}}, "overlap"),
        ("chain", FINAL | {"pitch_mm": 0}, "pitch_mm"),
        ("driver", {"seat": SEAT}, "has no size"),
        ("driver", {"stature_mm": 1700, "limbs_mm": {"tigh": 4}, "seat": SEAT}, "no limb ‘tigh’"),
        ("driver", {"stature_mm": 1700, "limbs_mm": {"thigh": 45}, "seat": SEAT}, "makes no person"),
    ],
)
def test_a_calculator_names_the_culprit(
    name: str, question: object, says: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    import re

    code, _, err = calculated(capsys, tmp_path, name, question)
    assert code == 2
    assert re.search(says, err), err
    assert err.count("\n") == 1


def test_the_core_answers_without_qt(job_file: Path) -> None:
    """Answers and exports start no screen: the modules of Qt and VTK are never imported."""
    script = (
        "import sys; from ironcage.cli.main import main; code = main(sys.argv[1:]); "
        "assert not [m for m in sys.modules if m.startswith(('PyQt6', 'vtk'))]; sys.exit(code)"
    )
    done = subprocess.run(
        [sys.executable, "-c", script, "answer", "jig", str(job_file)], check=False, capture_output=True, text=True
    )
    assert done.returncode == 0, done.stderr
    assert "stands" in done.stdout


def test_the_shop_files_of_place_from_the_command_line(
    job_file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    job = understand("pattern Hub 1-2 80, 2-3 80, 1-3 80 dia 8", file.read(job_file)).job
    file.save(understand("variant keep One: as drawn", job).job, job_file)
    assert said(capsys, "export", "plate-dxf", job_file, tmp_path / "hub.dxf", "Hub")[0] == 0
    assert (tmp_path / "hub.dxf").read_text().count("CIRCLE") >= 3
    code, _, err = said(capsys, "export", "plate-dxf", job_file, tmp_path / "hub.dxf")
    assert (code, "Which bolt pattern" in err) == (2, True)
    assert said(capsys, "export", "mockup-pdf", job_file, tmp_path / "mock.pdf")[0] == 0
    assert (tmp_path / "mock.pdf").read_bytes().startswith(b"%PDF")
    for kind, ending in (("mockup-csv", "csv"), ("points-dxf", "dxf"), ("shelf-json", "json")):
        assert said(capsys, "export", kind, job_file, tmp_path / f"out.{ending}")[0] == 0
    made = json.loads(said(capsys, "answer", "place", job_file, "--json")[1])
    assert made["bolt_patterns"][0]["pattern"] == "Hub"
    made = json.loads(said(capsys, "answer", "brief", job_file, "--json")[1])
    assert made["variants"][0]["wheelbase"] == 2300
    assert said(capsys, "import", "shelf", tmp_path / "out.json", job_file)[1].startswith("10 parts")
    empty = tmp_path / "empty.cage"
    file.save(Job(), empty)
    for step in ("brief", "place"):
        code, out, _ = said(capsys, "answer", step, empty)
        assert code == 0
        assert out


def test_calc_pattern_and_bolt(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    _, result, _ = calculated(capsys, tmp_path, "pattern", {"taped": [[1, 2, 30], [2, 3, 40], [1, 3, 50]]})
    assert result["holes_mm"]["2"] == [30, 0]
    assert result["holes_mm"]["3"] == pytest.approx([30, 40], abs=1e-3)
    assert result["worst_mm"] < 1e-3
    _, result, _ = calculated(capsys, tmp_path, "bolt", {"bolt": 10, "through_mm": 50, "wall_mm": 3, "lean_deg": 10})
    assert result["far_hole_off_mm"] == pytest.approx(47 * math.tan(math.radians(10)), abs=1e-3)
    assert "no bolt ‘M9’" in calculated(capsys, tmp_path, "bolt", {"bolt": 9, "through_mm": 50})[2]


def test_calc_bend_marks_a_hoop_and_calc_section_compares(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    hoop = {"points": [[0, 500, 0], [0, 500, 900], [0, -500, 900], [0, -500, 0]], "radius_mm": 150}
    _, result, _ = calculated(capsys, tmp_path, "bend", hoop)
    assert result["length_mm"] == pytest.approx(2 * 750 + 700 + math.pi * 150, abs=1e-3)
    assert result["straights_mm"] == [750, 700, 750]
    assert [(b["start_mm"], b["deg"], b["clock_deg"]) for b in result["bends"]] == [
        (750, 90, 0),
        (pytest.approx(750 + 75 * math.pi + 700, abs=1e-3), 90, 0),
    ]
    assert "bends of 600 mm radius need 1200.0 mm" in calculated(capsys, tmp_path, "bend", hoop | {"radius_mm": 600})[2]
    assert "800 mm of it straight for the bender" in calculated(capsys, tmp_path, "bend", hoop | {"grip_mm": 800})[2]
    _, result, _ = calculated(capsys, tmp_path, "section", {"section": "38 x 2", "beside": "38 x 1"})
    assert result["area_mm2"] == pytest.approx(math.pi * 36 * 2, abs=1e-3)
    assert result["beside"]["area_mm2"] == pytest.approx(72 / 37, abs=1e-4)
    assert result["kg_per_m"] == pytest.approx(math.pi * 72 * 7.85e-3, rel=1e-4)
    assert (
        "There is no material ‘cheese’"
        in calculated(capsys, tmp_path, "section", {"section": "38 x 2", "material": "cheese"})[2]
    )


def test_answer_cut_tells_how_a_hoop_is_bent_and_what_to_buy(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    job = Job()
    for line in ("die 38 clr 114", "hoop main 38 x 2 height 1050 width 1100 at -1400 200"):
        job = understand(line, job).job
    file.save(job, tmp_path / "hoop.cage")
    _, out, _ = said(capsys, "answer", "cut", tmp_path / "hoop.cage", "--json")
    piece = json.loads(out)["pieces"][0]
    assert [(b["deg"], b["radius_mm"]) for b in piece["bends"]] == [(90, 114), (90, 114)]
    assert piece["bends"][0]["start_mm"] == pytest.approx(1050 - 114)
    assert piece["buy"] == "38 x 2"
    assert said(capsys, "export", "cut-csv", tmp_path / "hoop.cage", tmp_path / "cut.csv")[0] == 0
    assert "936.00 90.0 0.0 114.00; " in (tmp_path / "cut.csv").read_text("utf-8")


def test_points_are_tuned_into_their_bands_and_written(
    sandpiper: Job, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path, out = tmp_path / "in.cage", tmp_path / "out.cage"
    file.save(understand("band front toe in -0.1 to 0.1", sandpiper).job, path)
    code, text, _ = said(capsys, "tune", path, "front", "15 mm", out, "tie rod, inner", "tie rod, outer")
    made = json.loads(text)
    assert code == 0
    assert made["before"][0]["outside_by"] > 0
    assert made["after"][0]["outside_by"] == 0
    assert [m["point"] for m in made["moves"]] == ["tie rod, inner", "tie rod, outer"]
    assert file.read(out).wishbones[0].tie_in != sandpiper.wishbones[0].tie_in
    code, _, why = said(capsys, "tune", path, "middle", "15", out, "tie rod, inner")
    assert (code, "‘middle’ is no axle" in why) == (2, True)
