"""Edits of the pattern's grid: chosen places, halves, rotation, places per beat, signs of the shorthand.

Each is one undo step. What changes strokes is done to the pattern as the chord under the cursor plays it (a
variant where there is one); what changes the grid is done to the pattern with all its variants.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable

from PySide6.QtWidgets import QApplication

from gingham.app.views.builder.gestures import Gestures
from gingham.app.views.builder.pattern_canvas import pattern_at, played
from gingham.app.views.builder.pictures import Pictures
from gingham.app.widgets.geometry import Column
from gingham.core.errors import GinghamError
from gingham.core.fitting.result import Result
from gingham.core.numbers import is_whole
from gingham.core.patterns import grid
from gingham.core.patterns.pattern import OrnamentKind, Pattern, Slot, Sweep, SweepKind, Variant
from gingham.core.patterns.shorthand import print_slot, read_slot
from gingham.core.pieces.form_edits import add_fill, reshape_bar, set_bar_pattern, set_chord_variant
from gingham.language import tr
from gingham.words.names import places_name, signs
from gingham.words.notices import notice

_SWEEPS: dict[str, SweepKind] = {"d": "brush-down", "u": "brush-up", "~": "thumb-brush", "k": "chuck"}
_SWEEP_NAMES = {"d": tr("Brush"), "u": tr("Up-brush"), "~": tr("Thumb brush"), "k": tr("Chuck")}
_ORNAMENTS: dict[str, OrnamentKind] = {"^": "hammer", "_": "pull", ">": "slide"}
_ORNAMENT_NAMES = {"^": tr("Hammer-on"), "_": tr("Pull-off"), ">": tr("Slide")}
_SLIDE_BY = 2


class PatternEdits:
    """What the Pattern menu and the keys of the pattern do."""

    def __init__(self, build: Pictures, gestures: Gestures) -> None:
        self._build = build
        canvas = self._canvas = build.view.pattern
        canvas.sign_typed.connect(self.sign)
        canvas.shift_wanted.connect(self.shift)
        canvas.edit_wanted.connect(lambda what: getattr(self, what)())
        canvas.accent_wanted.connect(
            lambda at: gestures.accent(at) if canvas.anchor is None else self.accent()
        )
        canvas.rest_wanted.connect(lambda at: gestures.rest(at) if canvas.anchor is None else self.clear())
        build.view.per_beat.activated.connect(self._per_beat_chosen)

    # What is chosen.

    def _here(self) -> tuple[Result, Column] | None:
        """The shown result and the cursor's column, if the picture shows the present piece."""
        result, column = self._canvas.result, self._build.place()
        if result is None or column is None or result.piece is not self._build.shown.piece:
            return None
        return result, column

    def _slots(self) -> tuple[int, int]:
        """The chosen places of the pattern (end exclusive), cut where the pattern comes round."""
        chosen = self._canvas.chosen()
        columns = [place for place in map(self._build.place, chosen) if place is not None]
        if not columns:  # what was chosen lay in a longer section
            here = self._build.place()
            if here is None:
                return 0, 0
            columns = [here]
        first = columns[0].slot
        count = 1
        while count < len(columns) and columns[count].slot == first + count:
            count += 1
        return first, first + count

    # The two ways of editing.

    def _strokes(self, text: str, change: Callable[[Pattern], Pattern]) -> None:
        """Change strokes: of the pattern as the chord under the cursor plays it."""
        here = self._here()
        if here is None:
            return
        result, column = here
        assignment = result.spans[column.span].assignment
        when = assignment.variant if assignment is not None else None
        self._edit(text, lambda whole: whole.with_variant(when, change(played(result, column)).slots))

    def _edit(self, text: str, change: Callable[[Pattern], Pattern]) -> None:
        """Change the whole pattern; a fault is said and nothing changes."""
        here = self._here()
        if here is None:
            return
        build = self._build
        try:
            after = reshape_bar(
                build.shown.piece, build.shown.section, here[1].bar, change(pattern_at(*here))
            )
        except GinghamError as error:
            build.shown.say_fault(error)
        else:
            build.shown.edit(text, after)

    # Chosen places.

    def all(self) -> None:
        """Choose the whole pattern where the cursor is."""
        here = self._here()
        if here is not None:
            first = self._build.column - here[1].slot
            self._canvas.choose(
                max(0, first), min(first + len(pattern_at(*here).slots), self._last() + 1) - 1
            )

    def _last(self) -> int:
        axis = self._build.axis
        return len(axis.columns) - 1 if axis is not None else 0

    def copy(self) -> None:
        """Put the chosen places on the clipboard, as shorthand."""
        here = self._here()
        if here is not None:
            first, end = self._slots()
            words = " ".join(map(print_slot, played(*here).slots[first:end]))
            QApplication.clipboard().setText(words)
            self._build.shown.notice.emit(notice("copied-words", words=words))

    def cut(self) -> None:
        """Copy the chosen places and make them rests."""
        self.copy()
        self.clear()

    def paste(self) -> None:
        """The places of the clipboard over those from the cursor on."""
        words = QApplication.clipboard().text().split()
        try:
            slots: tuple[Slot, ...] = tuple(() if w == "." else read_slot(w) for w in words if w not in ";|")
        except GinghamError as error:
            self._build.shown.say_fault(error)
            return
        if slots:
            first = self._slots()[0]
            self._strokes(tr("Paste"), lambda pattern: grid.pasted(pattern, first, slots))

    def clear(self) -> None:
        """Rests in the chosen places."""
        first, end = self._slots()
        self._strokes(tr("Rest"), lambda pattern: grid.cleared(pattern, first, end))

    def insert(self) -> None:
        """A rest before the cursor; the pattern gets longer."""
        first, end = self._slots()
        self._edit(tr("Insert places"), lambda pattern: grid.with_inserted(pattern, first, end - first))

    def delete(self) -> None:
        """Without the chosen places; the pattern gets shorter."""
        first, end = self._slots()
        self._edit(tr("Delete places"), lambda pattern: grid.with_deleted(pattern, first, end))
        self._canvas.anchor = None

    def accent(self) -> None:
        """One accent more on all chosen places."""
        first, end = self._slots()
        self._strokes(tr("Accent"), lambda pattern: grid.accented_in(pattern, first, end))

    def turn_round(self) -> None:
        """The chosen places, or the whole pattern if none are chosen, in reverse order."""
        first, end = self._slots()

        def change(pattern: Pattern) -> Pattern:
            whole = end - first < 2
            return grid.turned_round(pattern, 0 if whole else first, len(pattern.slots) if whole else end)

        self._strokes(tr("Turn round"), change)

    # The whole pattern.

    def rotate(self, by: int) -> None:
        """Every stroke a place later or earlier, the ends meeting."""
        self._strokes(tr("Later") if by > 0 else tr("Earlier"), lambda pattern: grid.rotated(pattern, by))

    def half_again(self) -> None:
        """The second half plays what the first half plays."""
        self._strokes(tr("First half again"), grid.first_half_again)

    def swap_halves(self) -> None:
        """The second half first."""
        self._strokes(tr("Swap halves"), grid.halves_swapped)

    def twice(self) -> None:
        """The pattern twice, as one that can differ the second time."""
        self._edit(tr("Twice"), grid.twice)

    def _per_beat_chosen(self, index: int) -> None:
        self.set_per_beat(self._build.view.per_beat.itemData(index))

    def set_per_beat(self, count: int) -> None:
        """Other places per counted beat; the cursor's beat alone while places are chosen."""
        here = self._here()
        if here is None:
            return
        result, column = here
        counts: tuple[int, ...] = (count,)
        if self._canvas.anchor is not None:
            counts = self._one_beat(result, column, count)
        found = None

        def change(pattern: Pattern) -> Pattern:
            nonlocal found
            found = grid.regridded(pattern, counts)
            return found.pattern

        self._edit(tr("Places per beat"), change)
        if found is not None and found.moved:
            moved = len(found.moved)
            text = (
                tr("one pluck has no place")
                if moved == 1
                else tr("{moved} plucks have no place", moved=moved)
            )
            self._build.shown.notice.emit(notice("moved-before", words=text))

    def _one_beat(self, result: Result, column: Column, count: int) -> tuple[int, ...]:
        """The slot counts with another one for the counted beat under the cursor."""
        pattern = pattern_at(result, column)
        meter, old = pattern.meter, pattern.per_beat
        wide = list(old * len(meter.groups) if len(old) == 1 else old)
        wide[bisect_right(meter.beat_starts, column.at) - 1] = count
        return tuple(wide[:1]) if len(set(wide)) == 1 else tuple(wide)

    # Signs of the shorthand.

    def sign(self, sign: str) -> None:
        """A brush, chuck, ornament or break point at the cursor, as its sign is typed."""
        here = self._here()
        if here is None:
            return
        slot = here[1].slot
        if sign == ";":
            self._edit(tr("Break point"), lambda pattern: grid.with_break(pattern, slot))
        elif sign in _SWEEPS:
            self._strokes(_SWEEP_NAMES[sign], lambda pattern: grid.swept(pattern, slot, _SWEEPS[sign]))
        else:
            finger = self._canvas.finger
            fret = self._slide_fret(finger) if sign == ">" else None
            self._strokes(
                _ORNAMENT_NAMES[sign],
                lambda pattern: grid.ornamented(pattern, slot, finger, _ORNAMENTS[sign], fret),
            )

    def _slide_fret(self, finger: str) -> int:
        """Two frets above where the finger's string is held."""
        here = self._here()
        if here is None:
            return _SLIDE_BY
        events = here[0].bars[here[1].box].events
        held = next((e.fret for e in events if e.at == here[1].at and e.finger == finger), None)
        return (held or 0) + _SLIDE_BY

    def shift(self, by: int) -> None:
        """The finger's pluck at the cursor on the next string, or a sweep one string further."""
        here = self._here()
        if here is None:
            return
        result, column = here
        strings = result.piece.instrument.strings
        slot = played(result, column).slots[column.slot]
        if any(isinstance(stroke, Sweep) for stroke in slot):
            self._strokes(tr("Strings"), lambda p: grid.sweep_over(p, column.slot, 0, by, strings))
        else:
            finger = self._canvas.finger
            self._strokes(tr("String over"), lambda p: grid.shifted_by(p, column.slot, finger, by))

    # Variants.

    def variant(self) -> None:
        """A version of the pattern for chords with their bass on this chord's string, or none any more."""
        here = self._here()
        assignment = here[0].spans[here[1].span].assignment if here is not None else None
        if here is None or assignment is None or not assignment.basses:
            return
        when = assignment.variant or str(assignment.basses[0].string)

        def change(pattern: Pattern) -> Pattern:
            if any(v.when == when for v in pattern.variants):
                rest = tuple(v for v in pattern.variants if v.when != when)
                return Pattern(pattern.meter, pattern.per_beat, pattern.slots, pattern.breaks, rest)
            own = (*pattern.variants, Variant(when, pattern.slots))
            return Pattern(pattern.meter, pattern.per_beat, pattern.slots, pattern.breaks, own)

        had = assignment.variant is not None
        self._edit(tr("Version"), change)
        what = (
            tr("chords with the bass on string {when}", when=when)
            if is_whole(when)
            else tr("every {when}", when=when)
        )
        done = (
            tr("play the pattern itself again.")
            if had
            else tr("now have a version of their own: edit it here.")
        )
        self._build.shown.notice.emit(f"{what[:1].upper()}{what[1:]} {done}")

    def chord_variant(self) -> None:
        """A version of the pattern for the cursor's chord, or none any more."""
        build, assignment = self._build, self._build.shown.assignment()
        if assignment is None:
            return
        bar, symbol = build.shown.cursor_bar() or 1, assignment.chord.text
        had = any(v.when == symbol for v in build.shown.piece.pattern(build.shown.pattern_name()).variants)
        build.shown.edit(
            tr("Version"), set_chord_variant(build.shown.piece, build.shown.section, bar, symbol)
        )
        done = (
            tr("plays the pattern itself again.")
            if had
            else tr("now has a version of its own: edit it here.")
        )
        build.shown.notice.emit(f"{signs(symbol)} {done}")

    def own_bar(self) -> None:
        """Strokes of its own for the cursor's bar, or the section's pattern again."""
        build, bar = self._build, self._build.shown.cursor_bar()
        if not bar:
            build.shown.notice.emit(notice("pick-up-no-bar"))
            return
        section = build.shown.piece.sections[build.shown.section]
        try:
            if section.pattern_in(bar) != section.pattern:
                after = set_bar_pattern(build.shown.piece, build.shown.section, bar, None)
                words = tr("Bar {bar} plays {pattern} again.", bar=bar, pattern=section.pattern)
            else:
                after = add_fill(build.shown.piece, build.shown.section, bar)
                words = tr("Bar {bar} now has plucks of its own: edit them here.", bar=bar)
                if bar < len(section.chords.bars):
                    words += tr(" The next bar is {pattern_in}.", pattern_in=section.pattern_in(bar + 1))
        except GinghamError as error:
            build.shown.say_fault(error)
        else:
            build.shown.edit(tr("A bar of its own"), after)
            build.shown.notice.emit(words)

    # Showing.

    def refresh(self, pattern: Pattern) -> None:
        """Show the pattern's places per beat."""
        box, counts = self._build.view.per_beat, set(pattern.per_beat)
        for row in range(box.count()):
            box.setItemText(row, places_name(box.itemData(row), pattern.meter))
        index = box.findData(next(iter(counts))) if len(counts) == 1 else -1
        box.blockSignals(True)
        box.setCurrentIndex(index)
        box.blockSignals(False)
