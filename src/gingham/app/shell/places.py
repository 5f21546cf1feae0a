"""The one table of places: the pages of the main window beside Build, each made when it is first shown."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Protocol

import msgspec

from gingham.app.shell.frame import Frame
from gingham.folders import Folders
from gingham.language import tr
from gingham.words.actions import key_lines

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from gingham.words.teacher import MeasuredSection


class Place(Protocol):
    """What the window asks of a page."""

    @property
    def widget(self) -> QWidget:
        """What is shown."""

    def refresh(self) -> None:
        """Show the piece as it is now."""

    def arrive(self) -> None:
        """Put the keyboard where the work is."""

    def end(self) -> None:
        """End every thread."""


class PlaceSpec(msgspec.Struct, frozen=True):
    """A place: `id` names it and its action, `title` its tab.

    One that is not `standing` has a tab only while it is shown, and no action of its own.
    """

    id: str
    title: str
    make: Callable[[Frame], Place]
    standing: bool = True


def _bench(window: Frame) -> Place:
    from gingham.app.views.bench.page import BenchView

    bench = BenchView(window.appearance, window.shown, window.transport, window.settings)
    bench.naming_chosen.connect(window.appearance.set_naming)
    return bench


def _form(window: Frame) -> Place:
    from gingham.app.views.form.page import FormView

    form = FormView(window.appearance, window.shown, window.playing, window.build.mapping.mapper)
    form.own_bar_wanted.connect(window.build.pattern_edits.own_bar)
    return form


def _practise(window: Frame) -> Place:
    from gingham.app.views.practice.controller import PracticeController
    from gingham.app.views.practice.view import PracticeView

    view = PracticeView(window.appearance, window)
    practise = PracticeController(
        view,
        window.shown,
        window.playing,
        window.plans,
        window.logbook,
        window.care,
        window.settings,
        window,
    )
    practise.notice.connect(window.notify)
    return practise


def _takes(window: Frame) -> Place:
    from gingham.app.views.takes.controller import TakesController
    from gingham.app.views.takes.view import TakesView

    view, folder = TakesView(window.appearance, window), Folders.of_this_user().data / "takes"
    takes = TakesController(
        view, window.shown, window.playing, window.settings, folder, window.plans, window.logbook, window
    )
    takes.notice.connect(window.notify)
    return takes


def _log(window: Frame) -> Place:
    from gingham.app.views.log.controller import LogController
    from gingham.app.views.log.view import LogView

    log = LogController(
        LogView(window.appearance, window), window.shown, window.plans, window.logbook, window
    )
    log.notice.connect(window.notify)
    log.session_wanted.connect(window.session_wanted)
    log.report_wanted.connect(window.report_wanted)
    return log


def _sheet(window: Frame) -> Place:
    from gingham.app.views.sheet.controller import SheetController
    from gingham.app.views.sheet.view import SheetView

    sheet = SheetController(SheetView(window.appearance, window), window.shown, window.settings, window)
    sheet.save_wanted.connect(lambda _options: window.actions_by_id["save-sheet"].trigger())
    sheet.practised = partial(_practised, window)
    sheet.notice.connect(window.notify)
    return sheet


def _practised(window: Frame) -> tuple[MeasuredSection, ...]:
    """What the record shows of the shown piece."""
    from gingham.words.teacher import measured

    document = window.shown.document
    if document is None or not window.plans.refresh() or window.plans.planned is None:
        return ()
    attempts = window.logbook.attempts(document.identity)
    return measured(window.plans.planned, attempts, window.logbook.clock().date())


def _reading(window: Frame) -> Place:
    from gingham.app.views.reading.page import ReadingView

    reading = ReadingView(window.appearance, window.shown, window.open_piece)
    reading.left.connect(window.actions_by_id["build"].trigger)
    return reading


def _way(window: Frame) -> Place:
    from gingham.app.views.way.page import WayView

    way = WayView(window.appearance, window.shown, window.ways)
    way.left.connect(window.actions_by_id["build"].trigger)
    return way


def _help(window: Frame) -> Place:
    from gingham.app.views.help.page import HelpView

    keys = [(action.shortcut().toString(), action.text()) for action in window.actions_by_id.values()]
    table = key_lines([(key, text) for key, text in keys if key])
    found = HelpView(window.appearance, table, window.care.so_far)
    found.left.connect(window.actions_by_id["build"].trigger)
    return found


PLACES = (
    PlaceSpec("bench", tr("Patterns"), _bench),
    PlaceSpec("form", tr("Form"), _form),
    PlaceSpec("practise", tr("Practise"), _practise),
    PlaceSpec("takes", tr("Takes"), _takes),
    PlaceSpec("sheet", tr("Sheet"), _sheet),
    PlaceSpec("record", tr("Log"), _log),
    PlaceSpec("way", tr("My way"), _way, standing=False),
    PlaceSpec("reading", tr("Read"), _reading, standing=False),
    PlaceSpec("help", tr("Help"), _help, standing=False),
)
