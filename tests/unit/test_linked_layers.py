"""Linked layers: what is changed in one changes in the others, what is added to one stays there; each can be on its own again."""

import numpy as np
import pytest

from tests.chains import SHEET
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library import demo
from under_lattice.library.layers import chain
from under_lattice.render.paint import paint
from under_lattice.rules import Adjust, Ink, Lattice, LayerEnd, Polygon, Rosette
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import add_rule, set_dials
from under_lattice.work.layers import Group
from under_lattice.work.linking import linked_copy, linked_to, unlinked
from under_lattice.work.model import Design

INK = Ink(colours="step", palette=("#26374F", "#C2694C", "#E4B45C"))


def rings(**more):
    size = Varied(rule="rings-rosette", channel="step", start=10.0, end=30.0)
    return chain("Rings", Polygon(sides=6, size=size), INK, Rosette(count=12, radius=90.0), **more)


def picture(design, only=""):
    layers = tuple(edited(one, hidden=one.id != only) for one in design.layers) if only else design.layers
    evaluator, shown = Evaluator(), edited(design, layers=layers)
    scene = make_scene(shown, evaluator.design(shown), evaluator)
    return paint(scene, whole_page(scene, 200)).astype(int)


def away(one, other):
    return float(np.abs(one - other).mean())


@pytest.fixture
def linked():
    return linked_copy(Design(sheet=SHEET, layers=(rings(),)), "rings")


def test_it_shows_the_same_and_follows(linked):
    design, copy = linked
    assert linked_to(design.layer(copy)) == "rings"
    assert away(picture(design, copy), picture(design, "rings")) < 0.05
    ink = design.layer("rings").rules[1].id
    changed = set_dials(design, "rings", ink, {"palette": ("#FF0000", "#00FF00")})
    assert away(picture(changed, copy), picture(changed, "rings")) < 0.05
    assert away(picture(changed, copy), picture(design, copy)) > 3


def test_what_is_added_is_its_own(linked):
    design, copy = linked
    turned = add_rule(design, copy, Adjust(turn=15.0), design.layer(copy).rules[0].id)
    assert away(picture(turned, copy), picture(turned, "rings")) > 1
    assert away(picture(turned, "rings"), picture(design, "rings")) == 0


def test_unlinked_it_looks_the_same_and_follows_no_more(linked):
    design, copy = linked
    faint = edited(design, layers=(design.layers[0], edited(design.layers[1], end=edited(design.layers[1].end, opacity=60.0))))
    alone = unlinked(faint, copy)
    assert linked_to(alone.layer(copy)) == ""
    assert away(picture(alone, copy), picture(faint, copy)) < 1.0
    ids = [rule.id for layer in alone.layers for rule in layer.every_rule]
    assert len(ids) == len(set(ids))
    ink = alone.layer("rings").rules[1].id
    changed = set_dials(alone, "rings", ink, {"palette": ("#FF0000",)})
    assert away(picture(changed, copy), picture(alone, copy)) == 0
    size = alone.layer(copy).rules[0].size
    assert size.rule in {rule.id for rule in alone.layer(copy).rules}


def test_rules_that_were_added_come_after_those_it_followed(linked):
    design, copy = linked
    grid = Lattice(form="squares", spacing="free", pitch=200.0, extent="by number", columns=2, rows=1)
    more = add_rule(design, copy, grid, design.layer(copy).rules[0].id)
    alone = unlinked(more, copy)
    assert [rule.kind for rule in alone.layer(copy).rules] == ["polygon", "ink", "rosette", "lattice"]
    assert len({rule.handle for rule in alone.layer(copy).rules}) == 4
    assert away(picture(alone, copy), picture(more, copy)) < 1.0


def test_a_group_can_be_linked_and_one_is_linked_to_another():
    group = Group(id="pair", handle="pair", name="Pair", layers=(rings(),), end=LayerEnd(id="pair-end", place_x=20.0))
    design, copy = linked_copy(Design(sheet=SHEET, layers=(group,)), "pair")
    assert away(picture(design, copy), picture(design, "pair")) < 0.05
    with pytest.raises(InputError, match="duplicate the group"):
        unlinked(design, copy)
    again, third = linked_copy(design, copy)
    assert away(picture(again, third), picture(again, "pair")) < 0.05
    alone = unlinked(again, third)
    assert linked_to(alone.layer(third)) == "pair"


def test_refusals_and_locks(linked):
    design, copy = linked
    with pytest.raises(InputError, match="linked to no layer"):
        unlinked(design, "rings")
    locked = edited(design, layers=(edited(design.layers[0], locked=True), design.layers[1]))
    with pytest.raises(InputError, match="locked"):
        unlinked(locked, copy)


@pytest.mark.parametrize("name", ["locker-tiles", "rope-mat", "tide-rings"])
def test_demo_works_are_linked_and_unlinked(name):
    work = demo(name).design
    chain_id = next(one.id for one in work.layers if not one.members)
    design, copy = linked_copy(work, chain_id)
    alone = unlinked(design, copy)
    assert away(picture(alone, copy), picture(design, chain_id)) < 1.0
