"""Films read back by other programs: as many pictures, as long, as large and as painted as was asked for."""

import io
import re
import zipfile
from pathlib import Path
from xml.etree import ElementTree

import av
import numpy as np
import pytest
from PIL import Image

from under_lattice.command_line.main import main
from under_lattice.core.errors import GivenUp, InputError, LatticeError
from under_lattice.core.progress import Progress
from under_lattice.declare.dials import LayerChoice
from under_lattice.declare.frozen import edited
from under_lattice.declare.option_dials import Switch
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.kept_pictures import kept_folder
from under_lattice.files.storage import write
from under_lattice.frames.closing import closing_of, loop_closes
from under_lattice.frames.frames import Frames
from under_lattice.library import demo
from under_lattice.library.moving import MOVING
from under_lattice.loop.hanging import begin_motion, hang
from under_lattice.loop.moment import at_moment
from under_lattice.output import BY_KEY, FORMATS
from under_lattice.output.film import Webm, moving_svg
from under_lattice.output.page import job_of
from under_lattice.output.svg import Svg, write_svg
from under_lattice.scene.tree import make_scene
from under_lattice.vary.motion import Place
from under_lattice.work.model import Loop, Work

FILMS = [kind for kind in FORMATS if "film" in kind.purposes]
# from the numbers films keep, of the narrow range, to red, green and blue: Rec. ITU-R BT.709-6
BACK = np.linalg.inv(
    np.array([(0.2126, 0.7152, 0.0722), (-0.114572, -0.385428, 0.5), (0.5, -0.454153, -0.045847)])
    * (np.array([[219], [224], [224]]) / 255)
)


def clock(seconds=0.4, rate=25, **loop):
    design = edited(demo("seed-clock").design, motions=())
    hands = next(one for one in design.chains() if one.handle == "hands")
    design = begin_motion(design, Place(layer=hands.id, rule=hands.end.id, dial="place_turn"), "whole turn")
    return Work(design=edited(design, loop=Loop(seconds=seconds, rate=rate, **loop)))


def written(work, key, progress=None, **options):
    chosen, job = job_of(work, BY_KEY[key](**options), progress or Progress())
    return chosen.write(job)


def view_of(work, wide):
    film = Webm(width=wide)
    return film.order(job_of(work, film)[1]).view


def painted(work, wide, time):
    frames = Frames(work.design, view_of(work, wide))
    return frames.picture(time)[..., :3].astype(float)


def decoded(data):
    with av.open(io.BytesIO(data)) as film:
        return film.duration / 1e6, float(film.streams.video[0].average_rate), list(film.decode(video=0))


def rgb_of(frame):
    """Red, green and blue of a decoded picture, by the matrix of the standard."""
    planes = []
    for plane in frame.planes:
        rows = np.frombuffer(bytes(plane), np.uint8).reshape(plane.height, plane.line_size)[:, : plane.width].astype(float)
        by = frame.height // plane.height
        planes.append(rows.repeat(by, 0).repeat(by, 1))
    return (np.stack(planes, -1) - [16, 128, 128]) @ BACK.T


def test_ten_seconds_at_25_are_250_pictures():
    duration, rate, frames = decoded(written(clock(10, 25), "webm", width=64))
    assert (duration, rate, len(frames)) == (10.0, 25.0, 250)
    assert (frames[0].width, frames[0].height) == (64, 64)


@pytest.mark.parametrize(("key", "how"), [("webm", {}), ("webm", {"colour": "full"}), ("mp4", {})])
def test_first_and_last_pictures_are_as_painted(key, how):
    work = clock()
    _, _, frames = decoded(written(work, key, width=200, quality=100, **how))
    for at in (0, 9):
        away = np.abs(rgb_of(frames[at]) - painted(work, 200, at / 10))
        if how:
            assert away.mean() < 2
        softened = away.reshape(100, 2, 100, 2, 3).mean((1, 3))  # colour at half the fineness
        assert np.median(softened) < 2
        assert softened.mean() < 6


@pytest.mark.parametrize("key", ["apng", "gif", "moving-webp"])
def test_animations_hold_each_picture_for_its_time(key):
    data = written(clock(0.5, 24), key, width=120)
    picture = Image.open(io.BytesIO(data))
    assert (picture.n_frames, picture.size) == (12, (120, 120))
    assert picture.info["loop"] == 0
    held = []
    for k in range(picture.n_frames):
        picture.seek(k)
        picture.load()
        held.append(picture.info["duration"])
    assert sum(held) == pytest.approx(500, abs=10)


def test_animated_png_and_lossless_webp_are_as_painted_to_the_byte():
    work = clock()
    for key, how in (("apng", {}), ("moving-webp", {"lossless": True})):
        picture = Image.open(io.BytesIO(written(work, key, width=120, **how)))
        picture.seek(7)
        assert np.array_equal(np.asarray(picture.convert("RGB")), painted(work, 120, 0.7))


def test_a_gif_takes_its_colours_from_the_work():
    work = clock()
    picture = Image.open(io.BytesIO(written(work, "gif", width=120, colours=32)))
    picture.seek(3)
    seen = np.asarray(picture.convert("RGB")).astype(float)
    assert np.abs(seen - painted(work, 120, 0.3)).mean() < 6
    assert len(np.unique(seen.reshape(-1, 3), axis=0)) <= 32


def test_clear_parts_stay_clear():
    for key in ("apng", "moving-webp"):
        picture = Image.open(io.BytesIO(written(clock(), key, width=80, transparent=True)))
        picture.seek(2)
        assert np.asarray(picture.convert("RGBA"))[0, 0, 3] == 0
    with zipfile.ZipFile(io.BytesIO(written(clock(), "pictures", width=80, transparent=True))) as packed:
        assert len(packed.namelist()) == 10
        assert np.asarray(Image.open(packed.open("00003.png")))[0, 0, 3] == 0


def test_more_rounds_are_more_pictures():
    assert len(decoded(written(clock(), "webm", width=64, rounds=3))[2]) == 30


def test_a_region_is_that_part_of_the_sheet():
    work = clock()
    part = {"part": "a region", "region_x": 0.0, "region_y": -155.0, "region_width": 155.0, "region_height": 155.0}
    picture = Image.open(io.BytesIO(written(work, "apng", width=100, **part)))
    whole = painted(work, 200, 0.0)
    assert np.abs(np.asarray(picture.convert("RGB")) - whole[:100, 100:]).max() <= 1


def test_painted_side_by_side_they_are_the_same():
    work = clock(0.8, 20)
    assert written(work, "pictures", width=60, processes=2) == written(work, "pictures", width=60, processes=1)


def test_stopped_it_goes_on_where_it_was(monkeypatch):
    work, seen = clock(0.8, 20), []
    stop = Progress(stop=lambda: len(seen) > 7, tell=lambda _, share: seen.append(share))
    with pytest.raises(GivenUp):
        written(work, "pictures", stop, width=60, processes=1)
    kept = [*kept_folder().glob("*/*.z")]
    assert 5 <= len(kept) < 16
    count = []
    whole = Frames.picture
    monkeypatch.setattr(Frames, "picture", lambda *args: count.append(args[1]) or whole(*args))
    data = written(work, "pictures", width=60, processes=1)
    assert len(count) == 16 - len(kept)
    assert not [*kept_folder().glob("*")]
    monkeypatch.undo()
    assert data == written(work, "pictures", width=60, processes=1)


def test_a_full_disk_says_which_picture_and_keeps_those_before(monkeypatch):
    replace = Path.replace

    def full(path, target):
        if path.name.startswith("000005"):
            raise OSError(28, "No space left on device")
        return replace(path, target)

    monkeypatch.setattr(Path, "replace", full)
    with pytest.raises(LatticeError, match=r"picture 6 of the film \(No space left.*goes on from there"):
        written(clock(), "apng", width=60)
    assert len([*kept_folder().glob("*/*.z")]) == 5


def test_what_a_form_does_not_take_is_said_with_what_it_does():
    work = clock()
    with pytest.raises(InputError, match="602 px instead of 601"):
        written(work, "webm", width=601)
    assert written(work, "webm", width=61, colour="full")
    with pytest.raises(InputError, match="even widths only: 602"):
        written(work, "mp4", width=601)
    with pytest.raises(InputError, match="at least 64 px"):
        written(work, "mp4", width=32)
    with pytest.raises(LatticeError, match="at most 20,000"):
        written(clock(3600, 60), "webm", width=64)
    with pytest.raises(LatticeError, match="would fit, or a WebM"):
        written(clock(600, 30), "apng", width=1000)


def test_uneven_heights_become_even():
    work = clock()
    work = edited(work, design=edited(work.design, sheet=edited(work.design.sheet, height=303.0)))
    frame = decoded(written(work, "webm", width=100))[2][0]
    assert (frame.width, frame.height) == (100, 98)


def test_a_sheet_of_moments_shows_them_apart():
    sheet = np.asarray(Image.open(io.BytesIO(written(clock(), "moments", count=4, across=2, width=100))))
    assert sheet.shape[0] > 200 < sheet.shape[1]


OTHERWISE = {
    "part": "a region", "width": 96, "seconds": 0.24, "rate": 10, "rounds": 2, "quality": 5, "count": 3, "across": 1, "colours": 2,
    "keys": 3, "digits": 1,
}  # fmt: skip


@pytest.mark.parametrize("kind", FILMS, ids=lambda kind: kind.key())
def test_every_option_of_a_film_has_a_say(kind):
    work, idle = clock(0.12), []
    begin = {"width": 64} if "width" in kind.dials() else {}
    if kind.key() == "moving-svg":
        begin["keys"] = 4
    plain = written(work, kind.key(), **begin)
    for name, dial in kind.dials().items():
        if name == "processes" or name.startswith("region_"):
            continue
        value = OTHERWISE.get(name)
        if isinstance(dial, LayerChoice):
            value = work.design.layers[0].id
        if value is None:
            value = not getattr(kind(), name) if isinstance(dial, Switch) else dial.options[-1]
        more = {"quality": 90} if name == "lossless" else {}
        if written(work, kind.key(), **begin | more | {name: value}) == plain:
            idle.append(name)
    assert not idle


def test_a_flag_a_form_has_no_use_for_is_told(tmp_path, capsys):
    out = tmp_path / "clock.svg"
    assert main(["film", "demo:seed-clock", "-o", str(out), "--rate", "30"]) in (0, 1)
    assert "SVG that moves has no option --rate" in capsys.readouterr().err


# -- the drawing that moves ----------------------------------------------------------------------
def keyframes(data):
    """The transforms of each animation, by its name and per cent."""
    text = data.decode()
    found = {}
    for name, body in re.findall(r"@keyframes (\w+)\{((?:[\d.]+%\{[^}]*\})+)\}", text):
        found[name] = {
            float(at): dict(one.split(":", 1) for one in said.split(";")) for at, said in re.findall(r"([\d.]+)%\{([^}]*)\}", body)
        }
    return found


def matrix(text):
    return (
        np.array([float(one) for one in text.removeprefix("matrix(").removesuffix(")").replace(",", " ").split()]).reshape(3, 2).T
    )


def test_an_svg_refuses_finishes_that_move_before_it_paints_any(monkeypatch):
    monkeypatch.setattr(moving_svg, "write_svg", lambda *_: pytest.fail("painted"))
    with pytest.raises(InputError, match="has finishes, which are pictures in an SVG"):
        written(demo("indigo-towel"), "moving-svg")


def test_an_svg_moves_each_shape_as_it_is_at_each_moment():
    work = clock(4)
    data = written(work, "moving-svg", keys=8)
    ElementTree.fromstring(data)
    moves = keyframes(data)
    assert moves
    (turn,) = moves.values()  # the hands move as one
    assert list(turn) == [0, 12.5, 25, 37.5, 50, 62.5, 75, 87.5, 100]
    at_quarter = matrix(turn[25.0]["transform"])
    assert at_quarter[:, :2] == pytest.approx(np.array([(0, -1), (1, 0)]), abs=1e-4)
    assert matrix(turn[100.0]["transform"]) == pytest.approx(matrix(turn[0.0]["transform"]))
    assert b"4s linear infinite" in data
    assert b"prefers-reduced-motion" in data


def test_colours_and_opacities_move_in_svg():
    work = clock()
    design = edited(work.design, motions=())
    hub = next(one for one in design.chains() if one.handle == "hub")
    ink = next(rule for rule in hub.rules if rule.kind == "ink")
    design = hang(design, Place(layer=hub.id, rule=ink.id, dial="palette"), 0.5, ("#000000",))
    moves = keyframes(written(edited(work, design=design), "moving-svg", keys=4))
    (one,) = moves.values()
    now = at_moment(design, 0.5)
    evaluator = Evaluator()
    still = write_svg(make_scene(now, evaluator.design(now, time=0.5), evaluator), now.sheet, Svg(recipe=False)).decode()
    assert one[50.0]["fill"] == "#000000"
    assert 'fill="#000000"' in still


def test_outlines_that_change_are_refused_for_a_moving_svg():
    with pytest.raises(InputError, match="A film shows all"):
        written(edited(demo("seed-clock"), design=demo("changing-room-screen").design), "moving-svg", keys=4)


# -- whether loops close -------------------------------------------------------------------------
@pytest.mark.parametrize("name", sorted(MOVING))
def test_every_demo_work_that_moves_closes(name):
    design = demo(name).design
    frames = Frames(design, view_of(Work(design=design), 160))
    begin, halfway = frames.picture(0.0), frames.picture(0.37)
    assert np.abs(frames.picture(1.0).astype(int) - begin).max() <= 1
    assert np.abs(halfway.astype(int) - begin).max() > 20
    assert loop_closes(design).closes
    assert all(closing_of(design, one.id, cures=False).closes for one in design.motions)


@pytest.mark.parametrize(
    ("name", "layer", "dial", "to", "closes"),
    [
        ("ceiling-rosette", "leaves", "place_turn", 55.0, "an eighth of a turn"),
        ("locker-tiles", "cells", "place_x", 100.0, "109.2 mm"),
        ("seed-clock", "hours", "place_turn", 33.0, "a twelfth of a turn"),
    ],
)
def test_a_cure_is_found_where_a_motion_does_not_close(name, layer, dial, to, closes):
    design = edited(demo(name).design, motions=())
    own = next(one for one in design.chains() if one.handle == layer)
    place = Place(layer=own.id, rule=own.end.id, dial=dial)
    design = hang(design, place, 1.0, to)
    found = closing_of(design, design.motions[0].id)
    assert not found.closes
    assert found.cures[0].words == closes
    mended = hang(design, place, 1.0, found.cures[0].value)
    assert closing_of(mended, mended.motions[0].id).words == f"closes after {closes}"


# -- by command ----------------------------------------------------------------------------------
def test_films_by_command(tmp_path, capsys):
    source = tmp_path / "clock.lattice"
    write(clock(2, 25), source)
    out = tmp_path / "out.webm"
    assert main(["film", str(source), "-o", str(out), "--seconds", "0.4", "--rate", "30", "--width", "80", "--jobs", "1"]) == 0
    assert len(decoded(out.read_bytes())[2]) == 12
    assert (
        main(
            [
                "film",
                str(source),
                "-o",
                f"{tmp_path / 'all'}/",
                "--seconds",
                "0.2",
                "--width",
                "40",
                "--set",
                "hands.layer.opacity=50",
            ]
        )
        == 0
    )
    assert sorted(one.name for one in (tmp_path / "all").iterdir()) == [f"{k:05}.png" for k in range(5)]
    assert "5 pictures" in capsys.readouterr().out
    for wrong, said in (
        (["--seconds", "0.0001", "--width", "9999"], "from 0 to 8192"), (["--seconds", "1e6"], "from 0 to 3600 s"),
        (["--jobs", "0"], "--jobs: "), (["--width", "81"], "82 px instead of 81"),
    ):  # fmt: skip
        assert main(["film", str(source), "-o", str(out), *wrong]) == 1
        assert said in capsys.readouterr().err
    assert main(["film", str(source), "-o", str(tmp_path / "out.avi")]) == 1
    assert ".webm" in capsys.readouterr().err


def test_a_loop_that_jumps_is_told_by_command(tmp_path, capsys):
    design = edited(demo("ceiling-rosette").design, motions=())
    own = design.chains()[0]
    source = tmp_path / "leaves.lattice"
    write(Work(design=hang(design, Place(layer=own.id, rule=own.end.id, dial="place_turn"), 1.0, 55.0)), source)
    assert main(["film", str(source), "-o", str(tmp_path / "out.gif"), "--seconds", "0.2", "--width", "40"]) == 0
    assert "the loop jumps at its end" in capsys.readouterr().err


def test_a_codec_that_is_missing_is_said(monkeypatch):
    monkeypatch.setattr(Webm, "codec", "no-such-codec")
    with pytest.raises(InputError, match="no-such-codec of WebM is missing here"):
        written(clock(), "webm", width=64)
