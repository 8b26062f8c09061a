"""Bays: every closed facet of the frame, whether it is triangulated, panelled or open, what would close it, and how
the frame folds if joints were hinges."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from operator import attrgetter
from typing import Literal

import numpy as np

from ironcage.core.answers.place import measured
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.answers.shared.frame_arrays import lines
from ironcage.core.calc.frames.beams import Floats, Ints
from ironcage.core.calc.plane.facets import Facet, facets
from ironcage.core.calc.plane.flats import Flat, flattened
from ironcage.core.calc.plane.mechanisms import Mechanism, find_mechanisms
from ironcage.core.calc.solids.convex import plate
from ironcage.core.calc.tubes.centreline import Route
from ironcage.core.job.geometry.bodies import Body, placed_bodies, tube_bodies, tube_body
from ironcage.core.job.values.fittings import Gusset, Haunch, Panel
from ironcage.core.job.values.model import Job, Tube
from ironcage.problem import Problem
from ironcage.units import said

State = Literal["triangulated", "panelled", "haunched", "open"]
THIN_MM = 1.5  # of the panel that is tried in a bay
INTO_MM = 1.0  # a brace that runs deeper than this into something is fouled by it
MOST_TUBES = 1500  # beyond, bays and folds would take seconds and gigabytes
RANK: dict[State, int] = {"open": 0, "haunched": 1, "panelled": 2, "triangulated": 3}
OFF_PANEL_MM = 5.0  # a joint this near to a panel is on it
MOST_KEPT = 6000  # bays of the last few states of a large frame
MOST_MOVERS = 0.3  # joints that travel this share of a fold's largest are named
ASSUMED = (
    "Facets are taken between joints: a bent tube counts as the straight line between its joints.",
    "Hinges: every joint a ball, every tube a bar from joint to joint, every panel stiff in its plane. Welded joints "
    "and tubes that run through also hold by "
    "bending, which is softer by far.",
)


@dataclass(frozen=True)
class Bay:
    """A bay. joints: in order round it; corners: those where it turns; tubes: its sides; state; warp: furthest a joint
    lies off its mean plane, mm; area: mm²;
    panel: the fitting that fills it; folds: which folds it lets happen, by their place in the answer."""

    joints: tuple[str, ...]
    corners: tuple[str, ...]
    tubes: tuple[str, ...]
    state: State
    warp: float
    area: float
    panel: str = ""
    folds: tuple[int, ...] = ()

    @cached_property
    def place(self) -> tuple[int, int, tuple[str, ...]]:
        """Where it stands among others: open ones first, large ones before small ones."""
        return RANK[self.state], -round(self.area), self.joints

    @cached_property
    def name(self) -> str:
        """What it is called: its corners."""
        return " ".join(self.corners)


@dataclass(frozen=True)
class FoldWay:
    """A way the frame would fold. motion (n, 3): of every joint, largest 1; bay: the bay whose brace stops just this
    one, by its place, or −1: then the joints in `movers` are held by bending alone; bays: all that shear in it, most
    first."""

    motion: Floats
    bay: int
    bays: tuple[int, ...]
    movers: tuple[str, ...]


@dataclass(frozen=True)
class BaysAnswer:
    """Bays, open ones first and larger before smaller, and the folds: those that a brace in a bay stops, then those
    held by bending alone. untold: why there are none, where the frame is too large."""

    bays: tuple[Bay, ...]
    folds: tuple[FoldWay, ...]
    untold: str = ""

    @cached_property
    def open(self) -> tuple[Bay, ...]:
        """Bays that nothing closes."""
        return tuple(b for b in self.bays if b.state == "open")

    @property
    def folding(self) -> tuple[FoldWay, ...]:
        """Folds that a brace in a bay stops."""
        return tuple(f for f in self.folds if f.bay >= 0)

    def named(self, name: str) -> Bay | None:
        """The bay of those corners."""
        return next((b for b in self.bays if b.name == name), None)


@remembered("joints", "tubes", "fittings")
def find_bays(job: Job) -> BaysAnswer:
    """Every bay and every fold."""
    if not job.tubes:
        return BaysAnswer((), ())
    if len(job.tubes) > MOST_TUBES:
        return BaysAnswer(
            (), (), f"Bays are looked for in frames of up to {MOST_TUBES:,} tubes, and this one has {len(job.tubes):,}."
        )
    nodes, ends = lines(job)
    low, high = ends.min(axis=1), ends.max(axis=1)
    long = np.linalg.norm(nodes[low] - nodes[high], axis=1) > 1e-3
    ends = np.stack(np.divmod(np.unique(low[long] * len(nodes) + high[long]), len(nodes)), axis=1)  # each pair once
    bays = _bays(job, nodes, ends)
    ways = _folds(job, nodes, ends, bays)
    let: dict[int, list[int]] = {}
    for n, way in enumerate(ways):
        for bay in way.bays:
            let.setdefault(bay, []).append(n)
    return BaysAnswer(tuple(_folding(b, let.get(n, [])) for n, b in enumerate(bays)), ways)


def _folding(bay: Bay, ways: list[int]) -> Bay:
    return (
        Bay(bay.joints, bay.corners, bay.tubes, bay.state, bay.warp, bay.area, bay.panel, tuple(ways)) if ways else bay
    )


class _Rims:
    """The bays of frames of the same tubes, kept while their facets are the same objects, which those that nothing
    moved are."""

    def __init__(self, tubes: dict[frozenset[str], str]) -> None:
        self.tubes = tubes
        self.kept: dict[tuple[Facet, tuple[str, ...], str, int], Bay] = {}

    def bay(self, facet: Facet, joints: tuple[str, ...], panel: str, haunched: int) -> Bay:
        """The bay round a facet."""
        key = facet, joints, panel, haunched
        made = self.kept.get(key)
        if made is None:
            name = dict(zip(facet.ring, joints, strict=True))
            corners = tuple(name[n] for n in facet.corners)
            tubes = tuple(self.tubes[frozenset(pair)] for pair in zip(joints, (*joints[1:], joints[0]), strict=True))
            state: State = (
                "panelled" if panel else "triangulated" if len(corners) == 3 else "haunched" if haunched > 1 else "open"
            )
            made = self.kept[key] = Bay(joints, corners, tubes, state, facet.warp, facet.area, panel)
            if len(self.kept) > MOST_KEPT:
                self.kept.pop(next(iter(self.kept)))
        return made


class _Cover:
    """Which panel lies over a bay: the one whose outline holds all of its joints, in its plane."""

    def __init__(self, job: Job) -> None:
        self.panels: list[tuple[str, Flat, Floats, Floats]] = []
        for f in job.fittings:
            if isinstance(f, Panel):
                places = np.array([job.joint_by_id[j].place for j in f.joints])
                middle = places.mean(axis=0)
                axes = np.linalg.svd(places - middle)[2]
                self.panels.append((f.id, Flat((places - middle) @ axes[:2].T), middle, axes))
        self.named = {frozenset(f.joints): f.id for f in job.fittings if isinstance(f, Panel)}

    def over(self, joints: tuple[str, ...], places: Floats) -> str:
        """The panel over a bay of those joints at those places (n, 3), mm; '' for none."""
        found = self.named.get(frozenset(joints))
        if found:
            return found
        for name, flat, middle, axes in self.panels:
            at = (places - middle) @ axes.T
            if (
                np.abs(at[:, 2]).max() < OFF_PANEL_MM
                and (flat.holds(at[:, :2]) | (flat.to_edge(at[:, :2]) < OFF_PANEL_MM)).all()
            ):
                return name
        return ""


@remembered("tubes")
def _rims(job: Job) -> _Rims:
    return _Rims({ends: t.id for ends, t in job.tube_by_ends.items()})


def _bays(job: Job, nodes: Floats, ends: Ints) -> list[Bay]:
    cover = _Cover(job)
    stiff: dict[str, set[str]] = {}
    for f in job.fittings:
        if isinstance(f, Gusset | Haunch):
            stiff.setdefault(f.joint, set()).update(f.tubes)
    names = [j.id for j in job.joints]
    rims, made = _rims(job), []
    for facet in facets(nodes, ends):
        joints = facet.of(names)
        panel, haunched = "", 0
        if cover.panels:
            panel = cover.over(joints, nodes[list(facet.ring)])
        if stiff:
            sides = set(rims.bay(facet, joints, panel, 0).tubes)
            haunched = sum(1 for n in facet.corners if len(stiff.get(names[n], set()) & sides) > 1)
        made.append(rims.bay(facet, joints, panel, haunched))
    return sorted(made, key=attrgetter("place"))


def _folds(job: Job, nodes: Floats, ends: Ints, bays: list[Bay]) -> tuple[FoldWay, ...]:
    row = {j.id: n for n, j in enumerate(job.joints)}
    across, owner = [], []
    for n, bay in enumerate(bays):
        if bay.state in ("open", "haunched"):
            count = len(bay.corners)
            for k in range(count if count > 4 else 1):
                across.append((row[bay.corners[k]], row[bay.corners[(k + 2) % count]]))
                owner.append(n)
    bars = [ends]
    for f in job.fittings:
        if isinstance(f, Panel):
            ring = [row[j] for j in f.joints]
            bars.append(np.array([(a, b) for i, a in enumerate(ring) for b in ring[i + 1 :]], dtype=np.int64))
    ways: tuple[Mechanism, ...] = find_mechanisms(
        nodes, np.concatenate(bars), np.array(across, dtype=np.int64).reshape(-1, 2)
    )
    made = []
    for way in ways:
        travel = np.linalg.norm(way.motion, axis=1)
        most = np.argsort(-travel, kind="stable")[: int((travel > MOST_MOVERS).sum())]
        movers = tuple(job.joints[k].id for k in most.tolist())
        shears = tuple(dict.fromkeys(owner[b] for b, _ in way.shears))
        made.append(FoldWay(way.motion, owner[way.bay] if way.bay >= 0 else -1, shears, movers))
    return tuple(sorted(made, key=lambda w: (w.bay < 0, w.bay, w.movers)))


@dataclass(frozen=True)
class Closing:
    """A way to close a bay. kind: a diagonal between two joints, a panel, or haunches in its corners; blocked: what
    is in its way; length: of the diagonal, mm; kg."""

    kind: Literal["diagonal", "panel", "haunches"]
    joints: tuple[str, ...]
    blocked: tuple[str, ...]
    length: float
    kg: float

    @property
    def line(self) -> str:
        """What to type to do it, with nothing chosen."""
        if self.kind == "diagonal":
            return f"tube {self.joints[0]} {self.joints[1]}"
        return f"add panel joints {' '.join(self.joints)}, thickness {said.typing(THIN_MM)}"


def closings(job: Job, bay: Bay) -> tuple[Closing, ...]:
    """What would close a bay, the best first: clear diagonals, the shorter first; a panel; haunches where nothing
    else is clear."""
    lightest = min(
        (job.tube_by_id[t] for t in bay.tubes), key=lambda t: job.section(t.section).shape.properties(0.3).area
    )
    count = len(bay.corners)
    pairs = [
        (bay.corners[i], bay.corners[j]) for i in range(count) for j in range(i + 2, count) if (i, j) != (0, count - 1)
    ]
    others = [*placed_bodies(job), *(b for b in tube_bodies(job) if b.id not in bay.tubes)]
    made = [_diagonal(job, pair, lightest, others) for pair in pairs]
    made.sort(key=lambda c: (bool(c.blocked), c.length))
    panel = _panel(job, bay, lightest, others)
    made += [panel] if panel else []
    if all(c.blocked for c in made):
        made.append(Closing("haunches", bay.corners, (), 0.0, 0.0))
    return tuple(sorted(made, key=lambda c: bool(c.blocked)))


def _diagonal(job: Job, pair: tuple[str, str], like: Tube, others: list[Body]) -> Closing:
    a, b = (np.array(job.joint_by_id[j].place) for j in pair)
    shape = job.section(like.section).shape
    body = tube_body("brace", Route(np.array([a, b])), shape, like.roll, "")
    ended = {t.id for j in pair for t in job.tubes_at.get(j, ())}  # what it is welded to is not in its way
    m = job.material(like.material)
    length = math.dist(a, b)
    kg = length * shape.properties(m.poisson).area * m.density * 1e-9
    return Closing("diagonal", pair, in_way(body, [o for o in others if o.id not in ended]), length, kg)


def _panel(job: Job, bay: Bay, like: Tube, others: list[Body]) -> Closing | None:
    """Flat sheet in a bay; None where it is so warped that its outline, laid flat, crosses itself."""
    places = np.array([job.joint_by_id[j].place for j in bay.joints])
    flat, _ = flattened(places)
    middle = places.mean(axis=0)
    right, up, _ = np.linalg.svd(places - middle)[2]
    if np.abs((places - middle) @ np.stack([right, up]).T - flat).max() > 1e-6:
        up = -up  # `flattened` turned it anticlockwise
    turn = np.stack([right, up, np.cross(right, up)], axis=1)
    try:
        solids = tuple(s.moved(turn, middle) for s in plate(flat, THIN_MM))
    except Problem:
        return None
    body = Body("panel", "panel", "part", solids, ("",) * len(solids))
    ended = {t.id for j in bay.joints for t in job.tubes_at.get(j, ())}
    kg = bay.area * THIN_MM * job.material(like.material).density * 1e-9
    return Closing("panel", bay.joints, in_way(body, [o for o in others if o.id not in ended]), 0.0, kg)


def in_way(body: Body, others: list[Body]) -> tuple[str, ...]:
    """What a body would run into."""
    return each_in_way([(body, others)])[0]


def each_in_way(tried: Sequence[tuple[Body, list[Body]]]) -> list[tuple[str, ...]]:
    """What each of several bodies would run into, of others of its own; measured together."""
    pairs: list[tuple[Body, Body]] = []
    owner: list[int] = []
    for n, (body, others) in enumerate(tried):
        low, high = body.bounds
        close = [o for o in others if (o.bounds[0] < high).all() and (o.bounds[1] > low).all()]
        pairs += [(body, o) for o in close]
        owner += [n] * len(close)
    found: list[tuple[str, ...]] = [()] * len(tried)
    for n, near in zip(owner, measured(pairs), strict=True):
        if near and near.gap < -INTO_MM:
            found[n] = (*found[n], near.second)
    return found
