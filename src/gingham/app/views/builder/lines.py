"""The typed lines, chords and pattern: what cannot be read is underlined and changes nothing."""

from __future__ import annotations

import re

from gingham.app.views.builder.pictures import Pictures
from gingham.app.widgets.speaking import announce
from gingham.app.widgets.typed_line import show_fault
from gingham.core.errors import GinghamError, InputError, PatternError
from gingham.core.fitting.result import Result
from gingham.core.fitting.strings_in import has_strings
from gingham.core.patterns.pattern import Pattern, Variant
from gingham.core.patterns.shorthand import parse_pattern, print_pattern, print_picks, print_variant
from gingham.core.pieces.chordline import ChordLine, parse_chord_line, print_chord_line
from gingham.core.pieces.edits import set_chords
from gingham.core.pieces.form_edits import reshape_bar
from gingham.core.pieces.piece import standing_rules
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.actions import key_of
from gingham.words.form import line_text
from gingham.words.notices import notice


class Lines:
    """Reads what is typed while it is typed; shows the piece's text when it changes elsewhere."""

    def __init__(self, build: Pictures) -> None:
        self._build = build
        self._chords, self._words = build.view.chords, build.view.bar.words
        self._chords_message, self._words_message = build.view.chords_message, build.view.words_message
        self._fit_fault = False
        self._seen: tuple[object, object] = (None, None)
        self._had: frozenset[str] | None = None
        self._typing = False
        """Whether the edit that is under way comes from the pattern line itself."""
        self._chords.textEdited.connect(self._chords_typed)
        self._words.textEdited.connect(self._words_typed)
        for line, show in ((self._chords, self._show_chords), (self._words, self._show_words)):
            line.left.connect(lambda line=line, show=show: self._left(line.fault is None, show))
            line.given_up.connect(show)

    def forget(self) -> None:
        """Another piece or section: whatever stands in the lines is not of it."""
        self._seen = (None, None)
        self._had = None

    # Typing.

    def _chords_typed(self, text: str) -> None:
        build = self._build
        try:
            chords = parse_chord_line(text, build.shown.piece.meter) if text.strip() else ChordLine(())
        except InputError as error:
            self._fit_fault = False
            show_fault(self._chords, self._chords_message, error, aloud=False)
            return
        self._fit_fault = False
        show_fault(self._chords, self._chords_message, None)
        chords = self._in_own_shapes(chords)
        build.shown.edit(
            tr("Chords"), set_chords(build.shown.piece, build.shown.section, chords), merge="chords"
        )

    def _in_own_shapes(self, chords: ChordLine) -> ChordLine:
        """The player's own shapes on chords that have come into the piece since the typing began."""
        shown = self._build.shown
        if not shown.own_shapes:
            return chords
        from gingham.core.pieces.way import in_own_shapes  # for players who have some

        piece = shown.piece
        if self._had is None:
            self._had = frozenset(chord.text for chord in piece.chords())
        return in_own_shapes(chords, self._had, shown.own_shapes, piece.instrument, piece.capo)

    def _words_typed(self, text: str) -> None:
        build = self._build
        try:
            pattern = self._meant(self._typed_pattern(text))
            after = reshape_bar(
                build.shown.piece, build.shown.section, build.shown.cursor_bar() or 1, pattern
            )
        except InputError as error:
            shown = (
                error
                if error.end is not None
                else error.marked(0, len(text.split()[0]) if text.split() else 0)
            )
            show_fault(self._words, self._words_message, shown, aloud=False)
            return
        show_fault(self._words, self._words_message, None)
        self._typing = True
        build.shown.edit(tr("Pattern in words"), after, merge="words")

    def _typed_pattern(self, text: str) -> Pattern:
        """The pattern with what is typed: all of it, or a version alone (`when D: …`); other versions stay.

        PatternError with the place in `text`.
        """
        now = self._build.shown.piece.pattern(self._build.shown.pattern_name())
        lines = re.sub(r"\s(?=(?:when|pick)\s)", "\n", text)
        base = print_pattern(replace(now, variants=(), read_on="", picks=())) + "\n"
        begin = len(base) if lines.lstrip().startswith("when") else 0
        typed = set(re.findall(r"when\s+([^\s:]+)", text))
        kept = [print_variant(variant) for variant in now.variants if variant.when not in typed]
        if now.picks and "\npick" not in lines:
            kept.append(print_picks(now.picks))
        try:
            return parse_pattern("\n".join([base[:begin] + lines, *kept]))
        except PatternError as error:
            if error.end is None:
                raise
            start, end = error.start - begin, error.end - begin
            raise error.marked(*((start, end) if 0 <= start < len(text) else (0, len(text)))) from error

    def _meant(self, pattern: Pattern) -> Pattern:
        """Bare strings are meant on the chord under the cursor, and read there again when rules change."""
        if not has_strings(pattern):
            return pattern
        before = self._build.shown.piece.pattern(self._build.shown.pattern_name())
        if before.read_on and before.slots == pattern.slots:
            return replace(pattern, read_on=before.read_on)
        assignment = self._build.shown.assignment()
        return pattern if assignment is None else replace(pattern, read_on=assignment.chord.text)

    def _picked(self, tokens: tuple[str, ...]) -> Pattern | None:
        """The pattern with the ways of a flat pick that were said; None if that is not what was said."""
        shown = self._build.shown
        now = shown.piece.pattern(shown.pattern_name())
        ways = {"d": "down", "u": "up"}
        plucks = sum(1 for slot in now.slots if slot)
        hand = standing_rules(shown.piece, shown.section).hand
        if hand != "pick" or not set(tokens) <= set(ways) or plucks % len(tokens):
            return None
        return parse_pattern(
            f"{print_pattern(replace(now, picks=()))}\npick {' '.join(ways[t] for t in tokens)}"
        )

    def _left(self, readable: bool, show: object) -> None:
        """The player has finished: the next edit is a new step, the text gets its usual form."""
        self._build.shown.end_gesture()
        self._had = None
        if not readable and show == self._show_words:
            self._read_as_said(self._words.text())
            return
        if readable and callable(show):
            show()
        if not readable:
            message = self._chords_message if show == self._show_chords else self._words_message
            announce(message, message.text())
        elif show == self._show_chords:
            section = self._build.shown.piece.sections[self._build.shown.section]
            announce(
                self._chords,
                tr(
                    "{line}. {shortcut} goes to the picture",
                    line=line_text(section),
                    shortcut=key_of("go-result"),
                ),
            )

    def finish(self) -> None:
        """What has been said in the pattern line is to be heard: read it now, the keyboard stays there."""
        if self._words.hasFocus() and self._words.fault is not None:
            self._read_as_said(self._words.text())

    def _read_as_said(self, text: str) -> None:
        """Words of any school in the pattern line: the likeliest reading is taken, and said."""
        from gingham.core.patterns.said import read_said  # only for a line that is no shorthand
        from gingham.words.saying import count_words

        shown = self._build.shown
        piece = shown.piece
        try:
            said = read_said(text, piece.instrument, piece.meter)
            pattern = self._picked(said.tokens) or self._meant(said.ways[0].pattern)
            after = reshape_bar(piece, shown.section, shown.cursor_bar() or 1, pattern)
        except (GinghamError, IndexError) as error:
            if isinstance(error, PatternError) and ":" not in text:  # words: what is no word is the fault
                show_fault(self._words, self._words_message, error)
            return  # the fault of the shorthand stays where it is marked
        show_fault(self._words, self._words_message, None)
        shown.edit(tr("Pattern as said"), after)
        self._show_words()
        shown.notice.emit(notice("said-as", pattern=print_pattern(pattern), count=count_words(pattern)))

    # Showing.

    def refresh(self) -> None:
        """Show the piece's texts, unless what stands there says the same already."""
        piece, section = self._build.shown.piece, self._build.shown.piece.sections[self._build.shown.section]
        pattern = piece.pattern(self._build.shown.pattern_name())
        before, self._seen = self._seen, (section.chords, (pattern, self._version()))
        if before[0] != section.chords and not self._says_chords(section.chords):
            self._show_chords()
        typing, self._typing = self._typing or self._words.hasFocus(), False
        if before[1] != self._seen[1] and not (typing and self._says_pattern()):
            self._show_words()

    def _says_chords(self, chords: ChordLine) -> bool:
        try:
            return parse_chord_line(self._chords.text(), self._build.shown.piece.meter) == chords
        except InputError:
            return False

    def _says_pattern(self) -> bool:
        pattern = self._build.shown.piece.pattern(self._build.shown.pattern_name())
        try:
            read = self._typed_pattern(self._words.text())
        except InputError:
            return False
        return replace(read, read_on=pattern.read_on, variants=_sorted(read)) == replace(
            pattern, variants=_sorted(pattern)
        )

    def _version(self) -> Variant | None:
        """The version of the pattern that the chord under the cursor plays."""
        assignment = self._build.shown.assignment()
        pattern = self._build.shown.piece.pattern(self._build.shown.pattern_name())
        when = assignment.variant if assignment is not None else None
        return next((variant for variant in pattern.variants if variant.when == when), None)

    def _show_chords(self) -> None:
        self._chords.show_text(
            print_chord_line(self._build.shown.piece.sections[self._build.shown.section].chords)
        )
        show_fault(self._chords, self._chords_message, None)
        if self._build.shown.result is not None:
            self.fitted(self._build.shown.result)

    def _show_words(self) -> None:
        piece = self._build.shown.piece
        pattern = piece.pattern(self._build.shown.pattern_name())
        version = self._version()
        picks = f" {print_picks(pattern.picks)}" if pattern.picks else ""
        line = print_pattern(pattern).split("\n")[0] + picks if version is None else print_variant(version)
        self._words.show_text(line)
        show_fault(self._words, self._words_message, None)

    # Faults that only fitting finds.

    def show_fit_fault(self, error: GinghamError) -> None:
        """The piece could not be fitted at all."""
        self._fit_fault = True
        show_fault(self._chords, self._chords_message, error)

    def fitted(self, result: Result) -> None:
        """A pinned shape that the instrument has no places for is marked where it stands in the line."""
        if self._chords.fault is not None and not self._fit_fault:
            return  # what is typed just now cannot be read: that comes first
        problem = result.misfits[0] if result.misfits else None
        if problem is not None:
            self._fit_fault = True
            values = dict(problem.values)
            token = f"{{{values['text']}}}"
            start = self._chords.text().find(token)
            error = InputError(
                problem.code, start=0, end=None, **values
            )  # a shape spelled with commas: the whole line
            shown = error if start < 0 else error.marked(start, start + len(token))
            show_fault(self._chords, self._chords_message, shown)
        elif self._fit_fault:
            self._fit_fault = False
            show_fault(self._chords, self._chords_message, None)


def _sorted(pattern: Pattern) -> tuple[Variant, ...]:
    """The versions in one order: which was typed first does not matter."""
    return tuple(sorted(pattern.variants, key=lambda variant: variant.when))
