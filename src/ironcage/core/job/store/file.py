"""The .cage file: readable UTF-8 JSON with a format version, read with bounds, written atomically.

`{"format": "ironcage job", "version": N, "job": {...}}`. Older versions are brought forward step by step
by `migrations`; a newer one is refused with nothing lost. The JSON Schema is `schema()`, published in
docs/cage.schema.json.
"""

import json
import stat
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any, get_args

from pydantic import TypeAdapter, ValidationError

from ironcage.core.job.store.disk import digest_of, write_atomically
from ironcage.core.job.store.migrations import VERSION, migrated
from ironcage.core.job.store.scans import lay_beside, take_up
from ironcage.core.job.values.model import LIMITS, Job
from ironcage.problem import Problem

FORMAT = "ironcage job"
MOST_BYTES = 64 * 2**20
MOST_SHOWN = 40  # letters of what is wrong in a file
MOST_FIELDS = 400  # of any one thing
MOST_VALUES = 4_000_000  # of a job of 50,000 tubes with everything on it


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
    return _job(within_limits(_body(text, name))[0], name)


def _body(text: str, name: str) -> dict[str, Any]:
    """The neutral JSON of the job in a text, brought forward to this version."""
    demand_simple(text, name)
    try:
        document = json.loads(text, parse_constant=_refuse_constant, object_pairs_hook=_object)
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
    return migrated(document, name)


def _made(body: dict[str, Any], name: str) -> dict[str, Any]:
    """A job's lists with each thing in them made, one after the other: what is wrong with the first is told, and not
    kept for all of fifty thousand."""
    made = dict(body)
    for key in LIMITS:
        rows = made.get(key)
        if not isinstance(rows, list):
            continue
        kind, things = _kind(key), []
        for row in rows:
            if key == "variants" and isinstance(row, dict) and isinstance(row.get("job"), dict):
                row = {**row, "job": _made(within_limits(row["job"])[0], name)}
            things.append(_validated(kind.validate_python, row, row, name))
        made[key] = tuple(things)
    return made


@cache
def _kind(key: str) -> TypeAdapter[Any]:
    """What validates one of a list of a job's."""
    return TypeAdapter(get_args(Job.model_fields[key].annotation)[0])


def demand_simple(text: str, name: str) -> None:
    """Refuse a text that would make far more values than a job has, before any of them is made."""
    values = sum(text.count(mark) for mark in ",:[{")
    if values > MOST_VALUES:
        raise Problem(f"{name} holds {values:,} values, more than the {MOST_VALUES:,} that a job may have.", where=name)


def within_limits(body: dict[str, Any]) -> tuple[dict[str, Any], tuple[str, ...]]:
    """The neutral JSON of a job with no more of anything than a job holds, and what was left out, in sentences."""
    kept, said = dict(body), []
    for name, most in LIMITS.items():
        found = kept.get(name)
        if isinstance(found, list) and len(found) > most:
            said.append(f"{len(found) - most} of {len(found)} {name} were left out: a job holds {most}.")
            kept[name] = found[:most]
    return kept, tuple(said)


def _job(body: dict[str, Any], name: str) -> Job:
    job: Job = _validated(Job.model_validate, _made(body, name), body, name)
    return job


def _validated(check: Callable[[Any], Any], value: Any, body: Any, name: str) -> Any:
    """What a check makes of a value. Raises Problem with the first thing that is wrong, by its place in the `body` it
    was made from."""
    try:
        return check(value)
    except ValidationError as error:
        raise Problem(_first_fault(error, body, name), where=name) from None
    except Problem as problem:
        raise Problem(f"{name} cannot be opened. {problem.what}", where=problem.where, hint=problem.hint) from None


def _object(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    if len(pairs) > MOST_FIELDS:
        raise Problem(f"something of {len(pairs):,} fields, which nothing in a job has")
    return dict(pairs)


def _refuse_constant(word: str) -> float:
    raise Problem(f"the number {word}, which no length or mass can be")


def _first_fault(error: ValidationError, body: Any, name: str) -> str:
    """The first thing wrong, by the id of the joint or tube it is in."""
    fault = error.errors(include_url=False)[0]
    owner, at = _called(body), body
    for step in fault["loc"]:
        try:
            at = at[step]
        except (KeyError, IndexError, TypeError):
            break
        owner = _called(at) or owner
    field = next((str(s)[:MOST_SHOWN] for s in reversed(fault["loc"]) if isinstance(s, str)), "")
    held = fault["input"]
    shown = repr(
        held[:MOST_SHOWN]
        if isinstance(held, str)
        else held
        if isinstance(held, int | float | bool | None)
        else type(held).__name__
    )
    shown = shown if len(shown) < MOST_SHOWN else shown[: MOST_SHOWN - 4] + " ..."
    message = fault["msg"][0].lower() + fault["msg"][1:]
    return f"{name} cannot be opened: {field}{f' of {owner}' if owner else ''} is {shown}, but {message}."


@dataclass(frozen=True)
class Opened:
    """A job as it was read. digest: of the file, which tells whether it has changed since; said: what could not be
    taken up, in sentences."""

    job: Job
    digest: str
    said: tuple[str, ...] = ()


def _called(thing: Any) -> str:
    """What a part of a job is called, cut short; nothing where it has no name."""
    name = (thing.get("id") or thing.get("name")) if isinstance(thing, dict) else None
    return name[:MOST_SHOWN] if isinstance(name, str) else ""


def read(path: Path) -> Job:
    """The job in a .cage file. Raises Problem with one sentence for anything that is not a usable job."""
    return opened(path).job


def opened(path: Path) -> Opened:
    """Open a .cage file. Raises Problem as `read` does."""
    name = path.name
    data = _bytes_of(path)
    try:
        body = _body(data.decode("utf-8"), name)
    except UnicodeDecodeError:
        raise Problem(f"{name} is not text, so not a job.", where=name) from None
    kept, left_out = within_limits(body)
    job = _job(kept, name)
    return Opened(job, digest_of(data), (*left_out, *take_up(job, path)))


def _bytes_of(path: Path) -> bytes:
    name = path.name or str(path)
    try:
        held = path.stat()
        if not stat.S_ISREG(held.st_mode):
            what = "a folder" if stat.S_ISDIR(held.st_mode) else "no plain file"
            raise Problem(f"{path} is {what}, so not a job.", where=name)
        if held.st_size > MOST_BYTES:
            raise Problem(f"{name} is over {MOST_BYTES // 2**20} MB, too large for a job.", where=name)
        with path.open("rb") as stream:
            return stream.read(MOST_BYTES + 1)
    except FileNotFoundError:
        raise Problem(f"There is no file {path}.", where=name) from None
    except (OSError, ValueError) as error:  # a name with a null byte is a ValueError
        raise Problem(f"{name} cannot be read: {getattr(error, 'strerror', None) or error}.", where=name) from None


class ChangedOnDisk(Problem):
    """The file is not the one that was read: another window or program has written it since."""


def save(job: Job, path: Path, *, expected: str | None = None) -> str:
    """Write a job so that at every moment either the old or the new file is whole; the old is kept as .cage~. The
    digest of what was written.

    expected: the digest of the file as it was read or last saved, "" where there was none; None asks nothing. Raises
    ChangedOnDisk when another has written it since, and Problem when the folder cannot be written or the disk is full;
    the file is then untouched.
    """
    data = to_text(job).encode("utf-8")
    if expected is not None and path.is_file() and digest_of(_bytes_of(path)) != expected:
        raise ChangedOnDisk(
            f"{path.name} has been changed by another window or program since it was opened here.",
            where=path.name,
            hint="Save yours under another name, or over it: the other version is kept beside it.",
        )
    lay_beside(job, path)
    write_atomically(path, data, older=path.with_name(path.name + "~"))
    return digest_of(data)


def keep_other(path: Path) -> Path:
    """Copy a file that another has written, before it is saved over; where it is kept."""
    for n in range(1, 1000):
        kept = path.with_name(f"{path.stem} (other version{f' {n}' if n > 1 else ''}){path.suffix}")
        if not kept.exists():
            write_atomically(kept, _bytes_of(path))
            return kept
    raise Problem(
        f"There are a thousand other versions of {path.name} beside it.",
        where=path.name,
        hint="Move some of them away.",
    )


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
    for definition in definitions.values():  # where a docstring breaks its lines is nobody's business
        if said := definition.get("description"):
            definition["description"] = "\n\n".join(" ".join(part.split()) for part in said.split("\n\n"))
    return definitions
