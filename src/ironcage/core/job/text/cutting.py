"""Commands about pieces: which are cut, what they measure, what is allowed."""

import re
from typing import get_args

from ironcage.core.job import edits
from ironcage.core.job.text.command import Chosen, Command, Done
from ironcage.core.job.text.days import split_day
from ironcage.core.job.values.cutting import WORKS, FlatHole, FlatPart, PieceState, TurnedPart
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem, nearest
from ironcage.units import Units, said, typed

PIECE_EXAMPLE = said.example("piece T12L checked [804.2]")
_STATES: tuple[PieceState, ...] = get_args(PieceState)
_ALLOWED = ("within", "gap", "root")


def piece(job: Job, chosen: Chosen, rest: str) -> Done:
    """Say how far pieces are: `piece T12L cut`, `piece T12L checked 804.2` with what it measures over its longest
    points, `piece T12L rejected: too short`, `piece T12L open` to be cut again; `piece within 0.5` and `piece gap 1`
    say how far off one may be, `piece root 1` what gap is left for the weld, `piece minutes cope 9` and
    `piece rate 45` what cutting takes here. Without a name it is the chosen tubes."""
    text, why = (part.strip() for part in (*rest.split(":", 1), "")[:2])
    text, day = split_day(text)
    if why:
        why, day = split_day(why)
    words = text.split()
    if words and words[0].lower() in _ALLOWED:
        size = units_of(job).read_length(" ".join(words[1:]))
        name = words[0].lower()
        return Done(f"Pieces: {name} {units_of(job).fine(size)}", edits.set_cutting(job, **{name: size}), chosen)
    if words and words[0].lower() in ("minutes", "rate"):
        return _time(job, chosen, words)
    at = next((n for n, w in enumerate(words) if w.lower() in _STATES), None)
    if at is None:
        odd = next((w for w in words if w.upper() not in job.tube_by_id), "piece")
        raise Problem(
            f"‘{odd}’ is neither a tube nor a state of a piece.",
            where=odd,
            hint=nearest(odd.lower(), _STATES) or f"Write for example: {PIECE_EXAMPLE}. States: {', '.join(_STATES)}.",
        )
    names = tuple(w for word in words[:at] if (w := word.strip(",").upper())) or tuple(
        c for c in chosen if c in job.tube_by_id
    )
    state = next(s for s in _STATES if s == words[at].lower())
    length, why = _measured(job, " ".join(words[at + 1 :]), state, why)
    made = edits.set_pieces(job, names, state, day, length, why)
    whose = names[0] if len(names) == 1 else f"{len(names)} pieces"
    measured = f", {units_of(job).length(length)} long" if length else ""
    return Done(f"{whose} {'is' if len(names) == 1 else 'are'} {state}{measured}", made, chosen)


def _time(job: Job, chosen: Chosen, words: list[str]) -> Done:
    """How long a kind of work takes, `minutes cope 9`, or what an hour costs, `rate 45`."""
    if words[0].lower() == "rate":
        rate = typed.number(" ".join(words[1:]))
        return Done(f"An hour of cutting costs {rate:g}", edits.set_cutting(job, rate=rate), chosen)
    kind = words[1].lower() if len(words) > 1 else ""
    work = next((w for w in WORKS if w == kind), None)
    if work is None:
        raise Problem(
            f"‘{kind or 'minutes'}’ is no work on a piece.",
            where="minutes",
            hint=f"There is {', '.join(WORKS)}. Write for example: piece minutes cope 9",
        )
    minutes = typed.number(" ".join(words[2:]))
    return Done(f"{work}: {minutes:g} minutes", edits.set_minutes(job, work, minutes), chosen)


def _measured(job: Job, text: str, state: str, why: str) -> tuple[float, str]:
    """The length and the reason that stand after a state."""
    if not text:
        return 0.0, why
    if state == "rejected" and not re.match(r"[\d.]", text):
        return 0.0, why or text
    length = units_of(job).read_length(text)
    if length <= 0:
        raise Problem(f"‘{text}’ is not the length of a piece.", where=text, hint=f"Write for example: {PIECE_EXAMPLE}")
    return length, why


_TURNED = re.compile(r"\b(od|step|over|bore|length|count|of)\b", re.IGNORECASE)
_KINDS = re.compile(r"^(bush|spacer|adapter|pin)(?:es|s)?\b\s*", re.IGNORECASE)
_FITS = re.compile(r"\s+(press|push|slide|free)$", re.IGNORECASE)
TURNED_EXAMPLE = said.example("turned bush Arm bush od [25] press bore [12] reamed length [45] count 4")


def turned(job: Job, chosen: Chosen, rest: str) -> Done:
    """Put something to turn on the list: `turned bush NAME od 25 press bore 12 reamed length 45 count 4`; `turned
    adapter NAME od 29.2 step 28.2 over 40 length 80` for two wall sizes; `turned NAME gone` takes it off."""
    if rest.strip().lower().endswith(" gone"):
        name = rest.strip()[:-5].strip()
        return Done(f"Take {name} off the lathe", edits.remove_turned(job, name), chosen)
    called, *told = _TURNED.split(rest.strip())
    said_of = {told[n].lower(): told[n + 1].strip(" ,") for n in range(0, len(told), 2)}
    if not {"od", "length"} <= set(said_of):
        raise Problem("The part to turn is incomplete.", where=rest, hint=f"Write for example: {TURNED_EXAMPLE}")
    units = units_of(job)
    kind = _KINDS.match(called)
    fit = _FITS.search(said_of["od"])
    bore, reamed, _ = said_of.get("bore", "").partition("reamed")

    def length(name: str) -> float:
        return units.read_length(said_of[name]) if said_of.get(name) else 0.0

    part = TurnedPart(
        name=_KINDS.sub("", called).strip(" ,") or (kind[1].capitalize() if kind else "Bush"),
        kind=kind[1].lower() if kind else "bush",
        od=units.read_length(_FITS.sub("", said_of["od"])),
        od_fit=fit[1].lower() if fit else "",
        bore=units.read_length(bore) if bore.strip() else 0.0,
        reamed=bool(reamed),
        length=length("length"),
        step_od=length("step"),
        step_length=length("over"),
        count=int(typed.number(said_of.get("count", "1"))),
        material=said_of.get("of", ""),
    )
    return Done(f"Turn {part.name}, {part.count} off", edits.put_turned(job, part), chosen)


_FLAT = re.compile(r"\b(holes|thickness|count|handed|of)\b", re.IGNORECASE)
_HOLE = re.compile(r"^(?P<x>\S+?)[,\s]+(?P<y>\S+)\s+dia\s+(?P<dia>.+?)(?:\s+nut\s+(?P<nut>\S+))?$", re.IGNORECASE)
FLAT_EXAMPLE = said.example(
    "flat Bracket [0] [0]; [80] [0]; [80] [40]; [0] [40] holes [15] [20] dia [8]; [65] [20] dia [8] nut M8 "
    "thickness [4] count 2"
)


def flat(job: Job, chosen: Chosen, rest: str) -> Done:
    """Put a part cut from sheet on the list by its corners and holes; `handed` for as many mirrored; `flat NAME gone`
    takes it off."""
    if rest.strip().lower().endswith(" gone"):
        name = rest.strip()[:-5].strip()
        return Done(f"Take {name} off the list", edits.remove_flat(job, name), chosen)
    called, *told = _FLAT.split(rest.strip())
    said_of = {told[n].lower(): told[n + 1].strip(" ,") for n in range(0, len(told), 2)}
    begin = re.search(r"(?:^|\s)-?[\d.]", called)
    if begin is None or "thickness" not in said_of:
        raise Problem("The flat part is incomplete.", where=rest, hint=f"Write for example: {FLAT_EXAMPLE}")
    units = units_of(job)
    corners = [_pair(units, corner, rest) for corner in called[begin.start() :].split(";")]
    holes = []
    for hole in filter(None, (h.strip() for h in said_of.get("holes", "").split(";"))):
        match = _HOLE.match(hole)
        if match is None:
            raise Problem(
                f"‘{hole}’ is no hole.", where=hole, hint=said.example("Write for example: [15] [20] dia [8] nut M8")
            )
        x, y, dia = (units.read_length(match[n]) for n in ("x", "y", "dia"))
        holes.append(FlatHole(x=x, y=y, diameter=dia, nut=match["nut"] or ""))
    part = FlatPart(
        name=called[: begin.start()].strip(" ,") or "Flat",
        outline=tuple(corners),
        holes=tuple(holes),
        thickness=units.read_length(said_of["thickness"]),
        count=int(typed.number(said_of.get("count", "1"))),
        handed="handed" in said_of,
        material=said_of.get("of", ""),
    )
    return Done(f"Cut {part.name} from sheet, {part.count} off", edits.put_flat(job, part), chosen)


def _pair(units: Units, text: str, whole: str) -> tuple[float, float]:
    """A corner's x and y."""
    words = [w for w in re.split(r"[,\s]+", text.strip()) if w]
    if len(words) != 2:
        raise Problem(
            f"‘{text.strip()}’ is no corner: it has an x and a y.",
            where=whole,
            hint=f"Write for example: {FLAT_EXAMPLE}",
        )
    return units.read_length(words[0]), units.read_length(words[1])


COMMANDS = (
    Command(
        "flat",
        FLAT_EXAMPLE,
        "puts a part cut from sheet on the list by its corners, holes and weld nuts; ‘gone’ takes it off",
        flat,
    ),
    Command(
        "turned",
        TURNED_EXAMPLE,
        "puts a bush, spacer, adapter or pin on the list for the lathe, with its fits; ‘gone’ takes it off",
        turned,
    ),
    Command(
        "piece",
        PIECE_EXAMPLE,
        "a piece is cut, checked, rejected (: why) or open again, with what it measures over its longest points; "
        "‘within’ and ‘gap’: how far off one may be; ‘root’: the gap left for the weld",
        piece,
    ),
)
