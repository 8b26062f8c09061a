"""Parts, people, drives, aims and rules as they are typed: what comes of a line, and what is refused how."""

import math

import numpy as np
import pytest

from ironcage.core.job import edits
from ironcage.core.job.geometry.bodies import part_body, person_body, turn_of
from ironcage.core.job.text import understand
from ironcage.core.job.text.fields import FIELDS
from ironcage.core.job.text.plans import rule_text
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.rules import EXAMPLES, KINDS
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.told import plain
from tests.core.lines import typed


def test_a_part_is_placed_turned_weighed_and_kept_clear_by_typing() -> None:
    job = typed(
        Job(),
        "place engine Triple box 500 x 620 x 480 at -1870 0 430 mass 84",
        "set yaw 90",
        "set margin 15",
        "set cg 20 0 -40",
        "set slide up 700",
        "set touches tubes, b1",
        "z+25",
        "hole left foot at 180, 220, -240 dia 10",
    )
    part = job.parts[0]
    assert (part.name, part.kind, part.mass, part.z, part.margin) == ("Triple", "engine", 84, 455, 15)
    assert part.slide == (0, 0, 700)
    assert part.touches == ("tubes", part.id)
    size = np.ptp(part_body(part).bounds, axis=0)
    assert size == pytest.approx([620, 500, 480])
    assert part.holes[0].name == "left foot"


def test_inches_and_a_datum_mean_the_same_part() -> None:
    metric = typed(
        Job(), "datum firewall at -1620 0 220", "datum firewall", 'place tank Fuel box 10" x 20" x 7 1/2" at 100 0 50'
    )
    inch = typed(
        Job(),
        "datum firewall at -1620 0 220",
        "datum firewall",
        "units inch 1/16",
        "place tank Fuel box 10 x 20 x 7 1/2 at 100mm, 0, 50mm",
    )
    assert metric.parts == inch.parts
    assert metric.parts[0].x == -1520


def test_every_field_of_every_thing_can_be_typed_as_it_is_shown(sandpiper: Job) -> None:
    job = typed(sandpiper, "shaft Half from -2300 100 295 to -2300 500 300", "units inch decimal", "datum firewall")
    for thing in job.placed.values():
        for name, field in FIELDS[type(thing)].items():
            shown = field.show(job, thing)
            if shown:
                again = field.read(job, thing, shown)
                assert field.show(job, again) == shown, (thing.id, name)


def test_limbs_come_from_stature_and_then_from_the_tape() -> None:
    job = typed(Job(), "person Bryn 1780 at -1330 280 320 mass 82", "set thigh 470", "set back 25")
    person = job.people[0]
    assert person.limbs.thigh == 470
    assert person.limbs.trunk == pytest.approx(0.288 * 1780)
    assert person.seat.back == pytest.approx(math.radians(25))
    tall = typed(Job(), "person Tall men 95 at -1330 280 320").people[0]
    assert tall.limbs.stature == pytest.approx(1855, abs=4)
    assert person_body(tall).bounds[1][2] > person_body(person).bounds[1][2]


def test_pedals_wheel_and_seat_go_with_the_person_and_the_person_with_them(sandpiper: Job) -> None:
    bryn = sandpiper.people[0]
    pedals, wheel = edits.find_part(sandpiper, "Pedals"), edits.find_part(sandpiper, "Steering wheel")
    job = typed(sandpiper, "set pedals x+40 z-5", chosen=(bryn.id,))
    assert edits.find_part(job, "Pedals").place == pytest.approx(np.add(pedals.place, (40, 0, -5)))
    job = typed(job, "x-15", chosen=(wheel.id,))
    assert job.people[0].seat.wheel == pytest.approx(np.add(bryn.seat.wheel, (-15, 0, 0)))
    assert job.people[0].seat.pedals[0] == bryn.seat.pedals[0] + 40
    gone = edits.remove_placed(job, [pedals.id])
    assert pedals.id not in gone.people[0].uses


def test_a_part_let_down_stops_on_the_tube_below_and_says_so(box: Job) -> None:
    """The box's lowest cross tube is at z 200, radius 15: a part with margin 10 stops 25 above the tube's middle."""
    job = typed(box, "place battery Cells box 200 x 100 x 100 at 0 0 480", "set margin 10")
    down = understand("drop 50", job, (job.parts[0].id,))
    assert "off T5" in down.name
    assert part_body(down.job.parts[0]).bounds[0][2] == pytest.approx(225, abs=0.05)
    free = typed(job, "x-600", "drop 90", chosen=(job.parts[0].id,))
    assert part_body(free.parts[0]).bounds[0][2] == pytest.approx(90, abs=0.05)
    slant = typed(job, "set roll 30", "drop 50", chosen=(job.parts[0].id,))
    assert part_body(slant.parts[0]).bounds[0][2] == pytest.approx(225, abs=0.2)  # its lowest edge, across a level tube


def test_parts_are_aligned_to_ground_centreline_and_each_other() -> None:
    job = typed(
        Job(), "place motor A cylinder 200 x 300 at 0 100 400", "place motor B cylinder 200 x 300 at -500 30 350"
    )
    job = typed(job, "align ground", chosen=("B1",))
    assert job.placed["B1"].z == pytest.approx(100)
    job = typed(job, "align centreline", "align level B", "align abreast B2", chosen=("B1",))
    assert job.placed["B1"].place == pytest.approx((-500, 0, 350))


def test_three_measured_points_put_a_part_where_it_is() -> None:
    job = typed(
        Job(),
        "place gearbox Box box 400 x 300 x 300 at 0 0 300",
        "three 0 0 0; 400 0 0; 0 300 0 to -1800 10 300; -1800 410 300; -2100 10 300",
    )
    part = job.parts[0]
    assert part.place == pytest.approx((-1800, 10, 300))
    assert part.yaw == pytest.approx(math.pi / 2)


def test_generic_parts_grow_with_their_number() -> None:
    small, large = typed(Job(), "place battery 30 at 0 0 300", "place battery 240 at 0 500 300").parts
    assert large.shape.length == pytest.approx(2 * small.shape.length, abs=0.2)
    assert large.mass == pytest.approx(8 * small.mass)


def test_variants_are_kept_gone_back_to_and_let_go(sandpiper: Job) -> None:
    job = typed(sandpiper, "variant keep Low roof: as drawn")
    job = typed(job, "z+60", chosen=("J12L",))
    high = job.joint("J12L").z
    back = typed(typed(job, "variant keep High roof"), "variant open low roof")
    assert back.joint("J12L").z == high - 60
    assert [v.name for v in back.variants] == ["Low roof", "High roof"]
    assert len(typed(back, "variant gone High roof").variants) == 1


def test_every_kind_of_rule_can_be_typed_and_is_shown_as_it_is_typed() -> None:
    for kind, example in EXAMPLES.items():
        job = typed(Job(), plain(example))
        rule = job.rules.rules[0]
        assert rule.kind == kind
        again = typed(Job(), f"rule {kind} {rule_text(rule, units_of(job))}: {rule.clause}").rules.rules[0]
        assert again == rule
    assert EXAMPLES.keys() == KINDS.keys()


def test_targets_tyres_and_deadline() -> None:
    job = typed(
        Job(),
        "wheels front 0 650 290 dia 580 width 165",
        "tyre front 205/50R15",
        'target wheelbase 90" +- 1/2"',
        "target mass 480 kg",
        "target power 75 kW",
        "deadline 2027-04-10",
    )
    assert {w.diameter for w in job.wheels} == {586.0}
    assert {w.z for w in job.wheels} == {293.0}
    assert job.brief.targets[0].value == pytest.approx(2286)
    assert job.brief.targets[0].tolerance == pytest.approx(12.7)
    assert str(job.brief.deadline) == "2027-04-10"
    assert [t.kind for t in typed(job, "target wheelbase gone").brief.targets] == ["mass", "power"]


@pytest.mark.parametrize(
    ("line", "words"),
    [
        ("place engin X box 1 x 1 x 1 at 0 0 0", "no kind of part.*engine"),
        ("place engine X box 500 x 620 at 0 0 0", "has 3 sizes, and 2 came"),
        ("place engine X box 500 x 620 x 0 at 0 0 0", "height 0.0"),
        ("place engine X box 500 x 620 x 400 at 0 0 0 mass -4", "mass -4"),
        ("place engine X", "The place is missing"),
        ("place glass at 0 0 0", "no generic glass"),
        ("place other X outline 0 0, 100 100, 100 0, 0 100 by 50 at 0 0 0", "crosses itself"),
        ("person Bryn 178 at 0 0 300", "stature of 178 mm is beyond"),
        ("person Bryn men 120 at 0 0 300", "percentile of 120"),
        ("chain X teeth 2 40 pitch 12.7 from 0 0 0 to -500 0 0", "teeth 2"),
        ("shaft X from 0 0 0", "is incomplete"),
        ("set thigh 47", "thigh of 47 mm makes no person"),
        ("set thing 47", "no ‘thing’"),
        ("set aboard maybe", "neither yes nor no"),
        ("three 0 0 0; 100 0 0; 200 0 0 to 0 0 0; 0 100 0; 0 0 100", "in a line|needs a part"),
        ("use", "one person and the parts"),
        ("tyre front 205-50-15", "not a tyre size|no front wheels"),
        ("target speed 90", "not a figure to aim at"),
        ("target mass 4.8 parsecs", "parsecs"),
        ("deadline soon", "is not a day"),
        ("rule tube size role main hoop: Hoops", "lacks od, wall"),
        ("rule tube size role main hop, od 45, wall 2: Hoops", "no role.*main hoop"),
        ("rule room reading helmet to tubes: Helmets", "lacks its numbers"),
        ("rule wheels size wheelbase: Wheelbase", "lacks its numbers"),
        ("rule tube size role main hoop, od 45, wall 2.5", "no clause"),
        ("rule tube sighs role main hoop: x", "no kind of rule"),
        ("rule R44 gone", "no rule ‘R44’"),
        ("variant open Nothing", "no variant"),
        ("variant keep", "needs a name"),
    ],
)
def test_bad_lines_are_refused_in_one_sentence(line: str, words: str) -> None:
    job = typed(Job(), "person Ann 1700 at -1300 0 320")
    with pytest.raises(Problem, match=words) as caught:
        understand(line, job, ("D1",))
    assert "\n" not in str(caught.value)


def test_what_may_touch_is_known_and_ids_may_stand_without_commas(sandpiper: Job) -> None:
    part = sandpiper.parts[0]
    both = understand("set touches B23 b24, hoop brace", sandpiper, (part.id,)).job.placed[part.id]
    assert both.touches == ("B23", "B24", "hoop brace")  # type: ignore[union-attr]
    with pytest.raises(Problem, match=r"‘B23 B150’ is not an id or a kind that may touch can name"):
        understand("set touches B23 B150", sandpiper, (part.id,))


def test_a_part_is_mirrored_and_copied_with_all_that_is_known_of_it() -> None:
    job = typed(
        Job(),
        "place tank Left tank outline 0 0, 400 0, 400 250, 100 300 by 160 at -900 320 400 mass 6",
        "set yaw 20",
        "set pitch -10",
        "set roll 5",
        "hole foot at 100, 80, -150 dia 8",
        chosen=("B1",),
    )
    made = understand("mirror", job, ("B1",))
    assert made.chosen == ("B2",)
    one, other = made.job.parts
    assert other.name == "Right tank"
    flip = np.array([1.0, -1.0, 1.0])
    low, high = part_body(one).bounds * flip
    assert np.allclose(part_body(other).bounds, [np.minimum(low, high), np.maximum(low, high)])
    place = [turn_of(p) @ [h.x, h.y, h.z] + p.place for p in (one, other) for h in p.holes]
    assert np.allclose(place[0] * flip, place[1])
    row = understand("copy 3 times x-200 z+50", made.job, ("B2",)).job
    assert [(p.name, p.x, p.z) for p in row.parts[2:]] == [
        (f"Right tank {n + 1}", -900 - 200 * n, 400 + 50 * n) for n in (1, 2, 3)
    ]
    with pytest.raises(Problem, match="stands on the centreline"):
        typed(job, "y 0", "mirror", chosen=("B1",))
    with pytest.raises(Problem, match="Joints, tubes and parts can be copied"):
        understand("copy x-100", Job())
