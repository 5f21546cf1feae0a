"""The record and the plans: 10,000 attempts opened, shown, written; ten days of a player with hidden faults.

Run: `.venv/bin/python -m benchmarks.practising [ATTEMPTS]`. References in the same run: as many lines of
JSON read, a line appended and synced to a plain file, the switch to a page that shows nothing of the record.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path
from statistics import median

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import msgspec
from benchmarks.pupil import Pupil, Week
from PySide6.QtWidgets import QApplication

from gingham.app.look import theme
from gingham.app.look.settings import Settings
from gingham.app.shell.start import demo_documents
from gingham.app.shell.window import MainWindow
from gingham.app.sound.devices import SilentOutput
from gingham.app.sound.transport import Transport
from gingham.core.practice.attempt import Attempt
from gingham.core.practice.log import Log
from gingham.core.practice.plan import plan_piece
from gingham.core.practice.session import change_name, plan_session, weakest
from gingham.core.values import replace

_BEGIN = datetime(2026, 3, 1, 18).astimezone()
_PLAYERS = (
    ("one weak change", {("C", "G/B"): 0.72}),
    ("two weak changes", {("C", "G/B"): 0.75, ("Em7", "C"): 0.8}),
    ("weak in the refrain", {("C", "D/F#"): 0.7}),
    ("no weak change", {}),
)


def timed(do: Callable[[], object], times: int = 1) -> float:
    """Milliseconds, the median of some runs."""
    took = []
    for _ in range(times):
        began = time.perf_counter()
        do()
        took.append(1000 * (time.perf_counter() - began))
    return median(took)


def until(ready: Callable[[], bool]) -> None:
    """Let the window work until something is so."""
    while not ready():
        QApplication.processEvents()


def many(count: int, like: list[Attempt]) -> list[Attempt]:
    """So many attempts, over years, by repeating those of a few weeks."""
    out = []
    for index in range(count):
        made = _BEGIN - timedelta(hours=count - index)
        out.append(replace(like[index % len(like)], made=made.isoformat(timespec="seconds")))
    return out


def record(folder: Path, attempts: list[Attempt]) -> None:
    """Opening, reading and writing the file, beside plain lines."""
    path, lines = folder / "gingham" / "practice.sqlite", folder / "lines.jsonl"
    log = Log(path)
    print(f"  all written at once        {timed(lambda: log.add(attempts)):8.1f} ms")
    log.close()
    lines.write_bytes(b"".join(msgspec.json.encode(attempt) + b"\n" for attempt in attempts))
    print(f"  opened and checked         {timed(lambda: Log(path).close(), 5):8.1f} ms")
    log = Log(path)
    print(f"  read                       {timed(log.read, 5):8.1f} ms")
    decoder = msgspec.json.Decoder(Attempt)
    plain = timed(lambda: [decoder.decode(line) for line in lines.read_bytes().splitlines()], 5)
    print(f"    reference: JSON lines    {plain:8.1f} ms")
    print(f"  one attempt, synced        {timed(lambda: log.add(attempts[:1]), 40):8.1f} ms")

    def append() -> None:
        with lines.open("ab") as file:
            file.write(msgspec.json.encode(attempts[0]) + b"\n")
            file.flush()
            os.fsync(file.fileno())

    print(f"    reference: a line synced {timed(append, 40):8.1f} ms")
    log.close()
    print(f"  the file                   {path.stat().st_size / 1e6:8.1f} MB")


def pages(window: MainWindow, app: QApplication) -> None:
    """How long the pages that stand on the record take to be painted."""

    def go(place: str) -> Callable[[], None]:
        def run() -> None:
            window.pages.go(place)
            app.processEvents()

        return run

    go("form")()
    plain = []
    for _ in range(5):
        go("takes")()
        plain.append(timed(go("form")))
    window.logbook.load()
    began = time.perf_counter()
    until(lambda: window.logbook.ready)
    print(f"  read behind the window     {1000 * (time.perf_counter() - began):8.1f} ms")
    for place in ("practise", "record"):
        first = timed(go(place))
        again = []
        for _ in range(5):
            go("form")()
            again.append(timed(go(place)))
        print(f"  {place:<10} first, again    {first:8.1f} {median(again):8.1f} ms")
    print(f"    reference: Form again    {median(plain):8.1f} ms")
    document = window.document
    attempt = window.logbook.attempts(document.identity)[-1]
    window.pages.go("practise")
    app.processEvents()
    marked = timed(lambda: (window.logbook.add(attempt), app.processEvents()), 10)
    print(f"  a mark on Practise         {marked:8.1f} ms")


def players() -> None:
    """Ten days of twenty minutes: on which day each hidden fault is the first of the plan's changes."""
    document = demo_documents()[0]
    planned = plan_piece(document.piece)
    made = timed(lambda: plan_session(20, planned, [], _BEGIN.date()), 9)
    print(f"  a plan of 20 minutes       {made:8.1f} ms")
    for name, weak in _PLAYERS:
        found: dict[tuple[str, str], list[int]] = {pair: [] for pair in weak}
        others = []
        for seed in range(1, 11):
            week = Week(Pupil(76, weak, seed), planned, "x", _BEGIN)
            seen: dict[tuple[str, str], int] = {}
            for day in range(1, 11):
                week.day(20)
                drilled = {change_name(stage) for item in week.plans[-1] if item.kind == "change"
                           and (stage := planned.stage(item.stage)) is not None}  # fmt: skip
                for pair in weak:
                    if " > ".join(pair) in drilled:
                        seen.setdefault(pair, day)
            for pair in weak:
                found[pair].append(seen.get(pair, 99))
            others.append(change_name(weakest(planned, week.attempts)[0].stage))
        said = "; ".join(
            f"{one} to {other} on day {median(days):.0f} (of ten players {min(days)}–{max(days)})"
            for (one, other), days in found.items()
        )
        print(f"  {name:<22} {said or 'weakest at the end: ' + ', '.join(sorted(set(others)))}")


def main(count: int) -> None:
    """Everything, in a folder of its own."""
    app = QApplication([])
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        os.environ["XDG_DATA_HOME"] = str(folder)
        documents = demo_documents()
        planned = plan_piece(documents[0].piece)
        week = Week(Pupil(74, dict(_PLAYERS[1][1]), 4), planned, documents[0].identity, _BEGIN)
        for _ in range(14):
            week.day(20)
        print(f"The record with {count} attempts")
        record(folder, many(count, week.attempts))
        theme.load_fonts()
        window = MainWindow(Settings(folder / "settings.ini"), Transport(output=SilentOutput()))
        window.add(documents[0])
        window.resize(1280, 800)
        window.show()
        until(lambda: window.shown.result is not None)
        print("Pages")
        pages(window, app)
        window.document.stack.setClean()
        window.close()
    print("Plans")
    players()


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 10_000)
