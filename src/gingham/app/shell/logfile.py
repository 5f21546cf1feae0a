"""The log: what went wrong, in a file of the XDG state folder that the player can read. Nothing is sent."""

from __future__ import annotations

import faulthandler
import threading
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, TextIO

if TYPE_CHECKING:
    import logging

NAME, CRASHES = "gingham.log", "crashes.log"
_MOST_BYTES, _OLDER = 500_000, 3


class LogFile:
    """Rotating files in one folder. Where they cannot be written the program goes on without."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._opening = threading.Lock()
        self._logger: logging.Logger | None = None
        self._crashes: TextIO | None = None

    @property
    def path(self) -> Path:
        """The file that is written now."""
        return self.folder / NAME

    def catch_crashes(self) -> None:
        """Have Python itself write down where every thread was if the process dies of a signal."""
        with suppress(OSError):
            self.folder.mkdir(parents=True, exist_ok=True)
            self._crashes = (self.folder / CRASHES).open("a")  # open for as long as the program runs
            faulthandler.enable(self._crashes)

    def open(self) -> None:
        """Begin to write, once; takes a moment, so after the first picture."""
        import logging  # not needed before the first picture
        import logging.handlers
        import platform
        from importlib.metadata import version

        with self._opening:
            if self._logger is not None:
                return
            self._logger = logging.Logger("gingham", logging.INFO)
            try:
                self.folder.mkdir(parents=True, exist_ok=True)
                handler = logging.handlers.RotatingFileHandler(
                    self.path, maxBytes=_MOST_BYTES, backupCount=_OLDER, encoding="utf-8", errors="replace"
                )
            except OSError:
                return
            handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(message)s"))
            handler.handleError = lambda record: None  # type: ignore[method-assign]  # a full disk is said elsewhere
            self._logger.addHandler(handler)
        self.note(f"Gingham {version('gingham')}, Python {platform.python_version()}, {platform.platform()}")

    def note(self, text: str, *, fault: bool = False) -> None:
        """Write a line, or a fault with its traceback."""
        self.open()
        assert self._logger is not None
        (self._logger.error if fault else self._logger.info)("%s", text)

    def close(self) -> None:
        """Write no more."""
        if self._crashes is not None:
            faulthandler.disable()
            self._crashes.close()
            self._crashes = None
        if self._logger is not None:
            for handler in list(self._logger.handlers):
                self._logger.removeHandler(handler)
                handler.close()
