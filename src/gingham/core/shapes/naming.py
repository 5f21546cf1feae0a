"""Naming: the plausible chord symbols of any shape, best first.

A symbol is plausible if it names every tone that sounds and misses none but a fifth (and the ninth under an
11 or 13). Where there is no such symbol, a triad may miss its fifth too, and a seventh chord its third. What
makes one better than another is a small table of our own: common symbols before rare ones, the root in the
bass before a slash.
"""

from __future__ import annotations

from functools import lru_cache

from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import Chord, parse_chord
from gingham.core.music.key import Key
from gingham.core.music.pitch import Note, spell_pitch_class
from gingham.core.shapes.shape import Shape

# Quality and what it costs: how rare the symbol is, in the same unit as the costs below.
_QUALITIES: tuple[tuple[str, float], ...] = (
    ("", 0.0), ("m", 0.0), ("5", 0.6), ("7", 0.7), ("m7", 0.8), ("maj7", 0.9), ("sus4", 0.9), ("sus2", 1.0),
    ("6", 1.1), ("add9", 1.1), ("m6", 1.2), ("dim", 1.0), ("aug", 1.2), ("7sus4", 1.3), ("m(add9)", 1.5),
    ("m7b5", 1.4), ("dim7", 1.3), ("9", 1.3), ("maj9", 1.5), ("m9", 1.5), ("6/9", 1.5), ("m(maj7)", 1.8),
    ("add11", 1.9), ("7#9", 1.9), ("7b9", 1.9), ("9sus4", 1.9), ("maj7#11", 2.1), ("11", 2.2), ("m11", 2.2),
    ("13", 2.2), ("maj13", 2.4), ("7#5", 2.0), ("7b5", 2.1), ("m6/9", 2.3),
)  # fmt: skip
_SLASH, _FOREIGN_BASS = 1.3, 2.4
_MISSING = {3: 1.5, 5: 0.5, 9: 0.7}
_USUAL_SHARPS = frozenset({1, 6})  # C# and F# without a key; the other black keys are Eb, Ab, Bb


def names_of(
    shape: Shape, instrument: Instrument, capo: int = 0, key: Key | None = None, most: int = 8
) -> tuple[Chord, ...]:
    """Plausible symbols of a shape, best first; empty if nothing sounds that a symbol could name.

    The symbols name the shape as it is fingered, as everywhere in Gingham: without the capo. Roots are
    spelled by `key`, or by their usual names.
    """
    midis = tuple(sorted(instrument.open_midi(s) + (shape.fret(s) or 0) for s in shape.sounding))
    ordered = instrument.strings > 4 and not instrument.reentrant
    naming = _named if ordered else _rootless
    return (naming(midis, key) or naming(midis, key, bare=True))[:most]


def _rootless(midis: tuple[int, ...], key: Key | None, *, bare: bool = False) -> tuple[Chord, ...]:
    """Names where the lowest string is no bass (four strings, re-entrant tunings): none has a slash."""
    classes = frozenset(midi % 12 for midi in midis)
    found: dict[str, float] = {}
    for root in sorted(classes):
        for quality, cost in _QUALITIES:
            chord = parse_chord(f"{_spelled(root, key)}{quality}")
            fits = _fit(chord, classes, bare=bare)
            if fits is not None:
                found[chord.text] = cost + fits
    return tuple(parse_chord(text) for text in sorted(found, key=lambda text: (found[text], text)))


@lru_cache(maxsize=2048)
def _named(midis: tuple[int, ...], key: Key | None, *, bare: bool = False) -> tuple[Chord, ...]:
    bass = midis[0] % 12
    found: dict[str, float] = {}
    for classes, extra in ((frozenset(m % 12 for m in midis), 0.0), (_without_bass(midis), _FOREIGN_BASS)):
        for root in sorted(classes):
            for quality, cost in _QUALITIES:
                chord = parse_chord(f"{_spelled(root, key)}{quality}")
                fits = _fit(chord, classes, bare=bare)
                if fits is None or (extra and bass in chord.pitch_classes):
                    continue
                slash = extra or (_SLASH if root != bass else 0.0)
                text = chord.text if root == bass else f"{chord.text}/{_bass_note(chord, bass, key)}"
                found[text] = min(found.get(text, 99.0), cost + slash + fits)
    return tuple(parse_chord(text) for text in sorted(found, key=lambda text: (found[text], len(text), text)))


def _without_bass(midis: tuple[int, ...]) -> frozenset[int]:
    """What sounds above the bass, if the bass note is there once; else nothing."""
    bass = midis[0] % 12
    rest = frozenset(m % 12 for m in midis[1:])
    return frozenset() if bass in rest or len(rest) < 3 else rest


def _fit(chord: Chord, classes: frozenset[int], *, bare: bool) -> float | None:
    """What the tones that are missing cost; None if a tone is foreign or an important one is missing.

    `bare`: a triad may miss its fifth, and a chord of more tones its third.
    """
    if not classes <= chord.pitch_classes:
        return None
    total = 0.0
    for degree, note in chord.tones:
        if note.pitch_class in classes:
            continue
        many = len(chord.tones) > 3
        spare = degree.number == 5 and degree.alter == 0 and (many or bare)
        spare = spare or (bare and many and degree.number == 3)
        spare = spare or (degree.number == 9 and chord.degrees[-1].number > 9)
        if not spare:
            return None
        total += _MISSING[degree.number]
    return total


def _spelled(pitch_class: int, key: Key | None) -> Note:
    flats = key.flats if key is not None else pitch_class not in _USUAL_SHARPS
    return spell_pitch_class(pitch_class, flats=flats)


def _bass_note(chord: Chord, bass: int, key: Key | None) -> Note:
    """The slash bass, spelled as the chord spells it if it is one of its tones."""
    own = next((note for _, note in chord.tones if note.pitch_class == bass), None)
    return own if own is not None else _spelled(bass, key)
