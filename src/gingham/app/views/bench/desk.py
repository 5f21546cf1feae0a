"""What every page of the bench shares: the piece, hearing a pattern on its chords, taking one."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QObject, Signal

from gingham.app.look.appearance import Appearance
from gingham.app.look.settings import Settings
from gingham.app.session.shown import Shown
from gingham.app.sound.transport import Owner, Transport
from gingham.core.bench.audition import with_pattern
from gingham.core.errors import GinghamError
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Assignment, Result
from gingham.core.patterns.convert import convert
from gingham.core.patterns.library import builtin
from gingham.core.patterns.pattern import Align, Pattern
from gingham.core.pieces.edits import choose_pattern, reshape_pattern, set_meter
from gingham.core.pieces.piece import NamedPattern, Piece
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.actions import key_of
from gingham.words.errors import say
from gingham.words.notices import notice

_HEARD_BARS = 4


class Desk(QObject):
    """Passed to the pages; they change the piece only through it."""

    notice = Signal(str)
    """A sentence for the line at the bottom of the bench."""
    mix_wanted = Signal(str, object)
    """A name and its pattern, to be a bar of the mix."""

    def __init__(
        self, appearance: Appearance, shown: Shown, transport: Transport, settings: Settings, folder: Path
    ) -> None:
        super().__init__()
        self.appearance, self.shown, self.transport, self.settings = appearance, shown, transport, settings
        self.folder = folder

    @property
    def piece(self) -> Piece:
        """The piece that is shown."""
        return self.shown.piece

    @property
    def result(self) -> Result | None:
        """The shown section, fitted."""
        return self.shown.result

    @property
    def name(self) -> str:
        """The name of the shown section's pattern."""
        return self.piece.sections[self.shown.section].pattern

    @property
    def pattern(self) -> Pattern:
        """The shown section's pattern, bare strings read into fingers."""
        result = self.result
        if result is not None and result.piece is self.piece and result.section == self.shown.section:
            return result.pattern
        return self.piece.pattern(self.name)

    @property
    def assignment(self) -> Assignment | None:
        """The strings of the chord under the cursor."""
        return self.shown.assignment()

    def _own_name(self, pattern: Pattern) -> str:
        """The pattern's name; a built-in one's strokes in another meter are the player's."""
        known = dict(builtin())
        return tr("{name}, mine", name=self.name) if known.get(self.name, pattern) != pattern else self.name

    def hear(self, pattern: Pattern, align: Align | None = None) -> None:
        """Play a pattern on the first bars of the section; while something plays, stop it."""
        if self.transport.playing:
            self.transport.stop()
            return
        piece, section = self.piece, self.shown.section
        if align is not None:
            piece = replace(piece, rules=replace(piece.rules, align=align))
        fitting = pattern if pattern.meter == piece.meter else convert(pattern, piece.meter).pattern
        try:
            tried = fit(with_pattern(piece, section, "heard", fitting), section)
        except GinghamError as error:
            self.shown.say_fault(error)
            return
        if not any(bar.events for bar in tried.bars):
            self.notice.emit(notice("no-chords-to-hear"))
            return
        self.transport.play_once([tried], piece.tempo, Owner.PATTERN, (tried.bars[0].number, _HEARD_BARS))

    def take(self, text: str, pattern: Pattern, name: str | None = None, align: Align | None = None) -> bool:
        """Give the pattern to the section as one undo step; another meter becomes the piece's.

        With a name it is that pattern, else the section's own one changed. False if it cannot be.
        """
        piece, section = self.piece, self.shown.section
        try:
            if pattern.meter != piece.meter:
                after = set_meter(
                    piece, pattern.meter, NamedPattern(name or self._own_name(pattern), pattern)
                )
            elif name is not None:
                after = choose_pattern(piece, section, NamedPattern(name, pattern))
                after = _with_strokes(after, name, pattern)
            else:
                after = reshape_pattern(piece, self.name, pattern)
        except GinghamError as error:
            self.shown.say_fault(error)
            self.notice.emit(say(error))
            return False
        if align is not None:
            after = replace(after, rules=replace(after.rules, align=align))
        self.shown.edit(text, after)
        self.notice.emit(notice("section-plays", undo=key_of("undo")))
        return True


def _with_strokes(piece: Piece, name: str, pattern: Pattern) -> Piece:
    """The piece with these strokes under a name that it had for other ones."""
    patterns = tuple(NamedPattern(name, pattern) if p.name == name else p for p in piece.patterns)
    return replace(piece, patterns=patterns)
