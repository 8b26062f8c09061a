"""The one kind of failure that is a person's business rather than a bug."""

import difflib
from collections.abc import Iterable

MOST_LETTERS = 400


class Problem(Exception):
    """Something typed, opened or asked for can't be done; its text is one clear sentence.

    `where` names the culprit (a joint, a field, a file), `hint` the nearest right thing; both may be
    empty. Anything raised that is not a Problem is a bug.
    """

    def __init__(self, what: str, *, where: str = "", hint: str = "") -> None:
        self.what, self.where, self.hint = _short(what), where, _short(hint)
        super().__init__(f"{self.what} {self.hint}".strip())


def _short(text: str) -> str:
    """A text on one line, its middle left out where it is longer than anybody reads, as when what was typed or read
    is told back."""
    text = " ".join(text.split("\n")).replace("\r", "")
    return text if len(text) <= MOST_LETTERS else f"{text[: MOST_LETTERS // 2]} … {text[-MOST_LETTERS // 3 :]}"


def nearest(word: str, known: Iterable[str]) -> str:
    """A hint that names the known word closest to a mistyped one; empty when none is close."""
    close = difflib.get_close_matches(word[:MOST_LETTERS], list(known), n=1, cutoff=0.4)
    return f"The nearest is {close[0]}." if close else ""
