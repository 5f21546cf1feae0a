"""The ladder of a stage: a bar for each rung, those cleared, the one to play, the goal."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPaintEvent
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.speaking import Cell
from gingham.language import tr

_MOST = 9
_LABEL = 18.0
_LEAST_SHARE = 0.22


class LadderCanvas(Dressed, QWidget):
    """It only shows."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.rungs: tuple[int, ...] = ()
        self.tempo = self.best = self.goal = 0
        self.setAccessibleName(tr("Ladder of tempi"))
        self.setMinimumHeight(64)

    def sizeHint(self) -> QSize:
        """Low: the list above it is what is chosen from."""
        return QSize(260, 84)

    def show_rungs(self, rungs: Sequence[int], tempo: int, best: int, goal: int) -> None:
        """The tempi of a stage, the one to play now, the fastest that was cleared."""
        self.tempo, self.best, self.goal = tempo, best, goal
        self.rungs = _near(sorted({*rungs, tempo} if rungs else set()), tempo)
        self.setVisible(len(self.rungs) > 1)
        self.setAccessibleDescription("; ".join(cell.words for cell in self.cells()))
        self.update()

    def cells(self) -> list[Cell]:
        """Each rung in words."""
        return [
            Cell(f"{rung} {self._state(rung)}".strip(), self._bar(index).toAlignedRect())
            for index, rung in enumerate(self.rungs)
        ]

    def _state(self, rung: int) -> str:
        words = tr("now") if rung == self.tempo else tr("cleared") if rung <= self.best else ""
        return tr("{words} goal", words=words).strip() if rung == self.goal else words

    def _bar(self, index: int) -> QRectF:
        count = max(1, len(self.rungs))
        wide = min(34.0, (self.width() - 8) / count)
        low, high = self.rungs[0], max(self.rungs[-1], self.rungs[0] + 1)
        share = _LEAST_SHARE + (1 - _LEAST_SHARE) * (self.rungs[index] - low) / (high - low)
        room = self.height() - _LABEL - 4
        return QRectF(4 + index * wide, 2 + room * (1 - share), wide - 4, room * share)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Bars with their tempi beneath."""
        with marks.painting(self) as p:
            for index, rung in enumerate(self.rungs):
                bar, now = self._bar(index), rung == self.tempo
                dye = QColor(self.theme.accent) if now else self.theme.finger("a")
                if rung > self.best and not now:
                    dye = QColor(self.theme.edge)
                p.setPen(Qt.PenStyle.NoPen)
                p.setBrush(dye)
                p.drawRoundedRect(bar, 3, 3)
                label = QRectF(bar.left() - 3, self.height() - _LABEL, bar.width() + 6, _LABEL)
                ink = self.theme.ink if now else self.theme.quiet
                marks.text(p, label, str(rung), ink, 13)


def _near(rungs: Sequence[int], tempo: int) -> tuple[int, ...]:
    """The rungs around the present one, and the goal as the last."""
    if len(rungs) <= _MOST:
        return tuple(rungs)
    at = rungs.index(tempo)
    begin = max(0, min(at - _MOST // 2, len(rungs) - _MOST))
    return (*rungs[begin : begin + _MOST - 1], rungs[-1])
