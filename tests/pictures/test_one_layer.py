"""One layer, or a group, goes out by itself in every form; the live work inside stays whole."""

import io

import numpy as np
import pytest
from PIL import Image

from tests.chains import work_of
from under_lattice.command_line.main import main
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.recipe import open_any
from under_lattice.library import demo
from under_lattice.loop.moment import at_moment
from under_lattice.output import BY_KEY, FORMATS
from under_lattice.output.page import job_of
from under_lattice.output.png import Png
from under_lattice.render.paint import paint
from under_lattice.rules import Polygon
from under_lattice.scene.tree import make_scene, whole_page
from under_lattice.work.edits import replaced, show_layer
from under_lattice.work.several import shown_alone


def png(work, **options):
    chosen, job = job_of(work, Png(width=160, **options))
    pixels = np.asarray(Image.open(io.BytesIO(chosen.write(job))).convert("RGBA"), int)
    pixels[..., :3] = np.rint(pixels[..., :3] * pixels[..., 3:] / 255)  # as the painter has them
    return pixels


INSIDE = (slice(2, -2), slice(2, -2))  # a picture has whole rows at its edge where the painter has a part of one


def painted(design):
    design, evaluator = at_moment(design, 0.0), Evaluator()
    scene = make_scene(design, evaluator.design(design), evaluator)
    return paint(scene, whole_page(scene, 160)).astype(int)


@pytest.mark.parametrize(
    ("name", "layer"),
    [("ceiling-rosette", "beads"), ("lobby-panel", "panes"), ("entrance-floor", "gulls"), ("kelp-curtain", "behind")],
)
def test_a_picture_of_one_layer_is_that_of_the_work_with_it_alone(name, layer):
    work = demo(name)
    assert np.abs(png(work, layer=layer) - painted(shown_alone(work.design, layer)))[INSIDE].max() <= 1
    assert np.abs(png(work) - png(work, layer=layer)).max() > 20


def test_a_hidden_layer_that_is_asked_for_is_seen_and_a_group_takes_its_members_along():
    work = demo("ceiling-rosette")
    hidden = edited(work, design=show_layer(work.design, "beads", True))
    assert np.abs(png(hidden, layer="beads") - png(work, layer="beads")).max() == 0
    own = demo("locker-doors")
    group = own.design.layer("badge")
    assert len(group.members) == 5
    seen = replaced(own.design, "badge", lambda layer: edited(layer, source_only=False))
    members = painted(shown_alone(seen, "badge"))
    assert np.ptp(members[60:100, 60:100], (0, 1)).max() > 100  # it is no empty page
    assert np.abs(png(own, layer="badge") - members)[INSIDE].max() <= 1


@pytest.mark.parametrize("layer", ["Badge", "Gull"])
def test_what_is_only_a_source_is_seen_where_it_is_asked_for(layer):
    work = demo("locker-doors")
    assert work.design.layer("badge").source_only
    seen = png(work, layer=layer, transparent=True)[..., 3]
    assert 10 < (seen > 200).sum() < 160 * 160 / 4  # one badge in the middle of the sheet, or its gull


@pytest.mark.parametrize("ending", ["svg", "png", "pdf"])
def test_the_live_work_inside_stays_whole(tmp_path, ending):
    work = demo("ceiling-rosette")
    chosen, job = job_of(work, BY_KEY[ending](layer="buds"))
    path = tmp_path / f"a.{ending}"
    path.write_bytes(chosen.write(job))
    assert open_any(path).work.design == work.design


@pytest.mark.parametrize("key", [kind.key() for kind in FORMATS if "frames" not in kind.needs])
def test_every_form_takes_one_layer(key):
    work = demo("ceiling-rosette")
    first = BY_KEY[key].first(work.design.sheet)
    sizes = []
    for layer in ("", "beads"):
        options = first.turned("layer", layer)
        options = options.turned("width", 120) if "width" in options.dials() else options
        chosen, job = job_of(work, options)
        assert len(job.scene.layers) == (1 if layer else 4)
        sizes.append(len(chosen.write(job)))
    assert sizes[0] != sizes[1]


def test_a_layer_is_told_by_its_name_and_one_that_is_not_there_says_which_are(tmp_path, capsys):
    work = demo("ceiling-rosette")
    assert (png(work, layer="Beads") == png(work, layer="beads")).all()
    with pytest.raises(InputError, match="no layer is called “Pearls”; there are “Star”, “Buds”"):
        job_of(work, Png(layer="Pearls"))
    twice = edited(work.design, layers=tuple(edited(one, name="Same") for one in work.design.layers))
    with pytest.raises(InputError, match="several layers are called “Same”"):
        job_of(edited(work, design=twice), Png(layer="Same"))
    out = tmp_path / "a.png"
    assert main(["render", "demo:ceiling-rosette", "-o", str(out), "--layer", "Beads", "--width", "160"]) == 0
    with Image.open(out) as picture:
        assert (np.asarray(picture.convert("RGB"), int) == png(work, layer="beads")[..., :3]).all()
    assert main(["render", "demo:ceiling-rosette", "-o", str(out), "--layer", "Pearls"]) == 1
    assert "no layer is called" in capsys.readouterr().err


def test_of_a_work_of_one_layer_the_picture_is_the_same():
    work = work_of(Polygon(size=90.0))
    assert (png(work) == png(work, layer="floor")).all()
