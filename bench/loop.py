"""Pictures of a loop: how many a second, what standing still saves, and how much of a film is painting.

``python -m bench.loop``; times as ratios within one run.
"""

import io
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import redirect_stderr
from os import environ

from under_lattice.core.progress import QUIET
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.frames.frames import Frames
from under_lattice.library import demo
from under_lattice.library.layers import chain
from under_lattice.loop.hanging import hang, set_lag
from under_lattice.loop.moment import at_moment
from under_lattice.output.film import Webm
from under_lattice.output.film.painting import pictures
from under_lattice.output.page import job_of
from under_lattice.render.paint import paint
from under_lattice.rules import Adjust, Lattice, Polygon
from under_lattice.scene.tree import View, make_scene
from under_lattice.vary.motion import Lag, Place
from under_lattice.work.model import Design, Loop, Sheet

VIEW = View(648, 600, 2.0, 324.0, 300.0)
COUNT = 24


def wave() -> Design:
    """2,025 hexagons that turn one after the other."""
    lattice = Lattice(form="squares", spacing="free", pitch=7.2, row_pitch=6.67, extent="by number", columns=45, rows=45)
    tiles = chain("Tiles", Polygon(sides=6, size=5.0), lattice, Adjust())
    design = Design(name="Wave", sheet=Sheet(width=324, height=300), layers=(tiles,))
    design = hang(design, Place(layer="tiles", rule="tiles-adjust", dial="turn"), 0.5, 60.0)
    return set_lag(design, design.motions[0].id, Lag(rule="tiles-lattice", channel="column"))


def anew(design: Design, view: View, moment: float) -> None:
    """Evaluate and paint all of a work at a moment."""
    now, evaluator = at_moment(design, moment), Evaluator()
    paint(make_scene(now, evaluator.design(now, time=moment), evaluator), view, threads=1)


def pictures_a_second(design: Design, view: View) -> None:
    frames = Frames(design, view)
    frames.picture(0.0)
    begun = time.perf_counter()
    for k in range(COUNT):
        frames.picture((k + 0.3) / COUNT)
    one = (time.perf_counter() - begun) / COUNT
    begun = time.perf_counter()
    with ThreadPoolExecutor(2) as pool:
        list(pool.map(frames.picture, [(k + 0.6) / COUNT for k in range(COUNT)]))
    two = (time.perf_counter() - begun) / COUNT
    print(f"{design.name}, {view.width} x {view.height} px: {1 / one:.0f} a second in one thread, {1 / two:.0f} in two")


def standing_still(name: str) -> None:
    design = demo(name).design
    scale = 600 / design.sheet.width
    view = View(600, round(design.sheet.height * scale), scale, 300.0, design.sheet.height * scale / 2)
    frames = Frames(design, view)
    frames.picture(0.0)
    begun = time.perf_counter()
    for k in range(COUNT // 2):
        frames.picture((k + 0.3) / COUNT)
    kept = time.perf_counter() - begun
    begun = time.perf_counter()
    for k in range(COUNT // 2):
        anew(design, view, (k + 0.6) / COUNT)  # other moments: what is finished is kept by what is in it
    whole = time.perf_counter() - begun
    still = len(frames.front) + len(frames.back)
    print(f"{design.name}: {still} of {still + len(frames.moving)} layers stand still; anew takes {whole / kept:.1f} times as long")


def film(name: str) -> None:
    work = demo(name)
    work = edited(work, design=edited(work.design, loop=Loop(seconds=12, rate=25)))
    options, job = job_of(work, Webm(width=600))
    order = options.order(job)  # type: ignore[attr-defined]
    begun = time.perf_counter()
    for _ in pictures(order, 1, 2, QUIET):
        pass
    painting = time.perf_counter() - begun
    begun = time.perf_counter()
    options.write(job)
    whole = time.perf_counter() - begun
    print(f"{work.design.name}, 300 pictures as WebM: {whole:.0f} s, of which painting alone takes {painting / whole:.0%}")


def main() -> None:
    pictures_a_second(wave(), VIEW)
    for name in ("seed-clock", "lobby-panel", "indigo-towel", "changing-room-screen"):
        standing_still(name)
    with tempfile.TemporaryDirectory() as folder, redirect_stderr(io.StringIO()):
        environ["XDG_CACHE_HOME"] = folder
        for name in ("festival-poster", "changing-room-screen"):
            film(name)


if __name__ == "__main__":
    main()
