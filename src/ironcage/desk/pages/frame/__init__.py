"""The page of Frame, a module a list. Start with `page`; a new list is a `tab` and a line in LATER there."""

from ironcage.desk.pages.frame.page import FramePage

__all__ = ["FramePage"]
