"""Examples in metric lines told in inches and pounds, against what each command declares of its own example."""

import pytest

from ironcage.core.job.text import COMMANDS, Command
from ironcage.core.job.text.examples import in_units
from ironcage.units import METRIC
from ironcage.units.shown import IMPERIAL

NOTES = ("variant",)  # its example has a figure in words of the builder's, which nobody converts


@pytest.mark.parametrize("command", [c for c in COMMANDS if c.word not in NOTES], ids=lambda c: c.word)
def test_a_metric_example_becomes_what_the_command_declares_in_inches(command: Command) -> None:
    assert in_units(IMPERIAL, METRIC.say(command.example)) == IMPERIAL.say(command.example)
    assert in_units(METRIC, METRIC.say(command.example)) == METRIC.say(command.example)


@pytest.mark.parametrize(
    ("piece", "told"),
    [
        ("z+25", "z+1"),
        ("pedals x+40", "pedals x+1.5"),
        ("place tank 14 at …", "place tank 14 at …"),  # litres
        ("person Tall men 95 at …", "person Tall men 95 at …"),  # of hundred
        ("copy 3 times x-300", "copy 3 times x-12"),
        ("bolt M10 through 50 wall 3 lean 12", "bolt M10 through 2 wall 0.12 lean 12"),
        ("J21L z-16 kN y-4 kN", "J21L z-3600 lbf y-900 lbf"),
        ("set contents 10.5 kg", "set contents 23 lb"),
        ("570 by 165", "22 by 6.5"),
        ("12 ga", "12 ga"),
        ("tie 40% between J1L J4L", "tie 40% between J1L J4L"),
        ("T12L·2", "T12L·2"),
        ("…", "…"),
    ],
)
def test_pieces_of_lines_are_told_too_and_counts_and_names_stay(piece: str, told: str) -> None:
    assert in_units(IMPERIAL, piece) == told
