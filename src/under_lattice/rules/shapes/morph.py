"""Rule: Morph, shapes on their way towards a second shape, further or less far along any source."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, get_args

import numpy as np

from under_lattice.core.errors import RuleRefused
from under_lattice.core.progress import Progress
from under_lattice.declare.dials import Choice, Count, LayerChoice, Ratio, When
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.morphing import Loop, first_loop, fitted_to, matched
from under_lattice.geometry.outline import CLOSE
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.ask import Number as AnyNumber
from under_lattice.pattern.clipping import of_rings
from under_lattice.pattern.marks import Marks
from under_lattice.pattern.recurve import of_contours
from under_lattice.pattern.stage import Family, Over, Shape, share, start
from under_lattice.rules.base import describe
from under_lattice.rules.families import ShapeRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.motifs.ellipse import Ellipse
from under_lattice.rules.motifs.petal import Petal
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.motifs.star import Star
from under_lattice.vary.numbers import Number

Towards = Literal["a circle", "a polygon", "a star", "a petal", "another layer"]


@dataclass(frozen=True, eq=False)
class Morphed(Over):
    """Faces in between themselves and a second shape: fitted to each, or of its own size about its middle."""

    towards: Loop
    amount: AnyNumber
    own_size: bool = False
    curved: bool = True

    def reach(self) -> float:
        """How far a morphed face may pass the body, in units of the shape: a fitted second shape lies in the box of the first."""
        ring = self.of.body().points
        other = self.towards.size if self.own_size else 0.0
        return self.of.reach() + float(np.ptp(ring, 0).max()) * 0.21 + other

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """Return the faces, one for each amount; open lines stay as they are."""
        asked = np.clip(np.asarray(ask.each(self.amount), float) / 100, -1.0, 2.0)
        if len(asked) == 1 and asked[0] == 0:
            return self.of.draw(ask)
        return tuple(face if face.verbs[-1] != CLOSE else self._face(face, asked, ask.progress) for face in self.of.draw(ask))

    def _face(self, face: Family, asked: Array, progress: Progress) -> Family:
        told = np.stack([face.variant.astype(float), np.broadcast_to(asked, len(face.variant))], 1)
        first, variant = share(told)
        pairs, wanted = {}, np.unique(np.maximum(face.variant[first], 0)).tolist()
        for k, v in enumerate(wanted):
            progress.named("Morph").step(k / len(wanted))
            pairs[v] = self._pair(face, v)
        made = []
        for at in first:
            one, other, _ = pairs[max(int(face.variant[at]), 0)]
            made.append(one + (other - one) * told[at, 1])
        shown = np.where(face.variant < 0, -1, variant).astype(np.int32)
        if all(straight for *_, straight in pairs.values()):
            return of_rings([[cubics[:, 0]] for cubics in made], shown)
        return of_contours([[cubics] for cubics in made], shown)

    def _pair(self, face: Family, variant: int) -> tuple[Array, Array, bool]:
        """A face and the second shape as cubics that belong together, and whether all of them are straight."""
        loop = first_loop(face.verbs, face.points[variant])
        if loop is None:
            spot = np.repeat(face.points[variant][None, :1], 4, 1)
            return spot, spot, True
        one, other, straight = matched(loop, self.towards)
        if self.own_size:
            return one, other + (loop.box.mean(0) - self.towards.box.mean(0)), straight
        return one, fitted_to(other, self.towards.box, loop.box), straight


class Morph(ShapeRule):
    """Shapes become another."""

    title: ClassVar[str] = "Morph"
    words: ClassVar[str] = "Shapes on their way towards a second one; how far may vary over the copies."
    search: ClassVar[str] = "blend interpolate tween transform metamorphosis gradual shape change"

    kind: Literal["morph"] = "morph"
    towards: Annotated[
        Towards,
        Choice(
            "Towards",
            "The second shape, fitted to each face; that of another layer keeps its size.",
            unsought=("another layer",),
            options=get_args(Towards),
        ),
    ] = "a circle"
    amount: Annotated[
        Number,
        Ratio(
            "Amount",
            "How far it is on its way: 0 % as it was, 100 % the second shape.",
            least=-100.0,
            most=200.0,
            vary=True,
            slides=(0, 100),
        ),
    ] = 50.0
    corners: Annotated[
        int,
        Count("Corners", "How many corners the polygon has, or points the star.", least=3, most=60, slides=(3, 12),
              when=(When(field="towards", values=("a polygon", "a star"), reason="only for a polygon or a star"),)),
    ] = 4  # fmt: skip
    inner: Annotated[
        float,
        Ratio("Inner radius", "Of the star's inner corners, as a part of its size.", least=1.0, most=99.0, slides=(10, 90),
              when=(When(field="towards", values=("a star",), reason="only for a star"),)),
    ] = 45.0  # fmt: skip
    layer: Annotated[
        str,
        LayerChoice("Layer", "The largest of its outlines is the second shape.",
                    when=(When(field="towards", values=("another layer",), reason="only for another layer"),)),
    ] = ""  # fmt: skip

    def layers(self) -> tuple[str, ...]:
        """Return the layer the second shape comes from."""
        return (self.layer,) if self.towards == "another layer" and self.layer else ()

    def _second(self, ground: Ground) -> Loop | None:
        if self.towards == "another layer":
            marks = ground.layers.get(self.layer)
            return _largest(marks) if marks is not None else None
        motif = {
            "a circle": Ellipse(width=10.0),
            "a polygon": Polygon(sides=int(self.corners), size=10.0),
            "a star": Star(points=int(self.corners), inner=self.inner),
            "a petal": Petal(),
        }[self.towards]
        (face,) = motif.shape().draw(Ask(start(motif.shape())))
        return first_loop(face.verbs, face.points[0])

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the shapes on their way; refuses lines and a layer without closed outlines."""
        if not any(face.verbs[-1] == CLOSE for face in shape.draw(Ask(start(shape)))):
            raise RuleRefused("Morph needs closed outlines; an open line has no inside")
        second = self._second(ground)
        if second is None:
            raise RuleRefused("choose a layer with a closed outline to morph towards")
        return Morphed(shape, second, self.amount, self.towards == "another layer")

    def key_line(self, unit: str) -> str:
        """Return how far and towards what."""
        return f"{describe(self.amount, '%', 0)} towards {self.towards}"


def _largest(marks: Marks) -> Loop | None:
    """The longest closed contour of all marks, as it lies."""
    found = []
    for family, variant, xform in zip(marks.family, marks.variant, marks.xform, strict=True):
        if variant >= 0 and marks.families[family].verbs[-1] == CLOSE:
            found.append(first_loop(marks.families[family].verbs, apply(xform, marks.families[family].points[variant])))
    return max((loop for loop in found if loop is not None), key=lambda loop: loop.walk.length, default=None)
