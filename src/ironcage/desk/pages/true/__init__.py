"""The page of True: readings, where the joints stand, how the frame is measured. Start with `page`."""

from ironcage.desk.pages.true.page import TruePage

__all__ = ["TruePage"]
