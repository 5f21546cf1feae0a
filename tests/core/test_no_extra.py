"""What sounds like a pluck that nobody planned, and is none: told as little as it is sure."""

from __future__ import annotations

from types import SimpleNamespace

import pytest

from gingham.core.fitting.fit import fit
from gingham.core.instruments.instrument import instrument
from gingham.core.listening import hearing
from gingham.core.listening.hearing import hear
from gingham.core.listening.plan import plan_of
from gingham.core.listening.simulate import simulate
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
