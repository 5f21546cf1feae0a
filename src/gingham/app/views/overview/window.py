"""The overview: the thumb's line above, what steps, what is hard and what to remember below."""

from __future__ import annotations

from html import escape

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QShowEvent
from PySide6.QtWidgets import QDialog, QFrame, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.session.shown import Shown
from gingham.app.views.overview.line_canvas import LineCanvas
from gingham.app.work.worker import NewestWorker
from gingham.core.bench.remedies import Remedy, remedies
from gingham.core.errors import GinghamError
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.performance import perform
from gingham.core.fitting.result import Result
from gingham.core.judging.bassline import bass_line, inversions
from gingham.core.judging.changes import Change, change_into, changes, hardest
from gingham.core.judging.formsum import FormChange, form_changes
from gingham.core.judging.relations import relations, staying_fingers
from gingham.core.pieces.piece import Piece
from gingham.words.changes import change_text, change_title
from gingham.words.names import signs
from gingham.words.reasons import remedy_text
from gingham.words.tuning import inversion_text, relation_text

_MOST = 4
_PAUSE_MS = 120
_LONG = 400  # bars of a piece from which only the shown section is looked at


class _Helper(NewestWorker[tuple[Result, int]]):
    """Looks for ways out of the change into one chord."""

    found = Signal(object, int, object)

    def work_on(self, item: tuple[Result, int]) -> None:
        """Try other fingers, an earlier lift, a stand-in."""
        result, index = item
        ways = remedies(result, index)
        if not self.outdated:
            self.found.emit(result, index, ways)


class OverviewWindow(QDialog):
    """Stays beside the main window and follows the piece."""

    def __init__(self, appearance: Appearance, shown: Shown, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Bass line and changes")
        self.resize(900, 560)
        self._shown = shown
        self._cache = FitCache()
        self._ways: tuple[Remedy, ...] = ()
        self.helper = _Helper("remedies", self)
        self.helper.found.connect(self._show_ways)
        self.line = LineCanvas(appearance)
        self.line.chosen.connect(shown.select_span)
        line_scroll = QScrollArea()
        line_scroll.setAccessibleName("The thumb’s line")
        line_scroll.setWidgetResizable(True)
        line_scroll.setWidget(self.line)
        line_scroll.setMinimumHeight(220)
        self.words = QLabel()
        self.words.setTextFormat(Qt.TextFormat.RichText)
        self.words.setWordWrap(True)
        self.words.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.words.setContentsMargins(12, 8, 12, 8)
        words_scroll = QScrollArea()
        words_scroll.setAccessibleName("Changes and what to remember")
        words_scroll.setWidgetResizable(True)
        words_scroll.setFrameShape(QFrame.Shape.NoFrame)
        words_scroll.setWidget(self.words)
        column = QVBoxLayout(self)
        column.addWidget(line_scroll, 2)
        column.addWidget(words_scroll, 3)
        self.here = QLabel()
        self.here.setWordWrap(True)
        self.here.setContentsMargins(12, 0, 12, 0)
        column.addWidget(self.here)
        self.ways = [QPushButton() for _ in range(_MOST)]
        for number, each in enumerate(self.ways):
            each.clicked.connect(lambda _on, number=number: self.apply(number))
            each.hide()
            column.addWidget(each)
        self._later = QTimer(self)  # a long piece takes a moment: not at every key that is typed
        self._later.setSingleShot(True)
        self._later.setInterval(_PAUSE_MS)
        self._later.timeout.connect(self._refresh)
        shown.settled.connect(self._later.start)
        shown.cursor_moved.connect(self._ask)

    def showEvent(self, event: QShowEvent) -> None:
        """Show what the piece is now."""
        super().showEvent(event)
        self._refresh()

    def _refresh(self) -> None:
        result = self._shown.result
        if result is not None and self.isVisible():
            self.line.show_line(result, bass_line(result))
            self.words.setText(overview_html(result, self._seams(result.piece)))
            self._ask()

    def _seams(self, piece: Piece) -> tuple[FormChange, ...]:
        """Where sections meet; left out in pieces so long that looking for it would be felt."""
        if sum(len(section.chords.bars) for section in piece.sections) > _LONG:
            return ()
        try:
            return form_changes(perform(piece, cache=self._cache))
        except GinghamError:
            return ()

    # The change under the cursor.

    def _ask(self) -> None:
        """What the hand does into the chord under the cursor, and, a moment later, ways out."""
        result, index = self._shown.result, self._shown.span_index()
        self._show_ways(None, -1, ())
        change = change_into(result, index) if result is not None and index >= 0 else None
        if result is None or change is None or not self.isVisible():
            self.here.setText("")
            return
        title, piece = escape(change_title(change), quote=False), result.piece
        text = escape(change_text(change, piece.meter, piece.tempo), quote=False)
        self.here.setText(f"<b>The change here: {title}.</b> {text}")
        self.helper.request((result, index))

    def _show_ways(self, result: Result | None, index: int, ways: tuple[Remedy, ...]) -> None:
        if result is not None and (result is not self._shown.result or index != self._shown.span_index()):
            return
        self._ways = ways
        for number, button in enumerate(self.ways):
            button.setVisible(number < len(ways))
            if number < len(ways):
                text = remedy_text(ways[number].reason)
                button.setText(f"{text[:1].upper()}{text[1:]}   {number + 1}")
                button.setEnabled(ways[number].piece is not None)

    def apply(self, number: int) -> None:
        """Take one of the ways out."""
        piece = self._ways[number].piece if number < len(self._ways) else None
        if piece is not None:
            self._shown.edit("Easier change", piece)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """1 to 4 take a way out."""
        if event.text() in "1234" and event.text():
            self.apply(int(event.text()) - 1)
        else:
            super().keyPressEvent(event)


def overview_html(result: Result, seams: tuple[FormChange, ...] = ()) -> str:
    """The hardest changes, inversions that would make the line step, and relations worth remembering."""
    piece = result.piece
    names = [fitted.span.chord.text if fitted.span.chord is not None else "" for fitted in result.spans]
    parts = [
        ("The line", [inversion_text(each, names[each.span]) for each in inversions(result)[:_MOST]]),
        (
            "The hardest changes",
            [
                f"<b>{escape(change_title(change), quote=False)}</b>: "
                + escape(change_text(change, piece.meter, piece.tempo), quote=False)
                for change in hardest(_inside(result, seams))[:_MOST]
            ],
        ),
        (
            "Where sections meet",
            [
                escape(f"{each.before} into {each.after}: ", quote=False)
                + f"<b>{escape(signs(f'{each.change.before} to {each.change.after}'), quote=False)}</b>. "
                + escape(change_text(each.change, piece.meter, piece.tempo), quote=False)
                for each in seams
            ],
        ),
        ("Worth remembering", _remembered(result)),
    ]
    out = "".join(_part_html(head, lines) for head, lines in parts if lines)
    return out or "<p>Nothing stands out: the line has no jumps that another bass would mend.</p>"


def _inside(result: Result, seams: tuple[FormChange, ...]) -> tuple[Change, ...]:
    """The changes of a section; its own seam only where it really comes round."""
    name = result.piece.sections[result.section].name
    alone = len(result.piece.sections) == 1 or any(each.before == each.after == name for each in seams)
    return tuple(change for change in changes(result) if alone or not change.seam)


def _part_html(head: str, lines: list[str]) -> str:
    rows = "".join(f"<p style='margin:0 0 4px 12px'>{line}</p>" for line in lines)
    return f"<p style='margin:0 0 4px 0'><b>{head}</b></p>{rows}"


def _remembered(result: Result) -> list[str]:
    found = [relation_text(each) for each in relations(result)[:_MOST]]
    found += [
        f"Finger {finger} stays on string {string}, fret {fret}, all through."
        for finger, string, fret in staying_fingers(result)
    ]
    return [escape(text, quote=False) for text in found]
