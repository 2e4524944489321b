"""What facts cost beside one picture of the same work, and how they grow with the copies: ratios of times in one run.

The window measures the layer that is chosen: the dearest one is what it may take there, all of them what a page of facts takes.

python bench/facts.py
"""

import statistics
import time
from collections.abc import Callable, Sequence
from functools import partial

import scipy.spatial  # noqa: F401  loaded before the clock runs

from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library import DEMOS, demo
from under_lattice.library.layers import chain
from under_lattice.measure.facts import measure
from under_lattice.render.paint import paint
from under_lattice.rules import Ellipse, Ink, Lattice
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.work.model import Design, Sheet

WIDTH = 900  # px of a picture


def took(acts: Sequence[Callable[[], object]], rounds: int = 9) -> list[float]:
    """Return how long each of some acts takes, the median of some rounds in which they take turns."""
    times = []
    for _ in range(rounds):
        for act in acts:
            begun = time.perf_counter()
            act()
            times.append(time.perf_counter() - begun)
    return [statistics.median(times[at :: len(acts)]) for at in range(len(acts))]


def both(design: Design, rounds: int = 9) -> tuple[float, float, float, int]:
    """Return seconds of the facts of the dearest layer, of all, and of one picture, and how many copies there are."""
    evaluator = Evaluator()
    results = evaluator.design(design)
    scene = make_scene(design, results, evaluator)
    for result in results.values():
        evaluator.picture(result)
    acts: list[Callable[[], object]] = [partial(measure, result, evaluator, design.sheet) for result in results.values()]
    *each, painted = took([*acts, lambda: paint(scene, whole_page(scene, WIDTH))], rounds)
    copies = sum(result.last.stage.n for result in results.values() if result.last and result.last.stage)
    return max(each), sum(each), painted, copies


def discs(side: int, pitch: float) -> Design:
    """Return a square of overlapping discs."""
    grid = Lattice(form="squares", spacing="free", pitch=pitch, row_pitch=pitch, extent="by number", columns=side, rows=side)
    layer = chain("Discs", Ellipse(width=4 * pitch), Ink(), grid)
    return Design(sheet=Sheet(width=side * pitch, height=side * pitch), layers=(layer,))


def main() -> None:
    """Print the ratios."""
    shares = []
    for name in DEMOS:
        dearest, facts, painted, _ = both(demo(name).design)
        shares.append((dearest / painted, name, dearest, facts, painted))
    for share, name, dearest, facts, painted in sorted(shares, reverse=True):
        times = f"{1000 * dearest:.0f} and {1000 * painted:.0f} ms"
        print(f"{name}: facts of the dearest layer over picture {share:.1f} ({times}), of all layers {facts / painted:.1f}")
    before = None
    for side in (158, 316, 632, 1000):
        _, facts, painted, copies = both(discs(side, 300 / side), 3)
        growth = "" if before is None else f", {facts / before[0]:.1f} times as long for {copies / before[1]:.1f} times as many"
        print(f"{copies:,} overlapping discs: facts over picture {facts / painted:.1f} ({1000 * facts:.0f} ms){growth}")
        before = facts, copies


if __name__ == "__main__":
    main()
