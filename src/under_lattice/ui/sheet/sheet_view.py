"""The sheet: the picture with its surround, pan and zoom, and the handles of the open rule."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QContextMenuEvent,
    QFocusEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from under_lattice.geometry.affine import Array, apply, inverse
from under_lattice.picking.picker import Level
from under_lattice.rules.handles import Drag, HandleSet
from under_lattice.scene.tree import View
from under_lattice.ui.look.tokens import colour
from under_lattice.ui.sheet.handle_paint import HandlePainter, paint_level
from under_lattice.ui.sheet.sheet_ground import paint_grid, paint_ground
from under_lattice.work.model import Sheet

MARGIN = 24
REST_MS = 1500  # without a key after which a moved handle has come to rest: one step of undo
NEAR_PX = 9.0
ZOOM_STEP = 1.15
POINT_KEYS = {Qt.Key.Key_Delete: "remove", Qt.Key.Key_Insert: "add"}
LEAST_SCALE, MOST_SCALE = 1e-4, 1e4


class SheetView(QWidget):
    """Shows a painted view at once and asks for a better one; the wheel zooms at the pointer."""

    view_changed = Signal()
    drag_begun = Signal(str)
    dragged = Signal(object)
    drag_ended = Signal(bool)  # False when it was given up
    pointed = Signal(float, float)  # page point under the pointer
    pressed = Signal()  # on what is shown under the pointer
    point_work = Signal(str, str, object)  # work on the points of an outline, the picked handle, the pointer's place (2,)
    line_drawn = Signal(object)  # a line (n, 2) in the place of the open rule, or None when it was given up
    menu_wanted = Signal(object)  # QPoint on the screen: what can be done with what is shown under the pointer

    def __init__(self) -> None:
        super().__init__()
        self.sheet = Sheet()
        self.scale, self.centre = 1.0, (0.0, 0.0)
        self.fitted = True
        self.picture: QImage | None = None
        self.picture_view: View | None = None
        self.handles: HandleSet | None = None
        self.place: Array = np.eye(2, 3)
        self.show_handles = True
        self.picked = ""
        self._hovered = ""
        self.show_grid = False
        self._nudged: Array | None = None  # where keys have moved the picked handle to
        self._rest = QTimer(self, singleShot=True, interval=REST_MS)
        self._rest.timeout.connect(self._end_nudging)
        self._grab: tuple[str, Array] | None = None  # handle, what lies between the pointer and it
        self._pan: QPointF | None = None
        self.under: Level | None = None  # what is shown under the pointer
        self._pointer = QPointF()
        self._space = False
        self._stroke: list[QPointF] | None = None  # while a line is drawn: what of it there is
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumSize(320, 240)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Sheet")

    # -- view ------------------------------------------------------------------------------------
    def show_sheet(self, sheet: Sheet) -> None:
        """Take over the size of the sheet; a fitted view stays fitted."""
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
        from under_lattice.core.units import convert

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
        from under_lattice.core.units import convert

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

    def wanted_view(self) -> View:
        """Return the view to paint, in pixels of the screen."""
        dense = self.devicePixelRatioF()
        origin = self.to_widget(0, 0)
        wide, high = max(1, round(self.width() * dense)), max(1, round(self.height() * dense))
        return View(wide, high, self.scale * dense, origin.x() * dense, origin.y() * dense)

    def show_picture(self, picture: QImage, view: View) -> None:
        """Take over a painted view."""
        self.picture, self.picture_view = picture, view
        self.update()

    def show_handle_set(self, handles: HandleSet | None, place: Array) -> None:
        """Take over the handles of the open rule and the map from its place to the sheet."""
        self.handles, self.place = handles, place
        if handles is None or self.picked not in {h.name for h in handles.handles}:
            self.picked = ""
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self.fitted:
            self.fit()
        else:
            self._changed()

    # -- painting --------------------------------------------------------------------------------
    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), colour("surround"))
        page = QRectF(
            self.to_widget(-self.sheet.width / 2, -self.sheet.height / 2),
            self.to_widget(self.sheet.width / 2, self.sheet.height / 2),
        )
        paint_ground(painter, page, self.sheet, QRectF(self.rect()))
        if self.picture is not None and self.picture_view is not None:
            ratio = self.scale / self.picture_view.scale
            origin = self.to_widget(0, 0)
            left, top = origin.x() - ratio * self.picture_view.left, origin.y() - ratio * self.picture_view.top
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, abs(ratio * self.devicePixelRatioF() - 1) > 1e-6)
            painter.drawImage(QRectF(left, top, self.picture.width() * ratio, self.picture.height() * ratio), self.picture)
        if self.show_grid:
            paint_grid(painter, page, self.sheet, self.scale, self.to_widget)
        painter.setPen(QPen(colour("edge"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(page.adjusted(-0.5, -0.5, 0.5, 0.5))
        if self.under is not None:
            paint_level(painter, self.under, self.to_widget, self._pointer, QRectF(self.rect()), self.sheet.background)
        if self.show_handles and self.handles is not None:
            self._handle_painter(painter).paint(self.handles, self.picked, self._hovered)
        if self._stroke:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(colour("ver"), 2))
            painter.drawPolyline(QPolygonF(self._stroke))
        if self.hasFocus():
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(colour("ver"), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.end()

    def _handle_painter(self, painter: QPainter) -> HandlePainter:
        return HandlePainter(painter, self.points_of, QRectF(self.rect()), self.sheet.background)

    def points_of(self, points: Array) -> list[QPointF]:
        """Return the widget's points of points (k, 2) in the open rule's place."""
        return [self.to_widget(float(x), float(y)) for x, y in apply(self.place, np.atleast_2d(points))]

    # -- mouse -----------------------------------------------------------------------------------
    def handle_at(self, at: QPointF) -> str:
        """Return the name of the handle under a point, or nothing."""
        if not self.show_handles or self.handles is None:
            return ""
        for handle in sorted(self.handles.seen(self.picked), key=lambda one: not one.of):  # those of a picked point lie over it
            if handle.form != "frame":
                away = self.points_of(handle.at)[0] - at
                if abs(away.x()) + abs(away.y()) <= 13:
                    return handle.name
        framed = next((h.name for h in self.handles.handles if h.form == "frame"), "")
        ring = QPolygonF(self.points_of(self.handles.frame)) if framed and self.handles.frame is not None else None
        if ring is not None and ring.containsPoint(at, Qt.FillRule.OddEvenFill):
            return framed
        return ""

    def _in_place(self, at: QPointF) -> Array:
        return apply(inverse(self.place), np.array([self.to_page(at)]))[0]

    def begin_drawing(self) -> None:
        """Take the next drag as a line; Escape gives it up."""
        self._stroke = []
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setFocus(Qt.FocusReason.OtherFocusReason)

    def _end_drawing(self, line: Array | None) -> None:
        self._stroke = None
        self.setCursor(Qt.CursorShape.ArrowCursor)
        self.line_drawn.emit(line)
        self.update()

    def work_on_points(self, work: str) -> None:
        """Ask for work on the points of the open rule's outline, at the picked handle or the pointer."""
        self.point_work.emit(work, self.picked, self._in_place(self._pointer))

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self._pointer = event.position()
        if any(one.form == "point" for one in self.handles.handles) if self.handles is not None else False:
            self.work_on_points("add")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        if self._grab is not None:  # another button while one drags
            return
        self._end_nudging()
        if self._stroke is not None and event.button() == Qt.MouseButton.LeftButton:
            self._stroke = [event.position()]
            return
        pans = event.button() == Qt.MouseButton.MiddleButton or (event.button() == Qt.MouseButton.LeftButton and self._space)
        if pans:
            self._pan = event.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            return
        name = self.handle_at(event.position()) if event.button() == Qt.MouseButton.LeftButton else ""
        if name and self.handles is not None:
            at = next(h.at for h in self.handles.handles if h.name == name)
            self._grab = (name, at - self._in_place(event.position()))
            self.picked = name
            self.drag_begun.emit(name)
            self.update()
        elif event.button() == Qt.MouseButton.LeftButton and self.under is not None:
            self.pressed.emit()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._stroke is not None:
            if event.buttons() & Qt.MouseButton.LeftButton:
                self._stroke.append(at)
                self.update()
        elif self._pan is not None:
            moved = at - self._pan
            self._pan = at
            self.centre = (self.centre[0] - moved.x() / self.scale, self.centre[1] - moved.y() / self.scale)
            self.fitted = False
            self._changed()
        elif self._grab is not None:
            self._emit_drag(self._grab[0], self._in_place(at) + self._grab[1], event.modifiers())
        else:
            self._pointer = at
            hovered = self.handle_at(at)
            if hovered:
                self.show_under(None)
            else:
                self.pointed.emit(*self.to_page(at))
            if hovered != self._hovered:
                self._hovered = hovered
                self.setCursor(Qt.CursorShape.OpenHandCursor if hovered else Qt.CursorShape.ArrowCursor)
                self.update()

    def _emit_drag(self, name: str, to: Array, held: Qt.KeyboardModifier) -> None:
        size = float(np.sqrt(abs(np.linalg.det(self.place[:, :2])))) or 1.0
        grid = self._snap if self.show_grid else None
        free, whole = bool(held & Qt.KeyboardModifier.ControlModifier), bool(held & Qt.KeyboardModifier.ShiftModifier)
        self.dragged.emit(Drag(name, to, NEAR_PX / self.scale / size, free, whole, grid))

    def _snap(self, point: Array) -> Array:
        """The crossing of the construction grid nearest to a point of the rule's place."""
        on_page = self.sheet.grid.nearest(apply(self.place, point[None])[0])
        return np.asarray(apply(inverse(self.place), on_page[None])[0])

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._pan is not None and event.button() in (Qt.MouseButton.MiddleButton, Qt.MouseButton.LeftButton):
            self._pan = None
            self.setCursor(Qt.CursorShape.OpenHandCursor if self._space else Qt.CursorShape.ArrowCursor)
        if self._stroke and event.button() == Qt.MouseButton.LeftButton:
            self._stroke.append(event.position())
            self._end_drawing(np.concatenate([self._in_place(at)[None] for at in self._stroke]))
        if self._grab is not None and event.button() == Qt.MouseButton.LeftButton:
            self._grab = None
            self.drag_ended.emit(True)

    def show_under(self, level: Level | None) -> None:
        """Show what is under the pointer."""
        self.under = level
        self.update()

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        self.menu_wanted.emit(event.globalPos())

    def leaveEvent(self, event: object) -> None:
        self.show_under(None)
        super().leaveEvent(event)  # type: ignore[arg-type]

    def wheelEvent(self, event: QWheelEvent) -> None:
        turns = event.angleDelta().y() / 120
        if turns:
            self.zoom_to(self.scale * ZOOM_STEP**turns, event.position())
        event.accept()

    # -- keys ------------------------------------------------------------------------------------
    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        ways = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        if key == Qt.Key.Key_Escape and self._stroke is not None:
            self._end_drawing(None)
        elif key in POINT_KEYS and self.picked:
            self.work_on_points(POINT_KEYS[Qt.Key(key)])
        elif key == Qt.Key.Key_Escape and self._grab is not None:
            self._grab = None
            self.drag_ended.emit(False)
        elif key == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = True
            self.setCursor(Qt.CursorShape.OpenHandCursor)
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self._pick_next(1 if key == Qt.Key.Key_PageDown else -1)
        elif key in ways and self.picked and self.handles is not None:
            self._nudge_picked(ways[Qt.Key(key)], event.modifiers())
        elif key == Qt.Key.Key_Escape and self._nudged is not None:
            self._end_nudging(False)
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = False
            self.setCursor(Qt.CursorShape.ArrowCursor)
        else:
            super().keyReleaseEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        self._space = False
        self._end_nudging()
        super().focusOutEvent(event)

    def _pick_next(self, way: int) -> None:
        self._end_nudging()
        names = [h.name for h in self.handles.seen(self.picked)] if self.handles is not None else []
        if names:
            at = names.index(self.picked) if self.picked in names else -way
            self.picked = names[(at + way) % len(names)]
            self.setAccessibleDescription(f"handle: {self.picked}")
            self.update()

    def _nudge_picked(self, way: tuple[int, int], held: Qt.KeyboardModifier) -> None:
        """Move the picked handle by a step; all steps until something else is done are one visit, however fast they come."""
        if self._nudged is None:
            assert self.handles is not None
            self._nudged = next(h.at for h in self.handles.handles if h.name == self.picked)
            self.drag_begun.emit(self.picked)
        step = 0.1 * (10 if held & Qt.KeyboardModifier.ShiftModifier else 0.1 if held & Qt.KeyboardModifier.ControlModifier else 1)
        self._nudged = self._nudged + inverse(self.place)[:, :2] @ np.array(way, float) * step
        self._emit_drag(self.picked, self._nudged, Qt.KeyboardModifier.ControlModifier)
        self._rest.start()

    def _end_nudging(self, kept: bool = True) -> None:
        if self._nudged is not None:
            self._nudged = None
            self._rest.stop()
            self.drag_ended.emit(kept)
