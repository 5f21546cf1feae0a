"""A strip for each string: how far it is from its pitch, as a mark on cloth."""

from __future__ import annotations

from PySide6.QtCore import QLineF, QRectF
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.core.listening.tuner import CLOSE_CENTS, TOO_HIGH_CENTS, Tone
from gingham.language import tr

_SPAN = 50.0
_HEIGHT = 22


class Needle(Dressed, QWidget):
    """The middle is the pitch, left is low, right is high."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.tone: Tone | None = None
        self.asked = False
        self.setFixedHeight(_HEIGHT)
        self.setMinimumWidth(140)

    def show_tone(self, tone: Tone | None, words: str) -> None:
        """What is heard of this string; None for nothing yet."""
        self.tone = tone
        self.setAccessibleDescription(words)
        self.update()

    def show_asked(self, on: bool) -> None:
        """Whether this is the one string that is listened for."""
        self.asked = on
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Strip, zone of what is in tune, and the mark with its cents."""
        with marks.painting(self) as p:
            theme, room = self.theme, QRectF(self.rect()).adjusted(1, 3, -1, -3)
            p.setPen(QPen(QColor(theme.accent if self.asked else theme.edge), 2 if self.asked else 1.2))
            p.setBrush(QColor(theme.panel))
            p.drawRoundedRect(room, 4, 4)
            middle, scale = room.center().x(), room.width() / 2 / _SPAN
            zone = QRectF(middle - CLOSE_CENTS * scale, room.top(), 2 * CLOSE_CENTS * scale, room.height())
            p.fillRect(zone.adjusted(0, 1, 0, -1), QColor(theme.selected))
            p.setPen(QPen(QColor(theme.quiet), 1))
            p.drawLine(QLineF(middle, room.top() + 2, middle, room.bottom() - 2))
            if self.tone is not None:
                self._paint_mark(p, room, middle, scale, self.tone.cents)

    def _paint_mark(self, p: QPainter, room: QRectF, middle: float, scale: float, cents: float) -> None:
        theme = self.theme
        good = abs(cents) <= CLOSE_CENTS
        dye = QColor(theme.accent if good else theme.fault if cents >= TOO_HIGH_CENTS else theme.ink)
        x = middle + max(-_SPAN + 2, min(_SPAN - 2, cents)) * scale
        p.setPen(QPen(dye, 4))
        p.drawLine(QLineF(x, room.top() + 2, x, room.bottom() - 2))
        words = tr("in tune") if good else f"{cents:+.0f}".replace("-", "−")
        left = x > middle or good
        rect = QRectF(room.left() + 6, room.top(), middle - room.left() - 10, room.height())
        if not left:
            rect.moveLeft(middle + 4)
        side = marks.LEFT if left else marks.RIGHT
        marks.aligned(p, rect, words, dye, marks.font(13, True), side)
