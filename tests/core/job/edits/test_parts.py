"""Wheels, weights, pickups, datums, the shelf and the jig table: what can be done to them and what is refused."""

import pytest

from ironcage.core.calc.sections import Rect, Round
from ironcage.core.job import edits
from ironcage.core.job.shelf.library import library, read_section
from ironcage.core.job.values.model import Job, Material, Section
from ironcage.problem import Problem
from ironcage.units import METRIC, Units


@pytest.fixture
def car(box: Job) -> Job:
    """The box on wheels with an engine."""
    job = edits.add_wheel(box, "front", (0, 650, 290), 580, 165)
    job = edits.add_wheel(job, "rear", (-1200, -640, 300), 600, 215)
    return edits.add_mass(job, "Engine", 84, (-900, 0, 400))


def test_a_wheel_comes_with_the_one_opposite_and_both_follow(car: Job) -> None:
    left, right, rear_left, rear_right = car.wheels
    assert (left.corner, right.corner) == ("front left", "front right")
    assert (left.y, right.y) == (650, -650)
    assert rear_left.y == 640  # given by the right one, it is the same pair
    wider = edits.change_part(car, right.id, y=-700, diameter=600)
    assert [(w.y, w.diameter) for w in wider.wheels[:2]] == [(700, 600), (-700, 600)]
    assert wider.wheels[2:] == car.wheels[2:]
    gone = edits.remove_parts(car, [rear_right.id])
    assert [w.corner for w in gone.wheels] == ["front left", "front right"]


def test_weights_change_and_go(car: Job) -> None:
    engine = car.masses[0].id
    heavier = edits.change_part(car, engine, mass=91.5, name="Triple")
    assert (heavier.masses[0].mass, heavier.masses[0].name) == (91.5, "Triple")
    assert heavier.wheels is car.wheels
    assert edits.remove_parts(heavier, [engine]).masses == ()


def test_a_pickup_takes_the_nearer_axle_and_goes_with_its_mirror(car: Job) -> None:
    job = edits.add_joint(edits.add_joint(car, (-500, 250, 300)), (-700, 250, 300))
    job = edits.add_pickup(edits.add_pickup(job, "J5L"), "J6R")
    corners = {p.joint: p.corner for p in job.pickups}
    assert corners["J5L"] == "front left"
    assert corners["J5R"] == "front right"
    assert corners["J6L"] == "rear left"
    pickup = next(p.id for p in job.pickups if p.joint == "J5R")
    left = {p.joint for p in edits.remove_parts(job, [pickup]).pickups}
    assert not {"J5L", "J5R"} & left
    assert {"J6L", "J6R"} <= left


def test_without_wheels_the_ends_of_the_frame_tell_front_from_rear(box: Job) -> None:
    bare = box.but(pickups=())
    corners = {p.joint: p.corner for p in edits.add_pickup(edits.add_pickup(bare, "J2R"), "J4L").pickups}
    assert corners == {"J2R": "front right", "J2L": "front left", "J4L": "rear left", "J4R": "rear right"}


def test_a_datum_goes_once_nothing_is_read_from_it(car: Job) -> None:
    job = edits.add_datum(car, "firewall", (-1000, 0, 200))
    assert edits.add_datum(job, "firewall", (-1010, 0, 200)).brief.datums[-1].x == -1010  # the same name moves it
    job = edits.set_brief(job, shown_from="firewall")
    assert job.datum.x == -1000
    with pytest.raises(Problem, match=r"Readings are shown from firewall. Choose another"):
        edits.remove_datum(job, "firewall")
    back = edits.remove_datum(edits.set_brief(job, shown_from="front axle line"), "firewall")
    assert back.datum.name == "front axle line"
    assert [d.name for d in back.brief.datums] == ["front axle line"]


def test_the_shelf_takes_new_figures_and_every_tube_of_that_section_follows(car: Job) -> None:
    name = car.tubes[0].section
    thicker = edits.put_section(car, Section(name=name, shape=Round(30, 2.5)))
    assert {thicker.section(t.section).shape.wall_mm for t in thicker.tubes} == {2.5}
    assert len(thicker.shelf.sections) == len(car.shelf.sections)
    steel = car.material(car.tubes[0].material)
    assert edits.put_material(car, steel.but(yield_strength=400)).material(steel.name).yield_strength == 400
    own = Material(name="Shop steel", e=2e5, g=8e4, density=7800, yield_strength=300, as_welded_yield=250)
    assert edits.put_material(car, own).shelf.materials[-1] == own


@pytest.mark.parametrize(
    ("act", "says"),
    [
        (lambda j: edits.add_wheel(j, "front", (0, 600, 300), 600, 200), "front wheels are there already"),
        (
            lambda j: edits.add_wheel(j.but(wheels=()), "middle", (0, 600, 300), 600, 200),
            "‘middle’ is not an axle. Say front or rear",
        ),
        (lambda j: edits.add_wheel(j.but(wheels=()), "front", (0, 50, 300), 600, 200), "stand on each other"),
        (lambda j: edits.add_mass(j, "Ghost", 0, (0, 0, 0)), "Ghost must weigh something"),
        (lambda j: edits.change_part(j, "W99", y=3), "There is no wheel or mass ‘W99’"),
        (lambda j: edits.remove_parts(j, ["W99"]), "nothing of that name to remove"),
        (lambda j: edits.add_datum(j, "  ", (0, 0, 0)), "A datum needs a name"),
        (lambda j: edits.remove_datum(j, "front axle line"), "datum"),
        (lambda j: edits.toggle_stands(j, []), "No joint is chosen"),
        (lambda j: edits.toggle_stands(j, ["J99"]), "There is no joint ‘J99’"),
        (lambda j: edits.add_pickup(edits.add_joint(j, (5, 0, 5)), "J5"), "on the centreline and belongs to no corner"),
        (lambda j: edits.change_tubes(j, []), "No tube is chosen"),
        (lambda j: edits.unpair(edits.unpair(j, ["J1L"]), ["J1R"]), "no mirror to part from"),
        (lambda j: edits.pair(j, "J1L", "J2R"), "already has a mirror"),
        (
            lambda j: edits.move(
                j.but(joints=(*j.joints, j.joints[0].but(id="J9", x=9, y=0, twin="J9"))), ["J9"], dy=4
            ),
            "is its own mirror",
        ),
    ],
)
def test_what_cannot_be_is_refused_by_name(act, says: str, car: Job) -> None:
    before = car.model_dump()
    with pytest.raises(Problem) as caught:
        act(car)
    assert says in str(caught.value)
    assert car.model_dump() == before


@pytest.mark.parametrize(
    ("text", "units", "shape"),
    [
        ("38 x 2", METRIC, Round(38, 2)),
        ("38x2 round", METRIC, Round(38, 2)),
        ('1 1/2" x 12 ga', METRIC, Round(38.1, 2.7686)),
        ("1-1/2 x 0.095", Units("inch"), Round(38.1, 2.413)),
        ("40 x 20 x 2", METRIC, Rect(20, 40, 2, 3)),
        ("2 x 1 x 1/8", Units("inch"), Rect(25.4, 50.8, 3.175, 4.7625)),
        ("1 sch 40", METRIC, Round(33.401, 3.3782)),
        ("1-1/4 sch 160 pipe", METRIC, Round(42.164, 6.35)),
    ],
)
def test_a_section_is_read_as_builders_write_it(text: str, units: Units, shape: Round | Rect) -> None:
    found = read_section(text, units).shape
    assert type(found) is type(shape)
    for name, value in shape.__dict__.items():
        assert getattr(found, name) == pytest.approx(value, rel=1e-6) if name != "kind" else True


def test_every_library_section_is_found_by_its_own_name_whatever_the_case() -> None:
    for section in library().sections:
        assert read_section(section.name.upper(), METRIC) is section
    angle = read_section("30 x 20 x 3 angle", METRIC).shape
    assert (angle.kind, angle.leg_z_mm, angle.leg_y_mm, angle.wall_mm) == ("angle", 30, 20, 3)


def test_roll_and_pins_are_mirrored_with_the_tube(car: Job) -> None:
    """A tube across the car is its own mirror; one drawn the other way on the other side has its ends swapped."""
    job = edits.add_tube(car, "J1L", "J4L", "30 x 1.5 round", "Drawn mild steel tube")
    number = job.tubes[-1].id[1:-1]
    left, right = job.tube(f"T{number}L"), job.tube(f"T{number}R")
    job = edits.change_tubes(job, [right.id], pinned_a=True, pinned_b=False, roll=0.3)
    left, right = job.tube(left.id), job.tube(right.id)
    at_left = {left.a: left.pinned_a, left.b: left.pinned_b}
    at_right = {right.a: right.pinned_a, right.b: right.pinned_b}
    for joint, pinned in at_right.items():
        assert at_left[job.joint(joint).twin] == pinned
    assert left.roll == -right.roll
    assert sum((*at_left.values(), *at_right.values())) == 2
