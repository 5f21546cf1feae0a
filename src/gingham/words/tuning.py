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
from gingham.language import tr, tr_n
from gingham.words.names import INSTRUMENT_NAMES, listed, signs
from gingham.words.panel import override_text


def peg_text(peg: Peg) -> str:
    """`String 6 down 2 semitones to D: an octave below string 4 open`; a warning where it goes up."""
    text = tr_n(
        "String {string} {way} {n} semitone to {note}{match}.",
        "String {string} {way} {n} semitones to {note}{match}.",
        abs(peg.semitones),
        string=peg.string,
        way=tr("down") if peg.semitones < 0 else tr("up"),
        note=signs(str(peg.after.note)),
        match=_match_text(peg),
    )
    if peg.semitones > 0:
        text += tr(" Careful: above its usual pitch a string can break; a thinner string is safer.")
    return text


def strain_text(instrument: Instrument) -> str:
    """What a tuning does to the strings that are usually on the instrument; empty if they bear it."""
    tight, slack = strained(instrument)
    parts = []
    if tight:
        parts.append(
            tr(
                "{strings} far above the usual pitch, where strings break: use thinner ones or a capo.",
                strings=_strings(tight),
            )
        )
    if slack:
        parts.append(
            tr(
                "{strings} far below the usual pitch, too slack to sound well: use thicker ones.",
                strings=_strings(slack),
            )
        )
    return " ".join(parts)


def _strings(numbers: tuple[int, ...]) -> str:
    return tr_n("String {which}", "Strings {which}", len(numbers), which=listed(list(map(str, numbers))))


def _match_text(peg: Peg) -> str:
    if peg.match is None:
        return ""
    string, fret, octaves = peg.match
    place = (
        tr("string {string} fret {fret}", string=string, fret=fret)
        if fret
        else tr("string {string} open", string=string)
    )
    how = {
        0: tr("the same as"),
        1: tr("an octave below"),
        2: tr("two octaves below"),
        -1: tr("an octave above"),
    }[octaves]
    return f": {how} {place}"


WHAT_STAYS = tr("Other strings. What stays?")
KEEP_NAMES = tr("names, other shapes")
KEEP_SHAPES = tr("shapes, other names")


def given_up_text(moved: Transposed) -> str:
    """What could not be kept in the new key; empty if everything was."""
    parts = []
    if moved.pins:
        shapes = listed([f"{signs(place.symbol)} {place.shape}" for place in moved.pins])
        parts.append(tr("Pinned shapes chosen anew: {shapes}.", shapes=shapes))
    if moved.overrides:
        parts.append(tr("Given up: {chords}.", chords="; ".join(map(override_text, moved.overrides))))
    return " ".join(parts)


def strung_text(strung: Strung) -> str:
    """`Am: A4 C4 E4 A4; string 3 is the lowest.`"""
    notes = " ".join(signs(str(pitch)) for pitch in strung.pitches) or tr("nothing is plucked")
    lowest = tr("; string {lowest} is the lowest", lowest=strung.lowest) if strung.lowest is not None else ""
    return f"{signs(strung.chord)}: {notes}{lowest}." if strung.chord else f"{notes}."


def retuning_text(before: Piece, after: Piece) -> str:
    """What to do between two pieces: another instrument, pegs, capo; empty if nothing.

    `String 6 down 2 semitones to D: an octave below string 4 open. Capo off.`
    """
    one, other = before.instrument, after.instrument
    if (one.strings, one.reentrant) != (other.strings, other.reentrant):
        capo = tr(" Capo at {capo}.", capo=after.capo) if after.capo else ""
        return tr(
            "Take the {instrument}, {tuning}.{capo}",
            instrument=INSTRUMENT_NAMES[other.id].lower(),
            tuning=other.tuning_text(),
            capo=capo,
        )
    parts = [peg_text(peg) for peg in pegs(other, one)]
    if before.capo != after.capo:
        parts.append(tr("Capo at {capo}.", capo=after.capo) if after.capo else tr("Capo off."))
    return " ".join(parts)


def set_lines(pieces: Sequence[Piece]) -> list[str]:
    """The retunings of a set, in the order of its pieces; those between which nothing changes are left out."""
    return [
        f"{before.title or tr('Untitled')} → {after.title or tr('Untitled')}: {words}"
        for before, after in pairwise(pieces)
        if (words := retuning_text(before, after))
    ]


def relation_text(relation: Relation) -> str:
    """`G is the F grip 2 frets up`."""
    one, other, count = signs(relation.one), signs(relation.other), abs(relation.amount)
    if relation.kind == "frets":
        return tr_n(
            "{other} is the {one} grip {n} fret {way}.",
            "{other} is the {one} grip {n} frets {way}.",
            count,
            other=other,
            one=one,
            way=tr("up") if relation.amount > 0 else tr("down"),
        )
    return tr_n(
        "{other} is the {one} grip {n} string over, toward {end}.",
        "{other} is the {one} grip {n} strings over, toward {end}.",
        count,
        other=other,
        one=one,
        end=tr("string 1") if relation.amount > 0 else tr("the highest string number"),
    )


def inversion_text(inversion: Inversion, before: str) -> str:
    """What to type so that the line steps."""
    return tr(
        "{before}: as {symbol} the bass would go by step.",
        before=signs(before),
        symbol=signs(inversion.symbol),
    )


def capo_detail(place: CapoPlace) -> str:
    """What a position asks of both hands, and on which chords the same pitches are plucked."""
    squeaks = {0: tr("no squeak"), 1: tr("1 squeak")}.get(
        place.squeaks, tr("{squeaks} squeaks", squeaks=place.squeaks)
    )
    skips = {0: tr("no string skipped"), 1: tr("1 string skipped")}.get(
        place.skipped, tr("{skipped} strings skipped", skipped=place.skipped)
    )
    same = ""
    if place.differ:
        named = listed([signs(name) for name in place.same])
        same = (
            tr(" The same pitches on {named}.", named=named)
            if named
            else tr(" Other pitches on every chord.")
        )
    return tr(
        "{fretted:g} fretted notes a chord, {squeaks}, {skips} while plucking; {neck} frets "
        "are left above the capo.{same}",
        fretted=place.fretted,
        squeaks=squeaks,
        skips=skips,
        neck=place.neck,
        same=same,
    )


def capo_lines(place: CapoPlace, *, here: bool) -> tuple[str, str, str]:
    """`Capo 2, now: effort 1.4`, `G Am7 D`, `1 barre; other pitches on C`."""
    where = tr("Capo {capo}", capo=place.capo) if place.capo else tr("No capo")
    barres = tr_n("{n} barre", "{n} barres", place.barres) if place.barres else tr("no barres")
    differ = (
        tr("other pitches on {strings}", strings=" ".join(map(signs, place.differ)))
        if place.differ
        else tr("same pitches")
    )
    shapes = "  ".join(signs(shape.text) for shape, _ in place.shapes)
    return (
        tr(
            "{where}{now}: effort {effort:.1f}",
            where=where,
            now=tr(", now") if here else "",
            effort=place.effort,
        ),
        shapes,
        f"{barres}; {differ}",
    )
