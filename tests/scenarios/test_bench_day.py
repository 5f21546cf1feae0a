"""Five patterns, each said in every way, then shown, counted, said, judged and played on the demo pieces' chords."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMessageBox

from gingham.app.look import theme
from gingham.app.shell.start import fill
from gingham.app.shell.window import MainWindow
from gingham.app.sound.devices import SilentOutput
from gingham.app.sound.transport import Transport
from gingham.core.patterns.shorthand import parse_pattern, print_pattern

FORTY, BRINE, ROUND = 0, 1, 2
"""The demo pieces in order: guitar in 4/4, guitar with a lowered sixth in 6/8, ukulele in 3/4."""

# What is to come out, which piece, and the ways to say it: (words, the way to choose or "").
PATTERNS = {
    "alternating thumb with a pinch": (
        "4/4 x2: p+m . p i p m p i",
        FORTY,
        (
            ("4/4 x2: p+m . p i p m p i", ""),
            ("4/4 x2: 6+2 . 4 3 6 2 4 3", ""),
            ("T+M - T I T M T I", ""),
            ("T+2 - T 1 T 2 T 1", ""),
            ("pinch rest thumb index thumb middle thumb index", ""),
        ),
    ),
    "a six-stroke arpeggio without meter": (
        "6/8 x3: p i m a m i",
        BRINE,
        (
            ("p i m a m i", ""),
            ("T I M R M I", ""),
            ("6 3 2 1 2 3", ""),
            ("bass 3 2 1 2 3", ""),
            ("thumb index middle ring middle index", ""),
        ),
    ),
    "seven sixteenths in two beats": (
        "4/4 x4: p i m a m i m .",
        FORTY,
        (
            ("4/4 x4: p i m a m i m .", ""),
            ("6 3 2 1 2 3 2", "One rest at the end, 8 places in 2 beats"),
            (
                "thumb index middle ring middle index middle",
                "One rest at the end, 8 places in 2 beats",
            ),
        ),
    ),
    "a two-finger ukulele cell": (
        "3/4 x2: p i p i p i",
        ROUND,
        (
            ("3/4 x2: p i p i p i", ""),
            ("T 1 T 1 T 1", ""),
            ("4 2 3 2 4 2", ""),
            ("inside inside inside", ""),
        ),
    ),
    "a thumb-chuck bar": (
        "4/4 x2: p i k . p i k .",
        FORTY,
        (
            ("4/4 x2: p i k . p i k .", ""),
            ("T I chuck - T I chuck -", ""),
            ("6 3 k . 4 3 k .", ""),
        ),
    ),
}


@pytest.fixture
def window(qtbot, settings, qapp, tmp_path: Path, monkeypatch) -> Iterator[MainWindow]:
    """The demo pieces, the bench open beside them."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    theme.load_fonts()
    theme.apply(theme.LINEN, qapp)
    made = MainWindow(settings, Transport(output=SilentOutput()))
    qtbot.addWidget(made)
    monkeypatch.setattr(made, "ask_unsaved", lambda _document: QMessageBox.StandardButton.Discard)
    fill(made, [], demo=True)
    made.show()
    made.pages.go("bench")
    yield made
    made.close()


def settled(qtbot, window) -> None:
    """The picture shows the present piece."""
    qtbot.waitUntil(
        lambda: window.shown.result is not None and window.shown.result.piece is window.shown.piece
    )


def plain(pattern: str) -> list[list[str]]:
    """The fingers of each place: what bass numbers and break points say beyond them is left aside."""
    slots = parse_pattern(pattern).slots
    return [[getattr(s, "finger", s.__class__.__name__) for s in slot] for slot in slots]


def say(window, words: str, way: str) -> None:
    """Say it in the bench and choose the way it sits."""
    enter = window.pages.bench.enter
    window.pages.bench.pages.setCurrentWidget(enter)
    enter.line.clear()
    QTest.keyClicks(enter.line, words)
    assert enter.message.text() == "", enter.message.text()
    if way:
        enter.wall.choose([tile.name for tile in enter.wall.tiles].index(way))


def tap(window, monkeypatch, pattern: str) -> None:
    """Tap it with a little lateness while the click runs."""
    enter, read = window.pages.bench.enter, parse_pattern(pattern)
    window.pages.bench.pages.setCurrentWidget(enter)
    enter.toggle_tapping()
    turns = round(read.meter.bar / read.length)
    for turn in range(turns):
        for index, token in enumerate(pattern.split(":")[1].split()):
            at = float(read.starts[index] + turn * read.length) + 0.01
            monkeypatch.setattr(window.transport, "position", lambda at=at: at)
            for key in token.replace("+", "") if token != "." else "":
                QTest.keyClicks(enter.pad, key)
    window.transport.stop()


@pytest.mark.parametrize("name", PATTERNS)
def test_each_pattern_in_every_way(qtbot, window, monkeypatch, name: str) -> None:
    """Whatever the way, the same pattern comes out; on every chord it is shown, counted, said, judged, played."""
    wanted, piece, said = PATTERNS[name]
    window.view.pieces.setCurrentIndex(piece)
    settled(qtbot, window)
    enter = window.pages.bench.enter
    for words, way in said:
        say(window, words, way)
        assert plain(print_pattern(enter.chosen.pattern)) == plain(wanted), words
        assert enter.way.pattern.per_beat == parse_pattern(wanted).per_beat
    tap(window, monkeypatch, wanted)
    tapped = plain(print_pattern(enter.way.pattern))
    assert tapped[: len(plain(wanted))] == plain(wanted) and "Fitted to" in enter.guesses.text()
    say(window, *said[0])
    with qtbot.waitSignal(window.shown.judged):
        enter.take()
    judge_on_every_chord(qtbot, window)


def judge_on_every_chord(qtbot, window) -> None:
    """Marks in the picture, a count, words, a top speed, no silent pluck, and sound."""
    build = window.build
    for index, span in enumerate(build.shown.result.spans):
        build.shown.select_span(index)
        assert build.view.bar.count.syllables and build.view.bar.say._whole
        assert span.heard and build.view.reasons.words.text().count("<p") >= 3
    assert {p.code for _, p in build.shown.result.problems()} <= {
        "no-third",
        "no-root",
        "muted-string",
        "cuts-note",
    }
    assert 20 < build.shown.limit.tempo <= 320 and build.shown.limit.spots
    window.pages.bench.pages.setCurrentWidget(window.pages.bench.say)
    settled(qtbot, window)
    window.pages.bench.refresh()
    assert all(line.text() for line in window.pages.bench.say.lines.values())
    with qtbot.waitSignal(window.transport.state_changed):
        window.playing.play()
    assert len(window.transport._line.notes) > 12
    window.playing.stop()
