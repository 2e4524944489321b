"""Formats for cutters: closed outlines with nothing else, as SVG and as DXF."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal, NamedTuple, get_args

import numpy as np
import shapely

from under_lattice.core.errors import InputError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import convert, short
from under_lattice.declare.dials import Choice, Count, Length
from under_lattice.declare.option_dials import Switch
from under_lattice.geometry.path_text import path_data
from under_lattice.output.cut.contours import CutPath, bridged, once_of, paths_of
from under_lattice.output.cut.faults import Fault, Limits, faults_of
from under_lattice.output.cut.gathered import gathered
from under_lattice.output.cut.visible import united, visible
from under_lattice.output.format import Format, Job, Need, Purpose
from under_lattice.output.svg_page import plain_head
from under_lattice.scene.tree import Scene
from under_lattice.work.model import Sheet

Shapes = Literal["each as it lies", "what is seen", "one for each colour", "one outline"]
Keeps = Literal["what is inside", "what is outside"]
Lines = Literal["where there is no fill", "all", "none", "followed"]
HAIR = 0.1  # mm, of the lines that show where to cut
STRAY = 0.005  # mm, by which curves may be beside the rings they stand for
SHORTEST, NEAREST = 2.0, 0.5  # mm, at first


class Cuts(NamedTuple):
    """Paths in their order, what is wrong with them, and what was left aside, in words."""

    paths: list[CutPath]
    faults: list[Fault]
    aside: tuple[str, ...]


class Cutting(Format):
    """Outlines for a cutter; what of shapes is cut, beside the cut by half its width."""

    needs: ClassVar[frozenset[Need]] = frozenset({"outlines"})
    purposes: ClassVar[tuple[Purpose, ...]] = ("cutter",)

    shapes: Annotated[
        Shapes,
        Choice("Outlines of", "Each shape as it lies, what is seen of it, or those that touch as one.", options=get_args(Shapes)),
    ] = "what is seen"
    lines: Annotated[
        Lines,
        Choice("Lines", "Which are cut round, as wide as they are; or all followed.", main=False, options=get_args(Lines)),
    ] = "where there is no fill"
    kerf: Annotated[float, Length("Kerf", "What the cutter takes away; paths run half of it beside.", least=0.0, most=100.0)] = 0.0
    keeps: Annotated[
        Keeps, Choice("Keeps its size", "What is inside the outlines, or what is left round them.", options=get_args(Keeps))
    ] = "what is inside"
    once: Annotated[
        bool, Switch("Shared lines once", "Where shapes touch, the line between them is cut once; paths are open then.")
    ] = False
    bridges: Annotated[int, Count("Bridges", "In each outline, so that nothing falls out.", least=0, most=100)] = 0
    bridge: Annotated[float, Length("Bridge width", "What is left standing.", least=0.001, most=1000.0, main=False)] = 1.0
    shortest: Annotated[float, Length("Shorter than", "Such paths are a fault.", least=0.0, most=10_000.0, main=False)] = SHORTEST
    nearest: Annotated[float, Length("Thinner than", "Such places are a fault.", least=0.0, most=10_000.0, main=False)] = NEAREST

    def write(self, job: Job) -> bytes:
        """Return the file.

        Raises
        ------
        GivenUp, InputError
        """
        return self.file(self.cuts(job.scene, job.sheet, job.progress), job)

    def file(self, cuts: Cuts, job: Job) -> bytes:
        """Return the file of what is cut.

        Raises
        ------
        GivenUp, InputError
            When there is nothing.
        """
        if not cuts.paths:
            raise InputError("there is nothing to cut: no closed shape, and no line that is as wide as a shape or is followed")
        return self.written(cuts.paths, job)

    def written(self, paths: Sequence[CutPath], job: Job) -> bytes:
        """Return the file of some paths.

        Raises
        ------
        GivenUp
        """
        raise InputError("a format writes itself")

    def cuts(self, scene: Scene, sheet: Sheet, progress: Progress = QUIET) -> Cuts:
        """Return what is cut of a scene, and what is wrong with it.

        Raises
        ------
        GivenUp
        """
        found = gathered(scene, self.lines, progress)
        page = shapely.box(-scene.width / 2, -scene.height / 2, scene.width / 2, scene.height / 2)
        shapes = found.shapes
        if self.shapes != "each as it lies":
            shapes = visible(shapes, page, progress)
        if self.shapes in ("one for each colour", "one outline"):
            shapes = united(shapes, self.shapes == "one for each colour")
        mm = convert(1.0, "mm", sheet.unit, sheet.resolution)
        aside = self.kerf / 2 * (1 if self.keeps == "what is inside" else -1)
        paths = paths_of(found, shapes, aside, STRAY * mm, progress)
        edges = paths if not aside else paths_of(found, shapes, 0.0, STRAY * mm, progress)
        faults = faults_of(shapes, paths, edges, Limits(self.shortest, self.nearest, self.once), sheet.unit, progress)
        if self.once:
            paths = once_of(paths, STRAY * mm, progress)
        return Cuts(bridged(paths, self.bridges, self.bridge), faults, found.aside)


class Cutter(Cutting):
    """Closed outlines as SVG: thin lines in the colours of their shapes, in the order of cutting."""

    ending: ClassVar[str] = "svg"
    name: ClassVar[str] = "cutter"
    title: ClassVar[str] = "SVG for a cutter"
    words: ClassVar[str] = "closed outlines, nothing else"

    digits: Annotated[int, Count("Decimals", "Of places on the page.", least=0, most=9, main=False)] = 4

    def written(self, paths: Sequence[CutPath], job: Job) -> bytes:
        """Return the SVG of some paths."""
        half = np.array([job.scene.width, job.scene.height]) / 2
        hair = short(convert(HAIR, "mm", job.sheet.unit, job.sheet.resolution), self.digits)
        lines = [*plain_head(job.scene.width, job.scene.height, job.sheet), f'<g fill="none" stroke-width="{hair}">']
        for path in paths:
            data = path_data(path.verbs, path.points + half, self.digits)
            lines.append(f'<path d="{data}" stroke="{path.colour}"/>')
        return "\n".join([*lines, "</g>", "</svg>", ""]).encode()


class Dxf(Cutting):
    """Closed outlines as DXF: a layer for each colour, lines with bulges for arcs, or splines, in the unit of the work."""

    ending: ClassVar[str] = "dxf"
    title: ClassVar[str] = "DXF"
    words: ClassVar[str] = "outlines for a cutter, a layer for each colour"

    curves: Annotated[
        Literal["arcs", "splines"], Choice("Curves", "As arcs of circles, or as splines.", options=("arcs", "splines"))
    ] = "arcs"

    def written(self, paths: Sequence[CutPath], job: Job) -> bytes:
        """Return the DXF of some paths.

        Raises
        ------
        GivenUp
        """
        from under_lattice.output.cut.dxf import dxf_of  # loads the writer

        return dxf_of(paths, job.sheet, self.curves == "splines", job.progress)
