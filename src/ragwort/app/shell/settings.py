"""What the window remembers between runs: its size, the last studies, the theme, explanations."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QByteArray, QSettings

MOST_RECENT = 8


class Remembered:
    """Settings in the user's configuration folder (or any QSettings, for tests)."""

    def __init__(self, store: QSettings | None = None) -> None:
        self._store = store if store is not None else QSettings("ragwort", "ragwort")

    @property
    def geometry(self) -> QByteArray | None:
        """The window's size and place."""
        stored = self._store.value("window/geometry")
        return stored if isinstance(stored, QByteArray) else None

    @geometry.setter
    def geometry(self, geometry: QByteArray) -> None:
        self._store.setValue("window/geometry", geometry)

    @property
    def theme(self) -> str:
        """`light`, `dark`, or `desktop` for what the desktop asks for."""
        return str(self._store.value("theme", "desktop"))

    @theme.setter
    def theme(self, name: str) -> None:
        self._store.setValue("theme", name)

    @property
    def explaining(self) -> bool:
        """Whether explanations are shown."""
        return str(self._store.value("explaining", "true")) == "true"

    @explaining.setter
    def explaining(self, explaining: bool) -> None:
        self._store.setValue("explaining", "true" if explaining else "false")

    @property
    def recent(self) -> list[Path]:
        """The last studies that still exist, newest first."""
        stored = self._store.value("recent", [])
        names = [stored] if isinstance(stored, str) else list(stored or [])
        return [Path(name) for name in names if Path(name).exists()]

    def remember(self, path: Path) -> None:
        """Put a study on top of the recent ones."""
        names = [str(path.resolve()), *(str(old) for old in self.recent if old != path.resolve())]
        self._store.setValue("recent", names[:MOST_RECENT])
