"""The Build view's controller: the shown piece, its newest result, the cell cursor, the playhead."""

from __future__ import annotations

from fractions import Fraction

from PySide6.QtCore import QObject, QSignalBlocker, QTimer, Signal

from gingham.app.look.theme import SIZES
from gingham.app.session.document import Document
from gingham.app.session.fitter import Fitter, Judge, Verdict
from gingham.app.views.builder.choices import Choices
from gingham.app.views.builder.gestures import Gestures
from gingham.app.views.builder.lines import Lines
from gingham.app.views.builder.pattern_canvas import pattern_at
from gingham.app.views.builder.pattern_edits import PatternEdits
from gingham.app.views.builder.setup_edits import SetupEdits
from gingham.app.views.builder.strings_canvas import string_notes
from gingham.app.views.builder.view import BuildView
from gingham.app.widgets.geometry import Axis, Column
from gingham.core.errors import GinghamError
from gingham.core.fitting.result import Assignment, Result
from gingham.core.fitting.whole import with_blank_bars
from gingham.core.judging.speed import Limit
from gingham.core.pieces.edits import remove_override, reshape_pattern
from gingham.core.pieces.piece import Override, Piece
from gingham.words.errors import say
from gingham.words.names import signs
from gingham.words.piece_text import about_text, tempo_text
from gingham.words.saying import script, variant_text

_JUDGE_MS = 250
_TELL_MS = 8  # the window looks up between picture and words


class BuildController(QObject):
    """Joins document, fitter and view. Every edit goes through `edit`."""

    shown = Signal()
    """The picture shows the present piece."""
    cursor_moved = Signal()
    judged = Signal()
    """The verdict on the shown result has come."""
    notice = Signal(str)

    def __init__(self, view: BuildView, fitter: Fitter, judge: Judge, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.view, self.fitter, self.judge = view, fitter, judge
        self.document: Document | None = None
        self.section = 0
        self.result: Result | None = None
        self.limit = Limit(0, ())
        self.verdict: Verdict | None = None
        self._judge_later = QTimer(self)  # judging in full takes a moment: not at every key that is typed
        self._judge_later.setSingleShot(True)
        self._judge_later.setInterval(_JUDGE_MS)
        self._judge_later.timeout.connect(self._ask_judge)
        self.axis: Axis | None = None
        self.column = 0
        self._place: tuple[int, Fraction] = (1, Fraction(0))
        self._tell_soon = QTimer(self)
        self._tell_soon.setSingleShot(True)
        self._tell_soon.setInterval(_TELL_MS)
        self._tell_soon.timeout.connect(self._tell)
        self._about: tuple[object, ...] = ()
        self.lines = Lines(self)
        self.choices = Choices(self)
        self.setup_edits = SetupEdits(self)
        self.gestures = Gestures(self)
        self.pattern_edits = PatternEdits(self)
        self._connect()

    def _connect(self) -> None:
        view = self.view
        self.fitter.fitted.connect(self._fitted)
        self.fitter.limited.connect(self._limited)
        self.fitter.failed.connect(self._failed)
        self.judge.judged.connect(self._judged)
        view.reasons.fix_wanted.connect(self.take_fix)
        for canvas in (view.result, view.pattern):
            canvas.column_chosen.connect(self.set_column)
            canvas.scrolled.connect(lambda by: view.scroll_bar.setValue(view.scroll_bar.value() + round(by)))
        view.cards.chosen.connect(self.select_span)
        view.sections.activated.connect(self.select_section)
        view.bar.script.activated.connect(lambda _index: self._show_script())
        view.scroll_bar.valueChanged.connect(self._scrolled)
        view.reasons.rule_wanted.connect(self.back_to_rule)

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
        self.section, self.column, self._place = 0, 0, (1, Fraction(0))
        self.view.ask.leave()
        self.lines.forget()
        self.refresh()

    def edit(self, text: str, after: Piece, merge: str | None = None) -> None:
        """Make `after` the current piece as one undo step."""
        if self.document is not None:
            self.document.edit(text, after, merge)

    def end_gesture(self) -> None:
        """What comes next is an undo step of its own."""
        if self.document is not None:
            self.document.end_gesture()

    def back_to_rule(self, override: Override) -> None:
        """Take one exception away."""
        self.edit("Back to the rule", remove_override(self.piece, override))

    def refresh(self) -> None:
        """The piece has changed: show its texts now, its picture when it is fitted."""
        self.section = min(self.section, len(self.piece.sections) - 1)
        self.fitter.fit_soon(self.piece, self.section)
        self.lines.refresh()
        self.choices.refresh()
        self.setup_edits.refresh()
        self._show_sections()
        self._show_about()
        self.view.bar.show_tempo(self.piece.tempo, tempo_text(self.piece))

    def _show_about(self) -> None:
        """The piece in one line; guessing its key takes time, so only when what it depends on has changed."""
        piece = self.piece
        made_of = (piece.sections, piece.instrument, piece.capo, piece.meter, piece.key)
        if made_of != self._about:
            self._about = made_of
            self.view.about.show_whole(about_text(piece))

    def _show_sections(self) -> None:
        box = self.view.sections
        names = [f"{s.name} ×{s.repeats}" if s.repeats > 1 else s.name for s in self.piece.sections]
        with QSignalBlocker(box):
            if [box.itemText(i) for i in range(box.count())] != names:
                box.clear()
                box.addItems(names)
            box.setCurrentIndex(self.section)

    def select_section(self, index: int) -> None:
        """Show another section from its start."""
        if 0 <= index < len(self.piece.sections) and index != self.section:
            self.section = index
            self.column, self._place = 0, (1, Fraction(0))
            self.lines.forget()
            self.refresh()

    # The result.

    def _fitted(self, result: Result) -> None:
        if result.piece is not self.piece or result.section != self.section:
            return  # a newer piece is on its way
        self.result, self.verdict = result, None
        shown = with_blank_bars(result)
        if self.axis is None or not self.axis.suits(shown):
            self.axis = Axis(shown, SIZES.slot)
            self.column = self.axis.column_before(*self._place) or 0
        for canvas in (self.view.result, self.view.pattern):
            canvas.show_result(shown, self.axis)
            canvas.set_column(self.column)
        for canvas in (self.view.result, self.view.pattern):
            canvas.show_now()  # the picture comes first, words and cards after it
        self._tell_soon.start()

    def _tell(self) -> None:
        """What follows the picture: words, cards, judgement."""
        result = self.result
        if result is None or self.axis is None or result.piece is not self.piece:
            return  # a newer piece is on its way
        self._judge_later.start()
        self.lines.fitted(result)
        self.view.lane_names.refresh()
        self.pattern_edits.refresh(result.pattern)
        self.view.cards.show_result(result)
        self._show_scroll_range()
        self.column = self.axis.column_before(*self._place) or 0
        self._show_cursor()
        self.shown.emit()

    def _limited(self, result: Result, limit: Limit) -> None:
        if result is self.result:
            self.limit = limit
            self.view.reasons.show_limit(result, limit)

    def _ask_judge(self) -> None:
        if self.result is not None:
            self.judge.request(self.result)

    def _judged(self, verdict: Verdict) -> None:
        if verdict.result is self.result:
            self.verdict, self.limit = verdict, verdict.limit
            self.view.pattern.show_slow(verdict.slot)
            self.view.reasons.show_verdict(verdict)
            self.judged.emit()

    def take_fix(self) -> None:
        """Do what raises the top speed most."""
        verdict = self.verdict
        if verdict is None or verdict.fix is None or verdict.result.piece is not self.piece:
            return
        name = self.piece.sections[self.section].pattern
        self.edit("Faster", reshape_pattern(self.piece, name, verdict.fix.pattern))

    def _failed(self, piece: Piece, error: GinghamError) -> None:
        if piece is self.piece:
            self.lines.show_fit_fault(error)

    # The cell cursor and the chord it is on.

    def place(self, column: int | None = None) -> Column | None:
        """The column of the cursor, or of an index; None if there is none."""
        index = self.column if column is None else column
        if self.axis is None or not 0 <= index < len(self.axis.columns):
            return None
        return self.axis.columns[index]

    def set_column(self, column: int) -> None:
        """Put the cell cursor of both pictures into a column."""
        place = self.place(column)
        if place is None:
            return
        before, self.column, self._place = self.pattern_name(), column, (place.bar, place.at)
        self._paint_cursor()
        self._show_cursor()
        if before != self.pattern_name():
            self.lines.refresh()
        self._bring_into_sight(place.x, place.width)

    def span_index(self) -> int:
        """The chord under the cursor; −1 if there is none."""
        place = self.place()
        return place.span if place is not None and self.result is not None and self.result.spans else -1

    def assignment(self) -> Assignment | None:
        """The strings of the chord under the cursor."""
        index = self.span_index()
        return self.result.spans[index].assignment if self.result is not None and index >= 0 else None

    def select_span(self, index: int) -> None:
        """Put the cursor where a chord enters."""
        if self.axis is not None:
            found = next((i for i, c in enumerate(self.axis.columns) if c.span == index), None)
            if found is not None:
                self.set_column(found)

    def step_span(self, by: int) -> None:
        """The next chord, or the one before."""
        self.select_span(self.span_index() + by)

    def cursor_bar(self) -> int | None:
        """The number of the bar under the cursor; None in an empty section."""
        place = self.place()
        return place.bar if place is not None and self.result is not None and self.result.bars else None

    def _paint_cursor(self) -> None:
        """The cursor in both pictures at once; words about what it is on come after it."""
        view = self.view
        for canvas in (view.result, view.pattern):
            canvas.set_column(self.column)
        view.result.set_span(self.span_index())
        for canvas in (view.result, view.pattern):
            canvas.show_now()

    def _show_cursor(self) -> None:
        view, span, on = self.view, self.span_index(), self.assignment()
        for canvas in (view.result, view.pattern):
            canvas.set_column(self.column)
        view.result.set_span(span)
        view.cards.set_current(span)
        self.choices.show_chord(on)
        chord = signs(on.chord.text) if on is not None else ""
        view.strings_title.setText(f"Strings for {chord}" if chord else "Strings")
        instrument = self.piece.instrument
        opens = {string: instrument.open_midi(string) for string in range(1, instrument.strings + 1)}
        names = {string: signs(str(instrument.tuning[instrument.strings - string].note)) for string in opens}
        view.strings.show_assignment(on, string_notes(on, opens), names)
        view.lane_names.show_note(self._pattern_note(on))
        self._show_script()
        if self.result is not None:
            view.reasons.show_chord(self.result, max(0, span))
        self._show_count()
        self.cursor_moved.emit()

    def _pattern_note(self, on: Assignment | None) -> str:
        """Which version of which pattern is edited here, where it is not the section's own."""
        name = self.pattern_name()
        own = f"{name}, this bar" if name != self.piece.sections[self.section].pattern else ""
        version = variant_text(on.variant) if on is not None and on.variant else ""
        return " · ".join(part for part in (own, version) if part)

    def pattern_name(self) -> str:
        """The pattern of the cursor's bar: the section's, or the bar's own."""
        section = self.piece.sections[self.section]
        return section.pattern_in(self._place[0])

    def _show_script(self) -> None:
        """The pattern as it is said on the chosen chord."""
        if self.result is not None:
            kind, piece, on = self.view.bar.script.currentData(), self.piece, self.assignment()
            here = self.place()
            shown = self.result.pattern if here is None else pattern_at(self.result, here)
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

    def say_fault(self, error: GinghamError) -> None:
        """A fault that has no line of its own."""
        self.notice.emit(say(error))
