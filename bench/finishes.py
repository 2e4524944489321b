"""What finishes cost beside the bare calls of libraries for the same numbers, and a large picture: times in one run.

python bench/finishes.py [PX]
"""

import importlib.util
import resource
import sys
import time
from collections.abc import Callable
from typing import Any

import numpy as np
from rounds import ratio
from scipy import ndimage

from under_lattice.colour.effects import Blur, Effect, Relief, Shadow, ToneCurve
from under_lattice.core.progress import Progress
from under_lattice.library.layers import chain, veil
from under_lattice.render.finish import finished
from under_lattice.render.paint import paint
from under_lattice.rules import Blur as BlurRule
from under_lattice.rules import Ellipse, Ink, Lattice
from under_lattice.rules import Relief as ReliefRule
from under_lattice.rules import Shadow as ShadowRule
from under_lattice.rules import Tone as ToneRule
from under_lattice.rules import ToneCurve as ToneCurveRule
from under_lattice.scene.tree import View, make_scene, whole_page
from under_lattice.work.model import Design, Sheet

CV2: Any = importlib.import_module("cv2") if importlib.util.find_spec("cv2") else None
SIDE, LARGE = 2000, 6000
POINTS = ((80 / 255, 50 / 255), (180 / 255, 210 / 255))


def discs() -> np.ndarray[Any, Any]:
    """Premultiplied pixels (SIDE, SIDE, 4) of soft discs."""
    y, x = np.mgrid[:SIDE, :SIDE]
    covered = np.clip(40 - np.hypot(x % 100 - 50, y % 100 - 50), 0, 1)
    return np.stack([covered * 0.7, covered * x / SIDE, covered * 0.2, covered], -1).astype(np.float32)


def bare_blur(pixels: np.ndarray[Any, Any], sigma: float) -> object:
    """The bare blur of a library, OpenCV where it is there."""
    if CV2 is None:
        return ndimage.gaussian_filter(pixels, (sigma, sigma, 0), truncate=4.0)
    return CV2.GaussianBlur(pixels, (0, 0), sigma)


def bare_distance(alpha: np.ndarray[Any, Any]) -> object:
    """The bare distance to an edge of a library."""
    if CV2 is None:
        return ndimage.distance_transform_edt(alpha > 0.5)
    return CV2.distanceTransform((alpha > 0.5).astype(np.uint8), CV2.DIST_L2, CV2.DIST_MASK_PRECISE)


def linear_blur(pixels: np.ndarray[Any, Any], sigma: float) -> object:
    """A blur in linear light by calls of libraries alone: to linear light, blurred, and back."""
    alpha = pixels[..., 3:]
    straight = np.divide(pixels[..., :3], alpha, out=np.zeros_like(pixels[..., :3]), where=alpha > 0)
    linear = np.where(straight <= 0.04045, straight / 12.92, ((straight + 0.055) / 1.055) ** 2.4) * alpha
    soft: Any = bare_blur(np.concatenate([linear, alpha], -1), sigma)
    back = np.divide(soft[..., :3], soft[..., 3:], out=np.zeros_like(soft[..., :3]), where=soft[..., 3:] > 0)
    return np.where(back <= 0.0031308, 12.92 * back, 1.055 * np.maximum(back, 0) ** (1 / 2.4) - 0.055) * soft[..., 3:]


def library_relief(pixels: np.ndarray[Any, Any], size: float) -> object:
    """A relief by calls of libraries alone, to whole pixels: distance, soft heights, slopes, light and shade laid on."""
    far = bare_distance(pixels[..., 3])
    heights: Any = bare_blur(np.minimum(np.asarray(far, np.float32), size)[..., None], 0.6)
    down, across = np.gradient(np.squeeze(heights))
    lit = np.maximum(0.64 - 0.38 * across + 0.66 * down, 0) / np.sqrt(across**2 + down**2 + 1)
    out = pixels
    for colour, share in ((1.0, np.clip((lit - 0.64) / 0.36, 0, 1)), (0.0, np.clip((0.64 - lit) / 0.64, 0, 1))):
        laid = np.float32(colour) * pixels[..., 3:]
        out = np.concatenate([out[..., :3] + (laid - out[..., :3]) * share[..., None], out[..., 3:]], -1)
    return out


def main() -> None:
    """Print ratios, then time and memory of a large picture with five finishes."""
    pixels, view = discs(), View(SIDE, SIDE, 1.0, SIDE / 2, SIDE / 2)
    table = np.linspace(0, 1, 256).astype(np.float32)

    def done(effect: Effect) -> Callable[[], object]:
        return lambda: finished(pixels, [effect], view)

    for sigma in (3.0, 12.0):
        ratio(f"blur of {sigma:g} px in linear light / bare blur", done(Blur(sigma)), lambda s=sigma: bare_blur(pixels, s))  # type: ignore[misc]
    ratio("blur of 3 px / the same by calls of libraries", done(Blur(3.0)), lambda: linear_blur(pixels, 3.0))
    alpha = np.ascontiguousarray(pixels[..., 3])
    ratio(
        "shadow of 12 px / bare blur of alpha",
        done(Shadow(9.0, 60.0, 12.0, (0, 0, 0), 0.5)),
        lambda: bare_blur(alpha[..., None], 12.0),
    )
    ratio("relief of 15 px / bare distance", done(Relief(15.0, 15.0, 40.0, -120.0)), lambda: bare_distance(alpha))
    ratio(
        "relief of 15 px / one by calls of libraries", done(Relief(15.0, 15.0, 40.0, -120.0)), lambda: library_relief(pixels, 15.0)
    )
    ratio("tone curve / bare table", done(ToneCurve(POINTS)), lambda: np.interp(pixels[..., :3], table, table))
    large(int(sys.argv[1]) if len(sys.argv) > 1 else LARGE)


def large(side: int) -> None:
    """Paint a large picture with five finishes; print its time and the memory it took."""
    grid = Lattice(form="squares", spacing="free", pitch=22.0, row_pitch=22.0)
    dots = chain("Dots", Ellipse(width=20.0), Ink(), grid, ReliefRule(size=3.0), ShadowRule())
    layers = (veil("Veil", BlurRule(size=0.6), ToneCurveRule(), ToneRule()), dots)
    design = Design(sheet=Sheet(width=300.0, height=300.0, background="#F4E8D0"), layers=layers)
    from under_lattice.evaluate.evaluator import Evaluator

    evaluator = Evaluator()
    scene = make_scene(design, evaluator.design(design), evaluator)
    begun, said = time.perf_counter(), list[str]()
    paint(scene, whole_page(scene, side), Progress(note=said.append))
    most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"{side} x {side} px with five finishes: {time.perf_counter() - begun:.1f} s, at most {most:.0f} MB {said or ''}")


if __name__ == "__main__":
    main()
