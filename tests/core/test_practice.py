"""The stage plan: what comes in which order, who is heard, what is looped, how fast."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gingham.app.sound.staging import line_of
from gingham.core.fitting.fit import fit
from gingham.core.judging.changes import changes, hardest
from gingham.core.judging.speed import full_limit
from gingham.core.patterns.library import builtin
from gingham.core.patterns.shorthand import print_pattern
from gingham.core.pieces.edits import add_section
from gingham.core.pieces.own_stages import parse_own_stage
from gingham.core.pieces.rules import Rules
from gingham.core.practice.loop import loop_of, planted, whole_section
from gingham.core.practice.orders import JOINS, ORDERS, Learning
from gingham.core.practice.plan import plan, plan_piece
from gingham.core.practice.stages import Stage, asked_of, length_of, strummed
from gingham.core.values import replace
from gingham.words.practice import JOIN_NAMES, ORDER_NAMES, landing_lines, plant_text, stage_name, stage_why
from tests.conftest import HEARTH, make_piece

CHORDS = "| G | Am7 | Dsus4 D | Em7{022030} |"


def whole_of(stages: tuple[Stage, ...]) -> Stage:
    """The stage of everything."""
    return next(stage for stage in stages if stage.reason.code == "stage-whole")


def codes(order: str, chords: str = CHORDS, pattern: str = HEARTH) -> list[str]:
    """The stages' codes in order."""
    return [
        stage.reason.code.removeprefix("stage-")
        for stage in plan(fit(make_piece(chords, pattern)), Learning(order))
    ]


def test_the_orders_of_learning() -> None:
    """Picking hand first, chords first, or both by turns; all the same stages but the thumb on all chords."""
    assert codes("picking") == [
        "free", "alone", "with", "with", "half", "half", "roots", "strum", "pair", "pair",
        "steps", "count", "change", "steps", "count", "change", "steps", "count", "change", "change", "change",
        "whole", "aloud",
    ]  # fmt: skip
    assert codes("chords")[:4] == ["strum", "pair", "pair", "steps"] and "thumb-all" in codes("chords")
    assert codes("mixed")[:5] == ["free", "steps", "alone", "count", "with"]
    assert codes("sections") == codes("picking"), "one section"
    for order in ("chords", "mixed"):
        assert sorted(c for c in codes(order) if c != "thumb-all") == sorted(codes("picking"))
    assert set(ORDER_NAMES) == set(ORDERS) and set(JOIN_NAMES) == set(JOINS)
    assert (
        plan(fit(make_piece("| N.C. |"))) == () and codes("picking", "| G |", "4/4 x1: p i m")[-2] == "whole"
    )


@pytest.mark.parametrize(
    ("joins", "heard"),
    [("pimac", ["p", "ip", "imp"]), ("imacp", ["i", "im", "imp"]), ("pamic", ["p", "mp", "imp"])],
)
def test_layers_grow_by_one_finger(joins: str, heard: list[str]) -> None:
    """In the order that the player has chosen; the fretting hand's own notes come with the last one."""
    stages = [
        s
        for s in plan(fit(make_piece(CHORDS)), Learning("picking", joins))
        if s.reason.code in ("stage-alone", "stage-with")
    ]
    assert ["".join(sorted({"p", "i", "m", "a", "c", ""} - stage.muted)) for stage in stages] == heard
    assert "" not in stages[2].muted and "" in stages[1].muted
    if joins == "pimac":
        assert [(stage_name(s), s.tempo) for s in stages[:2]] == [
            ("Thumb alone on G", 80),
            ("With the index on G", 80),
        ]


def test_strokes_join_after_the_fingers() -> None:
    """Thumb, then the plucks, the chuck, the down-stroke, the up-stroke last: one more each time."""
    result = fit(make_piece("| G | C |", "4/4 x2: p i k . p . d u"))
    stages = [s for s in plan(result) if s.reason.code in ("stage-alone", "stage-with", "stage-stroke")]
    kinds = [{e.kind for e in asked_of(result, stage.muted).bars[0].events} for stage in stages]
    assert kinds == [
        {"pluck"}, {"pluck"}, {"pluck", "chuck"}, {"pluck", "chuck", "brush-down"},
        {"pluck", "chuck", "brush-down", "brush-up"},
    ]  # fmt: skip
    assert [stage_name(s).split(" on")[0] for s in stages[2:]] == [
        "With the chuck", "With the down-stroke", "With the up-stroke",
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("pattern", "layers"),
    [
        ("4/4 x2: d . d u . u d u", ["Down-stroke alone on G", "With the up-stroke on G"]),
        ("4/4 x1: k . k .", ["Chuck alone on G"]),
        ("4/4 x2: p . k u", ["Thumb alone on G", "With the chuck on G", "With the up-stroke on G"]),
    ],
)
def test_strokes_that_no_finger_comes_before_are_learnt_alone(pattern: str, layers: list[str]) -> None:
    """Every stage has words for what it asks, and the first stroke of all is not said to join anything."""
    stages = plan(fit(make_piece("| G{320003} | C |", pattern)))
    names = [stage_name(stage) for stage in stages]
    assert all(all(stage_why(stage)) for stage in stages)
    assert [name for name in names if name in layers] == layers
    assert sum("alone" in name and "shapes" not in name for name in names) == 1


def test_shapes_alone_are_strummed_once_where_each_comes() -> None:
    """The fretting hand by itself: every string of the shape, highest number first, nothing else."""
    result = fit(make_piece("| G{320003} | C{x32010} |"))
    bars = strummed(result).bars
    assert [[(e.string, e.fret) for e in bar.events] for bar in bars] == [
        [(6, 3), (5, 2), (4, 0), (3, 0), (2, 0), (1, 3)], [(5, 3), (4, 2), (3, 0), (2, 1), (1, 0)],
    ]  # fmt: skip
    assert {e.kind for bar in bars for e in bar.events} == {"brush-down"} and {
        e.at for e in bars[0].events
    } == {0}


def test_the_thumb_goes_over_roots_on_every_string() -> None:
    """G on 6, C on 5, D on 4: one pattern of each, from the highest string number down, the thumb alone."""
    result = fit(make_piece("| D{xx0232} | G{320003} | C{x32010} | G{320003} |"))
    stage = next(s for s in plan(result) if s.reason.code == "stage-roots")
    assert stage_name(stage).startswith("Thumb over roots on strings 6 5 4")
    assert [p.begin for p in stage.passages] == [1, 2, 0] and length_of(stage) == 3
    strings = [event.string for _, event in loop_of(stage, {0: asked_of(result, stage.muted)}).plucks]
    assert strings == [6, 4, 6, 4, 5, 4, 5, 4, 4, 3, 4, 3]


def test_over_all_sections_with_their_seams_and_a_teachers_stage_first() -> None:
    """The refrain plays the same pattern: its hand is not learned twice; what stands in the piece leads."""
    verse = make_piece("| G | C |", tempo=72)
    two = add_section(verse, 0)
    own = parse_own_stage("Verse 2 pi @60: the thumb leads", ("Verse", "Verse 2"))
    planned = plan_piece(
        replace(two, stages=(parse_own_stage("Verse 1-2 p @60: lead with it", ("Verse",)), own))
    )
    names = [(stage_name(stage), stage.tempo) for stage in planned.stages]
    assert names[:2] == [("Lead with it", 60), ("The thumb leads", 60)]
    assert [stage.section for stage in planned.stages[:2]] == [0, 1] and planned.stages[1].muted >= {
        "m",
        "a",
        "c",
    }
    assert sum(stage.reason.code == "stage-alone" for stage in planned.stages) == 1
    assert any(stage.reason.code == "stage-seam" for stage in planned.stages)
    assert {stage.id for stage in planned.stages if stage.reason.code == "stage-whole"} == {
        "Verse · whole", "Verse 2 · whole",
    }  # fmt: skip


def test_drills_are_the_hardest_changes_with_half_a_pattern_on_each_side() -> None:
    """The seam too, where the end of the section comes before its start."""
    result = fit(make_piece(CHORDS))
    drills = [stage for stage in plan(result) if stage.reason.code == "stage-change"]
    names = [(stage.reason.value("one"), stage.reason.value("other")) for stage in drills]
    assert names == [(c.before, c.after) for c in hardest(changes(result))]
    for stage in drills:
        line = line_of(stage, {0: result})
        assert line.length == 1.0 and len(line.places) == (
            1 if len(stage.passages) == 1 and stage.passages[0].begin % 1 == 0 else 2
        )
        entry = next(entry for entry in line.changes if entry[0] == 0.5)
        assert entry[1] == 0.0, "called when the round begins"
        assert result.spans[entry[3]].assignment.chord.text == stage.reason.value("other")


@pytest.mark.parametrize("level", ["starting", "growing", "fluent"])
def test_a_stage_that_doubles_the_strokes_is_slower(level: str) -> None:
    """Strokes a second stay bearable; a better hand goes faster; never above the piece's tempo or below 40."""
    rules = Rules(level=level)
    slow, fast = (
        whole_of(plan(fit(make_piece("| G | C |", pattern, tempo=160, rules=rules)))).tempo
        for pattern in ("4/4 x4: p i m i p i m i p i m i p i m i", "4/4 x2: p i m i p i m i")
    )
    assert 40 <= slow <= fast <= 160
    assert fast > slow or slow == 40
    stages = plan(fit(make_piece("| G | C |", tempo=160, rules=rules)))
    assert stages[1].reason.code == "stage-alone" and stages[1].tempo >= whole_of(stages).tempo


@given(st.sampled_from([pattern for _, pattern in builtin()]), st.sampled_from(ORDERS))
def test_every_stage_of_every_pattern_can_be_played(pattern, order: str) -> None:
    """Each loops something of the section, has words and an id of its own, and never creeps."""
    result = fit(make_piece("| G | C | D | Em |", print_pattern(pattern)))
    stages = plan(result, Learning(order))
    assert len({stage.id for stage in stages}) == len(stages) > 2
    for stage in stages:
        part = line_of(stage, {0: result})
        assert part.length == float(length_of(stage)) > 0 and part.places and stage_name(stage)
        assert all(stage_why(stage)) and stage.floor <= stage.tempo <= stage.goal
        if stage.kind == "loop":
            assert any(note.gain for note in part.notes)


@pytest.mark.parametrize(
    ("time", "now", "after", "wait", "thumb"),
    [
        (0.0, "G", "C", "1", (6, 4)),
        (0.9, "G", "C", "1/10", (4, 5)),
        (1.25, "C", "G", "3/4", (4, 5)),
        (1.8, "C", "G", "1/5", (4, 6)),
    ],
)
def test_what_comes_in_a_loop(time: float, now: str, after: str, wait: str, thumb: tuple[int, int]) -> None:
    """G 6 4 6 4, C 5 4 5 4, round and round: the chord that comes, how long until then, the thumb's way."""
    result = fit(make_piece("| G{320003} | C{x32010} |"))
    loop = whole_section(result)
    coming = loop.coming(time)
    names = [result.spans[each.span].assignment.chord.text for each in (coming.now, coming.after)]
    assert (names, coming.wait) == ([now, after], Fraction(wait))
    assert (coming.change.before, coming.change.after) == (now, after)
    assert tuple(event.string for event in loop.thumb(time, frozenset())) == thumb
    assert loop.thumb(time, frozenset({"p"})) == (None, None)


def test_a_drill_round_the_corner_loops_the_end_and_the_beginning() -> None:
    """C to G across the seam: the second half of bar 2, then the first half of bar 1."""
    result = fit(make_piece("| G{320003} | C{x32010} |"))
    stage = next(s for s in plan(result) if s.reason.code == "stage-change" and len(s.passages) == 2)
    loop = loop_of(stage, {0: result})
    half = Fraction(1, 2)
    assert [(b.bar, b.begin, b.end, b.at) for b in loop.bars] == [(2, half, 1, 0), (1, 0, half, half)]
    assert loop.length == 1 and loop.time_of(0, 1, 0.25) == 0.75 and loop.time_of(0, 1, 0.75) is None
    assert loop.coming(0.0).change.after == "G" and loop.coming(0.6).change.before == "G"


def test_a_stage_never_announces_what_is_outside_its_loop() -> None:
    """Thumb alone on G: one chord, and its own thumb strings only."""
    result = fit(make_piece(CHORDS))
    stage = plan(result)[1]
    loop = loop_of(stage, {0: result})
    assert loop.length == 1 and loop.coming(0.9).after is None
    assert [event.string for event in loop.thumb(0.9, stage.muted)] == [4, 6]


def test_no_stage_is_faster_than_the_comfortable_top_speed() -> None:
    """A change with little time: every stage stays below it, and below the piece's tempo."""
    for chords, tempo in (("| F{133211} | Bm{x24432} |", 300), (CHORDS, 240)):
        result = fit(make_piece(chords, "4/4 x4: p i m i p i m i p i m i p i m i", tempo=tempo))
        most = full_limit(result, result.piece.rules.level).tempo
        assert all(stage.tempo <= min(most, tempo) for stage in plan(result)) and most < tempo


def test_a_pick_up_is_not_what_the_hand_is_learnt_on() -> None:
    """One beat of G before the first bar: the stages stand on the first whole bar."""
    assert plan(fit(make_piece("| G | C | D |")))[0].passages[0].begin == 0
    upbeat = fit(make_piece("(1/4 G) | C | G | D |"))
    begins = {
        stage.passages[0].begin
        for stage in plan(upbeat)
        if stage.reason.code in ("stage-alone", "stage-with")
    }
    assert upbeat.bars[0].number == 0 and begins == {Fraction(1, 4)}


def test_landing_in_large_words() -> None:
    """Which finger, where, by when."""
    change = changes(fit(make_piece("| G{320003} | Am7{x02010} |")))[0]
    piece = make_piece("| G |")
    lines = landing_lines(change, piece.meter)
    assert lines[0] == "finger 1 to string 2 fret 1 by 1" and any("string 4 fret 2" in line for line in lines)


@pytest.mark.parametrize(
    ("code", "where"),
    [("free", "p6 i3 m2"), ("alone", "p6"), ("with", "p6 i3"), ("roots", "p6"), ("strum", "")],
)
def test_where_the_fingers_stand_before_the_first_pluck(code: str, where: str) -> None:
    """G 320003 under `p+m . p i`: each finger asked for on the string of its own first pluck."""
    result = fit(make_piece("| G{320003} | C{x32010} |"))
    stage = next(s for s in plan(result) if s.reason.code == f"stage-{code}")
    found = planted(stage, {0: result})
    assert " ".join(f"{finger}{string}" for finger, string in found) == where
    assert plant_text(found).startswith("Plant thumb on 6") == bool(where)


@pytest.mark.parametrize(
    ("chords", "time", "ahead"),
    [
        ("| G{320003} | Am{x02210} |", 0.75, (4, 5)),
        ("| G{320003} | Am{x02210} |", 1.75, (4, 6)),
        ("| Am{x02210} | C{x32010} |", 0.75, (4, 5)),
        ("| G{320003} | G{320003} |", 0.75, None),
    ],
)
def test_where_the_thumb_must_go_before_the_change(
    chords: str, time: float, ahead: tuple[int, int] | None
) -> None:
    """From the second bass to the first of the chord that comes, over the seam too."""
    result = fit(make_piece(chords, "4/4 x1: p1 p2 p1 p2"))
    loop = loop_of(whole_of(plan(result)), {0: result})
    coming = loop.coming(time)
    assert coming is not None
    assert loop.thumb_ahead(time, coming, frozenset()) == ahead
    assert loop.thumb_ahead(time, coming, frozenset("p")) is None
