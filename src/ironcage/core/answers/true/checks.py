"""Snags of True: a reading that is most likely wrong, joints that are off, readings of joints that have gone."""

from collections.abc import Iterator

from ironcage.core.answers.shared.snag import Snag, be, named
from ironcage.core.answers.true.measured import answer
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.truing import MeasuredSlope, joints_of
from ironcage.problem import Problem
from ironcage.units import said
from ironcage.units.quantity import ANGLE


def measured(job: Job) -> Iterator[Snag]:
    """What stands out in what was measured."""
    if not job.truing.readings:
        return
    try:
        told = answer(job)
    except Problem as problem:
        yield Snag("unknown", "can't be trued", "true", problem.what, (), problem.hint)
        return
    lost = [r.reading.id for r in told.readings if r.gone]
    if lost:
        yield Snag(
            "unknown",
            "reading of nothing",
            "true",
            f"{named(lost)} {be(lost)} of a joint that has gone.",
            (),
            f"Take it away or read again: true {lost[0]} gone",
        )
    wrong = told.suspect
    if wrong is not None:
        size = (
            ANGLE.said(abs(wrong.error)) if isinstance(wrong.reading, MeasuredSlope) else said.length(abs(wrong.error))
        )
        yield Snag(
            "unknown",
            "suspect reading",
            "true",
            f"{wrong.reading.id} disagrees with the others by {size}: read it again before anything is bent.",
            joints_of(wrong.reading),
            "Read it again and correct it in True.",
        )
        return
    off = [j for j in told.joints if j.too_far]
    if off:
        worst = off[0]
        yield Snag(
            "wrong",
            "out of place",
            "true",
            f"{worst.joint} stands {worst.words}, give or take {said.length(worst.give_or_take)}"
            + (f"; {len(off) - 1} more {be(['x'] * (len(off) - 1))} out of place." if len(off) > 1 else "."),
            tuple(j.joint for j in off),
            "See True; weld, cut or pull it back before the next tubes hold it.",
        )


CHECKS = (measured,)
