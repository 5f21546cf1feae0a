"""Small pictures of the record: today's plan, tempi by stage, days, where it goes wrong."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

import msgspec
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF

from gingham.app.look.appearance import Appearance
from gingham.app.look.theme import Theme
from gingham.app.widgets import marks
from gingham.app.widgets.titled import Titled
from gingham.core.practice.review import DayTempo
from gingham.core.practice.summary import GROUPS, DayMinutes
from gingham.language import tr
from gingham.words.log import GROUP_NAMES, NO_LINES, NOT_WRONG, day_words, line_words

_HEAD, _EDGE = 30.0, 12.0
_FINGER_OF = {"hand": "p", "change": "i", "chords": "m", "whole": "a", "rest": ""}
"""The dye of a group: whoever learned the fingers' dyes is not asked to learn others."""
KIND_GROUPS = {"warm-up": "hand", "new": "chords", "change": "change", "due": "change", "run": "whole"}
_BLOCK, _BLOCK_GAP = 34.0, 6.0
_AXIS, _NAMES, _LOW = 34.0, 190.0, 20.0
_STITCH, _WIDE = 4.0, 40.0


def dye_of(theme: Theme, group: str) -> QColor:
    """The colour of a group of stages."""
    return theme.finger(_FINGER_OF.get(group, ""))


class Picture(Titled):
    """A picture of the record; subclasses have facts and paint."""

    head, edge, letters = _HEAD, _EDGE, 15

    def __init__(self, appearance: Appearance) -> None:
        super().__init__(appearance)
        self.today = date.min
        self.setMinimumSize(300, 150)

    def paint(self, p: QPainter, area: QRectF) -> None:
        """What is beneath the title."""
        raise NotImplementedError

    def paintEvent(self, event: QPaintEvent) -> None:
        """Title, then the picture."""
        with marks.painting(self) as p:
            self.paint(p, self.ground(p))

    def say(self, p: QPainter, area: QRectF, words: str) -> None:
        """Where there is nothing to show yet: what will be there."""
        p.setPen(QColor(self.theme.quiet))
        p.setFont(marks.font(14))
        flags = int(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft) | int(Qt.TextFlag.TextWordWrap)
        p.drawText(area, flags, words)


class PlannedPart(msgspec.Struct, frozen=True):
    """A part of today's plan: its minutes, its group, its words and why."""

    minutes: int
    group: str
    words: str
    why: str


class TodayPicture(Picture):
    """The parts of the session, as high as they are long."""

    title = tr("Today")
    parts: tuple[PlannedPart, ...] = ()
    empty = ""

    def show_parts(self, parts: Sequence[PlannedPart], minutes: int, empty: str) -> None:
        """Another plan."""
        self.parts, self.empty = tuple(parts), empty
        self.title = tr("Today, {minutes} minutes", minutes=minutes) if parts else tr("Today")
        self.changed()

    def facts(self) -> list[str]:
        """Part by part."""
        return [
            tr("{minutes} minutes {words}: {why}", minutes=part.minutes, words=part.words, why=part.why)
            for part in self.parts
        ] or [self.empty]

    def paint(self, p: QPainter, area: QRectF) -> None:
        """A block of cloth for each part with its minutes, its words beside it."""
        if not self.parts:
            self.say(p, area, self.empty)
            return
        step = min(_BLOCK + _BLOCK_GAP, area.height() / len(self.parts))
        for row, part in enumerate(self.parts):
            block = QRectF(area.left(), area.top() + row * step, 62, step - _BLOCK_GAP)
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(dye_of(self.theme, part.group))
            p.drawRoundedRect(block, 4, 4)
            marks.text(p, block, tr("{minutes} min", minutes=part.minutes), self.theme.on_finger, 13)
            words = QRectF(block.right() + 12, block.top(), area.width() - 74, block.height())
            wide = marks.advance(part.words, 15, bold=False)
            marks.cut(p, words, part.words, self.theme.ink, marks.font(15))
            if wide + 40 < words.width():
                beside = words.adjusted(wide + 14, 0, 0, 0)
                marks.cut(p, beside, part.why, self.theme.quiet, marks.font(13))


class NamedLine(msgspec.Struct, frozen=True):
    """A stage's tempi under its name, in the dye of its group."""

    name: str
    group: str
    days: tuple[DayTempo, ...]


class TempoPicture(Picture):
    """The fastest clean tempo of each day, a line for each stage; the goal broken."""

    title = tr("Tempo reached, by stage")
    lines: tuple[NamedLine, ...] = ()
    goal = 0

    def show_lines(self, lines: Sequence[NamedLine], goal: int) -> None:
        """Other lines; a goal of 0 is none."""
        self.lines, self.goal = tuple(lines), goal
        self.changed()

    def facts(self) -> list[str]:
        """From where to where each line goes."""
        return [line_words(line.name, line.days, self.today) for line in self.lines] or [NO_LINES]

    def paint(self, p: QPainter, area: QRectF) -> None:
        """Tempi at the left, days from left to right, names at the ends of their lines."""
        if not self.lines:
            self.say(p, area, NO_LINES)
            return
        tempi = [day.tempo for line in self.lines for day in line.days] + ([self.goal] if self.goal else [])
        low, high = min(tempi) - 2, max(tempi) + 2
        days = [day.day for line in self.lines for day in line.days]
        first, span = min(days), max(1, (max(days) - min(days)).days)
        plot = area.adjusted(_AXIS, 6, -_NAMES, -6)

        def at(day: DayTempo) -> QPointF:
            share = (day.day - first).days / span
            up = (day.tempo - low) / max(1, high - low)
            return QPointF(plot.left() + share * plot.width(), plot.bottom() - up * plot.height())

        self._paint_scale(p, area, plot, low, high)
        taken: list[float] = []
        for line in sorted(self.lines, key=lambda each: at(each.days[-1]).y()):
            points = [at(day) for day in line.days]
            dye = dye_of(self.theme, line.group)
            p.setPen(QPen(dye, 2.2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawPolyline(QPolygonF(points))
            y = max(points[-1].y(), taken[-1] + 17 if taken else plot.top())
            taken.append(y)
            name = QRectF(plot.right() + 8, y - 9, _NAMES - 8, 18)
            marks.cut(p, name, line.name, dye, marks.font(13, True))

    def _paint_scale(self, p: QPainter, area: QRectF, plot: QRectF, low: int, high: int) -> None:
        step = 10 if high - low > 16 else 5
        for tempo in range(-(-low // step) * step, high + 1, step):
            y = plot.bottom() - (tempo - low) / max(1, high - low) * plot.height()
            label = QRectF(area.left(), y - 9, _AXIS - 8, 18)
            marks.aligned(p, label, str(tempo), self.theme.quiet, marks.font(13), marks.RIGHT)
        if self.goal:
            y = plot.bottom() - (self.goal - low) / max(1, high - low) * plot.height()
            p.setPen(QPen(QColor(self.theme.quiet), 1.2, Qt.PenStyle.DashLine))
            p.drawLine(QLineF(plot.left(), y, plot.right(), y))
            label = QRectF(plot.left() + 6, y - 18, 120, 16)
            marks.aligned(
                p, label, tr("goal {goal}", goal=self.goal), self.theme.quiet, marks.font(12), marks.LEFT
            )


class DaysPicture(Picture):
    """Minutes of each day, stitched by what was practised."""

    title = tr("Days")
    days: tuple[DayMinutes, ...] = ()

    def show_days(self, days: Sequence[DayMinutes]) -> None:
        """Other days, up to today."""
        self.days = tuple(days)
        self.changed()

    def facts(self) -> list[str]:
        """The days on which there was practice."""
        return [day_words(day, self.today) for day in self.days if day.total] or [tr("no practice yet")]

    def paint(self, p: QPainter, area: QRectF) -> None:
        """A column for each day, its letter beneath; a legend of the groups on top."""
        x = area.left()
        for group in GROUPS:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(dye_of(self.theme, group))
            p.drawRect(QRectF(x, area.top() + 5, 10, 8))
            words = GROUP_NAMES[group]
            wide = marks.advance(words, 13, bold=False)
            label = QRectF(x + 14, area.top(), wide + 6, 18)
            marks.aligned(p, label, words, self.theme.quiet, marks.font(13), marks.LEFT)
            x += wide + 34
        if not self.days:
            return
        plot = area.adjusted(0, 26, 0, -_LOW)
        most = max(10.0, *(day.total for day in self.days))
        step = plot.width() / len(self.days)
        for index, day in enumerate(self.days):
            left = plot.left() + index * step
            self._paint_day(p, QRectF(left + 2, plot.top(), min(22.0, step - 4), plot.height()), day, most)
            letter = QRectF(left - 2, area.bottom() - _LOW + 2, min(22.0, step - 4) + 8, 16)
            ink = self.theme.ink if day.day == self.today else self.theme.quiet
            marks.text(p, letter, f"{day.day:%a}"[:1], ink, 13)

    def _paint_day(self, p: QPainter, column: QRectF, day: DayMinutes, most: float) -> None:
        p.setPen(QPen(QColor(self.theme.edge), 1))
        p.drawLine(QLineF(column.left(), column.bottom(), column.right(), column.bottom()))
        y = column.bottom()
        for group in GROUPS:
            rows = round(day.minutes.get(group, 0.0) / most * column.height() / _STITCH)
            for _ in range(rows):
                y -= _STITCH
                p.fillRect(QRectF(column.left(), y, column.width(), _STITCH - 1), dye_of(self.theme, group))


class WrongPicture(Picture):
    """How often each bar of the section went wrong lately."""

    title = tr("Where it goes wrong")
    section = ""
    bars: tuple[int, ...] = ()
    wrong: dict[int, int] = {}  # noqa: RUF012  # replaced as a whole, never changed

    def show_bars(self, section: str, bars: Sequence[int], wrong: dict[int, int]) -> None:
        """Another section, or other counts by bar."""
        self.section, self.bars, self.wrong = section, tuple(bars), wrong
        self.title = (
            tr("Where it goes wrong: {section}, last 40 attempts", section=section)
            if wrong
            else tr("Where it goes wrong")
        )
        self.changed()

    def facts(self) -> list[str]:
        """The bars that went wrong, the worst first."""
        found = sorted(self.wrong.items(), key=lambda pair: -pair[1])
        return [tr("bar {bar}: {count}", bar=bar, count=count) for bar, count in found] or [NOT_WRONG]

    def paint(self, p: QPainter, area: QRectF) -> None:
        """A column for each bar; its count on it, its number beneath."""
        if not self.wrong or not self.bars:
            self.say(p, area, NOT_WRONG)
            return
        most = max(self.wrong.values())
        step = min(72.0, area.width() / len(self.bars))
        every = max(1, round(26 / step))
        plot = area.adjusted(0, 20, 0, -_LOW)
        for index, bar in enumerate(self.bars):
            count = self.wrong.get(bar, 0)
            left = plot.left() + index * step
            high = plot.height() * count / most
            column = QRectF(left + step * 0.2, plot.bottom() - high, step * 0.6, high)
            p.fillRect(column, QColor(self.theme.finger("i")))
            p.setPen(QPen(QColor(self.theme.edge), 1))
            p.drawLine(QLineF(left + 2, plot.bottom(), left + step - 2, plot.bottom()))
            if count:
                marks.text(p, QRectF(left, column.top() - 19, step, 18), str(count), self.theme.ink, 14)
            if not index % every:
                label = QRectF(left, area.bottom() - _LOW + 2, step * every, 16)
                marks.aligned(
                    p,
                    label,
                    tr("bar {bar}", bar=bar) if step > _WIDE else str(bar),
                    self.theme.quiet,
                    marks.font(13),
                    marks.LEFT,
                )
