"""What is heard, measured: onsets, seams of loops and tempo changes, loudness, underruns on a busy machine.

Run: `.venv/bin/python -m benchmarks.hearing [SECONDS]` (how long the busy machine plays; 30 if not given).
References in the same run: the loudest step of the signal away from seams; the loop with a gap of one block.
"""

from __future__ import annotations

import sys
import threading
import time
from collections.abc import Iterator

import numpy as np

from gingham.app.sound.devices import BLOCK, SilentOutput
from gingham.app.sound.stream import Stream
from gingham.core.fitting.whole import fit_piece
from gingham.core.formats.piece_file import load_piece
from gingham.core.sound.player import Player
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.string import Samples
from gingham.core.sound.timeline import SoundedNote, Timeline, cut, timeline
from gingham.core.sound.voices import VoiceBank
from gingham.data import FOLDER


class Ticks(VoiceBank):
    """One sample a note, so that onsets can be read off."""

    def note(self, note: SoundedNote) -> np.ndarray:
        """A sample of 1."""
        return np.ones(1, dtype=np.float32)

    def answers(self, note: SoundedNote) -> Iterator[tuple[int, Samples]]:
        """None: free strings would sound between."""
        return iter(())


def demo_line() -> Timeline:
    """The first demo piece."""
    path = sorted((FOLDER / "demo").glob("*.gingham"))[0]
    return timeline(fit_piece(load_piece(path)))


def onset_error(line: Timeline, tempo: float) -> int:
    """The worst distance of an onset from where it belongs, in samples."""
    player = Player(line, Ticks(), tempo)
    sound = np.concatenate([player.block(1000) for _ in range(60 * RATE_HZ // 1000)])
    found = np.nonzero(np.abs(sound) > 0.01)[0]
    whole_s = 60.0 / tempo / line.beat
    wanted = np.unique([round(n.at * whole_s * RATE_HZ) for n in line.notes if n.gain])
    wanted = wanted[wanted < len(sound) - RATE_HZ]
    return int(max(np.min(np.abs(found - at)) for at in wanted))


def steps(sound: np.ndarray) -> np.ndarray:
    """How far the signal jumps beyond what its neighbours lead to expect: the second difference."""
    return np.abs(np.diff(sound.astype(np.float64), n=2))


def seams(line: Timeline) -> tuple[float, float, float]:
    """The loudest step within 2 ms of a seam without an onset, elsewhere, and with a gap of one block."""
    part = cut(line, 0.0625, 1.0625)  # begins and ends between plucks
    player = Player(part, VoiceBank(), 90.0, loop=True)
    length = round(part.length / part.beat * 60 / 90.0 * RATE_HZ)
    sound = np.concatenate([player.block(1000) for _ in range(6 * length // 1000)])
    size = steps(sound)
    places = [k * length for k in range(2, 6)]
    near = max(float(size[at - 90 : at + 90].max()) for at in places)
    quiet = np.ones(len(size), dtype=bool)
    for note in part.notes:
        for k in range(6):
            at = round((note.at + k * part.length) / part.beat * 60 / 90.0 * RATE_HZ)
            quiet[max(0, at - 60) : at + 400] = False
    elsewhere = float(size[: len(quiet)][quiet].max())
    gapped = sound.copy()
    gapped[places[0] : places[0] + BLOCK] = 0.0
    return near, elsewhere, float(steps(gapped)[places[0] - 90 : places[0] + 90].max())


def tempo_seam(line: Timeline) -> float:
    """The loudest step where the tempo changes, between plucks."""
    player = Player(line, VoiceBank(), 60.0)
    before = [player.block(1000) for _ in range(100)]
    at = len(np.concatenate(before))
    player.tempo_bpm = 90.0
    sound = np.concatenate([*before, player.block(1000)])
    return float(steps(sound)[at - 60 : at + 60].max())


def busy(seconds: float) -> tuple[int, float]:
    """Underruns of a play into a paced sink while another thread computes; and how long it really took."""
    stream = Stream(Player(demo_line(), VoiceBank(), 100.0, loop=True))
    output, ends = SilentOutput(), time.monotonic() + seconds

    def work() -> None:
        while time.monotonic() < ends:
            sum(i * i for i in range(20_000))

    thread = threading.Thread(target=work)
    time.sleep(0.3)
    began = time.monotonic()
    output.start(stream.pull)
    thread.start()
    thread.join()
    output.stop()
    stream.close()
    return stream.underruns, time.monotonic() - began


def main() -> None:
    """Print the figures."""
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 30.0
    line = demo_line()
    worst = max(onset_error(line, tempo) for tempo in (60.0, 87.0, 133.0))
    print(f"worst onset error                    {worst} samples")
    near, elsewhere, gap = seams(line)
    print(f"loudest step at a loop's seam        {near:.5f}   elsewhere {elsewhere:.5f}   (a gap: {gap:.5f})")
    print(f"loudest step at a tempo change       {tempo_seam(line):.5f}")
    player = Player(line, VoiceBank(), 100.0)
    sound = np.concatenate([player.block(RATE_HZ) for _ in range(30)])
    level = 20 * np.log10(np.sqrt(np.mean(sound.astype(np.float64) ** 2)))
    print(f"level of the demo piece              {level:.1f} dB RMS, peak {np.abs(sound).max():.2f} of 1")
    missed, took = busy(seconds)
    print(f"underruns in {took:.0f} s on a busy machine  {missed}")


if __name__ == "__main__":
    main()
