"""Edits of a piece: pure functions from a valid piece to a valid piece, or a typed error."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction

from gingham.core.errors import EditError, MeterError
from gingham.core.free_names import free_name
from gingham.core.instruments.instrument import Instrument, check_capo
from gingham.core.music.meter import Meter
from gingham.core.patterns.library import is_builtin
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.chordline import (
    REPEAT,
    Bar,
    ChordLine,
    ChordPlace,
    Span,
    parse_chord_line,
    print_chord_line,
)
from gingham.core.pieces.form import done_renamed, renamed, without
from gingham.core.pieces.own_stages import stages_renamed
from gingham.core.pieces.piece import (
    BarPattern,
    ChordOverride,
    HereOverride,
    NamedPattern,
    Override,
    Piece,
    Section,
)
from gingham.core.pieces.rules import check_level
from gingham.core.pieces.tempo import check_tempo
from gingham.core.shapes.fretting import Fingers
from gingham.core.shapes.shape import Shape
from gingham.core.values import replace


def with_section(piece: Piece, index: int, change: Callable[[Section], Section]) -> Piece:
    """`piece` with one section changed."""
    sections = list(piece.sections)
    sections[index] = change(sections[index])
    return replace(piece, sections=tuple(sections))


def set_chords(piece: Piece, section: int, chords: ChordLine) -> Piece:
    """A new chord line for one section; overrides stay and sleep where their stroke is gone."""
    return with_section(piece, section, lambda old: replace(old, chords=chords))


def fills_bar(pattern: Pattern, piece: Piece) -> Pattern:
    """`pattern` if it adds up to one bar, alone or several times over.

    Raises
    ------
    MeterError
        In another meter, or with what is missing or too much.
    """
    if pattern.meter != piece.meter:
        raise MeterError("meter-differs", pattern=str(pattern.meter), piece=str(piece.meter))
    if (piece.meter.bar / pattern.length).denominator != 1:
        over = pattern.length - piece.meter.bar
        raise MeterError("fill-length", over=str(over), length=str(pattern.length), bar=str(piece.meter.bar))
    return pattern


def set_pattern(piece: Piece, name: str, pattern: Pattern) -> Piece:
    """Other strokes for the pattern called `name`.

    Raises
    ------
    MeterError
        In another meter than the piece, or where a bar has it for its own and it does not add up to a bar.
    """
    if pattern.meter != piece.meter:
        raise MeterError("meter-differs", pattern=str(pattern.meter), piece=str(piece.meter))
    if any(own.pattern == name for section in piece.sections for own in section.bars):
        fills_bar(pattern, piece)
    piece.pattern(name)
    return replace(
        piece, patterns=tuple(NamedPattern(name, pattern) if p.name == name else p for p in piece.patterns)
    )


def reshape_pattern(piece: Piece, name: str, pattern: Pattern) -> Piece:
    """Other strokes for the pattern called `name`, which gets a name of its own if it was a built-in one.

    So the built-in pattern stays in the list under its name. MeterError as in `set_pattern`.
    """
    after = set_pattern(piece, name, pattern)
    if pattern == piece.pattern(name) or not is_builtin(name, piece.pattern(name)):
        return after
    own = free_name(f"{name}, mine", {p.name for p in piece.patterns})
    return replace(
        after,
        patterns=tuple(NamedPattern(own, p.pattern) if p.name == name else p for p in after.patterns),
        sections=tuple(_with_pattern_renamed(s, name, own) for s in after.sections),
    )


def _with_pattern_renamed(section: Section, old: str, new: str) -> Section:
    bars = tuple(BarPattern(b.bar, new if b.pattern == old else b.pattern) for b in section.bars)
    return replace(section, pattern=new if section.pattern == old else section.pattern, bars=bars)


def tidied(piece: Piece) -> Piece:
    """The piece without the patterns that no section plays any more."""
    used = frozenset[str]().union(*(section.pattern_names() for section in piece.sections))
    return replace(piece, patterns=tuple(p for p in piece.patterns if p.name in used))


def name_for(pattern: Pattern, wanted: str, piece: Piece) -> str:
    """A name for a pattern: `wanted`, with a number behind it where another pattern of the piece has it."""
    return free_name(wanted, {named.name for named in piece.patterns if named.pattern != pattern})


def choose_pattern(piece: Piece, section: int, named: NamedPattern) -> Piece:
    """`named` for one section; it joins the piece's patterns unless one of that name is there.

    MeterError if it is in another meter.
    """
    if named.pattern.meter != piece.meter:
        raise MeterError("meter-differs", pattern=str(named.pattern.meter), piece=str(piece.meter))
    if all(p.name != named.name for p in piece.patterns):
        piece = replace(piece, patterns=(*piece.patterns, named))
    return tidied(with_section(piece, section, lambda old: replace(old, pattern=named.name)))


def set_meter(piece: Piece, meter: Meter, pattern: NamedPattern) -> Piece:
    """Another meter: every chord line must read in it, and every section gets `pattern`.

    Bars with a pattern of their own lose it; notes of the tune beyond the shorter bar are left out.

    Raises
    ------
    ChordLineError
        If the places of some bar do not fit the new meter.
    MeterError
        If the pattern is in another meter.
    """
    if pattern.pattern.meter != meter:
        raise MeterError("meter-differs", pattern=str(pattern.pattern.meter), piece=str(meter))
    sections = tuple(
        replace(
            s,
            chords=parse_chord_line(print_chord_line(s.chords), meter),
            pattern=pattern.name,
            bars=(),
            tune=tuple(note for note in s.tune if note.at < meter.bar),
        )
        for s in piece.sections
    )
    return replace(piece, meter=meter, sections=sections, patterns=(pattern,))


def set_instrument(piece: Piece, instrument: Instrument) -> Piece:
    """Another instrument or tuning; the capo is kept if it fits, else taken off."""
    capo = piece.capo if piece.capo <= instrument.frets - 5 else 0
    return replace(piece, instrument=instrument, capo=capo)


def set_capo(piece: Piece, capo: int) -> Piece:
    """The capo at another fret; TuningError if the neck is too short."""
    return replace(piece, capo=check_capo(piece.instrument, capo))


def set_tempo(piece: Piece, bpm: int) -> Piece:
    """Another tempo in counted beats a minute; RuleError outside 20–320."""
    return replace(piece, tempo=check_tempo(bpm))


def set_level(piece: Piece, level: str) -> Piece:
    """Top speeds by another hand; RuleError for a level that there is not."""
    return replace(piece, rules=replace(piece.rules, level=check_level(level)))


def replace_chord(
    piece: Piece, section: int, span: Span, symbol: str, shape: Shape | None, fingers: Fingers | None = None
) -> Piece:
    """Another chord where a span begins; holds after it hold the new chord.

    A bar written as % is written out first. EditError if the span does not begin at a place of its bar.
    """
    line = piece.sections[section].chords
    if span.bar == 0 and line.pickup is not None:
        places = _replaced(
            line.pickup.places, span.at / line.pickup.length, ChordPlace(symbol, shape, False, fingers)
        )
        return set_chords(piece, section, replace(line, pickup=replace(line.pickup, places=places)))
    number = span.bar - 1
    source = number
    while line.bars[source][0].symbol == REPEAT:
        source -= 1
    bar = _replaced(line.bars[source], span.at / piece.meter.bar, ChordPlace(symbol, shape, False, fingers))
    bars = (*line.bars[:number], bar, *line.bars[number + 1 :])
    return set_chords(piece, section, replace(line, bars=bars))


def pin_grip(
    piece: Piece,
    symbol: str,
    shape: Shape,
    fingers: Fingers | None,
    section: int | None = None,
    over: Shape | None = None,
) -> Piece:
    """Every chord of a symbol, in the piece or in one section, held with this shape and these fingers.

    Chords that are pinned in another shape than this one or `over` stay as they are.
    """

    def held(bar: Bar) -> Bar:
        return tuple(
            replace(place, shape=shape, fingers=fingers)
            if place.symbol == symbol and place.shape in (None, shape, over)
            else place
            for place in bar
        )

    def of_line(line: ChordLine) -> ChordLine:
        pickup = None if line.pickup is None else replace(line.pickup, places=held(line.pickup.places))
        return ChordLine(tuple(map(held, line.bars)), pickup)

    sections = tuple(
        replace(each, chords=of_line(each.chords)) if section in (None, index) else each
        for index, each in enumerate(piece.sections)
    )
    return replace(piece, sections=sections)


def _replaced(bar: Bar, share: Fraction, place: ChordPlace) -> Bar:
    index = share * len(bar)
    if index.denominator != 1:
        raise EditError("no-stroke")
    at = int(index)
    return (*bar[:at], replace(place, running=bar[at].running), *bar[at + 1 :])


def add_section(piece: Piece, after: int) -> Piece:
    """A copy of a section behind it, under a name of its own."""
    source = piece.sections[after]
    name = free_name(source.name, {section.name for section in piece.sections})
    sections = list(piece.sections)
    sections.insert(after + 1, replace(source, name=name))
    return replace(piece, sections=tuple(sections))


def remove_section(piece: Piece, index: int) -> Piece:
    """The piece without one section and its overrides; EditError if it is the last one."""
    if len(piece.sections) == 1:
        raise EditError("last-section")
    gone = piece.sections[index].name
    sections = tuple(s for i, s in enumerate(piece.sections) if i != index)
    overrides = tuple(o for o in piece.overrides if not (isinstance(o, HereOverride) and o.section == gone))
    forms = (without(piece.performance, gone), without(piece.practice, gone))
    rest = replace(piece, sections=sections, overrides=overrides, performance=forms[0], practice=forms[1])
    return tidied(rest)


def rename_section(piece: Piece, index: int, name: str) -> Piece:
    """Another name for a section; its overrides follow. EditError if the name is empty or taken."""
    old = piece.sections[index].name
    if not name.strip():
        raise EditError("name-empty")
    if any(s.name == name for i, s in enumerate(piece.sections) if i != index):
        raise EditError("name-taken", name=name)
    after = with_section(piece, index, lambda s: replace(s, name=name))
    overrides = tuple(
        replace(o, section=name) if isinstance(o, HereOverride) and o.section == old else o
        for o in piece.overrides
    )
    forms = (renamed(piece.performance, old, name), renamed(piece.practice, old, name))
    unknown = tuple(
        (kind, name if (kind, item) == ("sections", old) else item, field, text)
        for kind, item, field, text in piece.unknown
    )
    return replace(
        after,
        overrides=overrides,
        performance=forms[0],
        practice=forms[1],
        unknown=unknown,
        done=done_renamed(piece.done, old, name),
        stages=stages_renamed(piece.stages, old, name),
    )


def _address(override: Override) -> tuple[object, ...]:
    if isinstance(override, HereOverride):
        return ("here", override.section, override.bar, override.at, override.finger)
    lane = override.lane if isinstance(override, ChordOverride) else "rules"
    return ("chord", override.symbol, override.shape, lane)


def add_override(piece: Piece, override: Override) -> Piece:
    """`piece` with an override, which takes the place of one with the same address, and its reason."""
    before = override_of(piece, override)
    if before is not None and not override.because:
        override = replace(override, because=before.because)
    kept = tuple(o for o in piece.overrides if _address(o) != _address(override))
    return replace(piece, overrides=(*kept, override))


def override_of(piece: Piece, address: Override) -> Override | None:
    """The piece's override at the same address as `address` (whatever its string), None if there is none."""
    return next((o for o in piece.overrides if _address(o) == _address(address)), None)


def remove_override(piece: Piece, override: Override) -> Piece:
    """Back to the rule for one override; where it is gone already the piece stays as it is."""
    return replace(piece, overrides=tuple(o for o in piece.overrides if o != override))


def clear_chord_overrides(piece: Piece, symbol: str) -> Piece:
    """Back to the rule for everything that was chosen for one chord symbol."""
    kept = tuple(o for o in piece.overrides if isinstance(o, HereOverride) or o.symbol != symbol)
    return replace(piece, overrides=kept)
