"""The parts of the Takes page; `controller` decides."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QDragEnterEvent, QDropEvent, QKeyEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListView,
    QListWidget,
    QListWidgetItem,
    QProgressBar,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from gingham.app.look.appearance import Appearance
from gingham.app.look.theme import SIZES
from gingham.app.views.takes.heard_canvas import HeardCanvas
from gingham.app.views.takes.small import ChangeCanvas, LoudCanvas, PlaceCanvas, TempoCanvas
from gingham.app.views.takes.tapping import TapStrip
from gingham.app.widgets.headed_list import HeadedList
from gingham.app.widgets.parts import box, head, narrow_box, plain, quiet
from gingham.language import tr
from gingham.words.takes import LEGEND

SECTION, BARS, WHOLE = "section", "bars", "whole"
PLAN, TAKE, BOTH = "plan", "take", "both"
SOUNDS = (".wav", ".flac")
_SIDE, _TILE = 300, QSize(152, 46)
_RECORD, _BESIDE = 116, 84


class SentenceList(HeadedList):
    """Sentences of a take. Enter goes to the place, D drills it."""

    go_wanted = Signal()
    drill_wanted = Signal()

    def __init__(self) -> None:
        super().__init__(tr("What held, and what to work on"))
        self.itemDoubleClicked.connect(lambda _item: self.go_wanted.emit())

    def fill(self, parts: list[tuple[str, list[tuple[int, str]]]]) -> None:
        """Headings with their sentences; each sentence with the number of its reason (−1 for none)."""
        self.clear()
        for title, sentences in parts:
            if not sentences:
                continue
            self.add_heading(title)
            for number, words in sentences:
                self.add_row(words, number)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Its own keys; the arrows as in any list."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.go_wanted.emit()
        elif event.key() == Qt.Key.Key_D:
            self.drill_wanted.emit()
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Home, Qt.Key.Key_End):
            super().keyPressEvent(event)
        else:
            event.ignore()  # letters are keys of the page, not words to search for


class TakeList(QListWidget):
    """The takes of the piece, the newest first, side by side. Delete asks, and deletes."""

    delete_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("Takes of this piece, the newest first"))
        self.setFlow(QListView.Flow.LeftToRight)
        self.setWrapping(False)
        self.setUniformItemSizes(True)
        self.setSpacing(2)
        self.setFixedHeight(_TILE.height() + 22)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def put(self, rows: list[tuple[int, str]], current: int) -> None:
        """Takes as (number, words)."""
        self.clear()
        for number, words in rows:
            item = QListWidgetItem(words)
            item.setData(Qt.ItemDataRole.UserRole, number)
            item.setSizeHint(_TILE)
            self.addItem(item)
            if number == current:
                self.setCurrentItem(item)

    @property
    def number(self) -> int:
        """The number of the chosen take; 0 for none."""
        item = self.currentItem()
        return 0 if item is None else int(item.data(Qt.ItemDataRole.UserRole))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Delete; the arrows as in any list."""
        if event.key() == Qt.Key.Key_Delete:
            self.delete_wanted.emit()
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Home, Qt.Key.Key_End):
            super().keyPressEvent(event)
        else:
            event.ignore()


class TakesView(QWidget):
    """Parts only. R records, 1 2 3 say what is heard, C compares; a sound file can be dropped on it."""

    record_wanted = Signal()
    heard_chosen = Signal(str)
    compare_wanted = Signal()
    file_dropped = Signal(Path)

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("root")
        self.setAcceptDrops(True)
        self._make_recording()
        self._make_pictures(appearance)
        self._make_sentences()
        self._lay()

    def _make_recording(self) -> None:
        self.takes = TakeList()
        self.record = QPushButton(tr("Record   R"))
        self.record.setProperty("main", True)
        self.record.setMinimumHeight(40)
        self.record.setFixedWidth(_RECORD)  # it must not move under the hand when it says Stop
        self.source = narrow_box(tr("Where the take comes from"), ())
        self.what = narrow_box(tr("What is to be played"), ())
        self.free = QCheckBox(tr("No tempo"))
        self.free.setToolTip(tr("At your own pace: only order and strings are looked at"))
        self.click = QCheckBox(tr("Click"))
        self.click.setToolTip(tr("A click while you play: listen to it in headphones, or it is recorded too"))
        self.file = QPushButton(tr("File…"))
        self.file.setToolTip(tr("A WAV or FLAC file as a take; it can also be dropped on this page"))
        self.level = QProgressBar()
        self.level.setRange(0, 100)
        self.level.setTextVisible(False)
        self.level.setAccessibleName(tr("How loud it comes in"))
        self.level.setFixedSize(_BESIDE, 12)
        self.delay = QPushButton(tr("Delay…"))
        self.delay.setToolTip(
            tr("Plays a bar of clicks and listens: what loudspeaker and microphone take is then taken off")
        )
        for part in (self.file, self.delay):
            part.setFixedWidth(_BESIDE)
        self.strip = TapStrip()
        self.status = quiet()
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.progress.setAccessibleName(tr("Hearing the take"))
        self.progress.setFixedHeight(14)
        self.cancel = QPushButton(tr("Stop hearing it"))

    def _make_pictures(self, appearance: Appearance) -> None:
        self.heard = HeardCanvas(appearance)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setWidget(self.heard)
        self.here = plain()
        self.places = PlaceCanvas(appearance)
        self.changes = ChangeCanvas(appearance)
        self.tempo = TempoCanvas(appearance)
        self.loud = LoudCanvas(appearance)

    def _make_sentences(self) -> None:
        self.sentences = SentenceList()
        self.go = QPushButton(tr("Go there   Enter"))
        self.drill = QPushButton(tr("Drill it   D"))
        self.drill.setToolTip(tr("Loop the bars of this sentence, to be played slowly and taken again"))
        self.compare = QPushButton(tr("Against the take before   C"))
        self.compare.setCheckable(True)
        self.hand = QPushButton()
        self.hand.setToolTip(tr("From now on this piece’s top speeds are judged by your own hand"))
        self.hand.hide()
        self.name = QLineEdit()
        self.name.setAccessibleName(tr("Name of the take"))
        self.name.setPlaceholderText(tr("Name of the take"))
        self.name.setMaxLength(80)
        self.save = QPushButton(tr("Save a copy…"))
        self.delete = QPushButton(tr("Delete…"))
        self.care = quiet(tr("Stop at pain; shake the hands out between takes."))
        self.which = box(
            tr("What is heard"),
            ((TAKE, tr("the take   2")), (PLAN, tr("the plan   1")), (BOTH, tr("both   3"))),
        )
        self.play = QPushButton(tr("Play from here   Enter"))
        self.play.setProperty("main", True)

    def _lay(self) -> None:
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 4, 12, 8)
        grid.setSpacing(SIZES.gap)
        grid.addLayout(self._top(), 0, 0, 1, 2)
        grid.addWidget(self._picture(), 1, 0)
        grid.addWidget(self._side(), 1, 1, 2, 1)
        grid.addLayout(self._small(), 2, 0)
        grid.setRowStretch(1, 3)
        grid.setRowStretch(2, 2)
        grid.setColumnStretch(0, 1)

    def _top(self) -> QHBoxLayout:
        top = QHBoxLayout()
        top.addWidget(self.takes, 1)
        form = QGridLayout()
        form.setSpacing(4)
        form.addWidget(self.record, 0, 0, 2, 1)
        form.addWidget(self.source, 0, 1)
        form.addWidget(self.what, 1, 1)
        form.addWidget(self.free, 0, 2)
        form.addWidget(self.click, 1, 2)
        form.addWidget(self.file, 0, 3)
        form.addWidget(self.level, 1, 3)
        form.addWidget(self.delay, 1, 3)
        self.source.setFixedWidth(170)
        self.what.setFixedWidth(170)
        top.addLayout(form)
        return top

    def _picture(self) -> QFrame:
        frame = _panel()
        column = QVBoxLayout(frame)
        column.setContentsMargins(8, 6, 8, 6)
        column.setSpacing(4)
        line = QHBoxLayout()
        line.addWidget(head(tr("Heard over meant")))
        line.addWidget(quiet(LEGEND), 1)
        column.addLayout(line)
        column.addWidget(self.area, 1)
        line = QHBoxLayout()
        line.addWidget(self.here, 1)
        line.addWidget(self.which)
        line.addWidget(self.play)
        column.addLayout(line)
        return frame

    def _small(self) -> QHBoxLayout:
        out = QHBoxLayout()
        out.setSpacing(SIZES.gap)
        for parts in ((self.places,), (self.changes,), (self.tempo, self.loud)):
            column = QVBoxLayout()
            column.setSpacing(SIZES.gap)
            for part in parts:
                frame = _panel()
                inside = QVBoxLayout(frame)
                inside.setContentsMargins(1, 1, 1, 1)
                inside.addWidget(part)
                column.addWidget(frame, 1)
            out.addLayout(column, 3 if self.changes in parts else 4)
        return out

    def _side(self) -> QFrame:
        frame = _panel()
        frame.setFixedWidth(_SIDE)
        column = QVBoxLayout(frame)
        column.setContentsMargins(10, 8, 10, 8)
        column.setSpacing(6)
        column.addWidget(self.strip)
        column.addWidget(self.status)
        line = QHBoxLayout()
        line.addWidget(self.progress, 1)
        line.addWidget(self.cancel)
        column.addLayout(line)
        column.addWidget(self.sentences, 1)
        for pair in (
            (self.go, self.drill),
            (self.hand,),
            (self.name,),
            (self.save, self.delete),
            (self.compare,),
        ):
            line = QHBoxLayout()
            for part in pair:
                line.addWidget(part, 1)
            column.addLayout(line)
        column.addWidget(self.care)
        return frame

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The page's keys, wherever nothing is typed."""
        sounds = {"1": PLAN, "2": TAKE, "3": BOTH}
        typed = event.text().lower()
        if event.modifiers() & ~(Qt.KeyboardModifier.KeypadModifier | Qt.KeyboardModifier.ShiftModifier):
            super().keyPressEvent(event)
        elif typed == "r":
            self.record_wanted.emit()
        elif typed in sounds:
            self.heard_chosen.emit(sounds[typed])
        elif typed == "c":
            self.compare_wanted.emit()
        else:
            super().keyPressEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """A sound file is welcome."""
        if _sound_of(event) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Take it in."""
        path = _sound_of(event)
        if path is not None:
            event.acceptProposedAction()
            self.file_dropped.emit(path)


def _sound_of(event: QDropEvent) -> Path | None:
    urls = event.mimeData().urls()
    paths = [Path(url.toLocalFile()) for url in urls if url.isLocalFile()]
    return next((path for path in paths if path.suffix.lower() in SOUNDS), None)


def _panel() -> QFrame:
    frame = QFrame()
    frame.setProperty("panel", True)
    return frame
