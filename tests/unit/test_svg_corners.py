"""Shapes that touch share their corners in the file: read as its numbers are, no two have more than a millionth in common."""

import re
from xml.etree import ElementTree

import numpy as np
import pytest
import shapely

from tests.chains import work_of
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.affine import apply
from under_lattice.geometry.path_text import path_data
from under_lattice.output.svg import Svg, write_svg
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.mirror import Mirror
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.shapes.split import Split
from under_lattice.scene.tree import make_scene

NAME = "{http://www.w3.org/2000/svg}"
INK = Ink(colours="column")
TOUCHING = {
    "hexagons": (Polygon(size=21.37), Lattice(form="hexagons on points"), INK),
    "turned": (Polygon(size=21.37), Lattice(form="hexagons on points", turn=11.3), INK),
    "rhombs": (Polygon(size=19.1), Split(), Lattice(form="hexagons on points", turn=23.0), INK),
    "triangles": (Polygon(sides=3, size=31.0), Lattice(form="triangles", turn=7.0), INK),
    "bricks": (Rectangle(width=31.3, height=11.7), Lattice(form="staggered rows", turn=17.0), INK),
    "a mirrored rosette": (
        Polygon(size=17.0),
        Lattice(extent="by number", columns=3, rows=4),
        Rosette(count=6, radius=90.0),
        Mirror(),
        INK,
    ),
}


def polygons(svg):
    """All shapes of a file (N,), by the numbers that stand in it."""
    root = ElementTree.fromstring(svg)
    shapes = {node.get("id"): corners(node.get("d")) for node in root.iter(NAME + "path") if node.get("id")}
    found = [corners(node.get("d")) for node in root.iter(NAME + "path") if not node.get("id")]
    for node in root.iter(NAME + "use"):
        own = shapes[node.get("{http://www.w3.org/1999/xlink}href")[1:]]
        a, b, c, d, e, f = map(float, re.findall(r"-?[\d.]+(?:e-?\d+)?", node.get("transform") or "1 0 0 1 0 0"))
        placed = apply(np.array([[a, c, e], [b, d, f]]), own)
        found.append(placed + np.array([float(node.get("x", 0)), float(node.get("y", 0))]))
    return np.array([shapely.Polygon(ring) for ring in found])


def corners(data):
    return np.array([float(v) for v in re.findall(r"-?[\d.]+", data)]).reshape(-1, 2)


@pytest.mark.parametrize("plain", [False, True], ids=["shared", "plain"])
@pytest.mark.parametrize("rules", TOUCHING.values(), ids=TOUCHING.keys())
def test_touching_shapes_have_nothing_in_common(rules, plain):
    design = work_of(*rules).design
    evaluator = Evaluator()
    scene = make_scene(design, evaluator.design(design), evaluator)
    shapes = polygons(write_svg(scene, design.sheet, Svg(recipe=False, plain=plain)))
    assert len(shapes) > 30
    one, other = shapely.STRtree(shapes).query(shapes, "intersects")
    one, other = one[one < other], other[one < other]
    common = shapely.area(shapely.intersection(shapes[one], shapes[other]))
    alike = shapely.area(shapely.symmetric_difference(shapes[one], shapes[other])) < 1  # a mirrored copy on its original
    assert common[~alike].max() <= 1e-6


def test_numbers_halfway_between_two_are_rounded_one_way():
    halves = np.array([(0.00005, 12.34565), (-7.00015, 3.0)])
    texts = {path_data(b"\x00\x01", halves + noise) for noise in (0.0, 1e-13, -1e-13, 3e-12)}
    assert len(texts) == 1
