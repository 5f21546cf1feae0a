"""Edits of the form: order and ending, bars with a pattern of their own, words, the tune. All pure."""

from __future__ import annotations

from fractions import Fraction

from gingham.core.errors import EditError
from gingham.core.patterns.pattern import Pattern, Variant
from gingham.core.pieces.edits import fills_bar, reshape_pattern, tidied, with_section
from gingham.core.pieces.form import MOST_TIMES, Form, check_form
from gingham.core.pieces.lyrics import parse_tune
from gingham.core.pieces.piece import BarPattern, NamedPattern, Piece, Section
from gingham.core.values import replace


def set_form(piece: Piece, form: Form, *, practice: bool) -> Piece:
    """Another performance or practice form; EditError if it names a section that is not there."""
    check_form(form, frozenset(section.name for section in piece.sections))
    return replace(piece, practice=form) if practice else replace(piece, performance=form)


def set_repeats(piece: Piece, index: int, times: int) -> Piece:
    """How often a section is played in a row; EditError outside 1–99."""
    if not 1 <= times <= MOST_TIMES:
        raise EditError("times", given=times, most=MOST_TIMES)
    return with_section(piece, index, lambda s: replace(s, repeats=times))


def move_section(piece: Piece, index: int, by: int) -> Piece:
    """A section earlier or later; where there is no room the piece stays as it is."""
    to = index + by
    if not 0 <= to < len(piece.sections):
        return piece
    sections = list(piece.sections)
    sections.insert(to, sections.pop(index))
    return replace(piece, sections=tuple(sections))


def set_bar_pattern(piece: Piece, section: int, bar: int, named: NamedPattern | None) -> Piece:
    """A pattern of its own for one bar (from 1); None gives it the section's again.

    Raises
    ------
    EditError
        If the section has no such bar.
    MeterError
        If the pattern does not add up to the bar.
    """
    changed = piece.sections[section]
    if not 1 <= bar <= len(changed.chords.bars):
        raise EditError("no-bar", bar=bar, bars=len(changed.chords.bars))
    rest = tuple(own for own in changed.bars if own.bar != bar)
    if named is None:
        return tidied(with_section(piece, section, lambda s: replace(s, bars=rest)))
    fills_bar(named.pattern, piece)
    patterns = tuple(p for p in piece.patterns if p.name != named.name)
    if len(patterns) == len(piece.patterns):
        piece = replace(piece, patterns=(*piece.patterns, named))
    elif piece.pattern(named.name) != named.pattern:
        raise EditError("name-taken", name=named.name)
    own = tuple(sorted((*rest, BarPattern(bar, named.name)), key=lambda b: b.bar))
    return tidied(with_section(piece, section, lambda s: replace(s, bars=own)))


def add_fill(piece: Piece, section: int, bar: int) -> Piece:
    """A bar of own strokes: it begins as what the bar plays now, under a name of its own."""
    changed = piece.sections[section]
    base = piece.pattern(changed.pattern_in(bar))
    own = NamedPattern(_free_name(piece, changed, bar), _one_bar(base, piece, bar))
    return set_bar_pattern(piece, section, bar, own)


def _free_name(piece: Piece, section: Section, bar: int) -> str:
    taken = {named.name for named in piece.patterns}
    name, number = f"Fill, {section.name} {bar}", 2
    while name in taken:
        name, number = f"Fill, {section.name} {bar} ({number})", number + 1
    return name


def _one_bar(base: Pattern, piece: Piece, bar: int) -> Pattern:
    """The part of a pattern that lies in a bar, as a pattern of one bar (repeated if it is shorter)."""
    meter, starts = piece.meter, base.starts
    begin = (bar - 1) * meter.bar % base.length if base.length > meter.bar else Fraction(0)
    slots = [slot for slot, at in zip(base.slots, starts, strict=False) if begin <= at < begin + meter.bar]
    filled = base.length if base.length <= meter.bar else meter.bar
    times = int(meter.bar / filled) if (meter.bar / filled).denominator == 1 else 1
    return Pattern(meter, base.per_beat, tuple(slots) * times)


def set_words(piece: Piece, section: int, lines: tuple[str, ...]) -> Piece:
    """Other words for a section; WordsError if a bar holds more than it has room for."""
    replace(piece.sections[section], words=lines).placed_words(piece.meter)
    return with_section(piece, section, lambda s: replace(s, words=lines))


def set_tune(piece: Piece, section: int, text: str) -> Piece:
    """Another tune for a section, as it is typed; WordsError if it cannot be read."""
    tune = parse_tune(text, piece.meter)
    return with_section(piece, section, lambda s: replace(s, tune=tune))


def reshape_bar(piece: Piece, section: int, bar: int, pattern: Pattern) -> Piece:
    """Other strokes for the pattern that a bar plays, its own or the section's; see `reshape_pattern`."""
    return reshape_pattern(piece, piece.sections[section].pattern_in(bar), pattern)


def set_chord_variant(piece: Piece, section: int, bar: int, symbol: str) -> Piece:
    """A version of the bar's pattern for one chord symbol, to be edited; none any more if it has."""
    name = piece.sections[section].pattern_in(bar)
    base = piece.pattern(name)
    rest = tuple(v for v in base.variants if v.when != symbol)
    own = () if len(rest) < len(base.variants) else (Variant(symbol, base.slots),)
    return reshape_pattern(piece, name, replace(base, variants=(*rest, *own)))
