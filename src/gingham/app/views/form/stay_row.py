"""How long the chords of the shown section stay, typed in bars or passages; and its two endings."""

from __future__ import annotations

from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.session.shown import Shown
from gingham.app.widgets.parts import button, row
from gingham.app.widgets.typed_line import NumberBox, TypedLine, show_fault
from gingham.core.errors import GinghamError, InputError
from gingham.core.pieces.edits import set_chords
from gingham.core.pieces.endings import with_endings
from gingham.core.pieces.stays import parse_stays, print_stays, with_stays
from gingham.language import tr
from gingham.words.errors import say


class StayRow(QWidget):
    """A line for the chords, and a button that parts the last bars."""

    def __init__(self, appearance: Appearance, shown: Shown) -> None:
        super().__init__()
        self._shown = shown
        self.line = TypedLine(appearance, tr("How long each chord stays"))
        self.line.setToolTip(
            tr("Bars, or passages of the pattern with x: G 2, Am7 1/2, D 1x. Both, G 2 = 4x, must agree")
        )
        self.message = QLabel()
        self.message.setProperty("fault", True)
        self.message.setWordWrap(True)
        self.message.hide()
        self.bars = NumberBox(tr("How many bars the ending has"), 1, 64)
        self.part = button(
            tr("Two endings"),
            tr(
                "The last bars become two sections, one for each time but the last: "
                "change the last one in Build"
            ),
            self.part_endings,
        )
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addLayout(row(tr("Chords stay"), self.line, tr("the last"), self.bars, tr("bars:"), self.part))
        column.addWidget(self.message)
        self.line.left.connect(self._left)
        self.line.given_up.connect(self.refresh)

    def refresh(self) -> None:
        """Show the section as it is now; what is being typed stays."""
        piece, section = self._shown.piece, self._shown.piece.sections[self._shown.section]
        if not self.line.hasFocus() or self.line.fault is None:
            self.line.show_text(print_stays(section.chords, piece.meter))
            show_fault(self.line, self.message, None)
        count = len(section.chords.bars)
        self.part.setEnabled(count > 1)
        self.bars.setMaximum(max(1, count - 1))

    def _left(self) -> None:
        """What was typed becomes the chord line."""
        shown, text = self._shown, self.line.text().strip()
        piece, index = shown.piece, shown.section
        section = piece.sections[index]
        if text == print_stays(section.chords, piece.meter):
            return
        try:
            stays = parse_stays(text, piece.meter, piece.pattern(section.pattern).length)
            chords = with_stays(section.chords, stays, piece.meter)
        except InputError as error:
            shown_error = error if error.end is not None else error.marked(0, len(text))
            show_fault(self.line, self.message, shown_error)
            return
        show_fault(self.line, self.message, None)
        shown.edit(tr("Stays"), set_chords(piece, index, chords))

    def part_endings(self) -> None:
        """The last bars become the first and the last ending."""
        shown = self._shown
        try:
            after = with_endings(shown.piece, shown.section, self.bars.value())
        except GinghamError as error:
            self.message.setText(say(error))
            self.message.show()
            return
        shown.edit(tr("Two endings"), after)
