"""Words and tune of the shown section: on the strings where they lie, and typed as lines."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction

from PySide6.QtCore import Signal
from PySide6.QtGui import QFocusEvent
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from gingham.app.look.appearance import Appearance
from gingham.app.session.shown import Shown
from gingham.app.views.form.sung_canvas import SungCanvas
from gingham.app.widgets.parts import button, head, plain, quiet, row
from gingham.core.errors import GinghamError, InputError
from gingham.core.judging.carry import carried
from gingham.core.judging.tune import tune_checks
from gingham.core.pieces.form_edits import set_tune, set_words
from gingham.core.pieces.lyrics import print_tune
from gingham.core.pieces.piece import Piece
from gingham.language import tr
from gingham.words.actions import key_of
from gingham.words.errors import say
from gingham.words.form import breath_text, note_text, placed_text, start_text, tune_lines
from gingham.words.notices import notice

_HOW = tr(
    "A line for each phrase. With bar lines, | For-ty lan-terns | a-long the quay |, syllables stand on the "
    "beats; a dot leaves a beat out. Without them they are spread evenly, a guess. Words that go on beyond "
    "the last bar are the next verse."
)


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

    def __init__(self, appearance: Appearance, shown: Shown) -> None:
        super().__init__()
        self._shown = shown
        self.section = head("")
        self.picture = SungCanvas(appearance)
        self.chosen = plain()
        self.carry_button = button(
            tr("Carry it   Enter"), tr("The bar gets strokes of its own that pluck it"), self.carry
        )
        self.carry_button.setProperty("main", True)
        self.words = _Lines()
        self.words.setAccessibleName(tr("Words of the section"))
        self.words.setTabChangesFocus(True)
        self.words.setPlaceholderText(tr("| For-ty lan-terns | a-long the quay |\nA line for each phrase"))
        self.words.setToolTip(_HOW)
        self.placed = quiet()
        self.tune = QLineEdit()
        self.tune.setAccessibleName(tr("Tune of the section"))
        self.tune.setPlaceholderText(
            tr("| A4 . B4 . | 2@1 . |   pitches as they sound, or string@fret; . goes on")
        )
        self.checks = plain()
        self._showing = False
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        legend = QLabel(tr("the tune on the strings: filled where the part sounds it, hollow where not"))
        legend.setProperty("quiet", True)
        column.addLayout(row(self.section, legend, 1))
        column.addWidget(self.picture, 3)
        self.chosen.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.carry_button.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        column.addLayout(row(self.chosen, self.carry_button))
        both = QHBoxLayout()
        left, right = QVBoxLayout(), QVBoxLayout()
        left.addWidget(head(tr("Words")))
        left.addWidget(self.words, 1)
        left.addWidget(self.placed)
        right.addWidget(head(tr("Tune")))
        right.addWidget(self.tune)
        right.addWidget(self.checks)
        right.addStretch(1)
        both.addLayout(left, 1)
        both.addLayout(right, 1)
        column.addLayout(both, 2)

    def _connect(self) -> None:
        self.words.textChanged.connect(self._words_typed)
        self.words.left.connect(self._left)
        self.tune.textEdited.connect(self._tune_typed)
        self.tune.editingFinished.connect(self._left)
        self.picture.note_chosen.connect(lambda _index: self._show_note())
        self.picture.carry_wanted.connect(lambda _index: self.carry())
        self.picture.bar_wanted.connect(lambda bar: self._shown.bar_wanted.emit(bar, Fraction(0)))
        self._shown.cursor_moved.connect(self._follow)

    def arrive(self) -> None:
        """The keyboard to the picture."""
        self.picture.setFocus()

    def refresh(self) -> None:
        """Show the section's words and tune, unless they are being typed."""
        shown = self._shown
        section = shown.piece.sections[shown.section]
        self.section.setText(tr("{name}, {bars} bars", name=section.name, bars=len(section.chords.bars)))
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
        now = result if result is not None and result.piece is shown.piece else None
        checks = tune_checks(now) if now is not None else ()
        said = (start_text(checks), *tune_lines(checks, piece.meter)[:1])
        self.checks.setText("\n".join(line for line in said if line))
        self.picture.show_section(now, checks, section.placed_words(piece.meter), shown.cursor.bar)
        self._show_note()

    def _follow(self) -> None:
        """The cursor has gone to another bar."""
        if self.isVisible() and self.picture.result is self._shown.result:
            self.picture.turn_to(self._shown.cursor.bar)

    def _show_note(self) -> None:
        index, checks = self.picture.current, self.picture.checks
        check = checks[index] if 0 <= index < len(checks) else None
        words = tr("Type a tune below: each of its notes lies on the string that sounds it, or could.")
        self.chosen.setText(words if check is None else note_text(check, self._shown.piece.meter))
        self.carry_button.setVisible(check is not None and check.by is None and bool(check.carriers))

    def carry(self) -> None:
        """Let the part sound the chosen note, as one undo step."""
        index, checks, shown = self.picture.current, self.picture.checks, self._shown
        if not 0 <= index < len(checks) or checks[index].by is not None:
            return
        try:
            after = carried(shown.piece, shown.section, checks[index])
        except GinghamError as error:
            self.notice.emit(say(error))
            return
        self.notice.emit(notice("tune-carried", bar=checks[index].note.bar, undo=key_of("undo")))
        shown.edit(tr("Carry the tune"), after)

    def _words_typed(self) -> None:
        if self._showing:
            return
        lines = tuple(self.words.toPlainText().split("\n"))
        while lines and not lines[-1].strip():
            lines = lines[:-1]
        self._try(tr("Words"), lambda: set_words(self._shown.piece, self._shown.section, lines), "lyrics")

    def _tune_typed(self, text: str) -> None:
        self._try(tr("Tune"), lambda: set_tune(self._shown.piece, self._shown.section, text), "tune")

    def _try(self, text: str, make: Callable[[], Piece], merge: str) -> None:
        try:
            after = make()
        except InputError as error:
            line = error.values.get("line")
            where = tr("Line {line}: ", line=line + 1) if isinstance(line, int) else ""
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
