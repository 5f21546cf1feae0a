"""The player's ways of playing: read once, one in use, written at every change; new pieces begin with it."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from gingham.app.look.appearance import Appearance
from gingham.app.session.document import Document, empty_piece
from gingham.app.session.own_patterns import OwnPatterns, pattern_folder
from gingham.app.session.plans import Plans
from gingham.app.session.shown import Shown
from gingham.core.errors import GinghamError
from gingham.core.free_names import free_name
from gingham.core.practice.orders import Learning
from gingham.core.values import replace
from gingham.words.errors import say
from gingham.words.naming import NAMINGS, Naming
from gingham.words.notices import notice

if TYPE_CHECKING:
    from gingham.core.formats.ways_file import KnownWays
    from gingham.core.pieces.way import Way

_ASIDE = {"file-newer": ".newer"}


class Ways(QObject):
    """Holds them all. Names and the order of learning live in the window: the way in use follows them."""

    changed = Signal()
    notice = Signal(str)

    def __init__(
        self, path: Path, appearance: Appearance, plans: Plans, shown: Shown, parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self._path, self._appearance, self._plans, self._shown = path, appearance, plans, shown
        self.patterns = OwnPatterns(pattern_folder())
        self._known: KnownWays | None = None
        self.removed: Way | None = None
        """The way that was removed last, as long as the window is open."""
        self._aside = ""
        """What a file that could not be read is called when it has to make room; empty if it could."""

    @property
    def known(self) -> KnownWays:
        """All of them, read when they are first needed; a damaged file is said and kept."""
        if self._known is None:
            from gingham.core.formats.ways_file import KnownWays, load_ways

            try:
                self._known = load_ways(self._path)
            except GinghamError as error:
                self._known, self._aside = KnownWays(), _ASIDE.get(error.code, ".damaged")
                self.notice.emit(notice("ways-unread", why=say(error)))
            self._shown.own_shapes = self._known.now.shapes
        return self._known

    def read(self) -> None:
        """Have them read: a chord that is typed may have a shape of the player's."""
        assert self.known

    @property
    def now(self) -> Way:
        """The way in use, with the names and orders that the window has."""
        naming, learning = self._appearance.theme.naming, self._plans.learning
        return replace(
            self.known.now,
            **{what: getattr(naming, what) for what in NAMINGS},
            **{name: getattr(learning, name) for name in Learning.__struct_fields__},
        )

    def new_document(self, parent: QObject | None = None) -> Document:
        """An empty piece that begins as the way in use says."""
        return Document(empty_piece(self.now, self.patterns.all_own()), parent=parent)

    def change(self, way: Way) -> None:
        """The way in use is another one now."""
        rest = self.known
        self._use(replace(rest, ways=tuple(way if i == rest.current else w for i, w in enumerate(rest.ways))))

    def choose(self, index: int) -> None:
        """Play in another of the ways from now on."""
        if index != self.known.current and 0 <= index < len(self.known.ways):
            self._use(replace(self._captured(), current=index))

    def add(self, way: Way) -> None:
        """One more way, in use at once; its name is made one that none has."""
        kept = self._captured()
        self._use(replace(kept, ways=(*kept.ways, self._named(way, way.name)), current=len(kept.ways)))

    def rename(self, name: str) -> None:
        """Another name for the way in use."""
        if name.strip() and name.strip() != self.known.now.name:
            self.change(self._named(self.now, name.strip()))

    def remove(self) -> None:
        """Let the way in use go; the last one stays."""
        kept = self.known
        if len(kept.ways) > 1:
            ways = tuple(way for i, way in enumerate(kept.ways) if i != kept.current)
            self.removed = self.now
            self._use(replace(kept, ways=ways, current=min(kept.current, len(ways) - 1)))

    def bring_back(self) -> None:
        """The way that was removed last is there again, and in use."""
        if self.removed is not None:
            way, self.removed = self.removed, None
            self.add(way)

    def _named(self, way: Way, wanted: str) -> Way:
        return replace(way, name=free_name(wanted, {each.name for each in self.known.ways}))

    def _captured(self) -> KnownWays:
        """All of them, the one in use with the window's names and orders as they are."""
        kept = self.known
        return replace(
            kept, ways=tuple(self.now if i == kept.current else way for i, way in enumerate(kept.ways))
        )

    def _use(self, known: KnownWays) -> None:
        from gingham.core.formats.ways_file import save_ways

        self._known = known
        self._shown.own_shapes = known.now.shapes
        self._dress(known.now)
        try:
            self._put_aside()
            save_ways(self._path, known)
        except GinghamError as error:
            self.notice.emit(notice("ways-unsaved", why=say(error)))
        self.changed.emit()

    def _put_aside(self) -> None:
        """A file that could not be read stays, under another name."""
        if self._aside:
            with suppress(OSError):
                self._path.rename(self._path.with_suffix(self._aside))
            self._aside = ""

    def _dress(self, way: Way) -> None:
        """Names and orders as the way has them; what it leaves open stays as it is."""
        naming, learning = self._appearance.theme.naming, self._plans.learning
        names = {what: getattr(way, what) for what in NAMINGS if getattr(way, what) in NAMINGS[what]}
        wanted: Naming = replace(naming, **names)
        if wanted != naming:
            self._appearance.set_naming(wanted)
        orders = {name: getattr(way, name) for name in Learning.__struct_fields__ if getattr(way, name)}
        self._plans.choose(replace(learning, **orders))
