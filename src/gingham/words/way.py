"""The questions on which players differ, with the answers as they say them, and where a piece departs."""

from __future__ import annotations

import msgspec

from gingham.core.pieces.plans import PICKING_PLANS
from gingham.core.pieces.rules import FINGER_POLICIES, Rules, parse_fingers, parse_first, parse_thumb
from gingham.core.pieces.way import OwnChoice
from gingham.language import tr, tr_c
from gingham.words.form import ENDING_NAMES
from gingham.words.names import (
    ACCENT_NAMES,
    ALIGN_NAMES,
    FIRST_NAMES,
    FOUR_STRING_NAMES,
    HAND_NAMES,
    HOLD_NAMES,
    LEVEL_NAMES,
    MUDDY_NAMES,
    PICK_RULES,
    POLICY_NAMES,
    SHAPE_NAMES,
    STAND_IN_NAMES,
    STRICT_NAMES,
    SUPPORT_NAMES,
    TONE_NAMES,
    TOUCH_NAMES,
    VOICE_NAMES,
    lane_name,
    level_text,
    signs,
)
from gingham.words.naming import COUNT_NAMINGS, FINGER_NAMINGS, FRET_NAMINGS, STRING_NAMINGS
from gingham.words.plans import THUMB_NAMES, explained, first_name, plan_name
from gingham.words.practice import JOIN_NAMES, OPENING_NAMES, ORDER_NAMES, SING_NAMES


class Question(msgspec.Struct, frozen=True):
    """`field` of a way, its `label`, and its answers as (value, words)."""

    field: str
    label: str
    answers: tuple[tuple[str, str], ...]


def _ask(field: str, label: str, names: dict[str, str]) -> Question:
    return Question(field, label, tuple(names.items()))


_METERS = ("4/4", "3/4", "2/4", "6/8", "9/8", "12/8", "5/4", "7/8")
QUESTIONS: tuple[tuple[str, tuple[Question, ...]], ...] = (
    (tr("The thumb"), (
        _ask("thumb", tr("The thumb"), {plan: THUMB_NAMES[plan] for plan in PICKING_PLANS}),
        _ask("each_bar", tr("At a bar line"), {"": tr("begins again"), "on": tr("goes on: its next bass")}),
        _ask("walk", tr("Into a change"), {"": tr("does not walk"), "on": tr("walks into the next bass")}),
        _ask("first", tr("First bass"), FIRST_NAMES),
        _ask("four_string", tr("Chords of four strings"), FOUR_STRING_NAMES),
        _ask("muddy", tr("Low notes that blur"), MUDDY_NAMES),
    )),
    (tr("The fingers"), (
        _ask("hand", tr("Plucked with"), HAND_NAMES),
        _ask("fingers", tr("The fingers"), {k: POLICY_NAMES[k] for k in FINGER_POLICIES[:-1]}),
        _ask("support", tr("The hand"), SUPPORT_NAMES),
        _ask("touch", tr("What touches the string"), TOUCH_NAMES),
        _ask("pick", tr("A flat pick goes"), PICK_RULES),
        _ask("level", tr("Level of the hand"), LEVEL_NAMES),
    )),
    (tr_c("questions", "Chords"), (
        _ask("hold", tr("The fretting hand holds"), HOLD_NAMES),
        _ask("shapes", tr("Shapes are chosen"), SHAPE_NAMES),
        _ask("tones", tr("A chord has to sound"), TONE_NAMES),
        _ask("stand_ins", tr("Easier chords"), STAND_IN_NAMES),
    )),
    (tr("A new piece"), (
        _ask("meter", tr_c("questions", "Meter"), {meter: meter for meter in _METERS}),
        _ask("align", tr("The pattern lies"), ALIGN_NAMES),
        _ask("times", tr("A section is played"), {"1": tr_c("questions", "once"), "2": tr_c("questions", "twice"), "4": tr("four times")}),
        _ask("ending", tr_c("questions", "Ending"), ENDING_NAMES),
    )),
    (tr_c("questions", "Sound"), (
        _ask("accents", tr_c("questions", "Accents"), ACCENT_NAMES),
        _ask("voice", tr("Heard on"), VOICE_NAMES),
    )),
    (tr("Names and numbers"), (
        _ask("fingers", tr_c("questions", "Fingers"), FINGER_NAMINGS),
        _ask("strings", tr_c("questions", "Strings"), STRING_NAMINGS),
        _ask("counts", tr_c("questions", "Counts"), COUNT_NAMINGS),
        _ask("frets", tr("Frets, with a capo"), FRET_NAMINGS),
    )),
    (tr_c("questions", "Practising"), (
        _ask("order", tr("Learn first"), ORDER_NAMES),
        _ask("joins", tr("Fingers join"), JOIN_NAMES),
        _ask("opening", tr_c("questions", "Begin"), OPENING_NAMES),
        _ask("sing", tr_c("questions", "Singing"), SING_NAMES),
        _ask("strict", tr("A hit is"), STRICT_NAMES),
    )),
)  # fmt: skip
"""Every question that has a fixed set of answers, in groups. Those named twice differ: see `NAMES_GROUP`."""
NAMES_GROUP = tr("Names and numbers")
SUMMARY = tr(
    "How you play, once for all pieces. New pieces begin like this; each of them, each section and each chord may "
    "still do otherwise. Nothing here is right or wrong, and a teacher’s word goes before the program’s."
)
_LABELS = {q.field: q.label for title, group in QUESTIONS if title != NAMES_GROUP for q in group}
_LABELS |= {"muddy_above": tr("Low notes blur")}
_NAMES = {q.field: dict(q.answers) for title, group in QUESTIONS if title != NAMES_GROUP for q in group}


def rule_text(field: str, value: str) -> str:
    """A rule's value in words: `root and fifth`, `on string 5`, `only the thumb moves`."""
    if field == "thumb":
        return plan_name(parse_thumb(value))
    if field == "fingers":
        policy = parse_fingers(value)
        own = ", ".join(
            tr("{finger} on {string}", finger=finger, string=string) for finger, string in policy.strings
        )
        return own or POLICY_NAMES[policy.kind]
    if field == "first":
        return first_name(parse_first(value))
    if field == "level":
        return level_text(value)
    return _NAMES.get(field, {}).get(value, value)


def rule_label(field: str) -> str:
    """What a rule is called."""
    return _LABELS[field]


def rule_lines(rules: Rules) -> list[str]:
    """Every rule as a line: `First bass: root or slash`."""
    return [
        f"{_LABELS[field]}: {rule_text(field, str(getattr(rules, field)))}"
        for field in Rules.__struct_fields__
        if field != "muddy_above"
    ]


def choice_text(choice: OwnChoice) -> str:
    """`First bass: lowest string (my way: root or slash)`, `D: middle on string 2 – the tune is there`."""
    return explained(_choice_text(choice), choice.because)


def _choice_text(choice: OwnChoice) -> str:
    field, has = choice.field, choice.has
    if choice.scope == "place":
        return tr("bar {bar}: {lane_name} ", bar=choice.bar, lane_name=lane_name(field)) + (
            tr("on string {has}", has=has) if has else tr("left out")
        )
    if choice.scope == "string":
        return tr(
            "{where}: {lane_name} on string {has}",
            where=signs(choice.where),
            lane_name=lane_name(field),
            has=has,
        )
    if choice.scope == "bar":
        return tr("bar {bar}: the pattern {has} (else {usual})", bar=choice.bar, has=has, usual=choice.usual)
    said = f"{_LABELS[field]}: {rule_text(field, has)}"
    where = f"{signs(choice.where)}: " if choice.scope == "chord" else ""
    other = tr("my way") if choice.scope == "piece" else tr("else")
    return f"{where}{said} ({other}: {rule_text(field, choice.usual)})"


CHOICE_HEADS = {
    "piece": tr("The whole piece"),
    "section": "{section}",
    "bar": tr("{section}: bars of their own"),
    "chord": tr("Single chords"),
    "string": tr("Single chords: strings"),
    "place": tr("{section}: single places"),
}
"""Headings over the own_choices."""
