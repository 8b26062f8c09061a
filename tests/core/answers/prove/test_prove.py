"""Stiffness of whole frames: laws that hold whatever the frame, and the demo within what such a frame is."""

import math

import numpy as np
import pytest

from ironcage.core.answers.prove import stiffness
from ironcage.core.answers.shared import figures
from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.answers.tally import readout
from ironcage.core.calc.frames.beams import solve
from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.units import METRIC


def test_the_energy_of_the_tubes_is_the_work_of_the_torque(sandpiper: Job) -> None:
    a = stiffness.answer(sandpiper)
    frame = beam_frame(sandpiper)
    assert frame.strain_energy(a.twisted).sum() == pytest.approx(stiffness.TORQUE * math.tan(a.angle) / 2, rel=1e-9)
    assert a.energy.sum() == pytest.approx(1)
    assert a.front_reaction == pytest.approx(0, abs=1e-6)
    assert a.torsion == pytest.approx(stiffness.TORQUE / a.angle)
    left, right = (
        a.twisted[[frame.node_names.index(n) for n in a.corners[f"front {s}"]], 2].mean() for s in ("left", "right")
    )
    assert (left - right) / a.track == pytest.approx(math.tan(a.angle))


def test_the_rig_is_the_same_as_holding_the_joints_themselves(box: Job) -> None:
    """Hold three corners outright and push the fourth down: the same twist, seen from a floor that tilts with the
    frame."""
    a = stiffness.answer(box)
    frame = beam_frame(box)
    index = {n: i for i, n in enumerate(frame.node_names)}
    held = np.zeros((len(frame.nodes), 6), dtype=bool)
    held[index["J3L"], :3] = True
    held[index["J3R"], [0, 2]] = True
    held[index["J1L"], 2] = True
    loads = np.zeros((len(frame.nodes), 6, 1))
    loads[index["J1R"], 2] = -stiffness.TORQUE / a.track
    solved = solve(frame, held, loads)
    drop = -float(solved.u[index["J1R"], 2, 0])
    assert float(solved.reactions[index["J1L"], 2, 0]) == pytest.approx(stiffness.TORQUE / a.track, rel=1e-6)
    assert drop / a.track == pytest.approx(math.tan(a.angle), rel=1e-6)


def crossed(job: Job, a: str, b: str) -> Job:
    """A bay closed by two diagonals, which where they cross the centreline are laid one by one."""
    for one, other in ((a, b), tuple(job.joint(n).twin or "" for n in (a, b))):
        if frozenset((one, other)) not in job.tube_by_ends:
            job = edits.add_tube(job, one, other, "30 x 1.5 round", "Drawn mild steel tube")
    return job


def test_a_box_is_stiff_when_its_last_face_is_closed(box: Job) -> None:
    """With one face open a box twists by bending its tubes; with all six braced it cannot."""
    before = stiffness.answer(box).torsion
    open_end = box
    for a, b in (("J1L", "J4L"), ("J1L", "J3R"), ("J2L", "J4R"), ("J1L", "J2R")):  # sides, floor, top, front
        open_end = crossed(open_end, a, b)
    closed = crossed(open_end, "J3L", "J4R")
    assert before < stiffness.answer(open_end).torsion < 0.5 * stiffness.answer(closed).torsion
    thicker = edits.change_tubes(box, list(box.tube_by_id), section="45 x 2.5 round")
    assert stiffness.answer(thicker).torsion > before
    moved = box.but(joints=tuple(j.but(x=j.x - 700) for j in box.joints))
    assert stiffness.answer(moved).torsion == pytest.approx(before, rel=1e-9)


def test_the_demo_is_believable(sandpiper: Job) -> None:
    a, w = stiffness.answer(sandpiper), weigh(sandpiper)
    assert 90 <= len(sandpiper.tubes) <= 160
    assert 2000 < a.torsion * math.pi / 180 / 1000 < 8000  # a triangulated steel two-seater
    assert 55 < w.frame.mass < 95
    assert a.soft
    assert all(j.twin for j in sandpiper.joints)
    assert not any(p.joint not in sandpiper.tubes_at for p in sandpiper.pickups)
    top, floor = max(j.z for j in sandpiper.joints), min(j.z for j in sandpiper.joints)
    assert 1050 < top - floor < 1250  # hoop over a seated helmet
    assert w.front_share == pytest.approx(0.42, abs=0.05)


@pytest.mark.parametrize(
    ("spoil", "says"),
    [
        (lambda job: job.but(pickups=()), "no pickup at the front left"),
        (
            lambda job: job.but(pickups=tuple(p for p in job.pickups if p.corner != "rear right")),
            "no pickup at the rear right",
        ),
        (
            lambda job: edits.change_tubes(job, list(job.tube_by_id), pinned_a=True, pinned_b=True),
            "Every tube end is pinned",
        ),
        (
            lambda job: edits.change_tubes(job, ["T3L", "T4L", "T1L", "T2L"], pinned_a=True, pinned_b=True),
            "is a mechanism: J",
        ),
        (lambda job: edits.delete(job, ["T3L", "T4L"]), "in 2 pieces"),
        (
            lambda job: job.but(
                pickups=(job.pickups[0].but(joint="J1R"), job.pickups[1].but(joint="J1L"), *job.pickups[2:])
            ),
            "are not left",
        ),
    ],
)
def test_a_frame_that_cannot_be_proved_says_why(spoil, says: str, box: Job) -> None:
    with pytest.raises(Problem, match=says):
        stiffness.answer(spoil(box))


def test_tally_shows_signed_differences_and_where_each_figure_comes_from(sandpiper: Job) -> None:
    moved = understand("z+25", sandpiper, ("J12L",)).job
    now, mark = readout.answer(moved), readout.answer(sandpiper)
    changes = {f.key: figures.difference(f, m, METRIC) for f, m in zip(now, mark, strict=True)}
    assert changes["wheelbase"] == ""
    assert changes["frame mass"].startswith("+")
    texts = {f.key: figures.shown(f, METRIC) for f in mark}
    assert texts["wheelbase"] == "2300.0 mm"
    assert texts["torsion"] == METRIC.torsional_stiffness(stiffness.answer(sandpiper).torsion)
    assert all(f.origin.formula and f.origin.source for f in now)
    bare = {f.key: f for f in readout.answer(sandpiper.but(wheels=()))}
    assert bare["front share"].value is None
    assert "Wheels are needed" in bare["front share"].missing
    assert figures.shown(bare["front share"], METRIC) == "–"


def test_answers_are_kept_by_identity_of_their_parts(sandpiper: Job) -> None:
    first = stiffness.answer(sandpiper)
    renamed = understand("name Tern", sandpiper).job
    assert stiffness.answer(renamed) is first
    assert stiffness.answer(understand("z+5", sandpiper, ("J12L",)).job) is not first
