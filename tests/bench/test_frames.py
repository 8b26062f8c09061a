"""The frames that are measured are what they say, and the measured solve is right."""

import numpy as np
import pytest

from ironcage.bench import solving
from ironcage.bench.frames import truss
from ironcage.bench.main import run
from ironcage.bench.measure import in_turn, median
from ironcage.core.answers.findings import checks
from ironcage.core.answers.prove import stiffness
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem


@pytest.mark.parametrize("least", [50, 150, 700])
def test_a_truss_has_the_tubes_asked_for_and_stands(least: int) -> None:
    job = truss(least)
    assert least <= len(job.tubes) < least + 13
    assert Job.model_validate(job.model_dump()) == job
    assert stiffness.answer(job).torsion > 0
    assert not [
        s for s in checks.find_snags(job) if s.severity == "wrong" and s.code != "too weak"
    ]  # it is long for its tubes


def test_a_longer_truss_is_softer() -> None:
    assert stiffness.answer(truss(60)).torsion > 2 * stiffness.answer(truss(200)).torsion


def test_the_measured_solve_agrees_with_an_independent_program() -> None:
    pytest.importorskip("Pynite", reason="the other solver is a package of bench.txt only")
    job = truss(60)
    mine, peer = solving.ours(job, shear=False), solving.theirs(job)
    assert np.abs(mine - peer).max() <= 1e-6 * np.abs(peer).max()


def test_shear_makes_the_measured_frame_softer() -> None:
    job = truss(60)
    assert np.abs(solving.ours(job)).max() > np.abs(solving.ours(job, shear=False)).max()


def test_timing_runs_what_it_is_given_and_in_turn() -> None:
    seen: list[str] = []
    assert median(lambda: seen.append("x"), 3) >= 0
    assert len(seen) == 4  # one that is not counted
    seen.clear()
    in_turn(lambda: seen.append("a"), lambda: seen.append("b"), 3)
    assert "".join(seen) == "abababab"


def test_an_unknown_measurement_is_refused() -> None:
    with pytest.raises(Problem, match=r"no measurement ‘solvng’. The nearest is solving"):
        run(["solvng"])
