"""Copies of unsaved work on disk: whose they are, what is found again, what is passed over."""

import json
import os
import subprocess
import sys

import pytest

from tests.chains import floor_alone
from under_lattice.core.errors import FileError
from under_lattice.files import unsaved
from under_lattice.files.saving import Seen
from under_lattice.files.unsaved import Place, folder, left_behind, new_place
from under_lattice.library import DEMOS, demo


@pytest.fixture(autouse=True)
def own_state(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    monkeypatch.setattr(unsaved, "SPARE", tmp_path)


def test_a_copy_that_is_held_is_no_ones_else(tmp_path):
    mine, other = new_place(), new_place()
    mine.write(floor_alone(), tmp_path / "floor.lattice", b"picture")
    other.write(demo("festival-poster"))
    assert left_behind() == ([], [])
    other.let_go()
    (found,), problems = left_behind()
    assert not problems
    assert found.work == demo("festival-poster")
    assert found.own is None
    assert left_behind() == ([], [])  # held by whom it is offered to
    found.place.clear()
    mine.let_go()
    (found,), _ = left_behind()
    assert (found.work, found.own, found.picture) == (floor_alone(), tmp_path / "floor.lattice", b"picture")
    found.place.clear()
    assert not list(folder().iterdir())


def test_every_demo_work_comes_back_as_it_was():
    for name in DEMOS:
        place = new_place()
        place.write(demo(name))
        place.let_go()
        (found,), problems = left_behind()
        assert found.work == demo(name)
        assert not problems
        found.place.clear()


def test_a_process_that_is_killed_leaves_its_copy():
    code = (
        "import os, signal\nfrom tests.chains import floor_alone\nfrom under_lattice.files.unsaved import new_place\n"
        "place = new_place()\nplace.write(floor_alone())\nos.kill(os.getpid(), signal.SIGKILL)\n"
    )
    ended = subprocess.run([sys.executable, "-c", code], env=os.environ | {"PYTHONPATH": os.getcwd()}, check=False)
    assert ended.returncode == -9
    (found,), _ = left_behind()
    assert found.work == floor_alone()
    found.place.clear()


def test_pictures_are_written_once_and_come_back():
    work = next(work for work in map(demo, DEMOS) if work.design.pictures)
    place = new_place()
    place.write(work)
    (stored,) = folder().glob("*.picture")
    stored.touch()
    before = stored.stat().st_mtime_ns
    place.write(work)
    assert stored.stat().st_mtime_ns == before
    place.let_go()
    (found,), _ = left_behind()
    assert found.work == work
    found.place.let_go()
    stored.unlink()
    assert left_behind() == ([], [f"{place.path.name} lacks a picture"])


@pytest.mark.parametrize(
    "text",
    [
        "",
        "[]",
        "{" * 2000,
        json.dumps({"format": "under-lattice-unsaved", "version": 99}),
        json.dumps({"format": "under-lattice-unsaved", "version": 1}),
        json.dumps({"format": "under-lattice-unsaved", "version": 1, "at": "noon", "picture": "¤", "work": {"format": "x"}}),
    ],
)
def test_a_broken_copy_is_told_and_left_where_it_is(text):
    good = new_place()
    good.write(floor_alone())
    good.let_go()
    broken = folder() / "broken.unsaved"
    broken.write_text(text, encoding="utf-8")
    found, problems = left_behind()
    assert [one.work for one in found] == [floor_alone()]
    assert "broken.unsaved" in problems[0]
    assert broken.exists()
    found[0].place.clear()


def test_an_unknown_time_does_not_hide_a_copy():
    place = new_place()
    place.write(floor_alone())
    data = json.loads(place.path.read_text())
    place.path.write_text(json.dumps(data | {"at": "noon"}))
    place.let_go()
    (found,), _ = left_behind()
    assert found.at.year == 1970
    found.place.clear()


def test_a_folder_that_cannot_be_written_is_refused(tmp_path):
    (tmp_path / "state").mkdir()
    (tmp_path / "state" / "under-lattice").write_text("a file where the folder should be")
    with pytest.raises(FileError, match="cannot be written"):
        new_place().write(floor_alone())
    assert left_behind() == ([], [])
    Place(tmp_path / "nowhere.unsaved").clear()  # nothing held, nothing removed


def test_what_its_file_held_is_kept_with_a_copy(tmp_path):
    place = new_place()
    place.write(floor_alone(), tmp_path / "floor.lattice", seen=Seen("abc"))
    place.let_go()
    (found,), _ = left_behind()
    assert found.seen == Seen("abc")
    found.place.clear()


@pytest.mark.parametrize("written_before", [True, False])
def test_a_copy_goes_elsewhere_when_its_folder_is_full_and_is_found_there(tmp_path, monkeypatch, written_before):
    place = new_place()
    work = next(work for work in map(demo, DEMOS) if work.design.pictures)
    if written_before:
        place.write(floor_alone())
    place.write_elsewhere(work, tmp_path / "own.lattice")
    assert place.path.parent == tmp_path / f"under-lattice-{os.getuid()}"
    place.write(work)  # from now on
    assert left_behind() == ([], [])
    place.let_go()
    (found,), problems = left_behind()
    assert (found.work, problems) == (work, [])
    found.place.clear()
    assert not list(folder().glob("*"))
    assert not list(place.path.parent.iterdir())
    with pytest.raises(FileError, match="no other folder"):
        place.write_elsewhere(work)


@pytest.mark.parametrize("how", ["a link", "of others", "a file"])
def test_a_spare_folder_that_is_not_ones_own_is_not_used(tmp_path, how):
    spare = tmp_path / f"under-lattice-{os.getuid()}"
    match how:
        case "a link":
            (tmp_path / "far").mkdir()
            spare.symlink_to(tmp_path / "far")
        case "of others":
            spare.mkdir(mode=0o755)
        case _:
            spare.write_text("")
    with pytest.raises(FileError, match="not yours alone"):
        new_place().write_elsewhere(floor_alone())
    assert left_behind() == ([], [])
