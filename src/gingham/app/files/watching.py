"""Files that another program changes are noticed, and a piece can be taken from its file again."""

from __future__ import annotations

import os
from pathlib import Path

from PySide6.QtCore import QFileSystemWatcher, QObject, QTimer, Signal

from gingham.app.files.paths import exists
from gingham.app.session.document import Document

_GONE = "gone"
_SETTLE_MS = 200  # programs write in several steps


def stamp(path: Path) -> str:
    """What tells one content of a file from another; empty if it cannot be read."""
    import hashlib  # loads OpenSSL: not before a file is open

    try:
        return hashlib.sha256(path.read_bytes()).hexdigest()
    except OSError:
        return ""


class Watcher(QObject):
    """Looks after the files of the open pieces."""

    changed = Signal(object)
    """A document whose file is not what was read or written last."""
    deleted = Signal(object)
    """A document whose file is no longer there."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._stamps: dict[Document, tuple[Path, str]] = {}
        self._told: dict[Document, str] = {}
        self._watcher = QFileSystemWatcher(self)
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(_SETTLE_MS)
        self._settle.timeout.connect(self.look)
        self._watcher.fileChanged.connect(lambda _path: self._settle.start())
        self._watcher.directoryChanged.connect(lambda _path: self._settle.start())

    def known(self, document: Document) -> None:
        """The document's file has just been read or written."""
        if document.path is None:
            return
        self._stamps[document] = (document.path, stamp(document.path))
        self._told.pop(document, None)
        self._watch(document.path)

    def forget(self, document: Document) -> None:
        """The document is closed."""
        self._stamps.pop(document, None)
        self._told.pop(document, None)

    def _watch(self, path: Path) -> None:
        for each in (path, path.parent):  # a file that is replaced is lost to the watcher, its folder is not
            watched = (*self._watcher.files(), *self._watcher.directories())
            if exists(each) and str(each) not in watched:
                self._watcher.addPath(str(each))

    def differs(self, document: Document) -> bool:
        """Whether the file is there, and is not what was read or written last."""
        path, known = self._stamps.get(document, (None, ""))
        if path is None or path != document.path:
            return False
        now = stamp(path)
        return bool(now) and now != known

    def look(self) -> None:
        """Compare every file; each change is told once."""
        for document, (path, _) in list(self._stamps.items()):
            self._watch(path)
            if not os.path.lexists(path):
                if self._told.get(document) != _GONE:
                    self._told[document] = _GONE
                    self.deleted.emit(document)
            elif self.differs(document) and self._told.get(document) != (now := stamp(path)):
                self._told[document] = now
                self.changed.emit(document)
