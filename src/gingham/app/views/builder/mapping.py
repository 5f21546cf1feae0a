"""The map joined with what is shown, seen and played."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject

from gingham.app.session.mapper import Mapper
from gingham.app.views.builder.pictures import Pictures
from gingham.app.widgets.drawer import DrawerPart
from gingham.core.judging.piece_map import Conflict
from gingham.language import tr
from gingham.words.piece_text import problems_text

if TYPE_CHECKING:
    from gingham.app.views.builder.conflicts import ConflictList

CONFLICTS = "conflicts"


class Mapping(QObject):
    """Keeps the map up to date, and goes where it is asked to."""

    def __init__(self, build: Pictures, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._build, self._shown, self._view = build, build.shown, build.view
        self.mapper = Mapper(self._shown, self)
        self._list: ConflictList | None = None
        canvas, view = self._view.map, self._view
        self.mapper.mapped.connect(self._mapped)
        self._shown.cursor_moved.connect(self._show_cursor)
        view.sight.moved.connect(self._show_sight)
        canvas.bar_chosen.connect(self._shown.go_to)
        canvas.list_wanted.connect(self.show_conflicts)
        view.conflicts_button.clicked.connect(lambda _on: self.show_conflicts())
        self.part = DrawerPart(
            CONFLICTS, tr("Conflicts"), tr("All that is in the way"), self._make_list, standing=False
        )

    def _make_list(self) -> ConflictList:
        from gingham.app.views.builder.conflicts import ConflictList

        self._list = made = ConflictList()
        made.place_chosen.connect(self._go_to)
        if self.mapper.map is not None:
            made.show_map(self.mapper.map)
        return made

    def _mapped(self) -> None:
        found = self.mapper.map
        assert found is not None
        self._view.map.show_map(found)
        self._view.conflicts_button.setText(problems_text(found).replace(", ", "\n"))
        if self._list is not None:
            self._list.show_map(found)
        self._show_cursor()
        self._show_sight()

    def _go_to(self, conflict: Conflict) -> None:
        self._shown.go_to(conflict.section, conflict.bar, conflict.at)

    def show_conflicts(self) -> None:
        """The list of all conflicts, in the drawer."""
        self._view.drawer.open(CONFLICTS).setFocus()

    def _show_cursor(self) -> None:
        found, bar = self.mapper.map, self._shown.cursor_bar()
        index = None if found is None or bar is None else found.index_of(self._shown.section, bar)
        self._view.map.show_cursor(index)

    def _show_sight(self) -> None:
        """The bars that the pictures show, as a frame."""
        found, axis, view = self.mapper.map, self._build.axis, self._view
        if found is None or axis is None or not axis.bars:
            view.map.show_sight(None)
            return
        left = float(view.sight.value)
        boxes = axis.boxes_between(left + 1, left + view.result.width() - 1)
        ends = [found.index_of(self._shown.section, axis.bars[i].number) for i in (boxes[0], boxes[-1])]
        first, last = ends
        if last is None and first is not None:  # bars that are only there to be filled
            last = found.index_of(
                self._shown.section, len(found.piece.sections[self._shown.section].chords.bars)
            )
        view.map.show_sight((first, last) if first is not None and last is not None else None)

    def show_playhead(self, section: int, bar: int, inside: float) -> None:
        """Where the music is: section, bar, whole notes inside it."""
        found = self.mapper.map
        index = found.index_of(section, bar) if found is not None else None
        if found is None or index is None:
            self.hide_playhead()
            return
        self._view.map.show_playhead(index + min(0.99, inside / float(found.piece.meter.bar)))

    def hide_playhead(self) -> None:
        """The music has stopped."""
        self._view.map.show_playhead(None)

    def close(self) -> None:
        """End the thread."""
        self.mapper.close()
