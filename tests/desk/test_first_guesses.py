"""First guesses of people who have read nothing: at least nine in ten are done or led right, and none does anything
else than was meant."""

import re
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt

from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.desk.spoken import wish
from ironcage.problem import Problem
from ironcage.samples import sample
from ironcage.told import plain
from tests.desk.conftest import Driver
from tests.reading import in_inches

GUESSES = Path(__file__).parent / "guesses"
SERVED = 0.9


def outcome(line: str, job: Job, chosen: tuple[str, ...]) -> str:
    """What comes of a line typed at the window: + and what is done, or - and the refusal."""
    try:
        return f"+ {plain(understand(line, job, chosen).name)}"
    except Problem as problem:
        wanted = wish(line)
        return f"+ {wanted.words}" if wanted else f"- {problem}"


def judged(name: str) -> tuple[list[str], list[str], int]:
    """The lines of a file that were not served, those that were misunderstood, and how many there are."""
    jobs = {"new": Job(), "demo": sample("sandpiper"), "inch": in_inches(sample("sandpiper"))}
    rows = [r for r in (GUESSES / name).read_text("utf-8").splitlines() if r and not r.startswith("#")]
    missed, wrong = [], []
    for row in rows:
        job, chosen, line, *wanted = (part.strip() for part in row.split("|", 3))
        came = outcome(line, jobs[job], tuple(chosen.split()))
        right = any(
            came.startswith(sign) and re.search(words.strip(), came, re.IGNORECASE)
            for sign, words in re.findall(r"([+-]) (.+?)(?=\|[+-] |$)", wanted[0])
        )
        if not right:
            missed.append(f"{row}  →  {came}")
            if came.startswith("+"):
                wrong.append(missed[-1])
    return missed, wrong, len(rows)


@pytest.mark.parametrize("name", sorted(p.name for p in GUESSES.glob("*.txt")))
def test_first_guesses_are_done_or_led_right_and_none_is_misunderstood(name: str) -> None:
    missed, wrong, count = judged(name)
    assert not wrong, "\n".join(wrong)
    assert len(missed) <= (1 - SERVED) * count, "\n".join(missed)


def test_the_window_does_what_a_line_asks_of_it(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.session.choose(("J12L",))
    drive.qtbot.keyClicks(window.table, "r")
    drive.qtbot.keyClicks(window.entry.line, "aise 20")
    assert drive.said.startswith("Enter: Move J12L z+20")
    drive.key(Qt.Key.Key_Return, window.entry.line)
    assert window.session.job.joint("J12L").z == sandpiper.joint("J12L").z + 20
    drive.type("undo")
    assert window.session.job == sandpiper
    drive.type("cut list")
    assert window.step == "cut"
    assert window.entry.line.text() == ""
    drive.type("how far is it from J12L to J12R")
    assert drive.said == (
        "J12L to J12R: 860.0 mm as drawn (x 0.0 mm, y -860.0 mm, z 0.0 mm); it is level and heads 90.00° to the right "
        "of ahead."
    )
    assert window.session.job == sandpiper
    drive.type("what next")
    assert window.step == "place"
    drive.type("fold my laundry")
    assert window.entry.said.objectName() == "refused"
    assert window.entry.line.text() == "fold my laundry"
