"""Takes by keys, the loop test, a click to play to, the hand learned, tension, two takes side by side."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from gingham.app.shell.window import MainWindow
from gingham.app.sound.inputs import SIMULATED
from gingham.app.views.takes.controller import TakesController
from gingham.app.views.takes.delaying import Anchor, delay_s
from gingham.app.views.takes.tapping import TAPPED
from gingham.core.listening.learned import Gaps
from gingham.core.listening.shelf import Shelf
from gingham.core.pieces.piece import Piece
from gingham.core.values import replace
from tests.app.test_takes import rows, take_one, takes  # noqa: F401  # the fixture
from tests.conftest import make_piece


@pytest.fixture
def piece() -> Piece:
    """Four bars, quick."""
    return make_piece("| G | Am7 | C | D |", "4/4 x2: p+m . p i ; p m p i", tempo=120)


def choose_source(page: TakesController, name: str) -> None:
    page.view.source.setCurrentIndex(page.view.source.findData(name))


def tap_through(page: TakesController, fingers: str, late: float = 0.0) -> None:
    """Keys in time: eighths at 120 after the bar of count-in, the index a little late."""
    now = [0.0]
    page.taking.tapping.clock = lambda: now[0]
    QTest.keyClick(page.view, Qt.Key.Key_R)
    strip = page.view.strip
    assert strip.isVisible() and strip.hasFocus()
    for place, finger in enumerate(fingers):
        now[0] = 2.0 + 0.25 * place + (late if finger == "i" else 0.0)
        if finger != ".":
            QTest.keyClick(strip, finger if finger != " " else Qt.Key.Key_Space)
    now[0] += 0.5


def test_keys_tapped_give_the_same_report(qtbot, window: MainWindow, takes: TakesController) -> None:  # noqa: F811
    """P . P I P M P I: a take with its timing, its sound a click for each key, no loudness."""
    choose_source(takes, TAPPED)
    tap_through(takes, "p.pipmpi" * 4, late=0.05)
    QTest.keyClick(takes.view.strip, Qt.Key.Key_R)
    qtbot.waitUntil(lambda: takes.taken is not None)
    facts = takes.kept[0].facts
    assert facts.source == "tapped" and len(facts.taps) == 28 and not takes.view.strip.isVisible()
    late = {finger.finger: finger.late_ms for finger in takes.taken.analysis.report.fingers}
    assert late["i"] - late["p"] == pytest.approx(50, abs=8)
    assert any("index" in text and "later" in text for text in rows(takes))
    assert takes.view.loud.facts()[0] == "thumb on the beat" and "dB" not in "".join(takes.view.loud.facts())
    assert takes.view.places.facts() and "late" in takes.view.loud.facts()[1]
    assert takes.taken.sound.seconds > 8
    again = Shelf(takes.shelf.folder).all()[0]
    assert again.facts == facts, "taps are on disk"


def test_too_few_keys_are_no_take(takes: TakesController) -> None:  # noqa: F811
    choose_source(takes, TAPPED)
    tap_through(takes, "p.p")
    QTest.keyClick(takes.view.strip, Qt.Key.Key_Escape)
    assert "Fewer than four keys" in takes.view.status.text() and takes.kept == []
    takes.view.delay.click()
    assert "Keys have no delay" in takes.view.status.text()


def test_letters_are_taps_while_somebody_taps(window: MainWindow, takes: TakesController) -> None:  # noqa: F811
    """P, I, M are keys of other things elsewhere; R and Escape end."""
    choose_source(takes, TAPPED)
    tap_through(takes, "pim c")
    assert [tap.finger for tap in takes.taking.tapping._taps] == ["p", "i", "m", "", "c"]
    assert takes.view.record.text().startswith("Stop")
    QTest.keyClick(takes.view.strip, Qt.Key.Key_Escape)
    assert not window.transport.playing and takes.view.record.text().startswith("Record")


@pytest.mark.parametrize("late_s", [0.038, 0.121])
def test_the_loop_test_measures_and_remembers(qtbot, window, takes, late_s: float) -> None:  # noqa: F811
    """A loudspeaker and a microphone that take so long: found to a few milliseconds."""
    delaying = takes.taking.delaying
    delaying.simulated_s, said = late_s, takes.view.status
    for _ in range(
        6
    ):  # a machine that is busy may drop blocks in the middle of it: then it is measured again
        takes.view.delay.click()
        assert delaying.running
        qtbot.waitUntil(lambda: "taken off" in said.text() or "not heard" in said.text())
        if abs(delay_s(window.settings, SIMULATED) - late_s) < 0.004:
            break
    assert delay_s(window.settings, SIMULATED) == pytest.approx(late_s, abs=0.004)
    assert delay_s(window.settings, "another") == 0.0
    window.settings.set_text(f"delay/{SIMULATED}", "much")
    assert delay_s(window.settings, SIMULATED) == 0.0


def test_the_latest_look_is_the_nearest() -> None:
    """Blocks come in late, never early."""
    anchor = Anchor()
    for recorded, played in ((1.0, 0.52), (1.5, 1.0), (1.5, 1.02)):
        anchor.look(recorded, played)
    assert anchor.first_s == pytest.approx(0.5)


def test_the_take_before_is_drawn_pale(qtbot, takes: TakesController) -> None:  # noqa: F811
    take_one(qtbot, takes)
    take_one(qtbot, takes)
    pictures = (takes.view.places, takes.view.changes, takes.view.tempo, takes.view.loud)
    assert all(picture.before is None for picture in pictures)
    plain = [picture.grab().toImage() for picture in pictures]
    QTest.keyClick(takes.view, Qt.Key.Key_C)
    assert all(picture.before is not None for picture in pictures)
    assert takes.view.places.grab().toImage() != plain[0]
    assert any(text.startswith("to Am7:") for text in takes.view.changes.facts())


def fill_shelf(page: TakesController, gaps: Gaps, spread: list[tuple[float, float]]) -> None:
    """The take that is there, so many times, three minutes apart, with other figures."""
    kept = page.kept[0]
    for number, (db, ms) in enumerate(spread):
        facts = replace(
            kept.facts, made=f"2126-10-01T19:{3 * number:02}:00+02:00", gaps=gaps, spread_db=db, spread_ms=ms
        )
        page.shelf.take_in(kept.sound.read_bytes(), facts)


def test_the_hand_learned_is_offered_and_taken(qtbot, window, takes) -> None:  # noqa: F811
    take_one(qtbot, takes)
    assert not takes.view.hand.isVisible()
    fill_shelf(takes, Gaps(0.25, 0.24, 0.085, True), [(1.0, 5.0)] * 6)
    takes.load(0)
    qtbot.waitUntil(lambda: takes.taken is not None and takes.view.hand.isVisible())
    assert takes.view.hand.text() == "Use my hand, from 7 takes"
    assert any(
        text.startswith("From 7 takes that held: the same finger again after 0.29 s") for text in rows(takes)
    )
    takes.view.hand.click()
    assert window.shown.piece.rules.level.startswith("learned:294-282") and not takes.view.hand.isVisible()
    window.actions_by_id["setup"].trigger()
    box = window.view.setup.level
    assert box.currentText() == "my hand, from 7 takes"
    window.actions_by_id["undo"].trigger()
    assert window.shown.piece.rules.level == "growing" and box.currentData() == "growing"
    assert box.findText("my hand, from 7 takes") == 3, "it stays a choice"


def test_tension_is_said_with_its_cautions(qtbot, takes) -> None:  # noqa: F811
    take_one(qtbot, takes)
    fill_shelf(takes, Gaps(), [(1.0, 6.0), (1.4, 8.0), (2.4, 14.0), (3.2, 19.0)])
    takes.load(5)
    qtbot.waitUntil(lambda: takes.taken is not None and takes.taken.kept.number == 5)
    # The take is heard now, and its own figures replace the planted ones: hold the page to the planted.
    takes._update(takes.chosen, replace(takes.chosen.facts, spread_db=3.2, spread_ms=19.0))
    takes._show_sentences()
    said = rows(takes)
    assert said[0] == "Take care"
    assert "can be a sign" in said[1] and "Stop at pain" in said[1] and "doctor" in said[1]
