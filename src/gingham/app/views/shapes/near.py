"""Easier chords for one, smaller shapes and colours near at hand, each with what it loses and adds."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent

from gingham.app.session.shown import Shown
from gingham.app.widgets.wrapped_list import WrappedList
from gingham.core.bench.relatives import Relative, colours, smaller
from gingham.core.bench.substitutes import Substitute, substitutes
from gingham.core.errors import GinghamError
from gingham.core.pieces.edits import replace_chord
from gingham.language import tr
from gingham.words.standin import relative_text, standin_text


class NearChords(WrappedList):
    """Enter or a double click puts one where the chord under the cursor enters."""

    def __init__(self, shown: Shown) -> None:
        super().__init__()
        self._shown = shown
        self.found: list[Substitute | Relative] = []
        self.setAccessibleName(tr("Easier chords for this one"))
        self.setToolTip(tr("Enter or a double click puts it here"))
        self.setSpacing(2)
        self.setFixedHeight(150)
        self.itemDoubleClicked.connect(lambda _item: self.take(self.currentRow()))

    def refresh(self) -> None:
        """What is near the chord under the cursor."""
        result, index = self._shown.result, self._shown.span_index()
        self.clear()
        self.found = []
        if result is None or index < 0:
            return
        easier = substitutes(result, index)
        near = (*smaller(result, index), *colours(result, index))
        self.found = [*easier, *near]
        self.addItems([*map(standin_text, easier), *map(relative_text, near)])
        if not self.found:
            self.addItem(tr("Nothing easier is known for this chord that keeps its function."))

    def take(self, row: int) -> None:
        """Put it where the chord enters."""
        shown, index = self._shown, self._shown.span_index()
        if shown.result is None or index < 0 or not 0 <= row < len(self.found):
            return
        each, span = self.found[row], shown.result.spans[index].span
        fingers = each.fretting.fingers if isinstance(each, Relative) else None
        text = tr("Chord near at hand") if isinstance(each, Relative) else tr("Easier chord")
        try:
            after = replace_chord(shown.piece, shown.section, span, each.chord.text, each.shape, fingers)
        except GinghamError as error:
            shown.say_fault(error)
        else:
            shown.edit(text, after)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter takes."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.take(self.currentRow())
        else:
            super().keyPressEvent(event)
