"""The windows beside the main one: made when they are first asked for."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QDialog

from gingham.app.shell.frame import Frame

if TYPE_CHECKING:
    from gingham.app.views.bench.window import BenchWindow
    from gingham.app.views.form.window import FormWindow
    from gingham.app.views.inspector.window import InspectorWindow
    from gingham.app.views.moves.window import MovesWindow
    from gingham.app.views.overview.window import OverviewWindow
    from gingham.app.views.reading.window import ReadingWindow
    from gingham.app.views.tuning.window import TuningWindow


class Beside:
    """Holds what has been opened. Each is imported only then: the main window starts without them."""

    def __init__(self, window: Frame) -> None:
        self._window = window
        self.moves: MovesWindow | None = None
        self.overview: OverviewWindow | None = None
        self.inspector: InspectorWindow | None = None
        self.bench: BenchWindow | None = None
        self.tuning: TuningWindow | None = None
        self.form: FormWindow | None = None
        self.reading: ReadingWindow | None = None

    def show_moves(self) -> None:
        """Open the window on capo, key and tuning."""
        from gingham.app.views.moves.window import MovesWindow

        if self.moves is None:
            self.moves = MovesWindow(self._window.shown, self._window)
        _raise(self.moves)

    def show_overview(self) -> None:
        """Open the window on the bass line and the changes."""
        from gingham.app.views.overview.window import OverviewWindow

        if self.overview is None:
            self.overview = OverviewWindow(self._window.appearance, self._window.shown, self._window)
        _raise(self.overview)

    def show_inspector(self) -> None:
        """Open the window that looks at one chord."""
        from gingham.app.views.inspector.window import InspectorWindow

        window = self._window
        if self.inspector is None:
            self.inspector = InspectorWindow(window.appearance, window.shown, window.transport, window)
        _raise(self.inspector)

    def show_tuning(self) -> None:
        """Open the window with each string's tone."""
        from gingham.app.views.tuning.window import TuningWindow

        if self.tuning is None:
            self.tuning = TuningWindow(self._window.shown, self._window.transport, self._window)
        _raise(self.tuning)

    def show_form(self) -> None:
        """Open the window on sections, order, words and tune."""
        from gingham.app.views.form.window import FormWindow

        if self.form is None:
            self.form = FormWindow(self._window.shown, self._window.playing, self._window)
            self.form.own_bar_wanted.connect(self._window.build.pattern_edits.own_bar)
        _raise(self.form)

    def show_chart(self) -> None:
        """Open the window in which a chart is pasted."""
        _raise(self._reading_window())
        self._reading_window().show_chart()

    def read_file(self, path: Path) -> None:
        """Open the window that reads a part or a chart from a file."""
        _raise(self._reading_window())
        self._reading_window().read_file(path)

    def _reading_window(self) -> ReadingWindow:
        from gingham.app.views.reading.window import ReadingWindow

        if self.reading is None:
            self.reading = ReadingWindow(self._window.shown, self._window.open_piece, self._window)
        return self.reading

    def show_bench(self) -> None:
        """Open the pattern bench; an order without beats that stands in the pattern line goes with it."""
        from gingham.app.views.bench.window import BenchWindow

        window = self._window
        if self.bench is None:
            self.bench = BenchWindow(
                window.appearance, window.shown, window.transport, window.settings, window
            )
            self.bench.naming_chosen.connect(window.appearance.set_naming)
        words = window.view.bar.words
        if words.fault is not None and ":" not in words.text():
            self.bench.say_in(words.text())
        _raise(self.bench)

    def end(self) -> None:
        """End every thread that one of them has."""
        if self.bench is not None:
            self.bench.end()
        if self.moves is not None:
            self.moves.job.close()
        if self.reading is not None:
            self.reading.reader.close()
            self.reading.charts.close()
        if self.form is not None:
            self.form.end()
        if self.overview is not None:
            self.overview.helper.close()


def _raise(window: QDialog) -> None:
    window.show()
    window.raise_()
