"""The one table of places: the pages of the main window beside Build, each made when it is first shown."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Protocol

import msgspec

from gingham.app.shell.frame import Frame

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget


class Place(Protocol):
    """What the window asks of a page."""

    @property
    def widget(self) -> QWidget:
        """What is shown."""

    def refresh(self) -> None:
        """Show the piece as it is now."""

    def enter(self) -> None:
        """Put the keyboard where the work is."""

    def close(self) -> None:
        """End every thread."""


class PlaceSpec(msgspec.Struct, frozen=True):
    """A place: `id` names it and its action, `title` its tab; `key`, `text` and `tip` are the action's."""

    id: str
    title: str
    key: str
    text: str
    tip: str
    make: Callable[[Frame], Place]


def _practise(window: Frame) -> Place:
    from gingham.app.views.practice.controller import PracticeController
    from gingham.app.views.practice.view import PracticeView

    view = PracticeView(window.appearance, window)
    return PracticeController(view, window.shown, window.playing, window.settings, window)


def _sheet(window: Frame) -> Place:
    from gingham.app.views.sheet.controller import SheetController
    from gingham.app.views.sheet.view import SheetView

    sheet = SheetController(SheetView(window.appearance, window), window.shown, window.settings, window)
    sheet.save_wanted.connect(lambda _options: window.actions_by_id["save-sheet"].trigger())
    sheet.notice.connect(window.notify)
    return sheet


PLACES = (
    PlaceSpec(
        "practise", "Practise", "F10", "Build or Practise", "Stages, and a picture to follow", _practise
    ),
    PlaceSpec("sheet", "Sheet", "F11", "Sheet or Build", "The pages as they are printed", _sheet),
)
