"""Text for a terminal: names in a job may hold anything, and a terminal must not obey them."""

import re

_CONTROL = re.compile(r"[\x00-\x08\x0b-\x1f\x7f-\x9f]")


def plain_text(text: str) -> str:
    """A text with its control characters written out; lines and tabs stay."""
    return _CONTROL.sub(lambda found: f"\\x{ord(found[0]):02x}", text)
