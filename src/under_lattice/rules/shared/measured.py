"""What motifs of a few measures have in common: a lazy shape, a variant for each set of measures, and handles for them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, ClassVar, NamedTuple, Protocol

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Angle, Length, Ratio
from under_lattice.geometry.affine import Array, linear
from under_lattice.geometry.body import hull
from under_lattice.geometry.curves import Curve, curve_verbs, hermite, pieces_for
from under_lattice.geometry.outline import CLOSE, Outline, flatten, is_straight_polygon, polygon
from under_lattice.pattern.ask import Ask, largest, rest
from under_lattice.pattern.stage import Family, Shape, Stage, share
from under_lattice.rules.base import describe
from under_lattice.rules.families import MotifRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet, with_start
from under_lattice.rules.shared.measure_spots import Spot, spot_dragged, spot_handles, turn_dragged, turn_handle

Numbers = Mapping[str, Array]  # measures by the name of their dial, (M,) each
Face = tuple[bytes, Array]  # verbs and points (M, K, 2)


TURN = Angle("Turn", "About its middle.", main=False, group="Place")
ROUNDNESS = Ratio("Height", "Height as a part of the width.", least=0.1, most=10000.0, vary=True, slides=(5.0, 200.0))


def extent(label: str, words: str, slides: float = 120.0) -> Length:
    """Return the dial of a length a motif has from end to end, in the unit of the work."""
    return Length(label, words, least=0.001, most=1e5, vary=True, slides=(1.0, slides))


class Grip(NamedTuple):
    """A handle for a measure: it stands in direction `angle` (degrees), at `share` of the measure from the middle.

    A measure in per cent is of the dial `of`.
    """

    dial: str
    angle: float
    share: float = 0.5
    of: str = ""


class MeasuredMotif(MotifRule):
    """A motif that is drawn from its measures."""

    title: ClassVar[str] = "Motif"
    grips: ClassVar[tuple[Grip, ...]] = ()
    spots: ClassVar[tuple[Spot, ...]] = ()
    turn: float  # each declares it last

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return its faces for M sets of measures, not turned; how many there are and their verbs are the same for all sets."""
        raise InputError("a motif draws its own faces")

    def body(self, faces: tuple[Face, ...]) -> Outline:
        """Return what touching and pivots measure; the one outline, or the hull of several."""
        if len(faces) == 1 and faces[0][0].count(CLOSE) <= 1:
            return Outline(faces[0][1][0], faces[0][0])
        return hull_of(faces)

    def shape(self) -> Shape:
        """Return the lazy shape."""
        return MeasuredShape(self)

    def numbers(self) -> dict[str, Any]:
        """Return the measures that may vary, by dial."""
        return {name: getattr(self, name) for name, dial in self.dials().items() if getattr(dial, "vary", False)}

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return a bead for each measure."""
        beads = []
        for grip in self.grips:
            dial = self.dials()[grip.dial]
            words = f"{describe(rest(getattr(self, grip.dial)), dial.unit or unit)} {dial.label.lower()}"
            if not self.idle(grip.dial):
                beads.append(Handle(grip.dial, self._way(grip) * self._reach(grip), words, "bead"))
        turned = turn_handle(self, stage.body_ring, unit)
        more = [*spot_handles(self, self.spots, unit), *([turned] if turned is not None else [])]
        return HandleSet((*beads, *more), None, stage.body_ring)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Set a measure by how far its bead is from the middle, or by where else it stands."""
        if drag.name == "turn":
            return turn_dragged(drag)
        grip = next((one for one in self.grips if one.dial == drag.name), None)
        if grip is None:
            return spot_dragged(self, self.spots, drag)
        value = float(drag.to @ self._way(grip)) / grip.share
        dial: Any = self.dials()[grip.dial]
        if grip.of:
            value *= 100.0 / max(rest(getattr(self, grip.of)), 1e-9)
        else:
            value = drag.length(value)
        return {grip.dial: with_start(getattr(self, grip.dial), float(np.clip(value, max(dial.least, 0.01), dial.most)))}

    def _way(self, grip: Grip) -> Array:
        angle = np.radians(grip.angle + self.turn)
        return np.array([np.cos(angle), np.sin(angle)])

    def _reach(self, grip: Grip) -> float:
        value = float(rest(getattr(self, grip.dial))) * grip.share
        return value * float(rest(getattr(self, grip.of))) / 100.0 if grip.of else value


class Measured(Protocol):
    """What draws faces by measures that may vary: a motif, or one laid somewhere else than where it stands itself."""

    @property
    def turn(self) -> float:
        """Degrees by which what is drawn is turned."""

    def numbers(self) -> dict[str, Any]:
        """Return the measures that may vary, by dial."""

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return faces for M sets of measures."""

    def body(self, faces: tuple[Face, ...]) -> Outline:
        """Return what touching and pivots measure."""


@dataclass(frozen=True, eq=False)
class MeasuredShape:
    """Draws a motif of measures, a variant for each set of them."""

    motif: Measured

    def _drawn(self, numbers: Numbers) -> tuple[Face, ...]:
        turned = linear(self.motif.turn)[:, :2].T
        return tuple((verbs, points @ turned) for verbs, points in self.motif.faces(numbers))

    def _at_rest(self) -> tuple[Face, ...]:
        return self._drawn({name: np.array([float(rest(number))]) for name, number in self.motif.numbers().items()})

    @property
    def faces(self) -> int:
        """How many parts."""
        return len(self._at_rest())

    @property
    def curved(self) -> bool:
        """Whether it is more than one outline of straight sides."""
        faces = self._at_rest()
        return len(faces) > 1 or not is_straight_polygon(faces[0][0])

    def body(self) -> Outline:
        """Return the body at its start measures."""
        return self.motif.body(self._at_rest())

    def reach(self) -> float:
        """How far grown measures pass the start measures, in units of the shape."""
        most = self._drawn({name: np.array([float(largest(number))]) for name, number in self.motif.numbers().items()})
        far, near = (max(float(np.hypot(*points[0].T).max()) for _, points in faces) for faces in (most, self._at_rest()))
        return max(0.0, far - near)

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """Return one family for each part."""
        numbers = self.motif.numbers()
        asked = np.broadcast_arrays(*(ask.each(number) for number in numbers.values()), np.zeros(1))[: len(numbers)]
        if not numbers or len(asked[0]) == 1:  # the same for all copies, though not always as at rest: the loop moves it
            faces = self._drawn(dict(zip(numbers, asked, strict=True)))
            return tuple(Family(verbs, points, np.zeros(ask.n, np.int32)) for verbs, points in faces)
        first, variant = share(np.stack(asked, 1))
        faces = self._drawn({name: values[first] for name, values in zip(numbers, asked, strict=True)})
        return tuple(Family(verbs, points, variant) for verbs, points in faces)


def hull_of(faces: tuple[Face, ...]) -> Outline:
    """Return the convex hull of the first of each face's outlines."""
    rings = [ring[0] for verbs, points in faces for ring in flatten(verbs, points[:1], 12)]
    return polygon(hull(np.concatenate(rings)))


class CurveMotif(MeasuredMotif):
    """A motif that is one curve of a formula; its number of pieces comes from its largest measures."""

    def curve(self, numbers: Numbers) -> Curve:
        """Return places (M, N, 2) and derivatives as a function of t (N,)."""
        raise InputError("a curve has its own formula")

    def span(self) -> tuple[float, float]:
        """Return where t begins and ends, without unit."""
        return 0.0, 2.0 * np.pi

    @property
    def closed(self) -> bool:
        """Whether it ends where it began."""
        return True

    def pieces(self) -> int:
        """Return how many cubics bring it within a five-hundredth of a unit at its largest measures."""
        most = {name: np.array([float(largest(number))]) for name, number in self.numbers().items()}
        return _pieces(self, tuple((name, float(value[0])) for name, value in most.items()))

    def faces(self, numbers: Numbers) -> tuple[Face, ...]:
        """Return the curve, its last point exactly its first where it closes."""
        pieces = self.pieces()
        points = hermite(self.curve(numbers), *self.span(), pieces)
        if self.closed:
            points[:, -1] = points[:, 0]
        return ((curve_verbs(pieces, self.closed), points),)

    def body(self, faces: tuple[Face, ...]) -> Outline:
        """Return the hull of a closed curve, which may cross itself, or the open line."""
        return hull_of(faces) if self.closed else Outline(faces[0][1][0], faces[0][0])


@lru_cache(maxsize=256)
def _pieces(motif: CurveMotif, most: tuple[tuple[str, float], ...]) -> int:
    return pieces_for(motif.curve({name: np.array([value]) for name, value in most}), *motif.span(), least=4)
