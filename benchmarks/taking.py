"""Takes as a player meets them: from stop to picture, stalls of the window, lost blocks, tuner, delay.

Run: `.venv/bin/python -m benchmarks.taking [MINUTES] [BUSY]`: how long is recorded (1 if not given) beside
how many busy processes (2). References in the same run: the samples put in, the cents put in, the delay put
in, an idle window's longest stall.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PySide6.QtWidgets import QApplication

from gingham.app.look import theme
from gingham.app.look.settings import Settings
from gingham.app.shell.start import fill
from gingham.app.shell.window import MainWindow
from gingham.app.sound.inputs import SIMULATED, SimulatedInput
from gingham.app.sound.recorder import Recorder
from gingham.app.views.takes.controller import TakesController
from gingham.app.views.takes.delaying import delay_s
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.listening.simulate_strings import open_strings
from gingham.core.listening.tuner import Tuner
from gingham.core.pieces.piece import Piece
from gingham.core.sound.rate import RATE_HZ
from gingham.core.values import replace

_TAKE_S = 30
_DELAYS_S = (0.011, 0.038, 0.090, 0.240)


class Stalls:
    """The longest time the window was not there for its player."""

    def __init__(self) -> None:
        self.longest_ms = 0.0

    def run(self, until: Callable[[], bool], at_most_s: float = 600.0) -> float:
        """Turn the event loop until something is so; the seconds that took."""
        began = last = time.perf_counter()
        while not until():
            QApplication.processEvents()
            now = time.perf_counter()
            self.longest_ms = max(self.longest_ms, 1000.0 * (now - last))
            if now - began > at_most_s:
                raise SystemExit("that never came")
            time.sleep(0.001)
            last = time.perf_counter()
        return time.perf_counter() - began


def tuner_error(piece: Piece) -> float:
    """The worst error in cents over all strings of four instruments on three sounds."""
    worst = 0.0
    for instrument in CATALOGUE.values():
        for voice in ("own", "nylon", "steel"):
            here = replace(piece, instrument=instrument, rules=replace(piece.rules, voice=voice))
            count = instrument.strings
            out = {string: (-41.0, 17.0, -6.0, 3.0, 52.0, -1.0)[string - 1] for string in range(1, count + 1)}
            tuner = Tuner(RATE_HZ, [instrument.open_midi(string) for string in range(1, count + 1)])
            last = {tone.string: tone.cents for tone in tuner.feed(open_strings(here, out))}
            assert last.keys() == out.keys()
            worst = max(worst, *(abs(last[string] - out[string]) for string in out))
    return worst


def a_take(page: TakesController, stalls: Stalls, *, playing: bool) -> None:
    """A take of half a minute in real time; what its picture took, and the longest stall."""
    taking = page.taking
    page.view.click.setChecked(playing)
    number = max((kept.number for kept in page.kept), default=0) + 1
    stalls.longest_ms = 0.0
    taking.record_or_stop()
    stalls.run(lambda: taking.recorder.recording)
    stalls.run(lambda: taking.recorder.seconds >= _TAKE_S or not taking.busy)
    recording, stalls.longest_ms = stalls.longest_ms, 0.0
    if taking.recorder.recording:
        taking.record_or_stop()
    seconds = stalls.run(lambda: page.taken is not None and page.taken.kept.number == number)
    print(
        f"{page.taken.sound.seconds:.0f} s recorded{' to a click' if playing else ''}: picture after"
        f" {seconds:.2f} s; longest stall while recording {recording:.1f}, while it is heard"
        f" {stalls.longest_ms:.1f} ms"
    )


def heard_again(page: TakesController, stalls: Stalls) -> None:
    """The take played with its playhead."""
    stalls.longest_ms = 0.0
    page.play_or_stop()
    began = time.perf_counter()
    stalls.run(lambda: time.perf_counter() - began > 5.0)
    page.play_or_stop()
    print(f"a take played: longest stall {stalls.longest_ms:.1f} ms")


def long_recording(folder: Path, minutes: float, busy: int, stalls: Stalls) -> None:
    """Minutes recorded in real time beside busy processes: every sample has to be on disk."""
    import soundfile

    sound = np.random.default_rng(1).integers(-20_000, 20_000, int(60 * minutes * RATE_HZ)).astype(np.float32)
    others = [subprocess.Popen([sys.executable, "-c", "while True: pass"]) for _ in range(busy)]
    ended = []
    recorder = Recorder()
    recorder.ended.connect(lambda seconds, _error: ended.append(seconds))
    stalls.longest_ms = 0.0
    try:
        recorder.start(SimulatedInput(sound / 32768.0), folder / "long.flac")
        stalls.run(lambda: bool(ended), 60 * minutes + 60)
    finally:
        for other in others:
            other.kill()
            other.wait()
    kept, _ = soundfile.read(folder / "long.flac", dtype="int16")
    same = len(kept) == len(sound) and bool((kept == sound.astype(np.int16)).all())
    print(
        f"{minutes:g} minutes recorded beside {busy} busy processes: {len(sound) - len(kept)} samples lost of"
        f" {len(sound)}, {'each as it was put in' if same else 'NOT as they were put in'}; longest stall"
        f" {stalls.longest_ms:.1f} ms"
    )


def delays(page: TakesController, settings: Settings, stalls: Stalls) -> None:
    """The loop test against what was put in."""
    delaying = page.taking.delaying
    for put_in in _DELAYS_S:
        delaying.simulated_s = put_in
        delaying.start(SIMULATED)
        stalls.run(lambda: not delaying.running and not delaying._job.busy)
        QApplication.processEvents()
        print(f"delay put in {1000 * put_in:.1f} ms, measured {1000 * delay_s(settings, SIMULATED):.1f} ms")


def main() -> None:
    """Print every figure."""
    minutes, busy = float((*sys.argv[1:], "1")[0]), int((*sys.argv[2:], "2")[0])
    app = QApplication([])
    theme.load_fonts()
    theme.apply(theme.LINEN, app)
    stalls = Stalls()
    with tempfile.TemporaryDirectory() as name:
        os.environ["XDG_DATA_HOME"] = name
        settings = Settings(Path(name) / "settings.ini")
        settings.set_text("simulated-faults", "jitter=7 gallop=28 hesitate=140 missed=1 wrong=1")
        window = MainWindow(settings)
        fill(window, [], demo=True)
        window.resize(1280, 800)
        window.show()
        window.actions_by_id["takes"].trigger()
        page = window.pages.takes
        assert page is not None
        page.view.source.setCurrentIndex(page.view.source.findData(SIMULATED))
        began = time.perf_counter()
        stalls.run(lambda: time.perf_counter() - began > 3.0)  # it settles
        stalls.longest_ms = 0.0
        stalls.run(lambda: time.perf_counter() - began > 6.0)
        print(f"reference: an idle window's longest stall {stalls.longest_ms:.1f} ms")
        print(f"tuner: worst error {tuner_error(window.shown.piece):.2f} cents (budget 1)")
        for playing in (False, True):
            a_take(page, stalls, playing=playing)
        heard_again(page, stalls)
        delays(page, settings, stalls)
        long_recording(Path(name), minutes, busy, stalls)
        window.close()
        app.quit()
    os._exit(0)


if __name__ == "__main__":
    main()
