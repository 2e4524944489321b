"""Many works at once: in their order, in processes, one that fails beside the others, kept versions, rows of values."""

import io
import json
import re

import pytest
from PIL import Image

from under_lattice.command_line.main import main
from under_lattice.files.recipe import open_any
from under_lattice.files.storage import stem_of, write
from under_lattice.library import demo
from under_lattice.library.palettes import PALETTES


def names(folder):
    return sorted(path.name for path in folder.iterdir())


@pytest.mark.parametrize("jobs", ["1", "2"])
def test_one_that_fails_does_not_keep_the_others_from_being_written(jobs, tmp_path, capsys):
    (tmp_path / "broken.lattice").write_text("{")
    write(demo("locker-doors"), tmp_path / "doors.lattice")
    files = [str(tmp_path / "doors.lattice"), str(tmp_path / "broken.lattice"), "demo:air-grille"]
    assert main(["render", *files, "-o", f"{tmp_path / 'out'}/", "--as", "png", "--width", "120", "--jobs", jobs]) == 1
    said = capsys.readouterr()
    assert said.out.splitlines()[:3] == ["doors.png", "broken.png: not written", "air-grille.png"]
    assert "2 of 3 files" in said.out
    assert "broken.png: " in said.err
    assert names(tmp_path / "out") == ["air-grille.png", "doors.png"]
    with Image.open(tmp_path / "out" / "doors.png") as picture:
        assert picture.size[0] == 120


def test_every_kept_version_and_names_that_are_taken(tmp_path):
    work = demo("wash-room-tiles")
    out = tmp_path / "out"
    assert main(["render", "demo:wash-room-tiles", "demo:wash-room-tiles", "-o", f"{out}/", "--as", "svg", "--each", "kept"]) == 0
    stems = sorted(one.name.lower().replace(" ", "-") for one in work.kept)
    assert names(out) == sorted(f"wash-room-tiles-{stem}{again}.svg" for stem in stems for again in ("", "-2"))
    opened = open_any(out / f"wash-room-tiles-{stems[0]}.svg").work.design
    assert opened in [one.design for one in work.kept]


@pytest.mark.parametrize("ending", ["csv", "json"])
def test_a_table_of_values_gives_a_file_for_each_row(ending, tmp_path):
    table = tmp_path / f"sizes.{ending}"
    if ending == "csv":
        table.write_text("name,badges.motif.size,ground.lattice.gap\nsmall,10,\nlarge,20,1 mm\n")
    else:
        table.write_text(json.dumps([{"name": "small", "badges.motif.size": 10}, {"name": "large", "badges.motif.size": 20}]))
    assert main(["render", "demo:locker-doors", "-o", str(tmp_path) + "/out/", "--as", "svg", "--values", str(table)]) == 0
    assert names(tmp_path / "out") == ["locker-doors-large.svg", "locker-doors-small.svg"]
    sizes = [open_any(tmp_path / "out" / f"locker-doors-{name}.svg").work.design.layers for name in ("small", "large")]
    found = [next(layer for layer in layers if layer.handle == "badges").rules[0].size for layers in sizes]
    assert found == [10, 20]


@pytest.mark.parametrize(
    ("order", "said"),
    [
        (["demo:locker-doors", "demo:air-grille", "-o", "a.svg"], "go into a folder"),
        (["demo:locker-doors", "-o", "out/"], "--as says the form"),
        (["demo:locker-doors", "-o", "out/", "--as", "svg", "--jobs", "0"], "--jobs takes"),
        (["demo:locker-doors", "-o", "a.svg", "--as", "png"], "must end in .png"),
        (["demo:locker-doors", "-o", "out/", "--as", "svg", "--values", "none.csv"], "none.csv"),
        (["demo:locker-doors", "-o", "a.svg", "--each", "kept"], "go into a folder"),
    ],
)
def test_what_cannot_be_is_said(order, said, tmp_path, monkeypatch, capsys):
    monkeypatch.chdir(tmp_path)
    assert main(["render", *order]) == 1
    assert said in capsys.readouterr().err


@pytest.mark.parametrize("text", ["", "[]", "{", '{"a": 1}'])
def test_tables_without_rows_say_so(text, tmp_path, capsys):
    (tmp_path / "t.json").write_text(text)
    assert (
        main(["render", "demo:locker-doors", "-o", str(tmp_path) + "/", "--as", "svg", "--values", str(tmp_path / "t.json")]) == 1
    )
    assert "t.json" in capsys.readouterr().err


def test_several_widths_at_once(tmp_path, capsys):
    out = tmp_path / "out"
    order = ["render", "demo:plunge-pool", "demo:air-grille", "-o", f"{out}/", "--as", "png", "--widths", "40,80,40", "--no-recipe"]
    assert main(order) == 0
    sizes = {path.name: Image.open(io.BytesIO(path.read_bytes())).size[0] for path in out.iterdir()}
    assert sizes == {"plunge-pool-40.png": 40, "plunge-pool-80.png": 80, "air-grille-40.png": 40, "air-grille-80.png": 80}
    for widths, form, said in (("40,x", "png", "whole numbers"), ("0", "png", "1 to 100,000 px"), ("40", "svg", "no width in px")):
        assert main(["render", "demo:air-grille", "-o", f"{out}/", "--as", form, "--widths", widths]) == 1
        assert said in capsys.readouterr().err
    assert len([*out.iterdir()]) == 4
    assert main(["render", "demo:air-grille", "-o", str(tmp_path / "a.png"), "--widths", "40"]) == 1
    assert "into a folder" in capsys.readouterr().err


def test_each_palette_gives_a_file_in_its_colours(tmp_path):
    out = tmp_path / "out"
    assert main(["render", "demo:plunge-pool", "-o", f"{out}/", "--as", "svg", "--each", "palette", "--no-recipe"]) == 0
    files = {path.stem: path.read_text() for path in out.iterdir()}
    assert set(files) == {f"plunge-pool-{stem_of(name)}" for name in PALETTES}
    own = set(re.findall(r"#[0-9A-F]{6}", files["plunge-pool-buoy"]))
    assert own <= set(PALETTES["Buoy"])
    assert len(own) > 1
