"""The page of Run: points, travel and steer, curves. Start with `page`; `quantities` lists what can be looked at."""

from ironcage.desk.pages.run.page import RunPage

__all__ = ["RunPage"]
