"""A part as it stands in a file of another program: notes in bars, chords over them, words under them.

It knows nothing of patterns. Readers of formats make it, the finder reads it; a performance can be turned
into one, so that what was written and what was read can be compared.
"""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

import msgspec

from gingham.core.fitting.performance import Performance
from gingham.core.fitting.result import FittedBar, Result
from gingham.core.free_names import told_apart
from gingham.core.instruments.instrument import Instrument
from gingham.core.music.meter import Meter
from gingham.core.reasons import Reason
from gingham.core.shapes.shape import Shape
from gingham.core.values import replace

SILENCE = "N.C."


class Sounded(msgspec.Struct, frozen=True, gc=False):
    """One note: `at` from the bar's start, `midi` as it sounds (None for a chuck), `fret` from the capo.

    `string` and `fret` are None where the file does not say; `finger` is p i m a c or empty; `kind` as in an
    event of a result.
    """

    at: Fraction
    midi: int | None
    string: int | None = None
    fret: int | None = None
    finger: str = ""
    kind: str = "pluck"
    accent: int = 0


class Named(msgspec.Struct, frozen=True, gc=False):
    """A chord symbol over a place of a bar, named as its shape is (without the capo)."""

    at: Fraction
    symbol: str
    shape: Shape | None = None


class Sung(msgspec.Struct, frozen=True, gc=False):
    """A syllable under a place of a bar."""

    at: Fraction
    text: str
    joins: bool = False
    verse: int = 1


class PartBar(msgspec.Struct, frozen=True, gc=False):
    """A bar: its length, notes in order of time, chords, syllables."""

    length: Fraction
    notes: tuple[Sounded, ...] = ()
    chords: tuple[Named, ...] = ()
    words: tuple[Sung, ...] = ()


class PartSection(msgspec.Struct, frozen=True, gc=False):
    """A named stretch, played `times` times in a row."""

    name: str
    bars: tuple[PartBar, ...]
    times: int = 1


class Part(msgspec.Struct, frozen=True, gc=False):
    """A whole part. `guesses` say what the reader had to suppose."""

    title: str
    on: Instrument
    capo: int
    meter: Meter
    tempo: int
    sections: tuple[PartSection, ...]
    guesses: tuple[Reason, ...] = msgspec.field(default=())

    def bars(self) -> Iterator[PartBar]:
        """Every bar in order."""
        for section in self.sections:
            yield from section.bars


def part_of(performance: Performance) -> Part:
    """What a performance comes to, as a reader would find it."""
    piece = performance.results[0].piece
    sections = tuple(
        PartSection(result.piece.sections[result.section].name, tuple(_bars(result)), times)
        for result, times in zip(performance.results, performance.times, strict=True)
    )
    return Part(piece.title, piece.instrument, piece.capo, piece.meter, piece.tempo, sections)


def _bars(result: Result) -> Iterator[PartBar]:
    for bar in result.bars:
        yield PartBar(bar.length, sounded(bar), named(result, bar))


def sounded(bar: FittedBar) -> tuple[Sounded, ...]:
    """The notes of a fitted bar, strings that the shape mutes left out."""
    return tuple(
        Sounded(
            e.at,
            e.pitch.midi if e.pitch is not None else None,
            e.string,
            e.fret,
            e.finger or "",
            "pluck" if e.kind == "walk" else e.kind,
            e.accent,
        )
        for e in sorted(bar.events, key=lambda e: (e.at, -e.string))
        if not e.silent and (e.pitch is not None or e.kind == "chuck")
    )


def named(result: Result, bar: FittedBar) -> tuple[Named, ...]:
    """The chords that enter in a bar, with their shapes."""
    out = []
    for index in bar.spans:
        fitted = result.spans[index]
        if fitted.span.bar == bar.number:
            chord, assignment = fitted.span.chord, fitted.assignment
            text = chord.text if chord is not None else SILENCE
            out.append(Named(fitted.span.at, text, assignment.shape if assignment is not None else None))
    return tuple(out)


def gathered(sections: list[PartSection]) -> tuple[tuple[PartSection, ...], tuple[tuple[str, int], ...]]:
    """The different sections of a part, and its turns (name, times): what comes again is one section.

    Sections that share a name but not their notes get names of their own.
    """
    kept: list[PartSection] = []
    turns: list[tuple[str, int]] = []
    for section in sections:
        same = next((k for k in kept if _alike(k, section)), None)
        if same is None:
            name = told_apart(section.name or "Part", {k.name for k in kept})
            same = replace(section, name=name)
            kept.append(same)
        elif _sung(section) - _sung(same):
            kept[kept.index(same)] = same = _with_verses(same, section)
        turns.append((same.name, section.times))
    return tuple(kept), tuple(turns)


def _alike(one: PartSection, other: PartSection) -> bool:
    own_name = other.name in ("", one.name)
    return own_name and [(b.notes, b.chords) for b in one.bars] == [(b.notes, b.chords) for b in other.bars]


def _sung(section: PartSection) -> frozenset[tuple[int, Sung]]:
    return frozenset((i, replace(s, verse=0)) for i, bar in enumerate(section.bars) for s in bar.words)


def _with_verses(one: PartSection, other: PartSection) -> PartSection:
    """`one` with the words of another passage as further verses."""
    last = max((s.verse for bar in one.bars for s in bar.words), default=0)
    bars = tuple(
        replace(bar, words=(*bar.words, *(replace(s, verse=s.verse + last) for s in more.words)))
        for bar, more in zip(one.bars, other.bars, strict=True)
    )
    return replace(one, bars=bars)
