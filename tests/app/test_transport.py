"""Playing: rendered ahead in a thread, taken by an output, faults of devices said once."""

from __future__ import annotations

import sys
import threading
import time
import types

import numpy as np
import pytest

from gingham.app import devices
from gingham.app.devices import BLOCK, CardOutput, SilentOutput, open_output
from gingham.app.stream import Stream
from gingham.app.transport import Transport
from gingham.core.fitting.whole import fit_piece
from gingham.core.sound.player import Player, VoiceBank
from gingham.core.sound.timeline import timeline
from tests.conftest import make_piece


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
    plain, stream = Player(line, VoiceBank(), 240.0), Stream(Player(line, VoiceBank(), 240.0))
    try:
        for _ in range(12):
            wait_for(lambda: stream._ready)
            assert np.array_equal(stream.pull(), plain.block(BLOCK))
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
    transport.count_in = False
    results = fit_piece(make_piece("| G |"))
    transport.play(results, 60)
    player = transport._stream._player
    transport.set_tempo(120)
    transport.set_muted(frozenset("imac"))
    transport.set_clicks(True)
    wait_for(lambda: player.tempo_bpm == 120.0 and player.muted and player.clicks)
    transport.replace(fit_piece(make_piece("| C | D |")))
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
        return np.zeros(BLOCK, dtype=np.float32)

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
            out = np.zeros((BLOCK, 1), dtype=np.float32)
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
    output.start(lambda: np.full(BLOCK, 0.25, dtype=np.float32))
    assert np.all(module.heard == 0.25) and output.latency_s == 0.02
    output.close()


def test_the_window_says_once_that_playing_is_silent(window, monkeypatch) -> None:
    """Quietly, at the bottom, not at every play."""
    said: list[str] = []
    window.playing.notice.connect(said.append)
    window.transport._output = None
    monkeypatch.setattr(devices, "RATE_HZ", devices.RATE_HZ)
    monkeypatch.setitem(sys.modules, "sounddevice", fake_sounddevice(ValueError("no device")))
    for _ in range(2):
        window.playing.play()
        window.playing.stop()
    assert len(said) == 1 and "silent" in said[0]
