"""What Jig says, as neutral data. mm, degrees."""

import math
from typing import Any

from ironcage.core.answers.jig.stands import answer
from ironcage.core.job.values.model import Job

Said = dict[str, Any]


def say_jig(job: Job) -> Said:
    """The table, its stands, and the diagonals that prove it."""
    a = answer(job)
    return {
        "table_top_z_mm": job.table.top_z,
        "best_top_z_mm": None if a.best_top_z is None else round(a.best_top_z, 2),
        "stands": [
            {
                "joint": s.joint,
                "x_mm": round(s.x, 2),
                "y_mm": round(s.y, 2),
                "saddle_mm": round(s.saddle, 2),
                "tube": s.tube,
                "slope_deg": round(math.degrees(s.slope), 2),
                "on_table": s.on_table,
            }
            for s in a.stands
        ],
        "diagonals": [
            {
                "from": d.first,
                "to": d.second,
                "space_mm": round(d.space, 2),
                "plan_mm": round(d.plan, 2),
                "must_equal": "–".join(d.equals) if d.equals else "",
            }
            for d in a.diagonals
        ],
    }
