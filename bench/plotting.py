"""How far a pen is carried between 20,000 strokes: as the work lies, the nearest first, as ordered; ratios and seconds of one run.

python -m bench.plotting [STROKES]
"""

import sys
import time

import numpy as np

from under_lattice.core.progress import QUIET
from under_lattice.output.plot import route


def main() -> None:
    """Print the ratios."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 20_000
    rng = np.random.default_rng(1)
    begin, way, length = rng.random((count, 2)) * 300, rng.random(count) * 2 * np.pi, rng.random(count) * 4
    lines = [np.array([p, p + r * np.array([np.cos(t), np.sin(t)])]) for p, t, r in zip(begin, way, length, strict=True)]
    before = route.travel(lines)
    started = time.perf_counter()
    ends = np.array([(line[0], line[-1]) for line in lines])
    order, turned = route._nearest(ends, np.zeros(2), QUIET)
    nearest = [lines[k][::-1] if back else lines[k] for k, back in zip(order, turned, strict=True)]
    halfway = time.perf_counter()
    found = route.ordered(lines)
    ended = time.perf_counter()
    for name, those, seconds in (("the nearest first", nearest, halfway - started), ("as ordered", found, ended - halfway)):
        print(f"{name}: {route.travel(those) / before:.2%} of the way as it lies, {seconds:.1f} s")
    print(f"as ordered over the nearest first: {route.travel(found) / route.travel(nearest):.3f}")


if __name__ == "__main__":
    main()
