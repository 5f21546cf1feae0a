"""The records of a `.gingham` file: plain fields, checked by msgspec, and the JSON schema made from them."""

from __future__ import annotations

from typing import Any

import msgspec

FORMAT = "gingham-piece"
VERSION = 7


class RulesRecord(msgspec.Struct):
    """The standing choices, as on the command line."""

    thumb: str = "pair"
    fingers: str = "shift"
    first: str = "root"
    align: str = "bar"
    level: str = "growing"
    shapes: str = "together"
    muddy: str = "warn"
    muddy_above: str = "5/4"
    hold: str = "plucked"
    accents: str = "thumb"
    hand: str = "pima"
    touch: str = "flesh"
    voice: str = "own"
    four_string: str = "shift"
    pick: str = "alternate"
    support: str = "floating"
    tones: str = "third"
    strict: str = "exact"
    stand_ins: str = "all"


class PatternRecord(msgspec.Struct):
    """A pattern: its name and its shorthand, variants on lines of their own."""

    name: str
    line: str


class BarRecord(msgspec.Struct):
    """A bar of a section (from 1) that has a pattern of its own."""

    bar: int
    pattern: str


class SectionRecord(msgspec.Struct):
    """A section: its chord line, the name of its pattern, and what it has of its own (null: as the piece)."""

    name: str
    chords: str
    pattern: str
    repeats: int = 1
    words: list[str] = []
    thumb: str | None = None
    bars: list[BarRecord] = []
    tune: str = ""
    fingers: str | None = None
    first: str | None = None
    four_string: str | None = None
    hand: str | None = None
    hold: str | None = None
    accents: str | None = None


class HereRecord(msgspec.Struct, tag="here", tag_field="kind"):
    """One pluck at one place: `at` is a fraction of a whole note; string null keeps it silent."""

    section: str
    bar: int
    at: str
    finger: str
    string: int | None
    because: str = ""


class ChordRecord(msgspec.Struct, tag="chord", tag_field="kind"):
    """One finger or bass on another string for one chord and shape."""

    symbol: str
    shape: str
    lane: str
    string: int
    because: str = ""


class RulesOverrideRecord(msgspec.Struct, tag="rules", tag_field="kind"):
    """What one chord and shape has of its own; null is as the section has it."""

    symbol: str
    shape: str
    thumb: str | None = None
    fingers: str | None = None
    first: str | None = None
    four_string: str | None = None
    hand: str | None = None
    hold: str | None = None
    accents: str | None = None
    because: str = ""


OverrideRecord = HereRecord | ChordRecord | RulesOverrideRecord


class TurnRecord(msgspec.Struct):
    """One section played some times in a row."""

    section: str
    times: int = 1


class FormRecord(msgspec.Struct):
    """How the piece ends, and the order of its sections; without turns as they stand."""

    ending: str
    turns: list[TurnRecord] = []


class VersionRecord(msgspec.Struct):
    """The piece as it was at `when`: a whole record like this file's, without versions of its own."""

    when: str
    note: str
    piece: dict[str, Any]


class PieceRecord(msgspec.Struct):
    """The whole file."""

    format: str
    version: int
    title: str
    instrument: str
    tuning: str
    capo: int
    meter: str
    tempo: int
    swing: str
    key: str | None
    rules: RulesRecord
    patterns: list[PatternRecord]
    sections: list[SectionRecord]
    overrides: list[OverrideRecord]
    done: list[str] = []
    performance: FormRecord = msgspec.field(default_factory=lambda: FormRecord("stop"))
    practice: FormRecord = msgspec.field(default_factory=lambda: FormRecord("loop"))
    notes: str = ""
    stages: list[str] = []
    id: str = ""
    versions: list[VersionRecord] = []


def schema() -> dict[str, object]:
    """The JSON schema of a piece file; further fields are allowed and kept."""
    made = msgspec.json.schema(PieceRecord)
    fields = made["$defs"]["PieceRecord"]["properties"]
    fields["format"] = {"const": FORMAT}
    fields["version"] = {"const": VERSION}
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Gingham piece", **made}
