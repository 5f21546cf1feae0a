"""Edges, each worked out by hand on both sides: the last that holds, and the first that does not."""

from __future__ import annotations

from fractions import Fraction

import pytest

from gingham.core.bench.capo import _effort, capo_places
from gingham.core.errors import FileError, TuningError
from gingham.core.fitting.assign import _thumb_gap
from gingham.core.fitting.fit import fit
from gingham.core.formats.musicxml_in import part_from_musicxml
from gingham.core.instruments.instrument import check_capo, instrument
from gingham.core.judging.changes import changes
from gingham.core.judging.muddy import _thumb_pairs
from gingham.core.music.chords import parse_chord
from gingham.core.music.key import parse_key, sounding
from gingham.core.music.meter import meter
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.edits import set_instrument
from gingham.core.pieces.from_chart import piece_from
from gingham.core.sound.player import Player
from gingham.core.sound.timeline import timeline
from gingham.core.sound.voices import VoiceBank
from gingham.core.values import replace
from tests.conftest import make_piece


@pytest.mark.parametrize(
    ("words", "gap"),
    [
        ("4/4 x2: . p i m i m p i", 3 / 8),  # 1/8 to 6/8 is 5/8; on to 1/8 of the next round is 3/8
        ("4/4 x2: p i m i p i m i", 1 / 2),
        ("4/4 x2: p i m p i m i m", 3 / 8),  # here the way round is the longer one: 5/8
        ("4/4 x2: . i p i m i m i", 1.0),  # once a bar: a whole bar
    ],
)
def test_the_thumb_s_shortest_gap_goes_over_the_bar_line(words: str, gap: float) -> None:
    """What time a hop of the fretting hand has depends on it."""
    assert _thumb_gap(parse_pattern(words)) == gap


@pytest.mark.parametrize(("at", "after"), [(0.5, 0.5), (1.0, 1.0), (1.001, 0.0), (1.75, 0.0)])
def test_a_player_beyond_a_shorter_line_begins_again(at: float, after: float) -> None:
    """Its end still belongs to it: there it rings out."""
    two, one = (timeline([fit(make_piece(line))]) for line in ("| G | C |", "| G |"))
    player = Player(two, VoiceBank(), 80.0)
    player.position = at
    player.line = one
    assert player.position == after


def test_a_capo_leaves_five_frets() -> None:
    """On the neck it is set on, on one it is moved to, and in what a chart says."""
    guitar = instrument("guitar")
    most = guitar.frets - 5
    assert check_capo(guitar, most) == most and check_capo(guitar, 0) == 0
    for wrong in (most + 1, -1):
        with pytest.raises(TuningError):
            check_capo(guitar, wrong)
    short = replace(guitar, frets=12)
    assert set_instrument(make_piece("| G |", capo=7), short).capo == 7
    assert set_instrument(make_piece("| G |", capo=8), short).capo == 0
    assert max(place.capo for place in capo_places(make_piece("| C |", instrument=short))) <= 7
    for capo, kept in ((7, 7), (8, 0), (-1, 0)):
        like = make_piece("| G |", instrument=short)
        assert piece_from((("Verse", "| G |", (), 1),), like, "Chart", capo, like.patterns[0]).capo == kept
    tiny = replace(guitar, frets=8)
    assert {place.capo for place in capo_places(make_piece("| C |", instrument=tiny))} == {0, 1, 2, 3}


@pytest.mark.parametrize(
    ("line", "barres", "more"),
    [
        ("| C{x32010} | G{320003} |", 0, 0.0),
        ("| F{133211} | G{320003} |", 1, 0.25),  # one of two chords: half of 0.5
        ("| F{133211} | Bm{x24432} |", 2, 0.5),
    ],
)
def test_every_barre_weighs(line: str, barres: int, more: float) -> None:
    """The effort of a capo position is that of shapes and changes, and 0.5 a chord for barres."""
    piece = make_piece(line)
    here = next(place for place in capo_places(piece) if place.capo == 0)
    result = fit(piece)
    shapes = [_effort(span.assignment, piece) for span in result.spans]
    moves = [change.difficulty for change in changes(result)]
    assert here.barres == barres
    assert here.effort == pytest.approx(sum(shapes) / 2 + sum(moves) / len(moves) + more, abs=0.006)


@pytest.mark.parametrize(
    ("line", "plucks"), [("| G |", 4), ("| G / / / | / |", 8), ("| G | / | / | / | / |", 12)]
)
def test_thumb_pairs_are_looked_for_in_three_bars(line: str, plucks: int) -> None:
    """A chord that lasts on repeats itself: its own bar and two more are enough."""
    pairs = _thumb_pairs(fit(make_piece(line, "4/4 x1: p p p p")), 0)
    assert len(pairs) == plucks - 1  # 6 4 6 4 …: each neighbour on another string


@pytest.mark.parametrize(
    ("symbol", "by", "key", "heard"),
    [("C#m7", 6, "C", "Gm7"), ("F", 6, "C", "B"), ("Gbmaj7", 1, "F", "Gmaj7"), ("E/G#", 1, "E", "F/A")],
)
def test_no_chord_is_spelled_with_a_double_accidental(symbol: str, by: int, key: str, heard: str) -> None:
    """C# six up in C would be F double sharp by its step, a G for whoever reads it."""
    assert sounding(parse_chord(symbol), by, parse_key(key)).text == heard


@pytest.mark.parametrize(
    ("notes", "more", "code"), [(30_000, 0, None), (30_001, 0, "part-notes"), (100, 450_000, "xml-large")]
)
def test_a_score_has_thirty_thousand_notes_at_most(notes: int, more: int, code: str | None) -> None:
    """And 450,000 elements, so that its tree is built in good time."""
    note = "<note><pitch><step>C</step><octave>3</octave></pitch><duration>1</duration></note>"
    bars = f"<measure>{note * 4}</measure>" * (notes // 4) + f"<measure>{note * (notes % 4)}</measure>"
    data = f'<score-partwise><part-list/><part id="P1">{bars}{"<x/>" * more}</part></score-partwise>'.encode()
    if code is None:
        assert part_from_musicxml(data, "x") is not None
    else:
        with pytest.raises(FileError) as caught:
            part_from_musicxml(data, "x")
        assert caught.value.code == code


@pytest.mark.parametrize(
    ("count", "unit", "eighths"),
    [(4, 4, (0, 2, 4, 6)), (3, 4, (0, 2, 4)), (6, 8, (0, 3)), (12, 8, (0, 3, 6, 9)), (7, 8, (0, 2, 4))],
)
def test_counted_beats_begin_where_they_are_counted(count: int, unit: int, eighths: tuple[int, ...]) -> None:
    """7/8 is 2 + 2 + 3: its last beat is the long one, and begins on the fifth eighth."""
    assert meter(count, unit).beat_starts == tuple(Fraction(n, 8) for n in eighths)
