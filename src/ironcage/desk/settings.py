"""What is remembered between runs: window, look, type size, recent files."""

from pathlib import Path

from PyQt6.QtCore import QByteArray, QSettings

MOST_RECENT = 8
SCALES = (0.85, 1.0, 1.15, 1.3, 1.5)


class Settings:
    """A small file beside the recovery folder."""

    def __init__(self, folder: Path) -> None:
        self._store = QSettings(str(folder / "window.ini"), QSettings.Format.IniFormat)

    @property
    def dark(self) -> bool:
        """Whether the evening look is on."""
        return str(self._store.value("dark", "false")) == "true"

    @dark.setter
    def dark(self, on: bool) -> None:
        self._store.setValue("dark", "true" if on else "false")

    @property
    def scale(self) -> float:
        """How large type is, 1 as designed."""
        try:
            value = float(self._store.value("scale", 1.0))
        except (TypeError, ValueError):
            return 1.0
        return min(SCALES, key=lambda s: abs(s - value))

    @scale.setter
    def scale(self, value: float) -> None:
        self._store.setValue("scale", value)

    @property
    def geometry(self) -> QByteArray:
        """Where the window was."""
        value = self._store.value("geometry", QByteArray())
        return value if isinstance(value, QByteArray) else QByteArray()

    @geometry.setter
    def geometry(self, value: QByteArray) -> None:
        self._store.setValue("geometry", value)

    def tray(self, step: str) -> float | None:
        """How much of the height the builder gave to a step's lists, None where the step's own share was kept."""
        try:
            share = float(self._store.value(f"tray/{step}", ""))
        except (TypeError, ValueError):
            return None
        return share if 0 < share < 1 else None

    def keep_tray(self, step: str, share: float) -> None:
        """Remember how much of the height a step's lists have."""
        self._store.setValue(f"tray/{step}", share)

    @property
    def shop(self) -> str:
        """The address of the shop that is asked for quotes; empty where none was typed."""
        return str(self._store.value("shop", ""))

    @shop.setter
    def shop(self, address: str) -> None:
        self._store.setValue("shop", address)

    @property
    def recent(self) -> list[Path]:
        """Files that were open, the latest first, those gone left out."""
        stored = self._store.value("recent", [])
        names = [stored] if isinstance(stored, str) else stored or []
        return [p for p in map(Path, names) if p.is_file()]

    def opened(self, path: Path) -> None:
        """Remember a file as the latest."""
        names = [str(path), *(str(p) for p in self.recent if p != path)]
        self._store.setValue("recent", names[:MOST_RECENT])
