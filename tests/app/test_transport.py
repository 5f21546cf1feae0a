"""Playing: rendered ahead in a thread, taken by an output, faults of devices said once."""

from __future__ import annotations

import sys
import threading
import time
import types

import numpy as np
import pytest

from gingham.app.sound import devices
from gingham.app.sound.devices import BLOCK, CardOutput, SilentOutput, open_output
from gingham.app.sound.stream import Stream
from gingham.app.sound.transport import Transport
from gingham.core.fitting.whole import fit_piece
from gingham.core.sound.player import Player
from gingham.core.sound.room import Room
from gingham.core.sound.timeline import timeline
from gingham.core.sound.voices import VoiceBank
from tests.conftest import make_piece, play


class Handed:
    """An output that takes blocks when the test says so."""

    latency_s = 0.0

    def __init__(self) -> None:
        self.pull = None

    def start(self, pull) -> None:
        """Keep the function that gives blocks."""
        self.pull = pull

    def stop(self) -> None:
        """Take no more."""
        self.pull = None

    def close(self) -> None:
        """Nothing to do."""


def wait_for(condition) -> None:
    """Until it holds, or two seconds."""
    for _ in range(400):
        if condition():
            return
        time.sleep(0.005)
    raise AssertionError("waited in vain")


def test_the_stream_gives_what_the_player_would() -> None:
    """Block for block the same samples, rendered ahead; the end is told."""
    line = timeline(fit_piece(make_piece("| G |", "4/4 x1: p i p i")))
    room, plain, stream = Room(), Player(line, VoiceBank(), 240.0), Stream(Player(line, VoiceBank(), 240.0))
    try:
        for _ in range(12):
            wait_for(lambda: stream._ready)
            assert np.array_equal(stream.pull(), room.stereo(plain.block(BLOCK)))
        assert stream.underruns == 0
        stream.change(lambda player: setattr(player, "position", 99.0))
        wait_for(lambda: not stream._ready or stream.pull() is None or stream.drained)
    finally:
        stream.close()


def test_a_stream_that_is_not_ready_gives_silence_and_counts_it() -> None:
    """The callback never waits."""
    line = timeline(fit_piece(make_piece("| G |")))
    stream = Stream(Player(line, VoiceBank(), 100.0))
    stream.close()
    while stream._ready:
        stream.pull()
    assert not np.any(stream.pull()) and stream.underruns == 1


def test_tempo_and_layers_reach_the_renderer(qtbot) -> None:
    """Changes are made by the rendering thread between two blocks."""
    output = Handed()
    transport = Transport(output=output)
    transport.set_count_in("")
    results = fit_piece(make_piece("| G |"))
    transport.play(results, 60)
    player = transport._stream._player
    transport.set_tempo(120)
    transport.set_muted(frozenset("imac"))
    transport.set_clicks(True)
    wait_for(lambda: player.tempo_bpm == 120.0 and player.muted and player.clicks)
    transport.replace_line(timeline(fit_piece(make_piece("| C | D |"))))
    wait_for(lambda: player.line.length == 2.0)
    transport.close()
    assert not transport.playing


def test_the_silent_clock_keeps_time() -> None:
    """Each block is taken when its time has come, by the clock that it is given."""
    now = [0.0]
    naps: list[float] = []
    taken = []

    def sleep(seconds: float) -> None:
        naps.append(seconds)
        now[0] += seconds

    output = SilentOutput(clock=lambda: now[0], sleep=sleep)
    done = threading.Event()

    def pull():
        taken.append(now[0])
        if len(taken) == 50:
            done.set()
            output._running.clear()
        return np.zeros((BLOCK, 2), dtype=np.float32)

    output.start(pull)
    assert done.wait(2)
    output.stop()
    assert taken[:50] == pytest.approx([k * BLOCK / 44_100 for k in range(50)])


def fake_sounddevice(fault: Exception | None) -> types.ModuleType:
    """A stand-in for the sound library."""
    module = types.ModuleType("sounddevice")
    module.PortAudioError = type("PortAudioError", (Exception,), {})

    def check(**_settings: object) -> None:
        if fault is not None:
            raise fault if not isinstance(fault, str) else module.PortAudioError(fault)

    class OutputStream:
        latency = 0.02

        def __init__(self, callback, **_settings: object) -> None:
            self.callback = callback

        def start(self) -> None:
            """Ask for one block, as a card would."""
            out = np.zeros((BLOCK, 2), dtype=np.float32)
            self.callback(out, BLOCK, None, None)
            module.heard = out

        def close(self) -> None:
            """Nothing to do."""

    module.check_output_settings, module.OutputStream = check, OutputStream
    return module


def test_no_card_or_no_library_falls_back_to_the_silent_clock(monkeypatch) -> None:
    """Said in one sentence; with a card the blocks go there."""
    monkeypatch.setitem(sys.modules, "sounddevice", fake_sounddevice(ValueError("no device")))
    output, why = open_output()
    assert isinstance(output, SilentOutput) and "No sound card" in why
    monkeypatch.setitem(sys.modules, "sounddevice", None)
    output, why = open_output()
    assert isinstance(output, SilentOutput) and "No sound library" in why
    module = fake_sounddevice(None)
    monkeypatch.setitem(sys.modules, "sounddevice", module)
    output, why = open_output()
    assert isinstance(output, CardOutput) and why == ""
    output.start(lambda: np.full((BLOCK, 2), 0.25, dtype=np.float32))
    assert np.all(module.heard == 0.25) and output.latency_s == 0.02
    output.close()


def test_the_window_says_once_that_playing_is_silent(qtbot, window, monkeypatch) -> None:
    """Quietly, at the bottom, not at every play."""
    said: list[str] = []
    window.playing.notice.connect(said.append)
    window.transport._output = None
    monkeypatch.setattr(devices, "RATE_HZ", devices.RATE_HZ)
    monkeypatch.setitem(sys.modules, "sounddevice", fake_sounddevice(ValueError("no device")))
    for _ in range(2):
        play(qtbot, window)
        window.playing.stop()
    assert len(said) == 1 and "silent" in said[0]


def test_an_unplugged_card_gives_way_to_the_silent_clock_and_the_playhead_runs_on(qtbot, monkeypatch) -> None:
    """Said once, from the same place; the next play tries the card again; a card that refuses to start as well."""
    module = fake_sounddevice(None)
    monkeypatch.setitem(sys.modules, "sounddevice", module)
    transport, said, places = Transport(), [], []
    transport.notice.connect(said.append)
    transport.moved.connect(lambda _owner, _section, bar, inside: places.append(bar + inside))
    transport.set_count_in("")
    line = fit_piece(make_piece("| G | C | G | C |", tempo=240))
    transport.play(line, 240)
    card = transport._output
    assert isinstance(card, CardOutput)
    card.lost = True
    qtbot.waitUntil(lambda: isinstance(transport._output, SilentOutput))
    assert transport.playing and len(said) == 1 and "unplugged" in said[0]
    qtbot.waitUntil(lambda: len(places) > 5)
    assert places == sorted(places)
    transport.play(line, 240)
    assert isinstance(transport._output, CardOutput) and not transport._output.lost
    transport.stop()

    def refuses(*_a: object, **_k: object) -> None:
        raise module.PortAudioError("busy")

    monkeypatch.setattr(module, "OutputStream", refuses)
    transport.play(line, 240)
    assert transport.playing and isinstance(transport._output, SilentOutput) and "busy" in said[-1]
    transport.close()


def test_cards_are_listed_and_one_is_chosen(window, monkeypatch) -> None:
    """By name, only those that can play; the choice is remembered; one that is gone gives way to the usual card."""
    module = fake_sounddevice(None)
    module.query_devices = lambda: [
        {"name": "Harbour speakers", "max_output_channels": 2}, {"name": "A microphone", "max_output_channels": 0},
    ]  # fmt: skip
    monkeypatch.setitem(sys.modules, "sounddevice", module)
    names = [action.text() for action in window.device_menu().actions()]
    assert names == ["The usual sound card", "Harbour speakers"]
    window.device_menu().actions()[1].trigger()
    assert window.transport.device == "Harbour speakers" == window.settings.text("device", "")

    def check(device=None, **_settings: object) -> None:
        if device:
            raise ValueError("gone")

    module.check_output_settings = check
    output, why = open_output("Harbour speakers")
    assert isinstance(output, CardOutput) and "not there" in why
