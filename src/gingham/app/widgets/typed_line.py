"""Fields that the player types into: lines with their fault underlined where it stands, and numbers."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QLabel, QLineEdit, QSpinBox, QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.speaking import announce
from gingham.core.errors import GinghamError, InputError
from gingham.words.errors import say

# Keys with Ctrl that a line keeps for itself; everything else with Ctrl belongs to the window.
_OWN = frozenset(
    {
        Qt.Key.Key_C,
        Qt.Key.Key_X,
        Qt.Key.Key_V,
        Qt.Key.Key_A,
        Qt.Key.Key_Left,
        Qt.Key.Key_Right,
        Qt.Key.Key_Home,
        Qt.Key.Key_End,
        Qt.Key.Key_Backspace,
        Qt.Key.Key_Delete,
    }
)


class TypedLine(Dressed, QLineEdit):
    """`left` when the player has finished with it, `given_up` when Escape takes back what was typed.

    Undo is the piece's, not the line's: Ctrl+Z goes to the window.
    """

    left = Signal()
    given_up = Signal()

    def __init__(self, appearance: Appearance, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.fault: tuple[int, int] | None = None
        self.setAccessibleName(name)
        self.editingFinished.connect(self.left)

    def show_text(self, text: str) -> None:
        """Show the piece's text; a fault that was there goes with what was typed."""
        self.set_fault(None)
        if text != self.text():
            self.setText(text)
            self.setCursorPosition(0)

    def set_fault(self, fault: tuple[int, int] | None) -> None:
        """Underline characters start … end (end exclusive), or nothing."""
        self.fault = fault
        self.update()

    def fault_rect(self) -> QRectF:
        """Where the faulty characters are drawn, kept inside the line; empty without a fault."""
        if self.fault is None:
            return QRectF()
        caret, metrics, text = self.cursorRect(), self.fontMetrics(), self.text()
        zero = 1.0 + caret.center().x() - metrics.horizontalAdvance(text[: self.cursorPosition()])
        left = zero + metrics.horizontalAdvance(text[: self.fault[0]])
        right = zero + metrics.horizontalAdvance(text[: self.fault[1]])
        most = float(self.width() - 8)
        left = min(max(6.0, left), most - 8)
        return QRectF(left, caret.top(), min(max(8.0, right - left), most - left), caret.height())

    def paintEvent(self, event: QPaintEvent) -> None:
        """The text, and a zigzag under its fault."""
        super().paintEvent(event)
        if self.fault is None:
            return
        rect = self.fault_rect()
        y, steps = min(rect.bottom(), self.height() - 4.0), int(rect.width() // 3) + 1
        with marks.painting(self) as p:
            p.setPen(QPen(QColor(self.theme.fault), 1.8))
            p.drawPolyline(QPolygonF([QPointF(rect.left() + 3 * k, y - 2 * (k % 2)) for k in range(steps)]))

    def event(self, event: QEvent) -> bool:
        """Leave the window's keys to the window."""
        return False if _is_window_key(event) else super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape takes back what was typed and is not yet part of the piece; Space never empties the line."""
        if event.key() == Qt.Key.Key_Escape:
            self.given_up.emit()
        elif event.key() == Qt.Key.Key_Space and self.text() and self.selectedText() == self.text():
            self.deselect()
            event.ignore()  # whoever has come here with a key and presses Space wants to hear it
        else:
            super().keyPressEvent(event)


class NumberBox(QSpinBox):
    """A number with its name. As in a typed line, the window's keys (Ctrl+Z above all) stay the window's."""

    def __init__(self, name: str, least: int, most: int, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setRange(least, most)
        self.setAccessibleName(name)
        self.setKeyboardTracking(False)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Space is no digit: it belongs to the window."""
        if event.key() == Qt.Key.Key_Space:
            event.ignore()
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        """Leave the window's keys to the window."""
        return False if _is_window_key(event) else super().event(event)


def _is_window_key(event: QEvent) -> bool:
    """Whether a line is asked if it wants a key that belongs to the window; then the answer is no."""
    if event.type() != QEvent.Type.ShortcutOverride or not isinstance(event, QKeyEvent):
        return False
    control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
    if control and Qt.Key(event.key()) not in _OWN:
        event.ignore()
        return True
    return False


def show_fault(
    line: TypedLine, message: QLabel, error: GinghamError | None, offset: int = 0, *, aloud: bool = True
) -> None:
    """Underline an error where it stands and say it in the label beside the line; None clears both.

    `offset` is where the line's text begins in the text that was read. Not `aloud` while a line is being
    typed: those who hear the window are told when they leave it.
    """
    if error is None:
        line.set_fault(None)
        message.clear()
        message.hide()
        return
    end = len(line.text())
    if isinstance(error, InputError) and error.end is not None:
        line.set_fault((min(error.start - offset, end), min(error.end - offset, end)))
    else:
        line.set_fault((0, end))
    if aloud and message.text() != say(error):
        announce(line, say(error))
    message.setText(say(error))
    message.show()
