"""What the page asks: an end where the sliders stand, and the same one at the mark."""

from dataclasses import dataclass, replace

from ironcage.core.answers.prove import LinkLoad, link_loads
from ironcage.core.answers.run.alike import Alike, differs
from ironcage.core.answers.run.bands import Kept, kept_bands
from ironcage.core.answers.run.beam import BeamStill
from ironcage.core.answers.run.clearance import Clearance, clearances
from ironcage.core.answers.run.corner import Still
from ironcage.core.answers.run.effects import PointEffect, effects_at
from ironcage.core.answers.run.holes import HoleTold, holes
from ironcage.core.answers.run.leans import LeanAnswer, leans
from ironcage.core.answers.run.leaves import LeafTold, leaves
from ironcage.core.answers.run.links import EndLinks, links_made
from ironcage.core.answers.run.liveaxle import LinkedStill
from ironcage.core.answers.run.locks import held_by
from ironcage.core.answers.run.shafts import ShaftRun, shaft_runs
from ironcage.core.answers.run.springs import SpringCurves, Sprung, springs_at, sprung
from ironcage.core.answers.run.tyreroom import TyreRoom, tyre_rooms
from ironcage.core.calc.linkage.steering import Turn
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.running import (
    Axle,
    AxleCarrier,
    KingpinBeam,
    LinkedAxle,
    SteeringFork,
    SwingingArms,
    Wishbones,
)
from ironcage.desk.pages.run.kinds import Kind, Stills, hung_of, kind_of
from ironcage.problem import Problem


@dataclass(frozen=True, eq=False)
class Shown:
    """An end where the sliders stand, and the same one at the mark, None where it is not hung alike or not worked out.
    turn: what both wheels make of it, where they are steered; springs, sprung: what its coil-over does there and over
    the travel, None where it has none or none is known; mark_sprung: over the travel at the mark; effects: of each
    point; kept: the bands of this end; links: as they are made, loads: what
    pulls and pushes them;
    leaf: what leaf springs do; shafts: that drive these wheels; holes: of the
    coil-overs; leans: both ends as the car leans; clear: how low things come; room: that its tyre takes; alike: how
    far its wheel moves otherwise than at the mark where its pickups are others; held: the links that stop it."""

    kind: Kind
    still: Stills
    mark: Stills | None
    turn: Turn | None = None
    springs: SpringCurves | None = None
    sprung: Sprung | None = None
    mark_sprung: Sprung | None = None
    effects: tuple[PointEffect, ...] = ()
    kept: tuple[Kept, ...] = ()
    links: EndLinks | None = None
    leaf: LeafTold | None = None
    holes: tuple[HoleTold, ...] = ()
    leans: LeanAnswer | None = None
    clear: tuple[Clearance, ...] = ()
    shafts: tuple[ShaftRun, ...] = ()
    loads: tuple[LinkLoad, ...] = ()
    room: TyreRoom | None = None
    alike: Alike | None = None
    held: str = ""


def shown_at(axle: Axle, travel: float, second: float, mark: Job, job: Job) -> Shown:
    """What the page asks: shares of the travel and of the second slider's way, -1 to 1. Raises Problem as `stand_at`,
    `axle_at` and `beam_at` do."""
    hung = hung_of(job, axle)
    kind = kind_of(hung)
    moves = hung.hold if isinstance(hung, KingpinBeam) else hung
    up = 0.0 if moves is None else travel * way_of(moves, travel)
    side = 0.0 if hung is None else second * kind.most(hung)
    try:
        before = kind.stand(mark, axle, up, side) if mark is not job and kind_of(hung_of(mark, axle)) is kind else None
    except Problem:
        before = None
    still = kind.stand(job, axle, up, side)
    kept = tuple(k for k in kept_bands(job) if k.band.axle == axle)
    leaf = next((told for told in leaves(job) if told.axle == axle), None)
    if isinstance(still, BeamStill) and still.run.held is None:
        return Shown(kind, still, before, kept=kept, leaf=leaf)
    return Shown(
        kind,
        still,
        before,
        kind.turn(job, still),
        springs_at(job, still),
        sprung(job).get(axle),
        sprung(mark).get(axle) if before else None,
        kept=kept,
        leaf=leaf,
        holes=holes(job).get(axle, ()),
        shafts=tuple(told for told in shaft_runs(job) if told.axle == axle),
        held=held_by(still.run) if isinstance(still, Still | LinkedStill) else "",
        alike=differs(still.run, before.run) if isinstance(still, Still) and isinstance(before, Still) else None,
    )


def way_of(hung: Wishbones | LinkedAxle | SwingingArms | SteeringFork | AxleCarrier, travel: float) -> float:
    """How far the first slider goes to a side, mm."""
    if isinstance(hung, AxleCarrier):
        return hung.back if travel > 0 else hung.forth
    return hung.up if travel > 0 else hung.down


def shown_with_links(axle: Axle, travel: float, second: float, mark: Job, job: Job) -> Shown:
    """As `shown_at`, with the links of the end, and what pulls and pushes them. Raises Problem as that does."""
    loads = tuple(of for of in link_loads(job) if of.axle == axle)
    return replace(shown_at(axle, travel, second, mark, job), links=links_made(job).get(axle), loads=loads)


def shown_with_leans(axle: Axle, travel: float, second: float, mark: Job, job: Job) -> Shown:
    """As `shown_at`, with both ends as the car leans there. Raises Problem as that does."""
    shown = shown_at(axle, travel, second, mark, job)
    rack = shown.still.rack if isinstance(shown.still, Still | BeamStill) else 0.0
    room = next((of for of in tyre_rooms(job) if of.axle == axle), None)
    return replace(shown, leans=leans(job, shown.still.travel, rack), clear=clearances(job), room=room)


def shown_with_effects(axle: Axle, travel: float, second: float, mark: Job, job: Job) -> Shown:
    """As `shown_at`, with what a millimetre of each point does there. Raises Problem as that does."""
    shown = shown_at(axle, travel, second, mark, job)
    return replace(shown, effects=effects_at(job, shown.still))
