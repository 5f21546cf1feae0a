"""What is seen from the music stand: where we are, the finger now, the thumb's next string, the next chord.

Everything that matters while playing is at least 36 pixels high, so that it can be read two metres away.
"""

from __future__ import annotations

from fractions import Fraction

import msgspec
from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets import marks
from gingham.app.widgets.card_face import card_pixmap, face_of
from gingham.core.fitting.result import Event, Result
from gingham.core.judging.changes import change_into
from gingham.core.music.meter import count_at
from gingham.words.names import signs
from gingham.words.practice import landing_lines

_SMALL, _LARGE, _HUGE = 22, 40, 64
_MOST_LINES = 4


class Moment(msgspec.Struct, frozen=True):
    """Where the music is: bar number, whole notes inside it, round from 1; beats left while counting in."""

    bar: int = 0
    inside: float = 0.0
    round: int = 1
    counting: int = 0


class Now(msgspec.Struct, frozen=True):
    """What is played at a moment: plucks that sound now, the thumb's next one, the count."""

    events: tuple[Event, ...]
    thumb: Event | None
    count: str


def now_at(result: Result, moment: Moment) -> Now:
    """The plucks at or just before a moment, and the thumb's next one (in the next bar if need be)."""
    index = next((i for i, bar in enumerate(result.bars) if bar.number == moment.bar), None)
    if index is None:
        return Now((), None, "")
    bar = result.bars[index]
    plucked = [event for event in bar.events if not event.silent]
    begun = [event.at for event in plucked if float(event.at) <= moment.inside + 1e-6]
    at = max(begun, default=None)
    events = tuple(event for event in plucked if event.at == at)
    later = [e for e in plucked if e.finger == "p" and float(e.at) > moment.inside + 1e-6]
    following = result.bars[(index + 1) % len(result.bars)].events
    later += [e for e in following if e.finger == "p" and not e.silent]
    beat = Fraction(round(moment.inside * 48), 48)
    beats = [b for b in _beats(result) if b <= beat]
    beat_count = count_at(result.piece.meter, max(beats, default=Fraction(0)))
    return Now(events, later[0] if later else None, events[0].count if events else beat_count)


def _beats(result: Result) -> list[Fraction]:
    out, at = [], Fraction(0)
    for beat in result.piece.meter.beats:
        out.append(at)
        at += beat
    return out


class FollowCanvas(Dressed, QWidget):
    """Paints the moment. It takes no input: eyes only."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.result: Result | None = None
        self.moment = Moment()
        self.coming: int | None = None
        """The chord (index of its span) that has been called."""
        self.setMinimumSize(420, 320)
        self.setAccessibleName("Follow: where the music is, and what comes")

    def show_result(self, result: Result) -> None:
        """Another piece."""
        self.result = result
        self.update()

    def show_moment(self, moment: Moment) -> None:
        """Where the music is now."""
        if moment != self.moment:
            self.moment = moment
            self.update()

    def show_coming(self, span: int | None) -> None:
        """The chord that comes next, or none."""
        if span != self.coming:
            self.coming = span
            self.update()

    # Painting.

    def paintEvent(self, event: QPaintEvent) -> None:
        """Where we are on top, what is played in the middle, what comes below."""
        with marks.painting(self) as p:
            p.fillRect(self.rect(), QColor(self.theme.panel))
            result = self.result
            if result is None or not result.spans:
                words = "Type chords in Build first: then their stages and this picture are here."
                marks.text(p, QRectF(self.rect()), words, self.theme.quiet, 16)
                return
            height = float(self.height())
            self._paint_where(p, QRectF(16, 8, self.width() - 32, 44), result)
            middle = QRectF(16, 60, self.width() - 32, height * 0.42)
            if self.moment.counting:
                marks.text(p, middle, f"in {self.moment.counting}", self.theme.accent, _HUGE, bold=True)
            else:
                self._paint_now(p, middle, result)
            below = QRectF(16, middle.bottom() + 8, self.width() - 32, height - middle.bottom() - 16)
            self._paint_coming(p, below, result)

    def _paint_where(self, p: QPainter, area: QRectF, result: Result) -> None:
        """Section, bar of how many, round."""
        section = result.piece.sections[result.section].name
        most = result.bars[-1].number
        bar = f"bar {self.moment.bar} of {most}" if self.moment.bar else "ready"
        words = f"{section}   ·   {bar}   ·   round {self.moment.round}"
        marks.aligned(p, area, words, self.theme.ink, marks.font(_SMALL + 6, True), marks.LEFT)

    def _paint_now(self, p: QPainter, area: QRectF, result: Result) -> None:
        """The count, the fingers that pluck now with their strings, the thumb's next string."""
        now = now_at(result, self.moment)
        third = area.width() / 3
        count = QRectF(area.left(), area.top(), third, area.height())
        marks.text(p, count, now.count or "–", self.theme.ink, _HUGE + 32, bold=True)
        self._paint_fingers(p, QRectF(count.right(), area.top(), third, area.height()), now)
        thumb = QRectF(area.right() - third, area.top(), third, area.height())
        marks.text(p, thumb.adjusted(0, 0, 0, -thumb.height() * 0.6), "thumb next", self.theme.quiet, _SMALL)
        if now.thumb is not None:
            words = f"string {now.thumb.string}"
            dye = self.theme.finger("p")
            marks.text(p, thumb.adjusted(0, thumb.height() * 0.25, 0, 0), words, dye, _LARGE + 8, bold=True)

    def _paint_fingers(self, p: QPainter, area: QRectF, now: Now) -> None:
        """Each finger that plucks now as a large mark with its string."""
        shown = [event for event in now.events if event.finger][:3]
        if not shown:
            return
        height = min(86.0, area.height() / len(shown) - 6)
        top = area.center().y() - len(shown) * (height + 6) / 2
        for index, event in enumerate(shown):
            rect = QRectF(area.left() + 8, top + index * (height + 6), area.width() - 16, height)
            p.setPen(QPen(self.theme.finger(event.finger or "p")))
            p.setBrush(self.theme.finger(event.finger or "p"))
            p.drawRoundedRect(rect, 12, 12)
            words = f"{self.theme.naming.finger(event.finger or '')}   string {event.string}"
            marks.text(p, rect.adjusted(8, 0, -8, 0), words, self.theme.on_finger, _LARGE, bold=True)

    def _paint_coming(self, p: QPainter, area: QRectF, result: Result) -> None:
        """The chord that comes: its card, and its fingers in order of landing."""
        index = self.coming
        title = "Next" if index is not None else "Now"
        span = index if index is not None else self._span(result)
        face = face_of(result, span, False, False, self.appearance.mirrored)
        ratio = self.devicePixelRatioF()
        chord = result.spans[span].span.chord
        name = signs(chord.text) if chord is not None else "silence"
        head = QRectF(area.left(), area.top(), 230, 60)
        ink = self.theme.accent if index is not None else self.theme.quiet
        marks.aligned(p, head, f"{title}: {name}", ink, marks.font(_LARGE, True), marks.LEFT)
        card = card_pixmap(face, self.theme, 108.0, ratio * 1.6)
        wide = min(330.0, area.height() * 1.4)
        size = card.deviceIndependentSize()
        target = QRectF(area.left(), head.bottom() + 6, wide, wide * size.height() / max(1.0, size.width()))
        p.drawPixmap(target, card, QRectF(card.rect()))
        left = target.right() + 20
        self._paint_landing(p, QRectF(left, area.top(), area.right() - left, area.height()), result, span)

    def _paint_landing(self, p: QPainter, area: QRectF, result: Result, span: int) -> None:
        change = change_into(result, span) if len(result.spans) > 1 else None
        if change is None:
            return
        for row, words in enumerate(landing_lines(change, result.piece.meter)[:_MOST_LINES]):
            rect = QRectF(area.left(), area.top() + row * 46, area.width(), 44)
            marks.aligned(p, rect, words, self.theme.ink, marks.font(30, row == 0), marks.LEFT)

    def _span(self, result: Result) -> int:
        """The chord that sounds at the moment."""
        found = 0
        for index, fitted in enumerate(result.spans):
            if (fitted.span.bar, float(fitted.span.at)) <= (self.moment.bar, self.moment.inside + 1e-6):
                found = index
        return found
