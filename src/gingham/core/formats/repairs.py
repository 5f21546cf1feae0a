"""What a piece file holds that cannot be meant: too much of it is refused, a little is put right and named.

Works on records, before a piece is built. Nothing is changed without a reason that says what and where.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from gingham.core.errors import FileError
from gingham.core.formats.records import (
    BarRecord,
    ChordRecord,
    HereRecord,
    OverrideRecord,
    PatternRecord,
    PieceRecord,
    SectionRecord,
)
from gingham.core.instruments.instrument import Instrument
from gingham.core.pieces.form import MOST_TIMES
from gingham.core.pieces.own_stages import MOST_STAGES
from gingham.core.reasons import Reason
from gingham.core.values import replace

MOST_VERSIONS = 100
MOST: dict[str, int] = {
    "sections": 1_000,
    "patterns": 1_000,
    "exceptions": 10_000,
    "bars of their own": 10_000,
    "lines of words": 10_000,
    "characters of chords": 500_000,
    "stages": MOST_STAGES,
    "versions": MOST_VERSIONS,
}
_MOST_BARS = 10_000
_FINGERS, _LANES = (
    frozenset("pimac"),
    frozenset(("i", "m", "a", "c", *(f"p{number}" for number in range(1, 10)))),
)
_Named = TypeVar("_Named", PatternRecord, SectionRecord)


def check_amounts(record: PieceRecord, path: str) -> None:
    """FileError `file-many` for more of something than a piece can hold."""
    amounts = {
        "sections": len(record.sections),
        "patterns": len(record.patterns),
        "exceptions": len(record.overrides),
        "bars of their own": sum(len(section.bars) for section in record.sections),
        "lines of words": sum(len(section.words) for section in record.sections),
        "characters of chords": sum(len(section.chords) for section in record.sections),
        "stages": len(record.stages),
        "versions": len(record.versions),
    }
    for what, given in amounts.items():
        if given > MOST[what]:
            raise FileError("file-many", path=path, what=what, given=given, most=MOST[what])


def repaired(record: PieceRecord, instrument: Instrument) -> tuple[PieceRecord, tuple[Reason, ...]]:
    """`record` put right, and what was changed."""
    said: list[Reason] = []
    patterns = _names_once(record.patterns, "pattern", said)
    sections = [_section(each, said) for each in _names_once(record.sections, "section", said)]
    overrides = _overrides(record.overrides, instrument, said)
    if not said:
        return record, ()
    return replace(record, patterns=patterns, sections=sections, overrides=overrides), tuple(said)


def _names_once(records: list[_Named], what: str, said: list[Reason]) -> list[_Named]:
    """Whoever comes first keeps a name; others of that name get a number."""
    taken = {each.name for each in records}
    if len(taken) == len(records):
        return records
    seen: set[str] = set()
    numbers: dict[str, int] = {}
    out: list[_Named] = []
    for each in records:
        name = each.name
        if name in seen:
            number = numbers.get(each.name, 2)
            while (name := f"{each.name} {number}") in taken:
                number += 1
            numbers[each.name] = number + 1
            said.append(Reason.of("repair-name", what=what, old=each.name, new=name))
            each = replace(each, name=name)
        seen.add(name)
        taken.add(name)
        out.append(each)
    return out


def _section(section: SectionRecord, said: list[Reason]) -> SectionRecord:
    times = min(max(1, section.repeats), MOST_TIMES)
    if times != section.repeats:
        said.append(Reason.of("repair-times", section=section.name, given=section.repeats, now=times))
    bars = _kept(section.bars, _bar_once(), said, "repair-bars", section=section.name)
    return replace(section, repeats=times, bars=bars)


def _bar_once() -> Callable[[BarRecord], bool]:
    """Whether a bar can be there, and has no other pattern yet."""
    seen: set[int] = set()

    def keeps(own: BarRecord) -> bool:
        fits = 1 <= own.bar <= _MOST_BARS and own.bar not in seen
        seen.add(own.bar)
        return fits

    return keeps


def _overrides(
    records: list[OverrideRecord], instrument: Instrument, said: list[Reason]
) -> list[OverrideRecord]:
    seen: set[bytes | tuple[object, ...]] = set()

    def new(each: OverrideRecord) -> bool:
        key = (type(each), *(getattr(each, field) for field in each.__struct_fields__))
        fresh = key not in seen
        seen.add(key)
        return fresh

    there = _kept(records, lambda each: _string_is_there(each, instrument.strings), said, "repair-strings")
    sensible = _kept(there, _is_sensible, said, "repair-exceptions")
    return _kept(sensible, new, said, "repair-twice")


def _string_is_there(each: OverrideRecord, strings: int) -> bool:
    string = each.string if isinstance(each, HereRecord | ChordRecord) else None
    return string is None or 1 <= string <= strings


def _is_sensible(each: OverrideRecord) -> bool:
    """Whether it names a finger and a bar that can be."""
    if isinstance(each, HereRecord):
        return each.finger in _FINGERS and 0 <= each.bar <= _MOST_BARS
    if isinstance(each, ChordRecord):
        return each.lane in _LANES
    return True


_T = TypeVar("_T")


def _kept(
    records: list[_T], keeps: Callable[[_T], bool], said: list[Reason], code: str, **values: str
) -> list[_T]:
    """The records that may stay; how many went is said once."""
    out = [each for each in records if keeps(each)]
    if len(out) < len(records):
        said.append(Reason.of(code, count=len(records) - len(out), **values))
    return out
