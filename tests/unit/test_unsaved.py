"""Copies of unsaved work on disk: whose they are, what is found again, what is passed over."""

import json
import os
import subprocess
import sys

import pytest

from tests.chains import floor_alone
from under_lattice.core.errors import FileError
from under_lattice.files.unsaved import Place, folder, left_behind, new_place
from under_lattice.library import DEMOS, demo


@pytest.fixture(autouse=True)
def own_state(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))


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
