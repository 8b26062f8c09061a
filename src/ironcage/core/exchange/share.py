"""Parts and shelf items to share with another job: readable JSON with a format and a version."""

from __future__ import annotations

import json
from typing import Any

from pydantic import ValidationError

from ironcage.core.job import edits
from ironcage.core.job.edits.placed import add_part
from ironcage.core.job.values.model import Die, Job, Material, Section
from ironcage.core.job.values.placed import Part
from ironcage.problem import Problem

FORMAT, VERSION = "ironcage shelf", 1


def to_shelf_json(job: Job) -> bytes:
    """Every part, and every section, material and die of the shelf."""
    body = {
        "format": FORMAT,
        "version": VERSION,
        "parts": [p.model_dump(mode="json") for p in job.parts],
        "sections": [s.model_dump(mode="json") for s in job.shelf.sections],
        "materials": [m.model_dump(mode="json") for m in job.shelf.materials],
        "dies": [d.model_dump(mode="json") for d in job.shelf.dies],
    }
    return json.dumps(body, ensure_ascii=False, indent=1).encode("utf-8")


def add_shelf(job: Job, data: bytes, name: str) -> Job:
    """The job with what a shelf file holds: parts with new ids where they were, sections and materials under their
    names."""
    try:
        body: Any = json.loads(data.decode("utf-8"))
    except (ValueError, RecursionError):
        raise Problem(
            f"{name} is not a shelf file.", where=name, hint="‘Parts and shelf to share’ writes one."
        ) from None
    if not isinstance(body, dict) or body.get("format") != FORMAT or not isinstance(body.get("version"), int):
        raise Problem(f"{name} is not a shelf file.", where=name, hint="‘Parts and shelf to share’ writes one.")
    if body["version"] > VERSION:
        raise Problem(f"{name} was written by a newer Iron Cage.", where=name)
    try:
        for row in body.get("sections", []):
            job = edits.put_section(job, Section.model_validate(row))
        for row in body.get("materials", []):
            job = edits.put_material(job, Material.model_validate(row))
        for row in body.get("dies", []):
            job = edits.put_die(job, Die.model_validate(row))
        for row in body.get("parts", []):
            part = Part.model_validate(row)
            fields = {
                k: v for k, v in dict(part).items() if k not in ("id", "name", "kind", "shape", "x", "y", "z", "mass")
            }
            job = add_part(job, part.name, part.kind, part.shape, part.place, part.mass, **fields)
    except (ValidationError, TypeError, AttributeError):
        raise Problem(f"{name} holds a part, section, material or die that is not valid.", where=name) from None
    return job
