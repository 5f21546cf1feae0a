"""The `.gingham` piece file: UTF-8 JSON with a format name and a version.

Bytes become plain records, records are checked, and only then is a piece built; see docs/file-format.md.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TypeVar

import msgspec

from gingham.core.errors import FileError, GinghamError, InputError
from gingham.core.formats.atomic import read_bytes, whole_copy, write_atomically
from gingham.core.formats.migrations import migrated
from gingham.core.formats.records import (
    FORMAT,
    VERSION,
    BarRecord,
    ChordRecord,
    FormRecord,
    HereRecord,
    OverrideRecord,
    PatternRecord,
    PieceRecord,
    RulesOverrideRecord,
    SectionRecord,
    TurnRecord,
    VersionRecord,
)
from gingham.core.formats.repairs import check_amounts, repaired
from gingham.core.formats.rules_text import own_of, own_texts, rules_of, rules_record
from gingham.core.formats.unknown import unknown_fields, with_unknown
from gingham.core.instruments.instrument import Instrument, check_capo, instrument
from gingham.core.music.key import parse_key
from gingham.core.music.meter import Meter, parse_meter
from gingham.core.numbers import exact
from gingham.core.patterns.shorthand import parse_pattern, print_pattern
from gingham.core.pieces.chordline import ChordLine, parse_chord_line, print_chord_line
from gingham.core.pieces.form import Form, Turn, check_form
from gingham.core.pieces.lyrics import parse_tune, print_tune
from gingham.core.pieces.own_stages import parse_own_stage
from gingham.core.pieces.piece import (
    BarPattern,
    ChordOverride,
    HereOverride,
    NamedPattern,
    Override,
    Piece,
    RulesOverride,
    Section,
    Version,
)
from gingham.core.pieces.tempo import check_tempo, parse_swing
from gingham.core.reasons import Reason
from gingham.core.shapes.shape import parse_shape
from gingham.core.values import replace

_MOST_MB = 16
_UNREADABLE = (
    msgspec.DecodeError,
    msgspec.ValidationError,
    UnicodeError,
    RecursionError,
    ValueError,  # a number of thousands of digits
)
_LONGEST_BAR, _LONGEST_ID = 16, 64
T = TypeVar("T")


class _Head(msgspec.Struct):
    format: str = ""
    version: int = 0


class ReadPiece(msgspec.Struct, frozen=True, gc=False):
    """A piece from a file, what had to be put right in it, and its identity (empty if it has none)."""

    piece: Piece
    repairs: tuple[Reason, ...] = ()
    identity: str = ""


def piece_to_bytes(piece: Piece, identity: str = "") -> bytes:
    """The file's bytes for a piece, and by what the record of practising knows it."""
    plain = msgspec.to_builtins(_record(piece, identity))
    whole = with_unknown(plain, piece.unknown) if piece.unknown else plain
    return msgspec.json.format(msgspec.json.encode(whole), indent=2) + b"\n"


def piece_from_bytes(data: bytes, name: str = "") -> Piece:
    """Read a piece file's bytes; `name` is the path for messages.

    Raises
    ------
    FileError
        Not a piece, made by a newer version, or damaged (with the place and what is wrong there).
    """
    return read_piece(data, name).piece


def read_piece(data: bytes, name: str = "") -> ReadPiece:
    """Like `piece_from_bytes`, with what had to be put right."""
    if len(data) > _MOST_MB * 1_000_000:
        raise FileError("file-large", path=name, most=_MOST_MB)
    try:
        head = msgspec.json.decode(data, type=_Head)
    except _UNREADABLE as error:
        raise FileError("file-format", path=name) from error
    if head.format != FORMAT:
        raise FileError("file-format", path=name)
    if head.version > VERSION:
        raise FileError("file-newer", path=name, version=head.version, known=VERSION)
    try:
        plain = migrated(msgspec.json.decode(data), head.version)
        record = msgspec.convert(plain, PieceRecord)
        unknown = unknown_fields(plain)
    except _UNREADABLE as error:
        why, _, place = str(error).partition(" - at ")
        raise FileError("file-damaged", path=name, place=place.strip("`") or "the text", why=why) from error
    check_amounts(record, name)
    builder = _PieceBuilder(name)
    right, said = repaired(record, builder.instrument(record))
    piece = replace(builder.piece(right), unknown=unknown)
    return ReadPiece(piece, (*said, *_asleep(piece)), builder.at("id", _identity, record.id))


def _asleep(piece: Piece) -> Iterator[Reason]:
    """Patterns for bars beyond the end: kept, and said."""
    for section in piece.sections:
        beyond = sum(own.bar > len(section.chords.bars) for own in section.bars)
        if beyond:
            yield Reason.of("asleep-bars", count=beyond, section=section.name)


def load_piece(path: Path) -> Piece:
    """Read a piece file; FileError if it is missing, too large, unreadable or damaged."""
    return load(path).piece


def load(path: Path) -> ReadPiece:
    """Like `load_piece`, with what had to be put right.

    A file that was being overwritten when the program was killed is read from the whole text beside it.
    """
    data = read_bytes(path, _MOST_MB)
    try:
        return read_piece(data, str(path))
    except FileError:
        whole = whole_copy(path)
        if whole is None or whole == data:
            raise
        read = read_piece(whole, str(path))
        return replace(read, repairs=(*read.repairs, Reason.of("repair-interrupted")))


def save_piece(piece: Piece, path: Path, identity: str = "", *, over_protected: bool = False) -> None:
    """Write a piece file atomically; FileError if it cannot be written (see `write_atomically`)."""
    write_atomically(path, piece_to_bytes(piece, identity), over_protected=over_protected)


def _form_record(form: Form) -> FormRecord:
    return FormRecord(form.ending, [TurnRecord(t.section, t.times) for t in form.turns])


def _record(piece: Piece, identity: str) -> PieceRecord:
    return PieceRecord(
        FORMAT,
        VERSION,
        piece.title,
        piece.instrument.id,
        piece.instrument.tuning_text(),
        piece.capo,
        str(piece.meter),
        piece.tempo,
        str(piece.swing),
        None if piece.key is None else str(piece.key),
        rules_record(piece.rules),
        [PatternRecord(named.name, print_pattern(named.pattern)) for named in piece.patterns],
        [_section_record(s, piece.meter) for s in piece.sections],
        [_override_record(override) for override in piece.overrides],
        list(piece.done),
        _form_record(piece.performance),
        _form_record(piece.practice),
        piece.notes,
        [str(stage) for stage in piece.stages],
        identity,
        [VersionRecord(v.when, v.note, msgspec.json.decode(v.text)) for v in piece.versions],
    )


def _section_record(section: Section, meter: Meter) -> SectionRecord:
    texts = own_texts(section.own)
    return SectionRecord(
        section.name,
        print_chord_line(section.chords),
        section.pattern,
        section.repeats,
        list(section.words),
        texts.pop("thumb"),
        [BarRecord(own.bar, own.pattern) for own in section.bars],
        print_tune(section.tune, meter),
        **texts,
    )


def _override_record(override: Override) -> OverrideRecord:
    if isinstance(override, HereOverride):
        at, finger, string = str(override.at), override.finger, override.string
        return HereRecord(override.section, override.bar, at, finger, string, override.because)
    if isinstance(override, RulesOverride):
        own = own_texts(override.own)
        return RulesOverrideRecord(override.symbol, str(override.shape), **own, because=override.because)
    shape = str(override.shape)
    return ChordRecord(override.symbol, shape, override.lane, override.string, override.because)


class _PieceBuilder:
    """Builds the piece from records, naming the place of whatever is wrong."""

    def __init__(self, path: str) -> None:
        self.path = path

    def at(self, place: str, build: Callable[..., T], *arguments: object) -> T:
        """`build(*arguments)`, its fault turned into one of the file at `place`."""
        try:
            return build(*arguments)
        except GinghamError as error:
            raise FileError("file-damaged", path=self.path, place=place, why=error) from error

    def instrument(self, record: PieceRecord) -> Instrument:
        """The instrument as the record has it strung."""
        return self.at("tuning", instrument, record.instrument, record.tuning)

    def piece(self, record: PieceRecord) -> Piece:
        """The piece of a record."""
        meter = self.at("meter", parse_meter, record.meter)
        instrument = self.instrument(record)
        patterns = [
            NamedPattern(p.name, self.at(f"patterns[{i}]", parse_pattern, p.line))
            for i, p in enumerate(record.patterns)
        ]
        names = {pattern.name for pattern in patterns}
        sections = [
            self.at(f"sections[{i}]", _section, section, meter, names, instrument.strings)
            for i, section in enumerate(record.sections)
        ]
        overrides = [
            self.at(f"overrides[{i}]", _override, o, instrument.strings)
            for i, o in enumerate(record.overrides)
        ]
        return Piece(
            record.title,
            self.at("sections", _some, sections),
            tuple(patterns),
            instrument,
            self.at("capo", check_capo, instrument, record.capo),
            meter,
            self.at("tempo", check_tempo, record.tempo),
            self.at("swing", parse_swing, record.swing),
            None if record.key is None else self.at("key", parse_key, record.key),
            self.at("rules", rules_of, record.rules, instrument.strings),
            tuple(overrides),
            tuple(record.done),
            self.at("performance", _form, record.performance, sections),
            self.at("practice", _form, record.practice, sections),
            notes=record.notes,
            stages=tuple(
                self.at(f"stages[{i}]", parse_own_stage, line, tuple(s.name for s in sections))
                for i, line in enumerate(record.stages)
            ),
            versions=tuple(
                Version(v.when, v.note, msgspec.json.encode(v.piece).decode()) for v in record.versions
            ),
        )


def _section(record: SectionRecord, meter: Meter, patterns: set[str], strings: int) -> Section:
    if record.pattern not in patterns:
        raise InputError("no-pattern", name=record.pattern)
    chords = parse_chord_line(record.chords, meter) if record.chords.strip() else ChordLine(())
    for own in record.bars:
        if own.pattern not in patterns:
            raise InputError("no-pattern", name=own.pattern)
    return Section(
        record.name,
        chords,
        record.pattern,
        record.repeats,
        tuple(record.words),
        own_of(record, strings),
        tuple(BarPattern(own.bar, own.pattern) for own in record.bars),
        parse_tune(record.tune, meter),
    )


def _identity(text: str) -> str:
    """The piece's identity: a few plain letters."""
    if len(text) > _LONGEST_ID or not all(
        sign.isascii() and (sign.isalnum() or sign == "-") for sign in text
    ):
        raise InputError("piece-id")
    return text


def _form(record: FormRecord, sections: list[Section]) -> Form:
    turns = tuple(Turn(turn.section, turn.times) for turn in record.turns)
    return check_form(Form(turns, record.ending), frozenset(section.name for section in sections))


def _some(sections: list[Section]) -> tuple[Section, ...]:
    if not sections:
        raise InputError("last-section")
    return tuple(sections)


def _override(record: OverrideRecord, strings: int) -> Override:
    if isinstance(record, HereRecord):
        at = exact(record.at, 0, _LONGEST_BAR)
        return HereOverride(record.section, record.bar, at, record.finger, record.string, record.because)
    if isinstance(record, RulesOverrideRecord):
        own = own_of(record, strings)
        return RulesOverride(record.symbol, parse_shape(record.shape), own, record.because)
    shape = parse_shape(record.shape)
    return ChordOverride(record.symbol, shape, record.lane, record.string, record.because)
