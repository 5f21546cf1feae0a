"""The change under the cursor as a picture, ways to ease it; below, the thumb's line and what is hard."""

from __future__ import annotations

from html import escape

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QScrollArea, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.session.shown import Shown
from gingham.app.views.change.line_canvas import LineCanvas
from gingham.app.views.change.ways import MOST, WaysOut
from gingham.app.views.change.windows_canvas import WindowsCanvas
from gingham.app.widgets.drawer import DrawerPanel
from gingham.app.widgets.parts import head, plain, scrolled
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
from gingham.language import tr
from gingham.words.changes import change_text, change_title, picking_text
from gingham.words.names import signs
from gingham.words.tuning import inversion_text, relation_text

_MOST = 4
_PAUSE_MS = 120
_LINE = 204  # the height of the contour
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


class ChangePanel(DrawerPanel):
    """Follows the cursor; what lies below it is about the whole section."""

    def __init__(self, appearance: Appearance, shown: Shown, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shown = shown
        self._cache = FitCache()
        self._found: tuple[Remedy, ...] = ()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(
            tr("The change into this chord; 1 to 4 take a way out, arrows go to another change")
        )
        self.helper = _Helper("remedies", self)
        self.helper.found.connect(self._show_ways)
        self.title, self.picking, self.after = plain(), plain(), plain()
        self.title.setTextFormat(Qt.TextFormat.RichText)
        self.windows = WindowsCanvas(appearance)
        self.ways = WaysOut()
        self.ways.taken.connect(self.apply)
        self.line = LineCanvas(appearance)
        self.line.chosen.connect(shown.select_span)
        self.words = plain()
        self.words.setTextFormat(Qt.TextFormat.RichText)
        self.after.setTextInteractionFlags(Qt.TextInteractionFlag.LinksAccessibleByMouse)
        self.after.linkActivated.connect(lambda _link: shown.step_span(1))
        self._lay_out()
        self._later = QTimer(self)  # a long piece takes a moment: not at every key that is typed
        self._later.setSingleShot(True)
        self._later.setInterval(_PAUSE_MS)
        self._later.timeout.connect(self.refresh)
        shown.settled.connect(self._later.start)
        shown.cursor_moved.connect(self._show_change)
        appearance.changed.connect(self.refresh)

    def _lay_out(self) -> None:
        line_area = QScrollArea()
        line_area.setAccessibleName(tr("The thumb’s line"))
        line_area.setWidgetResizable(True)
        line_area.setFrameShape(QFrame.Shape.NoFrame)
        line_area.setWidget(self.line)
        line_area.setFixedHeight(_LINE)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(12, 6, 10, 8)
        column.setSpacing(8)
        for part in (self.title, self.windows, self.picking, self.ways, self.after):
            column.addWidget(part)
        column.addWidget(head(tr("The thumb’s line")))
        column.addWidget(line_area)
        column.addWidget(self.words)
        column.addStretch(1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scrolled(inner))

    def refresh(self) -> None:
        """Show what the piece is now."""
        result = self._shown.result
        if result is not None and self.isVisible():
            self.line.show_line(result, bass_line(result))
            self.words.setText(overview_html(result, self._seams(result.piece)))
            self._show_change()

    def _seams(self, piece: Piece) -> tuple[FormChange, ...]:
        """Where sections meet; left out in pieces so long that looking for it would be felt."""
        if sum(len(section.chords.bars) for section in piece.sections) > _LONG:
            return ()
        try:
            return form_changes(perform(piece, cache=self._cache))
        except GinghamError:
            return ()

    # The change under the cursor.

    def _show_change(self) -> None:
        """What the hand does into the chord under the cursor, and, a moment later, ways out."""
        if not self.isVisible():
            return
        result, index = self._shown.result, self._shown.span_index()
        self._show_ways(None, -1, ())
        many = result is not None and len(result.spans) > 1 and index >= 0
        change = change_into(result, index) if result is not None and many else None
        self.windows.setVisible(change is not None)
        self.picking.setVisible(change is not None)
        self._show_next(result, index)
        if result is None or change is None:
            self.title.setText(tr("<b>No change here</b><br>The hand stays as it is, or there is silence."))
            return
        self.title.setText(
            f"<b style='font-size:15px'>{escape(signs(change.before))} → {escape(signs(change.after))}</b>"
            f"{tr(', back to the start') if change.seam else tr(', bar {bar}', bar=change.bar)}"
        )
        self.windows.show_change(result, change, (index - 1) % len(result.spans), index)
        squeak = tr(" A finger slides along a wound string: it may squeak.") if change.squeak else ""
        self.picking.setText(f"{picking_text(change)}{squeak}")
        self.helper.request((result, index))

    def _show_next(self, result: Result | None, index: int) -> None:
        """The change out of this chord, as a link to it."""
        after = (
            change_into(result, index + 1)
            if result is not None and 0 <= index < len(result.spans) - 1
            else None
        )
        self.after.setVisible(after is not None)
        if result is not None and after is not None:
            text = escape(change_text(after, result.piece.meter, result.piece.tempo), quote=False)
            ink, title = self.windows.theme.accent, escape(change_title(after))
            self.after.setText(
                tr(
                    "Then <a href='#' style='color:{ink}'>{title}</a>. {text}",
                    ink=ink,
                    title=title,
                    text=text,
                )
            )

    def _show_ways(self, result: Result | None, index: int, ways: tuple[Remedy, ...]) -> None:
        if result is not None and (result is not self._shown.result or index != self._shown.span_index()):
            return
        self._found = ways[:MOST]
        self.ways.show_ways(self._found)

    def apply(self, number: int) -> None:
        """Take one of the ways out."""
        piece = self._found[number].piece if number < len(self._found) else None
        if piece is not None:
            self._shown.edit(tr("Easier change"), piece)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """1 to 4 take a way out; arrows go to the change after or before."""
        steps = {int(Qt.Key.Key_Right): 1, int(Qt.Key.Key_Left): -1}
        if event.text() and event.text() in "1234":
            self.apply(int(event.text()) - 1)
        elif event.key() in steps:
            self._shown.step_span(steps[event.key()])
        else:
            super().keyPressEvent(event)


def overview_html(result: Result, seams: tuple[FormChange, ...] = ()) -> str:
    """The hardest changes, inversions that would make the line step, and relations worth remembering."""
    piece = result.piece
    names = [fitted.span.chord.text if fitted.span.chord is not None else "" for fitted in result.spans]
    parts = [
        (tr("The line"), [inversion_text(each, names[each.span]) for each in inversions(result)[:_MOST]]),
        (
            tr("The hardest changes"),
            [
                f"<b>{escape(change_title(change), quote=False)}</b>: "
                + escape(change_text(change, piece.meter, piece.tempo), quote=False)
                for change in hardest(_inside(result, seams))[:_MOST]
            ],
        ),
        (
            tr("Where sections meet"),
            [_seam_html(each, piece) for each in seams],
        ),
        (tr("Worth remembering"), _remembered(result)),
    ]
    out = "".join(_part_html(head, lines) for head, lines in parts if lines)
    return out or tr("<p>Nothing stands out: the line has no jumps that another bass would mend.</p>")


def _seam_html(each: FormChange, piece: Piece) -> str:
    """`Verse into Chorus: G to C. …`"""
    where = tr("{before} into {after}", before=each.before, after=each.after)
    what = tr("{before} to {after}", before=signs(each.change.before), after=signs(each.change.after))
    text = change_text(each.change, piece.meter, piece.tempo)
    return f"{escape(where, quote=False)}: <b>{escape(what, quote=False)}</b>. {escape(text, quote=False)}"


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
        tr(
            "Finger {finger} stays on string {string}, fret {fret}, all through.",
            finger=finger,
            string=string,
            fret=fret,
        )
        for finger, string, fret in staying_fingers(result)
    ]
    return [escape(text, quote=False) for text in found]
