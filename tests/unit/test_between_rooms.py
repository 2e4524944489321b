"""Faults that lay between the rooms: what one said another did not hear."""

import json
import threading

import numpy as np
import pytest

from tests.chains import SHEET, evaluated, work_of
from under_lattice.command_line.main import main
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.cache import Cache
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.storage import from_text, to_text, write
from under_lattice.library.layers import chain
from under_lattice.pattern.known import Known
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.lettering import Lettering
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.rectangle import Rectangle
from under_lattice.rules.motifs.ring import Ring
from under_lattice.rules.motifs.star import Star
from under_lattice.rules.paints.ink import Ink
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.scene.tree import leaves, make_scene
from under_lattice.vary.numbers import Varied
from under_lattice.work.layers import Group
from under_lattice.work.model import Design, Work

WARNED = {
    "rings and a rule as cure": (Ellipse(width=30.0), Rosette(count=14, radius=250.0)),
    "doubles": (Ellipse(width=30.0), Progression(count=19, turn=20.0)),
    "a choice as cure": (Polygon(size=40.0), Lattice(spacing="free", pitch=37.0)),
}


@pytest.mark.parametrize("name", list(WARNED))
def test_facts_as_json_tell_warnings_with_outlines_and_cures(name, tmp_path, capsys):
    write(work_of(*WARNED[name], Ink()), tmp_path / "a.lattice")
    assert main(["facts", str(tmp_path / "a.lattice"), "--json"]) == 0
    warnings = json.loads(capsys.readouterr().out)["layers"]["floor"]["warnings"]
    assert warnings
    assert all(set(warn) == {"sentence", "rule", "cure", "rings"} for warn in warnings)
    if name == "rings and a rule as cure":
        assert any(warn["rings"] and warn["cure"] and warn["cure"]["value"]["kind"] == "leave-out" for warn in warnings)


@pytest.mark.parametrize("kind", [Rectangle, Ring, Star, Ellipse])
def test_a_measure_moves_over_the_loop_on_every_motif(kind):
    dial = next(name for name, one in kind.dials().items() if one.kind == "length" and one.vary)
    rule = kind().model_copy(update={dial: Varied(rule="", channel="loop", start=20.0, end=20.0, midway=(80.0, 80.0))})
    design = Design(sheet=SHEET, layers=(chain("Floor", rule, Lattice(spacing="free", pitch=100.0)),))
    reach = []
    for time in (0.0, 0.25, 0.5, 1.0):
        evaluator = Evaluator()
        result = evaluator.design(design, time=time)["floor"]
        reach.append(float(np.ptp(evaluator.marks(result.last.stage, result.known).families[0].points[0], 0).max()))
    assert reach[0] < reach[1] < reach[2]
    assert reach[3] == pytest.approx(reach[0])


def test_layers_in_groups_are_seen_where_a_scene_is_flattened():
    inner = Group(id="i", handle="i", name="I", layers=(chain("Tiles", Polygon(), Lattice(), Ink()),))
    outer = Group(id="o", handle="o", name="O", layers=(inner,))
    design = Design(sheet=SHEET, layers=(outer, chain("Ground", Polygon(size=90.0), Ink())))
    evaluator = Evaluator()
    scene = make_scene(design, evaluator.design(design), evaluator)
    assert [one.layer for one in leaves(scene.layers)] == ["ground", "tiles"]


def test_render_refuses_what_could_not_act_unless_told_to_be_lenient(tmp_path, capsys):
    missing = chain("Words", Lettering(font="No such font at all"), Ink())
    work = Work(design=Design(name="Sign", sheet=SHEET, layers=(missing, chain("Ground", Polygon(), Ink()))))
    write(work, tmp_path / "sign.lattice")
    out = tmp_path / "sign.svg"
    order = ["render", str(tmp_path / "sign.lattice"), "-o", str(out)]
    assert main(order) == 1
    told = capsys.readouterr().err
    assert "Words, Motif" in told
    assert "No such font at all" in told
    assert not out.exists()
    assert main([*order, "--lenient"]) == 0
    assert "Words, Motif" in capsys.readouterr().err
    assert out.exists()
    hidden = edited(work.design, layers=(edited(missing, hidden=True), work.design.layers[1]))
    write(Work(design=hidden), tmp_path / "sign.lattice")
    assert main(order) == 0
    assert capsys.readouterr().err == ""


def test_whether_the_grid_is_seen_is_no_part_of_a_work():
    data = json.loads(to_text(work_of(Polygon())))
    data["version"] = 1
    data["design"]["sheet"]["grid"]["shown"] = True
    assert "shown" not in to_text(from_text(json.dumps(data)))


def test_a_chain_that_is_refused_keeps_its_other_problems():
    result = evaluated(Lettering(font="No such font at all"), Lattice())
    assert "No such font" in result.problems[0].sentence


def test_comparing_what_was_read_may_itself_ask_the_cache():
    """How light a picture is comes from the cache too; asked for while an entry is compared, nothing waits for itself."""
    cache = Cache()

    class Asking(dict[str, float]):
        def get(self, key, default=None):
            return cache.get(("brightness", key), (), Known(), lambda _: 0.5)

    def made(watched):
        return watched.pictures["a"]

    known = Known(pictures=Asking(a=0.5))
    done = []

    def ask():
        done.extend(cache.get("key", (), known, made) for _ in range(2))

    worker = threading.Thread(target=ask, daemon=True)
    worker.start()
    worker.join(10)
    assert done == [0.5, 0.5]
