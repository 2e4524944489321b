"""A whole layer, or a group, moved, turned and sized: all that knows of its copies follows."""

import numpy as np
import pytest

from tests.chains import SHEET
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.evaluate.result import place_on_sheet
from under_lattice.geometry.affine import apply, linear
from under_lattice.library.layers import chain
from under_lattice.measure.facts import measure
from under_lattice.picking.picker import Picker
from under_lattice.rules import Ellipse, Ink, Lattice, LayerEnd, LayerMotif, Rectangle, Rosette, Trim
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.vary.numbers import Varied
from under_lattice.work.layers import Group
from under_lattice.work.model import Design

INK = Ink(colours="one colour", palette=("#26374F",))


def placed(layer, **place):
    return edited(layer, end=edited(layer.end, **{f"place_{name}": value for name, value in place.items()}))


def row(**place):
    return placed(chain("Row", Rectangle(width=20.0, height=10.0), INK, Lattice(extent="by number", columns=3, rows=1)), **place)


def middles(design, layer="row", time=0.0):
    result = Evaluator().design(design, time=time)[layer]
    return result.last.stage.xform[:, :, 2]


def work(*layers):
    return Design(sheet=SHEET, layers=layers)


def test_copies_are_moved_turned_and_sized_about_the_middle_of_the_sheet():
    before = middles(work(row()))
    assert middles(work(row(x=7.0, y=-3.0))) == pytest.approx(before + np.array([7.0, -3.0]))
    turned = apply(linear(30.0, 2.0, 2.0), before) + np.array([7.0, 0.0])
    assert middles(work(row(x=7.0, turn=30.0, size=200.0))) == pytest.approx(turned)


def test_groups_in_groups_bring_their_members_along():
    inner = placed(Group(id="inner", handle="inner", name="Inner", layers=(row(x=5.0),)), turn=90.0)
    outer = placed(Group(id="outer", handle="outer", name="Outer", layers=(inner,)), size=50.0, y=10.0)
    before = middles(work(row()))
    wanted = apply(linear(0.0, 0.5, 0.5), apply(linear(90.0), before + np.array([5.0, 0.0])))
    assert middles(work(outer)) == pytest.approx(wanted + np.array([0.0, 10.0]))


def test_a_place_may_vary_over_the_loop():
    turning = Varied(rule="", channel="loop", start=0.0, end=360.0)
    design = work(row(turn=turning))
    before = middles(design)
    assert middles(design, time=0.25) == pytest.approx(apply(linear(90.0), before), abs=1e-6)


def test_a_lattice_goes_on_covering_the_sheet_it_is_turned_on():
    def bare(**place):
        tiles = placed(chain("Row", Rectangle(width=20.0, height=20.0), INK, Lattice(form="squares")), **place)
        return middles(work(tiles))

    turned = bare(turn=30.0, size=60.0, x=40.0)
    assert len(turned) > 2 * len(bare())
    for corner in ((-160, -160), (160, -160), (160, 160), (-160, 160)):
        assert np.hypot(*(turned - corner).T).min() < 20.0


def test_facts_picks_and_handles_follow():
    evaluator, design = Evaluator(), work(row(x=40.0, turn=90.0))
    results = evaluator.design(design)
    facts = measure(results["row"], evaluator, SHEET)
    assert facts.bounds == pytest.approx((35.0, -30.0, 45.0, 30.0))
    assert not facts.warnings
    view = whole_page(make_scene(design, results, evaluator), 324)
    picker = Picker(make_scene(design, results, evaluator), view, results)
    assert picker.pick(40.0, 25.0).layer == "row"
    assert picker.pick(60.0, 0.0) is None
    motif = results["row"].steps[0].stage
    assert place_on_sheet(results["row"], motif) == pytest.approx(results["row"].last.stage.xform[results["row"].last.stage.origin])


def test_layers_that_read_it_see_it_where_it_is():
    edge = edited(placed(chain("Edge", Ellipse(width=60.0), INK), x=50.0), source_only=True)
    cut = chain("Cut", Rectangle(width=300.0, height=300.0), INK, Trim(at="another layer", layer="edge"))
    evaluator = Evaluator()
    results = evaluator.design(work(cut, edge))
    facts = measure(results["cut"], evaluator, SHEET)
    assert facts.bounds == pytest.approx((20.0, -30.0, 80.0, 30.0), abs=1e-3)
    again = chain("Again", LayerMotif(layer="edge", stands="as it lies"))
    results = evaluator.design(work(again, edge))
    assert measure(results["again"], evaluator, SHEET).bounds == pytest.approx((20.0, -30.0, 80.0, 30.0), abs=1e-3)


def test_a_moved_layer_trimmed_by_another_in_its_group():
    edge = edited(chain("Edge", Ellipse(width=60.0), INK), source_only=True)
    cut = chain("Cut", Rectangle(width=300.0, height=300.0), INK, Trim(at="another layer", layer="edge"))
    both = placed(Group(id="both", handle="both", name="Both", layers=(cut, edge)), x=50.0, turn=45.0)
    evaluator = Evaluator()
    results = evaluator.design(work(both))
    assert measure(results["cut"], evaluator, SHEET).bounds == pytest.approx((20.0, -30.0, 80.0, 30.0), abs=1e-3)


def test_at_rest_nothing_is_made_and_only_the_end_is_made_anew_where_no_rule_asks_for_the_sheet():
    evaluator = Evaluator()
    assert evaluator.design(work(row()))["row"].placed is None
    layer = row()
    evaluator.design(work(layer))
    evaluator.design(work(placed(layer, turn=20.0)))
    assert set(evaluator.computed) <= {layer.rules[-1].id}


def test_nothing_and_very_many_copies():
    none = placed(chain("Row", Rectangle(), INK, Rosette(count=1)), x=1e5, size=0.1)
    assert len(middles(work(none))) == 1
    many = placed(
        chain("Row", Ellipse(width=0.2), INK, Lattice(form="squares", spacing="free", pitch=1.0, row_pitch=1.0)), turn=5.0
    )
    assert len(middles(work(many))) > 100_000
    assert LayerEnd(place_turn=5.0).key_line("mm").endswith("placed")
