"""The sheet: the picture with its surround, pan and zoom, and the handles of the open rule."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QContextMenuEvent,
    QFocusEvent,
    QInputDevice,
    QKeyEvent,
    QMouseEvent,
    QNativeGestureEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QTabletEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QGestureEvent, QPinchGesture

from under_lattice.geometry.affine import Array, apply, inverse
from under_lattice.picking.picker import Level
from under_lattice.rules.handles import Drag, Handle, HandleSet
from under_lattice.ui.look.dressing import Bare
from under_lattice.ui.look.tokens import colour
from under_lattice.ui.sheet.brush import Brush
from under_lattice.ui.sheet.canvas import Canvas
from under_lattice.ui.sheet.compare import paint_word
from under_lattice.ui.sheet.handle_paint import HandlePainter, spread
from under_lattice.ui.sheet.level_paint import LevelPaint

REST_MS = 1500  # without a key after which a moved handle has come to rest: one step of undo
NEAR_PX = 9.0
ZOOM_STEP = 1.15
POINT_KEYS = {Qt.Key.Key_Delete: "remove", Qt.Key.Key_Insert: "add"}


class SheetView(Bare, Canvas):
    """The canvas with the handles of the open rule, and hands on them; the wheel zooms at the pointer."""

    drag_begun = Signal(str)
    dragged = Signal(object)
    drag_ended = Signal(bool)  # False when it was given up
    pointed = Signal(float, float)  # page point under the pointer
    pressed = Signal()  # on what is shown under the pointer
    point_work = Signal(str, str, object)  # work on the points of an outline, the picked handle, the pointer's place (2,)
    stroke_painted = Signal(object)  # a stroke (n, 3) of the brush on the sheet: places, and how hard it was pressed there
    painting_ended = Signal()
    tapped = Signal()  # the space bar, with nothing done while it was held
    line_drawn = Signal(object)  # a line (n, 2) in the place of the open rule, or None when it was given up
    menu_wanted = Signal(object)  # QPoint on the screen: what can be done with what is shown under the pointer

    def __init__(self) -> None:
        super().__init__()
        self.handles: HandleSet | None = None
        self.place: Array = np.eye(2, 3)
        self.show_handles = True
        self.playing = False
        self.picked = ""
        self._hovered = ""
        self._nudged: Array | None = None  # where keys have moved the picked handle to
        self._rest = QTimer(self, singleShot=True, interval=REST_MS)
        self._rest.timeout.connect(self._end_nudging)
        self._grab: tuple[str, Array] | None = None  # handle, what lies between the pointer and it
        self._pan: QPointF | None = None
        self.under: Level | None = None  # what is shown under the pointer
        self._level_paint = LevelPaint()
        self._pointer = QPointF()
        self._space = self._tapped = False  # held, and nothing done with it yet
        self.brush = Brush()
        self._stroke: list[QPointF] | None = None  # while a line is drawn: what of it there is
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.grabGesture(Qt.GestureType.PinchGesture)
        self.setAccessibleName("Sheet")

    # -- what is shown ---------------------------------------------------------------------------
    def show_handle_set(self, handles: HandleSet | None, place: Array) -> None:
        """Take over the handles of the open rule and the map from its place to the sheet."""
        self.handles, self.place = handles, place
        if handles is None or self.picked not in {h.name for h in handles.handles}:
            self.picked = ""
        self.update()

    # -- painting --------------------------------------------------------------------------------
    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        self.paint_sheet(painter)
        if self.playing:  # what is on the sheet is of the moment before it played
            painter.end()
            return
        if self.under is not None and not self.compare.on and not self.repeated.on and not self.instead:
            self._level_paint.paint(painter, self.under, self.pixels_at, self._pointer, QRectF(self.rect()), self.sheet.background)
        if self.instead:
            paint_word(painter, self.instead, self.page().intersected(QRectF(self.rect())).topLeft() + QPointF(10, 10))
        elif self.show_handles and self.handles is not None and not self.compare.on and not self.repeated.on:
            self._handle_painter(painter).paint(self.handles, self.picked, self._hovered)
        self.compare.paint_thread(painter)
        if self._stroke:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(colour("ver"), 2))
            painter.drawPolyline(QPolygonF(self._stroke))
        if self.brush.on:
            self.brush.paint(painter, self.scale)
        if self.hasFocus():
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(colour("ver"), 2))
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.end()

    def _handle_painter(self, painter: QPainter) -> HandlePainter:
        return HandlePainter(painter, self.pixels_of, QRectF(self.rect()), self.sheet.background)

    def pixels_of(self, points: Array) -> Array:
        """Return where points (k, 2) in the open rule's place are in the widget, in px."""
        return self.pixels_at(apply(self.place, np.atleast_2d(points)))

    def points_of(self, points: Array) -> list[QPointF]:
        """The same as points of the widget."""
        return [QPointF(x, y) for x, y in self.pixels_of(points).tolist()]

    def spread_handles(self) -> list[tuple[Handle, QPointF]]:
        """Return the handles that are seen, each with the point of the widget where it is shown, apart from the others."""
        seen = self.handles.seen(self.picked) if self.handles is not None else ()
        return list(zip(seen, spread([self.points_of(one.at)[0] for one in seen], [one.form for one in seen]), strict=True))

    # -- mouse -----------------------------------------------------------------------------------
    def handle_at(self, at: QPointF) -> str:
        """Return the name of the handle under a point, or nothing."""
        if not self.show_handles or self.playing or self.handles is None or self.instead or self.compare.on or self.repeated.on:
            return ""
        near = []
        for handle, point in self.spread_handles():
            away = point - at
            if handle.form != "frame" and abs(away.x()) + abs(away.y()) <= 13:
                near.append((not handle.of, abs(away.x()) + abs(away.y()), handle.name))  # those of a picked point lie over it
        if near:
            return min(near)[2]
        framed = next((h.name for h in self.handles.handles if h.form == "frame"), "")
        ring = QPolygonF(self.points_of(self.handles.frame)) if framed and self.handles.frame is not None else None
        if ring is not None and ring.containsPoint(at, Qt.FillRule.OddEvenFill):
            return framed
        return ""

    def _in_place(self, at: QPointF) -> Array:
        return apply(inverse(self.place), np.array([self.to_page(at)]))[0]

    def pan_by(self, moved: QPointF) -> None:
        """Move the sheet under the window by so many px."""
        self.centre = (self.centre[0] - moved.x() / self.scale, self.centre[1] - moved.y() / self.scale)
        self.fitted = False
        self._changed()

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

    def begin_painting(self, size: float, hides: bool) -> None:
        """Take drags as strokes of a brush until Escape; again for another brush."""
        self.brush.size, self.brush.hides = size, hides
        if not self.brush.on:
            self.brush.on = True
            self.setCursor(Qt.CursorShape.BlankCursor)
            self.setFocus(Qt.FocusReason.OtherFocusReason)
        self.update()

    def end_painting(self) -> None:
        """Put the brush away."""
        if self.brush.on:
            self.brush.on = False
            self.brush.give_up()
            self.setCursor(Qt.CursorShape.ArrowCursor)
            self.painting_ended.emit()
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
        if self.brush.on and event.button() == Qt.MouseButton.LeftButton and not self._space:
            self.brush.press(event.position(), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))
            self.update()
            return
        pans = event.button() == Qt.MouseButton.MiddleButton or (event.button() == Qt.MouseButton.LeftButton and self._space)
        if pans:
            self._tapped = False
            self._pan = event.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            return
        if event.button() == Qt.MouseButton.LeftButton and self.compare.grab(event.position()):
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
        if self.compare.held:
            self.compare.drag(at)
        elif self._stroke is not None:
            if event.buttons() & Qt.MouseButton.LeftButton:
                self._stroke.append(at)
                self.update()
        elif self.brush.on and self._pan is None:
            self.brush.move(at, bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))
            self.update()
        elif self._pan is not None:
            moved = at - self._pan
            self._pan = at
            self.pan_by(moved)
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
        self.compare.let_go()
        if self._pan is not None and event.button() in (Qt.MouseButton.MiddleButton, Qt.MouseButton.LeftButton):
            self._pan = None
            self.setCursor(Qt.CursorShape.OpenHandCursor if self._space else Qt.CursorShape.ArrowCursor)
        if self.brush.down and event.button() == Qt.MouseButton.LeftButton:
            self.stroke_painted.emit(np.array([(*self.to_page(at), pressure) for at, pressure in self.brush.release()]))
        if self._stroke and event.button() == Qt.MouseButton.LeftButton:
            self._stroke.append(event.position())
            self._end_drawing(np.concatenate([self._in_place(at)[None] for at in self._stroke]))
        if self._grab is not None and event.button() == Qt.MouseButton.LeftButton:
            self._grab = None
            self.drag_ended.emit(True)

    def tabletEvent(self, event: QTabletEvent) -> None:
        """Take how hard a pen is pressed; what it does is told once more as the mouse, which follows at once."""
        tells = event.pointingDevice().hasCapability(QInputDevice.Capability.Pressure)
        self.brush.pressure = event.pressure() if tells and event.buttons() & Qt.MouseButton.LeftButton else 1.0
        event.ignore()

    def show_under(self, level: Level | None) -> None:
        """Show what is under the pointer."""
        self.under = level
        self.update()

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        self.menu_wanted.emit(event.globalPos())

    def leaveEvent(self, event: object) -> None:
        self.show_under(None)
        super().leaveEvent(event)  # type: ignore[arg-type]

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QNativeGestureEvent) and event.gestureType() == Qt.NativeGestureType.ZoomNativeGesture:
            self.zoom_to(self.scale * (1.0 + event.value()), event.position())
            return True
        if isinstance(event, QGestureEvent):
            pinch = event.gesture(Qt.GestureType.PinchGesture)
            if isinstance(pinch, QPinchGesture):
                self.zoom_to(self.scale * pinch.scaleFactor(), QPointF(self.mapFromGlobal(pinch.centerPoint().toPoint())))
                return True
        return super().event(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        fingers = event.phase() != Qt.ScrollPhase.NoScrollPhase or event.device().type() == QInputDevice.DeviceType.TouchPad
        if fingers and not event.modifiers() & Qt.KeyboardModifier.ControlModifier:  # two fingers move the sheet
            moved = QPointF(event.pixelDelta()) if not event.pixelDelta().isNull() else QPointF(event.angleDelta()) / 2
            self.pan_by(moved)
            event.accept()
            return
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
        elif key == Qt.Key.Key_Escape and self.brush.down:
            self.brush.give_up()
            self.update()
        elif key == Qt.Key.Key_Escape and self.brush.on:
            self.end_painting()
        elif self.compare.takes_key(event):
            return
        elif key in POINT_KEYS and self.picked:
            self.work_on_points(POINT_KEYS[Qt.Key(key)])
        elif key == Qt.Key.Key_Escape and self._grab is not None:
            self._grab = None
            self.drag_ended.emit(False)
        elif key == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = self._tapped = True
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
        if self.compare.takes_key(event):
            return
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            if self._space and self._tapped:
                self.tapped.emit()
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
