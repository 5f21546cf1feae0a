"""The chord under the cursor: its tones, its shapes as cards to hear and to take, their other names."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPaintEvent, QShowEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.look.theme import SIZES
from gingham.app.session.shown import Shown
from gingham.app.sound.transport import Owner, Transport
from gingham.app.widgets import marks
from gingham.app.widgets.ask import AskBar, Option
from gingham.app.widgets.card_face import CardFace, Dot, card_pixmap, dot_at, dot_rect
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Assignment, Result
from gingham.core.patterns.library import brush_pattern
from gingham.core.pieces.chordline import ChordLine, ChordPlace
from gingham.core.pieces.edits import pin_grip, replace_chord, set_chords
from gingham.core.pieces.piece import NamedPattern, Piece
from gingham.core.pieces.rules import OwnRules, ThumbPlan
from gingham.core.shapes.fingers import FINGER_KEYS, misfingered, print_fretting
from gingham.core.shapes.fretting import Fingers
from gingham.core.shapes.naming import names_of
from gingham.core.shapes.search import RankedShape, shapes_for
from gingham.core.shapes.shape import Shape
from gingham.core.values import replace
from gingham.words.changes import DOT_HINT
from gingham.words.errors import say
from gingham.words.names import listed, short_degree, signs

_COLUMNS, _ROWS = 4, 3
_HEARD_BPM = 60


class ShapeGrid(Dressed, QWidget):
    """Shapes of one chord as cards, the easiest first; one is chosen."""

    chosen = Signal(int)
    taken = Signal(int)
    heard = Signal(int)
    fingered = Signal(int, int, int)
    """Index of the shape, string, fretting finger."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.faces: list[CardFace] = []
        self.current = 0
        self.string = 0
        """The string whose dot gets the finger that is typed; 0 for none."""
        step = (SIZES.card_width + SIZES.gap, SIZES.card_height + SIZES.gap)
        self.setFixedSize(round(_COLUMNS * step[0]), round(_ROWS * step[1]))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Shapes of this chord, the easiest first")

    def show_faces(self, faces: list[CardFace], current: int) -> None:
        """Other shapes."""
        if current != self.current or not faces:
            self.string = 0
        self.faces, self.current = faces, current
        self.update()

    def held_strings(self) -> list[int]:
        """The strings of the chosen shape that a finger holds, the highest number first."""
        return [dot.string for dot in self.faces[self.current].dots if dot.fret] if self.faces else []

    def rect_of(self, index: int) -> QRectF:
        """Where a card lies."""
        row, column = divmod(index, _COLUMNS)
        step = (SIZES.card_width + SIZES.gap, SIZES.card_height + SIZES.gap)
        return QRectF(column * step[0], row * step[1], SIZES.card_width, SIZES.card_height)

    def paintEvent(self, event: QPaintEvent) -> None:
        """The cards, the chosen one with a strong edge."""
        with marks.painting(self) as p:
            for index, face in enumerate(self.faces):
                here = index == self.current
                shown = replace(face, selected=here, focused=here and self.hasFocus())
                pixmap = card_pixmap(shown, self.theme, SIZES.card_height - 2, self.devicePixelRatioF())
                p.drawPixmap(QPointF(self.rect_of(index).topLeft()), pixmap)
            if self.faces and self.string:
                rect = self.rect_of(self.current).adjusted(1, 1, -1, -1)
                marks.cursor(p, dot_rect(self.faces[self.current], rect, self.string), self.theme, True)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click chooses and sounds a shape."""
        for index in range(len(self.faces)):
            if self.rect_of(index).contains(event.position()):
                self._choose(index)
                self.string = dot_at(self.faces[index], self.rect_of(index), event.position())
                if not self.string:
                    self.heard.emit(index)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """A double click takes it."""
        self.taken.emit(self.current)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows choose, Space sounds, Enter takes; with Shift the dots, which 1 to 4 and T give a finger."""
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier and self._step_dot(event.key()):
            return
        finger = FINGER_KEYS.get(event.text().upper())
        if finger and self.string:
            self.fingered.emit(self.current, self.string, finger)
            return
        steps = {
            Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -_COLUMNS, Qt.Key.Key_Down: _COLUMNS,
        }  # fmt: skip
        by = steps.get(Qt.Key(event.key()))
        if by is not None:
            if 0 <= self.current + by < len(self.faces):
                self._choose(self.current + by)
        elif event.key() == Qt.Key.Key_Space:
            self.heard.emit(self.current)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.taken.emit(self.current)
        else:
            super().keyPressEvent(event)

    def _step_dot(self, key: int) -> bool:
        """The next dot to the right or to the left."""
        by = {int(Qt.Key.Key_Right): 1, int(Qt.Key.Key_Left): -1}.get(key)
        held = self.held_strings()
        if by is None or not held:
            return False
        at = held.index(self.string) + by if self.string in held else (0 if by > 0 else -1)
        self.string = held[at % len(held)]
        self.update()
        return True

    def _choose(self, index: int) -> None:
        self.current, self.string = index, 0
        self.update()
        self.chosen.emit(index)


class InspectorWindow(QDialog):
    """Stays beside the main window and follows the cursor."""

    def __init__(
        self, appearance: Appearance, shown: Shown, transport: Transport, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("Chord")
        self._shown, self._transport = shown, transport
        self._shapes: tuple[RankedShape, ...] = ()
        self.ask = AskBar(self)
        self.head = QLabel()
        self.head.setWordWrap(True)
        self.grid = ShapeGrid(appearance)
        self.about = QLabel()
        self.about.setWordWrap(True)
        self.hear = QPushButton("Hear it   Space")
        self.take = QPushButton("Hold this shape   Enter")
        self.hear.clicked.connect(lambda _on: self.hear_shape(self.grid.current))
        self.take.clicked.connect(lambda _on: self.take_shape(self.grid.current))
        row = QHBoxLayout()
        row.addWidget(self.hear)
        row.addWidget(self.take)
        hint = QLabel(DOT_HINT)
        hint.setProperty("quiet", True)
        row.addWidget(hint)
        row.addStretch(1)
        column = QVBoxLayout(self)
        for part in (self.head, self.grid, self.about):
            column.addWidget(part)
        column.addLayout(row)
        self.grid.chosen.connect(self._show_about)
        self.grid.heard.connect(self.hear_shape)
        self.grid.taken.connect(self.take_shape)
        self.grid.fingered.connect(self.put_finger)
        shown.settled.connect(self._refresh)
        shown.cursor_moved.connect(self._refresh)

    def showEvent(self, event: QShowEvent) -> None:
        """Show the chord under the cursor."""
        super().showEvent(event)
        self._refresh()
        self.grid.setFocus()

    def _refresh(self) -> None:
        assignment, result = self._shown.assignment(), self._shown.result
        if not self.isVisible() or assignment is None or result is None:
            return
        piece = result.piece
        found = shapes_for(assignment.chord, piece.instrument, piece.capo)
        self._shapes = _with_held(found, assignment)[: _COLUMNS * _ROWS]
        sounds = (
            f", sounds {signs(assignment.sounding.text)} with the capo at {piece.capo}" if piece.capo else ""
        )
        tones = listed([f"{signs(str(note))} ({short_degree(str(d))})" for d, note in assignment.chord.tones])
        self.head.setText(f"<b>{signs(assignment.chord.text)}</b>{sounds}: {tones}")
        current = next((i for i, r in enumerate(self._shapes) if r.shape == assignment.shape), 0)
        mirrored = self.grid.appearance.mirrored
        self.grid.show_faces([_face(each, assignment, result, mirrored) for each in self._shapes], current)
        self._show_about(current)

    def _show_about(self, index: int) -> None:
        result = self._shown.result
        if result is None or not 0 <= index < len(self._shapes):
            return
        ranked, piece = self._shapes[index], result.piece
        names = names_of(ranked.shape, piece.instrument, piece.capo, piece.shape_key(), 4)
        also = listed([signs(name.text) for name in names])
        neck = ""
        if piece.capo:
            frets = [f + piece.capo for f in ranked.shape.frets if f]
            neck = f" On the neck the fingers stand at frets {min(frets)} to {max(frets)}." if frets else ""
        self.about.setText(f"{ranked.shape}: effort {ranked.effort:g} fingers. Its names: {also}.{neck}")

    def take_shape(self, index: int) -> None:
        """Hold a shape: asks how far."""
        if 0 <= index < len(self._shapes):
            self._ask_how_far("Shape", f"Hold {self._shapes[index].shape}:", self._shapes[index].shape, None)

    def put_finger(self, index: int, string: int, finger: int) -> None:
        """Another finger on one dot; one that is there already changes places with it. Asks how far."""
        assignment = self._shown.assignment()
        if assignment is None or not 0 <= index < len(self._shapes):
            return
        ranked = self._shapes[index]
        fingers = with_finger(ranked.fretting.fingers, len(ranked.shape.frets) - string, finger, ranked.shape)
        error = misfingered(ranked.shape, fingers)
        if error is not None:
            self.about.setText(say(error))
            return
        words = f"Fingers {print_fretting(fingers)} on {ranked.shape}:"
        self._ask_how_far("Fingers", words, ranked.shape, fingers)

    def _ask_how_far(self, text: str, question: str, shape: Shape, fingers: Fingers | None) -> None:
        shown, span = self._shown, self._shown.span_index()
        if shown.result is None or span < 0:
            return
        where, assignment = shown.result.spans[span].span, shown.result.spans[span].assignment
        if assignment is None:
            return
        piece, section, symbol = shown.piece, shown.section, assignment.chord.text
        here = replace_chord(piece, section, where, symbol, shape, fingers)
        there = pin_grip(piece, symbol, shape, fingers, section, assignment.shape)
        everywhere = pin_grip(piece, symbol, shape, fingers, None, assignment.shape)
        options: list[Option] = [
            ("h", "only here", partial(shown.edit, text, here)),
            ("e", f"every {signs(symbol)}", partial(shown.edit, text, everywhere)),
            ("s", "in this section", partial(shown.edit, text, there)),
        ]
        self.ask.ask(question, options, self.about.geometry().topLeft(), self.grid)

    def hear_shape(self, index: int) -> None:
        """Brush the shape once, as it sounds."""
        assignment, result = self._shown.assignment(), self._shown.result
        if assignment is not None and result is not None and 0 <= index < len(self._shapes):
            piece = heard_piece(result.piece, assignment.chord.text, self._shapes[index])
            self._transport.play_once([fit(piece)], _HEARD_BPM, Owner.SHAPE)


def with_finger(fingers: Fingers, index: int, finger: int, shape: Shape) -> Fingers:
    """A finger on one string; where it was, on another fret, the finger that it drives away goes."""
    driven, fret = fingers[index], shape.frets[index]
    out = list(fingers)
    for other, held in enumerate(fingers):
        if held == finger and shape.frets[other] != fret:
            out[other] = driven
    out[index] = finger
    return tuple(out)


def _with_held(found: tuple[RankedShape, ...], assignment: Assignment) -> tuple[RankedShape, ...]:
    """The shapes with the one that is held now as it is held, first if the search has not found it."""
    held = assignment.fretting
    if held is None:
        return found
    known = next((each for each in found if each.shape == assignment.shape), None)
    if known is None:
        return (RankedShape(assignment.shape, held, held.cost), *found)
    return tuple(replace(each, fretting=held) if each is known else each for each in found)


def heard_piece(piece: Piece, symbol: str, ranked: RankedShape) -> Piece:
    """One bar in which a shape is brushed once."""
    pattern = brush_pattern(piece.meter)
    section = replace(piece.sections[0], pattern="Brush", repeats=1, own=OwnRules(), bars=())
    bare = replace(
        piece, sections=(section,), patterns=(NamedPattern("Brush", pattern),), overrides=(),
        rules=replace(piece.rules, thumb=ThumbPlan("root")),
    )  # fmt: skip
    return set_chords(bare, 0, ChordLine(((ChordPlace(symbol, ranked.shape),),)))


def _face(ranked: RankedShape, assignment: Assignment, result: Result, mirrored: bool) -> CardFace:
    """The card of an alternative: every string that sounds is drawn as needed."""
    frets, fingers = ranked.shape.frets, ranked.fretting.fingers
    dots = tuple(
        Dot(len(frets) - i, fret, finger, fret is not None)
        for i, (fret, finger) in enumerate(zip(frets, fingers, strict=True))
    )
    quiet = (f"effort {ranked.effort:g}", "held now" if ranked.shape == assignment.shape else "")
    return CardFace(str(ranked.shape), quiet, "", "", dots, ranked.fretting.barres, False, False, mirrored)
