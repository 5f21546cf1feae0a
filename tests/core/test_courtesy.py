"""Long work steps aside while another thread has a picture to make."""

from __future__ import annotations

import threading
from collections.abc import Iterator

import pytest

from gingham.core import courtesy
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from tests.conftest import make_piece


@pytest.fixture(autouse=True)
def nothing_held() -> Iterator[None]:
    """Whatever a test holds ends with it."""
    yield
    courtesy.done()


class Passer:
    """A thread that does some work with `give_way` in it, and says when it is through."""

    def __init__(self, work) -> None:
        self.through = threading.Event()
        self._thread = threading.Thread(target=lambda: (work(), self.through.set()), daemon=True)
        self._thread.start()


def test_others_wait_until_the_picture_stands() -> None:
    courtesy.hold(600.0)
    passer = Passer(courtesy.give_way)
    assert not passer.through.wait(0.1)
    courtesy.done()
    assert passer.through.wait(60.0)


def test_a_hold_ends_by_itself() -> None:
    courtesy.hold(0.02)
    assert Passer(courtesy.give_way).through.wait(60.0)


def test_who_holds_goes_on_and_so_does_everybody_without_a_hold() -> None:
    courtesy.hold(600.0)
    courtesy.give_way()  # would stand here for ten minutes
    courtesy.done()
    assert Passer(courtesy.give_way).through.wait(60.0)


def test_a_fit_in_another_thread_steps_aside_and_comes_out_the_same() -> None:
    piece = make_piece("| G | Am7 | C | D |")
    found = []
    courtesy.hold(600.0)
    passer = Passer(lambda: found.append(fit(piece, 0, FitCache())))
    assert not passer.through.wait(0.1)
    courtesy.done()
    assert passer.through.wait(60.0)
    assert found == [fit(piece, 0, FitCache())]
