"""When Python looks for rubbish: while the player rests, never in the middle of an edit.

Python's own collector runs whenever enough has been made, for tens of milliseconds with a long piece, and in
whichever thread happens to be there. Nearly all of our values are freed without it.
"""

from __future__ import annotations

import gc

from PySide6.QtCore import QObject, QTimer, SignalInstance

from gingham.app.sound.transport import Transport

_REST_MS = 3_000
_LOOK_MS = 500
_TOO_MUCH = 400_000  # new objects (about 50 MB): work without any rest must not fill the memory


class Sweeper(QObject):
    """Takes the collector over for as long as the program runs."""

    def __init__(self, worked: SignalInstance, transport: Transport, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._transport = transport
        self._frozen = False
        gc.disable()
        self._rest = QTimer(self, singleShot=True, interval=_REST_MS)
        self._rest.timeout.connect(self.sweep)
        worked.connect(self._rest.start)
        self._look = QTimer(self, interval=_LOOK_MS)
        self._look.timeout.connect(self._keep_small)
        self._look.start()

    def sweep(self) -> None:
        """The young rubbish while something plays, all of it otherwise."""
        if self._transport.playing:
            gc.collect(0)
            return
        gc.collect()
        if not self._frozen:
            gc.freeze()  # the window and what it stands on: there for good, and slow to look through
            self._frozen = True

    def _keep_small(self) -> None:
        if gc.get_count()[0] > _TOO_MUCH:
            gc.collect(1)

    def close(self) -> None:
        """Python collects by itself again."""
        self._rest.stop()
        self._look.stop()
        gc.enable()
