"""Iron Cage: the shop computer of a builder of tube and space-frame chassis.

Start reading at `docs/architecture.md`; the code's own order is units, core (calc, job, answers,
exchange), samples, desk and cli, each layer knowing only those before it.
"""

__version__ = "0.1.0"
