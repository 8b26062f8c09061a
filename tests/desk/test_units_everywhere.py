"""A job in inches and pounds says nothing in millimetres and kilograms, on any list of any step."""

from collections.abc import Iterator

import pytest
from PyQt6.QtWidgets import QAbstractButton, QLabel, QLineEdit, QTabWidget, QWidget

from ironcage.desk.pages import STEPS
from ironcage.desk.widgets.grid import Grid
from ironcage.samples import SAMPLES, sample
from tests.reading import in_inches, metric_in


def words_on(widget: QWidget) -> Iterator[str]:
    """Everything that a person can read on a part of the window, what is said where the pointer rests included."""
    for kind in (QLabel, QAbstractButton, QLineEdit):
        for part in widget.findChildren(kind):
            yield part.text()
            yield part.toolTip()
            yield part.accessibleName()
    for field in widget.findChildren(QLineEdit):
        yield field.placeholderText()
    for grid in widget.findChildren(Grid):
        for column in grid.model.columns:
            yield column.heading
            yield column.hint
            yield from (column.text(row) for row in grid.model.rows)
    for button in widget.findChildren(QAbstractButton):
        menu = button.menu() if hasattr(button, "menu") else None
        yield from (action.text() for action in menu.actions()) if menu else ()


@pytest.mark.parametrize("name", sorted(SAMPLES))
def test_no_list_of_an_inch_job_speaks_metric(name: str, drive) -> None:
    job = in_inches(sample(name))
    drive.start(job)
    window, found = drive.window, set()
    own_words = {rule.clause for rule in job.rules.rules}
    for step in STEPS:
        window.go(step.id)
        drive.settle()
        tabs = window.page.findChild(QTabWidget)
        for at in range(tabs.count()) if tabs else [0]:
            if tabs:
                tabs.setCurrentIndex(at)
                drive.settle()
            read = [text for text in words_on(window) if text not in own_words]
            read += [line for card in window.page.cards() for line in (card.title, card.number, *card.lines)]
            found |= set(metric_in("\n".join(read)))
    assert sorted(found) == []
