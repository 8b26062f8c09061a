"""The .cage file: readable UTF-8 JSON with a format version, read with bounds, written atomically.

`{"format": "ironcage job", "version": N, "job": {...}}`. Older versions are brought forward step by step
by `migrations`; a newer one is refused with nothing lost. The JSON Schema is `schema()`, published in
docs/cage.schema.json.
"""

import contextlib
import json
import os
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ironcage.core.job.migrations import VERSION, migrated
from ironcage.core.job.model import Job
from ironcage.core.job.scans import lay_beside, take_up
from ironcage.problem import Problem

FORMAT = "ironcage job"
MOST_BYTES = 64 * 2**20


def to_text(job: Job) -> str:
    """A job as the text of a .cage file: one joint, tube or part a line, so that versions compare well."""
    body = job.model_dump(mode="json")
    lines = []
    for key, value in body.items():
        if isinstance(value, list):
            rows = ",\n".join("   " + json.dumps(row, ensure_ascii=False) for row in value)
            lines.append(f'  "{key}": [\n{rows}\n  ]' if value else f'  "{key}": []')
        else:
            lines.append(f'  "{key}": {json.dumps(value, ensure_ascii=False)}')
    inner = ",\n".join(lines)
    return f'{{\n "format": "{FORMAT}",\n "version": {VERSION},\n "job": {{\n{inner}\n }}\n}}\n'


def from_text(text: str, name: str = "The file") -> Job:
    """The job in the text of a .cage file; `name` is what refusals call it."""
    try:
        document = json.loads(text, parse_constant=_refuse_constant)
    except RecursionError:
        raise Problem(f"{name} is nested too deeply to be a job.", where=name) from None
    except Problem as problem:
        raise Problem(f"{name} holds {problem.what}.", where=name) from None
    except ValueError as error:
        line = getattr(error, "lineno", 0)
        ended = getattr(error, "pos", 0) >= len(text.rstrip()) - 1 or "Unterminated" in str(error)
        why = "ends too early; it looks cut off" if text.strip() and ended else f"is not JSON (line {line})"
        raise Problem(f"{name} {why}.", where=name, hint="The copy saved before it ends in .cage~.") from None
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise Problem(f"{name} is not an Iron Cage job.", where=name)
    body = migrated(document, name)
    try:
        return Job.model_validate(body)
    except ValidationError as error:
        raise Problem(_first_fault(error, body, name), where=name) from None
    except Problem as problem:
        raise Problem(f"{name} cannot be opened. {problem.what}", where=problem.where, hint=problem.hint) from None


def _refuse_constant(word: str) -> float:
    raise Problem(f"the number {word}, which no length or mass can be")


def _first_fault(error: ValidationError, body: Any, name: str) -> str:
    """The first thing wrong, by the id of the joint or tube it is in."""
    fault = error.errors(include_url=False)[0]
    owner, at = "", body
    for step in fault["loc"]:
        try:
            at = at[step]
        except (KeyError, IndexError, TypeError):
            break
        if isinstance(at, dict) and isinstance(at.get("id") or at.get("name"), str):
            owner = str(at.get("id") or at.get("name"))
    field = next((str(s) for s in reversed(fault["loc"]) if isinstance(s, str)), "")
    shown = repr(fault["input"])
    shown = shown if len(shown) < 40 else shown[:36] + " ..."
    message = fault["msg"][0].lower() + fault["msg"][1:]
    return f"{name} cannot be opened: {field}{f' of {owner}' if owner else ''} is {shown}, but {message}."


def read(path: Path) -> Job:
    """Open a .cage file. Raises Problem with one sentence for anything that is not a usable job."""
    name = path.name
    try:
        if path.stat().st_size > MOST_BYTES:
            raise Problem(f"{name} is over {MOST_BYTES // 2**20} MB, too large for a job.", where=name)
        data = path.read_bytes()
    except FileNotFoundError:
        raise Problem(f"There is no file {path}.", where=name) from None
    except OSError as error:
        raise Problem(f"{name} cannot be read: {error.strerror or error}.", where=name) from None
    try:
        job = from_text(data.decode("utf-8"), name)
    except UnicodeDecodeError:
        raise Problem(f"{name} is not text, so not a job.", where=name) from None
    take_up(job, path)
    return job


def save(job: Job, path: Path) -> None:
    """Write a job so that at every moment either the old or the new file is whole; the old is kept as .cage~.

    Raises Problem when the folder cannot be written or the disk is full; the old file is then untouched.
    """
    write_atomically(path, to_text(job).encode("utf-8"), keep_old=True)
    lay_beside(job, path)


def write_atomically(path: Path, data: bytes, *, keep_old: bool = False) -> None:
    """Write beside the target, flush to the disk, then rename over it."""
    beside = path.with_name(f".{path.name}.{os.getpid()}.new")
    try:
        with beside.open("wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        if keep_old and path.exists():
            older = path.with_name(path.name + "~")
            with contextlib.suppress(OSError):
                older.unlink(missing_ok=True)
                os.link(path, older)
        beside.replace(path)
        with contextlib.suppress(OSError):
            folder = os.open(path.parent, os.O_RDONLY)
            os.fsync(folder)
            os.close(folder)
    except OSError as error:
        with contextlib.suppress(OSError):
            beside.unlink(missing_ok=True)
        raise Problem(
            f"{path.name} could not be saved in {path.parent}: {error.strerror or error}.", where=path.name,
            hint="What you have is still here; save it somewhere else.",
        ) from None  # fmt: skip


def schema() -> dict[str, Any]:
    """The JSON Schema of a .cage file of this version."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Iron Cage job",
        "type": "object",
        "required": ["format", "version", "job"],
        "properties": {
            "format": {"const": FORMAT},
            "version": {"const": VERSION},
            "job": {"$ref": "#/$defs/Job"},
        },
        "$defs": _definitions(),
    }


def _definitions() -> dict[str, Any]:
    made = Job.model_json_schema(ref_template="#/$defs/{model}")
    definitions: dict[str, Any] = made["$defs"]  # with Job among them, because a variant holds one
    return definitions
