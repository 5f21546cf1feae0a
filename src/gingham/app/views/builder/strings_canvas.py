"""The strings for one chord: which string each bass and each finger takes, in the rows of the result."""

from __future__ import annotations

from bisect import bisect_right
from itertools import accumulate

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
)
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.focus import ShowsFocus
from gingham.app.widgets.geometry import HEADER, Rows
from gingham.app.widgets.speaking import Cell, tell
from gingham.core.fitting.result import Assignment
from gingham.language import tr
from gingham.words.names import PICK_ROWS, lane_heading, short_degree, signs

_NOTE = 54.0  # room for "F♯ ♭3rd" on the right
_LABELS = {"numbers": 46.0, "letters": 46.0, "both": 66.0, "places": 92.0}  # room for a string’s name
_BASS_SHARE = 1.45  # a bass column is wider than a finger's: a word stands over it
_IDLE_FINGERS = ("i", "m", "a")


class StringsCanvas(Dressed, ShowsFocus):
    """A column for each bass and finger; a click in a column moves it to that string."""

    string_chosen = Signal(str, int)
    rule_wanted = Signal(str)
    play_wanted = Signal()

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.assignment: Assignment | None = None
        self._strings = 6
        self._notes: dict[int, str] = {}
        self._opens: dict[int, str] = {}
        self.lane = 0
        self.string = 6
        self._pressed = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setAccessibleName(tr("Strings for this chord: a column for each bass and finger"))
        self.setToolTip(
            tr(
                "Click, or drag a mark, to move a bass or a finger to another string on this chord. "
                "Backspace: back to the rule."
            )
        )
        self.setMinimumHeight(126)

    def show_assignment(
        self, assignment: Assignment | None, notes: dict[int, str], opens: dict[int, str]
    ) -> None:
        """Another chord; `notes` says what each string sounds on it, `opens` its open note."""
        if (assignment, notes, opens) == (self.assignment, self._notes, self._opens):
            return
        self.assignment, self._strings, self._notes, self._opens = assignment, len(opens), notes, opens
        self.lane = min(self.lane, max(0, len(self.lanes()) - 1))
        self._to_lane(self.lane)

    @property
    def _label(self) -> float:
        return _LABELS[self.theme.naming.strings]

    def rows(self) -> Rows:
        """The rows of strings at the present height."""
        return Rows(self._strings, self.height(), self.theme.lowest_on_top)

    def lanes(self) -> tuple[str, ...]:
        """The columns: p1, p2, …, then the fingers."""
        if self.assignment is None:
            return ()
        basses = tuple(f"p{n}" for n in range(1, len(self.assignment.basses) + 1))
        fingers = [finger for finger, _ in self.assignment.fingers]
        shown = [*fingers, *(f for f in _IDLE_FINGERS if f not in fingers)]
        lanes = (*basses, *shown)
        return tuple(reversed(lanes)) if self.appearance.mirrored else lanes

    def lane_edges(self) -> list[float]:
        """Where each column begins, and after the last one where it ends."""
        shares = [_BASS_SHARE if len(lane) > 1 else 1.0 for lane in self.lanes()]
        room = (self.width() - self._label - _NOTE) / max(1.0, sum(shares))
        return [self._label + room * share for share in accumulate(shares, initial=0.0)]

    def lane_x(self, index: int) -> float:
        """The middle of a column."""
        edges = self.lane_edges()
        return (edges[index] + edges[index + 1]) / 2

    def cells(self) -> list[Cell]:
        """A cell for each bass and finger: the string it takes."""
        if self.assignment is None:
            return []
        edges, out = self.lane_edges(), []
        for index, lane in enumerate(self.lanes()):
            choice = self.assignment.lane(lane)
            where = (
                tr("string {string}, {note}", string=choice.string, note=self._notes.get(choice.string, ""))
                if choice
                else tr("no string")
            )
            name = lane_heading(lane) + tr(" bass") if len(lane) > 1 else self.theme.naming.long_finger(lane)
            rect = QRectF(edges[index], 0, edges[index + 1] - edges[index], self.height()).toAlignedRect()
            out.append(Cell(f"{name}: {where}", rect, index == self.lane))
        return out

    # Painting.

    def paintEvent(self, event: QPaintEvent) -> None:
        """Strings with their names and notes, the columns, the marks, the cursor."""
        with marks.painting(self) as p:
            p.fillRect(self.rect().adjusted(0, 0, 1, 1), QColor(self.theme.panel))
            self._paint(p)

    def _paint(self, p: QPainter) -> None:
        rows = self.rows()
        self._paint_strings(p, rows)
        for index, lane in enumerate(self.lanes()):
            self._paint_lane(p, index, lane, rows)
        if self.assignment is not None:
            rect = marks.mark_rect(self.lane_x(self.lane), rows.y(self.string), rows.step + 4)
            if self.hasFocus():
                marks.cursor(p, rect.adjusted(-3, -3, 3, 3), self.theme, True)

    def _paint_strings(self, p: QPainter, rows: Rows) -> None:
        basses = {c.string for c in self.assignment.basses} if self.assignment is not None else set()
        right = self.width() - _NOTE
        for string in range(1, rows.strings + 1):
            y = rows.y(string)
            if string in basses:
                top = y - rows.step / 2
                marks.shade(p, self._label, top, right - self._label, rows.step, self._thumb_ground())
            marks.string_line(p, self._label, right, y, string, self.theme)
            label = QRectF(0, y - 9, self._label - 4, 18)
            name = self.theme.naming.string(string, self._opens.get(string, ""))
            marks.aligned(p, label, name, self.theme.quiet, marks.font(12), marks.LEFT)
            note = QRectF(right + 6, y - 9, _NOTE - 6, 18)
            marks.aligned(p, note, self._notes.get(string, ""), self.theme.quiet, marks.font(12), marks.LEFT)

    def _thumb_ground(self) -> QColor:
        return marks.laid_over(self.theme.panel, self.theme.check_thumb)

    def _heading(self, lane: str) -> str:
        if self._picked() and len(lane) == 1:
            return PICK_ROWS[lane].split()[0]
        return self.theme.naming.finger(lane) if len(lane) == 1 else lane_heading(lane)

    def _picked(self) -> bool:
        """Whether a flat pick plays this chord: then no finger is named."""
        return self.assignment is not None and self.assignment.hand == "pick"

    def _paint_lane(self, p: QPainter, index: int, lane: str, rows: Rows) -> None:
        edges, x = self.lane_edges(), self.lane_x(index)
        finger = lane[0]
        head = QRectF(edges[index] + 1, 0, edges[index + 1] - edges[index] - 2, HEADER - 2)
        heading, picked = self._heading(lane), self._picked()
        ink = QColor(self.theme.ink) if picked else self.theme.finger(finger)
        marks.text(p, head, heading, ink, 11 if len(heading) > 1 else 14, bold=True)
        choice = self.assignment.lane(lane) if self.assignment is not None else None
        if choice is None or self.assignment is None or not 1 <= choice.string <= rows.strings:
            return
        rect = marks.mark_rect(x, rows.y(choice.string), rows.step)
        own = self.assignment.shape.fret(choice.string)
        fret = own if choice.fret is None else choice.fret
        words = ("×" if fret is None else str(fret),)
        named = words if picked else (self.theme.naming.finger(finger), *words)
        marks.finger_mark(p, rect, self.theme, "" if picked else finger, named)
        if choice.overridden:
            marks.own_choice_sign(p, rect, self.theme)
        if fret is None:
            marks.fault_sign(p, rect, self.theme)

    # Mouse and keys.

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """The cursor goes there; where the button is let go, the column's bass or finger gets its string."""
        index = bisect_right(self.lane_edges(), event.position().x()) - 1
        self._pressed = event.button() == Qt.MouseButton.LeftButton and 0 <= index < len(self.lanes())
        if self._pressed:
            self.lane, self.string = index, self.rows().string_at(event.position().y())
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """A mark that is dragged goes to another string of its column."""
        if self._pressed:
            self.string = self.rows().string_at(event.position().y())
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """This string, then."""
        if self._pressed:
            self._pressed = False
            self.string_chosen.emit(self.lanes()[self.lane], self.string)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows go through columns and strings, Enter chooses, Backspace goes back to the rule."""
        key, lanes = event.key(), self.lanes()
        if not lanes or event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier:
            event.ignore()
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._to_lane(self.lane + (1 if key == Qt.Key.Key_Right else -1))
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            by = 1 if key == Qt.Key.Key_Down else -1
            self.string = min(max(1, self.rows().below(self.string, by)), self.rows().strings)
            tell(
                self,
                tr(
                    "string {string}: {note}, Enter takes it",
                    string=self.string,
                    note=self._notes.get(self.string, tr("silent")),
                ),
            )
            self.update()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.string_chosen.emit(lanes[self.lane], self.string)
        elif key == Qt.Key.Key_Backspace:
            self.rule_wanted.emit(lanes[self.lane])
        elif key == Qt.Key.Key_Space:
            self.play_wanted.emit()
        else:
            super().keyPressEvent(event)

    def _to_lane(self, lane: int) -> None:
        """The cursor goes to a column, and there to its string."""
        lanes = self.lanes()
        if lanes:
            self.lane = min(max(0, lane), len(lanes) - 1)
            choice = self.assignment.lane(lanes[self.lane]) if self.assignment is not None else None
            self.string = choice.string if choice is not None else min(self.string, self._strings)
            here = next((cell.words for cell in self.cells() if cell.here), "")
            tell(self, here)
        self.update()


def string_notes(assignment: Assignment | None, open_midi: dict[int, int]) -> dict[int, str]:
    """What each string sounds on a chord's shape: `F♯ 3rd`, or nothing where it is silent."""
    if assignment is None:
        return {}
    out = {}
    for string, midi in open_midi.items():
        fret = assignment.fret(string)
        if fret is None:
            out[string] = tr("silent")
        else:
            degree, note, _ = assignment.chord.tone_at(midi + fret)
            out[string] = f"{signs(str(note))} {short_degree(str(degree))}"
    return out
