"""Rules that need real outlines against the bare library call on the same data."""

from functools import partial

import numpy as np
import shapely
from rounds import ratio

from under_lattice.geometry.affine import apply
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.clipping import area_of
from under_lattice.pattern.stage import Shape, Stage, start
from under_lattice.rules.copies.combine import Combine
from under_lattice.rules.copies.warp import Warp
from under_lattice.rules.ground import Ground
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.star import Star
from under_lattice.rules.shapes.offset import Offset
from under_lattice.vary.numbers import Varied

GROUND = Ground.on(600.0, 600.0)


def scattered(shape: Shape, count: int) -> Stage:
    """Copies at places by chance, as a stage."""
    rng = np.random.default_rng(4)
    maps = np.zeros((count, 2, 3))
    maps[:, 0, 0] = maps[:, 1, 1] = rng.uniform(0.5, 1.5, count)
    maps[:, :, 2] = rng.uniform(-300, 300, (count, 2))
    one = start(shape, "motif")
    key = np.stack([np.zeros(count, np.int64), np.arange(count)], 1)
    return Stage("run", shape, maps, maps, np.zeros(count, np.int32), key, one, {"step": np.arange(float(count))})


def main() -> None:
    stage = scattered(Ellipse(width=24.0).shape(), 2000)
    (family,) = stage.shape.draw(Ask(stage))
    own = area_of(family, 0)[0]
    areas = [shapely.transform(own, partial(apply, xform)) for xform in stage.xform]
    ratio("Combine: union of 2,000 discs / union_all", lambda: Combine().place(stage, GROUND), lambda: shapely.union_all(areas), 5)

    star = Star(points=12, size=30.0, inner=70.0).shape()
    apart = Varied(rule="run", channel="step", start=-0.2, end=-0.6)
    ask = Ask(scattered(Offset(distance=apart, rings=10, joins="round").reshape(star, GROUND), 500))
    bare = shapely.Polygon(star.body().points)

    def other() -> None:
        for distance in np.linspace(-0.2, -0.6, 500):
            for k in range(1, 11):
                bare.buffer(distance * k, quad_segs=24)

    ratio("Offset: ten rings of 500 stars / buffer", lambda: ask.horizon.shape.draw(ask), other, 5)

    tiled = scattered(Polygon(sides=5, size=12.0).shape(), 1000)
    rings = tiled.bodies()
    lines = [shapely.Polygon(ring) for ring in rings]
    warp = Warp(form="twist", angle=90.0, reach=280.0)
    bend = warp.mapping()
    ratio(
        "Warp: 5,000 sides as curves / segmentize and transform",
        lambda: warp.place(tiled, GROUND),
        lambda: [shapely.transform(shapely.segmentize(line, 0.5), lambda places: bend(places[None])[0]) for line in lines],
        5,
    )


if __name__ == "__main__":
    main()
