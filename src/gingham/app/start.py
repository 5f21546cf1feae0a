"""Starting the window: arguments, fonts, the hook for faults of our own, the demo pieces."""

from __future__ import annotations

import os
import sys
import threading
from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from gingham.app import crash, theme
from gingham.app.document import Document
from gingham.app.settings import Settings
from gingham.app.window import MainWindow, empty_piece
from gingham.arguments import COMMANDS, OneLineParser
from gingham.data import FOLDER

DEMO_PIECES = ("forty-lanterns", "brine-and-barley", "netmenders-round")


def config_folder() -> Path:
    """Where settings are kept: the XDG config folder."""
    return Path(os.environ.get("XDG_CONFIG_HOME") or Path.home() / ".config") / "gingham"


def data_folder() -> Path:
    """Where rescued pieces are kept: the XDG data folder."""
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share") / "gingham"


def demo_documents() -> list[Document]:
    """The three demo pieces, unsaved and without a file."""
    from gingham.core.formats.piece_file import piece_from_bytes  # loaded when a file is read or written

    folder = FOLDER / "demo"
    return [
        Document(piece_from_bytes((folder / f"{name}.gingham").read_bytes(), name)) for name in DEMO_PIECES
    ]


def start(arguments: list[str]) -> int:
    """Open the window and run until it is closed; the exit status."""
    parser = OneLineParser(
        prog="gingham", description=f"Opens the window. Sub-commands: {', '.join(COMMANDS)}."
    )
    parser.add_argument("pieces", nargs="*", type=Path, help="piece files to open")
    parser.add_argument("--demo", action="store_true", help="open the demo pieces")
    parser.add_argument("--picture", type=Path, metavar="PNG", help="save a picture of the window and end")
    options = parser.parse_args(arguments)
    for path in options.pieces:
        if not path.exists():
            parser.error(f"there is no file {path}, and no command of that name")
    app = QApplication(sys.argv[:1])
    app.setApplicationName("Gingham")
    theme.load_fonts()
    settings = Settings(config_folder() / "settings.ini")
    theme.apply(theme.THEMES[settings.text("theme", "linen")], app)
    window = MainWindow(settings, unsaved=data_folder() / "unsaved")
    crash.install(window, data_folder() / "rescued")
    fill(window, options.pieces, demo=options.demo)
    window.show()
    QTimer.singleShot(400, load_the_rest)
    if options.picture is not None:
        window.build.shown.connect(lambda: QTimer.singleShot(300, lambda: _picture(window, options.picture)))
    return app.exec()


def load_the_rest() -> None:
    """Load, in the background, what the first play and the first save need, so that they need not wait."""

    def load() -> None:
        import gingham.app.stream
        import gingham.core.formats.piece_file  # noqa: F401  # both are loaded for their own sake

    threading.Thread(target=load, name="loader", daemon=True).start()


def fill(window: MainWindow, paths: list[Path], *, demo: bool) -> None:
    """Open what was asked for; an empty piece if that is nothing."""
    if demo:
        for document in demo_documents():
            window.add(document, show=not window.documents)
    for path in paths:
        window.files.open_file(path)
    window.files.recover()
    if not window.documents:
        window.add(Document(empty_piece()))


def _picture(window: MainWindow, path: Path) -> None:
    window.grab().save(str(path))
    window.close()
    QApplication.quit()
