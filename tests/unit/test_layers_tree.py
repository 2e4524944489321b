"""One tree of layers: ends alike for all, addresses, one edit, locks, files of version 1."""

import json

import numpy as np
import pytest

from tests.chains import SHEET, work_of
from under_lattice.command_line.main import main
from under_lattice.core.errors import FileError, InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.derived import derived_values
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.migrations import VERSION
from under_lattice.files.storage import from_text, to_data, to_text
from under_lattice.library import DEMOS, demo
from under_lattice.library.layers import chain
from under_lattice.many.settings import apply_setting
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.ends.layer_end import LayerEnd
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.layer_motif import LayerMotif
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.scene.tree import make_scene
from under_lattice.vary.numbers import Varied
from under_lattice.work import edits
from under_lattice.work.address import Address, read_address
from under_lattice.work.grouping import duplicated, group_with_next, moved_to, remove_layer, taken_out, ungroup
from under_lattice.work.layers import Group, Veil
from under_lattice.work.model import Design, Kept, Work
from under_lattice.work.named import add_named, set_named
from under_lattice.work.turning import turned


def nested():
    """A group in a group beside a chain, and a veil over it."""
    inner = Group(id="inner", handle="inner", name="Inner", layers=(chain("Tiles", Polygon(), Ink(), Lattice()),))
    outer = Group(id="outer", handle="outer", name="Outer", layers=(chain("Ring", Ellipse(), Ink(), Rosette()), inner))
    veil = Veil(id="veil", handle="veil", name="Haze", rules=(Ink(id="veil-ink", handle="ink"),))
    return Design(name="Nest", sheet=SHEET, layers=(veil, outer, chain("Ground", Polygon(size=200.0), Ink())))


def scene(design, time=0.0):
    evaluator = Evaluator()
    return make_scene(design, evaluator.design(design, time=time), evaluator)


# -- addresses -------------------------------------------------------------------------------------
def test_every_number_of_a_work_has_one_address_that_is_read_back():
    for design in (nested(), *(DEMOS[name]() for name in DEMOS)):
        for layer, rule in design.every_rule():
            for name in rule.dials():
                address = Address(layer.id, rule.id, name)
                text = address.text(design)
                assert read_address(design, text) == address
                assert address.value(design) is getattr(rule, name)
                if isinstance(getattr(rule, name), Varied):
                    assert read_address(design, f"{text}.end").value(design) == getattr(rule, name).end


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("floor", "LAYER.RULE.NUMBER"), ("wall.lattice.gap", "no layer “wall”.*tiles, ring|no layer “wall”"),
        ("tiles.spiral.gap", "no rule of tiles “spiral”"), ("tiles.lattice.width", "no number of lattice"),
        ("tiles.lattice.gap.middle", ".start, .end, .curve"), ("outer.lattice.gap", "there is: layer"),
    ],
)  # fmt: skip
def test_an_address_that_leads_nowhere_says_what_there_is(text, told):
    with pytest.raises(InputError, match=told):
        read_address(nested(), text)


def test_groups_and_veils_are_set_from_the_command_line_like_any_layer(capsys, tmp_path):
    design = apply_setting(nested(), "outer.layer.opacity=40")
    assert design.layer("outer").end.opacity == 40
    assert apply_setting(design, "veil.ink.stroke_width=2").layer("veil").rules[0].stroke_width == 2
    assert apply_setting(design, "inner.layer.mask=ground").layer("inner").end.mask == "ground"
    file = tmp_path / "nest.lattice"
    file.write_text(to_text(Work(design=design)))
    assert main(["render", str(file), "-o", str(tmp_path / "a.svg"), "--set", "outer.layer.blend=multiply"]) == 0
    assert "mix-blend-mode:multiply" in (tmp_path / "a.svg").read_text()


# -- ends ------------------------------------------------------------------------------------------
def test_a_number_of_a_group_varies_over_the_loop_and_follows_a_named_dial():
    swing = Varied(rule="", channel="loop", start=100.0, end=100.0, midway=(20.0, 20.0))
    design = edits.set_dial(nested(), "outer", "outer-layer", "opacity", swing)
    assert [round(scene(design, time).layers[0].opacity, 6) for time in (0.0, 0.5)] == [1.0, 0.2]
    tied = add_named(nested(), "outer", "outer-layer", "opacity", "Haze")
    (dial,) = tied.dials
    assert set_named(tied, dial.id, 30.0).layer("outer").end.opacity == 30.0


def test_a_hidden_group_and_a_source_paint_nothing_and_ends_reach_the_scene():
    design = nested()
    assert [one.name for one in scene(design).layers] == ["Outer", "Ground"]
    assert [one.name for one in scene(edits.show_layer(design, "outer", True)).layers] == ["Ground"]
    faint = edits.with_layer(design, "inner", lambda one: edited(one, end=LayerEnd(opacity=50.0, blend="screen", isolated="no")))
    inner = scene(faint).layers[0].members[1]
    assert (inner.opacity, inner.blend, inner.isolated) == (0.5, "screen", False)
    assert scene(design).layers[0].members[1].isolated


def test_a_group_as_motif_knows_opacity_blend_and_hiding_of_groups_inside_it():
    user = chain("User", LayerMotif(layer="outer", stands="as it lies"))
    design = edited(nested(), layers=(user, *nested().layers))

    def fills(one):
        evaluator = Evaluator()
        picture = evaluator.picture(evaluator.design(one)["user"])
        alphas = {int(alpha) for coat in picture.coats for alpha in coat.fill[:, 3] if alpha}
        return picture.marks.count, alphas, {coat.blend for coat in picture.coats}

    whole, opaque, _ = fills(design)
    assert opaque == {255}
    assert fills(edits.show_layer(design, "inner", True))[0] == 12
    half = edits.set_dial(design, "inner", "inner-layer", "opacity", 50.0)
    assert (fills(half)[0], fills(half)[1]) == (whole, {255, 128})
    quarter = edits.set_dial(half, "outer", "outer-layer", "opacity", 50.0)
    assert fills(quarter)[1] == {128, 64}
    mixed = edits.set_dial(design, "inner", "inner-layer", "blend", "multiply")
    assert fills(mixed)[2] == {"normal", "multiply"}


# -- one edit --------------------------------------------------------------------------------------
def test_turning_a_number_that_follows_frees_it_and_keeps_the_others():
    design = work_of(Polygon(size=48.0), Lattice()).design
    touching = derived_values(design, "floor", "floor-lattice")
    assert touching["row_pitch"] > 0
    by_hand = turned(design, Address("floor", "floor-lattice", "pitch"), 60.0, derived_values)
    by_order = apply_setting(design, "floor.lattice.pitch=60")
    rule = by_hand.layers[0].rules[1]
    assert by_order == by_hand
    assert (rule.spacing, rule.pitch) == ("free", 60.0)
    assert rule.row_pitch == pytest.approx(touching["row_pitch"])


def test_the_command_line_turns_every_number_as_the_window_does():
    for name in ("entrance-floor", "tide-rings", "deck-chair-canvas", "locker-doors"):
        design = DEMOS[name]()
        for layer, rule in list(design.every_rule()):
            for dial_name, dial in rule.dials().items():
                now = getattr(rule, dial_name)
                if dial.kind not in ("length", "angle", "ratio", "count", "seed") or isinstance(now, Varied):
                    continue
                value = min(max(round(now + dial.step, 6), dial.least), dial.most)
                address = Address(layer.id, rule.id, dial_name)
                order = f"{address.text(design)}={value!r}"
                assert apply_setting(design, order) == turned(design, address, value, derived_values), order


def test_an_end_of_a_number_is_turned_alone_and_only_where_it_varies():
    design = apply_setting(work_of(Polygon(), Lattice(), Adjust()).design, "floor.adjust.turn== 10 * col")
    assert isinstance(design.layers[0].rules[2].turn, Varied)
    turn = Varied(rule="floor-lattice", channel="column", start=0.0, end=9.0)
    plain = work_of(Polygon(), Lattice(), Adjust(turn=turn)).design
    assert apply_setting(plain, "floor.adjust.turn.end=50").layers[0].rules[2].turn.end == 50.0
    with pytest.raises(InputError, match="does not vary"):
        apply_setting(plain, "floor.lattice.gap.end=3")


# -- locks -----------------------------------------------------------------------------------------
CHANGES = {
    "turned": lambda d: edits.set_dial(d, "ring", "ring-rosette", "count", 5),
    "removed": lambda d: remove_layer(d, "ring"),
    "moved": lambda d: moved_to(d, "ring", 9),
    "renamed": lambda d: edits.with_layer(d, "ring", lambda one: edited(one, name="Other")),
    "faded": lambda d: edits.set_dial(d, "ring", "ring-layer", "opacity", 5.0),
    "given a rule": lambda d: edits.add_rule(d, "ring", Ink(), "ring-rosette"),
    "grouped": lambda d: group_with_next(d, "ring"),
    "taken out": lambda d: taken_out(d, "ring"),
}


@pytest.mark.parametrize("change", list(CHANGES))
@pytest.mark.parametrize("locked", ["ring", "outer"])
def test_of_a_locked_layer_nothing_changes_but_its_being_seen(change, locked):
    design = edits.lock_layer(nested(), locked, True)
    with pytest.raises(InputError, match="is locked; unlock it first"):
        CHANGES[change](design)
    assert edits.show_layer(design, "ring", True).layer("ring").hidden
    CHANGES[change](edits.lock_layer(design, locked, False))


def test_a_group_with_a_locked_member_is_not_removed_and_others_go():
    design = edits.lock_layer(nested(), "tiles", True)
    with pytest.raises(InputError, match="layer Tiles is locked"):
        remove_layer(design, "outer")
    assert [one.id for one in remove_layer(design, "ring").all_layers()] == ["veil", "outer", "inner", "tiles", "ground"]
    assert [one.id for one in ungroup(nested(), "outer").layers] == ["veil", "ring", "inner", "ground"]


def test_a_double_stays_in_its_group_with_ids_and_handles_of_its_own():
    design, copy = duplicated(nested(), "tiles")
    assert design.layer(copy).name == "Tiles copy"
    assert [one.name for one in design.layer("inner").members] == ["Tiles copy", "Tiles"]
    twice, _ = duplicated(design, "inner")
    assert len(twice.layer("outer").members) == 3
    assert from_text(to_text(Work(design=twice))).design == twice  # ids and handles are one each
    first, second = twice.layer("outer").members[1:]
    assert {r.id for one in first.walk() for r in one.every_rule}.isdisjoint(r.id for one in second.walk() for r in one.every_rule)


def test_a_layer_cannot_read_itself_through_an_end():
    design = edits.set_dial(nested(), "ring", "ring-layer", "mask", "ground")
    with pytest.raises(InputError, match="would read itself"):
        edits.set_dial(design, "ground", "ground-layer", "clip", "ring")
    with pytest.raises(InputError, match="would read itself"):
        edits.set_dial(nested(), "outer", "outer-layer", "mask", "inner")


# -- files -----------------------------------------------------------------------------------------
def test_a_file_of_version_1_opens_looks_and_saves_the_same():
    now = to_data(Work(design=edits.set_dial(nested(), "outer", "outer-layer", "opacity", 40.0)))
    old = json.loads(json.dumps(now))

    def back(layer):
        end = layer.pop("end") if layer["kind"] != "chain" else None
        if layer["kind"] == "group":
            layer |= {"opacity": end["opacity"], "blend": end["blend"], "layers": [back(one) for one in layer["layers"]]}
        for field in ("isolated", "clip", "mask", "mask_by"):
            layer.get("end", {}).pop(field, None)
        return {k: v for k, v in layer.items() if layer["kind"] != "veil" or k != "source_only"}

    old["version"], old["design"]["layers"] = 1, [back(one) for one in old["design"]["layers"]]
    opened = from_text(json.dumps(old))
    assert to_data(opened) == now
    assert to_data(opened)["version"] == VERSION
    painted, same = (scene(one).layers[0] for one in (opened.design, from_text(json.dumps(now)).design))
    assert (painted.opacity, painted.isolated) == (same.opacity, same.isolated) == (0.4, True)


def test_doubled_handles_are_refused_in_kept_versions_too():
    design = nested()
    doubled = edited(design, layers=(*design.layers, edited(chain("Ground", Polygon()), id="other", end=LayerEnd(id="o"))))
    doubled = edits.with_layer(doubled, "other", lambda one: edited(one, rules=(edited(one.rules[0], id="m"),)))
    with pytest.raises(FileError, match="two layers have the same handle “ground”"):
        from_text(to_text(Work(design=doubled)))
    with pytest.raises(FileError, match="kept “then”, two layers"):
        from_text(to_text(Work(design=design, kept=(Kept(name="then", design=doubled),))))
    rules = design.chain("ground").rules
    twice = edits.with_layer(design, "ground", lambda one: edited(one, rules=(*rules, edited(rules[1], id="again"))))
    with pytest.raises(FileError, match="two rules of layer “Ground”"):
        from_text(to_text(Work(design=twice)))


def test_demo_works_hold_after_there_and_back():
    for name in DEMOS:
        work = demo(name)
        assert from_text(to_text(work)) == work
        assert np.isfinite([layer.end.opacity for layer in work.design.all_layers()]).all()
