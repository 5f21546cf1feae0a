"""Pages one under the other, as wide as the view; only those in sight are painted."""

from __future__ import annotations

from PySide6.QtCore import QRect, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPixmap, QResizeEvent
from PySide6.QtWidgets import QAbstractScrollArea, QWidget

from gingham.app.look.appearance import Appearance, Dressed
from gingham.app.widgets.speaking import Cell
from gingham.language import tr
from gingham.paper.ops import Page, Text
from gingham.paper.paint import paint_page

_GAP = 16.0
_WIDEST = 1.6  # pixels a point: wider pages would only be farther apart
_KEPT = 6


class PagesCanvas(Dressed, QAbstractScrollArea):
    """Shows laid-out pages. Page Up and Page Down turn pages, + and − change the size."""

    page_changed = Signal(int, int)
    """The page in sight (from 1), and how many there are."""

    def __init__(self, appearance: Appearance, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wear(appearance)
        self.pages: tuple[Page, ...] = ()
        self.zoom = 0.0
        """Pixels a point; 0 fits the width."""
        self._pixmaps: dict[tuple[int, float], QPixmap] = {}
        self.setAccessibleName(tr("Pages of the sheet"))
        self.setToolTip(tr("Page Up and Page Down turn pages; + and − change the size, 0 fits the width"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.verticalScrollBar().valueChanged.connect(lambda _value: self.tell_page())

    def cells(self) -> list[Cell]:
        """Each page with its words, line by line."""
        out = []
        for index, page in enumerate(self.pages):
            where = tr(
                "page {index} of {pages}: {words_of}",
                index=index + 1,
                pages=len(self.pages),
                words_of=words_of(page),
            )
            high, wide = round(page.height * self.scale), round(page.width * self.scale)
            top = round(self.top(index)) - self.verticalScrollBar().value()
            out.append(Cell(where, QRect(0, top, wide, high)))
        return out

    def show_pages(self, pages: tuple[Page, ...]) -> None:
        """Show other pages from where the view is."""
        self.pages = pages
        self._pixmaps.clear()
        self._set_range()
        self.viewport().update()
        self.tell_page()

    def restyle(self) -> None:
        """Another look around the pages, which stay white."""
        self.viewport().update()

    @property
    def scale(self) -> float:
        """Pixels a point."""
        if self.zoom or not self.pages:
            return self.zoom or 1.0
        room = self.viewport().width() - 2 * _GAP
        return max(0.3, min(_WIDEST, room / self.pages[0].width))

    def top(self, index: int) -> float:
        """Where a page begins, in pixels from the top of the first one's margin."""
        return _GAP + sum(page.height * self.scale + _GAP for page in self.pages[:index])

    def page_at(self, y: float) -> int:
        """The page at a height, the last one below all."""
        for index in range(len(self.pages)):
            if y < self.top(index) + self.pages[index].height * self.scale + _GAP:
                return index
        return max(0, len(self.pages) - 1)

    def turn(self, by: int) -> None:
        """Another page to the top."""
        if self.pages:
            here = self.page_at(self.verticalScrollBar().value() + _GAP)
            index = min(max(0, here + by), len(self.pages) - 1)
            self.verticalScrollBar().setValue(round(self.top(index) - _GAP))

    def set_zoom(self, zoom: float) -> None:
        """Another size; 0 fits the width."""
        self.zoom = 0.0 if not zoom else max(0.3, min(4.0, zoom))
        self._pixmaps.clear()
        self._set_range()
        self.viewport().update()

    def _set_range(self) -> None:
        height = self.top(len(self.pages)) if self.pages else 0.0
        width = max((page.width * self.scale + 2 * _GAP for page in self.pages), default=0.0)
        for bar, whole, seen in (
            (self.verticalScrollBar(), height, self.viewport().height()),
            (self.horizontalScrollBar(), width, self.viewport().width()),
        ):
            bar.setRange(0, max(0, round(whole - seen)))
            bar.setPageStep(seen)
            bar.setSingleStep(40)

    def tell_page(self) -> None:
        """Say which page is in sight."""
        middle = self.verticalScrollBar().value() + self.viewport().height() / 2
        self.page_changed.emit(self.page_at(middle) + 1 if self.pages else 0, len(self.pages))
        self.viewport().update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """The pages in sight, each from its picture."""
        p = QPainter(self.viewport())
        p.fillRect(event.rect(), QColor(self.theme.ground))
        y = self.verticalScrollBar().value()
        for index, page in enumerate(self.pages):
            top = self.top(index) - y
            if top > self.viewport().height():
                break
            if top + page.height * self.scale < 0:
                continue
            width = page.width * self.scale
            room = self.viewport().width() - width
            left = max(room / 2, _GAP) - self.horizontalScrollBar().value()
            p.drawPixmap(round(left), round(top), self._pixmap(index))
            p.setPen(QColor(self.theme.edge))
            p.drawRect(QRectF(round(left) - 1, round(top) - 1, width + 1, page.height * self.scale + 1))
        p.end()

    def _pixmap(self, index: int) -> QPixmap:
        key = (index, self.devicePixelRatioF())
        if key not in self._pixmaps:
            while len(self._pixmaps) >= _KEPT:
                del self._pixmaps[next(iter(self._pixmaps))]
            page, ratio = self.pages[index], self.devicePixelRatioF()
            made = QPixmap(round(page.width * self.scale * ratio), round(page.height * self.scale * ratio))
            made.setDevicePixelRatio(ratio)
            p = QPainter(made)
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.scale(self.scale, self.scale)
            paint_page(p, page)
            p.end()
            self._pixmaps[key] = made
        return self._pixmaps[key]

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Another width: pages fit it."""
        if not self.zoom:
            self._pixmaps.clear()
        self._set_range()
        self.tell_page()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Turn pages, change the size."""
        key = event.key()
        if key in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp):
            self.turn(1 if key == Qt.Key.Key_PageDown else -1)
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End):
            self.turn(-len(self.pages) if key == Qt.Key.Key_Home else len(self.pages))
        elif event.text() in ("+", "-", "0"):
            by = {"+": 1.2, "-": 1 / 1.2, "0": 0.0}[event.text()]
            self.set_zoom(self.scale * by)
        else:
            super().keyPressEvent(event)


def words_of(page: Page) -> str:
    """The words of a page from its top, those of one line from the left."""
    lines: dict[int, list[tuple[float, str]]] = {}
    for op in page.ops:
        if isinstance(op, Text):
            lines.setdefault(round(op.y), []).append((op.x, op.text))
    return "; ".join(" ".join(text for _, text in sorted(line)) for _, line in sorted(lines.items()))
