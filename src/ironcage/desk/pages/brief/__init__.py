"""The page of Brief: aims, rules and variants. Start with `page`."""

from ironcage.desk.pages.brief.page import BriefPage

__all__ = ["BriefPage"]
