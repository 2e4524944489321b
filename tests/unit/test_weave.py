"""The weave: widths by code, orders, cuts."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely import affinity

from tests.chains import evaluated, tiles
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.geometry.outline import contours
from under_lattice.geometry.straps import crossed, merged
from under_lattice.rules.ends.layer_end import LayerEnd
from under_lattice.rules.motifs.weave import Weave, proportions
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.work.layers import Chain
from under_lattice.work.model import Sheet
from under_lattice.work.suggest import suggested


def pieces(weave):
    """All visible pieces as rectangles."""
    out = []
    for _, points in weave.shape().families:
        out += [shapely.Polygon(box) for box in points.reshape(-1, 4, 2)]
    return np.array(out)


def test_widths_follow_the_code_and_its_mirror():
    code = np.array(proportions("5 : 2 : 3"))
    straps = Weave(size=2.0, spacing=1.0).straps(7, code)
    assert (straps[:, 1] - straps[:, 0]).tolist() == [10, 4, 6, 4, 10, 4, 6]
    assert (straps[1:, 0] - straps[:-1, 1]).tolist() == [1.0] * 6
    repeated = Weave(mirrored="repeated", size=1.0).straps(5, code)
    assert (repeated[:, 1] - repeated[:, 0]).tolist() == [5, 2, 3, 5, 2]


@pytest.mark.parametrize(
    ("order", "share"),
    [({"order": "plain"}, 0.5), ({"order": "twill", "over": 2, "under": 2}, 0.5), ({"order": "twill", "over": 1, "under": 3}, 0.25),
     ({"order": "satin", "repeat": 5, "step": 2}, 0.2)],
)  # fmt: skip
def test_orders_put_the_upright_strap_on_top_as_often_as_they_say(order, share):
    top = Weave(columns=20, rows=20, **order).on_top()
    assert top.mean() == pytest.approx(share)
    assert top.sum(0).tolist() == [20 * share] * 20
    assert top.sum(1).tolist() == [20 * share] * 20
    if order["order"] == "satin":  # no two that touch at a side or corner
        assert not (top[1:] & top[:-1]).any()
        assert not (top[1:, 1:] & top[:-1, :-1]).any()


@pytest.mark.parametrize("order", ["plain", "twill", "satin"])
def test_straps_never_overlap_and_keep_the_cut(order):
    weave = Weave(columns=7, rows=6, order=order, cut=0.5, spacing=2.0)
    boxes = pieces(weave)
    one, other = np.triu_indices(len(boxes), 1)
    assert shapely.distance(boxes[one], boxes[other]).min() == pytest.approx(0.5)
    closed = pieces(edited(weave, cut=0.0))
    assert shapely.area(closed).sum() == pytest.approx(shapely.area(shapely.union_all(closed)))


def test_each_crossing_is_hidden_once():
    weave = Weave(columns=5, rows=5, code="1", size=4.0, spacing=2.0, cut=0.0, order="plain")
    woven = shapely.area(pieces(weave)).sum()
    straps, crossings = 10 * 4.0 * (5 * 4 + 4 * 2), 25 * 16.0
    assert woven == pytest.approx(straps - crossings)


def test_parts_are_the_kinds_of_strap():
    result = evaluated(Weave(code="5 : 2 : 3"))
    assert len(set(tiles(result)[1])) == 1
    assert result.last.stage.shape.faces == 6


@pytest.mark.parametrize("code", ["", "a", "5 : 0", "-1", "1 " * 13, "1e9", "nan", "5 : : x"])
def test_codes_that_are_none_are_refused(code):
    with pytest.raises(InputError, match="is not a code"):
        edited(Weave(), code=code)


def test_three_directions_never_lie_on_each_other_and_pass_over_in_a_ring():
    weave = Weave(ways="three", columns=5, code="2 : 1", size=2.0, spacing=9.0, cut=0.5)
    shape = weave.shape()
    assert shape.faces == 6
    parts = []
    for verbs, points in shape.families:
        rings = [points[where] for _, where in contours(verbs)]
        parts.append(shapely.union_all([shapely.Polygon(ring) for ring in rings]))
    assert sum(part.area for part in parts) == pytest.approx(shapely.union_all(parts).area)
    sets = [shapely.union_all(parts[k : k + 2]) for k in (0, 2, 4)]
    for d in range(3):  # each is nowhere nearer than the cut to the next, which it passes over, and is cut by the one before
        assert sets[d].distance(sets[(d + 1) % 3]) == pytest.approx(0.5)
    counts = [len(shapely.get_parts(one)) for one in sets]
    assert min(counts) > 15


def test_three_directions_have_no_rows_and_no_order():
    weave = Weave(ways="three", order="twill")
    assert weave.idle("rows")
    assert weave.idle("over")
    assert weave.idle("order")
    assert "three ways" in weave.key_line("mm")


def test_a_code_may_give_the_spacings_instead():
    weave = Weave(columns=5, rows=3, code="1 : 3", mirrored="repeated", gives="spacings", size=4.0, strap=7.0)
    straps = weave.straps(5, np.array([1.0, 3.0]))
    assert np.allclose(straps[:, 1] - straps[:, 0], 7.0)
    assert np.allclose(straps[1:, 0] - straps[:-1, 1], [4, 12, 4, 12])
    assert weave.idle("spacing")
    assert Weave().idle("strap")


@pytest.mark.parametrize("ways", ["two", "three"])
@pytest.mark.parametrize("cut", [100.0, 250_000.0])
def test_a_cut_that_leaves_nothing_is_refused(ways, cut):
    assert f"cut of {cut:.12g} leaves nothing of the straps" in evaluated(Weave(ways=ways, cut=cut)).problems[0].sentence
    assert not evaluated(Weave(ways=ways, cut=0.5)).problems


@given(
    bands=st.lists(st.tuples(st.floats(-20, 20), st.floats(0.01, 9)), min_size=1, max_size=6),
    over=st.lists(st.tuples(st.floats(-20, 20), st.floats(0.01, 9)), max_size=6),
    ways=st.sampled_from([(0.0, 120.0), (120.0, 0.0), (240.0, 120.0), (10.0, 100.0)]),
)
def test_what_shows_between_straps_is_what_is_left_of_them(bands, over, ways):
    rim = shapely.Polygon([(15, 0), (3, 14), (-12, 9), (-14, -6), (2, -16)])

    def laid(those, way):
        return shapely.union_all([affinity.rotate(shapely.box(-99, low, 99, high), way, origin=(0, 0)) for low, high in those])

    bands, over = ([(low, low + wide) for low, wide in those] for those in (bands, over))
    rings = crossed(merged(np.array(bands)), merged(np.array(over).reshape(-1, 2)), ways[0], ways[1], rim)
    left = laid(bands, ways[0]).difference(laid(over, ways[1])).intersection(rim)
    shown = [shapely.Polygon(ring) for ring in rings]
    assert shapely.union_all(shown).symmetric_difference(left).area < 1e-6
    assert sum(one.area for one in shown) == pytest.approx(left.area, abs=1e-6)  # none lies on another


@given(st.booleans(), st.integers(1, 9), st.integers(1, 9), st.floats(0.0, 3.0), st.sampled_from(["1", "5 : 2 : 3", "1 : 9"]))
def test_the_whole_is_known_without_its_pieces(three, columns, rows, spacing, code):
    weave = Weave(ways="three" if three else "two", columns=columns, rows=rows, spacing=spacing, code=code, cut=0.0)
    assert np.allclose(weave.own_body().points, weave.shape().body().points)


def test_a_rule_put_after_a_weave_of_many_straps_asks_for_none_of_them(monkeypatch):
    around = Chain(
        id="w", handle="w", name="Weave", rules=(Weave(id="m", ways="three", columns=200), Ink(id="i"), LayerEnd(id="e"))
    )
    before = suggested(Lattice, around, Sheet())
    monkeypatch.setattr(Weave, "shape", lambda _: pytest.fail("80,000 pieces were made"))
    assert suggested(Lattice, around, Sheet()) == before
