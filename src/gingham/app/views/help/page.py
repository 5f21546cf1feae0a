"""The help page: chapters at the left, what is searched for above, the text beside them."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QListWidget, QTextBrowser, QVBoxLayout, QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.look.theme import font
from gingham.app.widgets.parts import quiet
from gingham.language import tr, tr_n
from gingham.words.actions import with_keys
from gingham.words.chapters import HANDS, Chapter, chapters, search

_LEFT, _MEASURE = 280, 780


class HelpView(QWidget):
    """Chapters to read; what is typed above leaves only the paragraphs that hold it."""

    left = Signal()
    """Enough read."""

    def __init__(
        self,
        appearance: Appearance,
        keys: str,
        so_far: Callable[[], str],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setObjectName("root")
        self._known, self._so_far = chapters(keys), so_far
        self._found: list[tuple[Chapter, list[str]]] = []
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("Search: thumb, print, barre"))
        self.line.setAccessibleName(tr("Search the help"))
        self.line.textChanged.connect(lambda _text: self._search())
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Chapters"))
        self.list.currentRowChanged.connect(self._show)
        self.text = QTextBrowser()
        self.text.setAccessibleName(tr("The chapter"))
        self.text.setOpenLinks(False)
        self.text.document().setDocumentMargin(22)
        self.text.setFont(font(15))
        self.text.setMaximumWidth(_MEASURE)  # a line that the eye can find its way back from
        self.count = quiet()
        column = QVBoxLayout()
        column.addWidget(self.line)
        column.addWidget(self.list, 1)
        column.addWidget(self.count)
        side = QWidget()
        side.setLayout(column)
        side.setFixedWidth(_LEFT)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 4, 12, 8)
        row.addWidget(side)
        row.addWidget(self.text, 4)
        row.addStretch(1)
        appearance.changed.connect(lambda: self._show(self.list.currentRow()))
        self._search()

    @property
    def widget(self) -> QWidget:
        """The page."""
        return self

    def refresh(self) -> None:
        """It does not depend on the piece."""

    def arrive(self) -> None:
        """Ready to be searched."""
        self.line.setFocus()
        self.line.selectAll()

    def end(self) -> None:
        """It has no thread."""

    def _search(self) -> None:
        self._found = search(self._known, self.line.text())
        self.list.clear()
        self.list.addItems([chapter.title for chapter, _ in self._found])
        parts = sum(len(found) for _, found in self._found)
        asked = bool(self.line.text().strip())
        if self._found:
            self.list.setCurrentRow(0)
        else:
            words = tr("Nothing is said about that. Try another word, or find an action")
            self.text.setMarkdown(with_keys(words, "find"))
        self.count.setText(tr_n("{n} place", "{n} places", parts) if asked else "")

    def _show(self, row: int) -> None:
        if 0 <= row < len(self._found):
            chapter, parts = self._found[row]
            text = "\n\n".join([f"# {chapter.title}", *parts]) if parts else chapter.text
            if chapter.title == HANDS and self._so_far():
                text = f"{text}\n\n**{self._so_far()}**"
            self.text.setMarkdown(text)

    def show_chapter(self, title: str) -> None:
        """A chapter by its title, the keyboard on the list."""
        self.look_up("", title)
        self.list.setFocus()

    def look_up(self, word: str, title: str) -> None:
        """What is said of a word; without one, or where nothing is, the chapter of that title."""
        self.line.setText(word)
        if not word or not self._found:
            self.line.clear()
            titles = [chapter.title for chapter, _ in self._found]
            self.list.setCurrentRow(titles.index(title))
            self._show(self.list.currentRow())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape leaves; up and down choose a chapter while the line is typed into."""
        steps = {int(Qt.Key.Key_Up): -1, int(Qt.Key.Key_Down): 1}
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        elif event.key() in steps and self.list.count():
            row = self.list.currentRow() + steps[event.key()]
            self.list.setCurrentRow(min(max(0, row), self.list.count() - 1))
        else:
            super().keyPressEvent(event)
