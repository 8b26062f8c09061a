"""Commands on what is bought and sawn: bars, saw, plates, offcut."""

import re

from ironcage.core.job import edits
from ironcage.core.job.shelf.library import section_called
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.text.forms import read_number
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import said

BARS_EXAMPLE = said.example("bars [6000] [7500]")
SAW_EXAMPLE = said.example("saw kerf [2] grip [60] least [300]")
OFFCUT_EXAMPLE = said.example("offcut [1450] of 38 x 2 round")
PLATES_EXAMPLE = said.example("plates [2000] x [1000] gap [6] edge [10]")
_SAW = ("kerf", "grip", "least")


def bars(job: Job, chosen: Chosen, rest: str) -> Done:
    """Say in which lengths bars are on sale: all, or those of a section (`for 38 x 2 round`); `usual` takes it back."""
    text, _, name = rest.partition(" for ")
    section = section_called(job, name).name if name.strip() else ""
    whose = f"{section} is" if section else "Bars are"
    if text.strip().lower() == "usual":
        return Done(f"{whose} on sale as usual", edits.set_bars(job, (), section), chosen)
    words = [word for word in re.split(r"[\s;]+", text.replace(",", " ").strip()) if word]
    if not words:
        raise Problem(
            "The lengths of the bars are missing.",
            where="bars",
            hint=said.example(f"Write for example: {BARS_EXAMPLE}"),
        )
    units = units_of(job)
    lengths = [units.read_length(word) for word in words]
    if short := next((word for word, length in zip(words, lengths, strict=True) if length <= 0), ""):
        raise Problem(f"‘{short}’ is not the length of a bar.", where=short, hint=f"Write for example: {BARS_EXAMPLE}")
    told = " or ".join(units.length(length) for length in sorted(set(lengths)))
    return Done(f"{whose} on sale in {told}", edits.set_bars(job, lengths, section), chosen)


def saw(job: Job, chosen: Chosen, rest: str) -> Done:
    """Say what a cut takes (kerf), what is lost of each bar (grip) and the shortest rest that is kept (least)."""
    found = re.findall(r"([a-z]+)\s+(.+?)(?=\s+[a-z]+\s+[\d.]|$)", rest.strip(), re.IGNORECASE)
    if not found:
        raise Problem("What the saw takes is missing.", where="saw", hint=f"Write for example: {SAW_EXAMPLE}")
    units, changes = units_of(job), dict[str, float]()
    for word, size in found:
        if word.lower() not in _SAW:
            raise Problem(
                f"A saw has no ‘{word}’.", where=word, hint=nearest(word.lower(), _SAW) or f"It has {', '.join(_SAW)}."
            )
        changes[word.lower()] = units.read_length(size)
    told = ", ".join(f"{word} {units.length(size)}" for word, size in changes.items())
    return Done(f"Saw with {told}", edits.set_buying(job, **changes), chosen)


def plates(job: Job, chosen: Chosen, rest: str) -> Done:
    """Say in which size sheet is bought, the gap between plates on it and the edge along its rim."""
    found = re.fullmatch(
        r"(?P<width>.+?)\s*[x×]\s*(?P<height>.+?)(?:\s+gap\s+(?P<gap>.+?))?(?:\s+edge\s+(?P<edge>.+?))?",
        rest.strip(),
        re.IGNORECASE,
    )
    if not found:
        raise Problem("The size of the sheet is missing.", where="plates", hint=f"Write for example: {PLATES_EXAMPLE}")
    units = units_of(job)
    sides = sorted((units.read_length(found[side]) for side in ("width", "height")), reverse=True)
    if sides[1] <= 0:
        raise Problem("A sheet needs two sides.", where="plates", hint=f"Write for example: {PLATES_EXAMPLE}")
    changes = {f"sheet_{w}": units.read_length(found[w]) for w in ("gap", "edge") if found[w]}
    made = edits.set_buying(job, sheet=(sides[0], sides[1]), **changes)
    return Done(f"Sheet is {units.length(sides[0])} x {units.length(sides[1])}", made, chosen)


def cars(job: Job, chosen: Chosen, rest: str) -> Done:
    """Say for how many cars of this frame bars are bought."""
    count = read_number(int, "cars", rest.strip() or "none")
    return Done(f"Bars for {count} car{'s' if count > 1 else ''}", edits.set_buying(job, cars=count), chosen)


def offcut(job: Job, chosen: Chosen, rest: str) -> Done:
    """Put an offcut on the rack (`1450 of 38 x 2 round`), or take one off it (`K1 gone`)."""
    text = rest.strip()
    if gone := re.fullmatch(r"(\w+)\s+gone", text, re.IGNORECASE):
        return Done(f"Take {gone[1].upper()} off the rack", edits.remove_offcut(job, gone[1]), chosen)
    size, _, name = text.partition(" of ")
    if not name.strip():
        raise Problem(
            "The length and the section of the offcut are missing.",
            where="offcut",
            hint=f"Write for example: {OFFCUT_EXAMPLE}",
        )
    units = units_of(job)
    section, length = section_called(job, name).name, units.read_length(size)
    return Done(f"Put {units.length(length)} of {section} on the rack", edits.add_offcut(job, section, length), chosen)


COMMANDS = (
    Command("bars", BARS_EXAMPLE, "sets the lengths in which bars are sold; ‘for’ and a section: of that alone", bars),
    Command(
        "saw",
        SAW_EXAMPLE,
        "sets the kerf of a cut, what the grip loses of each bar, and the shortest rest that is kept",
        saw,
    ),
    Command("cars", "cars 3", "sets how many cars of this frame the bars are bought for and laid out together", cars),
    Command(
        "plates",
        PLATES_EXAMPLE,
        "sets the size of the sheet that is bought for plates, the gap between them and the edge",
        plates,
    ),
    Command(
        "offcut", OFFCUT_EXAMPLE, "puts an offcut on the rack, to be used first; ‘K1 gone’ takes one off it", offcut
    ),
)
