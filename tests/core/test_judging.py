"""What ears and hands make of a result: muddy basses, walks, missing tones, slips, relations."""

from __future__ import annotations

from fractions import Fraction
from types import SimpleNamespace

import pytest

from gingham.core.bench.substitutes import substitutes
from gingham.core.fitting.fit import fit
from gingham.core.fitting.held import Held
from gingham.core.fitting.thumb import _too_rough
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.judging.heard import bring_in, missing
from gingham.core.judging.holding import slips, unheard_voice
from gingham.core.judging.muddy import muddy_on
from gingham.core.judging.piece_map import map_piece
from gingham.core.judging.relations import Relation, relations, staying_fingers
from gingham.core.judging.remarks import all_problems
from gingham.core.music.pitch import parse_pitch
from gingham.core.music.roughness import roughness
from gingham.core.pieces.chordline import print_chord_line
from gingham.core.pieces.edits import (
    add_override,
    replace_chord,
)
from gingham.core.pieces.own_edits import change_thumb, set_chord_rules, set_section_rules
from gingham.core.pieces.piece import ChordOverride
from gingham.core.pieces.rules import OwnRules, Rules, ThumbPlan, parse_thumb
from gingham.core.shapes.shape import parse_shape
from gingham.core.values import replace
from gingham.words.standin import standin_text
from tests.conftest import make_piece

EIGHTHS = "4/4 x2: p i p m p i p m"


@pytest.mark.parametrize(
    ("one", "other", "expected"),
    [
        ("E2", "A2", 1.38), ("G2", "B2", 1.34), ("E2", "B2", 1.17), ("C3", "E3", 1.01), ("G2", "D3", 0.93),
        ("E2", "E3", 0.56),
    ],
)  # fmt: skip
def test_roughness_of_the_design(one: str, other: str, expected: float) -> None:
    """Sethares' curve over the partials of both notes; it does not matter which comes first."""
    a, b = parse_pitch(one).midi, parse_pitch(other).midi
    assert roughness(a, b) == pytest.approx(expected, abs=0.012)
    assert roughness(b, a) == pytest.approx(roughness(a, b))


def muddy_pairs(result):
    """The muddy ones of all that is said of a result."""
    return [(bar, problem) for bar, problem in all_problems(result) if problem.code == "muddy"]


def test_a_muddy_pair_is_named_with_the_clearer_string() -> None:
    """G on strings 6 and 5 in open position; under a capo at 7 the same pair is clear; off is off."""
    piece = make_piece("| G{320003} | C{x32010} |", EIGHTHS)
    low = replace(piece, rules=Rules(parse_thumb("up-and-back")))
    ((bar, problem),) = muddy_pairs(fit(low))
    assert bar == 1 and dict(problem.values) == {"chord": "G", "one": 6, "two": 5, "clearer": 4}
    assert muddy_on(fit(replace(low, capo=7)), 0) is None
    assert muddy_pairs(fit(piece)) == []
    assert muddy_pairs(fit(replace(low, rules=replace(low.rules, muddy="off")))) == []
    patient = replace(low, rules=replace(low.rules, muddy_above=Fraction(3, 2)))
    assert muddy_pairs(fit(patient)) == []


@pytest.mark.parametrize(("away", "is_muddy"), [(0.0, True), (1e-9, False)])
def test_a_pair_as_rough_as_the_limit_is_muddy(away: float, is_muddy: bool) -> None:
    """The limit and more, G2 with B2: for those who are warned of such pairs, and for those who avoid them."""
    limit = Fraction(roughness(43, 47) + away)
    piece = make_piece("| G{320003} |", "4/4 x1: p i p m")
    found = fit(replace(piece, rules=Rules(parse_thumb("up-and-back"), muddy_above=limit)))
    assert bool(muddy_pairs(found)) is is_muddy
    on = found.spans[0].assignment
    held = Held(on.chord, on.shape, piece.instrument, 0)
    assert _too_rough(held, 6, 5, SimpleNamespace(clear_below=float(limit))) is is_muddy


@pytest.mark.parametrize(("away", "named"), [(0.0, []), (1e-9, [4])])
def test_a_partner_as_rough_as_the_limit_is_not_clearer(away: float, named: list[int]) -> None:
    """G2 and D3 instead of G2 and B2: clear only below the limit."""
    rules = Rules(parse_thumb("up-and-back"), muddy_above=Fraction(roughness(43, 50) + away))
    found = fit(replace(make_piece("| G{320xxx} |", "4/4 x1: p . p ."), rules=rules))
    assert [dict(problem.values)["clearer"] for _, problem in muddy_pairs(found)] == named


@pytest.mark.parametrize(
    ("line", "pattern", "rules", "muddy"),
    [
        ("| G{320003} |", "4/4 x1: p i p m", Rules(parse_thumb("up-and-back")), True),
        ("| G{320003} |", "4/4 x1: p/6 i p/5 m", Rules(), True),
        ("| G{320003} |", "4/4 x1: p i p m", Rules(parse_thumb("named:6,5")), False),
        ("| G{320003} |", "4/4 x1: p/6 i p/5 m", Rules(parse_thumb("named:6,4")), True),
        ("| Am{x02210} |", "4/4 x1: p i p m", Rules(parse_thumb("root-fifth")), False),
        ("| Am{x02210} |", "4/4 x1: p/5 i p/6@0 m", Rules(), True),
        ("| G{320003} | C{x32010} |", "4/4 x1: p i p m", Rules(parse_thumb("root+walk")), False),
        ("| G{320003} |", "4/4 x2: p~ . u . p~ . u .", Rules(), False),
    ],
)
def test_nothing_is_said_of_a_muddy_pair_that_the_player_asked_for(line, pattern, rules, muddy) -> None:
    """Strings that the plan names, the fifth that it wants, a walk, a brush; the next string is no wish."""
    assert bool(muddy_pairs(fit(make_piece(line, pattern, rules=rules)))) == muddy


def test_nothing_is_said_of_a_second_bass_set_by_hand() -> None:
    """String 5 after the 6 of a G."""
    piece = make_piece("| G{320003} |", "4/4 x1: p i p m")
    mine = replace(piece, overrides=(ChordOverride("G", parse_shape("320003"), "p2", 5),))
    assert [event.string for event in fit(mine).bars[0].events if event.finger == "p"] == [6, 5]
    assert muddy_pairs(fit(mine)) == []


def test_the_list_of_the_piece_has_what_the_panel_says() -> None:
    """Muddy basses and a moving note that is never plucked are among the conflicts, as remarks."""
    piece = make_piece("| G{320003} | C{x32010} ~C{x32013} |", EIGHTHS)
    found = map_piece(replace(piece, rules=Rules(parse_thumb("up-and-back")))).conflicts
    said = {(each.problem.code, each.bar, str(each.at)): each.advice for each in found}
    assert said["muddy", 1, "0"] and said["voice-unheard", 2, "1/2"]


@pytest.mark.parametrize(
    ("line", "bar", "places"),
    [
        ("| G{320003} | C{x32010} |", 0, [(6, 3), (4, 0), (5, 0), (5, 2)]),
        ("| C{x32010} | Am{x02210} |", 0, [(5, 3), (4, 2), (5, 3), (5, 2)]),
        ("| Am{x02210} | G{320003} |", 0, [(5, 0), (4, 2), (5, 2), (5, 0)]),
        ("| G{320003} | % | C{x32010} |", 0, [(6, 3), (4, 0), (6, 3), (4, 0)]),
        ("| G{320003} C{x32010} |", 0, [(6, 3), (5, 2), (5, 3), (5, 0)]),
    ],
)
def test_the_thumb_walks_into_the_next_bass(line: str, bar: int, places: list[tuple[int, int]]) -> None:
    """G to C as the design says: string 5 open, fret 2, then fret 3; never the chord's first pluck."""
    piece = replace(make_piece(line, EIGHTHS), rules=Rules(parse_thumb("pair+walk")))
    thumb = [e for e in fit(piece).bars[bar].events if e.finger == "p"]
    assert [(e.string, e.fret) for e in thumb] == places
    plain = [e for e in fit(replace(piece, rules=Rules())).bars[bar].events if e.finger == "p"]
    changed = [e.kind == "walk" for e in thumb]
    assert not changed[0] and all(a == b or w for a, b, w in zip(thumb, plain, changed, strict=True))


def test_a_walk_sounds_its_own_pitches_and_counts_as_a_pluck() -> None:
    """With a capo the pitches go up with it; onsets stay where the thumb's were."""
    piece = replace(
        make_piece("| G{320003} | C{x32010} |", EIGHTHS, capo=2), rules=Rules(parse_thumb("pair+walk"))
    )
    walk = [e for e in fit(piece).bars[0].events if e.kind == "walk"]
    assert [str(e.pitch) for e in walk] == ["B2", "C#3"] and all(e.plucked for e in walk)
    assert [e.at for e in walk] == [Fraction(1, 2), Fraction(3, 4)]
    uke = replace(piece, instrument=CATALOGUE["ukulele"], capo=0)
    uke = replace(uke, sections=make_piece("| C | Am |", EIGHTHS).sections)
    assert all(e.fret is not None for bar in fit(uke).bars for e in bar.events)


def test_the_smallest_move_that_brings_a_missing_third_in() -> None:
    """C on 5 and 3 only has no third; the move is tried out and the third is then heard."""
    piece = make_piece("| C{x32010} |", "4/4 x1: p1 i p1 i")
    result = fit(piece)
    assert missing(result, 0) == ("3",)
    found = bring_in(result, 0, "3")
    assert found is not None and found.steps > 0
    moved = add_override(
        piece, ChordOverride("C", result.spans[0].assignment.shape, found.lane, found.string)
    )
    after = fit(moved)
    assert "3" not in missing(after, 0)
    full = fit(make_piece("| C{x32010} |", EIGHTHS))
    assert missing(full, 0) == () and bring_in(full, 0, "b7") is None


def test_slips_that_the_whole_chord_keeps_right() -> None:
    """F plucked on 6 4 3 2: string 5 let go would sound A, string 1 E: A is in the chord, E is not."""
    result = fit(make_piece("| F{133211} |", "4/4 x1: p1 m p2 i"))
    assert result.spans[0].strings == {6, 4, 3, 2}
    assert slips(result, 0) == (1,)
    assert slips(fit(make_piece("| Em{022000} |", "4/4 x1: p1 i m a")), 0) == (4, 5)


def test_a_moving_inner_note_must_be_plucked() -> None:
    """Under a running pattern: heard on string 2, not on string 1."""
    heard = fit(make_piece("| C{x32010} / ~C{x32030} / |", "4/4 x1: p i m i"))
    silent = fit(make_piece("| C{x32010} / ~C{x32013} / |", "4/4 x1: p i m i"))
    assert unheard_voice(heard, 1) is None and unheard_voice(heard, 0) is None
    assert dict(unheard_voice(silent, 1).values)["string"] == 1


def test_relations_worth_remembering() -> None:
    """One grip up the neck, one grip a string over, and a finger that never moves."""
    moved = fit(make_piece("| F{133211} | G{355433} | Am{x02210} | E{022100} |", EIGHTHS))
    assert relations(moved) == (Relation("frets", "F", "G", 2), Relation("strings", "Am", "E", -1))
    stays = fit(make_piece("| C{x32010} | Am{x02210} | Fmaj7{xx3210} |", EIGHTHS))
    assert (1, 2, 1) in staying_fingers(stays)
    assert staying_fingers(fit(make_piece("| C |", EIGHTHS))) == ()


def test_avoiding_mud_decides_free_choices_only() -> None:
    """With the partner silent the second bass is free: the clearer string is taken; a plan is never overruled."""
    piece = make_piece("| A5{5x7xxx} | G5{3x5xxx} |", "4/4 x1: p . p .")
    for muddy in ("warn", "avoid"):
        rules = Rules(parse_thumb("named:6,5"), muddy=muddy)
        assert [c.string for c in fit(replace(piece, rules=rules)).spans[0].assignment.basses] == [6, 5]
    held = make_piece("| C{332xxx} |", "4/4 x1: p . p .")
    free = replace(held, rules=Rules(parse_thumb("pair"), muddy="avoid", muddy_above=Fraction(1, 10)))
    assert [c.string for c in fit(free).spans[0].assignment.basses] == [5, 4]


@pytest.mark.parametrize(
    ("line", "index", "symbol", "shape", "lost", "added", "suits"),
    [
        ("| C | F{133211} | G | C |", 1, "Fmaj7", "xx3210", (), ("7",), True),
        ("| G | Bm7 | C | D9 |", 3, "D7", "xx0212", ("9",), (), True),
        ("| G | Bm{x24432} | C | D |", 1, "Bsus2", "x24422", ("b3",), ("2",), False),
    ],
)
def test_stand_ins_say_what_is_lost_and_whether_they_suit(
    line: str, index: int, symbol: str, shape: str, lost: tuple, added: tuple, suits: bool
) -> None:
    """Easier relatives that keep the function, with the thumb's new strings; the player decides."""
    result = fit(make_piece(line, EIGHTHS))
    found = {each.chord.text: each for each in substitutes(result, index)}
    each = found[symbol]
    assert (str(each.shape), each.lost, each.added, each.suits) == (shape, lost, added, suits)
    assert each.saved >= 0.5 and each.thumb and standin_text(each).count(";") == 1
    ranked = [(not s.suits, -s.saved) for s in substitutes(result, index)]
    assert ranked == sorted(ranked)
    changed = replace_chord(result.piece, 0, result.spans[index].span, symbol, each.shape)
    again = fit(changed).spans[index].assignment
    assert (again.chord.text, again.shape) == (symbol, each.shape)
    assert tuple(dict.fromkeys(c.string for c in again.basses)) == each.thumb


@pytest.mark.parametrize(
    ("line", "index", "after"),
    [
        ("| G / D / | C |", 1, "| G / Em / | C |"),
        ("| G | % | C |", 0, "| Em | % | C |"),
        ("(1/4 D) | G |", 0, "(1/4 Em) | G |"),
        ("| G D | % |", 2, "| G D | Em D |"),
    ],
)
def test_a_chord_is_replaced_where_it_enters(line: str, index: int, after: str) -> None:
    """Holds go on with it, a repeated bar is written out, a pick-up counts too."""
    piece = make_piece(line, "4/4 x1: p i m i")
    changed = replace_chord(piece, 0, fit(piece).spans[index].span, "Em", None)
    assert print_chord_line(changed.sections[0].chords) == after


def test_walks_belong_to_the_piece_a_section_or_one_chord() -> None:
    """On for the piece; off for a section with a thumb of its own; on for one chord only."""

    def walking(piece) -> list[str]:
        result = fit(piece)
        return [
            result.spans[bar.spans[0]].span.chord.text
            for bar in result.bars
            if any(e.kind == "walk" for e in bar.events)
        ]

    piece = make_piece("| G{320003} | C{x32010} | Am{x02210} |", EIGHTHS)

    def on(plan: ThumbPlan) -> ThumbPlan:
        return replace(plan, walk=True)

    assert walking(piece) == [] and walking(change_thumb(piece, 0, on)) == ["G", "C", "Am"]
    own = set_section_rules(change_thumb(piece, 0, on), 0, OwnRules(parse_thumb("pair")))
    assert walking(own) == [] and walking(change_thumb(own, 0, on)) == ["G", "C", "Am"]
    one = set_chord_rules(piece, "C", parse_shape("x32010"), OwnRules(parse_thumb("pair+walk")))
    assert walking(one) == ["C"]


def test_low_notes_of_two_chords_do_not_blur() -> None:
    """The thumb's 6 on Em and 5 on A lie on two chords of one bar: only what one chord rings with is a pair."""
    piece = make_piece("| Em{022000} Am{x02210} |", "4/4 x1: p i m i", rules=Rules(parse_thumb("root")))
    result = fit(piece)
    assert [event.string for event in result.bars[0].events if event.finger == "p"] == [6]
    two = fit(make_piece("| Em{022000} Am{x02210} |", "4/4 x1: p i p i", rules=Rules(parse_thumb("root"))))
    assert [event.string for event in two.bars[0].events if event.finger == "p"] == [6, 5]
    assert muddy_pairs(two) == [] and roughness(40, 45) > 1.25
