"""What sounds like a pluck that nobody planned, and is none: told as little as it is sure."""

from __future__ import annotations

from types import SimpleNamespace

import numpy as np
import pytest

from gingham.core.fitting.fit import fit
from gingham.core.instruments.instrument import instrument
from gingham.core.listening import extras, hearing
from gingham.core.listening.extras import Extra
from gingham.core.listening.hearing import hear
from gingham.core.listening.plan import plan_of
from gingham.core.listening.simulate import simulate
from gingham.core.listening.strings import Shares
from gingham.core.patterns.library import builtin
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.pieces.piece import NamedPattern, Piece, Section


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


def _found(share: float, evidence: float) -> tuple[Extra, Shares]:
    """String 5 with so much of what rises, and so much that speaks for it."""
    one = {5: 1.0}
    row = np.zeros(1, np.float32)
    return Extra(0, 5, 45, 0.7, row), Shares(one, {5: share}, {5: evidence}, 0.1, row)


@pytest.mark.parametrize(
    ("share", "evidence", "before_s", "touch"),
    [
        (0.4, 0.1, 0.07, True),  # little has a pitch, and a pluck follows at once
        (0.4, 0.1, 0.12, False),  # the pluck comes later than a finger waits
        (0.4, 0.1, -0.07, False),  # it was before
        (0.7, 0.1, 0.07, False),  # one string has most of it
        (0.4, 0.9, 0.07, False),  # a clear sign of the string
    ],
)
def test_a_finger_that_comes_to_its_string(share, evidence, before_s, touch) -> None:
    """A weak sound within 90 ms before a planned pluck may be its finger."""
    assert extras._is_touch(*_found(share, evidence), np.array([-1.0, before_s, 1.0])) is touch


@pytest.mark.parametrize(
    ("evidence", "broken", "string", "since_s", "swells"),
    [
        (0.5, 0.6, 5, 0.09, True),
        (1.5, 0.6, 5, 0.09, False),  # much speaks for a pluck
        (0.5, 1.1, 5, 0.09, False),  # it begins anew
        (0.5, 0.6, 4, 0.09, False),  # another string was plucked
        (0.5, 0.6, 5, 0.2, False),  # a finger can be back by then
    ],
)
def test_a_string_that_has_just_been_plucked(evidence, broken, string, since_s, swells) -> None:
    """Within 110 ms it needs a clear sign to count as plucked once more."""
    assert extras._swells(*_found(0.7, evidence), broken, 2.0, [(2.0 - since_s, string)]) is swells


@pytest.mark.parametrize(
    ("string", "away_s", "may"),
    [(6, 0.1, True), (6, -0.1, True), (6, 0.2, False), (4, 0.1, False)],
)
def test_beside_an_unclear_pluck_of_its_string_none_is_told(string, away_s, may) -> None:
    """The bass of bar 1 is unclear: what sounds on its string within 140 ms may be it."""
    piece = _piece("Drifting", "| G{320003} |", None, 0, 60)
    plan = plan_of([(fit(piece, 0), 1)])
    assert plan.plucks[0].string == 6
    listener = SimpleNamespace(plan=plan, moment_of={0: 0}, expected=[1.0])
    assert hearing._Listener._may_be_unclear(listener, string, 1.0 + away_s, [0]) is may
