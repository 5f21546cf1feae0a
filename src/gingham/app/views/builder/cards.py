"""The chord cards: each span's name, length, thumb strings, and its shape with the needed fingers filled."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPoint, QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QColor,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QToolTip, QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.look.theme import SIZES
from gingham.app.widgets import marks
from gingham.app.widgets.card_face import CardFace, card_pixmap, face_of
from gingham.app.widgets.focus import ShowsFocus
from gingham.app.widgets.speaking import Cell, tell
from gingham.core.fitting.result import Result
from gingham.core.judging.changes import Change, change_into
from gingham.language import tr
from gingham.words.changes import change_text, change_title

_PAUSE_MS = 60
_HARD, _HARDEST = 4.0, 8.0  # difficulty of a change, in fingers: from where it is marked, and a full bar


class CardStrip(Dressed, ShowsFocus):
    """The row of cards. Paints only those that can be seen."""

    chosen = Signal(int)
    play_wanted = Signal()

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.result: Result | None = None
        self.current = -1
        self._offset = 0.0
        self._known: tuple[Result, int, range, list[CardFace]] | None = None
        self._difficulties: dict[int, float] = {}  # of the changes, as far as they were seen
        # An edit is painted first; how hard its changes are follows when the player pauses.
        self._pause = QTimer(self, singleShot=True, interval=_PAUSE_MS)
        self._pause.timeout.connect(self._judge)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFixedHeight(round(SIZES.card_height))
        self.setAccessibleName(tr("Chords with their shapes"))

    def show_result(self, result: Result | None) -> None:
        """The cards of another result."""
        before = self._faces()
        self.result = result
        self._pause.start()
        self._scroll_to_current()
        if self._faces() != before:
            self.update()

    def set_current(self, index: int) -> None:
        """Select a card and bring it into sight."""
        if index == self.current:
            return
        self.current = index
        if self.result is not None and 0 <= index < len(self.result.spans):
            tell(self, self._words(index))
        self._scroll_to_current()
        self.update()

    def cells(self) -> list[Cell]:
        """The cards in sight."""
        if self.result is None:
            return []
        found = []
        for index in self._seen():
            found.append(
                Cell(self._words(index), self.card_rect(index).toAlignedRect(), index == self.current)
            )
        return found

    def _words(self, index: int) -> str:
        assert self.result is not None
        face = face_of(self.result, index, False, False)
        return ", ".join(part for part in (face.name, *face.quiet, face.thumb, face.fault) if part)

    def card_rect(self, index: int) -> QRectF:
        """Where a card lies in the widget."""
        step = SIZES.card_width + SIZES.gap
        return QRectF(index * step - self._offset + 1, 1, SIZES.card_width - 2, self.height() - 2)

    def _count(self) -> int:
        return len(self.result.spans) if self.result is not None else 0

    def _scroll(self, offset: float) -> None:
        most = self._count() * (SIZES.card_width + SIZES.gap) - SIZES.gap - self.width()
        offset = min(max(0.0, offset), max(0.0, most))
        if offset != self._offset:
            self._offset = offset
            self._pause.start()
            self.update()

    def _scroll_to_current(self) -> None:
        if self.current < 0:
            self._scroll(0.0)
            return
        rect = self.card_rect(self.current)
        if rect.left() < 0:
            self._scroll(self._offset + rect.left() - 1)
        elif rect.right() > self.width():
            self._scroll(self._offset + rect.right() - self.width() + 1)
        else:
            self._scroll(self._offset)

    # Painting.

    def paintEvent(self, event: QPaintEvent) -> None:
        """The cards that can be seen; without chords a word on what to do."""
        with marks.painting(self) as p:
            p.fillRect(self.rect().adjusted(0, 0, 1, 1), QColor(self.theme.ground))
            self._paint(p)

    def _paint(self, p: QPainter) -> None:
        if self.result is None:
            return  # the piece is being fitted: what to do first is said when there is nothing in it
        if not self.result.spans:
            words = tr(
                "Type chords in the line above: each gets a card with its shape and the thumb’s strings."
            )
            rect = QRectF(self.rect()).adjusted(14, 0, -14, 0)
            marks.sentence(p, rect, words, self.theme.quiet, 14)
        else:
            self._paint_cards(p, self.result)

    def _seen(self) -> range:
        """The cards that can be seen."""
        step = SIZES.card_width + SIZES.gap
        first = max(0, int(self._offset // step))
        return range(first, min(self._count(), int((self._offset + self.width()) // step) + 1))

    def _faces(self) -> list[CardFace]:
        """What the cards that can be seen show."""
        result, seen, known = self.result, self._seen(), self._known
        if result is None:
            return []
        if known is None or known[0] is not result or known[1:3] != (self.current, seen):
            faces = [face_of(result, i, i == self.current, False) for i in seen]
            known = self._known = (result, self.current, seen, faces)
        return known[3]

    def _judge(self) -> None:
        """Work out how hard the changes are between the cards that can be seen."""
        if self.result is None:
            return
        before, self._difficulties = self._difficulties, {}
        for index in self._seen():
            change = self._change(self.result, index)
            self._difficulties[index] = 0.0 if change is None else change.difficulty
        if self._difficulties != before:
            self.update()

    @staticmethod
    def _change(result: Result, index: int) -> Change | None:
        """The change between a card and the one before it."""
        return change_into(result, index) if index else None

    def _paint_cards(self, p: QPainter, result: Result) -> None:
        for index in self._seen():
            self._paint_card(p, result, index)
            if self._difficulties.get(index):
                self._paint_change(p, index, self._difficulties[index])
        self._paint_more(p)

    def _paint_change(self, p: QPainter, index: int, difficulty: float) -> None:
        """Between two cards how hard the change is: the higher the bar, the harder."""
        rect = self.card_rect(index)
        high = rect.height() * min(1.0, difficulty / _HARDEST)
        colour = self.theme.fault if difficulty > _HARD else self.theme.quiet
        x = rect.left() - 1 - SIZES.gap / 2
        p.fillRect(QRectF(x - 1.5, rect.bottom() - high, 3.0, high), QColor(colour))

    def event(self, event: QEvent) -> bool:
        """Under the pointer: what the hands do to get to that card's chord."""
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            words = self.words_at(event.pos())
            QToolTip.showText(event.globalPos(), words, self) if words else QToolTip.hideText()
            return True
        return super().event(event)

    def words_at(self, where: QPoint) -> str:
        """The change into the chord whose card (or the gap before it) lies at a point; empty for none."""
        if self.result is None:
            return ""
        for index in self._seen():
            rect = self.card_rect(index).adjusted(-SIZES.gap, 0, 0, 0)
            if rect.contains(QPointF(where)):
                change = self._change(self.result, index)
                piece = self.result.piece
                if change is not None:
                    return f"{change_title(change)}. {change_text(change, piece.meter, piece.tempo)}"
        return ""

    def _paint_card(self, p: QPainter, result: Result, index: int) -> None:
        device = p.device()
        ratio = device.devicePixelRatioF() if device is not None else 1.0
        here = index == self.current
        face = face_of(result, index, here, here and self.hasFocus(), self.appearance.mirrored)
        rect = self.card_rect(index)
        p.drawPixmap(rect.topLeft() - QPointF(1, 1), card_pixmap(face, self.theme, rect.height(), ratio))

    def _paint_more(self, p: QPainter) -> None:
        """A wedge at the edge where there are more cards than can be seen."""
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(self.theme.accent))
        y, right = self.height() / 2, float(self.width())
        if self._offset > 1:
            p.drawPolygon([QPointF(7, y - 6), QPointF(7, y + 6), QPointF(1, y)])
        if self.card_rect(self._count() - 1).right() > self.width() + 1:
            p.drawPolygon([QPointF(right - 7, y - 6), QPointF(right - 7, y + 6), QPointF(right - 1, y)])

    # Mouse and keys.

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click selects a card."""
        for index in range(self._count()):
            if self.card_rect(index).contains(event.position()):
                self.chosen.emit(index)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Dragging goes through the chords."""
        if event.buttons() & Qt.MouseButton.LeftButton:
            inside = [i for i in range(self._count()) if self.card_rect(i).contains(event.position())]
            if inside and inside[0] != self.current:
                self.chosen.emit(inside[0])

    def wheelEvent(self, event: QWheelEvent) -> None:
        """The wheel scrolls through the cards."""
        self._scroll(self._offset - (event.angleDelta().x() or event.angleDelta().y()))
        event.accept()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left and right select the chord before and the next one."""
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is not None and not event.modifiers():
            if 0 <= self.current + step < self._count():
                self.chosen.emit(self.current + step)
        elif event.key() == Qt.Key.Key_Space:
            self.play_wanted.emit()
        else:
            super().keyPressEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Keep the selected card in sight."""
        self._scroll_to_current()
