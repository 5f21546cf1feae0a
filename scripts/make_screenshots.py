"""Makes the pictures of docs/screenshots/ from the demo pieces."""

from __future__ import annotations

import argparse
import os
import sys
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from PySide6.QtCore import QEventLoop, QTimer
from PySide6.QtWidgets import QApplication

from gingham.app.look import theme
from gingham.app.look.settings import Settings
from gingham.app.shell.start import fill
from gingham.app.shell.window import MainWindow
from gingham.app.sound.devices import SilentOutput
from gingham.app.sound.inputs import SIMULATED
from gingham.app.sound.transport import Transport
from gingham.app.views.way.page import WayView
from gingham.core.pieces.edits import add_override
from gingham.core.pieces.piece import ChordOverride
from gingham.core.practice.entries import Note
from gingham.core.practice.plan import plan_piece
from gingham.core.values import replace
from gingham.paper.exports import export

ROOT = Path(__file__).parents[1]


@dataclass(frozen=True, slots=True)
class Shot:
    """One picture: its name, which demo piece, what is done first, how large, which cloth."""

    name: str
    piece: int
    act: Callable[[MainWindow], None]
    size: tuple[int, int] = (1280, 800)
    night: bool = False


def select(span: int) -> Callable[[MainWindow], None]:
    """Put the cursor on a chord and the focus into the result."""

    def run(window: MainWindow) -> None:
        window.shown.select_span(span)
        window.view.result.setFocus()

    return run


def way(window: MainWindow) -> None:
    """My way of playing, with a piece that does otherwise, and why on one chord."""
    shown = window.shown
    rules = replace(shown.piece.rules, hold="guides", accents="march")
    first = shown.assignment()
    assert first is not None
    own = ChordOverride(first.chord.text, first.shape, "m", 1, "the tune is there")
    shown.edit("Rules", add_override(replace(shown.piece, rules=rules), own))
    window.actions_by_id["way"].trigger()
    page = window.pages.made["way"]
    assert isinstance(page, WayView)
    page.own.list.setCurrentRow(page.own.list.count() - 1)


def overview(window: MainWindow) -> None:
    """The change into the second chord, in the drawer."""
    window.shown.select_span(1)
    window.drawers.open("change")
    settle(window)


def moves(window: MainWindow) -> None:
    """Capo positions in the drawer, their comparison done."""
    window.drawers.open("capo")
    settle(window)
    assert window.drawers.capo is not None
    while not window.drawers.capo.places.places:
        settle(window, 50)
    settle(window)


def inspect(window: MainWindow) -> None:
    """Shapes in the drawer."""
    window.shown.select_span(1)
    window.drawers.open("shapes")
    settle(window)


def bench(page: str, act: Callable[[MainWindow], None] | None = None) -> Callable[[MainWindow], None]:
    """A page of the bench, its work done."""

    def run(window: MainWindow) -> None:
        window.shown.select_span(1)
        settle(window, 500)
        window.pages.show_patterns()
        shown = window.pages.bench
        assert shown is not None
        shown.pages.setCurrentWidget(getattr(shown, page))
        settle(window, 900)
        if act is not None:
            act(window)

    return run


def say_six(window: MainWindow) -> None:
    """A six-stroke arpeggio in finger words."""
    assert window.pages.bench is not None
    window.pages.bench.enter.line.setText("thumb index middle ring middle index")
    window.pages.bench.enter.read()


def another_pattern(window: MainWindow) -> None:
    """A pattern that differs from the piece's, once all have been tried."""
    assert window.pages.bench is not None
    library = window.pages.bench.library
    library.wall.choose(9)
    for _ in range(60):
        if not library.progress.isVisible():
            return
        settle(window, 500)


def practised(window: MainWindow) -> None:
    """Two weeks in the record: a simulated player with one weak change."""
    sys.path.insert(0, str(Path(__file__).parents[1]))
    from benchmarks.pupil import Pupil, Week

    document, now = window.document, datetime(2026, 11, 29, 18).astimezone()
    window.logbook.clock = lambda: now
    pupil = Pupil(74, {("C", "G/B"): 0.72, ("Em7", "C"): 0.85}, 4)
    week = Week(pupil, plan_piece(document.piece), document.identity, now - timedelta(days=14))
    for day in range(14):
        if day in (3, 4, 9):
            week.now += timedelta(days=1)
        else:
            week.day((20, 15, 25)[day % 3])
    note = Note("2026-11-27T18:20:00+01:00", "hand", "ring finger tired, stopped early")
    window.logbook.add(*week.attempts, *week.ticks, note)
    for session in week.sessions:
        window.logbook.put_session(replace(session, id=0))
    settle(window, 600)


def practise(stage: str, after_ms: int) -> Callable[[MainWindow], None]:
    """A stage being played for some time."""

    def run(window: MainWindow) -> None:
        practised(window)
        window.actions_by_id["practise"].trigger()
        settle(window, 300)
        made = window.pages.practise
        assert made is not None
        made.choose_stage(stage)
        window.transport.set_count_in("")
        made.play_or_stop()
        settle(window, after_ms)
        window.statusBar().clearMessage()

    return run


def session(window: MainWindow) -> None:
    """A session on, at a change that sticks: its steps are offered."""
    practise("Verse · change-C-G/B", 200)(window)
    made = window.pages.practise
    assert made is not None
    window.transport.stop()
    made.leader.begin(20)
    while made.stage is None or made.stage.reason.code != "stage-change":
        made.leader.go_on()
        settle(window, 60)
    settle(window, 1600)
    for _ in range(2):
        made.rounds.mark("K")
    settle(window, 400)
    window.statusBar().clearMessage()


def log(window: MainWindow) -> None:
    """What was practised."""
    practised(window)
    window.actions_by_id["record"].trigger()
    settle(window, 900)


def takes(window: MainWindow) -> None:
    """A take of the simulated player, at the pluck that went to another string."""
    window.actions_by_id["takes"].trigger()
    page = window.pages.takes
    assert page is not None
    page.taking.sleep = lambda _seconds: None
    page.view.source.setCurrentIndex(page.view.source.findData(SIMULATED))
    page.taking.record_or_stop()
    while page.taken is None:
        settle(window, 100)
    window.playing.stop()
    faulty = next(i for i, mark in enumerate(page.view.heard.shown) if mark.state == "wrong")
    page.view.heard.choose(faulty)
    page.view.sentences.setCurrentRow(4)
    settle(window, 300)
    window.statusBar().clearMessage()


def conflicts(window: MainWindow) -> None:
    """Everything that is in the way, in one list."""
    window.build.mapping.show_conflicts()
    settle(window, 600)


def sheet(window: MainWindow) -> None:
    """The first page, as large as the window is wide."""
    window.actions_by_id["sheet"].trigger()
    settle(window, 900)


def form(page: int) -> Callable[[MainWindow], None]:
    """A part of the form."""

    def run(window: MainWindow) -> None:
        window.pages.go("form")
        assert window.pages.form is not None
        window.pages.form.tabs.setCurrentIndex(page)
        settle(window, 400)

    return run


def read_part(window: MainWindow) -> None:
    """A MusicXML file of the piece on its way back."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "forty-lanterns.musicxml"
        export(window.document.piece, path)
        window.files.open_file(path)
        for _ in range(200):  # a busy machine reads slowly
            settle(window)
            reading = window.pages.reading
            if reading is not None and reading.part.read is not None:
                break
        settle(window, 400)


SHOTS = (
    Shot("build-forty-lanterns", 0, select(3)),
    Shot("build-shapes", 0, inspect),
    Shot("build-change", 0, overview),
    Shot("build-capo", 0, moves),
    Shot("build-conflicts", 1, conflicts),
    Shot("build-brine-and-barley", 1, select(2)),
    Shot("build-netmenders-round", 2, select(1)),
    Shot("my-way", 0, way),
    Shot("patterns", 0, bench("library", another_pattern)),
    Shot("patterns-say-it-in", 0, bench("enter", say_six)),
    Shot("patterns-vary", 0, bench("vary")),
    Shot("form", 0, form(0)),
    Shot("words-and-tune", 0, form(1)),
    Shot("practise", 0, practise("Verse · change-C-G/B", 2900)),
    Shot("practise-night", 0, session, night=True),
    Shot("log", 0, log),
    Shot("takes", 0, takes),
    Shot("sheet", 0, sheet),
    Shot("read-a-part", 0, read_part),
)


def settle(window: MainWindow, ms: int = 150) -> None:
    """Let the worker fit and the window paint."""
    loop = QEventLoop()
    QTimer.singleShot(ms, loop.quit)
    loop.exec()


def judged(window: MainWindow) -> None:
    """Wait for verdict and map: a busy machine judges late; an empty piece has nothing to judge."""
    for _ in range(20):
        settle(window)
        if window.shown.verdict is not None and window.build.mapping.mapper.map is not None:
            return


def take(shot: Shot, folder: Path, app: QApplication) -> Path:
    """Open the demo, act, and save the window's picture."""
    with tempfile.TemporaryDirectory() as settings_folder:
        settings = Settings(Path(settings_folder) / "settings.ini")
        if shot.night:
            settings.set_text("theme", "night")
        theme.apply(theme.NIGHT if shot.night else theme.LINEN, app)
        window = MainWindow(settings, Transport(output=SilentOutput()))
        fill(window, [], demo=True)
        window.resize(*shot.size)
        window.show()
        window.view.pieces.setCurrentIndex(shot.piece)
        judged(window)
        shot.act(window)
        judged(window)
        path = folder / f"{shot.name}.png"
        window.grab().save(str(path))
        window.transport.stop()
        for document in window.documents:
            document.stack.setClean()
        window.close()
    return path


def main() -> None:
    """All pictures, or those whose name holds the given text."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--only", default="", metavar="TEXT", help="pictures whose name holds TEXT")
    parser.add_argument("--into", type=Path, default=ROOT / "docs" / "screenshots", metavar="FOLDER")
    options = parser.parse_args()
    options.into.mkdir(parents=True, exist_ok=True)
    for kind in ("CONFIG", "DATA", "STATE", "CACHE"):  # no patterns or ways of whoever runs this
        os.environ[f"XDG_{kind}_HOME"] = tempfile.mkdtemp()
    app = QApplication([])
    theme.load_fonts()
    for shot in SHOTS:
        if options.only in shot.name:
            print(take(shot, options.into, app))


if __name__ == "__main__":
    main()
