"""The page of Prove, a module a list. Start with `page`; a new list is a `tab` and a line in LATER there."""

from ironcage.desk.pages.prove.page import ProvePage

__all__ = ["ProvePage"]
