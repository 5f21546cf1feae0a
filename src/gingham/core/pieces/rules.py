"""The player's standing choices: thumb plan, finger policy, rule for the first bass, alignment, level."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Literal, TypeVar, get_args

import msgspec

from gingham.core.errors import NumberError, RuleError
from gingham.core.hands.motor import MOTORS, motor_of
from gingham.core.patterns.pattern import Align
from gingham.core.pieces.plans import PICKING_PLANS
from gingham.core.values import replace

WALK, EACH_BAR = "+walk", "+each-bar"
_NAMED = "named:"
FingerKind = Literal["home", "shift", "follow:0", "follow:1", "named"]
FINGER_POLICIES: tuple[FingerKind, ...] = get_args(FingerKind)
FOLLOWING = {"follow:0": 0, "follow:1": 1}  # strings between the first bass and the index finger
FirstKind = Literal["root", "lowest", "root-first", "named"]
FIRST_RULES: tuple[FirstKind, ...] = get_args(FirstKind)
ALIGNMENTS: tuple[Align, ...] = get_args(Align)
LEVELS = tuple(MOTORS)
ShapeChoice = Literal["together", "alone"]
SHAPE_CHOICES: tuple[ShapeChoice, ...] = get_args(ShapeChoice)
Hold = Literal["plucked", "guides", "whole"]
HOLDS: tuple[Hold, ...] = get_args(Hold)
Muddy = Literal["warn", "avoid", "off"]
MUDDY: tuple[Muddy, ...] = get_args(Muddy)
Accents = Literal["thumb", "even", "march", "lilt", "follow-i", "follow-m", "follow-a"]
ACCENTS: tuple[Accents, ...] = get_args(Accents)
Touch = Literal["flesh", "nail", "thumb-pick", "flat-pick"]
TOUCHES: tuple[Touch, ...] = get_args(Touch)
Voice = Literal["own", "nylon", "steel"]
VOICES: tuple[Voice, ...] = get_args(Voice)
Hand = Literal["pi", "pim", "pima", "pimac", "pick"]
HANDS: tuple[Hand, ...] = get_args(Hand)
FourString = Literal["shift", "thumb-only", "literal", "block"]
PickStrokes = Literal["alternate", "economy"]
PICK_STROKES: tuple[PickStrokes, ...] = get_args(PickStrokes)
FOUR_STRING: tuple[FourString, ...] = get_args(FourString)
Support = Literal["floating", "little-finger", "resting"]
SUPPORTS: tuple[Support, ...] = get_args(Support)
Tones = Literal["third", "named", "few"]
TONES: tuple[Tones, ...] = get_args(Tones)
Strictness = Literal["exact", "near"]
STRICTNESS: tuple[Strictness, ...] = get_args(Strictness)
StandIns = Literal["suiting", "all"]
STAND_INS: tuple[StandIns, ...] = get_args(StandIns)
MUDDY_ABOVE = Fraction(5, 4)  # roughness (see judging.muddy): G2 with B2 has 1.34, E2 with B2 1.17


class ThumbPlan(msgspec.Struct, frozen=True, gc=False):
    """`kind` is one of PLANS; `strings` the player's strings in order for `named`.

    `walk` lets the thumb walk out of the chord into the next bass, on top of any plan; with `each_bar` its
    count goes on over bar lines (a waltz on G is 6, 4, 6, 4), and only a new chord begins again at bass 1.
    """

    kind: str = "pair"
    strings: tuple[int, ...] = ()
    walk: bool = False
    each_bar: bool = False

    def named_strings(self) -> tuple[int, ...]:
        """The strings that the player has named."""
        return self.strings

    def __str__(self) -> str:
        spoken = f"named:{','.join(map(str, self.strings))}" if self.kind == "named" else self.kind
        return spoken + (EACH_BAR if self.each_bar else "") + (WALK if self.walk else "")


class FingerPolicy(msgspec.Struct, frozen=True, gc=False):
    """`kind` is one of FINGER_POLICIES; `strings` the (finger, string) pairs for `named`."""

    kind: FingerKind = "shift"
    strings: tuple[tuple[str, int], ...] = ()

    def named_strings(self) -> tuple[int, ...]:
        """The strings that the player has named."""
        return tuple(string for _, string in self.strings)

    def __str__(self) -> str:
        pairs = ",".join(f"{finger}{string}" for finger, string in self.strings)
        return f"named:{pairs}" if self.kind == "named" else self.kind


class FirstRule(msgspec.Struct, frozen=True, gc=False):
    """Where bass 1 lies: by the `root`, the `lowest` string, `root-first` on four strings, or `named`."""

    kind: FirstKind = "root"
    string: int | None = None

    def named_strings(self) -> tuple[int, ...]:
        """The string that the player has named, if any."""
        return () if self.string is None else (self.string,)

    def __str__(self) -> str:
        return f"named:{self.string}" if self.kind == "named" else self.kind


class Rules(msgspec.Struct, frozen=True, gc=False):
    """All standing choices of a piece.

    `shapes` says whether they are chosen with their neighbours, `hold` whether the fretting hand sets only
    the fingers whose strings are plucked, each when it is needed, those and the ones that stay into the next
    chord, or the whole shape before the first pluck;
    `muddy` whether pairs of basses from the roughness `muddy_above` on are pointed out (`warn`), and a
    free choice of the thumb goes to the clearer string too (`avoid`); no plan is ever overruled. `accents` is
    the profile of loudness (see sound.feel), `hand` the fingers that the player has in use, or a flat pick;
    `four_string` is what is done with chords whose first bass is on string 4: the fingers move over
    (`shift`), stay (`thumb-only`), only the first bass moves (`literal`), or all strings sound at once
    (`block`);
    `pick` is how a flat pick goes where the pattern does not say: down on the numbered places and up between,
    or the way that the next string lies; `touch` is what meets the string, `voice` the strings that are heard
    (the instrument's own, nylon, steel). `support` is what the plucking hand leans on: nothing, its little
    finger on the top, its fingers on the strings. `tones` says what a chord must sound to be whole: root and
    third, all that its name says, or any two; `strict` whether another string of the held chord counts as a
    hit (`near`) when a take is judged; `stand_ins` whether easier chords are offered that do not suit their
    neighbours.
    """

    thumb: ThumbPlan = msgspec.field(default_factory=ThumbPlan)
    fingers: FingerPolicy = msgspec.field(default_factory=FingerPolicy)
    first: FirstRule = msgspec.field(default_factory=FirstRule)
    align: Align = "bar"
    level: str = "growing"
    shapes: ShapeChoice = "together"
    muddy: Muddy = "warn"
    muddy_above: Fraction = MUDDY_ABOVE
    hold: Hold = "plucked"
    accents: Accents = "thumb"
    hand: Hand = "pima"
    touch: Touch = "flesh"
    voice: Voice = "own"
    four_string: FourString = "shift"
    pick: PickStrokes = "alternate"
    support: Support = "floating"
    tones: Tones = "third"
    strict: Strictness = "exact"
    stand_ins: StandIns = "all"


class OwnRules(msgspec.Struct, frozen=True, gc=False):
    """What a section or a chord has of its own; None is as the piece, or the section, has it."""

    thumb: ThumbPlan | None = None
    fingers: FingerPolicy | None = None
    first: FirstRule | None = None
    four_string: FourString | None = None
    hand: Hand | None = None
    hold: Hold | None = None
    accents: Accents | None = None

    def __bool__(self) -> bool:
        """Whether there is anything of its own."""
        return self != _NOTHING_OWN

    def over(self, rules: Rules) -> Rules:
        """The rules with what is its own in their place."""
        if not self:
            return rules
        return replace(
            rules,
            thumb=self.thumb or rules.thumb,
            fingers=self.fingers or rules.fingers,
            first=self.first or rules.first,
            four_string=self.four_string or rules.four_string,
            hand=self.hand or rules.hand,
            hold=self.hold or rules.hold,
            accents=self.accents or rules.accents,
        )


_NOTHING_OWN = OwnRules()


def parse_thumb(text: str) -> ThumbPlan:
    """Read `pair`, `named:6,4`, `rise+walk` and the like; RuleError otherwise."""
    if text.endswith(WALK):
        return replace(parse_thumb(text.removesuffix(WALK)), walk=True)
    if text.endswith(EACH_BAR):
        return replace(parse_thumb(text.removesuffix(EACH_BAR)), each_bar=True)
    if match := re.fullmatch(r"named:([0-9]{1,2}(?:,[0-9]{1,2}){0,15})", text):
        return ThumbPlan("named", tuple(int(n) for n in match[1].split(",")))
    if text in PICKING_PLANS:
        return ThumbPlan(text)
    _check_named("thumb-strings", text)
    raise RuleError("thumb-plan", end=len(text), text=text, known=(*PICKING_PLANS, "named:6,4"))


def parse_fingers(text: str) -> FingerPolicy:
    """Read `shift`, `named:i3,m2` and the like; RuleError otherwise."""
    if match := re.fullmatch(r"named:([imac][0-9]{1,2}(?:,[imac][0-9]{1,2}){0,15})", text):
        return FingerPolicy("named", tuple((pair[0], int(pair[1:])) for pair in match[1].split(",")))
    for kind in FINGER_POLICIES[:-1]:
        if kind == text:
            return FingerPolicy(kind)
    _check_named("finger-strings", text)
    raise RuleError("finger-policy", end=len(text), text=text, known=(*FINGER_POLICIES[:-1], "named:i3,m2"))


def _check_named(code: str, text: str) -> None:
    """RuleError if it begins as named strings: then these are at fault, and not the kind of rule."""
    if text.startswith(_NAMED):
        raise RuleError(code, end=len(text), text=text.removeprefix(_NAMED))


def parse_first(text: str) -> FirstRule:
    """Read `root`, `lowest`, `root-first` or `named:5`; RuleError otherwise."""
    if match := re.fullmatch(r"named:([0-9]{1,2})", text):
        return FirstRule("named", int(match[1]))
    for kind in FIRST_RULES[:-1]:
        if kind == text:
            return FirstRule(kind)
    raise RuleError("first-rule", end=len(text), text=text, known=(*FIRST_RULES[:-1], "named:5"))


_Rule = TypeVar("_Rule", ThumbPlan, FingerPolicy, FirstRule)


def check_strings(rule: _Rule, strings: int) -> _Rule:
    """`rule` if an instrument of so many strings has every string that it names; RuleError otherwise."""
    for string in rule.named_strings():
        if not 1 <= string <= strings:
            raise RuleError("rule-string", end=len(str(rule)), string=string, strings=strings)
    return rule


_Known = TypeVar("_Known", bound=str)


def check_choice(text: str, known: tuple[_Known, ...], code: str) -> _Known:
    """The one of `known` that `text` is; RuleError with `code` if it is none."""
    for each in known:
        if each == text:
            return each
    raise RuleError(code, end=len(text), text=text, known=known)


def check_level(text: str) -> str:
    """A level: one of LEVELS, or a hand learned from takes with its numbers; RuleError for any other."""
    try:
        motor_of(text)
    except (ValueError, NumberError):
        return check_choice(text, LEVELS, "level")
    return text
