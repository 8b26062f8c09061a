"""Rules that look at what tubes are made of, and at the sheet between people and what may hurt them."""

import pytest

from ironcage.core.answers.brief.rules import Verdict, judge_rules
from ironcage.core.answers.brief.screens import screened
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from tests.core.lines import typed


def judged(job: Job, line: str) -> Verdict:
    return judge_rules(understand(line, job).job)[-1]


def test_a_grade_is_judged_by_name_and_by_what_it_yields_at() -> None:
    job = sample("sandpiper")
    hoop = [t for t in job.tubes if t.role == "main hoop"]
    made = job.material(hoop[0].material)
    word = made.name.split()[0].lower()
    assert judged(job, f"rule grade role main hoop, material {word}: as the book says").state == "pass"
    strong = judged(job, f"rule grade role main hoop, strength {made.yield_strength - 10}: strong")
    assert (strong.state, strong.measured, strong.by) == ("pass", made.yield_strength, 10)
    weak = judged(job, f"rule grade role main hoop, strength {made.yield_strength + 10}: strong")
    assert (weak.state, weak.by, set(weak.where)) == ("fail", -10, {t.id for t in hoop})
    other = judged(job, "rule grade role main hoop, material aluminium: of aluminium")
    assert other.state == "fail"
    assert made.name in other.why
    with pytest.raises(Problem, match="lacks its numbers"):
        understand("rule grade role main hoop: what?", job)


def walled(*panels: str) -> Job:
    """A person in the middle of the car, an engine behind, and panels of a wall between at x -1700."""
    joints = [f"joint -1700 {y} {z} alone" for y in (-2000, 0, 2000) for z in (-2000, 3000)]
    return typed(
        Job(),
        "person Bryn 1780 at -1000 0 320 mass 82",
        "place engine Twin box 400 x 400 x 400 at -2300 0 400 mass 60",
        *joints,
        *(f"add panel joints {p}, thickness 1" for p in panels),
    )


def test_the_sheet_between_is_counted_by_lines_from_limbs_to_corners() -> None:
    right, left, whole = "J1 J2 J4 J3", "J3 J4 J6 J5", "J1 J2 J6 J5"
    shares = {name: screened(walled(p), "engine")[0].share for name, p in (("l", left), ("r", right), ("w", whole))}
    assert shares["w"] == 1.0
    assert shares["l"] == pytest.approx(shares["r"], abs=1e-9)  # all is alike on both sides
    assert 0.5 <= shares["l"] < 0.6  # those in the middle plane pass by the edge of both
    assert screened(walled(), "engine")[0].share == 0.0
    assert screened(walled(whole), "tank") == ()


def test_a_firewall_that_leaves_a_way_round_fails_and_names_both() -> None:
    rule = "rule screen against engine, least 90%: A firewall between engine and people"
    found = judged(walled("J3 J4 J6 J5"), rule)
    assert (found.state, found.where) == ("fail", ("D1", "B2"))
    assert judged(walled("J1 J2 J6 J5"), rule).state == "pass"
    assert judged(walled(), rule.replace("engine", "battery", 1)).state == "not known"
    kept = understand(rule, Job()).job.rules.rules[-1]
    assert kept.least == 0.9
    with pytest.raises(Problem, match="‘moon’ is no against"):
        understand("rule screen against moon: no", Job())
