"""Layers that are grouped look as before; a group that a layer is made of is not broken open by grouping the two."""

from itertools import pairwise
from random import Random  # noqa: TID251 (each has its own, by a seed)

import numpy as np
import pytest

from tests.pictures.test_one_layer import painted
from under_lattice.colour.blend import BLENDS
from under_lattice.library import demo
from under_lattice.work.grouping import group_with_next, made_compound
from under_lattice.work.reading import parent_of
from under_lattice.work.several import grouped, laid_together

LAYERED = ("ticket-engraving", "lobby-panel", "indigo-towel", "terrace-screen", "locker-doors", "harbour-window", "festival-poster")


def apart(one, other):
    return int(np.abs(painted(one) - painted(other)).max())


@pytest.mark.parametrize("name", LAYERED)
def test_grouping_a_layer_with_the_one_behind_it_leaves_the_picture_as_it_is(name):
    design = demo(name).design
    for front, behind in pairwise(design.layers):
        made = group_with_next(design, front.id)
        assert parent_of(made, front.id) is not None
        if not (front.veils or behind.veils):  # a veil is for what lies beneath it in its group
            assert apart(design, made) <= 1, (front.name, behind.name)


@pytest.mark.parametrize("seed", range(4))
def test_layers_of_any_blend_and_opacity_look_the_same_in_groups_in_groups(seed):
    dice, design = Random(seed), demo("ticket-engraving").design
    for layer in design.layers:
        design = laid_together(design, [layer.id], blend=dice.choice(list(BLENDS)), opacity=dice.choice([100.0, 60.0]))
    names = [layer.id for layer in design.layers]
    inner, _ = grouped(design, names[1:3])
    outer, _ = grouped(inner, [names[0], names[1], names[2], names[3]])
    assert apart(design, inner) <= 1
    assert apart(design, outer) <= 1
    assert apart(design, group_with_next(inner, names[0])) <= 1  # taken into the group


def test_what_is_made_of_a_group_comes_into_a_new_group_with_it():
    design, layer = made_compound(
        group_with_next(demo("ceiling-rosette").design, demo("ceiling-rosette").design.layers[0].id), "beads"
    )
    source = design.layers[[one.id for one in design.layers].index(layer) + 1]
    assert source.source_only
    made = group_with_next(design, layer)
    around = parent_of(made, layer)
    assert [one.id for one in around.members] == [layer, source.id]
    assert not around.source_only
    assert made.layer(source.id).members == source.members
    assert apart(design, made) <= 1
