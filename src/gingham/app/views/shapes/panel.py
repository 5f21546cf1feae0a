"""The chord under the cursor: its tones, a neck to finger it on, its shapes, easier chords near it."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPoint, QTimer
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.session.shown import Shown
from gingham.app.sound.transport import Owner, Transport
from gingham.app.views.shapes.grid import ShapeFace, ShapeGrid
from gingham.app.views.shapes.near import NearChords
from gingham.app.views.shapes.neck import NeckCanvas
from gingham.app.widgets.ask import AskBar, Option
from gingham.app.widgets.diagram import Dot
from gingham.app.widgets.parts import Pair, head, plain, scrolled
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Assignment
from gingham.core.judging.why_shape import why_shape
from gingham.core.patterns.library import brush_pattern
from gingham.core.pieces.chordline import ChordLine, ChordPlace
from gingham.core.pieces.edits import pin_grip, replace_chord, set_chords
from gingham.core.pieces.piece import NamedPattern, Piece
from gingham.core.pieces.rules import OwnRules, ThumbPlan
from gingham.core.shapes.drawing import Drawn, drawn, put, slid
from gingham.core.shapes.fingers import misfingered, print_fretting
from gingham.core.shapes.fretting import Fingers, Fretting
from gingham.core.shapes.search import RankedShape, shapes_for
from gingham.core.shapes.shape import Shape, misfit
from gingham.core.shapes.silent import not_to_brush, silent_strings
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.errors import say
from gingham.words.names import listed, short_degree, signs
from gingham.words.shapes import CANNOT_SLIDE, brush_text, drawn_text, silent_lines, told_shape, why_text

_MOST = 12
_HEARD_BPM = 60


class ShapesPanel(QWidget):
    """Follows the cursor. What is drawn on the neck is not the piece's until it is held."""

    def __init__(
        self, appearance: Appearance, shown: Shown, transport: Transport, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._shown, self._transport, self._appearance = shown, transport, appearance
        self._shapes: tuple[RankedShape, ...] = ()
        self._of: Assignment | None = None
        self.drawn: Drawn | None = None
        """The shape on the neck."""
        self._fingers: Fingers | None = None
        self.ask = AskBar(self, upright=True)
        self.head, self.about, self.more = plain(), plain(), plain()
        self.neck = NeckCanvas(appearance)
        self.grid = ShapeGrid(appearance)
        self.near = NearChords(shown)
        self.hear = QPushButton(tr("Hear   Space"))
        self.take = QPushButton(tr("Hold it   Enter"))
        self.hear.clicked.connect(lambda _on: self.hear_shape())
        self.take.clicked.connect(lambda _on: self.hold())
        self.setFocusProxy(self.grid)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        buttons = Pair(self.hear, self.take)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(10, 6, 8, 8)
        column.setSpacing(6)
        for part in (self.head, self.neck, self.about):
            column.addWidget(part)
        column.addWidget(buttons)
        column.addWidget(self.grid)
        column.addWidget(head(tr("Easier or near")))
        column.addWidget(self.near)
        column.addWidget(head(tr("In words")))
        column.addWidget(self.more)
        column.addStretch(1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self._area = scrolled(inner)
        outer.addWidget(self._area)

    def _connect(self) -> None:
        self.grid.chosen.connect(self._chosen)
        self.grid.heard.connect(lambda _index: self.hear_shape())
        self.grid.taken.connect(lambda _index: self.hold())
        self.neck.put.connect(self.put)
        self.neck.moved.connect(self._move)
        self.neck.fingered.connect(self.put_finger)
        self.neck.slid.connect(self.slide)
        self.neck.heard.connect(self.hear_shape)
        self.neck.taken.connect(self.hold)
        self._shown.settled.connect(self._refresh)
        self._shown.cursor_moved.connect(self._refresh)

    def go_near(self) -> None:
        """The keyboard into the list of easier chords; in sight once all above it has its height."""
        self.near.setFocus()
        self.near.setCurrentRow(0)
        QTimer.singleShot(0, self, lambda: self._area.ensureWidgetVisible(self.near, 0, 8))

    # Showing.

    def showEvent(self, event: QShowEvent) -> None:
        """Show the chord under the cursor."""
        super().showEvent(event)
        self._of = None
        self._refresh()

    def _refresh(self) -> None:
        assignment, result = self._shown.assignment(), self._shown.result
        if not self.isVisible() or assignment is self._of:
            return
        self._of = assignment
        if assignment is None or result is None:
            self._show_nothing()
            return
        piece = result.piece
        found = shapes_for(assignment.chord, piece.instrument, piece.capo)
        self._shapes = _with_held(found, assignment)[:_MOST]
        sounds = tr(", sounds {text}", text=signs(assignment.sounding.text)) if piece.capo else ""
        tones = listed([f"{signs(str(note))} ({short_degree(str(d))})" for d, note in assignment.chord.tones])
        self.head.setText(f"<b style='font-size:15px'>{signs(assignment.chord.text)}</b>{sounds}: {tones}")
        current = next((i for i, r in enumerate(self._shapes) if r.shape == assignment.shape), 0)
        self.grid.show_faces([_face(each, assignment) for each in self._shapes], current)
        self.near.refresh()
        for button in (self.hear, self.take):
            button.setEnabled(True)
        self._draw(assignment.shape, self._shapes[current].fretting.fingers, afresh=True)

    def _show_nothing(self) -> None:
        self.head.setText(tr("No chord here: choose one in the picture."))
        self.about.clear()
        self.more.clear()
        self._shapes, self.drawn = (), None
        self.grid.show_faces([], 0)
        self.neck.show_shape((), (), afresh=True)
        self.near.refresh()
        for button in (self.hear, self.take):
            button.setEnabled(False)

    def _chosen(self, index: int) -> None:
        ranked = self._shapes[index]
        self._draw(ranked.shape, ranked.fretting.fingers, afresh=True)

    def _draw(self, shape: Shape, fingers: Fingers | None, *, afresh: bool = False) -> None:
        """Put a shape on the neck and say what it is."""
        assignment, piece = self._of, self._shown.piece
        if assignment is None:
            return
        self.drawn = drawn(shape, assignment.chord, piece.instrument, piece.capo, piece.shape_key(), fingers)
        held = self.drawn.held
        self._fingers = held.fingers if held is not None else None
        barres = held.barres if held else ()
        self.neck.show_shape(_dots(shape, self._fingers), barres, piece.capo, afresh=afresh)
        self.about.setText(drawn_text(self.drawn, piece.capo, ours=shape == assignment.shape))
        self.take.setEnabled(held is not None)
        self._tell_more(shape, held, assignment)

    def _tell_more(self, shape: Shape, held: Fretting | None, assignment: Assignment) -> None:
        """The shape as it is said, its silent strings, and why it is held if it is."""
        piece, result, naming = self._shown.piece, self._shown.result, self._appearance.theme.naming
        said = told_shape(shape, held, lambda fret: naming.fret(fret, piece.capo))
        silent = silent_strings(shape, held, assignment.chord, piece.instrument)
        lines = [said, *silent_lines(silent)]
        if not_to_brush(silent):
            self.about.setText(f"{self.about.text()} {brush_text(silent)}")
        if result is not None and shape == assignment.shape:
            lines.append(" ".join(map(why_text, why_shape(result, self._shown.span_index()))))
        self.more.setText("\n".join(line for line in lines if line))

    # Drawing.

    def put(self, string: int, fret: int) -> None:
        """A finger on the neck, or off it."""
        if self.drawn is not None:
            self._draw(put(self.drawn.shape, string, fret), None)

    def _move(self, string: int, fret: int) -> None:
        if self.drawn is not None and self.drawn.shape.fret(string) != fret:
            self._draw(put(self.drawn.shape, string, fret), None)

    def slide(self, by: int) -> None:
        """The whole shape up or down the neck; its name there is said beside it."""
        if self.drawn is None:
            return
        moved = slid(self.drawn.shape, by)
        if moved is None or misfit(moved, self._shown.piece.instrument, self._shown.piece.capo) is not None:
            self.about.setText(CANNOT_SLIDE)
        else:
            self._draw(moved, self._fingers)

    def put_finger(self, string: int, finger: int) -> None:
        """Another finger on one string; one that is there already changes places with it."""
        if self.drawn is None or self._fingers is None:
            return
        shape = self.drawn.shape
        fingers = with_finger(self._fingers, len(shape.frets) - string, finger, shape)
        error = misfingered(shape, fingers)
        if error is not None:
            self.about.setText(say(error))
        else:
            self._draw(shape, fingers)

    # Taking.

    def hold(self) -> None:
        """Hold what is on the neck: asks how far."""
        assignment, made = self._of, self.drawn
        if assignment is None or made is None or made.held is None:
            return
        shape = made.shape
        known = next((each for each in self._shapes if each.shape == shape), None)
        own = self._fingers if known is None or known.fretting.fingers != self._fingers else None
        words = (
            tr("Hold {shape}:", shape=shape)
            if own is None
            else tr("{shape}, fingers {print_fretting}:", shape=shape, print_fretting=print_fretting(own))
        )
        self._ask_how_far(words, shape, own)

    def _ask_how_far(self, question: str, shape: Shape, fingers: Fingers | None) -> None:
        shown, span = self._shown, self._shown.span_index()
        if shown.result is None or span < 0 or self._of is None:
            return
        where, symbol, before = shown.result.spans[span].span, self._of.chord.text, self._of.shape
        piece, section = shown.piece, shown.section
        text = tr("Shape") if fingers is None else tr("Fingers")
        here = replace_chord(piece, section, where, symbol, shape, fingers)
        there = pin_grip(piece, symbol, shape, fingers, section, before)
        everywhere = pin_grip(piece, symbol, shape, fingers, None, before)
        options: list[Option] = [
            ("h", tr("only here"), partial(shown.edit, text, here)),
            ("e", tr("every {symbol}", symbol=signs(symbol)), partial(shown.edit, text, everywhere)),
            ("s", tr("in this section"), partial(shown.edit, text, there)),
        ]
        self.ask.ask(question, options, QPoint(8, 40), self.grid)

    def hear_shape(self) -> None:
        """Brush what is on the neck once, as it sounds."""
        result = self._shown.result
        if self._of is not None and result is not None and self.drawn is not None:
            piece = heard_piece(result.piece, self._of.chord.text, self.drawn.shape)
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


def heard_piece(piece: Piece, symbol: str, shape: Shape) -> Piece:
    """One bar in which a shape is brushed once."""
    pattern = brush_pattern(piece.meter)
    section = replace(piece.sections[0], pattern=tr("Brush"), repeats=1, own=OwnRules(), bars=())
    bare = replace(
        piece, sections=(section,), patterns=(NamedPattern(tr("Brush"), pattern),), overrides=(),
        rules=replace(piece.rules, thumb=ThumbPlan("root")),
    )  # fmt: skip
    return set_chords(bare, 0, ChordLine(((ChordPlace(symbol, shape),),)))


def _dots(shape: Shape, fingers: Fingers | None) -> tuple[Dot, ...]:
    """The dots of a shape; every string that sounds is drawn as needed."""
    count = len(shape.frets)
    held = fingers if fingers is not None else (0,) * count
    return tuple(
        Dot(count - i, fret, finger, fret is not None)
        for i, (fret, finger) in enumerate(zip(shape.frets, held, strict=True))
    )


def _face(ranked: RankedShape, assignment: Assignment) -> ShapeFace:
    note = (
        tr("held now") if ranked.shape == assignment.shape else tr("effort {effort:g}", effort=ranked.effort)
    )
    dots = _dots(ranked.shape, ranked.fretting.fingers)
    return ShapeFace(str(ranked.shape), note, dots, ranked.fretting.barres)
