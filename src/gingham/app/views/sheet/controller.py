"""Joins the Sheet view with the piece: pages are laid out off the interface thread, printed one by one."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QMarginsF, QObject, QSignalBlocker, QSizeF, QTimer, Signal
from PySide6.QtGui import QPageLayout, QPageSize, QPainter
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QDialog

from gingham.app.look.settings import Settings
from gingham.app.session.shown import Shown
from gingham.app.views.sheet.portal import PortalPrinter, in_a_sandbox
from gingham.app.views.sheet.view import SWITCHES, SheetView
from gingham.app.work.worker import Job, NewestWorker
from gingham.core.errors import GinghamError
from gingham.core.fitting.cache import FitCache
from gingham.core.pieces.piece import Piece
from gingham.language import tr
from gingham.paper.content import KINDS, SheetOptions
from gingham.paper.content import SIZES as PAPERS
from gingham.paper.layout import lay_out
from gingham.paper.metrics import Metrics
from gingham.paper.ops import Page
from gingham.paper.output import pdf
from gingham.paper.paint import measured, paint_page
from gingham.words.notices import notice
from gingham.words.teacher import MeasuredSection

_SOON_MS = 60


class _Layouter(NewestWorker[tuple[Piece, SheetOptions]]):
    """Lays the newest sheet on pages."""

    laid = Signal(object, object)
    """The piece and its pages."""
    failed = Signal(object)
    progressed = Signal(float)

    def __init__(self, metrics: Metrics, parent: QObject) -> None:
        self._metrics, self._cache = metrics, FitCache()
        super().__init__("sheet", parent)

    def work_on(self, item: tuple[Piece, SheetOptions]) -> None:
        """Lay out one sheet; it is given up when a newer one is asked for."""
        piece, options = item
        try:
            pages = lay_out(piece, options, self._metrics, self._cache, self._tick)
        except GinghamError as error:
            self.failed.emit(error)
            return
        if not self.outdated:
            self.laid.emit(piece, pages)

    def _tick(self, share: float) -> bool:
        self.progressed.emit(share)
        self.pause(0.0005)  # the interface comes first
        return not self.outdated


class SheetController(QObject):
    """What the Sheet view does."""

    save_wanted = Signal(object)
    """SheetOptions of the sheet to be written to a file."""
    notice = Signal(str)
    laid_out = Signal()
    """The newest pages are in the view."""

    def __init__(
        self, view: SheetView, shown: Shown, settings: Settings, parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self.view, self._shown, self._settings = view, shown, settings
        self._worker = _Layouter(measured(), self)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(_SOON_MS)
        self._later.timeout.connect(self._ask)
        self.practised: Callable[[], tuple[MeasuredSection, ...]] = tuple
        """What the record shows of the piece, for the report."""
        self._printing: tuple[QPrinter, QPainter, list[Page]] | None = None
        self._portal: PortalPrinter | None = None
        self._pdf = Job("pdf", self)
        self._pdf.done.connect(self._send_to_portal)
        self._pdf.progressed.connect(self._show_share)
        self._pdf.failed.connect(lambda _error: self.notice.emit(notice("no-printer")))
        self._restore()
        for box in (view.kind, view.paper, view.section):
            box.activated.connect(lambda _index: self._chosen())
        for switch in view.switches.values():
            switch.toggled.connect(lambda _on: self._chosen())
        view.other_capo.valueChanged.connect(lambda _fret: self._chosen())
        view.save.clicked.connect(lambda _on: self.save_wanted.emit(self.options()))
        view.print.clicked.connect(lambda _on: self.ask_print())
        view.canvas.page_changed.connect(self._show_page)
        self._worker.laid.connect(self._laid)
        self._worker.progressed.connect(self._show_share)
        self._worker.failed.connect(shown.say_fault)
        shown.settled.connect(self.refresh)

    @property
    def widget(self) -> SheetView:
        """The page."""
        return self.view

    def arrive(self) -> None:
        """The keyboard to the pages."""
        self.view.canvas.setFocus()

    # Choices.

    def _restore(self) -> None:
        view, settings = self.view, self._settings
        for box, name, known in ((view.kind, "sheet-kind", KINDS), (view.paper, "sheet-size", PAPERS)):
            chosen = settings.text(name, known[0])
            box.setCurrentIndex(max(0, box.findData(chosen)))
        for name, _, default in SWITCHES:
            view.switches[name].setChecked(settings.flag(f"sheet-{name}", default))

    def options(self) -> SheetOptions:
        """What is chosen now."""
        view = self.view
        return SheetOptions(
            view.kind.currentData(),
            view.paper.currentData(),
            left_handed=self.view.appearance.mirrored,
            section=max(0, view.section.currentIndex()),
            other_capo=view.other_capo.value(),
            naming=self.view.appearance.theme.naming,
            lowest_on_top=self.view.appearance.theme.lowest_on_top,
            measured=self.practised() if view.switches["report"].isChecked() else (),
            **{name: switch.isChecked() for name, switch in view.switches.items()},
        )

    def _chosen(self) -> None:
        self._settings.set_text("sheet-kind", self.view.kind.currentData())
        self._settings.set_text("sheet-size", self.view.paper.currentData())
        for name, switch in self.view.switches.items():
            self._settings.set_flag(f"sheet-{name}", switch.isChecked())
        self.refresh()

    # Showing.

    def refresh(self) -> None:
        """Lay out the piece as it is now, a moment later."""
        if self._shown.document is None or not self.view.isVisible():
            return
        piece, kind = self._shown.piece, self.view.kind.currentData()
        with QSignalBlocker(self.view.section):
            index = self.view.section.currentIndex()
            self.view.section.clear()
            self.view.section.addItems([f"{s.name}: {s.pattern}" for s in piece.sections])
            self.view.section.setCurrentIndex(min(max(0, index), len(piece.sections) - 1))
        for parts, shown in (
            ((self.view.section, self.view.section_label), kind == "card"),
            ((self.view.other_capo, self.view.capo_label), kind in ("call", "pack")),
        ):
            for part in parts:
                part.setVisible(shown)
        for name in ("counts", "shapes", "report"):
            self.view.switches[name].setEnabled(kind in ("sheet", "pack"))
        self.view.switches["words"].setEnabled(kind in ("sheet", "words", "pack"))
        self._later.start()

    def _ask(self) -> None:
        if not self.view.canvas.pages:
            self._show_share(0.0)
        self._worker.request((self._shown.piece, self.options()))

    def _laid(self, piece: Piece, pages: tuple[Page, ...]) -> None:
        if piece is self._shown.piece:
            self.view.canvas.show_pages(pages)
            self.laid_out.emit()

    def _show_page(self, number: int, count: int) -> None:
        self.view.status.setText(tr("Page {number} of {count}", number=number, count=count) if count else "")

    def _show_share(self, share: float) -> None:
        """How far a long sheet is; a short one is there before it can be read."""
        if share < 1.0:
            self.view.status.setText(tr("Laying out the pages: {share:.0f} %", share=100 * share))

    # Printing.

    def ask_print(self) -> None:
        """Ask for a printer and print there."""
        if in_a_sandbox():
            self._print_through_portal()
            return
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        dialog = QPrintDialog(printer, self.view)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.print_to(printer)

    def _print_through_portal(self) -> None:
        """Hand the pages to the desktop as a PDF; it asks for a printer."""
        if self._portal is None:
            self._portal = PortalPrinter(self)
            self._portal.printed.connect(lambda: self.notice.emit(notice("printed")))
            self._portal.failed.connect(lambda: self.notice.emit(notice("no-printer")))
        pages, title = self.view.canvas.pages, self._shown.piece.title
        if not pages or self._pdf.busy or self._portal.busy:
            return
        self._pdf.start(lambda tick: (pdf(pages, title, tick), title))

    def _send_to_portal(self, made: tuple[bytes, str]) -> None:
        self.view.canvas.tell_page()
        if self._portal is not None:
            self._portal.send(*made, self.view)

    def print_to(self, printer: QPrinter) -> None:
        """Print every page, one at a time, so that the window stays awake."""
        pages = list(self.view.canvas.pages)
        if not pages or self._printing is not None:
            return
        size = QPageSize(QSizeF(pages[0].width, pages[0].height), QPageSize.Unit.Point)
        layout = QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0))
        printer.setFullPage(True)
        printer.setPageLayout(layout)
        printer.setDocName(self._shown.piece.title)
        painter = QPainter()
        if not painter.begin(printer):
            self.notice.emit(notice("no-printer"))
            return
        self._printing = (printer, painter, pages)
        QTimer.singleShot(0, self._print_next)

    def _print_next(self) -> None:
        if self._printing is None:
            return
        printer, painter, pages = self._printing
        page = pages.pop(0)
        painter.save()
        scale = printer.resolution() / 72.0
        painter.scale(scale, scale)
        paint_page(painter, page, ground=False)
        painter.restore()
        if not pages:
            painter.end()
            self._printing = None
            self.notice.emit(notice("printed"))
            return
        printer.newPage()
        self.notice.emit(notice("printing", pages=len(pages)))
        QTimer.singleShot(0, self._print_next)

    def show_report(self) -> None:
        """The sheet with what was measured."""
        self.view.kind.setCurrentIndex(self.view.kind.findData("sheet"))
        self.view.switches["report"].setChecked(True)
        self._chosen()

    def default_name(self) -> str:
        """A file name for the sheet."""
        kind = self.options().kind
        tail = {"sheet": "", "call": tr(", call sheet")}.get(kind, f", {kind}")
        return f"{self._shown.piece.title or tr('Untitled')}{tail}.pdf"

    def end(self) -> None:
        """End the thread."""
        self._worker.close()
        self._pdf.close()
