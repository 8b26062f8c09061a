"""Lines that come from a drawing, brought into a job as tubes, with joints where they meet."""

import contextlib
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from pydantic import ValidationError

from ironcage.core.job.edits.joints import SAME_PLACE_MM, Place
from ironcage.core.job.edits.points import demand_within_reach
from ironcage.core.job.edits.shaping import FIRST_MATERIAL
from ironcage.core.job.edits.tubes import shelve
from ironcage.core.job.geometry.routes import hung
from ironcage.core.job.shelf.library import FIRST_SECTION, library, section_called
from ironcage.core.job.values.model import Job, Joint, Material, Section, Tube
from ironcage.problem import Problem
from ironcage.units.tables import UNITS_MM

FAR = 1e12  # no drawing of a car reaches so far, whatever it counts in
KEPT = ("section", "material", "role", "roll", "radius", "pinned_a", "pinned_b", "taper", "cut_from", "donor", "laser")


@dataclass(frozen=True)
class ReadLines:
    """Lines read. drawn: points (n, 3) of each with its layer and what else was said of it; unit: '' when the file
    does not say; left: how many of what were left out; mended: how many things in the file were spoilt and had to be
    guessed."""

    drawn: tuple[tuple[tuple[Place, ...], str, dict[str, Any]], ...]
    unit: str
    left: dict[str, int] = field(default_factory=dict)
    mended: int = 0


def counted(left: dict[str, int]) -> str:
    """How many of each kind, in words."""
    words = [
        f"{n} {kind.lower()}{'s' if n > 1 else ''}"
        for kind, n in sorted(left.items(), key=lambda pair: pair[0].lower())
    ]
    return ", ".join(words[:-1]) + (" and " if len(words) > 1 else "") + words[-1] if words else ""


class _Joints:
    """Joints by place, those nearer than one weld being one; places are hashed into cells and the cells beside."""

    def __init__(self, job: Job) -> None:
        self.places: list[Place] = []
        self.names: list[str] = []
        self.twins: list[str | None] = []
        self.cells: dict[tuple[int, int, int], list[int]] = {}
        for j in job.joints:
            self.keep(j.place, j.id, j.twin)

    def keep(self, place: Place, name: str, twin: str | None) -> int:
        self.cells.setdefault(self._cell(place), []).append(len(self.places))
        self.places.append(place)
        self.names.append(name)
        self.twins.append(twin)
        return len(self.places) - 1

    @staticmethod
    def _cell(place: Place) -> tuple[int, int, int]:
        x, y, z = (int(np.floor(v / SAME_PLACE_MM)) for v in place)
        return x, y, z

    def at(self, place: Place) -> int | None:
        x, y, z = self._cell(place)
        for dx in (-1, 0, 1):
            for dy in (-1, 0, 1):
                for dz in (-1, 0, 1):
                    for n in self.cells.get((x + dx, y + dy, z + dz), ()):
                        if all(abs(a - b) < SAME_PLACE_MM for a, b in zip(self.places[n], place, strict=True)):
                            return n
        return None


def add_lines(job: Job, lines: ReadLines, unit: str) -> tuple[Job, str]:
    """The job with a tube along each line, read from the shown datum; joints where lines meet, paired where they
    mirror each other. And what came."""
    if unit not in UNITS_MM:
        raise Problem(f"‘{unit}’ is no unit for lines.", where=unit, hint="There are mm, cm, inch and m.")
    size, datum = UNITS_MM[unit], job.datum
    shift = np.array([datum.x, datum.y, datum.z])
    known = _Joints(job)
    before = len(known.places)
    tubes: list[tuple[int, int, str, dict[str, Any], np.ndarray]] = []
    short = 0
    for points, layer, said in lines.drawn:
        at = np.array(points) * size + shift
        ends = np.array(said["joints"]) * size + shift if _is_own(said) else None
        whole = ends is not None or len(at) == 2
        for run in [at] if whole else [at[n : n + 2] for n in range(len(at) - 1)]:
            first, last = (ends[0], ends[1]) if ends is not None else (run[0], run[-1])
            a, b = (_joint(known, p) for p in (first, last))
            if a == b:
                short += 1
                continue
            tubes.append((a, b, layer, said if ends is not None else {}, run))
    demand_within_reach(list(known.places[before:]), "The drawing")
    made = _with_joints(job, known, before)
    made, there, guessed = _with_tubes(made, known, tubes)
    came = len(made.tubes) - len(job.tubes)
    if not came:
        raise Problem("Every line has a tube already.", where="lines", hint="Nothing was changed.")
    words = [f"{came} tubes and {len(made.joints) - len(job.joints)} joints came"]
    words += [f"{there} were there already"] if there else []
    words += [f"{short} lines were too short"] if short else []
    for section, layers in guessed.items():
        named = ", ".join(f"‘{layer[:40]}’" for layer in layers[:3]) + (" and others" if len(layers) > 3 else "")
        words.append(
            f"{named} names no section, so its lines became {section}"
            if len(layers) == 1
            else f"{named} name no section, so their lines became {section}"
        )
    words += [f"{counted(lines.left)} left out: lay them as bends"] if lines.left else []
    return made, ", ".join(words) + "."


def _is_own(said: dict[str, Any]) -> bool:
    """Whether both joints' places, which this program writes beside a line, are whole."""
    ends = said.get("joints")
    return (
        isinstance(ends, list)
        and len(ends) == 2
        and all(
            isinstance(e, list) and len(e) == 3 and all(isinstance(v, int | float) and abs(v) < FAR for v in e)
            for e in ends
        )
    )


def _joint(known: _Joints, place: np.ndarray) -> int:
    x, y, z = (float(v) for v in place)
    here: Place = (x, 0.0 if abs(y) < SAME_PLACE_MM else y, z)
    found = known.at(here)
    return known.keep(here, "", None) if found is None else found


def _with_joints(job: Job, known: _Joints, before: int) -> Job:
    """The job with the new joints, named in order, a pair one number."""
    number = job.last_joint
    for n in range(before, len(known.places)):
        if known.names[n]:
            continue
        x, y, z = known.places[n]
        number += 1
        other = known.at((x, -y, z))
        if y == 0.0:
            known.names[n], known.twins[n] = f"J{number}", f"J{number}"
        elif other is not None and other >= before and not known.names[other]:
            known.places[other] = (x, -y, z)
            left, right = (n, other) if y > 0 else (other, n)
            known.names[left], known.names[right] = f"J{number}L", f"J{number}R"
            known.twins[left], known.twins[right] = known.names[right], known.names[left]
        else:
            known.names[n] = f"J{number}"
    new = [
        Joint(id=known.names[n], x=known.places[n][0], y=known.places[n][1], z=known.places[n][2], twin=known.twins[n])
        for n in range(before, len(known.places))
    ]
    return job.but(joints=(*job.joints, *new), last_joint=number)


def _with_tubes(
    job: Job, known: _Joints, tubes: list[tuple[int, int, str, dict[str, Any], np.ndarray]]
) -> tuple[Job, int, Mapping[str, list[str]]]:
    """The job with the new tubes, how many were there already, and the sections that were taken because a layer named
    none, with those layers."""
    made, sections = job, {}
    materials = {m.name: m for m in (*library().materials, *_said_materials(tubes), *job.shelf.materials)}
    last = job.tubes[-1] if job.tubes else None
    taken = {(frozenset(t.ends), bool(t.corners)) for t in job.tubes}
    names: dict[tuple[frozenset[str], bool], str] = {}
    new: list[Tube] = []
    number, there, used = job.last_tube, 0, set()
    guessed: defaultdict[str, list[str]] = defaultdict(list)
    drawn = {(frozenset((known.names[a], known.names[b])), len(run) > 2) for a, b, _, _, run in tubes}
    for a, b, layer, said, run in tubes:
        ends = known.names[a], known.names[b]
        bent = len(run) > 2
        key = frozenset(ends), bent
        if key in taken or key in names:
            there += 1
            continue
        made = _with_stock(made, said)
        wanted = (str(said.get("section", "")), layer)
        if wanted not in sections:
            made, sections[wanted], named = _section(made, *wanted, last.section if last else FIRST_SECTION)
            if not named:
                guessed[sections[wanted]].append(layer)
        for extra in ("taper", "cut_from"):
            if said.get(extra) and said[extra] not in {s.name for s in made.shelf.sections}:
                made, _ = shelve(made, section_called(made, str(said[extra])))
        material = (
            str(said.get("material", ""))
            if said.get("material") in materials
            else last.material
            if last
            else FIRST_MATERIAL
        )
        used.add(material)
        twins = known.twins[a], known.twins[b]
        pair = frozenset(t for t in twins if t), bent
        if None not in twins and pair in names and names[pair][-1:] in "LR" and pair != key:
            name = names[pair][:-1] + ("R" if names[pair].endswith("L") else "L")
        else:
            number += 1
            side = "L" if known.places[a][1] + known.places[b][1] >= 0 else "R"
            paired = None not in twins and pair != key and pair in drawn
            name = f"T{number}{side if paired else ''}"
        names[key] = name
        fields = {k: v for k, v in said.items() if k in KEPT and k not in ("section", "material")}
        base = Tube(id=name, a=ends[0], b=ends[1], section=sections[wanted], material=material)
        new.append(_shaped(base, fields, known.places[a], known.places[b], run))
    shelf = made.shelf
    shelf = shelf.but(
        materials=(
            *shelf.materials,
            *(materials[m] for m in sorted(used) if m not in {k.name for k in shelf.materials}),
        )
    )
    return made.but(shelf=shelf, tubes=(*made.tubes, *new), last_tube=number), there, guessed


def _shaped(tube: Tube, fields: dict[str, Any], a: Place, b: Place, run: np.ndarray) -> Tube:
    """A tube with what was said of it: its landings and corners from its line."""
    first, last = run[0] - a, run[-1] - b
    offsets = [
        tuple(float(v) for v in off) if np.abs(off).max() > SAME_PLACE_MM else (0.0, 0.0, 0.0) for off in (first, last)
    ]
    try:
        made = Tube.model_validate({**tube.model_dump(), **fields, "offset_a": offsets[0], "offset_b": offsets[1]})
    except ValidationError:  # what was written beside the line has been spoilt: the line itself stays
        made = tube
    if len(run) == 2:
        return made
    return made.but(corners=hung(np.add(a, made.offset_a), np.add(b, made.offset_b), run[1:-1]))


def _section(job: Job, said: str, layer: str, last: str) -> tuple[Job, str, bool]:
    """The job with a line's section on its shelf: what was said, what the layer is called, or the last one used; and
    whether it was named."""
    for text in (said, layer, last):
        try:
            made, name = shelve(job, section_called(job, text)) if text else (job, job.section(text).name)
        except Problem:
            continue
        return made, name, text != last or last in (said, layer)
    made, name = shelve(job, FIRST_SECTION)
    return made, name, False


def _with_stock(job: Job, said: dict[str, Any]) -> Job:
    """The job with the sections that were written with a tube on its shelf, where it has none of their names."""
    known = {s.name for s in job.shelf.sections}
    for row in said.get("stock", []) if isinstance(said.get("stock"), list) else []:
        with contextlib.suppress(ValidationError, Problem):  # spoilt on the way: then its name is all there is
            section = Section.model_validate(row)
            if section.name not in known:
                job, _ = shelve(job, section)
    return job


def _said_materials(tubes: list[tuple[int, int, str, dict[str, Any], np.ndarray]]) -> list[Material]:
    """The materials that were written with tubes."""
    found = {}
    for *_, said, _ in tubes:
        row = said.get("of")
        if isinstance(row, dict) and str(row.get("name")) not in found:
            with contextlib.suppress(ValidationError):
                found[str(row.get("name"))] = Material.model_validate(row)
    return list(found.values())
