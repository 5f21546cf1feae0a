"""A card of one pattern: fingers over counts, how it is said, its strings on the chords of a section."""

from __future__ import annotations

from collections.abc import Iterator

from gingham.core.fitting.result import Assignment
from gingham.core.judging.speed import full_limit
from gingham.core.music.meter import count_at
from gingham.core.patterns.pattern import FINGERS, Pattern, Pluck, Sweep
from gingham.language import tr
from gingham.paper.content import ShapeFace, SheetContent, SheetOptions
from gingham.paper.diagram import HEIGHT, WIDTH, diagram
from gingham.paper.metrics import Metrics
from gingham.paper.ops import Block, Box, Line, Op, Ring, Text
from gingham.words.hands import CAUTION
from gingham.words.names import FINGER_NAMES
from gingham.words.saying import script, without_grid

_CELL = 34.0
_SWEEPS = {"brush-down": "d", "brush-up": "u", "thumb-brush": "~", "chuck": "k"}


def card_blocks(
    content: SheetContent, options: SheetOptions, metrics: Metrics, scale: float, room: float
) -> Iterator[Block]:
    """The blocks of a pattern card, made for one page."""
    index = min(options.section, len(content.sections) - 1)
    section = content.sections[index]
    result = section.result
    pattern = result.pattern
    yield Block(26 * scale, (Text(0, 20 * scale, section.pattern, 15 * scale, True),), joined=True)
    yield from _grid(pattern, options, metrics, scale, room)
    faces = _faces(content, section.name)
    first = faces[0].on if faces else None
    yield from _sayings(pattern, first, content, options, metrics, scale, room)
    yield from _shapes(faces, options, metrics, scale, room)
    limit = full_limit(result, result.piece.rules.level)
    lines = (
        [tr("Comfortable top speed here: {tempo} beats a minute.", tempo=limit.tempo)] if limit.tempo else []
    )
    lines.append(CAUTION)
    ops: list[Op] = []
    y = 14 * scale
    for text in lines:
        for line in metrics.wrapped(text, 9 * scale, room):
            ops.append(Text(0, y, line, 9 * scale, ink="quiet"))
            y += 12.5 * scale
    yield Block(y, tuple(ops))


def _faces(content: SheetContent, name: str) -> list[ShapeFace]:
    """The shapes of one section."""
    section = next(s for s in content.sections if s.name == name)
    used = {
        (s.assignment.chord.text, s.assignment.shape)
        for s in section.result.spans
        if s.assignment is not None
    }
    return [face for face in content.shapes if (face.on.chord.text, face.on.shape) in used]


def _grid(
    pattern: Pattern, options: SheetOptions, metrics: Metrics, scale: float, room: float
) -> Iterator[Block]:
    """Fingers over counts; a pattern of several bars has a block for each."""
    used = {s.finger for _, s in pattern.strokes() if isinstance(s, Pluck)} | {"p", "i", "m"}
    fingers = [finger for finger in reversed(FINGERS) if finger in used]
    bars: dict[int, list[int]] = {}
    for index, at in enumerate(pattern.starts[:-1]):
        bars.setdefault(int(at / pattern.meter.bar), []).append(index)
    widest = max(map(len, bars.values()))
    cell = min(_CELL * scale, (room - 64 * scale) / widest)
    row = min(26 * scale, cell)
    beats = set(pattern.meter.beat_starts)
    for slots in bars.values():
        ops: list[Op] = []
        left, top = 64 * scale, 6 * scale
        for number, finger in enumerate(fingers):
            y = top + (number + 0.5) * row
            word = FINGER_NAMES[finger].removesuffix(" finger")
            ops.append(Text(left - 8 * scale, y + 3 * scale, word, 9 * scale, align="right", ink=finger))
            ops.append(Line(left, y, left + len(slots) * cell, y, 0.8 * scale, "pale"))
        for place, index in enumerate(slots):
            at = pattern.starts[index] % pattern.meter.bar
            x = left + (place + 0.5) * cell
            on_beat = at in beats
            if on_beat:
                shade = Box(x - cell / 2, top, cell, row * len(fingers), "wash")
                ops.insert(0, shade)
            syllable = options.naming.syllable(count_at(pattern.meter, at), place)
            y = top + row * len(fingers) + 12 * scale
            ink = "ink" if on_beat else "quiet"
            ops.append(Text(x, y, syllable, 11 * scale, on_beat, "center", ink))
            ops += _strokes(pattern, index, fingers, x, top, row, scale, options)
        yield Block(top + row * len(fingers) + 20 * scale, tuple(ops))


def _strokes(
    pattern: Pattern, index: int, fingers: list[str], x: float, top: float, row: float, scale: float,
    options: SheetOptions,
) -> list[Op]:  # fmt: skip
    out: list[Op] = []
    radius = min(10 * scale, 0.42 * row)
    for stroke in pattern.slots[index]:
        if isinstance(stroke, Pluck) and stroke.finger in fingers:
            y = top + (fingers.index(stroke.finger) + 0.5) * row
            out.append(Ring(x, y, radius, stroke.finger))
            name = options.naming.finger(stroke.finger)
            text = f"{name}{stroke.lane}" if stroke.lane else name
            size = 1.25 * radius
            out.append(Text(x, y + 0.36 * size, text, size, True, "center", "paper"))
        elif isinstance(stroke, Sweep):
            bottom = top + (len(fingers) - 0.25) * row
            out.append(Line(x, top + 0.25 * row, x, bottom, 3 * scale, "i"))
            out.append(Text(x + 5 * scale, top + 0.6 * row, _SWEEPS[stroke.kind], 9 * scale, True, ink="i"))
    return out


def _sayings(
    pattern: Pattern, assignment: Assignment | None, content: SheetContent, options: SheetOptions,
    metrics: Metrics, scale: float, room: float,
) -> Iterator[Block]:  # fmt: skip
    piece = content.piece
    rows = [
        (tr("Say the fingers"), "fingers"),
        (tr("Say the count"), "count"),
        (tr("Say the strings"), "strings"),
    ]
    ops: list[Op] = []
    y = 12 * scale
    for label, kind in rows:
        if kind == "strings" and assignment is None:
            continue
        said = script(kind, pattern, assignment, piece.instrument, options.naming, piece.rules.hand)
        words = without_grid(said)
        name = (
            tr("{label} on {text}", label=label, text=assignment.chord.text)
            if kind == "strings" and assignment is not None
            else label
        )
        ops.append(Text(0, y, name, 8 * scale, ink="quiet"))
        y += 12 * scale
        for line in metrics.wrapped(words, 11 * scale, room):
            ops.append(Text(0, y, line, 11 * scale))
            y += 14 * scale
        y += 4 * scale
    yield Block(y, tuple(ops))


def _shapes(
    faces: list[ShapeFace], options: SheetOptions, metrics: Metrics, scale: float, room: float
) -> Iterator[Block]:
    per_row = max(1, int(room // (WIDTH * scale)))
    for begin in range(0, len(faces), per_row):
        ops: list[Op] = []
        for index, face in enumerate(faces[begin : begin + per_row]):
            made = diagram(face, metrics, scale, mirrored=options.left_handed)
            ops += [op.moved(index * WIDTH * scale, 0) for op in made]
            strings = " ".join(
                f"{options.naming.finger(f)}{c.string}" for f, c in face.on.fingers if f in "ima"
            )
            x = (index + 0.5) * WIDTH * scale
            ops.append(Text(x, 110 * scale, strings, 7.5 * scale, align="center", ink="quiet"))
        yield Block((HEIGHT + 6) * scale, tuple(ops))
