"""The car as load cases push on it: what weighs and which joints carry it, what pushes in each standard case, and the
masses' answer."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from ironcage.core.answers import run
from ironcage.core.answers.shared import fittings
from ironcage.core.answers.shared.frame_arrays import lines
from ironcage.core.answers.shared.mass import loads as heavy_things
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.answers.shared.pulling import pulled
from ironcage.core.calc.car.chain import pitch_radius, runs
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.frames.load_distribution import G, Weights, distribution_matrix, wheel_loads
from ironcage.core.calc.frames.rigs import CORNERS
from ironcage.core.job.geometry.bodies import shaft_axis
from ironcage.core.job.values.model import Job, Wheel
from ironcage.core.job.values.placed import Chain, Shaft
from ironcage.core.job.values.proving import Case
from ironcage.core.job.values.ties import ToHole
from ironcage.problem import Problem
from ironcage.units import said

POWER = ("engine", "motor", "gearbox")  # what a chain or shaft starts at
NEAR = 4  # joints that share something that is tied to none
BUMPED = {  # the wheels that are on the bump in each case
    "bump front": ("front left", "front right"),
    "bump front left": ("front left",),
    "bump front right": ("front right",),
    "bump rear": ("rear left", "rear right"),
    "bump rear left": ("rear left",),
    "bump rear right": ("rear right",),
}


@dataclass(frozen=True, eq=False)
class AppliedLoad:
    """Something that pushes on the car: what, where (3,) mm, force and moment (3,) N, N·mm; joints: where it reaches
    the frame."""

    what: str
    at: Floats
    force: Floats
    moment: Floats
    joints: tuple[str, ...]


def _summed(pushes: list[AppliedLoad]) -> list[AppliedLoad]:
    """Loads with all that one link gives as one: both wheels of a live axle push through the same links."""
    made: dict[tuple[str, tuple[str, ...]], AppliedLoad] = {}
    for push in pushes:
        before = made.get((push.what, push.joints))
        if before is not None:
            push = replace(push, force=before.force + push.force, moment=before.moment + push.moment)
        made[push.what, push.joints] = push
    return list(made.values())


@dataclass(frozen=True, eq=False)
class Loaded:
    """A case. loads (n, 6): on the joints, the masses' answer in it; held: joints that hold the frame; pushes: what
    does it; inertia (3,): the sum of the masses' answer, N; answers (k, 3): that of each of the car's `carried` masses,
    none where joints hold; residual: what is left of the sum of all forces, N, and of all moments, N·mm; problem: why
    it can't be worked out."""

    name: str
    loads: Floats
    held: tuple[str, ...]
    pushes: tuple[AppliedLoad, ...]
    inertia: Floats
    answers: Floats
    residual: tuple[float, float]
    problem: str = ""

    @property
    def applied(self) -> Floats:
        """The sum of what pushes (3,), N."""
        return np.sum([p.force for p in self.pushes], axis=0) if self.pushes else np.zeros(3)


def refused(nothing: Loaded, words: str) -> Loaded:
    """A case that can't be worked out, and why."""
    return Loaded(nothing.name, nothing.loads, nothing.held, (), nothing.inertia, nothing.answers, (0.0, 0.0), words)


def drive_level(job: Job) -> float:
    """How hard the car pulls away, g: by what it is told to pull with, else the level that is set."""
    made = pulled(job)
    return job.proving.levels.drive if made is None else made.g


@dataclass(frozen=True, eq=False)
class Carried:
    """A mass, kg, at a place (3,), and the joints by number that carry it: something placed, a fitting, or a tube
    that is not straight and even."""

    mass: float
    place: Floats
    joints: tuple[int, ...]


class Car:
    """What is looked up again and again while the cases of one job are worked out."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self.index = {j.id: n for n, j in enumerate(job.joints)}
        self.nodes = lines(job).nodes
        self.used = np.array([n for n, j in enumerate(job.joints) if j.id in job.tubes_at], dtype=np.int64)
        w = weigh(job)
        self.heavy = heavy_things(job)
        half = np.zeros(len(self.nodes))
        self.carriers = [self._tied(h.id) or self.near(h.place) for h in self.heavy]
        self.carried = [Carried(h.mass, h.place, rows) for h, rows in zip(self.heavy, self.carriers, strict=True)]
        for t, kg, place in zip(job.tubes, w.tube_masses, w.tube_places, strict=True):
            ends = [self.index[t.a], self.index[t.b]]
            if t.shaped or t.taper:
                self.carried.append(Carried(float(kg), place, tuple(ends)))
            else:
                half[ends] += kg / 2
        self.carried += [
            Carried(f.kg, np.array(f.place), self.near(np.array(f.place))) for f in fittings.fitting_facts(job) if f.kg
        ]
        self._distributions: dict[tuple[tuple[int, ...], bytes], Floats] = {}
        self.weights = Weights(
            np.concatenate([half[self.used], [c.mass for c in self.carried]]),
            np.vstack([self.nodes[self.used], *(c.place for c in self.carried)]).reshape(-1, 3),
        )
        self.wheels: dict[str, Wheel] = {wheel.corner: wheel for wheel in job.wheels}

    def _tied(self, thing: str) -> tuple[int, ...]:
        return tuple(
            self.index[j.id]
            for j in self.job.joints
            if isinstance(j.tie, ToHole) and j.tie.thing == thing and j.id in self.job.tubes_at
        )

    def near(self, place: Floats) -> tuple[int, ...]:
        """The joints nearest to a place, by number."""
        order = np.argsort(np.linalg.norm(self.nodes[self.used] - place, axis=1), kind="stable")
        return tuple(int(n) for n in self.used[order[:NEAR]])

    def unit(self, place: Floats) -> tuple[int, ...]:
        """The joints that carry the engine, motor or gearbox nearest to a place, by number; those nearest to the
        place where there is none."""
        kinds = {p.id: p.kind for p in self.job.parts}
        units = [
            (float(np.linalg.norm(h.place - place)), rows)
            for h, rows in zip(self.heavy, self.carriers, strict=True)
            if kinds.get(h.id) in POWER
        ]
        return min(units)[1] if units else self.near(place)

    def bearings(self, chain: Chain) -> tuple[int, ...]:
        """The joints nearest to both bearings of a chain's driven shaft, by number."""
        wheel = np.array([chain.driven.x, chain.driven.y, chain.driven.z])
        left = wheel + chain.reach * shaft_axis(chain.driven)
        right = left - chain.span * shaft_axis(chain.driven)
        return tuple(dict.fromkeys((*self.near(left), *self.near(right))))

    def _distribution(self, rows: tuple[int, ...], at: Floats) -> Floats:
        key = rows, at.tobytes()
        if key not in self._distributions:
            self._distributions[key] = distribution_matrix(self.nodes[list(rows)], at)
        return self._distributions[key]

    def case(self, name: str, make: Callable[[], list[AppliedLoad]], held: tuple[str, ...] = ()) -> Loaded:
        """A case from what pushes, balanced by the masses' inertia unless joints hold it."""
        nothing = Loaded(name, np.zeros((len(self.nodes), 6)), held, (), np.zeros(3), np.zeros((0, 3)), (0.0, 0.0))
        try:
            pushes = make()
        except Problem as problem:
            return refused(nothing, problem.sentence)
        loads = np.zeros((len(self.nodes), 6))
        for p in pushes:
            on = [self.index[j] for j in p.joints]
            loads[on] += (self._distribution(tuple(on), p.at) @ np.concatenate([p.force, p.moment])).reshape(-1, 6)
        if held:
            return Loaded(name, loads, held, tuple(pushes), np.zeros(3), np.zeros((0, 3)), (0.0, 0.0))
        if self.weights.mass <= 0:
            return refused(nothing, "Nothing in the car weighs anything, so nothing answers the loads.")
        cg = self.weights.cg
        force, moment = self._sum(loads, cg)
        inertia = self.weights.inertia_forces(force, moment)
        loads[self.used, :3] += inertia[: len(self.used)]
        for c, f in zip(self.carried, inertia[len(self.used) :], strict=True):
            loads[list(c.joints)] += (self._distribution(c.joints, c.place)[:, :3] @ f).reshape(-1, 6)
        left, turned = self._sum(loads, cg)
        return Loaded(
            name,
            loads,
            (),
            tuple(pushes),
            inertia.sum(axis=0),
            inertia[len(self.used) :],
            (float(np.linalg.norm(left)), float(np.linalg.norm(turned))),
        )

    def _sum(self, loads: Floats, about: Floats) -> tuple[Floats, Floats]:
        return loads[:, :3].sum(axis=0), (loads[:, 3:] + np.cross(self.nodes - about, loads[:, :3])).sum(axis=0)

    def own(self, case: Case) -> list[AppliedLoad]:
        """What a case of the builder's own pushes with."""
        for name in (*(p.joint for p in case.loads), *case.held):
            if name not in self.index:
                raise Problem(f"{case.name} names {name}, which is no longer there.", where=name)
        return [
            AppliedLoad(
                f"at {p.joint}", self.nodes[self.index[p.joint]], np.array([p.x, p.y, p.z]), np.zeros(3), (p.joint,)
            )
            for p in case.loads
        ]

    def standard(self, name: str) -> list[AppliedLoad]:
        """What pushes in a standard case."""
        at, at_rest = self.job.proving.levels, self._at_rest()
        makers: dict[str, Callable[[], list[AppliedLoad]]] = {
            "landing": lambda: self._wheel_pushes(at_rest * at.landing),
            "braking": lambda: self._driven(-at.brake),
            "acceleration": lambda: self._driven(drive_level(self.job)),
            "cornering left": lambda: self._cornering(at.corner),
            "cornering right": lambda: self._cornering(-at.corner),
            "jack": self._jacked,
            "strap": lambda: self._strapped(at.strap),
            "tow": lambda: [*self._wheel_pushes(at_rest), *self._pulled("tow", at.tow * self.weights.mass * G)],
            "harness": lambda: [
                *self._wheel_pushes(at_rest),
                *self._pulled("harness", at.harness * len(self._joints("harness"))),
            ],
        }
        if name in makers:
            return makers[name]()
        on_bump = BUMPED.get(name, ())  # none where the car is at rest
        return self._wheel_pushes(at_rest * np.array([at.bump if c in on_bump else 1.0 for c in CORNERS]))

    def _pulled(self, name: str, pull: float) -> list[AppliedLoad]:
        """A pull forward, N, shared by the joints that a case takes hold of."""
        joints = self._joints(name)
        force, moment = np.array([pull / len(joints), 0.0, 0.0]), np.zeros(3)
        return [AppliedLoad(f"{name} at {j}", self.nodes[self.index[j]], force, moment, (j,)) for j in joints]

    def _joints(self, what: str) -> tuple[str, ...]:
        names = self.job.proving.at(what)
        for name in names:
            if name not in self.job.tubes_at:
                raise Problem(f"The case {what} takes hold at {name}, which is on no tube.", where=name)
        return names

    def _contacts(self) -> Floats:
        missing = [c for c in CORNERS if c not in self.wheels]
        if missing:
            raise Problem(
                f"There is no wheel at the {missing[0]}.",
                where="wheels",
                hint=said.example("Type for example: wheels front [0] [650] [290] dia [580] width [165]"),
            )
        for corner in CORNERS:
            if not self._pickups(corner) and run.link_reactions(self.job, corner, np.zeros(3), np.zeros(3)) is None:
                raise Problem(
                    f"There is no pickup at the {corner}.",
                    where=corner,
                    hint="Choose a joint there and make it a pickup.",
                )
        if self.weights.mass <= 0 or not self.heavy:
            raise Problem(
                "The car's own masses are missing: nothing heavy has been placed.",
                where="masses",
                hint="Place the engine, the driver and what else weighs.",
            )
        return np.array([(w.x, w.y, w.z - w.diameter / 2) for w in (self.wheels[c] for c in CORNERS)])

    def _pickups(self, corner: str) -> tuple[str, ...]:
        return tuple(p.joint for p in self.job.pickups if p.corner == corner and p.joint in self.job.tubes_at)

    def _at_rest(self) -> Floats:
        return self._loads(0.0, 0.0)

    def _loads(self, forward: float, left: float) -> Floats:
        roll_front, roll_rear = run.roll_stiffnesses(self.job)
        contacts = self._contacts()
        cg, (front, rear) = self.weights.cg, (contacts[:2, 0].mean(), contacts[2:, 0].mean())
        share = (
            roll_front / (roll_front + roll_rear)
            if roll_front and roll_rear
            else float(np.clip((cg[0] - rear) / (front - rear or 1.0), 0, 1))
        )
        return wheel_loads(contacts, self.weights, forward, left, share)

    def _wheel_pushes(
        self, up: Floats, along: Floats | None = None, across: Floats | None = None, *, at_hub: bool = False
    ) -> list[AppliedLoad]:
        contacts = self._contacts()
        made = []
        for n, corner in enumerate(CORNERS):
            w = self.wheels[corner]
            force = np.array([0.0 if along is None else along[n], 0.0 if across is None else across[n], up[n]])
            hub = at_hub and corner.startswith("rear") and not self._on_axle
            made += self._through_links(corner, np.array([w.x, w.y, w.z]) if hub else contacts[n], force)
        return _summed(made)

    def _through_links(self, corner: str, place: Floats, force: Floats) -> list[AppliedLoad]:
        """A wheel's push as its links give it to the frame; shared by its pickups where it hangs on none."""
        links = run.link_reactions(self.job, corner, place, force)
        if links is None:
            return [AppliedLoad(f"{corner} wheel", place, force, np.zeros(3), self._pickups(corner))]
        axle = corner.partition(" ")[0]
        shared = run.held_axle(self.job, axle) is not None or run.on_one(self.job, axle)
        whose = axle if shared else corner
        return [AppliedLoad(f"{whose} {name}", at, f, np.zeros(3), joints) for name, joints, at, f in links]

    @cached_property
    def _on_axle(self) -> bool:
        """Whether the rear wheels are on a live axle that is driven itself, by a chain or a shaft that ends at it, and
        whose links bear that: the drive's torque then acts from its housing on its wheels, within the axle."""
        if not any(a.axle == "rear" and (a.spring or a.eye) for a in self.job.live_axles):
            return False
        wheel = self.wheels["rear left"]
        driven = [(c.driven.x, c.driven.z) for c in self.job.chains[:1]] or [s.stop[::2] for s in self.job.shafts[:1]]
        return all(math.dist(place, (wheel.x, wheel.z)) < wheel.diameter / 2 for place in driven)

    def _driven_end(
        self, what: str, at: Floats, force: Floats, moment: Floats, joints: Callable[[], tuple[int, ...]]
    ) -> list[AppliedLoad]:
        """What drive does to a driven shaft or a differential beside the torque of its wheels: through the links of a
        live axle that it is on, else at joints of the frame."""
        links = run.axle_reactions(self.job, "rear", at, force, moment) if self._on_axle else None
        if links is None:
            return [AppliedLoad(what, at, force, moment, self._named(joints()))]
        return [AppliedLoad(f"rear {name}", inner, f, np.zeros(3), on) for name, on, inner, f in links]

    def _driven(self, forward: float) -> list[AppliedLoad]:
        """Braking at all wheels as they are loaded, or driving at the rear ones."""
        up = self._loads(forward, 0.0)
        total = forward * self.weights.mass * G
        if forward < 0:
            axles = np.array([up[:2].sum(), up[:2].sum(), up[2:].sum(), up[2:].sum()]) / up.sum() / 2
            return self._wheel_pushes(up, along=total * axles)
        along = np.array([0.0, 0.0, 0.5, 0.5]) * total
        torque = total * self.wheels["rear left"].diameter / 2
        if self.job.chains:
            pulled = self._chain_pull(self.job.chains[0], torque)
            return _summed([*self._wheel_pushes(up, along=along, at_hub=True), *pulled])
        if self.job.shafts:
            turned = self._shaft_torque(self.job.shafts[0], torque)
            return _summed([*self._wheel_pushes(up, along=along, at_hub=True), *turned])
        return self._wheel_pushes(up, along=along)

    def _chain_pull(self, chain: Chain, torque: float) -> list[AppliedLoad]:
        """The tight upper strand pulls the engine and the driven shaft together; the driven sprocket's torque goes
        on to the wheels."""
        small, large = (np.array([c.x, c.y, c.z]) for c in (chain.driving, chain.driven))
        radii = pitch_radius(chain.driving.teeth, chain.pitch), pitch_radius(chain.driven.teeth, chain.pitch)
        leaves, meets = runs((small, radii[0]), (large, radii[1]), np.array([0.0, 1.0, 0.0]))["upper"]
        pull = torque / radii[1] * (meets - leaves) / np.linalg.norm(meets - leaves)
        return [
            AppliedLoad(f"{chain.name} on the engine", leaves, pull, np.zeros(3), self._named(self.unit(small))),
            *self._driven_end(
                f"{chain.name} on the driven shaft", large, -pull, np.zeros(3), lambda: self.bearings(chain)
            ),
        ]

    def _shaft_torque(self, shaft: Shaft, torque: float) -> list[AppliedLoad]:
        """The shaft turns the engine one way and the differential the other; the differential takes the wheels'
        torque as well."""
        start, stop = np.array(shaft.start), np.array(shaft.stop)
        twist = np.array(shaft.drive) / np.linalg.norm(shaft.drive) * torque / self.job.proving.levels.final_drive
        wheels = np.zeros(3) if self._on_axle else np.array([0.0, -torque, 0.0])
        return [
            AppliedLoad(f"{shaft.name} on the engine", start, np.zeros(3), twist, self._named(self.unit(start))),
            *self._driven_end(
                f"{shaft.name} on the differential", stop, np.zeros(3), wheels - twist, lambda: self.near(stop)
            ),
        ]

    def _named(self, rows: tuple[int, ...]) -> tuple[str, ...]:
        return tuple(self.job.joints[n].id for n in rows)

    def _cornering(self, left: float) -> list[AppliedLoad]:
        up, contacts, cg = self._loads(0.0, left), self._contacts(), self.weights.cg
        front, rear = contacts[:2, 0].mean(), contacts[2:, 0].mean()
        share = (cg[0] - rear) / (front - rear)
        total = left * self.weights.mass * G
        axle = [up[:2].sum() or 1.0, up[2:].sum() or 1.0]
        across = total * np.array(
            [
                share * up[0] / axle[0],
                share * up[1] / axle[0],
                (1 - share) * up[2] / axle[1],
                (1 - share) * up[3] / axle[1],
            ]
        )
        return self._wheel_pushes(up, across=across)

    def _jacked(self) -> list[AppliedLoad]:
        """Lifted at the jack's joints, the far axle's wheels still on the ground: three places, so equilibrium tells
        all."""
        names, contacts = self._joints("jack"), self._contacts()
        at = self.nodes[[self.index[j] for j in names]].mean(axis=0)
        cg, weight = self.weights.cg, self.weights.mass * G
        on = [2, 3] if at[0] > cg[0] else [0, 1]
        places = np.vstack([contacts[on], at])
        rows = np.stack([np.ones(3), places[:, 0] - cg[0], places[:, 1] - cg[1]])
        if abs(np.linalg.det(rows)) < 1.0:
            raise Problem(
                f"The jack at {' '.join(names)} stands in line with the wheels.",
                where=names[0],
                hint="Choose another joint.",
            )
        loads = np.linalg.solve(rows, [weight, 0.0, 0.0])
        if loads.min() < 0:
            raise Problem(
                f"The car would tip off a jack at {' '.join(names)}.",
                where=names[0],
                hint="Choose a joint nearer to the middle, or two.",
            )
        up = np.zeros(4)
        up[on] = loads[:2]
        return [*self._wheel_pushes(up), AppliedLoad("jack", at, np.array([0.0, 0.0, loads[2]]), np.zeros(3), names)]

    def _strapped(self, pull: float) -> list[AppliedLoad]:
        """Straps down and outwards, the wheels pushing back as equilibrium asks."""
        names, contacts, cg = self._joints("strap"), self._contacts(), self.weights.cg
        pushes = []
        for j in names:
            place = self.nodes[self.index[j]]
            way = np.array([np.sign(place[0] - cg[0]) or 1.0, 0.0, -1.0]) / np.sqrt(2)
            pushes.append(AppliedLoad(f"strap at {j}", place, pull * way, np.zeros(3), (j,)))
        down = -sum(p.force[2] for p in pushes)
        turned = np.sum([np.cross(p.at - cg, p.force) for p in pushes], axis=0)
        arms = contacts - cg
        sums = np.array([down, -turned[0], -turned[1]])
        rows = np.stack([np.ones(4), arms[:, 1], -arms[:, 0]])
        extra = np.linalg.lstsq(rows, sums, rcond=None)[0]
        return self._wheel_pushes(self._at_rest() + extra) + pushes
