"""The page of Weld: states of ends, orders of welds, the order of putting in. Start with `page`."""

from ironcage.desk.pages.weld.page import WeldPage

__all__ = ["WeldPage"]
