"""The shop's rack of offcuts, kept between jobs in the program's own folder."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

from ironcage.core.job.store.disk import write_atomically
from ironcage.home import home
from ironcage.problem import Problem

FORMAT, VERSION, MOST = "ironcage-rack", 1, 5000
SAME_MM = 0.5  # an offcut of the rack is known again by its section and its length


@dataclass(frozen=True)
class Rest:
    """A length of a section, mm."""

    section: str
    length: float


def rack_file() -> Path:
    """Where the rack is kept."""
    return home() / "rack.json"


def read_rack() -> tuple[Rest, ...]:
    """What is on the rack, by section and then the longest first; nothing where it was never kept. Refuses a file that
    is none."""
    path = rack_file()
    try:
        body = json.loads(path.read_text("utf-8"))
        if body["format"] != FORMAT or body["version"] != VERSION:
            raise ValueError
        rests = [Rest(str(o["section"]), float(o["length_mm"])) for o in body["offcuts"][:MOST]]
    except FileNotFoundError:
        return ()
    except (OSError, ValueError, KeyError, TypeError):
        raise Problem(
            f"The shop's rack, {path}, can't be read.", where=str(path), hint="Move it away to begin a new one."
        ) from None
    return _sorted(r for r in rests if r.length > 0)


def write_rack(rests: Iterable[Rest]) -> tuple[Rest, ...]:
    """Keep what is on the rack now; as it is read again."""
    kept = _sorted(rests)[:MOST]
    body = {
        "format": FORMAT,
        "version": VERSION,
        "offcuts": [{"section": r.section, "length_mm": round(r.length, 2)} for r in kept],
    }
    rack_file().parent.mkdir(parents=True, exist_ok=True)
    write_atomically(rack_file(), json.dumps(body, indent=1).encode("utf-8"))
    return kept


def without(rack: Sequence[Rest], gone: Iterable[Rest]) -> tuple[Rest, ...]:
    """A rack without some of its offcuts; those that are not on it are left out."""
    left = list(rack)
    for rest in gone:
        found = next((r for r in left if r.section == rest.section and abs(r.length - rest.length) < SAME_MM), None)
        if found:
            left.remove(found)
    return tuple(left)


def _sorted(rests: Iterable[Rest]) -> tuple[Rest, ...]:
    return tuple(sorted(rests, key=lambda r: (r.section, -r.length)))
