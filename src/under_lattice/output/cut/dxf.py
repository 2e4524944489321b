"""DXF of paths to cut: real units, a layer for each colour, arcs as bulges, or splines; a library keeps the tables of the file."""

from __future__ import annotations

import io
import re
from collections.abc import Sequence

import ezdxf
import numpy as np
from ezdxf import units
from ezdxf.math import Bezier4P, Vec3, bezier_to_bspline

from under_lattice.core.progress import Progress
from under_lattice.core.units import convert
from under_lattice.geometry.cutting import cubics_of
from under_lattice.output.cut.arcs import with_bulges
from under_lattice.output.cut.contours import CutPath
from under_lattice.work.model import Sheet

UNITS = {"mm": units.MM, "cm": units.CM, "in": units.IN}  # others go out as mm
NO_GUID = "{00000000-0000-0000-0000-000000000000}"
STAMP = re.compile(r"@ \d{4}-\d\d-\d\dT[^\n]*")  # when the writer wrote it
STRAY = 0.005  # mm, by which arcs may be beside the rings they stand for
CHANGING = re.compile(r"(\$(?:TDU?CREATE|TDU?UPDATE|FINGERPRINTGUID|VERSIONGUID)\n\s*(\d+)\n)[^\n]*")  # from one time to the next


def dxf_of(paths: Sequence[CutPath], sheet: Sheet, splines: bool, progress: Progress) -> bytes:
    """Return a DXF: y up, the lower left corner of the page at nothing.

    Raises
    ------
    GivenUp
    """
    unit = sheet.unit if sheet.unit in UNITS else "mm"
    size = convert(1.0, sheet.unit, unit, sheet.resolution)
    half, stray = np.array([sheet.width, sheet.height]) / 2, STRAY * convert(1.0, "mm", unit)
    document = ezdxf.new("R2010")  # type: ignore[attr-defined]
    document.units = UNITS[unit]
    space = document.modelspace()
    for path in progress.each(paths):
        layer = f"{path.layer} {path.colour}".strip()
        layer = re.sub(r'[<>/\\":;?*|=,`]', "_", layer)[:200]
        if layer not in document.layers:
            document.layers.add(layer, true_color=int(path.colour[1:7], 16))
        place = {"layer": layer}
        if splines and any(verb == 2 for verb in path.verbs):
            for cubics, _ in cubics_of(path.verbs, _upright(path.points, half, size)):
                space.add_spline(dxfattribs=place).apply_construction_tool(
                    bezier_to_bspline([Bezier4P([Vec3(x, y) for x, y in cubic.tolist()]) for cubic in cubics])
                )
            continue
        corners = with_bulges(_upright(path.line, half, size), stray)
        space.add_lwpolyline(corners.tolist(), format="xyb", close=path.closed, dxfattribs=place)
    out = io.StringIO()
    document.write(out)
    text = CHANGING.sub(lambda found: found[1] + ("0.0" if found[2] == "40" else NO_GUID), out.getvalue())
    return STAMP.sub("", text).encode()


def _upright(points: np.ndarray, half: np.ndarray, size: float) -> np.ndarray:
    """Points (n, 2) on a page whose y goes up from its lower edge."""
    return (points * (1, -1) + half) * size
