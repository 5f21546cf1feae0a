"""A take without a microphone: the fingers' keys tapped in time."""

from __future__ import annotations

import time
from collections.abc import Callable
from statistics import median

import msgspec
from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QLabel

from gingham.app.sound.transport import Transport
from gingham.core.listening.taps import KeyTap
from gingham.core.patterns.pattern import FINGERS
from gingham.core.pieces.piece import Piece
from gingham.language import tr

TAPPED = "tapped keys"
"""The name of the source that is the keyboard."""
_CLICKED_BARS = 400


class TapStrip(QLabel):
    """Has the keyboard while a take is tapped. R and Escape end it."""

    tapped = Signal(str)
    ended = Signal()

    def __init__(self) -> None:
        super().__init__(tr("Tap:  P I M A C,  or Space for any finger.  R ends."))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Tap the fingers’ keys here"))
        self.setProperty("tapping", True)
        self.setWordWrap(True)
        self.hide()

    def event(self, event: QEvent) -> bool:
        """Letters are taps, whatever else they are keys of."""
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """A finger, any finger, or the end."""
        typed = event.text().lower()
        if event.isAutoRepeat():
            return
        if typed == "r" or event.key() == Qt.Key.Key_Escape:
            self.ended.emit()
        elif typed in FINGERS and typed:
            self.tapped.emit(typed)
        elif event.key() == Qt.Key.Key_Space:
            self.tapped.emit("")
        else:
            super().keyPressEvent(event)


class TappedTake(msgspec.Struct, frozen=True):
    """The keys; in seconds: when the first beat clicked (None without a click) and how long it lasted."""

    taps: tuple[KeyTap, ...]
    click_s: float | None
    seconds: float


class Tapping(QObject):
    """Gathers taps while the click runs."""

    def __init__(self, strip: TapStrip, transport: Transport, parent: QObject) -> None:
        super().__init__(parent)
        self._strip, self._transport = strip, transport
        self.clock: Callable[[], float] = time.monotonic
        self._began: float | None = None
        self._taps: list[KeyTap] = []
        self._clicks: list[float] = []
        self._piece: Piece | None = None
        self._click = False
        strip.tapped.connect(self._tapped)

    @property
    def running(self) -> bool:
        """Whether keys are taps now."""
        return self._began is not None

    def start(self, piece: Piece, *, click: bool) -> None:
        """Count in, click on if that is wanted, and gather taps."""
        self._piece, self._click = piece, click
        self._taps, self._clicks = [], []
        self._began = self.clock()
        self._strip.show()
        self._strip.setFocus()
        bars = _CLICKED_BARS if click else 1
        self._transport.play_clicks(piece.meter, piece.tempo, bars, clicks=int(click))

    def _tapped(self, finger: str) -> None:
        if self._began is None or self._piece is None:
            return
        now = self.clock() - self._began
        self._taps.append(KeyTap(round(now, 4), finger))
        played_s = self._transport.played_s(self._piece.meter, self._piece.tempo)
        if self._click and played_s is not None:
            self._clicks.append(now - played_s)

    def stop(self) -> TappedTake:
        """End; what was tapped."""
        assert self._began is not None
        lasted = self.clock() - self._began
        self._began = None
        self._transport.stop()
        self._strip.hide()
        click_s = round(median(self._clicks), 4) if self._clicks else None
        return TappedTake(tuple(self._taps), click_s, round(lasted, 3))
