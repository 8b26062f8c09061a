"""What Run says, as neutral data. mm, degrees."""

from typing import Any

import numpy as np

from ironcage.core.answers.run.corner import ASSUMED, AxleRun, runs
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

Said = dict[str, Any]
EACH = 5  # of the travels that are worked out, one in so many is told


def say_run(job: Job) -> Said:
    """Every hung axle, its left corner over its travel, straight ahead and at full rack."""
    try:
        found = runs(job)
    except Problem as problem:
        return {"not_told": problem.sentence}
    return {"axles": [_axle(run) for run in found], "assumptions": list(ASSUMED)}


def _axle(run: AxleRun) -> Said:
    hung = run.hung
    columns = [run.straight] if len(run.found.rack) == 1 else [0, run.straight, len(run.found.rack) - 1]
    return {
        "axle": hung.axle,
        "joints": [*hung.lower, *hung.upper, hung.spring],
        "locks_up_mm": run.limits[0],
        "locks_down_mm": run.limits[1],
        "closes": run.closes,
        "positions": [
            position
            for column in columns
            for row in range(0, len(run.found.travel), EACH)
            if (position := _position(run, row, column))
        ],
    }


def _position(run: AxleRun, row: int, column: int) -> Said:
    told = run.told
    if not run.found.closed[row, column]:
        return {}
    here = (row, column)
    return {
        "travel_mm": round(float(run.found.travel[row]), 3),
        "rack_mm": round(float(run.found.rack[column]), 3),
        **{
            f"{name}_deg": round(float(np.degrees(values[here])), 4)
            for name, values in (
                ("camber", told.camber),
                ("toe_in", told.toe_in),
                ("caster", told.caster),
                ("kingpin", told.kingpin),
            )
        },
        **{
            f"{name}_mm": round(float(values[here]), 3)
            for name, values in (
                ("scrub", told.scrub),
                ("trail", told.trail),
                ("out", told.out),
                ("ahead", told.ahead),
                ("roll_centre", told.roll_centre),
                ("spring", told.spring),
            )
        },
        "motion_ratio": round(float(told.motion_ratio[here]), 5),
    }
