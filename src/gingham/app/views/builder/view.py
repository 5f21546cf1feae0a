"""The Build view: every part in its place. It shows and asks; `controller` decides."""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, QRectF, Qt, Signal
from PySide6.QtGui import QPaintEvent, QResizeEvent
from PySide6.QtWidgets import (
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QSizePolicy,
    QTabBar,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.look.theme import SIZES
from gingham.app.views.builder.bar import BottomBar
from gingham.app.views.builder.cards import CardStrip
from gingham.app.views.builder.map_canvas import MapCanvas
from gingham.app.views.builder.pattern_box import PatternBox
from gingham.app.views.builder.pattern_canvas import PatternCanvas
from gingham.app.views.builder.reasons import ReasonsPanel
from gingham.app.views.builder.result_canvas import ResultCanvas
from gingham.app.views.builder.strings_canvas import StringsCanvas
from gingham.app.widgets import marks
from gingham.app.widgets.ask import AskBar
from gingham.app.widgets.bubble import Bubble
from gingham.app.widgets.choice import Choice
from gingham.app.widgets.drawer import Drawer, DrawerPart
from gingham.app.widgets.geometry import Lanes
from gingham.app.widgets.labels import ShortLabel
from gingham.app.widgets.parts import box, narrow_box
from gingham.app.widgets.sight import Sight
from gingham.app.widgets.typed_line import TypedLine
from gingham.core.music.meter import SLOT_COUNTS, meter
from gingham.core.pieces.plans import PICKING_PLANS, PLANS
from gingham.core.pieces.rules import FINGER_POLICIES
from gingham.language import tr
from gingham.words.actions import with_keys
from gingham.words.names import POLICY_NAMES, places_name
from gingham.words.plans import THUMB_NAMES

if TYPE_CHECKING:
    from gingham.app.views.builder.setup import SetupPanel

FOUR_FOUR = meter(4, 4)
_GRID = 11  # letters of the box of places a beat
_SET_PLANS = tuple((kind, THUMB_NAMES[kind]) for kind in PICKING_PLANS)
_ROOM_FOR_ALL, _ROOM_FOR_MOST = 750, 620  # heights of the window
_TITLE = 26  # the height of a panel's title row, the same left and right so that the rows meet


class LaneNames(Dressed, QWidget):
    """The names of the fingers beside the rows of the pattern."""

    def __init__(self, appearance: Appearance, pattern: PatternCanvas) -> None:
        super().__init__()
        self.wear(appearance)
        self._pattern = pattern
        self.note = ""
        """Which version of the pattern the chosen chord plays."""
        self._painted: Lanes | None = None

    def refresh(self) -> None:
        """Paint again if the rows have changed."""
        if self._pattern.lanes() != self._painted:
            self.update()

    def show_note(self, note: str) -> None:
        """Say which version of the pattern is seen."""
        if note != self.note:
            self.note = note
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """`ring a`, `middle m`, … each in its dye."""
        lanes = self._painted = self._pattern.lanes()
        with marks.painting(self) as p:
            for finger in lanes.fingers:
                rect = self.rect().toRectF()
                rect.setTop(lanes.y(finger) - 10)
                rect.setHeight(20)
                words = self.theme.naming.long_finger(finger, self._pattern.hand())
                marks.aligned(p, rect, words, self.theme.finger(finger), marks.font(14, True), marks.LEFT)
            below = QRectF(0, lanes.bottom, self.width(), 20)
            marks.aligned(p, below, self.note, self.theme.quiet, marks.font(12), marks.LEFT)


class BuildView(Dressed, QWidget):
    """Chord line and cards on top, the linked picture in the middle, the drawer at the right, below the map
    of the whole piece and what plays it."""

    setup_made = Signal()

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("root")
        self.wear(appearance)
        self._make_parts(appearance)
        column = self._column = QVBoxLayout(self)
        column.setContentsMargins(12, 4, 12, 8)
        column.setSpacing(SIZES.gap)
        column.addLayout(self._top())
        column.addLayout(self._chord_row())
        column.addWidget(self.cards)
        column.addLayout(self._picture(), 1)
        self._map_frame = self._map_row()
        column.addWidget(self._map_frame)
        column.addWidget(self.bar)
        self.chords_message = Bubble(self, self.chords)
        self.words_message = Bubble(self, self.bar.words, above=True)
        self._order_focus()

    def _make_parts(self, appearance: Appearance) -> None:
        self._setup: SetupPanel | None = None
        self.chords = TypedLine(appearance, tr("Chord line"))
        self.chords.setPlaceholderText(tr("| Am7 | D/F# | G | Em |"))
        self.chords.setToolTip(
            with_keys(tr("Chords between bar lines; / holds, % repeats, N.C. is silence"), "go-chords")
        )
        self.sections = Choice()
        self.sections.setAccessibleName(tr("Section"))
        self.sections.setToolTip(with_keys(tr("Section"), "previous-section", "next-section"))
        self.sections.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.cards = CardStrip(appearance)
        self.strings = StringsCanvas(appearance)
        self.strings_title = QLabel()
        self.result = ResultCanvas(appearance)
        self.pattern = PatternCanvas(appearance)
        self.lane_names = LaneNames(appearance, self.pattern)
        self.pattern_names = PatternBox(appearance)
        self.pattern_names.setAccessibleName(tr("Pattern"))
        self.pattern_names.setToolTip(with_keys(tr("Choose a pattern"), "previous-pattern", "next-pattern"))
        grids = tuple((k, places_name(k, FOUR_FOUR)) for k in SLOT_COUNTS)
        self.per_beat = narrow_box(tr("Places a beat"), grids)
        self.per_beat.setMinimumContentsLength(_GRID)
        self.per_beat.setToolTip(tr("Places for plucks in each beat; of one beat while places are chosen"))
        self.bench_button = QToolButton()
        self.bench_button.setText(tr("All patterns"))
        self.bench_button.setToolTip(with_keys(tr("Patterns to try, say, vary, fit and judge"), "bench"))
        self.reasons = ReasonsPanel(appearance)
        self.drawer = Drawer()
        self.drawer.add(
            DrawerPart(
                "why", tr("Why"), with_keys(tr("Why each string, and how fast"), "go-reasons"), self._why
            )
        )
        self.sight = Sight(self)
        self.map = MapCanvas(appearance)
        self.conflicts_button = QToolButton()
        self.conflicts_button.setText(tr("no conflicts"))
        self.conflicts_button.setMinimumWidth(104)
        self.conflicts_button.setToolTip(tr("All that is in the way, in one list (Enter in the map)"))
        self.bar = BottomBar(appearance)
        self.ask = AskBar(self)

    # Rows.

    def _top(self) -> QHBoxLayout:
        self.pieces = QTabBar()
        self.pieces.setAccessibleName(tr("Open pieces"))
        self.pieces.setDrawBase(False)
        self.pieces.setExpanding(False)
        self.pieces.setElideMode(Qt.TextElideMode.ElideRight)
        self.about = ShortLabel()
        self.about.setProperty("quiet", True)
        self.thumb = box(tr("Thumb"), tuple((k, THUMB_NAMES[k]) for k in PLANS))
        self.fingers = box(tr("Fingers"), tuple((k, POLICY_NAMES[k]) for k in FINGER_POLICIES))
        for each in (
            self.thumb,
            self.fingers,
        ):  # what they say is long; the list that drops down has all of it
            each.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            each.setMinimumContentsLength(15)
            each.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
            each.setMaximumWidth(290)
            each.view().setMinimumWidth(280)
        self.thumb_strings = TypedLine(self.appearance, tr("Thumb strings in order, such as 6,4"))
        self.finger_strings = TypedLine(self.appearance, tr("Strings of the fingers, such as i3,m2,a1"))
        self.setup_button = QToolButton()
        self.setup_button.setText(tr("Set-up"))
        self.setup_button.setToolTip(
            with_keys(tr("Title, instrument, tuning, capo, meter and rules, in the drawer"), "setup")
        )
        row = QHBoxLayout()
        row.setSpacing(6)
        row.addWidget(self.pieces)
        row.addWidget(self.about, 4)
        for words, choice, line in (
            (tr("Thumb"), self.thumb, self.thumb_strings),
            (tr("Fingers"), self.fingers, self.finger_strings),
        ):
            label = QLabel(words)
            label.setProperty("quiet", True)
            row.addWidget(label)
            row.addWidget(choice, 6)
            line.setFixedWidth(108)
            line.hide()
            row.addWidget(line)
        row.addWidget(self.setup_button)
        return row

    def _chord_row(self) -> QHBoxLayout:
        label = QLabel(tr("Chords"))
        label.setProperty("quiet", True)
        row = QHBoxLayout()
        row.setSpacing(SIZES.gap)
        row.addWidget(label)
        row.addWidget(self.chords, 1)
        row.addWidget(self.sections)
        return row

    def _picture(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setSpacing(SIZES.gap)
        result_title = _titled(
            QLabel(tr("What you play")), tr("finger and fret on each string; drag a pluck to another string")
        )
        pattern_title = _titled(
            QLabel(tr("Pattern")), tr("the hand over beats: strong where it stands, pale where it repeats")
        )
        _row_of(pattern_title).addWidget(self.per_beat)
        _row_of(pattern_title).addWidget(self.bench_button)
        thumbs = (("", tr("thumb as the piece")), *_SET_PLANS)
        self.chord_thumb = narrow_box(tr("Thumb on this chord"), thumbs)
        self.chord_thumb.setMaximumWidth(150)
        self.chord_thumb.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.chord_thumb.setToolTip(with_keys(tr("A thumb of this chord’s own"), "chord-thumb"))
        strings_title = _titled(self.strings_title, "")
        _row_of(strings_title).addWidget(self.chord_thumb, 100)
        grid.addWidget(_panel(strings_title, self.strings), 0, 0)
        self._result_panel = _panel(result_title, self.result)
        grid.addWidget(self._result_panel, 0, 1)
        grid.addWidget(_panel(self.pattern_names, self.lane_names), 1, 0)
        grid.addWidget(_panel(pattern_title, self.pattern), 1, 1)
        grid.addWidget(self.drawer, 0, 2, 2, 1)
        grid.setColumnMinimumWidth(0, SIZES.side)
        grid.setColumnStretch(1, 1)
        grid.setRowStretch(0, 5)
        grid.setRowStretch(1, 3)
        return grid

    def _map_row(self) -> QFrame:
        frame = QFrame()
        frame.setProperty("panel", True)
        row = QHBoxLayout(frame)
        row.setContentsMargins(8, 3, 8, 3)
        row.setSpacing(SIZES.gap)
        row.addWidget(self.map, 1)
        row.addWidget(self.conflicts_button)
        return frame

    def _order_focus(self) -> None:
        order: list[QWidget] = [
            self.pieces, self.thumb, self.thumb_strings, self.fingers, self.finger_strings, self.setup_button,
            self.chords, self.sections, self.cards, self.chord_thumb, self.strings, self.result,
            self.pattern_names, self.per_beat, self.bench_button, self.pattern,
            self.drawer.tabs, self.reasons.scroll_area, self.reasons.fix, self.map, self.conflicts_button,
            self.bar.tempo, *self.bar.layers, self.bar.play, self.bar.words, self.bar.script,
        ]  # fmt: skip
        for before, after in pairwise(order):
            QWidget.setTabOrder(before, after)

    # What the controller tells it.

    @property
    def setup(self) -> SetupPanel:
        """The set-up rows; made, hidden, when they are first asked for."""
        if self._setup is None:
            from gingham.app.views.builder.setup import SetupPanel  # the first picture comes without them

            self._setup = SetupPanel(self.appearance, self)
            self._setup.hide()  # until the drawer takes it
            self.setup_made.emit()
        return self._setup

    @property
    def has_setup(self) -> bool:
        """Whether the set-up rows have been made."""
        return self._setup is not None

    def _why(self) -> QWidget:
        return self.reasons

    def show_reasons(self) -> None:
        """The keyboard to the reasons, to read on."""
        self.drawer.open("why")
        self.reasons.scroll_area.setFocus()

    def enter(self) -> None:
        """The keyboard to the picture, or to the chord line while there is no picture."""
        shown = self.result.result
        (self.result if shown is not None and shown.spans else self.chords).setFocus()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """What is said at the lines goes with them."""
        for bubble in (self.chords_message, self.words_message):
            bubble.place()
        self.share_room(self.window().height())

    def share_room(self, high: int) -> None:
        """In a low window cards and map are low, in a very low one they are left out."""
        low = high < _ROOM_FOR_ALL
        for part in (self.cards, self._map_frame):
            part.setVisible(high >= _ROOM_FOR_MOST)
        self.cards.setFixedHeight(round(SIZES.card_low if low else SIZES.card_height))
        self.map.setFixedHeight(SIZES.map_low if low else SIZES.map_height)
        self.drawer.setFixedWidth(min(SIZES.drawer_most, max(SIZES.drawer, self.width() // 4)))

    def ask_place(self) -> QPoint:
        """Where the inline question stands: over the title of the result."""
        return self._result_panel.pos() + QPoint(4, -2)


def _titled(title: QLabel, hint: str) -> QWidget:
    title.setProperty("head", True)
    words = ShortLabel()
    words.setProperty("quiet", True)
    words.show_whole(hint)
    row = QWidget()
    layout = QHBoxLayout(row)
    layout.setContentsMargins(0, 0, 0, 0)
    layout.setSpacing(SIZES.gap)
    layout.addWidget(title)
    layout.addWidget(words, 1)
    return row


def _row_of(title: QWidget) -> QHBoxLayout:
    layout = title.layout()
    assert isinstance(layout, QHBoxLayout)
    return layout


def _panel(title: QWidget, canvas: QWidget) -> QFrame:
    """A panel with a title row of fixed height, so that the canvases of one grid row begin level."""
    frame = QFrame()
    frame.setProperty("panel", True)
    title.setFixedHeight(_TITLE)
    column = QVBoxLayout(frame)
    column.setContentsMargins(10, 6, 10, 6)
    column.setSpacing(4)
    column.addWidget(title)
    column.addWidget(canvas, 1)
    return frame
