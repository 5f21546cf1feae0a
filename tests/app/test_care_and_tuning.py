"""The hands while playing, and tones to tune to."""

from __future__ import annotations

import threading

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from gingham.app.session.document import Document
from gingham.app.sound.handcare import HandCare, barre_beats
from gingham.app.sound.transport import Owner
from gingham.core.fitting.fit import fit
from gingham.core.instruments.instrument import instrument
from gingham.core.values import replace
from tests.conftest import make_piece, play


class Clock:
    """A clock that the test sets."""

    def __init__(self) -> None:
        self.now = 0.0

    def __call__(self) -> float:
        return self.now


def test_a_word_before_the_first_play_only(qtbot, window, settings) -> None:
    """Said quietly at the bottom; never again."""
    said: list[str] = []
    window.care.notice.connect(said.append)
    for _ in range(2):
        play(qtbot, window)
        window.playing.stop()
    assert len(said) == 1 and "stop at pain" in said[0] and settings.flag("hand-card-shown", False)


def test_breaks_are_called_after_a_time_of_playing(qtbot, window, settings) -> None:
    """Only playing counts; the player can switch it off."""
    clock, said = Clock(), []
    care = HandCare(window.transport, window.shown, settings, clock=clock)
    care.notice.connect(said.append)
    settings.set_flag("hand-card-shown", True)
    play(qtbot, window)
    clock.now = 60 * 22 - 60
    window.playing.stop()
    clock.now += 5000.0
    play(qtbot, window)
    care._moved(Owner.PIECE, 0, 1, 0.0)
    assert said == []
    clock.now += 61
    care._moved(Owner.PIECE, 0, 2, 0.0)
    assert len(said) == 1 and "break" in said[0]
    care.set_reminding(False)
    clock.now += 2 * 60 * 22
    care._moved(Owner.PIECE, 0, 3, 0.0)
    assert len(said) == 1 and "minutes played" in care.so_far()
    window.playing.stop()


def test_beats_of_barre_are_counted_and_a_way_out_is_offered(qtbot, window, settings) -> None:
    """Each bar once when it is reached; after much barre the shapes without it are named."""
    result = fit(make_piece("| F{133211} | C{x32010} F{133211} |"))
    assert [barre_beats(result, bar) for bar in (1, 2, 3)] == [4.0, 2.0, 0.0]
    said: list[str] = []
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", make_piece("| F{133211} | C{x32010} |"))
    care = HandCare(window.transport, window.shown, settings)
    care.notice.connect(said.append)
    for _ in range(60):
        for bar in (1, 1, 2):
            care._moved(Owner.PIECE, 0, bar, 0.0)
    before = care.barre_beats
    for inside in (0.1, 0.6, 0.1, 0.6):
        care._moved(Owner.PIECE, 0, 1, inside)
    assert care.barre_beats - before == 8.0, "a loop inside one bar counts it each time round"
    care.barre_beats = before
    assert care.barre_beats == 240.0 and len(said) == 1 and "F9" in said[0]
    assert "240 beats of barre" in care.so_far()


def test_the_stringings_of_a_ukulele_are_heard_side_by_side(qtbot, window) -> None:
    """Each button plays its own strings, a second press stops; a guitar has no such rows."""
    piece = make_piece("| Am{2000} |", "3/4 x2: p i m i m i", instrument=instrument("ukulele"))
    window.actions_by_id["tune"].trigger()
    rows = window.drawers.tuning.stringings
    assert not rows.isVisible()
    window.document.edit("Other", piece)
    qtbot.waitUntil(lambda: len(rows.found) == 3)
    assert rows.isVisible() and rows.texts[2].text().startswith("Em: E3 G3")
    for each, low in zip(rows.buttons, (69, 57, 52), strict=True):
        each.click()
        qtbot.waitUntil(lambda: window.transport.playing)
        assert window.transport._line.notes[0].midi == low
        each.click()
        assert not window.transport.playing


@pytest.mark.parametrize("capo", [False, True])
def test_each_string_is_heard_in_its_own_tuning(qtbot, window, capo: bool) -> None:
    """The lowered sixth, with the capo on if wanted; keys play strings; the piece's playhead does not move."""
    lowered = instrument("guitar", "D2 A2 D3 G3 B3 E4")
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", replace(make_piece("| D |", capo=2), instrument=lowered))
    window.actions_by_id["tune"].trigger()
    tuning = window.drawers.tuning
    assert "Retune" in tuning.pegs.text() and tuning.targets[0].text().startswith("D2  73.4 Hz")
    tuning.at_capo.setChecked(capo)
    moved: list[object] = []
    window.transport.moved.connect(lambda *place: moved.append(place))
    QTest.keyClick(tuning, Qt.Key.Key_6)
    line = window.transport._line
    assert [(n.string, n.midi) for n in line.notes] == [(6, 40 if capo else 38)]
    qtbot.wait(80)
    QTest.keyClick(tuning, Qt.Key.Key_A)
    assert [n.string for n in window.transport._line.notes] == [6, 5, 4, 3, 2, 1]
    QTest.keyClick(tuning, Qt.Key.Key_Space)
    assert not window.transport.playing and moved == []


def test_the_tuning_window_follows_the_instrument(qtbot, window) -> None:
    """A ukulele has four rows."""
    window.actions_by_id["tune"].trigger()
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", make_piece("| C |", instrument=instrument("ukulele")))
    assert [button.text() for button in window.drawers.tuning.buttons] == [
        "String 4",
        "String 3",
        "String 2",
        "String 1",
    ]


def test_breaks_come_at_the_players_own_interval(window, settings) -> None:
    """Set-up has the fields; what is set holds at once and is remembered; nonsense in the file is the usual."""
    window.actions_by_id["setup"].trigger()
    fields = window.view.setup.care
    assert fields["break-minutes"].value() == 22 and fields["posture-minutes"].text() == "never"
    fields["break-minutes"].setValue(12)
    assert settings.text("break-minutes", "") == "12" and window.care.setting("break-minutes") == 12
    settings.set_text("break-minutes", "9999")
    assert window.care.setting("break-minutes") == 22


def test_unbroken_barre_asks_for_a_rest_and_posture_is_recalled(qtbot, window, settings) -> None:
    """Bars of F, barre after barre: a word after the player's own seconds; an open chord between begins anew."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit(
            "Barre", make_piece("| F{133211} | F{133211} | C{x32010} | F{133211} |", tempo=60)
        )
    settings.set_text("barre-seconds", "20")
    said = []
    window.care.notice.connect(said.append)

    def through(bars: list[int]) -> None:
        for bar in bars:
            window.care._moved(Owner.PIECE, 0, bar, 0.0)

    through([1, 2, 3, 4, 1, 2, 3] * 2)
    assert not said
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("All barre", make_piece("| F{133211} | F{133211} |", tempo=60))
    through([1, 2] * 3)
    assert len(said) == 1 and "20 seconds of barre without a break" in said[0]
    settings.set_text("posture-minutes", "5")
    window.care._played_s = 301
    through([1])
    assert "wrist straight" in said[-1]


def test_it_hurts_from_every_page(qtbot, window) -> None:
    """The key stops the sound and shows the cautions; the record has it."""
    play(qtbot, window)
    window.actions_by_id["hurts"].trigger()
    assert not window.transport.playing and window.pages.current == "practise"
    assert [note.kind for note in window.logbook.record.notes] == ["hurt"]
    assert window.pages.practise.view.session.well.isVisible()


DROPPED, UKULELE = instrument("guitar", "D2 A2 D3 G3 B3 E4"), instrument("ukulele")


def test_comparing_the_stringings_ends_with_the_window(qtbot, window, monkeypatch) -> None:
    """However slow the comparison is: the window waits for its thread (the fixture looks for one left over)."""
    begun, go_on = threading.Event(), threading.Event()

    def slow(*_piece: object) -> tuple[()]:
        begun.set()
        go_on.wait()
        return ()

    monkeypatch.setattr("gingham.app.views.tuning.stringing_rows.stringings", slow)
    window.add(Document(make_piece("| C |", "4/4 x1: p i m i", instrument=UKULELE)))
    window.actions_by_id["tune"].trigger()
    qtbot.waitUntil(begun.is_set)
    threading.Timer(0.2, go_on.set).start()
    window.drawers.end()
    assert go_on.is_set(), "it was waited for"


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"instrument": DROPPED}, "String 6 down 2 semitones to D: an octave below string 4 open."),
        ({"capo": 3}, "Capo at 3."),
        ({"instrument": UKULELE, "capo": 2}, "Take the ukulele, G4 C4 E4 A4. Capo at 2."),
        ({}, ""),
    ],
)
def test_the_next_piece_says_how_its_strings_are_tuned(window, changes: dict[str, object], said: str) -> None:
    """Turned to, it is said at the bottom; the whole set stands where the strings are tuned."""
    other = replace(make_piece("| D |", **{"capo": 2, **changes}), title="Low Tide")
    window.add(Document(other), show=False)
    window.actions_by_id["next-piece"].trigger()
    assert window.statusBar().currentMessage() == (f"Low Tide: {said}" if said else "")
    window.actions_by_id["tune"].trigger()
    lines = window.drawers.tuning.set_lines.text()
    assert lines == (f"Lantern test → Low Tide: {said}" if said else "")
