"""Audition: every pattern of a list on this piece's chords, judged alike."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Result
from gingham.core.judging.changes import different_changes
from gingham.core.judging.speed import hand_limit
from gingham.core.music.meter import seconds
from gingham.core.patterns.convert import convert
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.edits import with_section
from gingham.core.pieces.piece import NamedPattern, Piece
from gingham.core.reasons import ADVICE
from gingham.core.values import replace

HARD = 3.0  # a change as hard as three fingers to set within a second


class Heard(msgspec.Struct, frozen=True, gc=False):
    """One pattern on the piece's chords.

    `conflicts` counts problems of different kind and chord to solve, `remarks` those that need none;
    `hard_changes` chord changes of difficulty HARD or more; `per_s` strokes a second at the piece's tempo.
    `converted` says that it came from another meter.
    """

    name: str
    pattern: Pattern
    result: Result
    conflicts: int
    remarks: int
    hard_changes: int
    limit: int
    per_s: float
    converted: bool


def audition(piece: Piece, section: int, patterns: list[tuple[str, Pattern]]) -> Iterator[Heard]:
    """Try the patterns one after the other; those of other meters are converted first."""
    cache = FitCache()
    for name, pattern in patterns:
        fitting = pattern if pattern.meter == piece.meter else convert(pattern, piece.meter).pattern
        yield hear(piece, section, name, fitting, cache, fitting is not pattern)


def hear(
    piece: Piece, section: int, name: str, pattern: Pattern, cache: FitCache, converted: bool = False
) -> Heard:
    """One pattern (in the piece's meter) on the chords of a section."""
    result = fit(with_pattern(piece, section, name, pattern), section, cache)
    found = {(p.code, dict(p.values).get("chord")) for _, p in result.problems()}
    remarks = sum(code in ADVICE for code, _ in found)
    bar_s = seconds(piece.meter.bar, piece.meter, piece.tempo)
    plucked = sum(bool(slot) for slot in pattern.slots) / float(pattern.length / piece.meter.bar)
    limit = hand_limit(result, piece.rules.level).tempo
    hard = sum(change.difficulty >= HARD for change in different_changes(result))
    return Heard(
        name,
        pattern,
        result,
        len(found) - remarks,
        remarks,
        hard,
        limit,
        round(plucked / bar_s, 2),
        converted,
    )


def with_pattern(piece: Piece, section: int, name: str, pattern: Pattern) -> Piece:
    """The piece with one pattern alone, and one section that plays it."""
    tried = replace(piece, patterns=(*piece.patterns, NamedPattern(f"\0{name}", pattern)))
    return with_section(tried, section, lambda old: replace(old, pattern=f"\0{name}"))
