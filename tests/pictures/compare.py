"""Painting the same scene with others, and how far two pictures differ."""

import io
import re
import shutil
import subprocess

import numpy as np
import resvg_py
from PIL import Image
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QBrush, QColor, QImage, QLinearGradient, QPainter, QPainterPath, QPen, QRadialGradient, QTransform

from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.geometry.affine import compose, inverse
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, POINTS_OF
from under_lattice.library import DEMOS, demo
from under_lattice.output.svg import Svg, write_svg
from under_lattice.pattern.marks import Plate
from under_lattice.render.paint import paint
from under_lattice.scene.tree import View, make_scene

RSVG = shutil.which("rsvg-convert")


def scene_of(design):
    evaluator = Evaluator()
    return make_scene(design, evaluate(design, evaluator), evaluator)


FINISHED = [name for name in DEMOS if any(rule.family == "finish" for _, rule in DEMOS[name]().every_rule())]


def demo_scene(name):
    return scene_of(demo(name).design)


def page_view(scene, width):
    """The whole page with its top left corner in the picture's."""
    scale = width / scene.width
    return View(width, int(np.ceil(scene.height * scale - 1e-6)), scale, width / 2, scene.height * scale / 2)


def ours(scene, width):
    return paint(scene, page_view(scene, width)).astype(float)


def premultiplied(png):
    pixels = np.asarray(Image.open(io.BytesIO(png)).convert("RGBA")).astype(float)
    pixels[..., :3] *= pixels[..., 3:] / 255
    return pixels


def by_rsvg(scene, sheet, width):
    svg = write_svg(scene, sheet, Svg(recipe=False))
    done = subprocess.run([RSVG, "--unlimited", "-w", str(width)], input=svg, capture_output=True, check=True)
    return premultiplied(done.stdout)


def by_resvg(scene, sheet, width):
    svg = write_svg(scene, sheet, Svg(recipe=False)).decode()  # a page of whole px, as it draws on, at exactly our scale
    high = page_view(scene, width).height
    page = f'width="{width}" height="{high}" preserveAspectRatio="xMinYMin meet"'
    svg = re.sub(r'width="[^"]+" height="[^"]+"', page, svg, count=1)
    return premultiplied(bytes(resvg_py.svg_to_bytes(svg, dpi=96.0)))


FOREIGN = {"resvg": by_resvg} | ({"rsvg": by_rsvg} if RSVG else {})


def by_qpainter(scene, width):
    """The plain loop: one path for each mark, antialiased; opaque normal layers only."""
    view = page_view(scene, width)
    image = QImage(view.width, view.height, QImage.Format.Format_RGBA8888_Premultiplied)
    image.fill(QColor(scene.background) if scene.background else Qt.GlobalColor.transparent)
    painter = QPainter(image)
    try:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for layer in reversed(scene.layers):
            paint_marks(painter, layer.picture, view.page_to_pixels(), view)
    finally:
        painter.end()
    return np.frombuffer(image.constBits(), np.uint8).reshape(view.height, view.width, 4).astype(float)


def paint_marks(painter, picture, place, view):
    """Paint marks, coat by coat of each; `place` brings them to pixels."""
    marks = picture.marks
    maps = compose(place[None], marks.xform)
    size = float(np.sqrt(abs(np.linalg.det(place[:, :2]))))
    for k in np.flatnonzero(marks.variant >= 0):
        for coat in picture.coats:
            fill, stroke = (np.broadcast_to(of, (marks.count, 4))[k] for of in (coat.fill, coat.stroke))
            width = float(np.broadcast_to(coat.width, marks.count)[k]) * size
            family = marks.families[marks.family[k]]
            (a, b, e), (c, d, f) = maps[k]
            path = QTransform(a, c, b, d, e, f).map(path_of(family.verbs, family.points[marks.variant[k]]))
            seat = seat_of(coat, k, maps, view)
            brush = QBrush(QColor(*fill))
            if isinstance(coat.paint, Plate) and fill[3]:
                painter.save()
                painter.setClipPath(path, Qt.ClipOperation.IntersectClip)
                paint_marks(painter, coat.paint, seat if coat.paint.of_marks else view.page_to_pixels(), view)
                painter.restore()
                fill = np.zeros(4)
            elif coat.paint is not None:
                brush = ramp_brush(coat.paint, seat, view)
            pen = QPen(QColor(*stroke), width, j=Qt.PenJoinStyle.MiterJoin)
            painter.setPen(pen if stroke[3] else Qt.PenStyle.NoPen)
            painter.setBrush(brush if fill[3] else Qt.BrushStyle.NoBrush)
            painter.drawPath(path)


def seat_of(coat, k, maps, view):
    """The place a mark's ramp is laid in -> pixels."""
    if coat.seat is None:
        return maps[k]
    return compose(view.page_to_pixels(), coat.seat[k if len(coat.seat) > 1 else 0])


def ramp_brush(ramp, xform, view):
    """The brush of a straight or round ramp, brought to pixels."""
    run = QLinearGradient(0, 0, 1, 0) if ramp.form == "linear" else QRadialGradient(0, 0, 1, ramp.focus, 0)
    for place, colour, alpha, _ in ramp.stops:
        run.setColorAt(place, QColor.fromRgbF(*QColor(colour).getRgbF()[:3], alpha))  # type: ignore[call-arg]
    brush = QBrush(run)
    (a, b, e), (c, d, f) = compose(xform if ramp.of_marks else view.page_to_pixels(), inverse(ramp.to_ramp))
    brush.setTransform(QTransform(a, c, b, d, e, f))
    return brush


def path_of(verbs, points):
    path, at = QPainterPath(), 0
    for verb in verbs:
        p = [QPointF(*point) for point in points[at : at + POINTS_OF[verb]]]
        {MOVE: path.moveTo, LINE: path.lineTo, CURVE: path.cubicTo, CLOSE: path.closeSubpath}[verb](*p)
        at += POINTS_OF[verb]
    return path


def apart(one, other):
    """Mean difference of all channels, and the share of pixels that differ by more than 64."""
    high = min(len(one), len(other)) - 1  # the last row may be cut by the page
    away = np.abs(one[:high] - other[:high])
    return float(away.mean()), float((away.max(-1) > 64).mean())
