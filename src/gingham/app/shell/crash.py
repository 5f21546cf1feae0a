"""The one hook for faults of our own: save the player's work, then say so. Known faults are only said."""

from __future__ import annotations

import os
import sys
import threading
import traceback
from collections.abc import Callable
from contextlib import suppress
from datetime import datetime
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from gingham.app.shell.failing import report_text
from gingham.app.shell.frame import Frame
from gingham.core.errors import GinghamError
from gingham.core.formats.suffix import SUFFIX
from gingham.language import tr
from gingham.words.errors import say
from gingham.words.notices import notice

if TYPE_CHECKING:
    from gingham.app.session.document import Document
    from gingham.app.shell.logfile import LogFile

REPORT = "report.txt"
"""What can be sent to the makers, beside the log."""


def rescue(documents: list[Document], folder: Path, now: datetime) -> list[Path]:
    """Save a copy of every modified piece into `folder`; the files that could be written."""
    from gingham.core.formats.piece_file import save_piece  # loaded when a file is read or written

    saved: list[Path] = []
    for number, document in enumerate(documents, 1):
        if not document.modified:
            continue
        once = os.urandom(4).hex()  # two faults in the same second must not overwrite each other's copies
        path = folder / f"rescued-{now:%Y%m%d-%H%M%S}-{number}-{once}{SUFFIX}"
        try:
            folder.mkdir(parents=True, exist_ok=True)
            save_piece(document.piece, path, document.identity)
        except (GinghamError, OSError):
            continue
        saved.append(path)
    return saved


class Hook(QObject):
    """Hears of every exception that nobody caught, from whatever thread, in the interface thread."""

    _elsewhere = Signal(object)

    def __init__(
        self,
        window: Frame,
        folder: Path,
        log: LogFile | None = None,
        clock: Callable[[], datetime] = datetime.now,
    ) -> None:
        super().__init__(window)
        self._window, self._folder, self._log, self._clock = window, folder, log, clock
        self._elsewhere.connect(self.report)  # queued where it comes from another thread

    def report(self, error: BaseException) -> None:
        """Rescue the work and say what happened; a fault that Gingham knows is only said."""
        if isinstance(error, GinghamError):
            self._window.notify(say(error))
            return
        text = "".join(traceback.format_exception(error))
        saved = rescue(self._window.documents, self._folder, self._clock())
        sys.stderr.write(text)
        if self._log is not None:
            self._log.note(text, fault=True)
            self._keep_report(error)
        where = tr(" A copy of your work is in {parent}.", parent=saved[0].parent) if saved else ""
        self._window.notify(notice("bug", kind=type(error).__name__, where=where))

    def _keep_report(self, error: BaseException) -> None:
        """The fault as it can be sent, beside the log: the newest one only."""
        assert self._log is not None
        with suppress(OSError):
            self._log.folder.mkdir(parents=True, exist_ok=True)
            (self._log.folder / REPORT).write_text(report_text(error), encoding="utf-8")

    def in_this_thread(
        self, kind: type[BaseException], error: BaseException, _trace: TracebackType | None
    ) -> None:
        """What Python calls for the interface thread."""
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, error, _trace)
        else:
            self.report(error)

    def in_another_thread(self, args: threading.ExceptHookArgs) -> None:
        """What Python calls for any other: no widget is touched from there."""
        self._elsewhere.emit(args.exc_value or args.exc_type())


def install(window: Frame, folder: Path, log: LogFile | None = None) -> Hook:
    """Make the hook the one that Python calls, in every thread."""
    hook = Hook(window, folder, log)
    sys.excepthook = hook.in_this_thread
    threading.excepthook = hook.in_another_thread
    return hook
