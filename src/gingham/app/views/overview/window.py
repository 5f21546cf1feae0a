"""The overview: the thumb's line above, what steps, what is hard and what to remember below."""

from __future__ import annotations

from html import escape

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QDialog, QFrame, QLabel, QScrollArea, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.session.shown import Shown
from gingham.app.views.overview.line_canvas import LineCanvas
from gingham.core.fitting.result import Result
from gingham.core.judging.bassline import bass_line, inversions
from gingham.core.judging.changes import changes, hardest
from gingham.core.judging.relations import relations, staying_fingers
from gingham.words.changes import change_text, change_title
from gingham.words.tuning import inversion_text, relation_text

_MOST = 4
_PAUSE_MS = 120


class OverviewWindow(QDialog):
    """Stays beside the main window and follows the piece."""

    def __init__(self, appearance: Appearance, shown: Shown, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Bass line and changes")
        self.resize(900, 560)
        self._shown = shown
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
        self._later = QTimer(self)  # a long piece takes a moment: not at every key that is typed
        self._later.setSingleShot(True)
        self._later.setInterval(_PAUSE_MS)
        self._later.timeout.connect(self._refresh)
        shown.settled.connect(self._later.start)

    def showEvent(self, event: QShowEvent) -> None:
        """Show what the piece is now."""
        super().showEvent(event)
        self._refresh()

    def _refresh(self) -> None:
        result = self._shown.result
        if result is not None and self.isVisible():
            self.line.show_line(result, bass_line(result))
            self.words.setText(overview_html(result))


def overview_html(result: Result) -> str:
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
                for change in hardest(changes(result))[:_MOST]
            ],
        ),
        ("Worth remembering", _remembered(result)),
    ]
    out = "".join(_part_html(head, lines) for head, lines in parts if lines)
    return out or "<p>Nothing stands out: the line has no jumps that another bass would mend.</p>"


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
