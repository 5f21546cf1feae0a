"""The tuner and the ring check in the drawer, with the simulated player as the microphone."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from gingham.app.shell.window import MainWindow
from gingham.app.sound import inputs
from gingham.app.views.tuning.panel import TuningPanel
from gingham.core.errors import TakeError
from gingham.core.pieces.piece import Piece
from tests.conftest import make_piece


@pytest.fixture
def piece() -> Piece:
    """C is under the cursor."""
    return make_piece("| C | G |", "4/4 x2: p i m i p i m i")


@pytest.fixture
def panel(window: MainWindow, tmp_path: Path, monkeypatch) -> TuningPanel:
    """The drawer, and a simulated player for whom no time passes."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    window.settings.set_text("microphone", inputs.SIMULATED)
    window.actions_by_id["tune"].trigger()
    panel = window.drawers.tuning
    assert panel is not None
    panel.ear.sleep = lambda _seconds: None
    return panel


def kept(window):
    return window.logbook.record.ticks


def test_strings_out_of_tune_are_told_which_way(qtbot, window, panel) -> None:
    """L listens; each string's strip stands where it is; the words say which way; the end is said."""
    window.settings.set_text("simulated-tuning", "6=-14 4=7 1=95")
    said = []
    panel.ear.toned.connect(lambda _tone: said.append(panel.said.text()))
    QTest.keyClick(panel, Qt.Key.Key_L)
    assert panel.listen.text().startswith("Stop")
    qtbot.waitUntil(lambda: not panel.ear.tuning_now)
    cents = [needle.tone.cents for needle in panel.needles if needle.tone is not None]
    assert cents == pytest.approx([-14, 0, 7, 0, 0, 95], abs=1.0)
    assert any(text.startswith("String 6: 14 cents too low: turn it up") for text in said)
    assert any("Tighter still, and it may break" in text for text in said)
    assert panel.needles[0].accessibleDescription().startswith("14 cents too low")
    assert "played every string" in panel.said.text() and panel.listen.text().startswith("Listen")


def test_strings_in_tune_are_kept_for_the_record(qtbot, window, panel, tmp_path) -> None:
    window.settings.set_text("simulated-tuning", "6=1 3=-2")
    panel.listen.click()
    qtbot.waitUntil(lambda: not panel.ear.tuning_now)
    assert panel.said.text() == "Every string is in tune."
    (tick,) = kept(window)
    assert (tick.kind, tick.piece, set(tick.found)) == ("tuned", window.document.identity, set("654321"))


def test_the_held_strings_ring_or_do_not(qtbot, window, panel, tmp_path) -> None:
    """R checks the chord under the cursor, string by string, with causes from its shape."""
    window.settings.set_text("simulated-ring", "4=buzzing 1=dead nonsense 9=dead")
    assert panel.ring.text() == "Check C   R"
    QTest.keyClick(panel, Qt.Key.Key_R)
    assert panel.rings.text() == "Now pluck string 5, and let it ring."
    qtbot.waitUntil(lambda: panel.ear.check is None)
    lines = panel.rings.text().split("\n")
    assert lines[0] == "String 5: clear." and lines[1].startswith("String 4: buzzing. Try: finger 2 closer")
    assert lines[4].startswith("String 1: dead: it does not ring. Try: finger 1 on string 2 leans on it")
    assert panel.said.text() == "3 of 5 strings ring clear."
    qtbot.waitUntil(lambda: not panel.rings.visibleRegion().isEmpty())
    (tick,) = kept(window)
    assert (tick.kind, tick.symbol, tick.shape) == ("rang", "C", "x32010")
    assert tick.found == {"5": "clear", "4": "buzzing", "3": "clear", "2": "clear", "1": "dead"}


def test_one_string_may_be_asked_for_and_its_own_tone_is_not_heard(qtbot, window, panel) -> None:
    panel.ear.sleep = None  # the real pace: it must not be over before the key
    panel.listen.click()
    qtbot.waitUntil(lambda: panel.ear.ear.listening)
    QTest.keyClick(panel, Qt.Key.Key_5)
    assert panel.ear.tuner.only == 5 and [needle.asked for needle in panel.needles].index(True) == 1
    assert window.transport.playing
    QTest.keyClick(panel, Qt.Key.Key_A)
    assert panel.ear.tuner.only is None
    panel.listen.click()
    assert panel.ear.tuner is None and not panel.ear.ear.listening


def test_nothing_is_listened_to_unseen(qtbot, window, panel) -> None:
    panel.ear.sleep = None
    panel.listen.click()
    qtbot.waitUntil(lambda: panel.ear.ear.listening)
    window.actions_by_id["sheet"].trigger()
    assert not panel.ear.tuning_now and not panel.ear.ear.listening


def test_without_a_microphone_it_says_what_to_do(window, panel, monkeypatch) -> None:
    class Refusing(inputs.CardInput):
        def start(self, _push) -> None:
            raise TakeError("no-microphone", why="taken by another program")

    monkeypatch.setattr("gingham.app.views.tuning.listening.CardInput", Refusing)
    monkeypatch.setattr(inputs, "microphone_names", lambda: ["Harbour microphone"])
    window.settings.set_text("microphone", "Harbour microphone")
    panel.listen.click()
    assert "taken by another program" in panel.said.text() and not panel.ear.tuning_now


def test_a_microphone_that_vanishes_is_told(qtbot, window, panel, monkeypatch) -> None:
    class Vanishing(inputs.CardInput):
        def start(self, _push) -> None:
            self.lost = True

    monkeypatch.setattr("gingham.app.views.tuning.listening.CardInput", Vanishing)
    monkeypatch.setattr(inputs, "microphone_names", lambda: ["Harbour microphone"])
    window.settings.set_text("microphone", "Harbour microphone")
    panel.listen.click()
    qtbot.waitUntil(lambda: not panel.ear.tuning_now)
    assert "microphone has stopped" in panel.said.text()


@pytest.mark.parametrize("names", [[], ["Harbour microphone"]])
def test_which_microphone_is_usual(monkeypatch, names: list[str]) -> None:
    """The player that needs none where there is none; a wanted one that is gone gives way."""
    monkeypatch.setattr(inputs, "microphone_names", lambda: names)
    rows = inputs.microphones()
    assert [name for name, _ in rows] == ["", *names, inputs.SIMULATED]
    usual = "" if names else inputs.SIMULATED
    assert inputs.usual_microphone("", rows) == inputs.usual_microphone("gone", rows) == usual
    assert inputs.usual_microphone(inputs.SIMULATED, rows) == inputs.SIMULATED
