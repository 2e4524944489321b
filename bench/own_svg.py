"""How far the SVG of each demo work, as other readers draw it, is from our picture: mean of 255 over all pixels and channels.

python -m bench.own_svg [WORK ...]    all works of the pattern book without names; about ten minutes

Both are painted four times as fine as they are compared, so that what is told is what is drawn, not how edges are softened.
"""

import sys
from typing import Any

import numpy as np

from tests.pictures import compare as _compare
from under_lattice.library import DEMOS, demo

ACROSS, FINER = 800, 4  # px that are compared, and how many px each is made of in either direction


def averaged(pixels: np.ndarray) -> np.ndarray:
    """Return means (h, ACROSS, 4) of pixels (H, W, 4), whole ones."""
    high = len(pixels) // FINER
    return pixels[: high * FINER].reshape(high, FINER, ACROSS, FINER, 4).mean((1, 3))


def main() -> None:
    """Print the mean difference of each work by each reader, and the share of pixels off by more than 24."""
    compare: Any = _compare  # of the tests, without types
    for name in sys.argv[1:] or DEMOS:
        scene, sheet, said = compare.demo_scene(name), demo(name).design.sheet, []
        painted = averaged(compare.ours(scene, ACROSS * FINER))
        for reader, drawn in compare.FOREIGN.items():
            theirs = averaged(drawn(scene, sheet, ACROSS * FINER))
            high = min(len(painted), len(theirs))
            away = np.abs(painted[:high] - theirs[:high])
            said.append(f"{reader} {away.mean():.2f} ({(away.max(-1) > 24).mean():.3%} over 24)")
        print(f"{name:24}", "  ".join(said), flush=True)


if __name__ == "__main__":
    main()
