"""What of an end can be moved so that its figures meet their bands: its points, its figures with some of them moved,
and the job with them moved."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ironcage.core.answers.run import beam, carrier, fork, liveaxle, swing
from ironcage.core.answers.run.bands import EndRun
from ironcage.core.answers.run.beam import BeamRun
from ironcage.core.answers.run.carrier import CarrierRun
from ironcage.core.answers.run.corner import AxleRun
from ironcage.core.answers.run.effects import BEAM_POINTS, points_of
from ironcage.core.answers.run.figures import ARMS, BEAM, CARRIER, CORNER, FORK, LIVE_AXLE, Figure
from ironcage.core.answers.run.fork import ForkRun
from ironcage.core.answers.run.grid import some_of
from ironcage.core.answers.run.lever import lift_share
from ironcage.core.answers.run.liveaxle import LinkedRun
from ironcage.core.answers.run.springs import sprung
from ironcage.core.answers.run.swing import SwingRun
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.linkage.wishbone import DoubleWishbone, curves, poses
from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import LinkedAxle

TRAVELS = 17  # of the whole travel, at which figures are looked at
STRAIGHT = np.zeros(1)
FINE = 10  # places of a millimetre


@dataclass(frozen=True)
class Handle:
    """A point that may be moved. words: what it is called; joint: of the frame that it is, if any, else field: of what
    the end hangs on, with `on ` before one of what a beam moves on."""

    words: str
    joint: str = ""
    field: str = ""


class Tunable(ABC):
    """An end whose points may move."""

    def __init__(self, job: Job, run: EndRun) -> None:
        self.job, self.axle = job, run.hung.axle
        self.travel = run.found.travel[some_of(len(run.found.travel), TRAVELS)]
        held = run.held if isinstance(run, BeamRun) and run.held else run
        self.springs = some_of(len(held.found.travel), TRAVELS)  # rows at which figures of springs are looked at
        self.sprung_at = held.found.travel[self.springs]

    figures: tuple[Figure, ...]

    @property
    @abstractmethod
    def handles(self) -> Sequence[Handle]:
        """Its points."""

    def looked_at(self, figure: Figure) -> Floats:
        """Where a figure is looked at (n,): at travels, mm, or at ways of steering, mm or rad."""
        return self.sprung_at if figure.sprung else self.at(figure)

    def at(self, _figure: Figure) -> Floats:
        """Where a figure that is none of springs is looked at (n,): at travels, mm."""
        return self.travel

    def told(self, figures: Sequence[Figure], moved: Sequence[tuple[Handle, Floats]]) -> list[Floats]:
        """Figures where they are looked at, each (n,), with points moved by (3,), mm, each. Raises Problem or
        LinAlgError where that can't be."""
        own = [figure for figure in figures if not figure.sprung]
        found = iter(self.values(own, moved) if own else [])
        of = sprung(self.moved(moved)).get(self.axle) if len(own) < len(figures) else None
        nothing = np.full(len(self.springs), np.nan)

        def of_springs(figure: Figure) -> Floats:
            return figure.value(of.over)[self.springs, of.middle[1]] if of else nothing

        return [of_springs(figure) if figure.sprung else next(found) for figure in figures]

    @abstractmethod
    def values(self, figures: Sequence[Figure], moved: Sequence[tuple[Handle, Floats]]) -> list[Floats]:
        """As `told`, of figures that are none of springs."""

    def moved(self, moved: Sequence[tuple[Handle, Floats]]) -> Job:
        """The job with points moved; the joints first, for other points are typed in the car's axes."""
        job = self.job
        for handle, by in sorted(moved, key=lambda m: not m[0].joint):
            if not by.any():
                continue
            if handle.joint:
                job = edits.move(job, [handle.joint], *(float(v) for v in by))
            else:
                job = self.with_field(job, handle.field, by)
        return job

    @abstractmethod
    def with_field(self, job: Job, field: str, by: Floats) -> Job:
        """The job with a place of what the end hangs on moved by (3,), mm."""


def _further(hung: Any, field: str, by: Floats) -> dict[str, tuple[float, ...]]:
    """A place moved, to so fine a step that slopes can be taken by it."""
    return {field: tuple(round(float(v), FINE) for v in np.array(getattr(hung, field)) + by)}


class OnWishbones(Tunable):
    """Wishbones: their hard points are moved without the job, which is much faster."""

    figures = CORNER

    def __init__(self, job: Job, run: AxleRun) -> None:
        super().__init__(job, run)
        self.run = run
        self._points = {p.words: p for p in points_of(run.hung)}

    @property
    def handles(self) -> Sequence[Handle]:
        return [Handle(p.words, p.joint, p.name) for p in self._points.values()]

    def values(self, figures: Sequence[Figure], moved: Sequence[tuple[Handle, Floats]]) -> list[Floats]:
        corner: DoubleWishbone = self.run.corner
        for handle, by in moved:
            same = [p for p in self._points.values() if p.joint == handle.joint]
            for point in same if handle.joint else [self._points[handle.words]]:
                corner = point.moved(corner, by)
        told = curves(poses(corner, self.travel, STRAIGHT), self.run.lever)
        return [figure.value(told)[:, 0] for figure in figures]

    def with_field(self, job: Job, field: str, by: Floats) -> Job:
        return edits.set_wishbones(job, self.axle, **_further(edits.find_wishbones(job, self.axle), field, by))


def _axle_handles(hung: LinkedAxle, on: str = "") -> list[Handle]:
    """The points of what holds an axle."""
    ends: Mapping[str, str] = {
        "lower_out": "ladder bar’s lower leg" if hung.ladder else "lower link, axle",
        "upper_out": "ladder bar’s upper leg" if hung.ladder else "upper link, axle",
        "torque_out": "torque arm’s front",
        "seat": "leaf, seat",
        "rod_out": "track rod, axle",
        "spring_out": "coil-over, foot",
    }
    made = [Handle(words, joint) for words, joint in hung.named_joints]
    made += [Handle("coil-over, top", hung.spring)] if hung.spring else []
    return made + [Handle(words, "", on + field) for field, words in ends.items() if getattr(hung, field)]


class OnLinks(Tunable):
    """A live axle, level."""

    figures = LIVE_AXLE

    @property
    def handles(self) -> Sequence[Handle]:
        return _axle_handles(edits.find_live_axle(self.job, self.axle))

    def values(self, figures: Sequence[Figure], moved: Sequence[tuple[Handle, Floats]]) -> list[Floats]:
        job = self.moved(moved)
        hung = edits.find_live_axle(job, self.axle)
        axle = liveaxle.axle_of(job, hung)
        told = liveaxle.stand(job, hung, axle, self.travel, STRAIGHT, lift_share(self.job))[1]
        return [figure.value(told)[:, 0] for figure in figures]

    def with_field(self, job: Job, field: str, by: Floats) -> Job:
        return edits.set_live_axle(job, self.axle, **_further(edits.find_live_axle(job, self.axle), field, by))


class OnArms(Tunable):
    """Swinging arms."""

    figures = ARMS

    @property
    def handles(self) -> Sequence[Handle]:
        hung = edits.find_arms(self.job, self.axle)
        if swing.is_carrier(self.job, hung):
            made = [Handle("carrier's axis", hung.first)]
        else:
            made = [Handle("axis, one end", hung.first), Handle("axis, other end", hung.second)]
        if hung.spring and hung.spring_out:
            made += [Handle("coil-over, top", hung.spring), Handle("coil-over, foot", "", "spring_out")]
        return made

    def values(self, figures: Sequence[Figure], moved: Sequence[tuple[Handle, Floats]]) -> list[Floats]:
        job = self.moved(moved)
        hung = edits.find_arms(job, self.axle)
        told = swing.stand(job, hung, swing.arm_of(job, hung), self.travel)[1]
        return [figure.value(told)[:, 0] for figure in figures]

    def with_field(self, job: Job, field: str, by: Floats) -> Job:
        return edits.set_arms(job, self.axle, **_further(edits.find_arms(job, self.axle), field, by))


class OnBeam(Tunable):
    """A beam: most of its figures are looked at over its steering, at ride height."""

    figures = BEAM

    def __init__(self, job: Job, run: BeamRun) -> None:
        super().__init__(job, run)
        self.run = run

    @property
    def handles(self) -> Sequence[Handle]:
        hung = self.run.hung
        made = [Handle(words, "", field) for field, words in BEAM_POINTS if getattr(hung, field)]
        return made + (_axle_handles(hung.on, "on ") if hung.on else [])

    def at(self, figure: Figure) -> Floats:
        """Where a figure is looked at (n,): at ways of steering, mm or rad, or at travels, mm."""
        return self.travel if figure.rises else self.run.found.rack

    def values(self, figures: Sequence[Figure], moved: Sequence[tuple[Handle, Floats]]) -> list[Floats]:
        job = self.moved(moved)
        hung = edits.find_beam(job, self.axle)
        stub, base = beam.stub_of(job, hung), self.run.base
        over = beam.stand(job, hung, stub, base, STRAIGHT, self.run.found.rack)[1]
        rising = beam.stand(job, hung, stub, base, self.travel, STRAIGHT)[1]
        return [figure.value(rising)[:, 0] if figure.rises else figure.value(over)[0] for figure in figures]

    def with_field(self, job: Job, field: str, by: Floats) -> Job:
        hung = edits.find_beam(job, self.axle)
        if field.startswith("on "):
            return edits.set_hold(job, self.axle, **_further(hung.on, field.removeprefix("on "), by))
        return edits.set_beam(job, self.axle, **_further(hung, field, by))


class OnCarrier(Tunable):
    """An axle that is set for its chain: its pivot, and the ends of its adjuster."""

    figures = CARRIER

    @property
    def handles(self) -> Sequence[Handle]:
        hung = edits.find_carrier(self.job, self.axle)
        made = [Handle("carrier's pivot", hung.pivot)] if hung.pivot else []
        if hung.stay and hung.stay_out:
            made += [Handle("adjuster, frame", hung.stay), Handle("adjuster, carrier", "", "stay_out")]
        return made

    def values(self, figures: Sequence[Figure], moved: Sequence[tuple[Handle, Floats]]) -> list[Floats]:
        job = self.moved(moved)
        hung = edits.find_carrier(job, self.axle)
        told = carrier.stand(job, hung, carrier.way_of(job, hung), self.travel)[1]
        return [figure.value(told)[:, 0] for figure in figures]

    def with_field(self, job: Job, field: str, by: Floats) -> Job:
        return edits.set_carrier(job, self.axle, **_further(edits.find_carrier(job, self.axle), field, by))


class InFork(Tunable):
    """A wheel in a fork: the bearings of its head, and where its axle is."""

    figures = FORK

    def __init__(self, job: Job, run: ForkRun) -> None:
        super().__init__(job, run)
        self.run = run

    @property
    def handles(self) -> Sequence[Handle]:
        top, low = edits.find_fork(self.job, self.axle).joints
        return (
            Handle("head, upper bearing", top),
            Handle("head, lower bearing", low),
            Handle("axle in the fork", "", "wheel"),
        )

    def at(self, figure: Figure) -> Floats:
        """Where a figure is looked at (n,): turned, rad, or at travels, mm."""
        return self.travel if figure.rises else self.run.found.rack

    def values(self, figures: Sequence[Figure], moved: Sequence[tuple[Handle, Floats]]) -> list[Floats]:
        job = self.moved(moved)
        points = fork.fork_of(job, edits.find_fork(job, self.axle))
        over = fork.stand(job, points, STRAIGHT, self.run.found.rack)[1]
        rising = fork.stand(job, points, self.travel, STRAIGHT)[1]
        return [figure.value(rising)[:, 0] if figure.rises else figure.value(over)[0] for figure in figures]

    def with_field(self, job: Job, field: str, by: Floats) -> Job:
        wheel = edits.left_wheel(job, self.run.hung.axle)
        x, _, z = (round(float(v), FINE) for v in by)
        return edits.change_part(job, wheel.id, x=wheel.x + x, z=wheel.z + z)


def tunable(job: Job, run: EndRun) -> Tunable:
    """An end as what may be moved."""
    match run:
        case AxleRun():
            return OnWishbones(job, run)
        case LinkedRun():
            return OnLinks(job, run)
        case SwingRun():
            return OnArms(job, run)
        case CarrierRun():
            return OnCarrier(job, run)
        case ForkRun():
            return InFork(job, run)
    return OnBeam(job, run)
