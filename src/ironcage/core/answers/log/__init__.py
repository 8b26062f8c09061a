"""Log: what happened on which day (`days`), what is still to do, what it waits for and when it will be done
(`ahead`), and what is found in it (`checks`)."""

from typing import TYPE_CHECKING

from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.answers.log.checks import CHECKS
    from ironcage.core.answers.log.days import log_answer
else:
    __getattr__ = exports(
        __name__,
        checks="CHECKS",
        days="log_answer",
    )

__all__ = ["CHECKS", "log_answer"]
