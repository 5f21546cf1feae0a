"""The shapes that players know, from a table in the data folder: open ones, and movable forms."""

from __future__ import annotations

from functools import lru_cache

import msgspec

from gingham.core.instruments.instrument import Instrument
from gingham.core.music.chords import Chord, parse_chord
from gingham.core.music.pitch import parse_pitch
from gingham.core.shapes.shape import Shape, parse_shape
from gingham.data import FOLDER

_Tuning = tuple[int, ...]
_Degrees = tuple[str, ...]
_Forms = tuple[tuple[int, Shape], ...]
_Key = tuple[int, _Degrees, int]
_HIGHEST = 7  # where a form begins at most: further up there is an easier shape


class _Table(msgspec.Struct):
    """Open shapes by tuning and chord; forms by tuning and degrees, each with the pitch class of its root."""

    open: dict[_Tuning, dict[_Key, tuple[Shape, ...]]] = msgspec.field(default_factory=dict)
    movable: dict[_Tuning, dict[_Degrees, tuple[tuple[int, Shape], ...]]] = msgspec.field(
        default_factory=dict
    )


def open_shapes(chord: Chord, instrument: Instrument) -> tuple[Shape, ...]:
    """The open shapes that players know for `chord` in this tuning, the commonest first."""
    return _table().open.get(_classes(instrument), {}).get(_key(chord), ())


def known_shapes(chord: Chord, instrument: Instrument) -> tuple[Shape, ...]:
    """The open shapes of a chord, or without any its movable forms."""
    return open_shapes(chord, instrument) or movable_shapes(chord, instrument)


def movable_shapes(chord: Chord, instrument: Instrument) -> tuple[Shape, ...]:
    """The movable forms of `chord`, up the neck to its root; none for a slash chord."""
    if chord.bass_note.pitch_class != chord.root.pitch_class:
        return ()
    forms = _table().movable.get(_classes(instrument), {}).get(_degrees(chord), ())
    moved = [_up(form, (chord.root.pitch_class - root) % 12) for root, form in forms]
    return tuple(sorted((shape for shape in moved if _begins(shape) <= _HIGHEST), key=_begins))


def _up(form: Shape, by: int) -> Shape:
    """A form moved up the neck by so many frets."""
    return Shape(tuple(None if fret is None else fret + by for fret in form.frets))


def _begins(shape: Shape) -> int:
    return min(fret for fret in shape.frets if fret is not None)


def _classes(instrument: Instrument) -> _Tuning:
    return tuple(pitch.midi % 12 for pitch in instrument.tuning)


def _degrees(chord: Chord) -> _Degrees:
    return tuple(map(str, chord.degrees))


def _key(chord: Chord) -> _Key:
    """Chords that are the same however they are spelled."""
    return (chord.root.pitch_class, _degrees(chord), chord.bass_note.pitch_class)


@lru_cache(maxsize=1)
def _table() -> _Table:
    out = _Table()
    part, tunings = "", list[_Tuning]()
    for line in (FOLDER / "shapes.txt").read_text(encoding="utf-8").splitlines():
        words = line.split()
        if not words or words[0].startswith("#"):
            continue
        if words[0] in ("tuning", "movable"):
            part, tunings = words[0], [_tuning(names) for names in line.removeprefix(words[0]).split(",")]
            continue
        chord, shapes = parse_chord(words[0]), tuple(map(parse_shape, words[1:]))
        for tuning in tunings:
            if part == "tuning":
                out.open.setdefault(tuning, {}).setdefault(_key(chord), shapes)
            else:
                forms = out.movable.setdefault(tuning, {})
                own = tuple((chord.root.pitch_class, shape) for shape in shapes)
                forms[_degrees(chord)] = forms.get(_degrees(chord), ()) + own
    return out


def _tuning(text: str) -> _Tuning:
    return tuple(parse_pitch(f"{name}3").midi % 12 for name in text.split())
