"""How long plucks ring in a take: strings that die, notes stopped too soon, and what is left unsaid."""

from __future__ import annotations

import pytest

from gingham.core.listening.analysis import Analysis, Given, analyse
from gingham.core.listening.asked import Asked, question
from gingham.core.listening.simulate import simulate
from gingham.core.listening.sounds import Sound
from gingham.words.listening import take_text
from tests.conftest import make_piece

SLOW = "4/4 x2: p . i . m . i ."


def heard(
    faults: dict[str, float],
    chords: str = "| G{320003} | % | % | C{x32010} |",
    pattern: str = SLOW,
    tempo: int = 80,
) -> Analysis:
    """A simulated take in a slow pattern, heard."""
    piece = make_piece(chords, pattern, tempo=tempo)
    asked = Asked(tempo, "Verse")
    take = simulate(piece, question(piece, asked, 2).plan, {"jitter": 3.0, **faults}, 7)
    return analyse(piece, asked, Given(Sound(take.samples, take.rate, take.rate, 0.0, False)))


def said(analysis: Analysis) -> dict[str, str]:
    return {reason.code: take_text(reason) for reason in analysis.said}


def test_a_string_that_does_not_ring_is_named_with_its_place() -> None:
    """String 6 on G at fret 3 is stopped by a finger: it dies every time; nothing else does."""
    analysis = heard({"dead": 6.0})
    assert said(analysis)["take-dies"].startswith("String 6 at fret 3 dies early, ")
    assert [reason.code for reason in analysis.said].count("take-dies") == 1
    losses = {
        analysis.question.plan.plucks[ring.planned].string: ring.loss_db_s
        for ring in analysis.hearing.lasting
    }
    assert losses[6] > 80.0 and all(loss < 40.0 for string, loss in losses.items() if string != 6)


def test_notes_that_are_stopped_before_they_need_to_be() -> None:
    """A finger that rests on its string a quarter of a second before it plucks it again."""
    analysis = heard({"cut": 260.0}, pattern="4/4 x1: p1 i p1 i")
    text = said(analysis)["take-cut"]
    stopped = [ring.stopped_s for ring in analysis.hearing.lasting if ring.stopped_s]
    assert len(stopped) >= 4 and sorted(stopped)[len(stopped) // 2] == pytest.approx(0.26, abs=0.12)
    assert "before they need to be" in text and "take-dies" not in said(analysis)


@pytest.mark.parametrize("faults", [{}, {"room": 0.6}, {"noise": -45.0}, {"thumb": -6.0}, {"missed": 3.0}])
def test_a_take_that_rings_is_told_nothing_of_ringing(faults: dict[str, float]) -> None:
    analysis = heard(faults)
    assert analysis.hearing.lasting and not {"take-dies", "take-cut"} & said(analysis).keys()


def test_notes_without_time_to_ring_are_not_looked_at() -> None:
    """A chord on every beat, three beats a second: nothing has half a second before the hand moves."""
    analysis = heard({}, "| G C G C | G C G C |", "4/4 x2: p i m i p i m i", 160)
    assert len(analysis.hearing.lasting) <= 1, "the last one may ring on"
