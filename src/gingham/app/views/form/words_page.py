"""Words under beats and the tune of the shown section, typed as lines, and what the part makes of them."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtGui import QFocusEvent
from PySide6.QtWidgets import QLineEdit, QPlainTextEdit, QVBoxLayout, QWidget

from gingham.app.session.shown import Shown
from gingham.app.widgets.parts import head, plain, quiet
from gingham.core.errors import GinghamError, InputError
from gingham.core.judging.tune import tune_checks
from gingham.core.pieces.form_edits import set_tune, set_words
from gingham.core.pieces.lyrics import print_tune
from gingham.core.pieces.piece import Piece
from gingham.words.errors import say
from gingham.words.form import breath_text, placed_text, start_text, tune_lines


class _Lines(QPlainTextEdit):
    """Typed lines; leaving them ends the undo step."""

    left = Signal()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """The player has finished."""
        super().focusOutEvent(event)
        self.left.emit()


class WordsPage(QWidget):
    """Words and tune of the section that the main window shows."""

    notice = Signal(str)

    def __init__(self, shown: Shown) -> None:
        super().__init__()
        self._shown = shown
        column = QVBoxLayout(self)
        self.section = head("")
        column.addWidget(self.section)
        column.addWidget(
            quiet(
                "A line for each phrase. With bar lines, | For-ty lan-terns | a-long the quay |, syllables "
                "stand on the beats; a dot leaves a beat out. Without them they are spread evenly, a guess. "
                "Words that go on beyond the last bar are the next verse."
            )
        )
        self.words = _Lines()
        self.words.setAccessibleName("Words of the section")
        self.words.setTabChangesFocus(True)
        self.words.setPlaceholderText("No words yet")
        self.placed = quiet()
        self.tune = QLineEdit()
        self.tune.setAccessibleName("Tune of the section")
        self.tune.setPlaceholderText(
            "| A4 . B4 . | 2@1 . |   pitches as they sound, or string@fret; . goes on"
        )
        self.checks = plain()
        column.addWidget(self.words, 2)
        column.addWidget(self.placed)
        column.addWidget(head("Tune"))
        column.addWidget(self.tune)
        column.addWidget(self.checks)
        column.addStretch(1)
        self.words.textChanged.connect(self._words_typed)
        self.words.left.connect(self._left)
        self.tune.textEdited.connect(self._tune_typed)
        self.tune.editingFinished.connect(self._left)
        self._showing = False

    def refresh(self) -> None:
        """Show the section's words and tune, unless they are being typed."""
        shown = self._shown
        section = shown.piece.sections[shown.section]
        self.section.setText(f"{section.name}, {len(section.chords.bars)} bars")
        lines = "\n".join(section.words)
        if self.words.toPlainText() != lines and not self.words.hasFocus():
            self._showing = True
            self.words.setPlainText(lines)
            self._showing = False
        if not self.tune.hasFocus():
            self.tune.setText(print_tune(section.tune, shown.piece.meter))
        piece = shown.piece
        about = (placed_text(section, piece.meter), breath_text(section, piece.meter, piece.tempo))
        self.placed.setText(" ".join(part for part in about if part))
        result = shown.result
        checks = tune_checks(result) if result is not None and result.piece is shown.piece else ()
        said = (start_text(checks), *tune_lines(checks, piece.meter))
        self.checks.setText("\n".join(line for line in said if line))

    def _words_typed(self) -> None:
        if self._showing:
            return
        lines = tuple(self.words.toPlainText().split("\n"))
        while lines and not lines[-1].strip():
            lines = lines[:-1]
        self._try("Words", lambda: set_words(self._shown.piece, self._shown.section, lines), "lyrics")

    def _tune_typed(self, text: str) -> None:
        self._try("Tune", lambda: set_tune(self._shown.piece, self._shown.section, text), "tune")

    def _try(self, text: str, make: Callable[[], Piece], merge: str) -> None:
        try:
            after = make()
        except InputError as error:
            line = error.values.get("line")
            where = f"Line {line + 1}: " if isinstance(line, int) else ""
            self.notice.emit(where + say(error))
            return
        except GinghamError as error:
            self.notice.emit(say(error))
            return
        self.notice.emit("")
        self._shown.edit(text, after, merge)

    def _left(self) -> None:
        self._shown.end_gesture()
        self.notice.emit("")
        self.refresh()
