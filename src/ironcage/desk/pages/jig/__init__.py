"""The page of Jig: stands, the table, diagonals. Start with `page`."""

from ironcage.desk.pages.jig.page import JigPage

__all__ = ["JigPage"]
