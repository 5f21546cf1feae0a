"""What is heard and looped from the window: layers, single fingers, clicks, count-ins, rests, places, changes."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.conftest import make_piece, play


def act(window, name: str) -> str:
    """An action; what was said at the bottom."""
    window.actions_by_id[name].trigger()
    return window.statusBar().currentMessage()


def test_layers_and_single_fingers(window) -> None:
    """The thumb, then one finger more; one finger silent by key; the buttons follow."""
    bar, transport = window.view.bar, window.transport
    bar.index.click()
    assert transport.options.muted == frozenset("mac") and bar.index.isChecked()
    assert act(window, "hear-m") == "The middle is heard."
    assert transport.options.muted == frozenset("ac") and bar.middle.isChecked()
    act(window, "hear-p")
    assert transport.options.muted == frozenset("pac") and not any(
        button.isChecked() for button in bar.layers
    )
    window.actions_by_id["thumb-alone"].trigger()
    assert bar.thumb.isChecked() and "p" not in transport.options.muted
    window.view.pattern.finger = "i"
    assert act(window, "solo") == "The index alone is heard." and transport.options.muted == frozenset(
        "pmac"
    ) | {""}
    assert act(window, "solo") == "Every finger is heard." and transport.options.muted == frozenset()
    bar.all.click()
    assert transport.options.muted == frozenset() and not window.actions_by_id["thumb-alone"].isChecked()


def test_clicks_count_ins_rests_and_calls(window) -> None:
    """Each key goes through what there is and says what it is now."""
    assert [act(window, "other-click") for _ in range(3)] == [
        "Click on the beats",
        "Click on beats and between",
        "No click",
    ]
    assert (
        act(window, "other-count-in") == "Count-in: 1 bar, divided"
        and window.transport.options.count_in == "subdivided"
    )
    assert "divided" in window.view.bar.status.text()
    said = [act(window, "rest") for _ in range(4)]
    assert said[0] == "After each round one beat of rest." and said[2].endswith("fewer each time.")
    assert (window.transport.options.rest_beats, window.transport.options.shrinking) == (0, False)
    act(window, "cue")
    assert window.transport.options.cues


def test_chosen_places_are_looped(qtbot, window) -> None:
    """Half a bar goes round while the rest of the piece is left alone; the whole piece comes back."""
    window.view.pattern.choose(2, 5)
    act(window, "loop-places")
    assert window.view.bar.status.text().endswith("2 to 3&, bar 1")
    play(qtbot, window)
    assert window.transport._line.length == 0.5 and {p.bar for p in window.transport._line.places} == {1}
    act(window, "loop-all")
    qtbot.waitUntil(lambda: window.transport._line.length > 3)
    assert "whole piece" in window.view.bar.status.text()
    window.playing.stop()


def test_a_scripted_player_goes_from_a_piece_to_a_slow_change_drill_and_back(qtbot, window) -> None:
    """With the keyboard alone: thumb only, slower, the change into the next chord looped, then the full piece again."""
    keys = {
        name: window.actions_by_id[name].shortcut()
        for name in ("thumb-alone", "slower", "loop-change", "loop-all")
    }
    assert all(not key.isEmpty() for key in keys.values())
    canvas = window.view.result
    canvas.setFocus()
    QTest.keyClick(window, Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier)
    assert window.shown.span_index() == 1
    QTest.keyClick(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    for _ in range(3):
        QTest.keyClick(window, Qt.Key.Key_BracketLeft, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(
        window, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    )
    assert window.view.bar.status.text().endswith("G to Am7") and window.document.piece.tempo == 60
    QTest.keyClick(canvas, Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: window.transport.playing)
    line = window.transport._line
    assert line.length == 1.0 and [p.bar for p in line.places] == [1, 2]
    QTest.keyClick(
        window, Qt.Key.Key_R, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    )
    QTest.keyClick(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    qtbot.waitUntil(lambda: window.transport._line.length == 4.0)
    assert window.transport.options.muted == frozenset()
    QTest.keyClick(canvas, Qt.Key.Key_Space)
    assert not window.transport.playing


def test_a_stretch_beyond_a_shorter_piece_is_let_go(qtbot, window) -> None:
    """The loop of a change that is no longer there becomes the whole piece."""
    window.shown.select_span(4)
    act(window, "loop-change")
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", make_piece("| G |", meter=window.document.piece.meter))
    assert window.playing.stretch is None and "whole piece" in window.view.bar.status.text()
    assert act(window, "loop-change") == "A change needs two chords."
