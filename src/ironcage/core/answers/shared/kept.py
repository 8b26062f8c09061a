"""Answers to parts of a job, kept from one job to the next while all that they were worked out from are the very same
objects: an edit moves few things, and all others are as they were."""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from threading import Lock
from typing import Generic, TypeVar

from ironcage.core.answers.shared.cache import freeze_part
from ironcage.core.job.geometry.flanges import feet, flanges, slots
from ironcage.core.job.values.model import Job

V = TypeVar("V")


class Kept(Generic[V]):
    """What was worked out for one job and may serve the next. Safe from several threads."""

    def __init__(self) -> None:
        self._held: dict[Hashable, tuple[tuple[object, ...], V]] = {}
        self._lock = Lock()

    def round(self) -> Round[V]:
        """What is kept now, and room for what the next job keeps."""
        with self._lock:
            return Round(self, self._held)

    def take(self, held: dict[Hashable, tuple[tuple[object, ...], V]]) -> None:
        """Keep what a round found and made, and forget the rest."""
        with self._lock:
            self._held = held


class Latest(Generic[V]):
    """What was last worked out under each name, so many names at most. Safe from several threads: a name holds one
    whole value or another."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._held: dict[Hashable, V] = {}

    def find(self, name: Hashable) -> V | None:
        """What was last worked out under a name; None where nothing was."""
        return self._held.get(name)

    def hold(self, name: Hashable, value: V) -> None:
        """Keep what only who keeps it reads."""
        if len(self._held) >= self._most:
            self._held = {}  # they are worked out again, once
        self._held[name] = value


class Round(Generic[V]):
    """The answers of one job while they are worked out: taken from the last one, or new."""

    def __init__(self, owner: Kept[V], before: Mapping[Hashable, tuple[tuple[object, ...], V]]) -> None:
        self._owner, self._before = owner, before
        self._now: dict[Hashable, tuple[tuple[object, ...], V]] = {}

    def find(self, objects: tuple[object, ...], more: Hashable = None) -> V | None:
        """What was worked out from these very objects, and from something else that is equal; None where nothing
        was."""
        key = (*map(id, objects), more)
        found = self._before.get(key)
        if found is None:
            return None
        self._now[key] = found
        return found[1]

    def keep(self, value: V, objects: tuple[object, ...], more: Hashable = None) -> V:
        """Keep what was worked out from some objects, its arrays read-only. The objects are held, so that no other is
        taken for one."""
        freeze_part(value)
        self._now[*map(id, objects), more] = (objects, value)
        return value

    def close(self) -> None:
        """Keep what this job found and made for the next."""
        self._owner.take(self._now)


def around(job: Job) -> dict[str, tuple[object, ...]]:
    """For each joint that has tubes, all that tells what it is like there: the shelf, the joint, its tubes and the
    joints at their other ends, and the flanges, slots and feet of some."""
    joints = job.joint_by_id
    bolted: dict[str, list[object]] = {}
    for (_, joint), flange in (*flanges(job).items(), *slots(job).items(), *feet(job).items()):
        bolted.setdefault(joint, []).append(flange)
    return {
        name: (
            job.shelf,
            joints[name],
            *(thing for t in tubes for thing in (t, joints[t.b if t.a == name else t.a])),
            *bolted.get(name, ()),
        )
        for name, tubes in job.tubes_at.items()
    }
