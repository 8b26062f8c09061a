"""The tray: one page a step. A page asks one question of the core, shows the answer, and decorates the table.

A new step is a module with a `Page` and a line in PAGES; the window, the route card and the keys follow.
"""

from ironcage.desk.pages.cut import CutPage
from ironcage.desk.pages.frame import FramePage
from ironcage.desk.pages.jig import JigPage
from ironcage.desk.pages.page import Page
from ironcage.desk.pages.prove import ProvePage

PAGES: tuple[type[Page], ...] = (FramePage, ProvePage, CutPage, JigPage)
