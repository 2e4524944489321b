"""Several layers at once: moved, grouped, laid over, removed; one shown alone; what cannot be says so and changes nothing."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.library.layers import chain
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.paints.ink import Ink
from under_lattice.work.layers import Group
from under_lattice.work.model import Design
from under_lattice.work.several import grouped, hidden_together, laid_together, moved_into, outermost, removed_together, shown_alone


def one(name):
    return edited(chain(name, Ellipse(), Ink()), id=name)


def group(name, *members):
    return Group(id=name, handle=name.lower(), name=name, layers=members)


def work():
    """a, G(b, H(c, d)), e: front first."""
    return Design(layers=(one("a"), group("G", one("b"), group("H", one("c"), one("d"))), one("e")))


def shape(design):
    def said(layer):
        return f"{layer.id}({', '.join(map(said, layer.members))})" if layer.members else layer.id

    return ", ".join(map(said, design.layers))


@pytest.mark.parametrize(
    ("ids", "into", "at", "then"),
    [
        (["a"], "", 3, "G(b, H(c, d)), e, a"),
        (["e"], "", 0, "e, a, G(b, H(c, d))"),
        (["a", "e"], "H", 1, "G(b, H(c, a, e, d))"),
        (["c", "b"], "", 1, "a, b, c, G(H(d)), e"),
        (["b", "c"], "G", 2, "a, G(H(d), b, c), e"),
        (["H", "c"], "", 0, "H(c, d), a, G(b), e"),
        (["c", "d"], "G", 0, "a, G(c, d, b), e"),
        (["b"], "G", 0, "a, G(b, H(c, d)), e"),
    ],
)
def test_layers_are_moved_into_groups_and_out_of_them(ids, into, at, then):
    assert shape(moved_into(work(), ids, into, at)) == then


def test_what_cannot_be_moved_says_so():
    for ids, into, said in (
        (["G"], "H", "into itself"),
        (["G"], "G", "into itself"),
        (["c", "d"], "H", "all that is in this group"),
    ):
        with pytest.raises(InputError, match=said):
            moved_into(work(), ids, into, 0)
    locked = edited(work(), layers=(edited(one("a"), locked=True), *work().layers[1:]))
    with pytest.raises(InputError, match="lock"):
        moved_into(locked, ["a", "e"], "G", 0)


ids = st.lists(st.sampled_from(["a", "b", "c", "d", "e", "G", "H"]), min_size=1, max_size=5, unique=True)


@given(ids=ids, into=st.sampled_from(["", "G", "H"]), at=st.integers(0, 4))
def test_no_layer_is_lost_and_none_is_there_twice(ids, into, at):
    try:
        design = moved_into(work(), ids, into, at)
    except InputError:
        return
    assert sorted(layer.id for layer in design.chains()) == ["a", "b", "c", "d", "e"]
    every = [layer.id for layer in design.all_layers()]
    assert len(set(every)) == len(every)
    order = [layer.id for layer in design.all_layers() if layer.id in outermost(work(), ids)]
    assert order == list(outermost(work(), ids))  # those that were moved keep their order


@given(ids=ids)
def test_a_group_of_several_stands_where_the_front_one_stood(ids):
    try:
        design, made = grouped(work(), ids)
    except InputError:
        assert len(outermost(work(), ids)) < 2
        return
    assert [member.id for member in design.layer(made).members] == list(outermost(work(), ids))
    assert sorted(layer.id for layer in design.chains()) == ["a", "b", "c", "d", "e"]


def test_opacity_blend_and_what_is_hidden_are_set_together():
    design = laid_together(work(), ["a", "G", "d"], opacity=40.0, blend="multiply")
    assert [(layer.end.opacity, layer.end.blend) for layer in design.all_layers() if layer.id in "aGd"] == [(40.0, "multiply")] * 3
    assert design.layer("e").end.opacity == 100.0
    assert [layer.id for layer in hidden_together(design, ["b", "e"], True).all_layers() if layer.hidden] == ["b", "e"]


def test_all_but_one_are_removed_and_not_the_last():
    assert shape(removed_together(work(), ["a", "G"])) == "e"
    assert shape(removed_together(work(), ["c", "d", "H"])) == "a, G(b), e"
    with pytest.raises(InputError, match="keeps one layer"):
        removed_together(work(), ["a", "G", "e"])


def test_one_alone_is_seen_with_all_it_is_in():
    design = hidden_together(work(), ["G"], True)
    alone = shown_alone(design, "c")
    assert {layer.id for layer in alone.all_layers() if not layer.hidden} == {"G", "H", "c"}
    assert {layer.id for layer in shown_alone(design, "H").all_layers() if not layer.hidden} == {"G", "H", "c", "d"}
    assert shown_alone(design, "gone") == design
