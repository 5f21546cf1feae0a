"""A seeded monkey in the real window: actions, keys, clicks, drags anywhere, then undo to the first state."""

from __future__ import annotations

import random
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from types import TracebackType

from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtPrintSupport import QPrintDialog
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog, QFileDialog, QMenu, QMessageBox, QWidget

from gingham.app.look import theme
from gingham.app.look.settings import Settings
from gingham.app.shell.start import demo_documents
from gingham.app.shell.window import MainWindow
from gingham.app.sound.devices import SilentOutput
from gingham.app.sound.transport import Transport

KEYS = (
    *(Qt.Key(code) for code in range(Qt.Key.Key_A, Qt.Key.Key_Z + 1)),
    *(Qt.Key(code) for code in range(Qt.Key.Key_0, Qt.Key.Key_9 + 1)),
    Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Return, Qt.Key.Key_Escape,
    Qt.Key.Key_Delete, Qt.Key.Key_Backspace, Qt.Key.Key_Tab, Qt.Key.Key_Space,
    Qt.Key.Key_Home, Qt.Key.Key_End,
    Qt.Key.Key_Exclam, Qt.Key.Key_Period, Qt.Key.Key_Semicolon, Qt.Key.Key_Insert, Qt.Key.Key_PageDown,
)  # fmt: skip
MODIFIERS = (
    Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.AltModifier,
)  # fmt: skip
TYPED = (
    "| G | C |",
    "4/4 x2: p i m i",
    "Em7{022030}",
    "²",
    "| | |",
    "named:99",
    "x" * 300,
    "6,4",
    "1/0",
    "﻿|",
)
LEFT_OUT = frozenset(
    {"quit", "print", "log", "open", "save", "save-as", "export", "read", "save-sheet", "close"}
)


class Monkey:
    """Presses whatever it finds. Faults are gathered, not raised."""

    def __init__(self, seed: int, folder: Path) -> None:
        self.random = random.Random(seed)
        self.faults: list[str] = []
        self.window = MainWindow(Settings(folder / "s.ini"), Transport(output=SilentOutput()))
        self.window.ask_unsaved = lambda _document: QMessageBox.StandardButton.Discard  # type: ignore[method-assign]
        for document in demo_documents():
            self.window.add(document, show=not self.window.documents)
        self.first = {document: document.piece for document in self.window.documents}
        self.window.show()
        self.names = sorted(set(self.window.actions_by_id) - LEFT_OUT)

    def caught(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        """The hook for faults in slots."""
        while trace is not None and trace.tb_next is not None:
            trace = trace.tb_next
        where = f"{trace.tb_frame.f_code.co_filename}:{trace.tb_lineno}" if trace is not None else ""
        self.faults.append(f"{kind.__name__}: {error} at {where}")

    def step(self) -> None:
        """One event, or one action."""
        draw = self.random.random()
        widget = self._somewhere()
        if draw < 0.3:
            self.window.actions_by_id[self.random.choice(self.names)].trigger()
        elif draw < 0.65:
            QTest.keyClick(widget, self.random.choice(KEYS), self.random.choice(MODIFIERS))
        elif draw < 0.7:
            QTest.keyClicks(widget, self.random.choice(TYPED))
        elif draw < 0.9:
            self._click(widget)
        else:
            self._drag(widget)
        if self.random.random() < 0.05:
            self.window.resize(self.random.randint(200, 2_400), self.random.randint(150, 1_500))

    def settle(self) -> None:
        """Let the window work, and close whatever has popped up."""
        QApplication.processEvents()
        for widget in QApplication.topLevelWidgets():
            if (isinstance(widget, QMenu | QMessageBox) and widget.isVisible()) or (
                isinstance(widget, QDialog) and widget.isVisible() and self.random.random() < 0.02
            ):
                widget.close()

    def undo_everything(self) -> int:
        """Back to the first state of every piece that is still open; how many differ."""
        differ = 0
        for document in self.window.documents:
            while document.stack.canUndo():
                document.stack.undo()
            differ += document.piece != self.first.get(document, document.piece)
        return differ

    def _somewhere(self) -> QWidget:
        focus = QApplication.focusWidget()
        if focus is not None and self.random.random() < 0.5:
            return focus
        tops = [w for w in QApplication.topLevelWidgets() if w.isVisible() and not isinstance(w, QMenu)]
        top = self.random.choice(tops or [self.window])
        seen = [w for w in top.findChildren(QWidget) if w.isVisible() and w.isEnabled()]
        return self.random.choice(seen or [top])

    def _spot(self, widget: QWidget) -> QPoint:
        return QPoint(
            self.random.randint(0, max(1, widget.width())), self.random.randint(0, max(1, widget.height()))
        )

    def _click(self, widget: QWidget) -> None:
        button = Qt.MouseButton.RightButton if self.random.random() < 0.1 else Qt.MouseButton.LeftButton
        click = QTest.mouseDClick if self.random.random() < 0.2 else QTest.mouseClick
        click(widget, button, self.random.choice(MODIFIERS), self._spot(widget))

    def _drag(self, widget: QWidget) -> None:
        left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        QTest.mousePress(widget, left, none, self._spot(widget))
        for _ in range(self.random.randint(1, 6)):
            spot = self._spot(widget)
            move = QMouseEvent(QEvent.Type.MouseMove, spot, widget.mapToGlobal(spot), left, left, none)
            QApplication.sendEvent(widget, move)
        with suppress(RuntimeError):  # the widget may be gone by now
            QTest.mouseRelease(widget, left, none, self._spot(widget))


def quiet_dialogs() -> Callable[[], None]:
    """No box waits for an answer; gives back how to have them again."""
    names = ("warning", "question", "information", "critical")
    kept = [(QMessageBox, name, getattr(QMessageBox, name)) for name in names]
    files = ("getOpenFileName", "getSaveFileName")
    kept += [(QFileDialog, name, getattr(QFileDialog, name)) for name in files]
    boxes = (QMessageBox, QPrintDialog, QDialog)
    kept += [(box, "exec", box.exec) for box in boxes]
    for name in names:
        setattr(QMessageBox, name, staticmethod(lambda *_a, **_k: QMessageBox.StandardButton.Cancel))
    for name in files:
        setattr(QFileDialog, name, staticmethod(lambda *_a, **_k: ("", "")))
    for box in boxes:
        box.exec = lambda _self: QMessageBox.StandardButton.Cancel  # type: ignore[method-assign,assignment]

    def again() -> None:
        for of, name, what in kept:
            setattr(of, name, what)

    return again


def run(events: int, seed: int, folder: Path) -> tuple[Counter[str], list[str]]:
    """So many events in one window: what went wrong, and the faults."""
    monkey, hook = Monkey(seed, folder), sys.excepthook
    again = quiet_dialogs()
    sys.excepthook = monkey.caught
    out: Counter[str] = Counter()
    try:
        for _ in range(events):
            try:
                monkey.step()
            except Exception as error:  # noqa: BLE001  # whatever escapes is what is looked for
                monkey.caught(type(error), error, error.__traceback__)
            monkey.settle()
            out["events"] += 1
        monkey.window.transport.stop()
        out["undo differences"] = monkey.undo_everything()
        monkey.window.close()
        QApplication.processEvents()
    finally:
        sys.excepthook = hook
        again()
    out["exceptions"] = len(monkey.faults)
    return out, monkey.faults


def main(events: int, seed: int = 7) -> Counter[str]:
    """So many events in windows of 2,000 each; what went wrong."""
    app = QApplication.instance() or QApplication(sys.argv[:1])
    theme.load_fonts()
    out: Counter[str] = Counter()
    begin = time.monotonic()
    for number in range(max(1, events // 2_000)):
        with tempfile.TemporaryDirectory() as name:
            counted, faults = run(min(events, 2_000), seed + number, Path(name))
        out.update(counted)
        for fault in sorted(set(faults)):
            print("  ", faults.count(fault), fault)
    print(f"  {out['events']} events in {time.monotonic() - begin:.0f} s")
    del app
    return out
