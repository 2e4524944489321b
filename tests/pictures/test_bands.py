"""Very large pictures: band after band they are the same as the whole, and a stop or a full disk loses nothing."""

import errno
import io
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from tests.pictures.compare import demo_scene
from under_lattice.core.errors import FileError, GivenUp, LimitError
from under_lattice.core.progress import Progress
from under_lattice.files.kept_pictures import Store, kept_folder
from under_lattice.library import demo
from under_lattice.output import bands, png
from under_lattice.output.format import Job
from under_lattice.output.png import Png, write_png

WIDTH = 230
NAMES = ("ceiling-rosette", "foot-bath-print", "indigo-towel", "harbour-window", "carved-ceiling", "lobby-panel")


@pytest.fixture
def small_bands(monkeypatch):
    """Pictures of more than 1000 px are large, and a band has some 20 rows."""
    monkeypatch.setattr(bands, "LARGE", 1000)
    monkeypatch.setattr(bands, "BAND", 20 * WIDTH)


def kept():
    return [*kept_folder().glob("*/*.z")]


def written(name, stop=lambda: False, **options):
    work = demo(name)
    return write_png(demo_scene(name), work.design.sheet, Png(width=WIDTH, recipe=False, **options), work, Progress(stop))


@pytest.mark.parametrize(("name", "clear"), [(name, k % 2 == 1) for k, name in enumerate(NAMES)])
def test_the_picture_is_the_same_in_bands(name, clear, monkeypatch, small_bands):
    in_bands = Image.open(io.BytesIO(written(name, transparent=clear)))
    monkeypatch.undo()
    whole = Image.open(io.BytesIO(written(name, transparent=clear)))
    assert in_bands.size == whole.size
    assert in_bands.info["dpi"] == pytest.approx(whole.info["dpi"], abs=0.03)
    assert in_bands.info["srgb"] == 0
    apart = np.abs(np.asarray(in_bands.convert("RGBA"), int) - np.asarray(whole.convert("RGBA"), int))
    assert apart.max() == 0
    assert not kept()


def test_a_stop_keeps_what_is_painted_and_the_next_goes_on(small_bands, monkeypatch):
    whole, painted, keep = written("ceiling-rosette"), [], Store.keep
    monkeypatch.setattr(Store, "keep", lambda *told: painted.append(told[1]) or keep(*told))
    with pytest.raises(GivenUp):
        written("ceiling-rosette", stop=lambda: len(painted) == 3)
    assert len(kept()) == 3
    assert written("ceiling-rosette") == whole
    assert painted == sorted(set(painted))  # none was painted twice
    assert not kept()


def test_a_full_disk_says_so_and_keeps_what_was_there(small_bands, monkeypatch):
    whole = written("ceiling-rosette")

    replace = Path.replace

    def full(path, target):
        if len(kept()) == 2:
            raise OSError(errno.ENOSPC, "No space left on device")
        return replace(path, target)

    with monkeypatch.context() as patch:
        patch.setattr(Path, "replace", full)
        with pytest.raises(FileError, match="no room for band 3 of the picture"):
            written("ceiling-rosette")
    assert len(kept()) == 2
    assert written("ceiling-rosette") == whole


def test_a_broken_band_is_painted_anew(small_bands, monkeypatch):
    whole = written("ceiling-rosette")
    with pytest.raises(GivenUp):
        written("ceiling-rosette", stop=lambda: len(kept()) == 3)
    assert len(kept()) == 3
    for path in kept():
        path.write_bytes(path.read_bytes()[:-9])
    assert written("ceiling-rosette") == whole


def test_other_works_do_not_take_each_other_s_bands(small_bands):
    with pytest.raises(GivenUp):
        written("ceiling-rosette", stop=lambda: len(kept()) == 3)
    clear = Image.open(io.BytesIO(written("ceiling-rosette", transparent=True)))
    assert np.asarray(clear).shape[2] == 4
    assert written("air-grille")[:8] == b"\x89PNG\r\n\x1a\n"


def test_what_is_too_large_even_so_is_refused_at_once():
    work = demo("ceiling-rosette")
    job = Job(demo_scene("ceiling-rosette"), work.design.sheet, work)
    with pytest.raises(LimitError, match="at most 10,000,000,000 px"):
        next(bands.bands(job, 100_000, 100_001, "#ffffff"))


def test_the_page_says_how_it_is_painted():
    sheet = demo("ceiling-rosette").design.sheet
    assert "painted in bands" in png.Png(width=20_000).size_words(sheet)
    assert "bands" not in png.Png(width=2000).size_words(sheet)
