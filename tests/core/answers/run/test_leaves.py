"""Leaf springs of a beam in a job: what is told, what Prove takes, what is found and refused."""

import math

import numpy as np
import pytest

from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.run import roll_stiffnesses
from ironcage.core.answers.run.leaves import leaves
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.calc.car.leaf import Leaf
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from ironcage.told import plain
from tests.core.lines import typed

LEAF = "beam front leaf front 300 rear 330 wide 40 thick 5 full 1 stepped 2 arch 45 shackle 60 lean 5 base 420"


@pytest.fixture
def cart() -> Job:
    return sample("skerry")


def test_a_pair_carries_half_of_its_axle_and_holds_the_car_by_its_base(cart: Job) -> None:
    assert leaves(cart) == ()
    assert leaves(typed(cart, "beam front leaf front 300 rear 330")) == ()  # not enough is known
    (told,) = leaves(typed(cart, LEAF, "beam front leaf unsprung 9 up 40"))
    spring = Leaf(300, 330, 40, 5, 2, 1, 45, 60, math.radians(5))
    weighed = weigh(cart)
    assert told.carries == pytest.approx(weighed.front_share * weighed.car.mass / 2 - 9)
    assert told.rate == spring.rate
    assert told.swings == pytest.approx(math.sqrt(told.rate * 1000 / told.carries) / (2 * math.pi))
    assert told.roll == pytest.approx(told.rate * 420**2 / 2)
    load = told.carries * 9.80665
    assert told.stress == pytest.approx(spring.stress(spring.bending(load)))
    assert told.up == pytest.approx(spring.stress(spring.bending(load + 40 * told.rate)))
    assert told.leans == pytest.approx(spring.shackle_lean(np.array([-50.0, 0, 40])))
    assert roll_stiffnesses(typed(cart, LEAF))[0] == pytest.approx(told.roll)


def test_one_across_carries_a_wheel_at_either_end(cart: Job) -> None:
    job = typed(cart, LEAF, "beam front leaf lies across")
    (told,) = leaves(job)
    assert job.beams[0].leaf.rear == 300  # both arms alike
    assert told.rate == Leaf(300, 300, 40, 5, 2, 1).end_rate
    assert told.roll == pytest.approx(told.rate * (2 * cart.wheels[0].y) ** 2 / 2)
    assert (told.leans, told.back, told.steer) == (None, 0, 0)


def test_a_shackle_that_tips_over_and_leaves_that_are_bent_too_far_are_found(cart: Job) -> None:
    def found(job: Job) -> dict[str, str]:
        return {s.code: plain(s.what) for s in find_snags(job) if s.code in ("shackle tips", "leaf stress")}

    job = typed(cart, LEAF)
    assert found(job) == {}
    assert "tip over before full travel down" in found(typed(job, "beam front leaf arch 90 shackle 25"))["shackle tips"]
    stress = found(typed(job, "beam front leaf limit 300"))["leaf stress"]
    assert stress.startswith("The front leaves are bent to ")
    assert stress.endswith("at full travel up, more than 300.")


@pytest.mark.parametrize(
    ("line", "why"),
    [
        ("beam front leaf", "What is known of the leaf springs is incomplete"),
        ("beam front leaf width 40", "no figure is called ‘width’. The nearest is wide"),
        ("beam front leaf full 0", "A leaf spring has one leaf at least"),
        ("beam front leaf full 1.5", "‘1.5’ is no number of leaves"),
        ("beam front leaf lies athwart", "does not lie ‘athwart’"),
        ("beam rear leaf front 300", "The rear wheels hang on nothing that has leaf springs"),
    ],
)
def test_what_no_leaf_spring_can_be_is_refused(cart: Job, line: str, why: str) -> None:
    with pytest.raises(Problem) as refused:
        understand(line, cart)
    assert why in plain(refused.value.sentence)
