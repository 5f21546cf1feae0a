"""The kept pictures: whatever is painted again column by column is what a whole new picture would show."""

from __future__ import annotations

import random

import pytest
from PySide6.QtCore import QPoint
from PySide6.QtGui import QImage, QRegion

from gingham.app.session import fitter
from gingham.app.views.builder.canvas import TimeCanvas
from gingham.core import courtesy
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.edits import reshape_pattern
from gingham.core.pieces.piece import HereOverride
from gingham.core.values import replace
from tests.conftest import make_piece

PATTERNS = (
    "4/4 x2: p+m . p i ; p m p i", "4/4 x2: p i m a . a m i", "4/4 x2: p i^ m . p d u k", "4/4 x2: p+a i@3 p2 m!! p+i m p c",
)  # fmt: skip


def picture(canvas: TimeCanvas) -> QImage:
    """What the canvas shows now."""
    image = QImage(canvas.size(), QImage.Format.Format_RGB32)
    canvas.render(image, QPoint(), QRegion(canvas.rect()))
    return image


@pytest.mark.parametrize("seed", [2, 9])
def test_columns_painted_again_are_those_of_a_new_picture(qtbot, window, seed: int) -> None:
    """Edits, cursor, chosen chords, loops, exceptions and scrolling in any order; a planted change is seen."""
    random_, build = random.Random(seed), window.build
    chords = make_piece("| G | Am7 D | Dsus4 D | Em7{022030} | C | G/B{x20033} | Am7 | D |").sections
    with qtbot.waitSignal(build.shown.settled):
        window.document.edit("Longer", replace(window.document.piece, sections=chords))
    steps = (
        lambda: build.gestures.toggle(build.column, random_.choice("pimac")),
        lambda: build.set_column(random_.randrange(len(build.axis.columns))),
        lambda: build.shown.step_span(random_.choice((-1, 1))),
        lambda: window.view.sight.go(random_.randrange(0, 900)),
        lambda: window.playing.set_bars(random_.choice((None, (2, 3)))),
        lambda: window.document.edit(
            "Words",
            reshape_pattern(
                build.shown.piece, build.shown.pattern_name(), parse_pattern(random_.choice(PATTERNS))
            ),
        ),
        lambda: window.document.edit(
            "Here",
            replace(
                build.shown.piece, overrides=(HereOverride("Verse", 1, build.axis.columns[0].at, "p", 4),)
            ),
        ),
        lambda: window.document.stack.undo(),
    )
    for _ in range(40):
        random_.choice(steps)()
        qtbot.waitUntil(
            lambda: build.shown.result is not None and build.shown.result.piece is build.shown.piece
        )
        for canvas in (window.view.result, window.view.pattern):
            kept = picture(canvas)
            canvas.repaint_still()
            assert picture(canvas) == kept
    canvas = window.view.pattern
    before = picture(canvas)
    build.gestures.toggle(build.axis.columns[0].slot, "c")
    qtbot.waitUntil(lambda: build.shown.result.piece is build.shown.piece)
    window.view.sight.go(0)
    assert picture(canvas) != before


@pytest.mark.parametrize("ending", ["m", "; m", "d", "p+i+m", "; k"])
def test_a_wide_mark_in_the_last_column_is_painted(qtbot, window, ending: str) -> None:
    """A break or a brush reaches over its column: after the last one there is none to paint along."""
    build, document = window.build, window.document
    document.edit("One bar", replace(build.shown.piece, sections=make_piece("| G |").sections))
    for last in ("i", ending, "i"):
        pattern = parse_pattern(f"4/4 x2: p m i m p m i {last}")
        document.edit("Words", reshape_pattern(build.shown.piece, build.shown.pattern_name(), pattern))
        qtbot.waitUntil(
            lambda: build.shown.result is not None and build.shown.result.piece is build.shown.piece
        )
        for canvas in (window.view.result, window.view.pattern):
            kept = picture(canvas)
            canvas.repaint_still()
            assert picture(canvas) == kept


def test_long_work_steps_aside_until_picture_and_words_stand(qtbot, window, monkeypatch) -> None:
    """What is fitted at once holds other threads off; what a thread has to fit holds nobody off."""
    shown, order = window.shown, list[str]()
    monkeypatch.setattr(fitter, "_QUICK_MS", float("inf"))  # a busy machine is slow and not of interest
    monkeypatch.setattr(courtesy, "hold", lambda _seconds: order.append("hold"))
    monkeypatch.setattr(courtesy, "done", lambda: order.append("done"))
    shown.fitted.connect(lambda: order.append("picture"))
    shown.settled.connect(lambda: order.append("words"))
    with qtbot.waitSignal(shown.settled):
        window.document.edit("Other chords", make_piece("| Bbm7 | Ebsus4 | Ab6 |"))
    assert order == ["hold", "done", "picture", "hold", "words", "done"]
    order.clear()
    with qtbot.waitSignal(shown.settled):
        window.build.gestures.toggle(window.build.axis.columns[0].slot, "a")
    assert order == ["hold", "picture", "hold", "words", "done"]
