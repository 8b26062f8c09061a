"""What a builder types: one line in, one named step out.

`understand` reads a line with the job and what is chosen; the commands are declared in `places`,
`structure`, `car` and `stock`, each with an example that help, docs and tests use. May import `edits` and `units`.
"""

import re

from pydantic import ValidationError

from ironcage.core.job.commands import car, places, stock, structure
from ironcage.core.job.commands.command import Chosen, Command, Done, units_of
from ironcage.core.job.model import Job
from ironcage.problem import Problem, nearest

COMMANDS: tuple[Command, ...] = (*places.COMMANDS, *structure.COMMANDS, *car.COMMANDS, *stock.COMMANDS)
_BY_WORD = {c.word: c for c in COMMANDS}


def understand(line: str, job: Job, chosen: Chosen = ()) -> Done:
    """Carry out a typed line on a job. Raises Problem with what was not understood and the nearest command."""
    text = line.strip().replace("−", "-")
    if not text:
        raise Problem("Nothing was typed.", hint="Write for example: joint 0 250 300")
    if re.match(r"^[xyzr](?=[\s+\-\d.(])", text, re.IGNORECASE):
        return _checked(lambda: places.coordinates(job, chosen, text), text)
    named = tuple(_id_of(job, word) for word in text.split())
    if all(named):
        return Done(f"Choose {text}", job, tuple(n for n in named if n))
    word, _, rest = text.partition(" ")
    command = _BY_WORD.get(word.lower())
    if command is None:
        raise Problem(
            f"‘{word}’ is not a command.", where=word, hint=nearest(word.lower(), _BY_WORD) or "F1 lists them."
        )
    return _checked(lambda: command.run(job, chosen, rest), text)


def _id_of(job: Job, word: str) -> str | None:
    """The joint or tube of that name, whatever its case."""
    name = word.upper()
    return name if name in job.joint_by_id or name in job.tube_by_id else None


def _checked(run, text: str) -> Done:  # type: ignore[no-untyped-def]
    """Turn a value that the model refuses (too far, too large) into one sentence."""
    try:
        return run()
    except ValidationError as error:
        fault = error.errors(include_url=False)[0]
        field = str(fault["loc"][-1]).replace("_", " ") if fault["loc"] else "value"
        message = fault["msg"][0].lower() + fault["msg"][1:]
        raise Problem(f"‘{text}’ gives {field} {fault['input']!r}, but {message}.", where=field) from None


__all__ = ["COMMANDS", "Command", "Done", "understand", "units_of"]
