"""Deals of siblings of every demo work: how many fail and why, and how long a deal takes, in times of one evaluation and picture.

``python -m bench.siblings 12`` deals twelve times each.
"""

from __future__ import annotations

import logging
import sys
import time
from collections import Counter

from under_lattice.declare.dials import NumberDial
from under_lattice.evaluate.cache import Cache
from under_lattice.explore.dealing import Terms, dealt
from under_lattice.explore.looks import SAME, Look, Looks, fault
from under_lattice.explore.movable import Movables
from under_lattice.library import DEMOS, demo
from under_lattice.library.layers import chain
from under_lattice.render.paint import paint
from under_lattice.rules import Ink, Lattice, Polygon, PushEdges, Split
from under_lattice.scene.tree import whole_page
from under_lattice.work.model import Design


class Faults(logging.Handler):
    """Counts faults of ours that a deal passed over."""

    def __init__(self) -> None:
        super().__init__()
        self.count = 0

    def emit(self, record: logging.LogRecord) -> None:
        self.count += 1


def many() -> Design:
    """Return a floor of about 5,000 copies."""
    layer = chain("Floor", Polygon(size=4.7), Split(), Ink(colours="part"), PushEdges(amount=0.4), Lattice())
    return Design(layers=(layer,))


def one_picture(design: Design) -> float:
    """Seconds of one evaluation and one picture of the sheet, 650 px wide, with nothing kept."""
    begun = time.perf_counter()
    scene, _ = Looks(Cache()).scene(design)
    paint(scene, whole_page(scene, 650))
    return time.perf_counter() - begun


def in_range(design: Design) -> bool:
    """Whether every number is within its range."""
    for one in Movables(design).all:
        if isinstance(one.dial, NumberDial):
            one.dial.check(one.value)
    return True


def checked(times: int) -> None:
    """Deal from each demo work and count what should not hang there."""
    faults = Faults()
    logging.getLogger("under_lattice").addHandler(faults)
    counts: Counter[str] = Counter()
    for name in DEMOS:
        design, begun, looks = demo(name).design, time.perf_counter(), Looks()
        now = looks.look(design)
        for seed in range(times):
            others: list[Look] = []
            for sibling in dealt(design, Terms(seed=seed, reach=(0.2, 0.5, 0.9)[seed % 3], colours=seed % 2 == 1), looks):
                look = looks.allowing(now).look(sibling.design)  # seen as near as the work was
                why = fault(look, now) or ("alike" if any(look.away(one) < SAME for one in others) else "")
                counts["siblings"] += 1
                counts[why or "good"] += 1
                counts["in range"] += in_range(sibling.design)
                others.append(look)
            counts["missing"] += 8 - len(others)
        print(f"{name:22} {time.perf_counter() - begun:6.1f} s for {times} deals", flush=True)
    print(dict(counts), f"told two apart from {SAME}; faults of ours passed over: {faults.count}")


def timed() -> None:
    """Time the deals of a work of 5,000 copies against one evaluation and picture of it."""
    design = many()
    one_picture(design)
    alone = min(one_picture(design) for _ in range(3))
    for seed in range(3):
        looks = Looks(Cache())
        looks.scene(design)  # the sheet shows it already
        begun = time.perf_counter()
        came = [time.perf_counter() - begun for _ in dealt(design, Terms(seed=seed), looks)]
        print(f"picture {alone * 1000:.0f} ms; first sibling {came[0] / alone:.2f}, all eight {came[-1] / alone:.2f} times that")


if __name__ == "__main__":
    checked(int(sys.argv[1]) if len(sys.argv) > 1 else 2)
    timed()
