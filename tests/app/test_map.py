"""The map of the whole piece: where tiles lie, what they show, going there by mouse and by key."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from gingham.app.look.appearance import Appearance
from gingham.app.look.settings import Settings
from gingham.app.session.document import empty_piece
from gingham.app.views.builder.cards import CardStrip
from gingham.app.views.builder.map_canvas import MapCanvas, MapPlan
from gingham.core.fitting.fit import fit
from gingham.core.judging.piece_map import map_piece
from gingham.core.patterns.shorthand import parse_pattern
from gingham.core.pieces.edits import add_section, set_chords
from gingham.core.pieces.form_edits import set_bar_pattern
from gingham.core.pieces.piece import NamedPattern
from gingham.words.piece_text import conflict_line, map_text
from tests.conftest import make_piece, play

Key = Qt.Key
LEFT = Qt.MouseButton.LeftButton


def two_sections(line: str = "| G{320003} | C{x32010} | D{xx0232} | Em{022000} |"):
    """A verse and a copy of it; bar 2 of the copy plays something else."""
    piece = add_section(make_piece(line), 0)
    own = NamedPattern("Steps", parse_pattern("4/4 x2: p i m i p i m i"))
    return set_bar_pattern(piece, 1, 2, own)


@pytest.fixture
def map_of(qtbot, window):
    """The window over the two sections, its map made."""
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", two_sections())
    canvas = window.view.map
    qtbot.waitUntil(lambda: canvas.map is not None and canvas.map.piece is window.document.piece)
    return canvas


@pytest.mark.parametrize(
    ("count", "starts", "width", "step", "index", "x"),
    [
        (16, (0, 8), 1200.0, 64.0, 8, 3 + 8 * 64 + 12),
        (40, (0, 20), 1018.0, 25.0, 20, 3 + 500 + 12),
        (0, (0,), 600.0, 64.0, 0, 3.0),
        (5_000, (0,), 1006.0, 0.2, 2_500, 503.0),
    ],
)
def test_where_tiles_lie(
    count: int, starts: tuple[int, ...], width: float, step: float, index: int, x: float
) -> None:
    """As wide as there is room, at most 64 pixels; sections a gap apart; the way back from an x."""
    plan = MapPlan(count, starts, width)
    assert plan.step == pytest.approx(step) and plan.x(index) == pytest.approx(x)
    if count:
        assert plan.tile_at(plan.x(index) + plan.step / 2) == index
        assert plan.tile_at(-50.0) == 0 and plan.tile_at(width + 50) == count - 1


def test_what_the_map_knows() -> None:
    """Eight tiles; equal bars are one weave; bar 2 of the copy is its own; the hardest changes; no conflict."""
    found = map_piece(two_sections())
    assert len(found.tiles) == 8 and found.starts == (0, 4) and found.conflicts == ()
    assert found.tiles[0].weave is not None and found.tiles[0].weave == found.tiles[4].weave
    assert [(t.x, t.string, t.finger) for t in found.tiles[0].weave[:2]] == [(0.0, 6, "p"), (0.0, 2, "m")]
    assert [tile.own for tile in found.tiles] == [False] * 5 + [True] + [False] * 2
    assert found.index_of(1, 2) == 5 and found.index_of(1, 9) is None and found.index_of(7, 1) is None
    assert map_text(found, 5).startswith("Verse 2, bar 2 of 4: a bar of its own")
    assert map_text(found, None) == "8 bars, no conflicts"


def test_conflicts_are_one_list_with_their_places() -> None:
    """String 5 is silent in the D: told with section, bar and count; the G has it, and it is muddy there."""
    piece = make_piece("| D{xx0232} | G{320003} |", "4/4 x2: p i m 5 ; p i m i")
    found = map_piece(piece)
    assert [each.advice for each in found.conflicts] == [False, True]
    assert found.tiles[0].problems == 1 and not found.tiles[1].problems
    assert conflict_line(found, found.conflicts[0]).startswith("Verse, bar 1 at 2&. D")


def test_a_click_a_drag_and_keys_go_there(qtbot, map_of, window) -> None:
    """Another section's bar is shown with the cursor in it; page keys go by sections, End to the end."""
    plan = map_of.plan
    QTest.mouseClick(map_of, LEFT, pos=QPoint(round(plan.x(6) + 5), 30))
    qtbot.waitUntil(lambda: window.shown.section == 1 and window.shown.cursor.bar == 3)
    qtbot.waitUntil(lambda: map_of.cursor_tile == 6 and map_of.sight is not None)
    QTest.mousePress(map_of, LEFT, pos=QPoint(round(plan.x(5) + 5), 30))
    QTest.mouseMove(map_of, QPoint(round(plan.x(4) + 5), 30))
    QTest.mouseRelease(map_of, LEFT, pos=QPoint(round(plan.x(4) + 5), 30))
    qtbot.waitUntil(lambda: window.shown.cursor.bar in (1, 2))
    for key, section, bar in (
        (Key.Key_PageUp, 0, 1),
        (Key.Key_Right, 0, 2),
        (Key.Key_End, 1, 4),
        (Key.Key_Left, 1, 3),
    ):
        QTest.keyClick(map_of, key)
        qtbot.waitUntil(lambda s=section, b=bar: (window.shown.section, window.shown.cursor.bar) == (s, b))
        qtbot.waitUntil(lambda s=section, b=bar: map_of.cursor_tile == s * 4 + b - 1)
    assert "bar 3 of 4" in map_of.accessibleDescription()


def test_the_list_of_conflicts_opens_and_leads_to_the_place(qtbot, window) -> None:
    """Enter in the map; a line is chosen; the cursor is in that bar; without a conflict it says so."""
    piece = make_piece("| G{320003} | D{xx0232} |", "4/4 x2: p i m 5 ; p i m i")
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Other", piece)
    qtbot.waitUntil(
        lambda: (
            "conflict" in window.view.conflicts_button.text()
            and not window.view.conflicts_button.text().startswith("no")
        )
    )
    QTest.keyClick(window.view.map, Key.Key_Return)
    rows = window.view.drawer.part("conflicts")
    assert window.view.drawer.current == "conflicts" and rows.item(0).text().startswith("Verse, bar 2")
    QTest.keyClick(rows, Key.Key_Return)
    assert window.shown.cursor.bar == 2
    QTest.keyClick(window.view.map, Key.Key_Home)
    QTest.keyClick(window.view.map, Key.Key_Down)
    assert window.shown.cursor.bar == 2
    with qtbot.waitSignal(window.build.mapping.mapper.mapped):
        window.document.edit("Other", make_piece("| G |"))
    assert rows.item(0).text().startswith("Nothing is in the way")
    QTest.keyClick(rows, Key.Key_Escape)
    assert window.view.result.hasFocus()


def test_another_piece_has_its_own_map_at_once(qtbot, map_of, window) -> None:
    """The map of the piece before is not taken for that of the one that is shown now."""
    mapper = window.build.mapping.mapper
    before = mapper.map
    with qtbot.waitSignal(window.shown.settled):
        window.new()
    assert mapper.map is not before
    qtbot.waitUntil(lambda: mapper.map is not None and mapper.map.piece is window.document.piece)
    assert map_of.map is mapper.map and map_of.map.tiles == ()


def test_the_playhead_runs_on_the_map(qtbot, map_of, window) -> None:
    """It is there while the music plays, and gone afterwards."""
    play(qtbot, window)
    qtbot.waitUntil(lambda: map_of.playhead is not None)
    window.playing.stop()
    assert map_of.playhead is None


def test_five_thousand_bars_and_names_without_end(qtbot, window) -> None:
    """More bars than pixels are a band; what each is can be asked; a name is cut, and nothing overlaps."""
    line = make_piece("| " + "G | C | D | Em | " * 1_250).sections[0].chords
    piece = set_chords(make_piece("| G |"), 0, line)
    with qtbot.waitSignal(window.shown.settled):
        window.document.edit("Long", piece)
    canvas = window.view.map
    qtbot.waitUntil(lambda: canvas.map is not None and len(canvas.map.tiles) == 5_000)
    assert canvas.plan.step < 3 and not canvas.grab().isNull()
    QTest.mouseClick(canvas, LEFT, pos=QPoint(canvas.width() // 2, 30))
    assert 2_300 < window.shown.cursor.bar < 2_700
    window.resize(5_000, 490)
    window.resize(900, 2_000)
    assert not window.grab().isNull()


@pytest.mark.parametrize("kind", [CardStrip, MapCanvas])
def test_a_piece_on_its_way_is_not_taken_for_an_empty_one(qtbot, tmp_path, kind) -> None:
    """While it is fitted nothing is said; an empty piece says what to do first."""
    canvas = kind(Appearance(Settings(tmp_path / "settings.ini")))
    qtbot.addWidget(canvas)
    canvas.resize(640, 110)

    def colours() -> set[int]:
        image = canvas.grab().toImage()
        return {image.pixel(x, y) for x in range(0, image.width(), 2) for y in range(0, image.height(), 2)}

    assert len(colours()) == 1
    if kind is CardStrip:
        canvas.show_result(fit(empty_piece(), 0))
    else:
        canvas.show_map(map_piece(empty_piece()))
    assert len(colours()) > 1
