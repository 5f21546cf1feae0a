"""A player rendered ahead in a thread of its own; the output takes one prepared block at a time.

The output's callback copies one prepared block and does nothing else, so that a busy window cannot make
the sound stutter. This module loads NumPy, so it is imported only when something is to be played.
"""

from __future__ import annotations

import sys
import threading
import time
from collections import deque
from collections.abc import Callable

import numpy as np

from gingham.app.sound.devices import BLOCK
from gingham.app.work.worker import report_fault
from gingham.core import courtesy
from gingham.core.sound.player import Player
from gingham.core.sound.rate import RATE_HZ
from gingham.core.sound.room import Room, Stereo
from gingham.core.sound.tape import Tape

_SWITCH_S = 0.0005  # how long another Python thread may keep the renderer waiting, while something plays
_AHEAD_BLOCKS = 10  # 232 ms at 1024 samples
_ENOUGH_BLOCKS = 5  # with so many ready the renderer can wait for a picture


class Stream:
    """A player that is rendered ahead in a thread of its own."""

    def __init__(self, player: Player | Tape) -> None:
        self._player, self._room = player, Room()
        self._ready: deque[tuple[Stereo, float, float]] = deque()
        self._wake = threading.Condition()
        self._changes: deque[Callable[[Player], None]] = deque()
        self._running = True
        self._at: tuple[float, float, float] | None = None  # position, step, when it began to sound
        self.ended = False
        self.underruns = 0
        self._switch_s = sys.getswitchinterval()
        sys.setswitchinterval(_SWITCH_S)
        self._thread = threading.Thread(target=self._work, name="renderer", daemon=True)
        self._thread.start()

    def change(self, what: Callable[[Player], None]) -> None:
        """Have the renderer change the player before its next block."""
        with self._wake:
            self._changes.append(what)
            self._wake.notify()

    def pull(self) -> Stereo:
        """The next block, shape (BLOCK, 2); silence if none is ready. Called by the output's thread."""
        try:
            samples, position, step = self._ready.popleft()
        except IndexError:
            if not self.ended:
                self.underruns += 1
            return np.zeros((BLOCK, 2), dtype=np.float32)
        self._at = (position, step, time.monotonic())
        if len(self._ready) < _AHEAD_BLOCKS:
            with self._wake:
                self._wake.notify()
        return samples

    def position(self, latency_s: float) -> float | None:
        """Where the sound that is heard now lies, in whole notes; None before the first block."""
        if self._at is None:
            return None
        position, step, since = self._at
        passed_s = min(time.monotonic() - since, BLOCK / RATE_HZ) - latency_s
        return position + passed_s * RATE_HZ * step

    @property
    def rounds(self) -> int:
        """How many rounds of a loop have been rendered."""
        return self._player.rounds

    @property
    def drained(self) -> bool:
        """Whether the piece is over and every block has been taken."""
        return self.ended and not self._ready

    def close(self) -> None:
        """End the thread and wait for it."""
        with self._wake:
            self._running = False
            self._wake.notify()
        self._thread.join()
        sys.setswitchinterval(self._switch_s)

    def _work(self) -> None:
        while True:
            with self._wake:
                while (
                    self._running and not self._changes and (len(self._ready) >= _AHEAD_BLOCKS or self.ended)
                ):
                    self._wake.wait(0.2)
                if not self._running:
                    return
                changes = list(self._changes)
                self._changes.clear()
            if len(self._ready) >= _ENOUGH_BLOCKS:
                courtesy.give_way()
            try:
                self._render(changes)
            except Exception:  # noqa: BLE001  # the playhead must hear of the end
                report_fault()
                self.ended = True

    def _render(self, changes: list[Callable[[Player], None]]) -> None:
        if isinstance(self._player, Player):  # nothing about a take can be changed
            for change in changes:
                change(self._player)
        if not self.ended and len(self._ready) < _AHEAD_BLOCKS:
            position, step = self._player.position, self._player.step()
            self._ready.append((self._room.stereo(self._player.block(BLOCK)), position, step))
            self.ended = self._player.finished
