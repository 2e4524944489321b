"""How many SVG files of a folder come in, how many of them cover what another reader fills, and how many in its colours.

python bench/foreign_svg.py [FOLDER [MOST]]    without a folder those of the icons that are installed
"""

import io
import sys
from collections import Counter
from pathlib import Path

import numpy as np
import resvg_py
from PIL import Image
from scipy.ndimage import binary_dilation, maximum_filter, minimum_filter

from under_lattice.core.errors import LatticeError
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.brought import with_brought
from under_lattice.files.svg.shapes import read_svg
from under_lattice.output.svg import Svg, write_svg
from under_lattice.scene.tree import make_scene
from under_lattice.work.model import Design, Sheet

SIDE = 128  # px of the longer side of both pictures
NEAR = 2  # px of SIDE: edges that are no further apart are the same, since both pictures were scaled
ALIKE = 0.005  # of the picture, by which they may differ
FLAT, NEARLY = 24, 12  # of 255: what changes less is no edge; what differs less is the same colour
CLEAR = 16  # of 255: what is less opaque is not seen


def seen(svg: str) -> np.ndarray | None:
    """Return where a reader sees anything, cut to it and brought to a common size (SIDE, SIDE); None where it sees nothing."""
    picture = Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=svg, width=4 * SIDE)))).convert("RGBA").split()[3]
    box = picture.point(lambda value: 255 * (value >= CLEAR)).getbbox()
    return None if box is None else np.asarray(picture.crop(box).resize((SIDE, SIDE))) >= CLEAR


def colours(svg: str) -> np.ndarray | None:
    """Return what a reader paints on white, cut to what is seen of it and brought to a common size (SIDE, SIDE, 3)."""
    picture = Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=svg, width=4 * SIDE, dpi=96.0)))).convert("RGBA")
    box = picture.split()[3].point(lambda value: 255 * (value >= CLEAR)).getbbox()
    if box is None:
        return None
    white = Image.new("RGBA", picture.size, "white")
    return np.asarray(Image.alpha_composite(white, picture).crop(box).resize((SIDE, SIDE)).convert("RGB")).astype(int)


def in_its_colours(data: bytes, name: str) -> bool:
    """Tell whether a layer brought in is painted as another reader paints the file, but along edges."""
    design, _ = with_brought(Design(sheet=Sheet(width=20.0, height=20.0, unit="px", background="")), data, name)
    evaluator = Evaluator()
    scene = make_scene(design, evaluator.design(design), evaluator)
    theirs, ours = colours(data.decode("utf-8", "replace")), colours(write_svg(scene, design.sheet, Svg(recipe=False)).decode())
    if theirs is None or ours is None:
        return theirs is None and ours is None
    flat = np.ones((SIDE, SIDE), bool)
    for one in (theirs, ours):
        flat &= np.array([maximum_filter(one[..., k], 5) - minimum_filter(one[..., k], 5) for k in range(3)]).max(0) <= FLAT
    flat[:NEAR] = flat[-NEAR:] = flat[:, :NEAR] = flat[:, -NEAR:] = False
    return not flat.any() or float((np.abs(ours - theirs).max(-1)[flat] > NEARLY).mean()) <= ALIKE


def outcome(path: Path) -> str:
    """Return how a file comes in: right, right in other colours, other, with something left out, refused, or a fault."""
    data = path.read_bytes()
    try:
        brought = read_svg(data, path.name)
    except LatticeError:
        return "refused"
    except Exception as error:
        print(f"{path}: {type(error).__name__}: {error}")
        return "fault"
    if in_its_colours(data, path.name):
        return "right"
    try:
        theirs = seen(data.decode("utf-8", "replace"))
    except ValueError:
        return "not read by the other"
    paths = "".join(f'<path d="{line}" stroke="#000" stroke-width="1"/>' for line in brought.text.splitlines())
    ours = seen(f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="-1000 -1000 2000 2000">{paths}</svg>')
    if theirs is None or ours is None:
        return "nothing seen"
    apart = (ours & ~binary_dilation(theirs, iterations=NEAR)) | (theirs & ~binary_dilation(ours, iterations=NEAR))
    if apart.mean() <= ALIKE:
        return "right, in other colours"
    return "left out" if brought.left_out else "other"


def main() -> None:
    """Count the outcomes and name the first of each that is not right."""
    folder = Path(sys.argv[1] if len(sys.argv) > 1 else "/usr/share/icons")
    most = int(sys.argv[2]) if len(sys.argv) > 2 else 1000
    files = sorted(folder.rglob("*.svg"))[:most]
    found: Counter[str] = Counter()
    shown: dict[str, list[str]] = {}
    for path in files:
        if path.is_symlink():
            continue
        what = outcome(path)
        found[what] += 1
        shown.setdefault(what, []).append(str(path))
    print(", ".join(f"{count} {what}" for what, count in found.most_common()))
    for what, paths in shown.items():
        if what != "right":
            print(f"{what}: {', '.join(paths[:4])}")


if __name__ == "__main__":
    main()
