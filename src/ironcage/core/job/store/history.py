"""Undo and redo: the jobs a builder has been through, with the name of each step.

Kept in the core rather than in Qt's undo stack, so that the same history drives the window, the recovery
journal and the tests. Jobs share everything an edit did not touch, so keeping them is cheap.
"""

from dataclasses import dataclass
from itertools import pairwise

from ironcage.core.job.values.model import Job

MOST_STEPS = 2000


@dataclass(frozen=True)
class History:
    """A line of (name, job) steps and the place on it."""

    steps: tuple[tuple[str, Job], ...]
    at: int = 0

    @classmethod
    def start(cls, job: Job) -> "History":
        """A history with nothing to undo."""
        return cls((("", job),))

    @property
    def job(self) -> Job:
        """The present job."""
        return self.steps[self.at][1]

    def done(self, name: str, job: Job) -> "History":
        """One more step; what was undone before it is gone. The oldest step falls off past MOST_STEPS."""
        steps = (*self.steps[: self.at + 1], (name, job))[-MOST_STEPS:]
        return History(steps, len(steps) - 1)

    def undone(self) -> "History":
        """One step back, or the same."""
        return History(self.steps, max(self.at - 1, 0))

    def redone(self) -> "History":
        """One step forward, or the same."""
        return History(self.steps, min(self.at + 1, len(self.steps) - 1))

    def amended(self, job: Job) -> "History":
        """The same place with another job there: what is no step of the builder's, such as a line of the log."""
        return History((*self.steps[: self.at], (self.steps[self.at][0], job), *self.steps[self.at + 1 :]), self.at)

    def since(self, job: Job) -> tuple[str, ...]:
        """The names of the steps from a job to the present one, but for those that only wrote what bears its own day;
        of the last one only where that job is not behind it."""
        behind = [n for n, (_, held) in enumerate(self.steps[: self.at + 1]) if held is job]
        first = behind[-1] if behind else max(self.at - 1, 0)
        steps = self.steps[first : self.at + 1]
        return tuple(name for (_, old), (name, new) in pairwise(steps) if not _bears_its_day(old, new))

    @property
    def undo_name(self) -> str:
        """What undo would take back; empty when there is nothing."""
        return self.steps[self.at][0] if self.at else ""

    @property
    def redo_name(self) -> str:
        """What redo would do again; empty when there is nothing."""
        return self.steps[self.at + 1][0] if self.at + 1 < len(self.steps) else ""


def _bears_its_day(old: Job, new: Job) -> bool:
    """Whether a step changed nothing but the log, the readings or the states of welds and pieces, which keep the day
    they are of themselves."""
    changed = {name for name in Job.model_fields if getattr(old, name) is not getattr(new, name)}
    return bool(changed) and changed <= {"logbook", "truing", "welding", "cutting"}
