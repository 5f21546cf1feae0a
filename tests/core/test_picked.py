"""A flat pick: a way for each pluck, no finger letters, brushes for neighbours, its own speed and marks."""

from __future__ import annotations

import json

import pytest

from gingham.cli.main import main
from gingham.core.fitting.fit import fit
from gingham.core.fitting.performance import perform
from gingham.core.formats.musicxml import musicxml
from gingham.core.formats.tab import section_tab
from gingham.core.judging.speed import hand_limit
from gingham.core.patterns.said import read_said
from gingham.core.pieces.own_edits import set_chord_rules, set_section_rules
from gingham.core.pieces.rules import OwnRules, Rules
from gingham.core.shapes.shape import parse_shape
from gingham.core.values import replace
from gingham.words.saying import script
from tests.conftest import make_piece

PICKED = Rules(hand="pick")
EIGHTHS = "4/4 x2: p i p m ; p i p m"


def ways(piece, bar: int = 0) -> str:
    """`v6 ^3`: the way and the string of each pluck."""
    signs = {"down": "v", "up": "^", None: "-"}
    return " ".join(f"{signs[e.pick]}{e.string}" for e in fit(piece).bars[bar].events)


@pytest.mark.parametrize(
    ("chord", "pattern", "rule", "expected"),
    [
        ("G{320003}", EIGHTHS, "alternate", "v6 ^3 v4 ^2 v6 ^3 v4 ^2"),
        ("G{320003}", "4/4 x2: p . i m p . i m", "alternate", "v6 v3 ^2 v4 v3 ^2"),
        ("G{320003}", EIGHTHS, "economy", "v6 v3 ^4 v2 ^6 v3 ^4 v2"),
        ("C{x32010}", "4/4 x1: p i m a", "economy", "v5 v3 v2 v1"),
        ("C{x32010}", "4/4 x1: p a m i", "economy", "v5 v1 ^2 ^3"),
        ("C{x32010}", "4/4 x1: p p1 p1 p1", "economy", "v5 ^5 v5 ^5"),
        ("G{320003}", "6/8 x3: p i m a m i", "alternate", "v6 v3 v2 v1 v2 v3"),
        ("G{320003}", "4/4 x1: p i m a\npick down down up up", "alternate", "v6 v3 ^2 ^1"),
        ("G{320003}", "4/4 x2: p . i m a m i .\npick down down up up up", "economy", "v6 v3 ^2 ^1 ^2 v3"),
        ("G{320003}", "4/4 x2: p . i+m . p . i+m .", "alternate", "v6 v3 v2 v4 v3 v2"),
        ("G{320003}", "4/4 x2: . i+m . i+m p . . .", "alternate", "^2 ^3 ^2 ^3 v6"),
        ("D{xx0232}", "4/4 x1: p d u k", "alternate", "v4 v3 v2 v1 ^1 ^2 ^3 v4 v3 v2"),
    ],
)
def test_each_pluck_has_its_way(chord: str, pattern: str, rule: str, expected: str) -> None:
    """Worked out by hand: down on numbered places; toward string 1 is down; the player's own go first."""
    assert ways(make_piece(f"| {chord} |", pattern, rules=replace(PICKED, pick=rule))) == expected


def test_strings_at_once_are_a_brush_or_a_problem() -> None:
    """Neighbours are brushed over; strings apart are named with the way out; fingers' own faults are none."""
    brushed = fit(make_piece("| G{320003} |", "4/4 x1: i+m p . .", rules=PICKED))
    assert [e.kind for e in brushed.bars[0].events] == ["brush-down", "brush-down", "pluck"]
    apart = fit(make_piece("| G{320003} |", "4/4 x1: p+m i/1+m/3 . .", rules=PICKED))
    found = [p for bar in apart.bars for p in bar.problems]
    assert [p.code for p in found] == ["pick-apart", "pick-apart"]
    values = dict(found[0].values)
    assert (values["string"], values["other"]) == (6, 2)


def test_a_section_or_a_chord_may_be_picked_alone() -> None:
    """Fingers elsewhere; bars that play the same stay one value."""
    piece = make_piece("| G{320003} | C{x32010} | G{320003} |", EIGHTHS)
    own = set_section_rules(piece, 0, OwnRules(hand="pick"))
    result = fit(own)
    assert all(e.pick for bar in result.bars for e in bar.events)
    assert result.bars[0].events is result.bars[2].events
    chord = set_chord_rules(piece, "C", parse_shape("x32010"), OwnRules(hand="pick"))
    assert ways(chord, 0).startswith("-6") and ways(chord, 1).startswith("v5")


def test_it_has_a_speed_of_its_own() -> None:
    """Two downs in a row need the way back; up between is quicker; jumps over strings take time."""
    quick = hand_limit(fit(make_piece("| G{320003} |", "4/4 x2: p i p1 i p i p1 i", rules=PICKED)), "growing")
    back = "4/4 x2: p i p1 i p i p1 i\npick down"
    slow = hand_limit(fit(make_piece("| G{320003} |", back, rules=PICKED)), "growing")
    assert slow.tempo < quick.tempo and {s.code for s in slow.spots} == {"pick-again"}


def test_no_export_has_finger_letters(capsys) -> None:
    """Ways in MusicXML and tablature; the command line says down and up."""
    result = fit(make_piece("| G{320003} |", EIGHTHS, rules=PICKED))
    text = musicxml(perform(result.piece)).decode()
    assert "<down-bow" in text and "<up-bow" in text and "<pluck>" not in text
    assert "v" in section_tab(result) and "m" not in section_tab(result)
    assert main(["fit", "--chords", "| G{320003} |", "--pattern", EIGHTHS, "--hand", "pick", "--json"]) == 0
    events = json.loads(capsys.readouterr().out)["events"]
    assert [event["finger"] for event in events[:2]] == ["down", "up"]


def test_it_is_said_and_read_with_its_ways() -> None:
    """`down-6 up-3`: the strings and the ways come back."""
    piece = make_piece("| G{320003} |", "4/4 x2: p i p m p i p m\npick down down up", rules=PICKED)
    result = fit(piece)
    said = script("fingers", result.pattern, result.spans[0].assignment, piece.instrument, hand="pick")
    assert said.startswith("down-6 down-3 up-4 down-2")
    read = read_said(said, given=piece.meter).ways[0].pattern
    again = make_piece("| G{320003} |", rules=PICKED)
    again = replace(again, patterns=(replace(again.patterns[0], pattern=read),))
    assert ways(again) == ways(piece)
