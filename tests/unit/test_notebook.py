"""Works in a script: the page's examples, dials turned as on the command line, files, deals and strips, what is refused."""

import doctest
import io
from typing import Any

import pytest
from PIL import Image

import under_lattice
from under_lattice import notebook
from under_lattice.core.errors import LatticeError


def test_the_examples_of_the_page_hold():
    tried = doctest.testmod(notebook)
    assert tried.attempted >= 5
    assert not tried.failed


def test_a_work_is_turned_and_the_one_before_stays():
    work = under_lattice.demo("locker-doors")
    other = work.with_({"badges.motif.size": 20, "ground.lattice.gap": "1 mm"})
    assert other.facts()["badges"] != work.facts()["badges"]
    assert work.work == under_lattice.demo("locker-doors").work
    with pytest.raises(LatticeError, match="sise"):
        work.with_({"badges.motif.sise": 20})


def test_files_open_again_and_options_are_those_of_the_formats(tmp_path):
    work: Any = under_lattice.demo("locker-tiles")
    for name, options in (("a.png", {"width": 200, "part": "the cell"}), ("a.pdf", {"bleed": 3.0}), ("a.svg", {})):
        assert under_lattice.open_work(work.render(tmp_path / name, **options)).work.design == work.work.design
    assert under_lattice.open_work(work.save(tmp_path / "a.lattice")).work == work.work
    assert b"<path" in work.render(tmp_path / "cut.svg", form="cutter", kerf=0.2).read_bytes()
    for name, wrong in (("a.xyz", {}), ("a.png", {"depth": 3}), ("a.png", {"width": -1}), ("cut.svg", {"form": "nothing"})):
        with pytest.raises(LatticeError):
            work.render(tmp_path / name, **wrong)


def test_a_deal_is_the_same_for_the_same_seed_and_a_strip_is_a_picture():
    work = under_lattice.demo("locker-doors")
    dealt = work.deal(seed=5, reach=30.0, count=3)
    assert [one.work for one in dealt] == [one.work for one in work.deal(seed=5, reach=30.0, count=3)]
    assert len(dealt) == 3
    data = work.strip(across="badges.motif.size=10..20/3", width=80)
    strip = Image.open(io.BytesIO(data))
    assert strip.width > 240
    with pytest.raises(LatticeError):
        work.deal(reach=300)


def test_a_work_shows_itself():
    work = under_lattice.demo("air-grille")
    assert repr(work) == "<Air grille, 260 x 300 mm>"
    assert Image.open(io.BytesIO(work._repr_png_())).width == notebook.SHOWN_PX
    with pytest.raises(LatticeError, match="there is no demo"):
        under_lattice.demo("nothing")
