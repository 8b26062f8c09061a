"""Joints and tubes in words: unique, the same on both sides but for the side, and understood again."""

import pytest

from ironcage.core.job.geometry.names import called, names, spoken
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from tests.core.lines import typed

SIDES = ("left", "right")


@pytest.mark.parametrize("demo", ["sandpiper", "fell-litter", "skerry"])
def test_names_are_unique_alike_on_both_sides_and_chosen_again(demo: str) -> None:
    job = sample(demo)
    made = names(job)
    assert set(made) == {*job.joint_by_id, *job.tube_by_id}
    assert len(set(made.values())) == len(made)
    for thing, name in made.items():
        assert called(job, name.upper().replace(",", "")) == (thing,)
        if thing.endswith("L"):
            assert name.endswith(", left")
            assert made[f"{thing[:-1]}R"] == f"{name.removesuffix(', left')}, right"


def test_names_say_role_and_place() -> None:
    # two rails over each other in three thirds of the car, an upright, and a hoop
    job = typed(
        Job(),
        *(f"joint {x} 300 {z}" for x in (0, -1000, -2000, -3000) for z in (150, 500)),
        "tube J1L J3L J5L J7L 40 x 2",
        "role rail",
        "tube J2L J4L J6L J8L",
        "tube J1L J2L",
        "role side",
        "tube J7L J8L",
        "tube J1L J1R",
        "role cross member",
        "tube J2L J3L",
        "role diagonal",
    )
    made = names(job)
    rails = {made[t.id] for t in job.tubes if t.role == "rail" and t.id.endswith("L")}
    assert rails == {
        f"{third} {level} rail, left" for third in ("front", "middle", "rear") for level in ("lower", "upper")
    }
    uprights = {made[t.id] for t in job.tubes if t.role == "side"}
    assert uprights == {f"{end} upright, {side}" for end in ("front", "rear") for side in SIDES}
    assert [made[t.id] for t in job.tubes if t.role == "cross member"] == ["front cross member"]
    assert made["J8R"] == "rear upper joint, right"
    picked = typed(job, "pickup front", chosen=("J1L",))
    assert names(picked)["J1R"] == "front pickup, right"


def test_a_builder_s_own_name_goes_to_both_sides_and_comes_off_again() -> None:
    job = sample("sandpiper")
    own = understand("call shock mount, left", job, ("J27L", "T68L")).job
    assert [names(own)[n] for n in ("J27L", "J27R")] == ["shock mount 1, left", "shock mount 1, right"]
    assert names(own)["T68R"] == "shock mount 2, right"  # no two things alike
    assert understand("choose shock mount 2 right", own).chosen == ("T68R",)
    assert names(understand("call", own, ("J27R", "T68L")).job) == names(job)
    with pytest.raises(Problem, match="Nothing is chosen to be named"):
        understand("call peg", job)


def test_lines_choose_by_words_and_refuse_with_the_nearest() -> None:
    job = sample("sandpiper")
    done = understand("rear upper rail", job)
    assert {names(job)[t] for t in done.chosen} == {f"rear upper rail {n}, {s}" for n in (1, 2) for s in SIDES}
    assert understand("Top of the main hoop, left", job).chosen == ("J21L",)
    assert understand("hoop brace right", job).name == "Choose T9R, hoop brace, right"
    with pytest.raises(Problem, match="The nearest is hoop brace, left"):
        understand("choose hoop brase, left", job)


def test_a_sentence_names_each_thing_once_and_leaves_lines_and_quotes_alone() -> None:
    job = sample("sandpiper")
    assert spoken(job, "T9L meets J21L, and T9L is long. Type: split 300 from J21L") == (
        "T9L (hoop brace, left) meets J21L (top of the main hoop, left), and T9L is long. Type: split 300 from J21L"
    )
    assert spoken(job, "‘T9L J99’ is not understood; J99 is not there.") == (
        "‘T9L J99’ is not understood; J99 is not there."
    )
