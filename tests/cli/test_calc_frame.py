"""`calc frame` knows all that Prove's model knows: each part of it against a closed form or the same frame told
otherwise."""

import json
import math
from pathlib import Path
from typing import Any

import pytest

from ironcage.cli.main import main

E, G = 210_000.0, 81_000.0  # MPa, of the library's drawn mild steel
HELD = ["x", "y", "z", "rx", "ry", "rz"]


@pytest.fixture
def ask(tmp_path: Path, capsys: pytest.CaptureFixture[str]):
    def asked(**question: Any) -> dict[str, Any]:
        path = tmp_path / "q.json"
        path.write_text(json.dumps(question))
        code = main(["calc", "frame", str(path)])
        out = capsys.readouterr()
        return json.loads(out.out) if code == 0 else {"refused": out.err}

    return asked


def _beam(**more: Any) -> dict[str, Any]:
    return {
        "joints": {"a": [0, 0, 0], "b": [900, 0, 0]},
        "tubes": [{"ends": ["a", "b"], "section": "38 x 2", **more}],
        "held": {"a": HELD},
        "loads": {"b": [0, 0, -100, 0, 0, 0]},
    }


def _i(od: float, wall: float) -> float:
    return math.pi / 64 * (od**4 - (od - 2 * wall) ** 4)


def test_a_tube_of_corners_is_the_same_as_its_straight_runs(ask) -> None:
    folded = ask(**(_beam(corners=[[300, 0, 100], [600, 0, 100]]) | {"shear": False}))
    joints = {"a": [0, 0, 0], "c": [300, 0, 100], "d": [600, 0, 100], "b": [900, 0, 0]}
    pieces = [{"ends": list(e), "section": "38 x 2"} for e in (("a", "c"), ("c", "d"), ("d", "b"))]
    straight = ask(joints=joints, tubes=pieces, held={"a": HELD}, loads={"b": [0, 0, -100, 0, 0, 0]}, shear=True)
    folded = ask(**_beam(corners=[[300, 0, 100], [600, 0, 100]]))
    assert folded["displacements_mm_deg"]["b"] == pytest.approx(
        straight["displacements_mm_deg"]["b"], rel=1e-6, abs=1e-9
    )
    assert folded["tubes"][0]["von_mises_mpa"] == pytest.approx(
        max(t["von_mises_mpa"] for t in straight["tubes"]), rel=1e-6
    )
    assert folded["mass_kg"] == pytest.approx(straight["mass_kg"], rel=1e-6)


def test_a_bend_may_go_oval(ask) -> None:
    bent = {"corners": [[450, 0, 300]], "radius_mm": 150}
    plain, oval = ask(**_beam(**bent)), ask(**(_beam(**bent) | {"ovalise": True}))
    assert abs(oval["displacements_mm_deg"]["b"][2]) > abs(plain["displacements_mm_deg"]["b"][2])


def test_a_weld_that_gives_and_a_pin(ask) -> None:
    rigid, soft = ask(**(_beam() | {"shear": False})), ask(**(_beam() | {"joint": 0.5, "shear": False}))
    hinge = 3 * E * _i(38, 2) / 900  # r = 0.5: the spring is 3EI/L
    assert soft["displacements_mm_deg"]["b"][2] - rigid["displacements_mm_deg"]["b"][2] == pytest.approx(
        -100 * 900**2 / hinge, rel=1e-6
    )
    assert "mechanism" in ask(**_beam(pinned=[True, False]))["refused"]


def test_an_end_that_lands_beside_its_joint_bends_it(ask) -> None:
    pulled = _beam(beside_mm=[[0, 0, 20], [0, 0, 20]]) | {"loads": {"b": [1000, 0, 0, 0, 0, 0]}}
    told = ask(**pulled)
    assert told["displacements_mm_deg"]["b"][4] == pytest.approx(
        math.degrees(-1000 * 20 * 900 / (E * _i(38, 2))), rel=1e-6
    )


def test_a_taper_and_a_sleeve_stiffen(ask) -> None:
    plain = abs(ask(**_beam())["displacements_mm_deg"]["b"][2])
    tapered = abs(ask(**_beam(section="50 x 2", taper="38 x 2"))["displacements_mm_deg"]["b"][2])
    sleeved = abs(ask(**_beam(sleeves=[{"at_mm": 0, "length_mm": 300, "wall_mm": 3}]))["displacements_mm_deg"]["b"][2])
    assert tapered < plain
    assert sleeved < plain


def test_a_panel_and_a_block_hold_a_bay(ask) -> None:
    corners = {"a": [0, 0, 0], "b": [500, 0, 0], "c": [500, 0, 500], "d": [0, 0, 500]}
    tubes = [{"ends": list(e), "section": "25 x 1.5"} for e in ("ab", "bc", "cd", "da")]
    bay: dict[str, Any] = {
        "joints": corners,
        "tubes": tubes,
        "held": {"a": HELD, "b": HELD},
        "loads": {"d": [100, 0, 0, 0, 0, 0]},
    }
    open_ = ask(**bay)["displacements_mm_deg"]["d"][0]
    sheet = ask(**bay, panels=[{"joints": list("abcd"), "thickness_mm": 1}])["displacements_mm_deg"]["d"][0]
    riveted = ask(**bay, panels=[{"joints": list("abcd"), "thickness_mm": 1, "fixing": "riveted"}])[
        "displacements_mm_deg"
    ]["d"][0]
    block = ask(**bay, blocks=[{"joints": list("abcd"), "mount_n_per_mm": 500}])["displacements_mm_deg"]["d"][0]
    assert sheet < riveted < open_
    assert block < open_
    shear = 100 / (G * 1 * 500) * 500
    assert sheet == pytest.approx(shear, rel=0.6)  # sheet and frame share, the sheet most of it


def test_strength_buckling_and_modes_of_a_strut(ask) -> None:
    strut = _beam() | {"loads": {"b": [-1000, 0, 0, 0, 0, 0]}, "buckling": True, "modes": 3, "shear": False}
    told = ask(**strut)
    euler = math.pi**2 * E * _i(38, 2) / (4 * 900**2)
    assert told["buckling_factor"] == pytest.approx(euler / 1000, rel=1e-4)
    area = math.pi / 4 * (38**2 - 34**2)
    assert told["tubes"][0]["von_mises_mpa"] == pytest.approx(1000 / area, rel=1e-4)
    assert set(told["tubes"][0]["used"]) == {"yield", "at the weld", "column"}
    per_mm = told["mass_kg"] / 900
    first = 1.8751040687**2 / (2 * math.pi * 900**2) * math.sqrt(E * _i(38, 2) / (per_mm * 1e-3))
    assert told["modes"][0]["hz"] == pytest.approx(first, rel=2e-3)
    pulled = ask(**(strut | {"loads": {"b": [1000, 0, 0, 0, 0, 0]}}))
    assert pulled["buckling_factor"] is None


def test_modes_alone_ask_for_no_supports_and_take_masses(ask) -> None:
    question = {k: v for k, v in _beam().items() if k in ("joints", "tubes")}
    bare, heavy = ask(**question, modes=2), ask(**question, modes=2, masses={"b": 10})
    assert "displacements_mm_deg" not in bare
    assert heavy["modes"][0]["hz"] < bare["modes"][0]["hz"]


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"panels": [{"joints": ["a", "b", "q"], "thickness_mm": 1}]}, "panel 0 names joint ‘q’"),
        ({"blocks": [{"joints": ["a", "q"]}]}, "block 0 names joint ‘q’"),
        ({"masses": {"q": 3}, "modes": 1}, "masses names joint ‘q’"),
        ({"joint": 0}, "joint: input should be greater"),
        ({"modes": 99}, "modes: input should be less"),
        ({"tubes": [{"ends": ["a", "b"], "corners": [[450, 0, 300]], "radius_mm": 9e3}]}, "tube 0"),
        ({"tubes": [{"ends": ["a", "b"], "section": "20 x 11"}]}, "over half its size"),
    ],
)
def test_bad_questions_are_refused_in_a_line(ask, change: dict[str, Any], says: str) -> None:
    told = ask(**(_beam() | change))
    assert says in told.get("refused", ""), told
    assert told["refused"].count("\n") == 1


@pytest.mark.parametrize(
    "more",
    [
        {"taper": "38 x 2"},
        {"corners": [[450, 0, 0]]},
        {"sleeves": [{"at_mm": 100, "length_mm": 1, "wall_mm": 0.001}]},
        {"beside_mm": [[0, 0, 0], [0.0001, 0, 0]]},
    ],
)
def test_shear_can_be_left_out_of_every_kind_of_tube(ask, more: dict[str, Any]) -> None:
    """A cantilever of 38 x 2 by Euler and Bernoulli alone, PL³/3EI, however the tube is told."""
    told = ask(**(_beam(**more) | {"shear": False}))
    assert told["displacements_mm_deg"]["b"][2] == pytest.approx(-100 * 900**3 / (3 * E * _i(38, 2)), rel=1e-5)
    stiff = ask(**_beam(**more))
    assert (
        stiff["displacements_mm_deg"]["b"][2] < told["displacements_mm_deg"]["b"][2] * 1.001
    )  # shear bends it further


def test_a_sleeve_starts_where_it_is_said_and_weighs(ask) -> None:
    plain, sleeved = ask(**_beam()), ask(**_beam(sleeves=[{"at_mm": 600, "length_mm": 300, "wall_mm": 3}]))
    area = math.pi / 4 * (44**2 - 38**2)
    assert sleeved["mass_kg"] - plain["mass_kg"] == pytest.approx(area * 300 * 7850e-9, rel=0.01)
    pieces = [{"ends": ["a", "c"], "section": "38 x 2"}, {"ends": ["c", "b"], "section": {"od_mm": 44, "wall_mm": 5}}]
    joints = {"a": [0, 0, 0], "c": [600, 0, 0], "b": [900, 0, 0]}
    built = ask(joints=joints, tubes=pieces, held={"a": HELD}, loads={"b": [0, 0, -100, 0, 0, 0]}, shear=False)
    sleeved = ask(**(_beam(sleeves=[{"at_mm": 600, "length_mm": 300, "wall_mm": 3}]) | {"shear": False}))
    assert sleeved["displacements_mm_deg"]["b"][2] == pytest.approx(built["displacements_mm_deg"]["b"][2], rel=1e-6)


def test_modes_are_of_the_frame_as_it_is_held(ask) -> None:
    """The same beam free, clamped at one end and at both: 4.730, 1.875 and 4.730 over its length, the first and the
    last with other shapes."""
    base = {k: v for k, v in _beam().items() if k != "loads"} | {"modes": 1, "shear": False}
    hz = [ask(**(base | {"held": held}))["modes"][0]["hz"] for held in ({}, {"a": HELD}, {"a": HELD, "b": HELD})]
    assert hz[1] / hz[0] == pytest.approx((1.8751040687 / 4.730040745) ** 2, rel=2e-3)
    assert hz[2] == pytest.approx(hz[0], rel=2e-3)


def test_two_frames_that_are_each_held_are_worked_out_together_and_a_loose_one_is_refused(ask) -> None:
    two = {
        "joints": {"a": [0, 0, 0], "b": [900, 0, 0], "c": [0, 500, 0], "d": [900, 500, 0]},
        "tubes": [{"ends": ["a", "b"], "section": "38 x 2"}, {"ends": ["c", "d"], "section": "38 x 2"}],
        "held": {"a": HELD, "c": HELD}, "loads": {"b": [0, 0, -100, 0, 0, 0], "d": [0, 0, -200, 0, 0, 0]},
    }  # fmt: skip
    told = ask(**two)["displacements_mm_deg"]
    assert told["b"][2] == pytest.approx(ask(**_beam())["displacements_mm_deg"]["b"][2])
    assert told["d"][2] == pytest.approx(2 * told["b"][2])
    assert "in 2 pieces: c, d are not joined to the rest" in ask(**(two | {"held": {"a": HELD}}))["refused"]


def test_a_section_and_a_material_by_their_figures_are_those_of_the_library(ask) -> None:
    area, i = math.pi / 4 * (38**2 - 34**2), _i(38, 2)
    figures = {"area_mm2": area, "i_y_mm4": i, "i_z_mm4": i, "j_mm4": 2 * i}
    steel = {"e_mpa": E, "g_mpa": G, "density_kg_m3": 7850}
    told = ask(**(_beam(section=figures, material=steel) | {"modes": 2}))
    named = ask(**(_beam() | {"shear": False, "modes": 2}))
    assert told["displacements_mm_deg"]["b"] == pytest.approx(named["displacements_mm_deg"]["b"], rel=1e-6)
    assert [m["hz"] for m in told["modes"]] == pytest.approx([m["hz"] for m in named["modes"]], rel=1e-6)
    assert told["mass_kg"] == pytest.approx(named["mass_kg"], rel=1e-6)
    assert told["tubes"][0]["von_mises_mpa"] is told["tubes"][0]["used"] is None  # neither fibres nor yield were given
    more = figures | {"far_y_mm": 19, "far_z_mm": 19, "torsion_modulus_mm3": 2 * i / 19}
    strong = ask(**_beam(section=more, material=steel | {"yield_mpa": 355}))["tubes"][0]
    assert strong["von_mises_mpa"] == pytest.approx(100 * 900 * 19 / i, rel=1e-3)
    assert strong["used"]["yield"] == pytest.approx(strong["von_mises_mpa"] / 355, rel=1e-3)
    sharp = {"width_mm": 40, "height_mm": 40, "wall_mm": 2}
    down = ask(**(_beam(section=sharp) | {"shear": False}))["displacements_mm_deg"]["b"][2]
    assert down == pytest.approx(-100 * 900**3 * 12 / (3 * E * (40**4 - 36**4)), rel=1e-6)


def test_any_of_six_freedoms_can_be_let_go_of_at_an_end(ask) -> None:
    """A beam clamped at both ends whose second end slides sideways or turns freely, against the closed forms, and a
    pin told as three releases."""
    both = _beam() | {"held": {"a": HELD, "b": HELD}, "loads": {}}
    middle = {
        "joints": {"a": [0, 0, 0], "m": [450, 0, 0], "b": [900, 0, 0]}, "held": {"a": HELD, "b": HELD}, "shear": False,
        "loads": {"m": [0, 0, -100, 0, 0, 0]},
    }  # fmt: skip

    def sag(*axes: str) -> float:
        tubes = [
            {"ends": ["a", "m"], "section": "38 x 2"},
            {"ends": ["m", "b"], "section": "38 x 2", "released": [[], list(axes)]},
        ]
        return -ask(**(middle | {"tubes": tubes}))["displacements_mm_deg"]["m"][2]

    ei = E * _i(38, 2)
    assert sag() == pytest.approx(100 * 900**3 / 192 / ei, rel=1e-6)
    assert sag("ry") == pytest.approx(7 * 100 * 900**3 / 768 / ei, rel=1e-6)  # propped cantilever, load in its middle
    assert sag("z", "ry") == pytest.approx(100 * 450**3 / 3 / ei, rel=1e-6)  # nothing is left of that end's support
    assert sag("x", "rx") == pytest.approx(sag(), rel=1e-6)
    assert (
        "‘rq’, which is no axis"
        in ask(**(both | {"tubes": [{"ends": ["a", "b"], "released": [["rq"], []]}]}))["refused"]
    )
    pinned = ask(
        **(
            _beam(pinned=[False, True])
            | {"held": {"a": HELD, "b": ["x", "y", "z"]}, "loads": {"b": [0, 0, 0, 0, 5, 0]}}
        )
    )
    assert "mechanism" in pinned["refused"]
