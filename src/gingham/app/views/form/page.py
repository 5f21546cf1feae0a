"""The form of the piece: order, sums, words under beats, the tune."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, QSignalBlocker, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QSizePolicy,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from gingham.app.look.appearance import Appearance
from gingham.app.session.mapper import Mapper
from gingham.app.session.own_patterns import OwnPatterns, pattern_folder
from gingham.app.session.shown import Shown
from gingham.app.sound.playing import Playing
from gingham.app.views.form.stay_row import StayRow
from gingham.app.views.form.strip_canvas import StripCanvas
from gingham.app.views.form.words_page import WordsPage
from gingham.app.widgets.parts import Table, Whole, box, button, fill_last, head, quiet, row, scrolled
from gingham.app.widgets.speaking import announce
from gingham.app.widgets.typed_line import NumberBox
from gingham.app.work.worker import NewestWorker
from gingham.core.errors import GinghamError
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.performance import perform
from gingham.core.judging.departures import departures
from gingham.core.judging.formsum import form_sum, stays
from gingham.core.judging.inner import inner_moves
from gingham.core.judging.monotony import MANY_BARS, longest_sameness
from gingham.core.patterns.density import DensityVersion, density_versions, plucked
from gingham.core.pieces.edits import choose_pattern, name_for
from gingham.core.pieces.form import ENDINGS, MOST_TIMES, Form, Turn, parse_turns, print_turns
from gingham.core.pieces.form_edits import move_section as moved
from gingham.core.pieces.form_edits import set_bar_pattern, set_form, set_repeats
from gingham.core.pieces.piece import NamedPattern, Piece
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.actions import with_keys
from gingham.words.errors import say
from gingham.words.form import (
    DENSITY_NAMES,
    ENDING_NAMES,
    density_text,
    inner_text,
    sameness_text,
    seam_text,
    stays_text,
    sum_text,
)
from gingham.words.importing import departure_text

_ROWS = 96  # the height of the heads and two sections
_MOST = 6  # departures and inner moves that are told
_HEADS = (tr("Section"), tr("Bars"), tr("Pattern"), tr("In a row"), tr("Bars of their own"))


class _Summer(NewestWorker[Piece]):
    """Adds up the forms of the newest piece."""

    summed = Signal(object, object)
    """The piece, and its sums as lines."""

    def __init__(self, name: str, parent: QObject | None = None) -> None:
        self._cache = FitCache()
        super().__init__(name, parent)

    def work_on(self, item: Piece) -> None:
        """Both forms."""
        lines = []
        try:
            for practice, name in ((False, tr("Performance")), (True, tr("Practice"))):
                played = perform(item, practice=practice, cache=self._cache)
                total = form_sum(played)
                lines.append(f"{name}: {sum_text(total)}")
                if not practice:
                    lines += [seam_text(seam) for seam in total.seams if seam.chord is not None]
                    same = longest_sameness(played)
                    lines += [sameness_text(same)] if same is not None and same.bars >= MANY_BARS else []
        except GinghamError as error:
            lines = [say(error)]
        if not self.outdated:
            self.summed.emit(item, lines)


class FormView(QWidget):
    """A page that follows the piece while it is in sight."""

    own_bar_wanted = Signal()
    """Plucks of its own for the bar under the cursor."""

    def __init__(
        self,
        appearance: Appearance,
        shown: Shown,
        playing: Playing,
        mapper: Mapper,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setObjectName("root")
        self._shown, self._playing, self._mapper = shown, playing, mapper
        self._appearance = appearance
        self._patterns = OwnPatterns(pattern_folder())
        self._densities: tuple[DensityVersion, ...] = ()
        self.strip = StripCanvas(appearance)
        self.strip.turns_wanted.connect(self._turns_wanted)
        self.strip.section_wanted.connect(self._show_section)
        self.strip.play_wanted.connect(playing.toggle)
        mapper.mapped.connect(self._show_strip)
        self._summer = _Summer("sums", self)
        self._summer.summed.connect(self._summed)
        self.tabs = QTabWidget()
        self.words = WordsPage(appearance, shown)
        self.tabs.addTab(scrolled(self._form_page()), tr("Form"))
        self.tabs.addTab(self.words, tr("Words and tune"))
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 4, 12, 8)
        column.addWidget(self.tabs, 1)
        self.message = quiet()
        column.addWidget(self.message)
        shown.settled.connect(self.refresh)
        shown.cursor_moved.connect(self._show_bar)
        self.words.notice.connect(self._say)

    @property
    def widget(self) -> QWidget:
        """The page."""
        return self

    def arrive(self) -> None:
        """The keyboard to the sections, or to the words."""
        (self.strip if self.tabs.currentIndex() == 0 else self.words).setFocus()

    def _form_page(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.addWidget(self.strip)
        column.addWidget(self._section_table(), 2)
        column.addLayout(self._section_row())
        self.stays = StayRow(self._appearance, self._shown)
        column.addWidget(self.stays)
        column.addLayout(self._bar_row())
        column.addWidget(head(tr("Order and ending")))
        self.orders: dict[bool, QLineEdit] = {}
        self.endings: dict[bool, QComboBox] = {}
        for practice, name in ((False, tr("Performance")), (True, tr("Practice"))):
            column.addLayout(self._form_row(practice, name))
        column.addWidget(head(tr("What it adds up to")))
        self.sums = Whole()
        self.departed = Whole()
        column.addWidget(self.sums)
        column.addWidget(self.departed)
        column.addStretch(1)
        self.notes = QLineEdit()
        self.notes.setAccessibleName(tr("Remarks of your own"))
        self.notes.setPlaceholderText(tr("Remarks of your own, printed on the sheet"))
        self.notes.textEdited.connect(self._noted)
        self.notes.editingFinished.connect(self._shown.end_gesture)
        column.addLayout(row(tr("Remarks"), self.notes))
        return page

    def _section_table(self) -> Table:
        self.table = Table(
            tr("Sections in the order in which they stand"), _HEADS, self._hear, self._go_there
        )
        self.table.setToolTip(tr("Enter shows a section in Build, Space plays the piece"))
        fill_last(self.table)
        self.table.setMinimumHeight(_ROWS)
        policy = QSizePolicy.Policy
        self.table.setSizePolicy(policy.Expanding, policy.Ignored)  # what room is left
        return self.table

    def _section_row(self) -> QHBoxLayout:
        self.times = NumberBox(tr("How often the section is played in a row"), 1, MOST_TIMES)
        self.times.valueChanged.connect(self._times_chosen)
        self.density = box(tr("Sparser or denser"), [])
        self.density.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.density.setToolTip(
            tr("This section’s pattern with fewer or more plucks, for a singer or a band")
        )
        self.density.activated.connect(lambda _index: self._density_chosen())
        return row(
            button(tr("Earlier"), tr("Move the section up (Alt+Up)"), lambda: self.move_section(-1)),
            button(tr("Later"), tr("Move the section down (Alt+Down)"), lambda: self.move_section(1)),
            tr("played"),
            self.times,
            tr("in a row"),
            1,
            tr("Density"),
            self.density,
        )

    def _bar_row(self) -> QHBoxLayout:
        self.bar_label = QLabel()
        self.bar_pattern = box(tr("Pattern of the cursor's bar"), [])
        self.bar_pattern.setMinimumContentsLength(18)
        self.bar_pattern.activated.connect(lambda _index: self._bar_chosen())
        own = button(
            tr("Own plucks…"),
            with_keys(tr("A fill: strokes of this bar alone"), "own-bar"),
            self.own_bar_wanted.emit,
        )
        return row(self.bar_label, self.bar_pattern, own, 1)

    def _form_row(self, practice: bool, name: str) -> QHBoxLayout:
        line = QLineEdit()
        line.setAccessibleName(tr("Order of sections, {name}", name=name.lower()))
        line.setToolTip(
            tr("Sections in order, with x2 for twice in a row; empty for the order in which they stand")
        )
        line.textEdited.connect(lambda _text, p=practice: self._order_typed(p))
        line.editingFinished.connect(self._order_left)
        ending = box(
            tr("Ending, {name}", name=name.lower()), [(kind, ENDING_NAMES[kind]) for kind in ENDINGS]
        )
        ending.activated.connect(lambda _index, p=practice: self._ending_chosen(p))
        self.orders[practice], self.endings[practice] = line, ending
        return row(f"{name}:", line, ending)

    def _say(self, words: str) -> None:
        self.message.setText(words)
        announce(self.message, words)

    # Showing.

    def refresh(self) -> None:
        """Show the piece as it is now."""
        if not self.isVisible() or self._shown.document is None:
            return
        piece = self._shown.piece
        self.table.setRowCount(len(piece.sections))
        for index, section in enumerate(piece.sections):
            own = ", ".join(
                tr("bar {bar}: {pattern}", bar=b.bar, pattern=b.pattern) for b in section.bars
            ) or tr("none")
            cells = (section.name, len(section.chords.bars), section.pattern, section.repeats, own)
            self.table.put(index, cells, index)
        self.table.selectRow(self._shown.section)
        with QSignalBlocker(self.times):
            self.times.setValue(piece.sections[self._shown.section].repeats)
        for practice in (False, True):
            form, line = piece.form(practice), self.orders[practice]
            if not line.hasFocus():
                line.setText(print_turns(form.turns))
            turns = print_turns(piece.turns(practice))
            line.setPlaceholderText(tr("as they stand: {turns}", turns=turns))
            self.endings[practice].setCurrentIndex(ENDINGS.index(form.ending))
        if not self.notes.hasFocus():
            self.notes.setText(piece.notes)
        self._show_densities()
        self.stays.refresh()
        self._show_strip()
        self._summer.request(piece)
        self._show_bar()
        self.words.refresh()

    def _show_sums(self, lines: list[str]) -> None:
        """What the form adds up to, then what the shown section does."""
        piece, result = self._shown.piece, self._shown.result
        if result is not None and result.bars:
            lines.append(stays_text(stays(result)))
        self.sums.show_lines("\n".join(lines))
        name = piece.sections[self._shown.section].pattern
        found = departures(result) if result is not None else ()
        told = [departure_text(each, piece.meter, name) for each in found[:_MOST]]
        if result is not None:
            told += [inner_text(move, piece.meter) for move in inner_moves(result)[:_MOST]]
        self.departed.show_lines("\n".join(told))
        self.departed.setVisible(bool(told))

    def _summed(self, piece: Piece, lines: list[str]) -> None:
        if piece is self._shown.piece:
            self._show_sums(lines)

    def end(self) -> None:
        """End the thread."""
        self._summer.close()

    def _show_bar(self) -> None:
        if not self.isVisible():
            return
        piece, bar = self._shown.piece, self._shown.cursor_bar()
        section = piece.sections[self._shown.section]
        self.bar_label.setText(
            tr("{name}, bar {bar}:", name=section.name, bar=bar) if bar else tr("Choose a bar in Build:")
        )
        names = [named.name for named in piece.patterns]
        with QSignalBlocker(self.bar_pattern):
            self.bar_pattern.clear()
            for name in names:
                self.bar_pattern.addItem(
                    tr("{name} (section)", name=name) if name == section.pattern else name, name
                )
            self.bar_pattern.insertSeparator(len(names))
            for name in self._patterns.names(piece.meter):
                if name not in names:
                    self.bar_pattern.addItem(name, name)
            if bar:
                self.bar_pattern.setCurrentIndex(self.bar_pattern.findData(section.pattern_in(bar)))
        self.bar_pattern.setEnabled(bool(bar))

    def _show_strip(self) -> None:
        """The performance as blocks, as soon as the map of the piece is there."""
        found = self._mapper.map
        if found is not None and self.isVisible():
            piece = found.piece
            self.strip.show_form(found, piece.turns(False), piece.form(False).ending)

    # Edits.

    def _turns_wanted(self, turns: tuple[Turn, ...], chosen: int) -> None:
        """Another order, written out."""
        ending = self._shown.piece.form(False).ending
        if self._edit(tr("Order"), lambda piece: set_form(piece, Form(turns, ending), practice=False)):
            piece = self._shown.piece
            if self._mapper.map is not None:
                self.strip.show_form(self._mapper.map, piece.turns(False), ending)
            self.strip.choose(chosen)

    def _show_section(self, name: str) -> None:
        names = [section.name for section in self._shown.piece.sections]
        if name not in names:
            return  # for a moment the strip may still show the piece before
        self._shown.select_section(names.index(name))
        self.table.selectRow(names.index(name))

    def _edit(self, text: str, make: Callable[[Piece], Piece], merge: str | None = None) -> bool:
        """One edit; a fault is said below and nothing changes."""
        try:
            after = make(self._shown.piece)
        except GinghamError as error:
            self._say(say(error))
            return False
        self.message.clear()
        self._shown.edit(text, after, merge)
        return True

    def move_section(self, by: int) -> None:
        """The chosen section earlier or later."""
        index = self.table.currentRow()
        if self._edit(tr("Order of sections"), lambda piece: moved(piece, index, by)):
            to = min(max(0, index + by), len(self._shown.piece.sections) - 1)
            self._shown.select_section(to)
            self.table.selectRow(to)

    def _times_chosen(self, times: int) -> None:
        index = self._shown.section
        self._edit(tr("Times"), lambda piece: set_repeats(piece, index, times), f"times{index}")

    def _show_densities(self) -> None:
        """What the section's pattern can be made of."""
        piece = self._shown.piece
        pattern = piece.pattern(piece.sections[self._shown.section].pattern)
        self._densities = density_versions(pattern)
        with QSignalBlocker(self.density):
            self.density.clear()
            self.density.addItem(
                tr(
                    "as it is ({plucked} of {slots} places)",
                    plucked=plucked(pattern),
                    slots=len(pattern.slots),
                )
            )
            self.density.addItems([density_text(each, len(pattern.slots)) for each in self._densities])

    def _density_chosen(self) -> None:
        index = self.density.currentIndex() - 1
        if 0 <= index < len(self._densities):
            version, section = self._densities[index], self._shown.section
            name = f"{self._shown.piece.sections[section].pattern}, {DENSITY_NAMES[version.kind]}"
            named = NamedPattern(name_for(version.pattern, name, self._shown.piece), version.pattern)
            self._edit(tr("Density"), lambda piece: choose_pattern(piece, section, named))

    def _go_there(self) -> None:
        self._shown.select_section(self.table.currentRow())

    def _hear(self) -> None:
        self._playing.toggle()

    def _order_typed(self, practice: bool) -> None:
        turns = parse_turns(self.orders[practice].text())
        ending = self._shown.piece.form(practice).ending
        self._edit(
            tr("Order"), lambda p: set_form(p, Form(turns, ending), practice=practice), f"order{practice}"
        )

    def _order_left(self) -> None:
        self._shown.end_gesture()
        self.message.clear()
        for practice, line in self.orders.items():
            line.setText(print_turns(self._shown.piece.form(practice).turns))

    def _ending_chosen(self, practice: bool) -> None:
        form, kind = self._shown.piece.form(practice), self.endings[practice].currentData()
        self._edit(tr("Ending"), lambda p: set_form(p, Form(form.turns, kind), practice=practice))

    def _bar_chosen(self) -> None:
        bar, name = self._shown.cursor_bar(), self.bar_pattern.currentData()
        index = self._shown.section
        if not bar:
            return
        piece = self._shown.piece
        known = self._patterns.all_in(piece.meter) | {n.name: n.pattern for n in piece.patterns}
        own = None if name == piece.sections[index].pattern else NamedPattern(name, known[name])
        self._edit(tr("Pattern of a bar"), lambda p: set_bar_pattern(p, index, bar, own))

    def _noted(self, text: str) -> None:
        self._edit(tr("Remarks"), lambda piece: replace(piece, notes=text[:500]), "notes")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Alt and arrows move the section."""
        moves = {int(Qt.Key.Key_Up): -1, int(Qt.Key.Key_Down): 1}
        if event.modifiers() & Qt.KeyboardModifier.AltModifier and event.key() in moves:
            self.move_section(moves[event.key()])
        else:
            super().keyPressEvent(event)
