"""What the load cases do to links that pull and push along themselves, by the forces at their ends, and by Euler."""

import math

import numpy as np
import pytest

from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.prove import link_loads
from ironcage.core.answers.prove.cases import load_cases
from ironcage.core.job.values.model import Job
from ironcage.samples import sample
from ironcage.told import plain
from tests.core.lines import typed


def test_a_link_takes_the_most_of_both_sides_along_itself() -> None:
    job = sample("fell-litter")
    told = {of.link: of for of in link_loads(job)}
    assert set(told) == {"lower link", "upper link", "track rod"}
    hung = job.live_axles[0]
    along = {}
    for side, mirror in (("left", 1), ("right", -1)):
        start, end = np.array(job.joint(hung.lower).place), np.array(hung.lower_out)
        along[f"rear lower {side} link"] = (end - start) * [1, mirror, 1]
    forces = [
        (float(push.force @ along[push.what]) / np.linalg.norm(along[push.what]), case.name)
        for case in load_cases(job)
        for push in case.pushes
        if push.what in along
    ]
    for push in (p for case in load_cases(job) for p in case.pushes if p.what in along):
        square = np.cross(push.force, along[push.what]) / np.linalg.norm(along[push.what])
        assert np.linalg.norm(square) == pytest.approx(0, abs=1e-6)  # it only pulls and pushes
    lower = told["lower link"]
    assert (lower.pull, lower.pull_case) == (pytest.approx(max(forces)[0]), max(forces)[1])
    assert (lower.push, lower.push_case) == (pytest.approx(-min(forces)[0]), "acceleration")


def test_a_slender_link_gives_way_as_euler_says_and_is_a_snag() -> None:
    job = typed(sample("fell-litter"), "axle rear link 12")
    lower = next(of for of in link_loads(job) if of.link == "lower link")
    hung = job.live_axles[0]
    length = math.dist(job.joint(hung.lower).place, hung.lower_out)
    e = job.material(job.tubes[0].material).e
    buckles = math.pi**2 * e * math.pi / 64 * (12**4 - 8**4) / length**2
    assert lower.used == pytest.approx(lower.push / buckles, rel=1e-6)
    assert lower.used > 1
    said = next(plain(s.what) for s in find_snags(job) if s.code == "link weak")
    assert said.startswith("The rear lower link is pushed with 7.66 kN in the case acceleration: ")
    assert not any(s.code == "link weak" for s in find_snags(sample("fell-litter")))


def test_tie_rods_and_push_rods_of_wishbones(sandpiper: Job) -> None:
    (tie,) = link_loads(sandpiper)
    assert (tie.axle, tie.link, tie.section) == ("front", "tie rod", "25 x 1.5 round")
    with_rocker = typed(sandpiper, "corner front rocker J5L")
    assert [of.link for of in link_loads(with_rocker)] == ["tie rod", "push rod"]
    rod = link_loads(with_rocker)[1]
    assert rod.push > rod.pull  # it presses the rocker
    assert link_loads(Job()) == ()
