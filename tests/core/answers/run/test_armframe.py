"""An arm as a job of its own: as long and as wide as the car's, laid flat, left and right, cut and jigged."""

import math

import numpy as np
import pytest

from ironcage.core.answers.cut.pieces import answer
from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.jig import stands
from ironcage.core.answers.run.armframe import arm_job
from ironcage.core.exchange.kinds import kind
from ironcage.core.job.geometry.names import name_of
from ironcage.core.job.store.file import from_text
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem


def middles(arm: Job) -> list[np.ndarray]:
    """The places of the left arm's bushes, front and rear, and of its ball joint."""
    left = [j for j in arm.joints if j.y > 0 and len(arm.tubes_at.get(j.id, ())) > 2]
    return [np.array(j.place) for j in left]


@pytest.mark.parametrize("which", ["lower", "upper"])
def test_an_arm_is_laid_flat_as_long_and_as_wide_as_in_the_car(sandpiper: Job, which: str) -> None:
    arm = arm_job(sandpiper, "front", which)
    hung = sandpiper.wishbones[0]
    inner = [np.array(sandpiper.joint(n).place) for n in getattr(hung, which)]
    out = np.array(getattr(hung, f"{which}_out"))
    front, rear, ball = middles(arm)
    for one, other, there in ((front, rear, inner), (front, ball, (inner[0], out)), (rear, ball, (inner[1], out))):
        assert np.linalg.norm(one - other) == pytest.approx(np.linalg.norm(there[0] - there[1]), abs=0.01)
    assert [p[2] for p in (front, rear, ball)] == pytest.approx([120.0] * 3)  # flat on the table
    assert front[0] > rear[0]
    stud = np.array(hung.upper_out) - np.array(hung.lower_out)
    cup = next(t for t in arm.tubes if name_of(arm, t.id).startswith("cup") and t.id.endswith("L"))
    ends = [np.array(arm.joint(n).place) for n in cup.ends]
    lean = abs(float((ends[1] - ends[0]) @ (rear - front))) / np.linalg.norm(ends[1] - ends[0])
    assert lean / np.linalg.norm(rear - front) == pytest.approx(
        abs(float(stud @ (inner[1] - inner[0]))) / np.linalg.norm(stud) / np.linalg.norm(inner[1] - inner[0]), abs=1e-3
    )
    assert all(j.twin and j.twin != j.id for j in arm.joints)  # the right arm beside it


def test_its_legs_are_coped_to_sleeves_and_cup_and_stand_on_the_table(sandpiper: Job) -> None:
    arm = arm_job(sandpiper, "front", "lower")
    pieces = {name_of(arm, p.id): p for p in answer(arm).pieces}
    leg = pieces["rear leg, left"]
    assert not leg.problems
    assert (leg.first.kind, leg.second.kind) == ("cope", "cope")
    assert leg.second.trims  # the second leg meets the first at the cup
    assert leg.section.name == "25 x 1.5 round"  # of the car's own shelf
    assert pieces["front sleeve, left"].bar == pytest.approx(50)
    assert len(stands.answer(arm).stands) == 10  # two of each sleeve and the cup, on both sides
    assert [s for s in find_snags(arm) if s.severity == "wrong"] == []


def test_the_coil_overs_foot_is_carried_by_tabs_of_the_arm_that_it_stands_on(sandpiper: Job) -> None:
    arm = arm_job(sandpiper, "front", "lower")
    foot = arm.joint(arm.fittings[0].carries)
    inner = [np.array(sandpiper.joint(n).place) for n in sandpiper.wishbones[0].lower]
    for bush, there in zip(middles(arm)[:2], inner, strict=True):
        away = math.dist(there, sandpiper.wishbones[0].spring_out)
        assert np.linalg.norm(np.array(foot.place) - bush) == pytest.approx(away, abs=0.01)
    assert arm_job(sandpiper, "front", "upper").fittings == ()


def test_an_arm_is_written_as_a_file_and_what_is_none_is_refused(sandpiper: Job) -> None:
    written = from_text(kind("arm-cage").make(sandpiper, "Front Upper").decode())
    assert written == arm_job(sandpiper, "front", "upper")
    assert written.brief.name == "Sandpiper, front upper arm"
    for which, why in (("front", "is no arm"), ("front middle", "is no arm"), ("rear lower", "has no wishbones yet")):
        with pytest.raises(Problem, match=why):
            kind("arm-cage").make(sandpiper, which)
