"""Pictures of a work at any moment of its loop, in one view; what stands still is worked out and painted once."""

from __future__ import annotations

import threading
from dataclasses import dataclass, field

from under_lattice.core.progress import QUIET, Progress
from under_lattice.evaluate.cache import Cache
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.frames.standing import standing
from under_lattice.geometry.affine import Array
from under_lattice.loop.moment import at_moment
from under_lattice.render.desk import OPEN, Between
from under_lattice.render.paint import paint
from under_lattice.scene.aside import specials_of
from under_lattice.scene.tree import Node, Scene, View, make_scene
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design
from under_lattice.work.reading import all_read, needed

BYTES_MOST = 256_000_000  # of stages kept between two pictures


@dataclass(eq=False)
class Frames:
    """Paints a design at moments, from any number of threads.

    Attributes
    ----------
    design, view
    bones : bool
        Outlines alone are shown.
    construction : bool
        What never goes out is shown too.
    painted : int
        How many outermost layers have been painted so far; those that stand still count once.
    """

    design: Design
    view: View
    bones: bool = False
    construction: bool = False
    cache: Cache = field(default_factory=lambda: Cache(BYTES_MOST))
    painted: int = 0
    _between: Between | None = None
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def __post_init__(self) -> None:
        self.front, self.moving, self.back = standing(self.design)

    @property
    def stands_still(self) -> bool:
        """Whether nothing moves at all."""
        return not self.moving

    def picture(self, time: float, progress: Progress = QUIET, threads: int = 0) -> Array:
        """Return premultiplied RGBA (height, width, 4) uint8 at a time of the loop, 0..1.

        Raises
        ------
        GivenUp, LimitError
        """
        between = self._still(progress)
        scene = self._scene(at_moment(self.design, time), time, self.moving, progress)
        self.painted += len(self.moving)
        return paint(scene, self.view, progress, threads, between=between)

    def _scene(self, design: Design, time: float, layers: list[AnyLayer], progress: Progress) -> Scene:
        """What is seen of some outermost layers at a time."""
        evaluator = Evaluator(self.cache)
        chosen = {layer.id for layer in layers}
        wanted = {one.id for layer in layers for one in layer.walk()}
        wanted |= {read for one in tuple(wanted) for read in all_read(design, one)}
        results = evaluator.design(design, progress, time, needed(design) & wanted)
        return make_scene(design, results, evaluator, self.bones, self.construction, progress, only=chosen)

    def _still(self, progress: Progress) -> Between:
        """What stands still beneath and above what moves, painted by whoever comes first."""
        with self._lock:
            if self._between is None:
                back = self._scene(self.design, 0.0, self.back, progress) if self.back else None
                front = self._scene(self.design, 0.0, self.front, progress).layers if self.front else ()
                if front and not _plainly_over(front):
                    self.front, self.moving, front = [], [*self.front, *self.moving], ()
                beneath = above = None
                if back is not None:
                    beneath = self._alone(back.layers, back.background, progress)
                if front:
                    above = self._alone(front, "", progress)
                self.painted += len(self.back) + len(self.front)
                self._between = Between(beneath, above)
            return self._between or OPEN

    def _alone(self, layers: tuple[Node, ...], ground: str, progress: Progress) -> Array:
        """Layers as premultiplied floats (H, W, 4) on a page without end."""
        view = self.view
        side = 4 * max(view.width, view.height) / view.scale + 2 * view.reach
        return paint(Scene(side, side, ground, layers), view, progress, depth="float")


def _plainly_over(layers: tuple[Node, ...]) -> bool:
    """Whether layers can be painted on their own and laid over what is beneath: no blend mode sees it."""
    return not specials_of(layers) & {"blend modes", "finishes"}
