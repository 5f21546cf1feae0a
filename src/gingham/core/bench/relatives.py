"""The same chord smaller, and colours within reach: what lies under the hand that holds a chord now."""

from __future__ import annotations

from typing import Literal

import msgspec

from gingham.core.fitting.result import Assignment, Result
from gingham.core.music.chords import Chord, parse_chord
from gingham.core.shapes.fingers import misfingered
from gingham.core.shapes.fretting import THUMB, Fretting, frettings, held_with
from gingham.core.shapes.known import open_shapes
from gingham.core.shapes.search import missing_degrees, shapes_for
from gingham.core.shapes.shape import Shape

_LOOKED_AT = 24
_GUITAR = 6  # strings of a neck that a thumb reaches round
_MOST = 4
_MINOR = ("m7", "m6", "m(add9)", "sus2", "sus4", "m9", "m(maj7)")
_MAJOR = ("7", "maj7", "6", "add9", "sus2", "sus4", "9")


RelativeKind = Literal["smaller", "thumb-over", "colour"]


class Relative(msgspec.Struct, frozen=True, gc=False):
    """A chord near at hand: `kind` is `smaller`, `thumb-over` or `colour`; degrees lost and added.

    `string` and `fret` say where one finger goes for a colour; `string` is 0 for the others.
    """

    kind: RelativeKind
    chord: Chord
    shape: Shape
    fretting: Fretting
    lost: tuple[str, ...]
    added: tuple[str, ...]
    string: int = 0
    fret: int | None = None


def smaller(result: Result, index: int) -> tuple[Relative, ...]:
    """The same chord on fewer strings without a barre, or with the thumb over the neck; the easiest first."""
    on = result.spans[index].assignment
    if on is None or on.fretting is None or not on.fretting.barres:
        return ()
    instrument, out = result.piece.instrument, list[Relative]()
    over = _thumb_over(on.shape)
    if over is not None:
        out.append(_relative("thumb-over", on, on.chord, *over, result))
    for ranked in shapes_for(on.chord, instrument, result.piece.capo, _LOOKED_AT):
        part = all(mine in (None, own) for mine, own in zip(ranked.shape.frets, on.shape.frets, strict=True))
        full = [barre for barre in ranked.fretting.barres if barre.from_string - barre.to_string > 1]
        if part and ranked.shape != on.shape and not full:
            out.append(_relative("smaller", on, on.chord, ranked.shape, ranked.fretting, result))
    bass = on.chord.bass_note.pitch_class

    def order(each: Relative) -> tuple[bool, int, bool, float]:
        low = each.shape.midi(each.shape.sounding[0], instrument)
        return (
            each.kind != "thumb-over",
            len(each.lost),
            low is not None and low % 12 != bass,
            each.fretting.cost,
        )

    return tuple(sorted(out, key=order)[:_MOST])


def _thumb_over(shape: Shape) -> tuple[Shape, Fretting] | None:
    """The shape with the thumb on the string nearest to it, the next string left out: F{1x3211:T03211}."""
    if len(shape.frets) != _GUITAR or not shape.frets[0]:
        return None
    over = Shape((shape.frets[0], None, *shape.frets[2:]))
    ways = frettings(Shape((None, None, *shape.frets[2:])))
    fingers = (THUMB, 0, *ways[0].fingers[2:]) if ways else ()
    return (over, held_with(over, fingers)) if fingers and misfingered(over, fingers) is None else None


def colours(result: Result, index: int) -> tuple[Relative, ...]:
    """Suspensions, sixths, sevenths and ninths that one finger makes of the held shape."""
    on = result.spans[index].assignment
    if on is None:
        return ()
    minor = any(str(degree) == "b3" for degree in on.chord.degrees)
    out: list[Relative] = []
    for quality in _MINOR if minor else _MAJOR:
        chord = parse_chord(f"{on.chord.root}{quality}")
        if chord.degrees == on.chord.degrees:
            continue
        found = shapes_for(chord, result.piece.instrument, result.piece.capo, _LOOKED_AT)
        shapes = [*open_shapes(chord, result.piece.instrument), *(ranked.shape for ranked in found)]
        near = next((shape for shape in shapes if _one_finger(on.shape, shape)), None)
        ways = frettings(near) if near is not None else ()
        if near is not None and ways:
            string = _differing(on.shape, near)[0]
            out.append(_relative("colour", on, chord, near, ways[0], result, string, near.fret(string)))
    return tuple(out)


def _one_finger(one: Shape, other: Shape) -> bool:
    """Whether the shapes differ on one string, which sounds in both."""
    differing = _differing(one, other)
    return len(differing) == 1 and None not in (one.fret(differing[0]), other.fret(differing[0]))


def _differing(one: Shape, other: Shape) -> list[int]:
    count = len(one.frets)
    return [string for string in range(1, count + 1) if one.fret(string) != other.fret(string)]


def _relative(
    kind: RelativeKind,
    on: Assignment,
    chord: Chord,
    shape: Shape,
    way: Fretting,
    result: Result,
    string: int = 0,
    fret: int | None = None,
) -> Relative:
    had = {str(degree) for degree in on.chord.degrees}
    silent = {str(degree) for degree in missing_degrees(chord, shape, result.piece.instrument)}
    has = {str(degree) for degree in chord.degrees} - silent
    return Relative(kind, chord, shape, way, tuple(sorted(had - has)), tuple(sorted(has - had)), string, fret)
