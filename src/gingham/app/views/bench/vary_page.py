"""Neighbours of the piece's pattern, mixes of patterns, and a finger with two strings."""

from __future__ import annotations

import random
from collections.abc import Callable

import msgspec
from PySide6.QtCore import QObject, QPoint, Qt, Signal
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QLineEdit, QSpinBox, QVBoxLayout

from gingham.app.views.bench.chosen import SIDE, ChosenPattern
from gingham.app.views.bench.desk import Desk
from gingham.app.views.bench.mix_strip import MixBar, MixStrip
from gingham.app.widgets.parts import BenchPage, beside, box, button, quiet, row, scrolled
from gingham.app.widgets.typed_line import NumberBox
from gingham.app.widgets.wall import WallCanvas, WallTile
from gingham.app.work.worker import NewestWorker
from gingham.core.bench.ranking import Ranked, by_nearness, ranked
from gingham.core.errors import GinghamError
from gingham.core.formats.pattern_file import shelf
from gingham.core.later import Later
from gingham.core.numbers import is_whole
from gingham.core.patterns.compare import compare, differing_places, rotation_of
from gingham.core.patterns.grid import fingers_in
from gingham.core.patterns.library import builtin
from gingham.core.patterns.mixing import (
    MOST_BARS,
    Mix,
    by_turns,
    drawn_places,
    drawn_strings,
    in_order,
    shuffled,
    with_thumb,
)
from gingham.core.patterns.pattern import Pattern
from gingham.core.pieces.piece import Piece
from gingham.language import tr, tr_n
from gingham.words.bench import bench_text, comparison_text, cost_mark, cost_text, mix_text
from gingham.words.counts import counted
from gingham.words.errors import say
from gingham.words.names import FINGER_NAMES
from gingham.words.notices import notice

_HIGHEST_SEED = 9999
_VARIATIONS, _PATTERNS = "near", "all"


class Offered(msgspec.Struct, frozen=True):
    """A pattern on the wall: under its name, with two lines of figures; `cost` is what it loses in sound."""

    name: str
    pattern: Pattern
    note: str
    under: str
    cost: str = ""


class Varier(NewestWorker[tuple[Piece, int]]):
    """Ranks neighbours off the interface thread."""

    ranked = Signal(object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__("variations", parent)

    def work_on(self, item: tuple[Piece, int]) -> None:
        """Judge every neighbour of a section's pattern."""
        piece, section = item
        out: list[Ranked] = []
        try:
            for each in ranked(piece, section, piece.rules.hand):
                if self.outdated:
                    return
                out.append(each)
        except GinghamError:
            out = []
        self.ranked.emit(piece, by_nearness(out))


class VaryPage(BenchPage):
    """A wall of variations or of all patterns; below it the mix; beside it what is chosen."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self._near: tuple[Offered, ...] = ()
        self._offered: tuple[Offered, ...] = ()
        self.worker = Varier(self)
        self.worker.ranked.connect(self._show_ranked)
        self.which = box(
            tr("What is on the wall"),
            ((_VARIATIONS, tr("one thing changed, the nearest first")), (_PATTERNS, tr("all patterns"))),
        )
        self.which.activated.connect(lambda _index: self._fill())
        self.wall = WallCanvas(desk.appearance, tr("Variations and patterns to mix"))
        self.wall.empty = tr("Trying what is near to your pattern …")
        self.chosen = ChosenPattern(desk)
        self.strip = MixStrip(desk.appearance)
        self._make_mix()
        self._make_strings()
        self._connect()
        self._lay_out()

    def _make_mix(self) -> None:
        self.bars = NumberBox(tr("Bars of the mix"), 1, MOST_BARS)
        self.bars.setValue(4)
        self.seed = QSpinBox()
        self.seed.setRange(0, _HIGHEST_SEED)
        self.seed.setAccessibleName(tr("Seed of the mix: the same seed gives the same mix"))
        self.seed.setValue(7)
        self._by_place = False
        self.own_thumb = QCheckBox(tr("my thumb"))
        self.own_thumb.setToolTip(tr("Every bar of the mix has the thumb of the piece’s pattern"))
        self.own_thumb.toggled.connect(lambda _on: self._thumb_wanted())

    def _make_strings(self) -> None:
        self.finger = box(tr("Finger with two strings"), ())
        self.strings = QLineEdit("2 1")
        self.strings.setAccessibleName(tr("Its two strings"))
        self.strings.setMaximumWidth(60)
        self.how = box(
            tr("How it uses them"),
            (
                ("own", tr("its own string")),
                ("always", tr("always the first")),
                ("turns", tr("by turns")),
                ("free", tr("freely")),
            ),
        )

    def _connect(self) -> None:
        for each in (self.wall, self.chosen):
            each.heard.connect(self.hear)
            each.taken.connect(self.take)
        self.wall.chosen.connect(lambda _index: self._show_chosen())
        self.wall.mixed.connect(self.add_chosen)
        self.wall.dragged.connect(self.strip.hover)
        self.wall.dropped.connect(self._dropped)
        self.strip.changed.connect(self.mix)
        self.strip.full.connect(lambda: self._desk.notice.emit(notice("mix-full", most=MOST_BARS)))
        self._desk.mix_wanted.connect(lambda name, pattern: self.strip.put(MixBar(name, pattern)))

    def _lay_out(self) -> None:
        area = scrolled(self.wall)
        area.setAccessibleName(tr("The wall of variations"))
        area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)  # else rows come and go with it
        column = QVBoxLayout(self)
        both = QHBoxLayout()
        left = QVBoxLayout()
        left.addLayout(row(tr("On the wall"), self.which, 1))
        left.addWidget(quiet(tr("drag into the row below, or B")))
        left.addWidget(area, 1)
        both.addLayout(left, 1)
        both.addWidget(beside(self.chosen, SIDE))
        column.addLayout(both, 1)
        column.addWidget(self.strip)
        shuffle = tr("Bars of the patterns in the mix drawn with the seed")
        places = tr("Each place drawn with the seed from what the patterns in the mix have there")
        column.addLayout(
            row(
                self.bars, tr("bars, seed"), self.seed, button(tr("Shuffle bars"), shuffle, self.shuffle),
                button(tr("Shuffle places"), places, self.shuffle_places),
                button(tr("New seed"), tr("Another mix"), self._new_seed),
                button(tr("Empty"), tr("Take every bar out of the mix"), self.clear), self.own_thumb, 1,
            )
        )  # fmt: skip
        column.addLayout(
            row(
                tr("The"), self.finger, tr("on"), self.strings, self.how,
                button(tr("Show"), tr("The pattern with this finger on these strings"), self.permit), 1,
            )
        )  # fmt: skip

    # The wall.

    def refresh(self) -> None:
        """Rank the neighbours of the piece's pattern as it is now."""
        desk = self._desk
        self.worker.request((desk.piece, desk.shown.section))
        finger = self.finger.currentData()
        self.finger.clear()
        for name in fingers_in(desk.pattern):
            self.finger.addItem(FINGER_NAMES[name], name)
        self.finger.setCurrentIndex(
            max(0, self.finger.findData(finger) if finger else self.finger.count() - 1)
        )
        if self.which.currentData() == _PATTERNS:
            self._fill()

    def arrive(self) -> None:
        """The keyboard to the wall."""
        self.wall.setFocus()

    def _show_ranked(self, piece: Piece, found: list[Ranked]) -> None:
        if piece is self._desk.piece:
            self._near = tuple(map(_offered, found))
            self._fill()

    def _fill(self) -> None:
        desk = self._desk
        now = Offered(tr("{name}, now", name=desk.name), desk.pattern, tr("the piece’s pattern"), "")
        rest = self._near if self.which.currentData() == _VARIATIONS else self._all()
        before = self.chosen_one
        self._offered = (now, *rest)
        names = [each.name for each in self._offered]
        current = names.index(before.name) if before is not None and before.name in names else 0
        offered = self._offered
        self.wall.show_tiles(Later(len(offered), lambda index: self._tile(offered[index])), current)
        self._show_chosen()

    def _all(self) -> tuple[Offered, ...]:
        """The player's own patterns and the built-in ones in the piece's meter."""
        known = [(name, pattern) for name, pattern, _ in shelf(self._desk.folder).patterns]
        own = {name for name, _ in known}
        known += [(name, pattern) for name, pattern in builtin() if name not in own]
        meter = self._desk.piece.meter
        return tuple(Offered(name, pattern, "", "") for name, pattern in known if pattern.meter == meter)

    def _tile(self, each: Offered) -> WallTile:
        marked = differing_places(self._desk.pattern, each.pattern)
        return WallTile(each.name, each.pattern, marked, each.note, each.under)

    @property
    def chosen_one(self) -> Offered | None:
        """What is chosen on the wall."""
        index = self.wall.current
        return self._offered[index] if 0 <= index < len(self._offered) else None

    def _show_chosen(self) -> None:
        each = self.chosen_one
        if each is not None:
            self._show(each.name, each.pattern, each.cost)

    def _show(self, name: str, pattern: Pattern, words: str) -> None:
        now = self._desk.pattern
        against = comparison_text(compare(now, pattern), rotation_of(now, pattern))
        said = (
            tr("{words} Against the piece’s pattern: {against}", words=words, against=against)
            if pattern != now
            else words
        )
        self.chosen.show_pattern(name, pattern, said.strip())

    # Mixes.

    def add_chosen(self) -> None:
        """The chosen pattern as the next bar of the mix."""
        if self.chosen_one is not None:
            self.strip.put(MixBar(_plain_name(self.chosen_one.name), self.chosen_one.pattern))

    def _dropped(self, place: QPoint) -> None:
        if self.chosen_one is not None:
            self.strip.drop(place, MixBar(_plain_name(self.chosen_one.name), self.chosen_one.pattern))

    def _named(self) -> dict[str, Pattern]:
        return {bar.name: bar.pattern for bar in self.strip.bars}

    def mix(self) -> None:
        """The bars in the order of the row."""
        if self.strip.bars:
            names = tuple(bar.name for bar in self.strip.bars)
            self._try(lambda: self._thumbed(in_order(self._named(), names)))
        else:
            self._show_chosen()

    def _thumbed(self, found: Mix) -> Mix:
        """The mix with the piece's thumb, if that is wanted."""
        return with_thumb(found, self._desk.pattern) if self.own_thumb.isChecked() else found

    def shuffle(self) -> None:
        """Bars drawn with the seed, of the patterns that are in the mix."""
        named, found = self._named(), self._drawn(shuffled)
        if found is not None:
            self.strip.set_bars([MixBar(name, named[name]) for name in found.used])
            self._show_mix(found)

    def shuffle_places(self) -> None:
        """Each place drawn with the seed, from what the patterns in the mix have there."""
        found = self._drawn(drawn_places)
        if found is not None:
            self._show_mix(found)

    def _drawn(self, draw: Callable[[dict[str, Pattern], int, int], Mix]) -> Mix | None:
        named = self._named()
        if len(named) < 2:
            self._desk.notice.emit(notice("mix-needs-two"))
            return None
        try:
            return self._thumbed(draw(named, self.bars.value(), self.seed.value()))
        except GinghamError as error:
            self._desk.notice.emit(say(error))
            return None

    def _new_seed(self) -> None:
        self.seed.setValue(random.randrange(_HIGHEST_SEED))
        (self.shuffle_places if self._by_place else self.shuffle)()

    def _thumb_wanted(self) -> None:
        """The mix that is shown, with the piece's thumb or without."""
        (self.shuffle_places if self._by_place else self.mix)()

    def _show_mix(self, found: Mix) -> None:
        self._by_place = found.by_place
        self._show(tr("The mix"), found.pattern, tr("Used: {mix}.", mix=mix_text(found)))

    def clear(self) -> None:
        """Take every bar out of the mix."""
        self.strip.set_bars([])

    def permit(self) -> None:
        """The finger on its permitted strings: always the first, by turns, or drawn with the seed."""
        finger, how = self.finger.currentData(), self.how.currentData()
        words = self.strings.text().replace(",", " ").split()
        most = self._desk.piece.instrument.strings
        strings = tuple(int(word) for word in words if is_whole(word) and 1 <= int(word) <= most)
        if finger is None or len(strings) != len(words) or (how != "own" and not strings):
            self._desk.notice.emit(notice("strings-as-numbers", most=most))
            return
        if how == "free":
            seed, bars = self.seed.value(), self.bars.value()
            self._try(lambda: drawn_strings(self._desk.pattern, finger, strings, bars, seed))
        else:
            used = () if how == "own" else strings[:1] if how == "always" else strings
            self._show(self._desk.name, by_turns(self._desk.pattern, finger, used), "")

    def _try(self, make: Callable[[], Mix]) -> None:
        try:
            found = make()
        except GinghamError as error:
            self._desk.notice.emit(say(error))
        else:
            self._show_mix(found)

    def hear(self) -> None:
        """Play what is shown."""
        if self.chosen.pattern is not None:
            self._desk.hear(self.chosen.pattern)

    def take(self) -> None:
        """Give what is shown to the section."""
        if self.chosen.pattern is not None:
            self._desk.take(tr("Variation"), self.chosen.pattern)


def _offered(each: Ranked) -> Offered:
    words = bench_text(each.variation.reason)
    note = tr("up to {limit}", limit=each.limit)
    if each.conflicts:
        note = f"{counted(each.conflicts, 'conflict')} · {note}"
    under = tr_n("one place differs", "{n} places differ", each.difference)
    if not each.cost.free:
        under = f"{under} · {cost_mark(each.cost)}"
    name = f"{words[:1].upper()}{words[1:]}"
    return Offered(name, each.variation.pattern, note, under, cost_text(each.cost))


def _plain_name(name: str) -> str:
    return name.removesuffix(", now")
