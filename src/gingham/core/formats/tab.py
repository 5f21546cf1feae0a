"""Plain-text tablature of a fitted section, with chords above and counts below."""

from __future__ import annotations

from fractions import Fraction
from math import lcm

from gingham.core.fitting.performance import Performance
from gingham.core.fitting.result import Event, FittedBar, Result
from gingham.core.music.meter import count_at
from gingham.core.pieces.piece import Piece

_WIDTH = 100
_SIGNS = {"hammer": "h", "pull": "p", "slide": "s", "chuck": "x"}
SWEEPS = {"brush-down": "d", "brush-up": "u", "chuck": "k"}
THUMB_BRUSH = "~"
ORDER, WORDS, HEADING = "Order:", "Words:", "# "


def section_tab(result: Result) -> str:
    """The section as lines of tablature: chord names, strings, fingers, counts."""
    piece = result.piece
    columns = [_bar_columns(result, bar) for bar in result.bars]
    labels = _labels(piece)
    blocks: list[str] = []
    row: list[list[str]] = []
    width = 0
    for block in columns:
        if row and width + len(block[0]) > _WIDTH:
            blocks.append(_join(labels, row))
            row, width = [], 0
        row.append(block)
        width += len(block[0])
    if row:
        blocks.append(_join(labels, row))
    return "\n\n".join(blocks)


def piece_tab(performance: Performance) -> str:
    """The whole piece: a heading, the order, every section once with its words, the ending."""
    piece = performance.results[0].piece
    capo = f", capo {piece.capo}" if piece.capo else ""
    head = [
        piece.title,
        f"{piece.instrument.tuning_text()}{capo}, {piece.meter}, {piece.tempo} beats a minute",
    ]
    if piece.capo:
        head.append("Frets count from the capo.")
    turns = [(_name(r), times) for r, times in zip(performance.results, performance.times, strict=True)]
    head.append(f"{ORDER} {', '.join(f'{name} x{n}' if n > 1 else name for name, n in turns)}")
    if performance.fading:
        head.append(f"{turns[-1][0]} is repeated and fades out.")
    parts = ["\n".join(head)]
    for result in {_name(r): r for r in performance.results}.values():
        parts.append(f"{HEADING}{_name(result)}\n{section_tab(result)}")
        words = result.piece.sections[result.section].words
        if any(words):
            parts.append("\n".join([WORDS, *(line for line in words if line.strip())]))
    return "\n\n".join(parts) + "\n"


def _name(result: Result) -> str:
    return result.piece.sections[result.section].name


def _labels(piece: Piece) -> list[str]:
    names = [str(pitch.note) for pitch in piece.instrument.tuning]
    width = max(map(len, names))
    return [" " * width, *(f"{name:>{width}}" for name in reversed(names)), " " * width, " " * width]


def _join(labels: list[str], row: list[list[str]]) -> str:
    lines = []
    for index, label in enumerate(labels):
        mark = "|" if 0 < index < len(labels) - 2 else " "
        lines.append((label + mark + mark.join(block[index] for block in row) + mark).rstrip())
    return "\n".join(lines)


def _bar_columns(result: Result, bar: FittedBar) -> list[str]:
    """The lines of one bar: chords, one per string from string 1 down, fingers, counts."""
    piece = result.piece
    times = _times(result, bar)
    strings = range(1, piece.instrument.strings + 1)
    cells = {time: [e for e in bar.events if e.at == time and not e.silent] for time in times}
    names = {
        result.spans[i].span.at if result.spans[i].span.bar == bar.number else Fraction(0): _chord_name(
            result, i
        )
        for i in bar.spans
    }
    body = [""] * (len(strings) + 2)
    chords = ""
    missing = piece.meter.bar - bar.length if bar.number == 0 else Fraction(0)
    for time in times:
        events = cells[time]
        column = [*(_fret_sign(events, string) for string in strings), _fingers(events)]
        column.append(count_at(piece.meter, time + missing).replace("·", ""))
        width = max(2, *(len(text) + 1 for text in column))
        if time in names:
            # A long name pushes the next one along, never the strings below it.
            chords = (
                chords.rstrip().ljust(len(body[0])) if len(chords.rstrip()) < len(body[0]) else chords + " "
            )
            chords += names[time]
        fills = [*("-" for _ in strings), " ", " "]
        body = [
            line + text + fill * (width - len(text))
            for line, text, fill in zip(body, column, fills, strict=True)
        ]
    return _even([chords, *body])


def _even(lines: list[str]) -> list[str]:
    """All lines of a bar as wide as the widest: strings drawn on, the others filled with blanks."""
    width = max(map(len, lines))
    strings = range(1, len(lines) - 2)
    return [line.ljust(width, "-" if index in strings else " ") for index, line in enumerate(lines)]


def _chord_name(result: Result, index: int) -> str:
    chord = result.spans[index].span.chord
    return chord.text if chord is not None else "N.C."


def _times(result: Result, bar: FittedBar) -> list[Fraction]:
    """Every slot of the bar on its pattern's grid, and whatever sounds or changes between."""
    pattern = result.pattern_in(bar)
    lengths = {b - a for a, b in zip(pattern.starts, pattern.starts[1:], strict=False)}
    grid = Fraction(1, lcm(*(length.denominator for length in lengths)))
    regular = len(lengths) == 1
    step = next(iter(lengths)) if regular else grid
    times = {step * k for k in range(int(bar.length / step))} if regular else set()
    times |= {event.at for event in bar.events}
    times |= {result.spans[i].span.at for i in bar.spans if result.spans[i].span.bar == bar.number}
    times.add(Fraction(0))
    return sorted(times)


def _fret_sign(events: list[Event], string: int) -> str:
    for event in events:
        if event.string == string:
            if event.kind == "chuck":
                return "x"
            fret = "x" if event.fret is None else str(event.fret)
            return _SIGNS.get(event.kind, "") + fret
    return ""


def _fingers(events: list[Event]) -> str:
    if any(e.pick for e in events):  # v down, ^ up: a flat pick has no fingers
        return "".join(dict.fromkeys("v" if e.pick == "down" else "^" for e in events if e.pick))
    plucked = dict.fromkeys(e.finger for e in events if e.finger and e.plucked)
    swept = dict.fromkeys(
        THUMB_BRUSH if e.kind == "brush-down" and e.finger == "p" else SWEEPS[e.kind]
        for e in events
        if e.kind in SWEEPS
    )
    return "".join([*plucked, *swept])
