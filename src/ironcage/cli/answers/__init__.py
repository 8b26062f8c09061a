"""What each step says, as neutral data for scripts and as text for a terminal: one module a step, listed here.

mm, kg, N·m/deg, degrees.
"""

from collections.abc import Callable
from typing import Any

from ironcage.cli.answers.brief import say_brief
from ironcage.cli.answers.cut import say_cut
from ironcage.cli.answers.frame import say_frame
from ironcage.cli.answers.jig import say_jig
from ironcage.cli.answers.log import say_log
from ironcage.cli.answers.place import say_place
from ironcage.cli.answers.prove import say_prove
from ironcage.cli.answers.run import say_run
from ironcage.cli.answers.true import say_true
from ironcage.cli.answers.weld import say_weld
from ironcage.core.job.values.model import Job

ANSWERS: dict[str, Callable[[Job], dict[str, Any]]] = {
    "brief": say_brief,
    "place": say_place,
    "run": say_run,
    "frame": say_frame,
    "prove": say_prove,
    "cut": say_cut,
    "jig": say_jig,
    "weld": say_weld,
    "true": say_true,
    "log": say_log,
}
