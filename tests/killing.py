"""A writer that is killed at any moment, over and over, and what it leaves: short in the tests, long in `bench/kills.py`.

It runs in a process of its own without threads, which forks the writers.
"""

import json
import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from under_lattice.core.errors import FileError
from under_lattice.declare.frozen import edited
from under_lattice.files.recipe import open_any
from under_lattice.files.saving import PARTIAL, write_atomically
from under_lattice.files.storage import write
from under_lattice.files.unsaved import Place, folder, left_behind
from under_lattice.library import demo
from under_lattice.work.model import Work

LONGEST = 0.12  # s


def counts(what: str, kills: int, where: Path, seed: int = 1) -> dict[str, int]:
    """Return how many kills left a whole file, a broken one, none yet, and how many partial files were left after one more save."""
    asked = [sys.executable, "-m", "tests.killing", what, str(kills), str(where), str(seed)]
    env = os.environ | {"XDG_STATE_HOME": str(where)}
    done = subprocess.run(asked, env=env, cwd=Path(__file__).parents[1], check=True, capture_output=True)
    found: dict[str, int] = json.loads(done.stdout)
    return found


def _killed(writes: Callable[[Work], object], work: Work, after: float) -> None:
    """Fork a writer that writes one state after another, and kill it."""
    child = os.fork()
    if not child:
        for k in range(10**9):
            writes(edited(work, design=edited(work.design, commission=str(k))))
    time.sleep(after)
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)


def _saving(work: Work, path: Path, linked: bool, after: float) -> str:
    if linked and not path.exists():
        write(work, path)
        os.link(path, path.with_name("other.lattice"))
    _killed(lambda state: write(state, path), work, after)
    if not path.exists():
        return "none yet"
    try:
        open_any(path)
    except FileError:
        return "broken"
    return "whole"


def _copying(work: Work, name: str, after: float) -> str:
    _killed(Place(folder() / f"{name}.unsaved").write, work, after)
    found, problems = left_behind()
    for one in found:
        one.place.clear()
    return "broken" if problems or len(found) > 1 else "whole" if found else "none yet"


def main(what: str, kills: int, where: Path, seed: int) -> None:
    """Print the counts as JSON."""
    folder().mkdir(parents=True, exist_ok=True)
    work = demo("harbour-window" if what == "copying" else "ticket-engraving")
    waits = np.random.default_rng(seed).random(kills) * LONGEST
    met = {"whole": 0, "broken": 0, "none yet": 0, "left": 0}
    for k, after in enumerate(waits):
        how = _copying(work, str(k), after) if what == "copying" else _saving(work, where / "work.lattice", what == "linked", after)
        met[how] += 1
    write_atomically(where / "after", b"")
    write_atomically(folder() / "after", b"")
    met["left"] = sum(PARTIAL.match(one.name) is not None for at in (where, folder()) for one in at.iterdir())
    print(json.dumps(met))


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]), Path(sys.argv[3]), int(sys.argv[4]))
