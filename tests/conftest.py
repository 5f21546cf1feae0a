"""Shared fixtures: a window with settings in a temporary folder and the silent clock."""

from __future__ import annotations

import os
import threading
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings as hypothesis_settings
from PySide6.QtCore import QEvent
from PySide6.QtWidgets import QApplication, QMessageBox
from pytestqt.qtbot import QtBot, SignalBlocker

from gingham.app.look import theme
from gingham.app.look.settings import Settings
from gingham.app.session.document import Document
from gingham.app.shell.window import MainWindow
from gingham.app.sound.devices import SilentOutput
from gingham.app.sound.transport import Transport
from gingham.core.music.meter import meter
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.pieces.piece import NamedPattern, Piece, Section
from gingham.core.sound.string import Samples
from gingham.core.sound.timeline import SoundedNote
from gingham.core.sound.voices import VoiceBank

# No test asserts a time. A campaign of thousands: GINGHAM_EXAMPLES=4000 ./scripts/test tests/core -k random
hypothesis_settings.register_profile(
    "gingham", deadline=None, max_examples=int(os.environ.get("GINGHAM_EXAMPLES", "100"))
)
hypothesis_settings.load_profile("gingham")

PATIENCE_MS = 180_000
HEARTH = "4/4 x2: p+m . p i ; p m p i"


def make_piece(chords: str, pattern: str = HEARTH, **changes: object) -> Piece:
    """A piece of one section called Verse."""
    read = parse_pattern(pattern)
    section = Section("Verse", parse_chord_line(chords, read.meter), "Mine")
    fields: dict[str, object] = {"meter": read.meter, **changes}
    return Piece("Lantern test", (section,), (NamedPattern("Mine", read),), **fields)  # type: ignore[arg-type]


class Dry(VoiceBank):
    """Free strings keep quiet, so that what sounds is what has been plucked."""

    def answers(self, note: SoundedNote) -> Iterator[tuple[int, Samples]]:
        """None."""
        return iter(())


class PatientBot(QtBot):
    """Waits for what it needs however busy the machine is: how long that takes is never asserted."""

    def waitUntil(self, callback: Callable[[], bool | None], *, timeout: int = PATIENCE_MS) -> None:
        """As its base, with patience."""
        super().waitUntil(callback, timeout=timeout)

    def waitSignal(self, signal: Any, *, timeout: int = PATIENCE_MS, **more: Any) -> SignalBlocker:
        """As its base, with patience."""
        return super().waitSignal(signal, timeout=timeout, **more)


@pytest.fixture
def qtbot(qapp: QApplication, request: pytest.FixtureRequest) -> PatientBot:
    """The robot that drives the interface."""
    return PatientBot(request)


@pytest.fixture(autouse=True)
def own_folders(tmp_path: Path, monkeypatch) -> None:
    """What a test keeps, it keeps in a folder of its own."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))


@pytest.fixture(autouse=True)
def no_box_waits(monkeypatch) -> None:
    """A box that nobody answers would hold the suite for ever: a test that wants one says what is answered."""

    def unanswered(box: QMessageBox) -> QMessageBox.StandardButton:
        raise AssertionError(f"a box waits: {box.text()}")

    monkeypatch.setattr(QMessageBox, "exec", unanswered)


@pytest.fixture(autouse=True)
def no_window_left() -> None:
    """Windows of tests before are gone: the cloth would be put on each of them again, for seconds."""
    app = QApplication.instance()
    if isinstance(app, QApplication):
        for left in app.topLevelWidgets():
            if left.parent() is None:
                left.deleteLater()
        app.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def play(qtbot, window: MainWindow) -> None:
    """Play, and wait until it plays: what is to sound is put in time in a worker."""
    window.playing.play()
    qtbot.waitUntil(lambda: window.transport.playing)


@pytest.fixture
def piece() -> Piece:
    """The chords of the sketch."""
    return make_piece("| G | Am7 | Dsus4 D | Em7{022030} |", capo=2, tempo=72, meter=meter(4, 4))


@pytest.fixture
def settings(tmp_path: Path) -> Settings:
    """Settings that forget everything after the test."""
    return Settings(tmp_path / "config" / "settings.ini")


@pytest.fixture
def window(qtbot, settings: Settings, qapp: QApplication, piece: Piece, monkeypatch) -> Iterator[MainWindow]:
    """The real window with one piece, fitted and shown; no thread is left behind."""
    before = set(threading.enumerate())
    qapp.sendPostedEvents(None, QEvent.Type.DeferredDelete)  # the cloth is put on all that is still there
    theme.load_fonts()
    theme.apply(theme.LINEN, qapp)
    made = MainWindow(settings, Transport(output=SilentOutput()))
    qtbot.addWidget(made)
    monkeypatch.setattr(made, "ask_unsaved", lambda _document: QMessageBox.StandardButton.Discard)
    with qtbot.waitSignal(made.shown.settled):
        made.add(Document(piece))
    made.resize(1280, 800)
    made.show()
    yield made
    made.close()
    assert set(threading.enumerate()) <= before, "a thread was left behind"
