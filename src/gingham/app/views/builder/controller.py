"""The Build view's controller: what is shown, as pictures on one axis; the cell cursor, the playhead."""

from __future__ import annotations

from PySide6.QtCore import QObject, QSignalBlocker

from gingham.app.look.theme import SIZES
from gingham.app.session.shown import Cursor, Shown
from gingham.app.views.builder.choices import Choices
from gingham.app.views.builder.gestures import Gestures
from gingham.app.views.builder.lines import Lines
from gingham.app.views.builder.pattern_canvas import pattern_at
from gingham.app.views.builder.pattern_edits import PatternEdits
from gingham.app.views.builder.setup_edits import SetupEdits
from gingham.app.views.builder.strings_canvas import string_notes
from gingham.app.views.builder.view import BuildView
from gingham.app.widgets.geometry import Axis, Column
from gingham.core.fitting.result import Assignment
from gingham.core.fitting.whole import with_blank_bars
from gingham.core.pieces.edits import remove_override
from gingham.core.pieces.piece import Override
from gingham.words.names import signs
from gingham.words.piece_text import about_text, tempo_text
from gingham.words.saying import script, variant_text


class BuildController(QObject):
    """Joins what is shown with the Build view."""

    def __init__(self, view: BuildView, shown: Shown, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.view, self.shown = view, shown
        self.axis: Axis | None = None
        self.column = 0
        self._document: object = None
        self._section = -1
        self._about: tuple[object, ...] = ()
        self.lines = Lines(self)
        self.choices = Choices(self)
        self.setup_edits = SetupEdits(self)
        self.gestures = Gestures(self)
        self.pattern_edits = PatternEdits(self)
        self._connect()

    def _connect(self) -> None:
        view, shown = self.view, self.shown
        shown.piece_changed.connect(self.refresh)
        shown.fitted.connect(self._fitted)
        shown.settled.connect(self._settled)
        shown.limited.connect(self._limited)
        shown.failed.connect(self.lines.show_fit_fault)
        shown.judged.connect(self._judged)
        shown.span_wanted.connect(self._go_to_span)
        view.reasons.fix_wanted.connect(shown.take_fix)
        for canvas in (view.result, view.pattern):
            canvas.column_chosen.connect(self.set_column)
            canvas.scrolled.connect(lambda by: view.scroll_bar.setValue(view.scroll_bar.value() + round(by)))
        view.cards.chosen.connect(shown.select_span)
        view.sections.activated.connect(shown.select_section)
        view.bar.script.activated.connect(lambda _index: self._show_script())
        view.scroll_bar.valueChanged.connect(self._scrolled)
        view.reasons.rule_wanted.connect(self.back_to_rule)

    # The piece.

    def back_to_rule(self, override: Override) -> None:
        """Take one exception away."""
        self.shown.edit("Back to the rule", remove_override(self.shown.piece, override))

    def refresh(self) -> None:
        """The piece has changed: show its texts."""
        shown = self.shown
        if (shown.document, shown.section) != (self._document, self._section):
            if shown.document is not self._document:
                self.view.ask.leave()
            self._document, self._section = shown.document, shown.section
            self.lines.forget()
        self.lines.refresh()
        self.choices.refresh()
        self.setup_edits.refresh()
        self._show_sections()
        self._show_about()
        self.view.bar.show_tempo(shown.piece.tempo, tempo_text(shown.piece))

    def _show_about(self) -> None:
        """The piece in one line; guessing its key takes time, so only when what it depends on has changed."""
        piece = self.shown.piece
        made_of = (piece.sections, piece.instrument, piece.capo, piece.meter, piece.key)
        if made_of != self._about:
            self._about = made_of
            self.view.about.show_whole(about_text(piece))

    def _show_sections(self) -> None:
        box = self.view.sections
        names = [f"{s.name} ×{s.repeats}" if s.repeats > 1 else s.name for s in self.shown.piece.sections]
        with QSignalBlocker(box):
            if [box.itemText(i) for i in range(box.count())] != names:
                box.clear()
                box.addItems(names)
            box.setCurrentIndex(self.shown.section)

    # The result.

    def _fitted(self) -> None:
        """The picture comes first, words and cards after it."""
        result = self.shown.result
        assert result is not None
        shown = with_blank_bars(result)
        if self.axis is None or not self.axis.suits(shown):
            self.axis = Axis(shown, SIZES.slot)
        self._keep_cursor()
        for canvas in (self.view.result, self.view.pattern):
            canvas.show_result(shown, self.axis)
            canvas.set_column(self.column)
        for canvas in (self.view.result, self.view.pattern):
            canvas.show_now()

    def _keep_cursor(self) -> None:
        """The column of the cursor's place, which may be another one now, with another chord."""
        assert self.axis is not None
        cursor = self.shown.cursor
        self.column = self.axis.column_before(cursor.bar, cursor.at) or 0
        place = self.place()
        self.shown.cursor = Cursor(cursor.bar, cursor.at, place.span if place is not None else -1)

    def _settled(self) -> None:
        """What follows the picture: words and cards."""
        result = self.shown.result
        assert result is not None
        self.lines.fitted(result)
        self.view.lane_names.refresh()
        self.pattern_edits.refresh(result.pattern)
        self.view.cards.show_result(result)
        self._show_scroll_range()
        self._keep_cursor()
        self._show_cursor()

    def _limited(self) -> None:
        if self.shown.result is not None:
            self.view.reasons.show_limit(self.shown.result, self.shown.limit)

    def _judged(self) -> None:
        if self.shown.verdict is not None:
            self.view.pattern.show_slow(self.shown.verdict.slot)
            self.view.reasons.show_verdict(self.shown.verdict)

    # The cell cursor and the chord it is on.

    def place(self, column: int | None = None) -> Column | None:
        """The column of the cursor, or of an index; None if there is none."""
        index = self.column if column is None else column
        if self.axis is None or not 0 <= index < len(self.axis.columns):
            return None
        return self.axis.columns[index]

    def set_column(self, column: int) -> None:
        """Put the cell cursor of both pictures into a column."""
        place, shown = self.place(column), self.shown
        if place is None:
            return
        before = shown.pattern_name()
        self.column, shown.cursor = column, Cursor(place.bar, place.at, place.span)
        self._paint_cursor()
        self._show_cursor()
        if before != shown.pattern_name():
            self.lines.refresh()
        self._bring_into_sight(place.x, place.width)

    def _go_to_span(self, index: int) -> None:
        if self.axis is not None:
            found = next((i for i, c in enumerate(self.axis.columns) if c.span == index), None)
            if found is not None:
                self.set_column(found)

    def _paint_cursor(self) -> None:
        """The cursor in both pictures at once; words about what it is on come after it."""
        view = self.view
        for canvas in (view.result, view.pattern):
            canvas.set_column(self.column)
        view.result.set_span(self.shown.span_index())
        for canvas in (view.result, view.pattern):
            canvas.show_now()

    def _show_cursor(self) -> None:
        view, span, on = self.view, self.shown.span_index(), self.shown.assignment()
        for canvas in (view.result, view.pattern):
            canvas.set_column(self.column)
        view.result.set_span(span)
        view.cards.set_current(span)
        self.choices.show_chord(on)
        chord = signs(on.chord.text) if on is not None else ""
        view.strings_title.setText(f"Strings for {chord}" if chord else "Strings")
        instrument = self.shown.piece.instrument
        opens = {string: instrument.open_midi(string) for string in range(1, instrument.strings + 1)}
        names = {string: signs(str(instrument.tuning[instrument.strings - string].note)) for string in opens}
        view.strings.show_assignment(on, string_notes(on, opens), names)
        view.lane_names.show_note(self._pattern_note(on))
        self._show_script()
        if self.shown.result is not None:
            view.reasons.show_chord(self.shown.result, max(0, span))
        self._show_count()
        self.shown.cursor_moved.emit()

    def _pattern_note(self, on: Assignment | None) -> str:
        """Which version of which pattern is edited here, where it is not the section's own."""
        name = self.shown.pattern_name()
        own = f"{name}, this bar" if name != self.shown.piece.sections[self.shown.section].pattern else ""
        version = variant_text(on.variant) if on is not None and on.variant else ""
        return " · ".join(part for part in (own, version) if part)

    def _show_script(self) -> None:
        """The pattern as it is said on the chosen chord."""
        if self.shown.result is not None:
            kind, piece, on = self.view.bar.script.currentData(), self.shown.piece, self.shown.assignment()
            here = self.place()
            shown = self.shown.result.pattern if here is None else pattern_at(self.shown.result, here)
            pattern = shown.as_variant(on.variant if on is not None else None)
            reading = self.view.theme.reading
            words = script(kind, pattern, on, piece.instrument, reading, piece.rules.hand)
            self.view.bar.say.show_whole(words)

    def _show_count(self, column: int | None = None) -> None:
        """The count of a column's bar; of the cursor's bar while nothing plays."""
        place = self.place(column)
        if place is not None and self.axis is not None:
            box = self.axis.bars[place.box]
            inside = self.axis.columns[box.first : box.last + 1]
            self.view.bar.count.show_bar(tuple((c.syllable, c.on_beat) for c in inside))

    # Scrolling and playing.

    def _show_scroll_range(self) -> None:
        bar, width = self.view.scroll_bar, self.view.result.width()
        most = max(0, round(self.axis.width - width) + 1) if self.axis is not None else 0
        bar.setRange(0, most)
        bar.setEnabled(most > 0)
        bar.setPageStep(width)
        bar.setSingleStep(round(SIZES.slot))

    def _scrolled(self, value: int) -> None:
        for canvas in (self.view.result, self.view.pattern):
            canvas.set_offset(float(value))

    def _bring_into_sight(self, x: float, width: float) -> None:
        bar, seen = self.view.scroll_bar, self.view.result.width()
        self._show_scroll_range()
        if x < bar.value():
            bar.setValue(round(x - SIZES.slot))
        elif x + width > bar.value() + seen:
            bar.setValue(round(x + width + SIZES.slot - seen))

    def show_playhead(self, bar: int, inside: float) -> None:
        """Where the music is: bar number and whole notes inside it."""
        x = self.axis.x_of(bar, inside) if self.axis is not None else None
        if x is None or self.axis is None:
            return
        for canvas in (self.view.result, self.view.pattern):
            canvas.set_playhead(x)
        shift = x - self.view.scroll_bar.value()
        if not 0 <= shift <= self.view.result.width() * 0.9:
            self.view.scroll_bar.setValue(round(x - SIZES.slot))
        column = self.axis.column_at(x)
        if column is not None:
            self._show_count(column)
            self.view.bar.count.show_now(column - self.axis.bars[self.axis.columns[column].box].first)

    def hide_playhead(self) -> None:
        """The music has stopped."""
        for canvas in (self.view.result, self.view.pattern):
            canvas.set_playhead(None)
        self.view.bar.count.show_now(None)
        self._show_count()
