"""Plates: laid on each other in their inks they are the work, as drawings by a reader that is not ours and as pictures."""

import io
import re
import zipfile

import numpy as np
import pytest
import resvg_py
from PIL import Image

from tests.chains import work_of
from under_lattice.core.errors import InputError
from under_lattice.library import demo
from under_lattice.output.page import job_of
from under_lattice.output.png import Png
from under_lattice.output.separations import Plates
from under_lattice.rules import Ellipse, Ink, Lattice, Polygon, Progression, Rectangle
from under_lattice.work.model import Sheet

WIDE = 300
TWO = Ink(colours="in turn", palette=("#B5452C", "#2C6AB5"))


def written(work, **options):
    chosen, job = job_of(work, Plates(**options))
    with zipfile.ZipFile(io.BytesIO(chosen.write(job))) as packed:
        return {name: packed.read(name) for name in packed.namelist()}


def covered(name, data):
    """How much of each pixel a plate covers (H, W)."""
    if name.endswith(".svg"):
        data = bytes(resvg_py.svg_to_bytes(svg_string=data.decode(), width=WIDE, background="#FFFFFF", dpi=96.0))
    with Image.open(io.BytesIO(data)) as picture:
        return 1 - np.asarray(picture.convert("L"), float) / 255


def laid(files):
    """All plates in their inks on white paper: with knocked out inks each pixel is shared among them."""
    shares = {name: covered(name, data) for name, data in files.items()}
    out = np.full((*next(iter(shares.values())).shape, 3), 255.0)
    for name, share in shares.items():
        colour = [int(re.search(r"-([0-9A-F]{6})\.", name)[1][k : k + 2], 16) for k in (0, 2, 4)]
        out += share[..., None] * (np.array(colour) - 255.0)
    return out


def as_painted(work, wide):
    chosen, job = job_of(work, Png(width=wide))
    with Image.open(io.BytesIO(chosen.write(job))) as picture:
        return np.asarray(picture.convert("RGB"), float)


@pytest.mark.parametrize("name", ["plunge-pool", "tide-rings", "ceiling-rosette"])
@pytest.mark.parametrize("drawn", ["SVG", "PNG"])
def test_plates_laid_on_each_other_are_the_work(name, drawn):
    work = demo(name)
    dpi = WIDE * 25.4 / work.design.sheet.width
    files = written(work, drawn=drawn, targets=False, density=dpi)
    assert len(files) > 1
    found = laid(files)
    want = as_painted(work, found.shape[1])
    assert found.shape == want.shape
    away = np.abs(found - want).max(-1)
    assert away.mean() < 1.5
    assert (away > 60).mean() < 0.01


@pytest.mark.parametrize("drawn", ["SVG", "PNG"])
def test_registration_marks_lie_on_each_other_beside_the_page(drawn):
    work = work_of(Polygon(size=30.0), TWO, Lattice(gap=8.0), sheet=Sheet(width=120, height=90, background="#F4EFE4"))
    files = written(work, drawn=drawn, density=120.0)
    assert [name[:3] for name in files] == ["01-", "02-", "03-"]  # the ground is an ink too
    plain = written(work, drawn=drawn, density=120.0, transparent=True)
    assert len(plain) == 2
    beside = []
    for name, data in files.items():
        share = covered(name, data)
        px = share.shape[1] / 136  # eight mm on both sides
        assert share.shape[0] == pytest.approx(106 * px, abs=2)
        share[round(8 * px) - 1 : round(98 * px) + 1, round(8 * px) - 1 : round(128 * px) + 1] = 0
        share[round(98 * px) :, : round(50 * px)] = 0  # its name
        assert share.sum() > 10
        beside.append(share)
    assert max(np.abs(one - beside[0]).max() for one in beside) == 0


def test_inks_over_each_other_and_trap_cover_more():
    work = work_of(Ellipse(width=40.0), Progression(count=2, distance=20.0), TWO, sheet=Sheet(width=100, height=80, background=""))
    sums = {}
    for words, options in (("knock", {}), ("over", {"prints": "overprint"}), ("trap", {"trap": 1.0})):
        files = written(work, targets=False, **options)
        sums[words] = [covered(name, data).sum() * (100 / WIDE) ** 2 for name, data in files.items()]
    lens = 2 * 20**2 * (np.arccos(0.5) - 0.5 * np.sqrt(0.75))
    disc = np.pi * 20**2
    assert sorted(sums["knock"]) == pytest.approx([disc - lens, disc], rel=0.01)
    assert sums["over"] == pytest.approx([disc, disc], rel=0.01)
    assert sum(sums["trap"]) > sum(sums["knock"]) + 20


def test_the_same_work_gives_the_same_bytes_and_nothing_says_so():
    work = demo("locker-tiles")
    first = job_of(work, Plates())
    assert first[0].write(first[1]) == first[0].write(first[1])
    nothing = work_of(Rectangle(width=10.0), Ink(colours="one colour", palette=("#00000000",)), sheet=Sheet(background=""))
    with pytest.raises(InputError, match="nothing to print"):
        written(nothing)
