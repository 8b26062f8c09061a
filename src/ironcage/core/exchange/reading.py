"""Reading what comes from elsewhere: the bytes of a plain file, and drawings through a library that fails in many
ways."""

from __future__ import annotations

import io
import logging
import stat
from pathlib import Path
from typing import Any

from ironcage.problem import Problem


def bytes_of(path: Path, most: int) -> bytes:
    """What a plain file holds. Raises Problem for one that is not there, no plain file, or larger than `most`."""
    try:
        held = path.stat()
        if not stat.S_ISREG(held.st_mode):
            raise Problem(f"{path} is no plain file.", where=path.name)
        if held.st_size > most:
            raise Problem(
                f"{path.name} is {held.st_size / 2**20:.0f} MB; the most is {most / 2**20:.0f} MB.",
                where=path.name,
                hint="Make it smaller first.",
            )
        with path.open("rb") as stream:
            return stream.read(most + 1)
    except FileNotFoundError:
        raise Problem(f"There is no file {path}.", where=path.name) from None
    except (OSError, ValueError) as error:  # a name with a null byte is a ValueError
        raise Problem(
            f"{path.name} cannot be read: {getattr(error, 'strerror', None) or error}.", where=path.name
        ) from None


class _Counting(logging.Handler):
    """Counts what a library says of a file instead of printing it."""

    count = 0

    def emit(self, record: logging.LogRecord) -> None:
        self.count += 1


def drawing_of(data: bytes, name: str) -> tuple[Any, int]:
    """A DXF drawing, mended as far as it can be, and how many things in it were spoilt. Raises Problem for what is
    none."""
    from ezdxf import recover

    said, library = _Counting(logging.WARNING), logging.getLogger("ezdxf")
    heard = library.propagate
    library.addHandler(said)
    library.propagate = False
    try:
        drawing, auditor = recover.read(io.BytesIO(data))
        drawing.modelspace()
    except Exception:
        raise Problem(f"{name} is not a DXF drawing that can be read.", where=name) from None
    finally:
        library.removeHandler(said)
        library.propagate = heard
    return drawing, said.count + len(auditor.errors)


def mended_words(count: int) -> str:
    """What to say of a drawing that had to be mended; nothing where it was whole."""
    return f" The file is spoilt in {count} places, which were guessed: check what came." if count else ""
