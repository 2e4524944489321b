"""The motif's own place, choosers that are typed into, signs between cards, layers added, doubled and filled."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.chains import work_of
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.outline_motif import Outline
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.ui.dialogs.chooser import PictureChooser
from under_lattice.ui.sheet.handle_paint import APART


def chooser(hands):
    hands.bot.waitUntil(lambda: any(one.isVisible() for one in hands.window.findChildren(PictureChooser)), timeout=5000)
    return next(one for one in hands.window.findChildren(PictureChooser) if one.isVisible())


def type_on(text):
    """Type where the focus is, letter by letter, as it goes on."""
    for letter in text:
        QTest.keyClicks(QApplication.focusWidget(), letter)


def focused(hands, widget):
    hands.bot.waitUntil(lambda: widget.window().focusWidget() is widget, timeout=5000)


# -- the motif's place -----------------------------------------------------------------------------
@pytest.mark.parametrize("motif", [Polygon(size=60.0), Ellipse(width=50.0), Outline(width=60.0)], ids=lambda motif: motif.kind)
def test_the_motif_is_dragged_on_the_sheet_and_its_place_typed(showing, motif):
    hands = showing(motif, Ink(), handles=False)
    hands.open("motif")
    hands.bot.waitUntil(lambda: hands.studio.sheet.handles is not None, timeout=5000)
    scale = hands.studio.sheet.scale
    start = hands.studio.sheet.points_of(next(h.at for h in hands.studio.sheet.handles.handles if h.name == "place"))[0].toPoint()
    hands.drag(hands.studio.sheet, start, (80, 40))
    hands.settle()
    placed = hands.rule("motif")
    assert (placed.place_x, placed.place_y) == pytest.approx((80 / scale, 40 / scale), abs=1.0)
    stage = hands.studio.results["floor"].last.stage
    assert stage.xform[0, :, 2] == pytest.approx((placed.place_x, placed.place_y))
    row = hands.row("motif", "place_x")
    hands.type_in(row.fields[0], "-30")
    assert hands.rule("motif").place_x == -30.0
    hands.do("undo")
    hands.do("undo")
    assert (hands.rule("motif").place_x, hands.rule("motif").place_y) == (0.0, 0.0)


def test_measures_are_still_dragged_where_the_motif_stands_aside(showing):
    hands = showing(Ellipse(width=40.0, place_x=50.0, place_y=-30.0), Ink(), handles=False)
    hands.open("motif")
    hands.bot.waitUntil(lambda: hands.studio.sheet.handles is not None, timeout=5000)
    bead = next(h for h in hands.studio.sheet.handles.handles if h.name == "width")
    assert bead.at[1] == pytest.approx(-30.0)
    hands.drag(hands.studio.sheet, hands.handle("width"), (30, 0))
    hands.settle()
    assert hands.rule("motif").width == pytest.approx(40.0 + 60 / hands.studio.sheet.scale, abs=1.0)
    assert hands.rule("motif").place_x == 50.0


def test_repeats_begin_where_the_motif_stands(showing):
    hands = showing(Polygon(size=20.0, place_x=40.0), Rosette(count=6, radius=30.0))
    stage = hands.studio.results["floor"].last.stage
    assert stage.xform[:, :, 2].mean(0) == pytest.approx((40.0, 0.0), abs=1e-9)


def test_handles_of_a_small_motif_stand_apart_and_are_taken_one_by_one(showing):
    hands = showing(Ellipse(width=1.5, roundness=60.0), Ink(), handles=False)
    hands.open("motif")
    hands.bot.waitUntil(lambda: hands.studio.sheet.handles is not None, timeout=5000)
    beads = [(one, at) for one, at in hands.studio.sheet.spread_handles() if one.form in ("bead", "pivot")]
    assert len(beads) >= 2
    for k, (_, at) in enumerate(beads):
        for _, other in beads[:k]:
            assert (at - other).manhattanLength() >= APART - 0.5
    for one, at in beads:
        assert hands.studio.sheet.handle_at(at) == one.name


# -- choosers --------------------------------------------------------------------------------------
def test_a_rule_is_found_by_typing_with_its_number_and_its_first_dial_has_the_focus(hands):
    hands.do("add_rule")
    box = chooser(hands)
    focused(hands, next(iter(box.tiles.values())))
    assert [label.text() for label in box.headings][:2] == ["Repeat", "Colour"]
    type_on("rosette 12")
    assert box.line.text() == "rosette 12"
    assert [tile.offer.title for tile in box.shown()] == ["Rosette"]
    QTest.keyClick(box.line, Qt.Key.Key_Return)
    rule = next(rule for rule in hands.layer.rules if rule.kind == "rosette")
    assert rule.count == 12
    form = hands.card(rule.handle).form
    focused(hands, form.rows["count"].fields[0])
    QTest.keyClicks(form.rows["count"].fields[0], "7")  # the whole number was selected
    assert hands.rule(rule.handle).count == 7


def test_arrows_and_enter_choose_at_once_and_nothing_found_is_said(hands):
    hands.do("choose_motif")
    box = chooser(hands)
    tiles = list(box.tiles.values())
    focused(hands, tiles[0])
    QTest.keyClick(tiles[0], Qt.Key.Key_Right)
    assert tiles[1].hasFocus()
    QTest.keyClick(tiles[1], Qt.Key.Key_Down)
    below = box.focusWidget()
    assert below.y() > tiles[1].y()
    type_on("zz")
    assert box.shown() == []
    assert any("Nothing here" in label.text() for label in box.headings)
    for _ in range(2):
        QTest.keyClick(box.line, Qt.Key.Key_Backspace)
    QTest.keyClicks(box.line, "star 7")
    QTest.keyClick(box.line, Qt.Key.Key_Down)
    assert box.tiles["motif:star"].hasFocus()
    QTest.keyClick(box.tiles["motif:star"], Qt.Key.Key_Return)
    assert hands.layer.rules[0].kind == "star"
    assert hands.layer.rules[0].points == 7


def test_captions_are_whole_and_a_rule_that_changes_nothing_says_so(hands):
    hands.do("add_rule")
    box = chooser(hands)
    for tile in box.tiles.values():
        assert tile.height() >= tile.box.height() + tile.caption_height()
    QTest.keyClicks(box.line, "adjust")
    hands.bot.waitUntil(lambda: bool(box.tiles["rule:adjust"].problem), timeout=20_000)
    assert box.tiles["rule:adjust"].problem == "It would change nothing here"
    hands.type_in(box.line, "mirror")
    hands.bot.waitUntil(lambda: box.tiles["rule:mirror"].picture is not None, timeout=20_000)
    box.reject()


def test_what_is_seen_of_a_chooser_is_painted_first(hands):
    hands.do("add_rule")
    box = chooser(hands)
    told = []
    hands.type_in(box.line, "few tones")
    hands.bot.wait(1)  # the tiles get their places
    box.pictures.made.connect(lambda key, _: told.append(key))
    box.pictures.refused.connect(lambda key, _: told.append(key))
    hands.bot.waitUntil(lambda: "rule:few-tones" in told, timeout=20_000)
    assert len(told) <= 2  # one was under way
    QTest.keyClicks(box.line, "a", Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(box.line, Qt.Key.Key_Delete)
    bar = box.area.verticalScrollBar()
    hands.bot.waitUntil(lambda: bar.maximum() > 0, timeout=2000)
    last = list(box.tiles.values())[-1]
    told.clear()
    bar.setValue(bar.maximum())
    hands.bot.waitUntil(lambda: last.picture is not None or bool(last.problem), timeout=20_000)
    assert len(told) <= len(box.tiles) // 2
    box.reject()


# -- the chain -------------------------------------------------------------------------------------
def test_a_sign_between_two_cards_adds_a_rule_there(hands):
    chain = hands.studio.chain
    head = hands.card("motif").head
    sign = chain.between[hands.rule("motif").id]
    assert not sign.near
    QTest.mouseMove(hands.studio.sheet, QPoint(60, 20))  # the pointer may still be where a test before left it
    QTest.mouseMove(head, QPoint(60, 20))
    hands.bot.waitUntil(lambda: sign.near, timeout=2000)
    top, bottom = chain.lines[chain.order[0]].geometry().bottom(), chain.lines[chain.order[1]].geometry().top()
    assert top - 14 < sign.geometry().center().y() < bottom + 14
    QTest.mouseClick(sign, Qt.MouseButton.LeftButton)
    box = chooser(hands)
    QTest.keyClicks(box.line, "adjust")
    QTest.keyClick(box.line, Qt.Key.Key_Return)
    assert hands.layer.rules[1].kind == "adjust"
    assert hands.layer.rules[1].turn == 0.0  # it arrives doing nothing


def test_a_rule_that_is_moved_by_keys_keeps_the_focus(hands):
    hands.studio.chain.open("")
    head = hands.card("ink").head
    head.setFocus()
    for way in (Qt.Key.Key_Down, Qt.Key.Key_Down, Qt.Key.Key_Up):
        QTest.keyClick(hands.card("ink").head, way, Qt.KeyboardModifier.ControlModifier)
        focused(hands, hands.card("ink").head)


def test_a_press_on_the_motifs_picture_exchanges_it(hands):
    QTest.mouseClick(hands.card("motif").head, Qt.MouseButton.LeftButton, pos=QPoint(24, 24))
    box = chooser(hands)
    assert box.windowTitle() == "Change motif"
    box.reject()


def test_no_focus_strays_to_all_commands_when_a_button_goes(showing):
    hands = showing(Polygon(size=60.0), Ink(), Lattice(form="squares", spacing="free", pitch=56.0, row_pitch=66.0))
    cure = hands.studio.facts_line.cure
    hands.bot.waitUntil(cure.isVisible, timeout=10_000)
    cure.setFocus()
    QTest.keyClick(cure, Qt.Key.Key_Space)
    hands.bot.waitUntil(lambda: not cure.isVisible(), timeout=10_000)
    assert QApplication.focusWidget() is hands.studio.sheet


# -- layers ----------------------------------------------------------------------------------------
def test_new_layers_are_called_after_their_motif_and_a_single_shape_is_one_press(hands):
    hands.do("add_shape")
    assert [rule.kind for rule in hands.layer.rules] == ["ellipse", "ink"]
    assert hands.layer.name == "Disc"
    hands.do("add_shape")
    assert hands.layer.name == "Disc 2"
    hands.window.layer_actions.add_layer("bricks")
    assert hands.layer.name == "Rectangle"


def test_a_copy_is_called_copy_is_chosen_and_says_where_it_lies(hands):
    before = hands.layer
    hands.do("duplicate_layer")
    copy = hands.layer
    assert (copy.name, copy.id != before.id) == ("Floor copy", True)
    assert copy.rules[0].place_x == 0.0
    assert hands.studio.facts_line.sentence == "Floor copy lies on top of Floor"
    hands.window.show_work(work_of(Polygon(size=40.0), Ink()))
    hands.do("duplicate_layer")
    assert hands.layer.rules[0].place_x > 0
    assert hands.studio.facts_line.sentence == "Floor copy stands beside Floor"
    hands.do("duplicate_layer")
    assert hands.layer.name == "Floor copy copy"


def test_a_shape_is_filled_with_a_layer_by_one_command(hands):
    floor = hands.studio.layer
    hands.do("add_shape")
    shape = hands.studio.layer
    hands.window.layer_actions.fill_with(shape, floor)
    hands.settle()
    design = hands.document.design
    assert [one.id for one in design.layers] == [floor, shape]
    assert design.layer(floor).end.clip == shape
    hands.do("undo")
    assert hands.document.design.layer(floor).end.clip == ""


def test_an_empty_sheet_takes_its_first_layer(hands, qtbot):
    hands.window.show_book()
    page = hands.window.start_page
    page.starts["empty"].click()
    QTest.keyClick(page.starts["empty"], Qt.Key.Key_Return)
    assert hands.document.design.layers == ()
    hands.settle()
    hands.do("add_rule")
    hands.do("duplicate_layer")
    hands.do("choose_motif")
    hands.do("add_shape")
    qtbot.waitUntil(lambda: hands.studio.settled and hands.studio.facts.copies == 1, timeout=10_000)
    hands.do("undo")
    assert hands.document.design.layers == ()
    hands.settle()
