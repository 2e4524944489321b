"""What a window shares with the desktop: works opened lately, the printer, where the window stood, what this is."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QByteArray, QMarginsF, QRectF, QSizeF
from PySide6.QtGui import QImage, QPageLayout, QPageSize, QPainter
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QDialog, QMenu

from under_lattice.core.units import convert
from under_lattice.ui.dialogs.about_dialog import AboutDialog
from under_lattice.ui.look.words import on_button, tip
from under_lattice.ui.state import recent
from under_lattice.ui.window.host import Host
from under_lattice.ui.window.work_files import WorkFiles
from under_lattice.ui.workers.background import background
from under_lattice.ui.workers.small_pictures import picture_of
from under_lattice.work.model import Sheet

FINEST = 600  # dpi
LONGEST = 12_000  # px of a side that is printed


class Desktop:
    """Acts for one window."""

    def __init__(self, window: Host, files: WorkFiles, another: Callable[[], object]) -> None:
        self.window, self.files, self._another = window, files, another

    def commands(self) -> dict[str, Callable[[], object]]:
        """Return the functions of the commands."""
        return {"new_window": self._another, "about": self.about, "print": self.print}

    def about(self) -> None:
        """Show the versions."""
        AboutDialog(self.window).open()

    # -- works opened lately ---------------------------------------------------------------------
    def fill_recent(self, menu: QMenu) -> None:
        """Put the works opened lately into a menu."""
        menu.clear()
        paths = recent.recent_works()
        for number, path in enumerate(paths, 1):
            name = on_button(path.name)
            action = menu.addAction(f"&{number}  {name}", partial(self._open, number - 1))
            action.setToolTip(tip(str(path)))
        if not paths:
            menu.addAction("No work was opened yet").setEnabled(False)

    def _open(self, at: int) -> None:
        paths = recent.recent_works()
        if at < len(paths) and self.files.may_leave():
            self.files.open_path(paths[at])

    # -- the printer -----------------------------------------------------------------------------
    def print(self) -> None:
        """Ask for a printer and print the sheet at its true size, or smaller where the paper is."""
        document = self.window.document
        if document is None:
            return
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        printer.setDocName(document.design.name)
        size = sheet_mm(document.design.sheet)
        page = QPageSize(QSizeF(*size), QPageSize.Unit.Millimeter, "", QPageSize.SizeMatchPolicy.FuzzyMatch)
        printer.setPageLayout(QPageLayout(page, QPageLayout.Orientation.Portrait, QMarginsF()))
        dialog = QPrintDialog(printer, self.window)
        dialog.accepted.connect(partial(self.print_on, printer))
        QDialog.open(dialog)

    def print_on(self, printer: QPrinter) -> None:
        """Paint the sheet off the interface thread, then print it."""
        document, studio = self.window.document, self.window.studio
        if document is None or studio is None:
            return
        design = document.design
        wide, high = (side / 25.4 * min(FINEST, printer.resolution()) for side in sheet_mm(design.sheet))
        scale = min(1.0, LONGEST / max(wide, high))
        size = max(1, round(wide * scale)), max(1, round(high * scale))

        def done(image: QImage) -> None:
            share = lay_on_page(printer, image, design.sheet)
            words = "at its true size" if share == 1 else f"at {100 * share:.0f} %, so that it fits the paper"
            studio.facts_line.tell(f"Printed {words}")

        studio.facts_line.tell("Printing…")
        background(studio, lambda: picture_of(design, *size), done, self.window.complain)

    # -- where the window stood ------------------------------------------------------------------
    def restore(self) -> None:
        """Put the window where it stood last, at the size it had, on a screen that is there."""
        kept = recent.geometry()
        if kept:
            self.window.restoreGeometry(QByteArray.fromBase64(kept.encode()))
        screen = self.window.screen().availableGeometry()
        room = screen.adjusted(0, 0, 0, -self.window.style().pixelMetric(self.window.style().PixelMetric.PM_TitleBarHeight))
        self.window.resize(self.window.size().boundedTo(room.size()))
        if not screen.intersects(self.window.geometry()):
            self.window.move(screen.topLeft())

    def remember(self) -> None:
        """Keep where the window stands."""
        recent.remember_geometry(bytes(self.window.saveGeometry().toBase64().data()).decode())


def sheet_mm(sheet: Sheet) -> tuple[float, float]:
    """Return width and height of a sheet in mm."""
    wide, high = (convert(side, sheet.unit, "mm", sheet.resolution) for side in (sheet.width, sheet.height))
    return wide, high


def lay_on_page(printer: QPrinter, image: QImage, sheet: Sheet) -> float:
    """Draw the picture of a sheet in the middle of a page; returns its size there, in parts of its true one."""
    painter = QPainter(printer)
    page = QRectF(printer.pageRect(QPrinter.Unit.Millimeter))
    wide, high = sheet_mm(sheet)
    share = min(1.0, page.width() / wide, page.height() / high)
    share = 1.0 if share > 0.995 else share  # a hair's breadth of rounding is no reason to size it
    dots = printer.resolution() / 25.4
    size = QSizeF(wide * share * dots, high * share * dots)
    room = QRectF(printer.pageRect(QPrinter.Unit.DevicePixel))
    corner = QRectF((room.width() - size.width()) / 2, (room.height() - size.height()) / 2, size.width(), size.height())
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawImage(corner, image)
    painter.end()
    return share
