"""The painter beside general rasterizers on the same scenes, one thread each, in turns in one process.

They are fetched into a folder of their own, which nothing else uses; one that cannot be had is left out, and said. Each draws every
copy by its map, in the plainest loop its own manual shows, antialiased.

python bench/rivals.py [FOLDER]
"""

import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from functools import partial
from importlib import import_module
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PySide6.QtGui import QGuiApplication
from scenes import HEIGHT, STOPS, VIEW, WIDTH, Trial, all_trials, by_loop

from under_lattice.geometry.outline import CLOSE, CURVE, MOVE, POINTS_OF
from under_lattice.pattern.marks import Picture
from under_lattice.render.paint import paint
from under_lattice.scene.tree import SceneLayer

PACKAGES = ("skia-python", "cairocffi", "aggdraw")
ROUNDS = 7
Act = Callable[..., Any]
LONGEST = 3.0  # s; what takes longer is timed once


def fetched(folder: Path) -> None:
    """Put the rasterizers into a folder, and let them be imported from there after everything else."""
    for package in PACKAGES:
        order = [sys.executable, "-m", "pip", "install", "--quiet", "--target", str(folder), package]
        if subprocess.run(order, capture_output=True, check=False).returncode:
            print(f"{package} could not be fetched")
    sys.path.append(str(folder))


def picture_of(trial: Trial) -> Picture:
    """What a scene is made of."""
    layer = trial.scene.layers[0]
    assert isinstance(layer, SceneLayer)
    return layer.picture


def shapes_of(trial: Trial) -> list[list[tuple[int, list[tuple[float, float]]]]]:
    """All outlines, as verbs with their points."""
    return [segments(trial, variant) for variant in range(len(picture_of(trial).marks.families[0].points))]


def segments(trial: Trial, variant: int) -> list[tuple[int, list[tuple[float, float]]]]:
    """The verbs of an outline, each with its points."""
    family, at, out = picture_of(trial).marks.families[0], 0, []
    for verb in family.verbs:
        out.append((verb, [tuple(point) for point in family.points[variant, at : at + POINTS_OF[verb]].tolist()]))
        at += POINTS_OF[verb]
    return out


def drawn(outline: list[Any], move: Act, line: Act, curve: Act, close: Act) -> None:
    """Draw an outline by what a rasterizer has for each verb."""
    for verb, points in outline:
        act = close if verb == CLOSE else curve if verb == CURVE else move if verb == MOVE else line
        act(*[number for point in points for number in point])


def copies(trial: Trial) -> tuple[Any, Any, Any, Any, float]:
    """Variants, maps, fills and strokes of all copies (n, ...) and how wide lines are, in px."""
    picture = picture_of(trial)
    marks, coat = picture.marks, picture.coats[0]
    many = (marks.count, 4)
    fill, stroke = np.broadcast_to(coat.fill, many), np.broadcast_to(coat.stroke, many)
    return marks.variant.tolist(), marks.xform.tolist(), fill.tolist(), stroke.tolist(), float(coat.width.max())


def by_skia(trial: Trial) -> Callable[[], Any]:
    """Skia's raster canvas."""
    skia = import_module("skia")

    variants, maps, fills, strokes, wide = copies(trial)
    ramp, blend = trial.name.startswith("S3"), trial.name.startswith("S5")

    def path(outline: list[Any]) -> Any:
        made = skia.Path() if hasattr(skia.Path(), "moveTo") else skia.PathBuilder()
        drawn(outline, made.moveTo, made.lineTo, made.cubicTo, made.close)
        return made.detach() if hasattr(made, "detach") else made

    shapes = [path(outline) for outline in shapes_of(trial)]
    colours = [skia.Color(*(int(colour[1:][k : k + 2], 16) for k in (0, 2, 4))) for _, colour in STOPS]
    run = skia.GradientShader.MakeLinear(points=[(-1, 0), (11, 0)], colors=colours, positions=[at for at, _ in STOPS])

    def draw() -> Any:
        surface = skia.Surface(WIDTH, HEIGHT)
        canvas = surface.getCanvas()
        canvas.clear(skia.ColorWHITE)
        canvas.translate(WIDTH / 2, HEIGHT / 2)
        for variant, ((a, b, x), (c, d, y)), fill, stroke in zip(variants, maps, fills, strokes, strict=True):
            canvas.save()
            canvas.concat(skia.Matrix.MakeAll(a, b, x, c, d, y, 0, 0, 1))
            if fill[3]:
                inside = skia.Paint(AntiAlias=True, Color=skia.Color(*fill))
                if ramp:
                    inside.setShader(run)
                canvas.drawPath(shapes[variant], inside)
            if stroke[3]:
                line = skia.Paint(AntiAlias=True, Color=skia.Color(*stroke), Style=skia.Paint.kStroke_Style, StrokeWidth=wide / a)
                if blend:
                    line.setBlendMode(skia.BlendMode.kMultiply)
                canvas.drawPath(shapes[variant], line)
            canvas.restore()
        return surface.makeImageSnapshot().toarray(colorType=skia.kRGBA_8888_ColorType)

    return draw


def by_cairo(trial: Trial) -> Callable[[], Any]:
    """Cairo's image surface."""
    cairo = import_module("cairocffi")

    variants, maps, fills, strokes, wide = copies(trial)
    ramp, blend = trial.name.startswith("S3"), trial.name.startswith("S5")
    shapes = shapes_of(trial)
    run = cairo.LinearGradient(-1, 0, 11, 0)
    for at, colour in STOPS:
        run.add_color_stop_rgb(at, *(int(colour[1:][k : k + 2], 16) / 255 for k in (0, 2, 4)))

    def draw() -> Any:
        surface = cairo.ImageSurface(cairo.FORMAT_ARGB32, WIDTH, HEIGHT)
        context = cairo.Context(surface)
        context.set_source_rgb(1, 1, 1)
        context.paint()
        context.translate(WIDTH / 2, HEIGHT / 2)
        kept: dict[int, Any] = {}
        for variant, ((a, b, x), (c, d, y)), fill, stroke in zip(variants, maps, fills, strokes, strict=True):
            context.save()
            context.transform(cairo.Matrix(a, c, b, d, x, y))
            if variant not in kept:
                context.new_path()
                drawn(shapes[variant], context.move_to, context.line_to, context.curve_to, context.close_path)
                kept[variant] = context.copy_path()
            context.new_path()
            context.append_path(kept[variant])
            if fill[3]:
                context.set_source(run) if ramp else context.set_source_rgba(*(value / 255 for value in fill))
                context.fill_preserve()
            if stroke[3]:
                context.set_operator(cairo.OPERATOR_MULTIPLY if blend else cairo.OPERATOR_OVER)
                context.set_source_rgba(*(value / 255 for value in stroke))
                context.set_line_width(wide / a)
                context.stroke()
            context.restore()
        return np.frombuffer(bytes(surface.get_data()), np.uint8).reshape(HEIGHT, WIDTH, 4)[..., [2, 1, 0, 3]]

    return draw


def by_agg(trial: Trial) -> Callable[[], Any] | None:
    """Anti-Grain Geometry by way of aggdraw, which has neither ramps nor blend modes."""
    aggdraw = import_module("aggdraw")

    if trial.name[:2] in ("S3", "S5"):
        return None
    variants, maps, fills, strokes, wide = copies(trial)

    def path(outline: list[Any]) -> Any:
        made = aggdraw.Path()
        drawn(outline, made.moveto, made.lineto, made.curveto, made.close)
        return made

    shapes = [path(outline) for outline in shapes_of(trial)]

    def draw() -> Any:
        canvas = aggdraw.Draw("RGBA", (WIDTH, HEIGHT), "white")
        for variant, ((a, b, x), (c, d, y)), fill, stroke in zip(variants, maps, fills, strokes, strict=True):
            canvas.settransform((a, b, x + WIDTH / 2, c, d, y + HEIGHT / 2))
            pen = aggdraw.Pen(tuple(stroke[:3]), wide, stroke[3]) if stroke[3] else None
            brush = aggdraw.Brush(tuple(fill[:3]), fill[3]) if fill[3] else None
            canvas.path(shapes[variant], pen, brush)
        return np.frombuffer(canvas.tobytes(), np.uint8).reshape(HEIGHT, WIDTH, 4)

    return draw


RIVALS = {"skia": by_skia, "cairo": by_cairo, "agg": by_agg}


def once(act: Callable[[], Any]) -> float:
    """Seconds of one go."""
    begun = time.perf_counter()
    act()
    return time.perf_counter() - begun


def main(folder: Path) -> None:
    """Print how many times as fast as the plain loop of Qt each is, on every scene."""
    QGuiApplication.instance() or QGuiApplication([])
    fetched(folder)
    for trial in all_trials():
        acts: dict[str, Callable[[], Any]] = {
            "ours": partial(paint, trial.scene, VIEW, threads=1),
            "ours, two threads": partial(paint, trial.scene, VIEW, threads=2),
            "Qt": partial(by_loop, trial),
        }
        for name, rival in RIVALS.items():
            try:
                made = rival(trial)
            except (ImportError, OSError) as error:
                print(f"{name} is left out: {error}")
                continue
            if made is not None:
                acts[name] = made
        first = {name: once(act) for name, act in acts.items()}
        quick = {name: act for name, act in acts.items() if first[name] < LONGEST}
        times = {name: [took] for name, took in first.items()} | {name: [] for name in quick}
        for _ in range(ROUNDS):
            for name, act in quick.items():
                times[name].append(once(act))
        took = {name: statistics.median(some) for name, some in times.items()}
        best = min(value for name, value in took.items() if not name.startswith("ours"))
        said = ", ".join(f"{name} {1000 * value:.0f} ms ({took['Qt'] / value:.1f})" for name, value in took.items())
        own = acts["ours"]().astype(float)[..., :3]
        off = ", ".join(f"{name} {np.abs(own - acts[name]()[..., :3]).mean():.1f}" for name in acts if name in RIVALS)
        print(f"{trial.name}: {said}", f"  the best of them over ours {best / took['ours']:.1f}", sep="\n")
        print(f"  levels of 255 off in the mean: {off}", flush=True)


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else Path(tempfile.gettempdir()) / "under-lattice-rivals")
