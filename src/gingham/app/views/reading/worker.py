"""Reading a part off the interface thread, with progress and a way to stop."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from gingham.app.worker import OneJob
from gingham.core.errors import GinghamError
from gingham.core.formats.chart import Chart
from gingham.core.music.meter import Meter


class PartReader(QObject):
    """One reading at a time."""

    progressed = Signal(float)
    found = Signal(object)
    """What was found (finding.find.Found)."""
    chart = Signal(object, str)
    """A text without tablature: the chart that it is (formats.chart.Chart), and its text."""
    failed = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._job = OneJob("reader")

    def start(self, path: Path, of: Meter) -> None:
        """Read a file; one that is being read is given up."""
        self._job.start(partial(self._work, path, of))

    def stop(self) -> None:
        """Give up as soon as may be."""
        self._job.stop()

    def close(self) -> None:
        """Stop and wait."""
        self._job.close()

    def _work(self, path: Path, of: Meter) -> None:
        from gingham.core.finding.find import find
        from gingham.core.formats.imports import read_bytes, read_part_or_chart, text_of

        try:
            read = read_part_or_chart(path, of)
            if isinstance(read, Chart):
                self.chart.emit(read, text_of(read_bytes(path), str(path)))
                return
            self.found.emit(find(read, self._tick))
        except GinghamError as error:
            self.failed.emit(error)

    def _tick(self, share: float) -> bool:
        self.progressed.emit(share)
        return not self._job.stopped
