"""Formats of raised bodies: what of a scene is raised, how high, on which plate; as STL, OBJ and 3MF."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np
import shapely

from under_lattice.colour.colour import luminance
from under_lattice.core.errors import InputError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import convert
from under_lattice.declare.dials import Angle, Choice, Length, When
from under_lattice.declare.option_dials import Switch
from under_lattice.geometry.affine import Array
from under_lattice.output.cut.gathered import Shape, gathered
from under_lattice.output.cut.visible import polygons_of, visible
from under_lattice.output.format import Format, Job, Need, Purpose
from under_lattice.output.solid.leaning import leaning
from under_lattice.scene.tree import Scene
from under_lattice.work.model import Sheet

By = Literal[
    "one height", "how light it is", "how dark it is", "its colour, in turn", "its copy, first to last",
    "its place, left to right", "its place, top to bottom", "its place, from the middle out",
]  # fmt: skip
Plate = Literal["on a plate", "through a plate", "without a plate"]
HAIR = 1e-4  # mm, by which shapes are kept apart that would meet in a corner alone: no body may meet itself along one edge
ROUND = 0.005  # mm, by which straight sides may be beside curves
MORE = re.compile(  # what the writer adds to the core that strict readers take
    rb' p:UUID="[^"]+"| xmlns:\w+="[^"]+"|(?<=<item) xmlns="[^"]+"'
)
RAISED = (When(field="stands", values=("on a plate", "without a plate"), reason="a plate that is cut through has upright sides"),)
LEVELS_MOST = 256  # heights that differ


class Raised(Format):
    """Shapes raised from the page; y is up, and the lower left corner of the page lies at the origin. Lengths go out in mm."""

    needs: ClassVar[frozenset[Need]] = frozenset({"solid"})
    purposes: ClassVar[tuple[Purpose, ...]] = ("raised body",)

    by: Annotated[By, Choice("Height by", "What decides how high each shape is.", options=get_args(By))] = "one height"
    height: Annotated[float, Length("Height", "Of the highest.", least=0.01, most=10_000.0)] = 4.0
    lowest: Annotated[float, Length("Lowest", "Of the lowest, where heights differ.", least=0.0, most=10_000.0)] = 1.0
    stands: Annotated[Plate, Choice("Stands", "On a plate, through it, or each by itself.", options=get_args(Plate))] = "on a plate"
    draft: Annotated[
        float, Angle("Draft", "How far the sides lean inwards, to leave a mould.", least=0.0, most=60.0, main=False, when=RAISED)
    ] = 0.0
    plate: Annotated[float, Length("Plate", "How thick.", least=0.01, most=10_000.0)] = 2.0
    whole: Annotated[bool, Switch("Plate as large as the page", "Else only as large as what stands on it.", main=False)] = True

    def body(self, scene: Scene, sheet: Sheet, progress: Progress = QUIET) -> tuple[Array, Array]:
        """Return the corners (n, 3), in mm, and the triangles (m, 3) of the body.

        Raises
        ------
        InputError
            When there is no closed shape, or nothing is left.
        GivenUp
        """
        import manifold3d as solids  # loads the library

        mm = convert(1.0, sheet.unit, "mm", sheet.resolution)
        page = shapely.box(-scene.width / 2, -scene.height / 2, scene.width / 2, scene.height / 2)
        found = gathered(scene, progress=progress)
        shapes = visible(found.shapes, page, progress)
        if not shapes:
            raise InputError("there is nothing to raise: no closed shape lies on the page")
        corner = np.array([scene.width, scene.height]) / 2
        levels = [(self._plain(areas, corner, mm), high * mm) for areas, high in self._levels(shapes)]
        low = self.plate * mm if self.stands != "without a plate" else 0.0
        if self.stands == "through a plate":
            plate = self._plate_area(page if self.whole else shapely.union_all([a for a, _ in levels]), corner, mm, self.whole)
            left = shapely.difference(plate, shapely.union_all([area for area, _ in levels]))
            made = _extruded(solids, _opened(left), 0.0, low)
        else:
            parts = [self._raised(solids, area, low, low + high) for area, high in progress.each(levels)]
            if self.stands == "on a plate":
                area = shapely.union_all([a for a, _ in levels])
                parts.append(_extruded(solids, self._plate_area(page if self.whole else area, corner, mm, self.whole), 0.0, low))
            made = solids.Manifold.batch_boolean(parts, solids.OpType.Add)
            made = made.simplify(HAIR) if self.draft else made  # parts that meet in slopes leave edges too short for files
        progress.check()
        if made.is_empty():
            why = "the shapes take all of the plate away" if self.stands == "through a plate" else "all heights are 0"
            raise InputError(f"there is nothing left of the body: {why}")
        mesh = made.to_mesh64()
        return np.asarray(mesh.vert_properties)[:, :3], np.asarray(mesh.tri_verts).astype(np.int64)

    def _raised(self, solids: Any, area: Any, low: float, high: float) -> Any:
        """The body of an area that is as high; upright up to the top of the plate, and leaning from there."""
        return leaning(solids, area, low, high, self.draft) if self.draft else _extruded(solids, area, 0.0, high)

    def _plate_area(self, area: Any, corner: Array, mm: float, of_page: bool) -> Any:
        """The plate in mm from the lower left corner."""
        return shapely.transform(area, lambda points: (points * (1, -1) + corner) * mm) if of_page else shapely.convex_hull(area)

    def _levels(self, shapes: Sequence[Shape]) -> list[tuple[list[Any], float]]:
        """The areas of each height, in the unit of the page."""
        colours = list(dict.fromkeys(one.colour for one in shapes))
        last, places = max(len(shapes) - 1, 1), self._places(shapes)
        found: dict[float, list[Any]] = {}
        for k, one in enumerate(shapes):
            light = luminance(one.colour) ** (1 / 2.2)
            share = {
                "one height": 1.0, "how light it is": light, "how dark it is": 1 - light,
                "its colour, in turn": (colours.index(one.colour) + 1) / len(colours), "its copy, first to last": k / last,
            }.get(self.by, float(places[k]))  # fmt: skip
            share = round(share * (LEVELS_MOST - 1)) / (LEVELS_MOST - 1)
            high = self.height if self.by == "one height" else self.lowest + share * (self.height - self.lowest)
            if high > 0:
                found.setdefault(high, []).append(one.area)
        return [(areas, high) for high, areas in sorted(found.items())]

    def _places(self, shapes: Sequence[Shape]) -> Array:
        """Where each shape stands between the first and the last, 0..1, by the middle of its area (n,)."""
        at = shapely.get_coordinates(shapely.centroid(np.array([one.area for one in shapes], object)))
        far: Array = at[:, 0] if "left" in self.by else at[:, 1] if "top" in self.by else np.hypot(*at.T)
        return np.asarray((far - far.min()) / max(float(np.ptp(far)), 1e-9))

    def _plain(self, areas: Sequence[Any], corner: Array, mm: float) -> Any:
        """Areas of one height as one, in mm from the lower left corner, without corners in which it would meet itself."""
        whole = shapely.transform(shapely.union_all(list(areas)), lambda points: (points * (1, -1) + corner) * mm)
        whole = shapely.simplify(whole, ROUND)
        return _opened(whole)

    def _file(self, job: Job, kind: str) -> bytes:
        import trimesh  # loads the writers

        corners, triangles = self.body(job.scene, job.sheet, job.progress)
        data = trimesh.Trimesh(corners, triangles, process=False).export(file_type=kind)
        return data.encode() if isinstance(data, str) else bytes(data)


class Stl(Raised):
    """Triangles alone, as most machines read them."""

    ending: ClassVar[str] = "stl"
    title: ClassVar[str] = "STL"
    words: ClassVar[str] = "triangles, in mm"

    def write(self, job: Job) -> bytes:
        """Return the STL.

        Raises
        ------
        GivenUp, InputError
        """
        return self._file(job, "stl")


class Obj(Raised):
    """Corners and faces as text."""

    ending: ClassVar[str] = "obj"
    title: ClassVar[str] = "OBJ"
    words: ClassVar[str] = "corners and faces as text, in mm"

    def write(self, job: Job) -> bytes:
        """Return the OBJ.

        Raises
        ------
        GivenUp, InputError
        """
        return self._file(job, "obj")


class ThreeMf(Raised):
    """A body with its unit, for machines that build layer by layer."""

    ending: ClassVar[str] = "3mf"
    title: ClassVar[str] = "3MF"
    words: ClassVar[str] = "a body with its unit, mm"

    def write(self, job: Job) -> bytes:
        """Return the 3MF; the same at any time.

        Raises
        ------
        GivenUp, InputError
        """
        made, out = zipfile.ZipFile(io.BytesIO(self._file(job, "3mf"))), io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
            for name in made.namelist():
                packed.writestr(zipfile.ZipInfo(name), MORE.sub(b"", made.read(name)), zipfile.ZIP_DEFLATED)
        return out.getvalue()


def _opened(area: Any) -> Any:
    """An area, in mm, that meets itself in no corner alone: it is made narrower by a hair, and wider again by half of it."""
    joins: dict[str, Any] = {"join_style": "mitre", "mitre_limit": 4.0}
    return polygons_of(shapely.buffer(shapely.buffer(area, -2 * HAIR, **joins), HAIR, **joins), HAIR * HAIR)


def _extruded(solids: Any, area: Any, begin: float, end: float) -> Any:
    """An area raised from one height to another, in mm."""
    parts = [part for part in shapely.get_parts(shapely.orient_polygons(area)) if part.geom_type == "Polygon"]
    rings = [np.asarray(ring.coords)[:-1] for part in parts for ring in (part.exterior, *part.interiors)]
    section = solids.CrossSection(rings, solids.FillRule.EvenOdd)
    return solids.Manifold.extrude(section, end - begin).translate((0.0, 0.0, begin))
