"""Small pictures of a take: early and late by place of the bar, the tempo, how loud each finger is."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from fractions import Fraction
from statistics import median

import msgspec
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from gingham.app.look.appearance import Appearance
from gingham.app.widgets import marks
from gingham.app.widgets.titled import Titled
from gingham.core.listening.analysis import Analysis
from gingham.core.listening.report import HESITATES_MS, FingerReport
from gingham.core.listening.score import tempi
from gingham.core.music.meter import count_at
from gingham.language import tr
from gingham.words.counts import counted
from gingham.words.names import FINGER_NAMES, signs
from gingham.words.takes import late_text

_TITLE = 26.0
_LEAST_MS = 40.0
_DECIBELS, _LATE, _LEAST_BAR = 80.0, 84.0, 30.0
_TOLD_MS = 12.0
_TWO_LINES = 50.0  # so high that two names stand clear of the line


class Small(Titled):
    """A picture of a take with a title; subclasses paint it."""

    head = _TITLE

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(appearance, parent)
        self.analysis: Analysis | None = None
        self.before: Analysis | None = None
        """The take that this one is held against, drawn pale."""
        self.setMinimumSize(190, 96)

    def show_analysis(self, analysis: Analysis | None, before: Analysis | None = None) -> None:
        """Another take (None for none), and the one to compare it with."""
        self.analysis, self.before = analysis, before
        self.changed()

    def paint(self, p: QPainter, area: QRectF) -> None:
        """The take."""
        raise NotImplementedError

    def paintEvent(self, event: QPaintEvent) -> None:
        """Title and picture."""
        with marks.painting(self) as p:
            area = self.ground(p)
            if self.analysis is None or not self.facts():
                words = "" if self.analysis is None else tr("too little was heard for this")
                marks.sentence(p, area, words, self.theme.quiet, 13)
            else:
                self.paint(p, area)

    def paint_dots(
        self, p: QPainter, x: float, spread: float, middle: float, scale: float,
        values: Sequence[float], dye: QColor,
    ) -> float:  # fmt: skip
        """Values as dots around `x`, a stroke at their median; its height is returned."""
        soft = QColor(dye)
        soft.setAlpha(120)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(soft)
        for index, value in enumerate(values):
            away = spread * ((index * 7) % 5 - 2) / 2.0  # beside each other, the same way each time
            p.drawEllipse(QPointF(x + away, middle - value * scale), 2.6, 2.6)
        y = middle - median(values) * scale
        p.setPen(QPen(dye, 2.4))
        p.drawLine(QLineF(x - spread - 3, y, x + spread + 3, y))
        return y

    def paint_before(self, p: QPainter, x: float, spread: float, y: float) -> None:
        """Where the stroke was in the take before: broken, in the colour of what is past."""
        p.setPen(QPen(QColor(self.theme.quiet), 1.6, Qt.PenStyle.DashLine))
        p.drawLine(QLineF(x - spread - 6, y, x + spread + 6, y))


class _Place(msgspec.Struct, frozen=True):
    """A place of the bar and the plucks of one finger there, in milliseconds late."""

    at: Fraction
    finger: str
    late: tuple[float, ...]


class PlaceCanvas(Small):
    """Every pluck as a dot over its place in the bar: above the line late, below it early."""

    title = tr("Early and late, by place of the bar")

    def places(self) -> list[_Place]:
        """The places that were plucked, in order, each finger apart."""
        return self._places(self.analysis)

    def _places(self, analysis: Analysis | None) -> list[_Place]:
        if analysis is None:
            return []
        found: dict[tuple[Fraction, str], list[float]] = defaultdict(list)
        for mark in analysis.marks:
            if mark.late_ms is not None and mark.finger:
                found[mark.at, mark.finger].append(mark.late_ms)
        order = sorted(found, key=lambda key: (key[0], "pimac".find(key[1])))
        return [_Place(at, finger, tuple(found[at, finger])) for at, finger in order]

    def facts(self) -> list[str]:
        """`on 2 &: index 24 ms late, 8 plucks`."""
        if self.analysis is None:
            return []
        meter = self.analysis.question.plan.meter
        return [
            tr(
                "on {count_at}: {finger} {how_late}, {plucks} plucks",
                count_at=count_at(meter, each.at),
                finger=FINGER_NAMES.get(each.finger, each.finger),
                how_late=late_text(median(each.late)),
                plucks=len(each.late),
            )
            for each in self.places()
        ]

    def paint(self, p: QPainter, area: QRectF) -> None:
        """A column for each place; its fingers side by side, with a letter and a stroke at the median."""
        assert self.analysis is not None
        theme, meter = self.theme, self.analysis.question.plan.meter
        places = self.places()
        earlier = {(each.at, each.finger): median(each.late) for each in self._places(self.before)}
        ats = sorted({each.at for each in places})
        most = max(_LEAST_MS, max(abs(ms) for each in places for ms in each.late) * 1.05)
        room = QRectF(area.left() + 52, area.top(), area.width() - 56, area.height() - 20)
        middle = room.center().y()
        for ms, words in (
            (most, tr("+{most:.0f} ms", most=most)),
            (0.0, tr("beat")),
            (-most, tr("−{most:.0f} ms", most=most)),
        ):
            y = middle - ms / most * room.height() / 2
            p.setPen(QPen(QColor(theme.edge if ms else theme.quiet), 1.2))
            p.drawLine(QLineF(room.left(), y, room.right(), y))
            label = QRectF(area.left(), min(max(area.top(), y - 9), room.bottom() - 14), 48, 18)
            marks.aligned(p, label, words, theme.quiet, marks.font(11.5), marks.LEFT)
        wide = room.width() / len(ats)
        for number, at in enumerate(ats):
            left = room.left() + number * wide
            count = QRectF(left, room.bottom() + 2, wide, 18)
            marks.text(p, count, count_at(meter, at), theme.ink, 13, bold=at in meter.beat_starts)
            own = [each for each in places if each.at == at]
            for place, each in enumerate(own):
                x = left + wide * (place + 0.5) / len(own)
                scale = room.height() / 2 / most
                dye = self.theme.finger(each.finger)
                spread = min(wide / len(own) * 0.25, 9.0)
                then = earlier.get((at, each.finger))
                if then is not None:
                    self.paint_before(p, x, spread, middle - max(-most, min(most, then)) * scale)
                y = self.paint_dots(p, x, spread, middle, scale, each.late, dye)
                rect = QRectF(x + spread + 3, y - 8, 14, 16)
                marks.text(p, rect, theme.naming.finger(each.finger), dye, 12, bold=True)


class ChangeCanvas(Small):
    """How long each chord is waited for, change by change."""

    title = tr("Changes")

    def waits(self, analysis: Analysis | None) -> dict[str, list[float]]:
        """Milliseconds by which the beat is held up where a chord enters, in order of first coming."""
        out: dict[str, list[float]] = defaultdict(list)
        if analysis is not None and analysis.report.tempo:
            for change in analysis.report.changes:
                out[change.chord].append(change.ms)
        return out

    def facts(self) -> list[str]:
        """`to G: 140 ms late, 4 changes`."""
        return [
            tr(
                "to {chord}: {late}, {how_many}",
                chord=signs(chord),
                late=late_text(median(ms)),
                how_many=counted(len(ms), "change"),
            )
            for chord, ms in self.waits(self.analysis).items()
        ]

    def paint(self, p: QPainter, area: QRectF) -> None:
        """A column for each chord that is changed to; upward it is waited for."""
        theme, waits, earlier = self.theme, self.waits(self.analysis), self.waits(self.before)
        most = max(2 * HESITATES_MS, max(abs(ms) for each in waits.values() for ms in each) * 1.05)
        wide = (area.width() - 52) / len(waits)
        tight = any(marks.advance(signs(chord), 13, bold=True) > wide - 2 for chord in waits)
        rows = 2 if tight else 1  # names side by side, or by turns above each other
        room = QRectF(area.left() + 48, area.top() + 2, area.width() - 52, area.height() - 6 - 16 * rows)
        base = room.bottom() - room.height() * 0.2
        scale = room.height() * 0.8 / most
        for ms, words in (
            (most, tr("+{most:.0f} ms", most=most)),
            (HESITATES_MS, f"+{HESITATES_MS:.0f}"),
            (0.0, tr("beat")),
        ):
            y = base - ms * scale
            p.setPen(QPen(QColor(theme.quiet if not ms else theme.edge), 1.2))
            p.drawLine(QLineF(room.left(), y, room.right(), y))
            label = QRectF(area.left(), max(area.top(), y - 9), 46, 18)
            marks.aligned(p, label, words, theme.quiet, marks.font(11.5), marks.LEFT)
        for number, (chord, values) in enumerate(waits.items()):
            x, spread = room.left() + (number + 0.5) * wide, min(wide * 0.25, 9.0)
            late = median(values) > HESITATES_MS
            dye = QColor(theme.fault if late else theme.ink)
            if chord in earlier:
                then = max(-0.2 * most, min(most, median(earlier[chord])))
                self.paint_before(p, x, spread, base - then * scale)
            self.paint_dots(p, x, spread, base, scale, [max(-0.2 * most, ms) for ms in values], dye)
            rect = QRectF(x - rows * wide / 2, room.bottom() + 2 + 15 * (number % rows), rows * wide, 18)
            marks.text(p, rect, signs(chord), dye, 13, bold=late)


class TempoCanvas(Small):
    """Beats a minute, bar by bar, with the changes that hold the beat up."""

    title = tr("Tempo")

    def bars(self) -> Sequence[tuple[int, float]]:
        """Bar (as it is played) and its beats a minute."""
        return _tempi(self.analysis)

    def facts(self) -> list[str]:
        """`72 beats a minute, 3 % faster at the end`, then each bar."""
        if self.analysis is None or len(self.bars()) < 2:
            return []
        said = self.analysis.report
        percent = round(abs(said.drift_percent))
        way = (
            tr("{percent} % faster at the end", percent=percent)
            if said.drift_percent > 0
            else tr("{percent} % slower at the end", percent=percent)
        )
        first = tr(
            "{tempo:.0f} beats a minute, {drift}",
            tempo=said.tempo,
            drift=way if percent else tr("steady from start to end"),
        )
        return [first, *(tr("bar {bar}: {tempo:.0f}", bar=bar, tempo=tempo) for bar, tempo in self.bars())]

    def paint(self, p: QPainter, area: QRectF) -> None:
        """A line over the bars; changes that wait named above it."""
        assert self.analysis is not None
        theme, bars = self.theme, self.bars()
        right = QRectF(10 + 60, 4, self.width() - 80, _TITLE - 6)
        words = self.facts()[0]
        if marks.advance(words, 12.5, bold=False) > right.width():
            words = words.partition(",")[0]
        marks.aligned(p, right, words, theme.quiet, marks.font(12.5), marks.LEFT)
        earlier = _tempi(self.before)
        values = [tempo for _, tempo in (*bars, *earlier)]
        low, high = min(values) - 2, max(values) + 2
        room = area.adjusted(34, 16, -6, -16)
        step = room.width() / max(1, len(bars) - 1)

        def point(index: int) -> QPointF:
            share = (bars[index][1] - low) / (high - low)
            return QPointF(room.left() + index * step, room.bottom() - share * room.height())

        for value in (low + 2, high - 2):
            y = room.bottom() - (value - low) / (high - low) * room.height()
            label = QRectF(area.left(), y - 9, 30, 18)
            marks.aligned(p, label, f"{value:.0f}", theme.quiet, marks.font(11.5), marks.LEFT)
        here = {number: point(i).x() for i, (number, _) in enumerate(bars)}
        p.setPen(QPen(QColor(theme.quiet), 1.6, Qt.PenStyle.DashLine))
        line = [(here[bar], (tempo - low) / (high - low)) for bar, tempo in earlier if bar in here]
        p.drawPolyline([QPointF(x, room.bottom() - share * room.height()) for x, share in line])
        p.setPen(QPen(QColor(theme.accent), 2))
        p.drawPolyline([point(i) for i in range(len(bars))])
        self._paint_waits(p, room, {number: point(i) for i, (number, _) in enumerate(bars)})
        for index in {0, len(bars) - 1}:
            x = point(index).x()
            rect = QRectF(x - 20, room.bottom() + 1, 40, 16)
            marks.text(p, rect, str(bars[index][0]), theme.quiet, 11.5)

    def _paint_waits(self, p: QPainter, room: QRectF, where: dict[int, QPointF]) -> None:
        """The changes that come late, the two worst by name."""
        assert self.analysis is not None
        late = [c for c in self.analysis.report.changes if c.ms > HESITATES_MS and c.bar in where]
        late.sort(key=lambda change: -change.ms)
        for number, change in enumerate(late):
            place = where[change.bar]
            p.setPen(QPen(QColor(self.theme.fault), 1.6))
            p.setBrush(QColor(self.theme.panel))
            p.drawEllipse(place, 4, 4)
            if number < (2 if room.height() > _TWO_LINES else 1):
                words = tr("{chord} waits {ms:.0f} ms", chord=signs(change.chord), ms=change.ms)
                left = min(max(room.left(), place.x() - 50), room.right() - 110)
                rect = QRectF(left, room.top() - 15 if number == 0 else room.bottom() - 15, 120, 14)
                marks.aligned(p, rect, words, self.theme.fault, marks.font(11.5), marks.LEFT)


def _decibels(value: float) -> str:
    """`+2`, `−3`, `0`."""
    return f"{round(value):+d}".replace("-", "−") if round(value) else "0"


def _tempi(analysis: Analysis | None) -> Sequence[tuple[int, float]]:
    if analysis is None or not analysis.report.tempo:
        return ()
    return tempi(analysis.question, analysis.hearing)


class LoudCanvas(Small):
    """How loud each finger is against all plucks, and how late against the beat."""

    title = tr("Fingers")

    def facts(self) -> list[str]:
        """`thumb +2 dB, spread 1.5 dB, on the beat`."""
        if self.analysis is None:
            return []
        return [f"{_name(f)} {', '.join(self._told(f))}" for f in self.analysis.report.fingers]

    @property
    def _loud(self) -> bool:
        """Whether there is any loudness to show: keys that were tapped have none."""
        fingers = self.analysis.report.fingers if self.analysis is not None else ()
        return any(finger.level_db or finger.spread_db for finger in fingers)

    def _told(self, finger: FingerReport) -> list[str]:
        assert self.analysis is not None
        loud = (
            [
                tr("{decibels} dB", decibels=_decibels(finger.level_db)),
                tr("spread {spread_db:.1f} dB", spread_db=finger.spread_db),
            ]
            if self._loud
            else []
        )
        return [*loud, late_text(finger.late_ms)] if self.analysis.report.tempo else loud

    def paint(self, p: QPainter, area: QRectF) -> None:
        """A bar for each finger where there is room; the stroke is the middle of all plucks."""
        assert self.analysis is not None
        theme, fingers = self.theme, self.analysis.report.fingers
        step = min(26.0, area.height() / len(fingers))
        late = _LATE if self.analysis.report.tempo else 0.0
        left, wide = area.left() + 74, area.width() - 74 - _DECIBELS - late
        wide = wide if wide > _LEAST_BAR and self._loud else 0.0
        for number, finger in enumerate(fingers):
            y, dye = area.top() + number * step, theme.finger(finger.finger)
            name = _name(finger).removesuffix(" finger")
            marks.aligned(p, QRectF(area.left(), y, 70, step), name, dye, marks.font(13, True), marks.LEFT)
            if wide:
                self._paint_bar(p, QRectF(left, y, wide, step), finger, dye)
            words = (
                tr(
                    "{decibels} ± {spread_db:.0f} dB",
                    decibels=_decibels(finger.level_db),
                    spread_db=finger.spread_db,
                )
                if self._loud
                else ""
            )
            rect = QRectF(left + wide + (8 if wide else 0), y, _DECIBELS - 8, step)
            marks.aligned(p, rect, words, theme.quiet, marks.font(12), marks.LEFT)
            if late:
                rect = QRectF(area.right() - late, y, late, step)
                words = late_text(finger.late_ms)
                ink = theme.ink if abs(finger.late_ms) > _TOLD_MS else theme.quiet
                marks.aligned(p, rect, words, ink, marks.font(12), marks.LEFT)
        if wide:
            p.setPen(QPen(QColor(theme.ink), 1.6))
            x = left + 0.6 * wide
            p.drawLine(QLineF(x, area.top(), x, area.top() + step * len(fingers)))

    def _paint_bar(self, p: QPainter, room: QRectF, finger: FingerReport, dye: QColor) -> None:
        """How loud it is; a broken stroke where it was in the take before."""
        bar = room.adjusted(0, room.height() * 0.22, 0, -room.height() * 0.22)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(self.theme.selected))
        p.drawRoundedRect(bar, 4, 4)
        p.setBrush(dye)
        p.drawRoundedRect(QRectF(bar.left(), bar.top(), bar.width() * _share(finger), bar.height()), 4, 4)
        said = self.before.report.fingers if self.before is not None else ()
        for then in said:
            if then.finger == finger.finger:
                x = room.left() + room.width() * _share(then)
                p.setPen(QPen(QColor(self.theme.ink), 1.6, Qt.PenStyle.DashLine))
                p.drawLine(QLineF(x, room.top() + 2, x, room.bottom() - 2))


def _share(finger: FingerReport) -> float:
    """How much of a bar a loudness fills."""
    return min(1.0, max(0.04, 0.6 + finger.level_db / 20.0))


def _name(finger: FingerReport) -> str:
    return FINGER_NAMES.get(finger.finger, finger.finger)
