"""A player's way of playing: what new pieces begin with, under a name, and where a piece departs from it."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Literal

import msgspec

from gingham.core.errors import GinghamError, InputError
from gingham.core.instruments.instrument import Instrument
from gingham.core.music.meter import Meter, meter, parse_meter
from gingham.core.patterns.library import named, names_in, pattern_for
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.chordline import Bar, ChordLine, parse_chord_line
from gingham.core.pieces.edits import remove_override
from gingham.core.pieces.form import Form
from gingham.core.pieces.form_edits import set_bar_pattern
from gingham.core.pieces.own_edits import set_chord_rules, set_section_rules
from gingham.core.pieces.piece import (
    ChordOverride,
    HereOverride,
    NamedPattern,
    Piece,
    RulesOverride,
    Section,
)
from gingham.core.pieces.rules import OwnRules, Rules
from gingham.core.shapes.shape import Shape, misfit
from gingham.core.values import replace

Scope = Literal["piece", "section", "chord", "string", "place", "bar"]
USUAL_NAME = "My way"
OF_THE_WINDOW = ("fingers", "strings", "counts", "frets", "order", "joins", "opening", "sing")
"""What a way says that no piece keeps: names, numbers, how it is learned. Each a text; empty: as it is."""


class Way(msgspec.Struct, frozen=True, gc=False):
    """Standing choices under a name.

    `rules`, `meter`, `times` (how often a section is played), `ending` and `pattern` (a built-in one; empty
    for the first of the meter) are what a new piece begins with; `shapes` is a line of pinned shapes
    that a chord gets when it first comes into a piece. The others are names and orders of the window.
    """

    name: str = USUAL_NAME
    rules: Rules = msgspec.field(default_factory=Rules)
    meter: str = "4/4"
    times: int = 1
    ending: str = "stop"
    pattern: str = ""
    shapes: str = ""
    fingers: str = ""
    strings: str = ""
    counts: str = ""
    frets: str = ""
    order: str = ""
    joins: str = ""
    opening: str = ""
    sing: str = ""

    def new_piece(self, title: str, own: Mapping[str, Pattern] | None = None) -> Piece:
        """An empty piece that begins as the way says; `own` are the player's patterns by name."""
        at = parse_meter(self.meter)
        name, pattern = pattern_for(at)
        mine = (own or {}).get(self.pattern)
        if mine is not None and mine.meter == at:
            name, pattern = self.pattern, mine
        elif self.pattern in names_in(at):
            name, pattern = self.pattern, named(self.pattern)
        return Piece(
            title,
            (Section("Verse", ChordLine(()), name, self.times),),
            (NamedPattern(name, pattern),),
            meter=at,
            rules=self.rules,
            performance=Form(ending=self.ending),
        )


def own_shapes(line: str) -> tuple[tuple[str, Shape], ...]:
    """The shapes of a line such as `F{xx3211} C{332010}`, by symbol; InputError with the place of a fault."""
    found: dict[str, Shape] = {}
    for token in re.finditer(r"[^\s|]+", line):
        start, end = token.span()
        try:
            (place,) = parse_chord_line(f"| {token[0]} |", _ANY).bars[0]
        except InputError as error:
            raise error.marked(start, end) from error
        if place.shape is None:
            raise InputError("own-shape", text=token[0], start=start, end=end)
        found[place.symbol] = place.shape
    return tuple(found.items())


_ANY: Meter = meter(4, 4)


def in_own_shapes(line: ChordLine, before: frozenset[str], own: str, on: Instrument, capo: int) -> ChordLine:
    """`line` with the shape that `own` (see `own_shapes`) pins, on every chord that comes in with it.

    `before` are the symbols that the piece had: a chord whose shape has been let go keeps the program's.
    A shape that this instrument has no places for is left out.
    """
    try:
        known = {s: shape for s, shape in own_shapes(own) if misfit(shape, on, capo) is None}
    except GinghamError:
        return line
    fresh = known.keys() - before
    if not fresh:
        return line

    def held(bar: Bar) -> Bar:
        return tuple(
            replace(place, shape=known[place.symbol])
            if place.symbol in fresh and place.shape is None
            else place
            for place in bar
        )

    pickup = None if line.pickup is None else replace(line.pickup, places=held(line.pickup.places))
    return ChordLine(tuple(held(bar) for bar in line.bars), pickup)


class OwnChoice(msgspec.Struct, frozen=True, gc=False):
    """One thing that a piece, or a part of it, does in another way.

    `where` is the section's name or the chord's symbol, `field` a rule's name (a lane for `string`, the
    finger for `place`), `has` what holds here and `usual` what would hold without it, as they are typed.
    `number` is the section, or the override, by index; `bar` counts from 1; `because` is the player's own
    reason, which only an override has.
    """

    scope: Scope
    field: str
    has: str
    usual: str = ""
    where: str = ""
    number: int = -1
    bar: int = 0
    because: str = ""

    @property
    def has_reason(self) -> bool:
        """Whether it can have one."""
        return self.scope in ("chord", "string", "place")


def own_choices(piece: Piece, way: Way) -> tuple[OwnChoice, ...]:
    """Where a piece does not do as the way says: as a whole, by sections, chords, bars and single places."""
    out = [
        OwnChoice("piece", name, str(getattr(piece.rules, name)), str(getattr(way.rules, name)))
        for name in Rules.__struct_fields__
        if getattr(piece.rules, name) != getattr(way.rules, name)
    ]
    for number, section in enumerate(piece.sections):
        out += [
            OwnChoice("section", name, has, str(getattr(piece.rules, name)), section.name, number)
            for name, has in _own(section.own)
        ]
        out += [
            OwnChoice("bar", "pattern", own.pattern, section.pattern, section.name, number, own.bar)
            for own in section.bars
        ]
    for number, each in enumerate(piece.overrides):
        if isinstance(each, RulesOverride):
            out += [
                OwnChoice(
                    "chord", name, has, str(getattr(piece.rules, name)), each.symbol, number, 0, each.because
                )
                for name, has in _own(each.own)
            ]
        elif isinstance(each, ChordOverride):
            out.append(
                OwnChoice("string", each.lane, str(each.string), "", each.symbol, number, 0, each.because)
            )
        elif isinstance(each, HereOverride):
            has = "" if each.string is None else str(each.string)
            out.append(OwnChoice("place", each.finger, has, "", each.section, number, each.bar, each.because))
    return tuple(out)


def _own(own: OwnRules) -> list[tuple[str, str]]:
    found = [(name, getattr(own, name)) for name in OwnRules.__struct_fields__]
    return [(name, str(value)) for name, value in found if value is not None]


def with_reason(piece: Piece, choice: OwnChoice, because: str) -> Piece:
    """The piece with the player's reason for one choice, a line; empty for none."""
    if not choice.has_reason:
        return piece
    words = " ".join(because.split())
    overrides = list(piece.overrides)
    overrides[choice.number] = replace(overrides[choice.number], because=words)
    return replace(piece, overrides=tuple(overrides))


def as_usual(piece: Piece, way: Way, choice: OwnChoice) -> Piece:
    """The piece without one choice; what else it does in its own way stays."""
    number, name = choice.number, choice.field
    if choice.scope == "piece":
        return replace(piece, rules=replace(piece.rules, **{name: getattr(way.rules, name)}))
    if choice.scope == "section":
        own = replace(piece.sections[number].own, **{name: None})
        return set_section_rules(piece, number, own)
    if choice.scope == "bar":
        return set_bar_pattern(piece, number, choice.bar, None)
    override = piece.overrides[number]
    if isinstance(override, RulesOverride):
        own = replace(override.own, **{name: None})
        return set_chord_rules(piece, override.symbol, override.shape, own)
    return remove_override(piece, override)
