"""Mass, centre of gravity and axle split of the frame and of the car, and how it stands on its wheels."""

from dataclasses import dataclass

import numpy as np

from ironcage.core.answers.shared import fittings
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.frame_arrays import lines
from ironcage.core.calc.car.mass import Floats, MassSum, axle_split, total
from ironcage.core.calc.car.stance import Stance, stand
from ironcage.core.calc.frames.rigs import CORNERS
from ironcage.core.calc.sections import along_taper
from ironcage.core.job.geometry.bodies import pose_of, turn_of
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.values.model import Job, Wheel
from ironcage.problem import Problem


@dataclass(frozen=True)
class MassAnswer:
    """Tube lengths along their centrelines (m,) mm, masses (m,) kg and centres of gravity (m, 3) mm in job order;
    fittings: kg of sheet and fittings; the frame and the car weighed; the front axle's share of the car (None
    without wheels at both ends or without mass); tracks: front and rear, mm, None without wheels."""

    lengths: Floats
    tube_masses: Floats
    tube_places: Floats
    fittings: float
    frame: MassSum
    car: MassSum
    front_share: float | None
    wheelbase: float | None
    tracks: tuple[float | None, float | None]
    axles: tuple[float | None, float | None]


@dataclass(frozen=True)
class Load:
    """Something heavy that is no tube: its id, name, mass in kg and place (3,) mm."""

    id: str
    name: str
    mass: float
    place: Floats


def loads(job: Job) -> tuple[Load, ...]:
    """Weights, parts that weigh something, and everybody aboard."""
    return (
        *(Load(m.id, m.name, m.mass, np.array([m.x, m.y, m.z])) for m in job.masses),
        *(
            Load(p.id, p.name, kg, np.array(p.place) + turn_of(p) @ np.array(p.cg))
            for p in job.parts
            if (kg := p.mass + p.full * p.contents)
        ),
        *(Load(p.id, p.name, p.mass, pose_of(p).cg) for p in job.people if p.aboard),
    )


@remembered("joints", "tubes", "shelf", "fittings", "wheels", "masses", "parts", "people")
def weigh(job: Job) -> MassAnswer:
    """Weigh tubes by their centrelines from joint to joint (overlaps at joints counted twice, welds not at all), and
    the fittings on them."""
    lengths, middles = _lengths(job)
    masses = lengths * _per_mm(job)
    fitted = fittings.fitting_facts(job)
    frame = total(np.array([*masses, *(f.kg for f in fitted)]), np.vstack([middles, *(f.place for f in fitted)]))
    heavy = loads(job)
    car = total(np.array([*(h.mass for h in heavy), frame.mass]), np.array([*(h.place for h in heavy), frame.cg]))
    front, rear = (_axle(job, end) for end in ("front", "rear"))
    share = wheelbase = None
    if front is not None and rear is not None:
        wheelbase = front - rear
        if front > rear and car.mass > 0:
            share = axle_split(float(car.cg[0]), front, rear)
    tracks = (_track(job, "front"), _track(job, "rear"))
    return MassAnswer(
        lengths, masses, middles, sum(f.kg for f in fitted), frame, car, share, wheelbase, tracks, (front, rear)
    )


@remembered("tubes", "shelf")
def _per_mm(job: Job) -> Floats:
    """What a millimetre of each tube weighs (m,), kg; of a tapered one on the average."""
    known = {}
    for section, taper, material in {(t.section, t.taper, t.material) for t in job.tubes}:
        known[section, taper, material] = (
            _taper(job, section, taper, material)[0] * job.material(material).density * 1e-9
        )
    return np.array([known[t.section, t.taper, t.material] for t in job.tubes])


def _taper(job: Job, section: str, taper: str, material: str) -> tuple[float, float]:
    """Mean area (mm²) of a tube and the share of its length at its centroid, half where it does not taper."""
    first, last = job.section(section).shape, job.section(taper or section).shape
    return along_taper(first, last, job.material(material).poisson)


@remembered("tubes", "shelf")
def _tapered(job: Job) -> dict[int, float]:
    """The rows of straight tubes that taper, and the share of their length at which they balance."""
    rows = [(n, t) for n, t in enumerate(job.tubes) if t.taper and not t.shaped]
    return {n: _taper(job, t.section, t.taper, t.material)[1] for n, t in rows}


@remembered("tubes")
def _shaped(job: Job) -> tuple[int, ...]:
    """The rows of tubes that are not straight from joint to joint."""
    return tuple(n for n, t in enumerate(job.tubes) if t.shaped)


def _lengths(job: Job) -> tuple[Floats, Floats]:
    """Lengths (m,) and centres (m, 3) of all tubes, mm."""
    nodes, ends = lines(job)
    one, other = nodes[ends[:, 0]], nodes[ends[:, 1]]
    lengths, middles = np.linalg.norm(other - one, axis=1), (one + other) / 2
    for n in _shaped(job):
        route = route_of(job, job.tubes[n])
        lengths[n] = route.length
        weights = np.diff(route.distances)
        middles[n] = weights @ (route.line[:-1] + route.line[1:]) / 2 / route.length
    for n, share in _tapered(job).items():
        middles[n] = one[n] + share * (other[n] - one[n])
    return lengths, middles


def _axle(job: Job, end: str) -> float | None:
    """Mean x of an axle's wheels, mm."""
    xs = [w.x for w in job.wheels if w.corner.startswith(end)]
    return float(np.mean(xs)) if xs else None


def _track(job: Job, end: str) -> float | None:
    """Distance between the middles of an axle's tyres, mm."""
    ys = {w.corner: w.y for w in job.wheels if w.corner.startswith(end)}
    return ys[f"{end} left"] - ys[f"{end} right"] if len(ys) == 2 else None  # type: ignore[index]


@dataclass(frozen=True)
class Lever:
    """A thing that weighs: by how much the front axle's share changes for each mm it goes forward, and the CG's
    height for each mm it goes up."""

    load: Load
    share_per_mm: float
    height_per_mm: float


@dataclass(frozen=True)
class StanceAnswer:
    """How the car stands (see `car.stance`), None with the problem where it does not, and the lever of each load,
    the strongest first."""

    stance: Stance | None
    problem: str
    levers: tuple[Lever, ...]


ASSUMED = (
    "Corner loads: each axle's load is centred where the car's centre of gravity is; load cases start from the same.",
    "Lifting and tipping: rigid, tyres and springs not squashed, the ground level across.",
)


def stance(job: Job) -> StanceAnswer | None:
    """How the car stands on its wheels; None until all four and something heavy are there."""
    w = weigh(job)
    wheels: dict[str, Wheel] = {x.corner: x for x in job.wheels}
    if w.front_share is None or len(wheels) < len(CORNERS) or not w.wheelbase:
        return None
    levers = tuple(Lever(h, h.mass / w.car.mass / w.wheelbase, h.mass / w.car.mass) for h in loads(job))
    contacts = np.array([(x.x, x.y, x.z - x.diameter / 2) for x in (wheels[c] for c in CORNERS)])
    made, words = None, ""
    try:
        made = stand(w.car.mass, w.car.cg, contacts)
    except Problem as problem:
        words = problem.sentence
    return StanceAnswer(made, words, tuple(sorted(levers, key=lambda lever: -lever.share_per_mm)))
