"""Edit → painted for a 200-bar piece, and the fit inside it; a reference window that only repaints a label.

Run: `.venv/bin/python -m benchmarks.edit_to_paint` (offscreen). Budgets: painted ≤ 16 ms at p95, of which
fitting ≤ 6 ms; a cold fit of 200 bars ≤ 20 ms.
"""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from pathlib import Path

from gingham.core.values import replace

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QEvent, QEventLoop, QObject
from PySide6.QtWidgets import QApplication, QLabel

from gingham.app import theme
from gingham.app.devices import SilentOutput
from gingham.app.document import Document
from gingham.app.settings import Settings
from gingham.app.transport import Transport
from gingham.app.views.build.canvas import TimeCanvas
from gingham.app.window import MainWindow, empty_piece
from gingham.core.fitting.fit import FitCache, fit
from gingham.core.judging.speed import hand_limit
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.pieces.piece import Piece

BARS, EDITS = 200, 120
_FOUR = "| G | Am7 | Dsus4 D | Em7{022030} | C | G/B{x20033} | Am7 | D "


def long_piece() -> Piece:
    """Two hundred bars of the first demo piece's chords."""
    base = empty_piece()
    line = parse_chord_line(_FOUR * (BARS // 8) + "|", base.meter)
    return replace(base, sections=(replace(base.sections[0], chords=line),))


def shown(values: list[float]) -> str:
    """Median and 95th percentile in milliseconds."""
    ordered = sorted(values)
    return f"p50 {statistics.median(ordered):6.2f} ms   p95 {ordered[int(0.95 * len(ordered))]:6.2f} ms"


def cold_fits() -> list[float]:
    """A fit of all bars with an empty cache (chord shapes have been seen before)."""
    piece, out = long_piece(), []
    for _ in range(20):
        began = time.perf_counter()
        fit(piece, 0, FitCache())
        out.append(1000 * (time.perf_counter() - began))
    return out


def warm_fits() -> list[float]:
    """A fit after one pluck was put in or taken out."""
    piece, cache, out = long_piece(), FitCache(), []
    from gingham.core.patterns.pattern import toggled
    from gingham.core.pieces.edits import set_pattern

    name = piece.sections[0].pattern
    for index in range(EDITS):
        piece = set_pattern(piece, name, toggled(piece.pattern(name), index % 8, "a"))
        began = time.perf_counter()
        fit(piece, 0, cache)
        out.append(1000 * (time.perf_counter() - began))
    return out


def limits() -> list[float]:
    """The hand limit of a new result, which follows the picture."""
    from gingham.core.patterns.pattern import toggled
    from gingham.core.pieces.edits import set_pattern

    piece, cache, out = long_piece(), FitCache(), []
    for index in range(EDITS):
        name = piece.sections[0].pattern
        piece = set_pattern(piece, name, toggled(piece.pattern(name), index % 8, "a"))
        result = fit(piece, 0, cache)
        began = time.perf_counter()
        hand_limit(result, "growing")
        out.append(1000 * (time.perf_counter() - began))
    return out


class PaintWatch(QObject):
    """Notes when each canvas has painted a given piece: the time just after its paint event."""

    def __init__(self, canvases: tuple[TimeCanvas, ...]) -> None:
        super().__init__()
        self.canvases = canvases
        self.wanted: Piece | None = None
        self.painted: dict[QObject, float] = {}
        for canvas in canvases:
            canvas.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Let the canvas paint, and note when it has, if it shows the wanted piece."""
        if event.type() != QEvent.Type.Paint or not isinstance(watched, TimeCanvas) or watched.result is None:
            return False
        watched.event(event)
        if watched.result.piece is self.wanted:
            self.painted.setdefault(watched, time.perf_counter())
        return True

    @property
    def all_painted(self) -> bool:
        """Whether every canvas has."""
        return len(self.painted) == len(self.canvases)


def edits(app: QApplication, folder: Path) -> list[float]:
    """From the click's intent to the painted window, with the fit in its worker."""
    window = MainWindow(Settings(folder / "settings.ini"), Transport(output=SilentOutput()))
    window.add(Document(long_piece()))
    window.resize(1280, 800)
    window.show()
    done: list[bool] = []
    window.build.shown.connect(lambda: done.append(True))
    while not done:
        app.processEvents()
    out = []
    watch = PaintWatch((window.view.result, window.view.pattern))
    for index in range(EDITS):
        done.clear()
        watch.painted.clear()
        watch.wanted = None
        column = (index * 37) % (8 * BARS)
        window.build.set_column(column)
        app.processEvents()
        began = time.perf_counter()
        window.view.pattern.finger_toggled.emit(column, "a")
        watch.wanted = window.document.piece
        while not (done and watch.all_painted):  # as in the application: asleep until something comes
            app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        out.append(1000 * (max(watch.painted.values()) - began))
        _idle(app)  # a hand needs a moment between two edits; words, cards and the limit are shown in it
    for document in window.documents:
        document.stack.setClean()
    window.close()
    return out


def _idle(app: QApplication) -> None:
    """Thirty milliseconds of the running application."""
    until = time.perf_counter() + 0.03
    while time.perf_counter() < until:
        app.processEvents()
        time.sleep(0.001)


def reference(app: QApplication) -> list[float]:
    """The least a Qt window needs: one label set and painted."""
    label = QLabel("0")
    label.resize(1280, 800)
    label.show()
    out = []
    for index in range(EDITS):
        began = time.perf_counter()
        label.setText(str(index))
        label.repaint()
        app.processEvents()
        out.append(1000 * (time.perf_counter() - began))
    return out


def main() -> None:
    """Print the figures."""
    app = QApplication([])
    theme.load_fonts()
    theme.apply(theme.LINEN, app)
    cold_fits()
    print(f"cold fit of {BARS} bars      {shown(cold_fits())}   (budget 20 ms)")
    print(f"fit after an edit          {shown(warm_fits())}   (budget 6 ms)")
    with tempfile.TemporaryDirectory() as folder:
        print(f"hand limit after it        {shown(limits())}")
        print(f"edit → painted             {shown(edits(app, Path(folder)))}   (budget 16 ms at p95)")
    print(f"reference: one plain label {shown(reference(app))}")


if __name__ == "__main__":
    main()
