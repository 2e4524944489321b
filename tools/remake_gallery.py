"""Remakes docs/gallery.md and the pictures of docs/gallery: every work of the pattern book, painted by the program.

python -m tools.remake_gallery
"""

from pathlib import Path

from PIL import Image

from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library import DEMOS
from under_lattice.loop.moment import at_moment
from under_lattice.render.paint import paint
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.work.model import Design

DOCS = Path(__file__).parent.parent / "docs"
LONGEST, TWICE, ACROSS = 560, 2, 2  # px of a picture, how finely it is painted first, works beside each other
HEAD = """# Works, rules and finishes in pictures

The works of the Tern Harbour Bathhouse, as they stand in the pattern book: each opens with `./start` and can be pulled at.
What each rule can do, number by number, is in [rules.md](rules.md).
"""
TAIL = """
## Every rule, on the same work

![What each rule would do to the entrance floor](screenshots/add-a-rule.png)

What each rule would do after the ink of the Entrance floor; a rule that cannot act there says why.

## Every finish, on the same work

![What each finish would do to the indigo towel](screenshots/finishes.png)

On a veil, so on all that lies beneath it: light and softness, tone and colour, what draws out, bends or makes cells. Shadow,
relief by the edge and contour need an edge: they act on a layer, or on each copy where they stand above a repeat.

![Relief on the leaves of the carved ceiling](screenshots/relief.png)

Relief above the Rosette: each leaf is carved by itself, and the light stays where it is while leaves turn under it.

![Moments of a loop](screenshots/moments.png)

Moments of a loop without end: each square goes where the next but one stood.
"""


def page() -> str:
    """Return the page: each work with the one idea it is made of."""
    rows = []
    for key, make in DEMOS.items():
        words = " ".join((make.__doc__ or "").split())
        rows.append((f"![{make().name}](gallery/{key}.jpg)", f"**{make().name}.** {words}"))
    lines = ["|  |  |", "|---|---|"]
    for at in range(0, len(rows), ACROSS):
        lines += [f"| {' | '.join(part)} |" for part in zip(*rows[at : at + ACROSS], strict=True)]
    return "\n".join([HEAD, *lines, TAIL])


def picture(design: Design) -> Image.Image:
    """Return a work, painted finely and made smaller."""
    evaluator, design = Evaluator(), at_moment(design, 0.0)
    scene = make_scene(design, evaluator.design(design), evaluator)
    wide = round(LONGEST * TWICE * min(1.0, scene.width / scene.height))
    fine = Image.fromarray(paint(scene, whole_page(scene, wide)), "RGBa").convert("RGBA")
    ground = Image.new("RGBA", fine.size, "#FFFFFF")
    whole = Image.alpha_composite(ground, fine).convert("RGB")
    return whole.resize((fine.width // TWICE, fine.height // TWICE), Image.Resampling.LANCZOS)


def main() -> None:
    """Write the page and its pictures."""
    folder = DOCS / "gallery"
    folder.mkdir(exist_ok=True)
    for key, make in DEMOS.items():
        picture(make()).save(folder / f"{key}.jpg", quality=86, optimize=True)
    (DOCS / "gallery.md").write_text(page(), encoding="utf-8")


if __name__ == "__main__":
    main()
