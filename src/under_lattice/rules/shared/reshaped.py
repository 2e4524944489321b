"""What rules on straight-sided shapes have in common: a lazy shape that makes each face anew from its edges."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from under_lattice.core.errors import RuleRefused
from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CLOSE
from under_lattice.pattern.ask import Ask, Number
from under_lattice.pattern.stage import Family, Over, Shape, start
from under_lattice.rules.shared.edges import Edges, edges_of_face, is_open_straight, is_straight, without_needless

Made = tuple[bytes, Array]  # verbs and points (M, K, 2)


@dataclass(frozen=True, eq=False)
class Reshaped(Over):
    """Faces made anew from the edges of the faces of another shape.

    Attributes
    ----------
    of : Shape
    numbers : tuple
        Asked at the middles of the edges.
    make : callable
        From the edges of one face to the faces that stand for it, as many for all tiles.
    passes : float
        How far what is made may pass the body.
    round : callable, optional
        What is made of closed faces that are not straight; without it they stay as they are.
    lines : bool
        Open lines of straight sides are made anew too.
    """

    numbers: tuple[Number, ...]
    make: Callable[[Edges], Sequence[Made]]
    passes: float = 0.0
    round: Callable[[Family, Ask], Family] | None = None
    lines: bool = False
    curved: bool = True

    @property
    def faces(self) -> int:
        """How many faces there are."""
        return len(self.draw(Ask(start(self.of))))

    def reach(self) -> float:
        """How far drawn outlines may pass the body, in units of the shape."""
        return self.of.reach() + self.passes

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """Return what is made of each face; one that is not straight stays as it is."""
        out: list[Family] = []
        for face in self.of.draw(ask):
            if self.lines and is_open_straight(face):
                face = without_needless(face)
            elif not is_straight(face):
                out.append(face if self.round is None or face.verbs[-1] != CLOSE else self.round(face, ask))
                continue
            edges = edges_of_face(face, ask, self.numbers)
            out += [Family(verbs, points, edges.variant) for verbs, points in self.make(edges)]
        return tuple(out)


def straight_only(shape: Shape, rule: str, lines: bool = False) -> None:
    """Refuse a shape none of whose faces has straight sides, with `lines` of open ones too.

    Raises
    ------
    RuleRefused
    """
    if not any(is_straight(face) or (lines and is_open_straight(face)) for face in shape.draw(Ask(start(shape)))):
        raise RuleRefused(f"{rule} needs straight sides; put it above the rule that bends them, or take another motif")
