"""Tiles stay tiles: on every lattice that tiles, whatever the edges do, alone and inside turned nests."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.chains import evaluated, tiles
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.shared.scope import ALL
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Sheet

SHEET = Sheet(width=120, height=100)
PAGE = shapely.box(-60, -50, 60, 50)
FORMS = ("hexagons on points", "hexagons on flats", "squares", "triangles", "staggered rows", "dropped columns", "two vectors")
PUSHED = FORMS[:4]


def motif(form, size):
    if form.startswith("hexagons"):
        return Polygon(size=size, stands="on a point" if "points" in form else "on a flat")
    if form == "triangles":
        return Polygon(sides=3, measure="side", size=size * 1.6, stands="on a flat")
    return Polygon(sides=4, size=size, stands="on a flat")


def fits(result, groups=None, page=None):
    shapes, copy = tiles(result)
    assert shapely.is_valid(shapes).all()
    shapes = shapely.set_precision(shapes, 1e-9)  # GEOS 3.14 takes some neighbours for one when their sides differ by 1e-14
    for g in np.unique(groups) if groups is not None else (None,):
        own = shapes if g is None else shapes[groups[copy] == g]
        union, total = shapely.union_all(own), float(shapely.area(own).sum())
        assert abs(total - union.area) <= 1e-6 * total
        if page is not None:
            assert page.area - union.intersection(page).area <= 1e-6 * page.area


sizes = st.floats(14, 40)
turns = st.floats(-90, 90)
shifts = st.sampled_from([0.0, 25.0, 50.0, 33.3])


@given(form=st.sampled_from(FORMS), size=sizes, turn=turns, shift=shifts, march=st.sampled_from(["alternating", "progressive"]))
@settings(max_examples=60)
def test_plain_tiles_cover_the_sheet_and_do_not_overlap(form, size, turn, shift, march):
    lattice = Lattice(form=form, turn=turn, shift=shift, march=march, angle=0.0, row_angle=90.0)
    fits(evaluated(motif(form, size), lattice, sheet=SHEET), page=PAGE)


@st.composite
def amounts(draw, most):
    end = st.floats(-most, most)
    kind = draw(st.sampled_from(["constant", "column", "row", "distance", "chance"]))
    if kind == "constant":
        return draw(end)
    curve = draw(st.sampled_from(["straight", "smooth", "there and back"]))
    return Varied(rule="floor-lattice", channel=kind, start=draw(end), end=draw(end), curve=curve, seed=draw(st.integers(0, 99)))


@given(data=st.data(), form=st.sampled_from(PUSHED), profile=st.sampled_from(["S", "bow"]), turn=turns, whole=st.booleans())
@settings(max_examples=60)
def test_pushed_tiles_still_fit(data, form, profile, turn, whole):
    # the parts of a split tile have corners of down to 30 degrees, whose edges meet when pushed further
    amount = data.draw(amounts(2.2 if whole else 0.68 if profile == "S" else 1.7))
    classes = data.draw(st.sampled_from(["tied", "each its own"]))
    split = [] if whole else [Split(into="triangles")]
    push = PushEdges(amount=amount, profile=profile, classes=classes, second=0.6, third=-0.65)
    fits(evaluated(motif(form, 30.0), *split, push, Lattice(form=form, turn=turn), sheet=SHEET), page=PAGE)


WHOLE_EDGES = {
    "hexagons in staggered rows": (Polygon(size=24.0), Lattice(form="staggered rows", shift=50.0)),
    "hexagons in dropped columns": (Polygon(size=24.0, stands="on a flat"), Lattice(form="dropped columns", shift=50.0)),
    "squares by two vectors": (Polygon(sides=4, size=24.0, stands="on a flat"), Lattice(form="two vectors", row_angle=90.0)),
    "squares in rows": (Polygon(sides=4, size=24.0, stands="on a flat"), Lattice(form="staggered rows", shift=0.0)),
    "rhombs by two vectors": (Polygon(sides=4, size=24.0, stands="on a flat"), Lattice(form="two vectors", row_angle=70.0)),
}


@given(data=st.data(), name=st.sampled_from(list(WHOLE_EDGES)), profile=st.sampled_from(["S", "bow"]))
@settings(max_examples=50)
def test_pushed_tiles_fit_wherever_edges_are_shared_whole(data, name, profile):
    shape, lattice = WHOLE_EDGES[name]
    leaning = [Adjust(skew=20.0, scope=ALL)] if name.startswith("rhombs") else []
    result = evaluated(shape, PushEdges(amount=data.draw(amounts(2.2)), profile=profile), *leaning, lattice, sheet=SHEET)
    assert not result.problems
    fits(result, page=PAGE)


@given(data=st.data(), form=st.sampled_from(PUSHED), profile=st.sampled_from(["S", "bow"]), turn=turns)
@settings(max_examples=40)
def test_pushed_tiles_fit_inside_turned_nests(data, form, profile, turn):
    amount = data.draw(amounts(2.2))
    inner = Lattice(form=form, extent="by number", columns=4, rows=3)
    outer = Lattice(form="triangles", spacing="free", pitch=600.0, extent="by number", columns=3, rows=2)
    result = evaluated(
        motif(form, 30.0), PushEdges(amount=amount, profile=profile), inner, Adjust(turn=turn, scope=ALL), outer, sheet=SHEET
    )
    stage = result.last.stage
    fits(result, groups=stage.parent[np.arange(stage.n)] * 0 + np.repeat(np.arange(6), 12))


@pytest.mark.parametrize("profile", ["S", "bow"])
def test_amount_that_varies_by_the_outer_repeat_too(profile):
    amount = Varied(rule="floor-lattice-2", channel="column", start=0.0, end=2.0)
    result = evaluated(
        motif("squares", 20.0),
        PushEdges(amount=amount, profile=profile, tiling="floor-lattice"),
        Lattice(form="squares", extent="by number", columns=3, rows=3),
        Lattice(form="squares", spacing="free", pitch=300.0, extent="by number", columns=3, rows=1, turn=17.0),
        sheet=SHEET,
    )
    fits(result, groups=np.repeat(np.arange(3), 9))


def test_adjust_below_the_lattice_still_covers_the_sheet():
    result = evaluated(
        motif("squares", 18.0), Lattice(form="squares"), Adjust(turn=31.0, x=37.0, across=70.0, skew=12.0), sheet=SHEET
    )
    fits(result, page=PAGE)
