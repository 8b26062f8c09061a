"""The page of Place: parts, people, clashes, drives. Start with `page`; `words` puts its answers in words."""

from ironcage.desk.pages.place.page import PlacePage

__all__ = ["PlacePage"]
