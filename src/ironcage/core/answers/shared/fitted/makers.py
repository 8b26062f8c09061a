"""Who makes which kind of fitting."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from ironcage.core.answers.shared.fitted import pieces, plates
from ironcage.core.answers.shared.fitted.shop import Fitted, Shop

MAKERS: Mapping[str, Callable[[Shop, Any], Fitted]] = {
    "panel": plates.panel,
    "gusset": plates.gusset,
    "haunch": plates.haunch,
    "fish plate": plates.fish_plate,
    "doubler": pieces.doubler,
    "insert": pieces.insert,
    "crush tube": pieces.crush_tubes,
    "tab": plates.tab,
    "slip joint": pieces.slip_joint,
    "cap": plates.cap,
    "flange": plates.flange,
    "foot plate": plates.foot_plate,
    "flattened end": pieces.flattened_end,
    "slot": pieces.slot,
    "tube holes": pieces.tube_holes,
}

__all__ = ["MAKERS", "Shop"]
