"""Edit → painted, each edit a pattern not seen before; cursor moves; edits while playing; 200 and 5,000 bars.

Run `python -m benchmarks.edit_to_paint [bars …]` (offscreen). Budgets: painted p50 ≤ 8 and p95 ≤ 16
ms at 200 bars, twice that at 5,000; a cursor move p95 ≤ 4 ms; a cold fit of 200 bars ≤ 20 ms; no stall of the
window over 16 ms at Play or at an edit while playing. The reference (one label set and painted) is measured
in the same run. `recurring` toggles one finger over eight places: sixteen patterns, all seen soon.
"""

from __future__ import annotations

import os
import statistics
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # as the program itself does: cores.py

from PySide6.QtCore import QEvent, QEventLoop, QObject, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel, QMessageBox

from gingham.app.look import theme
from gingham.app.look.settings import Settings
from gingham.app.session.document import Document, empty_piece
from gingham.app.shell.sweeping import Sweeper
from gingham.app.shell.window import MainWindow
from gingham.app.sound.devices import SilentOutput
from gingham.app.sound.transport import Transport
from gingham.app.views.builder.canvas import TimeCanvas
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.pieces.chordline import parse_chord_line
from gingham.core.pieces.piece import Piece
from gingham.core.values import replace

EDITS = 120
_FOUR = "| G | Am7 | Dsus4 D | Em7{022030} | C | G/B{x20033} | Am7 | D "
FINGERS = "ami"


def long_piece(bars: int) -> Piece:
    """So many bars of the demo's chords."""
    base = empty_piece()
    line = parse_chord_line(_FOUR * (bars // 8) + "|", base.meter)
    return replace(base, sections=(replace(base.sections[0], chords=line),))


def shown(values: list[float]) -> str:
    """Median, 95th percentile and worst in milliseconds."""
    ordered = sorted(values)
    p95 = ordered[int(0.95 * len(ordered))]
    return f"p50 {statistics.median(ordered):6.2f}   p95 {p95:6.2f}   worst {ordered[-1]:6.2f} ms"


def new_patterns() -> Iterator[tuple[int, str]]:
    """Place and finger to toggle: a Gray code over 24 cells, so that no pattern comes twice."""
    number = 0
    while True:
        number += 1
        bit = (number & -number).bit_length() - 1
        cell = (bit * 7) % 24
        yield cell % 8, FINGERS[cell // 8]


def recurring() -> Iterator[tuple[int, str]]:
    """One finger over eight places."""
    number = 0
    while True:
        yield number % 8, "a"
        number += 1


class Shares:
    """Where the time of an edit goes: each step's own milliseconds, by wrapping the step."""

    def __init__(self) -> None:
        self.spent: dict[str, float] = {}

    def wrap(self, of: object, method: str, name: str) -> None:
        """Count what a method takes."""
        inner = getattr(of, method)

        def timed(*arguments: object, **named: object) -> object:
            began = time.perf_counter()
            try:
                return inner(*arguments, **named)
            finally:
                self.spent[name] = self.spent.get(name, 0.0) + 1000 * (time.perf_counter() - began)

        setattr(of, method, timed)

    def line(self, edits: int) -> str:
        """The mean of each step."""
        return ", ".join(f"{name} {total / edits:.2f}" for name, total in self.spent.items())


class PaintWatch(QObject):
    """Notes when each canvas has painted a given piece: the time just after its paint event."""

    def __init__(self, canvases: tuple[TimeCanvas, ...], shares: Shares) -> None:
        super().__init__()
        self.canvases, self.shares = canvases, shares
        self.wanted: Piece | None = None
        self.painted: dict[QObject, float] = {}
        for canvas in canvases:
            canvas.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Let the canvas paint, and note when it has, if it shows the wanted piece."""
        if event.type() != QEvent.Type.Paint or not isinstance(watched, TimeCanvas):
            return False
        began = time.perf_counter()
        watched.event(event)
        name = f"paint {type(watched).__name__.removesuffix('Canvas').lower()}"
        spent = self.shares.spent
        spent[name] = spent.get(name, 0.0) + 1000 * (time.perf_counter() - began)
        if self.wanted is None or (watched.result is not None and watched.result.piece is self.wanted):
            self.painted.setdefault(watched, time.perf_counter())
        return True

    @property
    def all_painted(self) -> bool:
        """Whether every canvas has."""
        return len(self.painted) == len(self.canvases)


class Desk:
    """The window with a long piece, and what is measured on it."""

    def __init__(self, app: QApplication, bars: int, folder: Path) -> None:
        self.app = app
        self.window = MainWindow(Settings(folder / "settings.ini"), Transport(output=SilentOutput()))
        self.sweeper = Sweeper(self.window.shown.settled, self.window.transport, self.window)
        self.window.ask_unsaved = lambda _document: QMessageBox.StandardButton.Discard  # type: ignore[method-assign]
        done: list[bool] = []
        self.window.shown.settled.connect(lambda: done.append(True))
        self.window.add(Document(long_piece(bars)))
        self.window.resize(1280, 800)
        self.window.show()
        while not done:
            app.processEvents()
        self.shares = Shares()
        build, view = self.window.build, self.window.view
        self.watch = PaintWatch((view.result, view.pattern), self.shares)
        for of, method, name in (
            (view.result, "show_result", "hand over"), (view.pattern, "show_result", "hand over"),
            (view.cards, "show_result", "cards"), (view.reasons, "show_chord", "words"),
            (build.lines, "refresh", "lines"), (build.choices, "refresh", "choices"),
            (self.window.fitter, "fit_now", "fit"),
        ):  # fmt: skip
            if hasattr(of, method):
                self.shares.wrap(of, method, name)
        self.idle(0.5)

    def idle(self, seconds: float = 0.03) -> None:
        """The running application: a hand needs a moment between two edits."""
        until = time.perf_counter() + seconds
        while time.perf_counter() < until:
            self.app.processEvents()
            time.sleep(0.001)

    def edits(self, cells: Iterator[tuple[int, str]]) -> tuple[list[float], list[float], list[float]]:
        """From a click's intent to the painted window; CPU time of this thread, and the call alone."""
        walls, cpus, calls = [], [], []
        pattern, shown = self.window.view.pattern, self.window.shown
        for _ in range(EDITS):
            place, finger = next(cells)
            self.watch.painted.clear()
            self.watch.wanted = None
            self.idle()
            self.watch.painted.clear()
            began, cpu = time.perf_counter(), time.thread_time()
            before = shown.piece
            pattern.finger_toggled.emit(place, finger)
            assert shown.piece is not before
            self.watch.wanted = shown.piece
            for canvas in self.watch.canvases:  # painted inside the call
                if canvas in self.watch.painted and canvas.result and canvas.result.piece is not shown.piece:
                    del self.watch.painted[canvas]
            calls.append(1000 * (time.perf_counter() - began))
            while not self.watch.all_painted:  # as in the application: asleep until something comes
                self.app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
            walls.append(1000 * (max(self.watch.painted.values()) - began))
            cpus.append(1000 * (time.thread_time() - cpu))
        return walls, cpus, calls

    def moves(self) -> list[float]:
        """Arrow keys, to and fro, over chords and beyond the edge: key → both pictures painted."""
        canvas, out = self.window.view.result, []
        canvas.setFocus()
        for step in range(EDITS):
            key = Qt.Key.Key_Right if step % 60 < 50 else Qt.Key.Key_Left
            self.idle()
            self.watch.painted.clear()
            self.watch.wanted = None
            began = time.perf_counter()
            QTest.keyClick(canvas, key)
            while not self.watch.all_painted:
                self.app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
            out.append(1000 * (max(self.watch.painted.values()) - began))
        return out

    def stalls(self, cells: Iterator[tuple[int, str]]) -> tuple[float, dict[str, list[float]]]:
        """The longest time the window is away: at Play, and at each edit while playing.

        For reference the same of a bare loop without edits, of edits while nothing plays, and how long
        sums of about an edit's processor time take: where those take longer than usual, it was the host.
        """
        import gingham.app.sound.stream  # noqa: F401  # the running program has it half a second after its start

        out = {"no edit, nothing plays": [self._worst_gap(0.15, time.perf_counter()) for _ in range(40)]}
        out["sums alone"] = timed(sums, 40)
        out["at an edit, nothing plays"] = self._gaps_at_edits(cells)
        began = time.perf_counter()
        self.window.playing.play()
        play = self._worst_gap(0.5, began)
        out["at an edit while playing"] = self._gaps_at_edits(cells)
        out["sums while it plays"] = timed(sums, 40)
        self.window.playing.stop()
        return play, out

    def _gaps_at_edits(self, cells: Iterator[tuple[int, str]]) -> list[float]:
        out = []
        for _ in range(40):
            place, finger = next(cells)
            began = time.perf_counter()
            self.window.view.pattern.finger_toggled.emit(place, finger)
            out.append(self._worst_gap(0.15, began))
        return out

    def _worst_gap(self, seconds: float, last: float) -> float:
        """The longest time between two looks at the event loop."""
        until, worst = last + seconds, 0.0
        while time.perf_counter() < until:
            self.app.processEvents()
            now = time.perf_counter()
            worst, last = max(worst, now - last), now
            time.sleep(0.0005)
            last = time.perf_counter()
        return 1000 * worst

    def close(self) -> None:
        """Away with it."""
        self.window.close()
        self.app.processEvents()


def cold_fits(bars: int) -> list[float]:
    """A fit of all bars with an empty cache (chord shapes have been seen before)."""
    piece = long_piece(bars)
    return timed(lambda: fit(piece, 0, FitCache()), 20)


def timed(work: Callable[[], object], times: int) -> list[float]:
    """Milliseconds of each time."""
    out = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        out.append(1000 * (time.perf_counter() - began))
    return out


def sums() -> None:
    """Some ten milliseconds of nothing but sums."""
    sum(number * number for number in range(150_000))


def reference(app: QApplication) -> list[float]:
    """The least a Qt window needs: one label set and painted."""
    label = QLabel("0")
    label.resize(1280, 800)
    label.show()

    def once() -> None:
        label.setText(str(time.perf_counter()))
        label.repaint()
        app.processEvents()

    return timed(once, EDITS)


def measure(app: QApplication, bars: int, folder: Path) -> None:
    """All figures for so many bars."""
    print(f"{bars} bars")
    cold_fits(8)
    print(f"  cold fit                   {shown(cold_fits(bars))}")
    desk, cells = Desk(app, bars, folder), new_patterns()
    print(f"  edit → painted, new        {shown((result := desk.edits(cells))[0])}")
    print(f"    processor, this thread   {shown(result[1])}")
    print(f"    each edit: {desk.shares.line(EDITS)}")
    print(f"  edit → painted, recurring  {shown(desk.edits(recurring())[0])}")
    print(f"  cursor move → painted      {shown(desk.moves())}")
    play, stalls = desk.stalls(cells)
    print(f"  longest stall at Play      {play:6.2f} ms")
    for when, gaps in stalls.items():
        print(f"    {when:<27}{shown(gaps)}")
    desk.close()


def main() -> None:
    """Print the figures."""
    app = QApplication([])
    theme.load_fonts()
    theme.apply(theme.LINEN, app)
    print(f"reference: a plain label     {shown(reference(app))}")
    for bars in [int(word) for word in sys.argv[1:]] or [200, 5_000]:
        with tempfile.TemporaryDirectory() as folder:
            measure(app, bars, Path(folder))
    print(f"reference: a plain label     {shown(reference(app))}")


if __name__ == "__main__":
    main()
