"""What ends the program before there is a window: on standard error, and in a box where nobody sees that."""

from __future__ import annotations

import os
import platform
import stat
import sys
import traceback
from contextlib import suppress
from typing import NoReturn

from gingham import __version__
from gingham.arguments import OneLineParser
from gingham.language import tr


def report_text(error: BaseException) -> str:
    """A fault as it can be sent: what runs where, room for what was done, the trace."""
    from PySide6 import __version__ as qt

    trace = "".join(traceback.format_exception(error))
    return tr(
        "Gingham {version}, Python {python_version}, Qt {qt}\n{platform}\n\nWhat I did before "
        "it happened:\n\n\n{trace}",
        version=__version__,
        python_version=platform.python_version(),
        qt=qt,
        platform=platform.platform(),
        trace=trace,
    )


def seen() -> bool:
    """Whether standard error is read: in a terminal, through a pipe, or because no box can be shown."""
    if sys.stderr is None:
        return False
    if os.environ.get("QT_QPA_PLATFORM", "").startswith(("offscreen", "minimal")):
        return True
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
        return True
    with suppress(OSError, ValueError):
        return sys.stderr.isatty() or stat.S_ISFIFO(os.fstat(sys.stderr.fileno()).st_mode)
    return False


def tell(title: str, text: str) -> None:
    """Say why Gingham does not start; in a box, if there is no terminal."""
    if sys.stderr is not None:
        sys.stderr.write(f"gingham: {text}\n")
    if seen():
        return
    from PySide6.QtWidgets import QApplication, QMessageBox

    _app = QApplication.instance() or QApplication(sys.argv[:1])
    box = QMessageBox(QMessageBox.Icon.Critical, "Gingham", title)
    box.setInformativeText(text.splitlines()[-1])
    box.setDetailedText(text)
    box.exec()


class WindowParser(OneLineParser):
    """Faults in the arguments of the window: a menu entry has no terminal to read them in."""

    def error(self, message: str) -> NoReturn:
        """End with status 2, the fault said where it is seen."""
        if seen():
            super().error(message)
        tell(tr("Gingham cannot start like this."), message)
        self.exit(2)
