"""Lines as a builder types them."""

import re
from collections.abc import Iterator

import pytest
from pydantic import ValidationError

from ironcage.core.job import edits
from ironcage.core.job.store.file import from_text, to_text
from ironcage.core.job.store.history import History
from ironcage.core.job.store.journal import applied, changes
from ironcage.core.job.text import COMMANDS, Command, Done, refused, understand
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.told import plain
from ironcage.units import said
from tests.core.answers.run.test_fork import FRAME
from tests.core.lines import typed
from tests.reading import in_inches, metric_in

INCH = 25.4


def test_a_small_frame_from_typed_lines_alone() -> None:
    job = typed(
        Job(),
        "joint 0 250 300",
        'joint -600, 12 3/8", 300',
        "tube J1L J2L 38 x 2",
        "split 200 from J2L",
        "z+25",
        "x -150",
        "wheels front 0 650 290 dia 580 width 165",
        "mass 84 kg Engine at -900 0 430",
        "name Sanderling",
    )
    assert job.joint("J2L").y == pytest.approx(12.375 * INCH)
    assert job.joint("J3L").place == pytest.approx((-150, job.joint("J3L").y, 325))
    assert job.joint("J3R").z == 325
    assert [t.id for t in job.tubes] == ["T1L", "T2L", "T1R", "T2R"]
    assert job.section("38 x 2").shape.od_mm == 38
    assert job.masses[0].name == "Engine"
    assert job.wheels[1].y == -650
    assert job.brief.name == "Sanderling"


def test_readings_from_a_datum(box: Job) -> None:
    job = typed(box, "datum firewall at -1000 0 100")
    assert typed(job, "x 50 from firewall", chosen=("J1L",)).joint("J1L").x == -950
    assert typed(job, 'r 45 1/2" from firewall', chosen=("J1L",)).joint("J1L").x == pytest.approx(-1000 - 45.5 * INCH)
    shown = typed(job, "datum firewall")
    assert typed(shown, "z 10 x -5", chosen=("J1R",)).joint("J1L").place == (-1005, 300, 110)
    assert typed(shown, "units inch", "x 1 1/2", chosen=("J1L",)).joint("J1L").x == pytest.approx(-1000 + 1.5 * INCH)


def test_stock_of_the_builders_own(box: Job) -> None:
    job = typed(box, "stock Hoop = 45 x 2.5", "stock Shop steel = e 205000 g 80000 density 7,850 yield 400 welded 320")
    made = typed(typed(job, "section hoop", chosen=("T1L",)), "material shop", chosen=("T1L",)).tube("T1R")
    assert (made.section, made.material) == ("Hoop", "Shop steel")
    assert job.material("Shop steel").as_welded_yield == 320
    with pytest.raises(Problem, match="Shop steel still needs g, yield"):
        typed(box, "stock Shop steel = e 205000 density 7850 welded 320")
    with pytest.raises(Problem, match=r"A material has no ‘yeld’. The nearest is yield"):
        typed(box, "stock Shop steel = e 205000 yeld 3")


def test_names_alone_choose(box: Job) -> None:
    done = understand("j1l T2R", box)
    assert done.chosen == ("J1L", "T2R")
    assert done.job is box


def demand_undoable(job: Job, made: Done) -> None:
    """An edit can be undone and done again, survives its file, and its journal line makes the same job of the one
    before."""
    history = History.start(job).done(made.name, made.job)
    assert history.undone().job is job
    assert history.undone().redone().job is made.job
    assert from_text(to_text(made.job), "a job") == made.job
    if made.job is not job:
        assert Job.model_validate(applied(job.model_dump(mode="json"), changes(job, made.job))) == made.job


def examples(demo: Job) -> Iterator[tuple[Command, Job, str, tuple[str, ...]]]:
    """Every command, and a job, a line and a choice for it: its example, with names and places that are in the job."""
    joints, tubes = ("J1L", "J2L"), ("T9L",)
    units = units_of(demo)

    def does(job: Job, *lines: str) -> Job:
        return typed(job, *(units.say(said.example(line)) for line in lines))

    job = does(
        demo.but(wheels=()),
        "die [38] clr [114]",
        "joint [900] [300] [300]",
        "joint [1400] [300] [300]",
        "tube J32L J33L [60] x [40] x [2]",
        "joint [1200] [300] [100]",
        "joint [1200] [300] [500]",
        "tube J34L J35L",
        "joint [1000] [300] [300]",
        "joint [900] [100] [900] alone",
        "joint [900] [-100] [900] alone",
    )
    chosen = {
        **dict.fromkeys(
            ("split", "section", "material", "role", "roll", "sequence", "pin", "bend", "taper", "donor", "copy"), tubes
        ),
        "laser": tubes,
        "fork": (),
        "through": ("J30L", "T9L"),
        "scale": ("I35",),
        "set": ("D32",),
        **dict.fromkeys(("three", "hole", "align", "drop"), ("B24",)),
        "use": ("D33", "B29"),
        **dict.fromkeys(("kick", "jog"), ("T9L",)),
        "land": ("T11L",),
        "lower": ("T74L",),
        **dict.fromkeys(("tie", "untie", "slide", "x", "r"), ("J5L",)),
        **dict.fromkeys(("turn", "mass"), ("J13",)),
        "cross": ("T74L", "T75L"),
        "meet": ("T74L",),
        "add": ("J1L", "T1L", "T2L"),
        "pair": tuple(j.id for j in job.joints[-2:]),
        "mirror": (job.joints[-1].id,),
        "merge": ("J23", "J24"),
        "pickup": ("J14L",),
    }
    instead = {  # of examples that would not fit this frame
        "tube": "tube J1L J5R [38] x [2]",
        "split": "split [100] from J30L",
        "sever": "sever at [-600] keep ahead",
        "stretch": "stretch behind [-265] by [150]",
        "meet": "meet J36L",
        "corner": "corner front lower J4L J8L upper J5L J9L spring J5L",
        "axle": "axle rear lower J26L upper J27L rod J26R",
        "arm": "arm rear axis J25L J26L",
        "beam": "beam rear",
        "welded": "welded T1L J17L",
        "open": "open T1L J17L",
        "slide": "slide [20] along J5L J2L",
        "align": "align level B25",
        "tick": "tick R15 isolator left of the wheel",
        "land": f"land {job.tube('T11L').a} z[-20]",
    }
    for command in COMMANDS:
        if command.word == "fit":
            continue  # needs a scan: tests/core/exchange/test_incoming.py
        at = {
            "sever": lambda: typed(job, "donor", chosen=("T34",)),
            "untie": lambda: typed(job, "tie to J2L", chosen=("J5L",)),
            "tyre": lambda: demo,
            "rake": lambda: demo,
            "corner": lambda: demo,
            "fork": lambda: typed(Job(), *FRAME),
            **dict.fromkeys(("axle", "arm", "beam", "carrier"), lambda: demo.but(arms=())),
            "scale": lambda: edits.add_picture(job, "Donor", f"{'0' * 32}.png", 3000.0, 1000.0),
            "done": lambda: typed(job, "todo Mount the engine"),
            "arrived": lambda: typed(job, "order Sprocket; due tomorrow"),
            "adapter": lambda: typed(job, "pattern Hub 5 on 100 dia 12.5", "pattern Motor 4 on 60 dia 8"),
            "lay": lambda: edits.put_line(job, "roof", "y", 150.0),
        }.get(command.word, lambda: job)()
        line = said.example(instead.get(command.word, command.example)).replace("between J1L", "40% between J1L")
        yield command, at, units.say(line), chosen.get(command.word, joints)


def test_every_commands_own_example_is_understood(sandpiper: Job) -> None:
    for command, job, line, target in examples(sandpiper):
        made = understand(line, job, target)
        assert made.name, command.word
        demand_undoable(job, made)


def test_an_inch_job_is_shown_and_understands_every_example_in_inches_and_pounds(sandpiper: Job) -> None:
    job = in_inches(sandpiper)
    units = units_of(job)
    for command in COMMANDS:
        assert metric_in(units.say(f"{command.example}\n{command.says}")) == []
    for command, at, line, target in examples(job):
        made = understand(line, at, target)
        assert metric_in(made.name) == [], command.word


def spoilt(line: str) -> Iterator[str]:
    """Ways in which a line is typed wrong: cut short, and each figure of it missing, nothing, below nothing, huge."""
    words = line.split()
    yield from (" ".join(words[:n]) for n in range(1, len(words)))
    for figure in re.finditer(r"(?<![A-Za-z\d.])\d[\d.]*", line):
        for instead in ("x", "0", "-3", "0.02", "9000", "4e7"):
            yield line[: figure.start()] + instead + line[figure.end() :]


def what_is_said(line: str, job: Job, target: tuple[str, ...]) -> str:
    """What a builder reads of a line that they type: what it would do, or why it can't be done."""
    try:
        return understand(line, job, target).name
    except ValidationError as error:
        return str(refused(error, line).read_in(units_of(job)))
    except Problem as problem:
        return str(problem.read_in(units_of(job)))


def test_no_refusal_of_an_inch_job_speaks_metric(sandpiper: Job) -> None:
    spoken = {
        wrong: what_is_said(wrong, at, target)
        for _, at, line, target in examples(in_inches(sandpiper))
        for wrong in spoilt(line)
    }
    assert len(set(spoken.values())) > 300
    assert {wrong: words for wrong, words in spoken.items() if metric_in(words)} == {}


@pytest.mark.parametrize(
    ("line", "chosen", "says"),
    [
        ("jiont 0 1 2", (), "‘jiont’ is not a command. The nearest is joint."),
        ("z+25", (), "This needs a joint, and none is chosen."),
        ("z+25 mn", ("J1L",), "‘mn’"),
        ("joint 1 2", (), "is not a place"),
        ("joint 0 250 2e6", (), "gives z 2000000.0 mm, but"),
        ("section 30 x 20", ("T1L",), "over half its size"),
        ("section walnut", ("T1L",), "is not a section"),
        ("material adamant", ("T1L",), "There is no material ‘adamant’"),
        ("role raill", ("T1L",), "The nearest is rail"),
        ("split 150%", ("T1L",), "outside its length"),
        ("split 9 from J4L", ("T1L",), "does not end at J4L. It ends at J1L and J2L."),
        ("tube J1L", (), "J1L alone makes no tube"),
        ("x 5 from frewall", ("J1L",), "no datum ‘frewall’"),
        ("table legs 4", (), "The table has no ‘legs’"),
        ("wheels front 0 650", (), "are incomplete"),
        ("mass -3 Ghost at 0 0 0", (), "must weigh something"),
        ("units furlong", (), "is not a choice of units"),
        ("pin third", ("T1L",), "is no end"),
        ("", (), "Nothing was typed"),
    ],
)
def test_a_line_that_is_not_understood_says_why_in_one_line(
    line: str, chosen: tuple[str, ...], says: str, box: Job
) -> None:
    with pytest.raises(Problem) as caught:
        understand(line, box, chosen)
    assert says in str(caught.value)
    assert "\n" not in str(caught.value)


def test_a_column_line_tells_its_joints_and_changes_nothing() -> None:
    line = "column -900 300 620; -560 300 520; -300 220 330; -120 160 250"
    done = understand(line, Job())
    assert done.job == Job()
    told = plain(done.name)
    assert told.startswith("Column: joints bent 24.0°, 12.1°; parts 354.4 mm, 331.8 mm, 205.9 mm; ")
    assert " with its second yokes turned " in told
    with pytest.raises(Problem, match="3 to 8 places"):
        understand("column 0 0 0; 100 0 0", Job())
