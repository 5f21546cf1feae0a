"""The grips of a piece, worked out as seldom as can be.

What is looked up by identity is kept alive beside it, so that an identity stays its own.
"""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil

from gingham.core.fitting.as_fingers import as_fingers, meant_span
from gingham.core.fitting.assign import setting_of
from gingham.core.fitting.grips import Use, faults, first_grips, held_anew, tried, wish_of
from gingham.core.fitting.strings_in import has_strings
from gingham.core.music.key import Key as MusicKey
from gingham.core.music.meter import Meter
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.chordline import ChordLine, spans
from gingham.core.pieces.piece import HereOverride, Piece
from gingham.core.shapes.context import Grip, Key, Wish

_MOST_LINES, _MOST_FAULTS, _MOST_ANEW, _MOST_ROWS = 256, 8_192, 1_024, 64
_MOST_FIRSTS = 6
Row = tuple[Grip | None, ...]
Grips = dict[Key, Grip | None]


class Line:
    """The spans of one chord line, what is wished on them, and which chords lie in which bar."""

    def __init__(self, piece: Piece, line: ChordLine) -> None:
        self.line, self.meter = line, piece.meter
        self.spans = spans(line, piece.meter)
        self.wishes = tuple(wish_of(piece, span) for span in self.spans)
        self.different = {wish.key: wish for wish in self.wishes if wish is not None}
        self._by_bar: dict[int, set[Key]] | None = None

    def in_bar(self, number: int) -> set[Key]:
        """The chords that sound in a bar."""
        if self._by_bar is None:
            self._by_bar = {}
            for span, wish in zip(self.spans, self.wishes, strict=True):
                if wish is not None:
                    bars = max(1, ceil((span.at + span.length) / self.meter.bar)) if span.bar else 1
                    for bar in range(span.bar, span.bar + bars):
                        self._by_bar.setdefault(bar, set()).add(wish.key)
        return self._by_bar.get(number, set())

    def outside(self, bars: frozenset[int]) -> set[Key]:
        """The chords that sound in some other bar than these."""
        if not bars:
            return set(self.different)
        self.in_bar(0)
        assert self._by_bar is not None
        return set().union(*(keys for bar, keys in self._by_bar.items() if bar not in bars))

    def neighbours(self) -> Iterator[tuple[Key, Key]]:
        """Chords beside each other; the line comes round."""
        keys = [wish.key for wish in self.wishes if wish is not None]
        yield from zip(keys, [*keys[1:], *keys[:1]], strict=True)


class _First:
    """The hand's own choice for a piece, which chords stand beside each other, the lines (kept alive)."""

    def __init__(self, grips: Grips, near: dict[Key, set[Key]], lines: list[ChordLine]) -> None:
        self.grips, self.near, self.lines = grips, near, lines


class GripCache:
    """Grips kept between fits: those of the hand alone, and those that the patterns ask for."""

    def __init__(self) -> None:
        self._lines: dict[tuple[int, Meter, object], Line] = {}
        self._firsts: dict[object, _First] = {}
        self._changed: dict[int, tuple[Piece, Grips, dict[Key, Grip]]] = {}
        self._faults: dict[tuple[Key, int, Use], tuple[int, Grip]] = {}
        self._anew: dict[tuple[Key, int, tuple[Use, ...]], tuple[Grip, Grip]] = {}
        self._tried: dict[tuple[Key, object, int], list[tuple[Grip, float]]] = {}
        self._rows: dict[object, tuple[Row, object]] = {}

    def line(self, piece: Piece, line: ChordLine) -> Line:
        """A chord line spread over its bars, once as long as it is the same object."""
        key = (id(line), piece.meter, (piece.instrument, piece.capo))
        found = self._lines.get(key)
        if found is None or found.line is not line:
            if len(self._lines) >= _MOST_LINES:
                self._lines.clear()
            found = self._lines[key] = Line(piece, line)
        return found

    def is_warm(self, piece: Piece) -> bool:
        """Whether the hand's own choice for all chords of the piece is known."""
        return _first_key(piece) in self._firsts

    def first(self, piece: Piece) -> Grips:
        """The hand's own choice for every chord of the piece, whatever is plucked."""
        return self._first_of(piece).grips

    def _first_of(self, piece: Piece) -> _First:
        key = _first_key(piece)
        if key not in self._firsts:
            lines = [self.line(piece, section.chords) for section in piece.sections]
            near: dict[Key, set[Key]] = {}
            for line in lines:
                for one, other in line.neighbours():
                    if one != other:
                        near.setdefault(one, set()).add(other)
                        near.setdefault(other, set()).add(one)
            grips = first_grips(piece, [line.spans for line in lines])
            if len(self._firsts) >= _MOST_FIRSTS:
                del self._firsts[next(iter(self._firsts))]
            self._firsts[key] = _First(grips, near, [section.chords for section in piece.sections])
        return self._firsts[key]

    def first_row(self, piece: Piece, section: int) -> Row:
        """The hand's own choice for every span of a section."""
        return self._row(piece, section, self.first(piece), {})

    def row(self, piece: Piece, section: int, key: MusicKey) -> Row:
        """The grip of every span of a section: chosen anew where a pluck would meet a muted string."""
        first = self.first(piece)
        known = self._changed.get(id(piece))
        if known is None or known[0] is not piece or known[1] is not first:
            if len(self._changed) >= _MOST_FIRSTS:
                del self._changed[next(iter(self._changed))]
            known = self._changed[id(piece)] = (piece, first, self._choose(piece, first, key))
        return self._row(piece, section, first, known[2])

    def _row(self, piece: Piece, section: int, first: Grips, changed: dict[Key, Grip]) -> Row:
        line = self.line(piece, piece.sections[section].chords)
        own = tuple((k, id(changed[k])) for k in line.different if k in changed)
        key = (id(line), id(first), own)
        if key not in self._rows:
            if len(self._rows) >= _MOST_ROWS:
                self._rows.clear()
            row = tuple(
                None if wish is None else changed.get(wish.key, first[wish.key]) for wish in line.wishes
            )
            self._rows[key] = (row, (line, first, changed))
        return self._rows[key][0]

    # What the patterns ask for.

    def _choose(self, piece: Piece, first: Grips, key: MusicKey) -> dict[Key, Grip]:
        out: dict[Key, Grip] = {}
        for wish, uses in self._uses(piece, key):
            now = first[wish.key]
            if now is None or wish.shape is not None or _has_exception(piece, wish, now):
                continue
            if any(self._faults_of(wish, now, use) for use in uses):
                other = self._held_anew(piece, wish, now, uses)
                if other is not now:
                    out[wish.key] = other
        return out

    def _uses(self, piece: Piece, key: MusicKey) -> list[tuple[Wish, tuple[Use, ...]]]:
        """Every chord of the piece with the patterns that are played on it."""
        wishes: dict[Key, Wish] = {}
        uses: dict[Key, dict[Use, None]] = {}
        for index, section in enumerate(piece.sections):
            line, setting = self.line(piece, section.chords), setting_of(piece, index, key)
            wishes |= line.different
            known = {named.name: named.pattern for named in piece.patterns}
            own = [bar for bar in section.bars if bar.pattern in known]
            parts: list[tuple[str, int | None, set[Key]]] = []
            parts += [(section.pattern, None, line.outside(frozenset(bar.bar for bar in own)))]
            parts += [(bar.pattern, bar.bar, line.in_bar(bar.bar)) for bar in own]
            for name, bar, keys in parts:
                if name in known:
                    use = Use(self.read(piece, index, known[name], bar, key), setting)
                    for each in keys:
                        uses.setdefault(each, {})[use] = None
        return [(wishes[each], tuple(own_uses)) for each, own_uses in uses.items()]

    def read(self, piece: Piece, section: int, pattern: Pattern, bar: int | None, key: MusicKey) -> Pattern:
        """A pattern with bare strings read against the chord on which they were meant."""
        if not has_strings(pattern):
            return pattern
        line, setting = self.line(piece, piece.sections[section].chords), setting_of(piece, section, key)
        row = self.first_row(piece, section)
        at = meant_span(pattern, line.spans, bar)
        grip = row[at] if at is not None else None
        chord = line.spans[at].chord if at is not None else None
        if grip is None or chord is None:
            return pattern
        return as_fingers(pattern, chord, grip, setting)

    def _faults_of(self, wish: Wish, grip: Grip, use: Use) -> int:
        key = (wish.key, id(grip), use)
        if key not in self._faults:
            if len(self._faults) >= _MOST_FAULTS:
                self._faults.clear()
            self._faults[key] = (faults(wish, grip, use), grip)
        return self._faults[key][0]

    def _held_anew(self, piece: Piece, wish: Wish, now: Grip, uses: tuple[Use, ...]) -> Grip:
        key = (wish.key, id(now), uses)
        if key not in self._anew:
            if len(self._anew) >= _MOST_ANEW:
                self._anew.clear()
            first = self._first_of(piece)
            found = (first.grips[near] for near in first.near.get(wish.key, ()))
            near = [grip for grip in found if grip is not None]
            self._anew[key] = (held_anew(wish, now, uses, near, self._others(piece, wish)), now)
        return self._anew[key][0]

    def _others(self, piece: Piece, wish: Wish) -> list[tuple[Grip, float]]:
        """Other ways to hold a chord: kept, so that the same choice is the same grip."""
        key = (wish.key, piece.instrument, piece.capo)
        if key not in self._tried:
            self._tried[key] = tried(wish, piece)
        return self._tried[key]


def _has_exception(piece: Piece, wish: Wish, grip: Grip) -> bool:
    """Whether the player has changed something about this chord in this shape: then the shape stays."""
    return any(
        not isinstance(o, HereOverride) and (o.symbol, o.shape) == (wish.chord.text, grip.shape)
        for o in piece.overrides
    )


def _first_key(piece: Piece) -> object:
    lines = tuple(id(section.chords) for section in piece.sections)
    return (lines, piece.meter, piece.instrument, piece.capo, piece.rules.shapes)
