"""The one kind of failure that is a person's business rather than a bug."""

import difflib
from collections.abc import Iterable
from typing import Protocol, Self

from ironcage.told import plain

MOST_LETTERS = 400


class Writer(Protocol):
    """The units that somebody reads in."""

    def say(self, text: str) -> str:
        """A text with its quantities in these units."""


class Problem(Exception):
    """Something typed, opened or asked for can't be done; its text is one clear sentence.

    `where` names the culprit (a joint, a field, a file), `hint` the nearest right thing; both may be
    empty. Quantities in `what` and `hint` are marks (`ironcage.told`): `read_in` writes them in the reader's
    units, and `str` in metric. Anything raised that is not a Problem is a bug.
    """

    def __init__(self, what: str, *, where: str = "", hint: str = "") -> None:
        self.what, self.where, self.hint = _short(what), where, _short(hint)
        super().__init__(f"{self.what} {self.hint}".strip())

    def read_in(self, units: Writer) -> Self:
        """The same refusal with its quantities written in the reader's units."""
        made = type(self).__new__(type(self), *self.args)  # as copy.copy would call the constructor with the sentence
        made.__dict__.update(self.__dict__)
        made.what, made.hint = units.say(self.what), units.say(self.hint)
        return made

    @property
    def sentence(self) -> str:
        """What is wrong and the hint, with the marks of quantities, for a sentence that is read later."""
        return f"{self.what} {self.hint}".strip()

    def __str__(self) -> str:
        return plain(self.sentence)


def _short(text: str) -> str:
    """A text on one line, its middle left out where it is longer than anybody reads, as when what was typed or read
    is told back."""
    text = " ".join(text.split("\n")).replace("\r", "")
    if len(plain(text)) <= MOST_LETTERS:
        return text
    return f"{plain(text)[: MOST_LETTERS // 2]} … {plain(text)[-MOST_LETTERS // 3 :]}"


def nearest(word: str, known: Iterable[str], least: float = 0.4) -> str:
    """A hint that names the known word closest to a mistyped one; empty when none is as close as `least`, 0 to 1."""
    close = difflib.get_close_matches(word[:MOST_LETTERS], list(known), n=1, cutoff=least)
    return f"The nearest is {close[0]}." if close else ""
