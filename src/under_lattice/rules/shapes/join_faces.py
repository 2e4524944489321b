"""Rule: Join faces, by picking them or by symmetry."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np

from under_lattice.core.errors import InputError, RuleRefused
from under_lattice.declare.dials import Choice, Count, Text, When
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.outline import CLOSE, flatten
from under_lattice.pattern.ask import Ask
from under_lattice.pattern.joining import joined
from under_lattice.pattern.stage import Family, Over, Shape, Stage, start
from under_lattice.rules.families import ShapeRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet

By = Literal["picked", "mirror, upright", "mirror, level", "turns"]
NEAR = 1e-3  # of the size: middles nearer than this are images of each other


def parse_groups(text: str) -> list[list[int]]:
    """Read groups of face numbers such as ``1+2, 4+5+6``, counted from 1; gives them from 0.

    Raises
    ------
    InputError
    """
    groups: list[list[int]] = []
    for part in (p.strip() for p in text.split(",") if p.strip()):
        numbers = [one.strip() for one in part.split("+")]
        if not all(one.isdecimal() and 0 < int(one) < 10_000 for one in numbers):
            raise InputError(f"“{part[:20]}” is not a group; write numbers of faces such as 1+2, 4+5+6", "Faces")
        groups.append([int(one) - 1 for one in numbers])
    every = [one for group in groups for one in group]
    if len(every) != len(set(every)):
        raise InputError("a face stands in two groups; each belongs to one", "Faces")
    return groups


@dataclass(frozen=True)
class FaceGroups(Text):
    """Groups of faces as text."""

    def check(self, value: str) -> str:
        """Hold to groups that can be read.

        Raises
        ------
        InputError
        """
        parse_groups(value)
        return super().check(value)


@dataclass(frozen=True, eq=False)
class JoinedShape(Over):
    """A shape of which some faces are one."""

    groups: tuple[tuple[int, ...], ...]

    @property
    def faces(self) -> int:
        """How many faces are left."""
        return len(self.groups)

    @property
    def curved(self) -> bool:
        """As what it is made of, or because faces are joined."""
        return bool(getattr(self.of, "curved", False)) or self.faces < self.of.faces

    def reach(self) -> float:
        """As far as before, in units of the shape."""
        return self.of.reach()

    def draw(self, ask: Ask) -> tuple[Family, ...]:
        """Return the faces, those of a group as one."""
        faces = self.of.draw(ask)
        return tuple(faces[group[0]] if len(group) == 1 else joined([faces[k] for k in group]) for group in self.groups)


class JoinFaces(ShapeRule):
    """Faces become one."""

    title: ClassVar[str] = "Join faces"
    words: ClassVar[str] = "Faces become one: those that are picked, or those that are images of each other."
    search: ClassVar[str] = "merge unite cells parts mirror symmetry erase line between"

    kind: Literal["join-faces"] = "join-faces"
    by: Annotated[
        By,
        Choice(
            "Joined", "Faces picked on the sheet or by number, or those that are turned images of each other.", options=get_args(By)
        ),
    ] = "picked"
    groups: Annotated[
        str,
        FaceGroups("Faces", "Numbers of faces: 1+2, 4+5. On the sheet, drag from one to another.",
                   when=(When(field="by", values=("picked",), reason="only for picked faces"),)),
    ] = "1+2"  # fmt: skip
    turns: Annotated[
        int,
        Count("Turns", "Faces are joined with their images turned by this part of a full turn.", least=2, most=60, slides=(2, 12),
              when=(When(field="by", values=("turns",), reason="only by turns"),)),
    ] = 3  # fmt: skip

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the joined faces; refuses one face, lines, and numbers that are not there."""
        faces = shape.draw(Ask(start(shape)))
        if len(faces) < 2:
            raise RuleRefused("there is one face only; put this below Split or another rule that divides")
        if any(face.verbs[-1] != CLOSE for face in faces):
            raise RuleRefused("Join faces needs closed faces; there are open lines")
        groups = parse_groups(self.groups) if self.by == "picked" else self._alike(_middles(faces))
        for group in groups:
            for k in group:
                if k >= len(faces):
                    raise RuleRefused(f"there is no face {k + 1}; there are {len(faces)}")
        first = {group[0]: tuple(group) for group in groups}
        taken = {k for group in groups for k in group}
        return JoinedShape(shape, tuple(first.get(k, (k,)) for k in range(len(faces)) if k in first or k not in taken))

    def _alike(self, middles: Array) -> list[list[int]]:
        """Groups of faces whose middles are images of each other."""
        centre = (middles.min(0) + middles.max(0)) / 2 if self.by != "turns" else middles.mean(0)
        away = middles - centre
        if self.by == "turns":
            angle = 2 * np.pi / self.turns
            turn = np.array([(np.cos(angle), -np.sin(angle)), (np.sin(angle), np.cos(angle))])
        else:
            turn = np.diag([-1.0, 1.0] if self.by == "mirror, upright" else [1.0, -1.0])
        size = float(np.ptp(middles, 0).max()) or 1.0
        left, groups = set(range(len(middles))), []
        while left:
            group, at = [min(left)], away[min(left)]
            for _ in range(int(self.turns) if self.by == "turns" else 2):
                at = turn @ at
                far = np.hypot(*(away - at).T)
                if far.min() < NEAR * size and int(far.argmin()) in left - set(group):
                    group.append(int(far.argmin()))
            left -= set(group)
            groups.append(sorted(group))
        return groups

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return a bead in the middle of each face, between which faces are joined."""
        if self.by != "picked":
            return None
        middles = apply(stage.xform[stage.origin], _middles(above.shape.draw(Ask(start(above.shape)))))
        beads = [
            Handle(f"face {k + 1}", at, f"{k + 1}: drag to another face to join them", "point") for k, at in enumerate(middles)
        ]
        return HandleSet(tuple(beads), apply(stage.xform[stage.origin], stage.body_ring))

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Join a face with the one the pointer is nearest to; within a group, let it go."""
        middles = apply(stage.xform[stage.origin], _middles(above.shape.draw(Ask(start(above.shape)))))
        one, other = int(drag.name.removeprefix("face ")) - 1, int(np.hypot(*(middles - drag.to).T).argmin())
        if one == other:
            return {}
        groups = parse_groups(self.groups)
        mine = next((group for group in groups if one in group), [one])
        its = next((group for group in groups if other in group), [other])
        rest = [group for group in groups if group is not mine and group is not its]
        made = [k for k in mine if k != one] if mine is its else sorted({*mine, *its})
        kept = [group for group in [*rest, made] if len(group) > 1]
        return {"groups": ", ".join("+".join(str(k + 1) for k in group) for group in sorted(kept))}

    def key_line(self, unit: str) -> str:
        """Return which."""
        return {"picked": self.groups or "none picked", "turns": f"by {int(self.turns)} turns"}.get(self.by, f"by {self.by}")


def _middles(faces: tuple[Family, ...]) -> Array:
    """The middle (F, 2) of each face as it is first drawn, by area."""
    out = []
    for face in faces:
        ring = flatten(face.verbs, face.points[:1], 12)[0][0]
        after = np.roll(ring, -1, 0)
        cross = ring[:, 0] * after[:, 1] - after[:, 0] * ring[:, 1]
        area = cross.sum()
        out.append(((ring + after) * cross[:, None]).sum(0) / (3 * area) if abs(area) > 1e-12 else ring.mean(0))
    return np.array(out)
