"""The Build view's controller: cards, words and choices around the pictures."""

from __future__ import annotations

from PySide6.QtCore import QObject, QSignalBlocker

from gingham.app.session.shown import Shown
from gingham.app.views.builder.choices import Choices
from gingham.app.views.builder.gestures import Gestures
from gingham.app.views.builder.lines import Lines
from gingham.app.views.builder.mapping import Mapping
from gingham.app.views.builder.pattern_canvas import pattern_at
from gingham.app.views.builder.pattern_edits import PatternEdits
from gingham.app.views.builder.pictures import Pictures
from gingham.app.views.builder.setup_edits import SetupEdits
from gingham.app.views.builder.strings_canvas import string_notes
from gingham.app.views.builder.view import BuildView
from gingham.core.fitting.result import Assignment
from gingham.language import tr
from gingham.words.names import signs
from gingham.words.piece_text import about_line, tempo_text
from gingham.words.saying import script, variant_text, without_grid


class BuildController(Pictures):
    """Joins what is shown with the whole Build view: pictures, cards, words, choices."""

    def __init__(self, view: BuildView, shown: Shown, parent: QObject | None = None) -> None:
        super().__init__(view, shown, parent)
        self._document: object = None
        self._section = -1
        self._named: tuple[str, str | None] = ("", None)
        self._about: tuple[object, ...] = ()
        self.lines = Lines(self)
        self.choices = Choices(self)
        self.setup_edits = SetupEdits(self)
        self.gestures = Gestures(self)
        self.pattern_edits = PatternEdits(self, self.gestures)
        self.mapping = Mapping(self, self)
        self._connect()

    def _connect(self) -> None:
        view, shown = self.view, self.shown
        shown.piece_changed.connect(self.refresh)
        shown.settled.connect(self._settled)
        shown.limited.connect(self._limited)
        shown.failed.connect(self.lines.show_fit_fault)
        shown.judged.connect(self._judged)
        shown.cursor_moved.connect(self._show_cursor)
        view.reasons.fix_wanted.connect(shown.take_fix)
        view.cards.chosen.connect(shown.select_span)
        view.sections.activated.connect(shown.select_section)
        view.bar.script.activated.connect(lambda _index: self._show_script())
        view.reasons.rule_wanted.connect(self.back_to_rule)

    # The piece.

    def refresh(self) -> None:
        """The piece has changed: show its texts."""
        shown = self.shown
        self.view.ask.leave()  # it was about the piece as it was
        if (shown.document, shown.section) != (self._document, self._section):
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
            self.view.about.show_whole(about_line(piece))

    def _show_sections(self) -> None:
        box = self.view.sections
        names = [f"{s.name} ×{s.repeats}" if s.repeats > 1 else s.name for s in self.shown.piece.sections]
        with QSignalBlocker(box):
            if [box.itemText(i) for i in range(box.count())] != names:
                box.clear()
                box.addItems(names)
            box.setCurrentIndex(self.shown.section)

    # The result.

    def _settled(self) -> None:
        """What follows the picture: words and cards."""
        result = self.shown.result
        assert result is not None
        self.lines.fitted(result)
        self.view.lane_names.refresh()
        self.pattern_edits.refresh(result.pattern)
        self.view.cards.show_result(result)
        self.show_scroll_range()
        self.keep_cursor()
        self.shown.cursor_moved.emit()

    def _limited(self) -> None:
        if self.shown.result is not None:
            self.view.reasons.show_limit(self.shown.result, self.shown.limit)

    def _judged(self) -> None:
        if self.shown.verdict is not None:
            self.view.pattern.show_slow(self.shown.verdict.slot)
            self.view.reasons.show_verdict(self.shown.verdict)

    def _show_cursor(self) -> None:
        view, span, assignment = self.view, self.shown.span_index(), self.shown.assignment()
        named = (self.shown.pattern_name(), assignment.variant if assignment is not None else None)
        if self._named != named:
            self._named = named
            self.lines.refresh()
        for canvas in (view.result, view.pattern):
            canvas.set_column(self.column)
        view.result.set_span(span)
        view.cards.set_current(span)
        self.choices.show_chord(assignment)
        chord = signs(assignment.chord.text) if assignment is not None else ""
        view.strings_title.setText(tr("Strings for {chord}", chord=chord) if chord else tr("Strings"))
        instrument = self.shown.piece.instrument
        opens = {string: instrument.open_midi(string) for string in range(1, instrument.strings + 1)}
        names = {string: signs(str(instrument.tuning[instrument.strings - string].note)) for string in opens}
        view.strings.show_assignment(assignment, string_notes(assignment, opens), names)
        view.lane_names.show_note(self._pattern_note(assignment))
        self._show_script()
        if self.shown.result is not None:
            view.reasons.show_chord(self.shown.result, max(0, span))
        self.show_count()

    def _pattern_note(self, assignment: Assignment | None) -> str:
        """Which version of which pattern is edited here, where it is not the section's own."""
        name = self.shown.pattern_name()
        own = (
            tr("{name}, this bar", name=name)
            if name != self.shown.piece.sections[self.shown.section].pattern
            else ""
        )
        version = variant_text(assignment.variant) if assignment is not None and assignment.variant else ""
        return " · ".join(part for part in (own, version) if part)

    def _show_script(self) -> None:
        """The pattern as it is said on the chosen chord."""
        if self.shown.result is not None:
            kind, piece, assignment = (
                self.view.bar.script.currentData(),
                self.shown.piece,
                self.shown.assignment(),
            )
            here = self.place()
            shown = self.shown.result.pattern if here is None else pattern_at(self.shown.result, here)
            pattern = shown.as_variant(assignment.variant if assignment is not None else None)
            naming = self.view.theme.naming
            words = script(kind, pattern, assignment, piece.instrument, naming, piece.rules.hand)
            self.view.bar.say.show_whole(without_grid(words))
