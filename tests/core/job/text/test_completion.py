"""How a line that is begun can go on."""

import pytest

from ironcage.core.job.edits import set_brief
from ironcage.core.job.text import COMMANDS
from ironcage.core.job.text.completion import FORMS, completion
from ironcage.core.job.values.model import Job, UnitChoice
from ironcage.core.job.values.shown import units_of
from ironcage.samples import sample


@pytest.fixture(scope="module")
def sandpiper() -> Job:
    return sample("sandpiper")


@pytest.mark.parametrize(
    ("line", "whole", "others"),
    [
        ("jo", "joint", ("jog",)),
        ("t", "tube", ("through", "taper", "turn", "tie", "table")),
        ("TU", "TUbe", ("turn",)),
        ("T12", "T12L", ("T12R",)),
        ("delete T12", "delete T12L", ("T12R",)),
        ("tube J12L J15", "tube J12L J15L", ("J15R",)),
        ("role ma", "role main hoop", ()),
        ("section 38", "section 38 x 2 round", ()),
        ("sheet s", "sheet single seat", ()),
        ("set ro", "set roll", ()),
    ],
)
def test_a_word_that_is_begun_is_finished_by_what_the_job_and_the_line_know(sandpiper, line, whole, others) -> None:
    found = completion(line, sandpiper)
    assert line + found.adds == whole
    assert found.others[: len(others)] == others


@pytest.mark.parametrize(
    ("line", "fields"),
    [
        ("joint", "x mm, y mm, z mm, (alone)"),
        ("joint 0 250", "z mm, (alone)"),
        ("joint 0, 250,", "z mm, (alone)"),
        ("hoop main 38 height 1000", "width mm, lean °, at x mm, z mm"),
        ("did Hoop", "(of names), (hours h), (cost money)"),
        ("rollstiff front 300", "rear N·m/deg"),
        ("merge", ""),
        ("nonsense 3", ""),
    ],
)
def test_the_fields_that_come_next_are_told_with_their_units(sandpiper, line, fields) -> None:
    assert completion(line, sandpiper).fields == fields
    inches = set_brief(sandpiper, units=UnitChoice(length="inch", mass="lb"))
    assert "mm" not in completion(line, inches).fields
    assert completion("joint 0", inches).fields == "y in, z in, (alone)"
    assert completion("mass", inches).fields.startswith("mass lb")


def test_every_line_that_takes_words_has_a_form_and_no_form_is_of_a_line_that_is_gone(sandpiper) -> None:
    units = units_of(sandpiper)
    bare = {c.word for c in COMMANDS if units.say(c.example) == c.word}
    assert {c.word for c in COMMANDS} - bare <= set(FORMS)
    assert set(FORMS) <= {c.word for c in COMMANDS}


def test_odd_lines_are_taken_as_they_come(sandpiper) -> None:
    for line in ("", "   ", ",", "= ", "joint ,,,,", "tube " * 300, "\N{GREEK SMALL LETTER ALPHA}", "set \\("):
        assert completion(line, sandpiper).others is not None
    assert completion("tube J", Job()).adds == ""
