"""Marks by which plates are laid on each other, and the name of each ink, on pages of a PDF."""

from __future__ import annotations

from under_lattice.core.units import short

TARGET = 2.0  # mm, the radius of a registration mark
CURVE = 0.5523  # of a radius: the handles of a quarter of a circle


def registration(wide: float, high: float, room: float, name: str) -> str:
    """Return marks in the middle of each side, in points, in the room beside the bleed, and the name of the ink at the foot.

    They are crosses in circles, which lie on each other where the plates do.
    """
    point = 72 / 25.4
    r, at = TARGET * point, room - (TARGET + 3.0) * point
    out = ["q 0.25 w 0 G"]
    for x, y in ((wide / 2, at), (wide / 2, high - at), (at, high / 2), (wide - at, high / 2)):
        out.append(f"q 1 0 0 1 {short(x, 3)} {short(y, 3)} cm {_target(r)} Q")
    out.append(f"0 g BT /F1 6 Tf {short(room + 6, 3)} {short(at - 2, 3)} Td ({name}) Tj ET")
    return "\n".join([*out, "Q"])


def _target(r: float) -> str:
    """A cross in a circle of that radius about the origin, in points."""
    k, arm = short(CURVE * r, 3), short(1.6 * r, 3)
    s = short(r, 3)
    circle = f"{s} 0 m {s} {k} {k} {s} 0 {s} c -{k} {s} -{s} {k} -{s} 0 c -{s} -{k} -{k} -{s} 0 -{s} c {k} -{s} {s} -{k} {s} 0 c"
    return f"{circle} -{arm} 0 m {arm} 0 l 0 -{arm} m 0 {arm} l S"
