"""My way of playing: the ways at the left, the questions beside them, and where this piece does otherwise."""

from __future__ import annotations

from PySide6.QtCore import QSignalBlocker, Qt, Signal
from PySide6.QtGui import QKeyEvent, QResizeEvent
from PySide6.QtWidgets import (
    QBoxLayout,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from gingham.app.look.appearance import Appearance
from gingham.app.session.shown import Shown
from gingham.app.session.ways import Ways
from gingham.app.views.way.answers import answer_of, with_answer
from gingham.app.views.way.own_choices import OwnChoices
from gingham.app.widgets.parts import form, head, narrow_box, on_button, quiet, scrolled
from gingham.app.widgets.typed_line import TypedLine, show_fault
from gingham.core.errors import InputError
from gingham.core.music.meter import parse_meter
from gingham.core.pieces.way import own_shapes
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.way import NAMES_GROUP, QUESTIONS, SUMMARY, rule_text

_LEFT, _RIGHT, _LABELS = 208, 270, 112
_TWO_COLUMNS = 620
_COLUMNS = (
    (tr("The thumb"), tr("The fingers"), tr("Chords")),
    (tr("A new piece"), tr("Sound"), tr("Names and numbers"), tr("Practising")),
)


class WayView(QWidget):
    """Every answer holds at once; Escape leaves."""

    left = Signal()
    """Enough said."""

    def __init__(
        self, appearance: Appearance, shown: Shown, ways: Ways, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setObjectName("root")
        self._shown, self._ways, self._appearance = shown, ways, appearance
        self.list = QListWidget()
        self.list.setAccessibleName(tr("My ways of playing"))
        self.name = TypedLine(appearance, tr("Name of this way"))
        self.boxes: dict[tuple[str, str], QComboBox] = {}
        self.pattern = narrow_box(tr("A new piece: Pattern"), ())
        self.shapes = TypedLine(appearance, tr("Shapes of my own"))
        self.shapes.setPlaceholderText("F{xx3211} C{332010}")
        self.message = QLabel()
        self.message.setProperty("fault", True)
        self.message.setWordWrap(True)
        self.message.hide()
        self.own = OwnChoices(shown, ways, appearance)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 4, 12, 8)
        row.setSpacing(14)
        row.addWidget(self._side())
        row.addWidget(self._middle(), 1)
        self.own.setFixedWidth(_RIGHT)
        row.addWidget(self.own)
        self._connect()

    def _side(self) -> QWidget:
        """The ways under their names, and what can be done with them."""
        self.fresh = QPushButton(tr("One more"))
        self.fresh.setToolTip(tr("A copy of this way under another name, to be changed"))
        self.taken = QPushButton(tr("As this piece does"))
        self.taken.setToolTip(tr("A new way with the rules of the piece that is shown"))
        self.gone = QPushButton(tr("Remove"))
        self.gone.setToolTip(tr("Pieces that began with it stay as they are"))
        self.back = QPushButton()
        self.back.clicked.connect(lambda _on: self._ways.bring_back())
        words = quiet(SUMMARY)
        words.setWordWrap(True)
        column = QVBoxLayout()
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(head(tr("My ways of playing")))
        column.addWidget(words)
        column.addWidget(self.list, 1)
        column.addWidget(self.name)
        for button in (self.fresh, self.taken, self.gone, self.back):
            column.addWidget(button)
        side = QWidget()
        side.setLayout(column)
        side.setFixedWidth(_LEFT)
        return side

    def _middle(self) -> QWidget:
        """The questions in two columns."""
        groups = dict(QUESTIONS)
        columns = self._columns = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        columns.setContentsMargins(0, 0, 8, 0)
        columns.setSpacing(20)
        for titles in _COLUMNS:
            column = QVBoxLayout()
            column.setSpacing(8)
            for title in titles:
                column.addWidget(head(title))
                rows: list[tuple[str, QWidget]] = []
                for question in groups[title]:
                    box = narrow_box(f"{title}: {question.label}", question.answers)
                    box.currentTextChanged.connect(box.setToolTip)  # it may be too narrow for its words
                    self.boxes[title, question.field] = box
                    rows.append((question.label, box))
                if title == tr("Chords"):
                    rows.append((tr("Shapes of my own"), self.shapes))
                if title == tr("A new piece"):
                    rows.append((tr("Pattern"), self.pattern))
                column.addLayout(form(*rows, label_width=_LABELS))
                if title == tr("Chords"):
                    column.addWidget(self.message)
            column.addStretch(1)
            columns.addLayout(column, 1)
        inner = QWidget()
        inner.setLayout(columns)
        return scrolled(inner)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Where two columns would cut the answers, they stand one over the other."""
        super().resizeEvent(event)
        wide = self.width() - _LEFT - _RIGHT >= _TWO_COLUMNS
        self._columns.setDirection(
            QBoxLayout.Direction.LeftToRight if wide else QBoxLayout.Direction.TopToBottom
        )

    def _connect(self) -> None:
        for (title, field), box in self.boxes.items():
            box.activated.connect(lambda _i, title=title, field=field: self._answered(title, field))
        self.list.currentRowChanged.connect(self._ways.choose)
        self.pattern.activated.connect(
            lambda _i: self._ways.change(replace(self._ways.now, pattern=self.pattern.currentData()))
        )
        self.name.left.connect(lambda: self._ways.rename(self.name.text()))
        self.name.given_up.connect(self.refresh)
        self.shapes.left.connect(self._shapes_typed)
        self.shapes.given_up.connect(self.refresh)
        self.fresh.clicked.connect(lambda _on: self._ways.add(self._ways.now))
        self.taken.clicked.connect(
            lambda _on: self._ways.add(replace(self._ways.now, rules=self._shown.piece.rules))
        )
        self.gone.clicked.connect(lambda _on: self._ways.remove())
        self._ways.changed.connect(self.refresh)
        self._shown.piece_changed.connect(self._piece_changed)
        self._appearance.changed.connect(self._names_changed)

    # A place of the window.

    @property
    def widget(self) -> QWidget:
        """The page."""
        return self

    def arrive(self) -> None:
        """The keyboard in the first question."""
        self.boxes[tr("The thumb"), "thumb"].setFocus()

    def end(self) -> None:
        """It has no thread."""

    def refresh(self) -> None:
        """Show the way in use, and where the piece departs from it."""
        now, known = self._ways.now, self._ways.known
        with QSignalBlocker(self.list):
            self.list.clear()
            self.list.addItems([way.name for way in known.ways])
            self.list.setCurrentRow(known.current)
        self.gone.setEnabled(len(known.ways) > 1)
        removed = self._ways.removed
        self.back.setVisible(removed is not None)
        self.back.setText(
            on_button(tr("Bring “{name}” back", name=removed.name)) if removed is not None else ""
        )
        self.name.show_text(now.name)
        self.shapes.show_text(now.shapes)
        show_fault(self.shapes, self.message, None)
        for (title, field), box in self.boxes.items():
            value = answer_of(now, title, field)
            if box.findData(value) < 0:  # from a file or a piece: a value of its own
                box.addItem(rule_text(field, value) if title != NAMES_GROUP else value, value)
            box.setCurrentIndex(box.findData(value))
        self.pattern.clear()
        self.pattern.addItem(tr("the first of the meter"), "")
        for name in self._ways.patterns.names(parse_meter(now.meter)):
            self.pattern.addItem(name, name)
        self.pattern.setCurrentIndex(max(0, self.pattern.findData(now.pattern)))
        self.own.refresh()

    def _piece_changed(self) -> None:
        if self.isVisible():
            self.own.refresh()

    def _names_changed(self) -> None:
        """Other names by the menu: the way in use has them too."""
        if self.isVisible():
            self.refresh()

    # Answers.

    def _answered(self, title: str, field: str) -> None:
        self._ways.change(with_answer(self._ways.now, title, field, self.boxes[title, field].currentData()))

    def _shapes_typed(self) -> None:
        text = self.shapes.text().strip()
        try:
            own_shapes(text)
        except InputError as error:
            show_fault(self.shapes, self.message, error)
            return
        show_fault(self.shapes, self.message, None)
        if text != self._ways.now.shapes:
            self._ways.change(replace(self._ways.now, shapes=text))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape leaves."""
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)
