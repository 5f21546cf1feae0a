"""Sheets as files: PDF with text that stays text, SVG, PNG; made in memory, nothing is half-written."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QRectF, QSize, QSizeF
from PySide6.QtGui import (
    QFontDatabase,
    QGuiApplication,
    QImage,
    QImageWriter,
    QPageSize,
    QPainter,
    QPdfWriter,
)
from PySide6.QtSvg import QSvgGenerator

from gingham.core.errors import FileError
from gingham.core.pieces.piece import Piece
from gingham.data import FOLDER
from gingham.language import tr
from gingham.paper.content import SheetOptions
from gingham.paper.layout import lay_out
from gingham.paper.ops import Page
from gingham.paper.paint import FAMILY, measured, paint_page, painting

SUFFIXES = (".pdf", ".svg", ".png")
_PNG_SCALE = 2.0
_PDF_DPI = 1200
_MOST_PNG_PAGES = 16
Tick = Callable[[float], bool]


def sheet_bytes(
    piece: Piece, suffix: str, options: SheetOptions | None = None, tick: Tick | None = None
) -> bytes:
    """The sheet as a file of its kind.

    Raises
    ------
    FileError
        `export-empty` if the piece has no chords.
    """
    chosen = options if options is not None else SheetOptions()
    if not any(section.chords.bars for section in piece.sections):
        raise FileError("export-empty")
    pages = lay_out(piece, chosen, measured(), tick=_half(tick, 0.0))
    return _MAKERS[suffix](pages, piece.title, _half(tick, 0.5))


def _half(tick: Tick | None, begin: float) -> Tick:
    return lambda share: tick is None or tick(begin + share / 2)


def ready() -> QGuiApplication | None:
    """Make Qt able to draw text in a program without a window, as the command line is.

    The application object that had to be made for it is returned and has to be kept; None if there is one.
    """
    made = None
    if QGuiApplication.instance() is None:
        made = QGuiApplication(["gingham", "-platform", "offscreen"])
    if FAMILY not in QFontDatabase.families():
        for name in ("Andika-Regular.ttf", "Andika-Bold.ttf"):
            QFontDatabase.addApplicationFontFromData((FOLDER / "fonts" / name).read_bytes())
    return made


def pdf(pages: tuple[Page, ...], title: str, tick: Tick) -> bytes:
    """All pages as one PDF."""
    target = QByteArray()
    buffer = QBuffer(target)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setTitle(title)
    writer.setCreator("Gingham")
    writer.setResolution(_PDF_DPI)
    writer.setPageMargins(QMarginsF(0, 0, 0, 0))
    _size(writer, pages[0])
    with painting(writer) as p:
        p.scale(_PDF_DPI / 72.0, _PDF_DPI / 72.0)
        for index, page in enumerate(pages):
            if index:
                writer.newPage()
            paint_page(p, page, ground=False)
            if not tick((index + 1) / len(pages)):
                break
    buffer.close()
    return bytes(target.data())


def _size(writer: QPdfWriter, page: Page) -> None:
    writer.setPageSize(QPageSize(QSizeF(page.width, page.height), QPageSize.Unit.Point))


def svg(pages: tuple[Page, ...], title: str, tick: Tick) -> bytes:
    """All pages in one SVG, one under the other."""
    width, height = _stacked(pages)
    target = QByteArray()
    buffer = QBuffer(target)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    generator = QSvgGenerator()
    generator.setOutputDevice(buffer)
    generator.setTitle(title)
    generator.setResolution(72)
    generator.setSize(QSize(round(width), round(height)))
    generator.setViewBox(QRectF(0, 0, width, height))
    with painting(generator) as p:
        _paint_stacked(p, pages, tick)
    buffer.close()
    return bytes(target.data())


def _stacked(pages: tuple[Page, ...]) -> tuple[float, float]:
    return max(page.width for page in pages), sum(page.height for page in pages)


def _paint_stacked(p: QPainter, pages: tuple[Page, ...], tick: Tick) -> None:
    for index, page in enumerate(pages):
        paint_page(p, page)
        p.translate(0, page.height)
        if not tick((index + 1) / len(pages)):
            break


def image(page: Page, scale: float) -> QImage:
    """One page as a picture, `scale` pixels a point."""
    out = QImage(round(page.width * scale), round(page.height * scale), QImage.Format.Format_RGB32)
    with painting(out) as p:
        p.scale(scale, scale)
        paint_page(p, page)
    return out


def png(pages: tuple[Page, ...], title: str, tick: Tick) -> bytes:
    """All pages in one picture, one under the other.

    Raises
    ------
    FileError
        `export-pages` if there are more than a picture can hold.
    """
    if len(pages) > _MOST_PNG_PAGES:
        raise FileError("export-pages", pages=len(pages), most=_MOST_PNG_PAGES)
    width, height = _stacked(pages)
    whole = QImage(round(width * _PNG_SCALE), round(height * _PNG_SCALE), QImage.Format.Format_RGB32)
    whole.setText(tr("Title"), title)
    with painting(whole) as p:
        p.scale(_PNG_SCALE, _PNG_SCALE)
        _paint_stacked(p, pages, tick)
    target = QByteArray()
    buffer = QBuffer(target)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    QImageWriter(buffer, QByteArray(b"png")).write(whole)
    buffer.close()
    return bytes(target.data())


_MAKERS: dict[str, Callable[[tuple[Page, ...], str, Tick], bytes]] = {".pdf": pdf, ".svg": svg, ".png": png}
