"""Veils and finishes as a person adds, turns, moves and takes them back."""

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.window.conftest import Hands
from under_lattice.files.storage import to_text, work_in
from under_lattice.library import demo
from under_lattice.library.layers import chain
from under_lattice.rules import Ellipse, Lattice
from under_lattice.ui.dialogs.chooser import PictureChooser
from under_lattice.work.model import Design, Work


@pytest.fixture
def panel(qtbot, window):
    """The lobby panel, its second layer chosen."""
    hands = Hands(qtbot, window).show(demo("lobby-panel"))
    hands.studio.choose_layer(hands.document.design.layers[1].id)
    hands.settle()
    return hands


def sheet_of(hands):
    hands.settle()
    image = hands.studio.sheet.picture
    return np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), -1, 4).astype(int).copy()


def chosen_from_chooser(hands, word):
    hands.bot.waitUntil(lambda: any(one.isVisible() for one in hands.window.findChildren(PictureChooser)), timeout=5000)
    chooser = next(one for one in hands.window.findChildren(PictureChooser) if one.isVisible())
    kinds = {tile.offer.payload.family for tile in chooser.tiles.values()}
    QTest.keyClicks(chooser.line, word)
    QTest.keyClick(chooser.line, Qt.Key.Key_Return)
    return kinds


def test_a_veil_is_added_turned_and_taken_back(panel):
    before, design = sheet_of(panel), panel.document.design
    panel.do("add_veil")
    veil = panel.studio.chosen
    assert veil.noun == "veil"
    assert [layer.name for layer in panel.document.design.layers][:3] == [design.layers[0].name, "Veil", design.layers[1].name]
    stronger = sheet_of(panel)
    assert np.abs(stronger - before).mean() > 1
    form = panel.studio.chain.cards[veil.own_rules[0].id].form
    panel.type_in(form.rows["saturation"].fields[0], "0")
    QTest.keyClick(form.rows["saturation"].fields[0], Qt.Key.Key_Return)
    grey = sheet_of(panel)
    assert np.ptp(grey[..., :3], 2).max() < np.ptp(before[..., :3], 2).max() / 2  # the layer in front keeps its colour
    panel.do("hide_layer")
    assert np.abs(sheet_of(panel) - before).max() <= 1
    for _ in range(3):
        panel.do("undo")
    assert panel.document.design == design
    assert np.abs(sheet_of(panel) - before).max() <= 1


def test_a_veil_is_offered_finishes_alone_and_they_are_moved_switched_and_removed(panel):
    panel.do("add_veil")
    panel.do("add_rule")
    assert chosen_from_chooser(panel, "blur") == {"finish"}
    panel.settle()
    assert [rule.kind for rule in panel.studio.chosen.own_rules] == ["tone", "blur"]
    assert panel.studio.chain.open_rule == panel.studio.chosen.own_rules[1].id
    panel.do("rule_up")
    assert [rule.kind for rule in panel.studio.chosen.own_rules] == ["blur", "tone"]
    soft = sheet_of(panel)
    panel.do("switch_rule")
    assert np.abs(sheet_of(panel) - soft).mean() > 1
    panel.do("remove_rule")
    panel.do("remove_rule")
    assert len(panel.studio.chosen.own_rules) >= 1
    again = work_in(to_text(panel.document.work).encode(), "again")
    assert again.design == panel.document.design


def test_a_finish_that_would_change_nothing_on_a_veil_says_so(panel):
    """A shadow beneath all that lies on an opaque ground."""
    panel.do("add_veil")
    panel.do("add_rule")
    panel.bot.waitUntil(lambda: any(one.isVisible() for one in panel.window.findChildren(PictureChooser)), timeout=5000)
    chooser = next(one for one in panel.window.findChildren(PictureChooser) if one.isVisible())
    tiles = chooser.tiles
    panel.bot.waitUntil(lambda: all(tile.picture is not None or tile.problem for tile in tiles.values()), timeout=20_000)
    assert tiles["rule:shadow"].problem == "It would change nothing here"
    assert not tiles["rule:blur"].problem
    chooser.reject()


def test_a_finish_goes_where_it_is_added_and_what_repeats_nothing_goes_above_it(hands):
    """Added after the motif it finishes each copy; an Adjust added after it does not part it from the copies."""
    hands.open(hands.layer.rules[0].handle)
    whole = sheet_of(hands)
    hands.do("add_rule")
    assert "repeat" in chosen_from_chooser(hands, "shadow")
    hands.settle()
    assert hands.layer.rules[1].kind == "shadow"
    each = sheet_of(hands)
    assert np.abs(each - whole).mean() > 0.1
    hands.do("add_rule")
    chosen_from_chooser(hands, "adjust")
    hands.settle()
    assert [rule.kind for rule in hands.layer.rules][1:3] == ["adjust", "shadow"]
    hands.open("shadow")
    while hands.layer.rules[-1].kind != "shadow":
        hands.do("rule_down")
    assert np.abs(sheet_of(hands) - each).mean() > 0.05  # now all copies throw one shadow together
    assert not hands.studio.results[hands.layer.id].problems


def test_a_finish_that_is_cut_off_says_what_to_do(hands):
    """Above a rule that makes new shapes of all copies."""
    few = chain("Dots", Ellipse(width=30.0), Lattice(extent="by number", columns=2, rows=2))
    hands.show(Work(design=Design(layers=(few,))))
    hands.settle()
    hands.open(hands.layer.rules[-1].handle)
    hands.do("add_rule")
    chosen_from_chooser(hands, "combine")
    hands.settle()
    hands.do("add_rule")
    chosen_from_chooser(hands, "blur")
    hands.settle()
    hands.do("rule_up")
    hands.settle()
    hands.bot.waitUntil(lambda: "put it below" in hands.card("blur").head.accessibleName().lower(), timeout=5000)


def test_the_light_of_a_relief_is_dragged_and_taken_back_at_once(hands):
    hands.open(hands.layer.rules[0].handle)
    hands.do("add_rule")
    chosen_from_chooser(hands, "relief")
    hands.settle()
    before, picture = hands.document.design, sheet_of(hands)
    light = hands.handle("light")
    hands.drag(hands.studio.sheet, light, (90, 60))
    relief = hands.layer.rules[1]
    assert relief.height != 40.0
    assert relief.direction != -120.0
    assert np.abs(sheet_of(hands) - picture).mean() > 0.5
    hands.do("undo")
    assert hands.document.design == before
    hands.settle()
    middle = hands.studio.sheet.points_of(np.zeros(2))[0].toPoint()
    hands.drag(hands.studio.sheet, hands.handle("light"), (middle - light).toTuple())
    assert hands.layer.rules[1].height > 80  # over the middle it stands above all


def test_the_middle_of_streaks_on_a_veil_is_dragged(panel):
    panel.do("add_veil")
    panel.do("add_rule")
    chosen_from_chooser(panel, "streaks")
    panel.settle()
    scale = panel.studio.sheet.scale
    panel.drag(panel.studio.sheet, panel.handle("middle"), (50, -70))
    streaks = panel.studio.chosen.own_rules[-1]
    assert (streaks.across, streaks.down) == pytest.approx((50 / scale, -70 / scale), abs=1.0)


def test_a_tone_curve_is_dragged_typed_and_shows_what_comes_in(panel):
    """The histogram is that of what lies beneath the veil; one drag is one step of undo; a bead does not pass another."""
    panel.do("add_veil")
    panel.do("add_rule")
    chosen_from_chooser(panel, "tone curve")
    panel.settle()
    veil = panel.studio.chosen
    row = panel.studio.chain.cards[veil.own_rules[1].id].form.rows["curve"]
    panel.bot.waitUntil(lambda: row.editor.tones is not None, timeout=10_000)
    assert row.editor.tones.shape == (4, 64)
    assert row.editor.tones[0][:20].sum() > row.editor.tones[0][44:].sum()  # the lobby panel is dark
    before, picture = panel.document.design, sheet_of(panel)
    bead = row.editor.at(row.editor.points[1]).toPoint()
    panel.drag(row.editor, bead, (0, -60))
    curve = panel.studio.chosen.own_rules[1].curve
    assert curve.split("; ")[1] != "80 50"
    assert np.abs(sheet_of(panel) - picture).mean() > 1
    panel.do("undo")
    assert panel.document.design == before
    panel.settle()
    row.editor.chosen = 1
    panel.type_in(row.to, "120")
    QTest.keyClick(row.to, Qt.Key.Key_Return)
    assert panel.studio.chosen.own_rules[1].curve == "0 0; 80 120; 180 210; 255 255"
    panel.type_in(row.from_, "200")  # a bead does not pass the next
    QTest.keyClick(row.from_, Qt.Key.Key_Return)
    assert panel.studio.chosen.own_rules[1].curve == "0 0; 178.72 120; 180 210; 255 255"


@pytest.mark.parametrize("key", ["link_layer", "compound", "freeze", "source_layer", "fill_layer"])
def test_what_needs_shapes_says_that_a_veil_has_none(panel, key):
    panel.do("add_veil")
    design = panel.document.design
    panel.studio.facts_line.tell("")
    panel.do(key)
    assert panel.document.design == design
    assert "veil has no shapes" in panel.studio.facts_line.sentence


def test_a_veil_is_duplicated_grouped_and_laid_elsewhere(panel):
    panel.do("add_veil")
    panel.do("duplicate_layer")
    design = panel.document.design
    assert [layer.noun for layer in design.layers][1:3] == ["veil", "veil"]
    whole = sheet_of(panel)
    panel.do("layer_back")
    assert panel.document.design.layers[-1].noun == "veil"
    assert np.abs(sheet_of(panel) - whole).mean() > 0.5  # with nothing but the ground beneath it does nearly nothing
    panel.do("undo")
    assert panel.document.design == design
    panel.do("group_layer")
    assert next(layer for layer in panel.document.design.layers if layer.members).members[0].noun == "veil"
    assert np.abs(sheet_of(panel) - whole).mean() > 0.5  # in a group it changes the members alone
