"""What sounds like a pluck that nobody planned, and is none: told as little as it is sure."""

from __future__ import annotations

from types import SimpleNamespace

import numpy as np
import pytest

from gingham.core.errors import TakeError
from gingham.core.fitting.fit import fit
from gingham.core.instruments.instrument import instrument
from gingham.core.listening import hearing
from gingham.core.listening.extras import Extra
from gingham.core.listening.heard import Heard
from gingham.core.listening.hearing import hear
from gingham.core.listening.plan import plan_of
from gingham.core.listening.simulate import simulate
from gingham.core.patterns.library import builtin
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.pieces.piece import NamedPattern, Piece, Section
from tests.conftest import make_piece


def _piece(name: str, chords: str, tuning: str | None, capo: int, tempo: int) -> Piece:
    """A built-in pattern over a line of chords."""
    pattern = dict(builtin())[name]
    section = Section("A", parse_chord_line(chords, pattern.meter), name)
    return Piece(
        name, (section,), (NamedPattern(name, pattern),), instrument("guitar", tuning), capo,
        meter=pattern.meter, tempo=tempo,
    )  # fmt: skip


@pytest.mark.parametrize(
    ("name", "chords", "tuning", "capo", "tempo", "faults", "seed"),
    [
        # two strings beat against each other and swell
        ("Drifting", "| G | Am7 | D | Em7 | G | Am7 | D | Em7 |", None, 0, 77, {"detune": -12.0}, 24),
        # the strings of a pinch come 25 ms apart, and the bass swells a tenth of a second later
        (
            "Oar and splash", "| Em | C | G | D/F# | Em | C | G | D/F# |", "D2 A2 D3 G3 B3 E4", 2, 118,
            {"jitter": 12.0, "detune": -12.0}, 48,
        ),
    ],
)  # fmt: skip
def test_strings_that_swell_are_no_extra_plucks(name, chords, tuning, capo, tempo, faults, seed) -> None:
    """Takes without a fault in which a string grows louder by itself."""
    piece = _piece(name, chords, tuning, capo, tempo)
    plan = plan_of([(fit(piece, 0), 1)])
    take = simulate(piece, plan, {**faults, "noise": -70.0}, seed=seed)
    assert all(played.kind == "ok" for played in take.played)
    assert [note for note in hear(take.samples, take.rate, plan).notes if note.planned is None] == []


@pytest.mark.parametrize(
    ("string", "away_s", "may"),
    [(6, 0.1, True), (6, -0.1, True), (6, 0.2, False), (4, 0.1, False)],
)
def test_beside_an_unclear_pluck_of_its_string_none_is_told(string, away_s, may) -> None:
    """The bass of bar 1 is unclear: what sounds on its string within 140 ms may be it."""
    piece = _piece("Drifting", "| G{320003} |", None, 0, 60)
    plan = plan_of([(fit(piece, 0), 1)])
    assert plan.plucks[0].string == 6
    listener = SimpleNamespace(plan=plan, moment_of={0: 0}, expected=[1.0], unclear=[0])
    assert hearing._Listener._may_be_unclear(listener, string, 1.0 + away_s) is may


def _found(string: int) -> Extra:
    """An unplanned pluck at the second candidate, of a string's open pitch."""
    return Extra(1, string, {6: 40, 5: 45}[string], 0.9, np.zeros(1, np.float32))


def _listener(heard_s: float, flux: float = 1.0) -> SimpleNamespace:
    """A listener that took its first candidate for the one planned pluck, on string 6."""
    return SimpleNamespace(
        notes=[Heard(heard_s, 6, 40, -20.0, 0, 1.0)],
        struck=SimpleNamespace(flux=np.array([1.0, flux])),
        groups=[[0]],
        moment_of={0: 0},
    )


@pytest.mark.parametrize(
    ("string", "after_s", "echo"),
    [(6, 0.0, True), (6, 0.1, True), (6, 0.12, False), (6, -0.01, False), (5, 0.05, False)],
)
def test_a_string_is_not_plucked_twice_in_a_tenth_of_a_second(string, after_s, echo) -> None:
    """It swells, or rattles; another string may well have been struck."""
    listener = _listener(1.0)
    assert hearing._Listener._is_echo(listener, _found(string), 1.0 + after_s) is echo


@pytest.mark.parametrize(
    ("string", "before_s", "flux", "planned"),
    [
        (6, 0.05, 2.0, 0),
        (6, 0.05, 0.9, None),
        (6, 0.12, 2.0, None),
        (6, -0.05, 2.0, None),
        (5, 0.05, 2.0, None),
    ],
)
def test_a_swelling_that_was_taken_for_the_pluck(string, before_s, flux, planned) -> None:
    """What was struck harder just before it, on the same string, is the planned pluck."""
    listener = _listener(1.0 + before_s, flux)
    assert hearing._Listener._heard_late(listener, _found(string), 1.0) == planned


@pytest.mark.parametrize("left_out", [-1, 12])
def test_a_pluck_that_the_match_left_out_is_no_extra(monkeypatch, left_out: int) -> None:
    """The last one, and one in the middle: the string and the time are the planned ones."""
    piece = _piece("Drifting", "| G | Am7 |", None, 0, 80)
    plan = plan_of([(fit(piece, 0), 1)])
    take = simulate(piece, plan, {"noise": -70.0}, seed=1)
    real = hearing.place

    def without_one(*args, **named):
        placed = real(*args, **named)
        placed.of[left_out] = -1
        return placed

    monkeypatch.setattr(hearing, "place", without_one)
    found = hear(take.samples, take.rate, plan)
    assert [note.planned for note in found.notes] == list(range(len(plan.plucks)))
    assert (found.missed, found.unclear, len(found.reach)) == ((), (), len(plan.moments))


@pytest.mark.parametrize("rate", [8_000, 44_100])
@pytest.mark.parametrize("seconds", [0.0, 0.001, 0.1, 0.14, 0.155, 0.16, 0.2, 0.5, 3.0])
@pytest.mark.parametrize("loud", [0.0, 0.1])
def test_what_is_too_short_is_other_music(seconds: float, rate: int, loud: float) -> None:
    """Silence and noise, from a single sample on: one clear error."""
    plan = plan_of([(fit(_piece("Drifting", "| G | Am7 |", None, 0, 80), 0), 1)])
    noise = np.random.default_rng(0).standard_normal(max(1, round(seconds * rate)))
    with pytest.raises(TakeError) as caught:
        hear((loud * noise).astype(np.float32), rate, plan)
    assert caught.value.code == "take-other"


@pytest.mark.parametrize(
    ("moment", "matched", "missed", "string", "away_s", "planned"),
    [
        (3, False, False, 1, 0.13, 3),  # beyond what was matched: the last pluck, late
        (3, False, False, 1, 0.15, None),
        (3, False, False, 2, 0.04, 3),  # its neighbour in its place
        (3, False, False, 2, 0.06, None),
        (3, False, False, 3, 0.04, None),
        (2, True, True, 2, 0.13, 2),  # its onset was another one: it was not missed
        (2, True, True, 3, 0.04, None),
        (2, True, False, 2, 0.04, None),  # it was heard already
        (2, False, True, 3, 0.04, 2),
    ],
)
def test_what_an_unplanned_pluck_is_after_all(moment, matched, missed, string, away_s, planned) -> None:
    """Four plucks a second apart, on strings 6, 3, 2 and 1; the first three were matched, but for one."""
    plan = plan_of([(fit(make_piece("| G{320003} |", "4/4 x1: p i m a", tempo=60)), 1)])
    assert [pluck.string for pluck in plan.plucks] == [6, 3, 2, 1]
    of = np.array([0, 1, 2, -1])
    of[moment] = of[moment] if matched else -1
    listener = SimpleNamespace(
        plan=plan, of=of, reach=range(3), expected=np.asarray(plan.times), moment_of={i: i for i in range(4)},
        missed=[moment] if missed else [], unclear=[], _reach_to=lambda _moment: None,
    )  # fmt: skip
    found = Extra(9, string, {3: 55, 2: 59, 1: 67}[string], 0.9, np.zeros(1, np.float32))
    assert hearing._Listener._not_yet_heard(listener, found, plan.times[moment] + away_s) == planned
    assert listener.missed == ([moment] if missed and planned is None else [])
