"""What Gingham remembers between runs, written at every change: choices, and where things stood."""

from __future__ import annotations

from collections.abc import Container
from contextlib import suppress
from pathlib import Path

from PySide6.QtCore import QByteArray, QSettings

_OF_THE_STATE = ("geometry", "page", "recent-files", "hand-card-shown")
_BEGIN_OF_THE_STATE = ("open-", "folder")


class Settings:
    """Typed access to the settings; where none can be kept, they last as long as the window.

    `state` is a file of its own for where things stood (window, page, open and recent files): none of the
    player's choices, so that these can be copied to another machine. What an older Gingham wrote among the
    choices is read from there until it changes.
    """

    def __init__(self, path: Path, state: Path | None = None) -> None:
        self.put_aside: Path | None = None
        """Where the player's choices are that could not be read."""
        self._store = _ini(path)
        if _is_damaged(self._store):
            self.put_aside = _aside(path)
            self._store = _ini(path)
        self._state = _state(state) if state is not None else self._store

    def flag(self, name: str, default: bool) -> bool:
        """An on/off setting."""
        return str(self._value(name, default)).lower() in ("true", "1")

    def set_flag(self, name: str, value: bool) -> None:
        """Remember an on/off setting."""
        self._set(name, value)

    def text(self, name: str, default: str) -> str:
        """A text setting."""
        return str(self._value(name, default))

    def choice(self, name: str, known: Container[str], default: str) -> str:
        """A text setting that has to be one of the `known` ones; `default` otherwise."""
        value = self.text(name, default)
        return value if value in known else default

    def set_text(self, name: str, value: str) -> None:
        """Remember a text."""
        self._set(name, value)

    def geometry(self) -> QByteArray | None:
        """Where the window was."""
        value = self._value("geometry", None)
        return value if isinstance(value, QByteArray) else None

    def set_geometry(self, value: QByteArray) -> None:
        """Remember where the window is."""
        self._set("geometry", value)

    def _set(self, name: str, value: object) -> None:
        """To disk at once: a kill a moment later must not undo what the player has switched."""
        store = self._store_of(name)
        if store.value(name) != value:
            store.setValue(name, value)
            if store is not self._store:
                self._store.remove(name)  # where an older Gingham had it
                self._store.sync()
            store.sync()

    def _value(self, name: str, default: object) -> object:
        store = self._store_of(name)
        return store.value(name, default) if store.contains(name) else self._store.value(name, default)

    def _store_of(self, name: str) -> QSettings:
        state = name in _OF_THE_STATE or name.startswith(_BEGIN_OF_THE_STATE)
        return self._state if state else self._store

    @property
    def kept(self) -> bool:
        """Whether they reach the disk."""
        return self._store.status() == QSettings.Status.NoError and self._store.isWritable()


def _state(path: Path) -> QSettings:
    """Where things stood: what cannot be read of that is not missed."""
    store = _ini(path)
    if _is_damaged(store) and _aside(path) is not None:
        return _ini(path)
    return store


def _is_damaged(store: QSettings) -> bool:
    store.allKeys()  # only then has all of it been read
    return store.status() == QSettings.Status.FormatError


def _aside(path: Path) -> Path | None:
    """A damaged file gets another name; None where that cannot be."""
    aside = path.with_name(f"{path.name}.damaged")
    try:
        path.replace(aside)
    except OSError:
        return None
    return aside


def _ini(path: Path) -> QSettings:
    with suppress(OSError):  # something else stands there, or the disk can only be read
        path.parent.mkdir(parents=True, exist_ok=True)
    return QSettings(str(path), QSettings.Format.IniFormat)
