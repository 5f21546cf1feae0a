"""A pattern by itself: fingers over its places, the count below. It only shows."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.geometry import FOOTER, Lanes, lanes_for
from gingham.app.widgets.marks import Look
from gingham.app.widgets.slot_marks import paint_slot
from gingham.core.patterns.figures import counts_of
from gingham.core.patterns.pattern import Pattern
from gingham.language import tr

_STEP, _HEIGHT = 32.0, 136


class PatternStrip(Dressed, QWidget):
    """Paints one pattern; places that differ from another one can be marked."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.pattern: Pattern | None = None
        self.marked: frozenset[int] = frozenset()
        self.empty = tr("Choose a pattern to see it here.")
        self.setMinimumHeight(_HEIGHT)
        self.setAccessibleName(tr("The pattern: fingers over beats"))

    def show_pattern(self, pattern: Pattern | None, marked: frozenset[int] = frozenset()) -> None:
        """Another pattern, with places to mark."""
        self.pattern, self.marked = pattern, marked
        self.setMinimumWidth(round(_STEP * len(pattern.slots)) + 8 if pattern is not None else 0)
        self.update()

    def sizeHint(self) -> QSize:
        """Wide enough for every place."""
        return QSize(self.minimumWidth(), _HEIGHT)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Beats shaded, threads, marks, counts."""
        with marks.painting(self) as p:
            p.fillRect(self.rect(), QColor(self.theme.panel))
            if self.pattern is None:
                marks.sentence(p, QRectF(self.rect()), self.empty, self.theme.quiet, 13)
            else:
                self._paint(p, self.pattern)

    def _paint(self, p: QPainter, pattern: Pattern) -> None:
        lanes = lanes_for((pattern,), self.height() - 2)
        beats = set(pattern.meter.beat_starts)
        bar = pattern.meter.bar
        for index, at in enumerate(pattern.starts[:-1]):
            x = 4 + index * _STEP
            if at % bar in beats:
                marks.shade(p, x, 0, _STEP, lanes.bottom, marks.laid_over(self.theme.panel, self.theme.check))
            if at % bar == 0:
                marks.shade(p, x, 0, 1, lanes.bottom, QColor(self.theme.string))
            if index in self.marked:
                p.setPen(QColor(self.theme.accent))
                p.drawRoundedRect(QRectF(x + 1, 1, _STEP - 2, lanes.bottom - 2), 6, 6)
        self._paint_threads(p, pattern, lanes)
        place = 0
        for index, (slot, (count, _)) in enumerate(zip(pattern.slots, counts_of(pattern), strict=True)):
            x = 4 + (index + 0.5) * _STEP
            paint_slot(p, self.theme, slot, x, lanes, Look.FULL)
            strong = pattern.starts[index] % bar in beats
            place = 0 if pattern.starts[index] % bar == 0 else place + 1
            ink = self.theme.ink if strong else self.theme.quiet
            rect = QRectF(x - 16, lanes.bottom + 1, 32, FOOTER - 2)
            marks.text(p, rect, self.theme.naming.syllable(count, place), ink, 13, strong)

    def _paint_threads(self, p: QPainter, pattern: Pattern, lanes: Lanes) -> None:
        for finger in lanes.fingers:
            dye = self.theme.finger(finger)
            dye.setAlpha(110)
            p.fillRect(4, round(lanes.y(finger)), round(_STEP * len(pattern.slots)), 1, dye)


def beside(strip: PatternStrip, words: QLabel) -> QHBoxLayout:
    """The strip, and at its right what is said of it."""
    words.setAlignment(Qt.AlignmentFlag.AlignTop)
    out = QHBoxLayout()
    out.setSpacing(14)
    out.addWidget(in_scroll(strip), 3)
    out.addWidget(words, 2)
    return out


def in_scroll(strip: PatternStrip) -> QScrollArea:
    """The strip in a frame that scrolls when it is long."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setWidget(strip)
    area.setFixedHeight(_HEIGHT + 18)
    area.setAccessibleName(tr("The pattern"))
    return area
