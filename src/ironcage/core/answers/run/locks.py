"""Which links stop an end where it locks within its travel."""

from __future__ import annotations

import numpy as np

from ironcage.core.answers.run.corner import AxleRun
from ironcage.core.answers.run.liveaxle import LinkedRun
from ironcage.core.calc.linkage.axle import axle_poses
from ironcage.core.calc.linkage.wishbone import link_shares

SHARE = 0.5  # of the link that holds most, from which on another is named beside it
CORNER_LINKS = (("the lower arm", (0, 1)), ("the upper arm", (2, 3)), ("the tie rod", (4,)))


def held_by(run: AxleRun | LinkedRun) -> str:
    """The links that stop an end, in words, at its first limit, upwards or downwards; nothing where it has none."""
    limit = next((at for at in run.limits if at is not None), None)
    if limit is None:
        return ""
    if isinstance(run, AxleRun):
        shares = link_shares(run.corner, limit)
        return _named([(name, max(float(shares[n]) for n in rows)) for name, rows in CORNER_LINKS])
    bind = np.abs(axle_poses(run.axle, np.array([limit]), np.array([limit])).bind[0])
    most: dict[str, float] = {}
    for link, over in zip(run.links, bind, strict=True):
        name = f"the {link.name.replace('left ', '').replace('right ', '')}{'s' if link.side else ''}"
        most[name] = max(most.get(name, 0.0), float(over))
    return _named(list(most.items()))


def _named(shares: list[tuple[str, float]]) -> str:
    """Those that hold most, in words; nothing where that is not known."""
    most = max(share for _, share in shares)
    *before, last = [name for name, share in shares if most > 0 and share >= SHARE * most] or [""]
    return f"{', '.join(before)} and {last}" if before else last
