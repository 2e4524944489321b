"""Works of absurd sizes, each in a process of its own: how long each takes, what it takes of memory, what is refused and why.

python bench/absurd.py [NAME]
"""

import resource
import subprocess
import sys
import time
from collections.abc import Callable

from under_lattice.core.errors import LatticeError
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library import demo
from under_lattice.library.layers import chain
from under_lattice.measure.facts import measure
from under_lattice.render.paint import paint
from under_lattice.render.warm import warm
from under_lattice.rules import (
    Adjust,
    Combine,
    Dash,
    Ellipse,
    Lattice,
    Offset,
    Polygon,
    PushEdges,
    Spiral,
    Split,
    Warp,
    WaveEdges,
    Weave,
)
from under_lattice.rules.base import Rule
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.work.edits import set_dial
from under_lattice.work.model import Design, Sheet

LONGEST = 120  # s


def of(*rules: Rule) -> Design:
    """Return a work of one layer."""
    return Design(sheet=Sheet(), layers=(chain("Layer", *rules),))


def grid(side: int, pitch: float = 1.0) -> Lattice:
    """Return a square of copies."""
    return Lattice(form="squares", spacing="free", pitch=pitch, row_pitch=pitch, extent="by number", columns=side, rows=side)


def towels() -> Design:
    """Return the dyed towels with edges pushed by 10,000."""
    design = demo("dyed-towels").design
    layer, rule = next((layer, rule) for layer, rule in design.every_rule() if rule.kind == "push-edges")
    return set_dial(design, layer.id, rule.id, "amount", 10_000.0)


SQUARE = Polygon(sides=4, size=10.0)
CASES: dict[str, Callable[[], Design]] = {
    "push edges 10,000": towels,
    "wave edges 60 on 120 sides of 10,000": lambda: of(Polygon(sides=120, size=10.0), WaveEdges(waves=60), grid(100)),
    "wavelength 0.01 on 100,000": lambda: of(SQUARE, grid(316), Warp(form="wave", wavelength=0.01)),
    "split 60 x 60 of 10,000": lambda: of(SQUARE, Split(into="cells", columns=60, rows=60), grid(100)),
    "40 offset rings three times": lambda: of(Polygon(size=100.0), *(Offset(rings=40, distance=1.0) for _ in range(3))),
    "dash 0.001": lambda: of(Polygon(size=100.0), Dash(dash=0.001, gap=0.001, fit="as typed")),
    "weave 200 x 200 in a lattice": lambda: of(Weave(columns=200, rows=200), grid(20, 100.0)),
    "500 adjusts": lambda: of(SQUARE, grid(30), *(Adjust(turn=0.5) for _ in range(500))),
    "10,000 layers": lambda: Design(layers=tuple(chain(f"Layer {k}", Ellipse(width=4.0)) for k in range(10_000))),
    "a spiral of 200 turns, touching": lambda: of(Spiral(turns=200.0), Lattice()),
    "half a million pushed edges": lambda: of(Polygon(sides=6, size=1.0), grid(289, 2.0), PushEdges(amount=0.2)),
    "exclusion of 900 discs": lambda: of(Ellipse(width=30.0), grid(30, 9.0), Combine(how="exclusion")),
    "a million points at 0.001": lambda: of(Ellipse(width=0.001), grid(1000, 0.001)),
}


def one(name: str) -> str:
    """Return in words what a work costs."""
    warm()
    before, said, begun = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss, [], time.perf_counter()

    def passed(what: str) -> None:
        nonlocal begun
        now = time.perf_counter()
        said.append(f"{what} {now - begun:.2f} s")
        begun = now

    try:
        design, evaluator = CASES[name](), Evaluator()
        passed("made")
        results = evaluator.design(design)
        passed("evaluated")
        said.extend(f"refused: {problem.sentence}" for result in results.values() for problem in result.problems[:1])
        scene = make_scene(design, results, evaluator)
        passed("drawn")
        paint(scene, whole_page(scene, 900))
        passed("painted")
        for result in list(results.values())[:20]:
            measure(result, evaluator, design.sheet)
        passed("measured")
    except LatticeError as error:
        said.append(str(error))
    memory = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
    return f"{', '.join(said)}, {memory:.0f} MB"


def main() -> None:
    """Print what each costs."""
    for name in CASES:
        asked = [sys.executable, __file__, name]
        try:
            found = subprocess.run(asked, timeout=LONGEST, capture_output=True, text=True, check=False)
            print(f"{name}: {found.stdout.strip() or found.stderr.strip()[-200:]}", flush=True)
        except subprocess.TimeoutExpired:
            print(f"{name}: not done after {LONGEST} s", flush=True)


if __name__ == "__main__":
    print(one(sys.argv[1])) if len(sys.argv) > 1 else main()
