"""Strips, comparing, mixing and the pattern book in the real window, by mouse and keys."""

import json

import pytest
from PIL import Image
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from under_lattice.command_line.main import main
from under_lattice.files.book import BookLeaf, folder, leaves, put_in, read_leaf
from under_lattice.library import demo
from under_lattice.library.palettes import PALETTES
from under_lattice.ui.dialogs.chooser import PictureChooser
from under_lattice.ui.dials.carrying import brought, carried
from under_lattice.work.address import Address
from under_lattice.work.edits import set_dial
from under_lattice.work.model import Work
from under_lattice.work.recipes import recipe_of

LEFT = Qt.MouseButton.LeftButton


def gap(hands, value):
    hands.studio.edit("Gap", lambda design: set_dial(design, "floor", "floor-lattice", "gap", value))
    hands.settle()


def from_menu(row, words):
    next(one for one in row.menu().actions() if one.text() == words).trigger()


@pytest.fixture
def strip(hands):
    hands.window.resize(1280, 800)
    from_menu(hands.row("lattice", "turn"), "Test strip of this")
    page = hands.studio.strips
    hands.bot.waitUntil(lambda: all(tile.picture is not None for tile in page.view.tiles.values()), timeout=30_000)
    return page


# -- strips --------------------------------------------------------------------------------------
def test_a_strip_opens_from_a_dial_with_now_among_its_pictures(hands, strip):
    assert strip.isVisible()
    assert not hands.studio.sheet.isVisible()
    assert (strip.strip.columns, strip.strip.rows) == (5, 1)
    assert strip.strip.now is not None
    assert strip.view.tiles[strip.strip.now].word == "now"
    assert len({tile.picture.cacheKey() for tile in strip.view.tiles.values()}) == 5
    assert hands.document.work.strip.across.startswith("floor.lattice.turn=")


def test_a_second_dial_becomes_the_other_axis_from_its_menu_and_by_dropping_it(hands, strip):
    from_menu(hands.row("lattice", "gap"), "Test strip of this")
    assert strip.strip.down.label == "Lattice: gap"
    assert hands.row("lattice", "gap").lock.sign == "↕"
    dropped = Address("floor", "floor-push-edges", "amount", "end")
    strip.open(brought(carried(dropped)))
    assert strip.strip.across.label == "Lattice: turn"
    assert strip.strip.down.label.endswith("end")
    QTest.mouseClick(strip.swap_button, LEFT)
    assert strip.strip.across.label.endswith("end")


def test_from_to_and_steps_are_typed_and_a_wrong_one_says_what_is_allowed(hands, strip):
    fields = [part for part in strip.rows[0]._parts if hasattr(part, "entered")]
    hands.type_in(fields[0], "0")
    hands.type_in(fields[1], "60")
    hands.type_in(fields[2], "4")
    assert [step.words for step in strip.strip.across.steps] == ["0°", "20°", "40°", "60°"]
    hands.type_in(fields[1], "1e9")
    hands.bot.waitUntil(lambda: "allowed" in strip.error.text(), timeout=5_000)
    assert len(strip.view.tiles) == 4


def test_a_strip_by_keys_alone(hands, strip):
    tile = strip.view.tiles[0, 0]
    tile.setFocus(Qt.FocusReason.TabFocusReason)
    QTest.keyClick(tile, Qt.Key.Key_Right)
    second = strip.view.tiles[1, 0]
    assert second.hasFocus()
    value = strip.strip.across.steps[1].value
    QTest.keyClick(second, Qt.Key.Key_K)
    assert hands.document.work.kept[0].design.layers[0].rules[-1].turn == value
    QTest.keyClick(second, Qt.Key.Key_Space)
    assert hands.rule("lattice").turn == value
    assert hands.document.can_undo.startswith("Adopt")
    hands.bot.waitUntil(lambda: strip.strip.now == (1, 0), timeout=5_000)
    run = strip.strip.across.run
    QTest.keyClick(strip.view.tiles[1, 0], Qt.Key.Key_F)
    finer = strip.strip.across.run
    assert finer[1] - finer[0] == pytest.approx((run[1] - run[0]) / 2)
    QTest.keyClick(strip.view.tiles[1, 0], Qt.Key.Key_Escape)
    assert hands.studio.sheet.isVisible()
    assert hands.document.work.strip is None
    hands.do("undo")
    assert hands.rule("lattice").turn == 0.0


def test_the_picked_cell_is_large_in_the_tray_with_what_differs(hands, strip):
    hands.do("tray")
    QTest.mouseClick(strip.view.tiles[4, 0], LEFT, pos=QPoint(10, 10))
    panel = hands.studio.tray.picked
    hands.bot.waitUntil(lambda: panel.tile.picture is not None, timeout=10_000)
    assert panel.isVisible()
    assert panel.place.text() == "column 5, row 1"
    QTest.mouseClick(panel.finer, LEFT)
    assert strip.strip.across.steps[2].value == pytest.approx(panel.page.strip.across.steps[2].value)
    hands.do("strip")
    assert not panel.isVisible()


def test_an_end_bead_stretches_the_strip(hands, strip):
    beads, run = strip.view._beads(False), strip.strip.across.run
    far = beads[-1] + (beads[-1] - beads[0])
    QTest.mousePress(strip.view, LEFT, pos=beads[-1].toPoint())
    QTest.mouseRelease(strip.view, LEFT, pos=far.toPoint())
    assert strip.strip.across.run[1] - strip.strip.across.run[0] == pytest.approx(2 * (run[1] - run[0]), rel=0.05)


def test_a_strip_over_choices_palettes_motifs_and_kept(hands):
    hands.do("keep")
    gap(hands, 2.0)
    hands.do("keep")
    from_menu(hands.row("lattice", "form"), "Test strip of this")
    page = hands.studio.strips
    assert page.strip.columns == 8
    row = page.rows[0]
    for wanted, count in (("Ink: Palette", 1 + len(PALETTES)), ("Motif: Motif", 17), ("kept versions", 2)):
        at = row.which.findText(wanted)
        assert at >= 0, wanted
        row._choose(at)
        assert page.strip.columns == count
    row._check("Version 1", False)
    assert [step.words for step in page.strip.across.steps] == ["Version 2"]


def test_a_refused_cell_says_why_and_the_others_are_there(hands):
    page = hands.studio.strips
    hands.do("strip")
    page.rows[0]._choose(page.rows[0].which.findText("Motif: Motif"))
    hands.bot.waitUntil(lambda: page.view.tiles[0, 0].picture is not None, timeout=20_000)
    hands.bot.waitUntil(lambda: all(t.picture is not None or t.toolTip() for t in page.view.tiles.values()), timeout=30_000)


@pytest.mark.parametrize("ending", ["png", "svg", "pdf"])
def test_the_strip_goes_out_with_its_numbers_and_the_command_writes_the_same(hands, strip, tmp_path, ending):
    ours, theirs, work = tmp_path / f"a.{ending}", tmp_path / f"b.{ending}", tmp_path / "w.lattice"
    strip.write(ours, 100)
    hands.bot.waitUntil(ours.exists, timeout=30_000)
    order = hands.document.work.strip.across
    hands.window.files.saving.write(work)
    hands.bot.waitUntil(lambda: not hands.document.modified and work.exists(), timeout=10_000)
    assert main(["strip", str(work), "--across", order, "--width", "100", "-o", str(theirs)]) == 0
    if ending == "png":
        with Image.open(ours) as one, Image.open(theirs) as other:
            assert one.tobytes() == other.tobytes()
    elif ending == "svg":
        text = ours.read_text()
        assert text == theirs.read_text()
        assert all(f">{step.words}<" in text for step in strip.strip.across.steps)
    else:
        assert ours.read_bytes()[:5] == b"%PDF-"


def test_the_festival_poster_opens_under_its_strip_and_a_strip_that_does_not_suit_is_told(window, qtbot):
    work = demo("festival-poster")
    window.show_work(work)
    window.show()
    qtbot.waitUntil(lambda: window.studio.strips.isVisible(), timeout=10_000)
    assert (window.studio.strips.strip.columns, window.studio.strips.strip.rows) == (5, 5)
    assert window.switched("strip")
    wrong = work.model_copy(update={"strip": work.strip.model_copy(update={"across": "whirls.gone.turn=1..2/3"})})
    window.document._saved = window.document.work
    window.show_work(wrong)
    assert not window.studio.strips.isVisible()


# -- compare and mix -----------------------------------------------------------------------------
def test_wiping_by_bead_and_keys_stays_in_step_while_zooming(hands):
    hands.do("keep")
    gap(hands, 6.0)
    hands.do("compare")
    sheet, compare = hands.studio.sheet, hands.studio.sheet.compare
    hands.bot.waitUntil(lambda: compare.picture is not None, timeout=10_000)
    assert compare.view == sheet.picture_view
    QTest.keyClick(sheet, Qt.Key.Key_Right)
    assert compare.share == pytest.approx(0.52)
    at = compare._bead().toPoint()
    hands.drag(sheet, at, (-80, 0))
    assert compare.share < 0.45
    left, right = sheet.grab(), sheet.mapFromGlobal(sheet.mapToGlobal(QPoint(0, 0)))
    assert left.width()
    assert right == QPoint(0, 0)
    sheet.zoom_by(1.5)
    hands.settle()
    hands.bot.waitUntil(lambda: compare.view == sheet.picture_view, timeout=10_000)
    QTest.keyPress(sheet, Qt.Key.Key_Backslash)
    assert compare.flickered
    QTest.keyRelease(sheet, Qt.Key.Key_Backslash)
    assert not compare.flickered
    hands.do("difference")
    hands.bot.waitUntil(lambda: compare._their_difference() is not None, timeout=10_000)
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    assert not compare.on
    assert not hands.window.switched("compare")


def test_the_difference_is_black_where_both_are_the_same(hands):
    hands.do("keep")
    hands.do("difference")
    compare = hands.studio.sheet.compare
    hands.bot.waitUntil(lambda: compare.picture is not None and compare._their_difference() is not None, timeout=10_000)
    image = compare._their_difference()
    assert {image.pixelColor(x, y).name() for x in range(100, 600, 50) for y in range(100, 500, 50)} == {"#000000"}


def test_nothing_kept_to_compare_with_is_said(hands):
    hands.do("compare")
    assert "Nothing is kept yet" in hands.studio.facts_line.sentence
    assert not hands.window.switched("compare")


def test_mixing_with_a_kept_version_shows_the_mixture_and_adopts_it(hands):
    hands.do("keep")
    gap(hands, 8.0)
    exploring, bar = hands.window.exploring, hands.studio.mix_bar
    exploring.mix(hands.document.work.kept[0])
    hands.settle()
    assert "50 % now" in hands.studio.sheet.instead
    hands.type_in(bar.field, "25")
    QTest.mouseClick(bar.keep, LEFT)
    assert hands.document.work.kept[1].design.layers[0].rules[-1].gap == pytest.approx(6.0)
    QTest.mouseClick(bar.adopt, LEFT)
    assert hands.rule("lattice").gap == pytest.approx(6.0)
    assert not bar.isVisible()
    hands.do("undo")
    assert hands.rule("lattice").gap == 8.0


def test_a_version_of_another_build_is_not_mixed_and_it_is_said_why(hands):
    hands.do("keep")
    hands.window.chain_actions.add(type(hands.rule("push-edges")), "floor-ink")
    hands.window.exploring.mix(hands.document.work.kept[0])
    assert "not of the same build" in hands.studio.facts_line.sentence
    assert not hands.studio.mix_bar.isVisible()


# -- the pattern book ----------------------------------------------------------------------------
def test_a_recipe_is_put_in_and_put_on_another_motif_with_its_picture_before(hands, qtbot):
    acts = hands.window.book_actions
    for kind, name in (("recipe", "Cubes to waves"), ("palette", "Quay"), ("motif", "Hexagon"), ("work", "Whole")):
        acts.put(kind, name, "floor bathhouse")
    qtbot.waitUntil(lambda: len(leaves()[0]) == 4, timeout=10_000)
    (folder() / "broken.leaf").write_text("{")
    hands.window.show_work(demo("lobby-panel"))
    hands.settle()
    before = hands.document.design.layer("panes").rules
    hands.do("book_take")
    qtbot.waitUntil(lambda: hands.window.findChild(PictureChooser) is not None, timeout=10_000)
    chooser = hands.window.findChild(PictureChooser)
    key = next(key for key, tile in chooser.tiles.items() if tile.offer.title == "Cubes to waves")
    qtbot.waitUntil(lambda: chooser.tiles[key].picture is not None, timeout=20_000)
    assert len(chooser.tiles) == 3
    QTest.mouseClick(chooser.tiles[key], LEFT)
    rules = hands.document.design.layer("panes").rules
    assert rules[0] == before[0]
    assert [rule.kind for rule in rules[1:]] == ["split", "ink", "push-edges", "lattice"]
    assert rules[3].amount.end == pytest.approx(5.4 * 23 / 36, rel=0.01)  # in proportion to the smaller motif
    assert rules[3].amount.rule == rules[4].id
    hands.do("undo")
    assert hands.document.design.layer("panes").rules == before


def test_a_leaf_that_is_dropped_is_taken(hands, tmp_path, qtbot):
    path = put_in(BookLeaf(kind="palette", name="Reds", colours=("#AA0000", "#FFDDDD")), tmp_path)
    hands.window.book_actions.drop(path)
    qtbot.waitUntil(lambda: hands.rule("ink").palette == ("#AA0000", "#FFDDDD"), timeout=10_000)
    recipe = put_in(BookLeaf(kind="recipe", name="R", work=Work(design=recipe_of(demo("air-grille").design, "slots"))), tmp_path)
    hands.window.book_actions.drop(recipe)
    qtbot.waitUntil(lambda: hands.layer.rules[-1].kind == "adjust", timeout=10_000)


def test_the_first_page_shows_finds_renames_takes_out_and_puts_back_leaves(window, qtbot, tmp_path):
    put_in(BookLeaf(kind="palette", name="Reds", words="warm", colours=("#AA0000", "#FFDDDD")))
    path = put_in(BookLeaf(kind="work", name="Mine", words="cloth", work=demo("dyed-towels")))
    (folder() / "broken.leaf").write_text(json.dumps({"format": "something else"}))
    window.show()
    window.show_book()
    page = window.start_page
    own = lambda: {tile.leaf.name for tile in page.tiles.values() if tile.leaf.own is not None}  # noqa: E731
    qtbot.waitUntil(lambda: own() == {"Reds", "Mine"}, timeout=10_000)
    assert "broken.leaf is no leaf" in page.words.text()
    QTest.keyClicks(page.search, "cloth")
    assert own() == {"Mine"}
    page.search.clear()
    page.kinds.setCurrentText("palettes")
    page._lay_leaves()
    assert set(page.tiles) == {key for key in page.tiles if "reds" in key}
    page.kinds.setCurrentIndex(0)
    reds = next(one.own for one in page.leaves if one.name == "Reds")
    page.files.take_out(reds)
    qtbot.waitUntil(lambda: own() == {"Mine"}, timeout=10_000)
    page.files.put_back()
    qtbot.waitUntil(lambda: own() == {"Reds", "Mine"}, timeout=10_000)
    page.files.copy_to((reds,), tmp_path / "out")
    qtbot.waitUntil(lambda: len(list((tmp_path / "out").glob("*.leaf"))) == 1, timeout=10_000)
    page.files.bring([tmp_path / "out"])
    qtbot.waitUntil(lambda: sum(tile.leaf.name == "Reds" for tile in page.tiles.values()) == 2, timeout=10_000)
    page._open(next(one for one in page.leaves if one.name == "Mine"))
    assert window.document.work == read_leaf(path).work
