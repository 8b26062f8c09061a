"""Jig: where each stand goes on the table, how high its saddle is, and which diagonals prove it (`stands`)."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.jig.checks import CHECKS
    from ironcage.core.answers.jig.stands import Stand
else:
    __getattr__ = exports(
        __name__,
        checks="CHECKS",
        stands="Stand",
    )

__all__ = ["CHECKS", "Stand"]
