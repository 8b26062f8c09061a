"""People of several statures in every seat of the job and of its variants."""

import pytest

from ironcage.core.answers.place.compared import NOW, compare_people
from ironcage.core.answers.place.people import people_seated
from ironcage.core.job.edits.placed import with_stature
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample


@pytest.fixture(scope="module")
def roofs() -> Job:
    """The Sandpiper with a higher roof kept beside it."""
    job = sample("sandpiper")
    top = tuple(j.id for j in job.joints if j.z > 1000)
    kept = understand("variant keep As drawn", job).job
    return understand("z+40", kept, top).job


def test_each_roof_against_each_driver_is_what_that_driver_alone_is_told(roofs: Job) -> None:
    told = compare_people(roofs, (1740.0, 1860.0))
    seats = [p.name for p in roofs.people if p.aboard]
    assert [(c.state, c.seat, round(c.stature)) for c in told] == [
        (state, seat, mm) for state in (NOW, "As drawn") for seat in seats for mm in (1740, 1860)
    ]
    first = roofs.people[0]
    alone = roofs.but(people=(with_stature(first, 1860.0), *roofs.people[1:]))
    for name in ("helmet to hoop line", "knee room"):
        assert told[1].told.reading(name).value == people_seated(alone)[0].reading(name).value


def test_a_roof_so_much_higher_leaves_so_much_more_over_the_helmet(roofs: Job) -> None:
    told = compare_people(roofs, (1740.0,))
    higher, drawn = (
        next(c for c in told if c.state == state).told.reading("helmet to hoop line").value
        for state in (NOW, "As drawn")
    )
    assert 0 < higher - drawn <= 40.0


def test_limbs_grow_in_proportion_and_the_helmet_stays() -> None:
    person = sample("sandpiper").people[0]
    taller = with_stature(person, 1860.0)
    assert taller.limbs.stature == pytest.approx(1860.0)
    assert taller.limbs.thigh / person.limbs.thigh == pytest.approx(1860.0 / person.limbs.stature)
    assert taller.limbs.helmet == person.limbs.helmet
    with pytest.raises(Problem):
        with_stature(person, 3000.0)
