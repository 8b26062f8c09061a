"""Run the measurements and print them beside what is wanted."""

import os
import platform
import sys
from importlib import import_module

from ironcage.problem import Problem, nearest

PARTS = (
    "solving",
    "proving",
    "framing",
    "placing",
    "running",
    "cutting",
    "building",
    "scanning",
    "window",
    "redraw",
    "starting",
)


def run(parts: list[str]) -> int:
    """Print a line a figure; exit code 1 when one does not hold."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    for part in parts:
        if part not in PARTS:
            raise Problem(
                f"There is no measurement ‘{part}’.",
                where=part,
                hint=nearest(part, PARTS) or f"There are {', '.join(PARTS)}.",
            )
    sys.stdout.write(f"Python {platform.python_version()}, {os.cpu_count()} processors\n")
    held = True
    for part in parts or PARTS:
        for line in import_module(f"ironcage.bench.{part}").run():
            held = held and line.holds
            sys.stdout.write(
                f"{'holds ' if line.holds else 'MISSES'}  {line.what}: {line.measured} (wanted: {line.wanted})\n"
            )
            sys.stdout.flush()
    return 0 if held else 1
