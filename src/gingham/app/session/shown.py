"""What is shown: the open piece, its section, the newest result and verdict, the place of the cursor.

Everything that asks "what is the player looking at" stands on this; how it is painted is the views' affair.
"""

from __future__ import annotations

from fractions import Fraction

import msgspec
from PySide6.QtCore import QObject, QTimer, Signal

from gingham.app.session.document import Document
from gingham.app.session.fitter import Fitter, Judge, Verdict
from gingham.core import courtesy
from gingham.core.errors import GinghamError
from gingham.core.fitting.result import Assignment, Result
from gingham.core.judging.speed import Limit
from gingham.core.pieces.edits import reshape_pattern
from gingham.core.pieces.piece import Piece
from gingham.language import tr
from gingham.words.errors import say

_JUDGE_MS = 250  # judging in full takes a moment: not at every key that is typed
_TELL_MS = 8  # the window looks up between picture and words
_HELD_S = 0.05  # until picture and words stand, long work steps aside
_NO_LIMIT = Limit(0, ())


class Cursor(msgspec.Struct, frozen=True):
    """Where the cursor is: bar number, whole notes from its start, and the chord there (−1 for none)."""

    bar: int = 1
    at: Fraction = Fraction(0)
    span: int = -1


class Shown(QObject):
    """The newest state of what the player sees. Every edit goes through `edit`."""

    piece_changed = Signal()
    """Piece or section are others; the result follows."""
    fitted = Signal()
    """The result is that of the present piece: the picture can be painted."""
    settled = Signal()
    """The picture stands: words, lists and other windows follow it."""
    limited = Signal()
    """The top speed of the shown result is known."""
    judged = Signal()
    """The verdict on the shown result has come."""
    failed = Signal(object)
    """The GinghamError for which the piece cannot be fitted."""
    cursor_moved = Signal()
    span_wanted = Signal(int)
    """The cursor shall go where this chord enters."""
    bar_wanted = Signal(int, object)
    """The cursor shall go to this bar, so many whole notes from its start."""
    notice = Signal(str)

    def __init__(self, fitter: Fitter, judge: Judge, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document: Document | None = None
        self.section = 0
        self.result: Result | None = None
        self.limit = _NO_LIMIT
        self.verdict: Verdict | None = None
        self.cursor = Cursor()
        self.own_shapes = ""
        """The shapes of the player's own way, as a chord line: for chords that come into the piece."""
        self._fitter, self._judge = fitter, judge
        self._tell_soon = QTimer(self, singleShot=True, interval=_TELL_MS)
        self._tell_soon.timeout.connect(self._tell)
        self._judge_later = QTimer(self, singleShot=True, interval=_JUDGE_MS)
        self._judge_later.timeout.connect(self._ask_judge)
        fitter.fitted.connect(self.take_result)
        fitter.limited.connect(self._take_limit)
        fitter.failed.connect(self._take_failure)
        judge.judged.connect(self._take_verdict)

    # The piece.

    @property
    def piece(self) -> Piece:
        """The piece that is shown."""
        assert self.document is not None
        return self.document.piece

    def show_document(self, document: Document) -> None:
        """Show another open piece from its first section."""
        if self.document is not None:
            self.document.changed.disconnect(self.refresh)
        self.document = document
        document.changed.connect(self.refresh)
        self.section, self.cursor = 0, Cursor()
        self.refresh()

    def edit(self, text: str, after: Piece, merge: str | None = None) -> None:
        """Make `after` the current piece as one undo step."""
        if self.document is not None:
            self.document.edit(text, after, merge)

    def end_gesture(self) -> None:
        """What comes next is an undo step of its own."""
        if self.document is not None:
            self.document.end_gesture()

    def refresh(self) -> None:
        """The piece has changed: its picture when it is fitted, its texts now."""
        self.section = min(self.section, len(self.piece.sections) - 1)
        courtesy.hold(_HELD_S)
        if not self._fitter.fit_soon(self.piece, self.section):
            courtesy.done()  # the picture is made in a thread that must not wait
        self.piece_changed.emit()

    def select_section(self, index: int) -> None:
        """Show another section from its start."""
        if 0 <= index < len(self.piece.sections) and index != self.section:
            self.section, self.cursor = index, Cursor()
            self.refresh()

    def go_to(self, section: int, bar: int, at: Fraction = Fraction(0)) -> None:
        """Show a place of the piece, whichever section it is in."""
        if section == self.section:
            self.bar_wanted.emit(bar, at)
        elif 0 <= section < len(self.piece.sections):
            self.section, self.cursor = section, Cursor(bar, at)
            self.refresh()

    def say_fault(self, error: GinghamError) -> None:
        """A fault that has no line of its own."""
        self.notice.emit(say(error))

    # The result.

    def take_result(self, result: Result) -> None:
        """Show a result; one of an older piece, or of another section, is too late."""
        if result.piece is not self.piece or result.section != self.section:
            return
        self.result, self.verdict = result, None
        self.fitted.emit()
        self._tell_soon.start()

    def _tell(self) -> None:
        if self.result is None or self.result.piece is not self.piece:
            return  # a newer piece is on its way
        self._judge_later.start()
        courtesy.hold(_HELD_S)
        self.settled.emit()
        courtesy.done()

    def _take_limit(self, result: Result, limit: Limit) -> None:
        if result is self.result and self.verdict is None:  # the verdict knows more, should it be first
            self.limit = limit
            self.limited.emit()

    def _ask_judge(self) -> None:
        if self.result is not None:
            self._judge.request(self.result)

    def _take_verdict(self, verdict: Verdict) -> None:
        if verdict.result is self.result:
            self.verdict, self.limit = verdict, verdict.limit
            self.judged.emit()

    def take_fix(self) -> None:
        """Do what raises the top speed most."""
        verdict = self.verdict
        if verdict is None or verdict.fix is None or verdict.result.piece is not self.piece:
            return
        name = self.piece.sections[self.section].pattern
        self.edit(tr("Faster"), reshape_pattern(self.piece, name, verdict.fix.pattern))

    def _take_failure(self, piece: Piece, error: GinghamError) -> None:
        if piece is self.piece:
            self.failed.emit(error)

    # The cursor, and what it is on.

    def span_index(self) -> int:
        """The chord under the cursor; −1 if there is none."""
        return self.cursor.span if self.result is not None and self.result.spans else -1

    def assignment(self) -> Assignment | None:
        """The strings of the chord under the cursor."""
        index = self.span_index()
        return self.result.spans[index].assignment if self.result is not None and index >= 0 else None

    def cursor_bar(self) -> int | None:
        """The number of the bar under the cursor; None in an empty section."""
        return self.cursor.bar if self.result is not None and self.result.bars else None

    def pattern_name(self) -> str:
        """The pattern of the cursor's bar: the section's, or the bar's own."""
        return self.piece.sections[self.section].pattern_in(self.cursor.bar)

    def select_span(self, index: int) -> None:
        """Put the cursor where a chord enters."""
        self.span_wanted.emit(index)

    def step_span(self, by: int) -> None:
        """The next chord, or the one before."""
        self.select_span(self.span_index() + by)
