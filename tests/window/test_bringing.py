"""Drawings and pictures dropped on the window or pasted; long work that is stopped."""

import pytest
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QColor, QDropEvent, QGuiApplication, QImage
from PySide6.QtWidgets import QFileDialog, QLabel, QMessageBox

from under_lattice.core.errors import FileError
from under_lattice.files.brought import kind_of, with_brought
from under_lattice.files.saving import Seen
from under_lattice.rules.copies.combine import Combine
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.ui.dialogs.brought_dialog import BroughtDialog
from under_lattice.work.edits import add_rule, exchange_motif, remove_rule

DRAWING = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="30mm" viewBox="0 0 60 30">'
    '<rect width="60" height="30"/><text x="3" y="5">tern</text></svg>'
)


def dropped(window, *paths):
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
    buttons, keys = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    window.dropEvent(QDropEvent(QPointF(600, 300), Qt.DropAction.CopyAction, mime, buttons, keys))


def said(hands):
    boxes = [box.text() for box in hands.window.findChildren(QMessageBox) if box.isVisible()]
    told = [one for one in hands.window.findChildren(BroughtDialog) if one.isVisible()]
    return "\n".join(boxes + [label.text() for one in told for label in one.findChildren(QLabel)])


def layers(hands):
    return hands.document.design.chains()


def test_a_dropped_drawing_becomes_a_layer_of_its_real_size_and_says_what_was_left_out(hands, tmp_path):
    path = tmp_path / "gate.svg"
    path.write_text(DRAWING)
    dropped(hands.window, path)
    hands.bot.waitUntil(lambda: len(layers(hands)) == 2, timeout=10_000)
    first = layers(hands)[0]
    assert first.name == "gate"
    assert first.rules[0].width == pytest.approx(60.0, abs=0.01)
    hands.bot.waitUntil(lambda: "text" in said(hands), timeout=5_000)
    assert "letters have no outline" in said(hands)
    hands.do("undo")
    assert len(layers(hands)) == 1


def test_a_drawing_and_a_picture_are_pasted(hands):
    clipboard = QGuiApplication.clipboard()
    clipboard.setText(DRAWING)
    hands.do("paste")
    hands.bot.waitUntil(lambda: len(layers(hands)) == 2, timeout=10_000)
    image = QImage(40, 20, QImage.Format.Format_ARGB32)
    image.fill(QColor("#C2694C"))
    clipboard.setImage(image)
    hands.do("paste")
    hands.bot.waitUntil(lambda: len(layers(hands)) == 3, timeout=10_000)
    assert layers(hands)[0].rules[0].kind == "picture"
    assert len(hands.document.design.pictures) == 1
    hands.settle()
    assert not hands.studio.results[layers(hands)[0].id].problems
    clipboard.setText("no drawing")
    hands.do("paste")
    hands.bot.waitUntil(lambda: "neither" in said(hands), timeout=5_000)
    assert len(layers(hands)) == 3


@pytest.mark.parametrize(("name", "data"), [("bad.svg", b"<svg"), ("bad.png", b"\x89PNG broken"), ("bad.webp", b"nothing")])
def test_a_broken_file_is_refused_and_nothing_is_changed(hands, tmp_path, name, data):
    before = hands.document.design
    path = tmp_path / name
    path.write_bytes(data)
    dropped(hands.window, path)
    hands.bot.waitUntil(lambda: name in said(hands), timeout=5_000)
    assert hands.document.design is before
    with pytest.raises(FileError):
        with_brought(before, data, name)


def test_what_was_copied_is_told_by_its_first_bytes():
    assert [kind_of(one) for one in (b"\x89PNG..", b"\xff\xd8..", b"RIFF1234WEBP", b"<svg/>")] == [".png", ".jpg", ".webp", ".svg"]
    with pytest.raises(FileError, match="neither"):
        kind_of(b"hello")


def test_long_work_says_how_far_it_is_and_can_be_stopped(hands):
    layer = hands.studio.layer
    told = []
    hands.window.engine.working.connect(lambda name, share: told.append((name, share)))

    def crowded(design):
        for rule in design.chain(layer).rules[1:]:
            design = remove_rule(design, layer, rule.id)
        design = exchange_motif(design, layer, Ellipse(width=40.0))
        motif = design.chain(layer).rules[0].id
        design = add_rule(design, layer, Lattice(form="squares", spacing="free", pitch=3.0), motif)
        return add_rule(design, layer, Combine(how="exclusion"), design.chain(layer).rules[-1].id)

    hands.studio.edit("crowd", crowded)
    hands.bot.waitUntil(lambda: bool(told), timeout=60_000)
    assert told[0][0] == "Combine"
    hands.bot.waitUntil(lambda: "%" in hands.studio.facts_line.time.text(), timeout=10_000)
    assert hands.studio.facts_line.stop.isVisible()
    hands.studio.facts_line.stop.click()
    hands.settle()
    assert "stopped" in hands.studio._problem
    hands.do("undo")
    hands.settle()
    assert "stopped" not in hands.studio._problem


def test_several_files_at_once_are_one_step_and_one_that_is_refused_stops_no_other(hands, tmp_path, monkeypatch):
    before = hands.document.design
    good, bad, picture = tmp_path / "gate.svg", tmp_path / "bad.svg", tmp_path / "sea.png"
    good.write_text(DRAWING)
    bad.write_text("<svg")
    image = QImage(20, 20, QImage.Format.Format_ARGB32)
    image.fill(QColor("#24507A"))
    image.save(str(picture))
    chosen = [str(path) for path in (good, bad, picture)]
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *a, **k: (chosen, ""))
    hands.do("bring")
    hands.bot.waitUntil(lambda: len(layers(hands)) == 3, timeout=10_000)
    assert [one.name for one in layers(hands)[:2]] == ["sea", "gate"]
    hands.bot.waitUntil(lambda: "2 layers were added." in said(hands), timeout=5000)
    assert "bad.svg" in said(hands)
    assert "letters have no outline" in said(hands)
    (box,) = (one for one in hands.window.findChildren(BroughtDialog) if one.isVisible())
    pictures = {label.accessibleName(): label.pixmap() for label in box.findChildren(QLabel) if not label.pixmap().isNull()}
    assert set(pictures) == {"gate.svg, as elsewhere", "gate.svg, as here"}
    box.accept()
    hands.do("undo")
    assert hands.document.design == before


@pytest.mark.parametrize("way", ["drop", "paste", "own shape"])
def test_a_drawing_on_the_first_page_begins_a_sheet(window, qtbot, tmp_path, monkeypatch, way):
    window.show()
    path = tmp_path / "gull.svg"
    path.write_text(DRAWING)
    if way == "drop":
        dropped(window, path)
    elif way == "paste":
        QGuiApplication.clipboard().setText(DRAWING)
        window.actions_by_key["paste"].trigger()
    else:
        monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *a, **k: ([str(path)], ""))
        window.start_page.own.click()
    qtbot.waitUntil(lambda: window.document is not None, timeout=10_000)
    design = window.document.design
    assert [rule.kind for rule in design.layers[0].own_rules] == ["outline", "ink"]
    assert len(design.layers) == 1
    assert window.document.modified  # nothing of it is in a file
    assert design.name == ("Pasted" if way == "paste" else "gull")
    window.document.saved_as(tmp_path / "x.lattice", window.document.work, Seen(""))
