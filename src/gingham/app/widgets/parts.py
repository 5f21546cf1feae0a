"""Small parts that the pages of the bench are made of."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QKeyEvent, QResizeEvent
from PySide6.QtWidgets import (
    QBoxLayout,
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLayout,
    QPushButton,
    QScrollArea,
    QTableWidget,
    QTableWidgetItem,
    QWidget,
)

from gingham.app.widgets.choice import Choice

_LABEL = 84  # the width of the labels of a form


class Table(QTableWidget):
    """Rows to choose from: Space hears the row, Enter takes it. Numbers sort as numbers."""

    def __init__(
        self, name: str, heads: Sequence[str], hear: Callable[[], None], take: Callable[[], None]
    ) -> None:
        super().__init__(0, len(heads))
        self._hear, self._take = hear, take
        self.setAccessibleName(name)
        self.setHorizontalHeaderLabels(list(heads))
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(26)
        self.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        self.setSelectionMode(QTableWidget.SelectionMode.SingleSelection)
        self.setAlternatingRowColors(True)
        self.horizontalHeader().setStretchLastSection(True)
        self.horizontalHeader().setHighlightSections(False)
        self.itemDoubleClicked.connect(lambda _item: take())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Space and Enter; everything else as in any table."""
        if event.key() == Qt.Key.Key_Space:
            self._hear()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take()
        else:
            super().keyPressEvent(event)

    def put(self, row: int, cells: Sequence[str | int | float], key: object) -> None:
        """Fill a row; `key` is what the row stands for."""
        for column, value in enumerate(cells):
            item = QTableWidgetItem()
            item.setData(Qt.ItemDataRole.DisplayRole, value)
            if not isinstance(value, str):
                item.setTextAlignment(Qt.AlignmentFlag.AlignCenter)
            if column == 0:
                item.setData(Qt.ItemDataRole.UserRole, key)
            self.setItem(row, column, item)

    def chosen(self) -> object:
        """What the chosen row stands for; None without one."""
        return self.key(self.currentRow())

    def key(self, row: int) -> object:
        """What a row stands for; None beyond the rows."""
        item = self.item(row, 0)
        return None if item is None else item.data(Qt.ItemDataRole.UserRole)


class BenchPage(QWidget):
    """A page of the bench."""

    def refresh(self) -> None:
        """Show the piece as it is now."""
        raise NotImplementedError

    def arrive(self) -> None:
        """Put the keyboard where the work is."""
        self.setFocus()


def fill_last(table: QTableWidget) -> None:
    """Columns as wide as their words, the last one as wide as there is room."""
    heads = table.horizontalHeader()
    heads.setStretchLastSection(False)  # the two ways of stretching undo each other
    heads.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
    heads.setSectionResizeMode(table.columnCount() - 1, QHeaderView.ResizeMode.Stretch)


def box(name: str, rows: Sequence[tuple[object, str]]) -> QComboBox:
    """A box of choices: (data, words)."""
    out = Choice()
    out.setAccessibleName(name)
    out.setAccessibleDescription(name)  # on Linux Qt tells the chosen words as a box's name
    for data, words in rows:
        out.addItem(words, data)
    return out


def narrow_box(name: str, rows: Sequence[tuple[object, str]]) -> QComboBox:
    """A box of choices for a narrow column: it may be smaller than its longest choice."""
    out = box(name, rows)
    out.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    out.setMinimumContentsLength(6)
    return out


def form(*rows: tuple[str, QWidget], label_width: int = _LABEL) -> QGridLayout:
    """Labels at the left, what they name at the right, as wide as there is room."""
    grid = QGridLayout()
    grid.setHorizontalSpacing(8)
    grid.setVerticalSpacing(4)
    grid.setColumnStretch(1, 1)
    for index, (words, widget) in enumerate(rows):
        label = quiet(words)
        label.setFixedWidth(label_width)
        label.setBuddy(widget)
        grid.addWidget(label, index, 0)
        grid.addWidget(widget, index, 1)
    return grid


def on_button(words: str) -> str:
    """Words for a button: `&` is read as itself (`beat 4&`), not as the mark of a key."""
    return words.replace("&", "&&")


def button(words: str, tip: str, do: Callable[[], object]) -> QPushButton:
    """A button that does something."""
    out = QPushButton(words)
    out.setToolTip(tip)
    out.setAutoDefault(False)
    out.clicked.connect(lambda _on: do())
    return out


def quiet(words: str = "") -> QLabel:
    """A label in the quieter ink, wrapped."""
    out = QLabel(words)
    out.setProperty("quiet", True)
    out.setWordWrap(True)
    return out


def plain(words: str = "") -> QLabel:
    """A label that wraps and whose words can be copied."""
    out = QLabel(words)
    out.setWordWrap(True)
    out.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
    return out


class Whole(QLabel):
    """Lines that are never cut: as high as they need to be at their width, whatever room there is."""

    def __init__(self) -> None:
        super().__init__()
        self.setWordWrap(True)
        self.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)

    def show_lines(self, words: str) -> None:
        """Other lines."""
        self.setText(words)
        self.setMinimumHeight(max(0, self.heightForWidth(self.width())))  # -1 without words

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width, another height."""
        super().resizeEvent(event)
        self.setMinimumHeight(max(0, self.heightForWidth(self.width())))  # -1 without words


class Pair(QWidget):
    """Two buttons side by side, or one above the other where their words are too long for that."""

    def __init__(self, one: QPushButton, other: QPushButton) -> None:
        super().__init__()
        self._both = (one, other)
        self._line = QBoxLayout(QBoxLayout.Direction.LeftToRight, self)
        self._line.setContentsMargins(0, 0, 0, 0)
        for each in self._both:
            self._line.addWidget(each)

    def minimumSizeHint(self) -> QSize:
        """As narrow as the longer one."""
        sizes = [each.sizeHint() for each in self._both]
        return QSize(max(size.width() for size in sizes), super().minimumSizeHint().height())

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width: beside each other, or not."""
        super().resizeEvent(event)
        needed = sum(each.sizeHint().width() for each in self._both) + self._line.spacing()
        way = QBoxLayout.Direction
        self._line.setDirection(way.LeftToRight if needed <= self.width() else way.TopToBottom)


def head(words: str) -> QLabel:
    """The heading of a part of a page."""
    out = QLabel(words)
    out.setProperty("head", True)
    return out


def row(*parts: QWidget | QLayout | str | int) -> QHBoxLayout:
    """Parts side by side: text becomes a quiet label, a number is a stretch of that share."""
    out = QHBoxLayout()
    out.setSpacing(8)
    for part in parts:
        if isinstance(part, str):
            label = QLabel(part)
            label.setProperty("quiet", True)
            out.addWidget(label)
        elif isinstance(part, int):
            out.addStretch(part)
        elif isinstance(part, QWidget):
            out.addWidget(part)
        else:
            out.addLayout(part)
    return out


def beside(inner: QWidget, width: int) -> QScrollArea:
    """A column at the side of a picture: it keeps its width, and scrolls where the window is low."""
    area = scrolled(inner)
    area.setFixedWidth(width)
    return area


def scrolled(inner: QWidget) -> QScrollArea:
    """A column that is scrolled up and down where it is too long; the keyboard passes it by."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setWidget(inner)
    return area
