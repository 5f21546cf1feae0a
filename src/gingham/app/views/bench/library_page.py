"""Patterns to choose from, the built-in and the player's own, tried on this piece's chords."""

from __future__ import annotations

from pathlib import Path

import msgspec
from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QProgressBar, QPushButton, QVBoxLayout

from gingham.app.views.bench.chosen import SIDE, ChosenPattern
from gingham.app.views.bench.desk import Desk
from gingham.app.widgets.parts import BenchPage, beside, box, button, quiet, row, scrolled
from gingham.app.widgets.wall import WallCanvas, WallTile
from gingham.app.work.worker import NewestWorker
from gingham.core.bench.audition import Heard, audition
from gingham.core.bench.tags import DENSITIES, Tags, tags_of
from gingham.core.errors import GinghamError
from gingham.core.formats.pattern_file import remove_pattern, save_pattern, shelf
from gingham.core.later import Later
from gingham.core.patterns.compare import compare, differing_places, rotation_of
from gingham.core.patterns.library import builtin
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.piece import Piece
from gingham.language import tr
from gingham.words.bench import comparison_text, density_words, heard_text, tags_text, thumb_words
from gingham.words.errors import say
from gingham.words.notices import notice

_MINE = "mine"
_ORDERS = {
    "name": tr("by name"),
    "speed": tr("fastest first"),
    "conflicts": tr("fewest conflicts first"),
    "near": tr("nearest to mine first"),
}


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
    """The wall with its filter, the chosen pattern, and what is done with it."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self._entries: tuple[Entry, ...] = ()
        self._shown: tuple[Entry, ...] = ()
        """The patterns as they stand on the wall."""
        self._heard: dict[str, Heard] = {}
        self._job: Trial | None = None
        self.worker = Auditioner(self)
        self.worker.heard.connect(self._show_heard)
        self.worker.ended.connect(self._ended)
        self._make_filter()
        self.wall = WallCanvas(desk.appearance, tr("Patterns, tried on your chords"))
        self.chosen = ChosenPattern(desk)
        for each in (self.wall, self.chosen):
            each.heard.connect(self.hear)
            each.taken.connect(self.take)
        self.wall.mixed.connect(self._mix)
        self.wall.chosen.connect(lambda _index: self._show_chosen())
        self.faults = quiet()
        self._lay_out()

    def _make_filter(self) -> None:
        self.search = QLineEdit()
        self.search.setPlaceholderText(tr("Search names and tags"))
        self.search.setClearButtonEnabled(True)
        self.search.setAccessibleName(tr("Search patterns"))
        self.search.textChanged.connect(lambda _text: self.refresh())
        self.meter = box(tr("Meter"), (("", tr("this meter")), ("any", tr("any meter"))))
        fingers = [("", tr("any fingers"))] + [
            (str(n), tr("up to {fingers} fingers", fingers=n)) for n in (2, 3, 4)
        ]
        self.fingers = box(tr("Fingers"), fingers)
        self.density = box(
            tr("Density"), [("", tr("any density")), *((d, density_words(d)) for d in DENSITIES)]
        )
        thumbs = ("beats", "half", "once", "walking", "free", "none")
        self.thumb = box(
            tr("Thumb"),
            [
                ("", tr("any thumb")),
                *((t, tr("thumb {thumb_words}", thumb_words=thumb_words(t))) for t in thumbs),
            ],
        )
        self.order = box(tr("Order"), list(_ORDERS.items()))
        for each in (self.meter, self.fingers, self.density, self.thumb, self.order):
            each.activated.connect(lambda _index: self.refresh())

    def _lay_out(self) -> None:
        self.progress = QProgressBar()
        self.progress.setAccessibleName(tr("Trying patterns"))
        self.progress.setTextVisible(False)
        self.progress.setFixedHeight(10)
        self.stop: QPushButton = button(tr("Stop"), tr("Leave the rest untried"), self._stop)
        self.name = QLineEdit()
        self.name.setPlaceholderText(tr("Name"))
        self.name.setAccessibleName(tr("Name for my pattern"))
        self.name.returnPressed.connect(self.keep)
        self.name.setMaximumWidth(180)
        self.remove_button = button(
            tr("Remove mine"), tr("Delete the file of the chosen pattern"), self.remove
        )
        area = scrolled(self.wall)
        area.setAccessibleName(tr("The wall of patterns"))
        # A bar that comes and goes would change the width, with it the rows, and so come and go for ever.
        area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        column = QVBoxLayout(self)
        column.addLayout(row(self.search, self.order, self.meter, self.fingers, self.density, self.thumb))
        both = QHBoxLayout()
        column.addLayout(both, 1)
        left = QVBoxLayout()
        both.addLayout(left, 1)
        left.addWidget(area, 1)
        left.addLayout(row(self.progress, self.stop))
        both.addWidget(beside(self.chosen, SIDE))
        below = self.chosen.below
        into = button(tr("Into the mix   B"), tr("A bar of the mix under Vary and mix"), self._mix)
        below.addLayout(row(into, 1))
        below.addLayout(
            row(
                tr("Keep mine as"),
                self.name,
                button(tr("Keep"), tr("Write it to a file of your own"), self.keep),
            )
        )
        below.addLayout(row(self.remove_button, 1))
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
        return tags_of(entry.pattern)

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
        chosen = self.entry
        self._entries = self._shown = tuple(sorted(self._entries, key=self._rank))
        wanted = chosen.name if chosen is not None else self._desk.name
        names = [entry.name for entry in self._entries]
        current = names.index(wanted) if wanted in names else min(0, len(names) - 1)
        entries = self._entries
        self.wall.show_tiles(Later(len(entries), lambda index: self._tile(entries[index])), current)
        self._show_chosen()

    def _rank(self, entry: Entry) -> tuple[float, str]:
        """By the chosen order; what has not been tried yet comes last."""
        heard, order = self._heard.get(entry.name), self.order.currentData()
        if order == "near":
            return float(len(differing_places(self._desk.pattern, entry.pattern))), entry.name
        if order == "name" or heard is None:
            return (0.0 if order == "name" else 1e9), entry.name
        return float(heard.conflicts if order == "conflicts" else -heard.limit), entry.name

    def _tile(self, entry: Entry) -> WallTile:
        tags, heard = self._tags(entry), self._heard.get(entry.name)
        name = f"{entry.name} ({_MINE})" if entry.path else entry.name
        fingers = " ".join(map(self._desk.appearance.theme.naming.finger, tags.fingers))
        under = tr(
            "{fingers} · {strokes:g} plucks a bar · {meter}",
            fingers=fingers,
            strokes=float(tags.strokes),
            meter=tags.meter,
        )
        note = heard_text(heard) if heard is not None else tr("being tried …")
        here = tr("{name}, now", name=name) if entry.name == self._desk.name else name
        return WallTile(here, entry.pattern, differing_places(self._desk.pattern, entry.pattern), note, under)

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

    def arrive(self) -> None:
        """The keyboard to the wall."""
        self.wall.setFocus()

    # The chosen one.

    @property
    def entry(self) -> Entry | None:
        """The chosen pattern."""
        index = self.wall.current
        return self._shown[index] if 0 <= index < len(self._shown) else None

    def _show_chosen(self) -> None:
        entry = self.entry
        self.remove_button.setEnabled(entry is not None and entry.path is not None)
        if entry is None:
            words = tr("Clear the search, or choose any meter.")
            self.chosen.show_pattern(tr("No pattern is like that"), None, words)
            return
        tags, now = self._tags(entry), self._desk.pattern
        text = f"{tags_text(tags)}."
        heard = self._heard.get(entry.name)
        shown = entry.pattern
        if heard is not None:
            text += tr(
                " On your chords {per_s:.1f} plucks a second at {tempo}.",
                per_s=heard.per_s,
                tempo=self._desk.piece.tempo,
            )
            text += tr(" It comes from another meter and is fitted to yours.") if heard.converted else ""
            shown = heard.pattern
        if entry.pattern.meter == now.meter and entry.pattern != now:
            places = compare(now, entry.pattern)
            text += tr(
                " Against the piece’s pattern: {comparison}",
                comparison=comparison_text(places, rotation_of(now, entry.pattern)),
            )
        self.chosen.show_pattern(entry.name, shown, f"{text[:1].upper()}{text[1:]}")

    def _mix(self) -> None:
        """The chosen pattern as a bar of the mix."""
        if self.entry is not None:
            self._desk.mix_wanted.emit(self.entry.name, self.entry.pattern)
            self._desk.notice.emit(notice("in-the-mix", name=self.entry.name))

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
        self._desk.take(tr("Choose pattern"), pattern, entry.name)

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
