"""Where the shown piece does otherwise: as a whole, by sections, chords, bars and single places."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.session.shown import Shown
from gingham.app.session.ways import Ways
from gingham.app.widgets.headed_list import HeadedList
from gingham.app.widgets.parts import head, quiet
from gingham.app.widgets.typed_line import TypedLine
from gingham.core.pieces.way import OwnChoice, as_usual, own_choices, with_reason
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.way import CHOICE_HEADS, choice_text

_LONGEST_REASON = 200  # characters


class OwnChoices(QWidget):
    """A list under headings; Delete, or the button, takes one back, as an edit that can be undone.

    The line below holds the player's reason for the one in hand.
    """

    def __init__(self, shown: Shown, ways: Ways, appearance: Appearance) -> None:
        super().__init__()
        self._shown, self._ways = shown, ways
        self.found: tuple[OwnChoice, ...] = ()
        self.list = HeadedList(tr("Where this piece does otherwise"))
        self.back = QPushButton(tr("This one as usual"))
        self.back.setToolTip(tr("Delete does it too; undo brings it back"))
        self.back.clicked.connect(lambda _on: self.take_back())
        self.why = TypedLine(appearance, tr("Why it is so"))
        self.why.setPlaceholderText(tr("why: the tune is there"))
        self.why.setToolTip(tr("Your own reason for this exception: the list and Build show it"))
        self.why.setMaxLength(_LONGEST_REASON)
        self.why.left.connect(self._explain)
        self.why.given_up.connect(self._show_reason)
        self.list.currentRowChanged.connect(lambda _row: self._show_reason())
        self.all = QPushButton(tr("The whole piece in my way"))
        self.all.setToolTip(
            tr("Its rules become those of the way in use; sections and chords keep their own")
        )
        self.all.clicked.connect(lambda _on: self._all_my_way())
        self.empty = quiet("")
        self.empty.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        title = head(tr("Where this piece does otherwise"))
        title.setWordWrap(True)
        column.addWidget(title)
        column.addWidget(self.empty)
        column.addWidget(self.list, 1)
        column.addWidget(self.why)
        column.addWidget(self.back)
        column.addWidget(self.all)

    def refresh(self) -> None:
        """The own_choices of the piece as it is now; the row in hand stays in hand."""
        row = self.list.currentRow()
        piece = self._shown.piece
        self.found = own_choices(piece, self._ways.now)
        self.list.clear()
        heading = ""
        for number, each in enumerate(self.found):
            title = self._heading(each)
            if title != heading:
                self.list.add_heading(title)
                heading = title
            self.list.add_row(choice_text(each), number)
        self.list.setVisible(bool(self.found))
        self.empty.setText(
            "" if self.found else tr("“{title}” does everything in this way.", title=piece.title)
        )
        self.empty.setVisible(not self.found)
        self.back.setEnabled(bool(self.found))
        self.all.setEnabled(any(each.scope == "piece" for each in self.found))
        if self.found:
            self.list.setCurrentRow(min(max(1, row), self.list.count() - 1))
        self._show_reason()

    def _in_hand(self) -> OwnChoice | None:
        number = self.list.number
        return self.found[number] if 0 <= number < len(self.found) else None

    def _show_reason(self) -> None:
        """The reason of the one in hand, if it can have one."""
        each = self._in_hand()
        self.why.setVisible(each is not None and each.has_reason)
        self.why.show_text("" if each is None else each.because)

    def _explain(self) -> None:
        """What was typed is the reason of the one in hand."""
        each = self._in_hand()
        if each is None:
            return
        after = with_reason(self._shown.piece, each, self.why.text())
        if after != self._shown.piece:
            self._shown.edit(tr("Reason"), after)
            self.refresh()
        self._show_reason()

    def _heading(self, each: OwnChoice) -> str:
        if each.scope in ("section", "bar", "place"):
            return CHOICE_HEADS[each.scope].format(section=each.where)
        return CHOICE_HEADS[each.scope]

    def take_back(self) -> None:
        """The chosen one as usual."""
        each = self._in_hand()
        if each is not None:
            after = as_usual(self._shown.piece, self._ways.now, each)
            self._shown.edit(tr("As usual"), after)
            self.refresh()

    def _all_my_way(self) -> None:
        piece = self._shown.piece
        self._shown.edit(tr("In my way"), replace(piece, rules=self._ways.now.rules))
        self.refresh()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Delete takes one back."""
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.take_back()
        else:
            super().keyPressEvent(event)
