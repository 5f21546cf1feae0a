"""The marks of one place of a pattern: plucks, pinches, sweeps and rests over the rows of the fingers."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QPainter

from gingham.app.look.theme import Theme
from gingham.app.widgets import marks
from gingham.app.widgets.geometry import Lanes
from gingham.app.widgets.marks import Look
from gingham.core.patterns.pattern import Pluck, Slot, StringStroke, Sweep
from gingham.core.patterns.shorthand import print_stroke

# Signs, not the letters of the shorthand: some of those are names of strings.
_ARROWS = {"brush-down": "↓", "brush-up": "↑", "thumb-brush": "↓", "chuck": "×"}


def paint_slot(
    p: QPainter, theme: Theme, slot: Slot, x: float, lanes: Lanes, look: Look, pick: str | None = None
) -> None:
    """Everything that is plucked in a place whose marks are centred at `x`; `pick` is a flat pick's way."""
    plucks = [s for s in slot if isinstance(s, Pluck)]
    fingers = sorted({s.finger for s in plucks}, key=lanes.y)
    if len(fingers) > 1:
        dyes = (theme.finger(fingers[0]), theme.finger(fingers[-1]))
        marks.woven(p, x, lanes.y(fingers[0]), lanes.y(fingers[-1]), dyes, look is Look.GHOST)
    for pluck in plucks:
        _paint_pluck(p, theme, pluck, x, lanes, look, pick)
    for stroke in slot:
        if isinstance(stroke, Sweep):
            _paint_sweep(p, theme, stroke, x, lanes, look)
        elif isinstance(stroke, StringStroke):
            rect = marks.mark_rect(x, lanes.y("i"), lanes.step)
            marks.finger_mark(p, rect, theme, "", (f"{stroke.string}",), look)
    if not slot:
        _paint_rest(p, theme, x, lanes)


def _paint_pluck(
    p: QPainter, theme: Theme, pluck: Pluck, x: float, lanes: Lanes, look: Look, pick: str | None
) -> None:
    rect = marks.mark_rect(x, lanes.y(pluck.finger), lanes.step)
    word = theme.naming.token(_word(pluck)) if pick is None else theme.naming.finger(pick) + _word(pluck)[1:]
    marks.finger_mark(p, rect, theme, pick or pluck.finger, (word,), look)
    if pluck.lane is not None:
        marks.bass_underline(p, rect, theme, pluck.lane, look)
    if pluck.accent:
        marks.accent_sign(p, rect, theme, pluck.accent)


def _paint_sweep(p: QPainter, theme: Theme, sweep: Sweep, x: float, lanes: Lanes, look: Look) -> None:
    """A brush takes the whole hand: one tall mark over the fingers (the thumb's in its row)."""
    if sweep.kind == "thumb-brush":
        rect = marks.mark_rect(x, lanes.y("p"), lanes.step)
    else:
        top = marks.mark_rect(x, lanes.y(lanes.fingers[0]), lanes.step)
        rect = top.united(marks.mark_rect(x, lanes.y("i"), lanes.step))
    finger = "p" if sweep.kind == "thumb-brush" else "i"
    marks.finger_mark(p, rect, theme, finger, (_ARROWS[sweep.kind],), look)
    if sweep.accent:
        marks.accent_sign(p, rect, theme, sweep.accent)


def _paint_rest(p: QPainter, theme: Theme, x: float, lanes: Lanes) -> None:
    """An empty place is part of the groove and is drawn."""
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(QColor(theme.quiet))
    p.drawEllipse(QPointF(x, lanes.y("p")), 2.6, 2.6)


def _word(pluck: Pluck) -> str:
    """What a mark says: the finger, and whatever the pattern fixes beyond it."""
    shown = print_stroke(pluck).rstrip("!")
    return shown if pluck.lane is None else shown[0] + shown[2:]
