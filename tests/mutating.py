"""Things a person may bring in, spoilt at random: short in the tests, long in `bench/fuzz.py`.

What reads each must read it or refuse it with a sentence: no other error, and no wait without end.
"""

import copy
import io
import json
import math
import signal
import time
import traceback
import warnings
from collections import Counter
from contextlib import suppress
from random import Random  # noqa: TID251 (each has its own, by a seed)

from PIL import Image

from tests.whole_works import TEXTS
from under_lattice.colour.palette_text import palette_of_text
from under_lattice.core.errors import LatticeError
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.files.brought import with_brought
from under_lattice.files.recipe import from_png, from_svg
from under_lattice.files.storage import to_text, work_in
from under_lattice.files.svg.shapes import read_svg
from under_lattice.library import DEMOS, demo
from under_lattice.library.sample_pictures import sample_picture
from under_lattice.many.settings import apply_setting
from under_lattice.output.png import Png, write_png
from under_lattice.output.svg import Svg, write_svg
from under_lattice.plotter.machine import Machine
from under_lattice.plotter.sender import orders_of
from under_lattice.rules import RULES
from under_lattice.scene.tree import make_scene
from under_lattice.vary.formula import NAMES, read_formula
from under_lattice.work.model import Design
from under_lattice.work.pictures import bring_in, pixels_of

LONG = 2.0  # s of its own work, from which on it is told
WITHOUT_END = 20.0  # s of work
WAITING = 200.0  # s by the clock, for what waits without work
NUMBERS = ["0", "-0", "-1", "1e308", "-1e308", "1e-308", "1e400", "nan", "inf", "9" * 400, "0.1", "3", "10000000000", "٣", "½"]
WORDS = [
    *NUMBERS,
    "",
    '"',
    "'",
    "<",
    ">",
    "&",
    "&amp;",
    "&#0;",
    "\x00",
    "\x1b[2J",
    "\ud83d",
    "é",
    "…",
    "%",
    "e",
    "(",
    ")",
    "{",
    "}",
]
WORDS += ["[", "]", ",", ";", ":", "=", "null", "true", "M", "z", "A1 1 0 0 1 5 5", "url(#a)", "--", "/*", "\n", "rotate(1e9)"]
ODD = [None, True, -1, 0, 10**40, 1e308, float("1e-320"), "", "x", [], {}, [[]], "#12", "\ud800", "a" * 3000, -7.5, [None] * 3]
FEATURES = """<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="80mm" height="40mm"
viewBox="0 0 80 40"><style>.a{fill:red;stroke:#00f} #b > path{stroke-width:2px} @media print{.a{fill:none}}</style>
<defs><linearGradient id="g"><stop offset="10%" stop-color="#fa0"/><stop offset="1" stop-opacity=".5"/></linearGradient>
<radialGradient id="r" xlink:href="#g" gradientTransform="rotate(30)" fx=".3"/>
<clipPath id="c"><circle r="9" cx="20" cy="20"/></clipPath>
<symbol id="s" viewBox="0 0 10 10"><rect x="1" y="1" width="8" height="8" rx="2"/></symbol></defs>
<g id="b" transform="translate(3,4) rotate(15 20 20) matrix(1 0 .2 1 0 0)" clip-path="url(#c)">
<path class="a" d="M5 5h20v20l-9-3q3-8-2-9t-4 3z"/>
<path d="M1,1C2 9 9 2 9 9S20 20 30 3A5 7 30 1 0 40 20" fill="url(#r)" stroke-dasharray="3 1.5" stroke-linecap="round"/></g>
<use href="#s" x="40" y="3" width="20" height="20" fill="url(#g)"/><ellipse rx="8" ry="4" cx="60" cy="30" opacity=".4"/>
<polygon points="3,3 20,5 14,30" fill-rule="evenodd"/><polyline points="1 1 2 2 5 1"/><line x1="3" y2="20" stroke="currentColor"/>
<text x="3" y="30">Tern</text></svg>"""
FORMULAS = ["12 + 3 * k", "40 * sin(a) + 2^3", "if(k < 3, 5, mod(col, 2))", "-row / (n - 1)", "max(min(u, 1), 0) + r * d"]
ORDERS = [
    "floor.lattice.gap=1.8 mm",
    "floor.motif.sides=5",
    "floor.lattice.gap== 40 + 60 * u",
    "floor.ink.palette=#102030 #FFF",
    "dials.a=3",
]
PEN_ORDERS = b"IN;SP1;PU40,80;PD400,80,400.5,900,40,80;PU;SP2;PU0,0;PD80,80;OA;OS;OI;SP0;PU0,0;"
PALETTES = ["#102030 #FFF red rgb(10, 20, 30)", '["#123456", {"hex": "#ABC"}]', "--a: oklch(50% .1 30);\n--b: hsl(20 30% 40%);"]


def spoilt(data, dice):
    """Bytes with one to six changes: cut, doubled, exchanged, flipped, a word put in, a number made another."""
    for _ in range(dice.choice([1, 1, 1, 2, 3, 6])):
        a, b = sorted((dice.randint(0, len(data)), dice.randint(0, len(data))))
        b = min(b, a + dice.choice([0, 1, 2, 5, 30, 400]))
        word = dice.choice(WORDS).encode("utf-8", "surrogatepass")
        match dice.randint(0, 6):
            case 0:
                data = data[:a] + data[b:]
            case 1:
                data = data[:b] + data[a:b] * dice.choice([1, 2, 50]) + data[b:]
            case 2:
                data = data[:a] + word + data[b:]
            case 3:
                data = data[:a] + word + data[a:]
            case 4 if a < len(data):
                data = data[:a] + bytes([data[a] ^ (1 << dice.randint(0, 7))]) + data[a + 1 :]
            case 5:
                at = data.find(dice.choice(b"0123456789").to_bytes(1, "big"), a)
                data = data[:at] + dice.choice(NUMBERS).encode() + data[at + 1 :] if at >= 0 else data
            case 6 if dice.random() < 0.2:
                data = data[:a]
    return data


def spoilt_text(text, dice):
    return spoilt(text.encode("utf-8", "surrogatepass"), dice).decode("utf-8", "replace")


def _places(node, found):
    for key in list(node) if isinstance(node, dict) else range(len(node)):
        found.append((node, key))
        if isinstance(node[key], dict | list):
            _places(node[key], found)
    return found


def spoilt_data(data, dice):
    """What a file holds with one to four of its parts made odd, left out, exchanged or put elsewhere."""
    data = copy.deepcopy(data)
    for _ in range(dice.choice([1, 1, 2, 4])):
        places = _places(data, [])
        node, key = dice.choice(places)
        other, at = dice.choice(places)
        match dice.choice([0, 1, 2, 3, 3, 3]):
            case 0:
                node[key] = dice.choice(ODD)
            case 1:
                del node[key]
            case 2:
                node[key] = copy.deepcopy(other[at])
            case 3 if isinstance(node[key], int | float):
                node[key] = node[key] * dice.choice([-1, 0, 1000, 1e9, 0.001])
    return data


class Trials:
    """What is spoilt, and who reads it; one method for each kind returns what to call."""

    def __init__(self) -> None:
        names = [name for name in DEMOS if name != "ticket-engraving"]
        self.works = [json.loads(to_text(demo(name))) for name in names]
        self.design = demo("entrance-floor").design
        small = demo("plunge-pool")
        evaluator = Evaluator()
        scene = make_scene(small.design, evaluator.design(small.design), evaluator)
        self.svg = [FEATURES.encode(), write_svg(scene, small.design.sheet, Svg(), small)]
        self.png = write_png(scene, small.design.sheet, Png(width=80), small)
        self.pictures = [self.png]
        photo = Image.fromarray(pixels_of(sample_picture("fish"), 60)).convert("RGB")
        for kind in ("JPEG", "WEBP", "TIFF", "PNG", "GIF"):
            file = io.BytesIO()
            photo.save(file, kind)
            self.pictures.append(file.getvalue())
        self.texts = [(kind, some) for kind, some in TEXTS.items()]

    def file(self, dice):
        data = spoilt_data(dice.choice(self.works), dice)
        text = json.dumps(data).encode()
        text = spoilt(text, dice) if dice.random() < 0.1 else text
        return text, lambda: _opened(work_in(text, "spoilt.lattice"))

    def drawing(self, dice):
        data = spoilt(dice.choice(self.svg), dice)
        return data, lambda: (read_svg(data, "spoilt.svg"), with_brought(Design(), data, "spoilt.svg"))

    def recipe(self, dice):
        svg = dice.random() < 0.5
        data = spoilt(self.svg[1] if svg else self.png, dice)
        return data, lambda: (from_svg if svg else from_png)(data, "spoilt")

    def picture(self, dice):
        data = spoilt(dice.choice(self.pictures), dice)
        return data, lambda: pixels_of(bring_in(data, "spoilt"), 400)

    def formula(self, dice):
        text = spoilt_text(dice.choice(FORMULAS), dice)
        return text, lambda: read_formula(text).values(dict.fromkeys(NAMES, 3.0))

    def order(self, dice):
        text = spoilt_text(dice.choice(ORDERS), dice)
        return text, lambda: apply_setting(self.design, text)

    def list(self, dice):
        kind, some = dice.choice(self.texts)
        text = spoilt_text(dice.choice(some), dice)
        rule, name = dice.choice([(rule, name) for rule in RULES for name, dial in rule.dials().items() if isinstance(dial, kind)])
        return (rule.__name__, name, text), lambda: rule.model_validate({name: text})

    def pens(self, dice):
        data = spoilt(PEN_ORDERS, dice)
        return data, lambda: (orders_of(data), _plotted(data))

    def palette(self, dice):
        text = spoilt_text(dice.choice(PALETTES), dice)
        return text, lambda: palette_of_text(text)


KINDS = ("file", "drawing", "recipe", "picture", "formula", "order", "list", "pens", "palette")


def _plotted(data):
    """What a plotter makes of orders: it takes them as it has room, answers, and comes to an end whatever they are."""
    machine = Machine(speed=1e9, acceleration=1e12)
    while data and (taken := machine.feed(data)):
        data = data[taken:]
        machine.advance(60.0)
        machine.replies()
    assert all(math.isfinite(number) for _, line in machine.drawn for place in line for number in place)


def _opened(work):
    """Everything a window would do with it: write it back, evaluate, draw."""
    again = to_text(work)
    assert to_text(work_in(again.encode(), "again")) == again
    evaluator = Evaluator()
    make_scene(work.design, evaluator.design(work.design), evaluator)


class WithoutEnd(BaseException):
    """It has taken too long."""


def _end(*_):
    raise WithoutEnd


def tried(trials: Trials, kind: str, times: int, seed: int = 0) -> tuple[Counter[str], list[str]]:
    """Return how many of so many spoilt things were read and refused, and what went wrong: (counts, sentences)."""
    met: Counter[str] = Counter()
    wrong: list[str] = []
    before = {one: signal.signal(one, _end) for one in (signal.SIGPROF, signal.SIGALRM)}
    for k in range(times):
        given, read = getattr(trials, kind)(Random(f"{kind} {seed} {k}"))
        begun = time.thread_time()
        signal.setitimer(signal.ITIMER_PROF, WITHOUT_END)
        signal.setitimer(signal.ITIMER_REAL, WAITING)
        try:
            with warnings.catch_warnings():
                warnings.simplefilter("error")  # what would be told on the terminal
                read()
            met["read"] += 1
        except LatticeError:
            met["refused"] += 1
        except WithoutEnd:
            met["without end"] += 1
            wrong.append(f"{kind} {k}: without end")
        except Exception as error:
            if kind == "list" and isinstance(error, ValueError):  # refused by its declaration
                met["refused"] += 1
                continue
            met["faults"] += 1
            last = traceback.extract_tb(error.__traceback__)[-1]
            where = f"{last.filename[-40:]}:{last.lineno}, of {str(given)[:80]!r}"
            wrong.append(f"{kind} {k}: {type(error).__name__} {str(error)[:200]} at {where}")
        finally:
            signal.setitimer(signal.ITIMER_PROF, 0)
            signal.setitimer(signal.ITIMER_REAL, 0)
        if (took := time.thread_time() - begun) > LONG:
            met["slow"] += 1
            wrong.append(f"{kind} {k}: {took:.1f} s")
    for one, handler in before.items():
        with suppress(TypeError):
            signal.signal(one, handler)
    return met, wrong
