"""Section lines against what is placed: by boxes whose sides are known."""

import pytest

from ironcage.core.answers.place.sectionlines import section_lines
from ironcage.core.job.values.model import Job
from tests.core.lines import typed


@pytest.fixture
def shed() -> Job:
    """An engine 500 x 600 x 400 about -1000 0 300, and a driver."""
    return typed(
        Job(), "place engine Triple box 500 x 600 x 400 at -1000 0 300 mass 80", "person Ottilie 1740 at -300 0 300"
    )


def gaps(job: Job, line: str) -> dict[str, tuple[bool, float]]:
    (told,) = section_lines(typed(job, line))
    return {g.name: (g.above, round(g.gap, 6)) for g in told.gaps}


@pytest.mark.parametrize(
    ("line", "above", "gap"),
    [
        ("line roof z 620", True, 120.0),  # the engine's top is at 500
        ("line roof z 460", True, -40.0),  # 40 of it stand over the line
        ("line floor z 80", False, 20.0),  # its underside is at 100
        ("line wall x -700", True, 50.0),  # its front is at -750
        ("line wall x -1300", False, 50.0),  # its back is at -1250
        ("line wall y 350", True, 50.0),
    ],
)
def test_the_gap_to_a_box_is_from_its_nearer_side(shed: Job, line: str, above: bool, gap: float) -> None:
    assert gaps(shed, line)["Triple"] == (above, gap)


def test_three_roofs_against_one_driver_differ_by_their_heights(shed: Job) -> None:
    job = typed(shed, "line low z 1100", "line mid z 1160", "line high z 1230")
    low, mid, high = (next(g for g in told.gaps if g.use == "person") for told in section_lines(job))
    assert low.piece == "helmet"
    assert mid.gap - low.gap == pytest.approx(60)
    assert high.gap - low.gap == pytest.approx(130)
