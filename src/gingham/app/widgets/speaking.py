"""Painted pictures for those who hear the window: each canvas tells its cells, and where its cursor goes.

Qt asks for an interface of a widget only while something listens; nothing here costs anything otherwise.
A canvas keeps the interfaces of its cells and drops them through Qt alone: one that Python frees first takes
the process down at its end (seen with Qt 6.11).
"""

from __future__ import annotations

from typing import Protocol, runtime_checkable

import msgspec
from PySide6.QtCore import QObject, QPoint, QRect
from PySide6.QtGui import QAccessible, QAccessibleAnnouncementEvent, QAccessibleInterface
from PySide6.QtWidgets import QAccessibleWidget, QWidget


class Cell(msgspec.Struct, frozen=True):
    """What stands somewhere in a picture: words, where (in the canvas), whether the cursor is there."""

    words: str
    rect: QRect
    here: bool = False


@runtime_checkable
class Speaking(Protocol):
    """A canvas with cells: those in sight, in reading order."""

    def cells(self) -> list[Cell]:
        """What is in sight now."""


class _CellInterface(QAccessibleInterface):
    """One cell; it says what its canvas says of that number now."""

    def __init__(self, owner: _CanvasInterface, index: int) -> None:
        super().__init__()
        self._owner, self._index = owner, index

    def _cell(self) -> Cell | None:
        cells = self._owner.now()
        return cells[self._index] if self._index < len(cells) else None

    def isValid(self) -> bool:
        """Whether there is still such a cell."""
        return self._cell() is not None

    def relations(self, match: object = None) -> list[object]:  # type: ignore[override]  # there are none
        """There are none."""
        return []

    def object(self) -> QObject | None:  # type: ignore[override]  # cells are no objects of their own
        """Cells are no objects of their own."""
        return None

    def focusChild(self) -> QAccessibleInterface | None:  # type: ignore[override]  # it has no children
        """It has no children."""
        return None

    def childAt(self, x: int, y: int) -> QAccessibleInterface | None:  # type: ignore[override]
        """It has no children."""
        return None

    def parent(self) -> QAccessibleInterface:
        """The canvas."""
        return self._owner

    def child(self, index: int) -> QAccessibleInterface | None:  # type: ignore[override]
        """It has no children."""
        return None

    def childCount(self) -> int:
        """None."""
        return 0

    def indexOfChild(self, child: QAccessibleInterface) -> int:
        """It has no children."""
        return -1

    def text(self, which: QAccessible.Text) -> str:
        """The words for the cell."""
        cell = self._cell()
        return cell.words if cell is not None and which == QAccessible.Text.Name else ""

    def setText(self, which: QAccessible.Text, text: str) -> None:
        """Cells are changed by the keys of their canvas."""

    def rect(self) -> QRect:
        """Where it is on the screen."""
        cell, widget = self._cell(), self._owner.widget()
        return QRect() if cell is None else cell.rect.translated(widget.mapToGlobal(QPoint(0, 0)))

    def role(self) -> QAccessible.Role:
        """A cell of a table."""
        return QAccessible.Role.Cell

    def state(self) -> QAccessible.State:
        """Chosen where the cursor is."""
        state, cell = QAccessible.State(), self._cell()
        if cell is not None and cell.here:
            state.selected = True
        return state


class _CanvasInterface(QAccessibleWidget):
    """A canvas as a grid of cells."""

    def __init__(self, widget: QWidget) -> None:
        super().__init__(widget, QAccessible.Role.Table, widget.accessibleName())
        self._cells: list[_CellInterface] = []
        self._ids: list[int] = []
        widget.destroyed.connect(self._drop)

    def now(self) -> list[Cell]:
        """The cells as they are now."""
        widget = self.widget()
        return widget.cells() if isinstance(widget, Speaking) and widget.isVisible() else []

    def childCount(self) -> int:
        """The cells in sight."""
        return len(self.now())

    def child(self, index: int) -> QAccessibleInterface | None:  # type: ignore[override]
        """The interface of a cell, made when it is first asked for."""
        if not 0 <= index < self.childCount():
            return None
        while len(self._cells) <= index:
            made = _CellInterface(self, len(self._cells))
            self._cells.append(made)
            self._ids.append(QAccessible.registerAccessibleInterface(made))
        return self._cells[index]

    def indexOfChild(self, child: QAccessibleInterface) -> int:
        """The number of a cell."""
        return next((i for i, each in enumerate(self._cells) if each is child), -1)

    def _drop(self) -> None:
        for each in self._ids:
            QAccessible.deleteAccessibleInterface(each)
        self._ids.clear()


_interfaces: list[_CanvasInterface] = []  # Qt does not own what Python makes


def _make(_key: str, of: QObject | None) -> QAccessibleInterface | None:
    if isinstance(of, QWidget) and isinstance(of, Speaking):
        made = _CanvasInterface(of)
        _interfaces.append(made)
        return made
    return None


def let_canvases_speak() -> None:
    """From now on canvases tell their cells to whoever listens."""
    QAccessible.installFactory(_make)


def heard() -> bool:
    """Whether something listens."""
    return QAccessible.isActive()


def announce(widget: QWidget, words: str) -> None:
    """Say something to whoever listens; nothing if nobody does."""
    if words and heard():
        QAccessible.updateAccessibility(QAccessibleAnnouncementEvent(widget, words))


def tell(widget: QWidget, words: str) -> None:
    """What a canvas has under its cursor now: kept as its description, and said while it has the keyboard."""
    if words != widget.accessibleDescription():
        widget.setAccessibleDescription(words)
        if widget.hasFocus():
            announce(widget, words)
