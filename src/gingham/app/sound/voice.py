"""The system's own speech, where it is there, names the chord that comes next. Nothing waits for it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from gingham.app.sound.playing import Playing
from gingham.words.notices import notice

if TYPE_CHECKING:
    import subprocess

_SPEAKERS = (("spd-say", "-w"), ("espeak-ng",), ("espeak",))
"""Commands that speak their last argument."""


def speaker() -> tuple[str, ...] | None:
    """The first of the known commands that is installed; None if there is none."""
    import shutil

    found = ((shutil.which(name), rest) for name, *rest in _SPEAKERS)
    return next(((path, *rest) for path, rest in found if path is not None), None)


class Voice(QObject):
    """Says each change as it is called, while it is switched on."""

    notice = Signal(str)

    def __init__(self, playing: Playing, parent: QObject) -> None:
        super().__init__(parent)
        self._on = False
        self._now: subprocess.Popen[bytes] | None = None
        playing.chord_called.connect(self.say)

    def set_on(self, on: bool) -> None:
        """Speak, or not; without any speech the player is told."""
        self._on = on
        if on and speaker() is None:
            self.notice.emit(notice("voice-none"))

    def say(self, chord: str) -> None:
        """Name a chord; what is still being said is cut off."""
        command = speaker() if self._on else None
        if command is None:
            return
        import subprocess

        from gingham.words.spoken import spoken_chord

        if self._now is not None and self._now.poll() is None:
            self._now.terminate()
        try:
            self._now = subprocess.Popen(
                [*command, spoken_chord(chord)],
                stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
            )  # fmt: skip
        except OSError:
            self._now = None

    def close(self) -> None:
        """Silence."""
        if self._now is not None:
            self._now.terminate()
            self._now.wait()
            self._now = None
