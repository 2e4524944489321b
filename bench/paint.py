"""The painter against the plain loop of a general one, one thread against two, and its time for each copy."""

import os
from functools import partial

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtGui import QGuiApplication
from rounds import ratio, seconds
from scenes import VIEW, all_trials, by_loop, hexagons

from under_lattice.render.paint import paint


def main() -> None:
    QGuiApplication.instance() or QGuiApplication([])
    trials = all_trials()
    for trial in trials:
        rounds = 3 if trial.name.endswith("2 px") else 7
        found = ratio(f"{trial.name} / plain loop", partial(paint, trial.scene, VIEW), partial(by_loop, trial), rounds)
        print(f"    {1 / found:.1f} times as fast")
    for trial in trials[1:4]:
        one, two = partial(paint, trial.scene, VIEW, threads=1), partial(paint, trial.scene, VIEW, threads=2)
        print(f"    two threads {ratio(f'{trial.name}: one thread / two', one, two, 7):.2f} times as fast as one")
    for count in (1_000, 10_000, 100_000, 1_000_000):
        scene = hexagons("", count).scene
        best = min(seconds(partial(paint, scene, VIEW)) for _ in range(3))
        print(f"{count:9,} copies: {best * 1000:7.1f} ms, {best / count * 1e6:6.2f} µs each")


if __name__ == "__main__":
    main()
