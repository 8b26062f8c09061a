"""A snag: one finding of something that is wrong or unknown in a job, and the words that findings share."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

Severity = Literal["wrong", "unknown", "look"]
RANK: dict[Severity, int] = {"wrong": 0, "unknown": 1, "look": 2}


@dataclass(frozen=True)
class Snag:
    """One finding. severity: wrong (it can't be built or worked out so), unknown (something is missing), look
    (worth a look). code: stable short name. what: one sentence. where: joints or tubes to jump to. hint: a mend."""

    severity: Severity
    code: str
    step: str
    what: str
    where: tuple[str, ...] = ()
    hint: str = ""


def named(names: Sequence[str]) -> str:
    """`J1, J2 and J3`, or the first four and how many more."""
    shown = list(names[:4])
    if len(names) > len(shown):
        return f"{', '.join(shown)} and {len(names) - len(shown)} more"
    return f"{', '.join(shown[:-1])} and {shown[-1]}" if len(shown) > 1 else shown[0]


def be(names: Sequence[str]) -> str:
    """is or are."""
    return "is" if len(names) == 1 else "are"


def has(names: Sequence[str]) -> str:
    """has or have."""
    return "has" if len(names) == 1 else "have"
