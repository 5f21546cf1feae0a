"""The ladder, what is due, the plan of a session and how it is led: by hand first, then as rows."""

from __future__ import annotations

from datetime import date, timedelta
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gingham.core.judging.changes import different_changes, hardest
from gingham.core.music.meter import meter
from gingham.core.practice.attempt import Attempt, Figures, Spot
from gingham.core.practice.entries import Note, resting
from gingham.core.practice.ladder import (
    ROUND_S,
    after_test,
    ladder,
    rest_beats,
    rungs,
    start_tempo,
    step_down,
    step_of,
    step_up,
)
from gingham.core.practice.leading import (
    Led,
    after_attempt,
    extended,
    isolating,
    onward,
    passed,
    refused,
    swapped,
)
from gingham.core.practice.plan import plan_piece
from gingham.core.practice.review import (
    DayTempo,
    clean_changes,
    due,
    forecast,
    streak,
    tempi,
    weakness,
    where_wrong,
)
from gingham.core.practice.session import Hand, barre_share, ladders, plan_session, weakest
from gingham.core.practice.stages import Stage
from gingham.core.practice.summary import places_wrong
from gingham.core.practice.tense import tense_today
from gingham.core.values import replace
from gingham.words.log import places_words
from gingham.words.practice import item_text, ladder_text, plan_text
from gingham.words.progress import due_text, next_step, sources_text, where_it_stands
from tests.conftest import make_piece

MONDAY = date(2026, 11, 30)
CHORDS = "| G{320003} | C{x32010} | D{xx0232} | F{133211} |"


def planned(chords: str = CHORDS, **changes):
    """The stages of one section."""
    return plan_piece(make_piece(chords, **{"tempo": 80, **changes}))


def stage_of(code: str, **changes) -> Stage:
    """The first stage of a kind."""
    return next(s for s in planned(**changes).stages if s.reason.code == f"stage-{code}")


WHOLE = replace(stage_of("whole"), tempo=56, floor=40, goal=80)


def tries(text: str, tempo: int = 0, day: date = MONDAY, stage: Stage = WHOLE, **more) -> list[Attempt]:
    """Attempts in a word: c clean, n not, s too short; each at the ladder's own tempo unless it is given."""
    out: list[Attempt] = []
    for letter in text:
        at = tempo or ladder(stage, out, day).tempo
        seconds = 8.0 if letter == "s" else 24.0
        made = f"{day.isoformat()}T18:{len(out):02}:00+01:00"
        out.append(Attempt(made, "x", stage.id, stage.mark, at, letter != "n", seconds=seconds, **more))
    return out


@pytest.mark.parametrize(
    ("tempo", "up", "down"),
    [(56, 58, 54), (68, 71, 65), (72, 75, 69), (80, 80, 77), (40, 42, 40), (41, 43, 40), (78, 80, 75)],
)
def test_steps_are_four_in_a_hundred_and_at_least_two(tempo: int, up: int, down: int) -> None:
    """0.04 · 68 is 2.7: three up; the way down is the way up; never past the goal 80 or the floor 40."""
    assert (step_up(tempo, 80), step_down(tempo, 40)) == (up, down)


@given(st.integers(20, 300))
def test_a_step_back_is_no_further_than_a_step_up(tempo: int) -> None:
    """From the rung below one step leads here, or as near as whole beats come."""
    below = step_down(tempo, 20)
    assert below == 20 or (0 < tempo - below <= step_of(tempo) + 1 and step_up(below, 999) >= tempo - 1)
    assert rungs(tempo, tempo + 40)[-1] == tempo + 40


@pytest.mark.parametrize(
    ("played", "tempo", "clean", "why"),
    [
        ("", 56, 0, "start"),
        ("cc", 56, 2, "start"),
        ("ccc", 58, 0, "up"),  # three clean of three
        ("ncc", 56, 2, "start"),  # two of three
        ("nccc", 58, 0, "up"),  # three of the last four
        ("cncnc", 56, 2, "start"),  # three of five, two of the last four
        ("cnccc", 58, 1, "up"),  # up at the fourth
        ("ncncc", 58, 0, "up"),
        ("nn", 54, 0, "back"),  # two failures in a row
        ("cnn", 54, 0, "back"),
        ("ncn", 56, 1, "start"),  # two failures, not in a row
        ("cccnn", 56, 0, "back"),  # one up, one back
        ("sss", 56, 0, "start"),  # eight seconds are no round
        ("cccccc", 60, 0, "up"),
    ],
)
def test_the_ladder_climbs_and_steps_back(played: str, tempo: int, clean: int, why: str) -> None:
    """Steps of 2 at 56 and 58; three clean rounds of the last four; two failures go one back."""
    found = ladder(WHOLE, tries(played), MONDAY)
    assert (found.tempo, found.clean, found.why.code) == (tempo, clean, f"ladder-{why}")
    assert ladder_text(found.why) and next_step(WHOLE, found, found.tempo)


def test_the_next_day_begins_two_steps_below() -> None:
    """From 60 to 58 to 56; never below the floor; a clock that is set back changes nothing."""
    monday = tries("cccccc")
    assert ladder(WHOLE, monday, MONDAY).tempo == 60
    assert ladder(WHOLE, monday, MONDAY + timedelta(1)).tempo == 56
    assert ladder(replace(WHOLE, floor=58), monday, MONDAY + timedelta(1)).tempo == 58
    assert ladder(WHOLE, monday, MONDAY - timedelta(3)).tempo == 60
    tuesday = tries("ccc", 56, MONDAY + timedelta(1))
    assert ladder(WHOLE, [*monday, *tuesday], MONDAY + timedelta(1)).tempo == 58


@pytest.mark.parametrize(
    ("tuesday", "wednesday"),
    [("c", 56), ("ccc", 56), ("ccccccccc", 58), ("nn", 54), ("nnnn", 52), ("nncccccc", 54)],
)
def test_a_day_with_few_rounds_takes_nothing_off(tuesday: str, wednesday: int) -> None:
    """Monday reached 60, Tuesday begins at 56: only what failed below that lowers the next beginning."""
    one = MONDAY + timedelta(1)
    attempts = tries("cccccc")
    for letter in tuesday:
        attempts += tries(letter, ladder(WHOLE, attempts, one).tempo, one)
    assert ladder(WHOLE, attempts, MONDAY + timedelta(2)).tempo == wednesday


def test_only_what_is_still_asked_counts() -> None:
    """After an edit the stage has another mark: the rungs of the old one are not its own."""
    old = tries("cccccc")
    found = ladder(replace(WHOLE, mark="another"), old, MONDAY)
    assert (found.tempo, found.best, found.reached) == (56, 0, False)


def test_the_goal_is_reached_and_a_faster_goal_is_not() -> None:
    """Three clean at 80; with the goal at 90 the ladder goes on from there."""
    there = tries("ccc", 80)
    assert ladder(WHOLE, there, MONDAY).reached and ladder(WHOLE, there, MONDAY).why.code == "ladder-goal"
    faster = ladder(replace(WHOLE, goal=90), there, MONDAY)
    assert not faster.reached and faster.tempo == 83


def test_the_players_own_tempo_goes_before_the_rule() -> None:
    """A round at 70 makes 70 the rung."""
    found = ladder(WHOLE, tries("c", 70), MONDAY)
    assert (found.tempo, found.clean) == (70, 1)


def test_a_start_test_begins_a_tenth_below_what_was_even() -> None:
    """Even up to 70: 63; never below the floor."""
    test = replace(tries("c", 70)[0], kind="test")
    assert ladder(WHOLE, [test], MONDAY).tempo == 63 and after_test(WHOLE, 41) == 40


def test_a_tense_hand_goes_no_step_up() -> None:
    """Heard rounds whose spread grows from 8 to 14 ms, or from 1 to 3 dB; more than chance; today only."""

    def heard(spreads: list[float], loud: list[float]) -> list[Attempt]:
        return [
            replace(a, source="heard", figures=Figures(spread_ms=ms, spread_db=db))
            for a, ms, db in zip(tries("cccc"), spreads, loud, strict=True)
        ]

    assert tense_today(heard([8, 8, 14, 14], [1, 1, 1, 1]), MONDAY)
    assert tense_today(heard([8, 8, 8, 8], [1, 1, 3, 3]), MONDAY)
    assert not tense_today(heard([8, 9, 8, 9], [1, 1.5, 1, 1.5]), MONDAY)
    assert not tense_today(heard([8, 8, 14, 14], [1, 1, 1, 1]), MONDAY + timedelta(1))
    found = ladder(WHOLE, tries("ccc"), MONDAY, tense=True)
    assert (found.tempo, found.why.code) == (56, "ladder-tense")


def test_a_stage_that_adds_strokes_begins_slower() -> None:
    """72 with two strokes a beat is 36 with four: its floor of 40 holds; the same strokes change nothing."""
    before = replace(ladder(WHOLE, (), MONDAY), best=72)
    four = replace(WHOLE, strokes=4.0, tempo=80)
    assert start_tempo(four, before, 2.0) == 40 and start_tempo(replace(four, strokes=3.0), before, 2.0) == 48
    assert start_tempo(replace(four, strokes=2.0), before, 2.0) == 80 and start_tempo(four) == 80


def test_rests_between_rounds_shrink() -> None:
    """Four beats to begin with, one less for each clean round, three less than none is none."""
    assert [rest_beats(ladder(WHOLE, tries(t), MONDAY)) for t in ("", "c", "cc", "ccc", "ccccc")] == [
        4,
        3,
        2,
        3,
        1,
    ]


@pytest.mark.parametrize(
    ("days", "on", "held"),
    [
        ({0: "ccc"}, 1, 1),
        ({0: "nnn"}, None, 0),  # never held: nothing to keep
        ({0: "ccc", 1: "ccc"}, 3, 2),
        ({0: "ccc", 1: "ccc", 3: "cnc"}, 7, 3),
        ({0: "ccc", 1: "ccc", 2: "ccc"}, 4, 2),  # a day early: kept, not learned
        ({0: "ccc", 1: "ccc", 3: "nnc"}, 4, 0),
        ({0: "ccc", 9: "ccc"}, 11, 2),
    ],
)
def test_reviews_come_at_growing_intervals(days: dict[int, str], on: int | None, held: int) -> None:
    """1, 2, 4, 8 days while it holds; a day on which it does not begins again with one."""
    attempts = [a for day, text in days.items() for a in tries(text, 60, MONDAY + timedelta(day))]
    found = due(WHOLE, attempts)
    assert (None if found is None else ((found.on - MONDAY).days, found.held)) == (
        None if on is None else (on, held)
    )
    if found is not None:
        assert (
            due_text(found, found.on) == "due today"
            and due_text(found, found.on + timedelta(2)) == "due since 2 days"
        )


def test_streaks_tempi_and_clean_changes() -> None:
    """Clean in a row now and at best; the fastest clean tempo of a day; 15 in half a minute are 30 a minute."""
    assert streak(tries("ccncs")) == (1, 2)
    two = [*tries("cn", 60), *tries("c", 64), *tries("c", 62, MONDAY + timedelta(1))]
    assert tempi(two) == [DayTempo(MONDAY, 64), DayTempo(MONDAY + timedelta(1), 62)]
    counted = replace(tries("c")[0], kind="count", figures=Figures(count=15, count_s=30))
    assert clean_changes([counted, replace(counted, figures=Figures(count=9, count_s=30))]) == [
        (MONDAY, 30.0)
    ]
    spotted = replace(
        tries("n")[0], spots=(Spot("Verse", 3, "1/2", "change"), Spot("Verse", 3, "0", "uneven"))
    )
    assert where_wrong([spotted, *tries("n")]) == {("Verse", 3): 2}


@pytest.mark.parametrize(
    ("reached", "goal", "least", "most"),
    [
        ([60, 62, 64, 66], 76, 5, 5),  # two a day, ten to go
        ([60, 62, 64], 76, None, None),  # too few days
        ([60, 60, 60, 60], 76, None, None),  # it stands
        ([60, 64, 62, 66, 64, 68], 76, 4, 8),  # gains of 1 to 2 a day
        ([70, 72, 74, 80], 76, None, None),  # there already
    ],
)
def test_a_forecast_is_a_range_from_own_gains(
    reached: list[int], goal: int, least: int | None, most: int | None
) -> None:
    """Gains between any two days; the middle half of them."""
    found = forecast([DayTempo(MONDAY + timedelta(i), t) for i, t in enumerate(reached)], goal)
    assert (None if found is None else found.least) == least
    if found is not None:
        assert found.most == most or most is None
        assert "days of practice at this rate" in where_it_stands([], found, None, MONDAY)


# The plan of a session.


@given(st.integers(5, 60), st.lists(st.sampled_from("cn"), max_size=12), st.sampled_from([5, 12, 22]))
def test_a_plan_fills_its_minutes(minutes: int, played: list[str], every: int) -> None:
    """Warm-up first, a run for pleasure last, every minute used, nothing without a reason."""
    plan = planned()
    stage = next(s for s in plan.stages if s.reason.code == "stage-change")
    items = plan_session(
        minutes, plan, tries("".join(played), 60, stage=stage), MONDAY, Hand(break_after=every)
    )
    assert sum(item.minutes for item in items) == minutes and all(item.minutes > 0 for item in items)
    assert items[0].kind == "warm-up" and items[-1].kind == "run" and items[0].barre == 0
    assert all(plan_text(item.why) and item_text(item, plan.stage(item.stage)) for item in items)
    if minutes >= 12:
        assert any(item.kind == "rest" for item in items)


def test_without_a_record_the_hardest_change_is_the_weakest() -> None:
    """What the hand model says, until the record says otherwise."""
    plan = planned()
    first = hardest(different_changes(plan.results[0]))[0]
    assert weakest(plan, [])[0].stage.reason.value("other") == first.after
    items = plan_session(20, plan, [], MONDAY)
    assert [item.kind for item in items] == ["warm-up", "new", "rest", "change", "change", "run"]
    assert plan.stage(items[3].stage).kind == "steps", "in steps first, then in time"


def test_the_change_that_fails_gets_the_time() -> None:
    """Rounds that fail outweigh a difficulty; a change that takes have 300 ms late does too."""
    plan = planned()
    easy = weakest(plan, [])[-1].stage
    failing = tries("nnnnnn", 60, stage=easy)
    assert weakest(plan, failing)[0].stage.id == easy.id
    items = plan_session(20, plan, failing, MONDAY)
    assert easy.id in {item.stage for item in items if item.kind == "change"}
    name = f"{easy.reason.value('one')} > {easy.reason.value('other')}"
    whole = next(s for s in plan.stages if s.reason.code == "stage-whole")
    slips = [
        replace(a, spots=(Spot("Verse", 2, "0", "change", name),)) for a in tries("nnn", 60, stage=whole)
    ]
    assert weakest(plan, slips)[0].stage.id == easy.id, "slips in the whole piece name it"
    heard = replace(tries("n")[0], spots=(Spot("Verse", 2, "0", "change", name, 380.0),))
    assert weakest(plan, [heard])[0].stage.id == easy.id and weakest(plan, [heard])[0].late_ms == 380


def test_what_is_due_comes_into_the_plan_once_it_is() -> None:
    """Held on Monday: due on Tuesday."""
    plan = planned()
    half = next(s for s in plan.stages if s.reason.code == "stage-half")
    held = tries("ccc", half.tempo, stage=half)
    kinds = {
        d: {i.stage for i in plan_session(20, plan, held, MONDAY + timedelta(d)) if i.kind == "due"}
        for d in (0, 1)
    }
    assert kinds == {0: set(), 1: {half.id}}


def test_barre_is_counted_and_a_spent_budget_leaves_it_out() -> None:
    """F is a barre for a quarter of the section; with ten minutes of it today there are no more drills of it."""
    plan = planned()
    whole = next(s for s in plan.stages if s.reason.code == "stage-whole")
    assert barre_share(whole, plan.results) == 0.25
    spent = plan_session(30, plan, [], MONDAY, Hand(barre_today=10.0))
    fresh = plan_session(30, plan, [], MONDAY)
    assert any(item.barre for item in fresh if item.kind == "change")
    assert not any(item.barre for item in spent if item.kind in ("change", "new", "due"))


def test_a_hand_that_hurts_has_no_plan_until_it_is_well() -> None:
    """The last word counts."""
    notes = [Note("2026-11-30T10:00", "hurt", ""), Note("2026-11-30T10:01", "hand", "ring finger")]
    assert resting(notes) and not resting([*notes, Note("2026-12-02T10:00", "well", "")])
    assert plan_session(20, planned(), [], MONDAY, Hand(rests=True)) == ()
    with pytest.raises(ValueError, match="5 to 60"):
        plan_session(4, planned(), [], MONDAY)


# Leading.


def led_on(code: str):
    """A session whose first part is a stage of a kind, and its plan."""
    plan = planned()
    stage = next(s for s in plan.stages if s.reason.code == f"stage-{code}")
    item = replace(plan_session(20, plan, [], MONDAY)[1], stage=stage.id, minutes=6)
    return Led((item, replace(item, kind="run"))), plan, stage


def test_time_goes_by_and_nothing_is_cut_off() -> None:
    """Six minutes; two more on demand; the end after the last part."""
    led, plan, _ = led_on("whole")
    assert passed(led, 100).left_s == 260 and passed(led, 999).left_s == 0 and passed(led, 999).index == 0
    assert extended(led).left_s == 480
    assert onward(onward(led)).over and onward(onward(onward(led))).over
    other = swapped(led_on("change")[0], plan)
    assert (
        other.item.stage != led_on("change")[2].id
        and plan.stage(other.item.stage).reason.code == "stage-change"
    )


@pytest.mark.parametrize(
    ("stuck", "offered"),
    [
        ("whole", "stage-change"), ("change", "stage-steps"), ("count", "stage-steps"), ("steps", "stage-strum"),
        ("pair", "stage-strum"), ("with", "stage-alone"), ("alone", "stage-free"), ("half", "stage-with"),
        ("aloud", "stage-change"),
    ],
)  # fmt: skip
def test_what_isolates_the_trouble_is_offered(stuck: str, offered: str) -> None:
    """Two failures in a row: the smaller stage, which takes half of what is left; then the part comes again."""
    led, plan, stage = led_on(stuck)
    failed = tries("nn", stage.tempo, stage=stage)
    led = after_attempt(led, failed[-1], ladder(stage, failed, MONDAY), plan)
    assert plan.stage(led.offer.stage).reason.code == offered == isolating(stage, plan).reason.code
    taken = onward(led)
    assert [item.stage for item in taken.items[:2]] == [led.offer.stage, stage.id]
    assert sum(item.minutes for item in taken.items[:2]) == 6 and taken.index == 0
    assert refused(led).offer is None


def test_the_change_that_was_latest_is_what_is_isolated() -> None:
    """A take of everything with D to F late: that change, not the hardest one by the book."""
    _, plan, stage = led_on("whole")
    late = tuple(
        Spot("Verse", bar, "0", "change", name, ms)
        for bar, name, ms in ((2, "G > C", 90.0), (4, "D > F", 210.0))
    )
    found = isolating(stage, plan, replace(tries("n")[0], spots=late))
    assert (found.reason.value("one"), found.reason.value("other")) == ("D", "F")


def test_a_goal_that_is_reached_ends_its_part() -> None:
    """Nothing more to do there: Enter goes on."""
    led, plan, stage = led_on("whole")
    clean = tries("ccc", stage.goal, stage=stage)
    assert after_attempt(led, clean[-1], ladder(stage, clean, MONDAY), plan).left_s == 0
    assert after_attempt(led, clean[-1], ladder(stage, clean[:1], MONDAY), plan).left_s == 360


def test_weakness_leans_on_the_prior_until_there_is_a_record() -> None:
    """(failed + 2 · prior) / (rounds + 2)."""
    assert (
        weakness([], 0.5) == 0.5 and weakness([False] * 2, 0.5) == 0.75 and weakness([True] * 2, 0.5) == 0.25
    )


def test_every_stage_stands_somewhere() -> None:
    """Without a record at its own guess, bounded by floor and goal."""
    plan = planned()
    found = ladders(plan, [], MONDAY)
    assert all(s.floor <= found[s.id].tempo <= s.goal for s in plan.stages) and len(found) == len(plan.stages)
    assert ROUND_S == 20


def test_where_in_the_bar_it_goes_wrong() -> None:
    """A mark between two places belongs to the one before; other sections are left out."""
    spots = [
        ("Verse", 1, "0"),
        ("Verse", 2, "0.3"),
        ("Verse", 5, "3/8"),
        ("Refrain", 1, "3/8"),
        ("Verse", 1, "x"),
    ]
    wrong = replace(
        tries("n")[0], spots=tuple(Spot(s, b, at, "uneven") for s, b, at in spots), section="Verse"
    )
    starts = [Fraction(n, 8) for n in range(8)]
    assert places_wrong([wrong], "Verse", starts) == {0: 1, Fraction(1, 4): 1, Fraction(3, 8): 1}
    assert places_words(places_wrong([wrong], "Verse", starts), meter(4, 4)) == "mostly on 1 and 2"


def test_what_was_marked_and_heard_is_told_apart() -> None:
    """Nothing is said where all was marked."""
    rounds = [*tries("cc"), replace(tries("c")[0], source="heard")]
    assert sources_text(rounds) == "Rounds: 2 marked, 1 heard." and sources_text(rounds[:2]) == ""
