"""Which part of a long picture is in sight."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal


class Sight(QObject):
    """The left end of what is seen, 0 to `most`, in pixels."""

    moved = Signal(int)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.value = 0
        self.most = 0

    def go(self, value: int) -> None:
        """Let what is seen begin here, or as near as there is a picture."""
        bounded = min(max(0, value), self.most)
        if bounded != self.value:
            self.value = bounded
            self.moved.emit(bounded)

    def bound(self, most: int) -> None:
        """The picture has another length."""
        self.most = most
        self.go(self.value)
