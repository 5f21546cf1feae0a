"""Edits of the grid, comparison, conversion, mixing: what always holds, and the cases that players meet."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from gingham.core.errors import EditError, MeterError
from gingham.core.music.meter import SLOT_COUNTS, meter
from gingham.core.patterns import grid
from gingham.core.patterns.compare import compare, difference, rotation_of
from gingham.core.patterns.convert import convert
from gingham.core.patterns.grid import MOST_SLOTS
from gingham.core.patterns.library import builtin
from gingham.core.patterns.mixing import by_turns, drawn_places, drawn_strings, in_order, shuffled
from gingham.core.patterns.pattern import Pattern, Pluck
from gingham.core.patterns.shorthand import parse_pattern, print_pattern, print_slot
from gingham.core.patterns.variations import neighbours
from gingham.core.values import replace
from gingham.words.bench import bench_text, comparison_text, mix_text
from tests.conftest import HEARTH
from tests.core.test_lines import patterns

LIBRARY = dict(builtin())


def strokes(pattern: Pattern) -> list[object]:
    """All strokes in order."""
    return [stroke for _, stroke in pattern.strokes()]


@given(patterns(), st.integers(-40, 40))
def test_rotating_by_its_length_is_identity(pattern: Pattern, by: int) -> None:
    """And rotating forth and back; nothing is lost on the way."""
    assert grid.rotated(pattern, len(pattern.slots)) == pattern
    there = grid.rotated(pattern, by)
    assert grid.rotated(there, -by) == pattern
    assert sorted(map(repr, strokes(there))) == sorted(map(repr, strokes(pattern)))


@given(patterns(), st.data())
def test_edits_of_places_undo_each_other(pattern: Pattern, data) -> None:
    """Insert then delete, turn round twice, copy then paste: the pattern again. Variants keep its length."""
    start = data.draw(st.integers(0, len(pattern.slots) - 1))
    end = data.draw(st.integers(start + 1, len(pattern.slots)))
    longer = grid.with_inserted(pattern, start, end - start)
    assert {len(v.slots) for v in longer.variants} <= {len(longer.slots)}
    assert grid.with_deleted(longer, start, end) == pattern
    assert grid.turned_round(grid.turned_round(pattern, start, end), start, end) == pattern
    assert grid.pasted(pattern, start, pattern.slots[start:end]) == pattern
    empty = grid.cleared(pattern, start, end)
    assert not any(empty.slots[start:end]) and len(empty.slots) == len(pattern.slots)
    for changed in (longer, empty, grid.twice(pattern)):
        assert parse_pattern(print_pattern(changed)) == changed


@given(patterns(), st.sampled_from(SLOT_COUNTS))
def test_another_grid_keeps_what_has_a_place_on_it(pattern: Pattern, count: int) -> None:
    """A stroke is moved only if its moment is none of the new grid's; on a finer grid none is."""
    assume(len(set(pattern.meter.groups)) == 1 or len(pattern.per_beat) == 1)
    found = grid.regridded(replace(pattern, variants=()), (count,))
    moments = set(found.pattern.starts)
    played = [i for i, slot in enumerate(pattern.slots) if slot]
    assert found.moved == tuple(i for i in played if pattern.starts[i] not in moments)
    if not found.moved:
        kept = {found.pattern.starts[i] for i, slot in enumerate(found.pattern.slots) if slot}
        assert kept == {pattern.starts[i] for i in played}
    assert found.pattern.length >= pattern.length


def edited(pattern: str, change) -> str:
    """An edit as shorthand."""
    return print_pattern(change(parse_pattern(pattern)))


def test_the_edits_that_a_player_names() -> None:
    """Halves, breaks, sweeps, ornaments, accents, strings over."""
    assert edited(HEARTH, grid.first_half_again) == "4/4 x2: p+m . p i ; p+m . p i"
    assert edited(HEARTH, grid.halves_swapped) == "4/4 x2: p m p i ; p+m . p i"
    assert edited(HEARTH, lambda p: grid.with_break(p, 2)) == "4/4 x2: p+m . ; p i ; p m p i"
    assert edited(HEARTH, lambda p: grid.with_break(p, 4)) == "4/4 x2: p+m . p i p m p i"
    assert edited(HEARTH, lambda p: grid.swept(p, 0, "brush-down")) == "4/4 x2: p+d . p i ; p m p i"
    assert edited(HEARTH, lambda p: grid.swept(p, 0, "chuck")) == "4/4 x2: k . p i ; p m p i"
    chucked = "4/4 x2: p i k ."
    assert edited(chucked, lambda p: grid.sweep_over(p, 2, 0, -2, 6)) == "4/4 x2: p i k6-1 ."
    assert edited("4/4 x2: p i k4-2 .", lambda p: grid.sweep_over(p, 2, 1, -1, 6)) == "4/4 x2: p i k5-1 ."
    assert edited(chucked, lambda p: grid.swept(p, 2, "chuck")) == "4/4 x2: p i . ."
    hammered = edited(HEARTH, lambda p: grid.ornamented(p, 3, "i", "hammer"))
    assert hammered == "4/4 x2: p+m . p i^ ; p m p i"
    assert edited(hammered, lambda p: grid.ornamented(p, 3, "i", "hammer")) == HEARTH
    assert edited(HEARTH, lambda p: grid.ornamented(p, 3, "i", "slide", 4)) == "4/4 x2: p+m . p i>4 ; p m p i"
    assert edited(HEARTH, lambda p: grid.accented_in(p, 0, 3)) == "4/4 x2: p!+m! . p! i ; p m p i"
    assert edited(HEARTH, lambda p: grid.shifted_by(p, 5, "m", -1)) == "4/4 x2: p+m . p i ; p m' p i"
    assert grid.fingers_in(parse_pattern(HEARTH)) == ("p", "i", "m")


@pytest.mark.parametrize(
    ("code", "change"),
    [
        ("no-half", lambda p: grid.halves_swapped(grid.with_deleted(p, 0, 1))),
        ("pattern-bare", lambda p: grid.with_deleted(p, 0, 8)),
        ("pattern-full", lambda p: grid.with_inserted(p, 0, 600)),
        ("no-break", lambda p: grid.with_break(p, 0)),
        ("no-sweep", lambda p: grid.sweep_over(p, 0, 1, 0, 6)),
        ("no-stroke", lambda p: grid.ornamented(p, 1, "i", "pull")),
        ("no-stroke", lambda p: grid.shifted_by(p, 1, "i", 1)),
    ],
)
def test_what_cannot_be_edited_says_so(code: str, change) -> None:
    """A typed error, and the pattern stays."""
    with pytest.raises(EditError, match=code):
        change(parse_pattern(HEARTH))


def test_a_beat_that_cannot_be_counted_is_refused() -> None:
    """Five places in a beat have no count."""
    with pytest.raises(MeterError, match="slot-count"):
        grid.regridded(parse_pattern(HEARTH), (5,))


def test_four_to_six_and_back_keeps_the_thumb_on_the_beats() -> None:
    """The one stroke too many that goes is a thumb stroke between the new beats; back again there is room."""
    there = convert(parse_pattern(HEARTH), meter(6, 8))
    assert print_pattern(there.pattern) == "6/8 x3: p+m p i p m i" and len(there.left_out) == 1
    back = convert(there.pattern, meter(4, 4))
    assert back.left_out == () and strokes(back.pattern) == strokes(there.pattern)
    half = convert(parse_pattern("4/4 x2: p i m i"), meter(3, 4))
    assert len(half.source.slots) == 8, "a half pattern is repeated to a bar first"


@given(patterns(), st.sampled_from([meter(3, 4), meter(4, 4), meter(6, 8), meter(7, 8)]))
def test_converting_keeps_the_order(pattern: Pattern, of) -> None:
    """What is not left out comes in the old order, in whole bars of the new meter."""
    found = convert(pattern, of)
    kept = [slot for i, slot in enumerate(found.source.slots) if slot and i not in found.left_out]
    assert [slot for slot in found.pattern.slots if slot] == kept
    assert (found.pattern.length / of.bar).denominator == 1 and found.pattern.meter == of


@given(patterns(), patterns())
def test_a_difference_is_a_distance(one: Pattern, other: Pattern) -> None:
    """Nothing differs from itself; both ways the same places differ."""
    assert difference(one, one) == 0
    places = compare(one, other)
    assert {p.at for p in places if p.kind != "same"} == {
        p.at for p in compare(other, one) if p.kind != "same"
    }
    swapped = {"added": "left-out", "left-out": "added"}
    assert [swapped.get(p.kind, p.kind) for p in compare(other, one)] == [p.kind for p in places]


def test_differences_in_words() -> None:
    """Slot by slot, or as one sentence where one is the other begun later."""
    hearth, rope = LIBRARY["Hearth"], LIBRARY["Rope walk"]
    text = comparison_text(compare(hearth, rope), rotation_of(hearth, rope))
    assert text.startswith("1: p+m becomes p; 1&: i added; 2: p becomes m")
    later = grid.rotated(hearth, 2)
    assert rotation_of(hearth, later) == 2 and rotation_of(hearth, rope) is None
    assert comparison_text(compare(hearth, later), 2) == "The same plucks, begun 2 places later."
    assert comparison_text(compare(hearth, hearth), None) == "The same plucks at the same places."


def test_bars_in_order_and_drawn() -> None:
    """Bar 1 A, bar 2 B on a grid that holds both; a seed draws the same mix again and is told."""
    named = {"A": LIBRARY["Hearth"], "B": parse_pattern("4/4 x4: p . i . p . m . p . i . p . m i")}
    mixed = in_order(named, ("A", "B"))
    assert mixed.pattern.per_beat == (4,) and mixed.pattern.length == 2
    assert difference(replace(mixed.pattern, slots=mixed.pattern.slots[:16]), named["A"]) == 0
    one, two = shuffled(named, 8, 7), shuffled(named, 8, 7)
    assert one == two and set(one.used) == {"A", "B"} and "seed 7" in mix_text(one)
    assert len({shuffled(named, 8, seed).used for seed in range(12)}) > 6
    for bad, code in (((), "mix-bars"), (("C",), "no-pattern")):
        with pytest.raises(EditError, match=code):
            in_order(named, bad)
    triplets = {"A": LIBRARY["Triple hitch"], "B": named["B"]}
    with pytest.raises(EditError, match="mix-grid"):
        in_order(triplets, ("A", "B"))
    with pytest.raises(EditError, match="mix-meters"):
        in_order({"A": LIBRARY["Hearth"], "B": LIBRARY["Ferry"]}, ("A", "B"))


_ALIKE = "4/4 x2: p i m i p i m i"


@pytest.mark.parametrize(
    ("patterns", "allowed", "used"),
    [
        ((_ALIKE, "4/4 x2: p i a i p i a i"), [{"p"}, {"i"}, {"m", "a"}, {"i"}] * 2, {"A", "B"}),
        ((_ALIKE, "4/4 x2: p m i m p m i m"), [{"p"}, {"i", "m"}, {"m", "i"}, {"i", "m"}] * 2, {"A", "B"}),
        ((_ALIKE, "4/4 x2: p . m . p . m ."), [{"p"}, {"i", "."}, {"m"}, {"i", "."}] * 2, {"A", "B"}),
        ((_ALIKE, _ALIKE), [{"p"}, {"i"}, {"m"}, {"i"}] * 2, set()),
    ],
)
def test_places_are_drawn_from_what_is_allowed_there(
    patterns: tuple[str, str], allowed: list[set[str]], used: set[str]
) -> None:
    """Only what a pattern has at that place; no finger twice running where that can be; what was used is said."""
    named = {name: parse_pattern(text) for name, text in zip("AB", patterns, strict=True)}
    mix = drawn_places(named, 4, 7)
    assert mix == drawn_places(named, 4, 7) and mix.seed == 7 and set(mix.used) == used
    slots = [print_slot(slot) for slot in mix.pattern.slots]
    seen = [{slots[place + 8 * bar] for bar in range(4)} for place in range(8)]
    assert len(slots) == 32 and all(here <= able for here, able in zip(seen, allowed, strict=True))
    assert all(one == "." or one != other for one, other in pairwise(slots))
    free = sum(len(able) > 1 for able in allowed)
    assert len(mix.used) == 4 * free and ("places" in mix_text(mix) if used else "alike" in mix_text(mix))


def test_more_places_than_a_pattern_holds_are_refused() -> None:
    """A bar too many says so."""
    named = {"A": parse_pattern("4/4 x4: " + "p i m i " * 4), "B": parse_pattern("4/4 x4: " + "p m i m " * 4)}
    assert len(drawn_places(named, MOST_SLOTS // 16, 1).pattern.slots) == MOST_SLOTS
    with pytest.raises(EditError, match="pattern-full"):
        drawn_places(named, MOST_SLOTS // 16 + 1, 1)


def test_a_finger_with_two_strings() -> None:
    """Always the first, by turns, or drawn: only that finger changes."""
    pattern = LIBRARY["Rope walk"]
    assert print_pattern(by_turns(pattern, "m", (2, 1))) == "4/4 x2: p i m/2/1 i ; p i m/2/1 i"
    assert by_turns(by_turns(pattern, "m", (1,)), "m", ()) == pattern
    drawn = drawn_strings(pattern, "m", (2, 1), 4, 3)
    own = [s for _, s in drawn.pattern.strokes() if isinstance(s, Pluck)]
    assert {s.strings for s in own if s.finger == "m"} == {(1,), (2,)}
    assert all(s.strings == () for s in own if s.finger != "m")
    assert drawn == drawn_strings(pattern, "m", (2, 1), 4, 3) and len(drawn.used) == 8


@given(patterns())
def test_random_neighbours_are_patterns_of_their_own(pattern: Pattern) -> None:
    """Each is different, can be written, and has words; none needs a finger that the hand does not have."""
    plain = replace(pattern, variants=())
    for variation in neighbours(plain, "pi"):
        assert variation.pattern != plain and bench_text(variation.reason)
        assert parse_pattern(print_pattern(variation.pattern)) == variation.pattern
        assert set(grid.fingers_in(variation.pattern)) <= {*grid.fingers_in(plain), "p", "i", "m"}


def test_the_neighbours_that_players_ask_for() -> None:
    """Outer string, a pinch, one less, rests filled, halves, denser, sparser."""
    found = {
        variation.reason.code: print_pattern(variation.pattern) for variation in neighbours(LIBRARY["Hearth"])
    }
    assert found["var-outer"] == "4/4 x2: p+m' . p i ; p m' p i"
    assert found["var-outer-turns"] == "4/4 x2: p+m . p i ; p m' p i"
    assert found["var-pinch-every"] == "4/4 x2: p+m . p+m i ; p+m m p+m i"
    assert found["var-halves"] == "4/4 x2: p m p i ; p+m . p i"
    assert found["var-beats-only"] == "4/4 x2: p+m . p . ; p . p ."
    assert found["var-thumb-once"] == "4/4 x2: p+m . . i ; . m . i"
    assert found["var-denser"].startswith("4/4 x4:")


@pytest.mark.parametrize(("text", "finest"), [("4/4 x2: p i m i p i m i", "1/8"), ("4/4 x2,4,1,3: p . i m i m p p i m", "1/16"), ("6/8 x3: p i m a m i", "1/8"), ("3/4 x1: p i i", "1/4")])  # fmt: skip
def test_the_shortest_place_of_a_grid(text: str, finest: str) -> None:
    """Of beats that are divided differently the shortest counts: a half of a quarter, a quarter, a third."""
    assert str(parse_pattern(text).finest) == finest
