"""Taps in place of plucks, the hand learned from takes, signs of tension, a click to play to."""

from __future__ import annotations

import numpy as np
import pytest

from gingham.core.errors import RuleError, TakeError
from gingham.core.fitting.fit import fit
from gingham.core.hands.motor import MOTORS, learned_level, motor_of, takes_of
from gingham.core.judging.speed import hand_limit
from gingham.core.listening.analysis import Analysis, Given, analyse
from gingham.core.listening.asked import Asked, question
from gingham.core.listening.learned import Gaps, gaps_of, learned
from gingham.core.listening.report import report
from gingham.core.listening.simulate import LEAD_S, simulate
from gingham.core.listening.sitting import Evenness, sitting, tension
from gingham.core.listening.sounds import Sound
from gingham.core.listening.taps import KeyTap, hear_taps, struck_at
from gingham.core.pieces.edits import set_level
from gingham.core.pieces.rules import check_level
from tests.conftest import make_piece

PATTERN = "4/4 x2: p+m i p i ; p m p i"
PIECE = make_piece("| C | G | Am | F |", PATTERN, tempo=80)
ASKED = Asked(80, "Verse")


def taps_of(plan, *, slower: float = 1.0, late: dict | None = None, named: bool = True) -> list[KeyTap]:
    """Somebody taps a plan, a little unevenly."""
    rng = np.random.default_rng(1)
    out = []
    for k, moment in enumerate(plan.moments):
        for i in moment:
            finger = plan.plucks[i].finger
            at = 2.0 + slower * plan.times[k] + rng.normal(0, 0.005) + (late or {}).get(finger, 0.0)
            out.append(KeyTap(at, finger if named else ""))
            if not named:
                break
    return out


@pytest.mark.parametrize(("slower", "tempo"), [(1.0, 80), (1.25, 64), (0.8, 100), (1.9, 42)])
def test_taps_in_any_tempo_give_the_timing_report(slower: float, tempo: int) -> None:
    plan = question(PIECE, ASKED).plan
    hearing = hear_taps(taps_of(plan, slower=slower, late={"i": 0.03 * slower}), plan)
    said = report(hearing, plan)
    late = {finger.finger: finger.late_ms - said.fingers[0].late_ms for finger in said.fingers}
    assert not hearing.missed and round(said.tempo) == pytest.approx(tempo, abs=1)
    assert late["i"] == pytest.approx(30 * slower, abs=6) and abs(late["m"]) < 6


def test_what_was_tapped_wrong_left_out_or_too_much() -> None:
    """Moment 1 (index) left out, moment 2 (thumb) tapped as middle, one key between moments 4 and 5."""
    plan = question(PIECE, ASKED).plan
    taps = taps_of(plan)
    del taps[2]
    taps[2] = KeyTap(taps[2].t_s, "m")
    taps.append(KeyTap(0.5 * (taps[4].t_s + taps[5].t_s), "a"))
    hearing = hear_taps(taps, plan)
    assert hearing.missed == plan.moments[1]
    wrong = [n for n in hearing.notes if n.planned is not None and n.string != plan.plucks[n.planned].string]
    assert [note.planned for note in wrong] == list(plan.moments[2])
    assert sum(note.planned is None for note in hearing.notes) == 1


def test_a_key_that_names_no_finger_stands_for_a_pinch() -> None:
    plan = question(PIECE, ASKED).plan
    hearing = hear_taps(taps_of(plan, named=False), plan)
    assert len(hearing.notes) == len(plan.plucks) and not hearing.missed


def test_other_keys_are_no_take_of_this() -> None:
    plan = question(PIECE, ASKED).plan
    with pytest.raises(TakeError) as caught:
        hear_taps([KeyTap(2.0, "c"), KeyTap(2.1, "c")], plan)
    assert caught.value.code == "take-other"
    with pytest.raises(TakeError):
        hear_taps([], plan)


def test_keys_at_once_sound_once() -> None:
    assert struck_at([KeyTap(1.0, "p"), KeyTap(1.02, "m"), KeyTap(1.5, "i"), KeyTap(1.51, "i")]) == (
        1.0,
        1.5,
        1.51,
    )


def heard(faults: dict[str, float], tempo: int = 80, click_s: float | None = None) -> Analysis:
    """A simulated take, heard."""
    asked = Asked(tempo, "Verse")
    take = simulate(PIECE, question(PIECE, asked, 2).plan, faults, 3)
    return analyse(PIECE, asked, Given(Sound(take.samples, take.rate, take.rate, 0.0, False), (), click_s))


@pytest.mark.parametrize(
    ("offset_ms", "code", "ms"),
    [(0.0, "take-with-click", 0.0), (40.0, "take-off-click", -40.0), (-60.0, "take-off-click", 60.0)],
)
def test_with_a_click_lateness_is_against_the_click(offset_ms: float, code: str, ms: float) -> None:
    analysis = heard({"jitter": 2.0}, click_s=LEAD_S + offset_ms / 1000.0)
    assert analysis.report.click_ms == pytest.approx(ms, abs=4.0)
    assert code in [reason.code for reason in analysis.said]
    late = [mark.late_ms for mark in analysis.marks if mark.late_ms is not None]
    assert float(np.median(late)) == pytest.approx(ms, abs=4.0)


def test_a_click_that_was_left_is_not_held_against_anybody() -> None:
    analysis = heard({"jitter": 2.0, "tempo": 70.0}, click_s=LEAD_S)
    assert analysis.report.click_ms is None
    assert not {"take-with-click", "take-off-click"} & {reason.code for reason in analysis.said}


def test_what_a_take_shows_of_a_hand() -> None:
    """Eighths at 80: 0.375 s from finger to finger, the thumb and the index again after 0.75 s."""
    analysis = heard({"jitter": 1.0})
    gaps = gaps_of(analysis.marks, analysis.report.spread_ms, MOTORS["growing"])
    assert gaps.held and gaps.any == pytest.approx(0.375, abs=0.01)
    assert gaps.thumb == pytest.approx(0.75 - MOTORS["growing"].per_string_s, abs=0.04)
    assert not gaps_of(analysis.marks, 30.0, MOTORS["growing"]).held, "uneven"
    assert gaps_of([], 0.0, MOTORS["growing"]) == Gaps()


G = MOTORS["growing"]
FAST = Gaps(0.25, 0.24, 0.085, True)
SLOW = Gaps(0.6, 0.6, 0.3, True)
FAILED = Gaps(0.2, 0.2, 0.08, False)


@pytest.mark.parametrize(
    ("takes", "found"),
    [
        ([FAST] * 4, None),
        ([FAST] * 5, (0.294, 0.282, 0.1, 5)),  # 0.25 / 0.85 …
        ([SLOW] * 9, (G.same_finger_s, G.thumb_s, G.any_s, 9)),  # never tried faster than guessed
        ([SLOW] * 5 + [FAILED], (0.706, 0.706, 0.353, 5)),  # tried, and failed
        ([FAST] * 6 + [SLOW] * 20, (0.294, 0.282, 0.1, 26)),
        ([Gaps(0.0, 0.0, 0.085, True)] * 5, (G.same_finger_s, G.thumb_s, 0.1, 5)),
        ([FAILED] * 20, None),
    ],
)
def test_the_hand_is_learned_from_takes_that_held(takes: list[Gaps], found: tuple | None) -> None:
    hand = learned(takes)
    if found is None:
        assert hand is None
        return
    assert hand is not None
    motor = hand.motor
    assert (motor.same_finger_s, motor.thumb_s, motor.any_s, hand.takes) == pytest.approx(found)
    assert (motor.hop_s, motor.cross_s) == (G.hop_s, G.cross_s)


def test_a_learned_hand_is_a_level_of_the_piece() -> None:
    """Its numbers stand in its text; a quicker hand has a higher top speed."""
    hand = learned([FAST] * 5)
    assert hand is not None
    assert hand.level == learned_level(hand.motor, 5) == "learned:294-282-35-100-350-90-40:5"
    assert motor_of(hand.level) == hand.motor and takes_of(hand.level) == 5 and takes_of("growing") == 0
    piece = set_level(PIECE, hand.level)
    assert hand_limit(fit(piece), piece.rules.level).tempo > hand_limit(fit(PIECE), "growing").tempo


@pytest.mark.parametrize(
    "text",
    ["", "learned", "learned:1-2-3:4", "learned:294-282-35-100-350-90-40", "learned:0-1-1-1-1-1-1:5", "x:1"],
)
def test_other_texts_are_no_level(text: str) -> None:
    with pytest.raises(RuleError) as caught:
        check_level(text)
    assert caught.value.code == "level"


def takes(*shown: tuple[str, float, float]) -> list[Evenness]:
    return [Evenness(f"2026-10-01T{time}:00+02:00", db, ms) for time, db, ms in shown]


GROWING = takes(("19:00", 1.0, 6.0), ("19:03", 1.4, 8.0), ("19:06", 2.4, 14.0), ("19:09", 3.2, 19.0))


@pytest.mark.parametrize(
    ("shown", "tense"),
    [
        (GROWING, True),
        (GROWING[:3], False),  # too few
        (
            takes(("19:00", 1, 6), ("19:03", 1.4, 6), ("19:06", 2.4, 6), ("19:09", 3.2, 6)),
            False,
        ),  # loudness alone
        (takes(("19:00", 3.2, 19), ("19:03", 2.4, 14), ("19:06", 1.4, 8), ("19:09", 1, 6)), False),  # better
        (takes(("18:00", 1.0, 6.0), ("19:03", 1.4, 8.0), ("19:06", 2.4, 14.0), ("19:09", 3.2, 19.0)), False),
        ([*GROWING, *takes(("20:00", 1.0, 6.0))], False),  # a rest of 50 minutes
        (
            takes(("19:00", 1, 6), ("19:03", 3.5, 20), ("19:06", 1, 7), ("19:09", 2.2, 12)),
            False,
        ),  # up and down
    ],
)
def test_tension_is_a_sign_when_both_grow(shown: list[Evenness], tense: bool) -> None:
    found = tension(shown)
    assert (found is not None) == tense
    if found is not None:
        assert (found.takes, found.from_db, found.to_db) == (4, 1.2, 2.8)
        assert (found.from_ms, found.to_ms) == (7.0, 16.5)


def test_a_sitting_ends_with_a_rest_and_bad_dates_are_passed_over() -> None:
    shown = [*takes(("19:00", 1, 6), ("19:30", 2, 8), ("19:45", 3, 9)), Evenness("yesterday", 1, 1)]
    assert [take.made[11:16] for take in sitting(shown)] == ["19:30", "19:45"] and tension([]) is None
