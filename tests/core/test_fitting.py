"""Fitting: thumb tables, counting, alignments, fingers, exceptions, problems, and what always holds."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gingham.core.errors import EditError, RuleError
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.fitting.result import Result
from gingham.core.instruments.instrument import CATALOGUE, instrument
from gingham.core.judging.holding import free_fingers, needed_fingers
from gingham.core.judging.speed import hand_limit
from gingham.core.patterns.pattern import toggled
from gingham.core.pieces.piece import ChordOverride, HereOverride, NamedPattern, Piece, RulesOverride
from gingham.core.pieces.plans import PLANS
from gingham.core.pieces.rules import OwnRules, Rules, parse_fingers, parse_first, parse_thumb
from gingham.core.shapes.shape import parse_shape
from gingham.core.values import replace
from tests.conftest import HEARTH, make_piece

TABLE = [
    line.split("\t")
    for line in (Path(__file__).parent.parent / "data" / "thumb.tsv").read_text().splitlines()
    if not line.startswith("#")
]


def ruled(
    piece: Piece, thumb: str = "pair", fingers: str = "shift", first: str = "root", align: str = "bar"
) -> Piece:
    """The piece under other rules."""
    return replace(piece, rules=Rules(parse_thumb(thumb), parse_fingers(fingers), parse_first(first), align))


def strokes(result: Result, finger: str = "p") -> str:
    """The strings that a finger plucks, bar by bar."""
    return " | ".join(
        " ".join(str(e.string) for e in bar.events if e.finger == finger) for bar in result.bars
    )


def codes(result: Result) -> list[str]:
    """The problems' codes in order of place."""
    return [problem.code for _, problem in result.problems()]


@pytest.mark.parametrize(("place", "plan", "strings", "degrees"), TABLE)
def test_thumb_strings_of_the_table(place: str, plan: str, strings: str, degrees: str) -> None:
    """The plans give the strings and degrees worked out by hand."""
    result = fit(ruled(make_piece(f"| {place} |", "4/4 x1: p p p p"), plan))
    on = result.spans[0].assignment
    assert " ".join(str(choice.string) for choice in on.basses) == strings
    heard = [e.degree or "x" for e in result.bars[0].events][: len(strings.split())]
    assert " ".join(heard) == degrees
    assert all(choice.reasons for choice in on.basses)


@pytest.mark.parametrize(
    ("pattern", "line", "thumb", "expected"),
    [
        ("4/4 x1: p p p p", "| G | C |", "pair", "6 4 6 4 | 5 4 5 4"),
        ("4/4 x1: p p p .", "| G | % |", "pair", "6 4 6 | 6 4 6"),
        ("4/4 x1: p2 p p p", "| G |", "pair", "4 6 4 6"),
        ("4/4 x1: p p1 p p", "| G |", "pair", "6 6 4 6"),
        ("4/4 x1: p p p p", "| G C |", "pair", "6 4 5 4"),
        ("4/4 x1: p ; p p p", "| G |", "pair", "6 4 6 4"),
        ("4/4 x1: i p i p", "| G |", "pair", "6 4"),
        ("4/4 x1: p p p p", "| C{x32010} ~C{x32030} |", "pair", "5 4 5 4"),
        ("4/4 x1: p . p p", "| C{x32010} / / ~C{x32030} |", "pair", "5 4 5"),
        ("4/4 x1: p p p p", "| G |", "named:4,5,6", "4 5 6 4"),
        ("4/4 x1: p p3 p p", "| G |", "pair", "6 4 6 4"),
        ("4/4 x1: p p p p", "| G{320003} |", "up-and-back", "6 5 4 5"),
        ("4/4 x1: p p p p", "| C{x32010} | D{xx0232} |", "up-and-back", "5 4 5 4 | 4 4 4 4"),
        ("4/4 x1: p p p p", "| G{320003} | % |", "rise", "6 4 3 6 | 6 4 3 6"),
        ("4/4 x1: p p p .", "| G{320003} | % |", "tour", "6 4 5 | 4 6 4"),
        ("4/4 x1: p p p .", "| G{320003} | G{355433} |", "tour", "6 4 5 | 6 4 5"),
        ("4/4 x1: p p2 p3 p", "| G{320003} |", "root-fifth", "6 4 4 6"),
        ("2/4 x1: p p", "(1/4 D) | G |", "pair", "4 | 6 4"),
    ],
)
def test_counting_the_thumb(pattern: str, line: str, thumb: str, expected: str) -> None:
    """A bare p takes the next bass, written ones count too; bar lines and chords start again, breaks do not."""
    assert strokes(fit(ruled(make_piece(line, pattern), thumb))) == expected


@pytest.mark.parametrize(
    ("align", "pattern", "line", "slots"),
    [
        ("bar", "4/4 x1: p i m a", "| G C |", "0 1 2 3"),
        ("chord", "4/4 x1: p i m a", "| G C |", "0 1 0 1"),
        ("chord", "4/4 x1: p i ; m a", "| G / C / |", "0 1 0 1"),
        ("chord", "4/4 x1: p i ; m a", "| G / / C |", "0 1 0 0"),
        ("chord", "4/4 x1: p i m a", "| G | % |", "0 1 2 3 | 0 1 2 3"),
        ("chord", "4/4 x1: p i m a", "| G C{x32010} | ~C{x32030} |", "0 1 0 1 | 2 3 0 1"),
        ("run", "4/4 x1: p i m", "| G | C | D |", "0 1 2 0 | 1 2 0 1 | 2 0 1 2"),
        ("bar", "4/4 x1: p i m", "| G | C |", "0 1 2 0 | 0 1 2 0"),
        ("bar", "4/4 x1: p i m a | p . i m", "| G | C | D |", "0 1 2 3 | 4 6 7 | 0 1 2 3"),
        ("bar", "4/4 x1: p i m a p i", "| G | C | D |", "0 1 2 3 | 4 5 0 1 | 0 1 2 3"),
        ("bar", "4/4 x1: p i m a", "(1/2 D) | G |", "2 3 | 0 1 2 3"),
    ],
)
def test_alignments(align: str, pattern: str, line: str, slots: str) -> None:
    """Which of the pattern's slots lie where, for all three ways of laying it."""
    result = fit(ruled(make_piece(line, pattern), align=align))
    assert " | ".join(" ".join(str(e.slot) for e in bar.events) for bar in result.bars) == slots


@pytest.mark.parametrize(
    ("place", "first", "thumb", "strings", "code"),
    [
        ("C/G{332010}", "root", "pair", [6, 4], "first-slash"),
        ("D{xxx232}", "root", "pair", [3, 3], "first-not-root"),
        ("C{332010}", "lowest", "pair", [6, 4], "first-inversion"),
        ("C{332010}", "root", "pair", [5, 4], "first-root"),
        ("G{320003}", "named:5", "pair", [5, 4], "first-named-tune"),
    ],
)
def test_the_first_bass_by_rule(place: str, first: str, thumb: str, strings: list[int], code: str) -> None:
    """Slash, root on the lowest thumb string, lowest string, named; each with its reason."""
    on = fit(ruled(make_piece(f"| {place} |"), thumb, first=first)).spans[0].assignment
    assert [choice.string for choice in on.basses] == strings
    assert on.basses[0].reasons[0].code == code


@pytest.mark.parametrize(
    ("place", "thumb", "first", "strings", "fingers"),
    [
        ("C{0003}", "pair", "root", [4, 3], {"i": 2, "m": 1}),
        ("C{0003}", "pair", "root-first", [3, 4], {"i": 2, "m": 1}),
        ("C{0003}", "root", "root", [4], {"i": 3, "m": 2, "a": 1}),
        ("C{0003}", "string-4", "root", [4, 4], {"i": 3, "m": 2, "a": 1}),
    ],
)
def test_four_strings(
    place: str, thumb: str, first: str, strings: list[int], fingers: dict[str, int]
) -> None:
    """On a ukulele bass 1 is string 4 and bass 2 string 3, whatever they sound."""
    piece = ruled(make_piece(f"| {place} |", instrument=CATALOGUE["ukulele"]), thumb, first=first)
    on = fit(piece).spans[0].assignment
    assert [choice.string for choice in on.basses] == strings
    assert {finger: choice.string for finger, choice in on.fingers} == fingers


def test_a_muted_partner_goes_to_the_next_string_no_finger_needs() -> None:
    """With string 4 silent the second bass is string 3, if no finger plucks it at the same time."""
    free = fit(ruled(make_piece("| G{32x003} |", "4/4 x1: p m p m"), fingers="home")).spans[0].assignment
    assert [c.string for c in free.basses] == [6, 3]
    busy = fit(ruled(make_piece("| G{32x003} |", "4/4 x1: p m p+i m"), fingers="home")).spans[0].assignment
    assert [c.string for c in busy.basses] == [6, 6]
    assert busy.basses[1].reasons[0].value("why") == "muted"


@pytest.mark.parametrize(
    ("fingers", "place", "expected"),
    [
        ("shift", "G{320003}", {"i": 3, "m": 2, "a": 1}),
        ("shift", "D{xx0232}", {"i": 2, "m": 1, "a": 1}),
        ("home", "D{xx0232}", {"i": 3, "m": 2, "a": 1}),
        ("named:i2,m1", "D{xx0232}", {"i": 2, "m": 1}),
    ],
)
def test_finger_policies(fingers: str, place: str, expected: dict[str, int]) -> None:
    """Home stays, shift moves over when the thumb takes string 3, named is named."""
    on = fit(ruled(make_piece(f"| {place} |"), fingers=fingers)).spans[0].assignment
    assert {finger: choice.string for finger, choice in on.fingers} == expected


@pytest.mark.parametrize(
    ("place", "pattern", "thumb", "fingers", "expected"),
    [
        ("D{xx0232}", "4/4 x1: p i p+i .", "pair", "home", {"same-string", "cuts-note", "no-third"}),
        ("D{xx0232}", "4/4 x1: p m p i", "pair", "home", {"cuts-note", "no-third"}),
        ("D{xx0232}", "4/4 x1: p m+a p i", "pair", "shift", set()),
        ("C{x3201x}", "4/4 x1: p/1 i p m", "pair", "shift", {"muted-string"}),
        ("G{320003}", "4/4 x1: p3 i p m", "pair", "shift", {"bass-missing"}),
        ("G{320003}", "4/4 x1: p i c m", "pair", "shift", {"finger-idle"}),
        ("G{320003}", "4/4 x1: p i i+i/1 m", "pair", "shift", {"finger-twice"}),
        ("G{320003}", "4/4 x1: p i m/9 m", "pair", "shift", {"string-missing"}),
        ("G{320003}", "4/4 x1: p i^ p m", "pair", "shift", {"ornament-idle"}),
        ("G{320003}", "4/4 x1: p i^12 p m", "pair", "shift", {"ornament-far"}),  # ten frets from the shape
        ("G{320003}", "4/4 x1: p i^5 p m", "pair", "shift", set()),  # frets 2 to 5, the little finger is free
        ("G{320003}", "4/4 x1: p i^6 p m", "pair", "shift", {"ornament-far"}),
        ("F{133211}", "4/4 x1: p m^4 p i", "pair", "shift", {"ornament-far"}),  # all four fingers hold
        ("F{133211}", "4/4 x1: p i>7 p m", "pair", "shift", set()),  # a slide takes the hand along
        ("G{320033}", "4/4 x1: p i p m", "pair", "shift", {"no-third"}),
        ("C{x32010}", "4/4 x1: p2 i p2 i", "pair", "shift", {"no-root"}),
        ("G{320001}", "4/4 x1: p i p m", "pair", "shift", {"foreign-tone"}),
        ("G{320003}", "4/4 x1: p i d9-8 m", "pair", "shift", {"sweep-empty"}),
        ("G{320003}", "4/4 x1: p i p m", "pair", "shift", set()),
    ],
)
def test_problems_are_data(place: str, pattern: str, thumb: str, fingers: str, expected: set[str]) -> None:
    """What is in the way is said with its code; a plain part has none."""
    assert set(codes(fit(ruled(make_piece(f"| {place} |", pattern), thumb, fingers)))) == expected


def test_a_chord_no_hand_can_hold_is_a_problem_of_its_bar() -> None:
    """The rest of the piece is fitted all the same."""
    odd = instrument("guitar", "C2 C#2 D2 D#2 E2 F2")
    result = fit(make_piece("| F#13 | N.C. | C5 |", instrument=odd))
    assert ("no-shape" in codes(result)) == (result.spans[0].assignment is None)
    assert result.bars[1].events == ()


@pytest.mark.parametrize(("pin", "code"), [("0003", "shape-length"), ("0,20,20,20,20,20", "shape-neck")])
def test_a_pin_that_the_instrument_has_no_places_for_names_its_bar(pin: str, code: str) -> None:
    """The chord gets another shape, and the rest is fitted all the same."""
    result = fit(make_piece(f"| G | C{{{pin}}} |"))
    assert [(bar, problem.code) for bar, problem in result.problems() if problem.code == code] == [(2, code)]
    assert [str(span.assignment.shape) for span in result.spans] == ["320003", "x32010"]


def test_ornaments_turns_and_strings_alone() -> None:
    """Hammer-on in its own slot, strings by turns, string numbers that carry to the next chord."""
    hammer = fit(make_piece("| Am{x02210} |", "4/4 x2: p . i^ . p . m/2/1 m/2/1")).bars[0].events
    assert [(e.count, e.fret, e.kind) for e in hammer[1:3]] == [("2", 0, "pluck"), ("2&", 2, "hammer")]
    assert [e.string for e in hammer if e.finger == "m"] == [2, 1]
    carried = fit(make_piece("| C{x32010} | G{320003} |", "4/4 x1: 5 3 4 2"))
    assert [e.string for e in carried.bars[0].events] == [5, 3, 4, 2]
    assert [e.string for e in carried.bars[1].events] == [6, 3, 4, 2]


def test_brushes_take_the_sounding_strings_above_the_bass() -> None:
    """Down from below the bass just played, up over strings 1 to 3, a range keeps to its strings."""
    events = fit(make_piece("| C{x32010} |", "4/4 x1: p d u d3-2")).bars[0].events
    assert [e.string for e in events if e.kind == "brush-down"] == [4, 3, 2, 1, 3, 2]
    assert [e.string for e in events if e.kind == "brush-up"] == [1, 2, 3]


def test_variants_by_bass_string_and_symbol() -> None:
    """A symbol's variant goes before a string's, and both before the pattern."""
    pattern = "4/4 x1: p i m a\nwhen 6: p . . .\nwhen D: p m . ."
    result = fit(make_piece("| C{x32010} | G{320003} | D{xx0232} |", pattern))
    assert [len(bar.events) for bar in result.bars] == [4, 1, 2]


@pytest.mark.parametrize(
    ("place", "plucked", "hold", "free"),
    [
        ("F{133211}", "4/4 x1: p/6 p/4 i/3 m/2", "1x321x", [3]),
        ("D/F#{2x0232}", "4/4 x1: p p i m", "2x023x", [3]),
        ("G{320003}", "4/4 x1: p p i m", "3x000x", [1, 3]),
    ],
)
def test_hold_only_what_you_pluck(place: str, plucked: str, hold: str, free: list[int]) -> None:
    """Strings that are not plucked become x; a finger is free when nothing it holds is plucked."""
    span = fit(make_piece(f"| {place} |", plucked)).spans[0]
    assert str(span.hold) == hold
    assert sorted(free_fingers(span)) == free
    assert not free_fingers(span) & needed_fingers(span)


# Exceptions.

D_SHAPE = parse_shape("xx0232")


def test_an_exception_on_one_chord_leaves_the_others_alone() -> None:
    """Middle to string 2 on D, everywhere that D comes; the reason says what the rule was."""
    piece = make_piece("| D | G | D |", overrides=(ChordOverride("D", D_SHAPE, "m", 2),))
    result = fit(piece)
    assert strokes(result, "m") == "2 2 | 2 2 | 2 2"
    choice = result.spans[0].assignment.finger("m")
    assert (choice.string, choice.by_rule, choice.overridden) == (2, 1, True)


def test_an_exception_at_one_place_changes_one_pluck() -> None:
    """Only bar 2 has it; a silent one sounds nothing but can be seen."""
    here = (
        HereOverride("Verse", 2, Fraction(3, 4), "p", 5),
        HereOverride("Verse", 1, Fraction(0), "m", None),
    )
    result = fit(make_piece("| G | G |", overrides=here))
    assert strokes(result) == "6 4 6 4 | 6 4 6 5"
    assert [e.silent for e in result.bars[0].events[:2]] == [False, True]
    assert result.asleep == ()


def test_an_exception_whose_pluck_is_gone_sleeps_and_wakes() -> None:
    """Taking the pluck out of the pattern loses nothing."""
    here = (HereOverride("Verse", 1, Fraction(1, 4), "p", 5), ChordOverride("D", D_SHAPE, "m", 2))
    piece = make_piece("| G |", overrides=here)
    assert fit(piece).asleep == (here[1],)
    gone = replace(piece, patterns=(NamedPattern("Mine", toggled(piece.patterns[0].pattern, 2, "p")),))
    assert fit(gone).asleep == here
    back = replace(gone, patterns=piece.patterns)
    assert strokes(fit(back)) == "6 5 6 4"


# What always holds.

GUITAR_FRETS = st.lists(st.none() | st.integers(0, 4), min_size=6, max_size=6).filter(
    lambda frets: any(f is not None for f in frets)
)
PATTERNS = st.sampled_from(
    [HEARTH, "4/4 x1: p i m a", "4/4 x2: p+m+a . p2 i p1 . p i'", "4/4 x2: i p m p a p i p3"]
)


@settings(max_examples=200)
@given(
    GUITAR_FRETS,
    PATTERNS,
    st.sampled_from([plan for plan in PLANS if plan != "named"]),
    st.sampled_from(["home", "shift"]),
    st.sampled_from(["E2 A2 D3 G3 B3 E4", "D2 A2 D3 G3 B3 E4", "D2 A2 D3 F#3 A3 D4"]),
    st.integers(0, 5),
    st.integers(30, 250),
)
def test_invariants_over_random_shapes(
    frets: list[int | None], pattern: str, thumb: str, fingers: str, tuning: str, capo: int, tempo: int
) -> None:
    """Bass 1 first, never an x string for the thumb, no collision unreported, degrees right, plucks tile slots."""
    text = "".join("x" if f is None else str(f) for f in frets)
    tuned = instrument("guitar", tuning)
    piece = make_piece(f"| C{{{text}}} |", pattern, instrument=tuned, capo=capo, tempo=tempo)
    result = fit(ruled(piece, thumb, fingers))
    events, on = result.bars[0].events, result.spans[0].assignment
    thumbs = [e for e in events if e.finger == "p"]
    assert thumbs[0].string == on.basses[0].string or thumbs[0].lane != 1
    assert all(e.fret is not None for e in thumbs)
    for event in events:
        if event.pitch is not None:
            assert str(on.sounding.tone_at(event.pitch.midi)[0]) == event.degree
            assert event.pitch.midi == tuned.open_midi(event.string) + capo + event.fret
    clashing = {e.at for e in events for o in events if e is not o and e.at == o.at and e.string == o.string}
    assert clashing == {p.at for _, p in result.problems() if p.code == "same-string"}


@settings(max_examples=30, deadline=None)
@given(
    st.lists(st.sampled_from(["G", "C", "D{xx0232}", "Am7", "N.C.", "D/F#"]), min_size=1, max_size=6),
    st.sampled_from(["bar", "chord", "run"]),
    PATTERNS,
)
def test_a_kept_cache_gives_what_a_fresh_fit_gives(bars: list[str], align: str, pattern: str) -> None:
    """The same pieces in a row, with one cache and without, have equal results."""
    cache = FitCache()
    for tail in ("", " G |", " D C |"):
        piece = ruled(make_piece("| " + " | ".join(bars) + " |" + tail, pattern), align=align)
        assert fit(piece, 0, cache) == fit(piece)


def test_equal_bars_share_their_events() -> None:
    """What makes long pieces cheap: the same bar is fitted once."""
    result = fit(make_piece("| " + "G | C | " * 40))
    assert len({id(bar.events) for bar in result.bars}) == 2


def test_the_hand_limit_falls_when_plucks_come_closer() -> None:
    """Twice as many slots a beat halve the limit; a higher level raises it; the spot is named."""
    slow = fit(make_piece("| G | C |", "4/4 x1: p i p i"))
    fast = fit(make_piece("| G | C |", "4/4 x2: p i p i p i p i"))
    assert abs(hand_limit(slow, "growing").tempo - 2 * hand_limit(fast, "growing").tempo) <= 1
    tempos = [hand_limit(fast, level).tempo for level in ("starting", "growing", "fluent")]
    assert tempos == sorted(tempos) and tempos[0] < tempos[2]
    again = hand_limit(fit(make_piece("| G |", "4/4 x2: p i i i p . p .")), "growing")
    assert (again.spots[0].code, again.spots[0].finger) == ("same-finger", "i")


@pytest.mark.parametrize(
    ("parse", "text"),
    [
        (parse_thumb, "waltz"),
        (parse_thumb, "named:"),
        (parse_fingers, "named:x3"),
        (parse_first, "named:0x"),
        (parse_first, "fifth"),
    ],
)
def test_unknown_rules_are_refused(parse, text: str) -> None:
    """A plan that is not there yet is not half there."""
    with pytest.raises(RuleError):
        parse(text)


def test_a_section_without_its_pattern_is_refused() -> None:
    """The error names the missing pattern."""
    piece = make_piece("| G |")
    with pytest.raises(EditError):
        fit(replace(piece, patterns=()))


@pytest.mark.parametrize(
    ("place", "tempo", "strings", "frets", "way"),
    [
        ("C{x32010}", 72, [5, 6], [3, 3], "hop"),
        ("C{x32010}", 200, [5, 6], [3, 3], "fuller"),
        ("Am{x02210}", 200, [5, 6], [0, 0], "open"),
        ("Bm{x24432}", 200, [5, 6], [2, 2], "barre"),
        ("G{320003}", 200, [6, 4], [3, 0], "shape"),
        ("B7{x21202}", 72, [5, 6], [2, 2], "hop"),
    ],
)
def test_a_bass_outside_the_shape_is_reached_in_time_or_not_at_all(
    place: str, tempo: int, strings: list[int], frets: list[int], way: str
) -> None:
    """Open, by a longer barre, by a finger that hops if the tempo lets it, else by the fuller shape."""
    result = fit(ruled(make_piece(f"| {place} |", "4/4 x1: p p p p", tempo=tempo), "root-fifth"))
    second = result.spans[0].assignment.basses[1]
    assert dict(second.reasons[0].values)["way"] == way
    thumb = [event for event in result.bars[0].events if event.finger == "p"]
    assert ([e.string for e in thumb[:2]], [e.fret for e in thumb[:2]]) == (strings, frets)
    assert result.spans[0].hold.fret(strings[1]) == (None if way == "hop" else frets[1])
    assert "muted-string" not in codes(result)


def test_a_hop_that_is_too_late_falls_back_to_the_partner() -> None:
    """This Cm's fifth needs a hop; at 200 with the thumb on every beat there is no time and no fuller shape."""
    result = fit(ruled(make_piece("| Cm{x31013} |", "4/4 x1: p p p p", tempo=200), "root-fifth"))
    assert [c.string for c in result.spans[0].assignment.basses] == [5, 4]


def test_sections_and_chords_have_thumb_plans_of_their_own() -> None:
    """The section's goes before the piece's, the chord's before both; other chords keep theirs."""
    piece = make_piece("| G{320003} | C{x32010} |", "4/4 x1: p p p p")
    here = replace(piece, sections=(replace(piece.sections[0], own=OwnRules(parse_thumb("root"))),))
    assert strokes(fit(here)) == "6 6 6 6 | 5 5 5 5"
    own = RulesOverride("C", parse_shape("x32010"), OwnRules(parse_thumb("named:6,5,4")))
    assert strokes(fit(replace(here, overrides=(own,)))) == "6 6 6 6 | 6 5 4 6"
    gone = replace(here, overrides=(replace(own, symbol="D"),))
    assert fit(gone).asleep == gone.overrides


@pytest.mark.parametrize("plan", ["root-fifth", "up-and-back", "rise", "tour"])
def test_on_four_strings_the_longer_plans_are_pair(plan: str) -> None:
    """Strings 4 and 3 are all the thumb has there."""
    piece = make_piece("| C | Am | F |", "3/4 x1: p p p", instrument=CATALOGUE["ukulele"])
    assert strokes(fit(ruled(piece, plan))) == strokes(fit(ruled(piece, "pair")))


@pytest.mark.parametrize(
    ("on", "tuning", "place", "plan", "strings", "degrees"),
    [
        ("guitar", "D2 A2 D3 G3 B3 E4", "D{000232}", "pair", "6 4", "1 1"),
        ("guitar", "D2 A2 D3 G3 B3 E4", "D{000232}", "root-fifth", "6 5", "1 5"),
        ("guitar", "D2 A2 D3 G3 B3 E4", "D{000232}", "rise", "6 4 3", "1 1 5"),
        ("guitar", "D2 A2 D3 G3 B3 E4", "D{000232}", "up-and-back", "6 5 4", "1 5 1"),
        ("guitar", "D2 A2 D3 G3 B3 E4", "G{520003}", "pair", "6 4", "1 5"),
        ("guitar", "D2 A2 D3 G3 B3 E4", "G{520003}", "tour", "6 4 5", "1 5 3"),
        ("guitar", "D2 A2 D3 G3 B3 E4", "A{x02220}", "root-fifth", "5 4", "1 5"),
        ("guitar", "D2 A2 D3 G3 B3 E4", "Em{222000}", "pair", "6 4", "1 1"),
        ("guitar", "D2 A2 D3 F#3 A3 D4", "D{000000}", "pair", "6 4", "1 1"),
        ("guitar", "D2 A2 D3 F#3 A3 D4", "D{000000}", "tour", "6 4 5", "1 1 5"),
        ("guitar", "D2 A2 D3 F#3 A3 D4", "G{555555}", "root-fifth", "6 5", "1 5"),
        ("guitar", "D2 A2 D3 F#3 A3 D4", "A{x02222}", "root-fifth", "5 4", "1 5"),
        ("ukulele", None, "C{0003}", "pair", "4 3", "5 1"),
        ("ukulele", None, "F{2010}", "root-fifth", "4 3", "3 5"),
        ("ukulele", None, "Am{2000}", "string-4", "4 4", "1 1"),
        ("ukulele-low", None, "G7{0212}", "tour", "4 3", "1 5"),
        ("ukulele-baritone", None, "G{0003}", "pair", "4 3", "5 1"),
        ("guitar", "A1 E2 A2 D3 G3 B3 E4", "A{0002220}", "pair", "7 5", "1 1"),
    ],
)
def test_thumb_strings_in_other_tunings(
    on: str, tuning: str | None, place: str, plan: str, strings: str, degrees: str
) -> None:
    """Worked out by hand for lowered, open, four-string and seven-string tunings: the rules are computed."""
    tuned = instrument(on, tuning)
    result = fit(ruled(make_piece(f"| {place} |", "4/4 x1: p p p p", instrument=tuned), plan))
    basses = result.spans[0].assignment.basses
    assert " ".join(str(choice.string) for choice in basses) == strings
    heard = [e.degree or "x" for e in result.bars[0].events][: len(basses)]
    assert " ".join(heard) == degrees


def test_a_pinned_shape_that_no_hand_can_hold_is_allowed_and_flagged() -> None:
    """The part is there all the same; the rest of the piece is as ever."""
    result = fit(make_piece("| G | C{152637} | D |", "4/4 x1: p i m i"))
    assert "no-grip" in codes(result)
    assert all(bar.events for bar in result.bars)


_PARSED = {"first": parse_first, "fingers": parse_fingers, "hand": str}


@pytest.mark.parametrize(
    ("on", "chords", "pattern", "plan", "strings", "four", "other"),
    [
        [*line.split("\t"), "", ""][:7]
        for line in (Path(__file__).parent.parent / "data" / "plucked.tsv").read_text().splitlines()
        if not line.startswith("#")
    ],
)
def test_the_strings_of_the_table(
    on: str, chords: str, pattern: str, plan: str, strings: str, four: str, other: str
) -> None:
    """Thumb and fingers share the strings as the pattern asks; nothing meets, nothing is marked."""
    piece = replace(ruled(make_piece(f"| {chords} |", pattern), plan), instrument=CATALOGUE[on])
    own = {name: _PARSED[name](value) for name, value in (each.split("=") for each in other.split())}
    result = fit(replace(piece, rules=replace(piece.rules, four_string=four or "shift", **own)))
    plucked = [str(event.string) for bar in result.bars for event in bar.events]
    assert " ".join(plucked) == strings
    assert not set(codes(result)) & {"same-string", "muted-string", "crossed"}
