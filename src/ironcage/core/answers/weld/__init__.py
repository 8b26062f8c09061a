"""Weld: how far each end is (`states`), in which order pieces can be put in (`assembly`), and where joints go as ends
are welded, in two orders (`movement`)."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.weld.states import welded_share
else:
    __getattr__ = exports(
        __name__,
        states="welded_share",
    )

__all__ = ["welded_share"]
