"""SVG files as others write them: what of them is brought in is what another reader draws."""

import io

import numpy as np
import pytest
import resvg_py
from PIL import Image

from under_lattice.core.errors import FileError
from under_lattice.files.svg_in import read_svg
from under_lattice.geometry.outline import CLOSE
from under_lattice.geometry.path_text import parts_of_text

NAMES = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
HEAD = f'<svg {NAMES} viewBox="0 0 100 100" width="100" height="100">'
BIG, SMALL = '<rect width="90" height="90"/>', '<rect width="20" height="30"/>'
SYMBOL = (
    '<symbol id="s" viewBox="0 0 10 10" {}><path d="M0 0h10v10z"/></symbol><use href="#s" x="10" y="20" width="40" height="60"/>'
)
FOREIGN = {
    "minified numbers": '<path d="M10 10h30v20l-5-5-3.5.5z" transform="translate(-3.5-5)scale(1-1)translate(10-60)"/>',
    "filled without Z": '<path d="M10 10H60V40H10M70 70h20v20"/>',
    "used twice": '<g id="a"><rect width="10" height="20"/></g><use href="#a" x="15"/><use xlink:href="#a" x="50" y="50"/>',
    "used before it is there": '<use href="#b" transform="rotate(30 50 50)"/><circle id="b" cx="30" cy="30" r="10"/>',
    "symbol": SYMBOL.format(""),
    "symbol at a corner": SYMBOL.format('preserveAspectRatio="xMinYMax meet"'),
    "symbol stretched": SYMBOL.format('preserveAspectRatio="none"'),
    "inner viewport": '<svg x="20" y="10" width="50%" height="25" viewBox="0 0 4 4"><circle cx="2" cy="2" r="2"/></svg>',
    "even-odd": '<path fill-rule="evenodd" d="M10 10h80v80h-80zM30 30h40v40h-40zM45 45h10v10h-10z"/>',
    "even-odd circles": '<path fill-rule="evenodd" d="M50 10a40 40 0 1 1-.1 0zM50 30a20 20 0 1 1-.1 0z"/>',
    "not displayed": f'<g display="none">{BIG}</g><rect style="display:none" width="9" height="9"/>{SMALL}',
    "hidden and seen again": f'<g visibility="hidden">{BIG}<rect visibility="visible" x="5" width="20" height="30"/></g>',
    "switch": f'<switch><rect systemLanguage="xx" width="80" height="80"/>{SMALL}{BIG}</switch>',
    "classes": '<style>.a{display:none}#b .c,rect.d{fill:none}</style><g id="b"><rect class="c" width="90" height="90"/></g>'
    f'<rect class="a" width="80" height="80"/><rect class="d" width="60" height="60"/>{SMALL}',
    "per cent and em": '<rect x="10%" y="20%" width="50%" height="30%"/><circle font-size="10" cx="80" cy="80" r="1em"/>',
    "neither filled nor stroked": '<path fill="none" d="M0 0h100v100H0z"/><path d="M40 40h20v20z"/>',
    "inherited": f'<g fill="none">{BIG}<g fill="red">{SMALL}</g></g>',
    "matrix": '<g transform="matrix(.5.2-.2.5 30 20)"><ellipse cx="50" cy="20" rx="40" ry="15"/></g>',
}


def seen(drawing):
    """Where another reader sees something of a drawing in the common head, 8 px for each unit."""
    data = bytes(resvg_py.svg_to_bytes(svg_string=f"{HEAD}{drawing}</svg>", zoom=8))
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGBA"))[..., 3] >= 128


@pytest.mark.parametrize("inner", FOREIGN.values(), ids=FOREIGN)
def test_what_is_filled_is_what_another_reader_fills(inner):
    brought, wanted = read_svg(f"{HEAD}{inner}</svg>".encode(), "other.svg"), seen(inner)
    rows, columns = np.flatnonzero(wanted.any(1)), np.flatnonzero(wanted.any(0))
    x, y = (columns[0] + columns[-1] + 1) / 16, (rows[0] + rows[-1] + 1) / 16
    assert brought.width_px == pytest.approx((columns[-1] + 1 - columns[0]) / 8, abs=0.3)
    assert all(verbs[-1] == CLOSE for verbs, _ in parts_of_text(brought.text))
    paths = "".join(f'<path d="{line}"/>' for line in brought.text.splitlines())
    here = seen(f'<g transform="translate({x} {y}) scale({brought.width_px / 1000})">{paths}</g>')
    assert (here != wanted).mean() < 0.003


def test_stroked_lines_stay_open_and_what_is_not_seen_stays_away():
    inner = '<path fill="none" stroke="#000" d="M10 10H60V40"/><path fill="none" d="M0 0h100v100"/>'
    inner += '<line x1="0" y1="0" x2="9" y2="9" stroke="red"/>'
    parts = parts_of_text(read_svg(f"{HEAD}{inner}</svg>".encode(), "lines.svg").text)
    assert len(parts) == 2
    assert all(CLOSE not in verbs for verbs, _ in parts)


@pytest.mark.parametrize(
    ("inner", "told"),
    [
        (f'<clipPath id="c">{SMALL}</clipPath><rect clip-path="url(#c)" width="50" height="50"/>', "clip-path"),
        ('<rect style="filter:url(#f)" width="50" height="50"/>', "filter"),
        (f'{SMALL}<use href="#nowhere"/>', "use"),
        (f'<g id="g">{SMALL}<use href="#g"/></g>', "use"),
        (f"{SMALL}<text>a</text><image/>", "text"),
        ("<style>@media print{rect{fill:none}} rect:hover>{fill:none}</style>" + SMALL, "style rule"),
    ],
)
def test_what_is_not_followed_is_named(inner, told):
    assert any(told in one for one in read_svg(f"{HEAD}{inner}</svg>".encode(), "x.svg").left_out)


def test_parts_that_multiply_without_end_are_refused():
    doubling = "".join(f'<g id="g{k}"><use href="#g{k - 1}"/><use href="#g{k - 1}"/></g>' for k in range(1, 40))
    inner = f'<defs><g id="g0">{SMALL}</g>{doubling}</defs><use href="#g39"/>'
    with pytest.raises(FileError, match="more than 50,000 elements"):
        read_svg(f"{HEAD}{inner}</svg>".encode(), "bomb.svg")
