"""True: where the built frame's joints stand by what was measured, how sure that is, which reading is wrong
(`measured`), and what is found in it (`checks`)."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.true.checks import CHECKS
    from ironcage.core.answers.true.measured import answer, reading_shown
else:
    __getattr__ = exports(
        __name__,
        checks="CHECKS",
        measured="answer reading_shown",
    )

__all__ = ["CHECKS", "answer", "reading_shown"]
