"""Groups, linked layers and the way back; shapes worked on by hand on the sheet."""

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from tests.chains import work_of
from under_lattice.colour.blend import BLENDS
from under_lattice.geometry.path_text import parts_of_text
from under_lattice.library import demo
from under_lattice.rules.motifs.drawn_curve import DrawnCurve
from under_lattice.rules.motifs.pixel_motif import PixelMotif
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.star import Star
from under_lattice.rules.shapes.inner_lines import InnerLines
from under_lattice.rules.shapes.join_faces import JoinFaces
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.rules.shapes.split import Split
from under_lattice.ui.dialogs.chooser import PictureChooser
from under_lattice.ui.panels.back_bar import BackBar
from under_lattice.work.edits import exchange_motif, set_dial


def press(widget):
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton)


def test_a_compound_is_made_opened_and_left_again(hands):
    member = hands.studio.layer
    hands.do("compound")
    hands.settle()
    outer = hands.studio.layer
    assert outer != member
    row = hands.row("layer-motif", "layer")
    press(next(b for b in row.findChildren(QPushButton) if b.accessibleName().startswith("Show")))
    assert hands.studio.layer == member
    back = hands.window.findChild(BackBar).findChildren(QPushButton)[0]
    assert "Back to" in back.text()
    press(back)
    assert hands.studio.layer == outer
    hands.do("undo")
    hands.settle()
    assert [chain.id for chain in hands.document.design.chains()] == [member]


def test_layers_are_grouped_and_ungrouped(hands):
    hands.window.layer_actions.add_layer("squares")
    hands.do("group_layer")
    assert len(hands.document.design.layers) == 1
    assert "in group" in list(hands.studio.chips.chips.values())[1].accessibleName()
    hands.do("ungroup_layer")
    assert len(hands.document.design.layers) == 2


def test_a_frozen_layer_comes_in_front_and_the_live_one_stays_hidden(hands):
    live = hands.studio.layer
    hands.do("freeze")
    hands.bot.waitUntil(lambda: len(hands.document.design.chains()) == 2, timeout=20_000)
    assert hands.studio.layer != live
    assert hands.document.design.chain(live).hidden
    hands.settle()
    hands.bot.waitUntil(lambda: hands.studio.facts.copies > 100, timeout=20_000)


def test_squares_are_put_with_the_mouse_and_with_keys(hands):
    layer = hands.studio.layer
    hands.studio.edit("", lambda design: exchange_motif(design, layer, PixelMotif(drawing="1../...")))
    row = hands.row(hands.layer.rules[0].handle, "drawing")
    side = row.grid.side
    hands.drag(row.grid, QPoint(round(side * 1.5), round(side * 1.5)), (round(side), 0))
    assert hands.layer.rules[0].drawing == "1../.11"
    row.grid.setFocus()
    QTest.keyClick(row.grid, Qt.Key.Key_Up)
    QTest.keyClick(row.grid, Qt.Key.Key_Space)
    assert hands.layer.rules[0].drawing == "1.1/.11"
    hands.do("undo")
    hands.do("undo")
    assert hands.layer.rules[0].drawing == "1../..."
    more = next(b for b in row.findChildren(QPushButton) if b.accessibleName() == "Rows: one more")
    press(more)
    assert hands.layer.rules[0].drawing == "1../.../..."


def test_a_line_is_drawn_and_its_points_are_moved_added_and_removed(hands):
    layer = hands.studio.layer
    hands.studio.edit("", lambda design: exchange_motif(design, layer, DrawnCurve()))
    handle = hands.layer.rules[0].handle
    row = hands.row(handle, "line")
    before = hands.layer.rules[0].line
    press(row.button)
    hands.drag(hands.studio.sheet, QPoint(300, 300), (120, 40), steps=12)
    hands.settle()
    drawn = hands.layer.rules[0].line
    assert drawn != before
    hands.bot.waitUntil(lambda: hands.studio.sheet.handles is not None and bool(hands.studio.sheet.handles.handles), timeout=10_000)
    hands.drag(hands.studio.sheet, hands.handle("point 0:0:1"), (0, 30))
    hands.settle()
    moved = hands.layer.rules[0].line
    assert moved != drawn
    QTest.mouseDClick(hands.studio.sheet, Qt.MouseButton.LeftButton, pos=QPoint(340, 320))
    assert len(parts_of_text(hands.layer.rules[0].line)[0][1]) > len(parts_of_text(moved)[0][1])
    hands.settle()
    hands.studio.sheet.picked = "point 0:0:1"
    QTest.keyClick(hands.studio.sheet, Qt.Key.Key_Delete)
    assert len(parts_of_text(hands.layer.rules[0].line)[0][1]) == len(parts_of_text(moved)[0][1])
    for _ in range(4):
        hands.do("undo")
    assert hands.layer.rules[0].line == before
    press(row.button)
    QTest.keyClick(hands.studio.sheet, Qt.Key.Key_Escape)
    hands.drag(hands.studio.sheet, QPoint(10, 10), (40, 40))
    assert hands.layer.rules[0].line == before


def showing(hands, *rules):
    """Show a work of these rules in the same window."""
    hands.window.show_work(work_of(*rules))
    hands.settle()
    hands.bot.waitUntil(lambda: hands.studio.facts.copies > 0, timeout=20_000)
    return hands


def to(hands, one, other):
    """Drag a handle onto another."""
    start, end = hands.handle(one), hands.handle(other)
    hands.drag(hands.studio.sheet, start, (end.x() - start.x(), end.y() - start.y()))
    hands.settle()


def test_chords_are_drawn_and_faces_joined_by_dragging(hands):
    showing(hands, Polygon(size=200.0), Split(into="chords", chords="1-4"))
    hands.open("split")
    to(hands, "from 2", "from 5")
    assert hands.rule("split").chords == "1-4, 2-5"
    to(hands, "from 4", "from 1")
    assert hands.rule("split").chords == "2-5"
    showing(hands, Polygon(size=200.0), Split(into="triangles"), JoinFaces(groups="1+2"))
    hands.open("join-faces")
    to(hands, "face 4", "face 5")
    assert hands.rule("join-faces").groups == "1+2, 4+5"
    hands.do("undo")
    assert hands.rule("join-faces").groups == "1+2"


def test_places_of_a_profile_and_points_of_lines_are_dragged(hands):
    showing(hands, Polygon(sides=4, size=120.0), PushEdges(profile="drawn", drawn_profile="50 100", amount=20.0))
    hands.open("push-edges")
    hands.drag(hands.studio.sheet, hands.handle("place 1"), (15, 15))
    hands.settle()
    assert hands.rule("push-edges").drawn_profile != "50 100"
    showing(hands, Polygon(size=200.0), InnerLines(lines="1-p"))
    hands.open("inner-lines")
    before = hands.rule("inner-lines").px
    hands.drag(hands.studio.sheet, hands.handle("p"), (30, 0))
    assert hands.rule("inner-lines").px > before
    hands.settle()
    to(hands, "from s2", "p")
    assert hands.rule("inner-lines").lines == "1-p, s2-p"


def test_a_motif_is_turned_by_its_bead(hands):
    showing(hands, Star(points=5, size=150.0))
    hands.open("motif")
    at, middle = hands.handle("turn"), hands.studio.sheet.to_widget(0, 0).toPoint()
    away = at - middle
    hands.drag(hands.studio.sheet, at, (-away.y() - away.x(), away.x() - away.y()))
    assert abs(hands.layer.rules[0].turn - 90.0) < 1.0


def test_the_end_of_a_compound_opens_only_when_asked_and_closes_again(hands):
    floor = hands.studio.layer
    hands.do("compound")
    hands.settle()
    assert hands.card("layer").form is None
    source = next(one for one in hands.document.design.all_layers() if one.source_only)
    for layer in (source.id, floor, source.id):
        hands.studio.choose_layer(layer)
        hands.settle()
    card = hands.studio.chain.cards[source.end.id]
    assert card.form is None
    QTest.mouseClick(card.head, Qt.MouseButton.LeftButton)
    assert card.form is not None
    hands.settle()
    QTest.mouseClick(card.head, Qt.MouseButton.LeftButton)
    assert card.form is None
    hands.bot.wait(300)  # whatever comes from the worker does not open it again
    assert card.form is None
    assert hands.studio.chain.open_rule == ""


def test_a_blend_is_chosen_by_its_picture_on_this_work(hands):
    hands.show(demo("lobby-panel"))
    before, layer = hands.document.design, hands.studio.layer
    hands.do("choose_blend")
    chooser = hands.window.findChild(PictureChooser)
    assert {tile.offer.payload for tile in chooser.tiles.values()} == set(BLENDS)
    hands.bot.waitUntil(lambda: all(tile.picture is not None for tile in chooser.tiles.values()), timeout=60_000)
    plain, multiply = chooser.tiles["blend:normal"].picture, chooser.tiles["blend:multiply"].picture
    assert plain != multiply
    QTest.keyClicks(chooser.line, "mult")
    QTest.mouseClick(chooser.tiles["blend:multiply"], Qt.MouseButton.LeftButton)
    assert hands.document.design.layer(layer).end.blend == "multiply"
    hands.do("undo")
    assert hands.document.design == before


def test_who_used_a_layer_that_is_removed_is_said(hands):
    hands.show(demo("lobby-panel"))
    end = hands.document.design.layer("panes").end.id
    hands.studio.edit("Mask", lambda design: set_dial(design, "panes", end, "mask", "sea-lamps"))
    hands.studio.choose_layer("sea-lamps")
    hands.do("remove_layer")
    hands.settle()
    assert "Panes used what is gone now" in hands.studio.facts_line.sentence
    hands.do("undo")
    assert hands.document.design.layer("panes").end.mask == "sea-lamps"
    hands.studio.choose_layer("rose-lamps")
    hands.do("remove_layer")
    assert "gone" not in hands.studio.facts_line.sentence
