"""A typed line understood: by its command, by the names of things, or by what other people would call it."""

import re

from pydantic import ValidationError

from ironcage.core.job.geometry.names import called, named_with
from ironcage.core.job.text import (
    arms,
    axles,
    bands,
    beams,
    buying,
    car,
    carriers,
    cutting,
    fitting,
    forks,
    guesses,
    joints,
    logbook,
    moving,
    naming,
    patterns,
    placed,
    plans,
    proving,
    running,
    shaping,
    sheet,
    shop,
    stock,
    structure,
    ties,
    truing,
    welding,
)
from ironcage.core.job.text.axes import begins_by_axis
from ironcage.core.job.text.command import Chosen, Command, Done, refused
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem, nearest
from ironcage.units import said

COMMANDS: tuple[Command, ...] = (
    *joints.COMMANDS,
    *structure.COMMANDS,
    *shaping.COMMANDS,
    *sheet.COMMANDS,
    *moving.COMMANDS,
    *naming.COMMANDS,
    *ties.COMMANDS,
    *fitting.COMMANDS,
    *car.COMMANDS,
    *stock.COMMANDS,
    *buying.COMMANDS,
    *cutting.COMMANDS,
    *plans.COMMANDS,
    *placed.COMMANDS,
    *running.COMMANDS,
    *arms.COMMANDS,
    *forks.COMMANDS,
    *carriers.COMMANDS,
    *bands.COMMANDS,
    *axles.COMMANDS,
    *beams.COMMANDS,
    *patterns.COMMANDS,
    *shop.COMMANDS,
    *proving.COMMANDS,
    *welding.COMMANDS,
    *truing.COMMANDS,
    *logbook.COMMANDS,
)
CLOSE = 0.7  # how near in spelling a word of ours is that is named for one that is not
FIRST_LINES = said.example(
    "F1 lists all lines. A place is a joint, joint [0] [250] [300]; two chosen ones are joined with tube."
)
_NAME = re.compile(r"[a-z]+\d+[lr]?", re.IGNORECASE)  # of a joint, a tube, something placed
_BY_WORD = {c.word: c for c in COMMANDS}


def understand(line: str, job: Job, chosen: Chosen = ()) -> Done:
    """Carry out a typed line on a job. Raises Problem with what was not understood and the nearest command."""
    text = line.strip().replace("−", "-")
    if not text:
        raise Problem("Nothing was typed.", hint=said.example("Write for example: joint [0] [250] [300]"))
    try:
        return _run(text, job, chosen)
    except ValidationError as error:
        raise refused(error, text) from None
    except Problem as problem:
        return _guessed(text, job, chosen, problem)


def _guessed(text: str, job: Job, chosen: Chosen, refusal: Problem) -> Done:
    """What a line means in other people's words. Raises Problem: of the line that it was taken for, with where it
    leads, or the refusal of the line as it was typed."""
    word, named = text.split(maxsplit=1)[0].lower(), False
    if meant := called(job, text):
        return Done(f"Choose {naming.chosen_words(job, meant)}", job, meant)
    if done := guesses.known(text, job, chosen):
        return done
    ours = word in _BY_WORD and word not in guesses.RETOLD
    for line, picked in () if ours else guesses.retold(text, job, chosen):
        try:
            return _run(line, job, picked)
        except ValidationError as error:
            raise refused(error, text) from None
        except Problem as problem:
            if word not in _BY_WORD and not named:
                refusal, named = problem, bool(problem.hint)
    if not ours and not named and (meant := named_with(job, text)):
        return Done(f"Choose {naming.chosen_words(job, meant)}", job, meant)
    leads = guesses.spoken(text) if word in _BY_WORD else "" if named else guesses.meaning(text)
    if leads:
        raise Problem(f"‘{text}’ is not understood.", where=word, hint=leads)
    raise refusal


def _run(text: str, job: Job, chosen: Chosen) -> Done:
    if begins_by_axis(text, "xyzr"):
        return joints.coordinates(job, chosen, text)
    named = tuple(_id_of(job, word) for word in text.split())
    if all(named):
        return Done(f"Choose {text}", job, tuple(n for n in named if n))
    word, _, rest = text.partition(" ")
    command = _BY_WORD.get(word.lower())
    if command is None and re.fullmatch(_NAME, word):
        missing = next(w for w in text.split() if not _id_of(job, w)).upper()
        known = (*job.joint_by_id, *job.tube_by_id, *job.placed)
        raise Problem(
            f"There is no {missing} in this job.", where=missing, hint=nearest(missing, known, CLOSE) or FIRST_LINES
        )
    if command is None:
        raise Problem(
            f"‘{word}’ is not a command.", where=word, hint=nearest(word.lower(), _BY_WORD, CLOSE) or FIRST_LINES
        )
    return command.run(job, chosen, rest)


def _id_of(job: Job, word: str) -> str | None:
    """The joint, tube, part, person, chain or shaft of that name, whatever its case."""
    name = word.upper()
    return name if name in job.joint_by_id or name in job.tube_by_id or name in job.placed else None
