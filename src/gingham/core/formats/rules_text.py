"""Rules as a file has them, and back: the same texts in pieces and in ways of playing."""

from __future__ import annotations

from gingham.core.formats.records import RulesOverrideRecord, RulesRecord, SectionRecord
from gingham.core.numbers import exact
from gingham.core.pieces.rules import (
    ACCENTS,
    ALIGNMENTS,
    FOUR_STRING,
    HANDS,
    HOLDS,
    MUDDY,
    PICK_STROKES,
    SHAPE_CHOICES,
    STAND_INS,
    STRICTNESS,
    SUPPORTS,
    TONES,
    TOUCHES,
    VOICES,
    OwnRules,
    Rules,
    check_choice,
    check_level,
    check_strings,
    parse_fingers,
    parse_first,
    parse_thumb,
)

_ROUGHEST = 100


def rules_record(rules: Rules) -> RulesRecord:
    """All rules as they are written."""
    spoken = (str(rules.thumb), str(rules.fingers), str(rules.first))
    chosen = (rules.align, rules.level, rules.shapes, rules.muddy, str(rules.muddy_above), rules.hold)
    heard = (rules.accents, rules.hand, rules.touch, rules.voice)
    schools = (rules.support, rules.tones, rules.strict, rules.stand_ins)
    return RulesRecord(*spoken, *chosen, *heard, rules.four_string, rules.pick, *schools)


def rules_of(record: RulesRecord, strings: int) -> Rules:
    """The rules of a record, on an instrument of so many strings; RuleError for what is none."""
    return Rules(
        check_strings(parse_thumb(record.thumb), strings),
        check_strings(parse_fingers(record.fingers), strings),
        check_strings(parse_first(record.first), strings),
        check_choice(record.align, ALIGNMENTS, "align"),
        check_level(record.level),
        check_choice(record.shapes, SHAPE_CHOICES, "shapes"),
        check_choice(record.muddy, MUDDY, "muddy"),
        exact(record.muddy_above, 0, _ROUGHEST),
        check_choice(record.hold, HOLDS, "hold"),
        check_choice(record.accents, ACCENTS, "accents"),
        check_choice(record.hand, HANDS, "hand"),
        check_choice(record.touch, TOUCHES, "touch"),
        check_choice(record.voice, VOICES, "voice"),
        check_choice(record.four_string, FOUR_STRING, "four-string"),
        check_choice(record.pick, PICK_STROKES, "pick"),
        check_choice(record.support, SUPPORTS, "support"),
        check_choice(record.tones, TONES, "tones"),
        check_choice(record.strict, STRICTNESS, "strict"),
        check_choice(record.stand_ins, STAND_INS, "stand-ins"),
    )


def own_texts(own: OwnRules) -> dict[str, str | None]:
    """What a section or a chord has of its own, as it is typed."""
    found = {name: getattr(own, name) for name in OwnRules.__struct_fields__}
    return {name: None if value is None else str(value) for name, value in found.items()}


def own_of(record: SectionRecord | RulesOverrideRecord, strings: int) -> OwnRules:
    """What a section or a chord has of its own, from its record; RuleError for what is no rule."""
    four, hand, hold, accents = record.four_string, record.hand, record.hold, record.accents
    return OwnRules(
        None if record.thumb is None else check_strings(parse_thumb(record.thumb), strings),
        None if record.fingers is None else check_strings(parse_fingers(record.fingers), strings),
        None if record.first is None else check_strings(parse_first(record.first), strings),
        None if four is None else check_choice(four, FOUR_STRING, "four-string"),
        None if hand is None else check_choice(hand, HANDS, "hand"),
        None if hold is None else check_choice(hold, HOLDS, "hold"),
        None if accents is None else check_choice(accents, ACCENTS, "accents"),
    )
