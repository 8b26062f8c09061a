"""The twist's energy, bay by bay."""

import pytest

from ironcage.core.answers import frame
from ironcage.core.answers.prove.baywork import by_bay
from ironcage.core.job.values.model import Job


def test_the_bays_share_out_all_that_their_tubes_hold(sandpiper: Job) -> None:
    told = by_bay(sandpiper)
    of_tube = {t.id: float(e) for t, e in zip(sandpiper.tubes, told.energy, strict=True)}
    sides = {t for bay in frame.find_bays(sandpiper).bays for t in bay.tubes}
    assert sum(b.energy for b in told.bays) == pytest.approx(sum(of_tube[t] for t in sides), rel=1e-9)
    assert [b.energy for b in told.bays] == sorted((b.energy for b in told.bays), reverse=True)
