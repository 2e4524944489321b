"""Stop pressed while works of absurd sizes are worked out: seconds until the work has ended, for several moments of it.

python bench/stopping.py [NAME]
"""

import sys
import time

from absurd import CASES

from under_lattice.core.errors import GivenUp, LatticeError
from under_lattice.core.progress import Progress
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.measure.facts import measure
from under_lattice.render.paint import paint
from under_lattice.render.warm import warm
from under_lattice.scene.tree import make_scene, whole_page

MOMENTS = (0.1, 0.3, 1.0, 2.0, 4.0, 8.0)  # s after the beginning


def ended(name: str, after: float) -> str:
    """Return in words how long a work goes on after it was stopped."""
    design, evaluator, until = CASES[name](), Evaluator(), time.perf_counter() + after
    progress = Progress(stop=lambda: time.perf_counter() > until)
    try:
        results = evaluator.design(design, progress)
        scene = make_scene(design, results, evaluator, progress=progress)
        paint(scene, whole_page(scene, 900), progress=progress)
        for result in list(results.values())[:20]:
            measure(result, evaluator, design.sheet, progress=progress)
    except GivenUp:
        return f"{time.perf_counter() - until:.2f} s"
    except LatticeError:
        return "refused"
    return "done before"


def main(names: list[str]) -> None:
    """Print how long each goes on."""
    warm()
    for name in names:
        print(f"{name}: {', '.join(f'after {after} s: {ended(name, after)}' for after in MOMENTS)}", flush=True)


if __name__ == "__main__":
    main(sys.argv[1:] or list(CASES))
