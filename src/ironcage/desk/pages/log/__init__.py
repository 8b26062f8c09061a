"""The Log page. Start in `page`; the page of one day is written in `daypage`."""

from ironcage.desk.pages.log.page import LogPage

__all__ = ["LogPage"]
