"""Lines that are pasted: many typed lines carried out as one step, or none of them."""

from dataclasses import replace

from ironcage.core.job.text.command import Chosen, Done
from ironcage.core.job.text.understanding import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

MOST_LINES = 2000


def understand_all(text: str, job: Job, chosen: Chosen = ()) -> Done:
    """Carry out the lines of a text one after the other, as if each were typed; empty ones are passed over. Raises
    Problem with the number of the first line that is refused."""
    lines = [(n, line) for n, line in enumerate(text.splitlines(), 1) if line.strip()]
    if not lines:
        raise Problem("There is nothing to paste.", hint="Copy some lines first.")
    if len(lines) > MOST_LINES:
        raise Problem(f"{len(lines):,} lines are more than {MOST_LINES:,}.", hint="Paste them in parts.")
    done = Done("", job, chosen)
    for n, line in lines:
        try:
            done = understand(line, done.job, done.chosen)
        except Problem as problem:
            problem.what = f"Line {n} of what was pasted, ‘{_short(line)}’: {problem.what}"
            raise
    return done if len(lines) == 1 else replace(done, name=f"Paste {len(lines)} lines")


def _short(line: str) -> str:
    return line.strip() if len(line.strip()) <= 60 else f"{line.strip()[:57]}..."
