"""SVG files as others write them: what of them is brought in is what another reader draws."""

import io
from itertools import cycle

import numpy as np
import pytest
import resvg_py
from PIL import Image
from scipy.ndimage import maximum_filter, minimum_filter

from under_lattice.core.errors import FileError
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.brought import with_brought
from under_lattice.files.storage import from_text, to_text
from under_lattice.files.svg.shapes import read_svg
from under_lattice.geometry.outline import CLOSE
from under_lattice.geometry.path_text import parts_of_text
from under_lattice.output.svg import Svg, write_svg
from under_lattice.scene.tree import make_scene
from under_lattice.work.model import Design, Sheet, Work

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
        (f'{SMALL}<rect clip-path="inset(3px)" width="50" height="50"/>', "clip-path"),
        (f'<clipPath id="c" clipPathUnits="objectBoundingBox">{SMALL}</clipPath><g clip-path="url(#c)">{BIG}</g>', "clip-path"),
        ('<path d="M0 0H90" stroke="red" stroke-dasharray=".0001"/>', "dashes"),
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


RAMP = '<linearGradient id="a"><stop offset="0" stop-color="#f60"/><stop offset="100%" style="stop-color:#036;stop-opacity:.5"/>'
CLIP = '<clipPath id="c"><circle cx="50" cy="50" r="30"/></clipPath>'
LINES = 'fill="none" stroke="#0a6" stroke-width="11"'
PAINTED = {
    "clipped": f'{CLIP}<rect clip-path="url(#c)" x="20" width="30" height="90" fill="#c2694c"/>',
    "clipped with its line": f'{CLIP}<circle clip-path="url(#c)" cx="30" cy="50" r="30" fill="#fc0" '
    'stroke="navy" stroke-width="12"/>',
    "not cut by its clip": f'{CLIP}<rect clip-path="url(#c)" x="40" y="40" width="20" height="20" stroke="red" fill="#fc0"/>',
    "a clipped group": f'{CLIP}<g clip-path="url(#c)" transform="translate(10 5) scale(.8)"><g clip-path="url(#c)">'
    '<rect width="50" height="50" fill="teal"/><rect x="50" y="50" width="50" height="50" fill="navy"/></g></g>',
    "two clips": f'{CLIP}<clipPath id="d"><path d="M0 0H100L0 100z"/></clipPath><g clip-path="url(#d)">'
    '<rect clip-path="url(#c)" width="100" height="100" fill="teal"/></g>',
    "a clip that is clipped": f'{CLIP}<clipPath id="d" clip-path="url(#c)"><rect x="50" y="20" width="60" height="50"/></clipPath>'
    '<rect clip-path="url(#d)" width="100" height="100" fill="#639"/>',
    "a clip of several, one used": '<defs><rect id="r" width="30" height="30"/></defs><clipPath id="c" transform="translate(5 5)">'
    '<use href="#r" x="50"/><circle cx="40" cy="50" r="25"/></clipPath><rect clip-path="url(#c)" width="100" height="100"/>',
    "a clip with a hole": '<clipPath id="c"><path clip-rule="evenodd" d="M10 10h80v80h-80zM30 30h40v40h-40z"/></clipPath>'
    '<circle clip-path="url(#c)" cx="50" cy="50" r="50" fill="#07a"/>',
    "a clip in the box": '<clipPath id="c" clipPathUnits="objectBoundingBox"><ellipse cx=".5" cy=".5" rx=".5" ry=".3"/></clipPath>'
    '<rect clip-path="url(#c)" x="10" y="20" width="80" height="60" fill="#07a"/>',
    "a clip that is not there": '<rect clip-path="url(#gone)" x="10" y="20" width="80" height="60" fill="#07a"/>',
    "dashes": f'<path d="M10 20H90" {LINES} stroke-dasharray="20 10"/>'
    f'<circle cx="50" cy="60" r="25" {LINES} stroke-dasharray="30"/>',
    "dashes of three, moved": f'<path d="M10 10H90V90H10z" {LINES} stroke-dasharray="25,8,12" stroke-dashoffset="17"/>',
    "round dots": '<path d="M15 30H90" stroke="#639" stroke-width="18" stroke-linecap="round" stroke-dasharray="0 24"/>',
    "dashes round a fill": '<rect x="15" y="15" width="70" height="50" fill="#fc0" stroke="navy" stroke-width="9" '
    'stroke-dasharray="24 12"/>',
    "dashes that are clipped": f'{CLIP}<path clip-path="url(#c)" d="M10 40H90M10 60H90" {LINES} stroke-dasharray="22 9"/>',
    "an open line with a fill": '<path d="M10 20H70V80" fill="#fc0" stroke="navy" stroke-width="14"/>',
    "a ramp on a line": '<defs><linearGradient id="a" gradientUnits="userSpaceOnUse" x1="10" x2="90"><stop stop-color="#f60"/>'
    '<stop offset="1" stop-color="#036"/></linearGradient></defs><path d="M10 20H90V80" fill="none" stroke="url(#a)" '
    'stroke-width="20" stroke-linejoin="bevel"/>',
    "flat colours": '<rect width="40" height="40" fill="#c2694c"/><circle cx="70" cy="70" r="20" fill="teal"/>',
    "a style sheet": '<style>.a{fill:rgb(10%,60%,30%)}#b{fill:hsl(210,60%,40%)}</style><rect class="a" width="40" height="40"/>'
    '<rect id="b" x="50" y="50" width="40" height="40"/>',
    "opacity": '<g opacity=".5"><rect width="50" height="50" fill="red"/>'
    '<rect x="55" width="40" height="90" fill="blue" fill-opacity=".5"/></g>',
    "strokes": '<rect x="10" y="10" width="60" height="60" fill="#fc0" stroke="navy" stroke-width="12"/>'
    '<path d="M10 90H60" stroke="#0a6" stroke-width="9" transform="scale(1 .98)"/>',
    "round ends": '<path d="M15 15L80 30L40 85" fill="none" stroke="#639" stroke-width="18" '
    'stroke-linecap="round" stroke-linejoin="round"/>',
    "the current colour": '<g color="#0a6"><rect width="60" height="60" fill="currentColor"/></g>'
    '<rect x="70" y="70" width="30" height="30"/>',
    "a ramp over the box": f'<defs>{RAMP}</linearGradient></defs><rect x="10" y="10" width="80" height="50" fill="url(#a)"/>',
    "a ramp that is turned": f'<defs>{RAMP}</linearGradient><linearGradient id="b" href="#a" x2="0" y2="1"/></defs>'
    '<rect x="20" y="20" width="60" height="40" fill="url(#b)" transform="rotate(15 50 50)"/>',
    "a ramp on the drawing": f'<defs>{RAMP}</linearGradient><linearGradient id="b" xlink:href="#a" gradientUnits="userSpaceOnUse" '
    'x1="20" y1="10" x2="80" y2="60" gradientTransform="rotate(10)"/></defs><circle cx="50" cy="50" r="45" fill="url(#b)"/>',
    "a round ramp": '<defs><radialGradient id="r"><stop offset="0" stop-color="#fff"/><stop offset="1" stop-color="teal"/>'
    '</radialGradient></defs><ellipse cx="50" cy="50" rx="45" ry="25" fill="url(#r)"/>',
    "a ramp of one colour": '<defs><linearGradient id="o"><stop stop-color="#a03"/></linearGradient></defs>'
    '<rect width="70" height="90" fill="url(#o)"/>',
    "what is not there": '<rect width="70" height="90" fill="url(#gone) #07a"/>',
}


def painted(svg):
    """What another reader paints on white, cut to what is seen and brought to a common size."""
    picture = Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=svg, width=1000, dpi=96.0)))).convert("RGBA")
    box = picture.split()[3].point(lambda value: 255 * (value >= 8)).getbbox()
    white = Image.new("RGBA", picture.size, "white")
    return np.asarray(Image.alpha_composite(white, picture).crop(box).resize((120, 120)).convert("RGB")).astype(int)


@pytest.mark.parametrize(("inner", "unit"), list(zip(PAINTED.values(), cycle(["mm", "px"]), strict=False)), ids=PAINTED)
def test_what_is_brought_in_has_the_colours_another_reader_paints(inner, unit):
    sheet = Sheet(width=150.0, height=120.0, unit=unit, background="")
    design, left_out = with_brought(Design(sheet=sheet), f"{HEAD}{inner}</svg>".encode(), "other.svg")
    assert all("opacity of a group" in one for one in left_out)
    evaluator = Evaluator()
    ours = painted(write_svg(make_scene(design, evaluator.design(design), evaluator), sheet, Svg()).decode())
    theirs = painted(f"{HEAD}{inner}</svg>")
    flat = np.ones((120, 120), bool)
    for picture in (theirs, ours):
        flat &= np.array([maximum_filter(picture[..., k], 7) - minimum_filter(picture[..., k], 7) for k in range(3)]).max(0) < 40
    assert flat.mean() > 0.3
    flat[:4] = flat[-4:] = flat[:, :4] = flat[:, -4:] = False  # the rim is an edge as well
    assert np.abs(ours - theirs).max(-1)[flat].max() <= 9


def test_few_plain_colours_are_an_outline_with_an_ink_of_its_own_and_others_keep_theirs():
    few, many, lined = (
        "".join(f'<rect x="{k}" width="9" height="9" fill="#0{k % 10}8" {more}/>' for k in range(n))
        for n, more in ((5, ""), (30, ""), (3, 'stroke="red"'))
    )
    kinds = {}
    for name, inner in {"few": few, "many": many, "lined": lined, "one": SMALL}.items():
        design, _ = with_brought(Design(), f"{HEAD}{inner}</svg>".encode(), f"{name}.svg")
        kinds[name] = [rule.kind for rule in design.layers[0].rules]
        again = from_text(to_text(Work(design=design))).design
        assert again.layers == design.layers
    assert kinds == {"few": ["outline", "ink"], "one": ["outline", "ink"], "many": ["frozen"], "lined": ["frozen"]}
    design, _ = with_brought(Design(), f"{HEAD}{few}</svg>".encode(), "few.svg")
    assert design.layers[0].rules[1].palette == ("#000088", "#001188", "#002288", "#003388", "#004488")


@pytest.mark.parametrize(
    ("inner", "told"),
    [
        ('<defs><pattern id="p"/></defs><rect width="9" height="9" fill="url(#p)"/>', "1 × pattern fill (it is grey)"),
    ],
)  # fmt: skip
def test_paints_that_are_not_followed_are_named(inner, told):
    assert told in read_svg(f"{HEAD}{inner}</svg>".encode(), "other.svg").left_out


def test_paints_that_are_nonsense_do_no_harm():
    nonsense = (
        '<defs><linearGradient id="a" href="#b" x1="much"/><linearGradient id="b" href="#a" gradientTransform="rotate(x)">'
        '<stop offset="z"/>'
        '<stop offset="1" stop-color="blurple"/></linearGradient></defs>'
        '<rect width="9" height="9" fill="url(#a)" stroke="url()" stroke-width="wide" opacity="lots" fill-opacity="-3"/>'
        '<rect x="20" width="9" height="9" fill="rgb(1,2" stroke="#12"/>'
    )
    design, _ = with_brought(Design(), f"{HEAD}{nonsense}</svg>".encode(), "other.svg")
    assert design.layers
    for more in ('x1="1e999"', 'gradientTransform="matrix(1)"', 'gradientTransform="rotate(x)"', 'x2="nan"'):
        ramp = f'<defs><linearGradient id="a" {more}><stop/><stop offset="1" stop-color="red"/></linearGradient></defs>'
        try:
            with_brought(Design(), f'{HEAD}{ramp}<rect width="9" height="9" fill="url(#a)"/></svg>'.encode(), "other.svg")
        except FileError as error:
            assert "cannot be read" in str(error)
