"""The command without a window: orders, answers and exit codes."""

import io
import json
import os
import subprocess
import sys

import numpy as np
import pytest
import resvg_py
from PIL import Image

from tests.chains import floor_alone
from under_lattice.command_line.main import main
from under_lattice.core.errors import InputError
from under_lattice.files.recipe import open_any
from under_lattice.files.storage import write
from under_lattice.library import demo
from under_lattice.many.settings import apply_setting


@pytest.fixture
def floor(tmp_path):
    path = tmp_path / "floor.lattice"
    write(floor_alone(), path)
    return path


def test_render_and_set(floor, tmp_path, capsys):
    out = tmp_path / "out.svg"
    assert main(["render", str(floor), "-o", str(out), "--set", "floor.lattice.gap=1.8"]) == 0
    assert main(["facts", str(out), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)["layers"]["floor"]
    assert 0 < told["gap"] < 1.8  # of the pushed outlines; their bodies are 1.8 apart
    assert told["gap_words"].startswith("gap ")
    assert " … " in told["gap_words"]
    assert told["pitch"] == pytest.approx(37.8)
    picture = tmp_path / "out.png"
    assert main(["render", str(floor), "-o", str(picture), "--width", "90", "--transparent"]) == 0
    assert picture.read_bytes().startswith(b"\x89PNG")


def test_that_a_changed_export_is_drawn_by_its_recipe_is_said(floor, tmp_path, capsys):
    out, again = tmp_path / "out.svg", tmp_path / "again.svg"
    assert main(["render", str(floor), "-o", str(out)]) == 0
    assert main(["render", str(out), "-o", str(again)]) == 0
    assert "changed" not in capsys.readouterr().err
    out.write_bytes(out.read_bytes().replace(b"</svg>", b'<rect width="9" height="9"/></svg>'))
    assert main(["render", str(out), "-o", str(tmp_path / "third.svg")]) == 0
    assert "out.svg was changed after it was exported; what is read is the recipe inside it" in capsys.readouterr().err
    assert (tmp_path / "third.svg").read_bytes() == again.read_bytes()
    assert main(["render", str(out), "--as-drawn", "--set", "floor.lattice.gap=1", "-o", str(tmp_path / "no.svg")]) == 1
    assert main(["render", "demo:rope-mat", "--as-drawn", "-o", str(tmp_path / "no.svg")]) == 1


@pytest.mark.parametrize("name", ["rope-mat", "wash-room-tiles", "tide-rings"])
def test_a_drawing_is_drawn_as_it_is_where_it_is(name, tmp_path, capsys):
    out, again = tmp_path / "out.svg", tmp_path / "again.svg"
    assert main(["render", f"demo:{name}", "-o", str(out)]) == 0
    edited = out.read_bytes().replace(b"</svg>", b'<circle cx="40" cy="60" r="25" fill="#FF00FF"/></svg>')
    out.write_bytes(edited)
    assert main(["render", str(out), "--as-drawn", "-o", str(again)]) == 0
    said = capsys.readouterr().err
    assert "changed" not in said
    theirs, ours = (
        np.asarray(Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(one.decode(), width=600, dpi=96.0)))).convert("RGB")).astype(
            int
        )
        for one in (edited, again.read_bytes())
    )
    assert theirs.shape == ours.shape
    assert np.abs(theirs - ours).mean() < 1.5
    assert (np.abs(theirs - ours).max(-1) > 60).mean() < 0.01


def test_facts_in_words(capsys):
    assert main(["facts", "demo:plunge-pool"]) == 0
    told = capsys.readouterr().out
    assert "95 in all" in told
    assert "cell kind rectangle, width 72, height 36" in told


def test_rules_in_words_and_json(capsys):
    assert main(["rules"]) == 0
    assert "push-edges: Bend the edges" in capsys.readouterr().out
    assert main(["rules", "--json"]) == 0
    rules = {rule["kind"]: rule for rule in json.loads(capsys.readouterr().out)}
    gap = next(dial for dial in rules["lattice"]["dials"] if dial["name"] == "gap")
    assert gap["unit"] == "unit of the work"
    assert gap["least"] < 0


@pytest.mark.parametrize(
    ("arguments", "told"),
    [
        (["facts", "nowhere.lattice"], "nowhere.lattice cannot be read"),
        (["facts", "demo:nothing"], "there is no demo"),
        (["render", "demo:air-grille", "-o", "a.odt"], "must end in .svg or .pdf"),
        (["render", "demo:air-grille", "-o", "/no/such/folder/a.svg"], "cannot be written"),
        (["render", "demo:air-grille", "-o", "a.png", "--width", "99999"], "too large"),
        (["render", "demo:air-grille", "-o", "a.png", "--width", "-3"], "--width"),
        (["facts", "demo:air-grille", "--set", "slots.lattice=3"], "LAYER.RULE.NUMBER"),
    ],
)
def test_refusals_exit_with_1_and_say_why(arguments, told, capsys):
    assert main(arguments) == 1
    assert told in capsys.readouterr().err


def test_wrong_calls_exit_with_2(capsys):
    with pytest.raises(SystemExit) as left:
        main(["render"])
    assert left.value.code == 2
    assert "usage" in capsys.readouterr().err


SETTINGS = {
    "floor.lattice.gap=1 cm": ("lattice", "gap", 10.0),
    "floor.lattice.form=squares": ("lattice", "form", "squares"),
    "floor.lattice.columns=7": ("lattice", "columns", 7),
    "floor.push-edges.amount=2": ("push-edges", "amount", 2.0),
    "floor.ink.palette=#111111, #222222": ("ink", "palette", ("#111111", "#222222")),
    "floor.ink.of=lattice": ("ink", "of", "floor-lattice"),
    "floor.ink.of=nearest": ("ink", "of", ""),
    "floor.layer.opacity=50 %": ("layer", "opacity", 50.0),
    "floor.ink.stroke_colour=none": ("ink", "stroke_colour", ""),
}


@pytest.mark.parametrize("order", SETTINGS)
def test_every_kind_of_dial_can_be_set(order):
    handle, name, want = SETTINGS[order]
    layer = apply_setting(floor_alone().design, order).layers[0]
    rule = next(rule for rule in (*layer.rules, layer.end) if rule.handle == handle)
    assert getattr(rule, name) == want


def test_pivots_and_ends_of_varied_numbers():
    layer = apply_setting(floor_alone().design, "floor.lattice.pivot=motif corner 2").layers[0]
    assert layer.rules[-1].pivot.spot == "motif corner 2"
    layer = apply_setting(floor_alone().design, "floor.push-edges.amount.end=3 mm").layers[0]
    assert (layer.rules[3].amount.start, layer.rules[3].amount.end) == (0.0, 3.0)


WRONG = {
    "wall.lattice.gap=1": "there is no layer",
    "floor.spiral.gap=1": "there is no rule",
    "floor.lattice.hole=1": "there is no number",
    "floor.lattice.gap=wide": "only numbers",
    "floor.lattice.columns=1.5": "whole number",
    "floor.lattice.form=stars": "is not one of: hexagons on points, hexagons on flats",
    "floor.lattice.gap.end=1": "does not vary",
    "floor.ink.of=split": "is not one of",
    "floor.lattice.pivot=moon": "not a spot",
    "floor.ink.palette=reddish": "not a colour",
    "floor.motif.sides=2": "from 3 to 120",
}


@pytest.mark.parametrize(("order", "told"), WRONG.items())
def test_wrong_settings_say_what_there_is(order, told):
    with pytest.raises(InputError, match=told):
        apply_setting(floor_alone().design, order)


def test_no_display_is_said_and_the_orders_work_without_one(tmp_path):
    bare = {key: value for key, value in os.environ.items() if key not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    command = [sys.executable, "-m", "under_lattice"]
    done = subprocess.run(command, env=bare, capture_output=True, text=True, check=False)
    assert done.returncode == 1
    assert "no display" in done.stderr
    out = tmp_path / "a.svg"
    assert subprocess.run([*command, "render", "demo:rope-mat", "-o", out], env=bare, check=False).returncode == 0
    assert out.stat().st_size > 10_000


def test_a_formula_is_set_from_the_command_line(tmp_path):
    out = tmp_path / "out.svg"
    order = "seeds.seed-head.size== 40 + 60 * u"
    assert main(["render", "demo:seed-clock", "-o", str(out), "--set", order]) == 0
    size = open_any(out).work.design.chain("seeds").rules[2].size
    assert (size.formula, size.start) == ("40 + 60 * u", 40.0)
    assert size.rule == "seeds-seed-head"


@pytest.mark.parametrize(
    ("order", "said"),
    [("seeds.seed-head.size== wibble", "is not known here"), ("seeds.motif.turn== k", "cannot follow a formula")],
)
def test_a_formula_that_cannot_be_is_refused_in_words(order, said, capsys, tmp_path):
    assert main(["render", "demo:seed-clock", "-o", str(tmp_path / "out.svg"), "--set", order]) == 1
    assert said in capsys.readouterr().err
    assert not (tmp_path / "out.svg").exists()


def test_new_kinds_of_dials_are_set_by_orders():
    design = demo("locker-doors").design
    for order in ("word.motif.text=gull", "word.motif.font=Clear Sans", "shell.motif.drawing=12/21", "badges.motif.layer=rim"):
        design = apply_setting(design, order)
    assert design.chain("word").rules[0].text == "gull"
    assert design.chain("badges").rules[0].layer == "rim"
    assert apply_setting(design, "badges.motif.layer=badge").chain("badges").rules[0].layer == "badge"
    with pytest.raises(InputError, match="other layer than badges"):
        apply_setting(design, "badges.motif.layer=badges")
    with pytest.raises(InputError, match="row 2"):
        apply_setting(design, "shell.motif.drawing=12/2")


def test_a_choice_is_read_as_it_is_said_on_screen(capsys, tmp_path):
    path = tmp_path / "floor.svg"
    order = [
        "render",
        "demo:entrance-floor",
        "-o",
        str(path),
        "--set",
        "floor.lattice.spacing=by pitch",
        "--set",
        "floor.lattice.pitch=50",
    ]
    assert main(order) == 0
    assert open_any(path).work.design.layer("floor").rules[-1].spacing == "free"


LOADED = """
import sys
from under_lattice.command_line.begin import make_ready
make_ready()
assert "under_lattice.library" in sys.modules
assert "PySide6" not in sys.modules
from under_lattice.library import demo
from under_lattice.ui.window.application import make_application
from under_lattice.ui.window.window import Window
app = make_application()
window = Window()
window.show_work(demo("entrance-floor"))
window.show()
window.engine.painted.connect(lambda answer: app.quit())
app.exec()
print([name for name in sys.modules if name.startswith(("under_lattice.output", "under_lattice.command_line.main", "av", "ezdxf"))])
sys.stdout.flush()
window.document = None
window.close()
"""


def test_the_window_stands_without_what_writes_files():
    there = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run([sys.executable, "-P", "-c", LOADED], env=there, capture_output=True, text=True, timeout=120)
    assert done.stdout == "[]\n", done.stderr


def test_an_order_loads_no_window(tmp_path):
    order = "import sys; from under_lattice.command_line.begin import main; main(['facts', 'demo:entrance-floor'])"
    code = f"{order}; sys.exit(any(name.startswith(('PySide6', 'under_lattice.ui')) for name in sys.modules))"
    done = subprocess.run([sys.executable, "-P", "-c", code], capture_output=True, text=True, timeout=120)
    assert done.returncode == 0
    assert "in all" in done.stdout
