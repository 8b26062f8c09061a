"""`python -m tests.fuzz SECONDS SEED`: spoilt files, lines and questions by the thousand; whatever comes must end in a
result or a refusal in one sentence.

Every input is made by lot from good ones (files of every kind that comes in, demo jobs, journals, typed lines,
calculators' questions), so a seed gives the same inputs again. What ends in anything but a Problem is printed with its
input, and the exit code is 1.
"""

from __future__ import annotations

import io
import json
import random
import re
import sys
import tempfile
import time
import traceback
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import numpy as np
from pydantic import ValidationError

from ironcage.cli.answers import ANSWERS
from ironcage.cli.calc import CALCULATORS
from ironcage.cli.shown import as_text
from ironcage.core.exchange.incoming import INCOMING
from ironcage.core.exchange.points import to_points_dxf
from ironcage.core.exchange.share import to_shelf_json
from ironcage.core.exchange.wireframe import to_frame_dxf
from ironcage.core.job.store import file
from ironcage.core.job.store.journal import Journal, replayed
from ironcage.core.job.text import COMMANDS, understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import SAMPLES, sample
from tests.core.job.edits import walk

LONGEST = 500  # letters of a refusal
SLOW_S = 20.0  # one input may take no longer
ODD = [
    "0",
    "-1",
    "1e308",
    "-1e-308",
    "nan",
    "inf",
    "1" * 20,
    '"',
    "'",
    "\\",
    "\0",
    "\x1b[31m",
    "é",
    "\u2028",
    "=1+1",
    "{}",
    "[]",
    "null",
    "true",
    "J1L",
    "T1L",
    "B1",
    "½",
    "١",
    "\r",
    "\n",
    ",",
    ";",
]
NUMBER = re.compile(r"-?\d+(?:\.\d+)?(?:e-?\d+)?")


@dataclass(frozen=True)
class Kind:
    """Something to spoil. goods: good ones; take: what the program does with one."""

    name: str
    goods: Callable[[], list[bytes]]
    take: Callable[[bytes, Path], object]


def spoilt(data: bytes, rng: random.Random) -> bytes:
    """A good input with a few things wrong: bytes flipped, pieces cut out, doubled or swapped, numbers and words
    changed."""
    for _ in range(rng.choice((1, 1, 1, 2, 3, 8))):
        if not data:
            return data
        at, to = sorted(rng.randrange(len(data) + 1) for _ in range(2))
        to = min(to, at + rng.choice((1, 4, 40, 400, len(data))))
        match rng.randrange(8):
            case 0:
                data = data[:at] + bytes([rng.randrange(256)]) + data[at + 1 :]
            case 1:
                data = data[:at] + data[to:]
            case 2:
                data = data[:to] + data[at:to] * rng.choice((1, 1, 5)) + data[to:]
            case 3:
                data = data[:at]
            case 4:
                data = data[:at] + rng.choice(ODD).encode("utf-8", "surrogatepass") + data[at:]
            case 5 | 6:
                data = _changed(data, rng, NUMBER)
            case 7:
                data = _changed(data, rng, re.compile(r"[A-Za-z_]{2,}"))
    return data[: 2**20]


def _changed(data: bytes, rng: random.Random, what: re.Pattern[str]) -> bytes:
    """One number or word exchanged for an odd one, or for another of the input."""
    text = data.decode("latin-1")
    start = rng.randrange(len(text))
    found = what.search(text, start) or what.search(text)
    if found is None:
        return data
    other = what.search(text, rng.randrange(len(text)))
    new = rng.choice(ODD) if other is None or rng.random() < 0.6 else other[0]
    return data[: found.start()] + new.encode("utf-8", "surrogatepass") + data[found.end() :]


@cache
def jobs() -> tuple[Job, ...]:
    """The demo jobs, and a small frame."""
    return (
        *(sample(name) for name in SAMPLES),
        understand("box 900 500 400", Job()).job if "box" in {c.word for c in COMMANDS} else sample("skerry"),
    )


def _of_file(data: bytes, folder: Path) -> object:
    path = folder / "job.cage"
    path.write_bytes(data)
    job = file.opened(path).job
    if len(job.tubes) < 40:  # and what was read can be looked at
        return [as_text(say(job)) for say in ANSWERS.values()]
    return file.to_text(job)


def _of_journal(data: bytes, folder: Path) -> object:
    path = folder / "1-1.journal"
    path.write_bytes(data)
    return replayed(path)


def _coming(name: str, ending: str) -> Callable[[bytes, Path], object]:
    kind = next(k for k in INCOMING if k.name == name)

    def take(data: bytes, folder: Path) -> object:
        path = folder / f"in{ending}"
        path.write_bytes(data)
        read = kind.read(path, lambda share: None)
        made = []
        for unit in (read.unit,) if read.unit else ("mm", "m"):
            try:
                made.append(kind.bring(sample("skerry"), read, unit))
            except ValidationError:  # the window and the command line tell these in words, as they do a typed line's
                continue
        return made

    return take


def _typed(data: bytes, folder: Path) -> object:
    job, chosen = jobs()[len(data) % len(jobs())], ("J1L", "T1L", "B1")[len(data) % 3 :]
    for line in data.decode("utf-8", "replace").split("\n")[:3]:
        done = understand(line, job, chosen)
        job, chosen = done.job, done.chosen
    return file.from_text(file.to_text(job))


def _asked(data: bytes, folder: Path) -> object:
    name, _, question = data.decode("utf-8", "replace").partition(" ")
    if name not in CALCULATORS:
        name = sorted(CALCULATORS)[len(data) % len(CALCULATORS)]
    return json.dumps(CALCULATORS[name](question), allow_nan=False)


def _questions() -> list[bytes]:
    """Every example in the calculators' docs."""
    text = (Path(__file__).parents[1] / "docs" / "calculators.md").read_text("utf-8")
    found = re.findall(r"echo '(\{.*?\})' \| ./iron-cage calc (\w+)", text, re.DOTALL)
    return [f"{name} {' '.join(question.split())}".encode() for question, name in found]


def _lines() -> list[bytes]:
    """Every command's own example, and every line in the docs."""
    text = (Path(__file__).parents[1] / "docs" / "typed-lines.md").read_text("utf-8")
    return [c.example.encode() for c in COMMANDS] + [line.encode() for line in re.findall(r"`([^`]+)`", text)]


def _meshes(ending: str) -> Callable[[], list[bytes]]:
    points = np.array([[0, 0, 0], [100, 0, 0], [0, 100, 0], [0, 0, 100]], dtype=np.float32)
    faces = [(0, 2, 1), (0, 1, 3), (0, 3, 2), (1, 2, 3)]

    def stl() -> list[bytes]:
        rows = b"".join(np.zeros(3, "<f4").tobytes() + points[list(f)].astype("<f4").tobytes() + b"\0\0" for f in faces)
        text = (
            "solid t\n"
            + "".join(
                "facet normal 0 0 1\nouter loop\n"
                + "".join(f"vertex {x} {y} {z}\n" for x, y, z in points[list(f)])
                + "endloop\nendfacet\n"
                for f in faces
            )
            + "endsolid t\n"
        )
        return [b"\0" * 80 + len(faces).to_bytes(4, "little") + rows, text.encode()]

    def obj() -> list[bytes]:
        return [
            (
                "".join(f"v {x} {y} {z}\n" for x, y, z in points)
                + "".join(f"f {a + 1}/1 {b + 1} {c + 1}//2\n" for a, b, c in faces)
                + "f 1 2 3 4\nf -1 -2 -3\n"
            ).encode()
        ]

    def ply() -> list[bytes]:
        head = (
            "ply\nformat {} 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\n"
            "element face 4\nproperty list uchar int vertex_indices\nend_header\n"
        )
        text = (
            head.format("ascii")
            + "".join(f"{x} {y} {z}\n" for x, y, z in points)
            + "".join(f"3 {a} {b} {c}\n" for a, b, c in faces)
        )
        body = points.astype("<f4").tobytes() + b"".join(b"\x03" + np.array(f, "<i4").tobytes() for f in faces)
        return [text.encode(), head.format("binary_little_endian").encode() + body]

    return {".stl": stl, ".obj": obj, ".ply": ply}[ending]


def _journals() -> list[bytes]:
    with tempfile.TemporaryDirectory() as folder:
        rng, job = random.Random(1), sample("skerry")
        journal = Journal(Path(folder), job, Path("/shop/skerry.cage"))
        for _ in range(12):
            made = walk.step(job, rng)
            if made:
                job = made.job
                journal.record(job)
        journal.close(discard=False)
        return [journal.path.read_bytes()]


def _pictures() -> list[bytes]:
    from PIL import Image

    made = []
    for kind in ("PNG", "JPEG"):
        stream = io.BytesIO()
        Image.new("RGB", (40, 30), "white").save(stream, kind)
        made.append(stream.getvalue())
    return made


def _small() -> list[bytes]:
    return [file.to_text(jobs()[-1]).encode(), file.to_text(sample("skerry")).encode()]


KINDS: tuple[Kind, ...] = (
    Kind("job", _small, _of_file),
    Kind("journal", _journals, _of_journal),
    Kind("line", _lines, _typed),
    Kind("calc", _questions, _asked),
    Kind("frame dxf", lambda: [to_frame_dxf(sample("skerry"))], _coming("frame", ".dxf")),
    Kind("points dxf", lambda: [to_points_dxf(sample("skerry"))], _coming("points", ".dxf")),
    Kind(
        "points csv",
        lambda: [b"name,x mm,y mm,z mm\nA,0,250,300\nJ40L,10.5,-20,30\nJ1L,1,2,3\n", b"a;1,5;2;3\r\nb;4;5;6\r\n"],
        _coming("points", ".csv"),
    ),
    Kind("stl", _meshes(".stl"), _coming("scan", ".stl")),
    Kind("obj", _meshes(".obj"), _coming("scan", ".obj")),
    Kind("ply", _meshes(".ply"), _coming("scan", ".ply")),
    Kind("shelf", lambda: [to_shelf_json(sample("fell-litter"))], _coming("shelf", ".json")),
    Kind("picture", _pictures, _coming("picture", ".png")),
)
WEIGHTS = (2, 2, 10, 8, 1, 1, 4, 3, 3, 3, 2, 2)


def end_of(kind: Kind, data: bytes, folder: Path) -> str:
    """How one input ends: "done", "refused", or what went wrong."""
    began = time.monotonic()
    try:
        kind.take(data, folder)
    except Problem as problem:
        said = str(problem)
        if not said or "\n" in said or len(said) > 2 * LONGEST:
            return f"a refusal that is not one sentence: {said[:200]!r}"
        end = "refused"
    except Exception:
        return traceback.format_exc(limit=-4)
    else:
        end = "done"
    return end if time.monotonic() - began < SLOW_S else f"it took {time.monotonic() - began:.0f} s"


def run(seconds: float, seed: int, most: int = 10**9) -> tuple[Counter[str], dict[str, tuple[str, bytes]]]:
    """Try inputs until the time is over: how many ended how, by kind; and one input for each bad end."""
    rng = random.Random(seed)
    goods = {kind.name: kind.goods() for kind in KINDS}
    counts: Counter[str] = Counter()
    bad: dict[str, tuple[str, bytes]] = {}
    stop = time.monotonic() + seconds
    with tempfile.TemporaryDirectory() as folder:
        while time.monotonic() < stop and sum(counts.values()) < most:
            (kind,) = rng.choices(KINDS, WEIGHTS)
            data = spoilt(rng.choice(goods[kind.name]), rng)
            end = end_of(kind, data, Path(folder))
            counts[f"{kind.name}: {end if end in ('done', 'refused') else 'BAD'}"] += 1
            if end not in ("done", "refused"):
                bad.setdefault(f"{kind.name}: {end.strip().splitlines()[-1][:160]}", (end, data))
    return counts, bad


def main(words: list[str]) -> int:
    """Run it from the command line."""
    seconds, seed = float(words[0]) if words else 60.0, int(words[1]) if len(words) > 1 else 1
    counts, bad = run(seconds, seed)
    for name, count in sorted(counts.items()):
        sys.stdout.write(f"{count:8}  {name}\n")
    for name, (end, data) in bad.items():
        sys.stdout.write(f"\n== {name}\n{end}\n   input ({len(data)} bytes): {data[:600]!r}\n")
    sys.stdout.write(f"{sum(counts.values())} inputs, {len(bad)} kinds of bad end\n")
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
