"""The page of Cut: pieces and templates. Start with `page`."""

from ironcage.desk.pages.cut.page import CutPage

__all__ = ["CutPage"]
