"""Work off the interface thread: a place in which the newest request wins, and jobs that can be stopped.

Whatever is begun comes to an end that is told. A fault of our own in a thread goes to `threading.excepthook`,
which the window has made the way to its one hook; the thread itself goes on.
"""

from __future__ import annotations

import sys
import threading
from collections.abc import Callable
from functools import partial
from typing import Generic, TypeVar

from PySide6.QtCore import QObject, Signal

from gingham.core.errors import GinghamError

T = TypeVar("T")
_STEP = 0.005
_SWITCH_S = (
    0.001  # how long a worker may keep the interface waiting; Python's own five are a third of a frame
)
Tick = Callable[[float], bool]
"""Told the share that is done, 0 to 1; False says that the work is to stop."""


def report_fault() -> None:
    """Hand the exception that is being handled to the hook for threads, as if it had ended this one."""
    kind, error, trace = sys.exc_info()
    if kind is not None:
        threading.excepthook(threading.ExceptHookArgs((kind, error, trace, threading.current_thread())))


class NewestWorker(QObject, Generic[T]):
    """A thread of its own. Subclasses say what is done in `work_on`, and emit signals from there."""

    def __init__(self, name: str, parent: QObject | None = None) -> None:
        super().__init__(parent)
        if sys.getswitchinterval() > _SWITCH_S:
            sys.setswitchinterval(_SWITCH_S)
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
            try:
                self.work_on(item)
            except Exception:  # noqa: BLE001  # the next request must find the thread alive
                report_fault()


class Job(QObject):
    """One piece of work at a time in a thread of its own: each ends as done, failed or stopped, and says so.

    Signals come in the interface thread, and only those of the job that was started last.
    """

    progressed = Signal(float)
    done = Signal(object)
    """What the work returned."""
    failed = Signal(object)
    """The GinghamError that ended it; `bug` for a fault of our own, which the hook has been told."""
    stopped = Signal()
    _told = Signal(int, str, object)

    def __init__(self, name: str, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._name = name
        self._number = 0
        self._stop = threading.Event()
        self._threads: list[threading.Thread] = []
        self._told.connect(self._tell)

    @property
    def busy(self) -> bool:
        """Whether a job runs that is still wanted."""
        return bool(self._threads) and self._threads[-1].is_alive() and not self._stop.is_set()

    def start(self, do: Callable[[Tick], object]) -> None:
        """Begin `do(tick)`; a job that runs is given up, and nothing is heard of it any more."""
        self._stop.set()
        self._stop = threading.Event()
        self._number += 1
        work = partial(self._work, do, self._number, self._stop)
        self._threads = [thread for thread in self._threads if thread.is_alive()]
        self._threads.append(threading.Thread(target=work, name=self._name, daemon=True))
        self._threads[-1].start()

    def stop(self) -> None:
        """Ask the job to stop as soon as it looks up."""
        self._stop.set()

    def forget(self) -> None:
        """Stop, and say nothing more of it."""
        self.stop()
        self._number += 1

    def close(self) -> None:
        """Stop, wait until every thread has ended, and say nothing more."""
        self.forget()
        for thread in self._threads:
            thread.join()
        self._threads.clear()

    def _work(self, do: Callable[[Tick], object], number: int, stop: threading.Event) -> None:
        told = -1.0

        def tick(share: float) -> bool:
            nonlocal told
            if abs(share - told) >= _STEP:  # a busy loop must not flood the interface thread
                told = share
                self._told.emit(number, "progressed", share)
            return not stop.is_set()

        try:
            value = do(tick)
        except GinghamError as error:
            self._told.emit(number, "stopped" if stop.is_set() else "failed", error)
        except Exception:  # noqa: BLE001  # whoever waits for the end must hear of it
            report_fault()
            self._told.emit(number, "failed", GinghamError("bug"))
        else:
            self._told.emit(number, "stopped" if stop.is_set() else "done", value)

    def _tell(self, number: int, what: str, value: object) -> None:
        if number != self._number:
            return
        if what == "progressed":
            if not self._stop.is_set():
                self.progressed.emit(value)
        elif what == "stopped":
            self.stopped.emit()
        else:
            (self.done if what == "done" else self.failed).emit(value)
