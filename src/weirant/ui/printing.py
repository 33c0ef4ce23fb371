"""Printing: the same pages as in the PDF, looked at first."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QDialog, QWidget

from weirant.design.sheets import crew_cut_sheet
from weirant.language import first_small, ntr, tr
from weirant.outcome.outcome import Outcome
from weirant.paper.cut_sheet import cut_sheet_pages
from weirant.paper.order_list import order_list_pages
from weirant.paper.owner_sheet import owner_sheet_pages
from weirant.paper.page import DOTS, Draw, page_layout, paint_pages
from weirant.ui.asking import show_dialog, tell
from weirant.ui.work import in_background


def preview_owner_sheet(outcome: Outcome, window: QWidget) -> None:
    """Show the owner's sheet as it will be printed."""
    _preview(outcome, lambda: owner_sheet_pages(outcome), tr("Owner's sheet"), window)


def preview_order_list(outcome: Outcome, window: QWidget) -> None:
    """Show the order list as it will be printed."""
    _preview(outcome, lambda: order_list_pages(outcome), tr("Order list"), window)


def preview_cut_sheet(outcome: Outcome, run: str, window: QWidget) -> None:
    """Show the cut sheet of a run as it will be printed."""
    _preview(outcome, lambda: cut_sheet_pages(outcome, run, crew_cut_sheet(outcome, run)), tr("Cut sheet"), window)


def _preview(outcome: Outcome, make: Callable[[], list[Draw]], what: str, window: QWidget) -> None:
    """Work the pages out beside the interface, since what waits for the simulator takes its time, and show them."""

    def show(pages: list[Draw]) -> None:
        show_dialog(_preview_of(outcome, pages, what, window))

    def say(fault: str) -> None:
        tell(window, tr("{what} cannot be made", what=what), fault)

    def work() -> list[Draw]:
        import PyQt6.QtPrintSupport  # noqa: F401 – of use only when something is printed, and slow to load

        return make()

    in_background(work, show, say)


def _preview_of(outcome: Outcome, pages: list[Draw], what: str, window: QWidget) -> QDialog:
    """The preview of pages. Its printer is the paper that they are painted on, and lives as long."""
    from PyQt6.QtPrintSupport import QPrinter, QPrintPreviewDialog, QPrintPreviewWidget

    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setResolution(DOTS)
    printer.setPageLayout(page_layout(outcome.job))
    printer.setDocName(f"{outcome.job.name}, {first_small(what)}")
    dialog = QPrintPreviewDialog(printer, window)
    dialog.setWindowTitle(ntr("{what}: {n} page", "{what}: {n} pages", len(pages), what=what))
    dialog.resize(900, 760)
    shown: list[Draw] = []  # nothing yet: the window comes first, and its pages in an event of their own
    dialog.paintRequested.connect(lambda _: paint_pages(printer, *shown))

    def show_pages() -> None:
        shown[:] = pages
        view = dialog.findChild(QPrintPreviewWidget)
        assert view is not None
        view.updatePreview()

    soon = QTimer(dialog)
    soon.setSingleShot(True)
    soon.timeout.connect(show_pages)
    soon.start(0)
    return dialog
