"""Rule: Wave edges, each edge a wave of a whole number of crests."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import RuleRefused
from under_lattice.declare.dials import Choice, Count, Length, When
from under_lattice.geometry.affine import Array, apply, inverse
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE
from under_lattice.geometry.waving import waved
from under_lattice.pattern.ask import Ask, largest, rest
from under_lattice.pattern.stage import Family, Shape, Stage, share, start
from under_lattice.rules.base import describe
from under_lattice.rules.families import ShapeRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet
from under_lattice.rules.shapes.cut import NumberList, read_numbers
from under_lattice.rules.shapes.pushed import forward
from under_lattice.rules.shared.edges import Edges, edges_of_face, is_straight
from under_lattice.rules.shared.reshaped import Made, Reshaped
from under_lattice.vary.numbers import Number

SOME = When(field="edges", values=("some",), reason="only where some are chosen by number")
COUNTED = When(field="by", values=("waves",), reason="the wavelength says it")
MEASURED = When(field="by", values=("wavelength",), reason="the number of waves says it")
BEADS_MOST = 60  # edges that have one
ALIKE = 1e-6  # of a length, by which edges may differ and are as long
PIECES = 8  # cubics for each wave: within a thousandth of its height


class WaveEdges(ShapeRule):
    """Wavy or pointed edges."""

    title: ClassVar[str] = "Wave edges"
    words: ClassVar[str] = "Each edge becomes a wave, smooth or pointed; a round outline is one edge; parallel edges interlock."
    search: ClassVar[str] = "wavy scallop zigzag ripple sine saw teeth pinking"

    kind: Literal["wave-edges"] = "wave-edges"
    height: Annotated[Number, Length("Height", "From the edge to a crest.", least=-1e4, most=1e4, vary=True, slides=(-8, 8))] = 2.0
    by: Annotated[
        Literal["waves", "wavelength"],
        Choice("Fitted by", "So many waves on each edge, or a wavelength fitted to it.", options=("waves", "wavelength")),
    ] = "waves"
    waves: Annotated[int, Count("Waves", "How many waves each edge has.", least=1, most=60, slides=(1, 12), when=(COUNTED,))] = 1
    wavelength: Annotated[
        float,
        Length(
            "Wavelength", "From crest to crest; changed a little to fit each edge.", least=0.01, slides=(1, 60), when=(MEASURED,)
        ),
    ] = 12.0
    form: Annotated[
        Literal["smooth", "pointed"],
        Choice("Form", "Round waves of a sine, or straight to and fro.", options=("smooth", "pointed")),
    ] = "smooth"
    edges: Annotated[
        Literal["all", "long ones", "short ones", "some"],
        Choice(
            "Edges",
            "Which of them wave: all, longer or shorter ones, or some, picked by their beads on the sheet or by number.",
            options=("all", "long ones", "short ones", "some"),
            main=False,
        ),
    ] = "all"
    numbers: Annotated[
        str,
        NumberList("Numbers", "Which edges wave, by number in their order, such as 1, 3.", whole=True, main=False, when=(SOME,)),
    ] = "1, 3"
    opposite: Annotated[
        Literal["parallel", "mirrored"],
        Choice("Opposite", "Parallel, so that tiles interlock, or mirrored.", options=("parallel", "mirrored")),
    ] = "parallel"

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the shape with wavy edges; refuses open lines."""
        if not any(face.verbs[-1] == CLOSE for face in shape.draw(Ask(start(shape)))):
            raise RuleRefused("Wave edges needs closed outlines; the motif Wave line is one that is open")
        read_numbers(self.numbers, "Numbers", True)
        return Reshaped(shape, (self.height,), self._made, largest(self.height), self._round)

    def _round(self, face: Family, ask: Ask) -> Family:
        """A curved face; each stretch between its corners is one edge, with one height for the copy."""
        told = np.stack([face.variant.astype(float), np.broadcast_to(ask.each(self.height), len(face.variant))], 1)
        first, variant = share(told)
        made = [
            waved(face.verbs, face.points[max(int(face.variant[k]), 0)], float(told[k, 1]), self._many, self.form == "smooth")
            for k in first
        ]
        alike = [one for one in made if one[0] == made[0][0]]
        points = np.stack([one[1] if one[0] == made[0][0] else alike[0][1] for one in made])
        return Family(made[0][0], points, np.where(face.variant < 0, -1, variant).astype(np.int32))

    def _many(self, lengths: Array) -> list[int]:
        """How many waves edges of these lengths (E,) have; none where an edge stays as it is."""
        many = np.full(len(lengths), int(self.waves))
        if self.by == "wavelength":
            many = np.maximum(1, np.rint(lengths / self.wavelength)).astype(int)
        return np.where(self._chosen(lengths), many, 0).tolist()

    def _chosen(self, lengths: Array) -> Array:
        """Which edges wave, by their lengths (E,) in order."""
        middle = (lengths.min() + lengths.max()) / 2
        if self.edges == "some":
            return np.isin(np.arange(1, len(lengths) + 1), read_numbers(self.numbers, "Numbers", True))
        if self.edges == "long ones":
            return np.asarray(lengths >= middle * (1 - ALIKE))
        return np.asarray(lengths <= middle * (1 + ALIKE)) if self.edges == "short ones" else np.ones(len(lengths), bool)

    def counts(self, edges: Edges) -> list[int]:
        """Return how many waves each edge has; by the first tile, the same for all that differ from it in size, a whole number."""
        return self._many(np.hypot(*np.moveaxis(edges.runs[0], -1, 0)))

    def _made(self, edges: Edges) -> list[Made]:
        sign = forward(edges.runs) if self.opposite == "mirrored" else np.ones(edges.runs.shape[:2])
        rise = -edges.inward * (edges.values[0] * sign * edges.winding[:, None])[..., None]  # from either end the same wave
        pieces = [self._edge(edges.corners[:, k], edges.runs[:, k], rise[:, k], many) for k, many in enumerate(self.counts(edges))]
        verb = CURVE if self.form == "smooth" else LINE
        points = np.concatenate([edges.corners[:, :1], *pieces], 1)
        each = 3 if verb == CURVE else 1
        return [(bytes([MOVE] + [verb] * ((points.shape[1] - 1) // each) + [CLOSE]), points)]

    def _edge(self, start: Array, run: Array, rise: Array, many: int) -> Array:
        """Points (M, K, 2) after the first of one edge from `start` along `run` with crests of `rise` (M, 2) each."""
        if self.form == "pointed":
            if not many:
                return (start + run)[:, None]
            t = np.append((2 * np.arange(2 * many) + 1) / (4 * many), 1.0)
            level = np.append(np.where(np.arange(2 * many) % 2 == 0, 1.0, -1.0), 0.0)
            return start[:, None] + run[:, None] * t[:, None] + rise[:, None] * level[:, None]
        count = max(1, PIECES * many)
        t = np.arange(count + 1) / count
        level, slope = np.sin(2 * np.pi * many * t), 2 * np.pi * many * np.cos(2 * np.pi * many * t) / (3 * count)
        on = start[:, None] + run[:, None] * t[:, None] + rise[:, None] * level[:, None]
        third = run[:, None] / (3 * count) + rise[:, None] * slope[:, None]
        out = np.stack([on[:, :-1] + third[:, :-1], on[:, 1:] - third[:, 1:], on[:, 1:]], 2)
        return out.reshape(len(start), 3 * count, 2)

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return a bead for each edge of a straight face: on its crest if it waves, on the edge if not."""
        middles, up = self._crests(above)
        if not 0 < len(middles) <= BEADS_MOST:
            return None
        waves = self._chosen(2 * np.hypot(*up.T))
        size = np.maximum(np.hypot(*up.T), 1e-12)[:, None]
        at = apply(stage.xform[stage.origin], middles + np.where(waves[:, None], up / size * self._rise(), 0.0))
        words = ("drag onto the edge, and it stays straight", "drag out of the edge, and it waves")
        beads = [Handle(f"edge {k + 1}", at[k], f"{k + 1}: {words[not waves[k]]}", "point") for k in range(len(at))]
        return HandleSet(tuple(beads), apply(stage.xform[stage.origin], stage.body_ring))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Let an edge wave whose bead is taken out of it, and leave one straight whose bead is put onto it."""
        middles, up = self._crests(above)
        k = int(drag.name.removeprefix("edge ")) - 1
        to = apply(inverse(stage.xform[stage.origin]), drag.to[None])[0]
        out = float((to - middles[k]) @ up[k]) / max(float(np.hypot(*up[k])), 1e-12)
        waves = self._chosen(2 * np.hypot(*up.T))
        waves[k] = out * np.copysign(1.0, self._rise()) > abs(self._rise()) / 2
        numbers = ", ".join(str(one + 1) for one in np.flatnonzero(waves))
        return {"edges": "all"} if waves.all() else {"edges": "some", "numbers": numbers}

    def _crests(self, above: Stage) -> tuple[Array, Array]:
        """Middles of the edges of the first straight face (E, 2), and half of their lengths outwards (E, 2)."""
        faces = [face for face in above.shape.draw(Ask(start(above.shape))) if is_straight(face)]
        if not faces:
            return np.zeros((0, 2)), np.zeros((0, 2))
        edges = edges_of_face(faces[0], Ask(start(above.shape)), ())
        half = np.hypot(*np.moveaxis(edges.runs[0], -1, 0))[:, None] / 2
        return edges.middles[0], -edges.inward[0] * half

    def _rise(self) -> float:
        """How high the first wave is, in the unit of the work."""
        return rest(self.height) or 1.0

    def key_line(self, unit: str) -> str:
        """Return height and how it is fitted."""
        which = {"all": "each edge", "some": f"edges {self.numbers}"}.get(self.edges, f"the {self.edges}")
        fitted = f"{int(self.waves)} on {which}" if self.by == "waves" else f"about {describe(self.wavelength, unit)} long"
        return f"{self.form}, {describe(self.height, unit)} high, {fitted}"
