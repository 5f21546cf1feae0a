"""Does the part sound the tune, and one key that lets it."""

from __future__ import annotations

import pytest

from gingham.core.errors import EditError
from gingham.core.fitting.fit import fit
from gingham.core.judging.carry import carried
from gingham.core.judging.tune import tune_checks
from gingham.core.patterns.shorthand import print_pattern
from gingham.core.pieces.form_edits import set_tune
from gingham.words.form import tune_lines
from tests.conftest import HEARTH, make_piece


def test_the_part_is_asked_whether_it_sounds_the_tune() -> None:
    """G with a pinch on 1: string 2 open is B3; D4 is held by nobody; G4 lies on string 1, fret 3."""
    piece = set_tune(make_piece("| G{320003} |"), 0, "| B3 . G4 D4 |")
    first, second, third = tune_checks(fit(piece))
    assert first.by == "m" and not first.carriers
    assert second.by is None
    assert (second.carriers[0].finger, second.carriers[0].string, second.carriers[0].shape) == ("a", 1, True)
    best = third.carriers[0]
    assert (best.finger, best.string, best.fret, best.shape) == ("m", 2, 3, False)
    lines = tune_lines((first, second, third), piece.meter)
    assert lines[0] == "The part sounds 1 of the 3 notes of the tune."
    assert "G holds it: the ring on string 1 would carry it" in lines[1]


@pytest.mark.parametrize(
    ("pattern", "tune", "note", "bar", "finger"),
    [
        # G4 lies on string 1, fret 3 of G: the ring joins the thumb on 3.
        (HEARTH, "| B3 . G4 . | . . . . |", 1, "4/4 x2: p+m . p i p+a/1 m p i", "a"),
        # nothing holds D4: the middle, whose string 2 is, stops fret 3 on it, beside the index on 4&
        (HEARTH, "| B3 . . . . . . D4 |", 1, "4/4 x2: p+m . p i p m p i+m/2@3", "m"),
        # on the second half of beat 2 of a part in quarters: the bar gets two places a beat
        ("4/4 x1: p i p m", "| . . . G4 . . . . |", 0, "4/4 x2: p . i a/1 p . m .", "a"),
    ],
)
def test_one_key_lets_the_part_carry_a_note(
    pattern: str, tune: str, note: int, bar: str, finger: str
) -> None:
    """The bar has strokes of its own, the next bar stays; the note is sounded then."""
    piece = set_tune(make_piece("| G{320003} | G |", pattern), 0, tune)
    after = carried(piece, 0, tune_checks(fit(piece))[note])
    section = after.sections[0]
    assert print_pattern(after.pattern(section.pattern_in(1))) == bar
    assert section.pattern_in(2) == section.pattern and after.pattern("Mine") == piece.pattern("Mine")
    assert tune_checks(fit(after))[note].by == finger


def test_a_note_that_nothing_near_sounds_is_not_carried() -> None:
    """E6 is far above what G holds; a note in the pick-up has no bar to be carried in."""
    piece = set_tune(make_piece("| G{320003} |"), 0, "| E6 |")
    with pytest.raises(EditError, match="tune-no-string"):
        carried(piece, 0, tune_checks(fit(piece))[0])
