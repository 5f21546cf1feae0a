"""A chord diagram as marks: strings, frets, fretting fingers in rings, needed ones filled, x and o."""

from __future__ import annotations

from collections.abc import Callable

from gingham.core.shapes.fretting import THUMB
from gingham.language import tr
from gingham.paper.content import ShapeFace
from gingham.paper.metrics import Metrics
from gingham.paper.ops import Box, Line, Op, Ring, Text

WIDTH, HEIGHT = 73.0, 110.0
_ROWS = 4
_TOP, _GRID = 36.0, 52.0


def diagram(face: ShapeFace, metrics: Metrics, scale: float, *, mirrored: bool) -> list[Op]:
    """The diagram in a cell of WIDTH × HEIGHT points at scale 1, from its left and top."""
    frets = face.on.shape.frets
    held = [fret for fret in frets if fret]
    first = 1 if not held or max(held) <= _ROWS else min(held)
    rows = max(_ROWS, max(held, default=0) - first + 1)
    left, right = 14 * scale, (WIDTH - 14) * scale
    step = (right - left) / (len(frets) - 1)
    top, row = _TOP * scale, _GRID * scale / rows

    def x(index: int) -> float:
        return right - index * step if mirrored else left + index * step

    middle = WIDTH * scale / 2
    room = WIDTH * scale - 4
    name, size = metrics.fitted(face.name, 11 * scale, room, bold=True)
    out: list[Op] = [Text(middle, 12 * scale, name, size, True, "center")]
    if face.sounds:
        words, size = metrics.fitted(tr("sounds {sounds}", sounds=face.sounds), 7.5 * scale, room)
        out.append(Text(middle, 21 * scale, words, size, align="center", ink="quiet"))
    out += [Line(x(i), top, x(i), top + rows * row, 0.6 * scale, "pale") for i in range(len(frets))]
    for number in range(rows + 1):
        nut = number == 0 and first == 1
        y = top + number * row
        out.append(Line(left, y, right, y, (2.0 if nut else 0.6) * scale, "ink" if nut else "pale"))
    if first > 1:
        out.append(
            Text(left - 4 * scale, top + 0.72 * row, str(first), 7.5 * scale, align="right", ink="quiet")
        )
    out += _marks(face, scale, x, top, row, first)
    thumb, size = metrics.fitted(face.thumb, 7.5 * scale, room)
    out.append(Text(middle, (_TOP + _GRID + 12) * scale, thumb, size, align="center", ink="p"))
    return out


def _marks(
    face: ShapeFace, scale: float, x: Callable[[int], float], top: float, row: float, first: int
) -> list[Op]:
    out: list[Op] = []
    fretting = face.on.fretting
    fingers = fretting.fingers if fretting is not None else ()
    radius = min(4.3 * scale, 0.42 * row)
    count = len(face.on.shape.frets)
    for barre in fretting.barres if fretting is not None else ():
        ends = [x(count - s) for s in (barre.from_string, barre.to_string)]
        y = top + (barre.fret - first + 0.5) * row
        width = max(ends) - min(ends)
        out.append(Box(min(ends) - radius, y - radius, width + 2 * radius, 2 * radius, "wash", "ink", radius))
    outside = face.on.outside()
    for index, own in enumerate(face.on.shape.frets):
        other = outside.get(count - index)
        fret = own if other is None else other.fret
        if fret and other is not None:
            y = top + (fret - first + 0.5) * row
            out.append(Ring(x(index), y, radius, "paper", "ink", 0.8 * scale))
            if other.way == "hop":
                out.append(Text(x(index), y + 0.4 * radius, "h", 1.3 * radius, align="center"))
            continue
        if not fret:
            sign = "x" if fret is None else "o"
            ink = "quiet" if fret is None or not face.needed[index] else "ink"
            out.append(Text(x(index), top - 4 * scale, sign, 8 * scale, align="center", ink=ink))
            continue
        y = top + (fret - first + 0.5) * row
        needed = face.needed[index]
        out.append(Ring(x(index), y, radius, "ink" if needed else "paper", "ink", 0.8 * scale))
        number = fingers[index] if index < len(fingers) else 0
        if number:
            name = "T" if number == THUMB else str(number)
            size = 1.5 * radius
            ink = "paper" if needed else "ink"
            out.append(Text(x(index), y + 0.36 * size, name, size, True, "center", ink))
    return out
