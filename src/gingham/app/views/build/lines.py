"""The typed lines, chords and pattern: what cannot be read is underlined and changes nothing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from gingham.app.views.build.typed_line import show_fault
from gingham.core.errors import GinghamError, InputError
from gingham.core.patterns.shorthand import parse_pattern, print_pattern
from gingham.core.pieces.chordline import ChordLine, parse_chord_line, print_chord_line
from gingham.core.pieces.edits import reshape_pattern, set_chords

if TYPE_CHECKING:
    from gingham.app.views.build.controller import BuildController


class Lines:
    """Reads what is typed while it is typed; shows the piece's text when it changes elsewhere."""

    def __init__(self, build: BuildController) -> None:
        self._build = build
        self._chords, self._words = build.view.chords, build.view.bar.words
        self._chords_message, self._words_message = build.view.chords_message, build.view.bar.words_message
        self._fit_fault = False
        self._seen: tuple[object, object] = (None, None)
        self._chords.textEdited.connect(self._chords_typed)
        self._words.textEdited.connect(self._words_typed)
        for line, show in ((self._chords, self._show_chords), (self._words, self._show_words)):
            line.left.connect(lambda line=line, show=show: self._left(line.fault is None, show))
            line.given_up.connect(show)

    def forget(self) -> None:
        """Another piece or section: whatever stands in the lines is not of it."""
        self._seen = (None, None)

    # Typing.

    def _chords_typed(self, text: str) -> None:
        build = self._build
        try:
            chords = parse_chord_line(text, build.piece.meter) if text.strip() else ChordLine(())
        except InputError as error:
            show_fault(self._chords, self._chords_message, error)
            return
        self._fit_fault = False
        show_fault(self._chords, self._chords_message, None)
        build.edit("Chords", set_chords(build.piece, build.section, chords), merge="chords")

    def _words_typed(self, text: str) -> None:
        build = self._build
        name = build.piece.sections[build.section].pattern
        variants = print_pattern(build.piece.pattern(name)).split("\n")[1:]
        try:
            pattern = parse_pattern("\n".join([text, *variants]))
            after = reshape_pattern(build.piece, name, pattern)
        except InputError as error:
            shown = (
                error
                if error.end is not None
                else error.marked(0, len(text.split()[0]) if text.split() else 0)
            )
            show_fault(self._words, self._words_message, shown)
            return
        show_fault(self._words, self._words_message, None)
        build.edit("Pattern in words", after, merge="words")

    def _left(self, readable: bool, show: object) -> None:
        """The player has finished: the next edit is a new step, the text gets its usual form."""
        self._build.end_gesture()
        if readable and callable(show):
            show()

    # Showing.

    def refresh(self) -> None:
        """Show the piece's texts, unless what stands there says the same already."""
        piece, section = self._build.piece, self._build.piece.sections[self._build.section]
        pattern = piece.pattern(section.pattern)
        before, self._seen = self._seen, (section.chords, pattern)
        if before[0] != section.chords and not self._says_chords(section.chords):
            self._show_chords()
        if before[1] != pattern and not self._says_pattern():
            self._show_words()

    def _says_chords(self, chords: ChordLine) -> bool:
        try:
            return parse_chord_line(self._chords.text(), self._build.piece.meter) == chords
        except InputError:
            return False

    def _says_pattern(self) -> bool:
        pattern = self._build.piece.pattern(self._build.piece.sections[self._build.section].pattern)
        try:
            return parse_pattern(self._words.text()).with_variants_of(pattern) == pattern
        except InputError:
            return False

    def _show_chords(self) -> None:
        self._chords.show_text(print_chord_line(self._build.piece.sections[self._build.section].chords))
        if not self._fit_fault:
            show_fault(self._chords, self._chords_message, None)

    def _show_words(self) -> None:
        piece = self._build.piece
        pattern = piece.pattern(piece.sections[self._build.section].pattern)
        self._words.show_text(print_pattern(pattern).split("\n")[0])
        show_fault(self._words, self._words_message, None)

    # Faults that only fitting finds.

    def show_fit_fault(self, error: GinghamError) -> None:
        """A shape that does not suit the instrument: marked where it stands in the chord line."""
        self._fit_fault = True
        token = f"{{{error.values.get('text', '')}}}"
        start = self._chords.text().find(token)
        shown = (
            InputError(error.code, start=start, end=start + len(token), **error.values)
            if start >= 0
            else error
        )
        show_fault(self._chords, self._chords_message, shown)

    def fitted(self) -> None:
        """The newest piece could be fitted: a fault that fitting had found is gone."""
        if self._fit_fault:
            self._fit_fault = False
            show_fault(self._chords, self._chords_message, None)
