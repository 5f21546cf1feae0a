"""Printing from a sandbox: the desktop's portal shows its own dialog and takes the pages as a PDF.

The interface is org.freedesktop.portal.Print, version 1 and later: `Print` is called with the open file, and
a `Response` comes when the player has chosen or cancelled. Qt has no dialog for it.
"""

from __future__ import annotations

import os
from itertools import count
from pathlib import Path
from tempfile import TemporaryFile
from typing import Any

from PySide6.QtCore import QObject, Signal, Slot
from PySide6.QtDBus import (
    QDBusConnection,
    QDBusMessage,
    QDBusPendingCallWatcher,
    QDBusUnixFileDescriptor,
)
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QWidget

_SERVICE, _DESKTOP = "org.freedesktop.portal.Desktop", "/org/freedesktop/portal/desktop"
_PRINT, _REQUEST = "org.freedesktop.portal.Print", "org.freedesktop.portal.Request"
_GIVEN_UP = 1
_RESPONDED: Any = "1_responded(QDBusMessage)"  # as Qt names a slot; PySide says bytes and takes texts
_ANSWERS_MS = 10_000  # the call comes back at once; how long the player looks at the dialog has no limit
_numbers = count(1)


def in_a_sandbox() -> bool:
    """Whether printers are reached through the desktop's portal alone."""
    asked_for = os.environ.get("QT_QPA_PLATFORMTHEME") == "xdgdesktopportal"
    return asked_for or "SNAP" in os.environ or Path("/.flatpak-info").exists()


class PortalPrinter(QObject):
    """Has one PDF printed by the desktop."""

    printed = Signal()
    given_up = Signal()
    """The player has closed the dialog."""
    failed = Signal()
    """There is no such portal, or it could not print."""

    def __init__(
        self,
        parent: QObject | None = None,
        bus: QDBusConnection | None = None,
        service: str = _SERVICE,
    ) -> None:
        super().__init__(parent)
        self._bus = bus if bus is not None else QDBusConnection.sessionBus()
        self._service = service
        self._handle = ""

    @property
    def busy(self) -> bool:
        """Whether the desktop's dialog is open."""
        return bool(self._handle)

    def send(self, pdf: bytes, title: str, window: QWidget | None = None) -> None:
        """Ask for a printer and print there; one of the signals tells how it ended."""
        if self.busy:
            return
        token = f"gingham{next(_numbers)}"
        self._listen(f"{_DESKTOP}/request/{self._bus.baseService()[1:].replace('.', '_') or 'us'}/{token}")
        try:
            answer = self._call([_name_of(window), title], pdf, {"handle_token": token, "modal": True})
        except OSError:  # no room for the pages
            self._forget()
            self.failed.emit()
            return
        if answer.isFinished():  # there is no bus: then no signal comes
            self._answered(answer)
        else:
            answer.finished.connect(self._answered)

    def _call(self, names: list[str], pdf: bytes, options: dict[str, object]) -> QDBusPendingCallWatcher:
        call = QDBusMessage.createMethodCall(self._service, _DESKTOP, _PRINT, "Print")
        with TemporaryFile(prefix="gingham-") as file:
            file.write(pdf)
            file.seek(0)
            descriptor = QDBusUnixFileDescriptor(file.fileno())  # one of its own; ours can be closed
            call.setArguments([*names, descriptor, options])
            return QDBusPendingCallWatcher(self._bus.asyncCall(call, _ANSWERS_MS), self)

    @Slot(QDBusPendingCallWatcher)
    def _answered(self, answer: QDBusPendingCallWatcher) -> None:
        """The dialog is open, or there is none."""
        message = answer.reply()
        answer.deleteLater()
        if message.type() == QDBusMessage.MessageType.ErrorMessage:
            if self.busy:
                self._forget()
                self.failed.emit()
        elif message.arguments() and self.busy:
            self._listen(message.arguments()[0].path())  # older portals choose a name of their own

    @Slot(QDBusMessage)
    def _responded(self, message: QDBusMessage) -> None:
        """The dialog is closed."""
        if not self.busy:
            return
        self._forget()
        code = message.arguments()[0]
        {0: self.printed, _GIVEN_UP: self.given_up}.get(code, self.failed).emit()

    def _listen(self, handle: str) -> None:
        if handle != self._handle:
            self._forget()
            self._handle = handle
            self._bus.connect(self._service, handle, _REQUEST, "Response", self, _RESPONDED)

    def _forget(self) -> None:
        if self._handle:
            self._bus.disconnect(self._service, self._handle, _REQUEST, "Response", self, _RESPONDED)
            self._handle = ""


def _name_of(window: QWidget | None) -> str:
    """The window as portals name it, so that the dialog lies above it; empty where there is no name."""
    if window is None or QGuiApplication.platformName() != "xcb":
        return ""
    return f"x11:{int(window.window().winId()):x}"
