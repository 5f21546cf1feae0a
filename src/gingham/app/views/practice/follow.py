"""What is seen from the music stand: two bars that stand still, the light on them, the chord that comes.

Nothing runs or falls: the light moves, and at the end of the two bars they change. What matters while playing
is large enough to be read two metres away.
"""

from __future__ import annotations

from fractions import Fraction

import msgspec
from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.card_face import face_of
from gingham.app.widgets.diagram import Diagram, first_fret, paint_shape, rows_for
from gingham.app.widgets.geometry import Axis
from gingham.app.widgets.speaking import Cell
from gingham.app.widgets.standing import Pair, Plan, Standing, pair_of
from gingham.core.practice.loop import Coming, Entered, Loop
from gingham.core.values import replace
from gingham.language import tr
from gingham.words.names import signs
from gingham.words.practice import landing_lines, wait_text

_HEAD, _EDGE = 40.0, 16.0
_HUGE, _LARGE = 52, 26
_MOST_LINES = 4


class Moment(msgspec.Struct, frozen=True):
    """Where the music is: section, bar, whole notes inside it, round from 1; beats left of a count-in."""

    section: int = 0
    bar: int = 0
    inside: float = 0.0
    round: int = 1
    counting: int = 0


class Seen(msgspec.Struct, frozen=True):
    """Everything that changes in the picture; while it is the same, nothing is painted."""

    pair: Pair
    light: tuple[int, int] | None
    coming: Coming | None
    thumb: tuple[int | None, int | None]
    round: int
    counting: int
    cell: tuple[int, int] = (1, 1)
    ahead: tuple[int, int] | None = None
    """Within a beat of the change: the thumb's string now, and its first on the chord that comes."""


class FollowCanvas(Dressed, QWidget):
    """Paints the moment. It takes no input: eyes only."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.loop: Loop | None = None
        self.title = ""
        self.muted: frozenset[str] = frozenset()
        self.moment = Moment()
        self._axes: dict[int, Axis] = {}
        self._seen: Seen | None = None
        self.setMinimumSize(420, 320)
        self.setAccessibleName(tr("Follow: where the music is, and what comes"))

    def show_loop(self, loop: Loop | None, title: str, muted: frozenset[str]) -> None:
        """Another stage, or the same one after an edit."""
        self.loop, self.title, self.muted = loop, title, muted
        self._axes = {} if loop is None else {i: Axis(r, 10.0) for i, r in loop.results.items() if r.bars}
        self._seen = None
        self._look()

    def show_moment(self, moment: Moment) -> None:
        """Where the music is now."""
        self.moment = moment
        self._look()

    def _look(self) -> None:
        seen = self.seen()
        if seen != self._seen:
            self._seen = seen
            self._say(seen)
            self.update()

    def seen(self) -> Seen | None:
        """What the picture shows at the moment; None without a loop."""
        loop, now = self.loop, self.moment
        if loop is None or not loop.bars:
            return None
        index = loop.index_of(now.section, now.bar, now.inside) if now.bar or now.inside else None
        place = None
        time = 0.0
        if index is not None:
            bar = loop.bars[index]
            place = (index, self._standing(loop).column_at(bar, now.inside))
            time = float(bar.at) + now.inside - float(bar.begin)
        coming = loop.coming(time)
        ahead = None
        if coming is not None:
            beat = loop.results[coming.now.section].piece.meter.tempo_beat
            if place is not None and 0 < coming.wait <= beat:
                ahead = loop.thumb_ahead(time, coming, self.muted)
            coming = replace(coming, wait=-(-coming.wait // beat) * beat)
        one, other = loop.thumb(time, self.muted)
        thumb = (one.string if one is not None else None, other.string if other is not None else None)
        pair = pair_of(index or 0, len(loop.bars))
        return Seen(pair, place, coming, thumb, now.round, now.counting, loop.cell(time), ahead)

    def _standing(self, loop: Loop) -> Standing:
        return Standing(loop, self._axes, self.theme, self.muted)

    def _say(self, seen: Seen | None) -> None:
        """For those who hear the window: the chord that comes, not every light."""
        if seen is not None and seen.coming is not None and self.loop is not None:
            after = seen.coming.after
            text = tr("next {name}", name=_name(self.loop, after)) if after is not None else tr("one chord")
            if text != self.accessibleDescription():
                self.setAccessibleDescription(text)

    def _plan(self, loop: Loop, seen: Seen) -> Plan:
        """Where the two bars stand."""
        wide, high = float(self.width()), float(self.height())
        strings = max(r.piece.instrument.strings for r in loop.results.values())
        bars = 1 if seen.pair.second is None else 2
        return Plan(
            _EDGE, _HEAD, wide - 2 * _EDGE, (high - _HEAD) * 0.62, strings, bars, self.theme.lowest_on_top
        )

    def cells(self) -> list[Cell]:
        """The places of the two bars, then the chord now and the one that comes."""
        seen, loop = self.seen(), self.loop
        if seen is None or loop is None:
            return []
        shown = [index for index in (seen.pair.first, seen.pair.second) if index is not None]
        plan = self._plan(loop, seen)
        out = self._standing(loop).cells(plan, shown, seen.light)
        if seen.coming is not None:
            coming = seen.coming
            words = tr("now {name}", name=_name(loop, coming.now))
            if coming.after is not None:
                wait = wait_text(coming.wait, loop.results[coming.now.section].piece.meter)
                words += tr(", then {name} {wait}", name=_name(loop, coming.after), wait=wait)
            below = QRectF(_EDGE, _HEAD + plan.height, plan.width, self.height() - _HEAD - plan.height)
            out.append(Cell(words, below.toAlignedRect()))
        return out

    # Painting.

    def paintEvent(self, event: QPaintEvent) -> None:
        """Where we are on top, two bars in the middle, what comes below."""
        with marks.painting(self) as p:
            p.fillRect(self.rect(), QColor(self.theme.panel))
            seen, loop = self.seen(), self.loop
            if loop is None or seen is None:
                words = tr("Type chords in Build first: then their stages and this picture are here.")
                marks.sentence(p, QRectF(self.rect()), words, self.theme.quiet, 16)
                return
            wide, high = float(self.width()), float(self.height())
            self._paint_where(p, QRectF(_EDGE, 4, wide - 2 * _EDGE, _HEAD - 6), loop, seen)
            plan = self._plan(loop, seen)
            self._standing(loop).paint(p, plan, seen.pair, seen.light, seen.ahead)
            top = _HEAD + plan.height + 14
            self._paint_coming(p, QRectF(_EDGE, top, wide - 2 * _EDGE, high - top - 8), loop, seen)

    def _paint_where(self, p: QPainter, area: QRectF, loop: Loop, seen: Seen) -> None:
        """Section, bar of how many, round; the stage at the right."""
        index = seen.light[0] if seen.light is not None else seen.pair.first
        bar = loop.bars[index]
        result = loop.results[bar.section]
        name = result.piece.sections[bar.section].name
        where = tr("bar {bar} of {number}", bar=bar.bar, number=result.bars[-1].number)
        if seen.cell[1] > 1:
            where = tr(
                "{where}  ·  cell {cell} of {cells}", where=where, cell=seen.cell[0], cells=seen.cell[1]
            )
        words = (
            tr("{name}  ·  {where}  ·  round {round}", name=name, where=where, round=seen.round)
            if seen.light is not None
            else f"{name}  ·  {where}"
        )
        half = area.adjusted(0, 0, -area.width() * 0.45, 0)
        marks.aligned(p, half, words, self.theme.ink, marks.font(20, True), marks.LEFT)
        right = QRectF(half.right() + 8, area.top(), area.right() - half.right() - 8, area.height())
        if seen.counting:
            marks.aligned(
                p,
                right,
                tr("in {counting}", counting=seen.counting),
                self.theme.accent,
                marks.font(30, True),
                marks.RIGHT,
            )
        else:
            marks.aligned(p, right, self.title, self.theme.quiet, marks.font(18), marks.RIGHT)

    def _paint_coming(self, p: QPainter, area: QRectF, loop: Loop, seen: Seen) -> None:
        """The chord now and the one that comes, its shape in order of landing, the thumb's next string."""
        if seen.coming is None:
            return
        wide = area.width()
        self._paint_names(p, QRectF(area.left(), area.top(), wide * 0.4, area.height()), loop, seen.coming)
        shown = seen.coming.after if seen.coming.after is not None else seen.coming.now
        neck = QRectF(area.left() + wide * 0.41, area.top(), wide * 0.23, area.height())
        self._paint_shape(p, neck, loop, shown, seen.coming)
        lines = QRectF(neck.right() + 18, area.top(), area.right() - neck.right() - 18, area.height())
        self._paint_landing(p, lines, loop, seen)

    def _paint_names(self, p: QPainter, area: QRectF, loop: Loop, coming: Coming) -> None:
        """`G → Am7`, below it what it sounds and when it comes."""
        high = min(70.0, area.height() * 0.5)
        now = _name(loop, coming.now)
        meter = loop.results[coming.now.section].piece.meter
        below = QRectF(area.left(), area.top() + high, area.width() * 0.4, 30)
        marks.aligned(
            p, QRectF(area.left(), area.top(), area.width() * 0.38, high), now, self.theme.ink,
            marks.font(_HUGE, True), marks.LEFT,
        )  # fmt: skip
        marks.aligned(p, below, _sounds(loop, coming.now), self.theme.quiet, marks.font(20), marks.LEFT)
        if coming.after is None:
            return
        said = min(area.width() * 0.38, max(marks.advance(now, _HUGE, bold=True) + 8.0, 130.0))
        arrow = QRectF(area.left() + said, area.top(), area.width() * 0.14, high)
        marks.text(p, arrow, "→", self.theme.quiet, 40)
        right = QRectF(arrow.right(), area.top(), area.right() - arrow.right() - 6, high)
        marks.aligned(
            p, right, _name(loop, coming.after), self.theme.accent, marks.font(_HUGE, True), marks.LEFT
        )
        when = QRectF(right.left(), right.bottom(), right.width(), 30)
        marks.aligned(p, when, wait_text(coming.wait, meter), self.theme.accent, marks.font(20), marks.LEFT)

    def _paint_shape(self, p: QPainter, area: QRectF, loop: Loop, shown: Entered, coming: Coming) -> None:
        """The shape as it forms: full are the fingers that stay and the one that lands first."""
        face = face_of(loop.results[shown.section], shown.span, False, False, self.appearance.mirrored)
        if not face.dots:
            return
        full = _first_fingers(coming)
        dots = tuple(
            replace(dot, needed=dot.finger in full if dot.fret and coming.change is not None else dot.needed)
            for dot in face.dots
        )
        frets = tuple(dot.fret for dot in dots)
        rows = rows_for(frets)
        high = min(area.height() - 34, area.width() * 0.95)
        scale = min(high / (13.5 * rows), (area.width() - 40) / (len(dots) - 1) / 14.0)
        neck = QRectF(area.left() + 26, area.top() + 26, area.width() - 40, high)
        grid = Diagram(neck, len(dots), first_fret(frets), rows, face.mirrored, min(scale, 3.0))
        paint_shape(p, grid, self.theme, dots, face.barres)

    def _paint_landing(self, p: QPainter, area: QRectF, loop: Loop, seen: Seen) -> None:
        """The fingers in order of landing, then the thumb's way; nothing that comes outside the loop."""
        coming = seen.coming
        assert coming is not None
        meter = loop.results[coming.now.section].piece.meter
        lines = landing_lines(coming.change, meter)[:_MOST_LINES] if coming.change is not None else []
        thumb = ""
        if seen.thumb[1] is not None:
            one, other = seen.thumb
            thumb = (
                tr("thumb {one} → {other}", one=one, other=other)
                if one != other
                else tr("thumb stays on {other}", other=other)
            )
        step = min(44.0, area.height() / (len(lines) + 1))
        widest = max((marks.advance(words, _LARGE, bold=True) for words in lines), default=0)
        size = _LARGE * min(1.0, 0.97 * area.width() / max(1, widest))
        for row, words in enumerate(lines):
            rect = QRectF(area.left(), area.top() + row * step, area.width(), step)
            ink = self.theme.ink if row == 0 else self.theme.quiet
            marks.aligned(p, rect, words, ink, marks.font(size, row == 0), marks.LEFT)
        rect = QRectF(area.left(), area.top() + len(lines) * step, area.width(), step)
        marks.aligned(p, rect, thumb, self.theme.finger("p"), marks.font(_LARGE + 4, True), marks.LEFT)


def _first_fingers(coming: Coming) -> frozenset[int]:
    """The fingers that stay, and those that land first."""
    moves = coming.change.fingers if coming.change is not None else ()
    landing = [move for move in moves if move.kind not in ("stays", "lifts")]
    first: Fraction | None = landing[0].due if landing else None
    stays = {move.finger for move in moves if move.kind == "stays"}
    return frozenset(stays | {move.finger for move in landing if move.due == first})


def _name(loop: Loop, entered: Entered | None) -> str:
    if entered is None:
        return ""
    chord = loop.results[entered.section].spans[entered.span].span.chord
    return signs(chord.text) if chord is not None else tr("silence")


def _sounds(loop: Loop, entered: Entered) -> str:
    """What a chord sounds above the capo; nothing without one."""
    result = loop.results[entered.section]
    assignment = result.spans[entered.span].assignment
    return (
        tr("sounds {text}", text=signs(assignment.sounding.text))
        if assignment is not None and result.piece.capo
        else ""
    )
