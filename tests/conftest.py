"""What several tests share: the demo job, small frames, a home of their own for settings and journals."""

from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

from ironcage.core.job import edits
from ironcage.core.job.values.logbook import Logbook
from ironcage.core.job.values.model import Job, RuleProfile
from ironcage.core.job.values.truing import Truing
from ironcage.core.job.values.welding import Welding
from ironcage.samples import sample

settings.register_profile(
    "shop", deadline=None, max_examples=40, suppress_health_check=[HealthCheck.too_slow], derandomize=True
)
settings.load_profile("shop")


@pytest.fixture(autouse=True)
def own_home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """No test sees the settings or the unsaved work of the person who runs it."""
    home = tmp_path / "home"
    monkeypatch.setenv("IRONCAGE_HOME", str(home))
    return home


@pytest.fixture(scope="session")
def sandpiper() -> Job:
    return sample("sandpiper")


@pytest.fixture(scope="session")
def bare(sandpiper: Job) -> Job:
    """Sandpiper's frame with its wheels and weights, nobody and nothing placed or built, no rules."""
    built = {"wishbones": (), "arms": (), "welding": Welding(), "truing": Truing(), "logbook": Logbook()}
    return sandpiper.but(parts=(), people=(), chains=(), rules=RuleProfile(), **built)


@pytest.fixture
def box() -> Job:
    """A mirrored box of four corners a side with its edges as tubes, pickups at its ends."""
    job = Job()
    for x, z in ((0.0, 200.0), (0.0, 500.0), (-1200.0, 200.0), (-1200.0, 500.0)):
        job = edits.add_joint(job, (x, 300.0, z))
    for a, b in (
        ("J1L", "J2L"),
        ("J3L", "J4L"),
        ("J1L", "J3L"),
        ("J2L", "J4L"),
        ("J1L", "J1R"),
        ("J2L", "J2R"),
        ("J3L", "J3R"),
        ("J4L", "J4R"),
    ):
        job = edits.add_tube(job, a, b, "30 x 1.5 round", "Drawn mild steel tube")
    return edits.add_pickup(edits.add_pickup(job, "J1L", "front"), "J3L", "rear")
