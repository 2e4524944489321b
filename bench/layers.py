"""What layers cost together that blend and are masked, beside the same layers painted one by one: a ratio of times in one run.

python bench/layers.py
"""

from collections.abc import Callable
from functools import partial

from rounds import ratio

from under_lattice.colour.blend import BLENDS
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library.layers import chain
from under_lattice.render.paint import paint
from under_lattice.rules import Ellipse, Ink, Lattice
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.work.layers import Chain
from under_lattice.work.model import Design, Sheet

LAYERS, ACROSS, DOWN = 20, 50, 40
SIZES = (700, 1400)  # px of a picture across


def layer(k: int, **end: object) -> Chain:
    """Return a layer of 2,000 discs, a little beside the others."""
    grid = Lattice(
        form="squares", extent="by number", columns=ACROSS, rows=DOWN, spacing="free", pitch=8.0, row_pitch=8.0, turn=3.0 * k
    )
    made = chain(f"Layer {k}", Ellipse(width=6.0), Ink(colours="row", fill_opacity=60.0), grid)
    return edited(made, end=edited(made.end, **end))


def picture(layers: tuple[Chain, ...], width: int) -> Callable[[], object]:
    """Return what paints some layers on one sheet, evaluated before."""
    design = Design(sheet=Sheet(width=400.0, height=320.0, background="#F4EFE4"), layers=layers)
    evaluator = Evaluator()
    scene = make_scene(design, evaluator.design(design), evaluator)
    return lambda: paint(scene, whole_page(scene, width))


def each(paints: list[Callable[[], object]]) -> None:
    """Paint one after the other."""
    for one in paints:
        one()


def main() -> None:
    """Print the ratios."""
    plain = tuple(layer(k) for k in range(LAYERS))
    masks = ({"masked": "round ramp"}, {"masked": "straight ramp"})
    blended = tuple(layer(k, blend=BLENDS[k % len(BLENDS)], **(masks[k] if k < len(masks) else {})) for k in range(LAYERS))
    for width in SIZES:
        together, alone = picture(blended, width), [picture((one,), width) for one in plain]
        ratio(f"{LAYERS} layers that blend, {width} px / each alone", together, partial(each, alone), 3)


if __name__ == "__main__":
    main()
