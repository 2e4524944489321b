"""How many SVG files of a folder come in, and how many of them cover what another reader fills.

python bench/foreign_svg.py FOLDER [MOST]
"""

import io
import sys
from collections import Counter
from pathlib import Path

import numpy as np
import resvg_py
from PIL import Image
from scipy.ndimage import binary_dilation

from under_lattice.core.errors import LatticeError
from under_lattice.files.svg_in import read_svg

SIDE = 128  # px of the longer side of both pictures
NEAR = 2  # px of SIDE: edges that are no further apart are the same, since both pictures were scaled
ALIKE = 0.005  # of the picture, by which they may differ
CLEAR = 16  # of 255: what is less opaque is not seen


def seen(svg: str) -> np.ndarray | None:
    """Return where a reader sees anything, cut to it and brought to a common size (SIDE, SIDE); None where it sees nothing."""
    picture = Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=svg, width=4 * SIDE)))).convert("RGBA").split()[3]
    box = picture.point(lambda value: 255 * (value >= CLEAR)).getbbox()
    return None if box is None else np.asarray(picture.crop(box).resize((SIDE, SIDE))) >= CLEAR


def outcome(path: Path) -> str:
    """Return how a file comes in: right, other (what it covers), with something left out, refused, or a fault."""
    data = path.read_bytes()
    try:
        brought = read_svg(data, path.name)
    except LatticeError:
        return "refused"
    except Exception as error:
        print(f"{path}: {type(error).__name__}: {error}")
        return "fault"
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
        return "right"
    return "left out" if brought.left_out else "other"


def main() -> None:
    """Count the outcomes and name the first of each that is not right."""
    folder, most = Path(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1000
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
