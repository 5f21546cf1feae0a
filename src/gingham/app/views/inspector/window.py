"""The chord under the cursor: its tones, its shapes as cards to hear and to take, their other names."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPaintEvent, QShowEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.look.theme import SIZES
from gingham.app.session.shown import Shown
from gingham.app.sound.transport import Owner, Transport
from gingham.app.widgets import marks
from gingham.app.widgets.card_face import CardFace, Dot, card_pixmap
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Assignment, Result
from gingham.core.patterns.library import brush_pattern
from gingham.core.pieces.chordline import ChordLine, ChordPlace
from gingham.core.pieces.edits import replace_chord, set_chords
from gingham.core.pieces.piece import NamedPattern, Piece
from gingham.core.pieces.rules import ThumbPlan
from gingham.core.shapes.naming import names_of
from gingham.core.shapes.search import RankedShape, shapes_for
from gingham.core.values import replace
from gingham.words.names import listed, short_degree, signs

_COLUMNS, _ROWS = 4, 3
_HEARD_BPM = 60


class ShapeGrid(Dressed, QWidget):
    """Shapes of one chord as cards, the easiest first; one is chosen."""

    chosen = Signal(int)
    taken = Signal(int)
    heard = Signal(int)

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.faces: list[CardFace] = []
        self.current = 0
        step = (SIZES.card_width + SIZES.gap, SIZES.card_height + SIZES.gap)
        self.setFixedSize(round(_COLUMNS * step[0]), round(_ROWS * step[1]))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Shapes of this chord, the easiest first")

    def show_faces(self, faces: list[CardFace], current: int) -> None:
        """Other shapes."""
        self.faces, self.current = faces, current
        self.update()

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

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A click chooses and sounds a shape."""
        for index in range(len(self.faces)):
            if self.rect_of(index).contains(event.position()):
                self._choose(index)
                self.heard.emit(index)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """A double click takes it."""
        self.taken.emit(self.current)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows choose, Space sounds, Enter takes."""
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

    def _choose(self, index: int) -> None:
        self.current = index
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
        row.addStretch(1)
        column = QVBoxLayout(self)
        for part in (self.head, self.grid, self.about):
            column.addWidget(part)
        column.addLayout(row)
        self.grid.chosen.connect(self._show_about)
        self.grid.heard.connect(self.hear_shape)
        self.grid.taken.connect(self.take_shape)
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
        self._shapes = found[: _COLUMNS * _ROWS]
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
        """Pin a shape where the chord enters."""
        shown, span = self._shown, self._shown.span_index()
        if shown.result is not None and span >= 0 and 0 <= index < len(self._shapes):
            where, assignment = shown.result.spans[span].span, shown.result.spans[span].assignment
            if assignment is not None:
                shape = self._shapes[index].shape
                shown.edit(
                    "Shape", replace_chord(shown.piece, shown.section, where, assignment.chord.text, shape)
                )

    def hear_shape(self, index: int) -> None:
        """Brush the shape once, as it sounds."""
        assignment, result = self._shown.assignment(), self._shown.result
        if assignment is not None and result is not None and 0 <= index < len(self._shapes):
            piece = heard_piece(result.piece, assignment.chord.text, self._shapes[index])
            self._transport.play_once([fit(piece)], _HEARD_BPM, Owner.SHAPE)


def heard_piece(piece: Piece, symbol: str, ranked: RankedShape) -> Piece:
    """One bar in which a shape is brushed once."""
    pattern = brush_pattern(piece.meter)
    section = replace(piece.sections[0], pattern="Brush", repeats=1, thumb=None, bars=())
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
