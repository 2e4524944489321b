"""What an export comes out as, before it is written: the page, true pixels of its middle, paths with faults, the file's size."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from under_lattice.core.progress import Progress
from under_lattice.geometry.affine import Array
from under_lattice.output import Format, Job
from under_lattice.output.cut.cutter import Cuts, Cutting
from under_lattice.output.cut.faults import Fault
from under_lattice.output.page import job_of
from under_lattice.output.raster import Raster, height_in_px, size_in_px
from under_lattice.render.painter import paint_now
from under_lattice.scene.tree import View
from under_lattice.ui.look.tokens import colour
from under_lattice.ui.workers.small_pictures import to_image
from under_lattice.work.model import Sheet, Work

SIDE = 380  # px
LARGE = 12_000_000  # px: larger pictures are not written beforehand
AROUND = 7.0  # px, of a ring round a fault


@dataclass(frozen=True, eq=False)
class Preview:
    """What is seen of an export.

    Attributes
    ----------
    page : Sheet
        The size of what goes out.
    whole, close : QImage or None
        All of it, and as many true pixels of its middle as there is room for; None where there are paths instead.
    cuts : Cuts or None
    bytes : int
        Of the file; 0 where it was not written beforehand.
    """

    page: Sheet
    options: Format
    whole: QImage | None = None
    close: QImage | None = None
    cuts: Cuts | None = None
    bytes: int = 0


def preview_of(work: Work, options: Format, progress: Progress) -> Preview:
    """Return what an export comes out as.

    Raises
    ------
    LatticeError, GivenUp
    """
    options, job = job_of(work, options, progress)
    if isinstance(options, Cutting):
        cuts = options.cuts(job.scene, job.sheet, progress)
        return Preview(job.sheet, options, cuts=cuts, bytes=len(options.write(job)) if cuts.paths else 0)
    scale = SIDE / max(job.scene.width, job.scene.height)
    whole, close = _seen(job, scale), None
    small = True
    if isinstance(options, Raster):
        wide, high = size_in_px(job.sheet, options)[0], height_in_px(job.sheet, options)
        small = wide * high <= LARGE
        close = _seen(job, wide / job.scene.width)
    return Preview(job.sheet, options, whole, close, bytes=len(options.write(job)) if small else 0)


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
        self.fault = -1
        self.update()

    def faults(self) -> list[Fault]:
        """Return what is wrong with what is shown."""
        return self.preview.cuts.faults if self.preview is not None and self.preview.cuts is not None else []

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
            return
        image = self.preview.close if self.close_up and self.preview.close is not None else self.preview.whole
        if image is not None:
            at = QPointF((self.width() - image.width()) / 2, (self.height() - image.height()) / 2)
            painter.fillRect(QRectF(at, image.size()), QColor("#FFFFFF"))
            painter.drawImage(at.toPoint(), image)
        elif self.preview.cuts is not None:
            self._paint_cuts(painter, self.preview.cuts, self.preview.page)
        if self.hasFocus():
            painter.setPen(QPen(colour("ver"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.end()

    def _paint_cuts(self, painter: QPainter, cuts: Cuts, page: Sheet) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        scale = min((self.width() - 16) / page.width, (self.height() - 16) / page.height)
        box = QRectF(0, 0, page.width * scale, page.height * scale)
        box.moveCenter(QRectF(self.rect()).center())
        painter.fillRect(box, QColor("#FFFFFF"))
        middle = np.array([box.center().x(), box.center().y()])

        def points(line: Array) -> QPolygonF:
            return QPolygonF([QPointF(x, y) for x, y in (line * scale + middle).tolist()])

        for path in cuts.paths:
            painter.setPen(QPen(QColor(path.colour if path.colour.upper() != "#FFFFFF" else "#888888"), 1.0))
            painter.drawPolyline(points(path.line))
        for k, fault in enumerate(cuts.faults):
            shown = self.fault < 0 or self.fault == k
            painter.setPen(QPen(colour("err") if shown else colour("line"), 2.0))
            for ring in fault.rings:
                painter.drawPolyline(points(ring))
                at = points(ring).boundingRect()
                if shown and max(at.width(), at.height()) < 2 * AROUND:
                    painter.drawEllipse(at.center(), AROUND, AROUND)
