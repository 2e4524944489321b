"""What an export comes out as, before it is written: the page, true pixels of its middle, paths with faults, the file's size."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from under_lattice.colour.colour import luminance
from under_lattice.core.progress import Progress
from under_lattice.geometry.affine import Array
from under_lattice.output import Format, Job
from under_lattice.output.cut.cutter import Cutting
from under_lattice.output.cut.faults import Fault
from under_lattice.output.page import job_of
from under_lattice.output.plot.plotter import Plotting
from under_lattice.output.raster import Raster, height_in_px, size_in_px
from under_lattice.render.painter import paint_now
from under_lattice.scene.tree import View
from under_lattice.ui.look.tokens import colour
from under_lattice.ui.workers.small_pictures import to_image
from under_lattice.work.model import Sheet, Work

SIDE = 380  # px
LARGE = 12_000_000  # px: larger pictures are not written beforehand
PALE = 0.7  # luminance, from which on a line on white is shown in grey
WAITS = "Working out what comes of it…"
AROUND = 7.0  # px, of a ring round a fault


@dataclass(frozen=True, eq=False)
class Preview:
    """What is seen of an export.

    Attributes
    ----------
    page : Sheet
        The size of what goes out.
    whole, close : QImage or None
        All of it, and as many true pixels of its middle as there is room for; None where there are lines instead.
    lines : tuple of (line, colour)
        Lines (k, 2) on the page that are cut or drawn, each with its colour by hexadecimal figures.
    beside : float
        How far beyond the cut all of it goes, in px.
    faults : tuple of Fault
    said : tuple of str
        What else there is to say, in sentences.
    bytes : int
        Of the file; 0 where it was not written beforehand.
    """

    page: Sheet
    options: Format
    whole: QImage | None = None
    close: QImage | None = None
    lines: tuple[tuple[Array, str], ...] = ()
    beside: float = 0.0
    faults: tuple[Fault, ...] = ()
    said: tuple[str, ...] = ()
    bytes: int = 0


def preview_of(
    work: Work, options: Format, progress: Progress, moment: float = 0.0, early: Callable[[Preview], None] = lambda _: None
) -> Preview:
    """Return what an export comes out as, of a work as it is at a moment of its loop, 0..1.

    `early` is told what it looks like before it is known how large the file is, which may take long.

    Raises
    ------
    LatticeError, GivenUp
    """
    options, job = job_of(work, options, progress, time=moment)
    if isinstance(options, Cutting | Plotting):
        return _of_lines(options, job, progress)
    wide, high = job.scene.width + 2 * options.room, job.scene.height + 2 * options.room
    scale = SIDE / max(wide, high)
    whole, close = _seen(replace(job, scene=replace(job.scene, width=wide, height=high)), scale), None
    small = "frames" not in options.needs  # films are not written beforehand
    if isinstance(options, Raster):
        wide, high = size_in_px(job.sheet, options)[0], height_in_px(job.sheet, options)
        small = wide * high <= LARGE
        close = _seen(job, wide / job.scene.width)
    said = () if close is None else ("A press on the picture shows true pixels, or all of it",)
    beside = options.room * scale
    found = Preview(job.sheet, options, whole, close, beside=beside, said=said)
    early(found)
    return replace(found, bytes=len(options.write(job)) if small else 0)


def _of_lines(options: Cutting | Plotting, job: Job, progress: Progress) -> Preview:
    """What is cut or drawn along lines."""
    faults: tuple[Fault, ...] = ()
    if isinstance(options, Cutting):
        cuts = options.cuts(job.scene, job.sheet, progress)
        lines, faults, aside = tuple((path.line, path.colour) for path in cuts.paths), tuple(cuts.faults), cuts.aside
        words = f"{len(lines):,} paths, {sum(path.length for path in cuts.paths):,.0f} {job.sheet.unit} in all"
        data = options.file(cuts, job) if lines else b""
    else:
        plot = options.plot(job.scene, job.sheet, progress)
        lines, aside = tuple((line, pen.colour) for pen in plot.pens for line in pen.lines), plot.aside
        words, data = plot.words(job.sheet.unit), options.file(plot, job) if plot.pens else b""
    said = (words, f"Left aside: {', '.join(aside)}") if aside else (words,)
    return Preview(job.sheet, options, lines=lines, faults=faults, said=said, bytes=len(data))


def _seen(job: Job, scale: float) -> QImage:
    """The middle of the page, so many px for each unit, as much as there is room for."""
    wide = max(1, min(SIDE, round(job.scene.width * scale)))
    high = max(1, min(SIDE, round(job.scene.height * scale)))
    return to_image(paint_now(job.scene, View(wide, high, scale, wide / 2, high / 2), job.progress))


class PreviewView(QWidget):
    """Shows a preview; a press changes between all of it and true pixels."""

    def __init__(self) -> None:
        super().__init__()
        self.preview: Preview | None = None
        self.close_up = False
        self.waits = WAITS  # what is said while there is nothing to show
        self.fault = -1  # of those there are, the one that is shown
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Preview; Space shows true pixels, or all of it")

    def sizeHint(self) -> QSize:
        return QSize(SIDE + 16, SIDE + 16)

    def minimumSizeHint(self) -> QSize:
        return QSize(240, 240)

    def show_preview(self, preview: Preview | None) -> None:
        """Take over a preview."""
        self.preview = preview
        self.waits = WAITS
        self.fault = -1
        self.update()

    def show_nothing(self) -> None:
        """Show that nothing comes of it; why is said elsewhere."""
        self.show_preview(None)
        self.waits = ""

    def faults(self) -> list[Fault]:
        """Return what is wrong with what is shown."""
        return list(self.preview.faults) if self.preview is not None else []

    def show_fault(self, at: int) -> None:
        """Show one fault larger than the others."""
        self.fault = at
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._turn_over()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space:
            self._turn_over()
        else:
            super().keyPressEvent(event)

    def _turn_over(self) -> None:
        """Show true pixels, or all of it again."""
        if self.preview is not None and self.preview.close is not None:
            self.close_up = not self.close_up
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), colour("surround"))
        if self.preview is None:
            painter.setPen(colour("text"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self.waits)
            painter.end()
            return
        image = self.preview.close if self.close_up and self.preview.close is not None else self.preview.whole
        if image is not None:
            at = QPointF((self.width() - image.width()) / 2, (self.height() - image.height()) / 2)
            painter.fillRect(QRectF(at, image.size()), QColor("#FFFFFF"))
            painter.drawImage(at.toPoint(), image)
            if self.preview.beside and image is self.preview.whole:  # where it is cut
                cut = QRectF(at, image.size()).adjusted(*(s * self.preview.beside for s in (1, 1, -1, -1)))
                for ink, style in ((QColor("#FFFFFF"), Qt.PenStyle.SolidLine), (QColor("#1C1C1C"), Qt.PenStyle.DashLine)):
                    painter.setPen(QPen(ink, 1.0, style))
                    painter.drawRect(cut)
        else:
            self._paint_lines(painter, self.preview, self.preview.page)
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.end()

    def _paint_lines(self, painter: QPainter, preview: Preview, page: Sheet) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        scale = min((self.width() - 16) / page.width, (self.height() - 16) / page.height)
        box = QRectF(0, 0, page.width * scale, page.height * scale)
        box.moveCenter(QRectF(self.rect()).center())
        painter.fillRect(box, QColor("#FFFFFF"))
        middle = np.array([box.center().x(), box.center().y()])

        def points(line: Array) -> QPolygonF:
            return QPolygonF([QPointF(x, y) for x, y in (line * scale + middle).tolist()])

        for line, ink in preview.lines:
            painter.setPen(QPen(QColor(ink if luminance(ink) < PALE else "#808080"), 1.0))
            painter.drawPolyline(points(line))
        for k, fault in enumerate(preview.faults):
            shown = self.fault < 0 or self.fault == k
            painter.setPen(QPen(colour("err") if shown else colour("line"), 2.0))
            for ring in fault.rings:
                painter.drawPolyline(points(ring))
                at = points(ring).boundingRect()
                if shown and max(at.width(), at.height()) < 2 * AROUND:
                    painter.drawEllipse(at.center(), AROUND, AROUND)
