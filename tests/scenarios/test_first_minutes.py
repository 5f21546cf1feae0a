"""Someone who has never seen the program: from an empty window to a saved piece, every action counted."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog

from gingham.app.look.settings import Settings
from gingham.app.shell.start import fill
from gingham.app.shell.window import MainWindow
from gingham.app.sound.devices import SilentOutput
from gingham.app.sound.transport import Transport
from tests.scenarios.test_first_light import Player, strings

Key, Mod = Qt.Key, Qt.KeyboardModifier
CTRL = Mod.ControlModifier


class Counting(Player):
    """Counts what is done: a key, a click, a text that is typed."""

    done = 0

    def press(self, key: Qt.Key, modifiers: Qt.KeyboardModifier = Mod.NoModifier) -> None:
        """One key."""
        self.done += 1
        super().press(key, modifiers)

    def write(self, text: str) -> None:
        """One text."""
        self.done += 1
        super().write(text)

    def click(self, part, at) -> None:
        """One click."""
        self.done += 1
        QTest.mouseClick(part, Qt.MouseButton.LeftButton, pos=at)

    def since(self) -> int:
        """How much has been done since this was last asked."""
        count, self.done = self.done, 0
        return count


@pytest.fixture
def player(qtbot, tmp_path: Path, monkeypatch) -> Counting:
    """A player in front of an empty window, as after the very first start."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    window = MainWindow(Settings(tmp_path / "s.ini"), Transport(output=SilentOutput()))
    fill(window, [], demo=False)
    window.show()
    made = Counting(qtbot, window)
    qtbot.waitUntil(lambda: QApplication.focusWidget() is window.view.chords)
    yield made
    window.playing.stop()
    for document in window.documents:
        document.stack.setClean()
    window.close()


def build_it(player: Counting) -> None:
    """Own chords where the cursor is, an alternating thumb with a pinch, as it is said."""
    player.write("| C | Am | F | G |")
    player.until_shown()
    player.press(Key.Key_5, CTRL)
    QTest.keyClick(QApplication.focusWidget(), Key.Key_A, CTRL)
    player.write("pinch thumb middle thumb index thumb middle thumb")
    player.until_shown()


def test_heard_understood_and_changed(qtbot, player: Counting) -> None:
    """Each step in as many actions as it has parts: the numbers stand beside the steps."""
    window = player.window
    build_it(player)
    player.press(Key.Key_Space, CTRL)
    qtbot.waitUntil(lambda: window.transport.playing)
    assert player.since() == 4, "the first sound: chords, where, pattern, play"
    assert window.view.bar.words.hasFocus() and window.view.bar.words.text().startswith("4/4 x2: p+m p m p i")
    player.press(Key.Key_Space, CTRL)
    player.press(Key.Key_6, CTRL)
    player.until_shown()
    assert "First bass" in window.view.reasons.words.text() and player.since() == 2, "stopped; understood"

    thumb, before = window.view.strings, strings(window)
    lane = thumb.lanes().index("p2")
    player.click(thumb, QPoint(round(thumb.lane_x(lane)), round(thumb.rows().y(3))))
    player.until_shown()
    assert strings(window)[0] == [5, 3, 5, 3, 5] and before[0] == [5, 4, 5, 4, 5]
    assert strings(window)[1:] == before[1:] and player.since() == 1, "one thumb string on one chord"
    tempo = window.document.piece.tempo
    player.press(Key.Key_BracketLeft, CTRL)
    assert window.document.piece.tempo < tempo and player.since() == 1, "slowed"


def test_practised_printed_saved_and_reopened(qtbot, player: Counting, tmp_path: Path, monkeypatch) -> None:
    """The hardest change in three actions, everything else in one or two."""
    window = player.window
    build_it(player)
    player.since()
    player.press(Key.Key_F10)
    practise = window.pages.practise
    qtbot.waitUntil(lambda: bool(practise.stages))
    drill = next(i for i, stage in enumerate(practise.stages) if stage.reason.code == "stage-change")
    stages = practise.view.stages
    row = next(r for r in range(stages.count()) if stages.item(r).data(Qt.ItemDataRole.UserRole) == drill)
    player.click(stages.viewport(), stages.visualItemRect(stages.item(row)).center())
    player.press(Key.Key_Space)
    assert window.transport.owner == "stage" and player.since() == 3, "the hardest change: page, stage, play"
    player.press(Key.Key_Space)

    asked: list[str] = []
    printing = "gingham.app.views.sheet.controller.SheetController.ask_print"
    monkeypatch.setattr(printing, lambda _self: asked.append("print"))
    player.since()
    player.press(Key.Key_P, CTRL)
    assert asked == ["print"] and window.pages.current == "sheet" and player.since() == 1, "printed"

    path = tmp_path / "evening class.gingham"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(path), ""))
    player.press(Key.Key_S, CTRL)
    assert path.exists() and window.document.piece.title == "evening class" and player.since() == 1, "saved"
    kept = window.document.piece
    player.press(Key.Key_W, CTRL)
    player.press(Key.Key_O, CTRL)
    player.until_shown()
    assert window.document.piece == kept and len(window.documents) == 1 and player.since() == 2, "reopened"
