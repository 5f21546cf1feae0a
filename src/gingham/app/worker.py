"""Work off the interface thread with one waiting place: the newest request wins, older ones are dropped."""

from __future__ import annotations

import threading
from typing import Generic, TypeVar

from PySide6.QtCore import QObject

T = TypeVar("T")


class NewestWorker(QObject, Generic[T]):
    """A thread of its own. Subclasses say what is done in `work_on`, and emit signals from there."""

    def __init__(self, name: str, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._wake = threading.Condition()
        self._waiting: T | None = None
        self.running = True
        self._thread = threading.Thread(target=self._work, name=name, daemon=True)
        self._thread.start()

    def request(self, item: T) -> None:
        """Have this done as soon as the worker is free; what waits now is dropped."""
        with self._wake:
            self._waiting = item
            self._wake.notify()

    @property
    def outdated(self) -> bool:
        """Whether what is being done is no longer wanted: something newer waits, or all is to end."""
        return self._waiting is not None or not self.running

    def pause(self, seconds: float) -> None:
        """Leave the processor to others, until something newer comes at the latest."""
        with self._wake:
            if not self.outdated:
                self._wake.wait(seconds)

    def close(self) -> None:
        """End the thread and wait for it."""
        with self._wake:
            self.running = False
            self._wake.notify()
        self._thread.join()

    def work_on(self, item: T) -> None:
        """Do the work, in the worker's thread."""
        raise NotImplementedError

    def _work(self) -> None:
        while True:
            with self._wake:
                while self._waiting is None and self.running:
                    self._wake.wait()
                if not self.running:
                    return
                item, self._waiting = self._waiting, None
            assert item is not None
            self.work_on(item)
