"""Playing along: calls ahead, the system's voice, count-ins, speeds, cells; stages written into the piece."""

from __future__ import annotations

import stat

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from gingham.app.sound.voice import speaker
from gingham.core.errors import GinghamError
from gingham.core.fitting.fit import fit
from gingham.core.formats.piece_file import piece_to_bytes, read_piece
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.own_stages import OwnStage, parse_own_stage
from gingham.core.practice.loop import cell_length, whole_section
from gingham.core.sound.player import Player
from gingham.core.sound.timeline import called, timeline
from gingham.core.sound.voices import Kind, VoiceBank
from gingham.core.values import replace
from gingham.words.spoken import spoken_chord
from tests.conftest import make_piece, play


@pytest.mark.parametrize(
    ("beats", "loop", "calls"),
    [
        (0, False, [(0, 0), (1, 0), (2, 1)]),  # a pattern ahead
        (2, False, [(0, 0), (1, 0.5), (2, 1.5)]),
        (1, True, [(0, 0), (1, 0.75), (2, 1.75), (3, 2.75)]),  # the seam of the loop too
        (4, True, [(0, 0), (1, 0), (2, 1), (3, 2)]),
    ],
)
def test_changes_are_called_so_many_beats_ahead(
    beats: int, loop: bool, calls: list[tuple[float, float]]
) -> None:
    """G, C, D, a bar each: when each comes and when it is called, in whole notes."""
    line = called(timeline([fit(make_piece("| G | C | D |"))]), beats, loop=loop)
    assert [(at, call) for at, call, _, _ in line.changes] == calls


@pytest.mark.parametrize(
    ("pattern", "clicks"),
    [
        ("4/4 x2: p i m i p i m i", 4),
        ("6/8 x3: p i m a m i", 6),  # a six is counted in six
        ("3/4 x2: p i m i m i", 3),
        ("4/4 x2: . i p i . i p i", 8),  # it begins off the beat: and-one, and-two
    ],
)
def test_counting_in_suits_the_meter(pattern: str, clicks: int) -> None:
    """The clicks before the music."""
    line = timeline([fit(make_piece("| G |", pattern))])
    player = Player(line, VoiceBank(Kind()), 80.0)
    player.count_in("bar")
    assert len(player._counted) == clicks


@pytest.mark.parametrize(
    ("pattern", "cell"),
    [("4/4 x2: p i m i p i m i", "1/2"), ("4/4 x2: p+m . p i ; p m p i", "1"), ("6/8 x3: p i m p i m", "3/8"),
     ("4/4 x1: p p p p", "1/8"), ("3/4 x2: p i m i m i", "3/4")],
)  # fmt: skip
def test_the_cell_is_the_shortest_part_that_repeats(pattern: str, cell: str) -> None:
    """Often half a bar; `p p p p` repeats each beat, but a cell has two places at least."""
    found = cell_length(parse_pattern(pattern))
    assert str(found) == cell or (cell == "1/8" and str(found) == "1/4")


def test_cells_count_on_over_equal_chords() -> None:
    """G for two bars has four cells of half a bar; a chord of half a bar has one."""
    loop = whole_section(fit(make_piece("| G | G | C G | Am |", "4/4 x2: p i m i p i m i")))
    assert [loop.cell(t / 2) for t in range(8)] == [
        (1, 4),
        (2, 4),
        (3, 4),
        (4, 4),
        (1, 1),
        (1, 1),
        (1, 2),
        (2, 2),
    ]


@pytest.mark.parametrize(
    ("symbol", "said"),
    [("G", "G"), ("Am7", "A minor seven"), ("D/F#", "D over F sharp"), ("Bbmaj7", "B flat major seven"),
     ("Dsus4", "D suspended four"), ("F#m7b5", "F sharp minor seven flat five"), ("?", "?")],
)  # fmt: skip
def test_chords_are_spoken(symbol: str, said: str) -> None:
    assert spoken_chord(symbol) == said


def test_the_systems_voice_names_the_next_chord(qtbot, window, tmp_path, monkeypatch) -> None:
    """Where a speaking command is there it is used; where none is the player is told and the tone remains."""
    monkeypatch.setenv("PATH", str(tmp_path))
    assert speaker() is None
    window.actions_by_id["voice"].trigger()
    assert "No speech is installed" in window.statusBar().currentMessage()
    heard = tmp_path / "heard"
    command = tmp_path / "espeak"
    command.write_text(f'#!/bin/sh\necho "$1" >> {heard}\n')
    command.chmod(command.stat().st_mode | stat.S_IXUSR)
    window.transport.set_count_in("")
    window.playing.choose_tempo(200)
    play(qtbot, window)
    qtbot.waitUntil(lambda: heard.exists() and "A minor seven" in heard.read_text())
    window.playing.stop()


def test_speeds_leave_the_pieces_tempo_alone(qtbot, window) -> None:
    """50, 70, 85 in a hundred, and all of it again; heard at once while it plays."""
    piece = window.document.piece
    play(qtbot, window)
    seen = []
    for _ in range(4):
        window.actions_by_id["speed"].trigger()
        seen.append(window.transport.tempo)
    assert seen == [36, 50, 61, 72] and window.document.piece is piece
    window.actions_by_id["ahead"].trigger()
    assert window.transport.options.ahead == 1
    window.playing.stop()


# Stages that stand in the piece.


@pytest.mark.parametrize(
    ("line", "stage"),
    [
        ("Verse: all of it", OwnStage("Verse", "all of it")),
        ("Verse 3-4 ip @60:  the   thumb leads ", OwnStage("Verse", "the thumb leads", 3, 4, "pi", 60)),
        ("Verse 2 4: bar four", OwnStage("Verse 2", "bar four", 4, 4)),
        ("Verse 2: the second verse", OwnStage("Verse 2", "the second verse")),
        ("Verse @44: slow: very", OwnStage("Verse", "slow: very", tempo=44)),
    ],
)
def test_a_stage_is_read_and_printed(line: str, stage: OwnStage) -> None:
    """Section (the longest name that fits), bars, fingers, tempo; and back; and through a file."""
    names = ("Verse", "Verse 2")
    assert parse_own_stage(line, names) == stage == parse_own_stage(str(stage), names)
    piece = make_piece("| G | C |")
    if stage.section == "Verse":
        read = read_piece(piece_to_bytes(replace(piece, stages=(stage,)), "abc1"))
        assert read.piece.stages == (stage,) and read.identity == "abc1"


@pytest.mark.parametrize(
    ("line", "code"),
    [
        ("Verse", "own-stage-text"), ("Verse 1-2:", "own-stage-text"), ("Chorus: x", "own-stage-section"),
        ("Verse 4-3: x", "own-stage-bars"), ("Verse now: x", "own-stage-word"), ("Verse @5: x", "number-range"),
        ("Verse @fast: x", "number"), ("Verse: " + "x" * 300, "own-stage-long"),
    ],
)  # fmt: skip
def test_what_is_no_stage_is_told(line: str, code: str) -> None:
    with pytest.raises(GinghamError) as caught:
        parse_own_stage(line, ("Verse",))
    assert caught.value.code == code


def test_a_teachers_stage_is_typed_in_and_leads(qtbot, window) -> None:
    """A, the line, Enter: first in the list; a fault stays under the line; Delete and undo."""
    window.actions_by_id["practise"].trigger()
    page = window.pages.practise
    QTest.keyClick(page.view.stages, Qt.Key.Key_A)
    assert page.view.own.hasFocus()
    QTest.keyClicks(page.view.own, "Verse 3-4 x: the thumb leads")
    QTest.keyClick(page.view.own, Qt.Key.Key_Return)
    assert "means nothing before the colon" in page.view.own_fault.text()
    page.view.own.setText("Verse 3-4 p @50: the thumb leads")
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(page.view.own, Qt.Key.Key_Return)
    assert page.stages[0].reason.value("name") == "the thumb leads" and page.tempo(page.stages[0]) == 50
    assert page.view.stages.item(0).text() == "The thumb leads" and not page.view.own_fault.isVisible()
    page.view.stages.choose(0)
    with qtbot.waitSignal(window.shown.settled):
        QTest.keyClick(page.view.stages, Qt.Key.Key_Delete)
    assert page.stages[0].group != "own"
    with qtbot.waitSignal(window.shown.settled):
        window.actions_by_id["undo"].trigger()
    assert page.stages[0].group == "own"
