"""The pictures of the Build view on one axis: what is fitted, the cell cursor, scrolling, the playhead."""

from __future__ import annotations

from fractions import Fraction

from PySide6.QtCore import QObject

from gingham.app.look.theme import SIZES
from gingham.app.session.shown import Cursor, Shown
from gingham.app.views.builder.view import BuildView
from gingham.app.widgets.geometry import Axis, Column
from gingham.core.fitting.whole import with_blank_bars
from gingham.core.pieces.edits import remove_override
from gingham.core.pieces.piece import Override
from gingham.language import tr


class Pictures(QObject):
    """Joins what is shown with the two canvases; what edits at the cursor stands on this."""

    def __init__(self, view: BuildView, shown: Shown, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.view, self.shown = view, shown
        self.axis: Axis | None = None
        self.column = 0
        shown.fitted.connect(self._fitted)
        shown.span_wanted.connect(self._go_to_span)
        for canvas in (view.result, view.pattern):
            canvas.column_chosen.connect(self.set_column)
            canvas.scrolled.connect(lambda by: view.sight.go(view.sight.value + round(by)))
        shown.bar_wanted.connect(self._go_to_bar)
        view.sight.moved.connect(self._scrolled)

    def _fitted(self) -> None:
        """The picture comes first, words and cards after it."""
        result = self.shown.result
        assert result is not None
        shown = with_blank_bars(result)
        if self.axis is None or not self.axis.suits(shown):
            self.axis = Axis(shown, SIZES.slot)
        self.keep_cursor()
        for canvas in (self.view.result, self.view.pattern):
            canvas.show_result(shown, self.axis)
            canvas.set_column(self.column)
        for canvas in (self.view.result, self.view.pattern):
            canvas.show_now()

    def keep_cursor(self) -> None:
        """The column of the cursor's place, which may be another one now, with another chord."""
        assert self.axis is not None
        cursor = self.shown.cursor
        self.column = self.axis.column_before(cursor.bar, cursor.at) or 0
        place = self.place()
        self.shown.cursor = Cursor(cursor.bar, cursor.at, place.span if place is not None else -1)

    def back_to_rule(self, override: Override) -> None:
        """Take one exception away."""
        self.shown.edit(tr("Back to the rule"), remove_override(self.shown.piece, override))

    # The cell cursor.

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
        self.column, shown.cursor = column, Cursor(place.bar, place.at, place.span)
        self._paint_cursor()
        for canvas in (self.view.result, self.view.pattern):
            if canvas.hasFocus():
                canvas.tell_cursor()
        shown.cursor_moved.emit()
        self._bring_into_sight(place.x, place.width)

    def _go_to_span(self, index: int) -> None:
        if self.axis is not None:
            found = next((i for i, c in enumerate(self.axis.columns) if c.span == index), None)
            if found is not None:
                self.set_column(found)

    def _go_to_bar(self, bar: int, at: Fraction) -> None:
        """Put the cursor into a bar, that bar where the eye begins if it was out of sight."""
        box = self.axis.box_of(bar) if self.axis is not None else None
        column = self.axis.column_before(bar, at) if self.axis is not None else None
        if box is None or column is None:
            return
        sight = self.view.sight
        if not sight.value <= box.x <= sight.value + self.view.result.width() - box.width:
            self.show_scroll_range()
            sight.go(round(box.x - SIZES.slot))
        self.set_column(column)

    def _paint_cursor(self) -> None:
        """The cursor in both pictures at once; words about what it is on come after it."""
        view = self.view
        for canvas in (view.result, view.pattern):
            canvas.set_column(self.column)
        view.result.set_span(self.shown.span_index())
        for canvas in (view.result, view.pattern):
            canvas.show_now()

    def show_count(self, column: int | None = None) -> None:
        """The count of a column's bar; of the cursor's bar while nothing plays."""
        place = self.place(column)
        if place is not None and self.axis is not None:
            box = self.axis.bars[place.box]
            inside = self.axis.columns[box.first : box.last + 1]
            self.view.bar.count.show_bar(tuple((c.syllable, c.on_beat) for c in inside))

    # Scrolling and playing.

    def show_scroll_range(self) -> None:
        """How far the picture can be moved."""
        width = self.view.result.width()
        self.view.sight.bound(max(0, round(self.axis.width - width) + 1) if self.axis is not None else 0)

    def _scrolled(self, value: int) -> None:
        for canvas in (self.view.result, self.view.pattern):
            canvas.set_offset(float(value))

    def _bring_into_sight(self, x: float, width: float) -> None:
        sight, seen = self.view.sight, self.view.result.width()
        self.show_scroll_range()
        if x < sight.value:
            sight.go(round(x - SIZES.slot))
        elif x + width > sight.value + seen:
            sight.go(round(x + width + SIZES.slot - seen))

    def show_playhead(self, bar: int, inside: float) -> None:
        """Where the music is: bar number and whole notes inside it."""
        x = self.axis.x_of(bar, inside) if self.axis is not None else None
        if x is None or self.axis is None:
            return
        for canvas in (self.view.result, self.view.pattern):
            canvas.set_playhead(x)
        shift = x - self.view.sight.value
        if not 0 <= shift <= self.view.result.width() * 0.9:
            self.view.sight.go(round(x - SIZES.slot))
        column = self.axis.column_at(x)
        if column is not None:
            self.show_count(column)
            self.view.bar.count.show_now(column - self.axis.bars[self.axis.columns[column].box].first)

    def hide_playhead(self) -> None:
        """The music has stopped."""
        for canvas in (self.view.result, self.view.pattern):
            canvas.set_playhead(None)
        self.view.bar.count.show_now(None)
        self.show_count()
