"""Days as they are typed: `2027-04-10`, `today`, `yesterday`, `in 3 weeks`."""

import re
from datetime import date, timedelta

from ironcage.problem import Problem

_NEAR = {"today": 0, "yesterday": -1, "tomorrow": 1}
_FROM_NOW = re.compile(r"^in\s+(?P<count>\d{1,4})\s+(?P<unit>day|week)s?$")


def read_day(text: str, today: date | None = None) -> date:
    """The day that was typed. Refuses what is none."""
    words, now = text.strip().lower(), today or date.today()
    if words in _NEAR:
        return now + timedelta(days=_NEAR[words])
    from_now = _FROM_NOW.match(words)
    if from_now:
        return now + timedelta(days=int(from_now["count"]) * (7 if from_now["unit"] == "week" else 1))
    try:
        return date.fromisoformat(words)
    except ValueError:
        raise Problem(
            f"‘{text.strip()}’ is not a day.",
            where=text,
            hint="Write year, month and day, 2027-04-10, or today, yesterday, in 3 weeks.",
        ) from None


_ON = re.compile(r"^(?P<rest>.*\S)\s+on\s+(?P<day>\d{4}-\d{2}-\d{2}|today|yesterday)\s*$", re.IGNORECASE)


def split_day(text: str) -> tuple[str, date]:
    """What was typed before ` on 2027-04-10`, and that day; today where none is named."""
    dated = _ON.match(text)
    return (dated["rest"], read_day(dated["day"])) if dated else (text, date.today())
