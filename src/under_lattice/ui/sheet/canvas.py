"""The canvas: a picture of the sheet with its surround, zoomed and panned; shown at once as it is, and asked for better."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QImage, QPainter, QPen, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from under_lattice.core.units import convert
from under_lattice.geometry.affine import Array
from under_lattice.scene.tree import View
from under_lattice.ui.look.tokens import colour
from under_lattice.ui.sheet.compare import Compare
from under_lattice.ui.sheet.repeat_paint import Repeated
from under_lattice.ui.sheet.sheet_ground import paint_grid, paint_ground
from under_lattice.ui.sheet.standing_out import standing_out
from under_lattice.work.model import Sheet

MARGIN = 24
LIT_MS = 2500
BESIDE = 0.45  # opacity of the lines of other moments
LEAST_SCALE, MOST_SCALE = 1e-4, 1e4


class Canvas(QWidget):
    """Shows a painted view at once and asks for a better one."""

    view_changed = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.sheet = Sheet()
        self.scale, self.centre = 1.0, (0.0, 0.0)
        self.fitted = True
        self.picture: QImage | None = None
        self.picture_view: View | None = None
        self.compare = Compare(self)
        self.repeated = Repeated(self)
        self.show_grid = False
        self.neighbours: tuple[list[QImage], View] | None = None  # lines of the moments before and after
        self.instead = ""  # what is shown in place of the work
        self.lit: QImage | None = None  # the picture with one colour standing out
        self._lit_for = QTimer(self, singleShot=True, interval=LIT_MS)
        self._lit_for.timeout.connect(self.put_out)
        self.setMinimumSize(320, 240)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    # -- view ------------------------------------------------------------------------------------
    def show_sheet(self, sheet: Sheet) -> None:
        """Take over the size of the sheet; a fitted view stays fitted."""
        if sheet is self.sheet:
            return
        changed = (sheet.width, sheet.height, sheet.unit) != (self.sheet.width, self.sheet.height, self.sheet.unit)
        self.sheet = sheet
        if changed and self.fitted:
            self.fit()
        self.update()

    def fit(self) -> None:
        """Show the whole sheet."""
        self.scale = max(
            1e-6, min((self.width() - 2 * MARGIN) / self.sheet.width, (self.height() - 2 * MARGIN) / self.sheet.height)
        )
        self.centre, self.fitted = (0.0, 0.0), True
        self._changed()

    def true_size(self) -> None:
        """Show the sheet as large as it is, by the screen's stated density."""
        inch = convert(1.0, "in", self.sheet.unit, self.sheet.resolution)
        per_inch = self.sheet.resolution if self.sheet.unit == "px" else float(self.logicalDpiX())
        self.zoom_to(per_inch / inch)

    def zoom_to(self, scale: float, at: QPointF | None = None) -> None:
        """Zoom, keeping the page's point under `at` in its place."""
        at = at or QPointF(self.width() / 2, self.height() / 2)
        x, y = self.to_page(at)
        self.scale, self.fitted = min(max(scale, LEAST_SCALE), MOST_SCALE), False
        self.centre = (x - (at.x() - self.width() / 2) / self.scale, y - (at.y() - self.height() / 2) / self.scale)
        self._changed()

    def zoom_by(self, factor: float) -> None:
        """Zoom about the middle."""
        self.zoom_to(self.scale * factor)

    def zoom_words(self) -> str:
        """Return the zoom in per cent of true size."""
        inch = convert(1.0, "in", self.sheet.unit, self.sheet.resolution)
        per_inch = self.sheet.resolution if self.sheet.unit == "px" else 96.0
        return f"{100 * self.scale * inch / per_inch:.0f} %"

    def _changed(self) -> None:
        self.update()
        self.view_changed.emit()

    def to_page(self, at: QPointF) -> tuple[float, float]:
        """Return the page's point at a point of the widget."""
        return (
            self.centre[0] + (at.x() - self.width() / 2) / self.scale,
            self.centre[1] + (at.y() - self.height() / 2) / self.scale,
        )

    def to_widget(self, x: float, y: float) -> QPointF:
        """Return the widget's point at a point of the page."""
        return QPointF(self.width() / 2 + (x - self.centre[0]) * self.scale, self.height() / 2 + (y - self.centre[1]) * self.scale)

    def pixels_at(self, points: Array) -> Array:
        """Return where points (k, 2) of the page are in the widget, in px."""
        return np.asarray(np.array([self.width(), self.height()]) / 2 + (points - self.centre) * self.scale)

    def wanted_view(self) -> View:
        """Return the view to paint, in pixels of the screen."""
        dense = self.devicePixelRatioF()
        origin = self.to_widget(0, 0)
        wide, high = max(1, round(self.width() * dense)), max(1, round(self.height() * dense))
        return View(wide, high, self.scale * dense, origin.x() * dense, origin.y() * dense)

    def show_instead(self, words: str, sheet: Sheet) -> None:
        """Say what is shown in place of the work, and on which sheet it lies; nothing for the work itself."""
        self.show_sheet(sheet)
        if words != self.instead:
            self.instead = words
            self.update()

    def show_picture(self, picture: QImage, view: View) -> None:
        """Take over a painted view."""
        self.picture, self.picture_view = picture, view
        self.put_out()

    def show_neighbours(self, pictures: list[QImage], view: View) -> None:
        """Lay lines of other moments over the picture; none takes them away."""
        if pictures or self.neighbours is not None:
            self.neighbours = (pictures, view) if pictures else None
            self.update()

    def light_up(self, value: str) -> None:
        """Show for a while where on the sheet a colour is: all else is dimmed."""
        if self.picture is not None:
            self.lit = standing_out(self.picture, value, colour("surround"))
            self._lit_for.start()
            self.update()

    def put_out(self) -> None:
        """Show all colours as they are."""
        self.lit = None
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self.fitted:
            self.fit()
        else:
            self._changed()

    # -- painting --------------------------------------------------------------------------------
    def page(self) -> QRectF:
        """Return where the sheet lies in the widget."""
        wide, high = self.sheet.width / 2, self.sheet.height / 2
        return QRectF(self.to_widget(-wide, -high), self.to_widget(wide, high))

    def place_of(self, picture: QImage, view: View) -> QRectF:
        """Return where a picture of a view lies as the sheet is seen now."""
        ratio = self.scale / view.scale
        origin = self.to_widget(0, 0)
        left, top = origin.x() - ratio * view.left, origin.y() - ratio * view.top
        return QRectF(left, top, picture.width() * ratio, picture.height() * ratio)

    def paint_sheet(self, painter: QPainter) -> None:
        """Paint surround, ground, picture and what it is compared with, grid and edge."""
        page = self.page()
        painter.fillRect(self.rect(), colour("surround"))
        if self.repeated.on and self.repeated.image is not None:
            self.repeated.paint(painter)
            return
        paint_ground(painter, page, self.sheet, QRectF(self.rect()))
        if self.picture is not None and self.picture_view is not None:
            exact = abs(self.scale / self.picture_view.scale * self.devicePixelRatioF() - 1) < 1e-6
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, not exact)
            painter.drawImage(self.place_of(self.picture, self.picture_view), self.lit or self.picture)
        if self.neighbours is not None:
            painter.setOpacity(BESIDE)
            for one in self.neighbours[0]:
                painter.drawImage(self.place_of(one, self.neighbours[1]), one)
            painter.setOpacity(1.0)
        self.compare.paint_picture(painter)
        if self.show_grid:
            paint_grid(painter, page, self.sheet, self.scale, self.to_widget)
        painter.setPen(QPen(colour("edge"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(page.adjusted(-0.5, -0.5, 0.5, 0.5))
