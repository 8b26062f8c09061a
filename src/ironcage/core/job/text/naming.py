"""Commands on names in words: call, choose."""

from ironcage.core.job import edits
from ironcage.core.job.geometry.names import all_named_with, called, name_of, names
from ironcage.core.job.text.command import Chosen, Command, Done, counted
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem, nearest


def call(job: Job, chosen: Chosen, rest: str) -> Done:
    """Call the chosen joints and tubes by a name of the builder's, on both sides; with none, by the made one again."""
    things = [c for c in chosen if c in job.joint_by_id or c in job.tube_by_id]
    made = edits.call(job, things, rest)
    words = f"Call {counted(things, 'things')} {rest.strip()}" if rest.strip() else f"Let {things[0]} have its own name"
    return Done(words, made, chosen)


def choose(job: Job, chosen: Chosen, rest: str) -> Done:
    """Choose joints and tubes by their names in words: by a whole name, or all that have the words in theirs, the last
    one in the plural too: `choose rear diagonals`."""
    words = rest.removeprefix("all ").strip()
    found = called(job, words) or all_named_with(job, words) or all_named_with(job, words.removesuffix("s"))
    if not found:
        raise Problem(
            f"Nothing is called ‘{rest.strip()}’.",
            where=rest,
            hint=nearest(rest.strip().lower(), set(names(job).values())) or "Frame's lists show the names.",
        )
    return Done(f"Choose {chosen_words(job, found)}", job, found)


def chosen_words(job: Job, things: Chosen) -> str:
    """What was chosen by words: `T9L, hoop brace, left`, or how many."""
    if len(things) == 1:
        return f"{things[0]}, {name_of(job, things[0])}"
    tubes = sum(thing in job.tube_by_id for thing in things)
    parts = [f"{n} {what}{'s' if n > 1 else ''}" for n, what in ((len(things) - tubes, "joint"), (tubes, "tube")) if n]
    return " and ".join(parts)


COMMANDS = (
    Command(
        "call",
        "call shock mount",
        "calls the chosen joints and tubes by a name of yours, on both sides; alone, by their own again",
        call,
    ),
    Command("choose", "choose rear upper rail", "chooses joints and tubes by words of their names", choose),
)
