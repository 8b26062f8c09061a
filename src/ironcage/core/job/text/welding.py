"""Commands about welding: tacked, welded, checked, open, weld."""

import re
from collections.abc import Callable
from typing import Literal

from ironcage.core.job import edits
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.text.days import split_day
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.core.job.values.welding import WallShrink, WeldState
from ironcage.problem import Problem
from ironcage.units import said, typed

SHRINK_EXAMPLE = said.example("weld shrink MIG wall [2] [0.4]")


def _named(job: Job, chosen: Chosen, rest: str) -> Chosen:
    """The tubes and joints that a line names, or those that are chosen."""
    words = rest.replace(",", " ").split()
    if not words or [w.lower() for w in words] == ["chosen"]:
        return chosen
    for word in words:
        if word.upper() not in job.tube_by_id and word.upper() not in job.joint_by_id:
            job.tube(word)  # refuses it with the nearest
    return tuple(w.upper() for w in words)


def _say(state: WeldState | Literal["open"]) -> Callable[[Job, Chosen, str], Done]:
    def run(job: Job, chosen: Chosen, rest: str) -> Done:
        names, day = split_day(f" {rest.strip()}" if rest.strip() else "")
        ends = edits.ends_of(job, _named(job, chosen, names.strip()))
        made = edits.set_ends(job, ends, state, day)
        told = f"{ends[0][0]} at {ends[0][1]}" if len(ends) == 1 else f"{len(ends)} ends"
        return Done(f"{told} {'is' if len(ends) == 1 else 'are'} {state}", made, chosen)

    return run


_SHRINK = re.compile(r"^shrink\s+(?P<process>.+?)\s+wall\s+(?P<wall>\S+)\s+(?P<shrink>\S.*)$", re.IGNORECASE)


def weld(job: Job, chosen: Chosen, rest: str) -> Done:
    """How it is welded: `weld process TIG`; `weld shrink MIG wall 2 0.4`, how much a weld all round shortens a tube of
    that wall; `weld spread 40%`, how far off that a weld may be; `weld tack 30%`, how much bending a tack carries."""
    words, units = rest.strip(), units_of(job)
    shrink = _SHRINK.match(words)
    if shrink:
        made = WallShrink(
            process=shrink["process"],
            wall=units.read_length(shrink["wall"]),
            shrink=units.read_length(shrink["shrink"]),
        )
        return Done(
            f"{made.process} shrinks a wall of {units.fine(made.wall)} by {units.fine(made.shrink)}",
            edits.put_shrink(job, made),
            chosen,
        )
    word, _, value = words.partition(" ")
    low = word.lower()
    if low == "process" and value.strip():
        made_job = edits.set_process(job, value.strip())
        return Done(f"Weld by {made_job.welding.process}", made_job, chosen)
    if low in ("spread", "tack") and value.strip():
        share = typed.number(value.replace("%", "")) / (100 if "%" in value else 1)
        return Done(f"Set {low} to {share:.0%}", edits.set_welding(job, **{low: share}), chosen)
    raise Problem(
        f"‘{words}’ can't be set for welding." if words else "Say what to set for welding.",
        where=words or "weld",
        hint=f"Write for example: {SHRINK_EXAMPLE}, weld process TIG, weld spread 40%, weld tack 30%.",
    )


COMMANDS = (
    Command(
        "tacked",
        "tacked J1L",
        "the chosen tube's ends, or all at a joint, are tacked; tacked T1L J1L for one",
        _say("tacked"),
    ),
    Command("welded", "welded T1L J1L", "an end is welded; ‘on yesterday’ for another day", _say("welded")),
    Command("checked", "checked J1L", "welds are looked at and found good", _say("checked")),
    Command("open", "open T1L J1L", "an end is open again: cut loose, or not yet tacked", _say("open")),
    Command(
        "weld",
        SHRINK_EXAMPLE,
        "how much a weld shortens a tube; also weld process TIG, weld spread 40%, weld tack 30%",
        weld,
    ),
)
