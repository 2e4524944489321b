"""Jobs with the string of time, done with mouse and keys: move a dial, hang, drag, play, record, close, export."""

import pytest
from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox

from tests.chains import work_of
from tests.window.conftest import Hands, gone
from under_lattice.declare.frozen import edited
from under_lattice.library import demo
from under_lattice.loop.hanging import title_of
from under_lattice.loop.moment import at_moment
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.progression import Progression
from under_lattice.ui.export.export_dialog import ExportDialog
from under_lattice.work.model import Work

LEFT = Qt.MouseButton.LeftButton


class Timed(Hands):
    """A window with a work, and hands on its string."""

    @property
    def string(self):
        return self.studio.string

    @property
    def rows(self):
        return self.string.rows

    @property
    def motions(self):
        return self.document.design.motions

    def thread(self, at=0):
        return self.rows.threads[self.motions[at].id]

    def press(self, widget, at, held=Qt.KeyboardModifier.NoModifier):
        QTest.mouseClick(widget, LEFT, held, at.toPoint() if hasattr(at, "toPoint") else at)
        self.settle()

    def bead(self, k, at=0):
        return self.thread(at).bead(k).toPoint()

    def spot(self, time, at=0):
        return QPoint(round(self.thread(at).x_of(time)), self.thread(at).height() // 2)

    def choose(self, row, words):
        """Choose an entry of a dial's menu."""
        entry = next(one for one in row.menu().actions() if one.text() == words)
        entry.trigger()
        self.settle()

    def drag_held(self, widget, start, to, held):
        """Drag with a key held."""
        for kind, at, button in (
            (QEvent.Type.MouseButtonPress, start, LEFT), (QEvent.Type.MouseMove, (start + to) / 2, Qt.MouseButton.NoButton),
            (QEvent.Type.MouseMove, to, Qt.MouseButton.NoButton), (QEvent.Type.MouseButtonRelease, to, LEFT),
        ):  # fmt: skip
            place = widget.mapToGlobal(at).toPointF()
            QApplication.sendEvent(widget, QMouseEvent(kind, at.toPointF(), place, button, LEFT, held))
        self.settle()

    def value(self, handle, dial, time):
        design = at_moment(self.document.design, time, waves=False)
        return getattr(design.chain(self.studio.layer).rule(self.rule(handle).id), dial)

    def type_here(self, field, text):
        self.type_in(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.settle()


@pytest.fixture
def whirls(qtbot, window):
    """The festival poster, standing still."""
    work = demo("festival-poster")
    return Timed(qtbot, window).show(Work(design=edited(work.design, motions=())))


def test_a_dial_is_moved_and_its_values_are_dragged_typed_copied_and_taken_off(whirls):
    hands = whirls
    assert hands.string.isHidden()
    row = hands.row("progression", "turn")
    row.take_focus()
    QTest.keyClick(row.fields[0], Qt.Key.Key_B)  # a bead, and the string opens
    hands.settle()
    assert hands.string.isVisible()
    assert [bead.value for bead in hands.motions[0].beads] == [6.0]

    QTest.mouseDClick(hands.thread(), LEFT, pos=hands.spot(0.5))  # one more, with the value that is there
    hands.settle()
    assert [bead.time for bead in hands.motions[0].beads] == [0.0, 0.5]
    assert hands.studio.looked.time == 0.5
    hands.type_here(row.fields[0], "9")  # turned while it moves: that value hangs there
    assert [bead.value for bead in hands.motions[0].beads] == [6.0, 9.0]
    assert hands.value("progression", "turn", 0.25) == pytest.approx(7.5)

    hands.press(hands.thread(), hands.bead(1))
    hands.drag(hands.thread(), hands.bead(1), (round(hands.thread().x_of(0.75) - hands.thread().x_of(0.5)), 0))
    hands.settle()
    assert hands.motions[0].beads[1].time == pytest.approx(0.75, abs=0.011)
    hands.do("undo")
    assert hands.motions[0].beads[1].time == 0.5
    hands.press(hands.thread(), hands.bead(1))
    hands.type_here(hands.rows.line.time, "1")  # seconds, of four
    assert hands.motions[0].beads[1].time == 0.25
    hands.type_here(hands.rows.line.value, "12")
    assert hands.motions[0].beads[1].value == 12
    hands.type_here(hands.rows.line.value, "99999")
    assert hands.motions[0].beads[1].value == 12

    held = Qt.KeyboardModifier
    hands.drag_held(hands.thread(), hands.bead(1), hands.spot(0.5), held.ControlModifier)  # a copy
    assert [bead.time for bead in hands.motions[0].beads] == pytest.approx([0.0, 0.25, 0.5], abs=0.011)
    assert [bead.value for bead in hands.motions[0].beads] == [6.0, 12.0, 12.0]
    QTest.mouseClick(hands.thread(), LEFT, held.NoModifier, hands.bead(1))
    QTest.mouseClick(hands.thread(), LEFT, held.ShiftModifier, hands.bead(2))
    hands.drag_held(hands.thread(), hands.bead(2), hands.spot(0.75), held.AltModifier)  # both, from the first of them
    assert [bead.time for bead in hands.motions[0].beads] == pytest.approx([0.0, 0.25, 0.75], abs=0.02)
    hands.drag_held(hands.thread(), hands.bead(1), hands.spot(0.1), held.NoModifier)  # both together
    assert [bead.time for bead in hands.motions[0].beads] == pytest.approx([0.0, 0.1, 0.6], abs=0.02)
    QTest.keyClick(hands.thread(), Qt.Key.Key_Delete)
    hands.settle()
    assert len(hands.motions[0].beads) == 1
    while hands.document.can_undo:
        hands.do("undo")
    assert not hands.motions
    assert hands.string.body.isVisible()  # it stays open; nothing moves
    assert "Nothing moves yet" in hands.rows.rows.itemAt(0).widget().text()


def test_swings_waves_and_whole_turns_come_from_the_menu(whirls):
    hands = whirls
    hands.choose(hands.row("layer", "opacity"), "Move this: swing")
    assert hands.motions[0].course == "swing"
    assert hands.rows.line.times.isVisible()
    row = hands.row("progression", "turn")
    hands.choose(row, "Move this: a whole turn")
    assert [bead.value for bead in hands.motions[1].beads] == [6.0, 366.0]
    assert "moves: 2 values over the loop" in row.moving.said
    line = hands.rows.line
    line.course.activated.emit(2)  # swing
    hands.settle()
    assert hands.motions[1].course == "swing"
    line.wave.activated.emit(1)
    hands.settle()
    assert hands.motions[1].lag.channel == "step"
    assert hands.motions[1].lag.rule == hands.rule("progression").id
    hands.type_here(line.loops, "2")
    assert hands.motions[1].lag.loops == 2
    size = hands.row("progression", "across")
    hands.choose(size, next(one.text() for one in size.menu().actions() if one.text().startswith("Move this with")))
    assert [one.dial for one in hands.motions[0].places] == ["opacity", "across", "along"]  # size is one number
    hands.choose(row, "Stop moving this")
    assert len(hands.motions) == 1


def test_size_moves_as_one_until_it_is_parted(whirls):
    hands = whirls
    row, whole = hands.row("progression", "across"), hands.value("progression", "across", 0.0)
    QTest.keyClick(row.fields[0], Qt.Key.Key_B)
    hands.settle()
    assert [one.dial for one in hands.motions[0].places] == ["across", "along"]
    assert title_of(hands.document.design, hands.motions[0]).endswith("Progression, size")
    hands.press(hands.thread(), hands.spot(0.5))
    hands.studio.looked.time = 0.5
    hands.settle()
    hands.type_here(row.fields[0], "80")  # turned at a moment
    for dial, time, value in (("across", 0.5, 80), ("along", 0.5, 80), ("across", 0.0, whole), ("along", 0.0, whole)):
        assert hands.value("progression", dial, time) == pytest.approx(value), (dial, time)
    QTest.keyClick(hands.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(hands.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    hands.settle()
    assert not hands.motions  # one step each
    QTest.mouseClick(row.unfold, LEFT)
    hands.settle()
    QTest.keyClick(row.fields[0], Qt.Key.Key_B)
    hands.settle()
    assert [one.dial for one in hands.motions[0].places] == ["across"]


def test_it_plays_stops_steps_and_scrubs(whirls):
    hands = whirls
    hands.choose(hands.row("progression", "turn"), "Move this: swing")
    hands.string.seconds.setFocus()
    hands.type_here(hands.string.seconds, "1")
    assert hands.document.design.loop.seconds == 1
    player = hands.studio.player
    hands.studio.sheet.setFocus()
    QTest.keyClick(hands.studio.sheet, Qt.Key.Key_Space)
    assert player.playing
    hands.bot.waitUntil(lambda: player.shown >= 5, timeout=20_000)
    assert "shown" in player.words()
    QTest.keyClick(hands.studio.sheet, Qt.Key.Key_Space)
    assert not player.playing
    hands.settle()
    stopped = hands.studio.looked.time
    assert hands.string.readout.value == pytest.approx(stopped, abs=1e-6)
    hands.do("next_moment")
    assert hands.studio.looked.time == pytest.approx((stopped + 1 / 25) % 1.0)
    hands.do("to_begin")
    hands.settle()
    first = hands.studio.sheet.picture.copy()
    time = hands.string.time
    QTest.mouseClick(time, LEFT, pos=QPoint(round(time.x_of(0.5)), 8))
    hands.settle()
    assert hands.studio.looked.time == pytest.approx(0.5, abs=0.03)
    assert hands.studio.sheet.picture != first
    hands.do("to_begin")
    hands.settle()
    assert hands.studio.sheet.picture == first  # to the pixel


def test_what_is_turned_while_it_records_hangs_on_the_string(whirls):
    hands = whirls
    hands.studio.looked.string = True
    QTest.mouseClick(hands.string.record, LEFT)
    hands.string.scrub(0.5)
    hands.settle()
    row = hands.row("progression", "across")
    hands.type_here(row.fields[0], "95")
    assert [(bead.time, bead.value) for bead in hands.motions[0].beads] == [(0.0, pytest.approx(90.9876, abs=1e-3)), (0.5, 95.0)]
    assert len(hands.motions[0].places) == 2  # across and along are one
    QTest.mouseClick(hands.string.record, LEFT)
    other = hands.row("progression", "skew")
    hands.type_here(other.fields[0], "3")
    assert len(hands.motions) == 1
    hands.string.toggle()
    hands.bot.waitUntil(lambda: hands.studio.player.shown >= 2, timeout=20_000)
    hands.type_here(other.fields[0], "5")  # an edit while it plays is played
    assert hands.studio.player.playing
    hands.string.toggle()


def test_a_motion_that_jumps_offers_what_closes_it(whirls):
    hands = whirls
    row = hands.row("layer", "place_turn")
    hands.choose(row, "Move this: a whole turn")
    hands.type_here(hands.rows.line.value, "70")
    line = hands.rows.line
    hands.bot.waitUntil(lambda: line.cure.isVisible(), timeout=20_000)
    assert line.closing.text() == "Jumps at the end"
    assert line.cure.text() == "end after a quarter of a turn"
    QTest.mouseClick(line.cure, LEFT)
    hands.bot.waitUntil(lambda: line.closing.text() == "Closes after a quarter of a turn", timeout=20_000)
    assert hands.motions[0].beads[-1].value == 90


def test_the_moments_beside_are_lines_and_the_loop_goes_out(whirls, tmp_path):
    hands = whirls
    hands.choose(hands.row("progression", "turn"), "Move this: swing")
    QTest.mouseClick(hands.string.beside, LEFT)
    hands.bot.waitUntil(lambda: hands.studio.sheet.neighbours is not None, timeout=20_000)
    assert len(hands.studio.sheet.neighbours[0]) == 2
    QTest.mouseClick(hands.string.beside, LEFT)
    assert hands.studio.sheet.neighbours is None
    QTest.mouseClick(hands.string.film, LEFT)
    dialog = hands.window.findChild(ExportDialog)
    assert dialog.purpose == "film"
    assert {button.property("format") for button in dialog.formats.buttons() if not button.isHidden()} >= {"webm", "gif", "moments"}
    hands.bot.waitUntil(lambda: "pictures" in dialog.words.text(), timeout=20_000)
    assert "200 pictures, 8 s at 25 a second" in dialog.words.text() or "100 pictures, 4 s" in dialog.words.text()
    loop, parts = hands.document.design.loop, dialog.pages["webm"].parts
    assert [parts[one].value for one in ("width", "seconds", "rate")] == [648, loop.seconds, loop.rate]
    for kind, width, said in (("mp4", 32, "at least 64 px"), ("webm", 601, "602 px instead of 601"), ("gif", 31, "31 ×")):
        next(one for one in dialog.formats.buttons() if one.property("format") == kind).click()
        hands.type_in(dialog.pages[kind].parts["width"], str(width))
        QTest.keyClick(dialog.pages[kind].parts["width"], Qt.Key.Key_Tab)
        hands.bot.waitUntil(lambda said=said: said in dialog.words.text() + dialog.error.text(), timeout=20_000)
    next(one for one in dialog.formats.buttons() if one.property("format") == "webm").click()
    dialog._turn("seconds", 0.2)
    dialog._turn("width", 64)
    dialog.write(tmp_path / "out.webm")
    hands.bot.waitUntil(lambda: (tmp_path / "out.webm").exists() and gone(dialog), timeout=30_000)


def test_of_two_repeats_it_is_chosen_beside_the_wave_whose_copies_it_runs_through(qtbot, window):
    rows = Progression(count=4, distance=40.0, direction=90.0)
    hands = Timed(qtbot, window).show(work_of(Polygon(size=20.0), Progression(count=5), rows, Adjust(scope="each")))
    row = hands.row("adjust", "turn")
    row.take_focus()
    QTest.keyClick(row.fields[0], Qt.Key.Key_B)
    hands.settle()
    line = hands.rows.line
    assert line.source.isHidden()
    line.wave.setCurrentIndex(1)
    line.wave.activated.emit(1)
    hands.settle()
    assert line.source.isVisible()
    assert line.source.window() is hands.window
    assert line.source.count() == 2
    line.source.setCurrentIndex(1)
    line.source.activated.emit(1)
    hands.settle()
    second = hands.layer.rules[2].id
    assert hands.motions[0].lag.rule == second
    assert all(not isinstance(one, QComboBox) for one in QApplication.topLevelWidgets())
