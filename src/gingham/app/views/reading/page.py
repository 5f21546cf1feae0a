"""A chart or a part on its way into a piece: what was read, what was guessed, to be put right and taken."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QFontDatabase, QHideEvent, QKeyEvent
from PySide6.QtWidgets import (
    QLineEdit,
    QPlainTextEdit,
    QStackedWidget,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from gingham.app.look.appearance import Appearance
from gingham.app.session.shown import Shown
from gingham.app.views.reading.part_page import PartPage
from gingham.app.views.reading.worker import ChartText, ReadPart, read_file
from gingham.app.widgets.parts import button, fill_last, head, plain, quiet, row
from gingham.app.work.worker import Job
from gingham.core.errors import FileError, GinghamError
from gingham.core.finding.find import Found
from gingham.core.formats.chart import Chart, read_chart
from gingham.core.numbers import is_whole
from gingham.core.patterns.library import for_meter
from gingham.core.pieces.form import MOST_TIMES
from gingham.core.pieces.from_chart import piece_from, with_chart
from gingham.core.pieces.piece import NamedPattern, Piece
from gingham.language import tr
from gingham.words.errors import printable, say
from gingham.words.importing import guess_text

_SOON_MS = 300
_LONG = 5_000  # characters of a chart that are read in some milliseconds
_COLUMNS = (tr("Section"), tr("Times"), tr("Chords"), tr("Words"))
CHART, PART = 0, 1


class ReadingView(QWidget):
    """A page that is there while something is read. Nothing of the piece changes until something is taken."""

    left = Signal()
    """Nothing more is to be read."""

    def __init__(
        self,
        appearance: Appearance,
        shown: Shown,
        open_piece: Callable[[Piece], None],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setObjectName("root")
        self._shown, self._open = shown, open_piece
        self._chart: Chart | None = None
        self.reader, self.charts = Job("reader", self), Job("charts", self)
        self.charts.done.connect(self._show_rows)
        self.charts.failed.connect(self._no_chart)
        self.pages = QStackedWidget()
        self.pages.addWidget(self._chart_page())
        self.part = PartPage(appearance)
        self.pages.addWidget(self.part)
        self.part.stop_button.clicked.connect(lambda _on: self.reader.stop())
        self.part.take_button.clicked.connect(lambda _on: self.take_part())
        self.message = quiet()
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 12, 24, 12)
        column.addWidget(self.pages, 1)
        column.addWidget(self.message)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(_SOON_MS)
        self._later.timeout.connect(self.read_chart)
        self.reader.progressed.connect(lambda share: self.part.progress.setValue(round(100 * share)))
        self.reader.done.connect(self._read)
        self.reader.failed.connect(self._failed)
        self.reader.stopped.connect(lambda: self._failed(FileError("reading-stopped")))

    @property
    def widget(self) -> QWidget:
        """The page."""
        return self

    def refresh(self) -> None:
        """It shows what is read, not the piece."""

    def arrive(self) -> None:
        """The keyboard to the chart."""
        (self.text if self.pages.currentIndex() == CHART else self.part.cloth).setFocus()

    # Charts.

    def _chart_page(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.addWidget(head(tr("Chord chart")))
        column.addWidget(
            quiet(
                tr(
                    "Paste a chart: bars between | lines, or chord names above words; "
                    "[Verse] or Verse: begins a section."
                )
            )
        )
        self.text = QPlainTextEdit()
        self.text.setAccessibleName(tr("Chart as it was written"))
        self.text.setTabChangesFocus(True)
        # Chords stand over their words only where every sign is as wide as the others.
        self.text.setFont(QFontDatabase.systemFont(QFontDatabase.SystemFont.FixedFont))
        self.text.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.text.setPlaceholderText(tr("[Verse x2]\nG            Am7\nForty lanterns along the quay"))
        self.text.textChanged.connect(lambda: self._later.start())
        self.title = QLineEdit()
        self.title.setAccessibleName(tr("Title"))
        self.table = QTableWidget(0, len(_COLUMNS))
        self.table.setAccessibleName(tr("What was read, to be put right"))
        self.table.setHorizontalHeaderLabels(list(_COLUMNS))
        self.table.verticalHeader().hide()
        fill_last(self.table)
        self.guesses = plain()
        column.addWidget(self.text, 3)
        column.addWidget(head(tr("Read as")))
        column.addLayout(row(tr("Title"), self.title))
        column.addWidget(self.table, 2)
        column.addWidget(self.guesses)
        column.addLayout(
            row(
                1,
                button(tr("Add to this piece"), tr("Its sections behind those of the piece"), self.add_chart),
                button(tr("Make a new piece"), tr("A piece of its own, on this instrument"), self.take_chart),
            )
        )
        return page

    def show_chart(self) -> None:
        """Ready for a chart to be pasted."""
        self.pages.setCurrentIndex(CHART)
        self.message.clear()
        self.text.setFocus()

    def read_chart(self) -> None:
        """Read what stands in the text now."""
        self._later.stop()
        self.charts.forget()
        text, meter = self.text.toPlainText(), self._shown.piece.meter
        if not text.strip():
            self._show_rows(None)
        elif len(text) > _LONG:
            self.message.setText(tr("Reading…"))
            self.charts.start(lambda _tick: read_chart(text, meter))
        else:
            try:
                self._show_rows(read_chart(text, meter))
            except GinghamError as error:
                self._no_chart(error)

    def _no_chart(self, error: GinghamError) -> None:
        self._show_rows(None)
        self.message.setText(say(error))

    def _show_rows(self, chart: Chart | None) -> None:
        self._chart = chart
        sections = chart.sections if chart is not None else ()
        self.table.setRowCount(len(sections))
        for index, section in enumerate(sections):
            cells = (section.name, str(section.times), section.chords, "  ⏎  ".join(section.words))
            for column, cell in enumerate(cells):
                self.table.setItem(index, column, QTableWidgetItem(cell))
        self.guesses.setText("\n".join(map(guess_text, chart.guesses)) if chart is not None else "")
        if chart is not None:
            self.message.clear()
            self.title.setText(chart.title)

    def rows(self) -> list[tuple[str, str, tuple[str, ...], int]]:
        """The sections as they stand in the table, put right by the player."""
        out = []
        for index in range(self.table.rowCount()):
            name, times, chords, words = (self._cell(index, column) for column in range(len(_COLUMNS)))
            lines = tuple(line.strip() for line in words.split("⏎") if line.strip())
            number = min(max(1, int(times)), MOST_TIMES) if is_whole(times) else 1
            out.append((name.strip() or tr("Part"), chords, lines, number))
        return out

    def _cell(self, index: int, column: int) -> str:
        item = self.table.item(index, column)
        return item.text() if item is not None else ""

    def take_chart(self) -> None:
        """A new piece from the chart."""
        like = self._shown.piece
        capo = self._chart.capo if self._chart is not None else 0
        name, pattern = for_meter(like.meter)[0]
        named = NamedPattern(name, pattern)
        self._take(lambda: self._open(piece_from(self.rows(), like, self.title.text(), capo, named)))

    def add_chart(self) -> None:
        """The chart's sections behind those of the piece."""
        self._take(lambda: self._shown.edit(tr("Add a chart"), with_chart(self._shown.piece, self.rows())))

    def _take(self, do: Callable[[], None]) -> None:
        if not self.table.rowCount():
            self.message.setText(tr("There is nothing to take yet."))
            return
        try:
            do()
        except GinghamError as error:
            self.message.setText(say(error))
        else:
            self.left.emit()

    # Parts.

    @property
    def read(self) -> Found | None:
        """The part that was read."""
        return self.part.read.found if self.part.read is not None else None

    def read_file(self, path: Path) -> None:
        """Read a part; a text without tablature becomes a chart to be looked over."""
        self.pages.setCurrentIndex(PART)
        self.part.begin(printable(path.name))
        self.message.clear()
        self.reader.start(partial(read_file, path, self._shown.piece.meter))

    def _read(self, read: ReadPart | ChartText) -> None:
        if isinstance(read, ChartText):
            self._chart_found(read.text)
            return
        self.part.show_part(read)
        self.part.show_busy(False)
        self.part.cloth.setFocus()

    def _chart_found(self, text: str) -> None:
        self.part.show_busy(False)
        self.show_chart()
        self.text.setPlainText(text)
        self.read_chart()

    def _failed(self, error: GinghamError) -> None:
        self.part.show_busy(False)
        self.part.title.setText(tr("Nothing was read"))
        self.message.setText(say(error))

    def take_part(self) -> None:
        """Open what was found as a piece."""
        piece = self.part.piece()
        if piece is not None:
            self._open(piece)
            self.left.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Esc gives a running reading up, or leaves."""
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)

    def hideEvent(self, event: QHideEvent) -> None:
        """A reading that runs is given up with the page."""
        self.reader.stop()
        super().hideEvent(event)

    def end(self) -> None:
        """End its threads."""
        self.reader.close()
        self.charts.close()
