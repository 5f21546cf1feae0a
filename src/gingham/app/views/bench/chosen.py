"""Beside a wall: the chosen pattern, large, on the chord under the cursor, and what is done with it."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from gingham.app.views.bench.desk import Desk
from gingham.app.widgets.large import LargeCanvas
from gingham.app.widgets.parts import button, head, plain, row
from gingham.core.bench.audition import with_pattern
from gingham.core.errors import GinghamError
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Result
from gingham.core.patterns.compare import differing_places
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.chordline import written_out
from gingham.core.pieces.edits import with_section
from gingham.core.pieces.piece import Piece
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.names import signs

SIDE = 352
_BARS = 2


class ChosenPattern(QWidget):
    """Title, picture, words, and two buttons; `below` is room for the page's own."""

    heard = Signal()
    taken = Signal()

    def __init__(self, desk: Desk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._desk = desk
        self.pattern: Pattern | None = None
        self.marked: frozenset[int] = frozenset()
        self.title = head("")
        self.large = LargeCanvas(desk.appearance)
        self.about = plain()
        use = button(tr("Use it   Enter"), tr("The section plays it"), self.taken.emit)
        use.setProperty("main", True)
        hear = button(tr("Hear it   Space"), tr("On the first bars of your chords"), self.heard.emit)
        self.below = QVBoxLayout()
        column = QVBoxLayout(self)
        column.setContentsMargins(6, 0, 0, 0)
        column.addWidget(self.title)
        column.addWidget(self.large, 2)
        column.addWidget(self.about)
        column.addStretch(1)
        column.addLayout(row(use, hear, 1))
        column.addLayout(self.below)

    def show_pattern(self, name: str, pattern: Pattern | None, words: str, *, against: bool = True) -> None:
        """Another pattern under its name, tried on the bars at the cursor; None empties the picture.

        What differs from the piece's pattern is marked if it is held `against` that.
        """
        self.pattern = pattern
        self.about.setText(words)
        assignment = self._desk.assignment
        on = tr(" on {text}", text=signs(assignment.chord.text)) if assignment is not None and name else ""
        self.title.setText(f"{name}{on}")
        self.marked = frozenset()
        if pattern is None:
            self.large.show_result(None, 0, self.marked)
            return
        now = self._desk.pattern
        if against and pattern.meter == now.meter:
            self.marked = differing_places(now, pattern)
        self.large.show_result(tried_here(self._desk, pattern), 1, self.marked)


def tried_here(desk: Desk, pattern: Pattern) -> Result | None:
    """A pattern on the bars at the cursor alone; None where it cannot be fitted there."""
    section, bar = desk.shown.section, max(1, desk.shown.cursor.bar)
    piece = with_pattern(_around(desk.piece, section, bar), section, "tried", pattern)
    if pattern.meter != piece.meter:
        return None
    try:
        return fit(piece, section)
    except GinghamError:
        return None


def _around(piece: Piece, section: int, bar: int) -> Piece:
    """The piece with the chords of a bar and the next one in place of a section's."""
    bars = written_out(piece.sections[section].chords)
    line = replace(piece.sections[section].chords, bars=(bars[bar - 1 :] + bars)[:_BARS], pickup=None)
    return with_section(piece, section, lambda old: replace(old, chords=line, bars=()))
