"""What a builder types: one line in, one named step out.

`understand` reads a line with the job and what is chosen; the commands are declared in `joints`, `structure`,
`shaping`, `sheet`, `moving`, `naming`, `ties`, `fitting`, `car`, `stock`, `plans`, `placed`, `running`, `shop`,
`buying`, `proving`, `welding`, `truing` and `logbook`, each with an example that help, docs and tests use. May import
`edits` and `units`. All commands are loaded with the first line that is to be understood.
"""

from typing import TYPE_CHECKING

from ironcage.core.job.text.command import Command, Done, refused
from ironcage.core.lazily import exports

if TYPE_CHECKING:
    from ironcage.core.job.text.understanding import COMMANDS, understand
else:
    __getattr__ = exports(__name__, understanding="COMMANDS understand")

__all__ = ["COMMANDS", "Command", "Done", "refused", "understand"]
