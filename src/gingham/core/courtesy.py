"""Long work steps aside while somebody waits for a picture.

Threads of one interpreter take turns of a millisecond, so that one busy worker makes an edit take twice as
long. Whoever has a picture to make asks for the processor (`hold`) and says when it is done (`done`); long
work looks up between its steps (`give_way`). A hold ends by itself, so nothing waits for ever.
"""

from __future__ import annotations

import threading
import time

_clear = threading.Event()
_until = 0.0  # when the hold ends by itself (time.monotonic); 0 without one
_holder = 0


def hold(seconds: float) -> None:
    """Have other threads step aside at their next look until `done`, for so many seconds at most."""
    global _until, _holder
    _clear.clear()
    _until, _holder = time.monotonic() + seconds, threading.get_ident()


def done() -> None:
    """The picture stands: others go on at once."""
    global _until
    if _until:
        _until = 0.0
        _clear.set()


def give_way() -> None:
    """Wait here while another thread holds the processor."""
    if _until and threading.get_ident() != _holder:
        rest = _until - time.monotonic()
        if rest > 0:
            _clear.wait(rest)
