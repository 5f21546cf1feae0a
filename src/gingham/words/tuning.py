"""Retuning, capo and key in words."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from gingham.core.bench.capo import CapoPlace
from gingham.core.bench.stringings import Strung
from gingham.core.instruments.instrument import Instrument
from gingham.core.instruments.retune import Peg, pegs, strained
from gingham.core.judging.bassline import Inversion
from gingham.core.judging.relations import Relation
from gingham.core.pieces.piece import Piece
from gingham.core.pieces.transpose import Transposed
from gingham.words.names import INSTRUMENT_NAMES, listed, signs
from gingham.words.panel import override_text


def peg_text(peg: Peg) -> str:
    """`String 6 down 2 semitones to D: an octave below string 4 open`; a warning where it goes up."""
    way = "down" if peg.semitones < 0 else "up"
    count = abs(peg.semitones)
    noun = "semitone" if count == 1 else "semitones"
    text = f"String {peg.string} {way} {count} {noun} to {signs(str(peg.after.note))}{_match_text(peg)}."
    if peg.semitones > 0:
        text += " Careful: above its usual pitch a string can break; a thinner string is safer."
    return text


def strain_text(instrument: Instrument) -> str:
    """What a tuning does to the strings that are usually on the instrument; empty if they bear it."""
    tight, slack = strained(instrument)
    parts = []
    if tight:
        parts.append(
            f"{_strings(tight)} far above the usual pitch, where strings break: use thinner ones or a capo."
        )
    if slack:
        parts.append(
            f"{_strings(slack)} far below the usual pitch, too slack to sound well: use thicker ones."
        )
    return " ".join(parts)


def _strings(numbers: tuple[int, ...]) -> str:
    return f"String{'s' if len(numbers) > 1 else ''} {listed(list(map(str, numbers)))}"


def _match_text(peg: Peg) -> str:
    if peg.match is None:
        return ""
    string, fret, octaves = peg.match
    place = f"string {string} {'open' if fret == 0 else f'fret {fret}'}"
    how = {0: "the same as", 1: "an octave below", 2: "two octaves below", -1: "an octave above"}[octaves]
    return f": {how} {place}"


WHAT_STAYS = "Other strings. What stays?"
KEEP_NAMES = "names, other shapes"
KEEP_SHAPES = "shapes, other names"


def given_up_text(moved: Transposed) -> str:
    """What could not be kept in the new key; empty if everything was."""
    parts = []
    if moved.pins:
        shapes = listed([f"{signs(place.symbol)} {place.shape}" for place in moved.pins])
        parts.append(f"Pinned shapes chosen anew: {shapes}.")
    if moved.overrides:
        parts.append(f"Given up: {'; '.join(map(override_text, moved.overrides))}.")
    return " ".join(parts)


def strung_text(strung: Strung) -> str:
    """`Am: A4 C4 E4 A4; string 3 is the lowest.`"""
    notes = " ".join(signs(str(pitch)) for pitch in strung.pitches) or "nothing is plucked"
    lowest = f"; string {strung.lowest} is the lowest" if strung.lowest is not None else ""
    return f"{signs(strung.chord)}: {notes}{lowest}." if strung.chord else f"{notes}."


def retuning_text(before: Piece, after: Piece) -> str:
    """What to do between two pieces: another instrument, pegs, capo; empty if nothing.

    `String 6 down 2 semitones to D: an octave below string 4 open. Capo off.`
    """
    one, other = before.instrument, after.instrument
    if (one.strings, one.reentrant) != (other.strings, other.reentrant):
        capo = f" Capo at {after.capo}." if after.capo else ""
        return f"Take the {INSTRUMENT_NAMES[other.id].lower()}, {other.tuning_text()}.{capo}"
    parts = [peg_text(peg) for peg in pegs(other, one)]
    if before.capo != after.capo:
        parts.append(f"Capo at {after.capo}." if after.capo else "Capo off.")
    return " ".join(parts)


def set_lines(pieces: Sequence[Piece]) -> list[str]:
    """The retunings of a set, in the order of its pieces; those between which nothing changes are left out."""
    return [
        f"{before.title or 'Untitled'} → {after.title or 'Untitled'}: {words}"
        for before, after in pairwise(pieces)
        if (words := retuning_text(before, after))
    ]


def relation_text(relation: Relation) -> str:
    """`G is the F grip 2 frets up`."""
    one, other, count = signs(relation.one), signs(relation.other), abs(relation.amount)
    if relation.kind == "frets":
        noun = "fret" if count == 1 else "frets"
        return f"{other} is the {one} grip {count} {noun} {'up' if relation.amount > 0 else 'down'}."
    noun = "string" if count == 1 else "strings"
    end = "string 1" if relation.amount > 0 else "the highest string number"
    return f"{other} is the {one} grip {count} {noun} over, toward {end}."


def inversion_text(inversion: Inversion, before: str) -> str:
    """What to type so that the line steps."""
    return f"{signs(before)}: as {signs(inversion.symbol)} the bass would go by step."


def capo_detail(place: CapoPlace) -> str:
    """What a position asks of both hands, and on which chords the same pitches are plucked."""
    squeaks = {0: "no squeak", 1: "1 squeak"}.get(place.squeaks, f"{place.squeaks} squeaks")
    skips = {0: "no string skipped", 1: "1 string skipped"}.get(
        place.skipped, f"{place.skipped} strings skipped"
    )
    same = ""
    if place.differ:
        named = listed([signs(name) for name in place.same])
        same = f" The same pitches on {named}." if named else " Other pitches on every chord."
    return (
        f"{place.fretted:g} fretted notes a chord, {squeaks}, {skips} while plucking; "
        f"{place.neck} frets are left above the capo.{same}"
    )


def capo_lines(place: CapoPlace, *, here: bool) -> tuple[str, str, str]:
    """`Capo 2, now: effort 1.4`, `G Am7 D`, `1 barre; other pitches on C`."""
    where = f"Capo {place.capo}" if place.capo else "No capo"
    barres = f"{place.barres} {'barre' if place.barres == 1 else 'barres'}" if place.barres else "no barres"
    differ = f"other pitches on {' '.join(map(signs, place.differ))}" if place.differ else "same pitches"
    shapes = "  ".join(signs(shape.text) for shape, _ in place.shapes)
    return f"{where}{', now' if here else ''}: effort {place.effort:.1f}", shapes, f"{barres}; {differ}"
