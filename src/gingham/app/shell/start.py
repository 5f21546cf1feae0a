"""Starting the window: arguments, fonts, the hook for faults of our own, the demo pieces."""

from __future__ import annotations

import argparse
import os
import sys
import threading
from functools import partial
from pathlib import Path

from PySide6.QtCore import QLibraryInfo, QLocale, QTimer, QTranslator
from PySide6.QtGui import QIcon, QSessionManager
from PySide6.QtWidgets import QApplication

from gingham import __version__
from gingham.app.files.paths import exists, path_or_url
from gingham.app.look import theme, zoom
from gingham.app.look.settings import Settings
from gingham.app.session.document import Document
from gingham.app.shell import crash
from gingham.app.shell.failing import WindowParser
from gingham.app.shell.logfile import LogFile
from gingham.app.shell.sweeping import Sweeper
from gingham.app.shell.window import MainWindow
from gingham.app.widgets.speaking import let_canvases_speak
from gingham.arguments import COMMANDS
from gingham.data import FOLDER
from gingham.folders import Folders
from gingham.language import spoken
from gingham.words.errors import printable
from gingham.words.notices import notice

APP_ID = "org.gingham.Gingham"
"""By which the desktop knows the program: its menu entry, its icon, its windows."""
DEMO_PIECES = ("forty-lanterns", "brine-and-barley", "netmenders-round")


def demo_documents() -> list[Document]:
    """The three demo pieces, unsaved and without a file."""
    from gingham.core.formats.piece_file import read_piece  # loaded when a file is read or written

    folder = FOLDER / "demo"
    read = [read_piece((folder / f"{name}.gingham").read_bytes(), name) for name in DEMO_PIECES]
    return [Document(each.piece, identity=each.identity) for each in read]


def start(arguments: list[str]) -> int:
    """Open the window and run until it is closed; the exit status."""
    parser = WindowParser(
        prog="gingham", description=f"Opens the window. Sub-commands: {', '.join(COMMANDS)}."
    )
    parser.add_argument(
        "pieces", nargs="*", type=path_or_url, help="piece files to open, or file:// addresses"
    )
    parser.add_argument("--new", action="store_true", help="begin a new piece")
    parser.add_argument("--practise", action="store_true", help="show the Practise page")
    parser.add_argument("--demo", action="store_true", help="open the demo pieces")
    parser.add_argument("--new-window", action="store_true", help="even if a window is open already")
    parser.add_argument("--picture", type=Path, metavar="PNG", help="save a picture of the window and end")
    options = parser.read(arguments)
    for path in options.pieces:
        if not exists(path):
            parser.error(f"there is no file {printable(path)}, and no command of that name")
    folders = Folders.of_this_user()
    alone = options.demo or options.picture is not None or options.new_window
    if not alone:
        from gingham.app.shell.instance import Listener, hand_over  # sockets: only where somebody may answer

        if hand_over(folders.runtime, options.pieces, _wishes(options)):
            return 0
    settings = _settings(folders)
    zoom.prepare(settings)
    app = QApplication([*sys.argv[:1], *theme.STYLE])
    _speak_as_gingham_does(app)
    app.setApplicationName("Gingham")
    app.setApplicationVersion(__version__)
    app.setDesktopFileName(APP_ID)
    app.setWindowIcon(QIcon(str(FOLDER / "desktop" / f"{APP_ID}.svg")))
    _follow_text_size(app, settings)
    window, log = open_window(app, folders, settings)
    fill(window, options.pieces, demo=options.demo)
    listener = None if alone else Listener(folders.runtime, partial(take, window), window)
    window.show()
    do_wishes(window, _wishes(options))
    app.commitDataRequest.connect(partial(save_before_logging_out, window))
    QTimer.singleShot(300, window.ways.read)
    QTimer.singleShot(400, lambda: load_the_rest(log, _where_parts_may_lie(window, folders)))
    if options.picture is not None:
        window.shown.settled.connect(
            lambda: QTimer.singleShot(300, lambda: _picture(window, options.picture))
        )
    status = app.exec()
    if listener is not None:
        listener.close()
    return status


def _speak_as_gingham_does(app: QApplication) -> None:
    """Qt's own words (Save, Cancel, the file dialog), its numbers and dates, in that language."""
    if not spoken():
        return
    QLocale.setDefault(QLocale(spoken()))
    words = QTranslator(app)
    if words.load(f"qtbase_{spoken()}", QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)):
        app.installTranslator(words)


def _settings(folders: Folders) -> Settings:
    return Settings(folders.config / "settings.ini", folders.state / "window.ini")


def _wishes(options: argparse.Namespace) -> list[str]:
    """What the desktop's menu asks for beside files."""
    return [name for name in ("new", "practise") if getattr(options, name)]


def take(window: MainWindow, paths: list[Path], wishes: list[str]) -> None:
    """Do what another start of Gingham was asked for."""
    window.files.take(paths)
    do_wishes(window, wishes)


def do_wishes(window: MainWindow, wishes: list[str]) -> None:
    """A new piece, the Practise page."""
    if "new" in wishes and not window.document.untouched:
        window.actions_by_id["new"].trigger()
    if "practise" in wishes:
        window.pages.go("practise")


def save_before_logging_out(window: MainWindow, manager: QSessionManager) -> None:
    """The desktop's session ends: ask about every unsaved piece; who stays keeps the session."""
    if not manager.allowsInteraction():
        return  # copies of unsaved work are on disk
    stays = not window.may_close_all()
    manager.release()
    if stays:
        manager.cancel()


def _follow_text_size(app: QApplication, settings: Settings) -> None:
    """Where the desktop's text is larger than usual, start again as much larger: Qt scales at its start."""
    scale = zoom.of_desktop(settings, app.primaryScreen().logicalDotsPerInch())
    if scale is not None:
        zoom.restart_with(scale)
        os.execv(sys.executable, [sys.executable, *sys.orig_argv[1:]])


def open_window(
    app: QApplication, folders: Folders, settings: Settings | None = None
) -> tuple[MainWindow, LogFile]:
    """The window with its settings, its log, and the hook for faults; not yet shown."""
    log = LogFile(folders.state)
    log.catch_crashes()
    theme.load_fonts()
    let_canvases_speak()
    settings = settings or _settings(folders)
    cloth = theme.chosen(settings)
    theme.colour(cloth, app)
    window = MainWindow(settings, unsaved=folders.unsaved, log=log)
    theme.style(cloth, app)
    Sweeper(window.shown.settled, window.transport, window)
    crash.install(window, folders.rescued, log)
    if not settings.kept:
        window.notify(notice("settings-lost", folder=printable(folders.config)))
    elif settings.put_aside is not None:
        window.notify(notice("settings-damaged", path=printable(settings.put_aside)))
    return window, log


def _where_parts_may_lie(window: MainWindow, folders: Folders) -> set[Path]:
    """The folders in which a save may have been cut short."""
    own = (folders.unsaved, folders.rescued, folders.data / "patterns")
    return {*own, *(path.parent for path in window.files.recent.paths())}


def load_the_rest(log: LogFile, folders: set[Path]) -> None:
    """In the background: load what the first play and the first save need, open the log, clear up."""

    def load() -> None:
        import gingham.app.sound.stream
        import gingham.core.formats.piece_file
        import gingham.core.sound.player
        import gingham.core.sound.voices  # noqa: F401  # all are loaded for their own sake
        from gingham.core.formats.atomic import clear_parts

        log.open()
        for folder in folders:
            clear_parts(folder)

    threading.Thread(target=load, name="loader", daemon=True).start()


def fill(window: MainWindow, paths: list[Path], *, demo: bool) -> None:
    """Open what was asked for; an empty piece if that is nothing."""
    if demo:
        for document in demo_documents():
            window.add(document, show=not window.documents)
    for path in paths:
        window.files.open_file(path)
    if not demo and not paths:
        window.files.open_again()
    window.files.recover()
    if not window.documents:
        window.add(window.ways.new_document(window))
        window.view.chords.setFocus()
    elif not demo:
        window.pages.show_last()


def _picture(window: MainWindow, path: Path) -> None:
    window.grab().save(str(path))
    window.close()
    QApplication.quit()
