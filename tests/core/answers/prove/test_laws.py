"""Laws of a frame that no answer may break: scale, material, direction, refinement, and where the frame stands."""

import math

import numpy as np
import pytest

from ironcage.core.answers.cut import pieces
from ironcage.core.answers.frame import materials as frame
from ironcage.core.answers.jig import stands
from ironcage.core.answers.prove import stiffness
from ironcage.core.answers.shared.joint_plans import plans
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.sections import Round
from ironcage.core.job import edits
from ironcage.core.job.geometry.routes import end_axes
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job, Section


def scaled(job: Job, factor: float) -> Job:
    """The same frame with every length and section so many times as large."""
    joints = tuple(j.but(x=j.x * factor, y=j.y * factor, z=j.z * factor) for j in job.joints)
    sections = tuple(s.but(shape=Round(s.shape.od_mm * factor, s.shape.wall_mm * factor)) for s in job.shelf.sections)
    return job.but(joints=joints, shelf=job.shelf.but(sections=sections))


def with_material(job: Job, **times: float) -> Job:
    materials = tuple(m.but(**{k: getattr(m, k) * v for k, v in times.items()}) for m in job.shelf.materials)
    return job.but(shelf=job.shelf.but(materials=materials))


def test_a_frame_twice_the_size_is_eight_times_as_stiff_in_twist_and_as_heavy(sandpiper: Job) -> None:
    small, large = stiffness.answer(sandpiper), stiffness.answer(scaled(sandpiper, 2))
    assert large.torsion == pytest.approx(8 * small.torsion, rel=1e-3)  # the angle's arctangent is not linear
    assert large.bending == pytest.approx(2 * small.bending, rel=1e-9)
    assert large.mass == pytest.approx(8 * small.mass)
    assert large.energy == pytest.approx(small.energy, rel=1e-6)
    assert large.soft[0].left == small.soft[0].left


def test_stiffness_follows_the_moduli_and_mass_the_density(sandpiper: Job) -> None:
    base = stiffness.answer(sandpiper)
    stiffer = stiffness.answer(with_material(sandpiper, e=1.5, g=1.5))
    assert stiffer.torsion == pytest.approx(1.5 * base.torsion, rel=1e-4)
    assert stiffer.mass == pytest.approx(base.mass)
    lighter = stiffness.answer(with_material(sandpiper, density=0.5))
    assert lighter.torsion == pytest.approx(base.torsion)
    assert lighter.mass == pytest.approx(base.mass / 2)


def test_which_end_a_tube_starts_at_is_nothing_to_the_frame(sandpiper: Job) -> None:
    turned = sandpiper.but(tubes=tuple(t.but(a=t.b, b=t.a) if n % 3 else t for n, t in enumerate(sandpiper.tubes)))
    one, other = stiffness.answer(sandpiper), stiffness.answer(turned)
    assert other.torsion == pytest.approx(one.torsion, rel=1e-9)
    assert other.energy == pytest.approx(one.energy, rel=1e-6, abs=1e-12)
    first = {frozenset(p.tubes): p for p in pieces.answer(sandpiper).pieces}
    second = {frozenset(p.tubes): p for p in pieces.answer(turned).pieces}
    assert first.keys() == second.keys()
    for key, piece in first.items():
        for length in ("bar", "saddle_tip", "template_tip", "shoulder"):
            assert getattr(second[key], length) == pytest.approx(getattr(piece, length), abs=1e-4)


def test_a_joint_in_the_middle_of_a_tube_changes_no_stiffness(sandpiper: Job) -> None:
    """A beam split in two is the same beam: nothing is lost in the element."""
    split = sandpiper
    for name in ("T9L", "T18L", "T50L"):
        split = edits.split(split, name, 0.37)
    assert stiffness.answer(split).torsion == pytest.approx(stiffness.answer(sandpiper).torsion, rel=1e-9)


def test_roll_is_nothing_to_round_tube_and_much_to_a_flat_one(box: Job) -> None:
    base = stiffness.answer(box).torsion
    assert stiffness.answer(edits.change_tubes(box, list(box.tube_by_id), roll=0.6)).torsion == pytest.approx(
        base, rel=1e-9
    )
    flat = understand("section 60 x 20 x 2", box, tuple(box.tube_by_id)).job
    on_edge = edits.change_tubes(flat, list(flat.tube_by_id), roll=math.pi / 2)
    assert stiffness.answer(on_edge).torsion != pytest.approx(stiffness.answer(flat).torsion, rel=5e-3)


def test_left_and_right_of_a_mirrored_frame_work_alike(sandpiper: Job) -> None:
    """Under a twist the two sides are each other's mirror with the sign turned."""
    a = stiffness.answer(sandpiper)
    row = {t.id: n for n, t in enumerate(sandpiper.tubes)}
    for name, n in row.items():
        if name.endswith("L") and f"{name[:-1]}R" in row:
            assert a.energy[n] == pytest.approx(a.energy[row[f"{name[:-1]}R"]], rel=1e-6, abs=1e-12), name
    index = {j.id: n for n, j in enumerate(sandpiper.joints)}
    for j in sandpiper.joints:
        here, there = a.twisted[index[j.id], :3], a.twisted[index[j.twin], :3]
        assert here[2] == pytest.approx(-there[2], abs=1e-6) or j.x < -2000  # the rear is held on one side only


def test_pieces_do_not_know_where_the_frame_stands(sandpiper: Job) -> None:
    moved = sandpiper.but(joints=tuple(j.but(x=j.x + 733, z=j.z + 91) for j in sandpiper.joints))
    for one, other in zip(pieces.answer(sandpiper).pieces, pieces.answer(moved).pieces, strict=True):
        assert one.saddle_tip == pytest.approx(other.saddle_tip, abs=1e-4)
        assert (one.first.words, one.second.words) == (other.first.words, other.second.words)


def test_every_piece_is_longer_over_its_tips_than_between_its_shoulders(sandpiper: Job) -> None:
    answer = pieces.answer(sandpiper)
    for piece in answer.pieces:
        assert piece.bar >= piece.template_tip - 1e-9 >= piece.shoulder - 2e-9, piece.id
        assert piece.bar >= piece.saddle_tip - 1e-9
        for end in (piece.first, piece.second):
            assert end.profile.bar <= end.profile.shoulder + 1e-9
            assert 0 <= end.saw_angle <= math.pi / 2
    cut_mass, whole = sum(p.mass for p in answer.pieces), weigh(sandpiper).frame.mass
    assert 0.9 * whole < cut_mass < whole  # the overlaps at joints are gone
    assert sum(answer.by_section.values()) == pytest.approx(sum(p.bar for p in answer.pieces))


def test_at_every_joint_each_end_has_exactly_one_fate(sandpiper: Job) -> None:
    """An end runs through, is half of a mitre, or lands on one of those that do."""
    for name, plan in plans(sandpiper, end_axes(sandpiper)).items():
        here = {t.id for t in sandpiper.tubes_at[name]}
        assert set(plan.through) | set(plan.receiver_of) == here
        assert not set(plan.through) & set(plan.receiver_of)
        assert set(plan.receiver_of.values()) <= set(plan.through)


def test_the_frame_answer_is_the_sum_of_its_bill(sandpiper: Job) -> None:
    a = frame.answer(sandpiper)
    assert sum(b.tubes for b in a.bill) == a.tubes == len(sandpiper.tubes)
    assert sum(b.kg for b in a.bill) == pytest.approx(a.mass)
    assert sum(b.metres for b in a.bill) == pytest.approx(a.length / 1000)
    assert a.cg[1] == pytest.approx(0, abs=1e-9)
    assert a.box == (2810, 1120, 1120)
    assert frame.answer(Job()).tubes == 0


def test_moving_the_table_moves_the_stands_and_nothing_else(sandpiper: Job) -> None:
    base = stands.answer(sandpiper)
    moved = stands.answer(edits.set_table(sandpiper, corner_x=-2900.0, corner_y=-800.0, top_z=100.0))
    for one, other in zip(base.stands, moved.stands, strict=True):
        assert other.x - one.x == pytest.approx(50)
        assert other.y - one.y == pytest.approx(50)
        assert other.saddle - one.saddle == pytest.approx(20)
    assert [d.space for d in moved.diagonals] == [d.space for d in base.diagonals]
    assert moved.best_top_z == pytest.approx(base.best_top_z)


def test_axle_loads_follow_a_weight_that_is_moved(sandpiper: Job) -> None:
    """Moments by hand: m·d over the total mass and the wheelbase is what the share changes by."""
    before = weigh(sandpiper)
    battery = edits.find_part(sandpiper, "Battery")
    after = weigh(edits.move_things(sandpiper, [battery.id], dx=-1000))
    assert after.front_share - before.front_share == pytest.approx(
        -battery.mass * 1000 / before.car.mass / before.wheelbase
    )
    assert after.car.cg[0] - before.car.cg[0] == pytest.approx(-battery.mass * 1000 / before.car.mass)


def test_own_section_in_the_frame_is_worth_what_its_figures_say(box: Job) -> None:
    own = edits.put_section(box, Section(name="Fat", shape=Round(60, 3)))
    fat = edits.change_tubes(own, list(own.tube_by_id), section=own.section("Fat"))
    area = math.pi * (30**2 - 27**2)
    assert weigh(fat).frame.mass == pytest.approx(float(weigh(box).lengths.sum()) * area * 7850e-9)
    assert np.isfinite(stiffness.answer(fat).twisted).all()
