"""Two programs at one file, files that go away or may not be written, edits made while a work is read: nothing is lost unasked."""

import pytest
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QMessageBox

from tests.chains import floor_alone
from tests.window.conftest import Hands
from under_lattice.files import recipe
from under_lattice.files.recipe import open_any
from under_lattice.files.storage import write
from under_lattice.files.unsaved import left_behind
from under_lattice.library import demo
from under_lattice.ui.window.window import Window
from under_lattice.ui.workers.worker import worker


@pytest.fixture
def presses(monkeypatch):
    """Press the button of the next questions whose words begin so; all questions are noted."""
    wanted, met = [], []

    def asked(box):
        met.append(f"{box.text()} {box.informativeText()}")
        words = wanted.pop(0) if wanted else "Cancel"
        button = next(one for one in box.buttons() if one.text().replace("&", "").startswith(words))
        button.click()
        return box.standardButton(button)

    monkeypatch.setattr(QMessageBox, "exec", asked)
    return wanted, met


@pytest.fixture
def opened(qtbot, window, tmp_path):
    """A work opened from its file, with an edit that is not saved."""
    path = tmp_path / "floor.lattice"
    write(floor_alone(), path)
    window.show()
    window.files.open_path(path)
    qtbot.waitUntil(lambda: not window.files.opening, timeout=10_000)
    hands = Hands(qtbot, window)
    hands.settle()
    hands.type_in(hands.row("lattice", "gap").fields[0], "3")
    hands.path = path
    return hands


def saved(hands):
    hands.do("save")
    hands.bot.waitUntil(lambda: hands.window.files.saving.job is None, timeout=10_000)


def test_saving_where_nobody_else_wrote_asks_nothing(opened, presses):
    saved(opened)
    assert not opened.document.modified
    opened.type_in(opened.row("lattice", "gap").fields[0], "4")
    saved(opened)
    assert open_any(opened.path).work.design == opened.document.design
    assert not presses[1]


@pytest.mark.parametrize("how", ["Keep both", "Replace", "Show both", "Cancel"])
def test_what_others_wrote_is_asked_about(opened, presses, how):
    wanted, met = presses
    theirs = demo("air-grille")
    write(theirs, opened.path)
    wanted.append(how)
    saved(opened)
    opened.bot.waitUntil(lambda: opened.window.files.saving.job is None, timeout=10_000)
    assert len(met) == 1
    assert "floor.lattice was changed by another program" in met[0]
    beside = opened.path.with_name("floor-2.lattice")
    match how:
        case "Keep both":
            assert open_any(opened.path).work == theirs
            assert open_any(beside).work.design == opened.document.design
            assert opened.document.path == beside
            assert not opened.document.modified
        case "Replace":
            assert open_any(opened.path).work.design == opened.document.design
            assert not opened.document.modified
        case "Show both":
            opened.bot.waitUntil(lambda: opened.studio.sheet.compare.on, timeout=10_000)
            assert opened.document.work.kept[-1].design == theirs.design
            assert opened.studio.compared.name == "In the file"
            assert open_any(opened.path).work == theirs
            assert opened.document.modified
            saved(opened)
            assert len(met) == 2  # asked again
        case _:
            assert open_any(opened.path).work == theirs
            assert opened.document.modified
    assert beside.exists() == (how == "Keep both")


@pytest.mark.parametrize("how", ["Save it there again", "Save as", "Cancel"])
def test_a_file_that_went_away_is_said(opened, presses, monkeypatch, tmp_path, how):
    wanted, met = presses
    moved = tmp_path / "moved.lattice"
    opened.path.rename(moved)
    before = moved.read_bytes()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "other.lattice"), ""))
    wanted.append(how)
    saved(opened)
    opened.bot.waitUntil(lambda: opened.window.files.saving.job is None, timeout=10_000)
    assert "is not there any more" in met[0]
    assert moved.read_bytes() == before
    assert opened.path.exists() == (how == "Save it there again")
    assert (tmp_path / "other.lattice").exists() == (how == "Save as")
    assert opened.document.modified == (how == "Cancel")


def test_a_file_made_read_only_is_said_and_saved_elsewhere(opened, presses, monkeypatch, tmp_path):
    wanted, met = presses
    opened.path.chmod(0o444)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "other.lattice"), ""))
    wanted.append("Save as")
    saved(opened)
    opened.bot.waitUntil(lambda: opened.window.files.saving.job is None, timeout=10_000)
    assert "read-only" in met[0]
    assert open_any(opened.path).work == floor_alone()
    assert open_any(tmp_path / "other.lattice").work.design == opened.document.design
    assert opened.document.path == tmp_path / "other.lattice"


def test_two_windows_on_one_work_overwrite_nothing_unasked(opened, presses, qtbot):
    wanted, met = presses
    other = Window()
    other.show()
    other.files.open_path(opened.path)
    qtbot.waitUntil(lambda: not other.files.opening, timeout=10_000)
    saved(opened)
    second = Hands(qtbot, other)
    second.settle()
    second.type_in(second.row("lattice", "gap").fields[0], "7")
    wanted.append("Keep both")
    saved(second)
    qtbot.waitUntil(lambda: other.files.saving.job is None, timeout=10_000)
    assert len(met) == 1
    assert open_any(opened.path).work.design == opened.document.design
    assert open_any(opened.path.with_name("floor-2.lattice")).work.design == other.document.design
    other.close()
    other.deleteLater()
    for owner in (other.engine, other.pictures, other):
        qtbot.waitUntil(lambda owner=owner: not worker().busy(owner), timeout=20_000)


def test_leaving_with_saving_waits_for_what_is_asked(opened, presses):
    wanted, met = presses
    write(demo("air-grille"), opened.path)
    wanted += ["Save", "Cancel"]
    assert not opened.window.files.may_leave()
    assert opened.document.modified
    wanted += ["Save", "Keep both"]
    assert opened.window.files.may_leave()
    assert not opened.document.modified
    assert len(met) == 4


@pytest.mark.parametrize("how", ["Cancel", "Close without saving", "Save"])
def test_edits_made_while_another_work_is_read_are_asked_about(opened, presses, monkeypatch, tmp_path, how):
    wanted, met = presses
    saved(opened)
    other = tmp_path / "other.lattice"
    write(demo("air-grille"), other)
    read, let = recipe.read_bytes, []

    def slowly(path, *more):
        while not let:
            QTest.qSleep(5)
        return read(path, *more)

    monkeypatch.setattr(recipe, "read_bytes", slowly)
    opened.window.files.open_path(other)
    opened.type_in(opened.row("lattice", "gap").fields[0], "9")
    mine = opened.document.design
    wanted.append(how)
    let.append(True)
    opened.bot.waitUntil(lambda: not opened.window.files.opening and opened.window.files.saving.job is None, timeout=10_000)
    assert len(met) == 1
    assert "Save changes" in met[0]
    shown = opened.window.document.design
    assert shown == (mine if how == "Cancel" else demo("air-grille").design)
    if how == "Save":
        assert open_any(opened.path).work.design == mine


def test_a_copy_found_after_a_bad_end_knows_what_its_file_held(opened):
    opened.window.autosave.flush()
    place = opened.window.autosave.place
    place.let_go()
    (found,), _ = left_behind()
    assert (found.seen, found.own) == (opened.document.seen, opened.path)
    found.place.let_go()
    place.claim()


@pytest.mark.parametrize("what", ["changed", "gone", "read-only", "touched", "saved here"])
def test_what_others_do_to_the_file_is_said_when_it_happens(opened, qtbot, what):
    told = []
    opened.window.file_watch.told.connect(told.append)
    match what:
        case "changed":
            write(demo("air-grille"), opened.path)
        case "gone":
            opened.path.rename(opened.path.with_name("moved.lattice"))
        case "read-only":
            opened.path.chmod(0o444)
        case "touched":
            opened.path.touch()
        case _:
            saved(opened)
    if what in ("touched", "saved here"):
        qtbot.wait(1000)
        assert not told
        return
    qtbot.waitUntil(lambda: bool(told), timeout=5000)
    assert {"changed": "changed by another", "gone": "not there any more", "read-only": "read-only now"}[what] in told[0]
    assert told[0][:20].lower() in opened.studio.facts_line.told.toolTip().lower()
    if what == "changed":
        opened.path.unlink()
        qtbot.waitUntil(lambda: len(told) == 2, timeout=5000)
        assert "not there any more" in told[1]


def test_what_happens_to_other_files_of_its_folder_is_not_looked_into(opened, qtbot, monkeypatch):
    looked = []
    monkeypatch.setattr("under_lattice.ui.workers.file_watch.what_happened", lambda *_: looked.append(1) or "")
    for k in range(4):
        (opened.path.parent / f"other {k}").write_text("")
        qtbot.wait(500)
    assert len(looked) == 1  # the first time, for it was not looked at before
