"""From a part back to patterns: the shortest one that repeats under its chords, and the bars that break it.

Analysis by synthesis: a way of choosing thumb strings and fingers is supposed, every note is read as the
strokes that would give it on its chord, the strokes of equal places vote, and the pattern that comes out is
fitted again. What the fit gives note for note is explained; every other bar is an exception. The supposition
that leaves least unexplained, with the shortest pattern, is taken.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from itertools import product

import msgspec

from gingham.core.errors import FileError
from gingham.core.finding.exceptions import Exceptional, keep_exceptions
from gingham.core.finding.line import chord_line
from gingham.core.finding.part import Part, PartSection, Sounded, gathered, sounded
from gingham.core.finding.sections import (
    Read,
    bare,
    heard,
    plain_wording,
    read_section,
    with_pattern,
    wording,
)
from gingham.core.finding.strings import with_strings
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.performance import ENDING, perform
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.edits import remove_section
from gingham.core.pieces.form import ENDINGS, MOST_TIMES, Form, Turn
from gingham.core.pieces.piece import NamedPattern, Piece, Section
from gingham.core.pieces.plans import PICKING_PLANS
from gingham.core.pieces.rules import FingerKind, FingerPolicy, FirstRule, Rules, ThumbPlan
from gingham.core.reasons import Reason
from gingham.core.values import replace

_THUMBS = ("pair", *(plan for plan in PICKING_PLANS if plan != "pair"))  # the commonest first
_FINGERS: tuple[FingerKind, ...] = ("shift", "home", "follow:0", "follow:1")
_FEW = 0.3
_MOST_BARS = 48  # of a section, from which thumb and fingers are made out

Tick = Callable[[float], bool]


class Found(msgspec.Struct, frozen=True, gc=False):
    """The piece that was read, the bars that break its patterns, and what was supposed.

    `part` is what was read from, every note with its string.
    """

    piece: Piece
    exceptions: tuple[Exceptional, ...]
    guesses: tuple[Reason, ...]
    part: Part


def find(part: Part, tick: Tick | None = None) -> Found:
    """Read a part. `tick` is told the share that is done and stops the work by returning False.

    Raises
    ------
    FileError
        `reading-stopped` if `tick` said stop, `part-empty` if there is no bar.
    """
    if not any(section.bars for section in part.sections):
        raise FileError("part-empty")
    tried = [_Reading(with_strings(part), tick)]
    if part.on.reentrant and any(n.string is None for bar in part.bars() for n in bar.notes):
        tried.append(_Reading(with_strings(part, bass_side=True), tick))
    best = min(tried, key=lambda reading: reading.cost)
    piece, odd = keep_exceptions(best.piece(), best.kept)
    rules = piece.rules
    supposed = Reason.of("found-rules", thumb=rules.thumb.kind, fingers=rules.fingers.kind, align=rules.align)
    return Found(with_ending(piece), odd, (*part.guesses, supposed), best.whole)


class _Reading:
    """One way of giving the notes their strings, read."""

    def __init__(self, whole: Part, tick: Tick | None) -> None:
        self.whole = _interned(whole)
        self.kept, self.turns = gathered([section for section in self.whole.sections if section.bars])
        self.base = _bare_piece(self.whole, self.kept)
        self.rules, self.reads = self._read(tick)
        self.cost = sum(read.cost for read in self.reads)

    def _read(self, tick: Tick | None) -> tuple[Rules, list[Read]]:
        """The rules, found on the first bars of long sections, and every section read by them."""
        few = tuple(replace(section, bars=section.bars[:_MOST_BARS]) for section in self.kept)
        if few == self.kept:
            return _best_rules(self.base, self.kept, tick)
        rules, _ = _best_rules(_bare_piece(self.whole, few), few, tick)
        on, cache = replace(self.base, rules=rules), FitCache()
        reads = [
            read_section(on, index, section, fit(on, index, cache), cache, None)
            for index, section in enumerate(self.kept)
        ]
        return rules, reads

    def piece(self) -> Piece:
        """What was read, as a piece."""
        return _with_form(_with_patterns(replace(self.base, rules=self.rules), self.reads), self.turns)


def _interned(part: Part) -> Part:
    """`part` with equal bars' notes as the same object: what is worked out for one holds for all."""
    known: dict[tuple[Sounded, ...], tuple[Sounded, ...]] = {}
    sections = tuple(
        replace(s, bars=tuple(replace(b, notes=known.setdefault(b.notes, b.notes)) for b in s.bars))
        for s in part.sections
    )
    return replace(part, sections=sections)


def with_ending(piece: Piece) -> Piece:
    """`piece` with a last section that is one of Gingham's own endings turned into that ending again."""
    last = piece.turns(practice=False)[-1].section
    index = piece.section_index(last)
    if last != ENDING or len(piece.sections) < 2 or piece.sections[index].words:
        return piece
    wanted = heard(sounded(fit(piece, index).bars[0]))
    rest = remove_section(piece, index)
    for kind in ENDINGS:
        ended = replace(rest, performance=replace(rest.performance, ending=kind))
        final = perform(ended).results[-1]
        if final.section == len(rest.sections) and heard(sounded(final.bars[0])) == wanted:
            return ended
    return piece


def _bare_piece(part: Part, kept: tuple[PartSection, ...]) -> Piece:
    """The chords of the part with a pattern that does nothing yet."""
    rest = Pattern(part.meter, (1,), ((),) * len(part.meter.groups))
    sections = tuple(
        Section(section.name, chord_line(section.bars, part), section.name, words=_words(section))
        for section in kept
    )
    return Piece(
        part.title or "Untitled",
        sections,
        tuple(NamedPattern(section.name, rest) for section in kept),
        part.on,
        part.capo,
        part.meter,
        part.tempo,
    )


def _words(section: PartSection) -> tuple[str, ...]:
    """The syllables of each verse as marked lines, four bars a line."""
    out: list[str] = []
    for verse in sorted({sung.verse for bar in section.bars for sung in bar.words}):
        bars = []
        for bar in section.bars:
            own = [sung for sung in bar.words if sung.verse == verse]
            text = "".join(f"{sung.text}{'-' if sung.joins else ' '}" for sung in own)
            bars.append(text.strip().strip("-"))
        out += ["| " + " | ".join(bars[i : i + 4]) + " |" for i in range(0, len(bars), 4)]
    return tuple(out)


def _suppositions() -> Iterator[Rules]:
    for thumb, fingers in product(_THUMBS, _FINGERS):
        yield Rules(ThumbPlan(thumb), FingerPolicy(fingers))
    for thumb in _THUMBS:
        yield Rules(ThumbPlan(thumb), first=FirstRule("lowest"))
        yield Rules(ThumbPlan(thumb), first=FirstRule("root-first"))
    for thumb in _THUMBS[:3]:
        yield Rules(ThumbPlan(thumb), align="run")


def _best_rules(base: Piece, kept: tuple[PartSection, ...], tick: Tick | None) -> tuple[Rules, list[Read]]:
    """The supposition that explains most, an earlier one of equals.

    Patterns of every length are tried under the first one, of the length that was best under the others.
    """
    best: tuple[float, Rules, list[Read]] | None = None
    suppositions = list(_suppositions())
    seen: set[object] = set()
    for number, rules in enumerate(suppositions):
        if tick is not None and not tick(number / len(suppositions)):
            raise FileError("reading-stopped")
        rolls = rules.align == "run"
        if rolls and best is not None and not _mostly_odd(best[2], kept):
            break  # most bars begin alike: the pattern does not roll over the bar line
        on, cache = replace(base, rules=rules), FitCache()
        results = [fit(on, index, cache) for index in range(len(kept))]
        key = tuple(bare(span.assignment) for result in results for span in result.spans)
        if key in seen and not rolls:
            continue
        seen.add(key)
        known = best[2] if best is not None and not rolls else [None] * len(kept)
        reads = [
            read_section(on, index, kept[index], results[index], cache, known[index])
            for index in range(len(kept))
        ]
        cost = sum(read.cost for read in reads)
        if best is None or cost < best[0]:
            best = (cost, rules, reads)
        if all(_plain(read) for read in best[2]):
            break  # nothing is left unexplained, and nothing could be said more simply
    assert best is not None
    return best[1], best[2]


def _mostly_odd(reads: list[Read], kept: tuple[PartSection, ...]) -> bool:
    """Whether too many bars are exceptions for them to be that."""
    return sum(len(read.odd) for read in reads) > _FEW * sum(len(section.bars) for section in kept)


def _plain(read: Read) -> bool:
    """Whether a reading explains everything with each finger at home and the thumb by its count."""
    return not read.odd and not read.overrides and wording(read.pattern) <= plain_wording(read.pattern)


def _with_patterns(piece: Piece, reads: list[Read]) -> Piece:
    """The piece with what was read; sections with the same strokes share a pattern."""
    names: dict[Pattern, str] = {}
    for section, read in zip(piece.sections, reads, strict=True):
        piece = with_pattern(piece, section.name, read.pattern)
        names.setdefault(read.pattern, section.name)
    sections = tuple(replace(s, pattern=names[r.pattern]) for s, r in zip(piece.sections, reads, strict=True))
    patterns = tuple(NamedPattern(name, pattern) for pattern, name in names.items())
    overrides = tuple(dict.fromkeys(o for read in reads for o in read.overrides))
    return replace(piece, sections=sections, patterns=patterns, overrides=overrides)


def _with_form(piece: Piece, turns: tuple[tuple[str, int], ...]) -> Piece:
    """The order in which the sections came: as repeats where each comes once, else as a form."""
    if [name for name, _ in turns] == [section.name for section in piece.sections]:
        times = dict(turns)
        sections = tuple(replace(s, repeats=min(times[s.name], MOST_TIMES)) for s in piece.sections)
        return replace(piece, sections=sections)
    form = Form(tuple(Turn(name, min(times, MOST_TIMES)) for name, times in turns))
    return replace(piece, performance=form)
