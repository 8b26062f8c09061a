"""What must not stand in anything that the builder of an inch and pound job reads."""

import re

from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job

# a figure or a heading in millimetres, kilograms and what is made of them; data sheets of materials are in MPa and
# kg/m³ for everybody, and the names of sections are the builder's own
_METRIC = re.compile(r"(?<![A-Za-z_/])(mm|kg|N·m|kN|N/mm)(?![A-Za-z/³²_])")
_MARKS = re.compile("[\ue000-\ue002]")
# lists of the units that a figure may be typed in
_UNITS_TOLD = re.compile(r"74 kg or 163 lb|Known are mm,[\w, ]+|is not a unit of \w+\. The nearest is \w+")


def in_inches(job: Job) -> Job:
    """The same job, counted in inches and pounds."""
    return understand("units inch 1/16 lb", job).job


def metric_in(text: str) -> list[str]:
    """The lines of a text that still speak metric, or that hold a quantity which nobody wrote out."""
    text = _UNITS_TOLD.sub("", text)
    return [line for line in text.splitlines() if _METRIC.search(line) or _MARKS.search(line)]
