"""`iron-cage pocket`: a quick sum on the command line, or the window of all of them."""

from ironcage.core.answers.pocket import SUMS, Sum, find_sum, read, work_out
from ironcage.core.answers.pocket.sum import both
from ironcage.problem import Problem, nearest
from ironcage.units import METRIC


def listed() -> str:
    """Every sum with what it is for and what it asks."""
    return "".join(f"{s.name:<16}{s.says}: {', '.join(a.name for a in s.asks)}\n" for s in SUMS)


def worked_out(words: list[str]) -> str:
    """What a sum tells of figures typed as NAME=VALUE; what is left out is as usual. Raises Problem for an unknown sum
    or figure."""
    names = [w for w in words if "=" not in w]
    made = find_sum(" ".join(names))
    typed = dict(_figure(made, word) for word in words if "=" in word)
    values = read(made, typed, METRIC)
    lines = [f"{made.name}: {made.says}", *(f"  {a.name} {a.quantity.show(METRIC, values[a.name])}" for a in made.asks)]
    lines += [f"  = {t.name}: {' = '.join(dict.fromkeys(both(t)))}" for t in work_out(made, values)]
    return "\n".join([*lines, f"  {made.formula}"]) + "\n"


def _figure(made: Sum, word: str) -> tuple[str, str]:
    name, _, value = word.partition("=")
    known = [a.name for a in made.asks]
    name = name.strip().lower().replace("_", " ")
    if name not in known:
        raise Problem(
            f"{made.name.capitalize()} asks for no ‘{name}’.",
            where=word,
            hint=nearest(name, known) or f"It asks for {', '.join(known)}.",
        )
    return name, value
