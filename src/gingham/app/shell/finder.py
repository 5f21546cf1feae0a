"""The action finder: a few words, Enter, and it is done; over the window, gone with Escape."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QAction, QKeyEvent
from PySide6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from gingham.language import tr
from gingham.words.finding import find

_WIDE, _HIGH, _TOP = 560, 330, 60


class Finder(QFrame):
    """Lists what can be done now; each line says its key."""

    def __init__(self, over: QWidget, actions: Mapping[str, QAction]) -> None:
        super().__init__(over)
        self._over, self._actions = over, actions
        self._back_to: QWidget | None = None
        self.setProperty("panel", True)
        self.setObjectName("ask")
        self.setAutoFillBackground(True)
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("What do you want to do? Type some words"))
        self.line.setAccessibleName(tr("Find an action"))
        self.line.textChanged.connect(lambda _text: self._fill())
        self.line.installEventFilter(self)
        self.rows = QListWidget()
        self.rows.setAccessibleName(tr("Actions"))
        self.rows.itemClicked.connect(lambda _item: self.run())
        self.rows.installEventFilter(self)
        column = QVBoxLayout(self)
        column.addWidget(self.line)
        column.addWidget(self.rows)
        self.hide()

    def ask(self) -> None:
        """Come up, ready to be typed into."""
        self._back_to = self._over.focusWidget()
        wide = min(_WIDE, self._over.width() - 40)
        self.setGeometry((self._over.width() - wide) // 2, _TOP, wide, min(_HIGH, self._over.height() - 90))
        self.line.clear()
        self._fill()
        self.show()
        self.raise_()
        self.line.setFocus()

    def _fill(self) -> None:
        able = {name: action for name, action in self._actions.items() if action.isEnabled()}
        words = {name: f"{_plain(a)} {a.statusTip()} {name}" for name, a in able.items()}
        self.rows.clear()
        for name in find(self.line.text(), words):
            action = able[name]
            key = action.shortcut().toString()
            about = f"  ·  {action.statusTip()}" if action.statusTip() else ""
            item = QListWidgetItem(f"{_plain(action)}{f'   ({key})' if key else ''}{about}")
            item.setData(Qt.ItemDataRole.UserRole, name)
            self.rows.addItem(item)
        if self.rows.count():
            self.rows.setCurrentRow(0)
        else:
            item = QListWidgetItem(tr("Nothing is called that. Try another word, or fewer of them."))
            item.setFlags(Qt.ItemFlag.NoItemFlags)
            self.rows.addItem(item)

    def run(self) -> None:
        """Do what is chosen."""
        item = self.rows.currentItem()
        name = item.data(Qt.ItemDataRole.UserRole) if item is not None else None
        if name:
            self.leave()
            self._actions[name].trigger()

    def leave(self) -> None:
        """Go, and give the keyboard back."""
        self.hide()
        if self._back_to is not None:
            self._back_to.setFocus()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Keys of the line that belong to the list, and going away with the keyboard."""
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            return self._key(event)
        if event.type() == QEvent.Type.FocusOut and self.isVisible():
            after = self.window().focusWidget()
            if after is None or not self.isAncestorOf(after):
                self._back_to = None
                self.hide()
        return super().eventFilter(watched, event)

    def _key(self, event: QKeyEvent) -> bool:
        steps = {int(Qt.Key.Key_Up): -1, int(Qt.Key.Key_Down): 1}
        if event.key() == Qt.Key.Key_Escape:
            self.leave()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.run()
        elif event.key() in steps:
            row = self.rows.currentRow() + steps[event.key()]
            self.rows.setCurrentRow(min(max(0, row), self.rows.count() - 1))
        else:
            return False
        return True


def _plain(action: QAction) -> str:
    return action.text().replace("&&", "&")
