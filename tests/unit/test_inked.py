"""Motifs that bring their own ink: pictures, pixel drawings, layers and groups, frozen copies."""

import numpy as np
import pytest

from tests.chains import SHEET, evaluated, work_of
from tests.pictures.compare import RSVG, apart, by_rsvg, ours
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.outline import areas
from under_lattice.library import demo
from under_lattice.library.layers import chain
from under_lattice.library.sample_pictures import sample_picture
from under_lattice.measure.facts import measure
from under_lattice.output.svg import Svg, write_svg
from under_lattice.render.paint import paint
from under_lattice.rules import KINDS
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.copies.leave_out import LeaveOut
from under_lattice.rules.copies.trim import Trim
from under_lattice.rules.copies.warp import Warp
from under_lattice.rules.ground import PLAIN, Ground
from under_lattice.rules.handles import Drag
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.frozen_motif import FrozenMotif
from under_lattice.rules.motifs.layer_motif import LayerMotif
from under_lattice.rules.motifs.picture_motif import PictureMotif
from under_lattice.rules.motifs.pixel_motif import PixelMotif
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.sheet_motif import SheetMotif
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.paints.ramps import SCOPES
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.shapes.construction_only import ConstructionOnly
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.work import edits
from under_lattice.work.freeze import frozen_text, with_frozen
from under_lattice.work.grouping import add_layer, group_with_next, made_compound, moved_to, remove_layer, taken_out, ungroup
from under_lattice.work.model import Design, Sheet
from under_lattice.work.reading import may_read, parent_of, read_by
from under_lattice.work.sheets import set_unit
from under_lattice.work.suggest import suggested

COLOURS = ("#C2694C", "#26374F", "#E9DCC3")


def seen(design, layer):
    evaluator = Evaluator()
    results = evaluator.design(design)
    return evaluator.picture(results[layer]), results[layer]


def scene(design):
    evaluator = Evaluator()
    return make_scene(design, evaluator.design(design), evaluator)


def ringed(count=6):
    return work_of(Ellipse(), Ink(palette=COLOURS, colours="step"), Rosette(count=count, radius=40.0)).design


def test_squares_of_a_colour_are_one_part_and_have_their_area():
    design = work_of(PixelMotif(drawing="11.2/1.22/3331", palette=COLOURS, side=3.0)).design
    picture, _ = seen(design, "floor")
    found = [abs(areas(f.verbs, f.points)[0]) for f in picture.marks.families]
    assert np.allclose(found, [4 * 9, 3 * 9, 3 * 9])
    assert [bytes(row[:3]) for row in picture.coats[0].fill] == [bytes.fromhex(c[1:]) for c in COLOURS]


@pytest.mark.parametrize(("text", "said"), [("12/1", "row 2"), ("1x", "“x”"), ("", "squares each way"), ("1" * 65, "64")])
def test_what_is_no_drawing_is_refused(text, said):
    with pytest.raises(InputError, match=said):
        edited(PixelMotif(), drawing=text)


def test_a_layer_as_motif_shows_its_marks_with_their_inks_and_follows_changes():
    design, layer = made_compound(ringed(), "floor")
    design = edits.add_rule(
        design, layer, Lattice(form="squares", extent="by number", columns=3, rows=2, spacing="free", pitch=200), ""
    )
    evaluator = Evaluator()
    picture = evaluator.picture(evaluator.design(design)[layer])
    single, _ = seen(design, "floor")
    assert picture.marks.count == 6 * single.marks.count == 36
    assert np.array_equal(picture.coats[0].fill[:6], np.broadcast_to(single.coats[0].fill, (6, 4)))
    fewer = edits.set_dial(design, "floor", "floor-rosette", "count", 4.0)
    assert evaluator.picture(evaluator.design(fewer)[layer]).marks.count == 24
    assert [one.picture.marks.count for one in scene(design).layers] == [36]  # the source itself is not painted


def test_a_layer_as_motif_goes_through_another_renderer_the_same():
    design, layer = made_compound(demo("wash-room-tiles").design, demo("wash-room-tiles").design.layers[0].id)
    design = edits.add_rule(design, layer, Adjust(turn=20.0, across=60.0, along=60.0), "")
    assert RSVG is None or apart(ours(scene(design), 360), by_rsvg(scene(design), design.sheet, 360))[0] < 1.0


def test_what_would_read_itself_is_refused_and_not_offered():
    design, layer = made_compound(ringed(), "floor")
    motif = design.chain(layer).rules[0].id
    with pytest.raises(InputError, match="would read itself"):
        edits.set_dial(design, layer, motif, "layer", layer)
    assert layer not in [one.id for one in may_read(design, "floor", True)]
    assert [one.id for one in read_by(design, "floor")] == [layer]


def test_inks_speak_when_the_motif_lets_them():
    design, layer = made_compound(ringed(), "floor")
    design = edits.add_rule(design, layer, Ink(colours="one colour", palette=("#112233",)), "")
    motif = design.chain(layer).rules[0].id
    own, _ = seen(design, layer)
    inked, _ = seen(edits.set_dial(design, layer, motif, "colours", "from the inks"), layer)
    assert len(np.unique(own.coats[0].fill, axis=0)) == 3
    assert np.array_equal(inked.coats[0].fill, [[0x11, 0x22, 0x33, 255]])


def test_an_ink_without_a_say_is_told_with_its_cure():
    motif = PixelMotif(id="pixels")
    found = Ink().without_effect(motif)[""]
    assert "keeps its own colours" in found.words
    assert (found.rule, found.changes) == ("pixels", {"colours": "from the inks"})
    assert not Ink().without_effect(edited(motif, **found.changes))
    assert not Ink().without_effect(Polygon())
    assert not measure(evaluated(motif, Ink()), Evaluator(), SHEET).warnings  # the card says it


def test_the_opacity_of_a_linked_layer_goes_with_it_and_constructions_do_not():
    design, layer = made_compound(ringed(), "floor")
    half = edits.set_dial(design, "floor", "floor-layer", "opacity", 50.0)
    assert seen(half, layer)[0].coats[0].fill[0, 3] == 128
    assert seen(edits.set_dial(design, layer, design.chain(layer).rules[0].id, "layer", "floor"), layer)[0] is not None
    evaluator = Evaluator()
    assert evaluator.picture(evaluator.design(design)[layer]) is not None
    bones = edits.add_rule(design, "floor", ConstructionOnly(), "floor-rosette")
    assert evaluator.picture(evaluator.design(bones)[layer]) is None  # the same evaluator: nothing stale is shown


def test_a_picture_is_stored_once_turned_with_copies_and_written_as_svg():
    picture = sample_picture("fish")
    design = edits.with_picture(work_of(PictureMotif(picture=picture.id, width=90.0, turn=30.0)).design, picture)
    design = edits.with_picture(edits.add_rule(design, "floor", Adjust(turn=25.0, across=80.0), ""), picture)
    assert len(design.pictures) == 1
    shown, result = seen(design, "floor")
    assert not result.problems
    assert np.isclose(abs(np.linalg.det(shown.coats[0].seat[0][:, :2])), 0.8)
    assert RSVG is None or apart(ours(scene(design), 400), by_rsvg(scene(design), design.sheet, 400))[0] < 1.5
    none, result = seen(work_of(PictureMotif()).design, "floor")
    assert none is None
    assert "choose a picture" in result.problems[0].sentence


def test_groups_are_made_taken_apart_and_kept_in_order():
    design = ringed()
    for name in ("second", "third"):
        design = add_layer(design, edited(design.layers[0], name=name, handle=name), len(design.layers))
    first, second, third = (one.id for one in design.layers)
    design = group_with_next(design, first)
    assert [one.id for one in parent_of(design, second).layers] == [first, second]
    with pytest.raises(InputError, match="behind"):
        group_with_next(design, third)
    assert [one.id for one in moved_to(design, second, 0).chains()] == [second, first, third]
    assert [one.id for one in moved_to(design, third, 0).chains()] == [third, first, second]
    assert taken_out(design, second).layers[0].id == second
    assert [one.id for one in ungroup(design, parent_of(design, first).id).layers] == [first, second, third]
    assert remove_layer(remove_layer(design, first), second).all_layers() == (design.chain(third),)
    group = parent_of(design, first).id
    compound, layer = made_compound(design, group)
    with pytest.raises(InputError, match="as its motif"):
        ungroup(compound, group)
    assert seen(compound, layer)[0].marks.count == 12


def test_frozen_copies_look_the_same_and_are_copies_of_their_own():
    design = ringed(7)
    picture, _ = seen(design, "floor")
    frozen, layer = with_frozen(design, "floor", frozen_text(picture))
    assert design.chain("floor").hidden is False
    assert frozen.chain("floor").hidden is True
    assert apart(ours(scene(design), 300), ours(scene(frozen), 300))[0] < 0.05
    fewer = edits.add_rule(frozen, layer, LeaveOut(which="every k-th", every=2), "")
    assert seen(fewer, layer)[1].last.stage.n in (3, 4)
    wider = set_unit(frozen, "cm")
    assert apart(ours(scene(frozen), 300), ours(scene(wider), 300))[0] < 0.05


@pytest.mark.parametrize("ramp_of", ["each shape", "all so far"])
@pytest.mark.parametrize("inside", ["straight ramp", "round ramp"])
def test_frozen_ramps_lie_where_they_lay(inside, ramp_of):
    scopes = {words: key for key, words in SCOPES}
    ink = Ink(palette=COLOURS, inside=inside, ramp_of=scopes[ramp_of], stroke="one colour", stroke_width=1.0, mixing="Oklab")
    design = work_of(Ellipse(width=30.0, roundness=60.0), Rosette(count=5, radius=50.0), ink).design
    frozen, _ = with_frozen(design, "floor", frozen_text(seen(design, "floor")[0]))
    assert apart(ours(scene(design), 300), ours(scene(frozen), 300))[0] < 0.1
    wider = set_unit(frozen, "cm")
    assert apart(ours(scene(frozen), 300), ours(scene(wider), 300))[0] < 0.1


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "from 1 to"),
        ("red none 0 M0 0 L1 1", "colour"),
        ("none none x M0 0 L1 1", "width"),
        ("none none", "needs"),
        ("linear:sRGB:FF:0,#FFFFFF,1:1 none 0 M0 0 L1 1", "ramp"),
    ],
)
def test_what_is_no_list_of_shapes_is_refused(text, said):
    with pytest.raises(InputError, match=said):
        edited(FrozenMotif(), shapes=text)


def test_too_much_for_a_motif_or_for_freezing_is_said():
    many = work_of(Ellipse(width=1.0), Lattice(spacing="free", pitch=2.0), sheet=Sheet(width=300, height=300)).design
    design, layer = made_compound(many, "floor")
    assert "at most 4,000" in seen(design, layer)[1].problems[0].sentence
    with pytest.raises(InputError, match="can be frozen"):
        frozen_text(seen(many, "floor")[0])


def test_no_layer_chosen_is_said():
    assert "choose the layer" in seen(work_of(LayerMotif()).design, "floor")[1].problems[0].sentence


BEADED = PixelMotif(turn=20.0), PictureMotif(picture=sample_picture("fish").id, turn=20.0), LayerMotif(layer="ring")


@pytest.mark.parametrize("motif", BEADED, ids=lambda motif: motif.kind)
def test_beads_of_motifs_with_their_own_ink_size_and_turn_them(motif):
    design = edited(ringed(), layers=(*ringed().layers, chain("Ring", Ellipse(width=30.0))))
    design = edits.with_picture(edits.exchange_motif(design, "floor", motif), sample_picture("fish"))
    stage = Evaluator().design(design)["floor"].steps[0].stage
    motif = design.chain("floor").rules[0]
    beads = {one.name: one.at for one in motif.handles(stage, stage, PLAIN, "mm").handles}
    larger = motif.dragged(Drag(motif.sized, beads[motif.sized] * 1.5, 0.0, free=True), stage, stage, PLAIN)
    assert larger[motif.sized] == pytest.approx(1.5 * getattr(motif, motif.sized), rel=1e-2)
    turned = motif.dragged(Drag("turn", np.array([-beads["turn"][1], beads["turn"][0]]), 0.0, free=True), stage, stage, PLAIN)
    assert turned["turn"] == pytest.approx(motif.turn + 90.0)
    if "stretch" in beads:
        assert motif.dragged(Drag("stretch", beads["stretch"] * 2, 0.0), stage, stage, PLAIN) == {"stretch": 200.0}


def test_beads_of_the_sheet_set_inset_and_corners():
    rule, ground = SheetMotif(inset=10.0), Ground.on(200.0, 100.0)
    stage = rule.begin(ground)
    beads = {one.name: one.at for one in rule.handles(stage, stage, ground, "mm").handles}
    assert beads["inset"] == pytest.approx((0.0, -40.0))
    assert rule.dragged(Drag("inset", np.array([0.0, -35.0]), 0.0), stage, stage, ground) == {"inset": 15.0}
    assert rule.dragged(Drag("rounded", beads["rounded"] + np.array([20.0, 0.0]), 0.0), stage, stage, ground) == {"rounded": 50.0}


@pytest.mark.parametrize(
    "below", [(), (Lattice(form="squares", extent="by number", columns=2, rows=2, spacing="free", pitch=60.0),)]
)
@pytest.mark.parametrize(
    "rule",
    [
        Trim(inset=135.0),
        Warp(form="twist", angle=0.0),
        Warp(form="wave", height=2.0, wavelength=400.0),
        Warp(form="taper", amount=0.0),
    ],
    ids=["trim", "no warp", "gentle wave", "no taper"],
)
def test_a_picture_that_is_cut_or_bent_keeps_its_pixels(rule, below):
    """What is left of it shows what it showed there: a picture is no plain area afterwards."""
    picture = sample_picture("fish")
    motif = PictureMotif(picture=picture.id, width=50.0)
    works = (Design(sheet=SHEET, pictures=(picture,), layers=(chain("Fish", motif, *below, *more),)) for more in ((), (rule,)))
    plain, changed = map(painted, works)
    both = (plain[..., 3] > 250) & (changed[..., 3] > 250)
    assert both.sum() > 400
    assert len(np.unique(changed[both].reshape(-1, 4), axis=0)) > 50
    off = np.abs(plain[both].astype(int) - changed[both].astype(int))
    assert np.median(off) <= 12
    assert (changed[..., 3] > 250).sum() <= (plain[..., 3] > 250).sum() * 1.15


def test_the_ramp_of_a_linked_layer_stays_a_ramp_when_it_is_trimmed():
    ramped = chain("Disc", Ellipse(width=60.0), Ink(colours="one colour", palette=("#FF0000", "#0000FF"), inside="straight ramp"))
    linked = chain("Again", LayerMotif(layer="disc"), Trim(inset=120.0))
    design = Design(sheet=SHEET, layers=(linked, edited(ramped, source_only=True)))
    shown = painted(design)
    seen = shown[shown[..., 3] > 250]
    assert len(np.unique(seen[:, 0])) > 40


def test_a_single_copy_that_is_cut_or_bent_is_not_said_to_be_unchanged():
    for rule in (Trim(inset=130.0), Warp(form="bulge", amount=40.0)):
        result = evaluated(Polygon(size=80.0), rule, sheet=SHEET)
        facts = measure(result, Evaluator(), SHEET)
        assert not [warn.sentence for warn in facts.warnings if "changes nothing" in warn.sentence], rule
    for rule in (Trim(inset=0.0), Warp(form="bulge", amount=0.0)):
        facts = measure(evaluated(Polygon(size=80.0), rule, sheet=SHEET), Evaluator(), SHEET)
        assert [warn.sentence for warn in facts.warnings if "changes nothing" in warn.sentence], rule


def painted(design):
    evaluator = Evaluator()
    scene = make_scene(edited(design, sheet=edited(design.sheet, background="")), evaluator.design(design), evaluator)
    return paint(scene, whole_page(scene, 300))


@pytest.mark.parametrize("more", [(), (Trim(inset=10.0),)], ids=["whole", "trimmed"])
def test_pictures_that_touch_leave_no_ground_between(more):
    picture = sample_picture("fish")
    rules = (PictureMotif(picture=picture.id, width=35.8), Lattice(form="squares"), *more)
    seen = []
    for ground in ("#FFFFFF", "#000000"):
        sheet = edited(SHEET, background=ground)
        design = Design(sheet=sheet, pictures=(picture,), layers=(chain("Fish", *rules),))
        evaluator = Evaluator()
        scene = make_scene(design, evaluator.design(design), evaluator)
        seen.append(paint(scene, whole_page(scene, 331)).astype(int))
    assert np.abs(seen[0] - seen[1])[30:300, 30:300].max() <= 1


MANY_KINDS = (
    "#5E8C86FF none 0 M-30 14 L-10 14 L-20 30 Z\n#C2694CFF #102030FF 2r M0 0 C8 9 12 20 20 4\n"
    "none #C2694CFF 1.5 M-5 -5 L5 -9\n#26374FFF none 0 M-30 14 L-10 14 L-12 30 L-20 35 Z\n#26374FFF none 0 M30 14 L50 14 L40 30 Z"
)


@pytest.mark.parametrize(
    "kind", [one for one in KINDS.values() if one.family not in ("motif", "end")], ids=lambda one: one.__name__
)
def test_every_rule_takes_separate_shapes_of_several_kinds(kind):
    design = work_of(FrozenMotif(shapes=MANY_KINDS)).design
    rule = suggested(kind, design.layers[0], design.sheet)
    design = edits.add_rule(design, "floor", rule, design.layers[0].rules[-1].id)
    evaluator = Evaluator()
    result = evaluator.design(design)["floor"]
    facts = measure(result, evaluator, design.sheet)
    assert facts.copies > 0 or result.problems
    scene = make_scene(design, {"floor": result}, evaluator)
    for options in (Svg(), *(Svg(plain=True),) * (kind.family != "finish"), Svg(seals=True)):  # which is pixels
        assert write_svg(scene, design.sheet, options).endswith(b"</svg>\n")
