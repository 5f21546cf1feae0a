"""In a player's words, through the real window, with the keyboard alone."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QMessageBox

from gingham.app.shell.start import demo_documents, fill
from gingham.app.shell.window import MainWindow
from gingham.core.formats.piece_file import load_piece
from gingham.core.patterns.shorthand import print_pattern
from gingham.core.pieces.chordline import print_chord_line

Key, Mod = Qt.Key, Qt.KeyboardModifier


class Player:
    """Someone at the keyboard: keys go to whatever has the focus."""

    def __init__(self, qtbot, window: MainWindow) -> None:
        self.qtbot, self.window = qtbot, window
        window.activateWindow()
        qtbot.waitUntil(lambda: QApplication.activeWindow() is window)

    def press(self, key: Qt.Key, modifiers: Qt.KeyboardModifier = Mod.NoModifier) -> None:
        """One key."""
        QTest.keyClick(QApplication.focusWidget() or self.window, key, modifiers)

    def write(self, text: str) -> None:
        """Type into what has the focus."""
        QTest.keyClicks(QApplication.focusWidget(), text)

    def until_shown(self) -> None:
        """Wait until the picture shows the present piece."""
        build = self.window.build
        self.qtbot.waitUntil(
            lambda: build.shown.result is not None and build.shown.result.piece is build.shown.piece
        )


@pytest.fixture
def player(qtbot, window: MainWindow) -> Player:
    """A player in front of the window."""
    return Player(qtbot, window)


def strings(window: MainWindow, finger: str = "p") -> list[list[int]]:
    """What the finger plucks, bar by bar."""
    return [[e.string for e in bar.events if e.finger == finger] for bar in window.shown.result.bars]


def test_first_light(player: Player, window: MainWindow, tmp_path: Path, monkeypatch) -> None:
    """A new piece: chords, a pattern, every reason, a changed thumb, sound, saved, reopened, the same."""
    player.press(Key.Key_N, Mod.ControlModifier)
    assert window.shown.piece.sections[0].chords.bars == ()
    player.press(Key.Key_L, Mod.ControlModifier)
    player.write("| Am7 | D/F# | G | Em |")
    player.until_shown()
    assert strings(window) == [[5, 4, 5, 4], [6, 4, 6, 4], [6, 4, 6, 4], [6, 4, 6, 4]]
    player.press(Key.Key_5, Mod.ControlModifier)
    player.press(Key.Key_A, Mod.ControlModifier)
    player.write("4/4 x2: p . p i ; p m p .")
    player.until_shown()
    player.press(Key.Key_4, Mod.ControlModifier)
    player.press(Key.Key_Right)
    player.press(Key.Key_A)
    player.until_shown()
    assert print_pattern(window.shown.piece.patterns[0].pattern) == "4/4 x2: p a p i ; p m p ."
    player.press(Key.Key_Right, Mod.AltModifier)
    reasons = window.view.reasons.words.text()
    for words in (
        "D/F♯",
        "First bass: string 6 fret 2, F♯, the third",
        "A slash bass: the symbol asks for F♯",
        "You hear the root",
    ):
        assert words in reasons
    player.press(Key.Key_2, Mod.ControlModifier)
    player.press(Key.Key_Right)
    player.press(Key.Key_Down)
    player.press(Key.Key_Return)
    player.until_shown()
    assert strings(window) == [[5, 4, 5, 4], [6, 5, 6, 5], [6, 4, 6, 4], [6, 4, 6, 4]]
    path = tmp_path / "lanterns.gingham"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    player.press(Key.Key_S, Mod.ControlModifier)
    assert not window.document.modified
    saved = window.document.piece
    player.press(Key.Key_W, Mod.ControlModifier)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(path), ""))
    player.press(Key.Key_O, Mod.ControlModifier)
    player.until_shown()
    assert window.shown.piece == saved == load_piece(path)
    assert strings(window)[1] == [6, 5, 6, 5]


def test_everything_can_be_undone_and_done_again(player: Player, window: MainWindow) -> None:
    """Typing is one step; Ctrl+Z works from inside the line too."""
    before = window.shown.piece
    player.press(Key.Key_L, Mod.ControlModifier)
    player.press(Key.Key_End)
    player.write(" C |")
    player.until_shown()
    assert window.document.stack.count() == 1
    assert window.actions_by_id["undo"].text() == "Undo Chords"
    player.press(Key.Key_Z, Mod.ControlModifier)
    player.until_shown()
    assert window.shown.piece is before
    assert window.view.chords.text() == print_chord_line(before.sections[0].chords)
    player.press(Key.Key_Z, Mod.ControlModifier | Mod.ShiftModifier)
    player.until_shown()
    assert window.view.chords.text().endswith("C |")


def test_hearing_it(player: Player, window: MainWindow, qtbot) -> None:
    """Space plays after a count-in, the playhead runs on both pictures, the thumb alone can be chosen, Space stops."""
    heard: list[tuple[int, int, float]] = []
    counted: list[int] = []
    window.transport.moved.connect(lambda *place: heard.append(place))
    window.transport.counting.connect(counted.append)
    player.press(Key.Key_3, Mod.ControlModifier)
    window.playing.change_tempo(100)  # a bar of count-in is long enough to be seen by a busy machine
    player.press(Key.Key_Space)
    qtbot.waitUntil(lambda: window.transport.playing)
    assert window.view.bar.play.text().startswith("Stop")
    qtbot.waitUntil(lambda: len(heard) > 3)
    assert counted and counted == sorted(counted, reverse=True) and counted[0] <= 4
    assert window.view.pattern.playhead == window.view.result.playhead is not None
    player.press(Key.Key_T, Mod.ControlModifier)
    assert window.transport.options.muted and window.view.bar.thumb.isChecked()
    player.press(Key.Key_Space)
    assert not window.transport.playing and window.view.result.playhead is None


def test_a_loop_of_one_bar_and_a_change_while_it_plays(player: Player, window: MainWindow, qtbot) -> None:
    """Ctrl+Return loops the cursor's bar; an edit goes on playing; undo too."""
    window.actions_by_id["count-in"].trigger()
    player.press(Key.Key_1, Mod.ControlModifier)
    player.press(Key.Key_Right)
    bars: set[int] = set()
    window.transport.moved.connect(lambda _owner, _section, bar, _at: bars.add(bar))
    player.press(Key.Key_Return, Mod.ControlModifier)
    assert window.playing.bars == (2, 2)
    qtbot.waitUntil(lambda: bool(bars))
    player.press(Key.Key_Up, Mod.ControlModifier)
    player.until_shown()
    assert window.transport.playing and bars == {2}
    player.press(Key.Key_Return, Mod.ControlModifier)
    player.press(Key.Key_R, Mod.ControlModifier | Mod.ShiftModifier)
    assert window.playing.bars is None and not window.transport.playing


def test_nothing_to_play_is_said(player: Player, window: MainWindow, qtbot) -> None:
    """An empty piece says what to do instead of playing silence."""
    player.press(Key.Key_N, Mod.ControlModifier)
    player.press(Key.Key_Space, Mod.ControlModifier)
    qtbot.waitUntil(lambda: "type chords" in window.statusBar().currentMessage())
    assert not window.transport.playing


def test_the_demo_pieces_are_one_key_apart(player: Player, window: MainWindow) -> None:
    """Three tunes of the evening class: a capo, a lowered string, a re-entrant ukulele, no fault in any."""
    fill(window, [], demo=True)
    seen = {}
    for _ in range(4):
        player.press(Key.Key_Tab, Mod.ControlModifier)
        player.until_shown()
        problems = [p.code for _, p in window.shown.result.problems()]
        seen[window.document.piece.title] = (str(window.document.piece.instrument.tuning[0]), problems)
    assert seen["Forty Lanterns"][0] == "E2" and seen["Brine and Barley"][0] == "D2"
    assert seen["Netmender's Round"][0] == "G4"
    for title in ("Forty Lanterns", "Brine and Barley", "Netmender's Round"):
        assert not {"muted-string", "same-string", "no-shape", "bass-missing"} & set(seen[title][1])


def test_sections_are_shown_one_at_a_time(player: Player, window: MainWindow) -> None:
    """Ctrl+PageDown goes to the next; adding and removing are edits."""
    window.add(demo_documents()[0])
    player.until_shown()
    player.press(Key.Key_PageDown, Mod.ControlModifier)
    player.until_shown()
    assert window.shown.section == 1 and window.view.pattern_names.currentText() == "Rope walk"
    player.press(Key.Key_N, Mod.ControlModifier | Mod.ShiftModifier)
    player.until_shown()
    assert [s.name for s in window.shown.piece.sections] == ["Verse", "Refrain", "Refrain 2"]
    window.actions_by_id["remove-section"].trigger()
    player.until_shown()
    assert len(window.shown.piece.sections) == 2


@pytest.mark.parametrize(
    ("answer", "stays"),
    [(QMessageBox.StandardButton.Cancel, True), (QMessageBox.StandardButton.Discard, False)],
)
def test_unsaved_changes_are_asked_about(
    player: Player, window: MainWindow, monkeypatch, answer, stays: bool
) -> None:
    """Closing a changed piece asks; staying keeps it."""
    asked = []
    monkeypatch.setattr(window, "ask_unsaved", lambda document: asked.append(document) or answer)
    changed = window.document
    window.playing.change_tempo(4)
    player.press(Key.Key_W, Mod.ControlModifier)
    assert asked == [changed] and (changed in window.documents) is stays
    asked.clear()
    if stays:
        window.close()
        assert asked and window.isVisible()
    monkeypatch.setattr(window, "ask_unsaved", lambda _document: QMessageBox.StandardButton.Discard)


def test_a_damaged_file_is_said_and_nothing_changes(
    qtbot, window: MainWindow, tmp_path: Path, monkeypatch
) -> None:
    """One message; the open piece is untouched. The same for a folder that cannot be written."""
    said: list[str] = []
    monkeypatch.setattr(QMessageBox, "warning", lambda _parent, _title, text: said.append(text))
    (tmp_path / "bad.gingham").write_text("{")
    before = list(window.documents)
    assert not window.files.open_file(tmp_path / "bad.gingham")
    assert window.documents == before and "not a Gingham piece" in said[0]
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "no" / "x"), ""))
    monkeypatch.setattr(QMessageBox, "exec", lambda box: said.append(box.text() + box.informativeText()))
    assert not window.files.save_as()
    assert "its folder is not there" in said[1] and "still open" in said[1]
    window.files.export_to(tmp_path / "x.odd")
    assert ".wav" in said[2]
    with qtbot.waitSignal(window.files.exporter.done):
        window.files.export_to(tmp_path / "x.txt")
    assert (tmp_path / "x.txt").exists()
