"""Printing from a sandbox: a portal of the tests' own, which is called over a real bus connection."""

from __future__ import annotations

import errno
import os
from io import BytesIO

import pytest
from PySide6.QtCore import QTimer
from PySide6.QtDBus import (
    QDBusConnection,
    QDBusMessage,
    QDBusObjectPath,
    QDBusServer,
    QDBusVirtualObject,
)
from PySide6.QtPrintSupport import QPrintDialog

from gingham.app.session.document import Document
from gingham.app.views.sheet import controller, portal
from gingham.app.views.sheet.portal import PortalPrinter, in_a_sandbox
from gingham.core.formats.piece_file import load_piece
from gingham.data import FOLDER

HANDLE = "/org/freedesktop/portal/desktop/request/older/1"


class Portal(QDBusVirtualObject):
    """Keeps what it is told to print, and answers with `code`; None: it knows no printing."""

    def __init__(self, code: int | None) -> None:
        super().__init__()
        self.code, self.title, self.signature, self.pdf = code, "", "", b""

    def introspect(self, _path: str) -> str:
        """Nothing to say."""
        return ""

    def handleMessage(self, message: QDBusMessage, bus: QDBusConnection) -> bool:
        """Print, with a request of a name of its own, as older portals have it."""
        if self.code is None or message.member() != "Print":
            return False
        self.signature = message.signature()
        _parent, self.title, file = message.arguments()[:3]
        with os.fdopen(os.dup(file.fileDescriptor()), "rb") as pdf:
            self.pdf = pdf.read()
        reply = message.createReply()
        reply.setArguments([QDBusObjectPath(HANDLE)])
        bus.send(reply)
        response = QDBusMessage.createSignal(HANDLE, "org.freedesktop.portal.Request", "Response")
        response.setArguments([self.code, {"unused": True}])
        QTimer.singleShot(50, lambda: bus.send(response))
        return True


@pytest.fixture
def desktop(qtbot):
    """Makes a portal with an answer, and the connection by which it is reached."""
    kept: list[object] = []

    def make(code: int | None) -> tuple[Portal, QDBusConnection]:
        desk, server = Portal(code), QDBusServer("unix:tmpdir=/tmp")

        def meet(bus: QDBusConnection) -> None:
            how = QDBusConnection.VirtualObjectRegisterOption.SubPath
            bus.registerVirtualObject("/org/freedesktop/portal/desktop", desk, how)
            kept.append(bus)

        server.newConnection.connect(meet)
        kept.extend((desk, server))
        bus = QDBusConnection.connectToPeer(server.address(), f"desktop-{id(server)}")
        qtbot.waitUntil(lambda: len(kept) == 3)
        return desk, bus

    return make


@pytest.fixture
def sheet(qtbot, window):
    """The Sheet page with the pages of Forty Lanterns."""
    with qtbot.waitSignal(window.shown.settled):
        window.add(Document(load_piece(FOLDER / "demo" / "forty-lanterns.gingham")))
    window.actions_by_id["sheet"].trigger()
    qtbot.waitUntil(lambda: bool(window.pages.sheet.view.canvas.pages))
    return window.pages.sheet


def _print(sheet, printer: PortalPrinter, monkeypatch) -> None:
    """Press Print as in a sandbox."""
    monkeypatch.setattr(controller, "in_a_sandbox", lambda: True)
    monkeypatch.setattr(controller, "PortalPrinter", lambda _parent: printer)
    monkeypatch.setattr(QPrintDialog, "exec", lambda _self: pytest.fail("Qt’s own dialog"))
    sheet.view.print.click()


def test_the_sheet_goes_through_the_portal(qtbot, window, sheet, desktop, monkeypatch) -> None:
    """The whole PDF and its title arrive; the window says that it has gone to the printer."""
    from pypdf import PdfReader

    desk, bus = desktop(0)
    printer = PortalPrinter(sheet, bus, service="")
    _print(sheet, printer, monkeypatch)
    qtbot.waitUntil(lambda: "gone to the printer" in window.statusBar().currentMessage())
    assert desk.signature == "ssha{sv}" and desk.title == "Forty Lanterns"
    reader = PdfReader(BytesIO(desk.pdf))
    assert len(reader.pages) == 2 and "Forty Lanterns" in " ".join(reader.pages[0].extract_text().split())
    assert not printer.busy
    assert sheet.view.status.text() == "Page 1 of 2"


@pytest.mark.parametrize(
    ("code", "words"), [(1, ""), (2, "Save the sheet as PDF"), (None, "Save the sheet as PDF")]
)
def test_a_portal_that_does_not_print(qtbot, window, sheet, desktop, monkeypatch, code, words) -> None:
    """Given up by the player: nothing is said; refused, or no such portal: what to do in its place."""
    window.statusBar().clearMessage()
    printer = PortalPrinter(sheet, desktop(code)[1], service="")
    with qtbot.waitSignal(printer.given_up if code == 1 else printer.failed):
        _print(sheet, printer, monkeypatch)
    assert not printer.busy
    said = window.statusBar().currentMessage()
    assert words in said and bool(words) == bool(said)


def test_without_a_bus_the_player_is_told(qtbot, window, sheet, monkeypatch) -> None:
    """No desktop at all answers: the same words, and nothing hangs."""
    nowhere = QDBusConnection.connectToPeer("unix:path=/nonexistent/bus", "nowhere")
    _print(sheet, PortalPrinter(sheet, nowhere, service=""), monkeypatch)
    qtbot.waitUntil(lambda: "Save the sheet as PDF" in window.statusBar().currentMessage())


def test_a_full_disk_is_no_printer(qtbot, window, sheet, desktop, monkeypatch) -> None:
    """No room for the pages on their way to the desktop: the same words, and the next try is free."""

    def full(**_named: object) -> None:
        raise OSError(errno.ENOSPC, "full")

    monkeypatch.setattr(portal, "TemporaryFile", full)
    printer = PortalPrinter(sheet, desktop(0)[1], service="")
    _print(sheet, printer, monkeypatch)
    qtbot.waitUntil(lambda: "Save the sheet as PDF" in window.statusBar().currentMessage())
    assert not printer.busy


@pytest.mark.parametrize(
    ("environment", "sandboxed"),
    [({}, False), ({"SNAP": "/snap/gingham/1"}, True), ({"QT_QPA_PLATFORMTHEME": "xdgdesktopportal"}, True)],
)
def test_what_counts_as_a_sandbox(monkeypatch, environment, sandboxed) -> None:
    """Qt's own dialog everywhere else."""
    for name in ("SNAP", "QT_QPA_PLATFORMTHEME"):
        monkeypatch.delenv(name, raising=False)
    for name, value in environment.items():
        monkeypatch.setenv(name, value)
    assert in_a_sandbox() is sandboxed
