"""What Gingham remembers between runs, in one INI file, written at every change."""

from __future__ import annotations

from collections.abc import Container
from contextlib import suppress
from pathlib import Path

from PySide6.QtCore import QByteArray, QSettings


class Settings:
    """Typed access to the settings file; where none can be kept, they last as long as the window."""

    def __init__(self, path: Path) -> None:
        with suppress(OSError):  # something else stands there, or the disk can only be read
            path.parent.mkdir(parents=True, exist_ok=True)
        self._store = QSettings(str(path), QSettings.Format.IniFormat)

    def flag(self, name: str, default: bool) -> bool:
        """An on/off setting."""
        return str(self._store.value(name, default)).lower() in ("true", "1")

    def set_flag(self, name: str, value: bool) -> None:
        """Remember an on/off setting."""
        self._set(name, value)

    def text(self, name: str, default: str) -> str:
        """A text setting."""
        return str(self._store.value(name, default))

    def choice(self, name: str, known: Container[str], default: str) -> str:
        """A text setting that has to be one of the `known` ones; `default` otherwise."""
        value = self.text(name, default)
        return value if value in known else default

    def set_text(self, name: str, value: str) -> None:
        """Remember a text."""
        self._set(name, value)

    def geometry(self) -> QByteArray | None:
        """Where the window was."""
        value = self._store.value("geometry")
        return value if isinstance(value, QByteArray) else None

    def set_geometry(self, value: QByteArray) -> None:
        """Remember where the window is."""
        self._set("geometry", value)

    def _set(self, name: str, value: object) -> None:
        """To disk at once: a kill a moment later must not undo what the player has switched."""
        if self._store.value(name) != value:
            self._store.setValue(name, value)
            self._store.sync()

    @property
    def kept(self) -> bool:
        """Whether they reach the disk."""
        return self._store.status() == QSettings.Status.NoError and self._store.isWritable()
