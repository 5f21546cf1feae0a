"""Work off the interface thread with one waiting place: the newest request wins, older ones are dropped."""

from __future__ import annotations

import threading
from collections.abc import Callable
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


class OneJob:
    """One job at a time in a thread of its own, that can be asked to stop."""

    def __init__(self, name: str) -> None:
        self._name = name
        self._stop = threading.Event()
        self._thread: threading.Thread | None = None

    @property
    def busy(self) -> bool:
        """Whether a job runs."""
        return self._thread is not None and self._thread.is_alive()

    @property
    def stopped(self) -> bool:
        """Whether the job has been asked to stop."""
        return self._stop.is_set()

    def start(self, do: Callable[[], None]) -> None:
        """Begin; a job that runs is stopped first."""
        self.close()
        self._stop.clear()
        self._thread = threading.Thread(target=do, name=self._name, daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """Ask the job to stop as soon as it looks up."""
        self._stop.set()

    def close(self) -> None:
        """Stop and wait until it has ended."""
        self.stop()
        if self._thread is not None:
            self._thread.join()
            self._thread = None
