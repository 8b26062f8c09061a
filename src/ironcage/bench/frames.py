"""Frames of any size for measuring: a long box truss with every face braced, and pickups at its ends."""

from ironcage.core.job import edits
from ironcage.core.job.shelf.library import library
from ironcage.core.job.values.model import (
    Job,
    Joint,
    Pickup,
    PointMass,
    Shelf,
    Tube,
    Wheel,
)

BAY_MM, HALF_MM, LOW_MM, HIGH_MM = 400.0, 300.0, 200.0, 600.0
LONGEST_MM = 40_000.0
_SIDES = {"L": 1.0, "R": -1.0}


def truss(least_tubes: int) -> Job:
    """A truss of at least that many tubes, thirteen a bay; its bays are shorter where it would be longer than a frame
    may be."""
    bays = -(-(least_tubes - 5) // 13)
    bay_mm = min(BAY_MM, LONGEST_MM / bays)
    joints: list[Joint] = []
    tubes: list[Tube] = []

    def name(bay: int, level: str, side: str) -> str:
        return f"J{2 * bay + (level == 'up') + 1}{side}"

    for bay in range(bays + 1):
        for level, z in (("low", LOW_MM), ("up", HIGH_MM)):
            for side, way in _SIDES.items():
                other = "R" if side == "L" else "L"
                joints.append(
                    Joint(
                        id=name(bay, level, side), x=-bay * bay_mm, y=way * HALF_MM, z=z, twin=name(bay, level, other)
                    )
                )

    def join(a: str, b: str) -> None:
        tubes.append(Tube(id=f"T{len(tubes) + 1}", a=a, b=b, section=section.name, material=material.name))

    section = next(s for s in library().sections if s.name == "30 x 1.5 round")
    material = library().materials[0]
    for bay in range(bays + 1):
        join(name(bay, "low", "L"), name(bay, "low", "R"))
        join(name(bay, "up", "L"), name(bay, "up", "R"))
        join(name(bay, "low", "L"), name(bay, "up", "R"))
        for side in _SIDES:
            join(name(bay, "low", side), name(bay, "up", side))
            if bay < bays:
                join(name(bay, "low", side), name(bay + 1, "low", side))
                join(name(bay, "up", side), name(bay + 1, "up", side))
                join(name(bay, "low", side), name(bay + 1, "up", side))
        if bay < bays:
            join(name(bay, "low", "L"), name(bay + 1, "low", "R"))
            join(name(bay, "up", "L"), name(bay + 1, "up", "R"))
    corners = [
        (f"{end} {word}", name(bay, "low", side))
        for end, bay in (("front", 0), ("rear", bays))
        for word, side in (("left", "L"), ("right", "R"))
    ]
    return Job(
        shelf=Shelf(sections=(section,), materials=(material,)),
        joints=tuple(joints),
        tubes=tuple(tubes),
        pickups=tuple(Pickup(id=f"P{n}", joint=joint, corner=corner) for n, (corner, joint) in enumerate(corners)),
        wheels=tuple(
            Wheel(
                id=f"W{n}",
                corner=corner,
                x=0.0 if "front" in corner else -bays * bay_mm,
                y=700.0 if "left" in corner else -700.0,
                z=300,
                diameter=600,
                width=200,
            )
            for n, (corner, _) in enumerate(corners)
        ),
        masses=(PointMass(id="M1", name="Engine", mass=90, x=-bays * bay_mm / 2, y=0, z=400),),
        last_joint=2 * bays + 2,
        last_tube=len(tubes),
        last_part=20,
    )


def unbraced(least_tubes: int) -> Job:
    """The truss with every fifth brace of its sides left out, so that there are bays to recheck and folds to find."""
    job = truss(round(least_tubes * 1.1))
    places = {j.id: j.place for j in job.joints}
    braces = [
        t.id
        for t in job.tubes
        if places[t.a][1] == places[t.b][1] and places[t.a][0] != places[t.b][0] and places[t.a][2] != places[t.b][2]
    ]
    return edits.delete(job, braces[::5])
