"""Files are written whole or not at all, keep what they are, and are never written over when others changed them."""

import os
import stat
import subprocess
import sys

import pytest

from tests.chains import floor_alone
from under_lattice.core.errors import FileError
from under_lattice.files import saving
from under_lattice.files.recipe import open_any
from under_lattice.files.saving import OthersWrote, Seen, whole_beside, write_atomically
from under_lattice.files.storage import write
from under_lattice.library import demo


def left_beside(path):
    return sorted(one.name for one in path.parent.iterdir() if one.name != path.name)


def mode(path):
    return stat.S_IMODE(path.stat().st_mode)


@pytest.fixture(params=[0o022, 0o077, 0o002])
def umask(request):
    before = os.umask(request.param)
    yield request.param
    os.umask(before)


def test_a_new_file_has_what_the_umask_leaves_and_an_old_one_keeps_its_mode(tmp_path, umask):
    path = tmp_path / "new.lattice"
    write_atomically(path, b"one")
    assert mode(path) == 0o666 & ~umask
    for kept in (0o600, 0o640, 0o664, 0o755):
        path.chmod(kept)
        write_atomically(path, b"two")
        assert (mode(path), path.read_bytes()) == (kept, b"two")
    assert not left_beside(path)


def test_a_symbolic_link_stays_one_and_its_target_is_written(tmp_path):
    (tmp_path / "far").mkdir()
    target, link, second = tmp_path / "far" / "real.lattice", tmp_path / "link.lattice", tmp_path / "second.lattice"
    target.write_bytes(b"old")
    link.symlink_to(target)
    second.symlink_to("link.lattice")
    write_atomically(second, b"new")
    assert link.is_symlink()
    assert second.is_symlink()
    assert target.read_bytes() == b"new"
    link.unlink()
    link.symlink_to(tmp_path / "far" / "yet.lattice")
    write_atomically(link, b"first")
    assert (tmp_path / "far" / "yet.lattice").read_bytes() == b"first"


def test_a_file_with_several_names_keeps_them(tmp_path):
    path, other = tmp_path / "a.lattice", tmp_path / "b.lattice"
    path.write_bytes(b"long old content")
    os.link(path, other)
    write_atomically(path, b"new")
    assert other.read_bytes() == b"new"
    assert path.stat().st_nlink == 2
    assert left_beside(path) == ["b.lattice"]


def test_one_with_several_names_that_was_cut_short_opens_as_it_was_to_be(tmp_path):
    path, other = tmp_path / "a.lattice", tmp_path / "b.lattice"
    write(demo("air-grille"), path)
    os.link(path, other)
    write(floor_alone(), whole_beside(path))
    whole = whole_beside(path).read_bytes()
    path.write_bytes(whole[: len(whole) // 2])
    opened = open_any(path)
    assert opened.work == floor_alone()
    assert opened.seen == Seen.holding(whole[: len(whole) // 2])
    write(opened.work, path, opened.seen)
    assert open_any(other).work == floor_alone()
    assert not whole_beside(path).exists()


@pytest.mark.parametrize("letters", ["n", "ñ", "海"])
@pytest.mark.parametrize("size", [247, 248, 255])
def test_names_as_long_as_a_folder_takes_are_written_and_longer_ones_refused(tmp_path, letters, size):
    stem = (letters * size).encode()[: size - 8].decode("utf-8", "ignore")
    path = tmp_path / f"{stem}.lattice"
    for content in (b"one", b"two"):
        write_atomically(path, content)
        assert path.read_bytes() == content
    os.link(path, tmp_path / "other")
    write_atomically(path, b"three")
    assert (tmp_path / "other").read_bytes() == b"three"
    with pytest.raises(FileError, match="too long a name"):
        write_atomically(tmp_path / f"{'n' * 248}.lattice", b"")


def test_what_killed_writers_left_is_cleared_and_what_others_write_is_not(tmp_path):
    ended = subprocess.Popen([sys.executable, "-c", ""])
    ended.wait()
    dead, running, own = (tmp_path / f".x.lattice.{pid}-0.part" for pid in (ended.pid, os.getppid(), os.getpid()))
    other = tmp_path / ".notes.part"
    for one in (dead, running, own, other):
        one.write_bytes(b"half")
    write_atomically(tmp_path / "x.lattice", b"whole")
    assert left_beside(tmp_path / "x.lattice") == sorted(one.name for one in (running, own, other))


def test_read_only_is_said_and_nothing_is_written(tmp_path):
    path = tmp_path / "x.lattice"
    path.write_bytes(b"old")
    path.chmod(0o444)
    with pytest.raises(FileError, match=r"x\.lattice is read-only"):
        write_atomically(path, b"new")
    assert path.read_bytes() == b"old"
    assert not left_beside(path)


@pytest.mark.parametrize("what", ["a folder", "a pipe"])
def test_what_is_no_plain_file_is_refused(tmp_path, what):
    path = tmp_path / "x.lattice"
    path.mkdir() if what == "a folder" else os.mkfifo(path)
    with pytest.raises(FileError, match="no plain file"):
        write_atomically(path, b"new")


def test_a_file_that_others_changed_is_not_written_over(tmp_path):
    path = tmp_path / "floor.lattice"
    seen = write(floor_alone(), path)
    assert open_any(path).seen == seen
    assert write(floor_alone(), path, seen) == seen
    os.utime(path, (1, 1))
    write(floor_alone(), path, seen)  # touched, not changed
    theirs = write(demo("air-grille"), path)
    with pytest.raises(OthersWrote, match="changed by another") as met:
        write(floor_alone(), path, seen)
    assert not met.value.gone
    assert Seen.of(path) == theirs
    path.unlink()
    with pytest.raises(OthersWrote, match="not there any more") as met:
        write(floor_alone(), path, seen)
    assert met.value.gone
    assert not path.exists()


@pytest.mark.parametrize("call", ["open", "fsync", "replace", "chmod", "write"])
@pytest.mark.parametrize("linked", [False, True])
def test_a_fault_at_any_call_leaves_the_old_file_and_nothing_beside_it(tmp_path, monkeypatch, call, linked):
    path = tmp_path / "x.lattice"
    path.write_bytes(b"old")
    if linked:
        os.link(path, tmp_path / "y.lattice")
    true = getattr(os, call)

    def full(*args, **more):
        if call == "open" and ".part" not in str(args[0]):
            return true(*args, **more)
        raise OSError(28, "No space left on device")

    class Full:
        def __init__(self, file):
            self.file = file

        def __enter__(self):
            return self

        def __exit__(self, *_):
            self.file.close()

        def write(self, _):
            raise OSError(28, "No space left on device")

    if call == "write":
        opened = os.fdopen
        monkeypatch.setattr(saving.os, "fdopen", lambda handle, how: Full(opened(handle, how)))
    else:
        monkeypatch.setattr(saving.os, call, full)
    if linked and call == "chmod":
        write_atomically(path, b"new")  # which is not called then
        return
    with pytest.raises(FileError, match="cannot be written: No space left"):
        write_atomically(path, b"new")
    monkeypatch.undo()
    assert path.read_bytes() == b"old"
    assert left_beside(path) == (["y.lattice"] if linked else [])
