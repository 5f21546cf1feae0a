"""Capo positions compared: which shapes each asks for, how hard they are, which plucked pitches differ."""

from __future__ import annotations

import msgspec

from gingham.core.errors import GinghamError
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Assignment, Result
from gingham.core.judging.changes import changes
from gingham.core.judging.pinches import gaps
from gingham.core.music.chords import Chord
from gingham.core.music.key import Key, sounding
from gingham.core.pieces.piece import Piece
from gingham.core.pieces.transpose import transposed
from gingham.core.shapes.search import shapes_for
from gingham.core.values import replace

HIGHEST = 7  # further up the neck is too short to be worth it
_UNLISTED = 6.0
_HIGH = 0.12  # what each fret of the capo costs: a shorter neck and a thinner sound
_BARRE = 0.5  # what a barre beat by beat adds to the effort of a shape, per chord


class CapoPlace(msgspec.Struct, frozen=True, gc=False):
    """One capo position for the same sounding chords: the piece in its shapes, and what it asks for.

    `effort` is the mean effort of shapes and changes for each chord, `barres` how many chords need a barre.
    `differ` names the sounding chords whose plucked pitches are not those of the position compared with,
    `same` those on which they are. `fretted` is how many notes a chord really needs held on average,
    `skipped` how many strings the plucking hand leaves out between those in use, over all chords, `squeaks`
    how many changes slide along a wound string, `neck` how many frets are left above the capo.
    """

    capo: int
    piece: Piece
    shapes: tuple[tuple[Chord, Chord], ...]
    effort: float
    barres: int
    differ: tuple[str, ...]
    same: tuple[str, ...] = ()
    fretted: float = 0.0
    skipped: int = 0
    squeaks: int = 0
    neck: int = 0


def both_names(chords: tuple[Chord, ...], capo: int, key: Key) -> tuple[tuple[Chord, Chord], ...]:
    """Each shape's symbol with what it sounds above the capo."""
    return tuple((chord, sounding(chord, capo, key)) for chord in chords)


def capo_places(piece: Piece, section: int = 0) -> tuple[CapoPlace, ...]:
    """Every capo position for what `piece` sounds now, the easiest first.

    The first chord line that is compared with is the piece as it is.
    """
    heard = fit(piece, section)
    base = piece.capo
    places = []
    for capo in range(min(HIGHEST, piece.instrument.frets - 5) + 1):
        try:
            moved = piece if capo == base else replace(transposed(piece, base - capo), capo=capo)
            places.append(_place(moved, section, heard))
        except GinghamError:
            continue  # no hand can hold some chord there
    return tuple(sorted(places, key=lambda place: (place.effort, place.capo)))


def _place(piece: Piece, section: int, heard: Result) -> CapoPlace:
    result = fit(piece, section, FitCache())
    spans = [span.assignment for span in result.spans if span.assignment is not None]
    efforts = [_effort(on, piece) for on in spans]
    barres = sum(on.fretting is not None and on.fretting.barre is not None for on in spans)
    found = changes(result)
    moves = [change.difficulty for change in found]
    effort = (sum(efforts) + _BARRE * barres) / max(1, len(efforts)) + _HIGH * piece.capo
    effort += sum(moves) / max(1, len(moves))
    key = piece.shape_key()
    names = both_names(tuple(dict.fromkeys(on.chord for on in spans)), piece.capo, key)
    differ = _differ(result, heard)
    same = tuple(dict.fromkeys(sounds.text for _, sounds in names if sounds.text not in differ))
    holds = [span.hold for span in result.spans if span.hold is not None]
    fretted = sum(sum(bool(fret) for fret in hold.frets) for hold in holds) / max(1, len(holds))
    skipped = sum(one - other - 1 for span in result.spans for one, other in gaps(span.strings))
    squeaks = sum(change.squeak for change in found)
    neck = piece.instrument.frets - piece.capo
    return CapoPlace(
        piece.capo, piece, names, round(effort, 2), barres, differ, same, round(fretted, 1), skipped,
        squeaks, neck,
    )  # fmt: skip


def _effort(assignment: Assignment, piece: Piece) -> float:
    """The effort of a chord's shape; a shape that the search does not list is a hard one."""
    found = shapes_for(assignment.chord, piece.instrument, piece.capo)
    return next((ranked.effort for ranked in found if ranked.shape == assignment.shape), _UNLISTED)


def _differ(result: Result, heard: Result) -> tuple[str, ...]:
    """Sounding chords on which other pitches are plucked than in the version compared with."""
    out: dict[str, None] = {}
    for one, other in zip(_plucked(result), _plucked(heard), strict=False):
        for (name, pitches), (_, pitches_there) in zip(one, other, strict=False):
            if pitches != pitches_there:
                out[name] = None
    return tuple(out)


def _plucked(result: Result) -> list[list[tuple[str, tuple[int, ...]]]]:
    """For each bar and chord its sounding name and the pitches plucked."""
    out = []
    for bar in result.bars:
        row = []
        for index in bar.spans:
            assignment = result.spans[index].assignment
            begins = result.spans[index].span
            if assignment is not None:
                pitches = tuple(
                    e.pitch.midi
                    for e in bar.events
                    if e.pitch is not None and (begins.bar < bar.number or e.at >= begins.at)
                )
                row.append((assignment.sounding.text, pitches))
        out.append(row)
    return out
