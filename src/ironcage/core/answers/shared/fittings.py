"""Fittings: what each weighs, how it is cut, and what it does to the tubes it sits on."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import TYPE_CHECKING

from ironcage.core.answers.shared.cache import remembered
from ironcage.core.job.values import fittings as kinds
from ironcage.core.job.values.model import Job

if TYPE_CHECKING:
    from ironcage.core.answers.shared.fitted.shop import Fitted

EFFICIENCY = {
    "welded": 1.0,
    "bonded": 0.8,
    "riveted": 0.5,
    "bolted": 0.3,
}  # of a panel's membrane stiffness: stated, to be typed over by a twist test
ASSUMED = (
    "Panels are cut to the middles of the tubes round them, and hold the frame at its joints: 1.0 of the sheet counts "
    "where it is welded, 0.8 bonded, 0.5 riveted, 0.3 bolted, whose holes slip first; "
    "its own buckling is not in it.",
    "Gussets and haunches stiffen half their leg in their own plane; sleeves, inserts and fish plates add their "
    "section over their length; a slip joint carries bending alone; a flange holds as a weld does.",
    "A tube with holes has the section that a drill leaves, over the hole, and less wall to twist; in Strength it "
    "stands so much less over its whole length. At the edge of a hole stress is about three times as high: it counts "
    "where loads come and go, and is not in it.",
)


@remembered("joints", "tubes", "shelf", "fittings")
def fitting_facts(job: Job) -> tuple[Fitted, ...]:
    """Every fitting, in the job's order."""
    if not job.fittings:
        return ()
    from ironcage.core.answers.shared.fitted.makers import MAKERS, Shop  # a frame without fittings starts without them

    shop = Shop(job)
    made: dict[str, Fitted] = {}
    for f in sorted(job.fittings, key=lambda f: isinstance(f, kinds.Holes)):  # holes need their hosts first
        made[f.id] = MAKERS[f.kind](shop, f) if not isinstance(f, kinds.Holes) else shop.pierced(f, made)
    return tuple(made[f.id] for f in job.fittings)


def open_shares(job: Job) -> Mapping[str, float]:
    """The share of each plate that lightening holes take, by fitting."""
    made = {f.id: f for f in fitting_facts(job)}
    shares: dict[str, float] = {}
    for f in job.fittings:
        if isinstance(f, kinds.Holes) and not made[f.id].problem and (flat := made[f.host].flat):
            shares[f.host] = shares.get(f.host, 0.0) + f.count * math.pi * f.diameter**2 / 4 / flat.gross
    return shares


def strength_left(job: Job) -> Mapping[str, float]:
    """The share of its strength that each tube with holes keeps at the weakest of them, by tube."""
    left: dict[str, float] = {}
    for f, made in zip(job.fittings, fitting_facts(job), strict=True):
        if isinstance(f, kinds.TubeHoles):
            left[f.tube] = min(left.get(f.tube, 1.0), made.left)
    return left
