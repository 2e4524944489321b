"""Remakes the icon with the engine itself: one hexagon, three rhombs, pushed edges."""

from pathlib import Path

from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.library.layers import chain
from under_lattice.output.png import Png, write_png
from under_lattice.output.svg import Svg, write_svg
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.rules.shapes.split import Split
from under_lattice.scene.tree import make_scene
from under_lattice.work.model import Design, Sheet

ROOT = Path(__file__).parent.parent
ICON = Design(
    name="Icon",
    sheet=Sheet(width=128, height=128, unit="px", background=""),
    layers=(
        chain(
            "Tile",
            Polygon(size=92.0),
            Split(),
            Ink(
                palette=("#EFE4CF", "#C2694C", "#166B5D"),
                stroke="one colour",
                stroke_colour="#10463D",
                stroke_width=2.5,
                join="round",
            ),
            PushEdges(amount=11.0),
        ),
    ),
)

if __name__ == "__main__":
    evaluator = Evaluator()
    scene = make_scene(ICON, evaluate(ICON, evaluator), evaluator)
    (ROOT / "share" / "org.under_lattice.Studio.svg").write_bytes(write_svg(scene, ICON.sheet, Svg(recipe=False)))
    (ROOT / "src/under_lattice/ui/window/under-lattice.png").write_bytes(write_png(scene, ICON.sheet, Png(width=256, recipe=False)))
