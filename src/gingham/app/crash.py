"""The one hook for faults of our own: save the player's work first, then say so."""

from __future__ import annotations

import sys
import threading
import traceback
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

from gingham.core.errors import GinghamError
from gingham.core.formats.suffix import SUFFIX

if TYPE_CHECKING:
    from gingham.app.document import Document
    from gingham.app.window import MainWindow


def rescue(documents: list[Document], folder: Path, now: datetime) -> list[Path]:
    """Save a copy of every modified piece into `folder`; the files that could be written."""
    from gingham.core.formats.piece_file import save_piece  # loaded when a file is read or written

    saved: list[Path] = []
    for number, document in enumerate(documents, 1):
        if not document.modified:
            continue
        path = folder / f"rescued-{now:%Y%m%d-%H%M%S}-{number}{SUFFIX}"
        try:
            folder.mkdir(parents=True, exist_ok=True)
            save_piece(document.piece, path)
        except (GinghamError, OSError):
            continue
        saved.append(path)
    return saved


def hook(
    window: MainWindow, folder: Path, clock: Callable[[], datetime] = datetime.now
) -> Callable[[type[BaseException], BaseException, TracebackType | None], None]:
    """An exception hook that rescues the work of `window` into `folder` and then reports."""

    def report(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        saved = rescue(window.documents, folder, clock())
        sys.stderr.write("".join(traceback.format_exception(kind, error, trace)))
        where = f" A copy of your work is in {saved[0].parent}." if saved else ""
        window.notify(f"Something went wrong in Gingham ({kind.__name__}).{where}")

    return report


def install(window: MainWindow, folder: Path) -> None:
    """Make the hook the one that Python calls, in every thread."""
    report = hook(window, folder)
    sys.excepthook = report
    threading.excepthook = lambda args: report(
        args.exc_type, args.exc_value or args.exc_type(), args.exc_traceback
    )
