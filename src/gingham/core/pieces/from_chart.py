"""A piece from the sections of a chart: chord lines, words, how often; the pattern is one that is there."""

from __future__ import annotations

from collections.abc import Sequence

from gingham.core.errors import EditError
from gingham.core.free_names import free_name
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.pieces.lyrics import place_words
from gingham.core.pieces.piece import NamedPattern, Piece, Section
from gingham.core.values import replace

Rows = Sequence[tuple[str, str, tuple[str, ...], int]]
"""(name, chord line, words, times) of each section."""


def sections_from(rows: Rows, like: Piece, pattern: str) -> tuple[Section, ...]:
    """The sections of a chart in the meter of `like`.

    Raises
    ------
    ChordLineError
        If a chord line cannot be read.
    WordsError
        If a bar holds more words than it has room for.
    EditError
        If there is no section at all.
    """
    out = []
    for name, line, words, times in rows:
        chords = parse_chord_line(line, like.meter)
        place_words(words, like.meter, len(chords.bars), times)
        out.append(Section(name, chords, pattern, times, words))
    if not out:
        raise EditError("last-section")
    return tuple(out)


def piece_from(rows: Rows, like: Piece, title: str, capo: int, named: NamedPattern) -> Piece:
    """A new piece with the instrument, meter, tempo and rules of `like`; errors as in `sections_from`."""
    return Piece(
        title or "Untitled",
        sections_from(rows, like, named.name),
        (named,),
        like.instrument,
        capo if 0 <= capo <= like.instrument.frets - 5 else 0,
        like.meter,
        like.tempo,
        like.swing,
        rules=like.rules,
    )


def with_chart(piece: Piece, rows: Rows) -> Piece:
    """`piece` with the sections of a chart behind its own, under names that are free.

    A piece that has no chords yet gets them in place of its empty section. Errors as in `sections_from`.
    """
    pattern = piece.sections[-1].pattern
    made = sections_from(rows, piece, pattern)
    if not any(section.chords.bars for section in piece.sections):
        return replace(piece, sections=made)
    taken = {section.name for section in piece.sections}
    out = []
    for section in made:
        name = free_name(section.name, taken)
        taken.add(name)
        out.append(replace(section, name=name))
    return replace(piece, sections=(*piece.sections, *out))
