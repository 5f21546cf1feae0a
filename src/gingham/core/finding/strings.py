"""Strings and frets for notes of which only the pitch is known.

Under a chord symbol the shape that holds most of its notes is looked for; what lies outside goes to the
nearest free string. Two notes at once never share a string.
"""

from __future__ import annotations

from collections import Counter
from fractions import Fraction

from gingham.core.errors import InputError
from gingham.core.finding.part import SILENCE, Named, Part, PartBar, Sounded
from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import parse_chord
from gingham.core.shapes.search import shapes_for
from gingham.core.shapes.shape import Shape
from gingham.core.values import replace

_MANY_SHAPES = 40
_REACH = 4


def with_strings(part: Part, *, bass_side: bool = False) -> Part:
    """`part` with a string and a fret for every note that has none.

    Of two strings that sound a note alike, as on a re-entrant ukulele, the lower number is taken, or with
    `bass_side` the higher one.
    """
    if all(note.string is not None for bar in part.bars() for note in bar.notes):
        return part
    sections, held = [], None
    for section in part.sections:
        bars = []
        for bar in section.bars:
            done, held = _bar(bar, held, part.on, part.capo, bass_side)
            bars.append(done)
        sections.append(replace(section, bars=tuple(bars)))
    return replace(part, sections=tuple(sections))


def _bar(
    bar: PartBar, held: Named | None, instrument: Instrument, capo: int, bass_side: bool
) -> tuple[PartBar, Named | None]:
    starts = [c.at for c in bar.chords]
    chords = list(bar.chords)
    if held is not None and (not starts or starts[0] > 0):
        chords.insert(0, replace(held, at=Fraction(0)))
    if not chords:
        chords = [Named(Fraction(0), SILENCE)]
    notes: list[Sounded] = []
    named = []
    for index, chord in enumerate(chords):
        end = chords[index + 1].at if index + 1 < len(chords) else bar.length
        inside = [n for n in bar.notes if chord.at <= n.at < end]
        shape = chord.shape or best_shape(chord.symbol, inside, instrument, capo)
        notes += _placed(inside, shape, instrument, capo, bass_side)
        named.append(replace(chord, shape=shape))
    return replace(bar, notes=tuple(sorted(notes, key=lambda n: (n.at, -(n.string or 0))))), named[-1]


def best_shape(symbol: str, notes: list[Sounded], instrument: Instrument, capo: int) -> Shape | None:
    """The shape of a chord that sounds most of `notes`, the easier one of equals; None for no chord."""
    try:
        chord = parse_chord(symbol)
    except InputError:
        return None
    counted = Counter(n.midi for n in notes if n.midi is not None)

    def covered(shape: Shape) -> int:
        here = {shape.midi(string, instrument, capo) for string in shape.sounding}
        return sum(count for midi, count in counted.items() if midi in here)

    ranked = shapes_for(chord, instrument, capo, _MANY_SHAPES)
    return max((r.shape for r in ranked), key=covered, default=None)


def _placed(
    notes: list[Sounded], shape: Shape | None, instrument: Instrument, capo: int, bass_side: bool
) -> list[Sounded]:
    out: list[Sounded] = []
    taken: dict[Fraction, set[int]] = {}
    ordered = sorted(notes, key=lambda n: (n.at, n.midi or 0))
    for note in ordered:
        used = taken.setdefault(note.at, set())
        if note.string is not None:
            used.add(note.string)
            out.append(note)
            continue
        string = _string_for(note, shape, instrument, capo, used, bass_side)
        if string is None or note.midi is None:
            continue  # below the instrument, or more notes at once than strings
        used.add(string)
        out.append(replace(note, string=string, fret=note.midi - instrument.open_midi(string) - capo))
    return out


def _string_for(
    note: Sounded, shape: Shape | None, instrument: Instrument, capo: int, used: set[int], bass_side: bool
) -> int | None:
    """The string of the shape that sounds the note, else the one with the nearest fret."""
    if note.midi is None:
        return None
    held = [fret for fret in shape.frets if fret] if shape is not None else []
    middle = sum(held) / len(held) if held else 2.0
    best: tuple[tuple[float, ...], int] | None = None
    strings = range(1, instrument.strings + 1)
    for string in reversed(strings) if bass_side else strings:
        fret = note.midi - instrument.open_midi(string) - capo
        if string in used or not 0 <= fret <= instrument.frets - capo:
            continue
        own = shape is not None and shape.fret(string) == fret
        far = 0.0 if fret == 0 else abs(fret - middle)
        alike = 0.0 if own and bass_side else float(fret)
        rank = (0.0 if own else 1.0, 0.0 if own else far if far <= _REACH else 10 * far, alike)
        if best is None or rank < best[0]:
            best = (rank, string)
    return None if best is None else best[1]
