"""The commands, their help, and the one place where a refusal becomes a line on stderr and exit code 2."""

import io
import json
import os
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

from ironcage.cli.shown import plain_text
from ironcage.problem import Problem, nearest

if TYPE_CHECKING:
    from ironcage.core.job.store.file import Opened
    from ironcage.core.job.values.model import Job
    from ironcage.units import Units

OK, FAILING, REFUSED = 0, 1, 2
LAST_PORT = 65_535
MOST_WORDS = 40
JOB_ENDING = ".cage"


@dataclass(frozen=True)
class Verb:
    """A command: its word, how it is called, what it does."""

    word: str
    call: str
    says: str
    run: Callable[[list[str]], int]


def _options(words: list[str], **known: bool) -> tuple[list[str], dict[str, str]]:
    """Split words into plain ones and options; `known` says for each option whether a value follows it."""
    plain: list[str] = []
    found: dict[str, str] = {}
    rest = iter(words)
    for word in rest:
        if not word.startswith("--"):
            plain.append(word)
            continue
        name = word[2:]
        if name not in known:
            raise Problem(f"There is no option ‘{word}’ here.", where=word, hint=nearest(name, known))
        value = next(rest, None) if known[name] else ""
        if value is None:
            raise Problem(f"A value is missing after {word}.", where=word)
        found[name] = value
    return plain, found


def _demand(words: list[str], least: int, most: int, call: str) -> None:
    if not least <= len(words) <= most:
        raise Problem(f"Call it so: iron-cage {call}", where=call.split(maxsplit=1)[0])


def _job(file: str) -> "Opened":
    """A job file as it is opened; what could not be taken up is said on stderr."""
    from ironcage.core.job.store.file import opened

    found = opened(Path(file))
    for sentence in found.said:
        sys.stderr.write(f"iron-cage: {plain_text(sentence)}\n")
    return found


@contextmanager
def _read_in(job: "Job") -> "Iterator[Units]":
    """The units of a job, in which refusals are written from here on."""
    from ironcage.core.job.values.shown import units_of

    units = units_of(job)
    try:
        yield units
    except Problem as problem:
        raise problem.read_in(units) from None


def _open(words: list[str]) -> int:
    from ironcage.desk.app import run

    _demand(words, 0, 1, "open [FILE]")
    return run(file=Path(words[0]) if words else None)


def _demo(words: list[str]) -> int:
    from ironcage.desk.app import run, shot

    plain, options = _options(words, shot=True, step=True, size=True, dark=False)
    _demand(plain, 0, 1, "demo [NAME] [--shot FILE.png] [--step STEP]")
    name, step = plain[0] if plain else "sandpiper", options.get("step", "")
    if "shot" not in options:
        return run(demo=name, step=step)
    return shot(Path(options["shot"]), demo=name, step=step, size=options.get("size", ""), dark="dark" in options)


def _shots(words: list[str]) -> int:
    from ironcage.desk.shots import make, make_all

    plain, options = _options(words, all=False)
    if "all" in options:
        _demand(plain, 1, 1, "shots --all FOLDER")
        return make_all(Path(plain[0]))
    _demand(plain, 0, 1, "shots [--all] [FOLDER]")
    return make(Path(plain[0]) if plain else Path(__file__).parents[3] / "docs" / "screenshots")


def _bench(words: list[str]) -> int:
    from ironcage.bench.main import run

    return run(words)


def _answer(words: list[str]) -> int:
    from ironcage.cli.answers import ANSWERS
    from ironcage.cli.shown import as_text, in_units

    plain, options = _options(words, json=False)
    _demand(plain, 2, 2, "answer STEP FILE [--json]")
    step, file = plain
    if step not in ANSWERS:
        raise Problem(f"There is no step ‘{step}’ to answer.", where=step, hint=f"There are {', '.join(ANSWERS)}.")
    job = _job(file).job
    with _read_in(job) as units:
        said = in_units(ANSWERS[step](job), units)
    sys.stdout.write(json.dumps(said, ensure_ascii=False, indent=1) + "\n" if "json" in options else as_text(said))
    return OK


def _calc(words: list[str]) -> int:
    from ironcage.cli.calc import CALCULATORS

    _demand(words, 1, 2, "calc NAME [IN.json]")
    if words[0] not in CALCULATORS:
        hint = f"{nearest(words[0], CALCULATORS)} There are {', '.join(CALCULATORS)}.".strip()
        raise Problem(f"There is no calculator ‘{words[0]}’.", where=words[0], hint=hint)
    try:
        text = Path(words[1]).read_text("utf-8") if len(words) > 1 else sys.stdin.read()
    except (OSError, UnicodeDecodeError) as error:
        raise Problem(
            f"{words[1]} cannot be read: {getattr(error, 'strerror', '') or 'it is not text'}.", where=words[1]
        ) from None
    result = CALCULATORS[words[0]](text)
    sys.stdout.write(json.dumps(result, ensure_ascii=False, indent=1) + "\n")
    return OK


def _pocket(words: list[str]) -> int:
    if not words:
        from ironcage.desk.app import run_pocket

        return run_pocket()
    from ironcage.cli.pocket import listed, worked_out

    sys.stdout.write(listed() if words == ["list"] else worked_out(words))
    return OK


def _export(words: list[str]) -> int:
    from ironcage.core.exchange.kinds import NAMED, kind
    from ironcage.core.job.store.disk import write_atomically

    call = "export KIND FILE OUT [PAPER or what it is of]"
    _demand(words, 3, 4, call)
    made = kind(words[0])
    if made.takes in NAMED and len(words) < 4:
        which, example = NAMED[made.takes]
        raise Problem(f"{which} Call it so: iron-cage {call}", where=made.takes, hint=example)
    out = Path(words[2])
    over = out.exists() and (out.samefile(words[1]) or out.suffix.lower() == JOB_ENDING)
    if over or (out.suffix.lower() == JOB_ENDING != made.ending):
        raise Problem(
            f"{out} is a job, and {words[0]} would be written over it.",
            where=words[2],
            hint="Name a file that is not there yet."
            if made.ending == JOB_ENDING
            else f"Write for example {out.stem}{made.ending}.",
        )
    job = _job(words[1]).job
    with _read_in(job):
        write_atomically(out, made.make(job, words[3] if len(words) > 3 else ""))
    return OK


def _check(words: list[str]) -> int:
    from ironcage.core.answers import findings

    plain, options = _options(words, json=False)
    _demand(plain, 1, 1, "check FILE [--json]")
    job = _job(plain[0]).job
    with _read_in(job) as units:
        snags = findings.find_snags(job)
    if "json" in options:
        rows = [
            {
                "severity": s.severity,
                "code": s.code,
                "step": s.step,
                "what": units.say(s.what),
                "where": list(s.where),
                "hint": units.say(s.hint),
            }
            for s in snags
        ]
        sys.stdout.write(json.dumps(rows, ensure_ascii=False, indent=1) + "\n")
    else:
        for s in snags:
            sys.stdout.write(plain_text(units.say(f"{s.severity:<8}{s.what} {s.hint}".rstrip())) + "\n")
        sys.stdout.write(f"{len(snags)} snags, {sum(s.severity == 'wrong' for s in snags)} of them wrong\n")
    return FAILING if any(s.severity == "wrong" for s in snags) else OK


def _import(words: list[str]) -> int:
    from pydantic import ValidationError

    from ironcage.core.answers.prove import logged_if_changed
    from ironcage.core.exchange.incoming import UNITS, incoming
    from ironcage.core.job.edits import keep_done
    from ironcage.core.job.store.file import save
    from ironcage.core.job.text import refused

    plain, options = _options(words, unit=True)
    _demand(plain, 3, 3, "import KIND IN FILE [--unit mm]")
    kind, job_file = incoming(plain[0]), Path(plain[2])
    found = _job(plain[2])
    made = kind.read(Path(plain[1]), lambda share: None)
    unit = options.get("unit", made.unit)
    if not unit:
        raise Problem(
            f"{Path(plain[1]).name} does not say what it counts in.",
            where=plain[1],
            hint=f"Its size suggests --unit {made.guess}; there are {', '.join(UNITS)}.",
        )
    try:
        with _read_in(found.job) as units:
            job, said = kind.bring(found.job, made, unit)
    except ValidationError as error:
        raise refused(error, f"Bringing in {Path(plain[1]).name}") from None
    try:
        done = (units.say(said).rstrip("."),)
        job = keep_done(logged_if_changed(job, done, date.today()), done, date.today())
    except Exception:
        sys.stderr.write("iron-cage: the log could not be written; the job was saved without.\n")
    save(job, job_file, expected=found.digest)
    sys.stdout.write(plain_text(units.say(said)) + "\n")
    return OK


def _compare(words: list[str]) -> int:
    from ironcage.cli.answers.changes import say_changes
    from ironcage.cli.shown import as_text, in_units
    from ironcage.core.job.edits.plans import find_variant
    from ironcage.core.job.values.shown import units_of

    plain, options = _options(words, json=False)
    _demand(plain, 2, 2, "compare FILE OTHER [--json]")
    before = _job(plain[0]).job
    after = _job(plain[1]).job if Path(plain[1]).exists() else find_variant(before, plain[1]).job
    said = in_units(say_changes(before, after), units_of(after))
    sys.stdout.write(json.dumps(said, ensure_ascii=False, indent=1) + "\n" if "json" in options else as_text(said))
    return OK


def _write_demo(words: list[str]) -> int:
    from ironcage.core.job.store.file import save
    from ironcage.samples import sample

    _demand(words, 2, 2, "sample NAME OUT.cage")
    save(sample(words[0]), Path(words[1]))
    return OK


def _schema(words: list[str]) -> int:
    from ironcage.core.job.store.file import schema

    _demand(words, 0, 0, "schema")
    sys.stdout.write(json.dumps(schema(), ensure_ascii=False, indent=1) + "\n")
    return OK


def _help(words: list[str]) -> int:
    said = [
        ("[FILE]", "opens the window, with a job"),
        *((verb.call, verb.says) for verb in VERBS),
        ("test", "runs every check (by the launcher)"),
    ]
    wide = max(len(call) for call, _ in said)
    lines = [f"iron-cage {call:<{wide}}  {says}" for call, says in said]
    sys.stdout.write("\n".join(lines) + "\n")
    return OK


def _quote(words: list[str]) -> int:
    from ironcage.cli.answers.cut import say_work
    from ironcage.core.exchange.quoting import ask, order

    _demand(words, 1, 2, "quote FILE [ADDRESS]")
    job = _job(words[0]).job
    said = say_work(job)
    if len(words) > 1:
        with _read_in(job):
            made = ask(words[1], order(job))
        said["sent_out"] = {"price": made.price, "days": made.days, "model": made.model}
    sys.stdout.write(json.dumps(said, indent=1, ensure_ascii=False) + "\n")
    return OK


def _tune(words: list[str]) -> int:
    from ironcage.cli.answers.run import tuned
    from ironcage.core.job.store.file import save

    call = "tune FILE END BOX OUT.cage POINT [POINT …]"
    _demand(words, 5, MOST_WORDS, call)
    job = _job(words[0]).job
    with _read_in(job):
        made, said = tuned(job, words[1], words[2], words[4:], call)
    save(made, Path(words[3]))
    sys.stdout.write(json.dumps(said, indent=1, ensure_ascii=False) + "\n")
    return OK


def _stand_in(words: list[str]) -> int:
    from ironcage.standin.quotes import MODEL, QuoteService

    _demand(words, 1, 2, "stand-in quotes [PORT]")
    if words[0] != "quotes":
        raise Problem(f"There is no stand-in for ‘{words[0]}’.", where=words[0], hint="There is quotes.")
    port = words[1] if len(words) > 1 else "0"
    if not port.isdigit() or int(port) > LAST_PORT:
        raise Problem(f"‘{port}’ is no port.", where=port, hint="Leave it out, and a free one is taken.")
    try:
        service = QuoteService(int(port))
    except OSError as error:
        raise Problem(
            f"Port {port} can't be had: {error.strerror}.", where=port, hint="Leave it out, and a free one is taken."
        ) from None
    sys.stdout.write(f"{service.address}\n{MODEL}\nCtrl+C stops it.\n")
    sys.stdout.flush()
    try:
        service.serve()
    except KeyboardInterrupt:
        sys.stdout.write("\n")
    return OK


VERBS = (
    Verb("open", "open [FILE]", "opens the window, with a job", _open),
    Verb(
        "demo",
        "demo [NAME]",
        "opens a demo job; --shot FILE.png --step STEP [--size WxH] [--dark] takes a picture and leaves",
        _demo,
    ),
    Verb(
        "answer",
        "answer STEP FILE",
        "what a step says: brief, place, run, frame, prove, cut, jig, weld, true or log; --json for scripts",
        _answer,
    ),
    Verb(
        "calc",
        "calc NAME [IN.json]",
        "a calculator on neutral JSON: frame, notch, bend, section, chain, driver, pattern, bolt, mass, survey, "
        "corner, shrink, nest, mitre, fold",
        _calc,
    ),
    Verb("export", "export KIND FILE OUT", "writes a file: see docs/file-kinds.md for the kinds", _export),
    Verb(
        "import",
        "import KIND IN FILE",
        "brings a scan, the lines of a frame, points or a shelf into a job file; --unit mm, cm, inch or m",
        _import,
    ),
    Verb(
        "pocket",
        "pocket [SUM]",
        "quick sums in a window; with a name and NAME=VALUE, worked out here; list lists them",
        _pocket,
    ),
    Verb(
        "quote",
        "quote FILE [ADDRESS]",
        "what cutting the pieces takes here, and what a shop at an address asks for it",
        _quote,
    ),
    Verb(
        "tune",
        "tune FILE END BOX OUT POINT …",
        "moves points of an END, each by at most BOX, so that its figures keep their bands",
        _tune,
    ),
    Verb(
        "stand-in",
        "stand-in quotes [PORT]",
        "a made-up shop on this machine that answers orders with a price and days, until Ctrl+C",
        _stand_in,
    ),
    Verb("check", "check FILE", "every snag; exit code 1 when something is wrong", _check),
    Verb(
        "compare",
        "compare FILE OTHER",
        "what differs from a job to another file, or to a variant kept in it; --json for scripts",
        _compare,
    ),
    Verb("sample", "sample NAME OUT.cage", "writes a demo job as a file", _write_demo),
    Verb("schema", "schema", "the JSON Schema of the job file", _schema),
    Verb(
        "shots",
        "shots [--all] [FOLDER]",
        "makes the pictures in docs/screenshots again; with --all pictures of every list of every step in every demo",
        _shots,
    ),
    Verb("bench", "bench [PART ...]", "measures speed, as ratios in one run", _bench),
    Verb("help", "help", "this list", _help),
)


def main(words: list[str]) -> int:
    """Run one command; the exit code."""
    _streams()
    try:
        code = _run(words)
        sys.stdout.flush()
    except Problem as problem:
        sys.stderr.write(f"iron-cage: {plain_text(str(problem))}\n")
        return REFUSED
    except BrokenPipeError:  # the reader of our output has gone, as `| head` does
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())  # or Python complains of it when it ends
        return OK
    except OSError as error:  # files are spoken of by Problem; what is left is what we write to
        sys.stderr.write(f"iron-cage: what was asked for could not be written: {error.strerror or error}.\n")
        os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
        return REFUSED
    return code


def _streams() -> None:
    """Output that can always be written to: closed streams go nowhere, and a terminal that knows no more than ASCII
    shows what it can."""
    sys.stdout = sys.stdout or open(os.devnull, "w", encoding="utf-8")  # noqa: SIM115 - for as long as the program runs
    sys.stderr = sys.stderr or open(os.devnull, "w", encoding="utf-8")  # noqa: SIM115
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="backslashreplace")


def _run(words: list[str]) -> int:
    by_word = {v.word: v for v in VERBS}
    if not words:
        return _open([])
    if words[0] in ("--help", "-h"):
        return _help([])
    if words[0] in by_word:
        return by_word[words[0]].run(words[1:])
    if "." in words[0] or "/" in words[0]:
        return _open(words)
    raise Problem(
        f"There is no command ‘{words[0]}’.",
        where=words[0],
        hint=nearest(words[0], by_word) or "iron-cage help lists them.",
    )
