"""The face of one chord card: what it shows as a record, painted once for each record."""

from __future__ import annotations

from functools import lru_cache
from math import ceil

import msgspec
from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor, QPainter, QPixmap

from gingham.app.look.theme import SIZES, Theme
from gingham.app.widgets import marks
from gingham.app.widgets.diagram import Diagram, Dot, first_fret, paint_shape, rows_for
from gingham.core.fitting.result import Result
from gingham.core.judging.holding import needed_fingers
from gingham.core.shapes.fretting import Barre
from gingham.language import tr
from gingham.words.card import beats_text, thumb_text
from gingham.words.names import signs

_LOW = 84  # cards lower than this leave the quiet lines out
_WORD_ROWS = ((0, 26), (28, 17), (46, 17), (66, 19))  # top and height: name, two quiet lines, thumb


class CardFace(msgspec.Struct, frozen=True):
    """Everything that a card shows. `thumb` is empty where there is no shape."""

    name: str
    quiet: tuple[str, ...]
    thumb: str
    fault: str
    dots: tuple[Dot, ...]
    barres: tuple[Barre, ...]
    selected: bool
    focused: bool
    mirrored: bool = False
    capo: int = 0


def face_of(result: Result, index: int, selected: bool, focused: bool, mirrored: bool = False) -> CardFace:
    """What the card of a chord shows."""
    fitted = result.spans[index]
    chord, assignment = fitted.span.chord, fitted.assignment
    name = signs(chord.text) if chord is not None else tr("silence")
    length = beats_text(fitted.span.length, result.piece.meter)
    if assignment is None:
        fault = tr("no shape found") if chord is not None else ""
        return CardFace(name, (length,), "", fault, (), (), selected, focused)
    sounds = (tr("sounds {text}", text=signs(assignment.sounding.text)),) if result.piece.capo else ()
    if assignment.fretting is not None and assignment.fretting.barre is not None:
        length += tr(" · barre")
    needed, frets = needed_fingers(fitted), assignment.shape.frets
    fingers = assignment.fretting.fingers if assignment.fretting is not None else (0,) * len(frets)
    dots = tuple(
        Dot(
            len(frets) - i, fret, finger,
            finger in needed if fret and finger else len(frets) - i in fitted.strings,
        )
        for i, (fret, finger) in enumerate(zip(frets, fingers, strict=True))
    )  # fmt: skip
    outside = assignment.outside()
    dots = tuple(
        Dot(d.string, outside[d.string].fret, 0, d.string in fitted.strings, outside[d.string].way == "hop")
        if d.string in outside
        else d
        for d in dots
    )
    barres = assignment.fretting.barres if assignment.fretting is not None else ()
    return CardFace(
        name, (*sounds, length), thumb_text(assignment), "", dots, barres, selected, focused, mirrored,
        result.piece.capo,
    )  # fmt: skip


@lru_cache(maxsize=256)
def card_pixmap(face: CardFace, theme: Theme, height: float, ratio: float) -> QPixmap:
    """The card painted, with a pixel of room around it."""
    size = (SIZES.card_width, height + 2)
    pixmap = QPixmap(ceil(size[0] * ratio), ceil(size[1] * ratio))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(QColor(theme.ground))
    with marks.painting(pixmap) as p:
        _paint_card(p, QRectF(1, 1, size[0] - 2, height), theme, face)
    return pixmap


def _paint_card(p: QPainter, rect: QRectF, theme: Theme, face: CardFace) -> None:
    marks.plate(p, rect, theme, chosen=face.selected, focused=face.focused)
    # A diagram further up the neck has its first fret's number at its left.
    width = 102 if first_fret(tuple(dot.fret for dot in face.dots)) == 1 else 90
    _paint_words(p, QRectF(rect.left() + 11, rect.top() + 6, width, rect.height() - 12), theme, face)
    if face.dots:
        paint_shape(p, diagram_of(face, rect), theme, face.dots, face.barres)


def diagram_of(face: CardFace, rect: QRectF) -> Diagram:
    """Where the diagram lies in a card."""
    frets = tuple(dot.fret for dot in face.dots)
    low = rect.height() < _LOW
    top, scale = (16, 0.78) if low else (25, 1.0)
    area = QRectF(rect.left() + 125, rect.top() + top, 65, rect.height() - top - (6 if low else 11))
    return Diagram(area, len(face.dots), first_fret(frets), rows_for(frets), face.mirrored, scale, face.capo)


def _paint_words(p: QPainter, area: QRectF, theme: Theme, face: CardFace) -> None:
    rows = [QRectF(area.left(), area.top() + y, area.width(), height) for y, height in _WORD_ROWS]
    marks.aligned(p, rows[0], face.name, theme.ink, marks.font(20, True), marks.LEFT)
    low = area.height() < _LOW - 12
    for rect, words in zip(rows[1:3], face.quiet, strict=False):
        if not low:
            marks.aligned(p, rect, words, theme.quiet, marks.font(13), marks.LEFT)
    last, ink = (face.fault, theme.fault) if face.fault else (face.thumb, theme.finger("p"))
    marks.aligned(p, rows[1 if low else 3], last, ink, marks.font(13, True), marks.LEFT)
