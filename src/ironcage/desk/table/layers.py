"""What is painted over the picture, each kind on a clear sheet of its own that is laid over picture after picture
until it changes."""

from collections.abc import Callable

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QImage, QPainter


class Layer:
    """One such sheet."""

    def __init__(self) -> None:
        self._sheet = QImage()
        self._key: object = None

    def drop(self) -> None:
        """Forget it: what it shows has changed."""
        self._key = None

    @property
    def there(self) -> bool:
        """Whether it has been painted since it was dropped."""
        return self._key is not None

    def sheet(
        self,
        key: object,
        size: QSize,
        ratio: float,
        draw: Callable[[QPainter], None],
        *,
        over: QImage | None = None,
        smooth: bool = True,
    ) -> QImage:
        """The sheet of a size in pixels of the widget, `ratio` pixels of the screen for each; painted again for another
        `key`, which says all that it depends on.

        It starts as another sheet where it lies `over` that. Edges are smoothed, which takes two to six times as long,
        or not.
        """
        if key == self._key:
            return self._sheet
        self._key = key
        whole = QSize(round(size.width() * ratio), round(size.height() * ratio))
        if self._sheet.size() != whole or self._sheet.devicePixelRatio() != ratio:
            self._sheet = QImage(whole, QImage.Format.Format_ARGB32_Premultiplied)
            self._sheet.setDevicePixelRatio(ratio)
        if over is None:
            self._sheet.fill(0)
        painter = QPainter(self._sheet)
        if over is not None:
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
            painter.drawImage(0, 0, over)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, smooth)
        draw(painter)
        painter.end()
        return self._sheet
