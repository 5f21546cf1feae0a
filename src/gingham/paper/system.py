"""One line of music as marks: chords, tablature with the thumb's ribbon, fingers, thumb, counts, words."""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache
from itertools import pairwise

import msgspec

from gingham.core.fitting.placing import Stretch, slots_under
from gingham.core.fitting.result import Event, FittedBar, Result
from gingham.core.music.meter import Meter, count_at
from gingham.core.pieces.lyrics import Syllable
from gingham.language import tr, tr_c
from gingham.paper.content import SheetOptions, SheetSection
from gingham.paper.metrics import Metrics
from gingham.paper.ops import Block, Line, Op, Ribbon, Text
from gingham.words.card import PARTS
from gingham.words.names import signs

LABELS = 34.0  # room at the left for the names of strings and rows
_GAP, _CHORDS, _ROW, _NOTE, _BELOW = 8.4, 14.0, 10.5, 9.0, 9.0
_PAD = 8.0
_SWEPT = {"brush-down": tr("brush"), "brush-up": tr_c("brush", "up"), "chuck": tr("chuck")}
_SIGNS = {"hammer": "h", "pull": "p", "slide": "s"}


class Style(msgspec.Struct, frozen=True):
    """What a system needs beside its music. `staff` is false on a sheet of words and chords alone."""

    options: SheetOptions
    metrics: Metrics
    scale: float
    staff: bool

    def at(self, size: float) -> float:
        """A length or text size at the sheet's scale."""
        return size * self.scale


def counts_of(section: SheetSection, bar: FittedBar) -> tuple[tuple[Fraction, str, bool], ...]:
    """(position, syllable, whether a counted beat begins there) of every place of a bar's pattern."""
    pattern = section.result.pattern_in(bar)
    missing = pattern.meter.bar - bar.length if bar.number == 0 else Fraction(0)
    return _counts(pattern.meter, pattern.starts, bar.phases, missing)


@lru_cache(maxsize=512)
def _counts(
    meter: Meter,
    starts: tuple[Fraction, ...],
    phases: tuple[tuple[Fraction, Fraction, Fraction], ...],
    missing: Fraction,
) -> tuple[tuple[Fraction, str, bool], ...]:
    beats = {*meter.beat_starts, meter.bar}
    return tuple(
        (position, count_at(meter, position + missing), position + missing in beats)
        for at, length, phase in phases
        for _, position, _ in slots_under(starts, Stretch(at, length, phase, False, False))
    )


def width_of(section: SheetSection, bar: FittedBar, style: Style) -> float:
    """The least width at which nothing in a bar runs into its neighbour."""
    found = [2 * style.at(_PAD) + style.at(12) * max(1, len(counts_of(section, bar)) if style.staff else 4)]
    for row in _texts(section, bar, style):
        for (at, text, size), (later, _, _) in pairwise([*row, (bar.length, "", 0.0)]):
            share = float((later - at) / bar.length)
            if share > 0:
                found.append((style.metrics.width(text, size, bold=True) + style.at(4)) / share)
    return max(found)


def _texts(section: SheetSection, bar: FittedBar, style: Style) -> list[list[tuple[Fraction, str, float]]]:
    """The rows of texts of a bar with their positions and sizes."""
    names = [(at, name, style.at(10.5)) for at, name, _ in chords_in(section.result, bar)]
    rows = [names]
    if style.options.words:
        for verse in section.words.get(bar.number, ()):
            rows.append([(s.at, _spoken(s), style.at(9)) for s in verse])
    return rows


def chords_in(result: Result, bar: FittedBar) -> list[tuple[Fraction, str, str]]:
    """(position, name, sounding name) of the chords of a bar; one that began before stands at its start."""
    out = []
    for index in bar.spans:
        fitted = result.spans[index]
        at = fitted.span.at if fitted.span.bar == bar.number else Fraction(0)
        chord, assignment = fitted.span.chord, fitted.assignment
        name = signs(chord.text) if chord is not None else "N.C."
        sounds = signs(assignment.sounding.text) if assignment is not None and result.piece.capo else ""
        out.append((at, name, sounds))
    return out


def _spoken(syllable: Syllable) -> str:
    return syllable.text + ("-" if syllable.joins else "")


def system(
    section: SheetSection, bars: list[FittedBar], widths: list[float], style: Style, *, first: bool
) -> Block:
    """A block with some bars side by side; `first` names strings and rows at its left."""
    return _System(section, bars, widths, style, first).block()


class _System:
    """Lays one line of bars; `y` values are rows from the top."""

    def __init__(
        self, section: SheetSection, bars: list[FittedBar], widths: list[float], style: Style, first: bool
    ) -> None:
        self.section, self.bars, self.widths, self.style, self.first = section, bars, widths, style, first
        self.result = section.result
        at = style.at
        self.strings = self.result.piece.instrument.strings
        self.notes = any(self._note(bar) for bar in bars)
        self.y_chords = at(_NOTE if self.notes else 0) + at(11)
        self.y_staff = (
            self.y_chords + at(_BELOW if self.result.piece.capo else 0) + at(8 if style.staff else 1)
        )
        if style.staff and any(event.accent for bar in bars for event in bar.events):
            self.y_staff += at(6)  # room for the signs of accents
        self.y_end = self.y_staff + (at(_GAP) * (self.strings - 1) if style.staff else 0)
        self.y_fingers = self.y_end + at(12)
        self.y_thumb = self.y_fingers + at(_ROW)
        self.y_counts = (self.y_thumb if style.staff else self.y_end) + at(_ROW + 1)
        shown = style.options.counts
        if style.staff:
            above = self.y_counts if shown else self.y_thumb
        else:
            above = self.y_end - at(4)
        self.y_words = above + at(_ROW + 2)
        self.verses = section.verses if style.options.words else ()
        self.ops: list[Op] = []

    def block(self) -> Block:
        """The marks of all bars and their height."""
        x = self.style.at(LABELS) if self.style.staff else 0.0
        if self.style.staff:
            self._labels()
        thumb: list[tuple[float, float]] = []
        marks: list[Op] = []
        for bar, width in zip(self.bars, self.widths, strict=True):
            self._frame(bar, x, width)
            if self.style.staff:
                thumb += self._thumb_points(bar, x, width)
                marks += self._events(bar, x, width)
            self._below(bar, x, width)
            x += width
        self._closing_line(x)
        if len(thumb) > 1:
            self.ops.append(Ribbon(tuple(thumb), self.style.at(5), "ribbon"))
        height = self.y_words + self.style.at(11) * max(0, len(self.verses) - 1) + self.style.at(9)
        return Block(height, (*sorted(self.ops, key=_depth), *marks))

    def _x(self, bar: FittedBar, x: float, width: float, at: Fraction) -> float:
        pad = self.style.at(_PAD)
        return x + pad + float(at / bar.length) * (width - pad)

    def _string(self, string: int) -> float:
        row = self.strings - string if self.style.options.lowest_on_top else string - 1
        return self.y_staff + row * self.style.at(_GAP)

    def _labels(self) -> None:
        at, instrument = self.style.at, self.result.piece.instrument
        right = at(LABELS) - at(5)
        for string in range(1, self.strings + 1):
            name = signs(str(instrument.tuning[self.strings - string].note))
            y = self._string(string) + at(2.4)
            self.ops.append(Text(right, y, name, at(7), align="right", ink="quiet"))
        if not self.first:
            return
        rows = [(self.y_fingers, tr("fingers")), (self.y_thumb, tr("thumb"))]
        rows += [(self.y_counts, tr("count"))] if self.style.options.counts else []
        self.ops += [Text(right, y, word, at(6.5), align="right", ink="quiet") for y, word in rows]

    def _frame(self, bar: FittedBar, x: float, width: float) -> None:
        """Bar line, strings, chord names, the note on a bar of its own."""
        at = self.style.at
        if self.style.staff:
            for string in range(1, self.strings + 1):
                y = self._string(string)
                self.ops.append(Line(x, y, x + width, y, at(0.5), "pale"))
            self.ops.append(Line(x, self.y_staff, x, self.y_end, at(0.8)))
        else:
            self.ops.append(Line(x, self.y_chords - at(9), x, self.y_words + at(2), at(0.6), "pale"))
            self._half(bar, x, width)
        size = at(10.5)
        for position, name, sounds in chords_in(self.result, bar):
            left = self._x(bar, x, width, position) - at(3)
            self.ops.append(Text(left, self.y_chords, name, size, True))
            if not self.style.staff:
                beside = left + self.style.metrics.width(name, size, bold=True) + at(3)
                words = cells_words(self.result, bar, position)
                self.ops.append(Text(beside, self.y_chords, words, at(7.5), ink="quiet"))
            if sounds:
                self.ops.append(Text(left, self.y_chords + at(_BELOW), sounds, at(7.5), ink="quiet"))
        note = self._note(bar)
        if note:
            room = width - at(4)
            words, fit = self.style.metrics.fitted(note, at(7.5), room)
            self.ops.append(Text(x + at(2), at(7), words, fit, ink="quiet"))
            if bar.pattern is not None:
                self.ops.append(Line(x, at(_NOTE), x + width - at(3), at(_NOTE), at(0.8), "quiet"))

    def _half(self, bar: FittedBar, x: float, width: float) -> None:
        """A short stroke at the half measure."""
        middle = self._x(bar, x, width, bar.length / 2) - self.style.at(5)
        y = self.y_chords - self.style.at(8)
        self.ops.append(Line(middle, y, middle, y + self.style.at(7), self.style.at(0.8), "pale"))

    def _note(self, bar: FittedBar) -> str:
        """The name of a bar's own pattern, where the section's pattern goes on, what went wrong there."""
        own = self.result.piece.sections[self.result.section]
        name, before = own.pattern_in(bar.number), own.pattern_in(bar.number - 1)
        changed = name if name != own.pattern else tr("back to {name}", name=name) if before != name else ""
        practised = self.style.options.measured_in(self.section.name)
        wrong = dict(practised.bars).get(bar.number, "") if practised is not None else ""
        return " · ".join(each for each in (changed, wrong) if each)

    def _closing_line(self, x: float) -> None:
        at = self.style.at
        last = self.bars[-1] is self.result.bars[-1]
        if not self.style.staff:
            self.ops.append(Line(x, self.y_chords - at(9), x, self.y_words + at(2), at(0.6), "pale"))
            return
        self.ops.append(Line(x, self.y_staff, x, self.y_end, at(0.8)))
        if last:
            self.ops.append(Line(x + at(2.6), self.y_staff, x + at(2.6), self.y_end, at(2)))

    def _thumb_points(self, bar: FittedBar, x: float, width: float) -> list[tuple[float, float]]:
        return [
            (self._x(bar, x, width, e.at), self._string(e.string))
            for e in sorted(bar.events, key=lambda e: e.at)
            if e.finger == "p" and e.pick is None and e.plucked and not e.silent
        ]

    def _events(self, bar: FittedBar, x: float, width: float) -> list[Op]:
        out: list[Op] = []
        for position in sorted({e.at for e in bar.events}):
            here = [e for e in bar.events if e.at == position and not e.silent]
            left = self._x(bar, x, width, position)
            out += self._column(here, left)
        return out

    def _column(self, here: list[Event], x: float) -> list[Op]:
        """What sounds at one moment: frets on their strings, letters below, a pinch tied together."""
        at, style = self.style.at, self.style
        out: list[Op] = []
        plucked = sorted((e for e in here if e.plucked), key=lambda e: e.string)
        swept = [e for e in here if e.kind in _SWEPT]
        for one, other in pairwise(plucked):
            half = (self._string(one.string) + self._string(other.string)) / 2
            for event, end in ((one, half), (other, half)):
                out.append(Line(x, self._string(event.string), x, end, at(2.2), _ink(event)))
        if swept:
            ys = [self._string(e.string) for e in swept]
            out.append(Line(x, min(ys), x, max(ys), at(1.4), _ink(swept[0])))
        for event in here:
            out += self._fret(event, x)
        letters = [style.options.naming.finger(e.plucker or "") for e in plucked if e.finger != "p" or e.pick]
        inks = [_ink(e) for e in plucked if e.finger != "p" or e.pick]
        widths = [style.metrics.width(letter, at(8.5), bold=True) + at(0.8) for letter in reversed(letters)]
        left = x - sum(widths) / 2
        for letter, ink, width in zip(reversed(letters), reversed(inks), widths, strict=True):
            out.append(Text(left + width / 2, self.y_fingers, letter, at(8.5), True, "center", ink))
            left += width
        if swept and not letters:
            word = _SWEPT[swept[0].kind]
            out.append(Text(x, self.y_fingers, word, at(6.5), align="center", ink=_ink(swept[0])))
        if any(e.finger == "p" and e.pick is None for e in plucked):
            letter = style.options.naming.finger("p")
            out.append(Text(x, self.y_thumb, letter, at(8.5), True, "center", "p"))
        if any(e.accent for e in here):
            sign = ">" if max(e.accent for e in here) == 1 else ">>"
            out.append(Text(x, self.y_staff - at(3.6), sign, at(7), True, "center", "quiet"))
        return out

    def _fret(self, event: Event, x: float) -> list[Op]:
        at, y = self.style.at, self._string(event.string)
        text = "x" if event.kind == "chuck" or event.fret is None else str(event.fret)
        text = _SIGNS.get(event.kind, "") + text
        size = at(8.6)
        width = self.style.metrics.width(text, size, bold=True)
        ground = Line(x - width / 2 - at(0.8), y, x + width / 2 + at(0.8), y, at(7.4), "paper")
        ink = "ink" if event.pick else event.finger or "ink"
        out: list[Op] = [ground, Text(x, y + 0.36 * size, text, size, True, "center", ink)]
        if event.overridden:
            out.append(Line(x - width / 2, y + at(4.6), x + width / 2, y + at(4.6), at(0.9), ink))
        return out

    def _below(self, bar: FittedBar, x: float, width: float) -> None:
        """Counts and words."""
        at, options = self.style.at, self.style.options
        if options.counts and self.style.staff:
            for place, (position, syllable, on_beat) in enumerate(counts_of(self.section, bar)):
                words = options.naming.syllable(syllable, place)
                left = self._x(bar, x, width, position)
                ink = "ink" if on_beat else "quiet"
                self.ops.append(Text(left, self.y_counts, words, at(7.5), on_beat, "center", ink))
        rows = self.section.words.get(bar.number, ()) if self.verses else ()
        for number, verse in enumerate(rows):
            y = self.y_words + number * at(11)
            for sung in verse:
                left = self._x(bar, x, width, sung.at) - at(3)
                self.ops.append(Text(left, y, _spoken(sung), at(9)))


def _depth(op: Op) -> int:
    """Ribbons lie under lines, lines under words."""
    return 0 if isinstance(op, Ribbon) else 2 if isinstance(op, Text) else 1


def cells_words(result: Result, bar: FittedBar, at: Fraction) -> str:
    """How often the pattern comes while the chord that enters there lasts: `2×`; empty where none enters."""
    for index in bar.spans:
        span = result.spans[index].span
        if span.bar == bar.number and span.at == at and span.chord is not None:
            cells = span.length / result.pattern.length
            if cells.denominator == 1:
                return f"{cells}×"
            whole, part = divmod(cells, 1)
            return f"{whole or ''}{PARTS.get(part, f' {part}')}×"
    return ""


def _ink(event: Event) -> str:
    """A finger's dye; a flat pick's strokes are plain."""
    return "ink" if event.pick else event.finger or "quiet"
