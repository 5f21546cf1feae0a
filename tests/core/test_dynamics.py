"""Loudness in a take: accents, the bass on 1, the thumb against this player's own balance."""

from __future__ import annotations

from fractions import Fraction

import pytest

from gingham.core.listening.analysis import Analysis, Given, analyse
from gingham.core.listening.asked import Asked, question
from gingham.core.listening.simulate import simulate
from gingham.core.listening.sitting import thumb_apart
from gingham.core.listening.sounds import Sound
from gingham.core.sound.rate import RATE_HZ
from gingham.core.values import replace
from gingham.words.ringing import thumb_text
from tests.conftest import make_piece

ACCENTED = "4/4 x2: p i m! i ; p i m i"
ALTERNATING = "4/4 x2: p1 i p2 m ; p1 i p2 m"


def heard(pattern: str, faults: dict[str, float]) -> Analysis:
    """A simulated take of two chords that stay, heard."""
    piece = make_piece("| G | % | D{xx0232} | % |", pattern, tempo=80)
    asked = Asked(80, "Verse")
    take = simulate(piece, question(piece, asked, 2).plan, faults, 5)
    return analyse(piece, asked, Given(Sound(take.samples, take.rate, take.rate, 0.0, False)))


def codes(analysis: Analysis) -> list[str]:
    return [reason.code for reason in analysis.said]


@pytest.mark.parametrize(
    ("accent", "code"), [(6.0, "take-accents"), (0.0, "take-flat"), (-4.0, "take-flat"), (2.0, None)]
)
def test_accents_stand_out_or_do_not(accent: float, code: str | None) -> None:
    """The middle finger's two plucks on one string: the first of them has an accent."""
    analysis = heard(ACCENTED, {"accent": accent})
    assert analysis.report.dynamics.accent_db == pytest.approx(accent, abs=1.5)
    assert {"take-accents", "take-flat"} & set(codes(analysis)) == ({code} if code else set())


@pytest.mark.parametrize(("one", "soft"), [(0.0, False), (-6.0, True), (4.0, False)])
def test_the_bass_on_one_against_the_other_basses(one: float, soft: bool) -> None:
    """String 6 comes on 1 and on 3 of each bar. A hand is uneven by itself: the same hand is the measure."""
    analysis, usual = heard(ALTERNATING, {"one": one}), heard(ALTERNATING, {})
    apart = analysis.report.dynamics.downbeat_db - usual.report.dynamics.downbeat_db
    assert apart == pytest.approx(one, abs=1.0)
    assert ("take-soft-one" in codes(analysis)) == soft


def test_without_accents_or_other_basses_nothing_is_said() -> None:
    analysis = heard("4/4 x1: p i m i", {})
    dynamics = analysis.report.dynamics
    assert dynamics.accent_db is None and dynamics.downbeat_db is None
    assert not {"take-accents", "take-flat", "take-soft-one", "take-loudness"} & set(codes(analysis))


def test_a_weak_thumb_shows_in_the_balance() -> None:
    usual, weak = heard(ALTERNATING, {}), heard(ALTERNATING, {"thumb": -8.0})
    one, other = usual.report.dynamics.thumb_db, weak.report.dynamics.thumb_db
    assert one is not None and other is not None and other - one == pytest.approx(-8.0, abs=1.5)


@pytest.mark.parametrize(
    ("before", "now", "apart"),
    [
        ([1.0, 2.0], -9.0, None),  # too few takes to know a balance
        ([1.0, 2.0, 3.0], -2.0, -4.0),
        ([1.0, 2.0, 3.0], 0.0, None),
        ([-3.0, -2.0, -3.0, 9.0], 1.0, 3.5),
    ],
)
def test_the_thumb_against_this_players_own_balance(before: list[float], now: float, apart) -> None:
    assert thumb_apart(before, now) == apart


def test_the_balance_in_words() -> None:
    assert thumb_text(-4.2, 3) == "The thumb is 4 dB softer against the fingers than in the 3 takes before."
    assert "louder" in thumb_text(5.0, 7)


@pytest.mark.parametrize(
    ("played", "asked", "share", "said"),
    [
        ("1/2", "1/2", 0.5, None),
        ("2/3", "2/3", 0.667, "take-swings"),
        ("1/2", "2/3", 0.5, "take-swing"),
        ("2/3", "1/2", 0.667, "take-swing"),
        ("7/12", "1/2", 0.583, "take-swing"),
    ],
)
def test_swing_is_heard(played: str, asked: str, share: float, said: str | None) -> None:
    """The middle of the beat against its two ends, whatever the piece has; told where it is another feel."""
    piece = make_piece("| G | C | G | D |", "4/4 x2: p i m i p i m i", tempo=90)
    swung = replace(piece, swing=Fraction(played))
    take = simulate(swung, question(swung, Asked(90, "Verse"), 2).plan, {"jitter": 5.0}, 3)
    sound = Sound(take.samples, RATE_HZ, RATE_HZ, 0.0, False)
    found = analyse(replace(piece, swing=Fraction(asked)), Asked(90, "Verse"), Given(sound))
    assert found.report.swing.share == pytest.approx(share, abs=0.02)
    assert [r.code for r in found.said if "swing" in r.code] == ([said] if said else [])
