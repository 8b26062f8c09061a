"""An axle that is set for its chain: where whole chains lie tight, checked along both circles, what is found, what
Prove takes, and refusals."""

import math

import numpy as np
import pytest

from ironcage.cli.answers.run import say_run
from ironcage.core.answers.findings.checks import find_snags
from ironcage.core.answers.prove.cases import load_cases
from ironcage.core.answers.run import swept_bodies
from ironcage.core.answers.run.carrier import carrier_at, carrier_runs
from ironcage.core.answers.run.effects import effects_at
from ironcage.core.answers.run.tuning import tune
from ironcage.core.calc.car.chain import fit
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem, plain
from ironcage.samples import sample
from tests.core.lines import typed

SLIDES = ("carrier rear slide -1 0 0",)
SWINGS = ("carrier rear pivot J25L", "carrier rear stay J30L", "carrier rear stay out -2250, 320, 330")


@pytest.fixture
def car() -> Job:
    return sample("sandpiper").but(arms=())


def found(job: Job) -> dict[str, str]:
    return {s.code: plain(s.what) for s in find_snags(job) if s.step == "run" and "dampers" not in plain(s.what)}


def wrapped_length(job: Job, back: float) -> float:
    """Pitches round both sprockets, the driven one `back` mm further back, summed along the two circles and the
    tangents that touch them: found by looking for the longest straight run, without the chain's own formula."""
    chain = job.chains[0]
    radii = [chain.pitch / (2 * math.sin(math.pi / z)) for z in (chain.driving.teeth, chain.driven.teeth)]
    apart = math.hypot(chain.driven.x - back - chain.driving.x, chain.driven.z - chain.driving.z)
    around = np.linspace(0, 2 * np.pi, 200_001)
    ring = np.column_stack([np.cos(around), np.sin(around)])
    # the hull of both circles has width h(u) along each direction u; its outline is the integral of that
    width = np.maximum(radii[0], apart * ring[:, 0] + radii[1])
    outline = np.trapezoid(width, around)
    pins = [2 * z * math.sin(math.pi / z) * r - 2 * math.pi * r for z, r in zip((15, 40), radii, strict=True)]
    lean = math.asin((radii[1] - radii[0]) / apart)
    shares = 0.5 - lean / math.pi, 0.5 + lean / math.pi
    return (outline + sum(s * p for s, p in zip(shares, pins, strict=True))) / chain.pitch


def test_whole_chains_lie_tight_where_their_links_go_round(car: Job) -> None:
    run = carrier_runs(typed(car, *SLIDES))[0]
    assert [t.links for t in run.tight] == [68, 69, 70]
    for tight in run.tight:
        assert wrapped_length(car, tight.new) == pytest.approx(tight.links, abs=2e-3)
        assert wrapped_length(car, tight.worn) == pytest.approx(tight.links * 1.015, abs=2e-3)
        assert tight.worn_fits == (tight.worn <= 20)
    chain = car.chains[0]
    apart = math.dist((chain.driving.x, chain.driving.z), (chain.driven.x, chain.driven.z))
    assert fit(chain.pitch, (15, 40), apart).links == 70  # as Place tells the even chain that goes round


def test_a_carrier_that_swings_keeps_the_axle_as_far_from_its_pivot(car: Job) -> None:
    job = typed(car, *SWINGS)
    run, joint = carrier_runs(job)[0], job.joint("J25L")
    wheel = edits.left_wheel(job, "rear")
    lever = math.hypot(wheel.x - joint.x, wheel.z - joint.z)
    x, z = wheel.x + run.told.ahead[:, 0], wheel.z + run.told.rises[:, 0]
    assert np.hypot(x - joint.x, z - joint.z) == pytest.approx(lever, abs=1e-9)
    turned = np.arctan2(z - joint.z, x - joint.x)
    assert np.abs(np.diff(np.unwrap(turned))) * lever == pytest.approx(np.diff(run.found.travel), abs=1e-9)
    assert np.all(np.diff(run.told.centres[:, 0]) > 0)  # whichever way it swings, back is away from the sprocket
    ends = np.array([-2250.0, 320, 330]), np.array(job.joint("J30L").place)
    assert run.told.stay[run.found.travel == 0, 0] == pytest.approx(np.linalg.norm(ends[0] - ends[1]))


def test_what_is_found(car: Job) -> None:
    assert not {"carrier short", "chain not tight"} & set(found(typed(car, *SLIDES)))
    short = found(typed(car, *SLIDES, "carrier rear back 3", "carrier rear forth 0"))
    assert short["chain not tight"].startswith(
        "No chain of whole links is tight within what the rear carrier is set: 68"
    )
    worn = found(typed(car, *SLIDES, "carrier rear back 4", "carrier rear forth 4"))
    assert "68 links are tight set 3.9 mm forth, worn to the limit set 4.6 mm back." in worn["carrier short"]
    across = found(typed(car, "carrier rear slide 0.25 0 -1"))
    assert across == {} or "chain not tight" in across
    assert any(s.code == "clash" for s in find_snags(typed(car, *SLIDES, "carrier rear back 300")))
    tyre = next(b for b in swept_bodies(typed(car, *SLIDES)) if b.name == "rear left tyre")
    assert plain(tyre.labels[-1]) == "set 20.0 mm back"


def test_effects_bands_and_data(car: Job) -> None:
    job = typed(car, *SWINGS, "band rear pitches needed 68 to 69.2")
    effects = effects_at(job, carrier_at(job, "rear", 0.0))
    assert [e.point for e in effects] == ["carrier's pivot", "adjuster, frame", "adjuster, carrier"]
    assert effects[1].per_mm.centres == pytest.approx([0, 0, 0])
    assert "The rear pitches needed is" in found(job)["out of band"]
    assert tune(job, "rear", ("carrier's pivot",), 80.0, lambda _: None).after[0].off == 0
    assert say_run(job)["carriers"][0]["chains"][0]["links"] == 69


def test_prove_gives_the_axle_to_pivot_and_adjusters(car: Job) -> None:
    static = {case.name: case for case in load_cases(typed(car, *SWINGS))}["static"]
    rear = [p for p in static.pushes if p.what.startswith("rear")]
    assert [p.what for p in rear] == [
        "rear first pivot",
        "rear second pivot",
        "rear left adjuster",
        "rear right adjuster",
    ]
    assert sum(p.force[0] for p in rear) == pytest.approx(0, abs=1e-6)
    assert not any("adjuster" in p.what for p in load_cases(typed(car, *SLIDES))[0].pushes)


@pytest.mark.parametrize(
    ("lines", "line", "says"),
    [
        ((), "carrier rear slide 0 0 0", "The way has no direction."),
        ((), "carrier rear slide back", "‘back’ is no way to slide along."),
        ((), "carrier front slide -1 0 0", "The front wheels hang on wishbones."),
        (SLIDES, "carrier rear stay J30L", "An axle that slides has its adjusters in its slots."),
        ((), "carrier rear back 20", "The rear axle is on no carrier that is set yet."),
        (SLIDES, "arm rear axis J25L J25R", "The rear wheels are on a carrier."),
        (SLIDES, "carrier rear push 20", "The rear carrier has no ‘push 20’."),
    ],
)
def test_carriers_that_can_not_be_are_refused(car: Job, lines: tuple[str, ...], line: str, says: str) -> None:
    with pytest.raises(Problem) as refused:
        typed(typed(car, *lines), line)
    assert plain(refused.value.what).startswith(says)


def test_a_pivot_that_has_gone_is_told(car: Job) -> None:
    job = typed(typed(car, *SWINGS), "delete", chosen=("J25L",))
    assert found(job)["carrier incomplete"].startswith("The rear carrier swings at J25L, which has gone")
