"""SVG that moves: places, opacities and colours of one drawing as CSS animations; outlines stay what they are."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar
from xml.etree import ElementTree as Xml

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.core.progress import Progress
from under_lattice.core.units import short
from under_lattice.declare.dials import Count
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.frames.standing import standing
from under_lattice.geometry.affine import Array, apply, compose, inverse, nearest_affine
from under_lattice.loop.moment import at_moment
from under_lattice.output.film.film import REGION, Film
from under_lattice.output.format import WITHOUT_GROUND, Format, Job
from under_lattice.output.svg import Svg, write_svg
from under_lattice.scene.aside import specials_of
from under_lattice.scene.tree import make_scene
from under_lattice.work.model import Design, Sheet

SVG, LINK = "http://www.w3.org/2000/svg", "http://www.w3.org/1999/xlink"
MOVES = ("fill", "stroke", "fill-opacity", "stroke-opacity", "opacity", "stroke-width", "stop-color", "stop-opacity")
OUTLINES = "outlines change in this loop; in SVG only places, opacities and colours can move. A film shows all"
KEYS_MOST = 400_000  # values in all
ALIKE = 1e-5
SHAPE = 1e-3  # of the page, by which outlines may differ that are rounded to the decimals of a file
COMMANDS = re.compile("[A-Za-z]")
TOLD = re.compile(r"matrix\(([^)]*)\)|translate\(([^)]*)\)")
DIGEST = re.compile(r'id="page_([0-9a-f]{6})"')


@dataclass
class _Track:
    """What one element has at each moment: its place (2, 3), and what moves of its colours."""

    element: Xml.Element
    maps: list[Array]
    values: list[dict[str, str]]


FINISHES = "what moves here has finishes, which are pictures in an SVG and cannot move; a film shows all"


class MovingSvg(Film):
    """A drawing whose layers and copies move, for web pages."""

    ending: ClassVar[str] = "svg"
    name: ClassVar[str] = "moving-svg"
    title: ClassVar[str] = "SVG that moves"
    words: ClassVar[str] = "a drawing for web pages in which places, opacities and colours move"
    clear: ClassVar[bool] = True
    without: ClassVar[frozenset[str]] = REGION | {"width", "rate", "rounds", "processes"}

    transparent: Annotated[bool, WITHOUT_GROUND] = False
    keys: Annotated[int, Count("Moments", "Between which a browser moves evenly.", least=2, most=400)] = 48
    digits: Annotated[int, Count("Decimals", "Of places on the page.", least=0, most=9, main=False)] = 3

    def size_words(self, sheet: Sheet) -> str:
        """Return how large the page is."""
        return Format.size_words(self, sheet)

    def notes(self, design: Design) -> tuple[str, ...]:
        """Return between how many moments it moves."""
        return self.still(design) or (
            f"{self.keys} moments in {self.seconds or design.loop.seconds:g} s; who wants less motion sees it stand still",
        )

    def write(self, job: Job) -> bytes:
        """Return the drawing.

        Raises
        ------
        InputError
            When outlines change.
        GivenUp
        """
        assert job.work is not None
        design = job.work.design
        times = [k / self.keys for k in range(self.keys + (not design.loop.closed))]
        trees = [Xml.fromstring(text) for text in self._drawings(design, times, job.progress)]
        tracks = list(_tracks(trees))
        if len(tracks) * len(times) > KEYS_MOST:
            raise InputError(f"{len(tracks):,} shapes move, too many for one SVG; take fewer moments, or a film")
        root = trees[0]
        seconds = self.seconds or design.loop.seconds
        rules = _animations(root, tracks, times, self.digits, seconds, design.loop.closed)
        style = Xml.Element(f"{{{SVG}}}style")
        style.text = "\n" + "\n".join([*rules, "@media (prefers-reduced-motion:reduce){*{animation:none!important}}"]) + "\n"
        root.insert(0, style)
        Xml.register_namespace("", SVG)
        Xml.register_namespace("xlink", LINK)
        return b'<?xml version="1.0" encoding="UTF-8"?>\n' + Xml.tostring(root) + b"\n"

    def _drawings(self, design: Design, times: list[float], progress: Progress) -> Iterator[str]:
        """The drawing at each moment, ids alike in all."""
        if self.transparent_now:
            design = edited(design, sheet=edited(design.sheet, background=""))
        evaluator, options = Evaluator(), Svg(recipe=False, digits=self.digits)
        moving = {layer.id for layer in standing(design)[1]}
        for k, time in enumerate(times):
            progress.step(k / len(times))
            now = at_moment(design, time)
            results = evaluator.design(now, Progress(progress.stop), time)
            if not k and "finishes" in specials_of(make_scene(now, results, evaluator, only=moving).layers):
                raise InputError(FINISHES)
            scene = make_scene(now, results, evaluator)
            text = write_svg(scene, design.sheet, options).decode()
            found = DIGEST.search(text)
            yield text.replace(f"_{found[1]}", "") if found else text


def _tracks(trees: list[Xml.Element]) -> Iterator[_Track]:
    """What each element that moves has at each moment.

    Raises
    ------
    InputError
        When the drawings differ in more.
    """
    for same in zip(*(tree.iter() for tree in trees), strict=True):
        first = same[0]
        if any(len(one) != len(first) or one.tag != first.tag or one.text != first.text for one in same):
            raise InputError(OUTLINES)
        if all(one.attrib == first.attrib for one in same):
            continue
        given = [_given(one) for one in same]
        if any(one != given[0] for one in given):
            raise InputError(OUTLINES)
        values = [{name: one.attrib[name] for name in MOVES if name in one.attrib} for one in same]
        if any(one.keys() != values[0].keys() for one in values):
            names = {name for one in values for name in one}
            values = [{name: one.get(name, "1" if "opacity" in name else "none") for name in names} for one in values]
        maps = [_map_of(one) for one in same]
        if len({one.get("d") for one in same}) > 1:
            maps = [compose(own, _carried(first.attrib["d"], one.attrib["d"])) for own, one in zip(maps, same, strict=True)]
        yield _Track(first, maps, values)


def _given(element: Xml.Element) -> dict[str, str]:
    """What of an element cannot move."""
    moves = {*MOVES, "transform", *(("x", "y") if element.tag.endswith("use") else ("d",))}
    return {name: value for name, value in element.attrib.items() if name not in moves}


def _carried(first: str, later: str) -> Array:
    """The map (2, 3) that brings one outline to where it is later.

    Raises
    ------
    InputError
        When it has changed its shape.
    """
    if COMMANDS.findall(first) != COMMANDS.findall(later) or set(COMMANDS.findall(first)) - set("MLCQZ"):
        raise InputError(OUTLINES)
    here, there = (np.array(COMMANDS.sub(" ", one).split(), float).reshape(-1, 2) for one in (first, later))
    if here.shape != there.shape:
        raise InputError(OUTLINES)
    found = nearest_affine(here[None], there[None])[0]
    size = max(1.0, float(np.abs(there).max()))
    if np.abs(apply(found, here) - there).max() > SHAPE * size:
        raise InputError(OUTLINES)
    return found


def _map_of(element: Xml.Element) -> Array:
    """Where an element stands (2, 3).

    Raises
    ------
    InputError
        When it is placed in another way.
    """
    out = np.eye(2, 3)
    if element.tag.endswith("use"):
        out[:, 2] = float(element.get("x", "0")), float(element.get("y", "0"))
    text = element.get("transform", "")
    if not text:
        return out
    found = TOLD.fullmatch(text)
    if found is None:
        raise InputError("a place in the drawing is told in a way that cannot move; a film shows all")
    numbers = [float(one) for one in (found[1] or found[2]).replace(",", " ").split()]
    own = np.array(numbers).reshape(3, 2).T if found[1] else np.array([(1, 0, numbers[0]), (0, 1, (*numbers[1:], 0.0)[0])])
    return compose(own, out)


def _animations(
    root: Xml.Element, tracks: list[_Track], times: list[float], digits: int, seconds: float, closed: bool
) -> Iterator[str]:  # fmt: skip
    """The rules of style that move elements; one for a whole group where all in it move alike."""
    runs = f"{short(seconds)}s linear " + ("infinite" if closed else "forwards")
    by_element = {id(track.element): track for track in tracks}
    parents = {id(child): parent for parent in root.iter() for child in parent}
    groups: dict[int, Xml.Element] = {}
    for track in tracks:
        parent = parents.get(id(track.element))
        if parent is not None:
            groups[id(parent)] = parent
    number = 0
    for group in groups.values():
        together = _together(group, by_element)
        if together is None:
            continue
        number += 1
        yield from _rule(group, f"m{number}", together, [{} for _ in times], times, digits + 6, runs, closed)
        for child in group:
            by_element.pop(id(child), None)
    for track in by_element.values():
        number += 1
        yield from _rule(track.element, f"m{number}", track.maps, track.values, times, digits + 6, runs, closed)


def _together(group: Xml.Element, tracks: dict[int, _Track]) -> list[Array] | None:
    """How a group moves as one (2, 3) at each moment, or None where its shapes do not all move alike and in nothing else."""
    own = [tracks.get(id(child)) for child in group if not child.tag.endswith("title")]
    if "transform" in group.attrib or "clip-path" in group.attrib or id(group) in tracks or len(own) < 2 or None in own:
        return None
    found = [track for track in own if track is not None]
    if any(value != track.values[0] for track in found for value in track.values):
        return None
    maps = np.array([track.maps for track in found])
    by = compose(maps, inverse(maps[:, :1]))
    return list(by[0]) if np.abs(by - by[:1]).max() < ALIKE * max(1.0, float(np.abs(maps).max())) else None


def _rule(
    element: Xml.Element, name: str, maps: list[Array], values: list[dict[str, str]], times: list[float], digits: int, runs: str,
    closed: bool,
) -> Iterator[str]:  # fmt: skip
    """The rule that moves one element, which gets its name as a class."""
    moved = any(not np.array_equal(one, maps[0]) for one in maps)
    turned: set[str] = {key for one in values for key, value in one.items() if value != values[0].get(key)}
    keys = []
    for k, time in enumerate([*times, 1.0] if closed else times):
        at = k % len(times)
        said = [f"{key}:{values[at][key]}" for key in sorted(turned)]
        if moved:
            said.insert(0, f"transform:{_css(maps[at], digits)}")
        keys.append(f"{short(100 * time, 4)}%{{{';'.join(said)}}}")
    if moved:
        for gone in ("x", "y"):
            element.attrib.pop(gone, None)
        element.set("transform", _css(maps[0], digits, " "))
    element.set("class", name)
    yield f"@keyframes {name}{{{''.join(keys)}}}"
    yield f".{name}{{animation:{name} {runs}}}"


def _css(xform: Array, digits: int, between: str = ",") -> str:
    numbers: list[Any] = [short(float(value), digits) for value in xform.T.reshape(-1)]
    return f"matrix({between.join(numbers)})"
