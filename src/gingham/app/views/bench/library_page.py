"""Patterns to choose from, the built-in and the player's own, tried on this piece's chords."""

from __future__ import annotations

from pathlib import Path

import msgspec
from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtWidgets import QLineEdit, QProgressBar, QPushButton, QVBoxLayout

from gingham.app.views.bench.desk import Desk
from gingham.app.views.bench.strip import PatternStrip, beside
from gingham.app.widgets.parts import BenchPage, Table, box, button, plain, quiet, row
from gingham.app.work.worker import NewestWorker
from gingham.core.bench.audition import Heard, audition
from gingham.core.bench.tags import DENSITIES, Tags, tags_of
from gingham.core.errors import GinghamError
from gingham.core.formats.pattern_file import remove_pattern, save_pattern, shelf
from gingham.core.patterns.compare import compare, rotation_of
from gingham.core.patterns.library import builtin
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.piece import Piece
from gingham.words.bench import comparison_text, tags_text, thumb_words
from gingham.words.errors import say
from gingham.words.notices import notice

_HEADS = (
    "Pattern", "Meter", "Fingers", "Plucks a bar", "Thumb", "Alone up to", "Conflicts", "Hard changes",
    "Here up to",
)  # fmt: skip
_MINE = "mine"


class Entry(msgspec.Struct, frozen=True):
    """A pattern of the library; `path` is its file if it is the player's own."""

    name: str
    pattern: Pattern
    path: Path | None = None


class Trial(msgspec.Struct, frozen=True):
    """Patterns to try on a section of a piece."""

    piece: Piece
    section: int
    entries: tuple[Entry, ...]


class Auditioner(NewestWorker[Trial]):
    """Tries patterns off the interface thread."""

    heard = Signal(object, int, object)
    """The job, how many are done, and the Heard."""
    ended = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        self.stopped = False
        super().__init__("audition", parent)

    def work_on(self, item: Trial) -> None:
        """Try one pattern after the other, until something newer waits or the player stops it."""
        self.stopped = False
        patterns = [(entry.name, entry.pattern) for entry in item.entries]
        try:
            for number, found in enumerate(audition(item.piece, item.section, patterns), 1):
                if self.outdated or self.stopped:
                    break
                self.heard.emit(item, number, found)
        except GinghamError:
            pass  # a piece that cannot be fitted is said at its chord line
        if self.running:
            self.ended.emit(item)


class LibraryPage(BenchPage):
    """The list with its filter, the chosen pattern, and what is done with it."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self._entries: tuple[Entry, ...] = ()
        self._heard: dict[str, Heard] = {}
        self._job: Trial | None = None
        self.worker = Auditioner(self)
        self.worker.heard.connect(self._show_heard)
        self.worker.ended.connect(self._ended)
        self._make_filter()
        self.table = Table("Patterns", _HEADS, self.hear, self.take)
        self.table.setSortingEnabled(True)
        self.table.sortByColumn(0, Qt.SortOrder.AscendingOrder)
        self.table.itemSelectionChanged.connect(self._show_chosen)
        self.strip = PatternStrip(desk.appearance)
        self.about = plain()
        self.faults = quiet()
        self._lay_out()

    def _make_filter(self) -> None:
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search names and tags")
        self.search.setClearButtonEnabled(True)
        self.search.setAccessibleName("Search patterns")
        self.search.textChanged.connect(lambda _text: self.refresh())
        self.meter = box("Meter", (("", "this meter"), ("any", "any meter")))
        fingers = [("", "any fingers")] + [(str(n), f"up to {n} fingers") for n in (2, 3, 4)]
        self.fingers = box("Fingers", fingers)
        self.density = box("Density", [("", "any density"), *((d, d) for d in DENSITIES)])
        thumbs = ("beats", "half", "once", "walking", "free", "none")
        self.thumb = box("Thumb", [("", "any thumb"), *((t, f"thumb {thumb_words(t)}") for t in thumbs)])
        for each in (self.meter, self.fingers, self.density, self.thumb):
            each.activated.connect(lambda _index: self.refresh())

    def _lay_out(self) -> None:
        self.progress = QProgressBar()
        self.progress.setAccessibleName("Trying patterns")
        self.progress.setTextVisible(False)
        self.progress.setFixedHeight(10)
        self.stop: QPushButton = button("Stop", "Leave the rest untried", self._stop)
        self.name = QLineEdit()
        self.name.setPlaceholderText("Name")
        self.name.setAccessibleName("Name for my pattern")
        self.name.returnPressed.connect(self.keep)
        self.name.setMaximumWidth(180)
        self.remove_button = button("Remove mine", "Delete the file of the chosen pattern", self.remove)
        column = QVBoxLayout(self)
        column.addLayout(row(self.search, self.meter, self.fingers, self.density, self.thumb))
        column.addWidget(self.table, 1)
        column.addLayout(row(self.progress, self.stop))
        column.addLayout(beside(self.strip, self.about))
        column.addLayout(
            row(
                button("Use it", "The section plays it (Enter in the list)", self.take),
                button("Hear it", "On the first bars of your chords (Space in the list)", self.hear),
                1,
                "Keep the piece’s pattern as",
                self.name,
                button("Keep", "Write it to a file of your own", self.keep),
                self.remove_button,
            )
        )
        column.addWidget(self.faults)

    # What is listed.

    def refresh(self) -> None:
        """List what the filter lets through, and try it on the piece as it is now."""
        found = shelf(self._desk.folder)
        self.faults.setText(" ".join(say(error) for error in found.faults))
        self.faults.setVisible(bool(found.faults))
        own = [Entry(name, pattern, path) for name, pattern, path in found.patterns]
        names = {entry.name for entry in own}
        given = [Entry(name, pattern) for name, pattern in builtin() if name not in names]
        self._entries = tuple(entry for entry in (*own, *given) if self._passes(entry))
        self._fill()
        self._try()

    def _tags(self, entry: Entry) -> Tags:
        return tags_of(entry.pattern, self._desk.piece.instrument, self._desk.piece.rules.level)

    def _passes(self, entry: Entry) -> bool:
        if not self.meter.currentData() and entry.pattern.meter != self._desk.piece.meter:
            return False
        tags = self._tags(entry)
        most, density, thumb = (b.currentData() for b in (self.fingers, self.density, self.thumb))
        if (most and len(tags.fingers) > int(most)) or (density and tags.density != density):
            return False
        if thumb and tags.thumb != thumb:
            return False
        words = f"{entry.name} {tags.meter} {tags_text(tags)} {_MINE if entry.path else ''}".lower()
        return all(word in words for word in self.search.text().lower().split())

    def _fill(self) -> None:
        chosen = self.table.chosen()
        self.table.setSortingEnabled(False)
        self.table.setRowCount(len(self._entries))
        for index, entry in enumerate(self._entries):
            tags = self._tags(entry)
            heard = self._heard.get(entry.name)
            judged = (heard.conflicts, heard.hard_changes, heard.limit) if heard is not None else ("…",) * 3
            name = f"{entry.name} ({_MINE})" if entry.path else entry.name
            fingers = " ".join(map(self._desk.appearance.theme.naming.finger, tags.fingers))
            cells = (name, tags.meter, fingers, float(tags.strokes), thumb_words(tags.thumb), tags.limit)
            self.table.put(index, (*cells, *judged), entry)
        self.table.setSortingEnabled(True)
        self.table.resizeColumnsToContents()
        self._choose(chosen)

    def _choose(self, entry: object) -> None:
        """Keep the choice; at first the piece's own pattern, else the first row."""
        wanted = entry.name if isinstance(entry, Entry) else self._desk.name
        for index in range(self.table.rowCount()):
            each = self.table.key(index)
            if isinstance(each, Entry) and each.name == wanted:
                self.table.selectRow(index)
                return
        if self.table.rowCount():
            self.table.selectRow(0)
        else:
            self.strip.show_pattern(None)
            self.about.setText("No pattern is like that. Clear the search, or choose any meter.")

    # Trying.

    def _try(self) -> None:
        desk = self._desk
        self._job = Trial(desk.piece, desk.shown.section, self._entries)
        self.progress.setRange(0, max(1, len(self._entries)))
        self.progress.setValue(0)
        self._show_busy(True)
        self.worker.request(self._job)

    def _show_busy(self, on: bool) -> None:
        self.progress.setVisible(on)
        self.stop.setVisible(on)

    def _stop(self) -> None:
        self.worker.stopped = True

    def _show_heard(self, job: Trial, number: int, found: Heard) -> None:
        if job is not self._job:
            return
        self.progress.setValue(number)
        self._heard[found.name] = found

    def _ended(self, job: Trial) -> None:
        if job is self._job:
            self._show_busy(False)
            self._fill()

    # The chosen one.

    @property
    def entry(self) -> Entry | None:
        """The chosen pattern."""
        found = self.table.chosen()
        return found if isinstance(found, Entry) else None

    def _show_chosen(self) -> None:
        entry = self.entry
        self.remove_button.setEnabled(entry is not None and entry.path is not None)
        if entry is None:
            return
        self.strip.show_pattern(entry.pattern)
        tags, now = self._tags(entry), self._desk.pattern
        text = f"{entry.name}: {tags_text(tags)}."
        heard = self._heard.get(entry.name)
        if heard is not None:
            text += f" On your chords {heard.per_s:.1f} plucks a second at {self._desk.piece.tempo}."
            text += " It comes from another meter and is fitted to yours." if heard.converted else ""
        if entry.pattern.meter == now.meter and entry.pattern != now:
            places = compare(now, entry.pattern)
            text += (
                f" Against the piece’s pattern: {comparison_text(places, rotation_of(now, entry.pattern))}"
            )
        self.about.setText(text)

    def hear(self) -> None:
        """Play the chosen pattern on the first bars."""
        if self.entry is not None:
            self._desk.hear(self.entry.pattern)

    def take(self) -> None:
        """Give the chosen pattern to the section; one of another meter as it is fitted to this one."""
        entry = self.entry
        if entry is None:
            return
        heard = self._heard.get(entry.name)
        pattern = heard.pattern if heard is not None and heard.converted else entry.pattern
        self._desk.take("Choose pattern", pattern, entry.name)

    def keep(self) -> None:
        """Write the piece's pattern to a file of the player's own."""
        name = self.name.text().strip() or self._desk.name
        if any(name == known for known, _ in builtin()):
            self._desk.notice.emit(notice("name-built-in"))
            return
        try:
            path = save_pattern(self._desk.folder, name, self._desk.pattern)
        except GinghamError as error:
            self._desk.notice.emit(say(error))
            return
        self.name.clear()
        self._desk.notice.emit(notice("kept-in", path=path))
        self.refresh()

    def remove(self) -> None:
        """Delete the file of the chosen pattern of the player's own; the piece keeps what it plays."""
        entry = self.entry
        if entry is None or entry.path is None:
            return
        try:
            remove_pattern(entry.path)
        except GinghamError as error:
            self._desk.notice.emit(say(error))
            return
        self._desk.notice.emit(notice("removed", name=entry.name))
        self.refresh()
