"""What Gingham remembers between runs, in one INI file."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QByteArray, QSettings


class Settings:
    """Typed access to the settings file."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self._store = QSettings(str(path), QSettings.Format.IniFormat)

    def flag(self, name: str, default: bool) -> bool:
        """An on/off setting."""
        return str(self._store.value(name, default)).lower() in ("true", "1")

    def set_flag(self, name: str, value: bool) -> None:
        """Remember an on/off setting."""
        self._store.setValue(name, value)

    def text(self, name: str, default: str) -> str:
        """A text setting."""
        return str(self._store.value(name, default))

    def set_text(self, name: str, value: str) -> None:
        """Remember a text."""
        self._store.setValue(name, value)

    def geometry(self) -> QByteArray | None:
        """Where the window was."""
        value = self._store.value("geometry")
        return value if isinstance(value, QByteArray) else None

    def set_geometry(self, value: QByteArray) -> None:
        """Remember where the window is."""
        self._store.setValue("geometry", value)

    def sync(self) -> None:
        """Write to disk now."""
        self._store.sync()
