"""The chord line of a part: symbols as they stand or guessed from the notes, shapes pinned where needed."""

from __future__ import annotations

from collections import Counter
from fractions import Fraction
from math import lcm

from gingham.core.errors import InputError
from gingham.core.finding.part import SILENCE, Named, Part, PartBar, Sounded
from gingham.core.fitting.grips import first_grips, wish_of
from gingham.core.music.chords import parse_chord
from gingham.core.music.meter import Meter
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.chordline import HOLD, REPEAT, Bar, ChordLine, ChordPlace, Pickup, Span, spans
from gingham.core.pieces.piece import NamedPattern, Piece, Section
from gingham.core.shapes.naming import names_of
from gingham.core.shapes.search import shapes_for
from gingham.core.shapes.shape import Shape
from gingham.core.values import replace

_MANY_SHAPES = 60
_LEAST = 0.5  # so much of what sounds has to lie on a shape
_ORNAMENTS = ("hammer", "pull", "slide")


def chord_line(bars: tuple[PartBar, ...], part: Part) -> ChordLine:
    """The chords of a section as a line, with a shape pinned where the usual one would sound otherwise."""
    meter = part.meter
    named = _with_guesses(bars, part)
    pickup = None
    if bars and bars[0].length < meter.bar and len(bars) > 1:
        pickup = Pickup(bars[0].length, _places(named[0], bars[0].length, meter, first=True))
        named, bars = named[1:], bars[1:]
    written: list[Bar] = []
    for index, chords in enumerate(named):
        repeats = index > 0 and not chords and len(written[-1]) == 1
        first = index == 0 and pickup is None
        written.append((ChordPlace(REPEAT),) if repeats else _places(chords, meter.bar, meter, first=first))
    line = ChordLine(tuple(written), pickup)
    return _pinned(line, bars, named, part)


def _with_guesses(bars: tuple[PartBar, ...], part: Part) -> list[tuple[Named, ...]]:
    """The chords of each bar; a part without any symbols is named bar by bar from what sounds."""
    if any(bar.chords for bar in bars):
        return [tuple(c for c in bar.chords if _readable(c.symbol)) for bar in bars]
    out: list[tuple[Named, ...]] = []
    last = ""
    for bar in bars:
        symbol = guessed_symbol(bar.notes, part) or last or SILENCE
        out.append((Named(Fraction(0), symbol),))
        last = symbol
    return out


def _readable(symbol: str) -> bool:
    try:
        return symbol == SILENCE or bool(parse_chord(symbol))
    except InputError:
        return False


def guessed_symbol(notes: tuple[Sounded, ...], part: Part) -> str:
    """The most plausible name of what sounds in a bar; empty if nothing names it."""
    frets = _frets(notes)
    if not frets:
        return ""
    shape = Shape(tuple(frets.get(s) for s in range(part.on.strings, 0, -1)))
    names = names_of(shape, part.on, part.capo)
    return names[0].text if names else ""


def _frets(notes: tuple[Sounded, ...] | list[Sounded]) -> dict[int, int]:
    """The fret at which each string sounds most."""
    counted: dict[int, Counter[int]] = {}
    for note in notes:
        if note.string is not None and note.fret is not None and note.kind not in _ORNAMENTS:
            counted.setdefault(note.string, Counter())[note.fret] += 1
    return {string: frets.most_common(1)[0][0] for string, frets in counted.items()}


def _places(chords: tuple[Named, ...], length: Fraction, meter: Meter, *, first: bool) -> Bar:
    """The bar's places, as few as hold its chords; what lies off every grid goes to the one before."""
    beats = len(meter.groups)
    wanted = lcm(*((c.at / length).denominator for c in chords)) if chords else 1
    counts = [n for n in (1, 2, 3, 4, 6, 8, 9, 12, 16, 24) if beats % n == 0 or n % beats == 0]
    count = next((n for n in counts if n % wanted == 0), max(n for n in counts if n <= 4 * beats))
    out = [ChordPlace(HOLD)] * count
    for chord in chords:
        out[int(chord.at / length * count)] = ChordPlace(chord.symbol)
    if first and out[0].symbol == HOLD:
        out[0] = ChordPlace(next((c.symbol for c in chords), SILENCE))
    return tuple(out)


def _pinned(
    line: ChordLine, bars: tuple[PartBar, ...], named: list[tuple[Named, ...]], part: Part
) -> ChordLine:
    """`line` with a shape for every chord whose notes do not lie on the shape that would be chosen."""
    if not line.bars:
        return line
    found = spans(line, part.meter)
    rest = Pattern(part.meter, (1,), ((),) * len(part.meter.groups))
    piece = Piece("", (Section("", line, ""),), (NamedPattern("", rest),), part.on, part.capo, part.meter)
    wishes = [wish_of(piece, span) for span in found]
    chosen = first_grips(piece, [found])
    grips = [None if wish is None else chosen[wish.key] for wish in wishes]
    out = list(line.bars)
    for span, grip in zip(found, grips, strict=True):
        if span.chord is None or span.bar == 0:
            continue
        notes = _under(span, bars, part.meter)
        given = _given(span, named)
        shape = grip.shape if grip is not None else None
        pin = _shape_for(span, notes, given, shape, part)
        if pin is not None and pin != shape:
            bar = out[span.bar - 1]
            at = int(span.at / part.meter.bar * len(bar))
            out[span.bar - 1] = (*bar[:at], replace(bar[at], shape=pin), *bar[at + 1 :])
    return ChordLine(tuple(out), line.pickup)


def _under(span: Span, bars: tuple[PartBar, ...], meter: Meter) -> list[Sounded]:
    """The notes that sound while a chord lasts."""
    end = span.at + span.length  # from the start of the span's own bar
    out: list[Sounded] = []
    for index in range(span.bar - 1, min(len(bars), span.bar + int(end / meter.bar))):
        begin = (index - span.bar + 1) * meter.bar
        if begin >= span.at and begin + meter.bar <= end:
            out += bars[index].notes
        else:
            out += [note for note in bars[index].notes if span.at <= begin + note.at < end]
    return out


def _given(span: Span, named: list[tuple[Named, ...]]) -> Shape | None:
    """The shape that the file has for a chord."""
    chords = named[span.bar - 1] if span.bar <= len(named) else ()
    return next((c.shape for c in chords if c.at == span.at), None)


def _lying(notes: list[Sounded], shape: Shape) -> int:
    """How many of the notes lie on a shape."""
    return sum(shape.fret(n.string or 1) == n.fret for n in notes)


def _shape_for(
    span: Span, notes: list[Sounded], given: Shape | None, usual: Shape | None, part: Part
) -> Shape | None:
    """The file's own shape, else the one of the chord on which most notes lie, else what sounds.

    The usual shape goes before others that hold as many, easier ones before harder ones.
    """
    if given is not None and len(given.frets) == part.on.strings:
        return given
    assert span.chord is not None
    held = [n for n in notes if n.string is not None and n.fret is not None and n.kind not in _ORNAMENTS]
    ranked = [r.shape for r in shapes_for(span.chord, part.on, part.capo, _MANY_SHAPES)]
    best = max((usual, *ranked) if usual is not None else ranked, key=lambda s: _lying(held, s), default=None)
    if best is not None and _lying(held, best) >= _LEAST * len(held):
        return best
    frets = _frets(notes)
    return Shape(tuple(frets.get(s) for s in range(part.on.strings, 0, -1))) if frets else best
