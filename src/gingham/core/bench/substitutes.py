"""Easier relatives of a chord: what each loses and adds, what the thumb must then do, whether it suits."""

from __future__ import annotations

import msgspec

from gingham.core.errors import GinghamError
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Assignment, Result
from gingham.core.music.chords import Chord, parse_chord
from gingham.core.music.key import SCALES, Key
from gingham.core.pieces.edits import replace_chord
from gingham.core.shapes.context import Grip, change_cost
from gingham.core.shapes.search import shapes_for
from gingham.core.shapes.shape import Shape

# What may stand in for a chord with a minor third, with a major third and a minor seventh, with any other.
_MINOR = ("m", "m7", "m(add9)", "sus2", "sus4")
_DOMINANT = ("7", "", "9", "7sus4", "5")
_MAJOR = ("", "maj7", "6", "add9", "sus2", "5")
_WORTH = 0.5  # fingers of effort that a substitute must save
_MORE_CHANGE = 0.4  # how much harder the changes around it may get


class Substitute(msgspec.Struct, frozen=True, gc=False):
    """A stand-in: symbol and shape, effort saved (in fingers), degrees lost and added, the thumb's strings.

    `suits` says whether it suits its neighbours; `why` is `changes` (they get harder), `outside` (an added
    tone outside the key) or empty. `string_one` says whether string 1 still sounds.
    """

    chord: Chord
    shape: Shape
    saved: float
    lost: tuple[str, ...]
    added: tuple[str, ...]
    thumb: tuple[int, ...]
    suits: bool
    why: str
    string_one: bool


def substitutes(result: Result, index: int, most: int = 6) -> tuple[Substitute, ...]:
    """Easier stand-ins for one chord of a fitted section: those that suit first, then by effort saved.

    Those that do not suit are left out if the piece's rules say so.
    """
    assignment = result.spans[index].assignment
    if assignment is None:
        return ()
    found = [
        each
        for chord in _candidates(assignment.chord)
        for ranked in shapes_for(chord, result.piece.instrument, result.piece.capo)[:2]
        if (each := _try(result, index, assignment, chord, ranked.shape)) is not None
    ]
    if result.piece.rules.stand_ins == "suiting":
        found = [each for each in found if each.suits]
    best: dict[str, Substitute] = {}
    for each in sorted(found, key=lambda s: -s.saved):
        best.setdefault(each.chord.text, each)
    return tuple(sorted(best.values(), key=lambda s: (not s.suits, -s.saved))[:most])


def _candidates(chord: Chord) -> list[Chord]:
    """The same symbol in another shape, without its slash bass, and its simpler or easier relatives."""
    degrees = {str(degree) for degree in chord.degrees}
    family = _MINOR if "b3" in degrees else _DOMINANT if {"3", "b7"} <= degrees else _MAJOR
    texts = [chord.text, *(f"{chord.root}{quality}" for quality in family)]
    if chord.bass is not None:
        texts.append(chord.text[: chord.text.rindex("/")])
    return [parse_chord(text) for text in dict.fromkeys(texts)]


def _try(result: Result, index: int, assignment: Assignment, chord: Chord, shape: Shape) -> Substitute | None:
    """The stand-in, if it saves enough effort and can be fitted."""
    if (chord.text, shape) == (assignment.chord.text, assignment.shape):
        return None
    saved = _effort(result, assignment.chord, assignment.shape) - _effort(result, chord, shape)
    if saved < _WORTH:
        return None
    span = result.spans[index].span
    try:
        piece = replace_chord(result.piece, result.section, span, chord.text, shape)
        changed = [fitted.assignment for fitted in fit(piece, result.section).spans]
    except GinghamError:
        return None
    other = next(
        (
            assignment
            for assignment in changed
            if assignment is not None and (assignment.chord, assignment.shape) == (chord, shape)
        ),
        None,
    )
    if other is None:
        return None
    had, has = {str(d) for d in assignment.chord.degrees}, {str(d) for d in chord.degrees}
    why = _objection(result, index, assignment, other, has - had)
    thumb = tuple(dict.fromkeys(choice.string for choice in other.basses))
    return Substitute(
        chord, shape, round(saved, 2), _ordered(had - has), _ordered(has - had), thumb, not why, why,
        shape.fret(1) is not None,
    )  # fmt: skip


def _effort(result: Result, chord: Chord, shape: Shape) -> float:
    found = shapes_for(chord, result.piece.instrument, result.piece.capo)
    return next((ranked.effort for ranked in found if ranked.shape == shape), 8.0)


def _objection(result: Result, index: int, assignment: Assignment, other: Assignment, added: set[str]) -> str:
    """Why a stand-in does not suit its neighbours; empty if it does."""
    key = result.piece.shape_key()
    tones = [note.pitch_class for degree, note in other.chord.tones if str(degree) in added]
    if any(not _in_key(pitch_class, key) for pitch_class in tones):
        return "outside"
    around = [result.spans[i].assignment for i in (index - 1, index + 1) if 0 <= i < len(result.spans)]
    neighbours = [_grip(each) for each in around if each is not None]
    before = sum(change_cost(near, _grip(assignment)) for near in neighbours)
    after = sum(change_cost(near, _grip(other)) for near in neighbours)
    return "changes" if after > before + _MORE_CHANGE else ""


def _grip(assignment: Assignment) -> Grip:
    return Grip(assignment.shape, assignment.fretting)


def _in_key(pitch_class: int, key: Key) -> bool:
    return (pitch_class - key.tonic.pitch_class) % 12 in SCALES[key.minor]


def _ordered(degrees: set[str]) -> tuple[str, ...]:
    return tuple(sorted(degrees, key=lambda d: (int(d.lstrip("#b")), d)))
