"""Run from a terminal: calculators on links, bars, leaves and rockers, the whole answer, papers and what comes in."""

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from ironcage.cli.main import main
from ironcage.core.answers.run.captured import INNER, OUTER
from ironcage.core.calc.car.leaf import Leaf
from ironcage.core.calc.car.springs import bar_stiffness
from ironcage.core.calc.linkage.rodends import Eye
from ironcage.core.job.store import file
from ironcage.core.job.values.model import Job
from ironcage.samples import sample
from tests.core.lines import typed


@pytest.fixture
def calc(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> Any:
    """Asks a calculator; gives the exit code, the result and what was refused."""

    def ask(name: str, question: dict[str, Any]) -> tuple[int, dict[str, Any], str]:
        asked = tmp_path / "asked.json"
        asked.write_text(json.dumps(question))
        code = main(["calc", name, str(asked)])
        out = capsys.readouterr()
        return code, json.loads(out.out) if out.out else {}, out.err

    return ask


def test_calc_rodend_tells_the_limit_the_spacer_and_the_tube(calc: Any) -> None:
    question = {"head": 29, "housing": 10.5, "ball": 14, "tilt_deg": 15, "length": 366, "shank": 48, "engaged": 22}
    code, told, _ = calc("rodend", {**question, "lip": 4})
    eye = Eye(29, 10.5, 14)
    assert code == 0
    assert told["can_tilt_deg"] == pytest.approx(math.degrees(eye.limit), abs=1e-3)
    assert told["spacer_each_side"] == pytest.approx(eye.spacer(math.radians(15)), abs=1e-3)
    assert told["tube"] == 306.0
    assert calc("rodend", {**question, "tilt_deg": 60, "head": 12})[1]["spacer_each_side"] is None
    assert "no wider than its housing" in calc("rodend", {**question, "ball": 10})[2]
    assert "needs shank and engaged" in calc("rodend", {"head": 29, "housing": 10, "ball": 14, "length": 300})[2]


def test_calc_rollbar_tells_stiffness_twist_and_stress(calc: Any) -> None:
    question = {"od": 22, "bore": 16, "length": 760, "arm": 180, "ratio": 0.6, "track": 1320}
    _, told, _ = calc("rollbar", question)
    held = bar_stiffness(22, 16, 760, 180, 0.6, 1320)
    assert told["roll_stiffness_Nm_per_deg"] == pytest.approx(held * math.pi / 180e3, abs=1e-3)
    assert told["twist_deg_per_deg"] == pytest.approx(0.6 * 1320 / 180)
    torque = held * math.radians(1) / told["twist_deg_per_deg"]  # by virtual work, N·mm for a degree of lean
    polar = math.pi / 32 * (22**4 - 16**4)
    assert told["shear_MPa_per_deg"] == pytest.approx(torque * 11 / polar, rel=1e-4)
    assert "leaves nothing of the bar" in calc("rollbar", {**question, "bore": 22})[2]


def test_calc_leaf_tells_rate_stress_and_shackle(calc: Any) -> None:
    question = {"front": 480, "rear": 520, "wide": 50, "thick": 6, "full": 1, "stepped": 3, "arch": 70, "shackle": 80}
    _, told, _ = calc("leaf", {**question, "lean_deg": 8, "load": 2200, "travel": [-50, 0, 300]})
    leaf = Leaf(480, 520, 50, 6, 3, 1, 70, 80, math.radians(8))
    assert told["rate"] == pytest.approx(leaf.rate, abs=1e-4)
    assert told["stress_MPa"] == pytest.approx(leaf.stress(leaf.bending(2200)), abs=0.01)
    at = {row["travel"]: row for row in told["positions"]}
    assert at[0]["eyes_apart"] == at[0]["back"] == 0
    assert at[0]["shackle_deg"] == pytest.approx(8)
    assert at[300]["shackle_deg"] is None  # it tips over
    _, across, _ = calc("leaf", {**question, "across": True, "load": 900})
    assert across["rate"] == pytest.approx(leaf.end_rate, abs=1e-4)
    assert across["stress_MPa"] == pytest.approx(leaf.stress(900 * 480), abs=0.01)
    assert "one leaf at least" in calc("leaf", {**question, "full": 0, "stepped": 0})[2]


CORNER = {
    "lower": [[150, 200, 190], [-160, 215, 195]],
    "lower_out": [5, 590, 180],
    "upper": [[120, 250, 370], [-140, 255, 365]],
    "upper_out": [-18, 560, 400],
    "tie_in": [-95, 230, 245],
    "tie_out": [-100, 580, 240],
    "wheel": [0, 660, 285],
    "tyre_radius": 285,
    "spring_in": [8, 60, 420],
    "spring_out": [11, 262, 412],
    "travel": [-10, 0, 10],
}
ROCKER = {"pivot": [10, 260, 470], "axis": [110, 260, 470], "push_in": [12, 300, 510], "push_out": [0, 500, 210]}


def test_calc_corner_takes_a_rocker(calc: Any) -> None:
    _, told, _ = calc("corner", {**CORNER, "rocker": ROCKER})
    down, rest, up = told["positions"]
    assert rest["spring"] == pytest.approx(math.dist(CORNER["spring_in"], CORNER["spring_out"]))
    assert rest["motion_ratio"] == pytest.approx((down["spring"] - up["spring"]) / 20, rel=0.02)
    same = {**ROCKER, "axis": ROCKER["pivot"]}
    assert "axis has no direction" in calc("corner", {**CORNER, "rocker": same})[2]


def test_the_answer_tells_links_shafts_leaves_and_bands(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    def told(job: Job) -> dict[str, Any]:
        path = tmp_path / "job.cage"
        file.save(job, path)
        assert main(["answer", "run", str(path), "--json"]) == 0
        return json.loads(capsys.readouterr().out)

    fell = told(typed(sample("fell-litter"), "band rear shift -10 to 10"))
    assert [link["link"] for link in fell["links"]] == ["lower link", "upper link", "track rod"]
    assert fell["shafts"][0]["shaft"] == "Propshaft"
    assert fell["shafts"][0]["longer_mm"] == pytest.approx(13.461, abs=0.01)
    assert fell["bands"][0]["outside_by"] > 20
    skerry = told(typed(sample("skerry"), "beam front leaf front 300 rear 330 wide 40 thick 5 base 420 shackle 60"))
    (leaf,) = skerry["leaf_springs"]
    assert leaf["wheel_rate_N_per_mm"] == pytest.approx(Leaf(300, 330, 40, 5, 0, 1).rate, abs=1e-3)
    assert leaf["shackle_deg"][1] == 0


def test_a_donors_corner_is_imported_and_an_arm_exported(
    sandpiper: Job, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    car, card, arm = tmp_path / "car.cage", tmp_path / "card.csv", tmp_path / "arm.cage"
    file.save(typed(Job(), "wheels front 0 700 290 dia 580 width 165"), car)
    hung = sandpiper.wishbones[0]
    inner = [sandpiper.joint(n).place for n in (*hung.lower, *hung.upper, hung.spring)]
    outer = [hung.lower_out, hung.upper_out, hung.tie_in, hung.tie_out, hung.spring_out, (0.0, 660.0, 280.6)]
    rows = [f"front {name}, {x}, {y}, {z}" for name, (x, y, z) in zip((*INNER, *OUTER), (*inner, *outer), strict=True)]
    card.write_text("\n".join(["name, x mm, y mm, z mm", *rows]))
    assert main(["import", "corner", str(card), str(car)]) == 0
    made = file.read(car)
    assert np.subtract(made.wishbones[0].lower_out, hung.lower_out) == pytest.approx([0, 40, 9.4])
    assert main(["export", "arm-cage", str(car), str(arm), "front lower"]) == 0
    assert len(file.read(arm).tubes) == 16
    capsys.readouterr()
    assert main(["export", "arm-cage", str(car), str(arm), "front lower"]) == 2  # a job is not written over
    assert "Name a file that is not there yet" in capsys.readouterr().err
    assert main(["export", "capture-pdf", str(car), str(tmp_path / "card.pdf")]) == 2
    assert "Which end?" in capsys.readouterr().err
    assert main(["export", "capture-pdf", str(car), str(tmp_path / "card.pdf"), "rear"]) == 0
