"""Sheet and plates as bodies: panels, gussets, haunches and fish plates take up room, and things run into them.

A panel lies in the plane of its joints, half its sheet to either side. Tabs, sleeves and inserts are left out: what a
tab carries reaches in between its plates, and the others lie on their tube.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from ironcage.core.answers.shared import fittings
from ironcage.core.answers.shared.cache import remembered
from ironcage.core.calc.plane.flats import flattened
from ironcage.core.calc.solids.convex import Solid, plate
from ironcage.core.job.geometry.bodies import Body, tube_bodies
from ironcage.core.job.geometry.routes import Place
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem

ON_TUBES = ("gusset", "haunch", "fish plate")  # what may touch tubes may touch these as well: they are part of them
LEAST_CORNERS = 3
LEVEL = 0.7  # of a panel's normal upright: feet stand on it
KEEP = 20_000


@remembered("joints", "tubes", "shelf", "fittings")
def plate_bodies(job: Job) -> tuple[Body, ...]:
    """Every panel and plate of a job, in its order; one that can't be made takes up nothing."""
    return tuple(
        body
        for f in fittings.fitting_facts(job)
        if f.thickness
        and f.kind != "tab"
        and len(f.shown) >= LEAST_CORNERS
        and not f.problem
        and (body := _body(f.id, f.kind, f.shown, f.thickness, f.count))
    )


@remembered("joints", "tubes", "shelf", "fittings")
def frame_bodies(job: Job) -> tuple[Body, ...]:
    """Every tube, panel and plate of a job."""
    return (*tube_bodies(job), *plate_bodies(job))


@lru_cache(KEEP)
def _body(name: str, kind: str, corners: tuple[Place, ...], thickness: float, count: int) -> Body | None:
    """A plate by its corners in the car; several side by side as one so thick. A warped one bends along the lines
    that its pieces meet in."""
    places = np.array(corners)
    outline, _ = flattened(places)
    try:
        flat = plate(outline, 0.0)
    except Problem:  # corners that cross or lie in line: Frame says what is wrong with it
        return None
    middle = places.mean(axis=0)
    normal = np.linalg.svd(places - middle)[2][2]
    half = thickness * count / 2 * normal
    solids = []
    for piece in flat:
        rows = np.abs(piece.points[:, None, :2] - outline).sum(axis=2).argmin(axis=1)
        ring = places[np.unique(rows)]
        solids.append(Solid(np.vstack([ring + half, ring - half]), normal))
    touches = frozenset({"tubes"} if kind in ON_TUBES else ())
    use = "floor panel" if kind == "panel" and abs(normal[2]) > LEVEL else kind
    return Body(name, name, "sheet", tuple(solids), ("",) * len(solids), 0.0, use, touches)
