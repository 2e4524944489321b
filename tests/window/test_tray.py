"""The tray by mouse and keys: siblings looked at, adopted and kept, deals back and forth, what is kept and never lost."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu, QMessageBox

from under_lattice.files.storage import from_text, to_text
from under_lattice.rules.base import EVERY
from under_lattice.ui.state import recent
from under_lattice.work.edits import set_dial

LEFT = Qt.MouseButton.LeftButton


class Tray:
    """Hands on the tray."""

    def __init__(self, hands):
        self.hands, self.tray = hands, hands.studio.tray
        self.siblings, self.kept = self.tray.siblings, self.tray.kept
        self.roaming, self.tiles = self.siblings.roaming, self.siblings.hanging.tiles

    def wait(self, number=None):
        """Until a deal is whole."""
        before = number or 0
        self.hands.bot.waitUntil(
            lambda: self.roaming.deal is not None and self.roaming.deal.number > before and self.roaming.deal.whole, timeout=60_000
        )
        return self.roaming.deal

    def press(self, key, at):
        QTest.keyClick(self.tiles[at], key)

    def focus(self, at):
        self.tiles[at].setFocus(Qt.FocusReason.TabFocusReason)
        self.hands.bot.wait(200)


@pytest.fixture
def tray(hands):
    hands.window.resize(1280, 800)
    QTest.mouseMove(hands.studio.sheet, QPoint(20, 20))  # the pointer of the test before rests wherever that left it
    hands.do("tray")
    made = Tray(hands)
    made.wait()
    return made


def designs(deal):
    return [to_text_of(one.sibling.design) for one in deal.hung]


def changed_by(deal):
    """How much the siblings of a deal differ, the one in the middle of them."""
    return sorted(one.sibling.distance for one in deal.hung)[4]


def to_text_of(design):
    from under_lattice.work.model import Work

    return to_text(Work(design=design))


def test_eight_hang_near_to_far_each_with_its_picture_and_words(tray):
    deal = tray.roaming.deal
    assert len(deal.hung) == 8
    assert [one.sibling.distance for one in deal.hung] == sorted(one.sibling.distance for one in deal.hung)
    assert all(tile.picture is not None and "→" in tile.accessibleName() for tile in tray.tiles)
    assert tray.siblings.hanging.now.picture is not None


def test_resting_the_focus_shows_one_large_and_leaving_shows_the_work_again(tray):
    hands, sheet = tray.hands, tray.hands.studio.sheet
    own = sheet.picture.copy()
    facts = hands.studio.facts
    tray.focus(5)
    hands.settle()
    assert sheet.instead == "sibling 6"
    assert sheet.picture != own
    assert tray.siblings.title.text() == "Sibling 6"
    assert sheet.handle_at(hands.handle("pivot")) == "" if sheet.handles else True
    QTest.keyClick(tray.tiles[5], Qt.Key.Key_Escape)
    hands.bot.waitUntil(lambda: sheet.instead == "" and hands.studio.settled, timeout=10_000)
    hands.bot.waitUntil(lambda: sheet.picture == own, timeout=10_000)
    assert hands.studio.facts == facts
    assert not hands.document.can_undo


def test_the_pointer_over_one_lists_what_it_changes(tray):
    QTest.mouseMove(tray.tiles[7], QPoint(30, 20))
    tray.tiles[7].hover = True  # no pointer offscreen
    tray.siblings._look()
    assert tray.siblings.title.text() == "Sibling 8"
    assert str(len(tray.roaming.deal.hung[7].sibling.changes)) in tray.siblings.count.text()


def test_arrow_keys_walk_space_adopts_as_one_step_and_k_keeps(tray):
    hands = tray.hands
    before = hands.document.design
    tray.focus(0)
    tray.press(Qt.Key.Key_Right, 0)
    assert tray.tiles[1].hasFocus()
    tray.press(Qt.Key.Key_Down, 1)
    assert tray.tiles[3].hasFocus()
    wanted = tray.roaming.deal.hung[3].sibling.design
    tray.press(Qt.Key.Key_K, 3)
    assert [one.design for one in hands.document.work.kept] == [wanted]
    assert hands.document.design is before
    tray.press(Qt.Key.Key_Space, 3)
    assert hands.document.design == wanted
    assert hands.document.can_undo == "Adopt sibling 4"
    hands.do("undo")
    assert hands.document.design is before
    assert [one.design for one in hands.document.work.kept] == [wanted]


def test_buttons_act_on_the_picked_one_and_a_double_press_adopts(tray):
    hands = tray.hands
    assert not tray.siblings.adopt_button.isEnabled()
    QTest.mouseClick(tray.tiles[2], LEFT, pos=QPoint(20, 20))
    QTest.mouseClick(tray.siblings.keep_button, LEFT)
    assert hands.document.work.kept[0].design == tray.roaming.deal.hung[2].sibling.design
    QTest.mouseClick(tray.siblings.adopt_button, LEFT)
    assert hands.document.design == hands.document.work.kept[0].design
    QTest.mouseDClick(tray.tiles[6], LEFT, pos=QPoint(20, 20))
    assert hands.document.can_undo == "Adopt sibling 7"


def test_deal_again_then_back_and_forth_gives_the_same_bytes(tray):
    first = designs(tray.roaming.deal)
    dealt = [first]
    for _ in range(8):
        QTest.mouseClick(tray.siblings.again, LEFT)
        dealt.append(designs(tray.wait(tray.roaming.deal.number - 1)))
    assert len({tuple(one) for one in dealt}) == 9
    for k in range(7, -1, -1):
        QTest.mouseClick(tray.siblings.before, LEFT)
        assert designs(tray.roaming.deal) == dealt[k]
    assert not tray.siblings.before.isEnabled()
    for k in range(1, 9):
        QTest.mouseClick(tray.siblings.after, LEFT)
        assert designs(tray.roaming.deal) == dealt[k]
    assert tray.siblings.which.text() == "9 of 9"


def test_how_far_by_bead_and_by_number_deals_anew(tray):
    number = tray.roaming.deal.number
    reach = tray.siblings.hanging.reach
    reach.setFocus()
    for _ in range(5):
        QTest.keyClick(reach, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    far = tray.wait(number)
    assert far.terms.reach == 1.0
    tray.hands.type_in(tray.siblings.far, "5")
    close = tray.wait(far.number)
    assert close.terms.reach == 0.05
    assert changed_by(close) < 0.6 * changed_by(far)  # choices jump however near
    QTest.mousePress(reach, LEFT, pos=QPoint(14, 11 + 32))
    QTest.mouseRelease(reach, LEFT, pos=QPoint(14, 11 + 32))
    assert tray.wait(close.number).terms.reach == 1.0


def test_an_edit_deals_relatives_of_the_work_as_it_is_now(tray):
    hands, number = tray.hands, tray.roaming.deal.number
    tray.roaming.use()
    hands.studio.edit("Gap", lambda design: set_dial(design, "floor", "floor-lattice", "gap", 2.0))
    deal = tray.wait(number)
    assert deal.design is hands.document.design
    tray.siblings.roaming.earlier()
    assert tray.roaming.deal.design is not hands.document.design
    tray.focus(0)
    tray.press(Qt.Key.Key_Space, 0)
    hands.do("undo")
    assert hands.rule("lattice").gap == 2.0


def test_locks_hold_and_all_but_one_rule_can_be_locked(tray):
    hands, number = tray.hands, tray.roaming.deal.number
    hands.open("lattice")
    hands.do("lock_but")
    assert EVERY in hands.rule("motif").locked
    deal = tray.wait(number)
    for one in deal.hung:
        rules = one.sibling.design.layers[0].rules
        assert rules[:-1] == hands.layer.rules[:-1]
        assert rules[-1] != hands.layer.rules[-1]
    hands.do("unlock_all")
    assert not any(rule.locked for rule in hands.layer.rules)
    hands.do("lock_rule")
    assert hands.rule("lattice").locked == (EVERY,)
    assert hands.row("lattice", "gap").lock.isChecked()
    QTest.mouseClick(hands.row("lattice", "gap").lock, LEFT)
    assert not hands.rule("lattice").holds("gap")
    assert hands.rule("lattice").holds("turn")


def test_siblings_of_one_dial_come_from_its_menu(tray):
    hands, number = tray.hands, tray.roaming.deal.number
    menu = hands.row("push-edges", "amount").menu()
    next(one for one in menu.actions() if one.text() == "Siblings of this").trigger()
    deal = tray.wait(number)
    kept = hands.layer.rules[3].model_dump(exclude={"amount"})
    for one in deal.hung:
        rules = one.sibling.design.layers[0].rules
        assert rules[3].model_dump(exclude={"amount"}) == kept
        assert rules[:3] == hands.layer.rules[:3]
    assert "one dial" in tray.siblings.scope.text()
    hands.do("siblings_layer")
    assert tray.siblings.scope.text().startswith("Floor")


def test_colours_move_only_when_they_are_let(tray):
    hands, number = tray.hands, tray.roaming.deal.number
    palettes = {one.sibling.design.layers[0].rules[2].palette for one in tray.roaming.deal.hung}
    assert palettes == {hands.rule("ink").palette}
    QTest.mouseClick(tray.siblings.colours, LEFT)
    deal = tray.wait(number)
    assert len({one.sibling.design.layers[0].rules[2].palette for one in deal.hung}) > 1


def test_a_locked_work_says_why_nothing_hangs(tray):
    hands = tray.hands
    hands.do("lock_layer")
    hands.bot.waitUntil(lambda: "locked" in tray.roaming.sentence, timeout=20_000)
    assert all(not tile.isEnabled() for tile in tray.tiles)


def test_the_siblings_are_reached_by_a_key_and_a_large_work_waits_to_be_asked(tray, monkeypatch):
    hands = tray.hands
    hands.do("go_siblings")
    assert tray.tiles[0].hasFocus()
    assert tray.tiles[0].seen
    QTest.keyClick(tray.tiles[0], Qt.Key.Key_Escape)
    monkeypatch.setattr("under_lattice.ui.tray.roaming.BY_ITSELF_MOST", 20)
    number = tray.roaming.deal.number
    gap(hands, 1.0)
    hands.bot.waitUntil(lambda: "press Deal again" in tray.roaming.sentence, timeout=20_000)
    assert tray.roaming.deal.number == number
    QTest.mouseClick(tray.siblings.again, LEFT)
    assert tray.wait(number).design is hands.document.design


def test_what_is_said_of_a_large_work_goes_when_it_is_undone(tray, monkeypatch):
    hands, number = tray.hands, tray.roaming.deal.number
    monkeypatch.setattr("under_lattice.ui.tray.roaming.BY_ITSELF_MOST", 20)
    for said in ("", "Nothing that may move here changes the picture"):
        tray.roaming._tell(said)
        for value in (1.0, 2.0):
            gap(hands, value)
            hands.bot.waitUntil(lambda: "press Deal again" in tray.roaming.sentence, timeout=20_000)
            hands.settle()
        hands.do("undo")
        hands.do("undo")
        hands.bot.waitUntil(lambda said=said: tray.roaming.sentence == said, timeout=20_000)
        assert tray.roaming.deal.number == number  # those that hang are of this work


def test_the_tray_is_put_away_and_found_again_as_it_was(tray, qtbot):
    hands = tray.hands
    assert tray.tray.isVisible()
    qtbot.waitUntil(recent.tray_shown, timeout=5_000)
    hands.do("tray")
    assert not tray.tray.isVisible()
    qtbot.waitUntil(lambda: not recent.tray_shown(), timeout=5_000)
    hands.do("deal")
    assert tray.tray.isVisible()


# -- kept ----------------------------------------------------------------------------------------
def gap(hands, value):
    hands.studio.edit("Gap", lambda design: set_dial(design, "floor", "floor-lattice", "gap", value))


def test_kept_versions_outlive_undo_and_their_own_changes_are_undone_by_themselves(hands, monkeypatch):
    document = hands.document
    gap(hands, 1.0)
    hands.do("keep")
    gap(hands, 2.0)
    hands.do("keep")
    names = [one.name for one in document.work.kept]
    for _ in range(4):
        hands.do("undo")
    assert [one.name for one in document.work.kept] == names == ["Version 1", "Version 2"]
    first = document.work.kept[0].id
    panel = hands.studio.tray.kept
    panel.remove(first)
    design = document.design
    assert [one.name for one in document.work.kept] == ["Version 2"]
    hands.do("keep")
    hands.do("undo")
    assert [one.name for one in document.work.kept] == ["Version 1", "Version 2", "Version 2 2"]
    assert document.design is design
    hands.do("redo")
    assert [one.name for one in document.work.kept] == ["Version 2", "Version 2 2"]
    document.reshelve("Rename", tuple(one.model_copy(update={"name": f"x{k}"}) for k, one in enumerate(document.work.kept)))
    hands.do("undo")
    assert [one.name for one in document.work.kept] == ["Version 2", "Version 2 2"]


def test_a_kept_version_is_restored_to_the_byte_and_saved_in_the_work(hands, tmp_path):
    document = hands.document
    hands.do("keep")
    kept = document.work.kept[0]
    gap(hands, 3.0)
    hands.window.files.saving.write(tmp_path / "floor.lattice")
    hands.bot.waitUntil(lambda: not document.modified, timeout=10_000)
    hands.studio.tray.kept.restore(kept.id)
    assert to_text_of(document.design) == to_text_of(kept.design)
    assert document.can_undo == "Restore Version 1"
    read = from_text((tmp_path / "floor.lattice").read_text())
    assert read.kept == (kept,)
    assert read.kept[0].at.startswith("20")
    hands.do("undo")
    assert hands.rule("lattice").gap == 3.0


def test_keeping_alone_makes_the_work_unsaved(hands, tmp_path):
    hands.window.files.saving.write(tmp_path / "floor.lattice")
    hands.bot.waitUntil(lambda: not hands.document.modified, timeout=10_000)
    hands.do("keep")
    assert hands.document.modified


def test_a_kept_version_is_put_elsewhere_and_restored_before_its_picture_is_there(hands, monkeypatch):
    hands.do("tray")
    panel = hands.studio.tray.kept
    monkeypatch.setattr(panel.pictures, "want", lambda *_: None)
    for value in (1.0, 2.0):
        gap(hands, value)
        hands.do("keep")
    hands.bot.waitUntil(lambda: list(panel.tiles) == [one.id for one in hands.document.work.kept], timeout=5000)
    first = hands.document.work.kept[0]
    assert panel.tiles[first.id].picture is None
    QTest.keyClick(panel.tiles[first.id], Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier)
    assert [one.name[-1] for one in hands.document.work.kept] == ["2", "1"]
    hands.bot.wait(50)
    QTest.mouseDClick(panel.tiles[first.id], Qt.MouseButton.LeftButton)
    assert hands.rule("lattice").gap == 1.0


def test_kept_are_put_in_order_by_keys_and_by_dropping(hands):
    hands.do("tray")
    for value in (1.0, 2.0, 3.0):
        gap(hands, value)
        hands.do("keep")
    panel, shelf = hands.studio.tray.kept, lambda: [one.name[-1] for one in hands.document.work.kept]
    hands.settle()
    hands.bot.waitUntil(lambda: list(panel.tiles) == [one.id for one in hands.document.work.kept], timeout=5000)
    hands.bot.wait(50)
    first = hands.document.work.kept[0].id
    QTest.keyClick(panel.tiles[first], Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier)
    assert shelf() == ["2", "1", "3"]
    hands.bot.wait(50)
    third = panel.tiles[hands.document.work.kept[2].id]
    panel.drop_at(first, third.mapTo(panel, third.rect().center()) + QPoint(20, 0))
    assert shelf() == ["2", "3", "1"]
    QTest.keyClick(panel.tiles[first], Qt.Key.Key_Delete)
    assert shelf() == ["2", "3"]


def test_a_kept_version_opens_as_a_new_work_and_all_are_exported_at_once(hands, tmp_path, monkeypatch):
    from under_lattice.ui.export.export_dialog import ExportDialog

    gap(hands, 1.0)
    hands.do("keep")
    gap(hands, 2.0)
    hands.do("keep")
    hands.window.exploring.export(hands.document.work.kept)
    dialog = hands.window.findChild(ExportDialog)
    (tmp_path / "entrance-floor-version-1.svg").write_text("there already")
    dialog.write_all(tmp_path)
    hands.bot.waitUntil(lambda: len(list(tmp_path.glob("*.svg"))) == 3, timeout=20_000)
    assert (tmp_path / "entrance-floor-version-1.svg").read_text() == "there already"
    kept = hands.document.work.kept[0]
    monkeypatch.setattr(QMessageBox, "exec", lambda box: QMessageBox.StandardButton.Discard)
    hands.window.exploring.open_as_new(kept)
    assert hands.document.design.layers == kept.design.layers
    assert hands.document.modified
    assert hands.document.work.kept == ()


def test_the_menu_of_a_kept_version_offers_what_can_be_done(hands):
    hands.do("tray")
    hands.do("keep")
    panel = hands.studio.tray.kept
    panel.open_menu(hands.document.work.kept[0].id, QPoint(10, 10))
    menu = next(one for one in QApplication.topLevelWidgets() if isinstance(one, QMenu) and one.isVisible())
    words = [one.text() for one in menu.actions()]
    menu.close()
    assert words[:4] == ["Restore", "Wipe against now", "Difference from now", "Mix with now…"]


def test_several_kept_versions_are_taken_and_exported_together(hands, tmp_path):
    from under_lattice.ui.export.export_dialog import ExportDialog

    hands.do("tray")
    for value in (1.0, 2.0, 3.0):
        gap(hands, value)
        hands.do("keep")
    panel, shelf = hands.studio.tray.kept, hands.document.work.kept
    hands.bot.waitUntil(lambda: all(tile.isEnabled() for tile in panel.tiles.values()), timeout=20_000)
    QTest.mouseClick(panel.tiles[shelf[0].id], Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(panel.tiles[shelf[2].id], Qt.Key.Key_Space, Qt.KeyboardModifier.ControlModifier)
    panel.open_menu(shelf[0].id, QPoint(10, 10))
    menus = [one for one in QApplication.topLevelWidgets() if isinstance(one, QMenu) and one.isVisible()]
    next(one for menu in menus for one in menu.actions() if one.text() == "Export these 2…").trigger()
    for menu in menus:
        menu.close()
    hands.window.findChild(ExportDialog).write_all(tmp_path)
    hands.bot.waitUntil(lambda: len(list(tmp_path.glob("*.svg"))) == 2, timeout=20_000)
    assert {path.stem for path in tmp_path.glob("*.svg")} == {"entrance-floor-version-1", "entrance-floor-version-3"}
    assert hands.rule("lattice").gap == 3.0  # nothing was restored by it


def test_a_full_shelf_is_told_and_nothing_more_is_kept(hands, monkeypatch):
    from under_lattice.work import shelf

    monkeypatch.setattr(shelf, "KEPT_MOST", 1)
    hands.do("keep")
    hands.desk = hands.studio.desk
    for name in ("Sibling 1", "3.00 mm", "50 % Night"):  # from the tray, a strip, a mixture
        hands.desk.keep(hands.document.design, name)
        assert "at most 1 kept" in hands.studio.facts_line.sentence
        assert len(hands.document.work.kept) == 1


def test_history_goes_to_any_step_and_what_came_after_stays(hands):
    for value in (1.0, 2.0, 3.0):
        gap(hands, value)
    hands.do("history")
    history = hands.window.exploring.history
    assert [history.list.item(row).text() for row in range(4)] == ["Gap  (now)", "Gap", "Gap", "As it was opened"]
    hands.bot.waitUntil(lambda: bool(history.list.item(3).data(Qt.ItemDataRole.UserRole + 1)), timeout=5_000)
    history.list.setCurrentRow(2)
    history._go(history.list.item(2))
    assert hands.rule("lattice").gap == 1.0
    assert hands.document.can_redo == "Gap"
    hands.document.go_to(3)
    assert hands.rule("lattice").gap == 3.0
    hands.document.go_to(0)
    gap(hands, 9.0)
    assert len(hands.document.moments) == 2
