"""Limits of every rule: each number at the ends of its range, and each rule above and below a thousand million copies.

python -m bench.limits [KIND]

A process for each kind of rule; a line for each work that takes over a second or 300 MB to be worked out and painted, or fails;
at the end the counts.
"""

import resource
import subprocess
import sys
import time
from pathlib import Path

from tests.at_limits import KINDS, crowds, works
from under_lattice.core.errors import LatticeError
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.render.paint import paint
from under_lattice.render.warm import warm
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.work.model import Design

LONGEST = 300  # s for all works of a rule
SECONDS, MEGABYTES = 1.0, 300


def peak() -> float:
    """Return the most memory since it was last asked for, in MB."""
    high = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmHWM"))
    Path("/proc/self/clear_refs").write_text("5")
    return int(high.split()[1]) / 1024


def told(words: str, design: Design, paints: bool) -> str:
    """Return a line about a work that takes long or fails, or nothing."""
    before, begun, said = _now(), time.perf_counter(), ""
    peak()
    try:
        evaluator = Evaluator()
        results = evaluator.design(design)
        said = "; ".join(problem.sentence for result in results.values() for problem in result.problems[:1])
        if paints:
            scene = make_scene(design, results, evaluator)
            paint(scene, whole_page(scene, 300))
    except LatticeError as error:
        said = str(error)
    except Exception as error:
        return f"  fault: {words}: {type(error).__name__} {error}"
    took, most = time.perf_counter() - begun, peak() - before
    return f"  {words}: {took:.1f} s, {most:.0f} MB {said[:90]}" if took > SECONDS or most > MEGABYTES else ""


def _now() -> float:
    return int(Path("/proc/self/statm").read_text().split()[1]) * resource.getpagesize() / 1e6


def one(kind: str) -> None:
    """Print what is to be said of a kind of rule."""
    warm()
    lines = [told(words, design, True) for words, design in works(KINDS[kind])]
    lines += [told(words, design, False) for words, design in crowds(KINDS[kind])]
    print(f"{kind}: {len(lines)} works, {sum(bool(line) for line in lines)} long or failed")
    print("\n".join(line for line in lines if line), flush=True)


def main() -> None:
    """Go through all kinds of rules."""
    for kind in KINDS:
        try:
            subprocess.run([sys.executable, "-m", "bench.limits", kind], timeout=LONGEST, check=False)
        except subprocess.TimeoutExpired:
            print(f"{kind}: not done after {LONGEST} s", flush=True)


if __name__ == "__main__":
    one(sys.argv[1]) if len(sys.argv) > 1 else main()
