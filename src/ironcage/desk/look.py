"""Colours and type: layout paper, bare steel, red-oxide primer, layout-fluid blue, chalk white."""

from dataclasses import dataclass
from functools import cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette

TEXT = "B612"  # one family for all: its figures are of one width


@dataclass(frozen=True)
class Look:
    """The colours of one light. ink, quiet, oxide and blue stand on paper, steel and chalk at 4.5:1 or more."""

    name: str
    paper: str  # what everything lies on
    steel: str  # raised parts, headers, buttons
    chalk: str  # the table, fields and lists
    ink: str
    quiet: str
    oxide: str  # wrong, hot
    blue: str  # chosen, measured
    blue_paper: str  # behind chosen rows
    line: str
    tube: str  # a tube on the table
    tube_hot: str  # the end of the ramp for results
    kraft: str  # a part on the table
    leather: str  # a person
    rubber: str  # a tyre, a chain


LIGHT = Look(
    "light",
    paper="#ece6d9",
    steel="#dcd8ce",
    chalk="#f8f5ee",
    ink="#24211c",
    quiet="#5b5549",
    oxide="#92301d",
    blue="#1d4a86",
    blue_paper="#cddcf0",
    line="#b3ac9c",
    tube="#99958c",
    tube_hot="#a02a12",
    kraft="#cdb98f",
    leather="#b08968",
    rubber="#6f6a63",
)
DARK = Look(
    "dark",
    paper="#262421",
    steel="#35322e",
    chalk="#1c1a18",
    ink="#efe9db",
    quiet="#b8b0a0",
    oxide="#ff9a7f",
    blue="#9cc4f5",
    blue_paper="#2b4058",
    line="#57524a",
    tube="#8d8a83",
    tube_hot="#ff6a45",
    kraft="#857654",
    leather="#8f6b4c",
    rubber="#55504a",
)


def rgb(colour: str) -> tuple[int, int, int]:
    """Red, green and blue of `#rrggbb`."""
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


def ramp(look: Look, shares: NDArray[np.float64]) -> NDArray[np.uint8]:
    """Colours (n, 3) on the single-hue ramp from bare steel to red oxide, for shares 0 to 1."""
    low, high = np.array(rgb(look.tube)), np.array(rgb(look.tube_hot))
    return (low + np.clip(shares, 0, 1)[:, None] * (high - low)).astype(np.uint8)


@cache
def load_fonts() -> None:
    """Register the fonts that ship in the package, once."""
    for file in Path(__file__).with_name("fonts").glob("*.otf"):
        QFontDatabase.addApplicationFontFromData(file.read_bytes())


def text_font(points: float, *, bold: bool = False) -> QFont:
    """The family that ships with the program; columns of its figures line up."""
    font = QFont(TEXT)
    font.setPointSizeF(points)
    font.setBold(bold)
    return font


def palette(look: Look) -> QPalette:
    """Qt's colours in this look."""
    roles = QPalette.ColorRole
    made = QPalette()
    for role, colour in (
        (roles.Window, look.paper),
        (roles.WindowText, look.ink),
        (roles.Base, look.chalk),
        (roles.AlternateBase, look.paper),
        (roles.Text, look.ink),
        (roles.Button, look.steel),
        (roles.ButtonText, look.ink),
        (roles.Highlight, look.blue_paper),
        (roles.HighlightedText, look.ink),
        (roles.ToolTipBase, look.chalk),
        (roles.ToolTipText, look.ink),
        (roles.PlaceholderText, look.quiet),
        (roles.Link, look.blue),
    ):
        made.setColor(role, QColor(colour))
    for role in (roles.WindowText, roles.Text, roles.ButtonText):
        made.setColor(QPalette.ColorGroup.Disabled, role, QColor(look.quiet))
    return made


def style(look: Look) -> str:
    """The style sheet of the whole window."""
    return f"""
    QLabel, QPushButton, QLineEdit, QTabBar, QHeaderView, QMenu {{ font-family: "{TEXT}"; }}
    QMainWindow, QDialog, QWidget#paper {{ background: {look.paper}; }}
    QWidget#steel {{ background: {look.steel}; }}
    QLabel#quiet, QLabel#hint {{ color: {look.quiet}; }}
    QLabel#refused {{ color: {look.oxide}; font-weight: bold; }}
    QLabel#head {{ font-weight: bold; }}
    QLineEdit, QComboBox, QTextBrowser {{ background: {look.chalk}; border: 1px solid {look.line}; padding: 4px 6px;
        selection-background-color: {look.blue_paper}; selection-color: {look.ink}; }}
    QLineEdit:focus {{ border: 2px solid {look.blue}; padding: 3px 5px; }}
    QPushButton {{ background: {look.steel}; border: 1px solid {look.line}; padding: 5px 10px; }}
    QPushButton:hover {{ border-color: {look.ink}; }}
    QPushButton:focus {{ border: 2px solid {look.blue}; padding: 4px 9px; }}
    QPushButton:checked {{ background: {look.blue_paper}; border: 2px solid {look.blue}; padding: 4px 9px; }}
    QPushButton:disabled {{ color: {look.quiet}; }}
    QPushButton#step {{
        text-align: left; background: transparent; border: none; border-left: 5px solid transparent; padding: 8px 6px;
    }}
    QPushButton#step:checked {{ background: {look.chalk}; border-left: 5px solid {look.blue}; font-weight: bold; }}
    QPushButton#step:focus {{ border: 1px solid {look.blue}; border-left: 5px solid {look.blue}; }}
    QPushButton::menu-indicator {{ subcontrol-position: right center; right: 8px; }}
    QPushButton#menu {{ padding-right: 24px; }}
    QPushButton#plain {{ background: transparent; border: none; text-align: left; padding: 3px 4px; }}
    QPushButton#plain:hover {{ text-decoration: underline; }}
    QPushButton#plain:focus {{ border: 1px solid {look.blue}; }}
    QTableView {{ background: {look.chalk}; alternate-background-color: {look.paper}; border: 1px solid {look.line};
        gridline-color: {look.line}; selection-background-color: {look.blue_paper}; selection-color: {look.ink}; }}
    QHeaderView::section {{
        background: {look.steel}; border: none; border-bottom: 1px solid {look.line}; padding: 3px 6px;
        font-weight: bold;
    }}
    QTableCornerButton::section {{ background: {look.steel}; border: none; }}
    QTabBar::tab {{ background: {look.steel}; padding: 5px 9px; border: 1px solid {look.line}; border-bottom: none; }}
    QTabBar::tab:selected {{ background: {look.chalk}; font-weight: bold; }}
    QTabWidget::pane {{ border: none; }}
    QMenu {{ background: {look.chalk}; border: 1px solid {look.line}; }}
    QMenu::item {{ padding: 5px 22px; }}
    QMenu::item:selected {{ background: {look.blue_paper}; }}
    QMenu::item:disabled {{ color: {look.quiet}; }}
    QSplitter::handle {{ background: {look.line}; }}
    QToolTip {{ background: {look.chalk}; color: {look.ink}; border: 1px solid {look.line}; padding: 4px; }}
    QSlider::groove:horizontal {{ height: 4px; background: {look.line}; }}
    QSlider::handle:horizontal {{ width: 16px; margin: -7px 0; background: {look.blue}; }}
    QFrame#card {{ background: {look.chalk}; border: 1px solid {look.ink}; }}
    """
