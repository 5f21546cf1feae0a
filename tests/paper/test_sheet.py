"""The sheet: every mark on its page, nothing over anything else, text that stays text."""

from __future__ import annotations

import io
import threading
from functools import cache
from itertools import combinations
from xml.etree import ElementTree as ET

import pypdf
import pytest
from PySide6.QtGui import QColor, QImage
from PySide6.QtWidgets import QApplication

from gingham.app.look import theme
from gingham.core.errors import FileError
from gingham.core.formats.piece_file import load_piece
from gingham.core.pieces.chordline import ChordLine, parse_chord_line
from gingham.core.pieces.edits import rename_section
from gingham.core.pieces.endings import with_endings
from gingham.core.pieces.form import Form, parse_turns
from gingham.core.pieces.form_edits import set_form, set_words
from gingham.core.pieces.piece import Piece
from gingham.core.values import replace
from gingham.data import FOLDER
from gingham.paper.content import KINDS, SIZES, SheetOptions, sheet_content
from gingham.paper.inks import INKS
from gingham.paper.layout import MARGIN, PAGES, lay_out
from gingham.paper.metrics import Metrics
from gingham.paper.ops import Box, Line, Page, Ribbon, Ring, Text
from gingham.paper.output import image, sheet_bytes
from gingham.paper.paint import measured
from gingham.words.naming import Naming
from tests.conftest import make_piece

DEMOS = ("forty-lanterns", "brine-and-barley", "netmenders-round")
WIDE = Metrics({}, {})
"""Every sign as wide as the widest: what fits in it fits."""


@cache
def demo(name: str) -> Piece:
    """A piece of the demo scenario."""
    return load_piece(FOLDER / "demo" / f"{name}.gingham")


@pytest.fixture
def metrics(qapp: QApplication) -> Metrics:
    """The real widths of the font."""
    theme.load_fonts()
    return measured()


def texts(pages: tuple[Page, ...]) -> list[Text]:
    """Every line of text."""
    return [op for page in pages for op in page.ops if isinstance(op, Text)]


def extent(op: Text, metrics: Metrics) -> tuple[float, float]:
    """Left and right end."""
    width = metrics.width(op.text, op.size, bold=op.bold)
    left = op.x - {"left": 0.0, "center": width / 2, "right": width}[op.align]
    return left, left + width


def overlaps(page: Page, metrics: Metrics) -> list[tuple[str, str]]:
    """Texts that stand on each other by more than a hair."""
    boxes = [
        (*extent(op, metrics), op.y - 0.6 * op.size, op.y, op.text)
        for op in page.ops
        if isinstance(op, Text) and op.text.strip()
    ]
    return [
        (one[4], other[4])
        for one, other in combinations(boxes, 2)
        if one[0] < other[1] - 0.6 and other[0] < one[1] - 0.6 and one[2] < other[3] and other[2] < one[3]
    ]


OPTIONS = [
    SheetOptions(kind=kind, size=size, large=large)
    for kind in KINDS
    for size in SIZES
    for large in (False, True)
]


@pytest.mark.parametrize("name", DEMOS)
@pytest.mark.parametrize("options", OPTIONS, ids=lambda o: f"{o.kind}-{o.size}{'-large' if o.large else ''}")
def test_everything_lies_on_the_page_and_nothing_runs_into_anything(
    name: str, options: SheetOptions, metrics: Metrics
) -> None:
    """All kinds, both sizes, large print too."""
    pages = lay_out(demo(name), options, metrics)
    for page in pages:
        assert (page.width, page.height) == PAGES[options.size]
        assert overlaps(page, metrics) == []
        for op in page.ops:
            assert on_page(op, page, metrics), op


def on_page(op: object, page: Page, metrics: Metrics) -> bool:
    """Whether a mark lies inside the margins, footers below them."""
    if isinstance(op, Text):
        left, right = extent(op, metrics)
        return left >= MARGIN - 2 and right <= page.width - MARGIN + 2 and 0 < op.y < page.height - 15
    if isinstance(op, Line):
        return max(op.x1, op.x2) <= page.width - MARGIN + 4 and max(op.y1, op.y2) <= page.height - MARGIN
    if isinstance(op, Box):
        return op.x >= MARGIN - 2 and op.x + op.width <= page.width - MARGIN + 4
    if isinstance(op, Ring):
        return MARGIN - 4 <= op.x <= page.width - MARGIN + 4
    return isinstance(op, Ribbon)


RICH = make_piece(
    "(1/4 D) | G | C7#9/E | N.C. | Dm7b5 G13 |",
    "4/4 x4: p+m! i^ . m ; p1 a>5 . i ; d . u . ; k . p2!! c",
    capo=3,
)


@pytest.mark.parametrize("large", [False, True])
def test_accents_sweeps_ornaments_and_a_pick_up_have_their_room(large: bool, metrics: Metrics) -> None:
    """Every sign of the shorthand on one sheet; the pick-up is narrower than a bar."""
    pages = lay_out(RICH, SheetOptions(large=large), metrics)
    assert all(overlaps(page, metrics) == [] for page in pages)
    assert all(on_page(op, page, metrics) for page in pages for op in page.ops)
    shown = {t.text for t in texts(pages)}
    assert {">", ">>", "h1", "s5", "brush", "up", "chuck", "x", "N.C."} <= shown


def test_a_pick_up_is_as_wide_as_it_is_long(metrics: Metrics) -> None:
    """A quarter of a bar takes less than half of a bar's room."""
    piece = make_piece("(1/4 D) | G | C |", "4/4 x1: p i m a")
    names = [
        t for t in texts(lay_out(piece, SheetOptions(shapes=False), metrics)) if t.bold and t.size == 10.5
    ]
    first, second, third = (name.x for name in names)
    assert (second - first) < 0.5 * (third - second)


@pytest.mark.parametrize("large", [False, True])
@pytest.mark.parametrize("kind", ["sheet", "words"])
def test_long_jump_marks_have_lines_of_their_own(kind: str, large: bool, metrics: Metrics) -> None:
    """A section with a long name, two endings and ten plays."""
    piece = rename_section(
        make_piece("| G | C | D | G |"), 0, "The verse that the fishermen sing at low water"
    )
    piece = set_form(piece, Form(parse_turns(f"{piece.sections[0].name} x10")), practice=False)
    pages = lay_out(with_endings(piece, 0, 1), SheetOptions(kind=kind, large=large), metrics)
    assert all(overlaps(page, metrics) == [] for page in pages)
    assert all(on_page(op, page, metrics) for page in pages for op in page.ops)
    assert any(text.text.startswith("first to ninth time: ") for text in texts(pages))


def test_the_overlap_check_does_look(metrics: Metrics) -> None:
    """Two names on one spot are found."""
    page = Page(595, 842, (Text(50, 100, "Hearth", 12), Text(60, 100, "Quay", 12)))
    assert overlaps(page, metrics) == [("Hearth", "Quay")]


@pytest.mark.parametrize("name", DEMOS)
def test_the_demo_pieces_fit_on_one_or_two_pages(name: str, metrics: Metrics) -> None:
    """What one would put on a music stand; a card and a call sheet on one."""
    assert len(lay_out(demo(name), SheetOptions(), metrics)) <= 2
    for kind in ("words", "card", "call"):
        assert len(lay_out(demo(name), SheetOptions(kind=kind), metrics)) == 1


def test_the_sheet_says_what_a_player_needs(metrics: Metrics) -> None:
    """Title, tuning, capo with both names, form, shapes, frets, letters, counts, words."""
    shown = [t.text for t in texts(lay_out(demo("forty-lanterns"), SheetOptions(), metrics))]
    whole = " ".join(shown)
    for part in (
        "Forty Lanterns", "E A D G B E", "capo 2", "shapes in G, sounds in A", "72 beats a minute",
        "Verse · Refrain · Verse · Refrain ×2 · slow roll", "D/F♯", "sounds F♯m7", "thumb 6 then 4",
        "Quay steps", "lan-", "terns", "wall.",
    ):  # fmt: skip
        assert part in whole, part
    assert {"p", "i", "m", "a", "1", "&", "x", "o"} <= set(shown)


def test_needed_fingers_are_filled_and_free_ones_hollow(metrics: Metrics) -> None:
    """G{320003} by Hearth: the finger on string 5 holds nothing that is plucked."""
    piece = make_piece("| G{320003} |", "4/4 x2: p+a . p i p a p i")
    face = sheet_content(piece, SheetOptions()).shapes[0]
    assert face.needed == (True, False, True, True, False, True)
    rings = [
        op for page in lay_out(piece, SheetOptions(), metrics) for op in page.ops if isinstance(op, Ring)
    ]
    assert sorted(ring.fill for ring in rings) == ["ink", "ink", "paper"]


def test_left_handed_shapes_are_mirrored_and_nothing_else(metrics: Metrics) -> None:
    """String 6 goes to the other side; the tablature stays."""
    piece = make_piece("| G{3xxxxx} |", "4/4 x1: p . . .")
    plain = lay_out(piece, SheetOptions(), metrics)[0].ops
    left = lay_out(piece, SheetOptions(left_handed=True), metrics)[0].ops

    def dot(ops) -> float:
        return next(op.x for op in ops if isinstance(op, Ring))

    middle = MARGIN + 73 / 2
    assert dot(plain) - middle == pytest.approx(middle - dot(left))
    assert [op for op in plain if isinstance(op, Ribbon)] == [op for op in left if isinstance(op, Ribbon)]
    assert len(plain) == len(left)


def test_what_is_switched_off_is_not_there(metrics: Metrics) -> None:
    """Shapes, counts, words each for itself; other finger names too."""
    piece = demo("forty-lanterns")

    def shown(**changes: object) -> set[str]:
        return {t.text for t in texts(lay_out(piece, replace(SheetOptions(), **changes), metrics))}

    assert "thumb 6 then 4" not in shown(shapes=False) and "thumb 6 then 4" in shown()
    assert "&" not in shown(counts=False) and "lan-" in shown(counts=False)
    assert "lan-" not in shown(words=False)
    assert "T" in shown(naming=Naming(fingers="letters")) and "p" not in shown(
        naming=Naming(fingers="letters")
    )
    assert "Verse · Refrain · round again" in shown(practice=True)


def test_spots_for_a_teacher_are_added_when_wanted(metrics: Metrics) -> None:
    """Top speed with what sets it, the hardest changes, what is not heard."""
    piece = demo("forty-lanterns")
    pages = lay_out(piece, SheetOptions(report=True), metrics)
    said = " ".join(t.text for t in texts(pages))
    assert "Spots to look at" in said and "Comfortable top speed 144 beats a minute" in said
    assert "G to Am7, bar 2:" in said or "finger 1" in said
    assert all(overlaps(page, metrics) == [] for page in pages)
    assert "Spots to look at" not in " ".join(t.text for t in texts(lay_out(piece, SheetOptions(), metrics)))


def test_bars_stand_under_each_other_in_even_lines(metrics: Metrics) -> None:
    """Eight like bars stand four and four."""
    piece = make_piece("| G | C | D | G | Em | C | D | G |")
    names = [
        t for t in texts(lay_out(piece, SheetOptions(shapes=False), metrics)) if t.bold and t.size == 10.5
    ]
    rows: dict[float, list[float]] = {}
    for name in names:
        rows.setdefault(name.y, []).append(name.x)
    assert [len(row) for row in rows.values()] == [4, 4]
    assert len({tuple(row) for row in rows.values()}) == 1


def test_crowded_words_make_wider_bars(metrics: Metrics) -> None:
    """Syllables never touch, however many stand in a bar."""
    piece = make_piece("| G | C | D | G |")
    words = (
        "| lanterns lanterns lanterns lanterns lanterns lanterns lanterns lanterns | one | two | three |",
    )
    pages = lay_out(set_words(piece, 0, words), SheetOptions(), metrics)
    assert all(overlaps(page, metrics) == [] for page in pages)


def test_a_long_piece_breaks_between_lines_and_numbers_its_pages() -> None:
    """A heading is never the last thing on a page; 100 pages have 100 numbers."""
    bars = parse_chord_line("| G | C | D | Em " * 200 + "|", demo("forty-lanterns").meter)
    base = make_piece("| G |")
    piece = replace(
        base, sections=tuple(replace(base.sections[0], name=f"Part {n}", chords=bars) for n in range(4))
    )
    pages = lay_out(piece, SheetOptions(), WIDE)
    assert len(pages) >= 100
    for number, page in enumerate(pages, 1):
        last = max(
            (op for op in page.ops if isinstance(op, Text) and op.y < page.height - 30), key=lambda t: t.y
        )
        assert not last.text.startswith("Part")
        assert f"page {number} of {len(pages)}" in " ".join(t.text for t in page.ops if isinstance(t, Text))
    begun = []
    stopped = lay_out(piece, SheetOptions(), WIDE, tick=lambda share: begun.append(share) or share < 0.2)
    assert len(stopped) < len(pages) and begun == sorted(begun)


def test_a_piece_without_chords_says_so(metrics: Metrics) -> None:
    """On screen a page that says what is missing; no file is written."""
    piece = make_piece("| G |")
    empty = replace(piece, sections=(replace(piece.sections[0], chords=ChordLine(())),))
    assert "There are no chords yet." in {t.text for t in texts(lay_out(empty, SheetOptions(), metrics))}
    with pytest.raises(FileError):
        sheet_bytes(empty, ".pdf")


def test_pdf_text_is_text_in_the_font_that_ships(metrics: Metrics) -> None:
    """Found again by another library, both names of the chords too; the only font inside is Andika."""
    reader = pypdf.PdfReader(io.BytesIO(sheet_bytes(demo("forty-lanterns"), ".pdf")))
    assert len(reader.pages) == 2
    assert [round(float(side)) for side in reader.pages[0].mediabox[2:]] == [595, 842]
    words = " ".join(reader.pages[0].extract_text().split())
    for part in ("Forty Lanterns", "capo 2", "Dsus4", "Esus4", "lan-", "F♯m7"):
        assert part in words, part
    fonts = {
        str(font.get_object()["/BaseFont"])
        for page in reader.pages
        for font in page["/Resources"]["/Font"].values()
    }
    assert fonts and all("Andika" in name for name in fonts), fonts


def test_joined_letters_can_be_copied_from_a_pdf(metrics: Metrics) -> None:
    """fi, fl and ff are letters, not one sign without any behind it."""
    piece = replace(
        demo("forty-lanterns"), title="Office waffle, five flags", notes="Find the first finger: fluffy"
    )
    words = " ".join(pypdf.PdfReader(io.BytesIO(sheet_bytes(piece, ".pdf"))).pages[0].extract_text().split())
    for part in ("Office waffle, five flags", "Find the first finger: fluffy", "fingers"):
        assert part in words, part


def test_svg_holds_text_and_all_pages(metrics: Metrics) -> None:
    """One file, the pages under each other."""
    root = ET.fromstring(sheet_bytes(demo("forty-lanterns"), ".svg"))
    words = "".join(root.itertext())
    assert "Forty Lanterns" in words and "page 2 of 2" in words
    assert root.get("viewBox") == "0 0 595 1684"


def test_png_shows_ink_where_the_marks_are(metrics: Metrics) -> None:
    """White paper, dark title, the thumb's dye; a picture comparison that tells darker from lighter."""
    picture = QImage.fromData(sheet_bytes(demo("netmenders-round"), ".png"))
    assert (picture.width(), picture.height()) == (1190, 1684)
    assert picture.pixelColor(20, 20) == QColor("white")
    colours = {picture.pixelColor(x, y).name() for x in range(80, 600, 2) for y in range(80, 1500, 2)}
    assert INKS["ink"].lower() in colours and INKS["p"].lower() in colours
    pale = image(Page(100, 100, (Box(10, 10, 80, 80, "wash"),)), 1.0).pixelColor(50, 50)
    dark = image(Page(100, 100, (Box(10, 10, 80, 80, "ink"),)), 1.0).pixelColor(50, 50)
    assert dark.lightness() < pale.lightness() < 255


def test_a_picture_of_too_many_pages_is_refused(metrics: Metrics) -> None:
    """With what to do instead."""
    bars = parse_chord_line("| G | C | D | Em " * 150 + "|", demo("forty-lanterns").meter)
    base = make_piece("| G |")
    with pytest.raises(FileError) as caught:
        sheet_bytes(replace(base, sections=(replace(base.sections[0], chords=bars),)), ".png")
    assert caught.value.code == "export-pages"


def test_a_sheet_is_laid_out_and_written_in_any_thread(metrics: Metrics) -> None:
    """The window exports off its own thread."""
    done: list[bytes] = []
    thread = threading.Thread(target=lambda: done.append(sheet_bytes(demo("netmenders-round"), ".pdf")))
    thread.start()
    thread.join()
    assert done and done[0].startswith(b"%PDF")


def test_widths_are_what_qt_draws(metrics: Metrics) -> None:
    """Sums of single advances, kerning off, are the drawn widths."""
    from PySide6.QtGui import QFontMetricsF

    from gingham.paper.paint import _font

    for text in ("Forty Lanterns", "D/F♯ sounds E/G♯", "½× AVATAR"):
        drawn = QFontMetricsF(_font(200, False)).horizontalAdvance(text) / 200
        assert metrics.width(text, 1.0) == pytest.approx(drawn, rel=0.01)
    assert metrics.cut("Forty Lanterns", 10, 40).endswith("…")
    assert metrics.width(metrics.cut("Forty Lanterns", 10, 40), 10) <= 40
    words, size = metrics.fitted("thumb 6 then 4 then 5 then 3", 7.5, 80)
    assert words == "thumb 6 then 4 then 5 then 3" and 4.5 < size < 7.5 and metrics.width(words, size) <= 80.1
    assert metrics.fitted("Forty", 10, 400) == ("Forty", 10) and metrics.fitted("F" * 99, 10, 40)[0].endswith(
        "…"
    )
    assert metrics.wrapped("one two three", 10, 1) == ["one", "two", "three"]


def test_every_ink_is_dark_enough_on_paper() -> None:
    """Words keep 4.5:1 on white; pale and wash are for lines and grounds only."""
    from tests.house.test_house_rules import contrast

    for name, colour in INKS.items():
        if name not in ("pale", "wash", "ribbon", "paper"):
            assert contrast(colour, "#FFFFFF") >= 4.5, name
